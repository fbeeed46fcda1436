//! Hand-ins of many students at once: sorted by student, held against what is there, kept all or none.

use crate::archive;
use crate::jobs::hand_in_of;
use crate::problem::Problem;
use crate::state::{AppState, MAX_UPLOAD};
use crate::uploads::{MOST_FILES, plain_name};
use crate::wire::{BundleLine, BundleRest, BundleView};
use course::{Bundle, Owner, Part, PersonName};
use sha2::{Digest, Sha256};
use std::collections::{BTreeMap, BTreeSet};
use store::{CourseId, CoursePerson, ExerciseId, FileKind, NewFile, NewHandIn, PersonId, Role, StoreError};

/// Most bytes of an archive as it is sent, and unpacked.
pub(crate) const MAX_BUNDLE: usize = 64 << 20;
const MAX_UNPACKED: u64 = 256 << 20;

/// An archive sorted by student.
pub(crate) struct Sorted {
    bundles: Vec<Bundle>,
    left: Vec<course::LeftOver>,
    students: Vec<CoursePerson>,
}

/// Reads an archive for a course; nothing is kept.
///
/// # Errors
/// When it is no zip, broken or too large, or the data can't be read.
pub(crate) fn sorted(s: &AppState, course: CourseId, bytes: &[u8]) -> Result<Sorted, Problem> {
    let files = archive::files_of(bytes, MAX_UNPACKED).map_err(Problem::bad_input)?;
    let mut students = s.store.people(course)?;
    students.retain(|p| p.role == Role::Student && p.is_active);
    students.sort_by_cached_key(|p| (p.section.clone(), course::sort_key(&p.name, &p.family), p.id));
    let owner = |p: &CoursePerson| Owner {
        id: p.id.0,
        sign_in: p.sign_in.clone(),
        number: p.number.clone(),
        name: PersonName { whole: p.name.clone(), family: p.family.clone() },
    };
    let owners: Vec<Owner> = students.iter().map(owner).collect();
    let (bundles, left) = course::sort_out(files, &owners);
    Ok(Sorted { bundles, left, students })
}

fn files_of(bundle: Bundle) -> Vec<NewFile> {
    let kind = |part| match part {
        Part::Design => FileKind::Design,
        Part::Wiring => FileKind::Wiring,
        Part::Answers => FileKind::Answers,
    };
    let file = |(part, name, bytes): (Part, String, Vec<u8>)| {
        let name = plain_name(Some(&name), "design.v");
        NewFile { kind: kind(part), name, bytes }
    };
    bundle.files.into_iter().map(file).collect()
}

/// Why files can't be a hand-in.
fn refusal(files: &[NewFile]) -> Option<String> {
    if files.len() > MOST_FILES {
        return Some(format!("There are {} files; a hand-in holds at most {MOST_FILES}.", files.len()));
    }
    let names: BTreeSet<&str> = files.iter().map(|f| f.name.as_str()).collect();
    if names.len() < files.len() {
        return Some("Two files have the same name but for characters that no name may hold; rename one.".into());
    }
    if files.iter().map(|f| f.bytes.len()).sum::<usize>() > MAX_UPLOAD {
        return Some("The files have more than 4 MiB; a hand-in holds the design's sources only.".into());
    }
    if files.iter().all(|f| f.kind != FileKind::Design) {
        return Some("There is no design file.".into());
    }
    check::no_design(&hand_in_of(files, None).files)
}

/// Says what an archive would do, or does it. Done again, it does nothing: the same files are no new attempt.
///
/// # Errors
/// When the data can't be read or written.
pub(crate) fn bring_in(
    s: &AppState,
    (course, exercise): (CourseId, ExerciseId),
    sorted: Sorted,
    by: Option<PersonId>,
) -> Result<BundleView, StoreError> {
    s.store.working(course, exercise)?;
    let newest = s.store.newest_files(exercise)?;
    let mut bundles: BTreeMap<i64, Bundle> = sorted.bundles.into_iter().map(|b| (b.student, b)).collect();
    let (mut lines, mut missing, mut list) = (Vec::new(), Vec::new(), Vec::new());
    for student in &sorted.students {
        let Some(bundle) = bundles.remove(&student.id.0) else {
            missing.push(student.name.clone());
            continue;
        };
        let files = files_of(bundle);
        let before = newest.get(&student.id);
        let key = |f: &NewFile| (f.kind.key().to_owned(), f.name.clone(), Sha256::digest(&f.bytes).to_vec());
        let keys: BTreeSet<_> = files.iter().map(key).collect();
        let why = refusal(&files);
        let (state, attempt) = match (&why, before) {
            (Some(_), _) => ("refused", None),
            (None, Some((attempt, known))) if *known == keys => ("same", Some(*attempt)),
            (None, _) => ("new", Some(before.map_or(0, |b| b.0) + 1)),
        };
        lines.push(BundleLine {
            student: student.id,
            name: student.name.clone(),
            files: files.iter().map(|f| f.name.clone()).collect(),
            state: state.into(),
            attempt,
            why: why.unwrap_or_default(),
        });
        if let (Some(by), "new") = (by, state) {
            list.push(NewHandIn { exercise, student: student.id, submitted_by: by, top: None, files });
        }
    }
    if !list.is_empty() {
        s.store.add_hand_ins(course, &list, s.now())?;
        s.news.tell();
    }
    let left_over = sorted.left.into_iter().map(|l| BundleRest { path: l.path, why: l.why }).collect();
    Ok(BundleView { lines, left_over, missing, applied: by.is_some() })
}
