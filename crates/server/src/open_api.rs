//! The OpenAPI document: what stands at the handlers, and what holds for all of them.

use crate::access::{Access, INSTRUCTOR, Route, SCOPE};
use crate::routes::{Document, ROUTES};
use std::collections::BTreeSet;
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

/// Names of the schemas that a value mentions, with what those mention.
fn reached(of: &serde_json::Value, schemas: &serde_json::Value, names: &mut BTreeSet<String>) {
    match of {
        serde_json::Value::Object(map) => {
            if let Some(name) = map.get("$ref").and_then(|r| r.as_str()?.strip_prefix("#/components/schemas/"))
                && names.insert(name.to_owned())
            {
                reached(&schemas[name], schemas, names);
            }
            map.values().for_each(|inner| reached(inner, schemas, names));
        }
        serde_json::Value::Array(list) => list.iter().for_each(|inner| reached(inner, schemas, names)),
        _ => {}
    }
}

/// May a property be null?
fn is_nullable(property: &serde_json::Value) -> bool {
    let is_null = |of: &serde_json::Value| of["type"] == "null";
    let type_is = property["type"].as_array().is_some_and(|list| list.iter().any(|t| t == "null"));
    type_is || property["oneOf"].as_array().is_some_and(|list| list.iter().any(is_null))
}

/// What we answer holds every property, null where there is nothing to say; only what is asked may leave one out.
fn says_nulls(document: &mut serde_json::Value) {
    let mut names = BTreeSet::new();
    let operations = document["paths"].as_object().into_iter().flat_map(|paths| paths.values());
    let operations = operations.filter_map(serde_json::Value::as_object).flat_map(|item| item.values());
    for operation in operations {
        reached(&operation["responses"], &document["components"]["schemas"], &mut names);
    }
    for name in names {
        let schema = &mut document["components"]["schemas"][&name];
        let parts = if schema.get("oneOf").is_some() { schema["oneOf"].as_array_mut() } else { None };
        let parts = match parts {
            Some(list) => list.iter_mut().collect(),
            None => vec![schema],
        };
        for part in parts {
            let Some(properties) = part["properties"].as_object() else { continue };
            let nulls: Vec<String> =
                properties.iter().filter(|(_, p)| is_nullable(p)).map(|(n, _)| n.clone()).collect();
            let required = part.as_object_mut().map(|p| p.entry("required").or_insert_with(|| serde_json::json!([])));
            let Some(required) = required.and_then(serde_json::Value::as_array_mut) else { continue };
            required.extend(nulls.into_iter().map(serde_json::Value::from));
        }
    }
}

/// The whole document, as JSON.
pub fn open_api() -> serde_json::Value {
    let mut json = serde_json::to_value(document()).unwrap_or_default();
    says_nulls(&mut json);
    json
}

/// The document as it is declared at the handlers, with the failures.
fn document() -> utoipa::openapi::OpenApi {
    let mut document = Document::openapi();
    let paths = std::mem::take(&mut document.paths.paths);
    document.paths.paths = paths.into_iter().map(|(path, item)| (format!("{SCOPE}{path}"), item)).collect();
    for route in ROUTES.iter() {
        let item = document.paths.paths.get_mut(&route.path);
        if let Some(operation) = item.and_then(|item| operation(item, route.method)) {
            // Handlers of two resources may have one name.
            let words = route.path.split(['/', '.']).map(|s| s.trim_matches(['{', '}'])).filter(|s| !s.is_empty());
            let words: Vec<&str> = words.collect();
            operation.operation_id = Some(format!("{}_{}", route.method.to_lowercase(), words.join("_")));
            complete(route, operation);
        }
    }
    document
}
