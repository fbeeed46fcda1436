//! Trainer boards as data, the wiring of ports to their parts, the image that is loaded, and the bench: what the lamps of
//! a board show when its switches are set.

mod bench;
mod diagnostics;
mod image;
mod level;
mod model;
mod part;
mod parts;
mod wiring;

pub use bench::Bench;
pub use image::{FlipFlop, Image, ImageControl, ImageOutput, ImagePort, ImageTable, Made, NoImage, Read, Refusal};
pub use level::{Lamp, OutputLevel};
pub use model::{Board, BoardError, Device};
pub use part::{Active, Part, PartKind, Terminal};
pub use wiring::{PortBit, Wiring, WiringEntry, WiringError, judge, parse_wiring};
