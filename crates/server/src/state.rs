//! What every request shares.

use crate::jobs::Jobs;
use crate::loaded::Loaded;
use crate::open_dumps::Dumps;
use crate::problem::Problem;
use crate::runs::Runs;
use crate::wire::DemoAccounts;
use governor::{DefaultKeyedRateLimiter, Quota, RateLimiter};
use std::num::NonZeroU32;
use std::path::PathBuf;
use std::sync::Arc;
use store::Store;
use worker::{Limits, Pool};

/// The most bytes of one hand-in.
pub(crate) const MAX_UPLOAD: usize = 4 << 20;

/// What every request shares.
pub struct AppState {
    pub(crate) store: Store,
    pub(crate) jobs: Jobs,
    pub(crate) sign_ins: DefaultKeyedRateLimiter<String>,
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
        let five = const { NonZeroU32::new(5).expect("five is not zero") };
        let quota = Quota::per_minute(const { NonZeroU32::new(12).expect("twelve is not zero") }).allow_burst(five);
        Arc::new(Self {
            store,
            jobs: Jobs::default(),
            checks,
            asked,
            sign_ins: RateLimiter::keyed(quota),
            hashing: tokio::sync::Semaphore::new(2),
            demo,
            exercises: Loaded::default(),
            dumps: Dumps::default(),
            tries: tokio::sync::Semaphore::new(2),
            runs: Runs::default(),
        })
    }

    /// Seconds since 1970.
    pub(crate) fn now(&self) -> i64 {
        jiff::Timestamp::now().as_second()
    }
}

pub(crate) fn too_large() -> Problem {
    Problem::too_large("A hand-in is at most 4 MiB; send the design's sources only.")
}
