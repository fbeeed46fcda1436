//! What the Behaviour stage finds of a design that is not judged row by row.

use base::Diagnostic;
use verdict::{Evidence, Proof, Rhythm};

/// What showed that a design is wrong, for those who look for the reason.
#[derive(Clone, Debug, Default)]
pub enum Seen {
    /// Nothing was.
    #[default]
    Nothing,
    /// The way to a state and inputs where it differs.
    Difference(Box<prove::Difference>),
    /// Input levels where it differs, in the exercise's order.
    Input(Vec<bool>),
    /// Its output repeats after so many clock cycles, and should after others.
    Period(u64),
}

/// The outcome of the stage.
pub struct Outcome {
    /// Right ones of what was looked at: states and inputs, periods, sampled inputs.
    pub passed: u64,
    /// All that was looked at.
    pub total: u64,
    /// How strong it is.
    pub proof: Proof,
    /// What is wrong, with what shows it.
    pub findings: Vec<(Diagnostic, Option<Evidence>)>,
    /// What showed it, as levels.
    pub seen: Seen,
    /// Nothing can be said.
    pub cannot_tell: bool,
    /// How often the output of a rate rule repeats.
    pub rhythm: Option<Rhythm>,
}
