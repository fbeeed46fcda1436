//! What every language offers, and what their ways into the one representation share: the trait behind which a front end
//! stands, the building blocks of lowering, layers of names, and the small changes of a source that near misses try.

mod change;
mod front_end;
mod layers;
mod lister;
mod lowering;
mod order;
mod slips;
mod tokens;

pub use change::{Change, Class, Edits};
pub use front_end::{Elaborated, FrontEnd, Trees, Unit};
pub use layers::Layers;
pub use lister::{Lister, OfText, OfToken, Writing, changes};
pub use lowering::{Findings, Lower, Mark};
pub use tokens::{Kind, Token};
