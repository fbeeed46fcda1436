//! Runs of clock ticks for a board: what they say the lamps show, the event simulator shows, too; and they find faults.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use check::{HandIn, check};
use conform::TryTicks;
use elab::{HandInFile, SimulationRequest, run_simulation};
use exercise::Exercise;
use std::path::Path;

fn demo(folder: &str, file: &str) -> (Exercise, HandInFile) {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo").join(folder);
    let beside = |name: &str| std::fs::read(folder.join(name)).map_err(|e| exercise::NotBeside(e.to_string()));
    let exercise = Exercise::load(&std::fs::read_to_string(folder.join("exercise.toml")).unwrap(), &beside).unwrap();
    (exercise, HandInFile { name: file.into(), bytes: std::fs::read(folder.join(file)).unwrap() })
}

fn ticks(exercise: &Exercise, file: &HandInFile) -> TryTicks {
    let hand_in = HandIn { files: vec![file.clone()], wants_rows: true, ..HandIn::default() };
    let checked = check(exercise, &hand_in);
    assert!(checked.rows_to_try.is_none());
    checked.ticks_to_try.unwrap_or_else(|| panic!("{}: {}", file.name, checked.verdict.headline()))
}

/// The outputs behind each tick in the event simulator, after two ticks of reset with the other inputs at 0.
fn simulated(exercise: &Exercise, file: &HandInFile, run: &TryTicks) -> Vec<String> {
    let spec = exercise.clocked().unwrap();
    let (rest, edge) = if spec.rising { (0, 1) } else { (1, 0) };
    let reset = spec.reset.as_ref();
    let mut text = String::from("module bench;\n");
    let mut joins = Vec::new();
    let (mut ins, mut outs) = (Vec::new(), Vec::new());
    for port in &exercise.ports {
        let kind = if port.is_input { "reg" } else { "wire" };
        text += &format!(" {kind} [{}:0] s_{};\n", port.shape.width() - 1, port.name);
        joins.push(format!(".{0}(s_{0})", port.name));
        if port.name != spec.clock {
            if port.is_input { &mut ins } else { &mut outs }.push(format!("s_{}", port.name));
        }
    }
    let unit = views::inspect(std::slice::from_ref(file), None, &Budget::hand_in()).unwrap().top.unwrap();
    text += &format!(" {unit} u({});\n initial begin s_{} = {rest};\n", joins.join(", "), spec.clock);
    let tick = format!("#10 s_{0} = {edge}; #10 s_{0} = {rest}; #10", spec.clock);
    if let Some(reset) = reset {
        for name in &ins {
            let level = u8::from(*name == format!("s_{}", reset.port) && reset.active_high);
            text += &format!("  {name} = {level};\n");
        }
        text += &format!("  {tick}; {tick};\n");
    }
    for line in &run.ticks {
        let width = line.inputs.len();
        if width > 0 {
            text += &format!("  {{{}}} = {width}'b{};\n", ins.join(", "), line.inputs);
        }
        text += &format!("  {tick} $display(\"%b\", {{{}}});\n", outs.join(", "));
    }
    text += "  $finish; end\nendmodule\n";
    let files = [file.clone(), HandInFile { name: "bench.v".into(), bytes: text.into_bytes() }];
    let request = SimulationRequest { top: Some("bench".into()), ..SimulationRequest::default() };
    let found = run_simulation(&files, &request, &Budget::hand_in()).unwrap();
    assert!(found.findings.iter().all(|f| f.severity != "stop"), "{:?}", found.findings);
    found.output.lines().map(str::to_uppercase).collect()
}

#[test]
fn the_lamps_of_a_run_are_those_of_the_event_simulator() {
    let designs = [
        ("crate-counter", "counter.v"),
        ("crate-counter", "counter.vhd"),
        ("crate-counter", "stops_early.v"),
        ("crate-counter", "falling.v"),
        ("washer-sequencer", "onehot.vhd"),
        ("lane-chaser", "chaser.vhd"),
    ];
    for (folder, name) in designs {
        let (exercise, file) = demo(folder, name);
        let run = ticks(&exercise, &file);
        let said: Vec<String> = run.ticks.iter().map(|t| t.outputs.clone()).collect();
        assert_eq!(simulated(&exercise, &file, &run), said, "{name}");
        assert!(!run.ticks.is_empty() && run.ticks.len() <= 48);
    }
}

#[test]
fn a_small_machine_shows_every_stuck_wire_in_a_few_ticks() {
    let (exercise, file) = demo("washer-sequencer", "onehot.vhd");
    let run = ticks(&exercise, &file);
    assert_eq!(run.shown, run.faults);
    assert!(run.ticks.len() <= 16, "{}", run.ticks.len());
    // Few switches are flipped from one tick to the next.
    let flips: usize = run
        .ticks
        .windows(2)
        .map(|pair| pair[0].inputs.chars().zip(pair[1].inputs.chars()).filter(|(a, b)| a != b).count())
        .sum();
    assert!(flips <= run.ticks.len(), "{flips} flips in {} ticks", run.ticks.len());
    assert!(run.sentence().contains(&format!("{} of {} faults", run.shown, run.faults)));
}

#[test]
fn a_broken_copy_of_a_design_shows_itself_in_the_run() {
    // The run of the right counter tells apart the demo's wrong ones, which are no stuck wires.
    let (exercise, right) = demo("crate-counter", "counter.v");
    let run = ticks(&exercise, &right);
    let wanted: Vec<String> = run.ticks.iter().map(|t| t.outputs.clone()).collect();
    for name in ["stops_early.v", "active_low.v", "registered_full.v"] {
        let (_, wrong) = demo("crate-counter", name);
        assert_ne!(simulated(&exercise, &wrong, &run), wanted, "{name}");
    }
}
