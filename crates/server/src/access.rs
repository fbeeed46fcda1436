//! Who may call what: one table, deny by default, and the gate that enforces it.

use crate::caller::{Caller, token_hash};
use crate::open_dumps::MAX_DUMP;
use crate::problem::Problem;
use crate::security::refuse_cross_site;
use crate::state::{AppState, MAX_UPLOAD, too_large};
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::middleware::Next;
use actix_web::{HttpMessage, web};
use store::Role;

/// Who may call a route.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Access {
    /// Everybody.
    Public,
    /// Everybody who is signed in.
    SignedIn,
    /// Members of the course in the path with one of these roles.
    Member(&'static [Role]),
}

/// A route of the API.
#[derive(Clone, Copy, Debug)]
pub struct Route {
    /// HTTP method.
    pub method: &'static str,
    /// Path with `{…}` for variable segments.
    pub path: &'static str,
    /// Who may call it.
    pub access: Access,
}

const EVERYBODY: Access = Access::Member(&[Role::Instructor, Role::Assistant, Role::Student]);
const STAFF: Access = Access::Member(&[Role::Instructor, Role::Assistant]);
const INSTRUCTOR: Access = Access::Member(&[Role::Instructor]);

const fn route(method: &'static str, path: &'static str, access: Access) -> Route {
    Route { method, path, access }
}

/// Every route of the API with who may call it. A request that is not in the table is refused.
pub const ROUTES: &[Route] = &[
    route("GET", "/api/health", Access::Public),
    route("GET", "/api/openapi.json", Access::Public),
    route("GET", "/api/me", Access::Public),
    route("POST", "/api/sign-in", Access::Public),
    route("POST", "/api/sign-out", Access::SignedIn),
    route("POST", "/api/set-up", Access::Public),
    route("GET", "/api/password-links/{token}", Access::Public),
    route("POST", "/api/password-links/{token}", Access::Public),
    route("GET", "/api/join-codes/{code}", Access::Public),
    route("POST", "/api/join", Access::Public),
    route("GET", "/api/sessions", Access::SignedIn),
    route("DELETE", "/api/sessions/{session}", Access::SignedIn),
    route("PUT", "/api/me/password", Access::SignedIn),
    // Whoever teaches; the handler looks.
    route("POST", "/api/courses", Access::SignedIn),
    route("PUT", "/api/courses/{course}", INSTRUCTOR),
    route("GET", "/api/courses/{course}/people", STAFF),
    route("POST", "/api/courses/{course}/people", INSTRUCTOR),
    route("PUT", "/api/courses/{course}/people/{person}", INSTRUCTOR),
    route("DELETE", "/api/courses/{course}/people/{person}", INSTRUCTOR),
    route("POST", "/api/courses/{course}/password-links", STAFF),
    route("POST", "/api/courses/{course}/roster", INSTRUCTOR),
    route("POST", "/api/courses/{course}/join-codes", INSTRUCTOR),
    route("DELETE", "/api/courses/{course}/join-codes/{code}", INSTRUCTOR),
    route("GET", "/api/finding-codes", Access::SignedIn),
    route("GET", "/api/divider", Access::SignedIn),
    route("DELETE", "/api/runs/{run}", Access::SignedIn),
    route("POST", "/api/courses/{course}/dumps", STAFF),
    route("GET", "/api/courses/{course}/dumps/{dump}/window", STAFF),
    route("GET", "/api/courses/{course}/dumps/{dump}/edge", STAFF),
    route("GET", "/api/courses/{course}/pass-sheet", EVERYBODY),
    route("GET", "/api/courses/{course}/pass-sheet.csv", STAFF),
    route("PUT", "/api/courses/{course}/counting", INSTRUCTOR),
    route("GET", "/api/courses/{course}/audit", INSTRUCTOR),
    route("POST", "/api/courses/{course}/exercises", INSTRUCTOR),
    route("GET", "/api/courses/{course}/exercises/{exercise}", EVERYBODY),
    route("PUT", "/api/courses/{course}/exercises/{exercise}", INSTRUCTOR),
    route("PUT", "/api/courses/{course}/exercises/{exercise}/terms", INSTRUCTOR),
    route("GET", "/api/courses/{course}/exercises/{exercise}/publish", INSTRUCTOR),
    route("POST", "/api/courses/{course}/exercises/{exercise}/publish", INSTRUCTOR),
    route("DELETE", "/api/courses/{course}/exercises/{exercise}/draft", INSTRUCTOR),
    route("PUT", "/api/courses/{course}/exercises/{exercise}/archived", INSTRUCTOR),
    route("GET", "/api/courses/{course}/exercises/{exercise}/revisions", STAFF),
    route("GET", "/api/courses/{course}/exercises/{exercise}/difference", STAFF),
    route("POST", "/api/courses/{course}/workings", STAFF),
    route("GET", "/api/courses/{course}/exercises/{exercise}/workings", STAFF),
    route("PUT", "/api/courses/{course}/exercises/{exercise}/workings", INSTRUCTOR),
    route("GET", "/api/courses/{course}/exercises/{exercise}/hand-ins", EVERYBODY),
    route("POST", "/api/courses/{course}/exercises/{exercise}/hand-ins", EVERYBODY),
    route("GET", "/api/courses/{course}/exercises/{exercise}/bench", STAFF),
    route("POST", "/api/courses/{course}/exercises/{exercise}/try", EVERYBODY),
    route("POST", "/api/courses/{course}/exercises/{exercise}/waves", EVERYBODY),
    route("PUT", "/api/courses/{course}/exercises/{exercise}/waves", STAFF),
    route("GET", "/api/courses/{course}/hand-ins/{hand_in}", EVERYBODY),
    route("GET", "/api/courses/{course}/hand-ins/{hand_in}/bench", EVERYBODY),
    route("GET", "/api/courses/{course}/hand-ins/{hand_in}/rows-to-try", EVERYBODY),
    route("GET", "/api/courses/{course}/hand-ins/{hand_in}/structure", EVERYBODY),
    route("GET", "/api/courses/{course}/hand-ins/{hand_in}/structure/levels", EVERYBODY),
    route("POST", "/api/courses/{course}/hand-ins/{hand_in}/recheck", STAFF),
    route("POST", "/api/courses/{course}/hand-ins/{hand_in}/sign-off", STAFF),
];

fn segments(path: &str) -> impl Iterator<Item = &str> {
    path.split('/').filter(|s| !s.is_empty())
}

fn fits(pattern: &str, path: &str) -> bool {
    segments(pattern).count() == segments(path).count()
        && segments(pattern).zip(segments(path)).all(|(p, s)| p.starts_with('{') || p == s)
}

/// The course in a path, when it has one.
fn course(path: &str) -> Option<i64> {
    let mut parts = segments(path).skip_while(|s| *s != "courses").skip(1);
    parts.next()?.parse().ok()
}

/// Looks the request up in the table, finds out who calls and refuses what isn't allowed. Handlers behind it find the
/// [`Caller`] in the request.
pub(crate) async fn gate(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    refuse_cross_site(&request)?;
    let length = request.headers().get("content-length").and_then(|v| v.to_str().ok()?.parse::<usize>().ok());
    // Told before a byte is read; the form's own limit holds for requests that say no length.
    let path = request.path().to_owned();
    let is_dump = fits("/api/courses/{course}/dumps", &path);
    if is_dump && length.is_some_and(|n| n > MAX_DUMP) {
        return Err(
            Problem::too_large("A waveform file is at most 192 MiB; dump a shorter time or fewer signals.").into()
        );
    }
    if !is_dump && length.is_some_and(|n| n > MAX_UPLOAD + (64 << 10)) {
        return Err(too_large().into());
    }
    let known: Vec<&Route> = ROUTES.iter().filter(|r| fits(r.path, &path)).collect();
    let Some(route) = known.iter().find(|r| r.method == request.method().as_str()) else {
        return Err(if known.is_empty() { Problem::no_such_page() } else { Problem::wrong_method() }.into());
    };
    let state = request
        .app_data::<web::Data<AppState>>()
        .cloned()
        .ok_or_else(|| Problem::our_fault("the application's state is missing"))?;
    let caller = match request.cookie(crate::caller::COOKIE) {
        Some(cookie) => {
            let course = course(&path);
            let hash = token_hash(cookie.value());
            let at = state.now();
            let lookup = move || -> Result<Option<Caller>, store::StoreError> {
                let Some((person, name)) = state.store.session(&hash, at)? else { return Ok(None) };
                // Nobody is kept out because this can't be noted.
                if let Err(error) = state.store.see_session(&hash, at) {
                    tracing::warn!("the use of a session can't be noted: {error}");
                }
                let role = course.map(|c| state.store.role(c, person)).transpose()?.flatten();
                Ok(Some(Caller { person, name, role }))
            };
            web::block(lookup).await.map_err(|_| Problem::our_fault("a worker failed"))?.map_err(Problem::from)?
        }
        None => None,
    };
    match (route.access, &caller) {
        (Access::Public, _) | (Access::SignedIn, Some(_)) => {}
        (_, None) => return Err(Problem::signed_out().into()),
        (Access::Member(roles), Some(caller)) => match caller.role {
            Some(role) if roles.contains(&role) => {}
            Some(_) => return Err(Problem::not_allowed().into()),
            None => return Err(Problem::not_found("course").into()),
        },
    }
    if let Some(caller) = caller {
        request.extensions_mut().insert(caller);
    }
    next.call(request).await
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn paths_are_matched_by_segments() {
        assert!(fits("/api/courses/{course}/pass-sheet", "/api/courses/7/pass-sheet"));
        assert!(!fits("/api/courses/{course}/pass-sheet", "/api/courses/7/pass-sheet/x"));
        assert!(!fits("/api/courses/{course}/pass-sheet", "/api/courses/7/audit"));
        assert_eq!(course("/api/courses/12/exercises/3"), Some(12));
        assert_eq!(course("/api/me"), None);
    }
}
