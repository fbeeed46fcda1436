//! Sequential statements and what they assign.

use super::assignment::chain;
use super::jumps::rename_jumps;
use super::types::{INTEGER_BITS, Ty};
use super::{Context, Lowering, Symbol, Value, integer_vector};
use crate::diagnostics as say;
use crate::tree::{self, Expr as Tree, ExprKind as Node, Range, Waveform};
use base::{Code, Span};
use design::{AssignMode, CaseMatch, ExprId, ExprKind, LoopKind, Stmt, StmtKind, Storage, Target, WaitKind};
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

/// A fault of the values, which only shows where the statement runs.
fn is_of_values(diagnostic: &base::Diagnostic) -> bool {
    const CODES: [Code; 5] = [
        Code::NULL_RANGE,
        Code::INDEX_OUTSIDE,
        Code::VALUE_OUTSIDE_RANGE,
        Code::LENGTH_DIFFERS,
        Code::ENDLESS_RECURSION,
    ];
    CODES.contains(&diagnostic.code)
}
