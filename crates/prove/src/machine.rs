//! A netlist with what it is compared by: where its inputs come from and which of its outputs count.

use base::{Budget, Exhausted};
use design::{Lanes, Lit, Netlist};

/// Where the level of a netlist's input comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Source {
    /// The clock, or its complement.
    Clock(bool),
    /// A common input by number, or its complement.
    Input(u32, bool),
}

/// An output that is compared.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct OutputTap {
    /// Its number in [`Netlist::outputs`].
    pub number: usize,
    /// Compare its complement.
    pub complement: bool,
}

/// A netlist and how it is joined to the common inputs and outputs.
#[derive(Clone, Debug)]
pub struct Machine<'n> {
    /// Its logic.
    pub net: &'n Netlist,
    /// For each bit of [`Netlist::inputs`]; others are 0.
    pub inputs: Vec<Option<Source>>,
    /// The compared outputs in common order; `None` where the machine has none, which is unknown.
    pub outputs: Vec<Option<OutputTap>>,
}

/// The input that resets.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Reset {
    /// Its number among the common inputs.
    pub input: u32,
    /// It resets at 1.
    pub active_high: bool,
}

/// How the machines are driven.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Protocol {
    /// Number of common inputs, the reset among them.
    pub inputs: u32,
    /// The clock edge that counts goes up.
    pub rising: bool,
    /// The reset that is held at the start.
    pub reset: Option<Reset>,
}

/// Clock cycles that the reset is held at the start.
pub(crate) const RESET_CYCLES: u32 = 2;

/// A machine that runs, in 64 lanes at once.
pub struct Running<'n> {
    pub(crate) lanes: Lanes<'n>,
    /// Input numbers of the netlist with their complement, for each common input.
    inputs: Vec<Vec<(usize, bool)>>,
    clocks: Vec<(usize, bool)>,
    outputs: Vec<Option<[Lit; 3]>>,
    main: Option<Lit>,
    plain: bool,
}

impl<'n> Running<'n> {
    /// A machine whose inputs are 0 and whose registers are unknown.
    pub fn new(machine: &Machine<'n>, protocol: &Protocol) -> Self {
        let lanes = Lanes::new(machine.net);
        let mut inputs = vec![Vec::new(); protocol.inputs as usize];
        let mut clocks = Vec::new();
        for (number, source) in machine.inputs.iter().enumerate() {
            match source {
                Some(Source::Clock(complement)) => clocks.push((number, *complement)),
                Some(Source::Input(k, complement)) => inputs[*k as usize].push((number, *complement)),
                None => {}
            }
        }
        let outputs = machine.outputs.iter().map(|tap| {
            tap.map(|t| {
                let bit = &machine.net.outputs[t.number];
                [if t.complement { !bit.value } else { bit.value }, bit.unknown, bit.floating]
            })
        });
        let main = match clocks.as_slice() {
            [(number, _)] => Some(machine.net.inputs[*number].value),
            _ => None,
        };
        let rising = clocks.first().is_none_or(|(_, complement)| protocol.rising != *complement);
        let plain = clocks.len() <= 1 && lanes.is_plain(main, rising);
        let outputs = outputs.collect();
        Self { lanes, inputs, clocks, outputs, main, plain }
    }

    /// One edge of its only clock loads every register, and nothing else reads that clock.
    pub fn is_plain(&self) -> bool {
        self.plain
    }

    /// The machine's only clock.
    pub(crate) fn main(&self) -> Option<Lit> {
        self.main
    }

    /// Gives a common input its level in each lane.
    pub fn set_input(&mut self, input: usize, word: u64) {
        for (number, complement) in &self.inputs[input] {
            self.lanes.set_input(*number, if *complement { !word } else { word });
        }
    }

    /// Gives the clock its level in all lanes.
    pub fn set_clock(&mut self, high: bool) {
        for (number, complement) in &self.clocks {
            self.lanes.set_input(*number, if high != *complement { u64::MAX } else { 0 });
        }
    }

    /// Gives the registers their levels at power-up.
    pub fn power_up(&mut self) {
        self.lanes.power_up();
    }

    /// Lets the levels settle; an edge of the clock since the last time loads the registers.
    ///
    /// # Errors
    /// When the budget runs out, or the logic never comes to rest.
    pub fn settle(&mut self, budget: &mut Budget) -> Result<(), Exhausted> {
        self.lanes.settle(budget)
    }

    /// Value, unknown and floating rails of a compared output.
    pub fn output(&self, k: usize) -> [u64; 3] {
        self.outputs[k].map_or([0, u64::MAX, 0], |rails| rails.map(|l| self.lanes.value(l)))
    }

    /// The level of each register in a lane; `None` where it is unknown.
    pub fn registers(&self, lane: u32) -> Vec<Option<bool>> {
        let bit = |lit: Lit| self.lanes.value(lit) >> lane & 1 == 1;
        let registers = self.lanes.netlist().registers.iter();
        registers.map(|r| (!bit(r.unknown)).then(|| bit(r.value))).collect()
    }

    /// What is kept from one moment to the next in the first lane: registers and the clocks' last levels.
    pub fn kept(&self) -> Vec<bool> {
        self.state().iter().map(|word| word & 1 == 1).collect()
    }

    /// Words of the state in 64 lanes, as [`Lanes::state`] has them without a main clock.
    pub fn words(&self) -> Vec<u64> {
        self.lanes.state(None)
    }

    /// Takes up such words; they are of this machine.
    pub fn set_words(&mut self, words: &[u64]) {
        self.lanes.set_state(words, None);
    }

    /// Goes on, in all lanes, from what was kept; false, and nothing changed, when it is not of this machine.
    pub fn resume(&mut self, kept: &[bool]) -> bool {
        let fits = kept.len() == self.state().len();
        if fits {
            self.set_state(&kept.iter().map(|bit| if *bit { u64::MAX } else { 0 }).collect::<Vec<u64>>());
        }
        fits
    }

    pub(crate) fn state(&self) -> Vec<u64> {
        self.lanes.state(self.main)
    }

    pub(crate) fn set_state(&mut self, words: &[u64]) {
        self.lanes.set_state(words, self.main);
    }
}
