//! One behaviour in many styles and both languages: every file `NAME_*.{v,sv,vhd}` passes the exercise `NAME.toml`.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use std::path::{Path, PathBuf};
use verdict::VerdictKind;

fn folder() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/twins")
}

fn sources(stem: &str) -> Vec<PathBuf> {
    let mut list: Vec<PathBuf> = std::fs::read_dir(folder()).unwrap().map(|e| e.unwrap().path()).collect();
    list.retain(|p| {
        let name = p.file_name().unwrap().to_string_lossy().into_owned();
        name.starts_with(&format!("{stem}_")) && !name.ends_with(".toml")
    });
    list.sort();
    list
}

fn exercise(stem: &str) -> Exercise {
    let text = std::fs::read_to_string(folder().join(format!("{stem}.toml"))).unwrap();
    Exercise::alone(&text).unwrap()
}

#[test]
fn every_style_of_every_twin_is_proved_right() {
    for (stem, least) in [("adder", 7), ("alu", 4), ("dec", 4), ("mul", 2)] {
        let exercise = exercise(stem);
        let files = sources(stem);
        assert!(files.len() >= least, "{stem}: {files:?}");
        for path in files {
            let file = HandInFile { name: path.display().to_string(), bytes: std::fs::read(&path).unwrap() };
            let found = check(&exercise, &HandIn { files: vec![file], ..HandIn::default() }).verdict;
            assert_eq!(found.verdict, VerdictKind::Pass, "{}: {:#?}", path.display(), found.findings);
        }
    }
}

/// One wrong operator in each language is found on the same rows.
#[test]
fn the_same_fault_fails_on_the_same_rows_in_both_languages() {
    let exercise = exercise("adder");
    let run = |name: &str, from: &str, to: &str| {
        let text = std::fs::read_to_string(folder().join(name)).unwrap();
        assert!(text.contains(from), "{name}");
        let file = HandInFile { name: name.into(), bytes: text.replacen(from, to, 1).into_bytes() };
        let found = check(&exercise, &HandIn { files: vec![file], ..HandIn::default() }).verdict;
        assert_eq!(found.verdict, VerdictKind::Partly, "{name}");
        (found.rows.passed, found.findings[0].evidence.clone().unwrap().row)
    };
    let verilog = run("adder_b.v", "(b[k] & c)", "(b[k] | c)");
    let vhdl = run("adder_loop.vhd", "(y and c)", "(y or c)");
    assert_eq!(verilog, vhdl);
}

/// A VHDL design may be handed in as several files in any order, and its capitals don't count.
#[test]
fn several_vhdl_files_in_any_order_make_one_design() {
    let text = std::fs::read_to_string(folder().join("adder_rip.vhd")).unwrap();
    let split = text.find("entity adder").unwrap();
    let library = "library ieee;\nuse ieee.std_logic_1164.all;\n";
    let first = HandInFile {
        name: "cell.vhd".into(),
        bytes: text[..split].replace("library ieee;\nuse ieee.std_logic_1164.all;\n\n", "").into_bytes(),
    };
    let cell = text[..split].trim_end().trim_end_matches(library.trim_end()).to_owned();
    let first = HandInFile { bytes: cell.into_bytes(), ..first };
    let top = format!("{library}{}", text[split..].to_uppercase().replace("1164.ALL", "1164.all"));
    let second = HandInFile { name: "TOP.VHD".into(), bytes: top.into_bytes() };
    let found = check(&exercise("adder"), &HandIn { files: vec![second, first], ..HandIn::default() }).verdict;
    assert_eq!(found.verdict, VerdictKind::Pass, "{:#?}", found.findings);
}

/// Every demo exercise is passed by a design in Verilog and by one in VHDL.
#[test]
fn every_demo_exercise_has_twins_in_both_languages() {
    let demo = folder().join("../../../../demo");
    let twins = [
        ("hopper-interlock", "plain.v", "interlock.vhd"),
        ("weight-grader", "compare.v", "grader.vhd"),
        ("reject-gate", "nands.v", "nands.vhd"),
        ("tank-level-bar", "shift.v", "tank.vhd"),
        ("gray-turntable", "xor.v", "turntable.vhd"),
        ("lane-letter", "case.v", "letters.vhd"),
        ("lane-chaser", "rotate.v", "chaser.vhd"),
        ("crate-counter", "counter.v", "counter.vhd"),
        ("belt-beacon", "divider.v", "compare.vhd"),
        ("washer-sequencer", "states.sv", "onehot.vhd"),
    ];
    let all = std::fs::read_dir(&demo).unwrap().flatten().filter(|e| e.path().is_dir()).count();
    assert_eq!(twins.len(), all, "an exercise without twins");
    for (name, verilog, vhdl) in twins {
        let text = std::fs::read_to_string(demo.join(name).join("exercise.toml")).unwrap();
        let exercise = Exercise::alone(&text).unwrap();
        for design in [verilog, vhdl] {
            let file = HandInFile { name: design.into(), bytes: std::fs::read(demo.join(name).join(design)).unwrap() };
            let answers = demo.join(name).join("answers_right.toml");
            let answers = std::fs::read(answers).ok().map(|bytes| HandInFile { name: "answers.toml".into(), bytes });
            let found = check(&exercise, &HandIn { files: vec![file], answers, ..HandIn::default() }).verdict;
            assert_eq!(found.verdict, VerdictKind::Pass, "{name}/{design}: {}", found.headline());
        }
    }
}
