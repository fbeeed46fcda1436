//! Parameterised widths: a design is judged at the usual value of its parameter and at others.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{Verdict, VerdictKind};
use views::starter;

const ADDER: &str = r#"format = "zesty-gate/exercise/1"
title = "Crate sum"
[parameter]
name = "WIDTH"
usual = 4
also = [1, 2, 9, 24]
[[port]]
name = "left"
dir = "in"
range = "WIDTH-1:0"
[[port]]
name = "right"
dir = "in"
range = "WIDTH - 1:0"
[[port]]
name = "total"
dir = "out"
range = "WIDTH:0"
[behaviour]
kind = "expressions"
[behaviour.outputs]
total = "left + right"
"#;

fn load(text: &str) -> Result<Exercise, String> {
    let beside = |name: &str| match name {
        "ref.v" => Ok(b"module r #(parameter N = 3) (input [N-1:0] x, output y); assign y = ^x; endmodule".to_vec()),
        other => Err(format!("`{other}` is not there.").into()),
    };
    Exercise::load(text, &beside).map_err(|e| e.to_string())
}

fn judged(exercise: &Exercise, name: &str, text: &str) -> Verdict {
    let files = vec![HandInFile { name: name.into(), bytes: text.into() }];
    check(exercise, &HandIn { files, ..HandIn::default() }).verdict
}

fn codes(verdict: &Verdict) -> Vec<&str> {
    verdict.findings.iter().filter(|f| f.severity != "note").map(|f| f.code.as_str()).collect()
}

const RIPPLE: &str = "module sum #(parameter WIDTH = 4) (input [WIDTH-1:0] left, right, output [WIDTH:0] total);
  wire [WIDTH:0] c; assign c[0] = 1'b0; assign total[WIDTH] = c[WIDTH]; genvar i;
  generate for (i = 0; i < WIDTH; i = i + 1) begin : g
    assign total[i] = left[i] ^ right[i] ^ c[i];
    assign c[i+1] = left[i] & right[i] | c[i] & (left[i] ^ right[i]);
  end endgenerate endmodule";

#[test]
fn a_design_that_follows_its_parameter_is_right_at_every_value() {
    let exercise = load(ADDER).unwrap();
    assert_eq!(exercise.others.len(), 4);
    // 24 bits beside 24 are proved by SAT, the others row by row.
    assert!(exercise.others[3].wide().is_some() && exercise.others[2].wide().is_none());
    assert_eq!(judged(&exercise, "sum.v", RIPPLE).verdict, VerdictKind::Pass);
    let vhdl = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
        entity sum is generic (width : positive := 4);
          port (left, right : in std_logic_vector(width - 1 downto 0); total : out std_logic_vector(width downto 0)); end;
        architecture a of sum is begin total <= std_logic_vector(resize(unsigned(left), width + 1) + unsigned(right)); end;";
    assert_eq!(judged(&exercise, "sum.vhd", vhdl).verdict, VerdictKind::Pass);
    // The value comes from the exercise, whatever the design's own usual one is.
    assert_eq!(judged(&exercise, "sum.v", &RIPPLE.replace("WIDTH = 4", "WIDTH = 16")).verdict, VerdictKind::Pass);
}

#[test]
fn a_width_that_is_written_down_shows_at_another_value() {
    let exercise = load(ADDER).unwrap();
    let fixed = RIPPLE.replace("i < WIDTH", "i < 4");
    let found = judged(&exercise, "sum.v", &fixed);
    assert_eq!((found.verdict, codes(&found)), (VerdictKind::Partly, vec!["wrong-at-parameter"]));
    assert!(
        found.findings[0].message.starts_with("With `WIDTH` = 1 it is not right: "),
        "{}",
        found.findings[0].message
    );
    assert_eq!(found.rows.passed, found.rows.total, "at the usual value every row is right");
    let states: Vec<&str> =
        found.stages.iter().filter(|s| s.state == verdict::StageState::Fail).map(|s| s.stage.as_str()).collect();
    assert_eq!(states, ["structure"]);
    let late = RIPPLE.replace("left[i] ^ right[i] ^ c[i]", "left[i] ^ right[i] ^ (i == 20 ? 1'b0 : c[i])");
    let found = judged(&exercise, "sum.v", &late);
    assert!(
        found.findings[0].message.starts_with("With `WIDTH` = 24 it is not right: `total`"),
        "{:?}",
        found.findings
    );
}

#[test]
fn a_design_without_the_parameter_is_right_but_not_as_asked() {
    let exercise = load(ADDER).unwrap();
    let plain = "module sum(input [3:0] left, right, output [4:0] total); assign total = left + right; endmodule";
    let found = judged(&exercise, "sum.v", plain);
    assert_eq!((found.verdict, codes(&found)), (VerdictKind::Partly, vec!["parameter-missing"]));
    assert_eq!(found.rows.passed, 256);
    let local = plain.replace("(input", "#(localparam WIDTH = 4) (input");
    assert!(codes(&judged(&exercise, "sum.v", &local)).contains(&"parameter-missing"));
}

#[test]
fn references_and_clocked_exercises_take_the_parameter_too() {
    let parity = r#"format = "zesty-gate/exercise/1"
title = "Crate parity"
[parameter]
name = "N"
usual = 3
also = [8]
[[port]]
name = "x"
dir = "in"
range = "N-1:0"
[[port]]
name = "y"
dir = "out"
[behaviour]
kind = "reference"
files = ["ref.v"]
"#;
    let exercise = load(parity).unwrap();
    let design = "module p #(parameter N = 3) (input [N-1:0] x, output reg y); integer i;
        always @* begin y = 0; for (i = 0; i < N; i = i + 1) y = y ^ x[i]; end endmodule";
    assert_eq!(judged(&exercise, "p.v", design).verdict, VerdictKind::Pass);
    let short = design.replace("i < N;", "i < 3;");
    assert!(judged(&exercise, "p.v", &short).findings[0].message.starts_with("With `N` = 8"));
    assert!(
        load(&parity.replace("\"N\"", "\"M\"").replace("N-1", "M-1")).unwrap_err().contains("has no parameter `M`")
    );
}

#[test]
fn starters_declare_the_parameter() {
    let files = starter(&load(ADDER).unwrap(), &Budget::hand_in()).unwrap();
    let text = |ending: &str| &files.iter().find(|f| f.name.ends_with(ending)).unwrap().text;
    assert!(text("sum.v").contains("parameter WIDTH = 4") && text("sum.v").contains("[WIDTH-1:0] left"));
    assert!(text("sum.vhd").contains("WIDTH : positive := 4"));
    assert!(text("sum.vhd").contains("total : out std_logic_vector(WIDTH downto 0)"));
    for (ending, name) in [("sum.v", "a.v"), ("sum.vhd", "a.vhd")] {
        let found = judged(&load(ADDER).unwrap(), name, text(ending));
        assert!(found.findings.iter().all(|f| f.severity != "stop"), "{:#?}", found.findings);
    }
}

#[test]
fn faults_of_the_parameter_are_told() {
    let told = |from: &str, to: &str| {
        let text = ADDER.replace(from, to);
        assert_ne!(text, ADDER);
        load(&text).unwrap_err()
    };
    assert!(told("usual = 4", "usual = 0").contains("from 1 to 256, not 0"));
    assert!(told("also = [1, 2, 9, 24]", "also = [4]").contains("given twice"));
    assert!(told("name = \"WIDTH\"", "name = \"W IDTH\"").contains("can't name a parameter"));
    assert!(told("range = \"WIDTH-1:0\"", "range = \"DEPTH-1:0\"").contains("`DEPTH-1:0` is not a range"));
    let table = ADDER.replace(
        "kind = \"expressions\"\n[behaviour.outputs]\ntotal = \"left + right\"",
        "kind = \"minterms\"\n[behaviour.outputs]\n\"total[0]\" = [1]",
    );
    assert!(load(&table).unwrap_err().contains("holds for one width"));
}

#[test]
fn a_vhdl_entity_without_the_generic_is_right_but_not_as_asked() {
    let plain = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity sum is
  port (left, right : in std_logic_vector(3 downto 0); total : out std_logic_vector(4 downto 0));
end sum;
architecture a of sum is
begin
  total <= std_logic_vector(resize(unsigned(left), 5) + unsigned(right));
end a;
";
    let exercise = load(ADDER).unwrap();
    let found = judged(&exercise, "sum.vhd", plain);
    assert_eq!((found.verdict, codes(&found)), (VerdictKind::Partly, vec!["parameter-missing"]));
    // With it, in whatever capitals, every value is right.
    let generic = plain
        .replace("  port (", "  generic (width : positive := 4);\n  port (")
        .replace("(3 downto 0)", "(width - 1 downto 0)")
        .replace("(4 downto 0)", "(width downto 0)")
        .replace(", 5)", ", width + 1)");
    let found = judged(&exercise, "sum.vhd", &generic);
    assert_eq!(found.verdict, VerdictKind::Pass, "{:?}", found.findings);
}

#[test]
fn waves_run_a_hand_in_at_the_value_of_the_exercise() {
    let exercise = load(ADDER).unwrap();
    // Its own default is another one; the other language takes the value the same way.
    let verilog = RIPPLE.replace("WIDTH = 4", "WIDTH = 9");
    let vhdl = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity sum is
  generic (width : positive := 7);
  port (left, right : in std_logic_vector(width - 1 downto 0); total : out std_logic_vector(width downto 0));
end sum;
architecture a of sum is
begin
  total <= std_logic_vector(resize(unsigned(left), width + 1) + unsigned(right));
end a;
";
    for (name, text) in [("sum.v", verilog.as_str()), ("sum.vhd", vhdl)] {
        let files = vec![HandInFile { name: name.into(), bytes: text.into() }];
        let found = views::waves(&exercise, &files, &views::WavesRequest::default(), &Budget::hand_in()).unwrap();
        let lane = |role| found.lanes.iter().find(|l| l.name == "total" && l.role == role);
        let expected = lane(views::LaneRole::Expected).unwrap_or_else(|| panic!("{name}: nothing is expected"));
        assert_eq!(expected.width, 5, "{name}");
        assert!(found.lanes.iter().all(|l| l.differs.is_empty()), "{name}");
    }
}
