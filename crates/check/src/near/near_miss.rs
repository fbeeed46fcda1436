//! A near miss with its place.

use base::Span;

/// Most near misses that are said of one hand-in.
pub(crate) const MOST: usize = 3;

/// A change of a line of source.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct LineChange {
    /// The line as it is.
    pub(crate) before: String,
    /// The line as it would be right.
    pub(crate) after: String,
}

/// A near miss with its place.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct Near {
    pub(crate) kind: &'static str,
    /// What is wrong.
    pub(crate) message: String,
    /// What to do.
    pub(crate) repair: String,
    /// What a student may read where the message itself tells the repair.
    pub(crate) hint: Option<String>,
    pub(crate) at: Option<Span>,
    pub(crate) change: Option<LineChange>,
}

impl Near {
    /// One whose message tells no more than what is wrong.
    pub(crate) fn plain(kind: &'static str, message: String, repair: String, at: Option<Span>) -> Self {
        Self { kind, message, repair, hint: None, at, change: None }
    }
}
