//! A design that is right for the usual value of the exercise's parameter is judged at its other values.

use super::Run;
use crate::diagnostics as say;
use conform::compare;

use base::{Budget, Diagnostic, Exhausted, SourceMap};
use elab::actual_table;
use exercise::Exercise;

impl Run<'_> {
    /// Is a design that is right for the usual value of the exercise's parameter right for the others, too?
    pub(super) fn other_values(&mut self, is_right: bool) {
        let told = self.diagnostics.iter().any(|(d, _)| d.code == "parameter-missing");
        if !is_right || told || self.exercise.others.is_empty() {
            return;
        }
        let units = elab::parse(&self.sources, self.data.clone(), &mut self.budget);
        let Ok(top) = elab::choose_top(&units.list(), &self.exercise.ports, self.top.as_deref()) else { return };
        for other in &self.exercise.others {
            let mut share = self.budget.clone();
            match wrong_at(other, (&units, &top), &self.sources, &mut share) {
                Ok(None) => {}
                Ok(Some(told)) => {
                    let name = other.parameter.as_ref().map_or("", |p| p.name.as_str());
                    let value = other.parameter.as_ref().map_or(0, |p| p.value);
                    let place = told.span.unwrap_or(top.span);
                    self.add(vec![say::wrong_at_parameter(name, value, &told.message, place)]);
                    return;
                }
                Err(exhausted) => {
                    self.add(vec![say::budget(&exhausted.0.to_string())]);
                    return;
                }
            }
        }
    }
}

/// The first fault of a design that is elaborated for another value of the exercise's parameter.
fn wrong_at(
    exercise: &Exercise,
    (units, top): (&elab::Units, &elab::Unit),
    sources: &SourceMap,
    budget: &mut Budget,
) -> Result<Option<Diagnostic>, Exhausted> {
    let first = |list: Vec<Diagnostic>| list.into_iter().find(Diagnostic::stops);
    let elaborated = elab::elaborate(units, top, exercise.fitting(), budget);
    let Some(design) = elaborated.whole else { return Ok(first(elaborated.diagnostics)) };
    if let Some(told) = first(elab::check_ports(&design, &exercise.ports)) {
        return Ok(Some(told));
    }
    let synthesis = exercise.synthesise(&design, budget);
    let netlist = synthesis.netlist;
    if let Some(told) = first(synthesis.diagnostics) {
        return Ok(Some(told));
    }
    let outcome = match (&exercise.clocked, &exercise.wide) {
        (Some(spec), _) => conform::clocked::run(exercise, spec, (&design, &netlist), budget),
        (None, Some(spec)) => conform::wide::run(exercise, spec, (&netlist, sources), budget),
        (None, None) => {
            let actual = actual_table(&netlist, &exercise.ports, budget)?;
            let found = compare(exercise, &actual, &netlist).findings;
            return Ok(found.into_iter().map(|(d, _)| d).next());
        }
    };
    if outcome.cannot_tell {
        return Err(Exhausted(base::Resource::Steps));
    }
    Ok(outcome.findings.into_iter().map(|(d, _)| d).next())
}
