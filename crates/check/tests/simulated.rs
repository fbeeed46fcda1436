//! The event simulator against the other ways to an answer: the table of the netlist on every row of every twin and demo
//! design, the starters' testbenches, the registers of the netlist on clocked designs, and facts of counters.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use check::{HandIn, check};
use elab::{HandInFile, SimulationRequest, run_simulation};
use exercise::Exercise;
use std::path::{Path, PathBuf};
use views::starter;

fn file(path: &Path) -> HandInFile {
    HandInFile { name: path.file_name().unwrap().to_string_lossy().into_owned(), bytes: std::fs::read(path).unwrap() }
}

fn text_file(name: &str, text: &str) -> HandInFile {
    HandInFile { name: name.into(), bytes: text.into() }
}

fn simulate(files: &[HandInFile], top: &str) -> String {
    let request = SimulationRequest { top: Some(top.into()), ..SimulationRequest::default() };
    let found = run_simulation(files, &request, &Budget::hand_in()).unwrap();
    let stops: Vec<String> =
        found.findings.iter().filter(|f| f.severity == "stop").map(|f| format!("{} {:?}", f.message, f.line)).collect();
    assert!(stops.is_empty(), "{top}: {stops:?}");
    // Warnings of unknown levels before the first row stand among the lines.
    found.output.lines().filter(|l| !l.contains("warning at")).map(|l| format!("{l}\n")).collect()
}

fn load(path: &Path) -> Exercise {
    let folder = path.parent().unwrap().to_path_buf();
    let beside = move |name: &str| std::fs::read(folder.join(name)).map_err(|e| exercise::NotBeside(e.to_string()));
    Exercise::load(&std::fs::read_to_string(path).unwrap(), &beside).unwrap()
}

/// A Verilog testbench that writes the outputs of a unit on every row.
fn rows_bench(exercise: &Exercise, unit: &str) -> String {
    let names = |inputs: bool| -> Vec<&str> {
        exercise.ports.iter().filter(|p| p.is_input == inputs).map(|p| p.name.as_str()).collect()
    };
    let mut text = String::from("module rows_bench;\n");
    for port in &exercise.ports {
        let range = port.shape.range().map_or(String::new(), |(l, r)| format!("[{l}:{r}] "));
        text += &format!("  {} {range}{};\n", if port.is_input { "reg" } else { "wire" }, port.name);
    }
    let list: Vec<String> = exercise.ports.iter().map(|p| format!(".{0}({0})", p.name)).collect();
    let (ins, outs) = (names(true).join(", "), names(false).join(", "));
    text += &format!("  {unit} dut({});\n  integer row;\n  initial begin\n", list.join(", "));
    let rows = 1u64 << exercise.table().inputs.len();
    text += &format!(
        "    for (row = 0; row < {rows}; row = row + 1) begin {{{ins}}} = row; #50 $display(\"%b\", {{{outs}}}); end\n"
    );
    text += "  end\nendmodule\n";
    text
}

/// The unit that the checker took as the top: the name of the first module or entity that has the ports.
fn top_of(file: &HandInFile) -> String {
    let files = [file.clone()];
    views::inspect(&files, None, &Budget::hand_in()).unwrap().top.unwrap()
}

/// Both engines on one design; says how many rows were compared.
fn compare_rows(exercise: &Exercise, design: &HandInFile) -> u64 {
    let checked = check(exercise, &HandIn { files: vec![design.clone()], ..HandIn::default() });
    let Some(actual) = checked.actual else { return 0 };
    // A latch keeps a level from row to row in a simulation, and a loop may swing; row by row both are unknown.
    let swings = checked.verdict.findings.iter().any(|f| f.code == "combinational-loop");
    if swings || checked.verdict.resources.is_some_and(|r| r.latches > 0) {
        return 0;
    }
    let bench = text_file("rows_bench.v", &rows_bench(exercise, &top_of(design)));
    let output = simulate(&[design.clone(), bench], "rows_bench");
    let rows = 1u64 << exercise.table().inputs.len();
    assert_eq!(output.lines().count() as u64, rows, "{}: {output}", design.name);
    for (row, line) in (0..rows).zip(output.lines()) {
        let wanted: String = actual.columns.iter().map(|c| c.level(row).to_ascii_lowercase()).collect();
        assert_eq!(line, wanted, "{} row {row}", design.name);
    }
    rows
}

fn designs(folder: &Path) -> Vec<PathBuf> {
    let mut list: Vec<PathBuf> = std::fs::read_dir(folder).unwrap().map(|e| e.unwrap().path()).collect();
    list.retain(|p| p.extension().is_some_and(|e| e == "v" || e == "sv" || e == "vhd"));
    list.sort();
    list
}

#[test]
fn the_simulator_and_the_netlist_agree_on_every_row_of_every_twin() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/twins");
    let mut rows = 0;
    for path in designs(&folder) {
        let stem = path.file_stem().unwrap().to_string_lossy().into_owned();
        let group = stem.split('_').next().unwrap();
        let exercise = load(&folder.join(format!("{group}.toml")));
        rows += compare_rows(&exercise, &file(&path));
    }
    assert!(rows > 2_000, "{rows}");
}

fn demo() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo")
}

#[test]
fn the_simulator_and_the_netlist_agree_on_every_row_of_every_demo_design() {
    let mut rows = 0;
    for name in ["hopper-interlock", "weight-grader", "tank-level-bar", "gray-turntable", "lane-letter"] {
        let folder = demo().join(name);
        let exercise = load(&folder.join("exercise.toml"));
        for path in designs(&folder) {
            rows += compare_rows(&exercise, &file(&path));
        }
    }
    assert!(rows > 100, "{rows}");
}

#[test]
fn the_testbenches_made_from_an_exercise_pass_right_designs_and_fail_wrong_ones() {
    for name in ["hopper-interlock", "weight-grader", "tank-level-bar", "gray-turntable", "lane-letter"] {
        let folder = demo().join(name);
        let exercise = load(&folder.join("exercise.toml"));
        let files = starter(&exercise, &Budget::hand_in()).unwrap();
        for path in designs(&folder) {
            let design = file(&path);
            let checked = check(&exercise, &HandIn { files: vec![design.clone()], ..HandIn::default() });
            let swings = checked.verdict.findings.iter().any(|f| f.code == "combinational-loop");
            if swings || checked.actual.is_none() || checked.verdict.resources.is_some_and(|r| r.latches > 0) {
                continue;
            }
            let right = checked.verdict.rows.passed == checked.verdict.rows.total;
            let top = top_of(&design);
            for bench in files.iter().filter(|f| f.name.contains("_tb.")) {
                let unit = bench.name.split("_tb.").next().unwrap();
                let is_vhdl = bench.name.ends_with(".vhd");
                let named = match is_vhdl {
                    true => bench.text.replace(&format!("entity work.{unit} "), &format!("entity work.{top} ")),
                    false => bench.text.replace(&format!("    {unit} dut"), &format!("    {top} dut")),
                };
                let output = simulate(&[design.clone(), text_file(&bench.name, &named)], &format!("{unit}_tb"));
                assert_eq!(output.contains("PASS"), right, "{name} {} {}: {output}", design.name, bench.name);
            }
        }
    }
}

/// A counter and the testbench that walks it, in Verilog or VHDL, writing one number a cycle.
fn walk(design: &str, ending: &str, ports: &str, cycles: u32) -> Vec<u64> {
    let bench = format!(
        "`timescale 1ns/1ps\nmodule walk;\n  reg clk = 0, rst = 1;\n  wire [15:0] q;\n  m dut({ports});\n  always #5 clk = ~clk;\n\
         initial begin\n    @(negedge clk); @(negedge clk); rst = 0;\n    repeat ({cycles}) begin $display(\"%0d\", q); @(negedge clk); end\n\
         $finish;\n  end\nendmodule\n"
    );
    let files = [text_file(&format!("m.{ending}"), design), text_file("walk.v", &bench)];
    simulate(&files, "walk").lines().map(|l| l.parse().unwrap()).collect()
}

#[test]
fn maximal_length_shift_registers_have_their_published_periods() {
    // Taps of maximal-length shift registers: 4 (4, 3), 8 (8, 6, 5, 4), 16 (16, 15, 13, 4); P. Alfke, "Efficient Shift
    // Registers, LFSR Counters, and Long Pseudo-Random Sequence Generators", 1996 (from memory). Period 2^n - 1.
    for (n, taps, xnor_free) in [(4u32, &[4u32, 3][..], true), (8, &[8, 6, 5, 4], true)] {
        let xor = taps.iter().map(|t| format!("r[{}]", t - 1)).collect::<Vec<_>>().join(" ^ ");
        let design = format!(
            "module m(input clk, rst, output [15:0] q); reg [{0}:0] r; assign q = r;\n\
             always @(posedge clk) if (rst) r <= 1; else r <= {{r[{1}:0], {xor}}}; endmodule",
            n - 1,
            n - 2
        );
        let period = (1u32 << n) - 1;
        let seen = walk(&design, "v", ".clk(clk), .rst(rst), .q(q)", period + 1);
        let first: std::collections::BTreeSet<u64> = seen[..period as usize].iter().copied().collect();
        assert!(xnor_free && first.len() == period as usize && seen[0] == seen[period as usize], "{n}: {seen:?}");
    }
}

#[test]
fn counters_in_both_languages_count_alike() {
    let verilog = "module m(input clk, rst, output reg [15:0] q); always @(posedge clk) if (rst) q <= 0; else if (q == 11) q <= 0; else q <= q + 1; endmodule";
    let vhdl = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;\n\
        entity m is port (clk, rst : in std_logic; q : out std_logic_vector(15 downto 0)); end;\n\
        architecture a of m is signal c : integer range 0 to 11; begin\n\
        process (clk) begin if rising_edge(clk) then if rst = '1' or c = 11 then c <= 0; else c <= c + 1; end if; end if; end process;\n\
        q <= std_logic_vector(to_unsigned(c, 16)); end;";
    let by_verilog = walk(verilog, "v", ".clk(clk), .rst(rst), .q(q)", 30);
    assert_eq!(by_verilog, (0..30).map(|n| n % 12).collect::<Vec<u64>>());
    assert_eq!(walk(vhdl, "vhd", ".clk(clk), .rst(rst), .q(q)", 30), by_verilog);
}

#[test]
fn a_simulation_that_would_not_end_is_stopped_with_its_line() {
    let cases = [
        ("m.v", "module t;\n initial forever begin end\nendmodule", "endless-process", 2),
        ("m.v", "module t;\n reg a = 0;\n always @(a) a <= ~a;\n initial #1 a = 1;\nendmodule", "zero-delay-loop", 3),
        (
            "m.v",
            "module t;\n initial forever #1 $display(\"again and again and again\");\nendmodule",
            "too-much-output",
            1,
        ),
        ("m.v", "module t;\n integer d;\n initial begin d = -5; #d $finish; end\nendmodule", "huge-delay", 3),
        (
            "m.v",
            "module t;\n function automatic integer f(input integer n); f = f(n + 1); endfunction\n initial $display(\"%0d\", f(1));\nendmodule",
            "endless-recursion",
            2,
        ),
    ];
    for (name, source, code, line) in cases {
        let found =
            run_simulation(&[text_file(name, source)], &SimulationRequest::default(), &Budget::hand_in()).unwrap();
        let stops = found.findings.iter().filter(|f| f.severity == "stop");
        let told: Vec<(&str, Option<u32>)> = stops.map(|f| (f.code.as_str(), f.line)).collect();
        assert_eq!(told, [(code, Some(line))], "{source}");
        assert_eq!(found.end, "stopped");
    }
}

#[test]
fn waves_are_written_and_read_back_the_same() {
    let source = "`timescale 1ns/1ps\nmodule t; reg [3:0] a; reg b; wire c = ^a; initial begin a = 4'b1x0z; b = 0; #3 a = 5; b = 1; #4 a = 10; #1 $finish; end endmodule";
    let request = SimulationRequest { record: Some(elab::RECORDED), ..SimulationRequest::default() };
    let found = run_simulation(&[text_file("t.v", source)], &request, &Budget::hand_in()).unwrap();
    let trace = found.trace.unwrap();
    let again = sim::read_vcd(&sim::write_vcd(&trace)).unwrap();
    let shown = |t: &sim::Trace, name: &str| -> Vec<(u64, String)> {
        let number = t.signals.iter().position(|s| s.name == name).unwrap() as u32;
        t.changes.iter().filter(|c| c.signal == number && c.time > 0).map(|c| (c.time, c.value.to_string())).collect()
    };
    for name in ["a", "b", "c"] {
        assert_eq!(shown(&again, name), shown(&trace, name), "{name}");
    }
    assert_eq!(again.end, 8_000_000);
    assert_eq!(shown(&trace, "a").last().unwrap(), &(7_000_000, "1010".to_owned()));
}

#[test]
fn broken_dumps_are_told_with_their_line() {
    let cases = [
        ("", 1, "$enddefinitions"),
        ("hello", 1, "no value change dump"),
        ("$timescale 1 lemon $end", 1, "time scale"),
        ("$var wire 1 ! a $end\n$enddefinitions $end\n#0\n#5\n#3\n", 5, "before"),
        ("$var wire 1 ! a $end\n$enddefinitions $end\n#0\nq!\n", 4, "no change"),
        ("$scope module t", 1, "cut off"),
    ];
    for (text, line, words) in cases {
        let fault = sim::read_vcd(text).unwrap_err();
        assert!(fault.line == line && fault.message.contains(words), "{text}: {fault:?}");
    }
}
