//! Proofs by induction: machines with too many states to walk, built in two ways.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::{Budget, FileId, Id, Span};
use design::{InputBit, Lit, Netlist, OutputBit, Register};
use prove::{Equality, Machine, OutputTap, Protocol, Reset, Source, compare};

/// Clock, reset and so many inputs; registers and outputs are given by what `build` makes of them.
struct Circuit {
    net: Netlist,
    reset: Lit,
    inputs: Vec<Lit>,
    clock: Lit,
}

impl Circuit {
    fn new(inputs: usize) -> Self {
        let mut net = Netlist::new();
        let clock = net.add_input();
        let reset = net.add_input();
        let list: Vec<Lit> = (0..inputs).map(|_| net.add_input()).collect();
        let names = ["clk", "rst"].map(str::to_owned).into_iter().chain((0..inputs).map(|k| format!("i{k}")));
        let lits = [clock, reset].into_iter().chain(list.iter().copied());
        net.inputs = names.zip(lits).map(|(port, value)| InputBit { port, position: 0, value }).collect();
        Self { net, reset, inputs: list, clock }
    }

    /// A register that resets to `first` at the clock edge.
    fn register(&mut self, first: bool, next: impl FnOnce(&mut Netlist, Lit) -> Lit) -> Lit {
        let (value, unknown) = (self.net.add_input(), self.net.add_input());
        let next = next(&mut self.net, value);
        let next = self.net.mux(self.reset, Lit::from(first), next);
        self.net.registers.push(Register {
            name: "r".into(),
            position: 0,
            value,
            unknown,
            clock: self.clock,
            rising: true,
            next,
            // A reset makes it known; else it is as unknown as before.
            next_unknown: Lit::FALSE,
            controls: Vec::new(),
            initial: None,
            span: Span::new(FileId::from_index(0), 0, 0),
        });
        let place = self.net.registers.len() - 1;
        self.net.registers[place].next_unknown = self.net.and(unknown, !self.reset);
        value
    }

    fn output(&mut self, value: Lit) {
        let unknown = self.net.registers.iter().map(|r| r.unknown).collect::<Vec<_>>();
        let unknown = self.net.any(unknown);
        let port = format!("y{}", self.net.outputs.len());
        self.net.outputs.push(OutputBit { port, position: 0, value, unknown, floating: Lit::FALSE });
    }
}

fn machine(net: &Netlist) -> Machine<'_> {
    let input = |k: usize| if k == 0 { Source::Clock(false) } else { Source::Input(k as u32 - 1, false) };
    Machine {
        net,
        inputs: (0..net.inputs.len()).map(|k| Some(input(k))).collect(),
        outputs: (0..net.outputs.len()).map(|number| Some(OutputTap { number, complement: false })).collect(),
    }
}

fn equality(a: &Circuit, b: &Circuit) -> Equality {
    let protocol = Protocol {
        inputs: a.inputs.len() as u32 + 1,
        rising: true,
        reset: Some(Reset { input: 0, active_high: true }),
    };
    compare(&machine(&a.net), &machine(&b.net), &protocol, &mut Budget::hand_in()).unwrap().equality
}

/// A counter of so many bits that counts while input 0 is 1 and adds input 1 to its lowest carry.
fn counter(bits: usize, inverted: bool) -> Circuit {
    let mut circuit = Circuit::new(13);
    let mut carry = circuit.inputs[0];
    let mut values = Vec::new();
    for _ in 0..bits {
        let taken = carry;
        let value = circuit.register(inverted, |net, value| net.xor(value, taken));
        let level = if inverted { !value } else { value };
        carry = circuit.net.and(carry, level);
        values.push(level);
    }
    for value in values {
        circuit.output(value);
    }
    circuit
}

#[test]
fn a_counter_and_one_that_keeps_its_bits_inverted_are_equal_for_ever() {
    // 2^40 states, and 13 inputs beside the reset: neither states nor inputs are walked.
    assert_eq!(equality(&counter(40, false), &counter(40, true)), Equality::Induced);
}

#[test]
fn a_shift_register_and_one_with_a_spare_copy_are_equal_for_ever() {
    let shift = |copies: usize| {
        let mut circuit = Circuit::new(13);
        let mut rows = Vec::new();
        for _ in 0..copies {
            let mut before = circuit.inputs[2];
            for _ in 0..24 {
                let source = before;
                before = circuit.register(false, |_, _| source);
            }
            rows.push(before);
        }
        let last = circuit.net.all(rows);
        circuit.output(last);
        circuit
    };
    assert_eq!(equality(&shift(1), &shift(3)), Equality::Induced);
}

#[test]
fn a_slip_that_shows_after_many_cycles_is_found() {
    let plain = counter(40, false);
    let mut late = counter(40, false);
    // Wrong once bits 30 and 31 are both 1: after three thousand million cycles, which are passed in leaps.
    let deep = late.net.and(late.net.registers[30].value, late.net.registers[31].value);
    late.net.outputs[0].value = late.net.xor(late.net.outputs[0].value, deep);
    assert_eq!(equality(&plain, &late), Equality::Differs);
}

#[test]
fn a_difference_a_few_cycles_away_is_found_however_rare_its_inputs() {
    // y is 1 one cycle after all 20 inputs were 1 twice running: two cycles of one pattern among a million.
    let trap = |armed: bool| {
        let mut circuit = Circuit::new(20);
        let all = circuit.net.all(circuit.inputs.clone());
        let once = circuit.register(false, |_, _| all);
        let twice = circuit.register(false, |net, _| net.and(once, all));
        let spread: Vec<Lit> = (0..20).map(|_| circuit.register(false, |_, _| Lit::FALSE)).collect();
        let other = circuit.net.any(spread);
        let y = if armed { circuit.net.or(twice, other) } else { other };
        circuit.output(y);
        circuit
    };
    let protocol = Protocol { inputs: 21, rising: true, reset: Some(Reset { input: 0, active_high: true }) };
    let (plain, armed) = (trap(false), trap(true));
    let found = compare(&machine(&plain.net), &machine(&armed.net), &protocol, &mut Budget::hand_in()).unwrap();
    assert_eq!(found.equality, Equality::Differs);
    let steps = found.difference.unwrap().steps;
    let last = steps.last().unwrap();
    assert_eq!((last.cycle, last.expected.as_slice(), last.actual.as_slice()), (2, ['0'].as_slice(), ['1'].as_slice()));
    assert!(steps[0].inputs[1..].iter().all(|l| *l) && steps[1].inputs[1..].iter().all(|l| *l));
}
