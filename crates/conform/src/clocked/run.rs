//! The Behaviour stage for clocked designs.

use crate::clocked::fast::Fast;
use crate::diagnostics as say;
use crate::moment::{register_bit, way};
use crate::outcome::Outcome;
use crate::seen::Seen;
use base::{Budget, Diagnostic, Exhausted, SourceMap};
use design::{Design, Netlist};
use elab::{Built, ExercisePort};
use exercise::{Clocked, ClockedRule, Exercise, RateRule};
use prove::{Difference, Equality, Machine, Moment, Step};
use std::collections::BTreeMap;
use verdict::{Evidence, Proof, ProofKind, ProofMethod, Rhythm, TraceStep};

/// Registers up to which evidence says what they hold.
const MOST_REGISTERS: usize = 256;
/// Steps that following an output pass by pass may take.
const SLOW_STEPS: u64 = 500_000_000;

/// Holds a netlist, whose ports were found to fit, against a clocked exercise.
pub(crate) fn run(
    exercise: &Exercise,
    spec: &Clocked,
    (built, sources): (&Built, &SourceMap),
    budget: &mut Budget,
) -> Outcome {
    let (source, netlist) = (&built.design, &built.netlist);
    let design = spec.join(netlist, &exercise.ports);
    let stage = Stage { exercise, spec, source, netlist, design, thorough: true };
    let found = match &spec.rule {
        ClockedRule::Machine { .. } => stage.machine(budget),
        ClockedRule::Rate(rule) => stage.rate(rule, budget),
    };
    let mut outcome = found.unwrap_or_else(|exhausted| Outcome {
        passed: 0,
        total: 1,
        proof: Proof::NONE,
        findings: vec![(say::not_run(exhausted.0), None)],
        seen: Seen::Nothing,
        cannot_tell: true,
        rhythm: None,
    });
    let shown = outcome.findings.iter_mut().filter_map(|(_, e)| e.as_mut());
    for evidence in shown.filter(|e| !e.state.is_empty()) {
        evidence.path = way((exercise, spec), netlist, evidence, sources);
    }
    outcome
}

/// Is a netlist, whose ports were found to fit, right as far as can be told? Stops at the first difference.
pub(crate) fn is_right(
    exercise: &Exercise,
    spec: &Clocked,
    (source, netlist): (&Design, &Netlist),
    budget: &mut Budget,
) -> bool {
    let design = spec.join(netlist, &exercise.ports);
    match (&spec.rule, spec.machine()) {
        (ClockedRule::Machine { .. }, Some(reference)) => {
            prove::is_equal(&reference, &design, &spec.protocol(), budget) == Ok(Some(true))
        }
        (ClockedRule::Rate(rule), _) => {
            let stage = Stage { exercise, spec, source, netlist, design, thorough: false };
            stage.measured(rule, budget).is_ok_and(|(_, judged, _)| judged.fault.is_none())
        }
        _ => false,
    }
}

/// Does a netlist with the exercise's ports do what the exercise says? `None` where too little was seen. A rate is held against `design`, which was found to
/// be right.
///
/// # Errors
/// When the budget runs out, or the logic never comes to rest.
pub(crate) fn does_right(
    exercise: &Exercise,
    spec: &Clocked,
    (design, netlist): (&Netlist, &Netlist),
    budget: &mut Budget,
) -> Result<Option<bool>, Exhausted> {
    let right = spec.join(design, &exercise.ports);
    let reference = spec.machine().unwrap_or(right);
    prove::is_equal(&reference, &spec.join(netlist, &exercise.ports), &spec.protocol(), budget)
}

struct Stage<'a> {
    exercise: &'a Exercise,
    spec: &'a Clocked,
    source: &'a Design,
    netlist: &'a Netlist,
    design: Machine<'a>,
    /// What can't be followed in leaps is followed cycle by cycle.
    thorough: bool,
}

/// `q=0110, carry=1`
fn port_values(ports: &[&ExercisePort], value: impl Fn(&str) -> String) -> Vec<(String, String)> {
    let text = |p: &ExercisePort| p.bit_names().map(|n| value(&n)).collect::<String>();
    ports.iter().map(|p| (p.name.clone(), text(p))).collect()
}

/// The last whole period that was seen.
fn rhythm(output: &str, measured: &prove::Measured, clock_hz: Option<u64>) -> Option<Rhythm> {
    let rises: Vec<usize> = (0..measured.edges.len()).filter(|i| measured.edges[*i].1).collect();
    let [.., from, to] = rises.as_slice() else { return None };
    let (start, end) = (measured.edges[*from].0, measured.edges[*to].0);
    let fall = measured.edges.get(from + 1).map_or(end, |e| e.0);
    let period = end - start;
    let hertz = clock_hz.map(|f| {
        let hertz = f as f64 / period as f64;
        let places = (8 - hertz.log10().floor() as i32).clamp(0, 12) as usize;
        let text = format!("{hertz:.places$}");
        if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
    });
    Some(Rhythm { output: output.to_owned(), period_cycles: period, high_cycles: fall - start, hertz })
}

impl Stage<'_> {
    fn machine(&self, budget: &mut Budget) -> Result<Outcome, Exhausted> {
        let Some(reference) = self.spec.machine() else { return Err(Exhausted(base::Resource::Steps)) };
        let protocol = self.spec.protocol();
        let found = prove::compare(&reference, &self.design, &protocol, budget)?;
        let (kind, method, cycles) = match found.equality {
            Equality::Proved { .. } => (ProofKind::Proved, ProofMethod::States, None),
            Equality::Induced => (ProofKind::Proved, ProofMethod::Induction, None),
            Equality::Matched { cycles } => (ProofKind::Matched, ProofMethod::Simulation, Some(cycles)),
            Equality::Differs => {
                let last = found.difference.as_ref().and_then(|d| d.steps.last()).map(|s| s.cycle);
                (ProofKind::Differs, ProofMethod::States, last)
            }
        };
        let mut outcome = Outcome {
            passed: found.right,
            total: found.compared,
            proof: Proof { kind, method: Some(method), rows: Some(found.compared), cycles, budget: None },
            findings: Vec::new(),
            seen: Seen::Nothing,
            cannot_tell: false,
            rhythm: None,
        };
        if !found.unseen.is_empty() {
            outcome.cannot_tell = true;
            let cycles = outcome.proof.cycles.unwrap_or(found.compared);
            outcome.findings.push((self.not_all_seen(&found.unseen, cycles), None));
        }
        if let Some(difference) = &found.difference {
            outcome.findings.push(self.finding(difference));
            outcome.seen = Seen::Difference(Box::new(difference.clone()));
        }
        Ok(outcome)
    }

    fn not_all_seen(&self, unseen: &prove::Unseen, cycles: u64) -> Diagnostic {
        let mut outputs: Vec<&str> = Vec::new();
        let mut registers = 0;
        for (bit, _) in &unseen.bits {
            match bit {
                prove::StillBit::Register { .. } => registers += 1,
                prove::StillBit::Output(k) => outputs.extend(self.spec.outputs.get(*k).map(String::as_str)),
            }
        }
        say::not_all_seen(cycles, &outputs, registers)
    }

    fn ports(&self, input: bool) -> Vec<&ExercisePort> {
        self.exercise.ports.iter().filter(|p| p.is_input == input && p.name != self.spec.clock).collect()
    }

    fn levels<T: Copy>(names: &[String], levels: &[T], show: impl Fn(T) -> char) -> BTreeMap<String, String> {
        names.iter().zip(levels).map(|(n, l)| (n.clone(), show(*l).to_string())).collect()
    }

    fn trace_step(&self, step: &Step) -> TraceStep {
        TraceStep {
            cycle: step.cycle + u64::from(step.moment != Moment::BeforeEdge),
            inputs: Self::levels(&self.spec.inputs, &step.inputs, |b| if b { '1' } else { '0' }),
            expected: Self::levels(&self.spec.outputs, &step.expected, |c| c),
            actual: Self::levels(&self.spec.outputs, &step.actual, |c| c),
        }
    }

    /// What each register holds at a difference, by the name of its bit; nothing where they are too many to read.
    fn state(&self, difference: &Difference) -> BTreeMap<String, String> {
        if difference.registers.len() > MOST_REGISTERS {
            return BTreeMap::new();
        }
        let text = |level: &Option<bool>| level.map_or("X", |l| if l { "1" } else { "0" }).to_owned();
        let bits = difference.registers.iter().enumerate();
        bits.map(|(k, level)| (register_bit(self.netlist, k), text(level))).collect()
    }

    fn finding(&self, difference: &Difference) -> (Diagnostic, Option<Evidence>) {
        let Some(step) = difference.steps.last() else { return (say::not_run(base::Resource::Steps), None) };
        let shown = self.trace_step(step);
        let text = |map: &BTreeMap<String, String>, name: &str| map.get(name).cloned().unwrap_or_default();
        let expected = port_values(&self.ports(false), |n| text(&shown.expected, n));
        let actual = port_values(&self.ports(false), |n| text(&shown.actual, n));
        let wrong = |port: &ExercisePort| {
            port.bit_names().any(|n| {
                let k = self.spec.outputs.iter().position(|o| *o == n);
                k.is_some_and(|k| difference.outputs.contains(&k))
            })
        };
        let wrong_ports: Vec<&ExercisePort> = self.ports(false).into_iter().filter(|p| wrong(p)).collect();
        let name = wrong_ports.first().map_or("", |p| p.name.as_str());
        let of = |list: &[(String, String)]| {
            list.iter().find(|(n, _)| n == name).map(|(_, v)| v.clone()).unwrap_or_default()
        };
        let mut inputs = port_values(&self.ports(true), |n| text(&shown.inputs, n));
        // A reset at rest goes without saying.
        if let Some(reset) = &self.spec.reset {
            let rest = if reset.active_high { "0" } else { "1" };
            inputs.retain(|(name, value)| *name != reset.port || value != rest);
        }
        let when = say::moment(shown.cycle, step.moment == Moment::AfterOtherEdge, self.spec.reset.is_some());
        let is_unknown = difference.outputs.iter().all(|k| matches!(step.actual[*k], 'X' | 'Z'));
        let diagnostic = if is_unknown {
            let mut registers: Vec<&str> = difference
                .unknown_registers
                .iter()
                .filter_map(|r| self.netlist.registers.get(*r))
                .map(|r| r.name.as_str())
                .collect();
            registers.sort_unstable();
            registers.dedup();
            let at = difference.unknown_registers.first().and_then(|r| self.netlist.registers.get(*r)).map(|r| r.span);
            say::unknown_at(name, &when, &registers, self.spec.reset.as_ref().map(|r| r.port.as_str()), at)
        } else {
            let at =
                self.netlist.outputs.iter().find(|o| o.port == name).and_then(|o| self.netlist.origin(o.value.node()));
            let inputs: Vec<String> = inputs.iter().map(|(n, v)| format!("{n}={v}")).collect();
            say::wrong_cycle(name, &of(&expected), &of(&actual), &when, &inputs.join(", "), at)
        };
        let evidence = Evidence {
            row: Some(self.spec.inputs.iter().map(|n| text(&shown.inputs, n)).collect()),
            cycle: Some(shown.cycle),
            expected: shown.expected.clone(),
            actual: shown.actual.clone(),
            trace: difference.steps.iter().map(|s| self.trace_step(s)).collect(),
            state: self.state(difference),
            path: Vec::new(),
        };
        (diagnostic, Some(evidence))
    }

    /// Follows the output, from power-up levels of several kinds where nothing sets them. Says too whether what was seen
    /// holds from every start and after every reset.
    fn measured(&self, rule: &RateRule, budget: &mut Budget) -> Result<(prove::Measured, Judged, bool), Exhausted> {
        let protocol = self.spec.protocol();
        let cycles = rule.period.saturating_mul(4).saturating_add(1_000);
        let follow = |levels: Option<u64>, budget: &mut Budget| {
            let mut walker = prove::Walker::new(&self.design, &protocol, rule.output, budget)?;
            let set = walker.registers().iter().all(Option::is_some);
            if let Some(seed) = levels {
                let level = |n: usize| match seed {
                    0 => false,
                    1 => true,
                    seed => (n as u64 + 1).wrapping_mul(seed.wrapping_mul(0x9e37_79b9_7f4a_7c15)) >> 63 == 1,
                };
                walker.settle_unknown(level, budget)?;
            }
            let sure = set && walker.resets_from_anywhere(budget)?;
            let measured = self.follow(&mut walker, rule, cycles, budget)?;
            let judged = judge_rate(rule, &measured);
            Ok((measured, judged, sure))
        };
        let first = follow(None, budget)?;
        if !matches!(first.1.fault, Some(RateFault::Unknown)) {
            return Ok(first);
        }
        // Nothing sets some register: is the rate right whatever it holds at power-up?
        let mut last = None;
        for seed in 0..6 {
            let found = follow(Some(seed), budget)?;
            if found.1.fault.is_some() {
                return Ok(first);
            }
            last = Some(found);
        }
        Ok(last.unwrap_or(first))
    }

    /// As machine code where the design allows it and what it does agrees with the netlist; else pass by pass.
    fn follow(
        &self,
        walker: &mut prove::Walker<'_>,
        rule: &RateRule,
        cycles: u64,
        budget: &mut Budget,
    ) -> Result<prove::Measured, Exhausted> {
        if let Some(mut leaper) = prove::Leaper::new(&self.design, walker) {
            let found = budget.share(budget.steps_left() / 4, |share| -> Result<_, Exhausted> {
                let mut found = prove::measure(&mut leaper, 3, cycles, share);
                if let Ok(measured) = &mut found
                    && let Some((period, high)) = measured.steady()
                    && !measured.repeats
                {
                    measured.repeats = leaper.keeps(period, high, share)?;
                }
                Ok(found)
            })?;
            if let Ok(measured) = found
                && !measured.is_cut_short(cycles)
            {
                return Ok(measured);
            }
        }
        if !self.thorough {
            return Err(Exhausted(base::Resource::Steps));
        }
        let start: Option<Vec<bool>> = walker.registers().into_iter().collect();
        let ports = &self.exercise.ports;
        if let Some(start) = start
            && let Some(mut fast) = Fast::new(self.source, self.netlist, self.spec, ports, rule.output, walker)
        {
            let trusted = fast.agrees(walker, budget)?;
            // They differ where the design has latches or loops: the netlist says "unknown" there, machine code a level.
            fast.restart(&start);
            if trusted {
                return prove::measure(&mut fast, 3, cycles, budget);
            }
            walker.restart(&start, budget)?;
        }
        // Passes over a large netlist are slow: they may take a share of their own.
        let mut share = budget.clone().with_steps(SLOW_STEPS);
        prove::measure(walker, 3, cycles, &mut share)
    }

    fn rate(&self, rule: &RateRule, budget: &mut Budget) -> Result<Outcome, Exhausted> {
        let (measured, judged, sure) = self.measured(rule, budget)?;
        let name = self.spec.outputs[rule.output].as_str();
        let bit = self.netlist.outputs.iter().find(|o| {
            self.exercise.ports.iter().any(|p| p.name == o.port && p.shape.bit_name(&p.name, o.position) == name)
        });
        let at = bit.and_then(|b| self.netlist.origin(b.value.node()));
        let for_ever = measured.repeats || bit.is_some_and(|b| b.value.is_const());
        let kind = match (&judged.fault, measured.repeats && sure) {
            (Some(_), _) => ProofKind::Differs,
            (None, true) => ProofKind::Proved,
            (None, false) => ProofKind::Matched,
        };
        let seen = judged.right + judged.wrong;
        let mut outcome = Outcome {
            passed: judged.right,
            total: seen.max(1),
            proof: Proof {
                kind,
                method: Some(ProofMethod::Simulation),
                rows: Some(seen),
                cycles: Some(measured.cycles),
                budget: None,
            },
            findings: Vec::new(),
            seen: Seen::Nothing,
            cannot_tell: false,
            rhythm: None,
        };
        let hertz = self.spec.frequency_hz;
        outcome.rhythm = rhythm(name, &measured, hertz);
        match judged.fault {
            None => {}
            // Nothing was seen to be wrong, but too little was run.
            Some(RateFault::TooShort) => {
                outcome.cannot_tell = true;
                outcome.proof.kind = ProofKind::None;
                outcome.findings.push((say::rate_too_long(name, measured.cycles, rule.period), None));
            }
            Some(RateFault::Unknown) => {
                let cycle = measured.unknown_at.unwrap_or(0);
                let when = say::moment(cycle, false, self.spec.reset.is_some());
                let reset = self.spec.reset.as_ref().map(|r| r.port.as_str());
                let names: Vec<&str> =
                    self.netlist.registers.iter().filter(|r| r.initial.is_none()).map(|r| r.name.as_str()).collect();
                let mut names = names;
                names.sort_unstable();
                names.dedup();
                outcome.findings.push((say::unknown_at(name, &when, &names, reset, at), None));
            }
            Some(RateFault::Still) => {
                outcome.findings.push((say::rate_still(name, rule.period, (&measured, for_ever), at), None));
                outcome.seen = Seen::Rhythm;
            }
            Some(RateFault::Late(first)) => {
                outcome.findings.push((say::rate_late(name, rule.period, first, at), None));
                outcome.seen = Seen::Rhythm;
            }
            Some(RateFault::Period(is)) => {
                outcome.findings.push((say::rate_period(name, rule.period, is, hertz, at), None));
                outcome.seen = Seen::Period(is);
            }
            Some(RateFault::Duty(is, low, high)) => {
                outcome.findings.push((say::rate_duty(name, rule.period, is, (low, high), at), None));
                outcome.seen = Seen::Rhythm;
            }
        }
        Ok(outcome)
    }
}

enum RateFault {
    TooShort,
    Unknown,
    Still,
    Late(u64),
    Period(u64),
    Duty(u64, u64, u64),
}

struct Judged {
    right: u64,
    wrong: u64,
    fault: Option<RateFault>,
}

fn judge_rate(rule: &RateRule, measured: &prove::Measured) -> Judged {
    let near = |is: u64, low: u64, high: u64| is + rule.tolerance >= low && is <= high + rule.tolerance;
    let high = rule.period as f64 * rule.duty;
    let (high_low, high_high) = (high.floor() as u64, high.ceil() as u64);
    let rises: Vec<u64> = measured.edges.iter().filter(|(_, l)| *l).map(|(c, _)| *c).collect();
    let mut judged = Judged { right: 0, wrong: 0, fault: None };
    if measured.unknown_at.is_some() {
        judged.wrong = 1;
        judged.fault = Some(RateFault::Unknown);
        return judged;
    }
    let enough = measured.cycles >= rule.period.saturating_add(rule.tolerance).saturating_add(1);
    let Some(first) = rises.first() else {
        let (wrong, fault) = match enough || measured.repeats {
            true => (1, RateFault::Still),
            false => (0, RateFault::TooShort),
        };
        judged.wrong = wrong;
        judged.fault = Some(fault);
        return judged;
    };
    if *first > rule.period + rule.tolerance {
        judged.wrong += 1;
        judged.fault = Some(RateFault::Late(*first));
    }
    for pair in rises.windows(2) {
        let period = pair[1] - pair[0];
        let fall = measured.edges.iter().find(|(c, l)| !*l && *c > pair[0]).map_or(pair[1], |(c, _)| *c);
        let fault = if !near(period, rule.period, rule.period) {
            Some(RateFault::Period(period))
        } else if !near(fall - pair[0], high_low, high_high) {
            Some(RateFault::Duty(fall - pair[0], high_low, high_high))
        } else {
            None
        };
        match fault {
            None => judged.right += 1,
            Some(fault) => {
                judged.wrong += 1;
                judged.fault.get_or_insert(fault);
            }
        }
    }
    if rises.len() == 1 && judged.fault.is_none() {
        // One edge, and nothing after it for longer than a period.
        let since = measured.cycles - first;
        judged.fault = Some(if since > rule.period + rule.tolerance {
            judged.wrong += 1;
            RateFault::Still
        } else {
            RateFault::TooShort
        });
    }
    judged
}
