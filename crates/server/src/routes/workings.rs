//! The workings of an exercise: its signals and behaviour as they are typed, and all that follows from them.

use super::blocking;
use super::drafts::{standing, uncollided};
use super::exercises::{expected_columns, port_info};
use crate::caller::Caller;
use crate::jobs::nothing_beside;
use crate::problem::Problem;
use crate::state::AppState;
use crate::wire::{ExerciseSaved, FreeLabels, WorkingsRequest, WorkingsSave, WorkingsView};
use actix_web::web;
use actix_web::{get, post, put};
use derive::{DeriveOptions, derive, exports};
use exercise::{ExerciseForm, FormEdit, Worked};
use logic::{Effort, Notation};
use serde::Deserialize;
use store::{CourseId, ExerciseId, NewDraft, Working};

/// Most inputs whose forms the page shows, and up to which it shows everything.
const MAX_INPUTS: usize = 12;
const FULL_INPUTS: usize = 8;
/// Most outputs.
const MAX_OUTPUTS: usize = 32;

/// What a page asks for beside the draft.
#[derive(Deserialize)]
pub(super) struct Wishes {
    notation: Option<String>,
    shared: Option<bool>,
}

fn view(worked: Worked, known: Option<&Working>, notation: &str, shared: bool) -> WorkingsView {
    let mut view = WorkingsView {
        version: known.map_or(0, |w| w.version),
        standing: known.map(standing),
        draft: worked.draft,
        file: worked.text,
        problem: worked.problem,
        warnings: Vec::new(),
        rules: Vec::new(),
        labels: FreeLabels { inputs: Vec::new(), outputs: Vec::new() },
        ports: Vec::new(),
        columns: Vec::new(),
        digit: Vec::new(),
        digit_active_low: false,
        derivation: None,
        too_large: None,
        exports: Vec::new(),
    };
    if let Ok(board) = board::Board::shipped(&view.draft.parts.wiring.board) {
        let of = |drives: bool| {
            let ends = board.terminals().iter().filter(|t| t.drives == drives);
            ends.map(|t| t.label.clone()).collect()
        };
        view.labels = FreeLabels { inputs: of(true), outputs: of(false) };
    }
    let Some(exercise) = worked.exercise else { return view };
    view.rules = exercise.rule_sentences();
    view.warnings.clone_from(&exercise.warnings);
    view.ports = exercise.ports.iter().map(port_info).collect();
    if let Some((outputs, active_low)) = &exercise.digit {
        view.digit.clone_from(outputs);
        view.digit_active_low = *active_low;
    }
    if exercise.clocked().is_some() {
        view.too_large = Some(
            "This exercise is clocked: its rule stands on its page, and there is no table to work through.".into(),
        );
        return view;
    }
    let inputs = exercise.input_bits();
    if inputs > MAX_INPUTS || exercise.table().outputs.len() > MAX_OUTPUTS {
        view.too_large = Some(format!(
            "Tables of at most {MAX_INPUTS} input bits and {MAX_OUTPUTS} outputs are worked through here; use `zesty-gate derive` for larger ones."
        ));
        return view;
    }
    view.columns = expected_columns(&exercise);
    let small = inputs <= FULL_INPUTS;
    let options = DeriveOptions {
        notation: Notation::from_key(notation).unwrap_or_default(),
        // A page has to answer at once: hard cases are marked as not proved.
        effort: Effort { work: if small { 2_000_000 } else { 200_000_000 }, covers: 16, ..Effort::default() },
        steps: small,
        shared,
        canonical: small,
    };
    let derivation = derive(exercise.table(), &options);
    view.exports = exports(&exercise.title, &exercise.ports, &derivation);
    view.derivation = Some(derivation);
    view
}

/// The workings of a saved exercise.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path), ("notation" = Option<String>, Query), ("shared" = Option<bool>, Query)),
    responses((status = 200, body = WorkingsView)))]
#[get("/courses/{course}/exercises/{exercise}/workings")]
pub(super) async fn read(
    state: web::Data<AppState>,
    path: web::Path<(CourseId, ExerciseId)>,
    wishes: web::Query<Wishes>,
) -> Result<web::Json<WorkingsView>, Problem> {
    let (course, id) = path.into_inner();
    let wishes = wishes.into_inner();
    let found = blocking(&state, move |s| {
        let working = s.store.working(course, id)?;
        let worked = ExerciseForm::read(&working.text).work(&working.text, None, &nothing_beside);
        let notation = wishes.notation.unwrap_or_default();
        Ok(view(worked, Some(&working), &notation, wishes.shared.unwrap_or(false)))
    })
    .await?;
    Ok(web::Json(found))
}

/// Works a draft through without saving it.
#[utoipa::path(params(("course" = i64, Path)),
    request_body = WorkingsRequest,
    responses((status = 200, body = WorkingsView)))]
#[post("/courses/{course}/workings")]
pub(super) async fn work(
    state: web::Data<AppState>,
    course: web::Path<CourseId>,
    body: web::Json<WorkingsRequest>,
) -> Result<web::Json<WorkingsView>, Problem> {
    let course = course.into_inner();
    let request = body.into_inner();
    let found = blocking(&state, move |s| {
        let known = request.exercise.map(|id| s.store.working(course, id)).transpose()?;
        let file = known.as_ref().map_or("", |w| &w.text);
        let edit: Option<&FormEdit> = request.edit.as_ref();
        let worked = request.draft.work(file, edit, &nothing_beside);
        Ok(view(worked, known.as_ref(), &request.notation, request.shared))
    })
    .await?;
    Ok(web::Json(found))
}

/// Saves the draft; students see it when it is published.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)), request_body = WorkingsSave,
    responses((status = 200, body = ExerciseSaved)))]
#[put("/courses/{course}/exercises/{exercise}/workings")]
pub(super) async fn save(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<WorkingsSave>,
) -> Result<web::Json<ExerciseSaved>, Problem> {
    let (course, id) = path.into_inner();
    let request = body.into_inner();
    let outcome = blocking(&state, move |s| {
        let file = s.store.working(course, id)?.text;
        let worked = request.draft.work(&file, None, &nothing_beside);
        let (Some(text), Some(exercise)) = (worked.text, worked.exercise) else {
            return Ok(Err(Problem::bad_input(worked.problem.map_or_else(String::new, |p| p.message))));
        };
        let draft = NewDraft { expected: request.version, title: &exercise.title, text: &text, author: caller.person };
        let saved = uncollided(s.store.save_draft(course, id, &draft, s.now()))?;
        Ok(saved.map(|version| ExerciseSaved { id, version, warnings: exercise.warnings }))
    })
    .await?;
    outcome.map(web::Json)
}
