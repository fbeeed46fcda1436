//! Names of people: how they are put together, sorted and used to sign in.

use unicode_normalization::UnicodeNormalization;
use unicode_normalization::char::is_combining_mark;

/// A name as people say it, and the family name where it is known.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct PersonName {
    /// As people say it: given name first.
    pub whole: String,
    /// The family name; empty where it is not known.
    pub family: String,
}

/// Marks that turn the direction of what follows them: a name of a list must not turn the page around it.
const TURNING: [char; 9] =
    ['\u{202a}', '\u{202b}', '\u{202c}', '\u{202d}', '\u{202e}', '\u{2066}', '\u{2067}', '\u{2068}', '\u{2069}'];

fn tidy(text: &str) -> String {
    let text = text.replace(TURNING, "").replace(|c: char| c.is_control(), " ");
    text.split_whitespace().collect::<Vec<_>>().join(" ")
}

impl PersonName {
    /// From a given and a family name, either of which may be empty.
    pub fn of_parts(given: &str, family: &str) -> Self {
        let (given, family) = (tidy(given), tidy(family));
        Self { whole: tidy(&format!("{given} {family}")), family }
    }

    /// From a name in one piece: `Cratewood, Ximena` says which part is the family name, `Ximena Cratewood` does not.
    pub fn of_whole(text: &str) -> Self {
        match text.split_once(',') {
            Some((family, given)) if !given.trim().is_empty() => Self::of_parts(given, family),
            _ => Self { whole: tidy(text.trim_end_matches(',')), family: String::new() },
        }
    }
}

/// A text without accents and capitals, for sorting and for comparing headings.
pub(crate) fn plain(text: &str) -> String {
    let text = text.nfd().filter(|c| !is_combining_mark(*c)).collect::<String>().to_lowercase();
    // Letters that are no accented ones, as they are sorted in most lists (common practice).
    text.chars().fold(String::new(), |mut out, c| {
        match c {
            'ß' => out.push_str("ss"),
            'æ' => out.push_str("ae"),
            'œ' => out.push_str("oe"),
            'ø' => out.push('o'),
            'ł' => out.push('l'),
            'đ' => out.push('d'),
            c => out.push(c),
        }
        out
    })
}

/// What people are sorted by: the family name where one is known, then the whole name; accents and capitals don't count.
pub fn sort_key(name: &str, family: &str) -> (String, String) {
    (plain(if family.is_empty() { name } else { family }), plain(name))
}

/// Why a name can't be one to sign in with.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum SignInError {
    /// There is none.
    #[error("A sign-in name is missing; give one.")]
    Missing,
    /// It is longer than 64 characters.
    #[error("The sign-in name {0} is longer than 64 characters; shorten it.")]
    Long(String),
    /// It holds a blank.
    #[error("The sign-in name `{0}` holds a blank; leave it out.")]
    Blank(String),
    /// It holds a character that no such name has.
    #[error("The sign-in name `{0}` holds `{1}`; use letters, digits and . _ - @ +.")]
    Character(String, char),
}

/// A name to sign in with as it is kept: in small letters, accents in one way (NFC), so that nobody has two accounts by a
/// different spelling of one name. Or why it can't be one.
///
/// # Errors
/// When nobody can sign in with it.
pub fn valid_sign_in(text: &str) -> Result<String, SignInError> {
    let text: String = text.trim().nfc().collect();
    let legal = |c: char| c.is_alphanumeric() || "._-@+".contains(c);
    match text.chars().find(|c| !legal(*c)) {
        _ if text.is_empty() => Err(SignInError::Missing),
        _ if text.chars().count() > 64 => Err(SignInError::Long(text)),
        Some(' ') => Err(SignInError::Blank(text)),
        Some(c) => Err(SignInError::Character(text, c)),
        None => Ok(text.to_lowercase()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_come_in_parts_or_in_one_piece() {
        let name = |whole: &str, family: &str| PersonName { whole: whole.into(), family: family.into() };
        assert_eq!(PersonName::of_parts(" Ximena  Inés ", "Cratewood"), name("Ximena Inés Cratewood", "Cratewood"));
        assert_eq!(PersonName::of_whole("Cratewood, Ximena"), name("Ximena Cratewood", "Cratewood"));
        assert_eq!(PersonName::of_whole("Ximena Cratewood"), name("Ximena Cratewood", ""));
        assert_eq!(PersonName::of_whole("Cratewood,"), name("Cratewood", ""));
        assert_eq!(PersonName::of_whole("Mi\u{202e}lo\u{0} Rind"), name("Milo Rind", ""));
    }

    #[test]
    fn accents_and_capitals_do_not_count_in_an_order() {
        let mut list = [("Zoë Ábel", "Ábel"), ("Ann Øst", "Øst"), ("Ann abacus", "abacus"), ("Łucja Nowak", "Nowak")];
        list.sort_by_key(|(name, family)| sort_key(name, family));
        assert_eq!(list.map(|(_, family)| family), ["abacus", "Ábel", "Nowak", "Øst"]);
    }

    #[test]
    fn a_sign_in_name_has_no_blanks_and_an_end() {
        assert_eq!(valid_sign_in(" ximena@packhouse.test "), Ok("ximena@packhouse.test".into()));
        assert_eq!(valid_sign_in("josé-2"), Ok("josé-2".into()));
        assert_eq!(valid_sign_in("JOSE\u{301}-2"), Ok("josé-2".into()));
        assert!(valid_sign_in("x y").unwrap_err().to_string().contains("holds a blank"));
        assert!(valid_sign_in("<b>").unwrap_err().to_string().contains("holds `<`"));
        assert!(valid_sign_in(" ").unwrap_err().to_string().contains("missing"));
        assert!(valid_sign_in(&"x".repeat(65)).unwrap_err().to_string().contains("longer"));
    }
}
