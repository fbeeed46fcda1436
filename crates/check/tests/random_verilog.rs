//! Random Verilog expressions against an evaluator of this file's own, written from IEEE 1364-2005 clause 5: the table of the
//! netlist on every row, and the event simulator also where inputs are unknown.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

mod seeds;

use base::Budget;
use base::Random;
use check::{HandIn, check};
use elab::{HandInFile, SimulationRequest, run_simulation};
use exercise::Exercise;
use seeds::seeds;

/// One digit: 0, 1 or unknown.
#[derive(Clone, Copy, PartialEq, Eq, Debug)]
enum D {
    O,
    I,
    X,
}
use D::{I, O, X};

/// The least significant digit first.
type Digits = Vec<D>;

struct Variable {
    name: &'static str,
    width: usize,
    signed: bool,
    /// Of the most and of the least significant digit.
    range: (i128, i128),
}

impl Variable {
    fn is_descending(&self) -> bool {
        self.range.0 >= self.range.1
    }

    /// The index of the digit of this weight.
    fn index(&self, weight: usize) -> i128 {
        if self.is_descending() { self.range.1 + weight as i128 } else { self.range.1 - weight as i128 }
    }

    fn digit(&self, digits: &[D], index: i128) -> D {
        let weight = if self.is_descending() { index - self.range.1 } else { self.range.1 - index };
        usize::try_from(weight).ok().and_then(|at| digits.get(at).copied()).unwrap_or(X)
    }
}

const VARIABLES: [Variable; 4] = [
    Variable { name: "a", width: 3, signed: false, range: (2, 0) },
    Variable { name: "b", width: 2, signed: true, range: (0, 1) },
    Variable { name: "c", width: 1, signed: false, range: (0, 0) },
    Variable { name: "s", width: 3, signed: true, range: (4, 2) },
];
const ROWS: u32 = 1 << 9;

enum E {
    Literal { digits: Digits, signed: bool, text: String },
    Variable(usize),
    Unary(&'static str, Box<E>),
    Binary(&'static str, Box<E>, Box<E>),
    Choice(Box<E>, Box<E>, Box<E>),
    Concat(Vec<E>),
    Repeat(usize, Box<E>),
    Bit(usize, Box<E>),
    Part(usize, usize, usize),
    Indexed(usize, Box<E>, usize, bool),
    Cast(bool, Box<E>),
}

fn is_shift(op: &str) -> bool {
    matches!(op, "<<" | ">>" | "<<<" | ">>>")
}

fn is_comparison(op: &str) -> bool {
    matches!(op, "==" | "!=" | "===" | "!==" | "<" | "<=" | ">" | ">=")
}

impl E {
    /// Table 5-22.
    fn width(&self) -> usize {
        match self {
            E::Literal { digits, .. } => digits.len(),
            E::Variable(v) => VARIABLES[*v].width,
            E::Unary(op, x) => {
                if matches!(*op, "+" | "-" | "~") {
                    x.width()
                } else {
                    1
                }
            }
            E::Binary(op, x, _) if is_shift(op) => x.width(),
            E::Binary(op, ..) if is_comparison(op) || matches!(*op, "&&" | "||") => 1,
            E::Binary(_, x, y) | E::Choice(_, x, y) => x.width().max(y.width()),
            E::Concat(parts) => parts.iter().map(E::width).sum(),
            E::Repeat(n, x) => n * x.width(),
            E::Bit(..) => 1,
            E::Part(_, high, low) => high - low + 1,
            E::Indexed(_, _, width, _) => *width,
            E::Cast(_, x) => x.width(),
        }
    }

    /// 5.5.1.
    fn is_signed(&self) -> bool {
        match self {
            E::Literal { signed, .. } => *signed,
            E::Variable(v) => VARIABLES[*v].signed,
            E::Unary(op, x) => matches!(*op, "+" | "-" | "~") && x.is_signed(),
            E::Binary(op, x, _) if is_shift(op) => x.is_signed(),
            E::Binary(op, ..) if is_comparison(op) || matches!(*op, "&&" | "||") => false,
            E::Binary(_, x, y) | E::Choice(_, x, y) => x.is_signed() && y.is_signed(),
            E::Cast(signed, _) => *signed,
            _ => false,
        }
    }

    fn text(&self) -> String {
        match self {
            E::Literal { text, .. } => text.clone(),
            E::Variable(v) => VARIABLES[*v].name.into(),
            E::Unary(op, x) => format!("{op}({})", x.text()),
            E::Binary(op, x, y) => format!("({} {op} {})", x.text(), y.text()),
            E::Choice(c, x, y) => format!("({} ? {} : {})", c.text(), x.text(), y.text()),
            E::Concat(parts) => format!("{{{}}}", parts.iter().map(E::text).collect::<Vec<_>>().join(", ")),
            E::Repeat(n, x) => format!("{{{n}{{{}}}}}", x.text()),
            E::Bit(v, index) => format!("{}[{}]", VARIABLES[*v].name, index.text()),
            E::Part(v, high, low) => {
                let v = &VARIABLES[*v];
                format!("{}[{}:{}]", v.name, v.index(*high), v.index(*low))
            }
            E::Indexed(v, base, width, up) => {
                format!("{}[{} {} {width}]", VARIABLES[*v].name, base.text(), if *up { "+:" } else { "-:" })
            }
            E::Cast(signed, x) => format!("{}({})", if *signed { "$signed" } else { "$unsigned" }, x.text()),
        }
    }

    /// By itself.
    fn own(&self, values: &[Digits]) -> Digits {
        self.value(values, self.width(), self.is_signed())
    }

    /// In a context of this size and type (5.5.2 to 5.5.4).
    fn value(&self, values: &[Digits], width: usize, signed: bool) -> Digits {
        let inner = |e: &E| e.value(values, width, signed);
        match self {
            E::Literal { digits, .. } => fit(digits, width, signed),
            E::Variable(v) => fit(&values[*v], width, signed),
            E::Cast(_, x) => fit(&x.own(values), width, signed),
            E::Unary("+", x) => inner(x),
            E::Unary("-", x) => negated(&inner(x)),
            E::Unary("~", x) => inner(x).into_iter().map(not).collect(),
            E::Unary(op, x) => {
                let x = x.own(values);
                let digit = match *op {
                    "!" => not(truth(&x)),
                    "&" => x.iter().copied().fold(I, and),
                    "|" => x.iter().copied().fold(O, or),
                    "^" => x.iter().copied().fold(O, xor),
                    "~&" => not(x.iter().copied().fold(I, and)),
                    "~|" => not(x.iter().copied().fold(O, or)),
                    _ => not(x.iter().copied().fold(O, xor)),
                };
                fit(&[digit], width, false)
            }
            E::Binary(op, x, y) if is_shift(op) => shifted(op, &inner(x), number(&y.own(values)), signed),
            E::Binary(op @ ("&&" | "||"), x, y) => {
                let (x, y) = (truth(&x.own(values)), truth(&y.own(values)));
                fit(&[if *op == "&&" { and(x, y) } else { or(x, y) }], width, false)
            }
            E::Binary(op, x, y) if is_comparison(op) => {
                let (wide, both) = (x.width().max(y.width()), x.is_signed() && y.is_signed());
                fit(&[compared(op, &x.value(values, wide, both), &y.value(values, wide, both), both)], width, false)
            }
            E::Binary(op, x, y) => joined(op, &inner(x), &inner(y), signed),
            E::Choice(c, x, y) => match truth(&c.own(values)) {
                I => inner(x),
                O => inner(y),
                X => inner(x).into_iter().zip(inner(y)).map(|(x, y)| if x == y { x } else { X }).collect(),
            },
            E::Concat(parts) => {
                let digits: Digits = parts.iter().rev().flat_map(|p| p.own(values)).collect();
                fit(&digits, width, false)
            }
            E::Repeat(n, x) => fit(&x.own(values).repeat(*n), width, false),
            E::Bit(v, index) => {
                let at = signed_number(&index.own(values), index.is_signed());
                fit(&[at.map_or(X, |at| VARIABLES[*v].digit(&values[*v], at))], width, false)
            }
            E::Part(v, high, low) => fit(&values[*v][*low..=*high], width, false),
            E::Indexed(v, base, wide, up) => {
                let at = signed_number(&base.own(values), base.is_signed());
                let name = &VARIABLES[*v];
                let mut digits: Digits = (0..*wide as i128)
                    .map(|i| at.map_or(X, |at| name.digit(&values[*v], if *up { at + i } else { at - i })))
                    .collect();
                // The first one named is the highest index of a range downwards, or the lowest of one upwards.
                if *up != name.is_descending() {
                    digits.reverse();
                }
                fit(&digits, width, false)
            }
        }
    }
}

/// Cut or made longer: by the sign digit in a signed context, else by 0.
fn fit(digits: &[D], width: usize, signed: bool) -> Digits {
    let fill = if signed { *digits.last().unwrap() } else { O };
    (0..width).map(|i| digits.get(i).copied().unwrap_or(fill)).collect()
}

fn not(x: D) -> D {
    match x {
        O => I,
        I => O,
        X => X,
    }
}

fn and(x: D, y: D) -> D {
    match (x, y) {
        (O, _) | (_, O) => O,
        (I, I) => I,
        _ => X,
    }
}

fn or(x: D, y: D) -> D {
    not(and(not(x), not(y)))
}

fn xor(x: D, y: D) -> D {
    if x == X || y == X {
        X
    } else if x == y {
        O
    } else {
        I
    }
}

fn truth(digits: &[D]) -> D {
    digits.iter().copied().fold(O, or)
}

fn number(digits: &[D]) -> Option<u128> {
    digits.iter().rev().try_fold(0u128, |n, d| match d {
        O => Some(n << 1),
        I => Some(n << 1 | 1),
        X => None,
    })
}

fn signed_number(digits: &[D], signed: bool) -> Option<i128> {
    let n = number(digits)?.cast_signed();
    Some(if signed && digits.last() == Some(&I) { n - (1 << digits.len()) } else { n })
}

fn digits_of(n: u128, width: usize) -> Digits {
    (0..width).map(|i| if n >> i & 1 == 1 { I } else { O }).collect()
}

fn negated(x: &[D]) -> Digits {
    number(x).map_or(vec![X; x.len()], |n| digits_of(n.wrapping_neg(), x.len()))
}

/// 5.1.12: the amount is a number without a sign; `>>>` keeps the sign only where the result is signed.
fn shifted(op: &str, x: &[D], amount: Option<u128>, signed: bool) -> Digits {
    let Some(amount) = amount else { return vec![X; x.len()] };
    let amount = usize::try_from(amount.min(1000)).unwrap();
    let fill = if op == ">>>" && signed { *x.last().unwrap() } else { O };
    (0..x.len())
        .map(|i| match op {
            "<<" | "<<<" => {
                if i >= amount {
                    x[i - amount]
                } else {
                    O
                }
            }
            _ => x.get(i + amount).copied().unwrap_or(fill),
        })
        .collect()
}

/// 5.1.7 and 5.1.8.
fn compared(op: &str, x: &[D], y: &[D], signed: bool) -> D {
    let same = |exact: bool| {
        if exact {
            return if x == y { I } else { O };
        }
        x.iter().zip(y).fold(I, |all, (x, y)| and(all, not(xor(*x, *y))))
    };
    match op {
        "==" => same(false),
        "!=" => not(same(false)),
        "===" => same(true),
        "!==" => not(same(true)),
        _ => {
            let (Some(x), Some(y)) = (signed_number(x, signed), signed_number(y, signed)) else { return X };
            let holds = match op {
                "<" => x < y,
                "<=" => x <= y,
                ">" => x > y,
                _ => x >= y,
            };
            if holds { I } else { O }
        }
    }
}

/// 5.1.5 and 5.1.10.
fn joined(op: &str, x: &[D], y: &[D], signed: bool) -> Digits {
    let width = x.len();
    let each = |f: fn(D, D) -> D| x.iter().zip(y).map(|(x, y)| f(*x, *y)).collect();
    match op {
        "&" => each(and),
        "|" => each(or),
        "^" => each(xor),
        "~^" | "^~" => each(|x, y| not(xor(x, y))),
        _ => {
            let (Some(n), Some(m)) = (signed_number(x, signed), signed_number(y, signed)) else {
                return vec![X; width];
            };
            let result = match op {
                "+" => n + m,
                "-" => n - m,
                "*" => n.wrapping_mul(m),
                _ if m == 0 => return vec![X; width],
                "/" => n / m,
                _ => n % m,
            };
            digits_of(result.cast_unsigned(), width)
        }
    }
}

fn literal(random: &mut Random, unknown: bool) -> E {
    let width = 1 + random.below(4);
    match random.below(4) {
        0 => {
            let n = random.below(9);
            E::Literal { digits: digits_of(n as u128, 32), signed: true, text: n.to_string() }
        }
        kind => {
            let mut digits = digits_of(u128::from(random.word()), width);
            if unknown && random.below(4) == 0 {
                let at = random.below(width);
                digits[at] = X;
            }
            let signed = kind == 1;
            let shown = shown(&digits);
            E::Literal { digits, signed, text: format!("{width}'{}b{shown}", if signed { "s" } else { "" }) }
        }
    }
}

/// At most so wide that every value of it is a number of this machine.
fn expression(random: &mut Random, depth: usize, unknown: bool) -> E {
    let made = any_expression(random, depth, unknown);
    if made.width() > 40 { E::Variable(random.below(4)) } else { made }
}

fn any_expression(random: &mut Random, depth: usize, unknown: bool) -> E {
    const UNARY: [&str; 10] = ["-", "~", "!", "&", "|", "^", "~&", "~|", "~^", "+"];
    const BINARY: [&str; 25] = [
        "+", "-", "*", "/", "%", "&", "|", "^", "~^", "<<", ">>", "<<<", ">>>", "==", "!=", "<", "<=", ">", ">=", "&&",
        "||", "+", "-", "&", "|",
    ];
    if depth == 0 {
        return if random.below(4) == 0 { literal(random, unknown) } else { E::Variable(random.below(4)) };
    }
    let inner = |random: &mut Random| {
        let depth = random.below(depth);
        Box::new(expression(random, depth, unknown))
    };
    match random.below(16) {
        0 | 1 => E::Unary(UNARY[random.below(UNARY.len())], inner(random)),
        2 | 3 => E::Choice(inner(random), inner(random), inner(random)),
        4 => {
            // An unsized number may not stand in a concatenation (5.1.14).
            let parts: Vec<E> = (0..1 + random.below(3)).map(|_| sized(*inner(random))).collect();
            E::Concat(parts)
        }
        5 => E::Repeat(1 + random.below(3), Box::new(sized(*inner(random)))),
        6 => E::Bit([0, 1, 3][random.below(3)], inner(random)),
        7 => {
            let v = [0, 1, 3][random.below(3)];
            let low = random.below(VARIABLES[v].width);
            E::Part(v, low + random.below(VARIABLES[v].width - low), low)
        }
        8 => E::Indexed([0, 3][random.below(2)], inner(random), 1 + random.below(3), random.below(2) == 0),
        9 => E::Cast(random.below(2) == 0, inner(random)),
        10 if unknown => {
            let op = if random.below(2) == 0 { "===" } else { "!==" };
            E::Binary(op, inner(random), inner(random))
        }
        _ => E::Binary(BINARY[random.below(BINARY.len())], inner(random), inner(random)),
    }
}

/// The same value with a size of its own.
fn sized(e: E) -> E {
    E::Cast(e.is_signed(), Box::new(e))
}

fn shown(digits: &[D]) -> String {
    digits
        .iter()
        .rev()
        .map(|d| {
            if *d == X {
                'x'
            } else if *d == I {
                '1'
            } else {
                '0'
            }
        })
        .collect()
}

fn values_of(row: u32) -> Vec<Digits> {
    let mut left = 9;
    VARIABLES
        .iter()
        .map(|v| {
            left -= v.width;
            digits_of(u128::from(row >> left), v.width)
        })
        .collect()
}

const PORTS: &str = "input [2:0] a, input signed [0:1] b, input c, input signed [4:2] s";

fn exercise(width: usize) -> Exercise {
    let mut text = String::from("format = \"zesty-gate/exercise/1\"\ntitle = \"Test\"\n");
    for v in &VARIABLES {
        text += &format!("[[port]]\nname = \"{}\"\ndir = \"in\"\n", v.name);
        if v.width > 1 {
            text += &format!("range = \"{}:{}\"\n", v.range.0, v.range.1);
        }
    }
    text += &format!("[[port]]\nname = \"f\"\ndir = \"out\"\nrange = \"{}:0\"\n", width - 1);
    text += "[behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\nf = \"0\"\n";
    Exercise::alone(&text).unwrap()
}

/// The table that the checker finds for a body that gives `f`.
fn table(width: usize, source: &str) -> Vec<String> {
    let files = vec![HandInFile { name: "m.v".into(), bytes: source.into() }];
    let checked = check(&exercise(width), &HandIn { files, ..HandIn::default() });
    let table = checked.actual.unwrap_or_else(|| panic!("{source}\n{:#?}", checked.verdict.findings));
    (0..u64::from(ROWS))
        .map(|row| {
            table.columns.iter().map(|c| c.level(row).to_ascii_lowercase()).collect::<String>().replace('z', "x")
        })
        .collect()
}

#[test]
fn the_netlist_computes_what_the_standard_says() {
    for seed in seeds(400) {
        let mut random = Random::new(seed);
        let e = expression(&mut random, 4, false);
        let width = 1 + random.below(8);
        let source = format!("module m({PORTS}, output [{}:0] f);\n  assign f = {};\nendmodule\n", width - 1, e.text());
        for (row, found) in (0..).zip(table(width, &source)) {
            let values = values_of(row);
            let wide = width.max(e.width());
            let wanted = fit(&e.value(&values, wide, e.is_signed()), width, false);
            assert_eq!(found, shown(&wanted), "seed {seed} row {row:09b}\n{source}");
        }
    }
}

/// Conditions, cases and loops around random expressions: a block's value on every row.
#[test]
fn blocks_compute_what_their_statements_say() {
    for seed in seeds(150) {
        let mut random = Random::new(7_000 + seed);
        let parts: Vec<E> = (0..4).map(|_| expression(&mut random, 3, false)).collect();
        let [condition, first, second, subject] = &parts[..] else { unreachable!() };
        let label = random.below(4);
        let source = format!(
            "module m({PORTS}, output reg [4:0] f);\n  reg [4:0] t;\n  always @* begin\n    f = 5'd3;\n    t = {};\n    \
             if ({}) f = {};\n    case ({})\n      {label}: f = f + t;\n      5: begin f[0] = t[1]; end\n      \
             default: f = f ^ t;\n    endcase\n  end\nendmodule\n",
            first.text(),
            condition.text(),
            second.text(),
            subject.text(),
        );
        for (row, found) in (0..).zip(table(5, &source)) {
            let values = values_of(row);
            let assigned = |e: &E| fit(&e.value(&values, 5.max(e.width()), e.is_signed()), 5, false);
            let t = assigned(first);
            let mut f = digits_of(3, 5);
            match truth(&condition.own(&values)) {
                I => f = assigned(second),
                // 9.4 takes the other way where it can't tell; hardware could go either way.
                X => continue,
                O => {}
            }
            // 9.5: all are made as wide as the widest, here the 32 digits of a plain number.
            let subject_value = subject.value(&values, subject.width().max(32), subject.is_signed());
            if subject_value.contains(&X) {
                continue;
            }
            let is = |n: usize| subject_value == digits_of(n as u128, subject_value.len());
            if is(label) {
                f = joined("+", &f, &t, false);
            } else if is(5) {
                f[0] = t[1];
            } else {
                f = joined("^", &f, &t, false);
            }
            assert_eq!(found, shown(&f), "seed {seed} row {row:09b}\n{source}");
        }
    }
}

fn simulated(source: &str) -> Vec<String> {
    let files = [HandInFile { name: "tb.v".into(), bytes: source.into() }];
    let found = run_simulation(&files, &SimulationRequest::default(), &Budget::hand_in()).unwrap();
    assert!(found.findings.iter().all(|f| f.severity != "stop"), "{source}\n{:?}", found.findings);
    found.output.lines().map(str::to_owned).collect()
}

#[test]
fn the_simulator_computes_what_the_standard_says_of_unknown_levels_too() {
    for seed in seeds(400) {
        let mut random = Random::new(20_000 + seed);
        let e = expression(&mut random, 4, true);
        let width = 1 + random.below(8);
        let mut bench = format!(
            "module tb;\n  reg [2:0] a; reg signed [0:1] b; reg c; reg signed [4:2] s; reg [{}:0] f;\n  initial begin\n",
            width - 1
        );
        let mut wanted = Vec::new();
        for _ in 0..24 {
            let mut values = values_of(random.below(ROWS as usize) as u32);
            for digits in &mut values {
                if random.below(4) == 0 {
                    let at = random.below(digits.len());
                    digits[at] = X;
                }
            }
            for (v, digits) in VARIABLES.iter().zip(&values) {
                bench += &format!("{} = {}'b{}; ", v.name, v.width, shown(digits));
            }
            bench += &format!("f = {}; $display(\"%b\", f);\n", e.text());
            wanted.push(shown(&fit(&e.value(&values, width.max(e.width()), e.is_signed()), width, false)));
        }
        bench += "  end\nendmodule\n";
        assert_eq!(simulated(&bench), wanted, "seed {seed}\n{bench}");
    }
}
