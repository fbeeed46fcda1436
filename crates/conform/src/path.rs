//! The way of a level through a design: which places of the source decide it on a row.

use base::{Id, SourceMap, Span};
use design::{Lit, Netlist, Node, NodeId};
use std::collections::BTreeSet;
use verdict::PathLine;

/// Lines that are told of one way.
const MOST: usize = 60;

/// The lines that decide the levels of `roots` for these levels of the netlist's inputs: behind an AND that is 0 the way
/// goes on through one side that is 0, behind one that is 1 through both.
pub(crate) fn path(
    netlist: &Netlist,
    roots: &[Lit],
    input: impl Fn(u32) -> bool,
    sources: &SourceMap,
) -> Vec<PathLine> {
    let cone = netlist.cone(roots);
    let mut levels = vec![false; netlist.len()];
    for id in &cone {
        let of = |l: Lit| levels[l.node().index()] != l.is_complement();
        levels[id.index()] = match netlist.node(*id) {
            Node::False => false,
            Node::Input(k) => input(k),
            Node::And(a, b) => of(a) && of(b),
        };
    }
    let mut seen: BTreeSet<NodeId> = BTreeSet::new();
    let mut spans: BTreeSet<Span> = BTreeSet::new();
    let mut stack: Vec<NodeId> = roots.iter().map(|l| l.node()).collect();
    while let Some(id) = stack.pop() {
        if !seen.insert(id) {
            continue;
        }
        let Node::And(a, b) = netlist.node(id) else { continue };
        spans.extend(netlist.origin(id));
        let is_zero = |l: Lit| levels[l.node().index()] == l.is_complement();
        match (levels[id.index()], is_zero(a), is_zero(b)) {
            (true, ..) => stack.extend([a.node(), b.node()]),
            (false, true, _) => stack.push(a.node()),
            (false, ..) => stack.push(b.node()),
        }
    }
    let line = |span: &Span| PathLine { file: sources.file(span.file).name.clone(), line: sources.place(*span).line };
    let lines: BTreeSet<PathLine> = spans.iter().map(line).collect();
    lines.into_iter().take(MOST).collect()
}
