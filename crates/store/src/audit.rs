//! The audit trail: who changed what and when.

use crate::error::StoreError;
use crate::{CourseId, PersonId, Store, Timestamp};
use rusqlite::{Transaction, params};

/// One entry of the trail.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct AuditEntry {
    /// Who; `None` for the program itself.
    pub person: Option<String>,
    /// What was done, such as `hand-in`.
    pub action: String,
    /// To what.
    pub subject: String,
    /// When.
    pub at: Timestamp,
}

pub(crate) fn record(
    transaction: &Transaction<'_>,
    course: Option<CourseId>,
    person: Option<PersonId>,
    action: &str,
    subject: &str,
    at: Timestamp,
) -> Result<(), StoreError> {
    record_about(transaction, (course, person), action, (None, subject), at)
}

/// The same of what concerns a person: when they are erased, what the entry says goes.
pub(crate) fn record_about(
    transaction: &Transaction<'_>,
    (course, by): (Option<CourseId>, Option<PersonId>),
    action: &str,
    (about, subject): (Option<PersonId>, &str),
    at: Timestamp,
) -> Result<(), StoreError> {
    transaction.execute(
        "INSERT INTO audit (course_id, person_id, action, about_id, subject, created_at) VALUES (?, ?, ?, ?, ?, ?)",
        params![course, by, action, about, subject, at],
    )?;
    Ok(())
}

impl Store {
    /// The newest entries of a course, newest first.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn audit(&self, course: CourseId, limit: u32) -> Result<Vec<AuditEntry>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT p.name, a.action, a.subject, a.created_at FROM audit a LEFT JOIN people p ON p.id = a.person_id
                 WHERE a.course_id = ? ORDER BY a.id DESC LIMIT ?",
            )?;
            let rows = statement.query_map(params![course, limit], |r| {
                Ok(AuditEntry { person: r.get(0)?, action: r.get(1)?, subject: r.get(2)?, at: r.get(3)? })
            })?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }
}
