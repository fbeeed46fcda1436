//! Logic without hardware: the nine levels and vectors of them, Boolean expressions as people write them, truth
//! tables over rows of inputs, and the canonical forms read off a table.
//!
//! Rows are numbered with the first input as the most significant bit, everywhere.

mod answer;
mod calculate;
mod codes;
mod cost;
mod covering;
mod cube;
mod exclusive;
mod expr;
mod expr_lexer;
mod expr_node;
mod form;
mod hazard;
mod heuristic;
mod level;
mod lists;
mod minimise;
mod notation;
mod pla;
mod primes;
mod rows;
mod shape;
mod shared;
mod sheet;
mod steps;
mod table;
mod vector;

pub use answer::{AskedForm, ExpressionReport, judge_expression};
pub use calculate::BitAlgebra;
pub use codes::{CODE_NAMES, CodeError, CodeRule, DigitShapes, segments};
pub use cost::{FormCost, PackageCount, form_cost};
pub use covering::{SmallCover, smallest_cover};
pub use cube::Cube;
pub use exclusive::exclusive_form;
pub use expr::{EvalScope, Expr, parse_expr, scan_names};
pub use expr_node::{BinaryOp, ExprError};
pub use form::{Form, GateOp};
pub use hazard::{Hazard, static_hazards};
pub use level::Level;
pub use lists::{ListError, TermList, TermListKind, parse_numbers, parse_term_list};
pub use minimise::{Effort, MAX_COVERS, Minimum, Prime, cover_rows, minimise};
pub use notation::{Notation, canonical_pos, canonical_sop};
pub use pla::{parse_pla, write_pla};
pub use primes::prime_implicants;
pub use rows::{MAX_INPUTS, RowSet, input_word, row_text};
pub use shape::Shape;
pub use shared::{SharedCover, SharedTerm, minimise_shared};
pub use sheet::parse_sheet;
pub use steps::{ChartAction, ChartStep, GroupedCube, OnesGroup, Steps, tabular_steps};
pub use table::{CubeRow, OutputColumn, RowValue, TableError, TruthTable, parse_cube_rows, parse_rows};
pub use vector::LogicVector;
