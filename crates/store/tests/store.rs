//! The store through its public face: revisions, immutable hand-ins, standings and the audit trail.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use store::{
    Basis, CourseId, Effect, ExerciseId, FileKind, HandInId, NewDraft, NewFile, NewHandIn, NewOverride, NewVerdict,
    PersonId, Recounted, Revision, RevisionId, Role, Store, StoreError,
};

struct World {
    store: Store,
    course: CourseId,
    instructor: PersonId,
    student: PersonId,
    exercise: ExerciseId,
    _folder: tempfile::TempDir,
}

fn world() -> World {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(folder.path()).unwrap();
    let instructor = store.add_person("Ines Quill", "ines", "hash", 1).unwrap();
    let student = store.add_person("Tam Osei", "tam", "hash", 1).unwrap();
    let course = store.add_course("Packhouse Controls", instructor, 1).unwrap();
    store.set_member(course, student, Role::Student, "A").unwrap();
    let exercise = store.add_exercise(course, "Hopper", "text 1", instructor, 2).unwrap();
    World { store, course, instructor, student, exercise, _folder: folder }
}

fn hand_in(w: &World, text: &str) -> (HandInId, i64) {
    let files = vec![NewFile { kind: FileKind::Design, name: "hopper.v".into(), bytes: text.into() }];
    let new = NewHandIn { exercise: w.exercise, student: w.student, submitted_by: w.student, top: None, files };
    w.store.add_hand_in(w.course, &new, 10).unwrap()
}

fn basis(checks: &str, marking: &str) -> Basis {
    Basis { checks: checks.into(), marking: marking.into() }
}

/// Publishes a text as the next revision.
fn publish(w: &World, text: &str, checks: &str) -> Revision {
    publish_as(w, text, &basis(checks, ""))
}

fn publish_as(w: &World, text: &str, basis: &Basis) -> Revision {
    let expected = w.store.working(w.course, w.exercise).unwrap().version;
    let draft = NewDraft { expected, title: "Hopper", text, author: w.instructor };
    let version = w.store.save_draft(w.course, w.exercise, &draft, 12).unwrap();
    w.store.publish(w.course, w.exercise, (version, &|_| basis.clone()), w.instructor, 12).unwrap()
}

fn verdict(revision: RevisionId, kind: &str) -> NewVerdict {
    NewVerdict {
        revision,
        kind: kind.into(),
        rows_passed: 7,
        rows_total: 8,
        headline: "1 of 8 rows is wrong.".into(),
        json: "{}".into(),
        actual: None,
        image: None,
        marks: None,
        shares: String::new(),
    }
}

#[test]
fn attempts_count_up_and_earlier_ones_stay() {
    let w = world();
    let (first, one) = hand_in(&w, "module a; endmodule");
    let (second, two) = hand_in(&w, "module b; endmodule");
    assert_eq!((one, two), (1, 2));
    assert_eq!(w.store.hand_in(w.course, first).unwrap().files[0].bytes, b"module a; endmodule");
    let standing = w.store.standings(w.course, None).unwrap();
    assert_eq!(standing.iter().map(|s| s.id).collect::<Vec<_>>(), [second]);
}

#[test]
fn a_later_attempt_hides_neither_a_pass_nor_a_sign_off() {
    let w = world();
    let revision = w.store.exercise(w.course, w.exercise).unwrap().revision;
    let counts = || w.store.standings(w.course, None).unwrap()[0].id;
    let (partly, _) = hand_in(&w, "module a; endmodule");
    w.store.add_verdict(partly, &verdict(revision.id, "partly"), 11).unwrap();
    let (pass, _) = hand_in(&w, "module b; endmodule");
    assert_eq!(counts(), pass, "what waits comes before what is not right");
    w.store.add_verdict(pass, &verdict(revision.id, "pass"), 12).unwrap();
    w.store.sign_off(w.course, pass, w.instructor, 13).unwrap();
    let (worse, _) = hand_in(&w, "module c; endmodule");
    w.store.add_verdict(worse, &verdict(revision.id, "fail"), 14).unwrap();
    let (again, _) = hand_in(&w, "module d; endmodule");
    w.store.add_verdict(again, &verdict(revision.id, "pass"), 15).unwrap();
    assert_eq!(counts(), pass, "the one that was signed off");
    w.store.count_newest(w.course, true, w.instructor, 16).unwrap();
    assert_eq!(counts(), again);
    w.store.count_newest(w.course, false, w.instructor, 17).unwrap();
    assert_eq!(counts(), pass);
}

#[test]
fn what_a_person_sent_is_counted_within_a_time() {
    let w = world();
    hand_in(&w, "module a; endmodule");
    hand_in(&w, "module bb; endmodule");
    let by = w.student;
    assert_eq!(w.store.sent_since(by, 0).unwrap(), (2, 19 + 20));
    assert_eq!(w.store.sent_since(by, i64::MAX).unwrap(), (0, 0));
}

#[test]
fn a_saved_exercise_makes_earlier_verdicts_stale() {
    let w = world();
    let (id, _) = hand_in(&w, "module a; endmodule");
    let revision = w.store.exercise(w.course, w.exercise).unwrap().revision;
    w.store.add_verdict(id, &verdict(revision.id, "partly"), 11).unwrap();
    assert!(!w.store.hand_in(w.course, id).unwrap().summary.stale);
    let next = publish(&w, "text 2", "");
    assert_eq!(next.number, 2);
    assert!(w.store.hand_in(w.course, id).unwrap().summary.stale);
    w.store.add_verdict(id, &verdict(next.id, "pass"), 13).unwrap();
    let summary = w.store.hand_in(w.course, id).unwrap().summary;
    assert!(!summary.stale);
    assert_eq!(summary.outcome, Some(("pass".into(), 7, 8)));
}

#[test]
fn other_marks_are_counted_anew_and_make_nothing_stale() {
    let w = world();
    let first = publish_as(&w, "text 2", &basis("c", "6 marks"));
    let (counted, old) = (hand_in(&w, "a").0, hand_in(&w, "b").0);
    let shares = NewVerdict { marks: Some((3.0, 6.0)), shares: "half".into(), ..verdict(first.id, "partly") };
    w.store.add_verdict(counted, &shares, 20).unwrap();
    // This one was made before shares were kept.
    w.store.add_verdict(old, &verdict(first.id, "partly"), 20).unwrap();
    let effect = |checks: &str, marking: &str| w.store.effect(w.exercise, &basis(checks, marking)).unwrap();
    assert_eq!(effect("c", "6 marks"), Effect { stale: 0, recounted: 0 });
    assert_eq!(effect("c", "9 marks"), Effect { stale: 1, recounted: 1 });
    assert_eq!(effect("d", "6 marks"), Effect { stale: 2, recounted: 0 });
    let next = publish_as(&w, "text 3", &basis("c", "9 marks"));
    let anew = |old: &store::Recountable| {
        assert_eq!((old.json.as_str(), old.shares.as_str()), ("{}", "half"));
        Some(Recounted { json: "{\"marks\":9}".into(), marks: Some((4.5, 9.0)) })
    };
    assert_eq!(w.store.recount(w.exercise, &anew, 30).unwrap(), 1);
    assert_eq!(w.store.recount(w.exercise, &anew, 30).unwrap(), 0, "once is enough");
    let found = w.store.hand_in(w.course, counted).unwrap();
    assert_eq!((found.summary.marks, found.summary.stale), (Some((4.5, 9.0)), false));
    assert_eq!(found.verdict.unwrap().verdict.revision, next.id);
    assert!(w.store.hand_in(w.course, old).unwrap().summary.stale, "it can't be counted anew");
}

#[test]
fn what_staff_decides_counts_until_it_is_withdrawn() {
    let w = world();
    let revision = w.store.exercise(w.course, w.exercise).unwrap().revision.id;
    let (first, second) = (hand_in(&w, "a").0, hand_in(&w, "b").0);
    for (id, kind) in [(first, "fail"), (second, "partly")] {
        w.store.add_verdict(id, &NewVerdict { marks: Some((1.0, 6.0)), ..verdict(revision, kind) }, 11).unwrap();
    }
    let counts = || w.store.standings(w.course, None).unwrap().remove(0);
    assert_eq!(counts().id, second);
    let new = NewOverride { kind: "pass".into(), marks: Some(5.0), reason: "The board was faulty.".into() };
    w.store.decide(w.course, first, &new, (w.instructor, 12)).unwrap();
    let standing = counts();
    assert_eq!((standing.id, standing.marks), (first, Some((5.0, 6.0))));
    assert_eq!(standing.outcome.unwrap().0, "pass");
    let decision = standing.decision.unwrap();
    assert_eq!((decision.decided, decision.by.as_str(), decision.at), (new.clone(), "Ines Quill", 12));
    // Another check changes nothing of it, and the other attempt has its own.
    w.store.add_verdict(first, &verdict(revision, "fail"), 13).unwrap();
    assert_eq!(counts().outcome.unwrap().0, "pass");
    assert_eq!(w.store.hand_in(w.course, second).unwrap().summary.decision, None);
    w.store
        .decide(w.course, first, &NewOverride { kind: "fail".into(), marks: None, ..new }, (w.instructor, 14))
        .unwrap();
    assert_eq!(counts().id, second);
    w.store.withdraw_decision(w.course, first, (w.instructor, 15)).unwrap();
    w.store.withdraw_decision(w.course, first, (w.instructor, 16)).unwrap();
    assert_eq!(w.store.hand_in(w.course, first).unwrap().summary.decision, None);
    let audit = w.store.audit(w.course, 3).unwrap();
    let actions: Vec<&str> = audit.iter().map(|a| a.action.as_str()).collect();
    assert_eq!(actions, ["override withdrawn", "verdict overridden", "verdict overridden"]);
    assert!(audit[2].subject.ends_with("Tam Osei, attempt 1: pass, 5 marks (The board was faulty.)"), "{audit:?}");
    let other = w.store.add_course("Other", w.instructor, 1).unwrap();
    let new = NewOverride { kind: "pass".into(), marks: None, reason: "x".into() };
    assert!(matches!(w.store.decide(other, first, &new, (w.instructor, 1)), Err(StoreError::NotFound("hand-in"))));
}

#[test]
fn a_sign_off_is_kept_once_with_who_and_when() {
    let w = world();
    let (id, _) = hand_in(&w, "x");
    w.store.sign_off(w.course, id, w.instructor, 20).unwrap();
    w.store.sign_off(w.course, id, w.instructor, 99).unwrap();
    assert_eq!(w.store.hand_in(w.course, id).unwrap().summary.signed_off, Some(("Ines Quill".into(), 20)));
    let actions: Vec<String> = w.store.audit(w.course, 10).unwrap().into_iter().map(|a| a.action).collect();
    assert_eq!(actions, ["sign-off", "hand-in", "exercise made", "course made"]);
}

#[test]
fn another_courses_hand_in_is_not_there() {
    let w = world();
    let (id, _) = hand_in(&w, "x");
    let other = w.store.add_course("Other", w.instructor, 1).unwrap();
    assert!(matches!(w.store.hand_in(other, id), Err(StoreError::NotFound("hand-in"))));
    assert!(matches!(w.store.exercise(other, w.exercise), Err(StoreError::NotFound("exercise"))));
    assert!(matches!(w.store.sign_off(other, id, w.instructor, 1), Err(StoreError::NotFound("hand-in"))));
    assert_eq!(w.store.role(other, w.student).unwrap(), None);
}

#[test]
fn a_failed_hand_in_leaves_nothing_behind() {
    let w = world();
    let files = vec![NewFile { kind: FileKind::Design, name: "a.v".into(), bytes: b"x".to_vec() }];
    let new = NewHandIn { exercise: w.exercise, student: w.instructor, submitted_by: w.instructor, top: None, files };
    assert!(matches!(w.store.add_hand_in(w.course, &new, 1), Err(StoreError::NotFound("student in this course"))));
    assert!(w.store.hand_ins(w.course, w.exercise, None).unwrap().is_empty());
}

#[test]
fn sessions_end_when_their_time_is_over() {
    let w = world();
    w.store.open_session(b"hash", w.student, 100, 200, "Chromium").unwrap();
    assert_eq!(w.store.session(b"hash", 150).unwrap().map(|s| s.0), Some(w.student));
    assert_eq!(w.store.session(b"hash", 200).unwrap(), None);
    w.store.close_session(b"hash").unwrap();
    assert_eq!(w.store.session(b"hash", 150).unwrap(), None);
}

#[test]
fn the_file_is_written_ahead_and_in_full() {
    let w = world();
    let path = w._folder.path().join("zesty-gate.sqlite");
    let raw = rusqlite::Connection::open(path).unwrap();
    let mode: String = raw.query_row("PRAGMA journal_mode", [], |r| r.get(0)).unwrap();
    assert_eq!(mode, "wal");
    let (id, _) = hand_in(&w, "x");
    assert!(raw.execute("UPDATE hand_ins SET attempt = 9 WHERE id = ?", [id]).is_err());
}

#[test]
fn what_is_typed_is_a_draft_until_it_is_published() {
    let w = world();
    let save = |expected: i64, text: &str| {
        let draft = NewDraft { expected, title: "Hopper", text, author: w.instructor };
        w.store.save_draft(w.course, w.exercise, &draft, 100)
    };
    let before = w.store.working(w.course, w.exercise).unwrap();
    assert_eq!((before.published, before.draft.clone()), (Some(1), None));
    let version = save(before.version, "text 2").unwrap();
    // Somebody else who began with the same version overwrites nothing.
    assert!(matches!(save(before.version, "text 9"), Err(StoreError::Taken(_))));
    let now = w.store.working(w.course, w.exercise).unwrap();
    assert_eq!((now.text.as_str(), now.draft), ("text 2", Some(("Ines Quill".into(), 100))));
    assert_eq!(w.store.exercise(w.course, w.exercise).unwrap().revision.text, "text 1", "students see no draft");
    // Typing back what is published ends the draft.
    let version = save(version, "text 1").unwrap();
    assert_eq!(w.store.working(w.course, w.exercise).unwrap().draft, None);
    let refused = w.store.publish(w.course, w.exercise, (version, &|_| basis("x", "")), w.instructor, 101);
    assert!(matches!(refused, Err(StoreError::Refused(_))));
    let version = save(version, "text 3").unwrap();
    let revision = w.store.publish(w.course, w.exercise, (version, &|_| basis("x", "")), w.instructor, 102).unwrap();
    assert_eq!((revision.number, revision.text.as_str()), (2, "text 3"));
    let list: Vec<i64> = w.store.revisions(w.course, w.exercise).unwrap().into_iter().map(|r| r.0.number).collect();
    assert_eq!(list, [2, 1]);
    // A draft that is discarded leaves what is published; an exercise that never was goes.
    let version = save(version + 1, "text 4").unwrap();
    w.store.discard_draft(w.course, w.exercise, version, (w.instructor, 103)).unwrap();
    assert_eq!(w.store.working(w.course, w.exercise).unwrap().text, "text 3");
    let begun = w.store.add_draft(w.course, "Begun", "text", w.instructor, 104).unwrap();
    assert_eq!((w.store.exercises(w.course).unwrap().len(), w.store.workings(w.course).unwrap().len()), (1, 2));
    assert!(matches!(w.store.exercise(w.course, begun), Err(StoreError::NotFound("exercise"))));
    w.store.discard_draft(w.course, begun, 1, (w.instructor, 105)).unwrap();
    assert_eq!(w.store.workings(w.course).unwrap().len(), 1);
}

#[test]
fn only_what_is_checked_makes_a_verdict_stale() {
    let w = world();
    let publish = |text: &str, checks: &str| publish(&w, text, checks);
    let first = publish("text 2", "same");
    let (id, _) = hand_in(&w, "module a; endmodule");
    w.store.add_verdict(id, &verdict(first.id, "pass"), 131).unwrap();
    let stale = || w.store.hand_in(w.course, id).unwrap().summary.stale;
    assert_eq!(w.store.effect(w.exercise, &basis("same", "")).unwrap().stale, 0);
    publish("text 3, other words", "same");
    assert!(!stale());
    assert_eq!(w.store.effect(w.exercise, &basis("other", "")).unwrap().stale, 1);
    publish("text 4", "other");
    assert!(stale());
    // Back again: the verdict holds as it did.
    publish("text 5", "same");
    assert!(!stale());
}

#[test]
fn attempts_are_counted_where_they_are_kept() {
    let w = world();
    hand_in(&w, "module a; endmodule");
    let files = vec![NewFile { kind: FileKind::Design, name: "hopper.v".into(), bytes: b"x".to_vec() }];
    let new = NewHandIn { exercise: w.exercise, student: w.student, submitted_by: w.student, top: None, files };
    let one_more = |most| w.store.add_hand_in_within(w.course, &new, most, 10);
    assert!(matches!(one_more(Some(1)), Err(StoreError::Refused(_))));
    assert_eq!(one_more(Some(2)).unwrap().1, 2);
    assert!(matches!(one_more(Some(2)), Err(StoreError::Refused(_))));
    assert_eq!(one_more(None).unwrap().1, 3);
}

#[test]
fn an_archived_exercise_takes_no_hand_in() {
    let w = world();
    w.store.archive(w.course, w.exercise, true, (w.instructor, 5)).unwrap();
    assert_eq!(w.store.exercises(w.course).unwrap().len(), 0);
    let files = vec![NewFile { kind: FileKind::Design, name: "hopper.v".into(), bytes: b"x".to_vec() }];
    let new = NewHandIn { exercise: w.exercise, student: w.student, submitted_by: w.student, top: None, files };
    assert!(matches!(w.store.add_hand_in(w.course, &new, 10), Err(StoreError::NotFound("exercise"))));
    w.store.archive(w.course, w.exercise, false, (w.instructor, 6)).unwrap();
    w.store.add_hand_in(w.course, &new, 10).unwrap();
}

#[test]
fn prepared_answers_are_kept_with_the_hand_in() {
    let w = world();
    let files = vec![
        NewFile { kind: FileKind::Design, name: "m.v".into(), bytes: b"module m; endmodule".to_vec() },
        NewFile { kind: FileKind::Answers, name: "answers.toml".into(), bytes: b"[answers]".to_vec() },
    ];
    let new = NewHandIn {
        exercise: w.exercise,
        student: w.student,
        submitted_by: w.student,
        top: None,
        files: files.clone(),
    };
    let (id, _) = w.store.add_hand_in(w.course, &new, 10).unwrap();
    assert_eq!(w.store.hand_in(w.course, id).unwrap().files, files);
}

#[test]
fn a_backup_is_one_whole_file_and_comes_back_while_others_work() {
    let w = world();
    let (first, _) = hand_in(&w, "module hopper; endmodule");
    let folder = w._folder.path();
    let elsewhere = tempfile::tempdir().unwrap();
    let file = elsewhere.path().join("monday.backup");
    // The store is open, and somebody hands in while the copy is made.
    let people = std::thread::scope(|scope| {
        let busy = scope.spawn(|| (0..20).map(|n| hand_in(&w, &format!("// {n}")).0).collect::<Vec<_>>());
        let people = store::backup(folder, &file).unwrap();
        assert_eq!(busy.join().unwrap().len(), 20);
        people
    });
    assert_eq!(people, 2);
    let names: Vec<_> = std::fs::read_dir(elsewhere.path()).unwrap().map(|e| e.unwrap().file_name()).collect();
    assert_eq!(names, ["monday.backup"], "one file, nothing beside it");
    // Into a new folder.
    let fresh = elsewhere.path().join("fresh");
    assert_eq!(store::restore(&file, &fresh).unwrap(), (2, None));
    let copy = Store::open(&fresh).unwrap();
    assert_eq!(copy.hand_in(w.course, first).unwrap().files[0].bytes, b"module hopper; endmodule");
    // Over data that is in use: it is there at once, and what was there before is kept.
    let late = w.store.add_person("Late Lime", "late", "hash", 3).unwrap();
    assert!(late.0 > 0);
    let (people, before) = store::restore(&file, folder).unwrap();
    assert_eq!((people, w.store.person_count().unwrap()), (2, 2));
    let kept = tempfile::tempdir().unwrap();
    assert_eq!(store::restore(&before.unwrap(), kept.path()).unwrap().0, 3);
}

#[test]
fn what_is_no_backup_changes_nothing() {
    let w = world();
    let folder = w._folder.path();
    let elsewhere = tempfile::tempdir().unwrap();
    let put = |name: &str, bytes: &[u8]| {
        let path = elsewhere.path().join(name);
        std::fs::write(&path, bytes).unwrap();
        path
    };
    let whole = elsewhere.path().join("whole");
    store::backup(folder, &whole).unwrap();
    let bytes = std::fs::read(&whole).unwrap();
    let mut spoilt = bytes.clone();
    for byte in &mut spoilt[5_000..9_000] {
        *byte ^= 0x5a;
    }
    for path in [
        put("letter.txt", b"Dear instructor, this is no data at all, but quite a long text that fills a page or so."),
        put("empty", b""),
        put("half", &bytes[..bytes.len() / 2]),
        put("spoilt", &spoilt),
        elsewhere.path().join("nowhere"),
    ] {
        assert!(store::restore(&path, folder).is_err(), "{}", path.display());
        assert_eq!(w.store.person_count().unwrap(), 2);
    }
    let names: Vec<String> =
        std::fs::read_dir(folder).unwrap().map(|e| e.unwrap().file_name().into_string().unwrap()).collect();
    assert!(names.iter().all(|n| n.starts_with("zesty-gate.sqlite")), "{names:?}");
    assert!(matches!(store::backup(&elsewhere.path().join("none"), &whole), Err(StoreError::NotFound(_))));
}
