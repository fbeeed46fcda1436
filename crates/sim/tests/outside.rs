//! Dumps against a reader and a writer of other people: the `vcd` crate.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use logic::{Level, LogicVector};
use sim::{Change, Trace, TracedSignal, read_vcd, record_vcd, write_vcd};
use std::collections::BTreeMap;
use std::io::BufReader;
use vcd::{Command, Parser, ScopeItem, SimulationCommand, TimescaleUnit, Value, VarType, Writer};

fn vector(text: &str) -> LogicVector {
    LogicVector::from_levels_msb(text.chars().filter_map(Level::from_char))
}

fn signal(scopes: &[&str], name: &str, range: &str, initial: &str) -> TracedSignal {
    TracedSignal {
        scopes: scopes.iter().map(|s| (*s).to_owned()).collect(),
        name: name.into(),
        range: range.into(),
        width: initial.len() as u32,
        literals: Vec::new(),
        initial: vector(initial),
    }
}

fn change(time: u64, signal: u32, value: &str) -> Change {
    Change { time, signal, value: vector(value) }
}

/// The vector in a `vcd` value, extended to a width as clause 18.2.1 of IEEE 1364-2005 says.
fn extended(value: &[Value], width: usize) -> String {
    let sign = |v: &Value| v.to_string().to_uppercase();
    let first = value.first().map(sign).unwrap();
    let fill = if first == "1" { "0".to_owned() } else { first };
    fill.repeat(width - value.len()) + &value.iter().map(sign).collect::<String>()
}

#[test]
fn another_reader_reads_what_is_written() {
    let trace = Trace {
        precision: 1_000,
        signals: vec![
            signal(&["packhouse"], "clk", "", "0"),
            signal(&["packhouse"], "gate", "[2:1]", "01"),
            signal(&["packhouse", "dut"], "crates", "[7:0]", "XXXXXXXX"),
            signal(&["packhouse", "dut"], "lid", "", "Z"),
        ],
        changes: vec![
            change(5_000, 0, "1"),
            change(5_000, 2, "00000101"),
            change(10_000, 0, "0"),
            change(10_000, 2, "ZZZZ0000"),
            change(12_000, 3, "X"),
            change(13_000, 2, "0XXXXXXX"),
            change(15_000, 2, "10000000"),
            change(15_000, 1, "11"),
        ],
        end: 20_000,
        cut: false,
    };
    let text = write_vcd(&trace);
    let mut parser = Parser::new(BufReader::new(text.as_bytes()));
    let header = parser.parse_header().unwrap();
    assert_eq!(header.timescale, Some((1, TimescaleUnit::PS)));
    let mut names = BTreeMap::new();
    let mut stack: Vec<(Vec<String>, &ScopeItem)> = header.items.iter().map(|i| (Vec::new(), i)).collect();
    while let Some((path, item)) = stack.pop() {
        match item {
            ScopeItem::Scope(scope) => {
                let path: Vec<String> = path.iter().cloned().chain([scope.identifier.clone()]).collect();
                stack.extend(scope.items.iter().map(|i| (path.clone(), i)));
            }
            ScopeItem::Var(var) => {
                let mut name = path.join(".") + "." + &var.reference;
                if let Some(index) = &var.index {
                    name += &index.to_string();
                }
                names.insert(var.code, (name, var.size));
            }
            _ => {}
        }
    }
    let mut found: Vec<(u64, String, String)> = Vec::new();
    let mut now = 0;
    for command in parser {
        match command.unwrap() {
            Command::Timestamp(time) => now = time,
            Command::ChangeScalar(code, value) => {
                found.push((now, names[&code].0.clone(), value.to_string().to_uppercase()));
            }
            Command::ChangeVector(code, value) => {
                let (name, size) = &names[&code];
                let value: Vec<Value> = value.iter().collect();
                found.push((now, name.clone(), extended(&value, *size as usize)));
            }
            _ => {}
        }
    }
    let name = |i: usize| {
        let s = &trace.signals[i];
        format!("{}.{}{}", s.scopes.join("."), s.name, s.range)
    };
    let initial = trace.signals.iter().enumerate().map(|(i, s)| (0, name(i), s.initial.to_string()));
    let later = trace.changes.iter().map(|c| (c.time / 1_000, name(c.signal as usize), c.value.to_string()));
    assert_eq!(found, initial.chain(later).collect::<Vec<_>>());
    assert_eq!(read_vcd(&text).unwrap(), trace, "and so do we");
}

#[test]
fn what_another_writer_writes_is_read() {
    let mut out = Vec::new();
    let mut writer = Writer::new(&mut out);
    writer.timescale(10, TimescaleUnit::NS).unwrap();
    writer.add_module("hopper").unwrap();
    let full = writer.add_wire(1, "full").unwrap();
    let level = writer.add_var(VarType::Reg, 4, "level", None).unwrap();
    writer.upscope().unwrap();
    writer.enddefinitions().unwrap();
    writer.begin(SimulationCommand::Dumpvars).unwrap();
    writer.change_scalar(full, Value::V0).unwrap();
    writer.change_vector(level, [Value::X, Value::X, Value::X, Value::X]).unwrap();
    writer.end().unwrap();
    writer.timestamp(3).unwrap();
    writer.change_vector(level, [Value::V0, Value::V1, Value::Z, Value::V1]).unwrap();
    writer.timestamp(7).unwrap();
    writer.change_scalar(full, Value::V1).unwrap();
    writer.timestamp(9).unwrap();
    let text = String::from_utf8(out).unwrap();
    let trace = read_vcd(&text).unwrap();
    assert_eq!(trace.end, 90_000_000);
    let heads: Vec<(&str, u32)> = trace.signals.iter().map(|s| (s.name.as_str(), s.width)).collect();
    assert_eq!(heads, [("full", 1), ("level", 4)]);
    assert_eq!(trace.changes, [change(30_000_000, 1, "01Z1"), change(70_000_000, 0, "1")]);
    let level = record_vcd(&text).unwrap().window(1, 0, trace.end, 100);
    assert_eq!((level.times, level.values.concat()), (vec![0, 30_000_000], "XXXX01Z1".to_owned()));
}

/// Written by pyvcd, a writer of the Python package index; four independent readers agree about it.
#[test]
fn a_dump_with_reals_unknown_and_floating_bits_is_read() {
    let trace = read_vcd(include_str!("outside/sample.vcd")).unwrap();
    let of = |name: &str| trace.signals.iter().position(|s| s.name == name).unwrap() as u32;
    let changes = |name: &str| -> Vec<(u64, String)> {
        let all = trace.changes.iter().filter(|c| c.signal == of(name));
        all.map(|c| (c.time / 1_000_000, c.value.to_string())).collect()
    };
    let pairs = |list: &[(u64, &str)]| list.iter().map(|(t, v)| (*t, (*v).to_owned())).collect::<Vec<_>>();
    assert_eq!(changes("d")[..3], pairs(&[(10, "0001"), (20, "0010"), (30, "0011")]));
    assert_eq!(changes("q"), pairs(&[(35, "1X0Z"), (55, "1001")]));
    assert_eq!(trace.signals[of("q") as usize].initial.to_string(), "ZZZZ");
    assert_eq!(changes("clk").iter().map(|(t, _)| *t).take(4).collect::<Vec<_>>(), [5, 10, 15, 20]);
    assert!(trace.signals.iter().all(|s| s.name != "volts"), "real numbers are passed over");
}
