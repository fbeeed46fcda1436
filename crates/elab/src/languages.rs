//! The one place that picks a language by file ending.

use crate::parameter::Parameter;
use crate::port::ExercisePort;
use base::{Budget, Diagnostic, FileId, SourceFile, SourceMap, Span};
use design::{Design, ScopeId, Use};
use logic::LogicVector;
use std::collections::BTreeMap;

/// The languages that a design may be written in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Language {
    /// Verilog and SystemVerilog.
    Verilog,
    /// VHDL.
    Vhdl,
}

impl Language {
    /// All of them.
    pub const ALL: [Language; 2] = [Language::Verilog, Language::Vhdl];

    /// Its name for people.
    pub fn name(self) -> &'static str {
        match self {
            Language::Verilog => "Verilog",
            Language::Vhdl => "VHDL",
        }
    }

    /// True for a word that names nothing else in it; VHDL doesn't tell capitals apart.
    pub fn is_reserved(self, word: &str) -> bool {
        match self {
            Language::Verilog => verilog::is_reserved(word),
            Language::Vhdl => vhdl::is_reserved(word),
        }
    }

    /// Its word in exercise files.
    pub fn key(self) -> &'static str {
        match self {
            Language::Verilog => "verilog",
            Language::Vhdl => "vhdl",
        }
    }
}

/// The units of all files.
#[derive(Default)]
pub struct Units {
    modules: Vec<verilog::Module>,
    vhdl: Vec<vhdl::DesignUnit>,
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
        match found.language {
            Language::Verilog => {
                let modules: Vec<&verilog::Module> = self.units.modules.iter().collect();
                let module = modules.iter().copied().find(|m| m.name.span == found.span)?;
                let parameters = by_name(&module.parameter_names(), parameters);
                let around = verilog::Surroundings { data: Some(&self.units.data), units: Some(&across) };
                Some(verilog::elaborate_into(design, scope, &modules, module, &parameters, &around, budget))
            }
            Language::Vhdl => {
                let list: Vec<&vhdl::DesignUnit> = self.units.vhdl.iter().collect();
                Some(vhdl::elaborate_into(design, scope, &list, &found.name, parameters, Some(&across), budget))
            }
        }
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
    /// Is this the unit's name? VHDL doesn't tell capitals apart.
    pub fn is_called(&self, name: &str) -> bool {
        match self.language {
            Language::Verilog => self.name == name,
            Language::Vhdl => self.name.eq_ignore_ascii_case(name),
        }
    }
}

impl Units {
    /// Modules and entities in the order of the files.
    pub fn list(&self) -> Vec<Unit> {
        let modules = self.modules.iter().map(|m| Unit {
            language: Language::Verilog,
            name: m.name.name.clone(),
            span: m.name.span,
            ports: m.ports().into_iter().map(|p| p.name.name).collect(),
            instantiates: m.instantiates().iter().map(|i| i.name.clone()).collect(),
        });
        let entities = self.vhdl.iter().filter_map(|unit| {
            let name = unit.entity()?;
            let inside = self.vhdl.iter().filter_map(vhdl::DesignUnit::instantiates);
            let inside = inside.filter(|(entity, _)| *entity == name.name).flat_map(|(_, list)| list);
            Some(Unit {
                language: Language::Vhdl,
                name: name.name.clone(),
                span: name.span,
                ports: unit.port_names().into_iter().map(str::to_owned).collect(),
                instantiates: inside.map(str::to_owned).collect(),
            })
        });
        modules.chain(entities).collect()
    }

    /// Names of a unit's parameters or generics.
    pub fn parameters(&self, top: &Unit) -> Vec<&str> {
        let modules = self.modules.iter().filter(|m| m.name.span == top.span);
        let entities = self.vhdl.iter().filter(|u| u.entity().is_some_and(|e| e.span == top.span));
        modules.flat_map(verilog::Module::parameter_names).chain(entities.flat_map(|u| u.generic_names())).collect()
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
        let mut list: Vec<Use> = Vec::new();
        for unit in Self::reached(&units, top) {
            let modules = self.modules.iter().filter(|m| m.name.span == unit.span);
            list.extend(modules.flat_map(verilog::Module::uses));
            if unit.language == Language::Vhdl {
                let bodies = self.vhdl.iter().filter_map(vhdl::DesignUnit::uses);
                list.extend(bodies.filter(|(e, _)| unit.is_called(e)).flat_map(|(_, uses)| uses));
            }
        }
        list.sort_by_key(|u| (u.span.file, u.span.start));
        list
    }
}

/// The language of a file by its ending; `None` for one that is not read.
pub fn language(name: &str) -> Option<Language> {
    let ending = name.rsplit_once('.').map_or("", |(_, e)| e).to_ascii_lowercase();
    match ending.as_str() {
        "v" | "sv" | "vh" | "svh" | "verilog" => Some(Language::Verilog),
        "vhd" | "vhdl" => Some(Language::Vhdl),
        _ => None,
    }
}

/// Reads all files; `data` are texts that memories may be filled from, by their bare names.
pub fn parse(sources: &SourceMap, data: BTreeMap<String, String>, budget: &mut Budget) -> Units {
    let mut units = Units { data, ..Units::default() };
    let of_verilog: Vec<(FileId, &SourceFile)> =
        sources.files().filter(|(_, f)| language(&f.name) == Some(Language::Verilog)).collect();
    if !of_verilog.is_empty() {
        let parsed = verilog::parse_all(&of_verilog, budget);
        units.modules.extend(parsed.modules);
        units.diagnostics.extend(parsed.diagnostics);
    }
    for (id, file) in sources.files() {
        match language(&file.name) {
            Some(Language::Verilog) => {}
            Some(Language::Vhdl) => {
                let parsed = vhdl::parse(id, file, budget);
                units.vhdl.extend(parsed.units);
                units.diagnostics.extend(parsed.diagnostics);
            }
            None => {}
        }
    }
    units
}

/// What elaboration gave, whatever the language.
pub struct Elaborated {
    /// The design; `None` where something stops it.
    pub whole: Option<Design>,
    /// What is wrong with it.
    pub diagnostics: Vec<Diagnostic>,
}

/// What a unit is elaborated for: the exercise's ports, and a parameter of the top with its value.
#[derive(Clone, Copy, Default)]
pub struct Fitting<'a> {
    /// Ports whose spelling a VHDL entity takes over.
    pub ports: &'a [ExercisePort],
    /// The parameter with its value.
    pub parameter: Option<&'a Parameter>,
}

/// Elaborates a unit. Ports of a VHDL entity take the spelling of the exercise's, since VHDL doesn't tell capitals apart.
pub fn elaborate(units: &Units, top: &Unit, fitting: Fitting<'_>, budget: &mut Budget) -> Elaborated {
    let given: Vec<(String, LogicVector)> = fitting.parameter.map(Parameter::given).into_iter().collect();
    // Elaboration and synthesis use no stack along chains, so they may go deeper than a parser.
    let mut deep = budget.clone().with_depth(4_000);
    match top.language {
        Language::Verilog => {
            let modules: Vec<&verilog::Module> = units.modules.iter().collect();
            let Some(module) = modules.iter().copied().find(|m| m.name.span == top.span) else {
                return Elaborated { whole: None, diagnostics: Vec::new() };
            };
            let across = Across { units, asking: Language::Verilog, crossings: 0 };
            let around = verilog::Surroundings { data: Some(&units.data), units: Some(&across) };
            let verilog::Elaborated { whole, diagnostics } = verilog::elaborate_among(
                &modules,
                module,
                &by_name(&module.parameter_names(), &given),
                &around,
                &mut deep,
            );
            Elaborated { whole, diagnostics }
        }
        Language::Vhdl => {
            let list: Vec<&vhdl::DesignUnit> = units.vhdl.iter().collect();
            // VHDL recurses into expressions and instances alike, so it keeps the parser's depth.
            let mut shallow = budget.clone().with_depth(400);
            let across = Across { units, asking: Language::Vhdl, crossings: 0 };
            let vhdl::Elaborated { mut whole, diagnostics } =
                vhdl::elaborate_among(&list, &top.name, &given, Some(&across), &mut shallow);
            if let Some(design) = &mut whole {
                adopt_spelling(design, fitting.ports);
            }
            Elaborated { whole, diagnostics }
        }
    }
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
