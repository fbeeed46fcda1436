//! What the server says of itself.

use actix_web::{HttpResponse, get};

/// The server is up.
#[utoipa::path(responses((status = 200, content_type = "text/plain", body = String)))]
#[get("/health")]
pub(super) async fn health() -> HttpResponse {
    HttpResponse::Ok().content_type("text/plain").body("up")
}

/// This document.
#[utoipa::path(responses((status = 200, body = serde_json::Value)))]
#[get("/openapi.json")]
pub(super) async fn openapi() -> HttpResponse {
    HttpResponse::Ok().json(crate::open_api::open_api())
}
