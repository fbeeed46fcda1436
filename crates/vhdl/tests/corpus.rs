//! The corpus: files in `ok` have no finding that stops, files in `err` have exactly those marked `-- ERR code` and on
//! those lines; and no file, cut or with a token missing, makes the front end panic.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::{Budget, Diagnostic, SourceFile, SourceMap};
use std::path::{Path, PathBuf};

fn files(folder: &str) -> Vec<(String, String)> {
    let folder: PathBuf = Path::new(env!("CARGO_MANIFEST_DIR")).join("corpus").join(folder);
    let mut list: Vec<(String, String)> = std::fs::read_dir(folder)
        .unwrap()
        .map(|e| e.unwrap().path())
        .map(|p| (p.file_stem().unwrap().to_string_lossy().into_owned(), std::fs::read_to_string(&p).unwrap()))
        .collect();
    list.sort();
    assert!(!list.is_empty());
    list
}

/// Parses and, when that went well, elaborates the last entity that nobody instantiates.
fn run(name: &str, text: &str) -> (Vec<Diagnostic>, Option<design::Design>) {
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
    for (name, text) in files("ok") {
        let (diagnostics, design) = run(&name, &text);
        let stops: Vec<_> = diagnostics.iter().filter(|d| d.stops()).collect();
        assert!(stops.is_empty(), "{name}: {stops:#?}");
        assert_eq!(design::validate(&design.unwrap()), Ok(()), "{name}");
    }
}

#[test]
fn faulty_files_are_told_once_on_the_line_and_with_an_action() {
    for (name, text) in files("err") {
        let source = SourceFile::new(&name, text.as_str());
        let (diagnostics, design) = run(&name, &text);
        let found: Vec<(u32, &str)> = diagnostics
            .iter()
            .filter(|d| d.stops())
            .map(|d| (source.place(d.span.unwrap().start).line, d.code))
            .collect();
        let marked: Vec<(u32, &str)> = text
            .lines()
            .zip(1..)
            .filter_map(|(line, n)| line.split_once("-- ERR ").map(|(_, code)| (n, code.trim())))
            .collect();
        assert_eq!(found, marked, "{name}: {diagnostics:#?}");
        assert!(design.is_none(), "{name}");
        for d in &diagnostics {
            assert!(d.message.ends_with(['.', '!']) && d.action.ends_with('.'), "{name}: {d}");
        }
    }
}

#[test]
fn applying_a_fix_removes_the_fault() {
    let mut applied = 0;
    for (name, text) in files("err") {
        let (diagnostics, _) = run(&name, &text);
        let Some((d, fix)) = diagnostics.iter().find_map(|d| d.fixes.first().map(|f| (d.clone(), f.clone()))) else {
            continue;
        };
        let mut fixed = text.clone();
        fixed.replace_range(fix.span.start as usize..fix.span.end as usize, &fix.text);
        let (after, _) = run(&name, &fixed);
        assert!(!after.iter().any(|a| a.code == d.code && a.span == d.span), "{name}: {after:#?}");
        applied += 1;
    }
    assert!(applied >= 8, "{applied}");
}

#[test]
fn files_cut_anywhere_or_without_a_token_do_not_panic() {
    for (name, text) in files("ok").into_iter().chain(files("err")) {
        for cut in (0..text.len()).filter(|i| text.is_char_boundary(*i)) {
            run(&name, &text[..cut]);
        }
        let words: Vec<&str> = text.split_inclusive(|c: char| !c.is_alphanumeric()).collect();
        for skip in 0..words.len() {
            let without: String = words.iter().enumerate().filter(|(i, _)| *i != skip).map(|(_, w)| *w).collect();
            run(&name, &without);
            let doubled: String =
                words.iter().enumerate().map(|(i, w)| if i == skip { w.repeat(2) } else { (*w).to_owned() }).collect();
            run(&name, &doubled);
        }
    }
}
