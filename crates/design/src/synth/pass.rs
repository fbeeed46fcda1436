//! Processes become logic over the signals they read, each with what it drives.

use super::diagnostics as say;
use super::exec::{Executor, Halt, SignalReads, Slot, Slots};
use super::reads;
use super::register::LocalRegister;
use super::word::Bit;
use crate::ids::SignalId;
use crate::model::{Design, Direction, NetKind, SignalKind};
use crate::netlist::{Lit, Netlist};
use crate::process::{Edge, Process, ProcessKind, Sensitivity, Stmt, StmtKind, Storage};
use base::{Budget, Diagnostic, Exhausted, Span};
use logic::Level;
use std::collections::{BTreeMap, BTreeSet};

/// What drives a slot.
pub(super) struct Driver {
    pub(super) drive: Drive,
    pub(super) span: Span,
    /// Where a weak level stands that it may give: what another driver says is stronger.
    pub(super) weak: Option<Span>,
}

#[derive(Clone, Copy)]
pub(super) enum Drive {
    /// Logic.
    Level(Bit),
    /// From an initial block: counts only when nothing else drives, or as the power-up level of a register.
    Initial(Bit),
    /// The register of that number.
    Register(usize),
}

impl Driver {
    pub(super) fn rails(&self) -> Vec<Lit> {
        match self.drive {
            Drive::Level(b) | Drive::Initial(b) => vec![b.value, b.unknown, b.floating],
            Drive::Register(_) => Vec::new(),
        }
    }

    pub(super) fn register(&self) -> Option<usize> {
        match self.drive {
            Drive::Register(number) => Some(number),
            _ => None,
        }
    }

    pub(super) fn is_initial(&self) -> bool {
        matches!(self.drive, Drive::Initial(_))
    }
}

pub(super) struct Pass<'a> {
    pub(super) design: &'a Design,
    pub(super) budget: &'a mut Budget,
    pub(super) slots: Slots,
    pub(super) local: Netlist,
    /// What a netlist begins with.
    pub(super) empty: Netlist,
    pub(super) reads: SignalReads,
    pub(super) drivers: BTreeMap<Slot, Vec<Driver>>,
    /// Signals that keep their level on some path, with the place that forgets them.
    pub(super) latched: BTreeMap<SignalId, Span>,
    pub(super) latches: u32,
    /// What a latch holds is part of the state; else it is unknown.
    pub(super) holds: bool,
    pub(super) slot_signal: Vec<SignalId>,
    pub(super) registers: Vec<LocalRegister>,
}

impl<'a> Pass<'a> {
    pub(super) fn new(
        design: &'a Design,
        budget: &'a mut Budget,
        empty: &Netlist,
        holds: bool,
    ) -> Result<Self, Exhausted> {
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

    /// Runs every process. False where a finding stops the whole.
    pub(super) fn run(&mut self, diagnostics: &mut Vec<Diagnostic>) -> Result<bool, Exhausted> {
        for (_, process) in self.design.processes.iter() {
            self.process(process, diagnostics)?;
        }
        if diagnostics.iter().any(Diagnostic::stops) {
            return Ok(false);
        }
        self.never_assigned(diagnostics);
        self.lint_drivers(diagnostics);
        Ok(true)
    }

    pub(super) fn process(&mut self, process: &Process, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
        match self.process_inner(process, diagnostics) {
            Err(Halt::Budget(exhausted)) => Err(exhausted),
            Ok(()) | Err(Halt::Reported) => Ok(()),
        }
    }

    pub(super) fn executor<'s>(&'s mut self, diagnostics: &'s mut Vec<Diagnostic>) -> Executor<'s> {
        Executor::new(self.design, &mut self.local, self.budget, &self.slots, diagnostics, &mut self.reads)
    }

    pub(super) fn process_inner(&mut self, process: &Process, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Halt> {
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
            self.drivers.entry(slot).or_default().push(Driver { drive, span: process.span, weak: left.weak });
        }
        Ok(())
    }

    /// The literal with all signals read as known and driven: a latch that only an unknown level could open is none.
    pub(super) fn without_unknowns(&mut self, lit: Lit) -> Lit {
        let reads = &self.reads.inputs;
        self.local.with_zeros(lit, |k| reads[k as usize].1 != 0)
    }

    /// Signals whose level matters: read by a process before it assigned them itself, or a port of the top.
    pub(super) fn observed(&self) -> BTreeSet<SignalId> {
        let read = self.reads.inputs.iter().filter_map(|(slot, _)| self.slot_signal.get(*slot as usize).copied());
        read.chain(self.design.scopes[self.design.top].ports.iter().map(|p| p.signal)).collect()
    }

    /// Signals whose assignments control never comes to keep their first level.
    pub(super) fn never_assigned(&mut self, diagnostics: &mut Vec<Diagnostic>) {
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
                        let driver = Driver { drive: Drive::Level(bit), span: process.span, weak: None };
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

    pub(super) fn lint_drivers(&mut self, diagnostics: &mut Vec<Diagnostic>) {
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

    pub(super) fn lint_ports(&self, diagnostics: &mut Vec<Diagnostic>) {
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
