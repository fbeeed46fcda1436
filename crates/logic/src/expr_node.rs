//! What an expression is made of, and why a text is none.

/// The most bits an exact product may have before it is refused.
pub(crate) const MAX_WIDTH: usize = 512;

/// Why a text is not an expression.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ExprError {
    /// Column in the text, from 1, in characters.
    pub column: usize,
    /// What is wrong there.
    pub message: String,
    /// What to do, beginning with a verb.
    pub action: String,
}

impl ExprError {
    pub(crate) fn new(column: usize, message: impl Into<String>, action: impl Into<String>) -> Self {
        Self { column, message: message.into(), action: action.into() }
    }
}

impl std::fmt::Display for ExprError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "column {}: {} {}", self.column, self.message, self.action)
    }
}

/// An operator between two operands.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[expect(missing_docs, reason = "each is the operation of its name")]
pub enum BinaryOp {
    And,
    Nand,
    Or,
    Nor,
    Xor,
    Xnor,
    Add,
    Sub,
    Mul,
    Equal,
    NotEqual,
    Less,
    LessEqual,
    Greater,
    GreaterEqual,
}

#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) enum Node {
    Const { value: u64, width: u32 },
    Pick { signal: usize, low: u32, width: u32 },
    Not(usize),
    LogicalNot(usize),
    Neg(usize),
    Binary(BinaryOp, usize, usize),
    Mux(usize, usize, usize),
}
