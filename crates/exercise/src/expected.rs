//! What a design has to do. The kinds are told apart where designs are held against them (`conform`) and where they are
//! read and shown; everything else asks an [`Exercise`](crate::Exercise) for what it needs.

use crate::clocked::Clocked;
use crate::wide::Wide;
use logic::TruthTable;

/// What a design has to do.
#[derive(Clone, Debug)]
pub enum Expected {
    /// A level of each output bit on every row, input bits and output bits in port order.
    Table(TruthTable),
    /// The same of more input bits than rows are walked for.
    Function(Wide),
    /// Outputs over time, with the clock and the reset.
    Machine(Box<Clocked>),
}

/// The table of what is not judged by rows.
static NO_ROWS: TruthTable = TruthTable { inputs: Vec::new(), outputs: Vec::new() };

impl Expected {
    /// Is it judged row by row?
    pub fn has_rows(&self) -> bool {
        matches!(self, Expected::Table(_))
    }

    /// Its table; without inputs and outputs where it is not judged by rows.
    pub fn table(&self) -> &TruthTable {
        match self {
            Expected::Table(table) => table,
            Expected::Function(_) | Expected::Machine(_) => &NO_ROWS,
        }
    }

    /// Clock, reset and rule, where it is over time.
    pub fn clocked(&self) -> Option<&Clocked> {
        match self {
            Expected::Machine(clocked) => Some(clocked),
            Expected::Table(_) | Expected::Function(_) => None,
        }
    }

    /// The function, where it has too many inputs for rows.
    pub fn wide(&self) -> Option<&Wide> {
        match self {
            Expected::Function(wide) => Some(wide),
            Expected::Table(_) | Expected::Machine(_) => None,
        }
    }
}
