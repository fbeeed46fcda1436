//! Things that are made of themselves: each ends with a finding, none with a crash, a hang or full memory.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use elab::HandInFile;
use views::inspect;

/// The codes of what stops the source.
fn codes(files: &[(&str, &str)]) -> Vec<String> {
    let files: Vec<HandInFile> =
        files.iter().map(|(name, text)| HandInFile { name: (*name).into(), bytes: (*text).into() }).collect();
    let found = inspect(&files, None, &Budget::hand_in()).unwrap().findings;
    found.into_iter().filter(|f| f.severity == "stop").map(|f| f.code).collect()
}

#[track_caller]
fn stops(files: &[(&str, &str)], code: &str) {
    let found = codes(files);
    assert!(found.iter().any(|c| c == code), "{code} is not among {found:?}");
}

const HEAD: &str = "library ieee; use ieee.std_logic_1164.all;\n";
const ENTITY: &str = "entity e is port (a : in std_logic; y : out std_logic); end;\narchitecture x of e is\n";

#[test]
fn files_macros_and_modules_within_themselves() {
    let module = "module m(input a, output y); assign y = a; endmodule\n";
    stops(&[("b.v", &format!("`include \"b.v\"\n{module}"))], "budget-exhausted");
    stops(&[("p.v", &format!("`include \"q.v\"\n{module}")), ("q.v", "`include \"p.v\"\n")], "budget-exhausted");
    stops(&[("m.v", "`define X `X\nmodule m(input a, output y); assign y = a `X; endmodule\n")], "macro-recursion");
    stops(
        &[("m.v", "module m #(parameter N = 3) (input a, output y); m #(N + 1) u(a, y); endmodule\n")],
        "endless-recursion",
    );
    let pair = "module m(input a, output y); n u(a, y); endmodule\nmodule n(input a, output y); m u(a, y); endmodule\n";
    assert!(!codes(&[("m.v", pair)]).is_empty());
}

#[test]
fn constants_types_and_functions_of_themselves() {
    let verilog = |body: &str| format!("module m(input a, output y);\n{body}\nassign y = a;\nendmodule\n");
    for body in [
        "parameter P = Q; parameter Q = P; wire [P:0] w;",
        "function integer f(input integer n); f = f(n) + 1; endfunction localparam P = f(3); wire [P:0] w;",
        "function integer g(input integer n); g = n < 2 ? n : g(n - 1) + g(n - 2); endfunction localparam P = g(60); wire [P:0] w;",
        "genvar i; generate for (i = 0; i < 1; i = i) begin : g wire w; end endgenerate",
    ] {
        assert!(!codes(&[("m.sv", &verilog(body))]).is_empty(), "{body}");
    }
    for declaration in [
        "subtype s is s; signal v : s;",
        "type t is array (0 to 1) of t; signal v : t;",
        "constant c : integer := c + 1; signal v : std_logic_vector(c downto 0);",
        "function f(n : integer) return integer is begin return f(n) + 1; end; constant d : integer := f(3); signal v : std_logic_vector(d downto 0);",
    ] {
        let text = format!("{HEAD}{ENTITY}{declaration}\nbegin y <= a; end;\n");
        assert!(!codes(&[("e.vhd", &text)]).is_empty(), "{declaration}");
    }
}

#[test]
fn packages_that_use_themselves_or_each_other() {
    let itself = format!(
        "{HEAD}use work.p.all;\npackage p is constant c : integer := 1; end package;\n{HEAD}use work.p.all;\n{ENTITY}begin y <= a; end;\n"
    );
    stops(&[("p.vhd", &itself)], "unknown-package");
    let each = format!(
        "{HEAD}use work.q.all;\npackage p is constant c : integer := 1; end package;\n{HEAD}use work.p.all;\n\
         package q is constant d : integer := 2; end package;\n{HEAD}use work.p.all;\n{ENTITY}begin y <= a; end;\n"
    );
    stops(&[("p.vhd", &each)], "unknown-package");
    // Each used twice by the next: read once each, not 2^40 times.
    let mut text = format!("{HEAD}package p0 is constant c0 : integer := 1; end package;\n");
    for n in 1..40 {
        text += &format!(
            "{HEAD}use work.p{0}.all; use work.p{0}.c{0};\npackage p{n} is constant c{n} : integer := 1; end package;\n",
            n - 1
        );
    }
    text += &format!("{HEAD}use work.p39.all;\n{ENTITY}begin y <= a; end;\n");
    assert!(codes(&[("p.vhd", &text)]).is_empty());
}

#[test]
fn a_repair_that_makes_a_circle_is_tried_and_dropped() {
    // Among the changes that are tried on this wrong design is the use clause that names its own package.
    let text = format!(
        "{HEAD}package crates is function turned(s : std_logic) return std_logic; end package;\n\
         package body crates is function turned(s : std_logic) return std_logic is begin return s; end; end package body;\n\
         {HEAD}use work.crates.all;\n{ENTITY}begin y <= turned(a); end;\n"
    );
    let exercise = "format = \"zesty-gate/exercise/1\"\ntitle = \"T\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n[[port]]\nname = \"y\"\n\
        dir = \"out\"\n[behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\ny = \"~a\"\n";
    let exercise = exercise::Exercise::alone(exercise).unwrap();
    let files = vec![HandInFile { name: "e.vhd".into(), bytes: text.into_bytes() }];
    let found = check::check(&exercise, &check::HandIn { files, ..check::HandIn::default() }).verdict;
    assert_eq!(found.verdict, verdict::VerdictKind::Fail);
    assert!(!found.near_misses.is_empty());
}
