//! Real numbers and text: what testbenches and constants compute besides bits (IEEE 1364-2005 4.8, 5.1; IEEE
//! 1800-2017 6.16, 20.8).

use super::expr::Sized;
use super::symbols::{Names, TEXT_TYPE, TEXT_WIDTH};
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{Binary, Domain, NodeId, NodeKind, Unary};
use base::Span;
use design::{
    BinaryOp, ExprId, ExprKind, REAL_WIDTH, Radix, RealOp, SystemFunction, TextOp, TypeId, TypeKind, UnaryOp,
    UnknownCondition, Unknowns, real_bits, real_of,
};
use front::Lower;
use logic::LogicVector;

/// A value with its size.
type Value = (ExprId, Sized);

impl<'a> Lowering<'a, '_> {
    /// A computation with real numbers; constants are computed at once.
    pub(super) fn real_op(&mut self, op: RealOp, operands: Vec<ExprId>, width: u32, span: Span) -> ExprId {
        let known: Option<Vec<LogicVector>> = operands
            .iter()
            .map(|o| match &self.design.exprs[*o].kind {
                ExprKind::Const(value) => Some(value.clone()),
                // Were it constant, it would have been computed.
                ExprKind::Real { .. } => None,
                _ => design::fold(&self.design, *o),
            })
            .collect();
        match known {
            Some(known) => self.constant_expr(design::real_value(op, &known, width), span),
            None => self.push(ExprKind::Real { op, operands }, width, span),
        }
    }

    fn real_constant(&self, value: ExprId) -> Option<f64> {
        match &self.design.exprs[value].kind {
            ExprKind::Const(bits) => Some(real_of(bits)),
            _ => None,
        }
    }

    /// A real number of any value.
    pub(super) fn made_real(&mut self, value: ExprId, size: Sized, span: Span) -> ExprId {
        if size.is_real() {
            return value;
        }
        let op = if size.signed { RealOp::FromSigned } else { RealOp::FromUnsigned };
        self.real_op(op, vec![value], REAL_WIDTH, span)
    }

    /// A real number as the nearest whole one (IEEE 1364-2005 4.9.2); other values stay as they are.
    pub(super) fn rounded(&mut self, value: ExprId, size: Sized, width: u32) -> Value {
        if !size.is_real() {
            return (value, size);
        }
        let small = self.real_constant(value).is_some_and(|n| n.abs() < 2_147_483_647.0);
        let width = width.max(if small { 32 } else { 64 });
        let span = self.design.exprs[value].span;
        (self.real_op(RealOp::ToInteger, vec![value], width, span), Sized::bits(width, true))
    }

    /// One bit: is the value other than 0?
    pub(super) fn truth_of(&mut self, value: ExprId, size: Sized, span: Span) -> ExprId {
        if !size.is_real() {
            return self.truth(value, span);
        }
        let zero = self.constant_expr(real_bits(0.0), span);
        let equal = self.real_op(RealOp::Equal, vec![value, zero], 1, span);
        self.not(equal, span)
    }

    fn not(&mut self, bit: ExprId, span: Span) -> ExprId {
        self.push(ExprKind::Unary(UnaryOp::Not, bit), 1, span)
    }

    pub(super) fn real_unary(&mut self, op: Unary, value: ExprId, span: Span) -> ExprId {
        match op {
            Unary::Plus => value,
            Unary::Minus => self.real_op(RealOp::Neg, vec![value], REAL_WIDTH, span),
            Unary::LogicalNot => {
                let truth = self.truth_of(value, Sized::REAL, span);
                self.not(truth, span)
            }
            _ => {
                self.report(say::real_operand(span));
                value
            }
        }
    }

    /// An operator of which one side at least is real (IEEE 1364-2005 table 5-2).
    pub(super) fn real_binary(&mut self, op: Binary, a: Value, b: Value, width: u32, span: Span) -> ExprId {
        use Binary as B;
        let plain = match op {
            B::Add => RealOp::Add,
            B::Sub => RealOp::Sub,
            B::Mul => RealOp::Mul,
            B::Div => RealOp::Div,
            B::Pow => RealOp::Pow,
            B::Less | B::Greater => RealOp::Less,
            B::LessEqual | B::GreaterEqual => RealOp::LessEqual,
            B::Equal | B::NotEqual => RealOp::Equal,
            B::LogicalAnd | B::LogicalOr => {
                let (left, right) = (self.truth_of(a.0, a.1, span), self.truth_of(b.0, b.1, span));
                let op = if op == B::LogicalAnd { BinaryOp::And } else { BinaryOp::Or };
                let unknowns = Unknowns::Propagate;
                return self.push(ExprKind::Binary { op, signed: false, unknowns, left, right }, 1, span);
            }
            _ => {
                self.report(say::real_operand(span));
                return self.constant_expr(LogicVector::filled(width, logic::Level::Unknown), span);
            }
        };
        if plain.is_comparison() {
            let (a, b) = if matches!(op, B::Greater | B::GreaterEqual) { (b, a) } else { (a, b) };
            let value = match self.whole_comparison(plain, a, b, span) {
                Some(value) => value,
                None => {
                    let (left, right) = (self.made_real(a.0, a.1, span), self.made_real(b.0, b.1, span));
                    self.real_op(plain, vec![left, right], 1, span)
                }
            };
            return if op == B::NotEqual { self.not(value, span) } else { value };
        }
        let (left, right) = (self.made_real(a.0, a.1, span), self.made_real(b.0, b.1, span));
        self.real_op(plain, vec![left, right], REAL_WIDTH, span)
    }

    /// Bits against a real constant, as whole numbers: `count == CLOCK / 2.0 - 1` is hardware.
    fn whole_comparison(&mut self, op: RealOp, a: Value, b: Value, span: Span) -> Option<ExprId> {
        let is_left = a.1.is_real();
        let (constant, (bits, size)) = if is_left { (a, b) } else { (b, a) };
        let number = self.real_constant(constant.0).filter(|n| n.abs() < 9.0e18)?;
        if size.is_real() {
            return None;
        }
        let whole = match op {
            RealOp::Equal if number.fract() != 0.0 => {
                return Some(self.constant_expr(LogicVector::from_u64(1, 0), span));
            }
            // c < n holds for whole n when floor(c) does, n < c when ceil(c) does; the other way round with `<=`.
            RealOp::Less => {
                if is_left {
                    number.floor()
                } else {
                    number.ceil()
                }
            }
            RealOp::LessEqual => {
                if is_left {
                    number.ceil()
                } else {
                    number.floor()
                }
            }
            _ => number,
        };
        let width = size.width.max(64) + 1;
        let value = LogicVector::from_u64(64, (whole as i64).cast_unsigned()).resized(width, true);
        let constant = self.constant_expr(value, span);
        let bits = self.resize(bits, width, size.signed, span);
        let (left, right) = if is_left { (constant, bits) } else { (bits, constant) };
        let op = match op {
            RealOp::Less => BinaryOp::Less,
            RealOp::LessEqual => BinaryOp::LessEqual,
            _ => BinaryOp::Equal,
        };
        Some(self.push(ExprKind::Binary { op, signed: true, unknowns: Unknowns::Propagate, left, right }, 1, span))
    }

    /// The value as a real number or as text.
    pub(super) fn expr_in(&mut self, context: &mut Context<'a>, root: NodeId, domain: Domain) -> ExprId {
        let span = context.module.exprs[root].span;
        let (value, size) = self.expr_any(context, root, 0);
        match domain {
            Domain::Real => self.made_real(value, size, span),
            Domain::Text if size.domain == Domain::Text => value,
            Domain::Text => match design::fold(&self.design, value) {
                // Text in quotes has no zeros in it.
                Some(constant) => self.constant_expr(constant.resized(TEXT_WIDTH, false), span),
                None => self.text_op(TextOp::Pack, vec![value], TEXT_WIDTH, span),
            },
            Domain::Bits => value,
        }
    }

    /// What a value of that type is made of.
    pub(super) fn domain_of(&self, ty: TypeId) -> Domain {
        let ty = &self.design.types[ty];
        match ty.kind {
            TypeKind::Real => Domain::Real,
            _ if ty.name.as_deref() == Some(TEXT_TYPE) => Domain::Text,
            _ => Domain::Bits,
        }
    }

    /// The value as something of that type takes it.
    pub(super) fn expr_typed(&mut self, context: &mut Context<'a>, root: NodeId, ty: TypeId) -> ExprId {
        match self.domain_of(ty) {
            Domain::Bits => {
                let width = self.design.type_width(ty);
                self.expr_assigned(context, root, width)
            }
            domain => self.expr_in(context, root, domain),
        }
    }

    /// A real number of the module's time units as femtoseconds, rounded to the precision (IEEE 1364-2005 19.8).
    pub(super) fn real_femtoseconds(&mut self, context: &Context<'a>, value: ExprId, span: Span) -> ExprId {
        let (unit, step) = (context.module.unit.max(1), context.module.precision.max(1));
        // Without a time scale every fraction counts.
        let step = if step == unit && !context.module.has_timescale { 1 } else { step };
        let scale = self.constant_expr(real_bits(unit as f64 / step as f64), span);
        let steps = self.real_op(RealOp::Mul, vec![value, scale], REAL_WIDTH, span);
        let steps = self.real_op(RealOp::ToInteger, vec![steps], 64, span);
        let size = self.constant_expr(LogicVector::from_u64(64, step), span);
        let (signed, unknowns) = (false, Unknowns::Propagate);
        let kind = ExprKind::Binary { op: BinaryOp::Mul, signed, unknowns, left: steps, right: size };
        let product = self.push(kind, 64, span);
        match design::fold(&self.design, product) {
            Some(known) => self.constant_expr(known, span),
            None => product,
        }
    }

    /// `$realtime`: the time in the module's units, with its fraction.
    pub(super) fn real_time(&mut self, context: &Context<'a>, span: Span) -> Value {
        let now = self.push(ExprKind::System(SystemFunction::Time(1)), 64, span);
        let now = self.real_op(RealOp::FromUnsigned, vec![now], REAL_WIDTH, span);
        let unit = self.constant_expr(real_bits(context.module.unit.max(1) as f64), span);
        (self.real_op(RealOp::Div, vec![now, unit], REAL_WIDTH, span), Sized::REAL)
    }

    pub(super) fn text_op(&mut self, op: TextOp, operands: Vec<ExprId>, width: u32, span: Span) -> ExprId {
        self.push(ExprKind::Text { op, operands }, width, span)
    }

    /// Functions of real numbers, methods of strings and enumerations, and messages as values.
    pub(super) fn real_or_text(
        &mut self,
        context: &mut Context<'a>,
        name: &str,
        arguments: &'a [NodeId],
        span: Span,
    ) -> Value {
        let conversion = match name {
            "rtoi" => Some(RealOp::Trunc),
            "itor" => None,
            "ln" => Some(RealOp::Ln),
            "asin" => Some(RealOp::Asin),
            "acos" => Some(RealOp::Acos),
            "atan" => Some(RealOp::Atan),
            "atan2" => Some(RealOp::Atan2),
            other => RealOp::named(other).map(|(op, _)| op),
        };
        match (name, arguments) {
            ("itor", [value]) => (self.expr_in(context, *value, Domain::Real), Sized::REAL),
            ("realtobits", [value]) => (self.expr_in(context, *value, Domain::Real), Sized::bits(REAL_WIDTH, false)),
            ("bitstoreal", [value]) => {
                let (bits, _) = self.expr(context, *value);
                (self.resize(bits, REAL_WIDTH, false, span), Sized::REAL)
            }
            ("sformatf" | "psprintf", list) => {
                let parts = self.print_parts(context, list, Radix::Decimal, span);
                (self.push(ExprKind::Format(parts), TEXT_WIDTH, span), Sized::TEXT)
            }
            (_, list) if conversion.is_some_and(|op| op.operands() == list.len()) => {
                let op = conversion.unwrap_or(RealOp::Trunc);
                let operands = list.iter().map(|a| self.expr_in(context, *a, Domain::Real)).collect();
                let value = self.real_op(op, operands, REAL_WIDTH, span);
                if name == "rtoi" { self.rounded(value, Sized::REAL, 32) } else { (value, Sized::REAL) }
            }
            (method, [of, rest @ ..]) if method.starts_with("method ") => {
                self.method(context, &method["method ".len()..], *of, rest, span)
            }
            _ => {
                let before = self.findings.len();
                self.reading(context, name, arguments, span).unwrap_or_else(|| {
                    if self.findings.len() == before {
                        self.report(say::not_understood_yet(&format!("`${name}`"), span));
                    }
                    self.unknown(span)
                })
            }
        }
    }

    /// `name.len()` of a string, `state.name()` of an enumeration (IEEE 1800-2017 6.16, 6.19.5).
    fn method(&mut self, context: &mut Context<'a>, method: &str, of: NodeId, rest: &'a [NodeId], span: Span) -> Value {
        let is_elsewhere = match &context.module.exprs[of].kind {
            NodeKind::Path(_) => true,
            NodeKind::Name(name) => {
                matches!(context.symbols.get(&name.name), Some(super::symbols::Symbol::Instance(_)))
            }
            _ => false,
        };
        if is_elsewhere {
            self.report(say::not_understood_yet("Calling what another instance declares", span));
            return self.unknown(span);
        }
        if let ("name", []) = (method, rest)
            && let Some(value) = self.value_name(context, of, span)
        {
            return value;
        }
        if let Some(value) = self.value_step(context, method, of, rest, span) {
            return value;
        }
        let op = match (method, rest.len()) {
            ("len", 0) => Some((TextOp::Length, Sized::bits(32, true))),
            ("toupper", 0) => Some((TextOp::Upper, Sized::TEXT)),
            ("tolower", 0) => Some((TextOp::Lower, Sized::TEXT)),
            ("atoi", 0) => Some((TextOp::ToNumber, Sized::bits(32, true))),
            ("getc", 1) => Some((TextOp::Character, Sized::bits(8, false))),
            ("substr", 2) => Some((TextOp::Part, Sized::TEXT)),
            _ => None,
        };
        let (value, size) = self.expr_any(context, of, 0);
        match op {
            Some((op, result)) if size.domain == Domain::Text => {
                let mut operands = vec![value];
                for argument in rest {
                    let (index, size) = self.expr_at_least(context, *argument, 32);
                    operands.push(self.resize(index, 32, size.signed, span));
                }
                (self.text_op(op, operands, result.width, span), result)
            }
            _ => {
                self.report(say::not_understood_yet(&format!("The method `.{method}()`"), span));
                self.unknown(span)
            }
        }
    }

    /// `c.first()`, `c.last()`, `c.next()`, `c.prev()`, `c.num()` of an enumeration (IEEE 1800-2017 6.19.5).
    fn value_step(
        &mut self,
        context: &mut Context<'a>,
        method: &str,
        of: NodeId,
        rest: &[NodeId],
        span: Span,
    ) -> Option<Value> {
        let NodeKind::Name(name) = &context.module.exprs[of].kind else { return None };
        let signal = context.symbols.signal(&name.name)?.id;
        let names = self.design.value_names.get(&signal)?;
        let values: Vec<u64> = (0..names.len()).filter(|at| !names[*at].is_empty()).map(|at| at as u64).collect();
        let (first, last) = (*values.first()?, *values.last()?);
        let (value, size) = self.expr(context, of);
        let number = |me: &mut Self, n: u64| me.constant_expr(LogicVector::from_u64(size.width, n), span);
        let (towards, around): (Vec<(u64, u64)>, u64) = match (method, rest) {
            ("first", []) => return Some((number(self, first), size)),
            ("last", []) => return Some((number(self, last), size)),
            ("num", []) => {
                let count = LogicVector::from_u64(32, values.len() as u64);
                return Some((self.constant_expr(count, span), Sized::bits(32, true)));
            }
            ("next", []) => (values.windows(2).map(|w| (w[0], w[1])).collect(), first),
            ("prev", []) => (values.windows(2).map(|w| (w[1], w[0])).collect(), last),
            _ => return None,
        };
        let mut found = number(self, around);
        for (here, there) in towards {
            let here = number(self, here);
            let (op, unknowns) = (BinaryOp::SameLevels, Unknowns::Propagate);
            let kind = ExprKind::Binary { op, signed: false, unknowns, left: value, right: here };
            let condition = self.push(kind, 1, span);
            let then = number(self, there);
            let unknown = UnknownCondition::Otherwise;
            found = self.push(ExprKind::Select { condition, then, otherwise: found, unknown }, size.width, span);
        }
        Some((found, size))
    }

    /// The name of an enumeration's value, empty for a value without one.
    fn value_name(&mut self, context: &mut Context<'a>, of: NodeId, span: Span) -> Option<Value> {
        let NodeKind::Name(name) = &context.module.exprs[of].kind else { return None };
        let signal = context.symbols.signal(&name.name)?.id;
        let names = self.design.value_names.get(&signal)?.clone();
        let (value, size) = self.expr(context, of);
        let mut text = self.constant_expr(LogicVector::from_u64(TEXT_WIDTH, 0), span);
        for (at, name) in names.iter().enumerate().filter(|(_, name)| !name.is_empty()) {
            let number = self.constant_expr(LogicVector::from_u64(size.width, at as u64), span);
            let unknowns = Unknowns::Propagate;
            let same =
                ExprKind::Binary { op: BinaryOp::SameLevels, signed: false, unknowns, left: value, right: number };
            let condition = self.push(same, 1, span);
            let bytes = name.bytes().flat_map(|b| (0..8).rev().map(move |i| logic::Level::from(b >> i & 1 == 1)));
            let spelt = LogicVector::from_levels_msb(bytes).resized(TEXT_WIDTH, false);
            let then = self.constant_expr(spelt, span);
            let unknown = UnknownCondition::Otherwise;
            text = self.push(ExprKind::Select { condition, then, otherwise: text, unknown }, TEXT_WIDTH, span);
        }
        Some((text, Sized::TEXT))
    }
}
