//! What a course knows apart from its exercises, as pure functions: rosters as schools export them, and what reading one would
//! change.

mod bundle;
mod compare;
mod names;
mod roster;
mod terms;
mod zone;

pub use bundle::{Bundle, LeftOver, Owner, Packed, Part, is_litter, sort_out};
pub use compare::{Known, Line, Outcome, Preview, compare};
pub use names::{PersonName, SignInError, sort_key, valid_sign_in};
pub use roster::{Entry, MOST_PEOPLE, Remark, Roster, RosterFault, read_roster};
pub use terms::{Extension, Late, NotNow, Shown, Terms, TermsFault};
pub use zone::{Zone, ZoneError};
