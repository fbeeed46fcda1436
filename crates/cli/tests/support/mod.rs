//! The real binary on a free port, and a small HTTP client for it.

use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Child, Command, Stdio};

pub(crate) struct Server {
    pub(crate) child: Child,
    pub(crate) address: String,
}

impl Server {
    /// Starts `zesty-gate COMMAND --data FOLDER` on a free port and waits until it says its address and, where it is the
    /// demo, that its hand-ins are checked.
    pub(crate) fn start(command: &str, folder: &Path) -> Self {
        let mut child = Command::new(env!("CARGO_BIN_EXE_zesty-gate"))
            .args([command, "--listen", "127.0.0.1:0", "--data"])
            .arg(folder)
            .stderr(Stdio::piped())
            .spawn()
            .unwrap();
        let mut lines = BufReader::new(child.stderr.take().unwrap()).lines();
        let address = lines
            .find_map(|line| line.unwrap().split_once("http://").map(|(_, a)| a.trim().to_owned()))
            .expect("the server says where it is");
        if command == "demo" {
            let is_done = |line: std::io::Result<String>| line.unwrap().contains("are checked");
            assert!(lines.any(is_done), "the demo checks its hand-ins");
        }
        // Keep reading, so that the server can go on writing.
        std::thread::spawn(move || lines.for_each(drop));
        Self { child, address }
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        // It may have been killed by the test.
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

pub(crate) struct Answer {
    pub(crate) status: u16,
    pub(crate) head: String,
    pub(crate) body: String,
}

/// One request on a connection of its own.
#[allow(dead_code, reason = "not every test file asks")]
pub(crate) fn ask(address: &str, method: &str, path: &str, cookie: &str, kind: &str, body: &[u8]) -> Answer {
    let mut stream = TcpStream::connect(address).unwrap();
    let head = format!(
        "{method} {path} HTTP/1.1\r\nHost: {address}\r\nConnection: close\r\nCookie: {cookie}\r\nContent-Type: {kind}\r\n\
         Content-Length: {}\r\n\r\n",
        body.len()
    );
    stream.write_all(head.as_bytes()).unwrap();
    // A server that refuses early may close before it has read everything.
    let _ = stream.write_all(body);
    let mut text = Vec::new();
    let _ = stream.read_to_end(&mut text);
    let text = String::from_utf8_lossy(&text).into_owned();
    let (head, body) = text.split_once("\r\n\r\n").unwrap_or((text.as_str(), ""));
    let status = head.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap_or(0);
    let body = if head.to_lowercase().contains("transfer-encoding: chunked") { dechunk(body) } else { body.to_owned() };
    Answer { status, head: head.to_owned(), body }
}

fn dechunk(mut text: &str) -> String {
    let mut out = String::new();
    while let Some((size, rest)) = text.split_once("\r\n") {
        let size = usize::from_str_radix(size.trim(), 16).unwrap_or(0);
        if size == 0 || rest.len() < size {
            break;
        }
        out.push_str(&rest[..size]);
        text = rest[size..].trim_start_matches("\r\n");
    }
    out
}

/// Signs in with the demo password and gives the cookie.
#[allow(dead_code, reason = "not every test file signs in")]
pub(crate) fn sign_in(address: &str, name: &str) -> String {
    let body = format!("{{\"name\":\"{name}\",\"password\":\"lemon-peel\"}}");
    let answer = ask(address, "POST", "/api/sign-in", "", "application/json", body.as_bytes());
    assert_eq!(answer.status, 200, "{}", answer.body);
    let line = answer.head.lines().find(|l| l.to_lowercase().starts_with("set-cookie:")).unwrap().to_owned();
    line.split_once(": ").unwrap().1.split(';').next().unwrap().to_owned()
}

/// A hand-in of one design for a student, as the browser sends it.
#[allow(dead_code, reason = "not every test file hands in")]
pub(crate) fn hand_in(
    address: &str,
    cookie: &str,
    exercise: i64,
    student: i64,
    files: &[(&str, &str, &[u8])],
) -> Answer {
    let mut body =
        format!("--zz\r\nContent-Disposition: form-data; name=\"student\"\r\n\r\n{student}\r\n").into_bytes();
    for (field, name, bytes) in files {
        let head = format!(
            "--zz\r\nContent-Disposition: form-data; name=\"{field}\"; filename=\"{name}\"\r\nContent-Type: text/plain\r\n\r\n"
        );
        body.extend(head.as_bytes());
        body.extend(*bytes);
        body.extend(b"\r\n");
    }
    body.extend(b"--zz--\r\n");
    let path = format!("/api/courses/1/exercises/{exercise}/hand-ins");
    ask(address, "POST", &path, cookie, "multipart/form-data; boundary=zz", &body)
}
