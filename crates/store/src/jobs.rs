//! Checks that are to be made: asked for with the hand-in, claimed once, made again once when a stop of the program cut them
//! short, and done in the same change that keeps the verdict.
//!
//! The order is fair between students: nobody's second check comes before everybody's first, and nobody has two at once.

use crate::error::StoreError;
use crate::{CourseId, HandInId, Store, Timestamp};
use rusqlite::{Connection, Row, Transaction, params};

/// How often a check is begun before it is given up: a file that stops the whole program must not do so at every start.
const CLAIMS: i64 = 2;

/// A check that somebody has taken on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Job {
    /// Key; shown as the number of a check that could not be made.
    pub id: i64,
    /// The course of the hand-in.
    pub course: CourseId,
    /// What is to be checked.
    pub hand_in: HandInId,
    /// How often it was begun, this time included.
    pub claims: i64,
}

/// Where a hand-in is on its way to a verdict.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Place {
    /// So many checks come first.
    Behind(u64),
    /// It is being checked since this time.
    Running(Timestamp),
}

/// What waits, each student's first check before anybody's second; those made since the queue was last empty count.
const ORDER: &str = "
    SELECT j.id, j.hand_in_id, j.student_id, e.course_id, j.claims,
        row_number() OVER (PARTITION BY j.student_id ORDER BY j.id)
        + (SELECT count(*) FROM jobs d WHERE d.student_id = j.student_id
           AND (d.claimed_at IS NOT NULL OR d.done_at IS NOT NULL)) AS turn
    FROM jobs j JOIN hand_ins h ON h.id = j.hand_in_id JOIN exercises e ON e.id = h.exercise_id
    WHERE j.claimed_at IS NULL AND j.done_at IS NULL";

fn job(row: &Row<'_>) -> rusqlite::Result<Job> {
    Ok(Job { id: row.get(0)?, hand_in: row.get(1)?, course: row.get(3)?, claims: row.get(4)? })
}

/// Asks for a check; one that runs already is made once more afterwards when `anew`.
pub(crate) fn ask(t: &Transaction<'_>, hand_in: HandInId, anew: bool, at: Timestamp) -> Result<(), StoreError> {
    let known = t.execute(
        "UPDATE jobs SET again = again OR (?2 AND claimed_at IS NOT NULL) WHERE hand_in_id = ?1 AND done_at IS NULL",
        params![hand_in, anew],
    )?;
    if known == 0 {
        t.execute(
            "INSERT INTO jobs (hand_in_id, student_id, asked_at) SELECT id, student_id, ?2 FROM hand_ins WHERE id = ?1",
            params![hand_in, at],
        )?;
    }
    Ok(())
}

/// The check of a hand-in is made; whoever asked anew in the meantime gets another.
pub(crate) fn done(t: &Transaction<'_>, hand_in: HandInId, at: Timestamp) -> Result<(), StoreError> {
    let again: Option<bool> = StoreError::optional(t.query_row(
        "UPDATE jobs SET done_at = ?2, claimed_at = NULL WHERE hand_in_id = ?1 AND done_at IS NULL RETURNING again",
        params![hand_in, at],
        |r| r.get(0),
    ))?;
    if again == Some(true) {
        ask(t, hand_in, false, at)?;
    }
    forget(t)
}

impl Store {
    /// Checks of a course that are still to be made or are running.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn waiting(&self, course: CourseId) -> Result<u64, StoreError> {
        self.read(|c| {
            let sql = "SELECT count(*) FROM jobs j JOIN hand_ins h ON h.id = j.hand_in_id
                 JOIN exercises e ON e.id = h.exercise_id WHERE e.course_id = ? AND j.done_at IS NULL";
            let count: i64 = c.query_row(sql, [course], |r| r.get(0))?;
            Ok(count.unsigned_abs())
        })
    }
}

/// Who had a check is forgotten when nothing waits nor runs.
fn forget(t: &Connection) -> Result<(), StoreError> {
    t.execute("DELETE FROM jobs WHERE NOT EXISTS (SELECT 1 FROM jobs WHERE done_at IS NULL)", [])?;
    Ok(())
}

impl Store {
    /// Asks for a new check of a hand-in, also where there is a verdict.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such hand-in.
    pub fn request_check(&self, course: CourseId, hand_in: HandInId, at: Timestamp) -> Result<(), StoreError> {
        self.write(|t| {
            let known: bool = t.query_row(
                "SELECT EXISTS (SELECT 1 FROM hand_ins h JOIN exercises e ON e.id = h.exercise_id
                 WHERE h.id = ? AND e.course_id = ?)",
                params![hand_in, course],
                |r| r.get(0),
            )?;
            if !known {
                return Err(StoreError::NotFound("hand-in"));
            }
            ask(t, hand_in, true, at)
        })
    }

    /// Takes the next check on, which nobody else gets then; nothing when none waits that may be made now.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn claim_check(&self, at: Timestamp) -> Result<Option<Job>, StoreError> {
        let any: bool = self.read(|c| {
            Ok(c.query_row(
                "SELECT EXISTS (SELECT 1 FROM jobs WHERE claimed_at IS NULL AND done_at IS NULL)",
                [],
                |r| r.get(0),
            )?)
        })?;
        if !any {
            return Ok(None);
        }
        self.write(|t| {
            let next = StoreError::optional(t.query_row(
                &format!(
                    "SELECT * FROM ({ORDER}) w WHERE NOT EXISTS
                     (SELECT 1 FROM jobs r WHERE r.student_id = w.student_id AND r.claimed_at IS NOT NULL)
                     ORDER BY turn, id LIMIT 1"
                ),
                [],
                job,
            ))?;
            let Some(next) = next else { return Ok(None) };
            t.execute("UPDATE jobs SET claimed_at = ?, claims = claims + 1 WHERE id = ?", params![at, next.id])?;
            Ok(Some(Job { claims: next.claims + 1, ..next }))
        })
    }

    /// Puts a check back that could not be made, to be made once more; false when it was begun often enough.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn release_check(&self, job: Job) -> Result<bool, StoreError> {
        if job.claims >= CLAIMS {
            return Ok(false);
        }
        self.write(|t| {
            t.execute("UPDATE jobs SET claimed_at = NULL WHERE id = ? AND done_at IS NULL", [job.id])?;
            Ok(true)
        })
    }

    /// At a start: what was being checked when the program stopped is put back. Says the checks that were begun often enough,
    /// which need a verdict that they can't be made.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn release_checks(&self) -> Result<Vec<Job>, StoreError> {
        self.write(|t| {
            t.execute("UPDATE jobs SET claimed_at = NULL WHERE claims < ? AND done_at IS NULL", [CLAIMS])?;
            let mut statement = t.prepare(
                "SELECT j.id, j.hand_in_id, j.student_id, e.course_id, j.claims FROM jobs j
                 JOIN hand_ins h ON h.id = j.hand_in_id JOIN exercises e ON e.id = h.exercise_id
                 WHERE j.claimed_at IS NOT NULL ORDER BY j.id",
            )?;
            let lost = statement.query_map([], job)?.collect::<Result<_, _>>()?;
            Ok(lost)
        })
    }

    /// Where a hand-in stands on its way to a verdict; nothing when no check was asked for.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn place_of_check(&self, hand_in: HandInId) -> Result<Option<Place>, StoreError> {
        self.read(|c| {
            let running: Option<Timestamp> = StoreError::optional(c.query_row(
                "SELECT claimed_at FROM jobs WHERE hand_in_id = ? AND claimed_at IS NOT NULL",
                [hand_in],
                |r| r.get(0),
            ))?;
            if let Some(since) = running {
                return Ok(Some(Place::Running(since)));
            }
            let mut statement = c.prepare_cached(&format!("SELECT hand_in_id FROM ({ORDER}) ORDER BY turn, id"))?;
            let order: Vec<HandInId> = statement.query_map([], |r| r.get(0))?.collect::<Result<_, _>>()?;
            let Some(before) = order.iter().position(|id| *id == hand_in) else { return Ok(None) };
            let run: i64 = c.query_row("SELECT count(*) FROM jobs WHERE claimed_at IS NOT NULL", [], |r| r.get(0))?;
            Ok(Some(Place::Behind(before as u64 + run.unsigned_abs())))
        })
    }
}
