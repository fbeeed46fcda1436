//! The browser tests: the real program with demo data, driven by Playwright in Debian's Chromium.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

mod support;

use std::path::Path;
use std::process::Command;
use std::sync::{Mutex, PoisonError};
use support::Server;

/// One at a time: some of them look at what happens within a second or two.
static ONE: Mutex<()> = Mutex::new(());

macro_rules! files {
    ($($(#[$meta:meta])* $name:ident: $command:literal $file:literal;)*) => {
        $($(#[$meta])* #[test] fn $name() { run($command, $file); })*
    };
}

files! {
    the_demo_shows_what_was_made_before: "demo" "demo.spec.ts";
    an_empty_folder_becomes_a_course_in_the_browser_alone: "serve" "outcome.ts";
    the_whole_job_by_mouse_and_by_keyboard: "serve" "zesty.spec.ts";
    the_scratch_pad_checks_as_one_types: "serve" "pad.spec.ts";
    waves_are_run_shown_and_kept: "serve" "waves.spec.ts";
    an_exercise_is_worked_out: "serve" "workings.spec.ts";
    the_bench_shows_what_is_loaded: "serve" "bench.spec.ts";
    clocked_exercises_are_judged_cycle_by_cycle: "serve" "clocked.spec.ts";
}

/// Runs a file of Playwright tests against a command of the program on an empty folder.
fn run(command: &str, file: &str) {
    let _alone = ONE.lock().unwrap_or_else(PoisonError::into_inner);
    let web = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web");
    let chromium = std::env::var("ZESTY_CHROMIUM").unwrap_or_else(|_| "/usr/bin/chromium".into());
    assert!(
        Path::new(&chromium).exists() && web.join("node_modules/@playwright/test").exists(),
        "the browser tests need {chromium} and the web packages: run `cargo xtask test`, which installs both"
    );
    let project = match file {
        "demo.spec.ts" => "demo",
        "outcome.ts" => "outcome",
        _ => "tests",
    };
    let folder = tempfile::tempdir().unwrap();
    let server = Server::start(command, folder.path());
    let output = Command::new("npm")
        .args(["exec", "--no", "--", "playwright", "test", &format!("--project={project}"), file])
        .current_dir(web)
        .env("ZESTY_ADDRESS", format!("http://{}", server.address))
        .output()
        .unwrap();
    let text = String::from_utf8_lossy(&output.stdout);
    assert!(output.status.success(), "{text}{}", String::from_utf8_lossy(&output.stderr));
    assert!(text.contains(" passed") && !text.contains(" skipped"), "{text}");
}
