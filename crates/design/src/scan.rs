//! Reading values out of text: files and lines that testbenches read (IEEE 1364-2005 17.2.4, IEEE 1076-2008 16.4).

use crate::ids::ExprId;
use crate::process::Target;
use crate::real::real_bits;
use logic::{Level, LogicVector};

/// A text file of the hand-in that a testbench reads.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TextFile {
    /// Its name without folders.
    pub name: String,
    /// What stands in it.
    pub text: String,
}

/// Where characters come from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ScanSource {
    /// A file, by its number counted from 1; any other number is no file.
    File(ExprId),
    /// A line taken from a file, by its number counted from 0.
    Line(u32),
    /// A text.
    Text(ExprId),
}

/// How the characters of a value are read.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ScanKind {
    /// Digits of so many bits, with `x`, `z` and `_`, as many as there are.
    Digits(u32),
    /// A whole number with a sign, or `x` or `z`.
    Decimal,
    /// A real number.
    Real,
    /// The next character, blanks included.
    Character,
    /// Characters up to a blank.
    Word,
    /// As many levels (`U X 0 1 Z W L H -`) as the value has bits.
    Levels,
    /// As many hexadecimal or octal digits as the value needs, of so many bits each.
    ExactDigits(u32),
    /// `true` or `false`.
    Boolean,
    /// A number and a unit of time, in femtoseconds.
    Time,
}

/// A step of reading.
#[derive(Clone, Debug, PartialEq)]
pub enum ScanPart {
    /// Blanks and ends of lines, as many as there are.
    Blanks,
    /// This character.
    Literal(u8),
    /// A value; without a target it is passed over and doesn't count.
    Value {
        /// How it is read.
        kind: ScanKind,
        /// Most characters.
        most: Option<u32>,
        /// Where it goes.
        target: Option<Target>,
    },
    /// The rest of the line with its end, as text, which counts as many as it has characters.
    RestOfLine(Target),
    /// A whole line without its end becomes the line of that number.
    TakeLine(u32),
    /// Counts 1 at the end, else 0. `tried`: only once something was asked for that was not there.
    AtEnd {
        /// As the C language's `feof`.
        tried: bool,
    },
    /// From the beginning again.
    Rewind,
}

/// Reading as a value: how many values were read, or -1 at the end.
#[derive(Clone, Debug, PartialEq)]
pub struct Scan {
    /// Where from.
    pub source: ScanSource,
    /// What, in order; the first that is not there ends it.
    pub parts: Vec<ScanPart>,
}

/// A text with a place in it.
#[derive(Clone, Debug, Default)]
pub struct Reader {
    bytes: Vec<u8>,
    at: usize,
    /// More was asked for than there is.
    tried: bool,
}

impl Reader {
    /// From the beginning of a text.
    pub fn new(text: &str) -> Self {
        let bytes = text.chars().map(|c| u8::try_from(u32::from(c)).unwrap_or(b'?')).collect();
        Reader { bytes, at: 0, tried: false }
    }

    /// From the beginning again.
    pub fn rewind(&mut self) {
        (self.at, self.tried) = (0, false);
    }

    /// Puts characters at the end.
    pub fn append(&mut self, text: &str) {
        self.bytes.extend(text.chars().map(|c| u8::try_from(u32::from(c)).unwrap_or(b'?')));
    }

    /// Characters from the one that comes next on.
    pub fn rest(&self) -> String {
        self.bytes[self.at.min(self.bytes.len())..].iter().map(|b| char::from(*b)).collect()
    }

    /// How many there are from the one that comes next on.
    pub fn left(&self) -> usize {
        self.bytes.len().saturating_sub(self.at)
    }

    /// Characters before the one that comes next.
    pub fn place(&self) -> usize {
        self.at
    }

    /// True when nothing is left; `tried`: and when more was asked for already.
    pub fn is_at_end(&self, tried: bool) -> bool {
        if tried { self.tried } else { self.at >= self.bytes.len() }
    }

    fn peek(&mut self) -> Option<u8> {
        let next = self.bytes.get(self.at).copied();
        self.tried |= next.is_none();
        next
    }

    fn take(&mut self) -> Option<u8> {
        let next = self.peek()?;
        self.at += 1;
        Some(next)
    }

    /// Passes over blanks and ends of lines.
    pub fn blanks(&mut self) {
        while self.peek().is_some_and(|b| b.is_ascii_whitespace()) {
            self.at += 1;
        }
    }

    /// Passes over this character, when it is next.
    pub fn literal(&mut self, wanted: u8) -> bool {
        let fits = self.peek() == Some(wanted);
        self.at += usize::from(fits);
        fits
    }

    /// The rest of the line with its end; `None` at the end.
    pub fn rest_of_line(&mut self) -> Option<String> {
        self.peek()?;
        let start = self.at;
        while let Some(byte) = self.take() {
            if byte == b'\n' {
                break;
            }
        }
        Some(self.bytes[start..self.at].iter().map(|b| char::from(*b)).collect())
    }

    fn run(&mut self, most: usize, fits: impl Fn(u8) -> bool) -> Vec<u8> {
        let mut found = Vec::new();
        while found.len() < most
            && let Some(byte) = self.peek().filter(|b| fits(*b))
        {
            found.push(byte);
            self.at += 1;
        }
        found
    }

    /// A value of so many bits; `None`, with nothing taken but blanks, when it isn't there.
    pub fn value(&mut self, kind: ScanKind, most: Option<u32>, width: u32) -> Option<LogicVector> {
        if kind != ScanKind::Character {
            self.blanks();
        }
        let start = self.at;
        let found = self.value_here(kind, most.map_or(usize::MAX, |m| m as usize), width);
        if found.is_none() {
            self.at = start;
        }
        found
    }

    fn value_here(&mut self, kind: ScanKind, most: usize, width: u32) -> Option<LogicVector> {
        match kind {
            ScanKind::Digits(bits) => {
                let digits = self.run(most, |b| is_digit(b, bits) || b == b'_' || b"xXzZ?".contains(&b));
                levels_of(&digits, bits).map(|v| v.resized(width, false))
            }
            ScanKind::ExactDigits(bits) => {
                let count = width.div_ceil(bits) as usize;
                let digits = self.spaced(count, |b| is_digit(b, bits) || b"xXzZ".contains(&b))?;
                levels_of(&digits, bits).map(|v| v.resized(width, false))
            }
            ScanKind::Levels => {
                let is_level = |b: u8| Level::from_char(char::from(b.to_ascii_uppercase())).is_some();
                let levels = self.spaced(width as usize, is_level)?;
                let each = levels.into_iter().filter_map(|b| Level::from_char(char::from(b.to_ascii_uppercase())));
                Some(LogicVector::from_levels_msb(each))
            }
            ScanKind::Decimal => {
                if let Some(byte) = self.peek().filter(|b| b"xXzZ".contains(b)) {
                    self.at += 1;
                    let level = if byte.eq_ignore_ascii_case(&b'x') { Level::Unknown } else { Level::HighZ };
                    return Some(LogicVector::filled(width, level));
                }
                let number = self.whole_number(most)?;
                Some(LogicVector::from_u64(64, number.cast_unsigned()).resized(width, true))
            }
            ScanKind::Real => {
                let text = self.run(most, |b| b.is_ascii_digit() || b"+-.eE_".contains(&b));
                let text: String = text.iter().filter(|b| **b != b'_').map(|b| char::from(*b)).collect();
                text.parse().ok().map(real_bits)
            }
            ScanKind::Character => self.take().map(|b| LogicVector::from_u64(width, u64::from(b))),
            ScanKind::Word => {
                let word = self.run(most, |b| !b.is_ascii_whitespace());
                let bits = word.iter().flat_map(|b| (0..8).rev().map(move |i| Level::from(b >> i & 1 == 1)));
                (!word.is_empty()).then(|| LogicVector::from_levels_msb(bits).resized(width, false))
            }
            ScanKind::Boolean => match self.run(most, |b| b.is_ascii_alphabetic()).to_ascii_lowercase().as_slice() {
                b"true" => Some(LogicVector::from_u64(width, 1)),
                b"false" => Some(LogicVector::from_u64(width, 0)),
                _ => None,
            },
            ScanKind::Time => {
                let number = self.whole_number(most)?;
                self.blanks();
                let unit = match self.run(3, |b| b.is_ascii_alphabetic()).to_ascii_lowercase().as_slice() {
                    b"fs" => 1,
                    b"ps" => 1_000,
                    b"ns" => 1_000_000,
                    b"us" => 1_000_000_000,
                    b"ms" => 1_000_000_000_000,
                    b"sec" => 1_000_000_000_000_000,
                    _ => return None,
                };
                Some(LogicVector::from_u64(width, number.checked_mul(unit)?.cast_unsigned()))
            }
        }
    }

    fn whole_number(&mut self, most: usize) -> Option<i64> {
        let sign = self.run(1.min(most), |b| b == b'-' || b == b'+');
        let digits = self.run(most.saturating_sub(sign.len()), |b| b.is_ascii_digit() || b == b'_');
        let text: String = sign.iter().chain(digits.iter().filter(|b| **b != b'_')).map(|b| char::from(*b)).collect();
        text.parse().ok()
    }

    /// So many characters of a kind, with `_` between them passed over (IEEE 1076-2008 16.4).
    fn spaced(&mut self, count: usize, fits: impl Fn(u8) -> bool) -> Option<Vec<u8>> {
        let mut found = Vec::new();
        while found.len() < count {
            match self.take()? {
                b'_' if !found.is_empty() => {}
                byte if fits(byte) => found.push(byte),
                _ => return None,
            }
        }
        Some(found)
    }
}

fn is_digit(byte: u8, bits: u32) -> bool {
    char::from(byte).is_digit(1 << bits)
}

/// Digits as levels; `None` without any.
fn levels_of(digits: &[u8], bits: u32) -> Option<LogicVector> {
    let mut levels = Vec::new();
    for byte in digits.iter().filter(|b| **b != b'_') {
        match char::from(*byte).to_digit(1 << bits) {
            Some(digit) => levels.extend((0..bits).rev().map(|i| Level::from(digit >> i & 1 == 1))),
            None => {
                let level = if byte.eq_ignore_ascii_case(&b'x') { Level::Unknown } else { Level::HighZ };
                levels.extend(std::iter::repeat_n(level, bits as usize));
            }
        }
    }
    (!levels.is_empty()).then(|| LogicVector::from_levels_msb(levels))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn read(text: &str, kind: ScanKind, width: u32) -> Option<String> {
        Reader::new(text).value(kind, None, width).map(|v| v.to_string())
    }

    #[test]
    fn digits_end_where_something_else_stands() {
        // IEEE 1364-2005 17.2.4.3: %b takes 0 1 x z ? _, %h hexadecimal digits, %d a number with its sign.
        assert_eq!(read("  10x1 0", ScanKind::Digits(1), 6).as_deref(), Some("0010X1"));
        assert_eq!(read("aF_z;", ScanKind::Digits(4), 12).as_deref(), Some("10101111ZZZZ"));
        assert_eq!(read("-3,4", ScanKind::Decimal, 4).as_deref(), Some("1101"));
        assert_eq!(read("x", ScanKind::Decimal, 2).as_deref(), Some("XX"));
        assert_eq!(read("two", ScanKind::Decimal, 4), None);
    }

    #[test]
    fn vectors_of_vhdl_take_as_many_characters_as_they_have_bits() {
        // IEEE 1076-2008 16.4 and the packages std_logic_1164 and std_logic_textio.
        assert_eq!(read("01Z-1", ScanKind::Levels, 4).as_deref(), Some("01Z-"));
        assert_eq!(read("0000_1111", ScanKind::Levels, 8).as_deref(), Some("00001111"));
        assert_eq!(read("01", ScanKind::Levels, 4), None);
        assert_eq!(read("7F", ScanKind::ExactDigits(4), 7).as_deref(), Some("1111111"));
        assert_eq!(read("TRUE", ScanKind::Boolean, 1).as_deref(), Some("1"));
        let time = Reader::new("25 ns").value(ScanKind::Time, None, 64).and_then(|v| v.to_u64());
        assert_eq!(time, Some(25_000_000));
    }

    #[test]
    fn the_end_is_known_before_or_after_it_was_tried() {
        let mut reader = Reader::new("5\n");
        assert!(reader.value(ScanKind::Decimal, None, 8).is_some());
        assert!(!reader.is_at_end(false) && !reader.is_at_end(true));
        reader.blanks();
        assert!(reader.is_at_end(false) && reader.is_at_end(true));
        reader.rewind();
        assert_eq!(reader.rest_of_line().as_deref(), Some("5\n"));
        assert!(reader.is_at_end(false) && !reader.is_at_end(true));
        assert_eq!(reader.rest_of_line(), None);
    }
}
