//! The value of an expression as logic.

use super::super::diagnostics as say;
use super::super::word::{Bit, Word, constant, to_constant};
use super::{Clock, Executor, Halt, MOST_NODES};
use crate::expr::{BinaryOp, Expr, ExprKind, SystemFunction, UnknownCondition};
use crate::ids::ExprId;
use crate::netlist::Lit;
use crate::process::{Storage, Target};
use base::{Exhausted, Span};
use rustc_hash::FxHashMap as HashMap;
use std::collections::BTreeSet;

impl Executor<'_> {
    /// The value of an expression. Nodes are taken in order of their ids, operands first, so that no depth of
    /// nesting can overflow the stack.
    pub(in crate::synth) fn expr(&mut self, root: ExprId) -> Result<Word, Halt> {
        let mut wanted = BTreeSet::from([root]);
        let mut stack = vec![root];
        // Of a choice whose condition is constant and whose arms call functions only one arm is looked at, so that a
        // recursion ends.
        let mut chosen: HashMap<ExprId, ExprId> = HashMap::default();
        while let Some(id) = stack.pop() {
            let mut operands = self.operands(id);
            if let ExprKind::Select { condition, then, otherwise, .. } = &self.design.exprs[id].kind
                && (self.slots.calls(self.design, *then) || self.slots.calls(self.design, *otherwise))
            {
                let c = self.expr(*condition)?.first().copied().unwrap_or(Bit::X);
                let arm = match self.net.taken(c) {
                    Lit::TRUE => Some(*then),
                    Lit::FALSE if c.unknown == Lit::FALSE && c.floating == Lit::FALSE => Some(*otherwise),
                    _ => None,
                };
                if let Some(arm) = arm {
                    chosen.insert(id, arm);
                    operands = vec![arm];
                }
            }
            for operand in operands {
                if wanted.insert(operand) {
                    stack.push(operand);
                }
            }
        }
        let mut done: HashMap<ExprId, Word> =
            HashMap::with_capacity_and_hasher(wanted.len(), rustc_hash::FxBuildHasher);
        for id in wanted {
            let word = match chosen.get(&id).and_then(|arm| done.get(arm)) {
                Some(word) => word.clone(),
                None => self.node(id, &done)?,
            };
            done.insert(id, word);
        }
        Ok(done.remove(&root).unwrap_or_default())
    }

    /// The nodes whose values a node needs; a slice of plain storage needs none.
    fn operands(&self, id: ExprId) -> Vec<ExprId> {
        match &self.design.exprs[id].kind {
            ExprKind::Slice { base, .. } if self.storage_of(*base).is_some() => Vec::new(),
            // A call binds its arguments itself.
            ExprKind::Call { .. } => Vec::new(),
            kind => kind.operands(),
        }
    }

    /// A constant; that a weak level was met is kept.
    pub(super) fn constant(&mut self, value: &logic::LogicVector, span: Span) -> Word {
        if value.bits().any(|level| matches!(level, logic::Level::WeakZero | logic::Level::WeakOne)) {
            self.weak = Some(span);
        }
        constant(value)
    }

    fn node(&mut self, id: ExprId, done: &HashMap<ExprId, Word>) -> Result<Word, Halt> {
        let design = self.design;
        let Expr { kind, width, span } = &design.exprs[id];
        let value = |e: &ExprId| done.get(e).map_or(&[][..], Vec::as_slice);
        self.budget.spend(u64::from(*width) + 1)?;
        let before = self.net.len();
        self.net.set_origin(Some(*span));
        let word = match kind {
            ExprKind::Const(value) => self.constant(value, *span),
            ExprKind::Signal(s) => self.load_all(Storage::Signal(*s), *width),
            ExprKind::Variable(v) => self.load_all(Storage::Variable(*v), *width),
            ExprKind::Slice { base, low } => match self.storage_of(*base) {
                Some(storage) => {
                    let first = self.slots.of(storage) + low;
                    (first..first + width).map(|slot| self.load(slot)).collect()
                }
                None => value(base)[*low as usize..(low + width) as usize].to_vec(),
            },
            ExprKind::Element { base, index, stride } => self.element(value(base), value(index), *stride, *width)?,
            ExprKind::Unary(op, a) => self.net.unary(*op, value(a)),
            ExprKind::Binary { op, signed, unknowns, left, right } => {
                let (a, b) = (value(left), value(right));
                match op {
                    BinaryOp::Pow => {
                        // Each bit of the exponent that is not known to be 0 costs two multiplications.
                        let steps = b.iter().filter(|bit| bit.to_level() != Some(logic::Level::Zero)).count() as u64;
                        self.room(steps.saturating_mul(a.len() as u64 * a.len() as u64 * 16))?;
                        self.net.power(*signed, a, b)
                    }
                    BinaryOp::Mul | BinaryOp::Div | BinaryOp::Rem | BinaryOp::Mod => {
                        self.room(a.len() as u64 * b.len() as u64 * 16)?;
                        self.net.binary(*op, *signed, *unknowns, a, b)
                    }
                    _ => self.net.binary(*op, *signed, *unknowns, a, b),
                }
            }
            ExprKind::Select { condition, then, otherwise, unknown } => {
                let c = value(condition).first().copied().unwrap_or(Bit::X);
                let (t, o) = (value(then), value(otherwise));
                match unknown {
                    UnknownCondition::Merge => self.net.select_merge(c, t, o),
                    UnknownCondition::Otherwise => {
                        let taken = self.net.taken(c);
                        t.iter().zip(o).map(|(t, o)| self.net.choose(taken, *t, *o)).collect()
                    }
                }
            }
            // What a simulation says besides is nothing of the hardware.
            ExprKind::Checked { value: a, .. } => value(a).to_vec(),
            ExprKind::Concat(parts) => parts.iter().rev().flat_map(|p| value(p).iter().copied()).collect(),
            ExprKind::Resize { value: a, signed } => {
                let mut word = value(a).to_vec();
                let fill = match word.last() {
                    Some(top) if *signed => *top,
                    _ => Bit::known(Lit::FALSE),
                };
                word.resize(*width as usize, fill);
                word
            }
            ExprKind::Call { subprogram, arguments } => {
                let arguments: Vec<(ExprId, Option<Target>)> = arguments.iter().map(|a| (*a, None)).collect();
                let result = self.call(*subprogram, &arguments)?;
                result.unwrap_or_else(|| vec![Bit::X; *width as usize])
            }
            ExprKind::System(
                SystemFunction::Rising(s, bit) | SystemFunction::Falling(s, bit) | SystemFunction::Reached(s, bit, _),
            ) => {
                let slot = self.slots.of(Storage::Signal(*s)) + bit;
                let rising =
                    matches!(kind, ExprKind::System(SystemFunction::Rising(..) | SystemFunction::Reached(_, _, true)));
                self.clocks.insert(Clock { slot, rising });
                self.reads.bit(self.net, slot);
                vec![Bit::known(Lit::from(self.edge))]
            }
            ExprKind::Real { op, operands } => self.real(*op, operands, done, (*width, *span))?,
            ExprKind::System(_) | ExprKind::Text { .. } | ExprKind::Format(_) | ExprKind::Scan(_) => {
                self.diagnostics.push(say::simulation_only("This value", *span));
                return Err(Halt::Reported);
            }
        };
        self.budget.spend((self.net.len() - before) as u64)?;
        self.room(0)?;
        Ok(word)
    }

    /// Pays for so many nodes to come, where there is room for them.
    fn room(&mut self, nodes: u64) -> Result<(), Exhausted> {
        if nodes > MOST_NODES || self.net.len() as u64 > MOST_NODES - nodes {
            return Err(Exhausted(base::Resource::Memory));
        }
        self.budget.spend(nodes)
    }

    /// Real numbers of constants are constants; hardware has none.
    fn real(
        &mut self,
        op: crate::real::RealOp,
        operands: &[ExprId],
        done: &HashMap<ExprId, Word>,
        (width, span): (u32, Span),
    ) -> Result<Word, Halt> {
        let known: Option<Vec<_>> =
            operands.iter().map(|o| to_constant(done.get(o).map_or(&[][..], Vec::as_slice))).collect();
        if let Some(known) = known {
            return Ok(constant(&crate::real::real_value(op, &known, width)));
        }
        self.diagnostics.push(say::simulation_only("A real number", span));
        Err(Halt::Reported)
    }

    fn element(&mut self, base: &[Bit], index: &[Bit], stride: u32, width: u32) -> Result<Word, Halt> {
        if let Some(k) = to_constant(index).and_then(|c| c.to_i64()) {
            let at = k.checked_mul(i64::from(stride));
            let pick = |i: usize| {
                let place = at.and_then(|at| usize::try_from(at.checked_add(i as i64)?).ok());
                place.and_then(|place| base.get(place)).copied().unwrap_or(Bit::X)
            };
            return Ok((0..width as usize).map(pick).collect());
        }
        self.budget.spend(base.len() as u64 * 4)?;
        Ok(self.net.element(base, index, stride as usize, width as usize))
    }

    pub(super) fn storage_of(&self, id: ExprId) -> Option<Storage> {
        match self.design.exprs[id].kind {
            ExprKind::Signal(s) => Some(Storage::Signal(s)),
            ExprKind::Variable(v) => Some(Storage::Variable(v)),
            _ => None,
        }
    }

    pub(super) fn load_all(&mut self, storage: Storage, width: u32) -> Word {
        let first = self.slots.of(storage);
        (first..first + width).map(|slot| self.load(slot)).collect()
    }
}
