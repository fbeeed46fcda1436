//! Random programs in both languages against an interpreter of the tests' own: tables, simulations, verdicts, proofs in every
//! state, and the length of the shortest way to a difference.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

mod programs;
mod seeds;

use base::Budget;
use base::Random;
use check::{Checked, HandIn, check};
use elab::{HandInFile, SimulationRequest, run_simulation};
use exercise::Exercise;
use programs::{Machine, Maker, Names, Statement, Writer, spoilt};
use seeds::seeds;
use std::collections::{HashMap, VecDeque};
use verdict::{ProofKind, VerdictKind};

const PLAIN: Names = Names { read: &["a", "b", "c"], variables: &["u", "v", "t"], registers: &[] };
const ROWS: u64 = 512;

fn program(names: &'static Names, seed: u64) -> Vec<Statement> {
    let mut maker = Maker { names, random: Random::new(seed) };
    maker.body(3)
}

fn plain_verilog(body: &[Statement], style: usize) -> HandInFile {
    let text = Writer { names: &PLAIN, is_vhdl: false }.body(body, 4);
    let head = match style % 3 {
        0 => "module m(input [2:0] a, b, c, output [2:0] y, z);\n  reg [2:0] u, v, t; integer i;\n  always @* begin\n",
        1 => {
            "module m(a, b, c, y, z);\n  input [2:0] a, b, c;\n  output [2:0] y;\n  output [2:0] z;\n  reg [2:0] u, v, t;\n  integer i;\n  always @(a or b or c) begin\n"
        }
        _ => {
            "module m(input logic [2:0] a, b, c, output wire [2:0] y, z);\n  logic [2:0] u, v, t; int i;\n  always_comb begin\n"
        }
    };
    let text = format!("{head}    u = a; v = 3'd0; t = b;\n{text}  end\n  assign y = u;\n  assign z = v;\nendmodule\n");
    HandInFile { name: if style % 3 == 2 { "m.sv" } else { "m.v" }.into(), bytes: text.into() }
}

fn plain_vhdl(body: &[Statement], style: usize) -> HandInFile {
    let text = Writer { names: &PLAIN, is_vhdl: true }.body(body, 4);
    let list = if style.is_multiple_of(2) { "all" } else { "a, b, c" };
    let text = format!(
        "library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nentity m is\n  \
         port (a, b, c : in unsigned(2 downto 0); y, z : out unsigned(2 downto 0));\nend m;\narchitecture r of m is\nbegin\n  \
         process ({list})\n    variable u, v, t : unsigned(2 downto 0);\n  begin\n    u := a; v := \"000\"; t := b;\n{text}    \
         y <= u; z <= v;\n  end process;\nend r;\n"
    );
    HandInFile { name: "m.vhd".into(), bytes: text.into() }
}

fn plain_exercise(reference: &HandInFile) -> Exercise {
    let mut text = String::from("format = \"zesty-gate/exercise/1\"\ntitle = \"Test\"\n");
    for (name, dir) in [("a", "in"), ("b", "in"), ("c", "in"), ("y", "out"), ("z", "out")] {
        text += &format!("[[port]]\nname = \"{name}\"\ndir = \"{dir}\"\nrange = \"2:0\"\n");
    }
    text += &format!("[behaviour]\nkind = \"reference\"\nfiles = [\"{}\"]\n", reference.name);
    Exercise::load(&text, &|_| Ok(reference.bytes.clone())).unwrap_or_else(|e| panic!("{e}\n{}", shown(reference)))
}

fn shown(file: &HandInFile) -> String {
    String::from_utf8_lossy(&file.bytes).into_owned()
}

fn run(exercise: &Exercise, file: &HandInFile) -> Checked {
    check(exercise, &HandIn { files: vec![file.clone()], ..HandIn::default() })
}

/// `y` and `z` on a row, as the interpreter has them.
fn plain_row(body: &[Statement], row: u64) -> u64 {
    let (a, b, c) = (row >> 6, row >> 3 & 7, row & 7);
    let after = Machine::run(&PLAIN, body, &[a, b, c, a, 0, b]);
    after[3] << 3 | after[4]
}

fn simulate(files: &[HandInFile]) -> Vec<String> {
    let found = run_simulation(
        files,
        &SimulationRequest { top: Some("tb".into()), ..SimulationRequest::default() },
        &Budget::hand_in(),
    )
    .unwrap();
    assert!(found.findings.iter().all(|f| f.severity != "stop"), "{}\n{:?}", shown(&files[0]), found.findings);
    // Warnings of unknown levels before the first row stand among them.
    found.output.lines().filter(|l| !l.contains("warning at")).map(str::to_owned).collect()
}

#[test]
fn programs_without_a_clock_agree_in_both_languages_and_all_engines() {
    let (mut wrong, mut explained) = (0, 0);
    for seed in seeds(16) {
        let body = program(&PLAIN, seed);
        let wanted: Vec<u64> = (0..ROWS).map(|row| plain_row(&body, row)).collect();
        let style = seed as usize;
        let pair = [plain_verilog(&body, style), plain_vhdl(&body, style)];
        let exercise = plain_exercise(&pair[1 - style % 2]);
        for file in &pair {
            let checked = run(&exercise, file);
            let table = checked.actual.unwrap_or_else(|| panic!("{}\n{:?}", shown(file), checked.verdict.findings));
            for (row, wanted) in (0..).zip(&wanted) {
                let found: String = table.columns.iter().map(|c| c.level(row)).collect();
                assert_eq!(found, format!("{wanted:06b}"), "seed {seed} row {row:09b}\n{}", shown(file));
            }
            let told =
                format!("seed {seed}: {} {:?}\n{}", checked.verdict.headline(), checked.verdict.findings, shown(file));
            assert_eq!(checked.verdict.verdict, VerdictKind::Pass, "{told}");
            assert_eq!(checked.verdict.proof.kind, ProofKind::Proved, "seed {seed}");
        }
        // The rows in an order of their own, so that what a row leaves behind would show.
        let bench = "module tb;\n  reg [2:0] a, b, c; wire [2:0] y, z; integer k;\n  m dut(.a(a), .b(b), .c(c), .y(y), .z(z));\n  \
                     initial for (k = 0; k < 512; k = k + 1) begin {a, b, c} = k * 77; #1 $display(\"%b%b\", y, z); end\nendmodule\n";
        let lines: Vec<String> = (0..ROWS).map(|k| format!("{:06b}", wanted[(k * 77 % ROWS) as usize])).collect();
        for file in &pair {
            let bench = HandInFile { name: "tb.v".into(), bytes: bench.into() };
            assert_eq!(simulate(&[file.clone(), bench]), lines, "seed {seed}\n{}", shown(file));
        }
        let other = spoilt(&body, &mut Random::new(seed + 1_000));
        let differing = (0..ROWS).filter(|row| plain_row(&other, *row) != wanted[*row as usize]).count() as u64;
        for file in [plain_verilog(&other, style), plain_vhdl(&other, style)] {
            let found = run(&exercise, &file).verdict;
            assert_eq!(found.rows.total - found.rows.passed, differing, "seed {seed}\n{}", shown(&file));
            assert_eq!(found.verdict == VerdictKind::Pass, differing == 0, "seed {seed}");
            if differing > 0 {
                wrong += 1;
                explained += usize::from(!found.near_misses.is_empty());
                let evidence = found.findings.iter().find_map(|f| f.evidence.as_ref()).unwrap();
                let row = u64::from_str_radix(evidence.row.as_ref().unwrap(), 2).unwrap();
                assert_ne!(plain_row(&other, row), wanted[row as usize], "seed {seed}: the row shown is right");
            }
        }
    }
    assert!(wrong > 15 && explained * 10 > wrong * 5, "{explained} of {wrong} explained");
}

const CLOCKED: Names = Names { read: &["a"], variables: &["t"], registers: &["r", "q"] };
/// What the registers hold after the reset.
const START: (u64, u64) = (0, 5);

fn clocked_verilog(body: &[Statement], is_async: bool) -> HandInFile {
    let text = Writer { names: &CLOCKED, is_vhdl: false }.body(body, 6);
    let event = if is_async { "posedge clk or posedge rst" } else { "posedge clk" };
    let text = format!(
        "module m(input clk, rst, input [2:0] a, output [2:0] y, z);\n  reg [2:0] r, q, t; integer i;\n  assign y = r;\n  \
         assign z = q ^ a;\n  always @({event})\n    if (rst) begin r <= 0; q <= 3'd5; end\n    else begin\n      t = a;\n{text}    end\n\
         endmodule\n"
    );
    HandInFile { name: "m.v".into(), bytes: text.into() }
}

fn clocked_vhdl(body: &[Statement], is_async: bool) -> HandInFile {
    let text = Writer { names: &CLOCKED, is_vhdl: true }.body(body, 6);
    let (list, head, tail) = if is_async {
        ("clk, rst", "if rst = '1' then r <= \"000\"; q <= \"101\";\n    elsif rising_edge(clk) then", "end if;")
    } else {
        (
            "clk",
            "if clk'event and clk = '1' then\n    if rst = '1' then r <= \"000\"; q <= \"101\"; else",
            "end if; end if;",
        )
    };
    let text = format!(
        "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;\nentity m is\n  \
         port (clk, rst : in std_logic; a : in unsigned(2 downto 0); y, z : out unsigned(2 downto 0));\nend;\n\
         architecture r1 of m is\n  signal r, q : unsigned(2 downto 0);\nbegin\n  y <= r;\n  z <= q xor a;\n  \
         process ({list})\n    variable t : unsigned(2 downto 0);\n  begin\n    {head}\n      t := a;\n{text}    {tail}\n  end process;\nend;\n"
    );
    HandInFile { name: "m.vhd".into(), bytes: text.into() }
}

fn clocked_exercise(reference: &HandInFile, is_async: bool) -> Exercise {
    let mut text = String::from("format = \"zesty-gate/exercise/1\"\ntitle = \"Test\"\n");
    for (name, dir, range) in
        [("clk", "in", ""), ("rst", "in", ""), ("a", "in", "2:0"), ("y", "out", "2:0"), ("z", "out", "2:0")]
    {
        text += &format!("[[port]]\nname = \"{name}\"\ndir = \"{dir}\"\n");
        if !range.is_empty() {
            text += &format!("range = \"{range}\"\n");
        }
    }
    let kind = if is_async { "async" } else { "sync" };
    text += &format!("[clock]\nport = \"clk\"\n[reset]\nport = \"rst\"\nkind = \"{kind}\"\n");
    text += &format!("[behaviour]\nkind = \"reference\"\nfiles = [\"{}\"]\n", reference.name);
    Exercise::load(&text, &|_| Ok(reference.bytes.clone())).unwrap_or_else(|e| panic!("{e}\n{}", shown(reference)))
}

fn step(body: &[Statement], (r, q): (u64, u64), a: u64) -> (u64, u64) {
    let after = Machine::run(&CLOCKED, body, &[a, a, r, q]);
    (after[2], after[3])
}

/// Clock edges after the reset until the two can show different outputs; none where they never can.
fn first_difference(one: &[Statement], other: &[Statement]) -> Option<u64> {
    let mut depth = HashMap::from([((START, START), 0u64)]);
    let mut queue = VecDeque::from([(START, START)]);
    while let Some(pair) = queue.pop_front() {
        let so_far = depth[&pair];
        // Both outputs follow their registers, so any difference of those shows at once.
        if pair.0 != pair.1 {
            return Some(so_far);
        }
        for a in 0..8 {
            let next = (step(one, pair.0, a), step(other, pair.1, a));
            if let std::collections::hash_map::Entry::Vacant(place) = depth.entry(next) {
                place.insert(so_far + 1);
                queue.push_back(next);
            }
        }
    }
    None
}

#[test]
fn programs_with_a_clock_agree_in_both_languages_and_all_engines() {
    let mut wrong = 0;
    for seed in seeds(24) {
        let body = program(&CLOCKED, 50_000 + seed);
        let is_async = seed % 3 == 0;
        let pair = [clocked_verilog(&body, is_async), clocked_vhdl(&body, is_async)];
        let of = seed as usize % 2;
        let exercise = clocked_exercise(&pair[of], is_async);
        let found = run(&exercise, &pair[1 - of]).verdict;
        let told = format!("seed {seed}: {}\n{}\n{}", found.headline(), shown(&pair[0]), shown(&pair[1]));
        assert_eq!((found.verdict, found.proof.kind), (VerdictKind::Pass, ProofKind::Proved), "{told}");

        let mut random = Random::new(seed);
        let given: Vec<u64> = (0..60).map(|_| random.word() & 7).collect();
        let mut state = START;
        let mut lines = Vec::new();
        for a in &given {
            lines.push(format!("{} {}", state.0, state.1 ^ a));
            state = step(&body, state, *a);
        }
        let list: String =
            given.iter().map(|a| format!("    a = {a}; #1 $display(\"%0d %0d\", y, z); @(negedge clk);\n")).collect();
        let bench = format!(
            "module tb;\n  reg clk = 0, rst = 1; reg [2:0] a = 0; wire [2:0] y, z;\n  m dut(.clk(clk), .rst(rst), .a(a), .y(y), .z(z));\n  \
             always #5 clk = ~clk;\n  initial begin\n    @(negedge clk); @(negedge clk); rst = 0;\n{list}    $finish;\n  end\nendmodule\n"
        );
        for file in &pair {
            let bench = HandInFile { name: "tb.v".into(), bytes: bench.clone().into() };
            assert_eq!(simulate(&[file.clone(), bench]), lines, "seed {seed}\n{}", shown(file));
        }

        let other = spoilt(&body, &mut Random::new(seed + 9_000));
        let wanted = first_difference(&body, &other);
        for file in [clocked_verilog(&other, is_async), clocked_vhdl(&other, is_async)] {
            let found = run(&exercise, &file).verdict;
            let told = format!("seed {seed}: {}\n{}\nagainst\n{}", found.headline(), shown(&file), shown(&pair[of]));
            assert_eq!(found.verdict == VerdictKind::Pass, wanted.is_none(), "{told}");
            if let Some(edges) = wanted {
                wrong += 1;
                let evidence =
                    found.findings.iter().find_map(|f| f.evidence.as_ref()).unwrap_or_else(|| panic!("{told}"));
                assert_eq!(evidence.cycle, Some(edges), "{told}");
            } else {
                assert_eq!(found.proof.kind, ProofKind::Proved, "{told}");
            }
        }
    }
    assert!(wrong > 20, "{wrong}");
}
