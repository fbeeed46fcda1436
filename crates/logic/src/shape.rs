//! How wide a signal is and which of its bits is the most significant.

use std::fmt;

/// A scalar, or a vector with the bounds as they were declared: the left one names the most significant bit.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Shape {
    range: Option<(i32, i32)>,
}

impl Shape {
    /// A single bit without an index.
    pub const SCALAR: Shape = Shape { range: None };

    /// A vector `[left:right]`.
    pub fn vector(left: i32, right: i32) -> Self {
        Self { range: Some((left, right)) }
    }

    /// The declared bounds, left and right.
    pub fn range(self) -> Option<(i32, i32)> {
        self.range
    }

    /// Number of bits.
    pub fn width(self) -> u32 {
        self.range.map_or(1, |(l, r)| l.abs_diff(r).saturating_add(1))
    }

    /// How far the bit with this declared index is from the least significant one; `None` when there is no such bit.
    pub fn position(self, index: i64) -> Option<u32> {
        let (left, right) = self.range?;
        let (left, right) = (i64::from(left), i64::from(right));
        let offset = if left >= right { index - right } else { right - index };
        u32::try_from(offset).ok().filter(|p| *p < self.width())
    }

    /// The declared index of the bit `position` places above the least significant one.
    pub fn index(self, position: u32) -> Option<i32> {
        let (left, right) = self.range?;
        let position = i32::try_from(position).ok()?;
        Some(if left >= right { right + position } else { right - position })
    }

    /// The name of one bit of a signal: `lamp` for a scalar, `lamp[3]` for a vector.
    pub fn bit_name(self, signal: &str, position: u32) -> String {
        match self.index(position) {
            Some(index) => format!("{signal}[{index}]"),
            None => signal.to_owned(),
        }
    }
}

impl fmt::Display for Shape {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.range {
            Some((left, right)) => write!(f, "[{left}:{right}]"),
            None => Ok(()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_left_bound_is_the_most_significant_bit_either_way_round() {
        let down = Shape::vector(3, 0);
        let up = Shape::vector(0, 3);
        assert_eq!(down.position(3), Some(3));
        assert_eq!(up.position(0), Some(3));
        assert_eq!(up.bit_name("w", 0), "w[3]");
        assert_eq!(down.position(4), None);
        assert_eq!(Shape::SCALAR.bit_name("w", 0), "w");
    }
}
