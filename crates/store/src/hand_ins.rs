//! Hand-ins with their files, the verdicts on them, sign-offs, and how everybody stands.

use crate::audit::{record, record_about};
use crate::error::StoreError;
use crate::jobs;
use crate::overrides::{Override, decision};
use crate::{CourseId, ExerciseId, HandInId, PersonId, RevisionId, Store, Timestamp};
use rusqlite::{Connection, Row, Transaction, params};
use sha2::{Digest, Sha256};
use std::collections::{BTreeMap, BTreeSet};

/// What a file of a hand-in is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum FileKind {
    /// A source of the design.
    Design,
    /// The wiring CSV.
    Wiring,
    /// Prepared answers.
    Answers,
}

impl FileKind {
    /// The word that it is kept by.
    pub fn key(self) -> &'static str {
        match self {
            FileKind::Design => "design",
            FileKind::Wiring => "wiring",
            FileKind::Answers => "answers",
        }
    }
}

/// A file to be handed in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NewFile {
    /// What it is.
    pub kind: FileKind,
    /// Its name as given.
    pub name: String,
    /// Its contents.
    pub bytes: Vec<u8>,
}

/// A hand-in to be kept.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NewHandIn {
    /// Of which exercise.
    pub exercise: ExerciseId,
    /// Whose.
    pub student: PersonId,
    /// Who sent it.
    pub submitted_by: PersonId,
    /// The top, when it was chosen.
    pub top: Option<String>,
    /// Its files.
    pub files: Vec<NewFile>,
}

/// A verdict to be kept.
#[derive(Clone, Debug, PartialEq)]
pub struct NewVerdict {
    /// The revision of the exercise it was made for.
    pub revision: RevisionId,
    /// `pass`, `partly`, `fail` or `cannot_tell`.
    pub kind: String,
    /// Right rows.
    pub rows_passed: u64,
    /// All rows.
    pub rows_total: u64,
    /// The first sentence.
    pub headline: String,
    /// The whole verdict.
    pub json: String,
    /// What the design does on every row, as the server packs it.
    pub actual: Option<String>,
    /// What is loaded on the exercise's board, as JSON.
    pub image: Option<String>,
    /// Marks earned and to be had.
    pub marks: Option<(f64, f64)>,
    /// How much of each stage is right, to count marks from.
    pub shares: String,
}

/// A verdict with the revision it was made for.
#[derive(Clone, Debug, PartialEq)]
pub struct Verdict {
    /// The verdict.
    pub verdict: NewVerdict,
    /// When it was made.
    pub at: Timestamp,
}

/// A file as it was handed in.
pub type StoredFile = NewFile;

/// A hand-in in a list.
#[derive(Clone, Debug, PartialEq)]
pub struct HandInSummary {
    /// Key.
    pub id: HandInId,
    /// Of which exercise.
    pub exercise: ExerciseId,
    /// Whose.
    pub student: PersonId,
    /// Whose, by name.
    pub student_name: String,
    /// From 1.
    pub attempt: i64,
    /// When.
    pub submitted_at: Timestamp,
    /// Outcome, right rows and all rows; `None` while it waits. What staff decided comes before the check's own.
    pub outcome: Option<(String, u64, u64)>,
    /// The verdict was made for an older revision of the exercise.
    pub stale: bool,
    /// Who signed it off and when.
    pub signed_off: Option<(String, Timestamp)>,
    /// Marks earned and to be had; `None` where the exercise gives none.
    pub marks: Option<(f64, f64)>,
    /// What staff decided otherwise.
    pub decision: Option<Override>,
}

/// A hand-in with everything.
#[derive(Clone, Debug, PartialEq)]
pub struct HandIn {
    /// What lists show of it.
    pub summary: HandInSummary,
    /// The top, when it was chosen.
    pub top: Option<String>,
    /// Its files in order.
    pub files: Vec<StoredFile>,
    /// The newest verdict.
    pub verdict: Option<Verdict>,
}

/// How a student stands in an exercise: the newest attempt.
pub type Standing = HandInSummary;

const SUMMARY: &str = "SELECT h.id, h.exercise_id, h.student_id, p.name, h.attempt, h.submitted_at,
     coalesce(o.kind, v.kind), v.rows_passed, v.rows_total,
     v.revision_id IS NOT NULL AND v.revision_id <> r.id
         AND (m.checks = '' OR m.checks <> r.checks OR m.marking <> r.marking),
     q.name, s.created_at, coalesce(o.marks, v.marks), v.marks_out_of, o.kind, o.marks, o.reason, d.name, o.created_at
     FROM hand_ins h
     JOIN people p ON p.id = h.student_id
     JOIN exercises e ON e.id = h.exercise_id
     JOIN revisions r ON r.id = (SELECT id FROM revisions WHERE exercise_id = e.id ORDER BY number DESC LIMIT 1)
     LEFT JOIN verdicts v ON v.id = (SELECT max(id) FROM verdicts WHERE hand_in_id = h.id)
     LEFT JOIN revisions m ON m.id = v.revision_id
     LEFT JOIN sign_offs s ON s.hand_in_id = h.id
     LEFT JOIN people q ON q.id = s.by_id
     LEFT JOIN overrides o ON o.hand_in_id = h.id
     LEFT JOIN people d ON d.id = o.by_id";

/// Marks from two columns.
fn marks(row: &Row<'_>, first: usize) -> rusqlite::Result<Option<(f64, f64)>> {
    Ok(row.get::<_, Option<f64>>(first)?.zip(row.get::<_, Option<f64>>(first + 1)?))
}

fn summary(row: &Row<'_>) -> rusqlite::Result<HandInSummary> {
    let kind: Option<String> = row.get(6)?;
    let count = |i: usize| -> rusqlite::Result<u64> { Ok(row.get::<_, Option<i64>>(i)?.unwrap_or(0).unsigned_abs()) };
    let outcome = match kind {
        Some(kind) => Some((kind, count(7)?, count(8)?)),
        None => None,
    };
    let by: Option<String> = row.get(10)?;
    Ok(HandInSummary {
        id: row.get(0)?,
        exercise: row.get(1)?,
        student: row.get(2)?,
        student_name: row.get(3)?,
        attempt: row.get(4)?,
        submitted_at: row.get(5)?,
        outcome,
        stale: row.get(9)?,
        signed_off: match by {
            Some(name) => Some((name, row.get(11)?)),
            None => None,
        },
        marks: marks(row, 12)?,
        decision: decision(row, 14)?,
    })
}

fn files(connection: &Connection, id: HandInId) -> Result<Vec<StoredFile>, StoreError> {
    let mut statement = connection.prepare_cached(
        "SELECT f.kind, f.name, b.bytes FROM hand_in_files f JOIN blobs b ON b.hash = f.blob_hash
         WHERE f.hand_in_id = ? ORDER BY f.position",
    )?;
    let rows = statement.query_map([id], |r| {
        let kind: String = r.get(0)?;
        let kind = match kind.as_str() {
            "wiring" => FileKind::Wiring,
            "answers" => FileKind::Answers,
            _ => FileKind::Design,
        };
        Ok(NewFile { kind, name: r.get(1)?, bytes: r.get(2)? })
    })?;
    Ok(rows.collect::<Result<_, _>>()?)
}

/// An attempt, and its files: kind, name, SHA-256.
pub type Newest = (i64, BTreeSet<(String, String, Vec<u8>)>);

/// Keeps one hand-in of a course and asks for its check.
fn add(
    t: &Transaction<'_>,
    course: CourseId,
    new: &NewHandIn,
    most: Option<u32>,
    at: Timestamp,
) -> Result<(HandInId, i64), StoreError> {
    let known: bool = t.query_row(
        "SELECT EXISTS (SELECT 1 FROM exercises e JOIN revisions r ON r.exercise_id = e.id
         WHERE e.id = ? AND e.course_id = ? AND e.archived = 0)",
        params![new.exercise, course],
        |r| r.get(0),
    )?;
    if !known {
        return Err(StoreError::NotFound("exercise"));
    }
    let name: Option<String> = StoreError::optional(t.query_row(
        "SELECT p.name FROM members m JOIN people p ON p.id = m.person_id
         WHERE m.course_id = ? AND m.person_id = ? AND m.role = 'student'",
        params![course, new.student],
        |r| r.get(0),
    ))?;
    let name = name.ok_or(StoreError::NotFound("student in this course"))?;
    let attempt: i64 = t.query_row(
        "SELECT coalesce(max(attempt), 0) + 1 FROM hand_ins WHERE exercise_id = ? AND student_id = ?",
        params![new.exercise, new.student],
        |r| r.get(0),
    )?;
    if most.is_some_and(|most| attempt > i64::from(most)) {
        return Err(StoreError::Refused("All attempts are used; ask the instructor if you need another."));
    }
    t.execute(
        "INSERT INTO hand_ins (exercise_id, student_id, attempt, top, submitted_by, submitted_at)
         VALUES (?, ?, ?, ?, ?, ?)",
        params![new.exercise, new.student, attempt, new.top, new.submitted_by, at],
    )?;
    let id = HandInId(t.last_insert_rowid());
    for (position, file) in new.files.iter().enumerate() {
        let hash = Sha256::digest(&file.bytes);
        t.execute(
            "INSERT INTO blobs (hash, bytes) VALUES (?, ?) ON CONFLICT DO NOTHING",
            params![hash.as_slice(), file.bytes],
        )?;
        t.execute(
            "INSERT INTO hand_in_files (hand_in_id, position, kind, name, blob_hash) VALUES (?, ?, ?, ?, ?)",
            params![id, i64::try_from(position).unwrap_or(i64::MAX), file.kind.key(), file.name, hash.as_slice()],
        )?;
    }
    let subject = format!("exercise {}, {name}, attempt {attempt}", new.exercise);
    let by = (Some(course), Some(new.submitted_by));
    record_about(t, by, "hand-in", (Some(new.student), &subject), at)?;
    jobs::ask(t, id, false, at)?;
    Ok((id, attempt))
}

impl Store {
    /// Keeps a hand-in and asks for its check; when this returns both are on the disk. Says its key and attempt.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise or no such student.
    pub fn add_hand_in(&self, course: CourseId, new: &NewHandIn, at: Timestamp) -> Result<(HandInId, i64), StoreError> {
        self.add_hand_in_within(course, new, None, at)
    }

    /// The same where a student has so many attempts at most.
    ///
    /// # Errors
    /// As above, and [`StoreError::Refused`] when all are used.
    pub fn add_hand_in_within(
        &self,
        course: CourseId,
        new: &NewHandIn,
        most: Option<u32>,
        at: Timestamp,
    ) -> Result<(HandInId, i64), StoreError> {
        self.write(|t| add(t, course, new, most, at))
    }

    /// Keeps the hand-ins of many students, all of them or none.
    ///
    /// # Errors
    /// As for one.
    pub fn add_hand_ins(
        &self,
        course: CourseId,
        list: &[NewHandIn],
        at: Timestamp,
    ) -> Result<Vec<(HandInId, i64)>, StoreError> {
        self.write(|t| list.iter().map(|new| add(t, course, new, None, at)).collect())
    }

    /// The files of every student's newest hand-in to an exercise: kind, name and SHA-256 of what is in them, with the attempt.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn newest_files(&self, exercise: ExerciseId) -> Result<BTreeMap<PersonId, Newest>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT h.student_id, h.attempt, f.kind, f.name, f.blob_hash FROM hand_ins h
                 JOIN hand_in_files f ON f.hand_in_id = h.id
                 WHERE h.exercise_id = ?1 AND h.attempt =
                     (SELECT max(attempt) FROM hand_ins n WHERE n.exercise_id = ?1 AND n.student_id = h.student_id)",
            )?;
            let mut rows = statement.query([exercise])?;
            let mut found: BTreeMap<PersonId, Newest> = BTreeMap::new();
            while let Some(row) = rows.next()? {
                let newest = found.entry(row.get(0)?).or_default();
                newest.0 = row.get(1)?;
                newest.1.insert((row.get(2)?, row.get(3)?, row.get(4)?));
            }
            Ok(found)
        })
    }

    /// Keeps a verdict on a hand-in, whose check is done by that.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn add_verdict(&self, hand_in: HandInId, v: &NewVerdict, at: Timestamp) -> Result<(), StoreError> {
        let count = |n: u64| i64::try_from(n).unwrap_or(i64::MAX);
        self.write(|t| {
            t.execute(
                "INSERT INTO verdicts (hand_in_id, revision_id, kind, rows_passed, rows_total, headline, json, actual,
                 image, marks, marks_out_of, shares, created_at)
                 VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
                params![
                    hand_in,
                    v.revision,
                    v.kind,
                    count(v.rows_passed),
                    count(v.rows_total),
                    v.headline,
                    v.json,
                    v.actual,
                    v.image,
                    v.marks.map(|m| m.0),
                    v.marks.map(|m| m.1),
                    v.shares,
                    at
                ],
            )?;
            jobs::done(t, hand_in, at)
        })
    }

    /// Signs a hand-in off; signing again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such hand-in.
    pub fn sign_off(&self, course: CourseId, id: HandInId, by: PersonId, at: Timestamp) -> Result<(), StoreError> {
        self.write(|t| {
            let sql = format!("{SUMMARY} WHERE h.id = ? AND e.course_id = ?");
            let found = StoreError::optional(t.query_row(&sql, params![id, course], summary))?
                .ok_or(StoreError::NotFound("hand-in"))?;
            let fresh = t.execute(
                "INSERT INTO sign_offs (hand_in_id, by_id, created_at) VALUES (?, ?, ?) ON CONFLICT DO NOTHING",
                params![id, by, at],
            )?;
            if fresh > 0 {
                let subject = format!("exercise {}, {}, attempt {}", found.exercise, found.student_name, found.attempt);
                record_about(t, (Some(course), Some(by)), "sign-off", (Some(found.student), &subject), at)?;
            }
            Ok(())
        })
    }

    /// A hand-in of a course with its files and newest verdict.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such hand-in.
    pub fn hand_in(&self, course: CourseId, id: HandInId) -> Result<HandIn, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(&format!("{SUMMARY} WHERE h.id = ? AND e.course_id = ?"))?;
            let summary = StoreError::optional(statement.query_row(params![id, course], summary))?
                .ok_or(StoreError::NotFound("hand-in"))?;
            let top = c.query_row("SELECT top FROM hand_ins WHERE id = ?", [id], |r| r.get(0))?;
            let verdict = StoreError::optional(c.query_row(
                "SELECT revision_id, kind, rows_passed, rows_total, headline, json, actual, image, marks,
                 marks_out_of, created_at, shares FROM verdicts WHERE hand_in_id = ? ORDER BY id DESC LIMIT 1",
                [id],
                |r| {
                    let verdict = NewVerdict {
                        revision: r.get(0)?,
                        kind: r.get(1)?,
                        rows_passed: r.get::<_, i64>(2)?.unsigned_abs(),
                        rows_total: r.get::<_, i64>(3)?.unsigned_abs(),
                        headline: r.get(4)?,
                        json: r.get(5)?,
                        actual: r.get(6)?,
                        image: r.get(7)?,
                        marks: marks(r, 8)?,
                        shares: r.get(11)?,
                    };
                    Ok(Verdict { verdict, at: r.get(10)? })
                },
            ))?;
            Ok(HandIn { summary, top, files: files(c, id)?, verdict })
        })
    }

    /// The hand-ins of an exercise, newest first; of one student when asked.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn hand_ins(
        &self,
        course: CourseId,
        exercise: ExerciseId,
        student: Option<PersonId>,
    ) -> Result<Vec<HandInSummary>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(&format!(
                "{SUMMARY} WHERE e.course_id = ?1 AND h.exercise_id = ?2 AND (?3 IS NULL OR h.student_id = ?3)
                 ORDER BY h.id DESC LIMIT 2000"
            ))?;
            let rows = statement.query_map(params![course, exercise, student], summary)?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// How everybody in a course stands: of each student's attempts at an exercise the one that counts. That is the newest
    /// one where the course says so, else the best: signed off before passed, passed before waiting, then by the verdict
    /// and its right rows, the newer one of equals.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn standings(&self, course: CourseId, student: Option<PersonId>) -> Result<Vec<Standing>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(&format!(
                "{SUMMARY} WHERE e.course_id = ?1 AND (?2 IS NULL OR h.student_id = ?2) AND h.id =
                 (SELECT o.id FROM hand_ins o
                  LEFT JOIN verdicts w ON w.id = (SELECT max(id) FROM verdicts WHERE hand_in_id = o.id)
                  LEFT JOIN sign_offs t ON t.hand_in_id = o.id
                  LEFT JOIN overrides u ON u.hand_in_id = o.id
                  WHERE o.exercise_id = h.exercise_id AND o.student_id = h.student_id
                  ORDER BY CASE WHEN ?3 THEN 0
                      WHEN coalesce(u.kind, w.kind) = 'pass' THEN CASE WHEN t.hand_in_id IS NULL THEN 4 ELSE 6 END
                      WHEN t.hand_in_id IS NOT NULL THEN 5
                      WHEN coalesce(u.kind, w.kind) IS NULL THEN 3 WHEN coalesce(u.kind, w.kind) = 'partly' THEN 2
                      WHEN coalesce(u.kind, w.kind) = 'fail' THEN 1 ELSE 0 END DESC,
                    CASE WHEN ?3 OR w.rows_total IS NULL OR w.rows_total = 0 THEN 0.0
                      ELSE 1.0 * w.rows_passed / w.rows_total END DESC,
                    o.attempt DESC LIMIT 1)"
            ))?;
            let newest: bool = c.query_row(
                "SELECT EXISTS (SELECT 1 FROM courses WHERE id = ? AND counts = 'newest')",
                [course],
                |r| r.get(0),
            )?;
            let rows = statement.query_map(params![course, student, newest], summary)?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// Says which of a student's attempts counts in a course: the newest, or the best.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such course.
    pub fn count_newest(&self, course: CourseId, newest: bool, by: PersonId, at: Timestamp) -> Result<(), StoreError> {
        let counts = if newest { "newest" } else { "best" };
        self.write(|t| {
            if t.execute("UPDATE courses SET counts = ? WHERE id = ?", params![counts, course])? == 0 {
                return Err(StoreError::NotFound("course"));
            }
            record(t, Some(course), Some(by), "counting", &format!("the {counts} attempt counts"), at)
        })
    }

    /// Does the newest attempt count in a course?
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn counts_newest(&self, course: CourseId) -> Result<bool, StoreError> {
        self.read(|c| {
            Ok(c.query_row(
                "SELECT EXISTS (SELECT 1 FROM courses WHERE id = ? AND counts = 'newest')",
                [course],
                |r| r.get(0),
            )?)
        })
    }

    /// How many hand-ins a person sent since a time, and the bytes of their files.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn sent_since(&self, by: PersonId, since: Timestamp) -> Result<(u64, u64), StoreError> {
        self.read(|c| {
            let count: i64 = c.query_row(
                "SELECT count(*) FROM hand_ins WHERE submitted_by = ? AND submitted_at >= ?",
                params![by, since],
                |r| r.get(0),
            )?;
            let bytes: i64 = c.query_row(
                "SELECT coalesce(sum(length(b.bytes)), 0) FROM hand_ins h JOIN hand_in_files f ON f.hand_in_id = h.id
                 JOIN blobs b ON b.hash = f.blob_hash WHERE h.submitted_by = ? AND h.submitted_at >= ?",
                params![by, since],
                |r| r.get(0),
            )?;
            Ok((count.unsigned_abs(), bytes.unsigned_abs()))
        })
    }
}
