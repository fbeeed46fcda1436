//! What is drawn, before and after it has a place.

use base::Span;
use design::Lit;

/// The most symbols that a drawing has: more than that nobody reads.
pub(crate) const MOST_BLOCKS: usize = 260;

/// A netlist has too many symbols for a drawing.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct TooLarge {
    /// How many there are, at least.
    pub blocks: usize,
}

impl std::fmt::Display for TooLarge {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "it has {} symbols, and a drawing holds {MOST_BLOCKS}", self.blocks)
    }
}

/// What a symbol stands for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum BlockKind {
    /// An input bit.
    Input,
    /// An output bit.
    Output,
    /// A constant level.
    Constant,
    /// All inputs are 1.
    And,
    /// Some input is 1.
    Or,
    /// An odd number of inputs is 1.
    Xor,
    /// The complement of its input.
    Not,
    /// The first input chooses: the second one at 1, the third one at 0.
    Choice,
    /// Anything else.
    Function,
    /// A look-up table.
    Table,
    /// Where the level of a flip-flop comes from.
    Stored,
    /// Where a flip-flop gets its level.
    FlipFlop,
}

impl BlockKind {
    /// Its name in data.
    pub fn key(self) -> &'static str {
        match self {
            BlockKind::Input => "input",
            BlockKind::Output => "output",
            BlockKind::Constant => "constant",
            BlockKind::And => "and",
            BlockKind::Or => "or",
            BlockKind::Xor => "xor",
            BlockKind::Not => "not",
            BlockKind::Choice => "choice",
            BlockKind::Function => "function",
            BlockKind::Table => "table",
            BlockKind::Stored => "stored",
            BlockKind::FlipFlop => "flip_flop",
        }
    }

    /// True for what stands at the left edge.
    pub(crate) fn is_source(self) -> bool {
        matches!(self, BlockKind::Input | BlockKind::Constant | BlockKind::Stored)
    }

    /// True for what stands at the right edge.
    pub(crate) fn is_sink(self) -> bool {
        matches!(self, BlockKind::Output | BlockKind::FlipFlop)
    }
}

/// An end of a wire at a symbol that has no place yet.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct End {
    /// The wire, by its number.
    pub(crate) wire: usize,
    /// With a bubble: the level is complemented on the way in or out.
    pub(crate) inverted: bool,
    /// What is written beside it.
    pub(crate) name: String,
}

/// A symbol that has no place yet.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Symbol {
    /// What it stands for.
    pub kind: BlockKind,
    /// What is written in it.
    pub label: String,
    /// The source that made it.
    pub span: Option<Span>,
    /// What it gives for each row of its inputs, the first one most significant, where it has few of them and one output.
    pub truth: Option<Vec<bool>>,
    pub(crate) inputs: Vec<End>,
    pub(crate) outputs: Vec<End>,
}

/// Symbols and the wires between them.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Graph {
    /// The symbols; each stands behind those that it reads.
    pub symbols: Vec<Symbol>,
    /// What each wire carries.
    pub wires: Vec<Lit>,
}

/// A pin of a placed symbol.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Pin {
    /// Where the wire meets the pin.
    pub at: (i32, i32),
    /// The wire, by its number.
    pub wire: usize,
    /// An input of the symbol.
    pub is_input: bool,
    /// Drawn with a bubble.
    pub inverted: bool,
    /// What is written beside it.
    pub name: String,
}

/// A placed symbol.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Block {
    /// The symbol.
    pub symbol: Symbol,
    /// Its left upper corner.
    pub at: (i32, i32),
    /// Its width and height.
    pub size: (i32, i32),
    /// Its pins: inputs, then outputs.
    pub pins: Vec<Pin>,
}

/// A placed wire.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Wire {
    /// Straight pieces from one point to another, each level or upright; they meet at their ends only.
    pub pieces: Vec<[(i32, i32); 2]>,
    /// Where three or more pieces meet.
    pub joints: Vec<(i32, i32)>,
}

/// A graph with places.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Drawing {
    /// Symbols, in the graph's order.
    pub blocks: Vec<Block>,
    /// Wires, in the graph's order.
    pub wires: Vec<Wire>,
    /// Width and height of all of it.
    pub size: (i32, i32),
}

impl Graph {
    /// The number of a wire for a literal, a new one if there is none.
    pub(crate) fn wire(&mut self, lit: Lit) -> usize {
        self.wires.iter().position(|w| *w == lit).unwrap_or_else(|| {
            self.wires.push(lit);
            self.wires.len() - 1
        })
    }

    /// Lays the graph out.
    pub fn drawing(&self) -> Drawing {
        let ranked = crate::layers::Ranked::new(self);
        let placed = crate::place::Placed::new(self, ranked);
        crate::route::route(self, &placed)
    }
}
