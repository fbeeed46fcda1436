//! What a worker is asked, and what it answers.

use crate::sent::{SentChecked, SentExercise, SentFile, SentHandIn};
use bench::{BenchAsk, BenchState};
use serde::{Deserialize, Serialize};
use verdict::Evidence;
use views::{Stimulus, Structure, StructureLevels, StructureView, Waves};

/// What is asked about waves.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub struct WavesAsk {
    /// The unit to run on its own.
    pub unit: Option<String>,
    /// What the inputs do.
    pub stimulus: Option<Stimulus>,
    /// What the exercise keeps for when nothing is said.
    pub saved: Option<Stimulus>,
    /// Ends at this time, in femtoseconds.
    pub until: Option<u64>,
    /// Most steps.
    pub steps: Option<u64>,
}

/// What is asked about a drawing.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub struct DrawingAsk {
    /// The chosen top.
    pub top: Option<String>,
    /// Which drawing.
    pub view: StructureView,
    /// The output bit whose logic alone is drawn.
    pub output: Option<String>,
    /// The row, a letter 0 or 1 for each input bit.
    pub row: String,
    /// The moment of a finding, which counts instead of the row.
    pub moment: Option<Evidence>,
}

/// A question.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Question {
    /// The verdict of a hand-in.
    Check {
        /// The exercise.
        exercise: SentExercise,
        /// The hand-in.
        hand_in: SentHandIn,
    },
    /// How many typical faults in a right design the check of its exercise tells.
    ToldApart {
        /// The exercise.
        exercise: SentExercise,
        /// The design.
        hand_in: SentHandIn,
    },
    /// Waves of a design.
    Waves {
        /// The exercise.
        exercise: SentExercise,
        /// The design.
        files: Vec<SentFile>,
        /// What of it.
        ask: WavesAsk,
    },
    /// A design as a drawing.
    Drawing {
        /// The exercise.
        exercise: SentExercise,
        /// The design.
        files: Vec<SentFile>,
        /// What of it.
        ask: DrawingAsk,
    },
    /// What the bench shows with an image loaded.
    Bench {
        /// The exercise.
        exercise: SentExercise,
        /// The image, as it is kept.
        image: String,
        /// The hand-in that it should be of.
        hand_in: SentHandIn,
        /// What the bench is asked.
        ask: BenchAsk,
    },
    /// What the wires of a drawing carry.
    Levels {
        /// The exercise.
        exercise: SentExercise,
        /// The design.
        files: Vec<SentFile>,
        /// What of it.
        ask: DrawingAsk,
    },
}

/// An answer.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Answer {
    /// To [`Question::Check`].
    Checked(Box<SentChecked>),
    /// To [`Question::ToldApart`].
    ToldApart(check::ToldApart),
    /// To [`Question::Waves`].
    Waves(Box<Waves>),
    /// To [`Question::Drawing`].
    Drawing(Box<Structure>),
    /// To [`Question::Levels`].
    Levels(Box<StructureLevels>),
    /// To [`Question::Bench`]; nothing where the exercise is not wired.
    Bench(Option<Box<BenchState>>),
    /// To [`Question::Bench`]: the levels never come to rest.
    Restless,
    /// What was asked can't be had; the sentence says why.
    Refused(String),
    /// A fault of ours, which stands in the log with the number in the sentence.
    Ours(String),
    /// The exercise can't be read.
    NoExercise(String),
}
