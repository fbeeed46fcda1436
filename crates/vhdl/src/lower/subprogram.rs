//! Subprograms: which of several is called, what its parameters get, and its body for them.

use super::types::{INTEGER_BITS, Ty, VectorKind};
use super::{Context, Lowering, Returned, Symbol, Value};
use crate::diagnostics as say;
use crate::tree::{Association, Expr as Tree, ExprKind as Node, Ident, Mode, Object, ObjectKind, Subprogram};
use base::{Code, Span};
use design::{ExprKind, PrintPart, StmtKind, Subprogram as Routine, SubprogramId, Target, Variable};
use front::Lower;
use logic::LogicVector;
use std::collections::BTreeMap;

/// Parameters, by their place, that are in the body what was given: signals, and texts with values in them.
type Bound<'a> = BTreeMap<usize, Symbol<'a>>;

impl<'a> Lowering<'a, '_> {
    /// The one of several subprograms of a name that takes these arguments, and what each of its parameters gets.
    fn overload(
        &mut self,
        context: &mut Context<'a>,
        bodies: &[&'a Subprogram],
        given: Given<'_, 'a>,
        expected: Option<&Ty>,
    ) -> Option<(&'a Subprogram, Vec<&'a Tree>)> {
        let mut candidates: Vec<(&'a Subprogram, Vec<&'a Tree>)> =
            bodies.iter().filter_map(|s| Some((*s, given.in_order(s)?))).collect();
        if candidates.len() < 2 {
            return candidates.pop();
        }
        // Overloads are told apart by the types of the arguments as they stand.
        let mut types: Vec<(&'a Tree, Option<Ty>)> = Vec::new();
        for tree in given.trees() {
            // A literal may be a text or bits; what is put together with `&` may be either too.
            let joined = matches!(&tree.kind, Node::Binary("&", ..));
            if matches!(tree.kind, Node::Text(_)) || joined && holds_text(tree) {
                continue;
            }
            let ty = match super::text::is_text(context, tree) && !joined {
                true => Some(Ty::string(None)),
                false => self.type_of(context, tree),
            };
            types.push((tree, ty));
        }
        let ty_of = |tree: &Tree| types.iter().find(|(t, _)| std::ptr::eq(*t, tree)).map(|(_, ty)| ty.as_ref());
        candidates.into_iter().find(|(candidate, trees)| {
            let wanted: Option<Vec<Ty>> = candidate.parameters.iter().map(|p| self.subtype(context, &p.ty)).collect();
            let result = candidate.result.as_ref().and_then(|r| self.subtype(context, r));
            // What isn't given fits; what could not be read was told.
            let all = |wanted: Vec<Ty>| {
                trees.iter().zip(&wanted).all(|(tree, w)| ty_of(tree).is_none_or(|ty| ty.is_some_and(|t| w.fits(t))))
            };
            wanted.is_some_and(all) && expected.is_none_or(|e| result.is_none_or(|r| e.fits(&r)))
        })
    }

    /// The type of an operand as it stands, found once for an expression however deep its overloads are nested (else the
    /// work would double with each level).
    pub(super) fn type_of(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> Option<Ty> {
        let key: *const Tree = tree;
        if let Some(known) = self.typed.known.get(&key) {
            return known.clone();
        }
        let found = self.expr(context, tree, None).map(|v| v.ty);
        self.typed.known.insert(key, found.clone());
        found
    }

    pub(super) fn function_call(
        &mut self,
        context: &mut Context<'a>,
        list: &[&'a Subprogram],
        name: &str,
        given: Given<'_, 'a>,
        expected: Option<&Ty>,
        span: Span,
    ) -> Option<Value> {
        let bodies: Vec<&'a Subprogram> =
            list.iter().copied().filter(|s| s.body.is_some() && s.result.is_some()).collect();
        let Some((routine, trees)) = self.overload(context, &bodies, given, expected) else {
            self.report(say::wrong_arguments(name, span));
            return None;
        };
        let mut values = Vec::new();
        for (parameter, tree) in routine.parameters.iter().zip(trees) {
            let ty = self.subtype(context, &parameter.ty)?;
            let value = self.expr(context, tree, Some(&ty))?;
            let found = value.ty.clone();
            let mut id = self.convert(value, &ty, tree.span)?;
            if let Ty::Integer { low, high } = &ty {
                let what = format!("`{}` leaves its range", parameter.name.name);
                id = self.stays_within_ends(&Value { id, ty: found.clone() }, (*low, *high), &what, tree.span);
            }
            let ty = if ty.width().is_none() { found } else { ty };
            values.push(Value { id: self.stored(id, &ty, tree.span), ty });
        }
        let (id, result) = self.shaped_routine(context, routine, &values, Bound::new(), span)?;
        let result = result?;
        let width = result.stored_width()?;
        let arguments = values.iter().map(|v| v.id).collect();
        let raw = self.push(ExprKind::Call { subprogram: id, arguments }, width, span);
        let id = match &result {
            Ty::Integer { low, .. } => self.resize(raw, INTEGER_BITS, *low < 0, span),
            _ => raw,
        };
        Some(Value { id, ty: result })
    }

    /// The subprogram lowered for these values. Where its body needs a number as a constant — for the length of a vector,
    /// say — and a constant is given for it, it is lowered for that constant.
    fn shaped_routine(
        &mut self,
        context: &mut Context<'a>,
        routine: &'a Subprogram,
        values: &[Value],
        bound: Bound<'a>,
        span: Span,
    ) -> Option<(SubprogramId, Option<Ty>)> {
        let numbers: Bound<'a> = routine
            .parameters
            .iter()
            .zip(values)
            .enumerate()
            .filter(|(at, (parameter, value))| {
                let is_number = matches!(value.ty, Ty::Integer { .. } | Ty::Boolean);
                parameter.mode == Mode::In && is_number && !bound.contains_key(at)
            })
            .filter_map(|(at, (parameter, value))| {
                let known = design::fold(&self.design, value.id)?;
                let signed = matches!(value.ty, Ty::Integer { low, .. } if low < 0);
                let number = known.resized(value.ty.width()?, signed);
                let symbol = Symbol::Constant { value: number, ty: value.ty.clone(), span: parameter.name.span };
                Some((at, symbol))
            })
            .collect();
        if numbers.is_empty() {
            return self.routine(context, routine, values, &bound, span);
        }
        let all = |bound: Bound<'a>| -> Bound<'a> { bound.into_iter().chain(numbers.clone()).collect() };
        let key = routine.name.span;
        if self.shaped.contains(&key) {
            return self.routine(context, routine, values, &all(bound), span);
        }
        let (before, routines) = (self.findings.clone(), self.routines.len());
        let found = self.routine(context, routine, values, &bound, span);
        if !self.findings[before.len()..].iter().any(|d| d.code == Code::CONSTANT_NEEDED) {
            return found;
        }
        let length = before.len();
        let first_reading = std::mem::replace(&mut self.findings, before);
        self.routines.truncate(routines);
        let found = self.routine(context, routine, values, &all(bound), span);
        if found.is_some() && self.findings.len() == length {
            self.shaped.insert(key);
            return found;
        }
        // It was something else: the first reading stands.
        self.findings = first_reading;
        None
    }

    /// The subprogram lowered for parameters of these types; its result type.
    fn routine(
        &mut self,
        context: &mut Context<'a>,
        routine: &'a Subprogram,
        values: &[Value],
        bound: &Bound<'a>,
        span: Span,
    ) -> Option<(SubprogramId, Option<Ty>)> {
        let types: Vec<Ty> = values.iter().map(|v| v.ty.clone()).collect();
        let key = routine.name.span;
        if let Some((_, _, id, result)) = self.routines.iter().find(|(r, t, _, _)| *r == key && *t == types)
            && bound.is_empty()
        {
            return Some((*id, result.clone()));
        }
        if self.budget.enter().is_err() || self.routines.len() > 10_000 {
            self.report(say::recursion(&routine.name.name, span));
            return None;
        }
        let (declarations, body) = routine.body.as_ref()?;
        let mut layer = BTreeMap::new();
        let mut parameters = Vec::new();
        for (parameter, ty) in routine.parameters.iter().zip(&types) {
            let type_id = ty.intern(&mut self.design);
            let variable =
                Variable { name: parameter.spelling.clone(), ty: type_id, initial: None, span: parameter.name.span };
            let id = self.design.variables.push(variable);
            // A signal parameter is the actual signal itself.
            let bound = bound.get(&parameters.len());
            parameters
                .push((id, if bound.is_some() { design::Direction::In } else { super::direction(parameter.mode) }));
            let span = parameter.name.span;
            let symbol = bound.cloned().unwrap_or_else(|| Symbol::Variable { id, ty: ty.clone(), span });
            layer.insert(parameter.name.name.clone(), symbol);
        }
        let result = match &routine.result {
            Some(result) => Some(self.subtype(context, result)?),
            None => None,
        };
        let shell = Routine {
            name: routine.name.name.clone(),
            parameters,
            result: None,
            body: Vec::new(),
            span: routine.name.span,
        };
        let id = self.design.subprograms.push(shell);
        let before = context.result.take();
        context.result = result.map(|ty| Returned { ty, variable: None });
        if let Some(Returned { ty, variable }) = &mut context.result
            && ty.width().is_some()
        {
            *variable = Some(new_result(&mut self.design, routine, ty));
        }
        // Known before its body is read, so that it may call itself; a result whose length the body decides is not.
        let result_now = context.result.as_ref().map(|r| r.ty.clone());
        let known = bound.is_empty() && result_now.as_ref().is_none_or(|ty| ty.width().is_some());
        if known {
            self.routines.push((key, types.clone(), id, result_now));
        } else if self.unfinished.contains(&key) {
            self.report(say::recursion(&routine.name.name, span));
            context.result = before;
            self.budget.leave();
            return None;
        }
        self.unfinished.push(key);
        context.layers.enter_with(layer);
        // Its own expressions are read for its own parameters.
        let typed = std::mem::take(&mut self.typed);
        let before_late = std::mem::take(&mut self.late);
        let done = self.declarations(context, declarations).is_ok();
        let late = std::mem::replace(&mut self.late, before_late);
        let statements = if done { self.statements(context, body) } else { None };
        context.layers.leave();
        self.typed = typed;
        self.unfinished.pop();
        let returned = std::mem::replace(&mut context.result, before);
        self.budget.leave();
        let result_ty = returned.as_ref().map(|r| r.ty.clone());
        // Also where the body can't be read: what calls it meanwhile is of this type, and a finding stops the whole.
        self.design.subprograms[id].result = returned.and_then(|r| r.variable);
        let statements = statements?;
        let whole = self.afresh(declarations).into_iter().chain(late).chain(statements).collect();
        self.design.subprograms[id].body = whole;
        if bound.is_empty() && !known {
            self.routines.push((key, types, id, result_ty.clone()));
        }
        Some((id, result_ty))
    }

    /// Variables of a subprogram begin afresh at each call.
    fn afresh(&mut self, declarations: &[crate::tree::Declaration]) -> Vec<design::Stmt> {
        let mut list = Vec::new();
        for declaration in declarations {
            if let crate::tree::Declaration::Object(object) = declaration
                && object.kind == ObjectKind::Variable
            {
                self.reset_variable(&object.name, &mut list, object.name.span);
            }
        }
        list
    }

    /// Gives a subprogram's variable its first value.
    fn reset_variable(&mut self, name: &Ident, out: &mut Vec<design::Stmt>, span: Span) {
        let found = self
            .design
            .variables
            .iter()
            .rev()
            .find(|(_, v)| v.span == name.span)
            .map(|(id, v)| (id, v.ty, v.initial.clone()));
        let Some((id, ty, initial)) = found else { return };
        let width = self.design.type_width(ty);
        let value = initial.unwrap_or_else(|| Self::unknown_value(&Ty::Logic, width));
        let value = self.constant_expr(value.resized(width, true), span);
        let target = Target { storage: design::Storage::Variable(id), low: 0, width, element: None, span };
        let kind = StmtKind::Assign { targets: vec![target], value, mode: design::AssignMode::Blocking, delay: None };
        out.push(design::Stmt { kind, span });
    }

    /// A procedure call as a statement.
    pub(super) fn procedure_call(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> Option<StmtKind> {
        let (base, arguments): (&'a Tree, &'a [Association]) = match &tree.kind {
            Node::Call(base, arguments, _) => (base, arguments),
            _ => (tree, &[]),
        };
        let name = match &base.kind {
            Node::Name(name) => name,
            // `std.env.finish`, `work.pack.step(…)`
            Node::Select(_, last) => &last.name,
            _ => {
                self.report(say::not_read_yet("This call", tree.span));
                return None;
            }
        };
        if !matches!(context.get(name), Some(Symbol::Routine { .. }))
            && let Some(kind) = self.standard_procedure(context, name, arguments, tree.span)
        {
            return kind;
        }
        let Some(Symbol::Routine { list, .. }) = context.get(name).cloned() else {
            self.undeclared(context, name, base.span);
            return None;
        };
        let bodies: Vec<&'a Subprogram> =
            list.iter().copied().filter(|s| s.body.is_some() && s.result.is_none()).collect();
        let Some((routine, trees)) = self.overload(context, &bodies, Given::Arguments(arguments), None) else {
            self.report(say::wrong_arguments(name, tree.span));
            return None;
        };
        let mut values = Vec::new();
        let mut targets = Vec::new();
        let mut bound = Bound::new();
        let mut kept = Vec::new();
        for (position, (parameter, tree)) in routine.parameters.iter().zip(&trees).enumerate() {
            let ty = self.subtype(context, &parameter.ty)?;
            if parameter.kind == ObjectKind::Signal
                && let Node::Name(actual) = &tree.kind
                && let Some(signal @ Symbol::Signal { .. }) = context.get(actual).cloned()
            {
                let (value, symbol) = self.signal_argument(parameter, &ty, actual, signal, tree.span)?;
                values.push(value);
                targets.push(None);
                bound.insert(position, symbol);
                continue;
            }
            if parameter.mode == Mode::In && ty.is_string() && super::text::is_text(context, tree) {
                let parts = self.text_parts(context, tree)?;
                let parts = parts.into_iter().map(|p| self.kept_part(p, &mut kept, tree.span)).collect();
                bound.insert(position, self.text_symbol(parts, parameter.name.span));
                // The text is known to the body by its pieces; what is handed over is nothing.
                let id = self.constant_expr(LogicVector::from_u64(8, 0), tree.span);
                values.push(Value { id, ty: Ty::string(Some((1, 1))) });
                targets.push(None);
                continue;
            }
            if parameter.mode == Mode::In {
                let value = self.expr(context, tree, Some(&ty))?;
                let found = value.ty.clone();
                let id = self.convert(value, &ty, tree.span)?;
                let ty = if ty.width().is_none() { found } else { ty };
                values.push(Value { id: self.stored(id, &ty, tree.span), ty });
                targets.push(None);
                continue;
            }
            let place = self.place(context, tree, None)?;
            let width = place.ty.stored_width()?;
            let id = if parameter.mode == Mode::InOut && !place.signal {
                let value = self.expr(context, tree, Some(&ty))?;
                self.stored(value.id, &place.ty, tree.span)
            } else {
                self.constant_expr(Self::unknown_value(&Ty::Logic, width), tree.span)
            };
            values.push(Value { id, ty: place.ty.clone() });
            targets.push(Some(place.target));
        }
        let (id, _) = self.shaped_routine(context, routine, &values, bound, tree.span)?;
        let arguments = values.into_iter().map(|v| v.id).zip(targets).collect();
        let call = StmtKind::Call { subprogram: id, arguments };
        if kept.is_empty() {
            return Some(call);
        }
        kept.push(design::Stmt { kind: call, span: tree.span });
        Some(StmtKind::Block { label: None, body: kept })
    }

    /// A signal handed to a signal parameter: the body sees the signal itself.
    fn signal_argument(
        &mut self,
        parameter: &Object,
        ty: &Ty,
        actual: &str,
        signal: Symbol<'a>,
        span: Span,
    ) -> Option<(Value, Symbol<'a>)> {
        let Symbol::Signal { id, ty: actual_ty, mode, .. } = signal else { return None };
        if parameter.mode != Mode::In && mode == Some(Mode::In) {
            self.report(say::assign_to_input(actual, span));
            return None;
        }
        if !ty.fits(&actual_ty) {
            self.report(say::type_mismatch(&ty.describe(), &actual_ty.describe(), span));
            return None;
        }
        let width = actual_ty.stored_width()?;
        let raw = self.push(ExprKind::Signal(id), width, span);
        let mode = Some(own_mode(parameter.mode));
        let symbol = Symbol::Signal { id, ty: actual_ty.clone(), mode, span: parameter.name.span };
        Some((Value { id: raw, ty: actual_ty }, symbol))
    }

    /// A piece of a text with its value as it is now, before the call.
    fn kept_part(&mut self, part: PrintPart, kept: &mut Vec<design::Stmt>, span: Span) -> PrintPart {
        let PrintPart::Value { value, radix, signed, width } = part else { return part };
        let size = self.design.exprs[value].width;
        let ty = Ty::vector(VectorKind::StdLogic, size).intern(&mut self.design);
        let id = self.design.variables.push(Variable { name: "text".into(), ty, initial: None, span });
        let target = Target { storage: design::Storage::Variable(id), low: 0, width: size, element: None, span };
        let kind = StmtKind::Assign { targets: vec![target], value, mode: design::AssignMode::Blocking, delay: None };
        kept.push(design::Stmt { kind, span });
        PrintPart::Value { value: self.push(ExprKind::Variable(id), size, span), radix, signed, width }
    }
}

pub(super) fn new_result(design: &mut design::Design, routine: &Subprogram, ty: &Ty) -> design::VariableId {
    let type_id = ty.intern(design);
    design.variables.push(Variable { name: "result".into(), ty: type_id, initial: None, span: routine.name.span })
}

/// Is there a text among what is joined, one that can't be bits?
fn holds_text(tree: &Tree) -> bool {
    match &tree.kind {
        Node::Binary("&", left, right) => holds_text(left) || holds_text(right),
        Node::Text(text) => !text.chars().all(|c| "01XZUWLH-xzuwlh".contains(c)) || text.is_empty(),
        Node::Call(base, ..) => match &base.kind {
            Node::Attribute(_, attribute) => attribute.name == "image",
            Node::Name(name) => name.starts_with("to_") && name.ends_with("string"),
            _ => false,
        },
        _ => false,
    }
}

/// The mode of a signal parameter as its body sees it.
fn own_mode(mode: Mode) -> Mode {
    if mode == Mode::Out { Mode::Buffer } else { mode }
}

/// What a subprogram is called with.
#[derive(Clone, Copy)]
pub(super) enum Given<'l, 'a> {
    /// A call's own list.
    Arguments(&'a [Association]),
    /// The operands of an operator.
    Operands(&'l [&'a Tree]),
}

impl<'a> Given<'_, 'a> {
    fn trees(self) -> Vec<&'a Tree> {
        match self {
            Given::Arguments(list) => list.iter().filter_map(|a| a.actual.as_ref()).collect(),
            Given::Operands(list) => list.to_vec(),
        }
    }

    /// What each parameter gets, by its place, its name or its declaration; none where that does not come out.
    fn in_order(self, routine: &'a Subprogram) -> Option<Vec<&'a Tree>> {
        let mut places: Vec<Option<&'a Tree>> = vec![None; routine.parameters.len()];
        match self {
            Given::Operands(list) => {
                for (i, tree) in list.iter().enumerate() {
                    *places.get_mut(i)? = Some(tree);
                }
            }
            Given::Arguments(list) => {
                for (i, association) in list.iter().enumerate() {
                    let place = match &association.formal {
                        None => i,
                        Some(formal) => routine
                            .parameters
                            .iter()
                            .position(|p| matches!(&formal.kind, Node::Name(n) if *n == p.name.name))?,
                    };
                    *places.get_mut(place)? = association.actual.as_ref();
                }
            }
        }
        places.into_iter().zip(&routine.parameters).map(|(given, p)| given.or(p.value.as_ref())).collect()
    }
}
