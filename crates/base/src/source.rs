//! Source files as text, and places in them. Owns decoding (BOM, line ends, old encodings) and line/column counting.

use crate::arena::{Arena, Id};
use crate::id_type;
use encoding_rs::{Encoding, UTF_8, WINDOWS_1252};

id_type!(
    /// A file of the hand-in or exercise at work.
    FileId,
    "file"
);

/// A stretch of one file, in byte offsets of its decoded text; `start == end` is a point between two characters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Span {
    /// The file.
    pub file: FileId,
    /// First byte.
    pub start: u32,
    /// One past the last byte.
    pub end: u32,
}

impl Span {
    /// From `start` up to but not including `end`.
    pub fn new(file: FileId, start: usize, end: usize) -> Self {
        let clip = |n: usize| u32::try_from(n).unwrap_or(u32::MAX);
        Self { file, start: clip(start), end: clip(end) }
    }

    /// From the start of `self` to the end of `other`; `self` when they are in different files.
    pub fn to(self, other: Span) -> Span {
        if self.file == other.file {
            Span { file: self.file, start: self.start.min(other.start), end: self.end.max(other.end) }
        } else {
            self
        }
    }

    /// The point just behind this stretch.
    pub fn after(self) -> Span {
        Span { start: self.end, ..self }
    }
}

/// A place as people count it: line and column from 1, columns in characters as editors show them.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Place {
    /// Line, from 1.
    pub line: u32,
    /// Column, from 1, in characters.
    pub column: u32,
}

/// Why bytes are not a source text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum DecodeProblem {
    /// No characters but blanks.
    Empty,
    /// Control bytes that no text file holds, the first at this byte offset.
    Binary(usize),
    /// Longer than the limit, in bytes.
    TooLarge(usize),
}

/// One file: its name as it was given, and its text with `\n` line ends.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SourceFile {
    /// The name or path as the caller gave it.
    pub name: String,
    /// The decoded text.
    pub text: String,
    line_starts: Vec<u32>,
}

impl SourceFile {
    /// Largest source file read: 1 MiB, some 25,000 lines.
    pub const MAX_BYTES: usize = 1 << 20;

    /// A file from text that is already decoded.
    pub fn new(name: impl Into<String>, text: impl Into<String>) -> Self {
        let text = text.into();
        let mut line_starts = vec![0];
        for (i, b) in text.bytes().enumerate() {
            if b == b'\n' {
                line_starts.push(u32::try_from(i + 1).unwrap_or(u32::MAX));
            }
        }
        Self { name: name.into(), text, line_starts }
    }

    /// Decodes bytes: UTF-8 with or without BOM, UTF-16 with BOM, else Windows-1252, which holds the letters of
    /// Latin-1; CRLF and lone CR become `\n`.
    ///
    /// # Errors
    /// When the file is empty, too large, or holds control bytes that no text has.
    pub fn decode(name: impl Into<String>, bytes: &[u8]) -> Result<Self, DecodeProblem> {
        if bytes.len() > Self::MAX_BYTES {
            return Err(DecodeProblem::TooLarge(bytes.len()));
        }
        let text = decode_text(bytes)?;
        if text.trim().is_empty() {
            return Err(DecodeProblem::Empty);
        }
        Ok(Self::new(name, text))
    }

    /// Line and column of a byte offset.
    pub fn place(&self, offset: u32) -> Place {
        let line = self.line_starts.partition_point(|&s| s <= offset).max(1);
        let start = self.line_starts[line - 1] as usize;
        let end = (offset as usize).min(self.text.len());
        let column = self.text.get(start..end).map_or(0, |t| t.chars().count()) + 1;
        Place { line: u32::try_from(line).unwrap_or(u32::MAX), column: u32::try_from(column).unwrap_or(u32::MAX) }
    }

    /// Number of lines.
    pub fn line_count(&self) -> usize {
        self.line_starts.len()
    }
}

fn decode_text(bytes: &[u8]) -> Result<String, DecodeProblem> {
    let (marked, body) = Encoding::for_bom(bytes).map_or((None, bytes), |(e, length)| (Some(e), &bytes[length..]));
    let is_wide = marked.is_some_and(|e| e != UTF_8);
    if !is_wide && let Some(at) = body.iter().position(|&b| is_control(u32::from(b))) {
        return Err(DecodeProblem::Binary(at));
    }
    let text = match marked.filter(|e| *e != UTF_8) {
        Some(encoding) => encoding.decode_without_bom_handling(body).0,
        None => UTF_8
            .decode_without_bom_handling_and_without_replacement(body)
            .unwrap_or_else(|| WINDOWS_1252.decode_without_bom_handling(body).0),
    };
    if let Some((at, _)) = text.char_indices().find(|(_, c)| is_control(u32::from(*c))) {
        return Err(DecodeProblem::Binary(at));
    }
    Ok(text.replace("\r\n", "\n").replace('\r', "\n"))
}

/// A control character that no text file holds; the ends of old files (0x1A) and escapes (0x1B) are passed.
fn is_control(code: u32) -> bool {
    code < 9 || (14..32).contains(&code) && code != 0x1A && code != 0x1B
}

/// The files of one piece of work, in the order given.
#[derive(Clone, Debug, Default)]
pub struct SourceMap {
    files: Arena<FileId, SourceFile>,
}

impl SourceMap {
    /// No files yet.
    pub fn new() -> Self {
        Self::default()
    }

    /// Adds a file.
    pub fn add(&mut self, file: SourceFile) -> FileId {
        self.files.push(file)
    }

    /// The file.
    pub fn file(&self, id: FileId) -> &SourceFile {
        &self.files[id]
    }

    /// All files with their ids.
    pub fn files(&self) -> impl Iterator<Item = (FileId, &SourceFile)> {
        self.files.iter()
    }

    /// Line and column of the start of a span.
    pub fn place(&self, span: Span) -> Place {
        self.files[span.file].place(span.start)
    }

    /// The text of a span; empty when it doesn't lie on character borders.
    pub fn text(&self, span: Span) -> &str {
        self.files.get(span.file).and_then(|f| f.text.get(span.start as usize..span.end as usize)).unwrap_or("")
    }

    /// The id of the file at `index` in the order added.
    pub fn id_at(&self, index: usize) -> FileId {
        FileId::from_index(index)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn columns_count_characters_and_crlf_is_one_line_end() {
        let file = SourceFile::decode("a.v", "// é\r\nwire é x;\r\n".as_bytes()).unwrap();
        let offset = u32::try_from(file.text.find('x').unwrap()).unwrap();
        assert_eq!(file.place(offset), Place { line: 2, column: 8 });
        assert_eq!(file.line_count(), 3);
    }

    #[test]
    fn bom_latin1_and_utf16_files_are_text() {
        assert_eq!(SourceFile::decode("a", b"\xEF\xBB\xBFmodule").unwrap().text, "module");
        assert_eq!(SourceFile::decode("a", b"// gr\xFCn").unwrap().text, "// grün");
        assert_eq!(SourceFile::decode("a", b"\xFF\xFEm\0o\0").unwrap().text, "mo");
        assert_eq!(SourceFile::decode("a", b"\xFE\xFF\0m\0o").unwrap().text, "mo");
        // The quotes of a word processor, as Windows wrote them.
        assert_eq!(SourceFile::decode("a", b"// \x93lamp\x94").unwrap().text, "// “lamp”");
    }

    #[test]
    fn empty_binary_and_huge_files_are_told_apart() {
        assert_eq!(SourceFile::decode("a", b" \n"), Err(DecodeProblem::Empty));
        assert_eq!(SourceFile::decode("a", b"PK\x03\x04"), Err(DecodeProblem::Binary(2)));
        assert_eq!(SourceFile::decode("a", b"\xFF\xFEm\0\0\0"), Err(DecodeProblem::Binary(1)));
        let huge = vec![b'x'; SourceFile::MAX_BYTES + 1];
        assert_eq!(SourceFile::decode("a", &huge), Err(DecodeProblem::TooLarge(huge.len())));
    }
}
