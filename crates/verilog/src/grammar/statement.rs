//! Statements inside blocks (IEEE 1364-2005 clause 9 and A.6).

use super::module::data_kind;
use super::{Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::{Number, TokenKind};
use crate::tree::{
    Binary, CaseArm, CaseKind, Control, Declaration, EdgeKind, Held, Ident, Join, NodeId, NodeKind, Stmt, StmtKind,
};
use base::Span;
use logic::LogicVector;

impl Parser<'_, '_> {
    pub(super) fn statement(&mut self) -> Parse<Stmt> {
        self.nested(Self::statement_inner)
    }

    /// `fork … join`, also with `join_any` and `join_none` (IEEE 1364-2005 9.8.2, IEEE 1800-2017 9.3.2).
    fn fork(&mut self) -> Parse<StmtKind> {
        let opener = self.advance().span;
        let label = if self.eat(":") { Some(self.name("the block's label")?) } else { None };
        let mut branches = Vec::new();
        let join = loop {
            let join = match self.peek() {
                TokenKind::Keyword("join") => Some(Join::All),
                TokenKind::Name(word) if word == "join_any" => Some(Join::Any),
                TokenKind::Name(word) if word == "join_none" => Some(Join::None),
                TokenKind::Keyword("endmodule" | "module" | "always" | "initial" | "end") | TokenKind::End => {
                    let at = self.span();
                    return self.fail(say::unclosed("`fork`", "join", opener, at));
                }
                _ => None,
            };
            if let Some(join) = join {
                self.advance();
                break join;
            }
            branches.push(self.statement()?);
        };
        if self.eat(":") {
            self.name("the block's label")?;
        }
        Ok(StmtKind::Fork { label, branches, join })
    }

    /// `foreach (a[i, j]) …`
    fn foreach(&mut self) -> Parse<StmtKind> {
        self.advance();
        let opener = self.expect("(")?;
        let array = self.name("the array's name")?;
        self.expect("[")?;
        let mut variables = vec![self.name("the loop's variable")?];
        while self.eat(",") {
            variables.push(self.name("the loop's variable")?);
        }
        self.expect("]")?;
        self.close(")", "parenthesis", opener)?;
        Ok(StmtKind::Foreach { array, variables, body: self.boxed()? })
    }

    fn boxed(&mut self) -> Parse<Box<Stmt>> {
        self.statement().map(Box::new)
    }

    #[expect(clippy::too_many_lines, reason = "an arm for each kind of statement")]
    fn statement_inner(&mut self) -> Parse<Stmt> {
        let start = self.span();
        let kind = match self.peek() {
            TokenKind::Symbol(";") => {
                self.advance();
                StmtKind::Empty
            }
            TokenKind::Symbol("@" | "#") => {
                let control = self.control()?;
                StmtKind::Controlled { control, body: self.boxed()? }
            }
            TokenKind::Keyword("begin") => self.block("end")?,
            TokenKind::Keyword("fork") => self.fork()?,
            TokenKind::Name(word)
                if word == "foreach"
                    && matches!(self.peek_at(1), TokenKind::Symbol("("))
                    && matches!((self.peek_at(2), self.peek_at(3)), (TokenKind::Name(_), TokenKind::Symbol("["))) =>
            {
                self.foreach()?
            }
            TokenKind::Keyword("void") if matches!(self.peek_at(1), TokenKind::Symbol("'")) => {
                self.advance();
                self.advance();
                let value = self.condition()?;
                self.semicolon()?;
                StmtKind::Dropped(value)
            }
            TokenKind::Keyword("unique" | "unique0" | "priority") => {
                self.advance();
                return self.statement();
            }
            TokenKind::Keyword(word @ ("break" | "continue")) => {
                self.advance();
                self.semicolon()?;
                if *word == "break" { StmtKind::Break } else { StmtKind::Continue }
            }
            TokenKind::Keyword("do") => self.do_while()?,
            TokenKind::Keyword("assert") => self.assertion()?,
            TokenKind::Symbol("->") => {
                self.advance();
                let name = self.name("an event")?;
                self.semicolon()?;
                StmtKind::Trigger(name)
            }
            TokenKind::Keyword("if") => self.if_chain()?,
            TokenKind::Keyword("case" | "casez" | "casex") => self.case()?,
            TokenKind::Keyword("for") => self.for_loop()?,
            TokenKind::Keyword("while") => {
                self.advance();
                StmtKind::While { condition: self.condition()?, body: self.boxed()? }
            }
            TokenKind::Keyword("repeat") => {
                self.advance();
                StmtKind::Repeat { count: self.condition()?, body: self.boxed()? }
            }
            TokenKind::Keyword("forever") => {
                self.advance();
                StmtKind::Forever { body: self.boxed()? }
            }
            TokenKind::Keyword("wait") if matches!(self.peek_at(1), TokenKind::Keyword("fork")) => {
                self.advance();
                self.advance();
                self.semicolon()?;
                StmtKind::WaitForked
            }
            TokenKind::Keyword("wait") => {
                self.advance();
                StmtKind::Wait { condition: self.condition()?, body: self.boxed()? }
            }
            TokenKind::Keyword("disable") if matches!(self.peek_at(1), TokenKind::Keyword("fork")) => {
                self.advance();
                self.advance();
                self.semicolon()?;
                StmtKind::DisableForked
            }
            TokenKind::Keyword("disable") => {
                self.advance();
                let label = self.name("a block's label")?;
                self.semicolon()?;
                StmtKind::Disable(label)
            }
            TokenKind::Keyword("return") => {
                self.advance();
                let value = if self.at_symbol(";") { None } else { Some(self.expression()?) };
                self.semicolon()?;
                StmtKind::Return(value)
            }
            // A procedural continuous assignment holds a variable as `force` does (IEEE 1364-2005 9.3.1).
            TokenKind::Keyword(word @ ("force" | "release" | "assign" | "deassign")) => {
                let held = if word.contains("assign") { Held::Assigned } else { Held::Forced };
                self.advance();
                let target = self.target()?;
                let value = if matches!(*word, "force" | "assign") {
                    self.expect("=")?;
                    Some(self.expression()?)
                } else {
                    None
                };
                self.semicolon()?;
                StmtKind::Force { target, value, held }
            }
            TokenKind::System(name) => {
                self.advance();
                let arguments = if self.at_symbol("(") { self.arguments()? } else { Vec::new() };
                self.semicolon()?;
                StmtKind::SystemCall { name: name.clone(), arguments }
            }
            TokenKind::Symbol("{" | "++" | "--") | TokenKind::Name(_) => self.assignment_or_call()?,
            TokenKind::Keyword(k @ ("always" | "always_comb" | "always_ff" | "initial" | "module" | "endmodule")) => {
                return self.fail(say::expected("a statement", &format!("`{k}`"), start));
            }
            TokenKind::Keyword(k) if data_kind(k).is_some() => {
                let d = say::expected("a statement", &format!("`{k}`"), start);
                return self.fail(d.help("Declare signals before the block, or at the very top of a `begin … end`."));
            }
            _ => {
                let found = self.found();
                return self.fail(say::expected("a statement", &found, start));
            }
        };
        Ok(Stmt { kind, span: start.to(self.last_span()) })
    }

    /// `do … while (c);`: the body once, and then as long as the condition holds.
    fn do_while(&mut self) -> Parse<StmtKind> {
        self.advance();
        let body = self.boxed()?;
        if !self.eat_keyword("while") {
            let (found, span) = (self.found(), self.span());
            return self.fail(say::expected("`while` and the condition", &found, span));
        }
        let condition = self.condition()?;
        self.semicolon()?;
        let span = body.span;
        let again = Stmt { kind: StmtKind::While { condition, body: body.clone() }, span };
        Ok(StmtKind::Block { label: None, declarations: Vec::new(), body: vec![*body, again] })
    }

    /// `assert (c);`, `assert (c) else $error("…");`
    fn assertion(&mut self) -> Parse<StmtKind> {
        self.advance();
        let condition = self.condition()?;
        let empty = Stmt { kind: StmtKind::Empty, span: self.span() };
        let then = if self.at_keyword("else") { Box::new(empty) } else { self.boxed()? };
        let otherwise = if self.eat_keyword("else") { Some(self.boxed()?) } else { None };
        Ok(StmtKind::Assert { condition, then, otherwise })
    }

    /// `if … else if … else`, read in a loop and joined from its end, so that long chains don't nest.
    fn if_chain(&mut self) -> Parse<StmtKind> {
        let mut chain = Vec::new();
        let mut otherwise = None;
        loop {
            let start = self.advance().span;
            if chain.len() > 2_000 {
                return self.fail(say::too_deep(start));
            }
            let condition = self.condition()?;
            if self.at_symbol(";") && !matches!(self.peek_at(1), TokenKind::Keyword("else")) {
                self.empty_branch = Some(self.span());
            }
            chain.push((start, condition, self.boxed()?));
            if !self.eat_keyword("else") {
                break;
            }
            if !self.at_keyword("if") {
                otherwise = Some(self.boxed()?);
                break;
            }
        }
        let end = self.last_span();
        for (start, condition, then) in chain.into_iter().rev() {
            let kind = StmtKind::If { condition, then, otherwise: otherwise.take() };
            otherwise = Some(Box::new(Stmt { kind, span: start.to(end) }));
        }
        Ok(otherwise.map_or(StmtKind::Empty, |s| s.kind))
    }

    fn block(&mut self, end: &'static str) -> Parse<StmtKind> {
        let opener = self.advance().span;
        let label = if self.eat(":") { Some(self.name("the block's label")?) } else { None };
        let mut declarations = Vec::new();
        let mut body = Vec::new();
        while !self.at_keyword(end) {
            let at = self.span();
            match self.peek() {
                TokenKind::Keyword(
                    "endmodule" | "module" | "always" | "initial" | "endcase" | "endfunction" | "endtask",
                )
                | TokenKind::End => {
                    return self.fail(say::unclosed("`begin`", end, opener, at));
                }
                TokenKind::Keyword("else") => {
                    if let Some(at) = self.empty_branch.take() {
                        return self.fail(say::empty_branch(at));
                    }
                    return self.fail(say::unclosed("`begin`", end, opener, at));
                }
                // An item where a statement should be: the block was not closed before it.
                TokenKind::Keyword("assign" | "always_comb" | "always_ff" | "always_latch" | "input" | "output") => {
                    if self.at_keyword("assign") {
                        body.push(self.statement()?);
                    } else {
                        return self.fail(say::unclosed("`begin`", end, opener, at));
                    }
                }
                TokenKind::Name(word)
                    if word == "static"
                        && matches!(self.peek_at(1), TokenKind::Keyword(k) if data_kind(k).is_some()) =>
                {
                    return self.fail(say::not_understood_yet("A static variable in a block", at));
                }
                TokenKind::Keyword("automatic") if body.is_empty() => {
                    self.advance();
                }
                TokenKind::Name(word)
                    if body.is_empty() && word == "string" && matches!(self.peek_at(1), TokenKind::Name(_)) =>
                {
                    declarations.push(self.strings()?);
                }
                TokenKind::Name(_) if body.is_empty() && self.at_named_type() => {
                    let mut head = self.port_head()?;
                    self.declared_names(&mut head, at)?;
                    declarations.push(head);
                }
                TokenKind::Keyword(k) if body.is_empty() && data_kind(k).is_some() => {
                    let mut head = self.port_head()?;
                    self.declared_names(&mut head, at)?;
                    declarations.push(head);
                }
                _ => body.push(self.statement()?),
            }
        }
        self.advance();
        if self.eat(":") {
            self.name("the block's label")?;
        }
        Ok(StmtKind::Block { label, declarations, body })
    }

    pub(super) fn delay(&mut self) -> Parse<NodeId> {
        self.expect("#")?;
        if self.at_symbol("(") {
            let opener = self.expect("(")?;
            let start = self.span();
            let mut list = vec![self.expression()?];
            loop {
                if self.eat(":") {
                    // Of minimum, typical and maximum the first counts.
                    self.expression()?;
                } else if self.eat(",") {
                    list.push(self.expression()?);
                } else {
                    break;
                }
            }
            self.close(")", "parenthesis", opener)?;
            return Ok(match list.as_slice() {
                [only] => *only,
                _ => self.node(NodeKind::Delays(list), start.to(self.last_span())),
            });
        }
        let span = self.span();
        match self.peek() {
            TokenKind::Number(_) | TokenKind::Real(_) | TokenKind::Time(_) | TokenKind::Name(_) => {
                let token = self.advance();
                let kind = match &token.kind {
                    TokenKind::Number(n) => NodeKind::Number(n.clone()),
                    TokenKind::Name(n) => NodeKind::Name(Ident { name: n.clone(), span }),
                    TokenKind::Real(r) => NodeKind::Real(*r),
                    TokenKind::Time(t) => NodeKind::Time(*t),
                    _ => NodeKind::Missing,
                };
                Ok(self.node(kind, span))
            }
            _ => {
                let found = self.found();
                self.fail(say::expected("a delay", &found, span))
            }
        }
    }

    fn control(&mut self) -> Parse<Control> {
        if self.at_symbol("#") {
            return Ok(Control::Delay(self.delay()?));
        }
        self.expect("@")?;
        if self.eat("*") {
            return Ok(Control::Star);
        }
        if !self.at_symbol("(") {
            let node = self.target()?;
            return Ok(Control::Events(vec![(EdgeKind::Any, node)]));
        }
        let opener = self.expect("(")?;
        if self.eat("*") {
            self.close(")", "parenthesis", opener)?;
            return Ok(Control::Star);
        }
        let mut events = Vec::new();
        loop {
            let edge = match self.eat_any(&["posedge", "negedge"]) {
                Some("posedge") => EdgeKind::Rising,
                Some(_) => EdgeKind::Falling,
                None => EdgeKind::Any,
            };
            self.in_events = true;
            let event = self.expression();
            self.in_events = false;
            events.push((edge, event?));
            if matches!(self.peek(), TokenKind::Name(word) if word == "iff") {
                let at = self.span();
                return self.fail(say::not_understood_yet("`iff` in an event list", at));
            }
            if !self.eat_keyword("or") && !self.eat(",") {
                break;
            }
        }
        self.close(")", "sensitivity list", opener)?;
        Ok(Control::Events(events))
    }

    fn case(&mut self) -> Parse<StmtKind> {
        let opener = self.span();
        let kind = match self.eat_any(&["case", "casez", "casex"]) {
            Some("casez") => CaseKind::HighZ,
            Some("casex") => CaseKind::Unknown,
            _ => CaseKind::Exact,
        };
        let mut subject = self.condition()?;
        // `case (x) inside`: each choice is asked whether it holds (IEEE 1800-2017 12.5.4).
        let asked = matches!(self.peek(), TokenKind::Name(word) if word == "inside").then_some(subject);
        if asked.is_some() {
            self.advance();
            subject = self.number(1);
        }
        let mut arms = Vec::new();
        while !self.eat_keyword("endcase") {
            let start = self.span();
            match self.peek() {
                TokenKind::End | TokenKind::Keyword("end" | "endmodule" | "always" | "endfunction" | "assign") => {
                    return self.fail(say::unclosed("`case`", "endcase", opener, start));
                }
                _ => {}
            }
            let mut choices = Vec::new();
            if self.eat_keyword("default") {
                self.eat(":");
            } else {
                choices = match asked {
                    Some(value) => vec![self.any_of(value)?],
                    None => self.expression_list()?,
                };
                if self.at_symbol("=") || self.at_symbol("<=") {
                    let (found, span) = (self.found(), self.span());
                    return self.fail(say::expected("`:` after the choice", &found, span));
                }
                self.expect(":")?;
            }
            let body = self.statement()?;
            arms.push(CaseArm { choices, body, span: start.to(self.last_span()) });
        }
        Ok(StmtKind::Case { kind, subject, arms })
    }

    fn for_loop(&mut self) -> Parse<StmtKind> {
        self.advance();
        let opener = self.expect("(")?;
        let mut declared = None;
        if matches!(self.peek(), TokenKind::Keyword(k) if data_kind(k).is_some()) {
            let mut head: Declaration = self.port_head()?;
            let TokenKind::Name(name) = self.peek() else {
                let (found, span) = (self.found(), self.span());
                return self.fail(say::expected("the loop's variable", &found, span));
            };
            let name = Ident { name: name.clone(), span: self.span() };
            head.names.push(crate::tree::DeclaredName { name, dimensions: Vec::new(), value: None });
            declared = Some(head);
        }
        // Several variables, and several steps, stand with commas between them (IEEE 1800-2017 12.7.1).
        let mut start = Vec::new();
        loop {
            let at = self.span();
            if let (Some(head), true) = (&mut declared, !start.is_empty()) {
                if matches!(self.peek(), TokenKind::Keyword(k) if data_kind(k).is_some()) {
                    self.port_head()?;
                }
                let TokenKind::Name(name) = self.peek() else {
                    let (found, span) = (self.found(), self.span());
                    return self.fail(say::expected("the loop's variable", &found, span));
                };
                let name = Ident { name: name.clone(), span: self.span() };
                head.names.push(crate::tree::DeclaredName { name, dimensions: Vec::new(), value: None });
            }
            let target = self.target()?;
            self.expect("=")?;
            let value = self.expression()?;
            let kind = StmtKind::Assign { target, value, blocking: true, delay: None };
            start.push(Stmt { kind, span: at.to(self.last_span()) });
            if !self.eat(",") {
                break;
            }
        }
        self.semicolon()?;
        let condition = self.expression()?;
        self.semicolon()?;
        let mut step = Vec::new();
        loop {
            let at = self.span();
            let (variable, value) = match self.prefix_step()? {
                Some(step) => step,
                None => {
                    let variable = self.target()?;
                    (variable, self.step_value(variable)?)
                }
            };
            let kind = StmtKind::Assign { target: variable, value, blocking: true, delay: None };
            step.push(Stmt { kind, span: at.to(self.last_span()) });
            if !self.eat(",") {
                break;
            }
        }
        self.close(")", "parenthesis", opener)?;
        Ok(StmtKind::For { declared, start, condition, step, body: self.boxed()? })
    }

    /// `++i` or `--i`: the variable and its new value.
    fn prefix_step(&mut self) -> Parse<Option<(NodeId, NodeId)>> {
        let span = self.span();
        let compound = [("++", Binary::Add), ("--", Binary::Sub)].into_iter().find(|(s, _)| self.at_symbol(s));
        let Some((_, op)) = compound else { return Ok(None) };
        self.advance();
        let variable = self.target()?;
        Ok(Some((variable, self.by_one(op, variable, span))))
    }

    fn by_one(&mut self, op: Binary, variable: NodeId, span: Span) -> NodeId {
        let one = Number { value: LogicVector::from_u64(32, 1), signed: true, unsized_: true, fill: false };
        let one = self.node(NodeKind::Number(one), span);
        self.node(NodeKind::Binary(op, variable, one), span)
    }

    /// The new value in `i = i + 1`, `i++`, `i += 2`, behind the variable.
    fn step_value(&mut self, variable: NodeId) -> Parse<NodeId> {
        let span = self.span();
        let compound = [("++", Binary::Add), ("--", Binary::Sub)].into_iter().find(|(s, _)| self.at_symbol(s));
        if let Some((_, op)) = compound {
            self.advance();
            return Ok(self.by_one(op, variable, span));
        }
        if let Some(op) = self.compound_operator() {
            self.advance();
            let value = self.expression()?;
            return Ok(self.node(NodeKind::Binary(op, variable, value), span));
        }
        self.expect("=")?;
        self.expression()
    }

    fn compound_operator(&self) -> Option<Binary> {
        let TokenKind::Symbol(symbol) = self.peek() else { return None };
        Some(match *symbol {
            "+=" => Binary::Add,
            "-=" => Binary::Sub,
            "*=" => Binary::Mul,
            "/=" => Binary::Div,
            "%=" => Binary::Rem,
            "&=" => Binary::And,
            "|=" => Binary::Or,
            "^=" => Binary::Xor,
            "<<=" => Binary::ShiftLeft,
            ">>=" => Binary::ShiftRight,
            _ => return None,
        })
    }

    /// The step of a generate loop.
    pub(super) fn step(&mut self, variable: &Ident) -> Parse<NodeId> {
        let span = self.span();
        let prefix = [("++", Binary::Add), ("--", Binary::Sub)].into_iter().find(|(s, _)| self.at_symbol(s));
        if prefix.is_some() {
            self.advance();
        }
        let name = self.name("the loop's variable")?;
        if name.name != variable.name {
            let d = say::expected(&format!("`{}`", variable.name), &format!("`{}`", name.name), span);
            return self.fail(d);
        }
        let node = self.node(NodeKind::Name(name), span);
        if let Some((_, op)) = prefix {
            return Ok(self.by_one(op, node, span));
        }
        self.step_value(node)
    }

    fn assignment_or_call(&mut self) -> Parse<StmtKind> {
        if matches!(self.peek(), TokenKind::Name(n) if n == "elseif" || n == "elsif" || n == "elif") {
            let TokenKind::Name(found) = self.peek() else { return Ok(StmtKind::Empty) };
            let told = say::misspelt_word(found, "else if", self.span());
            return self.fail(told);
        }
        if matches!((self.peek(), self.peek_at(1)), (TokenKind::Name(_), TokenKind::Name(_)))
            && matches!(self.peek_at(2), TokenKind::Symbol("("))
        {
            let at = self.span();
            return self.fail(say::instance_in_block(at));
        }
        let is_call =
            matches!(self.peek(), TokenKind::Name(_)) && matches!(self.peek_at(1), TokenKind::Symbol("(" | ";"));
        if is_call {
            let name = self.name("a task's name")?;
            let arguments = if self.at_symbol("(") { self.arguments()? } else { Vec::new() };
            self.semicolon()?;
            return Ok(StmtKind::Call { name, arguments });
        }
        if let Some((target, value)) = self.prefix_step()? {
            self.semicolon()?;
            return Ok(StmtKind::Assign { target, value, blocking: true, delay: None });
        }
        let target = self.target()?;
        let at: Span = self.span();
        // `name.putc(0, c);`, `u1.load(3);`
        if self.at_symbol(";") && matches!(self.exprs[target].kind, NodeKind::System { .. }) {
            self.semicolon()?;
            return Ok(StmtKind::Dropped(target));
        }
        if self.at_symbol("==") {
            return self.fail(say::equality_in_statement(at));
        }
        if self.at_symbol("++") || self.at_symbol("--") || self.compound_operator().is_some() {
            let value = self.step_value(target)?;
            self.semicolon()?;
            return Ok(StmtKind::Assign { target, value, blocking: true, delay: None });
        }
        let blocking = self.eat("=");
        if !blocking && !self.eat("<=") {
            let found = self.found();
            return self.fail(say::expected("`=` or `<=`", &found, at));
        }
        let delay = match self.peek() {
            TokenKind::Symbol("#" | "@") => Some(self.control()?),
            // `q = repeat (3) @(posedge clk) d;`
            TokenKind::Keyword("repeat") => {
                self.advance();
                let count = self.condition()?;
                Some(Control::Repeated(count, Box::new(self.control()?)))
            }
            _ => None,
        };
        let value = self.expression()?;
        self.semicolon()?;
        Ok(StmtKind::Assign { target, value, blocking, delay })
    }
}
