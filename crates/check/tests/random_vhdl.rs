//! Random expressions of `numeric_std` against a model of this file's own, written from the package's header (IEEE 1076-2008
//! clause 16.8, formerly IEEE 1076.3): the netlist and the simulator on every row.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

mod seeds;

use base::Budget;
use base::Random;
use check::{HandIn, check};
use elab::{HandInFile, SimulationRequest, run_simulation};
use exercise::Exercise;
use seeds::seeds;

/// A vector of either kind.
#[derive(Clone, Copy, PartialEq, Eq, Debug)]
struct Value {
    bits: u64,
    width: u32,
    signed: bool,
}

impl Value {
    fn new(number: i64, width: u32, signed: bool) -> Self {
        Self { bits: number.cast_unsigned() & ((1 << width) - 1), width, signed }
    }

    fn number(self) -> i64 {
        let plain = self.bits.cast_signed();
        if self.signed && self.bits >> (self.width - 1) & 1 == 1 { plain - (1 << self.width) } else { plain }
    }

    fn bit(self, i: u32) -> u64 {
        self.bits >> i & 1
    }

    /// `resize`: an unsigned one is cut, a signed one keeps its sign and its lowest digits.
    fn resized(self, width: u32) -> Self {
        if self.signed && width < self.width {
            let low = self.bits & ((1 << (width - 1)) - 1);
            return Self { bits: self.bit(self.width - 1) << (width - 1) | low, width, signed: true };
        }
        Self::new(self.number(), width, self.signed)
    }
}

type Model = Box<dyn Fn(u64) -> Option<Value>>;

/// The text of an expression, and its value on a row; none where it divides by zero.
struct Made {
    text: String,
    value: Model,
}

const SIGNALS: [(&str, u32, bool, u32); 3] = [("x", 3, false, 5), ("y", 2, false, 3), ("p", 3, true, 0)];
const ROWS: u64 = 256;

fn made(text: String, value: impl Fn(u64) -> Option<Value> + 'static) -> Made {
    Made { text, value: Box::new(value) }
}

fn kind(signed: bool) -> &'static str {
    if signed { "signed" } else { "unsigned" }
}

struct Maker {
    random: Random,
}

impl Maker {
    /// A value of so many bits that is no operation.
    fn leaf(&mut self, signed: bool, width: u32) -> Made {
        let fitting: Vec<_> = SIGNALS.iter().filter(|s| s.2 == signed && s.1 == width).collect();
        if !fitting.is_empty() && self.random.below(4) != 0 {
            let (name, _, _, low) = *fitting[self.random.below(fitting.len())];
            return made(name.into(), move |row| Some(Value::new((row >> low).cast_signed(), width, signed)));
        }
        let longer: Vec<_> = SIGNALS.iter().filter(|s| s.2 == signed && s.1 > width).collect();
        if !longer.is_empty() && self.random.below(2) == 0 {
            let (name, long, _, low) = *longer[self.random.below(longer.len())];
            let from = self.random.below((long - width + 1) as usize) as u32;
            let text = format!("{name}({} downto {from})", from + width - 1);
            return made(text, move |row| Some(Value::new((row >> (low + from)).cast_signed(), width, signed)));
        }
        let bits = self.random.word() & ((1 << width) - 1);
        let value = Value { bits, width, signed };
        if self.random.below(2) == 0 {
            let text = format!("{}'(\"{:02$b}\")", kind(signed), bits, width as usize);
            return made(text, move |_| Some(value));
        }
        made(format!("to_{}({}, {width})", kind(signed), value.number()), move |_| Some(value))
    }

    fn any(&mut self, signed: bool, depth: u32) -> (Made, u32) {
        let width = 1 + self.random.below(4) as u32;
        (self.expression(signed, width, depth), width)
    }

    /// A constant that fits into so many bits.
    fn constant(&mut self, signed: bool, width: u32) -> i64 {
        Value { bits: self.random.word() & ((1 << width) - 1), width, signed }.number()
    }

    #[expect(clippy::too_many_lines, reason = "an arm for every operator of the package")]
    fn expression(&mut self, signed: bool, width: u32, depth: u32) -> Made {
        if depth == 0 {
            return self.leaf(signed, width);
        }
        let next = depth - 1;
        match self.random.below(16) {
            0 => {
                let (inner, _) = self.any(signed, next);
                made(format!("resize({}, {width})", inner.text), move |r| Some((inner.value)(r)?.resized(width)))
            }
            1..=3 => {
                let (op, f): (&str, fn(i64, i64) -> i64) =
                    if self.random.below(2) == 0 { ("+", |a, b| a + b) } else { ("-", |a, b| a - b) };
                let left = self.expression(signed, width, next);
                match self.random.below(3) {
                    0 => {
                        let n = self.constant(signed, width);
                        let written = if n < 0 { format!("({n})") } else { n.to_string() };
                        made(format!("({} {op} {written})", left.text), move |r| {
                            Some(Value::new(f((left.value)(r)?.number(), n), width, signed))
                        })
                    }
                    _ => {
                        // One of them as wide as the result, the other no wider, on either side.
                        let narrow = 1 + self.random.below(width as usize) as u32;
                        let right = self.expression(signed, narrow, next);
                        let (left, right) = if self.random.below(2) == 0 { (left, right) } else { (right, left) };
                        made(format!("({} {op} {})", left.text, right.text), move |r| {
                            Some(Value::new(f((left.value)(r)?.number(), (right.value)(r)?.number()), width, signed))
                        })
                    }
                }
            }
            4 if width >= 2 => {
                let part = 1 + self.random.below(width as usize - 1) as u32;
                let (left, right) = (self.expression(signed, part, next), self.expression(signed, width - part, next));
                made(format!("({} * {})", left.text, right.text), move |r| {
                    Some(Value::new((left.value)(r)?.number() * (right.value)(r)?.number(), width, signed))
                })
            }
            5 => {
                // The quotient is as wide as what is divided, the rest as what divides.
                let (op, is_rest): (&str, bool) = [("/", false), ("rem", true), ("mod", true)][self.random.below(3)];
                let other = 1 + self.random.below(3) as u32;
                let (wide_left, wide_right) = if is_rest { (other, width) } else { (width, other) };
                let (left, right) =
                    (self.expression(signed, wide_left, next), self.expression(signed, wide_right, next));
                made(format!("({} {op} {})", left.text, right.text), move |r| {
                    let (a, b) = ((left.value)(r)?.number(), (right.value)(r)?.number());
                    if b == 0 {
                        return None;
                    }
                    let found = match op {
                        "/" => a / b,
                        "rem" => a % b,
                        _ => (a % b + b) % b,
                    };
                    Some(Value::new(found, width, signed))
                })
            }
            6 | 7 => {
                let (op, f): (&str, fn(u64, u64) -> u64) = [
                    ("and", (|a, b| a & b) as fn(u64, u64) -> u64),
                    ("or", |a, b| a | b),
                    ("xor", |a, b| a ^ b),
                    ("nand", |a, b| !(a & b)),
                    ("nor", |a, b| !(a | b)),
                    ("xnor", |a, b| !(a ^ b)),
                ][self.random.below(6)];
                let (left, right) = (self.expression(signed, width, next), self.expression(signed, width, next));
                made(format!("({} {op} {})", left.text, right.text), move |r| {
                    let bits = f((left.value)(r)?.bits, (right.value)(r)?.bits);
                    Some(Value::new(bits.cast_signed(), width, signed))
                })
            }
            8 => {
                let inner = self.expression(signed, width, next);
                made(format!("(not {})", inner.text), move |r| {
                    Some(Value::new(!(inner.value)(r)?.bits.cast_signed(), width, signed))
                })
            }
            9 | 10 => {
                let name = ["shift_left", "shift_right", "rotate_left", "rotate_right"][self.random.below(4)];
                let by = self.random.below(6) as u32;
                let inner = self.expression(signed, width, next);
                made(format!("{name}({}, {by})", inner.text), move |r| {
                    let x = (inner.value)(r)?;
                    let turned = by % width;
                    let bits = match name {
                        "shift_left" => x.bits << by,
                        "shift_right" => (x.number() >> by).cast_unsigned(),
                        "rotate_left" => x.bits << turned | x.bits >> (width - turned),
                        _ => x.bits >> turned | x.bits << (width - turned),
                    };
                    Some(Value::new(bits.cast_signed(), width, signed))
                })
            }
            11 if width >= 2 => {
                let low = 1 + self.random.below(width as usize - 1) as u32;
                let (left, right) = (self.expression(signed, width - low, next), self.expression(signed, low, next));
                made(format!("{}'({} & {})", kind(signed), left.text, right.text), move |r| {
                    let bits = (left.value)(r)?.bits << low | (right.value)(r)?.bits;
                    Some(Value::new(bits.cast_signed(), width, signed))
                })
            }
            12 => {
                let inner = self.expression(!signed, width, next);
                made(format!("{}({})", kind(signed), inner.text), move |r| {
                    Some(Value::new((inner.value)(r)?.bits.cast_signed(), width, signed))
                })
            }
            13 if signed => {
                let inner = self.expression(true, width, next);
                if self.random.below(2) == 0 {
                    made(format!("(-({}))", inner.text), move |r| {
                        Some(Value::new(-(inner.value)(r)?.number(), width, true))
                    })
                } else {
                    made(format!("(abs ({}))", inner.text), move |r| {
                        Some(Value::new((inner.value)(r)?.number().abs(), width, true))
                    })
                }
            }
            14 => {
                let (inner, wide) = self.any(false, next);
                let n = 1 + self.random.below(2) as i64;
                // A number that fits, so that nothing is cut off on the way.
                if wide + 1 >= width || wide > 3 {
                    return self.leaf(signed, width);
                }
                made(format!("to_{}(to_integer({}) + {n}, {width})", kind(signed), inner.text), move |r| {
                    let number = (inner.value)(r)?.number() + n;
                    Some(Value::new(number, width, signed))
                })
            }
            _ => self.leaf(signed, width),
        }
    }

    fn condition(&mut self, depth: u32) -> (String, Box<dyn Fn(u64) -> Option<bool>>) {
        let signed = self.random.below(2) == 0;
        let (op, f): (&str, fn(i64, i64) -> bool) = [
            ("=", (|a, b| a == b) as fn(i64, i64) -> bool),
            ("/=", |a, b| a != b),
            ("<", |a, b| a < b),
            ("<=", |a, b| a <= b),
            (">", |a, b| a > b),
            (">=", |a, b| a >= b),
        ][self.random.below(6)];
        let (left, wide) = self.any(signed, depth);
        if self.random.below(3) == 0 {
            let n = self.constant(signed, wide);
            let text = format!("{} {op} {}", left.text, if n < 0 { format!("({n})") } else { n.to_string() });
            return (text, Box::new(move |r| Some(f((left.value)(r)?.number(), n))));
        }
        let (right, _) = self.any(signed, depth);
        let text = format!("{} {op} {}", left.text, right.text);
        (text, Box::new(move |r| Some(f((left.value)(r)?.number(), (right.value)(r)?.number()))))
    }
}

fn exercise(width: u32) -> Exercise {
    let mut text = String::from("format = \"zesty-gate/exercise/1\"\ntitle = \"Test\"\n");
    for (name, range) in [("x", 2), ("y", 1), ("p", 2)] {
        text += &format!("[[port]]\nname = \"{name}\"\ndir = \"in\"\nrange = \"{range}:0\"\n");
    }
    text += &format!("[[port]]\nname = \"f\"\ndir = \"out\"\nrange = \"{}:0\"\n", width - 1);
    text += "[behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\nf = \"0\"\n";
    Exercise::alone(&text).unwrap()
}

/// An entity whose output is one of two expressions by a condition, as one assignment, in a process, or by a function.
fn entity(width: u32, condition: &str, one: &str, other: &str, style: u64) -> String {
    let head = format!(
        "library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nentity m is port (x : in unsigned(2 downto 0);\n  \
         y : in unsigned(1 downto 0); p : in signed(2 downto 0); f : out std_logic_vector({} downto 0));\nend m;\n",
        width - 1
    );
    let vector = |e: &str| format!("std_logic_vector({e})");
    let (one, other) = (vector(one), vector(other));
    match style % 3 {
        0 => format!("{head}architecture r of m is\nbegin\n  f <= {one} when {condition} else {other};\nend r;\n"),
        1 => format!(
            "{head}architecture r of m is\nbegin\n  process (x, y, p)\n  begin\n    if {condition} then\n      f <= {one};\n    \
             else\n      f <= {other};\n    end if;\n  end process;\nend r;\n"
        ),
        _ => format!(
            "{head}architecture r of m is\n  function pick(x, y : unsigned; p : signed) return std_logic_vector is\n  begin\n    \
             if {condition} then return {one}; end if;\n    return {other};\n  end function;\nbegin\n  f <= pick(x, y, p);\nend r;\n"
        ),
    }
}

#[test]
fn vectors_compute_what_the_package_says() {
    let mut compared = 0;
    for seed in seeds(240) {
        let mut maker = Maker { random: Random::new(seed) };
        let width = 1 + maker.random.below(6) as u32;
        let (condition, holds) = maker.condition(2);
        let (sign_one, sign_other) = (maker.random.below(2) == 0, maker.random.below(2) == 0);
        let (one, other) = (maker.expression(sign_one, width, 4), maker.expression(sign_other, width, 4));
        let text = entity(width, &condition, &one.text, &other.text, seed);
        let files = vec![HandInFile { name: "m.vhd".into(), bytes: text.clone().into() }];
        let checked = check(&exercise(width), &HandIn { files: files.clone(), ..HandIn::default() });
        let table = checked.actual.unwrap_or_else(|| panic!("seed {seed}\n{text}\n{:?}", checked.verdict.findings));
        let bench = format!(
            "module tb; reg [2:0] x; reg [1:0] y; reg [2:0] p; wire [{}:0] f; integer k;\n m dut(.x(x), .y(y), .p(p), .f(f));\n \
             initial for (k = 0; k < 256; k = k + 1) begin {{x, y, p}} = k; #1 $display(\"%b\", f); end\nendmodule\n",
            width - 1
        );
        let with_bench = [files[0].clone(), HandInFile { name: "tb.v".into(), bytes: bench.into() }];
        let request = SimulationRequest { top: Some("tb".into()), ..SimulationRequest::default() };
        let simulated = run_simulation(&with_bench, &request, &Budget::hand_in()).unwrap();
        assert!(simulated.findings.iter().all(|f| f.severity != "stop"), "{text}\n{:?}", simulated.findings);
        let lines: Vec<&str> = simulated.output.lines().filter(|l| !l.contains(':')).collect();
        assert_eq!(lines.len() as u64, ROWS, "seed {seed}\n{text}\n{}", simulated.output);
        for row in 0..ROWS {
            // A division by zero on either side is left to the report that the standard asks for.
            let (Some(holds), Some(one), Some(other)) = (holds(row), (one.value)(row), (other.value)(row)) else {
                continue;
            };
            let wanted = if holds { one } else { other };
            let wanted = format!("{:01$b}", wanted.bits, width as usize);
            let found: String = table.columns.iter().map(|c| c.level(row)).collect();
            assert_eq!(found, wanted, "netlist, seed {seed} row {row:08b}\n{text}");
            assert_eq!(lines[row as usize], wanted, "simulator, seed {seed} row {row:08b}\n{text}");
            compared += 1;
        }
    }
    assert!(compared > 40_000, "{compared}");
}
