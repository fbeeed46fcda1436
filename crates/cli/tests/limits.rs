//! Small files that grow without end: each ends in a verdict within its limits, and takes nobody else with it.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use serde_json::Value;
use std::fmt::Write;
use std::process::Command;
use std::sync::Arc;
use std::sync::atomic::AtomicBool;
use std::time::Duration;
use worker::{Answer, Limits, LostKind, Pool, Question, SentExercise, SentHandIn};

const EXERCISE: &str = "format = \"zesty-gate/exercise/1\"\ntitle = \"Follow\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n\
    [[port]]\nname = \"y\"\ndir = \"out\"\n[behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\ny = \"a\"\n";

/// Checks files and says the verdict with its first sentence.
fn judged(files: &[(String, String)]) -> (String, String) {
    let folder = tempfile::tempdir().unwrap();
    let exercise = folder.path().join("exercise.toml");
    std::fs::write(&exercise, EXERCISE).unwrap();
    let mut command = Command::new(env!("CARGO_BIN_EXE_zesty-gate"));
    command.args(["--limit-seconds", "60", "--limit-mib", "1500", "check", "--json"]).arg(&exercise);
    for (name, text) in files {
        let path = folder.path().join(name);
        std::fs::write(&path, text).unwrap();
        command.arg(path);
    }
    let out = command.output().unwrap();
    let verdict: Value =
        serde_json::from_slice(&out.stdout).unwrap_or_else(|e| panic!("{e}: {}", String::from_utf8_lossy(&out.stderr)));
    let first = verdict["findings"][0]["message"].as_str().unwrap_or_default().to_owned();
    (verdict["verdict"].as_str().unwrap().to_owned(), first)
}

fn one(name: &str, text: impl Into<String>) -> (String, String) {
    judged(&[(name.into(), text.into())])
}

/// A check that ended by itself, before the process had to be ended.
fn ended_by_itself((verdict, first): &(String, String)) {
    assert!(!first.starts_with("This was stopped"), "{verdict}: {first}");
}

#[test]
fn macros_that_repeat_their_argument_end_at_once() {
    let mut text = String::from("`define X0(a) a a a a a a a a\n");
    for k in 1..12 {
        let _ = writeln!(text, "`define X{k}(a) `X{}(a a a a a a a a)", k - 1);
    }
    let found = one("m.v", text + "module m(input a, output y); assign y = a; `X11(wire w;) endmodule\n");
    ended_by_itself(&found);
    assert_eq!(found.0, "cannot_tell");
    assert!(found.1.contains("macros or included files"), "{}", found.1);
}

#[test]
fn a_tree_of_includes_ends_at_once() {
    let file = |k: usize| {
        let text = if k < 11 { format!("`include \"i{}.v\"\n", k + 1).repeat(8) } else { "wire w;\n".into() };
        (format!("i{k}.v"), text)
    };
    let found = judged(&(0..12).map(file).collect::<Vec<_>>());
    ended_by_itself(&found);
}

#[test]
fn unknown_macros_beside_many_known_ones_are_told_without_comparing_each_with_all() {
    let mut text = String::new();
    for k in 0..20_000 {
        let _ = writeln!(text, "`define D{k} x");
    }
    text += "module m(input a, output y); assign y = a;\n";
    for k in 0..20_000 {
        let _ = writeln!(text, "`U{k}");
    }
    let found = one("m.v", text + "endmodule\n");
    ended_by_itself(&found);
    assert_eq!(found, ("fail".into(), "No macro `U0` is defined above this line.".into()));
}

#[test]
fn overloads_nested_sixty_deep_are_resolved_in_one_pass() {
    let head = "library ieee; use ieee.std_logic_1164.all;
entity m is port (a : in std_logic; y : out std_logic); end;
architecture x of m is\n";
    let own_plus = "function \"+\"(l, r : std_logic) return std_logic is begin return l xor r; end;\n";
    let found = one("m.vhd", format!("{head}{own_plus}begin y <= {}; end;\n", vec!["a"; 61].join(" + ")));
    assert_eq!(found.0, "pass", "an odd number of operands: {}", found.1);
    let two = "function f(v : std_logic) return std_logic is begin return not v; end;
function f(v : boolean) return boolean is begin return not v; end;\n";
    let found = one("m.vhd", format!("{head}{two}begin y <= {}a{}; end;\n", "f(".repeat(60), ")".repeat(60)));
    assert_eq!(found.0, "pass", "{}", found.1);
}

#[test]
fn arithmetic_that_would_take_gigabytes_is_refused_before_it_is_built() {
    for operator in ["%", "*", "/"] {
        let text = format!(
            "module m(input a, output y); wire [3999:0] q = {{4000{{a}}}}; wire [3999:0] p = q {operator} (q - 3);
             assign y = p[0]; endmodule\n"
        );
        let found = one("m.v", text);
        ended_by_itself(&found);
        assert_eq!(found.0, "cannot_tell", "{operator}: {}", found.1);
    }
    let squares = "module m(input a, output reg y); integer i; reg [63:0] x;
        always @* begin x = a; for (i = 0; i < 2000; i = i + 1) x = x * x + i; y = x[63]; end endmodule\n";
    ended_by_itself(&one("m.v", squares));
}

#[test]
fn functions_that_call_each_other_twice_end_within_the_budget() {
    let mut text = String::from("module m(input a, output y);\nfunction f0(input x); f0 = x; endfunction\n");
    for k in 1..40 {
        let _ = writeln!(text, "function f{k}(input x); f{k} = f{}(x) ^ f{}(~x); endfunction", k - 1, k - 1);
    }
    let found = one("m.v", text + "assign y = f39(a); endmodule\n");
    ended_by_itself(&found);
    assert_eq!(found.0, "cannot_tell");
}

#[test]
fn a_hundred_thousand_choices_in_one_expression_are_read() {
    let chain = "a ? 1 : ".repeat(40_000);
    let found = one("m.v", format!("module m(input a, output y); assign y = {chain}0; endmodule\n"));
    ended_by_itself(&found);
    assert_eq!(found.0, "pass", "{}", found.1);
}

fn question() -> Question {
    let files = vec![elab::HandInFile {
        name: "m.v".into(),
        bytes: b"module m(input a, output y); assign y = a; endmodule\n".to_vec(),
    }];
    let hand_in: SentHandIn = check::HandIn { files, ..check::HandIn::default() }.into();
    Question::Check { exercise: SentExercise::alone(EXERCISE), hand_in }
}

fn pool(limits: Limits) -> Pool {
    Pool::new(env!("CARGO_BIN_EXE_zesty-gate").into(), limits)
}

fn ask(pool: &Pool, cancel: bool) -> Result<Answer, LostKind> {
    pool.ask(question(), pool.limits().time, &Arc::new(AtomicBool::new(cancel))).map_err(|lost| lost.kind)
}

#[test]
fn a_worker_answers_one_question_after_another_as_the_checker_does() {
    let pool = pool(Limits::default());
    let alone = Pool::within(Limits::default());
    for _ in 0..3 {
        let (Ok(Answer::Checked(far)), Ok(Answer::Checked(near))) = (ask(&pool, false), ask(&alone, false)) else {
            panic!("no verdict");
        };
        let (far, near) = (far.into_checked(), near.into_checked());
        assert_eq!(far.verdict.verdict, verdict::VerdictKind::Pass);
        assert_eq!(far, near);
    }
}

#[test]
fn what_a_worker_dies_of_is_one_lost_answer() {
    // Less than the program itself takes.
    let small = pool(Limits { memory: 24, ..Limits::default() });
    assert_eq!(ask(&small, false).unwrap_err(), LostKind::Died);
    assert_eq!(ask(&small, false).unwrap_err(), LostKind::Died);
    let lost = small.ask(question(), Duration::from_secs(20), &Arc::default()).unwrap_err();
    assert!(lost.sentence().contains("(number 000003)"), "{}", lost.sentence());
}

#[test]
fn a_question_that_is_no_longer_wanted_is_not_answered_and_the_next_one_is() {
    let pool = pool(Limits::default());
    assert_eq!(ask(&pool, true).map(|_| ()).err(), Some(LostKind::Cancelled));
    assert!(ask(&pool, false).is_ok());
}
