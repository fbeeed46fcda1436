//! Compiler directives (IEEE 1364-2005 clause 19): macros with and without arguments, and conditional parts.
//!
//! A macro is kept as a stretch of the file and read anew at each use; its tokens stand at the place of the use, so that
//! findings point to what the student wrote there.

use crate::diagnostics as say;
use crate::lexer::{Lexer, Token, TokenKind};
use base::Span;
use std::collections::BTreeMap;

/// A macro's text and the names of its arguments.
#[derive(Clone, Debug)]
pub(crate) struct Macro {
    arguments: Option<Vec<String>>,
    start: usize,
    end: usize,
}

/// A conditional part of the file that is open.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Condition {
    /// What stands here counts.
    active: bool,
    /// Some branch has counted already, or the part around it doesn't count.
    taken: bool,
    opened: Span,
}

/// Macros within macros.
const MAX_DEPTH: u32 = 50;
/// Tokens of a file after expansion.
const MAX_TOKENS: usize = 2_000_000;

impl Lexer<'_> {
    /// False inside a conditional part that doesn't count.
    pub(crate) fn is_active(&self) -> bool {
        self.conditions.iter().all(|c| c.active)
    }

    pub(crate) fn directive(&mut self, start: usize) {
        self.at += 1;
        let name = self.run(|b| b.is_ascii_alphanumeric() || b == b'_').to_owned();
        let span = self.span(start);
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
            "timescale"
            | "default_nettype"
            | "resetall"
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
            "include" => {
                self.run(|b| b != b'\n');
                self.diagnostics.push(say::not_understood_yet("`include", span));
            }
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
        let mut arguments = None;
        if self.bytes.get(self.at) == Some(&b'(') {
            let close = self.text[self.at..].find(')').map_or(self.bytes.len(), |i| self.at + i);
            let list = self.text[self.at + 1..close].split(',');
            // `a = 1` gives an argument a default, which is not used here.
            arguments = Some(list.map(|a| a.split('=').next().unwrap_or("").trim().to_owned()).collect());
            self.at = (close + 1).min(self.bytes.len());
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
        self.macros.insert(name, Macro { arguments, start, end });
    }

    fn expand(&mut self, name: &str, span: Span) {
        let Some(found) = self.macros.get(name).cloned() else {
            let near = base::nearest(name, self.macros.keys().map(String::as_str)).map(str::to_owned);
            self.diagnostics.push(say::undefined_macro(name, near.as_deref(), span));
            return;
        };
        if self.depth >= MAX_DEPTH || self.spent > MAX_TOKENS {
            self.diagnostics.push(say::budget("macros within macros without end", span));
            self.at = self.bytes.len();
            return;
        }
        let mut given: BTreeMap<String, Vec<Token>> = BTreeMap::new();
        if let Some(arguments) = &found.arguments {
            let Some(ranges) = self.argument_ranges() else {
                self.diagnostics.push(say::macro_arguments(name, arguments.len(), span));
                return;
            };
            if ranges.len() != arguments.len() {
                self.diagnostics.push(say::macro_arguments(name, arguments.len(), span));
                return;
            }
            for (argument, (start, end)) in arguments.iter().zip(ranges) {
                let tokens = self.read_range(start, end);
                given.insert(argument.clone(), tokens);
            }
        }
        for token in self.read_range(found.start, found.end) {
            match &token.kind {
                TokenKind::Name(word) if given.contains_key(word) => {
                    let tokens = given.get(word).cloned().unwrap_or_default();
                    self.tokens.extend(tokens.into_iter().map(|t| Token { span, ..t }));
                }
                TokenKind::Symbol("\\") => {}
                _ => self.tokens.push(Token { span, ..token }),
            }
        }
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

    /// The tokens of a stretch of the file, macros in it expanded.
    fn read_range(&mut self, start: usize, end: usize) -> Vec<Token> {
        // A macro may stand after the stretch that uses it, so the cut is made in the whole file.
        let text = &self.whole[..end];
        let mut inner = Lexer {
            file: self.file,
            whole: self.whole,
            text,
            bytes: text.as_bytes(),
            at: start,
            tokens: Vec::new(),
            diagnostics: Vec::new(),
            macros: std::mem::take(&mut self.macros),
            conditions: Vec::new(),
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
        }
        self.macros = inner.macros;
        self.spent = inner.spent + inner.tokens.len() + 1;
        self.diagnostics.extend(inner.diagnostics);
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
