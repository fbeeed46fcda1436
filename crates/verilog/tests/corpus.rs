//! The corpus of this language: legal files, faulty files with their findings, and damaged ones.

#![allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]

use base::{Budget, Diagnostic, SourceFile, SourceMap};

const HERE: &str = env!("CARGO_MANIFEST_DIR");

/// Parses and, when that went well, elaborates the last module that nobody instantiates.
fn run(name: &str, text: &str) -> corpus::Read {
    let mut sources = SourceMap::new();
    let file = SourceFile::new(name, text);
    let id = sources.add(file.clone());
    let mut budget = Budget::hand_in();
    let parsed = verilog::parse(id, &file, &mut budget);
    let mut diagnostics = parsed.diagnostics;
    if diagnostics.iter().any(Diagnostic::stops) {
        return (diagnostics, None);
    }
    let modules: Vec<&verilog::Module> = parsed.modules.iter().collect();
    let used = |m: &verilog::Module| modules.iter().flat_map(|o| o.instantiates()).any(|i| i.name == m.name.name);
    let Some(top) = modules.iter().rev().find(|m| !used(m)) else { return (diagnostics, None) };
    let elaborated = verilog::elaborate(&modules, top, &mut budget.with_depth(4_000));
    diagnostics.extend(elaborated.diagnostics);
    (diagnostics, elaborated.whole)
}

#[test]
fn legal_files_elaborate_to_the_same_valid_design_as_before() {
    for (name, text) in corpus::files(HERE, "ok") {
        let design = corpus::is_legal(&name, run(&name, &text));
        insta::assert_snapshot!(name, design::dump(&design));
    }
}

#[test]
fn faulty_files_are_told_once_on_the_line_and_with_an_action() {
    corpus::faults_are_told(HERE, "//", run);
}

#[test]
fn applying_a_fix_removes_the_fault() {
    let applied = corpus::fixes_remove_faults(HERE, run);
    assert!(applied >= 5, "{applied}");
}

#[test]
fn files_cut_anywhere_or_without_a_token_do_not_panic() {
    corpus::damage_does_not_panic(HERE, run);
}

#[test]
fn files_that_once_made_it_panic_are_read() {
    corpus::crashes_are_gone(HERE, run);
}
