//! Recursive descent over tokens, with one message per root cause. Owns the cursor and recovery; the rules of the
//! language are in the files beside.

mod expression;
mod item;
mod module;
mod statement;
mod types;

use crate::diagnostics as say;
use crate::lexer::{Token, TokenKind};
use crate::tree::{Ident, Module, Node, NodeId, NodeKind};
use base::{Arena, Budget, Diagnostic, FileId, Span};
use std::collections::BTreeMap;

pub(crate) struct Parser<'t, 'b> {
    tokens: &'t [Token],
    at: usize,
    diagnostics: Vec<Diagnostic>,
    /// After a fault that could not be repaired on the spot, nothing more is said about this file.
    broken: bool,
    budget: &'b mut Budget,
    exprs: Arena<NodeId, Node>,
    /// Types of one's own in the module at work.
    types: BTreeMap<String, types::NamedType>,
    /// Where declarations before the modules stand.
    shared: Vec<usize>,
}

/// The parser has lost its way; the fault has been told.
pub(crate) struct Lost;

type Parse<T> = Result<T, Lost>;

pub(crate) fn parse_file(file: FileId, tokens: &[Token], budget: &mut Budget) -> (Vec<Module>, Vec<Diagnostic>) {
    let mut parser = Parser {
        tokens,
        at: 0,
        diagnostics: Vec::new(),
        broken: false,
        budget,
        exprs: Arena::new(),
        types: BTreeMap::new(),
        shared: Vec::new(),
    };
    let mut modules = Vec::new();
    while parser.peek() != &TokenKind::End {
        if parser.at_keyword("module") || parser.at_keyword("macromodule") {
            parser.exprs = Arena::new();
            if let Ok(module) = parser.module() {
                modules.push(module);
            } else {
                parser.skip_to(&["endmodule", "module"]);
                parser.eat_keyword("endmodule");
            }
        } else if parser.at_symbol(";") {
            parser.at += 1;
        } else if parser.file_item() {
        } else {
            let span = parser.span();
            let found = parser.found();
            parser.report(say::outside_module(&found, span));
            parser.broken = true;
            parser.skip_to(&["module", "macromodule"]);
        }
    }
    if modules.is_empty() && parser.diagnostics.is_empty() {
        parser.report(say::no_module(Span::new(file, 0, 0)));
    }
    (modules, parser.diagnostics)
}

impl<'t> Parser<'t, '_> {
    fn peek(&self) -> &'t TokenKind {
        self.peek_at(0)
    }

    fn peek_at(&self, ahead: usize) -> &'t TokenKind {
        let last = self.tokens.len() - 1;
        &self.tokens[(self.at + ahead).min(last)].kind
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
            TokenKind::Number(_) | TokenKind::Real(_) => "a number".into(),
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

    fn name(&mut self, what: &str) -> Parse<Ident> {
        let span = self.span();
        match self.peek() {
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
