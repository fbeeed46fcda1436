//! A light-emitting diode: lit at its active level.

use super::{Meaning, needless_rate};
use crate::level::{Lamp, OutputLevel};
use crate::part::Part;

pub(super) struct Led;

impl Meaning for Led {
    fn key(&self) -> &'static str {
        "led"
    }

    fn word(&self) -> &'static str {
        "lamp"
    }

    fn pins<'p>(&self, part: &'p Part) -> Vec<(&'static str, &'p str, bool)> {
        vec![("", &part.pin, false)]
    }

    fn level(&self, part: &Part, _on: bool, _high: bool) -> bool {
        !part.active.level()
    }

    fn shows(&self, part: &Part, level: OutputLevel) -> Lamp {
        match level {
            OutputLevel::Unknown => Lamp::Unknown,
            OutputLevel::Conflict => Lamp::Conflict,
            OutputLevel::Zero | OutputLevel::One if (level == OutputLevel::One) == part.active.level() => Lamp::Lit,
            OutputLevel::Zero | OutputLevel::One => Lamp::Dark,
        }
    }

    fn fault(&self, part: &Part) -> Option<String> {
        needless_rate(part)
    }
}
