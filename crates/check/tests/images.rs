//! The image that is loaded on a board: its tables do what the design does, and the lamps show it.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

mod built;

use base::{Budget, Random};
use bench::{BenchAsk, BenchState, run_image};
use board::{Board, Image, Lamp, Made, Refusal, Wiring};
use built::built;
use check::{Checked, HandIn, check};
use design::Netlist;
use elab::HandInFile;
use exercise::Exercise;
use prove::{Equality, Machine, OutputTap, Protocol, Source, compare};
use std::path::{Path, PathBuf};
use verdict::StageState;

fn demo(folder: &str) -> (Exercise, PathBuf) {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo").join(folder);
    let text = std::fs::read_to_string(folder.join("exercise.toml")).unwrap();
    (Exercise::alone(&text).unwrap(), folder)
}

fn file(folder: &Path, name: &str) -> HandInFile {
    HandInFile { name: name.into(), bytes: std::fs::read(folder.join(name)).unwrap() }
}

fn handed_in(folder: &Path, design: &str, wiring: Option<&str>) -> HandIn {
    let wiring = wiring.map(|name| file(folder, name));
    HandIn { files: vec![file(folder, design)], wiring, ..HandIn::default() }
}

fn state_of<'a>(checked: &'a Checked, stage: &str) -> (&'a StageState, &'a str) {
    let found = checked.verdict.stages.iter().find(|s| s.stage == stage).unwrap();
    (&found.state, &found.reason)
}

/// A board that is switched on, with switches by their labels.
struct Desk<'a> {
    exercise: &'a Exercise,
    image: &'a Image,
    now: String,
    ask: BenchAsk,
}

impl<'a> Desk<'a> {
    fn new(exercise: &'a Exercise, image: &'a Image, hand_in: &HandIn) -> Self {
        let ask = BenchAsk { has_power: true, switches: vec![false; 64], ..BenchAsk::default() };
        Desk { exercise, image, now: hand_in.fingerprint(exercise), ask }
    }

    fn put(&mut self, label: &str, on: bool) {
        let board = &self.exercise.wiring.as_ref().unwrap().board;
        self.ask.switches[board.by_label(label).unwrap()] = on;
    }

    fn answer(&mut self, ticks: u64) -> BenchState {
        self.ask.ticks = ticks;
        let found = run_image(self.exercise, self.image, &self.now, &self.ask, &Budget::hand_in()).unwrap().unwrap();
        self.ask.state.clone_from(&found.state);
        found
    }

    fn lamp(&self, state: &BenchState, label: &str) -> Lamp {
        state.lamps[self.exercise.wiring.as_ref().unwrap().board.by_label(label).unwrap()]
    }

    /// The lamps as a number, the first label most significant; nothing where one is neither lit nor dark.
    fn number(&self, state: &BenchState, labels: &[&str]) -> Option<u32> {
        labels.iter().try_fold(0, |n, label| match self.lamp(state, label) {
            Lamp::Lit => Some(n << 1 | 1),
            Lamp::Dark => Some(n << 1),
            _ => None,
        })
    }
}

/// Designs of the wired demo exercises that can be mapped.
fn images() -> Vec<(Exercise, HandIn, Checked)> {
    let mut list = Vec::new();
    for folder in ["hopper-interlock", "weight-grader", "tank-level-bar", "gray-turntable", "crate-counter"] {
        let (exercise, path) = demo(folder);
        let mut names: Vec<String> =
            std::fs::read_dir(&path).unwrap().map(|e| e.unwrap().file_name().into_string().unwrap()).collect();
        names.sort();
        for name in names.iter().filter(|n| n.ends_with(".v") || n.ends_with(".vhd")) {
            let hand_in = handed_in(&path, name, Some("wiring_right.csv"));
            let checked = check(&exercise, &hand_in);
            if checked.image.is_some() {
                list.push((exercise.clone(), hand_in, checked));
            }
        }
    }
    assert!(list.len() >= 20, "{}", list.len());
    list
}

#[test]
fn the_lamps_show_on_every_row_what_the_design_does() {
    for (exercise, hand_in, checked) in images() {
        let (image, Some(actual)) = (checked.image.unwrap(), checked.actual) else { continue };
        let name = &hand_in.files[0].name;
        let mut desk = Desk::new(&exercise, &image, &hand_in);
        let plan = &exercise.wiring.as_ref().unwrap();
        for row in 0..exercise.rows() {
            desk.ask.row = Some(row);
            let found = desk.answer(0);
            assert_eq!((found.row, found.refusal.as_deref()), (Some(row), None), "{name}");
            for column in &actual.columns {
                let Some(label) = plan.map.get(&column.name) else { continue };
                let lit_on_1 = plan.board.parts[plan.board.by_label(label).unwrap()].active.level();
                let wanted = match column.level(row) {
                    'X' | 'Z' => Lamp::Unknown,
                    level if (level == '1') == lit_on_1 => Lamp::Lit,
                    _ => Lamp::Dark,
                };
                assert_eq!(desk.lamp(&found, label), wanted, "{name}, row {row}, {label}");
            }
        }
    }
}

#[test]
fn an_image_takes_the_tables_that_the_resources_say_and_is_read_back_equal() {
    for (_, hand_in, checked) in images() {
        let (image, resources) = (checked.image.unwrap(), checked.verdict.resources.unwrap());
        let name = &hand_in.files[0].name;
        assert_eq!(Some(image.tables.len() as u64), resources.luts, "{name}");
        assert_eq!(image.flip_flops.len() as u64, resources.flip_flops, "{name}");
        assert!(image.tables.iter().all(|t| t.reads.len() <= 4), "{name}: the device has tables of 4 inputs");
        assert_eq!(Image::from_json(&image.to_json()).unwrap(), image, "{name}");
    }
}

#[test]
fn damaged_images_are_refused_and_never_run() {
    let (exercise, path) = demo("crate-counter");
    let text = check(&exercise, &handed_in(&path, "counter.v", Some("wiring_right.csv"))).image.unwrap().to_json();
    let mut random = Random::new(7);
    let mut refused = 0;
    for _ in 0..2_000 {
        let mut bytes = text.clone().into_bytes();
        for _ in 0..=random.below(2) {
            let at = random.below(bytes.len());
            bytes[at] = b"0123456789,:[]{}\"abc"[random.below(20)];
        }
        let Ok(damaged) = String::from_utf8(bytes) else { continue };
        match Image::from_json(&damaged) {
            // What can still be read may do something else, but it can be run.
            Ok(image) => {
                let now = image.fingerprint.clone();
                let ask = BenchAsk { has_power: true, ticks: 3, ..BenchAsk::default() };
                let _ = run_image(&exercise, &image, &now, &ask, &Budget::hand_in());
            }
            Err(_) => refused += 1,
        }
    }
    assert!(refused > 500, "{refused}");
}

#[test]
fn a_loaded_counter_counts_the_dozen_and_loses_all_with_the_power() {
    const COUNT: [&str; 4] = ["H3", "H2", "H1", "H0"];
    let (exercise, path) = demo("crate-counter");
    for design in ["counter.v", "counter.vhd"] {
        let hand_in = handed_in(&path, design, Some("wiring_right.csv"));
        let checked = check(&exercise, &hand_in);
        assert_eq!(state_of(&checked, "bench").0, &StageState::Pass, "{design}");
        let image = checked.image.unwrap();
        let mut desk = Desk::new(&exercise, &image, &hand_in);
        // Nothing says what the flip-flops hold before the first reset.
        let found = desk.answer(0);
        assert!(found.is_clocked && desk.number(&found, &COUNT).is_none(), "{design}");
        desk.put("S7", true);
        let found = desk.answer(1);
        assert_eq!(desk.number(&found, &COUNT), Some(0));
        desk.put("S7", false);
        desk.put("S0", true);
        for tick in 1..40u32 {
            let found = desk.answer(1);
            assert_eq!(desk.number(&found, &COUNT), Some(tick % 12), "{design}");
            assert_eq!(desk.lamp(&found, "H7") == Lamp::Lit, tick % 12 == 11);
            assert_eq!(found.ticks, u64::from(tick) + 1);
        }
        desk.put("S0", false);
        let found = desk.answer(1_000);
        assert_eq!(desk.number(&found, &COUNT), Some(39 % 12), "it counts crates, not ticks");
        desk.ask.has_power = false;
        let found = desk.answer(1);
        assert!(found.refusal.unwrap().contains("no power"));
        assert!(found.lamps.iter().all(|l| *l == Lamp::Dark) && found.state.is_none());
        desk.ask.has_power = true;
        let found = desk.answer(0);
        assert_eq!(desk.number(&found, &COUNT), None, "{design}: what it held is gone");
    }
}

#[test]
fn a_beacon_flashes_on_the_board_as_fast_as_its_oscillator_says() {
    // Common practice: 12 MHz divided for four flashes a second is 1,500,000 periods for each half.
    const HALF: u64 = 12_000_000 / (2 * 4);
    let (exercise, path) = demo("belt-beacon");
    for (design, begins) in [("divider.v", Lamp::Dark), ("compare.vhd", Lamp::Lit)] {
        let hand_in = handed_in(&path, design, Some("wiring.csv"));
        let checked = check(&exercise, &hand_in);
        assert_eq!(state_of(&checked, "bench").0, &StageState::Pass, "{design}: {:?}", checked.verdict.stages);
        let image = checked.image.unwrap();
        let mut desk = Desk::new(&exercise, &image, &hand_in);
        let found = desk.answer(HALF - 1);
        assert_eq!(desk.lamp(&found, "H0"), begins, "{design}");
        assert_eq!(found.ticks, HALF - 1);
        let found = desk.answer(1);
        assert_ne!(desk.lamp(&found, "H0"), begins, "{design}");
        // Over a whole flash the lamp is lit half of the time.
        let found = desk.answer(2 * HALF);
        assert_ne!(desk.lamp(&found, "H0"), begins, "{design}");
        let lamp = exercise.wiring.as_ref().unwrap().board.by_label("H0").unwrap();
        assert!((45..=55).contains(&found.glow[lamp]), "{design}: {:?}", found.glow);
        assert_eq!(found.ticks, 3 * HALF);
    }
}

#[test]
fn swapped_lamps_of_a_right_counter_are_told_once_and_the_bench_follows() {
    let (exercise, path) = demo("crate-counter");
    let checked = check(&exercise, &handed_in(&path, "counter.v", Some("wiring_swapped.csv")));
    assert_eq!(state_of(&checked, "behaviour").0, &StageState::Pass);
    assert_eq!(state_of(&checked, "wiring").0, &StageState::Fail);
    assert_eq!(
        state_of(&checked, "bench"),
        (&StageState::Fail, "Through these wires the lamps don't do what the exercise says.")
    );
    // A clock that is wired to a switch never goes by itself.
    let mut hand_in = handed_in(&path, "counter.v", Some("wiring_right.csv"));
    let text = String::from_utf8(hand_in.wiring.as_ref().unwrap().bytes.clone()).unwrap();
    hand_in.wiring.as_mut().unwrap().bytes = text.replace("clk,G1,J1", "clk,S3,B1").into_bytes();
    assert_eq!(state_of(&check(&exercise, &hand_in), "bench").0, &StageState::Fail);
    hand_in.wiring.as_mut().unwrap().bytes = text.replace("crate,S0,B4,LV33\n", "").into_bytes();
    let (state, reason) = (check(&exercise, &hand_in), "An input of the design is joined to no part");
    assert!(state_of(&state, "bench").1.starts_with(reason), "{:?}", state_of(&state, "bench"));
}

#[test]
fn an_image_is_older_when_anything_that_it_was_made_from_changed() {
    let (exercise, path) = demo("crate-counter");
    let hand_in = handed_in(&path, "counter.v", Some("wiring_right.csv"));
    let image = check(&exercise, &hand_in).image.unwrap();
    let board = &exercise.wiring.as_ref().unwrap().board;
    assert_eq!(image.load(board, true, &hand_in.fingerprint(&exercise)), Ok(()));
    let mut other = hand_in.clone();
    other.files[0].bytes.push(b'\n');
    assert_eq!(image.load(board, true, &other.fingerprint(&exercise)), Err(Refusal::Older));
    let other = handed_in(&path, "counter.v", Some("wiring_swapped.csv"));
    assert_eq!(image.load(board, true, &other.fingerprint(&exercise)), Err(Refusal::Older));
    let mut revised = exercise.clone();
    revised.wiring.as_mut().unwrap().map.insert("full".into(), "H6".into());
    assert_eq!(image.load(board, true, &hand_in.fingerprint(&revised)), Err(Refusal::Older));
    let mut another = board.clone();
    another.device.name = "ZC9".into();
    assert!(matches!(image.load(&another, true, &image.fingerprint), Err(Refusal::WrongDevice { .. })));
    // Files come in any order.
    let mut two = hand_in.clone();
    two.files.push(HandInFile { name: "more.v".into(), bytes: b"// nothing".to_vec() });
    let mut turned = two.clone();
    turned.files.reverse();
    assert_eq!(two.fingerprint(&exercise), turned.fingerprint(&exercise));
}

#[test]
fn a_design_that_the_device_has_no_room_for_is_told() {
    let (mut exercise, path) = demo("crate-counter");
    exercise.wiring.as_mut().unwrap().board.device.flip_flops = Some(3);
    let checked = check(&exercise, &handed_in(&path, "counter.v", Some("wiring_right.csv")));
    assert!(checked.image.is_none());
    let told = checked.verdict.findings.iter().find(|f| f.code == "device-full").unwrap();
    assert_eq!(told.message, "The design takes 4 flip-flops, and the device ZC1270 has 3.");
    assert_eq!(state_of(&checked, "bench").0, &StageState::Fail);
}

fn netlist(name: &str, text: &str) -> Option<Netlist> {
    built(name, text).map(|(_, netlist)| netlist)
}

/// A netlist whose first input is the clock.
fn machine(net: &Netlist) -> Machine<'_> {
    let source = |k: usize| match k {
        0 => Source::Clock(false),
        k => Source::Input(k as u32 - 1, false),
    };
    let tap = |number: usize| Some(OutputTap { number, complement: false });
    Machine {
        net,
        inputs: (0..net.inputs.len()).map(|k| Some(source(k))).collect(),
        outputs: (0..net.outputs.len()).map(tap).collect(),
    }
}

#[test]
fn images_of_clocked_designs_are_proved_equal_to_what_they_were_made_from() {
    let mut seen = 0;
    for folder in ["washer-sequencer", "lane-chaser", "belt-beacon", "crate-counter"] {
        let (exercise, path) = demo(folder);
        assert_eq!(exercise.ports[0].name, "clk");
        for entry in std::fs::read_dir(&path).unwrap() {
            let name = entry.unwrap().file_name().into_string().unwrap();
            if !name.ends_with(".v") && !name.ends_with(".vhd") {
                continue;
            }
            let text = std::fs::read_to_string(path.join(&name)).unwrap();
            let Some(net) = netlist(&name, &text) else { continue };
            for inputs in [4, 6] {
                let mut board = Board::shipped("pith-8").unwrap();
                board.device.lut_inputs = inputs;
                let made = Made { design: "top", fingerprint: "" };
                let wires = (&board, &Wiring::default());
                let image = Image::new(&net, made, wires, |p, _| p.into(), &mut Budget::hand_in()).unwrap();
                let mapped = image.netlist();
                let protocol = Protocol { inputs: net.inputs.len() as u32 - 1, rising: true, reset: None };
                let found = compare(&machine(&net), &machine(&mapped), &protocol, &mut Budget::hand_in()).unwrap();
                assert!(
                    matches!(found.equality, Equality::Proved { .. } | Equality::Induced),
                    "{folder}/{name}: {found:?}"
                );
                seen += 1;
            }
        }
    }
    assert!(seen >= 30, "{seen}");
}

#[test]
fn an_image_keeps_where_levels_are_unknown_or_float() {
    const DESIGNS: [&str; 5] = [
        "module t(input en, a, b, output y); assign y = en ? a & b : 1'bz; endmodule",
        "module t(input en, a, b, output y); assign y = en ? a ^ b : 1'bx; endmodule",
        "module t(input en, a, b, output reg y); always @* if (en) y = a | b; endmodule",
        "module t(input en, a, b, output y); assign y = en ? a : 1'bz; assign y = b ? ~a : 1'bz; endmodule",
        "module t(input en, a, b, output y); wire w; assign y = en & w | a & b; endmodule",
    ];
    for text in DESIGNS {
        let net = netlist("t.v", text).unwrap();
        let board = Board::shipped("pith-8").unwrap();
        let made = Made { design: "t", fingerprint: "" };
        let wires = (&board, &Wiring::default());
        let image = Image::new(&net, made, wires, |p, _| p.into(), &mut Budget::hand_in()).unwrap();
        assert!(!image.doubts.is_empty(), "{text}");
        let levels = |net: &Netlist| -> Vec<String> {
            let inputs = |row: u32| (0..3).map(|k| row >> k & 1 == 1).collect::<Vec<bool>>();
            let machine = Machine { inputs: (0..3).map(|k| Some(Source::Input(k, false))).collect(), ..machine(net) };
            (0..8).map(|row| prove::outputs_at(&machine, &inputs(row)).concat()).collect()
        };
        let (design, mapped) = (levels(&net), levels(&image.netlist()));
        assert!(design.iter().any(|l| l == "X" || l == "Z"), "{text}");
        assert_eq!(design, mapped, "{text}");
    }
}
