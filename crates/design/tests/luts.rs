//! Covers by look-up tables: equal to the netlist on every row, and as small as handbooks say they can be.

#![allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]

use base::Budget;
use design::{Lit, LutMap, Netlist, OutputBit};
use proptest::prelude::*;

fn netlist(inputs: u32, build: impl FnOnce(&mut Netlist, &[Lit]) -> Vec<Lit>) -> Netlist {
    let mut net = Netlist::new();
    let lits: Vec<Lit> = (0..inputs).map(|_| net.add_input()).collect();
    let roots = build(&mut net, &lits);
    let output = |value| OutputBit { port: "y".into(), position: 0, value, unknown: Lit::FALSE, floating: Lit::FALSE };
    net.outputs = roots.into_iter().map(output).collect();
    net
}

fn count(net: &Netlist, size: u32) -> usize {
    let map = LutMap::new(net, size, &mut Budget::hand_in()).unwrap();
    assert_same(net, &map, size);
    map.luts.len()
}

/// Both do the same on 64 rows at a time, of 64 times.
fn assert_same(net: &Netlist, map: &LutMap, size: u32) {
    assert!(map.luts.iter().all(|l| l.inputs.len() <= size as usize), "a table with too many inputs");
    let roots: Vec<Lit> = net.outputs.iter().map(|o| o.value).collect();
    let level = |k: u32, word: u64| {
        let mut x = ((word << 8) | (u64::from(k) + 1)).wrapping_mul(0x9e37_79b9_7f4a_7c15);
        x ^= x >> 29;
        x.wrapping_mul(0xbf58_476d_1ce4_e5b9)
    };
    net.simulate(&roots, 64, &mut Budget::hand_in(), level, |word, values| {
        let seen = map.evaluate(net, |k| level(k, word));
        for (root, value) in roots.iter().zip(values) {
            assert_eq!(seen(*root), *value);
        }
    })
    .unwrap();
}

#[test]
fn wide_gates_take_as_many_tables_as_they_must() {
    // A table of k inputs takes k - 1 of the n - 1 joints of an n-input gate away: ⌈(n - 1) / (k - 1)⌉ (common practice).
    for size in [4u32, 6] {
        for n in 2..30u32 {
            let least = (n - 1).div_ceil(size - 1) as usize;
            assert_eq!(count(&netlist(n, |net, i| vec![net.all(i.iter().copied())]), size), least, "AND of {n}");
            assert_eq!(count(&netlist(n, |net, i| vec![net.any(i.iter().copied())]), size), least, "OR of {n}");
            let parity = |net: &mut Netlist, i: &[Lit]| vec![i.iter().fold(Lit::FALSE, |p, l| net.xor(p, *l))];
            assert_eq!(count(&netlist(n, parity), size), least, "parity of {n}");
        }
    }
}

#[test]
fn arithmetic_takes_what_handbooks_count() {
    // A full adder is two functions of three inputs; a ripple adder has two tables a bit (common practice).
    let adder = |bits: usize| {
        netlist(2 * bits as u32, |net, i| {
            let mut carry = Lit::FALSE;
            let mut sums = Vec::new();
            for k in 0..bits {
                let (a, b) = (i[k], i[bits + k]);
                let half = net.xor(a, b);
                sums.push(net.xor(half, carry));
                let (both, through) = (net.and(a, b), net.and(half, carry));
                carry = net.or(both, through);
            }
            sums.push(carry);
            sums
        })
    };
    assert_eq!(count(&adder(1), 4), 2);
    assert!(count(&adder(8), 4) <= 16, "{}", count(&adder(8), 4));
    // A 4-to-1 selector has six inputs: one table of six, or three 2-to-1 selectors. (Two tables of four can do it by
    // another structure, which a cover of the given one doesn't find.)
    let selector = netlist(6, |net, i| {
        let (low, high) = (net.mux(i[4], i[1], i[0]), net.mux(i[4], i[3], i[2]));
        vec![net.mux(i[5], high, low)]
    });
    assert_eq!((count(&selector, 4), count(&selector, 6)), (3, 1));
}

#[test]
fn wires_take_no_table_and_an_inverted_one_takes_one() {
    assert_eq!(count(&netlist(2, |_, i| vec![i[1], i[0], Lit::TRUE]), 4), 0);
    assert_eq!(count(&netlist(1, |_, i| vec![!i[0]]), 4), 1);
    // A function and its complement: the second table inverts the first.
    let both = netlist(2, |net, i| {
        let y = net.and(i[0], i[1]);
        vec![y, !y]
    });
    assert_eq!(count(&both, 4), 2);
    let turned = netlist(2, |net, i| vec![!net.and(i[0], i[1])]);
    assert_eq!(count(&turned, 4), 1, "an inversion at the output is part of the table");
}

proptest! {
    #[test]
    fn random_netlists_are_covered_by_equal_tables(gates in proptest::collection::vec((0usize..1000, 0usize..1000, 0u8..12), 1..80), size in 2u32..7) {
        let net = netlist(7, |net, inputs| {
            let mut lits = inputs.to_vec();
            for (a, b, kind) in &gates {
                let turn = |l: Lit, t: bool| if t { !l } else { l };
                let (a, b) = (turn(lits[a % lits.len()], kind & 1 == 1), turn(lits[b % lits.len()], kind & 2 == 2));
                lits.push(if kind >> 2 == 2 { net.xor(a, b) } else { net.and(a, b) });
            }
            let n = lits.len();
            vec![lits[n - 1], !lits[n / 2], lits[n - 1 - n / 4]]
        });
        let map = LutMap::new(&net, size, &mut Budget::hand_in()).unwrap();
        assert_same(&net, &map, size);
        // Never more than a table a gate, an inverter for each output at most.
        prop_assert!(map.luts.len() <= net.and_count() + 3);
    }
}

#[test]
fn a_large_netlist_is_covered_in_one_pass_and_still_the_same() {
    // An array multiplier of 20 by 20 bits has some 3,000 nodes and more.
    let net = netlist(40, |net, i| {
        let (a, b) = i.split_at(20);
        let mut sum = vec![Lit::FALSE; 40];
        for (k, bit) in b.iter().enumerate() {
            let mut carry = Lit::FALSE;
            for (j, other) in a.iter().enumerate() {
                let part = net.and(*bit, *other);
                let (x, y) = (sum[k + j], carry);
                let half = net.xor(x, part);
                sum[k + j] = net.xor(half, y);
                let both = net.and(x, part);
                let passed = net.and(half, y);
                carry = net.or(both, passed);
            }
            sum[k + 20] = carry;
        }
        sum
    });
    assert!(net.and_count() > 1_500);
    let (four, six) = (count(&net, 4), count(&net, 6));
    // A table does the work of an AND gate at least, and wider tables need no more of them.
    assert!(four < net.and_count() && six <= four, "{four} and {six} tables for {} nodes", net.and_count());
}

#[test]
fn kept_apart_nodes_do_not_change_what_a_netlist_does() {
    let build = |net: &mut Netlist| {
        let i: Vec<Lit> = (0..3).map(|_| net.add_input()).collect();
        net.set_origin(None);
        let one = net.and(i[0], i[1]);
        net.set_origin(None);
        let again = net.and(i[0], i[1]);
        (one, again, net.xor(again, i[2]))
    };
    let (mut shared, mut apart) = (Netlist::new(), Netlist::as_written());
    let (a, b, _) = build(&mut shared);
    assert_eq!(a, b, "equal nodes are one");
    assert_eq!(shared.step(a.node()), None);
    let (a, b, _) = build(&mut apart);
    assert_ne!(a, b, "each step makes its own");
    assert_ne!(apart.step(a.node()), apart.step(b.node()));
}
