//! People, their sessions and how they come in.

use serde::{Deserialize, Serialize};
use store::{CourseId, PersonId};
use utoipa::ToSchema;

wire! {
    /// The first person of an installation, and the first course.
    struct SetUp {
        /// Name for people: given name first.
        name: String,
        /// Family name; may be empty.
        family: String,
        /// Name to sign in with.
        sign_in: String,
        /// Password.
        password: String,
        /// Title of the first course.
        course: String,
        /// Its time zone, by its name in the tz database; null for the machine's own.
        zone: Option<String>,
    }

    /// A course to be made, or its new title.
    struct CourseEdit {
        /// Title.
        title: String,
        /// The course whose exercises are copied; null for none.
        copy_of: Option<CourseId>,
        /// The time zone on whose clock its times are said, by its name in the tz database; null leaves it as it is.
        zone: Option<String>,
    }

    /// What staff says of a person.
    struct PersonEdit {
        /// Name for people: given name first.
        name: String,
        /// Family name; may be empty.
        family: String,
        /// Name to sign in with.
        sign_in: String,
        /// The school's number; may be empty.
        number: String,
        /// Section; may be empty.
        section: String,
        /// `instructor`, `assistant` or `student`.
        role: String,
        /// Sections that an assistant looks after; none for all.
        looks_after: Vec<String>,
        /// May come in.
        active: bool,
    }

    /// A person of a course as staff sees them.
    struct PersonLine {
        /// Key.
        id: PersonId,
        /// What is known of them.
        known: PersonEdit,
        /// Has set a password.
        has_password: bool,
        /// Hand-ins in the course.
        hand_ins: u64,
        /// Name and number may be changed here, and a link may be made.
        is_ours: bool,
    }

    /// A code with which students join.
    struct JoinCodeInfo {
        /// Key.
        id: i64,
        /// The code.
        code: String,
        /// Section that one joins; empty for none.
        section: String,
        /// How many may still join.
        uses_left: i64,
        /// When it ends: seconds since 1970.
        expires_at: i64,
    }

    /// A join code to be made.
    struct JoinCodeAsk {
        /// Section that one joins; may be empty.
        section: String,
        /// How many may join, 1 to 1000.
        uses: i64,
        /// Days that it holds, 1 to 120.
        days: i64,
    }

    /// The people of a course.
    struct PeopleView {
        /// Title of the course.
        title: String,
        /// Sorted by family name.
        people: Vec<PersonLine>,
        /// Join codes that hold; empty for assistants.
        join_codes: Vec<JoinCodeInfo>,
    }

    /// Whose links are to be made.
    struct LinksAsk {
        /// People of the course, at most 500.
        people: Vec<PersonId>,
    }

    /// A one-time link with which a password is set.
    struct PasswordLink {
        /// The person.
        person: PersonId,
        /// Name for people.
        name: String,
        /// Name to sign in with.
        sign_in: String,
        /// The last part of the link's address.
        token: String,
        /// When it ends: seconds since 1970.
        expires_at: i64,
    }

    /// Whose link it is.
    struct LinkOwner {
        /// Name for people.
        name: String,
        /// Name to sign in with.
        sign_in: String,
    }

    /// A new password.
    struct NewPassword {
        /// The one before; only asked of somebody who is signed in.
        before: Option<String>,
        /// The new one.
        password: String,
    }

    /// A line of a roster, and what happens with it.
    struct RosterLine {
        /// The line, from 1.
        line: u64,
        /// `new`, `joins`, `changed`, `same` or `left_out`.
        state: String,
        /// Name for people; empty where the line is nobody.
        name: String,
        /// Name to sign in with.
        sign_in: String,
        /// Section.
        section: String,
        /// What changes, or why it is left out.
        what: String,
    }

    /// What a roster does, or did.
    struct RosterView {
        /// Line by line.
        lines: Vec<RosterLine>,
        /// Students of the course who are not in it; they stay.
        missing: Vec<String>,
        /// It was done; else only looked at.
        applied: bool,
    }

    /// The course that a join code leads to.
    struct JoinTarget {
        /// Title.
        title: String,
    }

    /// Somebody who joins a course by code; without data the person who is signed in.
    struct JoinAsk {
        /// The code.
        code: String,
        /// A new person.
        person: Option<NewPerson>,
    }

    /// A new person who comes by code.
    struct NewPerson {
        /// Name for people: given name first.
        name: String,
        /// Family name; may be empty.
        family: String,
        /// Name to sign in with.
        sign_in: String,
        /// Password.
        password: String,
    }

    /// A session of oneself.
    struct SessionInfo {
        /// Key.
        key: String,
        /// When it was opened: seconds since 1970.
        opened_at: i64,
        /// When it was used last.
        seen_at: i64,
        /// What the browser calls itself.
        agent: String,
        /// It is this one.
        is_this: bool,
    }
}
