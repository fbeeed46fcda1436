//! Waveform files that are open.

use crate::problem::Problem;
use sim::Recording;
use std::collections::VecDeque;
use std::sync::{Arc, Mutex};
use store::PersonId;

/// Largest dump, in bytes, and how many are kept at a time: the oldest makes room.
pub(crate) const MAX_DUMP: usize = 192 << 20;
const KEPT: usize = 3;

struct Kept {
    id: u64,
    person: PersonId,
    recording: Arc<Recording>,
}

/// The dumps that are open.
#[derive(Default)]
pub(crate) struct Dumps {
    list: Mutex<(u64, VecDeque<Kept>)>,
}

impl Dumps {
    pub(crate) fn keep(&self, person: PersonId, recording: Arc<Recording>) -> u64 {
        let mut list = self.list.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        list.0 += 1;
        let id = list.0;
        list.1.push_back(Kept { id, person, recording });
        while list.1.len() > KEPT {
            list.1.pop_front();
        }
        id
    }

    pub(crate) fn find(&self, person: PersonId, id: u64) -> Result<Arc<Recording>, Problem> {
        let list = self.list.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        let found = list.1.iter().find(|k| k.id == id && k.person == person);
        found
            .map(|k| Arc::clone(&k.recording))
            .ok_or_else(|| Problem::absent("The waveform file is not open any more; open it again."))
    }
}
