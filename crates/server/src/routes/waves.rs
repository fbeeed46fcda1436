//! Waves: of what an exercise expects, of a hand-in, of the scratch pad; and what the exercise keeps for them.

use super::blocking;
use super::hand_ins::own;
use super::pad::sized;
use crate::caller::Caller;
use crate::problem::Problem;
use crate::runs::RunName;
use crate::state::AppState;
use crate::terms;
use crate::wire::{WavesAsk, WavesKept, WavesView};
use actix_web::{HttpResponse, web};
use actix_web::{post, put};
use std::time::Duration;
use store::{CourseId, ExerciseId, FileKind};
use views::{LaneRole, Stimulus, Waves};
use worker::{Answer, Question, SentExercise, SentFile};

/// A run that takes longer is ended, and says so.
const PATIENCE: Duration = Duration::from_secs(4);
/// Steps of a run.
const STEPS: u64 = 40_000_000;
/// Most changes and signals that travel to the page, and most characters of output.
const MAX_CHANGES: usize = 120_000;
const MAX_LANES: usize = 300;
const MAX_OUTPUT: usize = 200_000;
/// Names under which an exercise keeps its stimulus and the arrangement of its lanes.
const STIMULUS: &str = "stimulus";
const LANES: &str = "lanes";

/// Runs a design under its testbench or a stimulus, beside what the exercise expects. Nothing of it is kept.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path), ("x-run" = Option<String>, Header, description = "by which it can be ended")),
    request_body = WavesAsk,
    responses((status = 200, body = WavesView)))]
#[post("/courses/{course}/exercises/{exercise}/waves")]
pub(super) async fn run(
    state: web::Data<AppState>,
    caller: Caller,
    name: RunName,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<WavesAsk>,
) -> Result<web::Json<WavesView>, Problem> {
    let (course, id) = path.into_inner();
    let ask = body.into_inner();
    sized(&ask.files)?;
    let sees = caller.sees();
    if sees.is_some() && ask.files.is_empty() && ask.hand_in.is_none() {
        return Err(Problem::not_allowed());
    }
    let (hand_in, picture) = (ask.hand_in, ask.picture);
    let asking = caller.clone();
    let (stored, saved, lanes, handed_in) = blocking(&state, move |s| {
        let handed_in = match hand_in {
            Some(hand_in) => Some(own(s.store.hand_in(course, hand_in)?, sees)?),
            None => None,
        };
        let exercise = handed_in.as_ref().map_or(id, |h| h.summary.exercise);
        terms::reveal(s, &asking, course, exercise)?;
        let saved = s.store.setting(course, exercise, STIMULUS)?;
        Ok((
            s.store.exercise_seen(course, exercise, sees.is_none())?,
            saved,
            s.store.setting(course, exercise, LANES)?,
            handed_in,
        ))
    })
    .await?;
    let saved: Option<Stimulus> = saved.and_then(|text| serde_json::from_str(&text).ok());
    let files: Vec<SentFile> = match handed_in {
        Some(hand_in) => {
            let designs = hand_in.files.into_iter().filter(|f| f.kind == FileKind::Design);
            designs.map(|f| SentFile::new(f.name, f.bytes)).collect()
        }
        None => ask.files.into_iter().map(|f| SentFile::new(f.name, f.text.into_bytes())).collect(),
    };
    let question = Question::Waves {
        exercise: SentExercise::alone(stored.revision.text),
        files,
        ask: worker::WavesAsk {
            unit: ask.unit,
            stimulus: ask.stimulus,
            saved: saved.clone(),
            until: ask.until_ns.filter(|t| (0.0..1e12).contains(t)).map(|t| (t * 1e6).round() as u64),
            steps: Some(STEPS),
        },
    };
    let run = state.runs.begin(&caller, name);
    let Answer::Waves(mut waves) = run.ask(&state, question, PATIENCE).await? else {
        return Err(Problem::our_fault("a worker answered something else"));
    };
    if sees.is_some() {
        // What is expected is the exercise's point.
        waves.lanes.retain(|l| l.role != LaneRole::Expected);
        waves.why_no_expected = None;
    }
    let picture = picture.then(|| waves.svg());
    shorten(&mut waves);
    let saved = waves.stimulus.is_some() && waves.stimulus == saved;
    Ok(web::Json(WavesView { waves: *waves, saved, arrangement: lanes, picture }))
}

/// Leaves out what would make the page slow.
fn shorten(waves: &mut Waves) {
    waves.shorten(MAX_LANES, MAX_CHANGES);
    let short = (0..=MAX_OUTPUT.min(waves.output.len())).rev().find(|i| waves.output.is_char_boundary(*i));
    waves.cut |= short.is_some_and(|s| s < waves.output.len());
    waves.output.truncate(short.unwrap_or(0));
}

/// Keeps a stimulus, or how the lanes are arranged, with the exercise.
#[utoipa::path(params(("course" = i64, Path), ("exercise" = i64, Path)), request_body = WavesKept,
    responses((status = 204)))]
#[put("/courses/{course}/exercises/{exercise}/waves")]
pub(super) async fn keep(
    state: web::Data<AppState>,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<WavesKept>,
) -> Result<HttpResponse, Problem> {
    let (course, id) = path.into_inner();
    let kept = body.into_inner();
    let stored = blocking(&state, move |s| s.store.exercise_seen(course, id, true)).await?;
    if let Some(stimulus) = kept.stimulus.clone() {
        let exercise = state.exercises.saved(&stored.revision.text).await?;
        stimulus.validate(&exercise).map_err(|e| Problem::bad_input(e.to_string()))?;
    }
    if kept.arrangement.as_ref().is_some_and(|text| text.len() > 64 << 10) {
        return Err(Problem::bad_input("The arrangement of the lanes is larger than 64 KiB; show fewer lanes."));
    }
    blocking(&state, move |s| {
        if let Some(stimulus) = &kept.stimulus {
            let text = serde_json::to_string(stimulus).unwrap_or_default();
            s.store.keep_setting(course, id, STIMULUS, Some(&text))?;
        }
        if kept.usual {
            s.store.keep_setting(course, id, STIMULUS, None)?;
        }
        if let Some(text) = &kept.arrangement {
            s.store.keep_setting(course, id, LANES, Some(text))?;
        }
        Ok(())
    })
    .await?;
    Ok(HttpResponse::NoContent().finish())
}
