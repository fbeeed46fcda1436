//! When an exercise is worked at, how often, and what students read of a verdict when. Times are seconds since 1970.

/// What is done with hand-ins after the due time.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Late {
    /// They are taken and marked as late.
    #[default]
    Accepted,
    /// They are refused.
    Refused,
}

/// What students read of a verdict.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Shown {
    /// All that is found, with its evidence.
    #[default]
    All,
    /// Which stages passed.
    Stages,
    /// Nothing before the due time, all after it.
    AfterDue,
}

/// The terms of an exercise.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Terms {
    /// Students see it from then on; `None` for at once.
    pub release_at: Option<i64>,
    /// It is due then; `None` for never.
    pub due_at: Option<i64>,
    /// Hand-ins a student has; `None` for as many as wanted.
    pub attempts: Option<u32>,
    /// What is done after the due time.
    pub late: Late,
    /// What students read of a verdict.
    pub shown: Shown,
}

/// More time for one person or one section.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Extension {
    /// The person; else it is for a section.
    pub person: Option<i64>,
    /// The section; empty when it is for a person.
    pub section: String,
    /// Due then.
    pub due_at: i64,
}

/// Why terms can't be kept.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum TermsFault {
    /// Due before anybody sees it.
    #[error("The exercise is due before it is released; set a later due time.")]
    DueBeforeRelease,
    /// No attempt at all.
    #[error("The number of attempts has to be 1 to 1000.")]
    Attempts,
    /// What depends on a due time has none.
    #[error("Verdicts can be held back until the due time only where there is one; set it.")]
    NothingIsDue,
    /// An extension that shortens.
    #[error("An extension ends before the due time; set a later one.")]
    Shortens,
}

/// Why a student may not hand in now.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum NotNow {
    /// The exercise is not released.
    #[error("This exercise is not released yet.")]
    NotReleased,
    /// So many attempts may be made, and all are.
    #[error("{} used; ask the instructor if you need another.", attempts_are(*.0))]
    Used(u32),
    /// It is over.
    #[error("The due time is over, and late hand-ins are not taken; ask the instructor for an extension.")]
    Late,
}

fn attempts_are(most: u32) -> String {
    if most == 1 { "The only attempt is".into() } else { format!("All {most} attempts are") }
}

impl Terms {
    /// Can these be kept?
    ///
    /// # Errors
    /// The first that contradicts itself.
    pub fn validate(&self, extensions: &[Extension]) -> Result<(), TermsFault> {
        if self.release_at.zip(self.due_at).is_some_and(|(release, due)| due <= release) {
            return Err(TermsFault::DueBeforeRelease);
        }
        if self.attempts.is_some_and(|n| !(1..=1000).contains(&n)) {
            return Err(TermsFault::Attempts);
        }
        if self.shown == Shown::AfterDue && self.due_at.is_none() {
            return Err(TermsFault::NothingIsDue);
        }
        if extensions.iter().any(|e| self.due_at.is_none_or(|due| e.due_at < due)) {
            return Err(TermsFault::Shortens);
        }
        Ok(())
    }

    /// When it is due for a person of a section: the latest of what holds for them.
    pub fn due_for(&self, extensions: &[Extension], person: i64, section: &str) -> Option<i64> {
        let due = self.due_at?;
        let own = |e: &&Extension| e.person == Some(person) || (e.person.is_none() && e.section == section);
        Some(extensions.iter().filter(own).map(|e| e.due_at).fold(due, i64::max))
    }

    /// Do students see the exercise?
    pub fn is_released(&self, now: i64) -> bool {
        self.release_at.is_none_or(|at| at <= now)
    }

    /// May a student with so many hand-ins hand in once more? Says whether that is late.
    ///
    /// # Errors
    /// Why not.
    pub fn may_hand_in(&self, due: Option<i64>, attempts: u32, now: i64) -> Result<bool, NotNow> {
        if !self.is_released(now) {
            return Err(NotNow::NotReleased);
        }
        if let Some(most) = self.attempts.filter(|most| attempts >= *most) {
            return Err(NotNow::Used(most));
        }
        let is_late = due.is_some_and(|due| now > due);
        if is_late && self.late == Late::Refused {
            return Err(NotNow::Late);
        }
        Ok(is_late)
    }

    /// What a student reads of a verdict at a time.
    pub fn shows(&self, due: Option<i64>, now: i64) -> Shown {
        match self.shown {
            Shown::AfterDue if due.is_none_or(|due| now > due) => Shown::All,
            shown => shown,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn terms() -> Terms {
        Terms {
            release_at: Some(100),
            due_at: Some(200),
            attempts: Some(2),
            late: Late::Refused,
            shown: Shown::AfterDue,
        }
    }

    fn more(person: Option<i64>, section: &str, due_at: i64) -> Extension {
        Extension { person, section: section.into(), due_at }
    }

    #[test]
    fn the_longest_extension_of_person_or_section_counts() {
        let list = [more(Some(7), "", 300), more(None, "A", 250), more(None, "B", 400)];
        let due = |person, section| terms().due_for(&list, person, section);
        assert_eq!((due(7, "A"), due(8, "A"), due(8, "C")), (Some(300), Some(250), Some(200)));
        assert_eq!(Terms::default().due_for(&list, 7, "A"), None);
    }

    #[test]
    fn hand_ins_are_taken_between_release_and_due_as_often_as_said() {
        let t = terms();
        assert!(t.may_hand_in(Some(200), 0, 99).unwrap_err().to_string().contains("not released"));
        assert_eq!(t.may_hand_in(Some(200), 1, 200), Ok(false));
        assert!(t.may_hand_in(Some(200), 2, 150).unwrap_err().to_string().contains("All 2 attempts"));
        assert!(t.may_hand_in(Some(200), 0, 201).unwrap_err().to_string().contains("not taken"));
        assert_eq!(Terms { late: Late::Accepted, ..t }.may_hand_in(Some(200), 0, 201), Ok(true));
        assert_eq!(Terms::default().may_hand_in(None, 999, 1), Ok(false));
    }

    #[test]
    fn verdicts_are_held_back_until_each_one_s_own_due_time() {
        let t = terms();
        assert_eq!((t.shows(Some(200), 200), t.shows(Some(200), 201)), (Shown::AfterDue, Shown::All));
        assert_eq!(t.shows(Some(300), 250), Shown::AfterDue);
        assert_eq!(Terms { shown: Shown::Stages, ..t }.shows(Some(200), 999), Shown::Stages);
    }

    #[test]
    fn terms_that_contradict_themselves_are_refused() {
        let t = terms();
        assert_eq!(t.validate(&[]), Ok(()));
        assert_eq!(Terms { due_at: Some(100), ..t.clone() }.validate(&[]), Err(TermsFault::DueBeforeRelease));
        assert_eq!(Terms { attempts: Some(0), ..t.clone() }.validate(&[]), Err(TermsFault::Attempts));
        assert_eq!(Terms { due_at: None, ..t.clone() }.validate(&[]), Err(TermsFault::NothingIsDue));
        assert_eq!(t.validate(&[more(None, "A", 199)]), Err(TermsFault::Shortens));
    }
}
