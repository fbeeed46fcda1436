//! The browser tests: the real program with demo data, driven by Playwright in Debian's Chromium.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

mod support;

use std::path::Path;
use std::process::Command;
use support::Server;

#[test]
fn the_application_works_in_a_browser() {
    run("demo", "tests");
}

#[test]
fn an_empty_folder_becomes_a_course_in_the_browser_alone() {
    run("serve", "outcome");
}

/// Runs a project of Playwright against a command of the program.
fn run(command: &str, project: &str) {
    let web = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web");
    let chromium = std::env::var("ZESTY_CHROMIUM").unwrap_or_else(|_| "/usr/bin/chromium".into());
    assert!(
        Path::new(&chromium).exists() && web.join("node_modules/@playwright/test").exists(),
        "the browser tests need {chromium} and the web packages: run `cargo xtask test`, which installs both"
    );
    let folder = tempfile::tempdir().unwrap();
    let server = Server::start(command, folder.path());
    let output = Command::new("npm")
        .args(["exec", "--no", "--", "playwright", "test", "--project", project])
        .current_dir(web)
        .env("ZESTY_ADDRESS", format!("http://{}", server.address))
        .output()
        .unwrap();
    let text = String::from_utf8_lossy(&output.stdout);
    assert!(output.status.success(), "{text}{}", String::from_utf8_lossy(&output.stderr));
    assert!(text.contains(" passed") && !text.contains(" skipped"), "{text}");
}
