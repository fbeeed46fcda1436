//! The bench: what the lamps of the board show for given switches or a given row.

use super::blocking;
use super::hand_ins::own;
use crate::caller::Caller;
use crate::jobs::hand_in_of;
use crate::problem::Problem;
use crate::runs::RunName;
use crate::state::AppState;
use crate::wire::{BenchView, ImageInfo, RowsView, WiredBit};
use actix_web::get;
use actix_web::web;
use bench::{BenchAsk, BenchState, bench_as_expected};
use board::{Image, Lamp};
use serde::Deserialize;
use std::time::Duration;
use store::{CourseId, ExerciseId, HandInId};
use worker::{Answer, Question, SentExercise};

/// A question to the bench that takes longer is given up.
const PATIENCE: Duration = Duration::from_secs(10);

/// How the switches stand: a letter 0 or 1 for each part of the board, 1 for on; and a row to set them for. On the bench of
/// a hand-in also the power switch, what the flip-flops hold, and how many ticks to go on.
#[derive(Deserialize, utoipa::IntoParams)]
pub(super) struct Switches {
    #[serde(default)]
    switches: String,
    row: Option<u64>,
    power: Option<bool>,
    state: Option<String>,
    ticks: Option<u64>,
}

fn levels(query: &Switches) -> Vec<bool> {
    query.switches.chars().take(1024).map(|c| c == '1').collect()
}

fn view(state: BenchState, image: Option<&Image>) -> BenchView {
    let lamp = |l: &Lamp| match l {
        Lamp::Lit => "lit",
        Lamp::Dark => "dark",
        Lamp::Unknown => "unknown",
        Lamp::Conflict => "conflict",
    };
    BenchView {
        switches: state.switches,
        lamps: state.lamps.iter().map(|l| lamp(l).to_owned()).collect(),
        glow: state.glow,
        row: state.row,
        wired: state
            .wired
            .into_iter()
            .map(|(bit, part)| WiredBit { bit, part: part.and_then(|p| u32::try_from(p).ok()) })
            .collect(),
        has_open_input: state.has_open_input,
        is_clocked: state.is_clocked,
        state: state.state,
        ticks: state.ticks,
        refusal: state.refusal,
        image: image.map(|i| ImageInfo {
            design: i.design.clone(),
            device: i.device.clone(),
            fingerprint: i.fingerprint.clone(),
            takes: i.takes(),
        }),
    }
}

/// The bench with the expected behaviour, wired as planned.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path), Switches),
    responses((status = 200, body = BenchView)))]
#[get("/courses/{course}/exercises/{exercise}/bench")]
pub(super) async fn of_exercise(
    state: web::Data<AppState>,
    path: web::Path<(CourseId, ExerciseId)>,
    query: web::Query<Switches>,
) -> Result<web::Json<BenchView>, Problem> {
    let (course, id) = path.into_inner();
    let stored = blocking(&state, move |s| s.store.exercise_seen(course, id, true)).await?;
    let exercise = state.exercises.saved(&stored.revision.text).await?;
    let row = query.row.filter(|r| *r < exercise.rows());
    let state = bench_as_expected(&exercise, &levels(&query), row);
    state
        .map(|s| web::Json(view(s, None)))
        .ok_or_else(|| Problem::absent("This exercise is not wired to a board, so there is no bench."))
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

/// The bench with the image of a hand-in loaded, through the wiring that came with it.
#[utoipa::path(params(("course" = i64, Path), ("hand_in" = i64, Path), Switches),
    responses((status = 200, body = BenchView)))]
#[get("/courses/{course}/hand-ins/{hand_in}/bench")]
pub(super) async fn of_hand_in(
    state: web::Data<AppState>,
    caller: Caller,
    name: RunName,
    path: web::Path<(CourseId, HandInId)>,
    query: web::Query<Switches>,
) -> Result<web::Json<BenchView>, Problem> {
    let (course, id) = path.into_inner();
    let (hand_in, stored) = with_exercise(&state, &caller, course, id).await?;
    let kept = hand_in.verdict.as_ref().and_then(|v| v.verdict.image.clone());
    let kept = kept.ok_or_else(|| Problem::absent("This hand-in has no image for the board; check it again."))?;
    let image = Image::from_json(&kept).map_err(Problem::our_fault)?;
    let ask = BenchAsk {
        switches: levels(&query),
        row: query.row,
        has_power: query.power.unwrap_or(true),
        state: query.state.clone(),
        ticks: query.ticks.unwrap_or(0),
    };
    let question = Question::Bench {
        exercise: SentExercise::alone(stored.revision.text),
        image: kept,
        hand_in: hand_in_of(&hand_in.files, hand_in.top.as_deref()).into(),
        ask,
    };
    match state.runs.begin(&caller, name).ask(&state, question, PATIENCE).await? {
        Answer::Bench(Some(shown)) => Ok(web::Json(view(*shown, Some(&image)))),
        Answer::Bench(None) => Err(Problem::absent("This exercise is not wired to a board, so there is no bench.")),
        _ => Err(Problem::bad_input("The levels of this design never come to rest, so the board shows nothing.")),
    }
}

/// The few rows that are worth trying with a hand-in at the board.
#[utoipa::path(params(("course" = i64, Path), ("hand_in" = i64, Path)),
    responses((status = 200, body = RowsView)))]
#[get("/courses/{course}/hand-ins/{hand_in}/rows-to-try")]
pub(super) async fn rows_to_try(
    state: web::Data<AppState>,
    caller: Caller,
    name: RunName,
    path: web::Path<(CourseId, HandInId)>,
) -> Result<web::Json<RowsView>, Problem> {
    let (course, id) = path.into_inner();
    let (hand_in, stored) = with_exercise(&state, &caller, course, id).await?;
    let asked = check::HandIn { quick: true, wants_rows: true, ..hand_in_of(&hand_in.files, hand_in.top.as_deref()) };
    let question = Question::Check { exercise: SentExercise::alone(stored.revision.text), hand_in: asked.into() };
    let Answer::Checked(checked) = state.runs.begin(&caller, name).ask(&state, question, PATIENCE).await? else {
        return Err(Problem::our_fault("a worker answered something else"));
    };
    let checked = checked.into_checked();
    let found = (checked.rows_to_try, checked.ticks_to_try);
    match found {
        (Some(found), _) => Ok(web::Json(RowsView { sentence: found.sentence(), rows: found.rows, ticks: None })),
        (None, Some(found)) => {
            Ok(web::Json(RowsView { sentence: found.sentence(), rows: Vec::new(), ticks: Some(found) }))
        }
        (None, None) => Err(Problem::absent(
            "No rows to try: the design can't be run, leaves an output unknown or is too large for it.",
        )),
    }
}
