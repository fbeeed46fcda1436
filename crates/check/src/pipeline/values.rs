//! A design that is right for the usual value of the exercise's parameter is judged at its other values.

use super::report::Report;
use crate::diagnostics as say;
use crate::hand_in::HandIn;
use base::{Budget, Diagnostic, Exhausted};
use elab::{Parsed, Unit};
use exercise::Exercise;

/// Is a design that is right for the usual value of the exercise's parameter right for the others, too?
pub(super) fn others(
    exercise: &Exercise,
    hand_in: &HandIn,
    (parsed, unit): (&Parsed<'_>, &Unit),
    budget: &mut Budget,
    report: &mut Report,
) {
    if report.has(&[base::Code::PARAMETER_MISSING]) {
        return;
    }
    for other in &exercise.others {
        let mut share = budget.clone();
        match wrong_at(other, hand_in, parsed, &mut share) {
            Ok(None) => {}
            Ok(Some(told)) => {
                let name = other.parameter.as_ref().map_or("", |p| p.name.as_str());
                let value = other.parameter.as_ref().map_or(0, |p| p.value);
                let place = told.span.unwrap_or(unit.span);
                report.add(vec![say::wrong_at_parameter(name, value, &told.message, place)]);
                return;
            }
            Err(exhausted) => {
                report.add(vec![conform::budget(&exhausted.0.to_string())]);
                return;
            }
        }
    }
}

/// The first fault of a design that is elaborated for another value of the exercise's parameter.
fn wrong_at(
    exercise: &Exercise,
    hand_in: &HandIn,
    parsed: &Parsed<'_>,
    budget: &mut Budget,
) -> Result<Option<Diagnostic>, Exhausted> {
    let way = parsed.build(&exercise.goal(hand_in.top.as_deref()), budget);
    let built = match way.end {
        Ok(built) => built,
        Err(_) => return Ok(way.told.into_iter().find(Diagnostic::stops)),
    };
    let outcome = conform::judge(exercise, (&built, &parsed.sources().map), budget);
    if outcome.cannot_tell {
        return Err(Exhausted(base::Resource::Steps));
    }
    // What is only noted is not wrong.
    Ok(outcome.findings.into_iter().map(|(d, _)| d).find(|d| d.severity != base::Severity::Note))
}
