//! What is wrong with an exercise file, and what lies beside it.

use std::ops::Range;

/// Why a file beside the exercise file can't be had, as a sentence.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{0}")]
pub struct NotBeside(
    /// The sentence.
    pub String,
);

impl From<&str> for NotBeside {
    fn from(sentence: &str) -> Self {
        Self(sentence.to_owned())
    }
}

impl From<String> for NotBeside {
    fn from(sentence: String) -> Self {
        Self(sentence)
    }
}

/// Gives the bytes of a file beside the exercise file.
pub(crate) type Beside<'a> = dyn Fn(&str) -> Result<Vec<u8>, NotBeside> + 'a;

/// A fault with its place in bytes.
pub(crate) type Fault = (Range<usize>, String);
