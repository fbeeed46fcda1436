//! Running a testbench, or any unit of a design, in the event simulator.

use crate::equivalence::load;
use crate::pipeline::HandInFile;
use crate::verdict::{Finding, finding};
use base::{Budget, Diagnostic};
use design::{Design, Stmt, StmtKind};
use serde::Serialize;
use sim::{End, SimOptions, Trace};
use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::sync::Arc;
use std::sync::atomic::AtomicBool;

/// What is asked of a simulation.
#[derive(Clone, Debug, Default)]
pub struct SimulationRequest {
    /// The unit to run; else the one that nobody instantiates, a testbench first.
    pub top: Option<String>,
    /// Ends at this time, in femtoseconds.
    pub until: Option<u64>,
    /// Records the changes of signals.
    pub record: bool,
    /// Most steps; else the simulator's own limit.
    pub steps: Option<u64>,
    /// Ends it at once when set.
    pub cancel: Option<Arc<AtomicBool>>,
    /// Where there is no testbench, drives the inputs: every combination in binary order, one each so many
    /// femtoseconds. Inputs called like a clock tick once in that time, those called like a reset hold at first.
    pub stimulus: Option<u64>,
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

/// Most changes that are recorded.
const MAX_CHANGES: usize = 2_000_000;
/// Stack of the thread that elaborates.
const STACK: usize = 64 << 20;

/// Runs a design.
///
/// # Errors
/// One sentence when a file can't be used at all.
pub fn run_simulation(files: &[HandInFile], request: &SimulationRequest) -> Result<Simulation, String> {
    std::thread::scope(|scope| {
        let worker = std::thread::Builder::new().stack_size(STACK).spawn_scoped(scope, || run(files, request));
        worker.map_err(|e| e.to_string())?.join().unwrap_or_else(|_| Err("The simulator itself failed.".into()))
    })
}

fn run(files: &[HandInFile], request: &SimulationRequest) -> Result<Simulation, String> {
    let mut budget = Budget::hand_in();
    let mut bench = if request.top.is_none() { testbench(files, &mut budget)? } else { None };
    let mut driven = Vec::new();
    let mut files = files;
    if let (None, Some(step)) = (&bench, request.stimulus)
        && let Some(text) = stimulus(files, request.top.as_deref(), step)?
    {
        driven = files.to_vec();
        driven.push(HandInFile { name: STIMULUS_FILE.into(), bytes: text.into_bytes() });
        bench = Some(STIMULUS.into());
    }
    if !driven.is_empty() {
        files = &driven;
    }
    let top =
        if bench.as_deref() == Some(STIMULUS) { bench.as_deref() } else { request.top.as_deref().or(bench.as_deref()) };
    let loaded = load(files, top, &mut Budget::hand_in())?;
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
        let record = request.record.then_some(MAX_CHANGES);
        let usual = SimOptions::default();
        let steps = request.steps.unwrap_or(usual.steps);
        let cancel = request.cancel.clone();
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

const STIMULUS: &str = "stimulus_of_all_rows";
const STIMULUS_FILE: &str = "stimulus.v";

/// A Verilog module that drives a unit without a testbench; `None` when the unit can't be elaborated or has no ports.
fn stimulus(files: &[HandInFile], top: Option<&str>, step: u64) -> Result<Option<String>, String> {
    let loaded = load(files, top, &mut Budget::hand_in())?;
    let (Some(design), Some(unit)) = (&loaded.design, &loaded.top) else { return Ok(None) };
    let ports = &design.scopes[design.top].ports;
    if ports.is_empty() {
        return Ok(None);
    }
    let step = (step / 1_000_000).max(2);
    let mut text = format!("`timescale 1ns / 1ps\nmodule {STIMULUS};\n");
    let mut counted: Vec<String> = Vec::new();
    let (mut setup, mut connections, mut bits, mut clocked) = (String::new(), Vec::new(), 0, false);
    for port in ports {
        let name = &design.signals[port.signal].name;
        let shape = design.signal_shape(port.signal);
        let range = shape.range().map_or(String::new(), |(l, r)| format!("[{l}:{r}] "));
        let is_input = port.direction == design::Direction::In;
        let _ = writeln!(text, "  {} {range}{name};", if is_input { "reg" } else { "wire" });
        connections.push(format!(".{name}({name})"));
        let low = name.to_ascii_lowercase();
        let is_bit = shape.width() == 1;
        if is_input && is_bit && (low.contains("clk") || low.contains("clock")) {
            clocked = true;
            let _ = writeln!(setup, "  initial {name} = 0;\n  always #{} {name} = ~{name};", step / 2);
        } else if is_input && is_bit && (low.contains("rst") || low.contains("reset") || low.contains("clear")) {
            let active_low = low.ends_with("_n") || low.ends_with('n') && low.len() <= 5;
            let (hold, go) = if active_low { (0, 1) } else { (1, 0) };
            let _ = writeln!(setup, "  initial begin {name} = {hold}; #{} {name} = {go}; end", step * 2);
        } else if is_input {
            bits += shape.width();
            counted.push(name.clone());
        }
    }
    let _ = writeln!(text, "  {} dut ({});\n{setup}  integer row;", unit.name, connections.join(", "));
    let rows = if clocked { 256 } else { 1u64 << bits.min(12) };
    let drive = if counted.is_empty() { String::new() } else { format!("{{{}}} = row; ", counted.join(", ")) };
    let _ = writeln!(text, "  initial begin\n    for (row = 0; row < {rows}; row = row + 1) begin {drive}#{step}; end");
    text.push_str("    $finish;\n  end\nendmodule\n");
    Ok(Some(text))
}

/// The unit without ports that nobody instantiates, when there is just one.
fn testbench(files: &[HandInFile], budget: &mut Budget) -> Result<Option<String>, String> {
    let units = load(files, None, budget)?.units;
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
    found
}
