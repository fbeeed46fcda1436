//! What each kind of part means, a file a mechanism: which pins of the device it is joined to, what it drives them with and what a
//! person sees of them. Wiring, image, bench and picture ask here and nowhere else.

mod contact;
mod led;
mod oscillator;

use crate::level::{Lamp, OutputLevel};
use crate::part::{Part, PartKind, Terminal};

/// What a kind of part means.
pub(crate) trait Meaning: Sync {
    /// Its word in board files.
    fn key(&self) -> &'static str;

    /// What people call it.
    fn word(&self) -> &'static str;

    /// The pins it is joined to: a name behind the part's label (empty for an only one), the pin, and whether the part drives it.
    fn pins<'p>(&self, part: &'p Part) -> Vec<(&'static str, &'p str, bool)>;

    /// The level that it gives when it is on (up, pressed) or off, while oscillators are high or low.
    fn level(&self, part: &Part, on: bool, high: bool) -> bool;

    /// What is seen of it when the design gives a level.
    fn shows(&self, part: &Part, level: OutputLevel) -> Lamp;

    /// What is wrong with its data.
    fn fault(&self, part: &Part) -> Option<String>;
}

fn meaning(kind: PartKind) -> &'static dyn Meaning {
    match kind {
        PartKind::SlideSwitch => &contact::SLIDE_SWITCH,
        PartKind::PushButton => &contact::PUSH_BUTTON,
        PartKind::Led => &led::Led,
        PartKind::Oscillator => &oscillator::Oscillator,
    }
}

impl PartKind {
    /// Its word in board files.
    pub fn key(self) -> &'static str {
        meaning(self).key()
    }

    /// What people call it.
    pub fn word(self) -> &'static str {
        meaning(self).word()
    }
}

impl Part {
    /// The pins it is joined to; `at` is its position in the board's list.
    pub(crate) fn terminals(&self, at: usize) -> Vec<Terminal> {
        let label = |label: &String, name: &str| {
            if name.is_empty() { label.clone() } else { format!("{label}.{name}") }
        };
        let terminal = |(name, pin, drives): (&str, &str, bool)| Terminal {
            part: at,
            label: label(&self.label, name),
            former: self.former.as_ref().map(|former| label(former, name)),
            pin: pin.to_owned(),
            drives,
        };
        meaning(self.kind).pins(self).into_iter().map(terminal).collect()
    }

    /// The level that it gives when it is on (up, pressed) or off, while oscillators are high or low.
    pub fn level(&self, on: bool, high: bool) -> bool {
        meaning(self.kind).level(self, on, high)
    }

    /// The level that it gives when nobody touches it.
    pub fn level_at_rest(&self) -> bool {
        self.level(false, false)
    }

    /// How it has to stand to give a level: true for on (up, pressed); `None` where a person can't make it give one.
    pub fn stand_for(&self, level: bool) -> Option<bool> {
        [false, true].into_iter().find(|on| [false, true].iter().all(|high| self.level(*on, *high) == level))
    }

    /// What is seen of it when the design gives a level.
    pub fn shows(&self, level: OutputLevel) -> Lamp {
        meaning(self.kind).shows(self, level)
    }

    /// The level at which it is dark.
    pub fn dark_level(&self) -> bool {
        self.shows(OutputLevel::Zero) != Lamp::Dark
    }

    pub(crate) fn fault(&self) -> Option<String> {
        meaning(self.kind).fault(self)
    }
}

/// Only an oscillator has a rate.
fn needless_rate(part: &Part) -> Option<String> {
    let what = || format!("`{}` is a {}, which has no `frequency_hz`", part.label, part.kind.word());
    part.frequency_hz.is_some().then(what)
}
