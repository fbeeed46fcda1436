//! What travels between a program and its workers.

use check::{Checked, HandIn, Share};
use conform::{TryRows, TryTicks};
use elab::{ActualColumn, ActualTable, HandInFile};
use exercise::{Exercise, ExerciseError, NotBeside};
use logic::RowSet;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use verdict::Verdict;

/// A file: its text, or its bytes in hexadecimal where it is none.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct SentFile {
    name: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    text: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    hex: Option<String>,
}

impl SentFile {
    /// A file as it travels.
    pub fn new(name: impl Into<String>, bytes: Vec<u8>) -> Self {
        match String::from_utf8(bytes) {
            Ok(text) => Self { name: name.into(), text: Some(text), hex: None },
            Err(other) => Self { name: name.into(), text: None, hex: Some(hex::encode(other.as_bytes())) },
        }
    }

    fn bytes(self) -> Vec<u8> {
        match (self.text, self.hex) {
            (Some(text), _) => text.into_bytes(),
            (None, hex) => hex.and_then(|h| hex::decode(h).ok()).unwrap_or_default(),
        }
    }

    /// The file as the checker takes it.
    pub fn into_file(self) -> HandInFile {
        HandInFile { name: self.name.clone(), bytes: self.bytes() }
    }
}

impl From<HandInFile> for SentFile {
    fn from(file: HandInFile) -> Self {
        Self::new(file.name, file.bytes)
    }
}

/// An exercise with the files beside it.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct SentExercise {
    /// The exercise file.
    pub text: String,
    /// Files that it names.
    #[serde(default)]
    pub beside: Vec<SentFile>,
}

impl SentExercise {
    /// One that stands alone.
    pub fn alone(text: impl Into<String>) -> Self {
        Self { text: text.into(), beside: Vec::new() }
    }

    /// Reads it.
    ///
    /// # Errors
    /// When it can't be read; the sentence says where and why.
    pub fn load(&self) -> Result<Exercise, ExerciseError> {
        let beside: BTreeMap<&str, &SentFile> = self.beside.iter().map(|f| (f.name.as_str(), f)).collect();
        let find = |name: &str| match beside.get(name) {
            Some(file) => Ok((*file).clone().bytes()),
            None => Err(NotBeside(format!("`{name}` is not there."))),
        };
        Exercise::load(&self.text, &find)
    }
}

/// A hand-in.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct SentHandIn {
    files: Vec<SentFile>,
    top: Option<String>,
    wiring: Option<SentFile>,
    answers: Option<SentFile>,
    quick: bool,
    wants_rows: bool,
}

impl From<HandIn> for SentHandIn {
    fn from(hand_in: HandIn) -> Self {
        Self {
            files: hand_in.files.into_iter().map(SentFile::from).collect(),
            top: hand_in.top,
            wiring: hand_in.wiring.map(SentFile::from),
            answers: hand_in.answers.map(SentFile::from),
            quick: hand_in.quick,
            wants_rows: hand_in.wants_rows,
        }
    }
}

impl SentHandIn {
    /// The hand-in as the checker takes it.
    pub fn into_hand_in(self) -> HandIn {
        HandIn {
            files: self.files.into_iter().map(SentFile::into_file).collect(),
            top: self.top,
            wiring: self.wiring.map(SentFile::into_file),
            answers: self.answers.map(SentFile::into_file),
            quick: self.quick,
            wants_rows: self.wants_rows,
        }
    }
}

#[derive(Clone, Debug, Serialize, Deserialize)]
struct SentColumn {
    name: String,
    inputs: u32,
    rows: [Vec<u64>; 3],
}

/// A verdict with what it was made from.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct SentChecked {
    verdict: Verdict,
    shares: Vec<Share>,
    actual: Option<Vec<SentColumn>>,
    rows_to_try: Option<TryRows>,
    ticks_to_try: Option<TryTicks>,
    image: Option<String>,
}

impl From<Checked> for SentChecked {
    fn from(checked: Checked) -> Self {
        let column = |c: ActualColumn| SentColumn {
            inputs: c.ones.inputs(),
            rows: [&c.ones, &c.unknown, &c.floating].map(|set| set.words().to_vec()),
            name: c.name,
        };
        Self {
            verdict: checked.verdict,
            shares: checked.shares,
            actual: checked.actual.map(|table| table.columns.into_iter().map(column).collect()),
            rows_to_try: checked.rows_to_try,
            ticks_to_try: checked.ticks_to_try,
            image: checked.image.as_ref().map(board::Image::to_json),
        }
    }
}

impl SentChecked {
    /// What the checker said.
    pub fn into_checked(self) -> Checked {
        let column = |c: SentColumn| {
            let [ones, unknown, floating] = c.rows.map(|words| RowSet::from_words(c.inputs, &words));
            ActualColumn { name: c.name, ones, unknown, floating }
        };
        Checked {
            verdict: self.verdict,
            shares: self.shares,
            actual: self.actual.map(|list| ActualTable { columns: list.into_iter().map(column).collect() }),
            rows_to_try: self.rows_to_try,
            ticks_to_try: self.ticks_to_try,
            image: self.image.and_then(|text| board::Image::from_json(&text).ok()),
        }
    }
}
