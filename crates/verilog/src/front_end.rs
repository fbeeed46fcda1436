//! Verilog behind the trait of all languages.

use crate::lower::{elaborate_among, elaborate_into};
use crate::slips::WRITING;
use crate::tree::Module;
use base::{Budget, Diagnostic, FileId, SourceFile, Span};
use design::{Design, ScopeId, Units, Use};
use front::{Change, Elaborated, FrontEnd, Trees, Unit};
use logic::{LogicVector, Notation};

/// Verilog and the SystemVerilog words of a first course.
#[derive(Clone, Copy, Debug)]
pub struct Verilog;

impl FrontEnd for Verilog {
    fn name(&self) -> &'static str {
        "Verilog"
    }

    fn key(&self) -> &'static str {
        "verilog"
    }

    fn endings(&self) -> &'static [&'static str] {
        &["v", "sv", "vh", "svh", "verilog"]
    }

    fn ignores_case(&self) -> bool {
        false
    }

    fn is_reserved(&self, word: &str) -> bool {
        crate::is_reserved(word)
    }

    fn notation(&self) -> Notation {
        Notation::Operators
    }

    fn parse(&self, files: &[(FileId, &SourceFile)], budget: &mut Budget) -> (Box<dyn Trees>, Vec<Diagnostic>) {
        let parsed = crate::parse_all(files, budget);
        (Box::new(Modules(parsed.modules)), parsed.diagnostics)
    }

    fn changes(&self, text: &str, wanted: &[u64]) -> Vec<Change> {
        front::changes(text, &WRITING, wanted)
    }
}

struct Modules(Vec<Module>);

impl Modules {
    fn at(&self, place: Span) -> Option<&Module> {
        self.0.iter().find(|m| m.name.span == place)
    }
}

/// Elaboration and synthesis use no stack along chains, so they may go deeper than a parser.
const DEPTH: u32 = 4_000;

impl Trees for Modules {
    fn units(&self) -> Vec<Unit> {
        let unit = |m: &Module| Unit {
            name: m.name.name.clone(),
            span: m.name.span,
            ports: m.ports().into_iter().map(|p| p.name.name).collect(),
            instantiates: m.instantiates().iter().map(|i| i.name.clone()).collect(),
        };
        self.0.iter().map(unit).collect()
    }

    fn parameters(&self, unit: Span) -> Vec<&str> {
        self.at(unit).map(Module::parameter_names).unwrap_or_default()
    }

    fn uses(&self, unit: Span) -> Vec<Use> {
        self.at(unit).map(Module::uses).unwrap_or_default()
    }

    fn elaborate(
        &self,
        unit: Span,
        parameters: &[(String, LogicVector)],
        others: &dyn Units,
        budget: &mut Budget,
    ) -> Elaborated {
        let Some(module) = self.at(unit) else { return Elaborated::nothing() };
        let modules: Vec<&Module> = self.0.iter().collect();
        let parameters = by_name(&module.parameter_names(), parameters);
        let mut deep = budget.clone().with_depth(DEPTH);
        elaborate_among(&modules, module, &parameters, Some(others), &mut deep)
    }

    fn elaborate_into(
        &self,
        (design, scope): (&mut Design, ScopeId),
        unit: Span,
        parameters: &[(String, LogicVector)],
        others: &dyn Units,
        budget: &mut Budget,
    ) -> Vec<Diagnostic> {
        let Some(module) = self.at(unit) else { return Vec::new() };
        let modules: Vec<&Module> = self.0.iter().collect();
        let parameters = by_name(&module.parameter_names(), parameters);
        elaborate_into(design, scope, &modules, module, &parameters, Some(others), budget)
    }
}

/// Parameters given by position or in other capitals, by the names of their declaration.
fn by_name(names: &[&str], given: &[(String, LogicVector)]) -> Vec<(String, LogicVector)> {
    let name = |(i, (name, value)): (usize, &(String, LogicVector))| {
        let found = match name.is_empty() {
            true => names.get(i),
            false => names.iter().find(|n| n.eq_ignore_ascii_case(name)),
        };
        found.map(|n| ((*n).to_owned(), value.clone()))
    };
    given.iter().enumerate().filter_map(name).collect()
}
