//! The exercise file: ports, behaviour, rules and wiring plan, read from TOML with one clear sentence a fault.

use crate::attachment::{self, Attachment, RawAttachment};
use crate::behaviour;
use crate::clocked::{Clocked, clocked};
use crate::expected::Expected;
use crate::fault::{Beside, Fault};
use crate::question::{Ask, Question};
use crate::raw::{RawBehaviour, RawClock, RawReset};
use crate::rules::{RawRules, Rules};
use crate::weights::{RawMarks, Weights};
use crate::wide::Wide;
use crate::widths::{RawParameter, bound};
use base::Budget;
use board::{Board, PortBit};
use elab::{ExercisePort, Fitting, Goal, Language, NetlistKind, Parameter, USUAL_LUT_INPUTS};
use logic::{Shape, TruthTable};
use serde::Deserialize;
use std::collections::BTreeMap;
use toml::Spanned;

/// How the exercise wants its ports wired.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct WiringPlan {
    /// The board.
    pub board: Board,
    /// Port bit → part label; bits that are left out may go anywhere.
    pub map: BTreeMap<String, String>,
}

/// An exercise, ready to check hand-ins against.
#[derive(Clone, Debug)]
pub struct Exercise {
    /// Title for people.
    pub title: String,
    /// What the task is, in Markdown; empty where it says nothing.
    pub statement: String,
    /// Ports in table order, most significant first.
    pub ports: Vec<ExercisePort>,
    /// What a design has to do.
    pub expected: Expected,
    /// Languages that may be handed in; empty for all.
    pub languages: Vec<String>,
    /// Rules of the structure.
    pub rules: Rules,
    /// The wiring plan, when the exercise is wired.
    pub wiring: Option<WiringPlan>,
    /// The parameter of the top that the widths depend on, with its usual value.
    pub parameter: Option<Parameter>,
    /// The exercise at other values of the parameter.
    pub others: Vec<Exercise>,
    /// The ranges of ports that depend on it, as they are written.
    pub written_ranges: BTreeMap<String, String>,
    /// Marks by stage, when the exercise gives any.
    pub weights: Option<Weights>,
    /// Answers to be prepared on paper and typed in.
    pub answers: Vec<Question>,
    /// The outputs that light the segments a to g of a digit, and whether they light at 0.
    pub digit: Option<(Vec<usize>, bool)>,
    /// Worth telling the instructor.
    pub warnings: Vec<String>,
    /// Numbers that a right hand-in may hold: of the rule, and of the reference's sources.
    pub numbers: Vec<u64>,
    /// Files that belong to it.
    pub attachments: Vec<Attachment>,
}

/// Why an exercise file can't be used: one sentence with its place.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("line {line}, column {column}: {message}")]
pub struct ExerciseError {
    /// Line in the file, from 1.
    pub line: u32,
    /// Column, from 1.
    pub column: u32,
    /// What is wrong and what to do.
    pub message: String,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawPort {
    name: Spanned<String>,
    dir: Spanned<String>,
    range: Option<Spanned<String>>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawAnswer {
    output: Spanned<String>,
    ask: Spanned<String>,
    #[serde(default)]
    minimal: bool,
    marks: Option<Spanned<u32>>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawWiring {
    board: Spanned<String>,
    #[serde(default)]
    map: BTreeMap<Spanned<String>, Spanned<String>>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawExercise {
    format: Spanned<String>,
    title: Spanned<String>,
    statement: Option<Spanned<String>>,
    #[serde(default)]
    port: Vec<RawPort>,
    clock: Option<RawClock>,
    reset: Option<RawReset>,
    behaviour: RawBehaviour,
    #[serde(default)]
    rules: RawRules,
    wiring: Option<RawWiring>,
    marks: Option<RawMarks>,
    parameter: Option<RawParameter>,
    #[serde(default)]
    answer: Vec<RawAnswer>,
    students: Option<RawStudents>,
    #[serde(default)]
    attachment: Vec<RawAttachment>,
}

/// The most bytes of a statement.
const MAX_STATEMENT: usize = 64 << 10;

/// What students read of a verdict.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawStudents {
    answers: Spanned<String>,
}

impl RawStudents {
    fn shows_answers(&self) -> Result<bool, Fault> {
        match self.answers.get_ref().as_str() {
            "hidden" => Ok(false),
            "shown" => Ok(true),
            other => {
                let message = format!("`answers` is `hidden` or `shown`, not `{other}`; write one of the two.");
                Err((self.answers.span(), message))
            }
        }
    }
}

/// Whether students may read the answer in what is found, by the text of an exercise file: hidden where nothing is said. Looks
/// at nothing else of the file.
pub fn shows_answers(text: &str) -> bool {
    #[derive(Deserialize)]
    struct Only {
        students: Option<RawStudents>,
    }
    let found = toml::from_str::<Only>(text).ok().and_then(|only| only.students);
    found.is_some_and(|students| students.shows_answers() == Ok(true))
}

impl Exercise {
    /// The most input bits of an exercise whose table is walked row by row; with more, hand-ins are proved by SAT.
    pub const MAX_INPUT_BITS: u32 = logic::MAX_INPUTS;

    /// Reads an exercise file that stands alone: what it names beside itself is not there.
    ///
    /// # Errors
    /// The first fault, with line and column.
    pub fn alone(text: &str) -> Result<Self, ExerciseError> {
        Self::load(text, &|name| Err(format!("`{name}` is not there.").into()))
    }

    /// Reads an exercise file. `beside` gives the files it names, by their path relative to it.
    ///
    /// # Errors
    /// The first fault, with line and column.
    pub fn load(text: &str, beside: &Beside<'_>) -> Result<Self, ExerciseError> {
        let place = |(span, message): Fault| {
            let before = text.get(..span.start).unwrap_or(text);
            let line = before.matches('\n').count() + 1;
            let column = before.rsplit('\n').next().unwrap_or("").chars().count() + 1;
            let clip = |n: usize| u32::try_from(n).unwrap_or(u32::MAX);
            ExerciseError { line: clip(line), column: clip(column), message }
        };
        if text.len() > 1 << 20 {
            return Err(place((0..0, "An exercise file is at most 1 MiB long; shorten it.".into())));
        }
        let read = || -> Result<RawExercise, Fault> {
            toml::from_str(text).map_err(|e| (e.span().unwrap_or(0..0), plain_toml(e.message())))
        };
        let raw = read().map_err(place)?;
        let own = attachment::attachments(&raw.attachment, beside).map_err(place)?;
        let beside = &attachment::with_own(&own, beside);
        let values = raw.parameter.as_ref().map(RawParameter::values).transpose().map_err(place)?.unwrap_or_default();
        let told = std::cell::RefCell::new(String::new());
        let noting = |path: &str| {
            let bytes = beside(path)?;
            told.borrow_mut().push_str(&String::from_utf8_lossy(&bytes));
            told.borrow_mut().push('\n');
            Ok(bytes)
        };
        // Reading an exercise is a question of its own: its references are built and proved to be of use.
        let budget = Budget::hand_in();
        let mut exercise = build(raw, values.first().copied(), &noting, &budget).map_err(place)?;
        if let Some(spec) = exercise.clocked() {
            let rule = text.split_once("[behaviour]").map_or("", |(_, rule)| rule);
            exercise.numbers = numbers_of(spec.period(), &format!("{rule}\n{}", told.borrow()));
        }
        for value in values.into_iter().skip(1) {
            // What speaks of single bits and parts holds for the usual value only.
            let raw = RawExercise { wiring: None, marks: None, answer: Vec::new(), ..read().map_err(place)? };
            exercise.others.push(build(raw, Some(value), beside, &budget).map_err(place)?);
        }
        exercise.attachments = own.clone();
        Ok(exercise)
    }

    /// What a hand-in has to keep to beside the behaviour, as sentences.
    pub fn rule_sentences(&self) -> Vec<String> {
        let spelt = |l: &String| match l.as_str() {
            "verilog" => "Verilog",
            "vhdl" => "VHDL",
            _ => "a drawing",
        };
        let languages: Vec<&str> = self.languages.iter().map(spelt).collect();
        let languages = (!languages.is_empty()).then(|| format!("Hand in {}.", languages.join(" or ")));
        let marks = self.weights.as_ref().map(Weights::sentence);
        let widths = self.parameter.as_ref().map(|p| {
            let others: Vec<String> =
                self.others.iter().filter_map(|o| Some(o.parameter.as_ref()?.value.to_string())).collect();
            let also = if others.is_empty() {
                String::new()
            } else {
                format!("; it is checked for {}, too", others.join(", "))
            };
            format!("The top has a parameter `{}`, usually {}{also}.", p.name, p.value)
        });
        languages.into_iter().chain(self.rules.sentences()).chain(widths).chain(marks).collect()
    }

    /// The expected table; without rows where it is not judged by rows.
    pub fn table(&self) -> &TruthTable {
        self.expected.table()
    }

    /// Clock, reset and rule of a clocked exercise.
    pub fn clocked(&self) -> Option<&Clocked> {
        self.expected.clocked()
    }

    /// The function of an exercise with more inputs than rows are walked for.
    pub fn wide(&self) -> Option<&Wide> {
        self.expected.wide()
    }

    /// What a hand-in is elaborated for.
    pub fn fitting(&self) -> Fitting<'_> {
        Fitting { ports: &self.ports, parameter: self.parameter.as_ref() }
    }

    /// Inputs of a look-up table of the board's device.
    pub fn lut_inputs(&self) -> u32 {
        self.wiring.as_ref().map_or(USUAL_LUT_INPUTS, |w| w.board.device.lut_inputs)
    }

    /// Input bits of all ports together, the clock among them.
    pub fn input_bits(&self) -> usize {
        self.ports.iter().filter(|p| p.is_input).map(|p| p.shape.width() as usize).sum()
    }

    /// Output bits of all ports together.
    pub fn output_bits(&self) -> usize {
        self.ports.iter().filter(|p| !p.is_input).map(|p| p.shape.width() as usize).sum()
    }

    /// Rows that are walked: none for a clocked or a wide exercise.
    pub fn rows(&self) -> u64 {
        if self.expected.has_rows() { self.table().rows() } else { 0 }
    }

    /// The name of a port's bit; `position` counts from the least significant one.
    pub fn bit_name(&self, port: &str, position: u32) -> String {
        let found = self.ports.iter().find(|p| p.name.eq_ignore_ascii_case(port));
        found.map(|p| p.shape.bit_name(&p.name, position)).unwrap_or_default()
    }

    /// Names of the input bits that number the rows: all but the clock and the reset.
    pub fn row_columns(&self) -> Vec<String> {
        let left_out = |name: &str| {
            let spec = self.clocked();
            spec.is_some_and(|c| c.clock == name || c.reset.as_ref().is_some_and(|r| r.port == name))
        };
        let ports = self.ports.iter().filter(|p| p.is_input && !left_out(&p.name));
        ports.flat_map(|p| p.bit_names().collect::<Vec<_>>()).collect()
    }

    /// Bits of the ports in table order, each port from its most significant bit.
    pub fn port_bits(&self) -> Vec<PortBit> {
        let bits = |p: &ExercisePort| {
            let is_input = p.is_input;
            p.bit_names().map(move |name| PortBit { name, is_input }).collect::<Vec<_>>()
        };
        self.ports.iter().flat_map(bits).collect()
    }
}

/// The parser's message as one sentence with a remedy.
fn plain_toml(message: &str) -> String {
    let first = message.lines().next().unwrap_or(message).trim();
    if let Some(rest) = first.strip_prefix("unknown field ") {
        let name = rest.split('`').nth(1).unwrap_or("?");
        let known: Vec<&str> = rest.split('`').skip(3).step_by(2).collect();
        return match base::nearest(name, known.iter().copied()) {
            Some(near) => format!("Unknown key `{name}`; write `{near}`."),
            None => format!("Unknown key `{name}`; remove it (known here: {}).", known.join(", ")),
        };
    }
    if let Some(name) = first.strip_prefix("missing field ") {
        return format!("The key {name} is missing; add it.");
    }
    format!("This is not legal TOML: {first}; correct it.")
}

fn statement_of(raw: Option<&Spanned<String>>) -> Result<String, Fault> {
    match raw {
        Some(text) if text.get_ref().len() > MAX_STATEMENT => {
            let message = "The statement has more than 64 KiB; shorten it, or attach a document.";
            Err((text.span(), message.into()))
        }
        Some(text) => Ok(text.get_ref().trim().to_owned()),
        None => Ok(String::new()),
    }
}

fn build(mut raw: RawExercise, value: Option<i64>, beside: &Beside<'_>, budget: &Budget) -> Result<Exercise, Fault> {
    if raw.format.get_ref() != "zesty-gate/exercise/1" {
        let message = format!("The format is `{}`; write `zesty-gate/exercise/1`.", raw.format.get_ref());
        return Err((raw.format.span(), message));
    }
    if let Some(students) = &raw.students {
        students.shows_answers()?;
    }
    if raw.title.get_ref().trim().is_empty() {
        return Err((raw.title.span(), "The title is empty; give the exercise a name.".into()));
    }
    let statement = statement_of(raw.statement.as_ref())?;
    let mut warnings = Vec::new();
    let parameter = match (&raw.parameter, value) {
        (Some(given), Some(value)) => {
            let kind = &raw.behaviour.kind;
            if !["expressions", "reference", "code"].contains(&kind.get_ref().as_str()) && !given.also.is_empty() {
                let message = format!(
                    "A behaviour of kind `{}` holds for one width; with [parameter] use expressions, a code or a reference.",
                    kind.get_ref()
                );
                return Err((kind.span(), message));
            }
            Some(Parameter { name: given.name.get_ref().clone(), value })
        }
        _ => None,
    };
    raw.behaviour.parameter.clone_from(&parameter);
    let ports = ports(&raw.port, parameter.as_ref(), &mut warnings)?;
    let depends = |p: &&RawPort| p.range.as_ref().is_some_and(|r| r.get_ref().contains(char::is_alphabetic));
    let written_ranges = raw
        .port
        .iter()
        .filter(depends)
        .filter_map(|p| Some((p.name.get_ref().clone(), p.range.as_ref()?.get_ref().clone())));
    let written_ranges: BTreeMap<String, String> = written_ranges.collect();
    let is_wide = width(&ports) > u64::from(Exercise::MAX_INPUT_BITS);
    let expected = match (&raw.clock, &raw.reset) {
        (Some(clock), reset) => {
            behaviour::keys_fit(&raw.behaviour, raw.behaviour.kind.get_ref())?;
            Expected::Machine(Box::new(clocked(
                clock,
                reset.as_ref(),
                &raw.behaviour,
                &ports,
                (beside, budget),
                &mut warnings,
            )?))
        }
        (None, Some(reset)) => {
            return Err((reset.port.span(), "A reset needs a clock; add [clock] with its `port`.".into()));
        }
        (None, None) if is_wide => Expected::Function(crate::wide::wide(&raw.behaviour, &ports, beside, budget)?),
        (None, None) => Expected::Table(behaviour::expected_table(&raw.behaviour, &ports, beside, budget)?),
    };
    let languages = languages(raw.rules.languages.as_ref())?;
    let outputs: Vec<String> = ports.iter().filter(|p| !p.is_input).flat_map(ExercisePort::names).collect();
    let rules = Rules::read(&raw.rules, &outputs, expected.table())?;
    let wiring = raw.wiring.map(|w| wiring_plan(&w, &ports, beside)).transpose()?;
    let weights = Weights::read(raw.marks.as_ref(), wiring.is_some())?;
    let answers = questions(&raw.answer, expected.table())?;
    let digit = digit_outputs(&raw.behaviour, expected.table());
    Ok(Exercise {
        title: raw.title.into_inner(),
        statement,
        ports,
        expected,
        languages,
        rules,
        wiring,
        answers,
        parameter,
        others: Vec::new(),
        written_ranges,
        weights,
        digit,
        numbers: Vec::new(),
        attachments: Vec::new(),
        warnings,
    })
}

fn ports(
    raw: &[RawPort],
    parameter: Option<&Parameter>,
    warnings: &mut Vec<String>,
) -> Result<Vec<ExercisePort>, Fault> {
    let mut list: Vec<ExercisePort> = Vec::new();
    for port in raw {
        let name = port.name.get_ref();
        if let Err(problem) = base::check_port_name(name) {
            return Err((port.name.span(), format!("`{name}` can't name a port: {problem}; rename it.")));
        }
        if list.iter().any(|p| p.name == *name) {
            return Err((port.name.span(), format!("There are two ports `{name}`; rename one of them.")));
        }
        if let Some(other) = list.iter().find(|p| p.name.eq_ignore_ascii_case(name)) {
            warnings.push(format!("`{}` and `{name}` differ only by case; VHDL takes them for one name.", other.name));
        }
        for language in Language::ALL.into_iter().filter(|l| l.is_reserved(name)) {
            let language = language.name();
            warnings.push(format!("`{name}` is a reserved word of {language}; designs in it can't have this port."));
        }
        let is_input = match port.dir.get_ref().as_str() {
            "in" => true,
            "out" => false,
            other => {
                return Err((
                    port.dir.span(),
                    format!("A port goes `in` or `out`, not `{other}`; write one of the two."),
                ));
            }
        };
        let shape = match &port.range {
            Some(range) => parse_range(range, parameter)?,
            None => Shape::SCALAR,
        };
        list.push(ExercisePort { name: name.clone(), is_input, shape });
    }
    let width =
        |inputs: bool| list.iter().filter(|p| p.is_input == inputs).map(|p| u64::from(p.shape.width())).sum::<u64>();
    let last = raw.last().map_or(0..0, |p| p.name.span());
    if width(false) == 0 || width(false) > 256 {
        return Err((last, "An exercise has 1 to 256 output bits; add or remove `[[port]]` entries.".into()));
    }
    Ok(list)
}

/// Input bits of all ports together.
fn width(ports: &[ExercisePort]) -> u64 {
    ports.iter().filter(|p| p.is_input).map(|p| u64::from(p.shape.width())).sum()
}

fn parse_range(range: &Spanned<String>, parameter: Option<&Parameter>) -> Result<Shape, Fault> {
    let number = |text: &str| bound(text, parameter).and_then(|n| i32::try_from(n).ok());
    let bounds = range.get_ref().split_once(':').and_then(|(l, r)| Some((number(l)?, number(r)?)));
    match bounds {
        Some((left, right)) if i32::abs_diff(left, right) < 256 => Ok(Shape::vector(left, right)),
        _ => Err((range.span(), format!("`{}` is not a range; write it as `3:0`.", range.get_ref()))),
    }
}

/// The outputs that show a digit: those of the seven-segment code, a vector of seven bits called `seg…`, or scalars
/// `a` to `g` with a common start.
fn digit_outputs(behaviour: &RawBehaviour, expected: &TruthTable) -> Option<(Vec<usize>, bool)> {
    let active_low = behaviour.active.as_ref().is_some_and(|a| a.get_ref() == "low");
    if behaviour.rule.as_ref().is_some_and(|r| r.get_ref() == "seven-segment") {
        return Some(((0..7).collect(), active_low));
    }
    let names: Vec<&str> = expected.outputs.iter().map(|o| o.name.as_str()).collect();
    if names.len() == 7 && names.iter().all(|n| n.to_ascii_lowercase().starts_with("seg") && n.contains('[')) {
        return Some(((0..7).collect(), active_low));
    }
    let start = names.iter().find_map(|n| n.strip_suffix('a'))?;
    let found: Option<Vec<usize>> = ["a", "b", "c", "d", "e", "f", "g"]
        .iter()
        .map(|s| names.iter().position(|n| *n == format!("{start}{s}")))
        .collect();
    found.map(|list| (list, active_low))
}

fn questions(raw: &[RawAnswer], expected: &TruthTable) -> Result<Vec<Question>, Fault> {
    let mut list: Vec<Question> = Vec::new();
    for answer in raw {
        let output = answer.output.get_ref();
        if !expected.outputs.iter().any(|o| o.name == *output) {
            let near = base::nearest(output, expected.outputs.iter().map(|o| o.name.as_str()));
            let hint = near.map_or("name an output bit of the exercise".into(), |n| format!("write `{n}`"));
            return Err((answer.output.span(), format!("Unknown output bit `{output}`; {hint}.")));
        }
        let Some(ask) = Ask::from_key(answer.ask.get_ref()) else {
            let known: Vec<&str> = Ask::keys().collect();
            let message = format!("`{}` can't be asked for; use one of {}.", answer.ask.get_ref(), known.join(", "));
            return Err((answer.ask.span(), message));
        };
        let question = Question {
            output: output.clone(),
            ask,
            minimal: answer.minimal,
            marks: answer.marks.as_ref().map_or(1, |m| *m.get_ref()),
        };
        if list.iter().any(|q| q.key() == question.key()) {
            return Err((answer.ask.span(), format!("`{}` is asked for twice; keep one.", question.key())));
        }
        list.push(question);
    }
    Ok(list)
}

fn languages(raw: Option<&Spanned<Vec<String>>>) -> Result<Vec<String>, Fault> {
    let Some(raw) = raw else { return Ok(Vec::new()) };
    for language in raw.get_ref() {
        if !["verilog", "vhdl", "draft"].contains(&language.as_str()) {
            let message = format!("Unknown language `{language}`; use verilog, vhdl or draft.");
            return Err((raw.span(), message));
        }
    }
    Ok(raw.get_ref().clone())
}

fn wiring_plan(raw: &RawWiring, ports: &[ExercisePort], beside: &Beside<'_>) -> Result<WiringPlan, Fault> {
    let fail = |message: String| (raw.board.span(), message);
    let board = match raw.board.get_ref().strip_prefix("file:") {
        None => Board::shipped(raw.board.get_ref()).map_err(|e| fail(format!("The wiring can't be used: {e}.")))?,
        Some(path) => {
            let bytes = beside(path).map_err(|e| fail(e.to_string()))?;
            let text = String::from_utf8_lossy(&bytes);
            Board::from_json(&text).map_err(|e| fail(format!("`{path}` can't be used: {e}.")))?
        }
    };
    let bits: Vec<(String, bool)> =
        ports.iter().flat_map(|p| p.bit_names().map(|n| (n, p.is_input)).collect::<Vec<_>>()).collect();
    let mut map: BTreeMap<String, String> = BTreeMap::new();
    for (bit, label) in &raw.map {
        let Some((_, is_input)) = bits.iter().find(|(n, _)| n == bit.get_ref()) else {
            let near = base::nearest(bit.get_ref(), bits.iter().map(|(n, _)| n.as_str()));
            let hint = near.map_or("name a port bit of the exercise".into(), |n| format!("write `{n}`"));
            return Err((bit.span(), format!("Unknown port bit `{}`; {hint}.", bit.get_ref())));
        };
        let Some(end) = board.by_label(label.get_ref()) else {
            let near = base::nearest(label.get_ref(), board.terminals().iter().map(|t| t.label.as_str()));
            let hint = near.map_or("use a label printed on it".into(), |n| format!("write `{n}`"));
            return Err((label.span(), format!("The board has no part `{}`; {hint}.", label.get_ref())));
        };
        if board.terminals()[end].drives != *is_input {
            let message = format!(
                "`{}` can't be wired to the {} {}.",
                bit.get_ref(),
                board.part_of(end).kind.word(),
                label.get_ref()
            );
            return Err((label.span(), format!("{message} Use a {}.", if *is_input { "switch" } else { "lamp" })));
        }
        if map.values().any(|l| l.eq_ignore_ascii_case(label.get_ref())) {
            return Err((label.span(), format!("The part {} is used twice; give each bit its own.", label.get_ref())));
        }
        map.insert(bit.get_ref().clone(), board.terminals()[end].label.clone());
    }
    Ok(WiringPlan { board, map })
}

impl Exercise {
    /// Levels of all input bits in words: `a=1, w=0110`.
    pub fn input_text(&self, levels: &str) -> String {
        let mut rest = levels.chars();
        let ports = self.ports.iter().filter(|p| p.is_input);
        let list: Vec<String> = ports
            .map(|p| format!("{}={}", p.name, rest.by_ref().take(p.shape.width() as usize).collect::<String>()))
            .collect();
        list.join(", ")
    }

    /// How a design becomes a netlist: over time, where it is clocked, what latches hold is state.
    pub fn netlist_kind(&self) -> NetlistKind {
        if self.clocked().is_some() { NetlistKind::WithLatches } else { NetlistKind::Plain }
    }

    /// What a hand-in is built for; `top` where it was chosen.
    pub fn goal<'a>(&'a self, top: Option<&'a str>) -> Goal<'a> {
        Goal { fitting: self.fitting(), top, kind: self.netlist_kind(), wants_ports: true }
    }
}

/// Numbers of a text that may stand in a design that does the same, with those that counters end at.
fn numbers_of(period: Option<u64>, text: &str) -> Vec<u64> {
    const MOST: usize = 32;
    // What stands in quotes are patterns and names.
    let plain: String = text.split('"').step_by(2).collect::<Vec<_>>().join(" ");
    let words = plain.split(|c: char| !c.is_ascii_alphanumeric() && c != '_');
    let numbers = words.filter_map(|w| w.trim_start_matches(['d', 'D']).replace('_', "").parse::<u64>().ok());
    let mut list: Vec<u64> = Vec::new();
    for n in period.into_iter().chain(numbers).filter(|n| *n > 1) {
        for value in [n, n - 1, n / 2, (n / 2).saturating_sub(1)] {
            if value > 1 && !list.contains(&value) && list.len() < MOST {
                list.push(value);
            }
        }
    }
    list
}

#[cfg(test)]
mod tests {
    use super::*;

    const GOOD: &str = r#"
format = "zesty-gate/exercise/1"
title = "Hopper interlock"
[[port]]
name = "full"
dir = "in"
[[port]]
name = "open"
dir = "in"
[[port]]
name = "lamp"
dir = "out"
range = "1:0"
[behaviour]
kind = "expressions"
[behaviour.outputs]
lamp = "full + open"
[wiring]
board = "pith-8"
[wiring.map]
full = "S7"
"lamp[0]" = "H0"
"#;

    fn load(text: &str) -> Result<Exercise, ExerciseError> {
        Exercise::alone(text)
    }

    fn fault(from: &str, to: &str) -> ExerciseError {
        assert!(GOOD.contains(from));
        load(&GOOD.replacen(from, to, 1)).unwrap_err()
    }

    #[test]
    fn an_arithmetic_exercise_keeps_its_carry() {
        let exercise = load(GOOD).unwrap();
        let column: Vec<String> = (0..4).map(|r| exercise.table().output_text(r)).collect();
        assert_eq!(column, ["00", "01", "01", "10"]);
        assert_eq!(exercise.table().outputs[0].name, "lamp[1]");
    }

    #[test]
    fn every_fault_is_one_sentence_with_its_place() {
        let e = fault("title", "titel");
        assert_eq!((e.line, e.message.as_str()), (3, "Unknown key `titel`; write `title`."));
        let e = fault("\"open\"", "\"2x\"");
        assert_eq!(
            (e.line, e.message.as_str()),
            (8, "`2x` can't name a port: a name starts with a letter, not with `2`; rename it.")
        );
        assert!(fault("\"open\"", "\"a b\"").message.contains("holds no blanks"));
        assert!(fault("\"open\"", "\"full\"").message.contains("two ports `full`"));
        assert!(
            fault("full + open", "full + opne").message.contains("write `open`")
                || fault("full + open", "full + opne").message.contains("`open`")
        );
        assert_eq!(fault("H0", "LDO").line, 22);
        assert!(fault("pith-8", "peel-9").message.contains("no board `peel-9`"));
        assert!(fault("dir = \"out\"", "dir = \"aus\"").message.contains("`in` or `out`"));
        assert!(fault("1:0", "1-0").message.contains("write it as `3:0`"));
        assert!(fault("title = ", "title ").message.contains("TOML"));
    }

    #[test]
    fn a_short_row_of_a_table_is_told() {
        let text = GOOD.replace(
            "kind = \"expressions\"\n[behaviour.outputs]\nlamp = \"full + open\"",
            "kind = \"table\"\nrows = \"\"\"\n00|00\n0|01\n\"\"\"",
        );
        assert!(load(&text).unwrap_err().message.contains("1 input bits where there are 2; add 1"));
    }
}
