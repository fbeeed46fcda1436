//! The API asked at random, as its own OpenAPI document says, by Schemathesis (a general-purpose tool from PyPI): no answer
//! may be a failure of the server, and none may be one that the document does not name.

use crate::tools::{self, Outcome, run, say};
use std::io::{Read, Write};
use std::net::TcpStream;
use std::path::PathBuf;

const VERSION: &str = "4.32.5";
const ADDRESS: &str = "127.0.0.1:8472";

/// What is there in the demo, so that questions come past "not found".
const KNOWN: &str =
    "[parameters]\n\"path.course\" = 1\n\"path.exercise\" = 2\n\"path.hand_in\" = 7\n\"path.person\" = 9\n";

/// What is looked at. A request of the right form may still be refused with 422 and a reason, as a name that is taken is; and
/// what a role may not do is told by `server/tests/roles.rs`.
const CHECKS: &str = "not_a_server_error,status_code_conformance,content_type_conformance,response_headers_conformance,\
    response_schema_conformance,unsupported_method,allow_header_conformance";

/// Asks the program that was built last for so many seconds, most of them as an instructor and the rest as a student.
pub(crate) fn ask(seconds: u64) -> Outcome {
    let program = tool()?;
    let mut server = tools::spawn_demo(ADDRESS)?;
    let asked = (|| {
        for (name, share) in [("ines", seconds * 2 / 3), ("abel", seconds / 3)] {
            say(&format!("the API, asked at random as {name} for {share} s …"));
            as_somebody(&program, name, share)?;
        }
        Ok(())
    })();
    server.stop();
    asked
}

fn as_somebody(program: &str, name: &str, seconds: u64) -> Outcome {
    let folder = folder();
    let config = folder.join("schemathesis.toml");
    std::fs::write(&config, KNOWN).map_err(|e| format!("{}: {e}", config.display()))?;
    let cookie = format!("Cookie: {}", session(name)?);
    let (config, seconds) = (config.display().to_string(), seconds.max(1).to_string());
    let document = format!("http://{ADDRESS}/api/openapi.json");
    let arguments = [
        "--config-file",
        &config,
        "run",
        &document,
        "-H",
        &cookie,
        "--max-time",
        &seconds,
        "--checks",
        CHECKS,
        "--seed",
        "1",
        "--continue-on-failure",
        "--warnings",
        "off",
        "--no-color",
        // The session that asks has to stay.
        "--exclude-path",
        "/api/sign-out",
        "--exclude-path-regex",
        "/api/sessions",
        "--exclude-path",
        "/api/me/password",
    ];
    run(program, &arguments, &folder.display().to_string(), &[])
}

fn folder() -> PathBuf {
    tools::target().join("schemathesis")
}

/// Installs the tool when it is not there; gives its path.
fn tool() -> Result<String, String> {
    let program = folder().join("bin/st");
    let stamp = folder().join(format!("version-{VERSION}"));
    if !stamp.exists() {
        say("installing Schemathesis (about half a minute) …");
        let place = folder().display().to_string();
        let made = run("python3", &["-m", "venv", "--clear", &place], ".", &[]);
        if made.is_err() {
            let quiet = [("DEBIAN_FRONTEND", "noninteractive")];
            run("apt-get", &["install", "-y", "-qq", "python3-venv"], ".", &quiet)?;
            run("python3", &["-m", "venv", "--clear", &place], ".", &[])?;
        }
        let pip = folder().join("bin/pip").display().to_string();
        run(&pip, &["install", "--quiet", &format!("schemathesis=={VERSION}")], ".", &[])?;
        std::fs::write(stamp, "").map_err(|e| e.to_string())?;
    }
    Ok(program.display().to_string())
}

/// Signs in; gives the cookie.
fn session(name: &str) -> Result<String, String> {
    let body = format!("{{\"name\":\"{name}\",\"password\":\"lemon-peel\"}}");
    let request = format!(
        "POST /api/sign-in HTTP/1.1\r\nHost: {ADDRESS}\r\nContent-Type: application/json\r\nContent-Length: {}\r\n\
         Connection: close\r\n\r\n{body}",
        body.len()
    );
    let mut stream = TcpStream::connect(ADDRESS).map_err(|e| e.to_string())?;
    stream.write_all(request.as_bytes()).map_err(|e| e.to_string())?;
    let mut answer = String::new();
    stream.read_to_string(&mut answer).map_err(|e| e.to_string())?;
    let lines = answer.lines().filter_map(|l| l.split_once(": "));
    let mut cookies = lines.filter(|(name, _)| name.eq_ignore_ascii_case("set-cookie")).map(|(_, value)| value);
    let cookie = cookies.next().ok_or_else(|| format!("{name} can't sign in: {answer}"))?;
    Ok(cookie.split(';').next().unwrap_or_default().to_owned())
}
