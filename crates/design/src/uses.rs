//! What a source was written with, for rules about how an exercise may be solved. A design no longer tells a `case` from
//! a chain of `if`; the language crates say it from their trees.

use base::Span;

/// A means of writing, under the one name that both languages share.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Means {
    /// `case`, `if`, `when-else`, `with-select`, `conditional`, `for`, `while`, `generate`, `process`, `function`,
    /// `procedure`, `assignment`, `gate`, `initial`, `delay`.
    Construct(&'static str),
    /// An operator on levels: `and or xor nand nor xnor not + - * / mod rem ** << >> == < ?:` and so on.
    Operator(&'static str),
    /// A gate primitive: `and or xor nand nor xnor not buf`.
    Gate(&'static str),
    /// An instance of that unit, as it is spelt.
    Instance(String),
}

/// One use of it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Use {
    /// What.
    pub means: Means,
    /// Where.
    pub span: Span,
}

impl Use {
    /// A use at a place.
    pub fn new(means: Means, span: Span) -> Self {
        Self { means, span }
    }
}
