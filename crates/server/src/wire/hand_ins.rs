//! Hand-ins with their verdicts.

use super::courses::Cell;
use super::exercises::{BoardInfo, Column};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use store::{ExerciseId, HandInId, PersonId};
use utoipa::ToSchema;

wire! {
    /// A hand-in in a list.
    struct HandInLine {
        /// Key.
        id: HandInId,
        /// Whose.
        student: String,
        /// How it stands.
        cell: Cell,
        /// When, in seconds since 1970.
        submitted_at: i64,
    }

    /// A file of a hand-in.
    struct FileText {
        /// Name as given.
        name: String,
        /// `design` or `wiring`.
        kind: String,
        /// Its text; null when it is none.
        text: Option<String>,
    }

    /// What staff decided otherwise than the check.
    struct Decision {
        /// `pass`, `partly` or `fail`.
        kind: String,
        /// Marks instead of those that were counted; null where they stand.
        marks: Option<f64>,
        /// Why, in a sentence that the student reads.
        reason: String,
        /// Who decided.
        by: String,
        /// When, in seconds since 1970.
        at: i64,
    }

    /// A decision to be kept.
    struct DecisionAsk {
        /// `pass`, `partly` or `fail`.
        kind: String,
        /// Marks instead of those that were counted; null leaves them.
        marks: Option<f64>,
        /// Why, in a sentence that the student reads.
        reason: String,
    }

    /// A hand-in with its verdict.
    struct HandInPage {
        /// Key.
        id: HandInId,
        /// Exercise.
        exercise: ExerciseId,
        /// Title of the exercise.
        title: String,
        /// Whose.
        student: String,
        /// How it stands.
        cell: Cell,
        /// The verdict is held back from the student until then: seconds since 1970.
        shown_after: Option<i64>,
        /// When, in seconds since 1970.
        submitted_at: i64,
        /// Files in order.
        files: Vec<FileText>,
        /// Prepared answers as they were typed, each under its output and what was asked for, as `f.sop`.
        given: BTreeMap<String, String>,
        /// The first sentence.
        headline: Option<String>,
        /// What staff decided otherwise than the check.
        decision: Option<Decision>,
        /// While there is no verdict: what the check waits for, or for how long it has run.
        waits_for: Option<String>,
        /// The verdict; null while it waits.
        verdict: Option<verdict::Verdict>,
        /// The exercise is clocked.
        clocked: bool,
        /// What it takes of the device, in words.
        takes: Option<String>,
        /// Input bits.
        inputs: Vec<String>,
        /// What the design does on each row; empty when it could not be run.
        actual: Vec<Column>,
        /// What it should do; empty for students.
        expected: Vec<Column>,
        /// Products that cover the rows where an output should be 1, in operators; empty for students.
        terms: Vec<derive::CoverTerm>,
        /// The board, when the exercise is wired.
        board: Option<BoardInfo>,
        /// There is an image of it to be loaded on the board.
        has_image: bool,
        /// Other attempts of the student, newest first.
        attempts: Vec<HandInLine>,
    }

    /// What is handed in, as a form.
    struct HandInForm {
        /// The design: a part for each file.
        #[schema(value_type = Vec<String>)]
        files: Vec<String>,
        /// The wiring file.
        wiring: Option<String>,
        /// The prepared answers, as JSON or TOML.
        answers: Option<String>,
        /// Whose it is, for staff: a student's number.
        student: Option<PersonId>,
        /// The top, when it was chosen.
        top: Option<String>,
    }

    /// A student's files in an archive of hand-ins.
    struct BundleLine {
        /// Key of the student.
        student: PersonId,
        /// Name.
        name: String,
        /// Names of the files.
        files: Vec<String>,
        /// `new` (a hand-in is made), `same` (these are the files of the newest one) or `refused`.
        state: String,
        /// The attempt that it becomes or is; null where it is refused.
        attempt: Option<i64>,
        /// Why it is refused; empty where it isn't.
        why: String,
    }

    /// What of an archive is nobody's.
    struct BundleRest {
        /// A file, or the folder of several.
        path: String,
        /// Why, and what to do.
        why: String,
    }

    /// What an archive of hand-ins would do, or did.
    struct BundleView {
        /// By student, in the order of the course.
        lines: Vec<BundleLine>,
        /// What is left over.
        left_over: Vec<BundleRest>,
        /// Students who have nothing in it.
        missing: Vec<String>,
        /// It is done; else nothing has been kept.
        applied: bool,
    }

    /// A hand-in that was kept.
    struct HandInKept {
        /// Key.
        id: HandInId,
        /// Attempt.
        attempt: i64,
    }

    /// The few rows that are worth trying at a board.
    struct RowsView {
        /// What they show, in a sentence.
        sentence: String,
        /// The rows as input bits, in the order that flips the fewest switches.
        rows: Vec<String>,
        /// For a clocked design the ticks instead.
        ticks: Option<conform::TryTicks>,
    }
}
