//! When an exercise is worked at, and what students read of verdicts.

use serde::{Deserialize, Serialize};
use store::PersonId;
use utoipa::ToSchema;

wire! {
    /// More time for one person or one section.
    struct ExtensionInfo {
        /// The person; null for a section.
        person: Option<PersonId>,
        /// The section; empty for a person.
        section: String,
        /// Due then: seconds since 1970.
        due_at: i64,
        /// The same on the clock of the course, as `2027-03-12T17:00`.
        due: String,
    }

    /// More time for one person or one section, as it is typed.
    struct ExtensionAsk {
        /// The person; null for a section.
        person: Option<PersonId>,
        /// The section; empty for a person.
        section: String,
        /// Due then on the clock of the course, as `2027-03-12T17:00`, or with an offset of its own.
        due: String,
    }

    /// The terms of an exercise as they are typed. A key that is not known is refused, so that no time is cleared by a slip.
    #[serde(deny_unknown_fields)]
    struct TermsAsk {
        /// Students see it from then on, on the clock of the course (as `2027-03-12T17:00`) or with an offset of its own; null for at
        /// once.
        release: Option<String>,
        /// It is due then; null for never.
        due: Option<String>,
        /// Hand-ins a student has; null for as many as wanted.
        attempts: Option<u32>,
        /// Late hand-ins are refused; else marked.
        refuses_late: bool,
        /// What students read of a verdict: `all`, `stages` or `after_due`.
        shown: String,
        /// More time for some.
        extensions: Vec<ExtensionAsk>,
    }

    /// The terms of an exercise.
    struct TermsInfo {
        /// The time zone of the course, by its name in the tz database.
        zone: String,
        /// Students see it from then on; null for at once.
        release_at: Option<i64>,
        /// The same on the clock of the course, as `2027-03-12T17:00`.
        release: Option<String>,
        /// It is due then; null for never.
        due_at: Option<i64>,
        /// The same on the clock of the course.
        due: Option<String>,
        /// Hand-ins a student has; null for as many as wanted.
        attempts: Option<u32>,
        /// Late hand-ins are refused; else marked.
        refuses_late: bool,
        /// What students read of a verdict: `all`, `stages` or `after_due`.
        shown: String,
        /// More time for some.
        extensions: Vec<ExtensionInfo>,
    }

    /// What of the terms of an exercise concerns one student.
    struct OwnTerms {
        /// Due for them then; null for never.
        due_at: Option<i64>,
        /// The same on the clock of the course, as `2027-03-12T17:00`.
        due: Option<String>,
        /// The time zone of the course, by its name in the tz database.
        zone: String,
        /// Attempts they have left; null for as many as wanted.
        attempts_left: Option<u32>,
        /// What they read of a verdict now: `all`, `stages` or `after_due`.
        shown: String,
        /// Why nothing can be handed in now; null where it can.
        refusal: Option<String>,
    }
}
