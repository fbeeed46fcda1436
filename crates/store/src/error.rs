//! Why the store could not do what was asked.

/// A failure of our surroundings, or something that isn't there.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum StoreError {
    /// The data folder can't be made.
    #[error("the folder {0} can't be used: {1}")]
    Folder(String, std::io::Error),
    /// SQLite refused.
    #[error("the data file can't be used: {0}")]
    Database(#[from] rusqlite::Error),
    /// The tables can't be brought up to date.
    #[error("the data file is not of this program, or of a newer version: {0}")]
    Migration(#[from] rusqlite_migration::Error),
    /// The file is damaged.
    #[error("the data file is damaged: {0}")]
    Damaged(String),
    /// There is no such thing.
    #[error("the {0} doesn't exist")]
    NotFound(&'static str),
    /// It would break what has to hold; a sentence for people.
    #[error("{0}")]
    Refused(&'static str),
    /// Something of that name is there already.
    #[error("{0} is there already")]
    Taken(String),
}

impl StoreError {
    /// `None` when the query found no row.
    pub(crate) fn optional<T>(result: Result<T, rusqlite::Error>) -> Result<Option<T>, StoreError> {
        match result {
            Ok(row) => Ok(Some(row)),
            Err(rusqlite::Error::QueryReturnedNoRows) => Ok(None),
            Err(other) => Err(other.into()),
        }
    }
}
