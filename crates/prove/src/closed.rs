//! A machine without inputs as logic over its own state, its words, and a program that runs it step by step.

use base::Id;
use design::{Lit, Netlist, Node, NodeId};
use rustc_hash::FxHashMap;
use std::collections::BTreeMap;

/// A machine without inputs.
pub(crate) struct Autonomous {
    /// Its inputs are the bits of the state, in order.
    pub(crate) net: Netlist,
    /// What each bit becomes.
    pub(crate) next: Vec<Lit>,
    /// What is looked for.
    pub(crate) bad: Lit,
    /// The word that each bit belongs to, with its place above the least significant one.
    pub(crate) words: Vec<(u32, u32)>,
}

/// The logic as a list of operations.
pub(crate) struct Program {
    operations: Vec<[usize; 3]>,
    values: Vec<bool>,
    inputs: Vec<usize>,
    outputs: Vec<(usize, bool)>,
}

impl Program {
    pub(crate) fn new(net: &Netlist, bits: usize, roots: &[Lit]) -> Self {
        // The value of a literal stands at twice its node, that of its complement behind it.
        let at = |l: Lit| 2 * l.node().index() + usize::from(l.is_complement());
        let mut operations = Vec::new();
        for id in net.cone(roots) {
            if let Node::And(a, b) = net.node(id) {
                operations.push([2 * id.index(), at(a), at(b)]);
            }
        }
        let mut values = vec![false; 2 * net.len()];
        values[1] = true;
        let inputs = (1..=bits).map(|node| 2 * node).collect();
        Self { operations, values, inputs, outputs: roots.iter().map(|l| (at(*l), false)).collect() }
    }

    pub(crate) fn cost(&self) -> u64 {
        self.operations.len() as u64 / 4 + 4
    }

    pub(crate) fn run(&mut self, state: &[bool]) {
        for (place, level) in self.inputs.iter().zip(state) {
            self.values[*place] = *level;
            self.values[*place + 1] = !*level;
        }
        for [to, a, b] in &self.operations {
            let level = self.values[*a] & self.values[*b];
            self.values[*to] = level;
            self.values[*to + 1] = !level;
        }
        for (place, level) in &mut self.outputs {
            *level = self.values[*place];
        }
    }

    pub(crate) fn output(&self, k: usize) -> bool {
        self.outputs[k].1
    }
}

/// The nodes of `from` over other inputs, in `net`; in the order of its nodes.
pub(crate) fn import(net: &mut Netlist, from: &Netlist, inputs: &[Lit], roots: &[Lit]) -> Vec<Lit> {
    let mut map: FxHashMap<NodeId, Lit> = FxHashMap::default();
    let pick = |map: &FxHashMap<NodeId, Lit>, l: Lit| {
        let base = map.get(&l.node()).copied().unwrap_or(Lit::FALSE);
        if l.is_complement() { !base } else { base }
    };
    for id in from.cone(roots) {
        let lit = match from.node(id) {
            Node::False => Lit::FALSE,
            Node::Input(_) => inputs.get(id.index() - 1).copied().unwrap_or(Lit::FALSE),
            Node::And(a, b) => {
                let (a, b) = (pick(&map, a), pick(&map, b));
                net.and(a, b)
            }
        };
        map.insert(id, lit);
    }
    roots.iter().map(|l| pick(&map, *l)).collect()
}

/// Most bits of a word.
const WORD: u32 = 60;

/// Words without gaps: bits of one word that are not neighbours become words of their own.
pub(crate) fn renumbered(words: impl Iterator<Item = (u32, u32)>) -> Vec<(u32, u32)> {
    let list: Vec<(u32, u32)> = words.collect();
    let order: BTreeMap<(u32, u32), usize> = list.iter().enumerate().map(|(k, w)| (*w, k)).collect();
    let mut renumbered = vec![(0, 0); list.len()];
    let (mut next, mut last) = (0u32, None::<(u32, u32)>);
    let mut place = 0;
    for ((word, at), k) in order {
        let goes_on = last == Some((word, at.wrapping_sub(1))) && place + 1 < WORD;
        if goes_on {
            place += 1;
        } else {
            place = 0;
            next += 1;
        }
        renumbered[k] = (next - 1, place);
        last = Some((word, at));
    }
    renumbered
}
