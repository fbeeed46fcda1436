//! Designs that are written out of a derivation pass the exercise that they were derived from.
#![allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use derive::{DeriveOptions, ExportText, derive, exports};
use elab::HandInFile;
use exercise::Exercise;
use verdict::VerdictKind;

fn of(name: &str) -> (Exercise, Vec<ExportText>) {
    let path = format!("{}/../../demo/{name}/exercise.toml", env!("CARGO_MANIFEST_DIR"));
    let exercise = Exercise::alone(&std::fs::read_to_string(path).unwrap()).unwrap();
    let derivation = derive(exercise.table(), &DeriveOptions::default());
    let texts = exports(&exercise.title, &exercise.ports, &derivation);
    (exercise, texts)
}

#[test]
fn the_verilog_of_a_derivation_passes_its_own_exercise() {
    for name in ["hopper-interlock", "weight-grader", "tank-level-bar", "gray-turntable"] {
        let (exercise, texts) = of(name);
        let source = texts.iter().find(|t| t.kind == "verilog").unwrap().text.clone();
        let file = HandInFile { name: "m.v".into(), bytes: source.clone().into_bytes() };
        let found = check(&exercise, &HandIn { files: vec![file], ..HandIn::default() });
        assert_eq!(found.verdict.rows.passed, found.verdict.rows.total, "{source}");
        assert_ne!(found.verdict.verdict, VerdictKind::Fail);
    }
}

#[test]
fn latex_and_vhdl_are_written_as_the_trade_writes_them() {
    let (_, texts) = of("hopper-interlock");
    let text = |kind: &str| texts.iter().find(|t| t.kind == kind).unwrap().text.clone();
    assert!(text("latex").contains("\\overline{\\mathit{full}}"), "{}", text("latex"));
    assert!(text("vhdl").contains("entity hopper_interlock is"));
    assert!(text("vhdl").contains("motor <= (not full) and (not gate) and run;"), "{}", text("vhdl"));
    assert!(text("text").contains("motor = full' gate' run"));
}
