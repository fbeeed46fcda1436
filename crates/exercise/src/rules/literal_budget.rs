//! How many literals a hand-in may have: inputs of gates that are inputs of the design, inverted or not.

use crate::rules::looked::Looked;
use base::{Diagnostic, Severity, Stage};
use design::{Gate, GateId, GateKind, Lit, Node};

/// `None` when something in the design is no gate.
fn count(looked: &Looked<'_>) -> Option<u64> {
    let gates = &looked.gates.gates;
    let roots: Vec<GateId> = looked.gates.outputs.iter().map(|(_, _, id)| *id).collect();
    let is_input = |id: &GateId| match &gates[*id] {
        Gate::Input(..) => true,
        Gate::Gate { kind: GateKind::Not, inputs, .. } => {
            matches!(inputs.as_slice(), [i] if matches!(gates[*i], Gate::Input(..)))
        }
        _ => false,
    };
    let mut sum = roots.iter().filter(|r| is_input(r)).count();
    for id in looked.gates.behind(&roots) {
        match &gates[id] {
            Gate::Other(_) => return None,
            Gate::Gate { inputs, .. } if !is_input(&id) => sum += inputs.iter().filter(|i| is_input(i)).count(),
            _ => {}
        }
    }
    Some(sum as u64)
}

/// Sides of the netlist's gates that are inputs.
fn built(looked: &Looked<'_>) -> u64 {
    let net = looked.netlist;
    let roots: Vec<Lit> = net.outputs.iter().map(|o| o.value).collect();
    let is_input = |l: Lit| matches!(net.node(l.node()), Node::Input(_));
    let sides = net.cone(&roots).into_iter().map(|id| match net.node(id) {
        Node::And(a, b) => u64::from(is_input(a)) + u64::from(is_input(b)),
        _ => 0,
    });
    sides.sum()
}

pub(super) fn exceeded(most: u64, looked: &Looked<'_>) -> Option<Diagnostic> {
    let (is, what) = match count(looked) {
        Some(count) => (count, "literals as written"),
        None => (built(looked), "literals when it is built of two-input gates"),
    };
    if is <= most {
        return None;
    }
    Some(
        Diagnostic::new(
            "too-many-literals",
            Severity::Marks,
            Stage::Structure,
            format!("The design has {is} {what}; the exercise allows {most}."),
            "Simplify it: larger groups in the map make products of fewer literals.",
        )
        .at_opt(Some(looked.top.span))
        .help("A literal is an input of the design, inverted or not, at a gate."),
    )
}
