//! Symbols and the wires between them, as a graph is written.

use crate::graph::{BlockKind, End, Graph, MOST_BLOCKS, Symbol, TooLarge};
use design::{Lit, Netlist, NodeId, Register};
use std::collections::{BTreeMap, BTreeSet};

/// What is drawn: bits by their number among the netlist's outputs and registers.
pub(crate) struct Roots {
    pub(crate) outputs: Vec<usize>,
    pub(crate) registers: Vec<usize>,
}

impl Roots {
    pub(crate) fn new(net: &Netlist, only: Option<usize>) -> Self {
        match only {
            Some(output) => Self { outputs: vec![output], registers: Vec::new() },
            None => Self { outputs: (0..net.outputs.len()).collect(), registers: (0..net.registers.len()).collect() },
        }
    }

    /// What each reads.
    pub(crate) fn lits(&self, net: &Netlist) -> Vec<Lit> {
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
    pub(crate) net: &'n Netlist,
    pub(crate) roots: Roots,
    pub(crate) graph: Graph,
    /// The literal that the wire of a node carries, for nodes that have one.
    pub(crate) carried: BTreeMap<NodeId, Lit>,
    /// Wires behind an inverter of their own.
    pub(crate) inverters: BTreeMap<usize, usize>,
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

    pub(crate) fn source(&mut self, kind: BlockKind, label: String, lit: Lit) {
        let wire = self.graph.wire(lit);
        self.carried.insert(lit.node(), lit);
        self.symbol(kind, label, Vec::new(), vec![wire]);
    }

    /// The wire of a constant level, from a symbol of its own for each reader: a constant needs no way through a drawing.
    pub(crate) fn constant(&mut self, lit: Lit) -> usize {
        self.graph.wires.push(lit);
        let wire = self.graph.wires.len() - 1;
        let label = if lit == Lit::TRUE { "1" } else { "0" };
        self.symbol(BlockKind::Constant, label.into(), Vec::new(), vec![wire]);
        wire
    }

    pub(crate) fn symbol(&mut self, kind: BlockKind, label: String, inputs: Vec<End>, outputs: Vec<usize>) {
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
    pub(crate) fn exactly(&mut self, lit: Lit) -> usize {
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
    pub(crate) fn flip_flops(&mut self, bits: &[&Register]) {
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
pub(crate) fn is_together(one: &Register, other: &Register) -> bool {
    let conditions = |r: &Register| r.controls.iter().map(|c| c.condition).collect::<Vec<_>>();
    let same = (&one.name, one.clock, one.rising) == (&other.name, other.clock, other.rising);
    same && conditions(one) == conditions(other)
}

pub(crate) fn bit_name(port: &str, position: u32, width: usize) -> String {
    if width > 1 { format!("{port}[{position}]") } else { port.to_owned() }
}

pub(crate) fn stored_name(net: &Netlist, register: &Register) -> String {
    let width = net.registers.iter().filter(|r| r.name == register.name).count();
    bit_name(short_name(&register.name), register.position, width)
}

/// The name of a register without the way through the hierarchy.
pub(crate) fn short_name(name: &str) -> &str {
    name.rsplit('.').next().unwrap_or(name)
}
