//! How long do the words of a machine go on counting as they do? Their bits are written down as functions of the number of
//! steps; the first number at which the machine does otherwise is found by SAT.

use crate::closed::{Autonomous, import};
use crate::sat::{Answer, Sweep};
use base::{Budget, Exhausted};
use design::{Lit, Netlist};

/// A word that counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Stretch {
    /// After so many steps, and not before, the machine does otherwise, or what is looked for may come.
    Length(u64),
    /// For ever.
    Endless,
}

/// Learnt clauses that one question may take.
const EFFORT: u64 = 3_000;
/// Bits of a word that counts.
const MOST_WIDTH: u32 = 48;

/// The stretch from a state in which each word moves by `moves` a step. Bits that are `free` may hold anything, as long as
/// they keep it; then what is looked for must stay as it is, else it must not come. `None` when it can't be told.
pub(crate) fn stretch(
    machine: &Autonomous,
    state: &[bool],
    free: &[bool],
    moves: &[u64],
    budget: &mut Budget,
) -> Result<Option<Stretch>, Exhausted> {
    let words = Words::new(machine, moves);
    let Some(width) = words.width().filter(|w| *w <= MOST_WIDTH) else { return Ok(None) };
    let mut net = Netlist::new();
    let time: Vec<Lit> = (0..width).map(|_| net.add_input()).collect();
    let mut now: Vec<Lit> = Vec::with_capacity(state.len());
    for (level, free) in state.iter().zip(free) {
        let lit = if *free { net.add_input() } else { Lit::from(*level) };
        now.push(lit);
    }
    let then = now.clone();
    let inputs = width as usize + free.iter().filter(|f| **f).count();
    let mut after = now.clone();
    for (bits, by) in &words.list {
        let first: Vec<Lit> = bits.iter().map(|k| now[*k]).collect();
        let moved = plus_times(&mut net, &first, *by, &time);
        let next = plus(&mut net, &moved, &constant(*by, moved.len()));
        for ((k, lit), later) in bits.iter().zip(moved).zip(next) {
            now[*k] = lit;
            after[*k] = later;
        }
    }
    let mut roots = machine.next.clone();
    roots.push(machine.bad);
    let mut found = import(&mut net, &machine.net, &now, &roots);
    let mut bad = found.pop().unwrap_or(Lit::FALSE);
    if free.iter().any(|f| *f) {
        let first = import(&mut net, &machine.net, &then, &[machine.bad]);
        bad = net.xor(bad, first[0]);
    }
    let mut other = vec![bad];
    for (is, should) in found.iter().zip(&after) {
        other.push(net.xor(*is, *should));
    }
    let other = net.any(other);
    first_time(&net, inputs, &time, other, budget)
}

/// The least number of which the literal can be 1.
fn first_time(
    net: &Netlist,
    inputs: usize,
    time: &[Lit],
    other: Lit,
    budget: &mut Budget,
) -> Result<Option<Stretch>, Exhausted> {
    let mut sweep = Sweep::new(net, inputs, &[other], budget)?;
    sweep.take_over();
    let goal = sweep.lit(other);
    let mut model = match sweep.seen_true(&[other]) {
        Some(model) => model,
        None => match sweep.solve(&[goal], EFFORT, budget)? {
            Answer::Never => return Ok(Some(Stretch::Endless)),
            Answer::Unsure => return Ok(None),
            Answer::Model(model) => model,
        },
    };
    let mut fixed = vec![goal];
    for k in (0..time.len()).rev() {
        let bit = sweep.lit(time[k]);
        if model[k] {
            fixed.push(!bit);
            match sweep.solve(&fixed, EFFORT, budget)? {
                Answer::Model(found) => {
                    model = found;
                    continue;
                }
                Answer::Never => {
                    fixed.pop();
                    fixed.push(bit);
                }
                Answer::Unsure => return Ok(None),
            }
        } else {
            fixed.push(!bit);
        }
    }
    let value = model[..time.len()].iter().enumerate().fold(0u64, |v, (k, bit)| v | u64::from(*bit) << k);
    Ok(Some(Stretch::Length(value)))
}

/// Words that move: their bits from the least significant one up, and by how much.
struct Words {
    list: Vec<(Vec<usize>, u64)>,
}

impl Words {
    fn new(machine: &Autonomous, moves: &[u64]) -> Self {
        let mut bits: Vec<Vec<(u32, usize)>> = vec![Vec::new(); moves.len()];
        for (k, (word, place)) in machine.words.iter().enumerate() {
            bits[*word as usize].push((*place, k));
        }
        let list = bits
            .into_iter()
            .zip(moves)
            .filter(|(_, by)| **by != 0)
            .map(|(mut bits, by)| {
                bits.sort_unstable();
                (bits.into_iter().map(|(_, k)| k).collect(), *by)
            })
            .collect();
        Self { list }
    }

    /// Steps after which all of them are back, as a power of two.
    fn width(&self) -> Option<u32> {
        self.list.iter().map(|(bits, _)| bits.len() as u32).max()
    }
}

fn constant(value: u64, width: usize) -> Vec<Lit> {
    (0..width).map(|k| Lit::from(k < 64 && value >> k & 1 == 1)).collect()
}

fn plus(net: &mut Netlist, a: &[Lit], b: &[Lit]) -> Vec<Lit> {
    let mut carry = Lit::FALSE;
    let mut sum = Vec::with_capacity(a.len());
    for (a, b) in a.iter().zip(b) {
        let half = net.xor(*a, *b);
        sum.push(net.xor(half, carry));
        let (both, either) = (net.and(*a, *b), net.and(half, carry));
        carry = net.or(both, either);
    }
    sum
}

/// A word and a constant times a number, modulo the word's size.
fn plus_times(net: &mut Netlist, word: &[Lit], by: u64, time: &[Lit]) -> Vec<Lit> {
    let width = word.len();
    let shifted = |k: usize, flip: bool| -> Vec<Lit> {
        (0..width)
            .map(|i| {
                let lit = if i >= k { time.get(i - k).copied().unwrap_or(Lit::FALSE) } else { Lit::FALSE };
                if flip { !lit } else { lit }
            })
            .collect()
    };
    let mask = if width >= 64 { u64::MAX } else { (1 << width) - 1 };
    let back = by.wrapping_neg() & mask;
    let mut sum = word.to_vec();
    if back.count_ones() < by.count_ones() {
        // Minus something times the number: its complement and one more.
        for k in (0..width).filter(|k| back >> k & 1 == 1) {
            sum = plus(net, &sum, &shifted(k, true));
            sum = plus(net, &sum, &constant(1, width));
        }
        return sum;
    }
    for k in (0..width).filter(|k| by >> k & 1 == 1) {
        sum = plus(net, &sum, &shifted(k, false));
    }
    sum
}
