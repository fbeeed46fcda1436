//! Sets of small numbers, packed.

/// A set of numbers below a fixed limit.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub(crate) struct Bits {
    words: Vec<u64>,
}

impl Bits {
    pub(crate) fn empty(limit: usize) -> Self {
        Self { words: vec![0; limit.div_ceil(64).max(1)] }
    }

    pub(crate) fn full(limit: usize) -> Self {
        let mut set = Self::empty(limit);
        (0..limit).for_each(|i| set.insert(i));
        set
    }

    pub(crate) fn insert(&mut self, i: usize) {
        self.words[i / 64] |= 1 << (i % 64);
    }

    pub(crate) fn remove(&mut self, i: usize) {
        self.words[i / 64] &= !(1 << (i % 64));
    }

    pub(crate) fn contains(&self, i: usize) -> bool {
        self.words[i / 64] >> (i % 64) & 1 == 1
    }

    pub(crate) fn count(&self) -> u32 {
        self.words.iter().map(|w| w.count_ones()).sum()
    }

    /// How many words it takes.
    pub(crate) fn limit_words(&self) -> u64 {
        self.words.len() as u64
    }

    pub(crate) fn is_empty(&self) -> bool {
        self.words.iter().all(|w| *w == 0)
    }

    pub(crate) fn first(&self) -> Option<usize> {
        self.iter().next()
    }

    pub(crate) fn iter(&self) -> impl Iterator<Item = usize> + '_ {
        self.words.iter().enumerate().flat_map(|(i, &word)| {
            std::iter::successors(Some(word), |w| Some(w & w.wrapping_sub(1)))
                .take_while(|w| *w != 0)
                .map(move |w| i * 64 + w.trailing_zeros() as usize)
        })
    }

    /// How many numbers are in both.
    pub(crate) fn count_common(&self, other: &Bits) -> u32 {
        self.words.iter().zip(&other.words).map(|(a, b)| (a & b).count_ones()).sum()
    }

    /// The numbers in both.
    pub(crate) fn common<'a>(&'a self, other: &'a Bits) -> impl Iterator<Item = usize> + 'a {
        self.words.iter().zip(&other.words).enumerate().flat_map(|(i, (a, b))| {
            std::iter::successors(Some(a & b), |w| Some(w & w.wrapping_sub(1)))
                .take_while(|w| *w != 0)
                .map(move |w| i * 64 + w.trailing_zeros() as usize)
        })
    }

    pub(crate) fn meets(&self, other: &Bits) -> bool {
        self.words.iter().zip(&other.words).any(|(a, b)| a & b != 0)
    }

    /// Within `scope`, is every number of `self` in `other`?
    pub(crate) fn within(&self, other: &Bits, scope: &Bits) -> bool {
        self.words.iter().zip(&other.words).zip(&scope.words).all(|((a, b), s)| a & !b & s == 0)
    }

    pub(crate) fn remove_all(&mut self, other: &Bits) {
        self.words.iter_mut().zip(&other.words).for_each(|(a, b)| *a &= !b);
    }

    pub(crate) fn insert_all(&mut self, other: &Bits) {
        self.words.iter_mut().zip(&other.words).for_each(|(a, b)| *a |= b);
    }
}
