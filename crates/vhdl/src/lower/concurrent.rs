//! Concurrent statements: assignments, processes, instances, generates.

use super::statement::Body;
use super::types::Ty;
use super::{Context, Lowering, Symbol, integer_vector};
use crate::diagnostics as say;
use crate::tree::{
    Association, Component, Concurrent, Entity, Expr as Tree, ExprKind as Node, Ident, Mode, Object, Sensitivity,
};
use base::{Exhausted, Span};
use design::{
    AssignMode, Edge, Event, ExprKind, Process, ProcessKind, Scope, ScopeId, ScopeKind, Sensitivity as Wakes, Stmt,
    StmtKind, Storage, Target, WaitKind,
};
use front::Lower;
use logic::LogicVector;
use std::collections::BTreeMap;

impl<'a> Lowering<'a, '_> {
    pub(super) fn concurrents(&mut self, context: &mut Context<'a>, list: &'a [Concurrent]) -> Result<(), Exhausted> {
        for statement in list {
            self.budget.spend(1)?;
            self.concurrent(context, statement)?;
        }
        Ok(())
    }

    fn process(
        &mut self,
        context: &Context<'a>,
        kind: ProcessKind,
        name: Option<String>,
        wakes: Wakes,
        body: Vec<Stmt>,
        span: Span,
    ) {
        self.design.processes.push(Process { scope: context.scope, kind, name, sensitivity: wakes, body, span });
    }

    #[expect(clippy::too_many_lines, reason = "an arm for each kind of statement")]
    fn concurrent(&mut self, context: &mut Context<'a>, statement: &'a Concurrent) -> Result<(), Exhausted> {
        match statement {
            Concurrent::Assign { label, target, alternatives, span } => {
                if let Some(stmt) = self.assign(context, target, true, alternatives, *span) {
                    let name = label.as_ref().map(|l| l.name.clone());
                    self.process(context, ProcessKind::Assignment, name, Wakes::Reads, vec![stmt], *span);
                }
            }
            Concurrent::Select { label, subject, target, alternatives, matching, span } => {
                let arms: Vec<_> = alternatives
                    .iter()
                    .map(|(wave, choices)| {
                        (choices.as_slice(), Body::Drive { target, wave, signal: true }, wave.value.span)
                    })
                    .collect();
                if let Some(stmt) = self.case(context, subject, &arms, *matching, *span) {
                    let name = label.as_ref().map(|l| l.name.clone());
                    self.process(context, ProcessKind::Assignment, name, Wakes::Reads, vec![stmt], *span);
                }
            }
            Concurrent::Process { label, sensitivity, declarations, body, span } => {
                context.layers.enter();
                self.declarations(context, declarations)?;
                let wakes = self.sensitivity(context, sensitivity);
                // In a process that is run again, variables keep their values: a first value that is no constant counts once.
                self.late.clear();
                let body = self.statements(context, body);
                context.layers.leave();
                if let (Some(wakes), Some(body)) = (wakes, body) {
                    let (wakes, body) = listed(wakes, body);
                    let name = label.as_ref().map(|l| l.name.clone());
                    let kind =
                        if wakes == Wakes::ReadsThrough { ProcessKind::Combinational } else { ProcessKind::General };
                    self.process(context, kind, name, wakes, body, *span);
                }
            }
            Concurrent::Instance { label, unit, is_entity, architecture, generics, ports, span } => {
                let unit = (unit, architecture.as_ref());
                self.instance(context, label, unit, *is_entity, generics, ports, *span)?;
            }
            Concurrent::For { label, variable, range, declarations, body, span } => {
                let Some((left, right, down)) = self.static_range(context, range, *span) else { return Ok(()) };
                let count = if down { left - right } else { right - left };
                if count >= 4096 {
                    self.report(say::budget("more than 4,096 turns of a generate", *span));
                    return Ok(());
                }
                for turn in 0..=count {
                    self.budget.spend(2_000)?;
                    let n = if down { left - turn } else { left + turn };
                    let ty = Ty::Integer { low: left.min(right), high: left.max(right) };
                    let symbol = Symbol::Constant { value: integer_vector(n), ty, span: variable.span };
                    let layer = BTreeMap::from([(variable.name.clone(), symbol)]);
                    let name = format!("{}[{n}]", label.name);
                    self.inner(context, name, layer, Some(n), declarations, body, *span)?;
                }
            }
            Concurrent::If { label, arms, span } => {
                for (condition, declarations, body) in arms {
                    let taken = match condition {
                        None => true,
                        Some(tree) => match self.static_value(context, tree, &Ty::Boolean) {
                            Some(value) => value.to_u64() == Some(1),
                            None => return Ok(()),
                        },
                    };
                    if taken {
                        self.inner(context, label.name.clone(), BTreeMap::new(), None, declarations, body, *span)?;
                        break;
                    }
                }
            }
            Concurrent::Block { label, declarations, body, span } => {
                self.inner(context, label.name.clone(), BTreeMap::new(), None, declarations, body, *span)?;
            }
            Concurrent::Call { name, span } => {
                if let Some(kind) = self.procedure_call(context, name) {
                    let stmt = Stmt { kind, span: *span };
                    self.process(context, ProcessKind::Assignment, None, Wakes::Reads, vec![stmt], *span);
                }
            }
            Concurrent::Case { label, subject, arms, span } => {
                let Some(value) = self.expr(context, subject, None) else { return Ok(()) };
                let Some(wanted) = design::evaluate(&self.design, value.id, self.budget) else {
                    self.report(say::constant_needed(subject.span));
                    return Ok(());
                };
                for (choices, declarations, body) in arms {
                    let mut taken = false;
                    for choice in choices {
                        taken |= match choice {
                            crate::tree::Range::Of(tree) if tree.kind == Node::Others => true,
                            choice => self
                                .choice_values(context, choice, &value.ty, *span)
                                .is_some_and(|values| values.contains(&wanted)),
                        };
                    }
                    if taken {
                        self.inner(context, label.name.clone(), BTreeMap::new(), None, declarations, body, *span)?;
                        break;
                    }
                }
            }
            Concurrent::Message(stmt) => {
                if let Some(body) = self.statements(context, std::slice::from_ref(stmt)) {
                    self.process(context, ProcessKind::General, None, Wakes::Reads, body, stmt.span);
                }
            }
        }
        Ok(())
    }

    #[expect(clippy::too_many_arguments, reason = "the parts of a generate")]
    fn inner(
        &mut self,
        context: &mut Context<'a>,
        name: String,
        layer: BTreeMap<String, Symbol<'a>>,
        index: Option<i64>,
        declarations: &'a [crate::tree::Declaration],
        body: &'a [Concurrent],
        span: Span,
    ) -> Result<(), Exhausted> {
        self.budget.enter()?;
        let unit = self.design.scopes[context.scope].unit.clone();
        let scope = self.design.scopes.push(Scope {
            name,
            unit,
            parent: Some(context.scope),
            kind: ScopeKind::Generate,
            parameters: index.map(|n| ("index".to_owned(), integer_vector(n))).into_iter().collect(),
            ports: Vec::new(),
            span,
        });
        let outer = std::mem::replace(&mut context.scope, scope);
        context.layers.enter_with(layer);
        context.layers.enter();
        self.declarations(context, declarations)?;
        self.concurrents(context, body)?;
        context.layers.leave();
        context.layers.leave();
        context.scope = outer;
        self.budget.leave();
        Ok(())
    }

    fn sensitivity(&mut self, context: &mut Context<'a>, sensitivity: &'a Sensitivity) -> Option<Wakes> {
        match sensitivity {
            Sensitivity::All => Some(Wakes::ReadsThrough),
            Sensitivity::None => Some(Wakes::Forever),
            Sensitivity::Names(names) => {
                let mut events = Vec::new();
                let mut whole = true;
                for name in names {
                    match self.expr(context, name, None) {
                        Some(value) => events.push(Event { edge: Edge::Any, expr: value.id }),
                        None => whole = false,
                    }
                }
                whole.then_some(Wakes::StartAndEvents(events))
            }
        }
    }

    #[expect(clippy::too_many_arguments, reason = "the parts of an instantiation")]
    fn instance(
        &mut self,
        context: &mut Context<'a>,
        label: &'a Ident,
        (mut unit, mut architecture): (&'a Ident, Option<&'a Ident>),
        is_entity: bool,
        generics: &'a [Association],
        ports: &'a [Association],
        span: Span,
    ) -> Result<(), Exhausted> {
        let component: Option<&'a Component> = match context.get(&unit.name) {
            Some(Symbol::Component { component, .. }) => Some(component),
            _ => None,
        };
        if !is_entity && component.is_none() {
            let known: Vec<String> = context
                .layers
                .iter()
                .filter(|(_, s)| matches!(s, Symbol::Component { .. }))
                .map(|(n, _)| n.clone())
                .collect();
            let near = base::nearest(&unit.name, known.iter().map(String::as_str));
            self.report(say::unknown_component(&unit.name, near, unit.span));
            return Ok(());
        }
        if !is_entity {
            let bound = [label.name.as_str(), "*"].map(|l| context.get(&super::binding_key(&unit.name, l)).cloned());
            if let Some(Symbol::Binding { entity, architecture: named, .. }) = bound.into_iter().flatten().next() {
                (unit, architecture) = (entity, named);
            }
        }
        let Some(entity) = self.entities.get(unit.name.as_str()).copied() else {
            if self.foreign(context, label, unit, component, generics, ports, span)? {
                return Ok(());
            }
            let near = base::nearest(&unit.name, self.entities.keys().copied()).map(str::to_owned);
            self.report(say::unknown_entity(&unit.name, near.as_deref(), unit.span));
            return Ok(());
        };
        // Once a circle is told, nothing more is unrolled: two instances in it would double at each turn.
        if self.endless {
            return Ok(());
        }
        self.budget.spend(3_000)?;
        if self.active.iter().filter(|e| **e == entity.name.name).count() > 64 {
            self.endless = true;
            self.report(say::recursion(&entity.name.name, unit.span));
            return Ok(());
        }
        let Some(given) = self.generic_map(context, entity, generics, component) else { return Ok(()) };
        let scope = self.design.scopes.push(Scope {
            name: label.name.clone(),
            unit: entity.name.name.clone(),
            parent: Some(context.scope),
            kind: ScopeKind::Instance,
            parameters: Vec::new(),
            ports: Vec::new(),
            span,
        });
        self.bind_ports(context, entity, component, ports);
        self.entity(entity, scope, given, architecture)?;
        self.port_map(context, entity, component, scope, label, ports, span);
        Ok(())
    }

    /// An instance of a unit in another language. False when there is no such unit.
    #[expect(clippy::too_many_arguments, reason = "the parts of an instantiation")]
    fn foreign(
        &mut self,
        context: &mut Context<'a>,
        label: &'a Ident,
        unit: &'a Ident,
        component: Option<&'a Component>,
        generics: &'a [Association],
        ports: &'a [Association],
        span: Span,
    ) -> Result<bool, Exhausted> {
        let Some(units) = self.around else { return Ok(false) };
        let Some(name) = units.names().into_iter().find(|n| n.eq_ignore_ascii_case(&unit.name)) else {
            return Ok(false);
        };
        self.budget.enter()?;
        self.budget.spend(2_000)?;
        let mut given = Vec::new();
        for association in generics {
            let Some(actual) = &association.actual else { continue };
            let formal = match &association.formal {
                Some(Tree { kind: Node::Name(name), .. }) => name.clone(),
                _ => String::new(),
            };
            let Some(value) = self.expr(context, actual, None) else { return Ok(true) };
            let Some(value) = design::evaluate(&self.design, value.id, self.budget) else {
                self.report(say::constant_needed(actual.span));
                return Ok(true);
            };
            let value = if value.width() == super::types::INTEGER_BITS { value.resized(32, true) } else { value };
            given.push((formal, value));
        }
        let scope = self.design.scopes.push(Scope {
            name: label.name.clone(),
            unit: name.clone(),
            parent: Some(context.scope),
            kind: ScopeKind::Instance,
            parameters: Vec::new(),
            ports: Vec::new(),
            span,
        });
        let found = units.instantiate(&mut self.design, scope, &name, &given, span, self.budget);
        let Some(found) = found else { return Ok(false) };
        let stopped = found.iter().any(base::Diagnostic::stops);
        for diagnostic in found {
            self.report(diagnostic);
        }
        if !stopped {
            self.foreign_ports(context, scope, component, label, ports, &name, span);
        }
        self.budget.leave();
        Ok(true)
    }

    /// Joins the ports of a unit in another language: bits and vectors of bits.
    #[expect(clippy::too_many_arguments, reason = "both sides of a connection")]
    fn foreign_ports(
        &mut self,
        context: &mut Context<'a>,
        scope: ScopeId,
        component: Option<&'a Component>,
        label: &Ident,
        map: &'a [Association],
        unit: &str,
        span: Span,
    ) {
        let inner = self.design.scopes[scope].ports.clone();
        let names: Vec<String> = inner.iter().map(|p| self.design.signals[p.signal].name.clone()).collect();
        for (i, association) in map.iter().enumerate() {
            let by_position =
                component.and_then(|c| c.ports.get(i)).map(|p| p.name.name.clone()).or(names.get(i).cloned());
            let name = match &association.formal {
                Some(Tree { kind: Node::Name(name), .. }) => name.clone(),
                Some(other) => return self.report(say::not_read_yet("This port association", other.span)),
                None => by_position.unwrap_or_default(),
            };
            let Some(at) = names.iter().position(|n| n.eq_ignore_ascii_case(&name)) else {
                let near = base::nearest(&name, names.iter().map(String::as_str));
                self.report(say::unknown_port(&name, unit, near, association.span));
                continue;
            };
            let port = inner[at];
            let width = self.design.signal_width(port.signal);
            let Some(actual) = &association.actual else { continue };
            let label = Some(label.name.clone());
            let (targets, value) = if port.direction == design::Direction::In {
                let wanted = if width == 1 { Ty::Logic } else { Ty::vector(super::types::VectorKind::StdLogic, width) };
                let Some(value) = self.expr(context, actual, Some(&wanted)) else { continue };
                if value.ty.width() != Some(width) {
                    self.report(say::length_differs(width, value.ty.width().unwrap_or(0), actual.span));
                    continue;
                }
                let storage = Storage::Signal(port.signal);
                (vec![Target { storage, low: 0, width, element: None, span }], value.id)
            } else {
                let Some(place) = self.place(context, actual, Some(true)) else { continue };
                if place.target.width != width {
                    self.report(say::length_differs(width, place.target.width, actual.span));
                    continue;
                }
                (vec![place.target], self.push(ExprKind::Signal(port.signal), width, span))
            };
            let kind = StmtKind::Assign { targets, value, mode: AssignMode::Blocking, delay: None };
            self.process(context, ProcessKind::PortMap, label, Wakes::Reads, vec![Stmt { kind, span }], span);
        }
    }

    /// An inout port that is joined to a whole signal is that signal: both sides drive and read it.
    fn bind_ports(
        &mut self,
        context: &mut Context<'a>,
        entity: &'a Entity,
        component: Option<&'a Component>,
        map: &'a [Association],
    ) {
        self.bound.clear();
        self.shapes.clear();
        let order: &[Object] = component.map_or(&entity.ports, |c| &c.ports);
        for (i, association) in map.iter().enumerate() {
            let formal = match &association.formal {
                Some(Tree { kind: Node::Name(name), .. }) => Some(name.as_str()),
                Some(_) => None,
                None => order.get(i).map(|p| p.name.name.as_str()),
            };
            // A port without bounds has those of what it is joined to (IEEE 1076-2008 5.3.2.2).
            let open = entity.ports.iter().find(|p| Some(p.name.name.as_str()) == formal && p.ty.has_no_bounds());
            if let (Some(port), Some(tree)) = (open, &association.actual) {
                let told = self.findings.mark();
                let bounds = match &tree.kind {
                    Node::Name(name) => match context.get(name) {
                        Some(Symbol::Signal { ty, .. } | Symbol::Constant { ty, .. }) => ty.bounds(),
                        _ => None,
                    },
                    _ => self.expr(context, tree, None).and_then(|v| v.ty.bounds()),
                };
                self.findings.go_back(told);
                if let Some(bounds) = bounds {
                    self.shapes.insert(port.name.name.clone(), bounds);
                }
            }
            let port = entity.ports.iter().find(|p| Some(p.name.name.as_str()) == formal && p.mode == Mode::InOut);
            let actual = association.actual.as_ref().map(|t| &t.kind);
            if let (Some(port), Some(Node::Name(name))) = (port, actual)
                && let Some(Symbol::Signal { id, ty, .. }) = context.get(name)
            {
                self.bound.insert(port.name.name.clone(), (*id, ty.clone()));
            }
        }
    }

    fn generic_map(
        &mut self,
        context: &mut Context<'a>,
        entity: &'a Entity,
        map: &'a [Association],
        component: Option<&'a Component>,
    ) -> Option<BTreeMap<String, (LogicVector, Ty)>> {
        let order: &[Object] = component.map_or(&entity.generics, |c| &c.generics);
        let mut given = BTreeMap::new();
        for (i, association) in map.iter().enumerate() {
            let formal = match &association.formal {
                Some(Tree { kind: Node::Name(name), span }) => match order.iter().find(|g| g.name.name == *name) {
                    Some(found) => found,
                    None => {
                        let near = base::nearest(name, order.iter().map(|g| g.name.name.as_str()));
                        self.report(say::unknown_generic(name, &entity.name.name, near, *span));
                        return None;
                    }
                },
                Some(other) => {
                    self.report(say::not_read_yet("This generic association", other.span));
                    return None;
                }
                None => match order.get(i) {
                    Some(found) => found,
                    None => {
                        self.report(say::too_many_connections(&entity.name.name, order.len(), association.span));
                        return None;
                    }
                },
            };
            let Some(actual) = &association.actual else { continue };
            let ty = self.subtype(context, &formal.ty)?;
            let value = self.static_value(context, actual, &ty)?;
            given.insert(formal.name.name.clone(), (value, ty));
        }
        // Defaults of a component count before those of the entity.
        for generic in component.iter().flat_map(|c| &c.generics) {
            if let (false, Some(default)) = (given.contains_key(&generic.name.name), &generic.value) {
                let ty = self.subtype(context, &generic.ty)?;
                let value = self.static_value(context, default, &ty)?;
                given.insert(generic.name.name.clone(), (value, ty));
            }
        }
        Some(given)
    }

    #[expect(clippy::too_many_arguments, reason = "the parts of an instantiation")]
    fn port_map(
        &mut self,
        context: &mut Context<'a>,
        entity: &'a Entity,
        component: Option<&'a Component>,
        scope: ScopeId,
        label: &Ident,
        map: &'a [Association],
        span: Span,
    ) {
        let order: Vec<&'a Object> = component.map_or(&entity.ports, |c| &c.ports).iter().collect();
        let mut connected: Vec<String> = Vec::new();
        for (i, association) in map.iter().enumerate() {
            let mut converted = false;
            let (name, part): (&str, Option<&'a Tree>) = match &association.formal {
                None => match order.get(i) {
                    Some(port) => (&port.name.name, None),
                    None => {
                        self.report(say::too_many_connections(&entity.name.name, order.len(), association.span));
                        return;
                    }
                },
                Some(tree) => match &tree.kind {
                    Node::Name(name) => (name, None),
                    // `std_logic_vector(sum) => y`: a conversion on the way out, of a port named inside.
                    Node::Call(base, inner, None)
                        if is_conversion(base) && matches!(inner.as_slice(), [Association { actual: Some(_), .. }]) =>
                    {
                        match inner[0].actual.as_ref().map(|t| &t.kind) {
                            Some(Node::Name(name)) => {
                                converted = true;
                                (name, None)
                            }
                            _ => return self.report(say::not_read_yet("This port association", tree.span)),
                        }
                    }
                    Node::Call(base, ..) => match &base.kind {
                        Node::Name(name) => (name, Some(tree)),
                        _ => return self.report(say::not_read_yet("This port association", tree.span)),
                    },
                    _ => return self.report(say::not_read_yet("This port association", tree.span)),
                },
            };
            let at = association.formal.as_ref().map_or(association.span, |f| f.span);
            let Some(port) = entity.ports.iter().find(|p| p.name.name == name) else {
                let near = base::nearest(name, entity.ports.iter().map(|p| p.name.name.as_str()));
                self.report(say::unknown_port(name, &entity.name.name, near, at));
                continue;
            };
            if part.is_none() && connected.iter().any(|c| c == name) {
                self.report(say::port_twice(name, at));
                continue;
            }
            // `open` leaves the port to its default (IEEE 1076-2008 6.5.6.3).
            let actual = association.actual.as_ref().filter(|a| !matches!(a.kind, Node::Open));
            if let Some(actual) = actual {
                connected.push(name.to_owned());
                self.connect(context, scope, port, (part, converted), actual, label, association.span);
            }
        }
        for port in &entity.ports {
            if port.mode == Mode::In && !connected.contains(&port.name.name) {
                match &port.value {
                    Some(default) => self.connect(context, scope, port, (None, false), default, label, span),
                    None => self.report(say::open_input(&port.name.name, span)),
                }
            }
        }
    }

    /// Joins a port, or a part of it, with what is outside.
    #[expect(clippy::too_many_arguments, reason = "both sides of a connection")]
    fn connect(
        &mut self,
        context: &mut Context<'a>,
        scope: ScopeId,
        port: &'a Object,
        (part, converted): (Option<&'a Tree>, bool),
        actual: &'a Tree,
        label: &Ident,
        span: Span,
    ) {
        let found = self.design.scopes[scope].ports.iter().find(|p| p.span == port.name.span).copied();
        let Some(inner) = found else { return };
        let Some(ty) = self.inner_type(inner.signal) else { return };
        // A part of the port is looked up with the port as the only name in sight.
        let mut low = 0;
        let mut part_ty = ty.clone();
        if let Some(tree) = part {
            let symbol = Symbol::Signal { id: inner.signal, ty: ty.clone(), mode: None, span: port.name.span };
            context.layers.enter_with(BTreeMap::from([(port.name.name.clone(), symbol)]));
            let place = self.place(context, tree, Some(true));
            context.layers.leave();
            let Some(place) = place else { return };
            if place.target.element.is_some() {
                self.report(say::constant_needed(tree.span));
                return;
            }
            (low, part_ty) = (place.target.low, place.ty);
        }
        let Some(width) = part_ty.stored_width() else { return };
        let name = Some(label.name.clone());
        if port.mode == Mode::In {
            let Some(value) = self.expr_as(context, actual, &part_ty) else { return };
            let value = self.stored(value, &part_ty, span);
            let target = Target { storage: Storage::Signal(inner.signal), low, width, element: None, span };
            let kind = StmtKind::Assign { targets: vec![target], value, mode: AssignMode::Blocking, delay: None };
            self.process(context, ProcessKind::PortMap, name, Wakes::Reads, vec![Stmt { kind, span }], span);
            return;
        }
        if port.mode == Mode::InOut {
            // A whole signal is the port itself (see `bind_ports`).
            let is_bound = matches!(&actual.kind, Node::Name(name)
                if matches!(context.get(name), Some(Symbol::Signal { id, .. }) if *id == inner.signal));
            if !is_bound {
                self.report(say::not_read_yet("An inout port joined to a part of a signal", span));
            }
            return;
        }
        // `std_logic_vector(y)` as the actual of an output is a conversion on the way in; only the place counts.
        let Some(place) = self.place(context, actual, Some(true)) else { return };
        let is_fitting = place.ty.fits(&part_ty) || converted && place.ty.vector_kind().is_some();
        if !is_fitting {
            self.report(say::type_mismatch(&part_ty.describe(), &place.ty.describe(), actual.span));
            return;
        }
        // Whole numbers of different ranges are numbers all the same.
        let number = match (&part_ty, &place.ty) {
            (Ty::Integer { low, .. }, Ty::Integer { .. }) => Some(*low < 0),
            _ => None,
        };
        if place.target.width != width && number.is_none() {
            self.report(say::length_differs(width, place.target.width, actual.span));
            return;
        }
        let Some(total) = ty.stored_width() else { return };
        let whole = self.push(ExprKind::Signal(inner.signal), total, span);
        let mut value =
            if width == total { whole } else { self.push(ExprKind::Slice { base: whole, low }, width, span) };
        if let Some(signed) = number {
            value = self.resize(value, place.target.width, signed, span);
        }
        let kind = StmtKind::Assign { targets: vec![place.target], value, mode: AssignMode::Blocking, delay: None };
        self.process(context, ProcessKind::PortMap, name, Wakes::Reads, vec![Stmt { kind, span }], span);
    }

    /// The type of a signal as elaboration knew it when it was declared.
    fn inner_type(&self, signal: design::SignalId) -> Option<Ty> {
        self.signal_types.get(&signal).cloned()
    }
}

/// A type or function that turns one kind of vector into another.
fn is_conversion(base: &Tree) -> bool {
    const NAMES: [&str; 8] = [
        "std_logic_vector",
        "std_ulogic_vector",
        "unsigned",
        "signed",
        "bit_vector",
        "to_bitvector",
        "to_stdlogicvector",
        "to_bit",
    ];
    matches!(&base.kind, Node::Name(n) if NAMES.contains(&n.as_str()))
}

/// A process whose only wait is a `wait on` at its end is one with that list (IEEE 1076-2008 11.3); at its head it is one
/// that doesn't run at the start.
fn listed(wakes: Wakes, mut body: Vec<Stmt>) -> (Wakes, Vec<Stmt>) {
    let is_on = |stmt: &Stmt| match &stmt.kind {
        StmtKind::Wait(WaitKind::Change { on, until: None, timeout: None }) => !on.is_empty(),
        _ => false,
    };
    let (true, [first, rest @ ..]) = (wakes == Wakes::Forever, body.as_slice()) else { return (wakes, body) };
    // At its head it waits before it does anything.
    if is_on(first) && !rest.is_empty() && !rest.iter().any(waits) {
        return match body.remove(0).kind {
            StmtKind::Wait(WaitKind::Change { on, .. }) => (Wakes::Events(on), body),
            _ => (wakes, body),
        };
    }
    if !body.last().is_some_and(is_on) || body[..body.len() - 1].iter().any(waits) {
        return (wakes, body);
    }
    match body.pop().map(|s| s.kind) {
        Some(StmtKind::Wait(WaitKind::Change { on, .. })) => (Wakes::StartAndEvents(on), body),
        _ => (wakes, body),
    }
}

/// Is there a wait, or a call that may hold one?
fn waits(stmt: &Stmt) -> bool {
    match &stmt.kind {
        StmtKind::Wait(_) | StmtKind::Call { .. } => true,
        StmtKind::If { then, otherwise, .. } => then.iter().chain(otherwise.iter().flatten()).any(waits),
        StmtKind::Case { arms, default, .. } => {
            arms.iter().flat_map(|a| &a.body).chain(default.iter().flatten()).any(waits)
        }
        StmtKind::Loop { body, step, .. } => body.iter().chain(step).any(waits),
        StmtKind::Block { body, .. } => body.iter().any(waits),
        _ => false,
    }
}
