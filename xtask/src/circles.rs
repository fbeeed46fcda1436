//! Which files of a crate reach each other: by their `use` lines no two may, so that each can be read without the others above
//! it.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

/// Where a module's file lies, by its path of names below the crate's root.
type Modules = BTreeMap<Vec<String>, PathBuf>;

/// Groups of files of a crate that reach each other: each group as its imports, such as `a.rs → b.rs`, by paths below `src`.
pub(crate) fn of_crate(src: &Path) -> Result<Vec<Vec<String>>, String> {
    let mut modules = Modules::new();
    gather(src, &[], &mut modules)?;
    let mut texts = BTreeMap::new();
    for (module, path) in &modules {
        let text = std::fs::read_to_string(path).map_err(|e| format!("{}: {e}", path.display()))?;
        texts.insert(module.clone(), product_part(&text).to_owned());
    }
    let handed_on = reexports(&texts, &modules);
    let mut edges: BTreeMap<Vec<String>, BTreeSet<Vec<String>>> = BTreeMap::new();
    for (module, text) in &texts {
        let targets = edges.entry(module.clone()).or_default();
        for (path, is_public) in uses(text) {
            // What the crate only hands on to others is no need of its own.
            if is_public && module.is_empty() {
                continue;
            }
            let Some(full) = resolve(module, &path, &modules) else { continue };
            let target = owner(&full, &modules, &handed_on);
            if target != *module {
                targets.insert(target);
            }
        }
    }
    let name = |module: &Vec<String>| {
        let path = modules.get(module).and_then(|p| p.strip_prefix(src).ok());
        path.map_or_else(String::new, |p| p.display().to_string())
    };
    let arrows = |group: Vec<Vec<String>>| {
        let within =
            |from: &Vec<String>| edges.get(from).into_iter().flatten().filter(|to| group.contains(to)).cloned();
        let list = group.iter().flat_map(|from| within(from).map(|to| format!("{} → {}", name(from), name(&to))));
        list.collect::<Vec<String>>()
    };
    Ok(circles(&edges).into_iter().map(arrows).collect())
}

/// All that stands before the tests.
fn product_part(text: &str) -> &str {
    text.find("#[cfg(test)]\nmod ").map_or(text, |at| &text[..at])
}

fn gather(folder: &Path, above: &[String], modules: &mut Modules) -> Result<(), String> {
    let mut entries: Vec<_> = std::fs::read_dir(folder)
        .map_err(|e| format!("{}: {e}", folder.display()))?
        .flatten()
        .map(|e| e.path())
        .collect();
    entries.sort();
    for path in entries {
        let stem = path.file_stem().unwrap_or_default().to_string_lossy().into_owned();
        let mut module = above.to_vec();
        if path.is_dir() {
            module.push(stem);
            gather(&path, &module, modules)?;
        } else if path.extension().is_some_and(|e| e == "rs") {
            let is_root = above.is_empty() && matches!(stem.as_str(), "lib" | "main");
            if !is_root && stem != "mod" {
                module.push(stem);
            }
            modules.insert(module, path);
        }
    }
    Ok(())
}

/// The paths of `use` lines, braces written out, and whether they hand on what they name.
fn uses(text: &str) -> Vec<(Vec<String>, bool)> {
    let mut found = Vec::new();
    let mut rest = text;
    while let Some(at) = next_use(rest) {
        let (before, line) = rest.split_at(at);
        let head = before.rsplit('\n').next().unwrap_or("").trim();
        let is_public = head.starts_with("pub");
        let end = line.find(';').unwrap_or(line.len());
        // Another name is no part of the path.
        let words = line["use ".len().min(end)..end].split_whitespace().collect::<Vec<_>>();
        let mut tree = String::new();
        let mut list = words.into_iter();
        while let Some(word) = list.next() {
            match word {
                "as" => tree.push_str(list.next().and_then(|w| w.strip_suffix(',')).map_or("", |_| ",")),
                word => tree.push_str(word),
            }
        }
        // Words of a comment that happen to stand so are no paths.
        if !tree.chars().all(|c| c.is_alphanumeric() || "_:{},*".contains(c)) {
            rest = &line["use ".len().min(line.len())..];
            continue;
        }
        expand(&tree, &[], &mut |path| found.push((path, is_public)));
        rest = &line[end..];
    }
    found
}

/// Where the next `use` line begins: at the start of a line, behind `pub` or blanks.
fn next_use(text: &str) -> Option<usize> {
    let mut from = 0;
    while let Some(at) = text[from..].find("use ") {
        let place = from + at;
        let start = text[..place].rfind('\n').map_or(0, |n| n + 1);
        let head = text[start..place].trim();
        if head.is_empty() || head == "pub" || head.starts_with("pub(") {
            return Some(place);
        }
        from = place + 4;
    }
    None
}

fn expand(tree: &str, before: &[String], found: &mut impl FnMut(Vec<String>)) {
    let Some(open) = tree.find('{') else {
        let mut path = before.to_vec();
        path.extend(tree.split("::").filter(|p| !p.is_empty()).map(str::to_owned));
        return found(path);
    };
    let mut head = before.to_vec();
    head.extend(tree[..open].split("::").filter(|p| !p.is_empty()).map(str::to_owned));
    let inner = &tree[open + 1..tree.rfind('}').unwrap_or(tree.len())];
    let (mut depth, mut start) = (0, 0);
    for (i, c) in inner.char_indices() {
        match c {
            '{' => depth += 1,
            '}' => depth -= 1,
            ',' if depth == 0 => {
                if start < i {
                    expand(&inner[start..i], &head, found);
                }
                start = i + 1;
            }
            _ => {}
        }
    }
    if start < inner.len() {
        expand(&inner[start..], &head, found);
    }
}

/// A path within the crate from its root; `None` for another crate's.
fn resolve(module: &[String], path: &[String], modules: &Modules) -> Option<Vec<String>> {
    let first = path.first()?.as_str();
    let mut full = match first {
        "crate" => Vec::new(),
        "self" | "super" => module.to_vec(),
        name => {
            // `use child::Item;`
            let mut child = module.to_vec();
            child.push(name.to_owned());
            return modules.contains_key(&child).then(|| [module, path].concat());
        }
    };
    for part in path.iter().skip(usize::from(first != "super")) {
        match part.as_str() {
            "super" => {
                full.pop();
            }
            name => full.push(name.to_owned()),
        }
    }
    Some(full)
}

/// Names that a module hands on, each with the module that has it.
fn reexports(texts: &BTreeMap<Vec<String>, String>, modules: &Modules) -> BTreeMap<Vec<String>, Vec<String>> {
    let mut map = BTreeMap::new();
    for (module, text) in texts {
        for (path, _) in uses(text).into_iter().filter(|(_, is_public)| *is_public) {
            let Some(full) = resolve(module, &path, modules) else { continue };
            if let Some(name) = full.last() {
                let mut here = module.clone();
                here.push(name.clone());
                map.insert(here, full);
            }
        }
    }
    map
}

/// The module that has what a path names.
fn owner(path: &[String], modules: &Modules, handed_on: &BTreeMap<Vec<String>, Vec<String>>) -> Vec<String> {
    let mut path = path.to_vec();
    for _ in 0..8 {
        let next = (1..=path.len()).rev().find_map(|n| {
            let to = handed_on.get(&path[..n])?;
            (to.as_slice() != &path[..n]).then(|| [to.as_slice(), &path[n..]].concat())
        });
        match next {
            Some(further) if !modules.contains_key(&path) => path = further,
            _ => break,
        }
    }
    (0..=path.len()).rev().map(|n| path[..n].to_vec()).find(|p| modules.contains_key(p)).unwrap_or_default()
}

/// Groups of nodes that reach each other.
fn circles(edges: &BTreeMap<Vec<String>, BTreeSet<Vec<String>>>) -> Vec<Vec<Vec<String>>> {
    let reach: BTreeMap<&Vec<String>, BTreeSet<&Vec<String>>> = edges
        .keys()
        .map(|from| {
            let mut seen = BTreeSet::new();
            let mut stack = vec![from];
            while let Some(at) = stack.pop() {
                for to in edges.get(at).into_iter().flatten() {
                    if seen.insert(to) {
                        stack.push(to);
                    }
                }
            }
            (from, seen)
        })
        .collect();
    let mut groups: BTreeSet<Vec<Vec<String>>> = BTreeSet::new();
    for (node, seen) in &reach {
        if seen.contains(node) {
            let group = seen.iter().filter(|other| reach.get(*other).is_some_and(|back| back.contains(node)));
            groups.insert(group.map(|m| (*m).clone()).collect());
        }
    }
    groups.into_iter().collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn crate_of(files: &[(&str, &str)]) -> Vec<Vec<String>> {
        let folder = std::env::temp_dir().join(format!("circles-{}-{}", std::process::id(), files.len()));
        let _ = std::fs::remove_dir_all(&folder);
        for (name, text) in files {
            let path = folder.join(name);
            std::fs::create_dir_all(path.parent().unwrap_or(&folder)).unwrap();
            std::fs::write(path, text).unwrap();
        }
        let found = of_crate(&folder).unwrap();
        std::fs::remove_dir_all(&folder).unwrap();
        found
    }

    #[test]
    fn files_that_reach_each_other_are_found_through_reexports_and_parents() {
        let lib = "mod a;\nmod b;\npub use a::A;\npub use b::{B, C};\n";
        assert_eq!(
            crate_of(&[("lib.rs", lib), ("a.rs", "use crate::B;\n"), ("b.rs", "use crate::a::{self, A};\n")]),
            [["a.rs → b.rs", "b.rs → a.rs"]]
        );
        let down = [
            ("lib.rs", lib),
            ("a.rs", "use crate::b::B;\n#[cfg(test)]\nmod tests {\n}\n"),
            ("b.rs", "use std::fmt;\n"),
        ];
        assert!(crate_of(&down).is_empty());
        let family = [
            ("lib.rs", "mod p;\n"),
            ("p/mod.rs", "mod child;\nuse child::Part;\n"),
            ("p/child.rs", "use super::Whole;\n"),
            ("p/apart.rs", "pub struct X;\n"),
        ];
        assert_eq!(crate_of(&family), [["p/mod.rs → p/child.rs", "p/child.rs → p/mod.rs"]]);
    }
}
