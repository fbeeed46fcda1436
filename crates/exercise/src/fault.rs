//! What is wrong with an exercise file, and what lies beside it.

use std::ops::Range;

/// Gives the bytes of a file beside the exercise file.
pub(crate) type Beside<'a> = dyn Fn(&str) -> Result<Vec<u8>, String> + 'a;

/// A fault with its place in bytes.
pub(crate) type Fault = (Range<usize>, String);
