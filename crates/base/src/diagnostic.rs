//! The one message type for what is wrong in somebody's work, from lexer to verdict.
//!
//! Failures of our surroundings are `Result`s and our own bugs are panics; neither is a `Diagnostic`.

use crate::code::Code;
use crate::source::Span;
use std::fmt;

/// What a message costs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Severity {
    /// Stops the check: later stages can't run.
    Stop,
    /// Costs marks, but the check goes on.
    Marks,
    /// Worth knowing.
    Note,
}

/// The six stages of a check, in the order they run.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Stage {
    /// Files, modules and ports are named as the exercise wants them.
    Names,
    /// The source is legal in its language.
    Language,
    /// The structure keeps the exercise's rules; no latch, no loop, every output driven.
    Structure,
    /// The outputs are right on every row.
    Behaviour,
    /// The port bits are wired to the right parts.
    Wiring,
    /// The loaded board shows the right lamps.
    Bench,
}

impl Stage {
    /// All stages in order.
    pub const ALL: [Stage; 6] =
        [Stage::Names, Stage::Language, Stage::Structure, Stage::Behaviour, Stage::Wiring, Stage::Bench];

    /// The lower-case word used in JSON.
    pub fn key(self) -> &'static str {
        match self {
            Stage::Names => "names",
            Stage::Language => "language",
            Stage::Structure => "structure",
            Stage::Behaviour => "behaviour",
            Stage::Wiring => "wiring",
            Stage::Bench => "bench",
        }
    }
}

impl Severity {
    /// The lower-case word used in JSON.
    pub fn key(self) -> &'static str {
        match self {
            Severity::Stop => "stop",
            Severity::Marks => "marks",
            Severity::Note => "note",
        }
    }
}

/// Who may read a message.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Audience {
    /// Everybody.
    Student,
    /// Instructor and assistants only: the message gives part of the key away.
    Staff,
}

/// A text change that puts a fault right: replace the text at `span` by `text`.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Fix {
    /// What the fix does, beginning with a verb.
    pub label: String,
    /// The text to be replaced; empty for an insertion.
    pub span: Span,
    /// What takes its place.
    pub text: String,
}

/// One message about somebody's work: what is wrong, where, and what to do about it.
///
/// Built by factories named after the fault (`missing_semicolon(after)`), never inline.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Diagnostic {
    /// Stable kebab-case code, listed in `docs/findings.md`.
    pub code: Code,
    /// What it costs.
    pub severity: Severity,
    /// The stage that found it.
    pub stage: Stage,
    /// What is wrong, in one line.
    pub message: String,
    /// Where; `None` for a fault of the hand-in as a whole.
    pub span: Option<Span>,
    /// Other places that explain it, each with a label.
    pub related: Vec<(Span, String)>,
    /// Why it is wrong, in course words; may be empty.
    pub help: String,
    /// What to do, beginning with a verb.
    pub action: String,
    /// Text changes that would repair it.
    pub fixes: Vec<Fix>,
    /// Who may read it.
    pub audience: Audience,
}

impl Diagnostic {
    /// A message without a place. `action` begins with a verb: it says what to do.
    pub fn new(
        code: impl Into<Code>,
        severity: Severity,
        stage: Stage,
        message: impl Into<String>,
        action: impl Into<String>,
    ) -> Self {
        Self {
            code: code.into(),
            severity,
            stage,
            message: message.into(),
            span: None,
            related: Vec::new(),
            help: String::new(),
            action: action.into(),
            fixes: Vec::new(),
            audience: Audience::Student,
        }
    }

    /// The same at a place.
    pub fn at(mut self, span: Span) -> Self {
        self.span = Some(span);
        self
    }

    /// The same at a place, when one is known.
    pub fn at_opt(mut self, span: Option<Span>) -> Self {
        self.span = span;
        self
    }

    /// The same with the reason why.
    pub fn help(mut self, help: impl Into<String>) -> Self {
        self.help = help.into();
        self
    }

    /// The same with another place that explains it.
    pub fn related(mut self, span: Span, label: impl Into<String>) -> Self {
        self.related.push((span, label.into()));
        self
    }

    /// The same with a text change that repairs it.
    pub fn fix(mut self, label: impl Into<String>, span: Span, text: impl Into<String>) -> Self {
        self.fixes.push(Fix { label: label.into(), span, text: text.into() });
        self
    }

    /// The same, for staff only.
    pub fn for_staff(mut self) -> Self {
        self.audience = Audience::Staff;
        self
    }

    /// True when later stages can't run after this.
    pub fn stops(&self) -> bool {
        self.severity == Severity::Stop
    }
}

impl fmt::Display for Diagnostic {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{} {}", self.message, self.action)
    }
}
