//! Are two designs equal? Both are run over every row, proved by SAT, or followed over their states; names bring their
//! ports together.

use crate::not_shown::{NotShown, asked};
use base::{Budget, Diagnostic};
use design::{Lit, Netlist};
use elab::{ExercisePort, HandInFile, Loaded, NetlistKind, actual_table, ample, load, machine_of, ports_of};
use logic::{RowSet, Shape, parse_pla, row_text};
use prove::{Combinational, Equality, Joined, Machine, Moment, Protocol, Reset};
use serde::Serialize;
use std::collections::BTreeMap;
use verdict::{Proof, ProofBudget, ProofKind, ProofMethod};

/// A row on which two designs differ.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Difference {
    /// Input bits of the row in the order of the first design; of the last clock cycle for clocked designs.
    pub row: String,
    /// The clock cycles that lead there, for clocked designs.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub cycles: Vec<CycleLevels>,
    /// Names of those bits.
    pub inputs: Vec<String>,
    /// What the first design does: 0, 1, X, Z or - (a don't-care).
    pub a: BTreeMap<String, String>,
    /// What the second one does.
    pub b: BTreeMap<String, String>,
}

/// A clock cycle on the way to a difference.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct CycleLevels {
    /// Clock edges since the start.
    pub cycle: u64,
    /// Input bits without the clock.
    pub inputs: BTreeMap<String, String>,
    /// What the first design does.
    pub a: BTreeMap<String, String>,
    /// What the second one does.
    pub b: BTreeMap<String, String>,
}

/// What a comparison found.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Equivalence {
    /// Equal, or not; `None` when it can't be told.
    pub equal: Option<bool>,
    /// How strong that is.
    pub proof: Proof,
    /// The first row that differs.
    pub counterexample: Option<Difference>,
    /// What has to be said beside it, such as that some bits are unknown in both.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

/// One output bit over all rows.
struct Column {
    name: String,
    ones: RowSet,
    unknown: RowSet,
    dont_care: RowSet,
}

impl Column {
    fn level(&self, row: u64) -> char {
        if self.dont_care.contains(row) {
            '-'
        } else if self.unknown.contains(row) {
            'X'
        } else if self.ones.contains(row) {
            '1'
        } else {
            '0'
        }
    }
}

struct Table {
    inputs: Vec<String>,
    outputs: Vec<Column>,
}

/// The first finding that stops, as one sentence with its place.
fn first_stop(loaded: &Loaded, extra: &[Diagnostic]) -> Option<String> {
    let told = loaded.diagnostics.iter().chain(extra).find(|d| d.stops())?;
    let place = told.span.map(|s| format!("{}:{}: ", loaded.sources.file(s.file).name, loaded.sources.place(s).line));
    Some(format!("{}{told}", place.unwrap_or_default()))
}

/// A design to compare: a table from a PLA file, or a netlist.
enum Side {
    Table(Table),
    Net(Vec<ExercisePort>, Box<Netlist>),
}

fn read_side(files: &[HandInFile], top: Option<&str>, budget: &Budget) -> Result<Side, NotShown> {
    ample(|| side_of(files, top, budget)).unwrap_or_else(|fault| Err(fault.into()))
}

fn side_of(files: &[HandInFile], top: Option<&str>, budget: &Budget) -> Result<Side, NotShown> {
    if let [file] = files
        && file.name.to_ascii_lowercase().ends_with(".pla")
    {
        let text = String::from_utf8_lossy(&file.bytes);
        let table = parse_pla(&text).map_err(|e| NotShown::Sources(format!("`{}`, {e}.", file.name)))?;
        let outputs = table.outputs.into_iter().map(|o| Column {
            unknown: RowSet::empty(o.ones.inputs()),
            name: o.name,
            ones: o.ones,
            dont_care: o.dont_care,
        });
        return Ok(Side::Table(Table { inputs: table.inputs, outputs: outputs.collect() }));
    }
    if let [file] = files
        && file.name.to_ascii_lowercase().ends_with(".blif")
    {
        let text = String::from_utf8_lossy(&file.bytes);
        let net = design::read_blif(&text, top, &mut budget.clone())
            .map_err(|e| NotShown::Sources(format!("{}:{}: {}", file.name, e.line, e.message)))?;
        let port = |name: &String, is_input| ExercisePort { name: name.clone(), is_input, shape: Shape::SCALAR };
        let ports =
            net.inputs.iter().map(|i| port(&i.port, true)).chain(net.outputs.iter().map(|o| port(&o.port, false)));
        return Ok(Side::Net(ports.collect(), Box::new(net)));
    }
    let mut budget = budget.clone();
    let loaded = load(files, top, &mut budget)?;
    if let Some(told) = first_stop(&loaded, &[]) {
        return Err(NotShown::Sources(told));
    }
    let Some(design) = &loaded.design else {
        return Err(NotShown::Sources("There is no design to compare; check the files.".into()));
    };
    let synthesis = elab::synthesise(design, NetlistKind::WithLatches, &budget);
    if let Some(told) = first_stop(&loaded, &synthesis.diagnostics) {
        return Err(NotShown::Sources(told));
    }
    Ok(Side::Net(ports_of(design), Box::new(synthesis.netlist)))
}

fn bit_names(ports: &[ExercisePort], inputs: bool) -> Vec<String> {
    ports.iter().filter(|p| p.is_input == inputs).flat_map(|p| p.bit_names().collect::<Vec<_>>()).collect()
}

impl Side {
    /// Is it to be compared row by row?
    fn has_rows(&self) -> bool {
        match self {
            Side::Table(_) => true,
            Side::Net(ports, net) => {
                net.registers.is_empty() && bit_names(ports, true).len() <= logic::MAX_INPUTS as usize
            }
        }
    }

    fn table(self, budget: &Budget) -> Result<Table, NotShown> {
        let (ports, netlist) = match self {
            Side::Table(table) => return Ok(table),
            Side::Net(ports, netlist) => (ports, netlist),
        };
        let actual = actual_table(&netlist, &ports, &mut budget.clone())
            .map_err(|e| NotShown::TooLarge(format!("The comparison needs more than its budget: {}.", e.0)))?;
        let outputs = actual.columns.into_iter().map(|c| Column {
            dont_care: RowSet::empty(c.ones.inputs()),
            name: c.name,
            ones: c.ones,
            unknown: c.unknown,
        });
        Ok(Table { inputs: bit_names(&ports, true), outputs: outputs.collect() })
    }
}

/// Positions in `theirs` of the names of `ours`, capitals apart.
fn matched(ours: &[String], theirs: &[String], what: &str) -> Result<Vec<usize>, NotShown> {
    let find = |name: &String| {
        let exact = theirs.iter().position(|t| t == name);
        exact.or_else(|| theirs.iter().position(|t| t.eq_ignore_ascii_case(name)))
    };
    for (list, other, side) in [(ours, theirs, "second"), (theirs, ours, "first")] {
        if let Some(missing) = list.iter().find(|n| !other.iter().any(|o| o.eq_ignore_ascii_case(n))) {
            return asked(format!("The {side} design has no {what} `{missing}`; give both the same ports."));
        }
    }
    ours.iter()
        .map(|n| find(n).ok_or_else(|| NotShown::Asked(format!("The other design has no {what} `{n}`."))))
        .collect()
}

/// A design as one file of the Berkeley logic interchange format.
///
/// # Errors
/// One sentence when it can't be read, or has something that the format can't say.
pub fn blif_of(files: &[HandInFile], top: Option<&str>, budget: &Budget) -> Result<String, NotShown> {
    match read_side(files, top, budget)? {
        Side::Table(_) => asked("A table can't be built; give Verilog, VHDL or BLIF."),
        Side::Net(ports, net) => {
            let name = |port: &str, position: u32| {
                let found = ports.iter().find(|p| p.name == port);
                found.map_or_else(|| port.to_owned(), |p| p.shape.bit_name(&p.name, position))
            };
            design::write_blif(&net, top.unwrap_or("design"), &name).map_err(|e| NotShown::Asked(e.to_string()))
        }
    }
}

/// Compares two designs, each Verilog, VHDL, one BLIF or one PLA file: combinational ones on every row, or by SAT where there are
/// more than 20 input bits; clocked ones over their states.
///
/// Rows that a PLA file leaves free never differ. Bits that are unknown in both are equal, and a note says so.
///
/// # Errors
/// One sentence when a design can't be read, or when the two don't have the same ports.
pub fn equivalence(
    a: (&[HandInFile], Option<&str>),
    b: (&[HandInFile], Option<&str>),
    budget: &Budget,
) -> Result<Equivalence, NotShown> {
    let (first, second) = (read_side(a.0, a.1, budget)?, read_side(b.0, b.1, budget)?);
    match (first, second) {
        (Side::Net(ports, net), Side::Net(other_ports, other))
            if !Side::has_rows(&Side::Net(ports.clone(), net.clone()))
                || !Side::has_rows(&Side::Net(other_ports.clone(), other.clone())) =>
        {
            machines((&ports, &net), (&other_ports, &other), budget)
        }
        (first, second) if first.has_rows() && second.has_rows() => {
            by_rows(&first.table(budget)?, &second.table(budget)?)
        }
        _ => asked("A PLA file can be compared with a combinational design of at most 20 input bits only."),
    }
}

fn by_rows(first: &Table, second: &Table) -> Result<Equivalence, NotShown> {
    let inputs = matched(&first.inputs, &second.inputs, "input")?;
    let names = |t: &Table| t.outputs.iter().map(|o| o.name.clone()).collect::<Vec<_>>();
    let outputs = matched(&names(first), &names(second), "output")?;
    let n = u32::try_from(first.inputs.len()).unwrap_or(u32::MAX);
    let total = 1u64 << n;
    // Bit `i` of our row number, from the left, is bit `inputs[i]` of theirs.
    let other_row = |row: u64| {
        inputs.iter().enumerate().fold(0u64, |theirs, (i, place)| {
            let bit = row >> (n as usize - 1 - i) & 1;
            theirs | bit << (n as usize - 1 - place)
        })
    };
    let differs = |row: u64| {
        let theirs = other_row(row);
        first.outputs.iter().zip(&outputs).any(|(column, place)| {
            let (x, y) = (column.level(row), second.outputs[*place].level(theirs));
            x != '-' && y != '-' && x != y
        })
    };
    let counterexample = (0..total).find(|row| differs(*row)).map(|row| {
        let theirs = other_row(row);
        let of = |table: &Table, row: u64| {
            table.outputs.iter().map(|c| (c.name.clone(), c.level(row).to_string())).collect()
        };
        Difference {
            row: row_text(n, row),
            cycles: Vec::new(),
            inputs: first.inputs.clone(),
            a: of(first, row),
            b: of(second, theirs),
        }
    });
    let unknown = (0..total).filter(|row| first.outputs.iter().any(|c| c.level(*row) == 'X')).count();
    let note = match unknown {
        _ if counterexample.is_some() => None,
        0 => None,
        1 => Some("On one row an output is unknown in both.".to_owned()),
        n => Some(format!("On {n} rows an output is unknown in both.")),
    };
    let kind = if counterexample.is_none() { ProofKind::Proved } else { ProofKind::Differs };
    let proof = Proof { kind, method: Some(ProofMethod::Exhaustive), rows: Some(total), cycles: None, budget: None };
    Ok(Equivalence { equal: Some(counterexample.is_none()), proof, counterexample, note })
}

/// The clock, the edge that counts and the reset of two clocked designs, found from what their registers wait for.
struct Timing {
    clock: Option<String>,
    rising: bool,
    reset: Option<(String, bool)>,
}

fn input_of(ports: &[ExercisePort], net: &Netlist, lit: Lit) -> Option<(String, bool)> {
    let bit = net.inputs.iter().find(|i| i.value == lit || i.value == !lit)?;
    let port = ports.iter().find(|p| p.name == bit.port)?;
    Some((port.shape.bit_name(&port.name, bit.position), bit.value == lit))
}

fn timing(ports: &[ExercisePort], net: &Netlist) -> Result<Timing, NotShown> {
    let mut timing = Timing { clock: None, rising: true, reset: None };
    for register in &net.registers {
        let Some((name, plain)) = input_of(ports, net, register.clock) else { continue };
        if timing.clock.as_ref().is_some_and(|c| *c != name) {
            return asked("The design has several clocks; compare designs with one clock.");
        }
        timing.rising = register.rising == plain;
        timing.clock = Some(name);
        let control = register.controls.iter().find_map(|c| input_of(ports, net, c.condition));
        timing.reset = timing.reset.or(control);
    }
    if net.registers.iter().any(|r| !r.clock.is_const()) && timing.clock.is_none() {
        return asked("No input of the design clocks its registers; let one of them be the clock.");
    }
    if timing.reset.is_none() && net.registers.iter().any(|r| r.initial.is_none()) {
        // A synchronous reset is known by its name only (common practice).
        let named = bit_names(ports, true).into_iter().find(|n| {
            let name = n.to_ascii_lowercase();
            ["rst", "reset", "clr", "clear"].iter().any(|w| name.contains(w))
        });
        timing.reset = named.map(|n| {
            let low = n.to_ascii_lowercase();
            let active_low = low.ends_with("_n") || low.starts_with('n') || low.ends_with("_b") || low.ends_with("_l");
            (n, !active_low)
        });
    }
    Ok(timing)
}

/// The same difference with the two designs in their places.
fn turned(found: prove::Found) -> prove::Found {
    let turn = |step: prove::Step| {
        let free = |c: char| if c == '-' { 'X' } else { c };
        let (expected, actual) = (step.expected.iter().map(|c| free(*c)).collect(), step.actual.clone());
        prove::Step { expected: actual, actual: expected, ..step }
    };
    let difference =
        found.difference.map(|d| prove::Difference { steps: d.steps.into_iter().map(turn).collect(), ..d });
    prove::Found { difference, ..found }
}

/// Steps that comparing two clocked designs may take.
const MACHINE_STEPS: u64 = 20_000_000_000;

/// Compares two machines. Without a clock, what is unknown in one has to be unknown in the other, too.
fn both_ways(
    (left, right): (&Machine<'_>, &Machine<'_>),
    protocol: &Protocol,
    has_clock: bool,
    budget: &mut Budget,
) -> Result<prove::Found, base::Exhausted> {
    let found = prove::compare(left, right, protocol, budget)?;
    if has_clock || found.difference.is_some() {
        return Ok(found);
    }
    // What is unknown in the first is free in a comparison.
    let back = prove::compare(right, left, protocol, budget)?;
    Ok(if back.difference.is_some() { turned(back) } else { found })
}

/// Compares wide or clocked designs.
fn machines(
    a: (&[ExercisePort], &Netlist),
    b: (&[ExercisePort], &Netlist),
    budget: &Budget,
) -> Result<Equivalence, NotShown> {
    let (mut inputs, outputs) = (bit_names(a.0, true), bit_names(a.0, false));
    matched(&inputs, &bit_names(b.0, true), "input")?;
    matched(&outputs, &bit_names(b.0, false), "output")?;
    let (first, second) = (timing(a.0, a.1)?, timing(b.0, b.1)?);
    let clock = first.clock.clone().or_else(|| second.clock.clone());
    if let (Some(one), Some(other)) = (&first.clock, &second.clock)
        && !one.eq_ignore_ascii_case(other)
    {
        return asked(format!(
            "The clock is `{one}` in the first design and `{other}` in the second; give it one name."
        ));
    }
    inputs.retain(|i| clock.as_ref().is_none_or(|c| !c.eq_ignore_ascii_case(i)));
    let left = machine_of(a.1, a.0, &inputs, &outputs, clock.as_deref());
    let right = machine_of(b.1, b.0, &inputs, &outputs, clock.as_deref());
    let count = u32::try_from(inputs.len()).unwrap_or(u32::MAX);
    let names = |levels: Vec<String>, list: &[String]| -> BTreeMap<String, String> {
        list.iter().cloned().zip(levels).collect()
    };
    let mut budget = budget.clone().with_steps(MACHINE_STEPS);
    let has_state = [a.1, b.1].iter().any(|net| !net.registers.is_empty());
    if clock.is_none() && !has_state {
        let joined = Joined::new(&left, &right, count);
        let (found, method, used) = conform::compared(&joined, &budget);
        let rows = (method == ProofMethod::Exhaustive).then(|| 1 << count);
        let proof = |kind| Proof { kind, method: Some(method), rows, cycles: None, budget: Some(used) };
        return Ok(match found {
            Combinational::Equal => {
                Equivalence { equal: Some(true), proof: proof(ProofKind::Proved), counterexample: None, note: None }
            }
            Combinational::Unknown => {
                Equivalence { equal: None, proof: proof(ProofKind::None), counterexample: None, note: None }
            }
            Combinational::Differs(levels) => {
                let seen = |machine: &Machine<'_>| names(prove::outputs_at(machine, &levels), &outputs);
                let row = levels.iter().map(|l| if *l { '1' } else { '0' }).collect();
                let (a, b) = (seen(&left), seen(&right));
                let difference = Difference { row, cycles: Vec::new(), inputs, a, b };
                Equivalence {
                    equal: Some(false),
                    proof: proof(ProofKind::Differs),
                    counterexample: Some(difference),
                    note: None,
                }
            }
        });
    }
    let reset = first.reset.or(second.reset).and_then(|(name, active_high)| {
        let input = inputs.iter().position(|i| i.eq_ignore_ascii_case(&name))?;
        Some(Reset { input: u32::try_from(input).ok()?, active_high })
    });
    let rising = if first.clock.is_some() { first.rising } else { second.rising };
    let protocol = Protocol { inputs: count, rising, reset };
    let found = both_ways((&left, &right), &protocol, clock.is_some(), &mut budget)
        .map_err(|e| NotShown::TooLarge(format!("The comparison needs more than its budget: {}.", e.0)))?;
    let (equal, kind, method, cycles) = match found.equality {
        Equality::Proved { .. } => (Some(true), ProofKind::Proved, ProofMethod::States, None),
        Equality::Induced => (Some(true), ProofKind::Proved, ProofMethod::Induction, None),
        Equality::Matched { cycles } => (None, ProofKind::Matched, ProofMethod::Simulation, Some(cycles)),
        Equality::Differs => (Some(false), ProofKind::Differs, ProofMethod::States, None),
    };
    let counterexample = found.difference.and_then(|difference| {
        let text = |levels: &[char]| levels.iter().map(char::to_string).collect::<Vec<_>>();
        let bits = |levels: &[bool]| levels.iter().map(|l| if *l { '1' } else { '0' }).collect::<Vec<char>>();
        let steps = difference.steps.iter().map(|step| CycleLevels {
            cycle: step.cycle + u64::from(step.moment != Moment::BeforeEdge),
            inputs: names(text(&bits(&step.inputs)), &inputs),
            a: names(text(&step.expected), &outputs),
            b: names(text(&step.actual), &outputs),
        });
        let cycles: Vec<CycleLevels> = steps.collect();
        let last = cycles.last()?.clone();
        let row = bits(&difference.steps.last()?.inputs).into_iter().collect();
        Some(Difference { row, cycles, inputs: inputs.clone(), a: last.a, b: last.b })
    });
    let used = ProofBudget::between(MACHINE_STEPS, budget.steps_left());
    let proof = Proof { kind, method: Some(method), rows: Some(found.compared), cycles, budget: Some(used) };
    Ok(Equivalence { equal, proof, counterexample, note: None })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn file(name: &str, text: &str) -> Vec<HandInFile> {
        vec![HandInFile { name: name.into(), bytes: text.into() }]
    }

    fn compare(a: &[HandInFile], b: &[HandInFile]) -> Equivalence {
        equivalence((a, None), (b, None), &Budget::hand_in()).unwrap()
    }

    const VERILOG: &str = "module m(input a, b, c, output y); assign y = a & b | c; endmodule\n";
    const VHDL: &str = "library ieee; use ieee.std_logic_1164.all;\nentity m is port (c, B, A : in std_logic; Y : out std_logic); end;\n\
        architecture x of m is begin y <= c or (a and b); end;\n";

    #[test]
    fn one_function_in_three_languages_is_equal_whatever_the_order_of_ports() {
        let pla = file("m.pla", ".i 3\n.o 1\n.ilb a b c\n.ob y\n11- 1\n--1 1\n.e\n");
        for (a, b) in [
            (file("m.v", VERILOG), file("m.vhd", VHDL)),
            (pla.clone(), file("m.v", VERILOG)),
            (file("m.vhd", VHDL), pla),
        ] {
            let found = compare(&a, &b);
            assert_eq!((found.equal, found.proof.rows), (Some(true), Some(8)));
        }
    }

    #[test]
    fn a_difference_shows_its_row_and_dont_cares_never_differ() {
        let other = VERILOG.replace("a & b | c", "a & b ^ c");
        let found = compare(&file("m.v", VERILOG), &file("n.v", &other));
        let difference = found.counterexample.unwrap();
        assert_eq!((found.equal, difference.row.as_str()), (Some(false), "111"));
        assert_eq!((difference.a["y"].as_str(), difference.b["y"].as_str()), ("1", "0"));
        let free = file("m.pla", ".i 3\n.o 1\n.ilb a b c\n.ob y\n110 1\n0-1 1\n101 1\n111 -\n.e\n");
        assert_eq!(compare(&free, &file("n.v", &other)).equal, Some(true));
    }

    #[test]
    fn what_cannot_be_compared_is_told_in_one_sentence() {
        let bad = |a: &[HandInFile], b: &[HandInFile]| {
            equivalence((a, None), (b, None), &Budget::hand_in()).unwrap_err().to_string()
        };
        let v = file("m.v", VERILOG);
        assert!(
            bad(&v, &file("n.v", "module m(input a, output y); assign y = a; endmodule\n"))
                .contains("second design has no input `b`")
        );
        assert!(bad(&v, &file("n.v", "module m(input a output y); endmodule\n")).starts_with("n.v:1: "));
        assert!(bad(&v, &file("n.doc", "x")).contains("an ending that is not read"));
    }

    /// Ripple carry against carry look-ahead, as in any handbook of digital design (common practice).
    fn adders() -> [String; 3] {
        let ports = "input [31:0] a, b, input ci, output [31:0] s, output co";
        let ripple = format!(
            "module add({ports}); wire [32:0] c; assign c[0] = ci, co = c[32]; genvar i; generate\n\
             for (i = 0; i < 32; i = i + 1) begin : g assign s[i] = a[i] ^ b[i] ^ c[i]; \
             assign c[i+1] = a[i] & b[i] | c[i] & (a[i] ^ b[i]); end endgenerate endmodule\n"
        );
        let ahead = format!(
            "module four(input [3:0] a, b, input ci, output [3:0] s, output g, p);\n\
             wire [3:0] G = a & b, P = a ^ b, c; assign c[0] = ci, c[1] = G[0] | P[0] & ci, \
             c[2] = G[1] | P[1] & G[0] | P[1] & P[0] & ci,\n\
             c[3] = G[2] | P[2] & G[1] | P[2] & P[1] & G[0] | P[2] & P[1] & P[0] & ci;\n\
             assign s = P ^ c, g = G[3] | P[3] & G[2] | P[3] & P[2] & G[1] | P[3] & P[2] & P[1] & G[0], p = &P; endmodule\n\
             module add({ports}); wire [7:0] G, P; wire [8:0] c; assign c[0] = ci, co = c[8]; genvar i; generate\n\
             for (i = 0; i < 8; i = i + 1) begin : g four u(a[4*i+3:4*i], b[4*i+3:4*i], c[i], s[4*i+3:4*i], G[i], P[i]); \
             assign c[i+1] = G[i] | P[i] & c[i]; end endgenerate endmodule\n"
        );
        let plus = format!("module add({ports}); assign {{co, s}} = a + b + ci; endmodule\n");
        [ripple, ahead, plus]
    }

    #[test]
    fn wide_adders_of_three_kinds_are_proved_equal_by_sat() {
        let files = adders().map(|text| file("add.v", &text));
        for (a, b) in [(0, 1), (1, 2), (0, 2)] {
            let found = compare(&files[a], &files[b]);
            assert_eq!((found.equal, found.proof.method), (Some(true), Some(ProofMethod::Sat)));
        }
    }

    #[test]
    fn a_wide_difference_is_found_and_shown_on_a_sparse_row() {
        let [ripple, ahead, _] = adders();
        // One carry of the look-ahead is forgotten: it shows where a carry runs through two bits.
        let wrong = ahead.replace("| P[1] & P[0] & ci,", ",");
        assert_ne!(ahead, wrong);
        let found = compare(&file("a.v", &ripple), &file("b.v", &wrong));
        let difference = found.counterexample.unwrap();
        assert_eq!(found.equal, Some(false));
        assert!(difference.row.matches('1').count() <= 8, "{}", difference.row);
        assert_ne!(difference.a, difference.b);
    }

    #[test]
    fn clocked_designs_are_compared_over_their_states() {
        let verilog = "module ctr(input clk, rst, en, output [3:0] q); reg [3:0] r; always @(posedge clk)\n\
            if (rst) r <= 0; else if (en) r <= r == 9 ? 0 : r + 1; assign q = r; endmodule\n";
        let vhdl = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;\n\
            entity ctr is port (clk, rst, en : in std_logic; q : out std_logic_vector(3 downto 0)); end;\n\
            architecture a of ctr is signal n : unsigned(3 downto 0); begin process (clk) begin\n\
            if rising_edge(clk) then if rst = '1' then n <= \"0000\"; elsif en = '1' then\n\
            if n = 9 then n <= \"0000\"; else n <= n + 1; end if; end if; end if; end process;\n\
            q <= std_logic_vector(n); end;\n";
        let same = compare(&file("c.v", verilog), &file("c.vhd", vhdl));
        assert_eq!((same.equal, same.proof.method), (Some(true), Some(ProofMethod::States)));
        let other = compare(&file("c.v", verilog), &file("c.vhd", &vhdl.replace("n = 9", "n = 10")));
        let difference = other.counterexample.unwrap();
        assert_eq!((other.equal, difference.cycles.last().map(|c| c.cycle)), (Some(false), Some(10)));
        let falling = compare(&file("c.v", verilog), &file("d.v", &verilog.replace("posedge", "negedge")));
        assert_eq!(falling.equal, Some(false));
    }

    #[test]
    fn designs_go_through_the_interchange_format_and_stay_equal() {
        let counter = "module c(input clk, rst, en, output [3:0] q, output last); reg [3:0] r = 4'd0;\n\
            always @(posedge clk) if (rst) r <= 0; else if (en) r <= r == 11 ? 0 : r + 1;\n\
            assign q = r, last = r == 11; endmodule\n";
        let [ripple, ahead, _] = adders();
        for text in [VERILOG, counter, &ripple, &ahead] {
            let verilog = file("d.v", text);
            let blif = file("d.blif", &blif_of(&verilog, None, &Budget::hand_in()).unwrap());
            let found = compare(&verilog, &blif);
            assert_eq!(found.equal, Some(true), "{text}");
        }
        let other =
            file("d.blif", &blif_of(&file("d.v", &VERILOG.replace('|', "^")), None, &Budget::hand_in()).unwrap());
        let found = compare(&file("d.v", VERILOG), &other);
        assert_eq!((found.equal, found.counterexample.unwrap().row.as_str()), (Some(false), "111"));
        let at_once = counter.replace("posedge clk", "posedge clk or posedge rst");
        assert!(
            blif_of(&file("d.v", &at_once), None, &Budget::hand_in())
                .unwrap_err()
                .to_string()
                .contains("set or reset at once")
        );
        let broken = equivalence(
            (&file("d.blif", ".inputs a\n.outputs y\n"), None),
            (&file("d.v", VERILOG), None),
            &Budget::hand_in(),
        );
        assert_eq!(broken.unwrap_err().to_string(), "d.blif:1: `y` is driven by nothing; add its table.");
    }
}
