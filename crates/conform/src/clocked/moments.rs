//! Some clock cycles of a design as its netlist has them, to be held against the event simulator.

use crate::replay::Moment;
use base::{Budget, Exhausted, Random};
use design::{Lit, Netlist, OutputBit, Watched};
use elab::ExercisePort;
use exercise::{Clocked, ClockedRule, Exercise};
use prove::{Machine, OutputTap, Running};
use verdict::Evidence;

/// Clock cycles.
const CYCLES: u64 = 48;
/// Cycles at the start in which the reset is active.
const RESET: u64 = 2;

/// Three moments a cycle: new inputs, the edge that counts, the other edge. The reset is active at first and once later.
pub(crate) fn moments(
    exercise: &Exercise,
    spec: &Clocked,
    netlist: &Netlist,
    budget: &mut Budget,
) -> Result<Vec<Moment>, Exhausted> {
    let machine = spec.join(netlist, &exercise.ports);
    let mut running = Running::new(&machine, &spec.protocol());
    // At the first moment of a simulation every level comes from nowhere, which is an edge too: clocks that registers make
    // may tick then, and what has no level is not unknown in every language. Only a reset takes that back.
    let open = netlist.registers.iter().any(|r| r.initial.is_none()) || matches!(spec.rule, ClockedRule::Rate(_));
    if spec.reset.is_none() && (!running.is_plain() || open) {
        return Ok(Vec::new());
    }
    running.set_clock(!spec.rising);
    let mut random = Random::new(23);
    let mut list = Vec::new();
    let mut levels = vec![false; spec.inputs.len()];
    for cycle in 0..CYCLES {
        for (k, name) in spec.inputs.iter().enumerate() {
            let reset = spec.reset.as_ref().filter(|r| r.port == *name);
            levels[k] = match reset {
                Some(reset) => reset.active_high == (cycle < RESET || cycle == CYCLES * 3 / 4),
                // Some cycles with all at rest, then each as it comes.
                None => cycle > CYCLES / 3 && random.word() >> 30 & 1 == 1,
            };
            running.set_input(k, if levels[k] { u64::MAX } else { 0 });
        }
        if cycle == 0 {
            running.power_up();
        }
        for high in [!spec.rising, spec.rising, !spec.rising] {
            running.set_clock(high);
            running.settle(budget)?;
            let level = |name: &String| match name == &spec.clock {
                true => high,
                false => spec.inputs.iter().position(|n| n == name).is_some_and(|k| levels[k]),
            };
            let inputs = exercise.ports.iter().filter(|p| p.is_input).flat_map(|p| p.bit_names().collect::<Vec<_>>());
            let inputs = inputs.map(|n| if level(&n) { '1' } else { '0' }).collect();
            let before = spec.reset.is_some() && cycle < RESET;
            let outputs = (0..spec.outputs.len()).map(|k| match running.output(k).map(|w| w & 1) {
                _ if before => '-',
                [1, 0, 0] => '1',
                [0, 0, 0] => '0',
                _ => '-',
            });
            list.push(Moment { inputs, outputs: outputs.collect() });
        }
    }
    Ok(list)
}

/// Longest way that is simulated again, in clock cycles.
const LONGEST_WAY: usize = 2_000;

/// The levels of all inputs, the clock among them, on the way to a difference, one moment after the other. Nothing where
/// only the end of the way is known.
pub(crate) fn levels_on_the_way(exercise: &Exercise, spec: &Clocked, evidence: &Evidence) -> Vec<String> {
    let trace = &evidence.trace;
    if trace.len() > LONGEST_WAY || trace.first().is_none_or(|first| first.cycle > 1) {
        return Vec::new();
    }
    let mut list = Vec::new();
    let mut cycle = 0;
    for step in trace {
        let levels = |clock: bool| {
            let inputs = exercise.ports.iter().filter(|p| p.is_input).flat_map(|p| p.bit_names().collect::<Vec<_>>());
            let level = |name: &String| match *name == spec.clock {
                true => clock,
                false => step.inputs.get(name).is_some_and(|l| l == "1"),
            };
            inputs.map(|name| if level(&name) { '1' } else { '0' }).collect::<String>()
        };
        list.push(levels(!spec.rising));
        if step.cycle > cycle {
            list.push(levels(spec.rising));
        }
        cycle = step.cycle;
    }
    list
}

/// The first of some assertions that fails in a state that can be reached, with the inputs at that moment. `None` where none
/// does, or that can't be told.
pub(crate) fn first_failure<'w>(
    spec: &Clocked,
    ports: &[ExercisePort],
    (net, list): (&Netlist, &'w [Watched]),
    budget: &mut Budget,
) -> Option<(&'w Watched, String)> {
    let place = |w: &Watched| net.outputs.iter().position(|o| o.port == w.port);
    let tap = |number| OutputTap { number, complement: false };
    let design = Machine { outputs: list.iter().map(|w| place(w).map(tap)).collect(), ..spec.join(net, ports) };
    // Held against what never fails.
    let mut still = Netlist::new();
    for watched in list {
        let (value, unknown, floating) = (Lit::FALSE, Lit::FALSE, Lit::FALSE);
        still.outputs.push(OutputBit { port: watched.port.clone(), position: 0, value, unknown, floating });
    }
    let outputs = (0..list.len()).map(|number| Some(tap(number))).collect();
    let never = Machine { net: &still, inputs: Vec::new(), outputs };
    let found = prove::compare(&never, &design, &spec.protocol(), budget).ok()?;
    let difference = found.difference?;
    let step = difference.steps.last()?;
    let which = difference.outputs.iter().copied().find(|k| step.actual.get(*k) == Some(&'1'))?;
    let levels = spec.inputs.iter().zip(&step.inputs);
    let rest = |name: &String| spec.reset.as_ref().is_none_or(|r| r.port != *name);
    let mut text: Vec<String> =
        levels.filter(|(n, _)| rest(n)).map(|(name, level)| format!("{name}={}", u8::from(*level))).collect();
    text.push(format!("clock cycle {}", step.cycle));
    Some((list.get(which)?, text.join(", ")))
}
