//! How a language finds units written in another one.

use crate::ids::ScopeId;
use crate::model::Design;
use base::{Budget, Diagnostic, Span};
use logic::LogicVector;

/// Modules and entities of all languages of a hand-in, for hierarchies that mix them.
pub trait Units: Sync {
    /// Names of the units that `asking` could instantiate from other languages.
    fn names(&self) -> Vec<String>;

    /// The text of a data file by its bare name.
    fn text(&self, name: &str) -> Option<&str>;

    /// Names of the data files.
    fn texts(&self) -> Vec<&str>;

    /// Elaborates the unit of that name into a scope made for it, which gets its parameters and ports; `parameters` are
    /// by name, or by position where the name is empty. `None` when there is no such unit.
    fn instantiate(
        &self,
        design: &mut Design,
        scope: ScopeId,
        unit: &str,
        parameters: &[(String, LogicVector)],
        place: Span,
        budget: &mut Budget,
    ) -> Option<Vec<Diagnostic>>;
}
