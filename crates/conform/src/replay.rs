//! A difference is run again by the event simulator before it is shown: the netlist and the simulator read the same
//! source by two ways, and a fault of one of them must not become a fault of the student.

use base::{Budget, SourceMap, Span};
use elab::{HandInFile, Language, SimulationRequest, Unit, run_simulation};
use exercise::Exercise;
use std::collections::BTreeMap;
use std::fmt::Write;

/// Steps of a replay.
const STEPS: u64 = 3_000_000;
/// Time units from one moment to the next.
const MOMENT: u32 = 1_000_000;
/// Name of the file and of the module.
const BENCH: &str = "zesty_gate_replay";

/// Whether, on each of some rows (input bits in the exercise's order), the simulated outputs are those of the netlist.
/// `None` where the simulator can't run the design.
pub fn agrees(
    exercise: &Exercise,
    (sources, data): (&SourceMap, &BTreeMap<String, String>),
    top: &Unit,
    rows: &[(String, String)],
    budget: &Budget,
) -> Option<Vec<bool>> {
    if rows.is_empty() || !can_be_named(exercise, top) {
        return None;
    }
    let (lines, _) = written(sources, data, bench(exercise, top, rows), budget)?;
    if lines.len() != rows.len() {
        return None;
    }
    Some(rows.iter().zip(lines).map(|((_, outputs), line)| outputs.eq_ignore_ascii_case(&line)).collect())
}

/// Can a bench, which is written in Verilog, name the unit and its ports?
fn can_be_named(exercise: &Exercise, top: &Unit) -> bool {
    let names = exercise.ports.iter().map(|p| p.name.as_str()).chain([top.name.as_str()]);
    !names.into_iter().any(|name| Language::Verilog.is_reserved(name))
}

/// What a bench around the design writes, and what ended the simulation before its end, if an assertion did. `None` where it
/// can't be run.
fn written(
    sources: &SourceMap,
    data: &BTreeMap<String, String>,
    bench: String,
    budget: &Budget,
) -> Option<(Vec<String>, Option<String>)> {
    let files = files_with(sources, data, bench);
    let request = SimulationRequest { top: Some(BENCH.into()), steps: Some(STEPS), ..SimulationRequest::default() };
    let found = run_simulation(&files, &request, budget).ok()?;
    let lines = found.output.lines().filter_map(|l| l.strip_prefix(BENCH)).map(|l| l.trim().to_owned()).collect();
    // At time 0, before any input has a level, a number may lie anywhere: that says nothing of the design at work.
    let ended = (found.assertions.failure > 0 && found.time_fs > 0)
        .then(|| found.output.lines().last().unwrap_or_default().to_owned());
    Some((lines, ended))
}

/// A moment of a run: what goes in, and the outputs that the netlist has then.
pub struct Moment {
    /// Levels of the input ports, the clock among them.
    pub inputs: String,
    /// Levels of the outputs; anything but 0 and 1 is not compared.
    pub outputs: String,
}

/// The first of some moments, which follow one another, at which the simulated outputs are not those of the netlist, with
/// the simulated ones or with what ended the simulation there. `None` where they agree, or where the simulator can't run the design. A level that only the
/// simulator finds unknown differs where `strict`.
pub fn first_other(
    exercise: &Exercise,
    (sources, data): (&SourceMap, &BTreeMap<String, String>),
    top: &Unit,
    (moments, strict): (&[Moment], bool),
    budget: &Budget,
) -> Option<(usize, Other)> {
    if moments.is_empty() || !can_be_named(exercise, top) {
        return None;
    }
    let frame = Frame::new(exercise, top);
    let mut text = frame.text;
    for moment in moments {
        let width = moment.inputs.len();
        if width > 0 {
            let _ = writeln!(text, "    {{{}}} = {width}'b{};", frame.ins, moment.inputs);
        }
        // Longer than any delay that a design is written with.
        let _ = writeln!(text, "    #{MOMENT} $display(\"{BENCH} %b\", {{{}}});", frame.outs);
    }
    text += "    $finish;\n  end\nendmodule\n";
    let (lines, ended) = written(sources, data, text, budget)?;
    let differs = |moment: &Moment, line: &str| {
        moment.outputs.chars().zip(line.chars()).any(|(wanted, is)| match is {
            '0' | '1' => matches!(wanted, '0' | '1') && wanted != is,
            _ => strict && matches!(wanted, '0' | '1'),
        })
    };
    let ran = lines.len();
    if ran < moments.len() && ended.is_none() {
        return None;
    }
    let found = moments.iter().zip(lines).enumerate().find(|(_, (m, line))| differs(m, line));
    match (found, ended) {
        (Some((k, (_, line))), _) => Some((k, Other::Levels(line))),
        (None, Some(message)) if ran < moments.len() => Some((ran, Other::Ended(message))),
        _ => None,
    }
}

/// The file and the stretch of its text that gave an output's bit its level at the end of some moments, which follow one
/// another. `None` where the simulator can't run the design, or nothing was assigned.
pub fn ran(
    exercise: &Exercise,
    (sources, data): (&SourceMap, &BTreeMap<String, String>),
    top: &Unit,
    inputs: &[String],
    (port, bit): (&str, u32),
    budget: &Budget,
) -> Option<(String, Span)> {
    if inputs.is_empty() || !can_be_named(exercise, top) {
        return None;
    }
    let frame = Frame::new(exercise, top);
    let mut text = frame.text;
    for levels in inputs.iter().filter(|l| !l.is_empty()) {
        let _ = writeln!(text, "    {{{}}} = {}'b{levels}; #{MOMENT};", frame.ins, levels.len());
    }
    text += "    $finish;\n  end\nendmodule\n";
    let files = files_with(sources, data, text);
    let loaded = elab::load(&files, Some(BENCH), &mut budget.clone()).ok()?;
    let design = loaded.design.as_ref()?;
    let (scope, _) = design.scopes.iter().find(|(_, s)| s.name == "u" && s.parent == Some(design.top))?;
    let (signal, _) = design.signals.iter().find(|(_, s)| s.scope == scope && s.name.eq_ignore_ascii_case(port))?;
    let cancel = budget.cancel_flag();
    let options = sim::SimOptions { steps: STEPS, cancel, wanted: vec![(signal, bit)], ..sim::SimOptions::default() };
    let span = sim::simulate(design, &options).ran.pop()??;
    let name = loaded.sources.file(span.file).name.clone();
    (!name.starts_with(BENCH)).then_some((name, span))
}

/// The sources and data of a hand-in as files again, with a bench beside them.
fn files_with(sources: &SourceMap, data: &BTreeMap<String, String>, bench: String) -> Vec<HandInFile> {
    let mut files: Vec<HandInFile> =
        sources.files().map(|(_, f)| HandInFile { name: f.name.clone(), bytes: f.text.clone().into_bytes() }).collect();
    files.extend(data.iter().map(|(name, text)| HandInFile { name: name.clone(), bytes: text.clone().into_bytes() }));
    files.push(HandInFile { name: format!("{BENCH}.v"), bytes: bench.into_bytes() });
    files
}

/// What a simulation does otherwise.
pub enum Other {
    /// Its outputs have these levels.
    Levels(String),
    /// An assertion ends it.
    Ended(String),
}

/// The beginning of a bench: signals for the ports, the design, and the names of what goes in and comes out.
struct Frame {
    text: String,
    ins: String,
    outs: String,
}

impl Frame {
    fn new(exercise: &Exercise, top: &Unit) -> Self {
        let mut text = format!("module {BENCH};\n");
        let mut joins = Vec::new();
        let (mut ins, mut outs) = (Vec::new(), Vec::new());
        for (k, port) in exercise.ports.iter().enumerate() {
            let kind = if port.is_input { "reg" } else { "wire" };
            let _ = writeln!(text, "  {kind} [{}:0] s{k};", port.shape.width() - 1);
            joins.push(format!(".{}(s{k})", port.name));
            if port.is_input { &mut ins } else { &mut outs }.push(format!("s{k}"));
        }
        let parameter =
            exercise.parameter.as_ref().map(|p| format!("#(.{}({})) ", p.name, p.value)).unwrap_or_default();
        let _ = writeln!(text, "  {} {parameter}u({});\n  initial begin", top.name, joins.join(", "));
        Self { text, ins: ins.join(", "), outs: outs.join(", ") }
    }
}

/// A module that sets the inputs to each row, from the opposite of all of them, and writes the outputs.
fn bench(exercise: &Exercise, top: &Unit, rows: &[(String, String)]) -> String {
    let Frame { mut text, ins, outs } = Frame::new(exercise, top);
    for (inputs, _) in rows.iter().filter(|(inputs, _)| !inputs.is_empty()) {
        let width = inputs.len();
        let _ = writeln!(text, "    {{{ins}}} = ~{width}'b{inputs}; #1000; {{{ins}}} = {width}'b{inputs}; #1000;");
        let _ = writeln!(text, "    $display(\"{BENCH} %b\", {{{outs}}});");
    }
    text + "    $finish;\n  end\nendmodule\n"
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;
    use base::SourceFile;

    #[test]
    fn levels_of_a_netlist_that_were_wrong_would_be_noticed() {
        let text = "format = \"zesty-gate/exercise/1\"\ntitle = \"T\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n[[port]]\nname = \"b\"\n\
                    dir = \"in\"\n[[port]]\nname = \"y\"\ndir = \"out\"\nrange = \"1:0\"\n[behaviour]\nkind = \"expressions\"\n\
                    [behaviour.outputs]\ny = \"a + b\"\n";
        let exercise = Exercise::load(text, &|_| Err("none".into())).unwrap();
        let source = "library ieee; use ieee.std_logic_1164.all; entity add is port (a, b : in std_logic;
            y : out std_logic_vector(1 downto 0)); end; architecture x of add is begin y <= (a and b) & (a xor b); end;";
        let mut sources = SourceMap::new();
        sources.add(SourceFile::new("add.vhd", source));
        let units = elab::parse(&sources, BTreeMap::new(), &mut Budget::hand_in());
        let top = units.list().remove(0);
        let row = |inputs: &str, outputs: &str| (inputs.to_owned(), outputs.to_owned());
        let rows = [row("00", "00"), row("01", "01"), row("10", "11"), row("11", "10")];
        let found = agrees(&exercise, (&sources, &BTreeMap::new()), &top, &rows, &Budget::hand_in());
        assert_eq!(found, Some(vec![true, true, false, true]));
        assert_eq!(agrees(&exercise, (&sources, &BTreeMap::new()), &top, &[], &Budget::hand_in()), None);
    }
}
