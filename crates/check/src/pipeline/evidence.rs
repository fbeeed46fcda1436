//! What backs a finding: a second run in the event simulator, and the lines that decide a level.

use super::Run;
use crate::compare::{ActualTable, input_columns, output_bits};
use crate::diagnostics as say;
use crate::path::{PathLine, path};
use crate::replay;
use design::Netlist;

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
        let found = replay::agrees(self.exercise, (&self.sources, &self.data), unit, &rows);
        if found.is_none_or(|agrees| agrees.iter().any(|same| *same)) {
            return false;
        }
        let told = say::engines_disagree(rows.first().map_or("", |(row, _)| row.as_str()), unit.span);
        self.cannot_tell = true;
        self.add(vec![told]);
        true
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
