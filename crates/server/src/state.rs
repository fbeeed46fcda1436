//! What every request shares.

use crate::jobs::News;
use crate::loaded::Loaded;
use crate::open_dumps::Dumps;
use crate::problem::Problem;
use crate::runs::Runs;
use crate::throttle::Throttle;
use crate::wire::DemoAccounts;
use std::path::PathBuf;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use store::Store;
use worker::{Limits, Pool};

/// The most bytes of one hand-in.
pub(crate) const MAX_UPLOAD: usize = 4 << 20;

/// What every request shares.
pub struct AppState {
    pub(crate) store: Store,
    /// Tells the threads that make checks that one was asked for.
    pub(crate) news: Arc<News>,
    /// Wrong passwords of the last minutes.
    pub(crate) throttle: Throttle,
    behind_proxy: AtomicBool,
    /// Passwords are hashed a few at a time: each takes 19 MiB.
    pub(crate) hashing: tokio::sync::Semaphore,
    pub(crate) demo: Option<DemoAccounts>,
    /// Exercises that were read.
    pub(crate) exercises: Loaded,
    /// Waveform files that are open.
    pub(crate) dumps: Dumps,
    /// Processes that check hand-ins.
    pub(crate) checks: Pool,
    /// Processes that answer what a page waits for.
    pub(crate) asked: Pool,
    /// Of those a few at a time.
    pub(crate) tries: tokio::sync::Semaphore,
    /// Runs that a page waits for.
    pub(crate) runs: Runs,
}

impl AppState {
    /// State over a store, with nothing started.
    pub(crate) fn idle(store: Store, demo: Option<DemoAccounts>, program: Option<PathBuf>) -> Arc<Self> {
        let pool = || match &program {
            Some(program) => Pool::new(program.clone(), Limits::default()),
            None => Pool::within(Limits::default()),
        };
        let (checks, asked) = (pool(), pool());
        if let Err(error) = store.fill_basis(crate::checked::basis) {
            tracing::error!("what revisions check can't be kept: {error}");
        }
        Arc::new(Self {
            store,
            news: Arc::default(),
            checks,
            asked,
            throttle: Throttle::default(),
            behind_proxy: AtomicBool::new(false),
            hashing: tokio::sync::Semaphore::new(2),
            demo,
            exercises: Loaded::default(),
            dumps: Dumps::default(),
            tries: tokio::sync::Semaphore::new(2),
            runs: Runs::default(),
        })
    }

    /// Checks of a course that are still to be made or are running.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn waiting(&self, course: store::CourseId) -> Result<u64, store::StoreError> {
        self.store.waiting(course)
    }

    /// Requests come through a proxy that adds the address it saw to `X-Forwarded-For`; the sender's own entries before it are
    /// not believed. Without a proxy anybody could write any address there.
    pub fn trust_proxy(&self) {
        self.behind_proxy.store(true, Ordering::Relaxed);
    }

    pub(crate) fn is_behind_proxy(&self) -> bool {
        self.behind_proxy.load(Ordering::Relaxed)
    }

    /// Seconds since 1970.
    pub(crate) fn now(&self) -> i64 {
        jiff::Timestamp::now().as_second()
    }
}

pub(crate) fn too_large() -> Problem {
    Problem::too_large("A hand-in is at most 4 MiB; send the design's sources only.")
}
