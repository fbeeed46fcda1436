//! Messages: `$display` and its like with their format specifications (IEEE 1364-2005 17.1).

use super::expr::Sized;
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{Domain, NodeId, NodeKind};
use base::Span;
use design::{Control, ExprId, PrintPart, PrintTime, Radix, RealStyle, StmtKind, TimeFormat};
use front::Lower;

/// A format specification: fewest characters where given, and its letter.
enum Piece {
    Text(String),
    Spec { width: Option<u32>, places: Option<u8>, letter: char, is_left: bool },
}

impl<'a> Lowering<'a, '_> {
    /// `$display` and its like; `name` may end in `b`, `o` or `h` for another radix where none is given.
    pub(super) fn print(
        &mut self,
        context: &mut Context<'a>,
        name: &str,
        arguments: &'a [NodeId],
        span: Span,
    ) -> StmtKind {
        let (time, newline) = match name {
            n if n.starts_with("strobe") => (PrintTime::Settled, true),
            n if n.starts_with("monitor") => (PrintTime::OnChange, true),
            n => (PrintTime::Now, !n.starts_with("write")),
        };
        let radix = match name {
            "displayb" | "writeb" | "strobeb" | "monitorb" => Radix::Binary,
            "displayo" | "writeo" | "strobeo" | "monitoro" => Radix::Octal,
            "displayh" | "writeh" | "strobeh" | "monitorh" => Radix::Hexadecimal,
            _ => Radix::Decimal,
        };
        let parts = self.print_parts(context, arguments, radix, span);
        StmtKind::Print { parts, newline, time }
    }

    /// The parts of a message from its arguments.
    pub(super) fn print_parts(
        &mut self,
        context: &mut Context<'a>,
        arguments: &'a [NodeId],
        radix: Radix,
        span: Span,
    ) -> Vec<PrintPart> {
        let mut parts = Vec::new();
        let mut rest = arguments.iter();
        while let Some(argument) = rest.next() {
            match &context.module.exprs[*argument].kind {
                NodeKind::Missing => parts.push(PrintPart::Text(" ".into())),
                NodeKind::Text(text) => {
                    for piece in pieces(text) {
                        match piece {
                            Piece::Text(text) => parts.push(PrintPart::Text(text)),
                            Piece::Spec { letter: 'm', .. } => parts.push(PrintPart::Scope),
                            Piece::Spec { width, places, letter, is_left } => match rest.next() {
                                // IEEE 1800-2017 21.2.1.3: blanks behind instead of before.
                                Some(value) if is_left => {
                                    let part = self.formatted(context, *value, (letter, Some(0), places), span);
                                    let width = width.unwrap_or(0);
                                    parts.push(PrintPart::Field { parts: vec![part], width, is_left });
                                }
                                Some(value) => {
                                    parts.push(self.formatted(context, *value, (letter, width, places), span));
                                }
                                None => parts.push(PrintPart::Text(String::new())),
                            },
                        }
                    }
                }
                _ => {
                    let (value, size) = self.expr_any(context, *argument, 0);
                    let radix = match size.domain {
                        Domain::Bits => radix,
                        Domain::Real => Radix::Real(RealStyle::Shorter, None),
                        Domain::Text => Radix::Text,
                    };
                    parts.push(PrintPart::Value { value, radix, signed: size.signed, width: None });
                }
            }
        }
        parts
    }

    fn formatted(
        &mut self,
        context: &mut Context<'a>,
        node: NodeId,
        (letter, width, places): (char, Option<u32>, Option<u8>),
        span: Span,
    ) -> PrintPart {
        if let (NodeKind::Text(text), 's') = (&context.module.exprs[node].kind, letter) {
            let wide = width.unwrap_or(0) as usize;
            return PrintPart::Text(format!("{text:>wide$}"));
        }
        let (value, size) = self.expr_any(context, node, 0);
        // `%p` of a number is the number (IEEE 1800-2017 21.2.1.7).
        let width = if letter == 'p' { width.or(Some(0)) } else { width };
        if size.is_real() || matches!(letter, 'e' | 'f' | 'g') {
            return self.real_part(context, value, size, (letter, width, places), span);
        }
        let radix = match letter {
            'b' => Radix::Binary,
            'o' => Radix::Octal,
            'h' | 'x' => Radix::Hexadecimal,
            'c' => Radix::Character,
            's' => Radix::Text,
            't' => {
                let value = self.time_in_femtoseconds(context, value, size.signed, span);
                return PrintPart::Value { value, radix: Radix::Time(0), signed: false, width };
            }
            _ => Radix::Decimal,
        };
        PrintPart::Value { value, radix, signed: size.signed && radix == Radix::Decimal, width }
    }

    /// A real number, or a value written as one (IEEE 1364-2005 17.1.1.2).
    fn real_part(
        &mut self,
        context: &Context<'a>,
        value: ExprId,
        size: Sized,
        (letter, width, places): (char, Option<u32>, Option<u8>),
        span: Span,
    ) -> PrintPart {
        let style = match letter {
            'e' => RealStyle::Exponent,
            'f' => RealStyle::Fixed,
            'g' => RealStyle::Shorter,
            't' => {
                let value = self.real_femtoseconds(context, value, span);
                return PrintPart::Value { value, radix: Radix::Time(0), signed: false, width };
            }
            // Anything else asks for a whole number.
            _ => {
                let (value, size) = self.rounded(value, size, 0);
                let radix = match letter {
                    'b' => Radix::Binary,
                    'o' => Radix::Octal,
                    'h' | 'x' => Radix::Hexadecimal,
                    _ => Radix::Decimal,
                };
                let width = if radix == Radix::Decimal { Some(width.unwrap_or(0)) } else { width };
                return PrintPart::Value { value, radix, signed: size.signed, width };
            }
        };
        let value = self.made_real(value, size, span);
        PrintPart::Value { value, radix: Radix::Real(style, places), signed: false, width: Some(width.unwrap_or(0)) }
    }

    /// `$timeformat(unit, places, suffix, width)`; without arguments the usual way again (IEEE 1364-2005 17.3.2).
    pub(super) fn time_format(
        &mut self,
        context: &mut Context<'a>,
        arguments: &'a [NodeId],
        span: Span,
    ) -> Option<StmtKind> {
        let mut format = TimeFormat::default();
        if let Some(exponent) = arguments.first() {
            let power = self.constant_number(context, *exponent)?;
            let Some(unit) = u32::try_from(power + 15).ok().filter(|p| *p <= 15) else {
                self.report(say::bad_time_unit(power, context.module.exprs[*exponent].span));
                return None;
            };
            format.unit = 10u64.pow(unit);
        }
        if let Some(places) = arguments.get(1) {
            format.places = self.constant_number(context, *places)?.clamp(0, 18) as u32;
        }
        match arguments.get(2).map(|a| &context.module.exprs[*a].kind) {
            None | Some(NodeKind::Missing) => {}
            Some(NodeKind::Text(text)) => format.suffix.clone_from(text),
            Some(_) => {
                self.report(say::not_understood_yet("A suffix that is no text in quotes", span));
                return None;
            }
        }
        if let Some(width) = arguments.get(3) {
            format.width = self.constant_number(context, *width)?.clamp(0, 1_000) as u32;
        }
        Some(StmtKind::Control(Control::TimeFormat(format)))
    }

    /// A number of the module's time units as femtoseconds.
    pub(super) fn time_in_femtoseconds(
        &mut self,
        context: &Context<'a>,
        value: ExprId,
        signed: bool,
        span: Span,
    ) -> ExprId {
        let value = self.resize(value, 64, signed, span);
        let unit = context.module.unit;
        let number = |n: u64| logic::LogicVector::from_u64(64, n);
        if let Some(count) = design::fold(&self.design, value).and_then(|v| v.to_u64()) {
            return self.constant_expr(number(count.saturating_mul(unit)), span);
        }
        // More than fits (negative numbers are among it) stays more than any simulation takes.
        let most = self.constant_expr(number(u64::MAX / unit.max(1)), span);
        let binary = |op, left, right| design::ExprKind::Binary {
            op,
            signed: false,
            unknowns: design::Unknowns::Propagate,
            left,
            right,
        };
        let fits = self.push(binary(design::BinaryOp::LessEqual, value, most), 1, span);
        let unit = self.constant_expr(number(unit), span);
        let product = self.push(binary(design::BinaryOp::Mul, value, unit), 64, span);
        let otherwise = self.constant_expr(number(u64::MAX), span);
        let unknown = design::UnknownCondition::Merge;
        let kind = design::ExprKind::Select { condition: fits, then: product, otherwise, unknown };
        self.push(kind, 64, span)
    }
}

fn pieces(text: &str) -> Vec<Piece> {
    let mut list = Vec::new();
    let mut plain = String::new();
    let mut chars = text.chars().peekable();
    while let Some(c) = chars.next() {
        if c != '%' {
            plain.push(c);
            continue;
        }
        if chars.peek() == Some(&'%') {
            chars.next();
            plain.push('%');
            continue;
        }
        let (mut wide, mut behind, mut in_places) = (String::new(), String::new(), false);
        let is_left = chars.peek() == Some(&'-');
        while let Some(d) = chars.peek().copied().filter(|d| d.is_ascii_digit() || *d == '-' || *d == '.') {
            chars.next();
            in_places |= d == '.';
            if d.is_ascii_digit() {
                if in_places { &mut behind } else { &mut wide }.push(d);
            }
        }
        let Some(letter) = chars.next() else { break };
        if !plain.is_empty() {
            list.push(Piece::Text(std::mem::take(&mut plain)));
        }
        let width = if wide.is_empty() { None } else { Some(wide.parse().unwrap_or(0).min(1_000)) };
        let places = in_places.then(|| behind.parse().unwrap_or(0).min(30));
        list.push(Piece::Spec { width, places, letter: letter.to_ascii_lowercase(), is_left });
    }
    if !plain.is_empty() {
        list.push(Piece::Text(plain));
    }
    list
}
