//! From processes to the bit-level netlist: each process becomes logic over the signals it reads, then drivers are
//! joined from the outputs back to the inputs. Blocks that wait for a clock edge become registers.

mod clocked;
mod diagnostics;
mod exec;
mod join;
mod pass;
mod reads;
mod register;
mod word;

use crate::ids::SignalId;
use crate::model::Design;
use crate::netlist::Netlist;
use crate::process::Stmt;
use base::{Budget, Diagnostic};
use diagnostics as say;
use exec::{Executor, SignalReads, Slots};
use join::Join;
use pass::Pass;
use std::collections::BTreeSet;

/// A netlist and what was found on the way.
#[derive(Clone, Debug)]
pub struct Synthesis {
    /// Input and output bits of the top and the logic between them; empty after a finding that stops.
    pub netlist: Netlist,
    /// Latches, loops, drivers and the like.
    pub diagnostics: Vec<Diagnostic>,
}

/// Turns a validated design into its netlist.
pub fn synthesise(design: &Design, budget: &mut Budget) -> Synthesis {
    synthesis_of(design, budget, &Netlist::new(), false)
}

/// The same with what latches hold as part of the state: each becomes a register without a clock, which takes its level
/// while it is open. For designs that are run over time.
pub fn synthesise_with_latches(design: &Design, budget: &mut Budget) -> Synthesis {
    synthesis_of(design, budget, &Netlist::new(), true)
}

/// The same with nodes of different places of the source kept apart, for drawings.
pub fn synthesise_as_written(design: &Design, budget: &mut Budget) -> Synthesis {
    synthesis_of(design, budget, &Netlist::as_written(), false)
}

fn synthesis_of(design: &Design, budget: &mut Budget, empty: &Netlist, holds: bool) -> Synthesis {
    let mut diagnostics = Vec::new();
    let done = synthesise_all(design, budget, &mut diagnostics, (empty, holds));
    // What stands in a unit that is instantiated often is said once.
    let mut told = BTreeSet::new();
    diagnostics.retain(|d| d.span.is_none_or(|s| told.insert((d.code, s, d.message.clone()))));
    Synthesis { netlist: done, diagnostics }
}

fn synthesise_all(
    design: &Design,
    budget: &mut Budget,
    diagnostics: &mut Vec<Diagnostic>,
    (empty, holds): (&Netlist, bool),
) -> Netlist {
    let top = design.scopes[design.top].span;
    let mut joined = || {
        let mut pass = Pass::new(design, budget, empty, holds)?;
        if !pass.run(diagnostics)? {
            return Ok(Netlist::new());
        }
        let mut join = Join::new(&pass);
        join.run(diagnostics)?;
        Ok(join.done)
    };
    match joined() {
        Ok(netlist) if diagnostics.iter().all(|d| !d.stops()) => netlist,
        Ok(_) => Netlist::new(),
        Err(exhausted) => {
            diagnostics.push(say::budget_exhausted(exhausted, top));
            Netlist::new()
        }
    }
}

/// The signals that statements read, what they compute indices of targets from included.
pub fn signals_read(design: &Design, body: &[Stmt]) -> BTreeSet<SignalId> {
    reads::waited_for(design, body)
}

/// The stretch of each signal that a process reads which does nothing but compute one value: what else of a signal changes
/// gives it nothing new. `None` for any other process.
pub fn stretches_read(
    design: &Design,
    process: &crate::process::Process,
) -> Option<std::collections::BTreeMap<SignalId, std::ops::Range<u32>>> {
    reads::stretches(design, process)
}

/// The same, with what the subprograms read that are called.
pub fn signals_read_through(design: &Design, body: &[Stmt]) -> BTreeSet<SignalId> {
    reads::waited_for_through(design, body)
}

/// True when computing an expression may say something or end a simulation: only what is needed is computed then.
pub fn may_talk(design: &Design, root: crate::ids::ExprId) -> bool {
    reads::may_talk(design, root)
}

/// The signals that an expression reads.
pub fn signals_of(design: &Design, root: crate::ids::ExprId) -> BTreeSet<SignalId> {
    reads::of_expr(design, root)
}

/// The value of an expression that reads no signal; functions are run. `None` when it reads a signal, a variable or the
/// simulator, or takes more than the budget.
pub fn evaluate(design: &Design, root: crate::ids::ExprId, budget: &mut Budget) -> Option<logic::LogicVector> {
    if let Some(value) = crate::fold::fold(design, root) {
        return Some(value);
    }
    if !reads::is_closed(design, root) {
        return None;
    }
    // The bits are counted where the storage is made; here only work counts.
    let mut own = budget.clone();
    let slots = Slots::new(design, &mut own).ok()?;
    let (mut net, mut reads, mut diagnostics) = (Netlist::new(), SignalReads::default(), Vec::new());
    let word = Executor::new(design, &mut net, &mut own, &slots, &mut diagnostics, &mut reads).expr(root).ok();
    budget.spend(budget.steps_left().saturating_sub(own.steps_left())).ok()?;
    word::to_constant(&word?)
}
