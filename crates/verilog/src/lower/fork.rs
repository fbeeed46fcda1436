//! Statements that run at once, and loops over arrays.

use super::symbols::{Layout, Symbol};
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{self, Ident, Join};
use base::{Exhausted, Span};
use design::{
    AssignMode, BinaryOp, ExprId, ExprKind, LoopKind, Process, ProcessKind, Sensitivity, Signal, SignalId, SignalKind,
    Stmt, StmtKind, Storage, Target, UnaryOp, Unknowns, WaitKind,
};
use front::Lower;
use logic::{LogicVector, Shape};

/// What the process at work has forked.
#[derive(Default)]
pub(super) struct Forks {
    /// Labels of the blocks around, outermost first, with those around the fork that this is a branch of.
    pub(super) around: Vec<String>,
    /// For each branch the bits that differ while it is at work.
    children: Vec<(SignalId, SignalId)>,
    /// Number of this process among those of the design.
    own: usize,
    count: usize,
}

impl Forks {
    /// At the head of another process of the source.
    pub(super) fn begin(&mut self) {
        *self = Self { own: self.count + 1, count: self.count + 1, ..Self::default() };
    }

    /// The label of all that this process forks: no name of the source.
    fn own_label(&self) -> String {
        format!("fork {}", self.own)
    }
}

/// A bit that is given a value at once.
fn set(signal: SignalId, value: ExprId, span: Span) -> Stmt {
    let target = Target { storage: Storage::Signal(signal), low: 0, width: 1, element: None, span };
    Stmt { kind: StmtKind::Assign { targets: vec![target], value, mode: AssignMode::Blocking, delay: None }, span }
}

impl<'a> Lowering<'a, '_> {
    /// Each branch becomes a process that waits for a bit to be turned over and turns one of its own when it is done.
    pub(super) fn fork(
        &mut self,
        context: &mut Context<'a>,
        (label, branches, join): (Option<&'a Ident>, &'a [tree::Stmt], Join),
        span: Span,
        out: &mut Vec<Stmt>,
    ) -> Result<Option<StmtKind>, Exhausted> {
        if context.in_routine {
            self.report(say::not_understood_yet("`fork` in a task or function", span));
            return Ok(None);
        }
        let label = label.map(|l| l.name.clone());
        // What a branch forks is its own, and ends with what the branch stands in.
        let mut around = self.forks.around.clone();
        around.extend(label.clone());
        around.push(self.forks.own_label());
        self.forks.count += 1;
        let inner = Forks { around, children: Vec::new(), own: self.forks.count, count: self.forks.count };
        let outer = std::mem::replace(&mut self.forks, inner);
        let mut bodies = Vec::with_capacity(branches.len());
        for branch in branches {
            bodies.push((self.statements(context, std::slice::from_ref(branch))?, branch.span));
        }
        let count = self.forks.count;
        self.forks = Forks { count, ..outer };
        self.forks.around.extend(label.clone());
        let (start, bits) = self.branches(context, bodies, span);
        self.forks.around.truncate(self.forks.around.len() - usize::from(label.is_some()));
        let mut body = vec![start];
        if join != Join::None {
            let op = if join == Join::Any { BinaryOp::Or } else { BinaryOp::And };
            body.extend(self.ended(op, &bits, span).map(|c| Stmt { kind: StmtKind::Wait(WaitKind::Until(c)), span }));
        }
        if label.is_some() {
            return Ok(Some(StmtKind::Block { label, body }));
        }
        out.extend(body);
        Ok(None)
    }

    /// Processes beside the one at work, each for a list of statements; what starts them, and the bits that differ while
    /// one is at work.
    pub(super) fn branches(
        &mut self,
        context: &Context<'a>,
        bodies: Vec<(Vec<Stmt>, Span)>,
        span: Span,
    ) -> (Stmt, Vec<(SignalId, SignalId)>) {
        let go = self.hidden_bit(context, span);
        let mut bits = Vec::new();
        for (statements, at) in bodies {
            let done = self.hidden_bit(context, at);
            let waits = self.both(BinaryOp::Xor, go, done, span);
            let mut body = vec![Stmt { kind: StmtKind::Wait(WaitKind::Until(waits)), span }];
            body.extend(statements);
            // Whoever disables a block around the fork ends the branch, too.
            let labels = self.forks.around.iter().cloned().chain([self.forks.own_label()]);
            for label in labels.collect::<Vec<_>>().into_iter().rev() {
                body = vec![Stmt { kind: StmtKind::Block { label: Some(label), body }, span: at }];
            }
            let value = self.push(ExprKind::Signal(go), 1, at);
            body.push(set(done, value, at));
            self.design.processes.push(Process {
                scope: context.scope,
                kind: ProcessKind::General,
                name: None,
                sensitivity: Sensitivity::Forever,
                body,
                span: at,
            });
            bits.push((go, done));
        }
        self.forks.children.extend(bits.iter().copied());
        let now = self.push(ExprKind::Signal(go), 1, span);
        let value = self.push(ExprKind::Unary(UnaryOp::Not, now), 1, span);
        (set(go, value, span), bits)
    }

    /// All of these, or one of them, have ended.
    fn ended(&mut self, op: BinaryOp, bits: &[(SignalId, SignalId)], span: Span) -> Option<ExprId> {
        let mut whole = None;
        for (go, done) in bits {
            let differs = self.both(BinaryOp::Xor, *go, *done, span);
            let ended = self.push(ExprKind::Unary(UnaryOp::Not, differs), 1, span);
            whole = Some(match whole {
                None => ended,
                Some(left) => {
                    let unknowns = Unknowns::Propagate;
                    self.push(ExprKind::Binary { op, signed: false, unknowns, left, right: ended }, 1, span)
                }
            });
        }
        whole
    }

    /// `wait fork;` (IEEE 1800-2017 9.6.1).
    pub(super) fn wait_for_forked(&mut self, span: Span) -> Option<StmtKind> {
        let children = self.forks.children.clone();
        self.ended(BinaryOp::And, &children, span).map(|c| StmtKind::Wait(WaitKind::Until(c)))
    }

    /// `disable fork;` (IEEE 1800-2017 9.6.3).
    pub(super) fn disable_forked(&mut self) -> Option<StmtKind> {
        (!self.forks.children.is_empty()).then(|| StmtKind::Exit(Some(self.forks.own_label())))
    }

    /// A bit that the source doesn't name.
    pub(super) fn hidden_bit(&mut self, context: &Context<'a>, span: Span) -> SignalId {
        self.hidden(context, Shape::SCALAR, span)
    }

    /// Bits that the source doesn't name, 0 at first.
    pub(super) fn hidden(&mut self, context: &Context<'a>, shape: Shape, span: Span) -> SignalId {
        let ty = self.logic_type(shape, false);
        self.design.signals.push(Signal {
            name: String::new(),
            scope: context.scope,
            ty,
            kind: SignalKind::Variable,
            initial: Some(LogicVector::from_u64(shape.width(), 0)),
            span,
        })
    }

    fn both(&mut self, op: BinaryOp, a: SignalId, b: SignalId, span: Span) -> ExprId {
        let (left, right) = (self.push(ExprKind::Signal(a), 1, span), self.push(ExprKind::Signal(b), 1, span));
        self.push(ExprKind::Binary { op, signed: false, unknowns: Unknowns::Propagate, left, right }, 1, span)
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
