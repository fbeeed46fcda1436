//! What the stages of an exercise are worth: the table `[marks]`.

use crate::fault::Fault;
use base::Stage;
use std::collections::BTreeMap;
use toml::Spanned;
use verdict::number;

/// The table `[marks]` of an exercise file: marks by stage.
pub(crate) type RawMarks = BTreeMap<Spanned<String>, Spanned<toml::Value>>;

/// Marks that the stages are worth, in the order of the stages.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Weights(Vec<(Stage, f64)>);

/// Most marks of a stage.
const MOST: f64 = 1_000.0;

impl Weights {
    /// Reads them; `None` without the table.
    pub fn read(raw: Option<&RawMarks>, is_wired: bool) -> Result<Option<Self>, Fault> {
        let Some(raw) = raw else { return Ok(None) };
        let mut list = Vec::new();
        for (key, value) in raw {
            let Some(stage) = Stage::ALL.into_iter().find(|s| s.key() == key.get_ref()) else {
                let known: Vec<&str> = Stage::ALL.iter().map(|s| s.key()).collect();
                let message = format!("Unknown stage `{}`; marks go to {}.", key.get_ref(), known.join(", "));
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
    pub fn sentence(&self) -> String {
        let parts: Vec<String> =
            self.0.iter().filter(|(_, n)| *n > 0.0).map(|(s, n)| format!("{} {}", number(*n), s.key())).collect();
        format!("Marks: {}.", parts.join(", "))
    }

    /// Each stage that is worth something, with its marks.
    pub fn stages(&self) -> &[(Stage, f64)] {
        &self.0
    }
}
