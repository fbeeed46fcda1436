//! What names mean in a module: signals, parameters, functions, in nested layers for blocks and generates.

use super::expr::Sized;
use super::symbols::{FieldLayout, Layout, MAX_BITS, Override, SignalSymbol, Symbol, TEXT_TYPE};
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{DataKind, Declaration, DeclaredName, Domain, Ident, Item, Packed, Range};
use base::{Exhausted, Span};
use design::{
    LevelSet, NetKind, REAL_WIDTH, RealOp, ScopeId, Signal, SignalId, SignalKind, Type, TypeId, TypeKind, Variable,
    VariableId, real_value,
};
use front::Lower;
use logic::{LogicVector, Shape};
use std::sync::Arc;

/// Values up to this one have their names kept.
const MOST_NAMED: usize = 1 << 10;

impl<'a> Lowering<'a, '_> {
    /// Parameters in order, so that one may use those before it; functions are not known yet.
    pub(super) fn declare_parameters(
        &mut self,
        context: &mut Context<'a>,
        items: &'a [Item],
        overrides: &[Override],
    ) -> Result<(), Exhausted> {
        for item in items {
            let Item::Parameter(parameter) = item else { continue };
            self.budget.spend(1)?;
            if let Some(first) = context.symbols.here(&parameter.name.name) {
                let first = first.span();
                self.report(say::duplicate(&parameter.name.name, first, parameter.name.span));
                continue;
            }
            self.functions_of(context, items, parameter.value)?;
            let typed =
                parameter.ty.range.is_some() || parameter.ty.fields.is_some() || !parameter.dimensions.is_empty();
            let given = overrides.iter().find(|o| o.name == parameter.name.name && !parameter.local);
            let (value, layout) = if typed || matches!(parameter.ty.domain, Some(Domain::Real | Domain::Text)) {
                let layout = self.layout_of(context, &parameter.ty, &parameter.dimensions, parameter.name.span);
                let value = match given {
                    Some(over) => fit(over, &layout),
                    None => self.constant_as(context, parameter.value, &layout),
                };
                (value, layout)
            } else {
                let (mut value, mut size) = match parameter.ty.domain {
                    // A word says that it is a whole number.
                    Some(_) => {
                        let (value, signed) = self.constant(context, parameter.value);
                        let size = Sized::bits(value.width(), signed);
                        (value, size)
                    }
                    None => self.constant_any(context, parameter.value),
                };
                if let Some(over) = given {
                    value = over.value.clone();
                    size.domain = over.domain;
                    if parameter.ty.domain.is_some() && over.domain == Domain::Real {
                        value = real_value(RealOp::ToInteger, &[value], 32);
                        size.domain = Domain::Bits;
                    }
                }
                match size.domain {
                    Domain::Real => (value, Layout::of(Domain::Real)),
                    _ => {
                        let top = i32::try_from(value.width()).unwrap_or(1) - 1;
                        (value, Layout::vector(Shape::vector(top, 0), size.signed | parameter.ty.signed))
                    }
                }
            };
            self.design.scopes[context.scope].parameters.push((parameter.name.name.clone(), value.clone()));
            self.constants.insert((context.scope, parameter.name.name.clone()), (value.clone(), layout.clone()));
            context
                .symbols
                .insert(&parameter.name.name, Symbol::Parameter { value, layout, span: parameter.name.span });
        }
        Ok(())
    }

    pub(super) fn declare_items(&mut self, context: &mut Context<'a>, items: &'a [Item]) -> Result<(), Exhausted> {
        for item in items {
            match item {
                Item::Declaration(declaration) => self.declare(context, declaration)?,
                Item::Instance(instance) => {
                    if let Some(first) = context.symbols.here(&instance.name.name) {
                        let first = first.span();
                        self.report(say::duplicate(&instance.name.name, first, instance.name.span));
                    } else {
                        context.symbols.insert(&instance.name.name, Symbol::Instance(instance.name.span));
                    }
                }
                Item::Routine(routine) => self.declare_routine(context, routine)?,
                _ => {}
            }
        }
        Ok(())
    }

    pub(super) fn shape(&mut self, context: &mut Context<'a>, range: Option<&Range>) -> Shape {
        let Some(range) = range else { return Shape::SCALAR };
        let mut bound = |node| {
            let (value, signed) = self.constant(context, node);
            if signed { value.to_i64() } else { value.to_u64().and_then(|v| i64::try_from(v).ok()) }
        };
        let (left, right) = (bound(range.left), bound(range.right));
        match (left.and_then(|l| i32::try_from(l).ok()), right.and_then(|r| i32::try_from(r).ok())) {
            (Some(l), Some(r)) if u64::from(l.abs_diff(r)) < MAX_BITS => Shape::vector(l, r),
            (None, _) | (_, None) if left.is_none() || right.is_none() => {
                self.report(say::constant_needed(range.span));
                Shape::SCALAR
            }
            _ => {
                self.report(say::too_wide(range.span));
                Shape::SCALAR
            }
        }
    }

    pub(super) fn layout(&mut self, context: &mut Context<'a>, d: &Declaration, name: &DeclaredName) -> Layout {
        match d.kind {
            Some(kind @ (DataKind::Real | DataKind::Text)) => {
                let domain = if kind == DataKind::Real { Domain::Real } else { Domain::Text };
                let ty = Packed { domain: Some(domain), ..Packed::default() };
                self.layout_of(context, &ty, &name.dimensions, name.name.span)
            }
            Some(DataKind::Integer | DataKind::Time) => {
                let (top, signed) = if d.kind == Some(DataKind::Time) { (63, false) } else { (31, d.ty.signed) };
                let mut layout = self.layout_of(context, &Packed::default(), &name.dimensions, name.name.span);
                (layout.shape, layout.signed) = (Shape::vector(top, 0), signed);
                layout
            }
            _ => self.layout_of(context, &d.ty, &name.dimensions, name.name.span),
        }
    }

    /// The layout of a packed type in an array with those bounds.
    fn layout_of(&mut self, context: &mut Context<'a>, ty: &Packed, arrays: &[Range], span: Span) -> Layout {
        let mut layout = match ty.domain {
            Some(domain @ (Domain::Real | Domain::Text)) => Layout::of(domain),
            _ => Layout::vector(Shape::SCALAR, ty.signed),
        };
        if let Some(fields) = &ty.fields {
            let mut list: Vec<FieldLayout> = Vec::new();
            let mut low = 0u32;
            for field in fields.iter().rev() {
                let inner = self.layout_of(context, &field.ty, &[], field.name.span);
                let width = inner.width();
                let at = if ty.is_union { 0 } else { low };
                list.push(FieldLayout { name: field.name.name.clone(), low: at, layout: inner });
                low = if ty.is_union { low.max(width) } else { low.saturating_add(width) }.min(MAX_BITS as u32);
            }
            list.reverse();
            layout.shape = Shape::vector(i32::try_from(low).unwrap_or(1).max(1) - 1, 0);
            layout.fields = Some(Arc::new(list));
        } else if layout.domain == Domain::Bits {
            layout.shape = self.shape(context, ty.range.as_ref());
        }
        layout.packed = ty.outer.len();
        let bounds: Vec<&Range> = arrays.iter().chain(&ty.outer).collect();
        layout.dimensions = bounds.into_iter().map(|range| self.shape(context, Some(range))).collect();
        let total =
            layout.dimensions.iter().fold(u64::from(layout.shape.width()), |w, d| w.saturating_mul(d.width().into()));
        if total > MAX_BITS {
            self.report(say::too_wide(span));
            return Layout::vector(Shape::SCALAR, ty.signed);
        }
        layout
    }

    pub(super) fn type_of(&mut self, layout: &Layout) -> TypeId {
        // Fields that lie over one another are bits like any others.
        let apart =
            |fields: &[FieldLayout]| fields.iter().map(|f| f.layout.width()).sum::<u32>() == layout.shape.width();
        let mut ty = match layout.fields.as_ref().filter(|f| apart(f)) {
            Some(fields) => {
                let fields = fields.iter().map(|f| (f.name.clone(), self.type_of(&f.layout))).collect();
                self.design.intern_type(Type { kind: TypeKind::Record { fields }, name: None })
            }
            None if layout.domain == Domain::Real => self.design.intern_type(Type { kind: TypeKind::Real, name: None }),
            None if layout.domain == Domain::Text => {
                let kind = TypeKind::Logic { shape: layout.shape, signed: false, levels: LevelSet::Two };
                self.design.intern_type(Type { kind, name: Some(TEXT_TYPE.into()) })
            }
            None => self.logic_type(layout.shape, layout.signed),
        };
        for bounds in layout.dimensions.iter().rev() {
            let (left, right) = bounds.range().unwrap_or((0, 0));
            let kind = TypeKind::Array { element: ty, left: left.into(), right: right.into() };
            ty = self.design.intern_type(Type { kind, name: None });
        }
        ty
    }

    /// An event: one bit, turned over whenever it happens.
    fn declare_event(&mut self, context: &mut Context<'a>, name: &Ident) {
        let ty = self.logic_type(Shape::SCALAR, false);
        let id = self.design.signals.push(Signal {
            name: name.name.clone(),
            scope: context.scope,
            ty,
            kind: SignalKind::Variable,
            initial: Some(LogicVector::from_u64(1, 0)),
            span: name.span,
        });
        context.symbols.insert(&name.name, Symbol::Event { id, span: name.span });
    }

    fn declare(&mut self, context: &mut Context<'a>, declaration: &'a Declaration) -> Result<(), Exhausted> {
        for name in &declaration.names {
            self.budget.spend(1)?;
            match declaration.kind {
                Some(DataKind::Genvar) => continue,
                Some(DataKind::Event) => {
                    self.declare_event(context, &name.name);
                    continue;
                }
                _ => {}
            }
            // A port may be declared again with its kind: `output f; reg f;`.
            if let Some(first) = context.symbols.here(&name.name.name).cloned() {
                self.declare_again(context, declaration, name, &first);
                continue;
            }
            let layout = self.layout(context, declaration, name);
            let ty = self.type_of(&layout);
            self.budget.spend_bits(u64::from(self.design.type_width(ty)))?;
            let kind = declaration.kind.unwrap_or(DataKind::Wire);
            let initial = match name.value {
                Some(value) if kind.is_variable() => {
                    self.functions_of(context, &context.module.items, value)?;
                    Some(self.constant_as(context, value, &layout))
                }
                None if declaration.ty.two_state => Some(LogicVector::from_u64(layout.width(), 0)),
                _ => None,
            };
            let id = self.design.signals.push(Signal {
                name: name.name.name.clone(),
                scope: context.scope,
                ty,
                kind: signal_kind(kind),
                initial,
                span: name.name.span,
            });
            self.name_values(context, &declaration.ty, &layout, id);
            let direction = declaration.direction;
            let symbol = SignalSymbol { id, kind, direction, layout, span: name.name.span, outside: false };
            self.known.insert((context.scope, name.name.name.clone()), symbol.clone());
            context.symbols.insert(&name.name.name, Symbol::Signal(symbol));
        }
        Ok(())
    }

    /// Keeps the names of an enumeration's values for who looks at the signal.
    fn name_values(&mut self, context: &Context<'a>, ty: &Packed, layout: &Layout, id: SignalId) {
        if ty.values.is_empty() || !layout.dimensions.is_empty() {
            return;
        }
        let mut names: Vec<String> = Vec::new();
        for name in ty.values.iter() {
            let Some(Symbol::Parameter { value, .. }) = context.symbols.get(name) else { continue };
            let Some(at) = value.to_u64().and_then(|v| usize::try_from(v).ok()).filter(|at| *at < MOST_NAMED) else {
                return;
            };
            names.resize(names.len().max(at + 1), String::new());
            names[at].clone_from(name);
        }
        self.design.value_names.insert(id, names);
    }

    fn declare_again(
        &mut self,
        context: &mut Context<'a>,
        d: &'a Declaration,
        name: &DeclaredName,
        first: &Symbol<'a>,
    ) {
        let Symbol::Signal(mut symbol) = first.clone() else {
            self.report(say::duplicate(&name.name.name, first.span(), name.name.span));
            return;
        };
        if symbol.outside {
            // The declaration of an inout port whose signal is the one outside.
            let layout = self.layout(context, d, name);
            if layout.width() != symbol.layout.width() {
                self.report(say::port_width(&name.name.name, layout.width(), symbol.layout.width(), name.name.span));
            }
            symbol.layout = layout;
            symbol.span = name.name.span;
            symbol.outside = d.direction.is_none();
            context.symbols.insert(&name.name.name, Symbol::Signal(symbol));
            return;
        }
        let completes = symbol.direction.is_some() != d.direction.is_some();
        if !completes {
            self.report(say::duplicate(&name.name.name, symbol.span, name.name.span));
            return;
        }
        symbol.direction = symbol.direction.or(d.direction);
        if let Some(kind) = d.kind {
            symbol.kind = kind;
        }
        let mut layout = self.layout(context, d, name);
        layout.signed |= symbol.layout.signed;
        let signed = layout.signed;
        if d.ty.range.is_some() || d.ty.fields.is_some() || d.kind == Some(DataKind::Integer) {
            symbol.layout = layout;
        }
        symbol.layout.signed = signed;
        let ty = self.type_of(&symbol.layout);
        let signal = &mut self.design.signals[symbol.id];
        signal.ty = ty;
        signal.kind = signal_kind(symbol.kind);
        self.known.insert((context.scope, name.name.name.clone()), symbol.clone());
        context.symbols.insert(&name.name.name, Symbol::Signal(symbol));
    }

    /// A one-bit wire that nobody declared (IEEE 1364-2005 4.5).
    pub(super) fn implicit_net(&mut self, context: &mut Context<'a>, name: &Ident) {
        let near = context.symbols.nearest(&name.name).map(str::to_owned);
        let near = near.as_deref();
        let implicit = context.module.implicit_nets;
        self.report(match implicit {
            true => say::implicit_net(&name.name, near, name.span),
            false => say::no_implicit_net(&name.name, near, name.span),
        });
        let layout = Layout::vector(Shape::SCALAR, false);
        let ty = self.type_of(&layout);
        let id = self.design.signals.push(Signal {
            name: name.name.clone(),
            scope: context.scope,
            ty,
            kind: SignalKind::Net(NetKind::Resolved),
            initial: None,
            span: name.span,
        });
        let symbol =
            SignalSymbol { id, kind: DataKind::Wire, direction: None, layout, span: name.span, outside: false };
        self.known.insert((context.scope, name.name.clone()), symbol.clone());
        context.symbols.insert(&name.name, Symbol::Signal(symbol));
    }

    pub(super) fn declare_variable(&mut self, context: &mut Context<'a>, name: &Ident, layout: Layout) -> VariableId {
        let ty = self.type_of(&layout);
        let id = self.design.variables.push(Variable { name: name.name.clone(), ty, initial: None, span: name.span });
        context.symbols.insert(&name.name, Symbol::Variable { id, layout, span: name.span });
        id
    }

    /// A scope for one turn of a generate or a named block.
    pub(super) fn inner_scope(&mut self, context: &Context<'a>, name: String, span: Span) -> ScopeId {
        self.design.scopes.push(design::Scope {
            name,
            unit: String::new(),
            parent: Some(context.scope),
            kind: design::ScopeKind::Generate,
            parameters: Vec::new(),
            ports: Vec::new(),
            span,
        })
    }
}

/// A parameter's value from outside, for something laid out like that.
fn fit(given: &Override, layout: &Layout) -> LogicVector {
    match (given.domain, layout.whole_domain()) {
        (Domain::Real, Domain::Real) => given.value.clone(),
        (Domain::Real, _) => real_value(RealOp::ToInteger, std::slice::from_ref(&given.value), layout.width()),
        (_, Domain::Real) => real_value(RealOp::FromSigned, std::slice::from_ref(&given.value), REAL_WIDTH),
        _ => given.value.resized(layout.width(), layout.signed),
    }
}

fn signal_kind(kind: DataKind) -> SignalKind {
    match kind {
        DataKind::WiredAnd => SignalKind::Net(NetKind::WiredAnd),
        DataKind::WiredOr => SignalKind::Net(NetKind::WiredOr),
        DataKind::Supply0 => SignalKind::Net(NetKind::Supply0),
        DataKind::Supply1 => SignalKind::Net(NetKind::Supply1),
        kind if kind.is_variable() => SignalKind::Variable,
        _ => SignalKind::Net(NetKind::Resolved),
    }
}
