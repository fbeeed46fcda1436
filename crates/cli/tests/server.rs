//! The real program over the wire: durability, the same verdict as in the terminal, headers, limits, bad uploads.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

mod support;

use serde_json::Value;
use std::io::{Read, Write};
use std::net::TcpStream;
use std::time::{Duration, Instant};
use support::{Server, ask, hand_in, sign_in};

const DESIGN: &str = "module lab(input full, gate, run, output motor, output [1:0] stops);\n\
    assign motor = run & ~(full | gate);\n assign stops = {full & gate, full | gate};\nendmodule\n";

fn verdict(address: &str, cookie: &str, id: i64) -> Value {
    let start = Instant::now();
    loop {
        let answer = ask(address, "GET", &format!("/api/courses/1/hand-ins/{id}"), cookie, "", b"");
        let page: Value = serde_json::from_str(&answer.body).unwrap();
        if !page["verdict"].is_null() {
            return page;
        }
        assert!(start.elapsed() < Duration::from_secs(20), "no verdict yet");
        std::thread::sleep(Duration::from_millis(30));
    }
}

fn id_of(body: &str) -> i64 {
    serde_json::from_str::<Value>(body).unwrap()["id"].as_i64().unwrap()
}

#[test]
fn a_backup_of_a_running_server_is_served_by_another_one() {
    let folder = tempfile::tempdir().unwrap();
    let server = Server::start("demo", folder.path());
    let cookie = sign_in(&server.address, "ines");
    let sheet =
        |address: &str, cookie: &str| ask(address, "GET", "/api/courses/1/pass-sheet.csv", cookie, "", b"").body;
    let before = sheet(&server.address, &cookie);
    let out = folder.path().join("all.backup");
    let run = |args: &[&std::ffi::OsStr]| {
        let found = std::process::Command::new(env!("CARGO_BIN_EXE_zesty-gate")).args(args).output().unwrap();
        (found.status.code(), String::from_utf8(found.stderr).unwrap())
    };
    let data = std::ffi::OsStr::new("--data");
    let (code, told) = run(&["backup".as_ref(), out.as_os_str(), data, folder.path().as_os_str()]);
    assert!(code == Some(0) && told.contains("holds all data now, with 26 people"), "{told}");
    let elsewhere = tempfile::tempdir().unwrap();
    let (code, told) = run(&["restore".as_ref(), out.as_os_str(), data, elsewhere.path().as_os_str()]);
    assert_eq!(code, Some(0), "{told}");
    let other = Server::start("serve", elsewhere.path());
    let cookie = sign_in(&other.address, "ines");
    assert_eq!(sheet(&other.address, &cookie), before);
    // Anything else is refused with one sentence.
    let letter = elsewhere.path().join("letter.txt");
    std::fs::write(&letter, "Dear instructor").unwrap();
    let (code, told) = run(&["restore".as_ref(), letter.as_os_str(), data, elsewhere.path().as_os_str()]);
    assert!(code == Some(2) && told.trim_end().lines().count() == 1 && told.contains("nothing was changed"), "{told}");
    let (code, told) = run(&["backup".as_ref(), out.as_os_str(), data, elsewhere.path().join("none").as_os_str()]);
    assert!(code == Some(2) && told.contains("--data"), "{told}");
}

#[test]
fn an_acknowledged_hand_in_survives_a_kill_the_next_instant_and_is_then_checked() {
    let folder = tempfile::tempdir().unwrap();
    let mut server = Server::start("demo", folder.path());
    let cookie = sign_in(&server.address, "ines");
    let answer = hand_in(&server.address, &cookie, 1, 26, &[("files", "lab.v", DESIGN.as_bytes())]);
    // SIGKILL: nothing of the process runs any more.
    server.child.kill().unwrap();
    server.child.wait().unwrap();
    assert_eq!(answer.status, 201, "{}", answer.body);
    let id = id_of(&answer.body);
    let again = Server::start("serve", folder.path());
    let cookie = sign_in(&again.address, "ines");
    let page = verdict(&again.address, &cookie, id);
    assert_eq!(page["student"], "Ximena Cratewood");
    assert_eq!(page["files"][0]["text"], DESIGN);
}

#[test]
fn browser_and_terminal_give_the_same_verdict_on_a_file_from_elsewhere() {
    let folder = tempfile::tempdir().unwrap();
    let server = Server::start("demo", &folder.path().join("data"));
    let cookie = sign_in(&server.address, "ines");
    let wiring = include_bytes!("../../../demo/hopper-interlock/wiring_pin.csv");
    let files: [(&str, &str, &[u8]); 2] = [("files", "lab.v", DESIGN.as_bytes()), ("wiring", "lab.csv", wiring)];
    let answer = hand_in(&server.address, &cookie, 1, 26, &files);
    let mut page = verdict(&server.address, &cookie, id_of(&answer.body));
    std::fs::write(folder.path().join("lab.v"), DESIGN).unwrap();
    std::fs::write(folder.path().join("lab.csv"), wiring).unwrap();
    let exercise = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/hopper-interlock/exercise.toml");
    let output = std::process::Command::new(env!("CARGO_BIN_EXE_zesty-gate"))
        .args(["check", exercise, "lab.v", "--wiring", "lab.csv", "--json"])
        .current_dir(folder.path())
        .output()
        .unwrap();
    assert_eq!(output.status.code(), Some(1));
    let terminal: Value = serde_json::from_slice(&output.stdout).unwrap();
    assert_eq!(page["verdict"].take(), terminal);
    assert_eq!(terminal["verdict"], "partly");
    assert_eq!(terminal["rows"]["passed"], 6);
}

/// What the server says to a form of so many bytes that is announced and not sent.
fn announced(address: &str, path: &str, cookie: &str, length: usize) -> String {
    let mut stream = TcpStream::connect(address).unwrap();
    let head = format!(
        "POST {path} HTTP/1.1\r\nHost: {address}\r\nConnection: close\r\nCookie: {cookie}\r\n\
         Content-Type: multipart/form-data; boundary=x\r\nContent-Length: {length}\r\n\r\n"
    );
    stream.write_all(head.as_bytes()).unwrap();
    stream.set_read_timeout(Some(Duration::from_secs(20))).unwrap();
    let mut first = [0; 64];
    let count = stream.read(&mut first).unwrap();
    String::from_utf8_lossy(&first[..count]).into_owned()
}

#[test]
fn bad_uploads_are_told_and_leave_nothing_behind() {
    let folder = tempfile::tempdir().unwrap();
    let server = Server::start("demo", folder.path());
    let cookie = sign_in(&server.address, "ines");
    let list = || {
        let answer = ask(&server.address, "GET", "/api/courses/1/exercises/4/hand-ins", &cookie, "", b"");
        serde_json::from_str::<Value>(&answer.body).unwrap().as_array().unwrap().len()
    };
    let before = list();
    // Refused by the length that it announces, before a byte of it is read.
    let told = announced(&server.address, "/api/courses/1/exercises/4/hand-ins", &cookie, 50 << 20);
    assert!(told.starts_with("HTTP/1.1 413"), "{told}");
    let answer = hand_in(&server.address, &cookie, 4, 26, &[("wiring", "w.csv", b"port,part\n")]);
    assert_eq!(answer.status, 422, "{}", answer.body);
    let answer = hand_in(&server.address, &cookie, 4, 999, &[("files", "a.v", b"x")]);
    assert_eq!(answer.status, 404);
    assert_eq!(list(), before);
    // What is no design at all doesn't count as an attempt; the sentence says what to hand in.
    for (name, bytes, told) in [
        ("photo.v", &b"\x89PNG\r\n\x1a\n\x00\x00"[..], "is not text"),
        ("empty.v", b"", "empty"),
        ("report.pdf", b"%PDF-1.7", "is not a design file"),
    ] {
        let answer = hand_in(&server.address, &cookie, 4, 26, &[("files", name, bytes)]);
        assert!(answer.status == 422 && answer.body.contains(told), "{} {}", answer.status, answer.body);
    }
    let parts: Vec<(&str, &str, &[u8])> = vec![("files", "a.v", b""); 2_000];
    let answer = hand_in(&server.address, &cookie, 4, 26, &parts);
    assert!(answer.status == 422 && answer.body.contains("at most 64 files"), "{} {}", answer.status, answer.body);
    assert_eq!(list(), before);
    // Beside a design they are kept as they came, and get a verdict that says so.
    let files: [(&str, &str, &[u8]); 2] = [("files", "a.v", DESIGN.as_bytes()), ("files", "b.v", b"PK\x03\x04\x00")];
    let answer = hand_in(&server.address, &cookie, 4, 26, &files);
    assert_eq!(answer.status, 201, "{}", answer.body);
    let page = verdict(&server.address, &cookie, id_of(&answer.body));
    assert_eq!(page["verdict"]["findings"][0]["code"], "binary-file");
}

/// What the budget ends is one verdict that says so; the next hand-in is checked as ever.
#[test]
fn a_check_without_end_is_told_and_the_server_goes_on() {
    let folder = tempfile::tempdir().unwrap();
    let server = Server::start("demo", folder.path());
    let cookie = sign_in(&server.address, "ines");
    // Functions that call each other twice, forty deep: its budget ends it after a while, long enough to be met.
    let mut slow = String::from("module lab(input full, gate, run, output motor, output [1:0] stops);\n");
    slow += "function f0(input x); f0 = x; endfunction\n";
    for k in 1..40 {
        slow += &format!("function f{k}(input x); f{k} = f{}(x) ^ f{}(~x); endfunction\n", k - 1, k - 1);
    }
    slow += "assign motor = f39(full); assign stops = {gate, run}; endmodule\n";
    let waiting = hand_in(&server.address, &cookie, 1, 26, &[("files", "slow.v", slow.as_bytes())]);
    assert_eq!(waiting.status, 201, "{}", waiting.body);
    let page = verdict(&server.address, &cookie, id_of(&waiting.body));
    assert_eq!(page["verdict"]["verdict"], "cannot_tell", "{}", page["headline"]);
    let next = hand_in(&server.address, &cookie, 1, 26, &[("files", "lab.v", DESIGN.as_bytes())]);
    assert_ne!(verdict(&server.address, &cookie, id_of(&next.body))["verdict"]["verdict"], "cannot_tell");
}

#[test]
fn pages_carry_a_strict_content_policy_and_unknown_addresses_get_the_application() {
    let folder = tempfile::tempdir().unwrap();
    let server = Server::start("demo", folder.path());
    let page = ask(&server.address, "GET", "/courses/1", "", "", b"");
    assert_eq!(page.status, 200);
    let head = page.head.to_lowercase();
    assert!(head.contains("content-security-policy: default-src 'self'"), "{head}");
    assert!(!head.contains("unsafe-eval") && !head.contains("script-src"));
    assert!(page.body.contains("<div id=\"root\">"), "the web part is not built in: run `cargo xtask test`");
    assert_eq!(ask(&server.address, "GET", "/api/nothing", "", "", b"").status, 404);
    assert_eq!(ask(&server.address, "GET", "/assets/none.js", "", "", b"").status, 404);
}

#[test]
fn the_demo_refuses_a_folder_that_holds_data() {
    let folder = tempfile::tempdir().unwrap();
    drop(Server::start("demo", folder.path()));
    let output = std::process::Command::new(env!("CARGO_BIN_EXE_zesty-gate"))
        .args(["demo", "--listen", "127.0.0.1:0", "--data"])
        .arg(folder.path())
        .output()
        .unwrap();
    assert_eq!(output.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&output.stderr).contains("holds data already"));
}
