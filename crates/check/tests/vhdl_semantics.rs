//! What VHDL operators compute, by the rules of the standards: every row of two 3-bit operands against machine integers.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{Checked, HandIn, check};
use elab::HandInFile;
use exercise::Exercise;

const STD: &str = "use ieee.numeric_std.all;";

fn exercise(width: u32) -> Exercise {
    let text = format!(
        "format = \"zesty-gate/exercise/1\"\ntitle = \"Test\"\n\
         [[port]]\nname = \"a\"\ndir = \"in\"\nrange = \"2:0\"\n\
         [[port]]\nname = \"b\"\ndir = \"in\"\nrange = \"2:0\"\n\
         [[port]]\nname = \"f\"\ndir = \"out\"\nrange = \"{}:0\"\n\
         [behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\nf = \"a\"\n",
        width - 1
    );
    Exercise::alone(&text).unwrap()
}

fn run(width: u32, package: &str, declarations: &str, body: &str) -> Checked {
    let text = format!(
        "library ieee;\nuse ieee.std_logic_1164.all;\n{package}\nentity m is port (a, b : in std_logic_vector(2 downto 0);\n\
         f : out std_logic_vector({} downto 0));\nend m;\narchitecture r of m is\n{declarations}\nbegin\n{body}\nend r;\n",
        width - 1
    );
    let files = vec![HandInFile { name: "m.vhd".into(), bytes: text.into_bytes() }];
    check(&exercise(width), &HandIn { files, ..HandIn::default() })
}

/// The value of `f` on every row of `body`, unknown as `None`, against `wanted`.
fn body(width: u32, package: &str, declarations: &str, body: &str, wanted: impl Fn(i64, i64) -> Option<u64>) {
    let checked = run(width, package, declarations, body);
    let table = checked.actual.as_ref().unwrap_or_else(|| panic!("{body}: {:#?}", checked.verdict.findings));
    let mask = (1u64 << width) - 1;
    for row in 0..64u32 {
        let found = table.columns.iter().try_fold(0u64, |n, c| match c.level(u64::from(row)) {
            '0' => Some(n << 1),
            '1' => Some(n << 1 | 1),
            _ => None,
        });
        let (a, b) = (i64::from(row >> 3), i64::from(row & 7));
        assert_eq!(found, wanted(a, b).map(|v| v & mask), "{body} at a={a} b={b}");
    }
}

/// `f <= std_logic_vector(expression);` with `a` and `b` as `x` and `y` of the type `kind`.
fn typed(kind: &str, expression: &str, width: u32, wanted: impl Fn(i64, i64) -> Option<u64>) {
    let declarations = format!("signal x, y : {kind}(2 downto 0);");
    let text = format!("x <= {kind}(a); y <= {kind}(b);\nf <= std_logic_vector({expression});");
    body(width, STD, &declarations, &text, wanted);
}

/// `f` is 1 where the condition holds.
fn condition(kind: &str, expression: &str, wanted: impl Fn(i64, i64) -> bool) {
    let declarations = format!("signal x, y : {kind}(2 downto 0);");
    let text = format!("x <= {kind}(a); y <= {kind}(b);\nf <= \"1\" when {expression} else \"0\";");
    body(1, STD, &declarations, &text, |a, b| Some(u64::from(wanted(a, b))));
}

fn signed(n: i64) -> i64 {
    if n > 3 { n - 8 } else { n }
}

#[test]
fn sums_of_numeric_std_are_as_long_as_the_longer_operand() {
    // IEEE 1076.3-1997, A.3 to A.4: the result is as long as the longer operand and wraps; "*" adds the lengths.
    typed("unsigned", "x + y", 3, |a, b| Some((a + b) as u64));
    typed("unsigned", "x - y", 3, |a, b| Some((a - b) as u64));
    typed("unsigned", "('0' & x) + y", 4, |a, b| Some((a + b) as u64));
    typed("unsigned", "resize(x, 4) + resize(y, 4)", 4, |a, b| Some((a + b) as u64));
    typed("unsigned", "x + 1", 3, |a, _| Some((a + 1) as u64));
    typed("unsigned", "x * y", 6, |a, b| Some((a * b) as u64));
    typed("signed", "x * y", 6, |a, b| Some((signed(a) * signed(b)) as u64));
    typed("signed", "-x", 3, |a, _| Some((-a) as u64));
    typed("signed", "abs x", 3, |a, _| Some(signed(a).unsigned_abs()));
    typed("signed", "resize(x, 5) + y", 5, |a, b| Some((signed(a) + signed(b)) as u64));
    typed("signed", "resize(x, 5)", 5, |a, _| Some(signed(a) as u64));
    // A.8: cutting a signed number keeps its sign bit, cutting an unsigned one the low bits.
    typed("signed", "resize(x, 2)", 2, |a, _| Some((a as u64 >> 2 & 1) << 1 | a as u64 & 1));
    typed("unsigned", "resize(x, 2)", 2, |a, _| Some(a as u64));
}

#[test]
fn quotients_truncate_and_rem_and_mod_differ_in_sign() {
    // IEEE 1076-2008, 9.2.7: A rem B has the sign of A, A mod B that of B.
    let over = |b: i64, v: i64| (b != 0).then_some(v as u64);
    typed("unsigned", "x / y", 3, |a, b| over(b, a.checked_div(b).unwrap_or(0)));
    typed("unsigned", "x mod y", 3, |a, b| over(b, a.checked_rem(b).unwrap_or(0)));
    typed("unsigned", "x mod 4", 3, |a, _| Some(a as u64 & 3));
    typed("signed", "x / y", 3, |a, b| over(b, signed(a).checked_div(signed(b)).unwrap_or(0)));
    typed("signed", "x rem y", 3, |a, b| over(b, signed(a).checked_rem(signed(b)).unwrap_or(0)));
    typed("signed", "x mod y", 3, |a, b| {
        let (a, b) = (signed(a), signed(b));
        over(b, a.checked_rem(b).map_or(0, |r| if r != 0 && (r < 0) != (b < 0) { r + b } else { r }))
    });
}

#[test]
fn shifts_fill_as_their_type_says() {
    // IEEE 1076.3-1997, A.9: shift_right of a signed repeats the sign; rotations keep every bit.
    typed("unsigned", "shift_left(x, 1)", 3, |a, _| Some((a << 1) as u64));
    typed("unsigned", "shift_right(x, 1)", 3, |a, _| Some((a >> 1) as u64));
    typed("signed", "shift_right(x, 1)", 3, |a, _| Some((signed(a) >> 1) as u64));
    typed("unsigned", "shift_right(x, to_integer(y))", 3, |a, b| Some((a >> b) as u64));
    typed("unsigned", "rotate_left(x, 1)", 3, |a, _| Some((a << 1 | a >> 2) as u64));
    typed("unsigned", "x sll 2", 3, |a, _| Some((a << 2) as u64));
    typed("unsigned", "x ror 1", 3, |a, _| Some((a >> 1 | a << 2) as u64));
}

#[test]
fn comparisons_follow_the_type_of_their_operands() {
    condition("unsigned", "x < y", |a, b| a < b);
    condition("signed", "x < y", |a, b| signed(a) < signed(b));
    condition("unsigned", "x >= 5", |a, _| a >= 5);
    condition("signed", "x = -1", |a, _| signed(a) == -1);
    condition("signed", "x > -2 and y /= 0", |a, b| signed(a) > -2 && b != 0);
    condition("unsigned", "not (x = y) xor (x = 0)", |a, b| (a != b) ^ (a == 0));
    // IEEE 1076-2008, 9.2.3: std_logic_vectors of one length compare bit by bit from the left.
    condition("std_logic_vector", "x < y", |a, b| a < b);
    // The same clause: arrays of different lengths are never equal; that is legal, and told.
    condition("std_logic_vector", "x = \"01\"", |_, _| false);
    condition("std_logic_vector", "x /= \"01\"", |_, _| true);
    let checked = run(1, "", "", "f <= \"1\" when a = \"01\" else \"0\";");
    assert!(checked.verdict.findings.iter().any(|f| f.code == "never-equal"));
}

#[test]
fn the_tables_of_std_logic_1164_hold_for_unknown_operands() {
    // IEEE 1164-1993, the and, or, xor and not tables: '0' and 'X' = '0', '1' or 'X' = '1', all else unknown.
    let at = |v: i64| v & 1;
    body(1, "", "", "f(0) <= a(0) and 'X';", |a, _| (at(a) == 0).then_some(0));
    body(1, "", "", "f(0) <= a(0) or 'U';", |a, _| (at(a) == 1).then_some(1));
    body(1, "", "", "f(0) <= a(0) xor 'X';", |_, _| None);
    body(1, "", "", "f(0) <= a(0) nand 'Z';", |a, _| (at(a) == 0).then_some(1));
    body(1, "", "", "f(0) <= a(0) nor '-';", |a, _| (at(a) == 1).then_some(0));
    // The weak levels read as their strong ones.
    body(1, "", "", "f(0) <= a(0) and 'H';", |a, _| Some(at(a) as u64));
    body(1, "", "", "f(0) <= a(0) or 'L';", |a, _| Some(at(a) as u64));
    // The resolution table: a released driver leaves the signal to the other one.
    body(1, "", "", "f(0) <= a(0) when b(0) = '1' else 'Z';\nf(0) <= a(1) when b(0) = '0' else 'Z';", |a, b| {
        Some((if at(b) == 1 { at(a) } else { at(a >> 1) }) as u64)
    });
}

#[test]
fn aggregates_attributes_and_directions_place_every_bit() {
    // IEEE 1076-2008, 9.3.3 and 16.2: positions count from the left, `others` fills the rest.
    body(3, "", "", "f <= (2 => a(0), others => b(0));", |a, b| Some((((a & 1) << 2) | ((b & 1) * 3)) as u64));
    body(3, "", "", "f <= (a(0), a(1), a(2));", |a, _| Some((a & 1) << 2 | a & 2 | a >> 2).map(|v| v as u64));
    body(3, "", "", "f <= (f'high => '1', f'low => '0', others => a(0));", |a, _| Some(4 | (a as u64 & 1) << 1));
    body(4, "", "", "f <= a(2 downto 1) & b(1 downto 0);", |a, b| Some((a >> 1 << 2 | b & 3) as u64));
    // An ascending vector takes the bits from left to left.
    let declare = "signal s : std_logic_vector(0 to 2);";
    body(1, "", declare, "s <= a; f(0) <= s(0);", |a, _| Some(a as u64 >> 2));
    body(3, "", declare, "s <= a; f <= s;", |a, _| Some(a as u64));
    body(3, "", "", "g : for i in a'range generate f(i) <= a(a'high - i); end generate;", |a, _| {
        Some(((a & 1) << 2 | a & 2 | a >> 2) as u64)
    });
}

#[test]
fn the_older_arithmetic_packages_compute_as_their_name_says() {
    // Common practice: std_logic_unsigned reads vectors as counts, std_logic_signed as two's complement.
    let unsigned = "use ieee.std_logic_unsigned.all;";
    body(3, unsigned, "", "f <= a + b;", |a, b| Some((a + b) as u64));
    body(4, unsigned, "", "f <= ('0' & a) + ('0' & b);", |a, b| Some((a + b) as u64));
    body(3, unsigned, "", "f <= a + 1;", |a, _| Some((a + 1) as u64));
    body(3, unsigned, "", "f <= a - '1';", |a, _| Some((a - 1) as u64));
    body(1, unsigned, "", "f <= \"1\" when a > b else \"0\";", |a, b| Some(u64::from(a > b)));
    body(1, "use ieee.std_logic_signed.all;", "", "f <= \"1\" when a > b else \"0\";", |a, b| {
        Some(u64::from(signed(a) > signed(b)))
    });
}
#[test]
fn the_last_assignment_of_a_process_counts_and_variables_change_at_once() {
    // IEEE 1076-2008, 10.5 and 10.6.
    let process =
        |inner: &str| format!("process (a, b)\nvariable v : unsigned(2 downto 0);\nbegin\n{inner}\nend process;");
    let run = |inner: &str, wanted: fn(i64, i64) -> u64| {
        body(3, STD, "", &process(inner), |a, b| Some(wanted(a, b)));
    };
    run("f <= a; if b(0) = '1' then f <= b; end if;", |a, b| (if b & 1 == 1 { b } else { a }) as u64);
    run("v := unsigned(a); v := v + 1; v := v + v; f <= std_logic_vector(v);", |a, _| ((a + 1) * 2) as u64);
    run(
        "v := \"000\"; for i in 0 to 2 loop if a(i) = '1' then v := v + 1; end if; end loop; f <= std_logic_vector(v);",
        |a, _| u64::from(a.count_ones()),
    );
    run(
        "v := \"111\"; for i in 2 downto 0 loop if a(i) = '1' then v := to_unsigned(i, 3); exit; end if; end loop;\nf <= std_logic_vector(v);",
        |a, _| {
            if a == 0 { 7 } else { u64::from(a.ilog2()) }
        },
    );
    run("case a is when \"000\" | \"111\" => f <= b; when others => f <= not b; end case;", |a, b| {
        (if a == 0 || a == 7 { b } else { !b }) as u64
    });
}

#[test]
fn powers_are_of_integers_with_any_exponent_that_is_not_negative() {
    // IEEE 1076-2008 9.2.8.
    let power = |a: i64, b: i64| Some(a.pow(b as u32) as u64);
    typed("unsigned", "to_unsigned(2 ** to_integer(y), 8)", 8, |_, b| power(2, b));
    typed("unsigned", "to_unsigned(to_integer(x) ** 2, 6)", 6, |a, _| power(a, 2));
    typed("unsigned", "to_unsigned(to_integer(x) ** to_integer(y), 20)", 20, power);
    typed("signed", "to_signed(to_integer(x) ** 3, 8)", 8, |a, _| power(signed(a), 3));
    let message = |body: &str| run(3, STD, "", body).verdict.findings[0].message.clone();
    assert!(message("f <= a ** 2;").contains("`**` is not defined"));
    let power = |expression: &str| message(&format!("f <= std_logic_vector(to_unsigned({expression}, 3));"));
    assert_eq!(power("2 ** 40"), "2 ** 40 is more than an integer holds (2,147,483,647).");
    assert_eq!(power("2 ** (-1)"), "An integer can't be raised to the power -1.");
}

#[test]
fn arrays_may_be_indexed_by_levels_and_truth_values() {
    // IEEE 1076-2008 5.3.2.1: an index is of any discrete type; IEEE 1164 declares its tables that way.
    body(
        2,
        STD,
        "type pick is array (std_ulogic range '0' to '1') of std_logic_vector(1 downto 0);\n\
         constant by_level : pick := (\"01\", \"10\"); type truth is array (boolean) of std_logic;\n\
         constant by_truth : truth := (false => '0', true => '1');",
        "f(1) <= by_truth(unsigned(a) > unsigned(b)); f(0) <= by_level(b(0))(0);",
        |a, b| Some(u64::from(a > b) << 1 | u64::from(b & 1 == 0)),
    );
    body(
        1,
        STD,
        "type table is array (std_ulogic, std_ulogic) of std_ulogic;\n\
         constant both : table := ('1' => ('1' => '1', 'H' => '1', others => '0'), others => (others => '0'));",
        "f(0) <= both(a(2), b(2));",
        |a, b| Some(u64::from(a >= 4 && b >= 4)),
    );
    // A bit is still no index of a vector.
    let checked = run(1, STD, "", "f(0) <= a(b(0));");
    let found = &checked.verdict.findings[0];
    assert_eq!((found.code.as_str(), found.message.contains("integer")), ("type-mismatch", true), "{found:?}");
}

#[test]
fn functions_may_halve_a_vector_until_one_bit_is_left() {
    // Common practice: parity as a tree; what the recursion ends with is ruled out by `'length`.
    let parity = "function parity(v : std_logic_vector) return std_logic is\n\
        alias x : std_logic_vector(v'length - 1 downto 0) is v; constant half : natural := v'length / 2; begin\n\
        if v'length = 1 then return x(0);\n\
        else return parity(x(x'left downto half)) xor parity(x(half - 1 downto 0)); end if; end function;";
    body(1, STD, parity, "f(0) <= parity(a & b);", |a, b| Some(u64::from((a << 3 | b).count_ones() % 2)));
    // One that calls itself for ever, since no half has two bits, gives no value.
    let endless = parity.replace("v'length = 1", "v'length = 2");
    let checked = run(1, STD, &endless, "f(0) <= parity(a & b);");
    assert_eq!(checked.verdict.findings[0].code, "unknown-output");
}

#[test]
fn a_pull_up_is_a_limit_and_no_fault_of_the_student() {
    // IEEE 1164 `resolution_table`: '0' beats 'H', and 'Z' leaves it. Three drivers of one signal are an AND here.
    let wired = "f(0) <= 'H'; f(0) <= '0' when a(0) = '0' else 'Z'; f(0) <= '0' when b(0) = '0' else 'Z';";
    let checked = run(1, STD, "", wired);
    assert_eq!(checked.verdict.verdict, verdict::VerdictKind::CannotTell, "{:#?}", checked.verdict.findings);
    assert_eq!(checked.verdict.findings[0].code, "not-read-yet");
    // Alone, a weak level is read as the strong one.
    body(1, STD, "", "f(0) <= 'H' when a(0) = '1' else 'L';", |a, _| Some((a & 1) as u64));
}

#[test]
fn an_alias_with_a_subtype_counts_by_its_own_numbers() {
    // IEEE 1076-2008 6.6.2: the elements of the object are denoted by the index range of the alias's subtype.
    let read =
        "alias turned : std_logic_vector(0 to 2) is a; alias high : std_logic_vector(5 downto 4) is b(2 downto 1);";
    body(3, STD, read, "f <= turned(0) & high(5) & high(high'right);", |a, b| Some((a >> 2 << 2 | b >> 1) as u64));
    let written =
        "signal w : std_logic_vector(2 downto 0); alias first : std_logic_vector(1 downto 0) is w(2 downto 1);";
    body(3, STD, written, "first(0) <= a(0); first(1) <= a(1); w(0) <= b(0); f <= w;", |a, b| {
        Some(((a & 3) << 1 | b & 1) as u64)
    });
    let checked = run(1, STD, "alias wide : std_logic_vector(3 downto 0) is a;", "f(0) <= wide(0);");
    assert_eq!(checked.verdict.findings[0].code, "length-differs");
    // Aliases that lead back to themselves end in a finding, read or written.
    for circle in ["alias p : std_logic is p;", "alias p is q; alias q is p;", "alias p is q(0); alias q is p(0);"] {
        for use_of in ["f(0) <= p;", "p <= a(0); f(0) <= b(0);"] {
            let checked = run(1, STD, circle, use_of);
            assert!(checked.verdict.findings.iter().any(|f| f.severity == "stop"), "{circle} {use_of}");
        }
    }
}

#[test]
fn parts_of_fields_of_elements_are_read_and_written() {
    // IEEE 1076-2008 8.2 to 8.4: a name may be selected and indexed as deep as its type goes.
    let types = "type pair is record low : std_logic_vector(1 downto 0); flag : std_logic; end record;\n\
        type pairs is array (0 to 1) of pair; signal s : pairs;";
    let text = "s(0).low(0) <= a(1); s(0).low(1) <= a(2); s(1).low <= b(1 downto 0); s(0).flag <= a(0); s(1).flag <= s(0).flag;\n\
        f <= s(0).low(1) & s(1).low(0) & s(1).flag;";
    body(3, STD, types, text, |a, b| Some((a >> 2 << 2 | (b & 1) << 1 | a & 1) as u64));
}

/// IEEE 1076-2008 9.2.3: `-` in either operand matches everything.
#[test]
fn a_matching_relation_passes_over_dashes() {
    body(1, STD, "", "f(0) <= a ?= \"1-0\";", |a, _| Some(u64::from(a & 0b101 == 0b100)));
    body(1, STD, "", "f(0) <= \"-11\" ?/= b;", |_, b| Some(u64::from(b & 0b011 != 0b011)));
    body(1, STD, "", "f(0) <= a ?= b;", |a, b| Some(u64::from(a == b)));
}

/// IEEE 1076-2008 5.2.1: a null range has no elements.
#[test]
fn null_ranges_add_nothing() {
    let width = "constant W : integer := 3;";
    body(3, STD, width, "f <= (2 - W downto 0 => '0') & a;", |a, _| Some(a as u64));
    body(3, STD, width, "f <= b & a(2 - W downto 0);", |_, b| Some(b as u64));
    body(4, STD, width, "f <= (3 - W downto 0 => '0') & a;", |a, _| Some(a as u64));
    // Declared, it is told as a limit; figures the wrong way round are a slip.
    for (range, code) in [("2 - W downto 0", "not-read-yet"), ("0 downto 2", "null-range")] {
        let none = format!("constant W : integer := 3; constant N : std_logic_vector({range}) := (others => '0');");
        let codes = run(3, STD, &none, "f <= N & a;").verdict.findings;
        assert_eq!(codes.first().map(|f| f.code.as_str()), Some(code), "{range}");
    }
}
