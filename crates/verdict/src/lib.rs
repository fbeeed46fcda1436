//! The verdict on a hand-in as data: what scripts, the store and the screens share, what of it a student may read, and the list of
//! finding codes. Knows no design, no language and no exercise.

mod codes;
mod verdict;

pub use codes::{CodeEntry, CodeExample, finding_codes, finding_codes_page};
pub use verdict::{
    AnswerResult, Evidence, Finding, FixInfo, MarkPart, Marks, NearMiss, PathLine, Proof, ProofBudget, ProofKind,
    ProofMethod, RelatedPlace, Resources, Reveal, Rhythm, RowCount, StageResult, StageState, TraceStep, Verdict,
    VerdictKind, finding, number,
};
