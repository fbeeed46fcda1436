//! Files that testbenches read: `$fopen`, `$fscanf`, `$fgets` and their like (IEEE 1364-2005 17.2).

use super::expr::Sized;
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{Domain, NodeId, NodeKind};
use base::Span;
use design::{
    BinaryOp, ExprId, ExprKind, Scan, ScanKind, ScanPart, ScanSource, StmtKind, Storage, Target, TextFile, Unknowns,
    Variable,
};
use front::Lower;
use logic::{LogicVector, Shape};

const NUMBER: Sized = Sized::bits(32, true);

impl<'a> Lowering<'a, '_> {
    /// A function that reads; `None` when it is none of them.
    pub(super) fn reading(
        &mut self,
        context: &mut Context<'a>,
        name: &str,
        arguments: &'a [NodeId],
        span: Span,
    ) -> Option<(ExprId, Sized)> {
        let value = match (name, arguments) {
            ("fopen", [file, _]) => self.open(context, *file, span)?,
            ("feof", [file]) => {
                let source = self.file_number(context, *file);
                self.scan(source, vec![ScanPart::AtEnd { tried: true }], span)
            }
            ("rewind", [file]) => {
                let source = self.file_number(context, *file);
                self.scan(source, vec![ScanPart::Rewind], span)
            }
            ("fgets", [into, file]) => {
                let target = self.read_target(context, *into)?;
                let source = self.file_number(context, *file);
                self.scan(source, vec![ScanPart::RestOfLine(target)], span)
            }
            ("fgetc", [file]) => {
                let source = self.file_number(context, *file);
                return Some((self.next_character(source, span), NUMBER));
            }
            ("fscanf" | "sscanf", [from, format, rest @ ..]) => {
                let source = if name == "fscanf" {
                    self.file_number(context, *from)
                } else {
                    ScanSource::Text(self.expr_in(context, *from, Domain::Text))
                };
                let parts = self.scan_parts(context, *format, rest, span)?;
                self.scan(source, parts, span)
            }
            _ => return None,
        };
        Some((value, NUMBER))
    }

    /// The same as a statement: the number is dropped.
    pub(super) fn read_statement(
        &mut self,
        context: &mut Context<'a>,
        name: &str,
        arguments: &'a [NodeId],
        span: Span,
    ) -> Option<StmtKind> {
        let (value, _) = self.reading(context, name, arguments, span)?;
        self.dropped_value(value, span)
    }

    /// A variable of 32 bits that nobody named.
    fn hidden_number(&mut self, name: &str, span: Span) -> Target {
        let ty = self.logic_type(Shape::vector(31, 0), true);
        let id = self.design.variables.push(Variable { name: name.into(), ty, initial: None, span });
        Target { storage: Storage::Variable(id), low: 0, width: 32, element: None, span }
    }

    fn scan(&mut self, source: ScanSource, parts: Vec<ScanPart>, span: Span) -> ExprId {
        self.push(ExprKind::Scan(Box::new(Scan { source, parts })), 32, span)
    }

    fn file_number(&mut self, context: &mut Context<'a>, node: NodeId) -> ScanSource {
        let (value, size) = self.expr(context, node);
        ScanSource::File(self.resize(value, 32, size.signed, context.module.exprs[node].span))
    }

    fn read_target(&mut self, context: &mut Context<'a>, node: NodeId) -> Option<Target> {
        let mut targets = self.targets(context, node, true)?;
        let only = targets.pop()?;
        if !targets.is_empty() {
            self.report(say::not_understood_yet("Reading into several signals at once", only.span));
            return None;
        }
        Some(only)
    }

    /// A character's code, or -1 at the end.
    fn next_character(&mut self, source: ScanSource, span: Span) -> ExprId {
        let code = self.hidden_number("code", span);
        let Storage::Variable(variable) = code.storage else { return self.unknown(span).0 };
        let value = ScanPart::Value { kind: ScanKind::Character, most: Some(1), target: Some(code) };
        let count = self.scan(source, vec![value], span);
        let one = self.constant_expr(LogicVector::from_u64(32, 1), span);
        let (op, unknowns) = (BinaryOp::Equal, Unknowns::Propagate);
        let condition = self.push(ExprKind::Binary { op, signed: false, unknowns, left: count, right: one }, 1, span);
        let then = self.push(ExprKind::Variable(variable), 32, span);
        let otherwise = self.constant_expr(LogicVector::from_u64(32, u64::from(u32::MAX)), span);
        let unknown = design::UnknownCondition::Otherwise;
        self.push(ExprKind::Select { condition, then, otherwise, unknown }, 32, span)
    }

    /// Is it `$fopen(name, "r")`?
    pub(super) fn opens_for_reading(&self, context: &Context<'a>, arguments: &[NodeId]) -> bool {
        let mode = arguments.get(1).map(|mode| &context.module.exprs[*mode].kind);
        matches!(mode, Some(NodeKind::Text(text)) if text.starts_with('r'))
    }

    /// The number of a data file, which is read from its beginning again.
    fn open(&mut self, context: &mut Context<'a>, file: NodeId, span: Span) -> Option<ExprId> {
        let name = match &context.module.exprs[file].kind {
            NodeKind::Text(text) => text.clone(),
            _ => {
                let (value, _) = self.constant(context, file);
                super::memory::text_of(&value)
            }
        };
        let bare = name.rsplit(['/', '\\']).next().unwrap_or(&name).to_owned();
        let around = self.around;
        let Some(text) = around.and_then(|u| u.text(&bare)) else {
            let near = around.and_then(|u| base::nearest(&bare, u.texts()));
            self.report(say::data_file(&bare, near, span));
            return None;
        };
        let files = &mut self.design.files;
        let at = files.iter().position(|f| f.name == bare).unwrap_or_else(|| {
            files.push(TextFile { name: bare, text: text.to_owned() });
            files.len() - 1
        });
        let number = self.constant_expr(LogicVector::from_u64(32, at as u64 + 1), span);
        let rewound = self.scan(ScanSource::File(number), vec![ScanPart::Rewind], span);
        let (op, unknowns) = (BinaryOp::Add, Unknowns::Propagate);
        let kind = ExprKind::Binary { op, signed: true, unknowns, left: number, right: rewound };
        Some(self.push(kind, 32, span))
    }

    /// The steps of a format (IEEE 1364-2005 17.2.4.3).
    fn scan_parts(
        &mut self,
        context: &mut Context<'a>,
        format: NodeId,
        targets: &'a [NodeId],
        span: Span,
    ) -> Option<Vec<ScanPart>> {
        let NodeKind::Text(format) = &context.module.exprs[format].kind else {
            self.report(say::not_understood_yet("A format that is no text in quotes", span));
            return None;
        };
        let mut parts = Vec::new();
        let mut rest = targets.iter();
        let mut bytes = format.bytes().peekable();
        while let Some(byte) = bytes.next() {
            if byte.is_ascii_whitespace() {
                parts.push(ScanPart::Blanks);
                continue;
            }
            if byte != b'%' || bytes.peek() == Some(&b'%') {
                bytes.next_if(|_| byte == b'%');
                parts.push(ScanPart::Literal(byte));
                continue;
            }
            let is_dropped = bytes.next_if_eq(&b'*').is_some();
            let mut most: Option<u32> = None;
            while let Some(digit) = bytes.next_if(u8::is_ascii_digit) {
                most = Some(most.unwrap_or(0).saturating_mul(10).saturating_add(u32::from(digit - b'0')));
            }
            let kind = match bytes.next().map(|b| b.to_ascii_lowercase()) {
                Some(b'b') => ScanKind::Digits(1),
                Some(b'o') => ScanKind::Digits(3),
                Some(b'h' | b'x') => ScanKind::Digits(4),
                Some(b'd' | b't') => ScanKind::Decimal,
                Some(b'f' | b'e' | b'g') => ScanKind::Real,
                Some(b'c') => ScanKind::Character,
                Some(b's') => ScanKind::Word,
                _ => {
                    self.report(say::not_understood_yet("This format specification", span));
                    return None;
                }
            };
            let target = match if is_dropped { None } else { rest.next() } {
                Some(node) => Some(self.read_target(context, *node)?),
                None if is_dropped => None,
                None => {
                    self.report(say::not_understood_yet("A format with more values than variables", span));
                    return None;
                }
            };
            parts.push(ScanPart::Value { kind, most, target });
        }
        Some(parts)
    }
}
