//! Forms with XOR and XNOR, where they are smaller than the sum of products.

use crate::cube::Cube;
use crate::form::{Form, GateOp};
use crate::rows::RowSet;

/// A form with exclusive ORs that has fewer literals than `cover`, when there is one: first an exclusive OR of inputs
/// alone (solved as linear equations over two elements), else the cover with pairs of products `t x y' + t x' y` taken
/// together as `t (x ⊕ y)`.
pub fn exclusive_form(inputs: u32, ones: &RowSet, dont_care: &RowSet, cover: &[Cube]) -> Option<Form> {
    let literals: u32 = cover.iter().map(|c| c.literals()).sum();
    let linear = affine(inputs, ones, dont_care).filter(|f| f.literals() > 1);
    let paired = pairs(inputs, cover);
    linear.into_iter().chain(paired).filter(|f| f.literals() < literals).min_by_key(Form::literals)
}

/// `c ⊕ x ⊕ y …` that agrees on every care row: Gaussian elimination, one equation a care row.
fn affine(inputs: u32, ones: &RowSet, dont_care: &RowSet) -> Option<Form> {
    if inputs > 16 {
        return None;
    }
    // Bit `inputs` of an equation is the constant, bit `inputs + 1` its right side.
    let top = 1u64 << (inputs + 1);
    let mut basis: Vec<u64> = Vec::new();
    for row in dont_care.complement().iter() {
        let mut equation = row | 1 << inputs | if ones.contains(row) { top } else { 0 };
        for known in &basis {
            let pivot = 1u64 << (63 - (known & (top - 1)).leading_zeros());
            if equation & pivot != 0 {
                equation ^= known;
            }
        }
        if equation & (top - 1) != 0 {
            basis.push(equation);
            basis.sort_unstable_by_key(|e| std::cmp::Reverse(e & (top - 1)));
        } else if equation != 0 {
            return None;
        }
    }
    // Free unknowns are 0: the equations with the lowest pivots first.
    let mut solution = 0u64;
    for equation in basis.iter().rev() {
        let pivot = 1u64 << (63 - (equation & (top - 1)).leading_zeros());
        let rest = equation & (top - 1) & !pivot & solution;
        if (rest.count_ones() % 2 == 1) != (equation & top != 0) {
            solution |= pivot;
        }
    }
    let operands: Vec<Form> = (0..inputs)
        .filter(|i| solution >> (inputs - 1 - i) & 1 == 1)
        .map(|input| Form::Literal { input, positive: true })
        .collect();
    if operands.is_empty() {
        return None;
    }
    let op = if solution >> inputs & 1 == 1 { GateOp::Xnor } else { GateOp::Xor };
    let form = Form::gate(op, operands);
    let wrong = form.rows(inputs).zip(ones, |a, b| a ^ b).zip(dont_care, |wrong, free| wrong & !free);
    wrong.is_empty().then_some(form)
}

/// The cover with pairs of products joined that differ in the signs of two inputs.
fn pairs(inputs: u32, cover: &[Cube]) -> Option<Form> {
    let mut left: Vec<Cube> = cover.to_vec();
    let mut terms = Vec::new();
    let mut i = 0;
    let mut joined = false;
    while i < left.len() {
        let a = left[i];
        let partner = (i + 1..left.len())
            .find(|j| left[*j].care() == a.care() && (left[*j].value() ^ a.value()).count_ones() == 2);
        let Some(j) = partner else {
            terms.push(Form::product(inputs, a));
            i += 1;
            continue;
        };
        let pair = left[j].value() ^ a.value();
        left.remove(j);
        joined = true;
        let both: Vec<Form> = (0..inputs)
            .filter(|k| pair >> (inputs - 1 - k) & 1 == 1)
            .map(|input| Form::Literal { input, positive: true })
            .collect();
        // Equal signs in one of the products make it an XNOR.
        let same = (a.value() & pair).count_ones() != 1;
        let exclusive = Form::Gate(if same { GateOp::Xnor } else { GateOp::Xor }, both);
        let rest = a.without(pair);
        terms.push(if rest == Cube::UNIVERSE {
            exclusive
        } else {
            let mut factors = match Form::product(inputs, rest) {
                Form::Gate(GateOp::And, factors) => factors,
                one => vec![one],
            };
            factors.push(exclusive);
            Form::Gate(GateOp::And, factors)
        });
        i += 1;
    }
    joined.then(|| Form::gate(GateOp::Or, terms))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::rows::input_word;
    use crate::{Effort, Notation, minimise};

    /// The rows where an odd number of the inputs of `mask` is 1.
    fn parity_rows(inputs: u32, mask: u32) -> RowSet {
        let words = RowSet::empty(inputs).words().len() as u64;
        let column: Vec<u64> = (0..words)
            .map(|w| {
                let picked = (0..inputs).filter(|i| mask >> (inputs - 1 - i) & 1 == 1);
                picked.fold(0, |x, i| x ^ input_word(inputs, i, w))
            })
            .collect();
        RowSet::from_words(inputs, &column)
    }

    fn form_of(inputs: u32, ones: &RowSet, dont_care: &RowSet) -> Option<Form> {
        let minimum = minimise(ones, dont_care, &Effort::default());
        exclusive_form(inputs, ones, dont_care, &minimum.covers[0])
    }

    fn text(form: &Form) -> String {
        let names: Vec<String> = ["a", "b", "c", "d"].map(str::to_owned).to_vec();
        form.text(&names, Notation::Operators)
    }

    #[test]
    fn the_sum_of_a_full_adder_is_one_exclusive_or() {
        let ones = parity_rows(3, 0b111);
        assert_eq!(text(&form_of(3, &ones, &RowSet::empty(3)).unwrap()), "a ^ b ^ c");
        assert_eq!(text(&form_of(3, &ones.complement(), &RowSet::empty(3)).unwrap()), "~(a ^ b ^ c)");
    }

    #[test]
    fn products_that_differ_in_two_signs_are_taken_together() {
        // a (b ⊕ c) + d
        let ones = parity_rows(4, 0b0110).zip(&Cube::parse("1---").unwrap().0.row_set(4), |x, a| x & a);
        let ones = ones.zip(&Cube::parse("---1").unwrap().0.row_set(4), |x, d| x | d);
        let form = form_of(4, &ones, &RowSet::empty(4)).unwrap();
        assert_eq!(form.rows(4), ones);
        assert_eq!(form.literals(), 4);
    }

    #[test]
    fn dont_cares_may_make_a_function_linear() {
        let mut dont_care = RowSet::empty(3);
        let mut ones = parity_rows(3, 0b110);
        for row in [0u64, 5] {
            dont_care.insert(row);
            ones = ones.zip(&dont_care, |o, d| o & !d);
        }
        let form = form_of(3, &ones, &dont_care).unwrap();
        assert_eq!(text(&form), "a ^ b");
        assert!(form_of(3, &Cube::parse("11-").unwrap().0.row_set(3), &RowSet::empty(3)).is_none());
    }
}
