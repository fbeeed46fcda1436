//! What was seen of a design when it was held against an exercise.

use elab::ActualTable;
use logic::RowSet;

/// What a design does on all rows, and where it is wrong.
#[derive(Clone, Debug)]
pub struct Rows {
    /// What each output bit does.
    pub actual: ActualTable,
    /// Rows with at least one wrong output.
    pub wrong: RowSet,
    /// For each output, whether it is wrong on some row.
    pub outputs: Vec<bool>,
    /// Rows with an output that is unknown where the exercise demands a level.
    pub unknown: RowSet,
}

/// What was seen of a design, for those who look for the reason or run it again.
#[derive(Clone, Debug, Default)]
pub enum Seen {
    /// Nothing was.
    #[default]
    Nothing,
    /// What it does on all rows, right or wrong.
    Rows(Box<Rows>),
    /// The way to a state and inputs where it differs.
    Difference(Box<prove::Difference>),
    /// Input levels where it differs, in the exercise's order.
    Input(Vec<bool>),
    /// Its output repeats after so many clock cycles, and should after others.
    Period(u64),
    /// Its output stands still, comes late or is high for another share of its period.
    Rhythm,
}
