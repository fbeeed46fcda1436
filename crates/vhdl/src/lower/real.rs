//! Real numbers: what constants and testbenches compute with them (IEEE 1076-2008 9.2, 9.3.6, and the package
//! `math_real` of IEEE 1076.2).

use super::types::{INTEGER_BITS, Ty};
use super::{Context, Lowering, Value};
use crate::diagnostics as say;
use crate::tree::{Association, Expr as Tree};
use base::Span;
use design::{
    AssignMode, BinaryOp, ExprId, ExprKind, REAL_WIDTH, RealOp, Stmt, StmtKind, UnknownCondition, Unknowns, real_bits,
};
use front::Lower;
use logic::LogicVector;
use std::f64::consts;

/// The function of `math_real` of that name.
pub(super) fn function(name: &str) -> Option<RealOp> {
    Some(match name {
        "log" => RealOp::Ln,
        "arcsin" => RealOp::Asin,
        "arccos" => RealOp::Acos,
        "arctan" => RealOp::Atan,
        "realmin" => RealOp::Min,
        "realmax" => RealOp::Max,
        // Not functions of that package.
        "pow" | "hypot" => return None,
        other => RealOp::named(other)?.0,
    })
}

/// The constant of `math_real` of that name.
pub(super) fn constant(name: &str) -> Option<f64> {
    Some(match name {
        "math_e" => consts::E,
        "math_1_over_e" => 1.0 / consts::E,
        "math_pi" => consts::PI,
        "math_2_pi" => 2.0 * consts::PI,
        "math_1_over_pi" => consts::FRAC_1_PI,
        "math_pi_over_2" => consts::FRAC_PI_2,
        "math_pi_over_3" => consts::FRAC_PI_3,
        "math_pi_over_4" => consts::FRAC_PI_4,
        "math_log_of_2" => consts::LN_2,
        "math_log_of_10" => consts::LN_10,
        "math_log2_of_e" => consts::LOG2_E,
        "math_log10_of_e" => consts::LOG10_E,
        "math_sqrt_2" => consts::SQRT_2,
        "math_1_over_sqrt_2" => consts::FRAC_1_SQRT_2,
        "math_deg_to_rad" => consts::PI / 180.0,
        "math_rad_to_deg" => 180.0 / consts::PI,
        _ => return None,
    })
}

impl<'a> Lowering<'a, '_> {
    pub(super) fn real_constant(&mut self, number: f64, span: Span) -> Value {
        Value { id: self.constant_expr(real_bits(number), span), ty: Ty::Real }
    }

    /// A computation with real numbers; constants are computed at once.
    pub(super) fn real_op(&mut self, op: RealOp, operands: Vec<ExprId>, width: u32, span: Span) -> ExprId {
        let known: Option<Vec<LogicVector>> = operands
            .iter()
            .map(|o| match &self.design.exprs[*o].kind {
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

    /// `real(n)` and `integer(x)`; `None` when neither is real.
    pub(super) fn real_conversion(&mut self, ty: &Ty, value: &Value, span: Span) -> Option<ExprId> {
        match (ty, &value.ty) {
            (Ty::Real, Ty::Real) => Some(value.id),
            (Ty::Real, Ty::Integer { .. }) => Some(self.real_op(RealOp::FromSigned, vec![value.id], REAL_WIDTH, span)),
            // The nearest whole number (IEEE 1076-2008 9.3.6).
            (Ty::Integer { .. }, Ty::Real) => Some(self.real_op(RealOp::ToInteger, vec![value.id], INTEGER_BITS, span)),
            _ => None,
        }
    }

    /// A call of a function of `math_real`.
    pub(super) fn real_function(
        &mut self,
        context: &mut Context<'a>,
        (name, op): (&str, RealOp),
        arguments: &'a [Association],
        span: Span,
    ) -> Option<Value> {
        let trees: Vec<&'a Tree> = arguments.iter().filter_map(|a| a.actual.as_ref()).collect();
        let mut operands = Vec::new();
        for tree in &trees {
            operands.push(self.expr_as(context, tree, &Ty::Real)?);
        }
        let op = match (name, operands.len()) {
            // The logarithm to a given base, and the angle of a point.
            ("log", 2) => {
                let logs: Vec<ExprId> =
                    operands.into_iter().map(|o| self.real_op(RealOp::Ln, vec![o], REAL_WIDTH, span)).collect();
                return Some(Value { id: self.real_op(RealOp::Div, logs, REAL_WIDTH, span), ty: Ty::Real });
            }
            ("arctan", 2) => RealOp::Atan2,
            (_, count) if count == op.operands() => op,
            _ => {
                self.report(say::wrong_arguments(name, span));
                return None;
            }
        };
        Some(Value { id: self.real_op(op, operands, REAL_WIDTH, span), ty: Ty::Real })
    }

    pub(super) fn real_relation(&mut self, op: &str, l: ExprId, r: ExprId, span: Span) -> ExprId {
        let (compare, operands, negated) = match op {
            "=" => (RealOp::Equal, vec![l, r], false),
            "/=" => (RealOp::Equal, vec![l, r], true),
            "<" => (RealOp::Less, vec![l, r], false),
            "<=" => (RealOp::LessEqual, vec![l, r], false),
            ">" => (RealOp::Less, vec![r, l], false),
            _ => (RealOp::LessEqual, vec![r, l], false),
        };
        let id = self.real_op(compare, operands, 1, span);
        if negated { self.not(id, span) } else { id }
    }

    /// Operators with a real side: both sides real, a power with a whole exponent, and times scaled by real numbers.
    pub(super) fn real_arithmetic(&mut self, op: &str, l: Value, r: Value, span: Span) -> Option<Value> {
        let plain = match op {
            "+" => Some(RealOp::Add),
            "-" => Some(RealOp::Sub),
            "*" => Some(RealOp::Mul),
            "/" => Some(RealOp::Div),
            "**" => Some(RealOp::Pow),
            _ => None,
        };
        match (plain, &l.ty, &r.ty) {
            (Some(RealOp::Pow), Ty::Real, Ty::Integer { .. }) => {
                let exponent = self.real_op(RealOp::FromSigned, vec![r.id], REAL_WIDTH, span);
                let id = self.real_op(RealOp::Pow, vec![l.id, exponent], REAL_WIDTH, span);
                Some(Value { id, ty: Ty::Real })
            }
            (Some(plain), Ty::Real, Ty::Real) if plain != RealOp::Pow => {
                let id = self.real_op(plain, vec![l.id, r.id], REAL_WIDTH, span);
                Some(Value { id, ty: Ty::Real })
            }
            // IEEE 1076-2008 9.2.7: the nearest whole number of femtoseconds.
            (Some(plain @ (RealOp::Mul | RealOp::Div)), Ty::Time, Ty::Real)
            | (Some(plain @ RealOp::Mul), Ty::Real, Ty::Time) => {
                let mut side = |v: &Value| match v.ty {
                    Ty::Time => self.real_op(RealOp::FromSigned, vec![v.id], REAL_WIDTH, span),
                    _ => v.id,
                };
                let sides = vec![side(&l), side(&r)];
                let product = self.real_op(plain, sides, REAL_WIDTH, span);
                Some(Value { id: self.real_op(RealOp::ToInteger, vec![product], 64, span), ty: Ty::Time })
            }
            _ => {
                let hint = "Bring both sides to one type first: `real(n)` makes a real number of an integer.";
                self.report(say::no_operator(op, &l.ty.describe(), &r.ty.describe(), hint, span));
                None
            }
        }
    }

    /// `uniform(seed1, seed2, x)`: the generator that IEEE 1076.2 prescribes (two linear congruential ones combined).
    pub(super) fn uniform(&mut self, context: &mut Context<'a>, trees: &[&'a Tree], span: Span) -> Option<StmtKind> {
        let [first, second, result] = trees else {
            self.report(say::wrong_arguments("uniform", span));
            return None;
        };
        let mut body = Vec::new();
        let mut seeds = Vec::new();
        for (tree, (quotient, factor, rest, modulus)) in
            [(first, (53_668, 40_014, 12_211, 2_147_483_563)), (second, (52_774, 40_692, 3_791, 2_147_483_399))]
        {
            // s := factor * (s - k * quotient) - k * rest with k = s / quotient, brought back above 0.
            let now = self.expr_as(context, tree, &Ty::INTEGER)?;
            let wide = self.resize(now, 64, true, span);
            let number = |me: &mut Self, n: i64| me.constant_expr(LogicVector::from_u64(64, n.cast_unsigned()), span);
            let (q, f, r, m) =
                (number(self, quotient), number(self, factor), number(self, rest), number(self, modulus));
            let k = self.whole(BinaryOp::Div, wide, q, span);
            let taken = self.whole(BinaryOp::Mul, k, q, span);
            let left = self.whole(BinaryOp::Sub, wide, taken, span);
            let scaled = self.whole(BinaryOp::Mul, left, f, span);
            let less = self.whole(BinaryOp::Mul, k, r, span);
            let next = self.whole(BinaryOp::Sub, scaled, less, span);
            let next = self.lifted(next, 0, m, span);
            let place = self.place(context, tree, Some(false))?;
            let value = self.resize(next, INTEGER_BITS, true, span);
            let value = self.stored(value, &place.ty, span);
            let (targets, mode) = (vec![place.target], AssignMode::Blocking);
            body.push(Stmt { kind: StmtKind::Assign { targets, value, mode, delay: None }, span });
            // Read again behind the assignment.
            let fresh = self.expr_as(context, tree, &Ty::INTEGER)?;
            seeds.push(self.resize(fresh, 64, true, span));
        }
        let z = self.whole(BinaryOp::Sub, seeds[0], seeds[1], span);
        let span_of_numbers = self.constant_expr(LogicVector::from_u64(64, 2_147_483_562), span);
        let z = self.lifted(z, 1, span_of_numbers, span);
        let z = self.real_op(RealOp::FromSigned, vec![z], REAL_WIDTH, span);
        let scale = self.constant_expr(real_bits(4.656_613e-10), span);
        let value = self.real_op(RealOp::Mul, vec![z, scale], REAL_WIDTH, span);
        let place = self.place(context, result, Some(false))?;
        if place.ty != Ty::Real {
            self.report(say::type_mismatch("a real", &place.ty.describe(), result.span));
            return None;
        }
        let (targets, mode) = (vec![place.target], AssignMode::Blocking);
        body.push(Stmt { kind: StmtKind::Assign { targets, value, mode, delay: None }, span });
        Some(StmtKind::Block { label: None, body })
    }

    fn whole(&mut self, op: BinaryOp, left: ExprId, right: ExprId, span: Span) -> ExprId {
        self.push(ExprKind::Binary { op, signed: true, unknowns: Unknowns::False, left, right }, 64, span)
    }

    /// The number, with `more` added when it is less than `least`.
    fn lifted(&mut self, number: ExprId, least: u64, more: ExprId, span: Span) -> ExprId {
        let bound = self.constant_expr(LogicVector::from_u64(64, least), span);
        let (op, unknowns) = (BinaryOp::Less, Unknowns::False);
        let condition = self.push(ExprKind::Binary { op, signed: true, unknowns, left: number, right: bound }, 1, span);
        let then = self.whole(BinaryOp::Add, number, more, span);
        let unknown = UnknownCondition::Otherwise;
        self.push(ExprKind::Select { condition, then, otherwise: number, unknown }, 64, span)
    }
}
