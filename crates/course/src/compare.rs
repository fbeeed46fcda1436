//! What bringing a course in line with a roster would change.

use crate::names::PersonName;
use crate::roster::{Entry, Remark, Roster};
use std::collections::{BTreeMap, BTreeSet};

/// A person that the course has.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Known {
    /// Key.
    pub id: i64,
    /// Name to sign in with.
    pub sign_in: String,
    /// Their name.
    pub name: PersonName,
    /// Their section; empty for none.
    pub section: String,
    /// The school's number; empty for none.
    pub number: String,
    /// A student; staff is never changed by a roster.
    pub is_student: bool,
    /// May come in.
    pub is_active: bool,
    /// Their account is this course's to change: they are in no course of other people.
    pub is_ours: bool,
}

/// What happens with a line of a roster.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Outcome {
    /// A new account is made.
    New,
    /// Somebody with an account in another course joins; the account stays as it is.
    Joins,
    /// What is known changes: each change in a few words.
    Changed(i64, Vec<String>),
    /// Nothing.
    Same,
    /// It is left out: why.
    LeftOut(String),
}

/// A line of a roster with what happens.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Line {
    /// The line, from 1.
    pub line: u64,
    /// The person, where the line is one; with section and number as they will be.
    pub person: Option<Known>,
    /// What happens.
    pub outcome: Outcome,
}

/// What a roster would do.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Preview {
    /// Line by line.
    pub lines: Vec<Line>,
    /// Active students of the course who are not in the roster; they stay.
    pub missing: Vec<String>,
}

/// Holds a roster against a course; `accounts` are sign-in names in lower case that have an account somewhere.
pub fn compare(roster: &Roster, known: &[Known], accounts: &BTreeSet<String>) -> Preview {
    let by_name: BTreeMap<String, &Known> = known.iter().map(|k| (k.sign_in.to_lowercase(), k)).collect();
    let mut seen = BTreeSet::new();
    let mut lines: Vec<Line> = Vec::new();
    for entry in &roster.entries {
        let key = entry.sign_in.to_lowercase();
        let before = by_name.get(&key).copied();
        seen.insert(key.clone());
        let person = after(entry, before);
        let outcome = match before {
            Some(before) if !before.is_student => Outcome::LeftOut(format!(
                "{} is staff in this course; a roster holds students only.",
                before.name.whole
            )),
            Some(before) => match changes(before, &person) {
                list if list.is_empty() => Outcome::Same,
                list => Outcome::Changed(before.id, list),
            },
            None if accounts.contains(&key) => Outcome::Joins,
            None => Outcome::New,
        };
        lines.push(Line { line: entry.line, person: Some(person), outcome });
    }
    let left_out = |r: &Remark| Line { line: r.line, person: None, outcome: Outcome::LeftOut(r.sentence.clone()) };
    lines.extend(roster.remarks.iter().map(left_out));
    lines.sort_by_key(|l| l.line);
    let missing = known.iter().filter(|k| k.is_student && k.is_active && !seen.contains(&k.sign_in.to_lowercase()));
    Preview { lines, missing: missing.map(|k| k.name.whole.clone()).collect() }
}

fn after(entry: &Entry, before: Option<&Known>) -> Known {
    if let Some(before) = before.filter(|b| !b.is_ours) {
        let section = entry.section.clone().unwrap_or_else(|| before.section.clone());
        return Known { section, is_active: true, ..before.clone() };
    }
    let kept = |given: &Option<String>, old: fn(&Known) -> &String| {
        given.clone().unwrap_or_else(|| before.map(|b| old(b).clone()).unwrap_or_default())
    };
    // A roster that has names in one piece takes no family name away.
    let family = match before {
        Some(before) if entry.name.family.is_empty() && before.name.whole == entry.name.whole => {
            before.name.family.clone()
        }
        _ => entry.name.family.clone(),
    };
    Known {
        id: before.map_or(0, |b| b.id),
        sign_in: before.map_or_else(|| entry.sign_in.clone(), |b| b.sign_in.clone()),
        name: PersonName { whole: entry.name.whole.clone(), family },
        section: kept(&entry.section, |b| &b.section),
        number: kept(&entry.number, |b| &b.number),
        is_student: true,
        is_active: true,
        is_ours: true,
    }
}

fn changes(before: &Known, after: &Known) -> Vec<String> {
    let mut list = Vec::new();
    let shown = |text: &str| if text.is_empty() { "none".to_owned() } else { text.to_owned() };
    let mut differs = |what: &str, old: &str, new: &str| {
        if old != new {
            list.push(format!("{what} {} → {}", shown(old), shown(new)));
        }
    };
    differs("name", &before.name.whole, &after.name.whole);
    differs("family name", &before.name.family, &after.name.family);
    differs("section", &before.section, &after.section);
    differs("number", &before.number, &after.number);
    if !before.is_active {
        list.push("comes back".into());
    }
    list
}
