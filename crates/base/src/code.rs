//! The codes of findings.

use std::fmt;

/// The stable code of a finding, in kebab case; all are listed in `docs/findings.md`.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Code(&'static str);

/// Those that the way of a check depends on; the others are only told.
impl Code {
    /// Legal, but not read here: a limit of ours.
    pub const NOT_READ_YET: Code = Code("not-read-yet");
    /// The check ran out of its steps or its time.
    pub const BUDGET_EXHAUSTED: Code = Code("budget-exhausted");
    /// An output changes at another rate.
    pub const WRONG_RATE: Code = Code("wrong-rate");
    /// An output is wrong on rows.
    pub const WRONG_ROWS: Code = Code("wrong-rows");
    /// An output is wrong from a cycle on.
    pub const WRONG_CYCLE: Code = Code("wrong-cycle");
    /// A port bit is wired to another part.
    pub const WRONG_PART: Code = Code("wrong-part");
    /// A signal keeps its value on some way through.
    pub const INFERRED_LATCH: Code = Code("inferred-latch");
    /// An output depends on itself without a register.
    pub const COMBINATIONAL_LOOP: Code = Code("combinational-loop");
    /// The design has no parameter of the name.
    pub const PARAMETER_MISSING: Code = Code("parameter-missing");
    /// Nothing drives an output.
    pub const UNDRIVEN_OUTPUT: Code = Code("undriven-output");
    /// Nothing drives a signal that is read.
    pub const UNDRIVEN_SIGNAL: Code = Code("undriven-signal");
    /// Several drive one signal.
    pub const SEVERAL_DRIVERS: Code = Code("several-drivers");
    /// A list leaves out what is read.
    pub const INCOMPLETE_SENSITIVITY: Code = Code("incomplete-sensitivity");
    /// A range without a value.
    pub const NULL_RANGE: Code = Code("null-range");
    /// An index outside its range.
    pub const INDEX_OUTSIDE: Code = Code("index-outside");
    /// A value outside its type.
    pub const VALUE_OUTSIDE_RANGE: Code = Code("value-outside-range");
    /// Two lengths that have to be the same differ.
    pub const LENGTH_DIFFERS: Code = Code("length-differs");
    /// A routine calls itself without an end.
    pub const ENDLESS_RECURSION: Code = Code("endless-recursion");
    /// A value has to be known before anything runs.
    pub const CONSTANT_NEEDED: Code = Code("constant-needed");
    /// What was opened is not closed.
    pub const UNCLOSED: Code = Code("unclosed");
    /// A comment is not closed.
    pub const UNCLOSED_COMMENT: Code = Code("unclosed-comment");
    /// A file without a unit.
    pub const NO_MODULE: Code = Code("no-module");
    /// A semicolon is missing.
    pub const MISSING_SEMICOLON: Code = Code("missing-semicolon");
    /// A macro that nobody defined.
    pub const UNDEFINED_MACRO: Code = Code("undefined-macro");

    /// As it is written in JSON and in the list.
    pub fn key(self) -> &'static str {
        self.0
    }

    /// Is it about answers that were prepared beside the design?
    pub fn is_of_answers(self) -> bool {
        self.0.starts_with("answer")
    }

    /// Is it a limit of ours, which says nothing of the design?
    pub fn is_limit(self) -> bool {
        self == Self::NOT_READ_YET || self == Self::BUDGET_EXHAUSTED
    }
}

impl From<&'static str> for Code {
    fn from(key: &'static str) -> Self {
        Self(key)
    }
}

impl fmt::Display for Code {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.0)
    }
}

impl fmt::Debug for Code {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:?}", self.0)
    }
}
