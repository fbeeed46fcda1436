//! A small change of a source text, and how likely a slip of its kind is.

use std::ops::Range;

/// How likely a kind of slip is; smaller is tried earlier.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Class {
    /// Another operator or gate.
    Operator,
    /// An operator or word for its twin.
    Twin,
    /// An inversion more or less.
    Inversion,
    /// Parts of a vector in the other order.
    Order,
    /// The other edge of a clock.
    Edge,
    /// A number in another base.
    Base,
    /// Another number, level or state.
    Constant,
    /// Another comparison.
    Comparison,
    /// The condition of a branch turned around.
    Condition,
    /// Numbers with a sign for numbers without, or the other way round, in the whole file.
    Signs,
    /// All assignments of a block of the other kind.
    Assignments,
    /// One vector with a sign, or without.
    Sign,
    /// Two statements in the other order.
    Statements,
    /// A range for a wire that has none.
    Width,
    /// An operand of an OR left out.
    Term,
    /// An operand of an AND or XOR left out.
    Factor,
    /// Another name.
    Name,
}

/// What takes the place of what, by bytes of the text.
pub type Edits = Vec<(Range<usize>, String)>;

/// A change of one place (or of one block) of a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Change {
    /// How likely it is.
    pub class: Class,
    /// What takes the place of what, in order of place.
    pub edits: Edits,
    /// What is there, as it is said.
    pub from: String,
    /// What would be right.
    pub to: String,
}

impl Change {
    /// A change of one place.
    pub fn one(class: Class, range: Range<usize>, from: &str, to: impl Into<String>) -> Self {
        let to = to.into();
        Self { class, edits: vec![(range, to.clone())], from: from.into(), to }
    }

    /// The text with the change made.
    pub fn applied(&self, text: &str) -> String {
        let mut out = String::with_capacity(text.len() + 8);
        let mut at = 0;
        for (range, new) in &self.edits {
            out.push_str(&text[at..range.start]);
            out.push_str(new);
            at = range.end;
        }
        out.push_str(&text[at..]);
        out
    }

    /// Where it stands, by bytes of the text.
    pub fn range(&self) -> Range<usize> {
        self.edits.first().map_or(0..0, |(r, _)| r.clone())
    }
}
