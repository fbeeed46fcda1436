//! Slips of the pen that change more than one sign: a number read in another base, a word turned the other way round, wires of
//! one bit between vectors, connections by place that were taken for each other, an operator's twin, another kind of case.

use crate::change::{Change, Class};
use crate::lister::Lister;
use std::ops::Range;

impl Lister<'_> {
    /// Where a token stands, by bytes.
    pub fn range(&self, at: usize) -> Range<usize> {
        self.list.get(at).map_or(0..0, |t| t.range.clone())
    }

    /// `{q[6:0], q[7]}` turned the other way round, and back; in VHDL `q(6 downto 0) & q(7)`.
    pub(crate) fn rotation(&mut self, at: usize, text: &str) {
        if !self.is_name(at) {
            return;
        }
        let ((open, close), (middle, left), (join, right)) = (self.writing.index, self.writing.span, self.writing.join);
        let number = |k: usize| self.text(k).parse::<u32>().ok();
        let name = self.text(at);
        let bit = |k: usize| {
            (self.text(k) == name && self.text(k + 1) == open && self.text(k + 3) == close).then(|| number(k + 2))?
        };
        let part = |k: usize| {
            let fits =
                self.text(k) == name && self.text(k + 1) == open && self.is(k + 3, middle) && self.text(k + 5) == close;
            fits.then(|| number(k + 2).zip(number(k + 4)))?
        };
        let (last, to) = if let (Some((high, 0)), true, Some(top)) = (part(at), self.text(at + 6) == join, bit(at + 7))
            && top == high + 1
        {
            (at + 10, format!("{name}{open}0{close}{right}{name}{open}{top}{left}1{close}"))
        } else if let (Some(0), true, Some((top, 1))) = (bit(at), self.text(at + 4) == join, part(at + 5)) {
            let high = top.saturating_sub(1);
            (at + 10, format!("{name}{open}{high}{left}0{close}{right}{name}{open}{top}{close}"))
        } else {
            return;
        };
        let range = self.range(at).start..self.range(last).end;
        let from = text[range.clone()].to_owned();
        self.found.push(Change::one(Class::Order, range, &from, to));
    }

    /// `{q[4:0], 1'b0}` lets the last bit fall out: it was to come in again at the other end.
    pub(crate) fn ring(&mut self, at: usize, text: &str) {
        let ((open, close), (middle, _), (join, _)) = (self.writing.index, self.writing.span, self.writing.join);
        let is_bit = |k: usize| matches!(self.text(k), "1'b0" | "1'b1" | "'0'" | "'1'");
        let number = |k: usize| self.text(k).parse::<u32>().ok();
        let part = |k: usize| {
            let fits =
                self.is_name(k) && self.text(k + 1) == open && self.is(k + 3, middle) && self.text(k + 5) == close;
            fits.then(|| number(k + 2).zip(number(k + 4)))?
        };
        let (place, again) =
            if let (Some((high, 0)), true, true) = (part(at), self.text(at + 6) == join, is_bit(at + 7)) {
                (at + 7, format!("{}{open}{}{close}", self.text(at), high + 1))
            } else if let (true, true, Some((_, 1))) = (is_bit(at), self.text(at + 1) == join, part(at + 2)) {
                (at, format!("{}{open}0{close}", self.text(at + 2)))
            } else {
                return;
            };
        let range = self.range(place);
        let from = text[range.clone()].to_owned();
        self.found.push(Change::one(Class::Order, range, &from, again));
    }
}
