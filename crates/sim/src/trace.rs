//! What happened: the changes of signals over time, and nothing else.

use logic::LogicVector;

/// A signal that was recorded.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TracedSignal {
    /// Scopes from the top down.
    pub scopes: Vec<String>,
    /// Its name.
    pub name: String,
    /// Its bounds as declared; empty for a single bit.
    pub range: String,
    /// Bits.
    pub width: u32,
    /// Names of its values by their number, when it is an enumeration; empty where a value has none.
    pub literals: Vec<String>,
    /// Level before anything happened.
    pub initial: LogicVector,
}

/// A change.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Change {
    /// When, in femtoseconds.
    pub time: u64,
    /// The signal, by its number.
    pub signal: u32,
    /// What it became.
    pub value: LogicVector,
}

/// Recorded signals and their changes in the order of time.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Trace {
    /// The finest step of time, in femtoseconds.
    pub precision: u64,
    /// The signals.
    pub signals: Vec<TracedSignal>,
    /// The changes.
    pub changes: Vec<Change>,
    /// When the recording ended, in femtoseconds.
    pub end: u64,
    /// Changes were left out because there were too many.
    pub cut: bool,
}
