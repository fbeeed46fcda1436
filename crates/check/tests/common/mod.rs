//! A lab exercise with the ways in which students solve it, and a slip in each.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{ProofKind, VerdictKind};

/// A solution, and the usual slip in it: what is written for what.
pub(crate) struct Way {
    pub(crate) file: &'static str,
    pub(crate) text: &'static str,
    pub(crate) slip: (&'static str, &'static str),
}

pub(crate) const fn way(file: &'static str, text: &'static str, slip: (&'static str, &'static str)) -> Way {
    Way { file, text, slip }
}

/// The file of an exercise: ports such as `in a 3:0, out y`, more lines of it, and a reference in Verilog.
fn exercise(ports: &str, more: &str, reference: &'static str) -> Exercise {
    let mut text = String::from("format = \"zesty-gate/exercise/1\"\ntitle = \"Lab\"\n");
    for port in ports.split(',') {
        let words: Vec<&str> = port.split_whitespace().collect();
        text += &format!("[[port]]\nname = \"{}\"\ndir = \"{}\"\n", words[1], words[0]);
        if let Some(range) = words.get(2) {
            text += &format!("range = \"{range}\"\n");
        }
    }
    text += more;
    text += "[behaviour]\nkind = \"reference\"\nfiles = [\"reference.v\"]\n";
    Exercise::load(&text, &|_| Ok(reference.into())).unwrap_or_else(|e| panic!("{e}\n{text}"))
}

/// Every solution passes, proved; with its slip it does not, and nearly always the checker says why.
pub(crate) fn lab(ports: &str, more: &str, reference: &'static str, ways: &[Way]) {
    let exercise = exercise(ports, more, reference);
    let mut unexplained = Vec::new();
    for Way { file, text, slip } in ways {
        let judged = |text: &str| {
            let files = vec![HandInFile { name: (*file).into(), bytes: text.into() }];
            check(&exercise, &HandIn { files, ..HandIn::default() }).verdict
        };
        let found = judged(text);
        assert_eq!(found.verdict, VerdictKind::Pass, "{file}: {}\n{text}", found.headline());
        assert_eq!(found.proof.kind, ProofKind::Proved, "{file}");
        assert!(text.contains(slip.0), "{file}: `{}` is not in it", slip.0);
        let found = judged(&text.replacen(slip.0, slip.1, 1));
        assert!(
            matches!(found.verdict, VerdictKind::Partly | VerdictKind::Fail),
            "{file} with `{}` for `{}`: {}",
            slip.1,
            slip.0,
            found.headline()
        );
        let stops = found.findings.iter().any(|f| f.severity == "stop");
        if found.near_misses.is_empty() && !stops {
            unexplained.push(*file);
        }
    }
    assert!(unexplained.len() <= (ways.len() / 4).max(1), "not explained: {unexplained:?}");
}
