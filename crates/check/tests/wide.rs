//! Exercises with more inputs than a table has rows for: proved by SAT, shown wrong on an input that matters, explained.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use check::{Checked, HandIn, check};
use elab::{HandInFile, SimulationRequest, run_simulation};
use exercise::Exercise;
use verdict::{ProofKind, ProofMethod, VerdictKind};
use views::{LaneRole, WavesRequest, starter, waves};

fn exercise(ports: &str, behaviour: &str) -> Result<Exercise, String> {
    let mut text = String::from("format = \"zesty-gate/exercise/1\"\ntitle = \"Pallet sums\"\n");
    for port in ports.split_whitespace() {
        let (name, rest) = port.split_once('=').unwrap();
        let (dir, range) = rest.split_once('@').unwrap_or((rest, ""));
        text += &format!("[[port]]\nname = \"{name}\"\ndir = \"{dir}\"\n");
        if !range.is_empty() {
            text += &format!("range = \"{range}\"\n");
        }
    }
    text += &format!("[behaviour]\n{behaviour}\n");
    let beside = |name: &str| match name {
        "ref.v" => Ok(REFERENCE.into()),
        "hole.v" => Ok(REFERENCE.replace("else", "else if (left != 16'd77)").into()),
        other => Err(format!("`{other}` is not there.").into()),
    };
    Exercise::load(&text, &beside).map_err(|e| e.to_string())
}

const REFERENCE: &str = "module larger(input [15:0] left, right, output reg [15:0] most);
    always @* if (left > right) most = left; else most = right; endmodule\n";

fn sums() -> Exercise {
    let behaviour = "kind = \"expressions\"\n[behaviour.outputs]\ntotal = \"left + right\"";
    exercise("left=in@15:0 right=in@15:0 total=out@16:0", behaviour).unwrap()
}

fn judged(exercise: &Exercise, name: &str, text: &str) -> Checked {
    let files = vec![HandInFile { name: name.into(), bytes: text.into() }];
    check(exercise, &HandIn { files, ..HandIn::default() })
}

fn adder(carry: &str, first: u8) -> String {
    format!(
        "module add(input [15:0] left, right, output [16:0] total);\n wire [16:0] c;\n assign c[0] = {first}, total[16] = c[16];\n\
         genvar i; generate for (i = 0; i < 16; i = i + 1) begin : g\n  assign total[i] = left[i] ^ right[i] ^ c[i];\n\
         assign c[i+1] = {carry};\n end endgenerate\nendmodule\n"
    )
}

const MAJORITY: &str = "(left[i] & right[i]) | (c[i] & (left[i] ^ right[i]))";

#[test]
fn an_adder_of_full_adders_is_proved_equal_to_the_sum() {
    let found = judged(&sums(), "add.v", &adder(MAJORITY, 0)).verdict;
    assert_eq!((found.verdict, found.proof.kind), (VerdictKind::Pass, ProofKind::Proved));
    assert_eq!((found.proof.method, found.proof.rows), (Some(ProofMethod::Sat), None));
    assert_eq!(found.headline(), "Right for every input.");
    let vhdl = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
        entity add is port (left, right : in std_logic_vector(15 downto 0); total : out std_logic_vector(16 downto 0)); end;
        architecture a of add is begin total <= std_logic_vector(resize(unsigned(left), 17) + unsigned(right)); end;";
    assert_eq!(judged(&sums(), "add.vhd", vhdl).verdict.verdict, VerdictKind::Pass);
}

#[test]
fn a_wrong_operator_is_shown_on_the_inputs_that_matter_and_named() {
    let found = judged(&sums(), "add.v", &adder(&MAJORITY.replace('|', "&"), 0)).verdict;
    assert_eq!((found.verdict, found.proof.kind), (VerdictKind::Partly, ProofKind::Differs));
    let first = &found.findings[0];
    assert_eq!(
        first.message, "`total` is 0x00000 where 0x00002 is expected, at left=0x0001, right=0x0001.",
        "the smallest carry there is"
    );
    assert!(first.help.ends_with("With left[0]=1, right[0]=1 it is wrong whatever the other inputs are."), "{first:?}");
    let evidence = first.evidence.as_ref().unwrap();
    assert_eq!(evidence.row.as_deref(), Some("00000000000000010000000000000001"));
    assert_eq!((evidence.expected["total[1]"].as_str(), evidence.actual["total[1]"].as_str()), ("1", "0"));
    let near = &found.near_misses[0];
    assert_eq!((near.kind.as_str(), near.line), ("single_repair", Some(6)));
    assert_eq!(near.message, "Line 6: `&` where `|` would make every input right.");
}

#[test]
fn what_is_wrong_everywhere_fails_and_is_not_called_partly_right() {
    let found = judged(&sums(), "add.v", &adder(MAJORITY, 1)).verdict;
    assert_eq!((found.verdict, found.rows.passed), (VerdictKind::Fail, 0));
    assert!(found.findings[0].help.ends_with("The outputs are wrong whatever the inputs are."));
    assert!(found.near_misses[0].message.contains("`1` where `0`"), "{:?}", found.near_misses);
    let inverted =
        "module add(input [15:0] left, right, output [16:0] total); assign total = ~({1'b0, left} + right); endmodule";
    let found = judged(&sums(), "add.v", inverted).verdict;
    assert_eq!(found.near_misses[0].message, "The output `total` is inverted.");
}

#[test]
fn one_wrong_input_among_four_thousand_million_is_found() {
    let hidden = "module add(input [15:0] left, right, output [16:0] total);
        assign total = (left == 16'hbeef && right == 16'hcafe) ? 17'd0 : left + right; endmodule";
    let found = judged(&sums(), "add.v", hidden).verdict;
    assert_eq!(found.verdict, VerdictKind::Partly);
    assert!(found.rows.passed + 1 == found.rows.total, "{:?}", found.rows);
    assert_eq!(found.findings[0].evidence.as_ref().unwrap().row.as_deref(), Some("10111110111011111100101011111110"));
    let latch = "module add(input [15:0] left, right, output reg [16:0] total);
        always @* if (left != 16'hbeef) total = left + right; endmodule";
    let found = judged(&sums(), "add.v", latch).verdict;
    let codes: Vec<&str> = found.findings.iter().map(|f| f.code.as_str()).collect();
    assert_eq!((found.verdict, codes), (VerdictKind::Partly, vec!["inferred-latch", "unknown-output"]));
    assert!(found.findings[1].message.contains("left=0xbeef"), "{}", found.findings[1].message);
}

#[test]
fn lost_carries_and_signs_are_explained() {
    let lost = "module add(input [15:0] left, right, output [16:0] total);
        wire [15:0] s; assign s = left + right; assign total = s; endmodule";
    let near = judged(&sums(), "add.v", lost).verdict.near_misses;
    assert_eq!(near[0].message, "Line 2: `15` where `16` would make every input right.");
    let behaviour = "kind = \"expressions\"\n[behaviour.outputs]\nmore = \"left > right\"";
    let more = exercise("left=in@11:0 right=in@11:0 more=out", behaviour).unwrap();
    let signed = "module cmp(input signed [11:0] left, right, output more); assign more = left > right; endmodule";
    let near = judged(&more, "cmp.v", signed).verdict.near_misses;
    assert_eq!(near[0].message, "It reads its numbers as signed; read as unsigned, every input would be right.");
    let swapped = "module cmp(input [11:0] left, right, output more); assign more = right > left; endmodule";
    let near = judged(&more, "cmp.v", swapped).verdict.near_misses;
    assert_eq!(
        (near[0].kind.as_str(), near[0].message.as_str()),
        ("inputs_swapped", "`left` and `right` are swapped.")
    );
}

#[test]
fn a_reference_and_a_table_of_lines_may_be_wide_too() {
    let reference = "kind = \"reference\"\nfiles = [\"ref.v\"]";
    let ports = "left=in@15:0 right=in@15:0 most=out@15:0";
    let larger = exercise(ports, reference).unwrap();
    let right =
        "module m(input [15:0] left, right, output [15:0] most); assign most = right >= left ? right : left; endmodule";
    assert_eq!(judged(&larger, "m.v", right).verdict.verdict, VerdictKind::Pass);
    assert_eq!(judged(&larger, "m.v", &right.replace(">=", "<")).verdict.verdict, VerdictKind::Partly);
    // A reference that is itself unknown somewhere would let everything pass there.
    let told = exercise(ports, "kind = \"reference\"\nfiles = [\"hole.v\"]").unwrap_err();
    assert!(told.contains("leaves `most[15]` unknown at left=0x004d"), "{told}");
    // Priority over 24 lines: what the lines leave out, and `-`, is free.
    let lines: String = (0..24).map(|k| format!("{}1{} | {k:05b}\n", "0".repeat(k), "-".repeat(23 - k))).collect();
    let table = format!("kind = \"table\"\nrows = \"\"\"\n{lines}\"\"\"");
    let first = exercise("ask=in@23:0 lane=out@4:0", &table).unwrap();
    let design = "module p(input [23:0] ask, output reg [4:0] lane); integer i;
        always @* begin lane = 5'd31; for (i = 0; i < 24; i = i + 1) if (ask[i]) lane = 23 - i; end endmodule";
    assert_eq!(judged(&first, "p.v", design).verdict.verdict, VerdictKind::Pass, "no request: anything goes");
    let late = design.replace("23 - i", "22 - i");
    assert_eq!(judged(&first, "p.v", &late).verdict.verdict, VerdictKind::Partly, "right where nothing is asked");
}

#[test]
fn a_wide_exercise_that_cannot_be_read_says_what_to_write_instead() {
    let told = |ports: &str, behaviour: &str| exercise(ports, behaviour).unwrap_err();
    let ports = "left=in@15:0 right=in@15:0 total=out@16:0";
    let minterms = "kind = \"minterms\"\n[behaviour.outputs]\n\"total[0]\" = [1]";
    assert!(told(ports, minterms).contains("Use expressions, a table with `-` among its inputs, or a reference."));
    let short = "kind = \"expressions\"\n[behaviour.outputs]\n\"total[0]\" = \"left[0] ^ right[0]\"";
    assert!(told(ports, short).contains("`total[16]` has no behaviour"));
    let clash = format!(
        "kind = \"table\"\nrows = \"\"\"\n{0} | {1}0\n{2} | {1}1\n\"\"\"",
        "1".repeat(32),
        "-".repeat(16),
        "-".repeat(32)
    );
    assert!(told(ports, &clash).contains("`total[0]` is given another value in line 1"), "{}", told(ports, &clash));
    let too_many: String = (0..3).map(|k| format!("x{k}=in@255:0 ")).collect();
    let sum = "kind = \"expressions\"\n[behaviour.outputs]\ny = \"x0[0]\"";
    assert!(told(&format!("{too_many} y=out"), sum).contains("at most 512"));
}

#[test]
fn starters_and_waves_of_a_wide_exercise_run_against_a_right_design() {
    let files = starter(&sums(), &Budget::hand_in()).unwrap();
    let bench = files.iter().find(|f| f.name.ends_with("_tb.v")).unwrap();
    let design = adder(MAJORITY, 0).replace("module add", "module pallet_sums");
    let of = |name: &str, text: &str| HandInFile { name: name.into(), bytes: text.into() };
    let both = [of("d.v", &design), of(&bench.name, &bench.text)];
    let output = run_simulation(&both, &SimulationRequest::default(), &Budget::hand_in()).unwrap().output;
    assert_eq!(output, "PASS: all 256 tried rows are right\n");
    let wrong = [of("d.v", &design.replace("c[0] = 0", "c[0] = 1")), both[1].clone()];
    assert!(
        run_simulation(&wrong, &SimulationRequest::default(), &Budget::hand_in())
            .unwrap()
            .output
            .contains("FAIL: 256 rows are wrong")
    );
    let bench = files.iter().find(|f| f.name.ends_with("_tb.vhd")).unwrap();
    let vhdl = [of("d.v", &design), of(&bench.name, &bench.text)];
    assert!(
        run_simulation(&vhdl, &SimulationRequest::default(), &Budget::hand_in())
            .unwrap()
            .output
            .contains("PASS: all 256 tried rows")
    );
    let wrong = waves(&sums(), &[wrong[0].clone()], &WavesRequest::default(), &Budget::hand_in()).unwrap();
    let lane = |role| wrong.lanes.iter().find(|l| l.name == "total" && l.role == role).unwrap();
    assert_eq!(lane(LaneRole::Expected).values[5], format!("{:017b}", 5), "left rests at 0, right counts");
    assert_eq!(lane(LaneRole::Expected).differs, [views::Stretch { from: 0, to: wrong.time_fs }]);
}

fn products(bits: u32) -> Exercise {
    let top = bits - 1;
    let behaviour = "kind = \"expressions\"\n[behaviour.outputs]\np = \"a * b\"";
    exercise(&format!("a=in@{top}:0 b=in@{top}:0 p=out@{}:0", 2 * bits - 1), behaviour).unwrap()
}

/// A multiplier that keeps carries and sums apart to the end, unlike the plain array.
fn carry_save(bits: u32) -> String {
    format!(
        "module m(input [{top}:0] a, b, output [{all}:0] p);\n localparam N = {bits};\n reg [2*N-1:0] s, c, x, t; integer i;\n \
         always @* begin s = 0; c = 0; for (i = 0; i < N; i = i + 1) begin x = b[i] ? {{{{N{{1'b0}}}}, a}} << i : 0;\n \
         t = s ^ c ^ x; c = ((s & c) | (s & x) | (c & x)) << 1; s = t; end end\n assign p = s + c;\nendmodule\n",
        top = bits - 1,
        all = 2 * bits - 1
    )
}

#[test]
fn multipliers_of_two_kinds_are_proved_equal_whatever_method_it_takes() {
    // Products are hard for SAT solvers (common knowledge); up to 26 input bits every input may be run instead.
    for bits in [8, 11] {
        let found = judged(&products(bits), "m.v", &carry_save(bits)).verdict;
        assert_eq!((found.verdict, found.proof.kind), (VerdictKind::Pass, ProofKind::Proved), "{}", found.headline());
    }
    let spoilt = carry_save(11).replace("(s & x) | (c & x)", "(s & x)");
    let files = vec![HandInFile { name: "m.v".into(), bytes: spoilt.into() }];
    let found = check(&products(11), &HandIn { files, quick: true, ..HandIn::default() }).verdict;
    assert_eq!(found.proof.kind, ProofKind::Differs, "{}", found.headline());
}

#[test]
fn what_no_budget_proves_is_left_open_and_can_be_let_go() {
    use std::sync::{
        Arc,
        atomic::{AtomicBool, Ordering},
    };
    let exercise = products(20);
    let files = vec![HandInFile { name: "m.v".into(), bytes: carry_save(20).into() }];
    let flag = Arc::new(AtomicBool::new(false));
    let stopper = flag.clone();
    let waits = std::thread::spawn(move || {
        std::thread::sleep(std::time::Duration::from_millis(500));
        stopper.store(true, Ordering::Relaxed);
    });
    let hand_in = HandIn { files, quick: true, ..HandIn::default() };
    let found = check::check_within(&exercise, &hand_in, &Budget::hand_in().with_cancel(flag)).verdict;
    waits.join().unwrap();
    // Never a pass without a proof.
    assert_eq!(found.verdict, VerdictKind::CannotTell, "{}", found.headline());
}
