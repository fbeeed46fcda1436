//! The structure of a hand-in as a drawing, and what its wires carry on a row.

use super::bench::with_exercise;
use crate::app::AppState;
use crate::caller::Caller;
use crate::jobs::{hand_in_of, nothing_beside};
use crate::problem::Problem;
use crate::wire::ProblemBody;
use actix_web::web;
use check::{At, Exercise, HandInFile, Structure, StructureLevels, StructureRequest, StructureView, Verdict};
use serde::Deserialize;
use store::{CourseId, HandInId};

/// Which drawing: `written` or `mapped`, of everything or of what one output bit depends on; and the row.
#[derive(Deserialize, utoipa::IntoParams)]
pub(super) struct Asked {
    #[serde(default)]
    view: StructureView,
    output: Option<String>,
    /// Input bits, a letter 0 or 1 each.
    #[serde(default)]
    row: String,
    /// The finding, by its place in the verdict, whose clock cycle is looked at instead.
    finding: Option<usize>,
}

async fn work<T: Send + 'static>(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
    query: web::Query<Asked>,
    work: impl FnOnce(&[HandInFile], &StructureRequest<'_>, At<'_>) -> Result<T, String> + Send + 'static,
) -> Result<web::Json<T>, Problem> {
    let (course, id) = path.into_inner();
    let (hand_in, stored) = with_exercise(&state, &caller, course, id).await?;
    let sees_all = caller.is_staff();
    let _turn = state.tries.acquire().await.map_err(Problem::our_fault)?;
    let done = web::block(move || {
        let exercise = Exercise::load(&stored.revision.text, &nothing_beside).map_err(Problem::our_fault)?;
        let files = hand_in_of(&hand_in.files, None).files;
        let asked = query.into_inner();
        let request = StructureRequest {
            exercise: Some(&exercise),
            top: hand_in.top.as_deref(),
            view: asked.view,
            output: asked.output.as_deref().filter(|o| !o.is_empty()),
        };
        let kept = hand_in.verdict.as_ref().filter(|_| asked.finding.is_some());
        let verdict: Option<Verdict> =
            kept.map(|v| serde_json::from_str(&v.verdict.json)).transpose().map_err(Problem::our_fault)?;
        let mut findings = verdict.map(|v| v.findings).unwrap_or_default();
        findings.retain(|f| sees_all || !f.staff_only);
        let evidence = asked.finding.and_then(|k| findings.get(k)?.evidence.as_ref()).filter(|e| !e.state.is_empty());
        let at = evidence.map_or(At::Row(&asked.row), At::Moment);
        work(&files, &request, at).map_err(Problem::bad_input)
    });
    Ok(web::Json(done.await.map_err(Problem::our_fault)??))
}

/// The drawing.
#[utoipa::path(get, path = "/api/courses/{course}/hand-ins/{hand_in}/structure",
    params(("course" = i64, Path), ("hand_in" = i64, Path), Asked),
    responses((status = 200, body = Structure), (status = 404, body = ProblemBody), (status = 422, body = ProblemBody)))]
pub(super) async fn drawing(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
    query: web::Query<Asked>,
) -> Result<web::Json<Structure>, Problem> {
    work(state, caller, path, query, |files, request, _| check::structure(files, request)).await
}

/// What its wires carry on a row. Which outputs are wrong there, staff are told.
#[utoipa::path(get, path = "/api/courses/{course}/hand-ins/{hand_in}/structure/levels",
    params(("course" = i64, Path), ("hand_in" = i64, Path), Asked),
    responses((status = 200, body = StructureLevels), (status = 404, body = ProblemBody), (status = 422, body = ProblemBody)))]
pub(super) async fn levels(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
    query: web::Query<Asked>,
) -> Result<web::Json<StructureLevels>, Problem> {
    let sees_expected = caller.is_staff();
    work(state, caller, path, query, move |files, request, at| {
        let mut found = check::structure_levels(files, request, at)?;
        if !sees_expected && request.output.is_none() && matches!(at, At::Row(_)) {
            (found.deciding, found.of) = (Vec::new(), Vec::new());
        }
        Ok(found)
    })
    .await
}
