//! Expressions: operators take exact widths, say signed or unsigned, and say what they make of unknown bits.

use crate::ids::{ExprId, SignalId, SubprogramId, VariableId};
use crate::process::{PrintPart, Storage};
use crate::real::RealOp;
use crate::scan::{Scan, ScanPart, ScanSource};
use base::Span;
use logic::LogicVector;

/// What an operator makes of unknown operand bits, where the two standards differ.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Unknowns {
    /// An unknown bit makes the result unknown, unless the known bits decide it (IEEE 1364-2005 5.1).
    Propagate,
    /// Comparisons with an unknown bit are false; arithmetic makes all bits X (IEEE 1076.3 numeric_std).
    False,
}

/// What a choice between two values makes of an unknown condition.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum UnknownCondition {
    /// Bits that agree keep their level, others become X (IEEE 1364-2005 5.1.13).
    Merge,
    /// The second value is taken.
    Otherwise,
}

/// Operators on one operand. The reductions, `LogicalNot` and `IsTrue` give one bit, the others the operand's width.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum UnaryOp {
    /// Each bit complemented.
    Not,
    /// Two's complement.
    Neg,
    /// 1 when no bit is 1.
    LogicalNot,
    /// 1 when some bit is 1.
    ReduceOr,
    /// 1 when every bit is 1.
    ReduceAnd,
    /// 1 when an odd number of bits is 1.
    ReduceXor,
}

/// Operators on two operands of the same width, but for shifts and powers, whose right one has a width of its own.
/// Comparisons give one bit, the others the width of the left operand.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[expect(missing_docs, reason = "each is the operation of its name")]
pub enum BinaryOp {
    And,
    Or,
    Xor,
    Add,
    Sub,
    Mul,
    Div,
    Rem,
    /// Remainder with the sign of the divisor (VHDL `mod`).
    Mod,
    /// The right operand is two's complement of its own width; a negative one gives 0, or 1 or -1 for such a base, or
    /// X for a base of 0 (IEEE 1364-2005 5.1.5, table 5-6).
    Pow,
    ShiftLeft,
    ShiftRight,
    /// Fills with the sign bit.
    ShiftRightArithmetic,
    Equal,
    NotEqual,
    /// Compares levels as such: X equals X (`===`).
    SameLevels,
    /// All bits are equal or `-` on either side, weak levels counting as strong ones (IEEE 1076.3 `std_match`).
    Match,
    Less,
    LessEqual,
    Greater,
    GreaterEqual,
}

impl BinaryOp {
    /// True when the result is one bit whatever the operands' width.
    pub fn is_comparison(self) -> bool {
        use BinaryOp as B;
        matches!(
            self,
            B::Equal | B::NotEqual | B::SameLevels | B::Match | B::Less | B::LessEqual | B::Greater | B::GreaterEqual
        )
    }

    /// True when the right operand has a width of its own.
    pub fn is_shift(self) -> bool {
        use BinaryOp as B;
        matches!(self, B::ShiftLeft | B::ShiftRight | B::ShiftRightArithmetic | B::Pow)
    }
}

/// Functions the simulator provides.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum SystemFunction {
    /// Simulation time: 64 bits, in units of so many femtoseconds, rounded to a whole number.
    Time(u64),
    /// The next pseudo-random number of 32 bits.
    Random,
    /// One bit: that bit of a signal has just gone from 0 to 1 (IEEE 1164 `rising_edge`).
    Rising(SignalId, u32),
    /// One bit: that bit of a signal has just gone from 1 to 0 (IEEE 1164 `falling_edge`).
    Falling(SignalId, u32),
    /// One bit: a signal has just changed and that bit of it is now 1 (or 0), whatever it was before (VHDL
    /// `clk'event and clk = '1'`); to synthesis it is an edge.
    Reached(SignalId, u32, bool),
    /// One bit: a signal has changed at the current instant (VHDL `'event`).
    Changed(SignalId),
    /// The level of a signal before its last change (VHDL `'last_value`).
    LastValue(SignalId),
    /// One bit: a signal was assigned at the current instant, changed or not (VHDL `'active`).
    Active(SignalId),
    /// The time since a signal changed, 64 bits in femtoseconds; the longest time when it never did (VHDL `'last_event`).
    SinceChange(SignalId),
    /// The same since it was assigned (VHDL `'last_active`).
    SinceActive(SignalId),
    /// The next pseudo-random number of 32 bits from a seed, which it changes (IEEE 1364-2005 17.9.1).
    Seeded(Storage),
    /// Characters that are left in a line of text, in 32 bits.
    LineLength(u32),
}

/// What an expression computes.
#[derive(Clone, Debug, PartialEq)]
pub enum ExprKind {
    /// A constant.
    Const(LogicVector),
    /// The level of a signal now.
    Signal(SignalId),
    /// The value of a variable now.
    Variable(VariableId),
    /// Bits of a value from bit `low` on; the node's width says how many. They lie within the value.
    Slice {
        /// The value.
        base: ExprId,
        /// The lowest bit taken.
        low: u32,
    },
    /// Element `index` of equal elements of `stride` bits, element 0 the least significant; an index outside, read
    /// as two's complement, or with an unknown bit gives X.
    Element {
        /// The value.
        base: ExprId,
        /// Which element.
        index: ExprId,
        /// Distance between elements in bits.
        stride: u32,
    },
    /// One operand.
    Unary(UnaryOp, ExprId),
    /// Two operands.
    Binary {
        /// The operator.
        op: BinaryOp,
        /// Operands and result are two's complement.
        signed: bool,
        /// What unknown bits do.
        unknowns: Unknowns,
        /// Left operand.
        left: ExprId,
        /// Right operand.
        right: ExprId,
    },
    /// One of two values of the same width.
    Select {
        /// One bit.
        condition: ExprId,
        /// The value for 1.
        then: ExprId,
        /// The value for 0.
        otherwise: ExprId,
        /// What an unknown condition does.
        unknown: UnknownCondition,
    },
    /// Values side by side, the first one most significant.
    Concat(Vec<ExprId>),
    /// Cut or extended to the node's width.
    Resize {
        /// The value.
        value: ExprId,
        /// Extended with the top bit when true.
        signed: bool,
    },
    /// The result of a function.
    Call {
        /// The function.
        subprogram: SubprogramId,
        /// Actual parameters.
        arguments: Vec<ExprId>,
    },
    /// A function of the simulator.
    System(SystemFunction),
    /// A computation with real numbers, which are 64 bits wide; simulation and constants only.
    Real {
        /// What is computed.
        op: RealOp,
        /// With what.
        operands: Vec<ExprId>,
    },
    /// A computation with text: characters of 8 bits, the first one most significant, zeros before it; simulation
    /// only.
    Text {
        /// What is computed.
        op: TextOp,
        /// With what.
        operands: Vec<ExprId>,
    },
    /// A message as a value (`$sformatf`), as wide as the node says; simulation only.
    Format(Vec<PrintPart>),
    /// A value that only some design may have: where the condition fails in a simulation, the message is said. Hardware
    /// is the value alone.
    Checked {
        /// The value.
        value: ExprId,
        /// One bit, of nothing that the value isn't made of.
        condition: ExprId,
        /// What a simulation takes instead where the condition fails and the simulation goes on.
        otherwise: Option<ExprId>,
        /// The message.
        message: Vec<PrintPart>,
        /// 0 note, 1 warning, 2 error, 3 failure.
        severity: u8,
    },
    /// Values read out of a text, as a number of them in 32 bits, two's complement; simulation only.
    Scan(Box<Scan>),
}

/// What is computed with text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum TextOp {
    /// The characters without the zeros between them, as wide as the node says.
    Pack,
    /// Number of characters that are not 0.
    Length,
    /// Small letters as capitals.
    Upper,
    /// Capitals as small letters.
    Lower,
    /// The character at a position counted from 0 at the left; 0 outside.
    Character,
    /// Characters from one position to another, both included.
    Part,
    /// The number that digits stand for, to the first that is none.
    ToNumber,
}

impl ExprKind {
    /// The nodes that this one reads, in order; for a message those of its values.
    pub fn operands(&self) -> Vec<ExprId> {
        match self {
            ExprKind::Const(_) | ExprKind::Signal(_) | ExprKind::Variable(_) | ExprKind::System(_) => Vec::new(),
            ExprKind::Slice { base, .. } => vec![*base],
            ExprKind::Element { base, index, .. } => vec![*base, *index],
            ExprKind::Unary(_, a) | ExprKind::Resize { value: a, .. } | ExprKind::Checked { value: a, .. } => vec![*a],
            ExprKind::Binary { left, right, .. } => vec![*left, *right],
            ExprKind::Select { condition, then, otherwise, .. } => vec![*condition, *then, *otherwise],
            ExprKind::Concat(parts) => parts.clone(),
            ExprKind::Call { arguments, .. } => arguments.clone(),
            ExprKind::Real { operands, .. } | ExprKind::Text { operands, .. } => operands.clone(),
            ExprKind::Format(parts) => values_of(parts),
            ExprKind::Scan(scan) => scan_operands(scan),
        }
    }
}

/// The number or text that is read from, and computed positions of targets.
fn scan_operands(scan: &Scan) -> Vec<ExprId> {
    let source = match scan.source {
        ScanSource::File(id) | ScanSource::Text(id) => Some(id),
        ScanSource::Line(_) => None,
    };
    let targets = scan.parts.iter().filter_map(|part| match part {
        ScanPart::Value { target: Some(target), .. } | ScanPart::RestOfLine(target) => Some(target),
        _ => None,
    });
    source.into_iter().chain(targets.filter_map(|t| Some(t.element?.0))).collect()
}

/// Values in a message, in order.
fn values_of(parts: &[PrintPart]) -> Vec<ExprId> {
    let each = parts.iter().flat_map(|part| match part {
        PrintPart::Value { value, .. } => vec![*value],
        PrintPart::Field { parts, .. } => values_of(parts),
        PrintPart::Text(_) | PrintPart::Scope | PrintPart::Line { .. } => Vec::new(),
    });
    each.collect()
}

/// An expression node.
#[derive(Clone, Debug, PartialEq)]
pub struct Expr {
    /// What it computes.
    pub kind: ExprKind,
    /// Number of bits of the result.
    pub width: u32,
    /// Where it stands.
    pub span: Span,
}
