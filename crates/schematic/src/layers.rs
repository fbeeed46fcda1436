//! Ranks and the order in them: inputs at the left, what reads them to the right of it, with few crossings (the layered
//! method of Sugiyama, Tagawa and Toda 1981; the order by barycentres).

use crate::graph::{BlockKind, Graph, Symbol};

/// Sweeps that look for an order.
const SWEEPS: usize = 12;

/// What stands in a rank: a symbol, or a wire that goes on to the next rank.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Item {
    Symbol(usize),
    Pass(usize),
}

/// A connection between an item of a rank and one of the next: numbers in their ranks, pins, and the wire.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Link {
    pub(crate) from: usize,
    /// Output pin of a symbol.
    pub(crate) from_pin: usize,
    pub(crate) to: usize,
    /// Input pin of a symbol.
    pub(crate) to_pin: usize,
    pub(crate) wire: usize,
}

/// Items by rank, in order, and the links from each rank to the next.
#[derive(Clone, Debug, Default)]
pub(crate) struct Ranked {
    pub(crate) ranks: Vec<Vec<Item>>,
    pub(crate) links: Vec<Vec<Link>>,
}

impl Ranked {
    pub(crate) fn new(graph: &Graph) -> Self {
        let mut ranked = Self::unordered(graph);
        let mut best = ranked.clone();
        let mut fewest = best.crossings();
        for sweep in 0..SWEEPS {
            if sweep % 2 == 0 {
                for rank in 1..ranked.ranks.len() {
                    ranked.settle(graph, rank, false);
                }
            } else {
                for rank in (0..ranked.ranks.len()).rev() {
                    ranked.settle(graph, rank, true);
                }
            }
            let crossings = ranked.crossings();
            if crossings < fewest {
                fewest = crossings;
                best = ranked.clone();
            }
        }
        best
    }

    fn unordered(graph: &Graph) -> Self {
        let mut driver: Vec<Option<(usize, usize)>> = vec![None; graph.wires.len()];
        let mut rank_of = vec![0usize; graph.symbols.len()];
        for (s, symbol) in graph.symbols.iter().enumerate() {
            let behind = symbol.inputs.iter().filter_map(|e| driver[e.wire]).map(|(d, _)| rank_of[d] + 1).max();
            rank_of[s] = if symbol.kind.is_source() { 0 } else { behind.unwrap_or(0).max(1) };
            for (pin, end) in symbol.outputs.iter().enumerate() {
                driver[end.wire] = Some((s, pin));
            }
        }
        let last = rank_of.iter().copied().max().unwrap_or(0);
        for (s, symbol) in graph.symbols.iter().enumerate() {
            if symbol.kind.is_sink() {
                rank_of[s] = last;
            }
        }
        // A constant stands right before what reads it.
        for (s, symbol) in graph.symbols.iter().enumerate().filter(|(_, s)| s.kind == BlockKind::Constant) {
            let reads = |other: &Symbol| other.inputs.iter().any(|e| symbol.outputs.iter().any(|o| o.wire == e.wire));
            let readers = graph.symbols.iter().enumerate().filter(|(_, other)| reads(other));
            rank_of[s] = readers.map(|(r, _)| rank_of[r].saturating_sub(1)).min().unwrap_or(0);
        }
        let mut ranks: Vec<Vec<Item>> = vec![Vec::new(); last + 1];
        for (s, rank) in rank_of.iter().enumerate() {
            ranks[*rank].push(Item::Symbol(s));
        }
        // A wire passes every rank between its driver and its furthest reader once.
        let mut furthest = vec![0usize; graph.wires.len()];
        for (s, symbol) in graph.symbols.iter().enumerate() {
            for end in &symbol.inputs {
                furthest[end.wire] = furthest[end.wire].max(rank_of[s]);
            }
        }
        for (wire, from) in driver.iter().enumerate() {
            if let Some((s, _)) = from {
                for rank in ranks.iter_mut().take(furthest[wire]).skip(rank_of[*s] + 1) {
                    rank.push(Item::Pass(wire));
                }
            }
        }
        let mut ranked = Self { links: vec![Vec::new(); last + 1], ranks };
        ranked.connect(graph);
        ranked
    }

    /// Finds the links for the order that stands.
    fn connect(&mut self, graph: &Graph) {
        for rank in 1..self.ranks.len() {
            // Where each wire comes from in the rank before.
            let mut from: Vec<Option<(usize, usize)>> = vec![None; graph.wires.len()];
            for (at, item) in self.ranks[rank - 1].iter().enumerate() {
                match item {
                    Item::Pass(wire) => from[*wire] = Some((at, 0)),
                    Item::Symbol(s) => {
                        for (pin, end) in graph.symbols[*s].outputs.iter().enumerate() {
                            from[end.wire] = Some((at, pin));
                        }
                    }
                }
            }
            let mut links = Vec::new();
            for (to, item) in self.ranks[rank].iter().enumerate() {
                let mut link = |wire: usize, to_pin: usize| {
                    if let Some((at, from_pin)) = from[wire] {
                        links.push(Link { from: at, from_pin, to, to_pin, wire });
                    }
                };
                match item {
                    Item::Pass(wire) => link(*wire, 0),
                    Item::Symbol(s) => {
                        let inputs = graph.symbols[*s].inputs.iter().enumerate();
                        inputs.for_each(|(pin, end)| link(end.wire, pin));
                    }
                }
            }
            self.links[rank - 1] = links;
        }
    }

    /// Orders a rank by the mean place of what it is linked with: to the right of it, or to the left. Pins keep theirs.
    fn settle(&mut self, graph: &Graph, rank: usize, by_right: bool) {
        let count = self.ranks[rank].len();
        let mut sums = vec![(0f64, 0u32); count];
        let side = if by_right { rank } else { rank.wrapping_sub(1) };
        let Some(links) = self.links.get(side) else { return };
        for link in links {
            let (own, other, pin) =
                if by_right { (link.from, link.to, link.to_pin) } else { (link.to, link.from, link.from_pin) };
            sums[own].0 += other as f64 + pin as f64 / 16.0;
            sums[own].1 += 1;
        }
        let is_fixed = |item: &Item| matches!(item, Item::Symbol(s) if graph.symbols[*s].kind.is_source() || graph.symbols[*s].kind.is_sink());
        let place = |at: usize| if sums[at].1 == 0 { at as f64 } else { sums[at].0 / f64::from(sums[at].1) };
        let mut free: Vec<usize> = (0..count).filter(|at| !is_fixed(&self.ranks[rank][*at])).collect();
        free.sort_by(|a, b| place(*a).total_cmp(&place(*b)).then(a.cmp(b)));
        // What is fixed keeps its order among itself; the others are merged in.
        let fixed: Vec<usize> = (0..count).filter(|at| is_fixed(&self.ranks[rank][*at])).collect();
        let mut order = Vec::with_capacity(count);
        let (mut f, mut g) = (fixed.into_iter().peekable(), free.into_iter().peekable());
        loop {
            match (f.peek(), g.peek()) {
                (Some(a), Some(b)) if place(*a) <= place(*b) => order.extend(f.next()),
                (_, Some(_)) => order.extend(g.next()),
                (Some(_), None) => order.extend(f.next()),
                (None, None) => break,
            }
        }
        self.ranks[rank] = order.into_iter().map(|at| self.ranks[rank][at]).collect();
        self.connect(graph);
    }

    /// How many pairs of links cross.
    pub(crate) fn crossings(&self) -> usize {
        let of = |links: &Vec<Link>| {
            let mut ends: Vec<(usize, usize, usize, usize)> =
                links.iter().map(|l| (l.from, l.from_pin, l.to, l.to_pin)).collect();
            ends.sort_unstable();
            let crossed = |(i, a): (usize, &(usize, usize, usize, usize))| {
                ends[i + 1..].iter().filter(|b| (b.2, b.3) < (a.2, a.3)).count()
            };
            ends.iter().enumerate().map(crossed).sum::<usize>()
        };
        self.links.iter().map(of).sum()
    }
}
