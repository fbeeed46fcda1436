//! The rows worth trying at a board with a hand-in loaded.

use crate::compare::input_columns;
use crate::exercise::Exercise;
use base::Budget;
use design::{Lit, Netlist};
use logic::{RowSet, row_text};
use serde::{Deserialize, Serialize};

/// A few rows that show every single fault of the circuit, and every two wires that are swapped.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct TryRows {
    /// The rows as input bits, in the order that flips the fewest switches.
    pub rows: Vec<String>,
    /// Faults that were looked at: every pin of the circuit stuck at 0 or 1, every two inputs or outputs swapped.
    pub faults: u64,
    /// Those that these rows show; the others show on no row.
    pub shown: u64,
    /// No smaller set of rows shows as many: proved.
    pub fewest: bool,
    /// Every set that shows as many has at least so many rows.
    pub least: u64,
}

impl TryRows {
    /// What they show, in a sentence.
    pub fn sentence(&self) -> String {
        let count = match self.rows.len() {
            1 => "1 row shows".to_owned(),
            n => format!("{n} rows show"),
        };
        let fewest = if self.fewest { "no fewer do".to_owned() } else { format!("at least {} are needed", self.least) };
        let hidden = match self.faults - self.shown {
            0 => String::new(),
            1 => " 1 more shows on no row.".to_owned(),
            n => format!(" {n} more show on no row."),
        };
        format!("{count} each of {} faults of the circuit and its wires; {fewest}.{hidden}", self.shown)
    }
}

/// Share of the budget.
const STEPS: u64 = 400_000_000;

/// The rows, when the design has few enough inputs and the budget lasts.
pub(crate) fn try_rows(exercise: &Exercise, netlist: &Netlist, budget: &mut Budget) -> Option<TryRows> {
    let inputs = exercise.expected.input_count();
    if inputs == 0 || inputs > prove::FAULT_INPUTS || !netlist.registers.is_empty() {
        return None;
    }
    let mut roots: Vec<Lit> = Vec::new();
    let mut cares: Vec<RowSet> = Vec::new();
    let mut columns = exercise.expected.outputs.iter();
    for port in exercise.ports.iter().filter(|p| !p.is_input) {
        for position in (0..port.shape.width()).rev() {
            let column = columns.next()?;
            let bit = netlist.outputs.iter().find(|o| o.port == port.name && o.position == position)?;
            // What may be unknown has no level that a fault could change.
            if bit.unknown != Lit::FALSE || bit.floating != Lit::FALSE {
                return None;
            }
            roots.push(bit.value);
            cares.push(column.dont_care.complement());
        }
    }
    let mut share = budget.clone().with_steps(STEPS);
    let map = input_columns(netlist, &exercise.ports);
    let found = prove::rows_to_try(netlist, &roots, &map, &cares, &mut share).ok()?;
    Some(TryRows {
        rows: found.rows.iter().map(|row| row_text(inputs, *row)).collect(),
        faults: found.faults as u64,
        shown: found.shown as u64,
        fewest: found.fewest,
        least: found.least as u64,
    })
}
