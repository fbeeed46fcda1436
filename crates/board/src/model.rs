//! A board as data: its device and its parts, each with a printed label and a pin of the device.

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

impl PartKind {
    /// True for what drives a pin of the device, false for what a person looks at.
    pub fn is_input(self) -> bool {
        self != PartKind::Led
    }

    /// What people call it.
    pub fn word(self) -> &'static str {
        match self {
            PartKind::SlideSwitch => "switch",
            PartKind::PushButton => "push-button",
            PartKind::Led => "lamp",
            PartKind::Oscillator => "oscillator",
        }
    }
}

/// A part of a board.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Part {
    /// The label printed beside it.
    pub label: String,
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

fn usual_lut_inputs() -> u32 {
    4
}

/// The logic device of a board.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Device {
    /// Its name.
    pub name: String,
    /// Its package.
    pub package: String,
    /// Its speed grade.
    pub speed: String,
    /// The I/O level of its pins.
    pub io_level: String,
    /// Inputs of a look-up table, 2 to 6.
    #[serde(default = "usual_lut_inputs")]
    pub lut_inputs: u32,
    /// Look-up tables it has; absent: as many as are asked for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub luts: Option<u64>,
    /// Flip-flops it has; absent: as many as are asked for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub flip_flops: Option<u64>,
}

/// A trainer board.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Board {
    /// `zesty-gate/board/1`
    pub format: String,
    /// Short name, as exercise files use it.
    pub name: String,
    /// Name for people.
    pub title: String,
    /// Its device.
    pub device: Device,
    /// Its parts.
    pub parts: Vec<Part>,
}

/// Why a board can't be had.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum BoardError {
    /// No board of that name ships.
    #[error("there is no board `{0}`; the boards that ship are: pith-8")]
    Unknown(String),
    /// Its data is not legal.
    #[error("the board's data is not legal: {0}")]
    Data(String),
}

impl Board {
    /// A board that ships, by its short name.
    ///
    /// # Errors
    /// When there is none of that name.
    pub fn shipped(name: &str) -> Result<Self, BoardError> {
        match name {
            "pith-8" => Self::from_json(include_str!("../boards/pith-8.json")),
            other => Err(BoardError::Unknown(other.to_owned())),
        }
    }

    /// Reads a board from JSON.
    ///
    /// # Errors
    /// When the JSON is not a board, or two parts share a label or a pin.
    pub fn from_json(text: &str) -> Result<Self, BoardError> {
        let board: Board = serde_json::from_str(text).map_err(|e| BoardError::Data(e.to_string()))?;
        if board.format != "zesty-gate/board/1" {
            return Err(BoardError::Data(format!("`format` is `{}`, not `zesty-gate/board/1`", board.format)));
        }
        if !(2..=6).contains(&board.device.lut_inputs) {
            let what = format!("`lut_inputs` is {}; a look-up table has 2 to 6 inputs", board.device.lut_inputs);
            return Err(BoardError::Data(what));
        }
        for (i, part) in board.parts.iter().enumerate() {
            if let Some(other) = board.parts[..i].iter().find(|p| p.label == part.label || p.pin == part.pin) {
                let what = format!("`{}` and `{}` share a label or a pin", other.label, part.label);
                return Err(BoardError::Data(what));
            }
            if (part.kind == PartKind::Oscillator) != part.frequency_hz.is_some_and(|f| f > 0) {
                let what = format!("`{}`: an oscillator, and nothing else, has a `frequency_hz` above 0", part.label);
                return Err(BoardError::Data(what));
            }
        }
        Ok(board)
    }

    /// The position of the part with this label, ignoring case.
    pub fn by_label(&self, label: &str) -> Option<usize> {
        self.parts.iter().position(|p| p.label.eq_ignore_ascii_case(label))
    }

    /// The position of the part at this pin, ignoring case.
    pub fn by_pin(&self, pin: &str) -> Option<usize> {
        self.parts.iter().position(|p| p.pin.eq_ignore_ascii_case(pin))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_shipped_board_has_distinct_labels_and_pins() {
        let board = Board::shipped("pith-8").unwrap();
        assert_eq!(board.parts.iter().filter(|p| p.kind == PartKind::SlideSwitch).count(), 8);
        assert_eq!(board.by_pin("m4"), board.by_label("ld0"));
        assert!(Board::shipped("peel-9").is_err());
    }

    #[test]
    fn two_parts_on_one_pin_are_refused() {
        let text = include_str!("../boards/pith-8.json").replace("\"A2\"", "\"A1\"");
        assert!(Board::from_json(&text).unwrap_err().to_string().contains("`SW7` and `SW6`"));
    }
}
