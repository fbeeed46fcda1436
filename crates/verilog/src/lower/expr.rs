//! Expressions with the sizes and signs of IEEE 1364-2005 clauses 5.4 and 5.5 made explicit.
//!
//! Three sweeps over the nodes of an expression, which stand with operands first: own sizes upwards, the context's
//! size and sign downwards, nodes upwards. No sweep recurses along a chain of operators.

use super::symbols::{Names, Symbol, TEXT_WIDTH};
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{Binary, Domain, Ident, NodeId, NodeKind, Unary};
use base::Span;
use design::{
    BinaryOp, ExprId, ExprKind, REAL_WIDTH, RealOp, SystemFunction, TextOp, UnaryOp, UnknownCondition, Unknowns,
    real_bits,
};
use front::Lower;
use logic::{Level, LogicVector};
use std::collections::{BTreeMap, BTreeSet};

/// Size and sign of a value.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Sized {
    pub(super) width: u32,
    pub(super) signed: bool,
    pub(super) domain: Domain,
}

impl Sized {
    pub(super) const BIT: Sized = Sized::bits(1, false);
    pub(super) const REAL: Sized = Sized { width: REAL_WIDTH, signed: true, domain: Domain::Real };
    pub(super) const TEXT: Sized = Sized { width: TEXT_WIDTH, signed: false, domain: Domain::Text };
    const NUMBER: Sized = Sized::bits(32, true);

    pub(super) const fn bits(width: u32, signed: bool) -> Sized {
        Sized { width, signed, domain: Domain::Bits }
    }

    pub(super) fn is_real(self) -> bool {
        self.domain == Domain::Real
    }

    fn join(self, other: Sized) -> Sized {
        if self.is_real() || other.is_real() {
            return Sized::REAL;
        }
        let domain = if self.domain == Domain::Text { self.domain } else { other.domain };
        Sized { width: self.width.max(other.width), signed: self.signed && other.signed, domain }
    }
}

/// How an operator sizes its operands.
enum Shape {
    /// Operands take the context's size.
    Context,
    /// Only the left one does.
    Left,
    /// Operands are sized against each other; the result is one bit.
    Compare,
    /// Each operand has its own size; the result is one bit.
    Logical,
}

fn shape(op: Binary) -> Shape {
    use Binary as B;
    match op {
        B::Mul | B::Div | B::Rem | B::Add | B::Sub | B::And | B::Xor | B::Xnor | B::Or => Shape::Context,
        B::Pow | B::ShiftLeft | B::ShiftRight | B::ArithmeticLeft | B::ArithmeticRight => Shape::Left,
        B::LogicalAnd | B::LogicalOr => Shape::Logical,
        _ => Shape::Compare,
    }
}

/// Nodes built on the spot during the first sweep: leaves and everything sized by itself.
type Leaves = BTreeMap<NodeId, (ExprId, Sized)>;

impl<'a> Lowering<'a, '_> {
    /// The value as wide as its own rules say, but at least `width` bits; a real number is rounded.
    pub(super) fn expr_at_least(&mut self, context: &mut Context<'a>, root: NodeId, width: u32) -> (ExprId, Sized) {
        let (value, size) = self.expr_any(context, root, width);
        self.rounded(value, size, width)
    }

    /// The same, but a real number stays one.
    pub(super) fn expr_any(&mut self, context: &mut Context<'a>, root: NodeId, width: u32) -> (ExprId, Sized) {
        let wanted = self.operators(context, root);
        let mut own: BTreeMap<NodeId, Sized> = BTreeMap::new();
        let mut leaves: Leaves = BTreeMap::new();
        for id in &wanted {
            let sized = self.own_size(context, *id, &own, &mut leaves);
            own.insert(*id, sized);
        }
        let mut outer: BTreeMap<NodeId, Sized> = BTreeMap::new();
        let root_size = own.get(&root).copied().unwrap_or(Sized::BIT);
        let root_width = if root_size.is_real() { REAL_WIDTH } else { root_size.width.max(width) };
        outer.insert(root, Sized { width: root_width, ..root_size });
        for id in wanted.iter().rev() {
            let here = outer.get(id).copied().unwrap_or(Sized::BIT);
            context_sizes(&context.module.exprs[*id].kind, here, &own, &mut outer);
        }
        let mut done: BTreeMap<NodeId, ExprId> = BTreeMap::new();
        for id in &wanted {
            let here = outer.get(id).copied().unwrap_or(Sized::BIT);
            let value = self.build(context, *id, here, &outer, &leaves, &done);
            done.insert(*id, value);
        }
        let value = done.get(&root).copied();
        let size = outer.get(&root).copied().unwrap_or(Sized::BIT);
        let span = context.module.exprs[root].span;
        (value.unwrap_or_else(|| self.constant_expr(LogicVector::filled(1, Level::Unknown), span)), size)
    }

    /// The value cut or extended to `width`, as the right side of an assignment; lost bits are worth a note.
    pub(super) fn expr_assigned(&mut self, context: &mut Context<'a>, root: NodeId, width: u32) -> ExprId {
        let span = context.module.exprs[root].span;
        if let NodeKind::Pattern(list) = &context.module.exprs[root].kind {
            return self.pattern_by_width(context, list, width, span);
        }
        let (value, size) = self.expr_any(context, root, width);
        if size.is_real() {
            return self.real_op(RealOp::ToInteger, vec![value], width, span);
        }
        if size.width > width && self.loses_bits(context, root, (value, size), width) {
            self.report(say::dropped_bits(width, size.width, span));
        }
        self.resize(value, width, size.signed, span)
    }

    /// Plain names and selects that are too wide lose bits; sums of unsized numbers do so by habit.
    fn loses_bits(&mut self, context: &Context<'a>, root: NodeId, (value, size): (ExprId, Sized), width: u32) -> bool {
        // Of a constant it is known which bits are lost; those of a negative number that fits are not.
        if let Some(constant) = design::fold(&self.design, value) {
            let filled = |with: Level| (width..constant.width()).all(|i| constant.get(i) == with);
            let negative = size.signed && width > 0 && constant.get(width - 1) == Level::One;
            return !(filled(Level::Zero) || negative && filled(Level::One));
        }
        match context.module.exprs[root].kind {
            // An `integer` that counts is wider than what it is put into, by habit as well.
            NodeKind::Name(_) => !(size.signed && size.width == 32),
            NodeKind::Part { .. } | NodeKind::Concat(_) | NodeKind::IndexedPart { .. } => true,
            _ => false,
        }
    }

    /// The value by its own size.
    pub(super) fn expr(&mut self, context: &mut Context<'a>, root: NodeId) -> (ExprId, Sized) {
        self.expr_at_least(context, root, 0)
    }

    /// One bit: is any bit of the value 1?
    pub(super) fn condition(&mut self, context: &mut Context<'a>, root: NodeId) -> ExprId {
        let (value, size) = self.expr_any(context, root, 0);
        self.truth_of(value, size, context.module.exprs[root].span)
    }

    pub(super) fn truth(&mut self, value: ExprId, span: Span) -> ExprId {
        if self.design.exprs[value].width == 1 {
            return value;
        }
        self.push(ExprKind::Unary(UnaryOp::ReduceOr, value), 1, span)
    }

    /// The value of a constant expression with its sign; a finding and 0 when it is none.
    pub(super) fn constant(&mut self, context: &mut Context<'a>, root: NodeId) -> (LogicVector, bool) {
        let before = self.findings.len();
        let (value, size) = self.expr(context, root);
        match design::evaluate(&self.design, value, self.budget) {
            Some(constant) => (constant, size.signed),
            None => {
                if self.findings.len() == before {
                    self.report(say::constant_needed(context.module.exprs[root].span));
                }
                (LogicVector::from_u64(32, 0), true)
            }
        }
    }

    /// The same with what it is made of: a real number stays one.
    pub(super) fn constant_any(&mut self, context: &mut Context<'a>, root: NodeId) -> (LogicVector, Sized) {
        let before = self.findings.len();
        let (value, size) = self.expr_any(context, root, 0);
        match design::evaluate(&self.design, value, self.budget) {
            Some(constant) => (constant, size),
            None => {
                if self.findings.len() == before {
                    self.report(say::constant_needed(context.module.exprs[root].span));
                }
                (LogicVector::from_u64(32, 0), Sized::NUMBER)
            }
        }
    }

    pub(super) fn constant_number(&mut self, context: &mut Context<'a>, root: NodeId) -> Option<i64> {
        let (value, signed) = self.constant(context, root);
        if signed { value.to_i64() } else { value.to_u64().and_then(|v| i64::try_from(v).ok()) }
    }

    /// The nodes that the sweeps visit, operands first: operators, and the leaves below them.
    fn operators(&mut self, context: &Context<'a>, root: NodeId) -> BTreeSet<NodeId> {
        let mut wanted = BTreeSet::from([root]);
        let mut stack = vec![root];
        while let Some(id) = stack.pop() {
            let operands: Vec<NodeId> = match &context.module.exprs[id].kind {
                NodeKind::Unary(_, a) => vec![*a],
                NodeKind::Binary(_, a, b) => vec![*a, *b],
                NodeKind::Ternary(c, a, b) => vec![*c, *a, *b],
                _ => Vec::new(),
            };
            stack.extend(operands.into_iter().filter(|o| wanted.insert(*o)));
        }
        wanted
    }

    fn own_size(
        &mut self,
        context: &mut Context<'a>,
        id: NodeId,
        own: &BTreeMap<NodeId, Sized>,
        leaves: &mut Leaves,
    ) -> Sized {
        let module = context.module;
        let of = |n: &NodeId| own.get(n).copied().unwrap_or(Sized::BIT);
        match &module.exprs[id].kind {
            NodeKind::Unary(Unary::Plus | Unary::Minus | Unary::Not, a) => of(a),
            NodeKind::Unary(..) => Sized::BIT,
            NodeKind::Binary(op, a, b) => match shape(*op) {
                Shape::Context => of(a).join(of(b)),
                Shape::Left if *op == Binary::Pow && of(b).is_real() => Sized::REAL,
                Shape::Left => of(a),
                Shape::Compare | Shape::Logical => Sized::BIT,
            },
            NodeKind::Ternary(_, a, b) => of(a).join(of(b)),
            _ => {
                let leaf = self.leaf(context, id);
                leaves.insert(id, leaf);
                leaf.1
            }
        }
    }

    fn build(
        &mut self,
        context: &Context<'a>,
        id: NodeId,
        here: Sized,
        outer: &BTreeMap<NodeId, Sized>,
        leaves: &Leaves,
        done: &BTreeMap<NodeId, ExprId>,
    ) -> ExprId {
        let module = context.module;
        let node = &module.exprs[id];
        let span = node.span;
        let Some(value) = self.build_operator(&node.kind, here, outer, span, done) else {
            let (value, size) = leaves[&id];
            // `'1` and its like fill whatever is wanted.
            if let NodeKind::Number(number) = &node.kind
                && number.fill
            {
                let filled = LogicVector::filled(here.width, number.value.get(0));
                return self.constant_expr(filled, span);
            }
            return self.resize(value, here.width, here.signed && size.signed, span);
        };
        // One-bit results are unsigned and extended by 0.
        self.resize(value, here.width, false, span)
    }

    fn build_operator(
        &mut self,
        kind: &NodeKind,
        here: Sized,
        outer: &BTreeMap<NodeId, Sized>,
        span: Span,
        done: &BTreeMap<NodeId, ExprId>,
    ) -> Option<ExprId> {
        let at = |n: &NodeId| done[n];
        let size = |n: &NodeId| outer.get(n).copied().unwrap_or(Sized::BIT);
        let kind = match kind {
            NodeKind::Unary(op, a) if size(a).is_real() => return Some(self.real_unary(*op, at(a), span)),
            NodeKind::Binary(op, a, b) if size(a).is_real() || size(b).is_real() => {
                return Some(self.real_binary(*op, (at(a), size(a)), (at(b), size(b)), here.width, span));
            }
            NodeKind::Ternary(c, a, b) => {
                let condition = self.truth_of(at(c), size(c), span);
                let (mut then, mut otherwise) = (at(a), at(b));
                if here.is_real() {
                    then = self.made_real(then, size(a), span);
                    otherwise = self.made_real(otherwise, size(b), span);
                }
                let unknown = UnknownCondition::Merge;
                return Some(self.push(ExprKind::Select { condition, then, otherwise, unknown }, here.width, span));
            }
            other => other,
        };
        Some(match kind {
            NodeKind::Unary(op, a) => {
                let a = at(a);
                let mut unary = |op, value, width| self.push(ExprKind::Unary(op, value), width, span);
                match op {
                    Unary::Plus => a,
                    Unary::Minus => unary(UnaryOp::Neg, a, here.width),
                    Unary::Not => unary(UnaryOp::Not, a, here.width),
                    Unary::LogicalNot => unary(UnaryOp::LogicalNot, a, 1),
                    Unary::And => unary(UnaryOp::ReduceAnd, a, 1),
                    Unary::Or => unary(UnaryOp::ReduceOr, a, 1),
                    Unary::Xor => unary(UnaryOp::ReduceXor, a, 1),
                    Unary::Nand | Unary::Nor | Unary::Xnor => {
                        let inner = match op {
                            Unary::Nand => UnaryOp::ReduceAnd,
                            Unary::Nor => UnaryOp::ReduceOr,
                            _ => UnaryOp::ReduceXor,
                        };
                        let value = unary(inner, a, 1);
                        unary(UnaryOp::Not, value, 1)
                    }
                }
            }
            NodeKind::Binary(op, a, b) => {
                // A comparison is signed when both of its operands are, whatever is around it; so is an exponent alone.
                let operand_signed = if *op == Binary::Pow { size(b).signed } else { size(a).signed };
                let signed = if matches!(shape(*op), Shape::Compare) { operand_signed } else { here.signed };
                let mut right = at(b);
                if *op == Binary::Pow {
                    // The exponent has its own sign and is read as two's complement.
                    let width = self.design.exprs[right].width;
                    right = self.resize(right, width + 1, operand_signed, span);
                }
                self.binary(*op, (at(a), right), here.width, signed, span)
            }
            _ => return None,
        })
    }

    fn binary(&mut self, op: Binary, (left, right): (ExprId, ExprId), width: u32, signed: bool, span: Span) -> ExprId {
        use Binary as B;
        let make = |me: &mut Self, op: BinaryOp, signed: bool, width: u32, left: ExprId, right: ExprId| {
            let kind = ExprKind::Binary { op, signed, unknowns: Unknowns::Propagate, left, right };
            me.push(kind, width, span)
        };
        let plain = match op {
            B::Pow => BinaryOp::Pow,
            B::Mul => BinaryOp::Mul,
            B::Div => BinaryOp::Div,
            B::Rem => BinaryOp::Rem,
            B::Add => BinaryOp::Add,
            B::Sub => BinaryOp::Sub,
            B::ShiftLeft | B::ArithmeticLeft => BinaryOp::ShiftLeft,
            B::ArithmeticRight if signed => BinaryOp::ShiftRightArithmetic,
            B::ShiftRight | B::ArithmeticRight => BinaryOp::ShiftRight,
            B::Less => BinaryOp::Less,
            B::LessEqual => BinaryOp::LessEqual,
            B::Greater => BinaryOp::Greater,
            B::GreaterEqual => BinaryOp::GreaterEqual,
            B::Equal | B::WildEqual => BinaryOp::Equal,
            B::NotEqual | B::WildNotEqual => BinaryOp::NotEqual,
            B::CaseEqual | B::CaseNotEqual => BinaryOp::SameLevels,
            B::And | B::LogicalAnd => BinaryOp::And,
            B::Xor | B::Xnor => BinaryOp::Xor,
            B::Or | B::LogicalOr => BinaryOp::Or,
        };
        match shape(op) {
            Shape::Logical => {
                let (left, right) = (self.truth(left, span), self.truth(right, span));
                make(self, plain, false, 1, left, right)
            }
            Shape::Compare => {
                if matches!(plain, BinaryOp::Equal | BinaryOp::NotEqual | BinaryOp::SameLevels) {
                    self.beyond(left, right, span);
                    self.beyond(right, left, span);
                }
                let (left, right) = match op {
                    B::WildEqual | B::WildNotEqual => self.masked(left, right, span),
                    _ => (left, right),
                };
                let value = make(self, plain, signed, 1, left, right);
                if op == B::CaseNotEqual { self.push(ExprKind::Unary(UnaryOp::Not, value), 1, span) } else { value }
            }
            _ => {
                let value = make(self, plain, signed, width, left, right);
                if op == B::Xnor { self.push(ExprKind::Unary(UnaryOp::Not, value), width, span) } else { value }
            }
        }
    }

    /// Tells a constant that the narrower other side, filled up with zeros (IEEE 1364-2005 5.5.2), can never be.
    fn beyond(&mut self, narrow: ExprId, constant: ExprId, span: Span) {
        let ExprKind::Resize { value, signed: false } = self.design.exprs[narrow].kind else { return };
        let width = self.design.exprs[value].width;
        if width >= 64 || design::fold(&self.design, value).is_some() {
            return;
        }
        let constant = design::fold(&self.design, constant).and_then(|v| v.to_u64());
        if let Some(number) = constant.filter(|n| n >> width != 0) {
            self.report(say::never_equal(width, number, span));
        }
    }

    /// Both sides of `==?` without the bits that are unknown on the right, where these are constant (IEEE 1800-2017
    /// 11.4.6).
    fn masked(&mut self, left: ExprId, right: ExprId, span: Span) -> (ExprId, ExprId) {
        let Some(value) = design::fold(&self.design, right).filter(|v| v.bits().any(|b| b.known().is_none())) else {
            return (left, right);
        };
        let mask = value.map(|level| Level::from(level.known().is_some()));
        let known = value.map(|level| Level::from(level.known() == Some(true)));
        let width = self.design.exprs[left].width;
        let mask = self.constant_expr(mask, span);
        let kind =
            ExprKind::Binary { op: BinaryOp::And, signed: false, unknowns: Unknowns::Propagate, left, right: mask };
        (self.push(kind, width, span), self.constant_expr(known, span))
    }

    /// A leaf, or something whose parts have sizes of their own.
    fn leaf(&mut self, context: &mut Context<'a>, id: NodeId) -> (ExprId, Sized) {
        let module = context.module;
        let node = &module.exprs[id];
        let span = node.span;
        match &node.kind {
            NodeKind::Number(number) => {
                let size = Sized::bits(number.value.width(), number.signed);
                (self.constant_expr(number.value.clone(), span), size)
            }
            NodeKind::Text(text) => {
                // IEEE 1364-2005 3.6: text is a vector of 8 bits a character.
                let bits = text.bytes().flat_map(|b| (0..8).rev().map(move |i| Level::from(b >> i & 1 == 1)));
                let value = LogicVector::from_levels_msb(bits);
                let value = if value.width() == 0 { LogicVector::from_u64(8, 0) } else { value };
                let width = value.width();
                (self.constant_expr(value, span), Sized::bits(width, false))
            }
            NodeKind::Name(name) => self.name(context, name),
            NodeKind::Path(_)
            | NodeKind::Member { .. }
            | NodeKind::Index { .. }
            | NodeKind::Part { .. }
            | NodeKind::IndexedPart { .. } => self.select_value(context, id),
            NodeKind::Pattern(_) => {
                self.report(say::pattern_without_target(span));
                self.unknown(span)
            }
            NodeKind::Concat(parts) => self.concat(context, parts, span),
            NodeKind::Replicate { count, parts } => {
                let count = self.constant_number(context, *count).and_then(|n| u32::try_from(n).ok()).unwrap_or(0);
                let (value, size) = self.concat(context, parts, span);
                let total = u64::from(count) * u64::from(size.width);
                if count == 0 || total > super::symbols::MAX_BITS {
                    self.report(if count == 0 { say::constant_needed(span) } else { say::too_wide(span) });
                    return self.unknown(span);
                }
                let width = size.width * count;
                let value = self.push(ExprKind::Concat(vec![value; count as usize]), width, span);
                (value, Sized::bits(width, false))
            }
            NodeKind::Call { name, arguments } => self.call(context, name, arguments, span),
            NodeKind::System { name, arguments } => self.system(context, name, arguments, span),
            NodeKind::Real(number) => (self.constant_expr(real_bits(*number), span), Sized::REAL),
            NodeKind::Delays(list) => self.leaf(context, list[0]),
            NodeKind::Time(time) => {
                (self.constant_expr(real_bits(time / module.unit.max(1) as f64), span), Sized::REAL)
            }
            _ => self.unknown(span),
        }
    }

    /// How many bits are 1, whether exactly one (at most one) is, whether any is unknown (IEEE 1800-2017 20.9).
    fn ones(&mut self, name: &str, value: ExprId, span: Span) -> (ExprId, Sized) {
        let width = self.design.exprs[value].width;
        // A node for each bit: many counts of wide vectors would fill the memory.
        if self.budget.spend_bits(u64::from(width)).is_err() {
            self.report(say::too_wide(span));
            return self.unknown(span);
        }
        let mut sum = self.constant_expr(LogicVector::from_u64(32, 0), span);
        let binary = |me: &mut Self, op, left, right, width| {
            let kind = ExprKind::Binary { op, signed: false, unknowns: Unknowns::Propagate, left, right };
            me.push(kind, width, span)
        };
        if name == "isunknown" {
            let all = self.push(ExprKind::Unary(UnaryOp::ReduceXor, value), 1, span);
            let unknown = self.constant_expr(LogicVector::filled(1, Level::Unknown), span);
            return (binary(self, BinaryOp::SameLevels, all, unknown, 1), Sized::BIT);
        }
        for low in 0..width {
            let bit = self.push(ExprKind::Slice { base: value, low }, 1, span);
            let bit = self.resize(bit, 32, false, span);
            sum = binary(self, BinaryOp::Add, sum, bit, 32);
        }
        if name == "countones" {
            return (sum, Sized::NUMBER);
        }
        let one = self.constant_expr(LogicVector::from_u64(32, 1), span);
        let op = if name == "onehot" { BinaryOp::Equal } else { BinaryOp::LessEqual };
        (binary(self, op, sum, one, 1), Sized::BIT)
    }

    /// `$random(seed)`: the seed is a variable that the call changes (IEEE 1364-2005 17.9.1).
    fn seeded_random(&mut self, context: &mut Context<'a>, seed: NodeId, signed: bool, span: Span) -> (ExprId, Sized) {
        let size = Sized::bits(32, signed);
        if design_constant(context, seed) {
            // A number as a seed cannot be changed: the sequence is the one without a seed.
            return (self.push(ExprKind::System(SystemFunction::Random), 32, span), size);
        }
        let targets = self.targets(context, seed, true);
        let storage = match targets.as_deref() {
            Some([target]) if target.low == 0 && target.width == 32 && target.element.is_none() => target.storage,
            Some(_) => {
                self.report(say::not_understood_yet("A seed that is no variable of 32 bits", span));
                return (self.unknown(span).0, Sized::BIT);
            }
            None => return self.unknown(span),
        };
        (self.push(ExprKind::System(SystemFunction::Seeded(storage)), 32, span), size)
    }

    pub(super) fn unknown(&mut self, span: Span) -> (ExprId, Sized) {
        (self.constant_expr(LogicVector::filled(1, Level::Unknown), span), Sized::BIT)
    }

    fn name(&mut self, context: &mut Context<'a>, name: &Ident) -> (ExprId, Sized) {
        let span = name.span;
        match context.symbols.get(&name.name) {
            Some(Symbol::Signal(s)) => {
                let (id, signed, domain) = (s.id, s.layout.signed, s.layout.whole_domain());
                let width = self.design.signal_width(id);
                (self.push(ExprKind::Signal(id), width, span), Sized { width, signed, domain })
            }
            Some(Symbol::Variable { id, layout, .. }) => {
                let (id, signed, domain) = (*id, layout.signed, layout.whole_domain());
                let width = self.design.type_width(self.design.variables[id].ty);
                (self.push(ExprKind::Variable(id), width, span), Sized { width, signed, domain })
            }
            Some(Symbol::Event { id, .. }) => {
                let id = *id;
                (self.push(ExprKind::Signal(id), 1, span), Sized::BIT)
            }
            Some(Symbol::Parameter { value, layout, .. }) => {
                let (value, signed, domain) = (value.clone(), layout.signed, layout.whole_domain());
                let width = value.width();
                (self.constant_expr(value, span), Sized { width, signed, domain })
            }
            Some(_) => {
                self.report(say::not_a_value(&name.name, span));
                self.unknown(span)
            }
            None => {
                let near = context.symbols.nearest(&name.name).map(str::to_owned);
                self.report(say::undeclared(&name.name, near.as_deref(), span));
                self.unknown(span)
            }
        }
    }

    fn concat(&mut self, context: &mut Context<'a>, parts: &[NodeId], span: Span) -> (ExprId, Sized) {
        let values: Vec<(ExprId, Sized)> = parts.iter().map(|p| self.expr(context, *p)).collect();
        let width: u32 = values.iter().map(|(_, s)| s.width).fold(0, u32::saturating_add);
        if u64::from(width) > super::symbols::MAX_BITS {
            self.report(say::too_wide(span));
            return self.unknown(span);
        }
        let is_text = values.iter().any(|(_, s)| s.domain == Domain::Text);
        let value = self.push(ExprKind::Concat(values.into_iter().map(|(v, _)| v).collect()), width, span);
        if is_text {
            return (self.text_op(TextOp::Pack, vec![value], TEXT_WIDTH, span), Sized::TEXT);
        }
        (value, Sized::bits(width, false))
    }

    fn call(&mut self, context: &mut Context<'a>, name: &Ident, arguments: &[NodeId], span: Span) -> (ExprId, Sized) {
        let Some(id) = context.symbols.routine(&name.name) else {
            let near = context.symbols.nearest(&name.name).map(str::to_owned);
            self.report(say::undeclared(&name.name, near.as_deref(), name.span));
            return self.unknown(span);
        };
        let parameters = self.design.subprograms[id].parameters.clone();
        let Some(result) = self.design.subprograms[id].result else {
            self.report(say::not_a_value(&name.name, name.span));
            return self.unknown(span);
        };
        let Some(arguments) = self.arguments_of(context, &name.name, arguments) else {
            self.report(say::too_many_connections(&name.name, parameters.len(), span));
            return self.unknown(span);
        };
        let mut values = Vec::with_capacity(arguments.len());
        for (argument, (variable, _)) in arguments.iter().zip(&parameters) {
            let ty = self.design.variables[*variable].ty;
            values.push(self.expr_typed(context, *argument, ty));
        }
        let ty = self.design.variables[result].ty;
        let width = self.design.type_width(ty);
        let signed = matches!(self.design.types[ty].kind, design::TypeKind::Logic { signed: true, .. });
        let domain = self.domain_of(ty);
        (self.push(ExprKind::Call { subprogram: id, arguments: values }, width, span), Sized { width, signed, domain })
    }

    /// Pieces of some bits in the other order (IEEE 1800-2017 11.4.14).
    fn stream_left(
        &mut self,
        context: &mut Context<'a>,
        (size, whole): (NodeId, NodeId),
        span: Span,
    ) -> (ExprId, Sized) {
        let size = self.constant_number(context, size).and_then(|n| u32::try_from(n).ok()).unwrap_or(0);
        if size == 0 {
            self.report(say::constant_needed(span));
            return self.unknown(span);
        }
        let (value, Sized { width, .. }) = self.expr(context, whole);
        // The lowest piece comes first; what is left over at the top is the last.
        let pieces = (0..width).step_by(size as usize);
        let piece = |low: u32| (low, size.min(width - low));
        let parts: Vec<ExprId> =
            pieces.map(piece).map(|(low, bits)| self.push(ExprKind::Slice { base: value, low }, bits, span)).collect();
        (self.push(ExprKind::Concat(parts), width, span), Sized::bits(width, false))
    }

    fn system(
        &mut self,
        context: &mut Context<'a>,
        name: &str,
        arguments: &'a [NodeId],
        span: Span,
    ) -> (ExprId, Sized) {
        match (name, arguments) {
            ("signed" | "unsigned", [value]) => {
                let (value, size) = self.expr(context, *value);
                (value, Sized { signed: name == "signed", ..size })
            }
            ("cast", [count, value]) => {
                let width = self.constant_number(context, *count).and_then(|n| u32::try_from(n).ok()).unwrap_or(0);
                if width == 0 || u64::from(width) > super::symbols::MAX_BITS {
                    self.report(say::constant_needed(span));
                    return self.unknown(span);
                }
                let (value, size) = self.expr(context, *value);
                (self.resize(value, width, size.signed, span), Sized { width, ..size })
            }
            ("stream left", [size, whole]) => self.stream_left(context, (*size, *whole), span),
            ("urandom_range", [most, rest @ ..]) => {
                let (most, _) = self.expr_at_least(context, *most, 32);
                let most = self.resize(most, 32, false, span);
                let zero = self.constant_expr(LogicVector::from_u64(32, 0), span);
                let least = rest.first().map_or(zero, |l| {
                    let (least, _) = self.expr_at_least(context, *l, 32);
                    self.resize(least, 32, false, span)
                });
                let random = self.push(ExprKind::System(SystemFunction::Random), 32, span);
                let binary = |op, left, right| ExprKind::Binary {
                    op,
                    signed: false,
                    unknowns: Unknowns::Propagate,
                    left,
                    right,
                };
                let one = self.constant_expr(LogicVector::from_u64(32, 1), span);
                let reach = self.push(binary(BinaryOp::Sub, most, least), 32, span);
                let count = self.push(binary(BinaryOp::Add, reach, one), 32, span);
                let rest = self.push(binary(BinaryOp::Rem, random, count), 32, span);
                let value = self.push(binary(BinaryOp::Add, least, rest), 32, span);
                (value, Sized::bits(32, false))
            }
            ("clog2", [value]) => {
                let (value, _) = self.constant(context, *value);
                let n = value.to_u64().unwrap_or(0);
                let bits = if n <= 1 { 0 } else { 64 - (n - 1).leading_zeros() };
                let value = LogicVector::from_u64(32, u64::from(bits));
                (self.constant_expr(value, span), Sized::NUMBER)
            }
            ("countones" | "onehot" | "onehot0" | "isunknown", [value]) => {
                let (value, _) = self.expr(context, *value);
                self.ones(name, value, span)
            }
            // Files that are written stand in the output; there are no arguments of a command line.
            ("fopen", [_] | [_, _]) if !self.opens_for_reading(context, arguments) => {
                (self.constant_expr(LogicVector::from_u64(32, 0x8000_0003), span), Sized::NUMBER)
            }
            ("test$plusargs" | "value$plusargs", _) => {
                (self.constant_expr(LogicVector::from_u64(32, 0), span), Sized::NUMBER)
            }
            ("bits", [value]) => {
                let (_, size) = self.expr(context, *value);
                let value = LogicVector::from_u64(32, u64::from(size.width));
                (self.constant_expr(value, span), Sized::NUMBER)
            }
            ("time" | "stime" | "realtime", _) => {
                if name == "realtime" {
                    return self.real_time(context, span);
                }
                let time = SystemFunction::Time(context.module.unit);
                let value = self.push(ExprKind::System(time), 64, span);
                (value, Sized::bits(64, false))
            }
            ("random" | "urandom", [seed]) => self.seeded_random(context, *seed, name == "random", span),
            ("random" | "urandom", _) => {
                let value = self.push(ExprKind::System(SystemFunction::Random), 32, span);
                (value, Sized::bits(32, name == "random"))
            }
            _ => self.real_or_text(context, name, arguments, span),
        }
    }
}

/// Hands the size and sign of a node down to its operands.
fn context_sizes(kind: &NodeKind, here: Sized, own: &BTreeMap<NodeId, Sized>, outer: &mut BTreeMap<NodeId, Sized>) {
    let of = |n: &NodeId| own.get(n).copied().unwrap_or(Sized::BIT);
    // IEEE 1364-2005 5.5.1: operands of a real result are sized by themselves and made real then.
    let handed = |n: &NodeId| if here.is_real() { of(n) } else { here };
    match kind {
        NodeKind::Unary(Unary::Plus | Unary::Minus | Unary::Not, a) => {
            outer.insert(*a, handed(a));
        }
        NodeKind::Unary(_, a) => {
            outer.insert(*a, of(a));
        }
        NodeKind::Binary(op, a, b) => match shape(*op) {
            Shape::Context => outer.extend([(*a, handed(a)), (*b, handed(b))]),
            Shape::Left => outer.extend([(*a, handed(a)), (*b, of(b))]),
            Shape::Compare => {
                let both = of(a).join(of(b));
                let each = |n: &NodeId| if both.is_real() { of(n) } else { both };
                outer.extend([(*a, each(a)), (*b, each(b))]);
            }
            Shape::Logical => outer.extend([(*a, of(a)), (*b, of(b))]),
        },
        NodeKind::Ternary(c, a, b) => outer.extend([(*c, of(c)), (*a, handed(a)), (*b, handed(b))]),
        _ => {}
    }
}

/// A number as it stands.
fn design_constant(context: &Context<'_>, id: NodeId) -> bool {
    matches!(context.module.exprs[id].kind, NodeKind::Number(_))
}
