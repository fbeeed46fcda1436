//! Which few rows are worth trying at a board: a set that shows every single stuck-at fault of a circuit and every swap of
//! two of its wires.
//!
//! Faults are those of the and-inverter graph: each output of a node stuck at 0 and at 1, each pin of it stuck at 1 (a
//! pin stuck at 0 is its output stuck at 0), each input stuck. Every fault is simulated on all rows; the rows are the
//! smallest cover of the faults.

use base::{Budget, Exhausted};
use design::{Lit, Netlist, Node};
use logic::{RowSet, input_word, smallest_cover};

/// Most input bits of a circuit that is looked at: every fault is run on every row.
pub const FAULT_INPUTS: u32 = 12;
/// Steps of the search for the smallest set.
const WORK: u64 = 20_000_000;

/// What may be wrong with a circuit.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Fault {
    /// What it is.
    pub kind: FaultKind,
    /// Rows on which an output that matters is wrong.
    pub seen: RowSet,
}

/// Kinds of faults.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum FaultKind {
    /// A node of the graph, by its place in the order of evaluation, is stuck at a level.
    Node(usize, bool),
    /// The first or second pin of a node is stuck at 1.
    Pin(usize, bool),
    /// Two inputs are swapped, by their places among the row's bits.
    InputsSwapped(u32, u32),
    /// Two outputs are swapped.
    OutputsSwapped(usize, usize),
}

/// Rows to try, in the order that flips the fewest switches.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RowsToTry {
    /// The rows.
    pub rows: Vec<u64>,
    /// Faults that were looked at.
    pub faults: usize,
    /// Those that these rows show; the others show on no row.
    pub shown: usize,
    /// No smaller set shows as many: proved.
    pub fewest: bool,
    /// A set that shows as many has at least so many rows.
    pub least: usize,
}

/// The circuit as a list of nodes on all rows.
struct Program {
    nodes: Vec<Step>,
    roots: Vec<(usize, u64)>,
    words: usize,
}

enum Step {
    Fixed(Vec<u64>),
    And([(usize, u64); 2]),
}

impl Program {
    fn new(net: &Netlist, roots: &[Lit], columns: &[Option<u32>], inputs: u32) -> Self {
        let cone = net.cone(roots);
        let place: std::collections::HashMap<_, usize> = cone.iter().enumerate().map(|(i, id)| (*id, i)).collect();
        let at = |l: Lit| (place[&l.node()], if l.is_complement() { u64::MAX } else { 0 });
        let words = (1usize << inputs).div_ceil(64);
        let step = |id: &design::NodeId| match net.node(*id) {
            Node::And(a, b) => Step::And([at(a), at(b)]),
            Node::Input(k) => {
                let column = columns.get(k as usize).copied().flatten();
                Step::Fixed((0..words as u64).map(|w| column.map_or(0, |c| input_word(inputs, c, w))).collect())
            }
            Node::False => Step::Fixed(vec![0; words]),
        };
        Self { nodes: cone.iter().map(step).collect(), roots: roots.iter().map(|l| at(*l)).collect(), words }
    }

    /// The roots on all rows, with a fault.
    fn run(&self, fault: Option<FaultKind>, values: &mut Vec<u64>) -> Vec<Vec<u64>> {
        let mut found = vec![Vec::with_capacity(self.words); self.roots.len()];
        for word in 0..self.words {
            values.clear();
            for (i, step) in self.nodes.iter().enumerate() {
                let value = match step {
                    Step::Fixed(levels) => levels[word],
                    Step::And([(a, fa), (b, fb)]) => {
                        let (mut x, mut y) = (values[*a] ^ fa, values[*b] ^ fb);
                        if let Some(FaultKind::Pin(node, second)) = fault
                            && node == i
                        {
                            *(if second { &mut y } else { &mut x }) = u64::MAX;
                        }
                        x & y
                    }
                };
                values.push(match fault {
                    Some(FaultKind::Node(node, level)) if node == i => {
                        if level {
                            u64::MAX
                        } else {
                            0
                        }
                    }
                    _ => value,
                });
            }
            for (list, (node, flip)) in found.iter_mut().zip(&self.roots) {
                list.push(values[*node] ^ flip);
            }
        }
        found
    }
}

/// The row with two of its bits exchanged; bit 0 is the most significant.
fn swapped(row: u64, inputs: u32, a: u32, b: u32) -> u64 {
    let (a, b) = (inputs - 1 - a, inputs - 1 - b);
    let differ = (row >> a ^ row >> b) & 1;
    row ^ (differ << a | differ << b)
}

/// Every fault with the rows that show it. `columns` says for each input of the netlist which bit of the row it is (0 the
/// most significant), `cares` on which rows each root matters.
///
/// # Errors
/// When the budget runs out.
pub fn faults(
    net: &Netlist,
    roots: &[Lit],
    columns: &[Option<u32>],
    cares: &[RowSet],
    budget: &mut Budget,
) -> Result<Vec<Fault>, Exhausted> {
    let inputs = cares.first().map_or(0, RowSet::inputs).min(FAULT_INPUTS);
    let program = Program::new(net, roots, columns, inputs);
    let cost = (program.nodes.len() * program.words) as u64 + 1;
    let mut values = Vec::with_capacity(program.nodes.len());
    budget.spend(cost)?;
    let right = program.run(None, &mut values);
    let seen = |wrong: &[Vec<u64>]| {
        let mut rows = RowSet::empty(inputs);
        for ((wrong, right), care) in wrong.iter().zip(&right).zip(cares) {
            let words: Vec<u64> = wrong.iter().zip(right).zip(care.words()).map(|((w, r), c)| (w ^ r) & c).collect();
            rows = rows.zip(&RowSet::from_words(inputs, &words), |a, b| a | b);
        }
        rows
    };
    let mut list = Vec::new();
    for (i, step) in program.nodes.iter().enumerate() {
        let mut kinds = vec![FaultKind::Node(i, false), FaultKind::Node(i, true)];
        match step {
            Step::And(_) => kinds.extend([FaultKind::Pin(i, false), FaultKind::Pin(i, true)]),
            Step::Fixed(levels) if levels.iter().all(|w| *w == 0) => continue,
            Step::Fixed(_) => {}
        }
        for kind in kinds {
            budget.spend(cost)?;
            list.push(Fault { kind, seen: seen(&program.run(Some(kind), &mut values)) });
        }
    }
    let outputs: Vec<RowSet> = right.iter().map(|words| RowSet::from_words(inputs, words)).collect();
    for a in 0..inputs {
        for b in a + 1..inputs {
            budget.spend(outputs.len() as u64 * (1 << inputs))?;
            let shows = |row: &u64| {
                let other = swapped(*row, inputs, a, b);
                outputs.iter().zip(cares).any(|(o, care)| care.contains(*row) && o.contains(*row) != o.contains(other))
            };
            let mut seen = RowSet::empty(inputs);
            (0..1u64 << inputs).filter(shows).for_each(|row| seen.insert(row));
            list.push(Fault { kind: FaultKind::InputsSwapped(a, b), seen });
        }
    }
    for a in 0..outputs.len() {
        for b in a + 1..outputs.len() {
            let differ = outputs[a].zip(&outputs[b], |x, y| x ^ y);
            let care = cares[a].zip(&cares[b], |x, y| x | y);
            list.push(Fault { kind: FaultKind::OutputsSwapped(a, b), seen: differ.zip(&care, |d, c| d & c) });
        }
    }
    Ok(list)
}

/// The fewest rows that show every fault that shows at all, and each of some mistakes given by the rows that show it, in
/// the order that flips the fewest switches.
///
/// # Errors
/// When the budget runs out.
pub fn rows_to_try(
    net: &Netlist,
    roots: &[Lit],
    columns: &[Option<u32>],
    cares: &[RowSet],
    mistakes: &[RowSet],
    budget: &mut Budget,
) -> Result<RowsToTry, Exhausted> {
    let inputs = cares.first().map_or(0, RowSet::inputs);
    let found = faults(net, roots, columns, cares, budget)?;
    let rows_of = |rows: &RowSet| rows.iter().map(|r| r as u32).collect::<Vec<u32>>();
    let mut sets: Vec<Vec<u32>> = found.iter().map(|f| rows_of(&f.seen)).filter(|s| !s.is_empty()).collect();
    let shown = sets.len();
    sets.extend(mistakes.iter().map(rows_of).filter(|s| !s.is_empty()));
    sets.sort();
    sets.dedup();
    let cover = smallest_cover(sets, 1 << inputs, WORK);
    let rows = in_order(cover.chosen.iter().map(|r| u64::from(*r)).collect());
    Ok(RowsToTry { rows, faults: found.len(), shown, fewest: cover.proved, least: cover.least as usize })
}

/// Rows so that few switches are flipped from one to the next, all switches down at first: the nearest next one, and then
/// stretches turned round while that helps.
fn in_order(mut left: Vec<u64>) -> Vec<u64> {
    let flips = |a: u64, b: u64| (a ^ b).count_ones();
    let mut order = Vec::with_capacity(left.len());
    let mut at = 0;
    while let Some((i, _)) = left.iter().enumerate().min_by_key(|(_, row)| (flips(at, **row), **row)) {
        at = left.remove(i);
        order.push(at);
    }
    let total = |list: &[u64]| std::iter::once(&0).chain(list).zip(list).map(|(a, b)| flips(*a, *b)).sum::<u32>();
    let mut best = total(&order);
    let mut improved = order.len() <= 64;
    while improved {
        improved = false;
        for i in 0..order.len() {
            for j in i + 1..order.len() {
                order[i..=j].reverse();
                let now = total(&order);
                if now < best {
                    (best, improved) = (now, true);
                } else {
                    order[i..=j].reverse();
                }
            }
        }
    }
    order
}
