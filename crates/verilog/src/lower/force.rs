//! Levels that are held whatever is assigned: `force` and `release`, `assign` and `deassign` in blocks.

use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{Held, NodeId};
use base::Span;
use design::{
    AssignMode, BinaryOp, ExprId, ExprKind, Process, ProcessKind, Sensitivity, SignalId, Stmt, StmtKind, Storage,
    Target, Unknowns,
};
use front::Lower;
use logic::{LogicVector, Shape};

/// Most statements that hold one thing, in bits.
const HOLDER_BITS: u32 = 16;

/// Which of the statements that hold something is in force; 0 for none.
#[derive(Clone, Copy)]
pub(super) struct Holder {
    which: SignalId,
    count: u64,
}

impl<'a> Lowering<'a, '_> {
    /// What is held follows its expression (IEEE 1364-2005 9.3), until another takes its place or lets go.
    pub(super) fn force(
        &mut self,
        context: &mut Context<'a>,
        target: NodeId,
        value: Option<NodeId>,
        held: Held,
    ) -> Option<StmtKind> {
        let span = context.module.exprs[target].span;
        let targets = match held {
            Held::Forced => self.forced(context, target)?,
            Held::Assigned => self.targets(context, target, true)?,
        };
        if targets.iter().any(|t| t.element.is_some()) {
            self.report(say::constant_needed(span));
            return None;
        }
        let width = targets.iter().map(|t| t.width).sum();
        let value = value.map(|v| self.expr_assigned(context, v, width));
        let key: Vec<_> = targets.iter().map(|t| (t.storage, t.low, t.width)).collect();
        let mut holder = match self.held.get(&key).copied() {
            Some(holder) => holder,
            None => Holder { which: self.hidden(context, Shape::vector(HOLDER_BITS as i32 - 1, 0), span), count: 0 },
        };
        let number = if value.is_some() { holder.count + 1 } else { 0 };
        holder.count = holder.count.max(number);
        self.held.insert(key, holder);
        let number = self.constant_expr(LogicVector::from_u64(u64::BITS, number).resized(HOLDER_BITS, false), span);
        let hold = StmtKind::Force { targets, value };
        if let Some(value) = value.filter(|v| !design::signals_of(&self.design, *v).is_empty()) {
            self.follow_level(context, holder.which, (number, value), &hold, span);
        }
        let target = Target { storage: Storage::Signal(holder.which), low: 0, width: HOLDER_BITS, element: None, span };
        let targets = vec![target];
        let mark = StmtKind::Assign { targets, value: number, mode: AssignMode::Blocking, delay: None };
        Some(StmtKind::Block { label: None, body: [mark, hold].map(|kind| Stmt { kind, span }).into() })
    }

    /// A process that holds the level anew whenever what it is made of changes.
    fn follow_level(
        &mut self,
        context: &Context<'a>,
        which: SignalId,
        (number, value): (ExprId, ExprId),
        hold: &StmtKind,
        span: Span,
    ) {
        let left = self.push(ExprKind::Signal(which), HOLDER_BITS, span);
        let unknowns = Unknowns::Propagate;
        let kind = ExprKind::Binary { op: BinaryOp::Equal, signed: false, unknowns, left, right: number };
        let condition = self.push(kind, 1, span);
        let then = vec![Stmt { kind: hold.clone(), span }];
        let body = vec![Stmt { kind: StmtKind::If { condition, then, otherwise: None }, span }];
        let event = design::Event { edge: design::Edge::Any, expr: value };
        self.design.processes.push(Process {
            scope: context.scope,
            kind: ProcessKind::General,
            name: None,
            sensitivity: Sensitivity::Events(vec![event]),
            body,
            span,
        });
    }
}
