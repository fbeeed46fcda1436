//! Sources that a simulator and synthesis read differently are no clean pass; what both read alike is.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{Verdict, VerdictKind};

const AND: &str = "format = \"zesty-gate/exercise/1\"\ntitle = \"And\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n\
    [[port]]\nname = \"b\"\ndir = \"in\"\n[[port]]\nname = \"y\"\ndir = \"out\"\n\
    [behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\ny = \"a & b\"\n";

const COUNT: &str = "format = \"zesty-gate/exercise/1\"\ntitle = \"Count\"\n[[port]]\nname = \"clk\"\ndir = \"in\"\n\
    [[port]]\nname = \"rst_n\"\ndir = \"in\"\n[[port]]\nname = \"q\"\ndir = \"out\"\nrange = \"2:0\"\n\
    [clock]\nport = \"clk\"\n[reset]\nport = \"rst_n\"\nactive = \"low\"\nkind = \"async\"\n\
    [behaviour]\nkind = \"reference\"\nfiles = [\"count.v\"]\n";
const REFERENCE: &str = "module count(input clk, rst_n, output reg [2:0] q);
  always @(posedge clk or negedge rst_n) if (!rst_n) q <= 0; else q <= q + 1; endmodule\n";

fn judged(exercise: &str, name: &str, text: &str) -> Verdict {
    let exercise = Exercise::load(exercise, &|_| Ok(REFERENCE.into())).unwrap();
    let files = vec![HandInFile { name: name.into(), bytes: text.into() }];
    check(&exercise, &HandIn { files, ..HandIn::default() }).verdict
}

fn codes(verdict: &Verdict) -> Vec<&str> {
    verdict.findings.iter().map(|f| f.code.as_str()).collect()
}

fn gate(body: &str) -> Verdict {
    judged(AND, "m.v", &format!("module m(input a, b, output reg y);\n{body}\nendmodule\n"))
}

/// IEEE 1364-2005 9.9.1 (an initial block runs once), 9.7.2 (`||` and `|` make one event of an expression, not a list) and
/// 9.2.1 (a value that is read before it is assigned is the old one).
#[test]
fn what_only_synthesis_reads_as_wanted_is_no_clean_pass() {
    for body in [
        "initial y = a & b;",
        "always @(a || b) y = a & b;",
        "always @(a | b) y = a & b;",
        "reg t; always @(a or b) begin y = t; t = a & b; end",
        "reg t; always @* begin y = t; t = a & b; end",
    ] {
        let found = gate(body);
        assert_eq!(found.verdict, VerdictKind::Partly, "{body}: {}", found.headline());
        assert!(codes(&found).contains(&"simulated-otherwise"), "{body}: {:?}", codes(&found));
    }
}

#[test]
fn what_both_read_alike_passes() {
    for body in [
        "always @(a, b) y = a & b;",
        "always @(a or b) begin y = 0; if (a) y = b; end",
        "always @* y <= #3 a & b;",
        "wire t; assign #5000 t = a & b; always @* y = t;",
        "initial y = 0; always @* y = a & b;",
    ] {
        let found = gate(body);
        assert!(!codes(&found).contains(&"simulated-otherwise"), "{body}: {}", found.headline());
        assert_eq!(found.rows.passed, 4, "{body}: {}", found.headline());
    }
}

fn counter(head: &str, test: &str) -> Verdict {
    let text = format!(
        "module m(input clk, rst_n, output reg [2:0] q);
           always @(posedge clk or {head}) if ({test}) q <= 0; else q <= q + 1; endmodule\n"
    );
    judged(COUNT, "m.v", &text)
}

/// IEEE 1364-2005 table 9-1: an edge of `~x` is the other edge of `x`.
#[test]
fn an_edge_of_a_signal_turned_round_is_the_other_edge() {
    for (head, test) in [("negedge rst_n", "!rst_n"), ("posedge ~rst_n", "!rst_n"), ("negedge rst_n", "~rst_n")] {
        let found = counter(head, test);
        assert_eq!(found.verdict, VerdictKind::Pass, "{head} {test}: {}", found.headline());
    }
    for (head, test) in [("negedge ~rst_n", "!rst_n"), ("posedge rst_n", "!rst_n")] {
        let found = counter(head, test);
        assert_eq!(codes(&found), ["no-single-clock"], "{head} {test}: {}", found.headline());
    }
}

/// Level-sensitive storage: a clock gate, and a master and a slave (common practice).
#[test]
fn latches_that_are_meant_are_run_and_proved() {
    let gated = "module m(input clk, rst_n, output reg [2:0] q); reg l; wire g = clk & l;
        always_latch if (!clk) l = 1'b1;
        always @(posedge g or negedge rst_n) if (!rst_n) q <= 0; else q <= q + 1; endmodule\n";
    let pair = "module m(input clk, rst_n, output [2:0] q); reg [2:0] master, slave; assign q = slave;
        always_latch if (!rst_n) master = 0; else if (!clk) master = slave + 1;
        always_latch if (!rst_n) slave = 0; else if (clk) slave = master; endmodule\n";
    for text in [gated, pair] {
        let found = judged(COUNT, "m.sv", text);
        assert_eq!(found.verdict, VerdictKind::Pass, "{}\n{text}", found.headline());
    }
    let wrong = judged(COUNT, "m.sv", &pair.replace("slave + 1", "slave + 2"));
    assert_eq!(wrong.verdict, VerdictKind::Partly, "{}", wrong.headline());
}

/// IEEE 1076-2008 10.5.2.1: a count that leaves its range ends the simulation, whatever the bits do.
#[test]
fn a_count_that_leaves_its_range_is_no_clean_pass() {
    let text = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (clk, rst_n : in std_logic; q : out std_logic_vector(2 downto 0)); end;
architecture a of m is signal n : integer range 0 to 4; begin
  process (clk, rst_n) begin
    if rst_n = '0' then n <= 0; elsif rising_edge(clk) then n <= n + 1; end if;
  end process;
  q <= std_logic_vector(to_unsigned(n, 3));
end;\n";
    let found = judged(COUNT, "m.vhd", text);
    assert_eq!(found.verdict, VerdictKind::Partly, "{}", found.headline());
    assert!(found.headline().contains("leaves its range 0 to 4"), "{}", found.headline());
    let wide = text.replace("0 to 4", "0 to 7").replace("n <= n + 1", "n <= (n + 1) mod 8");
    assert_eq!(judged(COUNT, "m.vhd", &wide).verdict, VerdictKind::Pass);
}

const LONG: &str = "format = \"zesty-gate/exercise/1\"\ntitle = \"Long\"\n[[port]]\nname = \"clk\"\ndir = \"in\"\n\
    [[port]]\nname = \"rst\"\ndir = \"in\"\n[[port]]\nname = \"en\"\ndir = \"in\"\n\
    [[port]]\nname = \"q\"\ndir = \"out\"\nrange = \"9:0\"\n\
    [clock]\nport = \"clk\"\n[reset]\nport = \"rst\"\n[behaviour]\nkind = \"reference\"\nfiles = [\"long.v\"]\n";

fn long(range: &str, next: &str) -> Verdict {
    let reference = "module long(input clk, rst, en, output reg [9:0] q);
      always @(posedge clk) if (rst) q <= 0; else if (en) q <= q + 1; endmodule\n";
    let exercise = Exercise::load(LONG, &|_| Ok(reference.into())).unwrap();
    let text = format!(
        "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (clk, rst, en : in std_logic; q : out std_logic_vector(9 downto 0)); end;
architecture a of m is signal n, m : integer range 0 to {range}; begin
  m <= {next};
  process (clk) begin
    if rising_edge(clk) then if rst = '1' then n <= 0; elsif en = '1' then n <= m; end if; end if;
  end process;
  q <= std_logic_vector(to_unsigned(n, 10));
end;\n"
    );
    let files = vec![HandInFile { name: "m.vhd".into(), bytes: text.into() }];
    check(&exercise, &HandIn { files, ..HandIn::default() }).verdict
}

/// The same where the end of the range is farther than anybody simulates by chance: it is found among the states that can be
/// reached, and nothing is said of those that can't.
#[test]
fn a_range_that_is_left_late_is_found_by_proof() {
    let found = long("700", "n + 1");
    assert_eq!(found.verdict, VerdictKind::Partly, "{}", found.headline());
    assert!(found.headline().contains("leaves its range 0 to 700"), "{}", found.headline());
    // The sum is computed in the last state, too, and lies outside for a moment.
    assert_eq!(long("1023", "n + 1").verdict, VerdictKind::Partly);
    for right in ["(n + 1) mod 1024", "0 when n = 1023 else n + 1"] {
        let found = long("1023", right);
        assert_eq!(found.verdict, VerdictKind::Pass, "{right}: {}", found.headline());
    }
}
