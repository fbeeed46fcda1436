//! Places: how large symbols are, how high items stand in their ranks, so that wires run straight where they can.

use crate::graph::{BlockKind, Graph, Symbol};
use crate::layers::{Item, Ranked};

/// Distance of two pins.
pub(crate) const PITCH: i32 = 16;
/// Between two symbols of a rank.
const GAP: i32 = 16;
/// Height that a passing wire keeps free.
const PASS: i32 = 8;
/// Rounds of settling.
const ROUNDS: usize = 12;
/// Of these, the first ones look to one side in turn.
const ALTERNATING: usize = 8;
/// Width of a character of a name.
const CHARACTER: i32 = 8;

/// Width and height of a symbol.
pub(crate) fn size(symbol: &Symbol) -> (i32, i32) {
    let pins = symbol.inputs.len().max(symbol.outputs.len()).max(1) as i32;
    let letters = symbol.label.chars().count() as i32 * CHARACTER;
    match symbol.kind {
        BlockKind::Not => (26, PITCH),
        BlockKind::And | BlockKind::Or => (36, PITCH * pins.max(2)),
        BlockKind::Xor => (42, PITCH * pins.max(2)),
        BlockKind::Choice => (30, PITCH * 3),
        BlockKind::Input | BlockKind::Output | BlockKind::Constant => (letters + 18, PITCH),
        BlockKind::Stored => (letters + 22, PITCH),
        BlockKind::FlipFlop => ((letters + 22).max(64), PITCH * (pins + 1)),
        BlockKind::Function | BlockKind::Table => ((letters + 28).max(56), PITCH * (pins + 1)),
    }
}

/// How far below the upper edge of its symbol a pin is.
pub(crate) fn pin_offset(symbol: &Symbol, pin: usize, is_input: bool) -> i32 {
    let (_, height) = size(symbol);
    let count = if is_input { symbol.inputs.len() } else { symbol.outputs.len() } as i32;
    // Names at the top of a box leave the first line free.
    let head = match symbol.kind {
        BlockKind::FlipFlop | BlockKind::Function | BlockKind::Table => PITCH,
        _ => 0,
    };
    let free = height - head - count * PITCH;
    head + free / 2 + PITCH / 2 + pin as i32 * PITCH
}

/// Items with places.
pub(crate) struct Placed {
    pub(crate) ranked: Ranked,
    /// Upper edge of each item, by rank.
    pub(crate) tops: Vec<Vec<i32>>,
}

fn height(graph: &Graph, item: Item) -> i32 {
    match item {
        Item::Symbol(s) => size(&graph.symbols[s]).1,
        Item::Pass(_) => PASS,
    }
}

/// How far below the upper edge of an item a pin is.
pub(crate) fn offset(graph: &Graph, item: Item, pin: usize, is_input: bool) -> i32 {
    match item {
        Item::Symbol(s) => pin_offset(&graph.symbols[s], pin, is_input),
        Item::Pass(_) => PASS / 2,
    }
}

fn gap(one: Item, other: Item) -> i32 {
    if matches!((one, other), (Item::Pass(_), Item::Pass(_))) { 0 } else { GAP }
}

impl Placed {
    pub(crate) fn new(graph: &Graph, ranked: Ranked) -> Self {
        let mut tops: Vec<Vec<i32>> = Vec::new();
        for rank in &ranked.ranks {
            let mut at = 0;
            let mut list = Vec::new();
            for (k, item) in rank.iter().enumerate() {
                if k > 0 {
                    at += gap(rank[k - 1], *item);
                }
                list.push(at);
                at += height(graph, *item);
            }
            tops.push(list);
        }
        let mut placed = Self { ranked, tops };
        let ranks = placed.ranked.ranks.len();
        // The straightest of all rounds counts: some bring level what the next one tears apart.
        let mut best = (placed.climb(graph), placed.tops.clone());
        for round in 0..ROUNDS {
            if round % 2 == 0 {
                (1..ranks).for_each(|rank| placed.settle(graph, rank, round));
            } else {
                (0..ranks).rev().for_each(|rank| placed.settle(graph, rank, round));
            }
            let climb = placed.climb(graph);
            if climb < best.0 {
                best = (climb, placed.tops.clone());
            }
        }
        placed.tops = best.1;
        placed.start_at_zero();
        placed
    }

    /// How far all wires go up or down between their ranks.
    fn climb(&self, graph: &Graph) -> i64 {
        let mut sum = 0;
        for (side, links) in self.ranked.links.iter().enumerate() {
            for link in links {
                let out = offset(graph, self.ranked.ranks[side][link.from], link.from_pin, false);
                let into = offset(graph, self.ranked.ranks[side + 1][link.to], link.to_pin, true);
                sum += i64::from((self.tops[side][link.from] + out - self.tops[side + 1][link.to] - into).abs());
            }
        }
        sum
    }

    fn start_at_zero(&mut self) {
        let least = self.tops.iter().flatten().copied().min().unwrap_or(0);
        self.tops.iter_mut().flatten().for_each(|t| *t -= least);
    }

    /// Moves the items of a rank to where their links are level, in their order and without overlap.
    fn settle(&mut self, graph: &Graph, rank: usize, round: usize) {
        let items = &self.ranked.ranks[rank];
        let mut wishes: Vec<Vec<i32>> = vec![Vec::new(); items.len()];
        let mut look = |side: usize, by_right: bool| {
            for link in &self.ranked.links[side] {
                let (left, right) = (self.ranked.ranks[side][link.from], self.ranked.ranks[side + 1][link.to]);
                let out = offset(graph, left, link.from_pin, false);
                let into = offset(graph, right, link.to_pin, true);
                if by_right {
                    wishes[link.from].push(self.tops[side + 1][link.to] + into - out);
                } else {
                    wishes[link.to].push(self.tops[side][link.from] + out - into);
                }
            }
        };
        // To the right first, then to the left, then by both sides.
        let both = round >= ALTERNATING;
        if rank > 0 && (both || round.is_multiple_of(2)) {
            look(rank - 1, false);
        }
        if rank + 1 < self.ranked.ranks.len() && (both || !round.is_multiple_of(2)) {
            look(rank, true);
        }
        let wish = |at: usize| {
            let mut list = wishes[at].clone();
            list.sort_unstable();
            list.get(list.len() / 2).copied().unwrap_or(self.tops[rank][at])
        };
        // Blocks of items that touch, each at the mean of what its items wish (pool adjacent violators).
        let mut before = 0;
        let mut pools: Vec<(f64, f64, usize)> = Vec::new();
        let mut shifts = Vec::with_capacity(items.len());
        for (k, item) in items.iter().enumerate() {
            if k > 0 {
                before += height(graph, items[k - 1]) + gap(items[k - 1], *item);
            }
            shifts.push(before);
            let weight = if matches!(item, Item::Pass(_)) { 4.0 } else { 1.0 };
            pools.push((f64::from(wish(k) - before) * weight, weight, 1));
            while let [.., one, other] = pools[..]
                && one.0 / one.1 > other.0 / other.1
            {
                pools.truncate(pools.len() - 2);
                pools.push((one.0 + other.0, one.1 + other.1, one.2 + other.2));
            }
        }
        let places =
            pools.iter().flat_map(|(sum, weight, n)| std::iter::repeat_n((sum / weight / 4.0).round() as i32 * 4, *n));
        self.tops[rank] = places.zip(&shifts).map(|(place, shift)| place + shift).collect();
    }
}
