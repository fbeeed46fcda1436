//! The one door: a design is held against an exercise, whatever kind of behaviour the exercise has.

use crate::outcome::Outcome;
use crate::{clocked, rows, wide};
use base::{Budget, Exhausted, SourceMap};
use design::Netlist;
use elab::Built;
use exercise::{Exercise, Expected};

/// Holds a design, whose ports were found to fit, against the exercise.
pub fn judge(exercise: &Exercise, (built, sources): (&Built, &SourceMap), budget: &mut Budget) -> Outcome {
    match &exercise.expected {
        Expected::Table(_) => rows::run(exercise, (&built.netlist, sources), budget),
        Expected::Function(function) => wide::run(exercise, function, (&built.netlist, sources), budget),
        Expected::Machine(machine) => clocked::run(exercise, machine, (built, sources), budget),
    }
}

/// Is a design, whose ports were found to fit, right as far as can be told with little effort? Stops at the first difference.
/// `seen` is an input on which another design was found wrong, tried first.
pub fn is_right(exercise: &Exercise, built: &Built, seen: &[bool], budget: &mut Budget) -> bool {
    match &exercise.expected {
        Expected::Table(_) => rows::is_right(exercise, &built.netlist, budget),
        Expected::Function(function) => wide::is_right(exercise, function, &built.netlist, seen, budget),
        Expected::Machine(machine) => clocked::is_right(exercise, machine, (&built.design, &built.netlist), budget),
    }
}

/// Does a netlist with the exercise's ports do what the exercise says? `right` is a netlist that was found to. `None` where too
/// little was seen.
///
/// # Errors
/// When the budget runs out, or the logic never comes to rest.
pub fn does_right(
    exercise: &Exercise,
    (right, netlist): (&Netlist, &Netlist),
    budget: &mut Budget,
) -> Result<Option<bool>, Exhausted> {
    match &exercise.expected {
        Expected::Table(_) => rows::does_right(exercise, netlist, budget).map(Some),
        Expected::Function(function) => Ok(wide::does_right(exercise, function, netlist, budget)),
        Expected::Machine(machine) => clocked::does_right(exercise, machine, (right, netlist), budget),
    }
}
