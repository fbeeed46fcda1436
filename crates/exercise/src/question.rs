//! Answers that an exercise asks to be prepared on paper.

use logic::AskedForm;

/// What may be asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Ask {
    /// The column of the truth table: 0 and 1 from row 0 on.
    Table,
    /// The list of minterms.
    Minterms,
    /// The list of maxterms.
    Maxterms,
    /// An expression of a form.
    Expression(AskedForm),
}

impl Ask {
    /// The words for all of them.
    pub fn keys() -> impl Iterator<Item = &'static str> {
        ["table", "minterms", "maxterms"].into_iter().chain(AskedForm::ALL.into_iter().map(|(key, _)| key))
    }

    /// What a word asks for.
    pub fn from_key(key: &str) -> Option<Self> {
        Some(match key {
            "table" => Ask::Table,
            "minterms" => Ask::Minterms,
            "maxterms" => Ask::Maxterms,
            other => Ask::Expression(AskedForm::from_key(other)?),
        })
    }

    /// Its word.
    pub fn key(self) -> &'static str {
        match self {
            Ask::Table => "table",
            Ask::Minterms => "minterms",
            Ask::Maxterms => "maxterms",
            Ask::Expression(form) => form.key(),
        }
    }

    fn words(self) -> &'static str {
        match self {
            Ask::Table => "its column of the table",
            Ask::Minterms => "its minterms",
            Ask::Maxterms => "its maxterms",
            Ask::Expression(form) => form.words(),
        }
    }
}

/// An answer that the exercise asks for.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Question {
    /// The output bit.
    pub output: String,
    /// What is asked for.
    pub ask: Ask,
    /// It has to be minimal for all marks.
    pub minimal: bool,
    /// Marks for it.
    pub marks: u32,
}

impl Question {
    /// How a hand-in names it: `f.sop`.
    pub fn key(&self) -> String {
        format!("{}.{}", self.output, self.ask.key())
    }

    /// As findings name it: ``for `f` (its minterms)``.
    pub fn words(&self) -> String {
        format!("for `{}` ({})", self.output, self.ask.words())
    }
}
