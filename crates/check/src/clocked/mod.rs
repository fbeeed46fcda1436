//! Clocked exercises: what the exercise file says of the clock, the reset and the rule, and how a hand-in is held
//! against it.

#[cfg(test)]
#[allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]
mod agreement;
mod fast;
mod moments;
mod run;
mod spec;

pub(crate) use moments::{first_failure, levels_on_the_way, moments};
pub(crate) use run::{does_right, is_right, run};
pub(crate) use spec::clocked;
pub use spec::{Clocked, ClockedInfo, ClockedRule, Mistaken, RateRule, ResetSpec};
