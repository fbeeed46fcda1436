//! Exercises: what is published, revision by revision, and the draft that authors work at.

use crate::audit::record;
use crate::error::StoreError;
use crate::{CourseId, ExerciseId, PersonId, RevisionId, Store, Timestamp};
use rusqlite::{Connection, Row, params};

/// A revision of an exercise.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Revision {
    /// Key.
    pub id: RevisionId,
    /// Its number within the exercise, from 1.
    pub number: i64,
    /// Title at that time.
    pub title: String,
    /// The exercise file (TOML).
    pub text: String,
}

/// An exercise in its newest revision.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Exercise {
    /// Key.
    pub id: ExerciseId,
    /// The newest revision.
    pub revision: Revision,
}

/// An exercise as its authors work at it: the draft, or what is published where there is none.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Working {
    /// Key.
    pub id: ExerciseId,
    /// Title.
    pub title: String,
    /// The exercise file (TOML).
    pub text: String,
    /// Counts what was saved; who saves says which one was changed.
    pub version: i64,
    /// Number of the published revision; `None` before the first.
    pub published: Option<i64>,
    /// It differs from what is published: who saved it last, and when.
    pub draft: Option<(String, Timestamp)>,
    /// It is put aside: students don't see it.
    pub is_archived: bool,
}

/// A draft to be saved.
#[derive(Clone, Copy, Debug)]
pub struct NewDraft<'a> {
    /// Version that it changes.
    pub expected: i64,
    /// Title.
    pub title: &'a str,
    /// The exercise file.
    pub text: &'a str,
    /// Who saves.
    pub author: PersonId,
}

/// What verdicts on a revision rest on: what of it is checked, and how that is marked, in few digits each.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Basis {
    /// What is checked.
    pub checks: String,
    /// How it is marked.
    pub marking: String,
}

const NEWEST: &str = "SELECT e.id, r.id, r.number, r.title, r.text FROM exercises e
     JOIN revisions r ON r.exercise_id = e.id
     AND r.number = (SELECT max(number) FROM revisions WHERE exercise_id = e.id)";

fn exercise(row: &Row<'_>) -> rusqlite::Result<Exercise> {
    let revision = Revision { id: row.get(1)?, number: row.get(2)?, title: row.get(3)?, text: row.get(4)? };
    Ok(Exercise { id: row.get(0)?, revision })
}

const WORKING: &str =
    "SELECT e.id, coalesce(d.title, r.title), coalesce(d.text, r.text), e.version, r.number, p.name, d.saved_at,
     e.archived FROM exercises e
     LEFT JOIN exercise_drafts d ON d.exercise_id = e.id
     LEFT JOIN people p ON p.id = d.author_id
     LEFT JOIN revisions r ON r.exercise_id = e.id
     AND r.number = (SELECT max(number) FROM revisions WHERE exercise_id = e.id)";

fn working(row: &Row<'_>) -> rusqlite::Result<Working> {
    let author: Option<String> = row.get(5)?;
    Ok(Working {
        id: row.get(0)?,
        title: row.get(1)?,
        text: row.get(2)?,
        version: row.get(3)?,
        published: row.get(4)?,
        draft: author.zip(row.get(6)?),
        is_archived: row.get(7)?,
    })
}

fn find_working(c: &Connection, course: CourseId, id: ExerciseId) -> Result<Working, StoreError> {
    let sql = format!("{WORKING} WHERE e.id = ? AND e.course_id = ?");
    StoreError::optional(c.query_row(&sql, params![id, course], working))?.ok_or(StoreError::NotFound("exercise"))
}

/// The exercise as it is worked at, when that is the version that somebody means.
fn expected(t: &Connection, course: CourseId, id: ExerciseId, version: i64) -> Result<Working, StoreError> {
    let found = find_working(t, course, id)?;
    if found.version == version { Ok(found) } else { Err(StoreError::Taken("A newer version of the exercise".into())) }
}

fn next_version(t: &Connection, id: ExerciseId) -> Result<i64, StoreError> {
    t.execute("UPDATE exercises SET version = version + 1 WHERE id = ?", [id])?;
    Ok(t.query_row("SELECT version FROM exercises WHERE id = ?", [id], |r| r.get(0))?)
}

impl Store {
    /// Adds an exercise at the end of a course and publishes it as it is.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn add_exercise(
        &self,
        course: CourseId,
        title: &str,
        text: &str,
        author: PersonId,
        at: Timestamp,
    ) -> Result<ExerciseId, StoreError> {
        self.write(|t| {
            t.execute(
                "INSERT INTO exercises (course_id, position)
                 SELECT ?1, coalesce(max(position), 0) + 1 FROM exercises WHERE course_id = ?1",
                [course],
            )?;
            let id = ExerciseId(t.last_insert_rowid());
            t.execute(
                "INSERT INTO revisions (exercise_id, number, title, text, author_id, created_at) VALUES (?, 1, ?, ?, ?, ?)",
                params![id, title, text, author, at],
            )?;
            record(t, Some(course), Some(author), "exercise made", title, at)?;
            Ok(id)
        })
    }

    /// Adds an exercise that is not published yet at the end of a course.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn add_draft(
        &self,
        course: CourseId,
        title: &str,
        text: &str,
        author: PersonId,
        at: Timestamp,
    ) -> Result<ExerciseId, StoreError> {
        self.write(|t| {
            t.execute(
                "INSERT INTO exercises (course_id, position, version)
                 SELECT ?1, coalesce(max(position), 0) + 1, 1 FROM exercises WHERE course_id = ?1",
                [course],
            )?;
            let id = ExerciseId(t.last_insert_rowid());
            t.execute(
                "INSERT INTO exercise_drafts (exercise_id, title, text, author_id, saved_at) VALUES (?, ?, ?, ?, ?)",
                params![id, title, text, author, at],
            )?;
            record(t, Some(course), Some(author), "exercise begun", title, at)?;
            Ok(id)
        })
    }

    /// Exercises of a course as their authors work at them, in order.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn workings(&self, course: CourseId) -> Result<Vec<Working>, StoreError> {
        self.read(|c| {
            let mut statement =
                c.prepare_cached(&format!("{WORKING} WHERE e.course_id = ? ORDER BY e.position, e.id"))?;
            let rows = statement.query_map([course], working)?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// An exercise as its authors work at it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise.
    pub fn working(&self, course: CourseId, id: ExerciseId) -> Result<Working, StoreError> {
        self.read(|c| find_working(c, course, id))
    }

    /// Saves a draft and says its version. One that says what is published ends the draft.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise, [`StoreError::Taken`] when somebody saved meanwhile.
    pub fn save_draft(
        &self,
        course: CourseId,
        id: ExerciseId,
        new: &NewDraft<'_>,
        at: Timestamp,
    ) -> Result<i64, StoreError> {
        self.write(|t| {
            let before = expected(t, course, id, new.expected)?;
            if before.text == new.text {
                return Ok(before.version);
            }
            let sql = format!("{NEWEST} WHERE e.id = ?");
            let published = StoreError::optional(t.query_row(&sql, [id], exercise))?;
            if published.is_some_and(|p| p.revision.text == new.text) {
                t.execute("DELETE FROM exercise_drafts WHERE exercise_id = ?", [id])?;
            } else {
                t.execute(
                    "INSERT INTO exercise_drafts (exercise_id, title, text, author_id, saved_at) VALUES (?, ?, ?, ?, ?)
                     ON CONFLICT (exercise_id) DO UPDATE SET title = excluded.title, text = excluded.text,
                     author_id = excluded.author_id, saved_at = excluded.saved_at",
                    params![id, new.title, new.text, new.author, at],
                )?;
            }
            next_version(t, id)
        })
    }

    /// Publishes the draft as a revision; `basis` says what of a text is checked and how it is marked.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise, [`StoreError::Taken`] when somebody saved meanwhile,
    /// [`StoreError::Refused`] when there is no draft.
    pub fn publish(
        &self,
        course: CourseId,
        id: ExerciseId,
        (version, basis): (i64, &dyn Fn(&str) -> Basis),
        author: PersonId,
        at: Timestamp,
    ) -> Result<Revision, StoreError> {
        self.write(|t| {
            let draft = expected(t, course, id, version)?;
            if draft.draft.is_none() {
                return Err(StoreError::Refused("There is nothing to publish: students see it as it is."));
            }
            let number = draft.published.unwrap_or(0) + 1;
            let basis = basis(&draft.text);
            t.execute(
                "INSERT INTO revisions (exercise_id, number, title, text, author_id, created_at, checks, marking)
                 VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
                params![id, number, draft.title, draft.text, author, at, basis.checks, basis.marking],
            )?;
            let revision =
                Revision { id: RevisionId(t.last_insert_rowid()), number, title: draft.title, text: draft.text };
            t.execute("DELETE FROM exercise_drafts WHERE exercise_id = ?", [id])?;
            next_version(t, id)?;
            let subject = format!("{}, revision {number}", revision.title);
            record(t, Some(course), Some(author), "exercise published", &subject, at)?;
            Ok(revision)
        })
    }

    /// Forgets the draft: what is published stands. An exercise that was never published goes with it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise, [`StoreError::Taken`] when somebody saved meanwhile.
    pub fn discard_draft(
        &self,
        course: CourseId,
        id: ExerciseId,
        version: i64,
        (by, at): (PersonId, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            let draft = expected(t, course, id, version)?;
            t.execute("DELETE FROM exercise_drafts WHERE exercise_id = ?", [id])?;
            if draft.published.is_none() {
                t.execute("DELETE FROM exercises WHERE id = ?", [id])?;
            } else {
                next_version(t, id)?;
            }
            record(t, Some(course), Some(by), "draft discarded", &draft.title, at)
        })
    }

    /// Lets an exercise change places with the one before it, or behind it, in the order of its course; at the end it stays.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise.
    pub fn move_exercise(
        &self,
        course: CourseId,
        id: ExerciseId,
        is_earlier: bool,
        (by, at): (PersonId, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            let title = find_working(t, course, id)?.title;
            let mut statement = t.prepare("SELECT id FROM exercises WHERE course_id = ? ORDER BY position, id")?;
            let mut order: Vec<ExerciseId> = statement.query_map([course], |r| r.get(0))?.collect::<Result<_, _>>()?;
            let place = order.iter().position(|e| *e == id).ok_or(StoreError::NotFound("exercise"))?;
            let other = if is_earlier { place.checked_sub(1) } else { Some(place + 1).filter(|p| *p < order.len()) };
            let Some(other) = other else { return Ok(()) };
            order.swap(place, other);
            for (position, exercise) in (1i64..).zip(order) {
                t.execute("UPDATE exercises SET position = ? WHERE id = ?", params![position, exercise])?;
            }
            let action = if is_earlier { "exercise moved up" } else { "exercise moved down" };
            record(t, Some(course), Some(by), action, &title, at)
        })
    }

    /// Puts an exercise aside, where students don't see it, or takes it up again.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise.
    pub fn archive(
        &self,
        course: CourseId,
        id: ExerciseId,
        aside: bool,
        (by, at): (PersonId, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            let title = find_working(t, course, id)?.title;
            t.execute("UPDATE exercises SET archived = ? WHERE id = ?", params![aside, id])?;
            let action = if aside { "exercise archived" } else { "exercise taken up again" };
            record(t, Some(course), Some(by), action, &title, at)
        })
    }

    /// Fills in what is checked of revisions that don't say it yet: those of earlier versions, and those that were added as they
    /// are.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn fill_basis(&self, of: impl Fn(&str) -> Basis) -> Result<(), StoreError> {
        let missing: Vec<(RevisionId, String)> = self.read(|c| {
            let mut statement = c.prepare("SELECT id, text FROM revisions WHERE checks = ''")?;
            let rows = statement.query_map([], |r| Ok((r.get(0)?, r.get(1)?)))?;
            Ok(rows.collect::<Result<_, _>>()?)
        })?;
        if missing.is_empty() {
            return Ok(());
        }
        self.write(|t| {
            for (id, text) in &missing {
                let basis = of(text);
                t.execute(
                    "UPDATE revisions SET checks = ?, marking = ? WHERE id = ?",
                    params![basis.checks, basis.marking, id],
                )?;
            }
            Ok(())
        })
    }

    /// The revisions of an exercise, the newest first, each with who published it and when.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn revisions(
        &self,
        course: CourseId,
        id: ExerciseId,
    ) -> Result<Vec<(Revision, String, Timestamp)>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT r.id, r.number, r.title, r.text, p.name, r.created_at FROM revisions r
                 JOIN exercises e ON e.id = r.exercise_id JOIN people p ON p.id = r.author_id
                 WHERE e.id = ? AND e.course_id = ? ORDER BY r.number DESC",
            )?;
            let rows = statement.query_map(params![id, course], |r| {
                let revision = Revision { id: r.get(0)?, number: r.get(1)?, title: r.get(2)?, text: r.get(3)? };
                Ok((revision, r.get(4)?, r.get(5)?))
            })?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// The published exercises of a course that are not archived, in order, each in its newest revision.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn exercises(&self, course: CourseId) -> Result<Vec<Exercise>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(&format!(
                "{NEWEST} WHERE e.course_id = ? AND e.archived = 0 ORDER BY e.position, e.id"
            ))?;
            let rows = statement.query_map([course], exercise)?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// A published exercise of a course in its newest revision.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise, or it was never published.
    pub fn exercise(&self, course: CourseId, id: ExerciseId) -> Result<Exercise, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(&format!("{NEWEST} WHERE e.id = ? AND e.course_id = ?"))?;
            StoreError::optional(statement.query_row(params![id, course], exercise))?
                .ok_or(StoreError::NotFound("exercise"))
        })
    }

    /// An exercise as somebody sees it: the newest revision, and for staff the draft of one that was never published, with
    /// 0 for its revision. Students see nothing that is put aside.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is nothing for them to see.
    pub fn exercise_seen(&self, course: CourseId, id: ExerciseId, is_staff: bool) -> Result<Exercise, StoreError> {
        let working = self.working(course, id)?;
        match working.published {
            Some(_) if is_staff || !working.is_archived => self.exercise(course, id),
            None if is_staff => {
                let revision = Revision { id: RevisionId(0), number: 0, title: working.title, text: working.text };
                Ok(Exercise { id, revision })
            }
            _ => Err(StoreError::NotFound("exercise")),
        }
    }

    /// What an exercise keeps under a name beside its revisions.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn setting(&self, course: CourseId, id: ExerciseId, name: &str) -> Result<Option<String>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT s.text FROM exercise_settings s JOIN exercises e ON e.id = s.exercise_id
                 WHERE e.course_id = ? AND e.id = ? AND s.name = ?",
            )?;
            StoreError::optional(statement.query_row(params![course, id, name], |r| r.get(0)))
        })
    }

    /// Keeps a text under a name with an exercise, or forgets it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise.
    pub fn keep_setting(
        &self,
        course: CourseId,
        id: ExerciseId,
        name: &str,
        text: Option<&str>,
    ) -> Result<(), StoreError> {
        self.write(|t| {
            let known: bool = t.query_row(
                "SELECT EXISTS (SELECT 1 FROM exercises WHERE id = ? AND course_id = ?)",
                params![id, course],
                |r| r.get(0),
            )?;
            if !known {
                return Err(StoreError::NotFound("exercise"));
            }
            match text {
                Some(text) => t.execute(
                    "INSERT INTO exercise_settings (exercise_id, name, text) VALUES (?, ?, ?)
                     ON CONFLICT (exercise_id, name) DO UPDATE SET text = excluded.text",
                    params![id, name, text],
                )?,
                None => {
                    t.execute("DELETE FROM exercise_settings WHERE exercise_id = ? AND name = ?", params![id, name])?
                }
            };
            Ok(())
        })
    }
}
