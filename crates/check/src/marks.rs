//! Marks: each stage has its weight, earned in full where the stage passes and in part where it was nearly so.

use base::Stage;
use exercise::Weights;
use std::collections::BTreeMap;
use verdict::{AnswerResult, MarkPart, Marks, StageResult, StageState};

/// What a verdict earns. `parts` says of stages that fail how much of them is right, and what that counts.
pub(crate) fn earned(
    weights: &Weights,
    stages: &[StageResult],
    parts: &BTreeMap<Stage, Share>,
    answers: &[AnswerResult],
) -> Marks {
    let mut list: Vec<MarkPart> = weights
        .stages()
        .iter()
        .map(|(stage, out_of)| {
            let state = stages.iter().find(|s| s.stage == stage.key()).map(|s| s.state);
            let (earned, why) = match (state, parts.get(stage)) {
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

/// How much of a stage that fails is right.
pub(crate) struct Share {
    pub(crate) right: u64,
    pub(crate) total: u64,
    pub(crate) what: &'static str,
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
