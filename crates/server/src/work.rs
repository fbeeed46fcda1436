//! The threads that claim checks from the store and have them made.

use crate::jobs::{News, check_now, give_up};
use crate::state::AppState;
use crate::wire::DemoAccounts;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::PathBuf;
use std::sync::{Arc, Weak};
use std::time::Duration;
use store::{Job, Store};

/// Threads that ask.
const ASKERS: usize = 2;

/// After the store could not be read or written, it is left alone for so long.
const PAUSE: Duration = Duration::from_secs(2);

impl AppState {
    /// State over a store, with checks started. Students' files are looked at in processes of `program`, which is this
    /// program; without one on threads of its own, for tests.
    pub fn new(store: Store, demo: Option<DemoAccounts>, program: Option<PathBuf>) -> Arc<Self> {
        let state = Self::idle(store, demo, program);
        take_up(&state);
        start(&state);
        state
    }
}

impl Drop for AppState {
    fn drop(&mut self) {
        // The threads see that the state is gone.
        self.news.tell();
    }
}

/// What a stop of the program cut short is made again once.
fn take_up(state: &AppState) {
    let lost = state.store.release_checks().unwrap_or_else(|error| {
        tracing::error!("the checks that a stop cut short can't be read: {error}");
        Vec::new()
    });
    for job in lost {
        if let Err(error) = give_up(&state.store, job, state.now()) {
            tracing::error!("the verdict on hand-in {} can't be kept: {error}", job.hand_in);
        }
    }
}

/// Starts the threads; they end with the state.
fn start(state: &Arc<AppState>) {
    for _ in 0..ASKERS {
        let (news, state) = (Arc::clone(&state.news), Arc::downgrade(state));
        std::thread::spawn(move || work(&news, &state));
    }
}

fn work(news: &News, state: &Weak<AppState>) {
    loop {
        let heard = news.heard();
        let pause = {
            let Some(state) = state.upgrade() else { return };
            match state.store.claim_check(state.now()) {
                Ok(Some(job)) => {
                    make(&state, job);
                    // Another check of the same student may be made now.
                    state.news.tell();
                    continue;
                }
                Ok(None) => None,
                Err(error) => {
                    tracing::error!("no check can be claimed: {error}");
                    Some(PAUSE)
                }
            }
        };
        news.wait(heard, pause);
    }
}

/// Makes a claimed check; one that fails, because of the store or a fault of ours, is put back once.
fn make(state: &AppState, job: Job) {
    let check = || check_now(&state.store, &state.checks, job.course, job.hand_in, state.now());
    // A fault of ours ends this check and not the thread that makes all others.
    match catch_unwind(AssertUnwindSafe(check)) {
        Ok(Ok(())) => return,
        Ok(Err(error)) => tracing::error!("the check of hand-in {} failed: {error}", job.hand_in),
        Err(panic) => {
            let fault = elab::fault(&base::Fault::of_panic(panic.as_ref()).what);
            tracing::error!("the check of hand-in {} failed: {fault}", job.hand_in);
        }
    }
    // The store may be busy or full: not again at once.
    std::thread::sleep(PAUSE);
    let put_back = state.store.release_check(job).and_then(|again| match again {
        true => Ok(()),
        false => give_up(&state.store, job, state.now()),
    });
    if let Err(error) = put_back {
        tracing::error!("the check of hand-in {} stays as it is until the next start: {error}", job.hand_in);
    }
}
