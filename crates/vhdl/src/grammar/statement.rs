//! Sequential statements (IEEE 1076-2008 clause 10).

use super::{Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::TokenKind;
use crate::tree::{Expr, Ident, Range, Stmt, StmtKind, Waveform};

impl Parser<'_, '_> {
    /// Statements up to a word that ends them.
    pub(super) fn statements(&mut self) -> Parse<Vec<Stmt>> {
        let mut list = Vec::new();
        loop {
            match self.peek() {
                TokenKind::Keyword("end" | "elsif" | "else" | "when") | TokenKind::End => return Ok(list),
                _ => list.push(self.statement()?),
            }
        }
    }

    fn statement(&mut self) -> Parse<Stmt> {
        self.deeper()?;
        let start = self.span();
        let mut label = None;
        if matches!(self.peek(), TokenKind::Name(_)) && matches!(self.peek_at(1), TokenKind::Symbol(":")) {
            label = Some(self.ident("a label")?);
            self.next();
        }
        let kind = match self.peek().clone() {
            TokenKind::Keyword("if") => self.if_statement()?,
            TokenKind::Keyword("case") => self.case_statement()?,
            TokenKind::Keyword("for" | "while" | "loop") => self.loop_statement(label)?,
            TokenKind::Keyword(word @ ("exit" | "next")) => {
                self.next();
                let label = if matches!(self.peek(), TokenKind::Name(_)) { Some(self.ident("a label")?) } else { None };
                let condition = if self.eat_word("when") { Some(self.expression()?) } else { None };
                self.semicolon()?;
                if word == "exit" { StmtKind::Exit { label, condition } } else { StmtKind::Next { label, condition } }
            }
            TokenKind::Keyword("return") => {
                self.next();
                let value = if self.is_symbol(";") { None } else { Some(self.expression()?) };
                self.semicolon()?;
                StmtKind::Return(value)
            }
            TokenKind::Keyword("null") => {
                self.next();
                self.semicolon()?;
                StmtKind::Null
            }
            TokenKind::Keyword("wait") => self.wait()?,
            TokenKind::Keyword("assert" | "report") => self.message()?,
            TokenKind::Keyword("with") => self.select()?,
            TokenKind::Keyword(word @ ("signal" | "variable" | "constant")) => {
                return self.expected(&format!("a statement (declare the {word} before `begin`)"));
            }
            TokenKind::Keyword("else") => return self.expected("a statement"),
            _ => self.assignment_or_call()?,
        };
        self.budget.leave();
        Ok(Stmt { kind, span: start.to(self.before()) })
    }

    /// `wait;`, `wait for 10 ns;`, `wait until clk = '1' for 1 us;`, `wait on a, b;`
    fn wait(&mut self) -> Parse<StmtKind> {
        self.next();
        let mut on = Vec::new();
        if self.eat_word("on") {
            on.push(self.expression()?);
            while self.eat_symbol(",") {
                on.push(self.expression()?);
            }
        }
        let until = if self.eat_word("until") { Some(self.expression()?) } else { None };
        let timeout = if self.eat_word("for") { Some(self.expression()?) } else { None };
        self.semicolon()?;
        Ok(StmtKind::Wait { on, until, timeout })
    }

    /// `assert c report "…" severity error;`, `report "…";`
    pub(super) fn message(&mut self) -> Parse<StmtKind> {
        let condition = if self.eat_word("assert") { Some(self.expression()?) } else { None };
        let report = if self.eat_word("report") { Some(self.expression()?) } else { None };
        let severity = if self.eat_word("severity") { Some(self.expression()?) } else { None };
        self.semicolon()?;
        Ok(StmtKind::Message { condition, report, severity })
    }

    fn select(&mut self) -> Parse<StmtKind> {
        self.next();
        let subject = self.expression()?;
        self.word("select", "the expression")?;
        let matching = self.eat_symbol("?");
        let target = if self.is_symbol("(") { self.aggregate()? } else { self.target()? };
        let signal = self.is_symbol("<=");
        if !self.eat_symbol("<=") && !self.eat_symbol(":=") {
            return self.expected("`<=`");
        }
        let alternatives = self.selected_waveforms()?;
        Ok(StmtKind::Select { subject, target, signal, alternatives, matching })
    }

    /// `a when "00", b when others;`
    pub(super) fn selected_waveforms(&mut self) -> Parse<Vec<(Waveform, Vec<Range>)>> {
        let mut alternatives = Vec::new();
        loop {
            let wave = self.waveform()?;
            self.word("when", "the value")?;
            let choices = self.choices()?;
            alternatives.push((wave, choices));
            if !self.eat_symbol(",") {
                break;
            }
        }
        if !self.is_symbol(";") && !matches!(self.peek(), TokenKind::End | TokenKind::Keyword(_)) {
            return self.expected("`,` before the next value, or `;`,");
        }
        self.semicolon()?;
        Ok(alternatives)
    }

    fn assignment_or_call(&mut self) -> Parse<StmtKind> {
        if let TokenKind::Name(name) = self.peek()
            && matches!(name.as_str(), "elseif" | "elif" | "endif")
        {
            let wanted = if name == "endif" { "end if" } else { "elsif" };
            let (found, at) = (name.clone(), self.span());
            return self.fail(say::misspelt_word(&found, wanted, at));
        }
        let target = if self.is_symbol("(") { self.aggregate()? } else { self.target()? };
        let span = self.span();
        if self.is_symbol("<=") || self.is_symbol(":=") {
            let signal = self.is_symbol("<=");
            self.next();
            let alternatives = self.alternatives()?;
            self.semicolon()?;
            return Ok(StmtKind::Assign { target, signal, alternatives });
        }
        if self.is_symbol("=") {
            return self.fail(say::assign_sign("=", "<=", "anything", span));
        }
        if self.is_symbol("=>") {
            return self.fail(say::assign_sign("=>", "<=", "a signal", span));
        }
        self.semicolon()?;
        Ok(StmtKind::Call(target))
    }

    /// A name with its suffixes, so that `<=` behind it assigns and doesn't compare.
    pub(super) fn target(&mut self) -> Parse<Expr> {
        let name = self.ident("a statement")?;
        let start = Expr { kind: crate::tree::ExprKind::Name(name.name), span: name.span };
        self.target_suffixes(start)
    }

    /// `a when c else b when d else e`, each with an optional delay; without the last `else` too.
    pub(super) fn alternatives(&mut self) -> Parse<Vec<(Waveform, Option<Expr>)>> {
        let mut list = Vec::new();
        loop {
            let wave = self.waveform()?;
            if !self.eat_word("when") {
                list.push((wave, None));
                return Ok(list);
            }
            let condition = self.expression()?;
            list.push((wave, Some(condition)));
            if !self.eat_word("else") {
                return Ok(list);
            }
        }
    }

    pub(super) fn waveform(&mut self) -> Parse<Waveform> {
        let transport = self.eat_word("transport");
        let reject = if self.eat_word("reject") { Some(self.expression()?) } else { None };
        self.eat_word("inertial");
        let value = self.expression()?;
        let delay = if self.eat_word("after") { Some(self.expression()?) } else { None };
        let mut later = Vec::new();
        // A `,` goes on with the waveform only where a value with a delay follows; else it belongs to a list around it.
        while self.is_symbol(",") {
            let at = self.at;
            self.next();
            let next = self.expression()?;
            if !self.eat_word("after") {
                self.at = at;
                break;
            }
            later.push((next, self.expression()?));
        }
        Ok(Waveform { value, delay, transport, reject, later })
    }

    fn if_statement(&mut self) -> Parse<StmtKind> {
        let opened = self.span();
        self.next();
        let mut arms = Vec::new();
        let condition = self.condition()?;
        arms.push((Some(condition), self.statements()?));
        loop {
            if self.eat_word("elsif") {
                let condition = self.condition()?;
                arms.push((Some(condition), self.statements()?));
            } else if self.is_word("else") {
                let else_span = self.span();
                self.next();
                let nested = self.is_word("if");
                let span = else_span.to(self.span());
                let body = self.statements();
                let body = match body {
                    Ok(body) => body,
                    Err(stopped) => {
                        // `else if` without an `end if` of its own swallows what follows.
                        if nested && self.diagnostics.last().is_some_and(|d| d.code == base::Code::UNCLOSED) {
                            self.diagnostics.pop();
                            return self.fail(say::else_if(span));
                        }
                        return Err(stopped);
                    }
                };
                if nested && !(self.is_word("end") && self.is_word_at(1, "if")) {
                    return self.fail(say::else_if(span));
                }
                arms.push((None, body));
                break;
            } else {
                break;
            }
        }
        self.must_end("if", opened, "`if`")?;
        Ok(StmtKind::If(arms))
    }

    /// The condition of an `if` with its `then`.
    fn condition(&mut self) -> Parse<Expr> {
        let condition = self.expression()?;
        if self.is_symbol(":=") || self.is_symbol("=>") {
            let (found, span) = (if self.is_symbol(":=") { ":=" } else { "=>" }, self.span());
            let told = say::assign_sign(found, "=", "in a condition", span);
            return self.fail(told);
        }
        self.word("then", "the condition")?;
        Ok(condition)
    }

    fn case_statement(&mut self) -> Parse<StmtKind> {
        let opened = self.span();
        self.next();
        let mut matching = self.eat_symbol("?");
        let subject = self.expression()?;
        matching |= self.eat_symbol("?");
        self.word("is", "the expression of the case")?;
        let mut arms = Vec::new();
        while self.is_word("when") {
            let start = self.span();
            self.next();
            let choices = self.choices()?;
            if !self.eat_symbol("=>") {
                if self.is_symbol("=") || self.is_symbol("<=") || self.is_symbol(":") {
                    let span = self.span();
                    return self.fail(say::expected("`=>`", "another sign", span));
                }
                return self.expected("`=>`");
            }
            let body = self.statements()?;
            arms.push((choices, body, start.to(self.before())));
        }
        if !self.is_word("end") {
            return self.expected("`when`, or `end case`,");
        }
        self.must_end("case", opened, "`case`")?;
        Ok(StmtKind::Case { subject, arms, matching })
    }

    pub(super) fn choices(&mut self) -> Parse<Vec<Range>> {
        let mut list = vec![self.range()?];
        while self.eat_symbol("|") {
            list.push(self.range()?);
        }
        Ok(list)
    }

    fn loop_statement(&mut self, label: Option<Ident>) -> Parse<StmtKind> {
        let opened = self.span();
        if self.eat_word("for") {
            let variable = self.ident("the name of the loop's variable")?;
            self.word("in", "the loop's variable")?;
            let range = self.range()?;
            self.word("loop", "the range")?;
            let body = self.statements()?;
            self.must_end("loop", opened, "`for`")?;
            return Ok(StmtKind::For { label, variable, range, body });
        }
        let condition = if self.eat_word("while") { Some(self.expression()?) } else { None };
        self.word("loop", "the condition")?;
        let body = self.statements()?;
        self.must_end("loop", opened, "`loop`")?;
        Ok(StmtKind::While { label, condition, body })
    }
}
