//! How many gates a hand-in may have.

use crate::rules::looked::Looked;
use base::{Diagnostic, Severity, Stage};
use design::{Gate, GateKind};

/// Counts gates as a price list does: each once, a gate of several inputs is one, an inverter at an input is none.
/// `None` when something in the design is no gate.
fn count(looked: &Looked<'_>) -> Option<u64> {
    let gates = &looked.gates.gates;
    let roots: Vec<_> = looked.gates.outputs.iter().map(|(_, _, id)| *id).collect();
    let mut sum = 0;
    for id in looked.gates.behind(&roots) {
        match &gates[id] {
            Gate::Other(_) => return None,
            Gate::Gate { kind: GateKind::Not, inputs, .. } if matches!(inputs.as_slice(), [i] if matches!(gates[*i], Gate::Input(..))) =>
                {}
            Gate::Gate { .. } => sum += 1,
            Gate::Input(..) | Gate::Const(_) => {}
        }
    }
    Some(sum)
}

pub(super) fn exceeded(most: u64, looked: &Looked<'_>) -> Option<Diagnostic> {
    let (is, what) = match count(looked) {
        Some(count) => (count, "gates as written"),
        // What is no gate is counted as the gates that it becomes.
        None => (looked.netlist.and_count() as u64, "two-input gates when it is built"),
    };
    if is <= most {
        return None;
    }
    Some(
        Diagnostic::new(
            "too-many-gates",
            Severity::Marks,
            Stage::Structure,
            format!("The design has {is} {what}; the exercise allows {most}."),
            "Simplify it: look for a smaller cover in the map, or share terms between outputs.",
        )
        .at_opt(Some(looked.top.span))
        .help("Each gate counts once, whatever its number of inputs; inverters at the inputs don't count."),
    )
}
