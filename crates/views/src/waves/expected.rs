//! What an exercise expects of its outputs while its inputs do something.

use crate::not_shown::{NotShown, asked};
use crate::waves::{Lane, LaneRole, Stretch};
use base::Budget;
use elab::ExercisePort;
use exercise::{Exercise, ResetSpec};
use logic::RowValue;
use std::collections::BTreeMap;

/// A lane for each output, in the order of the ports.
///
/// # Errors
/// A sentence why nothing is expected.
pub(super) fn lanes(exercise: &Exercise, driven: &[Lane], budget: &Budget) -> Result<Vec<Lane>, NotShown> {
    let outputs: Vec<&ExercisePort> = exercise.ports.iter().filter(|p| !p.is_input).collect();
    let mut model: Box<dyn Model> = match exercise.clocked() {
        Some(clocked) => match clocked.machine() {
            Some(machine) => Box::new(Clocked {
                running: prove::Running::new(&machine, &clocked.protocol()),
                inputs: clocked.inputs.clone(),
                clock: clocked.clock.clone(),
                outputs: clocked.outputs.clone(),
                budget: budget.clone(),
                before: None,
                rising: clocked.rising,
                reset: clocked.reset.clone(),
                demands: clocked.reset.is_none(),
                held: false,
            }),
            None => return asked("A rate says how often an output repeats, not when it begins."),
        },
        None => match exercise.wide() {
            Some(wide) => {
                let protocol = prove::Protocol { inputs: wide.width(), rising: true, reset: None };
                Box::new(Wide {
                    running: prove::Running::new(&wide.machine(), &protocol),
                    inputs: wide.inputs.clone(),
                    outputs: wide.outputs.clone(),
                    budget: budget.clone(),
                })
            }
            None => Box::new(Table(exercise)),
        },
    };
    let mut list: Vec<Lane> = outputs
        .iter()
        .map(|port| Lane {
            role: LaneRole::Expected,
            scopes: Vec::new(),
            name: port.name.clone(),
            range: port.shape.to_string(),
            width: port.shape.width(),
            literals: Vec::new(),
            times: Vec::new(),
            values: Vec::new(),
            differs: Vec::new(),
        })
        .collect();
    let inputs = Inputs::new(exercise, driven);
    for time in inputs.times() {
        let levels = inputs.at(time);
        let found = model.outputs(&levels)?;
        for (port, lane) in outputs.iter().zip(&mut list) {
            let value: String = port.bit_names().map(|n| found.get(&n).copied().unwrap_or('-')).collect();
            lane.push(time, value);
        }
    }
    Ok(list)
}

/// Puts each expected lane behind its output, with the stretches in which the two differ; inputs come first.
pub(super) fn place(exercise: &Exercise, lanes: &mut Vec<Lane>, expected: Vec<Lane>, end: u64) {
    let mut rest = std::mem::take(lanes);
    let mut take = |role: LaneRole, name: &str| {
        let at = rest.iter().position(|l| l.role == role && l.name.eq_ignore_ascii_case(name))?;
        Some(rest.remove(at))
    };
    for port in exercise.ports.iter().filter(|p| p.is_input) {
        lanes.extend(take(LaneRole::Input, &port.name));
    }
    for mut wanted in expected {
        if let Some(actual) = take(LaneRole::Output, &wanted.name) {
            wanted.differs = differences(&wanted, &actual, end);
            lanes.push(actual);
        }
        lanes.push(wanted);
    }
    lanes.append(&mut rest);
}

/// Stretches in which a demanded level is not there.
fn differences(wanted: &Lane, actual: &Lane, end: u64) -> Vec<Stretch> {
    let mut times: Vec<u64> = wanted.times.iter().chain(&actual.times).copied().filter(|t| *t < end).collect();
    times.sort_unstable();
    times.dedup();
    let at = |lane: &Lane, time: u64| lane.times.partition_point(|t| *t <= time).checked_sub(1);
    let mut list: Vec<Stretch> = Vec::new();
    for (i, time) in times.iter().enumerate() {
        let to = times.get(i + 1).copied().unwrap_or(end);
        let (Some(w), Some(a)) = (at(wanted, *time), at(actual, *time)) else { continue };
        let strong = |c: char| match c {
            'L' => '0',
            'H' => '1',
            other => other,
        };
        let wrong = wanted.values[w].chars().zip(actual.values[a].chars()).any(|(w, a)| w != '-' && w != strong(a));
        if !wrong {
            continue;
        }
        match list.last_mut() {
            Some(last) if last.to == *time => last.to = to,
            _ => list.push(Stretch { from: *time, to }),
        }
    }
    list
}

/// What the inputs do, by the exercise's names of their bits.
struct Inputs<'l> {
    lanes: Vec<(Vec<String>, &'l Lane)>,
}

impl<'l> Inputs<'l> {
    fn new(exercise: &Exercise, driven: &'l [Lane]) -> Self {
        let of = |port: &ExercisePort| {
            driven
                .iter()
                .find(|l| l.role == LaneRole::Input && l.name.eq_ignore_ascii_case(&port.name))
                .map(|lane| (port.bit_names().collect(), lane))
        };
        Self { lanes: exercise.ports.iter().filter(|p| p.is_input).filter_map(of).collect() }
    }

    fn times(&self) -> Vec<u64> {
        let mut times: Vec<u64> = self.lanes.iter().flat_map(|(_, l)| l.times.iter().copied()).collect();
        times.sort_unstable();
        times.dedup();
        times
    }

    fn at(&self, time: u64) -> BTreeMap<String, Option<bool>> {
        let mut levels = BTreeMap::new();
        for (names, lane) in &self.lanes {
            let at = lane.times.partition_point(|t| *t <= time).saturating_sub(1);
            for (name, level) in names.iter().zip(lane.values[at].chars()) {
                let level = match level {
                    '1' | 'H' => Some(true),
                    '0' | 'L' => Some(false),
                    _ => None,
                };
                levels.insert(name.clone(), level);
            }
        }
        levels
    }
}

trait Model {
    /// Demanded levels of the output bits after the inputs took these.
    fn outputs(&mut self, inputs: &BTreeMap<String, Option<bool>>) -> Result<BTreeMap<String, char>, NotShown>;
}

struct Table<'e>(&'e Exercise);

impl Model for Table<'_> {
    fn outputs(&mut self, inputs: &BTreeMap<String, Option<bool>>) -> Result<BTreeMap<String, char>, NotShown> {
        let table = self.0.table();
        let bits = table.inputs.iter().map(|n| inputs.get(n).copied().flatten());
        let Some(row) = bits.into_iter().try_fold(0u64, |row, bit| Some(row << 1 | u64::from(bit?))) else {
            return Ok(BTreeMap::new());
        };
        let level = |o: &logic::OutputColumn| match o.value(row) {
            RowValue::Zero => '0',
            RowValue::One => '1',
            RowValue::DontCare => '-',
        };
        Ok(table.outputs.iter().map(|o| (o.name.clone(), level(o))).collect())
    }
}

struct Wide<'n> {
    running: prove::Running<'n>,
    inputs: Vec<String>,
    outputs: Vec<String>,
    budget: Budget,
}

impl Model for Wide<'_> {
    fn outputs(&mut self, levels: &BTreeMap<String, Option<bool>>) -> Result<BTreeMap<String, char>, NotShown> {
        for (k, name) in self.inputs.iter().enumerate() {
            let Some(level) = levels.get(name).copied().flatten() else { return Ok(BTreeMap::new()) };
            self.running.set_input(k, if level { u64::MAX } else { 0 });
        }
        let tell =
            |e: base::Exhausted| NotShown::TooLarge(format!("What is expected could not be run to its end: {}.", e.0));
        self.running.settle(&mut self.budget).map_err(tell)?;
        Ok(self.outputs.iter().enumerate().map(|(k, n)| (n.clone(), demanded(&self.running, k))).collect())
    }
}

/// The demanded level of an output; what is unknown or floats is free.
fn demanded(running: &prove::Running<'_>, output: usize) -> char {
    match running.output(output).map(|w| w & 1) {
        [1, 0, 0] => '1',
        [0, 0, 0] => '0',
        _ => '-',
    }
}

struct Clocked<'n> {
    running: prove::Running<'n>,
    inputs: Vec<String>,
    clock: String,
    outputs: Vec<String>,
    budget: Budget,
    /// The clock's level at the time before; none at the start.
    before: Option<bool>,
    rising: bool,
    reset: Option<ResetSpec>,
    /// The reset has taken effect: what comes before it is nobody's business.
    demands: bool,
    /// The reset is active.
    held: bool,
}

impl Model for Clocked<'_> {
    fn outputs(&mut self, levels: &BTreeMap<String, Option<bool>>) -> Result<BTreeMap<String, char>, NotShown> {
        let tell =
            |e: base::Exhausted| NotShown::TooLarge(format!("What is expected could not be run to its end: {}.", e.0));
        let level = |name: &str| levels.get(name).copied().flatten().unwrap_or(false);
        // The clock first: an edge sees what the other inputs were before it.
        let clock = level(&self.clock);
        self.running.set_clock(clock);
        if let Some(before) = self.before {
            self.running.settle(&mut self.budget).map_err(tell)?;
            self.demands |= self.held && before != clock && clock == self.rising;
        }
        for (k, name) in self.inputs.iter().enumerate() {
            self.running.set_input(k, if level(name) { u64::MAX } else { 0 });
        }
        if self.before.is_none() {
            self.running.power_up();
        }
        self.before = Some(clock);
        self.running.settle(&mut self.budget).map_err(tell)?;
        if let Some(reset) = &self.reset {
            self.held = level(&reset.port) == reset.active_high;
            self.demands |= self.held && !reset.synchronous;
        }
        if !self.demands {
            return Ok(BTreeMap::new());
        }
        Ok(self.outputs.iter().enumerate().map(|(k, n)| (n.clone(), demanded(&self.running, k))).collect())
    }
}
