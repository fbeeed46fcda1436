//! What differs between two texts, line by line, and between the files of two hand-ins.

use crate::wire::{DiffLine, FileDiff};
use similar::{ChangeTag, TextDiff};
use std::collections::BTreeMap;

/// Lines that differ, with three lines around each change; nothing where the texts are the same.
pub(crate) fn lines(from: &str, to: &str) -> Vec<DiffLine> {
    let diff = TextDiff::from_lines(from, to);
    let mut list = Vec::new();
    for (k, group) in diff.grouped_ops(3).iter().enumerate() {
        if k > 0 {
            list.push(DiffLine { kind: "skipped".into(), text: String::new() });
        }
        for change in group.iter().flat_map(|op| diff.iter_changes(op)) {
            let kind = match change.tag() {
                ChangeTag::Equal => "same",
                ChangeTag::Delete => "gone",
                ChangeTag::Insert => "new",
            };
            list.push(DiffLine { kind: kind.into(), text: change.value().trim_end_matches('\n').to_owned() });
        }
    }
    list
}

/// A file of a hand-in by its name, with its bytes.
pub(crate) type Named<'f> = (&'f str, &'f [u8]);

/// What differs between the files of two hand-ins, by name. A design of one file each is held against the other's whatever
/// their names are.
pub(crate) fn files(from: &[Named<'_>], to: &[Named<'_>]) -> Vec<FileDiff> {
    let text = |name: &str, bytes: &[u8]| base::SourceFile::decode(name, bytes).ok().map(|s| s.text);
    if let ([(old, before)], [(new, after)]) = (from, to)
        && old != new
        && let (Some(before), Some(after)) = (text(old, before), text(new, after))
    {
        return vec![FileDiff {
            name: format!("{old} → {new}"),
            state: "changed".into(),
            lines: lines(&before, &after),
        }];
    }
    let (old, new): (BTreeMap<_, _>, BTreeMap<_, _>) = (from.iter().copied().collect(), to.iter().copied().collect());
    let mut names: Vec<&str> = new.keys().chain(old.keys()).copied().collect();
    names.sort_unstable();
    names.dedup();
    let diff = |name: &str| {
        let (before, after) = (old.get(name).copied(), new.get(name).copied());
        let state = match (before, after) {
            (None, _) => "new",
            (_, None) => "gone",
            (Some(before), Some(after)) if before == after => "same",
            _ => "changed",
        };
        let side = |bytes: Option<&[u8]>| bytes.map_or(Some(String::new()), |b| text(name, b));
        let lines = match (side(before), side(after)) {
            (Some(before), Some(after)) => lines(&before, &after),
            // What is no text is only said to differ.
            _ => Vec::new(),
        };
        FileDiff { name: name.to_owned(), state: state.to_owned(), lines }
    };
    names.into_iter().map(diff).collect()
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;

    fn told(from: &[Named<'_>], to: &[Named<'_>]) -> Vec<(String, String, String)> {
        let sign = |l: &DiffLine| match l.kind.as_str() {
            "same" => format!(" {}", l.text),
            "gone" => format!("-{}", l.text),
            "new" => format!("+{}", l.text),
            _ => "...".to_owned(),
        };
        let one = |d: FileDiff| (d.name, d.state, d.lines.iter().map(sign).collect::<Vec<_>>().join("|"));
        files(from, to).into_iter().map(one).collect()
    }

    fn say(list: &[(&str, &str, &str)]) -> Vec<(String, String, String)> {
        list.iter().map(|(a, b, c)| ((*a).to_owned(), (*b).to_owned(), (*c).to_owned())).collect()
    }

    #[test]
    fn files_are_held_against_each_other_by_name() {
        let from: [Named<'_>; 3] = [("top.v", b"a\nb\nc\n"), ("sub.v", b"x\n"), ("old.v", b"q\n")];
        let to: [Named<'_>; 3] = [("sub.v", b"x\n"), ("new.v", b"n\n"), ("top.v", b"a\nB\nc\n")];
        let wanted = [
            ("new.v", "new", "+n"),
            ("old.v", "gone", "-q"),
            ("sub.v", "same", ""),
            ("top.v", "changed", " a|-b|+B| c"),
        ];
        assert_eq!(told(&from, &to), say(&wanted));
    }

    #[test]
    fn one_design_is_held_against_one_whatever_its_name() {
        let wanted = [("first.v → second.v", "changed", "-a|+b")];
        assert_eq!(told(&[("first.v", b"a\n")], &[("second.v", b"b\n")]), say(&wanted));
        let wanted = [("a.mem", "gone", ""), ("b.mem", "new", "+1")];
        assert_eq!(told(&[("a.mem", b"\x00\x01\x02\x00\xff")], &[("b.mem", b"1\n")]), say(&wanted));
    }

    #[test]
    fn far_from_a_change_lines_are_left_out() {
        let text = |last: &str| (0..20).map(|k| format!("{k}\n")).collect::<String>() + last;
        let shown = lines(&text("x\n"), &text("y\n"));
        let kinds: Vec<&str> = shown.iter().map(|l| l.kind.as_str()).collect();
        assert_eq!(kinds, ["same", "same", "same", "gone", "new"]);
        assert!(lines("a\n", "a\n").is_empty());
    }
}
