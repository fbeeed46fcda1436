//! Prepared answers: table columns, minterm lists and expressions that students type in beside their design.

use crate::diagnostics as say;
use crate::marks::answer_marks;
use base::Diagnostic;
use elab::HandInFile;
use exercise::{Ask, Exercise, Question};
use logic::{AskedForm, OutputColumn, RowSet, Shape, judge_expression, parse_numbers, row_text};
use std::collections::BTreeMap;
use verdict::AnswerResult;

/// What was found in the answers.
#[derive(Default)]
pub(crate) struct Judged {
    pub(crate) findings: Vec<(Diagnostic, Option<u64>)>,
    pub(crate) results: Vec<AnswerResult>,
}

#[derive(serde::Deserialize)]
#[serde(deny_unknown_fields)]
struct AnswerFile {
    answers: BTreeMap<String, String>,
}

/// Longest answer that is read, in bytes.
const MAX_ANSWER: usize = 16 << 10;

/// What of prepared answers can be read, without a word about whether it is right: for fields while they are typed in.
pub(crate) fn read_only(exercise: &Exercise, file: Option<&HandInFile>) -> Vec<AnswerResult> {
    let given = file.map(read).and_then(Result::ok).unwrap_or_default();
    let result = |question: &Question| {
        let text = given.get(&question.key()).map_or("", |t| t.trim());
        let (state, findings) = one(exercise, question, text);
        let (state, problem) = match (state, findings.into_iter().next()) {
            (State::Missing, _) => ("missing", None),
            (State::Illegible, Some((told, _))) => {
                // At its field it needs no saying which answer it is.
                let which = say::answer_illegible(&question.words(), "", "").message;
                let reason = told.message.strip_prefix(&which).unwrap_or(&told.message).trim();
                ("illegible", Some(format!("Can't be read: {reason} {}", told.action)))
            }
            _ => ("legible", None),
        };
        AnswerResult {
            output: question.output.clone(),
            ask: question.ask.key().to_owned(),
            given: text.to_owned(),
            state: state.to_owned(),
            marks: 0,
            out_of: question.marks,
            problem,
        }
    };
    exercise.answers.iter().map(result).collect()
}

/// Prepared answers as they stand in a file, each under its output and what was asked for, as `f.sop`. Nothing where it can't
/// be read.
pub fn given_answers(file: &HandInFile) -> BTreeMap<String, String> {
    read(file).unwrap_or_default()
}

/// Marks the answers of a hand-in. Without a file every answer is missing.
pub(crate) fn judge(exercise: &Exercise, file: Option<&HandInFile>) -> Judged {
    let mut judged = Judged::default();
    if exercise.answers.is_empty() {
        return judged;
    }
    let given = match file.map(read).unwrap_or_else(|| Ok(BTreeMap::new())) {
        Ok(given) => given,
        Err(reason) => {
            judged.findings.push((say::answers_unreadable(&reason), None));
            BTreeMap::new()
        }
    };
    let keys: Vec<String> = exercise.answers.iter().map(Question::key).collect();
    for key in given.keys().filter(|k| !keys.contains(k)) {
        let near = base::nearest(key, keys.iter().map(String::as_str));
        judged.findings.push((say::answer_unknown(key, near), None));
    }
    for question in &exercise.answers {
        let text = given.get(&question.key()).map_or("", |t| t.trim());
        let (state, findings) = one(exercise, question, text);
        judged.results.push(AnswerResult {
            output: question.output.clone(),
            ask: question.ask.key().to_owned(),
            given: text.to_owned(),
            state: state.word().to_owned(),
            marks: answer_marks(state.word(), question.marks),
            out_of: question.marks,
            problem: None,
        });
        judged.findings.extend(findings);
    }
    judged
}

#[derive(Clone, Copy)]
enum State {
    Right,
    Partly,
    Wrong,
    /// It can't be read, which is wrong as well.
    Illegible,
    Missing,
}

impl State {
    fn word(self) -> &'static str {
        match self {
            State::Right => "right",
            State::Partly => "partly",
            State::Wrong | State::Illegible => "wrong",
            State::Missing => "missing",
        }
    }
}

fn read(file: &HandInFile) -> Result<BTreeMap<String, String>, String> {
    let text =
        base::SourceFile::decode(&file.name, &file.bytes).map_err(|_| "the file is empty or no text".to_owned())?;
    let parsed: AnswerFile =
        toml::from_str(&text.text).map_err(|e| e.message().lines().next().unwrap_or("").trim().to_owned())?;
    Ok(parsed.answers)
}

type Findings = Vec<(Diagnostic, Option<u64>)>;

fn one(exercise: &Exercise, question: &Question, text: &str) -> (State, Findings) {
    let what = question.words();
    if text.is_empty() {
        return (State::Missing, vec![(say::answer_missing(&what), None)]);
    }
    if text.len() > MAX_ANSWER {
        let told = say::answer_illegible(&what, "it is longer than 16 KiB.", "Shorten it.");
        return (State::Illegible, vec![(told, None)]);
    }
    let Some(wanted) = exercise.table().outputs.iter().find(|o| o.name == question.output) else {
        return (State::Missing, Vec::new());
    };
    let n = exercise.table().input_count();
    match question.ask {
        Ask::Table => rows_answer(&what, wanted, column(text, n)),
        Ask::Minterms | Ask::Maxterms => {
            let listed = parse_numbers(text, n).map_err(|e| {
                (format!("column {}: {}", e.column, e.message), "Write row numbers with commas between them.")
            });
            let set = listed.map(|rows| {
                let mut set = RowSet::empty(n);
                rows.into_iter().for_each(|r| set.insert(r));
                if question.ask == Ask::Maxterms { set.complement() } else { set }
            });
            rows_answer(&what, wanted, set)
        }
        Ask::Expression(form) => expression_answer(exercise, question, wanted, text, form),
    }
}

/// A column as typed: 0 and 1 (or `-`) from row 0 on; blanks, commas and bars don't count.
fn column(text: &str, inputs: u32) -> Result<RowSet, (String, &'static str)> {
    let cells: Vec<char> = text.chars().filter(|c| !c.is_whitespace() && !",;|".contains(*c)).collect();
    let rows = 1u64 << inputs;
    if cells.len() as u64 != rows {
        let reason = format!("it has {} cells where the table has {rows} rows.", cells.len());
        return Err((reason, "Write a 0 or 1 for each row, from row 0 on."));
    }
    let mut set = RowSet::empty(inputs);
    for (row, cell) in (0u64..).zip(cells) {
        match cell {
            '1' => set.insert(row),
            '0' => {}
            other => return Err((format!("`{other}` on row {row} is neither 0 nor 1."), "Write 0 or 1.")),
        }
    }
    Ok(set)
}

fn rows_answer(what: &str, wanted: &OutputColumn, answer: Result<RowSet, (String, &'static str)>) -> (State, Findings) {
    match answer {
        Err((reason, action)) => (State::Illegible, vec![(say::answer_illegible(what, &reason, action), None)]),
        Ok(rows) => {
            let wrong = rows.zip(&wanted.ones, |a, b| a ^ b).zip(&wanted.dont_care, |wrong, free| wrong & !free);
            match wrong.first() {
                None => (State::Right, Vec::new()),
                Some(first) => (State::Wrong, vec![wrong_at(what, &wrong, first)]),
            }
        }
    }
}

fn wrong_at(what: &str, wrong: &RowSet, first: u64) -> (Diagnostic, Option<u64>) {
    let place = format!("row {first} ({})", row_text(wrong.inputs(), first));
    (say::answer_wrong(what, wrong.count(), &place), Some(first))
}

fn expression_answer(
    exercise: &Exercise,
    question: &Question,
    wanted: &OutputColumn,
    text: &str,
    form: AskedForm,
) -> (State, Findings) {
    let what = question.words();
    let signals: Vec<(String, Shape)> =
        exercise.ports.iter().filter(|p| p.is_input).map(|p| (p.name.clone(), p.shape)).collect();
    // What stands before an equals sign only names the output.
    let head = text.split_once('=').filter(|(head, _)| head.trim() == question.output);
    let body = head.map_or(text, |(_, body)| body);
    let report = match judge_expression(body, &signals, &exercise.table().inputs, wanted, form) {
        Ok(report) => report,
        Err(e) => {
            let column = e.column + text.chars().count() - body.chars().count();
            let told = say::answer_illegible(&what, &format!("column {column}: {}", e.message), &e.action);
            return (State::Illegible, vec![(told, None)]);
        }
    };
    if let Some(first) = report.wrong.first() {
        return (State::Wrong, vec![wrong_at(&what, &report.wrong, first)]);
    }
    if let Some(why) = &report.form_fault {
        return (State::Partly, vec![(say::answer_form(&what, form.words(), why), None)]);
    }
    let (Some(over), Some((terms, literals, _))) = (report.over(), report.least) else {
        return (State::Right, Vec::new());
    };
    let mine = format!("{} and {}", counted(report.cost.0, "term"), counted(report.cost.1, "literal"));
    let least = format!("{} and {} are enough", counted(terms, "term"), counted(literals, "literal"));
    let over = if over > 0 {
        format!("{mine} where {least}")
    } else {
        format!("{} where {} are enough", counted(report.cost.0, "term"), terms)
    };
    let state = if question.minimal { State::Partly } else { State::Right };
    (state, vec![(say::answer_not_minimal(&what, &over, question.minimal), None)])
}

fn counted(n: u32, what: &str) -> String {
    if n == 1 { format!("1 {what}") } else { format!("{n} {what}s") }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::check;
    use crate::hand_in::HandIn;

    const EXERCISE: &str = r#"
format = "zesty-gate/exercise/1"
title = "Sorter"
[[port]]
name = "a"
dir = "in"
[[port]]
name = "b"
dir = "in"
[[port]]
name = "c"
dir = "in"
[[port]]
name = "f"
dir = "out"
[behaviour]
kind = "minterms"
[behaviour.outputs]
f = [3, 5, 7]
[behaviour.dont_care]
f = [6]
[[answer]]
output = "f"
ask = "table"
[[answer]]
output = "f"
ask = "sop"
minimal = true
marks = 3
[[answer]]
output = "f"
ask = "nand-nand"
marks = 2
"#;

    fn verdict(answers: &str) -> verdict::Verdict {
        let exercise = Exercise::alone(EXERCISE).unwrap();
        let design = "module m(input a, b, c, output f); assign f = a & c | b & c; endmodule\n";
        let hand_in = HandIn {
            files: vec![HandInFile { name: "m.v".into(), bytes: design.into() }],
            answers: Some(HandInFile { name: "answers.toml".into(), bytes: answers.into() }),
            ..HandIn::default()
        };
        check(&exercise, &hand_in).verdict
    }

    fn states(verdict: &verdict::Verdict) -> Vec<&str> {
        verdict.answers.iter().map(|a| a.state.as_str()).collect()
    }

    fn codes(verdict: &verdict::Verdict) -> Vec<&str> {
        verdict.findings.iter().map(|f| f.code.as_str()).collect()
    }

    #[test]
    fn while_they_are_typed_answers_are_read_and_not_judged() {
        let exercise = Exercise::alone(EXERCISE).unwrap();
        let keys: Vec<String> = exercise.answers.iter().map(Question::key).collect();
        let text = format!("[answers]\n\"{}\" = \"0000 0000\"\n\"{}\" = \"a & (b\"\n", keys[0], keys[1]);
        let file = HandInFile { name: "answers.toml".into(), bytes: text.into_bytes() };
        let found = read_only(&exercise, Some(&file));
        let states: Vec<&str> = found.iter().map(|a| a.state.as_str()).collect();
        // The first is wrong, and nothing says so.
        assert_eq!(states[..2], ["legible", "illegible"]);
        assert!(states[2..].iter().all(|s| *s == "missing"));
        let why = found[1].problem.as_ref().unwrap();
        assert!(why.starts_with("Can't be read: column 5: ") && why.contains("never closed"), "{why}");
        assert_eq!(given_answers(&file)[&keys[1]], "a & (b");
        assert!(found.iter().all(|a| a.marks == 0));
        // That is told, too, where verdicts are held back, and what was judged isn't.
        let held_back = |quick| {
            let hand_in = HandIn { answers: Some(file.clone()), quick, ..HandIn::default() };
            let mut verdict = check(&exercise, &hand_in).verdict;
            verdict.for_student(verdict::Reveal::Nothing, false);
            verdict.answers.into_iter().map(|a| a.state).collect::<Vec<_>>()
        };
        assert_eq!(held_back(true), ["legible", "illegible"]);
        assert_eq!(held_back(false), Vec::<String>::new());
    }

    #[test]
    fn right_answers_earn_their_marks_and_leave_a_pass_a_pass() {
        let text = "[answers]\n\"f.table\" = \"0001 0101\"\n\"f.sop\" = \"f = a c + b c\"\n\"f.nand-nand\" = \"((a c)' (b c)')'\"\n";
        let found = verdict(text);
        assert_eq!(found.verdict, verdict::VerdictKind::Pass);
        assert_eq!(states(&found), ["right", "right", "right"]);
        assert_eq!(found.answers.iter().map(|a| a.marks).sum::<u32>(), 6);
    }

    #[test]
    fn wrong_long_and_misshapen_answers_are_told_apart() {
        let text =
            "[answers]\n\"f.table\" = \"00010001\"\n\"f.sop\" = \"a c + a' b c\"\n\"f.nand-nand\" = \"a c + b c\"\n";
        let found = verdict(text);
        assert_eq!(found.verdict, verdict::VerdictKind::Partly);
        assert_eq!(states(&found), ["wrong", "partly", "partly"]);
        assert_eq!(found.answers.iter().map(|a| a.marks).collect::<Vec<_>>(), [0, 2, 1]);
        let wrong = found.findings.iter().find(|f| f.code == "answer-wrong").unwrap();
        assert_eq!(
            wrong.message,
            "The answer for `f` (its column of the table) is wrong on 1 row, the first one row 5 (101)."
        );
        assert_eq!(wrong.evidence.as_ref().unwrap().row.as_deref(), Some("101"));
        assert!(codes(&found).contains(&"answer-not-minimal") && codes(&found).contains(&"answer-form"));
    }

    #[test]
    fn missing_illegible_and_stray_answers_are_told() {
        let found = verdict("[answers]\n\"f.table\" = \"001\"\n\"f.sop\" = \"a (b\"\n\"f.spo\" = \"a\"\n");
        assert_eq!(states(&found), ["wrong", "wrong", "missing"]);
        let told: Vec<&str> = found.findings.iter().map(|f| f.message.as_str()).collect();
        assert!(told.iter().any(|m| m.contains("it has 3 cells where the table has 8 rows")), "{told:?}");
        assert!(told.iter().any(|m| m.contains("column 3: This `(` is never closed.")), "{told:?}");
        assert!(told.contains(&"Nobody asked for an answer `f.spo`."));
        assert!(codes(&verdict("[answers\n")).contains(&"answers-unreadable"));
    }
}
