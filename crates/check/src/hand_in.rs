//! What a student hands in.

use elab::HandInFile;
use exercise::Exercise;

/// What a student hands in.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct HandIn {
    /// Design files in any order.
    pub files: Vec<HandInFile>,
    /// The top, when it was chosen.
    pub top: Option<String>,
    /// The wiring file.
    pub wiring: Option<HandInFile>,
    /// Prepared answers (TOML).
    pub answers: Option<HandInFile>,
    /// Leaves out the search for near misses in the source, and only reads prepared answers, for findings while a text is typed.
    pub quick: bool,
    /// Looks for the rows that are worth trying at a board.
    pub wants_rows: bool,
}

impl HandIn {
    /// What an image of it would be made from now; see [`bench::fingerprint`].
    pub fn fingerprint(&self, exercise: &Exercise) -> String {
        bench::fingerprint(exercise, &self.files, self.top.as_deref(), self.wiring.as_ref())
    }
}
