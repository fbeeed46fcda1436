//! Every rule's example breaks that rule, as authors read beside it, and is elaborated without a fault.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::{Exercise, Matter, RequiredForm, RuleExample, rule_examples};

/// An exercise with two vectors, any behaviour, and rules.
fn vectors(rules: &str) -> Exercise {
    let port = |name: &str, dir: &str| format!("[[port]]\nname = \"{name}\"\ndir = \"{dir}\"\nrange = \"1:0\"\n");
    exercise(&[port("a", "in"), port("b", "in"), port("y", "out")].concat(), "y = \"a & b\"", rules)
}

/// An exercise of y = (a + b) c, with rules.
fn scalars(rules: &str) -> Exercise {
    let port = |name: &str, dir: &str| format!("[[port]]\nname = \"{name}\"\ndir = \"{dir}\"\n");
    let ports = [port("a", "in"), port("b", "in"), port("c", "in"), port("y", "out")].concat();
    exercise(&ports, "y = \"(a | b) & c\"", rules)
}

fn exercise(ports: &str, output: &str, rules: &str) -> Exercise {
    let text = format!(
        "format = \"zesty-gate/exercise/1\"\ntitle = \"Rules\"\n{ports}[behaviour]\nkind = \"expressions\"\n\
         [behaviour.outputs]\n{output}\n{rules}\n"
    );
    Exercise::alone(&text).unwrap_or_else(|e| panic!("{e:?}\n{text}"))
}

/// Codes of what costs marks in the structure, and whether the design could be run.
fn broken(exercise: &Exercise, example: &RuleExample) -> (Vec<String>, bool) {
    let file = HandInFile { name: example.file.into(), bytes: example.code.clone().into_bytes() };
    let found = check(exercise, &HandIn { files: vec![file], ..HandIn::default() }).verdict;
    let language = found.findings.iter().filter(|f| f.stage == "language" && f.severity == "stop");
    assert_eq!(language.map(|f| &f.message).collect::<Vec<_>>(), Vec::<&String>::new(), "{}", example.code);
    let structure = found.findings.iter().filter(|f| f.stage == "structure" && f.severity != "note");
    (structure.map(|f| f.code.clone()).collect(), found.rows.total > 0)
}

#[test]
fn what_is_forbidden_is_found_in_its_example_and_in_no_plain_design() {
    let plain = |example: &RuleExample| RuleExample {
        code: "module m(input [1:0] a, b, output [1:0] y);\nsub s(a, b, y);\nendmodule\n\
               module sub(input [1:0] a, b, output [1:0] y);\nendmodule\n"
            .into(),
        file: "m.v",
        ..example.clone()
    };
    for key in Matter::keys() {
        let example =
            rule_examples().into_iter().find(|e| e.rule == key).unwrap_or_else(|| panic!("no example: {key}"));
        let exercise = vectors(&format!("[rules]\nforbid = [{key:?}]"));
        let (codes, _) = broken(&exercise, &example);
        assert!(
            codes.iter().any(|c| c == "forbidden-means" || c == "combinational-loop"),
            "{key}: {codes:?}\n{}",
            example.code
        );
        let (codes, _) = broken(&exercise, &plain(&example));
        assert!(!codes.iter().any(|c| c == "forbidden-means"), "{key}: {codes:?}");
    }
}

#[test]
fn limits_and_forms_are_broken_by_their_examples_which_are_right_otherwise() {
    let of = |rule: &str| rule_examples().into_iter().find(|e| e.rule == rule).unwrap();
    let limits = [("max_gates", 2), ("max_literals", 3), ("max_levels", 2)];
    for (rule, most) in limits {
        let (codes, _) = broken(&scalars(&format!("[rules]\n{rule} = {most}")), &of(rule));
        assert_eq!(codes.len(), 1, "{rule}: {codes:?}");
        let (codes, _) = broken(&scalars(&format!("[rules]\n{rule} = {}", most + 2)), &of(rule));
        assert_eq!(codes, Vec::<String>::new(), "{rule}");
    }
    for form in RequiredForm::keys() {
        let rules = format!("[[rules.form]]\noutput = \"y\"\nform = {form:?}");
        let (codes, ran) = broken(&scalars(&rules), &of(&format!("form:{form}")));
        assert_eq!((codes.len(), ran), (1, true), "{form}: {codes:?}");
    }
}
