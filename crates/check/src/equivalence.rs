//! Are two designs equal? Both are run over every row; names bring their ports together.

use crate::compare::actual_table;
use crate::exercise::ExercisePort;
use crate::languages::{self, Unit};
use crate::names;
use crate::pipeline::HandInFile;
use crate::verdict::{Proof, ProofKind, ProofMethod};
use base::{Budget, Diagnostic, SourceFile, SourceMap};
use design::{Design, Direction};
use logic::{RowSet, parse_pla, row_text};
use serde::Serialize;
use std::collections::BTreeMap;

/// A row on which two designs differ.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Difference {
    /// Input bits of the row in the order of the first design.
    pub row: String,
    /// Names of those bits.
    pub inputs: Vec<String>,
    /// What the first design does: 0, 1, X, Z or - (a don't-care).
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

/// The ports of an elaborated top.
pub(crate) fn ports_of(design: &Design) -> Vec<ExercisePort> {
    let port = |p: &design::Port| ExercisePort {
        name: design.signals[p.signal].name.clone(),
        is_input: p.direction == Direction::In,
        shape: design.signal_shape(p.signal),
    };
    design.scopes[design.top].ports.iter().map(port).collect()
}

/// A design read and elaborated without an exercise.
pub(crate) struct Loaded {
    pub(crate) sources: SourceMap,
    pub(crate) units: Vec<Unit>,
    pub(crate) top: Option<Unit>,
    pub(crate) design: Option<Design>,
    pub(crate) diagnostics: Vec<Diagnostic>,
}

/// Reads files and elaborates the top, chosen or found.
pub(crate) fn load(files: &[HandInFile], top: Option<&str>, budget: &mut Budget) -> Result<Loaded, String> {
    let mut sources = SourceMap::new();
    let mut data = std::collections::BTreeMap::new();
    for file in files {
        if languages::is_data(&file.name) {
            data.insert(languages::bare_name(&file.name), String::from_utf8_lossy(&file.bytes).into_owned());
            continue;
        }
        if languages::language(&file.name).is_none() {
            return Err(format!("`{}` has an ending that is not read; use .v, .sv, .vhd, .vhdl or .pla.", file.name));
        }
        let source = SourceFile::decode(&file.name, &file.bytes)
            .map_err(|_| format!("`{}` is empty, too large or no text file.", file.name))?;
        sources.add(source);
    }
    if sources.files().next().is_none() {
        return Err("There is no design among the files; give one that ends in .v, .sv, .vhd, .vhdl or .pla.".into());
    }
    let parsed = languages::parse(&sources, data, budget);
    let units = parsed.list();
    let mut diagnostics = parsed.diagnostics.clone();
    let mut loaded = Loaded { sources, units, top: None, design: None, diagnostics: Vec::new() };
    if !diagnostics.iter().any(Diagnostic::stops) {
        match names::choose_top(&loaded.units, &[], top) {
            Ok(unit) => {
                let elaborated = languages::elaborate(&parsed, &unit, &[], budget);
                diagnostics.extend(elaborated.diagnostics);
                loaded.design = elaborated.whole.filter(|d| design::validate(d).is_ok());
                loaded.top = Some(unit);
            }
            Err(told) => diagnostics.push(*told),
        }
    }
    loaded.diagnostics = diagnostics;
    Ok(loaded)
}

/// The first finding that stops, as one sentence with its place.
fn first_stop(loaded: &Loaded, extra: &[Diagnostic]) -> Option<String> {
    let told = loaded.diagnostics.iter().chain(extra).find(|d| d.stops())?;
    let place = told.span.map(|s| format!("{}:{}: ", loaded.sources.file(s.file).name, loaded.sources.place(s).line));
    Some(format!("{}{told}", place.unwrap_or_default()))
}

fn table_of(files: &[HandInFile], top: Option<&str>) -> Result<Table, String> {
    if let [file] = files
        && file.name.to_ascii_lowercase().ends_with(".pla")
    {
        let text = String::from_utf8_lossy(&file.bytes);
        let table = parse_pla(&text).map_err(|e| format!("`{}`, {e}.", file.name))?;
        let outputs = table.outputs.into_iter().map(|o| Column {
            unknown: RowSet::empty(o.ones.inputs()),
            name: o.name,
            ones: o.ones,
            dont_care: o.dont_care,
        });
        return Ok(Table { inputs: table.inputs, outputs: outputs.collect() });
    }
    let mut budget = Budget::hand_in();
    let loaded = load(files, top, &mut budget)?;
    if let Some(told) = first_stop(&loaded, &[]) {
        return Err(told);
    }
    let Some(design) = &loaded.design else { return Err("There is no design to compare; check the files.".into()) };
    let ports = ports_of(design);
    let bits = |inputs: bool| -> Vec<String> {
        ports.iter().filter(|p| p.is_input == inputs).flat_map(|p| p.bit_names().collect::<Vec<_>>()).collect()
    };
    let inputs = bits(true);
    if inputs.len() > logic::MAX_INPUTS as usize {
        return Err(format!(
            "{} input bits are more than the {} that every row is run for; compare smaller designs.",
            inputs.len(),
            logic::MAX_INPUTS
        ));
    }
    let synthesis = design::synthesise(design, &mut budget.clone().with_depth(4_000));
    if let Some(told) = first_stop(&loaded, &synthesis.diagnostics) {
        return Err(told);
    }
    if !synthesis.netlist.registers.is_empty() {
        return Err("Clocked designs are not compared by this version; compare their combinational parts.".into());
    }
    let actual = actual_table(&synthesis.netlist, &ports, &mut budget)
        .map_err(|e| format!("The comparison needs more than its budget: {}.", e.0))?;
    let outputs = actual.columns.into_iter().map(|c| Column {
        dont_care: RowSet::empty(c.ones.inputs()),
        name: c.name,
        ones: c.ones,
        unknown: c.unknown,
    });
    Ok(Table { inputs, outputs: outputs.collect() })
}

/// Positions in `theirs` of the names of `ours`, capitals apart.
fn matched(ours: &[String], theirs: &[String], what: &str) -> Result<Vec<usize>, String> {
    let find = |name: &String| {
        let exact = theirs.iter().position(|t| t == name);
        exact.or_else(|| theirs.iter().position(|t| t.eq_ignore_ascii_case(name)))
    };
    for (list, other, side) in [(ours, theirs, "second"), (theirs, ours, "first")] {
        if let Some(missing) = list.iter().find(|n| !other.iter().any(|o| o.eq_ignore_ascii_case(n))) {
            return Err(format!("The {side} design has no {what} `{missing}`; give both the same ports."));
        }
    }
    ours.iter().map(|n| find(n).ok_or_else(|| format!("There is no {what} `{n}`."))).collect()
}

/// Compares two combinational designs of at most 20 input bits, each Verilog, VHDL or one PLA file, on every row.
///
/// Rows that a PLA file leaves free never differ. A bit that is unknown is equal to nothing.
///
/// # Errors
/// One sentence when a design can't be read, or when the two don't have the same ports.
pub fn equivalence(a: (&[HandInFile], Option<&str>), b: (&[HandInFile], Option<&str>)) -> Result<Equivalence, String> {
    let (first, second) = (table_of(a.0, a.1)?, table_of(b.0, b.1)?);
    let inputs = matched(&first.inputs, &second.inputs, "input")?;
    let names = |t: &Table| t.outputs.iter().map(|o| o.name.clone()).collect::<Vec<_>>();
    let outputs = matched(&names(&first), &names(&second), "output")?;
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
            x != '-' && y != '-' && (x != y || x == 'X')
        })
    };
    let counterexample = (0..total).find(|row| differs(*row)).map(|row| {
        let theirs = other_row(row);
        let of = |table: &Table, row: u64| {
            table.outputs.iter().map(|c| (c.name.clone(), c.level(row).to_string())).collect()
        };
        Difference { row: row_text(n, row), inputs: first.inputs.clone(), a: of(&first, row), b: of(&second, theirs) }
    });
    let kind = if counterexample.is_none() { ProofKind::Proved } else { ProofKind::Differs };
    let proof = Proof { kind, method: Some(ProofMethod::Exhaustive), rows: Some(total), cycles: None };
    Ok(Equivalence { equal: Some(counterexample.is_none()), proof, counterexample })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn file(name: &str, text: &str) -> Vec<HandInFile> {
        vec![HandInFile { name: name.into(), bytes: text.into() }]
    }

    fn compare(a: &[HandInFile], b: &[HandInFile]) -> Equivalence {
        equivalence((a, None), (b, None)).unwrap()
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
        let bad = |a: &[HandInFile], b: &[HandInFile]| equivalence((a, None), (b, None)).unwrap_err();
        let v = file("m.v", VERILOG);
        assert!(
            bad(&v, &file("n.v", "module m(input a, output y); assign y = a; endmodule\n"))
                .contains("second design has no input `b`")
        );
        assert!(bad(&v, &file("n.v", "module m(input a output y); endmodule\n")).starts_with("n.v:1: "));
        assert!(bad(&v, &file("n.doc", "x")).contains("an ending that is not read"));
    }
}
