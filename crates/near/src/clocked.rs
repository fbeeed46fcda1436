//! Near misses of clocked designs: small changes of how the design is joined, or of the rule, with which it would be
//! equal. Each one is checked before it is said.

use crate::joins::{Joins, Variant};
use crate::near_miss::{MOST, Near};
use base::Budget;
use design::{AsyncControl, Lit, Netlist, Node, NodeId, Register};
use elab::ExercisePort;
use exercise::{Clocked, ClockedRule};
use prove::{Difference, Machine, Protocol, Source, Walker};
use std::collections::HashMap;

/// Surely equal, as strongly as a pass needs it.
fn is_equal(reference: &Machine<'_>, design: &Machine<'_>, protocol: &Protocol, budget: &mut Budget) -> bool {
    prove::is_equal(reference, design, protocol, budget) == Ok(Some(true))
}

/// Steps of the budget that they may take.
const STEPS: u64 = 150_000_000;

/// Looks for those of a rule over states, the likeliest first; `difference` shows that the design is wrong.
pub(crate) fn search(
    spec: &Clocked,
    ports: &[ExercisePort],
    netlist: &Netlist,
    difference: &Difference,
    budget: &Budget,
) -> Vec<Near> {
    let Some(reference) = spec.machine() else { return Vec::new() };
    let budget = &mut budget.clone().with_steps(STEPS);
    let (reference, design) = (&reference, &spec.join(netlist, ports));
    let search = Search { spec, ports, reference, design, protocol: spec.protocol() };
    let mut found = Vec::new();
    let other_kind = search.other_reset_kind();
    for variant in search.variants(other_kind.as_ref()) {
        if found.len() == MOST || budget.steps_left() < 1_000_000 {
            break;
        }
        // A trial takes a share, so that one long trial leaves room for the others.
        let equal =
            budget.share(budget.steps_left() / 4, |b| is_equal(reference, &variant.machine, &search.protocol, b));
        if equal {
            found.push(variant.near);
        }
    }
    if found.is_empty() {
        found.extend(search.mistaken(budget));
    }
    if found.is_empty() {
        found.extend(search.shifted(budget));
    }
    if found.is_empty() {
        found.extend(search.cut_short(difference, budget));
    }
    found
}

/// That of a rate, whose output repeats after `is` clock cycles: a counter that goes one too far, or not far enough.
pub(crate) fn off_by_one(spec: &Clocked, netlist: &Netlist, is: u64) -> Option<Near> {
    let ClockedRule::Rate(rule) = &spec.rule else { return None };
    let name = spec.outputs.get(rule.output)?;
    let difference = is.abs_diff(rule.period);
    (difference <= 2).then(|| {
        let way = if is > rule.period { "less far" } else { "further" };
        Near::plain(
            "off_by_one_count",
            off_by_one_sentence(name, is, rule.period, difference == 2),
            format!("Let the counter go {way} by one."),
            netlist.registers.first().map(|r| r.span),
        )
    })
}

fn off_by_one_sentence(output: &str, is: u64, wanted: u64, half: bool) -> String {
    let (more, counts) =
        (if is > wanted { "longer" } else { "shorter" }, if half { "each half" } else { "the period" });
    format!("The period of `{output}` would be right if {counts} were not 1 cycle {more}.")
}

struct Search<'a> {
    spec: &'a Clocked,
    ports: &'a [ExercisePort],
    reference: &'a Machine<'a>,
    design: &'a Machine<'a>,
    protocol: Protocol,
}

impl<'a> Search<'a> {
    fn near(&self, kind: &'static str, message: String, repair: String) -> Near {
        let at = match kind {
            "clock_edge" | "reset_polarity" => self.design.net.registers.first().map(|r| r.span),
            _ => None,
        };
        Near::plain(kind, message, repair, at)
    }

    fn joins(&self) -> Joins<'a> {
        Joins {
            ports: self.ports,
            inputs: &self.spec.inputs,
            outputs: &self.spec.outputs,
            design: self.design,
            fixed: self.protocol.reset.map(|r| r.input),
        }
    }

    fn variants<'v>(&self, other_kind: Option<&'v Netlist>) -> Vec<Variant<'v>>
    where
        'a: 'v,
    {
        let mut list: Vec<Variant<'v>> = self.clock_variants();
        list.extend(other_kind.map(|net| self.reset_kind(net)));
        list.extend(self.joins().variants());
        list
    }

    fn variant(&self, kind: &'static str, machine: Machine<'a>, message: String, repair: String) -> Variant<'a> {
        Variant { machine, near: self.near(kind, message, repair) }
    }

    fn clock_variants(&self) -> Vec<Variant<'a>> {
        let mut list = Vec::new();
        let mut add = |kind, machine, message, repair| list.push(self.variant(kind, machine, message, repair));
        let edge = if self.spec.rising { ("rising", "falling") } else { ("falling", "rising") };
        add(
            "clock_edge",
            self.joins().with_inputs(|s| if let Source::Clock(c) = s { Source::Clock(!c) } else { s }),
            format!("It counts the {} clock edge where the exercise has the {} one.", edge.1, edge.0),
            format!("Use the {} edge of `{}`.", edge.0, self.spec.clock),
        );
        if let (Some(reset), Some(spec)) = (self.protocol.reset, &self.spec.reset) {
            let number = reset.input;
            let level = |high: bool| if high { "1" } else { "0" };
            add(
                "reset_polarity",
                self.joins().with_inputs(|s| match s {
                    Source::Input(k, c) if k == number => Source::Input(k, !c),
                    other => other,
                }),
                format!(
                    "It resets at `{}` = {} where the exercise resets at {}.",
                    spec.port,
                    level(!spec.active_high),
                    level(spec.active_high)
                ),
                format!("Test `{}` for {}.", spec.port, level(spec.active_high)),
            );
        }
        list
    }

    /// The netlist of the design with its asynchronous resets made synchronous, or the other way round.
    fn other_reset_kind(&self) -> Option<Netlist> {
        let reset = self.protocol.reset?;
        let mut net = self.design.net.clone();
        if net.registers.iter().any(|r| !r.controls.is_empty()) {
            for number in 0..net.registers.len() {
                let mut register = net.registers[number].clone();
                for control in register.controls.drain(..).rev() {
                    register.next = net.mux(control.condition, control.value, register.next);
                    register.next_unknown = net.mux(control.condition, control.unknown, register.next_unknown);
                }
                net.registers[number] = register;
            }
            return Some(net);
        }
        let (place, turned) = self.design.inputs.iter().enumerate().find_map(|(i, s)| match s {
            Some(Source::Input(k, c)) if *k == reset.input => Some((i, *c)),
            _ => None,
        })?;
        let input = net.inputs[place].value;
        let active = reset.active_high != turned;
        let roots: Vec<Lit> = net.registers.iter().flat_map(|r| [r.next, r.next_unknown]).collect();
        let levels = with_level(&mut net, &roots, input, active);
        let condition = if active { input } else { !input };
        let mut changed = false;
        for (register, level) in net.registers.iter_mut().zip(levels.chunks_exact(2)) {
            if level[0].is_const() && level[1] == Lit::FALSE {
                register.controls.push(AsyncControl { condition, value: level[0], unknown: Lit::FALSE });
                changed = true;
            }
        }
        changed.then_some(net)
    }

    fn reset_kind<'v>(&self, net: &'v Netlist) -> Variant<'v>
    where
        'a: 'v,
    {
        let port = self.spec.reset.as_ref().map_or("the reset", |r| r.port.as_str());
        let at_once = self.design.net.registers.iter().any(|r| !r.controls.is_empty());
        let (message, repair) = if at_once {
            (
                format!("`{port}` resets it at once, where the exercise resets it at the clock edge."),
                format!("Wait for the clock edge only, and test `{port}` there."),
            )
        } else {
            (
                format!("`{port}` resets it at the clock edge, where the exercise resets it at once."),
                format!("Let the block wait for `{port}` too, and test it before the clock edge."),
            )
        };
        let machine = Machine { net, inputs: self.design.inputs.clone(), outputs: self.design.outputs.clone() };
        let at = self.design.net.registers.first().map(|r| r.span);
        Variant { machine, near: Near::plain("reset_polarity", message, repair, at) }
    }

    /// Does it do what the rule with a usual mistake does?
    fn mistaken(&self, budget: &mut Budget) -> Option<Near> {
        let ClockedRule::Machine { mistaken, .. } = &self.spec.rule else { return None };
        mistaken.iter().find_map(|mistake| {
            let machine = Machine { net: &mistake.net, ..self.reference.clone() };
            let equal = is_equal(&machine, self.design, &self.protocol, budget);
            let [message, repair] = mistake.says.clone();
            equal.then(|| self.near(mistake.kind, message, repair))
        })
    }

    /// Does it go round in fewer or more steps than the exercise? Tried by sending the longer one back to its start where
    /// the shorter one goes.
    fn cut_short(&self, difference: &Difference, budget: &mut Budget) -> Option<Near> {
        const LONGEST: u64 = 5_000;
        let held = difference.steps.iter().rev().nth(1)?.inputs.clone();
        let mut turn = |machine: &Machine<'_>| {
            let mut walker = Walker::new(machine, &self.protocol, 0, budget).ok()?;
            walker.hold(&held, budget).ok()?;
            let first = walker.registers().into_iter().collect::<Option<Vec<bool>>>()?;
            let (length, _) = walker.turn(LONGEST, budget).ok()??;
            Some((length, first))
        };
        let ((wanted, reference_first), (is, design_first)) = (turn(self.reference)?, turn(self.design)?);
        if is == wanted || is.min(wanted) < 2 {
            return None;
        }
        let (long, first) = if is < wanted { (self.reference, reference_first) } else { (self.design, design_first) };
        // Where the longer one stands when the shorter one turns back.
        let mut walker = Walker::new(long, &self.protocol, 0, budget).ok()?;
        walker.hold(&held, budget).ok()?;
        for _ in 1..is.min(wanted) {
            prove::Follower::run(&mut walker, 1, budget).ok()?;
        }
        let last = walker.registers().into_iter().collect::<Option<Vec<bool>>>()?;
        let shortened = sent_back(long.net, &last, &first);
        let machine = Machine { net: &shortened, ..long.clone() };
        let (reference, design) = if is < wanted { (&machine, self.design) } else { (self.reference, &machine) };
        if !is_equal(reference, design, &self.protocol, budget) {
            return None;
        }
        let kind = if is.abs_diff(wanted) == 1 { "off_by_one_count" } else { "range_cut_short" };
        let message = format!("It begins again after {is} steps where the exercise has {wanted}.");
        let repair = if is < wanted {
            format!("Let it go on for {} more before it begins again.", wanted - is)
        } else {
            format!("Let it begin again {} earlier.", is - wanted)
        };
        let at = self.design.net.registers.first().map(|r| r.span);
        Some(Near { at, ..self.near(kind, message, repair) })
    }

    /// Is it the same, one clock cycle late or early?
    fn shifted(&self, budget: &mut Budget) -> Option<Near> {
        // All outputs, or those of one port.
        let outputs: Vec<&str> = self.ports.iter().filter(|p| !p.is_input).map(|p| p.name.as_str()).collect();
        let single = outputs.iter().filter(|_| outputs.len() > 1).map(|name| Some(*name));
        std::iter::once(None).chain(single).find_map(|only| self.shifted_at(only, budget))
    }

    fn shifted_at(&self, only: Option<&str>, budget: &mut Budget) -> Option<Near> {
        let (what, come, they) = match only {
            None => ("Its outputs".to_owned(), "come", "the outputs".to_owned()),
            Some(name) => (format!("`{name}`"), "comes", format!("`{name}`")),
        };
        let rest = if only.is_some() { "; the other outputs are right" } else { "" };
        let late = delayed(self.reference, &self.protocol, true, only)?;
        let machine = Machine { net: &late, ..self.reference.clone() };
        if is_equal(&machine, self.design, &self.protocol, budget) {
            let message = format!("{what} {come} one clock cycle late{rest}.");
            return Some(self.near("one_cycle_late", message, format!("Take one register out of the way to {they}.")));
        }
        let masked = delayed(self.reference, &self.protocol, false, only)?;
        let machine = Machine { net: &masked, ..self.reference.clone() };
        let early = delayed(self.design, &self.protocol, true, only)?;
        let design = Machine { net: &early, ..self.design.clone() };
        if is_equal(&machine, &design, &self.protocol, budget) {
            let message = format!("{what} {come} one clock cycle early{rest}.");
            return Some(self.near("one_cycle_early", message, format!("Put a register behind {they}.")));
        }
        None
    }
}

/// The roots with an input at a fixed level.
fn with_level(net: &mut Netlist, roots: &[Lit], input: Lit, level: bool) -> Vec<Lit> {
    let mut map: HashMap<NodeId, Lit> = HashMap::new();
    let pick = |map: &HashMap<NodeId, Lit>, l: Lit| {
        let base = map.get(&l.node()).copied().unwrap_or(Lit::FALSE);
        if l.is_complement() { !base } else { base }
    };
    for id in net.cone(roots) {
        let new = match net.node(id) {
            Node::False => Lit::FALSE,
            Node::Input(_) if id == input.node() => Lit::from(level != input.is_complement()),
            Node::Input(_) => Lit::new(id, false),
            Node::And(a, b) => {
                let (a, b) = (pick(&map, a), pick(&map, b));
                net.and(a, b)
            }
        };
        map.insert(id, new);
    }
    roots.iter().map(|l| pick(&map, *l)).collect()
}

/// The netlist with one state followed by the first one, whenever it would be left.
fn sent_back(net: &Netlist, last: &[bool], first: &[bool]) -> Netlist {
    let mut net = net.clone();
    let registers: Vec<(Lit, Lit)> = net.registers.iter().map(|r| (r.value, r.next)).collect();
    let bits: Vec<Lit> =
        registers.iter().zip(last).map(|((value, _), level)| if *level { *value } else { !*value }).collect();
    let here = net.all(bits);
    let moves: Vec<Lit> = registers.iter().map(|(value, next)| net.xor(*value, *next)).collect();
    let leaves = net.any(moves);
    let back = net.and(here, leaves);
    for (number, ((_, next), level)) in registers.iter().zip(first).enumerate() {
        let next = net.mux(back, Lit::from(*level), *next);
        net.registers[number].next = next;
    }
    net
}

/// The machine's netlist with its outputs, or those of one port, a clock cycle later (or as they are), unknown in the first cycle after the
/// start and after each reset, so that nothing is asked of it there.
fn delayed(machine: &Machine<'_>, protocol: &Protocol, later: bool, only: Option<&str>) -> Option<Netlist> {
    let mut net = machine.net.clone();
    let find = |wanted: &dyn Fn(Source) -> bool| {
        machine.inputs.iter().position(|s| s.is_some_and(wanted)).map(|i| (i, machine.inputs[i]))
    };
    let (clock, _) = find(&|s| matches!(s, Source::Clock(_)))?;
    let clock = net.inputs[clock].value;
    let reset = protocol.reset.and_then(|r| {
        let (at, _) = find(&|s| matches!(s, Source::Input(k, _) if k == r.input))?;
        let level = net.inputs[at].value;
        Some(if r.active_high { level } else { !level })
    });
    let span = net
        .registers
        .first()
        .map_or_else(|| base::Span::new(<base::FileId as base::Id>::from_index(0), 0, 0), |r| r.span);
    let add = |net: &mut Netlist, next: Lit, next_unknown: Lit, start: Option<Lit>| {
        let (value, unknown) = (net.add_input(), net.add_input());
        let controls = start.map(|condition| AsyncControl { condition, value: Lit::FALSE, unknown: Lit::FALSE });
        net.registers.push(Register {
            name: "delay".into(),
            position: 0,
            value,
            unknown,
            clock,
            rising: protocol.rising,
            next,
            next_unknown,
            controls: controls.into_iter().collect(),
            initial: Some(false),
            span,
        });
        (value, unknown)
    };
    let (started, _) = add(&mut net, Lit::TRUE, Lit::FALSE, reset);
    for k in 0..net.outputs.len() {
        let bit = net.outputs[k].clone();
        if only.is_some_and(|name| !bit.port.eq_ignore_ascii_case(name)) {
            continue;
        }
        let (value, unknown) =
            if later { add(&mut net, bit.value, bit.unknown, None) } else { (bit.value, bit.unknown) };
        // The design's own delay must not hide what it leaves unknown: only the reference's first cycle is free.
        let unknown = net.or(unknown, !started);
        net.outputs[k].value = value;
        net.outputs[k].unknown = unknown;
        net.outputs[k].floating = Lit::FALSE;
    }
    Some(net)
}
