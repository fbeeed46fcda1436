//! The OpenAPI document: what stands at the handlers, and what holds for all of them.

use crate::access::{Access, INSTRUCTOR, Route, SCOPE};
use crate::routes::{Document, ROUTES};
use utoipa::OpenApi;
use utoipa::openapi::path::{Operation, PathItem};
use utoipa::openapi::{Content, Ref, RefOr, ResponseBuilder};

/// The failures that a route may answer with: status, and what it says.
fn failures(route: &Route, operation: &Operation) -> Vec<(&'static str, &'static str)> {
    let mut list = vec![("500", "A failure of the server; it has a number in the log.")];
    if route.access != Access::Public || route.method != "GET" {
        list.push(("401", "Nobody is signed in, or the password is wrong."));
    }
    // What changes something is refused when another site asks for it.
    if route.method != "GET" || matches!(route.access, Access::Member(_)) {
        list.push(("403", "The role of the caller, or the site that asks, doesn't allow it."));
    }
    if route.path.contains('{') || operation.request_body.is_some() {
        list.push(("404", "Nothing is there that the caller may see."));
    }
    if operation.request_body.is_some() {
        list.push(("413", "The body is too large."));
        list.push(("422", "The body can't be used; the answer says why."));
    } else if operation.parameters.is_some() || route.method != "GET" {
        list.push(("422", "What is asked can't be done; the answer says why."));
    }
    if route.method != "GET" && route.path.contains("/exercises/{exercise}") && route.access == INSTRUCTOR {
        list.push(("409", "Somebody else has saved in between."));
    }
    if route.access == Access::Public || operation.request_body.is_some() {
        list.push(("429", "Too many tries wait already."));
    }
    list
}

fn complete(route: &Route, operation: &mut Operation) {
    let schema = RefOr::Ref(Ref::from_schema_name("ProblemBody"));
    for (status, says) in failures(route, operation) {
        let content = Content::new(Some(schema.clone()));
        let response = ResponseBuilder::new().description(says).content("application/problem+json", content).build();
        operation.responses.responses.insert(status.to_owned(), RefOr::T(response));
    }
}

fn operation<'a>(item: &'a mut PathItem, method: &str) -> Option<&'a mut Operation> {
    match method {
        "GET" => item.get.as_mut(),
        "POST" => item.post.as_mut(),
        "PUT" => item.put.as_mut(),
        "DELETE" => item.delete.as_mut(),
        _ => None,
    }
}

/// The whole document.
pub(crate) fn document() -> utoipa::openapi::OpenApi {
    let mut document = Document::openapi();
    let paths = std::mem::take(&mut document.paths.paths);
    document.paths.paths = paths.into_iter().map(|(path, item)| (format!("{SCOPE}{path}"), item)).collect();
    for route in ROUTES.iter() {
        let item = document.paths.paths.get_mut(&route.path);
        if let Some(operation) = item.and_then(|item| operation(item, route.method)) {
            complete(route, operation);
        }
    }
    document
}
