//! Measures what is promised to be fast, on optimised builds: `cargo xtask bench`. Prints the median of several runs
//! beside the promise; a bench is a figure, not a test, so nothing fails here.

mod checker;
mod dump;
mod mutants;
mod simulation;

use anyhow::{Context, Result};
use base::Budget;
use check::{HandIn, check};
use derive::{DeriveOptions, derive};
use elab::HandInFile;
use exercise::{Exercise, ExerciseForm};
use logic::{Effort, RowSet, minimise};
use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};
use store::{FileKind, NewFile, NewHandIn, NewVerdict, Role, Store};

/// As the program that is measured has it.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[expect(clippy::print_stdout, reason = "the figures are the result")]
fn report(name: &str, promise_ms: f64, times: &mut [Duration]) {
    times.sort();
    let ms = |d: Duration| d.as_secs_f64() * 1000.0;
    let median = ms(times[times.len() / 2]);
    let (fastest, slowest) = (ms(times[0]), ms(times[times.len() - 1]));
    println!("{name:<58} median {median:8.2} ms  ({fastest:.2} to {slowest:.2}, promised {promise_ms} ms)");
}

fn measure(count: usize, mut run: impl FnMut() -> Result<()>) -> Result<Vec<Duration>> {
    (0..count)
        .map(|_| {
            let start = Instant::now();
            run()?;
            Ok(start.elapsed())
        })
        .collect()
}

/// A 16-input exercise: an 8-bit sum with its overflow, and a design that builds it from full adders.
fn wide_check() -> Result<()> {
    let text = "format = \"zesty-gate/exercise/1\"\ntitle = \"Wide\"\n\
        [[port]]\nname = \"x\"\ndir = \"in\"\nrange = \"7:0\"\n[[port]]\nname = \"y\"\ndir = \"in\"\nrange = \"7:0\"\n\
        [[port]]\nname = \"sum\"\ndir = \"out\"\nrange = \"8:0\"\n[behaviour]\nkind = \"expressions\"\n\
        [behaviour.outputs]\nsum = \"x + y\"\n";
    let exercise = Exercise::alone(text)?;
    let source = "module fa(input a, b, c, output s, o); assign s = a ^ b ^ c; assign o = a & b | c & (a ^ b); endmodule\n\
        module m(input [7:0] x, y, output [8:0] sum); wire [8:0] c; assign c[0] = 0; assign sum[8] = c[8];\n\
        genvar i; generate for (i = 0; i < 8; i = i + 1) begin : g fa f(x[i], y[i], c[i], sum[i], c[i+1]); end endgenerate\n\
        endmodule\n";
    let files = vec![HandInFile { name: "m.v".into(), bytes: source.as_bytes().to_vec() }];
    let hand_in = HandIn { files, ..HandIn::default() };
    let mut times = measure(41, || {
        let checked = check(&exercise, &hand_in);
        anyhow::ensure!(checked.verdict.rows.passed == 65_536, "the adder is right on every row");
        Ok(())
    })?;
    report("check of a 16-input design, all 65,536 rows", 50.0, &mut times);
    let mut times = measure(11, || Exercise::alone(text).map(drop).map_err(Into::into))?;
    report("reading that exercise with its 65,536-row table", 50.0, &mut times);
    Ok(())
}

/// The most memory that this process has used, beside what is promised, in MiB.
#[expect(clippy::print_stdout, reason = "the figures are the result")]
fn note_peak(name: &str, promise: u64) {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let peak = status.lines().find_map(|l| l.strip_prefix("VmHWM:")?.trim().strip_suffix(" kB")?.parse::<u64>().ok());
    match peak {
        Some(kib) => println!("{name:<58} {:8} MiB (promised {promise})", kib / 1024),
        None => println!("{name:<58} not known on this system"),
    }
}

/// Ten thousand lines of Verilog: modules of fifty lines with registers, a case and gates, each instantiated by the top.
fn verilog_lines(modules: usize) -> String {
    let mut text = String::new();
    let mut top = String::from("module top(input clk, rst, input [7:0] d, output [7:0] q);\n");
    for m in 0..modules {
        text += &format!("module lane_{m}(\n  input clk,\n  input rst,\n  input [7:0] d,\n  output reg [7:0] q\n);\n");
        text += "  reg [7:0] count;\n  wire [7:0] next;\n  reg [1:0] state;\n";
        for line in 0..12 {
            text +=
                &format!("  wire w{line} = d[{}] ^ count[{}] & ~d[{}];\n", line % 8, (line + m) % 8, (line + 3) % 8);
        }
        text += "  assign next = count + {4'd0, w0, w1, w2, w3};\n";
        text +=
            "  always @(posedge clk or posedge rst)\n    if (rst) begin\n      count <= 8'd0;\n      state <= 2'd0;\n";
        text += "    end else begin\n      count <= next;\n      state <= state + 2'd1;\n    end\n";
        text += "  always @* begin\n    case (state)\n      2'd0: q = count;\n      2'd1: q = {w4, w5, count[5:0]};\n";
        text +=
            "      2'd2: q = d & next;\n      default: q = {w6, w7, w8, w9, w10, w11, 2'b01};\n    endcase\n  end\n";
        text += "endmodule\n\n";
        top += &format!(
            "  wire [7:0] q{m};\n  lane_{m} u{m}(.clk(clk), .rst(rst), .d({}), .q(q{m}));\n",
            if m == 0 { "d".into() } else { format!("q{}", m - 1) }
        );
    }
    text + &top + &format!("  assign q = q{};\nendmodule\n", modules - 1)
}

/// Reading, elaborating and linting ten thousand lines.
fn many_lines() -> Result<()> {
    let text = verilog_lines(240);
    let lines = text.lines().count();
    anyhow::ensure!((10_000..11_000).contains(&lines), "{lines} lines");
    let files = vec![HandInFile { name: "lanes.v".into(), bytes: text.into_bytes() }];
    let mut times = measure(9, || {
        let found = views::inspect(&files, Some("top"), &Budget::hand_in())?;
        let flip_flops = found.resources.map_or(0, |r| r.flip_flops);
        anyhow::ensure!(flip_flops == 240 * 10, "{flip_flops} {:?}", found.findings.first());
        Ok(())
    })?;
    report(&format!("{lines} lines of Verilog read, elaborated and linted"), 200.0, &mut times);
    note_peak("  most memory of the process so far", 200);
    Ok(())
}

fn program() -> Result<PathBuf> {
    let mine = std::env::current_exe()?;
    Ok(mine.with_file_name("zesty-gate"))
}

fn whole_process(root: &Path) -> Result<()> {
    let folder = root.join("demo/hopper-interlock");
    let mut times = measure(41, || {
        let status = Command::new(program()?)
            .args(["check", "exercise.toml", "gates.v", "--wiring", "wiring_right.csv", "--json"])
            .current_dir(&folder)
            .stdout(Stdio::null())
            .status()?;
        anyhow::ensure!(status.success(), "the demo design passes");
        Ok(())
    })?;
    report("zesty-gate check of a small file, whole process", 30.0, &mut times);
    Ok(())
}

/// 300 students × 20 exercises, everybody with a verdict.
fn fill(store: &Store, root: &Path) -> Result<()> {
    let hash = server::hash_password("lemon-peel")?;
    let instructor = store.add_person("Ines Quillaby", "ines", &hash, 1)?;
    let course = store.add_course("Packhouse Controls", instructor, 1)?;
    let text = std::fs::read_to_string(root.join("demo/hopper-interlock/exercise.toml"))?;
    let exercises: Vec<store::ExerciseId> = (0..20)
        .map(|i| store.add_exercise(course, &format!("Exercise {i}"), &text, instructor, 1))
        .collect::<Result<_, _>>()?;
    for s in 0..300 {
        let student = store.add_person(&format!("Student {s}"), &format!("s{s}"), &hash, 1)?;
        store.set_member(course, student, Role::Student, if s % 2 == 0 { "Morning" } else { "Evening" })?;
        for exercise in &exercises {
            let file = NewFile { kind: FileKind::Design, name: "m.v".into(), bytes: b"module m; endmodule".to_vec() };
            let new = NewHandIn { exercise: *exercise, student, submitted_by: student, top: None, files: vec![file] };
            let (id, _) = store.add_hand_in(course, &new, 2)?;
            let verdict = NewVerdict {
                revision: store::RevisionId(exercise.0),
                kind: "partly".into(),
                rows_passed: 7,
                rows_total: 8,
                headline: String::new(),
                json: "{}".into(),
                actual: None,
                image: None,
                marks: None,
                shares: String::new(),
            };
            store.add_verdict(id, &verdict, 3)?;
        }
    }
    Ok(())
}

fn ask(address: &str, request: &str) -> Result<String> {
    let mut stream = TcpStream::connect(address)?;
    stream.write_all(request.as_bytes())?;
    let mut text = String::new();
    stream.read_to_string(&mut text)?;
    Ok(text)
}

fn pass_sheet(root: &Path) -> Result<()> {
    let folder = tempfile::tempdir()?;
    fill(&Store::open(folder.path())?, root)?;
    let mut child = Command::new(program()?)
        .args(["serve", "--listen", "127.0.0.1:0", "--data"])
        .arg(folder.path())
        .stderr(Stdio::piped())
        .spawn()?;
    let mut lines = BufReader::new(child.stderr.take().context("the server's messages")?).lines();
    let found = lines.find_map(|l| l.ok()?.split_once("http://").map(|(_, a)| a.trim().to_owned()));
    let address = found.context("the server says its address")?;
    let body = r#"{"name":"ines","password":"lemon-peel"}"#;
    let sign_in = format!(
        "POST /api/sign-in HTTP/1.1\r\nHost: {address}\r\nConnection: close\r\nContent-Type: application/json\r\nContent-Length: {}\r\n\r\n{body}",
        body.len()
    );
    let answer = ask(&address, &sign_in)?;
    let cookie = answer.lines().find_map(|l| l.strip_prefix("set-cookie: ")).context("a session")?;
    let cookie = cookie.split(';').next().unwrap_or_default();
    let get = format!(
        "GET /api/courses/1/pass-sheet HTTP/1.1\r\nHost: {address}\r\nConnection: close\r\nCookie: {cookie}\r\n\r\n"
    );
    let result = measure(21, || {
        let sheet = ask(&address, &get)?;
        anyhow::ensure!(sheet.contains("Student 299"), "the sheet is whole");
        Ok(())
    });
    // The server is ours alone.
    let _ = child.kill();
    let _ = child.wait();
    report("pass sheet of 300 students × 20 exercises, over the wire", 50.0, &mut result?);
    Ok(())
}

/// Repeatable noise (xorshift; Marsaglia 2003).
fn noise(state: &mut u64) -> u64 {
    *state ^= *state << 13;
    *state ^= *state >> 7;
    *state ^= *state << 17;
    *state
}

/// Exact minimisation: every function of four inputs, and random ones of ten.
#[expect(clippy::print_stdout, reason = "the figures are the result")]
fn minimisation() -> Result<()> {
    let none = RowSet::empty(4);
    let mut times = measure(3, || {
        for function in 0..1u64 << 16 {
            let found = minimise(&RowSet::from_words(4, &[function]), &none, &Effort::default());
            anyhow::ensure!(found.optimal && found.all_covers, "exact");
        }
        Ok(())
    })?;
    report("all 65,536 functions of four inputs, exactly, all ties", 3000.0, &mut times);
    let mut state = 0x9E37_79B9_7F4A_7C15;
    let mut proved = 0;
    let mut gap = 0;
    let mut times = measure(9, || {
        let mut ones = RowSet::empty(10);
        let mut dont_care = RowSet::empty(10);
        for row in 0..1024 {
            if noise(&mut state) % 100 < 30 {
                dont_care.insert(row);
            } else if noise(&mut state).is_multiple_of(2) {
                ones.insert(row);
            }
        }
        let found = minimise(&ones, &dont_care, &Effort::default());
        proved += u32::from(found.optimal);
        gap = gap.max(found.terms - found.least_terms);
        Ok(())
    })?;
    report("a random function of ten inputs, 30 % don't-cares", 1000.0, &mut times);
    println!("  of 9 such functions {proved} proved minimal; the others within {gap} terms of their proved bound");
    Ok(())
}

/// What the workings page waits for at a keystroke.
fn keystroke() -> Result<()> {
    let ports: String =
        ["a", "b", "c", "d", "e", "f"].map(|n| format!("[[port]]\nname = \"{n}\"\ndir = \"in\"\n")).concat();
    let text = format!(
        "format = \"zesty-gate/exercise/1\"\ntitle = \"Six\"\n{ports}[[port]]\nname = \"y\"\ndir = \"out\"\n\
         [behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\ny = \"a b' c + d e' f + a' d + b e f' + c' d' f\"\n"
    );
    let draft = ExerciseForm::read(&text);
    let options = DeriveOptions { steps: true, shared: true, ..DeriveOptions::default() };
    let mut times = measure(41, || {
        let worked = draft.work(&text, None, &|_| Err("none".into()));
        let exercise = worked.exercise.context("the draft is right")?;
        let derivation = derive(exercise.table(), &options);
        anyhow::ensure!(serde_json::to_string(&derivation)?.len() > 1000, "all of it");
        Ok(())
    })?;
    report("workings of a six-input exercise, read, derived, written", 50.0, &mut times);
    Ok(())
}

/// All of them, or those of the group named: lines, simulation, check, minimise, workings, mutants, process, sheet.
fn main() -> Result<()> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let only = std::env::args().nth(1);
    let wanted = |group: &str| only.as_deref().is_none_or(|o| o == group);
    let groups: [(&str, &dyn Fn() -> Result<()>); 10] = [
        ("lines", &many_lines),
        ("simulation", &simulation::run),
        ("dump", &dump::run),
        ("checker", &|| checker::run(&root)),
        ("check", &wide_check),
        ("minimise", &minimisation),
        ("workings", &keystroke),
        ("mutants", &mutants::run),
        ("process", &|| whole_process(&root)),
        ("sheet", &|| pass_sheet(&root)),
    ];
    groups.into_iter().filter(|(group, _)| wanted(group)).try_for_each(|(_, run)| run())
}
