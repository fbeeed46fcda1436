//! How levels get onto signals: drivers of nets and their transactions, resolution, and what is held whatever drives it.

use crate::eval;
use crate::kernel::{Kernel, Later, Update};
use crate::places::places_of;
use crate::signal::{Driver, Pending, find_lone, is_nine_valued, wired};
use base::Id;
use design::{NetKind, SignalKind, Storage};
use logic::{Level, LogicVector};
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

impl Kernel<'_> {
    /// A driver for each process and net that it assigns, as wide as the bits it can reach.
    pub(crate) fn drivers(&mut self) {
        for (process, block) in self.blocks.clone().iter().enumerate() {
            let mut reach: BTreeMap<usize, Vec<(u32, u32)>> = BTreeMap::new();
            let mut bodies = vec![Arc::clone(block)];
            let mut seen = BTreeSet::new();
            while let Some(body) = bodies.pop() {
                for (place, called) in body.instrs.iter().flat_map(places_of) {
                    if let Some(sub) = called
                        && seen.insert(sub)
                    {
                        bodies.push(Arc::clone(&self.subprograms[sub]));
                    }
                    let Some(target) = place else { continue };
                    let Storage::Signal(signal) = target.storage else { continue };
                    let total = self.design.signal_width(signal);
                    let range = match target.element {
                        None => (target.low, target.width),
                        Some(_) => (target.low, total - target.low),
                    };
                    reach.entry(signal.index()).or_default().push(range);
                }
            }
            for (signal, driven) in reach {
                let state = &mut self.signals[signal];
                if !matches!(state.kind, SignalKind::Net(_)) {
                    continue;
                }
                let nine = is_nine_valued(self.design, self.design.signals[design::SignalId::from_index(signal)].ty);
                // A driver of Verilog's that has said nothing yet makes its bits unknown.
                let value =
                    if nine { state.value.clone() } else { LogicVector::filled(state.value.width(), Level::Unknown) };
                if !nine && !matches!(state.kind, SignalKind::Net(NetKind::Supply0 | NetKind::Supply1)) {
                    for (low, width) in &driven {
                        state.value.put(*low, &LogicVector::filled(*width, Level::Unknown));
                    }
                    state.last = state.value.clone();
                }
                state.drivers.push(Driver { process, value, driven, is_alone: false, pending: Vec::new() });
            }
        }
        for state in &mut self.signals {
            find_lone(&mut state.drivers);
        }
    }

    /// A transaction on a net's driver after a time. Pulses shorter than `least` are lost: 0 for a transport delay, the
    /// whole time for an inertial one without a limit of its own (IEEE 1076-2008 10.5.2.2).
    pub(crate) fn drive_later(&mut self, update: Update, after: u64, least: u64) {
        let Storage::Signal(signal) = update.storage else { return };
        let at = self.time.saturating_add(after);
        self.number += 1;
        let number = self.number;
        let state = &mut self.signals[signal.index()];
        let Some(which) = state.driver_of(update.process) else { return };
        let driver = &mut state.drivers[which];
        let width = update.value.width();
        let overlaps = |p: &Pending| p.low < update.low + width && update.low < p.low + p.value.width();
        if least < after {
            driver.pending.retain(|p| p.time < at || !overlaps(p));
            // Of those that come within the limit before it only the ones that lead up to it stay.
            let mut is_marked = true;
            let mut number_kept = Vec::new();
            for p in driver.pending.iter().rev().filter(|p| overlaps(p)) {
                is_marked &= p.low == update.low && p.value == update.value;
                if is_marked || p.time < at - least {
                    number_kept.push(p.number);
                }
            }
            driver.pending.retain(|p| !overlaps(p) || number_kept.contains(&p.number));
        } else {
            // One that was to come at once is another level before this one (IEEE 1076-2008 10.5.2.2).
            self.updates.retain(|u| {
                u.process != update.process
                    || u.storage != update.storage
                    || u.low >= update.low + width
                    || update.low >= u.low + u.value.width()
            });
            let same = driver.pending.iter().rev().find(|p| overlaps(p));
            if same.is_some_and(|p| p.low == update.low && p.value == update.value) {
                return;
            }
            driver.pending.retain(|p| !overlaps(p));
        }
        driver.pending.push(Pending { time: at, low: update.low, value: update.value, number });
        self.later.entry(at).or_default().push(Later::Transaction(signal.index(), which, number));
    }

    /// What waits on these bits of a net's driver is replaced by what is assigned to them now.
    pub(crate) fn replace_pending(&mut self, update: &Update) {
        let Storage::Signal(signal) = update.storage else { return };
        let state = &mut self.signals[signal.index()];
        let driver = state.driver_of(update.process).map(|which| &mut state.drivers[which]);
        if let Some(driver) = driver.filter(|d| !d.pending.is_empty()) {
            let width = update.value.width();
            driver.pending.retain(|p| p.low >= update.low + width || update.low >= p.low + p.value.width());
        }
    }

    /// Writes storage at once and wakes who looks at it.
    pub(crate) fn apply(&mut self, update: &Update, from_driver: bool) {
        match update.storage {
            Storage::Variable(v) => self.variables[v.index()].put(update.low, &update.value),
            Storage::Signal(s) => {
                let index = s.index();
                self.touch(index);
                let is_net = matches!(self.signals[index].kind, SignalKind::Net(_));
                if is_net && !from_driver {
                    let Some(which) = self.signals[index].driver_of(update.process) else {
                        return;
                    };
                    let driver = &mut self.signals[index].drivers[which];
                    driver.value.put(update.low, &update.value);
                    self.resolve_of(index, which, update.low, update.value.width());
                    return;
                }
                self.change_part(index, update.low, &update.value);
            }
        }
    }

    /// The levels of a net from its drivers.
    pub(crate) fn resolve(&mut self, index: usize) {
        let width = self.signals[index].value.width();
        self.resolve_bits(index, 0..width);
    }

    /// The same, of bits that one of its drivers drives otherwise now.
    fn resolve_of(&mut self, index: usize, which: usize, low: u32, width: u32) {
        let state = &self.signals[index];
        let end = low.saturating_add(width).min(state.value.width());
        let driver = &state.drivers[which];
        if !driver.is_alone {
            return self.resolve_bits(index, low.min(end)..end);
        }
        if !matches!(state.kind, SignalKind::Net(NetKind::Supply0 | NetKind::Supply1)) {
            let part = driver.value.slice(i64::from(low), end.saturating_sub(low));
            self.change_part(index, low, &part);
        }
    }

    fn resolve_bits(&mut self, index: usize, bits: std::ops::Range<u32>) {
        let state = &self.signals[index];
        let mut next = state.value.clone();
        // Looking at every driver for every bit is work of its own.
        let work = state.drivers.len() as u64 * u64::from(bits.end - bits.start) / 256;
        for bit in bits {
            let drives = |d: &&Driver| d.driven.iter().any(|(low, width)| (*low..low + width).contains(&bit));
            let levels: Vec<Level> = state.drivers.iter().filter(drives).map(|d| d.value.get(bit)).collect();
            let joined = match state.kind {
                SignalKind::Net(NetKind::WiredAnd) => wired(&levels, Level::Zero),
                SignalKind::Net(NetKind::WiredOr) => wired(&levels, Level::One),
                _ => levels.iter().copied().reduce(eval::resolve),
            };
            if let Some(level) = joined {
                next.set(bit, level);
            }
        }
        if !matches!(state.kind, SignalKind::Net(NetKind::Supply0 | NetKind::Supply1)) {
            self.change(index, next);
        }
        self.steps = self.steps.saturating_sub(work);
    }

    pub(crate) fn change(&mut self, index: usize, mut next: LogicVector) {
        for (_, low, value) in self.forces.iter().filter(|(signal, ..)| *signal == index) {
            next.put(*low, value);
        }
        let state = &mut self.signals[index];
        let Some(changed) = state.value.difference(&next) else { return };
        state.last = std::mem::replace(&mut state.value, next);
        self.tell_changed(index, &changed);
    }

    /// Some bits of a signal take new levels: of a wide one, the others are not looked at.
    fn change_part(&mut self, index: usize, low: u32, part: &LogicVector) {
        let state = &self.signals[index];
        let lies_within = low.checked_add(part.width()).is_some_and(|end| end <= state.value.width());
        if state.value.width() <= 64 || !lies_within || self.forces.iter().any(|(signal, ..)| *signal == index) {
            let mut next = state.value.clone();
            next.put(low, part);
            return self.change(index, next);
        }
        let Some(changed) = state.value.slice(i64::from(low), part.width()).difference(part) else { return };
        let state = &mut self.signals[index];
        state.last.clone_from(&state.value);
        state.value.put(low, part);
        self.tell_changed(index, &(low + changed.start..low + changed.end));
    }

    pub(crate) fn transaction(&mut self, signal: usize, which: usize, number: u64) {
        let driver = &mut self.signals[signal].drivers[which];
        let Some(at) = driver.pending.iter().position(|p| p.number == number) else { return };
        let pending = driver.pending.remove(at);
        driver.value.put(pending.low, &pending.value);
        self.touch(signal);
        self.resolve_of(signal, which, pending.low, pending.value.width());
    }

    /// A signal is active now, whether or not it changes (IEEE 1076-2008 14.7.3.1).
    pub(crate) fn touch(&mut self, index: usize) {
        let state = &mut self.signals[index];
        (state.active, state.active_at) = (self.instant, Some(self.time));
        if let Some(bit) = self.transactions.get(&index).copied() {
            let next = self.signals[bit].value.map(|level| Level::from(level != Level::One));
            self.change(bit, next);
        }
    }
}
