//! Waveform files: opened once, kept in memory for a while, asked for by the window.

use crate::caller::Caller;
use crate::open_dumps::MAX_DUMP;
use crate::problem::Problem;
use crate::state::AppState;
use crate::wire::{DumpEdge, DumpOpened, DumpWindow, WindowLane};
use actix_web::web;
use actix_web::{get, post};
use serde::Deserialize;
use std::sync::Arc;
use store::CourseId;
use views::{Lane, LaneRole};

/// Most signals whose names travel to the page.
const MAX_SIGNALS: usize = 5_000;
/// Most lanes and columns of a window.
const MAX_LANES: usize = 64;
const MAX_COLUMNS: u32 = 8_000;

/// Opens a value change dump (IEEE 1364): the body is the file. It is kept in memory only.
#[utoipa::path(params(("course" = i64, Path)), request_body(content = String, content_type = "application/octet-stream"),
    responses((status = 200, body = DumpOpened)))]
#[post("/courses/{course}/dumps")]
pub(super) async fn open(
    state: web::Data<AppState>,
    caller: Caller,
    body: web::Payload,
) -> Result<web::Json<DumpOpened>, Problem> {
    let body = body.to_bytes_limited(MAX_DUMP).await.map_err(|_| Problem::dump_too_large())?;
    let body = body.map_err(|e| Problem::bad_input(format!("The file did not arrive whole ({e}); send it again.")))?;
    let _turn = state.tries.acquire().await.map_err(Problem::our_fault)?;
    let read = web::block(move || {
        let text = std::str::from_utf8(&body)
            .map_err(|_| Problem::bad_input("This is not a text file; open a value change dump (.vcd)."))?;
        sim::record_vcd(text).map_err(|e| Problem::bad_input(format!("Line {}: {}", e.line, e.message)))
    });
    let recording = Arc::new(read.await.map_err(Problem::our_fault)??);
    let lanes = recording.signals.iter().take(MAX_SIGNALS).map(|s| Lane {
        role: LaneRole::Inner,
        scopes: s.scopes.clone(),
        name: s.name.clone(),
        range: s.range.clone(),
        width: s.width,
        literals: Vec::new(),
        times: Vec::new(),
        values: Vec::new(),
        differs: Vec::new(),
    });
    let opened = DumpOpened {
        end: recording.end,
        changes: recording.changes() as u64,
        lanes: lanes.collect(),
        cut: recording.signals.len() > MAX_SIGNALS,
        id: 0,
    };
    let id = state.dumps.keep(caller.person, recording);
    Ok(web::Json(DumpOpened { id, ..opened }))
}

/// What is asked of a window.
#[derive(Deserialize)]
pub(super) struct WindowQuery {
    from: u64,
    to: u64,
    columns: u32,
    /// Numbers of lanes with commas between them.
    lanes: String,
}

/// What lanes of a dump do between two times, at most one change a column.
#[utoipa::path(params(("course" = i64, Path), ("dump" = i64, Path), ("from" = i64, Query), ("to" = i64, Query),
        ("columns" = i64, Query), ("lanes" = String, Query)),
    responses((status = 200, body = DumpWindow)))]
#[get("/courses/{course}/dumps/{dump}/window")]
pub(super) async fn window(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, u64)>,
    query: web::Query<WindowQuery>,
) -> Result<web::Json<DumpWindow>, Problem> {
    let recording = state.dumps.find(caller.person, path.1)?;
    let WindowQuery { from, to, columns, lanes } = query.into_inner();
    let numbers: Option<Vec<usize>> = lanes.split(',').filter(|n| !n.is_empty()).map(|n| n.parse().ok()).collect();
    let numbers = numbers.filter(|n| n.len() <= MAX_LANES && from <= to && columns <= MAX_COLUMNS);
    let Some(numbers) = numbers else {
        return Err(Problem::bad_input(
            "A window is of at most 64 lanes and 8,000 columns, from a time to a later one.",
        ));
    };
    let found = web::block(move || {
        let lane = |n: usize| {
            let found = recording.window(n, from, to, columns);
            WindowLane { lane: n as u64, times: found.times, values: found.values }
        };
        numbers.into_iter().map(lane).collect()
    });
    Ok(web::Json(DumpWindow { lanes: found.await.map_err(Problem::our_fault)? }))
}

/// From where, in which lane and whereto an edge is looked for.
#[derive(Deserialize)]
pub(super) struct EdgeQuery {
    lane: usize,
    time: u64,
    forward: bool,
}

/// The next change of a lane after a time, or the last one before it.
#[utoipa::path(params(("course" = i64, Path), ("dump" = i64, Path), ("lane" = i64, Query), ("time" = i64, Query),
        ("forward" = bool, Query)),
    responses((status = 200, body = DumpEdge)))]
#[get("/courses/{course}/dumps/{dump}/edge")]
pub(super) async fn edge(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, u64)>,
    query: web::Query<EdgeQuery>,
) -> Result<web::Json<DumpEdge>, Problem> {
    let recording = state.dumps.find(caller.person, path.1)?;
    Ok(web::Json(DumpEdge { time: recording.edge(query.lane, query.time, query.forward) }))
}

/// A clock and a frequency that it is to be divided down to.
#[derive(Deserialize)]
pub(super) struct DividerQuery {
    clock_hz: u64,
    wanted_hz: f64,
}

/// How a counter makes a frequency from a clock.
#[utoipa::path(params(("clock_hz" = i64, Query), ("wanted_hz" = f64, Query)),
    responses((status = 200, body = [exercise::DividerPlan])))]
#[get("/divider")]
pub(super) async fn divider(query: web::Query<DividerQuery>) -> Result<web::Json<Vec<exercise::DividerPlan>>, Problem> {
    exercise::divider_plans(query.clock_hz, query.wanted_hz)
        .map(web::Json)
        .map_err(|e| Problem::bad_input(e.to_string()))
}
