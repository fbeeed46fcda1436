//! A slide switch: it stays where it is put, and gives its active level when it is up.

use super::{Meaning, needless_rate};
use crate::level::{Lamp, OutputLevel};
use crate::part::Part;

pub(super) struct SlideSwitch;

impl Meaning for SlideSwitch {
    fn key(&self) -> &'static str {
        "slide_switch"
    }

    fn word(&self) -> &'static str {
        "switch"
    }

    fn pins<'p>(&self, part: &'p Part) -> Vec<(&'static str, &'p str, bool)> {
        vec![("", &part.pin, true)]
    }

    fn level(&self, part: &Part, on: bool, _high: bool) -> bool {
        on == part.active.level()
    }

    fn shows(&self, _part: &Part, _level: OutputLevel) -> Lamp {
        Lamp::Dark
    }

    fn fault(&self, part: &Part) -> Option<String> {
        needless_rate(part)
    }
}
