//! Typical faults put into a right design, one at a time: does a check of its exercise tell them apart?

use crate::{HandIn, check_within};
use base::Budget;
use elab::HandInFile;
use exercise::Exercise;
use serde::{Deserialize, Serialize};
use verdict::VerdictKind;

/// What is written for what. Longer spellings stand before those that they begin with.
const VERILOG: [(&str, &[&str]); 20] = [
    ("posedge", &["negedge"]),
    ("nand", &["and", "nor"]),
    ("nor ", &["or ", "nand "]),
    ("&&", &["||"]),
    ("||", &["&&"]),
    ("==", &["!="]),
    ("!=", &["=="]),
    ("<=", &[]),
    (">=", &[">"]),
    ("<<", &[">>"]),
    (">>", &["<<"]),
    ("&", &["|", "^"]),
    ("|", &["&"]),
    ("^", &["&", "|"]),
    ("~", &[""]),
    ("+", &["-"]),
    ("-", &["+"]),
    ("'d1", &["'d2", "'d0"]),
    ("1'b1", &["1'b0"]),
    ("[0]", &["[1]"]),
];
const VHDL: [(&str, &[&str]); 17] = [
    ("rising_edge", &["falling_edge"]),
    (" nand ", &[" and ", " nor "]),
    (" xor ", &[" and ", " or "]),
    (" nor ", &[" or "]),
    (" and ", &[" or ", " xor "]),
    (" or ", &[" and "]),
    ("not ", &[""]),
    ("/=", &["="]),
    ("'1'", &["'0'"]),
    ("'0'", &["'1'"]),
    (" + ", &[" - "]),
    (" - ", &[" + "]),
    ("\"00", &["\"01"]),
    ("\"10", &["\"11"]),
    ("(0)", &["(1)"]),
    (" 1 ", &[" 2 "]),
    (" 19 ", &[" 18 "]),
];

/// A text that is spoilt in one place.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Spoilt {
    /// The whole text.
    pub text: String,
    /// The line, from 1.
    pub line: u32,
    /// What stood there.
    pub from: &'static str,
    /// What stands there now.
    pub to: &'static str,
}

/// Every way to spoil a source in one place, in the order of the text; by the ending of its name as Verilog or VHDL. Some of
/// them are not legal any more, and some change nothing of what it does.
pub fn spoilt(name: &str, text: &str) -> Vec<Spoilt> {
    let vhdl = [".vhd", ".vhdl"].iter().any(|ending| name.to_ascii_lowercase().ends_with(ending));
    let table: &[(&str, &[&str])] = if vhdl { &VHDL } else { &VERILOG };
    let comment = if vhdl { "--" } else { "//" };
    let mut list = Vec::new();
    let mut start = 0;
    for (line, written) in (1u32..).zip(text.split_inclusive('\n')) {
        let code = written.split(comment).next().unwrap_or("");
        let mut at = 0;
        while at < code.len() {
            let found = table.iter().find(|(from, _)| code.get(at..).is_some_and(|rest| rest.starts_with(from)));
            let Some((from, others)) = found else {
                at += code[at..].chars().next().map_or(1, char::len_utf8);
                continue;
            };
            for to in *others {
                let (before, after) = (&text[..start + at], &text[start + at + from.len()..]);
                list.push(Spoilt { text: format!("{before}{to}{after}"), line, from, to });
            }
            at += from.trim_end().len().max(1);
        }
        start += written.len();
    }
    list
}

/// How many typical faults in a right design its exercise's check tells.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct ToldApart {
    /// Faults that were put in and are legal.
    pub tried: u64,
    /// Those that the check tells.
    pub told: u64,
    /// Those that pass all the same, a sentence each.
    pub missed: Vec<String>,
}

/// Most faults that are tried.
const MOST: usize = 24;

/// Puts typical faults into a design that passes, spread over its files, and checks each.
pub fn told_apart(exercise: &Exercise, design: &HandIn, budget: &Budget) -> ToldApart {
    let of = |(at, file): (usize, &HandInFile)| {
        let text = base::SourceFile::decode(&file.name, &file.bytes).map(|s| s.text).unwrap_or_default();
        spoilt(&file.name, &text).into_iter().map(move |s| (at, s))
    };
    let all: Vec<(usize, Spoilt)> = design.files.iter().enumerate().flat_map(of).collect();
    let mut found = ToldApart::default();
    // Of many every so-manieth, so that the end of the text has its turn.
    for k in 0..all.len().min(MOST) {
        let (at, fault) = &all[k * all.len() / all.len().min(MOST)];
        let mut changed = HandIn { quick: true, ..design.clone() };
        let name = changed.files[*at].name.clone();
        changed.files[*at].bytes = fault.text.clone().into_bytes();
        let verdict = check_within(exercise, &changed, budget).verdict;
        let is_legal = !verdict.findings.iter().any(|f| f.stage == "language" && f.severity == "stop");
        match verdict.verdict {
            _ if !is_legal => continue,
            VerdictKind::CannotTell => continue,
            VerdictKind::Pass => {
                let to = if fault.to.is_empty() { "nothing".to_owned() } else { format!("`{}`", fault.to.trim()) };
                let sentence = format!("{name}, line {}: {to} for `{}`.", fault.line, fault.from.trim());
                found.missed.push(sentence);
            }
            VerdictKind::Partly | VerdictKind::Fail => found.told += 1,
        }
        found.tried += 1;
    }
    found
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;

    const EXERCISE: &str = "format = \"zesty-gate/exercise/1\"\ntitle = \"Gate\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n\
        [[port]]\nname = \"b\"\ndir = \"in\"\n[[port]]\nname = \"y\"\ndir = \"out\"\n[behaviour]\nkind = \"minterms\"\n\
        [behaviour.outputs]\ny = [2]\n[behaviour.dont_care]\ny = [3]\n";

    fn design(name: &str, text: &str) -> HandIn {
        HandIn { files: vec![HandInFile { name: name.into(), bytes: text.as_bytes().to_vec() }], ..HandIn::default() }
    }

    #[test]
    fn a_text_is_spoilt_in_every_place_that_is_no_remark() {
        let list = spoilt("m.v", "assign y = a & ~b; // a & b\n");
        let texts: Vec<&str> = list.iter().map(|s| s.text.trim_end()).collect();
        assert_eq!(texts, ["assign y = a | ~b; // a & b", "assign y = a ^ ~b; // a & b", "assign y = a & b; // a & b"]);
        let list = spoilt("m.VHD", "y <= a and not b; -- and\n");
        assert_eq!((list.len(), list[2].from, list[2].to), (3, "not ", ""));
    }

    /// Worked by hand: y is 1 on row 10 and free on row 11. `a & ~b` is right; with `|` and with `^` row 00 is 1, and `a & b` is 0 on
    /// row 10.
    #[test]
    fn faults_that_the_dont_cares_hide_are_named() {
        let exercise = Exercise::alone(EXERCISE).unwrap();
        let head = "module m(input a, b, output y);\n";
        let found = told_apart(
            &exercise,
            &design("m.v", &format!("{head}assign y = a & ~b;\nendmodule\n")),
            &Budget::hand_in(),
        );
        assert_eq!((found.tried, found.told, found.missed.len()), (3, 3, 0));
        // With rows 01 and 11 free, OR is right as well as XOR, and AND is 0 on row 10.
        let free = EXERCISE.replace("y = [3]", "y = [1, 3]");
        let exercise = Exercise::alone(&free).unwrap();
        let found =
            told_apart(&exercise, &design("m.v", &format!("{head}assign y = a ^ b;\nendmodule\n")), &Budget::hand_in());
        assert_eq!((found.tried, found.told), (2, 1));
        assert_eq!(found.missed, ["m.v, line 2: `|` for `^`."]);
    }
}
