//! Headers that keep browsers from helping an attacker, and the refusal of requests from other sites.

use crate::problem::Problem;
use actix_web::dev::ServiceRequest;
use actix_web::http::Method;
use actix_web::middleware::DefaultHeaders;

const POLICY: &str = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; \
     worker-src 'self'; connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; \
     frame-ancestors 'none'";

pub(crate) fn headers() -> DefaultHeaders {
    DefaultHeaders::new()
        .add(("Content-Security-Policy", POLICY))
        .add(("X-Content-Type-Options", "nosniff"))
        .add(("Referrer-Policy", "same-origin"))
        .add(("Cross-Origin-Opener-Policy", "same-origin"))
        .add(("Cross-Origin-Resource-Policy", "same-origin"))
}

/// Refuses changes that another site's page asked for, by what browsers say of a request's origin; the session cookie
/// is `SameSite=Strict` besides.
pub(crate) fn refuse_cross_site(request: &ServiceRequest) -> Result<(), Problem> {
    if matches!(*request.method(), Method::GET | Method::HEAD) {
        return Ok(());
    }
    let header = |name: &str| request.headers().get(name).and_then(|v| v.to_str().ok());
    if header("Sec-Fetch-Site").is_some_and(|site| site != "same-origin" && site != "none") {
        return Err(Problem::cross_site());
    }
    if let Some(origin) = header("Origin") {
        let host = origin.split_once("://").map_or(origin, |(_, host)| host);
        if header("Host") != Some(host) {
            return Err(Problem::cross_site());
        }
    }
    Ok(())
}
