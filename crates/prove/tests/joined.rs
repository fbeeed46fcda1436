//! Proofs on more inputs than rows can be walked for: against a second solver, and against what is known of the circuits.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::{Budget, Id, Random};
use design::{InputBit, Lit, Netlist, Node, OutputBit};
use prove::{Combinational, Joined, Machine, OutputTap, Source, combinational, outputs_at};
use splr::{Certificate, Config, SolveIF, Solver, SolverError};

fn either(random: &mut Random, lits: &[Lit]) -> Lit {
    let lit = lits[random.below(lits.len())];
    if random.below(2) == 0 { lit } else { !lit }
}

fn circuit(inputs: usize, build: impl FnOnce(&mut Netlist, &[Lit]) -> Vec<Lit>) -> Netlist {
    let mut net = Netlist::new();
    let lits: Vec<Lit> = (0..inputs).map(|_| net.add_input()).collect();
    net.inputs = (0..inputs).map(|i| InputBit { port: format!("i{i}"), position: 0, value: lits[i] }).collect();
    let roots = build(&mut net, &lits);
    let (unknown, floating) = (Lit::FALSE, Lit::FALSE);
    let output = |(k, value)| OutputBit { port: format!("y{k}"), position: 0, value, unknown, floating };
    net.outputs = roots.into_iter().enumerate().map(output).collect();
    net
}

fn machine(net: &Netlist) -> Machine<'_> {
    Machine {
        net,
        inputs: (0..net.inputs.len() as u32).map(|k| Some(Source::Input(k, false))).collect(),
        outputs: (0..net.outputs.len()).map(|number| Some(OutputTap { number, complement: false })).collect(),
    }
}

/// The question whether the first outputs can differ, as clauses of its own making (Tseitin 1968), for the other solver.
fn second_opinion(a: &Netlist, b: &Netlist) -> bool {
    let inputs = a.inputs.len() as i32;
    let mut clauses: Vec<Vec<i32>> = Vec::new();
    let mut next = inputs;
    let mut roots = Vec::new();
    for net in [a, b] {
        let mut vars = vec![0i32; net.len()];
        next += 1;
        let constant = next;
        clauses.push(vec![-constant]);
        for index in 0..net.len() {
            vars[index] = match net.node(Id::from_index(index)) {
                Node::False => constant,
                Node::Input(k) => k as i32 + 1,
                Node::And(x, y) => {
                    next += 1;
                    let of = |l: Lit| vars[l.node().index()] * if l.is_complement() { -1 } else { 1 };
                    let (n, x, y) = (next, of(x), of(y));
                    clauses.extend([vec![-n, x], vec![-n, y], vec![n, -x, -y]]);
                    n
                }
            };
        }
        let root = net.outputs[0].value;
        roots.push(vars[root.node().index()] * if root.is_complement() { -1 } else { 1 });
    }
    clauses.extend([vec![roots[0], roots[1]], vec![-roots[0], -roots[1]]]);
    // This solver wants clauses without repeated or opposed literals.
    for clause in &mut clauses {
        clause.sort_unstable();
        clause.dedup();
    }
    clauses.retain(|c| !c.iter().any(|l| c.contains(&-l)));
    let mut solver = match Solver::try_from((Config::default(), clauses.as_slice())) {
        Ok(solver) => solver,
        Err(Ok(Certificate::UNSAT)) | Err(Err(SolverError::EmptyClause | SolverError::RootLevelConflict(_))) => {
            return false;
        }
        Err(other) => panic!("{other:?}"),
    };
    match solver.solve() {
        Ok(Certificate::SAT(_)) => true,
        Ok(Certificate::UNSAT) | Err(SolverError::EmptyClause | SolverError::RootLevelConflict(_)) => false,
        Err(other) => panic!("{other:?}"),
    }
}

/// The same function by another way: each gate is made again of other gates, some of them redundant.
fn rebuilt(net: &Netlist, random: &mut Random, spoil: bool) -> Netlist {
    circuit(net.inputs.len(), |made, inputs| {
        let cone = net.cone(&[net.outputs[0].value]).into_iter();
        let ands: Vec<usize> = cone.filter(|id| matches!(net.node(*id), Node::And(..))).map(Id::index).collect();
        let spoilt = ands[random.below(ands.len())];
        let mut map = vec![Lit::FALSE; net.len()];
        for index in 0..net.len() {
            map[index] = match net.node(Id::from_index(index)) {
                Node::False => Lit::FALSE,
                Node::Input(k) => inputs[k as usize],
                Node::And(x, y) => {
                    let of = |l: Lit| if l.is_complement() { !map[l.node().index()] } else { map[l.node().index()] };
                    let (x, y) = (of(x), of(y));
                    let split = either(random, inputs);
                    match random.below(3) {
                        _ if spoil && index == spoilt => made.or(x, y),
                        // x y = x ((y s) + (y s'))
                        0 => {
                            let (with, without) = (made.and(y, split), made.and(y, !split));
                            let either = made.or(with, without);
                            made.and(x, either)
                        }
                        // x y = (x ^ y)' (x + y)
                        1 => {
                            let (differ, any) = (made.xor(x, y), made.or(x, y));
                            made.and(!differ, any)
                        }
                        _ => made.and(x, y),
                    }
                }
            };
        }
        let root = net.outputs[0].value;
        let base = map[root.node().index()];
        vec![if root.is_complement() { !base } else { base }]
    })
}

#[test]
fn a_second_solver_agrees_on_random_networks_of_forty_inputs() {
    let mut random = Random::new(0x0dd_ba11);
    let (mut equal, mut differ) = (0, 0);
    for n in 0..60 {
        let net = circuit(40, |net, inputs| {
            let mut lits = inputs.to_vec();
            for _ in 0..120 {
                let (a, b) = (either(&mut random, &lits[lits.len().saturating_sub(50)..]), either(&mut random, &lits));
                let made = if random.below(2) == 0 { net.and(a, b) } else { net.xor(a, b) };
                lits.push(made);
            }
            vec![*lits.last().unwrap()]
        });
        if !net.cone(&[net.outputs[0].value]).into_iter().any(|id| matches!(net.node(id), Node::And(..))) {
            continue;
        }
        let other = rebuilt(&net, &mut random, n % 2 == 1);
        let (a, b) = (machine(&net), machine(&other));
        let found = combinational(&a, &b, 40, 1_000_000, &mut Budget::hand_in()).unwrap();
        let theirs = second_opinion(&net, &other);
        match found {
            Combinational::Equal => {
                assert!(!theirs, "network {n}");
                equal += 1;
            }
            Combinational::Differs(shown) => {
                assert!(theirs, "network {n}");
                assert_ne!(outputs_at(&a, &shown), outputs_at(&b, &shown));
                differ += 1;
            }
            Combinational::Unknown => panic!("network {n}"),
        }
    }
    assert!(equal >= 25 && differ >= 10, "{equal} {differ}");
}

/// `a > b` of two numbers, the most significant bit of each first.
fn greater(net: &mut Netlist, a: &[Lit], b: &[Lit]) -> Lit {
    let mut result = Lit::FALSE;
    for (a, b) in a.iter().rev().zip(b.iter().rev()) {
        let (more, differ) = (net.and(*a, !*b), net.xor(*a, *b));
        result = net.mux(differ, more, result);
    }
    result
}

#[test]
fn a_difference_names_only_the_inputs_that_matter() {
    // One takes bit 31 of a for a sign: what the others are is all the same.
    let right = circuit(64, |net, i| vec![greater(net, &i[..32], &i[32..])]);
    let signed = circuit(64, |net, i| {
        let turned = |part: &[Lit]| [&[!part[0]], &part[1..]].concat();
        let (a, b) = (turned(&i[..32]), turned(&i[32..]));
        vec![greater(net, &a, &b)]
    });
    let joined = Joined::new(&machine(&right), &machine(&signed), 64);
    let mut budget = Budget::hand_in();
    let Combinational::Differs(shown) = joined.compare(100_000, &mut budget).unwrap() else { panic!("they differ") };
    let relevant = joined.relevant(&shown, &mut budget).unwrap();
    let named: Vec<usize> = (0..64).filter(|k| relevant[*k]).collect();
    assert_eq!(named, [0, 32]);
    let (good, all) = joined.sample(&mut budget).unwrap();
    assert_eq!((good > all / 3 && good < 2 * all / 3, all), (true, 4096), "about half of the inputs have unlike signs");
    assert_eq!(joined.is_right_somewhere(100_000, &mut budget).unwrap(), Some(true));
}

#[test]
fn an_inverted_output_is_right_nowhere() {
    let plain = circuit(40, |net, i| vec![net.all(i[..20].iter().copied()), net.any(i[20..].iter().copied())]);
    let mut other = plain.clone();
    other.outputs[1].value = !other.outputs[1].value;
    let joined = Joined::new(&machine(&plain), &machine(&other), 40);
    let mut budget = Budget::hand_in();
    assert_eq!(joined.is_right_somewhere(100_000, &mut budget).unwrap(), Some(false));
    assert_eq!(joined.sample(&mut budget).unwrap().0, 0);
    let Combinational::Differs(shown) = joined.compare(100_000, &mut budget).unwrap() else { panic!("they differ") };
    assert!(joined.relevant(&shown, &mut budget).unwrap().iter().all(|r| !r), "whatever the inputs are");
}
