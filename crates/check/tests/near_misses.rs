//! Near misses of combinational hand-ins: a slip of a student is told as that slip, with its line, and the change that
//! is offered makes the design right.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{NearMiss, Verdict, VerdictKind};

const GATE: &str = r#"
format = "zesty-gate/exercise/1"
title = "Packhouse door"
[[port]]
name = "a"
dir = "in"
[[port]]
name = "b"
dir = "in"
[[port]]
name = "c"
dir = "in"
[[port]]
name = "d"
dir = "in"
[[port]]
name = "f"
dir = "out"
[[port]]
name = "g"
dir = "out"
[behaviour]
kind = "expressions"
[behaviour.outputs]
f = "a & b | ~c & d"
g = "a ^ c"
"#;

/// A digit of a crate counter: segments a to g, lit at 1, of the digits 0 to 9; the exercise shows nothing beyond.
const DIGIT: &str = r#"
format = "zesty-gate/exercise/1"
title = "Crate digit"
[[port]]
name = "n"
dir = "in"
range = "3:0"
[[port]]
name = "seg"
dir = "out"
range = "6:0"
[behaviour]
kind = "table"
rows = """
0000 | 1111110
0001 | 0110000
0010 | 1101101
0011 | 1111001
0100 | 0110011
0101 | 1011011
0110 | 1011111
0111 | 1110000
1000 | 1111111
1001 | 1111011
"""
"#;

fn judged(exercise: &str, name: &str, text: &str) -> Verdict {
    let exercise = Exercise::load(exercise, &|path| Err(format!("no {path}").into())).unwrap();
    let files = vec![HandInFile { name: name.into(), bytes: text.into() }];
    check(&exercise, &HandIn { files, ..HandIn::default() }).verdict
}

fn first(verdict: &Verdict) -> &NearMiss {
    assert_ne!(verdict.verdict, VerdictKind::Pass);
    verdict.near_misses.first().unwrap_or_else(|| panic!("no near miss: {}", verdict.headline()))
}

fn door(f: &str, g: &str) -> String {
    format!("module door(input a, b, c, d, output f, output g);\n  assign f = {f};\n  assign g = {g};\nendmodule\n")
}

/// The change that is offered, made in the text, passes.
fn change_passes(exercise: &str, name: &str, text: &str, near: &NearMiss) {
    let (before, after) = (near.before.as_deref().unwrap(), near.after.as_deref().unwrap());
    assert_ne!(before, after);
    let changed = text.replacen(before, after, 1);
    assert_eq!(judged(exercise, name, &changed).verdict, VerdictKind::Pass, "{changed}");
}

#[test]
fn a_slip_in_an_expression_is_told_with_its_line_and_its_repair() {
    let slips = [
        ("a & b | c & d", "a ^ c", 2, "`c` where `~c`", "single_repair"),
        ("a & b | ~c | d", "a ^ c", 2, "`|` where `&`", "single_repair"),
        ("a & b & ~c & d", "a ^ c", 2, "`&` where `|`", "single_repair"),
        ("a & b | ~c & d", "a | c", 3, "`|` where `^`", "single_repair"),
        ("~a & b | ~c & d", "a ^ c", 2, "`~a` where `a`", "single_repair"),
        ("a & b | ~c & d", "b ^ c", 3, "`b` where `a`", "single_repair"),
        ("a & b | ~c & d | b & c", "a ^ c", 2, "the term `b & c` is too much", "extra_term"),
        ("a & b | ~c & d & b", "a ^ c", 2, "the factor `b` is too much", "single_repair"),
    ];
    for (f, g, line, says, kind) in slips {
        let text = door(f, g);
        let verdict = judged(GATE, "door.v", &text);
        let near = first(&verdict);
        assert_eq!((near.kind.as_str(), near.line), (kind, Some(line)), "{f}: {}", near.message);
        assert!(near.message.contains(says), "{f}: {}", near.message);
        change_passes(GATE, "door.v", &text, near);
    }
}

#[test]
fn a_product_term_that_is_missing_is_named() {
    let verdict = judged(GATE, "door.v", &door("a & b", "a ^ c"));
    let near = first(&verdict);
    assert_eq!((near.kind.as_str(), near.message.as_str()), ("missing_term", "`f` lacks the product term `~c & d`."));
    let vhdl = "library ieee; use ieee.std_logic_1164.all;\nentity door is port (a, b, c, d : in std_logic; f, g : out std_logic); end;\n\
        architecture x of door is begin\n  f <= not c and d;\n  g <= a xor c;\nend;\n";
    assert_eq!(first(&judged(GATE, "door.vhd", vhdl)).message, "`f` lacks the product term `a and b`.");
}

#[test]
fn outputs_and_inputs_that_are_joined_wrong_are_told_as_that() {
    let right = ("a & b | ~c & d", "a ^ c");
    let cases = [
        (door("~(a & b | ~c & d)", right.1), "output_inverted", "The output `f` is inverted."),
        (door("~(a & b | ~c & d)", "~(a ^ c)"), "output_inverted", "All outputs are inverted."),
        (door(right.1, right.0), "outputs_swapped", "The outputs `f` and `g` are swapped."),
        (door("b & a | ~d & c", "b ^ d"), "inputs_swapped", "It takes the inputs in another order"),
        (door("d & b | ~c & a", "d ^ c"), "inputs_swapped", "`a` and `d` are swapped."),
        (door("~a & ~b | c & ~d", "a ^ c"), "input_inverted", "It takes all inputs the other way round."),
        (door("a & b | c & d", "~(a ^ c)"), "input_inverted", "It takes `c` the other way round."),
    ];
    for (text, kind, says) in cases {
        let verdict = judged(GATE, "door.v", &text);
        let near = verdict.near_misses.iter().find(|n| n.kind == kind);
        assert!(near.is_some_and(|n| n.message.starts_with(says)), "{text}: {:?}", verdict.near_misses);
    }
}

fn digit(order: &str, lit: char, short: bool) -> String {
    let table =
        ["1111110", "0110000", "1101101", "1111001", "0110011", "1011011", "1011111", "1110000", "1111111", "1111011"];
    let mut text = String::from("module digit(input [3:0] n, output reg [6:0] seg);\n  always @*\n    case (n)\n");
    for (n, row) in table.iter().enumerate().take(if short { 8 } else { 10 }) {
        let mut bits: String = row.chars().map(|c| if (c == '1') == (lit == '1') { '1' } else { '0' }).collect();
        if order == "reversed" {
            bits = bits.chars().rev().collect();
        }
        text += &format!("      4'd{n}: seg = 7'b{bits};\n");
    }
    text + "      default: seg = 7'b0;\n    endcase\nendmodule\n"
}

#[test]
fn a_display_driven_for_the_other_polarity_or_from_the_other_end_is_told() {
    assert_eq!(judged(DIGIT, "digit.v", &digit("straight", '1', false)).verdict, VerdictKind::Pass);
    let near = judged(DIGIT, "digit.v", &digit("straight", '0', false));
    assert_eq!(
        (first(&near).kind.as_str(), first(&near).message.as_str()),
        ("output_inverted", "The output `seg` is inverted.")
    );
    let near = judged(DIGIT, "digit.v", &digit("reversed", '1', false));
    assert_eq!(
        (first(&near).kind.as_str(), first(&near).message.as_str()),
        ("vector_reversed", "The bits of `seg` are in the other order.")
    );
    let near = judged(DIGIT, "digit.v", &digit("straight", '1', true));
    assert_eq!(first(&near).kind, "range_cut_short");
    assert!(first(&near).message.starts_with("It is right up to row 7 "));
}

#[test]
fn one_wrong_segment_of_one_digit_is_told_with_its_line() {
    let text = digit("straight", '1', false).replace("4'd6: seg = 7'b1011111", "4'd6: seg = 7'b0011111");
    let verdict = judged(DIGIT, "digit.v", &text);
    let near = first(&verdict);
    assert_eq!((near.kind.as_str(), near.line), ("single_repair", Some(10)));
    assert!(near.message.contains("`7'b0011111` where `7'b1011111`"), "{}", near.message);
    change_passes(DIGIT, "digit.v", &text, near);
}

#[test]
fn a_slip_in_vhdl_is_told_in_the_words_of_vhdl() {
    let text = |body: &str| {
        format!(
            "library ieee;\nuse ieee.std_logic_1164.all;\nentity door is\n  port (a, b, c, d : in std_logic; f, g : out std_logic);\nend;\n\
             architecture x of door is\nbegin\n  process (all)\n  begin\n{body}\n    g <= a xor c;\n  end process;\nend;\n"
        )
    };
    let cases = [
        ("    f <= (a and b) or (not c or d);", 10, "`or` where `and`"),
        ("    f <= (a and b) or (c and d);", 10, "`c` where `not c`"),
        (
            "    if a = '1' and b = '1' then\n      f <= '0';\n    else\n      f <= not c and d;\n    end if;",
            11,
            "`'0'` where `'1'`",
        ),
        (
            "    if a = '1' and b = '0' then\n      f <= '1';\n    else\n      f <= not c and d;\n    end if;",
            10,
            "`'0'` where `'1'`",
        ),
    ];
    for (body, line, says) in cases {
        let text = text(body);
        let verdict = judged(GATE, "door.vhd", &text);
        let near = first(&verdict);
        assert!(near.line == Some(line) && near.message.contains(says), "{body}: {} {:?}", near.message, near.line);
        change_passes(GATE, "door.vhd", &text, near);
    }
}

#[test]
fn a_slip_in_a_unit_that_is_used_often_is_found_in_the_unit() {
    let exercise = r#"
format = "zesty-gate/exercise/1"
title = "Sum of two crates"
[[port]]
name = "x"
dir = "in"
range = "3:0"
[[port]]
name = "y"
dir = "in"
range = "3:0"
[[port]]
name = "sum"
dir = "out"
range = "4:0"
[behaviour]
kind = "expressions"
[behaviour.outputs]
sum = "x + y"
"#;
    let text = "module full(input a, b, c, output s, co);\n  assign s = a ^ b ^ c;\n  assign co = a & b | a & c | b & s;\nendmodule\n\
        module sum4(input [3:0] x, y, output [4:0] sum);\n  wire [4:0] c;\n  assign c[0] = 1'b0;\n  genvar i;\n  generate\n    \
        for (i = 0; i < 4; i = i + 1) begin : stage\n      full f(x[i], y[i], c[i], sum[i], c[i+1]);\n    end\n  endgenerate\n  assign sum[4] = c[4];\nendmodule\n";
    let verdict = judged(exercise, "sum4.v", text);
    let near = first(&verdict);
    assert_eq!((near.kind.as_str(), near.line), ("single_repair", Some(3)), "{}", near.message);
    change_passes(exercise, "sum4.v", text, near);
    let lost = "module sum4(input [3:0] x, y, output [4:0] sum);\n  assign sum = {1'b0, x - y};\nendmodule\n";
    assert_ne!(judged(exercise, "sum4.v", lost).verdict, VerdictKind::Pass);
}

#[test]
fn a_student_reads_that_there_is_a_repair_but_not_which() {
    let verdict = judged(GATE, "door.v", &door("a & b | c & d", "a ^ c"));
    let mut near = first(&verdict).clone();
    near.hide_repair();
    assert_eq!(near.message, "One change in line 2 would make all 16 rows right.");
    assert_eq!((near.repair.as_str(), near.before, near.after), ("", None, None));
}

#[test]
fn a_design_that_is_wrong_all_over_gets_no_near_miss() {
    let verdict = judged(GATE, "door.v", &door("a ^ b ^ c ^ d", "b & d | a"));
    assert_eq!(verdict.near_misses, Vec::new());
}

/// IEEE 1364-2005 5.5.2: the narrower side is filled up with zeros, so it never reaches a number of more bits. A change
/// that writes one is no repair, though it would take the second block away.
#[test]
fn a_number_beyond_a_register_is_told_and_never_offered() {
    const COUNTER: &str = r#"
format = "zesty-gate/exercise/1"
title = "Crate counter"
[[port]]
name = "clk"
dir = "in"
[[port]]
name = "q"
dir = "out"
range = "3:0"
[clock]
port = "clk"
[behaviour]
kind = "reference"
files = ["ref.v"]
"#;
    let reference =
        "module r(input clk, output reg [3:0] q = 0); always @(posedge clk) q <= q == 9 ? 0 : q + 1; endmodule";
    let exercise = Exercise::load(COUNTER, &|_| Ok(reference.as_bytes().to_vec())).unwrap();
    let check = |text: &str| {
        let files = vec![HandInFile { name: "m.v".into(), bytes: text.as_bytes().to_vec() }];
        check(&exercise, &HandIn { files, ..HandIn::default() }).verdict
    };
    let twice = "module m(input clk, output reg [3:0] q = 0);\nalways @(posedge clk) if (q == 9) q <= 0; else q <= q + 1;\n\
        always @(posedge clk) if (q == 9) q <= 0;\nendmodule\n";
    let told = check(twice);
    assert_ne!(told.verdict, VerdictKind::Pass);
    assert!(!told.near_misses.iter().any(|n| n.message.contains("`18`")), "{:?}", told.near_misses);
    let beyond = check(&twice.replace("if (q == 9) q <= 0;\nendmodule", "if (q == 18) q <= 0;\nendmodule"));
    let note = beyond.findings.iter().find(|f| f.code == "never-equal").unwrap();
    assert_eq!((note.line, note.message.contains("4 bits") && note.message.contains("18")), (Some(3), true));
}

/// The finding names what is read as well as assigned, not what is assigned first.
#[test]
fn a_late_assignment_names_the_signal_that_the_block_reads() {
    let text = "module m(input a, b, c, d, output reg f, output g);\nreg t;\nassign g = a ^ c;\nalways @(a, b, c, d, t) begin\n\
        f <= t | ~c & d;\nt <= a & b;\nend\nendmodule\n";
    let exercise = Exercise::alone(GATE).unwrap();
    let files = vec![HandInFile { name: "m.v".into(), bytes: text.as_bytes().to_vec() }];
    let verdict = check(&exercise, &HandIn { files, ..HandIn::default() }).verdict;
    let told = verdict.findings.iter().find(|f| f.code == "nonblocking-in-combinational").unwrap();
    assert_eq!((told.line, told.message.starts_with("`t`")), (Some(6), true), "{}", told.message);
}
