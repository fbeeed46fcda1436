//! The scratch pad: a text is checked as it is typed and not kept; and the list of finding codes.

use super::{blocking, hand_ins::columns};
use crate::caller::Caller;
use crate::pack;
use crate::problem::Problem;
use crate::runs::RunName;
use crate::state::AppState;
use crate::terms;
use crate::uploads::MOST_FILES;
use crate::wire::{PadFile, TryRequest, TryView};
use actix_web::{HttpResponse, web};
use actix_web::{delete, get, post};
use check::HandIn;
use elab::HandInFile;
use std::time::Duration;
use store::{CourseId, ExerciseId};
use verdict::CodeEntry;
use verdict::Reveal;
use worker::{Answer, Question, SentExercise};

/// Longest text that is tried, in bytes.
const MAX_TEXT: usize = 256 << 10;
/// A check of the scratch pad that takes longer is given up.
const PATIENCE: Duration = Duration::from_secs(4);

/// Every finding code with its meaning and examples.
#[utoipa::path(responses((status = 200, body = [CodeEntry])))]
#[get("/finding-codes")]
pub(super) async fn codes() -> web::Json<&'static [CodeEntry]> {
    web::Json(verdict::finding_codes())
}

/// Checks a text against an exercise without keeping it.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path), ("x-run" = Option<String>, Header, description = "by which it can be ended")),
    request_body = TryRequest,
    responses((status = 200, body = TryView)))]
#[post("/courses/{course}/exercises/{exercise}/try")]
pub(super) async fn try_out(
    state: web::Data<AppState>,
    caller: Caller,
    name: RunName,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<TryRequest>,
) -> Result<web::Json<TryView>, Problem> {
    let (course, id) = path.into_inner();
    let request = body.into_inner();
    let text = |name: &str, text: String| PadFile { name: name.into(), text };
    let answers = request.answers.map(|a| text("answers.toml", a));
    sized(request.files.iter().chain(&request.wiring).chain(&answers))?;
    let is_staff = caller.is_staff();
    let asking = caller.clone();
    let (stored, reveal) = blocking(&state, move |s| {
        Ok((s.store.exercise_seen(course, id, is_staff)?, terms::reveal(s, &asking, course, id)?))
    })
    .await?;
    let sent = |f: PadFile| HandInFile { name: f.name, bytes: f.text.into_bytes() };
    let hand_in = HandIn {
        files: request.files.into_iter().map(sent).collect(),
        top: request.top,
        wiring: request.wiring.map(sent),
        answers: answers.map(sent),
        quick: true,
        ..HandIn::default()
    };
    let shows_answers = exercise::shows_answers(&stored.revision.text);
    let exercise = SentExercise::alone(stored.revision.text);
    let run = state.runs.begin(&caller, name);
    let Answer::Checked(checked) =
        run.ask(&state, Question::Check { exercise, hand_in: hand_in.into() }, PATIENCE).await?
    else {
        return Err(Problem::our_fault("a worker answered something else"));
    };
    let checked = checked.into_checked();
    let mut verdict = checked.verdict;
    if caller.sees().is_some() {
        verdict.for_student(reveal, shows_answers);
    }
    let actual = checked.actual.as_ref().filter(|_| reveal == Reveal::All);
    let actual = actual.map(|a| columns(&pack::pack(a))).unwrap_or_default();
    Ok(web::Json(TryView { headline: verdict.headline(), verdict, actual }))
}

/// Ends a check or a run of waves that the caller named, at once; one that is over already is no error.
#[utoipa::path(params(("run" = String, Path)),
    responses((status = 204)))]
#[delete("/runs/{run}")]
pub(super) async fn stop(state: web::Data<AppState>, caller: Caller, name: web::Path<String>) -> HttpResponse {
    state.runs.stop(&caller, &name);
    HttpResponse::NoContent().finish()
}

pub(super) fn sized<'f>(files: impl IntoIterator<Item = &'f PadFile>) -> Result<(), Problem> {
    let (count, bytes) = files.into_iter().fold((0, 0), |(n, sum), f| (n + 1, sum + f.text.len()));
    if bytes > MAX_TEXT || count > MOST_FILES + 2 {
        return Err(Problem::bad_input(
            "The scratch pad takes at most 64 files of 256 KiB together; hand larger ones in.",
        ));
    }
    Ok(())
}
