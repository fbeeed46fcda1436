//! What each phase of a check leaves for the next.

use crate::marks::Share;
use board::Image;
use conform::{Outcome, TryRows, TryTicks};
use elab::{ActualTable, Built};
use near::Near;
use verdict::{ProofBudget, Verdict};

/// A design that a netlist was made of.
pub(super) struct Structured {
    pub(super) built: Built,
    /// Rules of the exercise that it breaks.
    pub(super) broken_rules: usize,
}

/// A design that could be run.
pub(super) struct Behaved {
    pub(super) outcome: Outcome,
    /// What finding that out was allowed and took.
    pub(super) budget: ProofBudget,
    pub(super) near: Vec<Near>,
}

/// What is on the board.
#[derive(Default)]
pub(super) struct Loaded {
    pub(super) image: Option<Image>,
    /// Rows that show the right lamps, of all.
    pub(super) rows: Option<(u64, u64)>,
    /// What the lamps show of faults that other stages have told.
    pub(super) follows: Option<String>,
    pub(super) near: Vec<Near>,
}

/// A verdict, and the table it was made from when the design could be run.
#[derive(Clone, Debug, PartialEq)]
pub struct Checked {
    /// The verdict.
    pub verdict: Verdict,
    /// How much of each stage is right, to count marks from.
    pub shares: Vec<Share>,
    /// What the design does on every row.
    pub actual: Option<ActualTable>,
    /// The rows that are worth trying, when they were asked for and the design is one that can be looked through.
    pub rows_to_try: Option<TryRows>,
    /// The same for a clocked design: a run of clock ticks.
    pub ticks_to_try: Option<TryTicks>,
    /// What is loaded on the exercise's board, wired as handed in or else as planned; nothing where there is no board, no
    /// design that can be mapped, or no room for it.
    pub image: Option<Image>,
}
