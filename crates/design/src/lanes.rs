//! Runs a netlist with its registers, 64 independent lanes at a time.
//!
//! Levels are two-valued with a second rail for "unknown", as in the netlist. An edge loads all registers of its clock
//! at once; what that changes may make further edges (clocks made by other registers), which follow until nothing moves.

use crate::netlist::{Lit, Netlist, Node};
use base::{Budget, Exhausted, Id, Resource};
use std::collections::BTreeMap;

/// Where a literal is found: a place in the values and a word that complements it.
type Tap = (u32, u64);

struct RegisterTaps {
    value: u32,
    unknown: u32,
    clock: usize,
    rising: bool,
    next: Tap,
    next_unknown: Tap,
    controls: Vec<[Tap; 3]>,
}

/// A netlist that runs.
pub struct Lanes<'n> {
    net: &'n Netlist,
    slots: Vec<u32>,
    program: Vec<(u32, [Tap; 2])>,
    values: Vec<u64>,
    clocks: Vec<Tap>,
    clock_literals: Vec<Lit>,
    before: Vec<u64>,
    registers: Vec<RegisterTaps>,
    /// New levels of the registers while an edge loads them.
    loaded: Vec<[u64; 2]>,
}

impl<'n> Lanes<'n> {
    /// Prepares a netlist: all inputs are 0, all registers have their power-up level or are unknown.
    pub fn new(net: &'n Netlist) -> Self {
        let mut roots: Vec<Lit> = vec![Lit::FALSE];
        roots.extend(net.outputs.iter().flat_map(|o| [o.value, o.unknown, o.floating]));
        roots.extend(net.inputs.iter().map(|i| i.value));
        for r in &net.registers {
            roots.extend([r.value, r.unknown, r.clock, r.next, r.next_unknown]);
            roots.extend(r.controls.iter().flat_map(|c| [c.condition, c.value, c.unknown]));
        }
        let cone = net.cone(&roots);
        let mut slots = vec![u32::MAX; net.len()];
        for (i, id) in cone.iter().enumerate() {
            slots[id.index()] = i as u32;
        }
        let tap = |l: Lit| -> Tap { (slots[l.node().index()], if l.is_complement() { u64::MAX } else { 0 }) };
        let mut program = Vec::new();
        for (i, id) in cone.iter().enumerate() {
            if let Node::And(a, b) = net.node(*id) {
                program.push((i as u32, [tap(a), tap(b)]));
            }
        }
        let mut clock_literals: Vec<Lit> = Vec::new();
        let registers = net
            .registers
            .iter()
            .map(|r| {
                // A complemented clock is the clock with the other edge.
                let plain = if r.clock.is_complement() { !r.clock } else { r.clock };
                let clock = clock_literals.iter().position(|c| *c == plain).unwrap_or_else(|| {
                    clock_literals.push(plain);
                    clock_literals.len() - 1
                });
                RegisterTaps {
                    value: tap(r.value).0,
                    unknown: tap(r.unknown).0,
                    clock,
                    rising: r.rising != r.clock.is_complement(),
                    next: tap(r.next),
                    next_unknown: tap(r.next_unknown),
                    controls: r.controls.iter().map(|c| [tap(c.condition), tap(c.value), tap(c.unknown)]).collect(),
                }
            })
            .collect::<Vec<_>>();
        let clocks: Vec<Tap> = clock_literals.iter().map(|c| tap(*c)).collect();
        let values = vec![0; cone.len()];
        let (before, loaded) = (vec![0; clocks.len()], vec![[0; 2]; registers.len()]);
        let mut lanes = Self { net, slots, program, values, clocks, clock_literals, before, registers, loaded };
        lanes.power_up();
        lanes
    }

    /// All registers to their power-up level; those without one are unknown.
    pub fn power_up(&mut self) {
        for (taps, register) in self.registers.iter().zip(&self.net.registers) {
            let fill = |bit: bool| if bit { u64::MAX } else { 0 };
            self.values[taps.value as usize] = fill(register.initial == Some(true));
            self.values[taps.unknown as usize] = fill(register.initial.is_none());
        }
        self.evaluate();
        self.remember_clocks();
    }

    /// The netlist.
    pub fn netlist(&self) -> &'n Netlist {
        self.net
    }

    /// Steps of the budget that one pass through the logic takes.
    pub fn cost(&self) -> u64 {
        (self.program.len() + self.registers.len()) as u64 + 8
    }

    /// True when every register loads at one edge of one input that is used for nothing else: then a clock cycle is one
    /// pass through the logic.
    pub fn is_plain(&self, clock: Option<Lit>, rising: bool) -> bool {
        if self.registers.is_empty() {
            return true;
        }
        let Some(clock) = clock else { return false };
        let same = self.clock_literals == [clock] && self.registers.iter().all(|r| r.rising == rising);
        let slot = self.slots[clock.node().index()];
        let outputs = self.net.outputs.iter().any(|o| [o.value, o.unknown].iter().any(|l| l.node() == clock.node()));
        let loads = self
            .registers
            .iter()
            .any(|r| r.next.0 == slot || r.next_unknown.0 == slot || r.controls.iter().flatten().any(|t| t.0 == slot));
        same && !outputs && !loads && !self.program.iter().any(|(_, t)| t.iter().any(|t| t.0 == slot))
    }

    /// Puts levels on an input, by its number in [`Netlist::inputs`].
    pub fn set_input(&mut self, number: usize, word: u64) {
        let slot = self.slots[self.net.inputs[number].value.node().index()];
        self.values[slot as usize] = word;
    }

    fn read(&self, (slot, flip): Tap) -> u64 {
        self.values[slot as usize] ^ flip
    }

    /// The levels of a literal of the netlist's outputs, inputs or registers, as of the last pass.
    pub fn value(&self, lit: Lit) -> u64 {
        let flip = if lit.is_complement() { u64::MAX } else { 0 };
        self.read((self.slots[lit.node().index()], flip))
    }

    /// Passes the levels of inputs and registers through the logic.
    pub fn evaluate(&mut self) {
        for (i, [(a, fa), (b, fb)]) in &self.program {
            self.values[*i as usize] = (self.values[*a as usize] ^ fa) & (self.values[*b as usize] ^ fb);
        }
    }

    fn remember_clocks(&mut self) {
        for (before, tap) in self.before.iter_mut().zip(&self.clocks) {
            *before = self.values[tap.0 as usize] ^ tap.1;
        }
    }

    /// Loads the registers whose mask is set; true when a level changed.
    fn load(&mut self, mask: impl Fn(&RegisterTaps) -> u64) -> bool {
        let mut changed = 0;
        for (r, new) in self.registers.iter().zip(&mut self.loaded) {
            let read = |t: Tap| self.values[t.0 as usize] ^ t.1;
            let edge = mask(r);
            let (old, old_unknown) = (self.values[r.value as usize], self.values[r.unknown as usize]);
            let mut value = old & !edge | read(r.next) & edge;
            let mut unknown = old_unknown & !edge | read(r.next_unknown) & edge;
            let mut open = u64::MAX;
            for [condition, level, level_unknown] in &r.controls {
                let taken = read(*condition) & open;
                value = value & !taken | read(*level) & taken;
                unknown = unknown & !taken | read(*level_unknown) & taken;
                open &= !taken;
            }
            value &= !unknown;
            *new = [value, unknown];
            changed |= (value ^ old) | (unknown ^ old_unknown);
        }
        if changed != 0 {
            for (r, new) in self.registers.iter().zip(&self.loaded) {
                self.values[r.value as usize] = new[0];
                self.values[r.unknown as usize] = new[1];
            }
        }
        changed != 0
    }

    /// Passes levels through the logic and lets edges load registers until nothing moves.
    ///
    /// # Errors
    /// When the budget runs out or the design never comes to rest.
    pub fn settle(&mut self, budget: &mut Budget) -> Result<(), Exhausted> {
        let cost = self.cost();
        for _ in 0..2 * self.clocks.len() + 16 {
            budget.spend(cost)?;
            self.evaluate();
            let edges: Vec<[u64; 2]> = self
                .clocks
                .iter()
                .zip(&self.before)
                .map(|(tap, before)| {
                    let now = self.read(*tap);
                    [!before & now, before & !now]
                })
                .collect();
            self.remember_clocks();
            if !self.load(|r| edges[r.clock][usize::from(!r.rising)]) {
                return Ok(());
            }
        }
        Err(Exhausted(Resource::Rest))
    }

    /// For a netlist that [`is_plain`](Self::is_plain): lets asynchronous controls take hold, then shows the levels
    /// before the edge.
    pub fn settle_plain(&mut self) {
        self.evaluate();
        if self.registers.iter().any(|r| !r.controls.is_empty()) && self.load(|_| 0) {
            self.evaluate();
        }
    }

    /// For a netlist that [`is_plain`](Self::is_plain): the clock edge.
    pub fn tick_plain(&mut self) {
        self.load(|_| u64::MAX);
    }

    /// Words of the state: levels and unknown marks of the registers, and the levels of clocks other than `main`.
    pub fn state(&self, main: Option<Lit>) -> Vec<u64> {
        let mut words: Vec<u64> = self
            .registers
            .iter()
            .flat_map(|r| [self.values[r.value as usize], self.values[r.unknown as usize]])
            .collect();
        for (lit, before) in self.clock_literals.iter().zip(&self.before) {
            if Some(*lit) != main {
                words.push(*before);
            }
        }
        words
    }

    /// Takes up a state of [`state`](Self::state).
    pub fn set_state(&mut self, words: &[u64], main: Option<Lit>) {
        let (registers, clocks) = words.split_at(2 * self.registers.len());
        for (r, pair) in self.registers.iter().zip(registers.chunks_exact(2)) {
            self.values[r.value as usize] = pair[0] & !pair[1];
            self.values[r.unknown as usize] = pair[1];
        }
        let mut clocks = clocks.iter();
        for (lit, before) in self.clock_literals.iter().zip(&mut self.before) {
            if Some(*lit) != main {
                *before = clocks.next().copied().unwrap_or(0);
            }
        }
    }

    /// Registers that are unknown on some lane of `mask`.
    pub fn unknown_registers(&self, mask: u64) -> Vec<usize> {
        let is_unknown = |r: &RegisterTaps| self.values[r.unknown as usize] & mask != 0;
        self.registers.iter().enumerate().filter(|(_, r)| is_unknown(r)).map(|(i, _)| i).collect()
    }

    /// The inputs that carry a port, by position above the least significant bit.
    pub fn port_inputs(&self, port: &str) -> BTreeMap<u32, usize> {
        let bits = self.net.inputs.iter().enumerate().filter(|(_, b)| b.port == port);
        bits.map(|(i, b)| (b.position, i)).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::netlist::{AsyncControl, InputBit, OutputBit, Register};
    use base::{FileId, Span};

    fn register(net: &mut Netlist, clock: Lit) -> usize {
        let (value, unknown) = (net.add_input(), net.add_input());
        net.registers.push(Register {
            name: "q".into(),
            position: 0,
            value,
            unknown,
            clock,
            rising: true,
            next: Lit::FALSE,
            next_unknown: Lit::FALSE,
            controls: Vec::new(),
            initial: None,
            span: Span::new(FileId::from_index(0), 0, 0),
        });
        net.registers.len() - 1
    }

    fn output(net: &mut Netlist, port: &str, value: Lit, unknown: Lit) {
        net.outputs.push(OutputBit { port: port.into(), position: 0, value, unknown, floating: Lit::FALSE });
    }

    /// Two toggle flip-flops, the second one clocked by the first: a ripple counter.
    #[test]
    fn a_clock_made_by_a_register_ticks_in_the_same_settling() {
        let mut net = Netlist::new();
        let clock = net.add_input();
        net.inputs.push(InputBit { port: "clk".into(), position: 0, value: clock });
        let first = register(&mut net, clock);
        let low = net.registers[first].value;
        net.registers[first].next = !low;
        net.registers[first].initial = Some(false);
        // Falling edge of the first is the rising edge of its complement.
        let second = register(&mut net, !low);
        let high = net.registers[second].value;
        net.registers[second].next = !high;
        net.registers[second].initial = Some(false);
        output(&mut net, "low", low, Lit::FALSE);
        output(&mut net, "high", high, Lit::FALSE);
        let mut lanes = Lanes::new(&net);
        assert!(!lanes.is_plain(Some(clock), true));
        let mut budget = Budget::hand_in();
        let mut seen = Vec::new();
        for _ in 0..5 {
            lanes.set_input(0, u64::MAX);
            lanes.settle(&mut budget).unwrap();
            lanes.set_input(0, 0);
            lanes.settle(&mut budget).unwrap();
            seen.push((lanes.value(high) & 1) * 2 + (lanes.value(low) & 1));
        }
        assert_eq!(seen, [1, 2, 3, 0, 1]);
    }

    #[test]
    fn an_asynchronous_reset_needs_no_edge_and_ends_the_unknown() {
        let mut net = Netlist::new();
        let (clock, reset) = (net.add_input(), net.add_input());
        net.inputs.push(InputBit { port: "clk".into(), position: 0, value: clock });
        net.inputs.push(InputBit { port: "rst".into(), position: 0, value: reset });
        let number = register(&mut net, clock);
        let (q, unknown) = (net.registers[number].value, net.registers[number].unknown);
        net.registers[number].next = !q;
        net.registers[number].next_unknown = unknown;
        net.registers[number].controls = vec![AsyncControl { condition: reset, value: Lit::TRUE, unknown: Lit::FALSE }];
        output(&mut net, "q", q, unknown);
        let mut lanes = Lanes::new(&net);
        assert!(lanes.is_plain(Some(clock), true));
        lanes.settle_plain();
        lanes.tick_plain();
        assert_eq!(lanes.unknown_registers(1), [0]);
        // Reset on odd lanes only.
        lanes.set_input(1, 0xaaaa_aaaa_aaaa_aaaa);
        lanes.settle_plain();
        assert_eq!((lanes.value(q) & 3, lanes.value(unknown) & 3), (2, 1));
        lanes.set_input(1, 0);
        lanes.settle_plain();
        lanes.tick_plain();
        assert_eq!((lanes.value(q) & 3, lanes.value(unknown) & 3), (0, 1));
    }
}
