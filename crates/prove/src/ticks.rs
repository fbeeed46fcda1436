//! A short run for a board with a clocked design: inputs tick by tick, few switches flipped between them, after which as
//! many single faults as can be have shown.

use crate::machine::{Machine, Protocol, RESET_CYCLES, Running};
use base::{Budget, Exhausted, Id, Random};
use design::{Lit, Netlist, Node, NodeId};

/// Most clock ticks of the run.
const LONGEST: usize = 48;
/// Runs that are tried; those of one word side by side.
const WORDS: u64 = 4;
/// Most faults.
const MOST_FAULTS: usize = 1_500;

/// A run with what it shows.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Ticks {
    /// Levels of the common inputs for each tick.
    pub inputs: Vec<Vec<bool>>,
    /// What the outputs show behind the edge of each tick: 0, 1, X or Z.
    pub outputs: Vec<Vec<char>>,
    /// Faults that were looked at: every wire of the circuit stuck at 0 and at 1.
    pub faults: usize,
    /// Those that the run shows.
    pub shown: usize,
}

/// The netlist with one of its nodes stuck.
fn stuck(net: &Netlist, at: NodeId, level: bool) -> Netlist {
    let mut made = Netlist::new();
    // What each node is, and what those that read it see.
    let (mut place, mut seen): (Vec<Lit>, Vec<Lit>) = (Vec::new(), Vec::new());
    let pick = |map: &[Lit], l: Lit| if l.is_complement() { !map[l.node().index()] } else { map[l.node().index()] };
    for index in 0..net.len() {
        let id = NodeId::from_index(index);
        let lit = match net.node(id) {
            Node::False => Lit::FALSE,
            Node::Input(_) => made.add_input(),
            Node::And(a, b) => {
                let (a, b) = (pick(&seen, a), pick(&seen, b));
                made.and(a, b)
            }
        };
        place.push(lit);
        seen.push(if id == at { Lit::from(level) } else { lit });
    }
    let (stays, of) = (|l: Lit| pick(&place, l), |l: Lit| pick(&seen, l));
    made.inputs.clone_from(&net.inputs);
    made.inputs.iter_mut().for_each(|i| i.value = stays(i.value));
    made.outputs.clone_from(&net.outputs);
    for o in &mut made.outputs {
        (o.value, o.unknown, o.floating) = (of(o.value), of(o.unknown), of(o.floating));
    }
    made.registers.clone_from(&net.registers);
    for r in &mut made.registers {
        (r.value, r.unknown) = (stays(r.value), stays(r.unknown));
        (r.clock, r.next, r.next_unknown) = (of(r.clock), of(r.next), of(r.next_unknown));
        for control in &mut r.controls {
            control.condition = of(control.condition);
            (control.value, control.unknown) = (of(control.value), of(control.unknown));
        }
    }
    made.latches = net.latches;
    made
}

/// What goes in, for a word of 64 runs: a level changes now and then, and one at a time.
fn stimulus(protocol: &Protocol, word: u64) -> Vec<Vec<u64>> {
    let inputs = protocol.inputs as usize;
    let mut random = Random::new(77 + word);
    let free: Vec<usize> = (0..inputs).filter(|k| protocol.reset.is_none_or(|r| r.input as usize != *k)).collect();
    let mut levels = vec![0u64; inputs];
    for k in &free {
        levels[*k] = random.word();
    }
    let mut run = Vec::with_capacity(LONGEST);
    for tick in 0..LONGEST {
        for lane in 0..64 {
            let roll = random.word() >> 33;
            if tick > 0 && !free.is_empty() && roll % 5 < 2 {
                levels[free[(roll / 5) as usize % free.len()]] ^= 1 << lane;
            }
        }
        if let Some(reset) = protocol.reset {
            // Once in a while the reset comes back for a tick.
            let active = if tick > 2 { random.word() & random.word() & random.word() & random.word() } else { 0 };
            levels[reset.input as usize] = if reset.active_high { active } else { !active };
        }
        run.push(levels.clone());
    }
    run
}

/// Value and unknown rail of every output at every moment of a run.
fn outputs(
    machine: &Machine<'_>,
    protocol: &Protocol,
    run: &[Vec<u64>],
    budget: &mut Budget,
) -> Result<Vec<Vec<[u64; 3]>>, Exhausted> {
    let mut running = Running::new(machine, protocol);
    running.set_clock(!protocol.rising);
    running.power_up();
    let tick = |running: &mut Running<'_>, budget: &mut Budget| -> Result<(), Exhausted> {
        for high in [protocol.rising, !protocol.rising] {
            running.set_clock(high);
            running.settle(budget)?;
        }
        Ok(())
    };
    if let Some(reset) = protocol.reset {
        for k in 0..protocol.inputs {
            // Other switches are down meanwhile.
            running.set_input(k as usize, if k == reset.input && reset.active_high { u64::MAX } else { 0 });
        }
        running.settle(budget)?;
        for _ in 0..RESET_CYCLES {
            tick(&mut running, budget)?;
        }
    }
    let mut seen = Vec::with_capacity(run.len());
    for levels in run {
        for (k, word) in levels.iter().enumerate() {
            running.set_input(k, *word);
        }
        running.settle(budget)?;
        tick(&mut running, budget)?;
        seen.push((0..machine.outputs.len()).map(|k| running.output(k)).collect());
    }
    Ok(seen)
}

/// The run of those tried that shows most faults, as short as it may be; `None` for a design without anything to show.
///
/// # Errors
/// When the budget runs out; a step is a node on 64 runs.
pub fn ticks_to_try(
    machine: &Machine<'_>,
    protocol: &Protocol,
    budget: &mut Budget,
) -> Result<Option<Ticks>, Exhausted> {
    let net = machine.net;
    let mut roots: Vec<Lit> = net.outputs.iter().map(|o| o.value).collect();
    for r in &net.registers {
        roots.extend([r.value, r.next, r.clock]);
        roots.extend(r.controls.iter().flat_map(|c| [c.condition, c.value]));
    }
    let unknown: Vec<NodeId> = net.registers.iter().map(|r| r.unknown.node()).collect();
    let sites: Vec<NodeId> = net
        .cone(&roots)
        .into_iter()
        .filter(|id| !matches!(net.node(*id), Node::False) && !unknown.contains(id))
        .collect();
    if sites.is_empty() || 2 * sites.len() > MOST_FAULTS {
        return Ok(None);
    }
    let faults: Vec<(NodeId, bool)> = sites.iter().flat_map(|id| [(*id, false), (*id, true)]).collect();
    let mut best: Option<(usize, usize, u64, usize)> = None;
    for word in 0..WORDS {
        let run = stimulus(protocol, word);
        let good = outputs(machine, protocol, &run, budget)?;
        // For each run the tick at which each fault shows.
        let mut first: Vec<Vec<usize>> = vec![Vec::new(); 64];
        for (at, level) in &faults {
            let broken = stuck(net, *at, *level);
            let faulty = Machine { net: &broken, ..machine.clone() };
            let Ok(seen) = outputs(&faulty, protocol, &run, budget) else {
                // A fault may make it swing for ever; what it shows then isn't known.
                if budget.steps_left() == 0 {
                    return Err(Exhausted(base::Resource::Steps));
                }
                continue;
            };
            let mut open = u64::MAX;
            for (tick, (right, wrong)) in good.iter().zip(&seen).enumerate() {
                let differ = right.iter().zip(wrong).fold(0, |d, ([v, u, _], [w, x, _])| d | ((v ^ w) & !u & !x));
                let mut lanes = differ & open;
                open &= !differ;
                while lanes != 0 {
                    first[lanes.trailing_zeros() as usize].push(tick);
                    lanes &= lanes - 1;
                }
            }
        }
        for (lane, ticks) in first.iter().enumerate() {
            let shown = ticks.len();
            let length = ticks.iter().max().map_or(0, |t| t + 1);
            let better = best.is_none_or(|(most, least, ..)| shown > most || (shown == most && length < least));
            if shown > 0 && better {
                best = Some((shown, length, word, lane));
            }
        }
    }
    let Some((shown, length, word, lane)) = best else { return Ok(None) };
    let run = stimulus(protocol, word);
    let good = outputs(machine, protocol, &run, budget)?;
    let bit = |w: &u64| w >> lane & 1 == 1;
    let inputs = run.iter().take(length).map(|levels| levels.iter().map(bit).collect()).collect();
    let letter = |[value, unknown, floating]: &[u64; 3]| match (bit(floating), bit(unknown), bit(value)) {
        (true, ..) => 'Z',
        (_, true, _) => 'X',
        (.., true) => '1',
        _ => '0',
    };
    let outputs = good.iter().take(length).map(|o| o.iter().map(letter).collect()).collect();
    Ok(Some(Ticks { inputs, outputs, faults: faults.len(), shown }))
}
