//! What staff decided otherwise than the check, with the reason. It stands until it is withdrawn, whatever is checked again.

use crate::audit::record_about;
use crate::error::StoreError;
use crate::{CourseId, HandInId, PersonId, Store, Timestamp};
use rusqlite::{Row, Transaction, params};

/// A decision to be kept.
#[derive(Clone, Debug, PartialEq)]
pub struct NewOverride {
    /// `pass`, `partly` or `fail`.
    pub kind: String,
    /// Marks instead of those that were counted; `None` leaves them.
    pub marks: Option<f64>,
    /// Why, in a sentence that the student reads.
    pub reason: String,
}

/// A decision that stands.
#[derive(Clone, Debug, PartialEq)]
pub struct Override {
    /// What was decided.
    pub decided: NewOverride,
    /// By whom.
    pub by: String,
    /// When.
    pub at: Timestamp,
}

/// The decision in a row that has its columns from `first` on: kind, marks, reason, name, time.
pub(crate) fn decision(row: &Row<'_>, first: usize) -> rusqlite::Result<Option<Override>> {
    let Some(kind) = row.get::<_, Option<String>>(first)? else { return Ok(None) };
    let decided = NewOverride { kind, marks: row.get(first + 1)?, reason: row.get(first + 2)? };
    Ok(Some(Override { decided, by: row.get(first + 3)?, at: row.get(first + 4)? }))
}

/// Whose a hand-in of a course is, and what the audit trail calls it.
fn subject(t: &Transaction<'_>, course: CourseId, id: HandInId) -> Result<(PersonId, String), StoreError> {
    let found = t.query_row(
        "SELECT h.student_id, h.exercise_id, p.name, h.attempt FROM hand_ins h JOIN people p ON p.id = h.student_id
         JOIN exercises e ON e.id = h.exercise_id WHERE h.id = ? AND e.course_id = ?",
        params![id, course],
        |r| {
            let (exercise, name, attempt): (i64, String, i64) = (r.get(1)?, r.get(2)?, r.get(3)?);
            Ok((r.get(0)?, format!("exercise {exercise}, {name}, attempt {attempt}")))
        },
    );
    StoreError::optional(found)?.ok_or(StoreError::NotFound("hand-in"))
}

impl Store {
    /// Decides on a hand-in, instead of what was decided before.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such hand-in.
    pub fn decide(
        &self,
        course: CourseId,
        id: HandInId,
        new: &NewOverride,
        (by, at): (PersonId, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            let (student, what) = subject(t, course, id)?;
            t.execute(
                "INSERT INTO overrides (hand_in_id, kind, marks, reason, by_id, created_at) VALUES (?, ?, ?, ?, ?, ?)
                 ON CONFLICT (hand_in_id) DO UPDATE SET kind = excluded.kind, marks = excluded.marks,
                 reason = excluded.reason, by_id = excluded.by_id, created_at = excluded.created_at",
                params![id, new.kind, new.marks, new.reason, by, at],
            )?;
            let marks = new.marks.map(|m| format!(", {m} marks")).unwrap_or_default();
            let text = format!("{what}: {}{marks} ({})", new.kind, new.reason);
            record_about(t, (Some(course), Some(by)), "verdict overridden", (Some(student), &text), at)
        })
    }

    /// Withdraws what was decided: the check's verdict counts again. Without a decision nothing changes.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such hand-in.
    pub fn withdraw_decision(
        &self,
        course: CourseId,
        id: HandInId,
        (by, at): (PersonId, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            let (student, what) = subject(t, course, id)?;
            if t.execute("DELETE FROM overrides WHERE hand_in_id = ?", [id])? > 0 {
                record_about(t, (Some(course), Some(by)), "override withdrawn", (Some(student), &what), at)?;
            }
            Ok(())
        })
    }
}
