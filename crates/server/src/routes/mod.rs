//! A module a resource; each extracts, asks the store or the core off the async threads, and converts.

mod bench;
mod courses;
mod drafts;
mod dumps;
mod exercises;
mod hand_ins;
mod joining;
mod pad;
mod people;
mod session;
mod structure;
mod waves;
mod workings;

use crate::open_dumps::MAX_DUMP;
use crate::problem::Problem;
use crate::state::AppState;
use actix_web::HttpResponse;
use actix_web::web::{self, PayloadConfig, ServiceConfig};
use std::sync::Arc;
use store::StoreError;
use utoipa::OpenApi;

#[derive(OpenApi)]
#[openapi(
    info(title = "Zesty Gate", description = "Lab exercises, hand-ins and verdicts."),
    paths(
        health,
        openapi,
        session::start,
        session::sign_in,
        session::sign_out,
        joining::set_up,
        joining::link_owner,
        joining::use_link,
        joining::join_target,
        joining::join,
        joining::sessions,
        joining::revoke,
        joining::change_password,
        courses::make,
        courses::rename,
        people::list,
        people::add,
        people::change,
        people::erase,
        people::links,
        people::roster,
        people::make_code,
        people::end_code,
        courses::pass_sheet,
        courses::pass_sheet_csv,
        courses::count,
        courses::audit,
        exercises::add,
        exercises::read,
        exercises::save,
        exercises::set_terms,
        drafts::preview,
        drafts::publish,
        drafts::discard,
        drafts::archive,
        drafts::revisions,
        drafts::difference,
        workings::read,
        workings::work,
        workings::save,
        pad::codes,
        pad::try_out,
        pad::stop,
        dumps::divider,
        dumps::open,
        dumps::window,
        dumps::edge,
        waves::run,
        waves::keep,
        hand_ins::list,
        hand_ins::add,
        bench::of_exercise,
        hand_ins::read,
        bench::of_hand_in,
        bench::rows_to_try,
        structure::drawing,
        structure::levels,
        hand_ins::recheck,
        hand_ins::sign_off,
    )
)]
struct Document;

pub(crate) fn document() -> utoipa::openapi::OpenApi {
    Document::openapi()
}

/// The scope `/api`; the gate's table in `access` says who may call what.
pub(crate) fn configure(config: &mut ServiceConfig) {
    config
        .route("/health", web::get().to(health))
        .route("/openapi.json", web::get().to(openapi))
        .route("/me", web::get().to(session::start))
        .route("/sign-in", web::post().to(session::sign_in))
        .route("/sign-out", web::post().to(session::sign_out))
        .route("/set-up", web::post().to(joining::set_up))
        .route("/password-links/{token}", web::get().to(joining::link_owner))
        .route("/password-links/{token}", web::post().to(joining::use_link))
        .route("/join-codes/{code}", web::get().to(joining::join_target))
        .route("/join", web::post().to(joining::join))
        .route("/sessions", web::get().to(joining::sessions))
        .route("/sessions/{session}", web::delete().to(joining::revoke))
        .route("/me/password", web::put().to(joining::change_password))
        .route("/courses", web::post().to(courses::make))
        .route("/courses/{course}", web::put().to(courses::rename))
        .route("/courses/{course}/people", web::get().to(people::list))
        .route("/courses/{course}/people", web::post().to(people::add))
        .route("/courses/{course}/people/{person}", web::put().to(people::change))
        .route("/courses/{course}/people/{person}", web::delete().to(people::erase))
        .route("/courses/{course}/password-links", web::post().to(people::links))
        .route("/courses/{course}/roster", web::post().to(people::roster))
        .route("/courses/{course}/join-codes", web::post().to(people::make_code))
        .route("/courses/{course}/join-codes/{code}", web::delete().to(people::end_code))
        .route("/finding-codes", web::get().to(pad::codes))
        .route("/runs/{run}", web::delete().to(pad::stop))
        .route("/courses/{course}/exercises/{exercise}/try", web::post().to(pad::try_out))
        .route("/courses/{course}/exercises/{exercise}/waves", web::post().to(waves::run))
        .route("/courses/{course}/exercises/{exercise}/waves", web::put().to(waves::keep))
        .route("/divider", web::get().to(dumps::divider))
        .service(
            web::resource("/courses/{course}/dumps")
                .app_data(PayloadConfig::new(MAX_DUMP))
                .route(web::post().to(dumps::open)),
        )
        .route("/courses/{course}/dumps/{dump}/window", web::get().to(dumps::window))
        .route("/courses/{course}/dumps/{dump}/edge", web::get().to(dumps::edge))
        .route("/courses/{course}/pass-sheet", web::get().to(courses::pass_sheet))
        .route("/courses/{course}/pass-sheet.csv", web::get().to(courses::pass_sheet_csv))
        .route("/courses/{course}/counting", web::put().to(courses::count))
        .route("/courses/{course}/audit", web::get().to(courses::audit))
        .route("/courses/{course}/exercises", web::post().to(exercises::add))
        .route("/courses/{course}/exercises/{exercise}", web::get().to(exercises::read))
        .route("/courses/{course}/exercises/{exercise}", web::put().to(exercises::save))
        .route("/courses/{course}/exercises/{exercise}/terms", web::put().to(exercises::set_terms))
        .route("/courses/{course}/exercises/{exercise}/publish", web::get().to(drafts::preview))
        .route("/courses/{course}/exercises/{exercise}/publish", web::post().to(drafts::publish))
        .route("/courses/{course}/exercises/{exercise}/draft", web::delete().to(drafts::discard))
        .route("/courses/{course}/exercises/{exercise}/archived", web::put().to(drafts::archive))
        .route("/courses/{course}/exercises/{exercise}/revisions", web::get().to(drafts::revisions))
        .route("/courses/{course}/exercises/{exercise}/difference", web::get().to(drafts::difference))
        .route("/courses/{course}/workings", web::post().to(workings::work))
        .route("/courses/{course}/exercises/{exercise}/workings", web::get().to(workings::read))
        .route("/courses/{course}/exercises/{exercise}/workings", web::put().to(workings::save))
        .route("/courses/{course}/exercises/{exercise}/hand-ins", web::get().to(hand_ins::list))
        .route("/courses/{course}/exercises/{exercise}/hand-ins", web::post().to(hand_ins::add))
        .route("/courses/{course}/exercises/{exercise}/bench", web::get().to(bench::of_exercise))
        .route("/courses/{course}/hand-ins/{hand_in}", web::get().to(hand_ins::read))
        .route("/courses/{course}/hand-ins/{hand_in}/rows-to-try", web::get().to(bench::rows_to_try))
        .route("/courses/{course}/hand-ins/{hand_in}/bench", web::get().to(bench::of_hand_in))
        .route("/courses/{course}/hand-ins/{hand_in}/structure", web::get().to(structure::drawing))
        .route("/courses/{course}/hand-ins/{hand_in}/structure/levels", web::get().to(structure::levels))
        .route("/courses/{course}/hand-ins/{hand_in}/recheck", web::post().to(hand_ins::recheck))
        .route("/courses/{course}/hand-ins/{hand_in}/sign-off", web::post().to(hand_ins::sign_off));
}

/// Runs a query or a change on a thread that may block.
async fn blocking<T: Send + 'static>(
    state: &web::Data<AppState>,
    work: impl FnOnce(&AppState) -> Result<T, StoreError> + Send + 'static,
) -> Result<T, Problem> {
    let state: Arc<AppState> = state.clone().into_inner();
    let result = web::block(move || work(&state)).await.map_err(Problem::our_fault)?;
    Ok(result?)
}

/// The server is up.
#[utoipa::path(get, path = "/api/health", responses((status = 200)))]
async fn health() -> HttpResponse {
    HttpResponse::Ok().content_type("text/plain").body("up")
}

/// This document.
#[utoipa::path(get, path = "/api/openapi.json", responses((status = 200)))]
async fn openapi() -> HttpResponse {
    HttpResponse::Ok().json(document())
}
