//! `compare`, `inspect` and `starter` as a script sees them.

#![expect(clippy::unwrap_used, reason = "tests")]

use assert_cmd::Command;
use serde_json::Value;
use std::path::Path;

fn run(arguments: &[&str]) -> (i32, String, String) {
    let output = Command::cargo_bin("zesty-gate").unwrap().args(arguments).output().unwrap();
    let text = |bytes: &[u8]| String::from_utf8(bytes.to_vec()).unwrap();
    (output.status.code().unwrap(), text(&output.stdout), text(&output.stderr))
}

fn twin(name: &str) -> String {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../check/tests/twins").join(name).display().to_string()
}

#[test]
fn a_verilog_and_a_vhdl_adder_are_equal_and_a_changed_one_is_not() {
    let (code, out, _) = run(&["compare", &twin("adder_a.v"), &twin("adder_num.vhd"), "--json"]);
    let found: Value = serde_json::from_str(&out).unwrap();
    assert_eq!((code, found["equal"].as_bool(), found["proof"]["rows"].as_u64()), (0, Some(true), Some(512)));
    assert_eq!(found["counterexample"], Value::Null);
    let folder = tempfile::tempdir().unwrap();
    let changed = std::fs::read_to_string(twin("adder_b.v")).unwrap().replace("(a[k] & b[k])", "(a[k] | b[k])");
    let path = folder.path().join("changed.v");
    std::fs::write(&path, changed).unwrap();
    let (code, out, _) = run(&["compare", &twin("adder_a.v"), path.to_str().unwrap(), "--json"]);
    let found: Value = serde_json::from_str(&out).unwrap();
    assert_eq!((code, found["equal"].as_bool()), (1, Some(false)));
    assert_eq!(found["counterexample"]["row"].as_str().map(str::len), Some(9));
    let (code, _, err) = run(&["compare", &twin("adder_a.v"), &twin("mul_b.v")]);
    assert_eq!(code, 2);
    assert!(err.contains("give both the same ports"), "{err}");
}

#[test]
fn inspect_says_units_ports_hierarchy_and_findings() {
    let (code, out, _) = run(&["inspect", &twin("adder_rip.vhd"), "--json"]);
    let found: Value = serde_json::from_str(&out).unwrap();
    assert_eq!((code, found["top"].as_str()), (0, Some("adder")));
    assert_eq!(found["ports"][0]["range"], "[3:0]");
    assert_eq!(found["hierarchy"]["children"].as_array().unwrap().len(), 4);
    assert_eq!(found["hierarchy"]["children"][0]["children"][0]["unit"], "full_adder");
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("faulty.v");
    std::fs::write(&path, "module m(input a, output y)\n  assign y = a;\nendmodule\n").unwrap();
    let (code, out, _) = run(&["inspect", path.to_str().unwrap(), "--json"]);
    let found: Value = serde_json::from_str(&out).unwrap();
    assert_eq!((code, found["findings"][0]["code"].as_str()), (1, Some("missing-semicolon")));
}

#[test]
fn starters_are_written_once_and_never_over_something() {
    let folder = tempfile::tempdir().unwrap();
    let out = folder.path().join("start");
    let exercise = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/hopper-interlock/exercise.toml");
    let arguments = ["starter", exercise.to_str().unwrap(), "--out", out.to_str().unwrap()];
    let (code, listed, _) = run(&arguments);
    assert_eq!((code, listed.lines().count()), (0, 4));
    let entity = std::fs::read_to_string(out.join("hopper_interlock.vhd")).unwrap();
    assert!(entity.contains("stops : out std_logic_vector(1 downto 0)"), "{entity}");
    let bench = std::fs::read_to_string(out.join("hopper_interlock_tb.v")).unwrap();
    assert!(bench.contains("hopper_interlock dut (.full(full)"), "{bench}");
    let (code, _, err) = run(&arguments);
    assert_eq!(code, 2);
    assert!(err.contains("is there already"), "{err}");
}
