//! Clocked exercises: how a design is held against the rule.

#[cfg(test)]
#[allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]
mod agreement;
mod fast;
mod moments;
mod run;

pub(crate) use moments::{first_failure, levels_on_the_way, moments};
pub(crate) use run::{does_right, is_right, run};
