//! The level of each wire for levels of the inputs, and which wires decide an output.

use base::Id;
use design::{Lit, Netlist, Node, NodeId};

/// Levels of all nodes of a netlist; `None` where one is unknown.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Levels {
    of: Vec<Option<bool>>,
}

impl Levels {
    /// Works them out from the levels of the netlist's inputs, by their number.
    pub fn new(net: &Netlist, input: impl Fn(u32) -> Option<bool>) -> Self {
        let mut levels = Self { of: vec![None; net.len()] };
        for index in 0..net.len() {
            levels.of[index] = match net.node(NodeId::from_index(index)) {
                Node::False => Some(false),
                Node::Input(k) => input(k),
                Node::And(a, b) => match (levels.get(a), levels.get(b)) {
                    (Some(false), _) | (_, Some(false)) => Some(false),
                    (Some(true), Some(true)) => Some(true),
                    _ => None,
                },
            };
        }
        levels
    }

    /// The level of a literal.
    pub fn get(&self, lit: Lit) -> Option<bool> {
        self.of.get(lit.node().index()).copied().flatten().map(|l| l != lit.is_complement())
    }

    /// The nodes that decide the level of a literal: behind an AND that is 0 the way goes on through one side that is 0,
    /// behind one that is 1 through both, behind an unknown one through what is unknown.
    pub fn deciding(&self, net: &Netlist, root: Lit) -> Vec<NodeId> {
        let mut seen = vec![false; net.len()];
        let mut list = Vec::new();
        let mut stack = vec![root.node()];
        while let Some(id) = stack.pop() {
            if std::mem::replace(&mut seen[id.index()], true) {
                continue;
            }
            list.push(id);
            let Node::And(a, b) = net.node(id) else { continue };
            let goes = |l: Lit| match self.of[id.index()] {
                Some(true) => true,
                level => self.get(l) == level,
            };
            match (goes(a), goes(b)) {
                (true, true) if self.of[id.index()] != Some(false) => stack.extend([a.node(), b.node()]),
                (true, _) => stack.push(a.node()),
                (_, true) => stack.push(b.node()),
                _ => {}
            }
        }
        list.sort_unstable();
        list
    }
}
