//! `zesty-gate convert`: waves and tables between kinds of files; what is written is read back as it was.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use assert_cmd::Command;
use serde_json::Value;
use std::path::Path;

fn run(arguments: &[&str]) -> (i32, String) {
    let output = Command::cargo_bin("zesty-gate").unwrap().args(arguments).output().unwrap();
    (output.status.code().unwrap(), String::from_utf8(output.stderr).unwrap())
}

fn converted(folder: &Path, from: &str, to: &str) -> String {
    let (from, to) = (folder.join(from), folder.join(to));
    let (code, err) = run(&["convert", &from.display().to_string(), &to.display().to_string()]);
    assert_eq!(code, 0, "{err}");
    std::fs::read_to_string(to).unwrap()
}

/// A dump as in IEEE 1364-2005 clause 18: short vectors are extended, `x` and `z` stay, times are those of the scale.
const DUMP: &str = "$date today $end\n$timescale 10 ns $end\n$scope module bench $end\n$var reg 1 ! clk $end\n\
    $scope module dut $end\n$var wire 4 \" q [3:0] $end\n$upscope $end\n$upscope $end\n$enddefinitions $end\n\
    #0\n$dumpvars\n0!\nbx \"\n$end\n#1\n1!\nb101 \"\n#3\n0!\nbz \"\n#4\n";

#[test]
fn waves_become_a_table_data_and_a_picture() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::write(folder.path().join("w.vcd"), DUMP).unwrap();
    let csv = converted(folder.path(), "w.vcd", "w.csv");
    assert_eq!(csv, "time_ns,bench.clk,bench.dut.q[3:0]\n0,0,XXXX\n10,1,0101\n30,0,ZZZZ\n");
    let json: Value = serde_json::from_str(&converted(folder.path(), "w.vcd", "w.json")).unwrap();
    assert_eq!((json["end_fs"].as_u64(), json["signals"][1]["width"].as_u64()), (Some(40_000_000), Some(4)));
    assert_eq!(json["signals"][1]["changes"][1], serde_json::json!([10_000_000, "0101"]));
    let svg = converted(folder.path(), "w.vcd", "w.svg");
    assert!(svg.starts_with("<svg") && svg.ends_with("</svg>\n"));
    for part in ["bench.clk", "bench.dut.q[3:0]", ">5<", ">ZZZZ<", "40 ns"] {
        assert!(svg.contains(part), "{part} is not in the picture");
    }
    // Written and read again, the same waves come out.
    converted(folder.path(), "w.vcd", "again.vcd");
    assert_eq!(converted(folder.path(), "again.vcd", "again.csv"), csv);
}

#[test]
fn tables_go_to_pla_and_back_and_to_both_languages() {
    let folder = tempfile::tempdir().unwrap();
    let csv = "a,b,,f,g\n0,0,,0,-\n0,1,,1,0\n1,0,,1,1\n1,1,,0,1\n";
    std::fs::write(folder.path().join("t.csv"), csv).unwrap();
    converted(folder.path(), "t.csv", "t.pla");
    assert_eq!(converted(folder.path(), "t.pla", "back.csv"), csv);
    for file in ["t.v", "t.vhd"] {
        converted(folder.path(), "t.pla", file);
        let design = folder.path().join(file).display().to_string();
        let table = folder.path().join("t.pla").display().to_string();
        let (code, err) = run(&["compare", &design, &table]);
        assert_eq!(code, 0, "{file}: {err}");
    }
}

#[test]
fn what_cannot_be_converted_is_told_in_one_sentence() {
    let folder = tempfile::tempdir().unwrap();
    let put = |name: &str, text: &str| {
        let path = folder.path().join(name);
        std::fs::write(&path, text).unwrap();
        path.display().to_string()
    };
    let out = folder.path().join("out.csv").display().to_string();
    let refused = |input: &str, output: &str| {
        let (code, err) = run(&["convert", input, output]);
        assert_eq!((code, err.trim().lines().count()), (2, 1), "{err}");
        err
    };
    let cut = put("cut.vcd", &DUMP[..DUMP.find("$enddefinitions").unwrap()]);
    assert!(refused(&cut, &out).contains("cut.vcd:"));
    let broken = put("broken.vcd", &DUMP.replace("#3", "#late"));
    assert!(refused(&broken, &out).contains("broken.vcd:"));
    let table = put("t.csv", "a,,f\n0,,1\n1,,2\n");
    assert!(refused(&table, &out).contains("t.csv"));
    let good = put("w.vcd", DUMP);
    assert!(refused(&good, &folder.path().join("w.doc").display().to_string()).contains("waves are written as"));
    assert!(refused("/nowhere.vcd", &out).contains("check the path"));
}

#[test]
fn a_design_becomes_blif_and_is_still_the_same_design() {
    let folder = tempfile::tempdir().unwrap();
    let at = |name: &str| folder.path().join(name).display().to_string();
    let counter =
        "module c(input clk, rst, output reg [2:0] q); always @(posedge clk) q <= rst ? 0 : q + 1; endmodule\n";
    std::fs::write(at("c.v"), counter).unwrap();
    let text = converted(folder.path(), "c.v", "c.blif");
    assert!(text.starts_with(".model design\n.inputs clk rst\n.outputs q[2] q[1] q[0]\n.latch "), "{text}");
    assert_eq!(run(&["compare", &at("c.v"), &at("c.blif")]).0, 0);
    std::fs::write(at("d.v"), counter.replace("q + 1", "q + 3")).unwrap();
    assert_eq!(run(&["compare", &at("d.v"), &at("c.blif")]).0, 1);
    std::fs::write(at("b.blif"), ".inputs a\n.outputs y\n.names a y\n2 1\n.end\n").unwrap();
    let (code, err) = run(&["compare", &at("c.v"), &at("b.blif")]);
    assert!(code == 2 && err.contains("b.blif:4: `2` is no cube of 1 inputs"), "{err}");
    let (code, err) = run(&["convert", &at("c.v"), &at("c.pla")]);
    assert!(code == 2 && err.contains("designs are written as .blif"), "{err}");
}
