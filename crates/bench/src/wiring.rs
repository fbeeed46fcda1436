//! Which lamp each output really lights, and what the lamps show on every row.

use crate::diagnostics as say;
use crate::state::BenchState;
use base::{Diagnostic, FileId, SourceFile};
use board::{Bench, Board, Lamp, OutputLevel, PortBit, Wiring, judge, parse_wiring};
use conform::inputs_text;
use elab::ActualTable;
use exercise::{Exercise, WiringPlan};
use logic::RowValue;

/// Reads and judges a wiring file against the exercise's plan.
pub fn judge_file(exercise: &Exercise, plan: &WiringPlan, id: FileId, file: &SourceFile) -> (Wiring, Vec<Diagnostic>) {
    match parse_wiring(id, file) {
        Ok(entries) => judge(&plan.board, &exercise.port_bits(), &plan.map, &entries),
        Err(error) => (Wiring::default(), vec![say::wiring_unreadable(&error.to_string())]),
    }
}

/// The wiring that follows the exercise's plan.
pub fn planned(plan: &WiringPlan) -> Wiring {
    let ends = plan.map.iter().filter_map(|(bit, label)| Some((bit.clone(), plan.board.by_label(label)?)));
    Wiring { ends: ends.collect() }
}

fn level(actual: &ActualTable, row: u64, k: usize) -> OutputLevel {
    match actual.columns.get(k).map(|c| c.level(row)) {
        Some('0') => OutputLevel::Zero,
        Some('1') => OutputLevel::One,
        _ => OutputLevel::Unknown,
    }
}

/// A walk that showed wrong lamps.
pub struct WrongWalk {
    pub finding: Diagnostic,
    /// The first row with a wrong lamp.
    pub row: u64,
    /// Rows that show the right lamps, of all.
    pub right: (u64, u64),
    /// How many rows, in a few words.
    pub summary: String,
}

/// Walks all rows: sets the switches as the plan says and compares the planned lamps. Gives the finding and the row
/// of the first difference.
pub fn walk(exercise: &Exercise, plan: &WiringPlan, wiring: &Wiring, actual: &ActualTable) -> Option<WrongWalk> {
    let ports = exercise.port_bits();
    let planned = planned(plan);
    let setter = Bench::new(&plan.board, &planned, &ports);
    let bench = Bench::new(&plan.board, wiring, &ports);
    let mut wrong = 0;
    let mut first = None;
    for row in 0..exercise.table().rows() {
        let switches = setter.switches_for_row(row, &[]);
        let lamps = bench.lamps(&switches, |row, k| level(actual, row, k));
        let difference = exercise.table().outputs.iter().find_map(|output| {
            let end = *planned.ends.get(&output.name)?;
            let wanted = match output.value(row) {
                RowValue::DontCare => return None,
                value => plan.board.part_of(end).shows((value == RowValue::One).into()),
            };
            (lamps[end] != wanted).then_some((end, wanted, lamps[end]))
        });
        if let Some(difference) = difference {
            wrong += 1;
            first.get_or_insert((row, difference));
        }
    }
    let (row, (end, wanted, shown)) = first?;
    let label = &plan.board.terminals()[end].label;
    let state = |lamp: Lamp| match lamp {
        Lamp::Lit => "lit",
        Lamp::Dark => "dark",
        Lamp::Unknown => "at no clear level",
        Lamp::Conflict => "pulled both ways",
    };
    let text = format!("{label} is {} where it should be {}", state(shown), state(wanted));
    let total = exercise.table().rows();
    let finding = say::wrong_lamps(wrong, total, &text, &inputs_text(exercise, row));
    Some(WrongWalk {
        finding,
        row,
        right: (total - wrong, total),
        summary: format!("{wrong} of {total} rows show wrong lamps."),
    })
}

/// What the board shows with the expected behaviour loaded and wired as planned, after its switches were set (by hand, or
/// for a row of the table); `None` for an exercise that is not wired or not judged row by row.
pub fn bench_as_expected(exercise: &Exercise, switches: &[bool], row: Option<u64>) -> Option<BenchState> {
    let plan = exercise.wiring.as_ref().filter(|_| exercise.rows() > 0)?;
    let ports: Vec<PortBit> = exercise.port_bits();
    let wiring = planned(plan);
    let board: &Board = &plan.board;
    let bench = Bench::new(board, &wiring, &ports);
    let switches = match row {
        Some(row) => bench.switches_for_row(row, switches),
        None => (0..board.parts.len()).map(|i| switches.get(i).copied().unwrap_or(false)).collect(),
    };
    let lamps = bench.lamps(&switches, |row, k| match exercise.table().outputs.get(k).map(|o| o.value(row)) {
        Some(RowValue::Zero) => OutputLevel::Zero,
        Some(RowValue::One) => OutputLevel::One,
        _ => OutputLevel::Unknown,
    });
    let row = bench.row(&switches);
    let lamps = board.by_part(&lamps);
    let part = |name: &String| wiring.ends.get(name).map(|end| board.terminals()[*end].part);
    let wired = ports.iter().map(|p| (p.name.clone(), part(&p.name))).collect();
    let has_open_input = row.is_none();
    Some(BenchState { switches, lamps, row, wired, has_open_input, ..BenchState::default() })
}
