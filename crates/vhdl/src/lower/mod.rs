//! From trees to a [`Design`]: types checked, instances and generates unrolled, everything implicit made explicit.

mod assignment;
mod attribute;
mod call;
mod concurrent;
mod declare;
mod expr;
mod file;
mod jumps;
mod literal;
mod operator;
mod real;
mod statement;
mod subprogram;
mod text;
mod types;

use crate::DesignUnit;
use crate::diagnostics as say;
use crate::tree::{
    Architecture, Component, Entity, Expr as Tree, Ident, Mode, Package, Subprogram, SubtypeIndication, Unit,
};
use base::{Budget, Diagnostic, Exhausted, Span};
use design::{
    Design, Direction, ExprId, PrintPart, Scope, ScopeId, ScopeKind, SignalId, Stmt, SubprogramId, Target, VariableId,
};
use front::{Elaborated, Findings, Layers, Lower};
use logic::LogicVector;
use std::collections::{BTreeMap, BTreeSet};
use types::Ty;

/// A name's meaning.
#[derive(Clone, Debug)]
enum Symbol<'a> {
    Signal {
        id: SignalId,
        ty: Ty,
        mode: Option<Mode>,
        span: Span,
    },
    Variable {
        id: VariableId,
        ty: Ty,
        span: Span,
    },
    Constant {
        value: LogicVector,
        ty: Ty,
        span: Span,
    },
    Type {
        ty: Ty,
        span: Span,
    },
    Literal {
        ty: Ty,
        position: u64,
        span: Span,
    },
    Routine {
        list: Vec<&'a Subprogram>,
        span: Span,
    },
    Component {
        component: &'a Component,
        span: Span,
    },
    /// What the instances of a component are.
    Binding {
        entity: &'a Ident,
        architecture: Option<&'a Ident>,
        span: Span,
    },
    Alias {
        target: &'a Tree,
        ty: Option<&'a SubtypeIndication>,
        span: Span,
    },
    /// A constant text.
    Text {
        parts: Vec<PrintPart>,
        span: Span,
    },
    /// A line of `std.textio`: what is written goes out at once, what is read has a number.
    Line {
        number: u32,
        span: Span,
    },
    /// A file, by its number counted from 1.
    File {
        number: u32,
        span: Span,
    },
}

impl Symbol<'_> {
    fn span(&self) -> Span {
        match self {
            Symbol::Signal { span, .. }
            | Symbol::Variable { span, .. }
            | Symbol::Constant { span, .. }
            | Symbol::Type { span, .. }
            | Symbol::Literal { span, .. }
            | Symbol::Routine { span, .. }
            | Symbol::Component { span, .. }
            | Symbol::Binding { span, .. }
            | Symbol::Alias { span, .. }
            | Symbol::Text { span, .. }
            | Symbol::Line { span, .. }
            | Symbol::File { span, .. } => *span,
        }
    }
}

/// An expression with its type.
#[derive(Clone, Debug)]
struct Value {
    id: ExprId,
    ty: Ty,
}

/// What an architecture sees and where it is elaborated to.
struct Context<'a> {
    scope: ScopeId,
    layers: Layers<Symbol<'a>>,
    /// Libraries named.
    libraries: BTreeSet<String>,
    /// Standard packages named in use clauses.
    packages: BTreeSet<&'static str>,
    /// Packages of the hand-in whose declarations are in sight.
    read: BTreeSet<&'a str>,
    /// Where `return` leaves its value.
    result: Option<Returned>,
}

/// The result of the function at work.
#[derive(Clone, Debug)]
struct Returned {
    ty: Ty,
    variable: Option<VariableId>,
}

impl<'a> Context<'a> {
    fn get(&self, name: &str) -> Option<&Symbol<'a>> {
        self.layers.get(name)
    }

    fn nearest(&self, name: &str) -> Option<String> {
        self.layers.nearest(name).map(str::to_owned)
    }

    fn sees(&self, package: &str) -> bool {
        self.packages.contains(package)
    }

    /// Arithmetic on plain std_logic_vector: `Some(true)` when it is signed.
    fn vector_arithmetic(&self) -> Option<bool> {
        if self.sees("std_logic_unsigned") || self.sees("numeric_std_unsigned") {
            Some(false)
        } else if self.sees("std_logic_signed") {
            Some(true)
        } else {
            None
        }
    }

    fn has_numbers(&self) -> bool {
        self.sees("numeric_std") || self.sees("std_logic_arith") || self.sees("numeric_bit")
    }
}

/// Standard packages whose names a use clause may hold.
const STANDARD_PACKAGES: [&str; 13] = [
    "std_logic_1164",
    "numeric_std",
    "numeric_bit",
    "numeric_std_unsigned",
    "std_logic_arith",
    "std_logic_unsigned",
    "std_logic_signed",
    "std_logic_misc",
    "std_logic_textio",
    "textio",
    "math_real",
    "env",
    "standard",
];

/// Types of operands that were found while an expression is read, and how deep it is being read.
#[derive(Default)]
struct Typed {
    known: BTreeMap<*const crate::tree::Expr, Option<types::Ty>>,
    depth: u32,
}

struct Lowering<'a, 'b> {
    entities: BTreeMap<&'a str, &'a Entity>,
    /// Those of each entity, in the order of the files.
    architectures: BTreeMap<&'a str, Vec<&'a Architecture>>,
    packages: BTreeMap<&'a str, &'a Package>,
    bodies: BTreeMap<&'a str, &'a Package>,
    design: Design,
    findings: Findings,
    budget: &'b mut Budget,
    active: Vec<&'a str>,
    /// Packages whose declarations are being read, because of a use clause each.
    used: Vec<&'a str>,
    /// A unit was found to contain itself.
    endless: bool,
    /// Subprograms by the place of their names and the types of their parameters.
    routines: Vec<(Span, Vec<Ty>, SubprogramId, Option<Ty>)>,
    /// Subprograms whose bodies need numbers as constants.
    shaped: BTreeSet<Span>,
    typed: Typed,
    /// Subprograms whose bodies are being read.
    unfinished: Vec<Span>,
    signal_types: BTreeMap<SignalId, Ty>,
    /// Array types whose indices are levels or truth values instead of numbers.
    by_level: BTreeSet<String>,
    /// Units of other languages.
    around: Option<&'b dyn design::Units>,
    /// Signals that are the inout ports of the entity that is elaborated next.
    bound: BTreeMap<String, (SignalId, Ty)>,
    /// Bounds of its ports that have none of their own.
    shapes: BTreeMap<String, (i64, i64)>,
    /// First values of variables that are no constants.
    late: Vec<Stmt>,
}

/// Elaborates the entity called `top` (in lower case) with all it instantiates.
pub fn elaborate(units: &[&DesignUnit], top: &str, budget: &mut Budget) -> Elaborated {
    elaborate_among(units, top, &[], None, budget)
}

/// The same with generics of the top by name, and units of other languages around.
pub fn elaborate_among(
    units: &[&DesignUnit],
    top: &str,
    generics: &[(String, LogicVector)],
    around: Option<&dyn design::Units>,
    budget: &mut Budget,
) -> Elaborated {
    let entity = units.iter().find_map(|u| match &u.0 {
        Unit::Entity(e) if e.name.name == top => Some(e),
        _ => None,
    });
    let Some(entity) = entity else { return Elaborated::nothing() };
    let scope = Scope {
        name: entity.name.name.clone(),
        unit: entity.name.name.clone(),
        parent: None,
        kind: ScopeKind::Instance,
        parameters: Vec::new(),
        ports: Vec::new(),
        span: entity.header,
    };
    let mut design = Design::new(scope);
    let scope = design.top;
    let diagnostics = elaborate_into(&mut design, scope, units, top, generics, around, budget);
    Elaborated::new(design, diagnostics)
}

/// Elaborates the entity called `top` into a scope of a design that another language began. Generics are given by name,
/// or by position where the name is empty.
pub fn elaborate_into(
    design: &mut Design,
    scope: ScopeId,
    units: &[&DesignUnit],
    top: &str,
    generics: &[(String, LogicVector)],
    around: Option<&dyn design::Units>,
    budget: &mut Budget,
) -> Vec<Diagnostic> {
    let mut diagnostics = Vec::new();
    let mut entities: BTreeMap<&str, &Entity> = BTreeMap::new();
    let mut architectures: BTreeMap<&str, Vec<&Architecture>> = BTreeMap::new();
    let mut packages = BTreeMap::new();
    let mut bodies = BTreeMap::new();
    for unit in units {
        match &unit.0 {
            Unit::Entity(e) => match entities.get(e.name.name.as_str()) {
                Some(first) => diagnostics.push(say::duplicate_unit(&e.name.name, first.name.span, e.name.span)),
                None => drop(entities.insert(&e.name.name, e)),
            },
            Unit::Architecture(a) => architectures.entry(a.entity.name.as_str()).or_default().push(a),
            Unit::Package(p) => drop(packages.insert(p.name.name.as_str(), p)),
            Unit::PackageBody(p) => drop(bodies.insert(p.name.name.as_str(), p)),
        }
    }
    let Some(entity) = entities.get(top).copied() else { return diagnostics };
    for (name, architecture) in architectures.iter().filter_map(|(name, list)| Some((name, list.last()?))) {
        if !entities.contains_key(name) {
            let near = base::nearest(name, entities.keys().copied());
            diagnostics.push(say::unknown_entity(name, near, architecture.entity.span));
        }
    }
    let mut lowering = Lowering {
        entities,
        architectures,
        packages,
        bodies,
        design: std::mem::replace(design, Design::new(design.scopes[scope].clone())),
        findings: Findings::after(diagnostics),
        budget,
        active: Vec::new(),
        used: Vec::new(),
        endless: false,
        routines: Vec::new(),
        shaped: BTreeSet::new(),
        typed: Typed::default(),
        unfinished: Vec::new(),
        signal_types: BTreeMap::new(),
        by_level: BTreeSet::new(),
        around,
        bound: BTreeMap::new(),
        shapes: BTreeMap::new(),
        late: Vec::new(),
    };
    let mut given = BTreeMap::new();
    for (i, (name, value)) in generics.iter().enumerate() {
        let found = entity
            .generics
            .iter()
            .enumerate()
            .find(|(at, g)| if name.is_empty() { *at == i } else { g.name.name.eq_ignore_ascii_case(name) });
        if let Some((_, generic)) = found {
            given.insert(generic.name.name.clone(), (value.clone(), Ty::INTEGER));
        }
    }
    if !lowering.findings.iter().any(Diagnostic::stops)
        && let Err(exhausted) = lowering.entity(entity, scope, given, None)
    {
        lowering.report(say::budget(&exhausted.0.to_string(), entity.header));
    }
    *design = lowering.design;
    lowering.findings.into_list()
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
    fn integer(&mut self, n: i64, span: Span) -> ExprId {
        self.constant_expr(integer_vector(n), span)
    }

    /// Elaborates an entity with its architecture into a scope; `generics` are those given from outside. Of several
    /// architectures the last one counts where none is named (IEEE 1076-2008 7.3.3).
    fn entity(
        &mut self,
        entity: &'a Entity,
        scope: ScopeId,
        generics: BTreeMap<String, (LogicVector, Ty)>,
        named: Option<&'a Ident>,
    ) -> Result<(), Exhausted> {
        self.budget.enter()?;
        self.budget.spend(10)?;
        self.active.push(&entity.name.name);
        let mut context = Context {
            scope,
            layers: Layers::default(),
            libraries: BTreeSet::new(),
            packages: BTreeSet::new(),
            read: BTreeSet::new(),
            result: None,
        };
        let list = self.architectures.get(entity.name.name.as_str()).cloned().unwrap_or_default();
        let architecture = match named {
            Some(name) => list.iter().rev().find(|a| a.name.name == name.name).copied(),
            None => list.last().copied(),
        };
        self.use_context(&mut context, &entity.context)?;
        self.generics(&mut context, entity, generics);
        self.ports(&mut context, entity);
        match architecture {
            None => match named.filter(|_| !list.is_empty()) {
                Some(name) => {
                    let known: Vec<&str> = list.iter().map(|a| a.name.name.as_str()).collect();
                    self.report(say::unknown_architecture(&entity.name.name, &name.name, &known, name.span));
                }
                None => self.report(say::no_architecture(&entity.name.name, entity.name.span)),
            },
            Some(architecture) => {
                self.use_context(&mut context, &architecture.context)?;
                context.layers.enter();
                self.declarations(&mut context, &architecture.declarations)?;
                self.concurrents(&mut context, &architecture.statements)?;
            }
        }
        self.active.pop();
        self.budget.leave();
        Ok(())
    }
}

/// The name under which the binding of an instance is kept; `*` for all. No identifier looks like it.
fn binding_key(component: &str, label: &str) -> String {
    format!("for {component} {label}")
}

fn integer_vector(n: i64) -> LogicVector {
    LogicVector::from_u64(64, n as u64).resized(types::INTEGER_BITS, true)
}

fn direction(mode: Mode) -> Direction {
    match mode {
        Mode::In => Direction::In,
        Mode::Out | Mode::Buffer => Direction::Out,
        Mode::InOut => Direction::InOut,
    }
}

/// A piece of storage with its type.
struct Place {
    target: Target,
    ty: Ty,
    /// A signal rather than a variable.
    signal: bool,
}
