//! Concurrent statements (IEEE 1076-2008 clause 11).

use super::{Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::TokenKind;
use crate::tree::{Concurrent, Expr, ExprKind, Ident, Sensitivity};

impl Parser<'_, '_> {
    pub(super) fn concurrent_statements(&mut self) -> Parse<Vec<Concurrent>> {
        let mut list = Vec::new();
        loop {
            match self.peek() {
                TokenKind::Keyword("end" | "elsif" | "else" | "when") | TokenKind::End => return Ok(list),
                _ => list.push(self.concurrent()?),
            }
        }
    }

    fn concurrent(&mut self) -> Parse<Concurrent> {
        self.deeper()?;
        let mut label = None;
        if matches!(self.peek(), TokenKind::Name(_)) && matches!(self.peek_at(1), TokenKind::Symbol(":")) {
            label = Some(self.ident("a label")?);
            self.next();
        }
        self.eat_word("postponed");
        let span = self.span();
        let statement = match self.peek().clone() {
            TokenKind::Keyword("process") => self.process(label)?,
            TokenKind::Keyword("with") => self.selected(label)?,
            TokenKind::Keyword("for") => self.for_generate(label)?,
            TokenKind::Keyword("if") => self.if_generate(label)?,
            TokenKind::Keyword("block") => self.block(label)?,
            TokenKind::Keyword("assert" | "report") => {
                let kind = self.message()?;
                Concurrent::Message(crate::tree::Stmt { kind, span: span.to(self.before()) })
            }
            TokenKind::Keyword("entity" | "component" | "configuration") => self.instance(label)?,
            TokenKind::Keyword("case") => self.case_generate(label)?,
            TokenKind::Keyword(word @ ("signal" | "variable" | "constant" | "type")) => {
                return self.expected(&format!("a statement (declare the {word} before `begin`)"));
            }
            TokenKind::Name(_) if label.is_some() && self.is_instance() => self.instance(label)?,
            _ => self.assignment(label)?,
        };
        self.budget.leave();
        Ok(statement)
    }

    /// `name generic map` or `name port map` stands here.
    fn is_instance(&self) -> bool {
        let mut ahead = 1;
        while matches!(self.peek_at(ahead), TokenKind::Symbol(".")) {
            ahead += 2;
        }
        matches!(self.peek_at(ahead), TokenKind::Keyword("port" | "generic"))
            || matches!(self.peek_at(ahead), TokenKind::Symbol(";"))
    }

    fn assignment(&mut self, label: Option<Ident>) -> Parse<Concurrent> {
        let start = self.span();
        let target = if self.is_symbol("(") { self.aggregate()? } else { self.target()? };
        if self.is_word("port") || self.is_word("generic") {
            return self.expected("a label and `:` before an instance");
        }
        let span = self.span();
        if self.is_symbol(":=") {
            return self.fail(say::assign_sign(":=", "<=", "a signal", span));
        }
        if self.is_symbol("=") {
            return self.fail(say::assign_sign("=", "<=", "anything", span));
        }
        if self.is_symbol(";") {
            self.next();
            return Ok(Concurrent::Call { name: target, span: start.to(self.before()) });
        }
        if !self.eat_symbol("<=") {
            return self.expected("`<=`");
        }
        self.eat_word("guarded");
        let alternatives = self.alternatives()?;
        self.semicolon()?;
        Ok(Concurrent::Assign { label, target, alternatives, span: start.to(self.before()) })
    }

    /// Suffixes of a target: indices, slices, fields.
    pub(super) fn target_suffixes(&mut self, mut value: Expr) -> Parse<Expr> {
        loop {
            let start = value.span;
            if self.is_symbol("(") {
                let (list, slice) = self.target_arguments()?;
                let span = start.to(self.before());
                value = Expr { kind: ExprKind::Call(Box::new(value), list, slice.map(Box::new)), span };
            } else if self.is_symbol(".") {
                self.next();
                let field = self.ident("the name of a field")?;
                let span = start.to(field.span);
                value = Expr { kind: ExprKind::Select(Box::new(value), field), span };
            } else {
                return Ok(value);
            }
        }
    }

    fn target_arguments(&mut self) -> Parse<(Vec<crate::tree::Association>, Option<crate::tree::Range>)> {
        let open = self.span();
        self.next();
        let mut list = Vec::new();
        let mut slice = None;
        loop {
            match self.range()? {
                range @ crate::tree::Range::Bounds { .. } => slice = Some(range),
                crate::tree::Range::Of(value) => {
                    let span = value.span;
                    if self.eat_symbol("=>") {
                        let actual = self.expression()?;
                        list.push(crate::tree::Association { formal: Some(*value), actual: Some(actual), span });
                    } else {
                        list.push(crate::tree::Association { formal: None, actual: Some(*value), span });
                    }
                }
            }
            if !self.eat_symbol(",") {
                break;
            }
        }
        self.close(open)?;
        Ok((list, slice))
    }

    fn process(&mut self, label: Option<Ident>) -> Parse<Concurrent> {
        let opened = self.span();
        self.next();
        let sensitivity = if self.is_symbol("(") {
            let open = self.span();
            self.next();
            if self.eat_word("all") {
                self.close(open)?;
                Sensitivity::All
            } else {
                let mut names = vec![self.expression()?];
                while self.eat_symbol(",") {
                    names.push(self.expression()?);
                }
                self.close(open)?;
                Sensitivity::Names(names)
            }
        } else {
            Sensitivity::None
        };
        self.eat_word("is");
        let declarations = self.declarations()?;
        if !self.eat_word("begin") {
            let at = self.before().after();
            return self.fail(say::missing_word("begin", "the head of the process", at));
        }
        let body = self.statements()?;
        if matches!(self.peek(), TokenKind::Keyword("else" | "elsif" | "when")) {
            let told = if self.is_word("when") { "`when` outside a `case`" } else { "an `else` without its `if`" };
            let span = self.span();
            return self.fail(say::expected("a statement", told, span));
        }
        self.must_end("process", opened, "process")?;
        Ok(Concurrent::Process { label, sensitivity, declarations, body, span: opened.to(self.before()) })
    }

    fn selected(&mut self, label: Option<Ident>) -> Parse<Concurrent> {
        let start = self.span();
        self.next();
        let subject = self.expression()?;
        self.word("select", "the expression")?;
        let matching = self.eat_symbol("?");
        let target = if self.is_symbol("(") { self.aggregate()? } else { self.target()? };
        if !self.eat_symbol("<=") {
            return self.expected("`<=`");
        }
        let alternatives = self.selected_waveforms()?;
        Ok(Concurrent::Select { label, subject, target, alternatives, matching, span: start.to(self.before()) })
    }

    fn needs_label(&mut self, label: Option<Ident>, what: &str) -> Parse<Ident> {
        match label {
            Some(label) => Ok(label),
            None => {
                let span = self.span();
                let told = say::expected(&format!("a label and `:` before {what}"), "none", span);
                self.fail(told)
            }
        }
    }

    fn instance(&mut self, label: Option<Ident>) -> Parse<Concurrent> {
        let start = self.span();
        let label = self.needs_label(label, "an instance")?;
        let is_entity = self.eat_word("entity");
        if !is_entity {
            self.eat_word("component");
            self.eat_word("configuration");
        }
        let (unit, architecture) = self.unit_name()?;
        let mut generics = Vec::new();
        if self.eat_word("generic") {
            self.word("map", "`generic`")?;
            generics = self.association_list()?;
        }
        let mut ports = Vec::new();
        if self.eat_word("port") {
            self.word("map", "`port`")?;
            ports = self.association_list()?;
        }
        self.semicolon()?;
        Ok(Concurrent::Instance {
            label,
            unit,
            is_entity,
            architecture,
            generics,
            ports,
            span: start.to(self.before()),
        })
    }

    /// `work.adder` or `work.adder(ripple)`
    pub(super) fn unit_name(&mut self) -> Parse<(Ident, Option<Ident>)> {
        let mut unit = self.ident("the name of what is instantiated")?;
        while self.eat_symbol(".") {
            unit = self.ident("the name of what is instantiated")?;
        }
        if !self.is_symbol("(") {
            return Ok((unit, None));
        }
        let open = self.span();
        self.next();
        let architecture = self.ident("the name of an architecture")?;
        self.close(open)?;
        Ok((unit, Some(architecture)))
    }

    fn for_generate(&mut self, label: Option<Ident>) -> Parse<Concurrent> {
        let opened = self.span();
        if label.is_none() {
            return self.fail(say::statement_outside_process("A `for` loop", opened));
        }
        let label = self.needs_label(label, "`for … generate`")?;
        self.next();
        let variable = self.ident("the name of the generate's variable")?;
        self.word("in", "the variable")?;
        let range = self.range()?;
        self.word("generate", "the range")?;
        let (declarations, body) = self.generate_body()?;
        self.must_end("generate", opened, "`generate`")?;
        Ok(Concurrent::For { label, variable, range, declarations, body, span: opened.to(self.before()) })
    }

    fn generate_body(&mut self) -> Parse<(Vec<crate::tree::Declaration>, Vec<Concurrent>)> {
        let declares = matches!(
            self.peek(),
            TokenKind::Keyword(
                "signal" | "constant" | "type" | "subtype" | "component" | "begin" | "function" | "attribute"
            )
        );
        let mut declarations = Vec::new();
        if declares {
            declarations = self.declarations()?;
            self.word("begin", "the declarations")?;
        }
        let body = self.concurrent_statements()?;
        // VHDL-2008 lets the body end with an `end;` of its own.
        if self.is_word("end") && matches!(self.peek_at(1), TokenKind::Symbol(";")) {
            self.next();
            self.next();
        }
        Ok((declarations, body))
    }

    fn if_generate(&mut self, label: Option<Ident>) -> Parse<Concurrent> {
        let opened = self.span();
        if label.is_none() {
            return self.fail(say::statement_outside_process("`if`", opened));
        }
        let label = self.needs_label(label, "`if … generate`")?;
        self.next();
        let mut arms = Vec::new();
        let condition = self.expression()?;
        if self.is_word("then") {
            return self.fail(say::statement_outside_process("`if … then`", opened));
        }
        self.word("generate", "the condition")?;
        let (declarations, body) = self.generate_body()?;
        arms.push((Some(condition), declarations, body));
        loop {
            let condition = if self.eat_word("elsif") {
                Some(self.expression()?)
            } else if self.eat_word("else") {
                None
            } else {
                break;
            };
            self.word("generate", "the condition")?;
            let (declarations, body) = self.generate_body()?;
            arms.push((condition, declarations, body));
        }
        self.must_end("generate", opened, "`generate`")?;
        Ok(Concurrent::If { label, arms, span: opened.to(self.before()) })
    }

    /// `label: case n generate when 1 => … end generate;` (VHDL-2008)
    fn case_generate(&mut self, label: Option<Ident>) -> Parse<Concurrent> {
        let opened = self.span();
        let Some(label) = label else { return self.fail(say::statement_outside_process("`case`", opened)) };
        self.next();
        let subject = self.expression()?;
        if self.is_word("is") {
            return self.fail(say::statement_outside_process("`case … is`", opened));
        }
        self.word("generate", "the expression")?;
        let mut arms = Vec::new();
        while self.eat_word("when") {
            let choices = self.choices()?;
            self.symbol("=>", "`=>`")?;
            let (declarations, body) = self.generate_body()?;
            arms.push((choices, declarations, body));
        }
        self.must_end("generate", opened, "`generate`")?;
        Ok(Concurrent::Case { label, subject, arms, span: opened.to(self.before()) })
    }

    fn block(&mut self, label: Option<Ident>) -> Parse<Concurrent> {
        let opened = self.span();
        let label = self.needs_label(label, "a block")?;
        self.next();
        if self.is_symbol("(") {
            let at = self.span();
            return self.fail(say::not_read_yet("A block with a guard", at));
        }
        self.eat_word("is");
        let declarations = self.declarations()?;
        self.word("begin", "the declarations")?;
        let body = self.concurrent_statements()?;
        self.must_end("block", opened, "block")?;
        Ok(Concurrent::Block { label, declarations, body, span: opened.to(self.before()) })
    }
}
