//! Lists of values for arrays and structures: `'{a, b}`, `'{default: 0}` (IEEE 1800-2017 10.9).

use super::symbols::Layout;
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{Domain, NodeId, NodeKind, PatternKey};
use base::Span;
use design::{ExprId, ExprKind};
use front::Lower;
use logic::{Level, LogicVector, Shape};

/// Places of a list with what stands there.
type Keyed = Vec<(Option<PatternKey>, NodeId)>;

impl<'a> Lowering<'a, '_> {
    /// The value for something laid out like that; lists are taken apart by it.
    pub(super) fn expr_as(&mut self, context: &mut Context<'a>, root: NodeId, layout: &Layout) -> ExprId {
        let node = &context.module.exprs[root];
        let span = node.span;
        let width = layout.width();
        let NodeKind::Pattern(list) = &node.kind else {
            return match layout.whole_domain() {
                Domain::Bits => self.expr_assigned(context, root, width),
                domain => self.expr_in(context, root, domain),
            };
        };
        if self.budget.enter().is_err() {
            self.report(say::too_deep(span));
            return self.constant_expr(LogicVector::filled(width, Level::Unknown), span);
        }
        let parts = match (&layout.fields, layout.dimensions.first()) {
            (_, Some(bounds)) => {
                let element = layout.element().unwrap_or_else(|| Layout::vector(Shape::SCALAR, false));
                self.elements(context, list, *bounds, &element, span)
            }
            (Some(fields), None) => {
                let mut values = Vec::new();
                for (i, field) in fields.iter().enumerate() {
                    let found =
                        list.iter().find(|(key, _)| matches!(key, Some(PatternKey::Name(n)) if n.name == field.name));
                    let found = found.or_else(|| list.get(i).filter(|(key, _)| key.is_none()));
                    let found = found.or_else(|| list.iter().find(|(key, _)| matches!(key, Some(PatternKey::Default))));
                    let Some((_, node)) = found else {
                        self.report(say::pattern_size(fields.len() as u32, list.len(), span));
                        break;
                    };
                    let node = *node;
                    values.push(self.expr_as(context, node, &field.layout));
                }
                values
            }
            (None, None) => {
                let bit = Layout::vector(Shape::SCALAR, false);
                self.elements(context, list, layout.shape, &bit, span)
            }
        };
        self.budget.leave();
        let given: u32 = parts.iter().map(|p| self.design.exprs[*p].width).sum();
        if given != width {
            return self.constant_expr(LogicVector::filled(width, Level::Unknown), span);
        }
        self.push(ExprKind::Concat(parts), width, span)
    }

    fn elements(
        &mut self,
        context: &mut Context<'a>,
        list: &'a Keyed,
        bounds: Shape,
        element: &Layout,
        span: Span,
    ) -> Vec<ExprId> {
        let count = bounds.width();
        let (left, right) = bounds.range().unwrap_or((0, 0));
        let positional = list.iter().all(|(key, _)| key.is_none());
        if positional && list.len() != count as usize {
            self.report(say::pattern_size(count, list.len(), span));
            return Vec::new();
        }
        let mut keyed: Vec<(i64, NodeId)> = Vec::new();
        for (key, node) in list {
            if let Some(PatternKey::Index(index)) = key
                && let Some(n) = self.constant_number(context, *index)
            {
                keyed.push((n, *node));
            }
        }
        let default = list.iter().find(|(key, _)| matches!(key, Some(PatternKey::Default))).map(|(_, n)| *n);
        let mut values = Vec::new();
        for i in 0..count {
            if self.budget.spend(2).is_err() {
                break;
            }
            let index = if left >= right { i64::from(left) - i64::from(i) } else { i64::from(left) + i64::from(i) };
            let node = if positional {
                list.get(i as usize).map(|(_, n)| *n)
            } else {
                keyed.iter().find(|(n, _)| *n == index).map(|(_, n)| *n).or(default)
            };
            let Some(node) = node else {
                self.report(say::pattern_size(count, list.len(), span));
                break;
            };
            values.push(self.expr_as(context, node, element));
        }
        values
    }

    /// A list where only the width of its target is known: a vector of bits, or `default` for every bit.
    pub(super) fn pattern_by_width(
        &mut self,
        context: &mut Context<'a>,
        list: &'a Keyed,
        width: u32,
        span: Span,
    ) -> ExprId {
        if let [(Some(PatternKey::Default), node)] = list.as_slice() {
            return self.expr_assigned(context, *node, width);
        }
        let top = i32::try_from(width).unwrap_or(1) - 1;
        let bit = Layout::vector(Shape::SCALAR, false);
        let parts = self.elements(context, list, Shape::vector(top, 0), &bit, span);
        if parts.len() != width as usize {
            return self.constant_expr(LogicVector::filled(width, Level::Unknown), span);
        }
        self.push(ExprKind::Concat(parts), width, span)
    }

    /// The value of a constant for something laid out like that.
    pub(super) fn constant_as(&mut self, context: &mut Context<'a>, root: NodeId, layout: &Layout) -> LogicVector {
        let before = self.findings.len();
        let span = context.module.exprs[root].span;
        let value = self.expr_as(context, root, layout);
        design::evaluate(&self.design, value, self.budget).unwrap_or_else(|| {
            if self.findings.len() == before {
                self.report(say::constant_needed(span));
            }
            LogicVector::filled(layout.width(), Level::Unknown)
        })
    }
}
