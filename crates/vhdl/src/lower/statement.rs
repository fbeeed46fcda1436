//! Sequential statements and what they assign.

use super::expr::Index;
use super::types::{INTEGER_BITS, Ty};
use super::{Context, Lowering, Place, Symbol, Value, integer_vector};
use crate::diagnostics as say;
use crate::tree::{self, Expr as Tree, ExprKind as Node, Mode, Range, Waveform};
use base::Span;
use design::{
    AssignMode, BinaryOp, CaseMatch, Delay, ExprId, ExprKind, LoopKind, PrintPart, Stmt, StmtKind, Storage, Target,
    WaitKind,
};
use front::Lower;
use logic::LogicVector;
use std::collections::{BTreeMap, BTreeSet};

/// Most turns of a loop that is unrolled.
const MAX_TURNS: i64 = 65_536;

impl<'a> Lowering<'a, '_> {
    /// `None` when a fault was told.
    pub(super) fn statements(&mut self, context: &mut Context<'a>, list: &'a [tree::Stmt]) -> Option<Vec<Stmt>> {
        let mut out = Vec::with_capacity(list.len());
        let mut whole = true;
        for stmt in list {
            // One faulty statement doesn't keep the others from being looked at.
            match self.statement(context, stmt) {
                Some(found) => out.extend(found),
                None => whole = false,
            }
        }
        whole.then_some(out)
    }

    fn statement(&mut self, context: &mut Context<'a>, stmt: &'a tree::Stmt) -> Option<Vec<Stmt>> {
        let span = stmt.span;
        if self.budget.spend(40).is_err() || self.budget.enter().is_err() {
            self.report(say::budget("amount of work or nesting", span));
            return None;
        }
        let one = |kind| Some(vec![Stmt { kind, span }]);
        let found = match &stmt.kind {
            tree::StmtKind::Assign { target, signal, alternatives } => {
                self.assign(context, target, *signal, alternatives, span).map(|s| vec![s])
            }
            tree::StmtKind::If(arms) => self.if_statement(context, arms, span),
            tree::StmtKind::Case { subject, arms, matching } => {
                let list: Vec<(&'a [Range], Body<'a>, Span)> =
                    arms.iter().map(|(c, b, s)| (c.as_slice(), Body::Statements(b), *s)).collect();
                self.case(context, subject, &list, *matching, span).map(|s| vec![s])
            }
            tree::StmtKind::For { label, variable, range, body } => {
                self.for_loop(context, label.as_ref().map(|l| l.name.as_str()), &variable.name, range, body, span)
            }
            tree::StmtKind::While { label, condition, body } => {
                let kind = match condition {
                    Some(condition) => LoopKind::While(self.condition(context, condition)?),
                    None => LoopKind::Forever,
                };
                let label = label.as_ref().map(|l| l.name.clone());
                let body = self.statements(context, body)?;
                one(StmtKind::Loop { kind, body, step: Vec::new(), label })
            }
            tree::StmtKind::Exit { label, condition } => {
                let kind = StmtKind::Exit(label.as_ref().map(|l| l.name.clone()));
                self.guarded(context, condition.as_ref(), kind, span)
            }
            tree::StmtKind::Next { label, condition } => {
                let kind = StmtKind::Next(label.as_ref().map(|l| l.name.clone()));
                self.guarded(context, condition.as_ref(), kind, span)
            }
            tree::StmtKind::Return(value) => self.return_statement(context, value.as_ref(), span),
            tree::StmtKind::Call(call) => self.procedure_call(context, call).and_then(one),
            tree::StmtKind::Wait { on, until, timeout } => {
                self.wait(context, on, until.as_ref(), timeout.as_ref(), span).map(|k| vec![Stmt { kind: k, span }])
            }
            tree::StmtKind::Null => Some(Vec::new()),
            tree::StmtKind::Message { condition, report, severity } => {
                self.message(context, condition.as_ref(), report.as_ref(), severity.as_ref(), span).and_then(one)
            }
            tree::StmtKind::Select { subject, target, signal, alternatives, matching } => {
                let arms: Vec<(&'a [Range], Body<'a>, Span)> = alternatives
                    .iter()
                    .map(|(wave, choices)| {
                        (choices.as_slice(), Body::Drive { target, wave, signal: *signal }, wave.value.span)
                    })
                    .collect();
                self.case(context, subject, &arms, *matching, span).map(|s| vec![s])
            }
        };
        self.budget.leave();
        found
    }

    fn guarded(
        &mut self,
        context: &mut Context<'a>,
        condition: Option<&'a Tree>,
        kind: StmtKind,
        span: Span,
    ) -> Option<Vec<Stmt>> {
        let inner = Stmt { kind, span };
        let Some(condition) = condition else { return Some(vec![inner]) };
        let condition = self.condition(context, condition)?;
        Some(vec![Stmt { kind: StmtKind::If { condition, then: vec![inner], otherwise: None }, span }])
    }

    fn if_statement(
        &mut self,
        context: &mut Context<'a>,
        arms: &'a [(Option<Tree>, Vec<tree::Stmt>)],
        span: Span,
    ) -> Option<Vec<Stmt>> {
        let mut lowered = Vec::new();
        let mut whole = true;
        let mut decided = false;
        for (condition, body) in arms {
            let condition = match condition {
                Some(tree) => match self.condition(context, tree) {
                    Some(c) => Some(c),
                    None => {
                        whole = false;
                        None
                    }
                },
                None => None,
            };
            let known = condition.and_then(|c| design::fold(&self.design, c)).and_then(|v| v.get(0).known());
            let is_dead = decided || known == Some(false);
            decided |= known == Some(true);
            let before = self.findings.mark();
            match self.statements(context, body) {
                Some(body) => lowered.push((condition, body)),
                // What constants rule out may be wrong in its values: a recursion ends like that.
                None if is_dead && self.findings.since(&before).iter().all(is_of_values) => {
                    self.findings.go_back(before);
                }
                None => whole = false,
            }
        }
        whole.then(|| chain(lowered, span))
    }

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

    /// What a process waits for.
    fn wait(
        &mut self,
        context: &mut Context<'a>,
        on: &'a [Tree],
        until: Option<&'a Tree>,
        timeout: Option<&'a Tree>,
        span: Span,
    ) -> Option<StmtKind> {
        let timeout = match timeout {
            Some(tree) => Some(self.expr_as(context, tree, &Ty::Time)?),
            None => None,
        };
        if on.is_empty() && until.is_none() {
            let wait = match timeout {
                None => WaitKind::Forever,
                // No event ends it: only its time, a delta later at the earliest.
                some => WaitKind::Change { on: Vec::new(), until: None, timeout: some },
            };
            return Some(StmtKind::Wait(wait));
        }
        let mut events = Vec::new();
        for tree in on {
            let value = self.expr(context, tree, None)?;
            events.push(design::Event { edge: design::Edge::Any, expr: value.id });
        }
        let mut condition = None;
        if let Some(tree) = until {
            let id = self.condition(context, tree)?;
            condition = Some(id);
            // Without a list the signals of the condition are watched (IEEE 1076-2008 10.2).
            if on.is_empty() {
                for signal in design::signals_of(&self.design, id) {
                    let width = self.design.signal_width(signal);
                    let expr = self.push(design::ExprKind::Signal(signal), width, span);
                    events.push(design::Event { edge: design::Edge::Any, expr });
                }
                condition = Some(self.edge_wait(id, span));
            }
        }
        Some(StmtKind::Wait(WaitKind::Change { on: events, until: condition, timeout }))
    }

    /// `wait until clk = '1'` waits for a change of `clk` to 1, from whatever it was: to synthesis an edge.
    fn edge_wait(&mut self, condition: ExprId, span: Span) -> ExprId {
        use design::{BinaryOp, ExprKind, SystemFunction};
        let ExprKind::Binary { op: BinaryOp::SameLevels, left, right, .. } = self.design.exprs[condition].kind else {
            return condition;
        };
        let level = match &self.design.exprs[right].kind {
            ExprKind::Const(value) if value.width() == 1 => match value.get(0) {
                logic::Level::Zero => Some(false),
                logic::Level::One => Some(true),
                _ => None,
            },
            _ => None,
        };
        match (&self.design.exprs[left].kind, level) {
            (ExprKind::Signal(signal), Some(level)) => {
                self.push(ExprKind::System(SystemFunction::Reached(*signal, 0, level)), 1, span)
            }
            _ => condition,
        }
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
    fn stays_within(&mut self, value: &Value, place: &Place, target: &Tree, span: Span) -> Option<Stmt> {
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
    fn place_here(&mut self, context: &mut Context<'a>, tree: &'a Tree, signal: Option<bool>) -> Option<Place> {
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
    fn two_indices(&mut self, outer: (ExprId, u32), inner: (ExprId, u32), span: Span) -> (ExprId, u32) {
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

    fn return_statement(
        &mut self,
        context: &mut Context<'a>,
        value: Option<&'a Tree>,
        span: Span,
    ) -> Option<Vec<Stmt>> {
        let leave = Stmt { kind: StmtKind::Return, span };
        let Some(tree) = value else { return Some(vec![leave]) };
        let Some(returned) = context.result.clone() else {
            self.report(say::expected("`return` without a value", "a value", span));
            return None;
        };
        let value = self.expr(context, tree, Some(&returned.ty))?;
        let found = value.ty.clone();
        if returned.variable.is_some() && found.is_string() && found.width() != returned.ty.width() {
            self.report(say::not_read_yet("A function that returns texts of different lengths", tree.span));
            return None;
        }
        let id = self.convert(value, &returned.ty, tree.span)?;
        // A result without bounds takes those of the first value returned.
        let ty = if returned.ty.width().is_none() { found } else { returned.ty };
        let variable = match returned.variable {
            Some(variable) => variable,
            None => {
                let type_id = ty.intern(&mut self.design);
                self.design.variables.push(design::Variable { name: "result".into(), ty: type_id, initial: None, span })
            }
        };
        context.result = Some(super::Returned { ty: ty.clone(), variable: Some(variable) });
        let width = ty.stored_width()?;
        let value = self.stored(id, &ty, span);
        let target = Target { storage: Storage::Variable(variable), low: 0, width, element: None, span };
        let kind = StmtKind::Assign { targets: vec![target], value, mode: AssignMode::Blocking, delay: None };
        Some(vec![Stmt { kind, span }, leave])
    }

    /// A loop over a constant range, written out turn by turn: its variable is a constant in each.
    fn for_loop(
        &mut self,
        context: &mut Context<'a>,
        label: Option<&str>,
        variable: &'a str,
        range: &'a Range,
        body: &'a [tree::Stmt],
        span: Span,
    ) -> Option<Vec<Stmt>> {
        let mut kind = None;
        let (left, right, down) = match range {
            Range::Bounds { left, down, right } => {
                let ends =
                    [self.expr(context, left, Some(&Ty::INTEGER))?, self.expr(context, right, Some(&Ty::INTEGER))?];
                let running = ends.iter().all(|e| matches!(e.ty, Ty::Integer { .. }));
                if matches!(ends[0].ty, Ty::Enumeration { .. } | Ty::Boolean) && ends[0].ty == ends[1].ty {
                    kind = Some(ends[0].ty.clone());
                }
                let [first, last] = ends.each_ref().map(|e| design::evaluate(&self.design, e.id, self.budget));
                match (first.and_then(|v| v.to_i64()), last.and_then(|v| v.to_i64())) {
                    (Some(first), Some(last)) if running => (first, last, *down),
                    _ if running => return self.running_loop(context, label, variable, &ends, *down, body, span),
                    _ => self.static_range(context, range, span)?,
                }
            }
            Range::Of(tree) => {
                if let Node::Name(name) = &tree.kind {
                    kind = match context.get(name) {
                        Some(Symbol::Type { ty: ty @ Ty::Enumeration { .. }, .. }) => Some(ty.clone()),
                        None if name == "boolean" => Some(Ty::Boolean),
                        _ => None,
                    };
                }
                self.static_range(context, range, span)?
            }
        };
        let count = if down { left - right } else { right - left };
        if count >= MAX_TURNS {
            self.report(say::budget("more than 65,536 turns of a loop", span));
            return None;
        }
        let mut turns = Vec::new();
        for turn in 0..=count {
            if self.budget.spend(400).is_err() {
                self.report(say::budget("amount of work", span));
                return None;
            }
            let n = if down { left - turn } else { left + turn };
            let mut layer = BTreeMap::new();
            // The variable has the type of the range (IEEE 1076-2008 10.10).
            let (value, ty) = match &kind {
                Some(ty) => (LogicVector::from_u64(ty.width()?, n as u64), ty.clone()),
                None => (integer_vector(n), Ty::Integer { low: left.min(right), high: left.max(right) }),
            };
            layer.insert(variable.to_owned(), Symbol::Constant { value, ty, span });
            context.layers.enter_with(layer);
            let lowered = self.statements(context, body);
            context.layers.leave();
            let inner = lowered?;
            turns.push(inner);
        }
        let name = label.map_or_else(|| format!("for {}", span.start), str::to_owned);
        let mut out = Vec::new();
        for inner in turns {
            let inner = rename_jumps(inner, label, &name);
            out.push(Stmt { kind: StmtKind::Block { label: Some(format!("{name} turn")), body: inner }, span });
        }
        Some(vec![Stmt { kind: StmtKind::Block { label: Some(name), body: out }, span }])
    }

    /// A loop whose bounds are known when it runs: they are looked at once, before the first turn.
    #[expect(clippy::too_many_arguments, reason = "the parts of a loop")]
    fn running_loop(
        &mut self,
        context: &mut Context<'a>,
        label: Option<&str>,
        variable: &'a str,
        ends: &[Value; 2],
        down: bool,
        body: &'a [tree::Stmt],
        span: Span,
    ) -> Option<Vec<Stmt>> {
        let ty = Ty::INTEGER;
        let width = ty.stored_width()?;
        let type_id = ty.intern(&mut self.design);
        let [at, last] = [variable, "last"].map(|name| {
            self.design.variables.push(design::Variable { name: name.into(), ty: type_id, initial: None, span })
        });
        let set = |id: design::VariableId, value: ExprId| {
            let target = Target { storage: design::Storage::Variable(id), low: 0, width, element: None, span };
            let kind = StmtKind::Assign { targets: vec![target], value, mode: AssignMode::Blocking, delay: None };
            Stmt { kind, span }
        };
        let first = self.stored(ends[0].id, &ty, span);
        let bound = self.stored(ends[1].id, &ty, span);
        let (now, end) =
            (self.push(ExprKind::Variable(at), width, span), self.push(ExprKind::Variable(last), width, span));
        let one = self.constant_expr(LogicVector::from_u64(width, 1), span);
        let binary =
            |op, left, right| ExprKind::Binary { op, signed: true, unknowns: design::Unknowns::Propagate, left, right };
        let (inside, next) = if down {
            (design::BinaryOp::GreaterEqual, design::BinaryOp::Sub)
        } else {
            (design::BinaryOp::LessEqual, design::BinaryOp::Add)
        };
        let condition = self.push(binary(inside, now, end), 1, span);
        let next = self.push(binary(next, now, one), width, span);
        context.layers.enter_with(BTreeMap::from([(variable.to_owned(), Symbol::Variable { id: at, ty, span })]));
        let lowered = self.statements(context, body);
        context.layers.leave();
        let kind = StmtKind::Loop {
            kind: LoopKind::While(condition),
            body: lowered?,
            step: vec![set(at, next)],
            label: label.map(str::to_owned),
        };
        Some(vec![set(at, first), set(last, bound), Stmt { kind, span }])
    }

    /// A case over statements, or over values given to one target.
    pub(super) fn case(
        &mut self,
        context: &mut Context<'a>,
        subject: &'a Tree,
        arms: &[(&'a [Range], Body<'a>, Span)],
        matching: bool,
        span: Span,
    ) -> Option<Stmt> {
        let value = self.expr(context, subject, None)?;
        let ty = value.ty.clone();
        let width = ty.width()?;
        let mut lowered: Vec<design::Arm> = Vec::new();
        let mut default = None;
        let mut seen: BTreeSet<String> = BTreeSet::new();
        let mut whole = true;
        for (choices, body, arm_span) in arms {
            let mut list: Vec<ExprId> = Vec::new();
            let mut others = false;
            for choice in *choices {
                match choice {
                    Range::Of(tree) if tree.kind == Node::Others => others = true,
                    choice => match self.choice_values(context, choice, &ty, *arm_span) {
                        Some(values) => {
                            for value in values {
                                if !seen.insert(value.to_string()) {
                                    self.report(say::duplicate_choice(*arm_span));
                                    whole = false;
                                }
                                list.push(self.constant_expr(value, *arm_span));
                            }
                        }
                        None => whole = false,
                    },
                }
            }
            let body = match body {
                Body::Statements(list) => self.statements(context, list),
                Body::Drive { target, wave, signal } => self.drive(context, target, *signal, wave, *arm_span),
            };
            let Some(body) = body else {
                whole = false;
                continue;
            };
            if others {
                default = Some(body);
            } else {
                lowered.push(design::Arm { choices: list, body, span: *arm_span });
            }
        }
        if !whole {
            return None;
        }
        if default.is_none() {
            let all: Option<u64> = match &ty {
                Ty::Integer { low, high } => high.abs_diff(*low).checked_add(1),
                Ty::Enumeration { literals, .. } => Some(literals.len() as u64),
                Ty::Boolean | Ty::Bit => Some(2),
                Ty::Vector { kind: super::types::VectorKind::Bit, .. } if width < 20 => Some(1 << width),
                _ => None,
            };
            if all.is_none_or(|n| (seen.len() as u64) < n) {
                let missing = match &ty {
                    Ty::Logic | Ty::Vector { .. } => "the choice `others`".to_owned(),
                    _ => "some values".to_owned(),
                };
                self.report(say::missing_choices(&missing, span));
                return None;
            }
            // Every value has its arm: the last one is what remains.
            default = lowered.pop().map(|a| a.body);
        }
        let matching = if matching { CaseMatch::Dash } else { CaseMatch::Exact };
        Some(Stmt { kind: StmtKind::Case { matching, subject: value.id, arms: lowered, default }, span })
    }

    pub(super) fn choice_values(
        &mut self,
        context: &mut Context<'a>,
        choice: &'a Range,
        ty: &Ty,
        span: Span,
    ) -> Option<Vec<LogicVector>> {
        if let Range::Of(tree) = choice {
            let is_type = matches!(&tree.kind, Node::Name(n) if matches!(context.get(n), Some(Symbol::Type { .. })));
            if !is_type && !matches!(&tree.kind, Node::Attribute(..)) {
                return Some(vec![self.static_value(context, tree, ty)?]);
            }
        }
        let (left, right, _) = self.static_range(context, choice, span)?;
        if left.abs_diff(right) > 65_536 {
            self.report(say::budget("more than 65,536 choices", span));
            return None;
        }
        let width = ty.width()?;
        let all = left.min(right)..=left.max(right);
        Some(all.map(|n| LogicVector::from_u64(64, n as u64).resized(width.min(INTEGER_BITS), true)).collect())
    }
}

/// What an arm of a case does.
pub(super) enum Body<'a> {
    Statements(&'a [tree::Stmt]),
    Drive { target: &'a Tree, wave: &'a Waveform, signal: bool },
}

/// Conditions with their statements as nested ifs; without a last one there is no else.
fn chain(arms: Vec<(Option<ExprId>, Vec<Stmt>)>, span: Span) -> Vec<Stmt> {
    let mut last: Option<Vec<Stmt>> = None;
    for (condition, then) in arms.into_iter().rev() {
        last = Some(match condition {
            None => then,
            Some(condition) => vec![Stmt { kind: StmtKind::If { condition, then, otherwise: last }, span }],
        });
    }
    last.unwrap_or_default()
}

/// `exit` and `next` of an unrolled loop: they leave the block of all turns, or of this one.
fn rename_jumps(list: Vec<Stmt>, label: Option<&str>, name: &str) -> Vec<Stmt> {
    let mine = |l: &Option<String>| l.is_none() || l.as_deref() == label && label.is_some();
    list.into_iter()
        .map(|stmt| {
            let kind = match stmt.kind {
                StmtKind::Exit(l) if mine(&l) => StmtKind::Exit(Some(name.to_owned())),
                StmtKind::Next(l) if mine(&l) => StmtKind::Exit(Some(format!("{name} turn"))),
                StmtKind::If { condition, then, otherwise } => StmtKind::If {
                    condition,
                    then: rename_jumps(then, label, name),
                    otherwise: otherwise.map(|o| rename_jumps(o, label, name)),
                },
                StmtKind::Case { matching, subject, arms, default } => StmtKind::Case {
                    matching,
                    subject,
                    arms: arms
                        .into_iter()
                        .map(|a| design::Arm { body: rename_jumps(a.body, label, name), ..a })
                        .collect(),
                    default: default.map(|d| rename_jumps(d, label, name)),
                },
                // Jumps without a label in an inner loop are that loop's; those of inner blocks have theirs already.
                StmtKind::Loop { kind, body, step, label: inner } => {
                    StmtKind::Loop { kind, body: rename_named(body, label, name), step, label: inner }
                }
                StmtKind::Block { label: inner, body } => {
                    StmtKind::Block { label: inner, body: rename_named(body, label, name) }
                }
                other => other,
            };
            Stmt { kind, ..stmt }
        })
        .collect()
}

/// The same for jumps that name the loop only, however deep they stand.
fn rename_named(list: Vec<Stmt>, label: Option<&str>, name: &str) -> Vec<Stmt> {
    let Some(own) = label else { return list };
    let inner = |list: Vec<Stmt>| rename_named(list, label, name);
    list.into_iter()
        .map(|stmt| {
            let kind = match stmt.kind {
                StmtKind::Exit(Some(l)) if l == own => StmtKind::Exit(Some(name.to_owned())),
                StmtKind::Next(Some(l)) if l == own => StmtKind::Exit(Some(format!("{name} turn"))),
                StmtKind::If { condition, then, otherwise } => {
                    StmtKind::If { condition, then: inner(then), otherwise: otherwise.map(inner) }
                }
                StmtKind::Case { matching, subject, arms, default } => StmtKind::Case {
                    matching,
                    subject,
                    arms: arms.into_iter().map(|a| design::Arm { body: inner(a.body), ..a }).collect(),
                    default: default.map(inner),
                },
                StmtKind::Block { label, body } => StmtKind::Block { label, body: inner(body) },
                StmtKind::Loop { kind, body, step, label } => StmtKind::Loop { kind, body: inner(body), step, label },
                other => other,
            };
            Stmt { kind, ..stmt }
        })
        .collect()
}

/// A fault of the values, which only shows where the statement runs.
fn is_of_values(diagnostic: &base::Diagnostic) -> bool {
    const CODES: [&str; 5] =
        ["null-range", "index-outside", "value-outside-range", "length-differs", "endless-recursion"];
    CODES.contains(&diagnostic.code)
}
