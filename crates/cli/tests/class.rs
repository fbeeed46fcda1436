//! `zesty-gate check --class`: a folder a student, in stable order, with a table for a spreadsheet.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use assert_cmd::Command;
use serde_json::Value;
use std::path::Path;

fn demo(name: &str) -> String {
    format!("{}/../../demo/{name}", env!("CARGO_MANIFEST_DIR"))
}

fn run(arguments: &[&str]) -> (i32, String, String) {
    let output = Command::cargo_bin("zesty-gate").unwrap().args(arguments).output().unwrap();
    let text = |b: &[u8]| String::from_utf8(b.to_vec()).unwrap();
    (output.status.code().unwrap(), text(&output.stdout), text(&output.stderr))
}

/// A class of four: one right, one wrong in a folder below, one with a fault of the language, one without a design.
fn class(folder: &Path) {
    let put = |place: &str, from: &str| {
        let path = folder.join(place);
        std::fs::create_dir_all(path.parent().unwrap()).unwrap();
        std::fs::copy(demo(&format!("hopper-interlock/{from}")), path).unwrap();
    };
    put("wanda/interlock.v", "plain.v");
    put("bram/src/interlock.v", "wrong_or.v");
    put("carla/interlock.v", "semicolon.v");
    std::fs::create_dir_all(folder.join("dirk")).unwrap();
    std::fs::write(folder.join("dirk/report.pdf"), b"%PDF-1.4 no design").unwrap();
    std::fs::write(folder.join("wanda/.listing"), b"litter").unwrap();
}

#[test]
fn every_student_gets_a_verdict_in_the_order_of_the_folders() {
    let scratch = tempfile::tempdir().unwrap();
    let folder = scratch.path().join("class");
    class(&folder);
    let table = scratch.path().join("out.csv");
    let exercise = demo("hopper-interlock/exercise.toml");
    let (folder, table) = (folder.display().to_string(), table.display().to_string());
    let (code, out, _) = run(&["check", &exercise, "--class", &folder, "--csv", &table, "--json"]);
    let json: Value = serde_json::from_str(&out).unwrap();
    let list: Vec<(&str, &str)> = json["students"]
        .as_array()
        .unwrap()
        .iter()
        .map(|s| (s["student"].as_str().unwrap(), s["verdict"].as_str().unwrap()))
        .collect();
    assert_eq!(list, [("bram", "partly"), ("carla", "fail"), ("dirk", "fail"), ("wanda", "pass")]);
    assert_eq!((code, json["counts"]["pass"].as_u64(), json["counts"]["fail"].as_u64()), (1, Some(1), Some(2)));
    assert_eq!(json["students"][2]["findings"][0]["code"], "no-files");
    let rows: Vec<String> = std::fs::read_to_string(table).unwrap().lines().map(str::to_owned).collect();
    assert_eq!(rows.len(), 5);
    assert!(rows[0].starts_with("student,verdict,passed,total"));
    assert!(rows[1].starts_with("bram,partly,6,8,wrong-rows,"), "{}", rows[1]);
    assert!(rows[4].starts_with("wanda,pass,8,8,,"), "{}", rows[4]);
    // The same again gives the same, byte for byte.
    assert_eq!(run(&["check", &exercise, "--class", &folder, "--json"]).1, out);
}

#[test]
fn a_class_in_which_all_pass_exits_with_0_and_odd_calls_are_refused() {
    let scratch = tempfile::tempdir().unwrap();
    let exercise = demo("hopper-interlock/exercise.toml");
    std::fs::create_dir_all(scratch.path().join("ida")).unwrap();
    std::fs::copy(demo("hopper-interlock/gates.v"), scratch.path().join("ida/gates.v")).unwrap();
    let folder = scratch.path().display().to_string();
    let (code, out, err) = run(&["check", &exercise, "--class", &folder]);
    assert_eq!((code, out.as_str()), (0, ""));
    assert!(err.contains("1 hand-ins: 1 pass") || err.contains("1 hand-in: 1 pass"), "{err}");
    let empty = tempfile::tempdir().unwrap();
    let (code, _, err) = run(&["check", &exercise, "--class", &empty.path().display().to_string()]);
    assert!(code == 2 && err.contains("holds no folders"), "{err}");
    let plain = demo("hopper-interlock/plain.v");
    let (code, _, err) = run(&["check", &exercise, &plain, "--class", &folder]);
    assert!(code == 2 && err.contains("don't go together"), "{err}");
    assert_eq!(run(&["check", &exercise, "--class", "/nowhere"]).0, 2);
}
