//! What backs a finding: a second run in the event simulator, and the lines that decide a level.

use super::Run;

use base::{Diagnostic, Random, Span};
use conform::path;
use conform::{Moment, Other};
use design::{Design, Netlist};
use elab::machine_of;
use elab::{ActualTable, input_columns, output_bits};
use exercise::Clocked;
use exercise::Wide;
use verdict::Evidence;
use verdict::PathLine;

/// Findings with a place of their own in the source: what gave the wrong level.
pub(super) const PLACED: [&str; 2] = ["wrong-rows", "wrong-cycle"];

/// Longest source, all files together, that is simulated beside what is built of it.
const LONGEST_SIMULATED: usize = 96 << 10;

/// Moments that are simulated: fewer of a large design, each of which takes long.
fn most_moments(netlist: &Netlist) -> usize {
    const WORK: usize = 100_000;
    (WORK / netlist.len().max(1)).max(32)
}

/// Rows in an order in which single inputs and many of them change.
fn sample_rows(inputs: u32) -> Vec<u64> {
    const MOST: u64 = 256;
    let rows = 1u64 << inputs;
    let mut list: Vec<u64> = (0..rows.min(MOST)).map(|k| k * (rows / rows.min(MOST))).collect();
    let mut random = Random::new(11);
    let mut row = rows - 1;
    // Each input by itself, up and down.
    for k in 0..inputs.min(24) {
        list.extend([row, row ^ 1 << k, row]);
        row = random.word() & (rows - 1);
    }
    list
}

impl Run<'_> {
    /// Runs wrong rows again in the event simulator: true where it finds none of them as the netlist has it. Then nothing is
    /// said of the design: one of the two is wrong, and that is not the student's fault.
    pub(super) fn engines_disagree(&mut self, rows: Vec<(String, String)>) -> bool {
        // What has no level of its own, or is known to be simulated otherwise than built, tells nothing.
        const OTHERWISE: [&str; 5] =
            ["inferred-latch", "combinational-loop", "incomplete-sensitivity", "several-drivers", "undriven-signal"];
        let rows: Vec<(String, String)> =
            rows.into_iter().filter(|(_, levels)| levels.chars().all(|c| matches!(c, '0' | '1'))).collect();
        let otherwise = self.diagnostics.iter().any(|(d, _)| OTHERWISE.contains(&d.code));
        let (Some(unit), false) = (&self.unit, otherwise) else { return false };
        let found = conform::agrees(self.exercise, (&self.sources, &self.data), unit, &rows);
        if found.is_none_or(|agrees| agrees.iter().any(|same| *same)) {
            return false;
        }
        let told = conform::engines_disagree(rows.first().map_or("", |(row, _)| row.as_str()), unit.span);
        self.cannot_tell = true;
        self.add(vec![told]);
        true
    }

    /// What is right as built is simulated, too, over some rows that follow one another: a source of which the two readings
    /// differ is no clean pass.
    pub(super) fn rows_simulated(&mut self, actual: &ActualTable, netlist: &Netlist) {
        let inputs = self.exercise.expected.input_count();
        // Where nothing is asked for, anything may happen.
        let outputs = &self.exercise.expected.outputs;
        let is_asked = |row: &u64| outputs.iter().any(|o| o.value(*row) != logic::RowValue::DontCare);
        let moments: Vec<Moment> = sample_rows(inputs)
            .into_iter()
            .filter(is_asked)
            .take(most_moments(netlist))
            .map(|row| Moment {
                inputs: logic::row_text(inputs, row),
                outputs: actual.columns.iter().map(|c| c.level(row)).collect(),
            })
            .collect();
        self.simulated(&moments, true);
    }

    /// The same where there are too many inputs for a table: some of them, one after the other.
    pub(super) fn wide_simulated(&mut self, spec: &Wide, netlist: &Netlist) {
        const ROWS: usize = 32;
        let machine = machine_of(netlist, &self.exercise.ports, &spec.inputs, &spec.outputs, None);
        let mut random = Random::new(13);
        let mut levels = vec![false; spec.inputs.len()];
        let moments: Vec<Moment> = (0..ROWS)
            .map(|k| {
                for level in &mut levels {
                    *level ^=
                        random.word() >> 29 & if k % 2 == 0 { 1 } else { u64::from(random.word() >> 61 == 0) } == 1;
                }
                let inputs = levels.iter().map(|l| if *l { '1' } else { '0' }).collect();
                Moment { inputs, outputs: prove::outputs_at(&machine, &levels).concat() }
            })
            .collect();
        self.simulated(&moments, true);
    }

    /// The same for a design over time: some clock cycles from its reset on.
    pub(super) fn cycles_simulated(&mut self, spec: &Clocked, netlist: &Netlist) {
        let moments =
            conform::clocked::moments(self.exercise, spec, netlist, &mut self.budget.clone()).unwrap_or_default();
        self.simulated(&moments, false);
    }

    /// Numbers that leave their range in a state that can be reached, for a design over time: a simulation ends there.
    pub(super) fn ranges_kept(&mut self, spec: &Clocked, design: &Design) {
        let Some((watched, list)) = design::with_watches(design) else { return };
        // It takes a share: the verdict itself is there already.
        let mut budget = self.budget.clone().with_steps(self.budget.steps_left() / 4);
        let netlist = self.exercise.synthesise(&watched, &mut budget).netlist;
        let found = conform::clocked::first_failure(spec, &self.exercise.ports, (&netlist, &list), &mut budget);
        let Some((which, levels)) = found else { return };
        let told = conform::ends_in_simulation(&which.message, &levels, which.span);
        if !self.diagnostics.iter().any(|(d, _)| d.code == told.code) {
            self.add(vec![told]);
        }
    }

    fn simulated(&mut self, moments: &[Moment], strict: bool) {
        const TOLD: [&str; 4] = ["combinational-loop", "incomplete-sensitivity", "several-drivers", "undriven-signal"];
        let told = self.diagnostics.iter().any(|(d, _)| TOLD.contains(&d.code));
        // What no person writes is not simulated beside.
        let length: usize = self.sources.files().map(|(_, f)| f.text.len()).sum();
        let (Some(unit), false) = (self.unit.clone(), told || length > LONGEST_SIMULATED) else { return };
        let found = conform::first_other(self.exercise, (&self.sources, &self.data), &unit, moments, strict);
        let Some((at, other)) = found else { return };
        let of = |k: usize| moments.get(k).map(|m| m.inputs.as_str());
        let before = at.checked_sub(1).and_then(of);
        let (now, built) = moments.get(at).map_or(("", ""), |m| (m.inputs.as_str(), m.outputs.as_str()));
        let levels = self.exercise.input_text(now);
        let before = before.map(|b| self.exercise.input_text(b));
        let line = match other {
            Other::Levels(line) => line,
            Other::Ended(message) => {
                let told = conform::ends_in_simulation(&message, &levels, unit.span);
                return self.add(vec![told]);
            }
        };
        let is_other = |c: char, d: char| matches!(c, '0' | '1') && c != d;
        let bits = self.exercise.ports.iter().filter(|p| !p.is_input).flat_map(|p| p.bit_names().collect::<Vec<_>>());
        let wrong = bits.zip(built.chars().zip(line.chars())).find(|(_, (b, s))| is_other(*b, *s));
        let Some((name, (built, simulated))) = wrong else { return };
        let told = conform::simulated_otherwise(&name, (built, simulated), (&levels, before.as_deref()), unit.span);
        self.add(vec![told]);
    }

    /// Puts a finding on the place that gave the wrong output its level in the event simulator, where that is known.
    fn place(&self, finding: &mut Diagnostic, inputs: &[String], output: &str) {
        let Some(unit) = self.unit.as_ref().filter(|_| PLACED.contains(&finding.code)) else { return };
        let outputs = self.exercise.ports.iter().filter(|p| !p.is_input);
        let bits =
            outputs.flat_map(|p| p.bit_names().zip((0..p.shape.width()).rev()).map(move |(name, bit)| (p, name, bit)));
        let Some((port, _, bit)) = bits.into_iter().find(|(_, name, _)| name == output) else { return };
        let found = conform::ran(self.exercise, (&self.sources, &self.data), unit, inputs, (&port.name, bit));
        let Some((name, span)) = found else { return };
        if let Some((file, _)) = self.sources.files().find(|(_, f)| f.name == name) {
            finding.span = Some(Span { file, ..span });
        }
    }

    /// The same for a row.
    pub(super) fn place_row(&self, finding: &mut Diagnostic, row: u64, actual: &ActualTable) {
        let expected = &self.exercise.expected;
        let wrong = expected.outputs.iter().zip(&actual.columns).find(|(wanted, column)| {
            let wanted = wanted.value(row).to_char();
            wanted != '-' && matches!(column.level(row), '0' | '1') && wanted != column.level(row)
        });
        if let Some((_, column)) = wrong {
            self.place(finding, &[logic::row_text(expected.input_count(), row)], &column.name);
        }
    }

    /// The same for a moment, where the whole way there is known.
    pub(super) fn place_moment(&self, finding: &mut Diagnostic, evidence: &Evidence) {
        let wrong = evidence.expected.iter().find(|(name, wanted)| {
            let is = evidence.actual.get(*name).map_or("", String::as_str);
            matches!(wanted.as_str(), "0" | "1") && matches!(is, "0" | "1") && is != wanted.as_str()
        });
        let Some((output, _)) = wrong else { return };
        let inputs = match &self.exercise.clocked {
            Some(spec) => conform::clocked::levels_on_the_way(self.exercise, spec, evidence),
            None => evidence.row.iter().cloned().collect(),
        };
        self.place(finding, &inputs, output);
    }

    /// The lines that decide what is wrong on a row.
    pub(super) fn way(&self, netlist: &Netlist, actual: &ActualTable, row: u64) -> Vec<PathLine> {
        let exercise = self.exercise;
        let bits = output_bits(netlist, &exercise.ports).into_iter().enumerate();
        let wrong = bits.filter(|(k, _)| {
            let (wanted, is) = (exercise.expected.outputs[*k].value(row).to_char(), actual.columns[*k].level(row));
            wanted != '-' && wanted != is
        });
        let roots: Vec<design::Lit> = wrong.filter_map(|(_, (_, bit))| Some(bit?.value)).collect();
        let columns = input_columns(netlist, &exercise.ports);
        let inputs = exercise.expected.input_count();
        let level = |k: u32| {
            let column = columns.get(k as usize).copied().flatten();
            column.is_some_and(|c| row >> (inputs - 1 - c) & 1 == 1)
        };
        path(netlist, &roots, level, &self.sources)
    }
}
