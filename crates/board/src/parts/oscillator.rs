//! An oscillator: it goes up and down by itself, whatever a person does.

use super::Meaning;
use crate::level::{Lamp, OutputLevel};
use crate::part::Part;

pub(super) struct Oscillator;

impl Meaning for Oscillator {
    fn key(&self) -> &'static str {
        "oscillator"
    }

    fn word(&self) -> &'static str {
        "oscillator"
    }

    fn pins<'p>(&self, part: &'p Part) -> Vec<(&'static str, &'p str, bool)> {
        vec![("", &part.pin, true)]
    }

    fn level(&self, _part: &Part, _on: bool, high: bool) -> bool {
        high
    }

    fn shows(&self, _part: &Part, _level: OutputLevel) -> Lamp {
        Lamp::Dark
    }

    fn fault(&self, part: &Part) -> Option<String> {
        let has_rate = part.frequency_hz.is_some_and(|f| f > 0);
        (!has_rate).then(|| format!("the oscillator `{}` needs a `frequency_hz` above 0", part.label))
    }
}
