//! Hand-ins of many students in one archive: a folder a student, or files that begin with the sign-in name or the number,
//! as course systems export them.

use crate::names::PersonName;
use std::collections::{BTreeMap, BTreeSet};

/// A file of the archive.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Packed {
    /// Its path within the archive.
    pub path: String,
    /// What is in it.
    pub bytes: Vec<u8>,
}

/// A student of the course.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Owner {
    /// Key.
    pub id: i64,
    /// Name to sign in with.
    pub sign_in: String,
    /// The school's number; empty for none.
    pub number: String,
    /// Their name.
    pub name: PersonName,
}

/// What a file of a hand-in is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Part {
    /// A design, or data that it reads.
    Design,
    /// `wiring.csv`.
    Wiring,
    /// `answers.toml`.
    Answers,
}

/// The files of one student.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Bundle {
    /// Key of the student.
    pub student: i64,
    /// Each with its name without folders.
    pub files: Vec<(Part, String, Vec<u8>)>,
}

/// What is nobody's hand-in: the path, and why.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct LeftOver {
    /// A file, or the folder of several.
    pub path: String,
    /// A sentence.
    pub why: String,
}

/// Is it something that operating systems and packers leave behind, or in it?
pub fn is_litter(path: &str) -> bool {
    let litter = |part: &str| match part {
        // These are ways, not names.
        "." | ".." => false,
        "Thumbs.db" | "desktop.ini" => true,
        name => name.starts_with('.') || name.starts_with("__"),
    };
    path.split('/').any(litter)
}

/// Words of letters and digits, in lower case.
fn words(text: &str) -> Vec<String> {
    let parts = text.split(|c: char| !c.is_alphanumeric());
    parts.filter(|w| !w.is_empty()).map(str::to_lowercase).collect()
}

/// The rest of a name that begins with a key, such as `abel_` or `4711-`; `None` where it doesn't.
fn rest<'n>(name: &'n str, key: &str) -> Option<&'n str> {
    let begins = !key.is_empty() && name.get(..key.len()).is_some_and(|start| start.eq_ignore_ascii_case(key));
    let rest = name.get(key.len()..).filter(|_| begins)?;
    let is_apart = rest.chars().next().is_none_or(|c| !c.is_alphanumeric());
    is_apart.then(|| rest.trim_start_matches(|c: char| !c.is_alphanumeric()))
}

const NOBODY: &str = "Nobody in the course has this sign-in name, number or name; rename it.";

/// Whose a folder or a file is, with the rest of its name behind what says so. Everything that a name says has to point at one
/// person: a sign-in name that is a given name, too, or a number that a course system added, must not hand work to another.
fn whose<'n, 'o>(name: &'n str, is_folder: bool, owners: &'o [Owner]) -> Result<(&'o Owner, &'n str), &'static str> {
    let said = words(name);
    let begins = |o: &Owner| rest(name, &o.sign_in).or_else(|| rest(name, &o.number));
    // The longest key counts: `abel.z` before `abel`.
    let shortest = owners.iter().filter_map(begins).map(str::len).min();
    let by_start = |o: &Owner| shortest.is_some() && begins(o).map(str::len) == shortest;
    let by_name = |o: &Owner| {
        let name: BTreeSet<String> = words(&o.name.whole).into_iter().collect();
        // One word is no whole name.
        name.len() > 1 && said.iter().take(name.len()).cloned().collect::<BTreeSet<_>>() == name
    };
    let by_word = |o: &Owner| {
        let keys = [o.sign_in.to_lowercase(), o.number.to_lowercase()];
        is_folder && said.iter().any(|w| keys.contains(w))
    };
    let mut found: Vec<&Owner> = owners.iter().filter(|o| by_start(o) || by_name(o) || by_word(o)).collect();
    if let [first, second] = found.as_slice() {
        // `abel.z` holds the word `abel` as well, which is not what it says.
        let only_word = |o: &Owner| !by_start(o) && !by_name(o);
        let inner = |o: &Owner, of: &Owner| only_word(o) && words(&of.sign_in).contains(&o.sign_in.to_lowercase());
        if inner(first, second) {
            found.remove(0);
        } else if inner(second, first) {
            found.remove(1);
        }
    }
    match found.as_slice() {
        [one] => Ok((one, begins(one).unwrap_or(""))),
        [] => Err(NOBODY),
        _ => Err("It fits several people of the course; begin its name with a sign-in name."),
    }
}

/// The one folder that everything lies in, with its slash; empty where there is none, or where it is a student's.
fn common<'p>(paths: &[&'p str], owners: &[Owner]) -> &'p str {
    let Some((folder, _)) = paths.first().and_then(|p| p.split_once('/')) else { return "" };
    let inside = |path: &&str| path.strip_prefix(folder).is_some_and(|rest| rest.starts_with('/'));
    let first = paths[0];
    let is_wrapper = paths.iter().all(inside) && whose(folder, true, owners).is_err_and(|why| why == NOBODY);
    if is_wrapper { &first[..=folder.len()] } else { "" }
}

fn part(name: &str) -> Part {
    match name.to_lowercase().as_str() {
        "wiring.csv" => Part::Wiring,
        "answers.toml" => Part::Answers,
        _ => Part::Design,
    }
}

/// Sorts the files of an archive by student. What is left over is said with its reason; nothing is dropped silently but what
/// packers leave behind.
pub fn sort_out(files: Vec<Packed>, owners: &[Owner]) -> (Vec<Bundle>, Vec<LeftOver>) {
    let files: Vec<Packed> = files
        .into_iter()
        .map(|f| Packed { path: f.path.replace('\\', "/").trim_start_matches("./").to_owned(), ..f })
        .filter(|f| !is_litter(&f.path))
        .collect();
    let paths: Vec<&str> = files.iter().map(|f| f.path.as_str()).collect();
    let mut skipped = common(&paths, owners).len();
    // Folders in folders: `export/lab 3/abel/…`.
    while skipped > 0 {
        let inner: Vec<&str> = paths.iter().map(|p| &p[skipped..]).collect();
        match common(&inner, owners).len() {
            0 => break,
            more => skipped += more,
        }
    }
    let mut bundles: BTreeMap<i64, Bundle> = BTreeMap::new();
    let mut left: BTreeMap<String, String> = BTreeMap::new();
    for file in files {
        let path = &file.path[skipped..];
        let (top, within) = path.split_once('/').unwrap_or((path, ""));
        let (owner, rest) = match whose(top, !within.is_empty(), owners) {
            Ok(found) => found,
            Err(why) => {
                left.insert(top.to_owned(), why.to_owned());
                continue;
            }
        };
        let own = if within.is_empty() { rest } else { within };
        let name = own.rsplit('/').next().unwrap_or(own);
        // A file that is called by the student alone, such as `abel.v`.
        let name = if within.is_empty() && !name.contains('.') { top } else { name };
        let bundle = bundles.entry(owner.id).or_insert_with(|| Bundle { student: owner.id, files: Vec::new() });
        if bundle.files.iter().any(|(_, known, _)| known == name) {
            let why = format!("{} has another file called `{name}`; rename one of them.", owner.name.whole);
            left.insert(path.to_owned(), why);
            continue;
        }
        bundle.files.push((part(name), name.to_owned(), file.bytes));
    }
    let left = left.into_iter().map(|(path, why)| LeftOver { path, why }).collect();
    (bundles.into_values().collect(), left)
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;

    fn owners() -> Vec<Owner> {
        let owner = |id, sign_in: &str, number: &str, whole: &str| Owner {
            id,
            sign_in: sign_in.into(),
            number: number.into(),
            name: PersonName { whole: whole.into(), family: String::new() },
        };
        vec![
            owner(1, "abel", "4711", "Abel Zestwick"),
            owner(2, "abel.z", "4712", "Abelard Zest"),
            owner(3, "otis", "", "Otis Marmalade"),
            owner(4, "asa", "4714", "Åsa Rindle-Öst"),
        ]
    }

    fn sorted(paths: &[&str]) -> (Vec<(i64, Vec<String>)>, Vec<String>) {
        let files = paths.iter().map(|p| Packed { path: (*p).into(), bytes: p.as_bytes().to_vec() }).collect();
        let (bundles, left) = sort_out(files, &owners());
        let names = |b: Bundle| (b.student, b.files.into_iter().map(|(_, name, _)| name).collect());
        (bundles.into_iter().map(names).collect(), left.into_iter().map(|l| l.path).collect())
    }

    fn all(list: &[(i64, &[&str])]) -> Vec<(i64, Vec<String>)> {
        list.iter().map(|(id, names)| (*id, names.iter().map(|n| (*n).to_owned()).collect())).collect()
    }

    #[test]
    fn a_folder_a_student_by_sign_in_number_or_name() {
        let (found, left) = sorted(&["abel/top.v", "abel/part/adder.v", "4712/top.vhd", "Otis Marmalade/top.v"]);
        assert_eq!(found, all(&[(1, &["top.v", "adder.v"]), (2, &["top.vhd"]), (3, &["top.v"])]));
        assert!(left.is_empty(), "{left:?}");
    }

    /// Course systems put a name, a number and a word of their own into the names of folders (common practice).
    #[test]
    fn names_as_course_systems_export_them() {
        let (found, left) = sorted(&[
            "Lab 3-20261202/Zestwick Abel_4711_submission_file/top.v",
            "Lab 3-20261202/otis_late_88123_top.v",
            "Lab 3-20261202/otis_late_88123_wiring.csv",
            "Lab 3-20261202/Rindle-Öst Åsa_31_file/top.v",
        ]);
        let mine = all(&[(1, &["top.v"]), (3, &["late_88123_top.v", "late_88123_wiring.csv"]), (4, &["top.v"])]);
        assert_eq!((found, left), (mine, Vec::new()));
    }

    #[test]
    fn the_longer_sign_in_counts_and_no_word_is_cut() {
        let (found, _) = sorted(&["abel.z_top.v", "abel_top.v"]);
        assert_eq!(found, all(&[(1, &["top.v"]), (2, &["top.v"])]));
        // `abelard` is not `abel`.
        let (found, left) = sorted(&["abelarda/top.v", "otis/top.v"]);
        assert_eq!((found, left), (all(&[(3, &["top.v"])]), vec!["abelarda".to_owned()]));
    }

    /// A wrong owner is worse than none: what points at two people is left over.
    #[test]
    fn what_points_at_two_people_is_nobodys() {
        let mut owners = owners();
        owners[2].sign_in = "omarmalade".into();
        let other = |id, sign_in: &str, number: &str, whole: &str| Owner {
            id,
            sign_in: sign_in.into(),
            number: number.into(),
            name: PersonName { whole: whole.into(), family: String::new() },
        };
        owners.push(other(9, "otis", "31", "Otis Pithers"));
        let left = |path: &str| {
            let files = vec![Packed { path: path.into(), bytes: Vec::new() }];
            sort_out(files, &owners).1.into_iter().next().map(|l| l.why)
        };
        // The sign-in of one is the given name of the other; a number of the course system is somebody's number.
        assert!(left("Otis Marmalade/top.v").unwrap().contains("fits several people"));
        assert!(left("Rindle-Öst Åsa_31_file/top.v").unwrap().contains("fits several people"));
        assert_eq!(left("Otis Pithers_31/top.v"), None);
        assert_eq!(left("omarmalade_top.v"), None);
        // Of a file only the beginning counts: its other words are the design's.
        assert!(left("counter_31.v").unwrap().contains("Nobody"));
    }

    #[test]
    fn what_is_nobodys_or_there_twice_is_left_over() {
        let (found, left) =
            sorted(&["readme.txt", "abel/a.v", "abel/old/a.v", "47/x.v", "__MACOSX/abel/._a.v", "abel/.DS_Store"]);
        assert_eq!(found, all(&[(1, &["a.v"])]));
        assert_eq!(left, ["47", "abel/old/a.v", "readme.txt"]);
    }

    #[test]
    fn one_students_own_folder_is_no_wrapper() {
        let (found, left) = sorted(&["abel/top.v", "abel/wiring.csv"]);
        assert_eq!((found, left), (all(&[(1, &["top.v", "wiring.csv"])]), Vec::new()));
        let (found, _) = sorted(&["export/lab 3/abel/top.v", "export/lab 3/otis/top.v"]);
        assert_eq!(found, all(&[(1, &["top.v"]), (3, &["top.v"])]));
    }

    #[test]
    fn parts_are_told_by_their_names() {
        let files = ["abel/Wiring.csv", "abel/answers.toml", "abel/rows.hex"];
        let files = files.iter().map(|p| Packed { path: (*p).into(), bytes: Vec::new() }).collect();
        let (bundles, _) = sort_out(files, &owners());
        let parts: Vec<Part> = bundles[0].files.iter().map(|f| f.0).collect();
        assert_eq!(parts, [Part::Wiring, Part::Answers, Part::Design]);
    }

    #[test]
    fn paths_of_another_system_and_empty_archives() {
        let (found, left) = sorted(&["lab\\abel\\top.v", "lab\\otis\\top.v"]);
        assert_eq!((found, left), (all(&[(1, &["top.v"]), (3, &["top.v"])]), Vec::new()));
        assert_eq!(sorted(&[]), (Vec::new(), Vec::new()));
    }
}
