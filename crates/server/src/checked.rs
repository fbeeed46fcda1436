//! What of an exercise is checked and how it is marked, as it is kept with a revision: where the first stays the same, verdicts
//! stay good, and where only the second changes, marks are counted anew.

use check::count_marks;
use exercise::{Exercise, checked_part, marking_part};
use sha2::{Digest, Sha256};
use store::{Basis, Recountable, Recounted};
use verdict::Verdict;

/// What verdicts on an exercise file rest on, in few digits.
pub(crate) fn basis(text: &str) -> Basis {
    let digits = |part: String| hex::encode(&Sha256::digest(part.as_bytes())[..16]);
    Basis { checks: digits(checked_part(text)), marking: digits(marking_part(text)) }
}

/// A verdict with the marks that its exercise gives now; `None` where what was kept of it can't be read.
pub(crate) fn recounted(exercise: &Exercise, old: &Recountable) -> Option<Recounted> {
    let mut verdict: Verdict = serde_json::from_str(&old.json).ok()?;
    let shares: Vec<check::Share> = serde_json::from_str(&old.shares).ok()?;
    count_marks(exercise, &mut verdict, &shares);
    let marks = verdict.marks.as_ref().map(|m| (m.earned, m.out_of));
    Some(Recounted { json: serde_json::to_string(&verdict).ok()?, marks })
}
