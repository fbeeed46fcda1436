//! The application put together: routes, middleware, the listening socket.

use crate::access::SCOPE;
use crate::assets;
use crate::gate::gate;
use crate::problem::Problem;
use crate::routes;
use crate::security;
use crate::state::AppState;
use actix_web::middleware::{Compress, from_fn};
use actix_web::web::{self, JsonConfig, PathConfig, QueryConfig, ServiceConfig};
use actix_web::{App, HttpServer};
use std::net::{SocketAddr, TcpListener};
use std::sync::Arc;

/// Routes of the API behind the gate, and the web files.
pub fn configure(config: &mut ServiceConfig) {
    let json = JsonConfig::default().limit(2 << 20).error_handler(|e, _| {
        Problem::bad_input(format!("The request body is not valid JSON for this address: {e}.")).into()
    });
    let query = QueryConfig::default()
        .error_handler(|e, _| Problem::bad_input(format!("The address has a part that can't be read: {e}.")).into());
    let path = PathConfig::default().error_handler(|_, _| Problem::no_such_page().into());
    config
        .app_data(path)
        .app_data(query)
        .app_data(json)
        .service(web::scope(SCOPE).wrap(from_fn(gate)).configure(routes::configure))
        .default_service(web::get().to(assets::asset));
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
