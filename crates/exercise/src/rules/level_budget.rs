//! How many gates a hand-in may have one after the other.

use crate::rules::looked::Looked;
use base::{Diagnostic, Id, Severity, Stage};
use design::{Gate, GateId, GateKind, Lit, Node};

/// The longest way in gates, inverters at the inputs not counted; `None` when something in the design is no gate.
fn levels(looked: &Looked<'_>) -> Option<u64> {
    let gates = &looked.gates.gates;
    let roots: Vec<GateId> = looked.gates.outputs.iter().map(|(_, _, id)| *id).collect();
    let mut depth = vec![0u64; gates.len()];
    // Operands come before the gates that read them.
    let mut behind = looked.gates.behind(&roots);
    behind.sort_unstable();
    for id in behind {
        depth[id.index()] = match &gates[id] {
            Gate::Other(_) => return None,
            Gate::Input(..) | Gate::Const(_) => 0,
            Gate::Gate { kind, inputs, .. } => {
                let below = inputs.iter().map(|i| depth[i.index()]).max().unwrap_or(0);
                let at_input =
                    matches!(kind, GateKind::Not) && inputs.iter().all(|i| matches!(gates[*i], Gate::Input(..)));
                if at_input { 0 } else { below + 1 }
            }
        };
    }
    roots.iter().map(|r| depth[r.index()]).max()
}

/// The longest way in the netlist's two-input gates.
fn built(looked: &Looked<'_>) -> u64 {
    let net = looked.netlist;
    let roots: Vec<Lit> = net.outputs.iter().map(|o| o.value).collect();
    let mut depth = vec![0u64; net.len()];
    for id in net.cone(&roots) {
        if let Node::And(a, b) = net.node(id) {
            depth[id.index()] = 1 + depth[a.node().index()].max(depth[b.node().index()]);
        }
    }
    roots.iter().map(|l| depth[l.node().index()]).max().unwrap_or(0)
}

pub(super) fn exceeded(most: u64, looked: &Looked<'_>) -> Option<Diagnostic> {
    let (is, what) = match levels(looked) {
        Some(levels) => (levels, "gates one after the other"),
        None => (built(looked), "two-input gates one after the other when it is built"),
    };
    if is <= most {
        return None;
    }
    Some(
        Diagnostic::new(
            "too-many-levels",
            Severity::Marks,
            Stage::Structure,
            format!("The longest way has {is} {what}; the exercise allows {most}."),
            "Multiply it out, or use gates of more inputs: a sum of products has two levels.",
        )
        .at_opt(Some(looked.top.span))
        .help("Inverters at the inputs don't count as a level."),
    )
}
