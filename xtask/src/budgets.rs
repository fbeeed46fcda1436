//! A budget is made where a question comes in and handed down from there: nothing below makes its own, which would know neither
//! what was spent nor that the question was cancelled.

use std::path::Path;

/// Where questions come in: a check, an exercise that is read, a question to a worker, a command, starters of a page.
const ENTRIES: [&str; 5] = [
    "check/src/pipeline.rs",
    "exercise/src/exercise.rs",
    "worker/src/answer.rs",
    "cli/src/",
    "server/src/routes/exercises.rs",
];

/// Crates that are no product, and what only tests compile.
const FREE: [&str; 5] = ["base/", "perf/", "corpus/", "oracle/", "conform/src/clocked/agreement.rs"];

/// Files that make a budget though no question comes in there.
pub(crate) fn made_elsewhere(root: &Path) -> Result<Vec<String>, String> {
    let crates = root.join("crates");
    let mut found = Vec::new();
    let mut folders = vec![crates.clone()];
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(&folder).map_err(|e| format!("{}: {e}", folder.display()))?.flatten() {
            let path = entry.path();
            let name = path.strip_prefix(&crates).unwrap_or(&path).display().to_string();
            if path.is_dir() {
                if !matches!(path.file_name().and_then(|n| n.to_str()), Some("tests" | "target")) {
                    folders.push(path);
                }
            } else if name.ends_with(".rs") && !ENTRIES.iter().chain(&FREE).any(|e| name.starts_with(e)) {
                let text = std::fs::read_to_string(&path).map_err(|e| format!("{name}: {e}"))?;
                if product_part(&text).contains("Budget::hand_in(") {
                    found.push(format!("`{name}` makes a budget of its own; take one as a parameter"));
                }
            }
        }
    }
    found.sort();
    Ok(found)
}

/// All that stands before the tests.
fn product_part(text: &str) -> &str {
    text.find("#[cfg(test)]").map_or(text, |at| &text[..at])
}
