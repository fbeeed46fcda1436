//! Test helper of the language front ends: what holds for every file of a corpus, whatever its language. Files in
//! `ok` have no finding that stops; those in `err` have exactly those that a comment `ERR code` marks, on its line.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

pub mod arithmetic;

use base::{Diagnostic, SourceFile};
use design::Design;
use std::path::Path;

/// What reading and elaborating one file gave; the design only when nothing stopped it.
pub type Read = (Vec<Diagnostic>, Option<Design>);

/// Name and text of each file in the folder `corpus/<folder>` of the crate at `manifest`, by name.
pub fn files(manifest: &str, folder: &str) -> Vec<(String, String)> {
    let mut list: Vec<(String, String)> = std::fs::read_dir(Path::new(manifest).join("corpus").join(folder))
        .unwrap()
        .map(|e| e.unwrap().path())
        .map(|p| (p.file_stem().unwrap().to_string_lossy().into_owned(), std::fs::read_to_string(&p).unwrap()))
        .collect();
    list.sort();
    assert!(!list.is_empty());
    list
}

/// A legal file gives a valid design and no finding that stops.
pub fn is_legal(name: &str, (diagnostics, design): Read) -> Design {
    let stops: Vec<_> = diagnostics.iter().filter(|d| d.stops()).collect();
    assert!(stops.is_empty(), "{name}: {stops:#?}");
    let design = design.unwrap();
    assert_eq!(design::validate(&design), Ok(()), "{name}");
    design
}

/// Each fault is told once, on the line that `<comment> ERR code` marks, as a sentence with an action.
pub fn faults_are_told(manifest: &str, comment: &str, read: impl Fn(&str, &str) -> Read) {
    let mark = format!("{comment} ERR ");
    for (name, text) in files(manifest, "err") {
        let source = SourceFile::new(&name, text.as_str());
        let (diagnostics, design) = read(&name, &text);
        let found: Vec<(u32, &str)> = diagnostics
            .iter()
            .filter(|d| d.stops())
            .map(|d| (source.place(d.span.unwrap().start).line, d.code.key()))
            .collect();
        let marked: Vec<(u32, &str)> = text
            .lines()
            .zip(1..)
            .filter_map(|(line, n)| line.split_once(&mark).map(|(_, code)| (n, code.trim())))
            .collect();
        assert_eq!(found, marked, "{name}: {diagnostics:#?}");
        assert!(design.is_none(), "{name}");
        for d in &diagnostics {
            assert!(d.message.ends_with(['.', '!']) && d.action.ends_with('.'), "{name}: {d}");
        }
    }
}

/// Applying the first fix of a file takes its fault away; returns in how many files there was one.
pub fn fixes_remove_faults(manifest: &str, read: impl Fn(&str, &str) -> Read) -> usize {
    let mut applied = 0;
    for (name, text) in files(manifest, "err") {
        let (diagnostics, _) = read(&name, &text);
        let Some((d, fix)) = diagnostics.iter().find_map(|d| d.fixes.first().map(|f| (d.clone(), f.clone()))) else {
            continue;
        };
        let mut fixed = text.clone();
        fixed.replace_range(fix.span.start as usize..fix.span.end as usize, &fix.text);
        let (after, _) = read(&name, &fixed);
        assert!(!after.iter().any(|a| a.code == d.code && a.span == d.span), "{name}: {after:#?}");
        applied += 1;
    }
    applied
}

/// What once made the front end panic is read to its end.
pub fn crashes_are_gone(manifest: &str, read: impl Fn(&str, &str) -> Read) {
    for (name, text) in files(manifest, "crashes") {
        let (diagnostics, design) = read(&name, &text);
        assert!(design.is_none() || diagnostics.iter().all(|d| !d.stops()), "{name}");
    }
}

/// No file, cut anywhere, with a token missing or doubled, makes the front end panic.
pub fn damage_does_not_panic(manifest: &str, read: impl Fn(&str, &str) -> Read) {
    for (name, text) in files(manifest, "ok").into_iter().chain(files(manifest, "err")) {
        for cut in (0..text.len()).filter(|i| text.is_char_boundary(*i)) {
            read(&name, &text[..cut]);
        }
        let words: Vec<&str> = text.split_inclusive(|c: char| !c.is_alphanumeric()).collect();
        for skip in 0..words.len() {
            let times = |n: usize| -> String {
                words.iter().enumerate().map(|(i, w)| w.repeat(if i == skip { n } else { 1 })).collect()
            };
            read(&name, &times(0));
            read(&name, &times(2));
        }
    }
}
