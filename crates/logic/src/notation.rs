//! Printing canonical forms in the notation a course chose.

use crate::rows::RowSet;

/// How complement, AND and OR are written.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Default)]
pub enum Notation {
    /// `a'b + c`
    #[default]
    Prime,
    /// `a̅b + c`, with a combining overline.
    Overline,
    /// `~a & b | c`
    Operators,
    /// `not a and b or c`
    Words,
}

impl Notation {
    /// Reads `prime`, `overline`, `operators` or `words`.
    pub fn from_key(key: &str) -> Option<Self> {
        Some(match key {
            "prime" => Self::Prime,
            "overline" => Self::Overline,
            "operators" => Self::Operators,
            "words" => Self::Words,
            _ => return None,
        })
    }

    /// A literal.
    pub(crate) fn literal(self, name: &str, positive: bool) -> String {
        match (positive, self) {
            (true, _) => name.to_owned(),
            (false, Self::Prime) => format!("{name}'"),
            (false, Self::Overline) => name.chars().flat_map(|c| [c, '\u{0305}']).collect(),
            (false, Self::Operators) => format!("~{name}"),
            (false, Self::Words) => format!("not {name}"),
        }
    }

    /// What stands between the factors of a product.
    pub(crate) fn and(self) -> &'static str {
        match self {
            Self::Prime | Self::Overline => " ",
            Self::Operators => " & ",
            Self::Words => " and ",
        }
    }

    /// What stands between the terms of a sum.
    pub(crate) fn or(self) -> &'static str {
        match self {
            Self::Prime | Self::Overline => " + ",
            Self::Operators => " | ",
            Self::Words => " or ",
        }
    }

    /// What stands between the operands of an exclusive OR.
    pub(crate) fn xor(self) -> &'static str {
        match self {
            Self::Prime | Self::Overline => " ⊕ ",
            Self::Operators => " ^ ",
            Self::Words => " xor ",
        }
    }

    /// What stands before and behind a parenthesis to complement it.
    pub(crate) fn inversion(self) -> (&'static str, &'static str) {
        match self {
            Self::Prime => ("", "'"),
            Self::Overline => ("", "\u{0305}"),
            Self::Operators => ("~", ""),
            Self::Words => ("not ", ""),
        }
    }

    /// Its word on the command line and in files.
    pub fn key(self) -> &'static str {
        match self {
            Self::Prime => "prime",
            Self::Overline => "overline",
            Self::Operators => "operators",
            Self::Words => "words",
        }
    }
}

/// The canonical sum of products: one minterm a row of `ones`; `0` without rows, `1` for a table without inputs.
pub fn canonical_sop(inputs: &[String], ones: &RowSet, notation: Notation) -> String {
    if ones.is_empty() {
        return "0".into();
    }
    if inputs.is_empty() {
        return "1".into();
    }
    let term = |row: u64| {
        let literals: Vec<String> = literal_values(inputs, row).map(|(n, v)| notation.literal(n, v)).collect();
        literals.join(notation.and())
    };
    ones.iter().map(term).collect::<Vec<_>>().join(notation.or())
}

/// The canonical product of sums: one maxterm a row of `zeros`; `1` without rows, `0` for a table without inputs.
pub fn canonical_pos(inputs: &[String], zeros: &RowSet, notation: Notation) -> String {
    if zeros.is_empty() {
        return "1".into();
    }
    if inputs.is_empty() {
        return "0".into();
    }
    let factor = |row: u64| {
        let literals: Vec<String> = literal_values(inputs, row).map(|(n, v)| notation.literal(n, !v)).collect();
        format!("({})", literals.join(notation.or()))
    };
    zeros.iter().map(factor).collect::<Vec<_>>().join(notation.and())
}

fn literal_values(inputs: &[String], row: u64) -> impl Iterator<Item = (&String, bool)> {
    let n = inputs.len();
    inputs.iter().enumerate().map(move |(i, name)| (name, row >> (n - 1 - i) & 1 == 1))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Shape, input_word, parse_expr};

    #[test]
    fn canonical_forms_in_every_notation_read_back_as_the_same_function() {
        let inputs: Vec<String> = ["a", "b", "c"].map(str::to_owned).to_vec();
        let signals: Vec<_> = inputs.iter().map(|n| (n.clone(), Shape::SCALAR)).collect();
        let scope: Vec<Vec<u64>> = (0..3).map(|i| vec![input_word(3, i, 0)]).collect();
        for function in 0..256u64 {
            let ones = RowSet::from_words(3, &[function]);
            for notation in [Notation::Prime, Notation::Overline, Notation::Operators, Notation::Words] {
                for text in
                    [canonical_sop(&inputs, &ones, notation), canonical_pos(&inputs, &ones.complement(), notation)]
                {
                    let back = parse_expr(&text, &signals, 1).unwrap().eval(scope.as_slice(), 1)[0] & 255;
                    assert_eq!(back, function, "{text}");
                }
            }
        }
    }
}
