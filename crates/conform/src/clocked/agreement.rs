//! Every clocked design of the corpora does the same in the event simulator, in the netlist's lanes and as machine code.

use crate::clocked::fast::Fast;
use base::{Budget, SourceFile, SourceMap};
use design::{Design, Direction, Lanes, Netlist};
use elab::{ExercisePort, HandInFile, SimulationRequest, run_simulation};
use exercise::{Clocked, ClockedRule, RateRule};
use logic::Shape;
use std::collections::BTreeMap;
use std::path::Path;

struct Circuit {
    file: HandInFile,
    unit: String,
    design: Design,
    netlist: Netlist,
    clock: String,
    rising: bool,
    /// Name, width and direction of the other ports.
    ports: Vec<(String, u32, Direction)>,
}

fn circuits() -> Vec<Circuit> {
    let mut list = Vec::new();
    for language in ["verilog", "vhdl"] {
        let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join(format!("../{language}/corpus/ok"));
        let mut paths: Vec<_> = std::fs::read_dir(folder).unwrap().map(|e| e.unwrap().path()).collect();
        paths.sort();
        list.extend(paths.iter().filter_map(|path| circuit(path)));
    }
    list
}

fn circuit(path: &Path) -> Option<Circuit> {
    let name = path.file_name().unwrap().to_string_lossy().into_owned();
    let bytes = std::fs::read(path).unwrap();
    let mut sources = SourceMap::new();
    sources.add(SourceFile::decode(&name, &bytes).ok()?);
    let mut budget = Budget::hand_in();
    let units = elab::parse(&sources, BTreeMap::new(), &mut budget);
    let top = elab::choose_top(&units.list(), &[], None).ok().filter(|t| !t.ports.is_empty())?;
    let design = elab::elaborate(&units, &top, elab::Fitting::default(), &mut budget).whole?;
    let netlist = design::synthesise(&design, &mut budget).netlist;
    let register = netlist.registers.first()?;
    let clock = netlist.inputs.iter().find(|i| i.value.node() == register.clock.node())?.port.clone();
    let rising = register.rising != register.clock.is_complement();
    let scope = &design.scopes[design.top];
    let ports = scope
        .ports
        .iter()
        .map(|p| (design.signals[p.signal].name.clone(), design.signal_width(p.signal), p.direction))
        .filter(|(n, ..)| *n != clock)
        .collect();
    let unit = scope.unit.clone();
    Some(Circuit { file: HandInFile { name, bytes }, unit, design, netlist, clock, rising, ports })
}

/// A level for each input bit and cycle: what looks like a reset is mostly at rest, at 0 or at 1.
fn level(name: &str, bit: u32, cycle: u64, rest: bool) -> bool {
    let mut word = (cycle << 16 | u64::from(bit) << 8 | name.len() as u64).wrapping_mul(0x9e37_79b9_7f4a_7c15);
    word ^= name.bytes().fold(0, |h: u64, b| h.wrapping_mul(31) + u64::from(b));
    word = word.wrapping_mul(0xbf58_476d_1ce4_e5b9);
    let lower = name.to_ascii_lowercase();
    if ["rst", "reset", "clr", "clear"].iter().any(|r| lower.contains(r)) {
        return if cycle < 2 || word >> 59 == 0 { !rest } else { rest };
    }
    word >> 40 & 1 == 1
}

const CYCLES: u64 = 60;

fn testbench(circuit: &Circuit, rest: bool) -> String {
    let mut text = String::from("module agreement_tb;\n reg the_clock;\n");
    let mut joins = vec![format!(".{}(the_clock)", circuit.clock)];
    let mut shown = Vec::new();
    for (name, width, direction) in &circuit.ports {
        let kind = if *direction == Direction::In { "reg" } else { "wire" };
        text += &format!(" {kind} [{}:0] s_{name};\n", width - 1);
        joins.push(format!(".{name}(s_{name})"));
        if *direction == Direction::Out {
            shown.push(format!("s_{name}"));
        }
    }
    text += &format!(
        " {} u({});\n initial begin\n  the_clock = {};\n",
        circuit.unit,
        joins.join(", "),
        u8::from(!circuit.rising)
    );
    for cycle in 0..CYCLES {
        for (name, width, direction) in &circuit.ports {
            if *direction == Direction::In {
                let bits: String =
                    (0..*width).rev().map(|b| if level(name, b, cycle, rest) { '1' } else { '0' }).collect();
                text += &format!("  s_{name} = {width}'b{bits};\n");
            }
        }
        let format = vec!["%b"; shown.len()].join(" ");
        text += &format!("  #10 $display(\"{format}\", {});\n", shown.join(", "));
        text +=
            &format!("  the_clock = {}; #10 the_clock = {};\n", u8::from(circuit.rising), u8::from(!circuit.rising));
    }
    text + " end\nendmodule\n"
}

fn simulated(circuit: &Circuit, rest: bool) -> Vec<String> {
    let bench = HandInFile { name: "agreement_tb.v".into(), bytes: testbench(circuit, rest).into_bytes() };
    let request = SimulationRequest { top: Some("agreement_tb".into()), ..SimulationRequest::default() };
    let found = run_simulation(&[circuit.file.clone(), bench], &request, &Budget::hand_in()).unwrap();
    let stops: Vec<&str> = found.findings.iter().filter(|f| f.severity == "stop").map(|f| f.message.as_str()).collect();
    assert!(stops.is_empty(), "{}: {stops:?}", circuit.file.name);
    found.output.lines().filter(|l| l.chars().all(|c| "01xz ".contains(c))).map(str::to_owned).collect()
}

fn in_lanes(circuit: &Circuit, rest: bool) -> Vec<String> {
    let mut lanes = Lanes::new(&circuit.netlist);
    let mut budget = Budget::hand_in();
    let fill = |bit: bool| if bit { u64::MAX } else { 0 };
    let set_clock = |lanes: &mut Lanes<'_>, high: bool| {
        for number in lanes.port_inputs(&circuit.clock).into_values() {
            lanes.set_input(number, fill(high));
        }
    };
    set_clock(&mut lanes, !circuit.rising);
    lanes.power_up();
    let mut rows = Vec::new();
    for cycle in 0..CYCLES {
        for (name, _, direction) in &circuit.ports {
            if *direction == Direction::In {
                for (position, number) in lanes.port_inputs(name) {
                    lanes.set_input(number, fill(level(name, position, cycle, rest)));
                }
            }
        }
        lanes.settle(&mut budget).unwrap();
        let port = |name: &String| -> String {
            let bits = circuit.netlist.outputs.iter().filter(|o| o.port == *name);
            bits.map(|o| {
                let [value, unknown, floating] = [o.value, o.unknown, o.floating].map(|l| lanes.value(l) & 1 == 1);
                if floating {
                    'z'
                } else if unknown {
                    'x'
                } else if value {
                    '1'
                } else {
                    '0'
                }
            })
            .collect()
        };
        let outputs = circuit.ports.iter().filter(|(_, _, d)| *d == Direction::Out);
        rows.push(outputs.map(|(n, ..)| port(n)).collect::<Vec<_>>().join(" "));
        set_clock(&mut lanes, circuit.rising);
        lanes.settle(&mut budget).unwrap();
        set_clock(&mut lanes, !circuit.rising);
        lanes.settle(&mut budget).unwrap();
    }
    rows
}

/// Both standards make X spread further than a netlist does: what is compared is what both know.
#[test]
fn event_simulator_and_lanes_agree_cycle_by_cycle() {
    let mut compared = 0;
    for circuit in circuits() {
        let mut own = 0;
        for rest in [false, true] {
            let (events, lanes) = (simulated(&circuit, rest), in_lanes(&circuit, rest));
            assert_eq!(events.len(), lanes.len(), "{}: {}", circuit.file.name, testbench(&circuit, rest));
            for (cycle, (a, b)) in events.iter().zip(&lanes).enumerate() {
                for (x, y) in a.chars().zip(b.chars()) {
                    if "01".contains(x) && "01".contains(y) {
                        own += 1;
                        assert_eq!(x, y, "{} cycle {cycle}: simulator {a}, lanes {b}", circuit.file.name);
                    }
                    assert!(x != 'z' || y == 'z' || y == 'x', "{} cycle {cycle}: {a} {b}", circuit.file.name);
                }
            }
        }
        assert!(own > 20, "{}: only {own} levels are known to both", circuit.file.name);
        compared += own;
    }
    assert!(compared > 5_000, "{compared}");
}

fn clocked_of(circuit: &Circuit) -> (Clocked, Vec<ExercisePort>) {
    let shape = |name: &str, width: u32| {
        let scope = &circuit.design.scopes[circuit.design.top];
        let signal = scope.ports.iter().map(|p| p.signal).find(|s| circuit.design.signals[*s].name == name);
        signal.map_or(Shape::vector(width as i32 - 1, 0), |s| circuit.design.signal_shape(s))
    };
    let mut ports = vec![ExercisePort { name: circuit.clock.clone(), is_input: true, shape: Shape::SCALAR }];
    ports.extend(circuit.ports.iter().map(|(name, width, direction)| ExercisePort {
        name: name.clone(),
        is_input: *direction == Direction::In,
        shape: shape(name, *width),
    }));
    let bits = |input: bool| {
        let of = ports.iter().filter(|p| p.is_input == input && p.name != circuit.clock);
        of.flat_map(|p| p.bit_names().collect::<Vec<_>>()).collect::<Vec<_>>()
    };
    let (inputs, outputs) = (bits(true), bits(false));
    let spec = Clocked {
        clock: circuit.clock.clone(),
        rising: circuit.rising,
        frequency_hz: None,
        reset: None,
        rule: ClockedRule::Rate(RateRule { output: 0, period: 2, duty: 0.5, tolerance: 0 }),
        inputs,
        outputs,
        kind: "rate".into(),
        info: exercise::ClockedInfo::default(),
    };
    (spec, ports)
}

/// All inputs rest at 0, registers begin at 0 and at other levels: 512 cycles each, every output bit.
#[test]
fn machine_code_and_lanes_agree_cycle_by_cycle() {
    let mut run = Vec::new();
    for circuit in circuits() {
        let (spec, ports) = clocked_of(&circuit);
        let machine = spec.join(&circuit.netlist, &ports);
        let mut budget = Budget::hand_in();
        for output in 0..spec.outputs.len() {
            let mut walker = prove::Walker::new(&machine, &spec.protocol(), output, &mut budget).unwrap();
            for seed in 0..4u64 {
                let level = |n: usize| (n as u64 + 7).wrapping_mul(seed.wrapping_mul(0x9e37_79b9_7f4a_7c15)) >> 63 == 1;
                let levels: Vec<bool> = (0..circuit.netlist.registers.len()).map(level).collect();
                walker.restart(&levels, &mut budget).unwrap();
                let fast = Fast::new(&circuit.design, &circuit.netlist, &spec, &ports, output, &walker);
                let Some(mut fast) = fast else { break };
                assert!(
                    fast.agrees(&mut walker, &mut budget).unwrap(),
                    "{} {} from {levels:?}",
                    circuit.file.name,
                    spec.outputs[output]
                );
                run.push(circuit.file.name.clone());
            }
        }
    }
    run.dedup();
    assert!(run.len() >= 10, "{run:?}");
}
