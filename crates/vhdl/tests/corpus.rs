//! The corpus of this language: legal files, faulty files with their findings, and damaged ones.

#![allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]

use base::{Budget, Diagnostic, SourceFile, SourceMap};

const HERE: &str = env!("CARGO_MANIFEST_DIR");

/// Parses and, when that went well, elaborates the last entity that nobody instantiates.
fn run(name: &str, text: &str) -> corpus::Read {
    let mut sources = SourceMap::new();
    let file = SourceFile::new(name, text);
    let id = sources.add(file.clone());
    let mut budget = Budget::hand_in();
    let parsed = vhdl::parse(id, &file, &mut budget);
    let mut diagnostics = parsed.diagnostics;
    if diagnostics.iter().any(Diagnostic::stops) {
        return (diagnostics, None);
    }
    let units: Vec<&vhdl::DesignUnit> = parsed.units.iter().collect();
    let used: Vec<&str> = units.iter().filter_map(|u| u.instantiates()).flat_map(|(_, list)| list).collect();
    let top = units.iter().rev().filter_map(|u| u.entity()).find(|e| !used.contains(&e.name.as_str()));
    let Some(top) = top else { return (diagnostics, None) };
    let elaborated = vhdl::elaborate(&units, &top.name, &mut budget.with_depth(400));
    diagnostics.extend(elaborated.diagnostics);
    (diagnostics, elaborated.whole)
}

#[test]
fn legal_files_elaborate_to_a_valid_design() {
    for (name, text) in corpus::files(HERE, "ok") {
        corpus::is_legal(&name, run(&name, &text));
    }
}

#[test]
fn faulty_files_are_told_once_on_the_line_and_with_an_action() {
    corpus::faults_are_told(HERE, "--", run);
}

#[test]
fn applying_a_fix_removes_the_fault() {
    let applied = corpus::fixes_remove_faults(HERE, run);
    assert!(applied >= 8, "{applied}");
}

#[test]
fn files_cut_anywhere_or_without_a_token_do_not_panic() {
    corpus::damage_does_not_panic(HERE, run);
}
