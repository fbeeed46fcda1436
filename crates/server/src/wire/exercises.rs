//! An exercise as its page shows it.

use super::courses::StudentRef;
use super::drafts::DraftStanding;
use super::terms::{OwnTerms, TermsInfo};
use serde::{Deserialize, Serialize};
use store::ExerciseId;
use utoipa::ToSchema;

wire! {
    /// An exercise file.
    struct ExerciseText {
        /// TOML.
        text: String,
        /// The version that it changes; null for a new exercise.
        version: Option<i64>,
    }

    /// An exercise that was saved.
    struct ExerciseSaved {
        /// Key.
        id: ExerciseId,
        /// What the next save has to say that it changes.
        version: i64,
        /// Worth knowing.
        warnings: Vec<String>,
    }

    /// A port.
    struct PortInfo {
        /// Name.
        name: String,
        /// `in` or `out`.
        dir: String,
        /// Bounds such as `[3:0]`; empty for a scalar.
        range: String,
        /// Names of its bits, most significant first.
        bits: Vec<String>,
    }

    /// An output column of a table: a letter for each row.
    struct Column {
        /// The output bit.
        name: String,
        /// 0, 1, - (either), X (unknown) or Z (floating).
        values: String,
    }

    /// A part of the board.
    struct PartInfo {
        /// Printed label.
        label: String,
        /// Pin.
        pin: String,
        /// `slide_switch`, `push_button`, `led` or `oscillator`.
        kind: String,
        /// Periods of an oscillator in a second.
        frequency_hz: Option<u64>,
        /// True when 0 means on.
        active_low: bool,
        /// Column in the picture.
        x: u8,
        /// Row in the picture.
        y: u8,
    }

    /// A trainer board.
    struct BoardInfo {
        /// Name for people.
        title: String,
        /// Device and package.
        device: String,
        /// Parts.
        parts: Vec<PartInfo>,
    }

    /// A line of the wiring plan.
    struct PlanLine {
        /// Port bit.
        bit: String,
        /// Part label.
        part: String,
        /// Pin.
        pin: String,
    }

    /// An answer that the exercise asks for.
    struct QuestionInfo {
        /// The output bit.
        output: String,
        /// `table`, `minterms`, `sop` and so on.
        ask: String,
        /// It has to be minimal.
        minimal: bool,
        /// Marks for it.
        marks: u32,
    }

    /// An exercise.
    struct ExercisePage {
        /// Key.
        id: ExerciseId,
        /// Title.
        title: String,
        /// What the task is, in Markdown; may be empty.
        statement: String,
        /// Number of the published revision; 0 before the first.
        revision: i64,
        /// What saving the file has to say that it changes; 0 for students.
        version: i64,
        /// How the exercise stands; null for students.
        standing: Option<DraftStanding>,
        /// When it is worked at, and what students read of verdicts; null for students.
        terms: Option<TermsInfo>,
        /// What of that concerns the student who asks; null for staff.
        own_terms: Option<OwnTerms>,
        /// Ports in table order.
        ports: Vec<PortInfo>,
        /// Input bits, most significant first.
        inputs: Vec<String>,
        /// Expected outputs; names only (empty values) for students.
        outputs: Vec<Column>,
        /// Clock, reset and rule of a clocked exercise; students see no table of the rule.
        clocked: Option<exercise::ClockedInfo>,
        /// The behaviour line by line where there are too many inputs for a table; no lines for students.
        wide: Option<Vec<String>>,
        /// What a hand-in has to keep to beside the behaviour.
        rules: Vec<String>,
        /// The board, when the exercise is wired.
        board: Option<BoardInfo>,
        /// The wiring plan.
        plan: Vec<PlanLine>,
        /// Answers to be prepared.
        answers: Vec<QuestionInfo>,
        /// Files to start from: for students the empty designs, for staff the testbenches too.
        starters: Vec<derive::ExportText>,
        /// The exercise file, for the instructor.
        text: Option<String>,
        /// Students who may hand in here: oneself, or everybody for staff.
        students: Vec<StudentRef>,
    }
}
