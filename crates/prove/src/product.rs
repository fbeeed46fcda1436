//! The comparison itself: all product states where they are few, the only path where nothing but a reset goes in, and
//! many lanes of stimulus otherwise.

use crate::alone::{self, Alone, Held};
use crate::induction;
use crate::machine::{Machine, Protocol};
use crate::pair::{Key, Pair, Phase};
use crate::seen::{Seen, Unseen};
use crate::stimulus::{drive, resets, stimulus};
use base::{Budget, Exhausted, Random};
use std::collections::HashMap;

/// Most product states that are searched.
const MAX_STATES: usize = 200_000;
/// The same where only a reset goes in: the path can be followed otherwise.
const FEW_STATES: usize = 256;
/// Inputs of which all combinations are tried in each state.
const MAX_INPUTS: u32 = 12;
/// State and input pairs that are still counted after the first wrong one.
const COUNTED_AFTER: u64 = 50_000;
/// Cycles that are counted on the only path behind the first wrong one.
const COUNTED_BEHIND: u64 = 4_000;
/// Unknown registers at power-up of which all combinations are tried.
const MAX_POWER_UP: usize = 10;
/// Most cycles of stimulus.
const MAX_CYCLES: u64 = 20_000;
/// Most cycles along the only path.
const MAX_PATH: u64 = 20_000_000;
/// Cycles of evidence that are kept.
const KEPT: usize = 64;

/// What is known of the two machines.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Equality {
    /// Equal in every state that can be reached, for all inputs and for ever.
    Proved {
        /// States of both machines together.
        states: u64,
    },
    /// Equal in every state that can be reached, for all inputs and for ever: what holds of their registers holds on from
    /// cycle to cycle.
    Induced,
    /// Equal as far as was looked.
    Matched {
        /// Clock cycles on each of 64 lanes of stimulus.
        cycles: u64,
    },
    /// They differ.
    Differs,
}

/// A moment of a clock cycle.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Moment {
    /// The inputs are there, the edge of this cycle has not come.
    BeforeEdge,
    /// Right behind the edge.
    AfterEdge,
    /// Behind the other edge of the clock.
    AfterOtherEdge,
}

/// What is seen at a moment.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Step {
    /// Clock edges since the start, this cycle's not counted.
    pub cycle: u64,
    /// When in the cycle.
    pub moment: Moment,
    /// Levels of the common inputs.
    pub inputs: Vec<bool>,
    /// Output levels of the reference; `-` where it doesn't care.
    pub expected: Vec<char>,
    /// Output levels of the design: 0, 1, X or Z.
    pub actual: Vec<char>,
}

/// Where they differ.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Difference {
    /// The cycles up to the difference; of a long way the last ones only.
    pub steps: Vec<Step>,
    /// The outputs that are wrong in the last step.
    pub outputs: Vec<usize>,
    /// True when no shorter way leads to a difference.
    pub shortest: bool,
    /// The level of each register of the design in the last step; `None` where it is unknown.
    pub registers: Vec<Option<bool>>,
    /// Registers of the design (by number) that are unknown after the start and may be why.
    pub unknown_registers: Vec<usize>,
}

/// The outcome.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Found {
    /// Its strength.
    pub equality: Equality,
    /// Pairs of state and input (or cycles) that were compared.
    pub compared: u64,
    /// Those in which all outputs were right.
    pub right: u64,
    /// The first difference.
    pub difference: Option<Difference>,
    /// Outputs and registers of the reference that never left one level in what was run, though nothing says that they
    /// can't; empty for what is proved.
    pub unseen: Unseen,
}

struct Explored {
    complete: bool,
    states: u64,
    compared: u64,
    right: u64,
    /// The root and the input combinations that lead to the first wrong moment.
    first: Option<(Key, Vec<u64>)>,
}

impl Found {
    fn differs(compared: u64, right: u64, difference: Difference) -> Self {
        let unseen = Unseen::default();
        Self { equality: Equality::Differs, compared, right, difference: Some(difference), unseen }
    }
}

/// Says only whether they are equal, proved or matched on a run that showed all that is expected; stops at the first
/// difference. `None` where too little was seen.
///
/// # Errors
/// When the budget runs out, or a machine never comes to rest.
pub fn is_equal(
    reference: &Machine<'_>,
    design: &Machine<'_>,
    protocol: &Protocol,
    budget: &mut Budget,
) -> Result<Option<bool>, Exhausted> {
    let mut pair = Pair::new(reference, design, *protocol);
    pair.first_only = true;
    let roots = pair.start(budget)?;
    let found = from_roots(&mut pair, &roots, budget)?;
    Ok(match found.difference {
        Some(_) => Some(false),
        None => found.unseen.is_empty().then_some(true),
    })
}

/// Compares a design with a reference.
///
/// # Errors
/// When the budget runs out before anything is known, or a machine never comes to rest.
pub fn compare(
    reference: &Machine<'_>,
    design: &Machine<'_>,
    protocol: &Protocol,
    budget: &mut Budget,
) -> Result<Found, Exhausted> {
    let mut pair = Pair::new(reference, design, *protocol);
    let roots = pair.start(budget)?;
    let found = from_roots(&mut pair, &roots, budget)?;
    let Some(difference) = &found.difference else { return Ok(found) };
    let last = difference.steps.last();
    let is_unknown = difference.outputs.iter().all(|k| last.is_none_or(|s| matches!(s.actual[*k], 'X' | 'Z')));
    let places = pair.unknown_places(&roots[0]);
    if !is_unknown || places.is_empty() {
        return Ok(found);
    }
    // Levels that nothing sets at power-up: is the design right whatever they are?
    let settled = power_up_levels(&roots[0], &places);
    let again = from_roots(&mut pair, &settled, budget)?;
    if again.difference.is_none() {
        let equality = match again.equality {
            Equality::Proved { .. } if places.len() > MAX_POWER_UP => Equality::Matched { cycles: again.compared / 64 },
            other => other,
        };
        return Ok(Found { equality, ..again });
    }
    let registers = places.iter().map(|p| pair.register_at(*p)).collect();
    let difference = found.difference.map(|d| Difference { unknown_registers: registers, ..d });
    Ok(Found { difference, ..found })
}

/// The state with its unknown registers at all combinations of levels, or at some where there are too many.
fn power_up_levels(root: &Key, places: &[usize]) -> Vec<Key> {
    let count = if places.len() > MAX_POWER_UP { 256 } else { 1u64 << places.len() };
    let mut random = Random::new(1);
    (0..count)
        .map(|n| {
            let word = if places.len() > MAX_POWER_UP { 0 } else { n };
            let mut key = root.clone();
            for (i, place) in places.iter().enumerate() {
                let level = if places.len() > MAX_POWER_UP { random.word() >> 40 & 1 } else { word >> i & 1 };
                key[place / 64] &= !(1 << (place % 64));
                let value = place - 1;
                key[value / 64] = key[value / 64] & !(1 << (value % 64)) | level << (value % 64);
            }
            key
        })
        .collect()
}

fn from_roots(pair: &mut Pair<'_>, roots: &[Key], budget: &mut Budget) -> Result<Found, Exhausted> {
    let free = pair.protocol.inputs - u32::from(pair.protocol.reset.is_some());
    if pair.protocol.inputs <= MAX_INPUTS {
        let few = free == 0 && roots.len() == 1;
        let explored = explore(pair, roots, if few { FEW_STATES } else { MAX_STATES }, budget)?;
        if let Some((root, combos)) = &explored.first {
            let difference = replay(pair, root, combos, budget)?;
            let (compared, right) = (explored.compared, explored.right);
            return Ok(Found::differs(compared, right, difference));
        }
        if explored.complete {
            let equality = Equality::Proved { states: explored.states };
            return Ok(Found {
                equality,
                compared: explored.compared,
                right: explored.right,
                difference: None,
                unseen: Unseen::default(),
            });
        }
        if few {
            let found = match in_leaps(pair, &roots[0], budget)? {
                Some(found) => found,
                None => follow(pair, &roots[0], budget)?,
            };
            return Ok(for_ever(pair, roots, found, budget));
        }
    }
    let found = stimulate(pair, roots, budget)?;
    let found = for_ever(pair, roots, found, budget);
    if !matches!(found.equality, Equality::Matched { .. }) {
        return Ok(found);
    }
    let found = match held(pair, roots, &found, budget)? {
        Some(other) => other,
        None => found,
    };
    if found.difference.is_some() {
        return Ok(found);
    }
    match near_the_start(pair, roots, budget) {
        None => Ok(found),
        // Of the many cycles that were run none was wrong; this one is counted beside them.
        Some(difference) => Ok(Found::differs(found.compared + 1, found.right, difference)),
    }
}

/// Stimulus that stays for long, passed in leaps: what waits for a prescaler comes, too. `None` where nothing is added.
fn held(pair: &mut Pair<'_>, roots: &[Key], found: &Found, budget: &mut Budget) -> Result<Option<Found>, Exhausted> {
    let held = budget
        .share(budget.steps_left() / 2, |b| alone::hold(pair, &roots[0], found.unseen.clone(), KEPT as u64 / 2, b));
    Ok(match held? {
        None => None,
        Some(Held::Right { cycles, unseen }) => Some(Found {
            equality: Equality::Matched { cycles: found.compared / 64 + cycles },
            compared: found.compared.saturating_add(cycles),
            right: found.right.saturating_add(cycles),
            difference: None,
            unseen,
        }),
        Some(Held::Wrong { levels, state, begin, cycle }) => {
            let mut recorder = Recorder::new(levels.len());
            let mut key = roots[0].clone();
            set_bits(&mut key, &state);
            pair.set_keys(&[&key]);
            for (k, level) in levels.iter().enumerate() {
                pair.set_input(k, if *level { u64::MAX } else { 0 });
            }
            for at in begin..=cycle {
                recorder.cycle(pair, at, &|k| levels[k], 0, budget)?;
            }
            let difference = recorder.difference(false);
            let all = found.compared.saturating_add(cycle);
            (!difference.outputs.is_empty()).then(|| Found::differs(all + 1, all, difference))
        }
    })
}

fn set_bits(key: &mut Key, state: &[bool]) {
    for (b, level) in state.iter().enumerate() {
        key[b / 64] = key[b / 64] & !(1 << (b % 64)) | u64::from(*level) << (b % 64);
    }
}

/// A difference in the first cycles, for inputs that stimulus didn't come upon.
fn near_the_start(pair: &mut Pair<'_>, roots: &[Key], budget: &mut Budget) -> Option<Difference> {
    let root = roots.first()?;
    let cycles = budget.share(budget.steps_left() / 4, |b| induction::few_cycles(pair, root, b)).ok().flatten()?;
    let mut recorder = Recorder::new(pair.protocol.inputs as usize);
    pair.set_keys(&[root]);
    for (n, levels) in cycles.iter().enumerate() {
        for (k, level) in levels.iter().enumerate() {
            pair.set_input(k, if *level { u64::MAX } else { 0 });
        }
        recorder.cycle(pair, n as u64, &|k| levels[k], 0, budget).ok()?;
    }
    Some(recorder.difference(true)).filter(|d| !d.outputs.is_empty())
}

/// Makes a match a proof, where induction tells.
fn for_ever(pair: &mut Pair<'_>, roots: &[Key], found: Found, budget: &mut Budget) -> Found {
    if !matches!(found.equality, Equality::Matched { .. }) || found.difference.is_some() {
        return found;
    }
    let proved = budget.share(budget.steps_left() / 3, |b| induction::proves(pair, roots, b)).unwrap_or(false);
    if proved { Found { equality: Equality::Induced, unseen: Unseen::default(), ..found } } else { found }
}

fn spread(bits: u64, k: usize) -> u64 {
    if bits >> k & 1 == 1 { u64::MAX } else { 0 }
}

/// Searches all states that the roots lead to, for all combinations of inputs.
fn explore(pair: &mut Pair<'_>, roots: &[Key], most: usize, budget: &mut Budget) -> Result<Explored, Exhausted> {
    let inputs = pair.protocol.inputs as usize;
    let combos = 1u64 << inputs;
    let mut keys: Vec<Key> = roots.to_vec();
    let mut parents: Vec<u64> = vec![u64::MAX; roots.len()];
    let mut known: HashMap<Key, u32> = roots.iter().cloned().zip(0..).collect();
    let mut at = 0u64;
    let mut found = Explored { complete: true, states: 0, compared: 0, right: 0, first: None };
    let mut first: Option<(u64, u64)> = None;
    // A share of the budget: what is left pays for stimulus.
    let mut share = budget.clone().with_steps(budget.steps_left() / 2);
    loop {
        let end = (at + 64).min(keys.len() as u64 * combos);
        if at == end {
            break;
        }
        let after = if pair.first_only { 0 } else { COUNTED_AFTER };
        let counted = first.is_some_and(|(_, compared)| found.compared >= compared + after);
        if counted || keys.len() > most || share.steps_left() < 8 * pair.cost() {
            found.complete = false;
            break;
        }
        let list: Vec<&Key> = (at..end).map(|f| &keys[(f / combos) as usize]).collect();
        pair.set_keys(&list);
        for k in 0..inputs {
            let word = (at..end).enumerate().fold(0, |w, (lane, f)| w | ((f % combos) >> k & 1) << lane);
            pair.set_input(k, word);
        }
        let lanes = (end - at) as u32;
        let used = u64::MAX >> (64 - lanes);
        let mut wrong = 0;
        pair.cycle(&mut share, |_, _, lanes| wrong |= lanes & used)?;
        found.compared += u64::from(lanes);
        found.right += u64::from(lanes - wrong.count_ones());
        if wrong != 0 && first.is_none() {
            first = Some((at + u64::from(wrong.trailing_zeros()), found.compared));
        }
        for (key, f) in pair.keys(lanes as usize).into_iter().zip(at..end) {
            if !known.contains_key(&key) {
                known.insert(key.clone(), keys.len() as u32);
                keys.push(key);
                parents.push(f);
            }
        }
        at = end;
    }
    budget.spend((budget.steps_left() / 2).saturating_sub(share.steps_left()))?;
    found.states = keys.len() as u64;
    found.first = first.map(|(f, _)| {
        let mut path = Vec::new();
        let mut f = f;
        loop {
            path.push(f % combos);
            let state = (f / combos) as usize;
            if parents[state] == u64::MAX {
                path.reverse();
                return (keys[state].clone(), path);
            }
            f = parents[state];
        }
    });
    Ok(found)
}

/// Goes a way again on one lane and notes what is seen. Where the difference shows with the inputs of the cycle before as
/// well, they are kept: it is seen right behind the edge then, and the inputs are those that led there.
fn replay(pair: &mut Pair<'_>, root: &Key, combos: &[u64], budget: &mut Budget) -> Result<Difference, Exhausted> {
    if let [.., before, last] = combos
        && before != last
    {
        let mut held = combos.to_vec();
        held[combos.len() - 1] = *before;
        let seen = replay_as(pair, root, &held, budget)?;
        if !seen.outputs.is_empty() {
            return Ok(seen);
        }
    }
    replay_as(pair, root, combos, budget)
}

fn replay_as(pair: &mut Pair<'_>, root: &Key, combos: &[u64], budget: &mut Budget) -> Result<Difference, Exhausted> {
    let inputs = pair.protocol.inputs as usize;
    let mut recorder = Recorder::new(inputs);
    pair.set_keys(&[root]);
    for (n, combo) in combos.iter().enumerate() {
        for k in 0..inputs {
            pair.set_input(k, spread(*combo, k));
        }
        recorder.cycle(pair, n as u64, &|k| combo >> k & 1 == 1, 0, budget)?;
    }
    Ok(recorder.difference(true))
}

/// Notes the last cycles of a lane.
struct Recorder {
    inputs: usize,
    steps: Vec<Step>,
    wrong: Vec<usize>,
    registers: Vec<Option<bool>>,
}

impl Recorder {
    fn new(inputs: usize) -> Self {
        Self { inputs, steps: Vec::new(), wrong: Vec::new(), registers: Vec::new() }
    }

    fn cycle(
        &mut self,
        pair: &mut Pair<'_>,
        cycle: u64,
        level: &dyn Fn(usize) -> bool,
        lane: u32,
        budget: &mut Budget,
    ) -> Result<(), Exhausted> {
        let inputs: Vec<bool> = (0..self.inputs).map(level).collect();
        let (steps, found, registers) = (&mut self.steps, &mut self.wrong, &mut self.registers);
        found.clear();
        pair.cycle(budget, |pair, phase, wrong| {
            let is_wrong = wrong >> lane & 1 == 1;
            if !found.is_empty() || (phase != Phase::Before && !is_wrong) {
                return;
            }
            let bit = |rails: [u64; 3]| rails.map(|r| r >> lane & 1 == 1);
            let mut expected = Vec::new();
            let mut actual = Vec::new();
            for k in 0..pair.outputs() {
                let [value, unknown, _] = bit(pair.reference.output(k));
                let wanted = if unknown { '-' } else { char::from(b'0' + u8::from(value)) };
                let [value, unknown, floating] = bit(pair.design.output(k));
                let is = match (floating, unknown, value) {
                    (true, ..) => 'Z',
                    (_, true, _) => 'X',
                    (.., value) => char::from(b'0' + u8::from(value)),
                };
                if wanted != '-' && is != wanted {
                    found.push(k);
                }
                expected.push(wanted);
                actual.push(is);
            }
            *registers = pair.design.registers(lane);
            let moment = match phase {
                Phase::Before => Moment::BeforeEdge,
                Phase::After => Moment::AfterEdge,
                Phase::Back => Moment::AfterOtherEdge,
            };
            steps.push(Step { cycle, moment, inputs: inputs.clone(), expected, actual });
        })?;
        if self.steps.len() > 2 * KEPT {
            self.steps.drain(..KEPT);
        }
        Ok(())
    }

    fn difference(mut self, shortest: bool) -> Difference {
        let extra = self.steps.len().saturating_sub(KEPT);
        self.steps.drain(..extra);
        Difference {
            steps: self.steps,
            outputs: self.wrong,
            shortest,
            registers: self.registers,
            unknown_registers: Vec::new(),
        }
    }
}

/// With no input but a reset there is one path: its stretches of counting are passed at once. `None` where that doesn't
/// tell.
fn in_leaps(pair: &mut Pair<'_>, root: &Key, budget: &mut Budget) -> Result<Option<Found>, Exhausted> {
    let found = budget.share(budget.steps_left() / 2, |b| alone::follow(pair, root, KEPT as u64 / 2, b))?;
    let equal = |equality, cycles| Found {
        equality,
        compared: cycles,
        right: cycles,
        difference: None,
        unseen: Unseen::default(),
    };
    Ok(match found {
        Alone::Proved(cycles) => Some(equal(Equality::Proved { states: cycles }, cycles)),
        Alone::Runs(cycles) => Some(equal(Equality::Matched { cycles }, cycles)),
        Alone::Unsure => None,
        Alone::Wrong { cycle, from: (state, at) } => {
            let mut key = root.clone();
            set_bits(&mut key, &state);
            let found = follow_again(pair, &key, at, cycle, 1, budget)?;
            // Levels that had not come to rest within the rounds written down are no difference.
            Some(found).filter(|f| f.difference.as_ref().is_some_and(|d| !d.outputs.is_empty()))
        }
    })
}

/// With no input but a reset there is one path: it is followed until it comes back to a state it had (found as Brent
/// 1980 does, by looking back at states of ever older powers of two). A second lane asks at each state what the reset
/// would do.
fn follow(pair: &mut Pair<'_>, root: &Key, budget: &mut Budget) -> Result<Found, Exhausted> {
    let reset = pair.protocol.reset;
    pair.set_keys(&[root]);
    let first = pair.words();
    let mut held = first.clone();
    let (mut until, mut cycle, mut resets) = (1u64, 0u64, true);
    let set_reset = |pair: &mut Pair<'_>| {
        if let Some(reset) = reset {
            pair.set_input(reset.input as usize, if reset.active_high { 2 } else { !2 });
        }
    };
    let limit = MAX_PATH.min(budget.steps_left() / (2 * pair.cost()));
    let mut wrong_lanes = 0;
    let mut seen = Seen::new(pair);
    while cycle < limit {
        set_reset(pair);
        seen.look(pair, 1);
        pair.cycle(budget, |_, _, wrong| wrong_lanes |= wrong & 3)?;
        if wrong_lanes != 0 {
            return follow_again(pair, root, 0, cycle, wrong_lanes, budget);
        }
        cycle += 1;
        let mut words = pair.words();
        for (word, start) in words.iter_mut().zip(&first) {
            resets &= (*word >> 1 ^ start) & 1 == 0;
            *word = 0u64.wrapping_sub(*word & 1);
        }
        if words == held || words == first {
            let equality = if resets || reset.is_none() {
                Equality::Proved { states: cycle }
            } else {
                Equality::Matched { cycles: cycle }
            };
            let unseen = Unseen::default();
            return Ok(Found { equality, compared: cycle, right: cycle, difference: None, unseen });
        }
        pair.set_words(&words);
        if cycle == until {
            held = words;
            until *= 2;
        }
    }
    let unseen = seen.unseen(pair, root, budget)?;
    let equality = Equality::Matched { cycles: cycle };
    Ok(Found { equality, compared: cycle, right: cycle, difference: None, unseen })
}

/// Goes the only path again, from a state after some of its cycles, to note its last ones.
fn follow_again(
    pair: &mut Pair<'_>,
    root: &Key,
    begin: u64,
    cycles: u64,
    lanes: u64,
    budget: &mut Budget,
) -> Result<Found, Exhausted> {
    let with_reset = lanes & 1 == 0;
    let mut recorder = Recorder::new(pair.protocol.inputs as usize);
    pair.set_keys(&[root]);
    let reset = pair.protocol.reset;
    for cycle in begin..=cycles {
        let active = with_reset && cycle == cycles;
        let level = reset.is_some_and(|r| r.active_high == active);
        if let Some(reset) = reset {
            pair.set_input(reset.input as usize, if level { u64::MAX } else { 0 });
        }
        if cycle + 2 * KEPT as u64 > cycles {
            recorder.cycle(pair, cycle, &|_| level, 0, budget)?;
        } else {
            pair.cycle(budget, |_, _, _| {})?;
        }
    }
    // How often it is right is counted over as many cycles again.
    let (mut compared, mut right) = (cycles + 1, cycles);
    let more = if pair.first_only { 0 } else { (cycles + 1).clamp(64, COUNTED_BEHIND) };
    for _ in 0..more {
        let mut wrong = 0;
        pair.cycle(budget, |_, _, lanes| wrong |= lanes & 1)?;
        compared += 1;
        right += u64::from(wrong == 0);
    }
    Ok(Found::differs(compared, right, recorder.difference(true)))
}

/// Runs both on 64 lanes of stimulus.
fn stimulate(pair: &mut Pair<'_>, roots: &[Key], budget: &mut Budget) -> Result<Found, Exhausted> {
    let list: Vec<&Key> = roots.iter().cycle().take(64).collect();
    pair.set_keys(&list);
    let limit = MAX_CYCLES.min(budget.steps_left() / (2 * pair.cost()));
    let inputs = pair.protocol.inputs as usize;
    let reset = pair.protocol.reset;
    let (mut compared, mut right) = (0u64, 0u64);
    let mut first: Option<(u64, u32)> = None;
    let mut seen = Seen::new(pair);
    let mut cycle = 0;
    let after = if pair.first_only { 1 } else { COUNTED_AFTER / 64 };
    while cycle < limit && first.is_none_or(|(at, _)| cycle < at + after) {
        drive(pair, cycle);
        let mut wrong = 0;
        pair.cycle(budget, |_, _, lanes| wrong |= lanes)?;
        seen.look(pair, u64::MAX);
        compared += 64;
        right += u64::from(64 - wrong.count_ones());
        if wrong != 0 {
            first.get_or_insert((cycle, wrong.trailing_zeros()));
        }
        cycle += 1;
    }
    let Some((at, lane)) = first else {
        let unseen = seen.unseen(pair, &roots[0], budget)?;
        let equality = Equality::Matched { cycles: cycle };
        return Ok(Found { equality, compared, right, difference: None, unseen });
    };
    let list: Vec<&Key> = roots.iter().cycle().take(64).collect();
    pair.set_keys(&list);
    let mut recorder = Recorder::new(inputs);
    for cycle in 0..=at {
        drive(pair, cycle);
        let level = |k: usize| match reset {
            Some(reset) if reset.input as usize == k => (resets(cycle) >> lane & 1 == 1) == reset.active_high,
            _ => stimulus(k as u64, cycle) >> lane & 1 == 1,
        };
        if cycle + 2 * KEPT as u64 > at {
            recorder.cycle(pair, cycle, &level, lane, budget)?;
        } else {
            pair.cycle(budget, |_, _, _| {})?;
        }
    }
    Ok(Found::differs(compared, right, recorder.difference(false)))
}
