//! Operators, with the overloads of std_logic_1164, numeric_std and the older arithmetic packages.

use super::subprogram::Given;
use super::types::{INTEGER_BITS, Ty, VectorKind};
use super::{Context, Lowering, Symbol, Value};
use crate::diagnostics as say;
use crate::tree::{Expr as Tree, ExprKind as Node};
use base::Span;
use design::{BinaryOp, ExprId, ExprKind, SystemFunction, UnaryOp, Unknowns};
use front::Lower;
use logic::{Level, LogicVector};

/// Literals take their type from what stands beside them.
fn needs_context(tree: &Tree) -> bool {
    match &tree.kind {
        Node::Character(_) | Node::Text(_) | Node::Bits { .. } | Node::Aggregate(_) | Node::Integer(_) => true,
        Node::Unary(_, inner) => needs_context(inner),
        Node::Binary(_, a, b) => needs_context(a) && needs_context(b),
        _ => false,
    }
}

impl<'a> Lowering<'a, '_> {
    pub(super) fn op(
        &mut self,
        op: BinaryOp,
        signed: bool,
        left: ExprId,
        right: ExprId,
        width: u32,
        span: Span,
    ) -> ExprId {
        let kind = ExprKind::Binary { op, signed, unknowns: Unknowns::False, left, right };
        self.push(kind, width, span)
    }

    pub(super) fn not(&mut self, value: ExprId, span: Span) -> ExprId {
        let width = self.design.exprs[value].width;
        self.push(ExprKind::Unary(UnaryOp::Not, value), width, span)
    }

    pub(super) fn unary(
        &mut self,
        context: &mut Context<'a>,
        op: &'static str,
        operand: &'a Tree,
        expected: Option<&Ty>,
        span: Span,
    ) -> Option<Value> {
        let hint = if matches!(op, "not" | "-" | "+" | "abs") { expected } else { None };
        let value = self.expr(context, operand, hint)?;
        let width = value.ty.width()?;
        let id = match (op, &value.ty) {
            ("+", _) => value.id,
            ("-", Ty::Real) => self.real_op(design::RealOp::Neg, vec![value.id], width, span),
            ("abs", Ty::Real) => self.real_op(design::RealOp::Abs, vec![value.id], width, span),
            ("not", Ty::Logic | Ty::Bit | Ty::Boolean | Ty::Vector { .. }) => self.not(value.id, span),
            ("-", Ty::Time | Ty::Integer { .. } | Ty::Vector { kind: VectorKind::Signed, .. }) => {
                self.push(ExprKind::Unary(UnaryOp::Neg, value.id), width, span)
            }
            ("abs", Ty::Integer { .. } | Ty::Vector { kind: VectorKind::Signed, .. }) => {
                let negated = self.push(ExprKind::Unary(UnaryOp::Neg, value.id), width, span);
                let sign = self.push(ExprKind::Slice { base: value.id, low: width - 1 }, 1, span);
                let unknown = design::UnknownCondition::Otherwise;
                let kind = ExprKind::Select { condition: sign, then: negated, otherwise: value.id, unknown };
                self.push(kind, width, span)
            }
            ("??", Ty::Logic | Ty::Bit) => return Some(Value { ty: Ty::Boolean, ..value }),
            ("and" | "nand" | "or" | "nor" | "xor" | "xnor", Ty::Vector { kind, .. }) => {
                let reduce = match op {
                    "and" | "nand" => UnaryOp::ReduceAnd,
                    "or" | "nor" => UnaryOp::ReduceOr,
                    _ => UnaryOp::ReduceXor,
                };
                let ty = if *kind == VectorKind::Bit { Ty::Bit } else { Ty::Logic };
                let mut id = self.push(ExprKind::Unary(reduce, value.id), 1, span);
                if op.starts_with('n') || op == "xnor" {
                    id = self.not(id, span);
                }
                return Some(Value { id, ty });
            }
            (_, ty) => {
                let found = ty.describe();
                self.report(say::type_mismatch(&format!("something that `{op}` works on"), &found, operand.span));
                return None;
            }
        };
        Some(Value { id, ty: value.ty })
    }

    /// Both operands, the one with a type of its own first.
    fn pair(
        &mut self,
        context: &mut Context<'a>,
        left: &'a Tree,
        right: &'a Tree,
        expected: Option<&Ty>,
    ) -> Option<(Value, Value)> {
        if needs_context(left) && !needs_context(right) {
            let r = self.expr(context, right, expected)?;
            let l = self.expr(context, left, Some(&r.ty.clone()))?;
            return Some((l, r));
        }
        let l = self.expr(context, left, expected)?;
        let r = self.expr(context, right, Some(&l.ty.clone()))?;
        Some((l, r))
    }

    pub(super) fn binary(
        &mut self,
        context: &mut Context<'a>,
        op: &'static str,
        left: &'a Tree,
        right: &'a Tree,
        expected: Option<&Ty>,
        span: Span,
    ) -> Option<Value> {
        if let Some(value) = self.own_operator(context, op, left, right, expected, span) {
            return Some(value);
        }
        match op {
            "and" | "or" | "nand" | "nor" | "xor" | "xnor" => {
                let hint = expected.filter(|t| !matches!(t, Ty::Integer { .. } | Ty::Boolean));
                // A long chain leans to the left: it is walked, not nested.
                let mut later = Vec::new();
                let (mut first, mut second) = (left, right);
                while let Node::Binary(inner, l, r) = &first.kind
                    && *inner == op
                {
                    later.push((second, first.span.to(second.span)));
                    (first, second) = (l, r);
                }
                let (l, r) = self.pair(context, first, second, hint)?;
                let mut value = self.edge_or_logical(op, l, r, first.span.to(second.span))?;
                for (tree, span) in later.into_iter().rev() {
                    let r = self.expr(context, tree, Some(&value.ty.clone()))?;
                    value = self.edge_or_logical(op, value, r, span)?;
                }
                Some(value)
            }
            "=" | "/=" | "<" | "<=" | ">" | ">=" => {
                let (l, r) = self.pair(context, left, right, None)?;
                self.relation(context, op, l, r, span)
            }
            "?=" | "?/=" => {
                let (l, r) = self.pair(context, left, right, None)?;
                let (l, r) = self.matching(l, r, span);
                let (r, l) = self.matching(r, l, span);
                let found = self.relation(context, if op == "?=" { "=" } else { "/=" }, l, r, span)?;
                Some(Value { ty: Ty::Logic, ..found })
            }
            "+" | "-" | "*" | "/" | "mod" | "rem" => {
                let (l, r) = self.pair(context, left, right, expected)?;
                self.arithmetic(context, op, l, r, span)
            }
            "**" => self.power(context, left, right, span),
            "&" => self.concatenation(context, left, right, expected, span),
            "sll" | "srl" | "sla" | "sra" | "rol" | "ror" => {
                let value = self.expr(context, left, expected)?;
                let count = self.expr(context, right, Some(&Ty::INTEGER))?;
                self.shift(op, value, &count, span)
            }
            other => {
                self.report(say::not_read_yet(&format!("The operator `{other}`"), span));
                None
            }
        }
    }

    /// Integers alone have a power here; one of constants must fit (IEEE 1076-2008 9.2.8).
    fn power(&mut self, context: &mut Context<'a>, left: &'a Tree, right: &'a Tree, span: Span) -> Option<Value> {
        let base = self.expr(context, left, Some(&Ty::INTEGER))?;
        let exponent = self.expr(context, right, Some(&Ty::INTEGER))?;
        if base.ty == Ty::Real {
            return self.real_arithmetic("**", base, exponent, span);
        }
        for (value, tree) in [(&base, left), (&exponent, right)] {
            if !matches!(value.ty, Ty::Integer { .. }) {
                let hint = match value.ty {
                    Ty::Vector { .. } => "Powers are of integers: convert with `to_integer(…)`.",
                    _ => "Powers are of integers.",
                };
                let (l, r) = (base.ty.describe(), exponent.ty.describe());
                self.report(say::no_operator("**", &l, &r, hint, tree.span));
                return None;
            }
        }
        let constant = |me: &mut Self, id| design::evaluate(&me.design, id, me.budget).and_then(|v| v.to_i64());
        if let Some(power) = constant(self, exponent.id) {
            if power < 0 {
                self.report(say::negative_power(power, right.span));
                return None;
            }
            if let Some(number) = constant(self, base.id) {
                let value = u32::try_from(power).ok().and_then(|p| number.checked_pow(p));
                let Some(value) = value.filter(|v| i32::try_from(*v).is_ok() || *v == 1 << 31) else {
                    self.report(say::too_large_power(number, power, span));
                    return None;
                };
                let id = self.integer(value, span);
                return Some(Value { id, ty: Ty::INTEGER });
            }
        }
        let id = self.op(BinaryOp::Pow, true, base.id, exponent.id, INTEGER_BITS, span);
        Some(Value { id, ty: Ty::INTEGER })
    }

    /// `clk'event and clk = '1'`, in either order, is an edge; anything else is what it says.
    fn edge_or_logical(&mut self, op: &str, l: Value, r: Value, span: Span) -> Option<Value> {
        if op == "and"
            && l.ty == Ty::Boolean
            && r.ty == Ty::Boolean
            && let Some(edge) = self.edge_of(l.id, r.id).or_else(|| self.edge_of(r.id, l.id))
        {
            let id = self.push(ExprKind::System(edge), 1, span);
            return Some(Value { id, ty: Ty::Boolean });
        }
        // `clk'event and clk = '1' and clk'last_value = '0'` is the edge as `rising_edge` has it.
        if op == "and"
            && l.ty == Ty::Boolean
            && r.ty == Ty::Boolean
            && let Some(edge) = self.whole_edge(l.id, r.id).or_else(|| self.whole_edge(r.id, l.id))
        {
            let id = self.push(ExprKind::System(edge), 1, span);
            return Some(Value { id, ty: Ty::Boolean });
        }
        self.logical(op, l, r, span)
    }

    /// A level that was reached, from the other one.
    fn whole_edge(&self, reached: ExprId, test: ExprId) -> Option<SystemFunction> {
        let kind = |id: ExprId| &self.design.exprs[id].kind;
        let ExprKind::System(SystemFunction::Reached(signal, bit, up)) = kind(reached) else { return None };
        let ExprKind::Binary { op: BinaryOp::SameLevels, left, right, .. } = kind(test) else { return None };
        let (past, level) = match (kind(*left), kind(*right)) {
            (_, ExprKind::Const(level)) => (*left, level),
            (ExprKind::Const(level), _) => (*right, level),
            _ => return None,
        };
        let (past, low) = match kind(past) {
            ExprKind::Slice { base, low } => (*base, *low),
            _ => (past, 0),
        };
        let fits = matches!(kind(past), ExprKind::System(SystemFunction::LastValue(s)) if s == signal)
            && low == *bit
            && level.width() == 1
            && level.get(0) == Level::from(!up);
        let edge = if *up { SystemFunction::Rising(*signal, *bit) } else { SystemFunction::Falling(*signal, *bit) };
        fits.then_some(edge)
    }

    fn edge_of(&self, change: ExprId, test: ExprId) -> Option<SystemFunction> {
        let kind = |id: ExprId| &self.design.exprs[id].kind;
        let ExprKind::System(SystemFunction::Changed(changed)) = kind(change) else { return None };
        let ExprKind::Binary { op: BinaryOp::SameLevels, left, right, .. } = kind(test) else { return None };
        let (signal, level) = match (kind(*left), kind(*right)) {
            (_, ExprKind::Const(level)) => (*left, level),
            (ExprKind::Const(level), _) => (*right, level),
            _ => return None,
        };
        let (signal, bit) = self.signal_bit(signal)?;
        if signal != *changed || level.width() != 1 {
            return None;
        }
        match level.get(0) {
            Level::One => Some(SystemFunction::Reached(signal, bit, true)),
            Level::Zero => Some(SystemFunction::Reached(signal, bit, false)),
            _ => None,
        }
    }

    /// An operator that the design defines itself, where its parameters fit.
    fn own_operator(
        &mut self,
        context: &mut Context<'a>,
        op: &str,
        left: &'a Tree,
        right: &'a Tree,
        expected: Option<&Ty>,
        span: Span,
    ) -> Option<Value> {
        let Some(Symbol::Routine { list, .. }) = context.get(&format!("\"{op}\"")).cloned() else { return None };
        let told = self.findings.mark();
        let l = self.type_of(context, left);
        let r = match needs_context(right) {
            true => self.expr(context, right, l.as_ref()).map(|r| r.ty),
            false => self.type_of(context, right),
        };
        self.findings.go_back(told);
        let (l, r) = (l?, r?);
        let mut fitting = Vec::new();
        for routine in list {
            let [a, b] = routine.parameters.as_slice() else { continue };
            let (a, b) = (self.subtype(context, &a.ty)?, self.subtype(context, &b.ty)?);
            if a.fits(&l) && b.fits(&r) {
                fitting.push(routine);
            }
        }
        if fitting.is_empty() {
            return None;
        }
        self.function_call(context, &fitting, op, Given::Operands(&[left, right]), expected, span)
    }

    fn logical(&mut self, op: &str, l: Value, r: Value, span: Span) -> Option<Value> {
        let works = matches!(l.ty, Ty::Logic | Ty::Bit | Ty::Boolean | Ty::Vector { .. });
        if !works || !l.ty.fits(&r.ty) {
            let hint = match (&l.ty, &r.ty) {
                (Ty::Boolean, Ty::Logic | Ty::Bit) | (Ty::Logic | Ty::Bit, Ty::Boolean) => {
                    "Compare the std_logic with `= '1'` first."
                }
                _ => "Bring both sides to one type first.",
            };
            self.report(say::no_operator(op, &l.ty.describe(), &r.ty.describe(), hint, span));
            return None;
        }
        let (width, other) = (l.ty.width()?, r.ty.width()?);
        if width != other {
            self.report(say::length_differs(width, other, span));
            return None;
        }
        let base = match op {
            "and" | "nand" => BinaryOp::And,
            "or" | "nor" => BinaryOp::Or,
            _ => BinaryOp::Xor,
        };
        let kind = ExprKind::Binary { op: base, signed: false, unknowns: Unknowns::Propagate, left: l.id, right: r.id };
        let mut id = self.push(kind, width, span);
        if matches!(op, "nand" | "nor" | "xnor") {
            id = self.not(id, span);
        }
        Some(Value { id, ty: l.ty })
    }

    fn relation(&mut self, context: &Context<'a>, op: &str, l: Value, r: Value, span: Span) -> Option<Value> {
        let compare = match op {
            "=" => BinaryOp::Equal,
            "/=" => BinaryOp::NotEqual,
            "<" => BinaryOp::Less,
            "<=" => BinaryOp::LessEqual,
            ">" => BinaryOp::Greater,
            _ => BinaryOp::GreaterEqual,
        };
        let boolean = |id| Some(Value { id, ty: Ty::Boolean });
        if l.ty == Ty::Real && r.ty == Ty::Real {
            let id = self.real_relation(op, l.id, r.id, span);
            return boolean(id);
        }
        // Numbers: with sign and width enough for both.
        let numeric = |value: &Value| match value.ty {
            Ty::Integer { .. } | Ty::Time => Some(true),
            Ty::Vector { kind: VectorKind::Unsigned, .. } => Some(false),
            Ty::Vector { kind: VectorKind::Signed, .. } => Some(true),
            Ty::Vector { kind: VectorKind::StdLogic, .. } => context.vector_arithmetic(),
            _ => None,
        };
        let is_integer = |value: &Value| matches!(value.ty, Ty::Integer { .. });
        let same_kind = l.ty.fits(&r.ty);
        if let (Some(sl), Some(sr)) = (numeric(&l), numeric(&r))
            && (same_kind || is_integer(&l) || is_integer(&r))
        {
            let width = l.ty.width()?.max(r.ty.width()?) + 1;
            let a = self.resize(l.id, width, sl, span);
            let b = self.resize(r.id, width, sr, span);
            return boolean(self.op(compare, true, a, b, 1, span));
        }
        if !same_kind {
            let hint = match (&l.ty, &r.ty) {
                (Ty::Vector { kind: VectorKind::StdLogic, .. }, Ty::Integer { .. })
                | (Ty::Integer { .. }, Ty::Vector { kind: VectorKind::StdLogic, .. }) => {
                    "Use `unsigned(…)` from numeric_std, or write the number as bits in double quotes."
                }
                (Ty::Logic | Ty::Bit, Ty::Integer { .. }) | (Ty::Integer { .. }, Ty::Logic | Ty::Bit) => {
                    "Write `'0'` or `'1'` with quotes."
                }
                _ => "Bring both sides to one type first.",
            };
            self.report(say::no_operator(op, &l.ty.describe(), &r.ty.describe(), hint, span));
            return None;
        }
        let (width, other) = (l.ty.width()?, r.ty.width()?);
        if width != other && matches!(op, "=" | "/=") {
            // Legal: arrays of different lengths are never equal (IEEE 1076-2008, 9.2.3).
            self.report(say::never_equal(width, other, span));
            return boolean(self.constant_expr(LogicVector::from_u64(1, u64::from(op == "/=")), span));
        }
        if width != other {
            return boolean(self.ordered_by_element(op, &l, &r, span)?);
        }
        match op {
            "=" | "/=" => {
                let mut id = self.op(BinaryOp::SameLevels, false, l.id, r.id, 1, span);
                if op == "/=" {
                    id = self.not(id, span);
                }
                boolean(id)
            }
            _ => boolean(self.op(compare, false, l.id, r.id, 1, span)),
        }
    }

    /// `<` and its like on arrays of different lengths: compared from the left, the shorter one less where it is the
    /// other's beginning (IEEE 1076-2008 9.2.3).
    fn ordered_by_element(&mut self, op: &str, l: &Value, r: &Value, span: Span) -> Option<ExprId> {
        let (wl, wr) = (l.ty.width()?, r.ty.width()?);
        self.report(say::compared_from_left(wl, wr, span));
        let common = wl.min(wr);
        let a = self.push(ExprKind::Slice { base: l.id, low: wl - common }, common, span);
        let b = self.push(ExprKind::Slice { base: r.id, low: wr - common }, common, span);
        let compare = match (op, wl < wr) {
            ("<" | "<=", true) => BinaryOp::LessEqual,
            ("<" | "<=", false) => BinaryOp::Less,
            (_, true) => BinaryOp::Greater,
            (_, false) => BinaryOp::GreaterEqual,
        };
        Some(self.op(compare, false, a, b, 1, span))
    }

    /// Times: sums, differences, and products and quotients with integers.
    fn time_arithmetic(&mut self, op: BinaryOp, l: &Value, r: &Value, span: Span) -> Option<Value> {
        let integer = |v: &Value| matches!(v.ty, Ty::Integer { .. });
        let (a, b) = (self.resize(l.id, 64, true, span), self.resize(r.id, 64, true, span));
        let value = |me: &mut Self, op| me.op(op, true, a, b, 64, span);
        match op {
            BinaryOp::Add | BinaryOp::Sub if l.ty == r.ty => {
                let id = value(self, op);
                Some(Value { id, ty: Ty::Time })
            }
            BinaryOp::Mul if integer(&l.clone()) || integer(r) => {
                let id = value(self, op);
                Some(Value { id, ty: Ty::Time })
            }
            BinaryOp::Div if integer(r) => {
                let id = value(self, op);
                let id = self.divides(id, r.id, 3, span)?;
                Some(Value { id, ty: Ty::Time })
            }
            BinaryOp::Div | BinaryOp::Mod | BinaryOp::Rem if l.ty == r.ty => {
                let id = value(self, op);
                let id = self.divides(id, r.id, 3, span)?;
                if op == BinaryOp::Div {
                    let id = self.resize(id, INTEGER_BITS, true, span);
                    return Some(Value { id, ty: Ty::INTEGER });
                }
                Some(Value { id, ty: Ty::Time })
            }
            _ => {
                let hint = "Add times to times, and multiply or divide them by integers.";
                self.report(say::no_operator("this", &l.ty.describe(), &r.ty.describe(), hint, span));
                None
            }
        }
    }

    fn arithmetic(&mut self, context: &Context<'a>, op: &str, l: Value, r: Value, span: Span) -> Option<Value> {
        let base = match op {
            "+" => BinaryOp::Add,
            "-" => BinaryOp::Sub,
            "*" => BinaryOp::Mul,
            "/" => BinaryOp::Div,
            "mod" => BinaryOp::Mod,
            _ => BinaryOp::Rem,
        };
        if l.ty == Ty::Real || r.ty == Ty::Real {
            return self.real_arithmetic(op, l, r, span);
        }
        if l.ty == Ty::Time || r.ty == Ty::Time {
            return self.time_arithmetic(base, &l, &r, span);
        }
        if let (Ty::Integer { .. }, Ty::Integer { .. }) = (&l.ty, &r.ty) {
            let mut id = self.op(base, true, l.id, r.id, INTEGER_BITS, span);
            if matches!(base, BinaryOp::Div | BinaryOp::Mod | BinaryOp::Rem) {
                id = self.divides(id, r.id, 3, span)?;
                return Some(Value { id, ty: Ty::INTEGER });
            }
            return Some(Value { id, ty: Ty::SUM });
        }
        let kind = match (l.ty.vector_kind(), r.ty.vector_kind()) {
            (Some(a), Some(b)) if a == b => Some(a),
            (Some(a), None) | (None, Some(a)) => Some(a),
            // The older packages mix them.
            (Some(a), Some(b)) if context.vector_arithmetic().is_some() => {
                Some(if a == VectorKind::StdLogic { b } else { a })
            }
            _ => None,
        };
        let signed = match kind {
            Some(VectorKind::Unsigned) => Some(false),
            Some(VectorKind::Signed) => Some(true),
            Some(VectorKind::StdLogic) => context.vector_arithmetic(),
            _ => None,
        };
        let side = |v: &Value| matches!(v.ty, Ty::Vector { .. } | Ty::Integer { .. } | Ty::Logic);
        let (Some(kind), Some(signed), true) = (kind, signed, side(&l) && side(&r)) else {
            let hint = match kind {
                Some(VectorKind::StdLogic) => {
                    "Use `unsigned` from numeric_std: `std_logic_vector(unsigned(a) + unsigned(b))`."
                }
                _ if matches!(l.ty, Ty::Logic | Ty::Bit) => "Single bits are combined with and, or and xor.",
                _ => "Bring both sides to one numeric type first.",
            };
            self.report(say::no_operator(op, &l.ty.describe(), &r.ty.describe(), hint, span));
            return None;
        };
        // numeric_std: an integer takes the width of the vector, a single bit counts 0 or 1.
        let vector_width = |v: &Value| v.ty.vector_kind().and_then(|_| v.ty.width());
        let (wl, wr) = (vector_width(&l), vector_width(&r));
        let (wl, wr) = (wl.or(wr)?, wr.or(wl)?);
        let extend = |value: &Value| match value.ty {
            Ty::Integer { .. } => true,
            Ty::Logic => false,
            _ => signed,
        };
        let (result, width) = match op {
            "*" => (wl + wr, wl + wr),
            "/" => (wl, wl.max(wr)),
            "mod" | "rem" => (wr, wl.max(wr)),
            _ => (wl.max(wr), wl.max(wr)),
        };
        // An integer is cut to the vector's width before anything else.
        let cut = |me: &mut Self, value: &Value, own: u32| match value.ty {
            Ty::Integer { .. } => me.resize(value.id, own, true, span),
            _ => value.id,
        };
        let (a, b) = (cut(self, &l, wl), cut(self, &r, wr));
        let keep = |value: &Value| if matches!(value.ty, Ty::Integer { .. }) { signed } else { extend(value) };
        let a = self.resize(a, width, keep(&l), span);
        let b = self.resize(b, width, keep(&r), span);
        let mut id = self.op(base, signed, a, b, width, span);
        if matches!(base, BinaryOp::Div | BinaryOp::Mod | BinaryOp::Rem) {
            id = self.divides(id, b, 2, span)?;
        }
        let id = self.resize(id, result, signed, span);
        Some(Value { id, ty: Ty::vector(kind, result) })
    }

    /// Is it a slice or an aggregate over a null range, which has no elements (IEEE 1076-2008 5.2.1)?
    fn is_null(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> bool {
        let range = match &tree.kind {
            Node::Aggregate(elements) => match elements.as_slice() {
                [(choices, _)] => choices.first(),
                _ => None,
            },
            Node::Call(_, _, Some(slice)) => Some(&**slice),
            _ => None,
        };
        let Some(range @ crate::tree::Range::Bounds { .. }) = range else { return false };
        let told = self.findings.mark();
        let bounds = self.static_range(context, range, tree.span);
        self.findings.go_back(told);
        bounds.is_some_and(|(left, right, down)| if down { left < right } else { left > right })
    }

    /// Where one side of a matching relation is a constant with `-`, those places count on neither side (IEEE 1076-2008
    /// 9.2.3): both as they are compared then.
    fn matching(&mut self, value: Value, pattern: Value, span: Span) -> (Value, Value) {
        let known = design::fold(&self.design, pattern.id).filter(|v| v.bits().any(|b| b == Level::DontCare));
        let Some(known) = known else { return (value, pattern) };
        let mask = self.constant_expr(known.map(|level| Level::from(level != Level::DontCare)), span);
        let rest =
            self.constant_expr(known.map(|level| if level == Level::DontCare { Level::Zero } else { level }), span);
        let width = self.design.exprs[value.id].width;
        if width != known.width() {
            return (value, pattern);
        }
        let kind = ExprKind::Binary {
            op: BinaryOp::And,
            signed: false,
            unknowns: Unknowns::Propagate,
            left: value.id,
            right: mask,
        };
        let masked = self.push(kind, width, span);
        (Value { id: masked, ..value }, Value { id: rest, ..pattern })
    }

    fn concatenation(
        &mut self,
        context: &mut Context<'a>,
        left: &'a Tree,
        right: &'a Tree,
        expected: Option<&Ty>,
        span: Span,
    ) -> Option<Value> {
        let of_array = |ty: &Ty| matches!(ty, Ty::Array { .. }) && !ty.is_string();
        if expected.is_some_and(of_array) {
            return self.joined_array(context, (left, right), expected?, span);
        }
        let kind = expected.and_then(Ty::vector_kind);
        let hint = kind.map(|kind| Ty::Vector { kind, bounds: None });
        // An empty text, or a null range, makes a vector of the bit beside it.
        for (empty, other) in [(left, right), (right, left)] {
            if matches!(&empty.kind, Node::Text(t) if t.is_empty()) || self.is_null(context, empty) {
                let value = self.expr(context, other, hint.as_ref())?;
                let kind = value.ty.vector_kind().or(kind).unwrap_or(VectorKind::StdLogic);
                let width = value.ty.width()?;
                return Some(Value { id: value.id, ty: Ty::vector(kind, width) });
            }
        }
        // A literal is of the kind of what stands beside it, whatever the place asks for: `unsigned("0" & a)`.
        let beside = |value: &Value| match value.ty.vector_kind() {
            Some(kind) => Some(Ty::Vector { kind, bounds: None }),
            None => hint.clone(),
        };
        let (l, r) = match (needs_context(left), needs_context(right)) {
            (true, false) => {
                let r = self.expr(context, right, hint.as_ref())?;
                (self.expr(context, left, beside(&r).as_ref())?, r)
            }
            (false, true) => {
                let l = self.expr(context, left, hint.as_ref())?;
                let r = self.expr(context, right, beside(&l).as_ref())?;
                (l, r)
            }
            _ => (self.expr(context, left, hint.as_ref())?, self.expr(context, right, hint.as_ref())?),
        };
        let single = |v: &Value| matches!(v.ty, Ty::Logic | Ty::Bit);
        let kinds = (l.ty.vector_kind(), r.ty.vector_kind());
        let kind = match kinds {
            (Some(a), Some(b)) if a == b => a,
            (Some(a), None) if single(&r) => a,
            (None, Some(b)) if single(&l) => b,
            (None, None) if single(&l) && l.ty == r.ty => {
                kind.unwrap_or(if l.ty == Ty::Bit { VectorKind::Bit } else { VectorKind::StdLogic })
            }
            _ if of_array(&l.ty) || of_array(&r.ty) => {
                let wanted = if of_array(&l.ty) { l.ty } else { r.ty };
                return self.joined_array(context, (left, right), &wanted, span);
            }
            _ => {
                let hint = "Join bits and vectors of one kind only.";
                self.report(say::no_operator("&", &l.ty.describe(), &r.ty.describe(), hint, span));
                return None;
            }
        };
        let width = l.ty.width()?.checked_add(r.ty.width()?)?;
        let id = self.push(ExprKind::Concat(vec![l.id, r.id]), width, span);
        Some(Value { id, ty: Ty::vector(kind, width) })
    }

    /// `&` that gives an array of vectors, numbers or records: arrays and single elements in any mixture (IEEE 1076-2008
    /// 9.2.5).
    fn joined_array(
        &mut self,
        context: &mut Context<'a>,
        (left, right): (&'a Tree, &'a Tree),
        wanted: &Ty,
        span: Span,
    ) -> Option<Value> {
        let Ty::Array { name, element, .. } = wanted else { return None };
        let mut parts = Vec::with_capacity(2);
        let mut count = 0i64;
        for tree in [left, right] {
            // A literal is an element; an aggregate, a name or a call is what its type says.
            let is_chain = matches!(&tree.kind, Node::Binary("&", ..));
            let hint = if is_chain { wanted } else { element };
            let value = self.expr(context, tree, Some(hint))?;
            let stored = element.stored_width()?;
            if let (Ty::Array { name: found, .. }, Some((l, r))) = (&value.ty, value.ty.bounds())
                && found == name
            {
                count += i64::try_from(l.abs_diff(r)).ok()? + 1;
                parts.push(value.id);
            } else if element.fits(&value.ty)
                && (matches!(&**element, Ty::Integer { .. }) || value.ty.width() == element.width())
            {
                count += 1;
                let signed = matches!(&**element, Ty::Integer { .. });
                parts.push(self.resize(value.id, stored, signed, span));
            } else {
                let hint = "Join arrays of one type and their elements only.";
                self.report(say::no_operator("&", &wanted.describe(), &value.ty.describe(), hint, tree.span));
                return None;
            }
        }
        let ty = wanted.with_bounds(0, count - 1);
        let id = self.push(ExprKind::Concat(parts), ty.width()?, span);
        Some(Value { id, ty })
    }

    /// Shifts by an integer; a rotation by a computed distance takes it modulo the width.
    pub(super) fn shift(&mut self, op: &str, value: Value, count: &Value, span: Span) -> Option<Value> {
        if value.ty.vector_kind().is_none() || !matches!(count.ty, Ty::Integer { .. }) {
            let hint = "Shift a vector by an integer.";
            self.report(say::no_operator(op, &value.ty.describe(), &count.ty.describe(), hint, span));
            return None;
        }
        let width = value.ty.width()?;
        let signed_fill = value.ty.vector_kind() == Some(VectorKind::Signed);
        let known = design::fold(&self.design, count.id).and_then(|v| v.to_i64());
        let (op, count_id) = match known {
            Some(n) if n < 0 => {
                let opposite = match op {
                    "sll" => "srl",
                    "srl" => "sll",
                    "sla" => "sra",
                    "sra" => "sla",
                    "rol" => "ror",
                    _ => "rol",
                };
                (opposite, self.integer(-n, span))
            }
            _ => (op, count.id),
        };
        let shifted = |me: &mut Self, op: BinaryOp, value: ExprId, by: ExprId| me.op(op, false, value, by, width, span);
        let id = match op {
            "sll" => shifted(self, BinaryOp::ShiftLeft, value.id, count_id),
            "srl" => shifted(self, BinaryOp::ShiftRight, value.id, count_id),
            "sra" if signed_fill || value.ty.vector_kind() != Some(VectorKind::Unsigned) => {
                shifted(self, BinaryOp::ShiftRightArithmetic, value.id, count_id)
            }
            "sra" => shifted(self, BinaryOp::ShiftRight, value.id, count_id),
            "sla"
                if value.ty.vector_kind() == Some(VectorKind::Signed)
                    || value.ty.vector_kind() == Some(VectorKind::Unsigned) =>
            {
                shifted(self, BinaryOp::ShiftLeft, value.id, count_id)
            }
            "sla" => {
                // IEEE 1076-2008 9.2.4: what comes in is a copy of the rightmost bit.
                let ones = self.constant_expr(LogicVector::filled(width, Level::One), span);
                let moved = shifted(self, BinaryOp::ShiftLeft, value.id, count_id);
                let mask = shifted(self, BinaryOp::ShiftLeft, ones, count_id);
                let last = self.push(ExprKind::Slice { base: value.id, low: 0 }, 1, span);
                let copies = self.push(ExprKind::Resize { value: last, signed: true }, width, span);
                let hole = self.not(mask, span);
                let fill = self.op(BinaryOp::And, false, copies, hole, width, span);
                self.op(BinaryOp::Or, false, moved, fill, width, span)
            }
            _ => {
                let modulus = self.integer(i64::from(width), span);
                let by = self.op(BinaryOp::Mod, true, count_id, modulus, INTEGER_BITS, span);
                let rest = self.op(BinaryOp::Sub, true, modulus, by, INTEGER_BITS, span);
                let (first, second) = if op == "rol" { (by, rest) } else { (rest, by) };
                let up = shifted(self, BinaryOp::ShiftLeft, value.id, first);
                let down = shifted(self, BinaryOp::ShiftRight, value.id, second);
                self.op(BinaryOp::Or, false, up, down, width, span)
            }
        };
        Some(Value { id, ty: value.ty })
    }
}
