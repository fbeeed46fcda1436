//! Sets of rows for boards: held against textbook facts, and every fault replayed by a fault simulation of its own.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use design::{Lit, Netlist, Node};
use logic::{RowSet, smallest_cover};
use proptest::prelude::*;
use prove::{FaultKind, faults, rows_to_try};

/// A netlist with so many inputs, each a bit of the row.
fn netlist(inputs: u32, build: impl FnOnce(&mut Netlist, &[Lit]) -> Vec<Lit>) -> (Netlist, Vec<Lit>, Vec<Option<u32>>) {
    let mut net = Netlist::new();
    let lits: Vec<Lit> = (0..inputs).map(|_| net.add_input()).collect();
    let roots = build(&mut net, &lits);
    (net, roots, (0..inputs).map(Some).collect())
}

fn all_care(inputs: u32, roots: usize) -> Vec<RowSet> {
    vec![RowSet::full(inputs); roots]
}

/// The fewest rows that show all stuck-at faults alone.
fn stuck_at_rows((net, roots, map): &(Netlist, Vec<Lit>, Vec<Option<u32>>)) -> (Vec<u32>, usize) {
    let inputs = map.len() as u32;
    let cares = all_care(inputs, roots.len());
    let found = faults(net, roots, map, &cares, &mut Budget::hand_in()).unwrap();
    let stuck = found.iter().filter(|f| matches!(f.kind, FaultKind::Node(..) | FaultKind::Pin(..)));
    let sets: Vec<Vec<u32>> = stuck.map(|f| f.seen.iter().map(|r| r as u32).collect()).collect();
    assert!(sets.iter().all(|s: &Vec<u32>| !s.is_empty()), "no redundant wire in these circuits");
    let cover = smallest_cover(sets.clone(), 1 << inputs, 10_000_000);
    assert!(cover.proved);
    (cover.chosen, sets.len())
}

#[test]
fn a_gate_of_n_inputs_needs_one_row_more_than_it_has_inputs() {
    // Textbook fact (Bushnell and Agrawal, "Essentials of Electronic Testing", 2000; from memory): an AND gate is tested
    // by all ones and by each row with a single 0, an OR gate by all zeros and by each row with a single 1.
    for inputs in 2..6u32 {
        let ones = (1u32 << inputs) - 1;
        let (mut rows, _) = stuck_at_rows(&netlist(inputs, |net, i| vec![net.all(i.iter().copied())]));
        rows.sort_unstable();
        let mut wanted: Vec<u32> = (0..inputs).map(|k| ones ^ 1 << k).chain([ones]).collect();
        wanted.sort_unstable();
        assert_eq!(rows, wanted);
        let (mut rows, _) = stuck_at_rows(&netlist(inputs, |net, i| vec![net.any(i.iter().copied())]));
        rows.sort_unstable();
        let mut wanted: Vec<u32> = (0..inputs).map(|k| 1 << k).chain([0]).collect();
        wanted.sort_unstable();
        assert_eq!(rows, wanted);
    }
}

#[test]
fn the_six_nand_benchmark_needs_four_rows() {
    // ISCAS-85 c17 (Brglez and Fujiwara 1985): its smallest complete test set has four vectors (from memory).
    let c17 = netlist(5, |net, i| {
        let nand = |net: &mut Netlist, a, b| !net.and(a, b);
        let (n10, n11) = (nand(net, i[0], i[2]), nand(net, i[2], i[3]));
        let (n16, n19) = (nand(net, i[1], n11), nand(net, n11, i[4]));
        vec![nand(net, n10, n16), nand(net, n16, n19)]
    });
    assert_eq!(stuck_at_rows(&c17).0.len(), 4);
}

#[test]
fn swapped_wires_are_shown_where_they_make_a_difference() {
    // The outputs of f = a & ~b and g = b: swapped inputs show on 01 and 10, where exactly one switch is up.
    let (net, roots, map) = netlist(2, |net, i| vec![net.and(i[0], !i[1]), i[1]]);
    let found = faults(&net, &roots, &map, &all_care(2, 2), &mut Budget::hand_in()).unwrap();
    let rows = |kind: FaultKind| found.iter().find(|f| f.kind == kind).unwrap().seen.iter().collect::<Vec<_>>();
    assert_eq!(rows(FaultKind::InputsSwapped(0, 1)), [1, 2]);
    assert_eq!(rows(FaultKind::OutputsSwapped(0, 1)), [1, 2, 3]);
    // On don't-care rows nothing is demanded, so nothing is shown there.
    let mut care = RowSet::full(2);
    care.remove(1);
    let found = faults(&net, &roots, &map, &[care.clone(), care], &mut Budget::hand_in()).unwrap();
    let swap = found.iter().find(|f| f.kind == FaultKind::InputsSwapped(0, 1)).unwrap();
    assert_eq!(swap.seen.iter().collect::<Vec<_>>(), [2]);
}

#[test]
fn switches_are_flipped_as_seldom_as_can_be() {
    // All four rows are needed for XOR of two gates; a Gray sequence from 00 flips three switches.
    let (net, roots, map) = netlist(2, |net, i| vec![net.xor(i[0], i[1])]);
    let found = rows_to_try(&net, &roots, &map, &all_care(2, 1), &[], &mut Budget::hand_in()).unwrap();
    assert!(found.fewest);
    let flips: u32 = std::iter::once(&0).chain(&found.rows).zip(&found.rows).map(|(a, b)| (a ^ b).count_ones()).sum();
    assert_eq!(flips, found.rows.len() as u32 - 1, "{:?}", found.rows);
}

/// One row through the graph with a fault, in a way that has nothing to do with the one under test.
fn evaluate(net: &Netlist, root: Lit, row: u64, inputs: u32, fault: Option<(Lit, FaultKind)>) -> bool {
    let value = match (fault, net.node(root.node())) {
        (Some((at, FaultKind::Node(_, level))), _) if at.node() == root.node() => level,
        (_, Node::False) => false,
        (_, Node::Input(k)) => row >> (inputs - 1 - k) & 1 == 1,
        (_, Node::And(a, b)) => {
            let stuck = |second: bool| match fault {
                Some((at, FaultKind::Pin(_, s))) => at.node() == root.node() && s == second,
                _ => false,
            };
            (stuck(false) || evaluate(net, a, row, inputs, fault))
                && (stuck(true) || evaluate(net, b, row, inputs, fault))
        }
    };
    value != root.is_complement()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn every_fault_is_shown_by_the_chosen_rows_and_by_those_that_are_said(
        steps in prop::collection::vec((0usize..20, 0usize..20, any::<bool>(), any::<bool>()), 3..18),
        outputs in prop::collection::vec(0usize..20, 1..3),
    ) {
        const INPUTS: u32 = 4;
        let (net, roots, map) = netlist(INPUTS, |net, inputs| {
            let mut all = inputs.to_vec();
            for (a, b, na, nb) in &steps {
                let pick = |k: &usize, n: &bool| if *n { !all[k % all.len()] } else { all[k % all.len()] };
                let (a, b) = (pick(a, na), pick(b, nb));
                all.push(net.and(a, b));
            }
            outputs.iter().map(|k| all[all.len() - 1 - k % all.len()]).collect()
        });
        let cares = all_care(INPUTS, roots.len());
        let found = faults(&net, &roots, &map, &cares, &mut Budget::hand_in()).unwrap();
        let chosen = rows_to_try(&net, &roots, &map, &cares, &[], &mut Budget::hand_in()).unwrap();
        let cone = net.cone(&roots);
        let mut shown = 0;
        for fault in &found {
            if let FaultKind::Node(node, _) | FaultKind::Pin(node, _) = fault.kind {
                let at = Lit::new(cone[node], false);
                for row in 0..1 << INPUTS {
                    let wrong = roots.iter().any(|r| {
                        evaluate(&net, *r, row, INPUTS, Some((at, fault.kind))) != evaluate(&net, *r, row, INPUTS, None)
                    });
                    prop_assert_eq!(wrong, fault.seen.contains(row), "{:?} on row {}", fault.kind, row);
                }
            }
            if !fault.seen.is_empty() {
                shown += 1;
                prop_assert!(chosen.rows.iter().any(|r| fault.seen.contains(*r)), "{:?}", fault.kind);
            }
        }
        prop_assert_eq!((chosen.faults, chosen.shown), (found.len(), shown));
        prop_assert!(chosen.fewest && chosen.least == chosen.rows.len());
    }
}

#[test]
fn mistakes_that_no_fault_of_the_circuit_shows_add_their_rows() {
    // A wire from a to y shows all its faults on two rows; that b was forgotten shows on another.
    let (net, roots, map) = netlist(2, |_, i| vec![i[0]]);
    let cares = all_care(2, 1);
    let mut forgotten = RowSet::empty(2);
    forgotten.insert(3);
    let plain = rows_to_try(&net, &roots, &map, &cares, &[], &mut Budget::hand_in()).unwrap();
    let with = rows_to_try(&net, &roots, &map, &cares, &[forgotten, RowSet::empty(2)], &mut Budget::hand_in()).unwrap();
    assert!(with.rows.contains(&3) && with.rows.len() >= plain.rows.len());
    assert_eq!((with.faults, with.shown), (plain.faults, plain.shown), "a mistake is no fault of the circuit");
}
