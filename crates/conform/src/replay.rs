//! A difference is run again by the event simulator before it is shown: the netlist and the simulator read the same
//! source by two ways, and a fault of one of them must not become a fault of the student.

use base::{Budget, Span};
use design::{Design, LevelSet, SignalId, TypeKind};
use exercise::Exercise;
use logic::{Level, LogicVector};
use sim::{SimOptions, Stepped};

/// Steps of a replay.
const STEPS: u64 = 3_000_000;
/// Femtoseconds from when all has come to rest to the next moment, a millisecond.
const MOMENT: u64 = 1_000_000_000_000;

/// A design in the event simulator, with its ports in the exercise's order.
struct Replay<'d> {
    simulation: Stepped<'d>,
    /// Input ports with their widths.
    inputs: Vec<(SignalId, u32)>,
    outputs: Vec<SignalId>,
}

impl<'d> Replay<'d> {
    /// The design at time 0, its inputs unknown; `None` where it lacks a port, or ended by itself already.
    fn new(exercise: &Exercise, design: &'d Design, options: SimOptions, budget: &Budget) -> Option<Self> {
        let options = SimOptions { steps: STEPS, cancel: budget.cancel_flag(), ..options };
        let (mut inputs, mut outputs) = (Vec::new(), Vec::new());
        for port in &exercise.ports {
            let signal = port_of(design, &port.name)?;
            let width = design.signal_width(signal);
            if width != port.shape.width() {
                return None;
            }
            if port.is_input {
                inputs.push((signal, width));
            } else {
                outputs.push(signal);
            }
        }
        let mut simulation = Stepped::new(design, &options);
        for (signal, width) in inputs.iter().filter(|(signal, _)| may_be_unknown(design, *signal)) {
            simulation.set(*signal, LogicVector::filled(*width, Level::Unknown));
        }
        // Every process comes to its first wait before an input has a level: an edge at time 0 is one for all of them or none.
        simulation.advance(0).then_some(Self { simulation, inputs, outputs })
    }

    /// Sets the inputs, a letter 0 or 1 a bit in the exercise's order, and lets all come to rest. False when it ended meanwhile.
    fn step(&mut self, levels: &str) -> bool {
        let mut letters = levels.bytes();
        for (signal, width) in &self.inputs {
            let mut value = LogicVector::filled(*width, Level::Zero);
            for (bit, letter) in (0..*width).rev().zip(letters.by_ref()) {
                value.set(bit, Level::from(letter == b'1'));
            }
            self.simulation.set(*signal, value);
        }
        // A delay may be of any length.
        self.simulation.settle() && self.simulation.advance(MOMENT)
    }

    /// Levels of the outputs: 0, 1, z or x, weak levels as strong ones.
    fn levels(&self) -> String {
        let letter = |level: Level| match (level.known(), level) {
            (Some(true), _) => '1',
            (Some(false), _) => '0',
            (None, Level::HighZ) => 'z',
            _ => 'x',
        };
        let bits = |signal: &SignalId| {
            let value = self.simulation.level(*signal);
            (0..value.width()).rev().map(|bit| letter(value.get(bit))).collect::<String>()
        };
        self.outputs.iter().map(bits).collect()
    }
}

/// Numbers, truth values and VHDL's `bit` always have a level.
fn may_be_unknown(design: &Design, signal: SignalId) -> bool {
    matches!(&design.types[design.signals[signal].ty].kind, TypeKind::Logic { levels, .. } if *levels != LevelSet::Two)
}

fn port_of(design: &Design, name: &str) -> Option<SignalId> {
    let named = |s: &SignalId| design.signals[*s].name.as_str();
    let signals = || design.scopes[design.top].ports.iter().map(|p| p.signal);
    signals().find(|s| named(s) == name).or_else(|| signals().find(|s| named(s).eq_ignore_ascii_case(name)))
}

/// Whether, on each of some rows (input bits in the exercise's order), the simulated outputs are those of the netlist.
/// Each row comes after the opposite of all its inputs. `None` where the simulator can't run the design.
pub fn agrees(exercise: &Exercise, design: &Design, rows: &[(String, String)], budget: &Budget) -> Option<Vec<bool>> {
    if rows.is_empty() {
        return None;
    }
    let mut replay = Replay::new(exercise, design, SimOptions::default(), budget)?;
    let mut found = Vec::with_capacity(rows.len());
    for (inputs, outputs) in rows {
        let opposite: String = inputs.chars().map(|c| if c == '1' { '0' } else { '1' }).collect();
        if !replay.step(&opposite) || !replay.step(inputs) {
            return None;
        }
        found.push(outputs.eq_ignore_ascii_case(&replay.levels()));
    }
    Some(found)
}

/// A moment of a run: what goes in, and the outputs that the netlist has then.
pub struct Moment {
    /// Levels of the input ports, the clock among them.
    pub inputs: String,
    /// Levels of the outputs; anything but 0 and 1 is not compared.
    pub outputs: String,
}

/// The first of some moments, which follow one another, at which the simulated outputs are not those of the netlist, with
/// the simulated ones or with what ended the simulation there. `None` where they agree, or where the simulator can't run the
/// design. A level that only the simulator finds unknown differs where `strict`.
pub fn first_other(
    exercise: &Exercise,
    design: &Design,
    (moments, strict): (&[Moment], bool),
    budget: &Budget,
) -> Option<(usize, Other)> {
    if moments.is_empty() {
        return None;
    }
    let mut replay = Replay::new(exercise, design, SimOptions::default(), budget)?;
    let differs = |moment: &Moment, line: &str| {
        moment.outputs.chars().zip(line.chars()).any(|(wanted, is)| match is {
            '0' | '1' => matches!(wanted, '0' | '1') && wanted != is,
            _ => strict && matches!(wanted, '0' | '1'),
        })
    };
    for (k, moment) in moments.iter().enumerate() {
        if !replay.step(&moment.inputs) {
            // At time 0, before any input has a level, a number may lie anywhere: that says nothing of the design at work.
            let by_assertion = replay.simulation.has_failed() && replay.simulation.time() > 0;
            let message = replay.simulation.output().lines().last().unwrap_or_default().to_owned();
            return by_assertion.then_some((k, Other::Ended(message)));
        }
        let line = replay.levels();
        if differs(moment, &line) {
            return Some((k, Other::Levels(line)));
        }
    }
    None
}

/// The stretch of the sources that gave an output's bit its level at the end of some moments, which follow one another.
/// `None` where the simulator can't run the design, or nothing was assigned.
pub fn ran(
    exercise: &Exercise,
    design: &Design,
    inputs: &[String],
    (port, bit): (&str, u32),
    budget: &Budget,
) -> Option<Span> {
    if inputs.is_empty() {
        return None;
    }
    let signal = port_of(design, port)?;
    let options = SimOptions { wanted: vec![(signal, bit)], ..SimOptions::default() };
    let mut replay = Replay::new(exercise, design, options, budget)?;
    for levels in inputs {
        if !replay.step(levels) {
            break;
        }
    }
    replay.simulation.assigned_at(signal, bit)
}

/// What a simulation does otherwise.
pub enum Other {
    /// Its outputs have these levels.
    Levels(String),
    /// An assertion ends it.
    Ended(String),
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;
    use base::{SourceFile, SourceMap};
    use std::collections::BTreeMap;

    #[test]
    fn ports_may_have_any_name_of_their_language() {
        // `reg` and `wire` are reserved in Verilog and nothing in VHDL.
        let text = "format = \"zesty-gate/exercise/1\"\ntitle = \"T\"\n[[port]]\nname = \"reg\"\ndir = \"in\"\nrange = \"1:0\"\n\
                    [[port]]\nname = \"wire\"\ndir = \"in\"\n[[port]]\nname = \"y\"\ndir = \"out\"\nrange = \"0:1\"\n[behaviour]\n\
                    kind = \"expressions\"\n[behaviour.outputs]\n\"y[0]\" = \"reg[1] & wire\"\n\"y[1]\" = \"reg[0]\"\n";
        let exercise = Exercise::alone(text).unwrap();
        let source = "library ieee; use ieee.std_logic_1164.all; entity e is port (wire : in bit;
            reg : in std_logic_vector(1 downto 0); y : out std_logic_vector(0 to 1)); end;
            architecture x of e is begin y(0) <= reg(1) when wire = '1' else '0'; y(1) <= reg(0) after 5 ns; end;";
        let mut sources = SourceMap::new();
        sources.add(SourceFile::new("e.vhd", source));
        let units = elab::parse(&sources, BTreeMap::new(), &mut Budget::hand_in());
        let top = units.list().remove(0);
        let design = elab::elaborate(&units, &top, elab::Fitting::default(), &mut Budget::hand_in()).whole.unwrap();
        let moment = |inputs: &str, outputs: &str| Moment { inputs: inputs.into(), outputs: outputs.into() };
        // In the exercise's order: reg[1], reg[0], wire; then y[0], y[1].
        let right =
            [moment("000", "00"), moment("101", "10"), moment("010", "01"), moment("111", "11"), moment("110", "01")];
        assert!(first_other(&exercise, &design, (&right, true), &Budget::hand_in()).is_none());
        let wrong = [moment("101", "10"), moment("110", "11")];
        let Some((1, Other::Levels(levels))) = first_other(&exercise, &design, (&wrong, true), &Budget::hand_in())
        else {
            unreachable!("the second moment differs");
        };
        assert_eq!(levels, "01");
        let ways = ["101".to_owned(), "110".to_owned()];
        let span = ran(&exercise, &design, &ways, ("y", 0), &Budget::hand_in()).unwrap();
        assert!(sources.text(span).contains("reg(0)"), "{}", sources.text(span));
    }

    #[test]
    fn a_delay_of_any_length_is_waited_for() {
        // IEEE 1364-2005 19.8: a time unit may be up to 100 s.
        let text = "format = \"zesty-gate/exercise/1\"\ntitle = \"T\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n[[port]]\nname = \"y\"\n\
                    dir = \"out\"\n[behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\ny = \"!a\"\n";
        let exercise = Exercise::alone(text).unwrap();
        for unit in ["1fs", "1ns", "1ms", "1s", "100s"] {
            let mut sources = SourceMap::new();
            let source = format!("`timescale {unit}/{unit}\nmodule m(input a, output y); assign #3 y = ~a; endmodule");
            sources.add(SourceFile::new("m.v", &source));
            let units = elab::parse(&sources, BTreeMap::new(), &mut Budget::hand_in());
            let top = units.list().remove(0);
            let design = elab::elaborate(&units, &top, elab::Fitting::default(), &mut Budget::hand_in()).whole.unwrap();
            let moment = |inputs: &str, outputs: &str| Moment { inputs: inputs.into(), outputs: outputs.into() };
            let right = [moment("0", "1"), moment("1", "0"), moment("0", "1")];
            assert!(first_other(&exercise, &design, (&right, true), &Budget::hand_in()).is_none(), "{unit}");
            let wrong = [moment("0", "1"), moment("1", "1")];
            assert!(first_other(&exercise, &design, (&wrong, true), &Budget::hand_in()).is_some(), "{unit}");
        }
    }

    #[test]
    fn levels_of_a_netlist_that_were_wrong_would_be_noticed() {
        let text = "format = \"zesty-gate/exercise/1\"\ntitle = \"T\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n[[port]]\nname = \"b\"\n\
                    dir = \"in\"\n[[port]]\nname = \"y\"\ndir = \"out\"\nrange = \"1:0\"\n[behaviour]\nkind = \"expressions\"\n\
                    [behaviour.outputs]\ny = \"a + b\"\n";
        let exercise = Exercise::alone(text).unwrap();
        let source = "library ieee; use ieee.std_logic_1164.all; entity add is port (a, b : in std_logic;
            y : out std_logic_vector(1 downto 0)); end; architecture x of add is begin y <= (a and b) & (a xor b); end;";
        let mut sources = SourceMap::new();
        sources.add(SourceFile::new("add.vhd", source));
        let units = elab::parse(&sources, BTreeMap::new(), &mut Budget::hand_in());
        let top = units.list().remove(0);
        let design = elab::elaborate(&units, &top, elab::Fitting::default(), &mut Budget::hand_in()).whole.unwrap();
        let row = |inputs: &str, outputs: &str| (inputs.to_owned(), outputs.to_owned());
        let rows = [row("00", "00"), row("01", "01"), row("10", "11"), row("11", "10")];
        let found = agrees(&exercise, &design, &rows, &Budget::hand_in());
        assert_eq!(found, Some(vec![true, true, false, true]));
        assert_eq!(agrees(&exercise, &design, &[], &Budget::hand_in()), None);
    }
}
