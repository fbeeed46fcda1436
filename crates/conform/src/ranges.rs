//! Numbers that leave their range: a simulation ends there, whatever the bits do.

use crate::{clocked, diagnostics as say};
use base::{Budget, Diagnostic};
use elab::Built;
use exercise::{Exercise, Expected};

/// What is told of a design over time in which a number leaves its range in a state that can be reached.
pub fn left_range(exercise: &Exercise, built: &Built, budget: &Budget) -> Option<Diagnostic> {
    let Expected::Machine(machine) = &exercise.expected else { return None };
    let (watched, list) = design::with_watches(&built.design)?;
    // It takes a share: the verdict itself is there already.
    let mut share = budget.clone().with_steps(budget.steps_left() / 4);
    let netlist = elab::synthesise(&watched, exercise.netlist_kind(), &share).netlist;
    let (which, levels) = clocked::first_failure(machine, &exercise.ports, (&netlist, &list), &mut share)?;
    Some(say::ends_in_simulation(&which.message, &levels, which.span))
}
