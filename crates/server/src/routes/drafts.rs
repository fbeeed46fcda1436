//! Drafts of exercises: what publishing will do, publishing, discarding, earlier revisions, putting aside.

use super::blocking;
use crate::caller::Caller;
use crate::checked::{basis, recounted};
use crate::diff::lines;
use crate::problem::Problem;
use crate::runs::RunName;
use crate::state::AppState;
use crate::wire::{
    ArchiveAsk, DraftStanding, ExerciseSaved, MoveAsk, OwnCheck, PublishPreview, RevisionDiff, RevisionInfo, VersionAsk,
};
use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use actix_web::{delete, get, post, put};
use check::HandIn;
use elab::HandInFile;
use std::time::Duration;
use store::{CourseId, ExerciseId, StoreError, Working};
use worker::{Answer, Question, SentExercise};

/// A check of a reference that takes longer is given up.
const PATIENCE: Duration = Duration::from_secs(10);

pub(super) fn standing(working: &Working) -> DraftStanding {
    DraftStanding {
        published: working.published,
        editor: working.draft.as_ref().map(|d| d.0.clone()),
        saved_at: working.draft.as_ref().map(|d| d.1),
        archived: working.is_archived,
    }
}

/// Somebody else was faster.
pub(super) fn collided() -> Problem {
    Problem::new(
        StatusCode::CONFLICT,
        "Changed meanwhile",
        "Somebody saved this exercise since you opened it; what you typed stays here. Load the page again to see theirs.",
    )
}

/// The outcome of a change that another one may have overtaken.
pub(super) fn uncollided<T>(result: Result<T, StoreError>) -> Result<Result<T, Problem>, StoreError> {
    match result {
        Ok(value) => Ok(Ok(value)),
        Err(StoreError::Taken(_)) => Ok(Err(collided())),
        Err(other) => Err(other),
    }
}

/// What publishing the draft will do.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)),
    responses((status = 200, body = PublishPreview)))]
#[get("/courses/{course}/exercises/{exercise}/publish")]
pub(super) async fn preview(
    state: web::Data<AppState>,
    path: web::Path<(CourseId, ExerciseId)>,
) -> Result<web::Json<PublishPreview>, Problem> {
    let (course, id) = path.into_inner();
    let found = blocking(&state, move |s| {
        let working = s.store.working(course, id)?;
        let now = basis(&working.text);
        let before = working.published.map(|_| s.store.exercise(course, id)).transpose()?;
        let before = before.map(|b| basis(&b.revision.text));
        let effect = s.store.effect(id, &now)?;
        Ok(PublishPreview {
            version: working.version,
            has_draft: working.draft.is_some(),
            is_first: before.is_none(),
            changes_checks: before.as_ref().is_none_or(|b| b.checks != now.checks),
            changes_marks: before.is_some_and(|b| b.marking != now.marking),
            stale: effect.stale,
            recounted: effect.recounted,
        })
    });
    found.await.map(web::Json)
}

/// What the exercise's own check says of the reference that is attached to it; null where none is.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)),
    responses((status = 200, body = Option<OwnCheck>)))]
#[get("/courses/{course}/exercises/{exercise}/own-check")]
pub(super) async fn own_check(
    state: web::Data<AppState>,
    caller: Caller,
    name: RunName,
    path: web::Path<(CourseId, ExerciseId)>,
) -> Result<web::Json<Option<OwnCheck>>, Problem> {
    let (course, id) = path.into_inner();
    let text = blocking(&state, move |s| Ok(s.store.working(course, id)?.text)).await?;
    let parts = exercise::ExerciseForm::read(&text).parts;
    let files = parts.attachments.into_iter().filter(|a| a.purpose == "reference");
    let files: Vec<HandInFile> = files.map(|a| HandInFile { name: a.name, bytes: a.text.into_bytes() }).collect();
    if files.is_empty() {
        return Ok(web::Json(None));
    }
    let top = Some(parts.reference_top).filter(|t| !t.is_empty());
    let hand_in = HandIn { files, top, ..HandIn::default() };
    let (exercise, run) = (SentExercise::alone(text), state.runs.begin(&caller, name));
    let question = Question::Check { exercise: exercise.clone(), hand_in: hand_in.clone().into() };
    let Answer::Checked(checked) = run.ask(&state, question, PATIENCE).await? else {
        return Err(Problem::our_fault("a worker answered something else"));
    };
    let verdict = checked.into_checked().verdict;
    let mut apart = check::ToldApart::default();
    if verdict.verdict == verdict::VerdictKind::Pass {
        let question = Question::ToldApart { exercise, hand_in: hand_in.into() };
        // Where that takes too long, it is left out.
        if let Ok(Answer::ToldApart(found)) = run.ask(&state, question, PATIENCE).await {
            apart = found;
        }
    }
    let findings = verdict.findings.iter().filter(|f| f.severity != "note").map(|f| f.message.clone());
    Ok(web::Json(Some(OwnCheck {
        verdict: verdict.verdict,
        headline: verdict.headline(),
        findings: findings.take(20).collect(),
        faults_tried: apart.tried,
        faults_told: apart.told,
        faults_missed: apart.missed,
    })))
}

/// Publishes the draft as a revision.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)), request_body = VersionAsk,
    responses((status = 200, body = ExerciseSaved)))]
#[post("/courses/{course}/exercises/{exercise}/publish")]
pub(super) async fn publish(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<VersionAsk>,
) -> Result<web::Json<ExerciseSaved>, Problem> {
    let (course, id) = path.into_inner();
    let outcome = blocking(&state, move |s| {
        uncollided(s.store.publish(course, id, (body.version, &basis), caller.person, s.now()))
    })
    .await?;
    let revision = outcome?;
    let exercise = state.exercises.saved(&revision.text).await?;
    let marked = exercise.clone();
    blocking(&state, move |s| s.store.recount(id, &|old| recounted(&marked, old), s.now())).await?;
    Ok(web::Json(ExerciseSaved {
        id,
        version: blocking(&state, move |s| Ok(s.store.working(course, id)?.version)).await?,
        warnings: exercise.warnings.clone(),
    }))
}

/// Forgets the draft; an exercise that was never published goes with it.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)), request_body = VersionAsk,
    responses((status = 204)))]
#[delete("/courses/{course}/exercises/{exercise}/draft")]
pub(super) async fn discard(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<VersionAsk>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    let by = caller.person;
    blocking(&state, move |s| uncollided(s.store.discard_draft(course, id, body.version, (by, s.now())))).await??;
    Ok(HttpResponse::NoContent().finish())
}

/// Puts an exercise aside, or takes it up again.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)), request_body = ArchiveAsk,
    responses((status = 204)))]
#[put("/courses/{course}/exercises/{exercise}/archived")]
pub(super) async fn archive(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<ArchiveAsk>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    blocking(&state, move |s| s.store.archive(course, id, body.archived, (caller.person, s.now()))).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Lets an exercise change places with its neighbour in the order of the course.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)), request_body = MoveAsk,
    responses((status = 204)))]
#[put("/courses/{course}/exercises/{exercise}/place")]
pub(super) async fn place(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<MoveAsk>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    blocking(&state, move |s| s.store.move_exercise(course, id, body.earlier, (caller.person, s.now()))).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Makes another exercise of this one, as it is worked at, under a name of its own; students see it when it is published.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)),
    responses((status = 200, body = ExerciseSaved)))]
#[post("/courses/{course}/exercises/{exercise}/copy")]
pub(super) async fn copy(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
) -> Result<web::Json<ExerciseSaved>, Problem> {
    let (course, id) = path.into_inner();
    let id = blocking(&state, move |s| {
        let working = s.store.working(course, id)?;
        let title = format!("{} (copy)", working.title);
        let text = exercise::retitled(&working.text, &title);
        s.store.add_draft(course, &title, &text, caller.person, s.now())
    })
    .await?;
    Ok(web::Json(ExerciseSaved { id, version: 1, warnings: Vec::new() }))
}

/// The published revisions, the newest first.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)),
    responses((status = 200, body = [RevisionInfo])))]
#[get("/courses/{course}/exercises/{exercise}/revisions")]
pub(super) async fn revisions(
    state: web::Data<AppState>,
    path: web::Path<(CourseId, ExerciseId)>,
) -> Result<web::Json<Vec<RevisionInfo>>, Problem> {
    let (course, id) = path.into_inner();
    let list = blocking(&state, move |s| {
        s.store.working(course, id)?;
        s.store.revisions(course, id)
    })
    .await?;
    let info = |(revision, author, at): (store::Revision, String, i64)| RevisionInfo {
        number: revision.number,
        title: revision.title,
        author,
        at,
    };
    Ok(web::Json(list.into_iter().map(info).collect()))
}

/// Which two texts are held against each other.
#[derive(serde::Deserialize, utoipa::IntoParams)]
pub(super) struct Between {
    /// Number of the older revision; 0 for nothing.
    from: i64,
    /// Number of the newer one; none for what authors work at.
    to: Option<i64>,
}

/// What differs between two revisions, or a revision and the draft.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path), Between),
    responses((status = 200, body = RevisionDiff)))]
#[get("/courses/{course}/exercises/{exercise}/difference")]
pub(super) async fn difference(
    state: web::Data<AppState>,
    path: web::Path<(CourseId, ExerciseId)>,
    between: web::Query<Between>,
) -> Result<web::Json<RevisionDiff>, Problem> {
    let (course, id) = path.into_inner();
    let between = between.into_inner();
    let found = blocking(&state, move |s| {
        let list = s.store.revisions(course, id)?;
        let text = |number: i64| {
            let found = list.iter().find(|(r, ..)| r.number == number).map(|(r, ..)| r.text.clone());
            found.ok_or(StoreError::NotFound("revision"))
        };
        let from = if between.from == 0 { String::new() } else { text(between.from)? };
        let to = match between.to {
            Some(number) => text(number)?,
            None => s.store.working(course, id)?.text,
        };
        Ok(RevisionDiff { lines: lines(&from, &to), text: to })
    });
    found.await.map(web::Json)
}
