//! Cubes: products of literals, seen as the sets of rows they cover.

use std::cmp::Ordering;

/// A product term over the inputs of a table. Bit `n - 1 - i` of both masks belongs to input `i`, as in row numbers.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Cube {
    care: u32,
    value: u32,
}

impl Cube {
    /// The product without literals: it covers every row.
    pub const UNIVERSE: Cube = Cube { care: 0, value: 0 };

    /// From masks: `care` has a bit for each literal, `value` a 1 where the literal is not complemented.
    pub fn new(care: u32, value: u32) -> Self {
        Self { care, value: value & care }
    }

    /// The minterm of a row.
    pub fn minterm(inputs: u32, row: u64) -> Self {
        let care = ((1u64 << inputs) - 1) as u32;
        Self::new(care, row as u32)
    }

    /// Which inputs have a literal.
    pub fn care(self) -> u32 {
        self.care
    }

    /// Which literals are not complemented.
    pub fn value(self) -> u32 {
        self.value
    }

    /// Number of literals.
    pub fn literals(self) -> u32 {
        self.care.count_ones()
    }

    /// Does it cover the row?
    pub fn covers(self, row: u64) -> bool {
        row as u32 & self.care == self.value
    }

    /// Does it cover all that `other` covers?
    pub fn contains(self, other: Cube) -> bool {
        self.care & other.care == self.care && other.value & self.care == self.value
    }

    /// Do both cover some row?
    pub fn meets(self, other: Cube) -> bool {
        (self.value ^ other.value) & self.care & other.care == 0
    }

    /// The product that both together imply when they differ in the sign of exactly one input (Quine 1955).
    pub fn consensus(self, other: Cube) -> Option<Cube> {
        let clash = (self.value ^ other.value) & self.care & other.care;
        (clash.count_ones() == 1)
            .then(|| Cube::new((self.care | other.care) & !clash, (self.value | other.value) & !clash))
    }

    /// The smallest cube that covers both.
    pub fn hull(self, other: Cube) -> Cube {
        let care = self.care & other.care & !(self.value ^ other.value);
        Cube::new(care, self.value)
    }

    /// Without the literals of `mask`.
    pub fn without(self, mask: u32) -> Cube {
        Cube::new(self.care & !mask, self.value)
    }

    /// With the input of bit `bit` fixed to a value.
    pub fn with(self, bit: u32, value: bool) -> Cube {
        Cube::new(self.care | 1 << bit, self.value & !(1 << bit) | u32::from(value) << bit)
    }

    /// One character an input, first input first: `0`, `1` or `-`.
    pub fn text(self, inputs: u32) -> String {
        (0..inputs)
            .rev()
            .map(|bit| match (self.care >> bit & 1, self.value >> bit & 1) {
                (0, _) => '-',
                (_, 1) => '1',
                _ => '0',
            })
            .collect()
    }

    /// Reads what [`Cube::text`] writes; also gives the number of inputs.
    pub fn parse(text: &str) -> Option<(Cube, u32)> {
        let mut cube = Cube::UNIVERSE;
        let inputs = u32::try_from(text.chars().count()).ok().filter(|n| *n <= 32)?;
        for (i, c) in text.chars().enumerate() {
            let bit = inputs - 1 - u32::try_from(i).ok()?;
            match c {
                '0' => cube = cube.with(bit, false),
                '1' => cube = cube.with(bit, true),
                '-' => {}
                _ => return None,
            }
        }
        Some((cube, inputs))
    }

    /// The rows it covers, ascending.
    pub fn rows(self, inputs: u32) -> impl Iterator<Item = u64> {
        let free = !self.care & ((1u64 << inputs) - 1) as u32;
        let mut next = Some(0u32);
        std::iter::from_fn(move || {
            let part = next?;
            // The next subset of the free bits in ascending order.
            next = (part != free).then(|| (part | !free).wrapping_add(1) & free);
            Some(u64::from(part | self.value))
        })
    }

    /// Order for lists: text order with `0` before `1` before `-`.
    pub fn list_order(&self, other: &Cube) -> Ordering {
        let differ = (self.care ^ other.care) | (self.value ^ other.value);
        if differ == 0 {
            return Ordering::Equal;
        }
        let bit = 31 - differ.leading_zeros();
        let rank = |c: &Cube| match (c.care >> bit & 1, c.value >> bit & 1) {
            (0, _) => 2,
            (_, v) => v,
        };
        rank(self).cmp(&rank(other))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_cube_covers_the_rows_that_its_text_says() {
        let (cube, n) = Cube::parse("01-1").unwrap();
        assert_eq!(n, 4);
        assert_eq!(cube.rows(4).collect::<Vec<_>>(), [5, 7]);
        assert_eq!(cube.row_set(4).iter().collect::<Vec<_>>(), [5, 7]);
        assert_eq!((cube.text(4).as_str(), cube.literals()), ("01-1", 3));
        assert_eq!(Cube::UNIVERSE.rows(2).count(), 4);
        assert_eq!(Cube::parse("0x"), None);
    }

    #[test]
    fn the_consensus_of_two_products_is_implied_by_their_sum() {
        // a b + a' c implies b c (Quine 1955).
        let parse = |t| Cube::parse(t).unwrap().0;
        assert_eq!(parse("11-").consensus(parse("0-1")), Some(parse("-11")));
        assert_eq!(parse("11-").consensus(parse("00-")), None);
        assert_eq!(parse("110").hull(parse("100")), parse("1-0"));
    }
}
