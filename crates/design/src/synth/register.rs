//! A register on the way into the netlist.

use super::exec::Slot;
use super::word::Bit;
use crate::netlist::Lit;
use base::Span;

/// A register while its logic still stands over the levels of signals.
pub(super) struct LocalRegister {
    pub(super) slot: Slot,
    pub(super) clock: Bit,
    pub(super) rising: bool,
    pub(super) next: Bit,
    pub(super) controls: Vec<(Lit, Bit)>,
    pub(super) initial: Option<bool>,
    pub(super) span: Span,
}
