//! The web files, embedded in the binary. Addresses without a file are the application's own and get its page.

use actix_web::http::header::{CACHE_CONTROL, ContentType};
use actix_web::{HttpRequest, HttpResponse};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
struct WebFiles;

pub(crate) async fn asset(request: HttpRequest) -> HttpResponse {
    let path = request.path().trim_start_matches('/');
    if let Some(file) = WebFiles::get(path).filter(|_| !path.is_empty()) {
        let kind = mime_guess::from_path(path).first_or_octet_stream();
        // Built files carry their content's hash in the name.
        let cache = if path.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
        return HttpResponse::Ok().content_type(kind.as_ref()).insert_header((CACHE_CONTROL, cache)).body(file.data);
    }
    if path.starts_with("assets/") {
        return HttpResponse::NotFound().finish();
    }
    match WebFiles::get("index.html") {
        Some(page) => HttpResponse::Ok()
            .content_type(ContentType::html())
            .insert_header((CACHE_CONTROL, "no-cache"))
            .body(page.data),
        None => HttpResponse::NotFound()
            .content_type(ContentType::plaintext())
            .body("The web part was not built into this binary. Build it with `cargo xtask demo`.\n"),
    }
}
