//! The rows worth trying at a board with a hand-in loaded.

use base::Budget;
use design::{Lit, Netlist};
use elab::{input_columns, output_bits};
use exercise::{Exercise, Expected};
use logic::{Cube, Effort, RowSet, minimise, row_text};
use serde::{Deserialize, Serialize};

/// A few rows that show every single fault of the circuit, and every two wires that are swapped.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct TryRows {
    /// The rows as input bits, in the order that flips the fewest switches.
    pub rows: Vec<String>,
    /// Faults that were looked at: every pin of the circuit stuck at 0 or 1, every two inputs or outputs swapped.
    pub faults: u64,
    /// Those that these rows show; the others show on no row.
    pub shown: u64,
    /// Usual mistakes that they show as well: each product and each literal of the expected outputs forgotten.
    #[serde(default)]
    pub mistakes: u64,
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
        let fewest =
            if self.fewest { "This is the minimum".to_owned() } else { format!("At least {} are needed", self.least) };
        let hidden = match self.faults - self.shown {
            0 => String::new(),
            1 => "; 1 fault can't be detected".to_owned(),
            n => format!("; {n} faults can't be detected"),
        };
        let mistakes = match self.mistakes {
            0 => String::new(),
            1 => " and 1 usual mistake (a product or literal forgotten)".to_owned(),
            n => format!(" and {n} usual mistakes (a product or literal forgotten)"),
        };
        format!("{count} each of {} faults of the circuit and its wires{mistakes}. {fewest}{hidden}.", self.shown)
    }
}

/// A clock tick of a run that is worth trying.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct TryTick {
    /// Input bits without the clock, set before the tick.
    pub inputs: String,
    /// Output bits behind it: 0, 1, X or Z.
    pub outputs: String,
}

/// A short run of clock ticks that shows most faults of a clocked circuit.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct TryTicks {
    /// Names of the input bits, without the clock.
    pub inputs: Vec<String>,
    /// Names of the output bits.
    pub outputs: Vec<String>,
    /// The ticks, from the reset or power-up on.
    pub ticks: Vec<TryTick>,
    /// Faults that were looked at: every wire of the circuit stuck at 0 or 1.
    pub faults: u64,
    /// Those that the run shows.
    pub shown: u64,
}

impl TryTicks {
    /// What the run shows, in a sentence.
    pub fn sentence(&self) -> String {
        let ticks =
            if self.ticks.len() == 1 { "1 tick shows".to_owned() } else { format!("{} ticks show", self.ticks.len()) };
        format!(
            "{ticks} {} of {} faults of the circuit (a wire stuck at 0 or 1); of the runs that were tried none shows more.",
            self.shown, self.faults
        )
    }
}

/// What is worth trying at a board with a design.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct WorthTrying {
    /// Rows of a table.
    pub rows: Option<TryRows>,
    /// A run of clock ticks.
    pub ticks: Option<TryTicks>,
}

/// The rows, or the run, for a design that is small enough, while the budget lasts.
pub fn worth_trying(exercise: &Exercise, netlist: &Netlist, budget: &Budget) -> WorthTrying {
    match &exercise.expected {
        Expected::Table(_) => WorthTrying { rows: try_rows(exercise, netlist, budget), ticks: None },
        Expected::Function(_) => WorthTrying::default(),
        Expected::Machine(_) => WorthTrying { rows: None, ticks: try_ticks(exercise, netlist, budget) },
    }
}

/// The run for a clocked design, when it is small enough and the budget lasts.
fn try_ticks(exercise: &Exercise, netlist: &Netlist, budget: &Budget) -> Option<TryTicks> {
    let spec = exercise.clocked()?;
    let machine = spec.join(netlist, &exercise.ports);
    let mut share = budget.clone().with_steps(STEPS);
    let found = prove::ticks_to_try(&machine, &spec.protocol(), &mut share).ok()??;
    let bits = |levels: &Vec<bool>| levels.iter().map(|l| if *l { '1' } else { '0' }).collect::<String>();
    let ticks = found.inputs.iter().zip(&found.outputs);
    Some(TryTicks {
        inputs: spec.inputs.clone(),
        outputs: spec.outputs.clone(),
        ticks: ticks.map(|(i, o)| TryTick { inputs: bits(i), outputs: o.iter().collect() }).collect(),
        faults: found.faults as u64,
        shown: found.shown as u64,
    })
}

/// Share of the budget.
const STEPS: u64 = 400_000_000;

/// Inputs up to which the products of the expected outputs are worked out.
const MISTAKE_INPUTS: u32 = 8;

/// The rows that show a usual mistake, for each of them: a product of a smallest cover forgotten, or one of its literals.
fn mistakes(exercise: &Exercise) -> Vec<RowSet> {
    let inputs = exercise.table().input_count();
    if inputs > MISTAKE_INPUTS {
        return Vec::new();
    }
    let mut list = Vec::new();
    for output in &exercise.table().outputs {
        let found = minimise(&output.ones, &output.dont_care, &Effort::default());
        let cover = found.covers.into_iter().next().unwrap_or_default();
        let zeros = output.zeros();
        for cube in &cover {
            let others = |row: &u64| cover.iter().any(|c| c != cube && c.covers(*row));
            list.push(output.ones.iter().filter(|row| cube.covers(*row) && !others(row)).collect::<Vec<u64>>());
            for literal in (0..inputs).map(|k| 1u32 << k).filter(|bit| cube.care() & bit != 0) {
                let wider = Cube::new(cube.care() & !literal, cube.value() & !literal);
                list.push(zeros.iter().filter(|row| wider.covers(*row)).collect());
            }
        }
    }
    let as_set = |rows: Vec<u64>| {
        let mut set = RowSet::empty(inputs);
        rows.into_iter().for_each(|row| set.insert(row));
        set
    };
    list.into_iter().filter(|rows| !rows.is_empty()).map(as_set).collect()
}

/// The rows, when the design has few enough inputs and the budget lasts.
fn try_rows(exercise: &Exercise, netlist: &Netlist, budget: &Budget) -> Option<TryRows> {
    let inputs = exercise.table().input_count();
    if inputs == 0 || inputs > prove::FAULT_INPUTS || !netlist.registers.is_empty() {
        return None;
    }
    let mut roots: Vec<Lit> = Vec::new();
    let mut cares: Vec<RowSet> = Vec::new();
    for (column, (_, bit)) in exercise.table().outputs.iter().zip(output_bits(netlist, &exercise.ports)) {
        // What may be unknown has no level that a fault could change.
        let bit = bit.filter(|b| b.unknown == Lit::FALSE && b.floating == Lit::FALSE)?;
        roots.push(bit.value);
        cares.push(column.dont_care.complement());
    }
    let mut share = budget.clone().with_steps(STEPS);
    let map = input_columns(netlist, &exercise.ports);
    let mistakes = mistakes(exercise);
    let found = prove::rows_to_try(netlist, &roots, &map, &cares, &mistakes, &mut share).ok()?;
    Some(TryRows {
        rows: found.rows.iter().map(|row| row_text(inputs, *row)).collect(),
        faults: found.faults as u64,
        shown: found.shown as u64,
        mistakes: mistakes.len() as u64,
        fewest: found.fewest,
        least: found.least as u64,
    })
}
