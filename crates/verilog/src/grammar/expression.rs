//! Expressions (IEEE 1364-2005 clause 5 and A.8).

use super::{Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::TokenKind;
use crate::tree::{Binary, Ident, NodeId, NodeKind, Packed, PatternKey, Range, Unary};
use base::Span;

/// Binary operators with their strength (IEEE 1364-2005 table 5-4; larger binds tighter).
const BINARY: &[(&str, Binary, u8)] = &[
    ("**", Binary::Pow, 12),
    ("*", Binary::Mul, 11),
    ("/", Binary::Div, 11),
    ("%", Binary::Rem, 11),
    ("+", Binary::Add, 10),
    ("-", Binary::Sub, 10),
    ("<<", Binary::ShiftLeft, 9),
    (">>", Binary::ShiftRight, 9),
    ("<<<", Binary::ArithmeticLeft, 9),
    (">>>", Binary::ArithmeticRight, 9),
    ("<", Binary::Less, 8),
    ("<=", Binary::LessEqual, 8),
    (">", Binary::Greater, 8),
    (">=", Binary::GreaterEqual, 8),
    ("==", Binary::Equal, 7),
    ("!=", Binary::NotEqual, 7),
    ("===", Binary::CaseEqual, 7),
    ("!==", Binary::CaseNotEqual, 7),
    ("==?", Binary::WildEqual, 7),
    ("!=?", Binary::WildNotEqual, 7),
    ("&", Binary::And, 6),
    ("^", Binary::Xor, 5),
    ("~^", Binary::Xnor, 5),
    ("^~", Binary::Xnor, 5),
    ("|", Binary::Or, 4),
    ("&&", Binary::LogicalAnd, 3),
    ("||", Binary::LogicalOr, 2),
];

/// How tightly comparisons bind.
const RELATIONAL: u8 = 8;

const UNARY: &[(&str, Unary)] = &[
    ("+", Unary::Plus),
    ("-", Unary::Minus),
    ("!", Unary::LogicalNot),
    ("~", Unary::Not),
    ("&", Unary::And),
    ("~&", Unary::Nand),
    ("|", Unary::Or),
    ("~|", Unary::Nor),
    ("^", Unary::Xor),
    ("~^", Unary::Xnor),
    ("^~", Unary::Xnor),
];

impl Parser<'_, '_> {
    pub(super) fn expression(&mut self) -> Parse<NodeId> {
        self.nested(|p| {
            // A chain `a ? b : c ? d : e` is read in a loop and joined from its end, so that long ones don't nest.
            let mut chain = Vec::new();
            let mut last = p.binary(0)?;
            while p.eat("?") {
                let then = p.expression()?;
                p.expect(":")?;
                chain.push((last, then));
                last = p.binary(0)?;
            }
            for (condition, then) in chain.into_iter().rev() {
                let span = p.exprs[condition].span.to(p.exprs[last].span);
                last = p.node(NodeKind::Ternary(condition, then, last), span);
            }
            Ok(last)
        })
    }

    /// A condition in parentheses; `=` for `==` is told as such.
    pub(super) fn condition(&mut self) -> Parse<NodeId> {
        let opener = self.expect("(")?;
        let condition = self.expression()?;
        if self.at_symbol("=") {
            let at = self.span();
            return self.fail(say::assignment_in_condition(at));
        }
        self.close(")", "parenthesis", opener)?;
        Ok(condition)
    }

    fn binary(&mut self, floor: u8) -> Parse<NodeId> {
        let mut left = self.unary()?;
        loop {
            if self.at_word_operator() {
                let (found, at) = (self.found().replace('`', ""), self.span());
                let wanted = match found.as_str() {
                    "and" => "&",
                    "or" => "|",
                    "xor" => "^",
                    "xnor" => "~^",
                    "nand" => "~(… & …)",
                    _ => "~(… | …)",
                };
                return self.fail(say::foreign_operator(&found, wanted, at));
            }
            if matches!(self.peek(), TokenKind::Name(n) if n == "inside") && floor < RELATIONAL {
                left = self.inside(left)?;
                continue;
            }
            let TokenKind::Symbol(symbol) = self.peek() else { return Ok(left) };
            let Some((_, op, power)) = BINARY.iter().find(|(s, _, p)| s == symbol && *p > floor) else {
                return Ok(left);
            };
            self.advance();
            let right = self.binary(*power)?;
            let span = self.exprs[left].span.to(self.exprs[right].span);
            left = self.node(NodeKind::Binary(*op, left, right), span);
        }
    }

    /// `a inside {1, [4:7]}`: equal to one of them, or within one (IEEE 1800-2017 11.4.13).
    fn inside(&mut self, left: NodeId) -> Parse<NodeId> {
        self.advance();
        let opener = self.expect("{")?;
        let any = self.any_of(left)?;
        self.close("}", "brace", opener)?;
        Ok(any)
    }

    /// The same expression once more, as far as its size depends on what stands beside it.
    fn copied(&mut self, id: NodeId) -> NodeId {
        let (kind, span) = (self.exprs[id].kind.clone(), self.exprs[id].span);
        let kind = match kind {
            NodeKind::Unary(op, a) => NodeKind::Unary(op, self.copied(a)),
            NodeKind::Binary(op, a, b) => {
                let (a, b) = (self.copied(a), self.copied(b));
                NodeKind::Binary(op, a, b)
            }
            NodeKind::Ternary(c, a, b) => {
                let (a, b) = (self.copied(a), self.copied(b));
                NodeKind::Ternary(c, a, b)
            }
            other => other,
        };
        self.node(kind, span)
    }

    /// Is a value one of a list of values and ranges?
    pub(super) fn any_of(&mut self, left: NodeId) -> Parse<NodeId> {
        let mut any: Option<NodeId> = None;
        loop {
            // Each comparison has a size of its own.
            let left = if any.is_some() { self.copied(left) } else { left };
            let start = self.span();
            let hit = if self.eat("[") {
                let low = self.expression()?;
                self.expect(":")?;
                let high = self.expression()?;
                self.expect("]")?;
                let span = start.to(self.last_span());
                let above = self.node(NodeKind::Binary(Binary::GreaterEqual, left, low), span);
                let left = self.copied(left);
                let below = self.node(NodeKind::Binary(Binary::LessEqual, left, high), span);
                self.node(NodeKind::Binary(Binary::LogicalAnd, above, below), span)
            } else {
                let value = self.expression()?;
                self.node(NodeKind::Binary(Binary::WildEqual, left, value), start.to(self.last_span()))
            };
            let span = start.to(self.last_span());
            any = Some(match any {
                Some(before) => self.node(NodeKind::Binary(Binary::LogicalOr, before, hit), span),
                None => hit,
            });
            if !self.eat(",") {
                break;
            }
        }
        any.ok_or(super::Lost)
    }

    /// `a and b`: a word on one line with an operand behind it, where no gate can begin. In sensitivity lists `or` is
    /// right.
    fn at_word_operator(&self) -> bool {
        let TokenKind::Keyword("and" | "or" | "xor" | "xnor" | "nand" | "nor") = self.peek() else { return false };
        if self.in_events {
            return false;
        }
        match self.peek_at(1) {
            TokenKind::Number(_) => true,
            // `and (y, a, b);` and `and g1(y, a);` are gates of a next item whose `;` is missing.
            TokenKind::Name(_) => !matches!(self.peek_at(2), TokenKind::Symbol("(")),
            TokenKind::Symbol("~" | "!") => true,
            TokenKind::Keyword("not") => true,
            _ => false,
        }
    }

    fn unary(&mut self) -> Parse<NodeId> {
        if self.at_keyword("not") && matches!(self.peek_at(1), TokenKind::Name(_)) {
            let at = self.span();
            return self.fail(say::foreign_operator("not", "~", at));
        }
        if let TokenKind::Symbol(symbol) = self.peek()
            && let Some((_, op)) = UNARY.iter().find(|(s, _)| s == symbol)
        {
            let start = self.advance().span;
            let operand = self.nested(Self::unary)?;
            let span = start.to(self.exprs[operand].span);
            return Ok(self.node(NodeKind::Unary(*op, operand), span));
        }
        self.primary()
    }

    fn primary(&mut self) -> Parse<NodeId> {
        let start = self.span();
        if let TokenKind::Keyword(sign @ ("signed" | "unsigned")) = self.peek()
            && matches!(self.peek_at(1), TokenKind::Symbol("'"))
        {
            let name = (*sign).to_owned();
            self.advance();
            self.advance();
            let value = self.in_parentheses()?;
            return Ok(self.node(NodeKind::System { name, arguments: vec![value] }, start.to(self.last_span())));
        }
        if let TokenKind::Keyword(word @ ("int" | "integer" | "byte" | "shortint" | "longint")) = self.peek()
            && matches!(self.peek_at(1), TokenKind::Symbol("'"))
        {
            let width = match *word {
                "byte" => 8,
                "shortint" => 16,
                "longint" => 64,
                _ => 32,
            };
            let width = self.number(width);
            self.advance();
            self.advance();
            let value = self.in_parentheses()?;
            let span = start.to(self.last_span());
            let arguments =
                vec![self.node(NodeKind::System { name: "cast".into(), arguments: vec![width, value] }, span)];
            return Ok(self.node(NodeKind::System { name: "signed".into(), arguments }, span));
        }
        let named = self.cast_type();
        let size = match &named {
            Some(ty) => self.width_of(ty, start),
            None => self.primary_inner()?,
        };
        if self.at_symbol("'") && matches!(self.peek_at(1), TokenKind::Symbol("(")) {
            self.advance();
            let value = self.in_parentheses()?;
            let name = "cast".to_owned();
            let span = start.to(self.last_span());
            let cast = self.node(NodeKind::System { name, arguments: vec![size, value] }, span);
            // A type says whether there is a sign; a size leaves it as it is (IEEE 1800-2017 6.24.1).
            let Some(ty) = named else { return Ok(cast) };
            let name = if ty.signed { "signed" } else { "unsigned" }.to_owned();
            return Ok(self.node(NodeKind::System { name, arguments: vec![cast] }, span));
        }
        if self.at_symbol("'") {
            let span = self.span();
            return self.fail(say::not_understood_yet("This use of `'`", span));
        }
        Ok(size)
    }

    fn in_parentheses(&mut self) -> Parse<NodeId> {
        let opener = self.expect("(")?;
        let value = self.expression()?;
        self.close(")", "parenthesis", opener)?;
        Ok(value)
    }

    /// A type of one's own before a cast: `state_t'(x)`.
    fn cast_type(&mut self) -> Option<Packed> {
        if !matches!(self.peek(), TokenKind::Name(name) if self.types.contains_key(name))
            || !matches!(self.peek_at(1), TokenKind::Symbol("'"))
        {
            return None;
        }
        self.named_type().ok().flatten()
    }

    /// How many bits a type has: those of its fields, or of its range, as often as its outer dimensions say.
    fn width_of(&mut self, ty: &Packed, span: Span) -> NodeId {
        if let Some(width) = self.known_width(ty).filter(|w| u32::try_from(*w).is_ok()) {
            return self.number(width);
        }
        let mut width = match (&ty.fields, &ty.range) {
            // The fields of a union are as wide as one another.
            (Some(fields), _) if ty.is_union => match fields.first() {
                Some(field) => self.width_of(&field.ty, span),
                None => self.number(0),
            },
            (Some(fields), _) => {
                let mut sum = self.number(0);
                for field in fields.iter() {
                    let one = self.width_of(&field.ty, span);
                    sum = self.node(NodeKind::Binary(Binary::Add, sum, one), span);
                }
                sum
            }
            (None, Some(range)) => self.range_width(range, span),
            (None, None) => self.number(1),
        };
        for range in &ty.outer {
            let times = self.range_width(range, span);
            width = self.node(NodeKind::Binary(Binary::Mul, width, times), span);
        }
        width
    }

    /// The same as a number, where all bounds are written as numbers.
    fn known_width(&self, ty: &Packed) -> Option<u64> {
        let number = |id: NodeId| match &self.exprs[id].kind {
            NodeKind::Number(n) => n.value.to_u64(),
            _ => None,
        };
        let bits = |range: &Range| Some(number(range.left)?.abs_diff(number(range.right)?) + 1);
        let base = match (&ty.fields, &ty.range) {
            (Some(fields), _) if ty.is_union => self.known_width(&fields.first()?.ty)?,
            (Some(fields), _) => fields.iter().try_fold(0u64, |sum, f| sum.checked_add(self.known_width(&f.ty)?))?,
            (None, Some(range)) => bits(range)?,
            (None, None) => 1,
        };
        ty.outer.iter().try_fold(base, |width, range| width.checked_mul(bits(range)?))
    }

    /// Bits of a range, whichever of its ends is the greater one.
    fn range_width(&mut self, range: &Range, span: Span) -> NodeId {
        let one = self.number(1);
        let down = self.node(NodeKind::Binary(Binary::Sub, range.left, range.right), span);
        let up = self.node(NodeKind::Binary(Binary::Sub, range.right, range.left), span);
        let is_down = self.node(NodeKind::Binary(Binary::GreaterEqual, range.left, range.right), span);
        let apart = self.node(NodeKind::Ternary(is_down, down, up), span);
        self.node(NodeKind::Binary(Binary::Add, apart, one), span)
    }

    fn primary_inner(&mut self) -> Parse<NodeId> {
        let span = self.span();
        match self.peek() {
            TokenKind::Number(number) => {
                self.advance();
                Ok(self.node(NodeKind::Number(number.clone()), span))
            }
            TokenKind::Real(r) => {
                self.advance();
                Ok(self.node(NodeKind::Real(*r), span))
            }
            TokenKind::Time(t) => {
                self.advance();
                Ok(self.node(NodeKind::Time(*t), span))
            }
            TokenKind::Symbol("'") if matches!(self.peek_at(1), TokenKind::Symbol("{")) => {
                self.advance();
                self.nested(Self::pattern)
            }
            TokenKind::Text(text) => {
                self.advance();
                Ok(self.node(NodeKind::Text(text.clone()), span))
            }
            TokenKind::System(name) => {
                self.advance();
                // `$bits(word_t)` (IEEE 1800-2017 20.6.2).
                if name == "bits"
                    && self.at_symbol("(")
                    && matches!(self.peek_at(1), TokenKind::Name(ty) if self.types.contains_key(ty))
                    && matches!(self.peek_at(2), TokenKind::Symbol(")"))
                {
                    self.advance();
                    let ty = self.named_type()?.unwrap_or_default();
                    self.expect(")")?;
                    return Ok(self.width_of(&ty, span.to(self.last_span())));
                }
                let arguments = if self.at_symbol("(") { self.arguments()? } else { Vec::new() };
                let span = span.to(self.last_span());
                Ok(self.node(NodeKind::System { name: name.clone(), arguments }, span))
            }
            TokenKind::Name(_) => self.name_expression(),
            TokenKind::Symbol("(") => {
                self.advance();
                let inner = self.expression()?;
                self.close(")", "parenthesis", span)?;
                Ok(inner)
            }
            TokenKind::Symbol("{") => self.braces(),
            TokenKind::Keyword(keyword @ ("signed" | "unsigned")) => {
                self.fail(say::keyword_as_name(keyword, "a value; use `$signed` or `$unsigned`", span))
            }
            TokenKind::Keyword(keyword) => {
                let keyword = *keyword;
                if matches!(keyword, "begin" | "end" | "else" | "endmodule" | "endcase" | "assign" | "if" | "always") {
                    return self.fail(say::expected("an expression", &format!("`{keyword}`"), span));
                }
                self.fail(say::keyword_as_name(keyword, "used as a signal", span))
            }
            _ => {
                let found = self.found();
                self.fail(say::expected("an expression", &found, span))
            }
        }
    }

    pub(super) fn arguments(&mut self) -> Parse<Vec<NodeId>> {
        let opener = self.expect("(")?;
        let mut list = Vec::new();
        if self.eat(")") {
            return Ok(list);
        }
        loop {
            if self.at_symbol(",") || self.at_symbol(")") {
                let span = self.span();
                list.push(self.node(NodeKind::Missing, span));
            } else if self.at_symbol(".") {
                // `add(.p(a), .q(b))` (IEEE 1800-2017 13.5.4).
                let start = self.advance().span;
                let name = self.name("an argument's name")?;
                let opener = self.expect("(")?;
                let value = if self.at_symbol(")") { None } else { Some(self.expression()?) };
                self.close(")", "parenthesis", opener)?;
                list.push(self.node(NodeKind::Named { name, value }, start.to(self.last_span())));
            } else {
                list.push(self.expression()?);
            }
            if !self.eat(",") {
                break;
            }
        }
        self.close(")", "parenthesis", opener)?;
        Ok(list)
    }

    fn name_expression(&mut self) -> Parse<NodeId> {
        if matches!(self.peek_at(1), TokenKind::Symbol("::")) {
            self.package_prefix()?;
        }
        let first = self.name("a name")?;
        let start = first.span;
        if self.at_symbol("(") {
            let arguments = self.arguments()?;
            let span = start.to(self.last_span());
            return Ok(self.node(NodeKind::Call { name: first, arguments }, span));
        }
        let mut path: Vec<Ident> = vec![first];
        while self.at_symbol(".") {
            self.advance();
            path.push(self.name("a name")?);
        }
        let span = start.to(self.last_span());
        if let (Some(method), true) = (path.get(1..).and_then(<[Ident]>::last), self.at_symbol("(")) {
            let name = format!("method {}", method.name);
            path.pop();
            let of = match path.as_slice() {
                [only] => NodeKind::Name(only.clone()),
                _ => NodeKind::Path(path),
            };
            let mut arguments = vec![self.node(of, span)];
            arguments.extend(self.arguments()?);
            return Ok(self.node(NodeKind::System { name, arguments }, span));
        }
        let kind = match path.pop() {
            Some(only) if path.is_empty() => NodeKind::Name(only),
            last => {
                path.extend(last);
                NodeKind::Path(path)
            }
        };
        let mut base = self.node(kind, span);
        for _ in 0..8 {
            if self.at_symbol(".") {
                self.advance();
                let field = self.name("a field's name")?;
                let span = start.to(field.span);
                base = self.node(NodeKind::Member { base, field }, span);
            } else if self.at_symbol("[") {
                base = self.select(base)?;
            } else {
                return Ok(base);
            }
        }
        let span = self.span();
        self.fail(say::too_deep(span))
    }

    fn select(&mut self, base: NodeId) -> Parse<NodeId> {
        let opener = self.expect("[")?;
        let first = self.expression()?;
        let kind = if self.eat(":") {
            NodeKind::Part { base, left: first, right: self.expression()? }
        } else if self.eat("+:") {
            NodeKind::IndexedPart { base, start: first, width: self.expression()?, down: false }
        } else if self.eat("-:") {
            NodeKind::IndexedPart { base, start: first, width: self.expression()?, down: true }
        } else {
            NodeKind::Index { base, index: first }
        };
        self.close("]", "bracket", opener)?;
        let span = self.exprs[base].span.to(self.last_span());
        Ok(self.node(kind, span))
    }

    /// `'{a, b}`, `'{0: a, default: b}`, `'{high: a, low: b}`.
    fn pattern(&mut self) -> Parse<NodeId> {
        let opener = self.expect("{")?;
        let mut list = Vec::new();
        loop {
            let key = match self.peek() {
                TokenKind::Keyword("default") => {
                    self.advance();
                    self.expect(":")?;
                    Some(PatternKey::Default)
                }
                TokenKind::Name(name) if matches!(self.peek_at(1), TokenKind::Symbol(":")) => {
                    let name = Ident { name: name.clone(), span: self.span() };
                    self.advance();
                    self.advance();
                    Some(PatternKey::Name(name))
                }
                _ => None,
            };
            let mut value = self.expression()?;
            let key = if key.is_none() && self.eat(":") {
                let index = std::mem::replace(&mut value, self.expression()?);
                Some(PatternKey::Index(index))
            } else {
                key
            };
            list.push((key, value));
            if !self.eat(",") {
                break;
            }
        }
        self.close("}", "brace", opener)?;
        let span = opener.to(self.last_span());
        Ok(self.node(NodeKind::Pattern(list), span))
    }

    fn braces(&mut self) -> Parse<NodeId> {
        let opener = self.expect("{")?;
        if self.at_symbol("<<") || self.at_symbol(">>") {
            return self.stream(opener);
        }
        let first = self.expression()?;
        if self.at_symbol("{") {
            let inner = self.expect("{")?;
            let parts = self.expression_list()?;
            self.close("}", "brace", inner)?;
            self.close("}", "brace", opener)?;
            let span = opener.to(self.last_span());
            return Ok(self.node(NodeKind::Replicate { count: first, parts }, span));
        }
        let mut parts = vec![first];
        if self.eat(",") {
            parts.extend(self.expression_list()?);
        }
        self.close("}", "brace", opener)?;
        let span = opener.to(self.last_span());
        Ok(self.node(NodeKind::Concat(parts), span))
    }

    /// `{<<4{a, b}}`: pieces of four bits in the other order (IEEE 1800-2017 11.4.14); without a number, bit by bit.
    fn stream(&mut self, opener: base::Span) -> Parse<NodeId> {
        let turns = self.eat("<<");
        if !turns {
            self.expect(">>")?;
        }
        let size = match self.peek() {
            TokenKind::Symbol("{") => self.number(1),
            TokenKind::Keyword("byte") => {
                self.advance();
                self.number(8)
            }
            _ => self.primary_inner()?,
        };
        let inner = self.expect("{")?;
        let parts = self.expression_list()?;
        self.close("}", "brace", inner)?;
        self.close("}", "brace", opener)?;
        let span = opener.to(self.last_span());
        let whole = self.node(NodeKind::Concat(parts), span);
        if !turns {
            return Ok(whole);
        }
        // A name that nobody can write.
        let name = "stream left".to_owned();
        Ok(self.node(NodeKind::System { name, arguments: vec![size, whole] }, span))
    }

    pub(super) fn expression_list(&mut self) -> Parse<Vec<NodeId>> {
        let mut list = vec![self.expression()?];
        while self.eat(",") {
            list.push(self.expression()?);
        }
        Ok(list)
    }

    /// The left side of an assignment: a name with selects, or braces around such.
    pub(super) fn target(&mut self) -> Parse<NodeId> {
        if self.at_symbol("{") { self.braces() } else { self.name_expression() }
    }
}
