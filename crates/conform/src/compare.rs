//! The Behaviour stage for combinational designs: all rows, 64 at a time.

use crate::diagnostics as say;
use base::Diagnostic;
use design::Netlist;
use elab::{ActualColumn, ActualTable, output_bits};
use exercise::Exercise;
use logic::{RowSet, row_text};

/// How a hand-in's rows compare with the exercise's.
pub struct Comparison {
    /// Rows with at least one wrong output.
    pub wrong: RowSet,
    /// For each output, whether it is wrong on some row.
    pub outputs: Vec<bool>,
    /// Rows with an output that is unknown where the exercise demands a value.
    pub unknown: RowSet,
    /// What is wrong, with the row that shows it.
    pub findings: Vec<(Diagnostic, u64)>,
}

/// `full=0, open=1` for a row.
pub fn inputs_text(exercise: &Exercise, row: u64) -> String {
    let n = exercise.expected.input_count();
    let text = row_text(n, row);
    let mut at = 0;
    let mut parts = Vec::new();
    for port in exercise.ports.iter().filter(|p| p.is_input) {
        let width = port.shape.width() as usize;
        parts.push(format!("{}={}", port.name, &text[at..at + width]));
        at += width;
    }
    parts.join(", ")
}

/// Rows with an output that has not the demanded value.
pub fn wrong_rows(exercise: &Exercise, actual: &ActualTable) -> RowSet {
    let mut wrong = RowSet::empty(exercise.expected.input_count());
    for (expected, column) in exercise.expected.outputs.iter().zip(&actual.columns) {
        let bad = expected.ones.zip(&column.ones, |e, a| e ^ a).zip(&column.unknown, |d, u| d | u);
        wrong = wrong.zip(&bad.zip(&expected.dont_care, |b, d| b & !d), |w, b| w | b);
    }
    wrong
}

/// Holds the table of a hand-in against the expected one.
pub fn compare(exercise: &Exercise, actual: &ActualTable, netlist: &Netlist) -> Comparison {
    let inputs = exercise.expected.input_count();
    let mut wrong = RowSet::empty(inputs);
    let mut findings = Vec::new();
    let mut first_wrong: Option<(u64, usize)> = None;
    let mut unknown_rows = RowSet::empty(inputs);
    let mut outputs = Vec::new();
    for (k, (expected, column)) in exercise.expected.outputs.iter().zip(&actual.columns).enumerate() {
        let care = expected.dont_care.complement();
        let unknown = column.unknown.zip(&care, |u, c| u & c);
        let differ = expected.ones.zip(&column.ones, |e, a| e ^ a).zip(&care, |d, c| d & c);
        let bad = differ.zip(&unknown, |d, u| d | u);
        unknown_rows = unknown_rows.zip(&unknown, |a, b| a | b);
        let first = differ.zip(&unknown, |d, u| d & !u).first();
        if let Some(row) = first
            && first_wrong.is_none_or(|(r, _)| row < r)
        {
            first_wrong = Some((row, k));
        }
        wrong = wrong.zip(&bad, |a, b| a | b);
        outputs.push(!bad.is_empty());
    }
    if let Some((row, k)) = first_wrong {
        let column = &actual.columns[k];
        let port = output_bits(netlist, &exercise.ports).get(k).and_then(|(_, bit)| *bit);
        let finding = say::wrong_rows(
            &say::WrongRows {
                wrong: wrong.count(),
                total: wrong.rows(),
                inputs: &inputs_text(exercise, row),
                output: &column.name,
                expected: exercise.expected.outputs[k].value(row).to_char(),
                actual: &column.level(row).to_string(),
            },
            port.and_then(|p| netlist.origin(p.value.node())),
        );
        findings.push((finding, row));
    }
    if let Some(row) = unknown_rows.first() {
        let care = |k: usize| exercise.expected.outputs[k].value(row) != logic::RowValue::DontCare;
        let unknown: Vec<&ActualColumn> = actual
            .columns
            .iter()
            .enumerate()
            .filter(|(k, c)| care(*k) && c.unknown.contains(row))
            .map(|(_, c)| c)
            .collect();
        let names: Vec<&str> = unknown.iter().map(|c| c.name.as_str()).collect();
        let floating = unknown.iter().all(|c| c.floating.contains(row));
        findings.push((say::unknown_output(&names, &inputs_text(exercise, row), floating), row));
    }
    Comparison { wrong, outputs, unknown: unknown_rows, findings }
}
