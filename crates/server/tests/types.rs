//! The TypeScript types that the browser uses are those of the wire; `cargo xtask types` writes them anew.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use std::path::Path;

#[test]
fn typescript_types_are_those_of_the_wire() {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/src/api/types.ts");
    let wanted = server::wire::typescript();
    if std::env::var_os("ZESTY_WRITE_TYPES").is_some() {
        std::fs::write(&path, &wanted).unwrap();
    }
    let found = std::fs::read_to_string(&path).unwrap_or_default();
    assert!(found == wanted, "web/src/api/types.ts is out of date: run `cargo xtask types`");
}
