//! The checks of hand-ins: a few threads that ask workers, in the order of the queue.

use crate::pack;
use crate::queue::{Job, Place, Queue};
use check::{Checked, HandIn};
use elab::HandInFile;
use std::sync::atomic::AtomicBool;
use std::sync::{Arc, Condvar, Mutex, PoisonError};
use std::time::Duration;
use store::{CourseId, FileKind, HandInId, NewFile, NewVerdict, PersonId, Store, StoreError};
use verdict::VerdictKind;
use worker::{Answer, Limits, Pool, Question, SentExercise};

/// Between two looks at what a stop left without a verdict.
pub(crate) const LOOK: Duration = Duration::from_secs(2);

/// What waits for its check.
#[derive(Default)]
pub(crate) struct Jobs {
    queue: Mutex<Queue>,
    news: Condvar,
}

impl Jobs {
    pub(crate) fn queue(&self) -> std::sync::MutexGuard<'_, Queue> {
        self.queue.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Asks for a check, also of a hand-in that has one.
    pub(crate) fn request(&self, course: CourseId, hand_in: HandInId, student: PersonId) {
        self.queue().add(Job { course, hand_in, student }, true);
        self.news.notify_one();
    }

    /// What a hand-in without a verdict waits for, in a sentence.
    pub(crate) fn waits_for(&self, hand_in: HandInId, limits: Limits) -> Option<String> {
        Some(match self.queue().place(hand_in)? {
            Place::Running(0 | 1) => "It is being checked.".to_owned(),
            Place::Running(seconds) => {
                format!("It has been checked for {seconds} s; it may take {} s.", limits.time.as_secs())
            }
            Place::Behind(0) => "It is the next to be checked.".to_owned(),
            Place::Behind(1) => "One check comes first.".to_owned(),
            Place::Behind(n) => format!("{n} checks come first."),
        })
    }

    /// The next job; nothing when none came for a while.
    pub(crate) fn next(&self) -> Option<Job> {
        let mut queue = self.queue();
        if let Some(job) = queue.take() {
            return Some(job);
        }
        queue = self.news.wait_timeout(queue, LOOK).unwrap_or_else(PoisonError::into_inner).0;
        queue.take()
    }

    pub(crate) fn done(&self, job: Job) {
        self.queue().done(job);
        // Another job of the same student may run now.
        self.news.notify_all();
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
    }
}

/// Exercises in the store stand alone.
pub(crate) fn nothing_beside(name: &str) -> Result<Vec<u8>, String> {
    Err(format!("`{name}` can't be used here: an exercise in the application stands alone."))
}
