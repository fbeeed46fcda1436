//! Slips of the pen that change more than one sign: a number read in another base, a word turned the other way round, wires of
//! one bit between vectors, connections by place that were taken for each other, an operator's twin, another kind of case.

use crate::text::{Change, Class, Lister};
use crate::tokens::Kind;
use std::ops::Range;

/// Ranges that are tried on a wire without one.
const MOST_RANGES: usize = 3;

/// Words and operators that differ by a letter, or by being written once or twice (IEEE 1364-2005 5.1.9 and 5.1.10, 9.5.1).
const TWINS: [[&str; 2]; 4] = [["&", "&&"], ["|", "||"], ["case", "casez"], ["~", "!"]];

impl Lister<'_> {
    fn range(&self, at: usize) -> Range<usize> {
        self.list.get(at).map_or(0..0, |t| t.range.clone())
    }

    /// `&` for `&&`, `case` for `casez`.
    pub(crate) fn twin(&mut self, at: usize) {
        if self.vhdl {
            return;
        }
        let own = self.text(at);
        for pair in TWINS {
            if let Some(k) = pair.iter().position(|w| *w == own) {
                self.found.push(Change::one(Class::Twin, self.range(at), own, pair[1 - k]));
            }
        }
    }

    /// `2 < a < 9` compares a bit with 9: both comparisons are meant.
    pub(crate) fn chain(&mut self, at: usize) {
        const RELATIONS: [&str; 4] = ["<", "<=", ">", ">="];
        let middle = at + 1;
        if self.vhdl
            || !RELATIONS.contains(&self.text(at))
            || !self.is_name(middle)
            || !RELATIONS.contains(&self.text(at + 2))
        {
            return;
        }
        let (one, name, other) = (self.text(at).to_owned(), self.text(middle).to_owned(), self.text(at + 2).to_owned());
        let end = self.range(middle).end;
        let change = Change {
            class: Class::Twin,
            edits: vec![(end..end, format!(" && {name}"))],
            from: format!("{one} {name} {other}"),
            to: format!("{one} {name} && {name} {other}"),
        };
        self.found.push(change);
    }

    /// All numbers of digits 0 and 1 as bits at once: the labels of a case, say.
    pub(crate) fn bases(&mut self) {
        let numbers = (0..self.list.len()).filter_map(|at| Some((self.range(at), self.meant_as_bits(at)?)));
        let edits: Vec<(Range<usize>, String)> = numbers.collect();
        if let [(_, to), _, ..] = edits.as_slice() {
            let (from, to) = (to.rsplit('b').next().unwrap_or(to).to_owned(), to.clone());
            self.found.push(Change { class: Class::Base, edits, from, to });
        }
    }

    /// Digits 0 and 1 that were meant to be bits: `0010:` is ten, `2'd10` is ten modulo four.
    pub(crate) fn base(&mut self, at: usize) {
        if let Some(meant) = self.meant_as_bits(at) {
            self.found.push(Change::one(Class::Base, self.range(at), self.text(at), meant));
        }
    }

    fn meant_as_bits(&self, at: usize) -> Option<String> {
        if self.vhdl || self.list.get(at).is_none_or(|t| t.kind != Kind::Number) {
            return None;
        }
        let own = self.text(at);
        let is_bits = |digits: &str| digits.len() > 1 && digits.chars().all(|c| matches!(c, '0' | '1'));
        match own.split_once('\'') {
            None if is_bits(own) && self.text(at.wrapping_sub(1)) != "[" && self.text(at.wrapping_sub(1)) != ":" => {
                Some(format!("{}'b{own}", own.len()))
            }
            Some((size, rest)) if rest.starts_with(['d', 'h', 'D', 'H']) && is_bits(&rest[1..]) => {
                Some(format!("{size}'b{}", &rest[1..]))
            }
            _ => None,
        }
    }

    /// `{q[6:0], q[7]}` turned the other way round, and back; in VHDL `q(6 downto 0) & q(7)`.
    pub(crate) fn rotation(&mut self, at: usize, text: &str) {
        if !self.is_name(at) {
            return;
        }
        let (open, close, middle, join) = if self.vhdl { ("(", ")", "downto", "&") } else { ("[", "]", ":", ",") };
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
        let (left, right) = match self.vhdl {
            true => (" downto ", " & "),
            false => (":", ", "),
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
        let (open, close, middle, join) = if self.vhdl { ("(", ")", "downto", "&") } else { ("[", "]", ":", ",") };
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

    /// Two neighbours in connections by place.
    pub(crate) fn connections(&mut self, at: usize) {
        if self.vhdl || !self.is_name(at) || !self.is_name(at + 1) || self.text(at + 2) != "(" {
            return;
        }
        let mut places = Vec::new();
        let mut k = at + 3;
        while self.is_name(k) {
            places.push(k);
            match self.text(k + 1) {
                "," => k += 2,
                ")" => break,
                _ => return,
            }
        }
        for pair in places.windows(2) {
            let (one, other) = (self.text(pair[0]).to_owned(), self.text(pair[1]).to_owned());
            let change = Change {
                class: Class::Order,
                edits: vec![(self.range(pair[0]), other.clone()), (self.range(pair[1]), one.clone())],
                from: format!("{one}, {other}"),
                to: format!("{other}, {one}"),
            };
            self.found.push(change);
        }
    }

    /// A wire without a range gets one that stands elsewhere.
    pub(crate) fn width(&mut self, at: usize, text: &str) {
        let declares = !self.vhdl && matches!(self.text(at), "wire" | "reg" | "logic") && self.is_name(at + 1);
        if !declares {
            return;
        }
        let mut ranges: Vec<String> = Vec::new();
        for k in 0..self.list.len() {
            if self.text(k) == "["
                && self.text(k + 2) == ":"
                && self.text(k + 4) == "]"
                && matches!(self.text(k.wrapping_sub(1)), "wire" | "reg" | "logic" | "input" | "output")
            {
                let range = text[self.range(k).start..self.range(k + 4).end].to_owned();
                if !ranges.contains(&range) && ranges.len() < MOST_RANGES {
                    ranges.push(range);
                }
            }
        }
        let (word, name) = (self.text(at).to_owned(), self.text(at + 1).to_owned());
        let end = self.range(at).end;
        for range in ranges {
            let change = Change {
                class: Class::Width,
                edits: vec![(end..end, format!(" {range}"))],
                from: format!("{word} {name}"),
                to: format!("{word} {range} {name}"),
            };
            self.found.push(change);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::super::text::changes;

    fn made(text: &str, vhdl: bool) -> Vec<String> {
        changes(text, vhdl, &[]).iter().map(|c| c.applied(text)).collect()
    }

    #[test]
    fn slips_of_the_pen_are_listed() {
        let has = |text: &str, vhdl: bool, other: &str| {
            let list = made(text, vhdl);
            assert!(list.iter().any(|l| l == other), "{other} is not among {list:#?}");
        };
        has("assign y = a && b;", false, "assign y = a & b;");
        has("case (s) 0010: y = 1; 0100: y = 2;", false, "case (s) 4'b0010: y = 1; 4'b0100: y = 2;");
        has("assign y = 2 < a < 9;", false, "assign y = 2 < a && a < 9;");
        has("case (s) 0010: y = 1;", false, "case (s) 4'b0010: y = 1;");
        has("if (s == 2'd10) y = 1;", false, "if (s == 2'b10) y = 1;");
        has("casez (s)", false, "case (s)");
        has("q <= {q[6:0], q[7]};", false, "q <= {q[0], q[7:1]};");
        has("q <= {q[0], q[7:1]};", false, "q <= {q[6:0], q[7]};");
        has("q <= q(6 downto 0) & q(7);", true, "q <= q(0) & q(7 downto 1);");
        has("q <= {q[4:0], 1'b0};", false, "q <= {q[4:0], q[5]};");
        has("q <= {1'b0, q[5:1]};", false, "q <= {q[0], q[5:1]};");
        has("q <= q(4 downto 0) & '0';", true, "q <= q(4 downto 0) & q(5);");
        has("half h(a, b, s, c);", false, "half h(a, b, c, s);");
        has("input [3:0] a; wire t;", false, "input [3:0] a; wire [3:0] t;");
    }
}
