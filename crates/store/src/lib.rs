//! What is kept: people, courses, exercises with revisions, hand-ins, verdicts, sign-offs and the audit trail, in one
//! SQLite file. One connection writes, a few read; every change commits whole or not at all.
//!
//! Knows no HTTP and no rules: a verdict is text here.

mod audit;
mod backup;
mod error;
mod exercises;
mod hand_ins;
mod ids;
mod jobs;
mod joining;
mod marking;
mod overrides;
mod people;
mod pool;
mod roster;
mod schema;
mod terms;

pub use audit::AuditEntry;
pub use backup::{backup, restore};
pub use error::StoreError;
pub use exercises::{Basis, Exercise, NewDraft, Revision, Working};
pub use hand_ins::{
    FileKind, HandIn, HandInSummary, NewFile, NewHandIn, NewVerdict, Newest, Standing, StoredFile, Verdict,
};
pub use ids::{CourseId, ExerciseId, HandInId, PersonId, RevisionId};
pub use jobs::{Job, Place};
pub use joining::JoinCode;
pub use marking::{Effect, Recountable, Recounted};
pub use overrides::{NewOverride, Override};
pub use people::{Account, Course, Member, Role, Session};
pub use roster::{CoursePerson, PersonData};

pub use terms::StoredTerms;

use pool::Pool;
use rusqlite::{Connection, Transaction, TransactionBehavior};
use std::path::Path;
use std::sync::{Mutex, PoisonError};

/// Seconds since 1970, UTC.
pub type Timestamp = i64;

/// The data of one installation.
pub struct Store {
    writer: Mutex<Connection>,
    readers: Pool,
}

impl Store {
    /// Opens the data in a folder, making it when it isn't there, and brings its tables up to date.
    ///
    /// # Errors
    /// When the folder can't be written or the file is not ours.
    pub fn open(folder: &Path) -> Result<Self, StoreError> {
        std::fs::create_dir_all(folder).map_err(|e| StoreError::Folder(folder.display().to_string(), e))?;
        let path = backup::data_file(folder);
        let mut writer = Connection::open(&path)?;
        schema::prepare(&mut writer)?;
        let readers = Pool::open(&path, 4)?;
        Ok(Self { writer: Mutex::new(writer), readers })
    }

    /// Runs a change; it is on the disk when this returns, and not at all when it fails.
    fn write<T>(&self, change: impl FnOnce(&Transaction<'_>) -> Result<T, StoreError>) -> Result<T, StoreError> {
        // A panic in a change rolls its transaction back, so the connection stays usable.
        let mut writer = self.writer.lock().unwrap_or_else(PoisonError::into_inner);
        let transaction = writer.transaction_with_behavior(TransactionBehavior::Immediate)?;
        let result = change(&transaction)?;
        transaction.commit()?;
        Ok(result)
    }

    fn read<T>(&self, query: impl FnOnce(&Connection) -> Result<T, StoreError>) -> Result<T, StoreError> {
        self.readers.with(query)
    }
}
