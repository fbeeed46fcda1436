//! Logic without hardware: the nine levels and vectors of them, Boolean expressions as people write them, truth
//! tables over rows of inputs, and the canonical forms read off a table.
//!
//! Rows are numbered with the first input as the most significant bit, everywhere.

mod expr;
mod expr_lexer;
mod level;
mod lists;
mod notation;
mod rows;
mod shape;
mod table;
mod vector;

pub use expr::{BinaryOp, EvalScope, Expr, ExprError, parse_expr, scan_names};
pub use level::Level;
pub use lists::{ListError, TermList, TermListKind, parse_term_list};
pub use notation::{Notation, canonical_pos, canonical_sop};
pub use rows::{MAX_INPUTS, RowSet, input_word, row_text};
pub use shape::Shape;
pub use table::{OutputColumn, RowValue, TableError, TruthTable, parse_rows};
pub use vector::LogicVector;
