//! The page on which an exercise is written.

use super::drafts::DraftStanding;
use super::exercises::{Column, PortInfo};
use serde::{Deserialize, Serialize};
use store::ExerciseId;
use utoipa::ToSchema;

wire! {
    /// What the workings page asks to be worked out.
    struct WorkingsRequest {
        /// The exercise whose file is changed; null for a new one.
        exercise: Option<ExerciseId>,
        /// Signals and behaviour as typed.
        draft: exercise::ExerciseForm,
        /// A change to carry out first.
        edit: Option<exercise::FormEdit>,
        /// `prime`, `overline`, `operators` or `words`.
        notation: String,
        /// With products shared by all outputs.
        shared: bool,
    }

    /// Everything on the workings page.
    struct WorkingsView {
        /// What was saved last, as saving has to say it again; 0 for a new exercise.
        version: i64,
        /// How the exercise stands; null for a new one.
        standing: Option<DraftStanding>,
        /// Signals and behaviour after the change.
        draft: exercise::ExerciseForm,
        /// The exercise file that says it; null while there is a problem.
        file: Option<String>,
        /// Why there is nothing to show.
        problem: Option<exercise::FieldProblem>,
        /// Worth knowing.
        warnings: Vec<String>,
        /// What a hand-in has to keep to, in sentences.
        rules: Vec<String>,
        /// Labels of the parts that inputs may be wired to, and of those for outputs; empty without a board.
        labels: FreeLabels,
        /// Ports with their bits; empty while there is a problem.
        ports: Vec<PortInfo>,
        /// Output columns of the table.
        columns: Vec<Column>,
        /// Positions of the outputs that light the segments a to g of a digit.
        digit: Vec<usize>,
        /// The digit's segments light at 0.
        digit_active_low: bool,
        /// What follows from the table.
        derivation: Option<derive::Derivation>,
        /// Why there is no derivation, when there is a table.
        too_large: Option<String>,
        /// The minimal forms to take elsewhere.
        exports: Vec<derive::ExportText>,
    }

    /// Labels of a board's parts.
    struct FreeLabels {
        /// Those that drive an input.
        inputs: Vec<String>,
        /// Those that show an output.
        outputs: Vec<String>,
    }

    /// A draft to be saved.
    struct WorkingsSave {
        /// The version that it changes.
        version: i64,
        /// Signals and behaviour.
        draft: exercise::ExerciseForm,
    }
}
