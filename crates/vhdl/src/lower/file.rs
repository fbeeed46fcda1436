//! Files and lines that testbenches read: the reading half of `std.textio` (IEEE 1076-2008 5.5, 16.4).

use super::types::{Ty, VectorKind};
use super::{Context, Lowering, Symbol, Value};
use crate::diagnostics as say;
use crate::tree::{Expr as Tree, ExprKind as Node, FileObject};
use base::Span;
use design::{
    AssignMode, BinaryOp, ExprId, ExprKind, PrintPart, Scan, ScanKind, ScanPart, ScanSource, Stmt, StmtKind, Storage,
    Target, TextFile, Type, TypeKind, Unknowns, Variable, VariableId,
};
use front::Lower;
use logic::LogicVector;

impl<'a> Lowering<'a, '_> {
    /// `file f : text open read_mode is "rows.txt";`
    pub(super) fn file_object(&mut self, context: &mut Context<'a>, file: &'a FileObject) {
        let (text, name) = match (&file.path, file.is_written) {
            (Some(path), false) => match self.data_text(context, path) {
                Some(found) => found,
                None => {
                    self.findings.note_name(&file.name.name);
                    return;
                }
            },
            _ => (String::new(), String::new()),
        };
        self.design.files.push(TextFile { name, text });
        let number = u32::try_from(self.design.files.len()).unwrap_or(u32::MAX);
        self.declare(context, &file.name, Symbol::File { number, span: file.name.span });
    }

    /// The text of a data file of the hand-in with its bare name; a finding when there is none.
    fn data_text(&mut self, context: &mut Context<'a>, path: &'a Tree) -> Option<(String, String)> {
        let parts = self.text_parts(context, path)?;
        let mut name = String::new();
        for part in parts {
            match part {
                PrintPart::Text(text) => name += &text,
                PrintPart::Value { value, .. } => {
                    let known = design::fold(&self.design, value)?;
                    let byte = |i: u32| known.slice(i64::from(i) * 8, 8).to_u64().map_or(' ', |b| char::from(b as u8));
                    name.extend((0..known.width() / 8).rev().map(byte));
                }
                _ => {
                    self.report(say::not_read_yet("A file with a computed name", path.span));
                    return None;
                }
            }
        }
        let bare = name.rsplit(['/', '\\']).next().unwrap_or(&name).to_owned();
        let found = self.around.and_then(|a| a.text(&bare)).map(str::to_owned);
        if found.is_none() {
            let names = self.around.map(design::Units::texts).unwrap_or_default();
            let near = base::nearest(&bare, names);
            self.report(say::data_file(&bare, near, path.span));
        }
        Some((found?, bare))
    }

    /// A new line of text.
    pub(super) fn new_line(&mut self) -> u32 {
        self.design.lines += 1;
        self.design.lines - 1
    }

    fn file_number(&mut self, context: &mut Context<'a>, tree: &Tree) -> Option<ScanSource> {
        let Node::Name(name) = &tree.kind else {
            self.report(say::expected("the name of a file", "something else", tree.span));
            return None;
        };
        match context.get(name) {
            Some(Symbol::File { number, .. }) => {
                let number = u64::from(*number);
                Some(ScanSource::File(self.constant_expr(LogicVector::from_u64(32, number), tree.span)))
            }
            None if name == "input" => {
                self.report(say::not_read_yet("Reading from the terminal", tree.span));
                None
            }
            None => {
                self.undeclared(context, name, tree.span);
                None
            }
            Some(_) => {
                self.report(say::expected("the name of a file", &format!("`{name}`"), tree.span));
                None
            }
        }
    }

    /// The line that a name stands for.
    pub(super) fn line_of(&self, context: &Context<'a>, tree: &Tree) -> Option<u32> {
        match &tree.kind {
            Node::Name(name) => match context.get(name) {
                Some(Symbol::Line { number, .. }) => Some(*number),
                _ => None,
            },
            _ => None,
        }
    }

    fn line_number(&mut self, context: &mut Context<'a>, tree: &Tree) -> Option<u32> {
        if let Some(line) = self.line_of(context, tree) {
            return Some(line);
        }
        self.report(say::expected("a variable of type line", "something else", tree.span));
        None
    }

    fn scan(&mut self, source: ScanSource, parts: Vec<ScanPart>, span: Span) -> ExprId {
        self.push(ExprKind::Scan(Box::new(Scan { source, parts })), 32, span)
    }

    /// `endfile(f)`
    pub(super) fn end_of_file(&mut self, context: &mut Context<'a>, file: &Tree, span: Span) -> Option<Value> {
        let source = self.file_number(context, file)?;
        let count = self.scan(source, vec![ScanPart::AtEnd { tried: false }], span);
        Some(Value { id: self.push(ExprKind::Slice { base: count, low: 0 }, 1, span), ty: Ty::Boolean })
    }

    /// A procedure that reads; `None` when it is none of them.
    #[expect(clippy::option_option, reason = "no such procedure, or a fault in its call")]
    pub(super) fn reading(
        &mut self,
        context: &mut Context<'a>,
        name: &str,
        trees: &[&'a Tree],
        span: Span,
    ) -> Option<Option<StmtKind>> {
        let nothing = || StmtKind::Block { label: None, body: Vec::new() };
        Some(match (name, trees) {
            ("file_close", _) => Some(nothing()),
            ("file_open", _) => self.file_open(context, trees, span),
            ("readline", [file, line]) => self.read_line(context, file, line, span),
            ("read" | "hread" | "oread" | "bread" | "sread" | "string_read", [line, value, rest @ ..]) => {
                self.read_value(context, name, (line, value, rest.first().copied()), span)
            }
            ("readline" | "read" | "hread" | "oread" | "bread", _) => {
                self.report(say::wrong_arguments(name, span));
                None
            }
            _ => return None,
        })
    }

    /// `file_open(f, "rows.txt", read_mode)`, with a status before it or without.
    fn file_open(&mut self, context: &mut Context<'a>, trees: &[&'a Tree], span: Span) -> Option<StmtKind> {
        let is_file =
            |tree: &Tree| matches!(&tree.kind, Node::Name(n) if matches!(context.get(n), Some(Symbol::File { .. })));
        let (status, rest) = match trees {
            [first, rest @ ..] if !is_file(first) => (Some(*first), rest),
            all => (None, all),
        };
        let [file, path, mode @ ..] = rest else {
            self.report(say::wrong_arguments("file_open", span));
            return None;
        };
        let source = self.file_number(context, file)?;
        let mut body = Vec::new();
        let is_read = mode.first().is_none_or(|m| matches!(&m.kind, Node::Name(n) if n == "read_mode"));
        if is_read {
            let (text, name) = self.data_text(context, path)?;
            let Node::Name(object) = &file.kind else { return None };
            let Some(Symbol::File { number, .. }) = context.get(object) else { return None };
            let slot = &mut self.design.files[*number as usize - 1];
            if !slot.name.is_empty() && slot.name != name {
                self.report(say::not_read_yet("A file that is opened under several names", span));
                return None;
            }
            (slot.text, slot.name) = (text, name);
            let value = self.scan(source, vec![ScanPart::Rewind], span);
            let (_, target) = self.hidden("count", span);
            let mode = AssignMode::Blocking;
            body.push(Stmt { kind: StmtKind::Assign { targets: vec![target], value, mode, delay: None }, span });
        }
        if let Some(status) = status {
            let place = self.place(context, status, Some(false))?;
            let width = place.target.width;
            let value = self.constant_expr(LogicVector::from_u64(width, 0), span);
            let (targets, mode) = (vec![place.target], AssignMode::Blocking);
            body.push(Stmt { kind: StmtKind::Assign { targets, value, mode, delay: None }, span });
        }
        Some(StmtKind::Block { label: None, body })
    }

    /// A variable of 32 bits that nobody named.
    fn hidden(&mut self, name: &str, span: Span) -> (VariableId, Target) {
        let kind = TypeKind::Logic { shape: logic::Shape::vector(31, 0), signed: true, levels: design::LevelSet::Two };
        let ty = self.design.intern_type(Type { kind, name: None });
        let id = self.design.variables.push(Variable { name: name.into(), ty, initial: None, span });
        (id, Target { storage: Storage::Variable(id), low: 0, width: 32, element: None, span })
    }

    /// Reads, and leaves in a bit whether one value was there.
    fn read_one(&mut self, source: ScanSource, part: ScanPart, span: Span) -> (Stmt, ExprId) {
        let value = self.scan(source, vec![part], span);
        let (id, target) = self.hidden("count", span);
        let mode = AssignMode::Blocking;
        let stmt = Stmt { kind: StmtKind::Assign { targets: vec![target], value, mode, delay: None }, span };
        let count = self.push(ExprKind::Variable(id), 32, span);
        let one = self.constant_expr(LogicVector::from_u64(32, 1), span);
        let (op, unknowns) = (BinaryOp::Equal, Unknowns::False);
        let good = self.push(ExprKind::Binary { op, signed: false, unknowns, left: count, right: one }, 1, span);
        (stmt, good)
    }

    fn read_line(&mut self, context: &mut Context<'a>, file: &Tree, line: &Tree, span: Span) -> Option<StmtKind> {
        let source = self.file_number(context, file)?;
        let line = self.line_number(context, line)?;
        let (stmt, condition) = self.read_one(source, ScanPart::TakeLine(line), span);
        let message = vec![PrintPart::Text("There is no line left in the file.".into())];
        let assert = Stmt { kind: StmtKind::Assert { condition, message, severity: 3 }, span };
        Some(StmtKind::Block { label: None, body: vec![stmt, assert] })
    }

    /// `read(l, value)`, or `read(l, value, good)`.
    fn read_value(
        &mut self,
        context: &mut Context<'a>,
        name: &str,
        (line, value, good): (&'a Tree, &'a Tree, Option<&'a Tree>),
        span: Span,
    ) -> Option<StmtKind> {
        let line = self.line_number(context, line)?;
        let place = self.place(context, value, Some(false))?;
        let kind = match (name, &place.ty) {
            ("hread", Ty::Vector { .. }) => Some(ScanKind::ExactDigits(4)),
            ("oread", Ty::Vector { .. }) => Some(ScanKind::ExactDigits(3)),
            (_, Ty::Vector { kind: VectorKind::Bit, .. } | Ty::Bit) => Some(ScanKind::Levels),
            (_, Ty::Vector { .. } | Ty::Logic) => Some(ScanKind::Levels),
            (_, Ty::Integer { .. }) => Some(ScanKind::Decimal),
            (_, Ty::Boolean) => Some(ScanKind::Boolean),
            (_, Ty::Real) => Some(ScanKind::Real),
            (_, Ty::Time) => Some(ScanKind::Time),
            (_, ty) if *ty == Ty::character() => Some(ScanKind::Character),
            _ => None,
        };
        let (source, mut body) = (ScanSource::Line(line), Vec::new());
        let part = |target: Target, kind| ScanPart::Value { kind, most: None, target: Some(target) };
        let condition = match kind {
            Some(kind) => {
                let (stmt, good) = self.read_one(source, part(place.target, kind), span);
                body.push(stmt);
                good
            }
            // A text takes as many characters as it has, blanks included.
            None if place.ty.is_string() && place.target.element.is_none() => {
                let count = place.target.width / 8;
                let each = (0..count).rev().map(|i| {
                    let target = Target { low: place.target.low + 8 * i, width: 8, ..place.target.clone() };
                    part(target, ScanKind::Character)
                });
                let value = self.scan(source, each.collect(), span);
                let (id, target) = self.hidden("count", span);
                let mode = AssignMode::Blocking;
                body.push(Stmt { kind: StmtKind::Assign { targets: vec![target], value, mode, delay: None }, span });
                let left = self.push(ExprKind::Variable(id), 32, span);
                let right = self.constant_expr(LogicVector::from_u64(32, u64::from(count)), span);
                let (op, unknowns) = (BinaryOp::Equal, Unknowns::False);
                self.push(ExprKind::Binary { op, signed: false, unknowns, left, right }, 1, span)
            }
            None => {
                self.report(say::not_read_yet("Reading a value of this type", value.span));
                return None;
            }
        };
        match good {
            Some(tree) => {
                let place = self.place(context, tree, Some(false))?;
                if place.ty != Ty::Boolean {
                    self.report(say::type_mismatch("a boolean", &place.ty.describe(), tree.span));
                    return None;
                }
                let (targets, mode) = (vec![place.target], AssignMode::Blocking);
                body.push(Stmt { kind: StmtKind::Assign { targets, value: condition, mode, delay: None }, span });
            }
            None => {
                let message = vec![PrintPart::Text("The line has no such value at its place.".into())];
                body.push(Stmt { kind: StmtKind::Assert { condition, message, severity: 3 }, span });
            }
        }
        Some(StmtKind::Block { label: None, body })
    }
}
