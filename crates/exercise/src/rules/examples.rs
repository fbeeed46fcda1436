//! Rules by example: what each looks at, and a whole design that breaks it where it is set.

use super::means::Matter;

/// A rule by example.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RuleExample {
    /// The rule as exercise files write it: `construct:case`, `max_gates`, `form:sop`.
    pub rule: String,
    /// What it looks at, in a sentence.
    pub meaning: String,
    /// A file that breaks it where it is forbidden (or the limit or form asked for), by its name's ending in Verilog or VHDL.
    pub file: &'static str,
    /// The text of that file.
    pub code: String,
}

/// Construct, what it is, a file, and the text between the head and the end of the example.
const CONSTRUCTS: [(&str, &str, &str, &str); 15] = [
    (
        "case",
        "A `case` statement, in either language.",
        "m.v",
        "reg:always @* case (a)\n    2'd0: y = b;\n    default: y = a;\n  endcase",
    ),
    (
        "if",
        "An `if` statement within a process or `always` block.",
        "m.v",
        "reg:always @* if (a[0]) y = b; else y = a;",
    ),
    (
        "when-else",
        "A concurrent assignment with `when` and `else`, in VHDL.",
        "m.vhd",
        "y <= a when b(0) = '1' else b;",
    ),
    ("with-select", "A selected assignment, in VHDL.", "m.vhd", "with b(0) select y <= a when '1', b when others;"),
    ("conditional", "The operator `?:`, in Verilog.", "m.v", "wire:assign y = a[0] ? b : a;"),
    (
        "for",
        "A `for` loop; loops that only unroll hardware in `generate` are told apart.",
        "m.v",
        "reg:integer i;\n  always @* for (i = 0; i < 2; i = i + 1) y[i] = a[i];",
    ),
    (
        "while",
        "A `while` or `repeat` loop.",
        "m.v",
        "reg:integer i;\n  always @* begin\n    i = 0;\n    while (i < 2) begin y[i] = a[i]; i = i + 1; end\n  end",
    ),
    (
        "generate",
        "A `generate` construct, in either language.",
        "m.v",
        "wire:genvar k;\n  generate for (k = 0; k < 2; k = k + 1) begin : bits\n    assign y[k] = a[k];\n  end endgenerate",
    ),
    ("process", "A process in VHDL, an `always` block in Verilog.", "m.v", "reg:always @* y = a & b;"),
    (
        "function",
        "A function that the design declares.",
        "m.v",
        "wire:function [1:0] both(input [1:0] p, q); both = p & q; endfunction\n  assign y = both(a, b);",
    ),
    (
        "procedure",
        "A procedure in VHDL, a task in Verilog.",
        "m.v",
        "reg:task both(input [1:0] p, q, output [1:0] r); r = p & q; endtask\n  always @* both(a, b, y);",
    ),
    ("assignment", "A concurrent assignment: `assign` in Verilog.", "m.v", "wire:assign y = a & b;"),
    (
        "gate",
        "A gate primitive of Verilog, as `and g0(y, a, b);`.",
        "m.v",
        "wire:and g0(y[0], a[0], b[0]);\n  and g1(y[1], a[1], b[1]);",
    ),
    ("initial", "An `initial` block.", "m.v", "reg:initial y = 2'd0;\n  always @* y = a & b;"),
    ("delay", "A delay: `#5` in Verilog, `after` in VHDL.", "m.v", "wire:assign #5 y = a & b;"),
];

/// Operator, and an example of it.
const OPERATORS: [(&str, &str, &str); 18] = [
    ("and", "m.v", "wire:assign y = a & b;"),
    ("or", "m.v", "wire:assign y = a | b;"),
    ("xor", "m.v", "wire:assign y = a ^ b;"),
    ("nand", "m.vhd", "y <= a nand b;"),
    ("nor", "m.vhd", "y <= a nor b;"),
    ("xnor", "m.v", "wire:assign y = a ~^ b;"),
    ("not", "m.v", "wire:assign y = ~a;"),
    ("+", "m.v", "wire:assign y = a + b;"),
    ("-", "m.v", "wire:assign y = a - b;"),
    ("*", "m.v", "wire:assign y = a * b;"),
    ("/", "m.v", "wire:assign y = a / 2'd2;"),
    ("mod", "m.v", "wire:assign y = a % 2'd2;"),
    ("rem", "m.vhd", "y <= std_logic_vector(unsigned(a) rem 2);"),
    ("**", "m.v", "wire:assign y = 2 ** a[0];"),
    ("<<", "m.v", "wire:assign y = a << 1;"),
    (">>", "m.v", "wire:assign y = a >> 1;"),
    ("==", "m.v", "wire:assign y = {1'b0, a == b};"),
    ("<", "m.v", "wire:assign y = {1'b0, a < b};"),
];

/// Limits and forms, what they count, and an expression of y = (a + b) c that is over the limit or not of the form.
const BUILT: [(&str, &str, &str); 9] = [
    ("max_gates", "Gates as they are written, each once; inverters at the inputs don't count.", "(a & c) | (b & c)"),
    ("max_literals", "Inputs, inverted or not, at gates: each place counts.", "(a & c) | (b & c)"),
    (
        "max_levels",
        "Gates one after the other on the longest way from an input to the output.",
        "((a & c) | (b & c)) & c",
    ),
    ("form:sop", "A sum of products: one OR of ANDs of inputs.", "(a | b) & c"),
    ("form:pos", "A product of sums: one AND of ORs of inputs.", "(a & c) | (b & c)"),
    ("form:nand-nand", "Two levels of NAND gates; inputs may be inverted.", "(a & c) | (b & c)"),
    ("form:nor-nor", "Two levels of NOR gates; inputs may be inverted.", "(a | b) & c"),
    ("form:nand-only", "NAND gates only; an inverter is a NAND with joined inputs.", "~(~(a & c) & ~(b & c)) & c"),
    ("form:nor-only", "NOR gates only; an inverter is a NOR with joined inputs.", "~(~(a | b) | ~c) & c"),
];

/// A whole file around an example of two vectors.
fn vectors(file: &str, body: &str) -> String {
    match body.split_once(':').filter(|_| file.ends_with(".v")) {
        Some((kind, body)) => {
            let reg = if kind == "reg" { "reg " } else { "" };
            format!("module m(input [1:0] a, b, output {reg}[1:0] y);\n  {body}\nendmodule\n")
        }
        None => format!(
            "library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nentity m is\n  port (a, b : in \
             std_logic_vector(1 downto 0);\n        y : out std_logic_vector(1 downto 0));\nend entity;\narchitecture \
             rtl of m is\nbegin\n  {body}\nend architecture;\n"
        ),
    }
}

/// Every rule by example: what may be forbidden, limits, and forms.
pub fn rule_examples() -> Vec<RuleExample> {
    let of = |rule: &str, meaning: String, file, code| RuleExample { rule: rule.to_owned(), meaning, file, code };
    let latch = vectors("m.v", "reg:always @* if (a[0]) y = b;");
    let loops = vectors("m.v", "wire:assign y[0] = ~(a[0] & y[1]);\n  assign y[1] = ~(b[0] & y[0]);");
    let mut list = vec![
        of("latch", "Storage that a level opens: an output that keeps its level on some inputs.".into(), "m.v", latch),
        of("comb-loop", "A level that depends on itself without a flip-flop between.".into(), "m.v", loops),
    ];
    for (name, meaning, file, body) in CONSTRUCTS {
        list.push(of(&format!("construct:{name}"), meaning.into(), file, vectors(file, body)));
    }
    for (name, file, body) in OPERATORS {
        let spellings = Matter::spellings(name).iter().map(|s| format!("`{s}`")).collect::<Vec<_>>().join(", ");
        let meaning = format!(
            "The operator in any of its spellings: {spellings}. Sums in ranges and heads of loops don't count."
        );
        list.push(of(&format!("operator:{name}"), meaning, file, vectors(file, body)));
    }
    for name in Matter::gates() {
        let ports = if ["not", "buf"].contains(&name) { "y[{}], a[{}]" } else { "y[{}], a[{}], b[{}]" };
        let gate = |bit: &str| format!("{name} g{bit}({});", ports.replace("{}", bit));
        let body = format!("wire:{}\n  {}", gate("0"), gate("1"));
        let meaning = "A gate of this kind, written as a primitive or as an operator.".to_owned();
        list.push(of(&format!("gate:{name}"), meaning, "m.v", vectors("m.v", &body)));
    }
    for (rule, meaning, expression) in BUILT {
        let code = format!("module m(input a, b, c, output y);\n  assign y = {expression};\nendmodule\n");
        list.push(of(rule, meaning.into(), "m.v", code));
    }
    list
}
