//! The one door to everything a developer does: `cargo xtask demo | dev | test | ci | types | layers | shots | bench`.

mod layers;
mod tools;

use std::process::ExitCode;
use std::time::Instant;
use tools::{Outcome, cargo, ensure_chromium, ensure_web_packages, npm, say};

const HELP: &str = "cargo xtask TASK

  demo    builds everything and starts the application with demo data (port 8460)
  dev     the web part with reload on change, beside a server with demo data
  test    runs every test: Rust, web units, browser
  ci      test, and formatting, lints, layers before it
  types   writes web/src/api/types.ts from the Rust types
  layers  checks which crate imports which
  shots   takes docs/screenshots from the demo data
  bench   measures what is promised to be fast";

fn main() -> ExitCode {
    let task = std::env::args().nth(1).unwrap_or_default();
    let rest: Vec<String> = std::env::args().skip(2).collect();
    let start = Instant::now();
    let outcome = match task.as_str() {
        "demo" => demo(&rest),
        "dev" => dev(),
        "test" => test(),
        "ci" => ci(),
        "types" => types(),
        "layers" => layers::check(),
        "shots" => shots(),
        "bench" => bench(&rest),
        "" | "help" | "--help" => {
            say(HELP);
            Ok(())
        }
        other => Err(format!("there is no task `{other}`\n\n{HELP}")),
    };
    match outcome {
        Ok(()) => {
            if !matches!(task.as_str(), "" | "help" | "--help") {
                say(&format!("xtask {task}: done in {} s", start.elapsed().as_secs()));
            }
            ExitCode::SUCCESS
        }
        Err(message) => {
            say(&format!("xtask {task}: {message}"));
            ExitCode::FAILURE
        }
    }
}

fn build_web() -> Outcome {
    ensure_web_packages()?;
    say("building the web part …");
    npm(&["exec", "--no", "--", "vite", "build", "--logLevel", "warn"])
}

fn demo(rest: &[String]) -> Outcome {
    build_web()?;
    say("building the program (minutes the first time) …");
    cargo(&["build", "--package", "cli"])?;
    let mut arguments = vec!["run", "--quiet", "--package", "cli", "--", "demo"];
    arguments.extend(rest.iter().map(String::as_str));
    cargo(&arguments)
}

fn dev() -> Outcome {
    ensure_web_packages()?;
    cargo(&["build", "--package", "cli"])?;
    let mut server = tools::spawn_demo("127.0.0.1:8460")?;
    say("changes to web/src show at once; changes to Rust need a restart");
    let result = npm(&["exec", "--no", "--", "vite"]);
    server.stop();
    result
}

fn test() -> Outcome {
    build_web()?;
    ensure_chromium()?;
    say("web: unit tests …");
    npm(&["exec", "--no", "--", "vitest", "run"])?;
    say("Rust: all tests, the browser's among them (minutes the first time) …");
    cargo(&["test", "--workspace"])
}

fn ci() -> Outcome {
    say("formatting …");
    cargo(&["fmt", "--all", "--check"])?;
    layers::check()?;
    build_web()?;
    say("web: lints and types …");
    npm(&["exec", "--no", "--", "biome", "ci", "."])?;
    npm(&["exec", "--no", "--", "tsc", "--noEmit"])?;
    say("Rust: lints …");
    cargo(&["clippy", "--workspace", "--all-targets", "--", "--deny", "warnings"])?;
    test()
}

fn types() -> Outcome {
    tools::run(
        "cargo",
        &["test", "--quiet", "--package", "server", "--test", "types"],
        ".",
        &[("ZESTY_WRITE_TYPES", "1")],
    )
}

fn shots() -> Outcome {
    build_web()?;
    ensure_chromium()?;
    cargo(&["build", "--package", "cli"])?;
    let mut server = tools::spawn_demo("127.0.0.1:8471")?;
    let folder = tools::root().join("docs/screenshots");
    let result = tools::run(
        "npm",
        &["exec", "--no", "--", "playwright", "test", "--project", "shots"],
        "web",
        &[("ZESTY_ADDRESS", "http://127.0.0.1:8471"), ("ZESTY_SHOTS", &folder.display().to_string())],
    );
    server.stop();
    result
}

fn bench(rest: &[String]) -> Outcome {
    build_web()?;
    say("building with all optimisations (minutes the first time) …");
    cargo(&["build", "--release", "--package", "cli", "--package", "bench"])?;
    let mut arguments = vec!["run", "--release", "--quiet", "--package", "bench", "--"];
    arguments.extend(rest.iter().map(String::as_str));
    cargo(&arguments)
}
