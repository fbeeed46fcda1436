//! What a page or a terminal shows of a design: waves, the drawn structure, inspection, comparison, starters. Judges nothing.

mod comparison;
mod inspect;
mod not_shown;
mod starter;
mod structure;
mod waves;

pub use comparison::{CycleLevels, Difference, Equivalence, blif_of, equivalence};
pub use inspect::{InspectedPort, InspectedScope, InspectedUnit, Inspection, inspect};
pub use not_shown::NotShown;
pub use starter::{StarterFile, starter};
pub use structure::{
    At, DrawnBlock, DrawnDesign, DrawnPin, DrawnWire, Structure, StructureLevels, StructureRequest, StructureView,
    structure, structure_levels,
};
pub use waves::{InputStimulus, Lane, LaneRole, Stimulus, StimulusError, Stretch, Waves, WavesRequest, waves};
