//! Event-driven simulation of a [`design::Design`]: IEEE 1076 delta cycles and the stratified event queue of IEEE 1364
//! in one kernel, with nine levels, transport and inertial delay.
//!
//! Processes are compiled to short instruction lists that can stop at a wait and go on later. Everything is
//! deterministic, and every run ends: by `$finish`, because nothing is left to happen, at the time asked for, or with a
//! finding when a budget runs out.

mod code;
mod diagnostics;
mod driving;
mod eval;
mod export;
mod kernel;
mod messages;
mod places;
mod print;
mod ran;
mod record;
mod run;
mod signal;
mod state;
mod stepped;
mod testing;
mod text;
mod trace;
mod values;
mod vcd;

pub use export::{PictureLane, picture_svg, trace_csv, trace_json, trace_svg};
pub use kernel::{End, Outcome, SimOptions, simulate};
pub use record::{Recording, WindowLane};
pub use stepped::Stepped;
pub use trace::{Change, Trace, TracedSignal};
pub use vcd::{VcdError, VcdSignal, VcdTrace, read_vcd, record_vcd, write_vcd};
