//! Equality for ever by induction: registers that behaved alike are taken to be alike, and it is proved that they stay so
//! from one clock cycle to the next; what can't be proved is given up, until the rest holds by itself (van Eijk 2000).
//! Then the outputs have to be equal in every state that keeps to it.

use crate::alone::{both, frames};
use crate::frame::Frame;
use crate::pair::{Key, Pair};
use crate::sat::{Answer, Sweep};
use crate::stimulus::drive;
use base::{Budget, Exhausted, Random};
use design::{Lit, Netlist};
use rustc_hash::FxHashMap;

/// Cycles on 64 lanes from which the first guess is made.
const WARM_UP: u64 = 192;
/// Learnt clauses that one question may take.
const EFFORT: u64 = 4_000;
/// The same for an output.
const LAST_EFFORT: u64 = 60_000;
/// Most rounds.
const ROUNDS: usize = 400;
/// Most registers of both machines.
const MAX_REGISTERS: usize = 2_000;

/// Are the two machines equal in all states that the roots lead to? False when this way of proving doesn't tell.
pub(crate) fn proves(pair: &mut Pair<'_>, roots: &[Key], budget: &mut Budget) -> Result<bool, Exhausted> {
    let machines = pair.machines.clone();
    let registers: usize = machines.iter().map(|m| m.net.registers.len()).sum();
    if roots.is_empty() || roots.len() > 64 || registers > MAX_REGISTERS {
        return Ok(false);
    }
    let Some(frames) = frames(pair, &machines) else { return Ok(false) };
    let mut guess = Guess::from_runs(pair, roots, budget)?;
    for _ in 0..ROUNDS {
        let mut turn = Turn::new(&frames, pair.protocol.inputs, &guess);
        let claims = guess.claims(&turn.next);
        let questions: Vec<Lit> = claims.iter().map(|(_, a, b)| turn.net.xor(*a, *b)).collect();
        let all: Vec<Lit> = questions.iter().chain(&turn.wrong).chain(&turn.next).copied().collect();
        let mut sweep = Sweep::new(&turn.net, turn.inputs, &all, budget)?;
        if guess.refine(&turn.next.iter().map(|l| sweep.seen(*l)).collect::<Vec<_>>()) {
            continue;
        }
        sweep.reduce(budget)?;
        let mut changed = false;
        for ((bit, ..), question) in claims.iter().zip(&questions) {
            let question = sweep.lit(*question);
            match sweep.solve(&[question], EFFORT, budget)? {
                Answer::Never => {}
                Answer::Unsure => {
                    guess.give_up(*bit);
                    changed = true;
                }
                Answer::Model(pattern) => {
                    guess.refine(&around(&turn, &pattern, budget)?);
                    changed = true;
                    break;
                }
            }
        }
        if changed {
            continue;
        }
        for wrong in &turn.wrong {
            let wrong = sweep.lit(*wrong);
            if !matches!(sweep.solve(&[wrong], LAST_EFFORT, budget)?, Answer::Never) {
                return Ok(false);
            }
        }
        return Ok(true);
    }
    Ok(false)
}

/// What the next state is for a pattern of the graph's inputs (lane 0) and for some that differ from it in one.
fn around(turn: &Turn, pattern: &[bool], budget: &mut Budget) -> Result<Vec<Vec<u64>>, Exhausted> {
    let mut random = Random::new(pattern.len() as u64);
    let mut words: Vec<u64> = pattern.iter().map(|l| if *l { u64::MAX } else { 0 }).collect();
    for lane in 1..64 {
        let at = (random.word() >> 33) as usize % words.len().max(1);
        words[at] ^= 1 << lane;
    }
    let mut seen = Vec::new();
    let level = |k: u32, _: u64| words[k as usize];
    turn.net.simulate(&turn.next, 1, budget, level, |_, values| seen = values.iter().map(|v| vec![*v]).collect())?;
    Ok(seen)
}

/// Which bits of the state (the reference's first) are taken to be alike.
struct Guess {
    /// Bits of one group are equal up to their phase; those of group 0 are constant.
    group: Vec<usize>,
    /// The bit is the complement of its group.
    turned: Vec<bool>,
    groups: usize,
}

impl Guess {
    /// Bits are alike that were so in every cycle of some runs from the roots.
    fn from_runs(pair: &mut Pair<'_>, roots: &[Key], budget: &mut Budget) -> Result<Self, Exhausted> {
        let list: Vec<&Key> = roots.iter().cycle().take(64).collect();
        pair.set_keys(&list);
        let mut seen: Vec<Vec<u64>> = pair.words().into_iter().map(|w| vec![w]).collect();
        for cycle in 0..WARM_UP {
            drive(pair, cycle);
            pair.cycle(budget, |_, _, _| {})?;
            for (bit, word) in seen.iter_mut().zip(pair.words()) {
                bit.push(word);
            }
        }
        // What is 1 all the time is a constant, too.
        let turned = seen.iter().map(|words| words[0] & 1 == 1).collect();
        let mut guess = Self { group: vec![0; seen.len()], turned, groups: 1 };
        guess.refine(&seen);
        Ok(guess)
    }

    /// Splits groups by what was seen of their bits; true when one was.
    fn refine(&mut self, seen: &[Vec<u64>]) -> bool {
        let mut parts: FxHashMap<(usize, Vec<u64>), usize> = FxHashMap::default();
        let mut first_part = vec![true; self.groups];
        let mut changed = false;
        for (bit, words) in seen.iter().enumerate() {
            let group = self.group[bit];
            let turn = |by: bool| words.iter().map(|w| if by { !w } else { *w }).collect::<Vec<u64>>();
            let mut here = turn(self.turned[bit]);
            if group == 0 {
                if here.iter().all(|w| *w == 0) {
                    continue;
                }
                // Those that leave the constants may be each other's complements.
                if here[0] & 1 == 1 {
                    self.turned[bit] = !self.turned[bit];
                    here = turn(self.turned[bit]);
                }
            }
            let groups = &mut self.groups;
            let part = *parts.entry((group, here)).or_insert_with(|| {
                // The first part of a group keeps its number.
                if group != 0 && std::mem::replace(&mut first_part[group], false) {
                    return group;
                }
                changed = true;
                *groups += 1;
                *groups - 1
            });
            self.group[bit] = part;
        }
        changed
    }

    /// Takes a bit to be like no other.
    fn give_up(&mut self, bit: usize) {
        self.group[bit] = self.groups;
        self.groups += 1;
    }

    /// What has to hold of the next state: a bit with the two literals that should be equal.
    fn claims(&self, next: &[Lit]) -> Vec<(usize, Lit, Lit)> {
        let mut first: Vec<Option<Lit>> = vec![None; self.groups];
        first[0] = Some(Lit::FALSE);
        let mut list = Vec::new();
        for (bit, lit) in next.iter().enumerate() {
            let lit = if self.turned[bit] { !*lit } else { *lit };
            match first[self.group[bit]] {
                Some(other) => list.push((bit, other, lit)),
                None => first[self.group[bit]] = Some(lit),
            }
        }
        list
    }
}

/// The next state and the outputs as functions of the inputs and of the groups.
struct Turn {
    net: Netlist,
    /// Inputs of the graph.
    inputs: usize,
    next: Vec<Lit>,
    /// For each output: differs, or is unknown where a level is wanted.
    wrong: Vec<Lit>,
}

impl Turn {
    fn new(frames: &[Frame<'_, '_>; 2], inputs: u32, guess: &Guess) -> Self {
        let mut net = Netlist::new();
        let common: Vec<Lit> = (0..inputs).map(|_| net.add_input()).collect();
        // Groups without bits, emptied by a split, cost nothing.
        let free: Vec<Lit> = (1..guess.groups).map(|_| net.add_input()).collect();
        let lit = |bit: usize| {
            let base = if guess.group[bit] == 0 { Lit::FALSE } else { free[guess.group[bit] - 1] };
            if guess.turned[bit] { !base } else { base }
        };
        let state: Vec<Lit> = (0..guess.group.len()).map(lit).collect();
        let (next, wrong) = both(&mut net, frames, &common, &state);
        Self { inputs: common.len() + free.len(), net, next, wrong }
    }
}

/// Cycles that are looked at from the start on, whatever the inputs.
const FRAMES: usize = 8;

/// The inputs of the fewest cycles that lead from a root to a wrong output, when those are very few.
pub(crate) fn few_cycles(
    pair: &Pair<'_>,
    root: &Key,
    budget: &mut Budget,
) -> Result<Option<Vec<Vec<bool>>>, Exhausted> {
    let registers: usize = pair.machines.iter().map(|m| m.net.registers.len()).sum();
    let Some(written) = frames(pair, &pair.machines).filter(|_| registers <= MAX_REGISTERS) else { return Ok(None) };
    let bits = written[0].bits() + written[1].bits();
    let width = pair.protocol.inputs as usize;
    for frames in 1..=FRAMES {
        let mut net = Netlist::new();
        let inputs: Vec<Lit> = (0..frames * width).map(|_| net.add_input()).collect();
        let mut state: Vec<Lit> = (0..bits).map(|b| Lit::from(root[b / 64] >> (b % 64) & 1 == 1)).collect();
        let mut wrong = Vec::new();
        for frame in 0..frames {
            let common = &inputs[frame * width..(frame + 1) * width];
            (state, wrong) = both(&mut net, &written, common, &state);
        }
        let any = net.any(wrong);
        let mut sweep = Sweep::new(&net, inputs.len(), &[any], budget)?;
        let found = match sweep.seen_true(&[any]) {
            Some(pattern) => Answer::Model(pattern),
            None => {
                sweep.reduce(budget)?;
                let root = sweep.lit(any);
                sweep.solve(&[root], LAST_EFFORT, budget)?
            }
        };
        match found {
            Answer::Never => {}
            Answer::Unsure => return Ok(None),
            Answer::Model(pattern) => {
                return Ok(Some(pattern.chunks_exact(width.max(1)).map(<[bool]>::to_vec).collect()));
            }
        }
    }
    Ok(None)
}
