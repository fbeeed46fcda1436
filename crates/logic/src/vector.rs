//! Vectors of levels in packed bit planes, with arithmetic by the rule "one unknown bit makes the result unknown".

use crate::level::Level;
use std::fmt;

/// The four planes of up to 64 levels; see [`Level`] for their meaning.
type Planes = [u64; 4];

/// A vector of levels, bit 0 the least significant. Up to 64 bits live inline.
#[derive(PartialEq, Eq, Hash)]
pub struct LogicVector {
    width: u32,
    first: Planes,
    rest: Vec<Planes>,
}

impl Clone for LogicVector {
    fn clone(&self) -> Self {
        Self { width: self.width, first: self.first, rest: self.rest.clone() }
    }

    /// Takes the room that is there.
    fn clone_from(&mut self, source: &Self) {
        self.width = source.width;
        self.first = source.first;
        self.rest.clone_from(&source.rest);
    }
}

impl LogicVector {
    /// `width` bits, all at `level`.
    pub fn filled(width: u32, level: Level) -> Self {
        let mut planes = [0u64; 4];
        for (i, plane) in planes.iter_mut().enumerate() {
            if level as u8 >> i & 1 == 1 {
                *plane = u64::MAX;
            }
        }
        let mut v = Self { width, first: planes, rest: vec![planes; Self::words(width).saturating_sub(1)] };
        v.trim();
        v
    }

    /// The low `width` bits of a number.
    pub fn from_u64(width: u32, value: u64) -> Self {
        let mut v = Self::filled(width, Level::Zero);
        v.first[0] = value;
        v.trim();
        v
    }

    /// From levels, most significant first.
    pub fn from_levels_msb(levels: impl IntoIterator<Item = Level>) -> Self {
        let levels: Vec<Level> = levels.into_iter().collect();
        let mut v = Self::filled(u32::try_from(levels.len()).unwrap_or(u32::MAX), Level::Zero);
        for (i, level) in levels.iter().rev().enumerate() {
            v.set(u32::try_from(i).unwrap_or(u32::MAX), *level);
        }
        v
    }

    /// Number of bits.
    pub fn width(&self) -> u32 {
        self.width
    }

    fn words(width: u32) -> usize {
        (width as usize).div_ceil(64)
    }

    fn chunk(&self, word: usize) -> Planes {
        if word == 0 { self.first } else { self.rest.get(word - 1).copied().unwrap_or([0; 4]) }
    }

    fn chunk_mut(&mut self, word: usize) -> &mut Planes {
        if word == 0 { &mut self.first } else { &mut self.rest[word - 1] }
    }

    fn trim(&mut self) {
        let words = Self::words(self.width);
        if words == 0 {
            self.first = [0; 4];
        } else if !self.width.is_multiple_of(64) {
            let mask = (1u64 << (self.width % 64)) - 1;
            for plane in self.chunk_mut(words - 1) {
                *plane &= mask;
            }
        }
    }

    /// The level of a bit; `X` past the end.
    pub fn get(&self, bit: u32) -> Level {
        if bit >= self.width {
            return Level::Unknown;
        }
        let planes = self.chunk((bit / 64) as usize);
        let code = (0..4).fold(0u8, |code, i| code | ((planes[i] >> (bit % 64) & 1) as u8) << i);
        Level::from_code(code)
    }

    /// Sets the level of a bit; nothing past the end.
    pub fn set(&mut self, bit: u32, level: Level) {
        if bit >= self.width {
            return;
        }
        let planes = self.chunk_mut((bit / 64) as usize);
        for (i, plane) in planes.iter_mut().enumerate() {
            let mask = 1u64 << (bit % 64);
            *plane = if level as u8 >> i & 1 == 1 { *plane | mask } else { *plane & !mask };
        }
    }

    /// From the lowest bit in which two vectors of one width differ to behind the highest; nothing where they are equal.
    pub fn difference(&self, other: &Self) -> Option<std::ops::Range<u32>> {
        let differing = |word: &usize| {
            let (a, b) = (self.chunk(*word), other.chunk(*word));
            (0..4).fold(0, |bits, i| bits | (a[i] ^ b[i]))
        };
        let words = Self::words(self.width).max(Self::words(other.width)).max(1);
        let (first, low) = (0..words).map(|w| (w, differing(&w))).find(|(_, bits)| *bits != 0)?;
        let (last, high) = (0..words).rev().map(|w| (w, differing(&w))).find(|(_, bits)| *bits != 0)?;
        let place = |word: usize, bit: u32| u32::try_from(word * 64).unwrap_or(u32::MAX).saturating_add(bit);
        Some(place(first, low.trailing_zeros())..place(last, 64 - high.leading_zeros()))
    }

    /// Bits from the least significant on.
    pub fn bits(&self) -> impl DoubleEndedIterator<Item = Level> + '_ {
        (0..self.width).map(|i| self.get(i))
    }

    /// True when every bit is 0, 1, L or H.
    pub fn is_known(&self) -> bool {
        (0..Self::words(self.width)).all(|w| self.chunk(w)[1] == 0)
    }

    /// The number, when every bit is known and it fits in 64 bits.
    pub fn to_u64(&self) -> Option<u64> {
        (self.is_known() && self.rest.iter().all(|c| c[0] == 0)).then_some(self.first[0])
    }

    /// The number as two's complement, when every bit is known and it fits.
    pub fn to_i64(&self) -> Option<i64> {
        if !self.is_known() || self.width == 0 {
            return None;
        }
        let wide = self.resized(64.max(self.width), true);
        let sign = if wide.first[0] >> 63 == 1 { u64::MAX } else { 0 };
        let fits = wide.rest.iter().all(|c| c[0] == sign);
        fits.then_some(wide.first[0].cast_signed()).filter(|_| self.width <= 64 || fits)
    }

    /// The four planes of a vector of at most 64 bits: value, not a plain level, weak or uninitialised, don't-care.
    pub fn planes(&self) -> Option<[u64; 4]> {
        (self.width <= 64).then_some(self.first)
    }

    /// A vector of at most 64 bits from its planes; wider ones are cut.
    pub fn from_planes(width: u32, planes: [u64; 4]) -> Self {
        let mut v = Self { width: width.min(64), first: planes, rest: Vec::new() };
        v.trim();
        v
    }

    /// The same bits cut or extended to `width`: with the top bit when `signed`, else with 0.
    pub fn resized(&self, width: u32, signed: bool) -> Self {
        if width == self.width {
            return self.clone();
        }
        if width <= 64 && self.width <= 64 {
            let mut planes = self.first;
            if signed && self.width > 0 && width > self.width {
                let above = u64::MAX << self.width;
                for plane in &mut planes {
                    if *plane >> (self.width - 1) & 1 == 1 {
                        *plane |= above;
                    }
                }
            }
            return Self::from_planes(width, planes);
        }
        let fill = if signed && self.width > 0 { self.get(self.width - 1) } else { Level::Zero };
        let mut v = Self::filled(width, fill);
        for bit in 0..width.min(self.width) {
            v.set(bit, self.get(bit));
        }
        v
    }

    /// `width` bits from bit `low` on; bits outside are `X`.
    pub fn slice(&self, low: i64, width: u32) -> Self {
        if let Ok(from) = u32::try_from(low)
            && width <= 64
            && from.checked_add(width).is_some_and(|end| end <= self.width)
        {
            let (word, shift) = ((from / 64) as usize, from % 64);
            let (near, far) = (self.chunk(word), if shift > 0 { self.chunk(word + 1) } else { [0; 4] });
            let join = |i: usize| if shift == 0 { near[i] } else { near[i] >> shift | far[i] << (64 - shift) };
            return Self::from_planes(width, [join(0), join(1), join(2), join(3)]);
        }
        let mut v = Self::filled(width, Level::Unknown);
        for bit in 0..width {
            if let Ok(source) = u32::try_from(low + i64::from(bit)) {
                v.set(bit, self.get(source));
            }
        }
        v
    }

    /// Joins vectors, the first one on the most significant side.
    pub fn concat(parts: &[LogicVector]) -> Self {
        let width = parts.iter().map(|p| p.width).sum();
        if width <= 64 {
            let mut planes = [0u64; 4];
            for part in parts {
                for (plane, more) in planes.iter_mut().zip(part.first) {
                    *plane = plane.checked_shl(part.width).unwrap_or(0) | more;
                }
            }
            return Self::from_planes(width, planes);
        }
        let mut v = Self::filled(width, Level::Zero);
        let mut at = 0;
        for part in parts.iter().rev() {
            for (i, level) in part.bits().enumerate() {
                v.set(at + u32::try_from(i).unwrap_or(u32::MAX), level);
            }
            at += part.width;
        }
        v
    }

    /// Applies a bit function to two vectors, the shorter one extended by 0.
    pub fn zip(&self, other: &Self, f: impl Fn(Level, Level) -> Level) -> Self {
        let width = self.width.max(other.width);
        let (a, b) = (self.resized(width, false), other.resized(width, false));
        Self::from_levels_msb((0..width).rev().map(|i| f(a.get(i), b.get(i))))
    }

    /// Applies a bit function to each bit.
    pub fn map(&self, f: impl Fn(Level) -> Level) -> Self {
        Self::from_levels_msb((0..self.width).rev().map(|i| f(self.get(i))))
    }

    /// Replaces the bits from `low` on by those of `part`; what lies outside is left out.
    pub fn put(&mut self, low: u32, part: &Self) {
        if self.width <= 64 && low < 64 {
            let length = part.width.min(self.width.saturating_sub(low));
            let mask = if length >= 64 { u64::MAX } else { ((1u64 << length) - 1) << low };
            for (plane, more) in self.first.iter_mut().zip(part.first) {
                *plane = *plane & !mask | more << low & mask;
            }
            return;
        }
        for (i, level) in part.bits().enumerate() {
            self.set(low.saturating_add(i as u32), level);
        }
    }

    fn words_of(&self) -> Vec<u64> {
        (0..Self::words(self.width).max(1)).map(|w| self.chunk(w)[0]).collect()
    }

    fn from_words(width: u32, words: &[u64]) -> Self {
        let mut v = Self::filled(width, Level::Zero);
        for (i, word) in words.iter().enumerate().take(Self::words(width)) {
            v.chunk_mut(i)[0] = *word;
        }
        v.trim();
        v
    }

    /// Both numbers, when they are known and have at most 64 bits.
    fn small(&self, other: &Self) -> Option<(u64, u64)> {
        let fits = self.width <= 64 && other.width <= 64 && self.first[1] == 0 && other.first[1] == 0;
        fits.then_some((self.first[0], other.first[0]))
    }

    fn arithmetic(&self, other: &Self, f: impl Fn(&[u64], &[u64]) -> Vec<u64>) -> Self {
        let width = self.width.max(other.width);
        if !self.is_known() || !other.is_known() {
            return Self::filled(width, Level::Unknown);
        }
        let (a, b) = (self.resized(width, false), other.resized(width, false));
        Self::from_words(width, &f(&a.words_of(), &b.words_of()))
    }

    /// Sum, cut to the wider operand.
    pub fn add(&self, other: &Self) -> Self {
        if let Some((a, b)) = self.small(other) {
            return Self::from_planes(self.width.max(other.width), [a.wrapping_add(b), 0, 0, 0]);
        }
        self.arithmetic(other, |a, b| {
            let mut carry = false;
            a.iter()
                .zip(b)
                .map(|(x, y)| {
                    let (s, c1) = x.overflowing_add(*y);
                    let (s, c2) = s.overflowing_add(u64::from(carry));
                    carry = c1 | c2;
                    s
                })
                .collect()
        })
    }

    /// Two's complement.
    pub fn neg(&self) -> Self {
        let flipped = self.map(|l| l.known().map_or(Level::Unknown, |b| Level::from(!b)));
        flipped.add(&Self::from_u64(self.width, 1))
    }

    /// Difference, cut to the wider operand.
    pub fn sub(&self, other: &Self) -> Self {
        let width = self.width.max(other.width);
        if let Some((a, b)) = self.small(other) {
            return Self::from_planes(width, [a.wrapping_sub(b), 0, 0, 0]);
        }
        self.add(&other.resized(width, false).neg())
    }

    /// Product, cut to the wider operand.
    pub fn mul(&self, other: &Self) -> Self {
        self.arithmetic(other, |a, b| {
            let mut out = vec![0u64; a.len()];
            for (i, x) in a.iter().enumerate() {
                let mut carry = 0u128;
                for (j, y) in b.iter().enumerate().take(a.len() - i) {
                    let t = u128::from(*x) * u128::from(*y) + u128::from(out[i + j]) + carry;
                    out[i + j] = t as u64;
                    carry = t >> 64;
                }
            }
            out
        })
    }

    /// Quotient and remainder, unsigned; unknown when the divisor is 0 (IEEE 1364-2005 5.1.5).
    pub fn div_rem(&self, other: &Self) -> (Self, Self) {
        let width = self.width.max(other.width);
        let unknown = Self::filled(width, Level::Unknown);
        if !self.is_known() || !other.is_known() || other.bits().all(|b| b.known() == Some(false)) {
            return (unknown.clone(), unknown);
        }
        let divisor = other.resized(width + 1, false);
        let mut quotient = Self::filled(width, Level::Zero);
        let mut rest = Self::filled(width + 1, Level::Zero);
        for bit in (0..width).rev() {
            let top = if bit < self.width { self.get(bit) } else { Level::Zero };
            rest = Self::concat(&[rest.slice(0, width), Self::filled(1, top)]);
            if rest.compare(&divisor, false).is_some_and(std::cmp::Ordering::is_ge) {
                rest = rest.sub(&divisor);
                quotient.set(bit, Level::One);
            }
        }
        (quotient, rest.slice(0, width))
    }

    /// Compares as numbers; `None` when a bit is unknown.
    pub fn compare(&self, other: &Self, signed: bool) -> Option<std::cmp::Ordering> {
        if let Some((a, b)) = self.small(other).filter(|_| self.width > 0 && other.width > 0) {
            if !signed {
                return Some(a.cmp(&b));
            }
            let wide = |v: u64, width: u32| (v << (64 - width)).cast_signed() >> (64 - width);
            return Some(wide(a, self.width).cmp(&wide(b, other.width)));
        }
        if !self.is_known() || !other.is_known() {
            return None;
        }
        let width = self.width.max(other.width).max(1);
        let (a, b) = (self.resized(width, signed), other.resized(width, signed));
        if signed {
            let (sa, sb) = (a.get(width - 1).known(), b.get(width - 1).known());
            if sa != sb {
                return Some(if sa == Some(true) { std::cmp::Ordering::Less } else { std::cmp::Ordering::Greater });
            }
        }
        Some(a.words_of().iter().rev().cmp(b.words_of().iter().rev()))
    }

    /// Moves bits up by `by` places, filling with 0; bits pushed out are lost.
    pub fn shift_left(&self, by: u64) -> Self {
        if let Some(planes) = self.planes() {
            let moved = planes.map(|p| if by < 64 { p << by } else { 0 });
            return Self::from_planes(self.width, moved);
        }
        self.shifted(|i| i64::from(i) - i64::try_from(by).unwrap_or(i64::MAX), Level::Zero)
    }

    /// Moves bits down by `by` places, filling with 0 or, when `arithmetic`, with the top bit.
    pub fn shift_right(&self, by: u64, arithmetic: bool) -> Self {
        if let Some(planes) = self.planes() {
            let by = by.min(64);
            let moved = planes.map(|p| {
                let top = arithmetic && self.width > 0 && p >> (self.width - 1) & 1 == 1;
                let above = if top && by > 0 { u64::MAX << u64::from(self.width).saturating_sub(by) } else { 0 };
                (if by < 64 { p >> by } else { 0 }) | above
            });
            return Self::from_planes(self.width, moved);
        }
        let fill = if arithmetic && self.width > 0 { self.get(self.width - 1) } else { Level::Zero };
        self.shifted(|i| i64::from(i).saturating_add(i64::try_from(by).unwrap_or(i64::MAX)), fill)
    }

    fn shifted(&self, source: impl Fn(u32) -> i64, fill: Level) -> Self {
        let pick = |i| match u32::try_from(source(i)) {
            Ok(s) if s < self.width => self.get(s),
            _ => fill,
        };
        Self::from_levels_msb((0..self.width).rev().map(pick))
    }
}

impl fmt::Display for LogicVector {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.bits().rev().try_for_each(|level| write!(f, "{level}"))
    }
}

impl fmt::Debug for LogicVector {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}'b{self}", self.width)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn wide(value: u128, width: u32) -> LogicVector {
        LogicVector::from_levels_msb((0..width).rev().map(|i| Level::from(value >> i & 1 == 1)))
    }

    fn narrow(v: &LogicVector) -> u128 {
        v.bits().rev().fold(0, |n, b| n << 1 | u128::from(b.known().unwrap()))
    }

    proptest! {
        #[test]
        fn short_shifts_are_those_of_the_long_way(levels in proptest::collection::vec(0usize..9, 1..64), by in 0u64..70) {
            let all: Vec<Level> = "UX01ZWLH-".chars().filter_map(Level::from_char).collect();
            let short = LogicVector::from_levels_msb(levels.iter().map(|l| all[*l]));
            let width = short.width();
            let left = short.shifted(|i| i64::from(i) - by as i64, Level::Zero);
            prop_assert_eq!(short.shift_left(by), left);
            for arithmetic in [false, true] {
                let fill = if arithmetic { short.get(width - 1) } else { Level::Zero };
                let right = short.shifted(|i| i64::from(i) + by as i64, fill);
                prop_assert_eq!(short.shift_right(by, arithmetic), right);
            }
        }

        /// Against the machine's own 128-bit arithmetic, across the 64-bit border of the planes.
        #[test]
        fn arithmetic_agrees_with_machine_integers(a in any::<u128>(), b in any::<u128>(), width in 1u32..=128) {
            let mask = if width == 128 { u128::MAX } else { (1 << width) - 1 };
            let (a, b) = (a & mask, b & mask);
            let (va, vb) = (wide(a, width), wide(b, width));
            prop_assert_eq!(narrow(&va.add(&vb)), a.wrapping_add(b) & mask);
            prop_assert_eq!(narrow(&va.sub(&vb)), a.wrapping_sub(b) & mask);
            prop_assert_eq!(narrow(&va.mul(&vb)), a.wrapping_mul(b) & mask);
            prop_assert_eq!(va.compare(&vb, false), Some(a.cmp(&b)));
            if let (Some(quotient), Some(rest)) = (a.checked_div(b), a.checked_rem(b)) {
                let (q, r) = va.div_rem(&vb);
                prop_assert_eq!((narrow(&q), narrow(&r)), (quotient, rest));
            }
        }

        #[test]
        fn signed_comparison_agrees_with_machine_integers(a in any::<i64>(), b in any::<i64>()) {
            let (va, vb) = (LogicVector::from_u64(64, a as u64), LogicVector::from_u64(64, b as u64));
            prop_assert_eq!(va.compare(&vb, true), Some(a.cmp(&b)));
            prop_assert_eq!(va.to_i64(), Some(a));
        }
    }

    #[test]
    fn an_unknown_operand_bit_makes_a_sum_unknown() {
        // IEEE 1364-2005 5.1.5: an operand bit x or z makes the whole result x.
        let x = LogicVector::from_levels_msb([Level::One, Level::Unknown]);
        assert_eq!(x.add(&LogicVector::from_u64(2, 1)).to_string(), "XX");
        assert_eq!(LogicVector::from_u64(2, 1).div_rem(&LogicVector::from_u64(2, 0)).0.to_string(), "XX");
    }

    #[test]
    fn shifts_and_slices_keep_levels() {
        let v = LogicVector::from_levels_msb([Level::One, Level::HighZ, Level::Zero]);
        assert_eq!(v.shift_left(1).to_string(), "Z00");
        assert_eq!(v.shift_right(1, true).to_string(), "11Z");
        assert_eq!(v.slice(1, 3).to_string(), "X1Z");
    }
}
