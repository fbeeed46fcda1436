//! Changes of what stands beside each other: parts of a vector and statements in the other order, a bound one more or one
//! less, a sign for one vector, a digit that may be anything.

use crate::change::{Change, Class};
use crate::lister::Lister;
use crate::tokens::Kind;
use std::ops::Range;

/// Parts of a concatenation up to which their order is tried.
const MOST_PARTS: usize = 8;
/// The longest piece that is quoted whole.
const QUOTED: usize = 60;

/// What begins or ends more than one statement.
const COMPOUND: [&str; 30] = [
    "begin",
    "end",
    "case",
    "casez",
    "casex",
    "endcase",
    "for",
    "while",
    "loop",
    "process",
    "module",
    "input",
    "output",
    "assign",
    "wire",
    "reg",
    "logic",
    "function",
    "signal",
    "variable",
    "architecture",
    "is",
    "port",
    "always",
    "then",
    "else",
    "when",
    "generate",
    "initial",
    "wait",
];

impl Lister<'_> {
    /// Where a token begins, by bytes.
    pub fn start(&self, at: usize) -> usize {
        self.list.get(at).map_or(0, |t| t.range.start)
    }

    /// Where a token ends, by bytes.
    pub fn end(&self, at: usize) -> usize {
        self.list.get(at).map_or(0, |t| t.range.end)
    }

    /// Two stretches of the text that change places; `whole` is what is quoted.
    pub fn exchange(&mut self, class: Class, text: &str, one: Range<usize>, other: Range<usize>, whole: Range<usize>) {
        let (first, second) = (text[one.clone()].to_owned(), text[other.clone()].to_owned());
        let quotable = whole.len() <= QUOTED && !text[whole.clone()].contains('\n');
        if first == second || (class == Class::Order && !quotable) {
            return;
        }
        let from = text[whole.clone()].to_owned();
        let (at, to_end) = (one.start - whole.start, one.end - whole.start);
        let (next, next_end) = (other.start - whole.start, other.end - whole.start);
        let to = format!("{}{second}{}{first}{}", &from[..at], &from[to_end..next], &from[next_end..]);
        self.found.push(Change { class, edits: vec![(one, second), (other, first)], from, to });
    }

    /// Neighbours within `{a, b}` or `(a, b)` in the other order.
    pub(crate) fn parts(&mut self, at: usize, text: &str) {
        let (open, after) = self.writing.list;
        let begins = self.text(at) == open
            && (after.is_empty() || at.checked_sub(1).is_some_and(|b| after.contains(&self.text(b))));
        if !begins {
            return;
        }
        let mut parts: Vec<(usize, usize)> = Vec::new();
        let (mut depth, mut from, mut close) = (0usize, at + 1, None);
        for k in at + 1..self.list.len() {
            match self.text(k) {
                "(" | "[" | "{" => depth += 1,
                ")" | "]" | "}" if depth > 0 => depth -= 1,
                ")" | "]" | "}" => {
                    parts.push((from, k));
                    close = Some(k);
                    break;
                }
                "," if depth == 0 => {
                    parts.push((from, k));
                    from = k + 1;
                }
                ";" | "=>" => return,
                _ => {}
            }
        }
        let Some(close) = close.filter(|_| (2..=MOST_PARTS).contains(&parts.len())) else { return };
        let whole = self.start(at)..self.end(close);
        for pair in parts.windows(2) {
            let range = |(from, to): (usize, usize)| self.start(from)..self.end(to - 1);
            let (one, other) = (range(pair[0]), range(pair[1]));
            let shown = if whole.len() <= QUOTED { whole.clone() } else { one.start..other.end };
            self.exchange(Class::Order, text, one, other, shown);
        }
    }

    /// Two assignments that follow each other, in the other order: the later one counts, and a variable has its new value at
    /// once.
    pub(crate) fn statements(&mut self, text: &str) {
        let mut simple: Vec<(usize, usize)> = Vec::new();
        let mut from = 0;
        for at in 0..self.list.len() {
            if self.text(at) == ";" {
                if self.is_assignment(from, at) {
                    simple.push((from, at));
                }
                from = at + 1;
            } else if COMPOUND.iter().any(|w| self.is(at, w)) {
                from = at + 1;
            }
        }
        for pair in simple.windows(2) {
            let [(a, a_end), (b, b_end)] = [pair[0], pair[1]];
            if a_end + 1 != b || !(self.takes_at_once(a, a_end) || self.target(a) == self.target(b)) {
                continue;
            }
            let (one, other) = (self.start(a)..self.end(a_end), self.start(b)..self.end(b_end));
            let whole = one.start..other.end;
            self.exchange(Class::Statements, text, one, other, whole);
        }
    }

    fn is_assignment(&self, from: usize, to: usize) -> bool {
        (from..to).any(|k| matches!(self.text(k), "=" | "<=" | ":=")) && (self.is_name(from) || self.is(from, "if"))
    }

    /// A variable, or a branch: the order matters whatever is assigned.
    fn takes_at_once(&self, from: usize, to: usize) -> bool {
        let mut depth = 0usize;
        (from..to).any(|k| {
            match self.text(k) {
                "(" | "[" => depth += 1,
                ")" | "]" => depth = depth.saturating_sub(1),
                _ => {}
            }
            depth == 0 && self.writing.at_once.contains(&self.text(k))
        })
    }

    /// The name that is assigned.
    fn target(&self, from: usize) -> &str {
        if !self.is(from, "if") {
            return self.text(from);
        }
        let mut depth = 0usize;
        for k in from + 1..self.list.len() {
            match self.text(k) {
                "(" => depth += 1,
                ")" if depth == 1 => return self.text(k + 1),
                ")" => depth = depth.saturating_sub(1),
                _ => {}
            }
        }
        ""
    }

    /// A name behind a comparison with one more or one less; `N - 1` as `N`.
    pub(crate) fn bound(&mut self, at: usize) {
        let compares = self.writing.comparisons.contains(&self.text(at)) && self.text(at) != "<=";
        if !compares || !self.is_name(at + 1) {
            return;
        }
        let name = self.text(at + 1).to_owned();
        let ends = |k: usize| {
            matches!(self.text(k), ")" | ";" | "?" | "&&" | "||")
                || ["then", "else", "and", "or", "generate", "loop"].iter().any(|w| self.is(k, w))
        };
        let range = |last: usize| self.start(at + 1)..self.end(last);
        let mut list = Vec::new();
        if ends(at + 2) {
            list.push((range(at + 1), name.clone(), format!("{name} - 1")));
            list.push((range(at + 1), name.clone(), format!("{name} + 1")));
        } else if matches!(self.text(at + 2), "+" | "-") && self.text(at + 3) == "1" && ends(at + 4) {
            list.push((range(at + 3), format!("{name} {} 1", self.text(at + 2)), name));
        }
        self.found.extend(list.into_iter().map(|(range, from, to)| Change::one(Class::Constant, range, &from, to)));
    }

    /// In a choice with digits that may be anything, one of them more or one less.
    pub(crate) fn any_digit(&mut self, at: usize, has_wildcards: bool) {
        if !has_wildcards || self.text(at + 1) != ":" && self.text(at + 1) != "," && self.text(at + 1) != "=>" {
            return;
        }
        let token = self.list[at].clone();
        let (any, first) = match token.kind {
            Kind::Levels => (b'-', 1),
            Kind::Number => match token.text.find("'b") {
                Some(k) => (b'?', k + 2),
                None => return,
            },
            _ => return,
        };
        for k in first..token.text.len() {
            let others: &[u8] = match token.text.as_bytes()[k] {
                b'0' | b'1' => &[any],
                b'?' | b'z' | b'Z' | b'x' | b'X' | b'-' => b"01",
                _ => continue,
            };
            for other in others {
                let to = format!("{}{}{}", &token.text[..k], *other as char, &token.text[k + 1..]);
                self.found.push(Change::one(Class::Constant, token.range.clone(), token.text, to));
            }
        }
    }
}
