//! Look-up tables: the netlist covered by functions of few inputs, as a device has them (cut enumeration with area flow
//! and exact area, after Mishchenko, Chatterjee and Brayton 2007).

use crate::netlist::{Lit, Netlist, Node, NodeId};
use base::{Budget, Exhausted, Id};
use rustc_hash::{FxHashMap, FxHashSet};

/// Cuts that are kept for each node, and of a large netlist.
const KEPT: usize = 8;
const KEPT_LARGE: usize = 2;
/// Nodes from which on a netlist is large: it is covered in one pass.
const LARGE: usize = 1_500;
/// The widest table there is.
pub const MAX_LUT_INPUTS: u32 = 6;

/// A look-up table.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Lut {
    /// What it gives: a node of the netlist, or its complement.
    pub output: Lit,
    /// Its inputs: inputs of the netlist, or what tables before it give.
    pub inputs: Vec<Lit>,
    /// Bit `i` is its output where the inputs, the first one least significant, read `i`.
    pub truth: u64,
}

/// A netlist covered by look-up tables.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct LutMap {
    /// The tables; one comes after those that it reads.
    pub luts: Vec<Lut>,
    /// Most tables one after the other on any way.
    pub depth: u32,
}

/// What has to be computed: value rails of outputs and everything that registers read.
fn roots(net: &Netlist) -> Vec<Lit> {
    let outputs = net.outputs.iter().flat_map(|o| [o.value, o.floating]);
    let registers = net.registers.iter().flat_map(|r| {
        let controls = r.controls.iter().flat_map(|c| [c.condition, c.value]);
        [r.next, r.clock].into_iter().chain(controls)
    });
    outputs.chain(registers).filter(|l| !l.is_const()).collect()
}

/// A set of nodes that a node is a function of.
#[derive(Clone, Debug)]
struct Cut {
    leaves: Vec<NodeId>,
    flow: f32,
    depth: u32,
}

impl Cut {
    fn covers(&self, other: &Cut) -> bool {
        self.leaves.iter().all(|l| other.leaves.contains(l))
    }
}

struct Mapper<'n> {
    net: &'n Netlist,
    size: usize,
    cone: Vec<NodeId>,
    cuts: FxHashMap<NodeId, Vec<Cut>>,
    /// Best flow and depth of each node.
    best: Vec<(f32, u32)>,
    /// How often a node is read: estimated from the graph, then from the cover before.
    reads: Vec<f32>,
    /// The cut that was chosen, by number.
    chosen: Vec<usize>,
}

impl LutMap {
    /// Covers what outputs and registers of a netlist need with tables of at most `size` inputs (2 to 6).
    ///
    /// # Errors
    /// When the budget runs out; a step is a pair of cuts.
    pub fn new(net: &Netlist, size: u32, budget: &mut Budget) -> Result<Self, Exhausted> {
        Self::over(net, &roots(net), size, budget)
    }

    /// The same for literals of one's own choice.
    ///
    /// # Errors
    /// When the budget runs out; a step is a pair of cuts.
    pub fn over(net: &Netlist, roots: &[Lit], size: u32, budget: &mut Budget) -> Result<Self, Exhausted> {
        let size = size.clamp(2, MAX_LUT_INPUTS) as usize;
        let mut mapper = Mapper::new(net, size, roots);
        if mapper.cone.len() >= LARGE {
            mapper.enumerate(KEPT_LARGE, budget)?;
            return Ok(mapper.tables(roots));
        }
        for _ in 0..3 {
            mapper.enumerate(KEPT, budget)?;
            mapper.count_reads(roots);
        }
        mapper.settle(roots, budget)?;
        Ok(mapper.tables(roots))
    }

    /// Bits of the netlist's literals that tables give, for bits of its inputs; `input` gives those by their number.
    pub fn evaluate(&self, net: &Netlist, input: impl Fn(u32) -> u64) -> impl Fn(Lit) -> u64 {
        let mut values: FxHashMap<NodeId, u64> = FxHashMap::default();
        for index in 0..net.len() {
            let id = NodeId::from_index(index);
            if let Node::Input(k) = net.node(id) {
                values.insert(id, input(k));
            }
        }
        values.insert(Lit::FALSE.node(), 0);
        let level = |values: &FxHashMap<NodeId, u64>, l: Lit| {
            values.get(&l.node()).copied().unwrap_or(0) ^ if l.is_complement() { u64::MAX } else { 0 }
        };
        for lut in &self.luts {
            let words: Vec<u64> = lut.inputs.iter().map(|l| level(&values, *l)).collect();
            let mut out = 0u64;
            for lane in 0..64 {
                let at = words.iter().enumerate().fold(0, |at, (i, w)| at | (w >> lane & 1) << i);
                out |= (lut.truth >> at & 1) << lane;
            }
            // A table that inverts another one's output gives nothing new.
            let plain = if lut.output.is_complement() { !out } else { out };
            values.entry(lut.output.node()).or_insert(plain);
        }
        move |l| level(&values, l)
    }
}

impl<'n> Mapper<'n> {
    fn new(net: &'n Netlist, size: usize, roots: &[Lit]) -> Self {
        let cone = net.cone(roots);
        let mut reads = vec![0f32; net.len()];
        for id in &cone {
            if let Node::And(a, b) = net.node(*id) {
                reads[a.node().index()] += 1.0;
                reads[b.node().index()] += 1.0;
            }
        }
        for root in roots {
            reads[root.node().index()] += 1.0;
        }
        let best = vec![(0f32, 0u32); net.len()];
        Self { net, size, cone, cuts: FxHashMap::default(), best, reads, chosen: vec![0; net.len()] }
    }

    /// Lists the best cuts of every node, from the inputs up.
    fn enumerate(&mut self, kept: usize, budget: &mut Budget) -> Result<(), Exhausted> {
        self.cuts.clear();
        for id in self.cone.clone() {
            let Node::And(a, b) = self.net.node(id) else {
                self.best[id.index()] = (0.0, 0);
                continue;
            };
            let (left, right) = (self.with_itself(a.node()), self.with_itself(b.node()));
            budget.spend((left.len() * right.len()) as u64)?;
            let mut list: Vec<Cut> = Vec::new();
            for one in &left {
                for other in &right {
                    let mut leaves = one.clone();
                    leaves.extend(other.iter().filter(|l| !one.contains(l)));
                    if leaves.len() > self.size {
                        continue;
                    }
                    leaves.sort_unstable();
                    let flow = 1.0 + leaves.iter().map(|l| self.flow(*l)).sum::<f32>();
                    let depth = 1 + leaves.iter().map(|l| self.best[l.index()].1).max().unwrap_or(0);
                    let cut = Cut { leaves, flow, depth };
                    if list.iter().any(|c| c.covers(&cut)) {
                        continue;
                    }
                    list.retain(|c| !cut.covers(c));
                    list.push(cut);
                }
            }
            list.sort_by(|x, y| {
                x.flow.total_cmp(&y.flow).then(x.depth.cmp(&y.depth)).then(x.leaves.len().cmp(&y.leaves.len()))
            });
            list.truncate(kept);
            if let Some(first) = list.first() {
                self.best[id.index()] = (first.flow, first.depth);
            }
            self.chosen[id.index()] = 0;
            self.cuts.insert(id, list);
        }
        Ok(())
    }

    /// Leaves of a node's cuts, itself alone among them; the constant needs none.
    fn with_itself(&self, id: NodeId) -> Vec<Vec<NodeId>> {
        if id == Lit::FALSE.node() {
            return vec![Vec::new()];
        }
        let cuts = self.cuts.get(&id).into_iter().flatten().map(|c| c.leaves.clone());
        cuts.chain([vec![id]]).collect()
    }

    fn flow(&self, id: NodeId) -> f32 {
        self.best[id.index()].0 / self.reads[id.index()].max(1.0)
    }

    fn cut(&self, id: NodeId) -> Option<&Cut> {
        self.cuts.get(&id).and_then(|list| list.get(self.chosen[id.index()]))
    }

    /// Nodes that become tables, the last ones first.
    fn used(&self, roots: &[Lit]) -> Vec<NodeId> {
        let mut needed = vec![false; self.net.len()];
        roots.iter().for_each(|l| needed[l.node().index()] = true);
        let mut list = Vec::new();
        for id in self.cone.iter().rev() {
            if needed[id.index()]
                && let Some(cut) = self.cut(*id)
            {
                cut.leaves.iter().for_each(|l| needed[l.index()] = true);
                list.push(*id);
            }
        }
        list
    }

    /// Takes the reads of the cover as the next estimate, half and half with the one before.
    fn count_reads(&mut self, roots: &[Lit]) {
        let reads = self.cover_reads(roots);
        for (estimate, read) in self.reads.iter_mut().zip(reads) {
            *estimate = (*estimate + read as f32) / 2.0;
        }
    }

    fn cover_reads(&self, roots: &[Lit]) -> Vec<u32> {
        let mut reads = vec![0u32; self.net.len()];
        roots.iter().for_each(|l| reads[l.node().index()] += 1);
        for id in self.used(roots) {
            self.cut(id).into_iter().flat_map(|c| &c.leaves).for_each(|l| reads[l.index()] += 1);
        }
        reads
    }

    /// Chooses for each table the cut that adds fewest others, twice.
    fn settle(&mut self, roots: &[Lit], budget: &mut Budget) -> Result<(), Exhausted> {
        for _ in 0..2 {
            let mut reads = self.cover_reads(roots);
            for id in self.cone.clone() {
                if reads[id.index()] == 0 || !self.cuts.contains_key(&id) {
                    continue;
                }
                self.release(id, &mut reads);
                let count = self.cuts[&id].len();
                let mut best: Option<(u32, usize)> = None;
                for k in 0..count {
                    budget.spend(20)?;
                    self.chosen[id.index()] = k;
                    let added = self.claim(id, &mut reads);
                    self.release(id, &mut reads);
                    if best.is_none_or(|(least, _)| added < least) {
                        best = Some((added, k));
                    }
                }
                self.chosen[id.index()] = best.map_or(0, |(_, k)| k);
                self.claim(id, &mut reads);
            }
        }
        Ok(())
    }

    /// Counts the reads of a table that is there now; says how many tables come with it.
    fn claim(&self, id: NodeId, reads: &mut [u32]) -> u32 {
        let mut added = 0;
        let mut stack = vec![id];
        while let Some(here) = stack.pop() {
            added += 1;
            for leaf in self.cut(here).into_iter().flat_map(|c| &c.leaves) {
                reads[leaf.index()] += 1;
                if reads[leaf.index()] == 1 && self.cuts.contains_key(leaf) {
                    stack.push(*leaf);
                }
            }
        }
        added
    }

    /// Takes a table's reads back, and those of tables that nothing reads then.
    fn release(&self, id: NodeId, reads: &mut [u32]) {
        let mut stack = vec![id];
        while let Some(here) = stack.pop() {
            for leaf in self.cut(here).into_iter().flat_map(|c| &c.leaves) {
                reads[leaf.index()] -= 1;
                if reads[leaf.index()] == 0 && self.cuts.contains_key(leaf) {
                    stack.push(*leaf);
                }
            }
        }
    }

    /// The function of a node over its leaves.
    fn truth(&self, id: NodeId, leaves: &[NodeId]) -> u64 {
        const COLUMNS: [u64; 6] = [
            0xaaaa_aaaa_aaaa_aaaa,
            0xcccc_cccc_cccc_cccc,
            0xf0f0_f0f0_f0f0_f0f0,
            0xff00_ff00_ff00_ff00,
            0xffff_0000_ffff_0000,
            0xffff_ffff_0000_0000,
        ];
        let mut known: FxHashMap<NodeId, u64> = leaves.iter().copied().zip(COLUMNS).collect();
        known.insert(Lit::FALSE.node(), 0);
        let mut stack = vec![id];
        while let Some(here) = stack.last().copied() {
            let Node::And(a, b) = self.net.node(here) else { break };
            let of = |l: Lit| known.get(&l.node()).map(|w| if l.is_complement() { !w } else { *w });
            match (of(a), of(b)) {
                _ if known.contains_key(&here) => {
                    stack.pop();
                }
                (Some(x), Some(y)) => {
                    known.insert(here, x & y);
                    stack.pop();
                }
                (x, y) => {
                    let missing = [(x, a), (y, b)].into_iter().filter(|(w, _)| w.is_none()).map(|(_, l)| l.node());
                    stack.extend(missing);
                }
            }
        }
        let rows = 1u32 << leaves.len();
        let mask = if rows == 64 { u64::MAX } else { (1 << rows) - 1 };
        known.get(&id).copied().unwrap_or(0) & mask
    }

    fn tables(&self, roots: &[Lit]) -> LutMap {
        let mut used = self.used(roots);
        used.reverse();
        let wanted: FxHashSet<Lit> = roots.iter().copied().collect();
        let wants = |id: NodeId, complement: bool| wanted.contains(&Lit::new(id, complement));
        let mut given: FxHashMap<NodeId, Lit> = FxHashMap::default();
        let mut depths: FxHashMap<NodeId, u32> = FxHashMap::default();
        let mut luts = Vec::new();
        let mut inverters: Vec<Lit> = Vec::new();
        for id in &used {
            let Some(cut) = self.cut(*id) else { continue };
            let (plain, turned) = (wants(*id, false), wants(*id, true));
            let output = Lit::new(*id, turned && !plain);
            let mut truth = self.truth(*id, &cut.leaves);
            let rows = 1u64 << cut.leaves.len();
            let mask = if rows == 64 { u64::MAX } else { (1 << rows) - 1 };
            let inputs: Vec<Lit> =
                cut.leaves.iter().map(|l| given.get(l).copied().unwrap_or(Lit::new(*l, false))).collect();
            for (i, input) in inputs.iter().enumerate() {
                if input.is_complement() {
                    let column = truth;
                    truth = (0..rows).fold(0, |t, row| t | (column >> (row ^ 1 << i) & 1) << row);
                }
            }
            if output.is_complement() {
                truth = !truth & mask;
            }
            let depth = 1 + cut.leaves.iter().filter_map(|l| depths.get(l)).max().copied().unwrap_or(0);
            depths.insert(*id, depth);
            given.insert(*id, output);
            luts.push(Lut { output, inputs, truth });
            if plain && turned {
                inverters.push(Lit::new(*id, false));
            }
        }
        // An input that leaves the design complemented needs a table, too.
        let mut list: Vec<NodeId> = roots.iter().filter(|l| l.is_complement()).map(|l| l.node()).collect();
        list.sort_unstable();
        list.dedup();
        inverters.extend(
            list.into_iter().filter(|id| matches!(self.net.node(*id), Node::Input(_))).map(|id| Lit::new(id, false)),
        );
        let inverter_depth =
            inverters.iter().map(|l| 1 + depths.get(&l.node()).copied().unwrap_or(0)).max().unwrap_or(0);
        let depth = depths.values().copied().max().unwrap_or(0).max(inverter_depth);
        luts.extend(inverters.into_iter().map(|l| Lut { output: !l, inputs: vec![l], truth: 0b01 }));
        LutMap { luts, depth }
    }
}
