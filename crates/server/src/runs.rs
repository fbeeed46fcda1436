//! Runs that a page waits for: each may carry a name of the caller's, by which the caller can end it at once.

use crate::caller::Caller;
use crate::problem::Problem;
use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpRequest};
use std::collections::HashMap;
use std::future::{Ready, ready};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use store::PersonId;

/// The header in which a request names its run.
pub(crate) const HEADER: &str = "x-run";
/// Longest name of a run, in bytes.
const LONGEST: usize = 64;

type Key = (PersonId, String);

/// The runs under way, by caller and name.
#[derive(Debug, Default)]
pub(crate) struct Runs {
    named: Mutex<HashMap<Key, Arc<AtomicBool>>>,
}

impl Runs {
    /// A run begins; it is forgotten when the guard is dropped.
    pub(crate) fn begin(&self, caller: &Caller, name: RunName) -> Run<'_> {
        let cancel = Arc::new(AtomicBool::new(false));
        let key = name.0.map(|name| (caller.person, name));
        if let Some(key) = key.clone() {
            self.named.lock().unwrap_or_else(PoisonError::into_inner).insert(key, Arc::clone(&cancel));
        }
        Run { runs: self, key, cancel }
    }

    /// Ends a run of the caller; false when there is none of this name any more.
    pub(crate) fn stop(&self, caller: &Caller, name: &str) -> bool {
        let named = self.named.lock().unwrap_or_else(PoisonError::into_inner);
        let found = named.get(&(caller.person, name.to_owned()));
        found.inspect(|cancel| cancel.store(true, Ordering::Relaxed)).is_some()
    }
}

/// A run under way.
pub(crate) struct Run<'a> {
    runs: &'a Runs,
    key: Option<Key>,
    cancel: Arc<AtomicBool>,
}

impl Run<'_> {
    /// Set when the run is to end.
    pub(crate) fn cancel(&self) -> Arc<AtomicBool> {
        Arc::clone(&self.cancel)
    }
}

impl Drop for Run<'_> {
    fn drop(&mut self) {
        if let Some(key) = &self.key {
            self.runs.named.lock().unwrap_or_else(PoisonError::into_inner).remove(key);
        }
    }
}

/// The name that a request gives its run, if any.
pub(crate) struct RunName(Option<String>);

impl FromRequest for RunName {
    type Error = Problem;
    type Future = Ready<Result<Self, Problem>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let name = request.headers().get(HEADER).and_then(|v| v.to_str().ok()).map(str::to_owned);
        ready(match name {
            Some(name) if name.is_empty() || name.len() > LONGEST => {
                Err(Problem::bad_input("The name of a run has between 1 and 64 characters."))
            }
            name => Ok(Self(name)),
        })
    }
}
