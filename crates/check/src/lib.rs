//! The checker: an exercise, a hand-in, six stages, a verdict with evidence. Pure functions: no clock, no network, no
//! database; files are handed in as bytes.

mod answers;
mod behaviour;
mod bench;
mod bench_said;
mod bench_state;
mod clocked;
mod compare;
mod conform_said;
mod cover;
mod derivation;
mod diagnostics;
mod divider;
mod draft;
mod equivalence;
mod exercise;
mod exports;
mod fault;
mod hand_in;
mod ignored;
mod inspect;
mod marks;
mod moment;
mod near;
mod outcome;
mod path;
mod pipeline;
mod question;
mod raw;
mod replay;
mod rules;
mod starter;
mod structure;
mod tries;
mod waves;
mod weights;
mod wide;
mod widths;
mod wiring;

pub use bench::{BenchAsk, MOST_TICKS, fingerprint, run_image};
pub use bench_state::BenchState;
pub use clocked::{Clocked, ClockedInfo, ClockedRule, Mistaken, RateRule, ResetSpec};

pub use cover::{CoverTerm, cover_terms};
pub use derivation::{
    CanonicalText, ChartStepInfo, CostInfo, CoverInfo, Derivation, DeriveOptions, DerivedOutput, ExclusiveForm,
    FormNode, GroupedCubeInfo, HazardInfo, OnesGroupInfo, PackageInfo, PrimeInfo, SharedInfo, SharedTermInfo,
    StepsInfo, TwoLevel, derive,
};
pub use divider::{DividerPlan, divider_plans};
pub use draft::{BehaviourDraft, CodeDraft, DraftEdit, ExerciseDraft, FieldProblem, NamedText, PortDraft, Worked};
pub use equivalence::{CycleLevels, Difference, Equivalence, blif_of, equivalence};
pub use exercise::{Exercise, ExerciseError, WiringPlan, shows_answers};
pub use exports::{ExportText, exports};

pub use hand_in::HandIn;
pub use inspect::{InspectedPort, InspectedScope, InspectedUnit, Inspection, inspect};

pub use pipeline::{Checked, check, check_with_cancel, no_design, stopped};

pub use question::{Ask, Question};
pub use rules::{FormRule, Matter, RequiredForm, Rules};

pub use starter::{StarterFile, starter};
pub use structure::{
    At, DrawnBlock, DrawnPin, DrawnWire, Structure, StructureLevels, StructureRequest, StructureView, structure,
    structure_levels,
};

pub use tries::{TryRows, TryTick, TryTicks};

pub use waves::{InputStimulus, Lane, LaneRole, Stimulus, Waves, WavesRequest, waves};
pub use weights::Weights;
pub use wide::Wide;
pub use wiring::bench_as_expected;
