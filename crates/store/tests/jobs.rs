//! Checks that are to be made: claimed once, fair between students, made again once after a stop, then given up.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use std::collections::BTreeSet;
use std::sync::{Arc, Mutex};
use store::{
    CourseId, ExerciseId, FileKind, HandInId, Job, NewFile, NewHandIn, NewVerdict, PersonId, Place, Role, Store,
    StoreError,
};

struct World {
    store: Store,
    course: CourseId,
    exercise: ExerciseId,
    students: Vec<PersonId>,
    folder: tempfile::TempDir,
}

fn world(students: usize) -> World {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(folder.path()).unwrap();
    let instructor = store.add_person("Ines Quillaby", "ines", "hash", 1).unwrap();
    let course = store.add_course("Packhouse Controls", instructor, 1).unwrap();
    let exercise = store.add_exercise(course, "Hopper", "text 1", instructor, 2).unwrap();
    let students = (0..students)
        .map(|n| {
            let id = store.add_person(&format!("Student {n}"), &format!("s{n}"), "hash", 1).unwrap();
            store.set_member(course, id, Role::Student, "A").unwrap();
            id
        })
        .collect();
    World { store, course, exercise, students, folder }
}

impl World {
    fn hand_in(&self, student: usize) -> HandInId {
        let files =
            vec![NewFile { kind: FileKind::Design, name: "hopper.v".into(), bytes: b"module a; endmodule".into() }];
        let student = self.students[student];
        let new = NewHandIn { exercise: self.exercise, student, submitted_by: student, top: None, files };
        self.store.add_hand_in(self.course, &new, 10).unwrap().0
    }

    fn claim(&self) -> Option<Job> {
        self.store.claim_check(20).unwrap()
    }

    fn verdict(&self, hand_in: HandInId) {
        let revision = self.store.exercise(self.course, self.exercise).unwrap().revision.id;
        let new = NewVerdict {
            revision,
            kind: "pass".into(),
            rows_passed: 8,
            rows_total: 8,
            headline: "All 8 rows are right.".into(),
            json: "{}".into(),
            actual: None,
            image: None,
            marks: None,
            shares: String::new(),
        };
        self.store.add_verdict(hand_in, &new, 30).unwrap();
    }

    /// The data as the next start finds them.
    fn started_again(self) -> World {
        drop(self.store);
        World { store: Store::open(self.folder.path()).unwrap(), ..self }
    }
}

#[test]
fn a_hand_in_asks_for_its_check_and_a_verdict_ends_it() {
    let w = world(1);
    let id = w.hand_in(0);
    assert_eq!(w.store.place_of_check(id).unwrap(), Some(Place::Behind(0)));
    let job = w.claim().unwrap();
    assert_eq!((job.hand_in, job.course, job.claims), (id, w.course, 1));
    assert_eq!(w.store.place_of_check(id).unwrap(), Some(Place::Running(20)));
    w.verdict(id);
    assert_eq!(w.store.place_of_check(id).unwrap(), None);
    assert_eq!(w.claim(), None);
}

#[test]
fn everybodys_first_check_comes_before_anybodys_second() {
    let w = world(3);
    let greedy: Vec<HandInId> = (0..5).map(|_| w.hand_in(0)).collect();
    let (second, third) = (w.hand_in(1), w.hand_in(2));
    assert_eq!(w.store.place_of_check(greedy[1]).unwrap(), Some(Place::Behind(3)));
    let mut order = Vec::new();
    while let Some(job) = w.claim() {
        order.push(job.hand_in);
        w.verdict(job.hand_in);
    }
    assert_eq!(order, [greedy[0], second, third, greedy[1], greedy[2], greedy[3], greedy[4]]);
}

#[test]
fn a_student_who_had_a_check_waits_behind_those_who_had_none() {
    let w = world(2);
    let first = w.hand_in(0);
    assert_eq!(w.claim().unwrap().hand_in, first);
    let (again, other) = (w.hand_in(0), w.hand_in(1));
    w.verdict(first);
    assert_eq!(w.claim().unwrap().hand_in, other);
    w.verdict(other);
    assert_eq!(w.claim().unwrap().hand_in, again);
}

#[test]
fn nobody_has_two_checks_at_once() {
    let w = world(1);
    let (first, second) = (w.hand_in(0), w.hand_in(0));
    assert_eq!(w.claim().unwrap().hand_in, first);
    assert_eq!(w.claim(), None);
    assert_eq!(w.store.place_of_check(second).unwrap(), Some(Place::Behind(1)));
    w.verdict(first);
    assert_eq!(w.claim().unwrap().hand_in, second);
}

#[test]
fn a_check_that_runs_is_made_anew_only_for_who_asks() {
    let w = world(1);
    let id = w.hand_in(0);
    w.claim().unwrap();
    w.store.request_check(w.course, id, 21).unwrap();
    w.verdict(id);
    assert_eq!(w.claim().unwrap().hand_in, id, "asked for while it ran");
    w.verdict(id);
    assert_eq!(w.claim(), None);
    w.store.request_check(w.course, id, 22).unwrap();
    w.store.request_check(w.course, id, 23).unwrap();
    assert_eq!(w.claim().unwrap().hand_in, id);
    w.verdict(id);
    assert_eq!(w.claim(), None, "two requests before it begins are one");
}

#[test]
fn a_stop_in_the_middle_of_a_check_begins_it_again_once_and_then_no_more() {
    let w = world(2);
    let (hostile, other) = (w.hand_in(0), w.hand_in(1));
    assert_eq!(w.claim().unwrap().hand_in, hostile);
    let w = w.started_again();
    assert_eq!(w.store.release_checks().unwrap(), []);
    let again = w.claim().unwrap();
    assert_eq!((again.hand_in, again.claims), (hostile, 2));
    let w = w.started_again();
    let lost = w.store.release_checks().unwrap();
    assert_eq!(lost.iter().map(|j| (j.hand_in, j.claims)).collect::<Vec<_>>(), [(hostile, 2)]);
    assert_eq!(w.claim().unwrap().hand_in, other, "what was given up is not claimed again");
    w.verdict(hostile);
    assert_eq!(w.store.release_checks().unwrap(), [], "the verdict that it can't be made ends it");
}

#[test]
fn a_check_that_the_store_failed_is_put_back_once() {
    let w = world(1);
    w.hand_in(0);
    let first = w.claim().unwrap();
    assert!(w.store.release_check(first).unwrap());
    let second = w.claim().unwrap();
    assert_eq!(second.claims, 2);
    assert!(!w.store.release_check(second).unwrap());
}

#[test]
fn another_courses_hand_in_can_not_be_asked_for() {
    let w = world(1);
    let id = w.hand_in(0);
    let other = w.store.add_course("Cold Store", w.store.people(w.course).unwrap()[0].id, 1).unwrap();
    assert!(matches!(w.store.request_check(other, id, 5), Err(StoreError::NotFound("hand-in"))));
}

/// Eight threads claim from one store: each check is made by just one of them.
#[test]
fn many_threads_claim_each_check_once() {
    let w = Arc::new(world(12));
    let all: BTreeSet<HandInId> = (0..12).flat_map(|s| [w.hand_in(s), w.hand_in(s)]).collect();
    let made = Arc::new(Mutex::new(Vec::new()));
    let threads: Vec<_> = (0..8)
        .map(|_| {
            let (w, made) = (Arc::clone(&w), Arc::clone(&made));
            std::thread::spawn(move || {
                while let Some(job) = w.claim() {
                    made.lock().unwrap().push(job.hand_in);
                    w.verdict(job.hand_in);
                }
            })
        })
        .collect();
    for thread in threads {
        thread.join().unwrap();
    }
    // Some may have found nothing to claim while each student had a check running.
    while let Some(job) = w.claim() {
        made.lock().unwrap().push(job.hand_in);
        w.verdict(job.hand_in);
    }
    let made = made.lock().unwrap();
    assert_eq!(made.len(), all.len(), "none twice");
    assert_eq!(made.iter().copied().collect::<BTreeSet<_>>(), all);
}
