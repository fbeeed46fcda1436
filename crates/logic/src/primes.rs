//! All prime implicants of a function.

use crate::cube::Cube;
use crate::rows::RowSet;
use base::{Budget, Exhausted, Resource};

/// The prime implicants of the function whose allowed rows (1 or don't-care) are `valid`, in list order.
///
/// Split on the first input (Shannon): a prime without it is a prime of the product of the two halves, a prime with
/// it is a prime of its half that the other half does not allow (Coudert and Madre 1992). Up to six inputs a word of
/// rows is combined for every set of dashes at once (the tabular method of Quine 1952 and McCluskey 1956, 64 rows a
/// step).
///
/// # Errors
/// When there are more than `most`, or the budget runs out.
pub fn prime_implicants(valid: &RowSet, most: usize, budget: &mut Budget) -> Result<Vec<Cube>, Exhausted> {
    let mut found = Vec::new();
    collect(valid, most, budget, &mut found)?;
    found.sort_by(Cube::list_order);
    Ok(found)
}

fn collect(valid: &RowSet, most: usize, budget: &mut Budget, found: &mut Vec<Cube>) -> Result<(), Exhausted> {
    budget.spend(valid.words().len() as u64 + 8)?;
    if found.len() > most {
        return Err(Exhausted(Resource::Steps));
    }
    if valid.inputs() <= 6 {
        budget.spend(64)?;
        word_primes(valid.inputs(), valid.words()[0], found);
        return Ok(());
    }
    if valid.is_empty() {
        return Ok(());
    }
    if valid.complement().is_empty() {
        found.push(Cube::UNIVERSE);
        return Ok(());
    }
    let (low, high) = (valid.half(false), valid.half(true));
    collect(&low.zip(&high, |a, b| a & b), most, budget, found)?;
    let bit = valid.inputs() - 1;
    for (mine, other, value) in [(&low, &high, false), (&high, &low, true)] {
        let start = found.len();
        collect(mine, most, budget, found)?;
        budget.spend((found.len() - start) as u64 * 4)?;
        let with: Vec<Cube> = found[start..].iter().filter(|p| !other.contains_cube(**p)).copied().collect();
        found.truncate(start);
        found.extend(with.into_iter().map(|p| p.with(bit, value)));
    }
    Ok(())
}

/// Primes of a function of up to six inputs, given as one word of rows.
fn word_primes(inputs: u32, valid: u64, found: &mut Vec<Cube>) {
    // For each set of dashes, the rows (with 0 at the dashes) from which the cube is allowed.
    let mut allowed = [0u64; 64];
    let sets = 1usize << inputs;
    allowed[0] = valid;
    for dashes in 1..sets {
        let bit = dashes.trailing_zeros();
        let before = allowed[dashes & (dashes - 1)];
        allowed[dashes] = before & before >> (1u32 << bit) & rows_with_zero(bit);
    }
    for dashes in 0..sets {
        let mut starts = allowed[dashes];
        for bit in (0..inputs).filter(|bit| dashes >> bit & 1 == 0) {
            // Not prime when it can grow over this input, from either side.
            let grown = allowed[dashes | 1 << bit];
            starts &= !(grown | grown << (1u32 << bit));
        }
        let care = (sets - 1 - dashes) as u32;
        while starts != 0 {
            found.push(Cube::new(care, starts.trailing_zeros()));
            starts &= starts - 1;
        }
    }
}

fn rows_with_zero(bit: u32) -> u64 {
    !crate::rows::input_word(6, 5 - bit, 0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn primes_of(inputs: u32, rows: &[u64]) -> Vec<String> {
        let mut set = RowSet::empty(inputs);
        rows.iter().for_each(|r| set.insert(*r));
        let found = prime_implicants(&set, 10_000, &mut Budget::hand_in()).unwrap();
        found.iter().map(|c| c.text(inputs)).collect()
    }

    /// Every cube that is allowed and can't grow, by trying all of them.
    fn by_definition(set: &RowSet) -> Vec<Cube> {
        let n = set.inputs();
        let all = (0..1u32 << n).flat_map(|care| {
            let sub = (0..1u32 << n).filter(move |v| v & !care == 0);
            sub.map(move |v| Cube::new(care, v))
        });
        let allowed = |c: Cube| c.rows(n).all(|r| set.contains(r));
        let mut list: Vec<Cube> = all
            .filter(|c| allowed(*c) && (0..n).all(|b| c.care() >> b & 1 == 0 || !allowed(c.without(1 << b))))
            .collect();
        list.sort_by(Cube::list_order);
        list
    }

    #[test]
    fn a_function_of_a_handbook_has_its_primes() {
        // Σm(4,8,10,11,12,15) + d(9,14): the usual worked example of the tabular method, from memory.
        assert_eq!(primes_of(4, &[4, 8, 9, 10, 11, 12, 14, 15]), ["10--", "1-1-", "1--0", "-100"]);
    }

    #[test]
    fn parity_has_a_prime_for_every_odd_row() {
        let odd: Vec<u64> = (0..256u64).filter(|r| r.count_ones() % 2 == 1).collect();
        assert_eq!(primes_of(8, &odd).len(), 128);
    }

    #[test]
    fn no_function_of_four_inputs_has_more_than_thirteen() {
        // The largest number of prime implicants is 1, 2, 6, 13 for 1 to 4 inputs (counted by brute force with an
        // independent program; 6 and 13 are also known from the literature, from memory).
        for (n, most) in [(1u32, 1usize), (2, 2), (3, 6), (4, 13)] {
            let functions = 0..1u64 << (1 << n);
            let largest = functions.map(|f| {
                let mut found = Vec::new();
                word_primes(n, f, &mut found);
                found.len()
            });
            assert_eq!(largest.max(), Some(most));
        }
    }

    proptest! {
        #[test]
        fn both_methods_find_the_primes_of_the_definition(words in prop::collection::vec(any::<u64>(), 4), inputs in 2u32..=8) {
            let set = RowSet::from_words(inputs, &words);
            prop_assert_eq!(prime_implicants(&set, 10_000, &mut Budget::hand_in()).unwrap(), by_definition(&set));
        }
    }
}
