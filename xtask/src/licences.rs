//! Licences of what is shipped: every package has one that is allowed, none comes in two versions without a reason, and their
//! texts are written beside the built web part, where the application shows them.

use crate::tools::{Outcome, root, say};
use serde_json::Value;
use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;
use std::process::Command;

/// Licences that go with a program under MIT or Apache-2.0: permissive ones, and those that bind their own files only.
const ALLOWED: [&str; 14] = [
    "MIT",
    "MIT-0",
    "Apache-2.0",
    "Apache-2.0 WITH LLVM-exception",
    "BSD-1-Clause",
    "BSD-2-Clause",
    "BSD-3-Clause",
    "0BSD",
    "ISC",
    "Zlib",
    "BSL-1.0",
    "CC0-1.0",
    "Unicode-3.0",
    "OFL-1.1",
];

/// Packages in two versions, since two others need one each.
const TWICE: [&str; 3] = ["bitflags", "hashbrown", "syn"];

/// A package that is shipped.
struct Package {
    name: String,
    version: String,
    licence: String,
    /// Texts of its licences and notices.
    texts: Vec<String>,
}

/// Licence and notice files of a folder; of those for either of two licences, the shorter name of the permissive one.
fn texts(folder: &Path) -> Vec<String> {
    let Ok(list) = std::fs::read_dir(folder) else { return Vec::new() };
    let mut names: Vec<String> = list.flatten().filter_map(|e| e.file_name().into_string().ok()).collect();
    names.sort();
    let upper = |n: &String| n.to_ascii_uppercase();
    let is_text = |n: &&String| {
        let n = upper(n);
        ["LICENSE", "LICENCE", "COPYING", "NOTICE", "COPYRIGHT", "UNLICENSE"].iter().any(|w| n.starts_with(w))
    };
    let mut chosen: Vec<&String> = names.iter().filter(is_text).collect();
    if chosen.iter().any(|n| upper(n).contains("MIT")) {
        chosen.retain(|n| !upper(n).contains("APACHE"));
    }
    chosen.into_iter().filter_map(|n| std::fs::read_to_string(folder.join(n)).ok()).collect()
}

/// Crates that the program is made of.
fn crates() -> Result<Vec<Package>, String> {
    let about = Command::new("rustc").arg("-vV").output().map_err(|e| format!("rustc can't be run: {e}"))?;
    let about = String::from_utf8_lossy(&about.stdout).into_owned();
    let host =
        about.lines().find_map(|l| l.strip_prefix("host: ")).ok_or("rustc doesn't say for which machine it builds")?;
    let output = Command::new("cargo")
        .args(["metadata", "--format-version", "1", "--locked", "--filter-platform", host])
        .current_dir(root())
        .output()
        .map_err(|e| format!("cargo metadata can't be run: {e}"))?;
    if !output.status.success() {
        return Err(format!("cargo metadata: {}", String::from_utf8_lossy(&output.stderr)));
    }
    let all: Value = serde_json::from_slice(&output.stdout).map_err(|e| e.to_string())?;
    let list = |value: &Value| value.as_array().cloned().unwrap_or_default();
    let text = |value: &Value| value.as_str().unwrap_or_default().to_owned();
    let packages: BTreeMap<String, Value> = list(&all["packages"]).into_iter().map(|p| (text(&p["id"]), p)).collect();
    let nodes: BTreeMap<String, Value> =
        list(&all["resolve"]["nodes"]).into_iter().map(|n| (text(&n["id"]), n)).collect();
    let start = packages.iter().find(|(_, p)| p["name"] == "cli" && p["source"].is_null());
    let mut waiting = vec![start.map(|(id, _)| id.clone()).ok_or("there is no package `cli`")?];
    let mut seen = BTreeSet::new();
    while let Some(id) = waiting.pop() {
        if !seen.insert(id.clone()) {
            continue;
        }
        for needed in nodes.get(&id).map(|n| list(&n["deps"])).unwrap_or_default() {
            // What only tests and build scripts need is not shipped.
            if list(&needed["dep_kinds"]).iter().any(|k| k["kind"].is_null()) {
                waiting.push(text(&needed["pkg"]));
            }
        }
    }
    let shipped = seen.iter().filter_map(|id| packages.get(id)).filter(|p| !p["source"].is_null());
    let package = |p: &Value| Package {
        name: text(&p["name"]),
        version: text(&p["version"]),
        licence: text(&p["license"]),
        texts: Path::new(&text(&p["manifest_path"])).parent().map(texts).unwrap_or_default(),
    };
    Ok(shipped.map(package).collect())
}

/// Packages that the web part is made of.
fn web_packages() -> Result<Vec<Package>, String> {
    let web = root().join("web");
    let lock = std::fs::read_to_string(web.join("package-lock.json")).map_err(|e| e.to_string())?;
    let lock: Value = serde_json::from_str(&lock).map_err(|e| e.to_string())?;
    let entries = lock["packages"].as_object().ok_or("web/package-lock.json has no packages")?;
    // Our own packages lie in folders of their own, and are linked.
    let is_ours = |path: &str, p: &Value| !path.contains("node_modules/") || p["link"] == true;
    let is_shipped = |path: &str, p: &Value| !is_ours(path, p) && p["dev"] != true && p["devOptional"] != true;
    Ok(entries
        .iter()
        .filter(|(path, p)| is_shipped(path, p) && web.join(path).exists())
        .map(|(path, p)| Package {
            name: path.rsplit_once("node_modules/").map_or(path.as_str(), |(_, name)| name).to_owned(),
            version: p["version"].as_str().unwrap_or_default().to_owned(),
            licence: p["license"].as_str().unwrap_or_default().to_owned(),
            texts: texts(&web.join(path)),
        })
        .collect())
}

fn is_allowed(licence: &str) -> Result<bool, String> {
    // A slash is how older packages say "or".
    let expression = spdx::Expression::parse_mode(licence, spdx::ParseMode::LAX).map_err(|e| e.to_string())?;
    let allowed: Vec<spdx::Licensee> = ALLOWED.iter().filter_map(|l| spdx::Licensee::parse(l).ok()).collect();
    Ok(expression.evaluate(|wanted| allowed.iter().any(|l| l.satisfies(wanted))))
}

/// Checks licences and versions.
pub(crate) fn check() -> Outcome {
    let (crates, web) = (crates()?, web_packages()?);
    let mut wrong = Vec::new();
    for package in crates.iter().chain(&web) {
        let what = format!("{} {}", package.name, package.version);
        match is_allowed(&package.licence) {
            Ok(true) => {}
            Ok(false) => wrong.push(format!("{what} is under {}, which is not allowed", package.licence)),
            Err(why) => wrong.push(format!("{what}: its licence `{}` can't be read: {why}", package.licence)),
        }
    }
    let mut versions: BTreeMap<&str, BTreeSet<&str>> = BTreeMap::new();
    for package in &crates {
        versions.entry(&package.name).or_default().insert(&package.version);
    }
    for (name, list) in versions.iter().filter(|(name, list)| list.len() > 1 && !TWICE.contains(name)) {
        let list: Vec<&str> = list.iter().copied().collect();
        wrong.push(format!("{name} is built in the versions {}; bring its users to one", list.join(" and ")));
    }
    if wrong.is_empty() {
        say(&format!("licences: {} crates and {} web packages, all allowed", crates.len(), web.len()));
        Ok(())
    } else {
        Err(wrong.join("\n"))
    }
}

/// Writes the notices beside the built web part.
pub(crate) fn write_notices() -> Outcome {
    let mut all = crates()?;
    all.extend(web_packages()?);
    all.sort_by(|a, b| a.name.cmp(&b.name).then_with(|| a.version.cmp(&b.version)));
    let mut by_text: BTreeMap<String, Vec<String>> = BTreeMap::new();
    let mut out = String::from("Zesty Gate is built with these packages.\n\n");
    for package in &all {
        let line = format!("{} {} ({})", package.name, package.version, package.licence);
        out += &line;
        out.push('\n');
        for text in &package.texts {
            let text = text.replace('\r', "").trim().to_owned();
            by_text.entry(text).or_default().push(format!("{} {}", package.name, package.version));
        }
    }
    for (text, names) in by_text {
        out += &format!("\n\n————\n{}\n\n{text}\n", names.join(", "));
    }
    let place = root().join("web/dist/notices.txt");
    std::fs::write(&place, out).map_err(|e| format!("{}: {e}", place.display()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_choice_needs_one_allowed_licence_and_a_sum_all_of_them() {
        for allowed in
            ["MIT", "MIT/Apache-2.0", "GPL-3.0-only OR MIT", "Apache-2.0 WITH LLVM-exception OR MIT", "MIT AND OFL-1.1"]
        {
            assert_eq!(is_allowed(allowed), Ok(true), "{allowed}");
        }
        for refused in ["GPL-3.0-only", "MIT AND AGPL-3.0-only", "LGPL-2.1-or-later"] {
            assert_eq!(is_allowed(refused), Ok(false), "{refused}");
        }
        assert!(is_allowed("").is_err() && is_allowed("see the file").is_err());
    }
}
