//! What of a reference was seen in a run: a design that matched while nothing moved has shown nothing.

use crate::closed::{Autonomous, Program};
use crate::frame::Frame;
use crate::pair::{Key, Pair};
use crate::parts::constant_bits;
use base::{Budget, Exhausted};
use design::{Lit, Netlist};
use std::collections::HashSet;

/// States of the reference alone that are searched to find out which of its bits ever move.
const MOST_STATES: usize = 20_000;
/// Inputs of which all combinations are tried there.
const MOST_INPUTS: usize = 8;

/// A bit of a reference that was at one level only.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum StillBit {
    /// A register's bit.
    Register {
        /// The register's name.
        name: String,
        /// Places above the least significant bit.
        position: u32,
        /// Its place in the reference's state.
        place: usize,
    },
    /// An output, by number.
    Output(usize),
}

/// Bits of a reference that were at one level only in what was run, with that level, though nothing says that they never
/// leave it.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Unseen {
    /// The bits.
    pub bits: Vec<(StillBit, bool)>,
}

impl Unseen {
    /// Everything was seen.
    pub fn is_empty(&self) -> bool {
        self.bits.is_empty()
    }

    /// A moment of the reference: those bits that have the other level are seen.
    pub(crate) fn look(&mut self, state: &[bool], outputs: &[bool]) {
        self.bits.retain(|(bit, level)| match bit {
            StillBit::Register { place, .. } => state.get(*place) == Some(level),
            StillBit::Output(k) => outputs.get(*k) == Some(level),
        });
    }
}

/// Levels that a reference's registers and outputs had.
pub(crate) struct Seen {
    /// For each register, then for each output: was 0, was 1.
    bits: Vec<[bool; 2]>,
}

impl Seen {
    pub(crate) fn new(pair: &Pair<'_>) -> Self {
        Self { bits: vec![[false; 2]; pair.reference.lanes.netlist().registers.len() + pair.outputs()] }
    }

    /// What it holds and shows now, on some lanes.
    pub(crate) fn look(&mut self, pair: &Pair<'_>, lanes: u64) {
        let registers = pair.reference.lanes.netlist().registers.len();
        let state = pair.reference.state();
        let held = state[..2 * registers].chunks_exact(2).map(|s| [s[0], s[1]]);
        let shown = (0..pair.outputs()).map(|k| pair.reference.output(k)).map(|[value, unknown, _]| [value, unknown]);
        for (seen, [value, unknown]) in self.bits.iter_mut().zip(held.chain(shown)) {
            let known = !unknown & lanes;
            seen[0] |= known & !value != 0;
            seen[1] |= known & value != 0;
        }
    }

    /// What had one level only, of what may have another.
    pub(crate) fn unseen(&self, pair: &Pair<'_>, root: &Key, budget: &mut Budget) -> Result<Unseen, Exhausted> {
        let registers = &pair.machines[0].net.registers;
        let mut unseen = Unseen::default();
        for (k, seen) in self.bits.iter().enumerate() {
            // What was never known at all says nothing.
            if seen[0] == seen[1] {
                continue;
            }
            let bit = match registers.get(k) {
                Some(r) => StillBit::Register { name: r.name.clone(), position: r.position, place: 2 * k },
                None => StillBit::Output(k - registers.len()),
            };
            unseen.bits.push((bit, seen[1]));
        }
        if !unseen.is_empty() {
            Moves::new(pair).explain(&mut unseen, root, budget)?;
        }
        Ok(unseen)
    }
}

/// The reference alone, its inputs behind its state.
struct Moves {
    machine: Autonomous,
    outputs: Vec<Lit>,
    bits: usize,
    inputs: usize,
}

impl Moves {
    fn new(pair: &Pair<'_>) -> Self {
        let frame = Frame::new(&pair.machines[0], &pair.protocol, pair.is_plain(), pair.reference.main());
        let bits = pair.reference.state().len();
        let inputs = pair.protocol.inputs as usize;
        let mut net = Netlist::new();
        let all: Vec<Lit> = (0..bits + inputs).map(|_| net.add_input()).collect();
        let cycle = frame.cycle(&mut net, &all[bits..], &all[..bits]);
        let outputs = cycle.seen.first().map(|list| list.iter().map(|[value, _]| *value).collect()).unwrap_or_default();
        let words = (0..bits as u32).map(|k| (k, 0)).collect();
        Self { machine: Autonomous { net, next: cycle.next, bad: Lit::FALSE, words }, outputs, bits, inputs }
    }

    /// Takes out what can't move: constants, and what no state has that the reference alone can reach where those are few.
    fn explain(&self, unseen: &mut Unseen, root: &Key, budget: &mut Budget) -> Result<(), Exhausted> {
        let start: Vec<bool> = (0..self.bits).map(|b| root[b / 64] >> (b % 64) & 1 == 1).collect();
        let constant = constant_bits(&self.machine, &start, budget)?;
        unseen.bits.retain(|(bit, _)| match bit {
            StillBit::Register { place, .. } => !constant[*place],
            StillBit::Output(k) => !self.outputs.get(*k).is_some_and(|l| l.is_const()),
        });
        if unseen.is_empty() || self.inputs > MOST_INPUTS {
            return Ok(());
        }
        let mut still = unseen.clone();
        if self.walk(&start, &mut still, budget)? {
            *unseen = Unseen { bits: unseen.bits.drain(..).filter(|bit| !still.bits.contains(bit)).collect() };
        }
        Ok(())
    }

    /// Goes through all states, leaving in `still` what never moves; false where they are too many.
    fn walk(&self, start: &[bool], still: &mut Unseen, budget: &mut Budget) -> Result<bool, Exhausted> {
        let roots: Vec<Lit> = self.machine.next.iter().chain(&self.outputs).copied().collect();
        let mut program = Program::new(&self.machine.net, self.bits + self.inputs, &roots);
        let mut known: HashSet<Vec<bool>> = HashSet::from([start.to_vec()]);
        let mut open = vec![start.to_vec()];
        let mut share = budget.clone().with_steps(budget.steps_left() / 8);
        while let Some(state) = open.pop() {
            for combination in 0..1u64 << self.inputs {
                if share.spend(program.cost()).is_err() || known.len() > MOST_STATES {
                    return Ok(false);
                }
                let mut all = state.clone();
                all.extend((0..self.inputs).map(|k| combination >> k & 1 == 1));
                program.run(&all);
                let outputs: Vec<bool> = (0..self.outputs.len()).map(|k| program.output(self.bits + k)).collect();
                still.look(&state, &outputs);
                let next: Vec<bool> = (0..self.bits).map(|k| program.output(k)).collect();
                if known.insert(next.clone()) {
                    open.push(next);
                }
            }
        }
        Ok(true)
    }
}
