//! Tries changes of the source: the changed files are read, elaborated and compared like a hand-in of their own.

use crate::fixable::is_right_on;
use crate::near_miss::{LineChange, Near};
use base::{Budget, FileId, Id, SourceFile, Span};
use conform::wrong_rows;
use elab::{Built, Parsed, Sources, actual_table};
use exercise::Exercise;
use front::{Change, Class};
use logic::Notation;
use std::collections::BTreeSet;

/// Longest source, all files together, of which changes are tried.
const MAX_SOURCE: usize = 48 << 10;
/// Most changes that are tried.
const MAX_TRIALS: usize = 4_000;

/// Steps of the budget for each byte that is read anew.
const STEPS_A_BYTE: u64 = 25;

/// Says whether a changed hand-in is right.
pub(crate) type Trial<'t> = dyn FnMut(&Built, &mut Budget) -> bool + 't;

/// What is needed to read a hand-in again.
pub struct Workshop<'a> {
    /// The exercise.
    pub exercise: &'a Exercise,
    /// The sources as they were handed in.
    pub sources: &'a Sources,
    /// The top, when it was chosen.
    pub top: Option<&'a str>,
    /// Rules of the exercise that the hand-in breaks as it is.
    pub broken_rules: usize,
    /// Is a hand-in with these sources in the place of its own right in every stage?
    pub passes: &'a dyn Fn(&Sources, &mut Budget) -> bool,
}

impl Workshop<'_> {
    /// Reads the hand-in with one file changed; `None` when it is not legal then.
    fn build(&self, changed: FileId, text: String, budget: &mut Budget) -> Option<Built> {
        // Reading is most of a trial's work; it is paid for by length.
        budget.spend(self.sources.length() as u64 * STEPS_A_BYTE).ok()?;
        let sources = self.changed(changed, text);
        let parsed = Parsed::new(&sources, budget);
        let built = parsed.build(&self.exercise.goal(self.top), budget).end.ok()?;
        budget.spend(10 * built.netlist.len() as u64).ok()?;
        if self.exercise.clocked().is_none() && !built.netlist.registers.is_empty() {
            return None;
        }
        // What would be right but break a rule is no change to offer.
        let rules = &self.exercise.rules;
        if !rules.is_empty() {
            let broken = rules.judge((&built.design, &built.netlist), &built.uses, &built.unit, budget).ok()?;
            if broken.len() > self.broken_rules {
                return None;
            }
        }
        Some(built)
    }

    /// Steps that reading a changed hand-in may take: some times those of the hand-in as it is. A change that makes a loop
    /// endless is given up there.
    fn cost(&self, budget: &Budget) -> u64 {
        const TIMES: u64 = 8;
        const LEAST: u64 = 300_000;
        let mut own = budget.clone();
        if let Some((id, file)) = self.sources.map.files().next() {
            self.build(id, file.text.clone(), &mut own);
        }
        TIMES * (budget.steps_left() - own.steps_left()) + LEAST
    }

    /// The sources with one file changed.
    fn changed(&self, changed: FileId, text: String) -> Sources {
        let mut sources = Sources { data: self.sources.data.clone(), ..Sources::default() };
        let mut text = Some(text);
        for (id, file) in self.sources.map.files() {
            let given = if id == changed { text.take() } else { None };
            sources.map.add(SourceFile::new(file.name.clone(), given.unwrap_or_else(|| file.text.clone())));
        }
        sources
    }

    /// Terms are written as the hand-in writes them.
    pub fn notation(&self) -> Notation {
        let first = self.sources.map.files().find_map(|(_, f)| elab::language(&f.name));
        first.map_or(Notation::Operators, |language| language.front_end().notation())
    }

    fn listed(&self) -> Vec<(FileId, Change)> {
        if self.sources.length() > MAX_SOURCE {
            return Vec::new();
        }
        let mut list = Vec::new();
        for (id, file) in self.sources.map.files() {
            let Some(language) = elab::language(&file.name) else { continue };
            let found = language.front_end().changes(&file.text, &self.exercise.numbers);
            list.extend(found.into_iter().map(|c| (id, c)));
        }
        list.sort_by_key(|(_, c)| c.class);
        list
    }

    /// Single changes with which `trial` is satisfied; `goal` says in words what is right then. At most one a line, and
    /// none of a rarer kind once a likelier one was found.
    ///
    /// Where there are more changes than the budget pays for, those on the lines that `hopeful` names come first.
    pub fn search(
        &self,
        goal: &str,
        most: usize,
        hopeful: &dyn Fn() -> BTreeSet<(usize, u32)>,
        trial: &mut Trial<'_>,
        budget: &mut Budget,
    ) -> Vec<Near> {
        let mut found: Vec<Near> = Vec::new();
        let mut lines = Vec::new();
        let mut class = None;
        let mut list = self.listed();
        // A trial of a machine may take long, whatever its length.
        let is_long = self.exercise.clocked().is_some();
        if is_long || (list.len() * self.sources.length()) as u64 * STEPS_A_BYTE > budget.steps_left() / 2 {
            let first = hopeful();
            list.sort_by_key(|(id, c)| {
                let range = c.range();
                let line = self.sources.map.place(Span::new(*id, range.start, range.end)).line;
                !first.contains(&(id.index(), line))
            });
        }
        list.truncate(MAX_TRIALS);
        let reading = self.cost(budget);
        for (id, change) in list {
            // A level that was inverted may be a constant that is the other one.
            let is_likely =
                |c| c == change.class || (!is_long && c == Class::Inversion && change.class <= Class::Constant);
            if found.len() >= most || class.is_some_and(|c| !is_likely(c)) || budget.steps_left() < 100_000 {
                break;
            }
            let file = self.sources.map.file(id);
            let text = change.applied(&file.text);
            // A trial takes a share, so that one long trial leaves room for the others.
            let share = budget.steps_left() / if is_long { 8 } else { 16 };
            let mut own = budget.clone().with_steps(share);
            let mut reader = own.clone().with_steps(share.min(reading));
            let paid = reader.steps_left();
            let built = self.build(id, text.clone(), &mut reader);
            let spent = own.spend(paid - reader.steps_left());
            let right = spent.is_ok() && built.is_some_and(|built| trial(&built, &mut own));
            if budget.spend(share - own.steps_left()).is_err() {
                break;
            }
            if !right {
                continue;
            }
            let range = change.range();
            let span = Span::new(id, range.start, range.end);
            let line = self.sources.map.place(span).line;
            if lines.contains(&(id, line)) {
                continue;
            }
            // What a trial says is held against a check in all its stages before it is told.
            if !(self.passes)(&self.changed(id, text.clone()), budget) {
                continue;
            }
            lines.push((id, line));
            class = class.or(Some(change.class));
            found.push(worded(&change, span, line, goal, &file.text, &text));
        }
        found
    }
}

fn worded(change: &Change, span: Span, line: u32, goal: &str, before: &str, after: &str) -> Near {
    let (from, to) = (&change.from, &change.to);
    let message = match change.class {
        Class::Term => format!("Line {line}: the term `{from}` is too much; without it {goal} would be right."),
        Class::Factor => format!("Line {line}: the factor `{from}` is too much; without it {goal} would be right."),
        Class::Condition => {
            format!("Line {line}: the condition `{from}` is the wrong way round; with `{to}` {goal} would be right.")
        }
        Class::Signs => {
            format!("It reads its numbers as {from}; read as {to}, {goal} would be right.")
        }
        Class::Base if change.edits.len() > 1 => {
            format!(
                "From line {line} on: numbers such as `{from}` are decimal; as bits, `{to}`, {goal} would be right."
            )
        }
        Class::Assignments => {
            format!("From line {line} on: `{from}` in this block where `{to}` would make {goal} right.")
        }
        Class::Statements => {
            format!("From line {line} on: these two statements in the other order would make {goal} right.")
        }
        _ => format!("Line {line}: `{from}` where `{to}` would make {goal} right."),
    };
    let repair = match change.class {
        Class::Term | Class::Factor => format!("Take `{from}` out."),
        Class::Assignments => format!("Use `{to}` for every assignment of the block."),
        Class::Statements => "Let the two statements change places.".to_owned(),
        Class::Base if change.edits.len() > 1 => format!("Write `{to}`, and the others alike."),
        Class::Signs => format!("Make the numbers {to}, from their declarations on."),
        _ => format!("Write `{to}`."),
    };
    let lines = change.edits.iter().map(|(range, _)| before[..range.start.min(before.len())].matches('\n').count());
    let one_line = lines.collect::<BTreeSet<usize>>().len() == 1;
    let nth = |text: &str| text.lines().nth(line as usize - 1).unwrap_or("").trim().to_owned();
    Near {
        kind: if change.class == Class::Term { "extra_term" } else { "single_repair" },
        message,
        repair,
        hint: Some(match change.class {
            Class::Signs => "Look at whether its numbers have a sign.".to_owned(),
            _ => format!("One change in line {line} would make {goal} right."),
        }),
        at: Some(span),
        change: one_line.then(|| LineChange { before: nth(before), after: nth(after) }),
    }
}

/// Does the changed hand-in pass every row? Those of the sample are tried first.
pub(crate) fn right_on_all_rows(exercise: &Exercise, sample: &[u64], built: &Built, budget: &mut Budget) -> bool {
    if !is_right_on(&built.netlist, exercise, sample) {
        return false;
    }
    let table = actual_table(&built.netlist, &exercise.ports, budget);
    table.is_ok_and(|actual| wrong_rows(exercise, &actual).is_empty())
}
