//! The tokens of a source as far as small changes need them: words, numbers, quoted levels and operators, with their
//! places. Whether a change is legal is for the real front end to say.

use std::ops::Range;

/// What a token is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// A name or reserved word.
    Word,
    /// A number, in Verilog with its base.
    Number,
    /// Levels in quotes (`'1'`, `"0101"`); VHDL only.
    Levels,
    /// Anything else.
    Mark,
}

/// A token.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Token<'s> {
    /// What it is.
    pub kind: Kind,
    /// As it is written.
    pub text: &'s str,
    /// Where it stands, by bytes.
    pub range: Range<usize>,
}

const MARKS: [&str; 24] = [
    "<<<", ">>>", "===", "!==", "~^", "^~", "~&", "~|", "&&", "||", "==", "!=", "<=", ">=", "=>", "/=", ":=", "<<",
    ">>", "**", "+:", "-:", "?=", "<>",
];

/// Splits a source. Comments, directives and Verilog strings are left out.
pub(crate) fn tokens<'s>(text: &'s str, comment: &str, quotes_levels: bool) -> Vec<Token<'s>> {
    let bytes = text.as_bytes();
    let mut list = Vec::new();
    let mut at = 0;
    while at < bytes.len() {
        let rest = &text[at..];
        let c = bytes[at];
        if rest.starts_with(comment) || c == b'`' {
            at += rest.find('\n').unwrap_or(rest.len());
        } else if rest.starts_with("/*") {
            at += rest.find("*/").map_or(rest.len(), |i| i + 2);
        } else if c == b'"' {
            let len = rest[1..].find(['"', '\n']).map_or(rest.len(), |i| i + 2).min(rest.len());
            let inner = rest.get(1..len - 1).unwrap_or("");
            if quotes_levels && !inner.is_empty() && inner.bytes().all(|b| b"01-".contains(&b)) {
                list.push(Token { kind: Kind::Levels, text: &rest[..len], range: at..at + len });
            }
            at += len;
        } else if quotes_levels && (rest.starts_with("'0'") || rest.starts_with("'1'")) {
            list.push(Token { kind: Kind::Levels, text: &rest[..3], range: at..at + 3 });
            at += 3;
        } else if quotes_levels && c == b'\'' && bytes.get(at + 2) == Some(&b'\'') {
            at += 3;
        } else if c.is_ascii_alphabetic() || c == b'_' {
            let len = rest.find(|c: char| !c.is_ascii_alphanumeric() && !"_$".contains(c)).unwrap_or(rest.len());
            list.push(Token { kind: Kind::Word, text: &rest[..len], range: at..at + len });
            at += len;
        } else if c.is_ascii_digit() || (!quotes_levels && c == b'\'') {
            let len = number(rest);
            list.push(Token { kind: Kind::Number, text: &rest[..len], range: at..at + len });
            at += len;
        } else if c.is_ascii_whitespace() {
            at += 1;
        } else {
            let len = MARKS
                .iter()
                .find(|m| rest.starts_with(**m))
                .map_or_else(|| rest.chars().next().map_or(1, char::len_utf8), |m| m.len());
            list.push(Token { kind: Kind::Mark, text: &rest[..len], range: at..at + len });
            at += len;
        }
    }
    list
}

/// Length of a number: `12`, `4'b10_10`, `'d3`, `'0`.
fn number(text: &str) -> usize {
    let digits =
        |from: usize, ok: &dyn Fn(char) -> bool| text[from..].find(|c| !ok(c)).map_or(text.len(), |i| from + i);
    let size = digits(0, &|c| c.is_ascii_digit() || c == '_');
    if !text[size..].starts_with('\'') {
        return size.max(1);
    }
    digits(size + 1, &|c| c.is_ascii_alphanumeric() || "_?".contains(c))
}
