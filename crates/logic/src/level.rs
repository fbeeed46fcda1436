//! One logic level: the nine values of IEEE 1164, of which Verilog's four are `X 0 1 Z`.

use std::fmt;

/// A level of IEEE 1164. The discriminant is the code used in packed planes: bit 0 value, bit 1 not-a-plain-level,
/// bit 2 weak or uninitialised, bit 3 don't-care.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
#[repr(u8)]
pub enum Level {
    /// Forced 0.
    Zero = 0b0000,
    /// Forced 1.
    One = 0b0001,
    /// High impedance: nobody drives.
    HighZ = 0b0010,
    /// Forced unknown.
    Unknown = 0b0011,
    /// Weak 0.
    WeakZero = 0b0100,
    /// Weak 1.
    WeakOne = 0b0101,
    /// Uninitialised.
    Uninitialised = 0b0110,
    /// Weak unknown.
    WeakUnknown = 0b0111,
    /// Don't care.
    DontCare = 0b1011,
}

impl Level {
    /// All nine, in the order of the standard's enumeration `U X 0 1 Z W L H -`.
    pub const ALL: [Level; 9] = [
        Level::Uninitialised,
        Level::Unknown,
        Level::Zero,
        Level::One,
        Level::HighZ,
        Level::WeakUnknown,
        Level::WeakZero,
        Level::WeakOne,
        Level::DontCare,
    ];

    pub(crate) fn from_code(code: u8) -> Self {
        Self::ALL.into_iter().find(|l| *l as u8 == code).unwrap_or(Level::Unknown)
    }

    /// The character of the standard: `U X 0 1 Z W L H -`.
    pub fn to_char(self) -> char {
        match self {
            Level::Zero => '0',
            Level::One => '1',
            Level::HighZ => 'Z',
            Level::Unknown => 'X',
            Level::WeakZero => 'L',
            Level::WeakOne => 'H',
            Level::Uninitialised => 'U',
            Level::WeakUnknown => 'W',
            Level::DontCare => '-',
        }
    }

    /// The level of a character, either case; `?` is `Z` as in IEEE 1364-2005 3.5.1.
    pub fn from_char(c: char) -> Option<Self> {
        Some(match c.to_ascii_uppercase() {
            '0' => Level::Zero,
            '1' => Level::One,
            'Z' | '?' => Level::HighZ,
            'X' => Level::Unknown,
            'L' => Level::WeakZero,
            'H' => Level::WeakOne,
            'U' => Level::Uninitialised,
            'W' => Level::WeakUnknown,
            '-' => Level::DontCare,
            _ => return None,
        })
    }

    /// `Some(true)` for 1 and H, `Some(false)` for 0 and L, else `None` (IEEE 1164 `To_X01`).
    pub fn known(self) -> Option<bool> {
        match self {
            Level::Zero | Level::WeakZero => Some(false),
            Level::One | Level::WeakOne => Some(true),
            _ => None,
        }
    }
}

impl From<bool> for Level {
    fn from(bit: bool) -> Self {
        if bit { Level::One } else { Level::Zero }
    }
}

impl fmt::Display for Level {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}", self.to_char())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_level_survives_its_character_and_its_code() {
        for level in Level::ALL {
            assert_eq!(Level::from_char(level.to_char()), Some(level));
            assert_eq!(Level::from_code(level as u8), level);
        }
    }

    #[test]
    fn weak_levels_read_as_their_strong_ones() {
        // IEEE 1164-1993, cvt_to_x01: H -> 1, L -> 0, all others but 0 and 1 -> X.
        let known: Vec<_> = Level::ALL.iter().map(|l| l.known()).collect();
        assert_eq!(known, [None, None, Some(false), Some(true), None, None, Some(false), Some(true), None]);
    }
}
