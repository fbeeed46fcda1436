//! The bit-level netlist: an and-inverter graph with structural hashing, each node with its origin in the source.
//!
//! A level that may be unknown has a second literal beside its value: 1 where it is unknown. In a design without
//! sources of unknown levels that literal is the constant 0 and costs nothing.

use base::{Arena, Budget, Exhausted, Id, Span, id_type};
use rustc_hash::FxHashMap;

id_type!(
    /// A node of the netlist.
    NodeId,
    "n"
);

/// A node or its complement.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Lit(u32);

impl Lit {
    /// Constant 0.
    pub const FALSE: Lit = Lit(0);
    /// Constant 1.
    pub const TRUE: Lit = Lit(1);

    /// The node, complemented or not.
    pub fn new(node: NodeId, complement: bool) -> Self {
        Lit((node.index() as u32) << 1 | u32::from(complement))
    }

    /// The node.
    pub fn node(self) -> NodeId {
        NodeId::from_index((self.0 >> 1) as usize)
    }

    /// Is the node complemented?
    pub fn is_complement(self) -> bool {
        self.0 & 1 == 1
    }

    /// True for the constants 0 and 1.
    pub fn is_const(self) -> bool {
        self.0 < 2
    }
}

impl std::ops::Not for Lit {
    type Output = Lit;
    fn not(self) -> Lit {
        Lit(self.0 ^ 1)
    }
}

impl From<bool> for Lit {
    fn from(bit: bool) -> Self {
        if bit { Lit::TRUE } else { Lit::FALSE }
    }
}

impl std::fmt::Debug for Lit {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{}{}", if self.is_complement() { "!" } else { "" }, self.node())
    }
}

/// What a node computes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Node {
    /// 0; node 0 only.
    False,
    /// An input, by its number.
    Input(u32),
    /// Both literals, which belong to earlier nodes.
    And(Lit, Lit),
}

/// An input bit of the netlist.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct InputBit {
    /// The port.
    pub port: String,
    /// Places above the least significant bit.
    pub position: u32,
    /// Its value.
    pub value: Lit,
}

/// An output bit of the netlist.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct OutputBit {
    /// The port.
    pub port: String,
    /// Places above the least significant bit.
    pub position: u32,
    /// Its value where it is known.
    pub value: Lit,
    /// 1 where it is unknown or floating.
    pub unknown: Lit,
    /// 1 where it floats.
    pub floating: Lit,
}

/// A level that a register takes at once, whatever its clock does.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct AsyncControl {
    /// 1 where the level is taken.
    pub condition: Lit,
    /// The level.
    pub value: Lit,
    /// 1 where the level is unknown.
    pub unknown: Lit,
}

/// One bit of storage that a clock edge loads. Its output is an input of the graph, with a second one that is 1 while
/// the level is unknown.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Register {
    /// The signal or variable, with its path in the hierarchy.
    pub name: String,
    /// Places above the least significant bit.
    pub position: u32,
    /// What it holds.
    pub value: Lit,
    /// 1 while what it holds is unknown.
    pub unknown: Lit,
    /// Its clock.
    pub clock: Lit,
    /// Loads when the clock goes from 0 to 1; otherwise from 1 to 0.
    pub rising: bool,
    /// What it loads.
    pub next: Lit,
    /// 1 where what it loads is unknown.
    pub next_unknown: Lit,
    /// Asynchronous sets and resets, the first one that holds counting.
    pub controls: Vec<AsyncControl>,
    /// Level at power-up; `None` when nothing says it.
    pub initial: Option<bool>,
    /// The block that describes it.
    pub span: Span,
}

/// Steps of synthesis, each the evaluation of one operator or the joining of one branch.
#[derive(Clone, Debug, Default)]
struct Apart {
    hashed: FxHashMap<(Lit, Lit, u32), NodeId>,
    steps: Vec<u32>,
    step: u32,
}

/// An and-inverter graph with named input and output bits.
#[derive(Clone, Debug, Default)]
pub struct Netlist {
    nodes: Arena<NodeId, Node>,
    origins: Vec<Option<Span>>,
    hashed: FxHashMap<(Lit, Lit), NodeId>,
    /// Where nodes of different steps are kept apart: equal nodes of one step, and the step that made each node.
    apart: Option<Apart>,
    input_count: u32,
    origin: Option<Span>,
    /// Inputs: ports in order, each from the most significant bit down.
    pub inputs: Vec<InputBit>,
    /// Outputs: ports in order, each from the most significant bit down.
    pub outputs: Vec<OutputBit>,
    /// Storage that clock edges load, in the order it is reached from the outputs.
    pub registers: Vec<Register>,
    /// Bits of storage that a level opens.
    pub latches: u32,
}

impl Netlist {
    /// Only the constant.
    pub fn new() -> Self {
        let mut net = Self::default();
        net.nodes.push(Node::False);
        net.origins.push(None);
        net
    }

    /// The same, but equal nodes are shared only where one step makes both: what is written twice stays twice. For
    /// drawings.
    pub fn as_written() -> Self {
        Self { apart: Some(Apart { steps: vec![0], ..Apart::default() }), ..Self::new() }
    }

    /// The step that made a node, counted by [`Netlist::set_origin`]; `None` where steps are not kept apart.
    pub fn step(&self, id: NodeId) -> Option<u32> {
        self.apart.as_ref()?.steps.get(id.index()).copied()
    }

    /// Goes on with the origin and the step of a node of another netlist.
    pub(crate) fn continue_from(&mut self, other: &Netlist, id: NodeId) {
        self.origin = other.origin(id);
        if let (Some(apart), Some(step)) = (&mut self.apart, other.step(id)) {
            apart.step = step;
        }
    }

    /// Number of nodes, the constant and the inputs included.
    pub fn len(&self) -> usize {
        self.nodes.len()
    }

    /// True before anything was added.
    pub fn is_empty(&self) -> bool {
        self.nodes.len() <= 1
    }

    /// Number of AND nodes.
    pub fn and_count(&self) -> usize {
        self.nodes.iter().filter(|(_, n)| matches!(n, Node::And(..))).count()
    }

    /// What a node computes.
    pub fn node(&self, id: NodeId) -> Node {
        self.nodes[id]
    }

    /// The source that first made a node.
    pub fn origin(&self, id: NodeId) -> Option<Span> {
        self.origins.get(id.index()).copied().flatten()
    }

    /// Says which source the nodes made from now on come from.
    pub fn set_origin(&mut self, span: Option<Span>) {
        self.origin = span;
        if let Some(apart) = &mut self.apart {
            apart.step += 1;
        }
    }

    /// A new input, numbered in order.
    pub fn add_input(&mut self) -> Lit {
        let id = self.nodes.push(Node::Input(self.input_count));
        self.origins.push(self.origin);
        if let Some(apart) = &mut self.apart {
            apart.steps.push(apart.step);
        }
        self.input_count += 1;
        Lit::new(id, false)
    }

    /// Number of inputs added.
    pub fn input_count(&self) -> u32 {
        self.input_count
    }

    /// Both; an equal node is shared.
    pub fn and(&mut self, a: Lit, b: Lit) -> Lit {
        let (a, b) = if a <= b { (a, b) } else { (b, a) };
        if a == Lit::FALSE || a == !b {
            return Lit::FALSE;
        }
        if a == Lit::TRUE || a == b {
            return b;
        }
        let known = match &self.apart {
            Some(apart) => apart.hashed.get(&(a, b, apart.step)),
            None => self.hashed.get(&(a, b)),
        };
        if let Some(id) = known {
            return Lit::new(*id, false);
        }
        let id = self.nodes.push(Node::And(a, b));
        self.origins.push(self.origin);
        match &mut self.apart {
            Some(apart) => {
                apart.steps.push(apart.step);
                apart.hashed.insert((a, b, apart.step), id)
            }
            None => self.hashed.insert((a, b), id),
        };
        Lit::new(id, false)
    }

    /// Either.
    pub fn or(&mut self, a: Lit, b: Lit) -> Lit {
        !self.and(!a, !b)
    }

    /// Exactly one.
    pub fn xor(&mut self, a: Lit, b: Lit) -> Lit {
        let left = self.and(a, !b);
        let right = self.and(!a, b);
        self.or(left, right)
    }

    /// `then` where `condition`, else `otherwise`.
    pub fn mux(&mut self, condition: Lit, then: Lit, otherwise: Lit) -> Lit {
        if then == otherwise {
            return then;
        }
        let left = self.and(condition, then);
        let right = self.and(!condition, otherwise);
        self.or(left, right)
    }

    /// Any of them.
    pub fn any(&mut self, lits: impl IntoIterator<Item = Lit>) -> Lit {
        lits.into_iter().fold(Lit::FALSE, |sum, l| self.or(sum, l))
    }

    /// All of them.
    pub fn all(&mut self, lits: impl IntoIterator<Item = Lit>) -> Lit {
        lits.into_iter().fold(Lit::TRUE, |sum, l| self.and(sum, l))
    }

    /// The nodes that the literals depend on, ascending (so operands come first).
    pub fn cone(&self, roots: &[Lit]) -> Vec<NodeId> {
        let mut seen = vec![false; self.nodes.len()];
        let mut stack: Vec<NodeId> = roots.iter().map(|l| l.node()).collect();
        while let Some(id) = stack.pop() {
            if std::mem::replace(&mut seen[id.index()], true) {
                continue;
            }
            if let Node::And(a, b) = self.nodes[id] {
                stack.extend([a.node(), b.node()]);
            }
        }
        self.nodes.ids().filter(|id| seen[id.index()]).collect()
    }

    /// The same for a literal that is expected to depend on few nodes: costs what the cone costs, not the whole graph.
    pub(crate) fn small_cone(&self, root: Lit, known: impl Fn(NodeId) -> bool) -> Vec<NodeId> {
        let mut seen: std::collections::HashSet<NodeId> = std::collections::HashSet::new();
        let mut list = Vec::new();
        let mut stack = vec![root.node()];
        while let Some(id) = stack.pop() {
            if known(id) || !seen.insert(id) {
                continue;
            }
            list.push(id);
            if let Node::And(a, b) = self.nodes[id] {
                stack.extend([a.node(), b.node()]);
            }
        }
        list.sort_unstable();
        list
    }

    /// Runs words of 64 rows through the graph. For each word number, `input` says the bits of each input, and
    /// `each` sees the values of `roots`.
    ///
    /// # Errors
    /// When the budget runs out; a step is a node on 64 rows.
    pub fn simulate(
        &self,
        roots: &[Lit],
        words: u64,
        budget: &mut Budget,
        input: impl Fn(u32, u64) -> u64,
        mut each: impl FnMut(u64, &[u64]),
    ) -> Result<(), Exhausted> {
        let cone = self.cone(roots);
        let mut slot = vec![0u32; self.nodes.len()];
        for (i, id) in cone.iter().enumerate() {
            slot[id.index()] = i as u32;
        }
        let at = |l: Lit| (slot[l.node().index()], if l.is_complement() { u64::MAX } else { 0 });
        let mut leaves: Vec<(usize, u32)> = Vec::new();
        let mut program: Vec<(u32, [(u32, u64); 2])> = Vec::new();
        for (i, id) in cone.iter().enumerate() {
            match self.nodes[*id] {
                Node::And(a, b) => program.push((i as u32, [at(a), at(b)])),
                Node::Input(k) => leaves.push((i, k)),
                Node::False => {}
            }
        }
        let outputs: Vec<(u32, u64)> = roots.iter().map(|l| at(*l)).collect();
        let mut values = vec![0u64; cone.len()];
        let mut results = vec![0u64; roots.len()];
        for word in 0..words {
            budget.spend(cone.len() as u64 + 1)?;
            for (i, k) in &leaves {
                values[*i] = input(*k, word);
            }
            for (i, [(a, fa), (b, fb)]) in &program {
                values[*i as usize] = (values[*a as usize] ^ fa) & (values[*b as usize] ^ fb);
            }
            for (r, (i, flip)) in results.iter_mut().zip(&outputs) {
                *r = values[*i as usize] ^ flip;
            }
            each(word, &results);
        }
        Ok(())
    }

    /// The literal with some inputs held at 0.
    pub(crate) fn with_zeros(&mut self, lit: Lit, is_zero: impl Fn(u32) -> bool) -> Lit {
        let mut map: FxHashMap<NodeId, Lit> = FxHashMap::default();
        let pick = |l: Lit, map: &FxHashMap<NodeId, Lit>| {
            let base = map.get(&l.node()).copied().unwrap_or(Lit::FALSE);
            if l.is_complement() { !base } else { base }
        };
        for id in self.small_cone(lit, |_| false) {
            let new = match self.node(id) {
                Node::False => Lit::FALSE,
                Node::Input(k) if is_zero(k) => Lit::FALSE,
                Node::Input(_) => Lit::new(id, false),
                Node::And(a, b) => {
                    let (a, b) = (pick(a, &map), pick(b, &map));
                    self.and(a, b)
                }
            };
            map.insert(id, new);
        }
        pick(lit, &map)
    }

    /// Is the literal 0 whatever its inputs are? Decided by trying all of them when it depends on at most 16;
    /// `None` when it depends on more.
    pub fn is_never_true(&self, lit: Lit) -> Option<bool> {
        if lit.is_const() {
            return Some(lit == Lit::FALSE);
        }
        let inputs: Vec<u32> = self
            .small_cone(lit, |_| false)
            .into_iter()
            .filter_map(|id| if let Node::Input(k) = self.nodes[id] { Some(k) } else { None })
            .collect();
        let n = u32::try_from(inputs.len()).ok().filter(|n| *n <= 16)?;
        let words = (1u64 << n).div_ceil(64);
        let mut any = 0;
        let position = |k: u32| inputs.iter().position(|i| *i == k).unwrap_or(0) as u32;
        let mut budget = Budget::of_steps(words * self.nodes.len() as u64);
        self.simulate(&[lit], words, &mut budget, |k, w| logic::input_word(n, position(k), w), |_, v| any |= v[0])
            .ok()?;
        Some(any == 0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn equal_structure_is_one_node_and_constants_fold() {
        let mut net = Netlist::new();
        let (a, b) = (net.add_input(), net.add_input());
        assert_eq!(net.and(a, b), net.and(b, a));
        assert_eq!(net.and(a, !a), Lit::FALSE);
        assert_eq!(net.or(a, Lit::TRUE), Lit::TRUE);
        assert_eq!(net.mux(a, b, b), b);
        assert_eq!(net.and_count(), 1);
    }

    #[test]
    fn simulation_follows_the_truth_table_of_a_full_adder() {
        let mut net = Netlist::new();
        let [a, b, c] = [0; 3].map(|_| net.add_input());
        let ab = net.xor(a, b);
        let sum = net.xor(ab, c);
        let both = net.and(a, b);
        let carry_in = net.and(ab, c);
        let carry = net.or(both, carry_in);
        let mut seen = Vec::new();
        let mut budget = Budget::hand_in();
        net.simulate(&[sum, carry], 1, &mut budget, |k, w| logic::input_word(3, k, w), |_, v| seen = v.to_vec())
            .unwrap();
        for row in 0..8u32 {
            let total = u64::from(row.count_ones());
            assert_eq!((seen[0] >> row & 1, seen[1] >> row & 1), (total & 1, total >> 1));
        }
    }

    #[test]
    fn a_contradiction_over_several_nodes_is_never_true() {
        let mut net = Netlist::new();
        let (a, b) = (net.add_input(), net.add_input());
        let x = net.xor(a, b);
        let same = net.mux(a, b, !b);
        let never = net.and(x, same);
        assert_eq!(net.is_never_true(never), Some(true));
        assert_eq!(net.is_never_true(x), Some(false));
    }
}
