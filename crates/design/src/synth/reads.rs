//! Which signals a process reads, for the completeness of its sensitivity list.

use crate::expr::{ExprId, ExprKind};
use crate::model::{Design, SignalId};
use crate::process::{AssignMode, Event, Process, Stmt, StmtKind, Storage};
use std::collections::BTreeSet;

/// The signals read by the process that none of the events names, leaving out those it assigns itself.
pub(super) fn missing_from_list(design: &Design, process: &Process, events: &[Event]) -> Vec<String> {
    let mut walk = Walk { design, read: BTreeSet::new(), written: BTreeSet::new() };
    walk.list(&process.body);
    let mut named = Walk { design, read: BTreeSet::new(), written: BTreeSet::new() };
    for event in events {
        named.expr(event.expr);
    }
    walk.read
        .iter()
        .filter(|s| !named.read.contains(s) && !walk.written.contains(s))
        .map(|s| design.signals[*s].name.clone())
        .collect()
}

struct Walk<'a> {
    design: &'a Design,
    read: BTreeSet<SignalId>,
    written: BTreeSet<SignalId>,
}

impl Walk<'_> {
    fn expr(&mut self, root: ExprId) {
        let mut stack = vec![root];
        while let Some(id) = stack.pop() {
            match &self.design.exprs[id].kind {
                ExprKind::Signal(s) => {
                    self.read.insert(*s);
                }
                ExprKind::Slice { base, .. } => stack.push(*base),
                ExprKind::Element { base, index, .. } => stack.extend([*base, *index]),
                ExprKind::Unary(_, a) | ExprKind::Resize { value: a, .. } => stack.push(*a),
                ExprKind::Binary { left, right, .. } => stack.extend([*left, *right]),
                ExprKind::Select { condition, then, otherwise, .. } => stack.extend([*condition, *then, *otherwise]),
                ExprKind::Concat(parts) => stack.extend(parts),
                ExprKind::Call { arguments, .. } => stack.extend(arguments),
                ExprKind::Const(_)
                | ExprKind::Variable(_)
                | ExprKind::System(_)
                | ExprKind::Text(_)
                | ExprKind::Real(_) => {}
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
                        if let (Storage::Signal(s), AssignMode::Blocking) = (target.storage, *mode) {
                            self.written.insert(s);
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
                StmtKind::Call { arguments, .. } => {
                    for (value, target) in arguments {
                        self.expr(*value);
                        if let Some(Storage::Signal(s)) = target.as_ref().map(|t| t.storage) {
                            self.written.insert(s);
                        }
                    }
                }
                _ => {}
            }
        }
    }
}
