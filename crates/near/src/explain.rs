//! Near misses: the smallest changes with which a wrong design would be right, each one tried before it is said.
//!
//! `table` asks what the wrong table has to do with the expected one; `text` lists small changes of the source and
//! `repair` tries them, by reading the changed source anew.

use crate::near_miss::{MOST, Near};
use crate::repair::Workshop;
use crate::{clocked, fixable, repair, table, wide};

use conform::wrong_rows;
use conform::{Outcome, Seen};

use base::{Budget, Id};
use design::Netlist;
use elab::ActualTable;
use exercise::Exercise;
use verdict::PathLine;

/// Explains the wrong rows of a combinational hand-in.
pub fn explain(
    exercise: &Exercise,
    (netlist, actual): (&Netlist, &ActualTable),
    workshop: &Workshop<'_>,
    budget: &mut Budget,
) -> Vec<Near> {
    let table = table::Tables::new(exercise, actual, workshop.notation());
    let mut found = table.outputs_wrong();
    let read_wrong = table.read_wrong(budget);
    let rows = exercise.expected.rows();
    let goal = format!("all {rows} rows");
    let sample = fixable::sample(&wrong_rows(exercise, actual));
    let hopeful = || fixable::lines(netlist, exercise, &sample, workshop.sources);
    let mut trial =
        |built: &repair::Built, budget: &mut Budget| repair::right_on_all_rows(exercise, &sample, built, budget);
    let room = MOST - found.len() - usize::from(read_wrong.is_some());
    let repairs = workshop.search(&goal, room, &hopeful, &mut trial, budget);
    let said_as_a_term = repairs.iter().any(|n| n.kind == "extra_term");
    // One place in the source is a smaller thing than an input taken wrong everywhere.
    found.extend(repairs);
    found.extend(read_wrong);
    if found.len() < MOST {
        found.extend(table.missing_term().filter(|_| !said_as_a_term));
    }
    if found.is_empty() {
        found.extend(table.extra_term().or_else(|| table.cut_short()));
    }
    found
}

/// Other ways to join a design, and other moments, with which a hand-in that is not judged row by row would be right.
pub fn explain_outcome(exercise: &Exercise, netlist: &Netlist, outcome: &Outcome, budget: &Budget) -> Vec<Near> {
    match (&outcome.seen, &exercise.clocked, &exercise.wide) {
        (Seen::Difference(difference), Some(spec), _) => {
            clocked::search(spec, &exercise.ports, netlist, difference, budget)
        }
        (Seen::Period(is), Some(spec), _) => clocked::off_by_one(spec, netlist, *is).into_iter().collect(),
        (Seen::Input(levels), _, Some(spec)) => wide::search(exercise, spec, netlist, levels, budget),
        _ => Vec::new(),
    }
}

/// Looks for changes of the source that make a hand-in right that is not judged row by row, beside what is known already.
/// `seen` is an input on which a wide one was found wrong, `lines` decide what is wrong: changes there are tried first.
pub fn explain_machine(
    exercise: &Exercise,
    known: usize,
    (seen, lines): (&[bool], &[PathLine]),
    workshop: &Workshop<'_>,
    budget: &mut Budget,
) -> Vec<Near> {
    let goal = if exercise.clocked.is_some() { "every clock cycle" } else { "every input" };
    let mut trial = |built: &repair::Built, budget: &mut Budget| match (&exercise.clocked, &exercise.wide) {
        (Some(spec), _) => conform::clocked::is_right(exercise, spec, (&built.design, &built.netlist), budget),
        (None, Some(spec)) => conform::wide::is_right(exercise, spec, &built.netlist, seen, budget),
        (None, None) => false,
    };
    let hopeful = || {
        let place =
            |l: &PathLine| workshop.sources.files().find(|(_, f)| f.name == l.file).map(|(id, _)| (id.index(), l.line));
        lines.iter().filter_map(place).collect()
    };
    workshop.search(goal, MOST.saturating_sub(known), &hopeful, &mut trial, budget)
}
