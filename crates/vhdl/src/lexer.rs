//! VHDL text to tokens (IEEE 1076-2008 clause 15). Names are told apart without case; comments are left out.

use crate::diagnostics as say;
use base::{Diagnostic, FileId, Span};

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum TokenKind {
    /// In lower case; extended identifiers keep their backslashes and their case.
    Name(String),
    /// A reserved word.
    Keyword(&'static str),
    Integer(i64),
    Real(f64),
    Character(char),
    Text(String),
    /// Base in bits a digit (1, 3, 4; 0 for decimal), length if given, digits.
    BitString {
        base: u32,
        signed: bool,
        length: Option<u32>,
        digits: String,
    },
    Symbol(&'static str),
    End,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Token {
    pub(crate) kind: TokenKind,
    pub(crate) span: Span,
}

/// Reserved words of IEEE 1076-1993, and those of 2008 that a first course meets.
pub(crate) const KEYWORDS: &[&str] = &[
    "abs",
    "access",
    "after",
    "alias",
    "all",
    "and",
    "architecture",
    "array",
    "assert",
    "attribute",
    "begin",
    "block",
    "body",
    "buffer",
    "bus",
    "case",
    "component",
    "configuration",
    "constant",
    "disconnect",
    "downto",
    "else",
    "elsif",
    "end",
    "entity",
    "exit",
    "file",
    "for",
    "function",
    "generate",
    "generic",
    "group",
    "guarded",
    "if",
    "impure",
    "in",
    "inertial",
    "inout",
    "is",
    "label",
    "library",
    "linkage",
    "literal",
    "loop",
    "map",
    "mod",
    "nand",
    "new",
    "next",
    "nor",
    "not",
    "null",
    "of",
    "on",
    "open",
    "or",
    "others",
    "out",
    "package",
    "port",
    "postponed",
    "procedure",
    "process",
    "pure",
    "range",
    "record",
    "register",
    "reject",
    "rem",
    "report",
    "return",
    "rol",
    "ror",
    "select",
    "severity",
    "shared",
    "signal",
    "sla",
    "sll",
    "sra",
    "srl",
    "subtype",
    "then",
    "to",
    "transport",
    "type",
    "unaffected",
    "units",
    "until",
    "use",
    "variable",
    "wait",
    "when",
    "while",
    "with",
    "xnor",
    "xor",
];

/// Longer spellings first.
const SYMBOLS: [&str; 28] = [
    "?/=", "?<=", "?>=", "**", "<=", ">=", "=>", ":=", "/=", "<>", "??", "?=", "?<", "?>", "<", ">", "=", "+", "-",
    "*", "/", "&", "|", "(", ")", ";", ":", "?",
];

struct Lexer<'a> {
    text: &'a str,
    file: FileId,
    at: usize,
    tokens: Vec<Token>,
    diagnostics: Vec<Diagnostic>,
}

/// Tokens of a file, ended by [`TokenKind::End`], and what can't be read.
pub(crate) fn tokenize(file: FileId, text: &str) -> (Vec<Token>, Vec<Diagnostic>) {
    let mut lexer = Lexer { text, file, at: 0, tokens: Vec::new(), diagnostics: Vec::new() };
    while lexer.step() {}
    let end = Span::new(file, text.len(), text.len());
    lexer.tokens.push(Token { kind: TokenKind::End, span: end });
    (lexer.tokens, lexer.diagnostics)
}

impl Lexer<'_> {
    fn rest(&self) -> &str {
        &self.text[self.at..]
    }

    fn push(&mut self, kind: TokenKind, length: usize) {
        let span = Span::new(self.file, self.at, self.at + length);
        self.tokens.push(Token { kind, span });
        self.at += length;
    }

    fn run(&self, from: usize, f: impl Fn(char) -> bool) -> usize {
        self.text[from..].char_indices().find(|(_, c)| !f(*c)).map_or(self.text.len(), |(i, _)| from + i)
    }

    fn step(&mut self) -> bool {
        let Some(c) = self.rest().chars().next() else { return false };
        if c.is_whitespace() || c == '\u{A0}' || c == '\u{FEFF}' {
            self.at += c.len_utf8();
        } else if self.rest().starts_with("--") {
            self.at = self.run(self.at, |c| c != '\n');
        } else if self.rest().starts_with("/*") {
            match self.rest().find("*/") {
                Some(end) => self.at += end + 2,
                None => {
                    let span = Span::new(self.file, self.at, self.at + 2);
                    self.diagnostics.push(say::unclosed_comment(span));
                    self.at = self.text.len();
                }
            }
        } else if c.is_ascii_alphabetic() {
            self.word();
        } else if c == '\\' {
            let end = self.run(self.at + 1, |c| c != '\\' && c != '\n');
            let name = self.text[self.at..(end + 1).min(self.text.len())].to_owned();
            let length = name.len();
            self.push(TokenKind::Name(name), length);
        } else if c.is_ascii_digit() {
            self.number();
        } else if c == '"' {
            self.text_literal();
        } else if c == '\'' {
            self.tick();
        } else if let Some(symbol) = SYMBOLS.iter().find(|s| self.rest().starts_with(**s)) {
            self.push(TokenKind::Symbol(symbol), symbol.len());
        } else if let Some(symbol) = [",", ".", "[", "]"].into_iter().find(|s| self.rest().starts_with(s)) {
            self.push(TokenKind::Symbol(symbol), 1);
        } else {
            let foreign = [("!=", "/="), ("!", "not"), ("~^", "xnor"), ("~", "not"), ("^", "xor")];
            let found = foreign.into_iter().find(|(f, _)| self.rest().starts_with(f));
            let length = found.map_or(c.len_utf8(), |(f, _)| f.len());
            let span = Span::new(self.file, self.at, self.at + length);
            self.diagnostics.push(match found {
                Some((found, wanted)) => say::foreign_operator(found, wanted, span),
                None => say::strange_character(c, span),
            });
            self.at += length;
        }
        true
    }

    fn word(&mut self) {
        let end = self.run(self.at, |c| c.is_ascii_alphanumeric() || c == '_');
        let word = self.text[self.at..end].to_ascii_lowercase();
        if self.text[end..].starts_with('"')
            && matches!(word.as_str(), "b" | "o" | "x" | "d" | "ub" | "uo" | "ux" | "sb" | "so" | "sx")
        {
            return self.bit_string(end, &word, None);
        }
        let kind = match KEYWORDS.binary_search(&word.as_str()) {
            Ok(at) => TokenKind::Keyword(KEYWORDS[at]),
            Err(_) => TokenKind::Name(word),
        };
        self.push(kind, end - self.at);
    }

    /// `x"1F"`, `12x"1F"`: `quote` is the byte of the opening quote.
    fn bit_string(&mut self, quote: usize, word: &str, length: Option<u32>) {
        let close = self.run(quote + 1, |c| c != '"' && c != '\n');
        let digits: String = self.text[quote + 1..close].chars().filter(|c| *c != '_').collect();
        let base = match word.chars().last() {
            Some('b') => 1,
            Some('o') => 3,
            Some('x') => 4,
            _ => 0,
        };
        let end = (close + 1).min(self.text.len());
        let kind = TokenKind::BitString { base, signed: word.starts_with('s'), length, digits };
        self.push(kind, end - self.at);
    }

    fn number(&mut self) {
        let digits_end = self.run(self.at, |c| c.is_ascii_digit() || c == '_');
        let plain = |text: &str| text.replace('_', "");
        let head = plain(&self.text[self.at..digits_end]);
        let next = self.text[digits_end..].chars().next();
        if next == Some('#') {
            let close = self.run(digits_end + 1, |c| c.is_ascii_alphanumeric() || c == '_');
            let radix = head.parse::<u32>().ok().filter(|r| (2..=16).contains(r));
            let digits = plain(&self.text[digits_end + 1..close]);
            let closed = self.text[close..].starts_with('#');
            let value = radix.and_then(|r| i64::from_str_radix(&digits, r).ok());
            let length = close + usize::from(closed) - self.at;
            if let (Some(value), true) = (value, closed) {
                return self.push(TokenKind::Integer(value), length);
            }
            let span = Span::new(self.file, self.at, self.at + length);
            self.diagnostics.push(say::bad_number(span));
            return self.push(TokenKind::Integer(0), length);
        }
        if next == Some('.') && self.text[digits_end + 1..].starts_with(|c: char| c.is_ascii_digit()) {
            let mut end = self.run(digits_end + 1, |c| c.is_ascii_digit() || c == '_');
            if self.text[end..].starts_with(['e', 'E']) {
                let sign = usize::from(self.text[end + 1..].starts_with(['+', '-']));
                let digits = self.run(end + 1 + sign, |c| c.is_ascii_digit());
                end = if digits > end + 1 + sign { digits } else { end };
            }
            let value = plain(&self.text[self.at..end]).parse().unwrap_or(0.0);
            return self.push(TokenKind::Real(value), end - self.at);
        }
        let letters_end = self.run(digits_end, |c| c.is_ascii_alphabetic());
        let letters = self.text[digits_end..letters_end].to_ascii_lowercase();
        if self.text[letters_end..].starts_with('"')
            && matches!(letters.as_str(), "b" | "o" | "x" | "d" | "ub" | "uo" | "ux" | "sb" | "so" | "sx")
        {
            let length = head.parse().ok();
            return self.bit_string(letters_end, &letters, length);
        }
        let (mut end, mut value) = (digits_end, head.parse::<i64>().ok());
        if letters == "e" {
            end = self.run(letters_end, |c| c.is_ascii_digit());
            let power = self.text[letters_end..end].parse::<u32>().ok();
            value = value.zip(power).and_then(|(v, p)| v.checked_mul(10i64.checked_pow(p)?));
        } else if !letters.is_empty() {
            // A name that begins with a digit.
            let end = self.run(digits_end, |c| c.is_ascii_alphanumeric() || c == '_');
            let span = Span::new(self.file, self.at, end);
            self.diagnostics.push(say::name_begins_with_digit(&self.text[self.at..end], span));
            let name = format!("_{}", &self.text[self.at..end]);
            return self.push(TokenKind::Name(name), end - self.at);
        }
        if value.is_none() {
            self.diagnostics.push(say::bad_number(Span::new(self.file, self.at, end)));
        }
        self.push(TokenKind::Integer(value.unwrap_or(0)), end - self.at);
    }

    fn text_literal(&mut self) {
        let mut at = self.at + 1;
        let mut text = String::new();
        loop {
            let close = self.run(at, |c| c != '"' && c != '\n');
            text.push_str(&self.text[at..close]);
            if self.text[close..].starts_with("\"\"") {
                text.push('"');
                at = close + 2;
                continue;
            }
            if !self.text[close..].starts_with('"') {
                self.diagnostics.push(say::unclosed_text(Span::new(self.file, self.at, close)));
                return self.push(TokenKind::Text(text), close - self.at);
            }
            return self.push(TokenKind::Text(text), close + 1 - self.at);
        }
    }

    /// `'` begins a character unless something stands before it that can have an attribute.
    fn tick(&mut self) {
        let before = self.tokens.last().map(|t| &t.kind);
        let attribute = matches!(
            before,
            Some(TokenKind::Name(_) | TokenKind::Symbol(")" | "]") | TokenKind::Keyword("all") | TokenKind::Text(_))
        );
        let mut chars = self.rest().chars().skip(1);
        let (first, second) = (chars.next(), chars.next());
        // `std_logic'('1')` and `a'event`: the tick belongs to the name before it.
        let is_character = second == Some('\'') && !(attribute && first == Some('('));
        match first {
            Some(c) if is_character => {
                self.push(TokenKind::Character(c), 2 + c.len_utf8());
            }
            _ => self.push(TokenKind::Symbol("'"), 1),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn kinds(text: &str) -> Vec<TokenKind> {
        let (tokens, diagnostics) = tokenize(base::Id::from_index(0), text);
        assert!(diagnostics.is_empty(), "{diagnostics:?}");
        tokens.into_iter().map(|t| t.kind).filter(|k| *k != TokenKind::End).collect()
    }

    #[test]
    fn names_ignore_case_and_ticks_are_told_apart() {
        use TokenKind as T;
        assert_eq!(kinds("Lamp LAMP"), [T::Name("lamp".into()), T::Name("lamp".into())]);
        assert_eq!(kinds("clk'event and x='1'").len(), 7);
        assert_eq!(kinds("a <= '1';")[2], T::Character('1'));
        assert_eq!(kinds("std_logic'('1')")[1], T::Symbol("'"));
    }

    #[test]
    fn literals_of_every_base() {
        use TokenKind as T;
        assert_eq!(kinds("16#FF# 2#1010# 1_000 1e3"), [255, 10, 1000, 1000].map(T::Integer));
        let bits = |base, length, digits: &str| T::BitString { base, signed: false, length, digits: digits.into() };
        assert_eq!(
            kinds("x\"1F\" 12x\"1f\" B\"10_10\""),
            [bits(4, None, "1F"), bits(4, Some(12), "1f"), bits(1, None, "1010")]
        );
        assert_eq!(kinds("\"say \"\"hi\"\"\""), [T::Text("say \"hi\"".into())]);
    }
}
