//! `$readmemb` and `$readmemh`: memories filled from text files of the hand-in (IEEE 1364-2005 17.2.9).

use super::symbols::Symbol;
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{NodeId, NodeKind};
use base::Span;
use design::{AssignMode, Stmt, StmtKind, Storage, Target};
use front::Lower;
use logic::{Level, LogicVector};

impl<'a> Lowering<'a, '_> {
    /// The assignments that fill the memory, one for each stretch of words.
    pub(super) fn read_memory(
        &mut self,
        context: &mut Context<'a>,
        hexadecimal: bool,
        arguments: &'a [NodeId],
        span: Span,
    ) -> Option<StmtKind> {
        let [file, memory, bounds @ ..] = arguments else {
            self.report(say::not_understood_yet("This use of `$readmem`", span));
            return None;
        };
        let name = match &context.module.exprs[*file].kind {
            NodeKind::Text(text) => text.clone(),
            _ => {
                let (value, _) = self.constant(context, *file);
                text_of(&value)
            }
        };
        let symbol = match &context.module.exprs[*memory].kind {
            NodeKind::Name(name) => match context.symbols.get(&name.name) {
                Some(Symbol::Signal(s)) => Some(s.clone()),
                _ => None,
            },
            _ => None,
        };
        let Some((symbol, rows)) = symbol.and_then(|s| s.layout.dimensions.first().copied().map(|d| (s, d))) else {
            self.report(say::not_assignable(context.module.exprs[*memory].span));
            return None;
        };
        let around = self.around;
        let bare = name.rsplit(['/', '\\']).next().unwrap_or(&name).to_owned();
        if name.starts_with('/') || name.contains("..") {
            self.report(say::include_path(&name, span));
            return None;
        }
        let Some(text) = around.and_then(|u| u.text(&bare)) else {
            let near = around.and_then(|u| base::nearest(&bare, u.texts()));
            self.report(say::data_file(&bare, near, span));
            return None;
        };
        let width = symbol.layout.element().map_or(1, |e| e.width());
        let (left, right) = rows.range().unwrap_or((0, 0));
        let limit = |me: &mut Self, context: &mut Context<'a>, i: usize| {
            bounds.get(i).and_then(|n| me.constant_number(context, *n))
        };
        let start = limit(self, context, 0);
        let finish = limit(self, context, 1);
        let lowest = i64::from(left.min(right));
        let mut address = start.unwrap_or(lowest);
        let step = if finish.is_some_and(|f| f < address) { -1 } else { 1 };
        let mut body = Vec::new();
        for (line, word) in words(text) {
            self.budget.spend(2).ok()?;
            if let Some(to) = word.strip_prefix('@') {
                match i64::from_str_radix(to, 16) {
                    Ok(to) => address = to,
                    Err(_) => self.report(say::data_word(&bare, line, &format!("has no address in `{word}`"), span)),
                }
                continue;
            }
            let Some(value) = number(word, hexadecimal) else {
                let digits = if hexadecimal { "hexadecimal" } else { "binary" };
                self.report(say::data_word(&bare, line, &format!("has `{word}`, which is no {digits} number"), span));
                return None;
            };
            let Some(position) = rows.position(address) else {
                self.report(say::data_word(&bare, line, &format!("goes past the memory, at address {address}"), span));
                return None;
            };
            let value = self.constant_expr(value.resized(width, false), span);
            let target =
                Target { storage: Storage::Signal(symbol.id), low: position * width, width, element: None, span };
            let kind = StmtKind::Assign { targets: vec![target], value, mode: AssignMode::Blocking, delay: None };
            body.push(Stmt { kind, span });
            address += step;
        }
        Some(StmtKind::Block { label: None, body })
    }
}

/// Words with their lines; comments are left out.
fn words(text: &str) -> Vec<(usize, &str)> {
    let mut list = Vec::new();
    let mut inside = false;
    for (line, number) in text.lines().zip(1..) {
        let mut rest = line;
        loop {
            if inside {
                match rest.split_once("*/") {
                    Some((_, after)) => (rest, inside) = (after, false),
                    None => break,
                }
            }
            let plain = rest.split("//").next().unwrap_or("");
            match plain.split_once("/*") {
                Some((before, after)) => {
                    list.extend(before.split_whitespace().map(|w| (number, w)));
                    (rest, inside) = (after, true);
                }
                None => {
                    list.extend(plain.split_whitespace().map(|w| (number, w)));
                    break;
                }
            }
        }
    }
    list
}

fn number(word: &str, hexadecimal: bool) -> Option<LogicVector> {
    let bits = if hexadecimal { 4 } else { 1 };
    let mut levels = Vec::new();
    for c in word.chars().filter(|c| *c != '_') {
        match c.to_digit(1 << bits) {
            Some(d) => levels.extend((0..bits).rev().map(|i| Level::from(d >> i & 1 == 1))),
            None => {
                let level = match c {
                    'x' | 'X' => Level::Unknown,
                    'z' | 'Z' => Level::HighZ,
                    _ => return None,
                };
                levels.extend(std::iter::repeat_n(level, bits as usize));
            }
        }
    }
    (!levels.is_empty()).then(|| LogicVector::from_levels_msb(levels))
}

/// The characters that a constant holds, 8 bits each.
pub(super) fn text_of(value: &LogicVector) -> String {
    let bytes = value.width() / 8;
    let byte = |i: u32| value.slice(i64::from(i) * 8, 8).to_u64().and_then(|b| u8::try_from(b).ok());
    (0..bytes).rev().filter_map(byte).filter(|b| *b != 0).map(char::from).collect()
}
