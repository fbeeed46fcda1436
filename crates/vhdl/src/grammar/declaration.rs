//! Declarations, types and subprograms (IEEE 1076-2008 clauses 4 to 6).

use super::{Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::TokenKind;
use crate::tree::{
    Constraint, ContextClause, Declaration, FileObject, Ident, Mode, Object, ObjectKind, Range, Subprogram,
    SubtypeIndication, TypeDefinition,
};

impl Parser<'_, '_> {
    pub(super) fn declarations(&mut self) -> Parse<Vec<Declaration>> {
        let mut list = Vec::new();
        while !matches!(self.peek(), TokenKind::Keyword("begin" | "end") | TokenKind::End) {
            if let TokenKind::Name(_) = self.peek() {
                // A statement where declarations stand: the `begin` before it is missing.
                let at = self.before().after();
                return self.fail(say::missing_word("begin", "the declarations", at));
            }
            list.extend(self.declaration()?);
        }
        Ok(list)
    }

    pub(super) fn declaration(&mut self) -> Parse<Vec<Declaration>> {
        self.deeper()?;
        let TokenKind::Keyword(word) = self.peek().clone() else { return self.expected("a declaration") };
        let list = match word {
            "signal" | "constant" | "variable" | "shared" => self.objects()?,
            "type" => vec![self.type_declaration()?],
            "subtype" => {
                self.next();
                let name = self.ident("the name of the subtype")?;
                self.word("is", "the subtype's name")?;
                let ty = self.subtype_indication()?;
                self.semicolon()?;
                vec![Declaration::Subtype { name, ty }]
            }
            "alias" => {
                self.next();
                let name = self.ident("the name of the alias")?;
                let ty = if self.eat_symbol(":") { Some(self.subtype_indication()?) } else { None };
                self.word("is", "the alias")?;
                let target = self.expression()?;
                self.semicolon()?;
                vec![Declaration::Alias { name, ty, target }]
            }
            "component" => vec![Declaration::Component(self.component()?)],
            "function" | "procedure" | "pure" | "impure" => vec![Declaration::Subprogram(self.subprogram()?)],
            "attribute" => {
                self.skip_to_semicolon();
                vec![Declaration::Ignored]
            }
            "use" => {
                let uses = self.use_clause()?;
                vec![Declaration::Use(ContextClause { libraries: Vec::new(), uses })]
            }
            "for" => {
                let found = self.binding()?;
                self.skip_to_semicolon();
                if self.eat_word("end") {
                    self.skip_to_semicolon();
                }
                vec![found]
            }
            "file" => self.files()?,
            "process" | "if" | "case" | "with" | "assert" => {
                let at = self.before().after();
                return self.fail(say::missing_word("begin", "the declarations", at));
            }
            _ => return self.expected("a declaration, or `begin`,"),
        };
        self.budget.leave();
        Ok(list)
    }

    /// Which entity the instances of a component are (IEEE 1076-2008 7.3). What the maps of it say must agree with the names
    /// of the ports, or it is passed over.
    fn binding(&mut self) -> Parse<Declaration> {
        self.next();
        let mut labels = Vec::new();
        if !self.eat_word("all") && !self.eat_word("others") {
            labels.push(self.ident("the label of an instance")?);
            while self.eat_symbol(",") {
                labels.push(self.ident("the label of an instance")?);
            }
        }
        if !self.eat_symbol(":") {
            return Ok(Declaration::Ignored);
        }
        let component = self.ident("the name of a component")?;
        if !(self.eat_word("use") && self.eat_word("entity")) {
            return Ok(Declaration::Ignored);
        }
        let (entity, architecture) = self.unit_name()?;
        Ok(Declaration::Binding { labels, component, entity, architecture })
    }

    /// `file f, g : text open read_mode is "rows.txt";`, and `file f : text is in "rows.txt";` of 1987.
    fn files(&mut self) -> Parse<Vec<Declaration>> {
        let span = self.span();
        self.next();
        let mut names = vec![self.ident("the name of the file")?];
        while self.eat_symbol(",") {
            names.push(self.ident("the name of a file")?);
        }
        if !self.eat_symbol(":") {
            return self.expected("`:`");
        }
        let kind = self.ident("the type of the file")?;
        if kind.name != "text" {
            self.skip_to_semicolon();
            return Ok(vec![Declaration::Unread("A file of another type than text", span)]);
        }
        let mut is_written = false;
        if self.eat_word("open") {
            is_written = self.ident("read_mode or write_mode")?.name != "read_mode";
        }
        let mut path = None;
        if self.eat_word("is") {
            if self.eat_word("out") {
                is_written = true;
            } else {
                self.eat_word("in");
            }
            path = Some(self.expression()?);
        }
        self.semicolon()?;
        let object = |name| Declaration::File(FileObject { name, path: path.clone(), is_written });
        Ok(names.into_iter().map(object).collect())
    }

    fn skip_to_semicolon(&mut self) {
        while !self.is_symbol(";") && !matches!(self.peek(), TokenKind::End) {
            self.next();
        }
        self.eat_symbol(";");
    }

    fn objects(&mut self) -> Parse<Vec<Declaration>> {
        self.eat_word("shared");
        let kind = match self.peek() {
            TokenKind::Keyword("signal") => ObjectKind::Signal,
            TokenKind::Keyword("constant") => ObjectKind::Constant,
            _ => ObjectKind::Variable,
        };
        self.next();
        let names = self.idents("a name")?;
        self.symbol(":", "`:` and a type")?;
        if let TokenKind::Keyword("in" | "out" | "inout") = self.peek() {
            return self.expected("a type (only ports have a direction)");
        }
        let ty = self.subtype_indication()?;
        let value = if self.eat_symbol(":=") {
            Some(self.expression()?)
        } else if self.is_symbol("<=") || self.is_symbol("=") {
            let (found, span) = (if self.is_symbol("=") { "=" } else { "<=" }, self.span());
            return self.fail(say::assign_sign(found, ":=", "a first value", span));
        } else {
            None
        };
        self.semicolon()?;
        let object = |name: Ident, spelling: String| {
            Declaration::Object(Object {
                kind,
                name,
                spelling,
                mode: Mode::InOut,
                ty: ty.clone(),
                value: value.clone(),
            })
        };
        Ok(names
            .into_iter()
            .map(|n| {
                let spelling = self.spelling(&n);
                object(n, spelling)
            })
            .collect())
    }

    pub(super) fn subtype_indication(&mut self) -> Parse<SubtypeIndication> {
        let mut mark = self.ident("a type")?;
        let start = mark.span;
        // `work.pack.word`, or a resolution function before the type.
        while self.eat_symbol(".") {
            mark = self.ident("a type")?;
        }
        if let TokenKind::Name(_) = self.peek() {
            mark = self.ident("a type")?;
        }
        let constraint = if self.is_symbol("(") {
            let open = self.span();
            self.next();
            let mut ranges = vec![self.range()?];
            while self.eat_symbol(",") {
                ranges.push(self.range()?);
            }
            self.close(open)?;
            Some(Constraint::Index(ranges))
        } else if self.eat_word("range") {
            Some(Constraint::Range(self.range()?))
        } else {
            None
        };
        Ok(SubtypeIndication { mark, constraint, span: start.to(self.before()) })
    }

    /// `7 downto 0`, `a'range`, a type mark, or a single value.
    pub(super) fn range(&mut self) -> Parse<Range> {
        let left = self.expression()?;
        let down = self.is_word("downto");
        if down || self.is_word("to") {
            self.next();
            let right = self.expression()?;
            return Ok(Range::Bounds { left: Box::new(left), down, right: Box::new(right) });
        }
        if self.is_word("range") && matches!(self.peek_at(1), TokenKind::Symbol("<>")) {
            self.next();
            return Ok(Range::Of(Box::new(left)));
        }
        if self.eat_word("range") {
            // `integer range 0 to 3` where a discrete range stands.
            return self.range();
        }
        Ok(Range::Of(Box::new(left)))
    }

    fn type_declaration(&mut self) -> Parse<Declaration> {
        let opened = self.span();
        self.next();
        let name = self.ident("the name of the type")?;
        self.word("is", "the type's name")?;
        let definition = match self.peek() {
            TokenKind::Symbol("(") => {
                let open = self.span();
                self.next();
                let mut literals = Vec::new();
                loop {
                    if let TokenKind::Character(c) = self.peek().clone() {
                        literals.push(Ident { name: format!("'{c}'"), span: self.span() });
                        self.next();
                    } else {
                        literals.push(self.ident("the name of a value")?);
                    }
                    if !self.eat_symbol(",") {
                        break;
                    }
                }
                self.close(open)?;
                TypeDefinition::Enumeration(literals)
            }
            TokenKind::Keyword("range") => {
                self.next();
                TypeDefinition::Range(self.range()?)
            }
            TokenKind::Keyword("array") => self.array_definition()?,
            TokenKind::Keyword("record") => {
                self.next();
                let mut fields = Vec::new();
                while !self.is_word("end") && !matches!(self.peek(), TokenKind::End) {
                    let names = self.idents("the name of a field")?;
                    self.symbol(":", "`:` and a type")?;
                    let ty = self.subtype_indication()?;
                    self.semicolon()?;
                    fields.extend(names.into_iter().map(|n| (n, ty.clone())));
                }
                self.must_end("record", opened, "record")?;
                return Ok(Declaration::Type { name, definition: TypeDefinition::Record(fields) });
            }
            _ => {
                let span = self.span();
                return self.fail(say::not_read_yet("This kind of type", span));
            }
        };
        self.semicolon()?;
        Ok(Declaration::Type { name, definition })
    }

    fn array_definition(&mut self) -> Parse<TypeDefinition> {
        self.next();
        let open = self.span();
        self.symbol("(", "`(` and the index range")?;
        let mut indices = Vec::new();
        let mut unconstrained = false;
        loop {
            let range = self.range()?;
            if self.eat_symbol("<>") {
                unconstrained = true;
            }
            indices.push(range);
            if !self.eat_symbol(",") {
                break;
            }
        }
        self.close(open)?;
        self.word("of", "the index range")?;
        let element = self.subtype_indication()?;
        Ok(TypeDefinition::Array { indices, unconstrained, element })
    }

    fn subprogram(&mut self) -> Parse<Subprogram> {
        let opened = self.span();
        self.eat_word("pure");
        self.eat_word("impure");
        let function = self.is_word("function");
        self.next();
        let name = match self.peek().clone() {
            TokenKind::Text(text) => {
                let span = self.span();
                self.next();
                Ident { name: format!("\"{text}\""), span }
            }
            _ => self.ident("the name of the subprogram")?,
        };
        let parameters = if self.is_symbol("(") { self.interface_list(ObjectKind::Constant)? } else { Vec::new() };
        let result = if function {
            self.word("return", "the parameters")?;
            Some(self.subtype_indication()?)
        } else {
            None
        };
        if self.eat_symbol(";") {
            return Ok(Subprogram { name, parameters, result, body: None });
        }
        self.word("is", "the head of the subprogram")?;
        let declarations = self.declarations()?;
        self.word("begin", "the declarations")?;
        let statements = self.statements()?;
        let words: &[&'static str] = if function { &["function"] } else { &["procedure"] };
        if matches!(self.peek_at(1), TokenKind::Text(_)) || matches!(self.peek_at(2), TokenKind::Text(_)) {
            // `end function "+";`
            self.skip_to_semicolon();
        } else {
            self.end(words, Some(&name), opened.to(name.span), "subprogram")?;
        }
        Ok(Subprogram { name, parameters, result, body: Some((declarations, statements)) })
    }
}
