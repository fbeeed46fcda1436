//! Every finding code is in `docs/findings.md`, and every code there exists.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

fn factories(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in std::fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            factories(&path, found);
        } else if path.file_name().is_some_and(|n| n == "diagnostics.rs") {
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
fn the_table_of_findings_is_complete_and_true() {
    let crates = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let mut files = Vec::new();
    factories(&crates, &mut files);
    assert!(files.len() >= 4, "{files:?}");
    let mut used = BTreeSet::new();
    for file in files {
        let text = std::fs::read_to_string(file).unwrap().replace("\\\"", "");
        used.extend(text.split('"').skip(1).step_by(2).filter(|t| is_code(t)).map(str::to_owned));
    }
    let page = std::fs::read_to_string(crates.join("../docs/findings.md")).unwrap();
    let listed: BTreeSet<String> =
        page.lines().filter_map(|l| l.strip_prefix("| `")?.split_once('`').map(|(code, _)| code.to_owned())).collect();
    let missing: Vec<_> = used.difference(&listed).collect();
    let gone: Vec<_> = listed.difference(&used).collect();
    assert!(missing.is_empty() && gone.is_empty(), "not listed: {missing:?}; not there any more: {gone:?}");
}
