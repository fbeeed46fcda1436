//! Wires between ranks: each has one upright piece at most in the space between two ranks, on a track of its own.

use crate::graph::{Block, BlockKind, Drawing, Graph, Pin, Wire};
use crate::layers::Item;
use crate::place::{Placed, offset, pin_offset, size};
use std::collections::BTreeMap;

/// Distance of two tracks.
const TRACK: i32 = 8;
/// Free space at both ends of the space between two ranks.
const MARGIN: i32 = 12;
/// Free space around everything.
const FRAME: i32 = 8;

/// A wire between two ranks: heights where it leaves the left one and where it meets the right one.
struct Net {
    wire: usize,
    from: i32,
    to: Vec<i32>,
}

impl Net {
    fn low(&self) -> i32 {
        self.to.iter().copied().fold(self.from, i32::min)
    }

    fn high(&self) -> i32 {
        self.to.iter().copied().fold(self.from, i32::max)
    }

    fn is_straight(&self) -> bool {
        self.low() == self.high()
    }
}

/// The track of each net, none for straight ones. A net that arrives at the height where another one leaves stands to the
/// right of it, so that the two don't run into each other.
fn tracks(nets: &[Net]) -> Vec<Option<usize>> {
    let bent: Vec<usize> = (0..nets.len()).filter(|n| !nets[*n].is_straight()).collect();
    let mut leaving: BTreeMap<i32, Vec<usize>> = BTreeMap::new();
    for n in &bent {
        leaving.entry(nets[*n].from).or_default().push(*n);
    }
    // Nets that must stand to the left of each.
    let lefts = |n: usize| {
        let at = nets[n].to.iter().filter_map(|y| leaving.get(y)).flatten().copied();
        at.filter(move |other| *other != n)
    };
    let mut found: Vec<Option<usize>> = vec![None; nets.len()];
    let mut taken: Vec<Vec<(i32, i32)>> = Vec::new();
    let mut waiting = bent.clone();
    waiting.sort_by_key(|n| (nets[*n].low(), nets[*n].high(), *n));
    while !waiting.is_empty() {
        // One that waits for none, else the first: two that wait for each other can't both have their way.
        let ready = waiting.iter().position(|n| lefts(*n).all(|l| found[l].is_some())).unwrap_or(0);
        let net = waiting.remove(ready);
        let least = lefts(net).filter_map(|l| found[l]).map(|t| t + 1).max().unwrap_or(0);
        let (low, high) = (nets[net].low(), nets[net].high());
        let is_free = |spans: &Vec<(i32, i32)>| spans.iter().all(|(l, h)| *h + 4 < low || high + 4 < *l);
        let track = (least..taken.len()).find(|t| is_free(&taken[*t])).unwrap_or(least.max(taken.len()));
        taken.resize(taken.len().max(track + 1), Vec::new());
        taken[track].push((low, high));
        found[net] = Some(track);
    }
    found
}

/// Lays wires between placed items.
pub(crate) fn route(graph: &Graph, placed: &Placed) -> Drawing {
    let ranked = &placed.ranked;
    let mut wires: Vec<Wire> = vec![Wire::default(); graph.wires.len()];
    let mut blocks: Vec<Option<Block>> = vec![None; graph.symbols.len()];
    let mut left = FRAME;
    let mut bottom = 0;
    for (rank, items) in ranked.ranks.iter().enumerate() {
        let widths = items.iter().map(|i| if let Item::Symbol(s) = i { size(&graph.symbols[*s]).0 } else { 0 });
        let width = widths.max().unwrap_or(0);
        let right = left + width;
        for (at, item) in items.iter().enumerate() {
            let top = FRAME + placed.tops[rank][at];
            match item {
                Item::Symbol(s) => {
                    let block = block(graph, *s, (left, top), width, &mut wires, rank == 0);
                    bottom = bottom.max(top + block.size.1);
                    blocks[*s] = Some(block);
                }
                Item::Pass(wire) => {
                    let y = top + offset(graph, *item, 0, true);
                    if width > 0 {
                        wires[*wire].pieces.push([(left, y), (right, y)]);
                    }
                    bottom = bottom.max(y);
                }
            }
        }
        let mut nets: BTreeMap<usize, Net> = BTreeMap::new();
        for link in &ranked.links[rank] {
            let from = items[link.from];
            let to = ranked.ranks[rank + 1][link.to];
            let leaves = FRAME + placed.tops[rank][link.from] + offset(graph, from, link.from_pin, false);
            let meets = FRAME + placed.tops[rank + 1][link.to] + offset(graph, to, link.to_pin, true);
            let net = nets.entry(link.wire).or_insert(Net { wire: link.wire, from: leaves, to: Vec::new() });
            if !net.to.contains(&meets) {
                net.to.push(meets);
            }
        }
        let nets: Vec<Net> = nets.into_values().collect();
        let tracks = tracks(&nets);
        let count = tracks.iter().flatten().max().map_or(0, |t| t + 1) as i32;
        let next = right + if rank + 1 < ranked.ranks.len() { 2 * MARGIN + count.max(1) * TRACK - TRACK } else { 0 };
        for (net, track) in nets.iter().zip(&tracks) {
            draw(&mut wires[net.wire], net, track.map(|t| right + MARGIN + t as i32 * TRACK), (right, next));
        }
        left = next;
    }
    let blocks: Vec<Block> = blocks.into_iter().flatten().collect();
    for wire in &mut wires {
        wire.pieces.retain(|[a, b]| a != b);
    }
    Drawing { blocks, wires, size: (left + FRAME, bottom + FRAME) }
}

/// The pieces of a net in the space between two ranks.
fn draw(wire: &mut Wire, net: &Net, track: Option<i32>, (left, right): (i32, i32)) {
    let Some(x) = track else {
        wire.pieces.push([(left, net.from), (right, net.from)]);
        return;
    };
    wire.pieces.push([(left, net.from), (x, net.from)]);
    for y in &net.to {
        wire.pieces.push([(x, *y), (right, *y)]);
    }
    // A joint where a third piece meets the upright one, or where a wire goes straight on past it.
    let mut heights: Vec<i32> = net.to.clone();
    heights.push(net.from);
    heights.sort_unstable();
    let straight_on = net.to.contains(&net.from);
    heights.dedup();
    // The upright piece ends at each place where another one meets it.
    wire.pieces.extend(heights.windows(2).map(|pair| [(x, pair[0]), (x, pair[1])]));
    for y in heights {
        let inside = net.low() < y && y < net.high();
        if inside || (y == net.from && straight_on) {
            wire.joints.push((x, y));
        }
    }
}

/// A symbol with its pins; short pieces lead from narrow symbols to the edges of their rank.
fn block(
    graph: &Graph,
    number: usize,
    (left, top): (i32, i32),
    width: i32,
    wires: &mut [Wire],
    at_right: bool,
) -> Block {
    let symbol = graph.symbols[number].clone();
    let own = size(&symbol);
    // Inputs end at one line, and so what reads them starts at one.
    let x = match symbol.kind {
        BlockKind::Output | BlockKind::FlipFlop => left,
        _ if at_right => left + width - own.0,
        _ => left + (width - own.0) / 2,
    };
    let mut pins = Vec::new();
    for (pin, end) in symbol.inputs.iter().enumerate() {
        let at = (x, top + pin_offset(&symbol, pin, true));
        wires[end.wire].pieces.push([(left, at.1), at]);
        pins.push(Pin { at, wire: end.wire, is_input: true, inverted: end.inverted, name: end.name.clone() });
    }
    for (pin, end) in symbol.outputs.iter().enumerate() {
        let at = (x + own.0, top + pin_offset(&symbol, pin, false));
        wires[end.wire].pieces.push([at, (left + width, at.1)]);
        pins.push(Pin { at, wire: end.wire, is_input: false, inverted: end.inverted, name: end.name.clone() });
    }
    Block { symbol, at: (x, top), size: own, pins }
}
