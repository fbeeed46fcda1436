//! Running programs, and installing what a fresh machine lacks.

use std::io::{BufRead, BufReader};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};

/// Nothing, or why it failed.
pub(crate) type Outcome = Result<(), String>;

#[expect(clippy::print_stderr, reason = "progress is for people")]
pub(crate) fn say(text: &str) {
    eprintln!("{text}");
}

/// The folder of the workspace.
pub(crate) fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).parent().map_or_else(|| PathBuf::from("."), Path::to_owned)
}

pub(crate) fn run(program: &str, arguments: &[&str], folder: &str, variables: &[(&str, &str)]) -> Outcome {
    let status = Command::new(program)
        .args(arguments)
        .envs(variables.iter().copied())
        .current_dir(root().join(folder))
        .status()
        .map_err(|e| format!("`{program}` can't be started: {e}; install it first"))?;
    if status.success() { Ok(()) } else { Err(format!("`{program} {}` failed", arguments.join(" "))) }
}

pub(crate) fn cargo(arguments: &[&str]) -> Outcome {
    run("cargo", arguments, ".", &[])
}

pub(crate) fn npm(arguments: &[&str]) -> Outcome {
    run("npm", arguments, "web", &[("PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD", "1")])
}

/// Installs the web packages when there are none, or others than the lock file names.
pub(crate) fn ensure_web_packages() -> Outcome {
    let web = root().join("web");
    let lock = std::fs::read(web.join("package-lock.json")).map_err(|e| format!("web/package-lock.json: {e}"))?;
    let stamp = web.join("node_modules/.zesty-lock");
    if std::fs::read(&stamp).is_ok_and(|s| s == lock) {
        return Ok(());
    }
    say("installing the web packages (about a minute) …");
    npm(&["ci", "--ignore-scripts", "--no-audit", "--no-fund"])?;
    std::fs::write(stamp, lock).map_err(|e| e.to_string())
}

/// Installs Debian's chromium when there is none.
pub(crate) fn ensure_chromium() -> Outcome {
    let place = std::env::var("ZESTY_CHROMIUM").unwrap_or_else(|_| "/usr/bin/chromium".into());
    if Path::new(&place).exists() {
        return Ok(());
    }
    say("installing Debian's chromium for the browser tests (about a minute) …");
    let quiet = [("DEBIAN_FRONTEND", "noninteractive")];
    let install = || -> Outcome {
        run("apt-get", &["update", "-qq"], ".", &quiet)?;
        run("apt-get", &["install", "-y", "-qq", "--no-install-recommends", "chromium"], ".", &quiet)
    };
    install().map_err(|e| {
        format!(
            "{e}. The browser tests need Chromium: install the package `chromium` as root, \
             or set ZESTY_CHROMIUM to the path of a Chromium that is there"
        )
    })
}

/// The application with demo data in the background.
pub(crate) struct Running(Child);

impl Running {
    pub(crate) fn stop(&mut self) {
        // It may have ended by itself.
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

/// Starts the demo and waits until its hand-ins are checked.
pub(crate) fn spawn_demo(address: &str) -> Result<Running, String> {
    let program = target().join("debug/zesty-gate");
    let mut child = Command::new(&program)
        .args(["demo", "--listen", address])
        .stdout(Stdio::null())
        .stderr(Stdio::piped())
        .spawn()
        .map_err(|e| format!("{}: {e}", program.display()))?;
    let told = child.stderr.take().ok_or("the demo can't be heard")?;
    let mut running = Running(child);
    let mut lines = BufReader::new(told).lines().map_while(Result::ok);
    let is_ready = lines.by_ref().inspect(|line| say(line)).any(|line| line.contains("are checked"));
    if !is_ready {
        running.stop();
        return Err(format!("the demo does not start at {address}"));
    }
    // Keep reading, so that the server can go on writing.
    std::thread::spawn(move || lines.for_each(drop));
    Ok(running)
}

/// Where cargo builds.
pub(crate) fn target() -> PathBuf {
    std::env::var_os("CARGO_TARGET_DIR").map_or_else(|| root().join("target"), PathBuf::from)
}

/// Files with an ending in a folder and those below it, in order.
pub(crate) fn files_below(folder: &Path, ending: &str) -> Result<Vec<PathBuf>, String> {
    let mut found = Vec::new();
    let mut folders = vec![folder.to_owned()];
    while let Some(folder) = folders.pop() {
        let entries = std::fs::read_dir(&folder).map_err(|e| format!("{}: {e}", folder.display()))?;
        for path in entries.flatten().map(|e| e.path()) {
            if path.is_dir() {
                folders.push(path);
            } else if path.extension().is_some_and(|e| e == ending) {
                found.push(path);
            }
        }
    }
    found.sort();
    Ok(found)
}
