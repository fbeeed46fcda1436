//! Trainer boards as data, the wiring of ports to their parts, and the bench: what the lamps of a board show when its
//! switches are set and a design is loaded.

mod bench;
mod diagnostics;
mod model;
mod wiring;

pub use bench::{Bench, Lamp, OutputLevel};
pub use model::{Active, Board, BoardError, Device, Part, PartKind};
pub use wiring::{PortBit, Wiring, WiringEntry, WiringError, judge, parse_wiring};
