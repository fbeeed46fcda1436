//! The Berkeley logic interchange format: examples in the words of its definition (University of California, 1992), the
//! smallest of the ISCAS-85 circuits, and what is written is read back the same.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use design::{Lit, Netlist, read_blif, write_blif};

fn read(text: &str) -> Netlist {
    read_blif(text, None, &mut Budget::hand_in()).unwrap_or_else(|e| panic!("{}: {}", e.line, e.message))
}

/// The outputs on every row, the first input the most significant; registers count as further inputs.
fn rows(net: &Netlist) -> Vec<String> {
    let roots: Vec<Lit> = net.outputs.iter().map(|o| o.value).collect();
    let inputs = net.input_count();
    assert!(inputs <= 6);
    let mut out = vec![String::new(); 1 << inputs];
    let level = |k: u32, _: u64| (0..64u64).fold(0, |w, row| w | (row >> (inputs - 1 - k) & 1) << row);
    net.simulate(&roots, 1, &mut Budget::hand_in(), level, |_, values| {
        for (row, text) in out.iter_mut().enumerate() {
            text.extend(values.iter().map(|v| if v >> row & 1 == 1 { '1' } else { '0' }));
        }
    })
    .unwrap();
    out
}

const C17: &str = ".model c17\n.inputs 1 2 3 6 7\n.outputs 22 23\n.names 1 3 10\n0- 1\n-0 1\n.names 3 6 11\n0- 1\n-0 1\n\
    .names 2 11 16\n0- 1\n-0 1\n.names 11 7 19\n0- 1\n-0 1\n.names 10 16 22\n0- 1\n-0 1\n.names 16 19 23\n0- 1\n-0 1\n.end\n";

#[test]
fn the_smallest_benchmark_circuit_does_what_its_six_nands_do() {
    // ISCAS-85 c17 (Brglez and Fujiwara 1985), its published netlist.
    let found = rows(&read(C17));
    for (row, text) in found.iter().enumerate() {
        let [n1, n2, n3, n6, n7] = [4, 3, 2, 1, 0].map(|k| row >> k & 1 == 1);
        let (n10, n11) = (!(n1 && n3), !(n3 && n6));
        let (n16, n19) = (!(n2 && n11), !(n11 && n7));
        let wanted: String = [!(n10 && n16), !(n16 && n19)].map(|l| if l { '1' } else { '0' }).iter().collect();
        assert_eq!(*text, wanted, "row {row}");
    }
}

#[test]
fn tables_list_ones_or_zeros_or_are_constants() {
    let text = ".model t # a comment\n.inputs a \\\n  b c\n.outputs or3 nand2 one zero wire\n.names a b c or3\n1-- 1\n-1- 1\n--1 1\n\
        .names a b nand2\n11 0\n.names one\n1\n.names zero\n.names c wire\n1 1\n.end\n";
    let found = rows(&read(text));
    assert_eq!(found[0], "01100");
    assert_eq!(found[0b110], "10100");
    assert_eq!(found[0b001], "11101");
}

#[test]
fn models_are_put_in_the_place_of_their_uses() {
    let text = ".model sum\n.inputs x y z\n.outputs s c\n.subckt half a=x b=y s=t c=c1\n.subckt half a=t b=z s=s c=c2\n\
        .names c1 c2 c\n1- 1\n-1 1\n.end\n.model half\n.inputs a b\n.outputs s c\n.names a b s\n10 1\n01 1\n.names a b c\n11 1\n.end\n";
    let found = rows(&read(text));
    for (row, text) in found.iter().enumerate() {
        let ones = row.count_ones();
        assert_eq!(*text, format!("{}{}", ones & 1, ones >> 1), "row {row}");
    }
    let half = read_blif(text, Some("half"), &mut Budget::hand_in()).unwrap();
    assert_eq!(rows(&half), ["00", "10", "10", "01"]);
}

#[test]
fn latches_become_registers_with_their_edge_and_first_level() {
    let text = ".model t\n.inputs clk d\n.outputs q p\n.latch d q re clk 1\n.latch q p fe clk 3\n.end\n";
    let net = read(text);
    let registers: Vec<(&str, bool, Option<bool>)> =
        net.registers.iter().map(|r| (r.name.as_str(), r.rising, r.initial)).collect();
    assert_eq!(registers, [("q", true, Some(true)), ("p", false, None)]);
    assert_eq!(net.registers[1].next, net.registers[0].value);
    assert_eq!(net.outputs[1].unknown, net.registers[1].unknown, "what has no first level is unknown");
}

#[test]
fn what_is_written_is_read_back_the_same() {
    for text in [C17, ".inputs a b\n.outputs y z\n.names a b y\n00 1\n.names z\n1\n"] {
        let net = read(text);
        let again = write_blif(&net, "again", &|port, _| port.to_owned()).unwrap();
        assert_eq!(rows(&read(&again)), rows(&net), "{again}");
    }
    let counter = ".inputs clk en\n.outputs q\n.latch d q re clk 0\n.names en q d\n10 1\n01 1\n";
    let again = write_blif(&read(counter), "again", &|port, _| port.to_owned()).unwrap();
    assert!(again.contains(".latch d0 r0 re clk 0"), "{again}");
    assert_eq!(read(&again).registers.len(), 1);
}

#[test]
fn faults_are_told_with_their_line() {
    let told = |text: &str| {
        let e = read_blif(text, None, &mut Budget::hand_in()).unwrap_err();
        format!("{}: {}", e.line, e.message)
    };
    let head = ".inputs a b\n.outputs y\n";
    assert!(told(&format!("{head}.names a b y\n1 1\n")).starts_with("4: `1` is no cube of 2 inputs"));
    assert!(told(&format!("{head}.names a b y\n11 2\n")).contains("`2` is no level"));
    assert!(told(&format!("{head}.names a b y\n11 1\n00 0\n")).starts_with("5: A table lists the rows of one level"));
    assert!(told(&format!("{head}11 1\n")).contains("stands in no table"));
    assert!(told(head).contains("`y` is driven by nothing"));
    assert!(told(&format!("{head}.names a z y\n11 1\n.names y z\n1 1\n")).contains("depends on itself"));
    assert!(told(&format!("{head}.names a y\n1 1\n.names b y\n1 1\n")).starts_with("5: `y` is driven twice"));
    assert!(told(&format!("{head}.latch a y\n")).contains("without a clock"));
    assert!(told(&format!("{head}.latch a y ah b 0\n")).contains("level-sensitive"));
    assert!(told(&format!("{head}.mlatch x\n")).starts_with("3: `.mlatch` is not read"));
    assert!(told(&format!("{head}.subckt more p=a\n")).contains("There is no model `more`"));
    assert!(told("").contains("no model"));
    // A circle of models, and one that doubles at each step, end with a sentence.
    assert!(told(".model a\n.outputs y\n.subckt a y=y\n.end\n").contains("circle"));
    let doubling: String = (0..40)
        .map(|n| format!(".model m{n}\n.outputs y\n.subckt m{0} y=y\n.subckt m{0} y=z\n.end\n", n + 1))
        .collect();
    assert!(told(&doubling).contains("too deep") || told(&doubling).contains("no model"));
}

#[test]
fn what_the_format_cannot_say_is_refused_in_a_sentence() {
    let latch = read(".inputs clk d\n.outputs q\n.latch d q re clk 0\n");
    let mut gated = latch.clone();
    gated.registers[0].controls.push(design::AsyncControl {
        condition: gated.inputs[1].value,
        value: Lit::FALSE,
        unknown: Lit::FALSE,
    });
    let name = |port: &str, _: u32| port.to_owned();
    assert!(write_blif(&gated, "t", &name).unwrap_err().to_string().contains("set or reset at once"));
    let mut floating = latch;
    floating.outputs[0].floating = Lit::TRUE;
    assert!(write_blif(&floating, "t", &name).unwrap_err().to_string().contains("may be unknown or float"));
}
