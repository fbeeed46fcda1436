//! From trees to a [`Design`]: instances, parameters and generates are unrolled, every width and sign made explicit.

mod expr;
mod file;
mod force;
mod fork;
mod instance;
mod lint;
mod memory;
mod pattern;
mod print;
mod real;
mod routine;
mod scope;
mod select;
mod stmt;
mod symbols;

use crate::diagnostics as say;
use crate::tree::{Domain, Module, PortDirection};
use base::{Budget, Diagnostic, Exhausted, Span};
use design::{Design, Direction, LevelSet, Port, Scope, ScopeId, ScopeKind, Type, TypeId, TypeKind};
use front::{Elaborated, Findings, Lower};
use logic::{LogicVector, Shape};
use std::collections::{BTreeMap, BTreeSet};
use symbols::{Names, Override, SignalSymbol, Symbols};

/// Elaborates `top` with all it instantiates.
pub fn elaborate(modules: &[&Module], top: &Module, budget: &mut Budget) -> Elaborated {
    elaborate_among(modules, top, &[], None, budget)
}

/// The same with parameters of the top by name, and units of other languages and data files around.
pub fn elaborate_among(
    modules: &[&Module],
    top: &Module,
    overrides: &[(String, LogicVector)],
    around: Option<&dyn design::Units>,
    budget: &mut Budget,
) -> Elaborated {
    let scope = Scope {
        name: top.name.name.clone(),
        unit: top.name.name.clone(),
        parent: None,
        kind: ScopeKind::Instance,
        parameters: Vec::new(),
        ports: Vec::new(),
        span: top.header,
    };
    let mut design = Design::new(scope);
    let scope = design.top;
    let mut diagnostics = elaborate_into(&mut design, scope, modules, top, overrides, around, budget);
    lint::blocking_in_clocked(&design, &mut diagnostics);
    Elaborated::new(design, diagnostics)
}

/// Elaborates `top` into a scope of a design that another language began; `overrides` are parameters by name.
pub fn elaborate_into(
    design: &mut Design,
    scope: ScopeId,
    modules: &[&Module],
    top: &Module,
    overrides: &[(String, LogicVector)],
    around: Option<&dyn design::Units>,
    budget: &mut Budget,
) -> Vec<Diagnostic> {
    let mut by_name: BTreeMap<&str, &Module> = BTreeMap::new();
    let mut diagnostics = Vec::new();
    for module in modules {
        if let Some(first) = by_name.get(module.name.name.as_str()) {
            diagnostics.push(say::duplicate_module(&module.name.name, first.name.span, module.name.span));
        } else {
            by_name.insert(&module.name.name, module);
        }
    }
    let mut lowering = Lowering {
        modules: by_name,
        design: std::mem::replace(design, Design::new(design.scopes[scope].clone())),
        findings: Findings::after(diagnostics),
        budget,
        active: Vec::new(),
        endless: false,
        known: BTreeMap::new(),
        bound: BTreeMap::new(),
        lowered: BTreeSet::new(),
        around,
        forks: fork::Forks::default(),
        held: BTreeMap::new(),
        constants: BTreeMap::new(),
    };
    let given = overrides.iter().map(|(name, value)| Override {
        name: name.clone(),
        value: value.clone(),
        domain: Domain::Bits,
    });
    if let Err(exhausted) = lowering.module(top, scope, &given.collect::<Vec<_>>()) {
        lowering.report(say::budget(&exhausted.0.to_string(), top.header));
    }
    *design = lowering.design;
    lowering.findings.into_list()
}

/// The state of an elaboration.
struct Lowering<'a, 'b> {
    modules: BTreeMap<&'a str, &'a Module>,
    design: Design,
    findings: Findings,
    budget: &'b mut Budget,
    /// Modules that are being instantiated, outermost first.
    active: Vec<&'a str>,
    /// A unit was found to contain itself.
    endless: bool,
    /// Signals by where they were declared, for hierarchical names.
    known: BTreeMap<(ScopeId, String), SignalSymbol>,
    /// Signals that are the inout ports of the module that is elaborated next.
    bound: BTreeMap<String, SignalSymbol>,
    /// Functions that a constant needed before their turn.
    lowered: BTreeSet<(ScopeId, Span)>,
    /// Units of other languages, and data files.
    around: Option<&'b dyn design::Units>,
    /// What the process at work has forked.
    forks: fork::Forks,
    /// Levels that are held, by what is held.
    held: BTreeMap<Vec<(design::Storage, u32, u32)>, force::Holder>,
    /// Parameters by where they were declared, for hierarchical names.
    constants: BTreeMap<(ScopeId, String), (LogicVector, symbols::Layout)>,
}

/// A module at work: its tree and where its names point.
struct Context<'a> {
    module: &'a Module,
    scope: ScopeId,
    symbols: Symbols<'a>,
    /// Within a function or task.
    in_routine: bool,
    /// Within a branch that constants rule out.
    is_dead: bool,
}

impl Lower for Lowering<'_, '_> {
    fn design(&mut self) -> &mut Design {
        &mut self.design
    }

    fn findings(&mut self) -> &mut Findings {
        &mut self.findings
    }
}

impl<'a> Lowering<'a, '_> {
    /// Elaborates a module's body into a scope. `overrides` are parameter values by name.
    fn module(&mut self, module: &'a Module, scope: ScopeId, overrides: &[Override]) -> Result<(), Exhausted> {
        self.budget.enter()?;
        self.budget.spend(module.items.len() as u64 + 1)?;
        self.active.push(&module.name.name);
        self.design.precision = self.design.precision.min(module.precision);
        let mut context = Context { module, scope, symbols: Symbols::default(), in_routine: false, is_dead: false };
        let bound = std::mem::take(&mut self.bound);
        self.declare_parameters(&mut context, &module.items, overrides)?;
        for (name, symbol) in bound {
            self.known.insert((scope, name.clone()), symbol.clone());
            context.symbols.insert(&name, symbols::Symbol::Signal(symbol));
        }
        self.declare_items(&mut context, &module.items)?;
        self.ports(&mut context);
        self.routines(&mut context, &module.items)?;
        self.items(&mut context, &module.items)?;
        self.active.pop();
        self.budget.leave();
        Ok(())
    }

    fn ports(&mut self, context: &mut Context<'a>) {
        let mut listed = BTreeSet::new();
        for name in &context.module.port_names {
            if !listed.insert(name.name.as_str()) {
                let first =
                    context.module.port_names.iter().find(|n| n.name == name.name).map_or(name.span, |n| n.span);
                self.report(say::duplicate(&name.name, first, name.span));
                continue;
            }
            match context.symbols.signal(&name.name) {
                Some(signal) if signal.direction.is_some() => {
                    let direction = match signal.direction {
                        Some(PortDirection::Input) => Direction::In,
                        Some(PortDirection::Output) => Direction::Out,
                        _ => Direction::InOut,
                    };
                    let port = Port { signal: signal.id, direction, span: signal.span };
                    self.design.scopes[context.scope].ports.push(port);
                }
                _ => self.report(say::undeclared_port(&name.name, name.span)),
            }
        }
        let module = context.module;
        for port in symbols::declared_ports(&module.items) {
            if !listed.contains(port.name.as_str()) {
                self.report(say::port_not_in_header(&port.name, port.span));
            }
        }
    }

    fn logic_type(&mut self, shape: Shape, signed: bool) -> TypeId {
        let kind = TypeKind::Logic { shape, signed, levels: LevelSet::Four };
        self.design.intern_type(Type { kind, name: None })
    }
}
