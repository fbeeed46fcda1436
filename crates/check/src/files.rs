//! Files by name, as they are handed in.

/// A file of a hand-in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HandInFile {
    /// Its name or path as given.
    pub name: String,
    /// Its contents.
    pub bytes: Vec<u8>,
}
