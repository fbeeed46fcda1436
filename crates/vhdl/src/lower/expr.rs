//! Expressions: names, indices, slices, attributes; conversions between what is there and what is needed.

use super::subprogram::Given;
use super::types::{INTEGER_BITS, OPEN_STATES, SEVERITIES, Ty, VectorKind};
use super::{Context, Lowering, Symbol, Value};
use crate::diagnostics as say;
use crate::tree::{Association, Expr as Tree, ExprKind as Node, Ident, Mode, Range};
use base::Span;
use design::{BinaryOp, ExprId, ExprKind, SystemFunction, UnaryOp, Unknowns};
use front::Lower;
use logic::LogicVector;

/// Subprograms of textio (IEEE 1076-2008 16.4) and math_real (16.8) that are not read.
const NOT_READ: [&str; 7] = ["endline", "deallocate", "tee", "sign", "arcsinh", "arccosh", "arctanh"];

impl<'a> Lowering<'a, '_> {
    /// The value of an expression; `expected` is the type that its place asks for. `None` when a fault was told.
    pub(super) fn expr(&mut self, context: &mut Context<'a>, tree: &'a Tree, expected: Option<&Ty>) -> Option<Value> {
        let span = tree.span;
        if self.budget.enter().is_err() {
            self.report(say::too_deep(span));
            return None;
        }
        if self.typed.depth == 0 {
            self.typed.known.clear();
        }
        self.typed.depth += 1;
        let value = match &tree.kind {
            Node::Name(name) => self.name(context, name, expected, span),
            Node::Select(base, field) => self.field(context, base, field, span),
            Node::Call(base, arguments, slice) => self.call(context, base, arguments, slice.as_deref(), expected, span),
            Node::Attribute(base, attribute) => self.attribute(context, base, attribute, span),
            Node::Qualified(mark, inner) => self.qualified(context, mark, inner),
            Node::Integer(n) => {
                let id = self.integer(*n, span);
                Some(Value { id, ty: Ty::INTEGER })
            }
            Node::Character(c) => self.character(*c, expected, span),
            Node::Text(text) => self.text(text, expected, span),
            Node::Bits { .. } => self.bit_string(&tree.kind, expected, span),
            Node::Aggregate(elements) => self.aggregate(context, elements, expected, span),
            Node::Unary(op, operand) => self.unary(context, op, operand, expected, span),
            Node::Binary(op, left, right) => self.binary(context, op, left, right, expected, span),
            Node::Physical(femtoseconds) => {
                let id = self.constant_expr(LogicVector::from_u64(64, *femtoseconds), span);
                Some(Value { id, ty: Ty::Time })
            }
            Node::Real(number) => Some(self.real_constant(*number, span)),
            Node::Dimension(..) | Node::Others | Node::Open => {
                self.report(say::expected("a value", "a word", span));
                None
            }
        };
        self.typed.depth -= 1;
        self.budget.leave();
        value
    }

    /// The value converted to a type, told when that can't be.
    pub(super) fn expr_as(&mut self, context: &mut Context<'a>, tree: &'a Tree, ty: &Ty) -> Option<ExprId> {
        let value = self.expr(context, tree, Some(ty))?;
        self.convert(value, ty, tree.span)
    }

    fn name(&mut self, context: &mut Context<'a>, name: &str, expected: Option<&Ty>, span: Span) -> Option<Value> {
        match context.get(name).cloned() {
            Some(Symbol::Signal { id, ty, mode, .. }) => {
                if matches!(mode, Some(Mode::Out)) {
                    self.report(say::read_of_output(name, span));
                }
                let width = ty.stored_width()?;
                let raw = self.push(ExprKind::Signal(id), width, span);
                Some(self.loaded(raw, ty, span))
            }
            Some(Symbol::Variable { id, ty, .. }) => {
                let width = ty.stored_width()?;
                let raw = self.push(ExprKind::Variable(id), width, span);
                Some(self.loaded(raw, ty, span))
            }
            Some(Symbol::Constant { value, ty, .. }) => {
                let id = self.constant_expr(value, span);
                Some(Value { id, ty })
            }
            Some(Symbol::Literal { ty, position, .. }) => {
                let width = ty.width()?;
                let id = self.constant_expr(LogicVector::from_u64(width, position), span);
                Some(Value { id, ty })
            }
            Some(Symbol::Alias { target, ty, .. }) => {
                let value = self.expr(context, target, expected)?;
                match ty {
                    Some(ty) => {
                        let ty = self.alias_type(context, ty, &value.ty)?;
                        Some(Value { ty, ..value })
                    }
                    None => Some(value),
                }
            }
            Some(Symbol::Routine { list, .. }) => {
                self.function_call(context, &list, name, Given::Operands(&[]), expected, span)
            }
            Some(
                Symbol::Type { .. }
                | Symbol::Component { .. }
                | Symbol::Binding { .. }
                | Symbol::Text { .. }
                | Symbol::Line { .. }
                | Symbol::File { .. },
            ) => {
                self.report(say::expected("a value", &format!("the name `{name}` of something else"), span));
                None
            }
            None if name == "now" => {
                let id = self.push(ExprKind::System(SystemFunction::Time(1)), 64, span);
                Some(Value { id, ty: Ty::Time })
            }
            None if matches!(name, "true" | "false") => {
                let id = self.constant_expr(LogicVector::from_u64(1, u64::from(name == "true")), span);
                Some(Value { id, ty: Ty::Boolean })
            }
            None if context.sees("math_real") && super::real::constant(name).is_some() => {
                Some(self.real_constant(super::real::constant(name)?, span))
            }
            None => {
                if let Some(place) = OPEN_STATES.iter().position(|s| *s == name) {
                    let ty = Ty::open_status();
                    let id = self.constant_expr(LogicVector::from_u64(ty.width()?, place as u64), span);
                    return Some(Value { id, ty });
                }
                if let Some(place) = SEVERITIES.iter().position(|s| *s == name) {
                    let ty = Ty::severity();
                    let id = self.constant_expr(LogicVector::from_u64(ty.width()?, place as u64), span);
                    return Some(Value { id, ty });
                }
                if let Some(unit) = self.unit_of_time(name, span) {
                    return Some(unit);
                }
                self.undeclared(context, name, span);
                None
            }
        }
    }

    pub(super) fn undeclared(&mut self, context: &Context<'a>, name: &str, span: Span) {
        if !self.findings.note_name(name) {
            return;
        }
        if NOT_READ.contains(&name) && (context.sees("textio") || context.sees("math_real")) {
            return self.report(say::not_read_yet(&format!("`{name}`"), span));
        }
        let package = match name {
            "rising_edge" | "falling_edge" | "to_bitvector" | "to_stdlogicvector" => Some("std_logic_1164"),
            "to_integer" | "to_unsigned" | "to_signed" | "resize" | "shift_left" | "shift_right" => Some("numeric_std"),
            "conv_integer" | "conv_std_logic_vector" | "conv_unsigned" => Some("std_logic_arith"),
            name if super::real::function(name).is_some() => Some("math_real"),
            _ => None,
        };
        match package {
            Some(package) => self.report(say::missing_use(name, package, span)),
            None => {
                let near = context.nearest(name);
                self.report(say::undeclared(name, near.as_deref(), span));
            }
        }
    }

    /// What is stored, as it is computed with: integers at their full width.
    pub(super) fn loaded(&mut self, raw: ExprId, ty: Ty, span: Span) -> Value {
        let id = match &ty {
            Ty::Integer { low, .. } => self.resize(raw, INTEGER_BITS, *low < 0, span),
            _ => raw,
        };
        Value { id, ty }
    }

    /// What is computed, as it is stored: the reverse of [`Self::loaded`].
    pub(super) fn stored(&mut self, value: ExprId, ty: &Ty, span: Span) -> ExprId {
        match ty.stored_width() {
            Some(width) => self.resize(value, width, true, span),
            None => value,
        }
    }

    fn field(&mut self, context: &mut Context<'a>, base: &'a Tree, field: &Ident, span: Span) -> Option<Value> {
        // `work.pack.name` and `ieee.numeric_std.to_integer`: the last part is what counts.
        if let Node::Name(first) = &base.kind
            && context.get(first).is_none()
            && (matches!(first.as_str(), "work" | "ieee" | "std") || self.packages.contains_key(first.as_str()))
        {
            return self.name(context, &field.name, None, field.span);
        }
        if let Node::Select(library, _) = &base.kind
            && matches!(&library.kind, Node::Name(n) if matches!(n.as_str(), "work" | "ieee" | "std"))
        {
            return self.name(context, &field.name, None, field.span);
        }
        let value = self.expr(context, base, None)?;
        let Ty::Record { fields, name } = &value.ty else {
            self.report(say::type_mismatch("a record", &value.ty.describe(), base.span));
            return None;
        };
        let mut below = 0;
        for (field_name, ty) in fields.iter().rev() {
            let width = ty.stored_width()?;
            if *field_name == field.name {
                let raw = self.push(ExprKind::Slice { base: value.id, low: below }, width, span);
                return Some(self.loaded(raw, ty.clone(), span));
            }
            below += width;
        }
        let near = base::nearest(&field.name, fields.iter().map(|(n, _)| n.as_str()));
        self.report(say::unknown_port(&field.name, name, near, field.span));
        None
    }

    fn qualified(&mut self, context: &mut Context<'a>, mark: &'a Tree, inner: &'a Tree) -> Option<Value> {
        let Node::Name(name) = &mark.kind else { return None };
        let ty = self.type_mark(context, &Ident { name: name.clone(), span: mark.span })?;
        let value = self.expr(context, inner, Some(&ty))?;
        if !ty.fits(&value.ty) {
            self.report(say::type_mismatch(&ty.describe(), &value.ty.describe(), inner.span));
            return None;
        }
        Some(value)
    }

    /// A value as a type needs it; told when kinds or lengths differ.
    pub(super) fn convert(&mut self, value: Value, ty: &Ty, span: Span) -> Option<ExprId> {
        if !ty.fits(&value.ty) {
            let mut told = say::type_mismatch(&ty.describe(), &value.ty.describe(), span);
            if let Some(hint) = conversion_hint(&value.ty, ty) {
                told.action = hint;
            }
            self.report(told);
            return None;
        }
        match (ty, &value.ty) {
            (Ty::Integer { low, high }, _) => {
                if let Some(n) = design::fold(&self.design, value.id).and_then(|v| v.to_i64())
                    && !(*low..=*high).contains(&n)
                {
                    self.report(say::out_of_range(n, *low, *high, span));
                    return None;
                }
                Some(value.id)
            }
            _ => {
                let (wanted, found) = (ty.width(), value.ty.width());
                if let (Some(wanted), Some(found)) = (wanted, found)
                    && wanted != found
                {
                    self.report(say::length_differs(wanted, found, span));
                    return None;
                }
                Some(value.id)
            }
        }
    }

    /// A constant of a type, at the type's computing width.
    pub(super) fn static_value(&mut self, context: &mut Context<'a>, tree: &'a Tree, ty: &Ty) -> Option<LogicVector> {
        let value = self.expr_as(context, tree, ty)?;
        let folded = design::evaluate(&self.design, value, self.budget);
        if folded.is_none() {
            self.report(say::constant_needed(tree.span));
        }
        folded
    }

    pub(super) fn static_integer(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> Option<i64> {
        let value = self.expr(context, tree, Some(&Ty::INTEGER))?;
        match &value.ty {
            Ty::Integer { .. } => {}
            Ty::Enumeration { .. } | Ty::Boolean => {
                return design::fold(&self.design, value.id)
                    .and_then(|v| v.to_u64())
                    .and_then(|n| i64::try_from(n).ok());
            }
            other => {
                let found = other.describe();
                self.report(say::type_mismatch("an integer", &found, tree.span));
                return None;
            }
        }
        let found = design::evaluate(&self.design, value.id, self.budget).and_then(|v| v.to_i64());
        if found.is_none() {
            self.report(say::constant_needed(tree.span));
        }
        found
    }

    /// An element or a slice of an array.
    pub(super) fn indexed(
        &mut self,
        context: &mut Context<'a>,
        value: Value,
        arguments: &'a [Association],
        slice: Option<&'a Range>,
        span: Span,
    ) -> Option<Value> {
        let Some(element) = value.ty.element() else {
            self.report(say::not_indexable(&value.ty.describe(), span));
            return None;
        };
        let (left, right) = value.ty.bounds()?;
        let stride = element.stored_width()?;
        if let Some(range) = slice {
            let (start, width, ty) = self.slice_of(context, &value.ty, range, stride, span)?;
            let kind = match start {
                Index::Static(low) => ExprKind::Slice { base: value.id, low },
                Index::Computed(index) => ExprKind::Element { base: value.id, index, stride },
            };
            let id = self.push(kind, width, span);
            return Some(Value { id, ty });
        }
        let mut value = value;
        let mut bounds = (left, right);
        let mut element = element;
        for (dimension, argument) in arguments.iter().enumerate() {
            let tree = argument.actual.as_ref()?;
            // A range attribute as index makes a slice.
            if let Node::Attribute(_, attribute) = &tree.kind
                && matches!(attribute.name.as_str(), "range" | "reverse_range")
            {
                return Some(value);
            }
            let stride = element.stored_width()?;
            let index = self.element_index(context, tree, (bounds, &value.ty), span)?;
            let raw = match index {
                Index::Static(position) => {
                    let low = position.checked_mul(stride)?;
                    self.push(ExprKind::Slice { base: value.id, low }, stride, span)
                }
                Index::Computed(index) => self.push(ExprKind::Element { base: value.id, index, stride }, stride, span),
            };
            value = self.loaded(raw, element.clone(), span);
            if dimension + 1 < arguments.len() {
                bounds = value.ty.bounds()?;
                element = value.ty.element()?;
            }
        }
        Some(value)
    }

    /// Lowest bit, or the element that it begins with counted from the right, width and type of a slice.
    pub(super) fn slice_of(
        &mut self,
        context: &mut Context<'a>,
        ty: &Ty,
        range: &'a Range,
        stride: u32,
        span: Span,
    ) -> Option<(Index, u32, Ty)> {
        let (left, right) = ty.bounds()?;
        if let Range::Bounds { left: from, down, right: to } = range
            && let Some((index, count)) = self.moving_slice(context, (from, *down, to), (left, right), span)
        {
            return Some((Index::Computed(index), count.checked_mul(stride)?, ty.with_bounds(i64::from(count) - 1, 0)));
        }
        let (from, to, down) = self.static_range(context, range, span)?;
        if from != to && (left > right) != down && left != right {
            self.report(say::range_direction(span));
            return None;
        }
        if down && from < to || !down && from > to {
            self.report(say::null_range(span));
            return None;
        }
        for index in [from, to] {
            if !(left.min(right)..=left.max(right)).contains(&index) {
                self.report(say::index_outside("this array", index, span));
                return None;
            }
        }
        let low = u32::try_from(to.abs_diff(right)).ok()?.checked_mul(stride)?;
        let count = u32::try_from(from.abs_diff(to)).ok()?.checked_add(1)?;
        Some((Index::Static(low), count.checked_mul(stride)?, ty.with_bounds(from, to)))
    }

    /// The element that a slice begins with, counted from the right, and the number of elements, where its bounds move
    /// together: `a(i + 3 downto i)`. `None` where they are constant, or apart by what is not known.
    fn moving_slice(
        &mut self,
        context: &mut Context<'a>,
        (from, down, to): (&'a Tree, bool, &'a Tree),
        (left, right): (i64, i64),
        span: Span,
    ) -> Option<(ExprId, u32)> {
        if is_plain_number(from) || is_plain_number(to) || (left >= right) != down {
            return None;
        }
        let told = self.findings.mark();
        let ends = [from, to].map(|tree| self.expr(context, tree, Some(&Ty::INTEGER)));
        self.findings.go_back(told);
        let [Some(first), Some(last)] = ends else { return None };
        let numbers = [&first, &last].iter().all(|v| matches!(v.ty, Ty::Integer { .. }));
        let is_constant =
            [first.id, last.id].into_iter().all(|id| design::evaluate(&self.design, id, self.budget).is_some());
        if !numbers || is_constant {
            return None;
        }
        let (a, b) = (design::linear(&self.design, first.id)?, design::linear(&self.design, last.id)?);
        let apart = a.minus(&b)?;
        let count = u32::try_from(if down { apart } else { -apart }).ok()?.checked_add(1)?;
        let (high, low) = if down { (first, last) } else { (last, first) };
        let low = Value { ty: Ty::INTEGER, ..low };
        let low_id = self.stays_in_array(&low, (left, right), span);
        // Both ends have to lie within: the message stands at the one that is computed.
        let high_id = self.stays_in_array(&Value { ty: Ty::INTEGER, ..high }, (left, right), span);
        let bound = self.integer(right, span);
        let (a, b) = if left >= right { (low_id, bound) } else { (bound, high_id) };
        Some((self.op(BinaryOp::Sub, true, a, b, INTEGER_BITS, span), count))
    }

    /// Where an element lies, counted from the right.
    pub(super) fn element_index(
        &mut self,
        context: &mut Context<'a>,
        tree: &'a Tree,
        ((left, right), of): ((i64, i64), &Ty),
        span: Span,
    ) -> Option<Index> {
        let by_level = matches!(of, Ty::Array { name, .. } if self.by_level.contains(name));
        let index = if by_level {
            let value = self.expr(context, tree, None)?;
            self.level_position(value, span)
        } else {
            self.expr(context, tree, Some(&Ty::INTEGER))?
        };
        if !matches!(index.ty, Ty::Integer { .. } | Ty::Enumeration { .. }) {
            let mut told = say::type_mismatch("an integer", &index.ty.describe(), tree.span);
            if index.ty.vector_kind().is_some() {
                told.action = "Write `to_integer(unsigned(…))` around it.".into();
            }
            self.report(told);
            return None;
        }
        let id = if matches!(index.ty, Ty::Enumeration { .. }) {
            self.resize(index.id, INTEGER_BITS, false, span)
        } else {
            index.id
        };
        if let Some(n) = design::fold(&self.design, id).and_then(|v| v.to_i64()) {
            if !(left.min(right)..=left.max(right)).contains(&n) {
                self.report(say::index_outside("this array", n, tree.span));
                return None;
            }
            return Some(Index::Static(u32::try_from(n.abs_diff(right)).ok()?));
        }
        let id = self.stays_in_array(&Value { id, ty: index.ty }, (left, right), tree.span);
        let bound = self.integer(right, span);
        let (a, b) = if left >= right { (id, bound) } else { (bound, id) };
        let kind =
            ExprKind::Binary { op: BinaryOp::Sub, signed: true, unknowns: Unknowns::Propagate, left: a, right: b };
        Some(Index::Computed(self.push(kind, INTEGER_BITS, span)))
    }

    /// The type of an alias that has one of its own: it counts the same elements by other numbers (IEEE 1076-2008 6.6.2).
    pub(super) fn alias_type(
        &mut self,
        context: &mut Context<'a>,
        ty: &'a crate::tree::SubtypeIndication,
        of: &Ty,
    ) -> Option<Ty> {
        let own = self.subtype(context, ty)?;
        if !own.fits(of) {
            self.report(say::type_mismatch(&own.describe(), &of.describe(), ty.span));
            return None;
        }
        match (own.width(), of.width()) {
            (Some(wanted), Some(found)) if wanted != found => {
                self.report(say::length_differs(wanted, found, ty.span));
                None
            }
            (Some(_), _) => Some(own),
            (None, _) => Some(of.clone()),
        }
    }

    /// The position of a level or truth value in its type; anything else stays as it is.
    fn level_position(&mut self, value: Value, span: Span) -> Value {
        let id = match value.ty {
            Ty::Boolean | Ty::Bit => self.resize(value.id, INTEGER_BITS, false, span),
            Ty::Logic => {
                let mut position = self.integer(0, span);
                // 0 and 1 outermost: in hardware there is nothing else.
                for at in [1, 4, 5, 6, 7, 8, 2, 3] {
                    let level = logic::Level::ALL[at];
                    let here = self.constant_expr(LogicVector::filled(1, level), span);
                    let (op, unknowns) = (BinaryOp::SameLevels, Unknowns::Propagate);
                    let kind = ExprKind::Binary { op, signed: false, unknowns, left: value.id, right: here };
                    let condition = self.push(kind, 1, span);
                    let then = self.integer(at as i64, span);
                    let unknown = design::UnknownCondition::Otherwise;
                    let kind = ExprKind::Select { condition, then, otherwise: position, unknown };
                    position = self.push(kind, INTEGER_BITS, span);
                }
                position
            }
            _ => return value,
        };
        Value { id, ty: Ty::INTEGER }
    }

    /// A number, or the position of a character literal among the levels.
    pub(super) fn static_position(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> Option<i64> {
        match &tree.kind {
            Node::Character(c) => {
                let level = logic::Level::from_char(*c);
                let place = level.and_then(|l| logic::Level::ALL.into_iter().position(|known| known == l));
                match place.and_then(|p| i64::try_from(p).ok()) {
                    Some(position) => Some(position),
                    None => self.static_integer(context, tree),
                }
            }
            Node::Name(name) if context.get(name).is_none() && matches!(name.as_str(), "true" | "false") => {
                Some(i64::from(name == "true"))
            }
            _ => self.static_integer(context, tree),
        }
    }

    /// The bounds of an array, or of a type.
    pub(super) fn bounds_of(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> Option<(i64, i64)> {
        let (tree, level) = match &tree.kind {
            Node::Dimension(of, level) => (&**of, *level),
            _ => (tree, 1),
        };
        let ty = match &tree.kind {
            Node::Name(name) => match context.get(name) {
                Some(Symbol::Type { ty, .. }) => Some(ty.clone()),
                _ => None,
            },
            _ => None,
        };
        let ty = match ty {
            Some(ty) => ty,
            None => match &tree.kind {
                Node::Name(name)
                    if context.get(name).is_none() && matches!(name.as_str(), "integer" | "natural" | "positive") =>
                {
                    self.type_mark(context, &Ident { name: name.clone(), span: tree.span })?
                }
                Node::Name(name) => match context.get(name) {
                    Some(Symbol::Signal { ty, .. } | Symbol::Variable { ty, .. } | Symbol::Constant { ty, .. }) => {
                        ty.clone()
                    }
                    _ => self.expr(context, tree, None)?.ty,
                },
                _ => self.expr(context, tree, None)?.ty,
            },
        };
        let whole = ty.describe();
        let inner = (1..level).try_fold(ty, |ty, _| ty.element());
        let Some(ty) = inner.filter(|_| level > 0) else {
            self.report(say::no_such_dimension(&whole, level, tree.span));
            return None;
        };
        match &ty {
            Ty::Integer { low, high } => Some((*low, *high)),
            Ty::Enumeration { literals, .. } => Some((0, literals.len() as i64 - 1)),
            other => {
                let bounds = other.bounds();
                if bounds.is_none() {
                    let found = other.describe();
                    self.report(say::type_mismatch("an array", &found, tree.span));
                }
                bounds
            }
        }
    }

    /// The range that a name stands for: `a'range`, a type, or a single value.
    pub(super) fn range_of(&mut self, context: &mut Context<'a>, tree: &'a Tree, at: Span) -> Option<(i64, i64, bool)> {
        match &tree.kind {
            Node::Attribute(base, attribute) if matches!(attribute.name.as_str(), "range" | "reverse_range") => {
                let (left, right) = self.bounds_of(context, base)?;
                let down = left > right;
                Some(if attribute.name == "range" { (left, right, down) } else { (right, left, !down) })
            }
            Node::Name(name)
                if matches!(context.get(name), Some(Symbol::Type { .. }))
                    || context.get(name).is_none()
                        && matches!(
                            name.as_str(),
                            "integer" | "natural" | "positive" | "boolean" | "bit" | "std_logic" | "std_ulogic"
                        ) =>
            {
                match name.as_str() {
                    "boolean" | "bit" => return Some((0, 1, false)),
                    "std_logic" | "std_ulogic" => return Some((0, 8, false)),
                    _ => {}
                }
                let (left, right) = self.bounds_of(context, tree)?;
                Some((left, right, false))
            }
            Node::Call(base, arguments, None) if arguments.len() == 1 => {
                // `integer range 0 to 3` was read before; what is left is a constrained mark.
                let _ = base;
                let n = self.static_integer(context, tree)?;
                Some((n, n, false))
            }
            _ => {
                let n = self.static_integer(context, tree);
                if n.is_none() {
                    self.report(say::constant_needed(at));
                }
                n.map(|n| (n, n, false))
            }
        }
    }

    /// One bit that is 1 when a condition holds.
    pub(super) fn condition(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> Option<ExprId> {
        let value = self.expr(context, tree, Some(&Ty::Boolean))?;
        match value.ty {
            Ty::Boolean => Some(value.id),
            Ty::Logic | Ty::Bit => {
                self.report(say::bare_condition(tree.span));
                Some(self.push(ExprKind::Unary(UnaryOp::ReduceOr, value.id), 1, tree.span))
            }
            other => {
                let found = other.describe();
                self.report(say::condition_type(&found, tree.span));
                None
            }
        }
    }
}

fn is_plain_number(tree: &Tree) -> bool {
    matches!(tree.kind, Node::Integer(_))
}

/// Where an element lies.
pub(super) enum Index {
    Static(u32),
    Computed(ExprId),
}

fn conversion_hint(found: &Ty, wanted: &Ty) -> Option<String> {
    use VectorKind as K;
    Some(match (found, wanted) {
        (Ty::Vector { .. }, Ty::Vector { kind, .. }) => format!("Write `{}(…)` around it.", kind.word()),
        (Ty::Integer { .. }, Ty::Vector { kind: K::Unsigned, .. }) => {
            "Write `to_unsigned(…, length)` around it.".into()
        }
        (Ty::Integer { .. }, Ty::Vector { kind: K::Signed, .. }) => "Write `to_signed(…, length)` around it.".into(),
        (Ty::Integer { .. }, Ty::Vector { kind: K::StdLogic, .. }) => {
            "Write `std_logic_vector(to_unsigned(…, length))` around it.".into()
        }
        (Ty::Vector { kind: K::Unsigned | K::Signed, .. }, Ty::Integer { .. }) => {
            "Write `to_integer(…)` around it.".into()
        }
        (Ty::Vector { kind: K::StdLogic, .. }, Ty::Integer { .. }) => {
            "Write `to_integer(unsigned(…))` around it.".into()
        }
        (Ty::Boolean, Ty::Logic | Ty::Bit) => "Write `'1' when … else '0'`.".into(),
        (Ty::Logic | Ty::Bit, Ty::Boolean) => "Compare it, for example with `= '1'`.".into(),
        (Ty::Integer { .. }, Ty::Logic | Ty::Bit) => "Write `'0'` or `'1'` with quotes.".into(),
        (Ty::Vector { .. }, Ty::Logic | Ty::Bit) => {
            "Pick one bit, or make the target a vector; single bits have single quotes.".into()
        }
        (Ty::Logic | Ty::Bit, Ty::Vector { .. }) => {
            "Vectors have double quotes; `(others => …)` fills one with a bit.".into()
        }
        _ => return None,
    })
}
