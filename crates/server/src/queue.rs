//! The order in which hand-ins are checked: nobody's second check comes before everybody's first, and nobody has two checks
//! at once.

use std::collections::{BTreeMap, BTreeSet, VecDeque};
use std::time::Instant;
use store::{CourseId, HandInId, PersonId};

/// A hand-in that waits for its check.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Job {
    pub(crate) course: CourseId,
    pub(crate) hand_in: HandInId,
    pub(crate) student: PersonId,
}

/// Where a hand-in is on its way to a verdict.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Place {
    /// So many checks come first.
    Behind(usize),
    /// It has been checked for so many seconds.
    Running(u64),
}

/// What waits and what runs.
#[derive(Debug, Default)]
pub(crate) struct Queue {
    waiting: VecDeque<Job>,
    running: Vec<(Job, Instant)>,
    /// Asked for once more while they ran.
    again: BTreeSet<HandInId>,
    /// Checks that each student has had since the queue was last empty.
    served: BTreeMap<PersonId, usize>,
}

impl Queue {
    /// Takes a job up, unless it waits already; one that runs is run once more afterwards when `anew`.
    pub(crate) fn add(&mut self, job: Job, anew: bool) {
        if self.running.iter().any(|(j, _)| j.hand_in == job.hand_in) {
            if anew {
                self.again.insert(job.hand_in);
            }
        } else if !self.waiting.iter().any(|j| j.hand_in == job.hand_in) {
            self.waiting.push_back(job);
        }
    }

    /// The next job that may run now, which runs from now on.
    pub(crate) fn take(&mut self) -> Option<Job> {
        let next = self.order().into_iter().find(|j| !self.is_busy(j.student))?;
        self.waiting.retain(|j| j.hand_in != next.hand_in);
        *self.served.entry(next.student).or_insert(0) += 1;
        self.running.push((next, Instant::now()));
        Some(next)
    }

    /// A job is done.
    pub(crate) fn done(&mut self, job: Job) {
        self.running.retain(|(j, _)| j.hand_in != job.hand_in);
        if self.again.remove(&job.hand_in) {
            self.waiting.push_back(job);
        }
        if self.waiting.is_empty() && self.running.is_empty() {
            self.served.clear();
        }
    }

    /// Where a hand-in stands; nothing when it is not here.
    pub(crate) fn place(&self, hand_in: HandInId) -> Option<Place> {
        if let Some((_, since)) = self.running.iter().find(|(j, _)| j.hand_in == hand_in) {
            return Some(Place::Running(since.elapsed().as_secs()));
        }
        let before = self.order().iter().position(|j| j.hand_in == hand_in)?;
        Some(Place::Behind(before + self.running.len()))
    }

    fn is_busy(&self, student: PersonId) -> bool {
        self.running.iter().any(|(j, _)| j.student == student)
    }

    /// What waits, in the order it will run: each student's first job, then each one's second.
    fn order(&self) -> Vec<Job> {
        let mut turns = self.served.clone();
        let mut list: Vec<(usize, Job)> = Vec::with_capacity(self.waiting.len());
        for job in &self.waiting {
            let turn = turns.entry(job.student).or_insert(0);
            list.push((*turn, *job));
            *turn += 1;
        }
        list.sort_by_key(|(turn, _)| *turn);
        list.into_iter().map(|(_, job)| job).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn job(hand_in: HandInId, student: PersonId) -> Job {
        Job { course: 1, hand_in, student }
    }

    #[test]
    fn everybodys_first_check_comes_before_anybodys_second() {
        let mut queue = Queue::default();
        for n in 0..5 {
            queue.add(job(n, 7), false);
        }
        queue.add(job(10, 8), false);
        queue.add(job(11, 9), false);
        let mut order = Vec::new();
        while let Some(next) = queue.take() {
            order.push(next.hand_in);
            queue.done(next);
        }
        assert_eq!(order, [0, 10, 11, 1, 2, 3, 4]);
    }

    #[test]
    fn a_student_who_had_a_check_waits_behind_those_who_had_none() {
        let mut queue = Queue::default();
        queue.add(job(1, 7), false);
        let first = queue.take().unwrap();
        queue.add(job(2, 7), false);
        queue.add(job(3, 8), false);
        queue.done(first);
        assert_eq!(queue.take().unwrap().hand_in, 3);
    }

    #[test]
    fn nobody_has_two_checks_at_once() {
        let mut queue = Queue::default();
        queue.add(job(1, 7), false);
        queue.add(job(2, 7), false);
        let first = queue.take().unwrap();
        assert_eq!(queue.take(), None);
        assert_eq!(queue.place(2), Some(Place::Behind(1)));
        queue.done(first);
        assert_eq!(queue.take().unwrap().hand_in, 2);
    }

    #[test]
    fn what_runs_is_not_taken_again_unless_it_was_asked_for_anew() {
        let mut queue = Queue::default();
        queue.add(job(1, 7), false);
        let first = queue.take().unwrap();
        queue.add(job(1, 7), false);
        queue.done(first);
        assert_eq!(queue.take(), None);
        queue.add(job(1, 7), false);
        let first = queue.take().unwrap();
        queue.add(job(1, 7), true);
        queue.done(first);
        assert_eq!(queue.take().unwrap().hand_in, 1);
    }
}
