//! Files by name, as they are handed in, and the sources and data among them.

use crate::diagnostics as say;
use crate::languages::{self, Language};
use base::{DecodeProblem, Diagnostic, SourceFile, SourceMap};
use std::collections::BTreeMap;

/// A file of a hand-in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HandInFile {
    /// Its name or path as given.
    pub name: String,
    /// Its contents.
    pub bytes: Vec<u8>,
}

/// What can be read of some files.
#[derive(Clone, Debug, Default)]
pub struct Sources {
    /// Sources of designs.
    pub map: SourceMap,
    /// Texts that memories may be filled from, by their bare names.
    pub data: BTreeMap<String, String>,
}

impl Sources {
    /// Puts a data file beside the others that came with none of its name.
    pub fn lend(&mut self, name: &str, text: &str) {
        self.data.entry(languages::bare_name(name)).or_insert_with(|| text.to_owned());
    }

    /// Sorts files, and says of each that can't be used why. `refuse` may turn down a language.
    pub fn read(
        files: &[HandInFile],
        refuse: impl Fn(&str, Language) -> Option<Diagnostic>,
    ) -> (Self, Vec<Diagnostic>) {
        let mut sources = Self::default();
        let mut found = Vec::new();
        for file in files {
            if languages::is_data(&file.name) {
                let text = String::from_utf8_lossy(&file.bytes).into_owned();
                sources.data.insert(languages::bare_name(&file.name), text);
                continue;
            }
            let Some(language) = languages::language(&file.name) else {
                found.push(say::unknown_file_kind(&file.name));
                continue;
            };
            if let Some(refused) = refuse(&file.name, language) {
                found.push(refused);
                continue;
            }
            match SourceFile::decode(&file.name, &file.bytes) {
                Ok(source) => {
                    sources.map.add(source);
                }
                Err(DecodeProblem::Empty) => found.push(say::empty_file(&file.name)),
                Err(DecodeProblem::Binary(_)) => found.push(say::binary_file(&file.name)),
                Err(DecodeProblem::TooLarge(bytes)) => found.push(say::large_file(&file.name, bytes)),
            }
        }
        if files.is_empty() {
            found.push(say::no_files());
        }
        (sources, found)
    }

    /// Bytes of all sources together.
    pub fn length(&self) -> usize {
        self.map.files().map(|(_, f)| f.text.len()).sum()
    }

    /// As files again, data among them.
    pub fn files(&self) -> Vec<HandInFile> {
        let sources = self.map.files().map(|(_, f)| (f.name.clone(), f.text.clone().into_bytes()));
        let data = self.data.iter().map(|(name, text)| (name.clone(), text.clone().into_bytes()));
        sources.chain(data).map(|(name, bytes)| HandInFile { name, bytes }).collect()
    }
}
