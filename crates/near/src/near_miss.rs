//! A near miss with its place.

use base::Span;

/// Most near misses that are said of one hand-in.
pub const MOST: usize = 3;

/// A change of a line of source.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct LineChange {
    /// The line as it is.
    pub before: String,
    /// The line as it would be right.
    pub after: String,
}

/// A near miss with its place.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Near {
    /// Its kind, as the verdict names it.
    pub kind: &'static str,
    /// What is wrong.
    pub message: String,
    /// What to do.
    pub repair: String,
    /// What a student may read where the message itself tells the repair.
    pub hint: Option<String>,
    /// Where, in the sources.
    pub at: Option<Span>,
    /// The line before and after, where one line is all.
    pub change: Option<LineChange>,
}

impl Near {
    /// One whose message tells no more than what is wrong.
    pub fn plain(kind: &'static str, message: String, repair: String, at: Option<Span>) -> Self {
        Self { kind, message, repair, hint: None, at, change: None }
    }
}
