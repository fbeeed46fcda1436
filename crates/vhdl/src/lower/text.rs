//! Messages: `report`, `assert`, `std.textio` as far as writing, and the end of the simulation (`std.env`).

use super::types::{SEVERITIES, Ty, VectorKind};
use super::{Context, Lowering, Symbol, Value};
use crate::diagnostics as say;
use crate::tree::{Association, Expr as Tree, ExprKind as Node, Ident};
use base::Span;
use design::{BinaryOp, ExprKind, PrintPart, PrintTime, Radix, RealStyle, Stmt, StmtKind};
use front::Lower;
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
        let fixed = match severity.map(|t| &t.kind) {
            None => Some(usual),
            Some(Node::Name(name)) if context.get(name).is_none() => SEVERITIES.iter().position(|s| s == name),
            Some(_) => None,
        };
        let condition = match condition {
            Some(tree) => self.condition(context, tree)?,
            None => self.constant_expr(LogicVector::from_u64(1, 0), span),
        };
        let message = match report {
            Some(tree) => self.text_parts(context, tree)?,
            None => vec![PrintPart::Text("Assertion violation.".into())],
        };
        if let Some(severity) = fixed {
            return Some(StmtKind::Assert { condition, message, severity: severity as u8 });
        }
        // A severity that a variable holds: one assertion of each kind, of which one is reached.
        let level = self.expr_as(context, severity?, &Ty::severity())?;
        let mut whole: Option<Vec<Stmt>> = None;
        for place in (0..SEVERITIES.len()).rev() {
            let assert = StmtKind::Assert { condition, message: message.clone(), severity: place as u8 };
            let then = vec![Stmt { kind: assert, span }];
            let here = self.constant_expr(LogicVector::from_u64(self.design.exprs[level].width, place as u64), span);
            let unknowns = design::Unknowns::Propagate;
            let kind = ExprKind::Binary { op: BinaryOp::Equal, signed: false, unknowns, left: level, right: here };
            let condition = self.push(kind, 1, span);
            whole = Some(vec![Stmt { kind: StmtKind::If { condition, then, otherwise: whole }, span }]);
        }
        whole?.pop().map(|s| s.kind)
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
            Node::Select(base, field) if field.name == "all" => match self.line_of(context, base) {
                Some(line) => Some(vec![PrintPart::Line { line, is_kept: true }]),
                None => {
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
                    if let (Ty::Real, Some(digits)) = (&value.ty, arguments.get(1).and_then(|a| a.actual.as_ref())) {
                        let places = self.static_integer(context, digits)?;
                        return Some(self.real_text(&value, places));
                    }
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
            ty if matches!(ty, Ty::Logic | Ty::Bit) || *ty == Ty::character() => {
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
            Ty::Real => vec![part(Radix::Real(RealStyle::Image, None), false)],
            Ty::Boolean | Ty::Enumeration { .. } => {
                let ty = value.ty.intern(&mut self.design);
                vec![part(Radix::Name(ty), false)]
            }
            _ => vec![PrintPart::Value { value: value.id, radix: Radix::Levels, signed: false, width: None }],
        }
    }

    /// A real number with so many places behind the point; 0 for the image (IEEE 1076-2008 16.4).
    fn real_text(&mut self, value: &Value, places: i64) -> Vec<PrintPart> {
        let places = u8::try_from(places).unwrap_or(0).min(30);
        let style = if places == 0 { RealStyle::Image } else { RealStyle::Fixed };
        let radix = Radix::Real(style, Some(places));
        vec![PrintPart::Value { value: value.id, radix, signed: false, width: Some(0) }]
    }

    /// What a call of `write` says beside the line and the value; nanoseconds where no unit is given.
    fn layout(&mut self, context: &mut Context<'a>, arguments: &'a [Association]) -> Option<Layout> {
        const UNITS: [(&str, u64); 6] = [
            ("fs", 1),
            ("ps", 1_000),
            ("ns", 1_000_000),
            ("us", 1_000_000_000),
            ("ms", 1_000_000_000_000),
            ("sec", 1_000_000_000_000_000),
        ];
        let mut layout = Layout { is_left: false, width: 0, unit: UNITS[2], places: 0 };
        for (i, association) in arguments.iter().enumerate() {
            let Some(tree) = association.actual.as_ref() else { continue };
            let formal = association.formal.as_ref().map(|f| match &f.kind {
                Node::Name(name) => name.as_str(),
                _ => "",
            });
            let name = if let Node::Name(name) = &tree.kind { name.as_str() } else { "" };
            match (formal, i) {
                (Some("justified"), _) | (None, 2) => layout.is_left = name == "left",
                (Some("field"), _) | (None, 3) => {
                    layout.width = u32::try_from(self.static_integer(context, tree)?.max(0)).unwrap_or(u32::MAX);
                }
                (Some("digits"), _) => layout.places = self.static_integer(context, tree)?,
                (None, 4) if matches!(tree.kind, Node::Integer(_)) => {
                    layout.places = self.static_integer(context, tree)?;
                }
                (Some("unit"), _) | (None, 4) => {
                    if let Some(unit) = UNITS.into_iter().find(|(unit, _)| *unit == name) {
                        layout.unit = unit;
                    }
                }
                _ => {}
            }
        }
        Some(layout)
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
        // What is written into a line stays there until the line is written out.
        let kept = trees.first().and_then(|tree| self.line_of(context, tree)).filter(|_| name.ends_with("write"));
        let time = kept.map_or(PrintTime::Now, PrintTime::Kept);
        let print = |parts, newline| Some(StmtKind::Print { parts, newline, time });
        match name {
            "finish" | "stop" => Some(Some(StmtKind::Finish)),
            "uniform" if context.sees("math_real") => Some(self.uniform(context, &trees, span)),
            "writeline" => {
                let line = trees.get(1).and_then(|tree| self.line_of(context, tree));
                let parts = line.map(|line| PrintPart::Line { line, is_kept: false });
                Some(print(parts.into_iter().collect(), true))
            }
            "write" | "hwrite" | "owrite" | "bwrite" | "swrite" | "string_write" => {
                let Some(tree) = trees.get(1).copied() else {
                    self.report(say::wrong_arguments(name, span));
                    return Some(None);
                };
                let Some(layout) = self.layout(context, arguments) else { return Some(None) };
                let print = |parts| print(layout.fill(parts), false);
                let textual = match &tree.kind {
                    Node::Text(_) => name == "swrite" || !matches!(name, "hwrite" | "owrite" | "bwrite"),
                    _ => is_text(context, tree),
                };
                if textual {
                    return Some(self.text_parts(context, tree).and_then(print));
                }
                let Some(value) = self.expr(context, tree, None) else { return Some(None) };
                let parts = match (name, &value.ty) {
                    ("hwrite", Ty::Vector { .. }) => vector_part(&value, Radix::Capitals),
                    ("owrite", Ty::Vector { .. }) => vector_part(&value, Radix::Octal),
                    (_, Ty::Real) => self.real_text(&value, layout.places),
                    (_, Ty::Time) => {
                        let (unit, radix) = (layout.unit.0, Radix::Exact(layout.unit.1));
                        let number = PrintPart::Value { value: value.id, radix, signed: false, width: Some(0) };
                        vec![number, PrintPart::Text(format!(" {unit}"))]
                    }
                    (
                        _,
                        Ty::Vector {
                            kind: VectorKind::Bit | VectorKind::StdLogic | VectorKind::Unsigned | VectorKind::Signed,
                            ..
                        },
                    ) => vector_part(&value, Radix::Levels),
                    _ => self.plain(&value),
                };
                Some(print(parts))
            }
            _ => self.reading(context, name, &trees, span),
        }
    }
}

/// Is this made of pieces of text, rather than a value?
pub(super) fn is_text(context: &Context<'_>, tree: &Tree) -> bool {
    match &tree.kind {
        Node::Qualified(mark, _) => {
            matches!(&mark.kind, Node::Name(n) if matches!(n.as_str(), "string" | "character"))
        }
        Node::Character(_) => true,
        Node::Select(base, field) => {
            field.name == "all"
                && matches!(&base.kind, Node::Name(n) if matches!(context.get(n), Some(Symbol::Line { .. })))
        }
        Node::Binary("&", ..) | Node::Attribute(..) => true,
        Node::Call(base, ..) => match &base.kind {
            Node::Attribute(_, attribute) => attribute.name == "image",
            Node::Name(n) => n.starts_with("to_") && n.ends_with("string") && context.get(n).is_none(),
            _ => false,
        },
        Node::Name(n) => match context.get(n) {
            Some(Symbol::Constant { ty, .. } | Symbol::Variable { ty, .. }) => ty.is_string(),
            other => matches!(other, Some(Symbol::Text { .. })),
        },
        _ => false,
    }
}

/// How `write` sets a value: the last parameters of the procedure (IEEE 1076-2008 16.4).
struct Layout {
    is_left: bool,
    width: u32,
    /// Of a time: its name, and how many femtoseconds it has.
    unit: (&'static str, u64),
    /// Of a real number: places behind the point.
    places: i64,
}

impl Layout {
    fn fill(&self, parts: Vec<PrintPart>) -> Vec<PrintPart> {
        match self.width {
            0 => parts,
            width => vec![PrintPart::Field { parts, width, is_left: self.is_left }],
        }
    }
}

fn vector_part(value: &Value, radix: Radix) -> Vec<PrintPart> {
    vec![PrintPart::Value { value: value.id, radix, signed: false, width: None }]
}
