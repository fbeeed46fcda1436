//! Marks: each stage has its weight, earned in full where the stage passes and in part where it was nearly so.

use crate::fault::Fault;
use crate::verdict::{AnswerResult, MarkPart, Marks, StageResult, StageState, number};
use base::Stage;
use std::collections::BTreeMap;
use toml::Spanned;

/// The table `[marks]` of an exercise file: marks by stage.
pub(crate) type RawMarks = BTreeMap<Spanned<String>, Spanned<toml::Value>>;

/// Marks that the stages are worth, in the order of the stages.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Weights(Vec<(Stage, f64)>);

/// Most marks of a stage.
const MOST: f64 = 1_000.0;

impl Weights {
    /// Reads them; `None` without the table.
    pub(crate) fn read(raw: Option<&RawMarks>, is_wired: bool) -> Result<Option<Self>, Fault> {
        let Some(raw) = raw else { return Ok(None) };
        let mut list = Vec::new();
        for (key, value) in raw {
            let Some(stage) = Stage::ALL.into_iter().find(|s| s.key() == key.get_ref()) else {
                let known: Vec<&str> = Stage::ALL.iter().map(|s| s.key()).collect();
                let message = format!("`{}` is no stage; marks go to {}.", key.get_ref(), known.join(", "));
                return Err((key.span(), message));
            };
            let given = value.get_ref();
            let number = given.as_float().or_else(|| given.as_integer().map(|n| n as f64));
            let Some(number) = number.filter(|n| (0.0..=MOST).contains(n)) else {
                return Err((value.span(), format!("Marks are a number from 0 to {MOST}; write for example 6.")));
            };
            if matches!(stage, Stage::Wiring | Stage::Bench) && !is_wired && number > 0.0 {
                let message = format!("The exercise is not wired, so `{}` earns nothing; add [wiring].", stage.key());
                return Err((key.span(), message));
            }
            list.push((stage, number));
        }
        if list.iter().all(|(_, n)| *n == 0.0) {
            let span = raw.keys().next().map_or(0..0, Spanned::span);
            return Err((span, "All marks are 0; give at least one stage some, or remove [marks].".into()));
        }
        list.sort_by_key(|(stage, _)| *stage);
        Ok(Some(Self(list)))
    }

    /// As sentences, for the exercise's page.
    pub(crate) fn sentence(&self) -> String {
        let parts: Vec<String> =
            self.0.iter().filter(|(_, n)| *n > 0.0).map(|(s, n)| format!("{} {}", number(*n), s.key())).collect();
        format!("Marks: {}.", parts.join(", "))
    }

    /// What a verdict earns. `parts` says of stages that fail how much of them is right, and what that counts.
    pub(crate) fn earned(
        &self,
        stages: &[StageResult],
        parts: &BTreeMap<Stage, Share>,
        answers: &[AnswerResult],
    ) -> Marks {
        let mut list: Vec<MarkPart> = self
            .0
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
