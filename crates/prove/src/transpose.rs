//! Turns 64 words around their diagonal.

/// Bit `j` of word `i` becomes bit `i` of word `j` (Warren, Hacker's Delight, section 7-3).
pub(crate) fn transpose(words: &mut [u64; 64]) {
    let mut mask = 0x0000_0000_ffff_ffff_u64;
    let mut width = 32;
    while width != 0 {
        let mut at = 0;
        while at < 64 {
            let swapped = (words[at] >> width ^ words[at + width]) & mask;
            words[at] ^= swapped << width;
            words[at + width] ^= swapped;
            at = (at + width + 1) & !width;
        }
        width /= 2;
        mask ^= mask << width;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn bits_change_places_with_their_words() {
        let mut words = [0u64; 64];
        for (i, word) in words.iter_mut().enumerate() {
            *word = (i as u64).wrapping_mul(0x9e37_79b9_7f4a_7c15);
        }
        let before = words;
        transpose(&mut words);
        for (i, old) in before.iter().enumerate() {
            for (j, new) in words.iter().enumerate() {
                assert_eq!(old >> j & 1, new >> i & 1);
            }
        }
    }
}
