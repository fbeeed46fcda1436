//! Small changes of a source that a student may have meant: another operator, an inversion more or less, another
//! constant, index or name, a term or factor left out.

use crate::tokens::{Kind, Token, tokens};
use elab::Language;
use std::collections::BTreeSet;
use std::ops::Range;

/// How likely a kind of slip is; smaller is tried earlier.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Class {
    Operator,
    /// An operator or word for its twin.
    Twin,
    Inversion,
    Edge,
    /// A number in another base.
    Base,
    Constant,
    Comparison,
    Condition,
    /// Numbers with a sign for numbers without, or the other way round, in the whole file.
    Signs,
    Assignments,
    /// One vector with a sign, or without.
    Sign,
    /// Parts of a vector in the other order.
    Order,
    /// Two statements in the other order.
    Statements,
    /// A range for a wire that has none.
    Width,
    Term,
    Factor,
    Name,
}

/// What takes the place of what, by bytes of the text.
type Edits = Vec<(Range<usize>, String)>;

/// A change of one place (or of one block) of a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct Change {
    pub class: Class,
    /// What takes the place of what, in order of place.
    pub edits: Edits,
    /// What is there, as it is said.
    pub from: String,
    /// What would be right.
    pub to: String,
}

impl Change {
    pub(crate) fn one(class: Class, range: Range<usize>, from: &str, to: impl Into<String>) -> Self {
        let to = to.into();
        Self { class, edits: vec![(range, to.clone())], from: from.into(), to }
    }

    /// The text with the change made.
    pub(crate) fn applied(&self, text: &str) -> String {
        let mut out = String::with_capacity(text.len() + 8);
        let mut at = 0;
        for (range, new) in &self.edits {
            out.push_str(&text[at..range.start]);
            out.push_str(new);
            at = range.end;
        }
        out.push_str(&text[at..]);
        out
    }

    /// Where it stands.
    pub(crate) fn range(&self) -> Range<usize> {
        self.edits.first().map_or(0..0, |(r, _)| r.clone())
    }
}

/// Operators and gates that are taken for each other, with the class of the slip.
const FAMILIES: [(Class, bool, &[&str]); 14] = [
    (Class::Operator, false, &["&", "|", "^", "~^"]),
    (Class::Operator, false, &["&&", "||"]),
    (Class::Operator, false, &["+", "-", "^"]),
    (Class::Operator, false, &["<<", ">>", ">>>"]),
    (Class::Operator, false, &["and", "or", "xor", "nand", "nor", "xnor"]),
    (Class::Operator, false, &["not", "buf"]),
    (Class::Operator, true, &["and", "or", "xor", "nand", "nor", "xnor"]),
    (Class::Operator, true, &["+", "-"]),
    (Class::Operator, true, &["shift_left", "shift_right", "rotate_left", "rotate_right"]),
    (Class::Operator, true, &["sll", "srl", "sra", "rol", "ror"]),
    (Class::Comparison, false, &["==", "!="]),
    (Class::Comparison, false, &["<", "<=", ">", ">="]),
    (Class::Comparison, true, &["<", "<=", ">", ">=", "=", "/="]),
    (Class::Edge, false, &["posedge", "negedge"]),
];

/// Names of VHDL that are neither reserved nor an operand: types, packages and tests for an edge.
const NO_OPERANDS: [&str; 10] = [
    "std_logic",
    "std_logic_vector",
    "std_ulogic",
    "unsigned",
    "signed",
    "integer",
    "ieee",
    "work",
    "rising_edge",
    "falling_edge",
];

/// Most other names that are tried in the place of one.
const MAX_NAMES: usize = 10;

pub(crate) struct Lister<'s> {
    pub vhdl: bool,
    /// Names of states, parameters and other constants.
    pub constants: BTreeSet<String>,
    pub list: Vec<Token<'s>>,
    pub found: Vec<Change>,
}

/// Lists changes of a source, the likeliest first.
/// `wanted` are numbers that a right one may hold.
pub(crate) fn changes(text: &str, vhdl: bool, wanted: &[u64]) -> Vec<Change> {
    let mut lister = Lister { vhdl, constants: BTreeSet::new(), list: tokens(text, vhdl), found: Vec::new() };
    lister.constants = lister.constant_names();
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
        lister.sign(at);
        lister.sign_of_one(at);
        lister.any_digit(at, has_wildcards);
        lister.parts(at, text);
        lister.joined(at, text);
        lister.twin(at);
        lister.base(at);
        lister.chain(at);
        lister.rotation(at, text);
        lister.ring(at, text);
        lister.connections(at);
        lister.width(at, text);
    }
    lister.bases();
    lister.statements(text);
    lister.assignments(text);
    lister.signs();
    lister.found.sort_by_key(|c| c.class);
    lister.found
}

impl<'s> Lister<'s> {
    pub(crate) fn text(&self, at: usize) -> &'s str {
        self.list.get(at).map_or("", |t| t.text)
    }

    pub(crate) fn is(&self, at: usize, word: &str) -> bool {
        let text = self.text(at);
        if self.vhdl { text.eq_ignore_ascii_case(word) } else { text == word }
    }

    fn is_reserved(&self, at: usize) -> bool {
        let word = self.text(at);
        if self.vhdl {
            Language::Vhdl.is_reserved(word) || NO_OPERANDS.iter().any(|w| self.is(at, w))
        } else {
            Language::Verilog.is_reserved(word)
        }
    }

    pub(crate) fn is_name(&self, at: usize) -> bool {
        self.list.get(at).is_some_and(|t| t.kind == Kind::Word) && !self.is_reserved(at)
    }

    /// A name with the single index behind it.
    fn indexed(&self, at: usize) -> String {
        let (open, close) = if self.vhdl { ("(", ")") } else { ("[", "]") };
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

    /// Names that stand for constants: parameters, and the names of an enumeration.
    fn constant_names(&self) -> BTreeSet<String> {
        let mut names = BTreeSet::new();
        let mut add = |lister: &Self, at: usize| {
            if lister.is_name(at) {
                names.insert(lister.text(at).to_ascii_lowercase());
            }
        };
        for at in 0..self.list.len() {
            if self.vhdl {
                if self.is(at, "constant") {
                    add(self, at + 1);
                }
                // type NAME is (a, b, c);
                if self.is(at, "type") && self.is(at + 2, "is") && self.text(at + 3) == "(" {
                    (at + 4..self.list.len()).step_by(2).take_while(|k| self.is_name(*k)).for_each(|k| add(self, k));
                }
                continue;
            }
            if matches!(self.text(at), "parameter" | "localparam") {
                // One list: every name before a `=` up to the end of the statement.
                let end = (at..self.list.len()).find(|k| self.text(*k) == ";").unwrap_or(self.list.len());
                (at + 1..end).filter(|k| self.text(*k + 1) == "=").for_each(|k| add(self, k));
            }
            if self.text(at) == "enum" {
                let open = (at..self.list.len()).find(|k| self.text(*k) == "{").unwrap_or(self.list.len());
                let close = (open..self.list.len()).find(|k| self.text(*k) == "}").unwrap_or(self.list.len());
                (open..close).filter(|k| matches!(self.text(k.wrapping_sub(1)), "{" | ",")).for_each(|k| add(self, k));
            }
        }
        names
    }

    fn is_constant(&self, at: usize) -> bool {
        self.constants.contains(&self.text(at).to_ascii_lowercase())
    }

    fn operator(&mut self, at: usize) {
        let Some(token) = self.list.get(at).cloned() else { return };
        for (class, vhdl, family) in FAMILIES {
            if vhdl != self.vhdl || !family.iter().any(|o| self.is(at, o)) {
                continue;
            }
            let others: Vec<&str> = family.iter().copied().filter(|o| !self.is(at, o)).collect();
            let change = |other| Change::one(class, token.range.clone(), token.text, other);
            self.found.extend(others.into_iter().map(change));
        }
        let edges = ["rising_edge", "falling_edge"];
        if self.vhdl
            && let Some(edge) = edges.iter().position(|e| self.is(at, e))
        {
            self.found.push(Change::one(Class::Edge, token.range, token.text, edges[1 - edge]));
        }
    }

    fn inversion(&mut self, at: usize) {
        let Some(token) = self.list.get(at).cloned() else { return };
        let next = self.text(at + 1);
        let turned = if self.vhdl { self.is(at, "not") } else { matches!(token.text, "~" | "!") };
        if turned {
            let end = self.list.get(at + 1).map_or(token.range.end, |t| t.range.start);
            let shown = if next == "(" { "(…)".to_owned() } else { self.indexed(at + 1) };
            let change = Change {
                class: Class::Inversion,
                edits: vec![(token.range.start..end, String::new())],
                from: format!("{}{shown}", if self.vhdl { "not " } else { token.text }),
                to: shown,
            };
            self.found.push(change);
            return;
        }
        let before = at.checked_sub(1);
        let after_inversion =
            before.is_some_and(|b| if self.vhdl { self.is(b, "not") } else { matches!(self.text(b), "~" | "!") });
        let operand = self.is_name(at) || (token.text == "(" && before.is_some_and(|b| !self.is_name(b)));
        // Beside a comparison its constant or its sign is what would be changed.
        let compared = matches!(next, "=" | "/=" | "==" | "!=" | "<" | ">" | ">=") && (self.vhdl || next != "=");
        // Nobody inverts the name of a state.
        let compared = compared || self.is_constant(at);
        // The edge of an inverted clock is the other edge, and offered as that.
        let of_edge = matches!(before.map_or("", |b| self.text(b)), "posedge" | "negedge")
            || at.checked_sub(2).is_some_and(|b| self.is(b, "rising_edge") || self.is(b, "falling_edge"));
        if operand && !compared && !after_inversion && !of_edge && before.is_some_and(|b| !self.is_name(b)) {
            let sign = if self.vhdl { "not " } else { "~" };
            let shown = if token.text == "(" { "(…)".to_owned() } else { self.indexed(at) };
            let change = Change {
                class: Class::Inversion,
                edits: vec![(token.range.start..token.range.start, sign.to_owned())],
                to: format!("{sign}{shown}"),
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
    pub(crate) fn operand_end(&self, from: usize, stops: &[&str]) -> Option<usize> {
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

    pub(crate) fn operand_start(&self, to: usize, stops: &[&str]) -> Option<usize> {
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
        let ors: &[&str] = if self.vhdl { &["or", "when", "else", "then"] } else { &["|", "||"] };
        let ands: &[&str] =
            if self.vhdl { &["and", "or", "xor", "when", "else", "then"] } else { &["&", "&&", "|", "||", "^"] };
        let is_or = if self.vhdl { self.is(at, "or") } else { matches!(self.text(at), "|" | "||") };
        let is_and = if self.vhdl {
            self.is(at, "and") || self.is(at, "xor")
        } else {
            matches!(self.text(at), "&" | "&&" | "^")
        };
        let (class, stops) = match (is_or, is_and) {
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
        if !(self.is(at, "if") || self.is(at, "elsif") || (self.vhdl && self.is(at, "when"))) {
            return;
        }
        let stops: &[&str] = if self.vhdl { &["then", "else", "generate", "=>"] } else { &[] };
        let (first, last) = if self.vhdl {
            let Some(end) = self.operand_end(at + 1, stops) else { return };
            (self.list[at + 1].range.start, self.list[end - 1].range.end)
        } else {
            let Some(end) = (self.text(at + 1) == "(").then(|| self.operand_end(at + 2, &[])).flatten() else { return };
            (self.list[at + 2].range.start, self.list[end - 1].range.end)
        };
        let inner = &text[first..last];
        let to = if self.vhdl { format!("not ({inner})") } else { format!("!({inner})") };
        self.found.push(Change::one(Class::Condition, first..last, inner, to));
    }

    /// The whole file with signed numbers where it has unsigned ones, or the other way round.
    fn signs(&mut self) {
        let places = |word: &str| -> Vec<usize> { (0..self.list.len()).filter(|at| self.is(*at, word)).collect() };
        let (signed, unsigned) = (places("signed"), places("unsigned"));
        let range = |at: usize| self.list[at].range.clone();
        let is_call = |at: usize| at > 0 && self.list[at - 1].text == "$";
        let plain = |at: &usize| (range(*at), if self.vhdl || is_call(*at) { "unsigned" } else { "" }.to_owned());
        let mut list: Vec<(Edits, &str, &str)> = vec![(signed.iter().map(plain).collect(), "signed", "unsigned")];
        if self.vhdl {
            list.push((unsigned.iter().map(|at| (range(*at), "signed".to_owned())).collect(), "unsigned", "signed"));
        } else if signed.is_empty() {
            let is_vector = |at: &usize| {
                ["input", "wire", "reg", "logic", "output"].contains(&self.text(*at)) && self.text(*at + 1) == "["
            };
            let end = |at: usize| self.list[at].range.end;
            let edits = (0..self.list.len()).filter(is_vector).map(|at| (end(at)..end(at), " signed".to_owned()));
            list.push((edits.collect(), "unsigned", "signed"));
        }
        list.retain(|(edits, ..)| !edits.is_empty());
        let change = |(edits, from, to): (Vec<_>, &str, &str)| Change {
            class: Class::Signs,
            edits,
            from: from.into(),
            to: to.into(),
        };
        self.found.extend(list.into_iter().map(change));
    }

    /// In a Verilog block, all assignments of the other kind.
    fn assignments(&mut self, text: &str) {
        if self.vhdl {
            return;
        }
        let starts: Vec<usize> = (0..self.list.len()).filter(|at| self.text(*at).starts_with("always")).collect();
        for start in starts {
            let ends = |at: &usize| {
                matches!(self.text(*at), "assign" | "endmodule" | "initial" | "module")
                    || self.text(*at).starts_with("always")
            };
            let end = (start + 1..self.list.len()).find(ends).unwrap_or(self.list.len());
            let mut depth = 0usize;
            let mut places: [Vec<Range<usize>>; 2] = [Vec::new(), Vec::new()];
            for at in start..end {
                match self.text(at) {
                    "(" => depth += 1,
                    ")" => depth = depth.saturating_sub(1),
                    "=" if depth == 0 => places[0].push(self.list[at].range.clone()),
                    "<=" if depth == 0 => places[1].push(self.list[at].range.clone()),
                    _ => {}
                }
            }
            let [blocking, later] = places;
            for (list, from, to) in [(blocking, "=", "<="), (later, "<=", "=")] {
                if list.is_empty() || text.len() < list.len() {
                    continue;
                }
                let edits = list.into_iter().map(|r| (r, to.to_owned())).collect();
                self.found.push(Change { class: Class::Assignments, edits, from: from.into(), to: to.into() });
            }
        }
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

    fn made(text: &str, vhdl: bool) -> Vec<String> {
        changes(text, vhdl, &[]).iter().map(|c| c.applied(text)).collect()
    }

    #[test]
    fn usual_slips_of_an_assignment_are_among_the_changes() {
        let list = made("assign y = a & ~b | c[1];", false);
        for wanted in [
            "assign y = a | ~b | c[1];",
            "assign y = a & b | c[1];",
            "assign y = a & ~b | c[0];",
            "assign y = a & ~b ;",
            "assign y =  ~b | c[1];",
            "assign y = ~a & ~b | c[1];",
            "assign y =  c[1];",
        ] {
            assert!(list.iter().any(|l| l == wanted), "{wanted} is not among {list:#?}");
        }
    }

    #[test]
    fn usual_slips_of_a_vhdl_process_are_among_the_changes() {
        let list = made("if a = '1' then y <= \"01\" and not b; end if;", true);
        for wanted in [
            "if a /= '1' then y <= \"01\" and not b; end if;",
            "if a = '0' then y <= \"01\" and not b; end if;",
            "if a = '1' then y <= \"11\" and not b; end if;",
            "if a = '1' then y <= \"01\" or not b; end if;",
            "if a = '1' then y <= \"01\" and b; end if;",
            "if not (a = '1') then y <= \"01\" and not b; end if;",
        ] {
            assert!(list.iter().any(|l| l == wanted), "{wanted} is not among {list:#?}");
        }
    }

    #[test]
    fn numbers_keep_their_size_and_base() {
        assert!(other_numbers("4'b0110").contains(&"4'b0111".to_owned()));
        assert!(
            other_numbers("4'd9").contains(&"4'd15".to_owned()) || other_numbers("4'd9").contains(&"4'd10".to_owned())
        );
        assert!(other_numbers("8'hFf").contains(&"8'hfe".to_owned()));
        assert_eq!(other_numbers("'0"), ["'1"]);
        assert!(other_numbers("4'bzz01").is_empty());
        assert!(other_levels("'1'") == ["'0'"]);
    }

    #[test]
    fn a_whole_file_is_read_with_the_other_kind_of_numbers() {
        let list = made("input [3:0] a, b; wire [3:0] c; assign y = a < b;", false);
        assert!(
            list.contains(&"input signed [3:0] a, b; wire signed [3:0] c; assign y = a < b;".to_owned()),
            "{list:#?}"
        );
        let list = made("input signed [3:0] a; assign y = a < $signed(b);", false);
        assert!(list.contains(&"input  [3:0] a; assign y = a < $unsigned(b);".to_owned()), "{list:#?}");
        let list = made("y <= signed(a) < SIGNED(b);", true);
        assert!(list.contains(&"y <= unsigned(a) < unsigned(b);".to_owned()), "{list:#?}");
    }

    #[test]
    fn a_bound_of_a_vector_is_one_more_or_one_less() {
        let list = made("wire [15:0] s;", false);
        assert!(list.contains(&"wire [16:0] s;".to_owned()) && list.contains(&"wire [14:0] s;".to_owned()));
    }

    #[test]
    fn the_clock_of_an_edge_is_not_inverted() {
        let list = made("always @(negedge clk) q <= d;", false);
        assert!(list.iter().all(|l| !l.contains("~clk")), "{list:#?}");
        assert!(list.contains(&"always @(posedge clk) q <= d;".to_owned()), "{list:#?}");
        let list = made("if falling_edge(clk) then q <= d; end if;", true);
        assert!(list.iter().all(|l| !l.contains("not clk")), "{list:#?}");
    }

    #[test]
    fn all_assignments_of_a_block_change_together() {
        let text = "always @(posedge clk) begin a = b; c = a; end assign d = c;";
        assert!(
            made(text, false).contains(&"always @(posedge clk) begin a <= b; c <= a; end assign d = c;".to_owned())
        );
    }
}
