//! From processes to the bit-level netlist: each process becomes logic over the signals it reads, then drivers are
//! joined from the outputs back to the inputs.
//!
//! Combinational designs only so far: a block that waits for an edge is told as such.

mod diagnostics;
mod exec;
mod reads;
mod word;

use crate::model::{Design, Direction, NetKind, SignalId, SignalKind};
use crate::netlist::{InputBit, Lit, Netlist, Node, NodeId, OutputBit};
use crate::process::{Edge, Process, ProcessKind, Sensitivity, Storage};
use base::{Budget, Diagnostic, Exhausted, Id, Span};
use diagnostics as say;
use exec::{Executor, Halt, SignalReads, Slot, Slots};
use std::collections::{BTreeMap, BTreeSet};
use word::Bit;

/// A netlist and what was found on the way.
#[derive(Clone, Debug)]
pub struct Synthesis {
    /// Input and output bits of the top and the logic between them; empty after a finding that stops.
    pub netlist: Netlist,
    /// Latches, loops, drivers and the like.
    pub diagnostics: Vec<Diagnostic>,
}

/// What drives a slot.
struct Driver {
    bit: Bit,
    span: Span,
    /// From an initial block: counts only when nothing else drives.
    initial: bool,
}

/// Turns a validated design into its netlist.
pub fn synthesise(design: &Design, budget: &mut Budget) -> Synthesis {
    let mut diagnostics = Vec::new();
    let top = design.scopes[design.top].span;
    match Pass::new(design, budget).and_then(|mut pass| pass.run(&mut diagnostics)) {
        Ok(netlist) if diagnostics.iter().all(|d| !d.stops()) => Synthesis { netlist, diagnostics },
        Ok(_) => Synthesis { netlist: Netlist::new(), diagnostics },
        Err(exhausted) => {
            diagnostics.push(say::budget_exhausted(exhausted, top));
            Synthesis { netlist: Netlist::new(), diagnostics }
        }
    }
}

struct Pass<'a> {
    design: &'a Design,
    budget: &'a mut Budget,
    slots: Slots,
    local: Netlist,
    reads: SignalReads,
    drivers: BTreeMap<Slot, Vec<Driver>>,
    /// Signals that keep their level on some path, with the place that forgets them.
    latched: BTreeMap<SignalId, Span>,
    slot_signal: Vec<SignalId>,
}

impl<'a> Pass<'a> {
    fn new(design: &'a Design, budget: &'a mut Budget) -> Result<Self, Exhausted> {
        let slots = Slots::new(design, budget)?;
        let mut slot_signal = Vec::new();
        for signal in design.signals.ids() {
            slot_signal.extend(std::iter::repeat_n(signal, design.signal_width(signal) as usize));
        }
        Ok(Self {
            design,
            budget,
            slots,
            local: Netlist::new(),
            reads: SignalReads::default(),
            drivers: BTreeMap::new(),
            latched: BTreeMap::new(),
            slot_signal,
        })
    }

    fn run(&mut self, diagnostics: &mut Vec<Diagnostic>) -> Result<Netlist, Exhausted> {
        for (_, process) in self.design.processes.iter() {
            self.process(process, diagnostics)?;
        }
        if diagnostics.iter().any(Diagnostic::stops) {
            return Ok(Netlist::new());
        }
        self.lint_drivers(diagnostics);
        let mut join = Join::new(self);
        join.run(diagnostics)?;
        Ok(join.done)
    }

    fn process(&mut self, process: &Process, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
        match &process.sensitivity {
            Sensitivity::Events(events) | Sensitivity::StartAndEvents(events)
                if events.iter().any(|e| e.edge != Edge::Any) =>
            {
                diagnostics.push(say::edge_in_combinational(process.span));
                return Ok(());
            }
            Sensitivity::Forever => {
                diagnostics.push(say::simulation_only("A block without an event to wait for", process.span));
                return Ok(());
            }
            _ => {}
        }
        let executor =
            Executor::new(self.design, &mut self.local, self.budget, &self.slots, diagnostics, &mut self.reads);
        let cells = match executor.run(&process.body) {
            Ok(cells) => cells,
            Err(Halt::Budget(exhausted)) => return Err(exhausted),
            Err(Halt::Reported) => return Ok(()),
        };
        if let Sensitivity::Events(events) | Sensitivity::StartAndEvents(events) = &process.sensitivity {
            let missing = reads::missing_from_list(self.design, process, events);
            if !missing.is_empty() {
                diagnostics.push(say::incomplete_sensitivity(&missing, process.span));
            }
        }
        let initial = process.sensitivity == Sensitivity::Start;
        for (slot, cell, forgetting) in cells {
            let mut bit = cell.bit;
            if cell.hold != Lit::FALSE && !initial {
                let signal = self.slot_signal[slot as usize];
                let hold = self.without_unknowns(cell.hold);
                if process.kind != ProcessKind::Latch && self.local.is_never_true(hold) != Some(true) {
                    self.latched.entry(signal).or_insert(forgetting.unwrap_or(process.span));
                }
                // What a latch holds is unknown to a check that looks at rows one by one.
                bit = self.local.choose(cell.hold, Bit::X, bit);
            }
            self.drivers.entry(slot).or_default().push(Driver { bit, span: process.span, initial });
        }
        Ok(())
    }

    /// The literal with all signals read as known and driven: a latch that only an unknown level could open is none.
    fn without_unknowns(&mut self, lit: Lit) -> Lit {
        let cone = self.local.cone(&[lit]);
        let mut map: BTreeMap<NodeId, Lit> = BTreeMap::new();
        for id in cone {
            let new = match self.local.node(id) {
                Node::False => Lit::FALSE,
                Node::Input(k) if self.reads.inputs[k as usize].1 != 0 => Lit::FALSE,
                Node::Input(_) => Lit::new(id, false),
                Node::And(a, b) => {
                    let pick = |l: Lit, map: &BTreeMap<NodeId, Lit>| {
                        let base = map.get(&l.node()).copied().unwrap_or(Lit::FALSE);
                        if l.is_complement() { !base } else { base }
                    };
                    let (a, b) = (pick(a, &map), pick(b, &map));
                    self.local.and(a, b)
                }
            };
            map.insert(id, new);
        }
        let base = map.get(&lit.node()).copied().unwrap_or(Lit::FALSE);
        if lit.is_complement() { !base } else { base }
    }

    /// Signals whose level matters: read by a process before it assigned them itself, or a port of the top.
    fn observed(&self) -> BTreeSet<SignalId> {
        let read = self.reads.inputs.iter().map(|(slot, _)| self.slot_signal[*slot as usize]);
        read.chain(self.design.scopes[self.design.top].ports.iter().map(|p| p.signal)).collect()
    }

    fn lint_drivers(&mut self, diagnostics: &mut Vec<Diagnostic>) {
        let observed = self.observed();
        for (signal, span) in &self.latched {
            if observed.contains(signal) {
                diagnostics.push(say::inferred_latch(&self.design.signal_path(*signal), *span));
            }
        }
        for drivers in self.drivers.values_mut() {
            if drivers.iter().any(|d| !d.initial) {
                drivers.retain(|d| !d.initial);
            }
        }
        self.lint_ports(diagnostics);
    }

    fn lint_ports(&self, diagnostics: &mut Vec<Diagnostic>) {
        let read: BTreeSet<SignalId> =
            self.reads.inputs.iter().map(|(slot, _)| self.slot_signal[*slot as usize]).collect();
        let top = &self.design.scopes[self.design.top];
        for port in &top.ports {
            let name = &self.design.signals[port.signal].name;
            match port.direction {
                Direction::In if !read.contains(&port.signal) => diagnostics.push(say::unread_input(name, port.span)),
                Direction::Out => {
                    let first = self.slots.of(Storage::Signal(port.signal));
                    let shape = self.design.signal_shape(port.signal);
                    let bare: Vec<u32> =
                        (0..shape.width()).filter(|i| !self.drivers.contains_key(&(first + i))).collect();
                    let names: Vec<String> = match bare.len() {
                        n if n == shape.width() as usize => vec![name.clone()],
                        _ => bare.iter().map(|i| shape.bit_name(name, *i)).collect(),
                    };
                    diagnostics.extend(names.iter().map(|n| say::undriven_output(n, port.span)));
                }
                _ => {}
            }
        }
        for signal in read {
            let item = &self.design.signals[signal];
            let is_input = top.ports.iter().any(|p| p.signal == signal && p.direction != Direction::Out);
            let is_output = top.ports.iter().any(|p| p.signal == signal && p.direction == Direction::Out);
            let first = self.slots.of(Storage::Signal(signal));
            let driven = (first..first + self.design.signal_width(signal)).any(|s| self.drivers.contains_key(&s));
            let supply = matches!(item.kind, SignalKind::Net(NetKind::Supply0 | NetKind::Supply1));
            if !is_input && !is_output && !driven && !supply && item.initial.is_none() {
                diagnostics.push(say::undriven_signal(&self.design.signal_path(signal), item.span));
            }
        }
    }
}

/// Joins drivers into one graph over the top's inputs, depth first with a stack of its own.
struct Join<'p, 'a> {
    pass: &'p Pass<'a>,
    done: Netlist,
    nodes: Vec<Option<Lit>>,
    slots: BTreeMap<Slot, Bit>,
    open: Vec<Slot>,
    looped: BTreeSet<Slot>,
    /// Signals whose drivers were told to fight.
    fought: BTreeSet<SignalId>,
}

enum Work {
    Node(NodeId),
    Combine(NodeId),
    Slot(Slot),
    CloseSlot(Slot),
}

impl<'p, 'a> Join<'p, 'a> {
    fn new(pass: &'p Pass<'a>) -> Self {
        Self {
            pass,
            done: Netlist::new(),
            nodes: vec![None; pass.local.len()],
            slots: BTreeMap::new(),
            open: Vec::new(),
            looped: BTreeSet::new(),
            fought: BTreeSet::new(),
        }
    }

    fn run(&mut self, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
        let design = self.pass.design;
        let top = &design.scopes[design.top];
        let port_slots = |signal: SignalId| {
            let first = self.pass.slots.of(Storage::Signal(signal));
            let width = design.signal_width(signal);
            (0..width).rev().map(move |position| (first + position, position))
        };
        for port in top.ports.iter().filter(|p| p.direction != Direction::Out) {
            for (slot, position) in port_slots(port.signal) {
                self.done.set_origin(Some(port.span));
                let value = self.done.add_input();
                let name = design.signals[port.signal].name.clone();
                self.done.inputs.push(InputBit { port: name, position, value });
                self.slots.insert(slot, Bit::known(value));
            }
        }
        let mut outputs = Vec::new();
        for port in top.ports.iter().filter(|p| p.direction == Direction::Out) {
            for (slot, position) in port_slots(port.signal) {
                self.resolve(slot, diagnostics)?;
                let bit = self.slots.get(&slot).copied().unwrap_or(Bit::X);
                let unknown = self.done.or(bit.unknown, bit.floating);
                outputs.push(OutputBit {
                    port: design.signals[port.signal].name.clone(),
                    position,
                    value: bit.value,
                    unknown,
                    floating: bit.floating,
                });
            }
        }
        self.done.outputs = outputs;
        Ok(())
    }

    fn resolve(&mut self, slot: Slot, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
        let mut work = vec![Work::Slot(slot)];
        while let Some(item) = work.pop() {
            self.pass_budget()?;
            match item {
                Work::Slot(slot) => self.open_slot(slot, &mut work, diagnostics),
                Work::CloseSlot(slot) => {
                    self.open.pop();
                    let bit = self.combine_drivers(slot, diagnostics);
                    self.slots.insert(slot, bit);
                }
                Work::Node(id) => {
                    if self.nodes[id.index()].is_some() {
                        continue;
                    }
                    match self.pass.local.node(id) {
                        Node::False => self.nodes[id.index()] = Some(Lit::FALSE),
                        Node::Input(k) => {
                            work.push(Work::Combine(id));
                            let (slot, _) = self.pass.reads.inputs[k as usize];
                            if !self.slots.contains_key(&slot) {
                                work.push(Work::Slot(slot));
                            }
                        }
                        Node::And(a, b) => {
                            work.push(Work::Combine(id));
                            work.push(Work::Node(a.node()));
                            work.push(Work::Node(b.node()));
                        }
                    }
                }
                Work::Combine(id) => self.combine(id),
            }
        }
        Ok(())
    }

    fn pass_budget(&self) -> Result<(), Exhausted> {
        if self.done.len() > 20_000_000 { Err(Exhausted(base::Resource::Steps)) } else { Ok(()) }
    }

    fn combine(&mut self, id: NodeId) {
        if self.nodes[id.index()].is_some() {
            return;
        }
        self.done.set_origin(self.pass.local.origin(id));
        let lit = match self.pass.local.node(id) {
            Node::False => Lit::FALSE,
            Node::Input(k) => {
                let (slot, rail) = self.pass.reads.inputs[k as usize];
                // A slot that is still open depends on itself: its level is unknown.
                let bit = self.slots.get(&slot).copied().unwrap_or(Bit::X);
                [bit.value, bit.unknown, bit.floating][rail as usize]
            }
            Node::And(a, b) => {
                let (a, b) = (self.lit(a), self.lit(b));
                self.done.and(a, b)
            }
        };
        self.nodes[id.index()] = Some(lit);
    }

    fn lit(&self, local: Lit) -> Lit {
        let base = self.nodes[local.node().index()].unwrap_or(Lit::FALSE);
        if local.is_complement() { !base } else { base }
    }

    fn open_slot(&mut self, slot: Slot, work: &mut Vec<Work>, diagnostics: &mut Vec<Diagnostic>) {
        if self.slots.contains_key(&slot) {
            return;
        }
        if let Some(at) = self.open.iter().position(|s| *s == slot) {
            self.report_loop(at, diagnostics);
            return;
        }
        self.open.push(slot);
        work.push(Work::CloseSlot(slot));
        for driver in self.pass.drivers.get(&slot).into_iter().flatten() {
            for rail in [driver.bit.value, driver.bit.unknown, driver.bit.floating] {
                work.push(Work::Node(rail.node()));
            }
        }
    }

    fn report_loop(&mut self, at: usize, diagnostics: &mut Vec<Diagnostic>) {
        let design = self.pass.design;
        let path: Vec<Slot> = self.open[at..].to_vec();
        let fresh = path.iter().all(|s| !self.looped.contains(s));
        self.looped.extend(path.iter().copied());
        if !fresh {
            return;
        }
        let name = |slot: &Slot| {
            let signal = self.pass.slot_signal[*slot as usize];
            let position = slot - self.pass.slots.of(Storage::Signal(signal));
            design.signal_shape(signal).bit_name(&design.signal_path(signal), position)
        };
        let mut names: Vec<String> = path.iter().take(8).map(name).collect();
        names.push(name(&path[0]));
        let span = self.pass.drivers.get(&path[0]).and_then(|d| d.first()).map(|d| d.span);
        let span = span.unwrap_or(design.scopes[design.top].span);
        diagnostics.push(say::combinational_loop(&names, span));
    }

    fn combine_drivers(&mut self, slot: Slot, diagnostics: &mut Vec<Diagnostic>) -> Bit {
        let pass = self.pass;
        let signal = &pass.design.signals[pass.slot_signal[slot as usize]];
        match signal.kind {
            SignalKind::Net(NetKind::Supply0) => return Bit::known(Lit::FALSE),
            SignalKind::Net(NetKind::Supply1) => return Bit::known(Lit::TRUE),
            _ => {}
        }
        let Some(drivers) = pass.drivers.get(&slot) else {
            let position = slot - pass.slots.of(Storage::Signal(pass.slot_signal[slot as usize]));
            return match &signal.initial {
                Some(value) => Bit::from_level(value.get(position)),
                None if exec::keeps(pass.design, pass.slot_signal[slot as usize]) => Bit::X,
                None => Bit::Z,
            };
        };
        let bits: Vec<Bit> = drivers
            .iter()
            .map(|d| Bit {
                value: self.lit(d.bit.value),
                unknown: self.lit(d.bit.unknown),
                floating: self.lit(d.bit.floating),
            })
            .collect();
        self.lint_drivers(slot, drivers, &bits, diagnostics);
        bits.into_iter().reduce(|a, b| self.resolve_pair(signal.kind, a, b)).unwrap_or(Bit::Z)
    }

    /// Two drivers that never let go fight, unless the net is made for it.
    fn lint_drivers(&mut self, slot: Slot, drivers: &[Driver], bits: &[Bit], diagnostics: &mut Vec<Diagnostic>) {
        let signal = self.pass.slot_signal[slot as usize];
        let item = &self.pass.design.signals[signal];
        if matches!(item.kind, SignalKind::Net(NetKind::WiredAnd | NetKind::WiredOr)) {
            return;
        }
        let strong: Vec<&Driver> =
            drivers.iter().zip(bits).filter(|(_, b)| b.floating == Lit::FALSE).map(|(d, _)| d).collect();
        if strong.len() > 1 && self.fought.insert(signal) {
            let name = self.pass.design.signal_path(signal);
            diagnostics.push(say::several_drivers(&name, strong[0].span, strong[1].span));
        }
    }

    /// Two drivers of one net (IEEE 1164 `resolved`, strong levels only).
    fn resolve_pair(&mut self, kind: SignalKind, a: Bit, b: Bit) -> Bit {
        match kind {
            SignalKind::Net(NetKind::WiredAnd) => return self.done.and_bit(a, b),
            SignalKind::Net(NetKind::WiredOr) => return self.done.or_bit(a, b),
            _ => {}
        }
        let differ = self.done.xor(a.value, b.value);
        let conflict = self.done.any([differ, a.unknown, b.unknown]);
        let both = Bit { value: a.value, unknown: conflict, floating: Lit::FALSE };
        let with_a = self.done.choose(b.floating, a, both);
        self.done.choose(a.floating, b, with_a)
    }
}
