//! Branches and loops: every way is run, and what they assign is joined by their conditions.

use super::super::diagnostics as say;
use super::super::word::{Bit, to_constant};
use super::{Alternative, Cell, Executor, Frame, Halt, Key, Leaving, Outcome};
use crate::expr::BinaryOp;
use crate::netlist::Lit;
use crate::process::{CaseMatch, LoopKind, Stmt, StmtKind};
use base::Span;
use std::collections::{BTreeMap, BTreeSet};

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
        let mut turns = match kind {
            LoopKind::Repeat(count) => {
                let word = self.expr(*count)?;
                match to_constant(&word).and_then(|c| c.to_i64()) {
                    Some(n) => Some(n.max(0)),
                    None => return self.endless(stmt.span),
                }
            }
            _ => None,
        };
        for turn in 0u32.. {
            self.budget.spend(1)?;
            if turn > 100_000 {
                return self.endless(stmt.span);
            }
            match (kind, &mut turns) {
                (_, Some(0)) => break,
                (_, Some(n)) => *n -= 1,
                (LoopKind::While(condition), None) => {
                    let c = self.expr(*condition)?[0];
                    match self.net.taken(c) {
                        Lit::FALSE => break,
                        Lit::TRUE => {}
                        _ => return self.endless(stmt.span),
                    }
                }
                (_, None) => {}
            }
            self.statements(body)?;
            for how in [Leaving::Next(None), Leaving::Next(label.clone())] {
                self.leaving.remove(&how);
            }
            if self.away() == Lit::TRUE {
                break;
            }
            self.statements_always(step)?;
        }
        for how in [Leaving::Exit(None), Leaving::Exit(label.clone())] {
            self.leaving.remove(&how);
        }
        Ok(())
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
