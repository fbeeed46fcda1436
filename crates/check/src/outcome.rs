//! What the Behaviour stage finds of a design that is not judged row by row.

use crate::near::Near;
use crate::verdict::{Evidence, Proof, Rhythm};
use base::Diagnostic;

/// The outcome of the stage.
pub(crate) struct Outcome {
    /// Right ones of what was looked at: states and inputs, periods, sampled inputs.
    pub(crate) passed: u64,
    pub(crate) total: u64,
    pub(crate) proof: Proof,
    pub(crate) findings: Vec<(Diagnostic, Option<Evidence>)>,
    pub(crate) near: Vec<Near>,
    /// Nothing can be said.
    pub(crate) cannot_tell: bool,
    /// How often the output of a rate rule repeats.
    pub(crate) rhythm: Option<Rhythm>,
}
