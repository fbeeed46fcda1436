//! Waves of an exercise: what its inputs do, what a design makes of them, what is expected, and where the two differ.

mod expected;
mod stimulus;

use crate::not_shown::{NotShown, asked};
use crate::waves::stimulus::Port;
pub use crate::waves::stimulus::{InputStimulus, Stimulus, StimulusError};
use base::Budget;
use elab::HandInFile;
use elab::ample;
use elab::{SimulationRequest, run_simulation, testbench};
use elab::{load, load_with};
use exercise::Exercise;
use serde::{Deserialize, Serialize};
use sim::Trace;
use std::fmt::Write as _;
use verdict::Finding;

/// What a lane of waves shows.
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum LaneRole {
    /// An input that is driven.
    Input,
    /// An output of the design.
    Output,
    /// What an output should be.
    Expected,
    /// Something within.
    Inner,
}

/// A stretch of time, in femtoseconds.
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Stretch {
    /// From then on.
    pub from: u64,
    /// Until then.
    pub to: u64,
}

/// A signal over time.
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Lane {
    /// What it shows.
    pub role: LaneRole,
    /// Scopes from the top down.
    pub scopes: Vec<String>,
    /// Its name.
    pub name: String,
    /// Its bounds as declared; empty for a single bit.
    pub range: String,
    /// Bits.
    pub width: u32,
    /// Names of its values by their number, when it is an enumeration; empty where a value has none.
    pub literals: Vec<String>,
    /// When it changed, in femtoseconds; the first one is 0.
    pub times: Vec<u64>,
    /// What it became: levels, the most significant first; `-` where nothing is demanded.
    pub values: Vec<String>,
    /// Stretches in which it is not what is demanded, in femtoseconds.
    pub differs: Vec<Stretch>,
}

/// What is asked.
#[derive(Clone, Debug, Default)]
pub struct WavesRequest {
    /// The unit to run on its own; else the design that fits the exercise, or the testbench.
    pub unit: Option<String>,
    /// What the inputs do; else a testbench among the files, or the usual stimulus.
    pub stimulus: Option<Stimulus>,
    /// What the exercise keeps for when nothing is said; passed over where it doesn't fit.
    pub saved: Option<Stimulus>,
    /// Ends at this time, in femtoseconds.
    pub until: Option<u64>,
    /// Most steps; else the simulator's own limit.
    pub steps: Option<u64>,
}

/// Waves.
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct Waves {
    /// The unit that was run; none for what is expected alone.
    pub unit: Option<String>,
    /// Units that can be run on their own.
    pub units: Vec<String>,
    /// What the inputs did; none for a testbench.
    pub stimulus: Option<Stimulus>,
    /// `finished`, `quiet`, `until`, `stopped` or `not_run`.
    pub end: String,
    /// Time up to which the lanes hold what happened, in femtoseconds: the end of the run, or of the first part of it.
    pub time_fs: u64,
    /// Failed assertions of severity warning, error and failure.
    pub failed: u64,
    /// What it wrote.
    pub output: String,
    /// What is wrong with the sources, or why it was stopped.
    pub findings: Vec<Finding>,
    /// Inputs, outputs with what is expected under each, then what is within.
    pub lanes: Vec<Lane>,
    /// Something was left out because there was too much.
    pub cut: bool,
    /// Why nothing is expected here, when there is an exercise.
    pub why_no_expected: Option<String>,
}

/// Most changes that are kept: a page shows fewer.
const MOST_CHANGES: usize = 250_000;
const MODULE: &str = "stimulus";
const FILE: &str = "stimulus.v";

/// Runs a design, or one of its units, under a stimulus or its testbench, beside what the exercise expects; without
/// files, what the exercise expects alone.
///
/// # Errors
/// One sentence when a file or the stimulus can't be used.
pub fn waves(
    exercise: &Exercise,
    files: &[HandInFile],
    request: &WavesRequest,
    budget: &Budget,
) -> Result<Waves, NotShown> {
    let mut found = ample(|| Setup::new(exercise, files, request, budget)).unwrap_or_else(|fault| Err(fault.into()))?;
    let driven = match &found.driven {
        Some(driven) => {
            let saved = request.saved.clone().filter(|s| driven.is_exercise && s.drives(&driven.inputs).is_ok());
            let stimulus = request.stimulus.clone().or(saved).unwrap_or_else(|| driven.usual.clone());
            let drives = stimulus.drives(&driven.inputs).map_err(|e| NotShown::Asked(e.to_string()))?;
            let top = (MODULE, driven.declarations.as_str(), driven.instance.as_str());
            let text = stimulus::module(top, &driven.inputs, &drives, &stimulus);
            found.files.push(HandInFile { name: FILE.into(), bytes: text.into_bytes() });
            Some(stimulus)
        }
        None => None,
    };
    let mut run = run_simulation(
        &found.files,
        &SimulationRequest {
            top: if driven.is_some() { Some(MODULE.into()) } else { found.unit.clone() },
            until: request.until,
            record: Some(MOST_CHANGES),
            steps: request.steps,
        },
        budget,
    )?;
    let trace = run.trace.take().unwrap_or_default();
    let mut lanes = lanes(&trace);
    // What changed at the instant of the cut may not have reached its outputs.
    let last = trace.changes.last().filter(|_| trace.cut).map(|c| c.time);
    let end = last.unwrap_or(run.time_fs);
    let mut why_no_expected = found.why_no_expected;
    if let Some(setup) = &found.driven {
        for lane in &mut lanes {
            if lane.scopes.len() == 1 {
                let is_input = setup.inputs.iter().any(|p| p.name.eq_ignore_ascii_case(&lane.name));
                lane.role = if is_input { LaneRole::Input } else { LaneRole::Output };
            }
        }
        lanes.retain(|l| l.role == LaneRole::Inner || l.name != "the_row");
        // The ports of the unit are those of the stimulus again.
        let twice = |l: &Lane| l.scopes.len() == 2 && setup.ports.iter().any(|p| p.eq_ignore_ascii_case(&l.name));
        lanes.retain(|l| !twice(l));
        if setup.is_exercise {
            match expected::lanes(exercise, &lanes, budget) {
                Ok(list) => expected::place(exercise, &mut lanes, list, end),
                Err(why) => why_no_expected = Some(why.to_string()),
            }
        }
        let is_ours = |f: &Finding| f.file.as_deref() == Some(FILE);
        if let Some(reason) = run.findings.iter().find(|f| is_ours(f) && run.end == "not_run") {
            return asked(format!("The stimulus can't be run: {}", reason.message));
        }
        // What ended the run has no place in the hand-in's files.
        for finding in run.findings.iter_mut().filter(|f| is_ours(f)) {
            (finding.file, finding.line, finding.column) = (None, None, None);
        }
    }
    Ok(Waves {
        unit: found.unit,
        units: found.units,
        stimulus: driven,
        end: run.end,
        time_fs: end,
        failed: run.assertions.warning + run.assertions.error + run.assertions.failure,
        output: run.output,
        findings: run.findings,
        lanes,
        cut: trace.cut,
        why_no_expected,
    })
}

impl Waves {
    /// A picture of inputs and outputs with what is expected, for paper; of everything where nothing is driven.
    pub fn svg(&self) -> String {
        let ports = self.lanes.iter().any(|l| l.role != LaneRole::Inner);
        let lanes = self.lanes.iter().filter(|l| !ports || l.role != LaneRole::Inner);
        let lanes: Vec<sim::PictureLane> = lanes
            .map(|l| sim::PictureLane {
                title: if l.role == LaneRole::Expected { format!("expected {}", l.name) } else { l.name.clone() },
                times: l.times.clone(),
                values: l.values.clone(),
                differs: l.differs.iter().map(|s| (s.from, s.to)).collect(),
            })
            .collect();
        sim::picture_svg(&lanes, self.time_fs)
    }
}

/// What is driven.
struct Driven {
    inputs: Vec<Port>,
    /// Names of all ports.
    ports: Vec<String>,
    declarations: String,
    instance: String,
    usual: Stimulus,
    /// Its ports are those of the exercise.
    is_exercise: bool,
}

struct Setup {
    files: Vec<HandInFile>,
    unit: Option<String>,
    units: Vec<String>,
    /// None for a testbench.
    driven: Option<Driven>,
    why_no_expected: Option<String>,
}

impl Setup {
    fn new(
        exercise: &Exercise,
        files: &[HandInFile],
        request: &WavesRequest,
        budget: &Budget,
    ) -> Result<Self, NotShown> {
        if files.is_empty() {
            let driven = Some(Driven::of_exercise(exercise, ("", "")));
            return Ok(Self { files: Vec::new(), unit: None, units: Vec::new(), driven, why_no_expected: None });
        }
        let mut setup =
            Self { files: files.to_vec(), unit: None, units: Vec::new(), driven: None, why_no_expected: None };
        let all = load(files, request.unit.as_deref(), &mut budget.clone())?;
        setup.units = all.units.iter().map(|u| u.name.clone()).collect();
        setup.units.dedup();
        if request.unit.is_none() && request.stimulus.is_none() {
            setup.unit = testbench(files, budget)?;
            if setup.unit.is_some() {
                setup.why_no_expected = Some("A testbench drives its own signals; nothing is expected of them.".into());
                return Ok(setup);
            }
        }
        // With a stimulus a testbench beside the design is no unit to run.
        let designs: Vec<&str> = exercise.ports.iter().map(|p| p.name.as_str()).collect();
        let fits = |u: &&elab::Unit| {
            u.ports.len() == designs.len() && u.ports.iter().all(|p| designs.iter().any(|d| d.eq_ignore_ascii_case(p)))
        };
        let chosen = match &request.unit {
            Some(name) => Some(name.clone()),
            None => all.units.iter().find(fits).map(|u| u.name.clone()),
        };
        let loaded = load_with(files, chosen.as_deref(), exercise.parameter.as_ref(), &mut budget.clone())?;
        setup.unit = loaded.top.as_ref().map(|u| u.name.clone());
        let (Some(design), Some(unit)) = (&loaded.design, &loaded.top) else { return Ok(setup) };
        let ports = &design.scopes[design.top].ports;
        if ports.is_empty() {
            return Ok(setup);
        }
        let widths_fit = exercise.ports.len() == ports.len()
            && exercise.ports.iter().all(|p| {
                ports.iter().any(|q| {
                    let signal = &design.signals[q.signal].name;
                    signal.eq_ignore_ascii_case(&p.name) && design.signal_width(q.signal) == p.shape.width()
                })
            });
        let given = loaded.parameter.as_ref().map(|p| format!("#(.{}({})) ", p.name, p.value)).unwrap_or_default();
        setup.driven = Some(if widths_fit {
            Driven::of_exercise(exercise, (&unit.name, &given))
        } else {
            setup.why_no_expected = Some("The ports of this unit are not those of the exercise.".into());
            Driven::of_unit(design, (&unit.name, &given))
        });
        Ok(setup)
    }
}

impl Driven {
    /// The ports as the exercise has them; `unit` (its name and the values of its parameters) is empty when nothing is driven.
    fn of_exercise(exercise: &Exercise, unit: (&str, &str)) -> Self {
        let port =
            |p: &elab::ExercisePort| Port { name: p.name.clone(), width: p.shape.width(), range: p.shape.to_string() };
        let all: Vec<(Port, bool)> = exercise.ports.iter().map(|p| (port(p), p.is_input)).collect();
        Self::of(all, unit, true, Some(Stimulus::of_exercise(exercise)))
    }

    fn of_unit(design: &design::Design, unit: (&str, &str)) -> Self {
        let ports = design.scopes[design.top].ports.iter().map(|p| {
            let shape = design.signal_shape(p.signal);
            let name = design.signals[p.signal].name.clone();
            (Port { name, width: shape.width(), range: shape.to_string() }, p.direction == design::Direction::In)
        });
        Self::of(ports.collect(), unit, false, None)
    }

    fn of(all: Vec<(Port, bool)>, (unit, given): (&str, &str), is_exercise: bool, usual: Option<Stimulus>) -> Self {
        let mut declarations = String::new();
        for (port, _) in all.iter().filter(|(_, input)| !unit.is_empty() && !input) {
            let _ = writeln!(declarations, "  wire {} {};", port.range, port.name);
        }
        let ports: Vec<String> = all.iter().map(|(p, _)| p.name.clone()).collect();
        let joins: Vec<String> = ports.iter().map(|n| format!(".{n}({n})")).collect();
        let instance =
            if unit.is_empty() { String::new() } else { format!("  {unit} {given}{unit}_1 ({});\n", joins.join(", ")) };
        let inputs: Vec<Port> = all.into_iter().filter(|(_, input)| *input).map(|(p, _)| p).collect();
        let usual = usual.unwrap_or_else(|| Stimulus::of_ports(&inputs));
        Self { inputs, ports, declarations, instance, usual, is_exercise }
    }
}

/// The signals of a trace with their changes; of several changes at one time the last one counts.
fn lanes(trace: &Trace) -> Vec<Lane> {
    let mut lanes: Vec<Lane> = trace
        .signals
        .iter()
        .map(|s| Lane {
            role: LaneRole::Inner,
            scopes: s.scopes.clone(),
            name: s.name.clone(),
            range: s.range.clone(),
            width: s.width,
            literals: s.literals.clone(),
            times: vec![0],
            values: vec![s.initial.to_string()],
            differs: Vec::new(),
        })
        .collect();
    for change in &trace.changes {
        let Some(lane) = lanes.get_mut(change.signal as usize) else { continue };
        lane.push(change.time, change.value.to_string());
    }
    lanes
}

impl Waves {
    /// Leaves out lanes and what happened late, so that at most so many lanes and changes are left; all lanes then end
    /// at the same time.
    pub fn shorten(&mut self, most_lanes: usize, most_changes: usize) {
        if self.lanes.len() > most_lanes {
            self.lanes.truncate(most_lanes);
            self.cut = true;
        }
        let mut times: Vec<u64> = self.lanes.iter().flat_map(|l| l.times.iter().copied()).collect();
        if times.len() <= most_changes {
            return;
        }
        let (_, end, _) = times.select_nth_unstable(most_changes);
        let end = *end;
        for lane in &mut self.lanes {
            let count = lane.times.partition_point(|t| *t < end).max(1);
            lane.times.truncate(count);
            lane.values.truncate(count);
            lane.differs.retain(|s| s.from < end);
            lane.differs.iter_mut().for_each(|s| s.to = end.min(s.to));
        }
        (self.time_fs, self.cut) = (end, true);
    }
}

impl Lane {
    fn push(&mut self, time: u64, value: String) {
        if self.times.last() == Some(&time) {
            if let Some(last) = self.values.last_mut() {
                *last = value;
            }
        } else if self.values.last() != Some(&value) {
            self.times.push(time);
            self.values.push(value);
        }
    }
}
