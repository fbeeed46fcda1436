//! Compiler directives (IEEE 1364-2005 clause 19): macros with and without arguments, and conditional parts.
//!
//! A macro is kept as a stretch of the file and read anew at each use; its tokens stand at the place of the use, so that
//! findings point to what the student wrote there.

use crate::diagnostics as say;
use crate::directive::{Condition, Macro};
use crate::lexer::{Lexer, Mark, Token, TokenKind};
use base::{FileId, Span};
use std::collections::BTreeMap;

/// Macros within macros.
const MAX_DEPTH: u32 = 50;
/// Tokens of a file after expansion.
const MAX_TOKENS: usize = 500_000;
/// Unknown macros for which the nearest name is looked up.
const MAX_HINTS: usize = 20;
/// Faults in macros that are told.
const MAX_FAULTS: usize = 200;

impl<'a> Lexer<'a> {
    /// False inside a conditional part that doesn't count.
    pub(crate) fn is_active(&self) -> bool {
        self.conditions.iter().all(|c| c.active)
    }

    pub(crate) fn directive(&mut self, start: usize) {
        self.at += 1;
        let name = self.run(|b| b.is_ascii_alphanumeric() || b == b'_').to_owned();
        let span = self.span(start);
        if name.is_empty() {
            // A lone back quote names nothing.
            if self.is_active() {
                self.diagnostics.push(say::strange_character('`', span));
            }
            return;
        }
        match name.as_str() {
            "ifdef" | "ifndef" => {
                let word = self.next_word();
                let defined = self.macros.contains_key(&word);
                let active = defined == (name == "ifdef");
                let outer = self.is_active();
                self.conditions.push(Condition { active: active && outer, taken: active || !outer, opened: span });
            }
            "elsif" => {
                let word = self.next_word();
                let defined = self.macros.contains_key(&word);
                match self.conditions.last_mut() {
                    Some(c) => {
                        c.active = defined && !c.taken;
                        c.taken |= defined;
                    }
                    None => self.diagnostics.push(say::stray_directive(&name, span)),
                }
            }
            "else" => match self.conditions.last_mut() {
                Some(c) => {
                    c.active = !c.taken;
                    c.taken = true;
                }
                None => self.diagnostics.push(say::stray_directive(&name, span)),
            },
            "endif" => {
                if self.conditions.pop().is_none() {
                    self.diagnostics.push(say::stray_directive(&name, span));
                }
            }
            _ if !self.is_active() => {}
            "timescale" => self.timescale(span),
            "default_nettype" => {
                let word = self.next_word();
                self.marks.push((self.tokens.len(), Mark::ImplicitNets(word != "none")));
            }
            "resetall"
            | "celldefine"
            | "endcelldefine"
            | "line"
            | "pragma"
            | "begin_keywords"
            | "end_keywords"
            | "nounconnected_drive"
            | "unconnected_drive" => {
                self.run(|b| b != b'\n');
            }
            "define" => self.define(),
            "undef" => {
                let word = self.next_word();
                self.macros.remove(&word);
            }
            "include" => self.include(span),
            _ => self.expand(&name, span),
        }
    }

    fn next_word(&mut self) -> String {
        self.run(|b| b == b' ' || b == b'\t');
        self.run(|b| b.is_ascii_alphanumeric() || b == b'_').to_owned()
    }

    /// `` `define NAME text `` or `` `define NAME(a, b) text ``; a backslash at the end goes on with the next line.
    fn define(&mut self) {
        let name = self.next_word();
        if name.is_empty() {
            self.run(|b| b != b'\n');
            return;
        }
        let mut arguments = None;
        if self.bytes.get(self.at) == Some(&b'(') {
            let mut list = Vec::new();
            for (start, end) in self.argument_ranges().unwrap_or_default() {
                let text = &self.whole[start..end];
                let (word, default) = match text.split_once('=') {
                    Some((word, _)) => (word, Some((start + word.len() + 1, end))),
                    None => (text, None),
                };
                if !word.trim().is_empty() {
                    list.push((word.trim().to_owned(), default));
                }
            }
            arguments = Some(list);
        }
        let start = self.at;
        loop {
            self.run(|b| b != b'\n');
            let before = self.text[start..self.at].trim_end();
            if !before.ends_with('\\') || self.at >= self.bytes.len() {
                break;
            }
            self.at += 1;
        }
        let text = &self.text[start..self.at];
        let end = start + text.find("//").unwrap_or(text.len());
        self.macros.insert(name, Macro { arguments, file: self.file, whole: self.whole, start, end });
    }

    fn expand(&mut self, name: &str, span: Span) {
        if self.is_over(span) {
            return;
        }
        let Some(found) = self.macros.get(name).cloned() else {
            if self.diagnostics.len() >= MAX_FAULTS {
                return;
            }
            let near = match self.diagnostics.len() {
                0..MAX_HINTS => base::nearest(name, self.macros.keys().map(String::as_str)).map(str::to_owned),
                _ => None,
            };
            self.diagnostics.push(say::undefined_macro(name, near.as_deref(), span));
            return;
        };
        if self.expanding.iter().any(|n| n == name) {
            self.diagnostics.push(say::macro_in_itself(name, span));
            return;
        }
        if self.depth >= MAX_DEPTH {
            self.end_here(span);
            return;
        }
        let mut given: BTreeMap<String, Vec<Token>> = BTreeMap::new();
        if let Some(arguments) = &found.arguments {
            let Some(mut ranges) = self.argument_ranges() else {
                self.diagnostics.push(say::macro_arguments(name, arguments.len(), span));
                return;
            };
            if arguments.is_empty() {
                ranges.clear();
            }
            if ranges.len() > arguments.len() || arguments[ranges.len()..].iter().any(|(_, d)| d.is_none()) {
                self.diagnostics.push(say::macro_arguments(name, arguments.len(), span));
                return;
            }
            let here = (self.file, self.whole);
            for (i, (argument, default)) in arguments.iter().enumerate() {
                let written = ranges.get(i).copied().filter(|(s, e)| !self.whole[*s..*e].trim().is_empty());
                let tokens = match (written, default) {
                    (Some((start, end)), _) => self.read_range(here, start, end),
                    (None, Some((start, end))) => self.read_range((found.file, found.whole), *start, *end),
                    (None, None) => Vec::new(),
                };
                given.insert(argument.clone(), tokens);
            }
        }
        // Its arguments may use the macro again, its own text may not (IEEE 1364-2005 19.3.1).
        self.expanding.push(name.to_owned());
        let body = self.read_range((found.file, found.whole), found.start, found.end);
        self.expanding.pop();
        if self.is_over(span) {
            return;
        }
        for token in body {
            match &token.kind {
                TokenKind::Name(word) if given.contains_key(word) => {
                    let tokens = given.get(word).map_or(&[][..], Vec::as_slice);
                    self.spent += tokens.len() + 1;
                    if self.is_over(span) {
                        return;
                    }
                    self.tokens.extend(tokens.iter().map(|t| Token { span, ..t.clone() }));
                }
                TokenKind::Symbol("\\") => {}
                _ => self.tokens.push(Token { span, ..token }),
            }
        }
    }

    /// Have macros and included files grown beyond what is read? Then the rest of the file is left aside.
    fn is_over(&mut self, span: Span) -> bool {
        if self.spent <= MAX_TOKENS {
            return false;
        }
        self.end_here(span);
        true
    }

    /// Tells once that macros or files grow without end, and leaves the rest aside.
    fn end_here(&mut self, span: Span) {
        self.spent = self.spent.max(MAX_TOKENS + 1);
        self.at = self.bytes.len();
        let told = say::budget("macros or included files that grow without end", span);
        if !self.diagnostics.iter().any(|d| d.code == told.code) {
            self.diagnostics.push(told);
        }
    }

    /// `` `timescale 1ns / 100ps ``
    fn timescale(&mut self, span: Span) {
        let line = self.run(|b| b != b'\n');
        let line = line.split("//").next().unwrap_or("");
        let mut parts = line.split('/').map(|p| femtoseconds(p.trim()));
        match (parts.next().flatten(), parts.next().flatten()) {
            (Some(unit), Some(precision)) => {
                self.marks.push((self.tokens.len(), Mark::Timescale(unit, precision.min(unit))));
            }
            _ => self.diagnostics.push(say::wrong_timescale(span)),
        }
    }

    /// `` `include "file" ``: a file of the same hand-in, by its name.
    fn include(&mut self, span: Span) {
        let line = self.run(|b| b != b'\n').trim();
        let name = line.trim_start_matches(['"', '<']).split(['"', '>']).next().unwrap_or("").trim();
        if name.starts_with(['/', '\\']) || name.contains("..") || name.contains(':') {
            self.diagnostics.push(say::include_path(name, span));
            return;
        }
        let Some((file, text)) = self.files.get(name.trim_start_matches("./")).copied() else {
            let near = base::nearest(name, self.files.keys().copied()).map(str::to_owned);
            self.diagnostics.push(say::include_not_found(name, near.as_deref(), span));
            return;
        };
        self.spent += 16 + text.len() / 8;
        if self.is_over(span) {
            return;
        }
        if self.including.contains(&file) || self.depth >= MAX_DEPTH {
            self.diagnostics.push(say::budget("files that include each other without end", span));
            return;
        }
        let mut including = self.including.clone();
        including.push(file);
        let mut inner = Lexer {
            file,
            whole: text,
            text,
            bytes: text.as_bytes(),
            at: 0,
            tokens: Vec::new(),
            diagnostics: Vec::new(),
            macros: std::mem::take(&mut self.macros),
            conditions: Vec::new(),
            files: self.files,
            including,
            expanding: self.expanding.clone(),
            marks: Vec::new(),
            depth: self.depth + 1,
            spent: self.spent,
        };
        inner.all();
        inner.close_conditions();
        self.macros = inner.macros;
        self.spent = inner.spent + inner.tokens.len();
        let before = self.tokens.len();
        self.marks.extend(inner.marks.into_iter().map(|(at, mark)| (before + at, mark)));
        let room = (2 * MAX_FAULTS).saturating_sub(self.diagnostics.len());
        self.diagnostics.extend(inner.diagnostics.into_iter().take(room));
        self.tokens.extend(inner.tokens);
        self.is_over(span);
    }

    /// The stretches of the arguments in parentheses that follow.
    fn argument_ranges(&mut self) -> Option<Vec<(usize, usize)>> {
        self.run(|b| b.is_ascii_whitespace());
        if self.bytes.get(self.at) != Some(&b'(') {
            return None;
        }
        self.at += 1;
        let mut ranges = Vec::new();
        let mut start = self.at;
        let mut depth = 0u32;
        while let Some(byte) = self.bytes.get(self.at) {
            match byte {
                b'(' | b'[' | b'{' => depth += 1,
                b')' if depth == 0 => {
                    ranges.push((start, self.at));
                    self.at += 1;
                    return Some(ranges);
                }
                b')' | b']' | b'}' => depth = depth.saturating_sub(1),
                b',' if depth == 0 => {
                    ranges.push((start, self.at));
                    start = self.at + 1;
                }
                _ => {}
            }
            self.at += 1;
        }
        None
    }

    /// The tokens of a stretch of a file, macros in it expanded.
    fn read_range(&mut self, (file, whole): (FileId, &'a str), start: usize, end: usize) -> Vec<Token> {
        // A macro may stand after the stretch that uses it, so the cut is made in the whole file.
        let text = &whole[..end];
        let mut inner = Lexer {
            file,
            whole,
            text,
            bytes: text.as_bytes(),
            at: start,
            tokens: Vec::new(),
            diagnostics: Vec::new(),
            macros: std::mem::take(&mut self.macros),
            conditions: Vec::new(),
            files: self.files,
            including: self.including.clone(),
            expanding: self.expanding.clone(),
            marks: Vec::new(),
            depth: self.depth + 1,
            spent: self.spent,
        };
        while inner.at < inner.bytes.len() {
            // A backslash joins lines; it is no token.
            if inner.bytes[inner.at] == b'\\' {
                inner.at += 1;
                continue;
            }
            inner.token();
            if inner.spent > MAX_TOKENS {
                break;
            }
        }
        self.macros = inner.macros;
        self.spent = inner.spent + inner.tokens.len() + (end - start) / 8 + 4 * inner.diagnostics.len() + 1;
        // What is wrong in a macro is told once, not at each use.
        for found in inner.diagnostics {
            if self.diagnostics.len() < MAX_FAULTS
                && !self.diagnostics.iter().any(|d| d.code == found.code && d.span == found.span)
            {
                self.diagnostics.push(found);
            }
        }
        inner.tokens
    }

    /// A conditional part that is never closed.
    pub(crate) fn close_conditions(&mut self) {
        if let Some(open) = self.conditions.pop() {
            let length = self.text.trim_end().len();
            let end = Span::new(self.file, length, length);
            self.diagnostics.push(say::unclosed("conditional part", "`endif", open.opened, end));
        }
    }
}

/// `10 ns` in femtoseconds; 1, 10 and 100 only (IEEE 1364-2005 19.8).
fn femtoseconds(text: &str) -> Option<u64> {
    let digits = text.trim_end_matches(|c: char| c.is_ascii_alphabetic()).trim();
    let count: u64 = digits.parse().ok().filter(|n| matches!(n, 1 | 10 | 100))?;
    let unit = text.trim_start_matches(|c: char| c.is_ascii_digit()).trim();
    let factor = match unit {
        "s" => 1_000_000_000_000_000,
        "ms" => 1_000_000_000_000,
        "us" => 1_000_000_000,
        "ns" => 1_000_000,
        "ps" => 1_000,
        "fs" => 1,
        _ => return None,
    };
    Some(count * factor)
}
