//! The one place that picks a language by file ending.

use base::{Budget, Diagnostic, SourceMap};
use design::Design;

/// The units of all files.
pub(crate) struct Units {
    pub(crate) modules: Vec<verilog::Module>,
    pub(crate) diagnostics: Vec<Diagnostic>,
}

/// A unit that may be the top.
pub(crate) type Unit = verilog::Module;

/// The language of a file by its ending; `None` for one that is not read.
pub(crate) fn language(name: &str) -> Option<&'static str> {
    let ending = name.rsplit_once('.').map_or("", |(_, e)| e).to_ascii_lowercase();
    match ending.as_str() {
        "v" | "sv" | "vh" | "svh" | "verilog" => Some("verilog"),
        _ => None,
    }
}

pub(crate) fn parse(sources: &SourceMap, budget: &mut Budget) -> Units {
    let mut units = Units { modules: Vec::new(), diagnostics: Vec::new() };
    for (id, file) in sources.files() {
        if language(&file.name) == Some("verilog") {
            let parsed = verilog::parse(id, file, budget);
            units.modules.extend(parsed.modules);
            units.diagnostics.extend(parsed.diagnostics);
        }
    }
    units
}

/// What elaboration gave, whatever the language.
pub(crate) struct Elaborated {
    pub(crate) whole: Option<Design>,
    pub(crate) diagnostics: Vec<Diagnostic>,
}

pub(crate) fn elaborate(units: &Units, top: &Unit, budget: &mut Budget) -> Elaborated {
    let modules: Vec<&verilog::Module> = units.modules.iter().collect();
    // Elaboration and synthesis use no stack along chains, so they may go deeper than a parser.
    let mut deep = budget.clone().with_depth(4_000);
    let verilog::Elaborated { whole, diagnostics } = verilog::elaborate(&modules, top, &mut deep);
    Elaborated { whole, diagnostics }
}
