//! Which gate a small function is.

use crate::graph::BlockKind;

/// Inputs up to which a function is looked at as a table.
pub(crate) const MOST_INPUTS: usize = 6;

/// A gate for a function: which of its inputs, in their order, and with which bubbles.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct Gate {
    pub(crate) kind: BlockKind,
    /// Inputs by number, each with a bubble or without.
    pub(crate) inputs: Vec<(usize, bool)>,
    /// Bubble at the output.
    pub(crate) inverted: bool,
}

/// What the source says a function is, where that helps.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Hint {
    And,
    Or,
    None,
}

/// The gate that gives `truth` (bit `i` for inputs that read `i`, input 0 least significant), all inputs mattering.
pub(crate) fn gate(truth: u64, inputs: usize, hint: Hint) -> Option<Gate> {
    if inputs == 0 || inputs > MOST_INPUTS {
        return None;
    }
    let rows = 1u32 << inputs;
    let all = if rows == 64 { u64::MAX } else { (1u64 << rows) - 1 };
    let truth = truth & all;
    if inputs == 1 {
        // A wire is no gate; its complement is one.
        return Some(Gate { kind: BlockKind::Not, inputs: vec![(0, false)], inverted: truth == 0b10 });
    }
    let parity = (0..rows).fold(0u64, |word, row| word | u64::from(row.count_ones() & 1) << row);
    if truth == parity || truth == !parity & all {
        let straight = (0..inputs).map(|k| (k, false)).collect();
        return Some(Gate { kind: BlockKind::Xor, inputs: straight, inverted: truth != parity });
    }
    let conjunction = |word: u64, inverted: bool| {
        let row = (word.count_ones() == 1).then(|| word.trailing_zeros())?;
        let ands: Vec<(usize, bool)> = (0..inputs).map(|k| (k, row >> k & 1 == 0)).collect();
        let ors = ands.iter().map(|(k, bubble)| (*k, !bubble)).collect();
        let one = Gate { kind: BlockKind::And, inputs: ands, inverted };
        let other = Gate { kind: BlockKind::Or, inputs: ors, inverted: !inverted };
        Some(better(one, other, hint))
    };
    if let Some(found) = conjunction(truth, false).or_else(|| conjunction(!truth & all, true)) {
        return Some(found);
    }
    if inputs == 3 { choice(truth) } else { None }
}

fn bubbles(gate: &Gate) -> usize {
    gate.inputs.iter().filter(|(_, b)| *b).count() + usize::from(gate.inverted)
}

/// Of two ways to draw the same, the one that was written, else the one with fewer bubbles.
fn better(and: Gate, or: Gate, hint: Hint) -> Gate {
    match hint {
        Hint::And => and,
        Hint::Or => or,
        Hint::None if bubbles(&or) < bubbles(&and) => or,
        Hint::None => and,
    }
}

/// One of three inputs chooses between the two others.
fn choice(truth: u64) -> Option<Gate> {
    for select in 0..3usize {
        let data: Vec<usize> = (0..3).filter(|k| *k != select).collect();
        let [one, zero] = [data[0], data[1]];
        for (one, zero) in [(one, zero), (zero, one)] {
            for bubbles in 0..4u32 {
                let (flip_one, flip_zero) = (bubbles & 1 == 1, bubbles & 2 == 2);
                let gives = |row: u32| {
                    let of = |k: usize| row >> k & 1 == 1;
                    if of(select) { of(one) != flip_one } else { of(zero) != flip_zero }
                };
                if (0..8).all(|row| (truth >> row & 1 == 1) == gives(row)) {
                    let inputs = vec![(select, false), (one, flip_one), (zero, flip_zero)];
                    return Some(Gate { kind: BlockKind::Choice, inputs, inverted: false });
                }
            }
        }
    }
    None
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;

    /// What a gate gives for inputs that read `row` (input `k` at bit `k`).
    fn gives(gate: &Gate, row: u32) -> bool {
        let levels: Vec<bool> = gate.inputs.iter().map(|(k, bubble)| (row >> k & 1 == 1) != *bubble).collect();
        let plain = match gate.kind {
            BlockKind::And => levels.iter().all(|l| *l),
            BlockKind::Or => levels.iter().any(|l| *l),
            BlockKind::Xor => levels.iter().filter(|l| **l).count() % 2 == 1,
            BlockKind::Not => !levels[0],
            BlockKind::Choice => {
                if levels[0] {
                    levels[1]
                } else {
                    levels[2]
                }
            }
            _ => false,
        };
        plain != gate.inverted
    }

    #[test]
    fn every_recognised_gate_gives_what_the_function_gives() {
        for inputs in 1..=3usize {
            let rows = 1u32 << inputs;
            for truth in 0..1u64 << rows {
                for hint in [Hint::And, Hint::Or, Hint::None] {
                    let Some(found) = gate(truth, inputs, hint) else { continue };
                    if inputs == 1 && matches!(truth, 0 | 0b11) {
                        continue;
                    }
                    for row in 0..rows {
                        assert_eq!(gives(&found, row), truth >> row & 1 == 1, "{inputs} inputs, {truth:b}, row {row}");
                    }
                }
            }
        }
    }

    #[test]
    fn what_was_written_as_an_or_is_drawn_as_one() {
        // De Morgan: a + b = (a' b')'.
        let or = gate(0b1110, 2, Hint::Or).unwrap();
        assert_eq!((or.kind, or.inverted, or.inputs.iter().any(|(_, b)| *b)), (BlockKind::Or, false, false));
        let nor = gate(0b0001, 2, Hint::Or).unwrap();
        assert_eq!((nor.kind, nor.inverted), (BlockKind::Or, true));
        // Without a hint the fewest bubbles count.
        assert_eq!(gate(0b1110, 2, Hint::None).unwrap().kind, BlockKind::Or);
        assert_eq!(gate(0b0111, 2, Hint::None).unwrap().kind, BlockKind::And);
    }

    #[test]
    fn a_choice_is_found_whatever_input_chooses() {
        // s ? a : b with s = input 1, a = input 0, b = input 2.
        let truth = (0..8u64).fold(0, |t, row| t | (if row >> 1 & 1 == 1 { row & 1 } else { row >> 2 & 1 }) << row);
        let found = gate(truth, 3, Hint::None).unwrap();
        assert_eq!((found.kind, found.inputs), (BlockKind::Choice, vec![(1, false), (0, false), (2, false)]));
        // The majority of three is none of the gates.
        assert_eq!(gate(0b1110_1000, 3, Hint::None), None);
    }
}
