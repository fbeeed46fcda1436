//! What signals hold, their drivers, and how the levels of several drivers are joined.

use design::{Design, LevelSet, NetKind, SignalKind, TypeKind};
use logic::{Level, LogicVector};

pub(crate) struct SignalState {
    pub(crate) value: LogicVector,
    pub(crate) last: LogicVector,
    /// The instant of its last change.
    pub(crate) changed: u64,
    /// The instant at which it was last assigned, changed or not.
    pub(crate) active: u64,
    /// The times of both.
    pub(crate) changed_at: Option<u64>,
    pub(crate) active_at: Option<u64>,
    /// Drivers of a net; a variable has none.
    pub(crate) drivers: Vec<Driver>,
    pub(crate) kind: SignalKind,
    /// Processes that wake at a change of some of its bits, and events that need a closer look.
    pub(crate) wakes: Vec<(usize, std::ops::Range<u32>)>,
    /// Where these are many: which of them look at some bit of each word of 64.
    pub(crate) by_word: Vec<Vec<usize>>,
    pub(crate) watches: Vec<usize>,
    /// Processes that wait for a change now, with the number of their wait.
    pub(crate) waiting: Vec<(usize, u64)>,
    /// Number in the trace.
    pub(crate) traced: Option<u32>,
}

impl SignalState {
    /// The number of a process's driver; they are in the order of the processes.
    pub(crate) fn driver_of(&self, process: usize) -> Option<usize> {
        self.drivers.binary_search_by_key(&process, |d| d.process).ok()
    }
}

pub(crate) struct Driver {
    pub(crate) process: usize,
    pub(crate) value: LogicVector,
    /// Bits that it drives; the others are left to other drivers.
    pub(crate) driven: Vec<(u32, u32)>,
    /// No other driver drives any of them.
    pub(crate) is_alone: bool,
    pub(crate) pending: Vec<Pending>,
}

pub(crate) struct Pending {
    pub(crate) time: u64,
    pub(crate) low: u32,
    pub(crate) value: LogicVector,
    pub(crate) number: u64,
}

/// What a type holds before anything is assigned: the leftmost value of VHDL's types, X of Verilog's variables.
pub(crate) fn default_value(design: &Design, ty: design::TypeId) -> LogicVector {
    match &design.types[ty].kind {
        TypeKind::Logic { shape, levels, .. } => LogicVector::filled(
            shape.width(),
            match levels {
                LevelSet::Two => Level::Zero,
                LevelSet::Four => Level::Unknown,
                LevelSet::Nine => Level::Uninitialised,
            },
        ),
        TypeKind::Integer { low, .. } => {
            LogicVector::from_u64(64, low.cast_unsigned()).resized(design.type_width(ty), true)
        }
        TypeKind::Array { element, left, right } => {
            let one = default_value(design, *element);
            let count = usize::try_from(left.abs_diff(*right)).unwrap_or(0) + 1;
            LogicVector::concat(&vec![one; count])
        }
        TypeKind::Record { fields } => {
            let parts: Vec<LogicVector> = fields.iter().map(|(_, t)| default_value(design, *t)).collect();
            LogicVector::concat(&parts)
        }
        _ => LogicVector::from_u64(design.type_width(ty), 0),
    }
}

/// True for a type of VHDL's, whose drivers begin with the signal's value; Verilog's nets float.
pub(crate) fn is_nine_valued(design: &Design, ty: design::TypeId) -> bool {
    match &design.types[ty].kind {
        TypeKind::Logic { levels, .. } => *levels != LevelSet::Four,
        TypeKind::Array { element, .. } => is_nine_valued(design, *element),
        TypeKind::Record { fields } => fields.iter().any(|(_, t)| is_nine_valued(design, *t)),
        _ => true,
    }
}

/// What each signal holds before anything happens.
pub(crate) fn signal_states(design: &Design) -> Vec<SignalState> {
    let mut signals: Vec<SignalState> = Vec::new();
    for (_, signal) in design.signals.iter() {
        let width = design.type_width(signal.ty);
        let floats = matches!(signal.kind, SignalKind::Net(_)) && !is_nine_valued(design, signal.ty);
        let value = match (&signal.initial, signal.kind) {
            (Some(initial), _) => initial.clone(),
            (None, SignalKind::Net(NetKind::Supply0)) => LogicVector::filled(width, Level::Zero),
            (None, SignalKind::Net(NetKind::Supply1)) => LogicVector::filled(width, Level::One),
            (None, _) if floats => LogicVector::filled(width, Level::HighZ),
            (None, _) => default_value(design, signal.ty),
        };
        signals.push(SignalState {
            last: value.clone(),
            value,
            changed: 0,
            active: 0,
            changed_at: None,
            active_at: None,
            drivers: Vec::new(),
            kind: signal.kind,
            wakes: Vec::new(),
            by_word: Vec::new(),
            watches: Vec::new(),
            waiting: Vec::new(),
            traced: None,
        });
    }
    signals
}

/// Joined levels of a wired net: one `wins` decides.
pub(crate) fn wired(levels: &[Level], wins: Level) -> Option<Level> {
    let driven: Vec<Level> = levels.iter().copied().filter(|l| *l != Level::HighZ).collect();
    if driven.is_empty() {
        return levels.first().copied();
    }
    if driven.iter().any(|l| l.known() == wins.known()) {
        return Some(wins);
    }
    let all_known = driven.iter().all(|l| l.known().is_some());
    Some(if all_known { Level::from(wins == Level::Zero) } else { Level::Unknown })
}

/// Finds the drivers of a net whose bits no other one drives.
pub(crate) fn find_lone(drivers: &mut [Driver]) {
    let mut ends: Vec<(u32, u32, usize)> = Vec::new();
    for (which, driver) in drivers.iter().enumerate() {
        ends.extend(driver.driven.iter().map(|(low, width)| (*low, low.saturating_add(*width), which)));
    }
    ends.sort_unstable();
    let mut shared = vec![false; drivers.len()];
    // The stretch that reaches furthest of those before, and that of another driver that does.
    let mut furthest: [Option<(u32, usize)>; 2] = [None, None];
    for (low, end, which) in ends {
        for (reached, other) in furthest.into_iter().flatten().filter(|(_, other)| *other != which) {
            if reached > low {
                (shared[which], shared[other]) = (true, true);
            }
        }
        match furthest {
            [Some((reached, other)), _] if other == which => furthest[0] = Some((reached.max(end), which)),
            [Some((reached, _)), _] if end > reached => furthest = [Some((end, which)), furthest[0]],
            [Some(_), second] if second.is_none_or(|(reached, _)| end > reached) => furthest[1] = Some((end, which)),
            [None, _] => furthest[0] = Some((end, which)),
            _ => {}
        }
    }
    for (driver, shared) in drivers.iter_mut().zip(shared) {
        driver.is_alone = !shared;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn lone(stretches: &[&[(u32, u32)]]) -> Vec<bool> {
        let driver = |driven: &&[(u32, u32)]| Driver {
            process: 0,
            value: LogicVector::filled(64, Level::Unknown),
            driven: driven.to_vec(),
            is_alone: false,
            pending: Vec::new(),
        };
        let mut drivers: Vec<Driver> = stretches.iter().map(driver).collect();
        find_lone(&mut drivers);
        drivers.iter().map(|d| d.is_alone).collect()
    }

    #[test]
    fn drivers_that_share_a_bit_are_found_whatever_their_order() {
        assert_eq!(lone(&[&[(0, 4)], &[(4, 4)], &[(8, 1)]]), [true, true, true]);
        assert_eq!(lone(&[&[(0, 5)], &[(4, 4)], &[(8, 1)]]), [false, false, true]);
        assert_eq!(lone(&[&[(8, 1)], &[(0, 64)], &[(2, 1)]]), [false, false, false]);
        // The same driver may reach a bit by two of its assignments.
        assert_eq!(lone(&[&[(0, 4), (2, 4)], &[(6, 2)]]), [true, true]);
        // Every pair of small stretches against the definition.
        let mut random = base::Random::new(5);
        for _ in 0..500 {
            let stretches: Vec<Vec<(u32, u32)>> = (0..5)
                .map(|_| {
                    (0..2).map(|_| (random.word() as u32 >> 8 & 31, 1 + (random.word() as u32 >> 9 & 7))).collect()
                })
                .collect();
            let list: Vec<&[(u32, u32)]> = stretches.iter().map(Vec::as_slice).collect();
            let overlap = |a: &(u32, u32), b: &(u32, u32)| a.0 < b.0 + b.1 && b.0 < a.0 + a.1;
            let wanted: Vec<bool> = (0..5)
                .map(|i| {
                    let mut others = (0..5).filter(|k| *k != i).flat_map(|k| &stretches[k]);
                    !others.any(|b| stretches[i].iter().any(|a| overlap(a, b)))
                })
                .collect();
            assert_eq!(lone(&list), wanted, "{stretches:?}");
        }
    }
}
