//! The trait behind which each language stands: reading files, its units, elaboration, and the changes of a source that
//! near misses try.

use crate::change::Change;
use base::{Budget, Diagnostic, FileId, SourceFile, Span};
use design::{Design, ScopeId, Units, Use};
use logic::{LogicVector, Notation};

/// A language that designs are written in.
pub trait FrontEnd: Sync {
    /// Its name for people.
    fn name(&self) -> &'static str;

    /// Its word in exercise files.
    fn key(&self) -> &'static str;

    /// Endings of its files, in lower case.
    fn endings(&self) -> &'static [&'static str];

    /// Capitals make no other name.
    fn ignores_case(&self) -> bool;

    /// True for a word that names nothing else in it.
    fn is_reserved(&self, word: &str) -> bool;

    /// How it writes complement, AND and OR.
    fn notation(&self) -> Notation;

    /// Reads the files that are written in it. Never fails: what can't be read becomes findings, and after one that stops
    /// units may be missing.
    fn parse(&self, files: &[(FileId, &SourceFile)], budget: &mut Budget) -> (Box<dyn Trees>, Vec<Diagnostic>);

    /// Small changes of a source that a student may have meant, the likeliest first; `wanted` are numbers that a right one
    /// may hold. Whether a change is legal is for [`FrontEnd::parse`] to say.
    fn changes(&self, text: &str, wanted: &[u64]) -> Vec<Change>;
}

/// A module or entity, as far as choosing the top needs to know it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Unit {
    /// Its name; in lower case where capitals make no other name.
    pub name: String,
    /// Where the name stands; it tells units apart.
    pub span: Span,
    /// Names of its ports.
    pub ports: Vec<String>,
    /// Names of the units that it instantiates.
    pub instantiates: Vec<String>,
}

/// The files of one language as trees.
pub trait Trees: Send + Sync {
    /// Modules or entities in the order of the files.
    fn units(&self) -> Vec<Unit>;

    /// Names of the parameters or generics of the unit whose name stands at a place.
    fn parameters(&self, unit: Span) -> Vec<&str>;

    /// What the unit is written with, without the units below it.
    fn uses(&self, unit: Span) -> Vec<Use>;

    /// Elaborates a unit with all it instantiates. `parameters` are given by name, or by position where the name is empty;
    /// `others` are the units of other languages and the data files.
    fn elaborate(
        &self,
        unit: Span,
        parameters: &[(String, LogicVector)],
        others: &dyn Units,
        budget: &mut Budget,
    ) -> Elaborated;

    /// Elaborates a unit into a scope (`place`) of a design that another language began, and tells what was found.
    fn elaborate_into(
        &self,
        place: (&mut Design, ScopeId),
        unit: Span,
        parameters: &[(String, LogicVector)],
        others: &dyn Units,
        budget: &mut Budget,
    ) -> Vec<Diagnostic>;
}

/// What elaboration gives: a design unless something stopped it.
#[derive(Clone, Debug)]
pub struct Elaborated {
    /// The design; `None` after a finding that stops.
    pub whole: Option<Design>,
    /// What was found, in the order of the source.
    pub diagnostics: Vec<Diagnostic>,
}

impl Elaborated {
    /// A design with what was found on the way: no design where one of the findings stops.
    pub fn new(design: Design, mut diagnostics: Vec<Diagnostic>) -> Self {
        diagnostics.sort_by_key(|d| d.span);
        let stopped = diagnostics.iter().any(Diagnostic::stops);
        Self { whole: (!stopped).then_some(design), diagnostics }
    }

    /// No such unit.
    pub fn nothing() -> Self {
        Self { whole: None, diagnostics: Vec::new() }
    }
}
