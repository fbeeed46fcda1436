//! Blocks that wait for a clock edge: which event is the clock, which are asynchronous controls, and the registers that
//! come of it (the templates of IEEE 1364.1 and IEEE 1076.6, and what follows from them).

use super::diagnostics as say;
use super::exec::{Cell, Clock, Halt, Slot};
use super::join::{Join, Work};
use super::pass::{Drive, Driver, Pass};
use super::reads;
use super::register::LocalRegister;
use super::word::Bit;
use crate::netlist::{AsyncControl, Lit, Node, NodeId, Register};
use crate::process::{Edge, Event, Process, Sensitivity, Stmt, StmtKind, Storage, WaitKind};
use base::{Diagnostic, Exhausted, Span};
use std::collections::{BTreeMap, BTreeSet};

/// Literals with some inputs replaced.
type Replaced = BTreeMap<NodeId, Lit>;

impl Pass<'_> {
    /// A block whose events are edges (Verilog): the one that the block doesn't read is the clock.
    pub(super) fn edge_block(
        &mut self,
        process: &Process,
        events: &[Event],
        diagnostics: &mut Vec<Diagnostic>,
    ) -> Result<(), Halt> {
        if events.iter().any(|e| e.edge == Edge::Any) {
            diagnostics.push(say::mixed_events(process.span));
            return Err(Halt::Reported);
        }
        let mut clocks = Vec::new();
        for event in events {
            let bit = self.executor(diagnostics).clocked(true).expr(event.expr)?;
            let bit = bit.first().copied().unwrap_or(Bit::X);
            clocks.push(self.plain_event(bit, event));
        }
        let read = reads::signals(self.design, &process.body);
        let is_read = |event: &Event| reads::of_expr(self.design, event.expr).iter().any(|s| read.contains(s));
        let (controls, candidates): (Vec<_>, Vec<_>) = match clocks.len() {
            1 => (Vec::new(), clocks),
            _ => clocks.into_iter().partition(|(_, e)| is_read(e)),
        };
        let [(clock, event)] = candidates.as_slice() else {
            diagnostics.push(say::no_single_clock(candidates.len(), process.span));
            return Err(Halt::Reported);
        };
        let left = self.executor(diagnostics).clocked(true).run(&process.body)?;
        // Where a control is active the block computes what is taken at once.
        let mut maps: Vec<(Lit, Replaced)> = controls
            .iter()
            .map(|(bit, e)| {
                let active = if e.edge == Edge::Rising { bit.value } else { !bit.value };
                let known = self.local.and(active, !bit.unknown);
                let to = Lit::from((e.edge == Edge::Rising) != bit.value.is_complement());
                let none =
                    [bit.unknown, bit.floating].into_iter().filter(|l| !l.is_const()).map(|l| (l.node(), Lit::FALSE));
                let map: Replaced = none.chain([(bit.value.node(), to)]).collect();
                (known, map)
            })
            .collect();
        let own: BTreeSet<Slot> = left.cells.iter().map(|(slot, ..)| *slot).collect();
        for (slot, cell, _) in left.cells {
            let mut taken = Vec::new();
            for (k, (condition, map)) in maps.iter_mut().enumerate() {
                let hold = self.replace(cell.hold, map);
                if hold != Lit::TRUE {
                    let value = self.replace_bit(cell.bit, map);
                    if hold != Lit::FALSE || self.reads_any(value, &own) {
                        let event = &controls[k].1;
                        let name = reads::of_expr(self.design, event.expr).first().map(|s| self.design.signal_path(*s));
                        diagnostics.push(say::counts_at_control(&name.unwrap_or_default(), process.span));
                        return Err(Halt::Reported);
                    }
                    taken.push((*condition, value));
                }
            }
            self.register(slot, cell, (*clock, event.edge == Edge::Rising), taken, process.span);
        }
        Ok(())
    }

    /// The edge of a signal turned round is the other edge of that signal (`posedge ~clk` is `negedge clk`; IEEE 1364-2005
    /// table 9-1): such an event is taken as one of the signal itself.
    fn plain_event(&mut self, bit: Bit, event: &Event) -> (Bit, Event) {
        let value = self.without_unknowns(bit.value);
        let slot = match self.local.node(value.node()) {
            Node::Input(k) if self.reads.inputs[k as usize].1 == 0 => self.reads.inputs[k as usize].0,
            _ => return (bit, event.clone()),
        };
        let edge = match (event.edge, value.is_complement()) {
            (Edge::Rising, true) => Edge::Falling,
            (Edge::Falling, true) => Edge::Rising,
            (edge, _) => edge,
        };
        (self.reads.bit(&mut self.local, slot), Event { edge, ..event.clone() })
    }

    /// Does the level depend on what one of these slots holds?
    fn reads_any(&self, bit: Bit, slots: &BTreeSet<Slot>) -> bool {
        let is_own = |id: NodeId| match self.local.node(id) {
            Node::Input(k) => slots.contains(&self.reads.inputs[k as usize].0),
            _ => false,
        };
        let rails = [bit.value, bit.unknown, bit.floating];
        rails.into_iter().filter(|l| !l.is_const()).any(|l| self.local.small_cone(l, |_| false).into_iter().any(is_own))
    }

    /// A block that begins by waiting for an edge: `wait until rising_edge(clk);` (VHDL) or `@(posedge clk)`.
    pub(super) fn waiting_block(&mut self, process: &Process, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Halt> {
        let waits = process.body.first().map(|s| &s.kind);
        match waits {
            Some(StmtKind::Wait(WaitKind::Change { until: Some(condition), timeout: None, .. })) => {
                let condition = self.as_edge(*condition);
                let Some(condition) = condition else {
                    diagnostics.push(say::simulation_only("Waiting inside a block", process.span));
                    return Err(Halt::Reported);
                };
                let rest = Stmt {
                    kind: StmtKind::If { condition, then: process.body[1..].to_vec(), otherwise: None },
                    span: process.span,
                };
                self.tested_edge_block(process, &[rest], diagnostics)
            }
            Some(StmtKind::Wait(WaitKind::On(events))) if events.iter().all(|e| e.edge != Edge::Any) => {
                let inner = Process { body: process.body[1..].to_vec(), ..process.clone() };
                self.edge_block(&inner, events, diagnostics)
            }
            _ => {
                diagnostics.push(say::simulation_only("A block without an event to wait for", process.span));
                Err(Halt::Reported)
            }
        }
    }

    /// A block that tests for its clock edge itself (VHDL): what it does without the edge is asynchronous.
    pub(super) fn tested_edge_block(
        &mut self,
        process: &Process,
        body: &[Stmt],
        diagnostics: &mut Vec<Diagnostic>,
    ) -> Result<(), Halt> {
        let told = diagnostics.len();
        let without = self.executor(diagnostics).clocked(false).run(body)?;
        diagnostics.truncate(told);
        let with = self.executor(diagnostics).clocked(true).run(body)?;
        let clocks: Vec<&Clock> = with.clocks.union(&without.clocks).collect();
        let [clock] = clocks.as_slice() else {
            diagnostics.push(say::no_single_clock(clocks.len(), process.span));
            return Err(Halt::Reported);
        };
        let bit = self.reads.bit(&mut self.local, clock.slot);
        let asynchronous: BTreeMap<Slot, Cell> = without.cells.into_iter().map(|(s, c, _)| (s, c)).collect();
        if let Sensitivity::StartAndEvents(events) | Sensitivity::Events(events) = &process.sensitivity {
            let mut needed = vec![self.slot_signal[clock.slot as usize]];
            let rails: Vec<Lit> = asynchronous
                .values()
                .filter(|c| c.hold != Lit::TRUE)
                .flat_map(|c| [c.hold, c.bit.value, c.bit.unknown])
                .collect();
            needed.extend(self.local.cone(&rails).into_iter().filter_map(|id| match self.local.node(id) {
                Node::Input(k) => self.slot_signal.get(self.reads.inputs[k as usize].0 as usize).copied(),
                _ => None,
            }));
            let listed: BTreeSet<_> = events.iter().flat_map(|e| reads::of_expr(self.design, e.expr)).collect();
            let mut missing: Vec<String> =
                needed.iter().filter(|s| !listed.contains(s)).map(|s| self.design.signals[*s].name.clone()).collect();
            missing.sort();
            missing.dedup();
            if !missing.is_empty() {
                diagnostics.push(say::incomplete_sensitivity(&missing, process.span));
            }
        }
        for (slot, cell, _) in with.cells {
            let mut controls = Vec::new();
            if let Some(other) = asynchronous.get(&slot)
                && other.hold != Lit::TRUE
            {
                if other.hold == Lit::FALSE {
                    // Assigned whether or not the clock ticks: no register.
                    let drive = Drive::Level(other.bit);
                    if slot < self.slots.signal_bits {
                        self.drivers.entry(slot).or_default().push(Driver { drive, span: process.span, weak: None });
                    }
                    continue;
                }
                controls.push((!other.hold, other.bit));
            }
            self.register(slot, cell, (bit, clock.rising), controls, process.span);
        }
        Ok(())
    }

    /// The condition of a wait that tests for an edge; `clk = '1'` at a change of `clk` is one.
    fn as_edge(&self, condition: crate::ids::ExprId) -> Option<crate::ids::ExprId> {
        use crate::expr::{ExprKind, SystemFunction};
        let tests = |id: crate::ids::ExprId| {
            matches!(
                self.design.exprs[id].kind,
                ExprKind::System(
                    SystemFunction::Rising(..) | SystemFunction::Falling(..) | SystemFunction::Reached(..)
                )
            )
        };
        let mut stack = vec![condition];
        while let Some(id) = stack.pop() {
            if tests(id) {
                return Some(condition);
            }
            match &self.design.exprs[id].kind {
                ExprKind::Binary { left, right, .. } => stack.extend([*left, *right]),
                ExprKind::Unary(_, a) => stack.push(*a),
                _ => {}
            }
        }
        None
    }

    fn register(
        &mut self,
        slot: Slot,
        cell: Cell,
        (clock, rising): (Bit, bool),
        controls: Vec<(Lit, Bit)>,
        span: Span,
    ) {
        let held = self.reads.bit(&mut self.local, slot);
        let next = self.local.choose(cell.hold, held, cell.bit);
        let initial = self.initial_level(slot);
        let number = self.registers.len();
        self.registers.push(LocalRegister { slot, clock, rising, next, controls, initial, span });
        self.drivers.entry(slot).or_default().push(Driver { drive: Drive::Register(number), span, weak: None });
    }

    /// A bit that takes its level while it is open and holds it else: a register that no clock loads.
    pub(super) fn latch(&mut self, slot: Slot, cell: Cell, span: Span) {
        let next = self.reads.bit(&mut self.local, slot);
        let (clock, initial) = (Bit::known(Lit::FALSE), self.initial_level(slot));
        let controls = vec![(!cell.hold, cell.bit)];
        let number = self.registers.len();
        self.registers.push(LocalRegister { slot, clock, rising: true, next, controls, initial, span });
        self.drivers.entry(slot).or_default().push(Driver { drive: Drive::Register(number), span, weak: None });
    }

    /// The level that the declaration gives.
    pub(super) fn initial_level(&self, slot: Slot) -> Option<bool> {
        let level =
            |value: &Option<logic::LogicVector>, first: Slot| value.as_ref().and_then(|v| v.get(slot - first).known());
        if let Some(signal) = self.slot_signal.get(slot as usize) {
            return level(&self.design.signals[*signal].initial, self.slots.of(Storage::Signal(*signal)));
        }
        let (variable, first) = self.variable_of(slot)?;
        level(&self.design.variables[variable].initial, first)
    }

    fn variable_of(&self, slot: Slot) -> Option<(crate::ids::VariableId, Slot)> {
        self.design
            .variables
            .ids()
            .map(|v| (v, self.slots.of(Storage::Variable(v))))
            .take_while(|(_, first)| *first <= slot)
            .last()
    }

    fn replace_bit(&mut self, bit: Bit, map: &mut Replaced) -> Bit {
        Bit {
            value: self.replace(bit.value, map),
            unknown: self.replace(bit.unknown, map),
            floating: self.replace(bit.floating, map),
        }
    }

    /// The literal over replaced inputs; `map` also remembers nodes done before.
    fn replace(&mut self, lit: Lit, map: &mut Replaced) -> Lit {
        for id in self.local.small_cone(lit, |id| map.contains_key(&id)) {
            let pick = |l: Lit, map: &Replaced| {
                let base = map.get(&l.node()).copied().unwrap_or(Lit::FALSE);
                if l.is_complement() { !base } else { base }
            };
            let new = match self.local.node(id) {
                Node::False => Lit::FALSE,
                Node::Input(_) => Lit::new(id, false),
                Node::And(a, b) => {
                    let (a, b) = (pick(a, map), pick(b, map));
                    self.local.and(a, b)
                }
            };
            map.insert(id, new);
        }
        let base = map.get(&lit.node()).copied().unwrap_or(Lit::FALSE);
        if lit.is_complement() { !base } else { base }
    }
}

impl Join<'_, '_> {
    /// What a register holds: two inputs of the graph, made when it is first reached.
    pub(super) fn register_output(&mut self, number: usize) -> Bit {
        if let Some(bit) = self.outputs.get(&number) {
            return *bit;
        }
        self.done.set_origin(Some(self.pass.registers[number].span));
        let bit = Bit { value: self.done.add_input(), unknown: self.done.add_input(), floating: Lit::FALSE };
        self.outputs.insert(number, bit);
        self.reached.push_back(number);
        bit
    }

    /// Joins the inputs of all registers that were reached, and of those that they reach.
    pub(super) fn registers(&mut self, diagnostics: &mut Vec<Diagnostic>) -> Result<(), Exhausted> {
        while let Some(number) = self.reached.pop_front() {
            let local = &self.pass.registers[number];
            let mut bits = vec![local.clock, local.next];
            for (condition, bit) in &local.controls {
                bits.extend([Bit::known(*condition), *bit]);
            }
            let rails = bits.iter().flat_map(|b| [b.value, b.unknown, b.floating]);
            self.work(rails.map(|l| Work::Node(l.node())).collect(), diagnostics)?;
            let output = self.outputs.get(&number).copied().unwrap_or(Bit::X);
            let next = self.bit(local.next);
            let next_unknown = self.done.or(next.unknown, next.floating);
            let controls = local
                .controls
                .iter()
                .map(|(condition, bit)| {
                    let bit = self.bit(*bit);
                    let unknown = self.done.or(bit.unknown, bit.floating);
                    AsyncControl { condition: self.lit(*condition), value: bit.value, unknown }
                })
                .collect();
            let (name, position) = self.name(local.slot);
            let register = Register {
                name,
                position,
                value: output.value,
                unknown: output.unknown,
                clock: self.bit(local.clock).value,
                rising: local.rising,
                next: next.value,
                next_unknown,
                controls,
                initial: local.initial,
                span: local.span,
            };
            self.done.registers.push(register);
        }
        Ok(())
    }

    fn name(&self, slot: Slot) -> (String, u32) {
        let (design, slots) = (self.pass.design, &self.pass.slots);
        match self.pass.slot_signal.get(slot as usize) {
            Some(signal) => (design.signal_path(*signal), slot - slots.of(Storage::Signal(*signal))),
            None => match self.pass.variable_of(slot) {
                Some((variable, first)) => (design.variables[variable].name.clone(), slot - first),
                None => (String::new(), 0),
            },
        }
    }
}
