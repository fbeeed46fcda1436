//! The same function by two ways: through Verilog, elaboration, synthesis and the bit-parallel run, and by the
//! expression evaluator or the machine's own integers.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{Checked, HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use proptest::prelude::*;
use verdict::VerdictKind;

fn exercise(ports: &[(&str, &str, &str)], outputs: &[(&str, &str)]) -> Exercise {
    let mut text = String::from("format = \"zesty-gate/exercise/1\"\ntitle = \"Test\"\n");
    for (name, dir, range) in ports {
        text += &format!("[[port]]\nname = \"{name}\"\ndir = \"{dir}\"\n");
        if !range.is_empty() {
            text += &format!("range = \"{range}\"\n");
        }
    }
    text += "[behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\n";
    for (name, expr) in outputs {
        text += &format!("\"{name}\" = \"{expr}\"\n");
    }
    Exercise::alone(&text).unwrap()
}

fn run(exercise: &Exercise, source: &str) -> Checked {
    let files = vec![HandInFile { name: "m.v".into(), bytes: source.as_bytes().to_vec() }];
    check(exercise, &HandIn { files, ..HandIn::default() })
}

/// The value of output `f` on every row, unknown as `None`.
fn values(checked: &Checked) -> Vec<Option<u64>> {
    let table = checked.actual.as_ref().unwrap_or_else(|| panic!("{:#?}", checked.verdict.findings));
    (0..table.columns[0].ones.rows())
        .map(|row| {
            table.columns.iter().try_fold(0u64, |n, c| match c.level(row) {
                '0' => Some(n << 1),
                '1' => Some(n << 1 | 1),
                _ => None,
            })
        })
        .collect()
}

/// A random Boolean expression in an operator notation that Verilog and the exercise file share.
fn boolean() -> impl Strategy<Value = String> {
    let leaf = prop_oneof![Just("a"), Just("b"), Just("c"), Just("d")].prop_map(str::to_owned);
    leaf.prop_recursive(5, 40, 2, |inner| {
        prop_oneof![
            inner.clone().prop_map(|x| format!("~({x})")),
            (inner.clone(), prop_oneof![Just("&"), Just("|"), Just("^")], inner)
                .prop_map(|(x, op, y)| format!("({x} {op} {y})")),
        ]
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    #[test]
    fn random_equations_are_proved_against_the_expression_evaluator(text in boolean()) {
        let ports = [("a", "in", ""), ("b", "in", ""), ("c", "in", ""), ("d", "in", ""), ("f", "out", "")];
        let exercise = exercise(&ports, &[("f", &text)]);
        let good = run(&exercise, &format!("module m(input a, b, c, d, output f);\nassign f = {text};\nendmodule"));
        prop_assert_eq!(good.verdict.verdict, VerdictKind::Pass);
        let bad = run(&exercise, &format!("module m(input a, b, c, d, output f);\nassign f = ~({text});\nendmodule"));
        prop_assert_eq!(bad.verdict.verdict, VerdictKind::Fail);
        // The same as a block of ifs.
        let block = format!("module m(input a, b, c, d, output reg f);\nalways @* if ({text}) f = 1; else f = 0;\nendmodule");
        prop_assert_eq!(run(&exercise, &block).verdict.verdict, VerdictKind::Pass);
    }
}

/// Runs `f = EXPRESSION` over 3-bit `a` and `b` and compares all 64 rows with a function of machine integers.
fn arithmetic(declare: &str, expression: &str, width: u32, wanted: impl Fn(i64, i64) -> Option<u64>) {
    let range = format!("{}:0", width - 1);
    let exercise = exercise(&[("a", "in", "2:0"), ("b", "in", "2:0"), ("f", "out", &range)], &[("f", "a")]);
    let source =
        format!("module m(input {declare} [2:0] a, b, output [{range}] f);\nassign f = {expression};\nendmodule");
    let found = values(&run(&exercise, &source));
    for (row, found) in (0i64..).zip(found) {
        let (a, b) = (row >> 3, row & 7);
        let mask = (1u64 << width) - 1;
        assert_eq!(found, wanted(a, b).map(|v| v & mask), "{expression} at a={a} b={b}");
    }
}

fn signed(n: i64) -> i64 {
    if n > 3 { n - 8 } else { n }
}

#[test]
fn sizes_follow_the_context_as_the_standard_says() {
    // IEEE 1364-2005 5.4: the left side gives the sum its carry; a sum inside a shift has the context's size too.
    arithmetic("", "a + b", 4, |a, b| Some((a + b) as u64));
    arithmetic("", "a + b", 3, |a, b| Some((a + b) as u64));
    arithmetic("", "(a + b) >> 1", 3, |a, b| Some(((a + b) as u64 & 7) >> 1));
    arithmetic("", "(a + b + 0) >> 1", 3, |a, b| Some((a + b) as u64 >> 1));
    // 5.4.1, table 5-22: operands of a concatenation and of a comparison have sizes of their own.
    arithmetic("", "{a + b}", 4, |a, b| Some((a + b) as u64 & 7));
    arithmetic("", "(a + b) > 7", 1, |a, b| Some(u64::from(a + b > 7)));
    arithmetic("", "(a + b) > 3'd6", 1, |a, b| Some(u64::from((a + b) & 7 > 6)));
    arithmetic("", "{2{a}} ^ b", 6, |a, b| Some((a << 3 | a) as u64 ^ b as u64));
    arithmetic("", "a * b", 6, |a, b| Some((a * b) as u64));
    arithmetic("", "~a", 4, |a, _| Some(!(a as u64)));
    arithmetic("", "-a", 5, |a, _| Some((-a) as u64));
}

#[test]
fn signs_follow_the_operands_as_the_standard_says() {
    // IEEE 1364-2005 5.5.1: signed only when all operands are; one unsigned operand makes all unsigned.
    arithmetic("signed", "a < b", 1, |a, b| Some(u64::from(signed(a) < signed(b))));
    arithmetic("", "a < b", 1, |a, b| Some(u64::from(a < b)));
    arithmetic("signed", "a + b", 5, |a, b| Some((signed(a) + signed(b)) as u64));
    arithmetic("signed", "a + 3'd0 + b", 5, |a, b| Some((a + b) as u64));
    arithmetic("signed", "a >>> 1", 3, |a, _| Some((signed(a) >> 1) as u64));
    arithmetic("signed", "a >> 1", 3, |a, _| Some((a >> 1) as u64));
    arithmetic("", "$signed(a) >>> b", 3, |a, b| Some((signed(a) >> b) as u64));
    arithmetic("signed", "a * b", 6, |a, b| Some((signed(a) * signed(b)) as u64));
}

#[test]
fn division_truncates_towards_zero_and_by_zero_is_unknown() {
    // IEEE 1364-2005 5.1.5: the quotient truncates, the remainder takes the first operand's sign, /0 is x.
    let over = |b: i64, v: i64| (b != 0).then_some(v as u64);
    arithmetic("", "a / b", 3, |a, b| over(b, a.checked_div(b).unwrap_or(0)));
    arithmetic("", "a % b", 3, |a, b| over(b, a.checked_rem(b).unwrap_or(0)));
    arithmetic("signed", "a / b", 3, |a, b| over(b, signed(a).checked_div(signed(b)).unwrap_or(0)));
    arithmetic("signed", "a % b", 3, |a, b| over(b, signed(a).checked_rem(signed(b)).unwrap_or(0)));
}

#[test]
fn unknown_levels_reach_an_output_only_where_they_matter() {
    // IEEE 1364-2005 5.1.10, 5.1.13: x & 0 = 0, x | 1 = 1; a choice by x keeps what both sides agree on.
    arithmetic("", "{1'bx & a[0], 1'bx | a[0]}", 2, |_, _| None);
    arithmetic("", "1'bx & a[0]", 1, |a, _| (a & 1 == 0).then_some(0));
    arithmetic("", "1'bx | a[0]", 1, |a, _| (a & 1 == 1).then_some(1));
    arithmetic("", "1'bx ? a : b", 3, |a, b| (a == b).then_some(a as u64));
    arithmetic("", "a === 3'b1x0", 1, |_, _| Some(0));
    arithmetic("", "a[b]", 1, |a, b| (b < 3).then_some((a >> b & 1) as u64));
}

#[test]
fn precedence_is_that_of_table_5_4() {
    arithmetic("", "a & b == 3", 1, |a, b| Some(a as u64 & u64::from(b == 3)));
    arithmetic("", "a | b & 3'd6 ^ a", 3, |a, b| Some((a | (b & 6) ^ a) as u64));
    arithmetic("", "a + b << 1", 5, |a, b| Some(((a + b) << 1) as u64));
    arithmetic("", "a ? b ? 1 : 2 : 3", 2, |a, b| Some(if a != 0 { if b != 0 { 1 } else { 2 } } else { 3 }));
    arithmetic("", "!a && b || &a", 1, |a, b| Some(u64::from(a == 0 && b != 0 || a == 7)));
}

#[test]
fn adders_of_different_build_are_equal() {
    let ports = [("x", "in", "3:0"), ("y", "in", "3:0"), ("sum", "out", "4:0")];
    let exercise = exercise(&ports, &[("sum", "x + y")]);
    let ripple = "module fa(input a, b, c, output s, o); assign s = a ^ b ^ c; assign o = a & b | c & (a ^ b); endmodule
        module m(input [3:0] x, y, output [4:0] sum); wire [4:0] c; assign c[0] = 0; assign sum[4] = c[4];
        genvar i; generate for (i = 0; i < 4; i = i + 1) begin : g fa f(x[i], y[i], c[i], sum[i], c[i+1]); end endgenerate endmodule";
    let lookahead = "module m(input [3:0] x, y, output [4:0] sum); wire [3:0] g = x & y, p = x ^ y; wire [4:0] c;
        assign c[0] = 0, c[1] = g[0], c[2] = g[1] | p[1] & g[0], c[3] = g[2] | p[2] & g[1] | p[2] & p[1] & g[0],
        c[4] = g[3] | p[3] & g[2] | p[3] & p[2] & g[1] | p[3] & p[2] & p[1] & g[0];
        assign sum = {c[4], p ^ c[3:0]}; endmodule";
    for source in [ripple, lookahead] {
        let checked = run(&exercise, source);
        assert_eq!(checked.verdict.verdict, VerdictKind::Pass, "{:#?}", checked.verdict.findings);
        assert_eq!(checked.verdict.proof.rows, Some(256));
    }
}

#[test]
fn the_c17_benchmark_circuit_has_its_published_function() {
    // ISCAS-85 c17 (Brglez and Fujiwara, 1985), six NAND gates; netlist from memory.
    let ports = [
        ("n1", "in", ""),
        ("n2", "in", ""),
        ("n3", "in", ""),
        ("n6", "in", ""),
        ("n7", "in", ""),
        ("n22", "out", ""),
        ("n23", "out", ""),
    ];
    let outputs = [("n22", "n1 & n3 | n2 & ~(n3 & n6)"), ("n23", "n2 & ~(n3 & n6) | n7 & ~(n3 & n6)")];
    let source =
        "module c17(n1, n2, n3, n6, n7, n22, n23); input n1, n2, n3, n6, n7; output n22, n23; wire n10, n11, n16, n19;
        nand (n10, n1, n3); nand (n11, n3, n6); nand (n16, n2, n11); nand (n19, n11, n7);
        nand (n22, n10, n16); nand (n23, n16, n19); endmodule";
    assert_eq!(run(&exercise(&ports, &outputs), source).verdict.verdict, VerdictKind::Pass);
}

#[test]
fn a_dont_care_row_never_fails_whatever_the_design_does_there() {
    let text = "format = \"zesty-gate/exercise/1\"\ntitle = \"T\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n[[port]]\nname = \"f\"\ndir = \"out\"\n\
        [behaviour]\nkind = \"minterms\"\n[behaviour.outputs]\nf = [0]\n[behaviour.dont_care]\nf = [1]\n";
    let exercise = Exercise::alone(text).unwrap();
    for body in ["1", "~a", "a ? 1'bx : 1'b1", "a ? 1'bz : 1'b1"] {
        let checked = run(&exercise, &format!("module m(input a, output f); assign f = {body}; endmodule"));
        assert_eq!(checked.verdict.verdict, VerdictKind::Pass, "{body}");
    }
}

#[test]
fn tristate_drivers_that_take_turns_are_one_signal_and_fighting_ones_are_told() {
    let ports = [("a", "in", ""), ("b", "in", ""), ("s", "in", ""), ("f", "out", "")];
    let exercise = exercise(&ports, &[("f", "s ? a : b")]);
    let module = |body: &str| format!("module m(input a, b, s, output f); {body} endmodule");
    let turns = run(&exercise, &module("assign f = s ? a : 1'bz; bufif0 u(f, b, s);"));
    assert_eq!(turns.verdict.verdict, VerdictKind::Pass, "{:#?}", turns.verdict.findings);
    let fight = run(&exercise, &module("assign f = s & a; assign f = ~s & b;"));
    assert_eq!(fight.verdict.findings[0].code, "several-drivers");
    assert_ne!(fight.verdict.verdict, VerdictKind::Pass);
}

#[test]
fn powers_are_those_of_table_5_6() {
    // IEEE 1364-2005 5.1.5, table 5-6: what a negative, a zero and a positive exponent give for each kind of base.
    let power = |a: i64, b: i64| match (a, b) {
        (0, b) if b < 0 => None,
        (1, b) if b < 0 => Some(1),
        (-1, b) if b < 0 => Some(if b % 2 == 0 { 1 } else { -1i64 as u64 }),
        (_, b) if b < 0 => Some(0),
        _ => Some(a.wrapping_pow(b as u32) as u64),
    };
    arithmetic("", "a ** b", 12, power);
    arithmetic("", "2 ** a", 7, |a, _| power(2, a));
    arithmetic("signed", "a ** b", 12, |a, b| power(signed(a), signed(b)));
    // The exponent keeps its own sign, the base its own; table 5-22: it gives no width to the result.
    arithmetic("", "a ** $signed(b)", 12, |a, b| power(a, signed(b)));
    arithmetic("", "$signed(a) ** b", 12, |a, b| power(signed(a), b));
    arithmetic("", "{a ** b}", 3, power);
}

#[test]
fn only_bits_that_carry_something_are_said_to_be_lost() {
    let ports = [("a", "in", ""), ("f", "out", "1:0")];
    let exercise = exercise(&ports, &[("f[1]", "a"), ("f[0]", "a")]);
    let notes = |value: &str| {
        let source =
            format!("module m(input a, output reg [1:0] f); always @* if (a) f = {value}; else f = 0; endmodule");
        let checked = run(&exercise, &source);
        checked.verdict.findings.iter().filter(|f| f.code == "dropped-bits").count()
    };
    for fits in ["3", "-1", "1", "2'b11", "2"] {
        assert_eq!(notes(fits), 0, "{fits}");
    }
    for lost in ["4", "7", "3'b111", "-3"] {
        assert_eq!(notes(lost), 1, "{lost}");
    }
}

#[test]
fn bits_of_wide_vectors_are_not_counted_without_end() {
    let exercise = exercise(&[("a", "in", ""), ("f", "out", "")], &[("f", "a")]);
    let counts = "f = $countones(w) > 0;\n".repeat(2_000);
    let source = format!(
        "module m(input a, output reg f);\nwire [65535:0] w = {{65536{{a}}}};\nalways @* begin\n{counts}end\nendmodule"
    );
    let checked = run(&exercise, &source);
    assert!(checked.verdict.findings.iter().any(|f| f.severity == "stop"), "{:?}", checked.verdict.verdict);
}
