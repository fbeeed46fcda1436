//! Drivers are joined from the outputs back to the inputs.

use super::diagnostics as say;
use super::exec;
use super::exec::Slot;
use super::pass::{Drive, Driver, Pass};
use super::word::Bit;
use crate::ids::SignalId;
use crate::model::{Direction, NetKind, SignalKind};
use crate::netlist::{InputBit, Lit, Netlist, Node, NodeId, OutputBit};
use crate::process::Storage;
use base::{Diagnostic, Exhausted, Id};
use std::collections::{BTreeMap, BTreeSet, VecDeque};

/// Loops after which what depends on them is worked out again.
const MOST_CUTS: usize = 256;

/// Joins drivers into one graph over the top's inputs, depth first with a stack of its own.
pub(super) struct Join<'p, 'a> {
    pub(super) pass: &'p Pass<'a>,
    pub(super) done: Netlist,
    pub(super) nodes: Vec<Option<Lit>>,
    /// The bits that are joined, by slot.
    pub(super) slots: Vec<Option<Bit>>,
    pub(super) open: Vec<Slot>,
    pub(super) is_open: Vec<bool>,
    pub(super) looped: BTreeSet<Slot>,
    /// Nodes in the order in which they were worked out, and for each open slot how many there were when it was opened.
    pub(super) worked: Vec<NodeId>,
    pub(super) opened_at: Vec<usize>,
    /// Open slots that were read by what drives them, and how often that was so.
    pub(super) cut: BTreeSet<Slot>,
    pub(super) cuts: usize,
    /// Signals whose drivers were told to fight.
    pub(super) fought: BTreeSet<SignalId>,
    /// Outputs of the registers reached so far.
    pub(super) outputs: BTreeMap<usize, Bit>,
    /// Registers reached whose inputs are not joined yet.
    pub(super) reached: VecDeque<usize>,
}

pub(super) enum Work {
    Node(NodeId),
    Combine(NodeId),
    Slot(Slot),
    CloseSlot(Slot),
}

impl<'p, 'a> Join<'p, 'a> {
    pub(super) fn new(pass: &'p Pass<'a>) -> Self {
        Self {
            pass,
            done: pass.empty.clone(),
            nodes: vec![None; pass.local.len()],
            slots: vec![None; pass.slots.count()],
            open: Vec::new(),
            is_open: vec![false; pass.slots.count()],
            looped: BTreeSet::new(),
            worked: Vec::new(),
            opened_at: Vec::new(),
            cut: BTreeSet::new(),
            cuts: 0,
            fought: BTreeSet::new(),
            outputs: BTreeMap::new(),
            reached: VecDeque::new(),
        }
    }

    pub(super) fn run(&mut self, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
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
                self.slots[slot as usize] = Some(Bit::known(value));
            }
        }
        let mut outputs = Vec::new();
        for port in top.ports.iter().filter(|p| p.direction == Direction::Out) {
            for (slot, position) in port_slots(port.signal) {
                self.resolve(slot, diagnostics)?;
                let bit = self.slots[slot as usize].unwrap_or(Bit::X);
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
        self.done.latches = self.pass.latches;
        self.registers(diagnostics)
    }

    pub(super) fn resolve(&mut self, slot: Slot, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
        self.work(vec![Work::Slot(slot)], diagnostics)
    }

    pub(super) fn work(&mut self, mut work: Vec<Work>, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
        while let Some(item) = work.pop() {
            self.pass_budget()?;
            match item {
                Work::Slot(slot) => self.open_slot(slot, &mut work, diagnostics),
                Work::CloseSlot(slot) => {
                    self.open.pop();
                    let start = self.opened_at.pop().unwrap_or(0);
                    let bit = self.combine_drivers(slot, diagnostics);
                    self.is_open[slot as usize] = false;
                    self.slots[slot as usize] = Some(bit);
                    if self.cut.remove(&slot) {
                        // What was worked out with the slot unknown is worked out again for those outside of the loop.
                        for id in self.worked.drain(start..) {
                            self.nodes[id.index()] = None;
                        }
                    }
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
                            if self.slots[slot as usize].is_none() {
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

    pub(super) fn pass_budget(&self) -> Result<(), Exhausted> {
        if self.done.len() > 20_000_000 { Err(Exhausted(base::Resource::Steps)) } else { Ok(()) }
    }

    pub(super) fn combine(&mut self, id: NodeId) {
        if self.nodes[id.index()].is_some() {
            return;
        }
        self.done.continue_from(&self.pass.local, id);
        let lit = match self.pass.local.node(id) {
            Node::False => Lit::FALSE,
            Node::Input(k) => {
                let (slot, rail) = self.pass.reads.inputs[k as usize];
                // A slot that is still open depends on itself: its level is unknown.
                if self.slots[slot as usize].is_none() && self.cuts < MOST_CUTS {
                    self.cuts += usize::from(self.cut.insert(slot));
                }
                let bit = self.slots[slot as usize].unwrap_or(Bit::X);
                [bit.value, bit.unknown, bit.floating][rail as usize]
            }
            Node::And(a, b) => {
                let (a, b) = (self.lit(a), self.lit(b));
                self.done.and(a, b)
            }
        };
        self.nodes[id.index()] = Some(lit);
        self.worked.push(id);
    }

    pub(super) fn bit(&self, local: Bit) -> Bit {
        Bit { value: self.lit(local.value), unknown: self.lit(local.unknown), floating: self.lit(local.floating) }
    }

    pub(super) fn lit(&self, local: Lit) -> Lit {
        let base = self.nodes[local.node().index()].unwrap_or(Lit::FALSE);
        if local.is_complement() { !base } else { base }
    }

    pub(super) fn open_slot(&mut self, slot: Slot, work: &mut Vec<Work>, diagnostics: &mut Vec<Diagnostic>) {
        if self.slots[slot as usize].is_some() {
            return;
        }
        if self.is_open[slot as usize] {
            let at = self.open.iter().rposition(|s| *s == slot).unwrap_or(0);
            self.report_loop(at, diagnostics);
            return;
        }
        self.is_open[slot as usize] = true;
        self.open.push(slot);
        self.opened_at.push(self.worked.len());
        work.push(Work::CloseSlot(slot));
        for driver in self.pass.drivers.get(&slot).into_iter().flatten() {
            work.extend(driver.rails().into_iter().map(|rail| Work::Node(rail.node())));
        }
    }

    pub(super) fn report_loop(&mut self, at: usize, diagnostics: &mut Vec<Diagnostic>) {
        let design = self.pass.design;
        let path: Vec<Slot> = self.open[at..].to_vec();
        let fresh = path.iter().all(|s| !self.looped.contains(s));
        self.looped.extend(path.iter().copied());
        if !fresh {
            return;
        }
        let name = |slot: &Slot| {
            let Some(signal) = self.pass.slot_signal.get(*slot as usize).copied() else {
                return "a variable".to_owned();
            };
            let position = slot - self.pass.slots.of(Storage::Signal(signal));
            design.signal_shape(signal).bit_name(&design.signal_path(signal), position)
        };
        let mut names: Vec<String> = path.iter().take(8).map(name).collect();
        names.push(name(&path[0]));
        let span = self.pass.drivers.get(&path[0]).and_then(|d| d.first()).map(|d| d.span);
        let span = span.unwrap_or(design.scopes[design.top].span);
        diagnostics.push(say::combinational_loop(&names, span));
    }

    pub(super) fn combine_drivers(&mut self, slot: Slot, diagnostics: &mut Vec<Diagnostic>) -> Bit {
        let pass = self.pass;
        let Some(signal) = pass.slot_signal.get(slot as usize) else {
            // A variable that lasts from run to run: a register, or never assigned.
            let number = pass.drivers.get(&slot).and_then(|d| d.iter().find_map(Driver::register));
            return match number {
                Some(number) => self.register_output(number),
                None => pass.initial_level(slot).map_or(Bit::X, |level| Bit::known(Lit::from(level))),
            };
        };
        let signal = &pass.design.signals[*signal];
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
            .map(|d| match d.drive {
                Drive::Level(bit) | Drive::Initial(bit) => self.bit(bit),
                Drive::Register(number) => self.register_output(number),
            })
            .collect();
        // The rails of a bit know no strength.
        if drivers.len() > 1
            && let Some(span) = drivers.iter().find_map(|d| d.weak)
        {
            diagnostics.push(say::weak_level(span));
        }
        self.lint_drivers(slot, drivers, &bits, diagnostics);
        bits.into_iter().reduce(|a, b| self.resolve_pair(signal.kind, a, b)).unwrap_or(Bit::Z)
    }

    /// Two drivers that never let go fight, unless the net is made for it.
    pub(super) fn lint_drivers(
        &mut self,
        slot: Slot,
        drivers: &[Driver],
        bits: &[Bit],
        diagnostics: &mut Vec<Diagnostic>,
    ) {
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
    pub(super) fn resolve_pair(&mut self, kind: SignalKind, a: Bit, b: Bit) -> Bit {
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
