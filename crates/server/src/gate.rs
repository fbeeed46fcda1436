//! The gate that every request passes: what no route allows is denied.

use crate::access::{Access, Route};
use crate::bundles::MAX_BUNDLE;
use crate::caller::{Caller, token_hash};
use crate::open_dumps::MAX_DUMP;
use crate::problem::Problem;
use crate::routes::ROUTES;
use crate::security::refuse_cross_site;
use crate::state::{AppState, MAX_UPLOAD, too_large};
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::middleware::Next;
use actix_web::{HttpMessage, web};
use store::CourseId;

fn segments(path: &str) -> impl Iterator<Item = &str> {
    path.split('/').filter(|s| !s.is_empty())
}

fn fits(pattern: &str, path: &str) -> bool {
    segments(pattern).count() == segments(path).count()
        && segments(pattern).zip(segments(path)).all(|(p, s)| p.starts_with('{') || p == s)
}

/// The routes of an address. Where words and placeholders fit it, the words count, as for the router.
fn routes_of(path: &str) -> Vec<&'static Route> {
    let words = |route: &Route| segments(&route.path).filter(|s| !s.starts_with('{')).count();
    let known: Vec<&Route> = ROUTES.iter().filter(|r| fits(&r.path, path)).collect();
    let most = known.iter().map(|r| words(r)).max();
    known.into_iter().filter(|r| Some(words(r)) == most).collect()
}

/// The course in a path, when it has one.
fn course(path: &str) -> Option<CourseId> {
    let mut parts = segments(path).skip_while(|s| *s != "courses").skip(1);
    parts.next()?.parse().ok().map(CourseId)
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
        return Err(Problem::dump_too_large().into());
    }
    let is_bundle = fits("/api/courses/{course}/exercises/{exercise}/hand-ins/zip", &path);
    if is_bundle && length.is_some_and(|n| n > MAX_BUNDLE) {
        return Err(
            Problem::too_large("A zip of hand-ins has at most 64 MiB; send some of the folders at a time.").into()
        );
    }
    if !is_dump && !is_bundle && length.is_some_and(|n| n > MAX_UPLOAD + (64 << 10)) {
        return Err(too_large().into());
    }
    let known = routes_of(&path);
    let Some(route) = known.iter().find(|r| r.method == request.method().as_str()) else {
        if known.is_empty() {
            return Err(Problem::no_such_page().into());
        }
        let allowed: Vec<&str> = known.iter().map(|r| r.method).collect();
        return Err(Problem::wrong_method(&allowed).into());
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
    fn an_address_of_words_is_not_that_of_a_placeholder() {
        let methods = |path| routes_of(path).iter().map(|r| r.method).collect::<Vec<_>>();
        assert_eq!(methods("/api/courses/7/exercises/import"), ["POST"]);
        assert_eq!(methods("/api/courses/7/exercises/3"), ["GET", "PUT"]);
        assert!(methods("/api/courses/7/nothing").is_empty());
    }

    #[test]
    fn paths_are_matched_by_segments() {
        assert!(fits("/api/courses/{course}/pass-sheet", "/api/courses/7/pass-sheet"));
        assert!(!fits("/api/courses/{course}/pass-sheet", "/api/courses/7/pass-sheet/x"));
        assert!(!fits("/api/courses/{course}/pass-sheet", "/api/courses/7/audit"));
        assert_eq!(course("/api/courses/12/exercises/3"), Some(CourseId(12)));
        assert_eq!(course("/api/me"), None);
    }
}
