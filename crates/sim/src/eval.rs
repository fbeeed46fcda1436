//! Operators on values, fast where 64 bits are enough.

use design::{BinaryOp, UnaryOp, UnknownCondition, Unknowns};
use logic::{Level, LogicVector};

fn bit(b: bool) -> LogicVector {
    LogicVector::from_u64(1, u64::from(b))
}

fn mask(width: u32) -> u64 {
    if width >= 64 { u64::MAX } else { (1 << width) - 1 }
}

/// Bits that are uninitialised (U) rather than just unknown.
fn uninitialised(p: [u64; 4]) -> u64 {
    p[1] & p[2] & !p[0] & !p[3]
}

/// Planes with known bits, unknown ones as X or, where `u` is set, as U.
fn planes(width: u32, value: u64, unknown: u64, u: u64) -> LogicVector {
    let u = u & unknown;
    LogicVector::from_planes(width, [value & !unknown | unknown & !u, unknown, u, 0])
}

pub(crate) fn unary(op: UnaryOp, a: &LogicVector) -> LogicVector {
    let Some(p) = a.planes() else { return design::unary_value(op, a) };
    let (value, unknown, all) = (p[0] & !p[1], p[1], mask(a.width()));
    match op {
        UnaryOp::Not => planes(a.width(), !value & all, unknown, uninitialised(p)),
        UnaryOp::Neg if unknown == 0 => LogicVector::from_planes(a.width(), [value.wrapping_neg(), 0, 0, 0]),
        UnaryOp::ReduceOr | UnaryOp::LogicalNot => {
            let negate = op == UnaryOp::LogicalNot;
            if value != 0 {
                bit(!negate)
            } else if unknown == 0 {
                bit(negate)
            } else {
                LogicVector::filled(1, Level::Unknown)
            }
        }
        UnaryOp::ReduceAnd if (!value & !unknown & all) != 0 => bit(false),
        UnaryOp::ReduceAnd if unknown == 0 => bit(true),
        UnaryOp::ReduceXor if unknown == 0 => bit(value.count_ones() % 2 == 1),
        _ => design::unary_value(op, a),
    }
}

pub(crate) fn binary(op: BinaryOp, signed: bool, unknowns: Unknowns, a: &LogicVector, b: &LogicVector) -> LogicVector {
    use BinaryOp as B;
    if let (Some(p), Some(q)) = (a.planes(), b.planes()) {
        let (va, vb) = (p[0] & !p[1], q[0] & !q[1]);
        let u = uninitialised(p) | uninitialised(q);
        let width = a.width();
        match op {
            B::And => {
                let zero = !va & !p[1] | !vb & !q[1];
                return planes(width, va & vb, (p[1] | q[1]) & !zero, u);
            }
            B::Or => {
                let one = va | vb;
                return planes(width, one, (p[1] | q[1]) & !one, u);
            }
            B::Xor => return planes(width, va ^ vb, p[1] | q[1], u),
            B::SameLevels => return bit(p == q),
            _ => {}
        }
        if p[1] | q[1] == 0
            && width == b.width()
            && let Some(found) = arithmetic(op, signed, width, va, vb)
        {
            return found;
        }
    }
    if let Some(decided) = design::unknown_comparison(op, unknowns, a, b) {
        return decided;
    }
    let width = if op.is_comparison() { 1 } else { a.width() };
    design::binary_value(op, signed, a, b).unwrap_or_else(|| LogicVector::filled(width, Level::Unknown))
}

/// Sums and comparisons of known numbers of up to 64 bits.
fn arithmetic(op: BinaryOp, signed: bool, width: u32, a: u64, b: u64) -> Option<LogicVector> {
    use BinaryOp as B;
    let number = |value| Some(LogicVector::from_planes(width, [value, 0, 0, 0]));
    let less = |x: u64, y: u64| {
        // With the sign bit turned over, two's complement compares like plain numbers.
        let sign = if signed && width > 0 { 1 << (width - 1) } else { 0 };
        x ^ sign < y ^ sign
    };
    match op {
        B::Add => number(a.wrapping_add(b)),
        B::Sub => number(a.wrapping_sub(b)),
        B::Mul => number(a.wrapping_mul(b)),
        B::Equal => Some(bit(a == b)),
        B::NotEqual => Some(bit(a != b)),
        B::Less => Some(bit(less(a, b))),
        B::GreaterEqual => Some(bit(!less(a, b))),
        B::Greater => Some(bit(less(b, a))),
        B::LessEqual => Some(bit(!less(b, a))),
        _ => None,
    }
}

/// One of two values; an unknown condition keeps what both agree on, or takes the second.
pub(crate) fn select(
    condition: &LogicVector,
    then: LogicVector,
    otherwise: LogicVector,
    rule: UnknownCondition,
) -> LogicVector {
    match condition.get(0).known() {
        Some(true) => then,
        Some(false) => otherwise,
        None if rule == UnknownCondition::Otherwise => otherwise,
        None => then.zip(&otherwise, |x, y| if x == y && x.known().is_some() { x } else { Level::Unknown }),
    }
}

/// Does a choice of a case match?
pub(crate) fn matches(matching: design::CaseMatch, subject: &LogicVector, choice: &LogicVector) -> bool {
    use design::CaseMatch as M;
    if matching == M::Exact {
        return subject == choice;
    }
    subject.bits().zip(choice.bits()).all(|(s, c)| {
        let free = |l: Level| match matching {
            M::HighZ => l == Level::HighZ,
            M::Unknown => l.known().is_none(),
            _ => false,
        };
        free(s) || free(c) || matching == M::Dash && c == Level::DontCare || s == c
    })
}

/// Two drivers of one bit (IEEE 1164, the resolution table; levels of IEEE 1364 are among them).
pub(crate) fn resolve(a: Level, b: Level) -> Level {
    use Level as L;
    match (a, b) {
        (L::Uninitialised, _) | (_, L::Uninitialised) => L::Uninitialised,
        (L::DontCare, _) | (_, L::DontCare) | (L::Unknown, _) | (_, L::Unknown) => L::Unknown,
        (L::HighZ, other) | (other, L::HighZ) => other,
        (x, y) if x == y => x,
        (L::Zero, L::One) | (L::One, L::Zero) => L::Unknown,
        (strong @ (L::Zero | L::One), _) | (_, strong @ (L::Zero | L::One)) => strong,
        _ => L::WeakUnknown,
    }
}

/// What resolution makes of a single driver: IEEE 1164 `resolved` gives X for a lone don't-care.
#[cfg(test)]
mod tests {
    use super::*;

    /// IEEE 1164-1993, the constant `resolution_table`, rows and columns in the order U X 0 1 Z W L H -.
    const TABLE: [&str; 9] = [
        "UUUUUUUUU",
        "UXXXXXXXX",
        "UX0X0000X",
        "UXX11111X",
        "UX01ZWLHX",
        "UX01WWWWX",
        "UX01LWLWX",
        "UX01HWWHX",
        "UXXXXXXXX",
    ];

    #[test]
    fn resolution_is_the_table_of_ieee_1164() {
        for (a, row) in Level::ALL.into_iter().zip(TABLE) {
            for (b, wanted) in Level::ALL.into_iter().zip(row.chars()) {
                assert_eq!(resolve(a, b).to_char(), wanted, "{a:?} {b:?}");
            }
        }
    }

    /// IEEE 1164-1993, the constants `and_table` and `or_table`, cut to results that this kernel tells apart.
    #[test]
    fn and_and_or_are_the_tables_of_ieee_1164() {
        const AND: [&str; 9] = [
            "UU0UUU0UU",
            "UX0XXX0XX",
            "000000000",
            "UX01XX01X",
            "UX0XXX0XX",
            "UX0XXX0XX",
            "000000000",
            "UX01XX01X",
            "UX0XXX0XX",
        ];
        const OR: [&str; 9] = [
            "UUU1UUU1U",
            "UXX1XXX1X",
            "UX01XX01X",
            "111111111",
            "UXX1XXX1X",
            "UXX1XXX1X",
            "UX01XX01X",
            "111111111",
            "UXX1XXX1X",
        ];
        for (op, table) in [(BinaryOp::And, AND), (BinaryOp::Or, OR)] {
            for (a, row) in Level::ALL.into_iter().zip(table) {
                for (b, wanted) in Level::ALL.into_iter().zip(row.chars()) {
                    let (x, y) = (LogicVector::filled(1, a), LogicVector::filled(1, b));
                    let found = binary(op, false, Unknowns::Propagate, &x, &y).to_string();
                    assert_eq!(found, wanted.to_string(), "{op:?} {a:?} {b:?}");
                }
            }
        }
    }

    #[test]
    fn the_short_ways_give_what_the_long_ones_do() {
        use BinaryOp as B;
        let operators =
            [B::Add, B::Sub, B::Mul, B::Equal, B::NotEqual, B::Less, B::GreaterEqual, B::Greater, B::LessEqual];
        for (op, signed) in operators.into_iter().flat_map(|op| [(op, false), (op, true)]) {
            for (width, a, b) in (0..8u64).flat_map(|a| (0..8u64).map(move |b| (3, a, b))).chain([
                (64, u64::MAX, 1),
                (64, 1 << 63, u64::MAX),
                (1, 1, 0),
                (33, (1 << 33) - 1, 5),
            ]) {
                let (x, y) = (LogicVector::from_u64(width, a), LogicVector::from_u64(width, b));
                let wanted = design::binary_value(op, signed, &x, &y);
                assert_eq!(Some(binary(op, signed, Unknowns::Propagate, &x, &y)), wanted, "{op:?} {a} {b}");
            }
        }
    }

    #[test]
    fn not_is_the_table_of_ieee_1164() {
        let found: String =
            Level::ALL.into_iter().map(|l| unary(UnaryOp::Not, &LogicVector::filled(1, l)).to_string()).collect();
        assert_eq!(found, "UX10XX10X");
    }
}
