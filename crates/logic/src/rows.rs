//! Sets of rows of a truth table, one bit a row, 64 rows a word.

use crate::cube::Cube;

/// The most inputs a table may have: 2^20 rows are 128 KiB an output.
pub const MAX_INPUTS: u32 = 20;

/// A set of rows of a table with `inputs` inputs: bit `r % 64` of word `r / 64` says whether row `r` is in it.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct RowSet {
    inputs: u32,
    words: Vec<u64>,
}

impl RowSet {
    /// No rows.
    ///
    /// `inputs` is at most [`MAX_INPUTS`]; more is cut to that.
    pub fn empty(inputs: u32) -> Self {
        let inputs = inputs.min(MAX_INPUTS);
        Self { inputs, words: vec![0; (1usize << inputs).div_ceil(64)] }
    }

    /// All rows.
    pub fn full(inputs: u32) -> Self {
        Self::empty(inputs).complement()
    }

    /// From packed words; missing words are empty, spare bits are dropped.
    pub fn from_words(inputs: u32, words: &[u64]) -> Self {
        let mut set = Self::empty(inputs);
        for (to, from) in set.words.iter_mut().zip(words) {
            *to = *from;
        }
        set.trim();
        set
    }

    fn trim(&mut self) {
        if self.inputs < 6 {
            self.words[0] &= (1 << (1u32 << self.inputs)) - 1;
        }
    }

    /// Number of inputs of the table.
    pub fn inputs(&self) -> u32 {
        self.inputs
    }

    /// Number of rows of the table: 2^inputs.
    pub fn rows(&self) -> u64 {
        1 << self.inputs
    }

    /// The packed words.
    pub fn words(&self) -> &[u64] {
        &self.words
    }

    /// Is the row in the set?
    pub fn contains(&self, row: u64) -> bool {
        self.words.get((row / 64) as usize).is_some_and(|w| w >> (row % 64) & 1 == 1)
    }

    /// Puts a row in; nothing past the end.
    pub fn insert(&mut self, row: u64) {
        if row < self.rows() {
            self.words[(row / 64) as usize] |= 1 << (row % 64);
        }
    }

    /// Takes a row out.
    pub fn remove(&mut self, row: u64) {
        if row < self.rows() {
            self.words[(row / 64) as usize] &= !(1 << (row % 64));
        }
    }

    /// How many rows are in it.
    pub fn count(&self) -> u64 {
        self.words.iter().map(|w| u64::from(w.count_ones())).sum()
    }

    /// True without rows.
    pub fn is_empty(&self) -> bool {
        self.words.iter().all(|w| *w == 0)
    }

    /// The rows, ascending.
    pub fn iter(&self) -> impl Iterator<Item = u64> + '_ {
        self.words.iter().enumerate().flat_map(|(i, &word)| {
            std::iter::successors(Some(word), |w| Some(w & w.wrapping_sub(1)))
                .take_while(|w| *w != 0)
                .map(move |w| i as u64 * 64 + u64::from(w.trailing_zeros()))
        })
    }

    /// The first row in it.
    pub fn first(&self) -> Option<u64> {
        self.iter().next()
    }

    /// All rows that are not in it.
    pub fn complement(&self) -> Self {
        let mut set = Self { inputs: self.inputs, words: self.words.iter().map(|w| !w).collect() };
        set.trim();
        set
    }

    /// Is every row of the cube in the set?
    pub fn contains_cube(&self, cube: Cube) -> bool {
        let low = low_pattern(self.inputs, cube);
        self.cube_words(cube).all(|word| self.words[word] & low == low)
    }

    /// Is some row of the cube in the set?
    pub fn meets_cube(&self, cube: Cube) -> bool {
        let low = low_pattern(self.inputs, cube);
        self.cube_words(cube).any(|word| self.words[word] & low != 0)
    }

    /// Puts every row of the cube in.
    pub fn insert_cube(&mut self, cube: Cube) {
        let low = low_pattern(self.inputs, cube);
        for word in self.cube_words(cube) {
            self.words[word] |= low;
        }
    }

    /// Takes every row of the cube out.
    pub fn remove_cube(&mut self, cube: Cube) {
        let low = low_pattern(self.inputs, cube);
        for word in self.cube_words(cube) {
            self.words[word] &= !low;
        }
    }

    /// The words that hold rows of the cube.
    fn cube_words(&self, cube: Cube) -> impl Iterator<Item = usize> + use<> {
        Cube::new(cube.care() >> 6, cube.value() >> 6).rows(self.inputs.saturating_sub(6)).map(|w| w as usize)
    }

    /// The half of the table where the first input has this value, as a table without that input.
    pub(crate) fn half(&self, value: bool) -> Self {
        let inputs = self.inputs - 1;
        let words = if self.words.len() > 1 {
            let middle = self.words.len() / 2;
            if value { self.words[middle..].to_vec() } else { self.words[..middle].to_vec() }
        } else {
            vec![if value { self.words[0] >> (1u32 << inputs) } else { self.words[0] }]
        };
        let mut half = Self { inputs, words };
        half.trim();
        half
    }

    /// Combines two sets of the same table word by word.
    pub fn zip(&self, other: &Self, f: impl Fn(u64, u64) -> u64) -> Self {
        let words = self.words.iter().zip(&other.words).map(|(a, b)| f(*a, *b)).collect();
        let mut set = Self { inputs: self.inputs, words };
        set.trim();
        set
    }
}

impl Cube {
    /// The rows it covers as a set.
    pub fn row_set(self, inputs: u32) -> RowSet {
        let mut set = RowSet::empty(inputs);
        set.insert_cube(self);
        set
    }
}

/// Which of the 64 rows of a word the literals on the last six inputs leave.
fn low_pattern(inputs: u32, cube: Cube) -> u64 {
    let all = if inputs < 6 { (1 << (1u32 << inputs)) - 1 } else { u64::MAX };
    (0..inputs.min(6)).filter(|bit| cube.care() >> bit & 1 == 1).fold(all, |rows, bit| {
        let ones = PATTERNS[bit as usize];
        rows & if cube.value() >> bit & 1 == 1 { ones } else { !ones }
    })
}

/// Word `b` has a 1 where bit `b` of the row number is 1.
const PATTERNS: [u64; 6] = [
    0xAAAA_AAAA_AAAA_AAAA,
    0xCCCC_CCCC_CCCC_CCCC,
    0xF0F0_F0F0_F0F0_F0F0,
    0xFF00_FF00_FF00_FF00,
    0xFFFF_0000_FFFF_0000,
    0xFFFF_FFFF_0000_0000,
];

/// The values that input `index` (0 = most significant of `inputs`) has on the 64 rows of word `word`.
///
/// The bit-parallel start of every exhaustive run: bit `b` belongs to row `64 * word + b`.
pub fn input_word(inputs: u32, index: u32, word: u64) -> u64 {
    let weight = inputs - 1 - index;
    match PATTERNS.get(weight as usize) {
        Some(pattern) => *pattern,
        None if word >> (weight - 6) & 1 == 1 => u64::MAX,
        None => 0,
    }
}

/// The input bits of a row as text, first input first: row 6 of 4 inputs is `0110`.
pub fn row_text(inputs: u32, row: u64) -> String {
    (0..inputs).rev().map(|bit| if row >> bit & 1 == 1 { '1' } else { '0' }).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn input_words_count_in_binary() {
        for row in 0..512u64 {
            for index in 0..9 {
                let bit = input_word(9, index, row / 64) >> (row % 64) & 1;
                assert_eq!(bit, row >> (8 - index) & 1, "row {row} input {index}");
            }
        }
    }

    #[test]
    fn sets_of_small_tables_have_no_spare_rows() {
        let full = RowSet::full(2);
        assert_eq!(full.iter().collect::<Vec<_>>(), [0, 1, 2, 3]);
        assert_eq!(RowSet::full(0).count(), 1);
        assert_eq!(full.complement().first(), None);
        assert_eq!(row_text(4, 6), "0110");
    }
}
