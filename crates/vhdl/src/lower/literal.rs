//! Literals and aggregates, whose type comes from where they stand.

use super::types::{Ty, VectorKind};
use super::{Context, Lowering, Value};
use crate::diagnostics as say;
use crate::tree::{Expr as Tree, ExprKind as Node, Range};
use base::Span;
use design::{ExprId, ExprKind};
use front::Lower;
use logic::{Level, LogicVector};

impl<'a> Lowering<'a, '_> {
    pub(super) fn character(&mut self, c: char, expected: Option<&Ty>, span: Span) -> Option<Value> {
        if let Some(ty @ Ty::Enumeration { literals, .. }) = expected
            && let Some(at) = literals.iter().position(|l| *l == format!("'{c}'"))
        {
            let id = self.constant_expr(LogicVector::from_u64(ty.width()?, at as u64), span);
            return Some(Value { id, ty: ty.clone() });
        }
        let ty = match expected {
            Some(Ty::Bit) => Ty::Bit,
            _ => Ty::Logic,
        };
        let level = self.level(c, &ty, span)?;
        let id = self.constant_expr(LogicVector::filled(1, level), span);
        Some(Value { id, ty })
    }

    fn level(&mut self, c: char, ty: &Ty, span: Span) -> Option<Level> {
        let level = if c == '?' { None } else { Level::from_char(c) };
        match level {
            Some(level) if *ty != Ty::Bit || matches!(level, Level::Zero | Level::One) => Some(level),
            _ => {
                self.report(say::wrong_digit(c, span));
                None
            }
        }
    }

    /// `"0101"`
    pub(super) fn text(&mut self, text: &str, expected: Option<&Ty>, span: Span) -> Option<Value> {
        if let Some(ty) = expected
            && ty.is_string()
        {
            let codes: Vec<LogicVector> =
                text.chars().map(|c| LogicVector::from_u64(8, u64::from(u8::try_from(c).unwrap_or(b'?')))).collect();
            if codes.is_empty() || codes.len() > 8_000 {
                self.report(say::too_wide(span));
                return None;
            }
            let id = self.constant_expr(LogicVector::concat(&codes), span);
            let last = i64::try_from(codes.len()).ok()?;
            return Some(Value { id, ty: Ty::string(Some((1, last))) });
        }
        let kind = expected.and_then(Ty::vector_kind).unwrap_or(VectorKind::StdLogic);
        let element = if kind == VectorKind::Bit { Ty::Bit } else { Ty::Logic };
        let levels: Option<Vec<Level>> = text.chars().map(|c| self.level(c, &element, span)).collect();
        let value = LogicVector::from_levels_msb(levels?);
        let width = value.width();
        let id = self.constant_expr(value, span);
        Some(Value { id, ty: Ty::vector(kind, width) })
    }

    /// `x"1F"`, `12x"1F"`, `d"12"`
    pub(super) fn bit_string(&mut self, node: &Node, expected: Option<&Ty>, span: Span) -> Option<Value> {
        let Node::Bits { base, signed, length, digits } = node else { return None };
        let mut levels = Vec::new();
        if *base == 0 {
            let Ok(number) = digits.parse::<u64>() else {
                self.report(say::bad_number(span));
                return None;
            };
            let needed = (64 - number.leading_zeros()).max(1);
            let width = length.unwrap_or(needed);
            levels.extend((0..width).rev().map(|i| Level::from(i < 64 && number >> i & 1 == 1)));
        } else {
            for c in digits.chars() {
                match c.to_digit(1 << base) {
                    Some(digit) => levels.extend((0..*base).rev().map(|i| Level::from(digit >> i & 1 == 1))),
                    None => match Level::from_char(c) {
                        Some(level) if level.known().is_none() => {
                            levels.extend(std::iter::repeat_n(level, *base as usize))
                        }
                        _ => {
                            self.report(say::wrong_digit(c, span));
                            return None;
                        }
                    },
                }
            }
        }
        let mut value = LogicVector::from_levels_msb(levels);
        if let Some(length) = length {
            value = value.resized(*length, *signed);
        }
        let kind = expected.and_then(Ty::vector_kind).unwrap_or(VectorKind::StdLogic);
        let width = value.width();
        let id = self.constant_expr(value, span);
        Some(Value { id, ty: Ty::vector(kind, width) })
    }

    /// `(others => '0')`, `('1', '0')`, `(3 => a, others => b)`, `(red => x, green => y)`.
    pub(super) fn aggregate(
        &mut self,
        context: &mut Context<'a>,
        elements: &'a [(Vec<Range>, Tree)],
        expected: Option<&Ty>,
        span: Span,
    ) -> Option<Value> {
        match expected {
            Some(Ty::Record { fields, .. }) => {
                let fields = fields.clone();
                self.record_aggregate(context, elements, expected?, &fields, span)
            }
            Some(ty) if ty.element().is_some() => self.array_aggregate(context, elements, ty, span),
            Some(other) => {
                let wanted = other.describe();
                self.report(say::type_mismatch(&wanted, "a list of values", span));
                None
            }
            None if elements.iter().all(|(c, _)| c.is_empty()) => {
                let ty = Ty::vector(VectorKind::StdLogic, u32::try_from(elements.len()).unwrap_or(u32::MAX));
                self.array_aggregate(context, elements, &ty, span)
            }
            None => {
                self.report(say::not_read_yet("An aggregate whose type doesn't follow from its place", span));
                None
            }
        }
    }

    /// The bounds of an aggregate: those of its type, else what its elements say.
    fn aggregate_bounds(
        &mut self,
        context: &mut Context<'a>,
        elements: &'a [(Vec<Range>, Tree)],
        ty: &Ty,
        span: Span,
    ) -> Option<(i64, i64)> {
        if let Some(bounds) = ty.bounds() {
            return Some(bounds);
        }
        if elements.iter().all(|(c, _)| c.is_empty()) {
            return Some((0, elements.len() as i64 - 1));
        }
        // Without other bounds those of the choice count (IEEE 1076-2008 9.3.3.3).
        if let [(choices, _)] = elements
            && let [range] = &choices[..]
            && is_range(range)
        {
            let (left, right, _) = self.static_range(context, range, span)?;
            return Some((left, right));
        }
        self.report(say::constant_needed(span));
        None
    }

    fn array_aggregate(
        &mut self,
        context: &mut Context<'a>,
        elements: &'a [(Vec<Range>, Tree)],
        ty: &Ty,
        span: Span,
    ) -> Option<Value> {
        let element = ty.element()?;
        let (left, right) = self.aggregate_bounds(context, elements, ty, span)?;
        let count = usize::try_from(left.abs_diff(right)).ok()?.checked_add(1)?;
        if count > 1 << 16 {
            self.report(say::too_wide(span));
            return None;
        }
        let whole = ty.with_bounds(left, right);
        let place = |index: i64| -> Option<usize> {
            let offset = if left >= right { left - index } else { index - left };
            usize::try_from(offset).ok().filter(|o| *o < count)
        };
        let mut slots: Vec<Option<ExprId>> = vec![None; count];
        let mut next = 0;
        for (choices, tree) in elements {
            let value = self.expr(context, tree, Some(&element))?;
            let value = self.convert(value, &element, tree.span)?;
            let value = self.stored(value, &element, tree.span);
            if choices.is_empty() {
                match slots.get_mut(next) {
                    Some(slot) => *slot = Some(value),
                    None => {
                        self.report(say::length_differs(count as u32, elements.len() as u32, span));
                        return None;
                    }
                }
                next += 1;
                continue;
            }
            for choice in choices {
                let (from, to) = match choice {
                    Range::Of(tree) if tree.kind == Node::Others => {
                        slots.iter_mut().for_each(|s| {
                            s.get_or_insert(value);
                        });
                        continue;
                    }
                    Range::Of(tree) if !is_range(choice) => {
                        let index = self.static_position(context, tree)?;
                        (index, index)
                    }
                    range => {
                        let (l, r, _) = self.static_range(context, range, span)?;
                        (l.min(r), l.max(r))
                    }
                };
                for index in from..=to {
                    match place(index).and_then(|p| slots.get_mut(p)) {
                        Some(slot) => *slot = Some(value),
                        None => {
                            self.report(say::index_outside("this array", index, span));
                            return None;
                        }
                    }
                }
            }
        }
        let filled: Option<Vec<ExprId>> = slots.iter().copied().collect();
        let Some(parts) = filled else {
            let given = slots.iter().filter(|s| s.is_some()).count();
            self.report(say::length_differs(count as u32, given as u32, span));
            return None;
        };
        let width = whole.width()?;
        let id = self.push(ExprKind::Concat(parts), width, span);
        Some(Value { id, ty: whole })
    }

    fn record_aggregate(
        &mut self,
        context: &mut Context<'a>,
        elements: &'a [(Vec<Range>, Tree)],
        ty: &Ty,
        fields: &[(String, Ty)],
        span: Span,
    ) -> Option<Value> {
        let mut parts = Vec::new();
        for (i, (name, field)) in fields.iter().enumerate() {
            let named = elements.iter().find(|(choices, _)| {
                choices
                    .iter()
                    .any(|c| matches!(c, Range::Of(t) if t.kind == Node::Name(name.clone()) || t.kind == Node::Others))
            });
            let Some((_, tree)) = named.or_else(|| elements.get(i).filter(|(c, _)| c.is_empty())) else {
                self.report(say::length_differs(fields.len() as u32, elements.len() as u32, span));
                return None;
            };
            let value = self.expr(context, tree, Some(field))?;
            let value = self.convert(value, field, tree.span)?;
            parts.push(self.stored(value, field, tree.span));
        }
        let width = ty.width()?;
        let id = self.push(ExprKind::Concat(parts), width, span);
        Some(Value { id, ty: ty.clone() })
    }
}

/// Does a choice stand for several values: `3 downto 0`, `a'range`?
fn is_range(choice: &Range) -> bool {
    match choice {
        Range::Bounds { .. } => true,
        Range::Of(tree) => {
            matches!(&tree.kind, Node::Attribute(_, name) if matches!(name.name.as_str(), "range" | "reverse_range"))
        }
    }
}
