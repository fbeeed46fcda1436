//! The checks of hand-ins: what waits is in the store; a few threads claim it and ask workers.

use crate::pack;
use check::{Checked, HandIn};
use elab::HandInFile;
use std::sync::atomic::AtomicBool;
use std::sync::{Arc, Condvar, Mutex, PoisonError};
use std::time::Duration;
use store::{CourseId, FileKind, HandInId, Job, NewFile, NewVerdict, Place, Store, StoreError};
use verdict::VerdictKind;
use worker::{Answer, Limits, Pool, Question, SentExercise};

/// Tells the threads that there may be something to do. They wait for this alone and look at the store then.
#[derive(Default)]
pub(crate) struct News {
    count: Mutex<u64>,
    told: Condvar,
}

impl News {
    /// There may be something to do.
    pub(crate) fn tell(&self) {
        *self.count.lock().unwrap_or_else(PoisonError::into_inner) += 1;
        self.told.notify_all();
    }

    /// How much was told so far.
    pub(crate) fn heard(&self) -> u64 {
        *self.count.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Waits until more was told than `heard`, or for so long at most.
    pub(crate) fn wait(&self, heard: u64, most: Option<Duration>) {
        let count = self.count.lock().unwrap_or_else(PoisonError::into_inner);
        match most {
            Some(most) => drop(self.told.wait_timeout_while(count, most, |n| *n == heard)),
            None => drop(self.told.wait_while(count, |n| *n == heard)),
        }
    }
}

/// What a hand-in without a verdict waits for, in a sentence.
pub(crate) fn waits_for(place: Place, limits: Limits, now: i64) -> String {
    match place {
        Place::Running(since) if now - since < 2 => "It is being checked.".to_owned(),
        Place::Running(since) => {
            format!("It has been checked for {} s; it may take {} s.", now - since, limits.time.as_secs())
        }
        Place::Behind(0) => "It is the next to be checked.".to_owned(),
        Place::Behind(1) => "One check comes first.".to_owned(),
        Place::Behind(n) => format!("{n} checks come first."),
    }
}

/// A stored hand-in as the checker takes it.
pub fn hand_in_of(files: &[NewFile], top: Option<&str>) -> HandIn {
    let of = |kind: FileKind| {
        files
            .iter()
            .filter(move |f| f.kind == kind)
            .map(|f| HandInFile { name: f.name.clone(), bytes: f.bytes.clone() })
    };
    HandIn {
        files: of(FileKind::Design).collect(),
        top: top.map(str::to_owned),
        wiring: of(FileKind::Wiring).next(),
        answers: of(FileKind::Answers).next(),
        ..HandIn::default()
    }
}

/// Checks a hand-in against the newest revision of its exercise and keeps the verdict: also that it can't be told, when
/// the worker ended or the exercise can't be read.
///
/// # Errors
/// When the data can't be read or written.
pub fn check_now(store: &Store, pool: &Pool, course: CourseId, id: HandInId, at: i64) -> Result<(), StoreError> {
    let hand_in = store.hand_in(course, id)?;
    let exercise = store.exercise(course, hand_in.summary.exercise)?;
    let question = Question::Check {
        exercise: SentExercise::alone(&exercise.revision.text),
        hand_in: hand_in_of(&hand_in.files, hand_in.top.as_deref()).into(),
    };
    let checked = match pool.ask(question, pool.limits().time, &Arc::new(AtomicBool::new(false))) {
        Ok(Answer::Checked(checked)) => checked.into_checked(),
        Ok(Answer::NoExercise(why)) => {
            tracing::error!("exercise {} can't be read any more: {why}", exercise.id);
            check::stopped(0, "The exercise can't be read any more; the instructor has to open it.")
        }
        Ok(_) => check::stopped(0, &elab::fault("an answer to another question").to_string()),
        Err(lost) => check::stopped(0, &lost.sentence()),
    };
    store.add_verdict(id, &kept(exercise.revision.id, &checked), at)
}

/// Keeps the verdict that a check can't be made which was begun as often as it may be.
///
/// # Errors
/// When the data can't be read or written.
pub(crate) fn give_up(store: &Store, job: Job, at: i64) -> Result<(), StoreError> {
    let hand_in = store.hand_in(job.course, job.hand_in)?;
    let revision = store.exercise(job.course, hand_in.summary.exercise)?.revision.id;
    let why = format!(
        "The check was cut short {} times and is not begun again by itself. Its number is {}; the staff may ask for a new check.",
        job.claims, job.id
    );
    tracing::error!("check {} of hand-in {} was cut short {} times and is given up", job.id, job.hand_in, job.claims);
    store.add_verdict(job.hand_in, &kept(revision, &check::stopped(0, &why)), at)
}

fn kept(revision: store::RevisionId, checked: &Checked) -> NewVerdict {
    let verdict = &checked.verdict;
    let kind = match verdict.verdict {
        VerdictKind::Pass => "pass",
        VerdictKind::Partly => "partly",
        VerdictKind::Fail => "fail",
        VerdictKind::CannotTell => "cannot_tell",
    };
    NewVerdict {
        revision,
        kind: kind.into(),
        rows_passed: verdict.rows.passed,
        rows_total: verdict.rows.total,
        headline: verdict.headline(),
        json: serde_json::to_string(verdict).unwrap_or_default(),
        actual: checked.actual.as_ref().map(pack::pack),
        image: checked.image.as_ref().map(board::Image::to_json),
        marks: verdict.marks.as_ref().map(|m| (m.earned, m.out_of)),
        shares: serde_json::to_string(&checked.shares).unwrap_or_default(),
    }
}

/// Exercises in the store stand alone.
pub(crate) fn nothing_beside(name: &str) -> Result<Vec<u8>, exercise::NotBeside> {
    let sentence = format!("`{name}` can't be used here: an exercise in the application stands alone.");
    Err(exercise::NotBeside(sentence))
}
