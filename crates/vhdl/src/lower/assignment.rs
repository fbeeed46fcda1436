//! What is assigned to, and what of it waits for its turn.

use super::expr::Index;
use super::types::{INTEGER_BITS, Ty};
use super::{Context, Lowering, Place, Symbol, Value};
use crate::diagnostics as say;
use crate::tree::{Expr as Tree, ExprKind as Node, Mode, Waveform};
use base::Span;
use design::{AssignMode, BinaryOp, Delay, ExprId, PrintPart, Stmt, StmtKind, Storage, Target};
use front::Lower;
use logic::LogicVector;

impl<'a> Lowering<'a, '_> {
    /// An assignment, chosen by conditions where there are several alternatives.
    pub(super) fn assign(
        &mut self,
        context: &mut Context<'a>,
        target: &'a Tree,
        signal: bool,
        alternatives: &'a [(Waveform, Option<Tree>)],
        span: Span,
    ) -> Option<Stmt> {
        let mut arms = Vec::new();
        let mut whole = true;
        for (wave, condition) in alternatives {
            let condition = match condition {
                Some(tree) => self.condition(context, tree).map(Some),
                None => Some(None),
            };
            let stmts = self.drive(context, target, signal, wave, span);
            match (condition, stmts) {
                (Some(condition), Some(stmts)) => arms.push((condition, stmts)),
                _ => whole = false,
            }
        }
        if !whole {
            return None;
        }
        let mut list = chain(arms, span);
        if list.len() > 1 {
            return Some(Stmt { kind: StmtKind::Block { label: None, body: list }, span });
        }
        list.pop()
    }

    /// One value given to a target, and those that follow it.
    pub(super) fn drive(
        &mut self,
        context: &mut Context<'a>,
        target: &'a Tree,
        signal: bool,
        wave: &'a Waveform,
        span: Span,
    ) -> Option<Vec<Stmt>> {
        if matches!(&wave.value.kind, Node::Name(n) if n == "unaffected" && context.get(n).is_none()) {
            return Some(Vec::new());
        }
        // `y <= unaffected` and `null` leave things as they are; they never come here as values.
        let mode = if signal { AssignMode::NonBlocking } else { AssignMode::Blocking };
        let delay = match &wave.delay {
            Some(tree) => {
                let amount = self.expr_as(context, tree, &Ty::Time)?;
                let reject = match &wave.reject {
                    Some(tree) => Some(self.expr_as(context, tree, &Ty::Time)?),
                    None => None,
                };
                Some(Delay { amount, transport: wave.transport, reject })
            }
            None => None,
        };
        if let Node::Aggregate(elements) = &target.kind {
            let mut targets = Vec::new();
            for (_, element) in elements {
                targets.push(self.place(context, element, Some(signal))?.target);
            }
            let width = targets.iter().map(|t| t.width).sum();
            let kind = super::types::VectorKind::StdLogic;
            let value = self.expr(context, &wave.value, Some(&Ty::vector(kind, width)))?;
            if value.ty.width() != Some(width) {
                self.report(say::length_differs(width, value.ty.width().unwrap_or(0), wave.value.span));
                return None;
            }
            return Some(vec![Stmt { kind: StmtKind::Assign { targets, value: value.id, mode, delay }, span }]);
        }
        let place = self.place(context, target, Some(signal))?;
        let value = self.expr(context, &wave.value, Some(&place.ty))?;
        let mut list: Vec<Stmt> = self.stays_within(&value, &place, target, span).into_iter().collect();
        let value = self.convert(value, &place.ty, wave.value.span)?;
        let value = self.stored(value, &place.ty, span);
        let first = StmtKind::Assign { targets: vec![place.target.clone()], value, mode, delay };
        list.push(Stmt { kind: first, span });
        for (tree, after) in &wave.later {
            let value = self.expr_as(context, tree, &place.ty)?;
            let value = self.stored(value, &place.ty, span);
            let amount = self.expr_as(context, after, &Ty::Time)?;
            let delay = Some(Delay { amount, transport: true, reject: None });
            let kind = StmtKind::Assign { targets: vec![place.target.clone()], value, mode, delay };
            list.push(Stmt { kind, span });
        }
        Some(list)
    }

    /// A number that leaves the range of what it is assigned to ends a simulation (IEEE 1076-2008 10.5.2.1 and 10.6.2.1);
    /// nothing where its own type says that it can't.
    pub(super) fn stays_within(&mut self, value: &Value, place: &Place, target: &Tree, span: Span) -> Option<Stmt> {
        let (Ty::Integer { low, high }, Ty::Integer { low: least, high: most }) = (&place.ty, &value.ty) else {
            return None;
        };
        if (least >= low && most <= high) || design::fold(&self.design, value.id).is_some() {
            return None;
        }
        let bound = |n: i64| LogicVector::from_u64(INTEGER_BITS, n as u64 & ((1 << INTEGER_BITS) - 1));
        let (low_id, high_id) = (self.constant_expr(bound(*low), span), self.constant_expr(bound(*high), span));
        let below = self.op(BinaryOp::Less, true, value.id, low_id, 1, span);
        let above = self.op(BinaryOp::Greater, true, value.id, high_id, 1, span);
        let outside = self.op(BinaryOp::Or, false, below, above, 1, span);
        let condition = self.not(outside, span);
        let name = match &target.kind {
            Node::Name(name) => format!("`{name}`"),
            _ => "What is assigned".to_owned(),
        };
        let message = vec![
            PrintPart::Text(format!("{name} leaves its range {low} to {high}: ")),
            PrintPart::Value { value: value.id, radix: design::Radix::Decimal, signed: true, width: Some(0) },
        ];
        Some(Stmt { kind: StmtKind::Assert { condition, message, severity: 3 }, span })
    }

    /// Where a target lies. `signal` says which assignment sign stands behind it.
    pub(super) fn place(&mut self, context: &mut Context<'a>, tree: &'a Tree, signal: Option<bool>) -> Option<Place> {
        // Aliases of aliases, in a circle or not, are followed only so far.
        if self.budget.enter().is_err() {
            self.report(say::too_deep(tree.span));
            return None;
        }
        let place = self.place_here(context, tree, signal);
        self.budget.leave();
        place
    }

    #[expect(clippy::too_many_lines, reason = "an arm for each form of a name")]
    pub(super) fn place_here(
        &mut self,
        context: &mut Context<'a>,
        tree: &'a Tree,
        signal: Option<bool>,
    ) -> Option<Place> {
        let span = tree.span;
        match &tree.kind {
            Node::Name(name) => match context.get(name).cloned() {
                Some(Symbol::Signal { id, ty, mode, .. }) => {
                    if mode == Some(Mode::In) {
                        self.report(say::assign_to_input(name, span));
                        return None;
                    }
                    if signal == Some(false) {
                        self.report(say::assign_sign(":=", "<=", &format!("the signal `{name}`"), span));
                        return None;
                    }
                    let width = ty.stored_width()?;
                    let target = Target { storage: Storage::Signal(id), low: 0, width, element: None, span };
                    Some(Place { target, ty, signal: true })
                }
                Some(Symbol::Variable { id, ty, .. }) => {
                    if signal == Some(true) {
                        self.report(say::assign_sign("<=", ":=", &format!("the variable `{name}`"), span));
                        return None;
                    }
                    let width = ty.stored_width()?;
                    let target = Target { storage: Storage::Variable(id), low: 0, width, element: None, span };
                    Some(Place { target, ty, signal: false })
                }
                Some(Symbol::Alias { target, ty, .. }) => {
                    let place = self.place(context, target, signal)?;
                    let ty = match ty {
                        Some(ty) => self.alias_type(context, ty, &place.ty)?,
                        None => place.ty,
                    };
                    Some(Place { ty, ..place })
                }
                Some(Symbol::Constant { .. } | Symbol::Literal { .. }) => {
                    self.report(say::not_assignable(&format!("`{name}` is a constant and"), span));
                    None
                }
                Some(_) => {
                    self.report(say::not_assignable(&format!("`{name}`"), span));
                    None
                }
                None => {
                    self.undeclared(context, name, span);
                    None
                }
            },
            Node::Call(base, arguments, slice) => {
                let mut place = self.place(context, base, signal)?;
                let element = match place.ty.element() {
                    Some(element) => element,
                    None => {
                        self.report(say::not_indexable(&place.ty.describe(), span));
                        return None;
                    }
                };
                let stride = element.stored_width()?;
                if let Some(range) = slice.as_deref() {
                    let (start, width, ty) = self.slice_of(context, &place.ty, range, stride, span)?;
                    match start {
                        Index::Static(low) => place.target.low += low,
                        Index::Computed(index) => {
                            place.target.element = Some(match place.target.element {
                                None => (index, stride),
                                Some(outer) => self.two_indices(outer, (index, stride), span),
                            });
                        }
                    }
                    (place.target.width, place.target.span) = (width, span);
                    return Some(Place { ty, ..place });
                }
                let mut element = element;
                for (dimension, argument) in arguments.iter().enumerate() {
                    let bounds = place.ty.bounds()?;
                    let stride = element.stored_width()?;
                    match self.element_index(context, argument.actual.as_ref()?, (bounds, &place.ty), span)? {
                        Index::Static(position) => place.target.low += position * stride,
                        Index::Computed(index) => {
                            place.target.element = Some(match place.target.element {
                                None => (index, stride),
                                Some(outer) => self.two_indices(outer, (index, stride), span),
                            });
                        }
                    }
                    place.target.width = stride;
                    place.target.span = span;
                    place.ty = element.clone();
                    if dimension + 1 < arguments.len() {
                        element = place.ty.element()?;
                    }
                }
                Some(place)
            }
            Node::Select(base, field) => {
                let place = self.place(context, base, signal)?;
                let Ty::Record { fields, name } = &place.ty else {
                    self.report(say::type_mismatch("a record", &place.ty.describe(), base.span));
                    return None;
                };
                let mut below = 0;
                for (field_name, ty) in fields.iter().rev() {
                    let width = ty.stored_width()?;
                    if *field_name == field.name {
                        let target = Target { low: place.target.low + below, width, span, ..place.target };
                        return Some(Place { target, ty: ty.clone(), signal: place.signal });
                    }
                    below += width;
                }
                let near = base::nearest(&field.name, fields.iter().map(|(n, _)| n.as_str()));
                self.report(say::unknown_port(&field.name, name, near, field.span));
                None
            }
            _ => {
                self.report(say::not_assignable("This", span));
                None
            }
        }
    }

    /// A computed element within a computed element: one index in steps that both distances are made of.
    pub(super) fn two_indices(&mut self, outer: (ExprId, u32), inner: (ExprId, u32), span: Span) -> (ExprId, u32) {
        use design::{BinaryOp, ExprKind, Unknowns};
        let gcd = |mut a: u32, mut b: u32| {
            while b != 0 {
                (a, b) = (b, a % b);
            }
            a
        };
        let step = gcd(outer.1, inner.1).max(1);
        let width = INTEGER_BITS + 6;
        let scaled = |me: &mut Self, (index, stride): (ExprId, u32)| {
            let index = me.resize(index, width, true, span);
            let factor = me.constant_expr(LogicVector::from_u64(width, u64::from(stride / step)), span);
            let unknowns = Unknowns::Propagate;
            me.push(
                ExprKind::Binary { op: BinaryOp::Mul, signed: true, unknowns, left: index, right: factor },
                width,
                span,
            )
        };
        let (left, right) = (scaled(self, outer), scaled(self, inner));
        let kind = ExprKind::Binary { op: BinaryOp::Add, signed: true, unknowns: Unknowns::Propagate, left, right };
        (self.push(kind, width, span), step)
    }
}

/// Conditions with their statements as nested ifs; without a last one there is no else.
pub(super) fn chain(arms: Vec<(Option<ExprId>, Vec<Stmt>)>, span: Span) -> Vec<Stmt> {
    let mut last: Option<Vec<Stmt>> = None;
    for (condition, then) in arms.into_iter().rev() {
        last = Some(match condition {
            None => then,
            Some(condition) => vec![Stmt { kind: StmtKind::If { condition, then, otherwise: last }, span }],
        });
    }
    last.unwrap_or_default()
}
