//! Near misses of wide designs: other ways to join their ports, each proved before it is said.

use super::spec::Wide;
use crate::exercise::Exercise;
use crate::near::{Joins, MOST, Near};
use base::Budget;
use prove::{Combinational, Joined, Machine};

/// Equal? Tried first on an input on which the design as it is was found wrong, then on a sample.
pub(super) fn is_equal(joined: &Joined, seen: &[bool], effort: u64, budget: &mut Budget) -> bool {
    joined.is_right_at(seen, budget).unwrap_or(false)
        && joined.sample(budget).is_ok_and(|(right, total)| right == total)
        && joined.compare(effort, budget).is_ok_and(|found| found == Combinational::Equal)
}

/// Looks for them, the likeliest first.
pub(super) fn search(
    exercise: &Exercise,
    wide: &Wide,
    design: &Machine<'_>,
    seen: &[bool],
    effort: u64,
    budget: &mut Budget,
) -> Vec<Near> {
    let reference = wide.machine();
    let joins = Joins { ports: &exercise.ports, inputs: &wide.inputs, outputs: &wide.outputs, design, fixed: None };
    let mut found = Vec::new();
    for variant in joins.variants() {
        if found.len() == MOST || budget.steps_left() < 1_000_000 {
            break;
        }
        let joined = Joined::new(&reference, &variant.machine, wide.width());
        if is_equal(&joined, seen, effort, budget) {
            found.push(variant.near);
        }
    }
    found
}
