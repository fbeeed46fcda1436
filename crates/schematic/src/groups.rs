//! Which nodes of a netlist one symbol stands for: those that one operator of the source made.

use crate::graph::BlockKind;
use crate::recognise::{self, Gate, Hint, MOST_INPUTS};
use base::{Id, Span};
use design::{BinaryOp, Design, ExprKind, Lit, Netlist, Node, NodeId, UnaryOp};
use std::collections::{BTreeMap, BTreeSet};

/// Bits up to which an operator on vectors is drawn as gates.
const MOST_GATES: usize = 8;

/// What the operators of a source are called, by where they stand.
pub(crate) struct Words {
    pub(crate) words: BTreeMap<Span, &'static str>,
    /// Places where one operation has several operators: gate primitives with more than two inputs.
    pub(crate) primitives: BTreeSet<Span>,
    /// Operations that are inverted where they stand, such as `~(a & b)` and a NAND.
    pub(crate) inverted: BTreeSet<Span>,
}

impl Words {
    pub(crate) fn new(design: &Design) -> Self {
        let (mut words, mut primitives, mut inverted) = (BTreeMap::new(), BTreeSet::new(), BTreeSet::new());
        for (_, expr) in design.exprs.iter() {
            if let ExprKind::Binary { left, .. } = expr.kind
                && design.exprs[left].span == expr.span
                && matches!(design.exprs[left].kind, ExprKind::Binary { .. })
            {
                primitives.insert(expr.span);
            }
            if let ExprKind::Unary(UnaryOp::Not | UnaryOp::LogicalNot, value) = expr.kind {
                inverted.insert(design.exprs[value].span);
            }
            if let Some(word) = word(&expr.kind) {
                // An operator whose operands were folded stands where it stood.
                match expr.kind {
                    ExprKind::Const(_) => *words.entry(expr.span).or_insert(word),
                    _ => words.insert(expr.span, word).unwrap_or(word),
                };
            }
        }
        Self { words, primitives, inverted }
    }

    pub(crate) fn of(&self, span: Option<Span>) -> Option<&'static str> {
        span.and_then(|s| self.words.get(&s)).copied()
    }

    pub(crate) fn hint(&self, span: Option<Span>) -> Hint {
        match self.of(span) {
            Some("&") => Hint::And,
            Some("|") => Hint::Or,
            _ => Hint::None,
        }
    }

    /// Is the first place the same operation within the second one?
    pub(crate) fn goes_on(&self, inner: Option<Span>, outer: Option<Span>) -> bool {
        let (Some(i), Some(o)) = (inner, outer) else { return false };
        let word = self.of(outer);
        let within =
            i.file == o.file && o.start <= i.start && i.end <= o.end && (i != o || self.primitives.contains(&o));
        within && word == self.of(inner) && matches!(word, Some("&" | "|" | "^"))
    }
}

pub(crate) fn word(kind: &ExprKind) -> Option<&'static str> {
    use BinaryOp as B;
    Some(match kind {
        ExprKind::Unary(UnaryOp::Neg, _) => "−",
        ExprKind::Unary(UnaryOp::ReduceOr | UnaryOp::LogicalNot, _) => "|",
        ExprKind::Unary(UnaryOp::ReduceAnd, _) => "&",
        ExprKind::Unary(UnaryOp::ReduceXor, _) => "^",
        ExprKind::Binary { op, .. } => match op {
            B::And => "&",
            B::Or => "|",
            B::Xor => "^",
            B::Add => "+",
            B::Sub => "−",
            B::Mul => "×",
            B::Div => "÷",
            B::Rem | B::Mod => "mod",
            B::Pow => "power",
            B::ShiftLeft => "shift left",
            B::ShiftRight | B::ShiftRightArithmetic => "shift right",
            B::Equal | B::SameLevels | B::Match => "=",
            B::NotEqual => "≠",
            B::Less => "<",
            B::LessEqual => "≤",
            B::Greater => ">",
            B::GreaterEqual => "≥",
        },
        // What a constant made is a choice of it.
        ExprKind::Select { .. } | ExprKind::Const(_) => "choice",
        ExprKind::Element { .. } => "[ ]",
        _ => return None,
    })
}

/// Joined nodes.
pub(crate) struct Groups {
    pub(crate) of: Vec<usize>,
    pub(crate) members: Vec<Vec<NodeId>>,
    /// Nodes that are read from outside of their group.
    pub(crate) read_outside: Vec<bool>,
}

impl Groups {
    /// Joins nodes of one step that read each other, as long as no symbol comes to feed itself through others.
    pub(crate) fn connected(net: &Netlist, cone: &[NodeId]) -> Self {
        let mut groups =
            Self { of: vec![usize::MAX; net.len()], members: Vec::new(), read_outside: vec![false; net.len()] };
        for id in cone {
            let Node::And(a, b) = net.node(*id) else { continue };
            let step = net.step(*id);
            let same = |l: Lit| {
                let group = groups.of[l.node().index()];
                (group != usize::MAX && step.is_some() && net.step(l.node()) == step).then_some(group)
            };
            let [one, other] = [same(a), same(b)];
            let sources = [a.node(), b.node()];
            let mut home = None;
            for group in [one, other].into_iter().flatten() {
                if home.is_none() && !groups.reaches(net, &sources, group, group) {
                    home = Some(group);
                }
            }
            let home = home.unwrap_or_else(|| {
                groups.members.push(Vec::new());
                groups.members.len() - 1
            });
            groups.of[id.index()] = home;
            groups.members[home].push(*id);
            for group in [one, other].into_iter().flatten() {
                if group != home && groups.may_join(net, home, group) {
                    groups.join(home, group);
                }
            }
        }
        groups
    }

    /// Groups of the nodes of a cone: a step is one symbol, or one for each bit where those are a few gates.
    pub(crate) fn new(net: &Netlist, cone: &[NodeId], roots: &[Lit], words: &Words) -> Self {
        let mut groups = Self::connected(net, cone);
        groups.find_read(net, cone);
        let mut steps: BTreeMap<u32, Vec<usize>> = BTreeMap::new();
        for (group, members) in groups.members.iter().enumerate() {
            if let Some(step) = members.first().and_then(|m| net.step(*m)) {
                steps.entry(step).or_default().push(group);
            }
        }
        for parts in steps.into_values().filter(|p| p.len() > 1) {
            let is_gate = |group: &usize| Part::new(net, &groups, *group, roots, words).gate.is_some();
            if parts.len() > MOST_GATES || !parts.iter().all(is_gate) {
                for group in &parts[1..] {
                    if groups.may_join(net, parts[0], *group) {
                        groups.join(parts[0], *group);
                    }
                }
            }
        }
        groups.find_read(net, cone);
        groups.chain(net, cone, roots, words);
        groups.find_read(net, cone);
        groups
    }

    /// Joins `a & b & c`, two operators of one expression, to one gate of three inputs; a gate primitive of three inputs
    /// is two operators at one place.
    pub(crate) fn chain(&mut self, net: &Netlist, cone: &[NodeId], roots: &[Lit], words: &Words) {
        let mut readers = vec![0u32; net.len()];
        for id in cone {
            if let Node::And(a, b) = net.node(*id) {
                readers[a.node().index()] += 1;
                readers[b.node().index()] += 1;
            }
        }
        roots.iter().for_each(|r| readers[r.node().index()] += 2);
        for id in cone {
            let Node::And(a, b) = net.node(*id) else { continue };
            for source in [a, b] {
                let (home, inner) = (self.of[id.index()], self.of[source.node().index()]);
                if inner == usize::MAX || inner == home || !words.goes_on(net.origin(source.node()), net.origin(*id)) {
                    continue;
                }
                // The whole gate is read by this one only: an exclusive OR by both of its nodes, with both levels.
                let is_parity = words.of(net.origin(*id)) == Some("^");
                let all: usize = self.members[inner].len() + self.members[home].len();
                let alone = readers[source.node().index()] == if is_parity { 2 } else { 1 };
                if !alone || (source.is_complement() && !is_parity) || (is_parity && all > 3 * (MOST_INPUTS - 1)) {
                    continue;
                }
                if self.may_join(net, home, inner) {
                    self.join(home, inner);
                }
            }
        }
    }

    /// Finds the nodes that are read from outside of their group.
    pub(crate) fn find_read(&mut self, net: &Netlist, cone: &[NodeId]) {
        self.read_outside.fill(false);
        for id in cone {
            if let Node::And(a, b) = net.node(*id) {
                for source in [a.node(), b.node()] {
                    self.read_outside[source.index()] |= self.of[source.index()] != self.of[id.index()];
                }
            }
        }
    }

    pub(crate) fn join(&mut self, home: usize, group: usize) {
        let moved = std::mem::take(&mut self.members[group]);
        for id in &moved {
            self.of[id.index()] = home;
        }
        self.members[home].extend(moved);
        self.members[home].sort_unstable();
    }

    pub(crate) fn may_join(&self, net: &Netlist, home: usize, group: usize) -> bool {
        let all: Vec<NodeId> = self.members[home].iter().chain(&self.members[group]).copied().collect();
        let around: Vec<NodeId> = self.sources(net, &all, &[home, group]);
        !self.reaches(net, &around, home, group)
    }

    /// Nodes outside that some nodes read.
    pub(crate) fn sources(&self, net: &Netlist, nodes: &[NodeId], inside: &[usize]) -> Vec<NodeId> {
        let mut list = Vec::new();
        for id in nodes {
            if let Node::And(a, b) = net.node(*id) {
                list.extend([a.node(), b.node()].into_iter().filter(|n| !inside.contains(&self.of[n.index()])));
            }
        }
        list
    }

    /// Do nodes outside of two groups depend on one of them?
    pub(crate) fn reaches(&self, net: &Netlist, from: &[NodeId], one: usize, other: usize) -> bool {
        let mut seen: BTreeSet<NodeId> = BTreeSet::new();
        let inside = |id: &NodeId| [one, other].contains(&self.of[id.index()]);
        let mut stack: Vec<NodeId> = from.iter().copied().filter(|id| !inside(id)).collect();
        while let Some(id) = stack.pop() {
            if !seen.insert(id) {
                continue;
            }
            let group = self.of[id.index()];
            let whole = if group == usize::MAX { vec![id] } else { self.members[group].clone() };
            for node in whole {
                seen.insert(node);
                if let Node::And(a, b) = net.node(node) {
                    for source in [a.node(), b.node()] {
                        if inside(&source) {
                            return true;
                        }
                        if self.of[source.index()] != group {
                            stack.push(source);
                        }
                    }
                }
            }
        }
        false
    }
}

/// What will be one symbol.
pub(crate) struct Part {
    pub(crate) origin: Option<Span>,
    /// Nodes that are read from outside.
    pub(crate) outputs: Vec<NodeId>,
    /// Nodes outside that are read.
    pub(crate) leaves: Vec<NodeId>,
    pub(crate) gate: Option<Found>,
}

impl Part {
    pub(crate) fn new(net: &Netlist, groups: &Groups, group: usize, roots: &[Lit], words: &Words) -> Self {
        let members = &groups.members[group];
        let origin = members.first().and_then(|m| net.origin(*m));
        let outputs: Vec<NodeId> = members
            .iter()
            .copied()
            .filter(|m| groups.read_outside[m.index()] || roots.iter().any(|r| r.node() == *m))
            .collect();
        let leaves: BTreeSet<NodeId> = groups.sources(net, members, &[group]).into_iter().collect();
        let leaves: Vec<NodeId> = leaves.into_iter().collect();
        let gate = match outputs[..] {
            [output] => gate_of(net, groups, output, &leaves, words.hint(origin)),
            _ => None,
        };
        Self { origin, outputs, leaves, gate }
    }
}

/// A gate with literals at its inputs; it gives the node.
pub(crate) struct Found {
    pub(crate) kind: BlockKind,
    pub(crate) inputs: Vec<Lit>,
    pub(crate) inverted: bool,
}

/// Literals that a node is the conjunction of, where its group is a tree of them.
pub(crate) fn conjunction(net: &Netlist, groups: &Groups, root: NodeId) -> Option<Vec<Lit>> {
    let home = groups.of[root.index()];
    let mut list = Vec::new();
    let mut stack = vec![Lit::new(root, false)];
    let mut steps = 0;
    while let Some(lit) = stack.pop() {
        steps += 1;
        match net.node(lit.node()) {
            Node::And(a, b) if groups.of[lit.node().index()] == home => {
                if lit.is_complement() || steps > 200 {
                    return None;
                }
                stack.extend([b, a]);
            }
            _ => list.push(lit),
        }
    }
    Some(list)
}

pub(crate) fn gate_of(net: &Netlist, groups: &Groups, output: NodeId, leaves: &[NodeId], hint: Hint) -> Option<Found> {
    if let Some(inputs) = conjunction(net, groups, output) {
        let bubbles = inputs.iter().filter(|l| l.is_complement()).count();
        let as_or = hint == Hint::Or || (hint == Hint::None && 2 * bubbles > inputs.len() + 1);
        return Some(if as_or {
            Found { kind: BlockKind::Or, inputs: inputs.iter().map(|l| !*l).collect(), inverted: true }
        } else {
            Found { kind: BlockKind::And, inputs, inverted: false }
        });
    }
    if leaves.len() > MOST_INPUTS {
        return None;
    }
    let truth = truth(net, output, leaves);
    let Gate { kind, inputs, inverted } = recognise::gate(truth, leaves.len(), hint)?;
    let inputs = inputs.into_iter().map(|(k, bubble)| Lit::new(leaves[k], bubble)).collect();
    Some(Found { kind, inputs, inverted })
}

/// The function of a node over others: bit `i` for levels that read `i`, the first one least significant.
pub(crate) fn truth(net: &Netlist, output: NodeId, leaves: &[NodeId]) -> u64 {
    let mut values: BTreeMap<NodeId, u64> = BTreeMap::new();
    values.insert(Lit::FALSE.node(), 0);
    for (k, leaf) in leaves.iter().enumerate() {
        let pattern = (0..64u64).fold(0, |word, row| word | (row >> k & 1) << row);
        values.insert(*leaf, pattern);
    }
    let mut stack = vec![output];
    while let Some(id) = stack.pop() {
        if values.contains_key(&id) {
            continue;
        }
        let Node::And(a, b) = net.node(id) else {
            values.insert(id, 0);
            continue;
        };
        let of = |l: Lit, values: &BTreeMap<NodeId, u64>| {
            values.get(&l.node()).map(|v| if l.is_complement() { !v } else { *v })
        };
        match (of(a, &values), of(b, &values)) {
            (Some(a), Some(b)) => {
                values.insert(id, a & b);
            }
            _ => stack.extend([id, a.node(), b.node()]),
        }
    }
    values.get(&output).copied().unwrap_or(0)
}
