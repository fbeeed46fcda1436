//! The demo course: a citrus packhouse with invented people. Every verdict is made by the real checker.

mod people;
mod work;

use anyhow::{Context, Result};
use server::wire::{DemoAccount, DemoAccounts};
use store::{CourseId, FileKind, NewFile, NewHandIn, Role, Store, StoredTerms};

const PASSWORD: &str = "lemon-peel";
/// One day in seconds.
const DAY: i64 = 24 * 3600;

/// Fills an empty store and says how to sign in. The hand-ins wait for their checks, which are made while it serves.
pub(crate) fn seed(store: &Store, now: i64) -> Result<(DemoAccounts, CourseId)> {
    // One hash for all: the accounts are open to everybody anyway, and hashing is slow on purpose.
    let hash = server::hash_password(PASSWORD)?;
    let start = now - 24 * DAY;
    let instructor = store.add_person(people::INSTRUCTOR.0, people::INSTRUCTOR.1, &hash, start)?;
    let course = store.add_course("Packhouse Controls", instructor, start)?;
    let assistant = store.add_person(people::ASSISTANT.0, people::ASSISTANT.1, &hash, start)?;
    store.set_member(course, assistant, Role::Assistant, "")?;
    let mut students = Vec::new();
    for (name, sign_in, section) in people::STUDENTS {
        let id = store.add_person(name, sign_in, &hash, start)?;
        store.set_family_name(id, name.rsplit(' ').next().unwrap_or_default())?;
        store.set_member(course, id, Role::Student, section)?;
        students.push(id);
    }
    let mut exercises = Vec::new();
    for exercise in work::EXERCISES {
        let title =
            exercise::Exercise::load(exercise.text, &|name| Err(format!("`{name}` is not part of the demo").into()))
                .with_context(|| format!("the demo exercise {}", exercise.name))?
                .title;
        exercises.push(store.add_exercise(course, &title, exercise.text, instructor, start)?);
    }
    let mut sign_offs = Vec::new();
    for (k, (exercise, id)) in work::EXERCISES.iter().zip(&exercises).enumerate() {
        let k = i64::try_from(k)?;
        for (i, attempt) in exercise.attempts().enumerate() {
            let student = students[attempt.student];
            let file = |kind, (name, text): (&str, &str)| NewFile { kind, name: name.into(), bytes: text.into() };
            let mut files = vec![file(FileKind::Design, attempt.design)];
            files.extend(attempt.wiring.map(|w| file(FileKind::Wiring, w)));
            files.extend(attempt.answers.map(|a| file(FileKind::Answers, a)));
            let new = NewHandIn { exercise: *id, student, submitted_by: student, top: None, files };
            let at = start + (3 + 2 * k) * DAY + i64::try_from(i)? * 1260;
            let (hand_in, _) = store.add_hand_in(course, &new, at)?;
            if attempt.signed_off {
                sign_offs.push((hand_in, if i % 3 == 0 { instructor } else { assistant }, at + 3600));
            }
        }
    }
    times(store, (course, instructor, start), &exercises, &students)?;
    begun(store, (course, instructor, start))?;
    for (hand_in, by, at) in sign_offs {
        store.sign_off(course, hand_in, by, at)?;
    }
    let account = |(_, name): (&str, &str), role: &str| DemoAccount { name: name.into(), role: role.into() };
    let student = (people::STUDENTS[0].0, people::STUDENTS[0].1);
    let accounts = DemoAccounts {
        password: PASSWORD.into(),
        accounts: vec![
            account(people::INSTRUCTOR, "instructor"),
            account(people::ASSISTANT, "assistant"),
            account(student, "student"),
        ],
    };
    Ok((accounts, course))
}

/// When the exercises are due: all of them over, with more time for one section and one person; in one of them somebody was late.
fn times(
    store: &Store,
    (course, instructor, start): (CourseId, store::PersonId, i64),
    exercises: &[store::ExerciseId],
    students: &[store::PersonId],
) -> Result<()> {
    for (k, exercise) in exercises.iter().enumerate() {
        let day = 4 + 2 * i64::try_from(k)?;
        let is_last = k + 1 == exercises.len();
        // Late in the evening (UTC), and in the last one while people hand in.
        let evening = (start + day * DAY) / DAY * DAY + DAY - 60;
        let due = if is_last { start + (day - 1) * DAY + 600 } else { evening };
        let mut terms = StoredTerms { due_at: Some(due), shown: "all".into(), ..StoredTerms::default() };
        match k {
            0 => {
                terms.extensions =
                    vec![(None, "Evening".into(), due + DAY), (students.last().copied(), String::new(), due + 2 * DAY)]
            }
            1 => terms.attempts = Some(5),
            _ => {}
        }
        store.keep_terms(course, *exercise, &terms, work::EXERCISES[k].name, (instructor, start))?;
    }
    Ok(())
}

/// An exercise that is released next week, and one of last year that is put aside.
fn begun(store: &Store, (course, instructor, start): (CourseId, store::PersonId, i64)) -> Result<()> {
    let later = store.add_exercise(course, "Ripeness vote", work::LATER, instructor, start)?;
    let terms = StoredTerms { release_at: Some(start + 31 * DAY), shown: "all".into(), ..StoredTerms::default() };
    store.keep_terms(course, later, &terms, "Ripeness vote", (instructor, start))?;
    let old = store.add_exercise(course, "Label gate", work::ARCHIVED, instructor, start)?;
    store.archive(course, old, true, (instructor, start))?;
    Ok(())
}
