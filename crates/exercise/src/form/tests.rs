//! The form of a file, its edits and the way back.

use super::*;
use crate::fault::NotBeside;

const FILE: &str = r#"# The line's own words stay.
format = "zesty-gate/exercise/1"
title = "Hopper interlock"

[[port]]
name = "full"
dir = "in"
[[port]]
name = "gate"
dir = "in"
[[port]]
name = "motor"
dir = "out"

[behaviour]
kind = "expressions"
[behaviour.outputs]
motor = "full' gate"

[wiring]
board = "pith-8" # with a remark
[wiring.map]
full = "S7"
"#;

fn none(_: &str) -> Result<Vec<u8>, NotBeside> {
    Err("none".into())
}

fn worked(draft: &ExerciseForm, edit: Option<&FormEdit>) -> Worked {
    draft.work(FILE, edit, &none)
}

fn column(worked: &Worked) -> String {
    let table = worked.exercise.as_ref().unwrap().table();
    (0..table.rows()).map(|r| table.output_text(r)).collect()
}

#[test]
fn a_draft_goes_back_into_its_file_and_leaves_the_rest_alone() {
    let mut draft = ExerciseForm::read(FILE);
    assert_eq!(draft.ports.len(), 3);
    draft.behaviour.expressions[0].text = "full + gate".into();
    let found = worked(&draft, None);
    let text = found.text.clone().unwrap();
    assert!(text.contains("# The line's own words stay.") && text.contains("# with a remark"), "{text}");
    assert_eq!(column(&found), "0111");
    assert_eq!(ExerciseForm::read(&text).behaviour, draft.behaviour);
}

#[test]
fn a_cell_edit_turns_expressions_into_lists() {
    let draft = ExerciseForm::read(FILE);
    let edit = FormEdit::Cell { output: "motor".into(), row: 3, value: "-".into() };
    let found = worked(&draft, Some(&edit));
    assert_eq!(column(&found), "010-");
    assert_eq!(found.draft.behaviour.kind, "minterms");
    assert_eq!(
        (found.draft.behaviour.terms[0].text.as_str(), found.draft.behaviour.dont_cares[0].text.as_str()),
        ("1", "3")
    );
    let back = worked(&found.draft, Some(&FormEdit::Convert { to: "table".into() }));
    assert_eq!(back.draft.behaviour.rows, "00 | 0\n01 | 1\n10 | 0");
    assert_eq!(column(&back), "010-");
}

#[test]
fn a_cell_edit_leaves_tables_maxterms_and_references_what_they_are() {
    let of_kind = |kind: &str, change: &dyn Fn(&mut ExerciseForm), value: &str| {
        let mut draft = ExerciseForm::read(FILE);
        draft.behaviour.kind = kind.into();
        change(&mut draft);
        let edit = FormEdit::Cell { output: "motor".into(), row: 1, value: value.into() };
        worked(&draft, Some(&edit))
    };
    let remarked =
        |d: &mut ExerciseForm| d.behaviour.rows = "# dry runs\n00 | 0\n0 1 | 1 # the only one\n11 | 0".into();
    let found = of_kind("table", &remarked, "0");
    assert_eq!(found.draft.behaviour.rows, "# dry runs\n00 | 0\n01 | 0 # the only one\n11 | 0");
    assert_eq!(column(&found), "00-0");
    // A line that says several rows can't be changed in one of them.
    let found = of_kind("table", &|d| d.behaviour.rows = "0- | 1\n10 | 0".into(), "0");
    assert_eq!((found.draft.behaviour.rows.as_str(), column(&found).as_str()), ("00 | 1\n01 | 0\n10 | 0", "100-"));
    let found = of_kind("table", &|d| d.behaviour.rows = "11 | 0".into(), "1");
    assert_eq!(found.draft.behaviour.rows, "11 | 0\n01 | 1");
    let lists =
        |d: &mut ExerciseForm| d.behaviour.terms = vec![NamedText { name: "motor".into(), text: "0, 3".into() }];
    let found = of_kind("maxterms", &lists, "0");
    assert_eq!((found.draft.behaviour.kind.as_str(), column(&found).as_str()), ("maxterms", "0010"));
    let attached = |d: &mut ExerciseForm| {
        d.parts.attachments = vec![super::parts::AttachmentForm {
            name: "ref.v".into(),
            purpose: "reference".into(),
            text: "module r(input full, gate, output motor); assign motor = full & gate; endmodule".into(),
        }];
    };
    let found = of_kind("reference", &attached, "1");
    assert_eq!(found.draft.behaviour.kind, "reference");
    assert!(found.problem.unwrap().message.contains("what a design does"));
}

#[test]
fn a_parameter_is_typed_with_its_values() {
    let mut draft = ExerciseForm::read(FILE);
    for port in &mut draft.ports {
        port.range = "N-1:0".into();
    }
    draft.parts.wiring = super::parts::WiringForm::default();
    draft.behaviour.expressions[0].text = "full + gate".into();
    draft.parts.parameter = super::parts::ParameterForm { name: "N".into(), usual: "2".into(), also: "3, 4 5".into() };
    let found = worked(&draft, None);
    assert_eq!(found.problem, None);
    let text = found.text.unwrap();
    assert!(text.contains("[parameter]\nname = \"N\"\nusual = 2\nalso = [3, 4, 5]\n"), "{text}");
    assert_eq!(found.exercise.unwrap().others.len(), 3);
    assert_eq!(ExerciseForm::read(&text).parts.parameter.also, "3, 4, 5");
    draft.parts.parameter.also = "3, many".into();
    let told = worked(&draft, None).problem.unwrap();
    assert_eq!(told.field, "parameter");
    draft.parts.parameter.name = " ".into();
    assert!(worked(&draft, None).problem.unwrap().field.starts_with("port.0.range"));
}

#[test]
fn what_refers_to_a_port_follows_its_new_name() {
    let draft = ExerciseForm::read(FILE);
    let found = worked(&draft, Some(&FormEdit::Rename { port: 0, name: "brim".into() }));
    assert_eq!(found.problem, None);
    assert_eq!(found.draft.behaviour.expressions[0].text, "brim' gate");
    let text = found.text.unwrap();
    assert!(text.contains("brim = \"S7\"") && !text.contains("full"), "{text}");
}

#[test]
fn a_pasted_table_brings_its_signals() {
    let draft = ExerciseForm { title: "New".into(), ..ExerciseForm::default() };
    let found = draft.work(
        "",
        Some(&FormEdit::Paste { text: "x\ty\ts\tc\n0\t0\t0\t0\n0\t1\t1\t0\n1\t0\t1\t0\n1\t1\t0\t1".into() }),
        &none,
    );
    assert_eq!(found.problem, None);
    assert_eq!(found.draft.ports.iter().map(|p| p.name.as_str()).collect::<Vec<_>>(), ["x", "y", "s", "c"]);
    assert_eq!(column(&found), "00101001");
}

#[test]
fn problems_name_their_field() {
    let field = |change: &dyn Fn(&mut ExerciseForm)| {
        let mut draft = ExerciseForm::read(FILE);
        change(&mut draft);
        let found = worked(&draft, None);
        assert_eq!(found.draft, draft, "what was typed stays");
        let told = found.problem.unwrap();
        (told.field, told.message)
    };
    assert_eq!(field(&|d| d.ports[1].name = "2x".into()).0, "port.1.name");
    assert_eq!(field(&|d| d.ports[0].range = "x".into()).0, "port.0.range");
    assert_eq!(field(&|d| d.title = " ".into()).0, "title");
    let (name, message) = field(&|d| d.behaviour.expressions[0].text = "full + (gate".into());
    assert_eq!(name, "expressions.motor");
    assert!(message.contains("column 8: This `(` is never closed."), "{message}");
    let (name, message) = field(&|d| {
        d.behaviour.kind = "minterms".into();
        d.behaviour.terms = vec![NamedText { name: "motor".into(), text: "1, 7".into() }];
    });
    assert_eq!(
        (name.as_str(), message.as_str()),
        ("terms.motor", "Column 4: there is no row 7: the inputs have rows 0 to 3 only.")
    );
    let (name, _) = field(&|d| {
        d.behaviour.kind = "table".into();
        d.behaviour.rows = "00 | 1\n0 | 1".into();
    });
    assert_eq!(name, "rows");
}

fn nothing(path: &str) -> Result<Vec<u8>, NotBeside> {
    Err(format!("`{path}` isn't there.").into())
}

#[test]
fn a_file_that_is_read_and_written_unchanged_stays_as_it_is() {
    for name in ["belt-beacon", "lane-chaser", "washer-sequencer", "hopper-interlock", "weight-grader", "reject-gate"] {
        let path = format!("{}/../../demo/{name}/exercise.toml", env!("CARGO_MANIFEST_DIR"));
        let file = std::fs::read_to_string(path).unwrap();
        let draft = ExerciseForm::read(&file);
        let worked = draft.work(&file, None, &nothing);
        assert!(worked.exercise.is_some(), "{name}: {:?}", worked.problem);
        let again = ExerciseForm::read(worked.text.as_deref().unwrap());
        assert_eq!(again, draft, "{name}");
    }
}

fn port(name: &str, dir: &str, range: &str) -> PortForm {
    PortForm { name: name.into(), dir: dir.into(), range: range.into(), was: String::new() }
}

/// A clocked exercise of a kind, as a page would send it: nobody wrote a file.
fn clocked(kind: &str, ports: &[PortForm]) -> ExerciseForm {
    let mut draft = ExerciseForm { title: "Typed".into(), ports: ports.to_vec(), ..ExerciseForm::default() };
    draft.behaviour.kind = kind.into();
    draft.parts.clock.port = "clk".into();
    draft
}

fn right(draft: &ExerciseForm) -> Exercise {
    let worked = draft.work("", None, &nothing);
    worked.exercise.unwrap_or_else(|| panic!("{:?}", worked.problem))
}

#[test]
fn exercises_of_every_kind_over_time_are_made_without_a_file() {
    let mut rate = clocked("rate", &[port("clk", "in", ""), port("lamp", "out", "")]);
    rate.parts.clock.frequency_hz = "12_000_000".into();
    rate.parts.rate.output = "lamp".into();
    rate.parts.rate.frequency_hz = "4".into();
    let made = right(&rate);
    assert!(made.numbers.contains(&1_500_000), "{:?}", made.numbers);

    let mut chaser = clocked("sequence", &[port("clk", "in", ""), port("rst", "in", ""), port("lamps", "out", "3:0")]);
    chaser.parts.clock.reset = "rst".into();
    chaser.parts.sequence = crate::form::parts::SequenceForm {
        output: "lamps".into(),
        patterns: "0001\n0010\n0100\n1000".into(),
        step_cycles: "3".into(),
        repeats: true,
    };
    assert!(right(&chaser).clocked().is_some());

    let mut washer = clocked("states", &[port("clk", "in", ""), port("start", "in", ""), port("valve", "out", "")]);
    let state = |name: &str, outputs: &str, when: &str, to: &str| crate::form::parts::StateForm {
        name: name.into(),
        outputs: outputs.into(),
        ways: vec![crate::form::parts::WayForm { when: when.into(), to: to.into(), outputs: String::new() }],
    };
    washer.parts.states = vec![state("idle", "valve=0", "start", "fill"), state("fill", "valve=1", "~start", "idle")];
    let made = right(&washer);
    assert_eq!(made.clocked().map(|c| c.info.rows.is_empty()), Some(false));
    washer.parts.states[1].ways[0].to = "idel".into();
    let told = washer.work("", None, &nothing).problem.unwrap();
    assert_eq!((told.field.as_str(), told.message.as_str()), ("states", "Unknown state `idel`; write `idle`."));
    washer.parts.states[1].ways[0].to = "idle".into();
    washer.parts.clock.port = "clkk".into();
    assert_eq!(washer.work("", None, &nothing).problem.unwrap().field, "clock");
}

#[test]
fn rules_marks_wiring_and_answers_are_typed_and_told_where_they_stand() {
    let mut draft = ExerciseForm::read(FILE);
    draft.parts.rules.forbid = vec!["gate:xor".into()];
    draft.parts.rules.max_gates = "4".into();
    draft.parts.rules.forms = vec![NamedText { name: "motor".into(), text: "sop".into() }];
    draft.parts.marks = vec![NamedText { name: "behaviour".into(), text: "6".into() }];
    draft.parts.answers =
        vec![crate::form::parts::AnswerForm { output: "motor".into(), ask: "sop".into(), ..Default::default() }];
    draft.parts.wiring.map = vec![NamedText { name: "full".into(), text: "S6".into() }];
    let worked = draft.work(FILE, None, &nothing);
    let (text, exercise) = (worked.text.unwrap(), worked.exercise.unwrap());
    assert_eq!(exercise.rule_sentences().len(), 4, "{:?}", exercise.rule_sentences());
    assert_eq!((exercise.answers.len(), exercise.wiring.unwrap().map["full"].as_str()), (1, "S6"));
    assert!(text.contains("# The line's own words stay."), "{text}");
    let fault = |change: &dyn Fn(&mut PartsForm)| {
        let mut draft = draft.clone();
        change(&mut draft.parts);
        draft.work(FILE, None, &nothing).problem.map(|p| p.field).unwrap_or_default()
    };
    assert_eq!(fault(&|p| p.rules.max_gates = "many".into()), "rules");
    assert_eq!(fault(&|p| p.wiring.map[0].text = "S99".into()), "wiring");
    assert_eq!(fault(&|p| p.marks[0].text = "-1".into()), "marks");
    assert_eq!(fault(&|p| p.answers[0].output = "mot".into()), "answers");
    // Emptied, they go out of the file.
    draft.parts = PartsForm::default();
    let bare = draft.work(&text, None, &nothing).text.unwrap();
    assert!(!["[rules]", "[marks]", "[wiring]", "[[answer]]"].iter().any(|t| bare.contains(t)), "{bare}");
}

#[test]
fn a_reference_is_attached_and_kept_with_the_exercise() {
    let file = |name: &str, purpose: &str, text: &str| crate::form::parts::AttachmentForm {
        name: name.into(),
        purpose: purpose.into(),
        text: text.into(),
    };
    let mut draft = ExerciseForm { title: "Typed".into(), ..ExerciseForm::default() };
    draft.ports = vec![port("a", "in", "1:0"), port("y", "out", "")];
    draft.behaviour.kind = "reference".into();
    let told = draft.work("", None, &nothing).problem.unwrap();
    assert_eq!(told.field, "reference", "{}", told.message);
    draft.parts.attachments = vec![
        file("ref.v", "reference", "module r(input [1:0] a, output y);\nassign y = ^a;\nendmodule\n"),
        file("start.v", "starter", "module parity(input [1:0] a, output y);\nendmodule\n"),
    ];
    let made = draft.work("", None, &nothing);
    let (text, exercise) = (made.text.unwrap(), made.exercise.unwrap());
    assert_eq!(exercise.table().outputs[0].ones.iter().collect::<Vec<_>>(), [1, 2]);
    assert_eq!(ExerciseForm::read(&text).parts.attachments, draft.parts.attachments, "{text}");
    assert_eq!(exercise.attachments[1].purpose, crate::Use::Starter);
    // A name that leads elsewhere, a file twice, and a reference that is none are told at their field.
    let fault = |change: &dyn Fn(&mut PartsForm)| {
        let mut draft = draft.clone();
        change(&mut draft.parts);
        draft.work(&text, None, &nothing).problem.map(|p| (p.field, p.message)).unwrap_or_default()
    };
    assert_eq!(fault(&|p| p.attachments[1].name = "../start.v".into()).0, "attachments");
    assert_eq!(fault(&|p| p.attachments[1].name = "REF.v".into()).0, "attachments");
    assert_eq!(fault(&|p| p.attachments[1].purpose = "key".into()).0, "attachments");
    assert_eq!(fault(&|p| p.attachments[0].text = "module r(input a); endmodule".into()).0, "reference");
    // Files beside the exercise file are still named there.
    let beside = "format = \"zesty-gate/exercise/1\"\ntitle = \"T\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n[[port]]\nname = \"y\"\n\
        dir = \"out\"\n[behaviour]\nkind = \"reference\"\nfiles = [\"r.v\"]\n";
    let found = |_: &str| Ok(b"module r(input a, output y); assign y = ~a; endmodule".to_vec());
    let again = ExerciseForm::read(beside).work(beside, None, &found);
    assert!(again.text.unwrap().contains("files = [\"r.v\"]") && again.exercise.is_some());
}
