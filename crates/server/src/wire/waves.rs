//! Waves of a run, and waveform files.

use super::pad::PadFile;
use serde::{Deserialize, Serialize};
use store::HandInId;
use utoipa::ToSchema;

wire! {
    /// Waves that are asked for: of files, of a hand-in, or of what the exercise expects when neither is given.
    struct WavesAsk {
        /// The files.
        files: Vec<PadFile>,
        /// A hand-in instead.
        hand_in: Option<HandInId>,
        /// The unit to run on its own.
        unit: Option<String>,
        /// What the inputs do; else a testbench among the files, the stimulus kept with the exercise or the usual one.
        stimulus: Option<views::Stimulus>,
        /// Ends at this time, in nanoseconds.
        until_ns: Option<f64>,
        /// A picture goes along.
        picture: bool,
    }

    /// Waves, and what the exercise keeps for them.
    struct WavesView {
        /// The waves.
        waves: views::Waves,
        /// Their stimulus is the one kept with the exercise.
        saved: bool,
        /// How the lanes are arranged, as the page wrote it.
        arrangement: Option<String>,
        /// A picture of inputs and outputs (SVG), when it was asked for.
        picture: Option<String>,
    }

    /// What an exercise is to keep for its waves.
    struct WavesKept {
        /// The stimulus; unchanged when null.
        stimulus: Option<views::Stimulus>,
        /// Forgets the stimulus: the usual one from now on.
        usual: bool,
        /// How the lanes are arranged; unchanged when null.
        arrangement: Option<String>,
    }

    /// A waveform file that was opened.
    struct DumpOpened {
        /// Its key while it is open.
        id: u64,
        /// When it ends, in femtoseconds.
        end: u64,
        /// How many changes it holds.
        changes: u64,
        /// Its signals, without their changes.
        lanes: Vec<views::Lane>,
        /// There are more signals than these.
        cut: bool,
    }

    /// A lane within a window.
    struct WindowLane {
        /// Its number.
        lane: u64,
        /// When it changed, in femtoseconds; the first one may lie before the window.
        times: Vec<u64>,
        /// What it became: levels, the most significant first.
        values: Vec<String>,
    }

    /// What lanes of a waveform file do between two times.
    struct DumpWindow {
        /// The lanes that were asked for.
        lanes: Vec<WindowLane>,
    }

    /// Where a lane changes.
    struct DumpEdge {
        /// When, in femtoseconds.
        time: u64,
    }
}
