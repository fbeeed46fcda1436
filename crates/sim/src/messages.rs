//! Messages: what a process writes, and the texts that are made of values.

use crate::code::Part;
use crate::diagnostics as say;
use crate::kernel::Kernel;
use crate::{print, text};
use design::ScopeId;
use logic::LogicVector;

impl Kernel<'_> {
    /// Puts a message at the end of a line of text; false when it could not be made or there is no room.
    pub(crate) fn keep(&mut self, scope: ScopeId, parts: &[Part], line: usize, process: usize) -> bool {
        let start = self.output.len();
        if !self.print_parts(scope, parts) {
            return false;
        }
        let written = self.output.split_off(start);
        self.steps = self.steps.saturating_sub(written.len() as u64);
        let Some(reader) = self.lines.get_mut(line) else { return true };
        reader.append(&written);
        if reader.left() > self.limit {
            let span = self.processes[process].span;
            self.fail(say::too_much_output(span));
            return false;
        }
        true
    }

    /// A message as a value.
    pub(crate) fn format(&mut self, process: usize, parts: &[Part], width: u32) -> Option<LogicVector> {
        let scope = self.processes[process].scope;
        let start = self.output.len();
        if !self.print_parts(scope, parts) {
            return None;
        }
        let written = self.output.split_off(start);
        Some(text::bits(&written).resized(width, false))
    }

    pub(crate) fn print(&mut self, scope: ScopeId, parts: &[Part], newline: bool) {
        if !self.print_parts(scope, parts) {
            return;
        }
        if newline {
            self.output.push('\n');
        }
        if self.output.len() > self.limit {
            let span = self.design.scopes[scope].span;
            self.fail(say::too_much_output(span));
        }
    }

    /// False when a value could not be found, which has been said then.
    pub(crate) fn print_parts(&mut self, scope: ScopeId, parts: &[Part]) -> bool {
        for part in parts {
            match part {
                Part::Text(text) => self.output.push_str(text),
                Part::Scope => {
                    let path = self.path(scope);
                    self.output.push_str(&path);
                }
                Part::Value { code, radix, signed, width } => {
                    let Some(value) = self.evaluate(code, 0) else { return false };
                    let text = print::value(self.design, &value, *radix, *signed, *width, &self.time_format);
                    self.output.push_str(&text);
                }
                Part::Line { line, is_kept } => {
                    let text = match self.lines.get_mut(*line) {
                        Some(reader) if *is_kept => reader.rest(),
                        Some(reader) => std::mem::take(reader).rest(),
                        None => String::new(),
                    };
                    self.output.push_str(&text);
                }
                Part::Field { parts, width, is_left } => {
                    let start = self.output.len();
                    if !self.print_parts(scope, parts) {
                        return false;
                    }
                    let missing = width.saturating_sub(self.output[start..].chars().count()).min(self.limit);
                    let at = if *is_left { self.output.len() } else { start };
                    self.output.insert_str(at, &" ".repeat(missing));
                }
            }
        }
        true
    }

    pub(crate) fn path(&self, scope: ScopeId) -> String {
        let mut names = Vec::new();
        let mut at = Some(scope);
        while let Some(here) = at {
            names.push(self.design.scopes[here].name.as_str());
            at = self.design.scopes[here].parent;
        }
        names.reverse();
        names.join(".")
    }
}

/// A time with the largest unit that leaves a whole number.
pub(crate) fn time_text(femtoseconds: u64) -> String {
    const UNITS: [(&str, u64); 5] =
        [("ms", 1_000_000_000_000), ("us", 1_000_000_000), ("ns", 1_000_000), ("ps", 1_000), ("fs", 1)];
    let found = UNITS.into_iter().find(|(_, size)| femtoseconds.is_multiple_of(*size) && femtoseconds >= *size);
    found.map_or_else(|| "0 ns".to_owned(), |(unit, size)| format!("{} {unit}", femtoseconds / size))
}
