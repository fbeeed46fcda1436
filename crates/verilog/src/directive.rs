//! What compiler directives leave behind: macros that are defined, conditional parts that are open.

use base::{FileId, Span};

/// The name of a macro's argument, and the stretch of its default.
pub(crate) type Argument = (String, Option<(usize, usize)>);

/// A macro's text and the names of its arguments.
#[derive(Clone, Debug)]
pub(crate) struct Macro<'a> {
    pub(crate) arguments: Option<Vec<Argument>>,
    pub(crate) file: FileId,
    /// All of the file that defines it.
    pub(crate) whole: &'a str,
    pub(crate) start: usize,
    pub(crate) end: usize,
}

/// A conditional part of the file that is open.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Condition {
    /// What stands here counts.
    pub(crate) active: bool,
    /// Some branch has counted already, or the part around it doesn't count.
    pub(crate) taken: bool,
    pub(crate) opened: Span,
}
