//! Near misses: the smallest changes with which a wrong design would be right, each one tried before it is said. Knows not how a
//! verdict is put together.

mod clocked;
mod explain;
mod fixable;
mod joins;
mod near_miss;
mod repair;
mod table;
mod wide;

pub use explain::explain;
pub use near_miss::{LineChange, MOST, Near};
pub use repair::Workshop;
