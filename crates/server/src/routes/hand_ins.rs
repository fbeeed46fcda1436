//! Hand-ins: sending, listing, reading with the verdict, rechecking and signing off.

use super::blocking;
use super::exercises::{board_info, expected_columns};
use crate::app::AppState;
use crate::caller::Caller;
use crate::jobs::nothing_beside;
use crate::pack;
use crate::problem::Problem;
use crate::wire::{Cell, Column, FileText, HandInKept, HandInLine, HandInPage, ProblemBody};
use actix_multipart::form::MultipartForm;
use actix_multipart::form::bytes::Bytes;
use actix_multipart::form::text::Text;
use actix_web::{HttpResponse, web};
use check::{Exercise, Verdict};
use logic::Notation;
use store::{CourseId, ExerciseId, FileKind, HandInId, HandInSummary, NewFile, NewHandIn, StoreError};

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
    }
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
#[utoipa::path(get, path = "/api/courses/{course}/exercises/{exercise}/hand-ins",
    params(("course" = i64, Path), ("exercise" = i64, Path)), responses((status = 200, body = [HandInLine])))]
pub(super) async fn list(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
) -> Result<web::Json<Vec<HandInLine>>, Problem> {
    let (course, exercise) = path.into_inner();
    let found = blocking(&state, move |s| s.store.hand_ins(course, exercise, caller.sees())).await?;
    Ok(web::Json(found.iter().map(line).collect()))
}

/// What is sent: design files, a wiring file, the student (for staff) and the top.
#[derive(MultipartForm)]
pub(super) struct Upload {
    files: Vec<Bytes>,
    wiring: Option<Bytes>,
    answers: Option<Text<String>>,
    student: Option<Text<i64>>,
    top: Option<Text<String>>,
}

/// The last part of a path, without characters that mean something to a file system or a terminal.
fn plain_name(given: Option<&str>, default: &str) -> String {
    let last = given.unwrap_or(default).rsplit(['/', '\\']).next().unwrap_or(default);
    let clean: String = last.chars().filter(|c| !c.is_control() && !"<>:\"|?*".contains(*c)).take(100).collect();
    if clean.trim_matches('.').is_empty() { default.into() } else { clean }
}

/// Keeps a hand-in and asks for its check. When this answers, the hand-in is on the disk.
#[utoipa::path(post, path = "/api/courses/{course}/exercises/{exercise}/hand-ins",
    params(("course" = i64, Path), ("exercise" = i64, Path)),
    responses((status = 201, body = HandInKept), (status = 413, body = ProblemBody), (status = 422, body = ProblemBody)))]
pub(super) async fn add(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    form: Result<MultipartForm<Upload>, actix_web::Error>,
) -> Result<HttpResponse, actix_web::Error> {
    let upload = match form {
        Ok(form) => form.into_inner(),
        Err(e) if e.as_error::<Problem>().is_some() => return Err(e),
        Err(e) => return Err(Problem::bad_input(format!("The files did not arrive as a form: {e}.")).into()),
    };
    Ok(keep(&state, &caller, path.into_inner(), upload).await?)
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
    if upload.files.len() > 64 {
        return Err(Problem::bad_input("A hand-in holds at most 64 files; leave out what isn't the design."));
    }
    let student = match (caller.is_staff(), upload.student.map(|t| t.into_inner())) {
        (true, Some(student)) => student,
        (true, None) => return Err(Problem::bad_input("It isn't said whose hand-in this is; choose a student.")),
        (false, Some(other)) if other != caller.person => return Err(Problem::not_allowed()),
        (false, _) => caller.person,
    };
    let mut files = Vec::new();
    for (i, file) in upload.files.into_iter().enumerate() {
        let name = plain_name(file.file_name.as_deref(), &format!("design{}.v", i + 1));
        if files.iter().any(|f: &NewFile| f.name == name) {
            return Err(Problem::bad_input(format!("Two files are called `{name}`; rename one.")));
        }
        files.push(NewFile { kind: FileKind::Design, name, bytes: file.data.to_vec() });
    }
    if let Some(wiring) = upload.wiring {
        let name = plain_name(wiring.file_name.as_deref(), "wiring.csv");
        files.push(NewFile { kind: FileKind::Wiring, name, bytes: wiring.data.to_vec() });
    }
    if let Some(answers) = upload.answers.map(|t| t.into_inner()).filter(|t| !t.trim().is_empty()) {
        files.push(NewFile { kind: FileKind::Answers, name: "answers.toml".into(), bytes: answers.into_bytes() });
    }
    let top = upload.top.map(|t| t.into_inner()).filter(|t| !t.trim().is_empty());
    let new = NewHandIn { exercise, student, submitted_by: caller.person, top, files };
    let (id, attempt) = blocking(state, move |s| s.store.add_hand_in(course, &new, s.now())).await?;
    state.jobs.request(course, id);
    Ok(HttpResponse::Created().json(HandInKept { id, attempt }))
}

pub(super) fn columns(text: &str) -> Vec<Column> {
    pack::columns(text).map(|(name, values)| Column { name: name.into(), values: values.into() }).collect()
}

/// A hand-in with its sources, verdict and tables.
#[utoipa::path(get, path = "/api/courses/{course}/hand-ins/{hand_in}",
    params(("course" = i64, Path), ("hand_in" = i64, Path)),
    responses((status = 200, body = HandInPage), (status = 404, body = ProblemBody)))]
pub(super) async fn read(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
) -> Result<web::Json<HandInPage>, Problem> {
    let (course, id) = path.into_inner();
    let sees = caller.sees();
    let (hand_in, stored, attempts) = blocking(&state, move |s| {
        let hand_in = own(s.store.hand_in(course, id)?, sees)?;
        let (exercise, student) = (hand_in.summary.exercise, hand_in.summary.student);
        Ok((hand_in, s.store.exercise(course, exercise)?, s.store.hand_ins(course, exercise, Some(student))?))
    })
    .await?;
    let exercise = Exercise::load(&stored.revision.text, &nothing_beside).map_err(Problem::our_fault)?;
    let kept = hand_in.verdict.map(|v| v.verdict);
    let mut verdict: Option<Verdict> =
        kept.as_ref().map(|v| serde_json::from_str(&v.json)).transpose().map_err(Problem::our_fault)?;
    if let (Some(verdict), true) = (&mut verdict, sees.is_some()) {
        verdict.findings.retain(|f| !f.staff_only);
        // What a near miss is, a student may read; how to put it right is the exercise's point.
        verdict.near_misses.iter_mut().for_each(check::NearMiss::hide_repair);
    }
    let text = |f: &NewFile| base::SourceFile::decode(&f.name, &f.bytes).ok().map(|s| s.text);
    let kind = |f: &NewFile| match f.kind {
        FileKind::Wiring => "wiring",
        FileKind::Answers => "answers",
        FileKind::Design => "design",
    };
    let takes = verdict.as_ref().and_then(|v| v.resources).map(|r| r.sentence());
    Ok(web::Json(HandInPage {
        id,
        exercise: stored.id,
        title: stored.revision.title,
        student: hand_in.summary.student_name.clone(),
        cell: cell(&hand_in.summary),
        submitted_at: hand_in.summary.submitted_at,
        files: hand_in
            .files
            .iter()
            .map(|f| FileText { name: f.name.clone(), kind: kind(f).into(), text: text(f) })
            .collect(),
        headline: kept.as_ref().map(|v| v.headline.clone()),
        actual: kept.as_ref().and_then(|v| v.actual.as_deref()).map(columns).unwrap_or_default(),
        has_image: kept.as_ref().is_some_and(|v| v.image.is_some()),
        clocked: exercise.clocked.is_some(),
        takes,
        verdict,
        inputs: exercise.expected.inputs.clone(),
        expected: if sees.is_none() { expected_columns(&exercise) } else { Vec::new() },
        terms: if sees.is_none() { check::cover_terms(&exercise, Notation::default()) } else { Vec::new() },
        board: board_info(&exercise),
        attempts: attempts.iter().map(line).collect(),
    }))
}

/// Another student's hand-in is not there.
pub(super) fn own(hand_in: store::HandIn, sees: Option<i64>) -> Result<store::HandIn, StoreError> {
    match sees {
        Some(person) if person != hand_in.summary.student => Err(StoreError::NotFound("hand-in")),
        _ => Ok(hand_in),
    }
}

/// Asks for a new check against the newest revision of the exercise.
#[utoipa::path(post, path = "/api/courses/{course}/hand-ins/{hand_in}/recheck",
    params(("course" = i64, Path), ("hand_in" = i64, Path)), responses((status = 202)))]
pub(super) async fn recheck(
    state: web::Data<AppState>,
    path: web::Path<(CourseId, HandInId)>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    blocking(&state, move |s| s.store.hand_in(course, id).map(|_| ())).await?;
    state.jobs.request(course, id);
    Ok(HttpResponse::Accepted().finish())
}

/// Signs a hand-in off at the bench.
#[utoipa::path(post, path = "/api/courses/{course}/hand-ins/{hand_in}/sign-off",
    params(("course" = i64, Path), ("hand_in" = i64, Path)), responses((status = 204)))]
pub(super) async fn sign_off(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    blocking(&state, move |s| s.store.sign_off(course, id, caller.person, s.now())).await?;
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
