//! The threads that take hand-ins from the queue and have them checked.

use crate::jobs::{LOOK, check_now};
use crate::queue::Job;
use crate::state::AppState;
use crate::wire::DemoAccounts;
use std::path::PathBuf;
use std::sync::{Arc, Weak};
use store::Store;

/// Threads that ask.
const ASKERS: usize = 2;

impl AppState {
    /// State over a store, with checks started. Students' files are looked at in processes of `program`, which is this
    /// program; without one on threads of its own, for tests.
    pub fn new(store: Store, demo: Option<DemoAccounts>, program: Option<PathBuf>) -> Arc<Self> {
        let state = Self::idle(store, demo, program);
        start(&state);
        state
    }
}

/// Starts the threads; they end with the state.
fn start(state: &Arc<AppState>) {
    for _ in 0..ASKERS {
        let state = Arc::downgrade(state);
        std::thread::spawn(move || work(&state));
    }
}

fn work(state: &Weak<AppState>) {
    loop {
        let Some(state) = state.upgrade() else { return };
        let Some(job) = state.jobs.next() else {
            // What a stop left without a verdict.
            let waiting = state.store.waiting().unwrap_or_default();
            let mut queue = state.jobs.queue();
            for (course, hand_in, student) in waiting {
                queue.add(Job { course, hand_in, student }, false);
            }
            continue;
        };
        if let Err(error) = check_now(&state.store, &state.checks, job.course, job.hand_in, state.now()) {
            tracing::error!("the check of hand-in {} failed: {error}", job.hand_in);
            // The store may be busy or full: not again at once.
            std::thread::sleep(LOOK);
        }
        state.jobs.done(job);
    }
}
