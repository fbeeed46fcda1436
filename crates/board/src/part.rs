//! A part of a board as data, and the pins of the device that it is joined to.

use serde::{Deserialize, Serialize};

/// Which level means "on": pressed, up or lit.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Active {
    /// 1 is on.
    High,
    /// 0 is on.
    Low,
}

impl Active {
    /// The level that is on.
    pub fn level(self) -> bool {
        self == Active::High
    }
}

/// What a part is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum PartKind {
    /// A slide switch: stays where it is put.
    SlideSwitch,
    /// A push-button: on while it is held.
    PushButton,
    /// A light-emitting diode.
    Led,
    /// An oscillator: goes up and down by itself.
    Oscillator,
}

/// A part of a board.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Part {
    /// The label printed beside it, by the letter codes of IEC 81346-2: S for switches, H for lamps, G for oscillators.
    pub label: String,
    /// A label that it had before: wiring files and plans that name it are still understood.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub former: Option<String>,
    /// The device's pin it is joined to.
    pub pin: String,
    /// What it is.
    pub kind: PartKind,
    /// Which level is on.
    pub active: Active,
    /// Column in the picture, from the left.
    pub x: u8,
    /// Row in the picture, from the top.
    pub y: u8,
    /// Periods of an oscillator in a second.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub frequency_hz: Option<u64>,
}

/// A pin of the device that a part is joined to.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Terminal {
    /// The part, by its position in the board's list.
    pub part: usize,
    /// As it is written in wiring files and plans: the part's label, and for a part with several pins a name behind it.
    pub label: String,
    /// The same with the label that the part had before.
    pub former: Option<String>,
    /// The device's pin.
    pub pin: String,
    /// The part drives the pin; else the design does, and a person sees what.
    pub drives: bool,
}
