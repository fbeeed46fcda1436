//! Two machines into which nothing but a reset goes: a path that is followed in leaps until it comes back, or until an
//! output is wrong; and what the reset would do at each of its moments.

use crate::autonomous::End;
use crate::closed::{Autonomous, Program, renumbered};
use crate::frame::{Cycle, Frame, wrong_at};
use crate::machine::{Machine, Protocol};
use crate::pair::{Key, Pair};
use crate::sat::{Answer, Sweep};
use crate::seen::Unseen;
use base::{Budget, Exhausted, Random};
use design::{Lit, Netlist};
use std::collections::{BTreeMap, BTreeSet};

/// Learnt clauses that the question about the reset may take.
const EFFORT: u64 = 20_000;

/// What is known of a path.
pub(crate) enum Alone {
    /// No output is ever wrong, whenever the reset comes. The cycles after which the path has come back.
    Proved(u64),
    /// The same for the path alone; what a later reset does was not proved.
    Runs(u64),
    /// An output is wrong after so many cycles; the state before it, and how many cycles before.
    Wrong {
        /// Cycles before the wrong one.
        cycle: u64,
        /// A state on the way, and the cycles that led to it.
        from: (Vec<bool>, u64),
    },
    /// The budget ended, or this kind of machine is not followed so.
    Unsure,
}

/// Words of what both machines' registers hold.
fn words(machines: &[Machine<'_>; 2]) -> Vec<(u32, u32)> {
    let mut next = 0;
    let list: Vec<(u32, u32)> = machines.iter().flat_map(|m| machine_words(m, &mut next)).collect();
    renumbered(list.into_iter())
}

/// Words of a machine's registers: those of one name are one, and their marks of unknown levels stand alone.
pub(crate) fn machine_words(machine: &Machine<'_>, next: &mut u32) -> Vec<(u32, u32)> {
    let mut names: BTreeMap<&str, u32> = BTreeMap::new();
    let registers = &machine.net.registers;
    let mut fresh = || {
        *next += 1;
        *next - 1
    };
    let mut list = Vec::new();
    let mut taken = BTreeSet::new();
    for register in registers {
        let word = *names.entry(&register.name).or_insert_with(&mut fresh);
        // A name that stands for several things stands for none.
        list.push(match taken.insert((word, register.position)) {
            true => (word, register.position),
            false => (fresh(), 0),
        });
        list.push((fresh(), 0));
    }
    list
}

/// Levels of the common inputs with the reset active or at rest, other inputs at 0.
pub(crate) fn at_rest(protocol: &Protocol, active: bool) -> Vec<Lit> {
    (0..protocol.inputs)
        .map(|k| Lit::from(protocol.reset.is_some_and(|r| r.input == k && r.active_high == active)))
        .collect()
}

/// Both machines' cycles from a state of both.
pub(crate) fn both(
    net: &mut Netlist,
    frames: &[Frame<'_, '_>; 2],
    common: &[Lit],
    state: &[Lit],
) -> (Vec<Lit>, Vec<Lit>) {
    let split = frames[0].bits();
    let first: Cycle = frames[0].cycle(net, common, &state[..split]);
    let second = frames[1].cycle(net, common, &state[split..]);
    let mut wrong = wrong_at(net, &first, &second);
    wrong.extend([first.restless, second.restless]);
    (first.next.into_iter().chain(second.next).collect(), wrong)
}

/// Frames of a pair's machines; `None` where its states are not of this kind.
pub(crate) fn frames<'m, 'n>(pair: &Pair<'n>, machines: &'m [Machine<'n>; 2]) -> Option<[Frame<'m, 'n>; 2]> {
    let plain = pair.is_plain();
    let list = [
        Frame::new(&machines[0], &pair.protocol, plain, pair.reference.main()),
        Frame::new(&machines[1], &pair.protocol, plain, pair.design.main()),
    ];
    let bits = [pair.reference.state().len(), pair.design.state().len()];
    (list[0].bits() == bits[0] && list[1].bits() == bits[1]).then_some(list)
}

fn narrow(time: u128) -> u64 {
    u64::try_from(time).unwrap_or(u64::MAX)
}

/// Both states at rest, from what the registers hold.
fn both_at_rest(net: &mut Netlist, frames: &[Frame<'_, '_>; 2], common: &[Lit], registers: &[Lit]) -> Vec<Lit> {
    let (first, second) = registers.split_at(frames[0].register_bits());
    let mut state = frames[0].at_rest(net, common, first);
    state.extend(frames[1].at_rest(net, common, second));
    state
}

/// The part of a whole state of both that registers hold.
fn registers_of<T: Copy>(frames: &[Frame<'_, '_>; 2], state: &[T]) -> Vec<T> {
    let split = frames[0].bits();
    let mut list = state[..frames[0].register_bits()].to_vec();
    list.extend(&state[split..split + frames[1].register_bits()]);
    list
}

/// Follows the path from a root; `kept` cycles before a wrong one are of interest.
///
/// # Errors
/// When it was cancelled.
pub(crate) fn follow(pair: &Pair<'_>, root: &Key, kept: u64, budget: &mut Budget) -> Result<Alone, Exhausted> {
    let machines = pair.machines.clone();
    let Some(frames) = frames(pair, &machines) else { return Ok(Alone::Unsure) };
    let bits = frames[0].bits() + frames[1].bits();
    let start: Vec<bool> = (0..bits).map(|b| root[b / 64] >> (b % 64) & 1 == 1).collect();
    let rest = at_rest(&pair.protocol, false);
    let mut net = Netlist::new();
    let registers: Vec<Lit> = registers_of(&frames, &start).iter().map(|_| net.add_input()).collect();
    let state = both_at_rest(&mut net, &frames, &rest, &registers);
    let mut whole = Program::new(&net, registers.len(), &state);
    let mut all = |part: &[bool]| {
        whole.run(part);
        (0..bits).map(|k| whole.output(k)).collect::<Vec<bool>>()
    };
    let first = registers_of(&frames, &start);
    if all(&first) != start {
        return Ok(Alone::Unsure);
    }
    let (next, wrong) = both(&mut net, &frames, &rest, &state);
    let (next, bad) = (registers_of(&frames, &next), net.any(wrong));
    let mut machine = Autonomous { net, next, bad, words: words(&machines) };
    let cycles = match machine.search(&first, budget)? {
        End::Never(cycles) => narrow(cycles),
        End::Bad(cycle, _) => {
            let cycle = narrow(cycle);
            let before = cycle.saturating_sub(kept);
            machine.bad = Lit::FALSE;
            let from = match machine.run(&first, u128::from(before), budget)? {
                End::Limit(state) => (all(&state), before),
                _ => (start, 0),
            };
            return Ok(Alone::Wrong { cycle, from });
        }
        _ => return Ok(Alone::Unsure),
    };
    if pair.protocol.reset.is_none() || resets_to(pair, &frames, &first, budget)? {
        return Ok(Alone::Proved(cycles));
    }
    // Not from every state there could be: from every one that is reached?
    let reset = not_reset(&mut machine.net, pair, &frames, &registers, &first);
    machine.bad = machine.net.or(machine.bad, reset);
    Ok(match machine.search(&first, budget)? {
        End::Never(cycles) => Alone::Proved(narrow(cycles)),
        _ => Alone::Runs(cycles),
    })
}

/// What long stays of the inputs showed.
pub(crate) enum Held {
    /// Nothing wrong; what is still unseen.
    Right {
        /// Cycles that were passed.
        cycles: u64,
        /// What never left one level.
        unseen: Unseen,
    },
    /// Wrong in a cycle with these inputs, which stayed for some cycles before.
    Wrong {
        /// Levels of the common inputs.
        levels: Vec<bool>,
        /// A state before the wrong one, at cycle `begin`.
        state: Vec<bool>,
        /// Cycles from the root to `state`.
        begin: u64,
        /// Cycles from the root to the wrong one.
        cycle: u64,
    },
}

/// Long stays.
const STAYS: u64 = 160;
/// Longest stay, as a power of two.
const LONGEST: u64 = 36;
/// Input combinations that are tried to stay.
const MOST_COMBINATIONS: u64 = 16;

/// Lets inputs stay for long stretches, from a root on. `None` where these machines can't be run so.
///
/// # Errors
/// When it was cancelled.
pub(crate) fn hold(
    pair: &Pair<'_>,
    root: &Key,
    mut unseen: Unseen,
    kept: u64,
    budget: &mut Budget,
) -> Result<Option<Held>, Exhausted> {
    let machines = pair.machines.clone();
    let Some(frames) = frames(pair, &machines).filter(|_| pair.is_plain()) else { return Ok(None) };
    let bits = frames[0].bits() + frames[1].bits();
    let mut state: Vec<bool> = (0..bits).map(|b| root[b / 64] >> (b % 64) & 1 == 1).collect();
    let free: Vec<u32> =
        (0..pair.protocol.inputs).filter(|k| pair.protocol.reset.is_none_or(|r| r.input != *k)).collect();
    let mut random = Random::new(7);
    let combinations = if free.len() < 5 { 1 << free.len() } else { MOST_COMBINATIONS };
    let mut made: BTreeMap<u64, (Autonomous, Program)> = BTreeMap::new();
    let mut passed = 0u64;
    for stay in 0..STAYS {
        let number = random.word() >> 20 & (combinations - 1);
        let mut common = at_rest(&pair.protocol, false);
        let mut own = Random::new(number + 1);
        let spread = own.word() >> 7;
        for (i, k) in free.iter().enumerate() {
            let level =
                if combinations == MOST_COMBINATIONS && free.len() >= 5 { spread >> (i % 56) } else { number >> i };
            common[*k as usize] = Lit::from(level & 1 == 1);
        }
        let (machine, shown) = made.entry(number).or_insert_with(|| {
            let mut net = Netlist::new();
            let inputs: Vec<Lit> = (0..bits).map(|_| net.add_input()).collect();
            let (next, wrong) = both(&mut net, &frames, &common, &inputs);
            let bad = net.any(wrong);
            let split = frames[0].bits();
            let outputs = frames[0].cycle(&mut net, &common, &inputs[..split]).seen.swap_remove(0);
            let outputs: Vec<Lit> = outputs.iter().map(|[value, _]| *value).collect();
            let shown = Program::new(&net, bits, &outputs);
            (Autonomous { net, next, bad, words: words(&machines) }, shown)
        });
        // Ever longer stays are tried ever later.
        let mut power = random.word() >> 13 & 63;
        power = power.min(LONGEST).min(2 + stay / 2);
        loop {
            match machine.run(&state, 1 << power, budget)? {
                End::Limit(next) => {
                    passed = passed.saturating_add(1 << power);
                    shown.run(&next);
                    let outputs: Vec<bool> = (0..pair.outputs()).map(|k| shown.output(k)).collect();
                    unseen.look(&next, &outputs);
                    state = next;
                    break;
                }
                // It came back: a shorter stay says where it is.
                End::Never(_) if power > 0 => power /= 2,
                End::Never(_) => break,
                End::Unsure(_) => {
                    return Ok((passed > 0).then_some(Held::Right { cycles: passed, unseen }));
                }
                End::Bad(cycle, _) => {
                    let cycle = narrow(cycle);
                    let before = cycle.saturating_sub(kept);
                    let bad = std::mem::replace(&mut machine.bad, Lit::FALSE);
                    let from = machine.run(&state, u128::from(before), budget)?;
                    machine.bad = bad;
                    let (state, begin) = match from {
                        End::Limit(state) => (state, before),
                        _ => return Ok(None),
                    };
                    let levels = common.iter().map(|l| *l == Lit::TRUE).collect();
                    let (begin, cycle) = (passed + begin, passed + cycle);
                    return Ok(Some(Held::Wrong { levels, state, begin, cycle }));
                }
            }
        }
    }
    Ok(Some(Held::Right { cycles: passed, unseen }))
}

/// 1 where a cycle with the reset shows something wrong that is right without it, or does not lead to the start.
fn not_reset(
    net: &mut Netlist,
    pair: &Pair<'_>,
    frames: &[Frame<'_, '_>; 2],
    registers: &[Lit],
    start: &[bool],
) -> Lit {
    let rest = at_rest(&pair.protocol, false);
    let state = both_at_rest(net, frames, &rest, registers);
    let first: Vec<Lit> = start.iter().map(|b| Lit::from(*b)).collect();
    let first = both_at_rest(net, frames, &rest, &first);
    let (after, wrong) = both(net, frames, &at_rest(&pair.protocol, true), &state);
    let (_, without) = both(net, frames, &rest, &state);
    let (wrong, without) = (net.any(wrong), net.any(without));
    let mut other = differ(net, &after, &first);
    if !pair.is_plain() {
        // Letting go of the reset may itself move something: what counts is the cycle that follows.
        let (second, wrong) = both(net, frames, &rest, &after);
        let (wanted, _) = both(net, frames, &rest, &first);
        let later = differ(net, &second, &wanted);
        let later = net.any(wrong.into_iter().chain([later]));
        other = net.and(other, later);
    }
    let fresh = net.and(wrong, !without);
    net.or(fresh, other)
}

fn differ(net: &mut Netlist, a: &[Lit], b: &[Lit]) -> Lit {
    let list: Vec<Lit> = a.iter().zip(b).map(|(a, b)| net.xor(*a, *b)).collect();
    net.any(list)
}

/// Does the reset lead to the start from every state there could be?
fn resets_to(
    pair: &Pair<'_>,
    frames: &[Frame<'_, '_>; 2],
    start: &[bool],
    budget: &mut Budget,
) -> Result<bool, Exhausted> {
    let mut net = Netlist::new();
    let registers: Vec<Lit> = start.iter().map(|_| net.add_input()).collect();
    let other = not_reset(&mut net, pair, frames, &registers, start);
    let mut sweep = Sweep::new(&net, start.len(), &[other], budget)?;
    if sweep.seen_true(&[other]).is_some() {
        return Ok(false);
    }
    sweep.reduce(budget)?;
    let goal = sweep.lit(other);
    Ok(matches!(sweep.solve(&[goal], EFFORT, budget)?, Answer::Never))
}
