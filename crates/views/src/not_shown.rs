//! Why a page can't show what it was asked for.

use base::Fault;
use elab::Unusable;

/// Why a page can't show what it was asked for; each says so in one sentence.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum NotShown {
    /// Nothing can be read of the files.
    #[error(transparent)]
    Unusable(Unusable),
    /// The sources have a fault that stops them, with its place.
    #[error("{0}")]
    Sources(String),
    /// What was asked for does not go with the design or the exercise.
    #[error("{0}")]
    Asked(String),
    /// It is too large, or needs more than its budget.
    #[error("{0}")]
    TooLarge(String),
    /// A fault of ours, which stands in the log.
    #[error(transparent)]
    Ours(#[from] Fault),
}

impl From<Unusable> for NotShown {
    fn from(why: Unusable) -> Self {
        match why {
            Unusable::Ours(fault) => NotShown::Ours(fault),
            why => NotShown::Unusable(why),
        }
    }
}

/// What was asked for does not go with the design.
pub(crate) fn asked<T>(why: impl Into<String>) -> Result<T, NotShown> {
    Err(NotShown::Asked(why.into()))
}
