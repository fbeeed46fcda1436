//! What a new revision does to the verdicts that are there: they stay good, get their marks counted anew, or become stale.

use crate::error::StoreError;
use crate::exercises::Basis;
use crate::{ExerciseId, RevisionId, Store, Timestamp};
use rusqlite::params;

/// What publishing does to verdicts that are good now.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Effect {
    /// So many become stale.
    pub stale: u64,
    /// So many have their marks counted anew.
    pub recounted: u64,
}

/// A verdict whose marks can be counted anew.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Recountable {
    id: i64,
    /// The whole verdict.
    pub json: String,
    /// How much of each stage is right.
    pub shares: String,
}

/// The same verdict with other marks.
#[derive(Clone, Debug, PartialEq)]
pub struct Recounted {
    /// The whole verdict.
    pub json: String,
    /// Marks earned and to be had.
    pub marks: Option<(f64, f64)>,
}

/// The newest verdicts on an exercise's hand-ins, the revisions they were made for and the newest revision.
const NEWEST: &str = "FROM hand_ins h
    JOIN verdicts v ON v.id = (SELECT max(id) FROM verdicts WHERE hand_in_id = h.id)
    JOIN revisions m ON m.id = v.revision_id
    JOIN revisions r ON r.id = (SELECT id FROM revisions WHERE exercise_id = h.exercise_id ORDER BY number DESC LIMIT 1)
    WHERE h.exercise_id = ?1";

impl Store {
    /// What a revision that rests on this would do to the verdicts on an exercise.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn effect(&self, id: ExerciseId, basis: &Basis) -> Result<Effect, StoreError> {
        self.read(|c| {
            let good = "(m.id = r.id OR m.checks <> '' AND m.checks = r.checks AND m.marking = r.marking)";
            let same = "(m.checks <> '' AND m.checks = ?2)";
            let count = |which: &str| -> rusqlite::Result<u64> {
                let sql = format!("SELECT count(*) {NEWEST} AND {good} AND {which}");
                let parameters = params![id, basis.checks, basis.marking];
                c.query_row(&sql, parameters, |r| r.get::<_, i64>(0)).map(i64::unsigned_abs)
            };
            Ok(Effect {
                stale: count(&format!("(NOT {same} OR m.marking <> ?3 AND v.shares = '')"))?,
                recounted: count(&format!("{same} AND m.marking <> ?3 AND v.shares <> ''"))?,
            })
        })
    }

    /// Counts marks anew where the newest revision differs from that of a verdict in its marks alone. Says how many.
    ///
    /// # Errors
    /// When the data can't be read or written.
    pub fn recount(
        &self,
        id: ExerciseId,
        counted: &dyn Fn(&Recountable) -> Option<Recounted>,
        at: Timestamp,
    ) -> Result<u64, StoreError> {
        self.write(|t| {
            let mut statement = t.prepare(&format!(
                "SELECT v.id, v.json, v.shares, r.id {NEWEST} AND m.id <> r.id AND m.checks <> ''
                 AND m.checks = r.checks AND m.marking <> r.marking AND v.shares <> ''"
            ))?;
            let rows = statement.query_map([id], |r| {
                let found = Recountable { id: r.get(0)?, json: r.get(1)?, shares: r.get(2)? };
                Ok((found, r.get::<_, RevisionId>(3)?))
            })?;
            let list: Vec<(Recountable, RevisionId)> = rows.collect::<Result<_, _>>()?;
            let mut done = 0;
            for (old, revision) in list {
                let Some(new) = counted(&old) else { continue };
                t.execute(
                    "INSERT INTO verdicts (hand_in_id, revision_id, kind, rows_passed, rows_total, headline, json, actual,
                     image, marks, marks_out_of, shares, created_at)
                     SELECT hand_in_id, ?2, kind, rows_passed, rows_total, headline, ?3, actual, image, ?4, ?5, shares, ?6
                     FROM verdicts WHERE id = ?1",
                    params![old.id, revision, new.json, new.marks.map(|m| m.0), new.marks.map(|m| m.1), at],
                )?;
                done += 1;
            }
            Ok(done)
        })
    }
}
