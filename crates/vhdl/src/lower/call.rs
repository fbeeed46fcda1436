//! What a name with parentheses means: an element, a slice, a type conversion, a function of a package or of one's own.

use super::types::{INTEGER_BITS, Ty, VectorKind};
use super::{Context, Lowering, Returned, Symbol, Value};
use crate::diagnostics as say;
use crate::tree::{Association, Expr as Tree, ExprKind as Node, Ident, Mode, ObjectKind, Range, Subprogram};
use base::Span;
use design::{
    BinaryOp, ExprKind, StmtKind, Subprogram as Routine, SubprogramId, SystemFunction, Target, UnaryOp, Variable,
};
use logic::LogicVector;
use std::collections::BTreeMap;

/// Functions of the standard packages, each with the package that declares it.
const BUILT_IN: [(&str, &str); 38] = [
    ("std_match", "numeric"),
    ("rising_edge", "std_logic_1164"),
    ("falling_edge", "std_logic_1164"),
    ("to_bit", "std_logic_1164"),
    ("to_bitvector", "std_logic_1164"),
    ("to_stdulogic", "std_logic_1164"),
    ("to_stdlogicvector", "std_logic_1164"),
    ("to_stdulogicvector", "std_logic_1164"),
    ("to_slv", "std_logic_1164"),
    ("to_std_logic_vector", "std_logic_1164"),
    ("to_x01", "std_logic_1164"),
    ("to_ux01", "std_logic_1164"),
    ("is_x", "std_logic_1164"),
    ("to_integer", "numeric"),
    ("to_unsigned", "numeric"),
    ("to_signed", "numeric"),
    ("resize", "numeric"),
    ("shift_left", "numeric"),
    ("shift_right", "numeric"),
    ("rotate_left", "numeric"),
    ("rotate_right", "numeric"),
    ("to_01", "numeric"),
    ("minimum", "standard"),
    ("maximum", "standard"),
    ("conv_integer", "arith"),
    ("conv_unsigned", "arith"),
    ("conv_signed", "arith"),
    ("conv_std_logic_vector", "arith"),
    ("ext", "arith"),
    ("sxt", "arith"),
    ("shl", "arith"),
    ("shr", "arith"),
    ("and_reduce", "misc"),
    ("nand_reduce", "misc"),
    ("or_reduce", "misc"),
    ("nor_reduce", "misc"),
    ("xor_reduce", "misc"),
    ("xnor_reduce", "misc"),
];

impl<'a> Lowering<'a, '_> {
    pub(super) fn call(
        &mut self,
        context: &mut Context<'a>,
        base: &'a Tree,
        arguments: &'a [Association],
        slice: Option<&'a Range>,
        expected: Option<&Ty>,
        span: Span,
    ) -> Option<Value> {
        let name = match &base.kind {
            Node::Name(name) => Some(name.as_str()),
            // `ieee.numeric_std.to_integer(…)`
            Node::Select(_, last)
                if !matches!(context.get(first_name(base)), Some(Symbol::Signal { .. } | Symbol::Variable { .. })) =>
            {
                Some(last.name.as_str())
            }
            _ => None,
        };
        if let Node::Attribute(mark, attribute) = &base.kind
            && matches!(attribute.name.as_str(), "pos" | "val" | "succ" | "pred")
        {
            return self.position(context, mark, &attribute.name, arguments, span);
        }
        let Some(name) = name else {
            let value = self.expr(context, base, None)?;
            return self.indexed(context, value, arguments, slice, span);
        };
        match context.get(name).cloned() {
            Some(Symbol::Routine { list, .. }) => {
                let trees: Vec<&'a Tree> = ordered(&list, arguments);
                return self.function_call(context, &list, name, &trees, expected, span);
            }
            Some(Symbol::Type { ty, .. }) => return self.conversion(context, &ty, arguments, span),
            Some(_) => {
                let value = self.expr(context, base, None)?;
                return self.indexed(context, value, arguments, slice, span);
            }
            None => {}
        }
        let conversions = [
            "std_logic_vector",
            "std_ulogic_vector",
            "unsigned",
            "signed",
            "bit_vector",
            "integer",
            "natural",
            "std_logic",
            "std_ulogic",
            "bit",
            "positive",
        ];
        if conversions.contains(&name) {
            let ty = self.type_mark(context, &Ident { name: name.into(), span: base.span })?;
            return self.conversion(context, &ty, arguments, span);
        }
        if let Some((_, package)) = BUILT_IN.iter().find(|(n, _)| *n == name) {
            let seen = match *package {
                "numeric" => {
                    context.sees("numeric_std") || context.sees("numeric_bit") || context.sees("numeric_std_unsigned")
                }
                "arith" => context.sees("std_logic_arith") || context.vector_arithmetic().is_some(),
                "misc" => context.sees("std_logic_misc"),
                "standard" => true,
                other => context.sees(other),
            };
            if seen {
                let trees: Vec<&'a Tree> = arguments.iter().filter_map(|a| a.actual.as_ref()).collect();
                return self.built_in(context, name, &trees, expected, span);
            }
        }
        self.undeclared(context, name, base.span);
        None
    }

    /// `t'pos(x)`, `t'val(n)`, `t'succ(x)`, `t'pred(x)` of an enumeration or integer.
    fn position(
        &mut self,
        context: &mut Context<'a>,
        mark: &'a Tree,
        attribute: &str,
        arguments: &'a [Association],
        span: Span,
    ) -> Option<Value> {
        let (Node::Name(name), [Association { actual: Some(tree), .. }]) = (&mark.kind, arguments) else {
            self.report(say::wrong_arguments(attribute, span));
            return None;
        };
        let ty = self.type_mark(context, &Ident { name: name.clone(), span: mark.span })?;
        let width = ty.width()?;
        let value = self.expr(context, tree, Some(if attribute == "val" { &Ty::INTEGER } else { &ty }))?;
        match attribute {
            "val" => {
                let id = self.resize(value.id, width, false, span);
                Some(Value { id, ty })
            }
            "pos" => {
                let id = self.resize(value.id, INTEGER_BITS, matches!(ty, Ty::Integer { .. }), span);
                Some(Value { id, ty: Ty::INTEGER })
            }
            step => {
                let one = self.constant(LogicVector::from_u64(width, 1), span);
                let op = if step == "succ" { BinaryOp::Add } else { BinaryOp::Sub };
                let kind = ExprKind::Binary {
                    op,
                    signed: false,
                    unknowns: design::Unknowns::False,
                    left: value.id,
                    right: one,
                };
                let id = self.push(kind, width, span);
                Some(Value { id, ty })
            }
        }
    }

    /// `unsigned(a)`, `std_logic_vector(b)`, `integer(n)`: closely related types only.
    fn conversion(
        &mut self,
        context: &mut Context<'a>,
        ty: &Ty,
        arguments: &'a [Association],
        span: Span,
    ) -> Option<Value> {
        let [Association { actual: Some(tree), .. }] = arguments else {
            self.report(say::wrong_arguments("this conversion", span));
            return None;
        };
        if matches!(ty, Ty::Integer { .. }) && self.is_real(context, tree) {
            // IEEE 1076-2008 9.3.6: a real number is rounded to the nearest whole one.
            let number = self.static_real(context, tree)?;
            let id = self.integer(number.round().clamp(-2e9, 2e9) as i64, span);
            return Some(Value { id, ty: Ty::INTEGER });
        }
        let hint = Ty::vector_kind(ty).map(|_| ty.clone());
        let value = self.expr(context, tree, hint.as_ref())?;
        let related = match (ty, &value.ty) {
            (Ty::Vector { kind: a, .. }, Ty::Vector { kind: b, .. }) => {
                (*a == VectorKind::Bit) == (*b == VectorKind::Bit) || context.sees("numeric_bit")
            }
            (a, b) => a.fits(b),
        };
        if !related {
            let mut told = say::type_mismatch(
                &format!("something that can become {}", ty.describe()),
                &value.ty.describe(),
                tree.span,
            );
            told.action = match (ty, &value.ty) {
                (Ty::Integer { .. }, Ty::Vector { kind: VectorKind::StdLogic, .. }) => {
                    "Write `to_integer(unsigned(…))`.".into()
                }
                (Ty::Integer { .. }, Ty::Vector { .. }) => "Write `to_integer(…)`.".into(),
                (Ty::Vector { .. }, Ty::Integer { .. }) => "Write `to_unsigned(…, length)` first.".into(),
                _ => told.action,
            };
            self.report(told);
            return None;
        }
        let ty = match (ty, value.ty.bounds()) {
            (Ty::Vector { bounds: None, .. } | Ty::Array { bounds: None, .. }, Some((l, r))) => ty.with_bounds(l, r),
            _ => ty.clone(),
        };
        let id = self.convert(Value { id: value.id, ty: retagged(&value.ty, &ty) }, &ty, span)?;
        Some(Value { id, ty })
    }

    #[expect(clippy::too_many_lines, reason = "a flat table of the packages' functions")]
    fn built_in(
        &mut self,
        context: &mut Context<'a>,
        name: &str,
        trees: &[&'a Tree],
        expected: Option<&Ty>,
        span: Span,
    ) -> Option<Value> {
        let Some(first) = trees.first().copied() else {
            self.report(say::wrong_arguments(name, span));
            return None;
        };
        let hint = match name {
            "to_unsigned" | "to_signed" | "conv_unsigned" | "conv_signed" => Some(Ty::INTEGER),
            "resize" | "shift_left" | "shift_right" => expected.cloned(),
            _ => None,
        };
        let value = self.expr(context, first, hint.as_ref())?;
        let width = value.ty.width()?;
        let kind = value.ty.vector_kind();
        let wrong = |me: &mut Self| -> Option<Value> {
            me.report(say::wrong_arguments(name, span));
            None
        };
        let signed = kind == Some(VectorKind::Signed);
        match name {
            "rising_edge" | "falling_edge" => {
                if value.ty != Ty::Logic && value.ty != Ty::Bit {
                    return wrong(self);
                }
                let Some((signal, bit)) = self.signal_bit(value.id) else {
                    self.report(say::edge_of_no_signal(first.span));
                    return None;
                };
                let edge = if name == "rising_edge" {
                    SystemFunction::Rising(signal, bit)
                } else {
                    SystemFunction::Falling(signal, bit)
                };
                let id = self.push(ExprKind::System(edge), 1, span);
                Some(Value { id, ty: Ty::Boolean })
            }
            "is_x" => {
                let id = self.constant(LogicVector::from_u64(1, 0), span);
                Some(Value { id, ty: Ty::Boolean })
            }
            "to_bit" => Some(Value { ty: Ty::Bit, ..value }),
            "to_stdulogic" => Some(Value { ty: Ty::Logic, ..value }),
            "to_bitvector" if kind.is_some() => Some(Value { ty: Ty::vector(VectorKind::Bit, width), ..value }),
            "to_stdlogicvector" | "to_stdulogicvector" | "to_slv" | "to_std_logic_vector" if kind.is_some() => {
                Some(Value { ty: Ty::vector(VectorKind::StdLogic, width), ..value })
            }
            "to_x01" | "to_ux01" | "to_01" => Some(value),
            "to_integer" | "conv_integer" => {
                let sign = match kind {
                    Some(VectorKind::Unsigned) => false,
                    Some(VectorKind::Signed) => true,
                    Some(VectorKind::StdLogic) if name == "conv_integer" || context.sees("numeric_std_unsigned") => {
                        context.vector_arithmetic().unwrap_or(false)
                    }
                    None if name == "conv_integer" => false,
                    _ => {
                        let mut told = say::type_mismatch("an unsigned or signed", &value.ty.describe(), first.span);
                        told.action = "Write `to_integer(unsigned(…))`.".into();
                        self.report(told);
                        return None;
                    }
                };
                let id = self.resize(value.id, INTEGER_BITS, sign, span);
                Some(Value { id, ty: Ty::INTEGER })
            }
            "to_unsigned"
            | "to_signed"
            | "conv_unsigned"
            | "conv_signed"
            | "conv_std_logic_vector"
            | "resize"
            | "ext"
            | "sxt" => {
                let Some(size) = trees.get(1).copied() else { return wrong(self) };
                let size = self.size(context, size)?;
                let result = match name {
                    "to_unsigned" | "conv_unsigned" => VectorKind::Unsigned,
                    "to_signed" | "conv_signed" => VectorKind::Signed,
                    "resize" => match kind {
                        Some(kind) => kind,
                        None => return wrong(self),
                    },
                    _ => VectorKind::StdLogic,
                };
                let number = matches!(value.ty, Ty::Integer { .. });
                if (name == "to_unsigned" || name == "to_signed") && !number {
                    let mut told = say::type_mismatch("an integer", &value.ty.describe(), first.span);
                    told.action = "Write `unsigned(…)` to see bits as a number.".into();
                    self.report(told);
                    return None;
                }
                let extend = number || signed || name == "sxt";
                let id = if name == "resize" && signed && size < width {
                    // numeric_std keeps the sign bit when it shortens a signed number.
                    let sign = self.push(ExprKind::Slice { base: value.id, low: width - 1 }, 1, span);
                    let low = self.push(ExprKind::Slice { base: value.id, low: 0 }, size - 1, span);
                    self.push(ExprKind::Concat(vec![sign, low]), size, span)
                } else {
                    self.resize(value.id, size, extend, span)
                };
                Some(Value { id, ty: Ty::vector(result, size) })
            }
            "shift_left" | "shift_right" | "rotate_left" | "rotate_right" | "shl" | "shr" => {
                let Some(tree) = trees.get(1).copied() else { return wrong(self) };
                let mut count = self.expr(context, tree, Some(&Ty::INTEGER))?;
                if count.ty.vector_kind().is_some() {
                    count = Value { id: self.resize(count.id, INTEGER_BITS, false, span), ty: Ty::INTEGER };
                }
                let op = match name {
                    "shift_left" | "shl" => "sll",
                    "rotate_left" => "rol",
                    "rotate_right" => "ror",
                    _ if signed => "sra",
                    _ => "srl",
                };
                self.shift(op, value, &count, span)
            }
            "and_reduce" | "nand_reduce" | "or_reduce" | "nor_reduce" | "xor_reduce" | "xnor_reduce" => {
                let op = if name.contains("and") {
                    UnaryOp::ReduceAnd
                } else if name.contains("xor") || name.contains("xnor") {
                    UnaryOp::ReduceXor
                } else {
                    UnaryOp::ReduceOr
                };
                let mut id = self.push(ExprKind::Unary(op, value.id), 1, span);
                if name.starts_with('n') || name.starts_with("xn") {
                    id = self.push(ExprKind::Unary(UnaryOp::Not, id), 1, span);
                }
                Some(Value { id, ty: Ty::Logic })
            }
            "std_match" => {
                let Some(second) = trees.get(1).copied() else { return wrong(self) };
                let other = self.expr(context, second, Some(&value.ty))?;
                let single = matches!(value.ty, Ty::Logic | Ty::Bit);
                if kind.is_none() && !single || !value.ty.fits(&other.ty) {
                    return wrong(self);
                }
                let wide = other.ty.width()?;
                if wide != width {
                    self.report(say::length_differs(width, wide, second.span));
                    return None;
                }
                let op = BinaryOp::Match;
                let unknowns = design::Unknowns::False;
                let kind = ExprKind::Binary { op, signed: false, unknowns, left: value.id, right: other.id };
                let id = self.push(kind, 1, span);
                Some(Value { id, ty: Ty::Boolean })
            }
            "minimum" | "maximum" => {
                let Some(second) = trees.get(1).copied() else { return wrong(self) };
                let other = self.expr_as(context, second, &value.ty)?;
                let kind = ExprKind::Binary {
                    op: BinaryOp::Less,
                    signed: signed || matches!(value.ty, Ty::Integer { .. }),
                    unknowns: design::Unknowns::False,
                    left: value.id,
                    right: other,
                };
                let less = self.push(kind, 1, span);
                let (then, otherwise) = if name == "minimum" { (value.id, other) } else { (other, value.id) };
                let unknown = design::UnknownCondition::Otherwise;
                let id = self.push(ExprKind::Select { condition: less, then, otherwise, unknown }, width, span);
                Some(Value { id, ty: value.ty })
            }
            _ => wrong(self),
        }
    }

    /// The signal bit that an expression is.
    pub(super) fn signal_bit(&self, id: design::ExprId) -> Option<(design::SignalId, u32)> {
        match &self.design.exprs[id].kind {
            ExprKind::Signal(s) => Some((*s, 0)),
            ExprKind::Slice { base, low } => match &self.design.exprs[*base].kind {
                ExprKind::Signal(s) => Some((*s, *low)),
                _ => None,
            },
            _ => None,
        }
    }

    /// A length: a number, or `a'length`.
    fn size(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> Option<u32> {
        let n = self.static_integer(context, tree)?;
        match u32::try_from(n) {
            Ok(n) if (1..=65_536).contains(&n) => Some(n),
            _ => {
                self.report(say::too_wide(tree.span));
                None
            }
        }
    }

    pub(super) fn function_call(
        &mut self,
        context: &mut Context<'a>,
        list: &[&'a Subprogram],
        name: &str,
        trees: &[&'a Tree],
        expected: Option<&Ty>,
        span: Span,
    ) -> Option<Value> {
        let bodies: Vec<&'a Subprogram> =
            list.iter().copied().filter(|s| s.body.is_some() && s.result.is_some()).collect();
        let fits = |s: &&&Subprogram| {
            trees.len() <= s.parameters.len() && s.parameters[trees.len()..].iter().all(|p| p.value.is_some())
        };
        let candidates: Vec<&'a Subprogram> = bodies.iter().filter(fits).copied().collect();
        let mut chosen = None;
        if candidates.len() > 1 {
            // Overloads are told apart by the types of the arguments as they stand.
            let types: Option<Vec<Ty>> = trees.iter().map(|t| self.expr(context, t, None).map(|v| v.ty)).collect();
            for candidate in &candidates {
                let wanted: Option<Vec<Ty>> =
                    candidate.parameters.iter().map(|p| self.subtype(context, &p.ty)).collect();
                if let (Some(types), Some(wanted)) = (&types, wanted)
                    && types.iter().zip(&wanted).all(|(t, w)| w.fits(t))
                {
                    let result = candidate.result.as_ref().and_then(|r| self.subtype(context, r));
                    if expected.is_none_or(|e| result.is_none_or(|r| e.fits(&r))) {
                        chosen = Some(*candidate);
                        break;
                    }
                }
            }
        } else {
            chosen = candidates.first().copied();
        }
        let Some(routine) = chosen else {
            self.report(say::wrong_arguments(name, span));
            return None;
        };
        let mut values = Vec::new();
        for (i, parameter) in routine.parameters.iter().enumerate() {
            let ty = self.subtype(context, &parameter.ty)?;
            let tree = trees.get(i).copied().or(parameter.value.as_ref())?;
            let value = self.expr(context, tree, Some(&ty))?;
            let found = value.ty.clone();
            let id = self.convert(value, &ty, tree.span)?;
            let ty = if ty.width().is_none() { found } else { ty };
            values.push(Value { id: self.stored(id, &ty, tree.span), ty });
        }
        let (id, result) = self.routine(context, routine, &values, &BTreeMap::new(), span)?;
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

    /// The subprogram lowered for parameters of these types; its result type.
    fn routine(
        &mut self,
        context: &mut Context<'a>,
        routine: &'a Subprogram,
        values: &[Value],
        signals: &BTreeMap<usize, (design::SignalId, Ty)>,
        span: Span,
    ) -> Option<(SubprogramId, Option<Ty>)> {
        let types: Vec<Ty> = values.iter().map(|v| v.ty.clone()).collect();
        let key: *const Subprogram = routine;
        if let Some((_, _, id, result)) = self.routines.iter().find(|(r, t, _, _)| std::ptr::eq(*r, key) && *t == types)
            && signals.is_empty()
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
            let bound = signals.get(&parameters.len());
            parameters
                .push((id, if bound.is_some() { design::Direction::In } else { super::direction(parameter.mode) }));
            let span = parameter.name.span;
            // A signal parameter is the actual signal itself.
            let symbol = match bound {
                Some((id, ty)) => {
                    Symbol::Signal { id: *id, ty: ty.clone(), mode: Some(own_mode(parameter.mode)), span }
                }
                None => Symbol::Variable { id, ty: ty.clone(), span },
            };
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
        context.layers.push(layer);
        let before_late = std::mem::take(&mut self.late);
        let done = self.declarations(context, declarations).is_ok();
        let late = std::mem::replace(&mut self.late, before_late);
        let statements = if done { self.statements(context, body) } else { None };
        context.layers.pop();
        let returned = std::mem::replace(&mut context.result, before);
        self.budget.leave();
        let statements = statements?;
        // Variables begin afresh at each call.
        let mut whole = Vec::new();
        for declaration in declarations {
            if let crate::tree::Declaration::Object(object) = declaration
                && object.kind == ObjectKind::Variable
            {
                self.reset_variable(&object.name, &mut whole, object.name.span);
            }
        }
        whole.extend(late);
        whole.extend(statements);
        let result_ty = returned.as_ref().map(|r| r.ty.clone());
        self.design.subprograms[id].result = returned.and_then(|r| r.variable);
        self.design.subprograms[id].body = whole;
        if signals.is_empty() {
            self.routines.push((key, types, id, result_ty.clone()));
        }
        Some((id, result_ty))
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
        let value = self.constant(value.resized(width, true), span);
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
        let trees = ordered(&list, arguments);
        let routine =
            list.iter().copied().find(|s| s.body.is_some() && s.result.is_none() && s.parameters.len() == trees.len());
        let Some(routine) = routine else {
            self.report(say::wrong_arguments(name, tree.span));
            return None;
        };
        let mut values = Vec::new();
        let mut targets = Vec::new();
        let mut signals = BTreeMap::new();
        for (position, (parameter, tree)) in routine.parameters.iter().zip(&trees).enumerate() {
            let ty = self.subtype(context, &parameter.ty)?;
            if parameter.kind == ObjectKind::Signal
                && let Node::Name(actual) = &tree.kind
                && let Some(Symbol::Signal { id, ty: actual_ty, mode, .. }) = context.get(actual).cloned()
            {
                if parameter.mode != Mode::In && mode == Some(Mode::In) {
                    self.report(say::assign_to_input(actual, tree.span));
                    return None;
                }
                if !ty.fits(&actual_ty) {
                    self.report(say::type_mismatch(&ty.describe(), &actual_ty.describe(), tree.span));
                    return None;
                }
                let width = actual_ty.stored_width()?;
                let raw = self.push(ExprKind::Signal(id), width, tree.span);
                values.push(Value { id: raw, ty: actual_ty.clone() });
                targets.push(None);
                signals.insert(position, (id, actual_ty));
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
                self.constant(Self::unknown_value(&Ty::Logic, width), tree.span)
            };
            values.push(Value { id, ty: place.ty.clone() });
            targets.push(Some(place.target));
        }
        let (id, _) = self.routine(context, routine, &values, &signals, tree.span)?;
        let arguments = values.into_iter().map(|v| v.id).zip(targets).collect();
        Some(StmtKind::Call { subprogram: id, arguments })
    }
}

pub(super) fn new_result(design: &mut design::Design, routine: &Subprogram, ty: &Ty) -> design::VariableId {
    let type_id = ty.intern(design);
    design.variables.push(Variable { name: "result".into(), ty: type_id, initial: None, span: routine.name.span })
}

/// The mode of a signal parameter as its body sees it.
fn own_mode(mode: Mode) -> Mode {
    if mode == Mode::Out { Mode::Buffer } else { mode }
}

fn first_name(tree: &Tree) -> &str {
    match &tree.kind {
        Node::Name(name) => name,
        Node::Select(base, _) => first_name(base),
        _ => "",
    }
}

/// Arguments in the order of the parameters, named ones put in their place.
fn ordered<'a>(list: &[&'a Subprogram], arguments: &'a [Association]) -> Vec<&'a Tree> {
    let named = arguments.iter().any(|a| a.formal.is_some());
    if !named {
        return arguments.iter().filter_map(|a| a.actual.as_ref()).collect();
    }
    let Some(routine) = list.first() else { return Vec::new() };
    let mut out = Vec::new();
    for (i, parameter) in routine.parameters.iter().enumerate() {
        let by_name = arguments
            .iter()
            .find(|a| a.formal.as_ref().is_some_and(|f| f.kind == Node::Name(parameter.name.name.clone())));
        let found = by_name.or_else(|| arguments.get(i).filter(|a| a.formal.is_none()));
        out.extend(found.and_then(|a| a.actual.as_ref()));
    }
    out
}

/// The type with the kind of another, so that a conversion checks lengths only.
fn retagged(from: &Ty, to: &Ty) -> Ty {
    match (from.bounds(), to) {
        (Some((l, r)), Ty::Vector { .. } | Ty::Array { .. }) => to.with_bounds(l, r),
        _ => from.clone(),
    }
}
