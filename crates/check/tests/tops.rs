//! Which unit of a hand-in is checked, where people leave more in their files than was asked for.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{Verdict, VerdictKind};

const EXERCISE: &str = r#"
format = "zesty-gate/exercise/1"
title = "Belt gate"
[[port]]
name = "full"
dir = "in"
[[port]]
name = "clear"
dir = "in"
[[port]]
name = "lamp"
dir = "out"
[behaviour]
kind = "expressions"
[behaviour.outputs]
lamp = "full & ~clear"
"#;

const GATE: &str = "module belt_gate(input full, clear, output lamp); assign lamp = full & ~clear; endmodule\n";

fn judged(files: &[(&str, &str)], top: Option<&str>) -> Verdict {
    let exercise = Exercise::alone(EXERCISE).unwrap();
    let file = |(name, text): &(&str, &str)| HandInFile { name: (*name).into(), bytes: text.as_bytes().to_vec() };
    let files = files.iter().map(file).collect();
    check(&exercise, &HandIn { files, top: top.map(str::to_owned), ..HandIn::default() }).verdict
}

fn passes(files: &[(&str, &str)]) {
    let found = judged(files, None);
    assert_eq!(found.verdict, VerdictKind::Pass, "{}\n{files:?}", found.headline());
}

/// The codes of what costs marks or stops.
fn codes(files: &[(&str, &str)], top: Option<&str>) -> Vec<String> {
    judged(files, top).findings.into_iter().filter(|f| f.severity != "note").map(|f| f.code).collect()
}

#[test]
fn what_is_left_over_does_not_hide_the_design() {
    let spare = "module old_try(input a, b, output y); assign y = a | b; endmodule\n";
    let table =
        "primitive both(y, a, b); output y; input a, b; table 1 1 : 1; 0 ? : 0; ? 0 : 0; endtable endprimitive\n";
    let bench =
        "module tb; reg f, c; wire l; belt_gate dut(f, c, l); initial begin f = 0; c = 1; #5 $finish; end endmodule\n";
    let helper = "module inverter(input a, output y); assign y = ~a; endmodule\n";
    let used = "module belt_gate(input full, clear, output lamp); wire n; inverter i(clear, n); and(lamp, full, n); endmodule\n";
    for more in [spare, table, bench, helper] {
        passes(&[("all.v", &format!("{more}{GATE}"))]);
        passes(&[("all.v", &format!("{GATE}{more}"))]);
        passes(&[("gate.v", GATE), ("more.v", more)]);
    }
    passes(&[("b.v", used), ("a.v", helper)]);
    passes(&[("a.v", helper), ("b.v", used), ("tb.v", bench), ("old.v", spare)]);
}

#[test]
fn units_of_vhdl_are_found_in_any_order_and_case() {
    let gate = "library ieee; use ieee.std_logic_1164.all;\nentity Belt_Gate is port (FULL, CLEAR : in std_logic; LAMP : out std_logic); end Belt_Gate;\n\
        architecture RTL of BELT_GATE is begin LAMP <= FULL and not CLEAR; end RTL;\n";
    let bench = "library ieee; use ieee.std_logic_1164.all;\nentity tb is end;\narchitecture t of tb is signal f, c, l : std_logic;\nbegin\n  \
        dut : entity work.belt_gate port map (f, c, l);\n  process begin f <= '0'; wait for 5 ns; wait; end process;\nend;\n";
    let spare = "library ieee; use ieee.std_logic_1164.all;\nentity other is port (a : in std_logic; b : out std_logic); end;\n\
        architecture x of other is begin b <= a; end;\n";
    let package = "package sizes is constant n : integer := 4; end package;\n";
    passes(&[("g.vhd", gate)]);
    passes(&[("tb.vhd", bench), ("g.vhd", gate)]);
    passes(&[("all.vhd", &format!("{spare}{gate}{bench}"))]);
    passes(&[("p.vhd", package), ("s.vhd", spare), ("g.vhd", gate)]);
    let mixed = "module bench_only; wire l; belt_gate dut(1'b1, 1'b0, l); endmodule\n";
    passes(&[("g.vhd", gate), ("tb.v", mixed)]);
}

#[test]
fn a_slip_in_a_port_is_told_at_the_design_that_was_meant() {
    let spare = "module old_try(input a, b, output y); assign y = a | b; endmodule\n";
    let slip = "module belt_gate(input ful, clear, output lamp); assign lamp = ful & ~clear; endmodule\n";
    let found = judged(&[("all.v", &format!("{spare}{slip}"))], None);
    let first = &found.findings[0];
    assert_eq!((first.code.as_str(), first.line), ("misspelt-port", Some(2)), "{}", found.headline());
    assert!(first.message.contains("`full`"), "{}", first.message);
}

#[test]
fn two_designs_that_would_both_do_are_not_chosen_between() {
    let other = "module second(input full, clear, output lamp); assign lamp = full; endmodule\n";
    let both = format!("{GATE}{other}");
    assert_eq!(codes(&[("both.v", &both)], None), ["no-clear-top"]);
    assert_eq!(codes(&[("both.v", &both)], Some("belt_gate")), [] as [&str; 0]);
    assert_eq!(judged(&[("both.v", &both)], Some("second")).rows.passed, 3);
    assert_eq!(codes(&[("both.v", &both)], Some("belt_gat")), ["unknown-top"]);
    assert_eq!(codes(&[("tb.v", "module tb; initial $display(1); endmodule\n")], None), ["no-top"]);
}

#[test]
fn the_same_unit_twice_is_told_with_both_places() {
    let found = judged(&[("a.v", GATE), ("b.v", GATE)], None);
    assert_eq!(found.verdict, VerdictKind::Fail);
    assert!(found.findings[0].message.contains("belt_gate"), "{}", found.headline());
}
