//! VHDL (IEEE 1076-1993 and the useful part of 2008): text to tokens to trees to [`design::Design`].
//!
//! After a fault that can't be passed over reading goes on with the next unit of the file; elaboration makes types, conversions and sensitivity explicit, so that
//! nothing below knows it was VHDL.

mod diagnostics;
mod front_end;
mod grammar;
mod lexer;
mod lower;
mod slips;
mod tree;
mod uses;

pub use front_end::Vhdl;
pub use lower::{elaborate, elaborate_among, elaborate_into};
pub use tree::Ident;

use base::{Budget, Diagnostic, FileId, SourceFile};
use tree::{Concurrent, Unit};

/// The units of a file and what is wrong in it. After a finding that stops, units may be missing.
#[derive(Clone, Debug)]
pub struct Parsed {
    /// In source order.
    pub units: Vec<DesignUnit>,
    /// In source order.
    pub diagnostics: Vec<Diagnostic>,
}

/// An entity, architecture, package or package body.
#[derive(Clone, Debug, PartialEq)]
pub struct DesignUnit(pub(crate) Unit);

impl DesignUnit {
    /// The name, when it is an entity.
    pub fn entity(&self) -> Option<&Ident> {
        match &self.0 {
            Unit::Entity(e) => Some(&e.name),
            _ => None,
        }
    }

    /// Names of the ports in lower case, when it is an entity.
    pub fn port_names(&self) -> Vec<&str> {
        match &self.0 {
            Unit::Entity(e) => e.ports.iter().map(|p| p.name.name.as_str()).collect(),
            _ => Vec::new(),
        }
    }

    /// Names of the generics in lower case, when it is an entity.
    pub fn generic_names(&self) -> Vec<&str> {
        match &self.0 {
            Unit::Entity(e) => e.generics.iter().map(|g| g.name.name.as_str()).collect(),
            _ => Vec::new(),
        }
    }

    /// The entity that an architecture belongs to, with the names of what it instantiates.
    pub fn instantiates(&self) -> Option<(&str, Vec<&str>)> {
        let Unit::Architecture(a) = &self.0 else { return None };
        let mut list = Vec::new();
        collect(&a.statements, &mut list);
        list.extend(a.declarations.iter().filter_map(|d| match d {
            tree::Declaration::Binding { entity, .. } => Some(entity.name.as_str()),
            _ => None,
        }));
        Some((&a.entity.name, list))
    }
}

/// True for a reserved word, in whatever case.
pub fn is_reserved(word: &str) -> bool {
    let word = word.to_ascii_lowercase();
    lexer::KEYWORDS.contains(&word.as_str())
}

fn collect<'a>(statements: &'a [Concurrent], list: &mut Vec<&'a str>) {
    for statement in statements {
        match statement {
            Concurrent::Instance { unit, .. } => list.push(&unit.name),
            Concurrent::For { body, .. } | Concurrent::Block { body, .. } => collect(body, list),
            Concurrent::If { arms, .. } => arms.iter().for_each(|(_, _, body)| collect(body, list)),
            _ => {}
        }
    }
}

/// Reads one file. Never fails: what can't be read becomes findings.
pub fn parse(id: FileId, file: &SourceFile, budget: &mut Budget) -> Parsed {
    let (tokens, mut diagnostics) = lexer::tokenize(id, &file.text);
    let (units, more) = grammar::parse_file(&file.text, &tokens, budget);
    if diagnostics.is_empty() {
        diagnostics = more;
    } else {
        // A token that could not be read makes the grammar stumble behind it: the first fault is the one to correct.
        diagnostics.truncate(1);
    }
    Parsed { units: units.into_iter().map(DesignUnit).collect(), diagnostics }
}
