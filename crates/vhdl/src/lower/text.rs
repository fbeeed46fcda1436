//! Messages: `report`, `assert`, `std.textio` as far as writing, and the end of the simulation (`std.env`).

use super::types::{Ty, VectorKind};
use super::{Context, Lowering, Symbol, Value};
use crate::diagnostics as say;
use crate::tree::{Association, Expr as Tree, ExprKind as Node, Ident};
use base::Span;
use design::{PrintPart, PrintTime, Radix, StmtKind};
use logic::LogicVector;

impl<'a> Lowering<'a, '_> {
    /// `assert c report "…" severity error`; without a condition the message is always said.
    pub(super) fn message(
        &mut self,
        context: &mut Context<'a>,
        condition: Option<&'a Tree>,
        report: Option<&'a Tree>,
        severity: Option<&'a Tree>,
        span: Span,
    ) -> Option<StmtKind> {
        // IEEE 1076-2008 10.3 and 10.4: an assertion is an error unless it says otherwise, a report a note.
        let usual = if condition.is_some() { 2 } else { 0 };
        let severity = match severity.map(|t| &t.kind) {
            None => usual,
            Some(Node::Name(name)) => match name.as_str() {
                "note" => 0,
                "warning" => 1,
                "error" => 2,
                "failure" => 3,
                other => {
                    self.undeclared(context, other, severity.map_or(span, |t| t.span));
                    return None;
                }
            },
            Some(_) => usual,
        };
        let condition = match condition {
            Some(tree) => self.condition(context, tree)?,
            None => self.constant(LogicVector::from_u64(1, 0), span),
        };
        let message = match report {
            Some(tree) => self.text_parts(context, tree)?,
            None => vec![PrintPart::Text("Assertion violation.".into())],
        };
        Some(StmtKind::Assert { condition, message, severity })
    }

    /// What an expression of type string is made of.
    pub(super) fn text_parts(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> Option<Vec<PrintPart>> {
        let span = tree.span;
        match &tree.kind {
            Node::Text(text) => Some(vec![PrintPart::Text(text.clone())]),
            Node::Character(c) => Some(vec![PrintPart::Text(c.to_string())]),
            Node::Qualified(_, inner) => self.text_parts(context, inner),
            Node::Binary("&", ..) => {
                // A long chain leans to the left: it is walked, not nested.
                let mut later = Vec::new();
                let mut first = tree;
                while let Node::Binary("&", l, r) = &first.kind {
                    later.push(&**r);
                    first = l;
                }
                let mut parts = self.text_parts(context, first)?;
                for tree in later.into_iter().rev() {
                    parts.extend(self.text_parts(context, tree)?);
                }
                Some(parts)
            }
            Node::Name(name) => match context.get(name) {
                Some(Symbol::Text { parts, .. }) => Some(parts.clone()),
                Some(Symbol::Signal { ty, .. } | Symbol::Variable { ty, .. } | Symbol::Constant { ty, .. })
                    if ty.is_string() || *ty == Ty::character() =>
                {
                    let value = self.expr(context, tree, None)?;
                    Some(self.plain(&value))
                }
                Some(_) => {
                    let value = self.expr(context, tree, None)?;
                    self.report(say::type_mismatch("a string", &value.ty.describe(), span));
                    None
                }
                None => match name.as_str() {
                    "lf" => Some(vec![PrintPart::Text("\n".into())]),
                    "ht" => Some(vec![PrintPart::Text("\t".into())]),
                    "cr" | "nul" => Some(Vec::new()),
                    _ => {
                        self.undeclared(context, name, span);
                        None
                    }
                },
            },
            Node::Attribute(base, attribute) => match attribute.name.as_str() {
                "image" => {
                    let value = self.expr(context, base, None)?;
                    Some(self.image(&value))
                }
                "instance_name" | "path_name" => Some(vec![PrintPart::Scope]),
                "simple_name" => match &base.kind {
                    Node::Name(name) => Some(vec![PrintPart::Text(name.clone())]),
                    _ => None,
                },
                _ => {
                    self.report(say::not_read_yet("This text", span));
                    None
                }
            },
            Node::Call(base, arguments, _) => self.text_call(context, tree, base, arguments),
            _ => {
                self.report(say::not_read_yet("This text", span));
                None
            }
        }
    }

    fn text_call(
        &mut self,
        context: &mut Context<'a>,
        whole: &'a Tree,
        base: &'a Tree,
        arguments: &'a [Association],
    ) -> Option<Vec<PrintPart>> {
        let span = whole.span;
        let argument = arguments.first().and_then(|a| a.actual.as_ref());
        match (&base.kind, argument) {
            (Node::Attribute(mark, attribute), Some(tree)) if attribute.name == "image" => {
                let Node::Name(name) = &mark.kind else { return None };
                if name == "real" {
                    let value = self.static_real(context, tree)?;
                    return Some(vec![PrintPart::Text(format!("{value:e}"))]);
                }
                let ty = self.type_mark(context, &Ident { name: name.clone(), span: mark.span })?;
                let value = self.expr(context, tree, Some(&ty))?;
                if !ty.fits(&value.ty) {
                    self.report(say::type_mismatch(&ty.describe(), &value.ty.describe(), tree.span));
                    return None;
                }
                Some(self.image(&Value { ty, ..value }))
            }
            (Node::Name(name), Some(tree)) if context.get(name).is_none() => match name.as_str() {
                "to_string" | "to_bstring" | "to_hstring" | "to_ostring" | "to_hex_string" | "to_binary_string" => {
                    let value = self.expr(context, tree, None)?;
                    let radix = match name.as_str() {
                        "to_hstring" | "to_hex_string" => Radix::Capitals,
                        "to_ostring" => Radix::Octal,
                        _ => return Some(self.plain(&value)),
                    };
                    Some(vec![PrintPart::Value { value: value.id, radix, signed: false, width: None }])
                }
                _ => {
                    self.report(say::not_read_yet("This text", span));
                    None
                }
            },
            (Node::Name(name), _) if context.get(name).is_some() => {
                let value = self.expr(context, whole, None)?;
                if !value.ty.is_string() && value.ty != Ty::character() {
                    self.report(say::type_mismatch("a string", &value.ty.describe(), span));
                    return None;
                }
                Some(self.plain(&value))
            }
            _ => {
                self.report(say::not_read_yet("This text", span));
                None
            }
        }
    }

    /// `t'image(x)` (IEEE 1076-2008 16.2): characters keep their quotes, names are in lower case.
    fn image(&mut self, value: &Value) -> Vec<PrintPart> {
        let quote = || PrintPart::Text("'".into());
        match &value.ty {
            Ty::Logic | Ty::Bit => {
                let mut parts = vec![quote()];
                parts.extend(self.plain(value));
                parts.push(quote());
                parts
            }
            _ => self.plain(value),
        }
    }

    /// The value as `to_string` and `write` put it.
    fn plain(&mut self, value: &Value) -> Vec<PrintPart> {
        let part = |radix, signed| PrintPart::Value { value: value.id, radix, signed, width: Some(0) };
        match &value.ty {
            ty if ty.is_string() => vec![part(Radix::Text, false)],
            ty if *ty == Ty::character() => vec![part(Radix::Character, false)],
            Ty::Integer { .. } => vec![part(Radix::Decimal, true)],
            Ty::Time => vec![part(Radix::Time(1), false), PrintPart::Text(" fs".into())],
            Ty::Boolean | Ty::Enumeration { .. } => {
                let ty = value.ty.intern(&mut self.design);
                vec![part(Radix::Name(ty), false)]
            }
            _ => vec![PrintPart::Value { value: value.id, radix: Radix::Levels, signed: false, width: None }],
        }
    }

    /// Procedures of `std.textio` and `std.env`; `None` when it is none of them, else what it becomes.
    #[expect(clippy::option_option, reason = "no such procedure, or a fault in its call")]
    pub(super) fn standard_procedure(
        &mut self,
        context: &mut Context<'a>,
        name: &str,
        arguments: &'a [Association],
        span: Span,
    ) -> Option<Option<StmtKind>> {
        let trees: Vec<&'a Tree> = arguments.iter().filter_map(|a| a.actual.as_ref()).collect();
        let print = |parts, newline| Some(StmtKind::Print { parts, newline, time: PrintTime::Now });
        match name {
            "finish" | "stop" => Some(Some(StmtKind::Finish)),
            "writeline" => Some(print(Vec::new(), true)),
            "write" | "hwrite" | "owrite" | "bwrite" | "swrite" | "string_write" => {
                let Some(tree) = trees.get(1).copied() else {
                    self.report(say::wrong_arguments(name, span));
                    return Some(None);
                };
                let textual = match &tree.kind {
                    Node::Text(_) => name == "swrite" || !matches!(name, "hwrite" | "owrite" | "bwrite"),
                    Node::Qualified(mark, _) => matches!(&mark.kind, Node::Name(n) if n == "string"),
                    Node::Binary("&", ..) | Node::Attribute(..) => true,
                    Node::Call(base, ..) => {
                        matches!(&base.kind, Node::Attribute(_, a) if a.name == "image")
                            || matches!(&base.kind, Node::Name(n) if n.starts_with("to_") && n.ends_with("string") && context.get(n).is_none())
                    }
                    Node::Name(n) => match context.get(n) {
                        Some(Symbol::Constant { ty, .. } | Symbol::Variable { ty, .. }) => ty.is_string(),
                        other => matches!(other, Some(Symbol::Text { .. })),
                    },
                    _ => false,
                };
                if textual {
                    return Some(self.text_parts(context, tree).and_then(|parts| print(parts, false)));
                }
                let Some(value) = self.expr(context, tree, None) else { return Some(None) };
                let parts = match (name, &value.ty) {
                    ("hwrite", Ty::Vector { .. }) => vector_part(&value, Radix::Capitals),
                    ("owrite", Ty::Vector { .. }) => vector_part(&value, Radix::Octal),
                    // `write` takes nanoseconds where no unit is given.
                    (_, Ty::Time) => vec![
                        PrintPart::Value {
                            value: value.id,
                            radix: Radix::Time(1_000_000),
                            signed: false,
                            width: Some(0),
                        },
                        PrintPart::Text(" ns".into()),
                    ],
                    (
                        _,
                        Ty::Vector {
                            kind: VectorKind::Bit | VectorKind::StdLogic | VectorKind::Unsigned | VectorKind::Signed,
                            ..
                        },
                    ) => vector_part(&value, Radix::Levels),
                    _ => self.plain(&value),
                };
                Some(print(parts, false))
            }
            "readline" | "read" | "hread" | "file_open" | "file_close" => {
                self.report(say::not_read_yet("Reading from a file", span));
                Some(None)
            }
            _ => None,
        }
    }
}

fn vector_part(value: &Value, radix: Radix) -> Vec<PrintPart> {
    vec![PrintPart::Value { value: value.id, radix, signed: false, width: None }]
}
