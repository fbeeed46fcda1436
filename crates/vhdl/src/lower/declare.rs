//! Declarations: packages in sight, generics, ports, types, objects.

use super::types::{Ty, VectorKind};
use super::{Context, Lowering, STANDARD_PACKAGES, Symbol, direction};
use crate::diagnostics as say;
use crate::tree::{
    Constraint, ContextClause, Declaration, Entity, ExprKind, Ident, Mode, Object, ObjectKind, Range,
    SubtypeIndication, TypeDefinition,
};
use base::{Exhausted, Span};
use design::{NetKind, Port, PrintPart, Signal, SignalId, SignalKind, Variable};
use front::Lower;
use logic::{Level, LogicVector};
use std::collections::BTreeMap;

/// Widest vector or array, in bits.
const MAX_BITS: u64 = 65_536;

impl<'a> Lowering<'a, '_> {
    pub(super) fn use_context(
        &mut self,
        context: &mut Context<'a>,
        clause: &'a ContextClause,
    ) -> Result<(), Exhausted> {
        context.libraries.extend(clause.libraries.iter().map(|l| l.name.clone()));
        for parts in &clause.uses {
            let (Some(library), Some(package)) = (parts.first(), parts.get(1)) else { continue };
            if let Some(known) = STANDARD_PACKAGES.iter().find(|p| **p == package.name) {
                let named =
                    matches!(library.name.as_str(), "std" | "work") || context.libraries.contains(&library.name);
                if !named {
                    self.report(say::missing_library(&library.name, library.span));
                }
                context.packages.insert(known);
                continue;
            }
            let Some(found) = self.packages.get(package.name.as_str()).copied() else {
                if library.name == "ieee" || library.name == "work" || self.packages.is_empty() {
                    let known = STANDARD_PACKAGES.iter().copied().chain(self.packages.keys().copied());
                    let near = base::nearest(&package.name, known).map(str::to_owned);
                    self.report(say::unknown_package(&package.name, near.as_deref(), package.span));
                }
                continue;
            };
            if self.used.contains(&found.name.name.as_str()) {
                self.report(say::circular_package(&package.name, package.span));
                continue;
            }
            // Used again, it adds nothing.
            if !context.read.insert(&found.name.name) {
                continue;
            }
            self.budget.spend(1 + found.declarations.len() as u64)?;
            // What the package itself sees counts inside it only.
            let outer = context.packages.clone();
            self.used.push(&found.name.name);
            let read = self.use_context(context, &found.context);
            self.used.pop();
            read?;
            self.declarations(context, &found.declarations)?;
            if let Some(body) = self.bodies.get(package.name.as_str()).copied() {
                self.declarations(context, &body.declarations)?;
            }
            context.packages.extend(outer);
        }
        Ok(())
    }

    pub(super) fn declare(&mut self, context: &mut Context<'a>, name: &Ident, symbol: Symbol<'a>) {
        match context.layers.here(&name.name).map(Symbol::span) {
            Some(first) if first == name.span => {}
            Some(first) => self.report(say::duplicate(&name.name, first, name.span)),
            None => context.layers.insert(&name.name, symbol),
        }
    }

    pub(super) fn generics(
        &mut self,
        context: &mut Context<'a>,
        entity: &'a Entity,
        mut given: BTreeMap<String, (LogicVector, Ty)>,
    ) {
        for generic in &entity.generics {
            if generic.ty.mark.name == "string" && !given.contains_key(&generic.name.name) {
                self.special_object(context, generic);
                continue;
            }
            let Some(ty) = self.subtype(context, &generic.ty) else {
                self.findings.note_name(&generic.name.name);
                continue;
            };
            let value = match (given.remove(&generic.name.name), &generic.value) {
                (Some((value, _)), _) => Some(value.resized(ty.width().unwrap_or(value.width()), true)),
                (None, Some(default)) => self.static_value(context, default, &ty),
                (None, None) => {
                    self.report(say::constant_needed(generic.name.span));
                    None
                }
            };
            let Some(value) = value else { continue };
            self.design.scopes[context.scope].parameters.push((generic.spelling.clone(), value.clone()));
            self.declare(context, &generic.name, Symbol::Constant { value, ty, span: generic.name.span });
        }
    }

    pub(super) fn ports(&mut self, context: &mut Context<'a>, entity: &'a Entity) {
        let mut bound = std::mem::take(&mut self.bound);
        let shapes = std::mem::take(&mut self.shapes);
        for port in &entity.ports {
            let ty = self.subtype(context, &port.ty).map(|ty| match shapes.get(&port.name.name) {
                Some((left, right)) if ty.width().is_none() => ty.with_bounds(*left, *right),
                _ => ty,
            });
            if let (Some((id, outer)), Some(ty)) = (bound.remove(&port.name.name), &ty) {
                let span = port.name.span;
                if !ty.fits(&outer) || ty.width() != outer.width() {
                    self.report(say::type_mismatch(&ty.describe(), &outer.describe(), span));
                }
                self.design.scopes[context.scope].ports.push(Port {
                    signal: id,
                    direction: direction(port.mode),
                    span,
                });
                let symbol = Symbol::Signal { id, ty: ty.clone(), mode: Some(port.mode), span };
                self.declare(context, &port.name, symbol);
                continue;
            }
            let found = ty.and_then(|ty| Some((self.new_signal(context, port, &ty)?, ty)));
            let Some((id, ty)) = found else {
                self.findings.note_name(&port.name.name);
                continue;
            };
            let span = port.name.span;
            self.design.scopes[context.scope].ports.push(Port { signal: id, direction: direction(port.mode), span });
            self.declare(context, &port.name, Symbol::Signal { id, ty, mode: Some(port.mode), span });
        }
    }

    fn new_signal(&mut self, context: &mut Context<'a>, object: &'a Object, ty: &Ty) -> Option<SignalId> {
        let Some(width) = ty.stored_width() else {
            self.report(say::constant_needed(object.ty.span));
            return None;
        };
        if self.budget.spend_bits(u64::from(width)).is_err() {
            self.report(say::budget("number of bits", object.name.span));
            return None;
        }
        let initial = match &object.value {
            Some(value) if object.mode != Mode::In => self.static_value(context, value, ty),
            _ => None,
        };
        let initial = initial.map(|v| v.resized(width, matches!(ty, Ty::Integer { low, .. } if *low < 0)));
        let type_id = ty.intern(&mut self.design);
        let id = self.design.signals.push(Signal {
            name: object.spelling.clone(),
            scope: context.scope,
            ty: type_id,
            kind: SignalKind::Net(NetKind::Resolved),
            initial,
            span: object.name.span,
        });
        self.signal_types.insert(id, ty.clone());
        Some(id)
    }

    pub(super) fn declarations(&mut self, context: &mut Context<'a>, list: &'a [Declaration]) -> Result<(), Exhausted> {
        for declaration in list {
            self.budget.spend(1)?;
            match declaration {
                Declaration::Object(object) => self.object(context, object),
                Declaration::Type { name, definition } => self.type_definition(context, name, definition),
                Declaration::Subtype { name, ty } => {
                    if let Some(ty) = self.subtype(context, ty) {
                        self.declare(context, name, Symbol::Type { ty, span: name.span });
                    }
                }
                // Its own name is not there yet.
                Declaration::Alias { name, target, .. } if super::call::first_name(target) == name.name => {
                    self.undeclared(context, &name.name, target.span);
                }
                Declaration::Alias { name, target, ty } => {
                    self.declare(context, name, Symbol::Alias { target, ty: ty.as_ref(), span: name.span });
                }
                Declaration::Component(component) => {
                    let span = component.name.span;
                    self.declare(context, &component.name, Symbol::Component { component, span });
                }
                Declaration::Subprogram(routine) => {
                    let span = routine.name.span;
                    match context.layers.here_mut(&routine.name.name) {
                        Some(Symbol::Routine { list, .. }) => list.push(routine),
                        _ => self.declare(context, &routine.name, Symbol::Routine { list: vec![routine], span }),
                    }
                }
                Declaration::Binding { labels, component, entity, architecture } => {
                    let symbol = Symbol::Binding { entity, architecture: architecture.as_ref(), span: entity.span };
                    let names =
                        if labels.is_empty() { vec!["*"] } else { labels.iter().map(|l| l.name.as_str()).collect() };
                    for name in names {
                        context.layers.insert(&super::binding_key(&component.name, name), symbol.clone());
                    }
                }
                Declaration::File(file) => self.file_object(context, file),
                Declaration::Use(clause) => self.use_context(context, clause)?,
                Declaration::Ignored => {}
                Declaration::Unread(what, span) => self.report(say::not_read_yet(what, *span)),
            }
        }
        Ok(())
    }

    fn object(&mut self, context: &mut Context<'a>, object: &'a Object) {
        if !self.declare_object(context, object) {
            // What depends on it is no fault of its own.
            self.findings.note_name(&object.name.name);
        }
    }

    /// Constants of type string, and lines of text; `None` for anything else, else whether it could be read.
    fn special_object(&mut self, context: &mut Context<'a>, object: &'a Object) -> Option<bool> {
        let span = object.name.span;
        let symbol = match (object.ty.mark.name.as_str(), &object.value, object.kind) {
            ("line", _, ObjectKind::Variable) => Symbol::Line { number: self.new_line(), span },
            ("string", Some(value), ObjectKind::Constant) => match self.text_parts(context, value) {
                Some(parts) => self.text_symbol(parts, span),
                None => return Some(false),
            },
            _ => return None,
        };
        self.declare(context, &object.name, symbol);
        Some(true)
    }

    /// A text that is known is a value like any other; one with values in it can only be written out.
    pub(super) fn text_symbol(&mut self, parts: Vec<PrintPart>, span: Span) -> Symbol<'a> {
        let known: Option<String> = parts
            .iter()
            .map(|part| match part {
                PrintPart::Text(text) => Some(text.as_str()),
                _ => None,
            })
            .collect();
        let value = known.and_then(|text| {
            let codes: Option<Vec<LogicVector>> =
                text.chars().map(|c| Some(LogicVector::from_u64(8, u64::from(u8::try_from(c).ok()?)))).collect();
            codes.filter(|c| (1..=8_000).contains(&c.len()))
        });
        match value {
            Some(codes) => {
                let ty = Ty::string(Some((1, i64::try_from(codes.len()).unwrap_or(1))));
                Symbol::Constant { value: LogicVector::concat(&codes), ty, span }
            }
            None => Symbol::Text { parts, span },
        }
    }

    /// False when a fault was told.
    fn declare_object(&mut self, context: &mut Context<'a>, object: &'a Object) -> bool {
        if let Some(done) = self.special_object(context, object) {
            return done;
        }
        let Some(mut ty) = self.subtype(context, &object.ty) else { return false };
        let span = object.name.span;
        match object.kind {
            ObjectKind::Constant => {
                let Some(value) = &object.value else {
                    self.report(say::constant_needed(span));
                    return false;
                };
                // A constant without bounds takes those of its value.
                if ty.width().is_none()
                    && let Some(found) = self.expr(context, value, Some(&ty))
                {
                    ty = found.ty;
                }
                let Some(value) = self.static_value(context, value, &ty) else { return false };
                self.declare(context, &object.name, Symbol::Constant { value, ty, span });
            }
            ObjectKind::Signal => {
                let Some(id) = self.new_signal(context, object, &ty) else { return false };
                self.declare(context, &object.name, Symbol::Signal { id, ty, mode: None, span });
            }
            ObjectKind::Variable => {
                let Some(width) = ty.stored_width() else {
                    self.report(say::constant_needed(object.ty.span));
                    return false;
                };
                let mut initial = None;
                let mut first = None;
                if let Some(tree) = &object.value {
                    let Some(value) = self.expr_as(context, tree, &ty) else { return false };
                    initial = design::evaluate(&self.design, value, self.budget);
                    if initial.is_none() {
                        first = Some(self.stored(value, &ty, span));
                    }
                }
                let initial = initial.map(|v| v.resized(width, matches!(ty, Ty::Integer { low, .. } if low < 0)));
                let type_id = ty.intern(&mut self.design);
                let name = object.spelling.clone();
                let id = self.design.variables.push(Variable { name, ty: type_id, initial, span });
                // A first value that a parameter or signal gives is assigned when the body begins.
                if let Some(value) = first {
                    let storage = design::Storage::Variable(id);
                    let target = design::Target { storage, low: 0, width, element: None, span };
                    let (targets, mode) = (vec![target], design::AssignMode::Blocking);
                    let kind = design::StmtKind::Assign { targets, value, mode, delay: None };
                    self.late.push(design::Stmt { kind, span });
                }
                self.declare(context, &object.name, Symbol::Variable { id, ty, span });
            }
        }
        true
    }

    fn type_definition(&mut self, context: &mut Context<'a>, name: &'a Ident, definition: &'a TypeDefinition) {
        if self.declare_type(context, name, definition).is_none() {
            self.findings.note_name(&name.name);
        }
    }

    fn declare_type(
        &mut self,
        context: &mut Context<'a>,
        name: &'a Ident,
        definition: &'a TypeDefinition,
    ) -> Option<()> {
        let span = name.span;
        let ty = match definition {
            TypeDefinition::Enumeration(literals) => {
                let names: Vec<String> = literals.iter().map(|l| l.name.clone()).collect();
                let ty = Ty::Enumeration { name: name.name.clone(), literals: names };
                for (position, literal) in (0u64..).zip(literals) {
                    let symbol = Symbol::Literal { ty: ty.clone(), position, span: literal.span };
                    self.declare(context, literal, symbol);
                }
                ty
            }
            TypeDefinition::Range(range) => {
                let (left, right, _) = self.static_range(context, range, span)?;
                Ty::Integer { low: left.min(right), high: left.max(right) }
            }
            TypeDefinition::Array { indices, unconstrained, element } => {
                let mut ty = self.subtype(context, element)?;
                for (dimension, index) in indices.iter().enumerate().rev() {
                    let bounds = if *unconstrained {
                        None
                    } else {
                        let (left, right, _) = self.static_range(context, index, span)?;
                        Some((left, right))
                    };
                    // The inner dimensions of an array of several are arrays of their own.
                    let label = if dimension == 0 { name.name.clone() } else { format!("{} {dimension}", name.name) };
                    if is_by_level(index) {
                        self.by_level.insert(label.clone());
                    }
                    ty = Ty::Array { name: label, element: Box::new(ty), bounds };
                }
                ty
            }
            TypeDefinition::Record(fields) => {
                let mut list = Vec::new();
                for (field, ty) in fields {
                    let ty = self.subtype(context, ty)?;
                    list.push((field.name.clone(), ty));
                }
                Ty::Record { name: name.name.clone(), fields: list }
            }
        };
        if ty.width().is_some_and(|w| u64::from(w) > MAX_BITS) {
            self.report(say::too_wide(span));
            return None;
        }
        self.declare(context, name, Symbol::Type { ty, span });
        Some(())
    }

    /// The type that a type mark with its constraint names.
    pub(super) fn subtype(&mut self, context: &mut Context<'a>, ty: &'a SubtypeIndication) -> Option<Ty> {
        let base = self.type_mark(context, &ty.mark)?;
        match &ty.constraint {
            None => Some(base),
            Some(Constraint::Range(_)) if base == Ty::Real => Some(base),
            Some(Constraint::Range(range)) => {
                let (left, right, _) = self.static_range(context, range, ty.span)?;
                match base {
                    Ty::Integer { .. } => Some(Ty::Integer { low: left.min(right), high: left.max(right) }),
                    other => Some(other),
                }
            }
            Some(Constraint::Index(ranges)) => {
                let Some(Range::Bounds { .. } | Range::Of(_)) = ranges.first() else { return Some(base) };
                if base.element().is_none() {
                    self.report(say::not_indexable(&ty.mark.name, ty.span));
                    return None;
                }
                let (left, right, down) = self.static_range(context, &ranges[0], ty.span)?;
                if down && left < right || !down && left > right {
                    // Figures the wrong way round are a slip; what is computed may be meant to come out empty (IEEE
                    // 1076-2008 5.2.1).
                    let is_slip = matches!(&ranges[0], Range::Bounds { left, right, .. }
                        if [left, right].iter().all(|b| matches!(b.kind, ExprKind::Integer(_))));
                    self.report(match is_slip {
                        true => say::null_range(ty.span),
                        false => say::not_read_yet("A vector without elements", ty.span),
                    });
                    return None;
                }
                let whole = base.with_bounds(left, right);
                if whole.width().is_none_or(|w| u64::from(w) > MAX_BITS) && left.abs_diff(right) > 1 << 15 {
                    self.report(say::too_wide(ty.span));
                    return None;
                }
                Some(whole)
            }
        }
    }

    pub(super) fn type_mark(&mut self, context: &Context<'a>, mark: &Ident) -> Option<Ty> {
        if let Some(Symbol::Type { ty, .. }) = context.get(&mark.name) {
            return Some(ty.clone());
        }
        let vector = |kind| Ty::Vector { kind, bounds: None };
        let (ty, package) = match mark.name.as_str() {
            "std_logic" | "std_ulogic" | "x01" | "ux01" => (Ty::Logic, Some("std_logic_1164")),
            "std_logic_vector" | "std_ulogic_vector" => (vector(VectorKind::StdLogic), Some("std_logic_1164")),
            "unsigned" | "u_unsigned" => (vector(VectorKind::Unsigned), Some("numeric_std")),
            "signed" | "u_signed" => (vector(VectorKind::Signed), Some("numeric_std")),
            "bit" => (Ty::Bit, None),
            "bit_vector" => (vector(VectorKind::Bit), None),
            "boolean" => (Ty::Boolean, None),
            "integer" => (Ty::INTEGER, None),
            "natural" => (Ty::Integer { low: 0, high: 2_147_483_647 }, None),
            "positive" => (Ty::Integer { low: 1, high: 2_147_483_647 }, None),
            "time" | "delay_length" => (Ty::Time, None),
            "character" => (Ty::character(), None),
            "severity_level" => (Ty::severity(), None),
            "file_open_status" => (Ty::open_status(), None),
            "string" => (Ty::string(None), None),
            "real" => (Ty::Real, None),
            // IEEE 1076-2008 5.3.2.3.
            "integer_vector" => (predefined_array("integer_vector", Ty::INTEGER), None),
            "boolean_vector" => (predefined_array("boolean_vector", Ty::Boolean), None),
            "real_vector" => (predefined_array("real_vector", Ty::Real), None),
            "time_vector" => (predefined_array("time_vector", Ty::Time), None),
            "line" | "text" => {
                self.report(say::not_read_yet(&format!("The type `{}` in a design", mark.name), mark.span));
                return None;
            }
            other if self.findings.knows_name(other) => return None,
            other => {
                const KNOWN: [&str; 11] = [
                    "std_logic",
                    "std_logic_vector",
                    "std_ulogic",
                    "unsigned",
                    "signed",
                    "bit",
                    "bit_vector",
                    "boolean",
                    "integer",
                    "natural",
                    "positive",
                ];
                let own = context.layers.iter().filter(|(_, s)| matches!(s, Symbol::Type { .. }));
                let near = base::nearest(other, KNOWN.into_iter().chain(own.map(|(n, _)| n.as_str())));
                let near = near.map(str::to_owned);
                self.report(say::unknown_type(other, near.as_deref(), mark.span));
                return None;
            }
        };
        let seen = match package {
            Some("numeric_std") => context.has_numbers(),
            Some(package) => context.sees(package),
            None => true,
        };
        if !seen {
            let package = package.unwrap_or_default();
            if self.findings.note_name(&format!("use {package}")) {
                self.report(say::missing_use(&mark.name, package, mark.span));
            }
            return None;
        }
        Some(ty)
    }

    /// Left, right and whether it runs downwards.
    pub(super) fn static_range(
        &mut self,
        context: &mut Context<'a>,
        range: &'a Range,
        at: Span,
    ) -> Option<(i64, i64, bool)> {
        match range {
            Range::Bounds { left, down, right } => {
                let left = self.static_position(context, left)?;
                let right = self.static_position(context, right)?;
                Some((left, right, *down))
            }
            Range::Of(value) => self.range_of(context, value, at),
        }
    }

    /// The value a signal has before anything drives it.
    pub(super) fn unknown_value(ty: &Ty, width: u32) -> LogicVector {
        match ty {
            Ty::Logic | Ty::Vector { .. } | Ty::Array { .. } | Ty::Record { .. } => {
                LogicVector::filled(width, Level::Uninitialised)
            }
            _ => LogicVector::from_u64(width, 0),
        }
    }
}

/// Is the index of an array a level or a truth value?
fn is_by_level(index: &Range) -> bool {
    match index {
        Range::Of(tree) => {
            matches!(&tree.kind, crate::tree::ExprKind::Name(n) if matches!(n.as_str(), "boolean" | "bit" | "std_logic" | "std_ulogic"))
        }
        Range::Bounds { left, .. } => matches!(left.kind, crate::tree::ExprKind::Character(_)),
    }
}

fn predefined_array(name: &str, element: Ty) -> Ty {
    Ty::Array { name: name.into(), element: Box::new(element), bounds: None }
}
