//! What stands between a module's header and its `endmodule` (IEEE 1364-2005 A.1.4, A.3, A.4).

use super::module::{data_kind, direction};
use super::{Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::TokenKind;
use crate::tree::{
    AlwaysKind, Binary, Connection, Declaration, Gate, Instance, Item, NodeId, NodeKind, Packed, Routine,
};

const GATES: [&str; 12] =
    ["and", "nand", "or", "nor", "xor", "xnor", "buf", "not", "bufif0", "bufif1", "notif0", "notif1"];

impl Parser<'_, '_> {
    #[expect(clippy::too_many_lines, reason = "an arm for each kind of item")]
    pub(super) fn item(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let start = self.span();
        match self.peek() {
            TokenKind::Symbol(";") => {
                self.advance();
                Ok(())
            }
            TokenKind::Keyword("assign") => self.assign(items),
            TokenKind::Keyword("parameter" | "localparam") => self.parameters(items),
            TokenKind::Keyword("always" | "always_comb" | "always_ff" | "always_latch") => {
                let kind = match self.eat_any(&["always", "always_comb", "always_ff", "always_latch"]) {
                    Some("always_comb") => AlwaysKind::Comb,
                    Some("always_ff") => AlwaysKind::Ff,
                    Some("always_latch") => AlwaysKind::Latch,
                    _ => AlwaysKind::Plain,
                };
                let body = self.statement()?;
                items.push(Item::Always { kind, body, span: start.to(self.last_span()) });
                Ok(())
            }
            TokenKind::Keyword("initial") => {
                self.advance();
                let body = self.statement()?;
                items.push(Item::Initial { body, span: start.to(self.last_span()) });
                Ok(())
            }
            TokenKind::Keyword("function" | "task") => {
                let routine = self.routine()?;
                items.push(Item::Routine(routine));
                Ok(())
            }
            TokenKind::Keyword("generate") => {
                self.advance();
                while !self.at_keyword("endgenerate") {
                    if matches!(self.peek(), TokenKind::End | TokenKind::Keyword("endmodule")) {
                        let at = self.span();
                        return self.fail(say::unclosed("`generate`", "endgenerate", start, at));
                    }
                    self.item(items)?;
                }
                self.advance();
                Ok(())
            }
            TokenKind::Keyword("for" | "if" | "begin") => self.generate(items),
            TokenKind::Keyword("case") => self.nested(|p| p.generate_case(items)),
            TokenKind::Keyword("casex" | "casez") => self.unread_until("endcase", "A generate casez", items),
            TokenKind::Keyword("specify") => {
                // Delays of paths only: no logic.
                self.skip_to(&["endspecify", "endmodule"]);
                self.eat_keyword("endspecify");
                Ok(())
            }
            TokenKind::Keyword("import") => self.import(items),
            TokenKind::Keyword("defparam") => self.defparam(items),
            _ if self.at_structure() => {
                let mut head = self.port_head()?;
                self.declared_names(&mut head, start)?;
                items.push(Item::Declaration(head));
                Ok(())
            }
            TokenKind::Keyword("typedef") => self.typedef(items),
            TokenKind::Keyword("enum") => self.enum_variables(items),
            _ if self.at_assertion() => {
                self.concurrent_assertion();
                Ok(())
            }
            TokenKind::Name(_) if self.at_named_type() => {
                let mut head = self.port_head()?;
                self.declared_names(&mut head, start)?;
                items.push(Item::Declaration(head));
                Ok(())
            }
            // `timeunit 1ns; timeprecision 1ps;` say what the directive says (IEEE 1800-2017 3.14.2.2).
            TokenKind::Name(word)
                if matches!(word.as_str(), "timeunit" | "timeprecision")
                    && matches!(self.peek_at(1), TokenKind::Time(_)) =>
            {
                let is_unit = word == "timeunit";
                self.advance();
                self.time_scale(is_unit)?;
                self.semicolon()
            }
            // `const logic [3:0] K = 0;` is a variable that nobody may assign again.
            TokenKind::Name(word) if word == "const" && matches!(self.peek_at(1), TokenKind::Keyword(_)) => {
                self.advance();
                self.item(items)
            }
            // `let` names an expression (IEEE 1800-2017 11.12).
            TokenKind::Name(word)
                if word == "let"
                    && matches!(self.peek_at(1), TokenKind::Name(_))
                    && matches!(self.peek_at(2), TokenKind::Symbol("(" | "=")) =>
            {
                self.skip_to_semicolon();
                items.push(Item::Unread { what: "`let`".into(), span: start });
                Ok(())
            }
            // `var logic [4:0] t;`: the word says what is said already.
            TokenKind::Keyword("var") => {
                self.advance();
                self.item(items)
            }
            TokenKind::Keyword(
                "pullup" | "pulldown" | "force" | "tran" | "tranif0" | "tranif1" | "rtran" | "rtranif0" | "rtranif1"
                | "cmos" | "rcmos" | "nmos" | "pmos" | "rnmos" | "rpmos",
            ) => {
                let what = self.found();
                while !self.eat(";") {
                    if self.peek() == &TokenKind::End {
                        break;
                    }
                    self.advance();
                }
                items.push(Item::Unread { what, span: start });
                Ok(())
            }
            TokenKind::Keyword(k) if GATES.contains(k) => self.gates(items),
            TokenKind::Keyword(k) if direction(k).is_some() || data_kind(k).is_some() => {
                if let TokenKind::Keyword(k @ ("tri0" | "tri1" | "trireg")) = self.peek() {
                    items.push(Item::Unread { what: format!("`{k}`"), span: start });
                }
                let mut head = self.port_head()?;
                if self.at_symbol("#") {
                    self.delay()?;
                }
                self.declared_names(&mut head, start)?;
                items.push(Item::Declaration(head));
                Ok(())
            }
            TokenKind::Keyword("else") if self.empty_branch.is_some() => {
                let at = self.empty_branch.take().unwrap_or(start);
                self.fail(say::empty_branch(at))
            }
            TokenKind::Keyword(k @ ("end" | "endcase" | "endfunction" | "endtask" | "else" | "endgenerate")) => {
                self.fail(say::stray_end(k, start))
            }
            TokenKind::Keyword(k) => {
                self.fail(say::expected("a declaration, `assign` or a block", &format!("`{k}`"), start))
            }
            // Other than an instance, it is followed by a statement.
            TokenKind::Name(word)
                if word == "final" && !matches!(self.peek_at(1), TokenKind::Name(_) | TokenKind::Symbol("#")) =>
            {
                self.advance();
                let body = self.statement()?;
                items.push(Item::Final { body, span: start.to(self.last_span()) });
                Ok(())
            }
            TokenKind::Name(word) if word == "string" && matches!(self.peek_at(1), TokenKind::Name(_)) => {
                let head = self.strings()?;
                items.push(Item::Declaration(head));
                Ok(())
            }
            TokenKind::Name(_) => self.instance_or_statement(items),
            _ => {
                let found = self.found();
                self.fail(say::expected("a declaration, `assign` or a block", &found, start))
            }
        }
    }

    /// An assertion over time, or what one is made of (IEEE 1800-2017 clause 16), with its label or without.
    fn at_assertion(&self) -> bool {
        let at = |k: usize| match self.peek_at(k) {
            TokenKind::Keyword("assert") => true,
            TokenKind::Name(word) if matches!(word.as_str(), "assume" | "cover" | "restrict") => {
                matches!(self.peek_at(k + 1), TokenKind::Name(next) if next == "property")
            }
            _ => false,
        };
        let part = match (self.peek(), self.peek_at(1)) {
            (TokenKind::Name(word), TokenKind::Name(_)) => {
                let end = match word.as_str() {
                    "property" => "endproperty",
                    "sequence" => "endsequence",
                    _ => "",
                };
                !end.is_empty() && self.has_ahead(end)
            }
            _ => false,
        };
        let labelled = matches!((self.peek(), self.peek_at(1)), (TokenKind::Name(_), TokenKind::Symbol(":")));
        part || at(0) || (labelled && at(2))
    }

    /// Passes over an assertion: it says nothing of the hardware.
    fn concurrent_assertion(&mut self) {
        let start = self.span();
        if let (TokenKind::Name(word), TokenKind::Name(_)) = (self.peek(), self.peek_at(1))
            && matches!(word.as_str(), "property" | "sequence")
        {
            let end = format!("end{word}");
            while !matches!(self.peek(), TokenKind::End) && !matches!(self.peek(), TokenKind::Name(w) if *w == end) {
                self.advance();
            }
            self.advance();
            if self.eat(":") {
                self.advance();
            }
            return;
        }
        self.skip_to_semicolon();
        if self.eat_keyword("else") {
            self.skip_to_semicolon();
        }
        self.report(say::assertion_not_read(start.to(self.last_span())));
    }

    /// `defparam u1.WIDTH = 4, u2.WIDTH = 8;`
    fn defparam(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        self.advance();
        loop {
            let mut path = vec![self.name("an instance's name")?];
            while self.eat(".") {
                path.push(self.name("a parameter's name")?);
            }
            self.expect("=")?;
            let value = self.expression()?;
            items.push(Item::Defparam { path, value });
            if !self.eat(",") {
                break;
            }
        }
        self.semicolon()
    }

    fn unread_until(&mut self, end: &'static str, what: &str, items: &mut Vec<Item>) -> Parse<()> {
        let span = self.span();
        self.skip_to(&[end, "endmodule"]);
        self.eat_keyword(end);
        items.push(Item::Unread { what: what.into(), span });
        Ok(())
    }

    fn assign(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        self.advance();
        if self.at_symbol("(") && matches!(self.peek_at(1), TokenKind::Keyword(_)) {
            self.strength()?;
        }
        let delay = if self.at_symbol("#") { Some(self.delay()?) } else { None };
        loop {
            let start = self.span();
            let target = self.target()?;
            if self.at_symbol("==") {
                let at = self.span();
                return self.fail(say::equality_in_statement(at));
            }
            if self.at_symbol("<=") {
                let at = self.span();
                return self.fail(say::expected("`=`", "`<=`", at).help("`<=` assigns inside blocks only.").fix(
                    "Write `=`",
                    at,
                    "=",
                ));
            }
            self.expect("=")?;
            let value = self.expression()?;
            items.push(Item::Assign { target, value, delay, span: start.to(self.last_span()) });
            if !self.eat(",") {
                break;
            }
        }
        self.semicolon()
    }

    fn strength(&mut self) -> Parse<()> {
        let opener = self.expect("(")?;
        while matches!(self.peek(), TokenKind::Keyword(_)) || self.at_symbol(",") {
            self.advance();
        }
        self.close(")", "strength", opener)
    }

    fn parameters(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let local = self.eat_any(&["parameter", "localparam"]) == Some("localparam");
        let ty = self.parameter_type()?;
        loop {
            items.push(Item::Parameter(self.parameter_value(local, ty.clone())?));
            if !self.eat(",") {
                break;
            }
        }
        self.semicolon()
    }

    fn gates(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let kind = self.eat_any(&GATES).unwrap_or("and");
        if self.at_symbol("(") && matches!(self.peek_at(1), TokenKind::Keyword(_)) {
            self.strength()?;
        }
        let delay = if self.at_symbol("#") { Some(self.delay()?) } else { None };
        loop {
            let start = self.span();
            let name = if matches!(self.peek(), TokenKind::Name(_)) { Some(self.name("a gate's name")?) } else { None };
            let array = self.optional_range()?;
            let terminals = self.arguments()?;
            items.push(Item::Gate(Gate { delay, kind, name, array, terminals, span: start.to(self.last_span()) }));
            if !self.eat(",") {
                break;
            }
        }
        self.semicolon()
    }

    fn instance_or_statement(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let start = self.span();
        const WORDS: [&str; 14] = [
            "assign",
            "always",
            "initial",
            "input",
            "output",
            "inout",
            "wire",
            "reg",
            "logic",
            "integer",
            "parameter",
            "endmodule",
            "localparam",
            "generate",
        ];
        let third_opens = matches!(self.peek_at(2), TokenKind::Symbol("(" | "["));
        let odd = match self.peek_at(1) {
            TokenKind::Name(_) => !third_opens,
            TokenKind::Symbol("@" | "[") | TokenKind::End | TokenKind::Keyword("begin" | "module") => true,
            _ => false,
        };
        if odd && let Some(told) = self.misspelt(&WORDS) {
            return self.fail(told);
        }
        if let Some(at) = self.empty_branch.take() {
            let assigns = matches!(self.peek_at(1), TokenKind::Symbol("=" | "<="));
            if assigns {
                return self.fail(say::empty_branch(at));
            }
        }
        let is_assignment = matches!(self.peek_at(1), TokenKind::Symbol("=" | "<=" | "[" | "==" | "+="));
        if is_assignment {
            return self.fail(say::statement_outside(start));
        }
        let module = self.name("a module's name")?;
        let mut parameters = Vec::new();
        if self.eat("#") {
            if self.at_symbol("(") {
                (parameters, _) = self.connections()?;
            } else {
                let value = self.expression()?;
                let span = self.exprs[value].span;
                parameters.push(Connection { port: None, value: Some(value), span });
            }
        }
        loop {
            let at = self.span();
            if !matches!(self.peek(), TokenKind::Name(_)) {
                let (found, span) = (self.found(), self.span());
                return self.fail(say::expected(
                    &format!("a name for this instance of `{}`", module.name),
                    &found,
                    span,
                ));
            }
            let name = self.name("a name for the instance")?;
            let array = self.optional_range()?;
            if !self.at_symbol("(") {
                let (found, span) = (self.found(), self.span());
                return self.fail(say::expected("`(` and the connections", &found, span));
            }
            let (connections, wildcard) = self.connections()?;
            let span = at.to(self.last_span());
            items.push(Item::Instance(Instance {
                module: module.clone(),
                name,
                array,
                parameters: parameters.clone(),
                connections,
                wildcard,
                span,
            }));
            if !self.eat(",") {
                break;
            }
        }
        self.semicolon()
    }

    /// `(a, b)` or `(.x(a), .y(b), .*)`.
    fn connections(&mut self) -> Parse<(Vec<Connection>, bool)> {
        let opener = self.expect("(")?;
        let mut list = Vec::new();
        let mut wildcard = false;
        if self.eat(")") {
            return Ok((list, wildcard));
        }
        loop {
            let start = self.span();
            if self.eat(".") {
                if self.eat("*") {
                    wildcard = true;
                } else {
                    let port = self.name("a port's name")?;
                    let mut value = None;
                    if self.at_symbol("(") {
                        let inner = self.expect("(")?;
                        if !self.at_symbol(")") {
                            value = Some(self.expression()?);
                        }
                        self.close(")", "parenthesis", inner)?;
                    } else {
                        let span = port.span;
                        value = Some(self.node(crate::tree::NodeKind::Name(port.clone()), span));
                    }
                    list.push(Connection { port: Some(port), value, span: start.to(self.last_span()) });
                }
            } else if self.at_symbol(",") || self.at_symbol(")") {
                list.push(Connection { port: None, value: None, span: start });
            } else {
                let value = self.expression()?;
                list.push(Connection { port: None, value: Some(value), span: start.to(self.last_span()) });
            }
            if !self.eat(",") {
                if self.at_symbol(".") {
                    let after = self.last_span();
                    self.report(say::missing_comma(after));
                    continue;
                }
                break;
            }
        }
        self.close(")", "list of connections", opener)?;
        Ok((list, wildcard))
    }

    fn generate(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        self.nested(|p| p.generate_item(items))
    }

    fn generate_item(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let start = self.span();
        if self.eat_keyword("for") {
            let opener = self.expect("(")?;
            self.eat_keyword("genvar");
            let variable = self.name("the loop's variable")?;
            self.expect("=")?;
            let from = self.expression()?;
            self.semicolon()?;
            let condition = self.expression()?;
            self.semicolon()?;
            let step = self.step(&variable)?;
            self.close(")", "parenthesis", opener)?;
            let (label, body) = self.generate_body()?;
            items.push(Item::GenerateFor { variable, start: from, condition, step, label, items: body, span: start });
            return Ok(());
        }
        if self.eat_keyword("if") {
            let condition = self.condition()?;
            let then = self.generate_branch()?;
            let otherwise = if self.eat_keyword("else") { self.generate_branch()? } else { Vec::new() };
            items.push(Item::GenerateIf { condition, then, otherwise });
            return Ok(());
        }
        let (label, body) = self.generate_body()?;
        items.push(Item::GenerateBlock { label, items: body });
        Ok(())
    }

    /// `case (N) 1: …; default: … endcase` among the items, as a chain of conditions.
    fn generate_case(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let start = self.advance().span;
        let opener = self.expect("(")?;
        let subject = self.expression()?;
        self.close(")", "parenthesis", opener)?;
        let mut arms: Vec<(Option<NodeId>, Vec<Item>)> = Vec::new();
        while !self.eat_keyword("endcase") {
            let at = self.span();
            if matches!(self.peek(), TokenKind::End | TokenKind::Keyword("endmodule")) {
                return self.fail(say::unclosed("`case`", "endcase", start, at));
            }
            let condition = if self.eat_keyword("default") {
                self.eat(":");
                None
            } else {
                let mut sum: Option<NodeId> = None;
                loop {
                    let choice = self.expression()?;
                    let same = self.node(NodeKind::Binary(Binary::CaseEqual, subject, choice), at);
                    sum = Some(match sum {
                        None => same,
                        Some(before) => self.node(NodeKind::Binary(Binary::LogicalOr, before, same), at),
                    });
                    if !self.eat(",") {
                        break;
                    }
                }
                self.expect(":")?;
                sum
            };
            let body = self.generate_branch()?;
            arms.push((condition, body));
        }
        // Where no choice fits, the default counts, wherever it stands.
        arms.sort_by_key(|(condition, _)| condition.is_none());
        let mut rest: Vec<Item> = Vec::new();
        for (condition, body) in arms.into_iter().rev() {
            rest = match condition {
                None => body,
                Some(condition) => vec![Item::GenerateIf { condition, then: body, otherwise: rest }],
            };
        }
        items.extend(rest);
        Ok(())
    }

    /// The items of a branch; those that stand under a label as a block of that name.
    fn generate_branch(&mut self) -> Parse<Vec<Item>> {
        Ok(match self.generate_body()? {
            (None, items) => items,
            (label, items) => vec![Item::GenerateBlock { label, items }],
        })
    }

    fn generate_body(&mut self) -> Parse<(Option<crate::tree::Ident>, Vec<Item>)> {
        let mut body = Vec::new();
        let opener = self.span();
        if !self.eat_keyword("begin") {
            self.item(&mut body)?;
            return Ok((None, body));
        }
        let label = if self.eat(":") { Some(self.name("the block's label")?) } else { None };
        while !self.eat_keyword("end") {
            if matches!(self.peek(), TokenKind::End | TokenKind::Keyword("endmodule" | "endgenerate")) {
                let at = self.span();
                return self.fail(say::unclosed("`begin`", "end", opener, at));
            }
            self.item(&mut body)?;
        }
        if self.eat(":") {
            self.name("the block's label")?;
        }
        Ok((label, body))
    }

    fn routine(&mut self) -> Parse<Routine> {
        let start = self.span();
        let is_function = self.advance().kind == TokenKind::Keyword("function");
        let automatic = self.eat_keyword("automatic");
        if !automatic && matches!(self.peek(), TokenKind::Name(n) if n == "static") {
            self.advance();
        }
        let mut result = None;
        if is_function && !self.eat_keyword("void") {
            let mut head = self.port_head()?;
            head.span = start;
            result = Some(head);
        }
        let name = self.name("a name for it")?;
        let mut declarations: Vec<Declaration> = Vec::new();
        if self.at_symbol("(") {
            self.routine_ports(&mut declarations)?;
        }
        self.semicolon()?;
        let end = if is_function { "endfunction" } else { "endtask" };
        let mut body = Vec::new();
        while !self.eat_keyword(end) {
            let at = self.span();
            match self.peek() {
                TokenKind::End | TokenKind::Keyword("endmodule") => {
                    let what = if is_function { "function" } else { "task" };
                    return self.fail(say::unclosed(what, end, start, at));
                }
                TokenKind::Keyword(k) if direction(k).is_some() || data_kind(k).is_some() => {
                    let mut head = self.port_head()?;
                    self.declared_names(&mut head, at)?;
                    declarations.push(head);
                }
                TokenKind::Name(word)
                    if self.at_named_type() || word == "string" && matches!(self.peek_at(1), TokenKind::Name(_)) =>
                {
                    let mut head = self.port_head()?;
                    self.declared_names(&mut head, at)?;
                    declarations.push(head);
                }
                TokenKind::Keyword("automatic") => {
                    self.advance();
                }
                _ => body.push(self.statement()?),
            }
        }
        if self.eat(":") {
            self.name("its name")?;
        }
        Ok(Routine { name, result, declarations, body, automatic, span: start.to(self.last_span()) })
    }

    fn routine_ports(&mut self, declarations: &mut Vec<Declaration>) -> Parse<()> {
        let opener = self.expect("(")?;
        if self.eat(")") {
            return Ok(());
        }
        let mut head: Option<Declaration> = None;
        loop {
            let start = self.span();
            let is_text = matches!((self.peek(), self.peek_at(1)), (TokenKind::Name(word), TokenKind::Name(_)) if word == "string");
            if matches!(self.peek(), TokenKind::Keyword(_)) || self.at_symbol("[") || self.at_named_type() || is_text {
                let mut new = self.port_head()?;
                if new.direction.is_none() {
                    new.direction = head.as_ref().and_then(|h| h.direction).or(Some(crate::tree::PortDirection::Input));
                }
                head = Some(new);
            }
            let name = self.name("a parameter's name")?;
            let mut declaration = head.clone().unwrap_or(Declaration {
                direction: Some(crate::tree::PortDirection::Input),
                kind: None,
                ty: Packed::default(),
                names: Vec::new(),
                span: start,
            });
            let dimensions = self.dimensions()?;
            let value = if self.eat("=") { Some(self.expression()?) } else { None };
            declaration.names = vec![crate::tree::DeclaredName { name, dimensions, value }];
            declarations.push(declaration);
            if !self.eat(",") {
                break;
            }
        }
        self.close(")", "parenthesis", opener)
    }
}
