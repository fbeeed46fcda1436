//! The pool that runs checks: a few threads, a bounded queue, a limit of time for each.

use crate::app::AppState;
use crate::pack;
use check::{Checked, Exercise, HandIn, HandInFile, VerdictKind};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError, SyncSender, TrySendError, sync_channel};
use std::sync::{Arc, Mutex, PoisonError, Weak};
use std::time::Duration;
use store::{CourseId, FileKind, HandInId, NewFile, NewVerdict, Store, StoreError};

/// Threads that check.
const WORKERS: usize = 2;
/// Checks that may wait in memory; what comes on top waits in the store and is found there.
const QUEUE: usize = 1024;
/// After this long a check ends with "can't tell".
const LIMIT: Duration = Duration::from_secs(20);

type Job = (CourseId, HandInId);

/// Hands checks to the workers.
pub(crate) struct Jobs {
    sender: SyncSender<Job>,
}

impl Jobs {
    /// Asks for a check. When the queue is full the hand-in stays without a verdict and is taken up later.
    pub(crate) fn request(&self, course: CourseId, hand_in: HandInId) {
        if let Err(TrySendError::Disconnected(_)) = self.sender.try_send((course, hand_in)) {
            tracing::error!("the workers have stopped");
        }
    }

    /// The queue and its receiving end, which `start` takes once the state exists.
    pub(crate) fn new() -> (Self, Receiver<Job>) {
        let (sender, receiver) = sync_channel(QUEUE);
        (Self { sender }, receiver)
    }
}

/// Starts the workers; they end with the state.
pub(crate) fn start(state: &Arc<AppState>, receiver: Receiver<Job>) {
    let receiver = Arc::new(Mutex::new(receiver));
    for _ in 0..WORKERS {
        let (receiver, state) = (receiver.clone(), Arc::downgrade(state));
        std::thread::spawn(move || work(&receiver, &state));
    }
}

fn work(receiver: &Mutex<Receiver<Job>>, state: &Weak<AppState>) {
    loop {
        let next = receiver.lock().unwrap_or_else(PoisonError::into_inner).recv_timeout(Duration::from_secs(2));
        let Some(state) = state.upgrade() else { return };
        match next {
            Ok((course, hand_in)) => settle(&state, course, hand_in),
            Err(RecvTimeoutError::Timeout) => {
                // What a stop or a full queue left without a verdict.
                for (course, hand_in) in state.store.waiting().unwrap_or_default() {
                    settle(&state, course, hand_in);
                }
            }
            Err(RecvTimeoutError::Disconnected) => return,
        }
    }
}

fn settle(state: &AppState, course: CourseId, hand_in: HandInId) {
    if let Err(error) = check_now(&state.store, course, hand_in, state.now()) {
        tracing::error!("the check of hand-in {hand_in} failed: {error}");
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

/// Checks a hand-in against the newest revision of its exercise and keeps the verdict.
///
/// # Errors
/// When the data can't be read or written.
pub fn check_now(store: &Store, course: CourseId, id: HandInId, at: i64) -> Result<(), StoreError> {
    let hand_in = store.hand_in(course, id)?;
    let exercise = store.exercise(course, hand_in.summary.exercise)?;
    let Ok(rules) = Exercise::load(&exercise.revision.text, &nothing_beside) else {
        tracing::error!("exercise {} can't be read any more", exercise.id);
        return Ok(());
    };
    let checked = within_limit(&rules, &hand_in_of(&hand_in.files, hand_in.top.as_deref()));
    let verdict = &checked.verdict;
    let kind = match verdict.verdict {
        VerdictKind::Pass => "pass",
        VerdictKind::Partly => "partly",
        VerdictKind::Fail => "fail",
        VerdictKind::CannotTell => "cannot_tell",
    };
    let kept = NewVerdict {
        revision: exercise.revision.id,
        kind: kind.into(),
        rows_passed: verdict.rows.passed,
        rows_total: verdict.rows.total,
        headline: verdict.headline(),
        json: serde_json::to_string(verdict).unwrap_or_default(),
        actual: checked.actual.as_ref().map(pack::pack),
        image: checked.image.as_ref().map(board::Image::to_json),
        marks: verdict.marks.as_ref().map(|m| (m.earned, m.out_of)),
    };
    store.add_verdict(id, &kept, at)
}

/// Exercises in the store stand alone.
pub(crate) fn nothing_beside(name: &str) -> Result<Vec<u8>, String> {
    Err(format!("`{name}` can't be used here: an exercise in the application stands alone."))
}

fn within_limit(exercise: &Exercise, hand_in: &HandIn) -> Checked {
    let cancel = Arc::new(AtomicBool::new(false));
    let (done, wait) = sync_channel::<()>(1);
    let flag = cancel.clone();
    let watch = std::thread::spawn(move || {
        if wait.recv_timeout(LIMIT) == Err(RecvTimeoutError::Timeout) {
            flag.store(true, Ordering::Relaxed);
        }
    });
    let checked = check::check_with_cancel(exercise, hand_in, cancel);
    // Ends the watch; it may have ended by itself.
    let _ = done.try_send(());
    let _ = watch.join();
    checked
}
