//! What can't be run as machine code.

/// Why a design can't be run here.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Unsupported(pub &'static str);
