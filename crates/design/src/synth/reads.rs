//! Which signals a process reads, for the completeness of its sensitivity list.

use crate::expr::{ExprKind, SystemFunction};
use crate::ids::{ExprId, SignalId, SubprogramId};
use crate::model::Design;
use crate::process::{AssignMode, Event, PrintPart, Process, Stmt, StmtKind, Storage};
use std::collections::{BTreeMap, BTreeSet};
use std::ops::Range;

/// The signals read by the process that none of the events names, leaving out those it assigns itself.
pub(super) fn missing_from_list(design: &Design, process: &Process, events: &[Event]) -> Vec<String> {
    let mut walk = Walk::new(design);
    walk.list(&process.body);
    let mut named = Walk::new(design);
    for event in events {
        named.expr(event.expr);
    }
    walk.read
        .iter()
        .filter(|s| !named.read.contains(s) && !walk.written.contains(s))
        .map(|s| design.signals[*s].name.clone())
        .collect()
}

/// The signals that the statements read.
pub(super) fn signals(design: &Design, body: &[Stmt]) -> BTreeSet<SignalId> {
    let mut walk = Walk::new(design);
    walk.list(body);
    walk.read
}

/// The signals that the statements assign, whether or not control comes there.
pub(super) fn assigned(design: &Design, body: &[Stmt]) -> BTreeSet<SignalId> {
    let mut walk = Walk::new(design);
    walk.list(body);
    walk.written.union(&walk.later).copied().collect()
}

/// True when the expression calls a function, or says something where a value is not as it should be.
pub(super) fn may_talk(design: &Design, root: ExprId) -> bool {
    let mut stack = vec![root];
    let mut seen = BTreeSet::new();
    while let Some(id) = stack.pop() {
        if matches!(design.exprs[id].kind, ExprKind::Call { .. } | ExprKind::Checked { .. }) {
            return true;
        }
        stack.extend(design.exprs[id].kind.operands().into_iter().filter(|o| seen.insert(*o)));
    }
    false
}

/// True when the expression reads no signal, no variable and not the simulator.
pub(super) fn is_closed(design: &Design, root: ExprId) -> bool {
    let mut stack = vec![root];
    while let Some(id) = stack.pop() {
        let kind = &design.exprs[id].kind;
        if matches!(kind, ExprKind::Signal(_) | ExprKind::Variable(_) | ExprKind::System(_) | ExprKind::Scan(_)) {
            return false;
        }
        stack.extend(kind.operands());
    }
    true
}

/// The signals that a block waits for which waits for all it reads: those of its messages and assertions among them
/// (IEEE 1364-2005 9.7.5, IEEE 1076-2008 11.5).
pub(super) fn waited_for(design: &Design, body: &[Stmt]) -> BTreeSet<SignalId> {
    let mut walk = Walk { talks: true, ..Walk::new(design) };
    walk.list(body);
    walk.read
}

/// The same, with what the subprograms read that are called.
pub(super) fn waited_for_through(design: &Design, body: &[Stmt]) -> BTreeSet<SignalId> {
    let mut walk = Walk { talks: true, calls: Some(Vec::new()), ..Walk::new(design) };
    walk.list(body);
    let mut seen = BTreeSet::new();
    while let Some(subprogram) = walk.calls.as_mut().and_then(Vec::pop) {
        if seen.insert(subprogram) {
            walk.list(&design.subprograms[subprogram].body);
        }
    }
    walk.read
}

/// The stretch of each signal that a process reads which does nothing but compute one value: what else of a signal changes
/// gives it nothing new. `None` for any other process.
pub(super) fn stretches(design: &Design, process: &Process) -> Option<BTreeMap<SignalId, Range<u32>>> {
    let [Stmt { kind: StmtKind::Assign { value, targets, .. }, .. }] = process.body.as_slice() else { return None };
    if may_talk(design, *value) {
        return None;
    }
    let mut walk = Walk::new(design);
    walk.list(&process.body);
    // What reads bits that it assigns itself has a state.
    let reads_own = targets.iter().any(|target| {
        let Storage::Signal(signal) = target.storage else { return true };
        let end = if target.element.is_some() { u32::MAX } else { target.low.saturating_add(target.width) };
        walk.stretches.get(&signal).is_some_and(|read| read.start < end && target.low < read.end)
    });
    (!reads_own).then_some(walk.stretches)
}

/// The signals that an expression reads.
pub(super) fn of_expr(design: &Design, root: ExprId) -> BTreeSet<SignalId> {
    let mut walk = Walk::new(design);
    walk.expr(root);
    walk.read
}

struct Walk<'a> {
    design: &'a Design,
    read: BTreeSet<SignalId>,
    /// From the lowest bit that is read of each to behind the highest.
    stretches: BTreeMap<SignalId, Range<u32>>,
    written: BTreeSet<SignalId>,
    /// Written when the process waits.
    later: BTreeSet<SignalId>,
    /// What messages and assertions read counts, too.
    talks: bool,
    /// Subprograms that are called, where they are wanted.
    calls: Option<Vec<SubprogramId>>,
}

impl<'a> Walk<'a> {
    fn new(design: &'a Design) -> Self {
        Self {
            design,
            read: BTreeSet::new(),
            stretches: BTreeMap::new(),
            written: BTreeSet::new(),
            later: BTreeSet::new(),
            talks: false,
            calls: None,
        }
    }

    fn reads(&mut self, signal: SignalId, bits: Range<u32>) {
        self.read.insert(signal);
        let stretch = self.stretches.entry(signal).or_insert(bits.clone());
        *stretch = stretch.start.min(bits.start)..stretch.end.max(bits.end);
    }

    fn expr(&mut self, root: ExprId) {
        let mut stack = vec![root];
        while let Some(id) = stack.pop() {
            match &self.design.exprs[id].kind {
                ExprKind::Signal(s) => self.reads(*s, 0..u32::MAX),
                ExprKind::Slice { base, low } if matches!(self.design.exprs[*base].kind, ExprKind::Signal(_)) => {
                    let ExprKind::Signal(s) = self.design.exprs[*base].kind else { continue };
                    self.reads(s, *low..low.saturating_add(self.design.exprs[id].width));
                }
                ExprKind::System(
                    SystemFunction::Rising(s, _)
                    | SystemFunction::Falling(s, _)
                    | SystemFunction::Reached(s, ..)
                    | SystemFunction::Changed(s)
                    | SystemFunction::LastValue(s)
                    | SystemFunction::Active(s)
                    | SystemFunction::SinceChange(s)
                    | SystemFunction::SinceActive(s)
                    | SystemFunction::Seeded(Storage::Signal(s)),
                ) => self.reads(*s, 0..u32::MAX),
                kind => {
                    if let (ExprKind::Call { subprogram, .. }, Some(calls)) = (kind, &mut self.calls) {
                        calls.push(*subprogram);
                    }
                    stack.extend(kind.operands());
                }
            }
        }
    }

    fn list(&mut self, body: &[Stmt]) {
        let mut stack: Vec<&Stmt> = body.iter().collect();
        while let Some(stmt) = stack.pop() {
            match &stmt.kind {
                StmtKind::Assign { targets, value, mode, .. } => {
                    self.expr(*value);
                    for target in targets {
                        // What takes effect at once is fresh when it is read; what waits is not.
                        match (target.storage, *mode) {
                            (Storage::Signal(s), AssignMode::Blocking) => _ = self.written.insert(s),
                            (Storage::Signal(s), AssignMode::NonBlocking) => _ = self.later.insert(s),
                            (Storage::Variable(_), _) => {}
                        }
                        if let Some((index, _)) = target.element {
                            self.expr(index);
                        }
                    }
                }
                StmtKind::If { condition, then, otherwise } => {
                    self.expr(*condition);
                    stack.extend(then);
                    stack.extend(otherwise.iter().flatten());
                }
                StmtKind::Case { subject, arms, default, .. } => {
                    self.expr(*subject);
                    for arm in arms {
                        arm.choices.iter().for_each(|c| self.expr(*c));
                        stack.extend(&arm.body);
                    }
                    stack.extend(default.iter().flatten());
                }
                StmtKind::Loop { kind, body, step, .. } => {
                    if let crate::process::LoopKind::While(e) | crate::process::LoopKind::Repeat(e) = kind {
                        self.expr(*e);
                    }
                    stack.extend(body);
                    stack.extend(step);
                }
                StmtKind::Block { body, .. } => stack.extend(body),
                StmtKind::Call { subprogram, arguments } => {
                    if let Some(calls) = &mut self.calls {
                        calls.push(*subprogram);
                    }
                    for (value, target) in arguments {
                        self.expr(*value);
                        if let Some(Storage::Signal(s)) = target.as_ref().map(|t| t.storage) {
                            self.written.insert(s);
                        }
                    }
                }
                StmtKind::Assert { condition, message, .. } if self.talks => {
                    self.expr(*condition);
                    self.parts(message);
                }
                StmtKind::Print { parts, .. } if self.talks => self.parts(parts),
                _ => {}
            }
        }
    }

    fn parts(&mut self, parts: &[PrintPart]) {
        let mut stack: Vec<&PrintPart> = parts.iter().collect();
        while let Some(part) = stack.pop() {
            match part {
                PrintPart::Value { value, .. } => self.expr(*value),
                PrintPart::Field { parts, .. } => stack.extend(parts),
                PrintPart::Text(_) | PrintPart::Scope | PrintPart::Line { .. } => {}
            }
        }
    }
}
