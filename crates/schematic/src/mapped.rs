//! The drawing as mapped: look-up tables, flip-flops and pins.

use crate::graph::{BlockKind, End, Graph, Symbol, TooLarge};
use crate::writer::Writer;
use base::Id;
use design::{LutMap, Netlist, Node};
use std::collections::BTreeSet;

/// The drawing of a netlist as a device has it; of one output bit only, by its number, or of everything.
///
/// # Errors
/// When there are more symbols than a drawing holds.
pub fn mapped(net: &Netlist, cover: &LutMap, only: Option<usize>) -> Result<Graph, TooLarge> {
    let mut writer = Writer::new(net, only);
    let mut wanted: Vec<bool> = vec![only.is_none(); net.len()];
    if let Some(bit) = only.and_then(|k| net.outputs.get(k)) {
        wanted[bit.value.node().index()] = true;
        for lut in cover.luts.iter().rev() {
            if wanted[lut.output.node().index()] {
                lut.inputs.iter().for_each(|l| wanted[l.node().index()] = true);
            }
        }
    }
    let mut given = BTreeSet::new();
    for (number, lut) in cover.luts.iter().enumerate() {
        if !wanted[lut.output.node().index()] {
            continue;
        }
        let is_source = matches!(net.node(lut.output.node()), Node::Input(_) | Node::False);
        // A table that only inverts: its node has a wire already.
        let only_inverts = is_source || !given.insert(lut.output.node());
        if only_inverts && only.is_some_and(|k| net.outputs.get(k).is_none_or(|o| o.value != lut.output)) {
            continue;
        }
        let n = lut.inputs.len();
        let row = |row: usize| {
            let at = (0..n).fold(0, |at, k| at | (row >> (n - 1 - k) & 1) << k);
            lut.truth >> at & 1 == 1
        };
        let truth: Vec<bool> = (0..1usize << n).map(row).collect();
        let inputs = lut.inputs.iter().zip(["a", "b", "c", "d", "e", "f"]).map(|(lit, name)| {
            let (wire, inverted) = writer.reads(*lit);
            End { wire, inverted, name: name.into() }
        });
        let inputs = inputs.collect();
        let wire = if only_inverts { writer.inverts(lut.output) } else { writer.carries(lut.output) };
        let outputs = vec![End { wire, inverted: false, name: String::new() }];
        let label = format!("LUT {}", number + 1);
        let span = net.origin(lut.output.node());
        let truth = Some(truth);
        writer.graph.symbols.push(Symbol { kind: BlockKind::Table, label, span, truth, inputs, outputs });
    }
    writer.finish()
}
