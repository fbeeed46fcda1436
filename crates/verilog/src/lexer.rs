//! Verilog text to tokens (IEEE 1364-2005 clause 3). Comments and directives without effect on logic are left out.

use crate::diagnostics as say;
use crate::directive::{Condition, Macro};
use base::{Diagnostic, FileId, Span};
use logic::{Level, LogicVector};
use std::collections::BTreeMap;

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum TokenKind {
    Name(String),
    /// A reserved word.
    Keyword(&'static str),
    /// `$display` and the like, without the `$`.
    System(String),
    Number(Number),
    Real(f64),
    /// `10ns` and the like, in femtoseconds.
    Time(f64),
    Text(String),
    Symbol(&'static str),
    End,
}

/// A number as written.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Number {
    pub(crate) value: LogicVector,
    pub(crate) signed: bool,
    /// Without a length: at least 32 bits, more where the context has more.
    pub(crate) unsized_: bool,
    /// `'0`, `'1`, `'x`, `'z`: as long as the context.
    pub(crate) fill: bool,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Token {
    pub(crate) kind: TokenKind,
    pub(crate) span: Span,
}

/// Reserved words of IEEE 1364-2005 annex B, and those of IEEE 1800 that a first course uses.
pub(crate) const KEYWORDS: &[&str] = &[
    "always",
    "always_comb",
    "always_ff",
    "always_latch",
    "and",
    "assert",
    "assign",
    "automatic",
    "begin",
    "bit",
    "break",
    "buf",
    "bufif0",
    "bufif1",
    "byte",
    "case",
    "casex",
    "casez",
    "cell",
    "cmos",
    "config",
    "continue",
    "deassign",
    "default",
    "defparam",
    "design",
    "disable",
    "do",
    "edge",
    "else",
    "end",
    "endcase",
    "endconfig",
    "endfunction",
    "endgenerate",
    "endmodule",
    "endpackage",
    "endprimitive",
    "endspecify",
    "endtable",
    "endtask",
    "enum",
    "event",
    "for",
    "force",
    "forever",
    "fork",
    "function",
    "generate",
    "genvar",
    "highz0",
    "highz1",
    "if",
    "ifnone",
    "import",
    "incdir",
    "include",
    "initial",
    "inout",
    "input",
    "instance",
    "int",
    "integer",
    "join",
    "large",
    "liblist",
    "library",
    "localparam",
    "logic",
    "longint",
    "macromodule",
    "medium",
    "module",
    "nand",
    "negedge",
    "nmos",
    "nor",
    "noshowcancelled",
    "not",
    "notif0",
    "notif1",
    "or",
    "output",
    "package",
    "packed",
    "parameter",
    "pmos",
    "posedge",
    "primitive",
    "priority",
    "pull0",
    "pull1",
    "pulldown",
    "pullup",
    "pulsestyle_ondetect",
    "pulsestyle_onevent",
    "rcmos",
    "real",
    "realtime",
    "reg",
    "release",
    "repeat",
    "return",
    "rnmos",
    "rpmos",
    "rtran",
    "rtranif0",
    "rtranif1",
    "scalared",
    "shortint",
    "showcancelled",
    "signed",
    "small",
    "specify",
    "specparam",
    "strong0",
    "strong1",
    "struct",
    "supply0",
    "supply1",
    "table",
    "task",
    "time",
    "tran",
    "tranif0",
    "tranif1",
    "tri",
    "tri0",
    "tri1",
    "triand",
    "trior",
    "trireg",
    "typedef",
    "union",
    "unique",
    "unique0",
    "unsigned",
    "use",
    "uwire",
    "var",
    "vectored",
    "void",
    "wait",
    "wand",
    "weak0",
    "weak1",
    "while",
    "wire",
    "wor",
    "xnor",
    "xor",
];

/// Longer spellings first.
const SYMBOLS: &[&str] = &[
    "<<<=", ">>>=", "===", "!==", "<<<", ">>>", "<<=", ">>=", "==?", "!=?", "&&&", "==", "!=", "<=", ">=", "&&", "||",
    "**", "<<", ">>", "~&", "~|", "~^", "^~", "+:", "-:", "->", "=>", "*>", "++", "--", "+=", "-=", "*=", "/=", "%=",
    "&=", "|=", "^=", "::", "(*", "(", ")", "[", "]", "{", "}", ";", ":", ",", ".", "=", "<", ">", "+", "-", "*", "/",
    "%", "&", "|", "^", "~", "!", "?", "#", "@", "'", "$",
];

pub(crate) struct Lexer<'a> {
    pub(crate) file: FileId,
    /// All of the file.
    pub(crate) whole: &'a str,
    /// The file up to where this lexer reads.
    pub(crate) text: &'a str,
    pub(crate) bytes: &'a [u8],
    pub(crate) at: usize,
    pub(crate) tokens: Vec<Token>,
    pub(crate) diagnostics: Vec<Diagnostic>,
    pub(crate) macros: BTreeMap<String, Macro<'a>>,
    pub(crate) conditions: Vec<Condition>,
    /// Files that may be included, by name.
    pub(crate) files: &'a Files<'a>,
    /// Files that are being included.
    pub(crate) including: Vec<FileId>,
    /// Macros whose text is being read.
    pub(crate) expanding: Vec<String>,
    /// Directives that hold from a token on.
    pub(crate) marks: Vec<(usize, Mark)>,
    /// Macros within macros.
    pub(crate) depth: u32,
    /// Tokens that macros have made so far.
    pub(crate) spent: usize,
}

/// Texts of files by name.
pub(crate) type Files<'a> = BTreeMap<&'a str, (FileId, &'a str)>;

/// A directive that holds for the modules behind it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Mark {
    /// Time unit and precision in femtoseconds.
    Timescale(u64, u64),
    /// False after `default_nettype none`.
    ImplicitNets(bool),
}

/// The tokens of a file, with what its directives say.
pub(crate) struct Tokens<'a> {
    pub(crate) tokens: Vec<Token>,
    pub(crate) diagnostics: Vec<Diagnostic>,
    pub(crate) marks: Vec<(usize, Mark)>,
    pub(crate) macros: BTreeMap<String, Macro<'a>>,
}

pub(crate) fn tokenize<'a>(
    file: FileId,
    text: &'a str,
    files: &'a Files<'a>,
    macros: BTreeMap<String, Macro<'a>>,
) -> Tokens<'a> {
    let mut lexer = Lexer {
        file,
        whole: text,
        text,
        bytes: text.as_bytes(),
        at: 0,
        tokens: Vec::new(),
        diagnostics: Vec::new(),
        macros,
        conditions: Vec::new(),
        files,
        including: vec![file],
        expanding: Vec::new(),
        marks: Vec::new(),
        depth: 0,
        spent: 0,
    };
    lexer.all();
    lexer.close_conditions();
    let end = text.trim_end().len();
    lexer.tokens.push(Token { kind: TokenKind::End, span: Span::new(file, end, end) });
    let Lexer { tokens, diagnostics, marks, macros, .. } = lexer;
    Tokens { tokens, diagnostics, marks, macros }
}

impl<'a> Lexer<'a> {
    pub(crate) fn all(&mut self) {
        while self.at < self.bytes.len() {
            let (tokens, faults) = (self.tokens.len(), self.diagnostics.len());
            let active = self.is_active();
            self.token();
            if !active {
                // What a conditional part leaves out isn't looked at, whatever it holds.
                self.tokens.truncate(tokens);
                self.diagnostics.truncate(faults);
            }
        }
    }

    pub(crate) fn span(&self, start: usize) -> Span {
        Span::new(self.file, start, self.at)
    }

    fn push(&mut self, start: usize, kind: TokenKind) {
        let span = self.span(start);
        self.tokens.push(Token { kind, span });
    }

    pub(crate) fn run(&mut self, f: impl Fn(u8) -> bool) -> &'a str {
        let start = self.at;
        while self.bytes.get(self.at).is_some_and(|b| f(*b)) {
            self.at += 1;
        }
        &self.text[start..self.at]
    }

    fn starts(&self, what: &str) -> bool {
        self.bytes[self.at..].starts_with(what.as_bytes())
    }

    pub(crate) fn token(&mut self) {
        let start = self.at;
        let byte = self.bytes[start];
        match byte {
            _ if byte.is_ascii_whitespace() => self.at += 1,
            _ if self.starts("//") => {
                self.run(|b| b != b'\n');
            }
            _ if self.starts("/*") => match self.text[start + 2..].find("*/") {
                Some(i) => self.at = start + 2 + i + 2,
                None => {
                    self.at = self.bytes.len();
                    self.diagnostics.push(say::unclosed_comment(Span::new(self.file, start, start + 2)));
                }
            },
            b'`' => self.directive(start),
            b'"' => self.string(start),
            b'\\' => {
                self.at += 1;
                let name = self.run(|b| !b.is_ascii_whitespace()).to_owned();
                self.push(start, TokenKind::Name(name));
            }
            b'$' if self.bytes.get(start + 1).is_some_and(|b| b.is_ascii_alphabetic() || *b == b'_') => {
                self.at += 1;
                let name = self.run(|b| b.is_ascii_alphanumeric() || b == b'_' || b == b'$').to_owned();
                self.push(start, TokenKind::System(name));
            }
            _ if byte.is_ascii_alphabetic() || byte == b'_' => {
                let word = self.run(|b| b.is_ascii_alphanumeric() || b == b'_' || b == b'$');
                let quoted = self.bytes.get(self.at) == Some(&b'\'')
                    && self.bytes.get(self.at + 1).is_some_and(u8::is_ascii_hexdigit);
                if quoted && matches!(word, "b" | "B" | "h" | "H" | "d" | "D" | "o" | "O") {
                    self.at += 1;
                    self.run(|b| b.is_ascii_alphanumeric() || b == b'_');
                    self.diagnostics.push(say::base_before_quote(word, self.span(start)));
                    let value = LogicVector::from_u64(32, 0);
                    self.push(start, TokenKind::Number(Number { value, signed: false, unsized_: true, fill: false }));
                    return;
                }
                let kind = match KEYWORDS.binary_search(&word) {
                    Ok(at) => TokenKind::Keyword(KEYWORDS[at]),
                    Err(_) => TokenKind::Name(word.to_owned()),
                };
                self.push(start, kind);
            }
            _ if byte.is_ascii_digit() => self.number(start),
            b'\'' if self.bytes.get(start + 1).is_some_and(|b| b"bBoOdDhHsS01xXzZ".contains(b)) => self.number(start),
            _ => match SYMBOLS.iter().find(|s| s.as_bytes()[0] == byte && self.starts(s)) {
                // `@(*)` holds no attribute.
                Some(&"(*") if self.text[start + 2..].trim_start().starts_with(')') => {
                    self.at += 1;
                    self.push(start, TokenKind::Symbol("("));
                }
                Some(&"(*") => match self.text[start..].find("*)") {
                    Some(i) => self.at = start + i + 2,
                    None => self.at += 2,
                },
                Some(symbol) => {
                    self.at += symbol.len();
                    self.push(start, TokenKind::Symbol(symbol));
                }
                None => {
                    let c = self.text[start..].chars().next().unwrap_or(' ');
                    self.at += c.len_utf8();
                    if !c.is_whitespace() && c != '\u{1a}' {
                        self.diagnostics.push(say::strange_character(c, self.span(start)));
                    }
                }
            },
        }
    }

    fn string(&mut self, start: usize) {
        self.at += 1;
        let mut text = String::new();
        while let Some(c) = self.text[self.at..].chars().next() {
            match c {
                '"' => {
                    self.at += 1;
                    self.push(start, TokenKind::Text(text));
                    return;
                }
                '\n' => break,
                '\\' => {
                    self.at += 1;
                    // At the end of the file nothing follows it.
                    if let Some(next) = self.text[self.at..].chars().next() {
                        self.at += next.len_utf8();
                        text.push(match next {
                            'n' => '\n',
                            't' => '\t',
                            // One to three octal digits are a character's number (IEEE 1364-2005 3.6.3).
                            '0'..='7' => {
                                let digits =
                                    self.text[self.at..].bytes().take(2).take_while(|b| (b'0'..=b'7').contains(b));
                                let more: Vec<u8> = digits.collect();
                                self.at += more.len();
                                let first = u32::from(next) - u32::from('0');
                                let code = more.iter().fold(first, |n, b| n * 8 + u32::from(b - b'0'));
                                char::from_u32(code & 0xff).unwrap_or(' ')
                            }
                            'v' => '\u{b}',
                            'f' => '\u{c}',
                            'a' => '\u{7}',
                            other => other,
                        });
                    }
                }
                other => {
                    self.at += other.len_utf8();
                    text.push(other);
                }
            }
        }
        self.diagnostics.push(say::unclosed_string(Span::new(self.file, start, start + 1)));
        self.push(start, TokenKind::Text(text));
    }

    fn number(&mut self, start: usize) {
        let size = self.run(|b| b.is_ascii_digit() || b == b'_').replace('_', "");
        let after_size = self.at;
        self.run(|b| b == b' ' || b == b'\t');
        let based = self.bytes.get(self.at) == Some(&b'\'')
            && self.bytes.get(self.at + 1).is_some_and(|b| b"bBoOdDhHsS".contains(b));
        if based {
            self.based(start, &size);
            return;
        }
        if size.is_empty() {
            self.at += 1;
            let level = self.text[self.at..].chars().next().and_then(Level::from_char).unwrap_or(Level::Unknown);
            self.at += 1;
            let value = LogicVector::filled(1, level);
            self.push(start, TokenKind::Number(Number { value, signed: false, unsized_: true, fill: true }));
            return;
        }
        self.at = after_size;
        let fraction =
            self.bytes.get(self.at) == Some(&b'.') && self.bytes.get(self.at + 1).is_some_and(u8::is_ascii_digit);
        let exponent = matches!(self.bytes.get(self.at), Some(b'e' | b'E'))
            && self.bytes.get(self.at + 1).is_some_and(|b| b.is_ascii_digit() || *b == b'-');
        if fraction || exponent {
            self.run(|b| b.is_ascii_digit() || b == b'.' || b == b'e' || b == b'E' || b == b'-');
            let value = self.text[start..self.at].replace('_', "").parse().unwrap_or(0.0);
            let kind = self.time_unit().map_or(TokenKind::Real(value), |unit| TokenKind::Time(value * unit));
            self.push(start, kind);
            return;
        }
        if let Some(unit) = self.time_unit() {
            let value: f64 = size.parse().unwrap_or(0.0);
            self.push(start, TokenKind::Time(value * unit));
            return;
        }
        let value = decimal(&size);
        let fits =
            value.resized(32, false) == value.resized(value.width().max(32), false).slice(0, 32) && value.width() <= 32;
        // "At least 32 bits" (IEEE 1364-2005 3.5.1): one that needs more keeps a sign bit of 0 in front.
        let value = value.resized(if fits { 32 } else { value.width() + 1 }, false);
        self.push(start, TokenKind::Number(Number { value, signed: true, unsized_: true, fill: false }));
    }

    /// The femtoseconds of a unit of time that stands right behind a number (IEEE 1800-2017 5.8).
    fn time_unit(&mut self) -> Option<f64> {
        const UNITS: [(&str, f64); 6] = [("fs", 1.0), ("ps", 1e3), ("ns", 1e6), ("us", 1e9), ("ms", 1e12), ("s", 1e15)];
        let rest = self.bytes.get(self.at..)?;
        let (name, size) = UNITS.into_iter().find(|(name, _)| {
            let more =
                rest.get(name.len()).is_some_and(|b| b.is_ascii_alphanumeric() || matches!(b, b'_' | b'$' | b'\''));
            rest.starts_with(name.as_bytes()) && !more
        })?;
        self.at += name.len();
        Some(size)
    }

    fn based(&mut self, start: usize, size: &str) {
        self.at += 1;
        let mut signed = false;
        if matches!(self.bytes.get(self.at), Some(b's' | b'S')) {
            signed = true;
            self.at += 1;
        }
        let radix = self.bytes.get(self.at).map_or(b'd', u8::to_ascii_lowercase);
        if self.bytes.get(self.at).is_some_and(u8::is_ascii) {
            self.at += 1;
        }
        self.run(|b| b == b' ' || b == b'\t');
        let digits_at = self.at;
        let digits = self.run(|b| b.is_ascii_alphanumeric() || b == b'_' || b == b'?');
        let digits_span = Span::new(self.file, digits_at, self.at);
        let span = self.span(start);
        let per_digit = match radix {
            b'b' => 1,
            b'o' => 3,
            b'h' => 4,
            b'd' => 0,
            _ => {
                self.diagnostics.push(say::number_without_base(span));
                0
            }
        };
        let clean = digits.replace('_', "");
        let mut value = match clean.as_str() {
            "" => {
                self.diagnostics.push(say::number_without_digits(span));
                LogicVector::from_u64(1, 0)
            }
            _ if per_digit == 0 => match clean.chars().next().and_then(Level::from_char) {
                Some(level) if level.known().is_none() && clean.len() == 1 => LogicVector::filled(1, level),
                _ => {
                    if let Some(bad) = clean.chars().find(|c| !c.is_ascii_digit()) {
                        self.diagnostics.push(say::wrong_digit(bad, 10, digits_span));
                    }
                    decimal(&clean.chars().filter(char::is_ascii_digit).collect::<String>())
                }
            },
            _ => self.digits(&clean, per_digit, digits_span),
        };
        let length: Option<u32> = if size.is_empty() { None } else { Some(size.parse().unwrap_or(u32::MAX)) };
        if length.is_some_and(|l| l == 0 || l > 1 << 20) {
            self.diagnostics.push(say::wrong_length(size, span));
        }
        let width = length.unwrap_or(value.width().max(32)).clamp(1, 1 << 20);
        let lost = (width..value.width()).any(|i| value.get(i) != Level::Zero);
        if lost && length.is_some() {
            self.diagnostics.push(say::number_too_long(width, span));
        }
        // IEEE 1364-2005 3.5.1: an x or z in the leftmost digit fills up to the left.
        let top = if value.width() > 0 { value.get(value.width() - 1) } else { Level::Zero };
        let fills = top.known().is_none() && value.width() < width;
        value = value.resized(width, fills);
        self.push(start, TokenKind::Number(Number { value, signed, unsized_: length.is_none(), fill: false }));
    }

    fn digits(&mut self, clean: &str, per_digit: u32, span: Span) -> LogicVector {
        let mut levels = Vec::new();
        for c in clean.chars() {
            match c.to_digit(1 << per_digit) {
                Some(d) => levels.extend((0..per_digit).rev().map(|i| Level::from(d >> i & 1 == 1))),
                None => match c {
                    'x' | 'X' | 'z' | 'Z' | '?' => {
                        let level = Level::from_char(c).unwrap_or(Level::Unknown);
                        levels.extend(std::iter::repeat_n(level, per_digit as usize));
                    }
                    bad => {
                        self.diagnostics.push(say::wrong_digit(bad, 1 << per_digit, span));
                        return LogicVector::from_u64(1, 0);
                    }
                },
            }
        }
        LogicVector::from_levels_msb(levels)
    }
}

/// An unsigned decimal of any length, in as many bits as it needs (at least one).
fn decimal(digits: &str) -> LogicVector {
    if let Ok(n) = digits.parse::<u64>() {
        return LogicVector::from_u64(64 - n.leading_zeros().min(63), n);
    }
    let width = u32::try_from(digits.len().min(10_000) * 4).unwrap_or(u32::MAX);
    let ten = LogicVector::from_u64(width, 10);
    digits.bytes().take(10_000).fold(LogicVector::from_u64(width, 0), |sum, b| {
        sum.mul(&ten).add(&LogicVector::from_u64(width, u64::from(b.saturating_sub(b'0'))))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use base::SourceMap;

    fn number(text: &str) -> Number {
        let files = Files::new();
        let Tokens { tokens, diagnostics, .. } = tokenize(SourceMap::new().id_at(0), text, &files, BTreeMap::new());
        assert_eq!(diagnostics, [], "{text}");
        let TokenKind::Number(n) = &tokens[0].kind else { panic!("{text} is {tokens:?}") };
        n.clone()
    }

    #[test]
    fn numbers_are_read_as_the_examples_of_the_standard_say() {
        // IEEE 1364-2005 3.5.1, examples 1 to 4.
        assert_eq!(number("659").value.to_u64(), Some(659));
        assert!(number("659").signed && number("659").unsized_);
        assert_eq!(number("'h 837FF").value.to_u64(), Some(0x837FF));
        assert_eq!(number("4'b1001").value.to_string(), "1001");
        assert_eq!(number("5 'D 3").value.to_string(), "00011");
        assert_eq!(number("3'b01x").value.to_string(), "01X");
        assert_eq!(number("12'hx").value.to_string(), "XXXXXXXXXXXX");
        assert_eq!(number("16'hz").value.to_string(), "ZZZZZZZZZZZZZZZZ");
        assert_eq!(number("8 'd 6").value.width(), 8);
        assert!(number("4 'shf").signed);
        assert_eq!(number("16'sd?").value.to_string(), "ZZZZZZZZZZZZZZZZ");
        assert_eq!(number("27_195_000").value.to_u64(), Some(27_195_000));
        assert_eq!(number("16'b0011_0101_0001_1111").value.to_u64(), Some(0x351F));
        assert_eq!(number("99999999999999999999").value.to_u64(), None);
    }

    #[test]
    fn reserved_words_stand_in_order_so_that_they_are_found() {
        assert!(KEYWORDS.is_sorted());
    }

    #[test]
    fn wrong_digits_and_lengths_are_told() {
        let files = Files::new();
        let codes = |text: &str| -> Vec<&str> {
            let found = tokenize(SourceMap::new().id_at(0), text, &files, BTreeMap::new());
            found.diagnostics.iter().map(|d| d.code.key()).collect()
        };
        assert_eq!(codes("4'b102"), ["wrong-digit"]);
        assert_eq!(codes("2'd9"), ["number-too-long"]);
        assert_eq!(codes("8'd5f"), ["wrong-digit"]);
        assert_eq!(codes("/* open"), ["unclosed-comment"]);
    }
}
