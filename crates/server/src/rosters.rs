//! A course brought in line with a roster, for the page and for the command line.

use crate::wire::{RosterLine, RosterView};
use course::{Known, Outcome, PersonName, Roster};
use std::collections::BTreeSet;
use store::{CourseId, CoursePerson, PersonData, PersonId, Role, Store, StoreError, Timestamp};

/// Says what a roster would do to a course, and does it when asked; `by` is nobody for the command line.
///
/// # Errors
/// When the data can't be read or written.
pub fn bring_in_line(
    store: &Store,
    (course, by): (CourseId, Option<PersonId>),
    roster: &Roster,
    apply: bool,
    at: Timestamp,
) -> Result<RosterView, StoreError> {
    let known: Vec<Known> = store.people(course)?.into_iter().map(known).collect();
    let sign_ins: Vec<String> = roster.entries.iter().map(|e| e.sign_in.clone()).collect();
    let accounts: BTreeSet<String> = store.accounts_among(&sign_ins)?.into_iter().collect();
    let preview = course::compare(roster, &known, &accounts);
    if apply {
        let (new, changed) = work(&preview);
        store.apply_roster(course, &new, &changed, (by, at))?;
    }
    Ok(RosterView { lines: preview.lines.iter().map(roster_line).collect(), missing: preview.missing, applied: apply })
}

fn known(p: CoursePerson) -> Known {
    Known {
        id: p.id.0,
        sign_in: p.sign_in,
        name: PersonName { whole: p.name, family: p.family },
        section: p.section,
        number: p.number,
        is_student: p.role == Role::Student,
        is_active: p.is_active,
        is_ours: p.is_ours,
    }
}

/// What has to be written.
fn work(preview: &course::Preview) -> (Vec<PersonData>, Vec<(PersonId, PersonData)>) {
    let data = |k: &Known| PersonData {
        name: k.name.whole.clone(),
        family: k.name.family.clone(),
        sign_in: k.sign_in.clone(),
        number: k.number.clone(),
        section: k.section.clone(),
    };
    let (mut new, mut changed) = (Vec::new(), Vec::new());
    for line in &preview.lines {
        match (&line.outcome, &line.person) {
            (Outcome::New | Outcome::Joins, Some(person)) => new.push(data(person)),
            (Outcome::Changed(id, _), Some(person)) => changed.push((PersonId(*id), data(person))),
            _ => {}
        }
    }
    (new, changed)
}

fn roster_line(line: &course::Line) -> RosterLine {
    let (state, what) = match &line.outcome {
        Outcome::New => ("new", String::new()),
        Outcome::Joins => ("joins", "Has an account in another course and keeps it.".into()),
        Outcome::Changed(_, list) => ("changed", list.join(", ")),
        Outcome::Same => ("same", String::new()),
        Outcome::LeftOut(why) => ("left_out", why.clone()),
    };
    let text = |of: fn(&Known) -> &String| line.person.as_ref().map(|p| of(p).clone()).unwrap_or_default();
    RosterLine {
        line: line.line,
        state: state.into(),
        name: text(|p| &p.name.whole),
        sign_in: text(|p| &p.sign_in),
        section: text(|p| &p.section),
        what,
    }
}
