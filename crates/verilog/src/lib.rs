//! Verilog (IEEE 1364-2005 and the SystemVerilog words of a first course): text to tokens to trees to [`design::Design`].
//!
//! The parser always yields a tree and says each fault once; elaboration makes every implicit rule of the language
//! explicit, so that nothing below knows it was Verilog.

mod diagnostics;
mod directive;
mod front_end;
mod grammar;
mod lexer;
mod lower;
mod preprocess;
mod primitive;
mod slips;
mod tree;
mod uses;

pub use front_end::Verilog;
pub use lower::{elaborate, elaborate_among, elaborate_into};
pub use tree::{Ident, Module, PortDirection, PortSummary};

use base::{Budget, Code, Diagnostic, FileId, SourceFile};
use grammar::Packages;
use lexer::{Files, Mark, Token, tokenize};
use std::collections::BTreeMap;

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
    parse_all(&[(id, file)], budget)
}

/// Reads the files of a hand-in: packages, macros and included files are seen across them. Files that others include
/// are not read on their own.
pub fn parse_all(files: &[(FileId, &SourceFile)], budget: &mut Budget) -> Parsed {
    let by_name: Files<'_> = files.iter().map(|(id, f)| (base_name(&f.name), (*id, f.text.as_str()))).collect();
    let read = |id: FileId, text, macros| tokenize(id, text, &by_name, macros);
    let mut streams: Vec<_> = files.iter().map(|(id, f)| (*id, *f, read(*id, &f.text, BTreeMap::new()))).collect();
    // A macro that another file defines is seen, whatever the order of the files.
    let mut macros = BTreeMap::new();
    for (_, _, stream) in &streams {
        macros.extend(stream.macros.iter().map(|(k, v)| (k.clone(), v.clone())));
    }
    for (id, file, stream) in &mut streams {
        if files.len() > 1 && stream.diagnostics.iter().any(|d| d.code == Code::UNDEFINED_MACRO) {
            *stream = read(*id, &file.text, macros.clone());
        }
    }
    let mut packages = Packages::new();
    for (_, _, stream) in &streams {
        packages.extend(grammar::packages(&stream.tokens));
    }
    let units = streams.iter().flat_map(|(_, _, s)| &s.marks).filter_map(|(_, mark)| match mark {
        Mark::Timescale(unit, _) => Some(*unit),
        Mark::ImplicitNets(_) => None,
    });
    let default_unit = units.max().unwrap_or(NANOSECOND);
    let alone = read_alone(files);
    let mut parsed = Parsed { modules: Vec::new(), diagnostics: Vec::new() };
    for ((id, file, stream), _) in streams.into_iter().zip(alone).filter(|(_, alone)| *alone) {
        let mut marks = stream.marks;
        let tokens = primitive::as_modules(stream.tokens, &mut marks);
        let around = (marks.as_slice(), &packages, default_unit);
        let (modules, mut found) = parse_tokens(id, file, &tokens, stream.diagnostics, around, budget);
        // Where macros grew without end the rest was left aside: what is missing behind them is no fault of its own.
        if found.iter().any(|d| d.code == Code::BUDGET_EXHAUSTED) {
            found.retain(|d| d.code == Code::BUDGET_EXHAUSTED);
        }
        parsed.modules.extend(modules);
        parsed.diagnostics.extend(found);
    }
    parsed
}

/// True for a reserved word.
pub fn is_reserved(word: &str) -> bool {
    lexer::KEYWORDS.contains(&word)
}

const NANOSECOND: u64 = 1_000_000;

fn base_name(path: &str) -> &str {
    path.rsplit(['/', '\\']).next().unwrap_or(path)
}

/// Which files are read on their own: those that no other one includes, and of files that include each other in a circle
/// the first, where that is told.
fn read_alone(files: &[(FileId, &SourceFile)]) -> Vec<bool> {
    let includes: Vec<Vec<usize>> = files
        .iter()
        .map(|(_, f)| {
            let names = included_names(&f.text);
            let is_named = |(_, other): &(usize, &(FileId, &SourceFile))| names.contains(&base_name(&other.1.name));
            files.iter().enumerate().filter(is_named).map(|(k, _)| k).collect()
        })
        .collect();
    let mut alone: Vec<bool> = (0..files.len())
        .map(|k| !includes.iter().enumerate().any(|(from, list)| from != k && list.contains(&k)))
        .collect();
    let mut reached = vec![false; files.len()];
    let reach = |from: usize, reached: &mut Vec<bool>| {
        let mut stack = vec![from];
        while let Some(k) = stack.pop() {
            if !std::mem::replace(&mut reached[k], true) {
                stack.extend(&includes[k]);
            }
        }
    };
    (0..files.len()).filter(|k| alone[*k]).for_each(|k| reach(k, &mut reached));
    for k in 0..files.len() {
        if !reached[k] {
            alone[k] = true;
            reach(k, &mut reached);
        }
    }
    alone
}

/// The names in the include lines of a text.
fn included_names(text: &str) -> Vec<&str> {
    let lines = text.lines().filter_map(|l| l.trim_start().strip_prefix("`include"));
    lines.filter_map(|l| l.split('"').nth(1)).map(base_name).collect()
}

fn parse_tokens(
    id: FileId,
    file: &SourceFile,
    tokens: &[Token],
    mut diagnostics: Vec<Diagnostic>,
    (marks, packages, default_unit): (&[(usize, Mark)], &Packages, u64),
    budget: &mut Budget,
) -> (Vec<Module>, Vec<Diagnostic>) {
    let (modules, more) = grammar::parse_file(id, tokens, marks, packages, default_unit, budget);
    // A token that could not be read makes the grammar stumble behind it: that is no fault of its own.
    if diagnostics.iter().any(|d| d.code == Code::UNCLOSED_COMMENT) {
        // It swallowed the rest of the file.
        return (Vec::new(), diagnostics);
    }
    let first = diagnostics.iter().filter(|d| d.stops()).filter_map(|d| d.span).min();
    let holds = |d: &Diagnostic| first.is_none() || d.span < first && d.code != Code::NO_MODULE;
    diagnostics.extend(more.into_iter().filter(holds));
    if let Some(first) = first {
        let line = file.place(first.start).line;
        diagnostics.retain(|d| d.span.is_none_or(|s| s <= first || file.place(s.start).line != line));
        diagnostics
            .retain(|d| d.code != Code::MISSING_SEMICOLON || d.span.is_none_or(|s| file.place(s.start).line != line));
    }
    diagnostics.sort_by_key(|d| d.span);
    (modules, diagnostics)
}
