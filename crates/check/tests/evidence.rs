//! What is shown beside a finding: the row, the lines that decide its levels, the product that covers it.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use derive::cover_terms;
use elab::HandInFile;
use exercise::Exercise;
use logic::Notation;
use verdict::Verdict;

fn exercise() -> Exercise {
    let mut text = String::from("format = \"zesty-gate/exercise/1\"\ntitle = \"Pulp valve\"\n");
    for (name, dir) in [("a", "in"), ("b", "in"), ("c", "in"), ("y", "out"), ("z", "out")] {
        text += &format!("[[port]]\nname = \"{name}\"\ndir = \"{dir}\"\n");
    }
    text += "[behaviour]\nkind = \"minterms\"\n[behaviour.outputs]\ny = [3, 6, 7]\nz = [1]\n[behaviour.dont_care]\nz = [5]\n";
    Exercise::alone(&text).unwrap()
}

fn judged(name: &str, text: &str) -> Verdict {
    let files = vec![HandInFile { name: name.into(), bytes: text.into() }];
    check(&exercise(), &HandIn { files, ..HandIn::default() }).verdict
}

/// The row of the first wrong finding and the lines that decide it.
fn way(name: &str, text: &str) -> (String, Vec<u32>) {
    let found = judged(name, text);
    let evidence = found.findings.iter().find_map(|f| f.evidence.clone()).unwrap();
    assert!(evidence.path.iter().all(|p| p.file == name));
    (evidence.row.unwrap(), evidence.path.iter().map(|p| p.line).collect())
}

#[test]
fn a_0_comes_from_one_side_of_an_and_and_a_1_from_both() {
    // y = a b + b c: with an AND too many, row 011 is 0 because of line 4 (a is 0), whatever line 5 does.
    let wrong = "module v(input a, b, c, output y, z);\n  wire p, q, n;\n  assign n = ~c;\n  assign p = a & b;\n  \
                 assign q = b & c;\n  assign y = p & q;\n  assign z = ~a & ~b & ~n;\nendmodule\n";
    assert_eq!(way("v.v", wrong), ("011".into(), vec![4, 6]));
    // With an OR too many for z: row 000 is 1 through line 5 alone.
    let wrong = "module v(input a, b, c, output y, z);\n  wire p, q;\n  assign p = a & b;\n  assign q = b & c;\n  \
                 assign z = ~a & ~b | c & ~a;\n  assign y = p | q;\nendmodule\n";
    assert_eq!(way("v.v", wrong), ("000".into(), vec![5]));
}

#[test]
fn the_way_leads_through_branches_and_instances() {
    let vhdl = "library ieee;\nuse ieee.std_logic_1164.all;\nentity v is\n  port (a, b, c : in std_logic; y, z : out std_logic);\nend;\n\
        architecture x of v is\nbegin\n  process (all)\n  begin\n    y <= '0';\n    if b = '1' then\n      if c = '1' then\n        y <= '1';\n\
             elsif a = '0' then\n        y <= '1';\n      end if;\n    end if;\n  end process;\n  z <= not a and not b and c;\nend;\n";
    let (row, lines) = way("v.vhd", vhdl);
    assert_eq!(row, "010", "b alone");
    assert!(lines.iter().all(|l| (10..=17).contains(l)) && !lines.is_empty(), "{lines:?}");
}

#[test]
fn a_design_that_is_right_has_no_evidence() {
    let right = "module v(input a, b, c, output y, z); assign y = a & b | b & c, z = ~a & ~b & c; endmodule";
    assert!(judged("v.v", right).findings.iter().all(|f| f.evidence.is_none()));
}

#[test]
fn each_row_of_an_output_is_covered_by_products_of_a_smallest_cover() {
    let terms = cover_terms(&exercise(), Notation::Operators);
    let of = |output: &str| -> Vec<(&str, &str)> {
        terms.iter().filter(|t| t.output == output).map(|t| (t.cube.as_str(), t.text.as_str())).collect()
    };
    let mut y = of("y");
    y.sort_unstable();
    assert_eq!(y, [("-11", "b & c"), ("11-", "a & b")]);
    // The don't-care row 101 makes the product smaller.
    assert_eq!(of("z"), [("-01", "~b & c")]);
}

#[test]
fn what_is_simulated_otherwise_than_built_is_no_fault_of_the_checker() {
    // An incomplete list of sensitivities is simulated otherwise than it is built: that is told, and judged as built.
    let forgotten = "module v(input a, b, c, output reg y, output z);\n always @(a) y = a & b | b & c;\n \
                     assign z = ~a & ~b & ~c;\nendmodule\n";
    let found = judged("v.v", forgotten);
    assert_eq!(found.verdict, verdict::VerdictKind::Partly, "{:#?}", found.findings);
    assert!(found.findings.iter().all(|f| f.code != "engines-disagree"));
}

#[test]
fn a_loop_is_unknown_only_where_it_keeps_itself() {
    // The loop reaches z on row 001 only; elsewhere it is masked: IEEE 1364-2005 5.1.10, `x & 0` is 0, `x | 1` is 1.
    let design = "module v(input a, b, c, output y, z); wire t; assign t = ~t & c;
        assign y = (a & b) | (b & c) | (t & 1'b0), z = ~a & ~b & c & ~t | (~a & ~b & c & t); endmodule";
    let found = judged("v.v", design);
    assert_eq!((found.rows.passed, found.rows.total), (7, 8), "unknown on row 001 alone");
    assert!(found.findings.iter().any(|f| f.code == "combinational-loop"));
    let chain = "module v(input a, b, c, output y, z); wire p, q, r; assign p = q & a, q = r & b, r = p | c;
        assign y = q & (a | c) | b & c, z = ~a & ~b & c; endmodule";
    // With c = 1, r is 1 and q is b: the loop p-q-r is open on three rows of four, and known there.
    assert!(judged("v.v", chain).rows.passed >= 5);
}

#[test]
fn rows_to_try_show_the_usual_mistakes_of_the_exercise_too() {
    let right = "module v(input a, b, c, output y, z); assign y = a & b | b & c, z = ~a & ~b & c; endmodule";
    let files = vec![HandInFile { name: "v.v".into(), bytes: right.into() }];
    let found = check(&exercise(), &HandIn { files, wants_rows: true, ..HandIn::default() }).rows_to_try.unwrap();
    // y = a b + b c and z = b' c: three products; of their six literals each shows on some row when it is forgotten.
    assert_eq!(found.mistakes, 9, "{}", found.sentence());
    assert!(found.sentence().contains("and 9 usual mistakes"), "{}", found.sentence());
    let shows = |rows: &[&str]| rows.iter().any(|r| found.rows.iter().any(|f| f == r));
    // Without the product a b row 110 is wrong, without b c row 011; without z's product row 001.
    assert!(shows(&["110"]) && shows(&["011"]) && shows(&["001"]), "{:?}", found.rows);
}
