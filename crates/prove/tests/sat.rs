//! Proofs by SAT against exhaustive runs: on random networks small enough for both they agree, and what is said to differ
//! does.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::{Budget, Random};
use design::{InputBit, Lit, Netlist, OutputBit};
use prove::{Combinational, Machine, OutputTap, Source, combinational, outputs_at};

const INPUTS: usize = 7;

fn network(random: &mut Random, gates: usize) -> Netlist {
    let mut net = Netlist::new();
    let mut lits: Vec<Lit> = (0..INPUTS).map(|_| net.add_input()).collect();
    net.inputs = (0..INPUTS).map(|i| InputBit { port: format!("i{i}"), position: 0, value: lits[i] }).collect();
    for _ in 0..gates {
        let pick = |random: &mut Random| {
            let lit = lits[random.below(lits.len())];
            if random.below(2) == 0 { lit } else { !lit }
        };
        let (a, b) = (pick(random), pick(random));
        let made = match random.below(3) {
            0 => net.and(a, b),
            1 => net.or(a, b),
            _ => net.xor(a, b),
        };
        lits.push(made);
    }
    let value = *lits.last().unwrap();
    let (unknown, floating) = (Lit::FALSE, Lit::FALSE);
    net.outputs = vec![OutputBit { port: "y".into(), position: 0, value, unknown, floating }];
    net
}

fn machine(net: &Netlist) -> Machine<'_> {
    let inputs = (0..INPUTS as u32).map(|k| Some(Source::Input(k, false))).collect();
    Machine { net, inputs, outputs: vec![Some(OutputTap { number: 0, complement: false })] }
}

fn levels(row: usize) -> Vec<bool> {
    (0..INPUTS).map(|k| row >> k & 1 == 1).collect()
}

fn first_difference(a: &Machine<'_>, b: &Machine<'_>) -> Option<usize> {
    (0..1 << INPUTS).find(|row| outputs_at(a, &levels(*row)) != outputs_at(b, &levels(*row)))
}

/// The same in another structure: y = (y and s) or (y and not s).
fn turned(net: &Netlist, input: usize) -> Netlist {
    let mut other = net.clone();
    let (y, s) = (other.outputs[0].value, other.inputs[input].value);
    let (with, without) = (other.and(y, s), other.and(y, !s));
    other.outputs[0].value = other.or(with, without);
    other
}

#[test]
fn random_networks_are_equal_exactly_when_every_row_is() {
    let mut random = Random::new(0x5eed_1234_5678_9abc);
    let (mut equal, mut differ) = (0, 0);
    for n in 0..120 {
        let a = network(&mut random, 6 + n % 30);
        let b = if n % 3 == 0 { turned(&a, n % INPUTS) } else { network(&mut random, 6 + n % 30) };
        let (a, b) = (machine(&a), machine(&b));
        let found = combinational(&a, &b, INPUTS as u32, 100_000, &mut Budget::hand_in()).unwrap();
        match (found, first_difference(&a, &b)) {
            (Combinational::Equal, None) => equal += 1,
            (Combinational::Differs(shown), Some(_)) => {
                assert_ne!(outputs_at(&a, &shown), outputs_at(&b, &shown));
                differ += 1;
            }
            (found, exhaustive) => panic!("{found:?} but {exhaustive:?}"),
        }
    }
    assert!(equal >= 40 && differ >= 50, "{equal} {differ}");
}

#[test]
fn a_network_and_itself_with_an_input_turned_twice_are_equal() {
    let mut random = Random::new(42);
    for _ in 0..20 {
        let net = network(&mut random, 40);
        let plain = machine(&net);
        let other = turned(&net, 0);
        let found = combinational(&plain, &machine(&other), INPUTS as u32, 10_000, &mut Budget::hand_in()).unwrap();
        assert_eq!(found, Combinational::Equal);
    }
}

#[test]
fn an_output_that_is_unknown_where_a_level_is_wanted_differs() {
    let mut random = Random::new(7);
    let net = network(&mut random, 12);
    let mut unknown = net.clone();
    unknown.outputs[0].unknown = unknown.inputs[3].value;
    let found =
        combinational(&machine(&net), &machine(&unknown), INPUTS as u32, 10_000, &mut Budget::hand_in()).unwrap();
    let Combinational::Differs(shown) = found else { panic!("{found:?}") };
    // As few ones as can be: the one input that makes it unknown.
    assert_eq!(shown.iter().filter(|l| **l).count(), 1);
    assert!(shown[3]);
    // What the reference leaves open is free.
    let free = combinational(&machine(&unknown), &machine(&net), INPUTS as u32, 10_000, &mut Budget::hand_in());
    assert_eq!(free.unwrap(), Combinational::Equal);
}
