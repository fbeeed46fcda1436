//! Habits that go wrong though they are legal: the wrong kind of assignment for the kind of block.

use crate::diagnostics as say;
use crate::tree::{self, NodeId, NodeKind};
use base::{Diagnostic, Span};
use design::{AssignMode, Design, Edge, ExprId, ExprKind, Process, Sensitivity, SignalId, Stmt, StmtKind, Storage};
use std::collections::{BTreeMap, BTreeSet};

/// The first `<=` of a block without a clock, with the name it assigns.
pub(super) fn first_nonblocking(module: &tree::Module, body: &tree::Stmt) -> Option<(String, Span)> {
    let mut stack = vec![body];
    while let Some(stmt) = stack.pop() {
        match &stmt.kind {
            tree::StmtKind::Assign { target, blocking: false, .. } => {
                return Some((name_of(module, *target), stmt.span));
            }
            tree::StmtKind::Assign { .. } => {}
            tree::StmtKind::Block { body, .. } => stack.extend(body.iter().rev()),
            tree::StmtKind::If { then, otherwise, .. } => {
                stack.extend(otherwise.as_deref());
                stack.push(then);
            }
            tree::StmtKind::Case { arms, .. } => stack.extend(arms.iter().rev().map(|a| &a.body)),
            tree::StmtKind::For { body, .. }
            | tree::StmtKind::Foreach { body, .. }
            | tree::StmtKind::While { body, .. }
            | tree::StmtKind::Repeat { body, .. }
            | tree::StmtKind::Forever { body } => stack.push(body),
            _ => {}
        }
    }
    None
}

fn name_of(module: &tree::Module, mut node: NodeId) -> String {
    loop {
        match &module.exprs[node].kind {
            NodeKind::Name(name) => return name.name.clone(),
            NodeKind::Index { base, .. }
            | NodeKind::Part { base, .. }
            | NodeKind::IndexedPart { base, .. }
            | NodeKind::Member { base, .. } => node = *base,
            NodeKind::Concat(parts) if !parts.is_empty() => node = parts[0],
            _ => return "this".into(),
        }
    }
}

/// The first signal that statements read and also assign with `<=`, and where they assign it.
pub(super) fn read_and_scheduled(design: &Design, body: &[Stmt]) -> Option<(SignalId, Span)> {
    let mut read = Vec::new();
    let mut written: BTreeMap<SignalId, Span> = BTreeMap::new();
    each(body, &mut |stmt| {
        let mut expr = |e: ExprId| reads(design, e, stmt.span, &mut read);
        match &stmt.kind {
            StmtKind::Assign { targets, value, mode, .. } => {
                expr(*value);
                if *mode == AssignMode::NonBlocking {
                    for target in targets {
                        if let Storage::Signal(signal) = target.storage {
                            written.entry(signal).or_insert(stmt.span);
                        }
                    }
                }
            }
            StmtKind::If { condition, .. } => expr(*condition),
            StmtKind::Case { subject, .. } => expr(*subject),
            _ => {}
        }
    });
    read.iter().find_map(|(signal, _)| Some((*signal, *written.get(signal)?)))
}

/// Registers assigned with `=` that another block reads at an edge: there the order of the blocks matters.
pub(super) fn blocking_in_clocked(design: &Design, diagnostics: &mut Vec<Diagnostic>) {
    let clocked: Vec<&Process> = design
        .processes
        .iter()
        .map(|(_, p)| p)
        .filter(|p| matches!(&p.sensitivity, Sensitivity::Events(e) if e.iter().any(|e| e.edge != Edge::Any)))
        .collect();
    let mut written: BTreeMap<SignalId, (Span, Span)> = BTreeMap::new();
    for process in &clocked {
        each(&process.body, &mut |stmt| {
            if let StmtKind::Assign { targets, mode: AssignMode::Blocking, .. } = &stmt.kind {
                for target in targets {
                    if let Storage::Signal(s) = target.storage {
                        written.entry(s).or_insert((stmt.span, process.span));
                    }
                }
            }
        });
    }
    let mut told = BTreeSet::new();
    for process in &clocked {
        let mut read: Vec<(SignalId, Span)> = Vec::new();
        each(&process.body, &mut |stmt| {
            let mut expr = |e: ExprId| reads(design, e, stmt.span, &mut read);
            match &stmt.kind {
                StmtKind::Assign { value, .. } => expr(*value),
                StmtKind::If { condition, .. } => expr(*condition),
                StmtKind::Case { subject, .. } => expr(*subject),
                _ => {}
            }
        });
        for (signal, span) in read {
            if let Some((at, block)) = written.get(&signal)
                && *block != process.span
                && told.insert((*at, signal))
            {
                diagnostics.push(say::blocking_in_clocked(&design.signals[signal].name, *at, span));
            }
        }
    }
}

fn reads(design: &Design, root: ExprId, span: Span, out: &mut Vec<(SignalId, Span)>) {
    let mut stack = vec![root];
    while let Some(id) = stack.pop() {
        match &design.exprs[id].kind {
            ExprKind::Signal(s) => out.push((*s, span)),
            ExprKind::Slice { base, .. } => stack.push(*base),
            ExprKind::Element { base, index, .. } => stack.extend([*base, *index]),
            ExprKind::Unary(_, a) | ExprKind::Resize { value: a, .. } | ExprKind::Checked { value: a, .. } => {
                stack.push(*a)
            }
            ExprKind::Binary { left, right, .. } => stack.extend([*left, *right]),
            ExprKind::Select { condition, then, otherwise, .. } => stack.extend([*condition, *then, *otherwise]),
            ExprKind::Concat(parts) => stack.extend(parts),
            ExprKind::Call { arguments, .. } => stack.extend(arguments),
            _ => {}
        }
    }
}

fn each<'s>(body: &'s [Stmt], visit: &mut impl FnMut(&'s Stmt)) {
    let mut stack: Vec<&Stmt> = body.iter().rev().collect();
    while let Some(stmt) = stack.pop() {
        visit(stmt);
        match &stmt.kind {
            StmtKind::If { then, otherwise, .. } => {
                stack.extend(otherwise.iter().flatten());
                stack.extend(then);
            }
            StmtKind::Case { arms, default, .. } => {
                stack.extend(default.iter().flatten());
                stack.extend(arms.iter().flat_map(|a| &a.body));
            }
            StmtKind::Loop { body, .. } | StmtKind::Block { body, .. } => stack.extend(body),
            _ => {}
        }
    }
}
