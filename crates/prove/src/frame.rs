//! One clock cycle of a machine as logic over its state: what it shows at each moment of the cycle and what it holds
//! behind it, also where registers are clocked by other registers, opened by levels or set at once.

use crate::joined::{copy, rails};
use crate::machine::{Machine, Protocol};
use base::Id;
use design::{Lit, Netlist, NodeId};

/// Most rounds of settling that are written down.
const MOST_ROUNDS: usize = 48;

/// What a cycle does.
pub(crate) struct Cycle {
    /// The state behind it, in the order of [`crate::Running::words`] without the machine's only clock.
    pub(crate) next: Vec<Lit>,
    /// Value and unknown rail of each compared output at each moment: before the edge, behind it, behind the other edge.
    /// A machine with one plain clock is looked at before the edge only.
    pub(crate) seen: Vec<Vec<[Lit; 2]>>,
    /// 1 where the levels had not come to rest after the rounds that were written down.
    pub(crate) restless: Lit,
}

/// How a machine's cycles are written down.
pub(crate) struct Frame<'m, 'n> {
    machine: &'m Machine<'n>,
    rising: bool,
    plain: bool,
    /// Distinct clocks, none complemented, in the order of [`design::Lanes`].
    clocks: Vec<Lit>,
    main: Option<Lit>,
    rounds: usize,
}

/// A state while it settles.
struct Held {
    registers: Vec<[Lit; 2]>,
    clocks: Vec<Lit>,
    /// Controls as they took hold last.
    controlled: Vec<Vec<[Lit; 3]>>,
}

fn picked(map: &[Lit], l: Lit) -> Lit {
    let base = map[l.node().index()];
    if l.is_complement() { !base } else { base }
}

impl<'m, 'n> Frame<'m, 'n> {
    /// `plain` as the machine's pair has it; `main` is its only clock.
    pub(crate) fn new(machine: &'m Machine<'n>, protocol: &Protocol, plain: bool, main: Option<Lit>) -> Self {
        let mut clocks: Vec<Lit> = Vec::new();
        for register in &machine.net.registers {
            let clock = if register.clock.is_complement() { !register.clock } else { register.clock };
            if !clocks.contains(&clock) {
                clocks.push(clock);
            }
        }
        let rounds = if plain { 0 } else { rounds(machine.net) };
        Self { machine, rising: protocol.rising, plain, clocks, main, rounds }
    }

    /// Number of bits of a state.
    pub(crate) fn bits(&self) -> usize {
        let kept = self.clocks.iter().filter(|c| Some(**c) != self.main).count();
        2 * self.machine.net.registers.len() + if self.plain { 0 } else { kept }
    }

    /// Number of bits of a state that registers hold: value and unknown mark of each.
    pub(crate) fn register_bits(&self) -> usize {
        2 * self.machine.net.registers.len()
    }

    /// The whole state at rest: what the registers hold, and the levels of the clocks that follow from it.
    pub(crate) fn at_rest(&self, net: &mut Netlist, common: &[Lit], registers: &[Lit]) -> Vec<Lit> {
        let mut state = registers.to_vec();
        if !self.plain && self.bits() > registers.len() {
            let held: Vec<[Lit; 2]> = registers.chunks_exact(2).map(|s| [net.and(s[0], !s[1]), s[1]]).collect();
            let map = self.with_state(net, common, Lit::from(!self.rising), &held);
            let kept = self.clocks.iter().filter(|c| Some(**c) != self.main);
            state.extend(kept.map(|c| picked(&map, *c)));
        }
        state
    }

    /// The cycle from a state, with the common inputs at these levels.
    pub(crate) fn cycle(&self, net: &mut Netlist, common: &[Lit], state: &[Lit]) -> Cycle {
        let registers = self.machine.net.registers.len();
        // An unknown bit has the level 0.
        let held: Vec<[Lit; 2]> =
            state[..2 * registers].chunks_exact(2).map(|s| [net.and(s[0], !s[1]), s[1]]).collect();
        if self.plain {
            return self.plain_cycle(net, common, &held);
        }
        let low = Lit::from(!self.rising);
        let mut rest = state[2 * registers..].iter();
        let clocks = self.clocks.iter().map(|clock| match Some(*clock) == self.main {
            true => self.main_level(low),
            false => rest.next().copied().unwrap_or(Lit::FALSE),
        });
        let clocks = clocks.collect();
        let mut held = Held { registers: held, clocks, controlled: vec![Vec::new(); registers] };
        let (mut seen, mut restless) = (Vec::new(), Lit::FALSE);
        for level in [low, !low, low] {
            let map = self.settle(net, common, level, &mut held, &mut restless);
            seen.push(rails(self.machine, &map));
        }
        let mut next: Vec<Lit> = held.registers.iter().flatten().copied().collect();
        let kept = self.clocks.iter().zip(&held.clocks).filter(|(c, _)| Some(**c) != self.main);
        next.extend(kept.map(|(_, level)| *level));
        Cycle { next, seen, restless }
    }

    /// The level of the machine's only clock, which may be joined turned round.
    fn main_level(&self, clock: Lit) -> Lit {
        let turned = self.machine.inputs.iter().any(|s| matches!(s, Some(crate::machine::Source::Clock(true))));
        if turned { !clock } else { clock }
    }

    fn plain_cycle(&self, net: &mut Netlist, common: &[Lit], held: &[[Lit; 2]]) -> Cycle {
        let registers = &self.machine.net.registers;
        let clock = Lit::from(!self.rising);
        let before = self.with_state(net, common, clock, held);
        let settled = self.controlled(net, &before, held);
        let map = self.with_state(net, common, clock, &settled);
        let loaded: Vec<[Lit; 2]> =
            registers.iter().map(|r| [picked(&map, r.next), picked(&map, r.next_unknown)]).collect();
        let mut next = Vec::new();
        for [value, unknown] in self.controlled(net, &map, &loaded) {
            let value = net.and(value, !unknown);
            next.extend([value, unknown]);
        }
        Cycle { next, seen: vec![rails(self.machine, &map)], restless: Lit::FALSE }
    }

    /// Passes levels through the logic and lets edges load registers, as [`design::Lanes::settle`] does.
    fn settle(&self, net: &mut Netlist, common: &[Lit], clock: Lit, held: &mut Held, restless: &mut Lit) -> Vec<Lit> {
        for round in 0.. {
            let map = self.with_state(net, common, clock, &held.registers);
            let now: Vec<Lit> = self.clocks.iter().map(|c| picked(&map, *c)).collect();
            let edges: Vec<[Lit; 2]> = held
                .clocks
                .iter()
                .zip(&now)
                .map(|(before, now)| [net.and(!*before, *now), net.and(*before, !*now)])
                .collect();
            held.clocks = now;
            let loaded = self.load(net, &map, &edges, held);
            if loaded == held.registers {
                return map;
            }
            if round >= self.rounds {
                for ([v, u], [w, x]) in held.registers.iter().zip(&loaded) {
                    let (value, unknown) = (net.xor(*v, *w), net.xor(*u, *x));
                    *restless = net.any([*restless, value, unknown]);
                }
                return map;
            }
            held.registers = loaded;
        }
        Vec::new()
    }

    fn load(&self, net: &mut Netlist, map: &[Lit], edges: &[[Lit; 2]], held: &mut Held) -> Vec<[Lit; 2]> {
        let mut list = Vec::with_capacity(held.registers.len());
        for (k, register) in self.machine.net.registers.iter().enumerate() {
            let plain = if register.clock.is_complement() { !register.clock } else { register.clock };
            let clock = self.clocks.iter().position(|c| *c == plain).unwrap_or(0);
            let rising = register.rising != register.clock.is_complement();
            let edge = edges[clock][usize::from(!rising)];
            let [old, old_unknown] = held.registers[k];
            let controls: Vec<[Lit; 3]> =
                register.controls.iter().map(|c| [c.condition, c.value, c.unknown].map(|l| picked(map, l))).collect();
            if edge == Lit::FALSE && controls == held.controlled[k] {
                list.push([old, old_unknown]);
                continue;
            }
            let mut value = net.mux(edge, picked(map, register.next), old);
            let mut unknown = net.mux(edge, picked(map, register.next_unknown), old_unknown);
            for [condition, level, level_unknown] in controls.iter().rev() {
                value = net.mux(*condition, *level, value);
                unknown = net.mux(*condition, *level_unknown, unknown);
            }
            value = net.and(value, !unknown);
            held.controlled[k] = controls;
            list.push([value, unknown]);
        }
        list
    }

    /// The machine's nodes with its registers at these levels.
    fn with_state(&self, net: &mut Netlist, common: &[Lit], clock: Lit, state: &[[Lit; 2]]) -> Vec<Lit> {
        let registers = self.machine.net.registers.iter().zip(state);
        let held: Vec<(NodeId, Lit)> = registers
            .flat_map(|(r, [value, unknown])| [(r.value, *value), (r.unknown, *unknown)])
            .filter(|(place, _)| !place.is_const())
            .map(|(place, lit)| (place.node(), if place.is_complement() { !lit } else { lit }))
            .collect();
        copy(net, self.machine, common, clock, &held)
    }

    /// The levels of registers after their asynchronous controls, of which the first that is active counts.
    fn controlled(&self, net: &mut Netlist, map: &[Lit], levels: &[[Lit; 2]]) -> Vec<[Lit; 2]> {
        let registers = self.machine.net.registers.iter().zip(levels);
        registers
            .map(|(register, levels)| {
                register.controls.iter().rev().fold(*levels, |[value, unknown], control| {
                    let condition = picked(map, control.condition);
                    let (level, level_unknown) = (picked(map, control.value), picked(map, control.unknown));
                    [net.mux(condition, level, value), net.mux(condition, level_unknown, unknown)]
                })
            })
            .collect()
    }
}

/// Rounds after which registers that don't make each other's clocks have come to rest.
fn rounds(net: &Netlist) -> usize {
    let place: std::collections::BTreeMap<NodeId, usize> =
        net.registers.iter().enumerate().map(|(k, r)| (r.value.node(), k)).collect();
    let makers: Vec<Vec<usize>> = net
        .registers
        .iter()
        .map(|r| {
            let mut roots = vec![r.clock];
            roots.extend(r.controls.iter().flat_map(|c| [c.condition, c.value, c.unknown]));
            net.cone(&roots).iter().filter_map(|id| place.get(id).copied()).collect()
        })
        .collect();
    let mut level = vec![1usize; makers.len()];
    for _ in 0..MOST_ROUNDS {
        let mut changed = false;
        for (k, list) in makers.iter().enumerate() {
            let above = list.iter().filter(|m| **m != k).map(|m| level[*m] + 1).max().unwrap_or(1).min(MOST_ROUNDS);
            if above > level[k] {
                level[k] = above;
                changed = true;
            }
        }
        if !changed {
            break;
        }
    }
    let itself = makers.iter().enumerate().any(|(k, list)| list.contains(&k));
    level.into_iter().max().unwrap_or(1) + 1 + usize::from(itself)
}

/// 1 where an output is wrong at one of the moments.
pub(crate) fn wrong_at(net: &mut Netlist, reference: &Cycle, design: &Cycle) -> Vec<Lit> {
    let mut list = Vec::new();
    for (wanted, is) in reference.seen.iter().zip(&design.seen) {
        for ([value, unknown], [actual, actual_unknown]) in wanted.iter().zip(is) {
            let differ = net.xor(*value, *actual);
            let bad = net.or(differ, *actual_unknown);
            list.push(net.and(bad, !*unknown));
        }
    }
    list
}
