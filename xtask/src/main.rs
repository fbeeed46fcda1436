//! The one door to everything a developer does: `cargo xtask demo | dev | test | ci | types | findings | layers | licences | shots | frames | bench`.

mod api;
mod budgets;
mod circles;
mod layers;
mod licences;
mod tools;

use std::process::ExitCode;
use std::time::Instant;
use tools::{Outcome, cargo, ensure_chromium, ensure_web_packages, npm, say};

const HELP: &str = "cargo xtask TASK

  demo    builds everything and starts the application with demo data (port 8460)
  dev     the web part with reload on change, beside a server with demo data
  test    runs every test: Rust, web units, browser
  ci      test, and formatting, lints, layers before it
  types   writes docs/openapi.json from the handlers, and the types of the browser from that
  findings  writes docs/findings.md from the list of codes
  agree   runs random programs through every engine for an hour (`agree 60` for a minute)
  api     asks the API at random for two minutes, as its document says (`api 20` for 20 seconds)
  fuzz    feeds damaged files to every reader for an hour each (`fuzz 60` for a minute)
  layers  checks which crate imports which
  licences  checks the licences of what is shipped, and that nothing comes in two versions
  shots   takes docs/screenshots from the demo data
  frames  measures how smoothly the waves of the demo zoom
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
        "findings" => findings(),
        "agree" => agree(std::env::args().nth(2).as_deref().unwrap_or("3600")),
        "api" => cargo(&["build", "--package", "cli"])
            .and_then(|()| api::ask(std::env::args().nth(2).and_then(|n| n.parse().ok()).unwrap_or(120))),
        "fuzz" => fuzz(std::env::args().nth(2).as_deref().unwrap_or("3600")),
        "layers" => layers::check(),
        "licences" => licences::check(),
        "shots" => pictures("shots"),
        "frames" => pictures("frames"),
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
    web_types()?;
    say("building the web part …");
    npm(&["exec", "--no", "--", "vite", "build", "--logLevel", "warn"])?;
    // The program works without them, where cargo's packages can't be looked up; `licences` fails then.
    licences::write_notices().unwrap_or_else(|why| say(&format!("the notices for About are not written: {why}")));
    Ok(())
}

fn demo(rest: &[String]) -> Outcome {
    build_web()?;
    say("building the program (minutes the first time) …");
    cargo(&["build", "--package", "cli"])?;
    let mut arguments = vec!["run", "--quiet", "--package", "cli", "--", "demo"];
    arguments.extend(rest.iter().map(String::as_str));
    cargo(&arguments)
}

/// The browser's types, from the OpenAPI document in the repository.
fn web_types() -> Outcome {
    npm(&["run", "--silent", "types"])
}

fn dev() -> Outcome {
    ensure_web_packages()?;
    web_types()?;
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
    cargo(&["test", "--workspace", "--no-fail-fast"])
}

fn ci() -> Outcome {
    say("formatting …");
    cargo(&["fmt", "--all", "--check"])?;
    layers::check()?;
    build_web()?;
    licences::check()?;
    say("web: lints and types …");
    npm(&["exec", "--no", "--", "biome", "ci", "."])?;
    npm(&["exec", "--no", "--", "tsc", "--noEmit"])?;
    say("Rust: lints …");
    cargo(&["clippy", "--workspace", "--all-targets", "--", "--deny", "warnings"])?;
    test()?;
    // The tests have built the program.
    api::ask(120)
}

fn types() -> Outcome {
    tools::run(
        "cargo",
        &["test", "--quiet", "--package", "server", "--test", "types"],
        ".",
        &[("ZESTY_WRITE_TYPES", "1")],
    )?;
    ensure_web_packages()?;
    web_types()
}

fn findings() -> Outcome {
    tools::run(
        "cargo",
        &["test", "--quiet", "--package", "check", "--test", "findings"],
        ".",
        &[("ZESTY_WRITE_FINDINGS", "1")],
    )
}

/// Random programs in both languages, through table, event simulator, proofs and machine code, with seeds that nobody tried.
fn agree(seconds: &str) -> Outcome {
    const TESTS: [&str; 4] = ["random_programs", "random_verilog", "random_vhdl", "machine_code"];
    let seconds: f64 = seconds.parse().map_err(|_| format!("`{seconds}` is no number of seconds"))?;
    // Nine of their tests take seeds, one after the other.
    let each = format!("{:.3}", seconds / 60.0 / 9.0);
    for test in TESTS {
        say(&format!("{test} …"));
        let arguments = ["test", "--workspace", "--test", test, "--", "--nocapture", "--test-threads=1"];
        let mut command = std::process::Command::new("cargo");
        command.args(arguments).current_dir(tools::root()).env("ZESTY_MINUTES", &each);
        let status = command.status().map_err(|e| e.to_string())?;
        if !status.success() {
            return Err(format!("the engines differ in {test}; its last seed is printed above"));
        }
    }
    Ok(())
}

/// What is fed to each fuzz target to begin with: the folders, and the ending of the files that are taken.
const FUZZED: [(&str, &[&str], &str); 9] = [
    ("verilog", &["crates/verilog/corpus/ok", "crates/verilog/corpus/err"], "v"),
    ("vhdl", &["crates/vhdl/corpus/ok", "crates/vhdl/corpus/err"], "vhd"),
    ("exercise", &["demo"], "toml"),
    ("board", &["crates/board/boards"], "json"),
    ("image", &["docs/schemas"], "json"),
    ("vcd", &["fuzz/seeds/vcd"], "vcd"),
    ("blif", &["fuzz/seeds/blif"], "blif"),
    ("pla", &["fuzz/seeds/pla"], "pla"),
    ("roster", &["fuzz/seeds/roster"], "csv"),
];

/// Runs each fuzz target for so many seconds, from what is there of its kind; a crash fails. Needs `cargo fuzz`, which is
/// installed when it is not there.
fn fuzz(seconds: &str) -> Outcome {
    let known = std::process::Command::new("cargo").args(["fuzz", "--version"]).output();
    if !known.is_ok_and(|o| o.status.success()) {
        cargo(&["install", "cargo-fuzz", "--version", "^0.13", "--locked"])?;
    }
    for (target, folders, ending) in FUZZED {
        let seeds = tools::root().join("fuzz/corpus").join(target);
        std::fs::create_dir_all(&seeds).map_err(|e| e.to_string())?;
        for (k, folder) in folders.iter().enumerate() {
            for path in tools::files_below(&tools::root().join(folder), ending)? {
                let text = path.to_string_lossy().replace(['/', '\\'], "_");
                std::fs::copy(&path, seeds.join(format!("{k}{text}"))).map_err(|e| e.to_string())?;
            }
        }
        say(&format!("{target}: {seconds} s …"));
        let limit = format!("-max_total_time={seconds}");
        let options = ["-timeout=20", "-rss_limit_mb=2048", "-max_len=8192", "-print_final_stats=1"];
        let mut arguments = vec!["fuzz", "run", "-s", "none", target, "--", limit.as_str()];
        arguments.extend(options);
        cargo(&arguments)?;
    }
    Ok(())
}

/// Runs a project of the browser's that looks at the demo: its pictures, or its speed.
fn pictures(project: &str) -> Outcome {
    build_web()?;
    ensure_chromium()?;
    cargo(&["build", "--package", "cli"])?;
    let mut server = tools::spawn_demo("127.0.0.1:8471")?;
    let folder = tools::root().join("docs/screenshots");
    let result = tools::run(
        "npm",
        &["exec", "--no", "--", "playwright", "test", "--project", project],
        "web",
        &[("ZESTY_ADDRESS", "http://127.0.0.1:8471"), ("ZESTY_SHOTS", &folder.display().to_string())],
    );
    server.stop();
    result
}

fn bench(rest: &[String]) -> Outcome {
    build_web()?;
    say("building with all optimisations (minutes the first time) …");
    cargo(&["build", "--release", "--package", "cli", "--package", "perf"])?;
    let mut arguments = vec!["run", "--release", "--quiet", "--package", "perf", "--"];
    arguments.extend(rest.iter().map(String::as_str));
    cargo(&arguments)
}
