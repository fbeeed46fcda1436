//! The terms of exercises as they are kept, read by what they mean.

use crate::caller::Caller;
use crate::problem::Problem;
use crate::state::AppState;
use crate::wire::{ExtensionInfo, OwnTerms, TermsAsk, TermsInfo};
use course::{Extension, Late, Shown, Terms, Zone, ZoneError};
use store::{CourseId, ExerciseId, PersonId, StoreError, StoredTerms};
use verdict::Reveal;

fn shown(word: &str) -> Option<Shown> {
    [Shown::All, Shown::Stages, Shown::AfterDue].into_iter().find(|s| key(*s) == word)
}

fn key(shown: Shown) -> &'static str {
    match shown {
        Shown::All => "all",
        Shown::Stages => "stages",
        Shown::AfterDue => "after_due",
    }
}

fn meaning(stored: &StoredTerms) -> (Terms, Vec<Extension>) {
    let terms = Terms {
        release_at: stored.release_at,
        due_at: stored.due_at,
        attempts: stored.attempts,
        late: if stored.refuses_late { Late::Refused } else { Late::Accepted },
        shown: shown(&stored.shown).unwrap_or_default(),
    };
    let extension = |(person, section, due_at): &(Option<PersonId>, String, i64)| Extension {
        person: person.map(|p| p.0),
        section: section.clone(),
        due_at: *due_at,
    };
    (terms, stored.extensions.iter().map(extension).collect())
}

/// What somebody typed, as it is kept.
pub(crate) fn kept(info: &TermsAsk, zone: &Zone) -> Result<StoredTerms, Problem> {
    if shown(&info.shown).is_none() {
        return Err(Problem::bad_input("What students read of a verdict is `all`, `stages` or `after_due`."));
    }
    if info.extensions.len() > 500 {
        return Err(Problem::bad_input("An exercise has at most 500 extensions; give one to a section."));
    }
    let time = |said: &str| zone.when(said).map_err(bad_time);
    let mut extensions = Vec::new();
    for e in &info.extensions {
        extensions.push((e.person, e.section.trim().to_owned(), time(&e.due)?));
    }
    let stored = StoredTerms {
        release_at: info.release.as_deref().map(time).transpose()?,
        due_at: info.due.as_deref().map(time).transpose()?,
        attempts: info.attempts,
        refuses_late: info.refuses_late,
        shown: info.shown.clone(),
        extensions,
    };
    let (terms, extensions) = meaning(&stored);
    terms.validate(&extensions).map_err(|e| Problem::bad_input(e.to_string()))?;
    Ok(stored)
}

fn bad_time(error: ZoneError) -> Problem {
    Problem::bad_input(error.to_string())
}

/// The zone on whose clock a course says its times.
pub(crate) fn zone(s: &AppState, course: CourseId) -> Result<Zone, StoreError> {
    Ok(zone_named(&s.store.zone(course)?))
}

/// The zone that was kept; where the tz database has dropped it, the machine's own.
pub(crate) fn zone_named(name: &str) -> Zone {
    Zone::named(name).unwrap_or_default()
}

/// A zone as somebody typed it.
pub(crate) fn zone_typed(name: &str) -> Result<Zone, Problem> {
    Zone::named(name).map_err(bad_time)
}

pub(crate) fn info(stored: StoredTerms, zone: &Zone) -> TermsInfo {
    let extension = |(person, section, due_at): (Option<PersonId>, String, i64)| ExtensionInfo {
        person,
        section,
        due_at,
        due: zone.shows(due_at),
    };
    TermsInfo {
        zone: zone.name().to_owned(),
        release_at: stored.release_at,
        release: stored.release_at.map(|at| zone.shows(at)),
        due_at: stored.due_at,
        due: stored.due_at.map(|at| zone.shows(at)),
        attempts: stored.attempts,
        refuses_late: stored.refuses_late,
        shown: stored.shown,
        extensions: stored.extensions.into_iter().map(extension).collect(),
    }
}

/// The terms of an exercise for one student.
pub(crate) struct Own {
    pub(crate) terms: Terms,
    pub(crate) due: Option<i64>,
    pub(crate) attempts: u32,
    pub(crate) now: i64,
}

impl Own {
    /// Terms as they are kept, for a student of a section who has so many hand-ins.
    pub(crate) fn of(stored: &StoredTerms, (student, section): (PersonId, &str), attempts: u32, now: i64) -> Self {
        let (terms, extensions) = meaning(stored);
        let due = terms.due_for(&extensions, student.0, section);
        Self { terms, due, attempts, now }
    }

    pub(crate) fn info(&self, zone: &Zone) -> OwnTerms {
        OwnTerms {
            due_at: self.due,
            due: self.due.map(|at| zone.shows(at)),
            zone: zone.name().to_owned(),
            attempts_left: self.terms.attempts.map(|most| most.saturating_sub(self.attempts)),
            shown: key(self.terms.shows(self.due, self.now)).into(),
            refusal: self.terms.may_hand_in(self.due, self.attempts, self.now).err().map(|e| e.to_string()),
        }
    }

    pub(crate) fn reveal(&self) -> Reveal {
        match self.terms.shows(self.due, self.now) {
            Shown::All => Reveal::All,
            Shown::Stages => Reveal::Stages,
            Shown::AfterDue => Reveal::Nothing,
        }
    }
}

pub(crate) fn own(s: &AppState, course: CourseId, exercise: ExerciseId, student: PersonId) -> Result<Own, StoreError> {
    let (attempts, section) = s.store.attempts(course, exercise, student)?;
    Ok(Own::of(&s.store.terms(course, exercise)?, (student, &section), attempts, s.now()))
}

/// What the caller reads of verdicts in an exercise: staff reads all; for students one that is not released is not there.
pub(crate) fn reveal(
    s: &AppState,
    caller: &Caller,
    course: CourseId,
    exercise: ExerciseId,
) -> Result<Reveal, StoreError> {
    match caller.sees() {
        None => Ok(Reveal::All),
        Some(student) => {
            let own = own(s, course, exercise, student)?;
            if own.terms.is_released(own.now) { Ok(own.reveal()) } else { Err(StoreError::NotFound("exercise")) }
        }
    }
}
