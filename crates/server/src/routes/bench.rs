//! The bench: what the lamps of the board show for given switches or a given row.

use super::blocking;
use super::hand_ins::own;
use crate::app::AppState;
use crate::caller::Caller;
use crate::jobs::{hand_in_of, nothing_beside};
use crate::pack;
use crate::problem::Problem;
use crate::wire::{BenchView, ProblemBody, RowsView, WiredBit};
use actix_web::web;
use base::SourceFile;
use board::Lamp;
use check::{ActualColumn, ActualTable, BenchState, Exercise, bench_state};
use serde::Deserialize;
use store::{CourseId, ExerciseId, FileKind, HandInId};

/// How the switches stand: a letter 0 or 1 for each part of the board, 1 for on; and a row to set them for.
#[derive(Deserialize, utoipa::IntoParams)]
pub(super) struct Switches {
    #[serde(default)]
    switches: String,
    row: Option<u64>,
}

fn view(state: BenchState) -> BenchView {
    let lamp = |l: &Lamp| match l {
        Lamp::Lit => "lit",
        Lamp::Dark => "dark",
        Lamp::Unknown => "unknown",
        Lamp::Conflict => "conflict",
    };
    BenchView {
        switches: state.switches,
        lamps: state.lamps.iter().map(|l| lamp(l).to_owned()).collect(),
        row: state.row,
        wired: state
            .wired
            .into_iter()
            .map(|(bit, part)| WiredBit { bit, part: part.and_then(|p| u32::try_from(p).ok()) })
            .collect(),
    }
}

fn run(
    exercise: &Exercise,
    wiring: Option<&SourceFile>,
    actual: &ActualTable,
    query: &Switches,
) -> Result<web::Json<BenchView>, Problem> {
    let switches: Vec<bool> = query.switches.chars().take(1024).map(|c| c == '1').collect();
    let row = query.row.filter(|r| *r < exercise.expected.rows());
    let state = bench_state(exercise, wiring, actual, &switches, row);
    state.map(|s| web::Json(view(s))).ok_or_else(|| Problem::not_found("board: this exercise is not wired"))
}

/// The bench with the expected behaviour, wired as planned.
#[utoipa::path(get, path = "/api/courses/{course}/exercises/{exercise}/bench",
    params(("course" = i64, Path), ("exercise" = i64, Path), Switches),
    responses((status = 200, body = BenchView), (status = 404, body = ProblemBody)))]
pub(super) async fn of_exercise(
    state: web::Data<AppState>,
    path: web::Path<(CourseId, ExerciseId)>,
    query: web::Query<Switches>,
) -> Result<web::Json<BenchView>, Problem> {
    let (course, id) = path.into_inner();
    let stored = blocking(&state, move |s| s.store.exercise(course, id)).await?;
    let exercise = Exercise::load(&stored.revision.text, &nothing_beside).map_err(Problem::our_fault)?;
    let column = |o: &logic::OutputColumn| ActualColumn {
        name: o.name.clone(),
        ones: o.ones.clone(),
        unknown: o.dont_care.clone(),
        floating: logic::RowSet::empty(o.ones.inputs()),
    };
    let table = ActualTable { columns: exercise.expected.outputs.iter().map(column).collect() };
    run(&exercise, None, &table, &query)
}

/// A hand-in that the caller may see, and its exercise.
pub(super) async fn with_exercise(
    state: &web::Data<AppState>,
    caller: &Caller,
    course: CourseId,
    id: HandInId,
) -> Result<(store::HandIn, store::Exercise), Problem> {
    let sees = caller.sees();
    blocking(state, move |s| {
        let hand_in = own(s.store.hand_in(course, id)?, sees)?;
        let exercise = hand_in.summary.exercise;
        Ok((hand_in, s.store.exercise(course, exercise)?))
    })
    .await
}

/// The bench with a hand-in loaded, through the wiring that came with it.
#[utoipa::path(get, path = "/api/courses/{course}/hand-ins/{hand_in}/bench",
    params(("course" = i64, Path), ("hand_in" = i64, Path), Switches),
    responses((status = 200, body = BenchView), (status = 404, body = ProblemBody)))]
pub(super) async fn of_hand_in(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
    query: web::Query<Switches>,
) -> Result<web::Json<BenchView>, Problem> {
    let (course, id) = path.into_inner();
    let (hand_in, stored) = with_exercise(&state, &caller, course, id).await?;
    let exercise = Exercise::load(&stored.revision.text, &nothing_beside).map_err(Problem::our_fault)?;
    let packed = hand_in.verdict.and_then(|v| v.verdict.actual);
    let table = packed.and_then(|text| pack::unpack(&text, exercise.expected.input_count()));
    let table = table.ok_or_else(|| Problem::not_found("image: the design could not be run"))?;
    let wiring = hand_in.files.iter().find(|f| f.kind == FileKind::Wiring);
    let wiring = wiring.and_then(|f| SourceFile::decode(&f.name, &f.bytes).ok());
    run(&exercise, wiring.as_ref(), &table, &query)
}

/// The few rows that are worth trying with a hand-in at the board.
#[utoipa::path(get, path = "/api/courses/{course}/hand-ins/{hand_in}/rows-to-try",
    params(("course" = i64, Path), ("hand_in" = i64, Path)),
    responses((status = 200, body = RowsView), (status = 404, body = ProblemBody)))]
pub(super) async fn rows_to_try(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, HandInId)>,
) -> Result<web::Json<RowsView>, Problem> {
    let (course, id) = path.into_inner();
    let (hand_in, stored) = with_exercise(&state, &caller, course, id).await?;
    let _turn = state.tries.acquire().await.map_err(Problem::our_fault)?;
    let work = web::block(move || {
        let exercise = Exercise::load(&stored.revision.text, &nothing_beside).map_err(Problem::our_fault)?;
        let asked =
            check::HandIn { quick: true, wants_rows: true, ..hand_in_of(&hand_in.files, hand_in.top.as_deref()) };
        let checked = check::check(&exercise, &asked);
        Ok::<_, Problem>((checked.rows_to_try, checked.ticks_to_try))
    });
    let found = work.await.map_err(Problem::our_fault)??;
    match found {
        (Some(found), _) => Ok(web::Json(RowsView { sentence: found.sentence(), rows: found.rows, ticks: None })),
        (None, Some(found)) => {
            Ok(web::Json(RowsView { sentence: found.sentence(), rows: Vec::new(), ticks: Some(found) }))
        }
        (None, None) => Err(Problem::not_found(
            "set of rows: the design can't be run, leaves an output unknown or is too large for it",
        )),
    }
}
