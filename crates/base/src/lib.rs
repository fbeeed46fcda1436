//! Ground floor of Zesty Gate: places in source files, messages for learners, ids and arenas, and budgets.
//!
//! Every other crate stands on this one; it knows nothing of logic, languages or exercises.

mod arena;
mod budget;
mod code;
mod diagnostic;
mod fault;
mod names;
mod random;
mod source;

pub use arena::{Arena, Id};
pub use budget::{Budget, Exhausted, Resource};
pub use code::Code;
pub use diagnostic::{Audience, Diagnostic, Fix, Severity, Stage};
pub use fault::Fault;
pub use names::{NameProblem, check_port_name, edit_distance, nearest, plain_field};
pub use random::Random;
pub use source::{DecodeProblem, FileId, Place, SourceFile, SourceMap, Span};
