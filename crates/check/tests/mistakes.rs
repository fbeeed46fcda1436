//! Mistakes of a first course: the first finding stands on the line that has to be changed (marked with `<-`), and says
//! something else than "syntax error".

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]
#![allow(clippy::too_many_lines, reason = "a list of mistakes")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{Verdict, VerdictKind};

const EXERCISE: &str = r#"
format = "zesty-gate/exercise/1"
title = "Sorter gate"
[[port]]
name = "a"
dir = "in"
[[port]]
name = "b"
dir = "in"
[[port]]
name = "s"
dir = "in"
range = "1:0"
[[port]]
name = "y"
dir = "out"
[[port]]
name = "v"
dir = "out"
range = "1:0"
[behaviour]
kind = "expressions"
[behaviour.outputs]
y = "a & b | s[0]"
"v[1]" = "a & s[1]"
"v[0]" = "b"
"#;

const CLOCKED: &str = r#"
format = "zesty-gate/exercise/1"
title = "Tray counter"
[[port]]
name = "clk"
dir = "in"
[[port]]
name = "rst"
dir = "in"
[[port]]
name = "q"
dir = "out"
range = "1:0"
[clock]
port = "clk"
edge = "rising"
[reset]
port = "rst"
active = "high"
kind = "sync"
[behaviour]
kind = "reference"
files = ["reference.v"]
"#;

const REFERENCE: &str =
    "module r(input clk, rst, output reg [1:0] q); always @(posedge clk) q <= rst ? 0 : q + 1; endmodule";

fn judged(exercise: &str, name: &str, text: &str) -> Verdict {
    let exercise = Exercise::load(exercise, &|_| Ok(REFERENCE.into())).unwrap_or_else(|e| panic!("{e}"));
    let files = vec![HandInFile { name: name.into(), bytes: text.into() }];
    check(&exercise, &HandIn { files, ..HandIn::default() }).verdict
}

/// What is wrong with what is said of each mistake.
fn faults(exercise: &str, name: &str, mistakes: &[&str]) -> Vec<String> {
    let mut list = Vec::new();
    for text in mistakes {
        let marked: Vec<u32> = (1..).zip(text.lines()).filter(|(_, l)| l.contains("<-")).map(|(k, _)| k).collect();
        let verdict = judged(exercise, name, text);
        let first = verdict.findings.first();
        let said = first.map_or("nothing".to_owned(), |f| format!("line {:?}: {} [{}]", f.line, f.message, f.code));
        let right = first.is_some_and(|f| f.line.is_some_and(|l| marked.contains(&l)));
        let unhelpful = first.is_some_and(|f| f.message.to_lowercase().contains("syntax"));
        if verdict.verdict == VerdictKind::Pass || !right || unhelpful {
            list.push(format!("{:?}, {said}\n{text}", verdict.verdict));
        }
    }
    list
}

#[test]
fn mistakes_in_verilog() {
    const HEAD: &str = "module sorter(input a, b, input [1:0] s, output y, output [1:0] v);";
    let list: Vec<String> = [
        // Punctuation.
        "  assign y = a & b | s[0] // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = (a & b | s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = a & b) | s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = a & b | s[0];\n  assign v = {a & s[1], b; // <-\nendmodule",
        "  assign y = a & b | s(0); // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = a & b | s[0;  // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y := a & b | s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y <= a & b | s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  y = a & b | s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = a and b or s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = a . b + s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = a & b | s[0];\n  assign v = {a & s[1], b};\nend module // <-",
        "  assign y = a & b | s[0];\n  assign v = {a & s[1], b};\nendmodul // <-",
        "  asign y = a & b | s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  Assign y = a & b | s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = 2b'1 & a; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = a & b | s[0];\n  assign v = 2'b12; // <-\nendmodule",
        // Names.
        "  assign y = a & B | s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = a & c | s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign y = a & b | s[2]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  assign a = b; // <-\n  assign y = a & b | s[0];\n  assign v = {a & s[1], b};\nendmodule",
        "  wire reg; // <-\n  assign y = a & b | s[0];\n  assign v = {a & s[1], b};\nendmodule",
        "  wire t; wire t; // <-\n  assign y = a & b | s[0];\n  assign v = {a & s[1], b};\nendmodule",
        "  and g1(y, a, b, s[0]), g1(v[1], a, s[1]); // <-\n  assign v[0] = b;\nendmodule",
        "  or_gate g(y, a, b); // <-\n  assign v = {a & s[1], b};\nendmodule",
        // Drivers.
        "  assign y = a & b; // <-\n  assign y = s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  always @* y = a & b | s[0]; // <-\n  assign v = {a & s[1], b};\nendmodule",
        "  reg t;\n  assign t = a & b; // <-\n  assign y = t | s[0];\n  assign v = {a & s[1], b};\nendmodule",
        // Blocks.
        "  reg y;\n  always @*\n    y = a & b | s[0];\n    v = {a & s[1], b}; // <-\nendmodule",
        "  always @* begin\n    assign v = {a & s[1], b}; // <-\n  end\n  assign y = a & b | s[0];\nendmodule",
    ]
    .iter()
    .map(|body| format!("{HEAD}\n{body}\n"))
    .collect();
    let mut texts: Vec<&str> = list.iter().map(String::as_str).collect();
    texts.extend([
        "module sorter(input a, b, input [1:0] s, output y, output [1:0] v) // <-\n  assign y = a & b | s[0];\n  assign v = {a & s[1], b};\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output y, output [1:0] v,); // <-\n  assign y = a & b | s[0];\n  assign v = {a & s[1], b};\nendmodule\n",
        "module sorter(input a; input b; input [1:0] s; output y; output [1:0] v); // <-\n  assign y = a & b | s[0];\n  assign v = {a & s[1], b};\nendmodule\n",
        "module sorter(a, b, s, y, v); // <-\n  input a, b;\n  output y;\n  output [1:0] v;\n  assign y = a & b | s[0];\n  assign v = {a & s[1], b};\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output reg y, output reg [1:0] v);\n  always @(a) // <-\n    begin y = a & b | s[0]; v = {a & s[1], b}; end\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output reg y, output reg [1:0] v);\n  always @* begin\n    if (a) y = b; // <-\n    v = {a & s[1], b};\n  end\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output reg y, output reg [1:0] v);\n  always @* begin\n    case (s) // <-\n      0: y = a & b; // <-\n      1: y = 1;\n      3: y = 1;\n    endcase\n    v = {a & s[1], b};\n  end\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output reg y, output reg [1:0] v);\n  always @* begin\n    if (a = 1) y = b | s[0]; // <-\n    else y = s[0];\n    v = {a & s[1], b};\n  end\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output reg y, output reg [1:0] v);\n  always @* begin\n    if (a) then y = b | s[0]; // <-\n    else y = s[0];\n    v = {a & s[1], b};\n  end\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output reg y, output reg [1:0] v);\n  always @* begin // <-\n    if (a) y = b | s[0];\n    else y = s[0];\n    v = {a & s[1], b};\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output reg y, output reg [1:0] v);\n  always @* begin\n    y = a & b | s[0];\n    v = {a & s[1], b};\n  end\n  end // <-\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output reg y, output reg [1:0] v);\n  always @*\n    case (s) // <-\n      0, 2: begin y = a & b; v = {a & s[1], b}; end\n      default begin y = 1; v = {a & s[1], b}; end\n  end\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output reg y, output reg [1:0] v);\n  always @(a, b, s) begin\n    y <= a & b | s[0];\n    v = {a & s[1], b} // <-\n  end\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output y, output v); // <-\n  assign y = a & b | s[0];\n  assign v = b;\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, output y, output [1:0] out); // <-\n  assign y = a & b | s[0];\n  assign out = {a & s[1], b};\nendmodule\n",
        "module sorter(input a, b, input [1:0] s, input y, output [1:0] v); // <-\n  assign v = {a & s[1], b};\nendmodule\n",
        "module half(input p, q, output r);\n  assign r = p & q;\nendmodule\nmodule sorter(input a, b, input [1:0] s, output y, output [1:0] v);\n  wire t;\n  half h(.p(a), .q(b), .z(t)); // <-\n  assign y = t | s[0];\n  assign v = {a & s[1], b};\nendmodule\n",
        "module half(input p, q, output r);\n  assign r = p & q;\nendmodule\nmodule sorter(input a, b, input [1:0] s, output y, output [1:0] v);\n  wire t;\n  half h(a, b, t, s); // <-\n  assign y = t | s[0];\n  assign v = {a & s[1], b};\nendmodule\n",
        "module half(input p, q, output r);\n  assign r = p & q;\nendmodule\nmodule sorter(input a, b, input [1:0] s, output y, output [1:0] v);\n  wire t;\n  haf h(a, b, t); // <-\n  assign y = t | s[0];\n  assign v = {a & s[1], b};\nendmodule\n",
        "module half(input p, q, output r);\n  assign r = p & q;\nendmodule\nmodule sorter(input a, b, input [1:0] s, output y, output [1:0] v);\n  wire t;\n  half(a, b, t); // <-\n  assign y = t | s[0];\n  assign v = {a & s[1], b};\nendmodule\n",
        "module half(input p, q, output r);\n  assign r = p & q;\nendmodule\nmodule sorter(input a, b, input [1:0] s, output reg y, output [1:0] v);\n  always @* begin\n    half h(a, b, y); // <-\n  end\n  assign v = {a & s[1], b};\nendmodule\n",
    ]);
    let list = faults(EXERCISE, "sorter.v", &texts);
    assert!(list.is_empty(), "{} of {}\n{}", list.len(), texts.len(), list.join("\n---\n"));
}

#[test]
fn an_output_that_nothing_drives_is_told_at_its_port() {
    for (name, text) in [
        (
            "s.v",
            "module sorter(input a, b, input [1:0] s,\n  output y, // <-\n  output [1:0] v);\n  assign z = a & b | s[0];\n  assign v = {a & s[1], b};\nendmodule\n",
        ),
        (
            "s.v",
            "module sorter(input a, b, input [1:0] s,\n  output y,\n  output [1:0] v); // <-\n  assign y = a & b | s[0];\n  assign v[1] = a & s[1];\nendmodule\n",
        ),
        (
            "s.vhd",
            "library ieee;\nuse ieee.std_logic_1164.all;\nentity sorter is\n  port (a, b : in std_logic; s : in std_logic_vector(1 downto 0); y : out std_logic;\n        v : out std_logic_vector(1 downto 0)); -- <-\nend;\narchitecture x of sorter is\nbegin\n  y <= (a and b) or s(0);\n  v(1) <= a and s(1);\nend x;\n",
        ),
    ] {
        assert_eq!(faults(EXERCISE, name, &[text]), Vec::<String>::new());
    }
}

#[test]
fn mistakes_with_a_clock_in_verilog() {
    let texts = [
        "module t(input clk, rst, output [1:0] q);\n  always @(posedge clk) // <-\n    q <= rst ? 0 : q + 1; // <-\nendmodule\n",
        "module t(input clk, rst, output reg [1:0] q);\n  always @(posedge clk) begin\n    if (rst) q <= 0;\n    else q++ // <-\n  end\nendmodule\n",
        "module t(input clk, rst, output reg [1:0] q);\n  always @(posedge clock) // <-\n    q <= rst ? 0 : q + 1;\nendmodule\n",
        "module t(input clk, rst, output reg [1:0] q);\n  always @(posedge clk, rst) // <-\n    if (rst) q <= 0; else q <= q + 1;\nendmodule\n",
        "module t(input clk, rst, output reg [1:0] q);\n  always @(posedge clk)\n    if (rst) q <= 0;\n  always @(posedge clk) // <-\n    q <= q + 1; // <-\nendmodule\n",
        "module t(input clk, rst, output reg [1:0] q);\n  always @(clk) // <-\n    if (rst) q = 0; else q = q + 1; // <-\nendmodule\n",
        "module t(input clk, rst, output reg [1:0] q);\n  always @(posedge clk) // <-\n    q <= q + 1; // <-\nendmodule\n",
        "module t(input clk, rst, output reg q); // <-\n  always @(posedge clk)\n    q <= rst ? 0 : q + 1;\nendmodule\n",
    ];
    let list = faults(CLOCKED, "t.v", &texts);
    assert!(list.is_empty(), "{} of {}\n{}", list.len(), texts.len(), list.join("\n---\n"));
}

#[test]
fn mistakes_in_vhdl() {
    const ENTITY: &str = "library ieee;\nuse ieee.std_logic_1164.all;\nentity sorter is\n  port (a, b : in std_logic; s : in std_logic_vector(1 downto 0);\n        y : out std_logic; v : out std_logic_vector(1 downto 0));\nend sorter;\n";
    let list: Vec<String> = [
        "architecture x of sorter is\nbegin\n  y <= (a and b) or s(0) -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= a and b or s(0); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= ((a and b) or s(0); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y = (a and b) or s(0); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y := (a and b) or s(0); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= (a & b) | s(0); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= (a and b) or s[0]; -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= (a and b) or s; -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= (a and c) or s(0); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= (a and b) or s(2); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= (a and b) or s(0);\n  v <= (a and s(1)) & b & '0'; -- <-\nend x;",
        "architecture x of sorter is\nbegin\n  y <= (a and b) or s(0);\n  v <= \"0\"; -- <-\nend x;",
        "architecture x of sorter is\nbegin\n  y <= \"1\"; -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= 1; -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= '1' when a = 1 else s(0); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= a and b; -- <-\n  y <= s(0); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  a <= b; -- <-\n  y <= (a and b) or s(0);\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\n  signal t : std_logic -- <-\nbegin\n  t <= a and b;\n  y <= t or s(0);\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\n  signal t : std_logik; -- <-\nbegin\n  t <= a and b;\n  y <= t or s(0);\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  if a = '1' then -- <-\n    y <= b or s(0);\n  else\n    y <= s(0);\n  end if;\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  process (a, b, s)\n  begin\n    if a = '1' -- <-\n      y <= b or s(0);\n    else\n      y <= s(0);\n    end if;\n    v <= (a and s(1)) & b;\n  end process;\nend x;",
        "architecture x of sorter is\nbegin\n  process (a, b, s)\n  begin\n    if a = '1' then\n      y <= b or s(0);\n    else if b = '1' then -- <-\n      y <= s(0);\n    else\n      y <= s(0);\n    end if;\n    v <= (a and s(1)) & b;\n  end process;\nend x;",
        "architecture x of sorter is\nbegin\n  process (a, b, s)\n  begin\n    if a = '1' then\n      y <= b or s(0);\n    elseif b = '1' then -- <-\n      y <= s(0);\n    else\n      y <= s(0);\n    end if;\n    v <= (a and s(1)) & b;\n  end process;\nend x;",
        "architecture x of sorter is\nbegin\n  process (a, b, s)\n  begin\n    if a = '1' then -- <-\n      y <= b or s(0); -- <-\n    end if;\n    v <= (a and s(1)) & b;\n  end process;\nend x;",
        "architecture x of sorter is\nbegin\n  process (a) -- <-\n  begin\n    y <= (a and b) or s(0);\n    v <= (a and s(1)) & b;\n  end process;\nend x;",
        "architecture x of sorter is\nbegin\n  process (a, b, s)\n  begin\n    case s is -- <-\n      when \"00\" => y <= a and b;\n      when \"01\" => y <= '1';\n      when \"11\" => y <= '1';\n    end case;\n    v <= (a and s(1)) & b;\n  end process;\nend x;",
        "architecture x of sorter is\nbegin\n  process (a, b, s)\n    variable t : std_logic;\n  begin\n    t <= a and b; -- <-\n    y <= t or s(0);\n    v <= (a and s(1)) & b;\n  end process;\nend x;",
        "architecture x of sorter is\n  signal t : std_logic;\nbegin\n  process (a, b, s, t)\n  begin\n    t := a and b; -- <-\n    y <= t or s(0);\n    v <= (a and s(1)) & b;\n  end process;\nend x;",
        "architecture x of sorter is\nbegin\n  process (a, b, s) -- <-\n  begin\n    y <= (a and b) or s(0);\n    v <= (a and s(1)) & b;\n  end;\nend x;",
        "architecture x of sorter is -- <-\n  y <= (a and b) or s(0);\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sortr is -- <-\nbegin\n  y <= (a and b) or s(0);\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  with s select y <= a and b when \"00\", '1' when \"01\", a and b when \"10\"; -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= (a and b) or s(0)); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  y <= not a b; -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\nbegin\n  u : entity work.missing port map (a, b, y); -- <-\n  v <= (a and s(1)) & b;\nend x;",
        "architecture x of sorter is\n  signal n : unsigned(1 downto 0); -- <-\nbegin\n  n <= unsigned(s);\n  y <= (a and b) or n(0);\n  v <= (a and s(1)) & b;\nend x;",
    ]
    .iter()
    .map(|body| format!("{ENTITY}{body}\n"))
    .collect();
    let mut texts: Vec<&str> = list.iter().map(String::as_str).collect();
    texts.extend([
        "entity sorter is\n  port (a, b : in std_logic; s : in std_logic_vector(1 downto 0); -- <-\n        y : out std_logic; v : out std_logic_vector(1 downto 0));\nend sorter;\narchitecture x of sorter is\nbegin\n  y <= (a and b) or s(0);\n  v <= (a and s(1)) & b;\nend x;\n",
        "library ieee;\nuse ieee.std_logic_1164.all;\nentity sorter is\n  port (a, b : in std_logic; s : in std_logic_vector(1 downto 0);\n        y : out std_logic; v : out std_logic_vector(1 downto 0);); -- <-\nend sorter;\narchitecture x of sorter is\nbegin\n  y <= (a and b) or s(0);\n  v <= (a and s(1)) & b;\nend x;\n",
        "library ieee;\nuse ieee.std_logic_1164.all;\nentity sorter is\n  port (a, b : in std_logic; s : in std_logic_vector(1 downto 0);\n        y : out std_logic; v : out std_logic_vector(1 downto 0)) -- <-\nend sorter;\narchitecture x of sorter is\nbegin\n  y <= (a and b) or s(0);\n  v <= (a and s(1)) & b;\nend x;\n",
        "library ieee;\nuse ieee.std_logic_1164.all;\nentity sorter is\n  port (a, b : in std_logic, s : in std_logic_vector(1 downto 0), -- <-\n        y : out std_logic; v : out std_logic_vector(1 downto 0));\nend sorter;\narchitecture x of sorter is\nbegin\n  y <= (a and b) or s(0);\n  v <= (a and s(1)) & b;\nend x;\n",
        "library ieee;\nuse ieee.std_logic_1164.all -- <-\nentity sorter is\n  port (a, b : in std_logic; s : in std_logic_vector(1 downto 0);\n        y : out std_logic; v : out std_logic_vector(1 downto 0));\nend sorter;\narchitecture x of sorter is\nbegin\n  y <= (a and b) or s(0);\n  v <= (a and s(1)) & b;\nend x;\n",
        "library ieee;\nuse ieee.std_logic_1164.all;\nentity sorter is\n  port (a, b : in std_logic; s : in std_logic_vector(1 downto 0);\n        y : in std_logic; v : out std_logic_vector(1 downto 0)); -- <-\nend sorter;\narchitecture x of sorter is\nbegin\n  v <= (a and s(1)) & b;\nend x;\n",
        "library ieee;\nuse ieee.std_logic_1164.all;\nentity sorter is -- <-\n  port (a, b : in std_logic; s : in std_logic_vector(1 downto 0);\n        y : out std_logic; v : out std_logic_vector(1 downto 0));\nend sorter;\n",
        "library ieee;\nuse ieee.std_logic_1164.all;\nentity sorter is\n  port (a, b : in std_logic; s : in std_logic_vector(1 downto 0);\n        y : out std_logic; v : out std_logic_vector(1 downto 0));\nend sortr; -- <-\narchitecture x of sorter is\nbegin\n  y <= (a and b) or s(0);\n  v <= (a and s(1)) & b;\nend x;\n",
    ]);
    let list = faults(EXERCISE, "sorter.vhd", &texts);
    assert!(list.is_empty(), "{} of {}\n{}", list.len(), texts.len(), list.join("\n---\n"));
}

#[test]
fn mistakes_with_a_clock_in_vhdl() {
    const ENTITY: &str = "library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nentity t is\n  port (clk, rst : in std_logic; q : out std_logic_vector(1 downto 0));\nend t;\narchitecture x of t is\n";
    let list: Vec<String> = [
        "begin\n  process (clk)\n  begin\n    if rising_edge(clk) then\n      if rst = '1' then q <= \"00\"; else q <= q + 1; end if; -- <-\n    end if;\n  end process;\nend x;",
        "  signal n : unsigned(1 downto 0);\nbegin\n  process (clk)\n  begin\n    if rising_edge(clk) then\n      if rst = '1' then n <= 0; else n <= n + 1; end if; -- <-\n    end if;\n  end process;\n  q <= std_logic_vector(n);\nend x;",
        "  signal n : unsigned(1 downto 0);\nbegin\n  process (clk)\n  begin\n    if rising_edge(clk) then\n      if rst = '1' then n <= \"00\"; else n <= n + 1; end if;\n    end if;\n  end process;\n  q <= n; -- <-\nend x;",
        "  signal n : unsigned(1 downto 0);\nbegin\n  process (clk)\n  begin\n    if rising_edge(clk) then -- <-\n      if rst = '1' then n <= \"00\"; else n <= n + 1; end if;\n  end process;\n  q <= std_logic_vector(n);\nend x;",
        "  signal n : unsigned(1 downto 0);\nbegin\n  process (clk)\n  begin\n    if rising_edge clk then -- <-\n      if rst = '1' then n <= \"00\"; else n <= n + 1; end if;\n    end if;\n  end process;\n  q <= std_logic_vector(n);\nend x;",
        "  signal n : integer range 0 to 3;\nbegin\n  process (clk)\n  begin\n    if rising_edge(clk) then\n      if rst = '1' then n <= 0; else n <= (n + 1) mod 4; end if;\n    end if;\n  end process;\n  q <= std_logic_vector(n); -- <-\nend x;",
        "  signal n : unsigned(1 downto 0); -- <-\nbegin\n  process (clk) -- <-\n  begin\n    if rising_edge(clk) then\n      n <= n + 1; -- <-\n    end if;\n  end process;\n  q <= std_logic_vector(n);\nend x;",
    ]
    .iter()
    .map(|body| format!("{ENTITY}{body}\n"))
    .collect();
    let texts: Vec<&str> = list.iter().map(String::as_str).collect();
    let list = faults(CLOCKED, "t.vhd", &texts);
    assert!(list.is_empty(), "{} of {}\n{}", list.len(), texts.len(), list.join("\n---\n"));
}
