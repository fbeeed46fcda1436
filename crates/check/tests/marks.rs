//! Marks by stage: whole ones for what passes, a part for what is nearly right, none for what was not reached.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{Marks, VerdictKind};

const TEXT: &str = r#"format = "zesty-gate/exercise/1"
title = "Fill gate"
[[port]]
name = "wet"
dir = "in"
[[port]]
name = "lid"
dir = "in"
[[port]]
name = "fill"
dir = "out"
[behaviour]
kind = "minterms"
[behaviour.outputs]
fill = [1]
[rules]
forbid = ["construct:case", "operator:^"]
max_gates = 2
[wiring]
board = "pith-8"
[wiring.map]
wet = "S1"
lid = "S0"
fill = "H0"
[marks]
behaviour = 6
structure = 1.5
wiring = 2
bench = 1
"#;

fn exercise(text: &str) -> Exercise {
    Exercise::alone(text).unwrap()
}

fn hand_in(design: &str, wiring: Option<&str>) -> HandIn {
    let file = |name: &str, text: &str| HandInFile { name: name.into(), bytes: text.into() };
    HandIn { files: vec![file("f.v", design)], wiring: wiring.map(|w| file("w.csv", w)), ..HandIn::default() }
}

fn marks(exercise: &Exercise, hand_in: &HandIn) -> Marks {
    check(exercise, hand_in).verdict.marks.unwrap()
}

fn of(marks: &Marks, what: &str) -> (f64, String) {
    let part = marks.parts.iter().find(|p| p.what == what).unwrap();
    (part.earned, part.why.clone())
}

const RIGHT: &str = "module f(input wet, lid, output fill); assign fill = ~wet & lid; endmodule";
const WIRES: &str = "port,part,pin,io_level\nwet,S1,,\nlid,S0,,\nfill,H0,,\n";

#[test]
fn what_is_right_in_all_stages_earns_all_marks() {
    let found = marks(&exercise(TEXT), &hand_in(RIGHT, Some(WIRES)));
    assert_eq!((found.earned, found.out_of, found.sentence().as_str()), (10.5, 10.5, "10.5 of 10.5 marks"));
    assert!(found.parts.iter().all(|p| p.why.is_empty()));
}

#[test]
fn rows_rules_and_wires_earn_their_part() {
    let exercise = exercise(TEXT);
    // Three of four rows; an operator that is forbidden breaks one of three rules.
    let found = marks(&exercise, &hand_in(&RIGHT.replace("~wet & lid", "wet ^ 1'b1"), Some(WIRES)));
    assert_eq!(of(&found, "behaviour"), (4.5, "3 of 4 rows".into()));
    assert_eq!(of(&found, "structure"), (1.0, "2 of 3 rules".into()));
    // Two wires changed about: one of three is right, and what the lamps show follows.
    let swapped = WIRES.replace("wet,S1", "wet,SW9").replace("lid,S0", "lid,S1").replace("SW9", "S0");
    let found = marks(&exercise, &hand_in(RIGHT, Some(&swapped)));
    assert_eq!(of(&found, "wiring"), (0.66, "1 of 3 wires".into()), "rounded down: a part never becomes the whole");
    assert_eq!(of(&found, "behaviour").0, 6.0);
    assert_eq!(of(&found, "bench").1, "2 of 4 rows");
}

#[test]
fn what_was_not_reached_earns_nothing() {
    let exercise = exercise(TEXT);
    let found = marks(&exercise, &hand_in(RIGHT, None));
    assert_eq!((of(&found, "wiring"), found.earned), ((0.0, "not reached".into()), 7.5));
    let found = marks(&exercise, &hand_in("module f(input wet, lid output fill); endmodule", Some(WIRES)));
    assert_eq!((of(&found, "behaviour").0, of(&found, "structure").0), (0.0, 0.0));
    let found = marks(&exercise, &hand_in(&RIGHT.replace("~wet & lid", "~(~wet & lid)"), Some(WIRES)));
    assert_eq!(of(&found, "behaviour"), (0.0, "0 of 4 rows".into()));
}

#[test]
fn a_latch_counts_beside_the_rules() {
    let latch = "module f(input wet, lid, output reg fill); always @* if (lid) fill = ~wet; endmodule";
    let found = marks(&exercise(TEXT), &hand_in(latch, Some(WIRES)));
    assert_eq!(of(&found, "structure"), (1.12, "3 of 4 rules".into()));
    let plain = TEXT.replace("forbid = [\"construct:case\", \"operator:^\"]\nmax_gates = 2\n", "");
    assert_eq!(of(&marks(&exercise(&plain), &hand_in(latch, Some(WIRES))), "structure"), (0.0, "0 of 1 rules".into()));
}

#[test]
fn prepared_answers_add_their_own_marks() {
    let text = format!("{TEXT}[[answer]]\noutput = \"fill\"\nask = \"minterms\"\nmarks = 2\n");
    let mut given = hand_in(RIGHT, Some(WIRES));
    given.answers = Some(HandInFile { name: "a.toml".into(), bytes: "[answers]\n\"fill.minterms\" = \"1\"\n".into() });
    let found = marks(&exercise(&text), &given);
    assert_eq!((found.earned, found.out_of), (12.5, 12.5));
    given.answers = None;
    assert_eq!(marks(&exercise(&text), &given).earned, 10.5);
}

#[test]
fn nothing_is_marked_that_cannot_be_told_or_has_no_weights() {
    let unread = "module f(input wet, lid, output reg fill); int level[$];
        always @* fill = ~wet & lid & (level.size() < 1); endmodule";
    let found = check(&exercise(TEXT), &hand_in(unread, None)).verdict;
    assert_eq!((found.verdict, found.marks), (VerdictKind::CannotTell, None), "{:?}", found.findings);
    let none = TEXT.split("[marks]").next().unwrap();
    assert_eq!(check(&exercise(none), &hand_in(RIGHT, None)).verdict.marks, None);
}

#[test]
fn faults_of_the_weights_are_told_with_their_place() {
    let told = |from: &str, to: &str| {
        let text = TEXT.replacen(from, to, 1);
        assert_ne!(text, TEXT);
        Exercise::alone(&text).unwrap_err()
    };
    let e = told("bench = 1", "benhc = 1");
    assert_eq!(
        (e.line, e.message.as_str()),
        (29, "Unknown stage `benhc`; marks go to names, language, structure, behaviour, wiring, bench.")
    );
    assert!(told("behaviour = 6", "behaviour = \"six\"").message.contains("a number from 0 to 1000"));
    assert!(told("behaviour = 6", "behaviour = -1").message.contains("a number from 0 to 1000"));
    let wiring = "[wiring]\nboard = \"pith-8\"\n[wiring.map]\nwet = \"S1\"\nlid = \"S0\"\nfill = \"H0\"\n";
    assert!(told(wiring, "").message.contains("The exercise is not wired"));
    let zero = TEXT.split("[marks]").next().unwrap().to_owned() + "[marks]\nbehaviour = 0\n";
    assert!(Exercise::alone(&zero).unwrap_err().message.contains("All marks are 0"));
}
