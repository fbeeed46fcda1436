//! Numbers as sums of what is not known: `i + 3` and `i` are 3 apart.

use crate::expr::{BinaryOp, ExprKind, UnaryOp};
use crate::ids::ExprId;
use crate::model::Design;
use base::Id as _;
use std::collections::BTreeMap;

/// A whole number: multiples of values that are not known, by how they are written, and a constant.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Linear {
    parts: BTreeMap<String, i64>,
    constant: i64,
}

impl Linear {
    fn constant(constant: i64) -> Self {
        Self { parts: BTreeMap::new(), constant }
    }

    fn scaled(mut self, by: i64) -> Option<Self> {
        self.constant = self.constant.checked_mul(by)?;
        for factor in self.parts.values_mut() {
            *factor = factor.checked_mul(by)?;
        }
        Some(self)
    }

    fn plus(mut self, other: Self) -> Option<Self> {
        self.constant = self.constant.checked_add(other.constant)?;
        for (name, factor) in other.parts {
            let sum = self.parts.entry(name).or_default();
            *sum = sum.checked_add(factor)?;
        }
        self.parts.retain(|_, factor| *factor != 0);
        Some(self)
    }

    /// The difference, where it is always the same.
    pub fn minus(&self, other: &Self) -> Option<i64> {
        let rest = self.clone().plus(other.clone().scaled(-1)?)?;
        rest.parts.is_empty().then_some(rest.constant)
    }
}

/// An expression over whole numbers as a sum; `None` where it is nested deeper than anybody writes.
pub fn linear(design: &Design, root: ExprId) -> Option<Linear> {
    sum_of(design, root, 64)
}

fn sum_of(design: &Design, id: ExprId, depth: u32) -> Option<Linear> {
    let depth = depth.checked_sub(1)?;
    if let Some(value) = crate::fold::fold(design, id) {
        return Some(Linear::constant(value.to_i64()?));
    }
    let node = &design.exprs[id];
    match &node.kind {
        ExprKind::Binary { op: BinaryOp::Add, left, right, .. } => {
            sum_of(design, *left, depth)?.plus(sum_of(design, *right, depth)?)
        }
        ExprKind::Binary { op: BinaryOp::Sub, left, right, .. } => {
            sum_of(design, *left, depth)?.plus(sum_of(design, *right, depth)?.scaled(-1)?)
        }
        ExprKind::Binary { op: BinaryOp::Mul, left, right, .. } => {
            let (a, b) = (sum_of(design, *left, depth)?, sum_of(design, *right, depth)?);
            match (a.parts.is_empty(), b.parts.is_empty()) {
                (true, _) => b.scaled(a.constant),
                (_, true) => a.scaled(b.constant),
                _ => whole(design, id),
            }
        }
        ExprKind::Unary(UnaryOp::Neg, a) => sum_of(design, *a, depth)?.scaled(-1),
        // Numbers keep their value where they are made wider.
        ExprKind::Resize { value, .. } if design.exprs[*value].width <= node.width => match design.exprs[*value].kind {
            ExprKind::Resize { .. } | ExprKind::Checked { .. } => sum_of(design, *value, depth),
            _ => whole(design, id),
        },
        _ => whole(design, id),
    }
}

/// Something that is not looked into.
fn whole(design: &Design, id: ExprId) -> Option<Linear> {
    Some(Linear { parts: BTreeMap::from([(key(design, id, 32)?, 1)]), constant: 0 })
}

/// The same text for expressions that always have the same value; `None` for what is not followed.
fn key(design: &Design, id: ExprId, depth: u32) -> Option<String> {
    let depth = depth.checked_sub(1)?;
    let node = &design.exprs[id];
    let head = match &node.kind {
        ExprKind::Const(value) => return Some(format!("{value:?}")),
        ExprKind::Signal(signal) => return Some(format!("signal {}", signal.index())),
        ExprKind::Variable(variable) => return Some(format!("variable {}", variable.index())),
        ExprKind::Checked { value, .. } => return key(design, *value, depth),
        ExprKind::Slice { low, .. } => format!("slice {low}"),
        ExprKind::Element { stride, .. } => format!("element {stride}"),
        ExprKind::Resize { signed, .. } => format!("resize {signed}"),
        ExprKind::Unary(op, _) => format!("{op:?}"),
        ExprKind::Binary { op, signed, .. } => format!("{op:?} {signed}"),
        ExprKind::Select { .. } => "select".to_owned(),
        ExprKind::Concat(_) => "concat".to_owned(),
        _ => return None,
    };
    let operands: Option<Vec<String>> = node.kind.operands().into_iter().map(|o| key(design, o, depth)).collect();
    Some(format!("{head} {} ({})", node.width, operands?.join(", ")))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::expr::{Expr, Unknowns};
    use crate::ids::SignalId;
    use crate::model::{Scope, ScopeKind};
    use base::{FileId, Span};
    use logic::LogicVector;

    fn push(design: &mut Design, kind: ExprKind) -> ExprId {
        design.exprs.push(Expr { kind, width: 34, span: Span::new(FileId::from_index(0), 0, 0) })
    }

    #[test]
    fn bounds_that_move_together_are_a_fixed_way_apart() {
        let span = Span::new(FileId::from_index(0), 0, 0);
        let (name, unit, kind) = ("t".into(), "t".into(), ScopeKind::Instance);
        let mut design =
            Design::new(Scope { name, unit, parent: None, kind, parameters: Vec::new(), ports: Vec::new(), span });
        let number = |design: &mut Design, n| push(design, ExprKind::Const(LogicVector::from_u64(34, n)));
        let binary = |design: &mut Design, op, left, right| {
            let unknowns = Unknowns::False;
            push(design, ExprKind::Binary { op, signed: true, unknowns, left, right })
        };
        let i = push(&mut design, ExprKind::Signal(SignalId::from_index(0)));
        let again = push(&mut design, ExprKind::Signal(SignalId::from_index(0)));
        let other = push(&mut design, ExprKind::Signal(SignalId::from_index(1)));
        let (three, four) = (number(&mut design, 3), number(&mut design, 4));
        let high = binary(&mut design, BinaryOp::Add, i, three);
        let scaled = binary(&mut design, BinaryOp::Mul, four, i);
        let top = binary(&mut design, BinaryOp::Add, scaled, three);
        let apart = |a, b| linear(&design, a).and_then(|a| a.minus(&linear(&design, b)?));
        assert_eq!(apart(high, again), Some(3));
        assert_eq!(apart(top, scaled), Some(3));
        assert_eq!(apart(high, other), None);
        assert_eq!(apart(scaled, i), None);
    }
}
