//! A machine into which nothing goes follows one path. It is followed here in leaps: stretches in which its registers
//! only count are passed at once, their length found and proved by SAT; and what has only to wait for a faster part is
//! taken out as a slower machine of its own, a step of which is a whole turn of the faster part.
//!
//! The idea of passing a loop of known effect at once is that of acceleration (Boigelot 1999; common practice in
//! model checking); looking for parts that depend on nothing else is a decomposition into strongly connected components.

use crate::closed::{Autonomous, Program, import, renumbered};
use crate::parts::{bits_that_matter, constant_bits, leading_part};
use crate::stretch::{Stretch, stretch};
use base::{Budget, Exhausted, Resource};
use design::{Lit, Netlist};
use rustc_hash::FxHashMap;
use std::rc::Rc;

/// Machines within machines.
const MOST_LEVELS: u32 = 64;
/// Stops along one path that are remembered.
const MOST_STOPS: usize = 200_000;
/// Nodes that writing down a whole turn of the leading part may take.
const TURN_NODES: usize = 6_000_000;
/// Leaps shorter than this are not worth the search.
const SHORT: u64 = 8;
/// Single steps between two searches that found nothing.
const MOST_PATIENCE: u32 = 4_096;
/// Bits beyond which a machine is not looked at.
const MOST_BITS: usize = 4_000;

/// How following a path ended.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) enum End {
    /// What is looked for never comes: the path came back after so many steps at most.
    Never(u128),
    /// It comes, first after so many steps, in this state.
    Bad(u128, Vec<bool>),
    /// The limit came first.
    Limit(Vec<bool>),
    /// The budget ended the search after so many steps, none of them bad.
    Unsure(u128),
}

impl Autonomous {
    /// Follows the path from a state until what is looked for comes, the path comes back, or `limit` steps are made.
    ///
    /// # Errors
    /// When it was cancelled.
    pub(crate) fn run(&self, start: &[bool], limit: u128, budget: &mut Budget) -> Result<End, Exhausted> {
        self.run_level(start, limit, (0, false), budget)
    }

    /// Does what is looked for ever come? Bits that it doesn't depend on are left aside: what they hold in the answer is
    /// what they held at the start.
    ///
    /// # Errors
    /// When it was cancelled.
    pub(crate) fn search(&self, start: &[bool], budget: &mut Budget) -> Result<End, Exhausted> {
        self.run_for_bad(start, u128::MAX, budget)
    }

    /// The same within a number of steps.
    ///
    /// # Errors
    /// When it was cancelled.
    pub(crate) fn run_for_bad(&self, start: &[bool], limit: u128, budget: &mut Budget) -> Result<End, Exhausted> {
        self.run_level(start, limit, (0, true), budget)
    }

    fn run_level(
        &self,
        start: &[bool],
        limit: u128,
        (level, only_bad): (u32, bool),
        budget: &mut Budget,
    ) -> Result<End, Exhausted> {
        if self.next.len() > MOST_BITS || level > MOST_LEVELS {
            return Ok(End::Unsure(0));
        }
        let mut constant = constant_bits(self, start, budget)?;
        if only_bad {
            let matter = bits_that_matter(self, &constant);
            for (constant, matters) in constant.iter_mut().zip(matter) {
                *constant |= !matters;
            }
        }
        let small = self.without(&constant, start);
        let kept: Vec<usize> = (0..start.len()).filter(|k| !constant[*k]).collect();
        let whole = |part: &[bool]| {
            let mut state = start.to_vec();
            for (k, level) in kept.iter().zip(part) {
                state[*k] = *level;
            }
            state
        };
        let first: Vec<bool> = kept.iter().map(|k| start[*k]).collect();
        let mut path = Path::new(&small, first, limit, (level, only_bad), budget)?;
        match path.follow(budget) {
            Ok(End::Bad(time, state)) => Ok(End::Bad(time, whole(&state))),
            Ok(End::Limit(state)) => Ok(End::Limit(whole(&state))),
            // A used budget only says how far it came.
            Err(Exhausted(Resource::Cancelled)) => Err(Exhausted(Resource::Cancelled)),
            Err(_) => Ok(End::Unsure(path.time)),
            other => other,
        }
    }

    /// The same without bits that keep their level.
    fn without(&self, constant: &[bool], start: &[bool]) -> Autonomous {
        let mut net = Netlist::new();
        let mut inputs = Vec::new();
        for (is_constant, level) in constant.iter().zip(start) {
            inputs.push(if *is_constant { Lit::from(*level) } else { net.add_input() });
        }
        let mut roots: Vec<Lit> = self.next.iter().zip(constant).filter(|(_, c)| !**c).map(|(l, _)| *l).collect();
        roots.push(self.bad);
        let mut next = import(&mut net, &self.net, &inputs, &roots);
        let bad = next.pop().unwrap_or(Lit::FALSE);
        let words = self.words.iter().zip(constant).filter(|(_, c)| !**c).map(|(w, _)| *w);
        Autonomous { net, next, bad, words: renumbered(words) }
    }
}

/// A stop of the path: the state of the leading part, and whether one step or a leap follows.
struct Stop {
    leading: Rc<[bool]>,
    steps: u64,
    is_step: bool,
}

/// A state of the leading part, and by how much each word moves.
type Course = (Rc<[bool]>, Vec<u64>);

struct Path<'a> {
    machine: &'a Autonomous,
    program: Program,
    level: u32,
    only_bad: bool,
    state: Vec<bool>,
    time: u128,
    limit: u128,
    /// Bits of the part that depends on nothing else.
    leading: Vec<bool>,
    is_whole: bool,
    stops: Vec<Stop>,
    known: FxHashMap<Rc<[bool]>, usize>,
    /// The lengths of leaps from states of the leading part whatever the rest holds.
    leaps: FxHashMap<Course, Option<Stretch>>,
    /// Some leap depended on what the rest held.
    is_bound: bool,
    /// A turn of the leading part was taken out, or can't be.
    is_taken: bool,
    held: Option<Vec<bool>>,
    until: u64,
    turn: u64,
}

impl<'a> Path<'a> {
    fn new(
        machine: &'a Autonomous,
        state: Vec<bool>,
        limit: u128,
        (level, only_bad): (u32, bool),
        budget: &mut Budget,
    ) -> Result<Self, Exhausted> {
        let leading = leading_part(machine, budget)?;
        let is_whole = leading.iter().all(|l| *l);
        let mut roots = machine.next.clone();
        roots.push(machine.bad);
        Ok(Self {
            machine,
            program: Program::new(&machine.net, state.len(), &roots),
            level,
            only_bad,
            state,
            time: 0,
            limit,
            leading,
            is_whole,
            stops: Vec::new(),
            known: FxHashMap::default(),
            leaps: FxHashMap::default(),
            is_bound: false,
            is_taken: is_whole,
            held: None,
            until: 1,
            turn: 0,
        })
    }

    fn leading_state(&self) -> Rc<[bool]> {
        self.state.iter().zip(&self.leading).filter(|(_, l)| **l).map(|(s, _)| *s).collect()
    }

    /// For each word by how much it moves from one state to another, modulo its size; `None` where a bit moved that is not
    /// of the leading part.
    fn moves(&self, before: &[bool], after: &[bool]) -> Option<Vec<u64>> {
        let words = self.machine.words.iter().map(|(w, _)| *w as usize + 1).max().unwrap_or(0);
        let (mut from, mut to, mut mask) = (vec![0u64; words], vec![0u64; words], vec![0u64; words]);
        for (k, (word, place)) in self.machine.words.iter().enumerate() {
            if before[k] != after[k] && !self.leading[k] {
                return None;
            }
            let word = *word as usize;
            from[word] |= u64::from(before[k]) << place;
            to[word] |= u64::from(after[k]) << place;
            mask[word] |= 1 << place;
        }
        Some((0..words).map(|w| to[w].wrapping_sub(from[w]) & mask[w]).collect())
    }

    fn follow(&mut self, budget: &mut Budget) -> Result<End, Exhausted> {
        let mut last: Option<Vec<u64>> = None;
        let mut steady = 0u32;
        let (mut wait, mut patience) = (0u32, 4u32);
        loop {
            if self.time >= self.limit {
                return Ok(End::Limit(self.state.clone()));
            }
            budget.spend(self.program.cost())?;
            self.program.run(&self.state);
            if self.program.output(self.machine.next.len()) {
                return Ok(End::Bad(self.time, self.state.clone()));
            }
            if let Some(end) = self.came_back(budget)? {
                return Ok(end);
            }
            if self.time >= self.limit {
                continue;
            }
            if steady >= 2
                && wait == 0
                && let Some(moves) = last.clone()
            {
                match self.leap(&moves, budget)? {
                    Some(Stretch::Endless) => return Ok(End::Never(self.time)),
                    Some(Stretch::Length(length)) if length >= SHORT => {
                        let length = u128::from(length).min(self.limit - self.time);
                        self.note(length as u64, false);
                        self.advance(&moves, length as u64);
                        self.time += length;
                        patience = 4;
                        continue;
                    }
                    _ => {
                        wait = patience;
                        patience = (patience * 2).min(MOST_PATIENCE);
                    }
                }
            }
            wait = wait.saturating_sub(1);
            let next: Vec<bool> = (0..self.state.len()).map(|k| self.program.output(k)).collect();
            let moves = self.moves(&self.state, &next);
            if moves.is_some() && moves == last {
                steady += 1;
            } else {
                steady = 0;
            }
            last = moves;
            self.note(1, true);
            self.state = next;
            self.time += 1;
        }
    }

    /// Notes what follows the present stop.
    fn note(&mut self, steps: u64, is_step: bool) {
        if !self.is_taken {
            let leading = self.leading_state();
            self.known.entry(leading.clone()).or_insert(self.stops.len());
            self.stops.push(Stop { leading, steps, is_step });
        }
    }

    /// Words move on as they have moved.
    fn advance(&mut self, moves: &[u64], steps: u64) {
        let mut now = vec![0u64; moves.len()];
        for (k, (word, place)) in self.machine.words.iter().enumerate() {
            now[*word as usize] |= u64::from(self.state[k]) << place;
        }
        for (value, by) in now.iter_mut().zip(moves) {
            *value = value.wrapping_add(by.wrapping_mul(steps));
        }
        for (k, (word, place)) in self.machine.words.iter().enumerate() {
            if moves[*word as usize] != 0 {
                self.state[k] = now[*word as usize] >> place & 1 == 1;
            }
        }
    }

    /// How far the words go on like this: whatever the rest holds where that is far, else as it stands.
    fn leap(&mut self, moves: &[u64], budget: &mut Budget) -> Result<Option<Stretch>, Exhausted> {
        if moves.iter().all(|m| *m == 0) {
            return Ok(None);
        }
        let key = (self.leading_state(), moves.to_vec());
        let free = match self.leaps.get(&key) {
            Some(found) => *found,
            None => {
                let free: Vec<bool> = self.leading.iter().map(|l| !*l).collect();
                let found = stretch(self.machine, &self.state, &free, moves, budget)?;
                if self.leaps.len() < MOST_STOPS {
                    self.leaps.insert(key, found);
                }
                found
            }
        };
        let far = |s: &Option<Stretch>| !matches!(s, None | Some(Stretch::Length(0..SHORT)));
        if far(&free) || self.is_whole {
            return Ok(free);
        }
        let found = stretch(self.machine, &self.state, &vec![false; self.state.len()], moves, budget)?;
        self.is_bound |= far(&found);
        Ok(found)
    }

    /// Has the path come back? Where the leading part has, the rest goes on as a machine of its own.
    fn came_back(&mut self, budget: &mut Budget) -> Result<Option<End>, Exhausted> {
        if self.held.as_ref() == Some(&self.state) {
            return Ok(Some(End::Never(self.time)));
        }
        self.turn += 1;
        if self.turn == self.until {
            self.held = Some(self.state.clone());
            self.until *= 2;
        }
        if self.is_taken {
            return Ok(None);
        }
        let Some(from) = self.known.get(&self.leading_state()).copied() else {
            if self.stops.len() >= MOST_STOPS {
                self.forget();
            }
            return Ok(None);
        };
        let stops = std::mem::take(&mut self.stops).split_off(from);
        self.forget();
        if self.is_bound {
            return Ok(None);
        }
        let Some(slow) = self.turned(&stops) else { return Ok(None) };
        let period: u128 = stops.iter().map(|s| u128::from(s.steps)).sum();
        let rest: Vec<usize> = (0..self.state.len()).filter(|k| !self.leading[*k]).collect();
        let start: Vec<bool> = rest.iter().map(|k| self.state[*k]).collect();
        let limit = (self.limit - self.time) / period.max(1);
        let (turns, state) = match slow.run_level(&start, limit, (self.level + 1, self.only_bad), budget)? {
            End::Never(turns) => return Ok(Some(End::Never(self.time + turns.saturating_mul(period)))),
            End::Unsure(turns) => return Ok(Some(End::Unsure(self.time + turns.saturating_mul(period)))),
            End::Bad(turns, state) => (turns, state),
            End::Limit(state) => (limit, state),
        };
        for (k, level) in rest.into_iter().zip(state) {
            self.state[k] = level;
        }
        self.time += turns * period;
        self.held = None;
        // The state has moved: what follows from it is worked out anew.
        self.program.run(&self.state);
        if self.program.output(self.machine.next.len()) {
            return Ok(Some(End::Bad(self.time, self.state.clone())));
        }
        Ok(None)
    }

    fn forget(&mut self) {
        self.is_taken = true;
        self.stops.clear();
        self.known.clear();
    }

    /// The rest as a machine whose step is a whole turn of the leading part.
    fn turned(&self, stops: &[Stop]) -> Option<Autonomous> {
        let machine = self.machine;
        let roots: Vec<Lit> = machine
            .next
            .iter()
            .zip(&self.leading)
            .filter(|(_, l)| !**l)
            .map(|(n, _)| *n)
            .chain([machine.bad])
            .collect();
        let size = machine.net.cone(&roots).len();
        if stops.len().saturating_mul(size) > TURN_NODES {
            return None;
        }
        let mut net = Netlist::new();
        let rest = self.leading.iter().filter(|l| !**l).count();
        let mut held: Vec<Lit> = (0..rest).map(|_| net.add_input()).collect();
        let mut bad = Lit::FALSE;
        for stop in stops {
            let (mut leading, mut own) = (stop.leading.iter(), held.iter());
            let inputs: Vec<Lit> = self
                .leading
                .iter()
                .map(|l| match l {
                    true => leading.next().map_or(Lit::FALSE, |level| Lit::from(*level)),
                    false => own.next().copied().unwrap_or(Lit::FALSE),
                })
                .collect();
            let mut found = import(&mut net, &machine.net, &inputs, &roots);
            let here = found.pop().unwrap_or(Lit::FALSE);
            bad = net.or(bad, here);
            if stop.is_step {
                held = found;
            }
        }
        let words = machine.words.iter().zip(&self.leading).filter(|(_, l)| !**l).map(|(w, _)| *w);
        Some(Autonomous { net, next: held, bad, words: renumbered(words) })
    }
}
