//! Splits the text of an expression into tokens, taking the many spellings of one operator to one.

use crate::expr_node::ExprError;

#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) enum TokenKind {
    Name(String),
    Number { value: u64, width: Option<u32> },
    Symbol(&'static str),
}

#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct Token {
    pub(crate) kind: TokenKind,
    /// From 1, in characters.
    pub(crate) column: usize,
}

impl Token {
    pub(crate) fn text(&self) -> String {
        match &self.kind {
            TokenKind::Name(n) => n.clone(),
            TokenKind::Number { value, .. } => value.to_string(),
            TokenKind::Symbol(s) => (*s).to_owned(),
        }
    }
}

/// The combining overline, as typed over each letter of a complemented name.
const OVERLINE: char = '\u{0305}';

/// Longer spellings first, so that `||` is not two `|`.
const SYMBOLS: [(&str, &str); 40] = [
    ("&&", "&&"),
    ("||", "||"),
    ("==", "=="),
    ("!=", "!="),
    ("≠", "!="),
    ("<=", "<="),
    ("≤", "<="),
    (">=", ">="),
    ("≥", ">="),
    ("~^", "xnor"),
    ("^~", "xnor"),
    ("&", "&"),
    ("|", "|"),
    ("^", "^"),
    ("⊕", "^"),
    ("⊙", "xnor"),
    ("~", "~"),
    ("!", "!"),
    ("¬", "~"),
    ("∧", "&"),
    ("∨", "|"),
    ("·", "&"),
    ("⋅", "&"),
    ("•", "&"),
    ("∙", "&"),
    ("×", "*"),
    ("+", "+"),
    ("-", "-"),
    ("*", "*"),
    ("<", "<"),
    (">", ">"),
    ("=", "=="),
    ("?", "?"),
    (":", ":"),
    ("(", "("),
    (")", ")"),
    ("[", "["),
    ("]", "]"),
    ("'", "'"),
    ("′", "'"),
];

fn word_operator(word: &str) -> Option<&'static str> {
    Some(match word.to_ascii_lowercase().as_str() {
        "and" => "&",
        "or" => "|",
        "not" => "~",
        "xor" => "^",
        "nand" => "nand",
        "nor" => "nor",
        "xnor" => "xnor",
        _ => return None,
    })
}

pub(crate) fn tokenize(text: &str) -> Result<Vec<Token>, ExprError> {
    let chars: Vec<char> = text.chars().collect();
    let mut tokens = Vec::new();
    let mut at = 0;
    while let Some(&c) = chars.get(at) {
        let column = at + 1;
        if c.is_whitespace() || c == '\u{200B}' || c == '\u{FEFF}' {
            at += 1;
        } else if c == OVERLINE {
            // Over a closing parenthesis or a digit: the complement of what ends here.
            tokens.push(Token { kind: TokenKind::Symbol("'"), column });
            at += 1;
        } else if chars.get(at + 1) == Some(&OVERLINE) && (c.is_ascii_alphabetic() || c == '_') {
            let mut name = String::new();
            while chars.get(at + 1) == Some(&OVERLINE) && (chars[at].is_ascii_alphanumeric() || chars[at] == '_') {
                name.push(chars[at]);
                at += 2;
            }
            tokens.push(Token { kind: TokenKind::Name(name), column });
            tokens.push(Token { kind: TokenKind::Symbol("'"), column });
        } else if c.is_ascii_alphabetic() || c == '_' {
            let mut end = run(&chars, at, |c| c.is_ascii_alphanumeric() || c == '_');
            // `ab̅` is a product of `a` and the complement of `b`.
            if chars.get(end) == Some(&OVERLINE) && end > at + 1 {
                end -= 1;
            }
            let word: String = chars[at..end].iter().collect();
            let kind = word_operator(&word).map_or(TokenKind::Name(word), TokenKind::Symbol);
            tokens.push(Token { kind, column });
            at = end;
        } else if c.is_ascii_digit() {
            let (kind, end) = number(&chars, at)?;
            tokens.push(Token { kind, column });
            at = end;
        } else if matches!(c, '’' | 'ʹ') {
            tokens.push(Token { kind: TokenKind::Symbol("'"), column });
            at += 1;
        } else if let Some((spelling, symbol)) = SYMBOLS.iter().find(|(s, _)| starts(&chars[at..], s)) {
            tokens.push(Token { kind: TokenKind::Symbol(symbol), column });
            at += spelling.chars().count();
        } else {
            let action = if c.is_alphabetic() {
                "Type it again on a plain keyboard: names hold letters a–z, digits and underscores."
            } else {
                "Use ~ ' & | ^ + and parentheses, or the words not, and, or, xor."
            };
            return Err(ExprError::new(
                column,
                format!("`{c}` (U+{:04X}) can't stand in an expression.", c as u32),
                action,
            ));
        }
    }
    Ok(tokens)
}

fn starts(chars: &[char], spelling: &str) -> bool {
    spelling.chars().enumerate().all(|(i, c)| chars.get(i) == Some(&c))
}

fn run(chars: &[char], from: usize, f: impl Fn(char) -> bool) -> usize {
    chars[from..].iter().position(|c| !f(*c)).map_or(chars.len(), |n| from + n)
}

/// `12`, `0b101`, `0x1f`, and sized literals such as `4'b0101`.
fn number(chars: &[char], at: usize) -> Result<(TokenKind, usize), ExprError> {
    let digits_end = run(chars, at, |c| c.is_ascii_digit());
    let head: String = chars[at..digits_end].iter().collect();
    let letter = |i: usize| chars.get(i).map(|c| c.to_ascii_lowercase());
    let radix_of = |c: Option<char>| match c {
        Some('b') => Some(2),
        Some('o') => Some(8),
        Some('d') => Some(10),
        Some('h' | 'x') => Some(16),
        _ => None,
    };
    let too_big = || ExprError::new(at + 1, "This number doesn't fit in 64 bits.", "Use a smaller one.");
    let (radix, from, width) = match (head.as_str(), letter(digits_end), radix_of(letter(digits_end))) {
        ("0", Some('b' | 'x'), Some(radix)) if letter(digits_end + 1).is_some_and(|c| c.is_digit(radix)) => {
            (radix, digits_end + 1, None)
        }
        (_, Some('\''), _)
            if radix_of(letter(digits_end + 1))
                .is_some_and(|r| letter(digits_end + 2).is_some_and(|c| c.is_digit(r))) =>
        {
            let width: u32 = head.parse().ok().filter(|w| (1..=64).contains(w)).ok_or_else(too_big)?;
            (radix_of(letter(digits_end + 1)).unwrap_or(10), digits_end + 2, Some(width))
        }
        _ => (10, at, None),
    };
    let end = run(chars, from, |c| c.is_digit(radix) || c == '_' && width.is_some());
    let text: String = chars[from..end].iter().filter(|c| **c != '_').collect();
    let value = u64::from_str_radix(&text, radix).map_err(|_| too_big())?;
    if width.is_some_and(|w| w < 64 && value >> w != 0) {
        return Err(ExprError::new(at + 1, "This literal has more digits than its length.", "Make the length fit."));
    }
    Ok((TokenKind::Number { value, width }, end))
}
