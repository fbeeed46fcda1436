//! From what the phases found to the verdict: the states of the stages, the proof, the findings with what shows them, the marks.

use super::phases::{Behaved, Checked, Loaded, Structured};
use super::report::Report;
use super::simulated::PLACED;
use crate::diagnostics as say;
use crate::marks::{self, Share};
use base::{Budget, Code, Diagnostic, SourceMap, Stage};
use conform::{Seen, WorthTrying};
use elab::resources;
use exercise::Exercise;
use near::Near;
use verdict::{
    AnswerResult, Finding, NearMiss, Proof, RowCount, StageResult, StageState, Verdict, VerdictKind, finding,
};

/// Findings that a verdict tells one by one.
const MOST_FINDINGS: usize = 200;

/// What each phase left.
pub(super) struct End {
    pub(super) structured: Option<Structured>,
    pub(super) behaved: Option<Behaved>,
    pub(super) loaded: Loaded,
    pub(super) tried: WorthTrying,
    pub(super) results: Vec<AnswerResult>,
}

/// How much of each stage that fails is right.
fn shares(exercise: &Exercise, end: &End, report: &Report) -> Vec<Share> {
    let mut shares = Vec::new();
    let mut add = |stage: Stage, right: u64, total: u64, what: &str| {
        shares.push(Share { stage: stage.key().to_owned(), right, total, what: what.to_owned() });
    };
    let of = |stage: Stage| report.findings.iter().map(|(d, _)| d).filter(move |d| d.stage == stage);
    let stopped = |stage: Stage| of(stage).any(Diagnostic::stops);
    let costs = |stage: Stage| of(stage).filter(|d| d.severity != base::Severity::Note).count() as u64;
    if let Some(outcome) = end.behaved.as_ref().map(|b| &b.outcome).filter(|o| !o.cannot_tell) {
        let what = if exercise.expected.has_rows() { "rows" } else { "tried cases" };
        add(Stage::Behaviour, outcome.passed, outcome.total, what);
    }
    let rules = exercise.rules.count() as u64;
    if !stopped(Stage::Structure) {
        // What breaks no rule of the exercise, a latch for example, counts beside the rules.
        let all = end.structured.as_ref().map_or(0, |s| s.broken_rules as u64);
        let broken = costs(Stage::Structure);
        let total = rules + broken.saturating_sub(all);
        add(Stage::Structure, total.saturating_sub(broken), total, "rules");
    }
    if let (Some(plan), false) = (&exercise.wiring, stopped(Stage::Wiring)) {
        let total = plan.map.len().max(1) as u64;
        let right = total.saturating_sub(costs(Stage::Wiring));
        add(Stage::Wiring, right, total, "wires");
    }
    if let Some((right, total)) = end.loaded.rows {
        add(Stage::Bench, right, total, "rows");
    }
    shares
}

/// The state of a stage, and why where that is not what was found in it.
fn stage(stage: Stage, report: &Report, follows: Option<&String>) -> StageResult {
    let costs = |d: &Diagnostic| d.severity != base::Severity::Note;
    let follows = follows.filter(|_| stage == Stage::Bench);
    let mut here = report.findings.iter().filter(|(d, _)| d.stage == stage && costs(d)).peekable();
    let any = here.peek().is_some();
    let fails = follows.is_some() || any;
    // The design may be right where what was prepared for it isn't.
    let only_answers = any && follows.is_none() && here.all(|(d, _)| d.code.is_of_answers());
    let reason = report.skipped.get(&stage).or(follows);
    let state = match (fails, reason) {
        (true, _) => StageState::Fail,
        (false, Some(_)) => StageState::Skipped,
        (false, None) => StageState::Pass,
    };
    let reason = if state == StageState::Pass {
        None
    } else if only_answers {
        Some(say::ONLY_ANSWERS.to_owned())
    } else {
        reason.filter(|_| follows.is_some() || !fails).cloned()
    };
    StageResult { stage: stage.key().into(), state, reason: reason.unwrap_or_default() }
}

/// Puts what is wrong on the line of the one change that makes all right, where there is one: that tells the place better
/// than what ran.
fn place_on_repair(report: &mut Report, near: &[Near]) {
    let repair = near.iter().find(|n| matches!(n.kind, "single_repair" | "extra_term") && n.at.is_some());
    if let Some(at) = repair.and_then(|n| n.at) {
        let is_placed = |d: &Diagnostic| PLACED.contains(&d.code) || d.code == Code::WRONG_RATE;
        for (d, _) in report.findings.iter_mut().filter(|(d, _)| is_placed(d)) {
            d.span = Some(at);
        }
    }
}

/// The findings that matter most first, no more than can be read.
fn told(report: Report, sources: &SourceMap) -> Vec<Finding> {
    let mut list = report.findings;
    list.sort_by_key(|(d, _)| (d.severity, d.stage, d.span));
    let more = list.len().saturating_sub(MOST_FINDINGS);
    if more > 0 {
        list.truncate(MOST_FINDINGS);
        list.push((say::more_findings(more), None));
    }
    list.into_iter().map(|(d, evidence)| finding(&d, sources, evidence)).collect()
}

fn near_miss(near: &Near, sources: &SourceMap) -> NearMiss {
    let change = near.change.as_ref();
    NearMiss {
        kind: near.kind.into(),
        message: near.message.clone(),
        hint: near.hint.clone(),
        before: change.map(|c| c.before.clone()),
        after: change.map(|c| c.after.clone()),
        file: near.at.map(|s| sources.file(s.file).name.clone()),
        line: near.at.map(|s| sources.place(s).line),
        repair: near.repair.clone(),
    }
}

/// Puts the verdict together.
pub(super) fn verdict(
    exercise: &Exercise,
    end: End,
    mut report: Report,
    (sources, budget): (&SourceMap, &Budget),
) -> Checked {
    let behaved = end.behaved.as_ref();
    let passed = behaved.filter(|b| !b.outcome.cannot_tell).map(|b| b.outcome.passed);
    let total = behaved.map_or_else(|| exercise.rows(), |b| b.outcome.total);
    let follows = end.loaded.follows.as_ref();
    let stages: Vec<StageResult> = Stage::ALL.into_iter().map(|s| stage(s, &report, follows)).collect();
    let any_fails = stages.iter().any(|s| s.state == StageState::Fail);
    let kind = match passed {
        _ if report.cannot_tell => VerdictKind::CannotTell,
        None | Some(0) => VerdictKind::Fail,
        Some(_) if any_fails => VerdictKind::Partly,
        Some(_) => VerdictKind::Pass,
    };
    let proof = behaved.map_or(Proof::NONE, |b| {
        let spent = b.outcome.proof.budget.or(Some(b.budget));
        Proof { budget: spent, ..b.outcome.proof.clone() }
    });
    let near: Vec<Near> = behaved.into_iter().flat_map(|b| &b.near).chain(&end.loaded.near).cloned().collect();
    place_on_repair(&mut report, &near);
    let shares = shares(exercise, &end, &report);
    let netlist = end.structured.as_ref().map(|s| &s.built.netlist);
    let mut verdict = Verdict {
        format: "zesty-gate/verdict/1".into(),
        verdict: kind,
        proof,
        rows: RowCount { passed: passed.unwrap_or(0), total },
        stages,
        findings: told(report, sources),
        near_misses: near.iter().map(|n| near_miss(n, sources)).collect(),
        resources: netlist.map(|n| resources(n, exercise.lut_inputs(), budget)),
        answers: end.results,
        rhythm: behaved.and_then(|b| b.outcome.rhythm.clone()),
        marks: None,
    };
    marks::count(exercise, &mut verdict, &shares);
    let actual = end.behaved.and_then(|b| match b.outcome.seen {
        Seen::Rows(rows) => Some(rows.actual),
        _ => None,
    });
    let WorthTrying { rows: rows_to_try, ticks: ticks_to_try } = end.tried;
    Checked { verdict, shares, actual, rows_to_try, ticks_to_try, image: end.loaded.image }
}
