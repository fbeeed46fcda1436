//! What a name with parentheses means: an element, a slice, a type conversion, a function of a package or of one's own.

use super::subprogram::Given;
use super::types::{INTEGER_BITS, Ty, VectorKind};
use super::{Context, Lowering, Symbol, Value};
use crate::diagnostics as say;
use crate::tree::{Association, Expr as Tree, ExprKind as Node, Ident, Range};
use base::Span;
use design::{BinaryOp, ExprId, ExprKind, PrintPart, SystemFunction, UnaryOp};
use front::Lower;
use logic::LogicVector;

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
        if let Node::Attribute(of, attribute) = &base.kind
            && let [Association { actual: Some(argument), .. }] = arguments
            && let Some(found) = self.attribute_of(context, (of, attribute), argument, arguments, span)
        {
            return found;
        }
        let Some(name) = name else {
            let value = self.expr(context, base, None)?;
            return self.indexed(context, value, arguments, slice, span);
        };
        match context.get(name).cloned() {
            Some(Symbol::Routine { list, .. }) => {
                return self.function_call(context, &list, name, Given::Arguments(arguments), expected, span);
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
            "real",
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
        if let ("endfile", [Association { actual: Some(file), .. }]) = (name, arguments) {
            return self.end_of_file(context, file, span);
        }
        let is_named = matches!(&base.kind, Node::Select(package, _)
            if matches!(&package.kind, Node::Select(_, last) if last.name == "math_real"));
        if (context.sees("math_real") || is_named)
            && let Some(op) = super::real::function(name)
        {
            return self.real_function(context, (name, op), arguments, span);
        }
        self.undeclared(context, name, base.span);
        None
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
        let hint = Ty::vector_kind(ty).map(|_| ty.clone());
        let value = self.expr(context, tree, hint.as_ref())?;
        if let Some(id) = self.real_conversion(ty, &value, span) {
            return Some(Value { id, ty: ty.clone() });
        }
        let related = match (ty, &value.ty) {
            (Ty::Vector { kind: a, .. }, Ty::Vector { kind: b, .. }) => {
                (*a == VectorKind::Bit) == (*b == VectorKind::Bit) || context.sees("numeric_bit")
            }
            // Arrays of one element type are closely related, whatever their names (IEEE 1076-2008 9.3.6).
            (a, b) if a.element().is_some() && a.element() == b.element() => {
                let (wanted, found) = (a.width(), value.ty.width()?);
                if wanted.is_some_and(|w| w != found) {
                    self.report(say::length_differs(wanted?, found, tree.span));
                    return None;
                }
                let (left, right) = a.bounds().or(b.bounds())?;
                return Some(Value { id: value.id, ty: a.with_bounds(left, right) });
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
                // The exclusive OR of all bits is unknown where one of them is.
                let known = self.is_known(value.id, span);
                Some(Value { id: self.not(known, span), ty: Ty::Boolean })
            }
            "to_bit" => Some(Value { id: self.strong(value.id, Some(logic::Level::Zero), span), ty: Ty::Bit }),
            "to_stdulogic" => Some(Value { ty: Ty::Logic, ..value }),
            "to_bitvector" if kind.is_some() => {
                let id = self.strong(value.id, Some(logic::Level::Zero), span);
                Some(Value { id, ty: Ty::vector(VectorKind::Bit, width) })
            }
            "to_stdlogicvector" | "to_stdulogicvector" | "to_slv" | "to_std_logic_vector" if kind.is_some() => {
                Some(Value { ty: Ty::vector(VectorKind::StdLogic, width), ..value })
            }
            "to_x01" => Some(Value { id: self.strong(value.id, Some(logic::Level::Unknown), span), ..value }),
            "to_ux01" => Some(Value { id: self.strong(value.id, None, span), ..value }),
            "to_01" => {
                let map = match trees.get(1) {
                    Some(tree) => self.static_value(context, tree, &Ty::Logic)?.get(0),
                    None => logic::Level::Zero,
                };
                // One unknown bit makes all of them the second argument (IEEE 1076.3).
                let strong = self.strong(value.id, None, span);
                let condition = self.is_known(value.id, span);
                let otherwise = self.constant_expr(LogicVector::filled(width, map), span);
                let unknown = design::UnknownCondition::Otherwise;
                let kind = ExprKind::Select { condition, then: strong, otherwise, unknown };
                Some(Value { id: self.push(kind, width, span), ..value })
            }
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
                let number = self.resize(value.id, INTEGER_BITS, sign, span);
                // Unknown bits give 0 and a warning (IEEE 1076.3, TO_INTEGER).
                let condition = self.is_known(value.id, span);
                let zero = self.integer(0, span);
                let message = format!("`{name}` of a value with unknown levels gives 0.");
                let message = (1, vec![PrintPart::Text(message)]);
                let id = match design::fold(&self.design, value.id) {
                    Some(_) => number,
                    None => self.checked(number, condition, message, Some(zero), span),
                };
                let ty = match (sign, width) {
                    (false, ..31) => Ty::Integer { low: 0, high: (1 << width) - 1 },
                    (true, ..32) => Ty::Integer { low: -(1 << (width - 1)), high: (1 << (width - 1)) - 1 },
                    _ => Ty::INTEGER,
                };
                Some(Value { id, ty })
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

    /// Weak levels as strong ones; levels that are neither 0 nor 1 as the one given, or as U and X (IEEE 1076-2008 16.7).
    fn strong(&mut self, value: ExprId, otherwise: Option<logic::Level>, span: Span) -> ExprId {
        let width = self.design.exprs[value].width;
        // Twice inverted, every weak level is a strong one, and every other one X, but for U.
        let inverted = self.not(value, span);
        let strong = self.not(inverted, span);
        let Some(level) = otherwise else { return strong };
        let one_bit = |me: &mut Self, low: u32| {
            let bit = if width == 1 { strong } else { me.push(ExprKind::Slice { base: strong, low }, 1, span) };
            let condition = me.is_known(bit, span);
            let otherwise = me.constant_expr(LogicVector::filled(1, level), span);
            let unknown = design::UnknownCondition::Otherwise;
            me.push(ExprKind::Select { condition, then: bit, otherwise, unknown }, 1, span)
        };
        let bits: Vec<ExprId> = (0..width).rev().map(|low| one_bit(self, low)).collect();
        if bits.len() == 1 { bits[0] } else { self.push(ExprKind::Concat(bits), width, span) }
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
}

pub(super) fn first_name(tree: &Tree) -> &str {
    let mut here = tree;
    loop {
        match &here.kind {
            Node::Name(name) => return name,
            Node::Select(base, _) | Node::Call(base, ..) => here = base,
            _ => return "",
        }
    }
}

/// The type with the kind of another, so that a conversion checks lengths only.
fn retagged(from: &Ty, to: &Ty) -> Ty {
    match (from.bounds(), to) {
        (Some((l, r)), Ty::Vector { .. } | Ty::Array { .. }) => to.with_bounds(l, r),
        _ => from.clone(),
    }
}
