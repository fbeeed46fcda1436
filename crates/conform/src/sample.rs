//! What of a design is run again in the event simulator: some rows that follow one another, random inputs, clock cycles.

use crate::clocked;
use crate::outcome::Outcome;
use crate::replay::Moment;
use crate::seen::{Rows, Seen};
use base::{Budget, Random};
use design::Netlist;
use elab::{Built, machine_of};
use exercise::{Exercise, Expected, Wide};
use verdict::Evidence;

/// Wrong rows that are run again.
const MOST_REPLAYED: usize = 8;

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

fn of_rows(exercise: &Exercise, rows: &Rows, netlist: &Netlist) -> Vec<Moment> {
    let inputs = exercise.table().input_count();
    // Where nothing is asked for, anything may happen.
    let outputs = &exercise.table().outputs;
    let is_asked = |row: &u64| outputs.iter().any(|o| o.value(*row) != logic::RowValue::DontCare);
    let moment = |row| Moment {
        inputs: logic::row_text(inputs, row),
        outputs: rows.actual.columns.iter().map(|c| c.level(row)).collect(),
    };
    sample_rows(inputs).into_iter().filter(is_asked).take(most_moments(netlist)).map(moment).collect()
}

/// Where there are too many inputs for a table: some of them, one after the other.
fn of_function(exercise: &Exercise, function: &Wide, netlist: &Netlist) -> Vec<Moment> {
    const ROWS: usize = 32;
    let machine = machine_of(netlist, &exercise.ports, &function.inputs, &function.outputs, None);
    let mut random = Random::new(13);
    let mut levels = vec![false; function.inputs.len()];
    let moment = |k: usize| {
        for level in &mut levels {
            let turns = if k.is_multiple_of(2) { 1 } else { u64::from(random.word() >> 61 == 0) };
            *level ^= random.word() >> 29 & turns == 1;
        }
        let inputs = levels.iter().map(|l| if *l { '1' } else { '0' }).collect();
        Moment { inputs, outputs: prove::outputs_at(&machine, &levels).concat() }
    };
    (0..ROWS).map(moment).collect()
}

/// Moments that follow one another, as the netlist of a right design has them; and whether a level that only the simulator finds
/// unknown is a difference.
pub fn sample(exercise: &Exercise, built: &Built, outcome: &Outcome, budget: &Budget) -> (Vec<Moment>, bool) {
    match (&exercise.expected, &outcome.seen) {
        (Expected::Table(_), Seen::Rows(rows)) => (of_rows(exercise, rows, &built.netlist), true),
        (Expected::Table(_), _) => (Vec::new(), true),
        (Expected::Function(function), _) => (of_function(exercise, function, &built.netlist), true),
        (Expected::Machine(machine), _) => {
            let moments = clocked::moments(exercise, machine, &built.netlist, &mut budget.clone());
            (moments.unwrap_or_default(), false)
        }
    }
}

/// Inputs on which a design was found wrong, with its outputs there; none over time.
pub fn wrong_inputs(exercise: &Exercise, outcome: &Outcome) -> Vec<(String, String)> {
    match (&exercise.expected, &outcome.seen) {
        (Expected::Table(table), Seen::Rows(rows)) => {
            let levels = |row| rows.actual.columns.iter().map(|c| c.level(row)).collect();
            let wrong = rows.wrong.iter().take(MOST_REPLAYED);
            wrong.map(|row| (logic::row_text(table.input_count(), row), levels(row))).collect()
        }
        (Expected::Function(function), _) => {
            let shown = outcome.findings.iter().filter_map(|(_, e)| e.as_ref());
            let levels = |e: &Evidence| -> Option<String> {
                function.outputs.iter().map(|n| e.actual.get(n).map(String::as_str)).collect()
            };
            shown.filter_map(|e| Some((e.row.clone()?, levels(e)?))).collect()
        }
        (Expected::Table(_) | Expected::Machine(_), _) => Vec::new(),
    }
}

/// The levels of all inputs on the way to what some evidence shows, one moment after the other. Nothing where only the end of the
/// way is known.
pub fn way_to(exercise: &Exercise, evidence: &Evidence) -> Vec<String> {
    match &exercise.expected {
        Expected::Machine(machine) => clocked::levels_on_the_way(exercise, machine, evidence),
        Expected::Table(_) | Expected::Function(_) => evidence.row.iter().cloned().collect(),
    }
}
