//! Trainer boards as data, the wiring of ports to their parts, the image that is loaded, and the bench: what the lamps of
//! a board show when its switches are set.

mod bench;
mod diagnostics;
mod image;
mod model;
mod wiring;

pub use bench::{Bench, Lamp, OutputLevel};
pub use image::{FlipFlop, Image, ImageControl, ImageOutput, ImagePort, ImageTable, Made, NoImage, Read, Refusal};
pub use model::{Active, Board, BoardError, Device, Part, PartKind};
pub use wiring::{PortBit, Wiring, WiringEntry, WiringError, judge, parse_wiring};
