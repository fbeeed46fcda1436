//! The arithmetic of expressions, on any kind of bits: levels of 64 rows at once, or the gates of a netlist.

use crate::expr_node::{BinaryOp, MAX_WIDTH, Node};

/// What an expression is computed with, bit by bit: levels on 64 rows at once, or the nodes of a netlist.
pub trait BitAlgebra {
    /// A bit.
    type Bit: Copy;
    /// The bit that is always `level`.
    fn constant(&mut self, level: bool) -> Self::Bit;
    /// The complement.
    fn not(&mut self, a: Self::Bit) -> Self::Bit;
    /// Both.
    fn and(&mut self, a: Self::Bit, b: Self::Bit) -> Self::Bit;
    /// At least one.
    fn or(&mut self, a: Self::Bit, b: Self::Bit) -> Self::Bit;
    /// Just one.
    fn xor(&mut self, a: Self::Bit, b: Self::Bit) -> Self::Bit;
}

/// 64 rows at once.
pub(crate) struct Rows;

impl BitAlgebra for Rows {
    type Bit = u64;

    fn constant(&mut self, level: bool) -> u64 {
        if level { u64::MAX } else { 0 }
    }

    fn not(&mut self, a: u64) -> u64 {
        !a
    }

    fn and(&mut self, a: u64, b: u64) -> u64 {
        a & b
    }

    fn or(&mut self, a: u64, b: u64) -> u64 {
        a | b
    }

    fn xor(&mut self, a: u64, b: u64) -> u64 {
        a ^ b
    }
}

/// An integer, bit by bit: two's complement when `signed`, least significant bit first.
#[derive(Clone, Debug)]
pub(crate) struct Sliced<B> {
    bits: Vec<B>,
    signed: bool,
}

impl<B: Copy> Sliced<B> {
    /// A bit of it, of which `zero` stands above the most significant one.
    pub(crate) fn bit(&self, i: usize, zero: B) -> B {
        match self.bits.get(i) {
            Some(bit) => *bit,
            None if self.signed => self.bits.last().copied().unwrap_or(zero),
            None => zero,
        }
    }

    pub(crate) fn flag(bit: B) -> Self {
        Self { bits: vec![bit], signed: false }
    }
}

/// The arithmetic of expressions over any kind of bits.
pub(crate) struct Calculator<'a, A: BitAlgebra> {
    pub(crate) on: &'a mut A,
    pub(crate) zero: A::Bit,
}

impl<A: BitAlgebra> Calculator<'_, A> {
    fn nonzero(&mut self, of: &Sliced<A::Bit>) -> A::Bit {
        of.bits.iter().fold(self.zero, |any, b| self.on.or(any, *b))
    }

    fn is_zero(&mut self, of: &Sliced<A::Bit>) -> A::Bit {
        let any = self.nonzero(of);
        self.on.not(any)
    }

    /// Sum and carry of three bits.
    fn full(&mut self, a: A::Bit, b: A::Bit, carry: A::Bit) -> (A::Bit, A::Bit) {
        let half = self.on.xor(a, b);
        let both = self.on.and(a, b);
        let through = self.on.and(carry, half);
        (self.on.xor(half, carry), self.on.or(both, through))
    }

    /// `a + b`, or `a - b`, exact.
    fn sum(&mut self, a: &Sliced<A::Bit>, b: &Sliced<A::Bit>, subtract: bool) -> Sliced<A::Bit> {
        let signed = subtract || a.signed || b.signed;
        let width = a.bits.len().max(b.bits.len()) + 1 + usize::from(signed);
        let mut carry = self.on.constant(subtract);
        let mut bits = Vec::with_capacity(width);
        for i in 0..width {
            let (left, mut right) = (a.bit(i, self.zero), b.bit(i, self.zero));
            if subtract {
                right = self.on.not(right);
            }
            let (sum, over) = self.full(left, right, carry);
            bits.push(sum);
            carry = over;
        }
        Sliced { bits, signed }
    }

    fn product(&mut self, a: &Sliced<A::Bit>, b: &Sliced<A::Bit>) -> Sliced<A::Bit> {
        let signed = a.signed || b.signed;
        let width = a.bits.len() + b.bits.len() + usize::from(signed);
        let mut bits = vec![self.zero; width];
        for j in 0..width {
            let mut carry = self.zero;
            for (i, bit) in bits.iter_mut().enumerate().skip(j) {
                let partial = self.on.and(a.bit(i - j, self.zero), b.bit(j, self.zero));
                let (sum, over) = self.full(*bit, partial, carry);
                *bit = sum;
                carry = over;
            }
        }
        Sliced { bits, signed }
    }

    pub(crate) fn node<'s>(
        &mut self,
        node: &Node,
        done: &[Sliced<A::Bit>],
        scope: &impl Fn(usize) -> &'s [A::Bit],
    ) -> Sliced<A::Bit>
    where
        A::Bit: 's,
    {
        match node {
            Node::Const { value, width } => {
                let bits = (0..*width).map(|i| self.on.constant(i < 64 && value >> i & 1 == 1)).collect();
                Sliced { bits, signed: false }
            }
            Node::Pick { signal, low, width } => {
                let bits = scope(*signal);
                let pick = |i: u32| bits.get(i as usize).copied().unwrap_or(self.zero);
                Sliced { bits: (*low..low + width).map(pick).collect(), signed: false }
            }
            Node::Not(a) => {
                let a = &done[*a];
                Sliced { bits: a.bits.iter().map(|b| self.on.not(*b)).collect(), signed: a.signed }
            }
            Node::LogicalNot(a) => Sliced::flag(self.is_zero(&done[*a])),
            Node::Neg(a) => {
                let zero = Sliced::flag(self.zero);
                self.sum(&zero, &done[*a], true)
            }
            Node::Mux(c, a, b) => {
                let (a, b) = (&done[*a], &done[*b]);
                let chosen = self.nonzero(&done[*c]);
                let other = self.on.not(chosen);
                let signed = a.signed || b.signed;
                let width = a.bits.len().max(b.bits.len()) + usize::from(signed);
                let bits = (0..width)
                    .map(|i| {
                        let then = self.on.and(chosen, a.bit(i, self.zero));
                        let otherwise = self.on.and(other, b.bit(i, self.zero));
                        self.on.or(then, otherwise)
                    })
                    .collect();
                Sliced { bits, signed }
            }
            Node::Binary(op, a, b) => self.binary(*op, &done[*a], &done[*b]),
        }
    }

    fn bitwise(
        &mut self,
        a: &Sliced<A::Bit>,
        b: &Sliced<A::Bit>,
        f: impl Fn(&mut A, A::Bit, A::Bit) -> A::Bit,
    ) -> Sliced<A::Bit> {
        let width = a.bits.len().max(b.bits.len());
        let zero = self.zero;
        let bits = (0..width).map(|i| f(self.on, a.bit(i, zero), b.bit(i, zero))).collect();
        Sliced { bits, signed: a.signed || b.signed }
    }

    /// Is `a` less than `b`?
    fn less(&mut self, a: &Sliced<A::Bit>, b: &Sliced<A::Bit>) -> A::Bit {
        let difference = self.sum(a, b, true);
        difference.bits.last().copied().unwrap_or(self.zero)
    }

    fn binary(&mut self, op: BinaryOp, a: &Sliced<A::Bit>, b: &Sliced<A::Bit>) -> Sliced<A::Bit> {
        use BinaryOp as B;
        match op {
            B::And => self.bitwise(a, b, |on, a, b| on.and(a, b)),
            B::Nand => self.bitwise(a, b, |on, a, b| {
                let both = on.and(a, b);
                on.not(both)
            }),
            B::Or => self.bitwise(a, b, |on, a, b| on.or(a, b)),
            B::Nor => self.bitwise(a, b, |on, a, b| {
                let any = on.or(a, b);
                on.not(any)
            }),
            B::Xor => self.bitwise(a, b, |on, a, b| on.xor(a, b)),
            B::Xnor => self.bitwise(a, b, |on, a, b| {
                let one = on.xor(a, b);
                on.not(one)
            }),
            B::Add | B::Sub if a.bits.len().max(b.bits.len()) >= MAX_WIDTH => self.bitwise(a, b, |_, a, _| a),
            B::Mul if a.bits.len() + b.bits.len() > MAX_WIDTH => self.bitwise(a, b, |_, a, _| a),
            B::Add => self.sum(a, b, false),
            B::Sub => self.sum(a, b, true),
            B::Mul => self.product(a, b),
            B::Equal | B::NotEqual => {
                let difference = self.sum(a, b, true);
                let equal = self.is_zero(&difference);
                Sliced::flag(if op == B::Equal { equal } else { self.on.not(equal) })
            }
            B::Less => Sliced::flag(self.less(a, b)),
            B::Greater => Sliced::flag(self.less(b, a)),
            B::GreaterEqual | B::LessEqual => {
                let beyond = if op == B::GreaterEqual { self.less(a, b) } else { self.less(b, a) };
                Sliced::flag(self.on.not(beyond))
            }
        }
    }
}
