//! The value of an expression without signals, for parameters, bounds and replications.

use crate::expr::{BinaryOp, ExprKind, UnaryOp, UnknownCondition, Unknowns};
use crate::ids::ExprId;
use crate::model::Design;
use crate::real::real_value;
use logic::{Level, LogicVector};
use std::cmp::Ordering;
use std::collections::{BTreeMap, BTreeSet};

/// The value of a constant expression; `None` when it reads a signal, a variable or the simulator.
pub fn fold(design: &Design, root: ExprId) -> Option<LogicVector> {
    let mut wanted = BTreeSet::from([root]);
    let mut stack = vec![root];
    while let Some(id) = stack.pop() {
        let kind = &design.exprs[id].kind;
        if matches!(
            kind,
            ExprKind::Signal(_)
                | ExprKind::Variable(_)
                | ExprKind::System(_)
                | ExprKind::Call { .. }
                | ExprKind::Text { .. }
                | ExprKind::Format(_)
                | ExprKind::Scan(_)
        ) {
            return None;
        }
        let operands = kind.operands();
        stack.extend(operands.into_iter().filter(|o| wanted.insert(*o)));
    }
    let mut done: BTreeMap<ExprId, LogicVector> = BTreeMap::new();
    for id in wanted {
        let value = node(design, id, &done)?;
        done.insert(id, value);
    }
    done.remove(&root)
}

fn node(design: &Design, id: ExprId, done: &BTreeMap<ExprId, LogicVector>) -> Option<LogicVector> {
    let expr = &design.exprs[id];
    let v = |e: &ExprId| done.get(e).cloned();
    Some(match &expr.kind {
        ExprKind::Const(value) => value.clone(),
        ExprKind::Slice { base, low } => v(base)?.slice(i64::from(*low), expr.width),
        ExprKind::Element { base, index, stride } => match v(index)?.to_i64() {
            Some(k) => v(base)?.slice(k.saturating_mul(i64::from(*stride)), expr.width),
            None => LogicVector::filled(expr.width, Level::Unknown),
        },
        ExprKind::Checked { value, condition, .. } => {
            let holds = fold(design, *condition)?.get(0).known() == Some(true);
            v(value).filter(|_| holds)?
        }
        ExprKind::Resize { value, signed } => v(value)?.resized(expr.width, *signed),
        ExprKind::Concat(parts) => LogicVector::concat(&parts.iter().map(v).collect::<Option<Vec<_>>>()?),
        ExprKind::Select { condition, then, otherwise, unknown } => match (v(condition)?.get(0).known(), unknown) {
            (Some(true), _) => v(then)?,
            // Bits that agree keep their level (IEEE 1364-2005 5.1.13).
            (None, UnknownCondition::Merge) => {
                v(then)?.zip(&v(otherwise)?, |x, y| if x == y { x } else { Level::Unknown })
            }
            _ => v(otherwise)?,
        },
        ExprKind::Unary(op, a) => unary_value(*op, &v(a)?),
        ExprKind::Binary { op, signed, unknowns, left, right } => {
            let (a, b) = (v(left)?, v(right)?);
            match unknown_comparison(*op, *unknowns, &a, &b) {
                Some(decided) => decided,
                None => binary_value(*op, *signed, &a, &b)?,
            }
        }
        ExprKind::Real { op, operands } => {
            real_value(*op, &operands.iter().map(v).collect::<Option<Vec<_>>>()?, expr.width)
        }
        _ => return None,
    })
}

/// What an operator makes of one value (IEEE 1364-2005 5.1): unknown bits stay unknown unless the known ones decide.
pub fn unary_value(op: UnaryOp, a: &LogicVector) -> LogicVector {
    let bit = |b: Option<bool>| LogicVector::filled(1, b.map_or(Level::Unknown, Level::from));
    match op {
        UnaryOp::Not => a.map(|l| l.known().map_or(Level::Unknown, |b| Level::from(!b))),
        UnaryOp::Neg => LogicVector::from_u64(a.width(), 0).sub(a),
        UnaryOp::ReduceOr | UnaryOp::LogicalNot => {
            let any = a.bits().any(|l| l.known() == Some(true));
            let sum = if any { Some(true) } else { a.is_known().then_some(false) };
            bit(if op == UnaryOp::ReduceOr { sum } else { sum.map(|b| !b) })
        }
        UnaryOp::ReduceAnd => {
            let none = a.bits().any(|l| l.known() == Some(false));
            bit(if none { Some(false) } else { a.is_known().then_some(true) })
        }
        UnaryOp::ReduceXor => bit(a.is_known().then(|| a.bits().filter(|l| l.known() == Some(true)).count() % 2 == 1)),
    }
}

/// A power by squaring; a negative exponent as IEEE 1364-2005 table 5-6 has it.
fn power(base: &LogicVector, signed: bool, exponent: &LogicVector) -> Option<LogicVector> {
    if !exponent.is_known() {
        return None;
    }
    let width = base.width();
    if exponent.width() > 0 && exponent.get(exponent.width() - 1) == Level::One {
        let is_minus_one = signed && base.bits().all(|l| l == Level::One);
        let is_odd = exponent.get(0) == Level::One;
        return match base.to_u64() {
            Some(0) => None,
            Some(1) => Some(base.clone()),
            _ if is_minus_one && is_odd => Some(base.clone()),
            _ => base.is_known().then(|| LogicVector::from_u64(width, u64::from(is_minus_one))),
        };
    }
    let mut result = LogicVector::from_u64(width, 1);
    let mut square = base.clone();
    let highest = (0..exponent.width()).rev().find(|i| exponent.get(*i) == Level::One);
    for bit in 0..highest.map_or(0, |h| h + 1) {
        if exponent.get(bit) == Level::One {
            result = result.mul(&square);
        }
        square = square.mul(&square);
    }
    Some(result)
}

/// What a comparison makes of operands that are not both known: false where the operator says so (IEEE 1076.3); of equality
/// a known difference decides (IEEE 1364-2005 5.1.8). `None` for anything else.
pub fn unknown_comparison(op: BinaryOp, unknowns: Unknowns, a: &LogicVector, b: &LogicVector) -> Option<LogicVector> {
    use BinaryOp as B;
    let bit = |one: bool| Some(LogicVector::from_u64(1, u64::from(one)));
    if (a.is_known() && b.is_known()) || !op.is_comparison() || matches!(op, B::SameLevels | B::Match) {
        return None;
    }
    if unknowns == Unknowns::False {
        return bit(op == B::NotEqual);
    }
    if !matches!(op, B::Equal | B::NotEqual) {
        return None;
    }
    let differ = a.bits().zip(b.bits()).any(|(x, y)| x.known().zip(y.known()).is_some_and(|(x, y)| x != y));
    if differ { bit(op == B::NotEqual) } else { Some(LogicVector::filled(1, Level::Unknown)) }
}

/// What an operator makes of two values; `None` for a shift or power by an unknown number.
pub fn binary_value(op: BinaryOp, signed: bool, a: &LogicVector, b: &LogicVector) -> Option<LogicVector> {
    use BinaryOp as B;
    let bitwise = |f: fn(Option<bool>, Option<bool>) -> Option<bool>| {
        a.zip(b, |x, y| f(x.known(), y.known()).map_or(Level::Unknown, Level::from))
    };
    let compare = |f: fn(Ordering) -> bool| {
        LogicVector::filled(1, a.compare(b, signed).map_or(Level::Unknown, |o| Level::from(f(o))))
    };
    let is_negative = |v: &LogicVector| signed && v.width() > 0 && v.get(v.width() - 1).known() == Some(true);
    let size = |v: &LogicVector| if is_negative(v) { LogicVector::from_u64(v.width(), 0).sub(v) } else { v.clone() };
    let negate = |n: bool, v: LogicVector| if n { LogicVector::from_u64(v.width(), 0).sub(&v) } else { v };
    Some(match op {
        B::And => bitwise(|x, y| match (x, y) {
            (Some(false), _) | (_, Some(false)) => Some(false),
            (Some(true), Some(true)) => Some(true),
            _ => None,
        }),
        B::Or => bitwise(|x, y| match (x, y) {
            (Some(true), _) | (_, Some(true)) => Some(true),
            (Some(false), Some(false)) => Some(false),
            _ => None,
        }),
        B::Xor => bitwise(|x, y| Some(x? ^ y?)),
        B::Add => a.add(b),
        B::Sub => a.sub(b),
        B::Mul => a.mul(b),
        B::Div => negate(is_negative(a) != is_negative(b), size(a).div_rem(&size(b)).0),
        B::Rem => negate(is_negative(a), size(a).div_rem(&size(b)).1),
        B::Mod => {
            let rest = negate(is_negative(a), size(a).div_rem(&size(b)).1);
            let zero = rest.to_u64() == Some(0);
            if !zero && is_negative(a) != is_negative(b) { rest.add(b) } else { rest }
        }
        B::Pow => power(a, signed, b)?,
        B::ShiftLeft => a.shift_left(b.to_u64()?),
        B::ShiftRight => a.shift_right(b.to_u64()?, false),
        B::ShiftRightArithmetic => a.shift_right(b.to_u64()?, true),
        B::Equal => compare(Ordering::is_eq),
        B::NotEqual => compare(Ordering::is_ne),
        B::SameLevels => LogicVector::from_u64(1, u64::from(a == b)),
        B::Match => {
            let fits = |(x, y): (Level, Level)| {
                let free = x == Level::DontCare || y == Level::DontCare;
                free || x.known().is_some() && x.known() == y.known()
            };
            LogicVector::from_u64(1, u64::from(a.bits().zip(b.bits()).all(fits)))
        }
        B::Less => compare(Ordering::is_lt),
        B::LessEqual => compare(Ordering::is_le),
        B::Greater => compare(Ordering::is_gt),
        B::GreaterEqual => compare(Ordering::is_ge),
    })
}
