//! The way of a hand-in to its verdict, each phase with a type of its own: sources, a structured design, behaviour, what is
//! loaded on the board. What is found on the way grows in one place, the [`Report`].

mod boards;
mod outcome;
mod phases;
mod refusals;
mod report;
mod simulated;
mod values;

pub use phases::Checked;
pub use refusals::{no_design, stopped};

use crate::hand_in::HandIn;
use crate::{answers, diagnostics as say};
use base::{Budget, Diagnostic, SourceMap, Stage};
use conform::WorthTrying;
use elab::{Parsed, Sources, Stop, ample};
use exercise::Exercise;
use near::Workshop;
use phases::{Behaved, Structured};
use report::{Report, codes};
use std::collections::BTreeMap;
use verdict::{ProofBudget, ProofKind, VerdictKind};

/// Checks one hand-in. Never panics and never hangs: a fault of ours is a verdict of "can't tell".
pub fn check(exercise: &Exercise, hand_in: &HandIn) -> Checked {
    check_within(exercise, hand_in, &Budget::hand_in())
}

/// The same with the budget of a question; setting its flag ends it early with "can't tell".
pub fn check_within(exercise: &Exercise, hand_in: &HandIn, budget: &Budget) -> Checked {
    let run = || run(exercise, hand_in, budget.clone());
    ample(run).unwrap_or_else(|fault| stopped(exercise.rows(), &fault.to_string()))
}

/// The whole way.
fn run(exercise: &Exercise, hand_in: &HandIn, mut budget: Budget) -> Checked {
    let mut report = Report::default();
    let sources = read(exercise, hand_in, &mut report);
    let parsed = (!report.stopped()).then(|| Parsed::new(&sources, &mut budget));
    let structured = match &parsed {
        Some(parsed) => structure(exercise, hand_in, parsed, &mut budget, &mut report),
        None => {
            let rest = [Stage::Language, Stage::Structure, Stage::Behaviour];
            report.skip(&rest, "The files have to be readable first.");
            None
        }
    };
    let behaved = structured.as_ref().map(|s| behave(exercise, hand_in, (s, &sources), &mut budget, &mut report));
    let tried = match &structured {
        Some(structured) if hand_in.wants_rows => conform::worth_trying(exercise, &structured.built.netlist, &budget),
        _ => WorthTrying::default(),
    };
    if let (Some(parsed), Some(structured), Some(behaved)) = (&parsed, &structured, &behaved)
        && behaved.outcome.is_right()
    {
        simulated::as_built(exercise, (&structured.built, &sources), &behaved.outcome, &budget, &mut report);
        values::others(exercise, hand_in, (parsed, &structured.built.unit), &mut budget, &mut report);
    }
    // The wiring is a source, too, as far as places are concerned.
    let mut places = sources.map.clone();
    let design = structured.as_ref().zip(behaved.as_ref());
    let loaded = boards::load(exercise, hand_in, design, (&mut places, &mut budget), &mut report);
    let results = answer(exercise, hand_in, (structured.as_ref(), behaved.as_ref()), &sources.map, &mut report);
    let end = outcome::End { structured, behaved, loaded, tried, results };
    outcome::verdict(exercise, end, report, (&places, &budget))
}

/// The files, as far as they can be read.
fn read(exercise: &Exercise, hand_in: &HandIn, report: &mut Report) -> Sources {
    let allowed = &exercise.languages;
    let refuse = |name: &str, language: elab::Language| {
        let is_allowed = allowed.is_empty() || allowed.iter().any(|l| l == language.key());
        (!is_allowed).then(|| say::language_not_allowed(name, language.key()))
    };
    let (mut sources, found) = Sources::read(&hand_in.files, refuse);
    for file in exercise.attachments.iter().filter(|a| a.purpose == exercise::Use::Data) {
        sources.lend(&file.name, file.text.as_deref().unwrap_or(""));
    }
    report.add(found);
    sources
}

/// Names, Language and Structure: from trees to a netlist whose ports fit, or nothing.
fn structure(
    exercise: &Exercise,
    hand_in: &HandIn,
    parsed: &Parsed<'_>,
    budget: &mut Budget,
    report: &mut Report,
) -> Option<Structured> {
    use Stage as S;
    let way = parsed.build(&exercise.goal(hand_in.top.as_deref()), budget);
    report.unit.clone_from(&way.unit);
    if let (true, Some(unit), Some(parameter)) = (way.lacks_parameter, &way.unit, &exercise.parameter) {
        report.add(vec![say::no_parameter(&unit.name, &parameter.name, parameter.value, unit.span)]);
    }
    report.add(way.told);
    let built = match way.end {
        Ok(built) => built,
        Err(stop) => {
            match stop {
                Stop::Sources | Stop::Elaboration => {
                    report.skip(&[S::Names, S::Structure, S::Behaviour], "The source has to be legal first.");
                }
                Stop::Top => {
                    let why = "It has to be clear first what to check.";
                    report.skip(&[S::Language, S::Structure, S::Behaviour], why);
                }
                Stop::Invalid => {
                    // A broken promise between our own crates: say nothing about the design.
                    report.cannot_tell = true;
                    report.fault(&[S::Structure, S::Behaviour], "a design that breaks the representation's rules");
                }
                Stop::Ports => report.skip(&[S::Structure, S::Behaviour], "The ports have to be right first."),
                Stop::Structure => report.skip(&[S::Behaviour], "The structure has to be possible first."),
            }
            if stop == Stop::Structure && exercise.clocked().is_none() {
                report.add(way.register.map(say::edge_in_combinational).into_iter().collect());
            }
            return None;
        }
    };
    let broken_rules = match exercise.rules.judge((&built.design, &built.netlist), &built.uses, &built.unit, budget) {
        Ok(found) => {
            let count = found.len();
            report.add(found);
            count
        }
        Err(exhausted) => {
            report.add(vec![conform::budget(&exhausted.0.to_string())]);
            0
        }
    };
    if let (None, Some(register)) = (exercise.clocked(), built.netlist.registers.first()) {
        report.add(vec![say::edge_in_combinational(register.span)]);
        report.skip(&[S::Behaviour], "The structure has to be possible first.");
        return None;
    }
    Some(Structured { built, broken_rules })
}

/// Behaviour: what the design does, held against what the exercise says, and why it is wrong.
fn behave(
    exercise: &Exercise,
    hand_in: &HandIn,
    (structured, sources): (&Structured, &Sources),
    budget: &mut Budget,
    report: &mut Report,
) -> Behaved {
    let built = &structured.built;
    let before = budget.steps_left();
    let mut outcome = conform::judge(exercise, (built, &sources.map), budget);
    let spent = ProofBudget::between(before, budget.steps_left());
    if let Some(rows) = outcome.rows()
        && let Some(row) = rows.unknown.first()
    {
        // A latch or a loop shows on the first row that it leaves unknown.
        report.show_causes(&conform::evidence(exercise, rows, (&built.netlist, &sources.map), row));
    }
    let mut near = Vec::new();
    let wrong = if hand_in.quick { Vec::new() } else { conform::wrong_inputs(exercise, &outcome) };
    if let Some(told) = simulated::engines_disagree(exercise, built, wrong, (report, budget)) {
        outcome.findings.clear();
        outcome.cannot_tell = true;
        outcome.proof.kind = ProofKind::None;
        report.add(vec![told]);
    } else {
        for (finding, evidence) in outcome.findings.iter_mut().filter(|_| !hand_in.quick) {
            match evidence {
                Some(evidence) => simulated::place(exercise, built, finding, evidence, budget),
                None => simulated::place_at_rest(exercise, built, finding, budget),
            }
        }
        report.extend(outcome.findings.iter().cloned());
        let told = report.codes();
        let workshop = Workshop {
            exercise,
            sources,
            top: hand_in.top.as_deref(),
            broken_rules: structured.broken_rules,
            passes: &|sources, budget| passes(exercise, hand_in, sources, &told, budget),
        };
        let workshop = (!hand_in.quick).then_some(&workshop);
        near = near::explain(exercise, &built.netlist, &outcome, workshop, budget);
    }
    report.cannot_tell |= outcome.cannot_tell;
    Behaved { outcome, budget: spent, near }
}

/// Does a hand-in with changed sources pass in all stages of the design, with nothing told of it that was not told before?
fn passes(
    exercise: &Exercise,
    hand_in: &HandIn,
    sources: &Sources,
    told: &BTreeMap<String, usize>,
    budget: &mut Budget,
) -> bool {
    let changed = HandIn { files: sources.files(), top: hand_in.top.clone(), quick: true, ..HandIn::default() };
    let share = budget.steps_left();
    let verdict = run(exercise, &changed, budget.clone()).verdict;
    // A check of its own takes about what it says it took.
    let used = verdict.proof.budget.map_or(0, |b| b.spent).min(share);
    let right = matches!(verdict.verdict, VerdictKind::Pass | VerdictKind::Partly)
        && verdict.rows.passed == verdict.rows.total
        && verdict.stages.iter().all(|s| s.stage != Stage::Behaviour.key() || s.state == verdict::StageState::Pass);
    if budget.spend(used).is_err() || !right {
        return false;
    }
    // What was prepared beside the design says nothing of it.
    let now = codes(verdict.findings.iter().filter(|f| !f.is_of_answers()).map(|f| f.code.as_str()));
    now.iter().all(|(code, count)| told.get(code).is_some_and(|before| count <= before))
}

/// The prepared answers.
fn answer(
    exercise: &Exercise,
    hand_in: &HandIn,
    (structured, behaved): (Option<&Structured>, Option<&Behaved>),
    sources: &SourceMap,
    report: &mut Report,
) -> Vec<verdict::AnswerResult> {
    if hand_in.quick {
        return answers::read_only(exercise, hand_in.answers.as_ref());
    }
    let judged = answers::judge(exercise, hand_in.answers.as_ref());
    let rows = structured.zip(behaved.and_then(|b| b.outcome.rows()));
    let shown = |(told, row): (Diagnostic, Option<u64>)| {
        let evidence = row.zip(rows).map(|(row, (structured, rows))| {
            conform::evidence(exercise, rows, (&structured.built.netlist, sources), row)
        });
        (told, evidence)
    };
    report.extend(judged.findings.into_iter().map(shown));
    judged.results
}
