//! Statements and expressions as instructions. Every value is a 64-bit word whose bits above its width are 0.

use crate::order::Part;
use crate::unsupported::Unsupported;
use cranelift_codegen::ir::condcodes::IntCC;
use cranelift_codegen::ir::types::I64;
use cranelift_codegen::ir::{Block, InstBuilder, Value};
use cranelift_frontend::{FunctionBuilder, Variable};
use design::{
    Arm, AssignMode, BinaryOp, CaseMatch, Design, ExprId, ExprKind, LoopKind, SignalId, Stmt, StmtKind, Storage,
    SubprogramId, SystemFunction, Target, UnaryOp, VariableId,
};
use logic::{Level, LogicVector};
use std::collections::BTreeMap;

type Done<T> = Result<T, Unsupported>;

/// What a label or loop leads to.
struct Frame<'d> {
    label: Option<&'d str>,
    is_loop: bool,
    exit: Block,
    next: Option<Block>,
}

pub(crate) struct Emitter<'d, 'f> {
    pub(crate) design: &'d Design,
    pub(crate) code: FunctionBuilder<'f>,
    /// Levels of signals now.
    pub(crate) signals: BTreeMap<SignalId, Variable>,
    /// Levels that signals take when the process waits.
    pub(crate) later: BTreeMap<SignalId, Variable>,
    pub(crate) variables: BTreeMap<VariableId, Variable>,
    /// Turns of loops that may still be made.
    pub(crate) fuel: Variable,
    /// Where a loop without end goes.
    pub(crate) bail: Block,
    frames: Vec<Frame<'d>>,
    /// Where `return` goes.
    leave: Vec<Block>,
}

fn mask(width: u32) -> u64 {
    if width >= 64 { u64::MAX } else { (1 << width) - 1 }
}

impl<'d, 'f> Emitter<'d, 'f> {
    pub(crate) fn new(design: &'d Design, code: FunctionBuilder<'f>, fuel: Variable, bail: Block) -> Self {
        Self {
            design,
            code,
            signals: BTreeMap::new(),
            later: BTreeMap::new(),
            variables: BTreeMap::new(),
            fuel,
            bail,
            frames: Vec::new(),
            leave: Vec::new(),
        }
    }

    /// Runs the statements of a process, then lets its delayed assignments take effect.
    pub(crate) fn part(&mut self, part: &Part<'d>) -> Done<()> {
        for _ in 0..part.turns {
            self.later.clear();
            self.process(part.body)?;
            self.commit();
        }
        Ok(())
    }

    /// Runs the statements of a process; its delayed assignments wait in [`later`](Self::later).
    pub(crate) fn process(&mut self, body: &'d [Stmt]) -> Done<()> {
        // What is written later begins as it is now.
        let mut written = Vec::new();
        delayed(self.design, body, &mut written);
        for signal in written {
            if !self.later.contains_key(&signal) {
                let shadow = self.code.declare_var(I64);
                let now = self.signal(signal)?;
                self.code.def_var(shadow, now);
                self.later.insert(signal, shadow);
            }
        }
        self.list(body).map(|_| ())
    }

    /// Delayed assignments take effect.
    pub(crate) fn commit(&mut self) {
        for (signal, shadow) in std::mem::take(&mut self.later) {
            let value = self.code.use_var(shadow);
            if let Some(variable) = self.signals.get(&signal) {
                self.code.def_var(*variable, value);
            }
        }
    }

    fn number(&mut self, value: u64) -> Value {
        self.code.ins().iconst(I64, value.cast_signed())
    }

    fn masked(&mut self, value: Value, width: u32) -> Value {
        if width >= 64 { value } else { self.code.ins().band_imm_u(value, mask(width).cast_signed()) }
    }

    fn signal(&mut self, signal: SignalId) -> Done<Value> {
        let variable = self.signals.get(&signal).copied().ok_or(Unsupported("a vector of more than 64 bits"))?;
        Ok(self.code.use_var(variable))
    }

    fn width(&self, id: ExprId) -> u32 {
        self.design.exprs[id].width
    }

    /// The value with its sign in all 64 bits.
    fn extended(&mut self, value: Value, width: u32) -> Value {
        if width >= 64 || width == 0 {
            return value;
        }
        let shift = i64::from(64 - width);
        let up = self.code.ins().ishl_imm_u(value, shift);
        self.code.ins().sshr_imm_u(up, shift)
    }

    fn flag(&mut self, condition: IntCC, left: Value, right: Value) -> Value {
        let bit = self.code.ins().icmp(condition, left, right);
        self.code.ins().uextend(I64, bit)
    }

    fn constant(value: &LogicVector) -> Done<u64> {
        if value.width() > 64 {
            return Err(Unsupported("a vector of more than 64 bits"));
        }
        value.to_u64().ok_or(Unsupported("an unknown level"))
    }

    pub(crate) fn expr(&mut self, id: ExprId) -> Done<Value> {
        let design = self.design;
        let expr = &design.exprs[id];
        let width = expr.width;
        if width == 0 || width > 64 {
            return Err(Unsupported("a vector of more than 64 bits"));
        }
        match &expr.kind {
            ExprKind::Const(value) => {
                let word = Self::constant(value)?;
                Ok(self.number(word))
            }
            ExprKind::Signal(signal) => self.signal(*signal),
            ExprKind::Variable(variable) => {
                let place = self.variables.get(variable).copied().ok_or(Unsupported("a large variable"))?;
                Ok(self.code.use_var(place))
            }
            ExprKind::Slice { base, low } => {
                let value = self.expr(*base)?;
                let shifted = if *low == 0 { value } else { self.code.ins().ushr_imm_u(value, i64::from(*low)) };
                Ok(if low + width == self.width(*base) { shifted } else { self.masked(shifted, width) })
            }
            ExprKind::Element { base, index, stride } => {
                let total = self.width(*base);
                let last = u64::from(total / stride).max(1) - 1;
                if self.width(*index) < 32 && mask(self.width(*index)) > last {
                    return Err(Unsupported("an index that may lie outside"));
                }
                let value = self.expr(*base)?;
                let index_value = self.expr(*index)?;
                let by = self.code.ins().imul_imm_u(index_value, i64::from(*stride));
                let mut shifted = self.shift_by(value, by, IntCC::UnsignedLessThan, false);
                if width > *stride {
                    // It may begin below the first bit.
                    let back = self.code.ins().ineg(by);
                    let below = self.code.ins().icmp_imm_s(IntCC::SignedLessThan, by, 0);
                    let up = self.code.ins().ishl(value, back);
                    shifted = self.code.ins().select(below, up, shifted);
                }
                Ok(self.masked(shifted, width))
            }
            ExprKind::Checked { value, .. } => self.expr(*value),
            ExprKind::Unary(op, a) => self.unary(*op, *a),
            ExprKind::Binary { op, signed, left, right, .. } => self.binary(*op, *signed, *left, *right),
            ExprKind::Select { condition, then, otherwise, .. } => {
                let condition = self.expr(*condition)?;
                let (then, otherwise) = (self.expr(*then)?, self.expr(*otherwise)?);
                Ok(self.code.ins().select(condition, then, otherwise))
            }
            ExprKind::Concat(parts) => {
                let mut sum: Option<Value> = None;
                let mut place = 0;
                for part in parts.iter().rev() {
                    let value = self.expr(*part)?;
                    let moved = if place == 0 { value } else { self.code.ins().ishl_imm_u(value, i64::from(place)) };
                    sum = Some(sum.map_or(moved, |s| self.code.ins().bor(s, moved)));
                    place += self.width(*part);
                }
                sum.ok_or(Unsupported("an empty list"))
            }
            ExprKind::Resize { value, signed } => {
                let from = self.width(*value);
                let word = self.expr(*value)?;
                if *signed && from < width {
                    let wide = self.extended(word, from);
                    return Ok(self.masked(wide, width));
                }
                Ok(if from > width { self.masked(word, width) } else { word })
            }
            ExprKind::Call { subprogram, arguments } => {
                let values = arguments.iter().map(|a| self.expr(*a)).collect::<Done<Vec<_>>>()?;
                self.call(*subprogram, &values)?;
                let result = design.subprograms[*subprogram].result.ok_or(Unsupported("a call without a result"))?;
                let place = self.variables.get(&result).copied().ok_or(Unsupported("a large variable"))?;
                Ok(self.code.use_var(place))
            }
            // A part of the design that waits for an edge runs at the edge.
            ExprKind::System(
                SystemFunction::Rising(..) | SystemFunction::Falling(..) | SystemFunction::Reached(..),
            ) => Ok(self.number(1)),
            // Functions of the simulator, text and real numbers.
            _ => Err(Unsupported("what only tests use")),
        }
    }

    /// A shift to the right (or left) by a computed amount; too far gives 0.
    fn shift_by(&mut self, value: Value, by: Value, near: IntCC, left: bool) -> Value {
        let sixty_four = self.number(64);
        let zero = self.number(0);
        let inside = self.code.ins().icmp(near, by, sixty_four);
        let shifted = if left { self.code.ins().ishl(value, by) } else { self.code.ins().ushr(value, by) };
        self.code.ins().select(inside, shifted, zero)
    }

    /// A constant, extended or not.
    fn constant_of(&self, id: ExprId) -> Option<u64> {
        match &self.design.exprs[id].kind {
            ExprKind::Const(value) => value.to_u64(),
            ExprKind::Resize { value, .. } => {
                let inner = self.constant_of(*value)?;
                let narrow = self.width(*value).min(self.width(id)).min(64);
                // The sign bit must not be set, so that both extensions are the same.
                (inner <= mask(narrow) / 2).then_some(inner)
            }
            _ => None,
        }
    }

    fn unary(&mut self, op: UnaryOp, operand: ExprId) -> Done<Value> {
        let width = self.width(operand);
        let value = self.expr(operand)?;
        let (zero, all) = (self.number(0), self.number(mask(width)));
        Ok(match op {
            UnaryOp::Not => self.code.ins().bxor(value, all),
            UnaryOp::Neg => {
                let negative = self.code.ins().ineg(value);
                self.masked(negative, width)
            }
            UnaryOp::LogicalNot => self.flag(IntCC::Equal, value, zero),
            UnaryOp::ReduceOr => self.flag(IntCC::NotEqual, value, zero),
            UnaryOp::ReduceAnd => self.flag(IntCC::Equal, value, all),
            UnaryOp::ReduceXor => {
                let count = self.code.ins().popcnt(value);
                self.masked(count, 1)
            }
        })
    }

    fn binary(&mut self, op: BinaryOp, signed: bool, left: ExprId, right: ExprId) -> Done<Value> {
        use BinaryOp as B;
        let width = self.width(left);
        let (mut a, mut b) = (self.expr(left)?, self.expr(right)?);
        if matches!(op, B::Less | B::LessEqual | B::Greater | B::GreaterEqual) && signed {
            (a, b) = (self.extended(a, width), self.extended(b, width));
        }
        let order = |unsigned: IntCC, with_sign: IntCC| if signed { with_sign } else { unsigned };
        Ok(match op {
            B::And => self.code.ins().band(a, b),
            B::Or => self.code.ins().bor(a, b),
            B::Xor => self.code.ins().bxor(a, b),
            B::Add => {
                let sum = self.code.ins().iadd(a, b);
                self.masked(sum, width)
            }
            B::Sub => {
                let difference = self.code.ins().isub(a, b);
                self.masked(difference, width)
            }
            B::Mul => {
                let product = self.code.ins().imul(a, b);
                self.masked(product, width)
            }
            B::Div | B::Rem | B::Mod => {
                // A computed divisor may be 0, which makes unknown levels.
                let divisor = self.constant_of(right).filter(|d| *d != 0 && (!signed || *d <= mask(width) / 2));
                if divisor.is_none() {
                    return Err(Unsupported("division by what is no positive constant"));
                }
                if !signed {
                    return Ok(if op == B::Div { self.code.ins().udiv(a, b) } else { self.code.ins().urem(a, b) });
                }
                let wide = self.extended(a, width);
                let result = if op == B::Div { self.code.ins().sdiv(wide, b) } else { self.code.ins().srem(wide, b) };
                let result = if op == B::Mod {
                    let zero = self.number(0);
                    let negative = self.code.ins().icmp(IntCC::SignedLessThan, result, zero);
                    let moved = self.code.ins().iadd(result, b);
                    self.code.ins().select(negative, moved, result)
                } else {
                    result
                };
                self.masked(result, width)
            }
            B::Pow => return Err(Unsupported("powers")),
            B::ShiftLeft => {
                let shifted = self.shift_by(a, b, IntCC::UnsignedLessThan, true);
                self.masked(shifted, width)
            }
            B::ShiftRight => self.shift_by(a, b, IntCC::UnsignedLessThan, false),
            B::ShiftRightArithmetic => {
                let wide = self.extended(a, width);
                let most = self.number(63);
                let near = self.code.ins().icmp(IntCC::UnsignedLessThan, b, most);
                let by = self.code.ins().select(near, b, most);
                let shifted = self.code.ins().sshr(wide, by);
                self.masked(shifted, width)
            }
            B::Equal | B::SameLevels | B::Match => self.flag(IntCC::Equal, a, b),
            B::NotEqual => self.flag(IntCC::NotEqual, a, b),
            B::Less => self.flag(order(IntCC::UnsignedLessThan, IntCC::SignedLessThan), a, b),
            B::LessEqual => self.flag(order(IntCC::UnsignedLessThanOrEqual, IntCC::SignedLessThanOrEqual), a, b),
            B::Greater => self.flag(order(IntCC::UnsignedGreaterThan, IntCC::SignedGreaterThan), a, b),
            B::GreaterEqual => {
                self.flag(order(IntCC::UnsignedGreaterThanOrEqual, IntCC::SignedGreaterThanOrEqual), a, b)
            }
        })
    }

    fn call(&mut self, id: SubprogramId, arguments: &[Value]) -> Done<()> {
        if self.leave.len() > 16 {
            return Err(Unsupported("recursion"));
        }
        let design = self.design;
        let routine = &design.subprograms[id];
        for ((parameter, _), value) in routine.parameters.iter().zip(arguments) {
            let place = self.variables.get(parameter).copied().ok_or(Unsupported("a large variable"))?;
            self.code.def_var(place, *value);
        }
        let after = self.code.create_block();
        self.leave.push(after);
        let frames = std::mem::take(&mut self.frames);
        let falls = self.list(&routine.body)?;
        self.frames = frames;
        self.leave.pop();
        if falls {
            self.code.ins().jump(after, &[]);
        }
        self.code.switch_to_block(after);
        Ok(())
    }

    /// Statements one after the other; true when control comes out at their end.
    fn list(&mut self, list: &'d [Stmt]) -> Done<bool> {
        for stmt in list {
            if !self.stmt(stmt)? {
                return Ok(false);
            }
        }
        Ok(true)
    }

    fn branch(&mut self, body: &'d [Stmt], after: Block) -> Done<bool> {
        let falls = self.list(body)?;
        if falls {
            self.code.ins().jump(after, &[]);
        }
        Ok(falls)
    }

    fn stmt(&mut self, stmt: &'d Stmt) -> Done<bool> {
        match &stmt.kind {
            StmtKind::Assign { targets, value, mode, delay: _ } => {
                let value = self.expr(*value)?;
                let mut place: u32 = targets.iter().map(|t| t.width).sum();
                for target in targets {
                    place -= target.width;
                    let shifted = if place == 0 { value } else { self.code.ins().ushr_imm_u(value, i64::from(place)) };
                    let part = if targets.len() == 1 { shifted } else { self.masked(shifted, target.width) };
                    self.assign(target, part, *mode)?;
                }
                Ok(true)
            }
            StmtKind::If { condition, then, otherwise } => {
                let condition = self.expr(*condition)?;
                let (yes, no, after) = (self.code.create_block(), self.code.create_block(), self.code.create_block());
                self.code.ins().brif(condition, yes, &[], no, &[]);
                self.code.switch_to_block(yes);
                let first = self.branch(then, after)?;
                self.code.switch_to_block(no);
                let second = self.branch(otherwise.as_deref().unwrap_or_default(), after)?;
                self.after(after, first || second)
            }
            StmtKind::Case { matching, subject, arms, default } => {
                self.case(*matching, *subject, arms, default.as_deref())
            }
            StmtKind::Loop { kind, body, step, label } => self.turns(kind, body, step, label.as_deref()),
            StmtKind::Block { label, body } => {
                let after = self.code.create_block();
                self.frames.push(Frame { label: label.as_deref(), is_loop: false, exit: after, next: None });
                let falls = self.branch(body, after)?;
                self.frames.pop();
                let _ = falls;
                self.after(after, true)
            }
            StmtKind::Exit(label) => self.jump(label.as_deref(), false),
            StmtKind::Next(label) => self.jump(label.as_deref(), true),
            StmtKind::Return => {
                let to = *self.leave.last().ok_or(Unsupported("a return outside of a subprogram"))?;
                self.code.ins().jump(to, &[]);
                Ok(false)
            }
            StmtKind::Call { subprogram, arguments } => {
                let values = arguments.iter().map(|(e, _)| self.expr(*e)).collect::<Done<Vec<_>>>()?;
                self.call(*subprogram, &values)?;
                let design = self.design;
                for ((parameter, _), (_, target)) in design.subprograms[*subprogram].parameters.iter().zip(arguments) {
                    if let Some(target) = target {
                        let place = self.variables.get(parameter).copied().ok_or(Unsupported("a large variable"))?;
                        let value = self.code.use_var(place);
                        let mode = match target.storage {
                            Storage::Signal(s) if self.later.contains_key(&s) => AssignMode::NonBlocking,
                            _ => AssignMode::Blocking,
                        };
                        self.assign(target, value, mode)?;
                    }
                }
                Ok(true)
            }
            StmtKind::Print { .. } | StmtKind::Assert { .. } | StmtKind::Control(_) => Ok(true),
            StmtKind::Wait(_) | StmtKind::Finish | StmtKind::Force { .. } => {
                Err(Unsupported("waiting within a process"))
            }
        }
    }

    fn case(
        &mut self,
        matching: CaseMatch,
        subject: ExprId,
        arms: &'d [Arm],
        default: Option<&'d [Stmt]>,
    ) -> Done<bool> {
        let width = self.width(subject);
        let value = self.expr(subject)?;
        let after = self.code.create_block();
        let mut falls = false;
        for arm in arms {
            let (hit, miss) = (self.code.create_block(), self.code.create_block());
            let mut any: Option<Value> = None;
            for choice in &arm.choices {
                if let Some(equal) = self.choice(matching, value, *choice, width)? {
                    any = Some(any.map_or(equal, |a| self.code.ins().bor(a, equal)));
                }
            }
            let any = match any {
                Some(any) => any,
                None => self.number(0),
            };
            self.code.ins().brif(any, hit, &[], miss, &[]);
            self.code.switch_to_block(hit);
            falls |= self.branch(&arm.body, after)?;
            self.code.switch_to_block(miss);
        }
        falls |= self.branch(default.unwrap_or_default(), after)?;
        self.after(after, falls)
    }

    /// Goes on behind a branch; a block that nothing comes to ends at once.
    fn after(&mut self, after: Block, reached: bool) -> Done<bool> {
        self.code.switch_to_block(after);
        if !reached {
            let bail = self.bail;
            self.code.ins().jump(bail, &[]);
            let unreachable = self.code.create_block();
            self.code.switch_to_block(unreachable);
            self.code.ins().jump(bail, &[]);
        }
        Ok(reached)
    }

    fn choice(&mut self, matching: CaseMatch, value: Value, choice: ExprId, width: u32) -> Done<Option<Value>> {
        let ExprKind::Const(constant) = &self.design.exprs[choice].kind else {
            let other = self.expr(choice)?;
            return Ok(Some(self.flag(IntCC::Equal, value, other)));
        };
        let mut known = mask(width);
        let mut word = 0u64;
        for i in 0..constant.width().min(64) {
            let level = constant.get(i);
            let free = match matching {
                CaseMatch::Exact => false,
                CaseMatch::HighZ => level == Level::HighZ,
                CaseMatch::Unknown => level.known().is_none(),
                CaseMatch::Dash => level == Level::DontCare,
            };
            match level.known() {
                _ if free => known &= !(1 << i),
                Some(bit) => word |= u64::from(bit) << i,
                // No known level is this one.
                None => return Ok(None),
            }
        }
        let looked_at =
            if known == mask(width) { value } else { self.code.ins().band_imm_u(value, known.cast_signed()) };
        let wanted = self.number(word);
        Ok(Some(self.flag(IntCC::Equal, looked_at, wanted)))
    }

    fn jump(&mut self, label: Option<&str>, next: bool) -> Done<bool> {
        let frame = self
            .frames
            .iter()
            .rev()
            .find(|f| label.map_or(f.is_loop, |l| f.label == Some(l)))
            .ok_or(Unsupported("leaving what is not there"))?;
        let to = if next { frame.next.ok_or(Unsupported("leaving what is not there"))? } else { frame.exit };
        self.code.ins().jump(to, &[]);
        Ok(false)
    }

    fn turns(&mut self, kind: &LoopKind, body: &'d [Stmt], step: &'d [Stmt], label: Option<&'d str>) -> Done<bool> {
        let (head, turn, next, exit) =
            (self.code.create_block(), self.code.create_block(), self.code.create_block(), self.code.create_block());
        let left = match kind {
            LoopKind::Repeat(count) => {
                let place = self.code.declare_var(I64);
                let count = self.expr(*count)?;
                self.code.def_var(place, count);
                Some(place)
            }
            _ => None,
        };
        self.code.ins().jump(head, &[]);
        self.code.switch_to_block(head);
        let goes_on = match (kind, left) {
            (LoopKind::While(condition), _) => self.expr(*condition)?,
            (_, Some(place)) => self.code.use_var(place),
            _ => self.number(1),
        };
        self.code.ins().brif(goes_on, turn, &[], exit, &[]);
        self.code.switch_to_block(turn);
        if let Some(place) = left {
            let now = self.code.use_var(place);
            let less = self.code.ins().iadd_imm_s(now, -1);
            self.code.def_var(place, less);
        }
        self.frames.push(Frame { label, is_loop: true, exit, next: Some(next) });
        let _ = self.branch(body, next)?;
        self.frames.pop();
        self.code.switch_to_block(next);
        let falls = self.list(step)?;
        if falls {
            let fuel = self.code.use_var(self.fuel);
            let less = self.code.ins().iadd_imm_s(fuel, -1);
            self.code.def_var(self.fuel, less);
            let bail = self.bail;
            self.code.ins().brif(less, head, &[], bail, &[]);
        }
        self.code.switch_to_block(exit);
        Ok(true)
    }

    fn assign(&mut self, target: &Target, value: Value, mode: AssignMode) -> Done<()> {
        let (place, total) = match target.storage {
            Storage::Signal(signal) => {
                let list = if mode == AssignMode::NonBlocking { &self.later } else { &self.signals };
                let place = list.get(&signal).copied().ok_or(Unsupported("a vector of more than 64 bits"))?;
                (place, self.design.signal_width(signal))
            }
            Storage::Variable(variable) => {
                let place = self.variables.get(&variable).copied().ok_or(Unsupported("a large variable"))?;
                (place, self.design.type_width(self.design.variables[variable].ty))
            }
        };
        if target.element.is_none() && target.low == 0 && target.width == total {
            self.code.def_var(place, value);
            return Ok(());
        }
        let old = self.code.use_var(place);
        let hole = self.number(mask(target.width));
        let new = match target.element {
            None => {
                let low = i64::from(target.low);
                let moved = self.code.ins().ishl_imm_u(value, low);
                let hole = self.code.ins().ishl_imm_u(hole, low);
                let kept = self.code.ins().band_not(old, hole);
                self.code.ins().bor(kept, moved)
            }
            Some((index, stride)) if target.width > stride => {
                // It may lie outside in part; what does is lost.
                if target.low > 0 {
                    return Err(Unsupported("a part of a word that may lie outside in part"));
                }
                let index_value = self.expr(index)?;
                let by = self.code.ins().imul_imm_u(index_value, i64::from(stride));
                let back = self.code.ins().ineg(by);
                let below = self.code.ins().icmp_imm_s(IntCC::SignedLessThan, by, 0);
                let all = self.number(mask(total));
                let mut placed = |bits: Value| {
                    let up = self.code.ins().ishl(bits, by);
                    let up = self.code.ins().band(up, all);
                    let down = self.code.ins().ushr(bits, back);
                    self.code.ins().select(below, down, up)
                };
                let (moved, hole) = (placed(value), placed(hole));
                let from = self.code.ins().iadd_imm_s(by, i64::from(target.width - 1));
                let reach = self.number(u64::from(total + target.width - 1));
                let inside = self.code.ins().icmp(IntCC::UnsignedLessThan, from, reach);
                let kept = self.code.ins().band_not(old, hole);
                let new = self.code.ins().bor(kept, moved);
                self.code.ins().select(inside, new, old)
            }
            Some((index, stride)) => {
                let index_value = self.expr(index)?;
                let by = self.code.ins().imul_imm_u(index_value, i64::from(stride));
                let by = self.code.ins().iadd_imm_s(by, i64::from(target.low));
                // Outside writes nothing.
                let last = self.number(u64::from(total - target.width));
                let inside = self.code.ins().icmp(IntCC::UnsignedLessThanOrEqual, by, last);
                let moved = self.code.ins().ishl(value, by);
                let hole = self.code.ins().ishl(hole, by);
                let kept = self.code.ins().band_not(old, hole);
                let new = self.code.ins().bor(kept, moved);
                self.code.ins().select(inside, new, old)
            }
        };
        self.code.def_var(place, new);
        Ok(())
    }
}

/// The signals that statements write when the process waits.
fn delayed(design: &Design, body: &[Stmt], found: &mut Vec<SignalId>) {
    for stmt in body {
        match &stmt.kind {
            StmtKind::Assign { targets, mode: AssignMode::NonBlocking, .. } => {
                found.extend(targets.iter().filter_map(|t| match t.storage {
                    Storage::Signal(signal) => Some(signal),
                    Storage::Variable(_) => None,
                }));
            }
            StmtKind::If { then, otherwise, .. } => {
                delayed(design, then, found);
                delayed(design, otherwise.as_deref().unwrap_or_default(), found);
            }
            StmtKind::Case { arms, default, .. } => {
                arms.iter().for_each(|a| delayed(design, &a.body, found));
                delayed(design, default.as_deref().unwrap_or_default(), found);
            }
            StmtKind::Loop { body, step, .. } => {
                delayed(design, body, found);
                delayed(design, step, found);
            }
            StmtKind::Block { body, .. } => delayed(design, body, found),
            StmtKind::Call { subprogram, .. } => delayed(design, &design.subprograms[*subprogram].body, found),
            _ => {}
        }
    }
}
