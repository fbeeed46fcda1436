//! Designs that are judged row by row: all rows, 64 at a time.

use crate::diagnostics as say;
use crate::ignored::ignored;
use crate::outcome::Outcome;
use crate::path::path;
use crate::seen::{Rows, Seen};
use base::{Budget, Diagnostic, Exhausted, SourceMap};
use design::{Lit, Netlist};
use elab::{ActualColumn, ActualTable, actual_table, input_columns, output_bits};
use exercise::Exercise;
use logic::{RowSet, row_text};
use std::collections::BTreeMap;
use verdict::{Evidence, Proof, ProofKind, ProofMethod};

/// What shows a finding on a row, with the lines of the source that decide what is wrong there.
pub fn evidence(exercise: &Exercise, rows: &Rows, (netlist, sources): (&Netlist, &SourceMap), row: u64) -> Evidence {
    let expected = exercise.table();
    let bits = output_bits(netlist, &exercise.ports).into_iter().enumerate();
    let wrong = bits.filter(|(k, _)| {
        let (wanted, is) = (expected.outputs[*k].value(row).to_char(), rows.actual.columns[*k].level(row));
        wanted != '-' && wanted != is
    });
    let roots: Vec<Lit> = wrong.filter_map(|(_, (_, bit))| Some(bit?.value)).collect();
    let columns = input_columns(netlist, &exercise.ports);
    let inputs = expected.input_count();
    let level = |k: u32| {
        let column = columns.get(k as usize).copied().flatten();
        column.is_some_and(|c| row >> (inputs - 1 - c) & 1 == 1)
    };
    Evidence {
        row: Some(row_text(inputs, row)),
        cycle: None,
        expected: expected.outputs.iter().map(|o| (o.name.clone(), o.value(row).to_char().to_string())).collect(),
        actual: rows.actual.columns.iter().map(|c| (c.name.clone(), c.level(row).to_string())).collect(),
        trace: Vec::new(),
        state: BTreeMap::new(),
        path: path(netlist, &roots, level, sources),
    }
}

/// Holds a netlist, whose ports were found to fit, against the exercise's table.
pub(crate) fn run(exercise: &Exercise, (netlist, sources): (&Netlist, &SourceMap), budget: &mut Budget) -> Outcome {
    let total = exercise.table().rows();
    let actual = match actual_table(netlist, &exercise.ports, budget) {
        Ok(actual) => actual,
        Err(exhausted) => {
            return Outcome {
                passed: 0,
                total,
                proof: Proof::NONE,
                findings: vec![(say::budget(&exhausted.0.to_string()), None)],
                seen: Seen::Nothing,
                cannot_tell: true,
                rhythm: None,
            };
        }
    };
    let Comparison { rows, findings } = compare(exercise, actual, netlist);
    let passed = total - rows.wrong.count();
    let kind = if passed == total { ProofKind::Proved } else { ProofKind::Differs };
    let shown = |(told, row): (Diagnostic, u64)| (told, Some(evidence(exercise, &rows, (netlist, sources), row)));
    let mut findings: Vec<(Diagnostic, Option<Evidence>)> = findings.into_iter().map(shown).collect();
    findings.extend(ignored(exercise, netlist, |k| rows.outputs.get(k) == Some(&true)).into_iter().map(|d| (d, None)));
    Outcome {
        passed,
        total,
        proof: Proof { kind, method: Some(ProofMethod::Exhaustive), rows: Some(total), cycles: None, budget: None },
        findings,
        seen: Seen::Rows(Box::new(rows)),
        cannot_tell: false,
        rhythm: None,
    }
}

/// Is a netlist, whose ports were found to fit, right on all rows?
pub(crate) fn is_right(exercise: &Exercise, netlist: &Netlist, budget: &mut Budget) -> bool {
    does_right(exercise, netlist, budget) == Ok(true)
}

/// The same; an error when the budget runs out.
pub(crate) fn does_right(exercise: &Exercise, netlist: &Netlist, budget: &mut Budget) -> Result<bool, Exhausted> {
    let actual = actual_table(netlist, &exercise.ports, budget)?;
    Ok(wrong_rows(exercise, &actual).is_empty())
}

/// A first row for each kind of wrong output.
struct Comparison {
    rows: Rows,
    findings: Vec<(Diagnostic, u64)>,
}

/// `full=0, open=1` for a row.
pub fn inputs_text(exercise: &Exercise, row: u64) -> String {
    let n = exercise.table().input_count();
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
    let mut wrong = RowSet::empty(exercise.table().input_count());
    for (expected, column) in exercise.table().outputs.iter().zip(&actual.columns) {
        let bad = expected.ones.zip(&column.ones, |e, a| e ^ a).zip(&column.unknown, |d, u| d | u);
        wrong = wrong.zip(&bad.zip(&expected.dont_care, |b, d| b & !d), |w, b| w | b);
    }
    wrong
}

/// Holds the table of a design against the expected one.
fn compare(exercise: &Exercise, actual: ActualTable, netlist: &Netlist) -> Comparison {
    let inputs = exercise.table().input_count();
    let mut wrong = RowSet::empty(inputs);
    let mut findings = Vec::new();
    let mut first_wrong: Option<(u64, usize)> = None;
    let mut unknown_rows = RowSet::empty(inputs);
    let mut outputs = Vec::new();
    for (k, (expected, column)) in exercise.table().outputs.iter().zip(&actual.columns).enumerate() {
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
                expected: exercise.table().outputs[k].value(row).to_char(),
                actual: &column.level(row).to_string(),
            },
            port.and_then(|p| netlist.origin(p.value.node())),
        );
        findings.push((finding, row));
    }
    if let Some(row) = unknown_rows.first() {
        let care = |k: usize| exercise.table().outputs[k].value(row) != logic::RowValue::DontCare;
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
    Comparison { rows: Rows { actual, wrong, outputs, unknown: unknown_rows }, findings }
}
