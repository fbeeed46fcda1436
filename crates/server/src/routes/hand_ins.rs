//! Hand-ins: sending, listing, reading with the verdict, rechecking and signing off.

use super::blocking;
use super::exercises::{board_info, expected_columns};
use crate::bundles::{self, MAX_BUNDLE};
use crate::caller::Caller;
use crate::diff;
use crate::jobs::{hand_in_of, waits_for};
use crate::pack;
use crate::problem::Problem;
use crate::state::{AppState, MAX_UPLOAD, too_large};
use crate::terms;
use crate::uploads::{MOST_FILES, plain_name};
use crate::wire::{
    BundleView, Cell, Column, Decision, DecisionAsk, FileDiff, FileText, HandInForm, HandInKept, HandInLine, HandInPage,
};
use actix_multipart::{Multipart, MultipartError};
use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use actix_web::{delete, get, post, put};
use futures_util::TryStreamExt;
use logic::Notation;
use std::collections::BTreeMap;
use store::{CourseId, ExerciseId, FileKind, HandInId, HandInSummary, NewFile, NewHandIn, PersonId, StoreError};
use verdict::{Reveal, Verdict};

pub(super) fn cell(summary: &HandInSummary) -> Cell {
    let (kind, passed, total) = summary.outcome.clone().unwrap_or_else(|| ("waiting".into(), 0, 0));
    let state = match kind.as_str() {
        "pass" => "passed",
        "fail" => "failed",
        other => other,
    };
    Cell {
        hand_in: summary.id,
        state: state.into(),
        passed,
        total,
        attempt: summary.attempt,
        stale: summary.stale,
        signed_off: summary.signed_off.as_ref().map(|(name, _)| name.clone()),
        marks: summary.marks.map(|m| m.0),
        out_of: summary.marks.map(|m| m.1),
        late: false,
        by_hand: summary.decision.is_some(),
    }
}

/// A cell as its student sees it while verdicts are held back.
fn held_back(cell: &mut Cell) {
    if cell.state != "waiting" {
        cell.state = "held_back".into();
    }
    (cell.passed, cell.total, cell.marks, cell.out_of, cell.by_hand) = (0, 0, None, None, false);
}

/// A cell under the terms of its exercise, for the caller.
pub(super) fn under_terms(mut cell: Cell, summary: &HandInSummary, own: &terms::Own, is_staff: bool) -> Cell {
    cell.late = own.due.is_some_and(|due| summary.submitted_at > due);
    if !is_staff && own.reveal() == Reveal::Nothing {
        held_back(&mut cell);
    }
    cell
}

fn line(summary: &HandInSummary) -> HandInLine {
    HandInLine {
        id: summary.id,
        student: summary.student_name.clone(),
        cell: cell(summary),
        submitted_at: summary.submitted_at,
    }
}

/// The hand-ins of an exercise, newest first; a student gets only the own ones.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)), responses((status = 200, body = [HandInLine])))]
#[get("/courses/{course}/exercises/{exercise}/hand-ins")]
pub(super) async fn list(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
) -> Result<web::Json<Vec<HandInLine>>, Problem> {
    let (course, exercise) = path.into_inner();
    let is_staff = caller.sees().is_none();
    let found = blocking(&state, move |s| {
        let (stored, now) = (s.store.terms(course, exercise)?, s.now());
        let sections: BTreeMap<PersonId, String> =
            s.store.members(course)?.into_iter().map(|m| (m.id, m.section)).collect();
        let under = |summary: &HandInSummary| {
            let section = sections.get(&summary.student).map_or("", String::as_str);
            let own = terms::Own::of(&stored, (summary.student, section), 0, now);
            HandInLine { cell: under_terms(cell(summary), summary, &own, is_staff), ..line(summary) }
        };
        Ok(s.store.hand_ins(course, exercise, caller.sees())?.iter().map(under).collect())
    });
    found.await.map(web::Json)
}

/// What is sent: design files, a wiring file, the student (for staff) and the top.
#[derive(Default)]
struct Upload {
    files: Vec<(Option<String>, Vec<u8>)>,
    wiring: Option<(Option<String>, Vec<u8>)>,
    answers: Option<String>,
    student: Option<PersonId>,
    top: Option<String>,
}

/// Most parts of the form that carries a hand-in.
const MOST_PARTS: usize = MOST_FILES + 8;
/// What one person may send within a day: hand-ins, and bytes of their files.
const MOST_A_DAY: u64 = 300;
const BYTES_A_DAY: u64 = 64 << 20;
const DAY: i64 = 86_400;

/// Reads the form part by part: what is too much is refused before it is kept.
async fn received(mut form: Multipart) -> Result<Upload, Problem> {
    let broken = |e: MultipartError| Problem::bad_input(format!("The files did not arrive as a form: {e}."));
    let mut upload = Upload::default();
    let (mut parts, mut left) = (0, MAX_UPLOAD);
    while let Some(mut field) = form.try_next().await.map_err(broken)? {
        parts += 1;
        if parts > MOST_PARTS {
            return Err(Problem::bad_input("A hand-in holds at most 64 files; leave out what isn't the design."));
        }
        let name = field.name().unwrap_or_default().to_owned();
        let file_name = field.content_disposition().and_then(|d| d.get_filename().map(str::to_owned));
        let mut bytes = Vec::new();
        while let Some(chunk) = field.try_next().await.map_err(broken)? {
            left = left.checked_sub(chunk.len()).ok_or_else(too_large)?;
            bytes.extend_from_slice(&chunk);
        }
        let text = |bytes: Vec<u8>| {
            String::from_utf8(bytes).map_err(|_| Problem::bad_input(format!("The field `{name}` is not text.")))
        };
        match name.as_str() {
            "files" => upload.files.push((file_name, bytes)),
            "wiring" => upload.wiring = Some((file_name, bytes)),
            "answers" => upload.answers = Some(text(bytes)?),
            "top" => upload.top = Some(text(bytes)?),
            "student" => {
                let number = text(bytes)?.trim().parse().map(PersonId);
                upload.student =
                    Some(number.map_err(|_| Problem::bad_input("The field `student` is not a student's number."))?);
            }
            // What a form carries beside is nobody's.
            _ => {}
        }
    }
    Ok(upload)
}

/// Keeps a hand-in and asks for its check. When this answers, the hand-in is on the disk.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)),
    request_body(content = HandInForm, content_type = "multipart/form-data"),
    responses((status = 201, body = HandInKept)))]
#[post("/courses/{course}/exercises/{exercise}/hand-ins")]
pub(super) async fn add(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    form: Multipart,
) -> Result<HttpResponse, Problem> {
    let upload = received(form).await?;
    keep(&state, &caller, path.into_inner(), upload).await
}

async fn keep(
    state: &web::Data<AppState>,
    caller: &Caller,
    (course, exercise): (CourseId, ExerciseId),
    upload: Upload,
) -> Result<HttpResponse, Problem> {
    if upload.files.is_empty() {
        return Err(Problem::bad_input("The hand-in holds no design file; add one."));
    }
    if upload.files.len() > MOST_FILES {
        return Err(Problem::bad_input("A hand-in holds at most 64 files; leave out what isn't the design."));
    }
    let student = match (caller.is_staff(), upload.student) {
        (true, Some(student)) => student,
        (true, None) => return Err(Problem::bad_input("It isn't said whose hand-in this is; choose a student.")),
        (false, Some(other)) if other != caller.person => return Err(Problem::not_allowed()),
        (false, _) => caller.person,
    };
    let mut files = Vec::new();
    for (i, (given, bytes)) in upload.files.into_iter().enumerate() {
        let name = plain_name(given.as_deref(), &format!("design{}.v", i + 1));
        if files.iter().any(|f: &NewFile| f.name == name) {
            return Err(Problem::bad_input(format!("Two files are called `{name}`; rename one.")));
        }
        files.push(NewFile { kind: FileKind::Design, name, bytes });
    }
    let designs = hand_in_of(&files, None).files;
    if let Some(why) = check::no_design(&designs) {
        return Err(Problem::bad_input(why));
    }
    if let Some((given, bytes)) = upload.wiring {
        let name = plain_name(given.as_deref(), "wiring.csv");
        files.push(NewFile { kind: FileKind::Wiring, name, bytes });
    }
    if let Some(answers) = upload.answers.filter(|t| !t.trim().is_empty()) {
        files.push(NewFile { kind: FileKind::Answers, name: "answers.toml".into(), bytes: answers.into_bytes() });
    }
    let top = upload.top.filter(|t| !t.trim().is_empty());
    let new = NewHandIn { exercise, student, submitted_by: caller.person, top, files };
    if !caller.is_staff() {
        let person = caller.person;
        let (count, bytes) = blocking(state, move |s| s.store.sent_since(person, s.now() - DAY)).await?;
        if count >= MOST_A_DAY || bytes >= BYTES_A_DAY {
            let detail = "You sent more than 300 hand-ins or 64 MiB within a day; wait, or ask the staff to hand in.";
            return Err(Problem::new(StatusCode::TOO_MANY_REQUESTS, "Too much for one day", detail));
        }
    }
    let mut most = None;
    if !caller.is_staff() {
        let own = blocking(state, move |s| terms::own(s, course, exercise, student)).await?;
        own.terms.may_hand_in(own.due, own.attempts, own.now).map_err(|e| Problem::bad_input(e.to_string()))?;
        // Counted once more where it is kept: two may arrive at the same moment.
        most = own.terms.attempts;
    }
    let kept = blocking(state, move |s| s.store.add_hand_in_within(course, &new, most, s.now()));
    let (id, attempt) = kept.await?;
    state.news.tell();
    Ok(HttpResponse::Created().json(HandInKept { id, attempt }))
}

#[derive(serde::Deserialize, utoipa::IntoParams)]
pub(super) struct BundleAsk {
    /// Do it; else only look.
    #[serde(default)]
    apply: bool,
}

/// Reads a zip with a folder a student and says what it would do, or does it.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path), BundleAsk),
    request_body(content = String, content_type = "application/octet-stream"),
    responses((status = 200, body = BundleView)))]
#[post("/courses/{course}/exercises/{exercise}/hand-ins/zip")]
pub(super) async fn add_all(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    ask: web::Query<BundleAsk>,
    body: web::Payload,
) -> Result<web::Json<BundleView>, Problem> {
    let too_large = || Problem::too_large("A zip of hand-ins has at most 64 MiB; send some of the folders at a time.");
    let body = body.to_bytes_limited(MAX_BUNDLE).await.map_err(|_| too_large())?;
    let body = body.map_err(|e| Problem::bad_input(format!("The zip did not arrive whole ({e}); send it again.")))?;
    let (course, exercise) = path.into_inner();
    let by = ask.apply.then_some(caller.person);
    let work = web::block(move || {
        let sorted = bundles::sorted(&state, course, &body)?;
        bundles::bring_in(&state, (course, exercise), sorted, by).map_err(Problem::from)
    });
    work.await.map_err(Problem::our_fault)?.map(web::Json)
}

pub(super) fn columns(text: &str) -> Vec<Column> {
    pack::columns(text).map(|(name, values)| Column { name: name.into(), values: values.into() }).collect()
}

/// A hand-in with its sources, verdict and tables.
#[utoipa::path(params(("course" = i64, Path), ("hand_in" = i64, Path)),
    responses((status = 200, body = HandInPage)))]
#[get("/courses/{course}/hand-ins/{hand_in}")]
pub(super) async fn read(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
) -> Result<web::Json<HandInPage>, Problem> {
    let (course, id) = path.into_inner();
    let sees = caller.sees();
    let (hand_in, stored, attempts, times, place) = blocking(&state, move |s| {
        let hand_in = own(s.store.hand_in(course, id)?, sees)?;
        let (exercise, student) = (hand_in.summary.exercise, hand_in.summary.student);
        let attempts = s.store.hand_ins(course, exercise, Some(student))?;
        let (stored, times) = (s.store.exercise(course, exercise)?, terms::own(s, course, exercise, student)?);
        Ok((hand_in, stored, attempts, times, s.store.place_of_check(id)?))
    })
    .await?;
    let reveal = if sees.is_none() { Reveal::All } else { times.reveal() };
    let exercise = state.exercises.saved(&stored.revision.text).await?;
    let kept = hand_in.verdict.map(|v| v.verdict);
    let mut verdict: Option<Verdict> =
        kept.as_ref().map(|v| serde_json::from_str(&v.json)).transpose().map_err(Problem::our_fault)?;
    if let (Some(verdict), true) = (&mut verdict, sees.is_some()) {
        verdict.for_student(reveal, exercise::shows_answers(&stored.revision.text));
    }
    let text = |f: &NewFile| base::SourceFile::decode(&f.name, &f.bytes).ok().map(|s| s.text);
    let kind = |f: &NewFile| match f.kind {
        FileKind::Wiring => "wiring",
        FileKind::Answers => "answers",
        FileKind::Design => "design",
    };
    let answers = hand_in_of(&hand_in.files, None).answers;
    let staff = sees.is_none();
    let known = std::sync::Arc::clone(&exercise);
    // Covers of a large table take long.
    let (expected, terms) = web::block(move || match staff {
        true => (expected_columns(&known), derive::cover_terms(&known, Notation::default())),
        false => (Vec::new(), Vec::new()),
    })
    .await
    .map_err(Problem::our_fault)?;
    let takes = verdict.as_ref().and_then(|v| v.resources).map(|r| r.sentence());
    Ok(web::Json(HandInPage {
        id,
        exercise: stored.id,
        title: stored.revision.title,
        student: hand_in.summary.student_name.clone(),
        cell: under_terms(cell(&hand_in.summary), &hand_in.summary, &times, sees.is_none()),
        shown_after: if reveal == Reveal::Nothing { times.due } else { None },
        submitted_at: hand_in.summary.submitted_at,
        files: hand_in
            .files
            .iter()
            .map(|f| FileText { name: f.name.clone(), kind: kind(f).into(), text: text(f) })
            .collect(),
        given: answers.as_ref().map(check::given_answers).unwrap_or_default(),
        headline: match (reveal, &kept, &verdict) {
            // What staff alone reads may be what comes first.
            (Reveal::All, Some(_), Some(verdict)) if sees.is_some() => Some(verdict.headline()),
            (Reveal::All, Some(kept), _) => Some(kept.headline.clone()),
            (Reveal::Stages, Some(_), Some(verdict)) => Some(stages_only(verdict)),
            (Reveal::Nothing, Some(_), _) => Some("The verdict is shown when the exercise is over.".into()),
            _ => None,
        },
        decision: hand_in.summary.decision.filter(|_| reveal != Reveal::Nothing).map(decision),
        waits_for: place.filter(|_| kept.is_none()).map(|p| waits_for(p, state.checks.limits(), state.now())),
        actual: kept
            .as_ref()
            .filter(|_| reveal == Reveal::All)
            .and_then(|v| v.actual.as_deref())
            .map(columns)
            .unwrap_or_default(),
        has_image: kept.as_ref().is_some_and(|v| v.image.is_some()),
        clocked: exercise.clocked().is_some(),
        takes,
        verdict,
        inputs: exercise.table().inputs.clone(),
        expected,
        terms,
        board: board_info(&exercise),
        attempts: attempts
            .iter()
            .map(|a| HandInLine { cell: under_terms(cell(a), a, &times, sees.is_none()), ..line(a) })
            .collect(),
    }))
}

/// The first sentence where only stages are shown: a fault of the text as it is, else how far it came.
fn stages_only(verdict: &Verdict) -> String {
    let stops = verdict.stages.iter().find(|s| s.state == verdict::StageState::Fail);
    match (verdict.verdict, verdict.findings.iter().find(|f| f.severity != "note"), stops) {
        (_, Some(finding), _) => finding.message.clone(),
        (verdict::VerdictKind::Pass, ..) => "All stages passed.".into(),
        (_, None, Some(stage)) => format!("Not right yet: the stage `{}` does not pass.", stage.stage),
        (_, None, None) => "The check could not be finished.".into(),
    }
}

/// Another student's hand-in is not there.
pub(super) fn own(hand_in: store::HandIn, sees: Option<PersonId>) -> Result<store::HandIn, StoreError> {
    match sees {
        Some(person) if person != hand_in.summary.student => Err(StoreError::NotFound("hand-in")),
        _ => Ok(hand_in),
    }
}

/// The attempt that another one is held against.
#[derive(serde::Deserialize, utoipa::IntoParams)]
pub(super) struct Against {
    /// Key of the older hand-in, of the same student and exercise.
    from: HandInId,
}

/// What differs between the files of two attempts of a student.
#[utoipa::path(params(("course" = i64, Path), ("hand_in" = i64, Path), Against),
    responses((status = 200, body = [FileDiff])))]
#[get("/courses/{course}/hand-ins/{hand_in}/difference")]
pub(super) async fn difference(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
    against: web::Query<Against>,
) -> Result<web::Json<Vec<FileDiff>>, Problem> {
    let (course, id) = path.into_inner();
    let sees = caller.sees();
    let (older, newer) = blocking(&state, move |s| {
        let of = |id| own(s.store.hand_in(course, id)?, sees);
        Ok((of(against.from)?, of(id)?))
    })
    .await?;
    let whose = |h: &store::HandIn| (h.summary.student, h.summary.exercise);
    if whose(&older) != whose(&newer) {
        return Err(Problem::bad_input("These are not two attempts of one student at one exercise; choose another."));
    }
    let made = web::block(move || {
        let compared = |is_design: bool| {
            let is_meant = |f: &&NewFile| (f.kind == FileKind::Design) == is_design;
            let old: Vec<_> =
                older.files.iter().filter(is_meant).map(|f| (f.name.as_str(), f.bytes.as_slice())).collect();
            let new: Vec<_> =
                newer.files.iter().filter(is_meant).map(|f| (f.name.as_str(), f.bytes.as_slice())).collect();
            diff::files(&old, &new)
        };
        [compared(true), compared(false)].concat()
    })
    .await;
    made.map(web::Json).map_err(Problem::our_fault)
}

/// Asks for a new check against the newest revision of the exercise.
#[utoipa::path(params(("course" = i64, Path), ("hand_in" = i64, Path)), responses((status = 202)))]
#[post("/courses/{course}/hand-ins/{hand_in}/recheck")]
pub(super) async fn recheck(
    state: web::Data<AppState>,
    path: web::Path<(CourseId, HandInId)>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    blocking(&state, move |s| s.store.request_check(course, id, s.now())).await?;
    state.news.tell();
    Ok(HttpResponse::Accepted().finish())
}

/// Signs a hand-in off at the bench.
#[utoipa::path(params(("course" = i64, Path), ("hand_in" = i64, Path)), responses((status = 204)))]
#[post("/courses/{course}/hand-ins/{hand_in}/sign-off")]
pub(super) async fn sign_off(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    blocking(&state, move |s| s.store.sign_off(course, id, caller.person, s.now())).await?;
    Ok(HttpResponse::NoContent().finish())
}

fn decision(kept: store::Override) -> Decision {
    let store::NewOverride { kind, marks, reason } = kept.decided;
    Decision { kind, marks, reason, by: kept.by, at: kept.at }
}

/// Longest reason, in characters.
const MOST_REASON: usize = 500;

/// Decides on a hand-in otherwise than the check, with a reason.
#[utoipa::path(params(("course" = i64, Path), ("hand_in" = i64, Path)), request_body = DecisionAsk,
    responses((status = 204)))]
#[put("/courses/{course}/hand-ins/{hand_in}/decision")]
pub(super) async fn decide(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
    body: web::Json<DecisionAsk>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    let DecisionAsk { kind, marks, reason } = body.into_inner();
    let reason = reason.split_whitespace().collect::<Vec<_>>().join(" ");
    if !["pass", "partly", "fail"].contains(&kind.as_str()) {
        return Err(Problem::bad_input(format!("`{kind}` is no outcome; choose pass, partly or fail.")));
    }
    match reason.chars().count() {
        0 => return Err(Problem::bad_input("There is no reason; say in a sentence why the verdict is overridden.")),
        1..=MOST_REASON => {}
        n => {
            let message = format!("The reason has {n} characters; at most {MOST_REASON} are kept.");
            return Err(Problem::bad_input(message));
        }
    }
    let out_of = blocking(&state, move |s| Ok(s.store.hand_in(course, id)?.summary.marks.map(|m| m.1))).await?;
    if let Some(marks) = marks {
        let Some(most) = out_of else {
            return Err(Problem::bad_input("Nothing of this hand-in is marked; leave the marks empty."));
        };
        if !(0.0..=most).contains(&marks) {
            return Err(Problem::bad_input(format!("Marks go from 0 to {}; correct them.", verdict::number(most))));
        }
    }
    let new = store::NewOverride { kind, marks, reason };
    blocking(&state, move |s| s.store.decide(course, id, &new, (caller.person, s.now()))).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Withdraws a decision: the check's own verdict counts again.
#[utoipa::path(params(("course" = i64, Path), ("hand_in" = i64, Path)), responses((status = 204)))]
#[delete("/courses/{course}/hand-ins/{hand_in}/decision")]
pub(super) async fn withdraw(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    blocking(&state, move |s| s.store.withdraw_decision(course, id, (caller.person, s.now()))).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_of_files_lose_their_folders_and_tricks() {
        assert_eq!(plain_name(Some("../../etc/hopper.v"), "d.v"), "hopper.v");
        assert_eq!(plain_name(Some("C:\\lab\\hopper.v"), "d.v"), "hopper.v");
        assert_eq!(plain_name(Some(".."), "d.v"), "d.v");
        assert_eq!(plain_name(Some("a\u{1b}[2J.v"), "d.v"), "a[2J.v");
    }
}
