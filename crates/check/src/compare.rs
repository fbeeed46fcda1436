//! The Behaviour stage for combinational designs: all rows, 64 at a time.

use crate::diagnostics as say;
use crate::exercise::Exercise;
use crate::port::ExercisePort;
use base::{Budget, Diagnostic, Exhausted};
use design::{Lit, Netlist};
use logic::{RowSet, input_word, row_text};

/// What an output bit of a hand-in does on each row.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ActualColumn {
    /// Name of the output bit as the exercise has it.
    pub name: String,
    /// Rows where it is 1.
    pub ones: RowSet,
    /// Rows where it is unknown or floats.
    pub unknown: RowSet,
    /// Rows where it floats.
    pub floating: RowSet,
}

impl ActualColumn {
    /// `0`, `1`, `X` or `Z`.
    pub fn level(&self, row: u64) -> char {
        if self.floating.contains(row) {
            'Z'
        } else if self.unknown.contains(row) {
            'X'
        } else if self.ones.contains(row) {
            '1'
        } else {
            '0'
        }
    }
}

/// The table of a hand-in, output bits in the exercise's order.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ActualTable {
    /// Output bits.
    pub columns: Vec<ActualColumn>,
}

/// Which column of the table each input of a netlist is, by port and position.
pub(crate) fn input_columns(netlist: &Netlist, ports: &[ExercisePort]) -> Vec<Option<u32>> {
    let column = |bit: &design::InputBit| {
        let mut first = 0;
        let mut column = None;
        for port in ports.iter().filter(|p| p.is_input) {
            if port.name == bit.port {
                column = Some(first + port.shape.width() - 1 - bit.position);
            }
            first += port.shape.width();
        }
        column
    };
    netlist.inputs.iter().map(column).collect()
}

/// The output bits of the exercise in its order, each with its name and what the netlist has for it.
pub(crate) fn output_bits<'n>(
    netlist: &'n Netlist,
    ports: &[ExercisePort],
) -> Vec<(String, Option<&'n design::OutputBit>)> {
    let bits = ports.iter().filter(|p| !p.is_input);
    let bits = bits.flat_map(|p| (0..p.shape.width()).rev().map(move |position| (p, position)));
    bits.map(|(port, position)| {
        let bit = netlist.outputs.iter().find(|o| o.port == port.name && o.position == position);
        (port.shape.bit_name(&port.name, position), bit)
    })
    .collect()
}

/// Runs all rows of the exercise through the netlist, whose ports were found to fit.
pub(crate) fn actual_table(
    netlist: &Netlist,
    ports: &[ExercisePort],
    budget: &mut Budget,
) -> Result<ActualTable, Exhausted> {
    let inputs: u32 = ports.iter().filter(|p| p.is_input).map(|p| p.shape.width()).sum();
    let columns = input_columns(netlist, ports);
    let mut roots: Vec<Lit> = Vec::new();
    let mut names = Vec::new();
    for (name, bit) in output_bits(netlist, ports) {
        roots.extend(bit.map_or([Lit::FALSE, Lit::TRUE, Lit::TRUE], |b| [b.value, b.unknown, b.floating]));
        names.push(name);
    }
    let words = (1u64 << inputs).div_ceil(64);
    let mut rails: Vec<Vec<u64>> = vec![Vec::with_capacity(words as usize); roots.len()];
    netlist.simulate(
        &roots,
        words,
        budget,
        |k, word| columns.get(k as usize).copied().flatten().map_or(0, |c| input_word(inputs, c, word)),
        |_, values| {
            for (rail, value) in rails.iter_mut().zip(values) {
                rail.push(*value);
            }
        },
    )?;
    let columns = names.into_iter().zip(rails.chunks_exact(3)).map(|(name, rail)| ActualColumn {
        name,
        ones: RowSet::from_words(inputs, &rail[0]),
        unknown: RowSet::from_words(inputs, &rail[1]),
        floating: RowSet::from_words(inputs, &rail[2]),
    });
    Ok(ActualTable { columns: columns.collect() })
}

/// How a hand-in's rows compare with the exercise's.
pub(crate) struct Comparison {
    /// Rows with at least one wrong output.
    pub(crate) wrong: RowSet,
    /// For each output, whether it is wrong on some row.
    pub(crate) outputs: Vec<bool>,
    /// Rows with an output that is unknown where the exercise demands a value.
    pub(crate) unknown: RowSet,
    pub(crate) findings: Vec<(Diagnostic, u64)>,
}

/// `full=0, open=1` for a row.
pub(crate) fn inputs_text(exercise: &Exercise, row: u64) -> String {
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
pub(crate) fn wrong_rows(exercise: &Exercise, actual: &ActualTable) -> RowSet {
    let mut wrong = RowSet::empty(exercise.expected.input_count());
    for (expected, column) in exercise.expected.outputs.iter().zip(&actual.columns) {
        let bad = expected.ones.zip(&column.ones, |e, a| e ^ a).zip(&column.unknown, |d, u| d | u);
        wrong = wrong.zip(&bad.zip(&expected.dont_care, |b, d| b & !d), |w, b| w | b);
    }
    wrong
}

/// Holds the table of a hand-in against the expected one.
pub(crate) fn compare(exercise: &Exercise, actual: &ActualTable, netlist: &Netlist) -> Comparison {
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
