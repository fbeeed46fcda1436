//! Operators on words of bits that may be unknown or float, as and-inverter logic.
//!
//! A bit has three rails: its value, 1 where it is unknown, 1 where it floats. Operators read a floating bit as an
//! unknown one; only plain copies, slices and choices keep it floating.

use crate::expr::{BinaryOp, UnaryOp, Unknowns};
use crate::netlist::{Lit, Netlist};
use logic::{Level, LogicVector};

/// One bit with its rails.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Bit {
    pub(crate) value: Lit,
    pub(crate) unknown: Lit,
    pub(crate) floating: Lit,
}

impl Bit {
    pub(crate) const X: Bit = Bit { value: Lit::FALSE, unknown: Lit::TRUE, floating: Lit::FALSE };
    pub(crate) const Z: Bit = Bit { value: Lit::FALSE, unknown: Lit::FALSE, floating: Lit::TRUE };

    pub(crate) fn known(value: Lit) -> Self {
        Bit { value, unknown: Lit::FALSE, floating: Lit::FALSE }
    }

    pub(crate) fn from_level(level: Level) -> Self {
        match level.known() {
            Some(bit) => Bit::known(Lit::from(bit)),
            None if level == Level::HighZ => Bit::Z,
            None => Bit::X,
        }
    }

    /// The bit as a constant level, when it is one.
    pub(crate) fn to_level(self) -> Option<Level> {
        match (self.value, self.unknown, self.floating) {
            (_, Lit::TRUE, _) => Some(Level::Unknown),
            (_, Lit::FALSE, Lit::TRUE) => Some(Level::HighZ),
            (Lit::TRUE, Lit::FALSE, Lit::FALSE) => Some(Level::One),
            (Lit::FALSE, Lit::FALSE, Lit::FALSE) => Some(Level::Zero),
            _ => None,
        }
    }
}

/// Bits, the least significant first.
pub(crate) type Word = Vec<Bit>;

pub(crate) fn constant(value: &LogicVector) -> Word {
    value.bits().map(Bit::from_level).collect()
}

/// The word as a constant, when every bit is one.
pub(crate) fn to_constant(word: &[Bit]) -> Option<LogicVector> {
    let levels: Option<Vec<Level>> = word.iter().rev().map(|b| b.to_level()).collect();
    levels.map(LogicVector::from_levels_msb)
}

impl Netlist {
    /// Floating becomes unknown; the value of an unknown bit is 0 where that is free to say.
    fn read(&mut self, bit: Bit) -> Bit {
        let unknown = self.or(bit.unknown, bit.floating);
        Bit { value: if unknown == Lit::TRUE { Lit::FALSE } else { bit.value }, unknown, floating: Lit::FALSE }
    }

    fn read_word(&mut self, word: &[Bit]) -> Word {
        word.iter().map(|b| self.read(*b)).collect()
    }

    pub(crate) fn not_bit(&mut self, a: Bit) -> Bit {
        let a = self.read(a);
        Bit { value: !a.value, ..a }
    }

    pub(crate) fn and_bit(&mut self, a: Bit, b: Bit) -> Bit {
        let (a, b) = (self.read(a), self.read(b));
        let value = self.and(a.value, b.value);
        let either = self.or(a.unknown, b.unknown);
        // A known 0 decides: X & 0 = 0.
        let may_a = self.or(a.value, a.unknown);
        let may_b = self.or(b.value, b.unknown);
        let may = self.and(may_a, may_b);
        let unknown = self.and(either, may);
        Bit { value, unknown, floating: Lit::FALSE }
    }

    pub(crate) fn or_bit(&mut self, a: Bit, b: Bit) -> Bit {
        let (a, b) = (self.not_bit(a), self.not_bit(b));
        let nor = self.and_bit(a, b);
        self.not_bit(nor)
    }

    pub(crate) fn xor_bit(&mut self, a: Bit, b: Bit) -> Bit {
        let (a, b) = (self.read(a), self.read(b));
        Bit { value: self.xor(a.value, b.value), unknown: self.or(a.unknown, b.unknown), floating: Lit::FALSE }
    }

    /// `then` where `taken`, else `otherwise`; all rails are kept.
    pub(crate) fn choose(&mut self, taken: Lit, then: Bit, otherwise: Bit) -> Bit {
        Bit {
            value: self.mux(taken, then.value, otherwise.value),
            unknown: self.mux(taken, then.unknown, otherwise.unknown),
            floating: self.mux(taken, then.floating, otherwise.floating),
        }
    }

    /// Where the condition is a known 1.
    pub(crate) fn taken(&mut self, condition: Bit) -> Lit {
        let c = self.read(condition);
        self.and(c.value, !c.unknown)
    }

    /// IEEE 1364-2005 5.1.13: with an unknown condition, bits that agree stay and others are X.
    pub(crate) fn select_merge(&mut self, condition: Bit, then: &[Bit], otherwise: &[Bit]) -> Word {
        let c = self.read(condition);
        let pairs = then.iter().zip(otherwise);
        pairs
            .map(|(t, o)| {
                let plain = self.choose(c.value, *t, *o);
                if c.unknown == Lit::FALSE {
                    return plain;
                }
                let (t, o) = (self.read(*t), self.read(*o));
                let differ = self.xor(t.value, o.value);
                let unknown = self.any([differ, t.unknown, o.unknown]);
                self.choose(c.unknown, Bit { value: t.value, unknown, floating: Lit::FALSE }, plain)
            })
            .collect()
    }

    pub(crate) fn any_unknown(&mut self, words: &[&[Bit]]) -> Lit {
        let mut sum = Lit::FALSE;
        for bit in words.iter().flat_map(|w| w.iter()) {
            let read = self.read(*bit);
            sum = self.or(sum, read.unknown);
        }
        sum
    }

    fn with_unknown(&mut self, values: Vec<Lit>, unknown: Lit) -> Word {
        values.into_iter().map(|value| Bit { value, unknown, floating: Lit::FALSE }).collect()
    }

    /// Sum of the values with carry in; the last element is the carry out.
    fn ripple(&mut self, a: &[Lit], b: &[Lit], carry_in: Lit) -> Vec<Lit> {
        let mut carry = carry_in;
        let mut sum = Vec::with_capacity(a.len() + 1);
        for (a, b) in a.iter().zip(b) {
            let half = self.xor(*a, *b);
            sum.push(self.xor(half, carry));
            let both = self.and(*a, *b);
            let passed = self.and(half, carry);
            carry = self.or(both, passed);
        }
        sum.push(carry);
        sum
    }

    fn multiply(&mut self, a: &[Lit], b: &[Lit]) -> Vec<Lit> {
        let mut sum = vec![Lit::FALSE; a.len()];
        for (i, bit) in b.iter().enumerate() {
            if *bit == Lit::FALSE {
                continue;
            }
            let row: Vec<Lit> = a[..a.len() - i].iter().map(|x| self.and(*x, *bit)).collect();
            let high = sum[i..].to_vec();
            let mut part = self.ripple(&high, &row, Lit::FALSE);
            part.pop();
            sum.truncate(i);
            sum.extend(part);
        }
        sum
    }

    /// Restoring division (common practice): quotient and remainder of unsigned values.
    fn divide(&mut self, a: &[Lit], b: &[Lit]) -> (Vec<Lit>, Vec<Lit>) {
        let n = a.len();
        let mut rest = vec![Lit::FALSE; n + 1];
        let mut divisor = b.to_vec();
        divisor.push(Lit::FALSE);
        let inverted: Vec<Lit> = divisor.iter().map(|l| !*l).collect();
        let mut quotient = vec![Lit::FALSE; n];
        for i in (0..n).rev() {
            rest.pop();
            rest.insert(0, a[i]);
            let difference = self.ripple(&rest, &inverted, Lit::TRUE);
            let fits = difference[n + 1];
            quotient[i] = fits;
            rest = rest.iter().zip(&difference).map(|(r, d)| self.mux(fits, *d, *r)).collect();
        }
        rest.truncate(n);
        (quotient, rest)
    }

    fn negate_if(&mut self, condition: Lit, a: &[Lit]) -> Vec<Lit> {
        let flipped: Vec<Lit> = a.iter().map(|l| self.xor(*l, condition)).collect();
        let zero = vec![Lit::FALSE; a.len()];
        let mut sum = self.ripple(&flipped, &zero, condition);
        sum.pop();
        sum
    }

    fn signed_divide(&mut self, op: BinaryOp, a: &[Lit], b: &[Lit]) -> Vec<Lit> {
        let (sign_a, sign_b) = (a.last().copied().unwrap_or(Lit::FALSE), b.last().copied().unwrap_or(Lit::FALSE));
        let (size_a, size_b) = (self.negate_if(sign_a, a), self.negate_if(sign_b, b));
        let (quotient, rest) = self.divide(&size_a, &size_b);
        if op == BinaryOp::Div {
            let sign = self.xor(sign_a, sign_b);
            return self.negate_if(sign, &quotient);
        }
        let rest = self.negate_if(sign_a, &rest);
        if op == BinaryOp::Rem {
            return rest;
        }
        // mod takes the divisor's sign: add the divisor where the signs differ and the remainder is not 0.
        let signs_differ = self.xor(sign_a, sign_b);
        let nonzero = self.any(rest.clone());
        let adjust = self.and(signs_differ, nonzero);
        let addend: Vec<Lit> = b.iter().map(|l| self.and(*l, adjust)).collect();
        let mut sum = self.ripple(&rest, &addend, Lit::FALSE);
        sum.pop();
        sum
    }

    /// Less-than of the values: the borrow of `a - b`, signs flipped for two's complement.
    fn less(&mut self, a: &[Lit], b: &[Lit], signed: bool) -> Lit {
        let mut a = a.to_vec();
        let mut b: Vec<Lit> = b.iter().map(|l| !*l).collect();
        if signed && let (Some(x), Some(y)) = (a.last_mut(), b.last_mut()) {
            (*x, *y) = (!*x, !*y);
        }
        let difference = self.ripple(&a, &b, Lit::TRUE);
        !difference[a.len()]
    }

    fn shift(&mut self, op: BinaryOp, a: &[Bit], by: &[Bit]) -> Word {
        let fill = match op {
            BinaryOp::ShiftRightArithmetic => a.last().copied().unwrap_or(Bit::X),
            _ => Bit::known(Lit::FALSE),
        };
        let mut word = a.to_vec();
        for (k, bit) in by.iter().enumerate() {
            let distance = if k < 31 { 1usize << k } else { usize::MAX };
            let moved: Word = (0..word.len())
                .map(|i| {
                    let source =
                        if op == BinaryOp::ShiftLeft { i.checked_sub(distance) } else { i.checked_add(distance) };
                    source.and_then(|s| word.get(s).copied()).unwrap_or(fill)
                })
                .collect();
            word = word.iter().zip(&moved).map(|(w, m)| self.choose(bit.value, *m, *w)).collect();
        }
        let unknown = self.any_unknown(&[by]);
        word.into_iter().map(|b| self.choose(unknown, Bit::X, b)).collect()
    }

    fn same_levels(&mut self, a: &[Bit], b: &[Bit]) -> Lit {
        let mut same = Lit::TRUE;
        for (a, b) in a.iter().zip(b) {
            let known_a = self.or(a.unknown, a.floating);
            let values = self.xor(a.value, b.value);
            let values = self.and(values, !known_a);
            let unknown = self.xor(a.unknown, b.unknown);
            let floating = self.xor(a.floating, b.floating);
            let differ = self.any([values, unknown, floating]);
            same = self.and(same, !differ);
        }
        same
    }

    pub(crate) fn unary(&mut self, op: UnaryOp, a: &[Bit]) -> Word {
        let fold = |net: &mut Self, f: fn(&mut Self, Bit, Bit) -> Bit| {
            let first = a.first().copied().unwrap_or(Bit::X);
            let first = net.read(first);
            a.iter().skip(1).fold(first, |sum, b| f(net, sum, *b))
        };
        match op {
            UnaryOp::Not => a.iter().map(|b| self.not_bit(*b)).collect(),
            UnaryOp::ReduceOr => vec![fold(self, Self::or_bit)],
            UnaryOp::ReduceAnd => vec![fold(self, Self::and_bit)],
            UnaryOp::ReduceXor => vec![fold(self, Self::xor_bit)],
            UnaryOp::LogicalNot => {
                let any = fold(self, Self::or_bit);
                vec![self.not_bit(any)]
            }
            UnaryOp::Neg => {
                let unknown = self.any_unknown(&[a]);
                let values: Vec<Lit> = a.iter().map(|b| b.value).collect();
                let negated = self.negate_if(Lit::TRUE, &values);
                self.with_unknown(negated, unknown)
            }
        }
    }

    /// A power by squaring; see [`BinaryOp::Pow`].
    pub(crate) fn power(&mut self, signed: bool, a: &[Bit], b: &[Bit]) -> Word {
        let unknown = self.any_unknown(&[a, b]);
        let (x, y): (Vec<Lit>, Vec<Lit>) = (a.iter().map(|b| b.value).collect(), b.iter().map(|b| b.value).collect());
        let mut result = vec![Lit::FALSE; x.len()];
        if let Some(lowest) = result.first_mut() {
            *lowest = Lit::TRUE;
        }
        let negative = y.last().copied().unwrap_or(Lit::FALSE);
        let one: Vec<Lit> = result.clone();
        let mut square = x.clone();
        let highest = y.iter().rposition(|bit| *bit != Lit::FALSE && *bit != negative);
        for bit in &y[..highest.map_or(0, |h| h + 1)] {
            if *bit != Lit::FALSE {
                let product = self.multiply(&result, &square);
                result = result.iter().zip(&product).map(|(r, p)| self.mux(*bit, *p, *r)).collect();
            }
            square = self.multiply(&square.clone(), &square);
            square.truncate(x.len());
        }
        if negative == Lit::FALSE {
            return self.with_unknown(result, unknown);
        }
        let differs = |net: &mut Self, word: &[Lit]| {
            let bits: Vec<Lit> = x.iter().zip(word).map(|(a, b)| net.xor(*a, *b)).collect();
            net.any(bits)
        };
        let is_one = !differs(self, &one);
        let is_minus_one = if signed { self.all(x.iter().copied()) } else { Lit::FALSE };
        let is_zero = !self.any(x.iter().copied());
        let odd = y.first().copied().unwrap_or(Lit::FALSE);
        let keeps = self.and(is_minus_one, odd);
        let becomes_one = self.or(is_one, is_minus_one);
        let word: Vec<Lit> = (0..x.len())
            .map(|i| {
                let small = if i == 0 { becomes_one } else { keeps };
                self.mux(negative, small, result[i])
            })
            .collect();
        let undefined = self.and(negative, is_zero);
        let unknown = self.or(unknown, undefined);
        self.with_unknown(word, unknown)
    }

    /// Both operands have the same width but for shifts; `Pow` has a function of its own.
    pub(crate) fn binary(&mut self, op: BinaryOp, signed: bool, unknowns: Unknowns, a: &[Bit], b: &[Bit]) -> Word {
        use BinaryOp as B;
        let bitwise = |net: &mut Self, f: fn(&mut Self, Bit, Bit) -> Bit| -> Word {
            a.iter().zip(b).map(|(a, b)| f(net, *a, *b)).collect()
        };
        match op {
            B::And => return bitwise(self, Self::and_bit),
            B::Or => return bitwise(self, Self::or_bit),
            B::Xor => return bitwise(self, Self::xor_bit),
            B::ShiftLeft | B::ShiftRight | B::ShiftRightArithmetic => {
                let by = self.read_word(b);
                return self.shift(op, a, &by);
            }
            B::SameLevels => return vec![Bit::known(self.same_levels(a, b))],
            B::Match => {
                // A bit that is always unknown is a don't-care; one that may be unknown fits nothing.
                let pairs: Vec<(Bit, Bit)> = a
                    .iter()
                    .zip(b)
                    .filter(|(x, y)| x.unknown != Lit::TRUE && y.unknown != Lit::TRUE)
                    .map(|(x, y)| (*x, *y))
                    .collect();
                let mut all = Lit::TRUE;
                for (x, y) in pairs {
                    let differ = self.xor(x.value, y.value);
                    let wrong = self.any([differ, x.unknown, y.unknown, x.floating, y.floating]);
                    all = self.and(all, !wrong);
                }
                return vec![Bit::known(all)];
            }
            B::Equal | B::NotEqual => {
                let differ = bitwise(self, Self::xor_bit);
                let differ = self.unary(UnaryOp::ReduceOr, &differ)[0];
                let bit = if op == B::Equal { self.not_bit(differ) } else { differ };
                return vec![self.compare_result(bit, op == B::NotEqual, unknowns)];
            }
            _ => {}
        }
        let mut unknown = self.any_unknown(&[a, b]);
        let (x, y): (Vec<Lit>, Vec<Lit>) = (a.iter().map(|b| b.value).collect(), b.iter().map(|b| b.value).collect());
        let values = match op {
            B::Add => self.ripple(&x, &y, Lit::FALSE),
            B::Sub => {
                let y: Vec<Lit> = y.iter().map(|l| !*l).collect();
                self.ripple(&x, &y, Lit::TRUE)
            }
            B::Mul => self.multiply(&x, &y),
            B::Div | B::Rem | B::Mod => {
                let divisor = self.any(y.clone());
                unknown = self.or(unknown, !divisor);
                match (signed, op) {
                    (true, _) => self.signed_divide(op, &x, &y),
                    (false, B::Div) => self.divide(&x, &y).0,
                    (false, _) => self.divide(&x, &y).1,
                }
            }
            _ => {
                let less = match op {
                    B::Less => self.less(&x, &y, signed),
                    B::GreaterEqual => !self.less(&x, &y, signed),
                    B::Greater => self.less(&y, &x, signed),
                    _ => !self.less(&y, &x, signed),
                };
                let bit = Bit { value: less, unknown, floating: Lit::FALSE };
                return vec![self.compare_result(bit, false, unknowns)];
            }
        };
        let mut word = self.with_unknown(values, unknown);
        word.truncate(a.len());
        word
    }

    /// numeric_std: a comparison with a metavalue is false, `/=` is true.
    fn compare_result(&mut self, bit: Bit, when_unknown: bool, unknowns: Unknowns) -> Bit {
        match unknowns {
            Unknowns::Propagate => bit,
            Unknowns::False => Bit::known(self.mux(bit.unknown, Lit::from(when_unknown), bit.value)),
        }
    }

    /// Element `index` (two's complement) of equal elements; X outside and for an unknown index.
    pub(crate) fn element(&mut self, base: &[Bit], index: &[Bit], stride: usize, width: usize) -> Word {
        let unknown = self.any_unknown(&[index]);
        let mut result = vec![Bit::X; width];
        for k in places(base.len(), stride, width) {
            let hit = self.index_is(index, k);
            if hit == Lit::FALSE {
                continue;
            }
            for (i, bit) in result.iter_mut().enumerate() {
                let at = usize::try_from(k * stride as i64 + i as i64).ok();
                let source = at.and_then(|at| base.get(at)).copied().unwrap_or(Bit::X);
                *bit = self.choose(hit, source, *bit);
            }
        }
        result.into_iter().map(|b| self.choose(unknown, Bit::X, b)).collect()
    }

    /// Where the index has the value `k`, a negative one in two's complement.
    pub(crate) fn index_is(&mut self, index: &[Bit], k: i64) -> Lit {
        let fits = match index.len() {
            64.. => true,
            len if k < 0 => len > 0 && k >> (len - 1) == -1,
            len => k >> len == 0,
        };
        if !fits {
            return Lit::FALSE;
        }
        // The sign first: most indices can't be negative.
        index.iter().enumerate().rev().fold(Lit::TRUE, |hit, (i, bit)| {
            let wanted = k >> i.min(63) & 1 == 1;
            self.and(hit, if wanted { bit.value } else { !bit.value })
        })
    }
}

/// The indices at which so many bits of elements of this stride lie at least in part within `total` bits.
pub(crate) fn places(total: usize, stride: usize, width: usize) -> std::ops::Range<i64> {
    if stride == 0 || width == 0 {
        return 0..0;
    }
    let below = (width - 1) / stride;
    -(below as i64)..total.div_ceil(stride) as i64
}
