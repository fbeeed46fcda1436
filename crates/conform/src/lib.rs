//! Does a design do what the exercise says? By every row, by proof, over the states, by the rate of an output; what shows a difference,
//! and the same in the event simulator. Knows no marks and no wires.

pub mod clocked;
mod compare;
mod diagnostics;
mod ignored;
mod moment;
mod outcome;
mod path;
mod replay;
mod tries;
pub mod wide;

pub use compare::{Comparison, compare, inputs_text, wrong_rows};
pub use diagnostics::{ends_in_simulation, engines_disagree, simulated_otherwise};
pub use ignored::ignored;
pub use moment::{levels, way, wrong_outputs};
pub use outcome::{Outcome, Seen};
pub use path::path;
pub use replay::{Moment, Other, agrees, first_other, ran};
pub use tries::{TryRows, TryTick, TryTicks, try_rows, try_ticks};
