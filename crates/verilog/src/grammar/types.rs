//! `typedef`, `enum`, `struct packed` and packages (IEEE 1800-2017 6.18, 6.19, 7.2 and 26), and what stands before the
//! modules of a file.

use super::{Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::{Number, TokenKind};
use crate::tree::{Binary, DataKind, Declaration, Field, Item, NodeId, NodeKind, Packed, Parameter, Range};
use logic::LogicVector;
use std::sync::Arc;

impl Parser<'_, '_> {
    /// True when a declaration with a type of one's own begins here: `state_t state;`, `state_t [1:0] pair;`,
    /// `pkg::state_t state;`.
    pub(super) fn at_named_type(&self) -> bool {
        let TokenKind::Name(name) = self.peek() else { return false };
        if matches!(self.peek_at(1), TokenKind::Symbol("::")) {
            return matches!(
                (self.peek_at(2), self.peek_at(3)),
                (TokenKind::Name(_), TokenKind::Name(_) | TokenKind::Symbol("["))
            );
        }
        self.types.contains_key(name) && matches!(self.peek_at(1), TokenKind::Name(_) | TokenKind::Symbol("["))
    }

    /// `struct packed {…}` or `union packed {…}`.
    pub(super) fn at_structure(&self) -> bool {
        matches!(self.peek(), TokenKind::Keyword("struct" | "union"))
    }

    /// Takes the type's name and says what it stands for.
    pub(super) fn named_type(&mut self) -> Parse<Option<Packed>> {
        if matches!(self.peek_at(1), TokenKind::Symbol("::")) {
            self.package_prefix()?;
        }
        let TokenKind::Name(name) = self.peek() else { return Ok(None) };
        let Some(found) = self.types.get(name).cloned() else { return Ok(None) };
        self.advance();
        Ok(Some(found))
    }

    /// `typedef enum logic [1:0] {A, B} state_t;`, `typedef logic [3:0] nibble_t;`, `typedef struct packed {…} word_t;`
    pub(super) fn typedef(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let start = self.span();
        self.advance();
        let known = self.at_named_type()
            || matches!(self.peek(), TokenKind::Keyword(k) if super::module::data_kind(k).is_some() || *k == "struct")
            || self.at_structure();
        let found = if self.at_keyword("enum") {
            self.enumeration(items)?
        } else if known {
            let head = self.port_head()?;
            match head.kind {
                Some(DataKind::Integer) => Packed { two_state: head.ty.two_state, ..self.bits(31, true) },
                _ => head.ty,
            }
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

    fn bits(&mut self, top: u64, signed: bool) -> Packed {
        let (left, right, span) = (self.number(top), self.number(0), self.span());
        Packed { signed, range: Some(Range { left, right, span }), ..Packed::default() }
    }

    /// `struct packed { logic [3:0] high; logic low; }`; one that isn't packed holds the same fields.
    pub(super) fn structure(&mut self) -> Parse<Packed> {
        let is_union = !self.at_keyword("struct");
        self.advance();
        self.eat_keyword("packed");
        let signed = self.sign();
        let opener = self.expect("{")?;
        let mut fields = Vec::new();
        self.nested(|p| {
            while !p.eat("}") {
                let at = p.span();
                if matches!(p.peek(), TokenKind::End | TokenKind::Keyword("endmodule")) {
                    return p.fail(say::unclosed("structure", "}", opener, at));
                }
                if matches!(p.peek(), TokenKind::Name(word) if word == "string") {
                    return p.fail(say::not_understood_yet("A structure with a `string`", at));
                }
                let mut ignored = Vec::new();
                let mut ty = if p.at_keyword("enum") {
                    p.enumeration(&mut ignored)?
                } else {
                    let head = p.port_head()?;
                    if head.kind == Some(DataKind::Integer) { p.bits(31, true) } else { head.ty }
                };
                p.pending.append(&mut ignored);
                loop {
                    let name = p.name("a field's name")?;
                    fields.push(Field { name, ty: ty.clone() });
                    if !p.eat(",") {
                        break;
                    }
                }
                ty.outer.clear();
                p.semicolon()?;
            }
            Ok(())
        })?;
        Ok(Packed { signed, is_union, fields: Some(Arc::new(fields)), ..Packed::default() })
    }

    /// `enum logic [1:0] {A, B} state, next;`
    pub(super) fn enum_variables(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        let start = self.span();
        let ty = self.enumeration(items)?;
        let mut head = Declaration { direction: None, kind: Some(DataKind::Logic), ty, names: Vec::new(), span: start };
        self.declared_names(&mut head, start)?;
        items.push(Item::Declaration(head));
        Ok(())
    }

    /// The list of an enumeration; its names become constants, each one more than the one before it.
    fn enumeration(&mut self, items: &mut Vec<Item>) -> Parse<Packed> {
        self.advance();
        let based = matches!(self.peek(), TokenKind::Keyword(_)) || self.at_symbol("[") || self.at_named_type();
        let head = if based { Some(self.port_head()?) } else { None };
        let ty = match head {
            Some(head) if head.kind != Some(DataKind::Integer) => head.ty,
            // Without a base it is `int` (IEEE 1800-2017 6.19).
            head => Packed { two_state: head.is_none_or(|h| h.ty.two_state), ..self.bits(31, true) },
        };
        let opener = self.expect("{")?;
        let mut before: Option<crate::tree::Ident> = None;
        let mut values = Vec::new();
        loop {
            if self.at_symbol("}") && before.is_some() {
                break;
            }
            let written = self.name("the name of a value")?;
            let mut first = None;
            for name in self.numbered(written)? {
                let value = match (first, before) {
                    (None, _) if self.eat("=") => self.expression()?,
                    (_, None) => self.number(0),
                    (_, Some(previous)) => {
                        let span = previous.span;
                        let left = self.node(NodeKind::Name(previous), span);
                        let one = self.number(1);
                        self.node(NodeKind::Binary(Binary::Add, left, one), span)
                    }
                };
                first = Some(());
                before = Some(name.clone());
                values.push(name.name.clone());
                let parameter = Parameter { name, local: true, ty: ty.clone(), dimensions: Vec::new(), value };
                items.push(Item::Parameter(parameter));
            }
            if !self.eat(",") {
                break;
            }
        }
        self.close("}", "list of values", opener)?;
        Ok(Packed { values: values.into(), ..ty })
    }

    /// `bit[3]` stands for bit0, bit1 and bit2, `bit[1:4]` for bit1 to bit4 (IEEE 1800-2017 6.19.2).
    fn numbered(&mut self, name: crate::tree::Ident) -> Parse<Vec<crate::tree::Ident>> {
        if !self.eat("[") {
            return Ok(vec![name]);
        }
        let first = self.plain_number()?;
        let (from, to) = if self.eat(":") { (first, self.plain_number()?) } else { (0, first.saturating_sub(1)) };
        self.expect("]")?;
        if from.abs_diff(to) > 1_000 {
            return self.fail(say::too_deep(name.span));
        }
        let numbers: Vec<u64> = if from <= to { (from..=to).collect() } else { (to..=from).rev().collect() };
        let named = |n: u64| crate::tree::Ident { name: format!("{}{n}", name.name), span: name.span };
        Ok(numbers.into_iter().map(named).collect())
    }

    fn plain_number(&mut self) -> Parse<u64> {
        let (found, span) = (self.found(), self.span());
        if let TokenKind::Number(number) = self.peek()
            && let Some(value) = number.value.to_u64()
        {
            self.advance();
            return Ok(value);
        }
        self.fail(say::expected("a number", &found, span))
    }

    pub(super) fn number(&mut self, n: u64) -> NodeId {
        let value = LogicVector::from_u64(32, n);
        let span = self.span();
        self.node(NodeKind::Number(Number { value, signed: true, unsized_: true, fill: false }), span)
    }

    /// `string s, t;`
    pub(super) fn strings(&mut self) -> Parse<Declaration> {
        let span = self.advance().span;
        let ty = Packed::default();
        let mut head = Declaration { direction: None, kind: Some(DataKind::Text), ty, names: Vec::new(), span };
        self.declared_names(&mut head, span)?;
        Ok(head)
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

    /// Before the modules: types, constants and functions that every module of the file sees, and packages. False when
    /// nothing of the kind stands here.
    pub(super) fn file_item(&mut self) -> bool {
        let at = self.at;
        match self.peek() {
            TokenKind::Keyword("typedef" | "parameter" | "localparam" | "import") => self.skip_declaration(),
            TokenKind::Keyword("function" | "task") => {
                self.skip_to(&["endfunction", "endtask", "module"]);
                self.advance();
            }
            TokenKind::Keyword("package") => {
                let opener = self.span();
                self.skip_to(&["endpackage", "module"]);
                if !self.eat_keyword("endpackage") {
                    let here = self.span();
                    self.report(say::unclosed("package", "endpackage", opener, here));
                    self.broken = true;
                }
                if self.eat(":") {
                    self.advance();
                }
                return true;
            }
            // For the whole file: hardware has no time, and testbenches say theirs in their modules.
            TokenKind::Name(word) if matches!(word.as_str(), "timeunit" | "timeprecision") => self.skip_declaration(),
            TokenKind::Name(word) if word == "interface" => {
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
        self.imported.clear();
        let here = self.at;
        for at in self.shared.clone() {
            self.at = at;
            if let Err(lost) = self.item(items) {
                self.at = here;
                return Err(lost);
            }
        }
        self.at = here;
        Ok(())
    }

    /// `import pkg::*;`, `import a::x, b::*;`: everything of the package is seen, whichever name was asked for.
    pub(super) fn import(&mut self, items: &mut Vec<Item>) -> Parse<()> {
        self.advance();
        loop {
            let name = self.name("a package's name")?;
            self.expect("::")?;
            if !self.eat("*") {
                self.name("a name of the package")?;
            }
            self.read_package(&name, items)?;
            if !self.eat(",") {
                break;
            }
        }
        self.semicolon()
    }

    /// `pkg::` before a name.
    pub(super) fn package_prefix(&mut self) -> Parse<()> {
        let name = self.name("a package's name")?;
        self.expect("::")?;
        let mut items = Vec::new();
        self.read_package(&name, &mut items)?;
        self.pending.append(&mut items);
        Ok(())
    }

    fn read_package(&mut self, name: &crate::tree::Ident, items: &mut Vec<Item>) -> Parse<()> {
        if !self.imported.insert(name.name.clone()) {
            return Ok(());
        }
        let packages = self.packages;
        let Some(tokens) = packages.get(&name.name) else {
            let near = base::nearest(&name.name, packages.keys().map(String::as_str)).map(str::to_owned);
            return self.fail(say::unknown_package(&name.name, near.as_deref(), name.span));
        };
        let (outer, at) = (std::mem::replace(&mut self.tokens, tokens), std::mem::replace(&mut self.at, 0));
        let result = self.nested(|p| {
            while p.peek() != &TokenKind::End {
                p.item(items)?;
            }
            Ok(())
        });
        (self.tokens, self.at) = (outer, at);
        result
    }
}
