//! The application put together: state, routes, middleware, the listening socket.

use crate::access::gate;
use crate::assets;
use crate::jobs::{self, Jobs};
use crate::problem::Problem;
use crate::routes;
use crate::runs::Runs;
use crate::security;
use crate::wire::DemoAccounts;
use actix_web::middleware::{Compress, from_fn};
use actix_web::web::{self, JsonConfig, QueryConfig, ServiceConfig};
use actix_web::{App, HttpServer};
use governor::{DefaultKeyedRateLimiter, Quota, RateLimiter};
use std::net::{SocketAddr, TcpListener};
use std::num::NonZeroU32;
use std::path::PathBuf;
use std::sync::Arc;
use store::Store;
use worker::{Limits, Pool};

/// The most bytes of one hand-in.
pub(crate) const MAX_UPLOAD: usize = 4 << 20;

/// What every request shares.
pub struct AppState {
    pub(crate) store: Store,
    pub(crate) jobs: Jobs,
    pub(crate) sign_ins: DefaultKeyedRateLimiter<String>,
    /// Passwords are hashed a few at a time: each takes 19 MiB.
    pub(crate) hashing: tokio::sync::Semaphore,
    pub(crate) demo: Option<DemoAccounts>,
    /// Waveform files that are open.
    pub(crate) dumps: routes::Dumps,
    /// Processes that check hand-ins.
    pub(crate) checks: Pool,
    /// Processes that answer what a page waits for.
    pub(crate) asked: Pool,
    /// Of those a few at a time.
    pub(crate) tries: tokio::sync::Semaphore,
    /// Runs that a page waits for.
    pub(crate) runs: Runs,
}

impl AppState {
    /// State over a store, with checks started. Students' files are looked at in processes of `program`, which is this
    /// program; without one on threads of its own, for tests.
    pub fn new(store: Store, demo: Option<DemoAccounts>, program: Option<PathBuf>) -> Arc<Self> {
        let pool = || match &program {
            Some(program) => Pool::new(program.clone(), Limits::default()),
            None => Pool::within(Limits::default()),
        };
        let (checks, asked) = (pool(), pool());
        let five = const { NonZeroU32::new(5).expect("five is not zero") };
        let quota = Quota::per_minute(const { NonZeroU32::new(12).expect("twelve is not zero") }).allow_burst(five);
        let state = Arc::new(Self {
            store,
            jobs: Jobs::default(),
            checks,
            asked,
            sign_ins: RateLimiter::keyed(quota),
            hashing: tokio::sync::Semaphore::new(2),
            demo,
            dumps: routes::Dumps::default(),
            tries: tokio::sync::Semaphore::new(2),
            runs: Runs::default(),
        });
        jobs::start(&state);
        state
    }

    /// Seconds since 1970.
    pub(crate) fn now(&self) -> i64 {
        jiff::Timestamp::now().as_second()
    }
}

pub(crate) fn too_large() -> Problem {
    Problem::too_large("A hand-in is at most 4 MiB; send the design's sources only.")
}

/// Routes of the API behind the gate, and the web files.
pub fn configure(config: &mut ServiceConfig) {
    let json = JsonConfig::default()
        .limit(2 << 20)
        .error_handler(|e, _| Problem::bad_input(format!("The request is no JSON as expected here: {e}.")).into());
    let query = QueryConfig::default()
        .error_handler(|e, _| Problem::bad_input(format!("The address is not as expected here: {e}.")).into());
    config
        .app_data(query)
        .app_data(json)
        .service(web::scope("/api").wrap(from_fn(gate)).configure(routes::configure))
        .default_service(web::get().to(assets::asset));
}

/// The OpenAPI document.
pub fn open_api() -> utoipa::openapi::OpenApi {
    routes::document()
}

/// Listens until the process is told to stop. `ready` is called with the address once the socket is open.
///
/// # Errors
/// When the address can't be used or the server fails.
pub async fn serve(state: Arc<AppState>, address: SocketAddr, ready: impl FnOnce(SocketAddr)) -> std::io::Result<()> {
    let listener = TcpListener::bind(address)?;
    ready(listener.local_addr()?);
    let data = web::Data::from(state);
    HttpServer::new(move || {
        App::new().app_data(data.clone()).wrap(Compress::default()).wrap(security::headers()).configure(configure)
    })
    .workers(2)
    .shutdown_timeout(2)
    .listen(listener)?
    .run()
    .await
}
