//! Who is signed in.

use serde::{Deserialize, Serialize};
use store::CourseId;
use utoipa::ToSchema;

wire! {
    /// Name and password.
    struct SignIn {
        /// Sign-in name.
        name: String,
        /// Password.
        password: String,
    }

    /// A course as a person sees it.
    struct CourseRef {
        /// Key.
        id: CourseId,
        /// Title.
        title: String,
        /// `instructor`, `assistant` or `student`.
        role: String,
        /// The time zone on whose clock its times are said, by its name in the tz database.
        zone: String,
    }

    /// Who is signed in.
    struct Me {
        /// Name for people.
        name: String,
        /// Name to sign in with.
        sign_in: String,
        /// May make courses.
        teaches: bool,
        /// Their courses.
        courses: Vec<CourseRef>,
    }

    /// What the page needs before it can show anything.
    struct Start {
        /// Who is signed in; nobody when null.
        me: Option<Me>,
        /// Sign-in names and the password of the demo data; null outside the demo.
        demo: Option<DemoAccounts>,
        /// Nobody is there yet: the first person has to be made.
        needs_set_up: bool,
    }

    /// The accounts of the demo data.
    struct DemoAccounts {
        /// The password of all of them.
        password: String,
        /// Sign-in name and role.
        accounts: Vec<DemoAccount>,
    }

    /// An account of the demo data.
    struct DemoAccount {
        /// Sign-in name.
        name: String,
        /// What it is.
        role: String,
    }
}
