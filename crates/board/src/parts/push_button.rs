//! A push-button: it gives its active level while it is held.

use super::{Meaning, needless_rate};
use crate::level::{Lamp, OutputLevel};
use crate::part::Part;

pub(super) struct PushButton;

impl Meaning for PushButton {
    fn key(&self) -> &'static str {
        "push_button"
    }

    fn word(&self) -> &'static str {
        "push-button"
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
