//! Statements of blocks, functions and tasks.

use super::symbols::Names;
use super::symbols::Symbol;
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{self, CaseKind, Control, Declaration, Domain, EdgeKind, Ident, NodeId};
use base::{Exhausted, Span};
use design::{
    AssignMode, CaseMatch, Direction, Edge, Event, ExprKind, LoopKind, Sensitivity, Stmt, StmtKind, WaitKind,
};
use front::Lower;
use logic::LogicVector;

impl<'a> Lowering<'a, '_> {
    pub(super) fn statements(
        &mut self,
        context: &mut Context<'a>,
        list: &'a [tree::Stmt],
    ) -> Result<Vec<Stmt>, Exhausted> {
        let mut out = Vec::with_capacity(list.len());
        for stmt in list {
            self.statement(context, stmt, &mut out)?;
        }
        Ok(out)
    }

    fn list(&mut self, context: &mut Context<'a>, stmt: &'a tree::Stmt) -> Result<Vec<Stmt>, Exhausted> {
        self.statements(context, std::slice::from_ref(stmt))
    }

    #[expect(clippy::too_many_lines, reason = "an arm for each kind of statement")]
    fn statement(
        &mut self,
        context: &mut Context<'a>,
        stmt: &'a tree::Stmt,
        out: &mut Vec<Stmt>,
    ) -> Result<(), Exhausted> {
        self.budget.spend(1)?;
        self.budget.enter()?;
        let span = stmt.span;
        let kind = match &stmt.kind {
            tree::StmtKind::Empty => None,
            tree::StmtKind::Assign { target, value, blocking, delay } => {
                self.assign(context, (*target, *value), *blocking, delay.as_ref(), span, out)
            }
            tree::StmtKind::Break => Some(StmtKind::Exit(None)),
            tree::StmtKind::Continue => Some(StmtKind::Next(None)),
            tree::StmtKind::Trigger(name) => self.trigger(context, name, span),
            tree::StmtKind::Assert { condition, then, otherwise } => {
                let condition = self.condition(context, *condition);
                let then = self.list(context, then)?;
                let otherwise = match otherwise {
                    Some(other) => self.list(context, other)?,
                    None => {
                        let message = vec![design::PrintPart::Text("assertion failed".into())];
                        let never = self.constant_expr(LogicVector::from_u64(1, 0), span);
                        vec![Stmt { kind: StmtKind::Assert { condition: never, message, severity: 2 }, span }]
                    }
                };
                Some(StmtKind::If { condition, then, otherwise: Some(otherwise) })
            }
            tree::StmtKind::If { .. } => Some(self.if_chain(context, stmt)?),
            tree::StmtKind::Case { kind, subject, arms } => Some(self.case(context, *kind, *subject, arms, span)?),
            tree::StmtKind::For { declared, start, condition, step, body } => {
                context.symbols.enter();
                if let Some(declaration) = declared {
                    self.locals(context, std::slice::from_ref(declaration), out);
                }
                out.extend(self.statements(context, start)?);
                let condition = self.condition(context, *condition);
                let body = self.list(context, body)?;
                let step = self.statements(context, step)?;
                context.symbols.leave();
                Some(StmtKind::Loop { kind: LoopKind::While(condition), body, step, label: None })
            }
            tree::StmtKind::Foreach { array, variables, body } => {
                self.foreach(context, array, variables, body, span)?
            }
            tree::StmtKind::Fork { label, branches, join } => {
                self.fork(context, (label.as_ref(), branches, *join), span, out)?
            }
            tree::StmtKind::WaitForked => self.wait_for_forked(span),
            tree::StmtKind::DisableForked => self.disable_forked(),
            tree::StmtKind::While { condition, body } => {
                let kind = LoopKind::While(self.condition(context, *condition));
                Some(StmtKind::Loop { kind, body: self.list(context, body)?, step: Vec::new(), label: None })
            }
            tree::StmtKind::Repeat { count, body } => {
                // With its sign: a negative count is none (IEEE 1364-2005 9.6).
                let (value, size) = self.expr(context, *count);
                let wide = size.width.max(64) + 1;
                let kind = LoopKind::Repeat(self.resize(value, wide, size.signed, span));
                Some(StmtKind::Loop { kind, body: self.list(context, body)?, step: Vec::new(), label: None })
            }
            tree::StmtKind::Forever { body } => {
                let body = self.list(context, body)?;
                Some(StmtKind::Loop { kind: LoopKind::Forever, body, step: Vec::new(), label: None })
            }
            tree::StmtKind::Block { label, declarations, body } => {
                context.symbols.enter();
                let mut first = Vec::new();
                self.locals(context, declarations, &mut first);
                self.forks.around.extend(label.as_ref().map(|l| l.name.clone()));
                let rest = self.statements(context, body)?;
                self.forks.around.truncate(self.forks.around.len() - usize::from(label.is_some()));
                context.symbols.leave();
                let body = if first.is_empty() { rest } else { first.into_iter().chain(rest).collect() };
                Some(StmtKind::Block { label: label.as_ref().map(|l| l.name.clone()), body })
            }
            tree::StmtKind::Controlled { control, body } => {
                let wait = match self.control(context, control) {
                    Some(wait) => StmtKind::Wait(wait),
                    None => StmtKind::Block { label: None, body: Vec::new() },
                };
                out.push(Stmt { kind: wait, span });
                out.extend(self.list(context, body)?);
                None
            }
            tree::StmtKind::Wait { condition, body } => {
                let kind = StmtKind::Wait(WaitKind::Until(self.condition(context, *condition)));
                out.push(Stmt { kind, span });
                out.extend(self.list(context, body)?);
                None
            }
            tree::StmtKind::Disable(label) => Some(StmtKind::Exit(Some(label.name.clone()))),
            tree::StmtKind::Return(value) => self.return_statement(context, *value, span, out),
            tree::StmtKind::Dropped(value) => self.dropped(context, *value),
            tree::StmtKind::Force { target, value, held } => self.force(context, *target, *value, *held),
            tree::StmtKind::SystemCall { name, arguments } => self.system_task(context, name, arguments, span),
            tree::StmtKind::Call { name, arguments } => self.task_call(context, name, arguments, span),
        };
        out.extend(kind.map(|kind| Stmt { kind, span }));
        self.budget.leave();
        Ok(())
    }

    fn locals(&mut self, context: &mut Context<'a>, declarations: &'a [Declaration], out: &mut Vec<Stmt>) {
        for declaration in declarations {
            for name in &declaration.names {
                let layout = self.layout(context, declaration, name);
                let initial = name.value.map(|value| (value, layout.clone()));
                let zero = declaration.ty.two_state.then(|| LogicVector::from_u64(layout.width(), 0));
                let id = self.declare_variable(context, &name.name, layout);
                self.design.variables[id].initial = zero;
                if let Some((value, layout)) = initial {
                    let width = layout.width();
                    let value = self.expr_as(context, value, &layout);
                    let span = name.name.span;
                    let target =
                        design::Target { storage: design::Storage::Variable(id), low: 0, width, element: None, span };
                    let kind =
                        StmtKind::Assign { targets: vec![target], value, mode: AssignMode::Blocking, delay: None };
                    out.push(Stmt { kind, span });
                }
            }
        }
    }

    fn assign(
        &mut self,
        context: &mut Context<'a>,
        (target, value): (NodeId, NodeId),
        blocking: bool,
        control: Option<&'a Control>,
        span: Span,
        out: &mut Vec<Stmt>,
    ) -> Option<StmtKind> {
        let whole = self.whole_layout(context, target);
        let targets = self.targets(context, target, true);
        let width: u32 = targets.as_ref().map_or(1, |t| t.iter().map(|t| t.width).sum());
        let value = match whole.filter(|l| l.width() == width) {
            Some(layout) => self.expr_as(context, value, &layout),
            None => self.expr_assigned(context, value, width),
        };
        let mode = if blocking { AssignMode::Blocking } else { AssignMode::NonBlocking };
        let targets = targets?;
        let wait = match control {
            None => return Some(StmtKind::Assign { targets, value, mode, delay: None }),
            Some(Control::Delay(amount)) if !blocking => {
                let amount = self.femtoseconds(context, *amount);
                let delay = Some(design::Delay { amount, transport: true, reject: None });
                return Some(StmtKind::Assign { targets, value, mode, delay });
            }
            Some(control) => self.controlled_wait(context, control, span),
        };
        // The value is taken now and written after the wait (IEEE 1364-2005 9.7.7).
        let layout = super::symbols::Layout::vector(logic::Shape::vector(i32::try_from(width).ok()? - 1, 0), false);
        let ty = self.type_of(&layout);
        let kept = design::Variable { name: "value".into(), ty, initial: None, span };
        let kept = self.design.variables.push(kept);
        let store = design::Target { storage: design::Storage::Variable(kept), low: 0, width, element: None, span };
        let keep = StmtKind::Assign { targets: vec![store], value, mode: AssignMode::Blocking, delay: None };
        out.push(Stmt { kind: keep, span });
        let value = self.push(ExprKind::Variable(kept), width, span);
        let write = StmtKind::Assign { targets, value, mode, delay: None };
        if blocking {
            out.extend(wait.map(|kind| Stmt { kind, span }));
            return Some(write);
        }
        // A non-blocking one lets the block go on meanwhile.
        let body = wait.into_iter().chain([write]).map(|kind| Stmt { kind, span }).collect();
        let (start, _) = self.branches(context, vec![(body, span)], span);
        Some(start.kind)
    }

    /// What stands between the two halves of an assignment.
    fn controlled_wait(&mut self, context: &mut Context<'a>, control: &'a Control, span: Span) -> Option<StmtKind> {
        let Control::Repeated(count, inner) = control else {
            return self.control(context, control).map(StmtKind::Wait);
        };
        let (value, size) = self.expr(context, *count);
        let kind = LoopKind::Repeat(self.resize(value, size.width.max(64) + 1, size.signed, span));
        let body = self.control(context, inner).map(|w| Stmt { kind: StmtKind::Wait(w), span });
        Some(StmtKind::Loop { kind, body: body.into_iter().collect(), step: Vec::new(), label: None })
    }

    /// The layout of a target that is a signal or variable as a whole.
    pub(super) fn whole_layout(&self, context: &Context<'a>, target: NodeId) -> Option<super::symbols::Layout> {
        let tree::NodeKind::Name(name) = &context.module.exprs[target].kind else { return None };
        match context.symbols.get(&name.name) {
            Some(Symbol::Signal(s)) => Some(s.layout.clone()),
            Some(Symbol::Variable { layout, .. }) => Some(layout.clone()),
            _ => None,
        }
    }

    /// A value that nobody wants, for what computing it does besides.
    fn dropped(&mut self, context: &mut Context<'a>, value: NodeId) -> Option<StmtKind> {
        let span = context.module.exprs[value].span;
        let (value, _) = self.expr_any(context, value, 0);
        self.dropped_value(value, span)
    }

    /// The same of a value that stands already.
    pub(super) fn dropped_value(&mut self, value: design::ExprId, span: Span) -> Option<StmtKind> {
        let width = self.design.exprs[value].width;
        let ty = self.logic_type(logic::Shape::vector(i32::try_from(width).ok()? - 1, 0), false);
        let id = self.design.variables.push(design::Variable { name: "dropped".into(), ty, initial: None, span });
        let storage = design::Storage::Variable(id);
        let target = design::Target { storage, low: 0, width, element: None, span };
        Some(StmtKind::Assign { targets: vec![target], value, mode: AssignMode::Blocking, delay: None })
    }

    /// `-> e;` turns the event's bit over.
    fn trigger(&mut self, context: &mut Context<'a>, name: &Ident, span: Span) -> Option<StmtKind> {
        let Some(Symbol::Event { id, .. }) = context.symbols.get(&name.name) else {
            let near = context.symbols.nearest(&name.name).map(str::to_owned);
            self.report(say::undeclared(&name.name, near.as_deref(), name.span));
            return None;
        };
        let storage = design::Storage::Signal(*id);
        let now = self.push(ExprKind::Signal(*id), 1, span);
        let value = self.push(ExprKind::Unary(design::UnaryOp::Not, now), 1, span);
        let target = design::Target { storage, low: 0, width: 1, element: None, span };
        Some(StmtKind::Assign { targets: vec![target], value, mode: AssignMode::Blocking, delay: None })
    }

    /// A delay in femtoseconds; a real number keeps its fraction.
    pub(super) fn femtoseconds(&mut self, context: &mut Context<'a>, amount: NodeId) -> design::ExprId {
        let span = context.module.exprs[amount].span;
        if let tree::NodeKind::Delays(list) = &context.module.exprs[amount].kind
            && let Some(first) = list.first()
        {
            return self.femtoseconds(context, *first);
        }
        if let tree::NodeKind::Time(time) = context.module.exprs[amount].kind {
            return self.constant_expr(LogicVector::from_u64(64, time.round().clamp(0.0, 1e18) as u64), span);
        }
        if let tree::NodeKind::Number(number) = &context.module.exprs[amount].kind {
            // A number as it stands is never negative, whatever its bit 31.
            let value = self.constant_expr(number.value.resized(number.value.width().max(64), false), span);
            return self.time_in_femtoseconds(context, value, false, span);
        }
        let (value, size) = self.expr_any(context, amount, 64);
        if size.domain == Domain::Real {
            return self.real_femtoseconds(context, value, span);
        }
        self.time_in_femtoseconds(context, value, size.signed, span)
    }

    /// The delay of a net or gate, which may be another for each level that it goes to (IEEE 1364-2005 6.1.3 and 7.14):
    /// `#(rise, fall, turn off)`. A vector falls when all of it is 0.
    pub(super) fn edge_delay(
        &mut self,
        context: &mut Context<'a>,
        amount: NodeId,
        value: design::ExprId,
        span: Span,
    ) -> design::ExprId {
        let tree::NodeKind::Delays(list) = &context.module.exprs[amount].kind else {
            return self.femtoseconds(context, amount);
        };
        let amounts: Vec<design::ExprId> = list.clone().iter().map(|d| self.femtoseconds(context, *d)).collect();
        let width = self.design.exprs[value].width;
        let mut chosen = amounts[0];
        for (other, level) in amounts.iter().skip(1).zip([logic::Level::Zero, logic::Level::HighZ]) {
            let constant = self.constant_expr(LogicVector::filled(width, level), span);
            let kind = design::ExprKind::Binary {
                op: design::BinaryOp::SameLevels,
                signed: false,
                unknowns: design::Unknowns::Propagate,
                left: value,
                right: constant,
            };
            let condition = self.push(kind, 1, span);
            let unknown = design::UnknownCondition::Otherwise;
            let size = self.design.exprs[chosen].width;
            chosen =
                self.push(design::ExprKind::Select { condition, then: *other, otherwise: chosen, unknown }, size, span);
        }
        chosen
    }

    /// Built from the end of the chain, so that a long one doesn't recurse here.
    fn if_chain(&mut self, context: &mut Context<'a>, stmt: &'a tree::Stmt) -> Result<StmtKind, Exhausted> {
        let mut arms = Vec::new();
        let mut last = None;
        let mut at = Some(stmt);
        let outer = context.is_dead;
        while let Some(here) = at {
            let tree::StmtKind::If { condition, then, otherwise } = &here.kind else {
                last = Some(self.list(context, here)?);
                break;
            };
            self.budget.spend(1)?;
            let condition = self.condition(context, *condition);
            let known = design::fold(&self.design, condition).and_then(|v| v.bits().next()?.known());
            let rest = context.is_dead;
            context.is_dead |= known == Some(false);
            arms.push((here.span, condition, self.list(context, then)?));
            context.is_dead = rest || known == Some(true);
            at = otherwise.as_deref();
        }
        context.is_dead = outer;
        for (span, condition, then) in arms.into_iter().rev() {
            let kind = StmtKind::If { condition, then, otherwise: last };
            last = Some(vec![Stmt { kind, span }]);
        }
        let only = last.and_then(|mut l| l.pop());
        Ok(only.map_or(StmtKind::Block { label: None, body: Vec::new() }, |s| s.kind))
    }

    fn case(
        &mut self,
        context: &mut Context<'a>,
        kind: CaseKind,
        subject: NodeId,
        arms: &'a [tree::CaseArm],
        span: Span,
    ) -> Result<StmtKind, Exhausted> {
        // IEEE 1364-2005 9.5: subject and choices are sized against each other; signed only when all of them are.
        let sizes: Vec<_> = std::iter::once(&subject)
            .chain(arms.iter().flat_map(|a| &a.choices))
            .map(|n| self.expr(context, *n).1)
            .collect();
        let width = sizes.iter().map(|s| s.width).max().unwrap_or(1);
        let signed = sizes.iter().all(|s| s.signed);
        let mut sized = |me: &mut Self, node: NodeId| {
            let (value, size) = me.expr_at_least(context, node, width);
            me.resize(value, width, signed && size.signed, span)
        };
        let subject = sized(self, subject);
        let choices: Vec<Vec<_>> =
            arms.iter().map(|arm| arm.choices.iter().map(|c| sized(self, *c)).collect()).collect();
        if kind == CaseKind::Exact {
            self.duplicate_choices(arms, &choices);
        }
        let mut list = Vec::new();
        let mut default = None;
        for (arm, choices) in arms.iter().zip(choices) {
            self.budget.spend(1)?;
            let body = self.list(context, &arm.body)?;
            if arm.choices.is_empty() {
                default = Some(body);
            } else {
                list.push(design::Arm { choices, body, span: arm.span });
            }
        }
        let matching = match kind {
            CaseKind::Exact => CaseMatch::Exact,
            CaseKind::HighZ => CaseMatch::HighZ,
            CaseKind::Unknown => CaseMatch::Unknown,
        };
        Ok(StmtKind::Case { matching, subject, arms: list, default })
    }

    /// Tells constant choices that stand in a case twice.
    fn duplicate_choices(&mut self, arms: &[tree::CaseArm], choices: &[Vec<design::ExprId>]) {
        let mut seen: std::collections::BTreeMap<String, Span> = std::collections::BTreeMap::new();
        for (arm, choices) in arms.iter().zip(choices) {
            for choice in choices {
                let Some(value) = design::fold(&self.design, *choice) else { continue };
                match seen.get(&value.to_string()).copied() {
                    Some(first) => self.report(say::duplicate_choice(arm.span, first)),
                    None => {
                        seen.insert(value.to_string(), arm.span);
                    }
                }
            }
        }
    }

    /// What a block waits for before its statement; `None` for `@*`, which waits for what follows.
    fn control(&mut self, context: &mut Context<'a>, control: &'a Control) -> Option<WaitKind> {
        match control {
            // A count stands within an assignment only.
            Control::Star | Control::Repeated(..) => None,
            Control::Events(events) => Some(WaitKind::On(self.events(context, events))),
            Control::Delay(amount) => Some(WaitKind::For(self.femtoseconds(context, *amount))),
        }
    }

    fn events(&mut self, context: &mut Context<'a>, events: &'a [(EdgeKind, NodeId)]) -> Vec<Event> {
        events
            .iter()
            .map(|(edge, node)| {
                let edge = match edge {
                    EdgeKind::Any => Edge::Any,
                    EdgeKind::Rising => Edge::Rising,
                    EdgeKind::Falling => Edge::Falling,
                };
                Event { edge, expr: self.expr(context, *node).0 }
            })
            .collect()
    }

    /// The control in front of an always block's statement becomes its sensitivity.
    pub(super) fn sensitivity(
        &mut self,
        context: &mut Context<'a>,
        body: &'a tree::Stmt,
    ) -> (Sensitivity, &'a tree::Stmt) {
        match &body.kind {
            tree::StmtKind::Controlled { control: Control::Star, body } => (Sensitivity::Reads, body),
            tree::StmtKind::Controlled { control: Control::Events(events), body } => {
                (Sensitivity::Events(self.events(context, events)), body)
            }
            _ => (Sensitivity::Forever, body),
        }
    }

    fn return_statement(
        &mut self,
        context: &mut Context<'a>,
        value: Option<NodeId>,
        span: Span,
        out: &mut Vec<Stmt>,
    ) -> Option<StmtKind> {
        if let Some(value) = value {
            let result = self.design.subprograms.iter().rev().find_map(|(_, s)| {
                let id = s.result?;
                let name = &self.design.variables[id].name;
                matches!(context.symbols.get(name), Some(Symbol::Variable { id: found, .. }) if *found == id)
                    .then_some(id)
            });
            let Some(result) = result else {
                self.report(say::not_understood_yet("`return` outside a function", span));
                return None;
            };
            let ty = self.design.variables[result].ty;
            let width = self.design.type_width(ty);
            let value = self.expr_typed(context, value, ty);
            let target =
                design::Target { storage: design::Storage::Variable(result), low: 0, width, element: None, span };
            let kind = StmtKind::Assign { targets: vec![target], value, mode: AssignMode::Blocking, delay: None };
            out.push(Stmt { kind, span });
        }
        Some(StmtKind::Return)
    }

    fn system_task(
        &mut self,
        context: &mut Context<'a>,
        name: &str,
        arguments: &'a [NodeId],
        span: Span,
    ) -> Option<StmtKind> {
        match name {
            "display" | "write" | "strobe" | "monitor" | "displayb" | "displayo" | "displayh" | "writeb" | "writeo"
            | "writeh" | "strobeb" | "strobeo" | "strobeh" | "monitorb" | "monitoro" | "monitorh" => {
                Some(self.print(context, name, arguments, span))
            }
            "info" | "warning" | "error" | "fatal" => {
                let (severity, skip) = match name {
                    "info" => (0, 0),
                    "warning" => (1, 0),
                    "error" => (2, 0),
                    _ => (3, usize::from(arguments.len() > 1)),
                };
                let message = self.print_parts(context, &arguments[skip..], design::Radix::Decimal, span);
                let condition = self.constant_expr(LogicVector::from_u64(1, 0), span);
                Some(StmtKind::Assert { condition, message, severity })
            }
            // `if (FILE != "") $readmemh(FILE, rom);`
            "readmemb" | "readmemh" if context.is_dead => None,
            "readmemb" | "readmemh" => self.read_memory(context, name == "readmemh", arguments, span),
            "finish" | "stop" => Some(StmtKind::Finish),
            "monitoron" | "monitoroff" => Some(StmtKind::Control(design::Control::Monitor(name == "monitoron"))),
            "timeformat" => self.time_format(context, arguments, span),
            // Everything is recorded anyway.
            "fdisplay" | "fwrite" | "fstrobe" | "fmonitor" | "fdisplayb" | "fdisplayh" | "fwriteb" | "fwriteh"
                if !arguments.is_empty() =>
            {
                // There are no files to write: what goes to one stands in the output.
                Some(self.print(context, &name[1..], &arguments[1..], span))
            }
            "sformat" | "swrite" if !arguments.is_empty() => {
                let targets = self.targets(context, arguments[0], true)?;
                let width = targets.iter().map(|t| t.width).sum();
                let parts = self.print_parts(context, &arguments[1..], design::Radix::Decimal, span);
                let value = self.push(ExprKind::Format(parts), width, span);
                Some(StmtKind::Assign { targets, value, mode: AssignMode::Blocking, delay: None })
            }
            "fscanf" | "sscanf" | "fgets" | "fgetc" | "rewind" => self.read_statement(context, name, arguments, span),
            "fclose" | "fflush" => None,
            "dumpfile" | "dumpvars" | "dumpon" | "dumpoff" | "dumpall" | "dumpflush" => None,
            _ => {
                self.report(say::not_understood_yet(&format!("`${name}`"), span));
                None
            }
        }
    }

    fn task_call(
        &mut self,
        context: &mut Context<'a>,
        name: &Ident,
        arguments: &'a [NodeId],
        span: Span,
    ) -> Option<StmtKind> {
        let Some(id) = context.symbols.routine(&name.name) else {
            let near = context.symbols.nearest(&name.name).map(str::to_owned);
            self.report(say::undeclared(&name.name, near.as_deref(), name.span));
            return None;
        };
        let parameters = self.design.subprograms[id].parameters.clone();
        let Some(arguments) = self.arguments_of(context, &name.name, arguments) else {
            self.report(say::too_many_connections(&name.name, parameters.len(), span));
            return None;
        };
        let mut actuals = Vec::new();
        for (argument, (variable, direction)) in arguments.iter().zip(parameters) {
            let ty = self.design.variables[variable].ty;
            let width = self.design.type_width(ty);
            let target = match direction {
                Direction::In => None,
                _ => Some(self.targets(context, *argument, true)?.into_iter().next()?),
            };
            let value = match direction {
                Direction::Out => self.constant_expr(LogicVector::filled(width, logic::Level::Unknown), span),
                _ => self.expr_typed(context, *argument, ty),
            };
            if target.as_ref().is_some_and(|t| t.width != width) {
                self.report(say::not_understood_yet("An output of a task with another width", span));
                return None;
            }
            actuals.push((value, target));
        }
        Some(StmtKind::Call { subprogram: id, arguments: actuals })
    }
}
