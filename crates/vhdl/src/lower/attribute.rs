//! Attributes of types and signals (IEEE 1076-2008 16.2).

use super::types::{INTEGER_BITS, Ty};
use super::{Context, Lowering, Symbol, Value};
use crate::diagnostics as say;
use crate::tree::{Association, Expr as Tree, ExprKind as Node, Ident};
use base::Span;
use design::{
    AssignMode, BinaryOp, Delay, ExprKind, PrintPart, Process, ProcessKind, Sensitivity, Signal, SignalId, SignalKind,
    Stmt, StmtKind, Storage, SystemFunction, Target, TextOp, UnaryOp, Unknowns,
};
use front::Lower;
use logic::LogicVector;

impl<'a> Lowering<'a, '_> {
    pub(super) fn attribute(
        &mut self,
        context: &mut Context<'a>,
        base: &'a Tree,
        attribute: &Ident,
        span: Span,
    ) -> Option<Value> {
        match attribute.name.as_str() {
            "delayed" => self.delayed(context, base, None, span),
            "event" | "stable" | "last_value" | "active" | "quiet" | "last_event" | "last_active" | "transaction" => {
                let value = self.expr(context, base, None)?;
                let Some((signal, low)) = self.signal_bit(value.id) else {
                    self.report(say::edge_of_no_signal(base.span));
                    return None;
                };
                self.signal_attribute(context, (signal, low, value.ty), &attribute.name, span)
            }
            "length" if self.line_of(context, base).is_some() => {
                let line = self.line_of(context, base)?;
                let raw = self.push(ExprKind::System(SystemFunction::LineLength(line)), 32, span);
                let id = self.resize(raw, INTEGER_BITS, false, span);
                Some(Value { id, ty: Ty::INTEGER })
            }
            "length"
                if matches!(&base.kind, Node::Select(line, field)
                if field.name == "all" && self.line_of(context, line).is_some()) =>
            {
                let Node::Select(line, _) = &base.kind else { return None };
                self.attribute(context, line, attribute, span)
            }
            "ascending" => {
                let (left, right) = self.bounds_of(context, base)?;
                let id = self.constant_expr(LogicVector::from_u64(1, u64::from(left <= right)), span);
                Some(Value { id, ty: Ty::Boolean })
            }
            "length" | "left" | "right" | "high" | "low" => {
                let (left, right) = self.bounds_of(context, base)?;
                let n = match attribute.name.as_str() {
                    "left" => left,
                    "right" => right,
                    "high" => left.max(right),
                    "low" => left.min(right),
                    _ => i64::try_from(left.abs_diff(right)).ok()? + 1,
                };
                // The bound of an enumeration is one of its values.
                if let Node::Name(name) = &base.kind
                    && attribute.name != "length"
                    && let Some(Symbol::Type { ty: ty @ Ty::Enumeration { .. }, .. }) = context.get(name)
                {
                    let ty = ty.clone();
                    let id = self.constant_expr(LogicVector::from_u64(ty.width()?, u64::try_from(n).ok()?), span);
                    return Some(Value { id, ty });
                }
                let id = self.integer(n, span);
                Some(Value { id, ty: Ty::INTEGER })
            }
            other => {
                self.report(say::not_read_yet(&format!("The attribute `'{other}` here"), span));
                None
            }
        }
    }

    /// `t'pos(x)`, `t'val(n)`, `t'succ(x)`, `t'pred(x)` of an enumeration or integer.
    fn position(
        &mut self,
        context: &mut Context<'a>,
        mark: &'a Tree,
        attribute: &str,
        arguments: &'a [Association],
        span: Span,
    ) -> Option<Value> {
        let (Node::Name(name), [Association { actual: Some(tree), .. }]) = (&mark.kind, arguments) else {
            self.report(say::wrong_arguments(attribute, span));
            return None;
        };
        let ty = self.type_mark(context, &Ident { name: name.clone(), span: mark.span })?;
        let width = ty.width()?;
        let wanted = if attribute == "val" { &Ty::INTEGER } else { &ty };
        let value = self.expr(context, tree, Some(wanted))?;
        if !wanted.fits(&value.ty) {
            self.report(say::type_mismatch(&wanted.describe(), &value.ty.describe(), tree.span));
            return None;
        }
        let attribute = match attribute {
            // Both count upwards in every type of ours.
            "leftof" => "pred",
            "rightof" => "succ",
            other => other,
        };
        let ends = match &ty {
            Ty::Enumeration { literals, .. } => Some((0, literals.len() as i64 - 1)),
            Ty::Integer { low, high } => Some((*low, *high)),
            _ => None,
        };
        match attribute {
            "val" => {
                let given = match ends {
                    Some(ends) => self.stays_within_ends(&value, ends, "`'val` leaves its type", span),
                    None => value.id,
                };
                let id = self.resize(given, width, false, span);
                Some(Value { id, ty })
            }
            "pos" => {
                let id = self.resize(value.id, INTEGER_BITS, matches!(ty, Ty::Integer { .. }), span);
                Some(Value { id, ty: Ty::INTEGER })
            }
            step => {
                let one = self.constant_expr(LogicVector::from_u64(width, 1), span);
                let op = if step == "succ" { BinaryOp::Add } else { BinaryOp::Sub };
                // There is nothing behind the last value and before the first one.
                let value = match ends {
                    Some((low, high)) => {
                        let (low, high) = if step == "succ" { (low, high - 1) } else { (low + 1, high) };
                        let id =
                            self.stays_within_ends(&value, (low, high), &format!("`'{step}` leaves its type"), span);
                        Value { id, ..value }
                    }
                    None => value,
                };
                let kind = ExprKind::Binary {
                    op,
                    signed: false,
                    unknowns: design::Unknowns::False,
                    left: value.id,
                    right: one,
                };
                let id = self.push(kind, width, span);
                Some(Value { id, ty })
            }
        }
    }

    /// An attribute with an argument; `None` when it takes none.
    #[expect(clippy::option_option, reason = "no such attribute, or a fault in its use")]
    pub(super) fn attribute_of(
        &mut self,
        context: &mut Context<'a>,
        (of, attribute): (&'a Tree, &'a Ident),
        argument: &'a Tree,
        arguments: &'a [Association],
        span: Span,
    ) -> Option<Option<Value>> {
        Some(match attribute.name.as_str() {
            "pos" | "val" | "succ" | "pred" | "leftof" | "rightof" => {
                self.position(context, of, &attribute.name, arguments, span)
            }
            "value" => self.value_of_text(context, of, argument, span),
            "stable" | "quiet" => self.at_rest(context, of, attribute, argument, span),
            "delayed" => self.delayed(context, of, Some(argument), span),
            _ => return None,
        })
    }

    fn signal_attribute(
        &mut self,
        context: &Context<'a>,
        (signal, low, ty): (SignalId, u32, Ty),
        attribute: &str,
        span: Span,
    ) -> Option<Value> {
        let system = |me: &mut Self, function, width| me.push(ExprKind::System(function), width, span);
        let (id, ty) = match attribute {
            "last_value" => {
                let raw = system(self, SystemFunction::LastValue(signal), self.design.signal_width(signal));
                let width = ty.stored_width()?;
                let raw = self.push(ExprKind::Slice { base: raw, low }, width, span);
                return Some(self.loaded(raw, ty, span));
            }
            "last_event" => (system(self, SystemFunction::SinceChange(signal), 64), Ty::Time),
            "last_active" => (system(self, SystemFunction::SinceActive(signal), 64), Ty::Time),
            "transaction" => {
                let bit = self.transaction_bit(context, signal, span);
                (self.push(ExprKind::Signal(bit), 1, span), Ty::Bit)
            }
            "event" => (system(self, SystemFunction::Changed(signal), 1), Ty::Boolean),
            "active" => (system(self, SystemFunction::Active(signal), 1), Ty::Boolean),
            other => {
                let function =
                    if other == "stable" { SystemFunction::Changed(signal) } else { SystemFunction::Active(signal) };
                let id = system(self, function, 1);
                (self.push(ExprKind::Unary(UnaryOp::Not, id), 1, span), Ty::Boolean)
            }
        };
        Some(Value { id, ty })
    }

    /// The bit that turns over whenever a signal is assigned.
    fn transaction_bit(&mut self, context: &Context<'a>, signal: SignalId, span: Span) -> SignalId {
        if let Some((_, bit)) = self.design.transactions.iter().find(|(s, _)| *s == signal) {
            return *bit;
        }
        let bit = self.unnamed_signal(context, &Ty::Bit, LogicVector::from_u64(1, 0), span);
        self.design.transactions.push((signal, bit));
        bit
    }

    fn unnamed_signal(&mut self, context: &Context<'a>, ty: &Ty, initial: LogicVector, span: Span) -> SignalId {
        let ty = ty.intern(&mut self.design);
        self.design.signals.push(Signal {
            name: String::new(),
            scope: context.scope,
            ty,
            kind: SignalKind::Variable,
            initial: Some(initial),
            span,
        })
    }

    /// `s'stable(t)` and `s'quiet(t)`: nothing happened for so long.
    fn at_rest(
        &mut self,
        context: &mut Context<'a>,
        base: &'a Tree,
        attribute: &'a Ident,
        time: &'a Tree,
        span: Span,
    ) -> Option<Value> {
        let now = self.attribute(context, base, attribute, span)?;
        let value = self.expr(context, base, None)?;
        let (signal, _) = self.signal_bit(value.id)?;
        let function = if attribute.name == "stable" {
            SystemFunction::SinceChange(signal)
        } else {
            SystemFunction::SinceActive(signal)
        };
        let time = self.expr_as(context, time, &Ty::Time)?;
        let since = self.push(ExprKind::System(function), 64, span);
        let long = self.op(BinaryOp::GreaterEqual, false, since, time, 1, span);
        let zero = self.constant_expr(LogicVector::from_u64(64, 0), span);
        let at_once = self.op(BinaryOp::Equal, false, time, zero, 1, span);
        let unknown = design::UnknownCondition::Otherwise;
        let kind = ExprKind::Select { condition: at_once, then: now.id, otherwise: long, unknown };
        Some(Value { id: self.push(kind, 1, span), ty: Ty::Boolean })
    }

    /// `s'delayed(t)`: a signal that does what `s` does, later.
    pub(super) fn delayed(
        &mut self,
        context: &mut Context<'a>,
        base: &'a Tree,
        time: Option<&'a Tree>,
        span: Span,
    ) -> Option<Value> {
        let value = self.expr(context, base, None)?;
        let Some((signal, low)) = self.signal_bit(value.id) else {
            self.report(say::edge_of_no_signal(base.span));
            return None;
        };
        let delay = match time {
            Some(tree) => {
                Some(Delay { amount: self.expr_as(context, tree, &Ty::Time)?, transport: true, reject: None })
            }
            None => None,
        };
        let width = value.ty.stored_width()?;
        let first = self.design.signals[signal].initial.clone();
        let first = first.map_or_else(|| Self::unknown_value(&value.ty, width), |v| v.slice(i64::from(low), width));
        let late = self.unnamed_signal(context, &value.ty, first, span);
        let raw = self.stored(value.id, &value.ty, span);
        let target = Target { storage: Storage::Signal(late), low: 0, width, element: None, span };
        let kind = StmtKind::Assign { targets: vec![target], value: raw, mode: AssignMode::NonBlocking, delay };
        self.design.processes.push(Process {
            scope: context.scope,
            kind: ProcessKind::Assignment,
            name: None,
            sensitivity: Sensitivity::Reads,
            body: vec![Stmt { kind, span }],
            span,
        });
        let raw = self.push(ExprKind::Signal(late), width, span);
        Some(self.loaded(raw, value.ty, span))
    }

    /// `t'value("…")` of a text that is known, or of a whole number's digits in one that isn't.
    fn value_of_text(
        &mut self,
        context: &mut Context<'a>,
        mark: &'a Tree,
        argument: &'a Tree,
        span: Span,
    ) -> Option<Value> {
        let Node::Name(name) = &mark.kind else { return None };
        let ty = self.type_mark(context, &Ident { name: name.clone(), span: mark.span })?;
        let parts = self.text_parts(context, argument)?;
        let known: Option<String> = parts
            .iter()
            .map(|part| if let PrintPart::Text(text) = part { Some(text.as_str()) } else { None })
            .collect();
        let Some(text) = known else {
            if let (Ty::Integer { .. }, [PrintPart::Value { value, .. }]) = (&ty, parts.as_slice()) {
                let op = TextOp::ToNumber;
                let raw = self.push(ExprKind::Text { op, operands: vec![*value] }, 32, span);
                return Some(Value { id: self.resize(raw, INTEGER_BITS, true, span), ty: Ty::INTEGER });
            }
            self.report(say::not_read_yet("`'value` of a text that is only known when the design runs", span));
            return None;
        };
        let trimmed = text.trim();
        let low = trimmed.to_ascii_lowercase();
        let found = match &ty {
            Ty::Integer { low: least, high } => {
                let number = low.replace('_', "").parse::<i64>().ok().filter(|n| (*least..=*high).contains(n));
                number.map(|n| LogicVector::from_u64(64, n as u64).resized(INTEGER_BITS, true))
            }
            Ty::Boolean if low == "true" || low == "false" => Some(LogicVector::from_u64(1, u64::from(low == "true"))),
            Ty::Real => low.parse::<f64>().ok().map(design::real_bits),
            Ty::Logic | Ty::Bit => {
                let inner = trimmed.strip_prefix('\'').and_then(|t| t.strip_suffix('\''));
                inner.and_then(|t| logic::Level::from_char(t.chars().next()?)).map(|l| LogicVector::filled(1, l))
            }
            Ty::Time => {
                let mut reader = design::Reader::new(&low);
                reader.value(design::ScanKind::Time, None, 64)
            }
            Ty::Enumeration { literals, .. } => {
                let place = literals.iter().position(|l| *l == low || l == trimmed);
                place.and_then(|p| Some(LogicVector::from_u64(ty.width()?, p as u64)))
            }
            _ => None,
        };
        let Some(found) = found else {
            self.report(say::no_such_value(text.trim(), &ty.describe(), argument.span));
            return None;
        };
        Some(Value { id: self.constant_expr(found, span), ty })
    }

    /// A unit of time by its name, as long as nothing else is called so.
    pub(super) fn unit_of_time(&mut self, name: &str, span: Span) -> Option<Value> {
        let femtoseconds = match name {
            "fs" => 1,
            "ps" => 1_000,
            "ns" => 1_000_000,
            "us" => 1_000_000_000,
            "ms" => 1_000_000_000_000,
            "sec" => 1_000_000_000_000_000,
            "min" => 60_000_000_000_000_000,
            "hr" => 3_600_000_000_000_000_000u64,
            _ => return None,
        };
        Some(Value { id: self.constant_expr(LogicVector::from_u64(64, femtoseconds), span), ty: Ty::Time })
    }

    /// A value that a simulation looks at when it is computed: see [`ExprKind::Checked`].
    pub(super) fn checked(
        &mut self,
        value: design::ExprId,
        condition: design::ExprId,
        (severity, message): (u8, Vec<PrintPart>),
        otherwise: Option<design::ExprId>,
        span: Span,
    ) -> design::ExprId {
        let width = self.design.exprs[value].width;
        self.push(ExprKind::Checked { value, condition, otherwise, message, severity }, width, span)
    }

    /// A quotient whose divisor is 0 is an error of the simulation (IEEE 1076-2008 9.2.7; of vectors: 1076.3).
    pub(super) fn divides(
        &mut self,
        value: design::ExprId,
        divisor: design::ExprId,
        severity: u8,
        span: Span,
    ) -> Option<design::ExprId> {
        let width = self.design.exprs[divisor].width;
        if let Some(known) = design::fold(&self.design, divisor) {
            if known.bits().any(|b| b != logic::Level::Zero) {
                return Some(value);
            }
            if severity == 3 {
                self.report(say::division_by_zero(span));
                return None;
            }
        }
        let zero = self.constant_expr(LogicVector::from_u64(width, 0), span);
        let (op, unknowns) = (BinaryOp::SameLevels, Unknowns::Propagate);
        let kind = ExprKind::Binary { op, signed: false, unknowns, left: divisor, right: zero };
        let is_zero = self.push(kind, 1, span);
        let condition = self.not(is_zero, span);
        let message = vec![PrintPart::Text("A division by 0.".into())];
        Some(self.checked(value, condition, (severity, message), None, span))
    }

    /// An index that leaves its array ends a simulation (IEEE 1076-2008 8.4).
    pub(super) fn stays_in_array(&mut self, index: &Value, (left, right): (i64, i64), span: Span) -> design::ExprId {
        self.stays_within_ends(index, (left.min(right), left.max(right)), "An index lies outside its array", span)
    }

    /// A number or position that ends a simulation where it lies outside; nothing where its type says that it can't.
    pub(super) fn stays_within_ends(
        &mut self,
        value: &Value,
        (low, high): (i64, i64),
        what: &str,
        span: Span,
    ) -> design::ExprId {
        let (own, signed) = match &value.ty {
            Ty::Integer { low, high } => ((*low, *high), true),
            Ty::Enumeration { literals, .. } => ((0, literals.len() as i64 - 1), false),
            _ => return value.id,
        };
        if own.0 >= low && own.1 <= high || design::fold(&self.design, value.id).is_some() {
            return value.id;
        }
        // Positions of an enumeration are counted without a sign.
        let wide = self.design.exprs[value.id].width + u32::from(!signed);
        let number = self.resize(value.id, wide, signed, span);
        let bound =
            |me: &mut Self, n: i64| me.constant_expr(LogicVector::from_u64(64, n as u64).resized(wide, true), span);
        let (least, most) = (bound(self, low), bound(self, high));
        let above = self.op(BinaryOp::Greater, true, number, most, 1, span);
        let below = self.op(BinaryOp::Less, true, number, least, 1, span);
        let outside = self.op(BinaryOp::Or, false, below, above, 1, span);
        let condition = self.not(outside, span);
        let message = vec![
            PrintPart::Text(format!("{what} {low} to {high}: ")),
            PrintPart::Value { value: number, radix: design::Radix::Decimal, signed, width: Some(0) },
        ];
        self.checked(value.id, condition, (3, message), None, span)
    }

    /// 1 when no bit of a value is unknown.
    pub(super) fn is_known(&mut self, value: design::ExprId, span: Span) -> design::ExprId {
        let odd = self.push(ExprKind::Unary(UnaryOp::ReduceXor, value), 1, span);
        let unknown = self.constant_expr(LogicVector::filled(1, logic::Level::Unknown), span);
        let (op, unknowns) = (BinaryOp::SameLevels, Unknowns::Propagate);
        let kind = ExprKind::Binary { op, signed: false, unknowns, left: odd, right: unknown };
        let is_unknown = self.push(kind, 1, span);
        self.not(is_unknown, span)
    }
}
