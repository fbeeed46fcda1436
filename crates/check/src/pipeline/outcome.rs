//! From what the stages found to the verdict: their states, the proof, the findings with their evidence, the marks.

use super::evidence::PLACED;
use super::source::EvidenceSource;
use super::{Run, Shown, near_miss};
use crate::diagnostics as say;
use crate::marks::{self, Share};
use crate::pipeline::Checked;
use base::{Diagnostic, Stage};
use elab::ActualTable;
use std::collections::BTreeMap;
use verdict::{
    AnswerResult, Evidence, Finding, Proof, ProofKind, ProofMethod, Resources, RowCount, StageResult, StageState,
    Verdict, VerdictKind, finding,
};

/// Findings that a verdict tells one by one.
const MOST_FINDINGS: usize = 200;

impl Run<'_> {
    /// How much of each stage that fails is right.
    fn shares(&self, passed: Option<u64>, total: u64) -> BTreeMap<Stage, Share> {
        let mut shares = BTreeMap::new();
        let of = |stage: Stage| self.diagnostics.iter().map(|(d, _)| d).filter(move |d| d.stage == stage);
        let stopped = |stage: Stage| of(stage).any(Diagnostic::stops);
        let costs = |stage: Stage| of(stage).filter(|d| d.severity != base::Severity::Note).count() as u64;
        if let Some(right) = passed {
            let what = match self.exercise.clocked.is_some() || self.exercise.wide.is_some() {
                true => "tried cases",
                false => "rows",
            };
            shares.insert(Stage::Behaviour, Share { right, total, what });
        }
        let rules = self.exercise.rules.count() as u64;
        if !stopped(Stage::Structure) {
            // What breaks no rule of the exercise, a latch for example, counts beside the rules.
            let (broken, all) = (costs(Stage::Structure), self.broken_rules as u64);
            let total = rules + broken.saturating_sub(all);
            shares.insert(Stage::Structure, Share { right: total.saturating_sub(broken), total, what: "rules" });
        }
        if let (Some(plan), false) = (&self.exercise.wiring, stopped(Stage::Wiring)) {
            let total = plan.map.len().max(1) as u64;
            let right = total.saturating_sub(costs(Stage::Wiring));
            shares.insert(Stage::Wiring, Share { right, total, what: "wires" });
        }
        if let Some((right, total)) = self.bench_rows {
            shares.insert(Stage::Bench, Share { right, total, what: "rows" });
        }
        shares
    }

    /// Leaves out what is more than can be read, and says how much that is.
    fn cut_short(&mut self) {
        let more = self.diagnostics.len().saturating_sub(MOST_FINDINGS);
        if more > 0 {
            self.diagnostics.truncate(MOST_FINDINGS);
            self.diagnostics.push((say::more_findings(more), None));
        }
    }

    /// The state of a stage, and why where that is not what was found in it.
    fn stage(&self, stage: Stage) -> StageResult {
        let costs = |d: &Diagnostic| d.severity != base::Severity::Note;
        let follows = self.bench_follows.as_ref().filter(|_| stage == Stage::Bench);
        let mut here = self.diagnostics.iter().filter(|(d, _)| d.stage == stage && costs(d)).peekable();
        let any = here.peek().is_some();
        let fails = follows.is_some() || any;
        // The design may be right where what was prepared for it isn't.
        let only_answers = any && follows.is_none() && here.all(|(d, _)| d.code.starts_with("answer"));
        let reason = self.skipped.get(&stage).or(follows);
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

    /// Puts what is wrong on the line of the one change that makes all right, where there is one: that tells the place
    /// better than what ran.
    fn place_on_repair(&mut self) {
        let repair = self.near.iter().find(|n| matches!(n.kind, "single_repair" | "extra_term") && n.at.is_some());
        if let Some(at) = repair.and_then(|n| n.at) {
            let is_placed = |d: &Diagnostic| PLACED.contains(&d.code) || d.code == "wrong-rate";
            for (d, _) in self.diagnostics.iter_mut().filter(|(d, _)| is_placed(d)) {
                d.span = Some(at);
            }
        }
    }

    /// Puts the verdict together.
    pub(super) fn verdict(
        mut self,
        passed: Option<u64>,
        resources: Option<Resources>,
        actual: Option<ActualTable>,
        answers: Vec<AnswerResult>,
    ) -> Checked {
        let machine = self.machine_proof.take();
        let total = match &machine {
            Some((_, total)) => *total,
            None => self.exercise.rows(),
        };
        let stages: Vec<StageResult> = Stage::ALL.into_iter().map(|stage| self.stage(stage)).collect();
        let any_fails = stages.iter().any(|s| s.state == StageState::Fail);
        let kind = match passed {
            _ if self.cannot_tell => VerdictKind::CannotTell,
            None | Some(0) => VerdictKind::Fail,
            Some(_) if any_fails => VerdictKind::Partly,
            Some(_) => VerdictKind::Pass,
        };
        let proof = match (machine, passed) {
            (Some((proof, _)), _) => proof,
            (None, Some(n)) => Proof {
                kind: if n == total { ProofKind::Proved } else { ProofKind::Differs },
                method: Some(ProofMethod::Exhaustive),
                rows: Some(total),
                cycles: None,
                budget: None,
            },
            (None, None) => Proof::NONE,
        };
        self.place_on_repair();
        let proof = Proof { budget: proof.budget.or(self.proof_budget), ..proof };
        self.diagnostics.sort_by_key(|(d, _)| (d.severity, d.stage, d.span));
        self.cut_short();
        let source = actual.as_ref().map(|actual| EvidenceSource { exercise: self.exercise, actual });
        let findings: Vec<Finding> = self
            .diagnostics
            .iter()
            .map(|(d, row)| {
                let evidence = match row {
                    Some(Shown::Row(row)) => source.as_ref().map(|s| {
                        let path = self.ways.get(row).cloned().unwrap_or_default();
                        Evidence { path, ..s.at(*row) }
                    }),
                    Some(Shown::Moment(evidence)) => Some((**evidence).clone()),
                    None => None,
                };
                finding(d, &self.sources, evidence)
            })
            .collect();
        let shares = self.shares(passed, total);
        let mut verdict = Verdict {
            format: "zesty-gate/verdict/1".into(),
            verdict: kind,
            proof,
            rows: RowCount { passed: passed.unwrap_or(0), total },
            stages,
            findings,
            near_misses: self.near.iter().map(|n| near_miss(n, &self.sources)).collect(),
            resources,
            answers,
            rhythm: self.rhythm,
            marks: None,
        };
        if let (Some(weights), false) = (&self.exercise.weights, self.cannot_tell) {
            verdict.marks = Some(marks::earned(weights, &verdict.stages, &shares, &verdict.answers));
        }
        Checked { verdict, actual, rows_to_try: self.rows_to_try, ticks_to_try: self.ticks_to_try, image: self.image }
    }
}
