//! The Berkeley PLA format: a table of products, read and written.
//!
//! Read are `.i .o .ilb .ob .p .type (f fd fr fdr) .e .end` and product lines; without `.type` it is `fd`, as in the
//! format's published description. Rows of a `fr` table that no line names are don't-cares.

use crate::cube::Cube;
use crate::rows::{MAX_INPUTS, RowSet};
use crate::table::{OutputColumn, TableError, TruthTable};

/// Most outputs of a file.
const MAX_OUTPUTS: usize = 256;

fn fail<T>(line: usize, message: impl Into<String>) -> Result<T, TableError> {
    Err(TableError::Line(line, message.into()))
}

#[derive(Default)]
struct Header {
    inputs: Option<usize>,
    outputs: Option<usize>,
    input_names: Vec<String>,
    output_names: Vec<String>,
    kind: String,
}

/// Reads a PLA file as a truth table.
///
/// # Errors
/// The first faulty line.
pub fn parse_pla(text: &str) -> Result<TruthTable, TableError> {
    let mut header = Header { kind: "fd".into(), ..Header::default() };
    let mut sets: Option<Vec<[RowSet; 3]>> = None;
    for (i, raw) in text.lines().enumerate() {
        let line = raw.split('#').next().unwrap_or("").trim();
        if line.is_empty() {
            continue;
        }
        if line.starts_with('.') {
            if matches!(line.split_whitespace().next(), Some(".e" | ".end")) {
                break;
            }
            keyword(&mut header, line, i + 1)?;
            continue;
        }
        let (Some(inputs), Some(outputs)) = (header.inputs, header.outputs) else {
            return fail(i + 1, "`.i` and `.o` have to come before the first product; add them");
        };
        let sets = sets.get_or_insert_with(|| {
            let n = u32::try_from(inputs).unwrap_or(MAX_INPUTS);
            vec![[RowSet::empty(n), RowSet::empty(n), RowSet::empty(n)]; outputs]
        });
        product(line, inputs, outputs, sets, i + 1)?;
    }
    let (Some(inputs), Some(outputs)) = (header.inputs, header.outputs) else {
        return fail(1, "`.i` or `.o` is missing; add the numbers of inputs and outputs");
    };
    let n = u32::try_from(inputs).unwrap_or(MAX_INPUTS);
    let sets = sets.unwrap_or_else(|| vec![[RowSet::empty(n), RowSet::empty(n), RowSet::empty(n)]; outputs]);
    let named = |given: &[String], count: usize, letter: char| -> Vec<String> {
        if given.len() == count { given.to_vec() } else { (0..count).map(|i| format!("{letter}{i}")).collect() }
    };
    let columns = named(&header.output_names, outputs, 'f').into_iter().zip(sets);
    let columns = columns.map(|(name, sets)| column(name, sets, &header.kind)).collect::<Result<_, _>>()?;
    Ok(TruthTable { inputs: named(&header.input_names, inputs, 'x'), outputs: columns })
}

fn keyword(header: &mut Header, line: &str, number: usize) -> Result<(), TableError> {
    let mut words = line.split_whitespace();
    let word = words.next().unwrap_or("");
    let rest: Vec<&str> = words.collect();
    let count = |most: usize, what: &str| -> Result<usize, TableError> {
        match rest.first().and_then(|w| w.parse::<usize>().ok()) {
            Some(n) if n <= most && n > 0 => Ok(n),
            _ => fail(number, format!("`{word}` wants a number of {what} from 1 to {most}; correct it")),
        }
    };
    match word {
        ".i" => header.inputs = Some(count(MAX_INPUTS as usize, "inputs")?),
        ".o" => header.outputs = Some(count(MAX_OUTPUTS, "outputs")?),
        ".ilb" => header.input_names = rest.iter().map(|w| (*w).to_owned()).collect(),
        ".ob" => header.output_names = rest.iter().map(|w| (*w).to_owned()).collect(),
        ".p" => {}
        ".type" => match rest.first() {
            Some(kind @ (&"f" | &"fd" | &"fr" | &"fdr")) => header.kind = (*kind).to_owned(),
            _ => return fail(number, "the type is one of f, fd, fr and fdr; correct it"),
        },
        other => return fail(number, format!("`{other}` is not read here; remove the line")),
    }
    Ok(())
}

fn product(
    line: &str,
    inputs: usize,
    outputs: usize,
    sets: &mut [[RowSet; 3]],
    number: usize,
) -> Result<(), TableError> {
    let cells: Vec<char> = line.chars().filter(|c| !c.is_whitespace() && *c != '|').collect();
    if cells.len() != inputs + outputs {
        return fail(
            number,
            format!("{} columns where there are {inputs} inputs and {outputs} outputs; correct the line", cells.len()),
        );
    }
    let (left, right) = cells.split_at(inputs);
    let text: String = left.iter().map(|c| if matches!(c, '2' | 'x' | 'X' | '~') { '-' } else { *c }).collect();
    let Some((cube, _)) = Cube::parse(&text) else {
        return fail(number, "an input is 0, 1 or -; correct the line");
    };
    for (cell, sets) in right.iter().zip(sets) {
        match cell {
            '1' | '4' => sets[0].insert_cube(cube),
            '0' => sets[1].insert_cube(cube),
            '-' | '2' => sets[2].insert_cube(cube),
            '~' | '3' => {}
            other => return fail(number, format!("`{other}` is not 0, 1, - or ~; replace it")),
        }
    }
    Ok(())
}

fn column(name: String, [ones, zeros, dashes]: [RowSet; 3], kind: &str) -> Result<OutputColumn, TableError> {
    let clash = |a: &RowSet, b: &RowSet| a.zip(b, |a, b| a & b).first();
    let (ones, dont_care) = match kind {
        "f" => (ones.clone(), RowSet::empty(ones.inputs())),
        "fd" => (ones.zip(&dashes, |a, d| a & !d), dashes),
        "fr" => {
            if let Some(row) = clash(&ones, &zeros) {
                return Err(contradiction(&name, row));
            }
            let dont_care = ones.zip(&zeros, |a, b| !(a | b));
            (ones, dont_care)
        }
        _ => {
            if let Some(row) = clash(&ones, &zeros) {
                return Err(contradiction(&name, row));
            }
            (ones.zip(&dashes, |a, d| a & !d), dashes)
        }
    };
    Ok(OutputColumn { name, ones, dont_care })
}

fn contradiction(name: &str, row: u64) -> TableError {
    TableError::Line(1, format!("row {row} of `{name}` is both 1 and 0; remove one of the two"))
}

/// Writes a table as a PLA file of type `fd`, a line for each row that is not 0 in every output.
pub fn write_pla(table: &TruthTable) -> String {
    use std::fmt::Write;
    let mut out = format!(".i {}\n.o {}\n", table.inputs.len(), table.outputs.len());
    let names: Vec<&str> = table.outputs.iter().map(|o| o.name.as_str()).collect();
    let _ = writeln!(out, ".ilb {}\n.ob {}\n.type fd", table.inputs.join(" "), names.join(" "));
    for row in 0..table.rows() {
        let cells = table.output_text(row);
        if cells.contains(['1', '-']) {
            let _ = writeln!(out, "{} {cells}", crate::row_text(table.input_count(), row));
        }
    }
    out.push_str(".e\n");
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_file_of_products_becomes_its_table_and_back() {
        let table = parse_pla(".i 3\n.o 2\n.ilb a b c\n.ob f g\n.p 2\n1-0 1~\n-11 -1 # c\n.e\n").unwrap();
        let column: Vec<String> = (0..8).map(|r| table.output_text(r)).collect();
        assert_eq!(column, ["00", "00", "00", "-1", "10", "00", "10", "-1"]);
        assert_eq!(parse_pla(&write_pla(&table)).unwrap(), table);
    }

    #[test]
    fn in_a_table_of_type_fr_what_is_not_named_is_a_dont_care() {
        let table = parse_pla(".i 2\n.o 1\n.type fr\n0- 1\n11 0\n").unwrap();
        let column: String = (0..4).map(|r| table.output_text(r)).collect();
        assert_eq!(column, "11-0");
        assert!(parse_pla(".i 2\n.o 1\n.type fr\n0- 1\n01 0\n").unwrap_err().to_string().contains("both 1 and 0"));
    }

    #[test]
    fn faults_are_told_with_their_line() {
        let bad = |t: &str| parse_pla(t).unwrap_err().to_string();
        assert!(bad(".i 2\n.o 1\n0 1\n").starts_with("line 3 of the table: 2 columns where there are 2 inputs"));
        assert!(bad(".i 200\n").contains("from 1 to 20"));
        assert!(bad("00 1\n").contains("`.i` and `.o` have to come"));
        assert!(bad(".i 1\n.o 1\n0 z\n").contains("`z` is not 0, 1, - or ~"));
    }
}
