//! The drawn structure: what a reader of a schematic expects to see of a design, whatever language it was written in.
#![allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]

use base::Budget;
use elab::HandInFile;
use exercise::Exercise;
use std::collections::BTreeMap;
use views::{At, DrawnBlock, Structure, StructureRequest, StructureView, inspect, structure, structure_levels};

fn file(name: &str, text: &str) -> Vec<HandInFile> {
    vec![HandInFile { name: name.into(), bytes: text.as_bytes().to_vec() }]
}

fn draw(name: &str, text: &str) -> Structure {
    structure(&file(name, text), &StructureRequest::default(), &Budget::hand_in()).unwrap()
}

/// How many symbols there are of each kind, terminals left out; a gate with a bubble at its output by its inverse name.
fn kinds(drawing: &Structure) -> BTreeMap<String, usize> {
    let mut counts = BTreeMap::new();
    for block in &drawing.blocks {
        if !matches!(block.kind.as_str(), "input" | "output" | "stored" | "constant") {
            let inverted = block.kind != "not" && block.pins.iter().any(|p| !p.input && p.inverted);
            let name = if inverted { format!("n{}", block.kind) } else { block.kind.clone() };
            *counts.entry(name).or_insert(0) += 1;
        }
    }
    counts
}

fn counts(list: &[(&str, usize)]) -> BTreeMap<String, usize> {
    list.iter().map(|(k, n)| ((*k).to_owned(), *n)).collect()
}

/// What the symbols give for levels of the input terminals, read off the drawing alone.
fn read(drawing: &Structure, inputs: &BTreeMap<&str, bool>) -> BTreeMap<String, bool> {
    let mut wires: BTreeMap<u32, bool> = BTreeMap::new();
    let mut found = BTreeMap::new();
    for block in &drawing.blocks {
        let reads: Vec<bool> = block.pins.iter().filter(|p| p.input).map(|p| wires[&p.wire] != p.inverted).collect();
        let level = match block.kind.as_str() {
            "input" => inputs[block.label.as_str()],
            "constant" => block.label == "1",
            "and" => reads.iter().all(|l| *l),
            "or" => reads.iter().any(|l| *l),
            "xor" => reads.iter().filter(|l| **l).count() % 2 == 1,
            "not" => reads[0],
            "choice" => reads[if reads[0] { 1 } else { 2 }],
            "output" => {
                found.insert(block.label.clone(), reads[0]);
                continue;
            }
            _ => {
                let row = reads.iter().fold(0, |row, l| row << 1 | usize::from(*l));
                block.table.as_ref().unwrap().as_bytes()[row] == b'1'
            }
        };
        for pin in block.pins.iter().filter(|p| !p.input) {
            wires.insert(pin.wire, level != pin.inverted);
        }
    }
    found
}

const ADDER_V: &str = "module fa(input a, input b, input c, output s, output k);
  assign s = a ^ b ^ c;
  assign k = (a & b) | (c & (a ^ b));
endmodule
";

const ADDER_VHD: &str = "library ieee; use ieee.std_logic_1164.all;
entity fa is port (a, b, c : in std_logic; s, k : out std_logic); end;
architecture rtl of fa is begin
  s <= a xor b xor c;
  k <= (a and b) or (c and (a xor b));
end;
";

#[test]
fn a_full_adder_is_drawn_with_the_gates_that_were_written_in_both_languages() {
    for (name, text) in [("fa.v", ADDER_V), ("fa.vhd", ADDER_VHD)] {
        let drawing = draw(name, text);
        let parity = drawing.blocks.iter().find(|b| b.kind == "xor" && b.pins.len() == 4);
        assert!(parity.is_some(), "a ^ b ^ c is one gate of three inputs");
        assert_eq!(kinds(&drawing), counts(&[("and", 2), ("or", 1), ("xor", 2)]), "{name}");
        for row in 0..8u32 {
            let levels = [("a", 4), ("b", 2), ("c", 1)].map(|(n, bit)| (n, row & bit != 0));
            let found = read(&drawing, &levels.into());
            let total = row.count_ones();
            assert_eq!((found["s"], found["k"]), (total & 1 == 1, total > 1), "{name}, row {row:03b}");
        }
    }
}

#[test]
fn gates_are_drawn_as_they_were_written_with_their_inverses() {
    let text = "module g(input a, input b, input c, output [5:0] y);
  nand(y[0], a, b);
  nor(y[1], a, b, c);
  xnor(y[2], a, b);
  assign y[3] = ~a;
  assign y[4] = a | ~b;
  assign y[5] = ~(a & ~c);
endmodule
";
    let drawing = draw("g.v", text);
    let wanted = [("nand", 2), ("nor", 1), ("nxor", 1), ("not", 1), ("or", 1)];
    assert_eq!(kinds(&drawing), counts(&wanted));
    let line = |kind: &str| drawing.blocks.iter().find(|b| b.kind == kind).and_then(|b| b.line);
    assert_eq!((line("or"), line("xor")), (Some(6), Some(4)));
    for row in 0..8u32 {
        let [a, b, c] = [4, 2, 1].map(|bit| row & bit != 0);
        let found = read(&drawing, &[("a", a), ("b", b), ("c", c)].into());
        let wanted = [!(a && b), !(a || b || c), a == b, !a, a || !b, !a || c];
        for (k, level) in wanted.into_iter().enumerate() {
            assert_eq!(found[&format!("y[{k}]")], level, "y[{k}] on row {row:03b}");
        }
    }
}

#[test]
fn a_choice_is_a_multiplexer_however_it_is_written() {
    let styles = [
        ("m.v", "module m(input s, input a, input b, output y); assign y = s ? a : b; endmodule"),
        ("m.v", "module m(input s, input a, input b, output reg y);\nalways @* if (s) y = a; else y = b;\nendmodule"),
        (
            "m.vhd",
            "library ieee; use ieee.std_logic_1164.all;
             entity m is port (s, a, b : in std_logic; y : out std_logic); end;
             architecture r of m is begin y <= a when s = '1' else b; end;",
        ),
    ];
    for (name, text) in styles {
        let drawing = draw(name, text);
        assert_eq!(kinds(&drawing).get("choice"), Some(&1), "{text}");
        for row in 0..8u32 {
            let [s, a, b] = [4, 2, 1].map(|bit| row & bit != 0);
            assert_eq!(read(&drawing, &[("s", s), ("a", a), ("b", b)].into())["y"], if s { a } else { b }, "{text}");
        }
    }
}

#[test]
fn an_operator_on_vectors_is_one_symbol() {
    let text = "module add(input [3:0] a, input [3:0] b, output [4:0] s, output eq);
  assign s = a + b;
  assign eq = a == b;
endmodule
";
    let drawing = draw("add.v", text);
    let sums: Vec<&DrawnBlock> = drawing.blocks.iter().filter(|b| b.label == "+").collect();
    assert_eq!(sums.len(), 1);
    let outputs = sums[0].pins.iter().filter(|p| !p.input).count();
    assert_eq!((sums[0].pins.len() - outputs, outputs, sums[0].line), (8, 5, Some(2)));
    assert_eq!(drawing.outputs, ["s[4]", "s[3]", "s[2]", "s[1]", "s[0]", "eq"]);
}

#[test]
fn a_register_is_one_symbol_with_its_clock_and_its_controls() {
    let text = "module count(input clk, input clr, output reg [3:0] q);
  always @(negedge clk or posedge clr)
    if (clr) q <= 0; else q <= q + 1;
endmodule
";
    let drawing = draw("count.v", text);
    assert!(drawing.clocked);
    let registers: Vec<&DrawnBlock> = drawing.blocks.iter().filter(|b| b.kind == "flip_flop").collect();
    assert_eq!(registers.len(), 1);
    let names: Vec<(&str, bool)> = registers[0].pins.iter().map(|p| (p.name.as_str(), p.inverted)).collect();
    let data = [("D3", false), ("D2", false), ("D1", false), ("D0", false), ("clk", true), ("clear", false)];
    assert_eq!(names, data, "the falling edge is a bubble at the clock");
    assert_eq!(registers[0].label, "q");
    let stored: Vec<&str> = drawing.blocks.iter().filter(|b| b.kind == "stored").map(|b| b.label.as_str()).collect();
    assert_eq!(stored.len(), 4);
}

#[test]
fn instances_are_drawn_through() {
    let text = format!(
        "{ADDER_V}module top(input [1:0] a, input [1:0] b, output [2:0] s);
  wire k;
  fa low(a[0], b[0], 1'b0, s[0], k);
  fa high(a[1], b[1], k, s[1], s[2]);
endmodule
"
    );
    let drawing = draw("top.v", &text);
    for row in 0..16u32 {
        let bit = |k: u32| row >> k & 1 == 1;
        let levels = [("a[1]", bit(3)), ("a[0]", bit(2)), ("b[1]", bit(1)), ("b[0]", bit(0))];
        let found = read(&drawing, &levels.into());
        let sum = (row >> 2) + (row & 3);
        for k in 0..3 {
            assert_eq!(found[&format!("s[{k}]")], sum >> k & 1 == 1, "row {row:04b}");
        }
    }
}

const EXERCISE: &str = r#"
format = "zesty-gate/exercise/1"
title = "Hopper interlock"
[[port]]
name = "full"
dir = "in"
[[port]]
name = "gate"
dir = "in"
[[port]]
name = "motor"
dir = "out"
[[port]]
name = "lamp"
dir = "out"
[behaviour]
kind = "expressions"
[behaviour.outputs]
motor = "full & ~gate"
lamp = "full | gate"
"#;

fn exercise() -> Exercise {
    Exercise::alone(EXERCISE).unwrap()
}

#[test]
fn levels_of_a_row_and_what_decides_the_wrong_output() {
    let exercise = exercise();
    let text = "module hopper(input full, input gate, output motor, output lamp);
  assign motor = full & gate;
  assign lamp = full | gate;
endmodule
";
    let files = file("hopper.v", text);
    let request = StructureRequest { exercise: Some(&exercise), ..StructureRequest::default() };
    let drawing = structure(&files, &request, &Budget::hand_in()).unwrap();
    let wire_at = |label: &str| drawing.blocks.iter().find(|b| b.label == label).unwrap().pins[0].wire;
    let level = |levels: &str, label: &str| levels.as_bytes()[wire_at(label) as usize] as char;
    let found = structure_levels(&files, &request, At::Row("11"), &Budget::hand_in()).unwrap();
    let all: String = ["full", "gate", "motor", "lamp"].iter().map(|n| level(&found.levels, n)).collect();
    assert_eq!(all, "1111");
    assert_eq!(found.of, ["motor"]);
    assert!(["full", "gate", "motor"].iter().all(|n| found.deciding.contains(&wire_at(n))));
    assert!(!found.deciding.contains(&wire_at("lamp")));
    let found = structure_levels(&files, &request, At::Row("10"), &Budget::hand_in()).unwrap();
    assert_eq!(found.of, ["motor"], "it is 0 where 1 is expected");
    // An AND that is 0 is decided by the input that is 0.
    assert!(found.deciding.contains(&wire_at("gate")) && !found.deciding.contains(&wire_at("full")));
    // A right row has nothing to explain, unless an output is asked for.
    assert!(structure_levels(&files, &request, At::Row("00"), &Budget::hand_in()).unwrap().of.is_empty());
    let lamp = StructureRequest { output: Some("lamp"), ..request };
    assert_eq!(structure_levels(&files, &lamp, At::Row("00"), &Budget::hand_in()).unwrap().of, ["lamp"]);
}

#[test]
fn a_latch_carries_an_unknown_level() {
    let exercise = exercise();
    let text = "module hopper(input full, input gate, output reg motor, output lamp);
  always @* if (full) motor = ~gate;
  assign lamp = full | gate;
endmodule
";
    let files = file("hopper.v", text);
    let request = StructureRequest { exercise: Some(&exercise), ..StructureRequest::default() };
    let drawing = structure(&files, &request, &Budget::hand_in()).unwrap();
    let found = structure_levels(&files, &request, At::Row("01"), &Budget::hand_in()).unwrap();
    let motor = drawing.blocks.iter().find(|b| b.label == "motor").unwrap().pins[0].wire;
    assert_eq!(found.levels.as_bytes()[motor as usize], b'X');
}

#[test]
fn as_many_look_up_tables_are_drawn_as_are_counted() {
    for (name, text) in [("fa.v", ADDER_V), ("fa.vhd", ADDER_VHD)] {
        let files = file(name, text);
        let request = StructureRequest { view: StructureView::Mapped, ..StructureRequest::default() };
        let drawing = structure(&files, &request, &Budget::hand_in()).unwrap();
        let tables = drawing.blocks.iter().filter(|b| b.kind == "table").count();
        assert_eq!(Some(tables as u64), inspect(&files, None, &Budget::hand_in()).unwrap().resources.unwrap().luts);
        // A full adder takes two tables of three inputs: sum and carry (common practice).
        assert_eq!(tables, 2);
        let text: Vec<&str> = drawing.blocks.iter().filter_map(|b| b.table.as_deref()).collect();
        assert!(text.contains(&"01101001") && text.contains(&"00010111"), "{text:?}");
    }
}

#[test]
fn what_is_too_large_to_draw_is_drawn_for_one_output() {
    let mut text = String::from("module big(input [7:0] a, input b, output any, output far);\n  wire [300:0] x;\n");
    text += "  assign any = a[0] | b;\n  assign x[0] = b;\n";
    for k in 0..300 {
        text += &format!("  assign x[{}] = x[{k}] {} a[{}];\n", k + 1, if k % 2 == 0 { "^" } else { "&" }, k % 8);
    }
    text += "  assign far = x[300];\nendmodule\n";
    let files = file("big.v", &text);
    let told = structure(&files, &StructureRequest::default(), &Budget::hand_in()).unwrap_err().to_string();
    assert!(told.contains("too large") && told.contains("choose one output"), "{told}");
    let one = StructureRequest { output: Some("any"), ..StructureRequest::default() };
    assert_eq!(kinds(&structure(&files, &one, &Budget::hand_in()).unwrap()), counts(&[("or", 1)]));
    let none = StructureRequest { output: Some("nothing"), ..StructureRequest::default() };
    assert!(structure(&files, &none, &Budget::hand_in()).unwrap_err().to_string().contains("no output bit `nothing`"));
}

#[test]
fn a_design_that_cannot_be_read_is_told_by_its_place() {
    let told = structure(
        &file("x.v", "module x(input a, output y);\n assign y = a &;\nendmodule\n"),
        &StructureRequest::default(),
        &Budget::hand_in(),
    );
    assert!(told.unwrap_err().to_string().starts_with("x.v:2: "));
    assert!(structure(&[], &StructureRequest::default(), &Budget::hand_in()).is_err());
}

#[test]
fn a_drawing_is_the_same_each_time() {
    let files = file("fa.v", ADDER_V);
    let first =
        serde_json::to_string(&structure(&files, &StructureRequest::default(), &Budget::hand_in()).unwrap()).unwrap();
    for _ in 0..3 {
        assert_eq!(
            serde_json::to_string(&structure(&files, &StructureRequest::default(), &Budget::hand_in()).unwrap())
                .unwrap(),
            first
        );
    }
}

#[test]
fn an_exclusive_or_of_nands_stays_four_nands() {
    // The textbook circuit (common practice).
    let verilog = "module x(input a, b, output y);\n  wire m, p, q;\n  nand(m, a, b);\n  nand(p, a, m);\n  nand(q, b, m);\n  \
                   nand(y, p, q);\nendmodule\n";
    let operators =
        "module x(input a, b, output y);\n  wire m = ~(a & b);\n  assign y = ~(~(a & m) & ~(b & m));\nendmodule\n";
    let vhdl = "library ieee; use ieee.std_logic_1164.all;
        entity x is port (a, b : in std_logic; y : out std_logic); end;
        architecture r of x is signal m : std_logic;
        begin
          m <= a nand b;
          y <= (a nand m) nand (b nand m);
        end;";
    for (name, text) in [("x.v", verilog), ("x.v", operators), ("x.vhd", vhdl)] {
        let drawing = draw(name, text);
        assert_eq!(kinds(&drawing), counts(&[("nand", 4)]), "{text}");
        let bubbles = drawing.blocks.iter().flat_map(|b| &b.pins).filter(|p| p.input && p.inverted).count();
        assert_eq!(bubbles, 0, "{text}");
        for row in 0..4u32 {
            let [a, b] = [2, 1].map(|bit| row & bit != 0);
            assert_eq!(read(&drawing, &[("a", a), ("b", b)].into())["y"], a != b, "{text}");
        }
    }
}

#[test]
fn a_wire_carries_the_level_of_its_name() {
    // `stop` is an AND, and it is its reader that inverts it.
    let text = "module s(input a, b, c, output y);\n  wire stop = a & b;\n  assign y = c & ~stop;\nendmodule\n";
    let drawing = draw("s.v", text);
    assert_eq!(kinds(&drawing), counts(&[("and", 2)]));
    let bubbles: Vec<(&str, Option<u32>)> = drawing
        .blocks
        .iter()
        .flat_map(|b| b.pins.iter().filter(|p| p.inverted).map(|_| (b.kind.as_str(), b.line)))
        .collect();
    assert_eq!(bubbles, [("and", Some(3))]);
}

#[test]
fn at_a_difference_of_a_clocked_design_the_wires_carry_what_its_registers_hold() {
    let text = r#"format = "zesty-gate/exercise/1"
title = "Tray counter"
[[port]]
name = "clk"
dir = "in"
[[port]]
name = "rst"
dir = "in"
[[port]]
name = "q"
dir = "out"
range = "1:0"
[clock]
port = "clk"
edge = "rising"
[reset]
port = "rst"
active = "high"
kind = "sync"
[behaviour]
kind = "reference"
files = ["r.v"]
"#;
    let reference =
        "module r(input clk, rst, output reg [1:0] q); always @(posedge clk) q <= rst ? 0 : q + 1; endmodule";
    let exercise = Exercise::load(text, &|_| Ok(reference.into())).unwrap();
    // It counts 0, 1, 2 and stays.
    let design = "module t(input clk, rst, output [1:0] q);
  reg [1:0] n;
  wire last = n[1];
  always @(posedge clk)
    if (rst) n <= 0;
    else if (!last) n <= n + 1;
  assign q = n;
endmodule
";
    let files = file("t.v", design);
    let hand_in = check::HandIn { files: files.clone(), ..check::HandIn::default() };
    let verdict = check::check(&exercise, &hand_in).verdict;
    let evidence = verdict.findings.iter().find_map(|f| f.evidence.clone()).unwrap();
    let held: Vec<(&str, &str)> = evidence.state.iter().map(|(n, l)| (n.as_str(), l.as_str())).collect();
    assert_eq!(held, [("n[0]", "0"), ("n[1]", "1")], "2 where 3 is expected");
    assert_eq!(evidence.actual["q[0]"], "0");
    for view in [StructureView::Written, StructureView::Mapped] {
        let request = StructureRequest { exercise: Some(&exercise), view, ..StructureRequest::default() };
        let drawing = structure(&files, &request, &Budget::hand_in()).unwrap();
        let found = structure_levels(&files, &request, At::Moment(&evidence), &Budget::hand_in()).unwrap();
        let level = |label: &str| {
            let block = drawing.blocks.iter().find(|b| b.label == label).unwrap();
            found.levels.as_bytes()[block.pins[0].wire as usize] as char
        };
        assert_eq!((level("n[1]"), level("n[0]"), level("q[1]"), level("q[0]")), ('1', '0', '1', '0'));
        assert_eq!(found.of, ["q[0]"]);
    }
}
