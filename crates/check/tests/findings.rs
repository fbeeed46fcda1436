//! Every finding code is in the list of codes, every code there exists, and its examples show it.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use verdict::{finding_codes, finding_codes_page};
use views::inspect;

fn factories(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in std::fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            factories(&path, found);
        } else if path.file_name().is_some_and(|n| n == "diagnostics.rs")
            || folder.file_name().is_some_and(|n| n == "rules")
        {
            found.push(path);
        }
    }
}

fn is_code(text: &str) -> bool {
    let mut parts = text.split('-');
    text.contains('-')
        && parts.all(|p| !p.is_empty() && p.bytes().all(|b| b.is_ascii_lowercase() || b.is_ascii_digit()))
        || text == "unexpected"
        || text == "unclosed"
}

#[test]
fn the_list_of_codes_is_complete_and_true() {
    let crates = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let mut files = Vec::new();
    factories(&crates, &mut files);
    assert!(files.len() >= 4, "{files:?}");
    let mut used = BTreeSet::new();
    for file in files {
        let text = std::fs::read_to_string(&file).unwrap().replace("\\\"", "");
        if file.parent().is_some_and(|f| f.ends_with("rules")) {
            // A rule's file holds words of its own beside its codes.
            let made = text.split("Diagnostic::new(").skip(1).filter_map(|t| t.split('"').nth(1));
            used.extend(made.map(str::to_owned));
            continue;
        }
        used.extend(text.split('"').skip(1).step_by(2).filter(|t| is_code(t)).map(str::to_owned));
        // Those that the way of a check depends on have names.
        let named =
            text.split("Code::").skip(1).filter_map(|t| t.split(|c: char| !c.is_ascii_uppercase() && c != '_').next());
        used.extend(named.filter(|n| !n.is_empty()).map(|n| n.to_lowercase().replace('_', "-")));
    }
    let listed: BTreeSet<String> = finding_codes().iter().map(|c| c.code.clone()).collect();
    let missing: Vec<_> = used.difference(&listed).collect();
    let gone: Vec<_> = listed.difference(&used).collect();
    assert!(missing.is_empty() && gone.is_empty(), "not listed: {missing:?}; not there any more: {gone:?}");
}

#[test]
fn the_page_of_the_documentation_is_the_list() {
    let page = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/findings.md");
    if std::env::var_os("ZESTY_WRITE_FINDINGS").is_some() {
        std::fs::write(&page, finding_codes_page()).unwrap();
    }
    let written = std::fs::read_to_string(page).unwrap();
    assert!(written == finding_codes_page(), "docs/findings.md is out of date: run `cargo xtask findings`");
}

const EXERCISE: &str = r#"
format = "zesty-gate/exercise/1"
title = "Both"
[[port]]
name = "a"
dir = "in"
[[port]]
name = "b"
dir = "in"
[[port]]
name = "y"
dir = "out"
[behaviour]
kind = "expressions"
[behaviour.outputs]
y = "a & b"
"#;

/// The codes that a text gives, as a hand-in and on its own.
fn codes_of(language: &str, text: &str, rules: Option<&str>) -> BTreeSet<String> {
    let rules = rules.map_or(String::new(), |r| format!("[rules]\n{r}\n"));
    let exercise = Exercise::load(&format!("{EXERCISE}{rules}"), &|path| Err(format!("no {path}").into())).unwrap();
    let name = if language == "verilog" { "m.sv" } else { "m.vhd" };
    let files = vec![HandInFile { name: name.into(), bytes: text.into() }];
    let looked_into = inspect(&files, None, &Budget::hand_in()).map(|i| i.findings).unwrap_or_default();
    let checked = check(&exercise, &HandIn { files, ..HandIn::default() });
    checked.verdict.findings.into_iter().chain(looked_into).map(|f| f.code).collect()
}

#[test]
fn wrong_examples_give_their_finding_and_right_ones_do_not() {
    let mut wrong = Vec::new();
    for entry in finding_codes() {
        assert!(!entry.example.is_empty(), "{}", entry.code);
        for example in entry.example.iter().filter(|e| e.language != "text") {
            if !codes_of(&example.language, &example.wrong, example.rules.as_deref()).contains(&entry.code) {
                wrong.push(format!(
                    "{} {}: {:?}",
                    entry.code,
                    example.language,
                    codes_of(&example.language, &example.wrong, example.rules.as_deref())
                ));
            }
            if codes_of(&example.language, &example.right, example.rules.as_deref()).contains(&entry.code) {
                wrong.push(format!("{} {} is given by the right example", entry.code, example.language));
            }
        }
    }
    assert_eq!(wrong, Vec::<String>::new());
}
