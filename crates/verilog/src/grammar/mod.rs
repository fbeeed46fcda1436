//! Recursive descent over tokens, with one message per root cause. Owns the cursor and recovery; the rules of the
//! language are in the files beside.

mod expression;
mod item;
mod module;
mod statement;
mod types;

use crate::diagnostics as say;
use crate::lexer::{Mark, Token, TokenKind};
use crate::tree::{Ident, Item, Module, Node, NodeId, NodeKind, Packed};
use base::{Arena, Budget, Diagnostic, FileId, Span};
use std::collections::{BTreeMap, BTreeSet};

pub(crate) struct Parser<'t, 'b> {
    tokens: &'t [Token],
    at: usize,
    diagnostics: Vec<Diagnostic>,
    /// After a fault that could not be repaired on the spot, nothing more is said about this file.
    broken: bool,
    budget: &'b mut Budget,
    exprs: Arena<NodeId, Node>,
    /// Types of one's own in the module at work.
    types: BTreeMap<String, Packed>,
    /// Where declarations before the modules stand.
    shared: Vec<usize>,
    /// What the packages of all files hold.
    packages: &'t Packages,
    /// Packages whose names the module at work sees.
    imported: BTreeSet<String>,
    /// What `package::name` brought in and stands nowhere yet.
    pending: Vec<Item>,
    /// Directives by the token they stand before.
    marks: &'t [(usize, Mark)],
    /// Time unit of modules without a time scale of their own.
    default_unit: u64,
    /// Unit and precision that the module at work says itself.
    scale: (Option<u64>, Option<u64>),
    /// A `;` right behind the condition of the last `if`.
    empty_branch: Option<Span>,
    /// Inside a sensitivity list.
    in_events: bool,
}

/// The tokens of each package by its name, from behind its head to before its end.
pub(crate) type Packages = BTreeMap<String, Vec<Token>>;

/// The packages of a file.
pub(crate) fn packages(tokens: &[Token]) -> Packages {
    let mut found = Packages::new();
    let mut at = 0;
    while at < tokens.len() {
        if tokens[at].kind == TokenKind::Keyword("package")
            && let Some(TokenKind::Name(name)) = tokens.get(at + 1).map(|t| &t.kind)
        {
            let start = tokens[at..].iter().position(|t| t.kind == TokenKind::Symbol(";")).map_or(at, |i| at + i + 1);
            let rest = tokens.get(start..).unwrap_or_default();
            let stop = |t: &Token| matches!(t.kind, TokenKind::Keyword("endpackage") | TokenKind::End);
            let length = rest.iter().position(stop).unwrap_or(rest.len());
            let mut body = rest[..length].to_vec();
            let span = rest.get(length).map_or(tokens[at].span, |t| t.span);
            body.push(Token { kind: TokenKind::End, span });
            found.insert(name.clone(), body);
            at = start + length;
        }
        at += 1;
    }
    found
}

/// The parser has lost its way; the fault has been told.
pub(crate) struct Lost;

type Parse<T> = Result<T, Lost>;

pub(crate) fn parse_file<'t>(
    file: FileId,
    tokens: &'t [Token],
    marks: &'t [(usize, Mark)],
    packages: &'t Packages,
    default_unit: u64,
    budget: &mut Budget,
) -> (Vec<Module>, Vec<Diagnostic>) {
    let mut parser = Parser {
        tokens,
        packages,
        marks,
        default_unit,
        scale: (None, None),
        empty_branch: None,
        in_events: false,
        imported: BTreeSet::new(),
        pending: Vec::new(),
        at: 0,
        diagnostics: Vec::new(),
        broken: false,
        budget,
        exprs: Arena::new(),
        types: BTreeMap::new(),
        shared: Vec::new(),
    };
    let mut modules = Vec::new();
    let has_package = tokens.iter().any(|t| t.kind == TokenKind::Keyword("package"));
    let mut furthest = None;
    while parser.peek() != &TokenKind::End {
        // Whatever goes wrong, each turn gets on.
        if furthest.is_some_and(|at| parser.at <= at) {
            parser.advance();
        }
        furthest = Some(parser.at);
        if parser.peek() == &TokenKind::End {
            break;
        }
        if parser.at_keyword("module") || parser.at_keyword("macromodule") {
            parser.exprs = Arena::new();
            parser.empty_branch = None;
            if let Ok(module) = parser.module() {
                modules.push(module);
            } else {
                parser.skip_to(&["endmodule", "module"]);
                parser.eat_keyword("endmodule");
            }
        } else if parser.at_symbol(";") {
            parser.at += 1;
        } else if parser.at_keyword("primitive") {
            let span = parser.span();
            parser.report(say::not_understood_yet("A primitive of one's own", span));
            parser.broken = true;
            parser.skip_to(&["endprimitive", "module"]);
            parser.eat_keyword("endprimitive");
        } else if parser.file_item() {
        } else {
            let span = parser.span();
            let found = parser.found();
            let told = parser.misspelt(&["module", "package", "typedef"]);
            parser.report(told.unwrap_or_else(|| say::outside_module(&found, span)));
            parser.broken = true;
            parser.skip_to(&["module", "macromodule"]);
        }
    }
    if modules.is_empty() && parser.diagnostics.is_empty() && !has_package {
        parser.report(say::no_module(Span::new(file, 0, 0)));
    }
    (modules, parser.diagnostics)
}

impl<'t> Parser<'t, '_> {
    /// Time unit and whether undeclared names are wires, for what begins at the cursor.
    fn directives(&self) -> ((u64, u64), bool) {
        let before = self.marks.iter().take_while(|(at, _)| *at <= self.at);
        let default = (self.default_unit, self.default_unit);
        before.fold((default, true), |(scale, nets), (_, mark)| match mark {
            Mark::Timescale(unit, precision) => ((*unit, *precision), nets),
            Mark::ImplicitNets(nets) => (scale, *nets),
        })
    }

    /// The times of `timeunit` (also `1ns / 1ps`) or `timeprecision`.
    fn time_scale(&mut self, is_unit: bool) -> Parse<()> {
        let first = self.time()?;
        if is_unit {
            self.scale.0 = first
        } else {
            self.scale.1 = first
        }
        if is_unit && self.eat("/") {
            self.scale.1 = self.time()?;
        }
        Ok(())
    }

    /// A time in femtoseconds; nothing for one below.
    fn time(&mut self) -> Parse<Option<u64>> {
        let (found, span) = (self.found(), self.span());
        let TokenKind::Time(time) = self.peek() else { return self.fail(say::expected("a time", &found, span)) };
        let time = time.round();
        self.advance();
        Ok((1.0..=1e17).contains(&time).then_some(time as u64))
    }

    /// Does a `timescale` stand before the cursor?
    fn has_timescale(&self) -> bool {
        self.marks.iter().take_while(|(at, _)| *at <= self.at).any(|(_, m)| matches!(m, Mark::Timescale(..)))
    }

    fn peek(&self) -> &'t TokenKind {
        self.peek_at(0)
    }

    fn peek_at(&self, ahead: usize) -> &'t TokenKind {
        let last = self.tokens.len() - 1;
        &self.tokens[(self.at + ahead).min(last)].kind
    }

    /// Does a name stand further on, within this module?
    fn has_ahead(&self, wanted: &str) -> bool {
        let rest = self.tokens.iter().skip(self.at).map(|t| &t.kind);
        rest.take_while(|t| !matches!(t, TokenKind::Keyword("endmodule")))
            .any(|t| matches!(t, TokenKind::Name(name) if name == wanted))
    }

    fn span(&self) -> Span {
        self.tokens[self.at.min(self.tokens.len() - 1)].span
    }

    /// The token before the cursor.
    fn last_span(&self) -> Span {
        self.tokens[self.at.saturating_sub(1).min(self.tokens.len() - 1)].span
    }

    fn advance(&mut self) -> &'t Token {
        let token = &self.tokens[self.at.min(self.tokens.len() - 1)];
        self.at = (self.at + 1).min(self.tokens.len() - 1);
        token
    }

    fn at_symbol(&self, symbol: &str) -> bool {
        matches!(self.peek(), TokenKind::Symbol(s) if *s == symbol)
    }

    fn at_keyword(&self, keyword: &str) -> bool {
        matches!(self.peek(), TokenKind::Keyword(k) if *k == keyword)
    }

    fn eat(&mut self, symbol: &str) -> bool {
        let hit = self.at_symbol(symbol);
        if hit {
            self.advance();
        }
        hit
    }

    fn eat_keyword(&mut self, keyword: &str) -> bool {
        let hit = self.at_keyword(keyword);
        if hit {
            self.advance();
        }
        hit
    }

    fn eat_any(&mut self, keywords: &[&'static str]) -> Option<&'static str> {
        let hit = keywords.iter().find(|k| self.at_keyword(k)).copied();
        if hit.is_some() {
            self.advance();
        }
        hit
    }

    fn report(&mut self, diagnostic: Diagnostic) {
        if !self.broken {
            self.diagnostics.push(diagnostic);
        }
    }

    /// Says a fault that can't be repaired here.
    fn fail<T>(&mut self, diagnostic: Diagnostic) -> Parse<T> {
        self.report(diagnostic);
        self.broken = true;
        Err(Lost)
    }

    /// What stands at the cursor, for messages.
    fn found(&self) -> String {
        match self.peek() {
            TokenKind::Name(n) | TokenKind::System(n) => format!("`{n}`"),
            TokenKind::Keyword(k) => format!("`{k}`"),
            TokenKind::Symbol(s) => format!("`{s}`"),
            TokenKind::Number(_) | TokenKind::Real(_) | TokenKind::Time(_) => "a number".into(),
            TokenKind::Text(_) => "a text".into(),
            TokenKind::End => "the end of the file".into(),
        }
    }

    fn expect(&mut self, symbol: &str) -> Parse<Span> {
        if self.at_symbol(symbol) {
            return Ok(self.advance().span);
        }
        let (found, span) = (self.found(), self.span());
        self.fail(say::expected(&format!("`{symbol}`"), &found, span))
    }

    /// A `)`, `]` or `}` that belongs to `opener`.
    fn close(&mut self, closer: &str, what: &str, opener: Span) -> Parse<()> {
        if self.eat(closer) {
            return Ok(());
        }
        let at = self.span();
        self.fail(say::unclosed(what, closer, opener, at))
    }

    /// A missing `;` is said at the end of the line that lacks it and then taken as present, when the next token
    /// begins a line of its own or can begin something new.
    fn semicolon(&mut self) -> Parse<()> {
        if self.eat(";") {
            return Ok(());
        }
        let starts_anew =
            matches!(self.peek(), TokenKind::Keyword(_) | TokenKind::Name(_) | TokenKind::System(_) | TokenKind::End)
                || self.at_symbol("{");
        if starts_anew {
            let after = self.last_span();
            self.report(say::missing_semicolon(after));
            return Ok(());
        }
        let (found, span) = (self.found(), self.span());
        self.fail(say::expected("`;`", &found, span))
    }

    /// The word of the language that a name at the cursor was probably meant to be.
    fn misspelt(&self, words: &[&'static str]) -> Option<Diagnostic> {
        let TokenKind::Name(name) = self.peek() else { return None };
        let near = base::nearest(name, words.iter().copied())?;
        Some(say::misspelt_word(name, near, self.span()))
    }

    fn name(&mut self, what: &str) -> Parse<Ident> {
        let span = self.span();
        match self.peek() {
            TokenKind::Number(_) if matches!(self.peek_at(1), TokenKind::Name(_) | TokenKind::Keyword(_)) => {
                let whole = span.to(self.tokens[(self.at + 1).min(self.tokens.len() - 1)].span);
                self.fail(say::bad_name("A word that begins with a digit", whole))
            }
            TokenKind::Name(name) => {
                self.advance();
                Ok(Ident { name: name.clone(), span })
            }
            TokenKind::Keyword(keyword) => self.fail(say::keyword_as_name(keyword, what, span)),
            _ => {
                let found = self.found();
                self.fail(say::expected(what, &found, span))
            }
        }
    }

    fn node(&mut self, kind: NodeKind, span: Span) -> NodeId {
        self.exprs.push(Node { kind, span })
    }

    /// Runs a rule one level deeper; nesting without end is told once.
    fn nested<T>(&mut self, rule: impl FnOnce(&mut Self) -> Parse<T>) -> Parse<T> {
        if self.budget.enter().is_err() {
            let span = self.span();
            return self.fail(say::too_deep(span));
        }
        let result = rule(self);
        self.budget.leave();
        result
    }

    fn skip_to(&mut self, keywords: &[&str]) {
        while self.peek() != &TokenKind::End && !keywords.iter().any(|k| self.at_keyword(k)) {
            self.advance();
        }
    }

    /// Skips to behind the next `;`.
    fn skip_to_semicolon(&mut self) {
        while self.peek() != &TokenKind::End && !self.at_keyword("endmodule") {
            if self.eat(";") {
                return;
            }
            self.advance();
        }
    }

    /// Skips to behind the next `;`, or to before a word that ends or begins an item.
    fn skip_item(&mut self) {
        const STOPS: [&str; 5] = ["endmodule", "module", "always", "assign", "initial"];
        while self.peek() != &TokenKind::End && !STOPS.iter().any(|k| self.at_keyword(k)) {
            if self.eat(";") {
                return;
            }
            self.advance();
        }
    }
}
