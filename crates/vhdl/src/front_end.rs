//! VHDL behind the trait of all languages.

use crate::DesignUnit;
use crate::lower::{elaborate_among, elaborate_into};
use crate::slips::WRITING;
use crate::tree::Ident;
use base::{Budget, Diagnostic, FileId, SourceFile, Span};
use design::{Design, ScopeId, Units, Use};
use front::{Change, Elaborated, FrontEnd, Trees, Unit};
use logic::{LogicVector, Notation};

/// VHDL of 1993 and the useful part of 2008.
#[derive(Clone, Copy, Debug)]
pub struct Vhdl;

impl FrontEnd for Vhdl {
    fn name(&self) -> &'static str {
        "VHDL"
    }

    fn key(&self) -> &'static str {
        "vhdl"
    }

    fn endings(&self) -> &'static [&'static str] {
        &["vhd", "vhdl"]
    }

    fn ignores_case(&self) -> bool {
        true
    }

    fn is_reserved(&self, word: &str) -> bool {
        crate::is_reserved(word)
    }

    fn notation(&self) -> Notation {
        Notation::Words
    }

    fn parse(&self, files: &[(FileId, &SourceFile)], budget: &mut Budget) -> (Box<dyn Trees>, Vec<Diagnostic>) {
        let (mut units, mut diagnostics) = (Vec::new(), Vec::new());
        for (id, file) in files {
            let parsed = crate::parse(*id, file, budget);
            units.extend(parsed.units);
            diagnostics.extend(parsed.diagnostics);
        }
        (Box::new(DesignUnits(units)), diagnostics)
    }

    fn changes(&self, text: &str, wanted: &[u64]) -> Vec<Change> {
        front::changes(text, &WRITING, wanted)
    }
}

struct DesignUnits(Vec<DesignUnit>);

impl DesignUnits {
    fn entity(&self, place: Span) -> Option<(&DesignUnit, &Ident)> {
        self.0.iter().find_map(|u| u.entity().filter(|name| name.span == place).map(|name| (u, name)))
    }
}

/// It recurses into expressions and instances alike, so it keeps the parser's depth.
const DEPTH: u32 = 400;

impl Trees for DesignUnits {
    fn units(&self) -> Vec<Unit> {
        let unit = |unit: &DesignUnit| {
            let name = unit.entity()?;
            let inside = self.0.iter().filter_map(DesignUnit::instantiates);
            let inside = inside.filter(|(entity, _)| *entity == name.name).flat_map(|(_, list)| list);
            Some(Unit {
                name: name.name.clone(),
                span: name.span,
                ports: unit.port_names().into_iter().map(str::to_owned).collect(),
                instantiates: inside.map(str::to_owned).collect(),
            })
        };
        self.0.iter().filter_map(unit).collect()
    }

    fn parameters(&self, unit: Span) -> Vec<&str> {
        self.entity(unit).map(|(entity, _)| entity.generic_names()).unwrap_or_default()
    }

    fn uses(&self, unit: Span) -> Vec<Use> {
        let Some((_, name)) = self.entity(unit) else { return Vec::new() };
        let bodies = self.0.iter().filter_map(DesignUnit::uses);
        bodies.filter(|(entity, _)| *entity == name.name).flat_map(|(_, uses)| uses).collect()
    }

    fn elaborate(
        &self,
        unit: Span,
        parameters: &[(String, LogicVector)],
        others: &dyn Units,
        budget: &mut Budget,
    ) -> Elaborated {
        let Some((_, name)) = self.entity(unit) else { return Elaborated::nothing() };
        let list: Vec<&DesignUnit> = self.0.iter().collect();
        let mut shallow = budget.clone().with_depth(DEPTH);
        elaborate_among(&list, &name.name, parameters, Some(others), &mut shallow)
    }

    fn elaborate_into(
        &self,
        (design, scope): (&mut Design, ScopeId),
        unit: Span,
        parameters: &[(String, LogicVector)],
        others: &dyn Units,
        budget: &mut Budget,
    ) -> Vec<Diagnostic> {
        let Some((_, name)) = self.entity(unit) else { return Vec::new() };
        let list: Vec<&DesignUnit> = self.0.iter().collect();
        elaborate_into(design, scope, &list, &name.name, parameters, Some(others), budget)
    }
}
