//! Where in a large design a repair may lie: the nodes whose level, chosen freely on each row, would make every output
//! right on a sample of rows. The lines that made them are tried first.

use base::{Id, SourceMap};
use design::{Lit, Netlist, Node};
use elab::input_columns;
use exercise::Exercise;
use logic::{RowSet, RowValue};
use std::collections::BTreeSet;

/// Nodes beyond which the search is left out: it takes their square.
const MAX_NODES: usize = 5_000;
/// Wrong rows in the sample; the rest are right ones.
const WRONG_ROWS: usize = 48;

/// Up to 64 rows, wrong ones first.
pub(crate) fn sample(wrong: &RowSet) -> Vec<u64> {
    let right = wrong.complement();
    wrong.iter().take(WRONG_ROWS).chain(right.iter().take(64 - WRONG_ROWS)).collect()
}

/// The levels of a netlist's inputs on these rows, a lane each.
fn levels(netlist: &Netlist, exercise: &Exercise, rows: &[u64]) -> Vec<u64> {
    let inputs = exercise.table().input_count();
    let columns = input_columns(netlist, &exercise.ports);
    let word = |column: &Option<u32>| {
        let Some(column) = column else { return 0 };
        rows.iter().enumerate().fold(0u64, |w, (lane, row)| w | (row >> (inputs - 1 - column) & 1) << lane)
    };
    columns.iter().map(word).collect()
}

/// For each output: its value and unknown rail, the lanes where it should be 1, and those where that matters.
struct Wanted {
    rails: [Lit; 2],
    ones: u64,
    care: u64,
}

fn wanted(netlist: &Netlist, exercise: &Exercise, rows: &[u64]) -> Vec<Wanted> {
    let lanes = |value: RowValue, k: usize| {
        let output = &exercise.table().outputs[k];
        rows.iter().enumerate().filter(|(_, row)| output.value(**row) == value).fold(0u64, |w, (lane, _)| w | 1 << lane)
    };
    let used = if rows.len() == 64 { u64::MAX } else { (1 << rows.len()) - 1 };
    let ports = exercise.ports.iter().filter(|p| !p.is_input);
    let bits = ports.flat_map(|p| (0..p.shape.width()).rev().map(move |position| (p, position)));
    bits.enumerate()
        .map(|(k, (port, position))| {
            let bit = netlist.outputs.iter().find(|o| o.port == port.name && o.position == position);
            let rails = bit.map_or([Lit::FALSE, Lit::TRUE], |b| [b.value, b.unknown]);
            Wanted { rails, ones: lanes(RowValue::One, k), care: used & !lanes(RowValue::DontCare, k) }
        })
        .collect()
}

struct Run {
    /// Nodes in order with their operands.
    program: Vec<(usize, Lit, Lit)>,
    values: Vec<u64>,
}

fn of(values: &[u64], l: Lit) -> u64 {
    values[l.node().index()] ^ if l.is_complement() { u64::MAX } else { 0 }
}

impl Run {
    fn new(netlist: &Netlist, roots: &[Lit], inputs: &[u64]) -> Self {
        let mut run = Self { program: Vec::new(), values: vec![0; netlist.len()] };
        for (bit, word) in netlist.inputs.iter().zip(inputs) {
            run.values[bit.value.node().index()] = *word;
        }
        for id in netlist.cone(roots) {
            if let Node::And(a, b) = netlist.node(id) {
                run.program.push((id.index(), a, b));
                run.values[id.index()] = of(&run.values, a) & of(&run.values, b);
            }
        }
        run
    }

    fn right(values: &[u64], wanted: &[Wanted]) -> u64 {
        let wrong = wanted.iter().fold(0, |wrong, w| {
            let [value, unknown] = w.rails.map(|l| of(values, l));
            wrong | w.care & (unknown | (value ^ w.ones))
        });
        !wrong
    }
}

/// Is the netlist right on these rows?
pub(crate) fn is_right_on(netlist: &Netlist, exercise: &Exercise, rows: &[u64]) -> bool {
    let wanted = wanted(netlist, exercise, rows);
    let roots: Vec<Lit> = wanted.iter().flat_map(|w| w.rails).collect();
    let run = Run::new(netlist, &roots, &levels(netlist, exercise, rows));
    Run::right(&run.values, &wanted) == u64::MAX
}

/// The lines (by place of their file) of the nodes that could repair the sampled rows.
pub(crate) fn lines(
    netlist: &Netlist,
    exercise: &Exercise,
    rows: &[u64],
    sources: &SourceMap,
) -> BTreeSet<(usize, u32)> {
    let wanted = wanted(netlist, exercise, rows);
    let roots: Vec<Lit> = wanted.iter().flat_map(|w| w.rails).collect();
    let run = Run::new(netlist, &roots, &levels(netlist, exercise, rows));
    let mut found = BTreeSet::new();
    if run.program.len() > MAX_NODES {
        return found;
    }
    let right = Run::right(&run.values, &wanted);
    let mut values = run.values.clone();
    for (at, (node, ..)) in run.program.iter().enumerate() {
        values[*node] = !run.values[*node];
        for (later, a, b) in &run.program[at + 1..] {
            values[*later] = of(&values, *a) & of(&values, *b);
        }
        if right | Run::right(&values, &wanted) == u64::MAX
            && let Some(span) = netlist.origin(design::NodeId::from_index(*node))
        {
            found.insert((span.file.index(), sources.place(span).line));
        }
        values[*node] = run.values[*node];
    }
    found
}
