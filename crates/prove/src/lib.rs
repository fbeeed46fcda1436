//! Are two clocked machines equal? Their product is searched state by state where it is small, followed along its only
//! path where nothing but a reset goes in, and otherwise run on many lanes at once. Also makes machines from rules
//! (state tables, lists of patterns) and measures how often an output repeats.

mod alone;
mod autonomous;
mod closed;
mod faults;
mod frame;
mod induction;
mod joined;
mod machine;
mod pair;
mod parts;
mod product;
mod rate;
mod rules;
mod sat;
mod seen;
mod stimulus;
mod stretch;
mod ticks;
mod transpose;
mod vectors;

pub use faults::{FAULT_INPUTS, Fault, FaultKind, RowsToTry, faults, rows_to_try};
pub use joined::{Combinational, Joined, combinational, outputs_at};
pub use machine::{Machine, OutputTap, Protocol, Reset, Running, Source};
pub use product::{Difference, Equality, Found, Moment, Step, compare, is_equal};
pub use rate::{Follower, Leaper, Measured, Walker, measure};
pub use rules::{Builder, Guard, StateRule, machine_of_patterns, machine_of_states};
pub use seen::{StillBit, Unseen};
pub use ticks::{Ticks, ticks_to_try};
pub use vectors::{Vector, vectors};
