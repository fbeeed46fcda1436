//! One process at work: instructions until it waits or ends.

use crate::code::{Check, Code, EventCode, Instr, Op, Part, Place, Pulses, WaitCode};
use crate::diagnostics as say;
use crate::kernel::{End, Kernel, Monitor, Update, happened};
use crate::state::{Frame, ProcessState, Resume, Watched};
use crate::{eval, print, text};
use base::{Id, Span};
use design::{
    AssignMode, Control, PrintTime, ScanSource, ScopeId, Sensitivity, SignalKind, Storage, SubprogramId, SystemFunction,
};
use logic::{Level, LogicVector};
use std::fmt::Write as _;
use std::sync::Arc;

/// Instructions that a process may run without waiting.
const MAX_RUN: u64 = 10_000_000;
/// Subprograms within subprograms.
const MAX_CALLS: u32 = 400;

impl Kernel<'_> {
    fn fail(&mut self, diagnostic: base::Diagnostic) {
        self.end.get_or_insert(End::Stopped(Box::new(diagnostic)));
    }

    /// Does what woke the process let it go on?
    fn may_go_on(&mut self, process: usize) -> bool {
        let resume = std::mem::replace(&mut self.processes[process].resume, Resume::Go);
        match resume {
            Resume::Go => true,
            Resume::Events(list) => {
                let (hit, list) = self.look_at(process, list);
                if !hit {
                    self.wait_again(process, list.iter().flat_map(|(e, _)| e.signals.clone()).collect());
                    self.processes[process].resume = Resume::Events(list);
                }
                hit
            }
            Resume::Until(code, signals) => {
                let holds = self.evaluate(&code, process).is_some_and(|v| v.get(0).known() == Some(true));
                if !holds {
                    self.wait_again(process, signals.clone());
                    self.processes[process].resume = Resume::Until(code, signals);
                }
                holds
            }
            Resume::Change { on, until, deadline } => {
                if deadline.is_some_and(|d| self.time >= d) {
                    return true;
                }
                let (changed, on) = self.look_at(process, on);
                let holds = changed
                    && until.as_ref().is_none_or(|code| {
                        self.evaluate(code, process).is_some_and(|v| v.get(0).known() == Some(true))
                    });
                if holds {
                    return true;
                }
                let signals = on.iter().flat_map(|(e, _)| e.signals.clone()).collect();
                self.wait_again(process, signals);
                self.processes[process].resume = Resume::Change { on, until, deadline };
                false
            }
        }
    }

    fn wait_again(&mut self, process: usize, signals: Vec<usize>) {
        self.processes[process].is_waiting = true;
        self.wait_for_signals(process, &signals);
    }

    /// Did one of the events happen? And the list with the values as they are now.
    fn look_at(&mut self, process: usize, list: Vec<Watched>) -> (bool, Vec<Watched>) {
        let mut next = Vec::with_capacity(list.len());
        let mut hit = false;
        for (event, before) in list {
            let now = self.evaluate(&event.code, process).unwrap_or_else(|| before.clone());
            hit |= happened(event.edge, &before, &now);
            next.push((event, now));
        }
        (hit, next)
    }

    pub(crate) fn run_process(&mut self, process: usize) {
        if self.processes[process].done {
            return;
        }
        if self.processes[process].is_waiting {
            self.processes[process].is_waiting = false;
            if !self.may_go_on(process) {
                return;
            }
        }
        let mut used = 0u64;
        loop {
            used += 1;
            if used > MAX_RUN {
                let span = self.processes[process].span;
                return self.fail(say::endless_process(span));
            }
            if self.steps == 0 {
                let span = self.processes[process].span;
                return self.fail(say::work(span));
            }
            self.steps -= 1;
            let (block, pc) = match self.processes[process].frames.last() {
                Some(frame) => (Arc::clone(&frame.block), frame.pc),
                None => (Arc::clone(&self.blocks[process]), self.processes[process].pc),
            };
            let Some(instr) = block.instrs.get(pc) else {
                if self.leave(process) {
                    continue;
                }
                return;
            };
            self.set_pc(process, pc + 1);
            if !self.instruction(process, instr) || self.end.is_some() {
                return;
            }
        }
    }

    fn set_pc(&mut self, process: usize, pc: usize) {
        let state = &mut self.processes[process];
        match state.frames.last_mut() {
            Some(frame) => frame.pc = pc,
            None => state.pc = pc,
        }
    }

    /// Ends a subprogram or a turn of the process; false when the process stops for now.
    fn leave(&mut self, process: usize) -> bool {
        if let Some(frame) = self.processes[process].frames.pop() {
            self.processes[process].counts.truncate(frame.counts);
            self.depth[frame.subprogram] -= 1;
            let parameters = &self.design.subprograms[SubprogramId::from_index(frame.subprogram)].parameters;
            let values: Vec<LogicVector> =
                frame.outs.iter().map(|(i, _)| self.variables[parameters[*i].0.index()].clone()).collect();
            if let Some(saved) = frame.saved {
                for (variable, value) in self.locals[frame.subprogram].clone().into_iter().zip(saved) {
                    self.variables[variable] = value;
                }
            }
            for ((_, place), value) in frame.outs.iter().zip(values) {
                let value = value.resized(place.target.width, false);
                self.assign(process, std::slice::from_ref(place), &value, AssignMode::Blocking, None);
            }
            return true;
        }
        let id = design::ProcessId::from_index(process);
        self.processes[process].pc = 0;
        self.processes[process].counts.clear();
        match self.design.processes[id].sensitivity {
            Sensitivity::Forever => {
                if self.blocks[process].instrs.is_empty() {
                    self.processes[process].done = true;
                    return false;
                }
                true
            }
            Sensitivity::Start | Sensitivity::End => {
                self.processes[process].done = true;
                false
            }
            _ => false,
        }
    }

    /// False when the process has to stop for now.
    #[expect(clippy::too_many_lines, reason = "an arm for each instruction")]
    fn instruction(&mut self, process: usize, instr: &Instr) -> bool {
        match instr {
            Instr::Assign { places, value, mode, delay, span, source } => {
                let Some(value) = self.evaluate(value, process) else { return false };
                let after = match delay {
                    None => None,
                    Some((code, pulses)) => {
                        let amount = self.evaluate(code, process).and_then(|v| self.delay(&v, *span));
                        let Some(amount) = amount else { return false };
                        let least = match pulses {
                            Pulses::All => Some(0),
                            Pulses::AsLongAsTheDelay => Some(amount),
                            Pulses::From(code) => self.evaluate(code, process).and_then(|v| self.delay(&v, *span)),
                        };
                        let Some(least) = least else { return false };
                        Some((amount, least.min(amount)))
                    }
                };
                if self.ran.is_some() {
                    self.note_assignment(process, places, (*source, *span));
                }
                self.assign(process, places, &value, *mode, after);
                true
            }
            Instr::JumpUnless(code, to) => {
                let Some(value) = self.evaluate(code, process) else { return false };
                if value.get(0).known() != Some(true) {
                    self.set_pc(process, *to);
                }
                true
            }
            Instr::Jump(to) => {
                self.set_pc(process, *to);
                true
            }
            Instr::Case { matching, subject, arms, otherwise } => {
                let Some(value) = self.evaluate(subject, process) else { return false };
                for (choices, to) in arms {
                    for choice in choices {
                        let Some(choice) = self.evaluate(choice, process) else { return false };
                        if eval::matches(*matching, &value, &choice) {
                            self.set_pc(process, *to);
                            return true;
                        }
                    }
                }
                self.set_pc(process, *otherwise);
                true
            }
            Instr::RepeatStart(code) => {
                let Some(value) = self.evaluate(code, process) else { return false };
                let count = value.to_i64().and_then(|n| u64::try_from(n).ok()).unwrap_or(0);
                self.processes[process].counts.push(count);
                true
            }
            Instr::RepeatTurn(end) => {
                let counts = &mut self.processes[process].counts;
                match counts.last_mut() {
                    Some(0) | None => {
                        counts.pop();
                        self.set_pc(process, *end);
                    }
                    Some(n) => *n -= 1,
                }
                true
            }
            Instr::Drop(n) => {
                let counts = &mut self.processes[process].counts;
                counts.truncate(counts.len().saturating_sub(*n));
                true
            }
            Instr::Wait(wait, span) => self.wait(process, wait, *span),
            Instr::Control(Control::TimeFormat(format)) => {
                self.time_format = format.clone();
                true
            }
            Instr::Control(Control::Monitor(on)) => {
                self.is_monitoring = *on;
                if let (true, Some(monitor)) = (*on, self.monitor.as_mut()) {
                    // Switching on writes at once, changed or not.
                    monitor.shown = None;
                }
                true
            }
            Instr::Print { parts, newline, time } => {
                let scope = self.processes[process].scope;
                match time {
                    PrintTime::Now => self.print(scope, parts, *newline),
                    PrintTime::Kept(line) => return self.keep(scope, parts, *line as usize, process),
                    PrintTime::Settled => self.settled.push((scope, Arc::new(parts.clone()), *newline)),
                    PrintTime::OnChange => {
                        self.monitor = Some(Monitor { scope, parts: Arc::new(parts.clone()), shown: None });
                    }
                }
                true
            }
            Instr::Assert { condition, parts, severity, span } => {
                self.assertion(process, condition, parts, *severity, *span)
            }
            Instr::Call { subprogram, values, outs, span } => self.call(process, *subprogram, values, outs, *span),
            Instr::Force { targets, value } => {
                let value = match value {
                    Some(code) => match self.evaluate(code, process) {
                        Some(value) => Some(value),
                        None => return false,
                    },
                    None => None,
                };
                self.hold(targets, value.as_ref());
                true
            }
            Instr::Finish => {
                self.end = Some(End::Finished);
                false
            }
            Instr::Return => self.leave(process),
            Instr::Disable(label) => self.disable(process, label),
        }
    }

    /// Ends what other processes do in blocks of a name: each goes on behind its block (IEEE 1364-2005 10.3).
    fn disable(&mut self, process: usize, label: &str) -> bool {
        let scope = self.processes[process].scope;
        let mut is_there = false;
        for other in 0..self.processes.len() {
            if self.processes[other].scope != scope {
                continue;
            }
            let block = Arc::clone(&self.blocks[other]);
            for (_, start, end, counts) in block.named.iter().filter(|(name, ..)| name == label) {
                is_there = true;
                let state = &mut self.processes[other];
                // It stands behind the instruction that made it wait.
                if other == process || !state.is_waiting || !(*start < state.pc && state.pc <= *end) {
                    continue;
                }
                for frame in state.frames.drain(..) {
                    self.depth[frame.subprogram] -= 1;
                }
                state.counts.truncate(*counts);
                state.pc = *end;
                state.waits += 1;
                state.is_waiting = true;
                state.resume = Resume::Go;
                self.wake(other);
            }
        }
        if is_there { true } else { self.leave(process) }
    }

    fn assertion(&mut self, process: usize, condition: &Code, parts: &[Part], severity: u8, span: Span) -> bool {
        let Some(value) = self.evaluate(condition, process) else { return false };
        value.get(0).known() == Some(true) || self.say_failure(process, parts, severity, span)
    }

    /// A failed assertion; false when it ends the simulation.
    fn say_failure(&mut self, process: usize, parts: &[Part], severity: u8, span: Span) -> bool {
        let level = usize::from(severity.min(3));
        self.failed[level] += 1;
        let word = ["note", "warning", "error", "failure"][level];
        let place = self.places.get(&span).map_or_else(String::new, |p| format!("{p}: "));
        let time = time_text(self.time);
        let _ = write!(self.output, "{place}{word} at {time}: ");
        let scope = self.processes[process].scope;
        self.print(scope, parts, true);
        if level == 3 {
            self.end = Some(End::Finished);
            return false;
        }
        true
    }

    /// A delay in femtoseconds; more than 18,000 seconds or anything unknown is told.
    fn delay(&mut self, value: &LogicVector, span: Span) -> Option<u64> {
        let amount = value.to_u64().filter(|n| *n < 1 << 63);
        if amount.is_none() {
            self.fail(say::huge_delay(span));
        }
        amount
    }

    fn wait(&mut self, process: usize, wait: &WaitCode, span: Span) -> bool {
        self.processes[process].waits += 1;
        match wait {
            WaitCode::Forever => {
                self.processes[process].done = true;
                return false;
            }
            WaitCode::For(code) => {
                let Some(value) = self.evaluate(code, process) else { return false };
                let Some(after) = self.delay(&value, span) else { return false };
                self.processes[process].resume = Resume::Go;
                self.processes[process].is_waiting = true;
                if after == 0 { self.wake_inactive(process) } else { self.wake_later(process, after) }
            }
            WaitCode::On(events) => {
                let list = self.before(process, events);
                let signals = events.iter().flat_map(|e| e.signals.clone()).collect();
                self.processes[process].resume = Resume::Events(list);
                self.wait_again(process, signals);
            }
            WaitCode::Until(code, signals) => {
                let Some(value) = self.evaluate(code, process) else { return false };
                if value.get(0).known() == Some(true) {
                    return true;
                }
                self.processes[process].resume = Resume::Until(code.clone(), signals.clone());
                self.wait_again(process, signals.clone());
            }
            WaitCode::Change { on, until, timeout } => {
                let deadline = match timeout {
                    Some(code) => {
                        let Some(value) = self.evaluate(code, process) else { return false };
                        let Some(after) = self.delay(&value, span) else { return false };
                        Some(after)
                    }
                    None => None,
                };
                let list = self.before(process, on);
                let signals = on.iter().flat_map(|e| e.signals.clone()).collect();
                let at = deadline.map(|after| self.time.saturating_add(after));
                self.processes[process].resume = Resume::Change { on: list, until: until.clone(), deadline: at };
                self.wait_again(process, signals);
                match deadline {
                    // One delta cycle, whatever else goes on (IEEE 1076-2008 10.2).
                    Some(0) => {
                        let number = self.processes[process].waits;
                        self.next_delta.push((process, number));
                    }
                    Some(after) => self.wake_later(process, after),
                    None => {}
                }
            }
        }
        false
    }

    fn before(&mut self, process: usize, events: &[EventCode]) -> Vec<Watched> {
        let mut list = Vec::with_capacity(events.len());
        for event in events {
            let value = self.evaluate(&event.code, process);
            list.push((event.clone(), value.unwrap_or_else(|| LogicVector::filled(1, Level::Unknown))));
        }
        list
    }

    pub(crate) fn assign(
        &mut self,
        process: usize,
        places: &[Place],
        value: &LogicVector,
        mode: AssignMode,
        after: Option<(u64, u64)>,
    ) {
        let mut at = 0u32;
        for place in places.iter().rev() {
            let width = place.target.width;
            let mut part = if places.len() == 1 { value.clone() } else { value.slice(i64::from(at), width) };
            at += width;
            let mut low = place.target.low;
            if let (Some(code), Some((_, stride))) = (&place.index, place.target.element) {
                let Some(index) = self.evaluate(code, process).and_then(|v| v.to_i64()) else { continue };
                let Some(offset) = index.checked_mul(i64::from(stride)) else { continue };
                match u32::try_from(offset) {
                    Ok(offset) => low = low.saturating_add(offset),
                    // What lies below the first bit is lost (IEEE 1364-2005 5.2.1).
                    Err(_) if offset < 0 && -offset < i64::from(width) => {
                        part = part.slice(-offset, width - offset.unsigned_abs() as u32);
                    }
                    Err(_) => continue,
                }
            }
            let total = match place.target.storage {
                Storage::Signal(s) => self.signals[s.index()].value.width(),
                Storage::Variable(v) => self.variables[v.index()].width(),
            };
            if low >= total {
                continue;
            }
            let update = Update { storage: place.target.storage, low, value: part, process };
            let is_net = match place.target.storage {
                Storage::Signal(s) => {
                    matches!(self.design.signals[s].kind, SignalKind::Net(_))
                }
                Storage::Variable(_) => false,
            };
            if is_net && after.is_none_or(|(delay, _)| delay == 0) {
                self.replace_pending(&update);
            }
            match (mode, after) {
                (_, Some((delay, least))) if is_net && delay > 0 => self.drive_later(update, delay, least),
                (_, Some((delay, _))) if delay > 0 => self.apply_later(update, delay),
                (AssignMode::NonBlocking, _) => self.updates.push(update),
                (AssignMode::Blocking, _) => self.apply(&update, false),
            }
        }
    }

    fn call(
        &mut self,
        process: usize,
        subprogram: SubprogramId,
        values: &[Code],
        outs: &[(usize, Place)],
        span: Span,
    ) -> bool {
        let mut given = Vec::with_capacity(values.len());
        for code in values {
            let Some(value) = self.evaluate(code, process) else { return false };
            given.push(value);
        }
        let index = subprogram.index();
        if self.processes[process].frames.len() as u32 > MAX_CALLS {
            self.fail(say::recursion(span));
            return false;
        }
        let saved =
            (self.depth[index] > 0).then(|| self.locals[index].iter().map(|v| self.variables[*v].clone()).collect());
        self.depth[index] += 1;
        for ((variable, _), value) in self.design.subprograms[subprogram].parameters.iter().zip(given) {
            let width = self.variables[variable.index()].width();
            self.variables[variable.index()] = value.resized(width, false);
        }
        let counts = self.processes[process].counts.len();
        let block = Arc::clone(&self.subprograms[index]);
        let frame = Frame { block, pc: 0, subprogram: index, outs: outs.to_vec(), saved, counts };
        self.processes[process].frames.push(frame);
        true
    }

    /// A function called within an expression: it runs to its end, it can't wait.
    fn function(&mut self, process: usize, subprogram: SubprogramId, values: Vec<LogicVector>) -> Option<LogicVector> {
        let index = subprogram.index();
        if self.depth[index] > MAX_CALLS {
            let span = self.design.subprograms[subprogram].span;
            self.fail(say::recursion(span));
            return None;
        }
        let saved: Option<Vec<LogicVector>> =
            (self.depth[index] > 0).then(|| self.locals[index].iter().map(|v| self.variables[*v].clone()).collect());
        self.depth[index] += 1;
        for ((variable, _), value) in self.design.subprograms[subprogram].parameters.iter().zip(values) {
            let width = self.variables[variable.index()].width();
            self.variables[variable.index()] = value.resized(width, false);
        }
        // The process as it stands is put aside while the function runs in its place.
        let own = ProcessState::new(self.processes[process].scope, self.processes[process].span);
        let outer = std::mem::replace(&mut self.processes[process], own);
        let block = Arc::clone(&self.subprograms[index]);
        let mut pc = 0;
        let mut whole = true;
        while let Some(instr) = block.instrs.get(pc) {
            if self.steps == 0 {
                let span = self.design.subprograms[subprogram].span;
                self.fail(say::work(span));
                whole = false;
                break;
            }
            self.steps -= 1;
            self.processes[process].pc = pc + 1;
            if matches!(instr, Instr::Return | Instr::Disable(_) | Instr::Wait(..)) {
                break;
            }
            let deep = self.processes[process].frames.len();
            if !self.instruction(process, instr) || self.end.is_some() {
                whole = false;
                break;
            }
            if self.processes[process].frames.len() > deep && !self.finish_frame(process) {
                whole = false;
                break;
            }
            pc = self.processes[process].pc;
        }
        self.processes[process] = outer;
        self.depth[index] -= 1;
        let result = self.design.subprograms[subprogram].result.map(|r| self.variables[r.index()].clone());
        if let Some(saved) = saved {
            for (variable, value) in self.locals[index].clone().into_iter().zip(saved) {
                self.variables[variable] = value;
            }
        }
        if whole { result } else { None }
    }

    /// Runs a procedure that a function called to its end.
    fn finish_frame(&mut self, process: usize) -> bool {
        while let Some(frame) = self.processes[process].frames.last() {
            if self.steps == 0 || self.end.is_some() {
                return false;
            }
            self.steps -= 1;
            let (block, pc) = (Arc::clone(&frame.block), frame.pc);
            match block.instrs.get(pc) {
                None => {
                    self.leave(process);
                }
                Some(instr) => {
                    self.set_pc(process, pc + 1);
                    if !self.instruction(process, instr) && self.end.is_some() {
                        return false;
                    }
                }
            }
        }
        true
    }

    /// The value of an expression; `None` after a finding that ends the simulation.
    pub(crate) fn evaluate(&mut self, code: &[Op], process: usize) -> Option<LogicVector> {
        // One operand needs no stack.
        match code {
            [Op::Const(value)] => return Some(value.clone()),
            [Op::Signal(s)] => return Some(self.signals[*s].value.clone()),
            [Op::Variable(v)] => return Some(self.variables[*v].clone()),
            [Op::SignalSlice(s, low, width)] => return Some(self.signals[*s].value.slice(i64::from(*low), *width)),
            _ => {}
        }
        // The room for operands is kept from one evaluation to the next.
        let mut stack = std::mem::take(&mut self.operands);
        let none = || LogicVector::filled(1, Level::Unknown);
        for op in code {
            let value = match op {
                Op::Const(value) => value.clone(),
                Op::Signal(s) => self.signals[*s].value.clone(),
                Op::Variable(v) => self.variables[*v].clone(),
                Op::SignalSlice(s, low, width) => self.signals[*s].value.slice(i64::from(*low), *width),
                Op::Slice(low, width) => stack.pop().unwrap_or_else(none).slice(i64::from(*low), *width),
                Op::Element { stride, width } => {
                    let (index, from) = (stack.pop().unwrap_or_else(none), stack.pop().unwrap_or_else(none));
                    let low = index.to_i64().and_then(|i| i.checked_mul(i64::from(*stride)));
                    match low.filter(|l| *l > -i64::from(*width) && *l < i64::from(from.width())) {
                        Some(low) => from.slice(low, *width),
                        None => LogicVector::filled(*width, Level::Unknown),
                    }
                }
                Op::Unary(op) => eval::unary(*op, &stack.pop().unwrap_or_else(none)),
                Op::Binary { op, signed, unknowns } => {
                    let (b, a) = (stack.pop().unwrap_or_else(none), stack.pop().unwrap_or_else(none));
                    eval::binary(*op, *signed, *unknowns, &a, &b)
                }
                Op::Select(rule) => {
                    let (o, t) = (stack.pop().unwrap_or_else(none), stack.pop().unwrap_or_else(none));
                    eval::select(&stack.pop().unwrap_or_else(none), t, o, *rule)
                }
                Op::Lazy(arms, rule) => {
                    let condition = stack.pop().unwrap_or_else(none);
                    match condition.get(0).known() {
                        Some(true) => self.evaluate(&arms.0, process)?,
                        Some(false) => self.evaluate(&arms.1, process)?,
                        None => {
                            let then = self.evaluate(&arms.0, process)?;
                            eval::select(&condition, then, self.evaluate(&arms.1, process)?, *rule)
                        }
                    }
                }
                Op::Concat(n) => {
                    let parts = stack.split_off(stack.len().saturating_sub(*n));
                    LogicVector::concat(&parts)
                }
                Op::Resize(width, signed) => stack.pop().unwrap_or_else(none).resized(*width, *signed),
                Op::Checked(check) => self.checked(process, check, stack.pop().unwrap_or_else(none))?,
                Op::Call(subprogram, n, width) => {
                    let values = stack.split_off(stack.len().saturating_sub(*n));
                    self.function(process, *subprogram, values)?.resized(*width, false)
                }
                Op::System(function, width) => self.system(*function, *width),
                Op::Real(op, n, width) => {
                    let operands = stack.split_off(stack.len().saturating_sub(*n));
                    design::real_value(*op, &operands, *width)
                }
                Op::Text(op, n, width) => {
                    let operands = stack.split_off(stack.len().saturating_sub(*n));
                    text::value(*op, &operands, *width)
                }
                Op::Scan(reading) => {
                    let from = if matches!(reading.source, ScanSource::Line(_)) { None } else { stack.pop() };
                    self.count_read(process, reading, from.as_ref())
                }
                Op::Format(parts, width) => self.format(process, parts, *width)?,
            };
            stack.push(value);
        }
        let result = stack.pop();
        stack.clear();
        self.operands = stack;
        result
    }

    /// A value that is looked at; `None` when the simulation ends with it.
    fn checked(&mut self, process: usize, check: &Check, value: LogicVector) -> Option<LogicVector> {
        if self.evaluate(&check.condition, process)?.get(0).known() == Some(true) {
            return Some(value);
        }
        // A warning is said once for each place, however often it is computed there.
        let is_new = check.severity > 1 || self.warned.insert(check.span);
        if is_new && !self.say_failure(process, &check.parts, check.severity, check.span) {
            return None;
        }
        match &check.otherwise {
            Some(otherwise) => self.evaluate(otherwise, process),
            None => Some(value),
        }
    }

    fn system(&mut self, function: SystemFunction, width: u32) -> LogicVector {
        let bit = |b: bool| LogicVector::from_u64(1, u64::from(b));
        match function {
            SystemFunction::Time(unit) => {
                let unit = unit.max(1);
                LogicVector::from_u64(width, self.time / unit + u64::from(self.time % unit * 2 >= unit && unit > 1))
            }
            SystemFunction::Random => LogicVector::from_u64(width, u64::from(self.random().cast_unsigned())),
            SystemFunction::Changed(s) => bit(self.signals[s.index()].changed == self.instant),
            SystemFunction::Reached(s, at, to) => {
                let state = &self.signals[s.index()];
                let level = if to { Level::One } else { Level::Zero };
                bit(state.changed == self.instant && state.value.get(at) == level)
            }
            SystemFunction::LastValue(s) => self.signals[s.index()].last.clone(),
            SystemFunction::Active(s) => bit(self.signals[s.index()].active == self.instant),
            SystemFunction::SinceChange(s) => self.since(self.signals[s.index()].changed_at),
            SystemFunction::SinceActive(s) => self.since(self.signals[s.index()].active_at),
            SystemFunction::LineLength(line) => {
                let left = self.lines.get(line as usize).map_or(0, design::Reader::left);
                LogicVector::from_u64(width, left as u64)
            }
            SystemFunction::Seeded(storage) => self.seeded(storage, width),
            SystemFunction::Rising(s, at) | SystemFunction::Falling(s, at) => {
                let state = &self.signals[s.index()];
                let to = matches!(function, SystemFunction::Rising(..));
                let (was, is) = (state.last.get(at).known(), state.value.get(at).known());
                bit(state.changed == self.instant && was == Some(!to) && is == Some(to))
            }
        }
    }

    /// The time since something happened; the longest time when it never did.
    fn since(&self, at: Option<u64>) -> LogicVector {
        LogicVector::from_u64(64, at.map_or(i64::MAX.cast_unsigned(), |at| self.time.saturating_sub(at)))
    }

    fn random(&mut self) -> i32 {
        let (seed, number) = next_random(self.seed);
        self.seed = seed;
        number
    }

    /// The next number of a seed that the source keeps; unknown bits of the seed count 0.
    fn seeded(&mut self, storage: Storage, width: u32) -> LogicVector {
        let held = match storage {
            Storage::Signal(s) => self.signals[s.index()].value.clone(),
            Storage::Variable(v) => self.variables[v.index()].clone(),
        };
        let known = held.map(|level| Level::from(level.known() == Some(true))).resized(32, true);
        let (seed, number) = next_random(known.to_u64().unwrap_or(0) as u32 as i32);
        let value = LogicVector::from_u64(32, u64::from(seed.cast_unsigned())).resized(held.width(), true);
        let process = self.running.unwrap_or(0);
        self.apply(&Update { storage, low: 0, value, process }, true);
        LogicVector::from_u64(width, u64::from(number.cast_unsigned()))
    }

    /// Puts a message at the end of a line of text; false when it could not be made or there is no room.
    fn keep(&mut self, scope: ScopeId, parts: &[Part], line: usize, process: usize) -> bool {
        let start = self.output.len();
        if !self.print_parts(scope, parts) {
            return false;
        }
        let written = self.output.split_off(start);
        self.steps = self.steps.saturating_sub(written.len() as u64);
        let Some(reader) = self.lines.get_mut(line) else { return true };
        reader.append(&written);
        if reader.left() > self.limit {
            let span = self.processes[process].span;
            self.fail(say::too_much_output(span));
            return false;
        }
        true
    }

    /// A message as a value.
    fn format(&mut self, process: usize, parts: &[Part], width: u32) -> Option<LogicVector> {
        let scope = self.processes[process].scope;
        let start = self.output.len();
        if !self.print_parts(scope, parts) {
            return None;
        }
        let written = self.output.split_off(start);
        Some(text::bits(&written).resized(width, false))
    }

    pub(crate) fn print(&mut self, scope: ScopeId, parts: &[Part], newline: bool) {
        if !self.print_parts(scope, parts) {
            return;
        }
        if newline {
            self.output.push('\n');
        }
        if self.output.len() > self.limit {
            let span = self.design.scopes[scope].span;
            self.fail(say::too_much_output(span));
        }
    }

    /// False when a value could not be found, which has been said then.
    fn print_parts(&mut self, scope: ScopeId, parts: &[Part]) -> bool {
        for part in parts {
            match part {
                Part::Text(text) => self.output.push_str(text),
                Part::Scope => {
                    let path = self.path(scope);
                    self.output.push_str(&path);
                }
                Part::Value { code, radix, signed, width } => {
                    let Some(value) = self.evaluate(code, 0) else { return false };
                    let text = print::value(self.design, &value, *radix, *signed, *width, &self.time_format);
                    self.output.push_str(&text);
                }
                Part::Line { line, is_kept } => {
                    let text = match self.lines.get_mut(*line) {
                        Some(reader) if *is_kept => reader.rest(),
                        Some(reader) => std::mem::take(reader).rest(),
                        None => String::new(),
                    };
                    self.output.push_str(&text);
                }
                Part::Field { parts, width, is_left } => {
                    let start = self.output.len();
                    if !self.print_parts(scope, parts) {
                        return false;
                    }
                    let missing = width.saturating_sub(self.output[start..].chars().count()).min(self.limit);
                    let at = if *is_left { self.output.len() } else { start };
                    self.output.insert_str(at, &" ".repeat(missing));
                }
            }
        }
        true
    }

    fn path(&self, scope: ScopeId) -> String {
        let mut names = Vec::new();
        let mut at = Some(scope);
        while let Some(here) = at {
            names.push(self.design.scopes[here].name.as_str());
            at = self.design.scopes[here].parent;
        }
        names.reverse();
        names.join(".")
    }
}

/// A time with the largest unit that leaves a whole number.
fn time_text(femtoseconds: u64) -> String {
    const UNITS: [(&str, u64); 5] =
        [("ms", 1_000_000_000_000), ("us", 1_000_000_000), ("ns", 1_000_000), ("ps", 1_000), ("fs", 1)];
    let found = UNITS.into_iter().find(|(_, size)| femtoseconds.is_multiple_of(*size) && femtoseconds >= *size);
    found.map_or_else(|| "0 ns".to_owned(), |(unit, size)| format!("{} {unit}", femtoseconds / size))
}

/// The generator of IEEE 1364-2005 17.9.3 over the whole range: the seed after it and the number.
fn next_random(seed: i32) -> (i32, i32) {
    let seed = if seed == 0 { 259_341_593 } else { seed };
    let seed = seed.wrapping_mul(69_069).wrapping_add(1);
    let bits = (seed.cast_unsigned() >> 9) | 0x3f80_0000;
    let small = f64::from(f32::from_bits(bits));
    let spread = small + small * 0.000_000_119_209_289_550_781_25;
    let (low, high) = (f64::from(i32::MIN), f64::from(i32::MAX));
    let uniform = (high - low) * (spread - 1.0) + low;
    let scaled = (uniform + 2_147_483_648.0) / 4_294_967_295.0 * 4_294_967_296.0 - 2_147_483_648.0;
    let whole = if scaled >= 0.0 { scaled } else { scaled - 1.0 };
    (seed, whole as i64 as i32)
}
