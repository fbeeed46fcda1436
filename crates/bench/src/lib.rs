//! A design behind its wires: the wiring judged, the image on its board walked row by row, and run by switches and clock ticks. Knows
//! not how a verdict is put together.

mod diagnostics;
mod run;
mod state;
mod wiring;

pub use diagnostics::wiring_unreadable;
pub use run::{BenchAsk, Followed, MOST_TICKS, fingerprint, follows, no_image, run_image};
pub use state::BenchState;
pub use wiring::{bench_as_expected, judge_file, planned, walk};
