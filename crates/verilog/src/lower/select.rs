//! Parts of signals: indices, part selects and elements of memories, as values and as targets.

use super::expr::Sized;
use super::symbols::{Layout, Symbol};
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{DataKind, Domain, Ident, NodeId, NodeKind, PortDirection};
use base::Span;
use design::{BinaryOp, ExprId, ExprKind, Storage, Target, Unknowns};
use front::Lower;
use logic::{Level, LogicVector, Shape};

/// A part of a piece of storage.
pub(super) struct Selected {
    name: Ident,
    storage: Option<Storage>,
    /// The value of a parameter that is selected from.
    constant: Option<LogicVector>,
    total: u32,
    /// What is left to select from.
    layout: Layout,
    /// Lowest bit, from constant selects.
    low: u32,
    pub(super) width: u32,
    signed: bool,
    /// Computed element and distance.
    element: Option<(ExprId, u32)>,
    /// A stretch was taken: nothing is left to select from.
    stretch: bool,
    /// A constant select lies outside: reads X, writes nothing.
    outside: bool,
}

impl<'a> Lowering<'a, '_> {
    pub(super) fn select_value(&mut self, context: &mut Context<'a>, id: NodeId) -> (ExprId, Sized) {
        let span = context.module.exprs[id].span;
        let Some(selected) = self.selected(context, id) else {
            let value = self.constant_expr(LogicVector::filled(1, Level::Unknown), span);
            return (value, Sized::bits(1, false));
        };
        let domain = if selected.stretch { Domain::Bits } else { selected.layout.whole_domain() };
        let size = Sized { domain, ..Sized::bits(selected.width, selected.signed) };
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
            NodeKind::Name(_)
            | NodeKind::Index { .. }
            | NodeKind::Part { .. }
            | NodeKind::IndexedPart { .. }
            | NodeKind::Path(_)
            | NodeKind::Member { .. } => {
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

    /// What a `force` names: nets as well as variables.
    pub(super) fn forced(&mut self, context: &mut Context<'a>, id: NodeId) -> Option<Vec<Target>> {
        let module = context.module;
        let span = module.exprs[id].span;
        if let NodeKind::Concat(parts) = &module.exprs[id].kind {
            let lists: Option<Vec<_>> = parts.iter().map(|p| self.forced(context, *p)).collect();
            return lists.map(|l| l.concat());
        }
        let selected = self.selected(context, id)?;
        match selected.storage {
            Some(storage @ Storage::Signal(_)) if !selected.outside => {
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
            // A hierarchical name, found already.
            None => true,
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
            NodeKind::Path(path) => self.path(context, path, node.span),
            NodeKind::Member { base, field } => {
                if let Some(path) = self.block_path(context, id) {
                    return self.path(context, &path, node.span);
                }
                let mut s = self.selected(context, *base)?;
                self.member(&mut s, field)?;
                Some(s)
            }
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
            Some(Symbol::Signal(s)) => (Some(Storage::Signal(s.id)), None, s.layout.clone()),
            Some(Symbol::Variable { id, layout, .. }) => (Some(Storage::Variable(*id)), None, layout.clone()),
            Some(Symbol::Parameter { value, layout, .. }) => (None, Some(value.clone()), layout.clone()),
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
        Some(Self::all_of(name, storage, constant, layout))
    }

    fn all_of(name: &Ident, storage: Option<Storage>, constant: Option<LogicVector>, layout: Layout) -> Selected {
        let total = layout.width();
        let signed = layout.signed && layout.is_number();
        Selected {
            name: name.clone(),
            storage,
            constant,
            total,
            layout,
            low: 0,
            width: total,
            signed,
            element: None,
            stretch: false,
            outside: false,
        }
    }

    /// The path of `st[2].sum`, a name within one turn of a generate; `None` when the first name is a signal or the like.
    fn block_path(&mut self, context: &mut Context<'a>, id: NodeId) -> Option<Vec<Ident>> {
        let module = context.module;
        let (mut here, mut parts) = (id, Vec::new());
        let mut index: Option<NodeId> = None;
        loop {
            match &module.exprs[here].kind {
                NodeKind::Member { base, field } => {
                    parts.push((field.clone(), index.take()));
                    here = *base;
                }
                NodeKind::Index { base, index: at } if index.is_none() => {
                    index = Some(*at);
                    here = *base;
                }
                NodeKind::Name(first) => {
                    parts.push((first.clone(), index.take()));
                    break;
                }
                NodeKind::Path(path) => {
                    for (k, part) in path.iter().enumerate().rev() {
                        parts.push((part.clone(), if k + 1 == path.len() { index.take() } else { None }));
                    }
                    break;
                }
                _ => return None,
            }
        }
        parts.reverse();
        let first = context.symbols.get(&parts.first()?.0.name);
        if matches!(first, Some(Symbol::Signal(_) | Symbol::Variable { .. } | Symbol::Parameter { .. })) {
            return None;
        }
        let named = parts.into_iter().map(|(mut name, at)| {
            if let Some(at) = at {
                name.name = format!("{}[{}]", name.name, self.constant_number(context, at)?);
            }
            Some(name)
        });
        named.collect()
    }

    /// `word.high`, or `u1.count` for a signal of an instance.
    fn path(&mut self, context: &mut Context<'a>, path: &[Ident], span: Span) -> Option<Selected> {
        let (first, rest) = path.split_first()?;
        let has_fields = match context.symbols.get(&first.name) {
            Some(Symbol::Signal(s)) => s.layout.fields.is_some(),
            Some(Symbol::Variable { layout, .. } | Symbol::Parameter { layout, .. }) => layout.fields.is_some(),
            _ => false,
        };
        if has_fields {
            let mut selected = self.whole(context, first)?;
            for field in rest {
                self.member(&mut selected, field)?;
            }
            return Some(selected);
        }
        // Scopes from here outwards, then the path down from there (IEEE 1364-2005 12.5).
        let mut from = Some(context.scope);
        while let Some(scope) = from {
            let whole = self.design.scopes[scope].name == first.name && self.design.scopes[scope].parent.is_none();
            let start = if whole { &path[1..] } else { path };
            if let Some((symbol, fields)) = self.follow(scope, start) {
                let last = start.get(start.len() - fields.len() - 1)?;
                let mut selected = Self::all_of(last, Some(Storage::Signal(symbol.id)), None, symbol.layout);
                selected.name.name = format!("{}.", path[0].name) + &last.name;
                for field in fields {
                    self.member(&mut selected, field)?;
                }
                return Some(selected);
            }
            if let Some((last, rest)) = start.split_last()
                && let Some(inner) = self.scope_of(scope, rest)
                && let Some((value, layout)) = self.constants.get(&(inner, last.name.clone())).cloned()
            {
                return Some(Self::all_of(last, None, Some(value), layout));
            }
            from = self.design.scopes[scope].parent;
        }
        let text: Vec<&str> = path.iter().map(|p| p.name.as_str()).collect();
        self.report(say::path_not_found(&text.join("."), span));
        None
    }

    /// The scope that a path of instances and blocks leads to.
    fn scope_of(&self, mut scope: design::ScopeId, path: &[Ident]) -> Option<design::ScopeId> {
        for part in path {
            scope = self.design.scopes.iter().find(|(_, s)| s.parent == Some(scope) && s.name == part.name)?.0;
        }
        Some(scope)
    }

    fn follow<'p>(&self, mut scope: design::ScopeId, path: &'p [Ident]) -> Option<(super::SignalSymbol, &'p [Ident])> {
        for (i, part) in path.iter().enumerate() {
            if i > 0
                && let Some(symbol) = self.known.get(&(scope, part.name.clone()))
            {
                return Some((symbol.clone(), &path[i + 1..]));
            }
            let inner = self.design.scopes.iter().find(|(_, s)| s.parent == Some(scope) && s.name == part.name);
            match inner {
                Some((id, _)) => scope = id,
                None => return self.known.get(&(scope, part.name.clone())).map(|s| (s.clone(), &path[i + 1..])),
            }
        }
        None
    }

    fn member(&mut self, s: &mut Selected, field: &Ident) -> Option<()> {
        let fields = s.layout.fields.clone().filter(|_| s.layout.dimensions.is_empty() && !s.stretch);
        let list = fields.as_deref().map_or(&[][..], Vec::as_slice);
        let Some(found) = list.iter().find(|f| f.name == field.name) else {
            let near = base::nearest(&field.name, list.iter().map(|f| f.name.as_str())).map(str::to_owned);
            self.report(say::unknown_field(&field.name, near.as_deref(), field.span));
            return None;
        };
        s.low += found.low;
        s.width = found.layout.width();
        s.signed = found.layout.signed && found.layout.is_number();
        s.layout = found.layout.clone();
        Some(())
    }

    /// The bounds that the next select counts in, and how many bits one step is.
    fn bounds(&mut self, s: &Selected, span: Span) -> Option<(Shape, u32)> {
        match (s.layout.dimensions.first(), s.layout.shape.range()) {
            (Some(bounds), _) if !s.stretch => {
                let stride = s.layout.element().map_or(1, |e| e.width());
                Some((*bounds, stride))
            }
            (None, Some(_)) if s.layout.domain != Domain::Bits => {
                self.report(say::not_understood_yet("A character or bit of such a variable by its number", span));
                None
            }
            (None, Some(_)) if !s.stretch => Some((s.layout.shape, 1)),
            _ => {
                self.report(say::index_of_scalar(&s.name.name, span));
                None
            }
        }
    }

    fn narrow(s: &mut Selected) {
        let of_packed = s.layout.dimensions.len() <= s.layout.packed;
        match s.layout.element() {
            Some(element) => {
                s.signed = element.signed && element.is_number() && !of_packed;
                s.layout = element;
            }
            None => {
                s.layout = Layout::vector(Shape::SCALAR, false);
                s.signed = false;
            }
        }
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
                let reaches = !size.signed && size.width < 31 && 1 << size.width <= shape.width();
                let position = match s.width < s.total && !reaches {
                    true => self.kept_inside(position, shape.width(), span),
                    false => position,
                };
                self.add_element(s, position, stride, span)?;
                s.width = stride;
            }
        }
        Self::narrow(s);
        Some(())
    }

    /// The position itself, or one outside of everything where it is not below `count`: an index beyond a word of a memory
    /// must not reach the next word.
    fn kept_inside(&mut self, position: ExprId, count: u32, span: Span) -> ExprId {
        let width = self.design.exprs[position].width;
        let number = |n: i64| LogicVector::from_u64(64, n.cast_unsigned()).resized(width, true);
        let (end, nowhere) =
            (self.constant_expr(number(count.into()), span), self.constant_expr(number(-1 << 30), span));
        let below = ExprKind::Binary {
            op: BinaryOp::Less,
            signed: false,
            unknowns: Unknowns::Propagate,
            left: position,
            right: end,
        };
        let condition = self.push(below, 1, span);
        let unknown = design::UnknownCondition::Merge;
        self.push(ExprKind::Select { condition, then: position, otherwise: nowhere, unknown }, width, span)
    }

    fn add_element(&mut self, s: &mut Selected, position: ExprId, stride: u32, span: Span) -> Option<()> {
        let Some((outer, outer_stride)) = s.element else {
            s.element = Some((position, stride));
            return Some(());
        };
        // memory[i][j]: one position in steps that both strides are made of.
        let width = 40;
        let step = gcd(outer_stride, stride);
        let outer = self.resize(outer, width, true, span);
        let inner = self.resize(position, width, true, span);
        let binary =
            |op, left, right| ExprKind::Binary { op, signed: true, unknowns: Unknowns::Propagate, left, right };
        let scale = |me: &mut Self, value: ExprId, factor: u32| {
            if factor == 1 {
                return value;
            }
            let factor = me.constant_expr(LogicVector::from_u64(width, u64::from(factor)), span);
            me.push(binary(BinaryOp::Mul, value, factor), width, span)
        };
        let outer = scale(self, outer, outer_stride / step);
        let inner = scale(self, inner, stride / step);
        let sum = self.push(binary(BinaryOp::Add, outer, inner), width, span);
        s.element = Some((sum, step));
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
            let width = u32::try_from(left.abs_diff(right)).ok()?.checked_add(1).filter(|w| *w <= 65_536)?;
            // What lies outside is unknown, the rest is there (IEEE 1364-2005 5.2.1).
            let (first, last) = shape.range().unwrap_or((0, 0));
            let above = |index: i64| if first >= last { index - i64::from(last) } else { i64::from(last) - index };
            let low = above(left).min(above(right));
            if low < i64::from(shape.width()) && low + i64::from(width) > 0 {
                let at = self.constant_expr(LogicVector::from_u64(64, low.cast_unsigned()), span);
                self.add_element(s, at, stride, span)?;
            } else {
                s.outside = true;
            }
            s.width = width * stride;
            s.stretch = true;
            s.signed = false;
            return Some(());
        };
        if high < low {
            self.report(say::reversed_part(&s.name.name, &shape.to_string(), span));
            return None;
        }
        s.low += low * stride;
        s.width = (high - low + 1) * stride;
        s.stretch = true;
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
            let first = if size.signed { constant.to_i64() } else { constant.to_u64().and_then(|v| v.try_into().ok()) };
            let Some(first) = first else {
                self.report(say::index_outside(&s.name.name, &shape.to_string(), span));
                s.width = width * stride;
                s.outside = true;
                s.stretch = true;
                s.signed = false;
                return Some(());
            };
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
        s.stretch = true;
        s.signed = false;
        Some(())
    }
}

fn gcd(a: u32, b: u32) -> u32 {
    if b == 0 { a } else { gcd(b, a % b) }
}
