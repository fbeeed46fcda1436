//! What the inputs of a design do over time without a testbench: every combination, clocks, constants, patterns, edges.
//!
//! Each input has a line of text. Times are in nanoseconds, values are decimal, `0x…`, `0b…` or `x` for unknown.
//!
//! | line | does |
//! |---|---|
//! | `count` | takes part in the count through all combinations, a step each |
//! | `clock 20` | rises and falls once in 20 ns, low first; `clock 20 high 5`, `clock 20 start 1` |
//! | `hold 1` | stays at a value |
//! | `pattern 0 1 1*3 0` | a value each step, `*3` three times; the last one stays, or `repeat` at the end starts anew |
//! | `edges 0=0 35=1 60=0` | takes a value at a time |

use exercise::Exercise;
use serde::{Deserialize, Serialize};
use std::fmt::Write as _;

/// The stimulus of a design.
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Stimulus {
    /// How long it takes, in nanoseconds.
    pub length_ns: f64,
    /// How long a step takes, in nanoseconds.
    pub step_ns: f64,
    /// What each input does, in the order of the ports; inputs that are left out count.
    pub inputs: Vec<InputStimulus>,
}

/// What an input does.
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct InputStimulus {
    /// Name of the port.
    pub input: String,
    /// A line as the table above has it.
    pub line: String,
}

/// An input that is to be driven.
#[derive(Clone, Debug)]
pub struct Port {
    pub name: String,
    pub width: u32,
    pub range: String,
}

#[derive(Clone, Debug, PartialEq)]
pub enum Drive {
    Count,
    /// Period, time high and whether it is high first; in picoseconds.
    Clock {
        period: u64,
        high: u64,
        high_first: bool,
    },
    Hold(String),
    Pattern {
        values: Vec<String>,
        repeats: bool,
    },
    Edges(Vec<(u64, String)>),
}

/// Longest stimulus, in nanoseconds, and most changes that a line may make.
const MAX_LENGTH_NS: f64 = 1e9;
const MAX_VALUES: usize = 10_000;
/// Most bits that the values of a line may have together.
const MAX_BITS: usize = 1_000_000;
/// Most steps that are counted through, by default.
const MAX_ROWS: u64 = 1_024;
const STEP_NS: f64 = 20.0;
const CYCLES: f64 = 48.0;

/// What is wrong with a stimulus, with what to write instead.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum StimulusError {
    /// The step is too short or too long.
    #[error("A step takes 0.002 ns at least; write for example 20.")]
    Step,
    /// The whole is too short or too long.
    #[error("The length is one step at least and 1 s at most; write for example 400 ns.")]
    Length,
    /// An input that is not there, beside those that are.
    #[error("The design has no input `{0}`; its inputs are {1}.")]
    NoInput(String, String),
    /// The line of an input, with what is wrong there.
    #[error("`{0}`: {1}")]
    Line(String, String),
}

impl Stimulus {
    /// The usual one of an exercise: all combinations in binary order; where there is a clock it ticks once a step,
    /// the other inputs change away from its edge, and the reset holds for two cycles.
    pub fn of_exercise(exercise: &Exercise) -> Self {
        let inputs: Vec<(&str, u32)> =
            exercise.ports.iter().filter(|p| p.is_input).map(|p| (p.name.as_str(), p.shape.width())).collect();
        let Some(clocked) = exercise.clocked() else { return Self::usual(&inputs, None, None) };
        let reset = clocked.reset.as_ref().map(|r| (r.port.as_str(), r.active_high));
        Self::usual(&inputs, Some((&clocked.clock, clocked.rising)), reset)
    }

    /// The usual one of ports that nothing is known about but their names.
    pub fn of_ports(ports: &[Port]) -> Self {
        let inputs: Vec<(&str, u32)> = ports.iter().map(|p| (p.name.as_str(), p.width)).collect();
        let named = |words: &[&str]| {
            let fits = |(name, width): &&(&str, u32)| {
                let low = name.to_ascii_lowercase();
                *width == 1 && words.iter().any(|w| low.contains(w))
            };
            inputs.iter().find(fits).map(|(name, _)| *name)
        };
        let clock = named(&["clk", "clock"]).map(|name| (name, true));
        let reset = named(&["rst", "reset", "clear"]).map(|name| {
            let low = name.to_ascii_lowercase();
            (name, !(low.ends_with("_n") || low.ends_with('n') && low.len() <= 5))
        });
        Self::usual(&inputs, clock, reset)
    }

    fn usual(inputs: &[(&str, u32)], clock: Option<(&str, bool)>, reset: Option<(&str, bool)>) -> Self {
        let line = |name: &str| match (clock, reset) {
            // Values change where the clock does the other thing: its first edge comes half a step later.
            (Some((clock, rising)), _) if clock == name => {
                format!("clock {STEP_NS}{}", if rising { "" } else { " start 1" })
            }
            (_, Some((reset, high))) if reset == name => {
                let (on, off) = (u8::from(high), u8::from(!high));
                if clock.is_some() { format!("edges 0={on} {}={off}", 2.0 * STEP_NS) } else { format!("hold {off}") }
            }
            _ => "count".into(),
        };
        let lines = inputs.iter().map(|(name, _)| InputStimulus { input: (*name).to_owned(), line: line(name) });
        let lines: Vec<InputStimulus> = lines.collect();
        let bits: u32 = inputs.iter().zip(&lines).filter(|(_, l)| l.line == "count").map(|((_, w), _)| *w).sum();
        let rows = if bits < 10 { 1 << bits } else { MAX_ROWS };
        let length_ns = match clock {
            Some(_) => STEP_NS * CYCLES.max((rows as f64 + 2.0).min(256.0)),
            None => STEP_NS * rows as f64,
        };
        Self { length_ns, step_ns: STEP_NS, inputs: lines }
    }

    /// Can it drive the inputs of an exercise?
    ///
    /// # Errors
    /// One sentence that names the input and what to write instead.
    pub fn validate(&self, exercise: &Exercise) -> Result<(), StimulusError> {
        let ports: Vec<Port> = exercise
            .ports
            .iter()
            .filter(|p| p.is_input)
            .map(|p| Port { name: p.name.clone(), width: p.shape.width(), range: p.shape.to_string() })
            .collect();
        self.drives(&ports).map(|_| ())
    }

    /// What each port does.
    ///
    /// # Errors
    /// One sentence that names the input and what to write instead.
    pub fn drives(&self, ports: &[Port]) -> Result<Vec<Drive>, StimulusError> {
        if !(self.step_ns >= 0.002 && self.step_ns <= MAX_LENGTH_NS) {
            return Err(StimulusError::Step);
        }
        if !(self.length_ns >= self.step_ns && self.length_ns <= MAX_LENGTH_NS) {
            return Err(StimulusError::Length);
        }
        let known = |name: &str| ports.iter().any(|p| p.name.eq_ignore_ascii_case(name));
        if let Some(strange) = self.inputs.iter().find(|i| !known(&i.input)) {
            let names: Vec<&str> = ports.iter().map(|p| p.name.as_str()).collect();
            return Err(StimulusError::NoInput(strange.input.clone(), names.join(", ")));
        }
        ports
            .iter()
            .map(|port| {
                let line = self.inputs.iter().find(|i| i.input.eq_ignore_ascii_case(&port.name));
                line.map_or(Ok(Drive::Count), |l| {
                    parse(&l.line, port.width).map_err(|why| StimulusError::Line(port.name.clone(), why))
                })
            })
            .collect()
    }
}

fn picoseconds(word: &str) -> Result<u64, String> {
    let time: f64 =
        word.parse().map_err(|_| format!("`{word}` is not a time; write nanoseconds, such as 20 or 2.5."))?;
    if !(0.0..=MAX_LENGTH_NS).contains(&time) {
        return Err(format!("{word} ns can't be run; write a time from 0 to 1000000000."));
    }
    Ok((time * 1e3).round() as u64)
}

/// A value as bits, the most significant first.
fn value(word: &str, width: u32) -> Result<String, String> {
    let lower = word.to_ascii_lowercase().replace('_', "");
    let wide = width as usize;
    if lower == "x" || lower == "z" {
        return Ok(lower.repeat(wide));
    }
    let bad = || format!("`{word}` is not a value; write a number, 0x…, 0b… or x.");
    let bits = if let Some(digits) = lower.strip_prefix("0b") {
        let ok = !digits.is_empty() && digits.chars().all(|c| matches!(c, '0' | '1' | 'x' | 'z'));
        if !ok {
            return Err(bad());
        }
        digits.to_owned()
    } else if let Some(digits) = lower.strip_prefix("0x") {
        let nibble = |c: char| c.to_digit(16).map(|d| format!("{d:04b}"));
        digits.chars().map(nibble).collect::<Option<String>>().filter(|b| !b.is_empty()).ok_or_else(bad)?
    } else if let Some(digits) = lower.strip_prefix('-') {
        let number: i128 = digits.parse::<i128>().map_err(|_| bad())?;
        if width > 100 || number > 1 << (width - 1) {
            return Err(format!("{word} doesn't fit into {width} bits."));
        }
        let number = (1i128 << width) - number;
        format!("{number:0wide$b}").chars().rev().take(wide).collect::<Vec<_>>().iter().rev().collect()
    } else {
        let number: u128 = lower.parse().map_err(|_| bad())?;
        format!("{number:b}")
    };
    let bits = bits.trim_start_matches('0');
    if bits.len() > wide {
        return Err(format!(
            "{word} doesn't fit into {}.",
            if width == 1 { "1 bit".into() } else { format!("{width} bits") }
        ));
    }
    Ok(format!("{bits:0>wide$}"))
}

/// Most values of a line for an input of so many bits.
fn most(width: u32) -> usize {
    (MAX_BITS / width.max(1) as usize).clamp(1, MAX_VALUES)
}

fn parse(line: &str, width: u32) -> Result<Drive, String> {
    let mut words = line.split_whitespace();
    let kind = words.next().unwrap_or("");
    match kind {
        "count" if words.clone().next().is_none() => Ok(Drive::Count),
        "clock" => clock(words, width),
        "hold" => match (words.next(), words.next()) {
            (Some(word), None) => Ok(Drive::Hold(value(word, width)?)),
            _ => Err("write one value behind `hold`, such as `hold 1`.".into()),
        },
        "pattern" => {
            let mut values = Vec::new();
            let mut repeats = false;
            for word in words {
                if word == "repeat" {
                    repeats = true;
                    continue;
                }
                let (word, times) = match word.split_once('*') {
                    Some((word, times)) => {
                        (word, times.parse::<usize>().map_err(|_| format!("`{times}` is not a number of steps."))?)
                    }
                    None => (word, 1),
                };
                if values.len().saturating_add(times) > most(width) {
                    return Err(format!("a pattern of this input has {} values at most.", most(width)));
                }
                values.extend(std::iter::repeat_n(value(word, width)?, times));
            }
            if values.is_empty() {
                return Err("write values behind `pattern`, such as `pattern 0 1 1 0`.".into());
            }
            Ok(Drive::Pattern { values, repeats })
        }
        "edges" => {
            let mut edges = Vec::new();
            for word in words {
                let (time, level) = word
                    .split_once('=')
                    .ok_or_else(|| format!("`{word}` is not an edge; write time=value, such as 35=1."))?;
                edges.push((picoseconds(time)?, value(level, width)?));
            }
            if edges.is_empty() || edges.len() > most(width) {
                return Err(format!("write 1 to {} edges as time=value, such as `edges 0=0 35=1`.", most(width)));
            }
            edges.sort_by_key(|(time, _)| *time);
            Ok(Drive::Edges(edges))
        }
        _ => Err(format!("`{line}` is not a stimulus; begin it with count, clock, hold, pattern or edges.")),
    }
}

fn clock<'w>(mut words: impl Iterator<Item = &'w str>, width: u32) -> Result<Drive, String> {
    if width != 1 {
        return Err("only a single bit can be a clock.".into());
    }
    let period = picoseconds(words.next().ok_or("write the period behind `clock`, such as `clock 20`.")?)?;
    if period < 2 {
        return Err("a clock's period is 0.002 ns at least.".into());
    }
    let (mut high, mut high_first) = (period / 2, false);
    while let Some(word) = words.next() {
        match (word, words.next()) {
            ("high", Some(time)) => high = picoseconds(time)?,
            ("start", Some(level @ ("0" | "1"))) => high_first = level == "1",
            _ => return Err(format!("`{word}` is not known here; write `clock 20 high 5` or `clock 20 start 1`.")),
        }
    }
    if high == 0 || high >= period {
        return Err("the time high is more than nothing and less than the period.".into());
    }
    Ok(Drive::Clock { period, high, high_first })
}

/// The Verilog module that drives the ports: `declarations` and `instance` are those of the unit that is driven.
pub(super) fn module(
    (name, declarations, instance): (&str, &str, &str),
    ports: &[Port],
    drives: &[Drive],
    stimulus: &Stimulus,
) -> String {
    let picoseconds = |ns: f64| (ns * 1e3).round() as u64;
    let step = picoseconds(stimulus.step_ns).max(1);
    let mut text = format!("`timescale 1ps / 1ps\nmodule {name};\n{declarations}");
    for port in ports {
        let range = if port.range.is_empty() { String::new() } else { format!("{} ", port.range) };
        let _ = writeln!(text, "  reg {range}{};", port.name);
    }
    text.push_str(instance);
    // Delays have 64 bits: a number without a size has 32, which 2 ms in picoseconds don't fit into.
    let has_clock = drives.iter().any(|d| matches!(d, Drive::Clock { .. }));
    // Beside a clock the others change like registers: an edge at the same time still sees what was before.
    let arrow = if has_clock { "<=" } else { "=" };
    let mut counted = Vec::new();
    for (port, drive) in ports.iter().zip(drives) {
        let Port { name, width, .. } = port;
        let set = |bits: &str| format!("{name} {arrow} {width}'b{bits};");
        match drive {
            Drive::Count => counted.push(port),
            Drive::Clock { period, high, high_first } => {
                let low = period - high;
                let (first, then) = if *high_first { ((1, *high), (0, low)) } else { ((0, low), (1, *high)) };
                let _ = writeln!(
                    text,
                    "  initial forever begin {name} = {}; #64'd{}; {name} = {}; #64'd{}; end",
                    first.0, first.1, then.0, then.1
                );
            }
            Drive::Hold(bits) => {
                let _ = writeln!(text, "  initial {}", set(bits));
            }
            Drive::Pattern { values, repeats } => {
                let steps: Vec<String> = values.iter().map(|v| format!("{} #64'd{step};", set(v))).collect();
                let forever = if *repeats { "forever " } else { "" };
                let _ = writeln!(text, "  initial {forever}begin {} end", steps.join(" "));
            }
            Drive::Edges(edges) => {
                let mut at = 0;
                let mut steps = Vec::new();
                for (time, bits) in edges {
                    if *time > at {
                        steps.push(format!("#64'd{};", time - at));
                        at = *time;
                    }
                    steps.push(set(bits));
                }
                let _ = writeln!(text, "  initial begin {} end", steps.join(" "));
            }
        }
    }
    if !counted.is_empty() {
        let bits: u32 = counted.iter().map(|p| p.width).sum();
        let names: Vec<&str> = counted.iter().map(|p| p.name.as_str()).collect();
        let _ = writeln!(
            text,
            "  reg [{}:0] the_row;\n  initial begin the_row = 0; forever begin {{{}}} {arrow} the_row; #64'd{step}; the_row = the_row + 1; end end",
            bits - 1,
            names.join(", ")
        );
    }
    let _ = writeln!(text, "  initial begin #64'd{}; $finish; end\nendmodule", picoseconds(stimulus.length_ns).max(1));
    text
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lines_say_what_an_input_does() {
        assert_eq!(parse("count", 3), Ok(Drive::Count));
        assert_eq!(parse("clock 20", 1), Ok(Drive::Clock { period: 20_000, high: 10_000, high_first: false }));
        assert_eq!(
            parse("clock 20 high 2.5 start 1", 1),
            Ok(Drive::Clock { period: 20_000, high: 2_500, high_first: true })
        );
        assert_eq!(parse("hold 0x2f", 8), Ok(Drive::Hold("00101111".into())));
        assert_eq!(parse("hold -3", 4), Ok(Drive::Hold("1101".into())));
        let values = ["00", "01", "01", "11"].map(str::to_owned).to_vec();
        assert_eq!(parse("pattern 0 1*2 0b11 repeat", 2), Ok(Drive::Pattern { values, repeats: true }));
        assert_eq!(
            parse("edges 35=1 0=0", 1),
            Ok(Drive::Edges(vec![(0, "0".into()), (35_000, "1".into())])),
            "edges may stand in any order"
        );
    }

    #[test]
    fn a_wrong_line_is_told_with_what_to_write() {
        for (line, width, part) in [
            ("wobble", 1, "begin it with count, clock"),
            ("clock", 1, "write the period"),
            ("clock 20 high 20", 1, "less than the period"),
            ("clock 20", 2, "only a single bit"),
            ("hold 4", 2, "doesn't fit into 2 bits"),
            ("hold 2", 1, "doesn't fit into 1 bit."),
            ("hold -9", 4, "doesn't fit"),
            ("pattern", 1, "pattern 0 1 1 0"),
            ("pattern 0*99999999999", 1, "10000 values at most"),
            ("pattern x*16", 65_536, "15 values at most"),
            ("pattern 0q1", 1, "is not a value"),
            ("edges 10", 1, "time=value"),
            ("edges -5=1", 1, "can't be run"),
            ("edges 1e99=1", 1, "can't be run"),
        ] {
            let told = parse(line, width).unwrap_err();
            assert!(told.contains(part), "{line}: {told}");
        }
    }
}
