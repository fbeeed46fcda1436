//! Exercises that were read, kept by the text of their revision: reading one may build and prove a reference, which takes long and
//! must hold up nobody else.

use crate::jobs::nothing_beside;
use crate::problem::Problem;
use actix_web::web;
use exercise::{Exercise, ExerciseError};
use sha2::{Digest, Sha256};
use std::collections::VecDeque;
use std::sync::{Arc, Mutex, PoisonError};
use tokio::sync::OnceCell;

/// What reading a text gave; many may wait for the same.
type Slot = Arc<OnceCell<Result<Arc<Exercise>, ExerciseError>>>;

/// Exercises that are kept.
const KEPT: usize = 32;

/// The exercises that were asked for last.
#[derive(Default)]
pub(crate) struct Loaded {
    slots: Mutex<VecDeque<([u8; 32], Slot)>>,
}

impl Loaded {
    fn slot(&self, text: &str) -> Slot {
        let key: [u8; 32] = Sha256::digest(text.as_bytes()).into();
        let mut slots = self.slots.lock().unwrap_or_else(PoisonError::into_inner);
        let slot = match slots.iter().position(|(k, _)| *k == key).and_then(|at| slots.remove(at)) {
            Some((_, slot)) => slot,
            None => Slot::default(),
        };
        slots.push_front((key, Arc::clone(&slot)));
        slots.truncate(KEPT);
        slot
    }

    /// The exercise of a text, read on a thread that may block, once for all who ask at the same time.
    ///
    /// # Errors
    /// [`Problem`] when the thread failed; else what is wrong with the text.
    pub(crate) async fn read(&self, text: &str) -> Result<Result<Arc<Exercise>, ExerciseError>, Problem> {
        let slot = self.slot(text);
        let own = text.to_owned();
        let work = || async move { web::block(move || Exercise::load(&own, &nothing_beside).map(Arc::new)).await };
        let found = slot.get_or_try_init(work).await.map_err(Problem::our_fault)?;
        Ok(found.clone())
    }

    /// The exercise of a revision in the store, which could be read when it was saved.
    ///
    /// # Errors
    /// [`Problem`] when it can't be any more.
    pub(crate) async fn saved(&self, text: &str) -> Result<Arc<Exercise>, Problem> {
        self.read(text).await?.map_err(Problem::our_fault)
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;

    fn text(title: &str) -> String {
        format!(
            "format = \"zesty-gate/exercise/1\"\ntitle = \"{title}\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n[[port]]\nname = \"y\"\n\
             dir = \"out\"\n[behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\ny = \"a\"\n"
        )
    }

    #[actix_web::test]
    async fn a_text_is_read_once_while_it_is_kept_and_a_fault_is_told_each_time() {
        let loaded = Loaded::default();
        let first = loaded.saved(&text("One")).await.unwrap();
        let again = loaded.saved(&text("One")).await.unwrap();
        assert!(Arc::ptr_eq(&first, &again));
        assert_eq!(loaded.saved(&text("Two")).await.unwrap().title, "Two");
        for _ in 0..2 {
            let told = loaded.read("title = \"One\"").await.unwrap().unwrap_err();
            assert!(told.message.contains("format"), "{told}");
        }
        for k in 0..KEPT {
            loaded.saved(&text(&format!("Other {k}"))).await.unwrap();
        }
        assert!(!Arc::ptr_eq(&first, &loaded.saved(&text("One")).await.unwrap()));
    }
}
