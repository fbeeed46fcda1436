//! Drawings of random netlists: they mean what the netlist means, wires reach all their pins and nothing else, symbols stand
//! apart from each other.
#![allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]

use base::{Budget, FileId, Id, Random, Span};
use design::{Design, InputBit, Lit, LutMap, Netlist, OutputBit, Scope, ScopeKind};
use schematic::{BlockKind, Drawing, Graph, Levels, Wire, mapped, written};
use std::collections::{BTreeMap, BTreeSet};

/// A design without operators: it names no origin.
fn empty() -> Design {
    let span = Span { file: FileId::from_index(0), start: 0, end: 0 };
    Design::new(Scope {
        name: "top".into(),
        unit: "top".into(),
        parent: None,
        kind: ScopeKind::Instance,
        parameters: Vec::new(),
        ports: Vec::new(),
        span,
    })
}

/// A netlist of random gates; several of them in a row come from one place.
fn random(seed: u64, inputs: u32, gates: usize, together: usize) -> Netlist {
    let mut random = Random::new(seed);
    let mut net = Netlist::as_written();
    let file = FileId::from_index(0);
    let mut known: Vec<Lit> = Vec::new();
    for position in (0..inputs).rev() {
        let value = net.add_input();
        net.inputs.push(InputBit { port: "a".into(), position, value });
        known.push(value);
    }
    for gate in 0..gates {
        if gate % together == 0 {
            let at = gate as u32;
            net.set_origin(Some(Span { file, start: at, end: at + 1 }));
        }
        let mut pick = || {
            let lit = known[random.below(known.len())];
            if random.below(2) == 1 { !lit } else { lit }
        };
        let (a, b, c) = (pick(), pick(), pick());
        let made = match random.below(4) {
            0 => net.and(a, b),
            1 => net.or(a, b),
            2 => net.xor(a, b),
            _ => net.mux(a, b, c),
        };
        if !made.is_const() {
            known.push(made);
        }
    }
    for position in (0..3u32).rev() {
        let lit = known[known.len() - 1 - position as usize];
        let value = if position == 1 { !lit } else { lit };
        let output = OutputBit { port: "y".into(), position, value, unknown: Lit::FALSE, floating: Lit::FALSE };
        net.outputs.push(output);
    }
    net
}

/// What the drawn symbols give at the outputs, by their names, for a row of the inputs.
fn read(graph: &Graph, drawing: &Drawing, levels: &BTreeMap<String, bool>) -> BTreeMap<String, bool> {
    let mut wires: Vec<Option<bool>> = vec![None; graph.wires.len()];
    let mut found = BTreeMap::new();
    for block in &drawing.blocks {
        let symbol = &block.symbol;
        let inputs: Vec<bool> =
            block.pins.iter().filter(|p| p.is_input).map(|p| wires[p.wire].unwrap() != p.inverted).collect();
        let gives = match symbol.kind {
            BlockKind::Input => levels[&symbol.label],
            BlockKind::Constant => symbol.label == "1",
            BlockKind::And => inputs.iter().all(|l| *l),
            BlockKind::Or => inputs.iter().any(|l| *l),
            BlockKind::Xor => inputs.iter().filter(|l| **l).count() % 2 == 1,
            // The bubble at its output inverts.
            BlockKind::Not => inputs[0],
            BlockKind::Choice => inputs[if inputs[0] { 1 } else { 2 }],
            BlockKind::Function | BlockKind::Table => {
                let row = inputs.iter().fold(0, |row, l| row << 1 | usize::from(*l));
                match &symbol.truth {
                    Some(truth) => truth[row],
                    None => {
                        // A symbol with several outputs carries no table: its wires are taken from the netlist.
                        continue;
                    }
                }
            }
            BlockKind::Output => {
                found.insert(symbol.label.clone(), inputs[0]);
                continue;
            }
            BlockKind::Stored | BlockKind::FlipFlop => continue,
        };
        for pin in block.pins.iter().filter(|p| !p.is_input) {
            wires[pin.wire] = Some(gives != pin.inverted);
        }
    }
    found
}

fn rows(net: &Netlist) -> impl Iterator<Item = (u32, BTreeMap<String, bool>)> {
    let n = net.inputs.len() as u32;
    (0..1u32 << n).map(move |row| {
        let names = (0..n).map(|k| if n == 1 { "a".into() } else { format!("a[{k}]") });
        (row, names.enumerate().map(|(k, name)| (name, row >> k & 1 == 1)).collect())
    })
}

fn expected(net: &Netlist, row: u32) -> BTreeMap<String, bool> {
    let n = net.inputs.len() as u32;
    // Input 0 of the netlist is the most significant bit.
    let levels = Levels::new(net, |k| Some(row >> (n - 1 - k) & 1 == 1));
    net.outputs.iter().map(|o| (format!("y[{}]", o.position), levels.get(o.value).unwrap())).collect()
}

/// Points of a grid that a wire covers.
fn points(wire: &Wire) -> BTreeSet<(i32, i32)> {
    let mut set = BTreeSet::new();
    for [a, b] in &wire.pieces {
        assert!(a.0 == b.0 || a.1 == b.1, "a piece is level or upright: {a:?} to {b:?}");
        for x in a.0.min(b.0)..=a.0.max(b.0) {
            for y in a.1.min(b.1)..=a.1.max(b.1) {
                set.insert((x, y));
            }
        }
    }
    set
}

/// How many points can be reached along the wire from one of them.
fn reached(all: &BTreeSet<(i32, i32)>) -> usize {
    let mut seen = BTreeSet::new();
    let mut stack: Vec<(i32, i32)> = all.iter().take(1).copied().collect();
    while let Some((x, y)) = stack.pop() {
        if all.contains(&(x, y)) && seen.insert((x, y)) {
            stack.extend([(x + 1, y), (x - 1, y), (x, y + 1), (x, y - 1)]);
        }
    }
    seen.len()
}

fn is_well_drawn(drawing: &Drawing) {
    let inside = |(x, y): (i32, i32)| x >= 0 && y >= 0 && x <= drawing.size.0 && y <= drawing.size.1;
    for (i, a) in drawing.blocks.iter().enumerate() {
        assert!(inside(a.at) && inside((a.at.0 + a.size.0, a.at.1 + a.size.1)));
        for b in &drawing.blocks[i + 1..] {
            let apart = a.at.0 + a.size.0 <= b.at.0
                || b.at.0 + b.size.0 <= a.at.0
                || a.at.1 + a.size.1 <= b.at.1
                || b.at.1 + b.size.1 <= a.at.1;
            assert!(apart, "{a:?} lies on {b:?}");
        }
    }
    let is_read = |k: usize| drawing.blocks.iter().flat_map(|b| &b.pins).any(|p| p.is_input && p.wire == k);
    for (k, wire) in drawing.wires.iter().enumerate().filter(|(k, _)| is_read(*k)) {
        let covered = points(wire);
        assert_eq!(reached(&covered), covered.len(), "wire {k} hangs together");
        assert!(covered.iter().all(|p| inside(*p)));
        for block in &drawing.blocks {
            let (x, y) = block.at;
            let within = |p: &&(i32, i32)| p.0 > x && p.0 < x + block.size.0 && p.1 > y && p.1 < y + block.size.1;
            assert_eq!(covered.iter().find(within), None, "wire {k} runs through {:?}", block.symbol.kind);
            for pin in block.pins.iter().filter(|p| p.wire == k) {
                assert!(covered.contains(&pin.at), "wire {k} reaches its pin");
            }
        }
    }
}

/// Pairs of wires that run along each other on the same line.
fn overlaps(drawing: &Drawing) -> usize {
    let all: Vec<BTreeSet<(i32, i32)>> = drawing.wires.iter().map(points).collect();
    let mut count = 0;
    for (i, a) in all.iter().enumerate() {
        for b in &all[i + 1..] {
            let shared: BTreeSet<(i32, i32)> = a.intersection(b).copied().collect();
            count +=
                usize::from(shared.iter().any(|(x, y)| shared.contains(&(x + 1, *y)) || shared.contains(&(*x, y + 1))));
        }
    }
    count
}

#[test]
fn a_drawing_as_written_means_what_the_netlist_means() {
    let mut compared = 0;
    for seed in 1..=90 {
        let net = random(seed, 4, 3 + seed as usize / 3, 1 + seed as usize % 4);
        let graph = written(&net, &empty(), None, |_| "f".into()).unwrap();
        let drawing = graph.drawing();
        is_well_drawn(&drawing);
        let whole = graph.symbols.iter().all(|s| !matches!(s.kind, BlockKind::Function) || s.truth.is_some());
        for (row, levels) in rows(&net).filter(|_| whole) {
            assert_eq!(read(&graph, &drawing, &levels), expected(&net, row), "seed {seed}, row {row:04b}");
            compared += 1;
        }
    }
    assert!(compared > 300, "{compared} rows were compared");
}

#[test]
fn a_drawing_as_mapped_means_what_the_netlist_means() {
    for seed in 1..=40 {
        let net = random(seed, 5, 10 + seed as usize, 1);
        let cover = LutMap::new(&net, if seed % 2 == 0 { 4 } else { 6 }, &mut Budget::hand_in()).unwrap();
        let graph = mapped(&net, &cover, None).unwrap();
        let tables = graph.symbols.iter().filter(|s| s.kind == BlockKind::Table).count();
        assert_eq!(tables, cover.luts.len(), "every table is drawn once");
        let drawing = graph.drawing();
        is_well_drawn(&drawing);
        for (row, levels) in rows(&net) {
            assert_eq!(read(&graph, &drawing, &levels), expected(&net, row), "seed {seed}, row {row:05b}");
        }
    }
}

#[test]
fn one_output_is_drawn_with_what_it_depends_on() {
    for seed in 1..=20 {
        let net = random(seed, 4, 12, 1);
        let whole = written(&net, &empty(), None, |_| String::new()).unwrap();
        for k in 0..net.outputs.len() {
            let part = written(&net, &empty(), Some(k), |_| String::new()).unwrap();
            assert!(part.symbols.len() <= whole.symbols.len());
            let drawing = part.drawing();
            is_well_drawn(&drawing);
            let name = format!("y[{}]", net.outputs[k].position);
            if part.symbols.iter().any(|s| s.kind == BlockKind::Function && s.truth.is_none()) {
                continue;
            }
            for (row, levels) in rows(&net) {
                assert_eq!(read(&part, &drawing, &levels).get(&name), expected(&net, row).get(&name));
            }
        }
    }
}

#[test]
fn wires_seldom_run_along_each_other() {
    let (mut wires, mut along) = (0, 0);
    for seed in 1..=30 {
        let net = random(seed, 5, 25, 1);
        let drawing = written(&net, &empty(), None, |_| String::new()).unwrap().drawing();
        wires += drawing.wires.len();
        along += overlaps(&drawing);
    }
    // Two nets that each have to stand to the left of the other leave no choice.
    assert!(along * 100 <= wires, "{along} of {wires} wires");
}

#[test]
fn wires_that_decide_a_level_are_enough_to_decide_it() {
    for seed in 1..=20 {
        let net = random(seed, 5, 20, 2);
        for row in 0..32u32 {
            let levels = Levels::new(&net, |k| Some(row >> k & 1 == 1));
            for output in &net.outputs {
                let deciding: BTreeSet<usize> =
                    levels.deciding(&net, output.value).into_iter().map(|id| id.index()).collect();
                // With all other inputs unknown the output still has its level.
                let known = |k: u32| {
                    let node = net
                        .inputs
                        .iter()
                        .find(|i| matches!(net.node(i.value.node()), design::Node::Input(n) if n == k));
                    deciding.contains(&node.unwrap().value.node().index()).then_some(row >> k & 1 == 1)
                };
                let again = Levels::new(&net, known);
                assert_eq!(again.get(output.value), levels.get(output.value), "seed {seed}, row {row:05b}");
            }
        }
    }
}

#[test]
fn a_netlist_with_too_many_symbols_is_refused() {
    let net = random(5, 12, 3_000, 1);
    let roots: Vec<Lit> = net.outputs.iter().map(|o| o.value).collect();
    let found = written(&net, &empty(), None, |_| String::new());
    if net.cone(&roots).len() > 1_000 {
        assert!(found.unwrap_err().blocks > 260);
    }
}
