//! Exercises and their revisions: every save is one, none is lost.

use crate::audit::record;
use crate::error::StoreError;
use crate::{CourseId, ExerciseId, PersonId, RevisionId, Store, Timestamp};
use rusqlite::{Row, params};

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

/// An exercise as it is being typed.
#[derive(Clone, Copy, Debug)]
pub struct Typed<'a> {
    /// Number of the revision that it changes.
    pub expected: i64,
    /// Title.
    pub title: &'a str,
    /// The exercise file.
    pub text: &'a str,
    /// Who types.
    pub author: PersonId,
    /// How many seconds of typing make one revision.
    pub window: i64,
}

const NEWEST: &str = "SELECT e.id, r.id, r.number, r.title, r.text FROM exercises e
     JOIN revisions r ON r.exercise_id = e.id
     AND r.number = (SELECT max(number) FROM revisions WHERE exercise_id = e.id)";

fn exercise(row: &Row<'_>) -> rusqlite::Result<Exercise> {
    let revision = Revision { id: row.get(1)?, number: row.get(2)?, title: row.get(3)?, text: row.get(4)? };
    Ok(Exercise { id: row.get(0)?, revision })
}

impl Store {
    /// Adds an exercise at the end of a course.
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
            let id = t.last_insert_rowid();
            t.execute(
                "INSERT INTO revisions (exercise_id, number, title, text, author_id, created_at) VALUES (?, 1, ?, ?, ?, ?)",
                params![id, title, text, author, at],
            )?;
            record(t, Some(course), Some(author), "exercise made", title, at)?;
            Ok(id)
        })
    }

    /// Saves an exercise as a new revision, when its text differs from the newest one.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise.
    pub fn save_exercise(
        &self,
        course: CourseId,
        id: ExerciseId,
        title: &str,
        text: &str,
        author: PersonId,
        at: Timestamp,
    ) -> Result<Revision, StoreError> {
        self.write(|t| {
            let sql = format!("{NEWEST} WHERE e.id = ? AND e.course_id = ?");
            let newest = StoreError::optional(t.query_row(&sql, params![id, course], exercise))?
                .ok_or(StoreError::NotFound("exercise"))?
                .revision;
            if newest.text == text {
                return Ok(newest);
            }
            let number = newest.number + 1;
            t.execute(
                "INSERT INTO revisions (exercise_id, number, title, text, author_id, created_at) VALUES (?, ?, ?, ?, ?, ?)",
                params![id, number, title, text, author, at],
            )?;
            let revision = t.last_insert_rowid();
            record(t, Some(course), Some(author), "exercise saved", &format!("{title}, revision {number}"), at)?;
            Ok(Revision { id: revision, number, title: title.to_owned(), text: text.to_owned() })
        })
    }

    /// Saves an exercise while it is being typed: takes the place of the newest revision when the same author made that
    /// less than `window` seconds ago and no verdict rests on it; else it is a new revision like any other.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise, [`StoreError::Taken`] when `expected` is not its
    /// newest revision.
    pub fn save_typing(
        &self,
        course: CourseId,
        id: ExerciseId,
        new: &Typed<'_>,
        at: Timestamp,
    ) -> Result<Revision, StoreError> {
        self.write(|t| {
            let sql = format!("{NEWEST} WHERE e.id = ? AND e.course_id = ?");
            let newest = StoreError::optional(t.query_row(&sql, params![id, course], exercise))?
                .ok_or(StoreError::NotFound("exercise"))?
                .revision;
            if newest.number != new.expected {
                return Err(StoreError::Taken("A newer revision of the exercise".into()));
            }
            if newest.text == new.text {
                return Ok(newest);
            }
            let (author, made): (PersonId, Timestamp) = t.query_row(
                "SELECT author_id, created_at FROM revisions WHERE id = ?",
                [newest.id],
                |r| Ok((r.get(0)?, r.get(1)?)),
            )?;
            let used: bool = t.query_row(
                "SELECT EXISTS (SELECT 1 FROM verdicts WHERE revision_id = ?)",
                [newest.id],
                |r| r.get(0),
            )?;
            let number = newest.number + 1;
            t.execute(
                "INSERT INTO revisions (exercise_id, number, title, text, author_id, created_at) VALUES (?, ?, ?, ?, ?, ?)",
                params![id, number, new.title, new.text, new.author, at],
            )?;
            let revision = t.last_insert_rowid();
            if !used && author == new.author && at - made < new.window && newest.number > 1 {
                // The verdict of a check under way can't be kept for a revision that is gone; it is checked again.
                t.execute("DELETE FROM revisions WHERE id = ?", [newest.id])?;
            } else {
                let subject = format!("{}, revision {number}", new.title);
                record(t, Some(course), Some(new.author), "exercise saved", &subject, at)?;
            }
            Ok(Revision { id: revision, number, title: new.title.to_owned(), text: new.text.to_owned() })
        })
    }

    /// The exercises of a course in order, each in its newest revision.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn exercises(&self, course: CourseId) -> Result<Vec<Exercise>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(&format!("{NEWEST} WHERE e.course_id = ? ORDER BY e.position"))?;
            let rows = statement.query_map([course], exercise)?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// An exercise of a course in its newest revision.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise.
    pub fn exercise(&self, course: CourseId, id: ExerciseId) -> Result<Exercise, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(&format!("{NEWEST} WHERE e.id = ? AND e.course_id = ?"))?;
            StoreError::optional(statement.query_row(params![id, course], exercise))?
                .ok_or(StoreError::NotFound("exercise"))
        })
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
                [id, course],
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
