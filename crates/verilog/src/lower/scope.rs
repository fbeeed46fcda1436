//! What names mean in a module: signals, parameters, functions, in nested layers for blocks and generates.

use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{DataKind, Declaration, DeclaredName, Ident, Item, PortDirection, Range, Routine};
use base::{Exhausted, Span};
use design::{
    Direction, NetKind, ScopeId, Signal, SignalId, SignalKind, Subprogram, SubprogramId, Type, TypeId, TypeKind,
    Variable, VariableId,
};
use logic::{LogicVector, Shape};
use std::collections::BTreeMap;

/// Widest vector or memory, in bits.
pub(super) const MAX_BITS: u64 = 65_536;

#[derive(Clone, Copy, Debug)]
pub(super) struct SignalSymbol {
    pub(super) id: SignalId,
    pub(super) kind: DataKind,
    pub(super) direction: Option<PortDirection>,
    pub(super) layout: Layout,
    pub(super) span: Span,
}

/// How wide a thing is, and for a memory its bounds.
#[derive(Clone, Copy, Debug)]
pub(super) struct Layout {
    /// Of one element.
    pub(super) shape: Shape,
    pub(super) signed: bool,
    /// Bounds of the elements.
    pub(super) elements: Option<Shape>,
}

#[derive(Clone, Debug)]
pub(super) enum Symbol<'a> {
    Signal(SignalSymbol),
    Variable { id: VariableId, layout: Layout, span: Span },
    Parameter { value: LogicVector, signed: bool, span: Span },
    Routine { id: SubprogramId, routine: &'a Routine },
    Instance(Span),
}

impl Symbol<'_> {
    pub(super) fn span(&self) -> Span {
        match self {
            Symbol::Signal(s) => s.span,
            Symbol::Variable { span, .. } | Symbol::Parameter { span, .. } | Symbol::Instance(span) => *span,
            Symbol::Routine { routine, .. } => routine.name.span,
        }
    }
}

/// Layers of names, the innermost last.
#[derive(Clone, Debug)]
pub(super) struct Symbols<'a> {
    layers: Vec<BTreeMap<String, Symbol<'a>>>,
}

impl Default for Symbols<'_> {
    fn default() -> Self {
        Self { layers: vec![BTreeMap::new()] }
    }
}

impl<'a> Symbols<'a> {
    pub(super) fn enter(&mut self) {
        self.layers.push(BTreeMap::new());
    }

    pub(super) fn leave(&mut self) {
        self.layers.pop();
    }

    pub(super) fn get(&self, name: &str) -> Option<&Symbol<'a>> {
        self.layers.iter().rev().find_map(|l| l.get(name))
    }

    pub(super) fn signal(&self, name: &str) -> Option<SignalSymbol> {
        match self.get(name) {
            Some(Symbol::Signal(s)) => Some(*s),
            _ => None,
        }
    }

    pub(super) fn here(&self, name: &str) -> Option<&Symbol<'a>> {
        self.layers.last().and_then(|l| l.get(name))
    }

    pub(super) fn insert(&mut self, name: &str, symbol: Symbol<'a>) {
        if let Some(layer) = self.layers.last_mut() {
            layer.insert(name.to_owned(), symbol);
        }
    }

    pub(super) fn nearest(&self, name: &str) -> Option<&str> {
        base::nearest(name, self.layers.iter().flat_map(|l| l.keys()).map(String::as_str).filter(|k| *k != name))
    }
}

/// The names that the items declare as ports.
pub(super) fn declared_ports(items: &[Item]) -> impl Iterator<Item = &Ident> {
    items.iter().flat_map(|item| match item {
        Item::Declaration(d) if d.direction.is_some() => d.names.iter().map(|n| &n.name).collect(),
        _ => Vec::new(),
    })
}

impl<'a> Lowering<'a, '_> {
    /// Parameters in order, so that one may use those before it; functions are not known yet.
    pub(super) fn declare_parameters(
        &mut self,
        context: &mut Context<'a>,
        items: &'a [Item],
        overrides: &[(String, LogicVector)],
    ) -> Result<(), Exhausted> {
        for item in items {
            let Item::Parameter(parameter) = item else { continue };
            self.budget.spend(1)?;
            if let Some(first) = context.symbols.here(&parameter.name.name) {
                let first = first.span();
                self.report(say::duplicate(&parameter.name.name, first, parameter.name.span));
                continue;
            }
            let (mut value, mut signed) = self.constant(context, parameter.value);
            let given = overrides.iter().find(|(n, _)| *n == parameter.name.name && !parameter.local);
            if let Some((_, over)) = given {
                value = over.clone();
            }
            if let Some(range) = &parameter.range {
                let shape = self.shape(context, Some(range));
                value = value.resized(shape.width(), signed);
                signed = parameter.signed;
            } else if parameter.signed {
                signed = true;
            }
            self.design.scopes[context.scope].parameters.push((parameter.name.name.clone(), value.clone()));
            context
                .symbols
                .insert(&parameter.name.name, Symbol::Parameter { value, signed, span: parameter.name.span });
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
        let (shape, signed) = match d.kind {
            Some(DataKind::Integer) => (Shape::vector(31, 0), true),
            Some(DataKind::Time) => (Shape::vector(63, 0), false),
            _ => (self.shape(context, d.range.as_ref()), d.signed),
        };
        let elements = match name.dimensions.as_slice() {
            [] => None,
            [one] => Some(self.shape(context, Some(one))),
            [_, second, ..] => {
                self.report(say::not_understood_yet("A memory with several dimensions", second.span));
                None
            }
        };
        if elements.is_some_and(|e| u64::from(e.width()) * u64::from(shape.width()) > MAX_BITS) {
            self.report(say::too_wide(name.name.span));
            return Layout { shape, signed, elements: None };
        }
        Layout { shape, signed, elements }
    }

    pub(super) fn type_of(&mut self, layout: Layout) -> TypeId {
        let element = self.logic_type(layout.shape, layout.signed);
        match layout.elements.and_then(Shape::range) {
            Some((left, right)) => {
                let kind = TypeKind::Array { element, left: left.into(), right: right.into() };
                self.design.intern_type(Type { kind, name: None })
            }
            None => element,
        }
    }

    fn declare(&mut self, context: &mut Context<'a>, declaration: &'a Declaration) -> Result<(), Exhausted> {
        for name in &declaration.names {
            self.budget.spend(1)?;
            match declaration.kind {
                Some(DataKind::Genvar | DataKind::Event) => continue,
                Some(DataKind::Real) => {
                    self.report(say::not_understood_yet("A real number in a design", declaration.span));
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
            let ty = self.type_of(layout);
            self.budget.spend_bits(u64::from(self.design.type_width(ty)))?;
            let kind = declaration.kind.unwrap_or(DataKind::Wire);
            let initial = match name.value {
                Some(value) if kind.is_variable() => {
                    let (value, signed) = self.constant(context, value);
                    Some(value.resized(self.design.type_width(ty), signed))
                }
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
            let direction = declaration.direction;
            let symbol = SignalSymbol { id, kind, direction, layout, span: name.name.span };
            context.symbols.insert(&name.name.name, Symbol::Signal(symbol));
        }
        Ok(())
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
        if d.range.is_some() || d.kind == Some(DataKind::Integer) {
            symbol.layout = layout;
        }
        symbol.layout.signed = layout.signed;
        let ty = self.type_of(symbol.layout);
        let signal = &mut self.design.signals[symbol.id];
        signal.ty = ty;
        signal.kind = signal_kind(symbol.kind);
        context.symbols.insert(&name.name.name, Symbol::Signal(symbol));
    }

    /// A one-bit wire that nobody declared (IEEE 1364-2005 4.5).
    pub(super) fn implicit_net(&mut self, context: &mut Context<'a>, name: &Ident) {
        let near = context.symbols.nearest(&name.name).map(str::to_owned);
        self.report(say::implicit_net(&name.name, near.as_deref(), name.span));
        let layout = Layout { shape: Shape::SCALAR, signed: false, elements: None };
        let ty = self.type_of(layout);
        let id = self.design.signals.push(Signal {
            name: name.name.clone(),
            scope: context.scope,
            ty,
            kind: SignalKind::Net(NetKind::Resolved),
            initial: None,
            span: name.span,
        });
        let symbol = SignalSymbol { id, kind: DataKind::Wire, direction: None, layout, span: name.span };
        context.symbols.insert(&name.name, Symbol::Signal(symbol));
    }

    pub(super) fn declare_variable(&mut self, context: &mut Context<'a>, name: &Ident, layout: Layout) -> VariableId {
        let ty = self.type_of(layout);
        let id = self.design.variables.push(Variable { name: name.name.clone(), ty, initial: None, span: name.span });
        context.symbols.insert(&name.name, Symbol::Variable { id, layout, span: name.span });
        id
    }

    fn declare_routine(&mut self, context: &mut Context<'a>, routine: &'a Routine) -> Result<(), Exhausted> {
        self.budget.spend(1)?;
        if let Some(first) = context.symbols.here(&routine.name.name) {
            let first = first.span();
            self.report(say::duplicate(&routine.name.name, first, routine.name.span));
            return Ok(());
        }
        let id = self.design.subprograms.push(Subprogram {
            name: routine.name.name.clone(),
            parameters: Vec::new(),
            result: None,
            body: Vec::new(),
            span: routine.span,
        });
        context.symbols.insert(&routine.name.name, Symbol::Routine { id, routine });
        Ok(())
    }

    /// Bodies of functions and tasks, once all names of the module are known.
    pub(super) fn routines(&mut self, context: &mut Context<'a>, items: &'a [Item]) -> Result<(), Exhausted> {
        let declared: Vec<(SubprogramId, &'a Routine)> = items
            .iter()
            .filter_map(|item| match item {
                Item::Routine(r) => match context.symbols.here(&r.name.name) {
                    Some(Symbol::Routine { id, routine }) if std::ptr::eq(*routine, r) => Some((*id, r)),
                    _ => None,
                },
                _ => None,
            })
            .collect();
        // Interfaces first, so that bodies can call each other.
        let mut locals = Vec::new();
        for (id, routine) in &declared {
            context.symbols.enter();
            self.routine_interface(context, *id, routine);
            locals.push(context.symbols.clone());
            context.symbols.leave();
        }
        for ((id, routine), symbols) in declared.into_iter().zip(locals) {
            let outer = std::mem::replace(&mut context.symbols, symbols);
            let body = self.statements(context, &routine.body)?;
            self.design.subprograms[id].body = body;
            context.symbols = outer;
        }
        Ok(())
    }

    fn routine_interface(&mut self, context: &mut Context<'a>, id: SubprogramId, routine: &'a Routine) {
        let mut parameters = Vec::new();
        for declaration in &routine.declarations {
            for name in &declaration.names {
                let layout = self.layout(context, declaration, name);
                let variable = self.declare_variable(context, &name.name, layout);
                match declaration.direction {
                    Some(PortDirection::Input) => parameters.push((variable, Direction::In)),
                    Some(PortDirection::Output) => parameters.push((variable, Direction::Out)),
                    Some(PortDirection::InOut) => parameters.push((variable, Direction::InOut)),
                    None => {}
                }
            }
        }
        let result = routine.result.as_ref().map(|declaration| {
            let name = DeclaredName { name: routine.name.clone(), dimensions: Vec::new(), value: None };
            let layout = self.layout(context, declaration, &name);
            self.declare_variable(context, &routine.name, layout)
        });
        let subprogram = &mut self.design.subprograms[id];
        subprogram.parameters = parameters;
        subprogram.result = result;
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
