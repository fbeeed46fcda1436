//! The tree the parser makes. Expressions live in an arena of their module, operands before the nodes that use them,
//! so that no nesting can overflow a stack.

use crate::lexer::Number;
use base::{Arena, Span, id_type};

id_type!(
    /// An expression of a module's tree.
    NodeId,
    "x"
);

/// A name with its place.
#[derive(Clone, Debug, PartialEq)]
pub struct Ident {
    /// The name.
    pub name: String,
    /// Where it stands.
    pub span: Span,
}

/// Which way a port goes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum PortDirection {
    /// `input`
    Input,
    /// `output`
    Output,
    /// `inout`
    InOut,
}

/// A port as the header names it, before elaboration.
#[derive(Clone, Debug, PartialEq)]
pub struct PortSummary {
    /// Its name and place.
    pub name: Ident,
    /// Its direction; `None` when the module never declares it.
    pub direction: Option<PortDirection>,
}

/// A module as it was written.
#[derive(Clone, Debug)]
pub struct Module {
    /// Its name.
    pub name: Ident,
    /// From `module` to the `;` of the header.
    pub header: Span,
    pub(crate) port_names: Vec<Ident>,
    pub(crate) items: Vec<Item>,
    pub(crate) exprs: Arena<NodeId, Node>,
    /// Time unit and precision in femtoseconds.
    pub(crate) unit: u64,
    pub(crate) precision: u64,
    /// A `timescale` says them.
    pub(crate) has_timescale: bool,
    /// Names that nobody declared are one-bit wires.
    pub(crate) implicit_nets: bool,
}

impl Module {
    /// Its ports in order.
    pub fn ports(&self) -> Vec<PortSummary> {
        let direction = |name: &str| {
            self.items.iter().find_map(|item| match item {
                Item::Declaration(d) if d.names.iter().any(|n| n.name.name == name) => d.direction,
                _ => None,
            })
        };
        self.port_names
            .iter()
            .map(|name| PortSummary { name: name.clone(), direction: direction(&name.name) })
            .collect()
    }

    /// Names of the parameters that an instance may set, in order.
    pub fn parameter_names(&self) -> Vec<&str> {
        self.items
            .iter()
            .filter_map(|item| match item {
                Item::Parameter(p) if !p.local => Some(p.name.name.as_str()),
                _ => None,
            })
            .collect()
    }

    /// The modules it instantiates.
    pub fn instantiates(&self) -> Vec<&Ident> {
        fn walk<'a>(items: &'a [Item], out: &mut Vec<&'a Ident>) {
            for item in items {
                match item {
                    Item::Instance(i) => out.push(&i.module),
                    Item::GenerateBlock { items, .. } | Item::GenerateFor { items, .. } => walk(items, out),
                    Item::GenerateIf { then, otherwise, .. } => {
                        walk(then, out);
                        walk(otherwise, out);
                    }
                    _ => {}
                }
            }
        }
        let mut list = Vec::new();
        walk(&self.items, &mut list);
        list
    }
}

#[derive(Clone, Debug)]
pub(crate) struct Range {
    pub(crate) left: NodeId,
    pub(crate) right: NodeId,
    pub(crate) span: Span,
}

/// What a declaration makes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum DataKind {
    /// `wire`, `tri` and a port without a kind.
    Wire,
    WiredAnd,
    WiredOr,
    Supply0,
    Supply1,
    Reg,
    Logic,
    Integer,
    Time,
    Real,
    /// `string`
    Text,
    Genvar,
    Event,
}

/// What a value is made of.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) enum Domain {
    #[default]
    Bits,
    /// A number of double precision.
    Real,
    /// Characters of 8 bits without zeros between them, zeros before them.
    Text,
}

impl DataKind {
    pub(crate) fn is_variable(self) -> bool {
        matches!(self, Self::Reg | Self::Logic | Self::Integer | Self::Time | Self::Real | Self::Text)
    }
}

#[derive(Clone, Debug)]
pub(crate) struct DeclaredName {
    pub(crate) name: Ident,
    pub(crate) dimensions: Vec<Range>,
    pub(crate) value: Option<NodeId>,
}

/// A packed type: a vector, a vector of vectors, a structure.
#[derive(Clone, Debug, Default)]
pub(crate) struct Packed {
    pub(crate) signed: bool,
    /// What it holds, where a word says so: a parameter without one takes what its value is.
    pub(crate) domain: Option<Domain>,
    /// Bounds of the innermost vector.
    pub(crate) range: Option<Range>,
    /// Bounds around it, the outermost first.
    pub(crate) outer: Vec<Range>,
    /// Fields of a structure, the first one the most significant; it has no range.
    pub(crate) fields: Option<std::sync::Arc<Vec<Field>>>,
    /// Its fields lie over one another (`union`).
    pub(crate) is_union: bool,
    /// It begins with 0 (`bit`, `byte`, `shortint`, `int`, `longint`; IEEE 1800-2017 table 6-7).
    pub(crate) two_state: bool,
    /// Names of the values of an enumeration; they stand among the constants, too.
    pub(crate) values: std::sync::Arc<[String]>,
}

#[derive(Clone, Debug)]
pub(crate) struct Field {
    pub(crate) name: Ident,
    pub(crate) ty: Packed,
}

#[derive(Clone, Debug)]
pub(crate) struct Declaration {
    pub(crate) direction: Option<PortDirection>,
    /// `None` for a port that says no kind.
    pub(crate) kind: Option<DataKind>,
    pub(crate) ty: Packed,
    pub(crate) names: Vec<DeclaredName>,
    pub(crate) span: Span,
}

#[derive(Clone, Debug)]
pub(crate) struct Parameter {
    pub(crate) name: Ident,
    pub(crate) local: bool,
    pub(crate) ty: Packed,
    /// Bounds of an array of constants.
    pub(crate) dimensions: Vec<Range>,
    pub(crate) value: NodeId,
}

#[derive(Clone, Debug)]
pub(crate) struct Connection {
    /// `None` for a connection by position.
    pub(crate) port: Option<Ident>,
    /// `None` for an open one.
    pub(crate) value: Option<NodeId>,
    pub(crate) span: Span,
}

#[derive(Clone, Debug)]
pub(crate) struct Instance {
    pub(crate) module: Ident,
    pub(crate) name: Ident,
    pub(crate) array: Option<Range>,
    pub(crate) parameters: Vec<Connection>,
    pub(crate) connections: Vec<Connection>,
    /// `.*`
    pub(crate) wildcard: bool,
    pub(crate) span: Span,
}

#[derive(Clone, Debug)]
pub(crate) struct Gate {
    pub(crate) delay: Option<NodeId>,
    pub(crate) kind: &'static str,
    pub(crate) name: Option<Ident>,
    pub(crate) array: Option<Range>,
    pub(crate) terminals: Vec<NodeId>,
    pub(crate) span: Span,
}

#[derive(Clone, Debug)]
pub(crate) struct Routine {
    pub(crate) name: Ident,
    /// The result's range; a task has none.
    pub(crate) result: Option<Declaration>,
    pub(crate) declarations: Vec<Declaration>,
    pub(crate) body: Vec<Stmt>,
    /// Its variables are made anew at each call.
    pub(crate) automatic: bool,
    pub(crate) span: Span,
}

#[derive(Clone, Debug)]
pub(crate) enum Item {
    Declaration(Declaration),
    Parameter(Parameter),
    Assign {
        target: NodeId,
        value: NodeId,
        delay: Option<NodeId>,
        span: Span,
    },
    /// `defparam u1.N = 4;`
    Defparam {
        path: Vec<Ident>,
        value: NodeId,
    },
    Gate(Gate),
    Instance(Instance),
    Always {
        kind: AlwaysKind,
        body: Stmt,
        span: Span,
    },
    Initial {
        body: Stmt,
        span: Span,
    },
    /// `final`: when the simulation ends.
    Final {
        body: Stmt,
        span: Span,
    },
    Routine(Routine),
    GenerateBlock {
        label: Option<Ident>,
        items: Vec<Item>,
    },
    GenerateFor {
        variable: Ident,
        start: NodeId,
        condition: NodeId,
        step: NodeId,
        label: Option<Ident>,
        items: Vec<Item>,
        span: Span,
    },
    GenerateIf {
        condition: NodeId,
        then: Vec<Item>,
        otherwise: Vec<Item>,
    },
    /// Legal, but not read by this version.
    Unread {
        what: String,
        span: Span,
    },
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum AlwaysKind {
    Plain,
    Comb,
    Latch,
    Ff,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum EdgeKind {
    Any,
    Rising,
    Falling,
}

#[derive(Clone, Debug)]
pub(crate) enum Control {
    /// `@*`
    Star,
    Events(Vec<(EdgeKind, NodeId)>),
    Delay(NodeId),
    /// `repeat (n) @(…)` within an assignment.
    Repeated(NodeId, Box<Control>),
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum CaseKind {
    Exact,
    HighZ,
    Unknown,
}

#[derive(Clone, Debug)]
pub(crate) struct CaseArm {
    /// Empty for `default`.
    pub(crate) choices: Vec<NodeId>,
    pub(crate) body: Stmt,
    pub(crate) span: Span,
}

#[derive(Clone, Debug)]
pub(crate) enum StmtKind {
    Empty,
    Assign {
        target: NodeId,
        value: NodeId,
        blocking: bool,
        delay: Option<Control>,
    },
    If {
        condition: NodeId,
        then: Box<Stmt>,
        otherwise: Option<Box<Stmt>>,
    },
    Case {
        kind: CaseKind,
        subject: NodeId,
        arms: Vec<CaseArm>,
    },
    For {
        declared: Option<Declaration>,
        start: Vec<Stmt>,
        condition: NodeId,
        step: Vec<Stmt>,
        body: Box<Stmt>,
    },
    While {
        condition: NodeId,
        body: Box<Stmt>,
    },
    Repeat {
        count: NodeId,
        body: Box<Stmt>,
    },
    Forever {
        body: Box<Stmt>,
    },
    Block {
        label: Option<Ident>,
        declarations: Vec<Declaration>,
        body: Vec<Stmt>,
    },
    Controlled {
        control: Control,
        body: Box<Stmt>,
    },
    Wait {
        condition: NodeId,
        body: Box<Stmt>,
    },
    Disable(Ident),
    Break,
    Continue,
    /// `-> e;`
    Trigger(Ident),
    /// `assert (c) … else …`
    Assert {
        condition: NodeId,
        then: Box<Stmt>,
        otherwise: Option<Box<Stmt>>,
    },
    Return(Option<NodeId>),
    /// `void'(f(x));`: the value is dropped.
    Dropped(NodeId),
    /// `force x = y;` and `assign x = y;` in a block, without a value `release x;` and `deassign x;`.
    Force {
        target: NodeId,
        value: Option<NodeId>,
        held: Held,
    },
    SystemCall {
        name: String,
        arguments: Vec<NodeId>,
    },
    Call {
        name: Ident,
        arguments: Vec<NodeId>,
    },
    /// Several at once.
    Fork {
        label: Option<Ident>,
        branches: Vec<Stmt>,
        join: Join,
    },
    /// `wait fork;`: for all that was forked.
    WaitForked,
    /// `disable fork;`: ends all that was forked.
    DisableForked,
    /// Over the indices of an array, the first bounds first.
    Foreach {
        array: Ident,
        variables: Vec<Ident>,
        body: Box<Stmt>,
    },
}

/// How a level is held.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Held {
    Forced,
    Assigned,
}

/// What a fork waits for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Join {
    All,
    Any,
    None,
}

#[derive(Clone, Debug)]
pub(crate) struct Stmt {
    pub(crate) kind: StmtKind,
    pub(crate) span: Span,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Unary {
    Plus,
    Minus,
    LogicalNot,
    Not,
    And,
    Nand,
    Or,
    Nor,
    Xor,
    Xnor,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Binary {
    Pow,
    Mul,
    Div,
    Rem,
    Add,
    Sub,
    ShiftLeft,
    ShiftRight,
    ArithmeticLeft,
    ArithmeticRight,
    Less,
    LessEqual,
    Greater,
    GreaterEqual,
    Equal,
    NotEqual,
    CaseEqual,
    CaseNotEqual,
    /// `==?`: unknown bits on the right fit anything.
    WildEqual,
    WildNotEqual,
    And,
    Xor,
    Xnor,
    Or,
    LogicalAnd,
    LogicalOr,
}

#[derive(Clone, Debug)]
pub(crate) enum NodeKind {
    /// An argument by its name; without a value its usual one.
    Named {
        name: Ident,
        value: Option<NodeId>,
    },
    Number(Number),
    Real(f64),
    /// A time in femtoseconds.
    Time(f64),
    /// `(rise, fall, turn off)` behind a `#`.
    Delays(Vec<NodeId>),
    Text(String),
    Name(Ident),
    /// `u1.carry`, `word.high`
    Path(Vec<Ident>),
    /// `word[1].high`
    Member {
        base: NodeId,
        field: Ident,
    },
    /// `'{a, b}`, `'{x: a, default: b}`; a missing key is a place in the list.
    Pattern(Vec<(Option<PatternKey>, NodeId)>),
    Index {
        base: NodeId,
        index: NodeId,
    },
    Part {
        base: NodeId,
        left: NodeId,
        right: NodeId,
    },
    /// `base[start +: width]`, or `-:` when `down`.
    IndexedPart {
        base: NodeId,
        start: NodeId,
        width: NodeId,
        down: bool,
    },
    Unary(Unary, NodeId),
    Binary(Binary, NodeId, NodeId),
    Ternary(NodeId, NodeId, NodeId),
    Concat(Vec<NodeId>),
    Replicate {
        count: NodeId,
        parts: Vec<NodeId>,
    },
    Call {
        name: Ident,
        arguments: Vec<NodeId>,
    },
    System {
        name: String,
        arguments: Vec<NodeId>,
    },
    /// Stands where the parser found no expression.
    Missing,
}

#[derive(Clone, Debug)]
pub(crate) enum PatternKey {
    Default,
    Name(Ident),
    Index(NodeId),
}

#[derive(Clone, Debug)]
pub(crate) struct Node {
    pub(crate) kind: NodeKind,
    pub(crate) span: Span,
}
