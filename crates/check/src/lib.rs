//! The checker: an exercise, a hand-in, six stages, a verdict with evidence. Pure functions: no clock, no network, no
//! database; files are handed in as bytes.

mod answers;
mod diagnostics;
mod equivalence;
mod hand_in;
mod inspect;
mod marks;
mod pipeline;
mod starter;
mod structure;
mod waves;

pub use equivalence::{CycleLevels, Difference, Equivalence, blif_of, equivalence};

pub use hand_in::HandIn;
pub use inspect::{InspectedPort, InspectedScope, InspectedUnit, Inspection, inspect};

pub use pipeline::{Checked, check, check_with_cancel, no_design, stopped};

pub use starter::{StarterFile, starter};
pub use structure::{
    At, DrawnBlock, DrawnPin, DrawnWire, Structure, StructureLevels, StructureRequest, StructureView, structure,
    structure_levels,
};

pub use waves::{InputStimulus, Lane, LaneRole, Stimulus, Waves, WavesRequest, waves};
