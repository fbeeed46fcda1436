//! Runs a process symbolically: statements become and-inverter logic over the levels of the signals it reads.

mod branches;
mod calls;
mod expressions;

use super::diagnostics as say;
use super::word::{Bit, places};
use crate::expr::ExprKind;
use crate::ids::{ExprId, SubprogramId};
use crate::model::{Design, SignalKind};
use crate::netlist::{Lit, Netlist};
use crate::process::{AssignMode, Stmt, StmtKind, Storage, Target, WaitKind};
use base::{Budget, Diagnostic, Exhausted, Id, Span};
use rustc_hash::FxHashMap as HashMap;
use std::collections::{BTreeMap, BTreeSet};

/// A bit of storage: signals first, then variables, each from its least significant bit.
pub(super) type Slot = u32;

/// Where each signal and variable has its first slot.
pub(super) struct Slots {
    signals: Vec<Slot>,
    variables: Vec<Slot>,
    pub(super) signal_bits: u32,
    all: u32,
    /// Expressions that call a function, found when first asked for.
    calling: std::cell::OnceCell<Vec<bool>>,
}

impl Slots {
    pub(super) fn new(design: &Design, budget: &mut Budget) -> Result<Self, Exhausted> {
        let mut next = 0u32;
        let mut place = |width: u32, budget: &mut Budget| {
            budget.spend_bits(u64::from(width))?;
            let at = next;
            next = next.saturating_add(width);
            Ok(at)
        };
        let signals =
            design.signals.ids().map(|s| place(design.signal_width(s), budget)).collect::<Result<Vec<_>, _>>()?;
        let variables = design
            .variables
            .iter()
            .map(|(_, v)| place(design.type_width(v.ty), budget))
            .collect::<Result<Vec<_>, _>>()?;
        let signal_bits = variables.first().copied().unwrap_or(next);
        Ok(Self { signals, variables, signal_bits, all: next, calling: std::cell::OnceCell::new() })
    }

    /// Does the expression call a function?
    fn calls(&self, design: &Design, root: ExprId) -> bool {
        let calling = self.calling.get_or_init(|| {
            let mut calling: Vec<bool> = Vec::with_capacity(design.exprs.len());
            // Operands stand before what is made of them.
            for (_, expr) in design.exprs.iter() {
                let own = matches!(expr.kind, ExprKind::Call { .. });
                let any = expr.kind.operands().iter().any(|o| calling.get(o.index()) == Some(&true));
                calling.push(own || any);
            }
            calling
        });
        calling.get(root.index()) == Some(&true)
    }

    /// How many bits there are.
    pub(super) fn count(&self) -> usize {
        self.all as usize
    }

    pub(super) fn of(&self, storage: Storage) -> Slot {
        match storage {
            Storage::Signal(s) => self.signals[s.index()],
            Storage::Variable(v) => self.variables[v.index()],
        }
    }
}

/// The value of a slot so far, and where this run has not assigned it yet.
#[derive(Clone, Copy, Debug)]
pub(super) struct Cell {
    pub(super) bit: Bit,
    pub(super) hold: Lit,
}

/// The state of a slot: as blocking assignments left it, and what is scheduled for when the process waits.
type Key = (Slot, AssignKey);

#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub(super) enum AssignKey {
    Now,
    Later,
}

/// Changes of one branch over the frames below it.
#[derive(Default)]
struct Frame {
    cells: BTreeMap<Key, Cell>,
}

/// One of several statement lists, and where it is the one that runs.
struct Alternative<'s> {
    hit: Lit,
    body: &'s [Stmt],
    span: Span,
}

/// What a statement list leaves behind.
struct Outcome {
    cells: BTreeMap<Key, Cell>,
    leaving: BTreeMap<Leaving, Lit>,
}

/// Why execution stops early.
pub(super) enum Halt {
    /// A budget ran out.
    Budget(Exhausted),
    /// A fault was reported.
    Reported,
}

impl From<Exhausted> for Halt {
    fn from(e: Exhausted) -> Self {
        Halt::Budget(e)
    }
}

/// Jumps that are pending: where execution has left the statement list, by what it is leaving.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Leaving {
    Exit(Option<String>),
    Next(Option<String>),
    Return,
}

pub(super) struct Executor<'a> {
    pub(super) design: &'a Design,
    pub(super) net: &'a mut Netlist,
    pub(super) budget: &'a mut Budget,
    pub(super) slots: &'a Slots,
    pub(super) diagnostics: &'a mut Vec<Diagnostic>,
    /// Rails of signal bits read: slot → its three inputs in the netlist.
    pub(super) reads: &'a mut SignalReads,
    frames: Vec<Frame>,
    /// Subprograms at work, the outermost first.
    calls: Vec<SubprogramId>,
    /// Where jumps have been taken and are not yet back.
    leaving: BTreeMap<Leaving, Lit>,
    /// For each slot the statement that left it unassigned on some path.
    forgetting: HashMap<Slot, Span>,
    /// Signals read before this run assigned them.
    pub(super) read_slots: BTreeSet<Slot>,
    /// What a test for a clock edge gives in this run.
    edge: bool,
    /// Variables keep their values from one run to the next, as registers do.
    lasting: bool,
    /// A stretch of time within the block is passed over: hardware has delays of its own.
    passes_delays: bool,
    /// The clock edges that were tested.
    pub(super) clocks: BTreeSet<Clock>,
    /// A weak level that was met, `'H'` or `'L'` of VHDL.
    weak: Option<Span>,
}

/// A bit of a signal and the edge that is waited for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Clock {
    pub(super) slot: Slot,
    pub(super) rising: bool,
}

/// What a run leaves behind.
pub(super) struct Left {
    /// For each slot its cell, and the branch that forgot it.
    pub(super) cells: Vec<(Slot, Cell, Option<Span>)>,
    /// Clock edges that were tested.
    pub(super) clocks: BTreeSet<Clock>,
    /// Where a weak level stands.
    pub(super) weak: Option<Span>,
}

/// The netlist inputs that stand for levels of signals until drivers are known.
#[derive(Default)]
pub(super) struct SignalReads {
    of_slot: HashMap<Slot, Bit>,
    /// For each netlist input: the slot and the rail (0 value, 1 unknown, 2 floating).
    pub(super) inputs: Vec<(Slot, u8)>,
}

impl SignalReads {
    pub(super) fn bit(&mut self, net: &mut Netlist, slot: Slot) -> Bit {
        *self.of_slot.entry(slot).or_insert_with(|| {
            let mut rail = |r: u8| {
                self.inputs.push((slot, r));
                net.add_input()
            };
            Bit { value: rail(0), unknown: rail(1), floating: rail(2) }
        })
    }
}

/// Most nodes of a netlist: about 1 GiB with all that is kept of them.
const MOST_NODES: u64 = 8_000_000;

impl<'a> Executor<'a> {
    pub(super) fn new(
        design: &'a Design,
        net: &'a mut Netlist,
        budget: &'a mut Budget,
        slots: &'a Slots,
        diagnostics: &'a mut Vec<Diagnostic>,
        reads: &'a mut SignalReads,
    ) -> Self {
        Self {
            design,
            net,
            budget,
            slots,
            diagnostics,
            reads,
            frames: vec![Frame::default()],
            calls: Vec::new(),
            leaving: BTreeMap::new(),
            forgetting: HashMap::default(),
            read_slots: BTreeSet::new(),
            edge: true,
            lasting: false,
            passes_delays: false,
            clocks: BTreeSet::new(),
            weak: None,
        }
    }

    /// The same for a block of registers: variables keep their values from one run to the next, and a test for a clock
    /// edge gives `edge`.
    pub(super) fn clocked(mut self, edge: bool) -> Self {
        self.edge = edge;
        self.lasting = true;
        self.passes_delays = true;
        self
    }

    /// The same for a block that runs again and again.
    pub(super) fn passing_delays(mut self, passes: bool) -> Self {
        self.passes_delays = passes;
        self
    }

    /// Runs the whole process and says what it leaves in each slot: of signals all that it assigns, of variables those
    /// that carry a value from one run to the next.
    pub(super) fn run(mut self, body: &[Stmt]) -> Result<Left, Halt> {
        self.statements(body)?;
        let cells = self.frames.pop().map(|f| f.cells).unwrap_or_default();
        let mut last: BTreeMap<Slot, Cell> = BTreeMap::new();
        for ((slot, when), cell) in cells {
            if slot >= self.slots.signal_bits && !self.read_slots.contains(&slot) {
                continue;
            }
            match (when, last.get(&slot)) {
                (AssignKey::Later, Some(now)) => {
                    let bit = self.net.choose(cell.hold, now.bit, cell.bit);
                    let hold = self.net.and(cell.hold, now.hold);
                    last.insert(slot, Cell { bit, hold });
                }
                _ => {
                    last.insert(slot, cell);
                }
            }
        }
        let cells = last.into_iter().map(|(slot, cell)| (slot, cell, self.forgetting.get(&slot).copied())).collect();
        Ok(Left { cells, clocks: self.clocks, weak: self.weak })
    }

    fn cell(&self, key: Key) -> Option<Cell> {
        self.frames.iter().rev().find_map(|f| f.cells.get(&key)).copied()
    }

    fn set(&mut self, key: Key, cell: Cell) {
        if let Some(frame) = self.frames.last_mut() {
            frame.cells.insert(key, cell);
        }
    }

    fn load(&mut self, slot: Slot) -> Bit {
        match self.cell((slot, AssignKey::Now)) {
            Some(cell) if cell.hold == Lit::FALSE => cell.bit,
            Some(cell) => {
                let old = self.old(slot);
                self.net.choose(cell.hold, old, cell.bit)
            }
            None => self.old(slot),
        }
    }

    /// The level a slot had before this run.
    fn old(&mut self, slot: Slot) -> Bit {
        if slot >= self.slots.signal_bits && !self.lasting {
            return Bit::X;
        }
        self.read_slots.insert(slot);
        self.reads.bit(self.net, slot)
    }

    // ---- statements ----

    fn statements(&mut self, list: &[Stmt]) -> Result<(), Halt> {
        self.budget.enter()?;
        let result = list.iter().try_for_each(|stmt| {
            let away = self.away();
            if away == Lit::TRUE {
                return Ok(());
            }
            if away == Lit::FALSE {
                return self.statement(stmt);
            }
            // Some paths have left: the rest happens on the others only.
            let rest = Alternative { hit: !away, body: std::slice::from_ref(stmt), span: stmt.span };
            self.alternatives(vec![rest], None, stmt.span)
        });
        self.budget.leave();
        result
    }

    fn away(&mut self) -> Lit {
        let jumps: Vec<Lit> = self.leaving.values().copied().collect();
        self.net.any(jumps)
    }

    fn statement(&mut self, stmt: &Stmt) -> Result<(), Halt> {
        self.budget.spend(1)?;
        match &stmt.kind {
            StmtKind::Assign { targets, value, mode, delay } => {
                if delay.is_some() {
                    self.diagnostics.push(say::delay_ignored(stmt.span));
                }
                let value = self.expr(*value)?;
                self.assign(targets, &value, *mode)
            }
            StmtKind::If { .. } => self.if_chain(stmt),
            StmtKind::Case { .. } => self.case(stmt),
            StmtKind::Loop { .. } => self.loop_statement(stmt),
            StmtKind::Block { label, body } => {
                self.statements(body)?;
                // A jump without a name leaves a loop; a block ends only those that name it.
                if label.is_some() {
                    self.leaving.remove(&Leaving::Exit(label.clone()));
                }
                Ok(())
            }
            StmtKind::Exit(label) => self.leave(Leaving::Exit(label.clone())),
            StmtKind::Next(label) => self.leave(Leaving::Next(label.clone())),
            StmtKind::Return => self.leave(Leaving::Return),
            StmtKind::Call { subprogram, arguments } => self.call(*subprogram, arguments).map(|_| ()),
            StmtKind::Print { .. } | StmtKind::Assert { .. } | StmtKind::Control(_) => Ok(()),
            StmtKind::Wait(WaitKind::For(_)) if self.passes_delays => {
                self.diagnostics.push(say::delay_ignored(stmt.span));
                Ok(())
            }
            StmtKind::Wait(_) => {
                self.diagnostics.push(say::simulation_only("Waiting inside a block", stmt.span));
                Err(Halt::Reported)
            }
            StmtKind::Force { .. } => {
                self.diagnostics.push(say::simulation_only("Forcing a level", stmt.span));
                Err(Halt::Reported)
            }
            StmtKind::Finish => {
                self.diagnostics.push(say::simulation_only("Ending the simulation", stmt.span));
                Err(Halt::Reported)
            }
        }
    }

    /// Inside a branch a jump is taken on every path of that branch; `branch` restricts it to its condition.
    fn leave(&mut self, how: Leaving) -> Result<(), Halt> {
        self.leaving.insert(how, Lit::TRUE);
        Ok(())
    }

    fn assign(&mut self, targets: &[Target], value: &[Bit], mode: AssignMode) -> Result<(), Halt> {
        let when = match mode {
            AssignMode::Blocking => AssignKey::Now,
            AssignMode::NonBlocking => AssignKey::Later,
        };
        let mut at = 0usize;
        for target in targets.iter().rev() {
            let part: Vec<Bit> = value[at..at + target.width as usize].to_vec();
            at += target.width as usize;
            let first = self.slots.of(target.storage);
            let Some((index, stride)) = target.element else {
                for (i, bit) in part.iter().enumerate() {
                    let slot = first + target.low + i as u32;
                    self.set((slot, when), Cell { bit: *bit, hold: Lit::FALSE });
                }
                continue;
            };
            let index = self.expr(index)?;
            let unknown = self.net.any_unknown(&[&index]);
            let total = match target.storage {
                Storage::Signal(s) => self.design.signal_width(s),
                Storage::Variable(v) => self.design.type_width(self.design.variables[v].ty),
            };
            let reached = places(total.saturating_sub(target.low) as usize, stride as usize, part.len());
            self.budget.spend(reached.clone().count() as u64 * u64::from(target.width) * 4)?;
            for k in reached {
                let hit = self.net.index_is(&index, k);
                let hit = self.net.and(hit, !unknown);
                if hit == Lit::FALSE {
                    continue;
                }
                for (i, bit) in part.iter().enumerate() {
                    let Ok(above) = u32::try_from(k * i64::from(stride) + i as i64) else { continue };
                    let offset = target.low + above;
                    if offset >= total {
                        break;
                    }
                    let key = (first + offset, when);
                    let before = self.cell(key).unwrap_or(Cell { bit: Bit::X, hold: Lit::TRUE });
                    let bit = self.net.choose(hit, *bit, before.bit);
                    let hold = self.net.and(before.hold, !hit);
                    if hold != Lit::FALSE {
                        self.forgetting.insert(first + offset, target.span);
                    }
                    self.set(key, Cell { bit, hold });
                }
            }
        }
        Ok(())
    }
}

/// True for signals that keep what was assigned (as opposed to nets).
pub(super) fn keeps(design: &Design, signal: crate::ids::SignalId) -> bool {
    design.signals[signal].kind == SignalKind::Variable
}
