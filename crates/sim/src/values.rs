//! What expressions are worth, and how values get where they are assigned.

use crate::code::{Check, Op, Place};
use crate::kernel::{Kernel, Update};
use crate::{eval, text};
use base::Id;
use design::{AssignMode, ScanSource, SignalKind, Storage, SystemFunction};
use logic::{Level, LogicVector};

impl Kernel<'_> {
    pub(crate) fn assign(
        &mut self,
        process: usize,
        places: &[Place],
        value: &LogicVector,
        mode: AssignMode,
        after: Option<(u64, u64)>,
    ) {
        let mut at = 0u32;
        for place in places.iter().rev() {
            let width = place.target.width;
            let mut part = if places.len() == 1 { value.clone() } else { value.slice(i64::from(at), width) };
            at += width;
            let mut low = place.target.low;
            if let (Some(code), Some((_, stride))) = (&place.index, place.target.element) {
                let Some(index) = self.evaluate(code, process).and_then(|v| v.to_i64()) else { continue };
                let Some(offset) = index.checked_mul(i64::from(stride)) else { continue };
                match u32::try_from(offset) {
                    Ok(offset) => low = low.saturating_add(offset),
                    // What lies below the first bit is lost (IEEE 1364-2005 5.2.1).
                    Err(_) if offset < 0 && -offset < i64::from(width) => {
                        part = part.slice(-offset, width - offset.unsigned_abs() as u32);
                    }
                    Err(_) => continue,
                }
            }
            let total = match place.target.storage {
                Storage::Signal(s) => self.signals[s.index()].value.width(),
                Storage::Variable(v) => self.variables[v.index()].width(),
            };
            if low >= total {
                continue;
            }
            let update = Update { storage: place.target.storage, low, value: part, process };
            let is_net = match place.target.storage {
                Storage::Signal(s) => {
                    matches!(self.design.signals[s].kind, SignalKind::Net(_))
                }
                Storage::Variable(_) => false,
            };
            if is_net && after.is_none_or(|(delay, _)| delay == 0) {
                self.replace_pending(&update);
            }
            match (mode, after) {
                (_, Some((delay, least))) if is_net && delay > 0 => self.drive_later(update, delay, least),
                (_, Some((delay, _))) if delay > 0 => self.apply_later(update, delay),
                (AssignMode::NonBlocking, _) => self.updates.push(update),
                (AssignMode::Blocking, _) => self.apply(&update, false),
            }
        }
    }

    /// The value of an expression; `None` after a finding that ends the simulation.
    pub(crate) fn evaluate(&mut self, code: &[Op], process: usize) -> Option<LogicVector> {
        // One operand needs no stack.
        match code {
            [Op::Const(value)] => return Some(value.clone()),
            [Op::Signal(s)] => return Some(self.signals[*s].value.clone()),
            [Op::Variable(v)] => return Some(self.variables[*v].clone()),
            [Op::SignalSlice(s, low, width)] => return Some(self.signals[*s].value.slice(i64::from(*low), *width)),
            _ => {}
        }
        // The room for operands is kept from one evaluation to the next.
        let mut stack = std::mem::take(&mut self.operands);
        let none = || LogicVector::filled(1, Level::Unknown);
        for op in code {
            let value = match op {
                Op::Const(value) => value.clone(),
                Op::Signal(s) => self.signals[*s].value.clone(),
                Op::Variable(v) => self.variables[*v].clone(),
                Op::SignalSlice(s, low, width) => self.signals[*s].value.slice(i64::from(*low), *width),
                Op::Slice(low, width) => stack.pop().unwrap_or_else(none).slice(i64::from(*low), *width),
                Op::Element { stride, width } => {
                    let (index, from) = (stack.pop().unwrap_or_else(none), stack.pop().unwrap_or_else(none));
                    let low = index.to_i64().and_then(|i| i.checked_mul(i64::from(*stride)));
                    match low.filter(|l| *l > -i64::from(*width) && *l < i64::from(from.width())) {
                        Some(low) => from.slice(low, *width),
                        None => LogicVector::filled(*width, Level::Unknown),
                    }
                }
                Op::Unary(op) => eval::unary(*op, &stack.pop().unwrap_or_else(none)),
                Op::Binary { op, signed, unknowns } => {
                    let (b, a) = (stack.pop().unwrap_or_else(none), stack.pop().unwrap_or_else(none));
                    eval::binary(*op, *signed, *unknowns, &a, &b)
                }
                Op::Select(rule) => {
                    let (o, t) = (stack.pop().unwrap_or_else(none), stack.pop().unwrap_or_else(none));
                    eval::select(&stack.pop().unwrap_or_else(none), t, o, *rule)
                }
                Op::Lazy(arms, rule) => {
                    let condition = stack.pop().unwrap_or_else(none);
                    match condition.get(0).known() {
                        Some(true) => self.evaluate(&arms.0, process)?,
                        Some(false) => self.evaluate(&arms.1, process)?,
                        None => {
                            let then = self.evaluate(&arms.0, process)?;
                            eval::select(&condition, then, self.evaluate(&arms.1, process)?, *rule)
                        }
                    }
                }
                Op::Concat(n) => {
                    let parts = stack.split_off(stack.len().saturating_sub(*n));
                    LogicVector::concat(&parts)
                }
                Op::Resize(width, signed) => stack.pop().unwrap_or_else(none).resized(*width, *signed),
                Op::Checked(check) => self.checked(process, check, stack.pop().unwrap_or_else(none))?,
                Op::Call(subprogram, n, width) => {
                    let values = stack.split_off(stack.len().saturating_sub(*n));
                    self.function(process, *subprogram, values)?.resized(*width, false)
                }
                Op::System(function, width) => self.system(*function, *width),
                Op::Real(op, n, width) => {
                    let operands = stack.split_off(stack.len().saturating_sub(*n));
                    design::real_value(*op, &operands, *width)
                }
                Op::Text(op, n, width) => {
                    let operands = stack.split_off(stack.len().saturating_sub(*n));
                    text::value(*op, &operands, *width)
                }
                Op::Scan(reading) => {
                    let from = if matches!(reading.source, ScanSource::Line(_)) { None } else { stack.pop() };
                    self.count_read(process, reading, from.as_ref())
                }
                Op::Format(parts, width) => self.format(process, parts, *width)?,
            };
            stack.push(value);
        }
        let result = stack.pop();
        stack.clear();
        self.operands = stack;
        result
    }

    /// A value that is looked at; `None` when the simulation ends with it.
    pub(crate) fn checked(&mut self, process: usize, check: &Check, value: LogicVector) -> Option<LogicVector> {
        if self.evaluate(&check.condition, process)?.get(0).known() == Some(true) {
            return Some(value);
        }
        // A warning is said once for each place, however often it is computed there.
        let is_new = check.severity > 1 || self.warned.insert(check.span);
        if is_new && !self.say_failure(process, &check.parts, check.severity, check.span) {
            return None;
        }
        match &check.otherwise {
            Some(otherwise) => self.evaluate(otherwise, process),
            None => Some(value),
        }
    }

    pub(crate) fn system(&mut self, function: SystemFunction, width: u32) -> LogicVector {
        let bit = |b: bool| LogicVector::from_u64(1, u64::from(b));
        match function {
            SystemFunction::Time(unit) => {
                let unit = unit.max(1);
                LogicVector::from_u64(width, self.time / unit + u64::from(self.time % unit * 2 >= unit && unit > 1))
            }
            SystemFunction::Random => LogicVector::from_u64(width, u64::from(self.random().cast_unsigned())),
            SystemFunction::Changed(s) => bit(self.signals[s.index()].changed == self.instant),
            SystemFunction::Reached(s, at, to) => {
                let state = &self.signals[s.index()];
                let level = if to { Level::One } else { Level::Zero };
                bit(state.changed == self.instant && state.value.get(at) == level)
            }
            SystemFunction::LastValue(s) => self.signals[s.index()].last.clone(),
            SystemFunction::Active(s) => bit(self.signals[s.index()].active == self.instant),
            SystemFunction::SinceChange(s) => self.since(self.signals[s.index()].changed_at),
            SystemFunction::SinceActive(s) => self.since(self.signals[s.index()].active_at),
            SystemFunction::LineLength(line) => {
                let left = self.lines.get(line as usize).map_or(0, design::Reader::left);
                LogicVector::from_u64(width, left as u64)
            }
            SystemFunction::Seeded(storage) => self.seeded(storage, width),
            SystemFunction::Rising(s, at) | SystemFunction::Falling(s, at) => {
                let state = &self.signals[s.index()];
                let to = matches!(function, SystemFunction::Rising(..));
                let (was, is) = (state.last.get(at).known(), state.value.get(at).known());
                bit(state.changed == self.instant && was == Some(!to) && is == Some(to))
            }
        }
    }

    /// The time since something happened; the longest time when it never did.
    pub(crate) fn since(&self, at: Option<u64>) -> LogicVector {
        LogicVector::from_u64(64, at.map_or(i64::MAX.cast_unsigned(), |at| self.time.saturating_sub(at)))
    }

    pub(crate) fn random(&mut self) -> i32 {
        let (seed, number) = next_random(self.seed);
        self.seed = seed;
        number
    }

    /// The next number of a seed that the source keeps; unknown bits of the seed count 0.
    pub(crate) fn seeded(&mut self, storage: Storage, width: u32) -> LogicVector {
        let held = match storage {
            Storage::Signal(s) => self.signals[s.index()].value.clone(),
            Storage::Variable(v) => self.variables[v.index()].clone(),
        };
        let known = held.map(|level| Level::from(level.known() == Some(true))).resized(32, true);
        let (seed, number) = next_random(known.to_u64().unwrap_or(0) as u32 as i32);
        let value = LogicVector::from_u64(32, u64::from(seed.cast_unsigned())).resized(held.width(), true);
        let process = self.running.unwrap_or(0);
        self.apply(&Update { storage, low: 0, value, process }, true);
        LogicVector::from_u64(width, u64::from(number.cast_unsigned()))
    }
}

/// The generator of IEEE 1364-2005 17.9.3 over the whole range: the seed after it and the number.
fn next_random(seed: i32) -> (i32, i32) {
    let seed = if seed == 0 { 259_341_593 } else { seed };
    let seed = seed.wrapping_mul(69_069).wrapping_add(1);
    let bits = (seed.cast_unsigned() >> 9) | 0x3f80_0000;
    let small = f64::from(f32::from_bits(bits));
    let spread = small + small * 0.000_000_119_209_289_550_781_25;
    let (low, high) = (f64::from(i32::MIN), f64::from(i32::MAX));
    let uniform = (high - low) * (spread - 1.0) + low;
    let scaled = (uniform + 2_147_483_648.0) / 4_294_967_295.0 * 4_294_967_296.0 - 2_147_483_648.0;
    let whole = if scaled >= 0.0 { scaled } else { scaled - 1.0 };
    (seed, whole as i64 as i32)
}
