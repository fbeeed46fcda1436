//! Module headers and bodies (IEEE 1364-2005 clause 12).

use super::{Lost, Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::TokenKind;
use crate::tree::{
    Binary, DataKind, Declaration, DeclaredName, Domain, Ident, Item, Module, NodeKind, Packed, Parameter,
    PortDirection, Range,
};
use base::Span;

pub(super) fn direction(keyword: &str) -> Option<PortDirection> {
    Some(match keyword {
        "input" => PortDirection::Input,
        "output" => PortDirection::Output,
        "inout" => PortDirection::InOut,
        _ => return None,
    })
}

pub(super) fn data_kind(keyword: &str) -> Option<DataKind> {
    Some(match keyword {
        "wire" | "tri" | "tri0" | "tri1" | "trireg" => DataKind::Wire,
        "wand" | "triand" => DataKind::WiredAnd,
        "wor" | "trior" => DataKind::WiredOr,
        "supply0" => DataKind::Supply0,
        "supply1" => DataKind::Supply1,
        "reg" => DataKind::Reg,
        "logic" | "bit" | "byte" | "shortint" | "longint" => DataKind::Logic,
        "integer" | "int" => DataKind::Integer,
        "time" => DataKind::Time,
        "real" | "realtime" => DataKind::Real,
        "genvar" => DataKind::Genvar,
        "event" => DataKind::Event,
        _ => return None,
    })
}

impl Parser<'_, '_> {
    pub(super) fn module(&mut self) -> Parse<Module> {
        let ((unit, precision), implicit_nets) = self.directives();
        let has_timescale = self.has_timescale();
        self.scale = (None, None);
        let start = self.advance().span;
        self.eat_keyword("automatic");
        let name = self.name("the module's name")?;
        if self.at_symbol("-") {
            let span = name.span.to(self.span());
            return self.fail(say::bad_name(&format!("{}-…", name.name), span));
        }
        let mut items = Vec::new();
        self.shared_items(&mut items)?;
        while self.at_keyword("import") {
            self.import(&mut items)?;
        }
        if self.eat("#") {
            self.parameter_ports(&mut items)?;
        }
        let mut port_names = Vec::new();
        if self.at_symbol("(") {
            self.ports(&mut port_names, &mut items)?;
        }
        self.semicolon()?;
        let header = start.to(self.last_span());
        loop {
            match self.peek() {
                TokenKind::Keyword("endmodule") => {
                    self.advance();
                    if self.eat(":") {
                        let _ = self.name("the module's name");
                    }
                    break;
                }
                TokenKind::End | TokenKind::Keyword("module") => {
                    let at = self.span();
                    self.report(say::missing_endmodule(&name.name, header, at));
                    break;
                }
                _ => {
                    let before = self.at;
                    if let Err(Lost) = self.item(&mut items) {
                        self.skip_item();
                    }
                    if self.at == before {
                        self.advance();
                    }
                }
            }
        }
        let mut imported = std::mem::take(&mut self.pending);
        if !imported.is_empty() {
            imported.append(&mut items);
            items = imported;
        }
        let exprs = std::mem::take(&mut self.exprs);
        let (unit, precision) = (self.scale.0.unwrap_or(unit), self.scale.1.or(self.scale.0).unwrap_or(precision));
        let has_timescale = has_timescale || self.scale.0.is_some();
        Ok(Module { name, header, port_names, items, exprs, unit, precision, has_timescale, implicit_nets })
    }

    fn parameter_ports(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let opener = self.expect("(")?;
        if self.eat(")") {
            return Ok(());
        }
        let mut local = false;
        let mut ty = Packed::default();
        loop {
            if let Some(word) = self.eat_any(&["parameter", "localparam"]) {
                local = word == "localparam";
                ty = self.parameter_type()?;
            } else if matches!(self.peek(), TokenKind::Keyword(_)) {
                ty = self.parameter_type()?;
            }
            if matches!((self.peek(), self.peek_at(1)), (TokenKind::Name(word), TokenKind::Name(_)) if word == "type") {
                let span = self.span();
                return self.fail(say::not_understood_yet("A type as a parameter", span));
            }
            items.push(Item::Parameter(self.parameter_value(local, ty.clone())?));
            if !self.eat(",") {
                break;
            }
        }
        self.close(")", "parenthesis", opener)
    }

    /// `signed [7:0]`, `integer` and the like behind `parameter`.
    pub(super) fn parameter_type(&mut self) -> Parse<Packed> {
        if self.at_named_type()
            && let Some(ty) = self.named_type()?
        {
            return Ok(ty);
        }
        let text = self.eat_string_word();
        let words =
            ["integer", "int", "byte", "shortint", "longint", "real", "realtime", "time", "logic", "bit", "reg"];
        let word = self.eat_any(&words);
        let mut signed = word.is_some_and(|k| matches!(k, "integer" | "int" | "byte" | "shortint" | "longint"));
        signed |= self.eat_keyword("signed");
        self.eat_keyword("unsigned");
        let mut ty = self.packed_ranges()?;
        ty.signed = signed;
        ty.domain = match word {
            _ if text => Some(Domain::Text),
            Some("real" | "realtime") => Some(Domain::Real),
            Some(_) => Some(Domain::Bits),
            None => None,
        };
        Ok(ty)
    }

    /// `string` where another name follows.
    fn eat_string_word(&mut self) -> bool {
        let found =
            matches!((self.peek(), self.peek_at(1)), (TokenKind::Name(word), TokenKind::Name(_)) if word == "string");
        if found {
            self.advance();
        }
        found
    }

    pub(super) fn parameter_value(&mut self, local: bool, ty: Packed) -> Parse<Parameter> {
        let name = self.name("the parameter's name")?;
        let dimensions = self.dimensions()?;
        self.expect("=")?;
        let value = self.expression()?;
        Ok(Parameter { name, local, ty, dimensions, value })
    }

    fn ports(&mut self, names: &mut Vec<Ident>, items: &mut Vec<Item>) -> Parse<()> {
        let opener = self.expect("(")?;
        if self.eat(")") {
            return Ok(());
        }
        let mut current: Option<Declaration> = None;
        let mut told = false;
        loop {
            if self.at_symbol(")") {
                let at = self.last_span();
                if !told {
                    self.report(say::semicolon_after_last_port(at));
                }
                break;
            }
            let start = self.span();
            let declares = self.at_named_type()
                || matches!(self.peek(), TokenKind::Keyword(k) if direction(k).is_some() || data_kind(k).is_some());
            if declares {
                let mut declaration = self.port_head()?;
                // `input a, wire b`: the direction goes on.
                if declaration.direction.is_none() {
                    declaration.direction = current.as_ref().and_then(|c| c.direction);
                }
                current = Some(declaration);
            }
            if self.at_symbol(".") {
                return self.fail(say::not_understood_yet("A port expression", start));
            }
            let name = self.name("a port's name")?;
            names.push(name.clone());
            if let Some(head) = &current {
                let mut declaration = head.clone();
                let dimensions = self.dimensions()?;
                let value = if self.eat("=") { Some(self.expression()?) } else { None };
                declaration.span = start.to(self.last_span());
                declaration.names = vec![DeclaredName { name, dimensions, value }];
                items.push(Item::Declaration(declaration));
            }
            if self.at_symbol(";") {
                let at = self.span();
                self.advance();
                // The same slip at every port is told once.
                let last = self.at_symbol(")");
                if !told {
                    self.report(if last {
                        say::semicolon_after_last_port(at)
                    } else {
                        say::semicolon_between_ports(at)
                    });
                }
                told = true;
                if last {
                    break;
                }
                continue;
            }
            if !self.eat(",") {
                let declares = matches!(self.peek(), TokenKind::Keyword(k) if direction(k).is_some());
                if declares || matches!(self.peek(), TokenKind::Name(_)) && !self.at_symbol(")") {
                    if let Some(told) = self.misspelt_direction() {
                        return self.fail(told);
                    }
                    let after = self.last_span();
                    self.report(say::missing_comma(after));
                    continue;
                }
                break;
            }
        }
        self.close(")", "port list", opener)
    }

    /// `inptu a`: the name before the one at the cursor was meant as a direction.
    fn misspelt_direction(&self) -> Option<base::Diagnostic> {
        let before = &self.tokens[self.at.saturating_sub(1)];
        let TokenKind::Name(name) = &before.kind else { return None };
        let near = base::nearest(name, ["input", "output", "inout"])?;
        Some(say::misspelt_word(name, near, before.span))
    }

    /// Direction, kind, sign and range of a port.
    pub(super) fn port_head(&mut self) -> Parse<Declaration> {
        let start = self.span();
        let way = self.eat_any(&["input", "output", "inout"]).and_then(direction);
        self.eat_keyword("var");
        if self.eat_string_word() {
            let (kind, ty) = (Some(DataKind::Text), Packed::default());
            return Ok(Declaration { direction: way, kind, ty, names: Vec::new(), span: start });
        }
        let mut kind = None;
        let mut kind_word = "";
        if let TokenKind::Keyword(k) = self.peek()
            && let Some(found) = data_kind(k)
        {
            self.advance();
            kind_word = k;
            kind = Some(found);
        }
        // `output wire logic x`, `input var logic x`: the second word says the same again.
        if matches!(kind, Some(DataKind::Wire)) && self.eat_keyword("logic") {
            kind = Some(DataKind::Wire);
        }
        if matches!(self.peek(), TokenKind::Keyword("vectored" | "scalared" | "var")) {
            self.advance();
        }
        let structure = self.at_structure();
        if structure || self.at_named_type() {
            let found = if structure { Some(self.structure()?) } else { self.named_type()? };
            if let Some(mut ty) = found {
                let around = self.packed_ranges()?;
                ty.outer.splice(0..0, around.outer.into_iter().chain(around.range));
                let kind = kind.or(Some(DataKind::Logic));
                return Ok(Declaration { direction: way, kind, ty, names: Vec::new(), span: start });
            }
        }
        let bits = match kind_word {
            "byte" => Some(8),
            "shortint" => Some(16),
            "longint" => Some(64),
            _ => None,
        };
        let unsigned = self.at_keyword("unsigned");
        let signed = self.sign() || (kind == Some(DataKind::Integer) || bits.is_some()) && !unsigned;
        let mut ty = self.packed_ranges()?;
        ty.signed = signed;
        ty.two_state = matches!(kind_word, "bit" | "byte" | "shortint" | "int" | "longint");
        if let Some(bits) = bits {
            let (left, right) = (self.number(bits - 1), self.number(0));
            ty.range = Some(Range { left, right, span: start });
        }
        Ok(Declaration { direction: way, kind, ty, names: Vec::new(), span: start.to(self.last_span()) })
    }

    /// `[1:0][7:0]`: the last bounds are those of the innermost vector.
    pub(super) fn packed_ranges(&mut self) -> Parse<Packed> {
        let mut outer = Vec::new();
        while self.at_symbol("[") {
            outer.push(self.range()?);
            if outer.len() > 6 {
                let span = self.span();
                return self.fail(say::too_deep(span));
            }
        }
        let range = outer.pop();
        Ok(Packed { range, outer, ..Packed::default() })
    }

    pub(super) fn sign(&mut self) -> bool {
        let signed = self.eat_keyword("signed");
        self.eat_keyword("unsigned");
        signed
    }

    pub(super) fn optional_range(&mut self) -> Parse<Option<Range>> {
        if !self.at_symbol("[") {
            return Ok(None);
        }
        Ok(Some(self.range()?))
    }

    pub(super) fn range(&mut self) -> Parse<Range> {
        let opener = self.expect("[")?;
        let left = self.expression()?;
        let right = if self.eat(":") {
            self.expression()?
        } else {
            let (found, span) = (self.found(), self.span());
            return self.fail(say::expected("`:` and the other bound", &found, span));
        };
        self.close("]", "bracket", opener)?;
        Ok(Range { left, right, span: opener.to(self.last_span()) })
    }

    pub(super) fn dimensions(&mut self) -> Parse<Vec<Range>> {
        let mut list = Vec::new();
        while self.at_symbol("[") {
            list.push(self.dimension()?);
        }
        Ok(list)
    }

    /// Bounds, or a number of elements: `[4]` stands for `[0:3]`.
    fn dimension(&mut self) -> Parse<Range> {
        let at = self.at;
        let opener = self.expect("[")?;
        if self.at_symbol("]") || self.at_symbol("$") {
            return self.fail(say::not_understood_yet("An array that grows", opener));
        }
        let count = self.expression()?;
        if !self.at_symbol("]") {
            self.at = at;
            return self.range();
        }
        self.advance();
        let span = opener.to(self.last_span());
        let (left, one) = (self.number(0), self.number(1));
        let right = self.node(NodeKind::Binary(Binary::Sub, count, one), span);
        Ok(Range { left, right, span })
    }

    /// The names of a declaration, up to and with the `;`.
    pub(super) fn declared_names(&mut self, head: &mut Declaration, start: Span) -> Parse<()> {
        loop {
            let name = self.name("a signal's name")?;
            let dimensions = self.dimensions()?;
            let value = if self.eat("=") { Some(self.expression()?) } else { None };
            head.names.push(DeclaredName { name, dimensions, value });
            if !self.eat(",") {
                break;
            }
        }
        head.span = start.to(self.last_span());
        self.semicolon()
    }
}
