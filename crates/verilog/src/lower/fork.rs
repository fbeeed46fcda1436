//! Statements that run at once, and loops over arrays.

use super::scope::{Layout, Symbol};
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{self, Ident, Join};
use base::{Exhausted, Span};
use design::{
    AssignMode, BinaryOp, ExprId, ExprKind, LoopKind, Process, ProcessKind, Sensitivity, Signal, SignalId, SignalKind,
    Stmt, StmtKind, Storage, Target, UnaryOp, Unknowns, WaitKind,
};
use logic::{LogicVector, Shape};

impl<'a> Lowering<'a, '_> {
    /// Each branch becomes a process that waits for a bit to be turned over and turns one of its own when it is done.
    pub(super) fn fork(
        &mut self,
        context: &mut Context<'a>,
        branches: &'a [tree::Stmt],
        join: Join,
        span: Span,
        out: &mut Vec<Stmt>,
    ) -> Result<Option<StmtKind>, Exhausted> {
        if context.in_routine {
            self.report(say::not_understood_yet("`fork` in a task or function", span));
            return Ok(None);
        }
        let go = self.hidden_bit(context, span);
        let mut ends = Vec::new();
        for branch in branches {
            let done = self.hidden_bit(context, branch.span);
            let waits = self.both(BinaryOp::Xor, go, done, span);
            let mut body = vec![Stmt { kind: StmtKind::Wait(WaitKind::Until(waits)), span }];
            body.extend(self.statements(context, std::slice::from_ref(branch))?);
            body.push(self.turn_over(done, span));
            let differs = self.both(BinaryOp::Xor, go, done, span);
            ends.push(self.push(ExprKind::Unary(UnaryOp::Not, differs), 1, span));
            self.design.processes.push(Process {
                scope: context.scope,
                kind: ProcessKind::General,
                name: None,
                sensitivity: Sensitivity::Forever,
                body,
                span: branch.span,
            });
        }
        out.push(self.turn_over(go, span));
        let op = if join == Join::Any { BinaryOp::Or } else { BinaryOp::And };
        let condition = ends.into_iter().reduce(|a, b| {
            let kind = ExprKind::Binary { op, signed: false, unknowns: Unknowns::Propagate, left: a, right: b };
            self.push(kind, 1, span)
        });
        Ok(condition.filter(|_| join != Join::None).map(|c| StmtKind::Wait(WaitKind::Until(c))))
    }

    /// A bit that the source doesn't name.
    fn hidden_bit(&mut self, context: &Context<'a>, span: Span) -> SignalId {
        let ty = self.logic_type(Shape::SCALAR, false);
        self.design.signals.push(Signal {
            name: String::new(),
            scope: context.scope,
            ty,
            kind: SignalKind::Variable,
            initial: Some(LogicVector::from_u64(1, 0)),
            span,
        })
    }

    fn both(&mut self, op: BinaryOp, a: SignalId, b: SignalId, span: Span) -> ExprId {
        let (left, right) = (self.push(ExprKind::Signal(a), 1, span), self.push(ExprKind::Signal(b), 1, span));
        self.push(ExprKind::Binary { op, signed: false, unknowns: Unknowns::Propagate, left, right }, 1, span)
    }

    fn turn_over(&mut self, signal: SignalId, span: Span) -> Stmt {
        let now = self.push(ExprKind::Signal(signal), 1, span);
        let value = self.push(ExprKind::Unary(UnaryOp::Not, now), 1, span);
        let target = Target { storage: Storage::Signal(signal), low: 0, width: 1, element: None, span };
        Stmt { kind: StmtKind::Assign { targets: vec![target], value, mode: AssignMode::Blocking, delay: None }, span }
    }

    /// From the left bound of each dimension to its right one (IEEE 1800-2017 12.7.3).
    pub(super) fn foreach(
        &mut self,
        context: &mut Context<'a>,
        array: &'a Ident,
        variables: &'a [Ident],
        body: &'a tree::Stmt,
        span: Span,
    ) -> Result<Option<StmtKind>, Exhausted> {
        let layout = match context.symbols.get(&array.name) {
            Some(Symbol::Signal(s)) => s.layout.clone(),
            Some(Symbol::Variable { layout, .. } | Symbol::Parameter { layout, .. }) => layout.clone(),
            Some(_) => {
                self.report(say::not_a_value(&array.name, array.span));
                return Ok(None);
            }
            None => {
                let near = context.symbols.nearest(&array.name).map(str::to_owned);
                self.report(say::undeclared(&array.name, near.as_deref(), array.span));
                return Ok(None);
            }
        };
        let bounds: Vec<Shape> = layout.dimensions.iter().copied().chain([layout.shape]).collect();
        if variables.len() > bounds.len() {
            self.report(say::too_many_indices(&array.name, bounds.len(), variables[bounds.len()].span));
            return Ok(None);
        }
        context.symbols.enter();
        let mut loops = Vec::new();
        for (variable, shape) in variables.iter().zip(&bounds) {
            let (left, right) = shape.range().unwrap_or((0, 0));
            let id = self.declare_variable(context, variable, Layout::vector(Shape::vector(31, 0), true));
            loops.push((id, left, right));
        }
        let mut list = self.statements(context, std::slice::from_ref(body))?;
        context.symbols.leave();
        for (id, left, right) in loops.into_iter().rev() {
            let number =
                |me: &mut Self, n: i32| me.constant_expr(LogicVector::from_u64(32, u64::from(n.cast_unsigned())), span);
            let binary = |me: &mut Self, op, left, right, width| {
                let kind = ExprKind::Binary { op, signed: true, unknowns: Unknowns::Propagate, left, right };
                me.push(kind, width, span)
            };
            let set = |value| {
                let target = Target { storage: Storage::Variable(id), low: 0, width: 32, element: None, span };
                let targets = vec![target];
                Stmt { kind: StmtKind::Assign { targets, value, mode: AssignMode::Blocking, delay: None }, span }
            };
            let first = set(number(self, left));
            let now = self.push(ExprKind::Variable(id), 32, span);
            let last = number(self, right);
            let up = left <= right;
            let op = if up { BinaryOp::LessEqual } else { BinaryOp::GreaterEqual };
            let condition = binary(self, op, now, last, 1);
            let one = number(self, 1);
            let next = binary(self, if up { BinaryOp::Add } else { BinaryOp::Sub }, now, one, 32);
            let kind =
                StmtKind::Loop { kind: LoopKind::While(condition), body: list, step: vec![set(next)], label: None };
            list = vec![first, Stmt { kind, span }];
        }
        Ok(Some(StmtKind::Block { label: None, body: list }))
    }
}
