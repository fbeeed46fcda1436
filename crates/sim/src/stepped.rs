//! A simulation that somebody else drives: inputs are set from outside, time goes on by steps, levels are read in between.

use crate::kernel::{End, Kernel, SimOptions};
use base::{Id, Span};
use design::{Design, SignalId};
use logic::LogicVector;

/// A validated design at work. It starts with every process at its beginning, at time 0, before anything ran.
pub struct Stepped<'d> {
    kernel: Kernel<'d>,
}

impl<'d> Stepped<'d> {
    /// A simulation that has not run yet; [`SimOptions::until`] has no meaning here.
    pub fn new(design: &'d Design, options: &SimOptions) -> Self {
        let mut kernel = Kernel::new(design, options);
        kernel.start();
        Self { kernel }
    }

    /// Gives a signal that nothing in the design drives, an input port of its top, a level from now on. Bit 0 of the value is
    /// the port's rightmost; what looks at the port runs with the next [`Stepped::advance`].
    pub fn set(&mut self, input: SignalId, value: LogicVector) {
        self.kernel.change(input.index(), value);
    }

    /// Lets some femtoseconds pass. False when the simulation ended meanwhile, by itself or because a budget ran out.
    pub fn advance(&mut self, femtoseconds: u64) -> bool {
        if self.kernel.end.is_some() {
            return false;
        }
        let until = self.kernel.time.saturating_add(femtoseconds);
        self.kernel.run(Some(until));
        if self.kernel.end == Some(End::Until) {
            self.kernel.end = None;
        }
        if self.kernel.end.is_none() {
            self.kernel.time = until;
        }
        self.kernel.end.is_none()
    }

    /// Lets happen what is left to happen, however late it comes. False when the simulation ended meanwhile, or when it never
    /// came to rest within its budget.
    pub fn settle(&mut self) -> bool {
        if self.kernel.end.is_none() {
            self.kernel.run(None);
        }
        self.kernel.end.is_none()
    }

    /// What a signal holds now.
    pub fn level(&self, signal: SignalId) -> &LogicVector {
        &self.kernel.signals[signal.index()].value
    }

    /// The place that assigned a bit of a signal last, of those in [`SimOptions::wanted`].
    pub fn assigned_at(&mut self, signal: SignalId, bit: u32) -> Option<Span> {
        self.kernel.place_of(signal, bit)
    }

    /// What it wrote so far.
    pub fn output(&self) -> &str {
        &self.kernel.output
    }

    /// Simulated time, in femtoseconds.
    pub fn time(&self) -> u64 {
        self.kernel.time
    }

    /// Did an assertion of severity failure end it?
    pub fn has_failed(&self) -> bool {
        self.kernel.failed[3] > 0
    }
}
