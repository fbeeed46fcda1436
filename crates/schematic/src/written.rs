//! The drawing as written: the nodes that one operator of the source made become one symbol (see [`Netlist::as_written`]).

use crate::graph::{BlockKind, End, Graph, MOST_BLOCKS, Symbol, TooLarge};
use crate::recognise::{self, Gate, Hint, MOST_INPUTS};
use base::{Id, Span};
use design::{BinaryOp, Design, ExprKind, Lit, Netlist, Node, NodeId, Register, UnaryOp};
use std::collections::{BTreeMap, BTreeSet};

/// The largest netlist whose nodes are joined to symbols.
pub const MOST_NODES: usize = 6_000;
/// Bits up to which an operator on vectors is drawn as gates.
const MOST_GATES: usize = 8;

/// What the operators of a source are called, by where they stand.
struct Words {
    words: BTreeMap<Span, &'static str>,
    /// Places where one operation has several operators: gate primitives with more than two inputs.
    primitives: BTreeSet<Span>,
    /// Operations that are inverted where they stand, such as `~(a & b)` and a NAND.
    inverted: BTreeSet<Span>,
}

impl Words {
    fn new(design: &Design) -> Self {
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

    fn of(&self, span: Option<Span>) -> Option<&'static str> {
        span.and_then(|s| self.words.get(&s)).copied()
    }

    fn hint(&self, span: Option<Span>) -> Hint {
        match self.of(span) {
            Some("&") => Hint::And,
            Some("|") => Hint::Or,
            _ => Hint::None,
        }
    }

    /// Is the first place the same operation within the second one?
    fn goes_on(&self, inner: Option<Span>, outer: Option<Span>) -> bool {
        let (Some(i), Some(o)) = (inner, outer) else { return false };
        let word = self.of(outer);
        let within =
            i.file == o.file && o.start <= i.start && i.end <= o.end && (i != o || self.primitives.contains(&o));
        within && word == self.of(inner) && matches!(word, Some("&" | "|" | "^"))
    }
}

fn word(kind: &ExprKind) -> Option<&'static str> {
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
struct Groups {
    of: Vec<usize>,
    members: Vec<Vec<NodeId>>,
    /// Nodes that are read from outside of their group.
    read_outside: Vec<bool>,
}

impl Groups {
    /// Joins nodes of one step that read each other, as long as no symbol comes to feed itself through others.
    fn connected(net: &Netlist, cone: &[NodeId]) -> Self {
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
    fn new(net: &Netlist, cone: &[NodeId], roots: &[Lit], words: &Words) -> Self {
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
    fn chain(&mut self, net: &Netlist, cone: &[NodeId], roots: &[Lit], words: &Words) {
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
    fn find_read(&mut self, net: &Netlist, cone: &[NodeId]) {
        self.read_outside.fill(false);
        for id in cone {
            if let Node::And(a, b) = net.node(*id) {
                for source in [a.node(), b.node()] {
                    self.read_outside[source.index()] |= self.of[source.index()] != self.of[id.index()];
                }
            }
        }
    }

    fn join(&mut self, home: usize, group: usize) {
        let moved = std::mem::take(&mut self.members[group]);
        for id in &moved {
            self.of[id.index()] = home;
        }
        self.members[home].extend(moved);
        self.members[home].sort_unstable();
    }

    fn may_join(&self, net: &Netlist, home: usize, group: usize) -> bool {
        let all: Vec<NodeId> = self.members[home].iter().chain(&self.members[group]).copied().collect();
        let around: Vec<NodeId> = self.sources(net, &all, &[home, group]);
        !self.reaches(net, &around, home, group)
    }

    /// Nodes outside that some nodes read.
    fn sources(&self, net: &Netlist, nodes: &[NodeId], inside: &[usize]) -> Vec<NodeId> {
        let mut list = Vec::new();
        for id in nodes {
            if let Node::And(a, b) = net.node(*id) {
                list.extend([a.node(), b.node()].into_iter().filter(|n| !inside.contains(&self.of[n.index()])));
            }
        }
        list
    }

    /// Do nodes outside of two groups depend on one of them?
    fn reaches(&self, net: &Netlist, from: &[NodeId], one: usize, other: usize) -> bool {
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

/// What is drawn: bits by their number among the netlist's outputs and registers.
struct Roots {
    outputs: Vec<usize>,
    registers: Vec<usize>,
}

impl Roots {
    fn new(net: &Netlist, only: Option<usize>) -> Self {
        match only {
            Some(output) => Self { outputs: vec![output], registers: Vec::new() },
            None => Self { outputs: (0..net.outputs.len()).collect(), registers: (0..net.registers.len()).collect() },
        }
    }

    /// What each reads.
    fn lits(&self, net: &Netlist) -> Vec<Lit> {
        let outputs = self.outputs.iter().filter_map(|k| Some(net.outputs.get(*k)?.value));
        let registers = self.registers.iter().filter_map(|k| net.registers.get(*k));
        let registers = registers.flat_map(|r| {
            let controls = r.controls.iter().map(|c| c.condition);
            [r.next, r.clock].into_iter().chain(controls)
        });
        outputs.chain(registers).collect()
    }
}

/// What writing a graph down needs to know.
pub(crate) struct Writer<'n> {
    net: &'n Netlist,
    roots: Roots,
    pub(crate) graph: Graph,
    /// The literal that the wire of a node carries, for nodes that have one.
    carried: BTreeMap<NodeId, Lit>,
    /// Wires behind an inverter of their own.
    inverters: BTreeMap<usize, usize>,
}

impl<'n> Writer<'n> {
    /// The symbols at the left edge.
    pub(crate) fn new(net: &'n Netlist, only: Option<usize>) -> Self {
        let roots = Roots::new(net, only);
        let mut writer =
            Self { net, roots, graph: Graph::default(), carried: BTreeMap::new(), inverters: BTreeMap::new() };
        let cone: BTreeSet<NodeId> = net.cone(&writer.roots.lits(net)).into_iter().collect();
        for bit in &net.inputs {
            if only.is_none() || cone.contains(&bit.value.node()) {
                let width = net.inputs.iter().filter(|i| i.port == bit.port).count();
                writer.source(BlockKind::Input, bit_name(&bit.port, bit.position, width), bit.value);
            }
        }
        for register in &net.registers {
            if only.is_none() || cone.contains(&register.value.node()) {
                writer.source(BlockKind::Stored, stored_name(net, register), register.value);
            }
        }
        writer
    }

    fn source(&mut self, kind: BlockKind, label: String, lit: Lit) {
        let wire = self.graph.wire(lit);
        self.carried.insert(lit.node(), lit);
        self.symbol(kind, label, Vec::new(), vec![wire]);
    }

    /// The wire of a constant level, from a symbol of its own for each reader: a constant needs no way through a drawing.
    fn constant(&mut self, lit: Lit) -> usize {
        self.graph.wires.push(lit);
        let wire = self.graph.wires.len() - 1;
        let label = if lit == Lit::TRUE { "1" } else { "0" };
        self.symbol(BlockKind::Constant, label.into(), Vec::new(), vec![wire]);
        wire
    }

    fn symbol(&mut self, kind: BlockKind, label: String, inputs: Vec<End>, outputs: Vec<usize>) {
        let outputs = outputs.into_iter().map(|wire| End { wire, inverted: false, name: String::new() });
        self.graph.symbols.push(Symbol { kind, label, span: None, truth: None, inputs, outputs: outputs.collect() });
    }

    /// Says which literal the wire of a node carries.
    pub(crate) fn carries(&mut self, lit: Lit) -> usize {
        self.carried.insert(lit.node(), lit);
        self.graph.wire(lit)
    }

    /// A wire for a literal whose node has one that carries the complement.
    pub(crate) fn inverts(&mut self, lit: Lit) -> usize {
        let (wire, inverted) = self.reads(lit);
        if !inverted {
            return wire;
        }
        let behind = self.graph.wire(lit);
        self.inverters.insert(wire, behind);
        behind
    }

    /// The wire of a literal's node, and whether the literal is its complement.
    pub(crate) fn reads(&mut self, lit: Lit) -> (usize, bool) {
        let carried = self.carried.get(&lit.node()).copied().unwrap_or(Lit::new(lit.node(), false));
        (self.graph.wire(carried), carried != lit)
    }

    /// A wire that carries a literal itself, behind an inverter where there is none.
    fn exactly(&mut self, lit: Lit) -> usize {
        if lit.is_const() {
            return self.constant(lit);
        }
        let (wire, inverted) = self.reads(lit);
        if !inverted {
            return wire;
        }
        if let Some(known) = self.inverters.get(&wire) {
            return *known;
        }
        let behind = self.inverts(lit);
        self.symbol(
            BlockKind::Not,
            String::new(),
            vec![End { wire, inverted: false, name: String::new() }],
            vec![behind],
        );
        if let Some(symbol) = self.graph.symbols.last_mut() {
            // The bubble of an inverter stands at its output.
            symbol.outputs[0].inverted = true;
        }
        behind
    }

    /// The symbol of some flip-flops that one clock moves.
    fn flip_flops(&mut self, bits: &[&Register]) {
        let [first, ..] = bits else { return };
        let mut inputs = Vec::new();
        let mut end = |writer: &mut Self, lit: Lit, name: String| {
            let (wire, inverted) = if lit.is_const() { (writer.constant(lit), false) } else { writer.reads(lit) };
            inputs.push(End { wire, inverted, name });
        };
        for bit in bits {
            let name = if bits.len() == 1 { "D".into() } else { format!("D{}", bit.position) };
            end(self, bit.next, name);
        }
        end(self, if first.rising { first.clock } else { !first.clock }, "clk".into());
        for (k, control) in first.controls.iter().enumerate() {
            let values: Vec<Option<Lit>> = bits.iter().map(|b| b.controls.get(k).map(|c| c.value)).collect();
            let all = |value: Lit| values.iter().all(|v| *v == Some(value));
            let name = if all(Lit::TRUE) {
                "set"
            } else if all(Lit::FALSE) {
                "clear"
            } else {
                "load"
            };
            end(self, control.condition, name.into());
        }
        let label = match bits {
            [one] => stored_name(self.net, one),
            _ => short_name(&first.name).to_owned(),
        };
        self.symbol(BlockKind::FlipFlop, label, inputs, Vec::new());
        if let Some(symbol) = self.graph.symbols.last_mut() {
            symbol.span = Some(first.span);
        }
    }

    /// The symbols at the right edge.
    pub(crate) fn finish(mut self) -> Result<Graph, TooLarge> {
        for k in std::mem::take(&mut self.roots.outputs) {
            let Some(bit) = self.net.outputs.get(k) else { continue };
            let wire = self.exactly(bit.value);
            let width = self.net.outputs.iter().filter(|o| o.port == bit.port).count();
            let label = bit_name(&bit.port, bit.position, width);
            self.symbol(BlockKind::Output, label, vec![End { wire, inverted: false, name: String::new() }], Vec::new());
        }
        let registers: Vec<&Register> =
            self.roots.registers.iter().filter_map(|k| self.net.registers.get(*k)).collect();
        let mut done = vec![false; registers.len()];
        for first in 0..registers.len() {
            if !done[first] {
                // Bits of one register are one symbol, as long as the same clock and controls move them.
                let together = |r: &Register| is_together(registers[first], r);
                let bits: Vec<usize> = (first..registers.len()).filter(|k| together(registers[*k])).collect();
                bits.iter().for_each(|k| done[*k] = true);
                let bits: Vec<&Register> = bits.into_iter().map(|k| registers[k]).collect();
                self.flip_flops(&bits);
            }
        }
        match self.graph.symbols.len() {
            n if n > MOST_BLOCKS => Err(TooLarge { blocks: n }),
            _ => Ok(self.graph),
        }
    }
}

/// Are two bits moved by the same clock and the same controls?
fn is_together(one: &Register, other: &Register) -> bool {
    let conditions = |r: &Register| r.controls.iter().map(|c| c.condition).collect::<Vec<_>>();
    let same = (&one.name, one.clock, one.rising) == (&other.name, other.clock, other.rising);
    same && conditions(one) == conditions(other)
}

fn bit_name(port: &str, position: u32, width: usize) -> String {
    if width > 1 { format!("{port}[{position}]") } else { port.to_owned() }
}

fn stored_name(net: &Netlist, register: &Register) -> String {
    let width = net.registers.iter().filter(|r| r.name == register.name).count();
    bit_name(short_name(&register.name), register.position, width)
}

/// The name of a register without the way through the hierarchy.
fn short_name(name: &str) -> &str {
    name.rsplit('.').next().unwrap_or(name)
}

/// The drawing of a netlist as its source has it; of one output bit only, by its number, or of everything. `text` says
/// how a place of the source reads, for symbols that are no gates.
///
/// # Errors
/// When there are more symbols than a drawing holds.
pub fn written(
    net: &Netlist,
    design: &Design,
    only: Option<usize>,
    text: impl Fn(Span) -> String,
) -> Result<Graph, TooLarge> {
    let mut writer = Writer::new(net, only);
    let roots = writer.roots.lits(net);
    let cone = net.cone(&roots);
    if cone.len() > MOST_NODES {
        return Err(TooLarge { blocks: cone.len() });
    }
    let words = Words::new(design);
    let groups = Groups::new(net, &cone, &roots, &words);
    // What each group is, before it is settled which literals its readers want.
    let order = order(net, &groups, &roots);
    let parts: Vec<Part> = order.iter().map(|group| Part::new(net, &groups, *group, &roots, &words)).collect();
    let uses = Uses::new(net, &parts, &roots, &words);
    for part in parts {
        if let (Some(found), [output]) = (&part.gate, part.outputs.as_slice()) {
            place_gate(&mut writer, &uses, *output, found, part.origin);
            continue;
        }
        let label = |s: Span| words.words.get(&s).map_or_else(|| text(s), |w| (*w).into());
        let label = part.origin.map_or_else(String::new, label);
        place_function(&mut writer, (net, &uses), &part.outputs, &part.leaves, (label, part.origin));
    }
    writer.finish()
}

/// What will be one symbol.
struct Part {
    origin: Option<Span>,
    /// Nodes that are read from outside.
    outputs: Vec<NodeId>,
    /// Nodes outside that are read.
    leaves: Vec<NodeId>,
    gate: Option<Found>,
}

impl Part {
    fn new(net: &Netlist, groups: &Groups, group: usize, roots: &[Lit], words: &Words) -> Self {
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

/// How much each literal of a node is wanted by those that read it.
struct Uses {
    plain: Vec<u32>,
    complement: Vec<u32>,
}

impl Uses {
    fn new(net: &Netlist, parts: &[Part], roots: &[Lit], words: &Words) -> Self {
        let mut uses = Self { plain: vec![0; net.len()], complement: vec![0; net.len()] };
        for part in parts {
            let Some(gate) = &part.gate else { continue };
            // A gate that was written is drawn as it was, others without a bubble where nothing else counts.
            if let [output] = part.outputs[..] {
                let turned = part.origin.is_some_and(|s| words.inverted.contains(&s));
                let written = matches!(words.of(part.origin), Some("&" | "|" | "^"));
                let (bubble, weight) = if written { (turned, 1_000) } else { (false, 1) };
                uses.count(Lit::new(output, gate.inverted != bubble), weight);
            }
            // Gates that take both levels alike want neither.
            if matches!(gate.kind, BlockKind::And | BlockKind::Or | BlockKind::Not) {
                gate.inputs.iter().for_each(|lit| uses.count(*lit, 2));
            }
        }
        // An inverter in front of an output is a symbol, at a gate it is a bubble.
        roots.iter().for_each(|root| uses.count(*root, 6));
        uses
    }

    fn count(&mut self, lit: Lit, by: u32) {
        let list = if lit.is_complement() { &mut self.complement } else { &mut self.plain };
        list[lit.node().index()] += by;
    }

    /// The literal that most readers want.
    fn wanted(&self, id: NodeId) -> Lit {
        Lit::new(id, self.complement[id.index()] > self.plain[id.index()])
    }
}

/// Groups that the roots depend on, each behind those that it reads.
fn order(net: &Netlist, groups: &Groups, roots: &[Lit]) -> Vec<usize> {
    let mut list = Vec::new();
    let mut state = vec![0u8; groups.members.len()];
    let group_of = |id: NodeId| Some(groups.of[id.index()]).filter(|g| *g != usize::MAX);
    let mut stack: Vec<usize> = roots.iter().rev().filter_map(|l| group_of(l.node())).collect();
    while let Some(group) = stack.pop() {
        match state[group] {
            0 => {
                state[group] = 1;
                stack.push(group);
                let sources = groups.sources(net, &groups.members[group], &[group]);
                stack.extend(sources.into_iter().rev().filter_map(group_of).filter(|g| state[*g] == 0));
            }
            1 => {
                state[group] = 2;
                list.push(group);
            }
            _ => {}
        }
    }
    list
}

/// A gate with literals at its inputs; it gives the node.
struct Found {
    kind: BlockKind,
    inputs: Vec<Lit>,
    inverted: bool,
}

/// Literals that a node is the conjunction of, where its group is a tree of them.
fn conjunction(net: &Netlist, groups: &Groups, root: NodeId) -> Option<Vec<Lit>> {
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

fn gate_of(net: &Netlist, groups: &Groups, output: NodeId, leaves: &[NodeId], hint: Hint) -> Option<Found> {
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
fn truth(net: &Netlist, output: NodeId, leaves: &[NodeId]) -> u64 {
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

fn place_gate(writer: &mut Writer<'_>, uses: &Uses, output: NodeId, found: &Found, span: Option<Span>) {
    let wanted = uses.wanted(output);
    let inputs = found.inputs.iter().map(|lit| {
        let (wire, inverted) = writer.reads(*lit);
        End { wire, inverted, name: String::new() }
    });
    let mut inputs: Vec<End> = inputs.collect();
    if found.kind == BlockKind::Choice {
        for (end, name) in inputs.iter_mut().zip(["", "1", "0"]) {
            end.name = name.into();
        }
    }
    let wire = writer.carries(wanted);
    let mut inverted = found.inverted != wanted.is_complement();
    if found.kind == BlockKind::Xor {
        // Bubbles of an exclusive OR cancel each other.
        inverted ^= inputs.iter().filter(|e| e.inverted).count() % 2 == 1;
        inputs.iter_mut().for_each(|e| e.inverted = false);
    }
    if found.kind == BlockKind::Choice {
        // The complement of a choice is the choice of the complements, and one bubble is better than two.
        let data = inputs.iter().skip(1).filter(|e| e.inverted).count() + usize::from(inverted);
        if data > 1 || inverted {
            inputs.iter_mut().skip(1).for_each(|e| e.inverted = !e.inverted);
            inverted = !inverted;
        }
    }
    let outputs = vec![End { wire, inverted, name: String::new() }];
    let label = String::new();
    writer.graph.symbols.push(Symbol { kind: found.kind, label, span, truth: None, inputs, outputs });
}

fn place_function(
    writer: &mut Writer<'_>,
    (net, uses): (&Netlist, &Uses),
    given: &[NodeId],
    leaves: &[NodeId],
    (label, span): (String, Option<Span>),
) {
    let plain = |wire| End { wire, inverted: false, name: String::new() };
    let reads: Vec<(usize, bool)> = leaves.iter().map(|leaf| writer.reads(Lit::new(*leaf, false))).collect();
    let inputs = reads.iter().map(|(wire, _)| plain(*wire)).collect();
    let mut table = None;
    if let ([output], true) = (given, leaves.len() <= MOST_INPUTS) {
        let word = truth(net, *output, leaves);
        let wanted = uses.wanted(*output).is_complement();
        let n = leaves.len();
        // Rows count from the first input down; a wire that carries the complement is read as it is.
        let row = |row: usize| {
            let at = (0..n).fold(0, |at, k| at | usize::from((row >> (n - 1 - k) & 1 == 1) != reads[k].1) << k);
            (word >> at & 1 == 1) != wanted
        };
        table = Some((0..1usize << n).map(row).collect());
    }
    let outputs = given.iter().map(|id| plain(writer.carries(uses.wanted(*id)))).collect();
    writer.graph.symbols.push(Symbol { kind: BlockKind::Function, label, span, truth: table, inputs, outputs });
}
