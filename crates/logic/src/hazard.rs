//! Static hazards of two-level forms, and the consensus terms that remove them.
//!
//! A sum of products can drop to 0 for a moment when one input changes between two rows that both are 1 but that no
//! single product covers (Huffman 1957; common practice in textbooks). A product of sums is the same on its zeros.

use crate::cube::Cube;

/// A pair of neighbouring rows that no single term covers.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Hazard {
    /// The input that changes, from 0 for the most significant one.
    pub input: u32,
    /// A row before the change, with that input 1.
    pub from: u64,
    /// The row behind it.
    pub to: u64,
    /// The term that covers both and all like them.
    pub consensus: Cube,
}

/// The static hazards of a cover, each with the term that removes it. Adding all those terms leaves none.
///
/// For the cover of a sum of products these are static-1 hazards; for the zeros of a product of sums static-0 ones.
pub fn static_hazards(inputs: u32, cover: &[Cube]) -> Vec<Hazard> {
    let mut working = cover.to_vec();
    let mut hazards = Vec::new();
    for (i, a) in cover.iter().enumerate() {
        for b in &cover[i + 1..] {
            let Some(consensus) = a.consensus(*b) else { continue };
            let clash = (a.value() ^ b.value()) & a.care() & b.care();
            let both = |row: u64| working.iter().any(|c| c.care() & clash == 0 && c.covers(row));
            let Some(row) = consensus.rows(inputs).map(|r| r | u64::from(clash)).find(|r| !both(*r)) else { continue };
            hazards.push(Hazard {
                input: inputs - 1 - clash.trailing_zeros(),
                from: row,
                to: row ^ u64::from(clash),
                consensus,
            });
            working.push(consensus);
        }
    }
    hazards
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn cubes(texts: &[&str]) -> Vec<Cube> {
        texts.iter().map(|t| Cube::parse(t).unwrap().0).collect()
    }

    #[test]
    fn the_multiplexer_needs_its_consensus_term() {
        // f = s a + s' b has a static-1 hazard at a = b = 1 when s falls; a b removes it (common practice).
        let found = static_hazards(3, &cubes(&["11-", "0-1"]));
        assert_eq!(found, [Hazard { input: 0, from: 0b111, to: 0b011, consensus: cubes(&["-11"])[0] }]);
        assert!(static_hazards(3, &cubes(&["11-", "0-1", "-11"])).is_empty());
    }

    proptest! {
        #[test]
        fn with_the_terms_added_every_pair_of_neighbouring_ones_has_a_term_of_its_own(
            list in prop::collection::vec((0u32..32, 0u32..32), 0..7),
        ) {
            let mut cover: Vec<Cube> = list.into_iter().map(|(care, value)| Cube::new(care, value)).collect();
            cover.extend(static_hazards(5, &cover).iter().map(|h| h.consensus));
            let is_one = |row: u64| cover.iter().any(|c| c.covers(row));
            for row in 0..32u64 {
                for bit in 0..5 {
                    let other = row ^ 1 << bit;
                    if is_one(row) && is_one(other) {
                        prop_assert!(cover.iter().any(|c| c.covers(row) && c.covers(other)), "{row} {other}");
                    }
                }
            }
        }
    }
}
