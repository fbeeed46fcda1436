//! Design units: entities, architectures, packages (IEEE 1076-2008 clauses 3, 4 and 13).

use super::{Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::TokenKind;
use crate::tree::{Architecture, Component, ContextClause, Entity, Mode, Object, ObjectKind, Package, Unit};

impl Parser<'_, '_> {
    pub(super) fn file(&mut self, units: &mut Vec<Unit>) -> Parse<()> {
        let mut context = ContextClause::default();
        loop {
            match self.peek().clone() {
                TokenKind::End => return Ok(()),
                TokenKind::Symbol(";") => self.next(),
                TokenKind::Keyword("library") => {
                    self.next();
                    let names = self.idents("the name of a library")?;
                    context.libraries.extend(names);
                    self.semicolon()?;
                }
                TokenKind::Keyword("use") => {
                    let uses = self.use_clause()?;
                    context.uses.extend(uses);
                }
                TokenKind::Keyword("entity") => {
                    let entity = self.entity(std::mem::take(&mut context))?;
                    units.push(Unit::Entity(entity));
                }
                TokenKind::Keyword("architecture") => {
                    let architecture = self.architecture(std::mem::take(&mut context))?;
                    units.push(Unit::Architecture(architecture));
                }
                TokenKind::Keyword("package") => {
                    let body = self.is_word_at(1, "body");
                    let package = self.package(body, std::mem::take(&mut context))?;
                    units.push(if body { Unit::PackageBody(package) } else { Unit::Package(package) });
                }
                TokenKind::Keyword("configuration") => self.skip_configuration()?,
                _ => {
                    let span = self.span();
                    return self.fail(say::outside_unit(span));
                }
            }
        }
    }

    /// A configuration binds components to entities of the same name in the exercises of a first course: passed over.
    fn skip_configuration(&mut self) -> Parse<()> {
        let opened = self.span();
        self.next();
        let name = self.ident("the name of a configuration")?;
        loop {
            match self.peek() {
                TokenKind::End => return self.fail(say::unclosed("configuration", "end;", opened)),
                TokenKind::Keyword("end") => {
                    let last = match self.peek_at(1) {
                        TokenKind::Keyword("configuration") | TokenKind::Symbol(";") => true,
                        TokenKind::Name(n) => *n == name.name,
                        _ => false,
                    };
                    self.next();
                    if last {
                        self.eat_word("configuration");
                        if matches!(self.peek(), TokenKind::Name(_)) {
                            self.next();
                        }
                        return self.semicolon();
                    }
                }
                _ => self.next(),
            }
        }
    }

    pub(super) fn use_clause(&mut self) -> Parse<Vec<Vec<crate::tree::Ident>>> {
        self.next();
        let mut list = Vec::new();
        loop {
            let mut parts = vec![self.ident("the name of a library")?];
            while self.eat_symbol(".") {
                if self.is_word("all") {
                    let span = self.span();
                    self.next();
                    parts.push(crate::tree::Ident { name: "all".into(), span });
                } else if let TokenKind::Text(text) = self.peek().clone() {
                    parts.push(crate::tree::Ident { name: text, span: self.span() });
                    self.next();
                } else {
                    parts.push(self.ident("a name, or `all`,")?);
                }
            }
            list.push(parts);
            if !self.eat_symbol(",") {
                break;
            }
        }
        self.semicolon()?;
        Ok(list)
    }

    fn entity(&mut self, context: ContextClause) -> Parse<Entity> {
        let opened = self.span();
        self.next();
        let name = self.ident("the name of the entity")?;
        self.word("is", "the entity's name")?;
        let header = opened.to(name.span);
        let generics = self.generic_clause()?;
        let ports = self.port_clause()?;
        while !self.is_word("end") && !self.is_word("begin") && !matches!(self.peek(), TokenKind::End) {
            if matches!(self.peek(), TokenKind::Symbol(")")) {
                let span = self.span();
                return self.fail(say::expected("`end`", "a `)` that closes nothing", span));
            }
            self.declaration()?;
        }
        if self.eat_word("begin") {
            while !self.is_word("end") && !matches!(self.peek(), TokenKind::End) {
                self.next();
            }
        }
        self.end(&["entity"], Some(&name), header, "entity")?;
        Ok(Entity { name, context, generics, ports, header })
    }

    pub(super) fn generic_clause(&mut self) -> Parse<Vec<Object>> {
        if !self.is_word("generic") || self.is_word_at(1, "map") {
            return Ok(Vec::new());
        }
        self.next();
        let list = self.interface_list(ObjectKind::Constant)?;
        self.semicolon()?;
        Ok(list)
    }

    pub(super) fn port_clause(&mut self) -> Parse<Vec<Object>> {
        if !self.is_word("port") {
            return Ok(Vec::new());
        }
        self.next();
        let list = self.interface_list(ObjectKind::Signal)?;
        self.semicolon()?;
        Ok(list)
    }

    /// `( a, b : in std_logic; y : out std_logic )`
    pub(super) fn interface_list(&mut self, default: ObjectKind) -> Parse<Vec<Object>> {
        let open = self.span();
        self.symbol("(", "`(` before the list")?;
        let mut list = Vec::new();
        loop {
            if self.is_symbol(")") && !list.is_empty() {
                let at = self.before();
                return self.fail(say::semicolon_after_last_port(at));
            }
            self.interface_element(default, &mut list)?;
            if self.eat_symbol(";") {
                continue;
            }
            if self.is_symbol(",") {
                let span = self.span();
                return self.fail(say::comma_between_ports(span));
            }
            if matches!(self.peek(), TokenKind::Name(_)) || self.is_word("signal") {
                let told = say::missing_semicolon(self.before());
                return self.fail(told);
            }
            self.close(open)?;
            return Ok(list);
        }
    }

    fn interface_element(&mut self, default: ObjectKind, list: &mut Vec<Object>) -> Parse<()> {
        let mut kind = default;
        for (word, k) in
            [("signal", ObjectKind::Signal), ("constant", ObjectKind::Constant), ("variable", ObjectKind::Variable)]
        {
            if self.eat_word(word) {
                kind = k;
            }
        }
        let names = self.idents("a name")?;
        self.symbol(":", "`:` and a type")?;
        let mut mode = Mode::In;
        for (word, m) in [("in", Mode::In), ("out", Mode::Out), ("inout", Mode::InOut), ("buffer", Mode::Buffer)] {
            if self.eat_word(word) {
                mode = m;
                break;
            }
        }
        // A parameter of mode out is a variable unless it says otherwise.
        if kind == ObjectKind::Constant && default == ObjectKind::Constant && mode != Mode::In {
            kind = ObjectKind::Variable;
        }
        let ty = self.subtype_indication()?;
        let value = if self.eat_symbol(":=") { Some(self.expression()?) } else { None };
        for name in names {
            let spelling = self.spelling(&name);
            list.push(Object { kind, name, spelling, mode, ty: ty.clone(), value: value.clone() });
        }
        Ok(())
    }

    pub(super) fn component(&mut self) -> Parse<Component> {
        let opened = self.span();
        self.next();
        let name = self.ident("the name of the component")?;
        self.eat_word("is");
        let generics = self.generic_clause()?;
        let ports = self.port_clause()?;
        if !self.is_word("end") || !self.is_word_at(1, "component") {
            return self.fail(say::unclosed("component", "end component;", opened.to(name.span)));
        }
        self.end(&["component"], Some(&name), opened, "component")?;
        Ok(Component { name, generics, ports })
    }

    fn architecture(&mut self, context: ContextClause) -> Parse<Architecture> {
        let opened = self.span();
        self.next();
        let name = self.ident("the name of the architecture")?;
        self.word("of", "the architecture's name")?;
        let entity = self.ident("the name of the entity")?;
        self.word("is", "the entity's name")?;
        let header = opened.to(entity.span);
        let declarations = self.declarations()?;
        if !self.eat_word("begin") {
            if matches!(self.peek(), TokenKind::End) {
                return self.fail(say::unclosed("architecture", "end architecture;", header));
            }
            let at = self.before().after();
            return self.fail(say::missing_word("begin", "the declarations", at));
        }
        let statements = self.concurrent_statements()?;
        self.end(&["architecture"], Some(&name), header, "architecture")?;
        Ok(Architecture { name, entity, context, declarations, statements })
    }

    fn package(&mut self, body: bool, context: ContextClause) -> Parse<Package> {
        let opened = self.span();
        self.next();
        if body {
            self.next();
        }
        let name = self.ident("the name of the package")?;
        self.word("is", "the package's name")?;
        if self.is_word("generic") {
            let at = self.span();
            return self.fail(say::not_read_yet("A package with generics", at));
        }
        let declarations = self.declarations()?;
        self.end(&["package", "body"], Some(&name), opened.to(name.span), "package")?;
        Ok(Package { name, context, declarations })
    }
}
