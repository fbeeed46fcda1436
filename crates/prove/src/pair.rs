//! Two machines in step: the same inputs, the same clock, their outputs side by side.

use crate::machine::{Machine, Protocol, RESET_CYCLES, Running};
use crate::transpose::transpose;
use base::{Budget, Exhausted, Random};

/// A state of both machines on one lane, packed.
pub(crate) type Key = Box<[u64]>;

pub(crate) struct Pair<'n> {
    pub(crate) reference: Running<'n>,
    pub(crate) design: Running<'n>,
    pub(crate) protocol: Protocol,
    outputs: usize,
    split: usize,
    bits: usize,
    plain: bool,
    pub(crate) machines: [Machine<'n>; 2],
    /// Nothing behind the first difference is of interest.
    pub(crate) first_only: bool,
}

/// Moments of a clock cycle at which outputs are compared.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Phase {
    /// The inputs are there, the edge has not come.
    Before,
    /// The edge has come.
    After,
    /// The clock has gone back.
    Back,
}

impl<'n> Pair<'n> {
    pub(crate) fn new(reference: &Machine<'n>, design: &Machine<'n>, protocol: Protocol) -> Self {
        let machines = [reference.clone(), design.clone()];
        let (reference, design_run) = (Running::new(reference, &protocol), Running::new(design, &protocol));
        let split = reference.state().len();
        let bits = split + design_run.state().len();
        let plain = reference.is_plain() && design_run.is_plain();
        Self {
            reference,
            design: design_run,
            protocol,
            outputs: design.outputs.len(),
            split,
            bits,
            plain,
            machines,
            first_only: false,
        }
    }

    /// Both have one clock, whose edge that counts loads all registers.
    pub(crate) fn is_plain(&self) -> bool {
        self.plain
    }

    pub(crate) fn outputs(&self) -> usize {
        self.outputs
    }

    /// Steps of the budget for one clock cycle on 64 lanes.
    pub(crate) fn cost(&self) -> u64 {
        let once = self.reference.lanes.cost() + self.design.lanes.cost();
        if self.plain { once } else { 4 * once }
    }

    pub(crate) fn set_input(&mut self, k: usize, word: u64) {
        self.reference.set_input(k, word);
        self.design.set_input(k, word);
    }

    /// Lanes on which an output is not as the reference has it.
    fn wrong(&self) -> u64 {
        let mut wrong = 0;
        for k in 0..self.outputs {
            let [value, unknown, _] = self.reference.output(k);
            let [actual, actual_unknown, _] = self.design.output(k);
            wrong |= !unknown & (actual_unknown | (value ^ actual));
        }
        wrong
    }

    /// One clock cycle with the inputs that were set. `see` is called at each moment with the lanes that are wrong.
    pub(crate) fn cycle(
        &mut self,
        budget: &mut Budget,
        mut see: impl FnMut(&Self, Phase, u64),
    ) -> Result<(), Exhausted> {
        if self.plain {
            budget.spend(self.cost())?;
            self.reference.lanes.settle_plain();
            self.design.lanes.settle_plain();
            see(self, Phase::Before, self.wrong());
            self.reference.lanes.tick_plain();
            self.design.lanes.tick_plain();
            return Ok(());
        }
        for (phase, high) in [
            (Phase::Before, !self.protocol.rising),
            (Phase::After, self.protocol.rising),
            (Phase::Back, !self.protocol.rising),
        ] {
            for machine in [&mut self.reference, &mut self.design] {
                machine.set_clock(high);
                machine.settle(budget)?;
            }
            see(self, phase, self.wrong());
        }
        Ok(())
    }

    /// Words of both states, a lane a bit.
    pub(crate) fn words(&self) -> Vec<u64> {
        let mut words = self.reference.state();
        words.extend(self.design.state());
        words
    }

    pub(crate) fn set_words(&mut self, words: &[u64]) {
        self.reference.set_state(&words[..self.split]);
        self.design.set_state(&words[self.split..]);
    }

    /// The states of the first lanes.
    pub(crate) fn keys(&self, lanes: usize) -> Vec<Key> {
        let words = self.words();
        let mut keys = vec![vec![0u64; words.len().div_ceil(64)]; lanes];
        for (chunk, part) in words.chunks(64).enumerate() {
            let mut block = [0u64; 64];
            block[..part.len()].copy_from_slice(part);
            transpose(&mut block);
            for (key, word) in keys.iter_mut().zip(block) {
                key[chunk] = word;
            }
        }
        keys.into_iter().map(Vec::into_boxed_slice).collect()
    }

    /// Puts a state on each lane; lanes without one take the first.
    pub(crate) fn set_keys(&mut self, keys: &[&Key]) {
        let Some(first) = keys.first() else { return };
        let mut words = Vec::with_capacity(self.bits);
        for chunk in 0..first.len() {
            let mut block = [0u64; 64];
            for (lane, word) in block.iter_mut().enumerate() {
                *word = keys.get(lane).unwrap_or(first)[chunk];
            }
            transpose(&mut block);
            words.extend(block.iter().take(self.bits - 64 * chunk));
        }
        self.set_words(&words);
    }

    /// From power-up through the reset, other inputs being anything: the states in which the comparison begins, the one
    /// with all other inputs at 0 first.
    pub(crate) fn start(&mut self, budget: &mut Budget) -> Result<Vec<Key>, Exhausted> {
        for machine in [&mut self.reference, &mut self.design] {
            machine.set_clock(!self.protocol.rising);
            machine.lanes.power_up();
        }
        let Some(reset) = self.protocol.reset else { return Ok(vec![self.keys(1).swap_remove(0)]) };
        let mut random = Random::new(0);
        for k in 0..self.protocol.inputs {
            // Lane 0 all 0, lane 1 all 1, the others any.
            let word =
                if k == reset.input { if reset.active_high { u64::MAX } else { 0 } } else { random.word() & !3 | 2 };
            self.set_input(k as usize, word);
        }
        for _ in 0..RESET_CYCLES {
            self.cycle(budget, |_, _, _| {})?;
        }
        self.set_input(reset.input as usize, if reset.active_high { 0 } else { u64::MAX });
        // Letting go of the reset may itself be an edge.
        for machine in [&mut self.reference, &mut self.design] {
            if self.plain {
                machine.lanes.settle_plain();
            } else {
                machine.settle(budget)?;
            }
        }
        let mut roots: Vec<Key> = Vec::new();
        for key in self.keys(64) {
            if !roots.contains(&key) {
                roots.push(key);
            }
        }
        Ok(roots)
    }

    /// Register bits of the design that are unknown in a state, as places of the key.
    pub(crate) fn unknown_places(&self, key: &Key) -> Vec<usize> {
        let registers = self.design.lanes.netlist().registers.len();
        (0..registers).map(|r| self.split + 2 * r + 1).filter(|b| key[b / 64] >> (b % 64) & 1 == 1).collect()
    }

    /// The register of the design at a place of [`unknown_places`](Self::unknown_places).
    pub(crate) fn register_at(&self, place: usize) -> usize {
        (place - self.split - 1) / 2
    }
}
