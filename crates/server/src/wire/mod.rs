//! What travels between server and browser, a file a resource; the OpenAPI document and the page's types are made from these.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

macro_rules! wire {
    ($($(#[$meta:meta])* struct $name:ident { $($(#[$field_meta:meta])* $field:ident: $ty:ty,)* })*) => {
        $(
            #[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
            $(#[$meta])*
            pub struct $name { $($(#[$field_meta])* pub $field: $ty,)* }
        )*
    };
}

mod bench;
mod courses;
mod drafts;
mod exercises;
mod hand_ins;
mod lists;
mod pad;
mod people;
mod session;
mod terms;
mod waves;
mod workings;

pub use bench::{BenchView, ImageInfo, WiredBit};
pub use courses::{AuditLine, Cell, Counting, ExerciseHead, PassSheet, StudentLine, StudentRef};
pub use drafts::{
    ArchiveAsk, DiffLine, DraftStanding, FileDiff, MoveAsk, OwnCheck, PublishPreview, RevisionDiff, RevisionInfo,
    VersionAsk,
};
pub use exercises::{
    BoardInfo, Column, ExercisePage, ExerciseSaved, ExerciseText, PartInfo, PlanLine, PortInfo, QuestionInfo,
};
pub use hand_ins::{
    BundleLine, BundleRest, BundleView, Decision, DecisionAsk, FileText, HandInForm, HandInKept, HandInLine,
    HandInPage, RowsView,
};
pub use lists::lists;
pub use pad::{PadFile, TryRequest, TryView};
pub use people::{
    CourseEdit, JoinAsk, JoinCodeAsk, JoinCodeInfo, JoinTarget, LinkOwner, LinksAsk, NewPassword, NewPerson,
    PasswordLink, PeopleView, PersonEdit, PersonLine, RosterLine, RosterView, SessionInfo, SetUp,
};
pub use session::{CourseRef, DemoAccount, DemoAccounts, Me, SignIn, Start};
pub use terms::{ExtensionAsk, ExtensionInfo, OwnTerms, TermsAsk, TermsInfo};
pub use waves::{DumpEdge, DumpOpened, DumpWindow, WavesAsk, WavesKept, WavesView, WindowLane};
pub use workings::{FreeLabels, WorkingsRequest, WorkingsSave, WorkingsView};

wire! {
    /// A failure: what it is and what to do (RFC 9457).
    struct ProblemBody {
        /// What kind of failure.
        title: String,
        /// The HTTP status.
        status: u16,
        /// What happened and what to do.
        detail: String,
    }
}
