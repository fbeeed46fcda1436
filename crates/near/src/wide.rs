//! Near misses of wide designs: other ways to join their ports, each proved before it is said.

use crate::joins::Joins;
use crate::near_miss::{MOST, Near};
use base::Budget;
use conform::{NEAR_EFFORT, is_equal};
use design::Netlist;
use exercise::{Exercise, Wide};
use prove::Joined;

/// Steps of the budget that they may take.
const STEPS: u64 = 300_000_000;

/// Looks for them, the likeliest first; `seen` is an input on which the design was found wrong.
pub(crate) fn search(exercise: &Exercise, wide: &Wide, netlist: &Netlist, seen: &[bool], budget: &Budget) -> Vec<Near> {
    let budget = &mut budget.clone().with_steps(STEPS);
    let (reference, design) = (wide.machine(), wide.join(netlist, &exercise.ports));
    let joins =
        Joins { ports: &exercise.ports, inputs: &wide.inputs, outputs: &wide.outputs, design: &design, fixed: None };
    let mut found = Vec::new();
    for variant in joins.variants() {
        if found.len() == MOST || budget.steps_left() < 1_000_000 {
            break;
        }
        let joined = Joined::new(&reference, &variant.machine, wide.width());
        if is_equal(&joined, seen, NEAR_EFFORT, budget) {
            found.push(variant.near);
        }
    }
    found
}
