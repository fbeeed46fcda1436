//! Tokens to trees: hand-written recursive descent. What is merely missing (a `;`, a `then`, an `is`) is told and taken
//! as present. After any other fault the rest of that unit is passed over and reading goes on with the next one: one root
//! cause gives one message.

mod concurrent;
mod declaration;
mod expression;
mod statement;
mod unit;

use crate::diagnostics as say;
use crate::lexer::{Token, TokenKind};
use crate::tree::{Ident, Unit};
use base::{Budget, Diagnostic, Span};

/// A fault was told: nothing more is read.
#[derive(Debug)]
pub(crate) struct Stopped;

pub(crate) type Parse<T> = Result<T, Stopped>;

pub(crate) struct Parser<'t, 'b> {
    text: &'t str,
    tokens: &'t [Token],
    at: usize,
    budget: &'b mut Budget,
    diagnostics: Vec<Diagnostic>,
}

/// The units of a file up to its first fault.
pub(crate) fn parse_file(text: &str, tokens: &[Token], budget: &mut Budget) -> (Vec<Unit>, Vec<Diagnostic>) {
    let mut parser = Parser { text, tokens, at: 0, budget, diagnostics: Vec::new() };
    let mut units = Vec::new();
    while parser.file(&mut units).is_err() {
        // The fault has been told; the next unit is read afresh.
        if !parser.skip_to_unit() {
            break;
        }
    }
    (units, parser.diagnostics)
}

impl Parser<'_, '_> {
    fn peek(&self) -> &TokenKind {
        &self.tokens[self.at.min(self.tokens.len() - 1)].kind
    }

    fn peek_at(&self, ahead: usize) -> &TokenKind {
        &self.tokens[(self.at + ahead).min(self.tokens.len() - 1)].kind
    }

    fn span(&self) -> Span {
        self.tokens[self.at.min(self.tokens.len() - 1)].span
    }

    /// The place of the token before this one.
    fn before(&self) -> Span {
        self.at.checked_sub(1).map_or_else(|| self.span(), |i| self.tokens[i.min(self.tokens.len() - 1)].span)
    }

    fn next(&mut self) {
        self.at = (self.at + 1).min(self.tokens.len() - 1);
    }

    fn is_symbol(&self, symbol: &str) -> bool {
        matches!(self.peek(), TokenKind::Symbol(s) if *s == symbol)
    }

    fn is_word(&self, word: &str) -> bool {
        matches!(self.peek(), TokenKind::Keyword(k) if *k == word)
    }

    fn is_word_at(&self, ahead: usize, word: &str) -> bool {
        matches!(self.peek_at(ahead), TokenKind::Keyword(k) if *k == word)
    }

    fn eat_symbol(&mut self, symbol: &str) -> bool {
        let hit = self.is_symbol(symbol);
        if hit {
            self.next();
        }
        hit
    }

    fn eat_word(&mut self, word: &str) -> bool {
        let hit = self.is_word(word);
        if hit {
            self.next();
        }
        hit
    }

    /// To where the next entity, architecture, package or context clause begins a line of its own. False at the end.
    fn skip_to_unit(&mut self) -> bool {
        self.budget.reset_depth();
        loop {
            match self.peek() {
                TokenKind::End => return false,
                // `end architecture rtl;` and `label: entity work.x` begin no unit.
                TokenKind::Keyword("entity" | "architecture" | "package" | "library" | "configuration")
                    if self.begins_unit() =>
                {
                    return true;
                }
                _ => self.next(),
            }
        }
    }

    fn begins_unit(&self) -> bool {
        let before = self.at.checked_sub(1).map(|i| &self.tokens[i].kind);
        let opens = matches!(before, None | Some(TokenKind::Symbol(";")));
        let named = matches!(self.peek_at(1), TokenKind::Name(_)) || self.is_word_at(1, "body");
        let third = match self.peek() {
            TokenKind::Keyword("library") => matches!(self.peek_at(2), TokenKind::Symbol(";" | ",")),
            TokenKind::Keyword("architecture" | "configuration") => self.is_word_at(2, "of"),
            _ => self.is_word_at(2, "is") || self.is_word_at(1, "body"),
        };
        opens && named && third
    }

    /// Tells a fault and goes on.
    fn report(&mut self, diagnostic: Diagnostic) {
        self.diagnostics.push(diagnostic);
    }

    fn fail<T>(&mut self, diagnostic: Diagnostic) -> Parse<T> {
        self.diagnostics.push(diagnostic);
        Err(Stopped)
    }

    /// The token at the cursor in words.
    fn found(&self) -> String {
        match self.peek() {
            TokenKind::End => "the end of the file".into(),
            TokenKind::Keyword(k) => format!("the word `{k}`"),
            _ => {
                let span = self.span();
                format!("`{}`", self.text.get(span.start as usize..span.end as usize).unwrap_or("?"))
            }
        }
    }

    fn expected<T>(&mut self, what: &str) -> Parse<T> {
        let (found, span) = (self.found(), self.span());
        self.fail(say::expected(what, &found, span))
    }

    fn symbol(&mut self, symbol: &str, what: &str) -> Parse<()> {
        if self.eat_symbol(symbol) { Ok(()) } else { self.expected(what) }
    }

    fn word(&mut self, word: &'static str, after: &str) -> Parse<()> {
        if self.eat_word(word) {
            return Ok(());
        }
        let at = self.before().after();
        // Where what stands here can follow the word, it is taken as present.
        let goes_on = match word {
            "is" => matches!(
                self.peek(),
                TokenKind::Keyword(
                    "port" | "generic" | "signal" | "begin" | "when" | "end" | "type" | "constant" | "component"
                )
            ),
            "then" | "loop" | "generate" => {
                matches!(self.peek(), TokenKind::Name(_) | TokenKind::Keyword("if" | "case" | "for" | "null"))
            }
            _ => false,
        };
        let told = say::missing_word(word, after, at);
        if goes_on {
            self.report(told);
            return Ok(());
        }
        self.fail(told)
    }

    fn semicolon(&mut self) -> Parse<()> {
        if self.eat_symbol(";") {
            return Ok(());
        }
        if self.is_symbol(")") {
            let span = self.span();
            return self.fail(say::expected("`;`", "a `)` that closes nothing", span));
        }
        if self.is_symbol("?") {
            let span = self.span();
            return self.fail(say::foreign_operator("?", "when … else", span));
        }
        let told = say::missing_semicolon(self.before());
        // A word or a name that can begin something new: the `;` is taken as present.
        let starts_anew = matches!(
            self.peek(),
            TokenKind::Name(_)
                | TokenKind::Keyword(
                    "end"
                        | "if"
                        | "case"
                        | "for"
                        | "while"
                        | "begin"
                        | "signal"
                        | "variable"
                        | "constant"
                        | "elsif"
                        | "else"
                        | "when"
                        | "process"
                        | "architecture"
                        | "entity"
                        | "library"
                        | "use"
                        | "type"
                        | "return"
                        | "wait"
                        | "report"
                        | "assert"
                        | "component"
                        | "with"
                        | "null"
                        | "exit"
                        | "next"
                        | "port"
                )
        );
        let same_line =
            self.text.get(self.before().end as usize..self.span().start as usize).is_some_and(|t| !t.contains('\n'));
        if starts_anew && !(same_line && matches!(self.peek(), TokenKind::Name(_))) {
            self.report(told);
            return Ok(());
        }
        self.fail(told)
    }

    /// The closing parenthesis of one that was opened at `open`.
    fn close(&mut self, open: Span) -> Parse<()> {
        if self.eat_symbol(")") {
            return Ok(());
        }
        if matches!(self.peek(), TokenKind::End | TokenKind::Keyword(_)) || self.is_symbol(";") {
            return self.fail(say::unclosed("`(`", ")", open));
        }
        self.expected("`)` or `,`")
    }

    fn ident(&mut self, what: &str) -> Parse<Ident> {
        match self.peek().clone() {
            TokenKind::Name(name) => {
                let span = self.span();
                self.next();
                Ok(Ident { name, span })
            }
            TokenKind::Keyword(word) => {
                let span = self.span();
                self.fail(say::keyword_as_name(word, span))
            }
            _ => self.expected(what),
        }
    }

    fn idents(&mut self, what: &str) -> Parse<Vec<Ident>> {
        let mut list = vec![self.ident(what)?];
        while self.eat_symbol(",") {
            list.push(self.ident(what)?);
        }
        Ok(list)
    }

    /// The text of a name as it was written.
    fn spelling(&self, ident: &Ident) -> String {
        self.text.get(ident.span.start as usize..ident.span.end as usize).unwrap_or(&ident.name).to_owned()
    }

    /// `end [word] [name] ;` of something called `name`.
    fn end(&mut self, words: &[&'static str], name: Option<&Ident>, opened: Span, opener: &str) -> Parse<()> {
        if !self.is_word("end") {
            if matches!(self.peek(), TokenKind::End) {
                let closer = format!("end {}", words.first().copied().unwrap_or_default());
                return self.fail(say::unclosed(opener, closer.trim(), opened));
            }
            return self.expected(&format!("a statement, or the `end` of {opener},"));
        }
        let end_span = self.span();
        self.next();
        // The word is optional for units, as in VHDL-87; for statements `must_end` asks for it.
        let mut worded = false;
        for word in words {
            worded |= self.eat_word(word);
        }
        if let TokenKind::Name(found) = self.peek().clone() {
            if let Some(name) = name
                && name.name != found
            {
                let (told, span) = (self.spelling(&Ident { name: found, span: self.span() }), self.span());
                let wanted = self.spelling(name);
                return self.fail(say::wrong_end_name(&told, &wanted, span));
            }
            self.next();
        } else if let TokenKind::Keyword(word) = self.peek()
            && !worded
        {
            let (word, span) = (*word, self.span());
            // `end if` where a process ends, or the other way round.
            if matches!(
                word,
                "if" | "case"
                    | "loop"
                    | "process"
                    | "generate"
                    | "component"
                    | "function"
                    | "entity"
                    | "architecture"
                    | "record"
            ) {
                let told = format!("`end {word}`");
                return self.fail(say::expected(&format!("the `end` of {opener}"), &told, end_span.to(span)));
            }
        }
        self.semicolon()
    }

    /// `end word [label] ;` where the word must stand.
    fn must_end(&mut self, word: &'static str, opened: Span, opener: &str) -> Parse<()> {
        if !self.is_word("end") {
            if matches!(self.peek(), TokenKind::End) {
                return self.fail(say::unclosed(opener, &format!("end {word};"), opened));
            }
            return self.expected(&format!("a statement, or the `end {word}` of {opener},"));
        }
        if !self.is_word_at(1, word) {
            // What ends here is something around it: the inner one was never closed.
            return self.fail(say::unclosed(opener, &format!("end {word};"), opened));
        }
        self.next();
        self.next();
        self.eat_symbol("?");
        if let TokenKind::Name(_) = self.peek() {
            self.next();
        }
        self.semicolon()
    }

    fn deeper(&mut self) -> Parse<()> {
        let span = self.span();
        if self.budget.enter().is_err() {
            return self.fail(say::too_deep(span));
        }
        if let Err(e) = self.budget.spend(1) {
            return self.fail(say::budget(&e.0.to_string(), span));
        }
        Ok(())
    }
}
