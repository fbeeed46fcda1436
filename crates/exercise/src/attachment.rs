//! Files that belong to an exercise: references, starter files, data and pictures. In a terminal they lie beside the exercise file;
//! in the application their text is kept within it.

use crate::fault::{Beside, Fault, NotBeside};
use base::SourceFile;
use serde::Deserialize;
use toml::Spanned;

/// What a file is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Use {
    /// A design that does what is expected; students never see it.
    Reference,
    /// What students begin with.
    Starter,
    /// What students' designs may read.
    Data,
    /// A picture of the statement.
    Picture,
}

impl Use {
    const ALL: [(&'static str, Use); 4] =
        [("reference", Use::Reference), ("starter", Use::Starter), ("data", Use::Data), ("picture", Use::Picture)];

    /// As it is written in the file.
    pub fn key(self) -> &'static str {
        Self::ALL.iter().find(|(_, u)| *u == self).map_or("", |(key, _)| key)
    }
}

/// A file of an exercise.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Attachment {
    /// Its name, without a folder.
    pub name: String,
    /// What it is for.
    pub purpose: Use,
    /// What is in it, but for a picture that lies beside the exercise file.
    pub text: Option<String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct RawAttachment {
    name: Spanned<String>,
    #[serde(rename = "use")]
    purpose: Spanned<String>,
    text: Option<Spanned<String>>,
}

/// Most files of an exercise.
const MOST: usize = 40;

/// May a file have this name? Without a folder, so that nothing lies outside.
fn is_plain(name: &str) -> bool {
    let fits = |c: char| c.is_ascii_alphanumeric() || matches!(c, '_' | '-' | '.');
    !name.is_empty() && name.len() <= 80 && !name.starts_with('.') && name.chars().all(fits)
}

/// The files that an exercise file names, with what is in them.
pub(crate) fn attachments(raw: &[RawAttachment], beside: &Beside<'_>) -> Result<Vec<Attachment>, Fault> {
    let mut list: Vec<Attachment> = Vec::new();
    for file in raw {
        let (name, span) = (file.name.get_ref(), file.name.span());
        if list.len() == MOST {
            return Err((span, format!("An exercise has at most {MOST} files; leave some out.")));
        }
        if !is_plain(name) {
            let message = format!(
                "`{name}` is no name of a file: letters, digits, `_`, `-` and `.` without a folder; rename it."
            );
            return Err((span, message));
        }
        if list.iter().any(|other| other.name.eq_ignore_ascii_case(name)) {
            return Err((span, format!("`{name}` is there twice; rename one of them or remove it.")));
        }
        let word = file.purpose.get_ref().as_str();
        let Some((_, purpose)) = Use::ALL.into_iter().find(|(key, _)| *key == word) else {
            let message =
                format!("A file is for `reference`, `starter`, `data` or `picture`, not `{word}`; write one of them.");
            return Err((file.purpose.span(), message));
        };
        let text = match &file.text {
            Some(text) => Some(text.get_ref().clone()),
            None if purpose == Use::Picture => None,
            None => {
                let bytes = beside(name).map_err(|e| (span.clone(), e.to_string()))?;
                let read = SourceFile::decode(name, &bytes);
                Some(read.map_err(|_| (span, format!("`{name}` is not a text file; attach another.")))?.text)
            }
        };
        list.push(Attachment { name: name.clone(), purpose, text });
    }
    Ok(list)
}

/// What lies beside an exercise file, its own files first.
pub(crate) fn with_own<'b>(
    own: &'b [Attachment],
    beside: &'b Beside<'b>,
) -> impl Fn(&str) -> Result<Vec<u8>, NotBeside> + 'b {
    move |name| {
        let kept = own.iter().find(|a| a.name == name).and_then(|a| a.text.as_ref());
        kept.map_or_else(|| beside(name), |text| Ok(text.clone().into_bytes()))
    }
}
