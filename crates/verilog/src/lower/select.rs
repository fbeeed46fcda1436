//! Parts of signals: indices, part selects and elements of memories, as values and as targets.

use super::expr::Sized;
use super::scope::{Layout, Symbol};
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{DataKind, Ident, NodeId, NodeKind, PortDirection};
use base::Span;
use design::{BinaryOp, ExprId, ExprKind, Storage, Target, Unknowns};
use logic::{Level, LogicVector, Shape};

/// A part of a piece of storage.
pub(super) struct Selected {
    name: Ident,
    storage: Option<Storage>,
    /// The value of a parameter that is selected from.
    constant: Option<LogicVector>,
    total: u32,
    layout: Layout,
    /// Lowest bit, from constant selects.
    low: u32,
    width: u32,
    signed: bool,
    /// Computed element and distance.
    element: Option<(ExprId, u32)>,
    /// What is left to select from: elements, then bits.
    rest: Rest,
    /// A constant select lies outside: reads X, writes nothing.
    outside: bool,
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Rest {
    Elements,
    Bits,
    Nothing,
}

impl<'a> Lowering<'a, '_> {
    pub(super) fn select_value(&mut self, context: &mut Context<'a>, id: NodeId) -> (ExprId, Sized) {
        let span = context.module.exprs[id].span;
        let Some(selected) = self.selected(context, id) else {
            let value = self.constant_expr(LogicVector::filled(1, Level::Unknown), span);
            return (value, Sized { width: 1, signed: false });
        };
        let size = Sized { width: selected.width, signed: selected.signed };
        if selected.outside {
            return (self.constant_expr(LogicVector::filled(selected.width, Level::Unknown), span), size);
        }
        let base = match (selected.storage, selected.constant) {
            (Some(Storage::Signal(s)), _) => self.push(ExprKind::Signal(s), selected.total, span),
            (Some(Storage::Variable(v)), _) => self.push(ExprKind::Variable(v), selected.total, span),
            (None, constant) => {
                self.constant_expr(constant.unwrap_or(LogicVector::filled(selected.total, Level::Unknown)), span)
            }
        };
        let value = match selected.element {
            None if selected.low == 0 && selected.width == selected.total => base,
            None => self.push(ExprKind::Slice { base, low: selected.low }, selected.width, span),
            Some((index, stride)) => {
                let base = if selected.low > 0 {
                    let left = selected.total - selected.low;
                    self.push(ExprKind::Slice { base, low: selected.low }, left, span)
                } else {
                    base
                };
                self.push(ExprKind::Element { base, index, stride }, selected.width, span)
            }
        };
        (value, size)
    }

    /// The targets of an assignment, most significant first. `block`: inside a block (variables) or outside (nets).
    pub(super) fn targets(&mut self, context: &mut Context<'a>, id: NodeId, block: bool) -> Option<Vec<Target>> {
        let module = context.module;
        let span = module.exprs[id].span;
        match &module.exprs[id].kind {
            NodeKind::Concat(parts) => {
                let mut list = Vec::new();
                for part in parts {
                    list.extend(self.targets(context, *part, block)?);
                }
                Some(list)
            }
            NodeKind::Name(_) | NodeKind::Index { .. } | NodeKind::Part { .. } | NodeKind::IndexedPart { .. } => {
                let selected = self.selected(context, id)?;
                if !self.may_assign(context, &selected.name, block) {
                    return None;
                }
                let storage = selected.storage?;
                if selected.outside {
                    return None;
                }
                let (low, element) = (selected.low, selected.element);
                Some(vec![Target { storage, low, width: selected.width, element, span }])
            }
            _ => {
                self.report(say::not_assignable(span));
                None
            }
        }
    }

    fn may_assign(&mut self, context: &Context<'a>, name: &Ident, block: bool) -> bool {
        match context.symbols.get(&name.name) {
            Some(Symbol::Signal(s)) => {
                let (kind, direction, declared) = (s.kind, s.direction, s.span);
                if direction == Some(PortDirection::Input) {
                    self.report(say::assign_to_input(&name.name, name.span));
                } else if block && !kind.is_variable() {
                    self.report(say::net_in_block(&name.name, name.span, declared));
                } else if !block && kind.is_variable() && kind != DataKind::Logic {
                    self.report(say::continuous_to_variable(&name.name, name.span, declared));
                } else {
                    return true;
                }
                false
            }
            Some(Symbol::Variable { .. }) => true,
            _ => {
                self.report(say::not_assignable(name.span));
                false
            }
        }
    }

    fn selected(&mut self, context: &mut Context<'a>, id: NodeId) -> Option<Selected> {
        let module = context.module;
        let node = &module.exprs[id];
        match &node.kind {
            NodeKind::Name(name) => self.whole(context, name),
            NodeKind::Index { base, index } => {
                let mut s = self.selected(context, *base)?;
                self.index(context, &mut s, *index, node.span)?;
                Some(s)
            }
            NodeKind::Part { base, left, right } => {
                let mut s = self.selected(context, *base)?;
                let (left, right) = (self.constant_number(context, *left)?, self.constant_number(context, *right)?);
                self.part(&mut s, left, right, node.span)?;
                Some(s)
            }
            NodeKind::IndexedPart { base, start, width, down } => {
                let mut s = self.selected(context, *base)?;
                let width = self.constant_number(context, *width).and_then(|w| u32::try_from(w).ok());
                let Some(width) = width.filter(|w| (1..=65_536).contains(w)) else {
                    self.report(say::constant_needed(module.exprs[*start].span));
                    return None;
                };
                self.indexed_part(context, &mut s, *start, width, *down, node.span)?;
                Some(s)
            }
            _ => {
                self.report(say::not_understood_yet("A select of this", node.span));
                None
            }
        }
    }

    fn whole(&mut self, context: &mut Context<'a>, name: &Ident) -> Option<Selected> {
        let (storage, constant, layout) = match context.symbols.get(&name.name) {
            Some(Symbol::Signal(s)) => (Some(Storage::Signal(s.id)), None, s.layout),
            Some(Symbol::Variable { id, layout, .. }) => (Some(Storage::Variable(*id)), None, *layout),
            Some(Symbol::Parameter { value, signed, .. }) => {
                let shape = Shape::vector(i32::try_from(value.width()).unwrap_or(1) - 1, 0);
                (None, Some(value.clone()), Layout { shape, signed: *signed, elements: None })
            }
            Some(_) => {
                self.report(say::not_a_value(&name.name, name.span));
                return None;
            }
            None => {
                let near = context.symbols.nearest(&name.name).map(str::to_owned);
                self.report(say::undeclared(&name.name, near.as_deref(), name.span));
                return None;
            }
        };
        let total = layout.shape.width() * layout.elements.map_or(1, Shape::width);
        let rest = match (layout.elements, layout.shape.range()) {
            (Some(_), _) => Rest::Elements,
            (None, Some(_)) => Rest::Bits,
            (None, None) => Rest::Nothing,
        };
        Some(Selected {
            name: name.clone(),
            storage,
            constant,
            total,
            layout,
            low: 0,
            width: total,
            signed: layout.signed,
            element: None,
            rest,
            outside: false,
        })
    }

    /// The bounds that the next select counts in, and how many bits one step is.
    fn bounds(&mut self, s: &Selected, span: Span) -> Option<(Shape, u32)> {
        match (s.rest, s.layout.elements) {
            (Rest::Elements, Some(elements)) => Some((elements, s.layout.shape.width())),
            (Rest::Bits, _) => Some((s.layout.shape, 1)),
            _ => {
                self.report(say::index_of_scalar(&s.name.name, span));
                None
            }
        }
    }

    fn narrow(s: &mut Selected) {
        s.rest = match (s.rest, s.layout.shape.range()) {
            (Rest::Elements, Some(_)) => Rest::Bits,
            _ => Rest::Nothing,
        };
        s.signed = s.layout.signed && s.rest == Rest::Bits;
    }

    fn index(&mut self, context: &mut Context<'a>, s: &mut Selected, index: NodeId, span: Span) -> Option<()> {
        let (shape, stride) = self.bounds(s, span)?;
        let (value, size) = self.expr(context, index);
        match design::fold(&self.design, value) {
            Some(constant) => {
                let number =
                    if size.signed { constant.to_i64() } else { constant.to_u64().and_then(|v| v.try_into().ok()) };
                match number.and_then(|n| shape.position(n)) {
                    Some(position) => s.low += position * stride,
                    None => {
                        self.report(say::index_outside(&s.name.name, &shape.to_string(), span));
                        s.outside = true;
                    }
                }
                s.width = stride;
            }
            None => {
                let position = self.position(value, size, shape, span);
                self.add_element(s, position, stride, span)?;
                s.width = stride;
            }
        }
        Self::narrow(s);
        Some(())
    }

    fn add_element(&mut self, s: &mut Selected, position: ExprId, stride: u32, span: Span) -> Option<()> {
        let Some((outer, outer_stride)) = s.element else {
            s.element = Some((position, stride));
            return Some(());
        };
        // memory[i][j]: one position in steps of the inner stride.
        let width = 40;
        let outer = self.resize(outer, width, true, span);
        let inner = self.resize(position, width, true, span);
        let factor = self.constant_expr(LogicVector::from_u64(width, u64::from(outer_stride / stride)), span);
        let binary =
            |op, left, right| ExprKind::Binary { op, signed: true, unknowns: Unknowns::Propagate, left, right };
        let scaled = self.push(binary(BinaryOp::Mul, outer, factor), width, span);
        let sum = self.push(binary(BinaryOp::Add, scaled, inner), width, span);
        s.element = Some((sum, stride));
        Some(())
    }

    /// The distance of a computed index from the least significant step, as two's complement.
    fn position(&mut self, value: ExprId, size: Sized, shape: Shape, span: Span) -> ExprId {
        let (left, right) = shape.range().unwrap_or((0, 0));
        let width = size.width.max(32) + 2;
        let value = self.resize(value, width, size.signed, span);
        if left >= right && right == 0 {
            return value;
        }
        let bound = LogicVector::from_u64(64, i64::from(right).cast_unsigned()).resized(width, true);
        let bound = self.constant_expr(bound, span);
        let (a, b) = if left >= right { (value, bound) } else { (bound, value) };
        let kind =
            ExprKind::Binary { op: BinaryOp::Sub, signed: true, unknowns: Unknowns::Propagate, left: a, right: b };
        self.push(kind, width, span)
    }

    fn part(&mut self, s: &mut Selected, left: i64, right: i64, span: Span) -> Option<()> {
        let (shape, stride) = self.bounds(s, span)?;
        let (Some(high), Some(low)) = (shape.position(left), shape.position(right)) else {
            self.report(say::index_outside(&s.name.name, &shape.to_string(), span));
            s.width = u32::try_from(left.abs_diff(right)).ok()?.checked_add(1).filter(|w| *w <= 65_536)?;
            s.outside = true;
            s.rest = Rest::Nothing;
            s.signed = false;
            return Some(());
        };
        if high < low {
            self.report(say::reversed_part(&s.name.name, &shape.to_string(), span));
            return None;
        }
        s.low += low * stride;
        s.width = (high - low + 1) * stride;
        s.rest = Rest::Nothing;
        s.signed = false;
        Some(())
    }

    /// `[start +: width]` and `[start -: width]` (IEEE 1364-2005 5.2.1).
    fn indexed_part(
        &mut self,
        context: &mut Context<'a>,
        s: &mut Selected,
        start: NodeId,
        width: u32,
        down: bool,
        span: Span,
    ) -> Option<()> {
        let (shape, stride) = self.bounds(s, span)?;
        let (left, right) = shape.range().unwrap_or((0, 0));
        let descending = left >= right;
        let (value, size) = self.expr(context, start);
        let reach = i64::from(width) - 1;
        if let Some(constant) = design::fold(&self.design, value) {
            let first =
                if size.signed { constant.to_i64() } else { constant.to_u64().and_then(|v| v.try_into().ok()) }?;
            let other = if down { first - reach } else { first + reach };
            let (l, r) =
                if descending { (first.max(other), first.min(other)) } else { (first.min(other), first.max(other)) };
            return self.part(s, l, r, span);
        }
        // The index nearest the least significant bit: the lower one of a descending range, the higher of the other.
        let shift = match (descending, down) {
            (true, true) => -reach,
            (false, false) => reach,
            _ => 0,
        };
        let mut position = self.position(value, size, shape, span);
        // Positions grow towards the most significant bit, so both corrections lower them.
        if shift != 0 {
            let wide = self.design.exprs[position].width;
            let by = self.constant_expr(LogicVector::from_u64(64, reach.cast_unsigned()).resized(wide, true), span);
            let kind = ExprKind::Binary {
                op: BinaryOp::Sub,
                signed: true,
                unknowns: Unknowns::Propagate,
                left: position,
                right: by,
            };
            position = self.push(kind, wide, span);
        }
        self.add_element(s, position, stride, span)?;
        s.width = width * stride;
        s.rest = Rest::Nothing;
        s.signed = false;
        Some(())
    }
}
