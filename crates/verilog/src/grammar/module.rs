//! Module headers and bodies (IEEE 1364-2005 clause 12).

use super::{Lost, Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::TokenKind;
use crate::tree::{DataKind, Declaration, DeclaredName, Ident, Item, Module, Parameter, PortDirection, Range};
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
        "logic" | "bit" => DataKind::Logic,
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
        let start = self.advance().span;
        let name = self.name("the module's name")?;
        let mut items = Vec::new();
        self.shared_items(&mut items)?;
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
        let exprs = std::mem::take(&mut self.exprs);
        Ok(Module { name, header, port_names, items, exprs })
    }

    fn parameter_ports(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let opener = self.expect("(")?;
        if self.eat(")") {
            return Ok(());
        }
        let mut local = false;
        let mut signed = false;
        let mut range = None;
        loop {
            if let Some(word) = self.eat_any(&["parameter", "localparam"]) {
                local = word == "localparam";
                (signed, range) = self.parameter_type()?;
            }
            items.push(Item::Parameter(self.parameter_value(local, signed, range.clone())?));
            if !self.eat(",") {
                break;
            }
        }
        self.close(")", "parenthesis", opener)
    }

    /// `signed [7:0]`, `integer` and the like behind `parameter`.
    pub(super) fn parameter_type(&mut self) -> Parse<(bool, Option<Range>)> {
        let mut signed = self
            .eat_any(&["integer", "int", "real", "time", "logic", "bit", "reg"])
            .is_some_and(|k| k == "integer" || k == "int");
        signed |= self.eat_keyword("signed");
        self.eat_keyword("unsigned");
        Ok((signed, self.optional_range()?))
    }

    pub(super) fn parameter_value(&mut self, local: bool, signed: bool, range: Option<Range>) -> Parse<Parameter> {
        let name = self.name("the parameter's name")?;
        self.expect("=")?;
        let value = self.expression()?;
        Ok(Parameter { name, local, signed, range, value })
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
                break;
            }
        }
        self.close(")", "port list", opener)
    }

    /// Direction, kind, sign and range of a port.
    pub(super) fn port_head(&mut self) -> Parse<Declaration> {
        let start = self.span();
        let way = self.eat_any(&["input", "output", "inout"]).and_then(direction);
        let mut kind = None;
        if let TokenKind::Keyword(k) = self.peek()
            && let Some(found) = data_kind(k)
        {
            self.advance();
            kind = Some(found);
        }
        if kind.is_none()
            && self.at_named_type()
            && let Some((signed, range)) = self.named_type()
        {
            let kind = Some(DataKind::Logic);
            return Ok(Declaration { direction: way, kind, signed, range, names: Vec::new(), span: start });
        }
        let signed = self.sign() || kind == Some(DataKind::Integer);
        let range = self.optional_range()?;
        Ok(Declaration { direction: way, kind, signed, range, names: Vec::new(), span: start.to(self.last_span()) })
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
        let range = self.range()?;
        if self.at_symbol("[") {
            let span = self.span();
            return self.fail(say::not_understood_yet("A vector of vectors", span));
        }
        Ok(Some(range))
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
            list.push(self.range()?);
        }
        Ok(list)
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
