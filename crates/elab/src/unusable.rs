//! Why files can't be used at all.

use base::Fault;

/// Why files can't be used at all: nothing can be read of them, so that there is no finding with a place either.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum Unusable {
    /// A file's ending is that of no language.
    #[error("`{0}` has an ending that is not read; use .v, .sv, .vhd, .vhdl or .pla.")]
    Ending(String),
    /// A file is not text, or too much of it.
    #[error("`{0}` is empty, too large or no text file.")]
    NotText(String),
    /// There is no source among the files.
    #[error("There is no design among the files; give one that ends in .v, .sv, .vhd, .vhdl or .pla.")]
    NoDesign,
    /// A fault of ours, which stands in the log.
    #[error(transparent)]
    Ours(#[from] Fault),
}
