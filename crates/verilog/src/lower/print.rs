//! Messages: `$display` and its like with their format specifications (IEEE 1364-2005 17.1).

use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{NodeId, NodeKind};
use base::Span;
use design::{ExprId, PrintPart, PrintTime, Radix, StmtKind};

/// A format specification: fewest characters where given, and its letter.
enum Piece {
    Text(String),
    Spec { width: Option<u32>, letter: char },
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
                            Piece::Spec { width, letter } => match rest.next() {
                                Some(value) => parts.push(self.formatted(context, *value, letter, width, span)),
                                None => parts.push(PrintPart::Text(String::new())),
                            },
                        }
                    }
                }
                _ => {
                    let (value, size) = self.expr(context, *argument);
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
        letter: char,
        width: Option<u32>,
        span: Span,
    ) -> PrintPart {
        if let (NodeKind::Text(text), 's') = (&context.module.exprs[node].kind, letter) {
            let wide = width.unwrap_or(0) as usize;
            return PrintPart::Text(format!("{text:>wide$}"));
        }
        if matches!(letter, 'e' | 'f' | 'g') {
            // IEEE 1364-2005 17.1.1.2: as the C language writes a double, six places behind the point.
            if let NodeKind::Real(number) = context.module.exprs[node].kind {
                let text = if letter == 'e' { exponential(number) } else { format!("{number:.6}") };
                let text = if letter == 'g' { format!("{number}") } else { text };
                let wide = width.unwrap_or(0) as usize;
                return PrintPart::Text(format!("{text:>wide$}"));
            }
            self.report(say::not_understood_yet(&format!("`%{letter}` of a value that is no real constant"), span));
        }
        let (value, size) = self.expr(context, node);
        let radix = match letter {
            'b' => Radix::Binary,
            'o' => Radix::Octal,
            'h' | 'x' => Radix::Hexadecimal,
            'c' => Radix::Character,
            's' => Radix::Text,
            't' => {
                let value = self.time_in_femtoseconds(context, value, size.signed, span);
                return PrintPart::Value { value, radix: Radix::Time(0), signed: false, width: width.or(Some(20)) };
            }
            _ => Radix::Decimal,
        };
        PrintPart::Value { value, radix, signed: size.signed && radix == Radix::Decimal, width }
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
        let unit = self.constant_expr(logic::LogicVector::from_u64(64, context.module.unit), span);
        let kind = design::ExprKind::Binary {
            op: design::BinaryOp::Mul,
            signed: false,
            unknowns: design::Unknowns::Propagate,
            left: value,
            right: unit,
        };
        self.push(kind, 64, span)
    }
}

/// `1.500000e+00`
fn exponential(number: f64) -> String {
    let text = format!("{number:.6e}");
    let (digits, exponent) = text.split_once('e').unwrap_or((&text, "0"));
    let (sign, exponent) = exponent.strip_prefix('-').map_or(('+', exponent), |e| ('-', e));
    format!("{digits}e{sign}{exponent:0>2}")
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
        let mut digits = String::new();
        let mut minus = false;
        while let Some(d) = chars.peek().copied().filter(|d| d.is_ascii_digit() || *d == '-' || *d == '.') {
            chars.next();
            minus |= d == '-';
            if d.is_ascii_digit() {
                digits.push(d);
            }
        }
        let Some(letter) = chars.next() else { break };
        let _ = minus;
        if !plain.is_empty() {
            list.push(Piece::Text(std::mem::take(&mut plain)));
        }
        let width = if digits.is_empty() { None } else { Some(digits.parse().unwrap_or(0).min(1_000)) };
        list.push(Piece::Spec { width, letter: letter.to_ascii_lowercase() });
    }
    if !plain.is_empty() {
        list.push(Piece::Text(plain));
    }
    list
}
