//! One process at work: instructions until it waits or ends.

use crate::code::{Code, EventCode, Instr, Part, Place, Pulses, WaitCode};
use crate::diagnostics as say;
use crate::eval;
use crate::kernel::{End, Kernel, Monitor, happened};
use crate::messages::time_text;
use crate::state::{Frame, ProcessState, Resume, Watched};
use base::{Id, Span};
use design::{AssignMode, Control, PrintTime, Sensitivity, SubprogramId};
use logic::{Level, LogicVector};
use std::fmt::Write as _;
use std::sync::Arc;

/// Instructions that a process may run without waiting.
const MAX_RUN: u64 = 10_000_000;
/// Subprograms within subprograms.
const MAX_CALLS: u32 = 400;

impl Kernel<'_> {
    pub(crate) fn fail(&mut self, diagnostic: base::Diagnostic) {
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
    pub(crate) fn say_failure(&mut self, process: usize, parts: &[Part], severity: u8, span: Span) -> bool {
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
    pub(crate) fn function(
        &mut self,
        process: usize,
        subprogram: SubprogramId,
        values: Vec<LogicVector>,
    ) -> Option<LogicVector> {
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
}
