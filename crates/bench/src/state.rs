//! What is seen at a bench.

use board::Lamp;

/// The bench of a hand-in at one moment.
#[derive(Clone, Debug, Default, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
pub struct BenchState {
    /// For each part of the board: is it on (up, pressed)?
    pub switches: Vec<bool>,
    /// What each part shows.
    pub lamps: Vec<Lamp>,
    /// For each part the share of the ticks of this question that it was lit, in percent.
    pub glow: Vec<u8>,
    /// The row the switches select, when every input is wired to one.
    pub row: Option<u64>,
    /// Which part each port bit is wired to.
    pub wired: Vec<(String, Option<usize>)>,
    /// Why the image is not loaded.
    pub refusal: Option<String>,
    /// What the flip-flops hold, for the next question.
    pub state: Option<String>,
    /// Periods of the oscillator since the image was loaded.
    pub ticks: u64,
    /// The design waits for ticks of the oscillator.
    pub is_clocked: bool,
    /// An input of the design is joined to nothing that drives it.
    pub has_open_input: bool,
}
