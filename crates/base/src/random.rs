//! Numbers that look random and are the same each time.

/// Marsaglia's xorshift64 (2003): for stimulus, samples and tests, never for secrets.
#[derive(Clone, Debug)]
pub struct Random(u64);

impl Random {
    /// A sequence of its own for each seed.
    pub fn new(seed: u64) -> Self {
        Random((seed ^ 0x9e37_79b9_7f4a_7c15).max(1))
    }

    /// 64 bits.
    pub fn word(&mut self) -> u64 {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        self.0
    }

    /// A number below `n`, which is not 0.
    pub fn below(&mut self, n: usize) -> usize {
        (self.word() >> 33) as usize % n
    }
}
