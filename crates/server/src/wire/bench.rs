//! The virtual bench.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

wire! {
    /// Which part a port bit is wired to.
    struct WiredBit {
        /// Port bit.
        bit: String,
        /// Position of the part on the board; null when it is not wired.
        part: Option<u32>,
    }

    /// What is loaded on a board.
    struct ImageInfo {
        /// The unit of the design.
        design: String,
        /// The device it is for.
        device: String,
        /// What it was made from, in hexadecimal digits.
        fingerprint: String,
        /// What it takes of the device, in words.
        takes: String,
    }

    /// The bench at one moment.
    struct BenchView {
        /// For each part: is it on?
        switches: Vec<bool>,
        /// For each part: `lit`, `dark`, `unknown` or `conflict`.
        lamps: Vec<String>,
        /// For each part the share of the ticks of this question that it was lit, in percent; empty without ticks.
        glow: Vec<u8>,
        /// The row that the switches select; null when an input is open.
        row: Option<u64>,
        /// The wiring.
        wired: Vec<WiredBit>,
        /// An input of the design is joined to nothing that drives it.
        has_open_input: bool,
        /// The design waits for ticks of the oscillator.
        is_clocked: bool,
        /// What the flip-flops hold, for the next question; null where there are none or nothing is loaded.
        state: Option<String>,
        /// Periods of the oscillator since the image was loaded.
        ticks: u64,
        /// Why the image is not loaded; null when it is.
        refusal: Option<String>,
        /// The image; null on the bench of the expected behaviour.
        image: Option<ImageInfo>,
    }
}
