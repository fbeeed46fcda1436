//! Where each process stands, and what each bit was assigned last.

use crate::code::{Block, Code, EventCode, Place};
use base::Span;
use design::{ExprId, ScopeId};
use logic::LogicVector;
use std::collections::BTreeMap;
use std::sync::Arc;

/// A subprogram that was called as a statement and may wait inside.
pub(crate) struct Frame {
    pub(crate) block: Arc<Block>,
    pub(crate) pc: usize,
    pub(crate) subprogram: usize,
    /// Parameters to be written back when it ends.
    pub(crate) outs: Vec<(usize, Place)>,
    /// Its variables as they were, when it was at work already.
    pub(crate) saved: Option<Vec<LogicVector>>,
    pub(crate) counts: usize,
}

/// Where a process stands.
pub(crate) struct ProcessState {
    pub(crate) scope: ScopeId,
    pub(crate) span: Span,
    pub(crate) pc: usize,
    pub(crate) frames: Vec<Frame>,
    pub(crate) counts: Vec<u64>,
    /// Number of the wait at work, so that old wakes are known as such.
    pub(crate) waits: u64,
    pub(crate) is_waiting: bool,
    /// What has to have happened when it wakes.
    pub(crate) resume: Resume,
    pub(crate) done: bool,
}

/// An event with the value it had before.
pub(crate) type Watched = (EventCode, LogicVector);

pub(crate) enum Resume {
    Go,
    /// One of these events, with their values before.
    Events(Vec<Watched>),
    /// A change with a condition; the timeout ends it.
    Change {
        on: Vec<Watched>,
        until: Option<Code>,
        deadline: Option<u64>,
    },
    Until(Code, Vec<usize>),
}

impl ProcessState {
    pub(crate) fn new(scope: ScopeId, span: Span) -> Self {
        Self {
            scope,
            span,
            pc: 0,
            frames: Vec::new(),
            counts: Vec::new(),
            waits: 0,
            is_waiting: false,
            resume: Resume::Go,
            done: false,
        }
    }
}

/// An assignment that ran: its process, its value, the bit of the value, and its place.
#[derive(Clone, Copy)]
pub(crate) struct Assigned {
    pub(crate) process: usize,
    pub(crate) value: ExprId,
    pub(crate) bit: u32,
    pub(crate) span: Span,
}

/// The assignment that each bit of a signal had last.
#[derive(Default)]
pub(crate) struct Ran {
    pub(crate) bits: BTreeMap<(usize, u32), Assigned>,
}
