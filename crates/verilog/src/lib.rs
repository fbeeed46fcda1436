//! Verilog (IEEE 1364-2005 and the SystemVerilog words of a first course): text to tokens to trees to [`design::Design`].
//!
//! The parser always yields a tree and says each fault once; elaboration makes every implicit rule of the language
//! explicit, so that nothing below knows it was Verilog.

mod diagnostics;
mod grammar;
mod lexer;
mod lower;
mod preprocess;
mod tree;

pub use lower::{Elaborated, elaborate};
pub use tree::{Ident, Module, PortDirection, PortSummary};

use base::{Budget, Diagnostic, FileId, SourceFile};

/// The modules of a file and what is wrong in it. After a finding that stops, the modules may be incomplete.
#[derive(Clone, Debug)]
pub struct Parsed {
    /// In source order.
    pub modules: Vec<Module>,
    /// In source order.
    pub diagnostics: Vec<Diagnostic>,
}

/// Reads one file. Never fails: what can't be read becomes findings.
pub fn parse(id: FileId, file: &SourceFile, budget: &mut Budget) -> Parsed {
    let (tokens, mut diagnostics) = lexer::tokenize(id, &file.text);
    let (modules, more) = grammar::parse_file(id, &tokens, budget);
    // A token that could not be read makes the grammar stumble behind it: that is no fault of its own.
    if diagnostics.iter().any(|d| d.code == "unclosed-comment") {
        // It swallowed the rest of the file.
        return Parsed { modules: Vec::new(), diagnostics };
    }
    let first = diagnostics.iter().filter(|d| d.stops()).filter_map(|d| d.span).min();
    let holds = |d: &Diagnostic| first.is_none() || d.span < first && d.code != "no-module";
    diagnostics.extend(more.into_iter().filter(holds));
    if let Some(first) = first {
        let line = file.place(first.start).line;
        diagnostics.retain(|d| d.span.is_none_or(|s| s <= first || file.place(s.start).line != line));
        diagnostics
            .retain(|d| d.code != "missing-semicolon" || d.span.is_none_or(|s| file.place(s.start).line != line));
    }
    diagnostics.sort_by_key(|d| d.span);
    Parsed { modules, diagnostics }
}
