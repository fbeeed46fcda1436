//! What backs a verdict: the same in the event simulator, and the place that gave a wrong level.

use super::report::Report;
use base::{Budget, Code, Diagnostic};
use conform::{Other, Outcome};
use elab::{Built, Sources};
use exercise::{ClockedRule, Exercise};
use verdict::Evidence;

/// Findings with a place of their own in the source: what gave the wrong level.
pub(super) const PLACED: [Code; 2] = [Code::WRONG_ROWS, Code::WRONG_CYCLE];

/// Longest source, all files together, that is simulated beside what is built of it.
const LONGEST_SIMULATED: usize = 96 << 10;

/// Runs wrong rows again in the event simulator; a finding where it has none of them as the netlist has it. Then nothing is said of
/// the design: one of the two is wrong, and that is not the student's fault.
pub(super) fn engines_disagree(
    exercise: &Exercise,
    built: &Built,
    rows: Vec<(String, String)>,
    (report, budget): (&Report, &Budget),
) -> Option<Diagnostic> {
    // What has no level of its own, or is known to be simulated otherwise than built, tells nothing.
    const OTHERWISE: [Code; 5] = [
        Code::INFERRED_LATCH,
        Code::COMBINATIONAL_LOOP,
        Code::INCOMPLETE_SENSITIVITY,
        Code::SEVERAL_DRIVERS,
        Code::UNDRIVEN_SIGNAL,
    ];
    if report.has(&OTHERWISE) {
        return None;
    }
    let rows: Vec<(String, String)> =
        rows.into_iter().filter(|(_, levels)| levels.chars().all(|c| matches!(c, '0' | '1'))).collect();
    let agrees = conform::agrees(exercise, &built.design, &rows, budget)?;
    if agrees.iter().any(|same| *same) {
        return None;
    }
    Some(conform::engines_disagree(rows.first().map_or("", |(row, _)| row.as_str()), built.unit.span))
}

/// What is right as built is simulated, too, over moments that follow one another: a source of which the two readings differ is no
/// clean pass. Over time, numbers have to stay in their ranges.
pub(super) fn as_built(
    exercise: &Exercise,
    (built, sources): (&Built, &Sources),
    outcome: &Outcome,
    budget: &Budget,
    report: &mut Report,
) {
    const TOLD: [Code; 4] =
        [Code::COMBINATIONAL_LOOP, Code::INCOMPLETE_SENSITIVITY, Code::SEVERAL_DRIVERS, Code::UNDRIVEN_SIGNAL];
    // What no person writes is not simulated beside.
    if !report.has(&TOLD) && sources.length() <= LONGEST_SIMULATED {
        report.add(otherwise(exercise, built, outcome, budget).into_iter().collect());
    }
    if let Some(told) = conform::left_range(exercise, built, budget)
        && !report.has(&[told.code])
    {
        report.add(vec![told]);
    }
}

fn otherwise(exercise: &Exercise, built: &Built, outcome: &Outcome, budget: &Budget) -> Option<Diagnostic> {
    let unit = &built.unit;
    let (moments, strict) = conform::sample(exercise, built, outcome, budget);
    let (at, other) = conform::first_other(exercise, &built.design, (&moments, strict), budget)?;
    let of = |k: usize| moments.get(k).map(|m| m.inputs.as_str());
    let before = at.checked_sub(1).and_then(of);
    let (now, netlist) = moments.get(at).map_or(("", ""), |m| (m.inputs.as_str(), m.outputs.as_str()));
    let levels = exercise.input_text(now);
    let before = before.map(|b| exercise.input_text(b));
    let line = match other {
        Other::Levels(line) => line,
        Other::Ended(message) => return Some(conform::ends_in_simulation(&message, &levels, unit.span)),
    };
    let is_other = |c: char, d: char| matches!(c, '0' | '1') && c != d;
    let bits = exercise.ports.iter().filter(|p| !p.is_input).flat_map(|p| p.bit_names().collect::<Vec<_>>());
    let (name, (built, simulated)) =
        bits.zip(netlist.chars().zip(line.chars())).find(|(_, (b, s))| is_other(*b, *s))?;
    Some(conform::simulated_otherwise(&name, (built, simulated), (&levels, before.as_deref()), unit.span))
}

/// Puts a finding of an output's rate that has no place, since nothing of the netlist makes its level, on what gives it that level.
pub(super) fn place_at_rest(exercise: &Exercise, built: &Built, finding: &mut Diagnostic, budget: &Budget) {
    let rate = exercise.clocked().and_then(|spec| match &spec.rule {
        ClockedRule::Rate(rule) => spec.outputs.get(rule.output),
        ClockedRule::Machine { .. } => None,
    });
    let Some(output) = rate.filter(|_| finding.span.is_none() && finding.code == Code::WRONG_RATE) else { return };
    let ports = || exercise.ports.iter().filter(|p| !p.is_input);
    let Some((port, bit)) = ports().find_map(|p| {
        let mut bits = p.bit_names().zip((0..p.shape.width()).rev());
        bits.find(|(name, _)| name == output).map(|(_, bit)| (p.name.as_str(), bit))
    }) else {
        return;
    };
    let inputs: usize = exercise.ports.iter().filter(|p| p.is_input).map(|p| p.shape.width() as usize).sum();
    let low = ["0".repeat(inputs)];
    put_on_what_ran(exercise, built, finding, (&low, port, bit), budget);
}

/// Puts a finding on what gave an output's bit its level at the end of some moments.
fn put_on_what_ran(
    exercise: &Exercise,
    built: &Built,
    finding: &mut Diagnostic,
    (inputs, port, bit): (&[String], &str, u32),
    budget: &Budget,
) {
    if let Some(span) = conform::ran(exercise, &built.design, inputs, (port, bit), budget) {
        finding.span = Some(span);
    }
}

/// Puts a finding on the place that gave the wrong output its level in the event simulator, where the whole way there is known.
pub(super) fn place(
    exercise: &Exercise,
    built: &Built,
    finding: &mut Diagnostic,
    evidence: &Evidence,
    budget: &Budget,
) {
    if !PLACED.contains(&finding.code) {
        return;
    }
    let level = |of: &std::collections::BTreeMap<String, String>, name: &str| {
        of.get(name).filter(|l| matches!(l.as_str(), "0" | "1")).cloned()
    };
    let outputs = exercise.ports.iter().filter(|p| !p.is_input);
    let mut bits =
        outputs.flat_map(|p| p.bit_names().zip((0..p.shape.width()).rev()).map(move |(name, bit)| (p, name, bit)));
    let wrong = bits.find(|(_, name, _)| {
        let both = level(&evidence.expected, name).zip(level(&evidence.actual, name));
        both.is_some_and(|(wanted, is)| wanted != is)
    });
    let Some((port, _, bit)) = wrong else { return };
    let inputs = conform::way_to(exercise, evidence);
    put_on_what_ran(exercise, built, finding, (&inputs, &port.name, bit), budget);
}
