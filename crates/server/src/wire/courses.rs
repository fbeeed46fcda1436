//! The pass sheet and the audit trail.

use serde::{Deserialize, Serialize};
use store::{ExerciseId, HandInId, PersonId};
use utoipa::ToSchema;

wire! {
    /// How a student stands in an exercise.
    struct Cell {
        /// The newest hand-in.
        hand_in: HandInId,
        /// `passed`, `partly`, `failed`, `cannot_tell` or `waiting`; `held_back` for students until verdicts are shown.
        state: String,
        /// Right rows.
        passed: u64,
        /// All rows.
        total: u64,
        /// Attempt, from 1.
        attempt: i64,
        /// The exercise has changed since.
        stale: bool,
        /// Who signed it off.
        signed_off: Option<String>,
        /// Marks earned; null where the exercise gives none, or nothing was judged yet.
        marks: Option<f64>,
        /// Marks to be had.
        out_of: Option<f64>,
        /// Handed in after it was due.
        late: bool,
        /// Staff decided otherwise than the check.
        by_hand: bool,
    }

    /// An exercise as a column of the pass sheet.
    struct ExerciseHead {
        /// Key.
        id: ExerciseId,
        /// Title.
        title: String,
        /// Due then; null for never. For students their own time.
        due_at: Option<i64>,
        /// Students see it from then on; null for at once.
        release_at: Option<i64>,
        /// `published`, `changed` (a draft differs from it) or `unpublished`; students see published ones only.
        state: String,
    }

    /// A student as a line of the pass sheet.
    struct StudentLine {
        /// Key.
        id: PersonId,
        /// Name.
        name: String,
        /// Section.
        section: String,
        /// A cell for each exercise; null where nothing was handed in.
        cells: Vec<Option<Cell>>,
        /// Marks earned in what was judged; null where nothing gives marks.
        marks: Option<f64>,
        /// Marks to be had in what was judged.
        out_of: Option<f64>,
    }

    /// A student.
    struct StudentRef {
        /// Key.
        id: PersonId,
        /// Name.
        name: String,
        /// Section.
        section: String,
    }

    /// The pass sheet of a course.
    struct PassSheet {
        /// Title of the course.
        title: String,
        /// A student's newest attempt counts; else the best.
        counts_newest: bool,
        /// Columns.
        exercises: Vec<ExerciseHead>,
        /// Those that are put aside; empty for students.
        archived: Vec<ExerciseHead>,
        /// Lines.
        students: Vec<StudentLine>,
        /// Checks of the course that are still to be made; 0 for students.
        waiting: u64,
    }

    /// Which of a student's attempts is to count.
    struct Counting {
        /// The newest; else the best.
        newest: bool,
    }

    /// An entry of the audit trail.
    struct AuditLine {
        /// Who.
        person: Option<String>,
        /// Did what.
        action: String,
        /// To what.
        subject: String,
        /// When, in seconds since 1970.
        at: i64,
    }
}

impl StudentLine {
    /// A line of a student (key, name, section) with the marks of all exercises together.
    pub(crate) fn new((id, name, section): (PersonId, String, String), cells: Vec<Option<Cell>>) -> Self {
        let sum = |of: fn(&Cell) -> Option<f64>| {
            let list = cells.iter().flatten().filter_map(of);
            list.fold(None, |sum: Option<f64>, m| Some(sum.unwrap_or(0.0) + m)).map(|m| (m * 100.0).round() / 100.0)
        };
        let (marks, out_of) = (sum(|c| c.marks), sum(|c| c.out_of));
        Self { id, name, section, cells, marks, out_of }
    }
}
