//! When exercises are worked at: their terms and extensions, as they are kept.

use crate::audit::record;
use crate::error::StoreError;
use crate::{CourseId, ExerciseId, PersonId, Store, Timestamp};
use rusqlite::{Connection, Row, params};

/// The terms of an exercise as they are kept; what they mean is decided elsewhere.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct StoredTerms {
    /// Students see it from then on.
    pub release_at: Option<Timestamp>,
    /// It is due then.
    pub due_at: Option<Timestamp>,
    /// Hand-ins a student has.
    pub attempts: Option<u32>,
    /// Late hand-ins are refused.
    pub refuses_late: bool,
    /// What students read of a verdict: `all`, `stages` or `after_due`.
    pub shown: String,
    /// More time for a person, or for a section where there is no person.
    pub extensions: Vec<(Option<PersonId>, String, Timestamp)>,
}

fn terms(row: &Row<'_>) -> rusqlite::Result<(ExerciseId, StoredTerms)> {
    let found = StoredTerms {
        release_at: row.get(1)?,
        due_at: row.get(2)?,
        attempts: row.get(3)?,
        refuses_late: row.get(4)?,
        shown: row.get(5)?,
        extensions: Vec::new(),
    };
    Ok((row.get(0)?, found))
}

fn all(c: &Connection, course: CourseId) -> Result<Vec<(ExerciseId, StoredTerms)>, StoreError> {
    let mut statement = c.prepare_cached(
        "SELECT t.exercise_id, t.release_at, t.due_at, t.attempts, t.refuses_late, t.shown FROM exercise_terms t
         JOIN exercises e ON e.id = t.exercise_id WHERE e.course_id = ?",
    )?;
    let mut list: Vec<(ExerciseId, StoredTerms)> = statement.query_map([course], terms)?.collect::<Result<_, _>>()?;
    let mut statement = c.prepare_cached(
        "SELECT x.exercise_id, x.person_id, x.section, x.due_at FROM extensions x
         JOIN exercises e ON e.id = x.exercise_id WHERE e.course_id = ? ORDER BY x.id",
    )?;
    let mut rows = statement.query([course])?;
    while let Some(row) = rows.next()? {
        let id: ExerciseId = row.get(0)?;
        if let Some((_, terms)) = list.iter_mut().find(|(known, _)| *known == id) {
            terms.extensions.push((row.get(1)?, row.get(2)?, row.get(3)?));
        }
    }
    Ok(list)
}

impl Store {
    /// The terms of the exercises of a course; those without any are left out.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn all_terms(&self, course: CourseId) -> Result<Vec<(ExerciseId, StoredTerms)>, StoreError> {
        self.read(|c| all(c, course))
    }

    /// The terms of an exercise.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn terms(&self, course: CourseId, id: ExerciseId) -> Result<StoredTerms, StoreError> {
        let found = self.all_terms(course)?.into_iter().find(|(known, _)| *known == id);
        Ok(found.map_or_else(|| StoredTerms { shown: "all".into(), ..StoredTerms::default() }, |(_, terms)| terms))
    }

    /// Keeps the terms of an exercise; `subject` says them in the audit trail.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such exercise, or an extension is for somebody who is not in it.
    pub fn keep_terms(
        &self,
        course: CourseId,
        id: ExerciseId,
        new: &StoredTerms,
        subject: &str,
        (by, at): (PersonId, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            let sql = "SELECT EXISTS (SELECT 1 FROM exercises WHERE id = ? AND course_id = ?)";
            if !t.query_row(sql, params![id, course], |r| r.get(0))? {
                return Err(StoreError::NotFound("exercise"));
            }
            t.execute(
                "INSERT INTO exercise_terms (exercise_id, release_at, due_at, attempts, refuses_late, shown)
                 VALUES (?1, ?2, ?3, ?4, ?5, ?6)
                 ON CONFLICT (exercise_id) DO UPDATE SET release_at = ?2, due_at = ?3, attempts = ?4, refuses_late = ?5,
                 shown = ?6",
                params![id, new.release_at, new.due_at, new.attempts, new.refuses_late, new.shown],
            )?;
            t.execute("DELETE FROM extensions WHERE exercise_id = ?", [id])?;
            for (person, section, due_at) in &new.extensions {
                if let Some(person) = person {
                    let sql = "SELECT EXISTS (SELECT 1 FROM members WHERE course_id = ? AND person_id = ?)";
                    if !t.query_row(sql, params![course, person], |r| r.get(0))? {
                        return Err(StoreError::NotFound("person in this course"));
                    }
                }
                t.execute(
                    "INSERT INTO extensions (exercise_id, person_id, section, due_at) VALUES (?, ?, ?, ?)",
                    params![id, person, section, due_at],
                )?;
            }
            record(t, Some(course), Some(by), "terms set", subject, at)
        })
    }

    /// How many hand-ins a student has in an exercise, and the section that they are in.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn attempts(&self, course: CourseId, id: ExerciseId, student: PersonId) -> Result<(u32, String), StoreError> {
        self.read(|c| {
            let sql = "SELECT count(*) FROM hand_ins WHERE exercise_id = ? AND student_id = ?";
            let count: u32 = c.query_row(sql, params![id, student], |r| r.get(0))?;
            let sql = "SELECT section FROM members WHERE course_id = ? AND person_id = ?";
            let section = StoreError::optional(c.query_row(sql, params![course, student], |r| r.get(0)))?;
            Ok((count, section.unwrap_or_default()))
        })
    }
}
