//! Hand-ins that are no design, and checks that were ended.

use super::phases::Checked;
use crate::diagnostics as say;
use base::{DecodeProblem, SourceFile, SourceMap, Stage};
use elab::HandInFile;
use verdict::{Proof, RowCount, StageResult, StageState, Verdict, VerdictKind, finding};

/// What is told of a hand-in whose check was ended from outside, or failed: "can't tell", and why.
pub fn stopped(rows: u64, why: &str) -> Checked {
    let stages = Stage::ALL.map(|stage| StageResult {
        stage: stage.key().into(),
        state: StageState::Skipped,
        reason: why.into(),
    });
    let told = finding(&say::stopped(why), &SourceMap::new(), None);
    let verdict = Verdict {
        format: "zesty-gate/verdict/1".into(),
        verdict: VerdictKind::CannotTell,
        proof: Proof::NONE,
        rows: RowCount { passed: 0, total: rows },
        stages: stages.to_vec(),
        findings: vec![told],
        near_misses: Vec::new(),
        resources: None,
        answers: Vec::new(),
        rhythm: None,
        marks: None,
    };
    Checked { verdict, shares: Vec::new(), actual: None, rows_to_try: None, ticks_to_try: None, image: None }
}

/// Why these files are no design at all, in a sentence; nothing where one of them may be one.
pub fn no_design(files: &[HandInFile]) -> Option<String> {
    let designs: Vec<&HandInFile> = files.iter().filter(|f| elab::language(&f.name).is_some()).collect();
    let Some(first) = designs.first() else {
        let name = files.first().map_or("The hand-in", |f| f.name.as_str());
        return Some(format!("`{name}` is not a design file; hand in Verilog (.v, .sv) or VHDL (.vhd, .vhdl)."));
    };
    let problems: Vec<Option<DecodeProblem>> =
        designs.iter().map(|f| SourceFile::decode(&f.name, &f.bytes).err()).collect();
    if problems.iter().any(Option::is_none) {
        return None;
    }
    let name = &first.name;
    Some(match problems.into_iter().flatten().next() {
        Some(DecodeProblem::Empty) => format!("`{name}` is empty; hand in the file with the design in it."),
        Some(DecodeProblem::TooLarge(_)) => format!("`{name}` is too large for a design; hand in its sources only."),
        _ => format!("`{name}` is not text; hand in the source of the design, not a picture or a compiled file of it."),
    })
}
