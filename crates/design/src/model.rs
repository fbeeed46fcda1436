//! Scopes, types, signals and variables: what a design is made of once elaborated, besides its processes.

use crate::expr::Expr;
use crate::ids::{ExprId, ProcessId, ScopeId, SignalId, SubprogramId, TypeId, VariableId};
use crate::process::{Process, Stmt};
use crate::scan::TextFile;
use base::{Arena, Span};
use logic::{LogicVector, Shape};
use std::collections::BTreeMap;

/// Which levels a bit can have.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum LevelSet {
    /// 0 and 1.
    Two,
    /// X 0 1 Z.
    Four,
    /// The nine of IEEE 1164.
    Nine,
}

/// A type as the source declared it; everything but text and time is also a number of bits.
#[derive(Clone, Debug, PartialEq)]
pub enum TypeKind {
    /// A bit or vector of bits.
    Logic {
        /// Width and bounds.
        shape: Shape,
        /// Two's complement when true.
        signed: bool,
        /// Possible levels of each bit.
        levels: LevelSet,
    },
    /// A whole number within bounds, held as two's complement.
    Integer {
        /// Smallest value.
        low: i64,
        /// Largest value.
        high: i64,
    },
    /// One of named values, held as its position.
    Enumeration {
        /// The names, the first one with position 0.
        literals: Vec<String>,
    },
    /// Equal elements; the one at the left bound is the most significant.
    Array {
        /// Type of each element.
        element: TypeId,
        /// Left bound as declared.
        left: i64,
        /// Right bound as declared.
        right: i64,
    },
    /// Named fields, the first one the most significant.
    Record {
        /// Names and types.
        fields: Vec<(String, TypeId)>,
    },
    /// A number of double precision in 64 bits (IEEE 754); simulation only.
    Real,
    /// A stretch of time in femtoseconds; simulation only.
    Time,
    /// Characters; simulation only.
    Text,
}

/// A type with its name for people.
#[derive(Clone, Debug, PartialEq)]
pub struct Type {
    /// What it is.
    pub kind: TypeKind,
    /// The name it was declared with.
    pub name: Option<String>,
}

/// How several drivers of a net make one level.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum NetKind {
    /// Different strong levels make X (IEEE 1364 `wire`, IEEE 1164 `std_logic`).
    Resolved,
    /// Any 0 makes 0.
    WiredAnd,
    /// Any 1 makes 1.
    WiredOr,
    /// Two drivers are an error (`std_ulogic`).
    Unresolved,
    /// Always 0.
    Supply0,
    /// Always 1.
    Supply1,
}

/// What holds a signal's level.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum SignalKind {
    /// Driven all the time; floats without a driver.
    Net(NetKind),
    /// Keeps what was last assigned.
    Variable,
}

/// A signal of the design.
#[derive(Clone, Debug, PartialEq)]
pub struct Signal {
    /// Name in its scope; empty for one that the source doesn't name.
    pub name: String,
    /// Where it was declared.
    pub scope: ScopeId,
    /// Its type.
    pub ty: TypeId,
    /// Net or variable.
    pub kind: SignalKind,
    /// Value at start; `None` for the type's own (X, U or Z).
    pub initial: Option<LogicVector>,
    /// Its declaration.
    pub span: Span,
}

/// A variable of a process or subprogram.
#[derive(Clone, Debug, PartialEq)]
pub struct Variable {
    /// Name.
    pub name: String,
    /// Its type.
    pub ty: TypeId,
    /// Value at start (of the simulation for a process, of each call for a subprogram).
    pub initial: Option<LogicVector>,
    /// Its declaration.
    pub span: Span,
}

/// Which way a port goes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Direction {
    /// Into the unit.
    In,
    /// Out of the unit.
    Out,
    /// Both.
    InOut,
}

impl Direction {
    /// `input`, `output` or `inout`.
    pub fn word(self) -> &'static str {
        match self {
            Direction::In => "input",
            Direction::Out => "output",
            Direction::InOut => "inout",
        }
    }
}

/// A port of an instance: a signal of its scope.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Port {
    /// The signal inside.
    pub signal: SignalId,
    /// Its direction.
    pub direction: Direction,
    /// Its declaration.
    pub span: Span,
}

/// What made a scope.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ScopeKind {
    /// A module or entity instance.
    Instance,
    /// One turn of a generate.
    Generate,
    /// A named block.
    Block,
}

/// A level of the hierarchy.
#[derive(Clone, Debug, PartialEq)]
pub struct Scope {
    /// Instance or block name; the unit's name for the top.
    pub name: String,
    /// The module or entity it is an instance of.
    pub unit: String,
    /// The scope around it; `None` for the top.
    pub parent: Option<ScopeId>,
    /// What made it.
    pub kind: ScopeKind,
    /// Parameters or generics with their values.
    pub parameters: Vec<(String, LogicVector)>,
    /// Ports, in declaration order.
    pub ports: Vec<Port>,
    /// The instantiation, or the unit's header for the top.
    pub span: Span,
}

/// A function, procedure or task.
#[derive(Clone, Debug, PartialEq)]
pub struct Subprogram {
    /// Name.
    pub name: String,
    /// Formal parameters in order, each with its direction.
    pub parameters: Vec<(VariableId, Direction)>,
    /// Where a function leaves its result.
    pub result: Option<VariableId>,
    /// What it does.
    pub body: Vec<Stmt>,
    /// Its declaration.
    pub span: Span,
}

/// A design after elaboration: one tree of scopes with signals and processes. `Send + Sync`, without shared pointers.
#[derive(Clone, Debug, PartialEq)]
pub struct Design {
    /// The top of the hierarchy.
    pub top: ScopeId,
    /// The finest step of time that the sources speak of, in femtoseconds.
    pub precision: u64,
    /// All scopes; a parent comes before its children.
    pub scopes: Arena<ScopeId, Scope>,
    /// All types.
    pub types: Arena<TypeId, Type>,
    /// All signals.
    pub signals: Arena<SignalId, Signal>,
    /// Names of the values of signals that are vectors, by the value as an unsigned number; empty where there is none.
    /// A signal of an enumeration's own type has the names there.
    pub value_names: BTreeMap<SignalId, Vec<String>>,
    /// All variables.
    pub variables: Arena<VariableId, Variable>,
    /// All expressions; operands come before the nodes that use them.
    pub exprs: Arena<ExprId, Expr>,
    /// All processes.
    pub processes: Arena<ProcessId, Process>,
    /// All subprograms.
    pub subprograms: Arena<SubprogramId, Subprogram>,
    /// Texts that testbenches read.
    pub files: Vec<TextFile>,
    /// How many lines taken from files are kept.
    pub lines: u32,
    /// Signals with a bit of their own that turns over whenever they are assigned (VHDL `'transaction`).
    pub transactions: Vec<(SignalId, SignalId)>,
}

impl Design {
    /// A design with nothing but its top scope.
    pub fn new(top: Scope) -> Self {
        let mut scopes = Arena::new();
        let top = scopes.push(top);
        Self {
            top,
            precision: 1_000_000,
            scopes,
            types: Arena::new(),
            signals: Arena::new(),
            value_names: BTreeMap::new(),
            variables: Arena::new(),
            exprs: Arena::new(),
            processes: Arena::new(),
            subprograms: Arena::new(),
            files: Vec::new(),
            lines: 0,
            transactions: Vec::new(),
        }
    }

    /// The id of a type, shared with an equal one declared before.
    pub fn intern_type(&mut self, ty: Type) -> TypeId {
        let known = self.types.iter().find(|(_, t)| **t == ty).map(|(id, _)| id);
        known.unwrap_or_else(|| self.types.push(ty))
    }

    /// Number of bits of a type; 0 for text and time.
    pub fn type_width(&self, ty: TypeId) -> u32 {
        match &self.types[ty].kind {
            TypeKind::Logic { shape, .. } => shape.width(),
            TypeKind::Integer { low, high } => {
                let bits = |n: i64| 64 - if n < 0 { (!n).leading_zeros() } else { n.leading_zeros() };
                // A range of one number still holds it.
                (bits(*low).max(bits(*high)) + u32::from(*low < 0)).max(1)
            }
            TypeKind::Enumeration { literals } => (literals.len().max(2) - 1).ilog2() + 1,
            TypeKind::Array { element, left, right } => {
                let count = u32::try_from(left.abs_diff(*right)).unwrap_or(u32::MAX).saturating_add(1);
                self.type_width(*element).saturating_mul(count)
            }
            TypeKind::Record { fields } => fields.iter().map(|(_, t)| self.type_width(*t)).sum(),
            TypeKind::Real => crate::real::REAL_WIDTH,
            TypeKind::Time | TypeKind::Text => 0,
        }
    }

    /// Number of bits of a signal.
    pub fn signal_width(&self, signal: SignalId) -> u32 {
        self.type_width(self.signals[signal].ty)
    }

    /// The shape of a signal that is a bit or vector; a plain `[width-1:0]` vector for anything else.
    pub fn signal_shape(&self, signal: SignalId) -> Shape {
        match &self.types[self.signals[signal].ty].kind {
            TypeKind::Logic { shape, .. } => *shape,
            // A truth value, or one of two names, is a scalar.
            _ if self.signal_width(signal) == 1 => Shape::SCALAR,
            _ => Shape::vector(i32::try_from(self.signal_width(signal)).unwrap_or(i32::MAX) - 1, 0),
        }
    }

    /// The name of a signal from the top down, the top itself left out: `u1.carry`.
    pub fn signal_path(&self, signal: SignalId) -> String {
        let signal = &self.signals[signal];
        let mut parts = vec![signal.name.as_str()];
        let mut scope = signal.scope;
        while let Some(parent) = self.scopes[scope].parent {
            parts.push(&self.scopes[scope].name);
            scope = parent;
        }
        parts.reverse();
        parts.join(".")
    }
}
