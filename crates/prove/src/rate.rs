//! How often an output repeats.

use crate::alone;
use crate::autonomous::End;
use crate::closed::{Autonomous, Program, import, renumbered};
use crate::frame::Frame;
use crate::machine::{Machine, Protocol, RESET_CYCLES, Running};
use crate::pair::Pair;
use base::{Budget, Exhausted, Resource};
use design::{Lit, Netlist};

/// A clocked design whose inputs are at rest and of which one output is followed.
pub trait Follower {
    /// Runs until the output has changed, or for `limit` clock cycles; says how many were run.
    ///
    /// # Errors
    /// When the budget runs out or the design never comes to rest.
    fn run(&mut self, limit: u64, budget: &mut Budget) -> Result<u64, Exhausted>;

    /// The output now; `None` for unknown.
    fn level(&self) -> Option<bool>;

    /// What the design remembers, comparable with other moments of the same run.
    fn state(&self) -> Vec<u64>;
}

/// What was measured of an output.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Measured {
    /// Clock edges before each of its changes, with the level it takes.
    pub edges: Vec<(u64, bool)>,
    /// Its level at the start; `None` for unknown.
    pub first: Option<bool>,
    /// Cycles that were run.
    pub cycles: u64,
    /// The first cycle at which it was unknown.
    pub unknown_at: Option<u64>,
    /// True when the design came back to a state it had: what was measured holds for ever.
    pub repeats: bool,
}

impl Measured {
    /// The work ended before the state came back or all `cycles` were run.
    pub fn is_cut_short(&self, cycles: u64) -> bool {
        !self.repeats && self.unknown_at.is_none() && self.cycles < cycles && self.edges.len() < MAX_EDGES
    }

    /// Cycles from each rising edge to the next, and how many of them the output was high, where that is always the same.
    pub fn steady(&self) -> Option<(u64, u64)> {
        let rises: Vec<usize> = (0..self.edges.len()).filter(|i| self.edges[*i].1).collect();
        let mut found = rises.windows(2).map(|pair| {
            let [from, fall, to] = [pair[0], pair[0] + 1, pair[1]].map(|i| self.edges[i].0);
            (to - from, fall - from)
        });
        let first = found.next()?;
        found.all(|other| other == first).then_some(first)
    }
}

/// Most changes that are noted.
const MAX_EDGES: usize = 4_096;

/// Follows an output over `periods` rising edges and on until the state comes back, or for `cycles` at most.
///
/// # Errors
/// When the budget runs out before the first cycle, or the design never comes to rest.
pub fn measure(
    follower: &mut dyn Follower,
    periods: usize,
    cycles: u64,
    budget: &mut Budget,
) -> Result<Measured, Exhausted> {
    let mut found =
        Measured { edges: Vec::new(), first: follower.level(), cycles: 0, unknown_at: None, repeats: false };
    let (mut rises, mut held, mut until) = (0usize, None::<Vec<u64>>, 1usize);
    if found.first.is_none() {
        found.unknown_at = Some(0);
        return Ok(found);
    }
    while found.cycles < cycles && found.edges.len() < MAX_EDGES {
        let ran = match follower.run(cycles - found.cycles, budget) {
            Ok(ran) => ran,
            Err(exhausted) if found.cycles == 0 => return Err(exhausted),
            Err(_) => break,
        };
        found.cycles += ran;
        let Some(level) = follower.level() else {
            found.unknown_at = Some(found.cycles);
            break;
        };
        let before = found.edges.last().map_or(found.first, |(_, l)| Some(*l));
        if before == Some(level) {
            // The limit came first.
            break;
        }
        found.edges.push((found.cycles, level));
        if level {
            rises += 1;
            let state = follower.state();
            found.repeats |= held.as_ref() == Some(&state);
            // Looking back at ever later rising edges (Brent 1980).
            if held.is_none() || rises == until {
                held = Some(state);
                until *= 2;
            }
            if found.repeats && rises > periods {
                break;
            }
        }
    }
    Ok(found)
}

/// Follows an output of a netlist.
pub struct Walker<'n> {
    machine: Running<'n>,
    protocol: Protocol,
    output: usize,
    cost: u64,
}

impl<'n> Walker<'n> {
    /// Starts a design: power-up, its reset, then all other inputs at 0.
    ///
    /// # Errors
    /// When the budget runs out or the design never comes to rest.
    pub fn new(
        design: &Machine<'n>,
        protocol: &Protocol,
        output: usize,
        budget: &mut Budget,
    ) -> Result<Self, Exhausted> {
        let mut pair = Pair::new(design, design, *protocol);
        let roots = pair.start(budget)?;
        let cost = pair.cost();
        pair.set_keys(&[&roots[0]]);
        let mut walker = Self { machine: pair.design, protocol: *protocol, output, cost };
        walker.rest();
        walker.settle(budget)?;
        Ok(walker)
    }

    fn rest(&mut self) {
        for k in 0..self.protocol.inputs {
            let high = self.protocol.reset.is_some_and(|r| r.input == k && !r.active_high);
            self.machine.set_input(k as usize, if high { u64::MAX } else { 0 });
        }
    }

    fn settle(&mut self, budget: &mut Budget) -> Result<(), Exhausted> {
        if self.machine.is_plain() {
            self.machine.lanes.settle_plain();
            return Ok(());
        }
        self.machine.settle(budget)
    }

    fn cycle(&mut self, budget: &mut Budget) -> Result<(), Exhausted> {
        budget.spend(self.cost)?;
        if self.machine.is_plain() {
            self.machine.lanes.tick_plain();
            self.machine.lanes.settle_plain();
            return Ok(());
        }
        for high in [self.protocol.rising, !self.protocol.rising] {
            self.machine.set_clock(high);
            self.machine.settle(budget)?;
        }
        Ok(())
    }

    /// True when one clock edge loads every register: then the design can be followed faster elsewhere.
    pub fn is_plain(&self) -> bool {
        self.machine.is_plain()
    }

    /// Holds the common inputs at given levels.
    ///
    /// # Errors
    /// When the budget runs out or the design never comes to rest.
    pub fn hold(&mut self, inputs: &[bool], budget: &mut Budget) -> Result<(), Exhausted> {
        for (k, level) in inputs.iter().enumerate() {
            self.machine.set_input(k, if *level { u64::MAX } else { 0 });
        }
        self.settle(budget)
    }

    /// Goes on until all registers are as they are now: says after how many clock cycles, and what they held right
    /// before. `None` when that takes more than `limit` or something is unknown.
    ///
    /// # Errors
    /// When the budget runs out or the design never comes to rest.
    pub fn turn(&mut self, limit: u64, budget: &mut Budget) -> Result<Option<(u64, Vec<bool>)>, Exhausted> {
        let known = |list: Vec<Option<bool>>| list.into_iter().collect::<Option<Vec<bool>>>();
        let Some(first) = known(self.registers()) else { return Ok(None) };
        let mut before = first.clone();
        for cycle in 1..=limit {
            self.cycle(budget)?;
            let Some(now) = known(self.registers()) else { return Ok(None) };
            if now == first {
                return Ok(Some((cycle, before)));
            }
            before = now;
        }
        Ok(None)
    }

    /// Levels of the registers in the netlist's order; `None` for unknown ones.
    pub fn registers(&self) -> Vec<Option<bool>> {
        let registers = self.machine.lanes.netlist().registers.len();
        let state = self.machine.state();
        state[..2 * registers].chunks_exact(2).map(|r| (r[1] & 1 == 0).then_some(r[0] & 1 == 1)).collect()
    }

    /// Back to given levels of all registers.
    ///
    /// # Errors
    /// When the budget runs out or the design never comes to rest.
    pub fn restart(&mut self, levels: &[bool], budget: &mut Budget) -> Result<(), Exhausted> {
        let mut state = self.machine.state();
        for (pair, level) in state.chunks_exact_mut(2).zip(levels) {
            pair.copy_from_slice(&[if *level { u64::MAX } else { 0 }, 0]);
        }
        self.machine.set_state(&state);
        self.settle(budget)
    }

    /// Gives every unknown register a level, by its number.
    ///
    /// # Errors
    /// When the budget runs out or the design never comes to rest.
    pub fn settle_unknown(&mut self, level: impl Fn(usize) -> bool, budget: &mut Budget) -> Result<(), Exhausted> {
        let registers = self.machine.lanes.netlist().registers.len();
        let mut state = self.machine.state();
        for (number, pair) in state[..2 * registers].chunks_exact_mut(2).enumerate() {
            if pair[1] & 1 == 1 {
                *pair.first_mut().unwrap_or(&mut 0) = if level(number) { u64::MAX } else { 0 };
            }
            pair[1] = 0;
        }
        self.machine.set_state(&state);
        self.settle(budget)
    }

    /// Does the reset lead to the start from every state? Asked once, with all registers unknown.
    ///
    /// # Errors
    /// When the budget runs out or the design never comes to rest.
    pub fn resets_from_anywhere(&mut self, budget: &mut Budget) -> Result<bool, Exhausted> {
        let Some(reset) = self.protocol.reset else { return Ok(true) };
        let registers = self.machine.lanes.netlist().registers.len();
        let start = self.machine.state();
        let mut unknown = start.clone();
        for pair in unknown[..2 * registers].chunks_exact_mut(2) {
            pair.copy_from_slice(&[0, u64::MAX]);
        }
        self.machine.set_state(&unknown);
        self.machine.set_input(reset.input as usize, if reset.active_high { u64::MAX } else { 0 });
        self.settle(budget)?;
        for _ in 0..RESET_CYCLES {
            self.cycle(budget)?;
        }
        self.rest();
        self.settle(budget)?;
        let same = self.machine.state() == start;
        self.machine.set_state(&start);
        self.settle(budget)?;
        Ok(same)
    }
}

/// Follows an output of a machine into which nothing goes, in leaps over the stretches in which its registers only count.
pub struct Leaper {
    net: Netlist,
    next: Vec<Lit>,
    words: Vec<(u32, u32)>,
    level: Lit,
    unknown: Lit,
    state: Vec<bool>,
    now: Option<bool>,
    /// It stands right behind a change.
    at_edge: bool,
}

impl Leaper {
    /// Goes on from where a walker of the same machine stands; `None` where this machine can't be followed so.
    pub fn new(design: &Machine<'_>, walker: &Walker<'_>) -> Option<Self> {
        let plain = walker.machine.is_plain();
        let frame = Frame::new(design, &walker.protocol, plain, walker.machine.main());
        let whole: Vec<bool> = walker.machine.state().iter().map(|w| w & 1 == 1).collect();
        let state = whole.get(..frame.register_bits())?.to_vec();
        let mut net = Netlist::new();
        let registers: Vec<Lit> = state.iter().map(|_| net.add_input()).collect();
        let common = alone::at_rest(&walker.protocol, false);
        let bits = frame.at_rest(&mut net, &common, &registers);
        let mut program = Program::new(&net, state.len(), &bits);
        program.run(&state);
        if frame.bits() != whole.len() || (0..whole.len()).any(|k| program.output(k) != whole[k]) {
            return None;
        }
        let mut cycle = frame.cycle(&mut net, &common, &bits);
        cycle.next.truncate(state.len());
        let [level, unknown] = *cycle.seen.first()?.get(walker.output)?;
        let unknown = net.or(unknown, cycle.restless);
        let words = renumbered(alone::machine_words(design, &mut 0).into_iter());
        let now = walker.level();
        Some(Self { net, next: cycle.next, words, level, unknown, state, now, at_edge: false })
    }

    /// Standing right behind a change: is the output high for `high` of `period` cycles from here on for ever?
    ///
    /// # Errors
    /// When it was cancelled.
    pub fn keeps(&self, period: u64, high: u64, budget: &mut Budget) -> Result<bool, Exhausted> {
        let width = 64 - period.leading_zeros();
        let Some(level) = self.now.filter(|_| self.at_edge && high < period && width < 60) else { return Ok(false) };
        let mut net = Netlist::new();
        let all: Vec<Lit> = (0..self.state.len() + width as usize).map(|_| net.add_input()).collect();
        let (own, count) = all.split_at(self.state.len());
        let mut roots = self.next.clone();
        roots.extend([self.level, self.unknown]);
        let mut next = import(&mut net, &self.net, own, &roots);
        let (unknown, is) = (next.pop().unwrap_or(Lit::TRUE), next.pop().unwrap_or(Lit::TRUE));
        let constant = |value: u64| (0..width).map(|k| Lit::from(value >> k & 1 == 1)).collect::<Vec<_>>();
        let wanted = below(&mut net, count, &constant(high));
        let more = below(&mut net, count, &constant(period - 1));
        let mut carry = more;
        for bit in count {
            let sum = net.xor(*bit, carry);
            next.push(net.and(sum, more));
            carry = net.and(carry, *bit);
        }
        let differs = net.xor(is, wanted);
        let bad = net.or(differs, unknown);
        let mut words = self.words.clone();
        let word = words.iter().map(|(w, _)| w + 1).max().unwrap_or(0);
        words.extend((0..width).map(|place| (word, place)));
        let start = if level { 0 } else { high };
        let state: Vec<bool> = self.state.iter().copied().chain((0..width).map(|k| start >> k & 1 == 1)).collect();
        let machine = Autonomous { net, next, bad, words };
        Ok(matches!(machine.search(&state, budget)?, End::Never(_)))
    }
}

/// 1 where a number is less than another; both have their least significant bit first.
fn below(net: &mut Netlist, a: &[Lit], b: &[Lit]) -> Lit {
    a.iter().zip(b).fold(Lit::FALSE, |less, (a, b)| {
        let differ = net.xor(*a, *b);
        net.mux(differ, *b, less)
    })
}

impl Follower for Leaper {
    fn run(&mut self, limit: u64, budget: &mut Budget) -> Result<u64, Exhausted> {
        let mut net = self.net.clone();
        let moved = if self.now == Some(true) { !self.level } else { self.level };
        let bad = net.or(moved, self.unknown);
        let machine = Autonomous { net, next: self.next.clone(), bad, words: self.words.clone() };
        self.at_edge = false;
        match machine.run_for_bad(&self.state, u128::from(limit), budget)? {
            End::Never(_) => Ok(limit),
            End::Limit(state) => {
                self.state = state;
                Ok(limit)
            }
            End::Unsure(_) => Err(Exhausted(Resource::Steps)),
            End::Bad(time, state) => {
                let mut program = Program::new(&self.net, state.len(), &[self.level, self.unknown]);
                program.run(&state);
                self.now = (!program.output(1)).then(|| program.output(0));
                self.state = state;
                self.at_edge = true;
                Ok(u64::try_from(time).unwrap_or(u64::MAX))
            }
        }
    }

    fn level(&self) -> Option<bool> {
        self.now
    }

    fn state(&self) -> Vec<u64> {
        self.state.chunks(64).map(|c| c.iter().enumerate().fold(0, |w, (i, b)| w | u64::from(*b) << i)).collect()
    }
}

impl Follower for Walker<'_> {
    fn run(&mut self, limit: u64, budget: &mut Budget) -> Result<u64, Exhausted> {
        let before = self.level();
        for ran in 1..=limit {
            self.cycle(budget)?;
            if self.level() != before {
                return Ok(ran);
            }
        }
        Ok(limit)
    }

    fn level(&self) -> Option<bool> {
        let [value, unknown, _] = self.machine.output(self.output);
        (unknown & 1 == 0).then_some(value & 1 == 1)
    }

    fn state(&self) -> Vec<u64> {
        self.machine.state().iter().map(|w| w & 1).collect()
    }
}
