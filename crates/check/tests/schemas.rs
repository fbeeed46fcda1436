//! The published schemas of our files (docs/schemas) against a JSON Schema validator, JSON Schema being an open standard
//! (draft 2020-12): everything that we write or read fits them, and what we refuse does not.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{Checked, HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use jsonschema::Validator;
use serde_json::Value;
use std::path::{Path, PathBuf};

fn at(path: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..").join(path)
}

fn schema(name: &str) -> (Value, Validator) {
    let text = std::fs::read_to_string(at(&format!("docs/schemas/{name}-1.json"))).unwrap();
    let schema: Value = serde_json::from_str(&text).unwrap();
    assert!(jsonschema::meta::is_valid(&schema), "{name} is no schema");
    let validator = jsonschema::draft202012::new(&schema).unwrap();
    (schema, validator)
}

fn fits(validator: &Validator, value: &Value, what: &str) {
    let faults: Vec<String> = validator.iter_errors(value).map(|e| format!("{}: {e}", e.instance_path())).collect();
    assert!(faults.is_empty(), "{what}: {faults:?}");
}

/// Text and JSON of each exercise of the demo.
fn exercises() -> Vec<(PathBuf, String, Value)> {
    let mut folders: Vec<PathBuf> = std::fs::read_dir(at("demo")).unwrap().map(|e| e.unwrap().path()).collect();
    folders.sort();
    let read = |folder: PathBuf| {
        let text = std::fs::read_to_string(folder.join("exercise.toml")).ok()?;
        let value: toml::Value = toml::from_str(&text).unwrap();
        Some((folder, text, serde_json::to_value(value).unwrap()))
    };
    let list: Vec<_> = folders.into_iter().filter_map(read).collect();
    assert!(list.len() >= 10);
    list
}

fn load(text: &str) -> Option<Exercise> {
    Exercise::alone(text).ok()
}

/// Hand-ins of an exercise's folder, each with every wiring that lies there.
fn checked(folder: &Path, exercise: &Exercise) -> Vec<(String, Checked)> {
    let mut names: Vec<String> =
        std::fs::read_dir(folder).unwrap().map(|e| e.unwrap().file_name().into_string().unwrap()).collect();
    names.sort();
    let file = |name: &String| HandInFile { name: name.clone(), bytes: std::fs::read(folder.join(name)).unwrap() };
    let mut wirings: Vec<Option<&String>> = names.iter().filter(|n| n.ends_with(".csv")).map(Some).collect();
    wirings.push(None);
    let mut list = Vec::new();
    for name in names.iter().filter(|n| [".v", ".sv", ".vhd"].iter().any(|e| n.ends_with(e))) {
        for wiring in &wirings {
            let hand_in =
                HandIn { files: vec![file(name)], wiring: wiring.map(file), quick: true, ..HandIn::default() };
            list.push((format!("{}/{name} with {wiring:?}", folder.display()), check(exercise, &hand_in)));
        }
    }
    list
}

#[test]
fn exercises_fit_and_what_is_refused_does_not() {
    let (_, validator) = schema("exercise");
    let mut refused = 0;
    for (folder, text, value) in exercises() {
        assert!(load(&text).is_some(), "{}", folder.display());
        fits(&validator, &value, &folder.display().to_string());
        // A key that nobody knows, in each table whose keys are fixed; a key that has to be there, left out.
        for table in ["", "port.0", "clock", "reset", "behaviour", "rules", "wiring", "parameter"] {
            let mut spoilt = value.clone();
            let pointer = table.split('.').filter(|p| !p.is_empty()).map(|p| format!("/{p}")).collect::<String>();
            let Some(map) = spoilt.pointer_mut(&pointer).and_then(Value::as_object_mut) else { continue };
            map.insert("colour".into(), Value::from("red"));
            refused += refuse(&validator, &spoilt, &format!("{}: colour in [{table}]", folder.display()));
        }
        for needed in ["format", "title", "port", "behaviour"] {
            let mut spoilt = value.clone();
            spoilt.as_object_mut().unwrap().remove(needed);
            refused += refuse(&validator, &spoilt, &format!("{} without {needed}", folder.display()));
        }
        for (place, wrong) in [
            ("/format", Value::from("zesty-gate/exercise/2")),
            ("/port/0/dir", Value::from("inout")),
            ("/port/0/name", Value::from("9lives")),
            ("/behaviour/kind", Value::from("guess")),
            ("/clock/edge", Value::from("up")),
            ("/reset/kind", Value::from("soft")),
            ("/rules/languages", serde_json::json!(["fortran"])),
        ] {
            let mut spoilt = value.clone();
            let (table, key) = place.rsplit_once('/').unwrap();
            let Some(map) = spoilt.pointer_mut(table).and_then(Value::as_object_mut) else { continue };
            map.insert(key.into(), wrong);
            refused += refuse(&validator, &spoilt, &format!("{}: {place}", folder.display()));
        }
    }
    assert!(refused > 100, "{refused}");
}

/// Both the schema and the program refuse it.
fn refuse(validator: &Validator, value: &Value, what: &str) -> u32 {
    assert!(!validator.is_valid(value), "the schema takes {what}");
    let text = toml::to_string(value).unwrap_or_default();
    assert!(load(&text).is_none(), "the program takes {what}\n{text}");
    1
}

#[test]
fn boards_verdicts_and_images_fit() {
    let (_, board_schema) = schema("board");
    let (_, verdicts) = schema("verdict");
    let (_, images) = schema("image");
    let board: Value =
        serde_json::from_str(&std::fs::read_to_string(at("crates/board/boards/pith-8.json")).unwrap()).unwrap();
    fits(&board_schema, &board, "pith-8");
    let mut seen = (0, 0);
    for (folder, text, _) in exercises() {
        let Some(exercise) = load(&text) else { continue };
        for (what, checked) in checked(&folder, &exercise) {
            fits(&verdicts, &serde_json::to_value(&checked.verdict).unwrap(), &what);
            seen.0 += 1;
            if let Some(image) = &checked.image {
                let value: Value = serde_json::from_str(&image.to_json()).unwrap();
                fits(&images, &value, &what);
                seen.1 += 1;
            }
        }
    }
    assert!(seen.0 >= 60 && seen.1 >= 20, "{seen:?}");
}
