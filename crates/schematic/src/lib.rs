//! A netlist as a drawing: gates as they were written or look-up tables as a device has them, laid out from the inputs on
//! the left to the outputs on the right, with the level of each wire.
//!
//! Two ways lead to the same [`Graph`]: [`written`] joins the nodes that one operator of the source made into one symbol,
//! [`mapped`] takes the tables of a cover. [`Graph::drawing`] lays it out, [`Levels`] says which wires are high and which of
//! them decide an output. Lengths are in units of a drawing, one pixel at full size.

mod graph;
mod groups;
mod layers;
mod levels;
mod mapped;
mod place;
mod recognise;
mod route;
mod writer;
mod written;

pub use graph::{Block, BlockKind, Drawing, Graph, Pin, Symbol, TooLarge, Wire};
pub use levels::Levels;
pub use mapped::mapped;
pub use written::{MOST_NODES, written};
