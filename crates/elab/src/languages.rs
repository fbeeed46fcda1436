//! The one place that picks a language by file ending.

use crate::parameter::Parameter;
use crate::port::ExercisePort;
use base::{Budget, Diagnostic, FileId, SourceFile, SourceMap, Span};
use design::{Design, ScopeId, Use};
pub use front::Elaborated;
use front::{FrontEnd, Trees};
use logic::LogicVector;
use std::collections::BTreeMap;

/// The languages that a design may be written in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Language {
    /// Verilog and SystemVerilog.
    Verilog,
    /// VHDL.
    Vhdl,
}

impl Language {
    /// All of them.
    pub const ALL: [Language; 2] = [Language::Verilog, Language::Vhdl];

    /// What it offers. The one place that has to be extended for a language.
    pub fn front_end(self) -> &'static dyn FrontEnd {
        match self {
            Language::Verilog => &verilog::Verilog,
            Language::Vhdl => &vhdl::Vhdl,
        }
    }

    /// Its name for people.
    pub fn name(self) -> &'static str {
        self.front_end().name()
    }

    /// True for a word that names nothing else in it.
    pub fn is_reserved(self, word: &str) -> bool {
        self.front_end().is_reserved(word)
    }

    /// Are two names the same one?
    pub fn is_same(self, one: &str, other: &str) -> bool {
        if self.front_end().ignores_case() { one.eq_ignore_ascii_case(other) } else { one == other }
    }

    /// Its word in exercise files.
    pub fn key(self) -> &'static str {
        self.front_end().key()
    }
}

/// The units of all files.
#[derive(Default)]
pub struct Units {
    /// The files of each language that has some.
    trees: Vec<(Language, Box<dyn Trees>)>,
    /// Texts of data files by their bare names.
    data: BTreeMap<String, String>,
    /// What is wrong with the files, as far as parsing tells.
    pub diagnostics: Vec<Diagnostic>,
}

/// Units within units of other languages that are followed.
const MAX_CROSSINGS: u32 = 32;

/// What a language sees of the others.
struct Across<'u> {
    units: &'u Units,
    asking: Language,
    crossings: u32,
}

impl design::Units for Across<'_> {
    fn names(&self) -> Vec<String> {
        let list = self.units.list().into_iter().filter(|u| u.language != self.asking);
        list.map(|u| u.name).collect()
    }

    fn text(&self, name: &str) -> Option<&str> {
        self.units.data.get(name).map(String::as_str)
    }

    fn texts(&self) -> Vec<&str> {
        self.units.data.keys().map(String::as_str).collect()
    }

    fn instantiate(
        &self,
        design: &mut Design,
        scope: ScopeId,
        unit: &str,
        parameters: &[(String, LogicVector)],
        place: Span,
        budget: &mut Budget,
    ) -> Option<Vec<Diagnostic>> {
        if self.crossings >= MAX_CROSSINGS {
            return Some(vec![crate::diagnostics::crossings(unit, place)]);
        }
        let found =
            self.units.list().into_iter().find(|u| u.language != self.asking && u.name.eq_ignore_ascii_case(unit))?;
        let across = Across { units: self.units, asking: found.language, crossings: self.crossings + 1 };
        let trees = self.units.of(found.language)?;
        Some(trees.elaborate_into((design, scope), found.span, parameters, &across, budget))
    }
}

/// True for a file that a design may read its memories from, by its ending.
pub fn is_data(name: &str) -> bool {
    let ending = name.rsplit_once('.').map_or("", |(_, e)| e).to_ascii_lowercase();
    matches!(ending.as_str(), "mem" | "hex" | "dat" | "data" | "txt" | "bin" | "init" | "rom" | "list")
}

/// The name of a file without its folders.
pub fn bare_name(path: &str) -> String {
    path.rsplit(['/', '\\']).next().unwrap_or(path).to_owned()
}

/// A module or entity, as far as choosing the top needs to know it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Unit {
    /// The language it is written in.
    pub language: Language,
    /// Its name; VHDL's in lower case.
    pub name: String,
    /// Where the name stands.
    pub span: Span,
    /// Names of its ports.
    pub ports: Vec<String>,
    /// Names of the units that it instantiates.
    pub instantiates: Vec<String>,
}

impl Unit {
    /// Is this the unit's name, by the rules of its language for capitals?
    pub fn is_called(&self, name: &str) -> bool {
        self.language.is_same(&self.name, name)
    }
}

impl Units {
    fn of(&self, language: Language) -> Option<&dyn Trees> {
        self.trees.iter().find(|(l, _)| *l == language).map(|(_, trees)| trees.as_ref())
    }

    /// Modules and entities, language by language in the order of the files.
    pub fn list(&self) -> Vec<Unit> {
        let unit = |language: Language, unit: front::Unit| {
            let front::Unit { name, span, ports, instantiates } = unit;
            Unit { language, name, span, ports, instantiates }
        };
        self.trees.iter().flat_map(|(l, trees)| trees.units().into_iter().map(|u| unit(*l, u))).collect()
    }

    /// Names of a unit's parameters or generics.
    pub fn parameters(&self, top: &Unit) -> Vec<&str> {
        self.of(top.language).map(|trees| trees.parameters(top.span)).unwrap_or_default()
    }

    /// Does a place lie in a unit that the top doesn't need, such as a testbench?
    pub fn is_outside(&self, top: &Unit, place: Span) -> bool {
        let units = self.list();
        let before = units.iter().filter(|u| u.span.file == place.file && u.span.start <= place.start);
        let Some(unit) = before.max_by_key(|u| u.span.start) else { return false };
        !Self::reached(&units, top).iter().any(|r| r.span == unit.span)
    }

    /// The top and the units below it.
    fn reached<'u>(units: &'u [Unit], top: &Unit) -> Vec<&'u Unit> {
        let mut reached: Vec<&Unit> = units.iter().filter(|u| u.span == top.span).collect();
        let mut at = 0;
        while let Some(unit) = reached.get(at).copied() {
            at += 1;
            for name in &unit.instantiates {
                if let Some(below) = units.iter().find(|u| u.is_called(name))
                    && !reached.iter().any(|r| r.span == below.span)
                {
                    reached.push(below);
                }
            }
        }
        reached
    }

    /// What a unit and those below it are written with, in order of their places.
    pub fn uses(&self, top: &Unit) -> Vec<Use> {
        let units = self.list();
        let of = |unit: &Unit| self.of(unit.language).map(|trees| trees.uses(unit.span)).unwrap_or_default();
        let mut list: Vec<Use> = Self::reached(&units, top).into_iter().flat_map(of).collect();
        list.sort_by_key(|u| (u.span.file, u.span.start));
        list
    }
}

/// The language of a file by its ending; `None` for one that is not read.
pub fn language(name: &str) -> Option<Language> {
    let ending = name.rsplit_once('.').map_or("", |(_, e)| e).to_ascii_lowercase();
    Language::ALL.into_iter().find(|l| l.front_end().endings().contains(&ending.as_str()))
}

/// Reads all files; `data` are texts that memories may be filled from, by their bare names.
pub fn parse(sources: &SourceMap, data: BTreeMap<String, String>, budget: &mut Budget) -> Units {
    let mut units = Units { data, ..Units::default() };
    for own in Language::ALL {
        let files: Vec<(FileId, &SourceFile)> =
            sources.files().filter(|(_, f)| language(&f.name) == Some(own)).collect();
        if !files.is_empty() {
            let (trees, diagnostics) = own.front_end().parse(&files, budget);
            units.trees.push((own, trees));
            units.diagnostics.extend(diagnostics);
        }
    }
    units
}

/// What a unit is elaborated for: the exercise's ports, and a parameter of the top with its value.
#[derive(Clone, Copy, Default)]
pub struct Fitting<'a> {
    /// Ports whose spelling is taken over where capitals make no other name.
    pub ports: &'a [ExercisePort],
    /// The parameter with its value.
    pub parameter: Option<&'a Parameter>,
}

/// Elaborates a unit. Where capitals make no other name, its ports take the spelling of the exercise's.
pub fn elaborate(units: &Units, top: &Unit, fitting: Fitting<'_>, budget: &mut Budget) -> Elaborated {
    let given: Vec<(String, LogicVector)> = fitting.parameter.map(Parameter::given).into_iter().collect();
    let Some(trees) = units.of(top.language) else { return Elaborated::nothing() };
    let across = Across { units, asking: top.language, crossings: 0 };
    let mut elaborated = trees.elaborate(top.span, &given, &across, budget);
    if let Some(design) = &mut elaborated.whole
        && top.language.front_end().ignores_case()
    {
        adopt_spelling(design, fitting.ports);
    }
    elaborated
}

fn adopt_spelling(design: &mut Design, ports: &[ExercisePort]) {
    let signals: Vec<_> = design.scopes[design.top].ports.iter().map(|p| p.signal).collect();
    for signal in signals {
        let name = &design.signals[signal].name;
        if let Some(port) = ports.iter().find(|p| p.name.eq_ignore_ascii_case(name)) {
            design.signals[signal].name = port.name.clone();
        }
    }
}
