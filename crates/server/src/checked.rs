//! What of an exercise is checked, as it is kept with a revision: where it stays the same, verdicts stay good.

use exercise::checked_part;
use sha2::{Digest, Sha256};

/// What of an exercise file is checked, in few digits.
pub(crate) fn checks(text: &str) -> String {
    hex::encode(&Sha256::digest(checked_part(text).as_bytes())[..16])
}
