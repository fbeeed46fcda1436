//! What a port may be called, and which known name a misspelt one was meant to be.

/// A text of other people as a field that no spreadsheet takes for a formula: one that begins like a formula gets a quote
/// before it (common practice).
pub fn plain_field(text: &str) -> String {
    if text.starts_with(['=', '+', '-', '@', '\t', '\r']) { format!("'{text}") } else { text.to_owned() }
}

/// Why a name can't be used.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum NameProblem {
    /// Nothing was typed.
    Empty,
    /// The first character is not a letter.
    FirstNotLetter(char),
    /// A character that is neither letter, digit nor underscore; with its column, from 1.
    BadCharacter(char, usize),
    /// Longer than 64 characters.
    TooLong,
}

impl std::fmt::Display for NameProblem {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            NameProblem::Empty => write!(f, "a name is missing"),
            NameProblem::FirstNotLetter(c) => write!(f, "a name starts with a letter, not with `{c}`"),
            NameProblem::BadCharacter(' ', _) => write!(f, "a name holds no blanks"),
            NameProblem::BadCharacter(c, _) => {
                write!(f, "a name holds letters a–z, digits and underscores only, not `{c}`")
            }
            NameProblem::TooLong => write!(f, "a name is at most 64 characters long"),
        }
    }
}

/// Checks a port or module name: a letter, then letters, digits and underscores (legal in Verilog and VHDL alike).
///
/// # Errors
/// The first reason why it can't be used.
pub fn check_port_name(name: &str) -> Result<(), NameProblem> {
    let first = name.chars().next().ok_or(NameProblem::Empty)?;
    if let Some((i, c)) = name.chars().enumerate().find(|(i, c)| !(c.is_ascii_alphanumeric() || *c == '_') && *i > 0) {
        return Err(NameProblem::BadCharacter(c, i + 1));
    }
    if !first.is_ascii_alphabetic() {
        return Err(NameProblem::FirstNotLetter(first));
    }
    if name.len() > 64 {
        return Err(NameProblem::TooLong);
    }
    Ok(())
}

/// Edits (insert, delete, replace, swap of neighbours) between two names, ignoring case.
pub fn edit_distance(a: &str, b: &str) -> usize {
    strsim::osa_distance(&a.to_lowercase(), &b.to_lowercase())
}

/// The known name that a misspelt one was most likely meant to be: at most a third of its letters off.
pub fn nearest<'a>(name: &str, known: impl IntoIterator<Item = &'a str>) -> Option<&'a str> {
    if name.chars().count() > 64 {
        return None;
    }
    known
        .into_iter()
        .filter(|k| k.len() <= 64)
        .map(|k| (edit_distance(name, k), k))
        .filter(|(d, k)| *d <= 1.max(name.chars().count().min(k.chars().count()) / 3))
        .min_by_key(|(d, _)| *d)
        .map(|(_, k)| k)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_refused_with_the_reason() {
        assert_eq!(check_port_name("lamp_2"), Ok(()));
        assert_eq!(check_port_name("2x"), Err(NameProblem::FirstNotLetter('2')));
        assert_eq!(check_port_name("a b"), Err(NameProblem::BadCharacter(' ', 2)));
        assert_eq!(check_port_name("naïve"), Err(NameProblem::BadCharacter('ï', 3)));
        assert_eq!(check_port_name(""), Err(NameProblem::Empty));
    }

    #[test]
    fn a_misspelt_name_finds_its_neighbour() {
        assert_eq!(nearest("lmap", ["lamp", "full"]), Some("lamp"));
        assert_eq!(nearest("Full", ["lamp", "full"]), Some("full"));
        assert_eq!(nearest("zzz", ["lamp", "full"]), None);
        assert_eq!(nearest("b", ["a", "c"]), Some("a"));
    }
}
