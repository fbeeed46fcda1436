//! The structure of a hand-in as a drawing, and what its wires carry on a row.

use super::bench::with_exercise;
use super::blocking;
use crate::caller::Caller;
use crate::jobs::hand_in_of;
use crate::problem::Problem;
use crate::runs::RunName;
use crate::state::AppState;
use crate::terms;
use actix_web::get;
use actix_web::web;
use serde::Deserialize;
use std::time::Duration;
use store::{CourseId, HandInId};
use verdict::Verdict;
use views::{Structure, StructureLevels, StructureView};
use worker::{Answer, DrawingAsk, Question, SentExercise, SentFile};

/// A drawing that takes longer is given up.
const PATIENCE: Duration = Duration::from_secs(10);

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

/// The exercise, the files and what is asked of them.
async fn asked(
    state: &web::Data<AppState>,
    caller: &Caller,
    path: web::Path<(CourseId, HandInId)>,
    query: web::Query<Asked>,
) -> Result<(SentExercise, Vec<SentFile>, DrawingAsk), Problem> {
    let (course, id) = path.into_inner();
    let (hand_in, stored) = with_exercise(state, caller, course, id).await?;
    let files = hand_in_of(&hand_in.files, None).files.into_iter().map(SentFile::from).collect();
    let asked = query.into_inner();
    let kept = hand_in.verdict.as_ref().filter(|_| asked.finding.is_some());
    let mut verdict: Option<Verdict> =
        kept.map(|v| serde_json::from_str(&v.verdict.json)).transpose().map_err(Problem::our_fault)?;
    if let (Some(verdict), true) = (&mut verdict, caller.sees().is_some()) {
        let (asking, exercise) = (caller.clone(), hand_in.summary.exercise);
        let reveal = blocking(state, move |s| terms::reveal(s, &asking, course, exercise)).await?;
        verdict.for_student(reveal, exercise::shows_answers(&stored.revision.text));
    }
    let findings = verdict.map(|v| v.findings).unwrap_or_default();
    let evidence = asked.finding.and_then(|k| findings.get(k)?.evidence.clone());
    let ask = DrawingAsk {
        top: hand_in.top,
        view: asked.view,
        output: asked.output.filter(|o| !o.is_empty()),
        row: asked.row,
        moment: evidence.filter(|e| !e.state.is_empty()),
    };
    Ok((SentExercise::alone(stored.revision.text), files, ask))
}

/// The drawing.
#[utoipa::path(params(("course" = i64, Path), ("hand_in" = i64, Path), Asked),
    responses((status = 200, body = Structure)))]
#[get("/courses/{course}/hand-ins/{hand_in}/structure")]
pub(super) async fn drawing(
    state: web::Data<AppState>,
    caller: Caller,
    name: RunName,
    path: web::Path<(CourseId, HandInId)>,
    query: web::Query<Asked>,
) -> Result<web::Json<Structure>, Problem> {
    let (exercise, files, ask) = asked(&state, &caller, path, query).await?;
    let run = state.runs.begin(&caller, name);
    match run.ask(&state, Question::Drawing { exercise, files, ask }, PATIENCE).await? {
        Answer::Drawing(drawing) => Ok(web::Json(*drawing)),
        _ => Err(Problem::our_fault("a worker answered something else")),
    }
}

/// What its wires carry on a row. Which outputs are wrong there, staff are told.
#[utoipa::path(params(("course" = i64, Path), ("hand_in" = i64, Path), Asked),
    responses((status = 200, body = StructureLevels)))]
#[get("/courses/{course}/hand-ins/{hand_in}/structure/levels")]
pub(super) async fn levels(
    state: web::Data<AppState>,
    caller: Caller,
    name: RunName,
    path: web::Path<(CourseId, HandInId)>,
    query: web::Query<Asked>,
) -> Result<web::Json<StructureLevels>, Problem> {
    let (exercise, files, ask) = asked(&state, &caller, path, query).await?;
    let hides = !caller.is_staff() && ask.output.is_none() && ask.moment.is_none();
    let run = state.runs.begin(&caller, name);
    let Answer::Levels(mut found) = run.ask(&state, Question::Levels { exercise, files, ask }, PATIENCE).await? else {
        return Err(Problem::our_fault("a worker answered something else"));
    };
    if hides {
        (found.deciding, found.of) = (Vec::new(), Vec::new());
    }
    Ok(web::Json(*found))
}
