//! Machines made from rules: state tables (Moore and Mealy) and lists of patterns.

use crate::machine::{Machine, OutputTap, Source};
use base::{FileId, Id, Span};
use design::{AsyncControl, InputBit, Lit, Netlist, OutputBit, Register};
use logic::RowSet;

/// What a rule's machine listens to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Builder {
    /// Number of common inputs, the reset among them.
    pub inputs: u32,
    /// The clock edge that counts goes up.
    pub rising: bool,
    /// Number of the reset input, whether it resets at 1, and whether it waits for the clock edge.
    pub reset: Option<(u32, bool, bool)>,
}

/// A way out of a state.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Guard {
    /// Rows of the inputs without the reset, on which it is taken, unless an earlier one is.
    pub when: RowSet,
    /// The state it leads to.
    pub to: usize,
    /// Output bits while it is taken (Mealy); `None` for those of the state.
    pub outputs: Option<Vec<Option<bool>>>,
}

/// A state of a table.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct StateRule {
    /// Output bits; `None` for a don't-care.
    pub outputs: Vec<Option<bool>>,
    /// Ways out, the first that holds being taken; with none the machine stays.
    pub guards: Vec<Guard>,
}

/// A netlist under construction.
struct Work {
    net: Netlist,
    clock: Lit,
    rising: bool,
    inputs: Vec<Lit>,
    /// The level that resets, and whether it waits for the edge.
    reset: Option<(Lit, bool)>,
}

impl Work {
    fn new(builder: Builder) -> Self {
        let mut net = Netlist::new();
        let input = |net: &mut Netlist, port: String| {
            let value = net.add_input();
            net.inputs.push(InputBit { port, position: 0, value });
            value
        };
        let clock = input(&mut net, "clock".into());
        let inputs: Vec<Lit> = (0..builder.inputs).map(|k| input(&mut net, format!("input {k}"))).collect();
        let reset = builder.reset.map(|(k, high, sync)| {
            let level = inputs[k as usize];
            (if high { level } else { !level }, sync)
        });
        Self { net, clock, rising: builder.rising, inputs, reset }
    }

    /// Registers that begin with the bits of a number, the least significant one first.
    fn registers(&mut self, width: u32, start: u64) -> Vec<Lit> {
        (0..width)
            .map(|i| {
                let (value, unknown) = (self.net.add_input(), self.net.add_input());
                self.net.registers.push(Register {
                    name: "state".into(),
                    position: i,
                    value,
                    unknown,
                    clock: self.clock,
                    rising: self.rising,
                    next: value,
                    next_unknown: Lit::FALSE,
                    controls: Vec::new(),
                    initial: Some(start >> i & 1 == 1),
                    span: Span::new(FileId::from_index(0), 0, 0),
                });
                value
            })
            .collect()
    }

    /// Says what registers load; the reset takes them back to their start.
    fn load(&mut self, registers: &[Lit], next: &[Lit]) {
        for (value, next) in registers.iter().zip(next) {
            let Some(number) = self.net.registers.iter().position(|r| r.value == *value) else { continue };
            let start = Lit::from(self.net.registers[number].initial == Some(true));
            let next = match self.reset {
                Some((reset, true)) => self.net.mux(reset, start, *next),
                _ => *next,
            };
            let register = &mut self.net.registers[number];
            register.next = next;
            if let Some((reset, false)) = self.reset {
                register.controls = vec![AsyncControl { condition: reset, value: start, unknown: Lit::FALSE }];
            }
        }
    }

    fn equals(&mut self, word: &[Lit], number: u64) -> Lit {
        let bits: Vec<Lit> =
            word.iter().enumerate().map(|(i, l)| if number >> i & 1 == 1 { *l } else { !*l }).collect();
        self.net.all(bits)
    }

    fn plus_one(&mut self, word: &[Lit]) -> Vec<Lit> {
        let mut carry = Lit::TRUE;
        let mut out = Vec::new();
        for bit in word {
            out.push(self.net.xor(*bit, carry));
            carry = self.net.and(*bit, carry);
        }
        out
    }

    fn choose(&mut self, condition: Lit, then: &[Lit], otherwise: &[Lit]) -> Vec<Lit> {
        then.iter().zip(otherwise).map(|(t, o)| self.net.mux(condition, *t, *o)).collect()
    }

    /// 1 on the rows of a set over the inputs without the reset, the first input being the most significant.
    fn rows(&mut self, set: &RowSet, inputs: &[Lit]) -> Lit {
        self.rows_from(set, inputs, 0)
    }

    fn rows_from(&mut self, set: &RowSet, inputs: &[Lit], base: u64) -> Lit {
        let Some((first, rest)) = inputs.split_first() else { return Lit::from(set.contains(base)) };
        let half = 1u64 << rest.len();
        let low = self.rows_from(set, rest, base);
        let high = self.rows_from(set, rest, base + half);
        self.net.mux(*first, high, low)
    }

    fn free_inputs(&self) -> Vec<Lit> {
        let reset = self.reset.map(|(l, _)| l.node());
        self.inputs.iter().copied().filter(|l| Some(l.node()) != reset).collect()
    }

    fn output(&mut self, value: Lit, unknown: Lit) {
        let port = format!("output {}", self.net.outputs.len());
        self.net.outputs.push(OutputBit { port, position: 0, value, unknown, floating: Lit::FALSE });
    }
}

/// Bits that count to below `count`.
fn bits_for(count: u64) -> u32 {
    64 - count.saturating_sub(1).leading_zeros()
}

/// The machine of a state table, which begins in state `initial`.
pub fn machine_of_states(builder: Builder, states: &[StateRule], initial: usize) -> Netlist {
    let mut work = Work::new(builder);
    let free = work.free_inputs();
    let width = bits_for(states.len() as u64).max(1);
    let state = work.registers(width, initial as u64);
    let outputs = states.first().map_or(0, |s| s.outputs.len());
    let mut next: Vec<Lit> = state.clone();
    let mut values = vec![Lit::FALSE; outputs];
    let mut unknowns = vec![Lit::FALSE; outputs];
    for (number, rule) in states.iter().enumerate() {
        let here = work.equals(&state, number as u64);
        let level = |bit: &Option<bool>| (Lit::from(*bit == Some(true)), Lit::from(bit.is_none()));
        let mut bits: Vec<(Lit, Lit)> = rule.outputs.iter().map(level).collect();
        let mut to: Vec<Lit> = state.clone();
        // The first guard counts, so it is laid on last.
        for guard in rule.guards.iter().rev() {
            let taken = work.rows(&guard.when, &free);
            let code: Vec<Lit> = (0..width).map(|i| Lit::from(guard.to >> i & 1 == 1)).collect();
            to = work.choose(taken, &code, &to);
            let own = guard.outputs.as_ref().unwrap_or(&rule.outputs);
            for (bit, wanted) in bits.iter_mut().zip(own) {
                let (value, unknown) = level(wanted);
                *bit = (work.net.mux(taken, value, bit.0), work.net.mux(taken, unknown, bit.1));
            }
        }
        next = work.choose(here, &to, &next);
        for (k, (value, unknown)) in bits.into_iter().enumerate() {
            values[k] = work.net.mux(here, value, values[k]);
            unknowns[k] = work.net.mux(here, unknown, unknowns[k]);
        }
    }
    work.load(&state, &next);
    for (value, unknown) in values.into_iter().zip(unknowns) {
        work.output(value, unknown);
    }
    work.net
}

/// The machine that shows patterns one after the other, each for `step_cycles` clock cycles.
pub fn machine_of_patterns(
    builder: Builder,
    patterns: &[Vec<Option<bool>>],
    step_cycles: u64,
    repeat: bool,
) -> Netlist {
    let mut work = Work::new(builder);
    let divider = work.registers(bits_for(step_cycles), 0);
    let place = work.registers(bits_for(patterns.len() as u64), 0);
    let full = work.equals(&divider, step_cycles - 1);
    let zeros = vec![Lit::FALSE; divider.len()];
    let up = work.plus_one(&divider);
    let next = work.choose(full, &zeros, &up);
    work.load(&divider, &next);
    let last = work.equals(&place, patterns.len() as u64 - 1);
    let up = work.plus_one(&place);
    let after_last = if repeat { vec![Lit::FALSE; place.len()] } else { place.clone() };
    let stepped = work.choose(last, &after_last, &up);
    let next = work.choose(full, &stepped, &place);
    work.load(&place, &next);
    for k in 0..patterns.first().map_or(0, Vec::len) {
        let (mut value, mut unknown) = (Lit::FALSE, Lit::FALSE);
        for (number, pattern) in patterns.iter().enumerate() {
            let here = work.equals(&place, number as u64);
            value = work.net.mux(here, Lit::from(pattern[k] == Some(true)), value);
            unknown = work.net.mux(here, Lit::from(pattern[k].is_none()), unknown);
        }
        work.output(value, unknown);
    }
    work.net
}

impl Builder {
    /// A rule's netlist as a machine with all its outputs.
    pub fn machine<'n>(&self, net: &'n Netlist) -> Machine<'n> {
        let inputs = (0..self.inputs).map(|k| Some(Source::Input(k, false)));
        let outputs = (0..net.outputs.len()).map(|number| Some(OutputTap { number, complement: false }));
        Machine {
            net,
            inputs: [Some(Source::Clock(false))].into_iter().chain(inputs).collect(),
            outputs: outputs.collect(),
        }
    }
}
