//! Expressions and names (IEEE 1076-2008 clauses 8 and 9).

use super::{Parse, Parser};
use crate::diagnostics as say;
use crate::lexer::TokenKind;
use crate::tree::{Association, Expr, ExprKind, Range};
use base::Span;

const LOGICAL: [&str; 6] = ["and", "or", "nand", "nor", "xor", "xnor"];
const RELATIONS: [&str; 12] = ["=", "/=", "<", "<=", ">", ">=", "?=", "?/=", "?<", "?<=", "?>", "?>="];
const SHIFTS: [&str; 6] = ["sll", "srl", "sla", "sra", "rol", "ror"];

/// Attributes that ask for a dimension of an array.
const OF_DIMENSIONS: [&str; 8] = ["length", "left", "right", "high", "low", "ascending", "range", "reverse_range"];

impl Parser<'_, '_> {
    pub(super) fn expression(&mut self) -> Parse<Expr> {
        self.deeper()?;
        let left = self.relation()?;
        let value = self.logical(left)?;
        self.budget.leave();
        Ok(value)
    }

    fn logical(&mut self, mut left: Expr) -> Parse<Expr> {
        let mut first: Option<&'static str> = None;
        while let TokenKind::Keyword(word) = *self.peek() {
            if !LOGICAL.contains(&word) {
                break;
            }
            if let Some(first) = first
                && first != word
            {
                // IEEE 1076-2008 9.1: different logical operators need parentheses.
                let span = self.span();
                return self.fail(say::mixed_operators(first, word, span));
            }
            first = Some(word);
            self.next();
            let right = self.relation()?;
            left = binary(word, left, right);
        }
        Ok(left)
    }

    fn operator(&self, list: &[&'static str]) -> Option<&'static str> {
        match *self.peek() {
            TokenKind::Symbol(s) | TokenKind::Keyword(s) => list.iter().find(|o| **o == s).copied(),
            _ => None,
        }
    }

    fn relation(&mut self) -> Parse<Expr> {
        let left = self.shift()?;
        match self.operator(&RELATIONS) {
            Some(op) => {
                self.next();
                let right = self.shift()?;
                Ok(binary(op, left, right))
            }
            None => Ok(left),
        }
    }

    fn shift(&mut self) -> Parse<Expr> {
        let left = self.sum()?;
        match self.operator(&SHIFTS) {
            Some(op) => {
                self.next();
                let right = self.sum()?;
                Ok(binary(op, left, right))
            }
            None => Ok(left),
        }
    }

    fn sum(&mut self) -> Parse<Expr> {
        let start = self.span();
        let sign = self.operator(&["+", "-"]);
        if sign.is_some() {
            self.next();
        }
        let mut left = self.term()?;
        if let Some(sign) = sign {
            let span = start.to(left.span);
            left = Expr { kind: ExprKind::Unary(sign, Box::new(left)), span };
        }
        while let Some(op) = self.operator(&["+", "-", "&"]) {
            self.next();
            let right = self.term()?;
            left = binary(op, left, right);
        }
        Ok(left)
    }

    fn term(&mut self) -> Parse<Expr> {
        let mut left = self.factor()?;
        while let Some(op) = self.operator(&["*", "/", "mod", "rem"]) {
            self.next();
            let right = self.factor()?;
            left = binary(op, left, right);
        }
        Ok(left)
    }

    fn factor(&mut self) -> Parse<Expr> {
        let start = self.span();
        for op in ["not", "abs", "??", "and", "or", "nand", "nor", "xor", "xnor"] {
            if self.operator(&["not", "abs", "??", "and", "or", "nand", "nor", "xor", "xnor"]) == Some(op) {
                self.next();
                self.deeper()?;
                let operand = self.factor()?;
                self.budget.leave();
                let span = start.to(operand.span);
                return Ok(Expr { kind: ExprKind::Unary(op, Box::new(operand)), span });
            }
        }
        let base = self.primary()?;
        if self.eat_symbol("**") {
            let power = self.primary()?;
            return Ok(binary("**", base, power));
        }
        Ok(base)
    }

    fn primary(&mut self) -> Parse<Expr> {
        let span = self.span();
        let simple = |kind| Expr { kind, span };
        let value = match self.peek().clone() {
            TokenKind::Integer(n) => {
                self.next();
                if let Some(unit) = self.time_unit() {
                    let time = u64::try_from(n).unwrap_or(0).saturating_mul(unit);
                    return Ok(Expr { kind: ExprKind::Physical(time), span: span.to(self.before()) });
                }
                return Ok(simple(ExprKind::Integer(n)));
            }
            TokenKind::Real(n) => {
                self.next();
                if let Some(unit) = self.time_unit() {
                    let time = (n * unit as f64).round().max(0.0) as u64;
                    return Ok(Expr { kind: ExprKind::Physical(time), span: span.to(self.before()) });
                }
                return Ok(simple(ExprKind::Real(n)));
            }
            TokenKind::Character(c) => {
                self.next();
                return Ok(simple(ExprKind::Character(c)));
            }
            TokenKind::BitString { base, signed, length, digits } => {
                self.next();
                return Ok(simple(ExprKind::Bits { base, signed, length, digits }));
            }
            TokenKind::Keyword("others") => {
                self.next();
                return Ok(simple(ExprKind::Others));
            }
            TokenKind::Keyword("open") => {
                self.next();
                return Ok(simple(ExprKind::Open));
            }
            TokenKind::Keyword("null") => {
                self.next();
                return Ok(simple(ExprKind::Open));
            }
            TokenKind::Text(text) => {
                self.next();
                // An operator called by its name, `"and"(a, b)`, is a text before a parenthesis.
                simple(ExprKind::Text(text))
            }
            TokenKind::Symbol("(") => self.aggregate()?,
            TokenKind::Name(name) => {
                self.next();
                simple(ExprKind::Name(name))
            }
            _ => {
                if let Some(told) = self.foreign_operator() {
                    return self.fail(told);
                }
                return self.expected("a value");
            }
        };
        self.suffixes(value)
    }

    /// `==`, `&&` and the like, whose second sign stands where a value should.
    fn foreign_operator(&self) -> Option<base::Diagnostic> {
        let (before, here) = (self.before(), self.span());
        if before.end != here.start {
            return None;
        }
        let found = self.text.get(before.start as usize..here.end as usize)?;
        let wanted = match found {
            "==" => "=",
            "&&" => "and",
            "||" => "or",
            "<>" => "/=",
            _ => return None,
        };
        Some(say::foreign_operator(found, wanted, before.to(here)))
    }

    /// A unit of time behind a number, in femtoseconds.
    fn time_unit(&mut self) -> Option<u64> {
        let TokenKind::Name(unit) = self.peek() else { return None };
        let factor = match unit.as_str() {
            "fs" => 1,
            "ps" => 1_000,
            "ns" => 1_000_000,
            "us" => 1_000_000_000,
            "ms" => 1_000_000_000_000,
            "sec" => 1_000_000_000_000_000,
            "min" => 60_000_000_000_000_000,
            "hr" => 3_600_000_000_000_000_000,
            _ => return None,
        };
        self.next();
        Some(factor)
    }

    fn suffixes(&mut self, mut value: Expr) -> Parse<Expr> {
        loop {
            let start = value.span;
            if self.is_symbol("(")
                && matches!(
                    value.kind,
                    ExprKind::Name(_)
                        | ExprKind::Select(..)
                        | ExprKind::Call(..)
                        | ExprKind::Attribute(..)
                        | ExprKind::Text(_)
                )
            {
                let (list, slice) = self.arguments()?;
                let span = start.to(self.before());
                value = Expr { kind: ExprKind::Call(Box::new(value), list, slice.map(Box::new)), span };
            } else if self.is_symbol(".") {
                self.next();
                if self.is_word("all") {
                    self.next();
                    continue;
                }
                let field = self.ident("the name of a field")?;
                let span = start.to(field.span);
                value = Expr { kind: ExprKind::Select(Box::new(value), field), span };
            } else if self.is_symbol("'") {
                self.next();
                if self.is_symbol("(") {
                    let inner = self.aggregate()?;
                    let span = start.to(inner.span);
                    value = Expr { kind: ExprKind::Qualified(Box::new(value), Box::new(inner)), span };
                    continue;
                }
                let name = if self.is_word("range") || self.is_word("subtype") {
                    let span = self.span();
                    self.next();
                    crate::tree::Ident { name: "range".into(), span }
                } else {
                    self.ident("the name of an attribute")?
                };
                let dimension = if self.is_symbol("(") && OF_DIMENSIONS.contains(&name.name.as_str()) {
                    let (list, _) = self.arguments()?;
                    match list.as_slice() {
                        [Association { formal: None, actual: Some(Expr { kind: ExprKind::Integer(n), .. }), .. }] => *n,
                        _ => return self.fail(say::constant_needed(start.to(self.before()))),
                    }
                } else {
                    1
                };
                let span = start.to(self.before());
                let level = u32::try_from(dimension).unwrap_or(0);
                let of = match level {
                    1 => value,
                    _ => Expr { span: value.span, kind: ExprKind::Dimension(Box::new(value), level) },
                };
                value = Expr { kind: ExprKind::Attribute(Box::new(of), name), span };
            } else {
                return Ok(value);
            }
        }
    }

    /// What stands in the parentheses behind a name: arguments, indices, or one slice.
    fn arguments(&mut self) -> Parse<(Vec<Association>, Option<Range>)> {
        let open = self.span();
        self.next();
        let mut list = Vec::new();
        let mut slice = None;
        loop {
            let first = self.range()?;
            match first {
                Range::Bounds { .. } => slice = Some(first),
                Range::Of(value) => {
                    let span = value.span;
                    if self.eat_symbol("=>") {
                        let actual = self.expression()?;
                        let span = span.to(actual.span);
                        list.push(association(Some(*value), actual, span));
                    } else {
                        list.push(association(None, *value, span));
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

    /// `( … )`: a value in parentheses, or an aggregate.
    pub(super) fn aggregate(&mut self) -> Parse<Expr> {
        let open = self.span();
        self.next();
        self.deeper()?;
        let mut elements: Vec<(Vec<Range>, Expr)> = Vec::new();
        let mut named = false;
        loop {
            let mut choices = vec![self.range()?];
            while self.eat_symbol("|") {
                choices.push(self.range()?);
            }
            if self.eat_symbol("=>") {
                named = true;
                let value = self.expression()?;
                elements.push((choices, value));
            } else {
                match choices.pop() {
                    Some(Range::Of(value)) if choices.is_empty() => elements.push((Vec::new(), *value)),
                    _ => return self.expected("`=>`"),
                }
            }
            if !self.eat_symbol(",") {
                break;
            }
        }
        self.close(open)?;
        self.budget.leave();
        let span = open.to(self.before());
        if !named && elements.len() == 1 {
            let (_, mut inner) = elements.remove(0);
            inner.span = span;
            return Ok(inner);
        }
        Ok(Expr { kind: ExprKind::Aggregate(elements), span })
    }

    /// `port map ( … )` and `generic map ( … )`.
    pub(super) fn association_list(&mut self) -> Parse<Vec<Association>> {
        let open = self.span();
        self.symbol("(", "`(` and the connections")?;
        let mut list = Vec::new();
        loop {
            if self.is_symbol(")") && !list.is_empty() {
                let at = self.before();
                return self.fail(say::semicolon_after_last_port(at));
            }
            let first = self.expression()?;
            let span = first.span;
            if self.eat_symbol("=>") {
                let actual = self.expression()?;
                let span = span.to(actual.span);
                list.push(association(Some(first), actual, span));
            } else {
                list.push(association(None, first, span));
            }
            if self.is_symbol(";") {
                let span = self.span();
                return self.fail(say::expected("`,` or `)`", "`;`", span));
            }
            if !self.eat_symbol(",") {
                break;
            }
        }
        self.close(open)?;
        Ok(list)
    }
}

fn association(formal: Option<Expr>, actual: Expr, span: Span) -> Association {
    let actual = if actual.kind == ExprKind::Open { None } else { Some(actual) };
    Association { formal, actual, span }
}

fn binary(op: &'static str, left: Expr, right: Expr) -> Expr {
    let span = left.span.to(right.span);
    Expr { kind: ExprKind::Binary(op, Box::new(left), Box::new(right)), span }
}
