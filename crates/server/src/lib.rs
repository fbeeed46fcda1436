//! The web application: routes, sessions, roles, the pool that runs checks, and the web files that ship with it.
//!
//! Knows no SQL and no marking rules: it extracts, asks the core or the store off the async threads, and converts.

mod access;
mod app;
mod archive;
mod asking;
mod assets;
mod bundles;
mod caller;
mod checked;
mod diff;
mod gate;
mod jobs;
mod loaded;
mod open_api;
mod open_dumps;
mod pack;
mod password;
mod problem;
mod rosters;
mod routes;
mod runs;
mod security;
mod state;
mod terms;
mod throttle;
mod uploads;
pub mod wire;
mod work;

pub use access::{Access, Route};
pub use app::{configure, serve};
pub use jobs::{check_now, hand_in_of};
pub use open_api::open_api;
pub use password::{NotHashed, hash_password};
pub use rosters::bring_in_line;
pub use routes::ROUTES;
pub use state::AppState;
