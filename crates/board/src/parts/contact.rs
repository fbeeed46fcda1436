//! A contact that a person closes: a slide switch stays where it is put, a push-button gives its active level while it is held.

use super::{Meaning, needless_rate};
use crate::level::{Lamp, OutputLevel};
use crate::part::Part;

pub(super) struct Contact {
    key: &'static str,
    word: &'static str,
}

pub(super) const SLIDE_SWITCH: Contact = Contact { key: "slide_switch", word: "switch" };
pub(super) const PUSH_BUTTON: Contact = Contact { key: "push_button", word: "push-button" };

impl Meaning for Contact {
    fn key(&self) -> &'static str {
        self.key
    }

    fn word(&self) -> &'static str {
        self.word
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
