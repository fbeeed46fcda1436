//! From `[clock]`, `[reset]` and a clocked `[behaviour]` to the machine that hand-ins are held against.

use crate::behaviour;
use crate::fault::{Beside, Fault};
use crate::raw::{RawBehaviour, RawClock, RawNext, RawReset};
use base::Budget;
use design::Netlist;
use elab::{ExercisePort, machine_of};
use logic::{RowSet, Shape, parse_expr};
use prove::{Builder, Guard, Machine, OutputTap, Protocol, Reset, Source, StateRule};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::ops::Range;
use std::sync::Arc;
use toml::Spanned;

/// The reset of a clocked exercise.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ResetSpec {
    /// Its port.
    pub port: String,
    /// It resets at 1.
    pub active_high: bool,
    /// It waits for the clock edge.
    pub synchronous: bool,
}

/// An output that repeats.
#[derive(Clone, Debug, PartialEq)]
pub struct RateRule {
    /// The output bit, by its number among all output bits.
    pub output: usize,
    /// Clock cycles from one rising edge to the next.
    pub period: u64,
    /// Share of a period that it is high, between 0 and 1.
    pub duty: f64,
    /// Cycles that a period, and the time high, may be off.
    pub tolerance: u64,
}

/// A rule's machine with a usual mistake.
#[derive(Clone, Debug)]
pub struct Mistaken {
    /// Kind of near miss.
    pub kind: &'static str,
    /// What a design that does the same does, and what would put it right.
    pub says: [String; 2],
    /// The machine.
    pub net: Arc<Netlist>,
}

/// What a clocked exercise demands.
#[derive(Clone, Debug)]
pub enum ClockedRule {
    /// To do what a machine does: that of a reference, a state table or a list of patterns. Its netlist, and for each
    /// bit of the netlist's inputs where it comes from.
    Machine {
        /// Its logic.
        net: Arc<Netlist>,
        /// For each bit of the netlist's inputs where its level comes from.
        inputs: Vec<Option<Source>>,
        /// Numbers of the netlist's outputs, in the order of the exercise's output bits.
        outputs: Vec<Option<usize>>,
        /// Machines of the same rule with a usual mistake in it.
        mistaken: Vec<Mistaken>,
    },
    /// To repeat.
    Rate(RateRule),
}

/// A clocked exercise in words, and its rule as a table.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct ClockedInfo {
    /// The clock in a sentence.
    pub clock: String,
    /// The reset in a sentence.
    pub reset: String,
    /// The rule in a sentence.
    pub rule: String,
    /// Heads of the rule's table; empty when it has none.
    pub columns: Vec<String>,
    /// A state or pattern each.
    pub rows: Vec<Vec<String>>,
}

/// Clock, reset and rule of an exercise.
#[derive(Clone, Debug)]
pub struct Clocked {
    /// The clock's port.
    pub clock: String,
    /// Its edge that counts goes up.
    pub rising: bool,
    /// Frequency of the board's clock.
    pub frequency_hz: Option<u64>,
    /// The reset, if there is one.
    pub reset: Option<ResetSpec>,
    /// What is demanded.
    pub rule: ClockedRule,
    /// Input bits without the clock, the reset among them, in the order of the ports, most significant first.
    pub inputs: Vec<String>,
    /// Output bits in the order of the ports, most significant first.
    pub outputs: Vec<String>,
    /// `states`, `sequence`, `rate` or `reference`.
    pub kind: String,
    /// All of it in words.
    pub info: ClockedInfo,
}

/// A frequency in its largest unit.
fn hertz(value: u64) -> String {
    let (size, unit) = match value {
        1_000_000.. => (1e6, "MHz"),
        1_000.. => (1e3, "kHz"),
        _ => (1.0, "Hz"),
    };
    format!("{} {unit}", value as f64 / size)
}

impl Clocked {
    /// How machines are driven.
    pub fn protocol(&self) -> Protocol {
        let reset = self.reset.as_ref().and_then(|r| {
            let input = self.inputs.iter().position(|n| *n == r.port)?;
            Some(Reset { input: u32::try_from(input).ok()?, active_high: r.active_high })
        });
        Protocol { inputs: u32::try_from(self.inputs.len()).unwrap_or(u32::MAX), rising: self.rising, reset }
    }

    /// Clock cycles of a period, where the rule is one of a rate.
    pub fn period(&self) -> Option<u64> {
        match &self.rule {
            ClockedRule::Rate(rule) => Some(rule.period),
            ClockedRule::Machine { .. } => None,
        }
    }

    /// The machine that the rule makes, if it makes one.
    pub fn machine(&self) -> Option<Machine<'_>> {
        match &self.rule {
            ClockedRule::Machine { net, inputs, outputs, .. } => Some(Machine {
                net,
                inputs: inputs.clone(),
                outputs: outputs.iter().map(|n| n.map(|number| OutputTap { number, complement: false })).collect(),
            }),
            ClockedRule::Rate(_) => None,
        }
    }

    /// A netlist whose ports were found to fit, as a machine.
    pub fn join<'n>(&self, net: &'n Netlist, ports: &[ExercisePort]) -> Machine<'n> {
        machine_of(net, ports, &self.inputs, &self.outputs, Some(&self.clock))
    }
}

fn either(value: Option<&Spanned<String>>, yes: &str, no: &str, what: &str) -> Result<bool, Fault> {
    match value.map(|v| (v.get_ref().as_str(), v.span())) {
        None => Ok(true),
        Some((text, _)) if text == yes => Ok(true),
        Some((text, _)) if text == no => Ok(false),
        Some((text, span)) => Err((span, format!("{what} is `{yes}` or `{no}`, not `{text}`; write one of the two."))),
    }
}

fn input_port<'p>(name: &Spanned<String>, ports: &'p [ExercisePort], what: &str) -> Result<&'p ExercisePort, Fault> {
    let inputs = || ports.iter().filter(|p| p.is_input);
    let found = inputs().find(|p| p.name == *name.get_ref()).ok_or_else(|| {
        let near = base::nearest(name.get_ref(), inputs().map(|p| p.name.as_str()));
        let hint = near.map_or("add it as a `[[port]]` with `dir = \"in\"`".into(), |n| format!("write `{n}`"));
        (name.span(), format!("The {what} `{}` is not an input of the exercise; {hint}.", name.get_ref()))
    })?;
    if found.shape.width() != 1 {
        return Err((name.span(), format!("The {what} `{}` is a vector; give it one bit.", name.get_ref())));
    }
    Ok(found)
}

/// Reads what makes an exercise clocked.
pub fn clocked(
    clock: &RawClock,
    reset: Option<&RawReset>,
    raw: &RawBehaviour,
    ports: &[ExercisePort],
    (beside, budget): (&Beside<'_>, &Budget),
    warnings: &mut Vec<String>,
) -> Result<Clocked, Fault> {
    let clock_port = input_port(&clock.port, ports, "clock")?;
    let rising = either(clock.edge.as_ref(), "rising", "falling", "A clock edge")?;
    let frequency_hz = match &clock.frequency_hz {
        Some(f) if *f.get_ref() == 0 => {
            return Err((f.span(), "A clock of 0 Hz stands still; give its frequency.".into()));
        }
        other => other.as_ref().map(|f| *f.get_ref()),
    };
    let reset = match reset {
        None => None,
        Some(reset) => {
            let port = input_port(&reset.port, ports, "reset")?;
            if port.name == clock_port.name {
                return Err((reset.port.span(), "The clock can't be the reset too; name another port.".into()));
            }
            let active_high = either(reset.active.as_ref(), "high", "low", "A reset's active level")?;
            let synchronous = either(reset.kind.as_ref(), "sync", "async", "A reset's kind")?;
            Some(ResetSpec { port: port.name.clone(), active_high, synchronous })
        }
    };
    let bits = |input: bool| -> Vec<String> {
        let of = ports.iter().filter(|p| p.is_input == input && p.name != clock_port.name);
        of.flat_map(|p| p.bit_names().collect::<Vec<_>>()).collect()
    };
    let (inputs, outputs) = (bits(true), bits(false));
    let kind = raw.kind.get_ref().clone();
    let mut found = Clocked {
        clock: clock_port.name.clone(),
        rising,
        frequency_hz,
        reset,
        rule: ClockedRule::Rate(RateRule { output: 0, period: 1, duty: 0.5, tolerance: 0 }),
        inputs,
        outputs,
        kind,
        info: ClockedInfo::default(),
    };
    let loader = Loader { raw, ports, spec: &found };
    let rule = match raw.kind.get_ref().as_str() {
        "states" => loader.states(warnings)?,
        "sequence" => loader.sequence()?,
        "rate" => ClockedRule::Rate(loader.rate()?),
        "reference" => {
            let net = behaviour::reference_netlist(raw, ports, (beside, budget), true)?;
            let machine = found.join(&net, ports);
            let inputs = machine.inputs.clone();
            let outputs = machine.outputs.iter().map(|o| o.map(|t| t.number)).collect();
            ClockedRule::Machine { net: Arc::new(net), inputs, outputs, mistaken: Vec::new() }
        }
        other => {
            let message = format!(
                "The behaviour `{other}` has no clock, but [clock] names one; use states, rate, sequence or reference."
            );
            return Err((raw.kind.span(), message));
        }
    };
    found.info = loader.info(&rule);
    found.rule = rule;
    settled(&found, raw, budget)?;
    Ok(found)
}

/// A reference must be known itself: unknown outputs would let everything pass.
fn settled(spec: &Clocked, raw: &RawBehaviour, budget: &Budget) -> Result<(), Fault> {
    if spec.kind != "reference" {
        return Ok(());
    }
    let Some(machine) = spec.machine() else { return Ok(()) };
    let mut sure = machine.net.clone();
    for output in &mut sure.outputs {
        output.unknown = design::Lit::FALSE;
    }
    let demanding = Machine { net: &sure, ..machine.clone() };
    let span = raw.files.as_ref().map_or(raw.kind.span(), Spanned::span);
    let mut budget = budget.clone().with_steps(100_000_000);
    let found = prove::compare(&demanding, &machine, &spec.protocol(), &mut budget).map_err(|_| {
        (span.clone(), "The reference never comes to rest, or needs more than the check's budget.".into())
    })?;
    let Some(difference) = found.difference else { return Ok(()) };
    let names: Vec<String> = difference.outputs.iter().map(|k| format!("`{}`", spec.outputs[*k])).collect();
    let cycle = difference.steps.last().map_or(0, |s| s.cycle);
    let remedy =
        if spec.reset.is_some() { "let its reset reach every register" } else { "give its registers a first level" };
    Err((span, format!("The reference leaves {} unknown after {cycle} clock edges; {remedy}.", names.join(", "))))
}

/// How far a counter goes that makes this period, as a table.
fn counters(clock_hz: Option<u64>, period: u64) -> (Vec<String>, Vec<Vec<String>>) {
    let clock = clock_hz.unwrap_or(period);
    let plans = crate::divider::divider_plans(clock, clock as f64 / period as f64).unwrap_or_default();
    let columns = ["At its end the counter", "counts to", "bits", "period in cycles"].map(str::to_owned).to_vec();
    let row = |p: &crate::divider::DividerPlan| {
        let way = if p.kind == "toggle" { "turns the output over" } else { "gives a pulse of one cycle" };
        vec![way.into(), p.terminal_count.to_string(), p.width.to_string(), p.period_cycles.to_string()]
    };
    (columns, plans.iter().map(row).collect())
}

struct Loader<'a> {
    raw: &'a RawBehaviour,
    ports: &'a [ExercisePort],
    spec: &'a Clocked,
}

impl Loader<'_> {
    fn info(&self, rule: &ClockedRule) -> ClockedInfo {
        let (spec, raw) = (self.spec, self.raw);
        let edge = if spec.rising { "rising" } else { "falling" };
        let board = spec.frequency_hz.map_or(String::new(), |f| format!(", {}", hertz(f)));
        let reset = match &spec.reset {
            None => "No reset: registers begin with the levels of their declarations.".into(),
            Some(reset) => format!(
                "`{}` resets at {}, {}.",
                reset.port,
                u8::from(reset.active_high),
                if reset.synchronous { "with the clock edge" } else { "at once" }
            ),
        };
        let mut info =
            ClockedInfo { clock: format!("`{}`, {edge} edge{board}.", spec.clock), reset, ..ClockedInfo::default() };
        let text = |value: &toml::Value| match value {
            toml::Value::String(text) => text.clone(),
            other => other.to_string(),
        };
        match rule {
            ClockedRule::Rate(rule) => {
                let name = &spec.outputs[rule.output];
                let rate = spec.frequency_hz.map_or(String::new(), |f| {
                    format!(" ({} Hz)", (f as f64 / rule.period as f64 * 1e3).round() / 1e3)
                });
                let off = if rule.tolerance > 0 { format!(", {} more or less", rule.tolerance) } else { String::new() };
                info.rule = format!("`{name}` repeats every {} clock cycles{rate}{off}.", rule.period);
                (info.columns, info.rows) = counters(spec.frequency_hz, rule.period);
            }
            ClockedRule::Machine { .. } if !raw.state.is_empty() => {
                let first = raw.initial.as_ref().or(raw.state.first().map(|s| &s.name));
                let first = first.map_or("", |n| n.get_ref().as_str());
                info.rule = format!(
                    "A state table that begins in `{first}`; a state stays while none of its conditions holds."
                );
                let outputs: Vec<&str> = self.ports.iter().filter(|p| !p.is_input).map(|p| p.name.as_str()).collect();
                info.columns =
                    ["state"].into_iter().chain(outputs.iter().copied()).chain(["next"]).map(Into::into).collect();
                info.rows = raw
                    .state
                    .iter()
                    .map(|state| {
                        let next: Vec<String> = state
                            .next
                            .iter()
                            .map(|n| {
                                let when = n.when.as_ref().map_or("else".to_owned(), |w| w.get_ref().clone());
                                format!("{when} → {}", n.to.get_ref())
                            })
                            .collect();
                        let level = |name: &&str| {
                            let found = state.outputs.iter().find(|(k, _)| k.get_ref() == *name);
                            found.map_or(String::new(), |(_, v)| text(v.get_ref()))
                        };
                        let name = state.name.get_ref().clone();
                        [name].into_iter().chain(outputs.iter().map(level)).chain([next.join("; ")]).collect()
                    })
                    .collect();
            }
            ClockedRule::Machine { .. } => match (&raw.patterns, &raw.output) {
                (Some(patterns), Some(output)) => {
                    let step = raw.step_cycles.as_ref().map_or(1, |s| *s.get_ref());
                    let again = if raw.repeat.unwrap_or(true) { "over and over" } else { "once" };
                    info.rule =
                        format!("`{}` shows these patterns {again}, each for {step} clock cycles.", output.get_ref());
                    info.columns = vec!["step".into(), output.get_ref().clone()];
                    info.rows = patterns
                        .get_ref()
                        .iter()
                        .zip(1..)
                        .map(|(p, n): (&String, u32)| vec![n.to_string(), p.clone()])
                        .collect();
                }
                _ => info.rule = "To do what the reference design does.".into(),
            },
        }
        info
    }

    fn builder(&self, synchronous: bool) -> Builder {
        let protocol = self.spec.protocol();
        let reset = protocol.reset.map(|r| (r.input, r.active_high, synchronous));
        Builder { inputs: protocol.inputs, rising: protocol.rising, reset }
    }

    fn machine(&self, make: impl Fn(Builder) -> Netlist) -> ClockedRule {
        let synchronous = self.spec.reset.as_ref().is_none_or(|r| r.synchronous);
        let builder = self.builder(synchronous);
        let net = make(builder);
        let inputs = builder.machine(&net).inputs.clone();
        let outputs = (0..self.spec.outputs.len()).map(Some).collect();
        let mut mistaken = Vec::new();
        if self.spec.reset.is_some() {
            let (is, wanted) =
                if synchronous { ("at once", "with the clock edge") } else { ("with the clock edge", "at once") };
            let says = [
                format!("It resets {is} where the exercise has it {wanted}."),
                format!("Make the reset {}.", if synchronous { "synchronous" } else { "asynchronous" }),
            ];
            mistaken.push(Mistaken { kind: "reset_polarity", says, net: Arc::new(make(self.builder(!synchronous))) });
        }
        ClockedRule::Machine { net: Arc::new(net), inputs, outputs, mistaken }
    }

    fn output_port(&self, name: &str, span: Range<usize>) -> Result<&ExercisePort, Fault> {
        let outputs = || self.ports.iter().filter(|p| !p.is_input);
        outputs().find(|p| p.name == name).ok_or_else(|| {
            let near = base::nearest(name, outputs().map(|p| p.name.as_str()));
            let hint = near.map_or("name an output of the exercise".into(), |n| format!("write `{n}`"));
            (span, format!("Unknown output `{name}`; {hint}."))
        })
    }

    /// Levels of all output bits; those that are not given are don't-cares.
    fn levels(
        &self,
        given: &BTreeMap<Spanned<String>, Spanned<toml::Value>>,
    ) -> Result<Vec<Option<Option<bool>>>, Fault> {
        let mut all: Vec<Option<Option<bool>>> = vec![None; self.spec.outputs.len()];
        for (name, value) in given {
            let port = self.output_port(name.get_ref(), name.span())?;
            let width = port.shape.width();
            let bits = port_levels(value.get_ref(), width)
                .map_err(|why| (value.span(), format!("`{}` {why}", name.get_ref())))?;
            for (bit, level) in port.bit_names().zip(bits) {
                if let Some(k) = self.spec.outputs.iter().position(|n| *n == bit) {
                    all[k] = Some(level);
                }
            }
        }
        Ok(all)
    }

    fn states(&self, warnings: &mut Vec<String>) -> Result<ClockedRule, Fault> {
        let list = &self.raw.state;
        if list.is_empty() || list.len() > 1_024 {
            let message = "A behaviour of kind `states` needs 1 to 1,024 `[[behaviour.state]]` entries; add them.";
            return Err((self.raw.kind.span(), message.into()));
        }
        for (i, state) in list.iter().enumerate() {
            if list[..i].iter().any(|s| s.name.get_ref() == state.name.get_ref()) {
                let message = format!("There are two states `{}`; rename one of them.", state.name.get_ref());
                return Err((state.name.span(), message));
            }
        }
        let find = |name: &Spanned<String>| {
            list.iter().position(|s| s.name.get_ref() == name.get_ref()).ok_or_else(|| {
                let near = base::nearest(name.get_ref(), list.iter().map(|s| s.name.get_ref().as_str()));
                let hint = near.map_or("name one of the states".into(), |n| format!("write `{n}`"));
                (name.span(), format!("Unknown state `{}`; {hint}.", name.get_ref()))
            })
        };
        let initial = self.raw.initial.as_ref().map_or(Ok(0), find)?;
        let signals: Vec<(String, Shape)> = self
            .ports
            .iter()
            .filter(|p| p.is_input && p.name != self.spec.clock)
            .filter(|p| self.spec.reset.as_ref().is_none_or(|r| r.port != p.name))
            .map(|p| (p.name.clone(), p.shape))
            .collect();
        let width: u32 = signals.iter().map(|(_, s)| s.width()).sum();
        if width > 16 {
            let message = format!("The conditions would read {width} input bits; a state table reads 16 at most.");
            return Err((self.raw.kind.span(), message));
        }
        let mut rules = Vec::new();
        for state in list {
            let mut outputs = Vec::new();
            for (bit, level) in self.spec.outputs.iter().zip(self.levels(&state.outputs)?) {
                outputs.push(level.ok_or_else(|| {
                    let name = state.name.get_ref();
                    (state.name.span(), format!("The state `{name}` says nothing of `{bit}`; give it 0, 1 or \"-\"."))
                })?);
            }
            let mut guards = Vec::new();
            for next in &state.next {
                let own = next.outputs.as_ref().map(|o| self.levels(o)).transpose()?;
                let own = own.map(|list| list.iter().zip(&outputs).map(|(o, s)| o.unwrap_or(*s)).collect());
                guards.push(Guard { when: guard_rows(next, &signals, width)?, to: find(&next.to)?, outputs: own });
            }
            rules.push(StateRule { outputs, guards });
        }
        let mut reached = vec![false; rules.len()];
        let mut stack = vec![initial];
        while let Some(state) = stack.pop() {
            if !std::mem::replace(&mut reached[state], true) {
                stack.extend(rules[state].guards.iter().filter(|g| !g.when.is_empty()).map(|g| g.to));
            }
        }
        for (state, _) in list.iter().zip(&reached).filter(|(_, r)| !**r) {
            warnings.push(format!("No transition leads to the state `{}`.", state.name.get_ref()));
        }
        Ok(self.machine(|builder| prove::machine_of_states(builder, &rules, initial)))
    }

    fn sequence(&self) -> Result<ClockedRule, Fault> {
        let raw = self.raw;
        let (Some(output), Some(patterns)) = (&raw.output, &raw.patterns) else {
            let message = "A behaviour of kind `sequence` needs `output` and `patterns`; add them.";
            return Err((raw.kind.span(), message.into()));
        };
        let port = self.output_port(output.get_ref(), output.span())?;
        let list = patterns.get_ref();
        if list.is_empty() || list.len() > 4_096 {
            return Err((patterns.span(), "A sequence has 1 to 4,096 patterns; add or remove some.".into()));
        }
        let step = raw.step_cycles.as_ref().map_or(1, |s| *s.get_ref());
        if step == 0 || step > 1 << 40 {
            let span = raw.step_cycles.as_ref().map_or(raw.kind.span(), Spanned::span);
            return Err((span, "A step takes 1 to 2^40 clock cycles; change `step_cycles`.".into()));
        }
        let mut all = Vec::new();
        for text in list {
            let levels = port_levels(&toml::Value::String(text.clone()), port.shape.width())
                .map_err(|why| (patterns.span(), format!("The pattern `{text}` {why}")))?;
            let mut row: Vec<Option<bool>> = vec![None; self.spec.outputs.len()];
            for (bit, level) in port.bit_names().zip(levels) {
                if let Some(k) = self.spec.outputs.iter().position(|n| *n == bit) {
                    row[k] = level;
                }
            }
            all.push(row);
        }
        let repeat = raw.repeat.unwrap_or(true);
        let mut rule = self.machine(|builder| prove::machine_of_patterns(builder, &all, step, repeat));
        if let ClockedRule::Machine { mistaken, .. } = &mut rule {
            let synchronous = self.spec.reset.as_ref().is_none_or(|r| r.synchronous);
            for other in [step - 1, step + 1].into_iter().filter(|s| *s > 0) {
                let net = prove::machine_of_patterns(self.builder(synchronous), &all, other, repeat);
                let says = [
                    format!("Each pattern stays for {other} clock cycles where {step} are wanted."),
                    format!("Let the counter end at {} instead of {}.", step - 1, other - 1),
                ];
                mistaken.push(Mistaken { kind: "off_by_one_count", says, net: Arc::new(net) });
            }
        }
        Ok(rule)
    }

    fn rate(&self) -> Result<RateRule, Fault> {
        let raw = self.raw;
        let Some(output) = &raw.output else {
            return Err((raw.kind.span(), "A behaviour of kind `rate` needs `output`; add it.".into()));
        };
        let bits = &self.spec.outputs;
        let Some(number) = bits.iter().position(|n| n == output.get_ref()) else {
            let near = base::nearest(output.get_ref(), bits.iter().map(String::as_str));
            let hint = near.map_or("name an output bit of the exercise".into(), |n| format!("write `{n}`"));
            return Err((output.span(), format!("Unknown output bit `{}`; {hint}.", output.get_ref())));
        };
        let period = match (&raw.period_cycles, &raw.frequency_hz) {
            (Some(period), None) => *period.get_ref(),
            (None, Some(wanted)) => {
                let Some(board) = self.spec.frequency_hz else {
                    let message = "A rate in Hz needs the board's clock; add `frequency_hz` under [clock].";
                    return Err((wanted.span(), message.into()));
                };
                let hertz = match wanted.get_ref() {
                    toml::Value::Integer(n) => *n as f64,
                    toml::Value::Float(f) => *f,
                    _ => f64::NAN,
                };
                if !(hertz > 0.0 && hertz.is_finite()) {
                    return Err((wanted.span(), "A frequency is a number above 0; correct it.".into()));
                }
                (board as f64 / hertz).round() as u64
            }
            (None, None) => {
                let message = "A behaviour of kind `rate` needs `period_cycles` or `frequency_hz`; add one.";
                return Err((raw.kind.span(), message.into()));
            }
            (Some(period), Some(_)) => {
                let message = "`period_cycles` and `frequency_hz` say the same; keep one.";
                return Err((period.span(), message.into()));
            }
        };
        let duty = raw.duty.as_ref().map_or(0.5, |d| *d.get_ref());
        if !(duty > 0.0 && duty < 1.0) {
            let span = raw.duty.as_ref().map_or(raw.kind.span(), Spanned::span);
            return Err((span, "A duty is between 0 and 1; 0.5 is half of the time.".into()));
        }
        if !(2..=1 << 40).contains(&period) {
            let span = raw.period_cycles.as_ref().map(Spanned::span).or(raw.frequency_hz.as_ref().map(Spanned::span));
            let message = format!("A period of {period} clock cycles can't be made; it takes 2 to 2^40.");
            return Err((span.unwrap_or(raw.kind.span()), message));
        }
        let tolerance = raw.tolerance_cycles.as_ref().map_or(0, |t| *t.get_ref());
        Ok(RateRule { output: number, period, duty, tolerance })
    }
}

/// Levels of a port's bits, most significant first: `"01-"`, or a number.
fn port_levels(value: &toml::Value, width: u32) -> Result<Vec<Option<bool>>, String> {
    match value {
        toml::Value::Integer(n) => {
            let number = u64::try_from(*n).map_err(|_| "can't be negative; write its bits.".to_owned())?;
            if width < 64 && number >> width != 0 {
                return Err(format!("has {width} bits, which {number} does not fit in; write its bits."));
            }
            Ok((0..width).rev().map(|i| Some(i < 64 && number >> i & 1 == 1)).collect())
        }
        toml::Value::Boolean(bit) if width == 1 => Ok(vec![Some(*bit)]),
        toml::Value::String(text) => {
            let digits: Vec<char> = text.chars().filter(|c| *c != '_').collect();
            if digits.len() != width as usize {
                return Err(format!("has {} digits where the port has {width} bits.", digits.len()));
            }
            digits
                .iter()
                .map(|c| match c {
                    '0' => Ok(Some(false)),
                    '1' => Ok(Some(true)),
                    '-' => Ok(None),
                    other => Err(format!("holds `{other}`; its digits are 0, 1 and - .")),
                })
                .collect()
        }
        _ => Err("is not a value of a port; write its bits in quotes.".into()),
    }
}

/// Rows of the inputs on which a transition is taken.
fn guard_rows(next: &RawNext, signals: &[(String, Shape)], width: u32) -> Result<RowSet, Fault> {
    let Some(when) = &next.when else { return Ok(RowSet::full(width)) };
    let expr = parse_expr(when.get_ref(), signals, 1)
        .map_err(|e| (when.span(), format!("In the condition, column {}: {} {}", e.column, e.message, e.action)))?;
    let words: Vec<u64> = (0..RowSet::empty(width).words().len() as u64)
        .map(|word| expr.eval(behaviour::scope(signals, width, word).as_slice(), 1).first().copied().unwrap_or(0))
        .collect();
    Ok(RowSet::from_words(width, &words))
}
