//! Near misses: the smallest changes with which a wrong design would be right, each one tried before it is said.
//!
//! `table` asks what the wrong table has to do with the expected one; `text` lists small changes of the source and
//! `repair` tries them, by reading the changed source anew.

use crate::near_miss::{MOST, Near};
use crate::repair::Workshop;
use crate::{clocked, fixable, repair, table, wide};
use base::{Budget, Id};
use conform::{Outcome, Rows, Seen};
use design::Netlist;
use elab::Built;
use exercise::Exercise;
use std::collections::BTreeSet;

/// Steps of the budget that looking for near misses in the source may take.
const SOURCE_STEPS: u64 = 50_000_000;

/// Explains a wrong design, the smallest change first. Without a workshop the source is not looked into, for findings while a text
/// is typed.
pub fn explain(
    exercise: &Exercise,
    netlist: &Netlist,
    outcome: &Outcome,
    workshop: Option<&Workshop<'_>>,
    budget: &Budget,
) -> Vec<Near> {
    let mut own = budget.clone().with_steps(SOURCE_STEPS);
    match (&outcome.seen, workshop) {
        (Seen::Nothing, _) | (Seen::Rows(_), None) => Vec::new(),
        (Seen::Rows(rows), Some(workshop)) if !rows.wrong.is_empty() => {
            of_rows(exercise, (netlist, rows), workshop, &mut own)
        }
        (Seen::Rows(_), Some(_)) => Vec::new(),
        (Seen::Difference(_) | Seen::Input(_) | Seen::Period(_) | Seen::Rhythm, _) => {
            let joined = other_joins(exercise, netlist, outcome, budget);
            let room = MOST.saturating_sub(joined.len());
            let Some(workshop) = workshop.filter(|_| room > 0 && outcome.differs()) else { return joined };
            let more = of_source(exercise, outcome, room, workshop, &mut own);
            // One place in the source is a smaller thing than outputs that are early or late as a whole.
            let (shifted, rest) = joined.into_iter().partition::<Vec<_>, _>(|n| n.kind.starts_with("one_cycle"));
            rest.into_iter().chain(more).chain(shifted).collect()
        }
    }
}

/// Explains the wrong rows of a combinational hand-in.
fn of_rows(
    exercise: &Exercise,
    (netlist, seen): (&Netlist, &Rows),
    workshop: &Workshop<'_>,
    budget: &mut Budget,
) -> Vec<Near> {
    let table = table::Tables::new(exercise, &seen.actual, workshop.notation());
    let mut found = table.outputs_wrong();
    let read_wrong = table.read_wrong(budget);
    let goal = format!("all {} rows", exercise.table().rows());
    let sample = fixable::sample(&seen.wrong);
    let hopeful = || fixable::lines(netlist, exercise, &sample, &workshop.sources.map);
    let mut trial = |built: &Built, budget: &mut Budget| repair::right_on_all_rows(exercise, &sample, built, budget);
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
fn other_joins(exercise: &Exercise, netlist: &Netlist, outcome: &Outcome, budget: &Budget) -> Vec<Near> {
    match (&outcome.seen, exercise.clocked(), exercise.wide()) {
        (Seen::Difference(difference), Some(spec), _) => {
            clocked::search(spec, &exercise.ports, netlist, difference, budget)
        }
        (Seen::Period(is), Some(spec), _) => clocked::off_by_one(spec, netlist, *is).into_iter().collect(),
        (Seen::Input(levels), _, Some(spec)) => wide::search(exercise, spec, netlist, levels, budget),
        _ => Vec::new(),
    }
}

/// Looks for changes of the source that make a hand-in right that is not judged row by row. What decides the difference is tried
/// first.
fn of_source(
    exercise: &Exercise,
    outcome: &Outcome,
    room: usize,
    workshop: &Workshop<'_>,
    budget: &mut Budget,
) -> Vec<Near> {
    let goal = if exercise.clocked().is_some() { "every clock cycle" } else { "every input" };
    let shown = || outcome.findings.iter().filter_map(|(_, e)| e.as_ref());
    let rows = shown().filter_map(|e| e.row.as_deref());
    let seen: Vec<bool> = rows.take(1).flat_map(str::chars).map(|c| c == '1').collect();
    let mut trial = |built: &Built, budget: &mut Budget| conform::is_right(exercise, built, &seen, budget);
    let hopeful = || -> BTreeSet<(usize, u32)> {
        let files = || workshop.sources.map.files();
        let lines = shown().flat_map(|e| &e.path);
        lines.filter_map(|l| files().find(|(_, f)| f.name == l.file).map(|(id, _)| (id.index(), l.line))).collect()
    };
    workshop.search(goal, room, &hopeful, &mut trial, budget)
}
