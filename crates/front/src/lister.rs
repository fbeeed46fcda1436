//! Small changes of a source that a student may have meant: another operator, an inversion more or less, another
//! constant, index or name, a term or factor left out.

use crate::change::{Change, Class};
use crate::tokens::{Kind, Token, tokens};
use std::collections::BTreeSet;

/// Lists the changes of one token, by its position, in a text.
pub type OfToken = fn(&mut Lister<'_>, usize, &str);
/// Lists the changes of a whole text.
pub type OfText = fn(&mut Lister<'_>, &str);

/// How a language writes what small changes touch.
pub struct Writing {
    /// What begins a comment up to the end of the line.
    pub comment: &'static str,
    /// Capitals make no other name.
    pub ignores_case: bool,
    /// Levels stand in quotes (`'1'`, `"0101"`); else quotes hold texts, and `'` begins the base of a number.
    pub quotes_levels: bool,
    /// Words that name nothing else.
    pub is_reserved: fn(&str) -> bool,
    /// Other names that are no operand: types, packages.
    pub not_operands: &'static [&'static str],
    /// What stands around an index.
    pub index: (&'static str, &'static str),
    /// Between the bounds of a range: the token, and as it is written.
    pub span: (&'static str, &'static str),
    /// Between the parts of a vector that is put together: the token, and as it is written.
    pub join: (&'static str, &'static str),
    /// What opens a list of parts, and the tokens that it follows where it means one; none for any.
    pub list: (&'static str, &'static [&'static str]),
    /// The signs or words of an inversion.
    pub not: &'static [&'static str],
    /// How an inversion of a bit is written before its operand, and that of a condition.
    pub not_written: (&'static str, &'static str),
    /// Operators and gates that are taken for each other, with the class of the slip.
    pub families: &'static [(Class, &'static [&'static str])],
    /// Comparisons.
    pub comparisons: &'static [&'static str],
    /// Operators of an OR, and what ends its operands.
    pub ors: (&'static [&'static str], &'static [&'static str]),
    /// Operators of an AND or XOR, and what ends their operands.
    pub ands: (&'static [&'static str], &'static [&'static str]),
    /// Words before a condition, and what ends it; none where it stands in parentheses.
    pub conditions: (&'static [&'static str], Option<&'static [&'static str]>),
    /// Assignments that count at once.
    pub at_once: &'static [&'static str],
    /// Names that stand for constants, in lower case.
    pub constants: fn(&Lister<'_>) -> BTreeSet<String>,
    /// Changes that only this language knows: of each token, then of the whole text.
    pub own: (OfToken, OfText),
}

/// Most other names that are tried in the place of one.
const MAX_NAMES: usize = 10;

/// A source as tokens, and the changes of it that were found so far.
pub struct Lister<'s> {
    /// How its language writes.
    pub writing: &'static Writing,
    /// Names of states, parameters and other constants.
    pub constants: BTreeSet<String>,
    /// Its tokens.
    pub list: Vec<Token<'s>>,
    /// The changes.
    pub found: Vec<Change>,
}

impl<'s> Lister<'s> {
    /// A source as tokens; nothing is listed yet.
    pub fn new(text: &'s str, writing: &'static Writing) -> Self {
        let mut lister = Lister {
            writing,
            constants: BTreeSet::new(),
            list: tokens(text, writing.comment, writing.quotes_levels),
            found: Vec::new(),
        };
        lister.constants = (writing.constants)(&lister);
        lister
    }
}

/// Lists changes of a source, the likeliest first.
/// `wanted` are numbers that a right one may hold.
pub fn changes(text: &str, writing: &'static Writing, wanted: &[u64]) -> Vec<Change> {
    let mut lister = Lister::new(text, writing);
    let names = lister.names();
    let numbers = lister.numbers();
    let has_wildcards = text.contains("casez") || text.contains("casex") || text.to_ascii_lowercase().contains("case?");
    for at in 0..lister.list.len() {
        lister.operator(at);
        lister.inversion(at);
        lister.constant(at, &numbers, wanted);
        lister.name(at, &names);
        lister.operand(at, text);
        lister.condition(at, text);
        lister.bound(at);
        lister.any_digit(at, has_wildcards);
        lister.parts(at, text);
        lister.rotation(at, text);
        lister.ring(at, text);
        (writing.own.0)(&mut lister, at, text);
    }
    lister.statements(text);
    (writing.own.1)(&mut lister, text);
    lister.found.sort_by_key(|c| c.class);
    lister.found
}

impl<'s> Lister<'s> {
    /// The token at a place; nothing behind the end.
    pub fn text(&self, at: usize) -> &'s str {
        self.list.get(at).map_or("", |t| t.text)
    }

    /// Is that the token at a place?
    pub fn is(&self, at: usize, word: &str) -> bool {
        let text = self.text(at);
        if self.writing.ignores_case { text.eq_ignore_ascii_case(word) } else { text == word }
    }

    fn is_inversion(&self, at: usize) -> bool {
        self.writing.not.iter().any(|w| self.is(at, w))
    }

    fn is_reserved(&self, at: usize) -> bool {
        let word = self.text(at);
        (self.writing.is_reserved)(word) || self.writing.not_operands.iter().any(|w| self.is(at, w))
    }

    /// A name that stands for something of the design's own.
    pub fn is_name(&self, at: usize) -> bool {
        self.list.get(at).is_some_and(|t| t.kind == Kind::Word) && !self.is_reserved(at)
    }

    /// A name with the single index behind it.
    fn indexed(&self, at: usize) -> String {
        let (open, close) = self.writing.index;
        let name = self.text(at);
        if self.text(at + 1) == open && self.text(at + 3) == close {
            return format!("{name}{open}{}{close}", self.text(at + 2));
        }
        name.to_owned()
    }

    /// The names that stand somewhere between operators, most frequent first.
    fn names(&self) -> Vec<&'s str> {
        let mut counted: Vec<(&str, usize)> = Vec::new();
        for at in (0..self.list.len()).filter(|at| self.is_name(*at)) {
            let text = self.text(at);
            match counted.iter_mut().find(|(n, _)| *n == text) {
                Some((_, count)) => *count += 1,
                None => counted.push((text, 1)),
            }
        }
        counted.retain(|(_, count)| *count > 1);
        counted.sort_by_key(|(_, count)| std::cmp::Reverse(*count));
        counted.into_iter().map(|(name, _)| name).take(MAX_NAMES).collect()
    }

    fn is_constant(&self, at: usize) -> bool {
        self.constants.contains(&self.text(at).to_ascii_lowercase())
    }

    fn operator(&mut self, at: usize) {
        let Some(token) = self.list.get(at).cloned() else { return };
        for (class, family) in self.writing.families {
            if !family.iter().any(|o| self.is(at, o)) {
                continue;
            }
            let others: Vec<&str> = family.iter().copied().filter(|o| !self.is(at, o)).collect();
            let change = |other| Change::one(*class, token.range.clone(), token.text, other);
            self.found.extend(others.into_iter().map(change));
        }
    }

    fn inversion(&mut self, at: usize) {
        let Some(token) = self.list.get(at).cloned() else { return };
        let next = self.text(at + 1);
        let not = self.writing.not_written.0;
        if self.is_inversion(at) {
            let end = self.list.get(at + 1).map_or(token.range.end, |t| t.range.start);
            let shown = if next == "(" { "(…)".to_owned() } else { self.indexed(at + 1) };
            let change = Change {
                class: Class::Inversion,
                edits: vec![(token.range.start..end, String::new())],
                from: if not.ends_with(' ') { format!("{not}{shown}") } else { format!("{}{shown}", token.text) },
                to: shown,
            };
            self.found.push(change);
            return;
        }
        let before = at.checked_sub(1);
        let after_inversion = before.is_some_and(|b| self.is_inversion(b));
        let operand = self.is_name(at) || (token.text == "(" && before.is_some_and(|b| !self.is_name(b)));
        // Beside a comparison its constant or its sign is what would be changed.
        let compared = self.writing.comparisons.contains(&next) && next != "<=";
        // Nobody inverts the name of a state.
        let compared = compared || self.is_constant(at);
        // The edge of an inverted clock is the other edge, and offered as that.
        let of_edge = matches!(before.map_or("", |b| self.text(b)), "posedge" | "negedge")
            || at.checked_sub(2).is_some_and(|b| self.is(b, "rising_edge") || self.is(b, "falling_edge"));
        if operand && !compared && !after_inversion && !of_edge && before.is_some_and(|b| !self.is_name(b)) {
            let shown = if token.text == "(" { "(…)".to_owned() } else { self.indexed(at) };
            let change = Change {
                class: Class::Inversion,
                edits: vec![(token.range.start..token.range.start, not.to_owned())],
                to: format!("{not}{shown}"),
                from: shown,
            };
            self.found.push(change);
        }
    }

    /// The numbers that stand somewhere without a size, each once.
    fn numbers(&self) -> Vec<&'s str> {
        let mut list: Vec<&str> = Vec::new();
        for token in self.list.iter().filter(|t| t.kind == Kind::Number && !t.text.contains('\'')) {
            if !list.contains(&token.text) && list.len() < MAX_NAMES {
                list.push(token.text);
            }
        }
        list
    }

    fn constant(&mut self, at: usize, numbers: &[&str], wanted: &[u64]) {
        let Some(token) = self.list.get(at).cloned() else { return };
        let others = match token.kind {
            Kind::Levels => other_levels(token.text),
            Kind::Number if self.text(at.wrapping_sub(1)) == "[" || self.text(at + 1) == "]" => {
                let near = token.text.parse::<u32>().map_or(0..0, |n| n.saturating_sub(1)..n.saturating_add(2));
                (0..8).chain(near.filter(|n| *n >= 8)).map(|n| n.to_string()).filter(|n| n != token.text).collect()
            }
            Kind::Number => {
                let mut list = other_numbers(token.text);
                if !token.text.contains('\'') {
                    let more = numbers.iter().filter(|n| **n != token.text && !list.iter().any(|l| l == *n));
                    list.extend(more.map(|n| (*n).to_owned()).collect::<Vec<_>>());
                }
                for number in wanted.iter().filter_map(|n| with_value(token.text, *n)) {
                    if number != token.text && !list.contains(&number) {
                        list.push(number);
                    }
                }
                list
            }
            _ => return,
        };
        for other in others {
            self.found.push(Change::one(Class::Constant, token.range.clone(), token.text, other));
        }
    }

    fn name(&mut self, at: usize, names: &[&str]) {
        if !self.is_name(at) {
            return;
        }
        let token = self.list[at].clone();
        let shown = self.indexed(at);
        if self.is_constant(at) {
            // Another state, another parameter.
            let others: Vec<String> = self
                .list
                .iter()
                .map(|t| t.text.to_owned())
                .filter(|t| self.constants.contains(&t.to_ascii_lowercase()))
                .collect();
            let mut others: Vec<String> = others.into_iter().filter(|t| *t != token.text).collect();
            others.sort();
            others.dedup();
            for other in others.into_iter().take(MAX_NAMES) {
                self.found.push(Change::one(Class::Constant, token.range.clone(), token.text, other));
            }
            return;
        }
        for other in names.iter().filter(|n| **n != token.text) {
            self.found.push(Change::one(Class::Name, token.range.clone(), token.text, *other));
            if shown.len() > token.text.len() {
                // The whole of another signal for one bit of this one.
                let range = token.range.start..self.list[at + 3].range.end;
                self.found.push(Change::one(Class::Name, range, &shown, *other));
            }
        }
    }

    /// The end of an operand that begins at a token: the next operator of the given level or the end of the expression.
    pub fn operand_end(&self, from: usize, stops: &[&str]) -> Option<usize> {
        let mut depth = 0usize;
        for at in from..self.list.len() {
            match self.text(at) {
                "(" | "[" | "{" => depth += 1,
                ")" | "]" | "}" if depth == 0 => return (at > from).then_some(at),
                ")" | "]" | "}" => depth -= 1,
                ";" | "," | ":" | "?" if depth == 0 => return (at > from).then_some(at),
                _ if depth == 0 && stops.iter().any(|s| self.is(at, s)) => return (at > from).then_some(at),
                _ => {}
            }
        }
        None
    }

    /// The start of an operand that ends before a token.
    pub fn operand_start(&self, to: usize, stops: &[&str]) -> Option<usize> {
        let mut depth = 0usize;
        for at in (0..to).rev() {
            let stop = match self.text(at) {
                ")" | "]" | "}" => {
                    depth += 1;
                    false
                }
                "(" | "[" | "{" if depth == 0 => true,
                "(" | "[" | "{" => {
                    depth -= 1;
                    false
                }
                "=" | "<=" | ";" | "," | ":" | "?" if depth == 0 => true,
                _ => depth == 0 && stops.iter().any(|s| self.is(at, s)),
            };
            if stop {
                return (at + 1 < to).then_some(at + 1);
            }
        }
        None
    }

    /// Leaves out the operand on either side of an OR (a term) or an AND or XOR (a factor).
    fn operand(&mut self, at: usize, text: &str) {
        let is_one = |words: &[&str]| words.iter().any(|w| self.is(at, w));
        let ((or, ors), (and, ands)) = (self.writing.ors, self.writing.ands);
        let (class, stops) = match (is_one(or), is_one(and)) {
            (true, _) => (Class::Term, ors),
            (_, true) => (Class::Factor, ands),
            _ => return,
        };
        let operator = self.list[at].range.clone();
        if let Some(end) = self.operand_end(at + 1, stops) {
            let last = self.list[end - 1].range.end;
            let gone = text[self.list[at + 1].range.start..last].to_owned();
            let change =
                Change { class, edits: vec![(operator.start..last, String::new())], from: gone, to: String::new() };
            self.found.push(change);
        }
        if let Some(start) = self.operand_start(at, stops) {
            let first = self.list[start].range.start;
            let gone = text[first..self.list[at - 1].range.end].to_owned();
            let change =
                Change { class, edits: vec![(first..operator.end, String::new())], from: gone, to: String::new() };
            self.found.push(change);
        }
    }

    /// Turns the condition of an `if` around.
    fn condition(&mut self, at: usize, text: &str) {
        let (words, ends) = self.writing.conditions;
        if !words.iter().any(|w| self.is(at, w)) {
            return;
        }
        let (first, last) = if let Some(ends) = ends {
            let Some(end) = self.operand_end(at + 1, ends) else { return };
            (self.list[at + 1].range.start, self.list[end - 1].range.end)
        } else {
            let Some(end) = (self.text(at + 1) == "(").then(|| self.operand_end(at + 2, &[])).flatten() else { return };
            (self.list[at + 2].range.start, self.list[end - 1].range.end)
        };
        let inner = &text[first..last];
        let to = format!("{}({inner})", self.writing.not_written.1);
        self.found.push(Change::one(Class::Condition, first..last, inner, to));
    }
}

/// Levels in quotes with one of them turned, or all of them, or read the other way round.
fn other_levels(text: &str) -> Vec<String> {
    let quote = &text[..1];
    let inner = &text[1..text.len() - 1];
    let turn = |b: u8| if b == b'0' { '1' } else { '0' };
    let mut list: BTreeSet<String> = (0..inner.len())
        .map(|i| inner.bytes().enumerate().map(|(j, b)| if i == j { turn(b) } else { char::from(b) }).collect())
        .collect();
    list.insert(inner.bytes().map(turn).collect());
    list.insert(inner.chars().rev().collect());
    if inner.len() <= 6
        && let Ok(value) = u32::from_str_radix(inner, 2)
    {
        let wide = 1u32 << inner.len();
        for other in [value + 1, value + wide - 1] {
            list.insert(format!("{:0width$b}", other % wide, width = inner.len()));
        }
    }
    list.remove(inner);
    list.into_iter().map(|t| format!("{quote}{t}{quote}")).collect()
}

/// A number one more, one less, and with one of its bits turned.
fn other_numbers(text: &str) -> Vec<String> {
    let Some((size, rest)) = text.split_once('\'') else {
        let Ok(value) = text.replace('_', "").parse::<u64>() else { return Vec::new() };
        let list: BTreeSet<u64> = [1, 2, 3]
            .into_iter()
            .flat_map(|n| [value.saturating_add(n), value.saturating_sub(n)])
            // A counter that ends at n has n + 1 steps: twice and half as many.
            .chain([
                value.saturating_mul(2),
                value / 2,
                value.saturating_mul(2).saturating_add(1),
                value.saturating_sub(1) / 2,
            ])
            .filter(|v| *v != value)
            .collect();
        return list.into_iter().map(|v| v.to_string()).collect();
    };
    let signed = rest.starts_with(['s', 'S']);
    let base = rest.trim_start_matches(['s', 'S']);
    let Some(letter) = base.chars().next() else { return Vec::new() };
    let radix = match letter.to_ascii_lowercase() {
        'b' => 2,
        'o' => 8,
        'd' => 10,
        'h' => 16,
        '0' => return vec!["'1".into()],
        '1' => return vec!["'0".into()],
        _ => return Vec::new(),
    };
    let digits: String = base[1..].chars().filter(|c| *c != '_').collect();
    let Ok(value) = u64::from_str_radix(&digits, radix) else { return Vec::new() };
    let width: u32 = size.trim().parse().unwrap_or(32).min(32);
    let mut values: BTreeSet<u64> = (0..width.min(8)).map(|i| value ^ (1 << i)).collect();
    values.extend([value.wrapping_add(1), value.wrapping_sub(1), !value, value.reverse_bits() >> (64 - width.max(1))]);
    let mask = (1u64 << width) - 1;
    let values: BTreeSet<u64> = values.into_iter().map(|v| v & mask).filter(|v| *v != value).collect();
    let shown = |v: u64| match radix {
        2 => format!("{v:0width$b}", width = digits.len()),
        8 => format!("{v:o}"),
        16 => format!("{v:x}"),
        _ => v.to_string(),
    };
    let sign = if signed { "s" } else { "" };
    values.into_iter().map(|v| format!("{size}'{sign}{letter}{}", shown(v))).collect()
}

/// A decimal number with another value, written in the same way; `None` where it doesn't fit its size.
fn with_value(text: &str, value: u64) -> Option<String> {
    let Some((size, rest)) = text.split_once('\'') else {
        return text.bytes().all(|b| b.is_ascii_digit() || b == b'_').then(|| value.to_string());
    };
    let digits = rest.trim_start_matches(['s', 'S', 'd', 'D']);
    let is_decimal = rest.contains(['d', 'D']) && digits.bytes().all(|b| b.is_ascii_digit() || b == b'_');
    let width: u32 = size.trim().parse().ok().filter(|w| (1..64).contains(w))?;
    (is_decimal && value >> width == 0).then(|| format!("{size}'{}{value}", &rest[..rest.len() - digits.len()]))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_keep_their_size_and_base() {
        assert!(other_numbers("4'b0110").contains(&"4'b0111".to_owned()));
        // One more, one less, one bit turned, the complement, and the bits read the other way round.
        assert_eq!(other_numbers("4'd9"), ["4'd1", "4'd6", "4'd8", "4'd10", "4'd11", "4'd13"]);
        assert!(other_numbers("8'hFf").contains(&"8'hfe".to_owned()));
        assert_eq!(other_numbers("'0"), ["'1"]);
        assert!(other_numbers("4'bzz01").is_empty());
        assert!(other_levels("'1'") == ["'0'"]);
    }
}
