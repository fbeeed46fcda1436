//! Marks: each stage has its weight, earned in full where the stage passes and in part where it was nearly so.

use exercise::{Exercise, Weights};
use serde::{Deserialize, Serialize};
use verdict::{AnswerResult, MarkPart, Marks, StageResult, StageState, Verdict, VerdictKind};

/// Counts the marks of a verdict as its exercise says now, from what the check found: for another table `[marks]` nothing
/// has to be checked again.
pub fn count(exercise: &Exercise, verdict: &mut Verdict, shares: &[Share]) {
    for answer in &mut verdict.answers {
        let asked = exercise.answers.iter().find(|q| q.output == answer.output && q.ask.key() == answer.ask);
        if let Some(question) = asked {
            (answer.marks, answer.out_of) = (answer_marks(&answer.state, question.marks), question.marks);
        }
    }
    verdict.marks = match (&exercise.weights, verdict.verdict) {
        (None, _) | (_, VerdictKind::CannotTell) => None,
        (Some(weights), _) => Some(earned(weights, &verdict.stages, shares, &verdict.answers)),
    };
}

/// What an answer earns of its marks: half of them, rounded up, where it is right in another form.
pub(crate) fn answer_marks(state: &str, out_of: u32) -> u32 {
    match state {
        "right" => out_of,
        "partly" => out_of.div_ceil(2),
        _ => 0,
    }
}

/// What a verdict earns. `shares` says of stages that fail how much of them is right, and what that counts.
fn earned(weights: &Weights, stages: &[StageResult], shares: &[Share], answers: &[AnswerResult]) -> Marks {
    let mut list: Vec<MarkPart> = weights
        .stages()
        .iter()
        .map(|(stage, out_of)| {
            let state = stages.iter().find(|s| s.stage == stage.key()).map(|s| s.state);
            let (earned, why) = match (state, shares.iter().find(|s| s.stage == stage.key())) {
                (Some(StageState::Pass), _) => (*out_of, String::new()),
                (Some(StageState::Fail), Some(share)) if share.total > 0 => {
                    (share.of(*out_of), format!("{} of {} {}", share.right, share.total, share.what))
                }
                (Some(StageState::Skipped), _) => (0.0, "not reached".to_owned()),
                _ => (0.0, String::new()),
            };
            MarkPart { what: stage.key().to_owned(), earned, out_of: *out_of, why }
        })
        .collect();
    if !answers.is_empty() {
        let sum = |of: fn(&AnswerResult) -> u32| answers.iter().map(|a| f64::from(of(a))).sum();
        let (earned, out_of) = (sum(|a| a.marks), sum(|a| a.out_of));
        list.push(MarkPart { what: "answers".into(), earned, out_of, why: String::new() });
    }
    let sum = |of: fn(&MarkPart) -> f64| hundredths(list.iter().map(of).sum());
    Marks { earned: sum(|p| p.earned), out_of: sum(|p| p.out_of), parts: list }
}

/// How much of a stage is right, for its marks where it fails.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Share {
    /// The stage by its key.
    pub stage: String,
    /// Right ones.
    pub right: u64,
    /// All.
    pub total: u64,
    /// What is counted, in the plural.
    pub what: String,
}

impl Share {
    /// The part of the marks, rounded down to a hundredth: what is not all right never earns all.
    fn of(&self, marks: f64) -> f64 {
        let right = self.right.min(self.total) as f64;
        let part = (marks * 100.0 * right / self.total.max(1) as f64).floor() / 100.0;
        if self.right < self.total { part.min((marks - 0.01).max(0.0)) } else { part }
    }
}

/// A sum of hundredths without the dust of binary fractions.
fn hundredths(value: f64) -> f64 {
    (value * 100.0).round() / 100.0
}
