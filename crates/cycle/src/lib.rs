//! Clocked designs as machine code: one call runs as many clock cycles as are wanted, with all state in registers of the
//! processor. Two-valued, one clock, inputs at rest; a design that needs more is refused and run elsewhere.

mod emit;
mod engine;
mod order;
mod ticker;
mod unsupported;

pub use engine::Engine;
pub use ticker::Ticker;
pub use unsupported::Unsupported;
