//! The drawing as written: the nodes that one operator of the source made become one symbol (see [`Netlist::as_written`]).

use crate::graph::{BlockKind, End, Graph, Symbol, TooLarge};
use crate::groups::{Found, Groups, Part, Words, truth};
use crate::recognise::MOST_INPUTS;
use crate::writer::Writer;
use base::{Id, Span};
use design::{Design, Lit, Netlist, NodeId};

/// The largest netlist whose nodes are joined to symbols.
pub const MOST_NODES: usize = 6_000;

/// The drawing of a netlist as its source has it; of one output bit only, by its number, or of everything. `text` says
/// how a place of the source reads, for symbols that are no gates.
///
/// # Errors
/// When there are more symbols than a drawing holds.
pub fn written(
    net: &Netlist,
    design: &Design,
    only: Option<usize>,
    text: impl Fn(Span) -> String,
) -> Result<Graph, TooLarge> {
    let mut writer = Writer::new(net, only);
    let roots = writer.roots.lits(net);
    let cone = net.cone(&roots);
    if cone.len() > MOST_NODES {
        return Err(TooLarge { blocks: cone.len() });
    }
    let words = Words::new(design);
    let groups = Groups::new(net, &cone, &roots, &words);
    // What each group is, before it is settled which literals its readers want.
    let order = order(net, &groups, &roots);
    let parts: Vec<Part> = order.iter().map(|group| Part::new(net, &groups, *group, &roots, &words)).collect();
    let uses = Uses::new(net, &parts, &roots, &words);
    for part in parts {
        if let (Some(found), [output]) = (&part.gate, part.outputs.as_slice()) {
            place_gate(&mut writer, &uses, *output, found, part.origin);
            continue;
        }
        let label = |s: Span| words.words.get(&s).map_or_else(|| text(s), |w| (*w).into());
        let label = part.origin.map_or_else(String::new, label);
        place_function(&mut writer, (net, &uses), &part.outputs, &part.leaves, (label, part.origin));
    }
    writer.finish()
}

/// How much each literal of a node is wanted by those that read it.
struct Uses {
    plain: Vec<u32>,
    complement: Vec<u32>,
}

impl Uses {
    fn new(net: &Netlist, parts: &[Part], roots: &[Lit], words: &Words) -> Self {
        let mut uses = Self { plain: vec![0; net.len()], complement: vec![0; net.len()] };
        for part in parts {
            let Some(gate) = &part.gate else { continue };
            // A gate that was written is drawn as it was, others without a bubble where nothing else counts.
            if let [output] = part.outputs[..] {
                let turned = part.origin.is_some_and(|s| words.inverted.contains(&s));
                let written = matches!(words.of(part.origin), Some("&" | "|" | "^"));
                let (bubble, weight) = if written { (turned, 1_000) } else { (false, 1) };
                uses.count(Lit::new(output, gate.inverted != bubble), weight);
            }
            // Gates that take both levels alike want neither.
            if matches!(gate.kind, BlockKind::And | BlockKind::Or | BlockKind::Not) {
                gate.inputs.iter().for_each(|lit| uses.count(*lit, 2));
            }
        }
        // An inverter in front of an output is a symbol, at a gate it is a bubble.
        roots.iter().for_each(|root| uses.count(*root, 6));
        uses
    }

    fn count(&mut self, lit: Lit, by: u32) {
        let list = if lit.is_complement() { &mut self.complement } else { &mut self.plain };
        list[lit.node().index()] += by;
    }

    /// The literal that most readers want.
    fn wanted(&self, id: NodeId) -> Lit {
        Lit::new(id, self.complement[id.index()] > self.plain[id.index()])
    }
}

/// Groups that the roots depend on, each behind those that it reads.
fn order(net: &Netlist, groups: &Groups, roots: &[Lit]) -> Vec<usize> {
    let mut list = Vec::new();
    let mut state = vec![0u8; groups.members.len()];
    let group_of = |id: NodeId| Some(groups.of[id.index()]).filter(|g| *g != usize::MAX);
    let mut stack: Vec<usize> = roots.iter().rev().filter_map(|l| group_of(l.node())).collect();
    while let Some(group) = stack.pop() {
        match state[group] {
            0 => {
                state[group] = 1;
                stack.push(group);
                let sources = groups.sources(net, &groups.members[group], &[group]);
                stack.extend(sources.into_iter().rev().filter_map(group_of).filter(|g| state[*g] == 0));
            }
            1 => {
                state[group] = 2;
                list.push(group);
            }
            _ => {}
        }
    }
    list
}

fn place_gate(writer: &mut Writer<'_>, uses: &Uses, output: NodeId, found: &Found, span: Option<Span>) {
    let wanted = uses.wanted(output);
    let inputs = found.inputs.iter().map(|lit| {
        let (wire, inverted) = writer.reads(*lit);
        End { wire, inverted, name: String::new() }
    });
    let mut inputs: Vec<End> = inputs.collect();
    if found.kind == BlockKind::Choice {
        for (end, name) in inputs.iter_mut().zip(["", "1", "0"]) {
            end.name = name.into();
        }
    }
    let wire = writer.carries(wanted);
    let mut inverted = found.inverted != wanted.is_complement();
    if found.kind == BlockKind::Xor {
        // Bubbles of an exclusive OR cancel each other.
        inverted ^= inputs.iter().filter(|e| e.inverted).count() % 2 == 1;
        inputs.iter_mut().for_each(|e| e.inverted = false);
    }
    if found.kind == BlockKind::Choice {
        // The complement of a choice is the choice of the complements, and one bubble is better than two.
        let data = inputs.iter().skip(1).filter(|e| e.inverted).count() + usize::from(inverted);
        if data > 1 || inverted {
            inputs.iter_mut().skip(1).for_each(|e| e.inverted = !e.inverted);
            inverted = !inverted;
        }
    }
    let outputs = vec![End { wire, inverted, name: String::new() }];
    let label = String::new();
    writer.graph.symbols.push(Symbol { kind: found.kind, label, span, truth: None, inputs, outputs });
}

fn place_function(
    writer: &mut Writer<'_>,
    (net, uses): (&Netlist, &Uses),
    given: &[NodeId],
    leaves: &[NodeId],
    (label, span): (String, Option<Span>),
) {
    let plain = |wire| End { wire, inverted: false, name: String::new() };
    let reads: Vec<(usize, bool)> = leaves.iter().map(|leaf| writer.reads(Lit::new(*leaf, false))).collect();
    let inputs = reads.iter().map(|(wire, _)| plain(*wire)).collect();
    let mut table = None;
    if let ([output], true) = (given, leaves.len() <= MOST_INPUTS) {
        let word = truth(net, *output, leaves);
        let wanted = uses.wanted(*output).is_complement();
        let n = leaves.len();
        // Rows count from the first input down; a wire that carries the complement is read as it is.
        let row = |row: usize| {
            let at = (0..n).fold(0, |at, k| at | usize::from((row >> (n - 1 - k) & 1 == 1) != reads[k].1) << k);
            (word >> at & 1 == 1) != wanted
        };
        table = Some((0..1usize << n).map(row).collect());
    }
    let outputs = given.iter().map(|id| plain(writer.carries(uses.wanted(*id)))).collect();
    writer.graph.symbols.push(Symbol { kind: BlockKind::Function, label, span, truth: table, inputs, outputs });
}
