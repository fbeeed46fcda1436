//! Real numbers: 64 bits that hold a number of double precision (IEEE 754 binary64). Testbenches use them, and
//! constants are computed with them; no hardware is made of them.

use logic::{Level, LogicVector};

/// Bits of a real number.
pub const REAL_WIDTH: u32 = 64;

/// What is computed with real numbers. Operands are real unless it says otherwise, and so are results.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[expect(missing_docs, reason = "each is the function of its name")]
pub enum RealOp {
    /// A vector's value, two's complement; unknown bits count as 0 (IEEE 1364-2005 4.9.2).
    FromSigned,
    /// A vector's value as an unsigned number; unknown bits count as 0.
    FromUnsigned,
    /// The nearest whole number, halves away from zero, as a vector in two's complement (IEEE 1364-2005 4.9.2).
    ToInteger,
    Neg,
    Abs,
    Add,
    Sub,
    Mul,
    Div,
    Pow,
    /// The remainder with the sign of the dividend.
    Rem,
    /// One bit.
    Less,
    /// One bit.
    LessEqual,
    /// One bit.
    Equal,
    Floor,
    Ceil,
    Round,
    Trunc,
    Sqrt,
    Cbrt,
    Exp,
    Ln,
    Log2,
    Log10,
    Sin,
    Cos,
    Tan,
    Asin,
    Acos,
    Atan,
    /// The angle of a point: first y, then x.
    Atan2,
    Hypot,
    Sinh,
    Cosh,
    Tanh,
    Min,
    Max,
}

impl RealOp {
    /// The function of that name in C's mathematics library, whose names both languages use (IEEE 1364-2005 table
    /// 17-16, IEEE 1076.2 `math_real`), with its number of operands.
    pub fn named(name: &str) -> Option<(RealOp, usize)> {
        use RealOp as R;
        Some(match name {
            "floor" => (R::Floor, 1),
            "ceil" => (R::Ceil, 1),
            "round" => (R::Round, 1),
            "trunc" => (R::Trunc, 1),
            "sqrt" => (R::Sqrt, 1),
            "cbrt" => (R::Cbrt, 1),
            "exp" => (R::Exp, 1),
            "log2" => (R::Log2, 1),
            "log10" => (R::Log10, 1),
            "sin" => (R::Sin, 1),
            "cos" => (R::Cos, 1),
            "tan" => (R::Tan, 1),
            "sinh" => (R::Sinh, 1),
            "cosh" => (R::Cosh, 1),
            "tanh" => (R::Tanh, 1),
            "hypot" => (R::Hypot, 2),
            "pow" => (R::Pow, 2),
            _ => return None,
        })
    }

    /// True when the result is one bit.
    pub fn is_comparison(self) -> bool {
        matches!(self, RealOp::Less | RealOp::LessEqual | RealOp::Equal)
    }

    /// True when operands are vectors of any width.
    pub fn takes_vectors(self) -> bool {
        matches!(self, RealOp::FromSigned | RealOp::FromUnsigned)
    }

    /// How many operands there are.
    pub fn operands(self) -> usize {
        use RealOp as R;
        match self {
            R::Add | R::Sub | R::Mul | R::Div | R::Pow | R::Rem | R::Less | R::LessEqual | R::Equal => 2,
            R::Atan2 | R::Hypot | R::Min | R::Max => 2,
            _ => 1,
        }
    }
}

/// The bits of a real number.
pub fn real_bits(value: f64) -> LogicVector {
    LogicVector::from_u64(REAL_WIDTH, value.to_bits())
}

/// The real number that bits hold; 0 for unknown ones.
pub fn real_of(bits: &LogicVector) -> f64 {
    f64::from_bits(bits.to_u64().unwrap_or(0))
}

/// A vector as a real number, unknown bits counting as 0.
fn number(value: &LogicVector, signed: bool) -> f64 {
    let known = value.map(|l| Level::from(l.known() == Some(true)));
    let negative = signed && known.width() > 0 && known.get(known.width() - 1) == Level::One;
    let size = if negative { LogicVector::from_u64(known.width(), 0).sub(&known) } else { known };
    let sum = match size.to_u64() {
        Some(n) => n as f64,
        None => {
            let weighted = (0..size.width()).map(|i| (size.get(i) == Level::One, 2f64.powi(i.min(2_000) as i32)));
            weighted.filter(|(is_one, _)| *is_one).map(|(_, weight)| weight).sum()
        }
    };
    if negative { -sum } else { sum }
}

/// The result of an operation, as wide as asked for.
pub fn real_value(op: RealOp, operands: &[LogicVector], width: u32) -> LogicVector {
    use RealOp as R;
    let at = |i: usize| operands.get(i).map_or(0.0, real_of);
    let (a, b) = (at(0), at(1));
    let bit = |holds: bool| LogicVector::from_u64(1, u64::from(holds));
    let result = match op {
        R::FromSigned | R::FromUnsigned => operands.first().map_or(0.0, |v| number(v, op == R::FromSigned)),
        R::ToInteger => return whole(a, width),
        R::Less => return bit(a < b),
        R::LessEqual => return bit(a <= b),
        R::Equal => return bit(a == b),
        R::Neg => -a,
        R::Abs => a.abs(),
        R::Add => a + b,
        R::Sub => a - b,
        R::Mul => a * b,
        R::Div => a / b,
        R::Pow => a.powf(b),
        R::Rem => a % b,
        R::Floor => a.floor(),
        R::Ceil => a.ceil(),
        R::Round => a.round(),
        R::Trunc => a.trunc(),
        R::Sqrt => a.sqrt(),
        R::Cbrt => a.cbrt(),
        R::Exp => a.exp(),
        R::Ln => a.ln(),
        R::Log2 => a.log2(),
        R::Log10 => a.log10(),
        R::Sin => a.sin(),
        R::Cos => a.cos(),
        R::Tan => a.tan(),
        R::Asin => a.asin(),
        R::Acos => a.acos(),
        R::Atan => a.atan(),
        R::Atan2 => a.atan2(b),
        R::Hypot => a.hypot(b),
        R::Sinh => a.sinh(),
        R::Cosh => a.cosh(),
        R::Tanh => a.tanh(),
        R::Min => a.min(b),
        R::Max => a.max(b),
    };
    real_bits(result)
}

/// The nearest whole number in two's complement; X for what is no number, or too large for 127 bits.
fn whole(value: f64, width: u32) -> LogicVector {
    let rounded = value.round();
    if rounded.is_nan() || rounded.abs() >= 1.7e38 {
        return LogicVector::filled(width, Level::Unknown);
    }
    let number = rounded as i128;
    let low = LogicVector::from_u64(64, number as u64);
    let high = LogicVector::from_u64(64, (number >> 64) as u64);
    LogicVector::concat(&[high, low]).resized(width, true)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn to_integer(value: f64, width: u32) -> Option<i64> {
        real_value(RealOp::ToInteger, &[real_bits(value)], width).to_i64()
    }

    /// IEEE 1364-2005 4.9.2: 35.7 and 35.5 become 36, 35.2 becomes 35, -1.5 becomes -2 and 1.5 becomes 2.
    #[test]
    fn whole_numbers_are_rounded_away_from_zero() {
        let found: Vec<_> = [35.7, 35.5, 35.2, -1.5, 1.5].into_iter().map(|v| to_integer(v, 32)).collect();
        assert_eq!(found, [Some(36), Some(36), Some(35), Some(-2), Some(2)]);
        assert_eq!(to_integer(f64::NAN, 32), None);
        assert_eq!(to_integer(-9.2e18, 64), Some(-9_200_000_000_000_000_000));
    }

    #[test]
    fn unknown_bits_count_as_zero_and_wide_vectors_keep_their_size() {
        let bits = |text: &str| LogicVector::from_levels_msb(text.chars().filter_map(Level::from_char));
        let from = |text: &str, op| real_of(&real_value(op, &[bits(text)], REAL_WIDTH));
        assert_eq!(from("1X1Z", RealOp::FromUnsigned), 10.0);
        assert_eq!(from("1000", RealOp::FromSigned), -8.0);
        assert_eq!(from(&format!("1{}", "0".repeat(80)), RealOp::FromUnsigned), 2f64.powi(80));
        assert_eq!(from(&format!("1{}", "0".repeat(80)), RealOp::FromSigned), -(2f64.powi(80)));
    }

    #[test]
    fn functions_are_those_of_their_names() {
        let one = |name: &str, v: f64| {
            let (op, count) = RealOp::named(name).expect(name);
            assert_eq!(count, 1);
            real_of(&real_value(op, &[real_bits(v)], REAL_WIDTH))
        };
        assert_eq!(one("sqrt", 2.25), 1.5);
        assert_eq!(one("log2", 1024.0), 10.0);
        assert_eq!(one("log10", 1000.0), 3.0);
        assert_eq!(one("ceil", 6.01), 7.0);
        assert_eq!(one("floor", -0.5), -1.0);
    }
}
