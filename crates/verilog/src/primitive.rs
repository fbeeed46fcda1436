//! User-defined primitives without a state (IEEE 1364-2005 clause 8) as modules: the table becomes a chain of choices, and
//! what no row says is unknown. What can't be turned stays as it stands, for the grammar to tell.

use crate::lexer::{Mark, Number, Token, TokenKind};
use base::Span;
use logic::{Level, LogicVector};
use std::collections::BTreeSet;

/// Most rows that are turned.
const MOST_ROWS: usize = 4_096;

/// Turns every primitive of a file that has no state; marks keep their places.
pub(crate) fn as_modules(tokens: Vec<Token>, marks: &mut [(usize, Mark)]) -> Vec<Token> {
    if !tokens.iter().any(|t| t.kind == TokenKind::Keyword("primitive")) {
        return tokens;
    }
    let heads = tokens.windows(2).filter(|two| two[0].kind == TokenKind::Keyword("primitive"));
    let names: BTreeSet<String> = heads
        .filter_map(|two| if let TokenKind::Name(name) = &two[1].kind { Some(name.clone()) } else { None })
        .collect();
    let mut out = Vec::with_capacity(tokens.len());
    let mut mark = 0;
    let mut at = 0;
    while at < tokens.len() {
        while mark < marks.len() && marks[mark].0 <= at {
            marks[mark].0 = out.len();
            mark += 1;
        }
        if tokens[at].kind == TokenKind::Keyword("primitive")
            && let Some((made, end)) = turned(&tokens[at..])
        {
            out.extend(made);
            at += end;
            continue;
        }
        out.push(tokens[at].clone());
        // An instance of a primitive needs no name (IEEE 1364-2005 8.6); it gets one of its own.
        if let (TokenKind::Name(name), Some(next)) = (&tokens[at].kind, tokens.get(at + 1))
            && next.kind == TokenKind::Symbol("(")
            && names.contains(name)
            && at.checked_sub(1).is_none_or(|before| tokens[before].kind != TokenKind::Keyword("primitive"))
        {
            out.push(Token { kind: TokenKind::Name(format!("{name}_{at}")), span: tokens[at].span });
        }
        at += 1;
    }
    marks[mark..].iter_mut().for_each(|m| m.0 = out.len());
    out
}

/// The module for the primitive that begins here, and how many tokens it takes.
fn turned(tokens: &[Token]) -> Option<(Vec<Token>, usize)> {
    let place = |keyword: &'static str| tokens.iter().position(|t| t.kind == TokenKind::Keyword(keyword));
    let (table, last, end) = (place("table")?, place("endtable")?, place("endprimitive")?);
    if !(table < last && last < end) {
        return None;
    }
    let head = &tokens[..table];
    let open = head.iter().position(|t| t.kind == TokenKind::Symbol("("))?;
    let close = open + head[open..].iter().position(|t| t.kind == TokenKind::Symbol(")"))?;
    let names: Vec<&str> = head[open..close]
        .iter()
        .filter_map(|t| if let TokenKind::Name(n) = &t.kind { Some(n.as_str()) } else { None })
        .collect();
    // A primitive with a state declares its output a register.
    if head.iter().any(|t| t.kind == TokenKind::Keyword("reg")) {
        return None;
    }
    let (output, inputs) = names.split_first()?;
    let at = tokens[table].span;
    let mut made: Vec<Token> = head.to_vec();
    made[0].kind = TokenKind::Keyword("module");
    let mut put = |kind: TokenKind, span: Span| made.push(Token { kind, span });
    put(TokenKind::Keyword("assign"), at);
    put(TokenKind::Name((*output).to_owned()), at);
    put(TokenKind::Symbol("="), at);
    let mut from = table + 1;
    for _ in 0..MOST_ROWS {
        if from >= last {
            break;
        }
        let stop = from + tokens[from..last].iter().position(|t| t.kind == TokenKind::Symbol(";"))?;
        let span = tokens[from].span.to(tokens[stop].span);
        let (levels, gives) = row(&tokens[from..stop])?;
        if levels.len() != inputs.len() {
            return None;
        }
        let conditions = inputs.iter().zip(&levels).filter(|(_, level)| **level != '?');
        for (name, level) in conditions {
            condition(&mut put, name, *level, span);
            put(TokenKind::Symbol("&&"), span);
        }
        put(bit('1'), span);
        put(TokenKind::Symbol("?"), span);
        put(bit(gives), span);
        put(TokenKind::Symbol(":"), span);
        from = stop + 1;
    }
    put(bit('x'), at);
    put(TokenKind::Symbol(";"), at);
    put(TokenKind::Keyword("endmodule"), tokens[end].span);
    (from >= last).then_some((made, end + 1))
}

/// `name === 1'b0` and the like.
fn condition(put: &mut impl FnMut(TokenKind, Span), name: &str, level: char, span: Span) {
    let mut is = |level: char, sign: &'static str| {
        put(TokenKind::Name(name.to_owned()), span);
        put(TokenKind::Symbol(sign), span);
        put(bit(level), span);
    };
    match level {
        '0' | '1' => is(level, "==="),
        // Unknown, or floating, which a primitive takes for unknown (8.1.4).
        'x' => {
            is('0', "!==");
            put(TokenKind::Symbol("&&"), span);
            let mut is = |level: char| {
                put(TokenKind::Name(name.to_owned()), span);
                put(TokenKind::Symbol("!=="), span);
                put(bit(level), span);
            };
            is('1');
        }
        _ => {
            put(TokenKind::Symbol("("), span);
            for (k, level) in ['0', '1'].into_iter().enumerate() {
                if k > 0 {
                    put(TokenKind::Symbol("||"), span);
                }
                put(TokenKind::Name(name.to_owned()), span);
                put(TokenKind::Symbol("==="), span);
                put(bit(level), span);
            }
            put(TokenKind::Symbol(")"), span);
        }
    }
}

fn bit(level: char) -> TokenKind {
    let value = match level {
        '0' | '1' => LogicVector::from_u64(1, u64::from(level == '1')),
        _ => LogicVector::filled(1, Level::Unknown),
    };
    TokenKind::Number(Number { value, signed: false, unsized_: false, fill: false })
}

/// A row of the table: levels of the inputs and what it gives. A row with a state or an edge is none.
fn row(tokens: &[Token]) -> Option<(Vec<char>, char)> {
    let mut parts: Vec<Vec<char>> = vec![Vec::new()];
    for token in tokens {
        match &token.kind {
            TokenKind::Symbol(":") => parts.push(Vec::new()),
            kind => parts.last_mut()?.extend(levels(kind, token.span)?),
        }
    }
    match &parts[..] {
        [inputs, gives] if gives.len() == 1 && gives[0] != '?' && gives[0] != 'b' => Some((inputs.clone(), gives[0])),
        _ => None,
    }
}

/// The levels that a token of a table names: `0`, `01`, `x`, `?`, `b`.
fn levels(kind: &TokenKind, span: Span) -> Option<Vec<char>> {
    match kind {
        TokenKind::Symbol("?") => Some(vec!['?']),
        TokenKind::Name(name) => {
            let level = |c: char| match c.to_ascii_lowercase() {
                c @ ('x' | 'b') => Some(c),
                _ => None,
            };
            name.chars().map(level).collect()
        }
        TokenKind::Number(number) => {
            // Written without spaces, several levels are read as one decimal number.
            let length = (span.end - span.start) as usize;
            let digits = format!("{:0length$}", number.value.to_u64()?);
            digits.chars().all(|c| matches!(c, '0' | '1')).then(|| digits.chars().collect())
        }
        _ => None,
    }
}
