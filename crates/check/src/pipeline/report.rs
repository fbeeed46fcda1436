//! What is found on the way of a hand-in: the one thing that grows.

use base::{Code, Diagnostic, Stage};
use elab::Unit;
use std::collections::BTreeMap;
use verdict::Evidence;

/// How often each code of a finding is there.
pub(super) fn codes<'c>(list: impl Iterator<Item = &'c str>) -> BTreeMap<String, usize> {
    let mut counts = BTreeMap::new();
    for code in list {
        *counts.entry(code.to_owned()).or_insert(0) += 1;
    }
    counts
}

/// What was found so far.
#[derive(Default)]
pub(super) struct Report {
    /// Findings with what shows them.
    pub(super) findings: Vec<(Diagnostic, Option<Evidence>)>,
    /// Stages that did not run, and why.
    pub(super) skipped: BTreeMap<Stage, String>,
    /// A limit of the checker was met: nothing may be called a fail for it.
    pub(super) cannot_tell: bool,
    /// The unit that is checked.
    pub(super) unit: Option<Unit>,
}

impl Report {
    /// Findings that nothing shows but their place.
    pub(super) fn add(&mut self, list: Vec<Diagnostic>) {
        let limit = |d: &Diagnostic| d.code.is_limit() && d.stops();
        self.cannot_tell |= list.iter().any(limit);
        self.findings.extend(list.into_iter().map(|d| (d, None)));
    }

    /// A broken promise between our own crates: nothing is said of the design, and the number stands in the log.
    pub(super) fn fault(&mut self, stages: &[Stage], what: &str) {
        self.cannot_tell = true;
        self.skip(stages, &elab::fault(what).to_string());
    }

    /// Findings with what shows them.
    pub(super) fn extend(&mut self, list: impl Iterator<Item = (Diagnostic, Option<Evidence>)>) {
        self.findings.extend(list);
    }

    /// Something stops the check.
    pub(super) fn stopped(&self) -> bool {
        self.findings.iter().any(|(d, _)| d.stops())
    }

    /// Says why stages did not run; the first reason counts.
    pub(super) fn skip(&mut self, stages: &[Stage], reason: &str) {
        for stage in stages {
            self.skipped.entry(*stage).or_insert_with(|| reason.to_owned());
        }
    }

    /// How often each code was told.
    pub(super) fn codes(&self) -> BTreeMap<String, usize> {
        codes(self.findings.iter().map(|(d, _)| d.code.key()))
    }

    /// Was one of these told?
    pub(super) fn has(&self, codes: &[Code]) -> bool {
        self.findings.iter().any(|(d, _)| codes.contains(&d.code))
    }

    /// Shows what leaves an output unknown by a row on which it does.
    pub(super) fn show_causes(&mut self, evidence: &Evidence) {
        const CAUSES: [Code; 5] = [
            Code::INFERRED_LATCH,
            Code::COMBINATIONAL_LOOP,
            Code::UNDRIVEN_OUTPUT,
            Code::UNDRIVEN_SIGNAL,
            Code::SEVERAL_DRIVERS,
        ];
        for (_, shown) in self.findings.iter_mut().filter(|(d, _)| CAUSES.contains(&d.code)) {
            shown.get_or_insert_with(|| evidence.clone());
        }
    }
}
