//! What ran: the place of the source that gave a bit the level it has.

use crate::code::{self, Place};
use crate::kernel::Kernel;
use crate::state::Assigned;
use base::{Id, Span};
use design::{ExprId, ExprKind, ProcessId, ProcessKind, SignalId, SignalKind, Storage};

/// Most signals that hand a level on unchanged.
const MOST_COPIES: usize = 100;
/// Most parts of an expression that are looked into.
const MOST_PARTS: usize = 10_000;

impl Kernel<'_> {
    /// Keeps what is being assigned, to bits that are known where they lie.
    pub(crate) fn note_assignment(&mut self, process: usize, places: &[Place], (value, span): (ExprId, Span)) {
        let mut below = 0;
        for place in places.iter().rev() {
            let (from, width) = (below, place.target.width);
            below += width;
            let Storage::Signal(signal) = place.target.storage else { continue };
            let offset = match (&place.index, place.target.element) {
                (Some(code), Some((_, stride))) => {
                    let index = self.evaluate(code, process).and_then(|v| v.to_u64());
                    match index.and_then(|i| u32::try_from(i).ok()?.checked_mul(stride)) {
                        Some(offset) => offset,
                        None => continue,
                    }
                }
                _ => 0,
            };
            let low = place.target.low.saturating_add(offset);
            let total = self.signals[signal.index()].value.width();
            let Some(ran) = &mut self.ran else { return };
            for k in 0..width.min(total.saturating_sub(low)) {
                ran.bits.insert((signal.index(), low + k), Assigned { process, value, bit: from + k, span });
            }
        }
    }

    /// The place that gave a bit its level: behind joins of ports, and behind copies of signals that are no ports, the
    /// place that gave it to the one copied.
    pub(crate) fn place_of(&mut self, signal: SignalId, bit: u32) -> Option<Span> {
        let mut at = (signal.index(), bit);
        let mut place = None;
        for _ in 0..MOST_COPIES {
            let found = self.ran.as_ref()?.bits.get(&at).copied();
            let Some(found) = found else { break };
            let (span, copied) = self.taken(found);
            let is_join = self
                .design
                .processes
                .get(ProcessId::from_index(found.process))
                .is_some_and(|p| p.kind == ProcessKind::PortMap);
            place = if is_join { place.or(Some(span)) } else { Some(span) };
            match copied {
                Some((next, bit)) if is_join || self.is_inner(next) => at = (next, bit),
                _ => break,
            }
            if !is_join && self.ran.as_ref().is_none_or(|r| !r.bits.contains_key(&at)) {
                break;
            }
        }
        place
    }

    /// A signal that is no port of its unit.
    fn is_inner(&self, signal: usize) -> bool {
        let id = SignalId::from_index(signal);
        let scope = self.design.signals[id].scope;
        !self.design.scopes[scope].ports.iter().any(|p| p.signal == id)
            && !matches!(
                self.design.signals[id].kind,
                SignalKind::Net(design::NetKind::Supply0 | design::NetKind::Supply1)
            )
    }

    /// The part of a value that its bit is taken from as things stand, and the bit of a signal that it is a copy of.
    fn taken(&mut self, found: Assigned) -> (Span, Option<(usize, u32)>) {
        let (mut id, mut bit, mut span) = (found.value, found.bit, found.span);
        for _ in 0..MOST_PARTS {
            let node = &self.design.exprs[id];
            match &node.kind {
                ExprKind::Signal(signal) => return (span, Some((signal.index(), bit))),
                ExprKind::Slice { base, low } => (id, bit) = (*base, bit + low),
                ExprKind::Resize { value, .. } if bit < self.design.exprs[*value].width => id = *value,
                ExprKind::Checked { value, .. } => id = *value,
                ExprKind::Concat(parts) => {
                    let mut below = 0;
                    let part = parts.iter().rev().find(|part| {
                        let width = self.design.exprs[**part].width;
                        below += width;
                        bit < below
                    });
                    let Some(part) = part else { break };
                    bit -= below - self.design.exprs[*part].width;
                    (id, span) = (*part, self.design.exprs[*part].span);
                }
                ExprKind::Select { condition, then, otherwise, .. } => {
                    let (then, otherwise) = (*then, *otherwise);
                    let code = code::expression(self.design, *condition);
                    let level = self.evaluate(&code, found.process).and_then(|v| v.get(0).known());
                    id = match level {
                        Some(true) => then,
                        Some(false) => otherwise,
                        None => break,
                    };
                    span = self.design.exprs[id].span;
                }
                _ => break,
            }
        }
        (span, None)
    }
}
