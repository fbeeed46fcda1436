//! Which crate may import which: only crates on a lower line of the house.

use crate::tools::{Outcome, root, say};
use serde_json::Value;
use std::process::Command;

/// Crates by line; a crate imports only crates on lower lines. Test helpers (dev-dependencies) are free.
const LINES: [&[&str]; 14] = [
    &["base"],
    &["logic", "verdict"],
    &["design"],
    &["front"],
    &["verilog", "vhdl", "draft", "sim", "cycle", "prove", "board", "schematic"],
    &["elab"],
    &["exercise"],
    &["conform", "derive"],
    &["near", "bench"],
    &["check", "views"],
    &["worker"],
    &["store", "course"],
    &["server"],
    &["cli"],
];

/// Tools and test helpers, which no product crate imports and which may import everything.
const TOOLS: [&str; 4] = ["xtask", "perf", "corpus", "oracle"];

fn line(name: &str) -> Option<usize> {
    LINES.iter().position(|l| l.contains(&name))
}

pub(crate) fn check() -> Outcome {
    let output = Command::new("cargo")
        .args(["metadata", "--format-version", "1", "--no-deps"])
        .current_dir(root())
        .output()
        .map_err(|e| e.to_string())?;
    let metadata: Value = serde_json::from_slice(&output.stdout).map_err(|e| e.to_string())?;
    let mut wrong = Vec::new();
    let mut count = 0;
    for package in metadata["packages"].as_array().into_iter().flatten() {
        let name = package["name"].as_str().unwrap_or_default();
        if TOOLS.contains(&name) {
            continue;
        }
        let Some(mine) = line(name) else {
            wrong.push(format!("the crate `{name}` stands on no line; add it in xtask/src/layers.rs"));
            continue;
        };
        for dependency in package["dependencies"].as_array().into_iter().flatten() {
            let other = dependency["name"].as_str().unwrap_or_default();
            if dependency["kind"] == "dev" || dependency["path"].is_null() {
                continue;
            }
            count += 1;
            if line(other).is_none_or(|theirs| theirs >= mine) {
                wrong.push(format!("`{name}` imports `{other}`, which is not on a lower line"));
            }
        }
    }
    for name in LINES.iter().flat_map(|l| l.iter()) {
        let src = root().join("crates").join(name).join("src");
        if !src.is_dir() {
            continue;
        }
        for group in crate::circles::of_crate(&src)? {
            wrong.push(format!("`{name}`: files that reach each other: {}", group.join(", ")));
        }
    }
    wrong.extend(crate::budgets::made_elsewhere(&root())?);
    if wrong.is_empty() {
        say(&format!("layers: {count} imports, all downward"));
        Ok(())
    } else {
        Err(wrong.join("\n"))
    }
}
