//! Wrong passwords slow down whoever guesses, and lock nobody out: the right password opens, if later. Guesses at one account and
//! guesses from one address are counted apart, and are forgotten by half within a minute.

use std::collections::HashMap;
use std::sync::{Mutex, PoisonError};
use std::time::Duration;

/// Seconds in which half of the wrong guesses are forgotten.
const HALF_LIFE: f64 = 60.0;
/// Wrong guesses at one account that cost nothing.
const FREE_ACCOUNT: f64 = 4.0;
/// Wrong guesses from one address that cost nothing: a lab behind one address mistypes, too.
const FREE_ADDRESS: f64 = 30.0;
/// The longest wait.
const LONGEST: f64 = 4.0;
/// Sign-ins at one account from one address that wait at the same time.
const MOST_WAITING: u32 = 8;
/// Accounts and addresses that are remembered.
const MOST_KEPT: usize = 20_000;

#[derive(Default)]
struct Guesses {
    /// Wrong guesses by account or address, with the second of the last one.
    wrong: HashMap<String, (f64, i64)>,
    waiting: HashMap<String, u32>,
}

/// The wrong guesses of the last minutes.
#[derive(Default)]
pub(crate) struct Throttle {
    guesses: Mutex<Guesses>,
}

/// A sign-in that waits; dropped when it is over.
pub(crate) struct Waiting<'t> {
    throttle: &'t Throttle,
    key: String,
    /// How long it has to.
    pub(crate) time: Duration,
}

impl Drop for Waiting<'_> {
    fn drop(&mut self) {
        let mut guesses = self.throttle.lock();
        if let Some(count) = guesses.waiting.get_mut(&self.key) {
            *count -= 1;
            if *count == 0 {
                guesses.waiting.remove(&self.key);
            }
        }
    }
}

fn keys(account: &str, address: &str) -> [String; 2] {
    [format!("account {}", account.to_lowercase()), format!("address {address}")]
}

fn left((count, at): (f64, i64), now: i64) -> f64 {
    #[expect(clippy::cast_precision_loss, reason = "seconds between two guesses are few")]
    let gone = now.saturating_sub(at).max(0) as f64;
    count * 0.5f64.powf(gone / HALF_LIFE)
}

impl Throttle {
    fn lock(&self) -> std::sync::MutexGuard<'_, Guesses> {
        self.guesses.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// How long a sign-in has to wait; `None` when too many wait already.
    pub(crate) fn enter(&self, account: &str, address: &str, now: i64) -> Option<Waiting<'_>> {
        let mut guesses = self.lock();
        let [of_account, of_address] = keys(account, address);
        let count = |key: &str| guesses.wrong.get(key).map_or(0.0, |found| left(*found, now));
        let (account, address) = (count(&of_account) - FREE_ACCOUNT, count(&of_address) - FREE_ADDRESS);
        let seconds = if account > 0.0 { 0.25 * 2f64.powf(account) } else { 0.0 } + address.max(0.0) * 0.1;
        let key = format!("{of_account} {of_address}");
        let waiting = guesses.waiting.entry(key.clone()).or_insert(0);
        if *waiting >= MOST_WAITING {
            return None;
        }
        *waiting += 1;
        Some(Waiting { throttle: self, key, time: Duration::from_secs_f64(seconds.min(LONGEST)) })
    }

    /// Counts a wrong guess; true where it is worth noting in the audit trail: the fifth at an account, and each doubling.
    pub(crate) fn failed(&self, account: &str, address: &str, now: i64) -> bool {
        let mut guesses = self.lock();
        if guesses.wrong.len() >= MOST_KEPT {
            guesses.wrong.retain(|_, found| left(*found, now) > 0.5);
        }
        let mut notable = false;
        for (k, key) in keys(account, address).into_iter().enumerate() {
            if guesses.wrong.len() >= MOST_KEPT && !guesses.wrong.contains_key(&key) {
                continue;
            }
            let found = guesses.wrong.entry(key).or_insert((0.0, now));
            let before = left(*found, now);
            *found = (before + 1.0, now);
            notable |= k == 0 && [5.0, 10.0, 20.0, 40.0, 80.0, 160.0].iter().any(|n| before < *n && before + 1.0 >= *n);
        }
        notable
    }

    /// The right password clears what was guessed at the account.
    pub(crate) fn succeeded(&self, account: &str) {
        self.lock().wrong.remove(&keys(account, "")[0]);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn wait(t: &Throttle, account: &str, address: &str, now: i64) -> f64 {
        t.enter(account, address, now).map_or(-1.0, |w| w.time.as_secs_f64())
    }

    #[test]
    fn guesses_at_one_account_wait_longer_and_longer_but_are_never_refused() {
        let t = Throttle::default();
        let mut notes = 0;
        for _ in 0..200 {
            notes += u32::from(t.failed("ximena", "10.0.0.9", 100));
        }
        assert!(notes >= 5, "{notes}");
        assert!((wait(&t, "Ximena", "10.0.0.1", 100) - LONGEST).abs() < 1e-9);
        // Others behind the same address are slowed a little, and only while it goes on.
        assert!(wait(&t, "milo", "10.0.0.9", 100) <= LONGEST);
        assert!(wait(&t, "milo", "10.0.0.1", 100) < 1e-9);
        assert!(wait(&t, "milo", "10.0.0.9", 100 + 180) < 1e-9);
        t.succeeded("XIMENA");
        assert!(wait(&t, "ximena", "10.0.0.1", 100) < 1e-9);
    }

    #[test]
    fn guesses_over_many_names_from_one_address_are_slowed_too() {
        let t = Throttle::default();
        for k in 0..100 {
            t.failed(&format!("name {k}"), "10.0.0.9", 100);
        }
        assert!(wait(&t, "another", "10.0.0.9", 100) > 3.0);
        assert!(wait(&t, "another", "10.0.0.8", 100) < 1e-9);
    }

    #[test]
    fn few_wait_at_the_same_time_for_one_account() {
        let t = Throttle::default();
        let held: Vec<_> = (0..MOST_WAITING).map(|_| t.enter("ximena", "a", 1).unwrap()).collect();
        assert!(t.enter("ximena", "a", 1).is_none());
        assert!(t.enter("ximena", "b", 1).is_some());
        drop(held);
        assert!(t.enter("ximena", "a", 1).is_some());
    }
}
