//! The bench: levels of switches through the wiring into the design, and its outputs through the wiring to lamps.

use crate::level::{Lamp, OutputLevel};
use crate::model::Board;
use crate::wiring::{PortBit, Wiring};

/// A board with a wired design. Inputs and outputs are the design's port bits, inputs most significant first.
#[derive(Clone, Debug)]
pub struct Bench<'a> {
    board: &'a Board,
    wiring: &'a Wiring,
    inputs: Vec<&'a PortBit>,
    outputs: Vec<&'a PortBit>,
}

impl<'a> Bench<'a> {
    /// A bench; `ports` in table order.
    pub fn new(board: &'a Board, wiring: &'a Wiring, ports: &'a [PortBit]) -> Self {
        let (inputs, outputs) = ports.iter().partition(|p| p.is_input);
        Self { board, wiring, inputs, outputs }
    }

    /// How the switches stand for a row of the table: true is on (up, pressed), a value for each part of the board;
    /// parts that no input is wired to stay as in `before`.
    pub fn switches_for_row(&self, row: u64, before: &[bool]) -> Vec<bool> {
        let mut switches: Vec<bool> =
            (0..self.board.parts.len()).map(|i| before.get(i).copied().unwrap_or(false)).collect();
        for (i, input) in self.inputs.iter().enumerate() {
            let level = row >> (self.inputs.len() - 1 - i) & 1 == 1;
            if let Some(end) = self.wiring.ends.get(&input.name)
                && let Some(on) = self.board.part_of(*end).stand_for(level)
            {
                switches[self.board.terminals()[*end].part] = on;
            }
        }
        switches
    }

    /// The levels that reach the design's inputs; `None` for an input that is wired to nothing that a person sets.
    fn input_levels(&self, switches: &[bool]) -> Vec<Option<bool>> {
        self.inputs
            .iter()
            .map(|input| {
                let end = *self.wiring.ends.get(&input.name)?;
                let (part, at) = (self.board.part_of(end), &self.board.terminals()[end]);
                let level = part.level(switches.get(at.part).copied().unwrap_or(false), false);
                (at.drives && part.stand_for(level).is_some()).then_some(level)
            })
            .collect()
    }

    /// The row that the switches select, when every input is wired to one.
    pub fn row(&self, switches: &[bool]) -> Option<u64> {
        self.input_levels(switches).into_iter().try_fold(0u64, |row, level| Some(row << 1 | u64::from(level?)))
    }

    /// What is seen at each terminal of the board (dark where there is nothing to see). `output(row, k)` is the level of
    /// the design's output `k` on a row. With up to ten open inputs an output is known where they don't matter.
    pub fn lamps(&self, switches: &[bool], output: impl Fn(u64, usize) -> OutputLevel) -> Vec<Lamp> {
        let mut given: Vec<Option<OutputLevel>> = vec![None; self.board.terminals().len()];
        let levels = self.input_levels(switches);
        for (k, port) in self.outputs.iter().enumerate() {
            if let Some(end) = self.wiring.ends.get(&port.name) {
                given[*end] = Some(settled(&levels, |row| output(row, k)).joined(given[*end]));
            }
        }
        self.board.seen(&given)
    }
}

fn settled(levels: &[Option<bool>], output: impl Fn(u64) -> OutputLevel) -> OutputLevel {
    let open = levels.iter().filter(|l| l.is_none()).count();
    if open > 10 {
        return OutputLevel::Unknown;
    }
    let mut seen = None;
    for choice in 0..1u64 << open {
        let mut next = 0;
        let row = levels.iter().fold(0u64, |row, level| {
            let bit = level.unwrap_or_else(|| {
                next += 1;
                choice >> (next - 1) & 1 == 1
            });
            row << 1 | u64::from(bit)
        });
        let level = output(row);
        if seen.is_some_and(|s| s != level) {
            return OutputLevel::Unknown;
        }
        seen = Some(level);
    }
    seen.unwrap_or(OutputLevel::Unknown)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ports() -> Vec<PortBit> {
        let bit = |name: &str, is_input| PortBit { name: name.into(), is_input };
        vec![bit("a", true), bit("b", true), bit("f", false)]
    }

    fn wire(board: &Board, pairs: &[(&str, &str)]) -> Wiring {
        let parts = pairs.iter().map(|(bit, label)| ((*bit).to_owned(), board.by_label(label).unwrap())).collect();
        Wiring { ends: parts }
    }

    fn and(row: u64, _: usize) -> OutputLevel {
        if row == 3 { OutputLevel::One } else { OutputLevel::Zero }
    }

    #[test]
    fn lamps_follow_the_switches_and_an_active_low_lamp_lights_on_0() {
        let board = Board::shipped("pith-8").unwrap();
        let ports = ports();
        let lit = |label: &str, row: u64| {
            let wiring = wire(&board, &[("a", "S7"), ("b", "S6"), ("f", label)]);
            let bench = Bench::new(&board, &wiring, &ports);
            let switches = bench.switches_for_row(row, &[]);
            assert_eq!(bench.row(&switches), Some(row));
            bench.lamps(&switches, and)[board.by_label(label).unwrap()]
        };
        assert_eq!((lit("H0", 3), lit("H0", 2)), (Lamp::Lit, Lamp::Dark));
        assert_eq!((lit("H8", 3), lit("H8", 2)), (Lamp::Dark, Lamp::Lit));
    }

    #[test]
    fn a_pressed_active_low_button_is_a_0() {
        let board = Board::shipped("pith-8").unwrap();
        let ports = ports();
        let wiring = wire(&board, &[("a", "SB1"), ("b", "S6"), ("f", "H0")]);
        let bench = Bench::new(&board, &wiring, &ports);
        let mut switches = vec![false; board.parts.len()];
        assert_eq!(bench.row(&switches), Some(2));
        switches[board.by_label("SB1").unwrap()] = true;
        assert_eq!(bench.row(&switches), Some(0));
    }

    #[test]
    fn an_open_input_makes_a_lamp_unknown_only_where_it_matters() {
        let board = Board::shipped("pith-8").unwrap();
        let ports = ports();
        let wiring = wire(&board, &[("a", "S7"), ("f", "H0")]);
        let bench = Bench::new(&board, &wiring, &ports);
        let lamp = board.by_label("H0").unwrap();
        assert_eq!(bench.lamps(&bench.switches_for_row(0, &[]), and)[lamp], Lamp::Dark);
        assert_eq!(bench.lamps(&bench.switches_for_row(2, &[]), and)[lamp], Lamp::Unknown);
        assert_eq!(bench.row(&bench.switches_for_row(2, &[])), None);
    }
}
