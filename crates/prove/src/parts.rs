//! Parts of a machine without inputs: bits that never change, and bits that depend on no other part.

use crate::closed::Autonomous;
use base::{Budget, Exhausted, Id};
use design::{Lit, Node};

/// Bits that keep their first level whatever the others do (found by running the machine with levels that may be known,
/// as constant propagation does: common practice).
pub(crate) fn constant_bits(machine: &Autonomous, start: &[bool], budget: &mut Budget) -> Result<Vec<bool>, Exhausted> {
    let net = &machine.net;
    let cone = net.cone(&machine.next);
    let mut constant = vec![true; start.len()];
    // Each node may be 0, may be 1.
    let mut may = vec![[true, false]; net.len()];
    let at = |may: &[[bool; 2]], l: Lit| {
        let [zero, one] = may[l.node().index()];
        if l.is_complement() { [one, zero] } else { [zero, one] }
    };
    loop {
        budget.spend(cone.len() as u64 / 4 + 1)?;
        for id in &cone {
            may[id.index()] = match net.node(*id) {
                Node::False => [true, false],
                Node::Input(k) => match constant.get(k as usize) {
                    Some(true) => [!start[k as usize], start[k as usize]],
                    _ => [true, true],
                },
                Node::And(a, b) => {
                    let ([a0, a1], [b0, b1]) = (at(&may, a), at(&may, b));
                    [a0 | b0, a1 & b1]
                }
            };
        }
        let mut changed = false;
        for (k, next) in machine.next.iter().enumerate() {
            let other = at(&may, *next)[usize::from(!start[k])];
            if constant[k] && other {
                constant[k] = false;
                changed = true;
            }
        }
        if !changed {
            return Ok(constant);
        }
    }
}

/// Bits that what is looked for depends on, through any number of steps.
pub(crate) fn bits_that_matter(machine: &Autonomous, constant: &[bool]) -> Vec<bool> {
    let net = &machine.net;
    let mut matters = vec![false; machine.next.len()];
    let mut seen = vec![false; net.len()];
    let mut stack = vec![machine.bad.node()];
    while let Some(id) = stack.pop() {
        if std::mem::replace(&mut seen[id.index()], true) {
            continue;
        }
        match net.node(id) {
            Node::False => {}
            Node::And(a, b) => stack.extend([a.node(), b.node()]),
            Node::Input(k) => {
                let k = k as usize;
                if k < matters.len() && !constant[k] {
                    matters[k] = true;
                    stack.push(machine.next[k].node());
                }
            }
        }
    }
    matters
}

type Set = Vec<u64>;

/// The bits that depend on no other part, and those that only follow them.
pub(crate) fn leading_part(machine: &Autonomous, budget: &mut Budget) -> Result<Vec<bool>, Exhausted> {
    let bits = machine.next.len();
    let words = bits.div_ceil(64);
    let direct = direct(machine, budget)?;
    let has = |set: &Set, k: usize| set[k / 64] >> (k % 64) & 1 == 1;
    // What each bit depends on through any number of others (Warshall 1962).
    let mut reach = direct.clone();
    budget.spend((bits * bits) as u64 / 16)?;
    for via in 0..bits {
        let through = reach[via].clone();
        for set in &mut reach {
            if has(set, via) {
                for (word, more) in set.iter_mut().zip(&through) {
                    *word |= more;
                }
            }
        }
    }
    let is_source = |k: usize| (0..bits).filter(|j| has(&reach[k], *j)).all(|j| has(&reach[j], k));
    let mut leading: Vec<bool> = (0..bits).map(is_source).collect();
    let mut set: Set = vec![0; words];
    for k in (0..bits).filter(|k| leading[*k]) {
        set[k / 64] |= 1 << (k % 64);
    }
    loop {
        let mut changed = false;
        for k in 0..bits {
            if !leading[k] && direct[k].iter().zip(&set).all(|(needs, has)| needs & !has == 0) {
                leading[k] = true;
                set[k / 64] |= 1 << (k % 64);
                changed = true;
            }
        }
        if !changed {
            return Ok(leading);
        }
    }
}

/// The bits that each bit's next level is a function of.
fn direct(machine: &Autonomous, budget: &mut Budget) -> Result<Vec<Set>, Exhausted> {
    let net = &machine.net;
    let words = machine.next.len().div_ceil(64);
    let cone = net.cone(&machine.next);
    budget.spend((cone.len() * words) as u64 / 4 + 1)?;
    let mut sets: Vec<Set> = vec![Vec::new(); net.len()];
    for id in &cone {
        let mut set = vec![0; words];
        match net.node(*id) {
            Node::False => {}
            Node::Input(k) => {
                if let Some(word) = set.get_mut(k as usize / 64) {
                    *word |= 1 << (k % 64);
                }
            }
            Node::And(a, b) => {
                for side in [a, b] {
                    for (word, more) in set.iter_mut().zip(&sets[side.node().index()]) {
                        *word |= more;
                    }
                }
            }
        }
        sets[id.index()] = set;
    }
    let of = |l: &Lit| match sets[l.node().index()].as_slice() {
        [] => vec![0; words],
        set => set.to_vec(),
    };
    Ok(machine.next.iter().map(of).collect())
}
