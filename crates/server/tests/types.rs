//! The OpenAPI document and the lists that the browser's types are made from are those of the program;
//! `cargo xtask types` writes them anew.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use std::path::Path;

fn is_up_to_date(path: &str, wanted: &str) {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..").join(path);
    if std::env::var_os("ZESTY_WRITE_TYPES").is_some() {
        std::fs::write(&path, wanted).unwrap();
    }
    let found = std::fs::read_to_string(&path).unwrap_or_default();
    assert!(found == wanted, "{} is out of date: run `cargo xtask types`", path.display());
}

#[test]
fn the_document_in_the_repository_is_that_of_the_handlers() {
    let text = serde_json::to_string_pretty(&server::open_api()).unwrap() + "\n";
    is_up_to_date("docs/openapi.json", &text);
}

#[test]
fn lists_of_the_page_are_those_of_the_core() {
    is_up_to_date("web/src/api/lists.ts", &server::wire::lists());
}
