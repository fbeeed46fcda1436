//! What is found of a design that is held against an exercise.

use crate::seen::{Rows, Seen};
use base::Diagnostic;
use verdict::{Evidence, Proof, ProofKind, Rhythm};

/// The outcome of the stage.
pub struct Outcome {
    /// Right ones of what was looked at: rows, states and inputs, periods, sampled inputs.
    pub passed: u64,
    /// All that was looked at.
    pub total: u64,
    /// How strong it is.
    pub proof: Proof,
    /// What is wrong, with what shows it.
    pub findings: Vec<(Diagnostic, Option<Evidence>)>,
    /// What was seen of it.
    pub seen: Seen,
    /// Nothing can be said.
    pub cannot_tell: bool,
    /// How often the output of a rate rule repeats.
    pub rhythm: Option<Rhythm>,
}

impl Outcome {
    /// All that was looked at is right.
    pub fn is_right(&self) -> bool {
        !self.cannot_tell && self.passed == self.total
    }

    /// Shown to differ from the exercise.
    pub fn differs(&self) -> bool {
        self.proof.kind == ProofKind::Differs
    }

    /// What it does on all rows, where it is judged by rows.
    pub fn rows(&self) -> Option<&Rows> {
        match &self.seen {
            Seen::Rows(rows) => Some(rows),
            _ => None,
        }
    }
}
