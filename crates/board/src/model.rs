//! A board as data: its device and its parts.

use crate::level::{Lamp, OutputLevel};
use crate::part::{Part, Terminal};
use serde::{Deserialize, Serialize};

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
    /// The pins of the device that they are joined to.
    #[serde(skip)]
    terminals: Vec<Terminal>,
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
    /// Short names of the boards that ship.
    pub const SHIPPED: [&'static str; 1] = ["pith-8"];

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
        let mut board: Board = serde_json::from_str(text).map_err(|e| BoardError::Data(e.to_string()))?;
        if board.format != "zesty-gate/board/1" {
            return Err(BoardError::Data(format!("`format` is `{}`, not `zesty-gate/board/1`", board.format)));
        }
        if !(2..=6).contains(&board.device.lut_inputs) {
            let what = format!("`lut_inputs` is {}; a look-up table has 2 to 6 inputs", board.device.lut_inputs);
            return Err(BoardError::Data(what));
        }
        for (i, part) in board.parts.iter().enumerate() {
            if let Some(fault) = part.fault() {
                return Err(BoardError::Data(fault));
            }
            for terminal in part.terminals(i) {
                let same = |t: &&Terminal| {
                    t.label.eq_ignore_ascii_case(&terminal.label) || t.pin.eq_ignore_ascii_case(&terminal.pin)
                };
                if let Some(other) = board.terminals.iter().find(same) {
                    let what = format!("`{}` and `{}` share a label or a pin", other.label, terminal.label);
                    return Err(BoardError::Data(what));
                }
                board.terminals.push(terminal);
            }
        }
        Ok(board)
    }

    /// The pins of the device that the parts are joined to, in the order of the parts. Wiring names them by their position.
    pub fn terminals(&self) -> &[Terminal] {
        &self.terminals
    }

    /// The position of the terminal with this label, or that had it before, ignoring case.
    pub fn by_label(&self, label: &str) -> Option<usize> {
        let named = |of: &dyn Fn(&Terminal) -> Option<&str>| {
            self.terminals.iter().position(|t| of(t).is_some_and(|l| l.eq_ignore_ascii_case(label)))
        };
        named(&|t| Some(&t.label)).or_else(|| named(&|t| t.former.as_deref()))
    }

    /// The position of the terminal at this pin, ignoring case.
    pub fn by_pin(&self, pin: &str) -> Option<usize> {
        self.terminals.iter().position(|t| t.pin.eq_ignore_ascii_case(pin))
    }

    /// What is seen at each terminal when the design gives these levels, one a terminal; nothing: it drives none there.
    pub fn seen(&self, given: &[Option<OutputLevel>]) -> Vec<Lamp> {
        let lamp = |(at, terminal): (usize, &Terminal)| match given.get(at).copied().flatten() {
            Some(level) if !terminal.drives => self.parts[terminal.part].shows(level),
            _ => Lamp::Dark,
        };
        self.terminals.iter().enumerate().map(lamp).collect()
    }

    /// What is seen of each part that has one terminal, by what is seen at the terminals; dark for others.
    pub fn by_part(&self, seen: &[Lamp]) -> Vec<Lamp> {
        let mut lamps = vec![Lamp::Dark; self.parts.len()];
        for (terminal, lamp) in self.terminals.iter().zip(seen) {
            lamps[terminal.part] = *lamp;
        }
        lamps
    }

    /// The part that a terminal belongs to.
    pub fn part_of(&self, terminal: usize) -> &Part {
        &self.parts[self.terminals[terminal].part]
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::part::PartKind;

    #[test]
    fn the_shipped_board_has_distinct_labels_and_pins() {
        let board = Board::shipped("pith-8").unwrap();
        assert_eq!(board.parts.iter().filter(|p| p.kind == PartKind::SlideSwitch).count(), 8);
        assert_eq!(board.by_pin("m4"), board.by_label("h0"));
        // What it was called before is still understood.
        assert_eq!(board.by_label("LD0"), board.by_label("H0"));
        assert_eq!(board.by_label("OSC"), board.by_label("G1"));
        assert!(Board::shipped("peel-9").is_err());
    }

    #[test]
    fn two_parts_on_one_pin_are_refused() {
        let text = include_str!("../boards/pith-8.json").replace("\"A2\"", "\"A1\"");
        assert!(Board::from_json(&text).unwrap_err().to_string().contains("`S7` and `S6`"));
    }
}
