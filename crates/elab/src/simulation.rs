//! Running a testbench, or any unit of a design, in the event simulator.

use crate::files::HandInFile;
use crate::load::load;
use crate::stack::ample;
use crate::unusable::Unusable;
use base::{Budget, Diagnostic};
use design::{Design, Stmt, StmtKind};
use serde::Serialize;
use sim::{End, SimOptions, Trace};
use std::collections::BTreeMap;
use verdict::{Finding, finding};

/// What is asked of a simulation.
#[derive(Clone, Debug, Default)]
pub struct SimulationRequest {
    /// The unit to run; else the one that nobody instantiates, a testbench first.
    pub top: Option<String>,
    /// Ends at this time, in femtoseconds.
    pub until: Option<u64>,
    /// Records the changes of signals, so many at most; one of a wide value counts several times.
    pub record: Option<usize>,
    /// Most steps; else the simulator's own limit.
    pub steps: Option<u64>,
}

/// How many assertions failed, by severity.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
pub struct Assertions {
    /// Of severity note, reports included.
    pub note: u64,
    /// Of severity warning.
    pub warning: u64,
    /// Of severity error.
    pub error: u64,
    /// Of severity failure, which ends the simulation.
    pub failure: u64,
}

/// What a simulation gave.
#[derive(Clone, Debug, Serialize)]
pub struct Simulation {
    /// `zesty-gate/simulation/1`
    pub format: String,
    /// The unit that was run.
    pub top: Option<String>,
    /// `finished`, `quiet`, `until`, `stopped` or `not_run`.
    pub end: String,
    /// Simulated time at the end, in femtoseconds.
    pub time_fs: u64,
    /// Signal changes.
    pub events: u64,
    /// Failed assertions.
    pub assertions: Assertions,
    /// What it wrote.
    pub output: String,
    /// What is wrong with the sources, or why it was stopped.
    pub findings: Vec<Finding>,
    /// The changes, when asked for.
    #[serde(skip)]
    pub trace: Option<Trace>,
}

impl Simulation {
    /// True when it ran to an end of its own and no assertion of severity error or failure failed.
    pub fn is_clean(&self) -> bool {
        matches!(self.end.as_str(), "finished" | "quiet" | "until")
            && self.assertions.error + self.assertions.failure == 0
    }
}

/// Most changes that are recorded for a file.
pub const RECORDED: usize = 2_000_000;

/// Runs a design.
///
/// # Errors
/// When nothing can be read of a file.
pub fn run_simulation(
    files: &[HandInFile],
    request: &SimulationRequest,
    budget: &Budget,
) -> Result<Simulation, Unusable> {
    ample(|| run(files, request, budget)).unwrap_or_else(|fault| Err(fault.into()))
}

fn run(files: &[HandInFile], request: &SimulationRequest, budget: &Budget) -> Result<Simulation, Unusable> {
    let bench = if request.top.is_none() { testbench(files, budget)? } else { None };
    let top = request.top.as_deref().or(bench.as_deref());
    let loaded = load(files, top, &mut budget.clone())?;
    let mut diagnostics: Vec<Diagnostic> = loaded.diagnostics.clone();
    let mut result = Simulation {
        format: "zesty-gate/simulation/1".into(),
        top: loaded.top.as_ref().map(|u| u.name.clone()),
        end: "not_run".into(),
        time_fs: 0,
        events: 0,
        assertions: Assertions::default(),
        output: String::new(),
        findings: Vec::new(),
        trace: None,
    };
    if let Some(design) = &loaded.design {
        let mut places = BTreeMap::new();
        let place =
            |span: base::Span| format!("{}:{}", loaded.sources.file(span.file).name, loaded.sources.place(span).line);
        for span in assertions(design) {
            places.insert(span, place(span));
        }
        let record = request.record;
        let usual = SimOptions::default();
        let steps = request.steps.unwrap_or(usual.steps);
        let cancel = budget.cancel_flag();
        let options = SimOptions { until: request.until, record, places, steps, cancel, ..usual };
        let outcome = sim::simulate(design, &options);
        let (end, stop) = match outcome.end {
            End::Finished => ("finished", None),
            End::Quiet => ("quiet", None),
            End::Until => ("until", None),
            End::Cancelled => ("stopped", None),
            End::Stopped(found) => ("stopped", Some(*found)),
        };
        result.end = end.into();
        diagnostics.extend(stop);
        let [note, warning, error, failure] = outcome.failed;
        result.assertions = Assertions { note, warning, error, failure };
        (result.time_fs, result.events) = (outcome.time, outcome.events);
        result.output = outcome.output;
        result.trace = outcome.trace;
    }
    diagnostics.sort_by_key(|d| (d.severity, d.stage, d.span));
    result.findings = diagnostics.iter().map(|d| finding(d, &loaded.sources, None)).collect();
    Ok(result)
}

/// The unit without ports that nobody instantiates, when there is just one.
///
/// # Errors
/// When nothing can be read of a file.
pub fn testbench(files: &[HandInFile], budget: &Budget) -> Result<Option<String>, Unusable> {
    let units = load(files, None, &mut budget.clone())?.units;
    let used = |name: &str| units.iter().any(|u| u.instantiates.iter().any(|i| i.eq_ignore_ascii_case(name)));
    let mut benches = units.iter().filter(|u| u.ports.is_empty() && !used(&u.name));
    let first = benches.next().map(|u| u.name.clone());
    Ok(first.filter(|_| benches.next().is_none()))
}

/// Places of the assertions of a design.
fn assertions(design: &Design) -> Vec<base::Span> {
    let bodies = design.processes.iter().map(|(_, p)| &p.body).chain(design.subprograms.iter().map(|(_, s)| &s.body));
    let mut stack: Vec<&Stmt> = bodies.flatten().collect();
    let mut found = Vec::new();
    while let Some(stmt) = stack.pop() {
        match &stmt.kind {
            StmtKind::Assert { .. } => found.push(stmt.span),
            StmtKind::If { then, otherwise, .. } => {
                stack.extend(then);
                stack.extend(otherwise.iter().flatten());
            }
            StmtKind::Case { arms, default, .. } => {
                stack.extend(arms.iter().flat_map(|a| &a.body));
                stack.extend(default.iter().flatten());
            }
            StmtKind::Loop { body, step, .. } => stack.extend(body.iter().chain(step)),
            StmtKind::Block { body, .. } => stack.extend(body),
            _ => {}
        }
    }
    let checked = design.exprs.iter().filter(|(_, e)| matches!(e.kind, design::ExprKind::Checked { .. }));
    found.extend(checked.map(|(_, e)| e.span));
    found
}
