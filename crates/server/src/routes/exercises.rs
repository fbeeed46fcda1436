//! Exercises: reading one, and saving its file as the draft.

use super::blocking;
use super::drafts::{standing, uncollided};
use crate::archive;
use crate::caller::Caller;
use crate::problem::Problem;
use crate::state::AppState;
use crate::terms;
use crate::wire::{
    BoardInfo, Column, ExercisePage, ExerciseSaved, ExerciseText, OwnTerms, PartInfo, PlanLine, PortInfo, QuestionInfo,
    StudentRef, TermsAsk, TermsInfo,
};
use actix_web::http::header::CONTENT_DISPOSITION;
use actix_web::{HttpResponse, web};
use actix_web::{get, post, put};
use board::Active;
use exercise::Exercise;
use std::sync::Arc;
use store::{CourseId, ExerciseId, NewDraft, PersonId, Role, StoreError};

/// Most bytes of a packed exercise.
const MAX_PACKED: usize = 2 << 20;

pub(super) fn board_info(exercise: &Exercise) -> Option<BoardInfo> {
    let board = &exercise.wiring.as_ref()?.board;
    let part = |p: &board::Part| PartInfo {
        label: p.label.clone(),
        pin: p.pin.clone(),
        kind: p.kind.key().into(),
        frequency_hz: p.frequency_hz,
        active_low: p.active == Active::Low,
        x: p.x,
        y: p.y,
    };
    Some(BoardInfo {
        title: board.title.clone(),
        device: format!("{} {}", board.device.name, board.device.package),
        parts: board.parts.iter().map(part).collect(),
    })
}

/// The expected outputs, a letter for each row.
pub(super) fn expected_columns(exercise: &Exercise) -> Vec<Column> {
    let values = |o: &logic::OutputColumn| (0..exercise.table().rows()).map(|r| o.value(r).to_char()).collect();
    exercise.table().outputs.iter().map(|o| Column { name: o.name.clone(), values: values(o) }).collect()
}

pub(super) fn port_info(port: &elab::ExercisePort) -> PortInfo {
    PortInfo {
        name: port.name.clone(),
        dir: if port.is_input { "in" } else { "out" }.into(),
        range: port.shape.to_string(),
        bits: port.bit_names().collect(),
    }
}

/// Reads the text of an exercise; what is wrong with it is the sender's to correct.
async fn load(state: &AppState, text: &str) -> Result<Arc<Exercise>, Problem> {
    let found = state.exercises.read(text).await?;
    found.map_err(|e| Problem::bad_input(format!("In the exercise file, {e}")))
}

/// An exercise with its table, board and wiring plan. Students see no expected values.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)),
    responses((status = 200, body = ExercisePage)))]
#[get("/courses/{course}/exercises/{exercise}")]
pub(super) async fn read(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
) -> Result<web::Json<ExercisePage>, Problem> {
    let (course, id) = path.into_inner();
    let sees = caller.sees();
    let (found, members, times) = blocking(&state, move |s| {
        let stored = s.store.exercise_seen(course, id, sees.is_none())?;
        let zone = terms::zone(s, course)?;
        let (terms, own) = match sees {
            None => (Some(terms::info(s.store.terms(course, id)?, &zone)), None),
            Some(student) => {
                let own = terms::own(s, course, id, student)?;
                if !own.terms.is_released(own.now) {
                    return Err(StoreError::NotFound("exercise"));
                }
                (None, Some(own.info(&zone)))
            }
        };
        Ok(((stored, s.store.working(course, id)?), s.store.members(course)?, (terms, own)))
    })
    .await?;
    let exercise = load(&state, &found.0.revision.text).await?;
    let role = caller.role;
    // Starters of a clocked exercise are run, and a table may have a million rows.
    let made = web::block(move || page(&exercise, found, members, (sees, role), times)).await;
    made.map(web::Json).map_err(Problem::our_fault)
}

fn page(
    exercise: &Exercise,
    (stored, working): (store::Exercise, store::Working),
    members: Vec<store::Member>,
    (sees, role): (Option<PersonId>, Option<Role>),
    (terms, own_terms): (Option<TermsInfo>, Option<OwnTerms>),
) -> ExercisePage {
    let mut outputs = expected_columns(exercise);
    if sees.is_some() {
        outputs.iter_mut().for_each(|c| c.values.clear());
    }
    let mut clocked = exercise.clocked().map(|c| c.info.clone());
    if let (Some(info), true) = (&mut clocked, sees.is_some()) {
        info.columns.clear();
        info.rows.clear();
    }
    let wide = exercise.wide().map(|w| if sees.is_some() { Vec::new() } else { w.lines.clone() });
    let plan = exercise.wiring.iter().flat_map(|plan| {
        let bits = exercise.port_bits().into_iter();
        bits.filter_map(|bit| {
            let label = plan.map.get(&bit.name)?;
            let end = &plan.board.terminals()[plan.board.by_label(label)?];
            Some(PlanLine { bit: bit.name, part: end.label.clone(), pin: end.pin.clone() })
        })
    });
    let students = members
        .into_iter()
        .filter(|m| m.role == Role::Student && sees.is_none_or(|id| id == m.id))
        .map(|m| StudentRef { id: m.id, name: m.name, section: m.section });
    // A testbench holds the expected outputs.
    let starters = views::starter(exercise, &base::Budget::hand_in()).unwrap_or_default().into_iter();
    let starters = starters.filter(|f| sees.is_none() || !f.name.contains("_tb."));
    let starters = starters.map(|f| derive::ExportText { kind: f.name, text: f.text }).collect();
    ExercisePage {
        id: stored.id,
        statement: exercise.statement.clone(),
        revision: stored.revision.number,
        version: if sees.is_none() { working.version } else { 0 },
        standing: sees.is_none().then(|| standing(&working)),
        terms,
        own_terms,
        ports: exercise.ports.iter().map(port_info).collect(),
        inputs: exercise.table().inputs.clone(),
        outputs,
        clocked,
        wide,
        rules: exercise.rule_sentences(),
        board: board_info(exercise),
        plan: plan.collect(),
        starters,
        answers: exercise
            .answers
            .iter()
            .map(|q| QuestionInfo {
                output: q.output.clone(),
                ask: q.ask.key().into(),
                minimal: q.minimal,
                marks: q.marks,
            })
            .collect(),
        text: (role == Some(Role::Instructor)).then_some(working.text),
        students: students.collect(),
        title: exercise.title.clone(),
    }
}

/// Adds an exercise from its file.
#[utoipa::path(params(("course" = i64, Path)),
    request_body = ExerciseText,
    responses((status = 200, body = ExerciseSaved)))]
#[post("/courses/{course}/exercises")]
pub(super) async fn add(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
    body: web::Json<ExerciseText>,
) -> Result<web::Json<ExerciseSaved>, Problem> {
    let text = body.into_inner().text;
    let exercise = load(&state, &text).await?;
    let title = exercise.title.clone();
    let id = blocking(&state, move |s| s.store.add_draft(*course, &title, &text, caller.person, s.now())).await?;
    Ok(web::Json(ExerciseSaved { id, version: 1, warnings: exercise.warnings.clone() }))
}

/// Adds an exercise from a zip with its file and its files, or from the file alone; students see it when it is published.
#[utoipa::path(params(("course" = i64, Path)),
    request_body(content = String, content_type = "application/octet-stream"),
    responses((status = 200, body = ExerciseSaved)))]
#[post("/courses/{course}/exercises/import")]
pub(super) async fn import(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
    body: web::Payload,
) -> Result<web::Json<ExerciseSaved>, Problem> {
    let too_large =
        || Problem::too_large("An exercise with its files has at most 2 MiB; leave out what it doesn't need.");
    let body = body.to_bytes_limited(MAX_PACKED).await.map_err(|_| too_large())?;
    let body = body.map_err(|e| Problem::bad_input(format!("The file did not arrive whole ({e}); send it again.")))?;
    let text = web::block(move || archive::unpacked(&body)).await.map_err(Problem::our_fault)?;
    let text = text.map_err(Problem::bad_input)?;
    let exercise = load(&state, &text).await?;
    let title = exercise.title.clone();
    let id = blocking(&state, move |s| s.store.add_draft(*course, &title, &text, caller.person, s.now())).await?;
    Ok(web::Json(ExerciseSaved { id, version: 1, warnings: exercise.warnings.clone() }))
}

/// The exercise as it is worked at, as a zip: its file and its files beside it.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)),
    responses((status = 200, content_type = "application/zip", body = Vec<u8>)))]
#[get("/courses/{course}/exercises/{exercise}/export")]
pub(super) async fn export(
    state: web::Data<AppState>,
    path: web::Path<(CourseId, ExerciseId)>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    let working = blocking(&state, move |s| s.store.working(course, id)).await?;
    let packed = archive::packed(&working.text).map_err(Problem::our_fault)?;
    let name = format!("attachment; filename=\"{}.zip\"", derive::unit_name(&working.title));
    Ok(HttpResponse::Ok().content_type("application/zip").insert_header((CONTENT_DISPOSITION, name)).body(packed))
}

/// Saves an exercise file as the draft; students see it when it is published.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)), request_body = ExerciseText,
    responses((status = 200, body = ExerciseSaved)))]
#[put("/courses/{course}/exercises/{exercise}")]
pub(super) async fn save(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<ExerciseText>,
) -> Result<web::Json<ExerciseSaved>, Problem> {
    let (course, id) = path.into_inner();
    let ExerciseText { text, version } = body.into_inner();
    let version = version.ok_or_else(|| Problem::bad_input("Say with `version` which version the file changes."))?;
    let exercise = load(&state, &text).await?;
    let title = exercise.title.clone();
    let saved = blocking(&state, move |s| {
        let draft = NewDraft { expected: version, title: &title, text: &text, author: caller.person };
        uncollided(s.store.save_draft(course, id, &draft, s.now()))
    })
    .await?;
    Ok(web::Json(ExerciseSaved { id, version: saved?, warnings: exercise.warnings.clone() }))
}

/// Sets when an exercise is worked at, and what students read of verdicts. No verdict becomes stale.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)), request_body = TermsAsk,
    responses((status = 204)))]
#[put("/courses/{course}/exercises/{exercise}/terms")]
pub(super) async fn set_terms(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<TermsAsk>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    let zone = blocking(&state, move |s| terms::zone(s, course)).await?;
    let kept = terms::kept(&body, &zone)?;
    blocking(&state, move |s| {
        let title = s.store.working(course, id)?.title;
        let time = |at: Option<i64>| at.and_then(|at| jiff::Timestamp::from_second(at).ok()).map(|at| at.to_string());
        let said = |what: &str, at: Option<i64>| time(at).map(|at| format!(", {what} {at}")).unwrap_or_default();
        let subject = format!("{title}{}{}", said("released", kept.release_at), said("due", kept.due_at));
        s.store.keep_terms(course, id, &kept, &subject, (caller.person, s.now()))
    })
    .await?;
    Ok(HttpResponse::NoContent().finish())
}
