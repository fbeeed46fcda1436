//! Budgets: how much depth, work and memory a pass may use before it must stop with a finding.
//!
//! A budget counts steps, not seconds, so that the same input ends the same way on any machine; a caller that
//! watches a clock cancels through the shared flag.
//!
//! A share is a clone with steps of its own. Whatever a share uses is charged to the question that it belongs to, too, so
//! that shares of shares end, however many of them there are.

use std::fmt;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};

/// What ran out.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Resource {
    /// Nesting: parentheses, statements, instances within instances.
    Depth,
    /// Work done: tokens, elaborated statements, gates simulated.
    Steps,
    /// Bits of vectors and memories elaborated.
    Bits,
    /// The caller asked to stop.
    Cancelled,
    /// Memory: gates, nodes, recorded changes.
    Memory,
    /// Levels go on changing though nothing else does.
    Rest,
}

impl fmt::Display for Resource {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Resource::Depth => "nesting depth",
            Resource::Steps => "amount of work",
            Resource::Bits => "number of bits",
            Resource::Cancelled => "time (the check was cancelled)",
            Resource::Memory => "memory",
            Resource::Rest => "rounds until its levels come to rest",
        })
    }
}

/// A budget ran out; becomes a `Diagnostic` at the place where the pass stood.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Exhausted(pub Resource);

/// What one check may still use. Passed by `&mut` from pass to pass.
#[derive(Clone, Debug)]
pub struct Budget {
    steps: u64,
    bits: u64,
    depth: u32,
    depth_limit: u32,
    cancelled: Option<Arc<AtomicBool>>,
    question: Arc<AtomicU64>,
}

/// Steps of a first pass.
const FIRST: u64 = 300_000_000;
/// Steps that a question may use with all its shares together, as a multiple of those of its first pass. The largest share
/// there is, that of comparing two clocked designs, takes two thirds of it.
const SHARES: u64 = 100;

impl Budget {
    /// The budget of one student's hand-in: ample for any lab exercise, small enough that a hostile file ends
    /// within seconds (200 levels, 300 million steps, 4 million bits).
    pub fn hand_in() -> Self {
        let question = Arc::new(AtomicU64::new(SHARES * FIRST));
        Self { steps: FIRST, bits: 4_000_000, depth: 0, depth_limit: 200, cancelled: None, question }
    }

    /// For work of a known size that belongs to no question, such as minimising a table or trying all levels of a few inputs.
    pub fn of_steps(steps: u64) -> Self {
        let question = Arc::new(AtomicU64::new(steps.max(SHARES * FIRST)));
        Self { question, ..Self::hand_in().with_steps(steps) }
    }

    /// Back to the outermost level, after a fault left some inner ones.
    pub fn reset_depth(&mut self) {
        self.depth = 0;
    }

    /// Steps that may still be used.
    pub fn steps_left(&self) -> u64 {
        self.steps
    }

    /// Work that may use some of the steps: what it uses is charged here as well.
    pub fn share<T>(&mut self, steps: u64, work: impl FnOnce(&mut Budget) -> T) -> T {
        let given = steps.min(self.steps);
        let mut share = self.clone().with_steps(given);
        let done = work(&mut share);
        self.steps -= given - share.steps.min(given);
        done
    }

    /// Steps that the question may still use with all its shares together.
    pub fn question_left(&self) -> u64 {
        self.question.load(Ordering::Relaxed)
    }

    /// The same with another number of steps.
    pub fn with_steps(mut self, steps: u64) -> Self {
        self.steps = steps;
        self
    }

    /// The same with another limit of nesting: passes that don't recurse on the stack can bear more than a parser.
    pub fn with_depth(mut self, levels: u32) -> Self {
        self.depth_limit = levels;
        self
    }

    /// The same, cancelled as soon as `flag` is set.
    pub fn with_cancel(mut self, flag: Arc<AtomicBool>) -> Self {
        self.cancelled = Some(flag);
        self
    }

    /// The flag that cancels it, for work that can't be counted in steps while it runs.
    pub fn cancel_flag(&self) -> Option<Arc<AtomicBool>> {
        self.cancelled.clone()
    }

    /// Uses `n` steps.
    ///
    /// # Errors
    /// [`Resource::Steps`] when fewer are left, [`Resource::Cancelled`] when the caller asked to stop.
    pub fn spend(&mut self, n: u64) -> Result<(), Exhausted> {
        if self.cancelled.as_ref().is_some_and(|flag| flag.load(Ordering::Relaxed)) {
            return Err(Exhausted(Resource::Cancelled));
        }
        // Not one operation: where two threads answer one question, a few steps may go uncounted.
        let question = self.question.load(Ordering::Relaxed).checked_sub(n);
        self.question.store(question.unwrap_or(0), Ordering::Relaxed);
        match (self.steps.checked_sub(n), question) {
            (Some(left), Some(_)) => {
                self.steps = left;
                Ok(())
            }
            _ => {
                self.steps = 0;
                Err(Exhausted(Resource::Steps))
            }
        }
    }

    /// Uses `n` bits of elaborated storage.
    ///
    /// # Errors
    /// [`Resource::Bits`] when fewer are left.
    pub fn spend_bits(&mut self, n: u64) -> Result<(), Exhausted> {
        match self.bits.checked_sub(n) {
            Some(left) => {
                self.bits = left;
                Ok(())
            }
            None => Err(Exhausted(Resource::Bits)),
        }
    }

    /// Goes one level deeper; pair with [`Budget::leave`].
    ///
    /// # Errors
    /// [`Resource::Depth`] at the limit.
    pub fn enter(&mut self) -> Result<(), Exhausted> {
        if self.depth >= self.depth_limit {
            return Err(Exhausted(Resource::Depth));
        }
        self.depth += 1;
        Ok(())
    }

    /// Comes back from [`Budget::enter`].
    pub fn leave(&mut self) {
        self.depth = self.depth.saturating_sub(1);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_budget_ends_in_exhaustion_not_in_wrap_around() {
        let mut budget = Budget::hand_in().with_steps(10);
        assert_eq!(budget.spend(10), Ok(()));
        assert_eq!(budget.spend(1), Err(Exhausted(Resource::Steps)));
        assert_eq!(budget.spend_bits(u64::MAX), Err(Exhausted(Resource::Bits)));
    }

    #[test]
    fn a_share_is_charged_to_what_it_was_taken_from() {
        let mut budget = Budget::hand_in().with_steps(100);
        assert_eq!(budget.share(60, |share| share.spend(50)), Ok(()));
        assert_eq!(budget.steps_left(), 50);
        // No more than there is.
        assert_eq!(budget.share(1_000, |share| share.spend(51)), Err(Exhausted(Resource::Steps)));
        assert_eq!(budget.steps_left(), 0);
    }

    #[test]
    fn shares_of_their_own_end_with_the_question() {
        let whole = Budget::hand_in();
        let first = whole.question_left();
        let mut used = 0;
        // Each asks for as much as the first pass had: some of them are refused in the end.
        let refused = (0..2 * SHARES).filter(|_| {
            let mut share = whole.clone().with_steps(FIRST);
            let done = share.spend(FIRST);
            used += u64::from(done.is_ok()) * FIRST;
            done.is_err()
        });
        assert_eq!(refused.count() as u64, SHARES);
        assert_eq!((used, whole.question_left()), (first, 0));
        // Work that belongs to no question is not touched by it.
        assert_eq!(Budget::of_steps(10).spend(10), Ok(()));
        // Nor is work of a known size that is larger than any question's.
        assert_eq!(Budget::of_steps(2 * first).spend(2 * first), Ok(()));
    }

    #[test]
    fn setting_the_cancel_flag_stops_the_next_step() {
        let flag = Arc::new(AtomicBool::new(false));
        let mut budget = Budget::hand_in().with_cancel(flag.clone());
        assert_eq!(budget.spend(1), Ok(()));
        flag.store(true, Ordering::Relaxed);
        assert_eq!(budget.spend(1), Err(Exhausted(Resource::Cancelled)));
    }
}
