//! Code rules: tables that the trade knows by name.
//!
//! The inputs together are one unsigned number, the first input its most significant bit; the outputs together show
//! its code word, the first output bit the leftmost. Codes are those of any handbook of digital design (common
//! practice); seven-segment bits run a, b, c, d, e, f, g.

use crate::rows::RowSet;
use crate::table::{OutputColumn, TruthTable};

/// A code by name.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum CodeRule {
    /// The number itself.
    Binary,
    /// Binary to reflected binary (Gray 1953).
    Gray,
    /// Reflected binary to binary.
    GrayToBinary,
    /// Binary to decimal digits of four bits each, the leftmost digit first.
    Bcd,
    /// A decimal digit plus three; 10 and more are don't-cares.
    Excess3,
    /// Output `i` from the right is 1 for the number `i`.
    OneHot,
    /// As many ones, from the right, as the number says.
    Thermometer,
    /// 1 makes the number of ones even.
    EvenParity,
    /// 1 makes the number of ones odd.
    OddParity,
    /// The character with the number's position in `text`, on seven segments; other numbers are don't-cares.
    SevenSegment {
        /// The characters for 0, 1, 2 and so on.
        text: String,
        /// How the digits look that the trade draws in two ways.
        shapes: DigitShapes,
    },
}

/// The digits that are drawn in two ways.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct DigitShapes {
    /// 6 with its top bar, segment a.
    pub six_with_top: bool,
    /// 7 with its upper left bar, segment f.
    pub seven_with_hook: bool,
    /// 9 with its bottom bar, segment d.
    pub nine_with_bottom: bool,
}

impl Default for DigitShapes {
    fn default() -> Self {
        Self { six_with_top: true, seven_with_hook: false, nine_with_bottom: true }
    }
}

/// Why a rule gives no table for these signals.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CodeError(
    /// What is wrong and what to do, as one sentence.
    pub String,
);

impl std::fmt::Display for CodeError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0)
    }
}

/// The words that name rules in files and on the command line.
pub const CODE_NAMES: [&str; 10] = [
    "binary",
    "gray",
    "gray-to-binary",
    "bcd",
    "excess-3",
    "one-hot",
    "thermometer",
    "even-parity",
    "odd-parity",
    "seven-segment",
];

impl CodeRule {
    /// The rule of a name; `text` and `shapes` are for `seven-segment` only.
    pub fn from_name(name: &str, text: &str, shapes: DigitShapes) -> Option<Self> {
        Some(match name {
            "binary" => Self::Binary,
            "gray" => Self::Gray,
            "gray-to-binary" => Self::GrayToBinary,
            "bcd" => Self::Bcd,
            "excess-3" => Self::Excess3,
            "one-hot" => Self::OneHot,
            "thermometer" => Self::Thermometer,
            "even-parity" => Self::EvenParity,
            "odd-parity" => Self::OddParity,
            "seven-segment" => Self::SevenSegment { text: text.to_owned(), shapes },
            _ => return None,
        })
    }

    /// How many output bits the rule fills for this many inputs.
    pub fn output_bits(&self, inputs: u32) -> u32 {
        match self {
            Self::Binary | Self::Gray | Self::GrayToBinary => inputs,
            Self::Bcd => 4 * u32::try_from(((1u64 << inputs) - 1).to_string().len()).unwrap_or(1),
            Self::Excess3 => 4,
            Self::OneHot => 1 << inputs.min(20),
            Self::Thermometer => (1 << inputs.min(20)) - 1,
            Self::EvenParity | Self::OddParity => 1,
            Self::SevenSegment { .. } => 7,
        }
    }

    /// The code word of a number on `bits` output bits, the leftmost the most significant; `None` for a don't-care.
    fn word(&self, inputs: u32, number: u64, bits: u32) -> Option<u128> {
        let number_wide = u128::from(number);
        Some(match self {
            Self::Binary => number_wide,
            Self::Gray => u128::from(number ^ number >> 1),
            Self::GrayToBinary => u128::from((0..inputs).fold(0, |binary, shift| binary ^ number >> shift)),
            Self::Bcd => number.to_string().bytes().fold(0u128, |word, digit| word << 4 | u128::from(digit - b'0')),
            Self::Excess3 if number > 9 => return None,
            Self::Excess3 => number_wide + 3,
            Self::OneHot if number >= u64::from(bits) => return None,
            Self::OneHot => 1 << number,
            Self::Thermometer if number > u64::from(bits) => return None,
            Self::Thermometer if number == 128 => u128::MAX,
            Self::Thermometer => (1 << number) - 1,
            Self::EvenParity => u128::from(number.count_ones() % 2 == 1),
            Self::OddParity => u128::from(number.count_ones().is_multiple_of(2)),
            Self::SevenSegment { text, shapes } => {
                let character = text.chars().nth(usize::try_from(number).ok()?)?;
                u128::from(segments(character, *shapes)?)
            }
        })
    }

    /// The table of the rule over these signals; `active_low` complements every output.
    ///
    /// # Errors
    /// When the number of outputs doesn't fit the rule, or a character has no shape on seven segments.
    pub fn table(&self, inputs: &[String], outputs: &[String], active_low: bool) -> Result<TruthTable, CodeError> {
        let n = u32::try_from(inputs.len()).unwrap_or(u32::MAX);
        let bits = u32::try_from(outputs.len()).unwrap_or(u32::MAX);
        let fixed = !matches!(self, Self::OneHot | Self::Thermometer);
        let wanted = self.output_bits(n);
        if bits > wanted || bits == 0 || fixed && bits != wanted || bits > 128 {
            let least = if fixed { String::new() } else { "at most ".into() };
            return Err(CodeError(format!(
                "This code has {least}{wanted} output bits for {n} input bits, not {bits}; change the outputs."
            )));
        }
        if let Self::Excess3 = self
            && n != 4
        {
            return Err(CodeError(format!("Excess-3 codes a digit of 4 input bits, not {n}; change the inputs.")));
        }
        if let Self::SevenSegment { text, shapes } = self {
            if text.is_empty() {
                return Err(CodeError("The characters to show are missing; write them one after the other.".into()));
            }
            if let Some(c) = text.chars().find(|c| segments(*c, *shapes).is_none()) {
                return Err(CodeError(format!(
                    "`{c}` has no shape on seven segments; use digits or one of {SHOWN_LETTERS}."
                )));
            }
            if text.chars().count() as u64 > 1 << n {
                return Err(CodeError(format!(
                    "{n} input bits choose among {} characters only; shorten the text.",
                    1u64 << n
                )));
            }
        }
        let mut columns: Vec<(RowSet, RowSet)> = vec![(RowSet::empty(n), RowSet::empty(n)); outputs.len()];
        for row in 0..1u64 << n {
            let word = self.word(n, row, bits);
            for (i, (ones, dont_care)) in columns.iter_mut().enumerate() {
                match word {
                    None => dont_care.insert(row),
                    Some(word) if (word >> (outputs.len() - 1 - i) & 1 == 1) != active_low => ones.insert(row),
                    Some(_) => {}
                }
            }
        }
        let outputs = outputs.iter().zip(columns);
        let outputs =
            outputs.map(|(name, (ones, dont_care))| OutputColumn { name: name.clone(), ones, dont_care }).collect();
        Ok(TruthTable { inputs: inputs.to_vec(), outputs })
    }
}

/// The letters that are shown, beside the digits.
const SHOWN_LETTERS: &str = "A b C c d E F G H h I J L n o P q r S t U u Y - _";

/// The segments of a character, a the most significant of seven bits; `None` when it can't be told from others.
pub fn segments(character: char, shapes: DigitShapes) -> Option<u8> {
    let lit = match character {
        '0' | 'O' => "abcdef",
        '1' => "bc",
        '2' => "abdeg",
        '3' => "abcdg",
        '4' => "bcfg",
        '5' | 'S' | 's' => "acdfg",
        '6' if shapes.six_with_top => "acdefg",
        '6' => "cdefg",
        '7' if shapes.seven_with_hook => "abcf",
        '7' => "abc",
        '8' => "abcdefg",
        '9' if shapes.nine_with_bottom => "abcdfg",
        '9' => "abcfg",
        'A' | 'a' => "abcefg",
        'B' | 'b' => "cdefg",
        'C' => "adef",
        'c' => "deg",
        'D' | 'd' => "bcdeg",
        'E' | 'e' => "adefg",
        'F' | 'f' => "aefg",
        'G' | 'g' => "acdef",
        'H' => "bcefg",
        'h' => "cefg",
        'I' => "ef",
        'J' | 'j' => "bcde",
        'L' | 'l' => "def",
        'N' | 'n' => "ceg",
        'o' => "cdeg",
        'P' | 'p' => "abefg",
        'q' | 'Q' => "abcfg",
        'r' | 'R' => "eg",
        't' | 'T' => "defg",
        'U' => "bcdef",
        'u' => "cde",
        'Y' | 'y' => "bcdfg",
        '-' => "g",
        '_' => "d",
        ' ' => "",
        _ => return None,
    };
    Some(lit.bytes().fold(0, |bits, s| bits | 1 << (b'g' - s)))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn words(rule: &CodeRule, inputs: u32, outputs: u32) -> Vec<String> {
        let names = |c: char, n: u32| (0..n).map(|i| format!("{c}{i}")).collect::<Vec<_>>();
        let table = rule.table(&names('i', inputs), &names('o', outputs), false).unwrap();
        (0..table.rows()).map(|r| table.output_text(r)).collect()
    }

    #[test]
    fn neighbouring_gray_words_differ_in_one_bit_and_come_back() {
        let gray = words(&CodeRule::Gray, 4, 4);
        // The first eight words as in every handbook (common practice).
        assert_eq!(gray[..8], ["0000", "0001", "0011", "0010", "0110", "0111", "0101", "0100"]);
        let back = words(&CodeRule::GrayToBinary, 4, 4);
        for row in 0..16usize {
            let next = u8::from_str_radix(&gray[(row + 1) % 16], 2).unwrap();
            let this = u8::from_str_radix(&gray[row], 2).unwrap();
            assert_eq!((this ^ next).count_ones(), 1);
            assert_eq!(back[this as usize], format!("{row:04b}"));
        }
    }

    #[test]
    fn seven_segment_digits_are_the_published_patterns() {
        // The oracle data's patterns with tails, bit 0 = a: 3F 06 5B 4F 66 6D 7D 07 7F 6F, then A b C d E F
        // 77 7C 39 5E 79 71 (read there from packages of display drivers).
        const PATTERNS: [u8; 16] =
            [0x3F, 0x06, 0x5B, 0x4F, 0x66, 0x6D, 0x7D, 0x07, 0x7F, 0x6F, 0x77, 0x7C, 0x39, 0x5E, 0x79, 0x71];
        for (c, pattern) in "0123456789AbCdEF".chars().zip(PATTERNS) {
            let reversed = pattern.reverse_bits() >> 1;
            assert_eq!(segments(c, DigitShapes::default()), Some(reversed), "{c}");
        }
        let plain = DigitShapes { six_with_top: false, seven_with_hook: true, nine_with_bottom: false };
        let bits = |c| segments(c, plain).map(|s| s.reverse_bits() >> 1);
        assert_eq!([bits('6'), bits('7'), bits('9')], [Some(0x7C), Some(0x27), Some(0x67)]);
    }

    #[test]
    fn one_hot_thermometer_parity_and_decimal_codes() {
        assert_eq!(words(&CodeRule::OneHot, 2, 4), ["0001", "0010", "0100", "1000"]);
        assert_eq!(words(&CodeRule::OneHot, 2, 3), ["001", "010", "100", "---"]);
        assert_eq!(words(&CodeRule::Thermometer, 2, 3), ["000", "001", "011", "111"]);
        assert_eq!(words(&CodeRule::EvenParity, 2, 1), ["0", "1", "1", "0"]);
        assert_eq!(words(&CodeRule::Excess3, 4, 4)[..3], ["0011", "0100", "0101"]);
        assert_eq!(words(&CodeRule::Excess3, 4, 4)[10], "----");
        assert_eq!(words(&CodeRule::Bcd, 4, 8)[13], "00010011");
    }

    #[test]
    fn what_does_not_fit_is_told() {
        let names = |n: usize| (0..n).map(|i| format!("x{i}")).collect::<Vec<_>>();
        let fault = |rule: &CodeRule, i, o| rule.table(&names(i), &names(o), false).unwrap_err().0;
        assert!(fault(&CodeRule::Gray, 3, 4).contains("3 output bits for 3 input bits, not 4"));
        assert!(fault(&CodeRule::Excess3, 3, 4).contains("4 input bits, not 3"));
        let text = |t: &str| CodeRule::SevenSegment { text: t.into(), shapes: DigitShapes::default() };
        assert!(fault(&text("0W"), 1, 7).contains("`W` has no shape"));
        assert!(fault(&text("012"), 1, 7).contains("choose among 2 characters"));
    }
}
