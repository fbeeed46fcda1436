//! `zesty-gate check` and `derive` in a terminal: results, exit statuses, one clear sentence for bad input.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use assert_cmd::Command;
use serde_json::Value;
use std::path::PathBuf;

fn demo(name: &str) -> String {
    format!("{}/../../demo/{name}", env!("CARGO_MANIFEST_DIR"))
}

fn run(arguments: &[&str]) -> (i32, String, String) {
    let output = Command::cargo_bin("zesty-gate").unwrap().args(arguments).output().unwrap();
    let text = |b: &[u8]| String::from_utf8(b.to_vec()).unwrap();
    (output.status.code().unwrap(), text(&output.stdout), text(&output.stderr))
}

fn verdict(exercise: &str, file: &str) -> Value {
    let (code, out, _) =
        run(&["check", &demo(&format!("{exercise}/exercise.toml")), &demo(&format!("{exercise}/{file}")), "--json"]);
    let json: Value = serde_json::from_str(&out).unwrap();
    assert_eq!(code == 0, json["verdict"] == "pass");
    json
}

struct Scratch(tempfile::TempDir);

impl Scratch {
    fn new() -> Self {
        Self(tempfile::tempdir().unwrap())
    }

    fn file(&self, name: &str, bytes: &[u8]) -> String {
        let path: PathBuf = self.0.path().join(name);
        std::fs::write(&path, bytes).unwrap();
        path.display().to_string()
    }
}

/// One sentence on standard error, nothing on standard output, exit status 2.
fn refused(arguments: &[&str]) -> String {
    let (code, out, err) = run(arguments);
    assert_eq!((code, out.as_str()), (2, ""), "{err}");
    assert_eq!(err.trim().lines().count(), 1, "{err}");
    err
}

#[test]
fn demo_hand_ins_get_the_verdicts_a_reader_expects() {
    let cases = [
        ("hopper-interlock", "plain.v", "pass", 8),
        ("hopper-interlock", "gates.v", "pass", 8),
        ("hopper-interlock", "wrong_or.v", "partly", 6),
        ("hopper-interlock", "latch.v", "partly", 4),
        ("hopper-interlock", "semicolon.v", "fail", 0),
        ("hopper-interlock", "misspelt.v", "fail", 0),
        ("weight-grader", "compare.v", "pass", 16),
        ("weight-grader", "cases.v", "pass", 16),
        ("weight-grader", "sop.v", "pass", 16),
        ("weight-grader", "border.v", "partly", 15),
        ("weight-grader", "missing_case.v", "partly", 15),
        ("tank-level-bar", "shift.v", "pass", 8),
        ("tank-level-bar", "loop.v", "pass", 8),
        ("tank-level-bar", "reversed.v", "partly", 2),
        ("gray-turntable", "xor.v", "pass", 16),
        ("gray-turntable", "generate.v", "pass", 16),
        ("gray-turntable", "one_or.v", "partly", 12),
        ("gray-turntable", "loop.v", "fail", 0),
    ];
    for (exercise, file, wanted, rows) in cases {
        let json = verdict(exercise, file);
        assert_eq!((json["verdict"].as_str(), json["rows"]["passed"].as_u64()), (Some(wanted), Some(rows)), "{file}");
    }
}

#[test]
fn a_missing_semicolon_is_one_message_at_the_end_of_its_line() {
    let json = verdict("hopper-interlock", "semicolon.v");
    let findings = json["findings"].as_array().unwrap();
    assert_eq!(findings.len(), 1);
    assert_eq!(findings[0]["code"], "missing-semicolon");
    assert_eq!((findings[0]["line"].as_u64(), findings[0]["column"].as_u64()), (Some(3), Some(28)));
    assert_eq!(json["stages"][3]["state"], "skipped");
}

#[test]
fn a_wrong_row_is_shown_with_its_evidence() {
    let json = verdict("hopper-interlock", "wrong_or.v");
    let finding = &json["findings"][0];
    assert_eq!(finding["evidence"]["row"], "011");
    assert_eq!(finding["evidence"]["expected"]["motor"], "0");
    assert_eq!(finding["evidence"]["actual"]["motor"], "1");
    assert_eq!(
        (json["proof"]["kind"].as_str(), json["proof"]["method"].as_str()),
        (Some("differs"), Some("exhaustive"))
    );
}

#[test]
fn a_latch_is_named_with_its_branch_and_the_row_it_leaves_unknown() {
    let json = verdict("hopper-interlock", "latch.v");
    let finding = &json["findings"][0];
    assert_eq!((finding["code"].as_str(), finding["line"].as_u64()), (Some("inferred-latch"), Some(3)));
    assert_eq!(finding["evidence"]["actual"]["motor"], "X");
}

#[test]
fn the_wrong_lamp_is_told_by_its_label() {
    let exercise = demo("hopper-interlock/exercise.toml");
    let (code, out, _) = run(&[
        "check",
        &exercise,
        &demo("hopper-interlock/plain.v"),
        "--wiring",
        &demo("hopper-interlock/wiring_pin.csv"),
        "--json",
    ]);
    let json: Value = serde_json::from_str(&out).unwrap();
    assert_eq!((code, json["verdict"].as_str()), (1, Some("partly")));
    assert_eq!(json["findings"][0]["message"], "`motor` lights H3 (pin M1) instead of H7 (pin K1).");
    assert_eq!(json["stages"][5]["reason"], "1 of 8 rows show wrong lamps.");
    assert_eq!(json["near_misses"][0]["kind"], "wrong_pin");
    assert_eq!(json["near_misses"][0]["line"], json["findings"][0]["line"]);
}

#[test]
fn faulty_exercise_files_are_refused_in_one_sentence() {
    let scratch = Scratch::new();
    let good = std::fs::read_to_string(demo("hopper-interlock/exercise.toml")).unwrap();
    let design = demo("hopper-interlock/plain.v");
    let fault = |from: &str, to: &str| {
        let path = scratch.file("e.toml", good.replacen(from, to, 1).as_bytes());
        refused(&["check", &path, &design])
    };
    assert!(fault("title", "titel").contains("line 2, column 1: Unknown key `titel`"));
    assert!(fault("\"gate\"", "\"2x\"").contains("a name starts with a letter"));
    assert!(fault("\"gate\"", "\"a b\"").contains("a name holds no blanks"));
    let table = std::fs::read_to_string(demo("tank-level-bar/exercise.toml")).unwrap();
    let path = scratch.file("t.toml", table.replace("010 | 0000011", "010 | 000011").as_bytes());
    assert!(refused(&["check", &path, &design]).contains("6 output bits where there are 7; add 1"));
    let empty = scratch.file("empty.toml", b"");
    assert!(refused(&["check", &empty, &design]).contains("`format` is missing"));
    assert!(refused(&["check", "/nowhere.toml", &design]).contains("check the path"));
    assert!(refused(&["check", &demo("hopper-interlock/exercise.toml"), "/nowhere.v"]).contains("check the path"));
}

#[test]
fn hostile_and_careless_files_end_in_a_finding() {
    let scratch = Scratch::new();
    let exercise = demo("hopper-interlock/exercise.toml");
    let first = |name: &str, bytes: &[u8]| {
        let path = scratch.file(name, bytes);
        let (code, out, _) = run(&["check", &exercise, &path, "--json"]);
        let json: Value = serde_json::from_str(&out).unwrap();
        assert_eq!(code, 1);
        json["findings"][0]["code"].as_str().unwrap().to_owned()
    };
    let module = |body: &str| {
        format!("module m(input full, gate, run, output motor, output [1:0] stops);\n{body}\nendmodule\n").into_bytes()
    };
    assert_eq!(first("empty.v", b""), "empty-file");
    assert_eq!(first("bytes.v", &[0, 159, 146, 150]), "binary-file");
    assert_eq!(first("big.v", &vec![b' '; 50 << 20]), "large-file");
    // Macros that name each other, forward and in a ring.
    let ring = module("`define A `B\n`define B `A\nassign motor = `A;");
    assert_eq!(first("ring.v", &ring), "macro-recursion");
    let mut fan: String = (0..30).map(|i| format!("`define M{i} `M{0} `M{0}\n", i + 1)).collect();
    fan += "`define M30 full\nassign motor = `M0;";
    assert_eq!(first("fan.v", &module(&fan)), "budget-exhausted");
    let vhdl = |body: &str| {
        let text = format!(
            "entity m is port (full, gate, run : in bit; motor : out bit; stops : out bit_vector(1 downto 0)); end;\n\
             architecture a of m is begin\n{body}\nend;\n"
        );
        text.into_bytes()
    };
    let loops = "process (run) variable v : integer; begin for i in 0 to 60000 loop for j in 0 to 60000 loop v := i; \
                 end loop; end loop; motor <= run; end process;";
    assert_eq!(first("loops.vhd", &vhdl(loops)), "budget-exhausted");
    let turns = "g : for i in 0 to 1000000 generate h : for j in 0 to 1000 generate end generate; end generate;";
    assert_eq!(first("generate.vhd", &vhdl(turns)), "budget-exhausted");
    let deep = format!("motor <= {}run{};", "(".repeat(100_000), ")".repeat(100_000));
    assert_eq!(first("deep.vhd", &vhdl(&deep)), "too-deep");
    let two =
        b"module a(input x, output y); assign y = x; endmodule\nmodule b(input x, output y); assign y = x; endmodule\n";
    assert_eq!(first("two.v", two), "no-clear-top");
    let deep = format!("assign motor = {}run{};", "(".repeat(100_000), ")".repeat(100_000));
    assert_eq!(first("deep.v", &module(&deep)), "too-deep");
    assert_eq!(first("wide.v", &module("wire [2147483647:0] w;")), "too-wide");
    assert_eq!(
        first("loop.v", &module("reg r; always @* begin r = 0; while (1) r = ~r; end assign motor = r;")),
        "endless-loop"
    );
    assert_eq!(
        first("gen.v", &module("genvar i; generate for (i = 0; i >= 0; i = i + 1) begin : g wire w; end endgenerate")),
        "budget-exhausted"
    );
    assert_eq!(first("self.v", &module("m again(full, gate, run, motor, stops);")), "endless-recursion");
    assert_eq!(
        first("mul.v", &module("wire [60000:0] w; assign w = {60000{full}} * {60000{gate}}; assign motor = ^w;")),
        "budget-exhausted"
    );
}

#[test]
fn derive_gives_rows_and_canonical_forms() {
    let (code, out, _) = run(&["derive", "--minterms", "f(a,b,c)=1,2 d=7", "--json"]);
    let json: Value = serde_json::from_str(&out).unwrap();
    assert_eq!(code, 0);
    let f = &json["outputs"][0];
    assert_eq!(f["maxterms"], serde_json::json!([0, 3, 4, 5, 6]));
    assert_eq!(f["canonical"]["sop"], "a' b' c + a' b c'");
    let (_, text, _) = run(&["derive", "--expr", "f = a'b + c", "--notation", "operators"]);
    assert!(text.contains("minterms     1, 2, 3, 5, 7") && text.contains("minimal SOP  ~a & b | c\n"), "{text}");
    assert!(text.lines().all(|l| l.chars().count() <= 80));
    assert!(refused(&["derive", "--minterms", "f(a,b)=4"]).contains("rows 0 to 3 only"));
    assert!(refused(&["derive", "--minterms", "f(a,b)=1 d=1"]).contains("both a term and a don't-care"));
    assert!(refused(&["derive", "--expr", "f = (a & b"]).contains("column 5"));
    assert!(refused(&["derive", "--expr", "a = a & b"]).contains("named twice"));
}

#[test]
fn the_rows_to_try_come_along_when_they_are_asked_for() {
    let exercise = demo("hopper-interlock/exercise.toml");
    let design = demo("hopper-interlock/gates.v");
    let json: Value = serde_json::from_str(&run(&["check", &exercise, &design, "--rows-to-try", "--json"]).1).unwrap();
    let found = &json["rows_to_try"];
    let rows = found["rows"].as_array().unwrap();
    assert!(rows.len() < 8 && rows.iter().all(|r| r.as_str().unwrap().len() == 3), "{found}");
    assert_eq!((found["fewest"].as_bool(), found["least"].as_u64()), (Some(true), Some(rows.len() as u64)));
    // `full` and `gate` do the same: wires of theirs that are swapped show nowhere.
    assert_eq!(found["faults"].as_u64(), found["shown"].as_u64().map(|n| n + 1));
    let plain: Value = serde_json::from_str(&run(&["check", &exercise, &design, "--json"]).1).unwrap();
    assert!(plain.get("rows_to_try").is_none());
    assert_eq!(plain["verdict"], json["verdict"]);
    let (_, _, text) = run(&["check", &exercise, &demo("hopper-interlock/latch.v"), "--rows-to-try"]);
    assert!(text.contains("No rows to try"), "{text}");
}

#[test]
fn an_image_is_written_for_a_board_and_the_same_one_each_time() {
    let scratch = Scratch::new();
    let (first, second) = (scratch.file("one.json", b""), scratch.file("two.json", b""));
    let files = ["exercise.toml", "counter.v", "wiring_right.csv"].map(|n| demo(&format!("crate-counter/{n}")));
    for path in [&first, &second] {
        let (code, out, told) = run(&["check", &files[0], &files[1], "--wiring", &files[2], "--image", path]);
        assert_eq!((code, out.as_str()), (0, ""), "{told}");
        assert!(told.contains("of `crate_counter` for the device ZC1270:") && told.contains("4 flip-flops."), "{told}");
    }
    let text = std::fs::read_to_string(&first).unwrap();
    assert_eq!(text, std::fs::read_to_string(&second).unwrap());
    let json: Value = serde_json::from_str(&text).unwrap();
    assert_eq!(json["format"], "zesty-gate/image/1");
    assert_eq!(json["flip_flops"].as_array().unwrap().len(), 4);
    assert!(json["inputs"].as_array().unwrap().iter().any(|i| i["port"] == "clk" && i["pin"] == "J1"));
    // An exercise without a board has none.
    let (code, _, told) = run(&[
        "check",
        &demo("washer-sequencer/exercise.toml"),
        &demo("washer-sequencer/states.sv"),
        "--image",
        &scratch.file("none.json", b""),
    ]);
    assert!(code != 2 && told.contains("There is no image: the exercise is not wired to a board"), "{code} {told}");
}

#[test]
fn a_verdict_says_what_it_was_allowed_and_what_it_took() {
    let json = verdict("hopper-interlock", "plain.v");
    let budget = &json["proof"]["budget"];
    let (steps, spent) = (budget["steps"].as_u64().unwrap(), budget["spent"].as_u64().unwrap());
    assert!(spent > 0 && spent < steps, "{budget}");
    assert_eq!(verdict("hopper-interlock", "plain.v")["proof"], json["proof"], "the same on every run");
    assert!(verdict("hopper-interlock", "semicolon.v")["proof"]["budget"].is_null());
}
