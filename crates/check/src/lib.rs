//! The checker: an exercise, a hand-in, six stages, a verdict with evidence. Pure functions: no clock, no network, no
//! database; files are handed in as bytes.

mod answers;
mod behaviour;
mod clocked;
mod codes;
mod compare;
mod derivation;
mod diagnostics;
mod divider;
mod draft;
mod equivalence;
mod exercise;
mod exports;
mod inspect;
mod languages;
mod names;
mod near;
mod pipeline;
mod rules;
mod simulation;
mod starter;
mod tries;
mod verdict;
mod waves;
mod wiring;

pub use answers::{Ask, Question};
pub use clocked::{Clocked, ClockedInfo, ClockedRule, Mistaken, RateRule, ResetSpec};
pub use codes::{CodeEntry, CodeExample, finding_codes, finding_codes_page};
pub use compare::{ActualColumn, ActualTable};
pub use derivation::{
    CanonicalText, ChartStepInfo, CostInfo, CoverInfo, Derivation, DeriveOptions, DerivedOutput, ExclusiveForm,
    FormNode, GroupedCubeInfo, HazardInfo, OnesGroupInfo, PackageInfo, PrimeInfo, SharedInfo, SharedTermInfo,
    StepsInfo, TwoLevel, derive,
};
pub use divider::{DividerPlan, divider_plans};
pub use draft::{BehaviourDraft, CodeDraft, DraftEdit, ExerciseDraft, FieldProblem, NamedText, PortDraft, Worked};
pub use equivalence::{CycleLevels, Difference, Equivalence, equivalence};
pub use exercise::{Exercise, ExerciseError, ExercisePort, WiringPlan};
pub use exports::{ExportText, exports};
pub use inspect::{InspectedPort, InspectedScope, InspectedUnit, Inspection, inspect};
pub use pipeline::{Checked, HandIn, HandInFile, check, check_with_cancel};
pub use rules::{FormRule, Matter, RequiredForm, Rules};
pub use simulation::{Assertions, RECORDED, Simulation, SimulationRequest, run_simulation};
pub use starter::{STARTER_INPUTS, StarterFile, starter};
pub use tries::TryRows;
pub use verdict::{
    AnswerResult, Evidence, Finding, FixInfo, NearMiss, Proof, ProofKind, ProofMethod, RelatedPlace, Resources, Rhythm,
    RowCount, StageResult, StageState, TraceStep, Verdict, VerdictKind,
};
pub use waves::{InputStimulus, Lane, LaneRole, Stimulus, Waves, WavesRequest, waves};
pub use wiring::{BenchState, bench_state};
