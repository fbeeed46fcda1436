//! Files of every kind that is read, damaged as a careless hand or a hostile one would: each is read or refused with a
//! sentence that says something, within moments and without a panic. `ZESTY_ROUNDS` says how often each is damaged.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::{Budget, Random, SourceFile, SourceMap};
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

/// Words that readers trip over.
const WORDS: [&str; 16] = [
    "99999999999999999999",
    "-1",
    "4294967296",
    "0",
    "\"",
    "\0",
    "\u{feff}",
    "\u{202e}",
    "é",
    "[[[[[[[[",
    "}}}}",
    "# ",
    "\r\n\r\n",
    "nan",
    "1e400",
    "\t;,|",
];

fn rounds() -> usize {
    std::env::var("ZESTY_ROUNDS").ok().and_then(|n| n.parse().ok()).unwrap_or(150)
}

fn damage(random: &mut Random, seed: &str) -> String {
    let mut bytes = seed.as_bytes().to_vec();
    for _ in 0..=random.below(4) {
        let at = random.below(bytes.len().max(1)).min(bytes.len());
        let length = random.below(40).min(bytes.len() - at);
        match random.below(8) {
            0 => drop(bytes.drain(at..at + length)),
            1 => bytes.truncate(at),
            2 | 3 => drop(bytes.splice(at..at, WORDS[random.below(WORDS.len())].bytes())),
            4 => {
                let piece = bytes[at..at + length].to_vec();
                let again = piece.repeat(1 + random.below(60));
                bytes.splice(at..at, again);
            }
            5 if at < bytes.len() => bytes[at] ^= 1 << random.below(8),
            // A line in another place.
            6 => {
                let text = String::from_utf8_lossy(&bytes).into_owned();
                let mut lines: Vec<&str> = text.lines().collect();
                if lines.len() > 1 {
                    let line = lines.remove(random.below(lines.len()));
                    lines.insert(random.below(lines.len() + 1), line);
                }
                bytes = lines.join("\n").into_bytes();
            }
            // A number becomes another.
            _ => {
                if let Some(digit) = bytes[at..].iter().position(u8::is_ascii_digit) {
                    bytes.splice(at + digit..=at + digit, WORDS[random.below(4)].bytes());
                }
            }
        }
    }
    String::from_utf8_lossy(&bytes).into_owned()
}

/// Reads damaged seeds; `read` gives the sentence with which one is refused.
fn all_end_well(what: &str, seeds: &[String], read: impl Fn(&str) -> Result<(), String>) {
    assert!(!seeds.is_empty(), "no {what} to damage");
    for seed in seeds {
        assert_eq!(read(seed), Ok(()), "{what}: the undamaged one is right\n{seed}");
    }
    let mut random = Random::new(29);
    let mut refused = 0;
    for round in 0..rounds() {
        for seed in seeds {
            let text = damage(&mut random, seed);
            let start = Instant::now();
            let found = catch_unwind(AssertUnwindSafe(|| read(&text)));
            let Ok(found) = found else { panic!("{what}, round {round}: a panic over\n{text}") };
            assert!(start.elapsed() < Duration::from_secs(10), "{what}, round {round}: too slow over\n{text}");
            if let Err(told) = found {
                refused += 1;
                assert!(told.trim().len() > 10, "{what}: `{told}` says nothing of\n{text}");
                assert!(told.len() < 2_000, "{what}: {} characters are no sentence", told.len());
            }
        }
    }
    assert!(refused > 0, "{what}: damage that is never told is none");
}

fn demo() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo")
}

/// All files of the demo with an ending, and the folders they are in.
fn of_demo(ending: &str) -> Vec<(PathBuf, String)> {
    let mut found = Vec::new();
    let mut folders = vec![demo()];
    while let Some(folder) = folders.pop() {
        let mut entries: Vec<PathBuf> = std::fs::read_dir(&folder).unwrap().map(|e| e.unwrap().path()).collect();
        entries.sort();
        for path in entries {
            if path.is_dir() {
                folders.push(path);
            } else if path.extension().is_some_and(|e| e == ending) {
                found.push((folder.clone(), std::fs::read_to_string(&path).unwrap()));
            }
        }
    }
    found
}

const VCD: &str = "$date today $end\n$timescale 1 ns $end\n$scope module top $end\n$var wire 1 ! clk $end\n\
    $var wire 4 \" count [3:0] $end\n$var real 64 # level $end\n$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n0!\nb0000 \"\nr0.5 #\n$end\n\
    #5\n1!\nb0001 \"\n#10\n0!\nbx \"\nr1e3 #\n";

#[test]
fn value_change_dumps() {
    all_end_well("a dump", &[VCD.to_owned()], |text| {
        sim::read_vcd(text).map(drop).map_err(|e| format!("line {}: {}", e.line, e.message))
    });
}

const BLIF: &str = ".model adder\n.inputs a b c clk\n.outputs sum carry q\n.names a b c sum\n100 1\n010 1\n001 1\n111 1\n.names a b c carry\n\
    11- 1\n1-1 1\n-11 1\n.latch sum q re clk 0\n.end\n";

#[test]
fn berkeley_netlists() {
    all_end_well("a netlist", &[BLIF.to_owned()], |text| {
        design::read_blif(text, None, &mut Budget::hand_in())
            .map(drop)
            .map_err(|e| format!("line {}: {}", e.line, e.message))
    });
}

const PLA: &str = ".i 3\n.o 2\n.ilb a b c\n.ob y z\n.p 4\n11- 10\n--1 01\n0-0 11\n000 -0\n.e\n";

#[test]
fn product_term_tables() {
    all_end_well("a table", &[PLA.to_owned()], |text| logic::parse_pla(text).map(drop).map_err(|e| e.to_string()));
}

#[test]
fn exercise_files() {
    for (folder, text) in of_demo("toml").into_iter().filter(|(_, t)| t.contains("zesty-gate/exercise/1")) {
        let beside = |name: &str| std::fs::read(folder.join(name)).map_err(|e| exercise::NotBeside(e.to_string()));
        all_end_well("an exercise", &[text], |text| {
            exercise::Exercise::load(text, &beside).map(drop).map_err(|e| e.to_string())
        });
    }
}

#[test]
fn wirings() {
    let seeds: Vec<String> = of_demo("csv").into_iter().map(|(_, text)| text).take(6).collect();
    all_end_well("a wiring", &seeds, |text| {
        let Ok(file) = SourceFile::decode("wiring.csv", text.as_bytes()) else {
            return Err("It is empty, too large or no text.".into());
        };
        let id = SourceMap::new().id_at(0);
        board::parse_wiring(id, &file).map(drop).map_err(|e| e.to_string())
    });
}

/// A board and what was loaded on one, as the program writes them.
#[test]
fn boards_and_images() {
    let board = board::Board::shipped("pith-8").unwrap();
    let shipped = serde_json::to_string_pretty(&board).unwrap();
    all_end_well("a board", &[shipped], |text| board::Board::from_json(text).map(drop).map_err(|e| e.to_string()));
    let folder = demo().join("hopper-interlock");
    let file = |name: &str| elab::HandInFile { name: name.into(), bytes: std::fs::read(folder.join(name)).unwrap() };
    let text = std::fs::read_to_string(folder.join("exercise.toml")).unwrap();
    let exercise = exercise::Exercise::alone(&text).unwrap();
    let hand_in = check::HandIn {
        files: vec![file("plain.v")],
        wiring: Some(file("wiring_right.csv")),
        ..check::HandIn::default()
    };
    let image = check::check(&exercise, &hand_in).image.expect("a right design with its wiring has an image");
    all_end_well("an image", &[image.to_json()], |text| {
        // What is accepted is built, too.
        board::Image::from_json(text).map(|image| drop(image.netlist())).map_err(|e| e.to_string())
    });
}
