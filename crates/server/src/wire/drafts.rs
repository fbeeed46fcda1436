//! Exercises as their authors work at them: drafts, what publishing does, revisions.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

wire! {
    /// How an exercise stands between its authors and its students.
    struct DraftStanding {
        /// Number of the published revision; null before the first.
        published: Option<i64>,
        /// Who saved the draft last; null where there is none.
        editor: Option<String>,
        /// When: seconds since 1970.
        saved_at: Option<i64>,
        /// It is put aside: students don't see it.
        archived: bool,
    }

    /// The version that somebody means to publish or to discard.
    struct VersionAsk {
        /// What was saved last, as the page knows it.
        version: i64,
    }

    /// What publishing will do.
    struct PublishPreview {
        /// What was saved last.
        version: i64,
        /// There is a draft to publish.
        has_draft: bool,
        /// Students see the exercise for the first time.
        is_first: bool,
        /// What is checked changes; else words or marks only.
        changes_checks: bool,
        /// What something is worth changes.
        changes_marks: bool,
        /// Hand-ins whose verdicts become stale.
        stale: u64,
        /// Hand-ins whose marks are counted anew, without a new check.
        recounted: u64,
    }

    /// What the exercise's own check says of its reference.
    struct OwnCheck {
        /// Whether it passes.
        verdict: verdict::VerdictKind,
        /// The first sentence.
        headline: String,
        /// What costs it marks, a sentence each.
        findings: Vec<String>,
        /// Typical faults that were put into it one at a time.
        faults_tried: u64,
        /// Those that the check tells.
        faults_told: u64,
        /// Those that pass all the same, a sentence each.
        faults_missed: Vec<String>,
    }

    /// A published revision.
    struct RevisionInfo {
        /// Its number, from 1.
        number: i64,
        /// Title at that time.
        title: String,
        /// Who published it.
        author: String,
        /// When: seconds since 1970.
        at: i64,
    }

    /// A line of a difference.
    struct DiffLine {
        /// `same`, `gone` or `new`.
        kind: String,
        /// The line.
        text: String,
    }

    /// What differs in a file between two hand-ins.
    struct FileDiff {
        /// Its name.
        name: String,
        /// `same`, `changed`, `new` or `gone`.
        state: String,
        /// Line by line, as between revisions; empty where it is no text.
        lines: Vec<DiffLine>,
    }

    /// What differs between two revisions, or a revision and the draft.
    struct RevisionDiff {
        /// Line by line, with three lines around each change; what is left out stands as one line of kind `skipped`.
        lines: Vec<DiffLine>,
        /// The newer text, to go back to.
        text: String,
    }

    /// Lets an exercise change places with its neighbour.
    struct MoveAsk {
        /// With the one before it; else with the one behind it.
        earlier: bool,
    }

    /// Puts an exercise aside or takes it up again.
    struct ArchiveAsk {
        /// Put aside.
        archived: bool,
    }
}
