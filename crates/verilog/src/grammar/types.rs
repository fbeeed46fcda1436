//! `typedef` and `enum` (IEEE 1800-2017 6.18 and 6.19), and what stands before the modules of a file.

use super::{Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::{Number, TokenKind};
use crate::tree::{Binary, DataKind, Declaration, Item, NodeKind, Parameter, Range};
use logic::LogicVector;

/// A type of its own name: signed or not, and its bounds.
#[derive(Clone, Debug)]
pub(super) struct NamedType {
    signed: bool,
    range: Option<Range>,
}

impl Parser<'_, '_> {
    /// True when a declaration with a type of one's own begins here: `state_t state;`.
    pub(super) fn at_named_type(&self) -> bool {
        matches!(self.peek(), TokenKind::Name(name) if self.types.contains_key(name))
            && matches!(self.peek_at(1), TokenKind::Name(_))
    }

    /// Takes the type's name and says what it stands for.
    pub(super) fn named_type(&mut self) -> Option<(bool, Option<Range>)> {
        let TokenKind::Name(name) = self.peek() else { return None };
        let found = self.types.get(name).cloned()?;
        self.advance();
        Some((found.signed, found.range))
    }

    /// `typedef enum logic [1:0] {A, B} state_t;`, `typedef logic [3:0] nibble_t;`
    pub(super) fn typedef(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let start = self.span();
        self.advance();
        let found = if self.at_keyword("enum") {
            self.enumeration(items)?
        } else if matches!(self.peek(), TokenKind::Keyword("logic" | "reg" | "bit" | "integer" | "int" | "wire")) {
            let head = self.port_head()?;
            NamedType { signed: head.signed, range: head.range }
        } else {
            let what = self.found();
            self.skip_declaration();
            items.push(Item::Unread { what: format!("The type {what}"), span: start });
            return Ok(());
        };
        let name = self.name("the type's name")?;
        self.types.insert(name.name, found);
        self.semicolon()
    }

    /// `enum logic [1:0] {A, B} state, next;`
    pub(super) fn enum_variables(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let start = self.span();
        let found = self.enumeration(items)?;
        let mut head = Declaration {
            direction: None,
            kind: Some(DataKind::Logic),
            signed: found.signed,
            range: found.range,
            names: Vec::new(),
            span: start,
        };
        self.declared_names(&mut head, start)?;
        items.push(Item::Declaration(head));
        Ok(())
    }

    /// The list of an enumeration; its names become constants, each one more than the one before it.
    fn enumeration(&mut self, items: &mut Vec<Item>) -> Parse<NamedType> {
        self.advance();
        let based = matches!(self.peek(), TokenKind::Keyword(_)) || self.at_symbol("[");
        let head = if based { Some(self.port_head()?) } else { None };
        let signed = head.as_ref().is_none_or(|h| h.signed);
        let span = self.span();
        let range = match head {
            Some(head) => head.range,
            None => {
                let (left, right) = (self.number(31), self.number(0));
                Some(Range { left, right, span })
            }
        };
        let opener = self.expect("{")?;
        let mut before: Option<crate::tree::Ident> = None;
        loop {
            let name = self.name("the name of a value")?;
            let value = if self.eat("=") {
                self.expression()?
            } else {
                match before {
                    None => self.number(0),
                    Some(previous) => {
                        let span = previous.span;
                        let left = self.node(NodeKind::Name(previous), span);
                        let one = self.number(1);
                        self.node(NodeKind::Binary(Binary::Add, left, one), span)
                    }
                }
            };
            before = Some(name.clone());
            items.push(Item::Parameter(Parameter { name, local: true, signed, range: range.clone(), value }));
            if !self.eat(",") {
                break;
            }
        }
        self.close("}", "list of values", opener)?;
        Ok(NamedType { signed, range })
    }

    pub(super) fn number(&mut self, n: u64) -> crate::tree::NodeId {
        let value = LogicVector::from_u64(32, n);
        let span = self.span();
        self.node(NodeKind::Number(Number { value, signed: true, unsized_: true, fill: false }), span)
    }

    fn skip_declaration(&mut self) {
        let mut braces = 0u32;
        while self.peek() != &TokenKind::End {
            if self.at_symbol("{") {
                braces += 1;
            } else if self.at_symbol("}") {
                braces = braces.saturating_sub(1);
            } else if self.at_symbol(";") && braces == 0 {
                self.advance();
                return;
            }
            self.advance();
        }
    }

    /// Before the modules: types, constants and functions that every module of the file sees. False when nothing of
    /// the kind stands here.
    pub(super) fn file_item(&mut self) -> bool {
        let at = self.at;
        match self.peek() {
            TokenKind::Keyword("typedef" | "parameter" | "localparam") => self.skip_declaration(),
            TokenKind::Keyword("function" | "task") => {
                self.skip_to(&["endfunction", "endtask", "module"]);
                self.advance();
            }
            TokenKind::Name(word) if word == "import" || word == "package" || word == "interface" => {
                let span = self.span();
                self.report(say::not_understood_yet(&format!("`{word}`"), span));
                self.broken = true;
                self.skip_to(&["module"]);
                return true;
            }
            _ => return false,
        }
        self.shared.push(at);
        true
    }

    /// Reads what the file shares into a module, as if it stood at its beginning.
    pub(super) fn shared_items(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        self.types.clear();
        let here = self.at;
        for at in self.shared.clone() {
            self.at = at;
            self.item(items)?;
        }
        self.at = here;
        Ok(())
    }
}
