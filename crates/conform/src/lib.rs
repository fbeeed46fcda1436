//! Does a design do what the exercise says? By every row, by proof, over the states, by the rate of an output; what shows a
//! difference, and the same in the event simulator. Knows no marks and no wires. Nobody else asks what kind of behaviour an
//! exercise has in order to judge a design.

mod clocked;
mod diagnostics;
mod ignored;
mod judge;
mod moment;
mod outcome;
mod path;
mod ranges;
mod replay;
mod rows;
mod sample;
mod seen;
mod tries;
mod wide;

pub use diagnostics::{budget, ends_in_simulation, engines_disagree, simulated_otherwise};
pub use judge::{does_right, is_right, judge};
pub use moment::{levels, wrong_outputs};
pub use outcome::Outcome;
pub use ranges::left_range;
pub use replay::{Moment, Other, agrees, first_other, ran};
pub use rows::{evidence, inputs_text, wrong_rows};
pub use sample::{sample, way_to, wrong_inputs};
pub use seen::{Rows, Seen};
pub use tries::{TryRows, TryTick, TryTicks, WorthTrying, worth_trying};
pub use wide::{NEAR_EFFORT, compared, is_equal};
