//! From processes to the bit-level netlist: each process becomes logic over the signals it reads, then drivers are
//! joined from the outputs back to the inputs. Blocks that wait for a clock edge become registers.

mod clocked;
mod diagnostics;
mod exec;
mod reads;
mod register;
mod word;

use crate::ids::SignalId;
use crate::model::{Design, Direction, NetKind, SignalKind};
use crate::netlist::{InputBit, Lit, Netlist, Node, NodeId, OutputBit};
use crate::process::{Edge, Process, ProcessKind, Sensitivity, Stmt, StmtKind, Storage};
use base::{Budget, Diagnostic, Exhausted, Id, Span};
use diagnostics as say;
use exec::{Executor, Halt, SignalReads, Slot, Slots};
use logic::Level;
use register::LocalRegister;
use std::collections::{BTreeMap, BTreeSet, VecDeque};
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
    drive: Drive,
    span: Span,
}

#[derive(Clone, Copy)]
enum Drive {
    /// Logic.
    Level(Bit),
    /// From an initial block: counts only when nothing else drives, or as the power-up level of a register.
    Initial(Bit),
    /// The register of that number.
    Register(usize),
}

impl Driver {
    fn rails(&self) -> Vec<Lit> {
        match self.drive {
            Drive::Level(b) | Drive::Initial(b) => vec![b.value, b.unknown, b.floating],
            Drive::Register(_) => Vec::new(),
        }
    }

    fn register(&self) -> Option<usize> {
        match self.drive {
            Drive::Register(number) => Some(number),
            _ => None,
        }
    }

    fn is_initial(&self) -> bool {
        matches!(self.drive, Drive::Initial(_))
    }
}

/// True for statements that only write messages or end the simulation.
fn only_talks(body: &[Stmt]) -> bool {
    body.iter().all(|stmt| match &stmt.kind {
        StmtKind::Print { .. } | StmtKind::Assert { .. } | StmtKind::Control(_) | StmtKind::Finish => true,
        StmtKind::Wait(_) => true,
        StmtKind::Block { body, .. } | StmtKind::Loop { body, .. } => only_talks(body),
        StmtKind::If { then, otherwise, .. } => {
            only_talks(then) && only_talks(otherwise.as_deref().unwrap_or_default())
        }
        _ => false,
    })
}

/// Turns a validated design into its netlist.
pub fn synthesise(design: &Design, budget: &mut Budget) -> Synthesis {
    synthesis_of(design, budget, &Netlist::new(), false)
}

/// The same with what latches hold as part of the state: each becomes a register without a clock, which takes its level
/// while it is open. For designs that are run over time.
pub fn synthesise_with_latches(design: &Design, budget: &mut Budget) -> Synthesis {
    synthesis_of(design, budget, &Netlist::new(), true)
}

/// The same with nodes of different places of the source kept apart, for drawings.
pub fn synthesise_as_written(design: &Design, budget: &mut Budget) -> Synthesis {
    synthesis_of(design, budget, &Netlist::as_written(), false)
}

fn synthesis_of(design: &Design, budget: &mut Budget, empty: &Netlist, holds: bool) -> Synthesis {
    let mut diagnostics = Vec::new();
    let done = synthesise_all(design, budget, &mut diagnostics, (empty, holds));
    // What stands in a unit that is instantiated often is said once.
    let mut told = BTreeSet::new();
    diagnostics.retain(|d| d.span.is_none_or(|s| told.insert((d.code, s, d.message.clone()))));
    Synthesis { netlist: done, diagnostics }
}

fn synthesise_all(
    design: &Design,
    budget: &mut Budget,
    diagnostics: &mut Vec<Diagnostic>,
    (empty, holds): (&Netlist, bool),
) -> Netlist {
    let top = design.scopes[design.top].span;
    match Pass::new(design, budget, empty, holds).and_then(|mut pass| pass.run(diagnostics)) {
        Ok(netlist) if diagnostics.iter().all(|d| !d.stops()) => netlist,
        Ok(_) => Netlist::new(),
        Err(exhausted) => {
            diagnostics.push(say::budget_exhausted(exhausted, top));
            Netlist::new()
        }
    }
}

struct Pass<'a> {
    design: &'a Design,
    budget: &'a mut Budget,
    slots: Slots,
    local: Netlist,
    /// What a netlist begins with.
    empty: Netlist,
    reads: SignalReads,
    drivers: BTreeMap<Slot, Vec<Driver>>,
    /// Signals that keep their level on some path, with the place that forgets them.
    latched: BTreeMap<SignalId, Span>,
    latches: u32,
    /// What a latch holds is part of the state; else it is unknown.
    holds: bool,
    slot_signal: Vec<SignalId>,
    registers: Vec<LocalRegister>,
}

impl<'a> Pass<'a> {
    fn new(design: &'a Design, budget: &'a mut Budget, empty: &Netlist, holds: bool) -> Result<Self, Exhausted> {
        let slots = Slots::new(design, budget)?;
        let mut slot_signal = Vec::new();
        for signal in design.signals.ids() {
            slot_signal.extend(std::iter::repeat_n(signal, design.signal_width(signal) as usize));
        }
        Ok(Self {
            design,
            budget,
            slots,
            local: empty.clone(),
            empty: empty.clone(),
            reads: SignalReads::default(),
            drivers: BTreeMap::new(),
            latched: BTreeMap::new(),
            latches: 0,
            holds,
            slot_signal,
            registers: Vec::new(),
        })
    }

    fn run(&mut self, diagnostics: &mut Vec<Diagnostic>) -> Result<Netlist, Exhausted> {
        for (_, process) in self.design.processes.iter() {
            self.process(process, diagnostics)?;
        }
        if diagnostics.iter().any(Diagnostic::stops) {
            return Ok(Netlist::new());
        }
        self.never_assigned(diagnostics);
        self.lint_drivers(diagnostics);
        let mut join = Join::new(self);
        join.run(diagnostics)?;
        Ok(join.done)
    }

    fn process(&mut self, process: &Process, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
        match self.process_inner(process, diagnostics) {
            Err(Halt::Budget(exhausted)) => Err(exhausted),
            Ok(()) | Err(Halt::Reported) => Ok(()),
        }
    }

    fn executor<'s>(&'s mut self, diagnostics: &'s mut Vec<Diagnostic>) -> Executor<'s> {
        Executor::new(self.design, &mut self.local, self.budget, &self.slots, diagnostics, &mut self.reads)
    }

    fn process_inner(&mut self, process: &Process, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Halt> {
        match &process.sensitivity {
            Sensitivity::Events(events) if events.iter().any(|e| e.edge != Edge::Any) => {
                return self.edge_block(process, events, diagnostics);
            }
            Sensitivity::Forever => return self.waiting_block(process, diagnostics),
            Sensitivity::End => return Ok(()),
            // What only prints or checks at start is nothing that hardware does.
            Sensitivity::Start if only_talks(&process.body) => return Ok(()),
            _ => {}
        }
        let runs_again = process.sensitivity != Sensitivity::Start;
        let left = self.executor(diagnostics).passing_delays(runs_again).run(&process.body)?;
        if !left.clocks.is_empty() {
            return self.tested_edge_block(process, &process.body, diagnostics);
        }
        if let Sensitivity::Events(events) | Sensitivity::StartAndEvents(events) = &process.sensitivity {
            let missing = reads::missing_from_list(self.design, process, events);
            if !missing.is_empty() {
                diagnostics.push(say::incomplete_sensitivity(&missing, process.span));
            }
        }
        let initial = process.sensitivity == Sensitivity::Start;
        for (slot, cell, forgetting) in left.cells {
            if slot >= self.slots.signal_bits {
                continue;
            }
            let mut bit = cell.bit;
            if cell.hold != Lit::FALSE && !initial {
                let signal = self.slot_signal[slot as usize];
                let hold = self.without_unknowns(cell.hold);
                let is_latch = self.local.is_never_true(hold) != Some(true);
                if is_latch {
                    self.latches += 1;
                    if process.kind != ProcessKind::Latch {
                        self.latched.entry(signal).or_insert(forgetting.unwrap_or(process.span));
                    }
                }
                if is_latch && self.holds {
                    self.latch(slot, cell, process.span);
                    continue;
                }
                // What a latch holds is unknown to a check that looks at rows one by one.
                bit = self.local.choose(cell.hold, Bit::X, bit);
            }
            let drive = if initial { Drive::Initial(bit) } else { Drive::Level(bit) };
            self.drivers.entry(slot).or_default().push(Driver { drive, span: process.span });
        }
        Ok(())
    }

    /// The literal with all signals read as known and driven: a latch that only an unknown level could open is none.
    pub(super) fn without_unknowns(&mut self, lit: Lit) -> Lit {
        let reads = &self.reads.inputs;
        self.local.with_zeros(lit, |k| reads[k as usize].1 != 0)
    }

    /// Signals whose level matters: read by a process before it assigned them itself, or a port of the top.
    fn observed(&self) -> BTreeSet<SignalId> {
        let read = self.reads.inputs.iter().filter_map(|(slot, _)| self.slot_signal.get(*slot as usize).copied());
        read.chain(self.design.scopes[self.design.top].ports.iter().map(|p| p.signal)).collect()
    }

    /// Signals whose assignments control never comes to keep their first level.
    fn never_assigned(&mut self, diagnostics: &mut Vec<Diagnostic>) {
        let observed = self.observed();
        for (_, process) in self.design.processes.iter() {
            if process.sensitivity == Sensitivity::Start {
                continue;
            }
            for signal in reads::assigned(self.design, &process.body) {
                let first = self.slots.of(Storage::Signal(signal));
                let slots = first..first + self.design.signal_width(signal);
                let driven = |pass: &Self, slot| {
                    pass.drivers.get(&slot).is_some_and(|list: &Vec<Driver>| !list.iter().all(Driver::is_initial))
                };
                if slots.is_empty() || slots.clone().any(|slot| driven(self, slot)) {
                    continue;
                }
                for slot in slots {
                    // What an initial block says stands already.
                    if self.drivers.get(&slot).is_none_or(Vec::is_empty) {
                        let bit = self.initial_level(slot).map_or(Bit::X, |level| Bit::known(level.into()));
                        let driver = Driver { drive: Drive::Level(bit), span: process.span };
                        self.drivers.entry(slot).or_default().push(driver);
                    }
                }
                // The counter of a loop matters to nobody outside of it.
                if observed.contains(&signal) {
                    diagnostics.push(say::never_assigned(&self.design.signal_path(signal), process.span));
                }
            }
        }
    }

    fn lint_drivers(&mut self, diagnostics: &mut Vec<Diagnostic>) {
        let observed = self.observed();
        for (signal, span) in &self.latched {
            if observed.contains(signal) {
                diagnostics.push(say::inferred_latch(&self.design.signal_path(*signal), *span));
            }
        }
        for drivers in self.drivers.values_mut() {
            if drivers.iter().all(Driver::is_initial) {
                continue;
            }
            for driver in drivers.iter() {
                if let (Drive::Initial(bit), Some(register)) = (driver.drive, drivers.iter().find_map(Driver::register))
                {
                    self.registers[register].initial = bit.to_level().and_then(Level::known);
                }
            }
            drivers.retain(|d| !d.is_initial());
        }
        self.lint_ports(diagnostics);
    }

    fn lint_ports(&self, diagnostics: &mut Vec<Diagnostic>) {
        let read: BTreeSet<SignalId> =
            self.reads.inputs.iter().filter_map(|(slot, _)| self.slot_signal.get(*slot as usize).copied()).collect();
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
            // An input of an instance that nothing is connected to was told where the instance stands.
            let scope = &self.design.scopes[item.scope];
            let is_inner_input = item.scope != self.design.top
                && scope.ports.iter().any(|p| p.signal == signal && p.direction == Direction::In);
            if !is_inner_input && !is_input && !is_output && !driven && !supply && item.initial.is_none() {
                diagnostics.push(say::undriven_signal(&self.design.signal_path(signal), item.span));
            }
        }
    }
}

/// Loops after which what depends on them is worked out again.
const MOST_CUTS: usize = 256;

/// Joins drivers into one graph over the top's inputs, depth first with a stack of its own.
struct Join<'p, 'a> {
    pass: &'p Pass<'a>,
    done: Netlist,
    nodes: Vec<Option<Lit>>,
    /// The bits that are joined, by slot.
    slots: Vec<Option<Bit>>,
    open: Vec<Slot>,
    is_open: Vec<bool>,
    looped: BTreeSet<Slot>,
    /// Nodes in the order in which they were worked out, and for each open slot how many there were when it was opened.
    worked: Vec<NodeId>,
    opened_at: Vec<usize>,
    /// Open slots that were read by what drives them, and how often that was so.
    cut: BTreeSet<Slot>,
    cuts: usize,
    /// Signals whose drivers were told to fight.
    fought: BTreeSet<SignalId>,
    /// Outputs of the registers reached so far.
    outputs: BTreeMap<usize, Bit>,
    /// Registers reached whose inputs are not joined yet.
    reached: VecDeque<usize>,
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

    fn resolve(&mut self, slot: Slot, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
        self.work(vec![Work::Slot(slot)], diagnostics)
    }

    fn work(&mut self, mut work: Vec<Work>, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
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

    fn pass_budget(&self) -> Result<(), Exhausted> {
        if self.done.len() > 20_000_000 { Err(Exhausted(base::Resource::Steps)) } else { Ok(()) }
    }

    fn combine(&mut self, id: NodeId) {
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

    fn bit(&self, local: Bit) -> Bit {
        Bit { value: self.lit(local.value), unknown: self.lit(local.unknown), floating: self.lit(local.floating) }
    }

    fn lit(&self, local: Lit) -> Lit {
        let base = self.nodes[local.node().index()].unwrap_or(Lit::FALSE);
        if local.is_complement() { !base } else { base }
    }

    fn open_slot(&mut self, slot: Slot, work: &mut Vec<Work>, diagnostics: &mut Vec<Diagnostic>) {
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

    fn report_loop(&mut self, at: usize, diagnostics: &mut Vec<Diagnostic>) {
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

    fn combine_drivers(&mut self, slot: Slot, diagnostics: &mut Vec<Diagnostic>) -> Bit {
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

/// The signals that statements read, what they compute indices of targets from included.
pub fn signals_read(design: &Design, body: &[Stmt]) -> BTreeSet<SignalId> {
    reads::waited_for(design, body)
}

/// The stretch of each signal that a process reads which does nothing but compute one value: what else of a signal changes
/// gives it nothing new. `None` for any other process.
pub fn stretches_read(
    design: &Design,
    process: &crate::process::Process,
) -> Option<std::collections::BTreeMap<SignalId, std::ops::Range<u32>>> {
    reads::stretches(design, process)
}

/// The same, with what the subprograms read that are called.
pub fn signals_read_through(design: &Design, body: &[Stmt]) -> BTreeSet<SignalId> {
    reads::waited_for_through(design, body)
}

/// True when computing an expression may say something or end a simulation: only what is needed is computed then.
pub fn may_talk(design: &Design, root: crate::ids::ExprId) -> bool {
    reads::may_talk(design, root)
}

/// The signals that an expression reads.
pub fn signals_of(design: &Design, root: crate::ids::ExprId) -> BTreeSet<SignalId> {
    reads::of_expr(design, root)
}

/// The value of an expression that reads no signal; functions are run. `None` when it reads a signal, a variable or the
/// simulator, or takes more than the budget.
pub fn evaluate(design: &Design, root: crate::ids::ExprId, budget: &mut Budget) -> Option<logic::LogicVector> {
    if let Some(value) = crate::fold::fold(design, root) {
        return Some(value);
    }
    if !reads::is_closed(design, root) {
        return None;
    }
    // The bits are counted where the storage is made; here only work counts.
    let mut own = budget.clone();
    let slots = Slots::new(design, &mut own).ok()?;
    let (mut net, mut reads, mut diagnostics) = (Netlist::new(), SignalReads::default(), Vec::new());
    let word = Executor::new(design, &mut net, &mut own, &slots, &mut diagnostics, &mut reads).expr(root).ok();
    budget.spend(budget.steps_left().saturating_sub(own.steps_left())).ok()?;
    word::to_constant(&word?)
}
