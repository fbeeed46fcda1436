//! A module a resource; each extracts, asks the store or the core off the async threads, and converts.

mod about;
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

use crate::access::{EVERYBODY, INSTRUCTOR, PUBLIC, Route, SIGNED_IN, STAFF};
use crate::problem::Problem;
use crate::state::AppState;
use crate::wire::ProblemBody;
use actix_web::web::{self, ServiceConfig};
use std::sync::{Arc, LazyLock};
use store::StoreError;
use utoipa::OpenApi;

/// Declares every route once: who may call which handler. The method, the path and the document of a route stand at its
/// handler; the router, the table of the gate and the OpenAPI document come from here.
macro_rules! routes {
    ($($who:ident: $($module:ident :: $handler:ident),+;)*) => {
        #[derive(OpenApi)]
        #[openapi(
            info(title = "Zesty Gate", description = "Lab exercises, hand-ins and verdicts."),
            paths($($($module::$handler),+),*),
            components(schemas(ProblemBody))
        )]
        pub(crate) struct Document;

        /// Every route of the API with who may call it. A request that is not in the table is refused.
        pub static ROUTES: LazyLock<Vec<Route>> = LazyLock::new(|| vec![$($(Route::of::<$module::$handler>($who)),+),*]);

        /// The scope `/api`.
        pub(crate) fn configure(config: &mut ServiceConfig) {
            $($(config.service($module::$handler);)+)*
        }
    };
}

routes! {
    PUBLIC:
        about::health,
        about::openapi,
        session::who_am_i,
        session::open_session,
        joining::set_up,
        joining::link_owner,
        joining::use_link,
        joining::join_target,
        joining::join;
    SIGNED_IN:
        session::sign_out,
        joining::sessions,
        joining::revoke,
        joining::change_password,
        courses::make,
        pad::codes,
        dumps::divider,
        pad::stop;
    EVERYBODY:
        courses::pass_sheet,
        exercises::read,
        hand_ins::list,
        hand_ins::add,
        pad::try_out,
        waves::run,
        hand_ins::read,
        hand_ins::difference,
        bench::of_hand_in,
        bench::rows_to_try,
        structure::drawing,
        structure::levels;
    STAFF:
        people::list,
        people::links,
        dumps::open,
        dumps::window,
        dumps::edge,
        courses::pass_sheet_csv,
        drafts::revisions,
        drafts::difference,
        workings::work,
        workings::read,
        bench::of_exercise,
        waves::keep,
        hand_ins::add_all,
        hand_ins::recheck,
        hand_ins::sign_off;
    INSTRUCTOR:
        courses::rename,
        people::add,
        people::change,
        people::erase,
        people::roster,
        people::make_code,
        people::end_code,
        courses::count,
        courses::audit,
        exercises::add,
        exercises::import,
        exercises::export,
        exercises::save,
        exercises::set_terms,
        drafts::preview,
        drafts::own_check,
        drafts::place,
        drafts::copy,
        drafts::publish,
        drafts::discard,
        drafts::archive,
        hand_ins::decide,
        hand_ins::withdraw,
        workings::save;
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
