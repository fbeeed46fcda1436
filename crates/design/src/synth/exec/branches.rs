//! Branches and loops: every way is run, and what they assign is joined by their conditions.

use super::super::diagnostics as say;
use super::super::word::{Bit, to_constant};
use super::{Alternative, AssignKey, Cell, Executor, Frame, Halt, Key, Leaving, Outcome, Slot};
use crate::expr::BinaryOp;
use crate::netlist::Lit;
use crate::process::{CaseMatch, LoopKind, Stmt, StmtKind};
use base::Span;
use std::collections::{BTreeMap, BTreeSet};

/// Turns of a loop whose end depends on levels.
const MOST_OPEN_TURNS: u32 = 300;
/// Nodes up to which it is looked whether any path still comes to a turn.
const MOST_LOOKED_THROUGH: u64 = 20_000;

impl Executor<'_> {
    /// `if … else if … else`, taken as one list of alternatives so that long chains don't nest.
    pub(super) fn if_chain(&mut self, stmt: &Stmt) -> Result<(), Halt> {
        let mut arms = Vec::new();
        let mut at = stmt;
        let default = loop {
            let StmtKind::If { condition, then, otherwise } = &at.kind else { return Ok(()) };
            let c = self.expr(*condition)?.first().copied().unwrap_or(Bit::X);
            let hit = self.net.taken(c);
            arms.push(Alternative { hit, body: then, span: at.span });
            match otherwise.as_deref() {
                Some([next]) if matches!(next.kind, StmtKind::If { .. }) && hit != Lit::TRUE => at = next,
                other => break other,
            }
        };
        self.alternatives(arms, default, at.span)
    }

    pub(super) fn case(&mut self, stmt: &Stmt) -> Result<(), Halt> {
        let StmtKind::Case { matching, subject, arms, default } = &stmt.kind else { return Ok(()) };
        let word = self.expr(*subject)?;
        let mut list = Vec::with_capacity(arms.len());
        let mut seen: BTreeSet<u64> = BTreeSet::new();
        for arm in arms {
            let mut hit = Lit::FALSE;
            for choice in &arm.choices {
                let choice = self.expr(*choice)?;
                if let Some(value) = to_constant(&choice).and_then(|c| c.to_u64()) {
                    seen.insert(value);
                }
                self.net.set_origin(Some(arm.span));
                let same = self.matches(*matching, &word, &choice);
                hit = self.net.or(hit, same);
            }
            list.push(Alternative { hit, body: &arm.body, span: arm.span });
        }
        // Every value of a known subject has an arm: then the last arm is what remains, and nothing is forgotten.
        let complete = word.len() < 20 && seen.len() as u64 == 1u64 << word.len();
        if complete
            && default.is_none()
            && self.net.any_unknown(&[&word]) == Lit::FALSE
            && let Some(last) = list.last_mut()
        {
            last.hit = Lit::TRUE;
        }
        self.alternatives(list, default.as_deref(), stmt.span)
    }

    /// Runs alternatives, the first one that hits counting, and joins what they leave. When none hits, `default` runs;
    /// `whole` is the place to blame when that leaves something unassigned.
    pub(super) fn alternatives(
        &mut self,
        arms: Vec<Alternative<'_>>,
        default: Option<&[Stmt]>,
        whole: Span,
    ) -> Result<(), Halt> {
        let mut results = Vec::with_capacity(arms.len());
        let mut rest = default.unwrap_or(&[]);
        let mut rest_span = whole;
        for arm in arms {
            match arm.hit {
                Lit::FALSE => {}
                Lit::TRUE => {
                    (rest, rest_span) = (arm.body, arm.span);
                    break;
                }
                hit => results.push((hit, arm.span, self.alternative(arm.body)?)),
            }
        }
        if results.is_empty() {
            return self.statements(rest);
        }
        let mut sum = self.alternative(rest)?;
        for (hit, span, arm) in results.into_iter().rev() {
            self.net.set_origin(Some(span));
            sum.cells = self.join(hit, &arm.cells, &sum.cells, (span, rest_span))?;
            let hows: BTreeSet<Leaving> = arm.leaving.keys().chain(sum.leaving.keys()).cloned().collect();
            for how in hows {
                let lit = |map: &BTreeMap<Leaving, Lit>| map.get(&how).copied().unwrap_or(Lit::FALSE);
                let joined = self.net.mux(hit, lit(&arm.leaving), lit(&sum.leaving));
                sum.leaving.insert(how, joined);
            }
        }
        for (key, cell) in sum.cells {
            self.set(key, cell);
        }
        for (how, lit) in sum.leaving {
            let before = self.leaving.get(&how).copied().unwrap_or(Lit::FALSE);
            let either = self.net.or(before, lit);
            self.leaving.insert(how, either);
        }
        Ok(())
    }

    /// What a list leaves when it runs from the state as it is now.
    fn alternative(&mut self, body: &[Stmt]) -> Result<Outcome, Halt> {
        let before = std::mem::take(&mut self.leaving);
        self.frames.push(Frame::default());
        let done = self.statements(body);
        let cells = self.frames.pop().map(|f| f.cells).unwrap_or_default();
        let leaving = std::mem::replace(&mut self.leaving, before);
        done.map(|()| Outcome { cells, leaving })
    }

    fn join(
        &mut self,
        taken: Lit,
        one: &BTreeMap<Key, Cell>,
        zero: &BTreeMap<Key, Cell>,
        (then_span, other_span): (Span, Span),
    ) -> Result<BTreeMap<Key, Cell>, Halt> {
        let keys: BTreeSet<Key> = one.keys().chain(zero.keys()).copied().collect();
        self.budget.spend(keys.len() as u64 * 4)?;
        let mut joined = BTreeMap::new();
        for key in keys {
            let below = self.cell(key).unwrap_or(Cell { bit: Bit::X, hold: Lit::TRUE });
            let (t, o) = (one.get(&key).copied().unwrap_or(below), zero.get(&key).copied().unwrap_or(below));
            // Where a side holds, its bit means nothing: let the other side's stand, so that less logic is made.
            let bit = match (t.hold, o.hold) {
                (Lit::TRUE, _) => o.bit,
                (_, Lit::TRUE) => t.bit,
                _ => self.net.choose(taken, t.bit, o.bit),
            };
            let hold = self.net.mux(taken, t.hold, o.hold);
            if hold != Lit::FALSE {
                let span = if t.hold == Lit::FALSE { other_span } else { then_span };
                self.forgetting.entry(key.0).or_insert(span);
            }
            joined.insert(key, Cell { bit, hold });
        }
        Ok(joined)
    }

    fn matches(&mut self, matching: CaseMatch, subject: &[Bit], choice: &[Bit]) -> Lit {
        let net = &mut *self.net;
        let mut same = Lit::TRUE;
        for (s, c) in subject.iter().zip(choice) {
            let ignored = match matching {
                CaseMatch::Exact => Lit::FALSE,
                CaseMatch::HighZ => net.or(s.floating, c.floating),
                CaseMatch::Unknown => net.any([s.floating, c.floating, s.unknown, c.unknown]),
                CaseMatch::Dash => c.unknown,
            };
            if ignored == Lit::TRUE {
                continue;
            }
            let exact = net.binary(
                BinaryOp::SameLevels,
                false,
                crate::expr::Unknowns::Propagate,
                std::slice::from_ref(s),
                std::slice::from_ref(c),
            )[0]
            .value;
            let bit = net.or(exact, ignored);
            same = net.and(same, bit);
        }
        same
    }

    pub(super) fn loop_statement(&mut self, stmt: &Stmt) -> Result<(), Halt> {
        let StmtKind::Loop { kind, body, step, label } = &stmt.kind else { return Ok(()) };
        let count = match kind {
            LoopKind::Repeat(count) => Some(self.expr(*count)?),
            _ => None,
        };
        let stepped = self.stepped(step);
        let mut left = Vec::new();
        let mut open_turns = 0;
        let mut before = Lit::FALSE;
        for turn in 0u64.. {
            self.budget.spend(1)?;
            let goes_on = match (kind, &count) {
                (LoopKind::While(condition), _) => {
                    let c = self.expr(*condition)?[0];
                    self.net.taken(c)
                }
                (_, Some(count)) => self.is_above(count, turn),
                _ => Lit::TRUE,
            };
            match goes_on {
                Lit::FALSE => break,
                Lit::TRUE => {}
                // Where the end depends on levels, each turn is made for those paths that come to it.
                _ => {
                    open_turns += 1;
                    let exit = Stmt { kind: StmtKind::Exit(None), span: stmt.span };
                    let gone = self.away();
                    let more = self.net.and(goes_on, !gone);
                    if self.never(more)? {
                        break;
                    }
                    // Nothing that the loop does changes whether it goes on.
                    if before == more {
                        return self.endless(stmt.span);
                    }
                    before = more;
                    let hit = self.net.and(!goes_on, !gone);
                    let stop = Alternative { hit, body: std::slice::from_ref(&exit), span: stmt.span };
                    self.alternatives(vec![stop], None, stmt.span)?;
                    self.remember(&stepped, &mut left);
                }
            }
            if turn > 66_000 || open_turns > MOST_OPEN_TURNS {
                return self.endless(stmt.span);
            }
            self.statements(body)?;
            for how in [Leaving::Next(None), Leaving::Next(label.clone())] {
                self.leaving.remove(&how);
            }
            let gone = self.away();
            if matches!(kind, LoopKind::Forever) && gone != Lit::FALSE {
                open_turns += 1;
            }
            let is_open = open_turns > 0;
            if gone == Lit::TRUE || (is_open && gone != Lit::FALSE && self.never(!gone)?) {
                break;
            }
            self.remember(&stepped, &mut left);
            self.statements_always(step)?;
        }
        // Who left in a turn keeps what the step would have changed as it was then.
        for (gone, values) in left.into_iter().rev() {
            for ((slot, value), now) in values.into_iter().zip(self.values(&stepped)) {
                let bit = self.net.choose(gone, value, now.1);
                self.set((slot, AssignKey::Now), Cell { bit, hold: Lit::FALSE });
            }
        }
        for how in [Leaving::Exit(None), Leaving::Exit(label.clone())] {
            self.leaving.remove(&how);
        }
        Ok(())
    }

    /// Is a literal 0 for all known levels, as far as can be told at once?
    fn never(&mut self, lit: Lit) -> Result<bool, Halt> {
        if lit.is_const() {
            return Ok(lit == Lit::FALSE);
        }
        // A turn whose end takes long to see costs less than seeing it.
        let size = self.net.small_cone(lit, |_| false).len() as u64;
        self.budget.spend(4 * size)?;
        if size > MOST_LOOKED_THROUGH {
            return Ok(false);
        }
        let inputs = &self.reads.inputs;
        let known = self.net.with_zeros(lit, |k| inputs.get(k as usize).is_some_and(|(_, rail)| *rail != 0));
        self.budget.spend(64 * size)?;
        Ok(self.net.is_never_true(known) == Some(true))
    }

    /// The slots that the step of a loop assigns.
    fn stepped(&self, step: &[Stmt]) -> Vec<Slot> {
        let targets = step.iter().flat_map(|stmt| match &stmt.kind {
            StmtKind::Assign { targets, .. } => targets.as_slice(),
            _ => &[],
        });
        let slots = targets.flat_map(|t| {
            let first = self.slots.of(t.storage) + t.low;
            first..first + t.width
        });
        slots.collect()
    }

    fn values(&mut self, slots: &[Slot]) -> Vec<(Slot, Bit)> {
        slots.iter().map(|slot| (*slot, self.load(*slot))).collect()
    }

    /// Notes what the step's variables hold where paths have left by now.
    fn remember(&mut self, stepped: &[Slot], left: &mut Vec<(Lit, Vec<(Slot, Bit)>)>) {
        let gone = self.away();
        if gone != Lit::FALSE && left.last().is_none_or(|(before, _)| *before != gone) {
            let values = self.values(stepped);
            left.push((gone, values));
        }
    }

    /// Is a number above a constant? Where it is unknown it is not.
    fn is_above(&mut self, number: &[Bit], constant: u64) -> Lit {
        let known = !self.net.any_unknown(&[number]);
        let mut above = Lit::FALSE;
        for (k, bit) in number.iter().enumerate() {
            let one = k < 64 && constant >> k & 1 == 1;
            above = if one { self.net.and(bit.value, above) } else { self.net.or(bit.value, above) };
        }
        if number.len() < 64 && constant >> number.len() != 0 {
            return Lit::FALSE;
        }
        self.net.and(known, above)
    }

    /// The step of a loop runs whether or not a path has left, so that its variable stays a constant.
    pub(super) fn statements_always(&mut self, list: &[Stmt]) -> Result<(), Halt> {
        list.iter().try_for_each(|stmt| self.statement(stmt))
    }

    pub(super) fn endless(&mut self, span: Span) -> Result<(), Halt> {
        self.diagnostics.push(say::endless_loop(span));
        Err(Halt::Reported)
    }
}
