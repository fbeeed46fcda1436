//! The scratch pad: a text is checked as it is typed and not kept; and the list of finding codes.

use super::{blocking, hand_ins::columns};
use crate::app::AppState;
use crate::caller::Caller;
use crate::jobs::nothing_beside;
use crate::pack;
use crate::problem::Problem;
use crate::wire::{PadFile, ProblemBody, SimulateRequest, SimulateView, TryRequest, TryView, WaveLane};
use actix_web::web;
use check::{CodeEntry, Exercise, HandIn, HandInFile, SimulationRequest, run_simulation};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::Duration;
use store::{CourseId, ExerciseId};

/// Longest text that is tried, in bytes.
const MAX_TEXT: usize = 256 << 10;
/// A check of the scratch pad that takes longer is given up.
const PATIENCE: Duration = Duration::from_secs(4);

/// Every finding code with its meaning and examples.
#[utoipa::path(get, path = "/api/finding-codes", responses((status = 200, body = [CodeEntry])))]
pub(super) async fn codes() -> web::Json<&'static [CodeEntry]> {
    web::Json(check::finding_codes())
}

/// Checks a text against an exercise without keeping it.
#[utoipa::path(post, path = "/api/courses/{course}/exercises/{exercise}/try",
    params(("course" = i64, Path), ("exercise" = i64, Path)), request_body = TryRequest,
    responses((status = 200, body = TryView), (status = 422, body = ProblemBody)))]
pub(super) async fn try_out(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, ExerciseId)>,
    body: web::Json<TryRequest>,
) -> Result<web::Json<TryView>, Problem> {
    let (course, id) = path.into_inner();
    let request = body.into_inner();
    sized(&request.files)?;
    let stored = blocking(&state, move |s| s.store.exercise(course, id)).await?;
    let _turn = state.tries.acquire().await.map_err(Problem::our_fault)?;
    let cancel = Arc::new(AtomicBool::new(false));
    let flag = Arc::clone(&cancel);
    let work = web::block(move || {
        let exercise = Exercise::load(&stored.revision.text, &nothing_beside).map_err(Problem::our_fault)?;
        let files = request.files.into_iter().map(|f| HandInFile { name: f.name, bytes: f.text.into_bytes() });
        let hand_in = HandIn { files: files.collect(), top: request.top, quick: true, ..HandIn::default() };
        Ok::<_, Problem>(check::check_with_cancel(&exercise, &hand_in, flag))
    });
    tokio::pin!(work);
    let checked = tokio::select! {
        done = &mut work => done,
        () = tokio::time::sleep(PATIENCE) => {
            cancel.store(true, Ordering::Relaxed);
            work.await
        }
    };
    let checked = checked.map_err(Problem::our_fault)??;
    let mut verdict = checked.verdict;
    if caller.sees().is_some() {
        verdict.findings.retain(|f| !f.staff_only);
        verdict.near_misses.iter_mut().for_each(check::NearMiss::hide_repair);
    }
    let actual = checked.actual.as_ref().map(|a| columns(&pack::pack(a))).unwrap_or_default();
    Ok(web::Json(TryView { headline: verdict.headline(), verdict, actual }))
}

fn sized(files: &[PadFile]) -> Result<(), Problem> {
    let bytes: usize = files.iter().map(|f| f.text.len()).sum();
    if bytes > MAX_TEXT || files.len() > 64 {
        return Err(Problem::bad_input(
            "The scratch pad takes at most 64 files of 256 KiB together; hand larger ones in.",
        ));
    }
    Ok(())
}

/// Steps of a run in the scratch pad.
const STEPS: u64 = 40_000_000;
/// One combination of inputs lasts 10 ns where there is no testbench.
const STEP: u64 = 10_000_000;
/// Most changes and signals that travel to the page, and most characters of output.
const MAX_CHANGES: usize = 60_000;
const MAX_LANES: usize = 300;
const MAX_OUTPUT: usize = 200_000;

/// Runs a testbench, or a design on all combinations of its inputs, without keeping it.
#[utoipa::path(post, path = "/api/courses/{course}/exercises/{exercise}/simulate",
    params(("course" = i64, Path), ("exercise" = i64, Path)), request_body = SimulateRequest,
    responses((status = 200, body = SimulateView), (status = 422, body = ProblemBody)))]
pub(super) async fn simulate(
    state: web::Data<AppState>,
    body: web::Json<SimulateRequest>,
) -> Result<web::Json<SimulateView>, Problem> {
    let request = body.into_inner();
    sized(&request.files)?;
    let _turn = state.tries.acquire().await.map_err(Problem::our_fault)?;
    let cancel = Arc::new(AtomicBool::new(false));
    let asked = SimulationRequest {
        top: request.top,
        until: request.until_ns.filter(|t| (0.0..1e12).contains(t)).map(|t| (t * 1e6).round() as u64),
        record: true,
        steps: Some(STEPS),
        cancel: Some(Arc::clone(&cancel)),
        stimulus: Some(STEP),
    };
    let files: Vec<HandInFile> =
        request.files.into_iter().map(|f| HandInFile { name: f.name, bytes: f.text.into_bytes() }).collect();
    let work = web::block(move || run_simulation(&files, &asked));
    tokio::pin!(work);
    let done = tokio::select! {
        done = &mut work => done,
        () = tokio::time::sleep(PATIENCE) => {
            cancel.store(true, Ordering::Relaxed);
            work.await
        }
    };
    let found = done.map_err(Problem::our_fault)?.map_err(Problem::bad_input)?;
    let trace = found.trace.unwrap_or_default();
    let cut = trace.cut || trace.changes.len() > MAX_CHANGES || trace.signals.len() > MAX_LANES;
    let failed = found.assertions.warning + found.assertions.error + found.assertions.failure;
    let mut output = found.output;
    let short = (0..=MAX_OUTPUT.min(output.len())).rev().find(|i| output.is_char_boundary(*i)).unwrap_or(0);
    let cut = cut || short < output.len();
    output.truncate(short);
    let view = SimulateView {
        top: found.top,
        end: found.end,
        time: found.time_fs,
        output,
        failed,
        findings: found.findings,
        lanes: lanes(&trace),
        cut,
    };
    Ok(web::Json(view))
}

fn lanes(trace: &sim::Trace) -> Vec<WaveLane> {
    let mut lanes: Vec<WaveLane> = trace
        .signals
        .iter()
        .take(MAX_LANES)
        .map(|s| WaveLane {
            scopes: s.scopes.clone(),
            name: s.name.clone(),
            range: s.range.clone(),
            width: s.width,
            times: vec![0],
            values: vec![s.initial.to_string()],
        })
        .collect();
    for change in trace.changes.iter().take(MAX_CHANGES) {
        let Some(lane) = lanes.get_mut(change.signal as usize) else { continue };
        let value = change.value.to_string();
        // Of several changes at one time only the last one has a width.
        if lane.times.last() == Some(&change.time) {
            if let Some(last) = lane.values.last_mut() {
                *last = value;
            }
        } else {
            lane.times.push(change.time);
            lane.values.push(value);
        }
    }
    lanes
}
