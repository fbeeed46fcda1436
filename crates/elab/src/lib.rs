//! From files to a top, a design and a netlist, in any mixture of languages: the one place that picks a language by file ending, and
//! the one way that every question goes, with an exercise or without. Knows no exercise.

mod build;
mod diagnostics;
mod files;
mod languages;
mod load;
mod machines;
mod names;
mod parameter;
mod port;
mod resources;
mod simulation;
mod stack;
mod table;
mod unusable;

pub use build::{Built, Fitted, Goal, NetlistKind, Parsed, Stop, Way, synthesise};
pub use files::{HandInFile, Sources};
pub use languages::{Elaborated, Fitting, Language, Unit, Units, bare_name, elaborate, is_data, language, parse};
pub use load::{Loaded, load, load_with, ports_of};
pub use machines::machine_of;
pub use names::{check_ports, choose_top, lint};
pub use parameter::Parameter;
pub use port::ExercisePort;
pub use resources::{USUAL_LUT_INPUTS, resources};
pub use simulation::{Assertions, RECORDED, Simulation, SimulationRequest, run_simulation, testbench};
pub use stack::{ample, fault};
pub use table::{ActualColumn, ActualTable, actual_table, input_columns, output_bits};
pub use unusable::Unusable;
