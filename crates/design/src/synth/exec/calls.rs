//! Calls of subprograms, those of a subprogram within itself among them.

use super::super::word::{Bit, Word};
use super::{AssignKey, Cell, Executor, Halt, Slot};
use crate::ids::{ExprId, SubprogramId, VariableId};
use crate::model::Subprogram;
use crate::netlist::Lit;
use crate::process::{AssignMode, Stmt, StmtKind, Storage, Target};
use std::collections::BTreeSet;

/// Steps that a call of a subprogram within itself takes, beside its statements: such calls double fast.
const OWN_CALL: u64 = 2_000;
/// Steps of a call.
const CALL: u64 = 200;

impl Executor<'_> {
    /// Runs a subprogram; gives the result of a function. Within a call of itself it has variables of its own.
    pub(super) fn call(
        &mut self,
        id: SubprogramId,
        arguments: &[(ExprId, Option<Target>)],
    ) -> Result<Option<Word>, Halt> {
        let design = self.design;
        let subprogram = &design.subprograms[id];
        self.budget.enter()?;
        self.budget.spend(CALL)?;
        let mut values = Vec::with_capacity(arguments.len());
        for (argument, _) in arguments {
            values.push(self.expr(*argument)?);
        }
        let kept = if self.calls.contains(&id) { self.cells_of(subprogram)? } else { Vec::new() };
        for ((variable, _), value) in subprogram.parameters.iter().zip(&values) {
            let first = self.slots.of(Storage::Variable(*variable));
            for (i, bit) in value.iter().enumerate() {
                self.set((first + i as u32, AssignKey::Now), Cell { bit: *bit, hold: Lit::FALSE });
            }
        }
        if let Some(result) = subprogram.result {
            let first = self.slots.of(Storage::Variable(result));
            for i in 0..design.type_width(design.variables[result].ty) {
                self.set((first + i, AssignKey::Now), Cell { bit: Bit::X, hold: Lit::FALSE });
            }
        }
        let outer = std::mem::take(&mut self.leaving);
        self.calls.push(id);
        self.statements(&subprogram.body)?;
        self.calls.pop();
        self.leaving = outer;
        let width = |variable| design.type_width(design.variables[variable].ty);
        let result = subprogram.result.map(|r| self.load_all(Storage::Variable(r), width(r)));
        let mut back = Vec::new();
        for ((variable, _), (_, target)) in subprogram.parameters.iter().zip(arguments) {
            if let Some(target) = target {
                back.push((target, self.load_all(Storage::Variable(*variable), target.width)));
            }
        }
        for (slot, cell) in kept {
            self.set((slot, AssignKey::Now), cell);
        }
        for (target, value) in back {
            self.assign(std::slice::from_ref(target), &value, AssignMode::Blocking)?;
        }
        self.budget.leave();
        Ok(result)
    }

    /// What the variables of a subprogram hold.
    fn cells_of(&mut self, subprogram: &Subprogram) -> Result<Vec<(Slot, Cell)>, Halt> {
        self.budget.spend(OWN_CALL)?;
        let mut variables: BTreeSet<VariableId> = subprogram.parameters.iter().map(|(v, _)| *v).collect();
        variables.extend(subprogram.result);
        let mut stack: Vec<&Stmt> = subprogram.body.iter().collect();
        let mut targets: Vec<&Target> = Vec::new();
        while let Some(stmt) = stack.pop() {
            match &stmt.kind {
                StmtKind::Assign { targets: list, .. } => targets.extend(list),
                StmtKind::If { then, otherwise, .. } => stack.extend(then.iter().chain(otherwise.iter().flatten())),
                StmtKind::Case { arms, default, .. } => {
                    stack.extend(arms.iter().flat_map(|a| &a.body).chain(default.iter().flatten()));
                }
                StmtKind::Loop { body, step, .. } => stack.extend(body.iter().chain(step)),
                StmtKind::Block { body, .. } => stack.extend(body),
                StmtKind::Call { arguments, .. } => targets.extend(arguments.iter().filter_map(|(_, t)| t.as_ref())),
                _ => {}
            }
        }
        variables.extend(targets.into_iter().filter_map(|t| match t.storage {
            Storage::Variable(v) => Some(v),
            Storage::Signal(_) => None,
        }));
        let mut kept = Vec::new();
        for variable in variables {
            let first = self.slots.of(Storage::Variable(variable));
            let width = self.design.type_width(self.design.variables[variable].ty);
            self.budget.spend(u64::from(width))?;
            kept.extend((first..first + width).filter_map(|s| Some((s, self.cell((s, AssignKey::Now))?))));
        }
        Ok(kept)
    }
}
