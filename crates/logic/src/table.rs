//! Truth tables: named input bits, and per output the rows where it is 1 and the rows nobody cares about.

use crate::cube::Cube;
use crate::rows::{MAX_INPUTS, RowSet, row_text};

/// What an output should be on a row.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum RowValue {
    /// 0.
    Zero,
    /// 1.
    One,
    /// Either.
    DontCare,
}

impl RowValue {
    /// `0`, `1` or `-`.
    pub fn to_char(self) -> char {
        match self {
            RowValue::Zero => '0',
            RowValue::One => '1',
            RowValue::DontCare => '-',
        }
    }
}

/// One output column. A row in `dont_care` counts as such whatever `ones` says; the constructor keeps them apart.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct OutputColumn {
    /// Name of the output bit, such as `lamp` or `lamp[3]`.
    pub name: String,
    /// Rows where it is 1.
    pub ones: RowSet,
    /// Rows where it may be either.
    pub dont_care: RowSet,
}

/// A truth table over at most [`MAX_INPUTS`] input bits, the first the most significant of the row number.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TruthTable {
    /// Names of the input bits.
    pub inputs: Vec<String>,
    /// Output columns.
    pub outputs: Vec<OutputColumn>,
}

/// Why a table can't be made.
#[derive(Clone, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum TableError {
    /// More inputs than [`MAX_INPUTS`]; with how many.
    TooManyInputs(usize),
    /// A row number past the last row; with output, row and number of inputs.
    RowOutOfRange(String, u64, u32),
    /// A row that is both a term and a don't-care; with output and row.
    TermAndDontCare(String, u64),
    /// A line of a typed table is faulty; with its line from 1 and the reason.
    Line(usize, String),
}

impl std::fmt::Display for TableError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            TableError::TooManyInputs(n) => {
                write!(f, "{n} input bits make a table too long to list; use at most {MAX_INPUTS}")
            }
            TableError::RowOutOfRange(output, row, inputs) => write!(
                f,
                "`{output}` lists row {row}, but {inputs} input bits have rows 0 to {} only",
                (1u64 << inputs) - 1
            ),
            TableError::TermAndDontCare(output, row) => {
                write!(f, "`{output}` lists row {row} both as a term and as a don't-care; keep one of the two")
            }
            TableError::Line(line, reason) => write!(f, "line {line} of the table: {reason}"),
        }
    }
}

impl std::error::Error for TableError {}

impl OutputColumn {
    /// From lists of rows; `terms` are the ones, or the zeros when `maxterms`.
    ///
    /// # Errors
    /// When a row doesn't exist or is listed both as a term and as a don't-care.
    pub fn from_terms(
        name: &str,
        inputs: u32,
        terms: &[u64],
        dont_cares: &[u64],
        maxterms: bool,
    ) -> Result<Self, TableError> {
        let mut listed = RowSet::empty(inputs);
        let mut dont_care = RowSet::empty(inputs);
        for (rows, set) in [(terms, &mut listed), (dont_cares, &mut dont_care)] {
            for row in rows {
                if *row >= set.rows() {
                    return Err(TableError::RowOutOfRange(name.to_owned(), *row, inputs));
                }
                set.insert(*row);
            }
        }
        if let Some(row) = listed.zip(&dont_care, |a, b| a & b).first() {
            return Err(TableError::TermAndDontCare(name.to_owned(), row));
        }
        let ones = if maxterms { listed.zip(&dont_care, |a, b| !(a | b)) } else { listed };
        Ok(Self { name: name.to_owned(), ones, dont_care })
    }

    /// What the output should be on a row.
    pub fn value(&self, row: u64) -> RowValue {
        if self.dont_care.contains(row) {
            RowValue::DontCare
        } else if self.ones.contains(row) {
            RowValue::One
        } else {
            RowValue::Zero
        }
    }

    /// Rows where it is 0.
    pub fn zeros(&self) -> RowSet {
        self.ones.zip(&self.dont_care, |a, b| !(a | b))
    }
}

impl TruthTable {
    /// Number of input bits.
    pub fn input_count(&self) -> u32 {
        u32::try_from(self.inputs.len()).unwrap_or(u32::MAX)
    }

    /// Number of rows: 2^inputs.
    pub fn rows(&self) -> u64 {
        1 << self.inputs.len()
    }

    /// The output bits of a row as text of 0, 1 and -.
    pub fn output_text(&self, row: u64) -> String {
        self.outputs.iter().map(|o| o.value(row).to_char()).collect()
    }
}

/// Reads a typed table: a row a line, input bits, `|`, output bits, each 0, 1 or `-`; `#` starts a comment, blanks
/// don't count. A `-` among the inputs stands for both values. Rows that are not given are don't-cares.
///
/// # Errors
/// The first faulty line: short or long, a strange character, or a contradiction to an earlier line.
pub fn parse_rows(text: &str, inputs: &[String], outputs: &[String]) -> Result<TruthTable, TableError> {
    if inputs.len() > MAX_INPUTS as usize {
        return Err(TableError::TooManyInputs(inputs.len()));
    }
    let mut builder = TableBuilder::new(inputs, outputs);
    for (i, line) in text.lines().enumerate() {
        let fail = |reason: String| TableError::Line(i + 1, reason);
        let Some((left, right)) = sides(line).map_err(fail)? else { continue };
        let left = cells(&left, inputs.len(), "input").map_err(fail)?;
        let right = cells(&right, outputs.len(), "output").map_err(fail)?;
        builder.add(&left, &right).map_err(fail)?;
    }
    Ok(builder.finish())
}

/// A line of a typed table: its input cells and its output cells; `None` is a `-`.
pub type CubeRow = (Vec<Option<bool>>, Vec<Option<bool>>);

/// Most lines of a table that is not walked row by row.
const MAX_CUBES: usize = 4_096;

/// Reads a typed table of any number of inputs, as [`parse_rows`] does, line by line.
///
/// # Errors
/// The first faulty line: short or long, a strange character, or a contradiction to an earlier line.
pub fn parse_cube_rows(text: &str, inputs: usize, outputs: &[String]) -> Result<Vec<CubeRow>, TableError> {
    let mut list: Vec<(usize, CubeRow)> = Vec::new();
    for (i, line) in text.lines().enumerate() {
        let fail = |reason: String| TableError::Line(i + 1, reason);
        let Some((left, right)) = sides(line).map_err(fail)? else { continue };
        let (left, right) =
            (cells(&left, inputs, "input").map_err(fail)?, cells(&right, outputs.len(), "output").map_err(fail)?);
        for (at, (other_left, other_right)) in &list {
            let meet = left.iter().zip(other_left).all(|(a, b)| a.is_none() || b.is_none() || a == b);
            let differs = right.iter().zip(other_right).position(|(a, b)| a != b);
            if let (true, Some(k)) = (meet, differs) {
                let name = outputs.get(k).map_or("", String::as_str);
                return Err(fail(format!("`{name}` is given another value in line {at}; keep one of the two")));
            }
        }
        if list.len() == MAX_CUBES {
            return Err(fail(format!("the table has more than {MAX_CUBES} lines; write a reference design instead")));
        }
        list.push((i + 1, (left, right)));
    }
    Ok(list.into_iter().map(|(_, row)| row).collect())
}

/// The two sides of a line without blanks and comment; `None` for an empty one.
fn sides(line: &str) -> Result<Option<(String, String)>, String> {
    let line: String = line.split('#').next().unwrap_or("").chars().filter(|c| !c.is_whitespace()).collect();
    if line.is_empty() {
        return Ok(None);
    }
    match line.split_once('|') {
        Some((left, right)) => Ok(Some((left.to_owned(), right.to_owned()))),
        None => Err("the `|` between inputs and outputs is missing; write `0110 | 1`".into()),
    }
}

/// Collects the lines of a typed table.
pub(crate) struct TableBuilder<'a> {
    inputs: &'a [String],
    outputs: &'a [String],
    /// For each output the rows that are 1, the rows that are `-`, and all rows that were given.
    given: Vec<[RowSet; 3]>,
}

impl<'a> TableBuilder<'a> {
    /// At most [`MAX_INPUTS`] inputs.
    pub(crate) fn new(inputs: &'a [String], outputs: &'a [String]) -> Self {
        let n = u32::try_from(inputs.len()).unwrap_or(MAX_INPUTS);
        let empty = [RowSet::empty(n), RowSet::empty(n), RowSet::empty(n)];
        Self { inputs, outputs, given: vec![empty; outputs.len()] }
    }

    /// Adds a line; `None` is a dash: both values of an input, a don't-care of an output.
    pub(crate) fn add(&mut self, left: &[Option<bool>], right: &[Option<bool>]) -> Result<(), String> {
        let n = u32::try_from(self.inputs.len()).unwrap_or(MAX_INPUTS);
        let mut cube = Cube::UNIVERSE;
        for (bit, cell) in (0..n).rev().zip(left) {
            if let Some(value) = cell {
                cube = cube.with(bit, *value);
            }
        }
        for ((name, [ones, dashes, seen]), cell) in self.outputs.iter().zip(&mut self.given).zip(right) {
            if seen.meets_cube(cube) {
                let same = |row: &u64| {
                    let before = if dashes.contains(*row) { None } else { Some(ones.contains(*row)) };
                    !seen.contains(*row) || before == *cell
                };
                if let Some(row) = cube.rows(n).find(|row| !same(row)) {
                    return Err(format!(
                        "row {} of `{name}` contradicts an earlier line; keep one of the two",
                        row_text(n, row)
                    ));
                }
            }
            seen.insert_cube(cube);
            match cell {
                Some(true) => ones.insert_cube(cube),
                None => dashes.insert_cube(cube),
                Some(false) => {}
            }
        }
        Ok(())
    }

    /// The table; rows that no line gave are don't-cares.
    pub(crate) fn finish(self) -> TruthTable {
        let columns = self.outputs.iter().zip(self.given).map(|(name, [ones, dashes, seen])| OutputColumn {
            name: name.clone(),
            ones,
            dont_care: dashes.zip(&seen, |dash, seen| dash | !seen),
        });
        TruthTable { inputs: self.inputs.to_vec(), outputs: columns.collect() }
    }
}

fn cells(text: &str, wanted: usize, side: &str) -> Result<Vec<Option<bool>>, String> {
    let count = text.chars().count();
    if count != wanted {
        let verb = if count < wanted { "add" } else { "remove" };
        let off = count.abs_diff(wanted);
        return Err(format!("{count} {side} bits where there are {wanted}; {verb} {off}"));
    }
    text.chars().map(cell).collect()
}

/// One cell of a typed table.
pub(crate) fn cell(c: char) -> Result<Option<bool>, String> {
    match c {
        '0' => Ok(Some(false)),
        '1' => Ok(Some(true)),
        '-' | '–' | '—' | 'x' | 'X' | 'd' | 'D' | '*' => Ok(None),
        other => Err(format!("`{other}` is not 0, 1 or -; replace it")),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn names(list: &[&str]) -> Vec<String> {
        list.iter().map(|s| (*s).to_owned()).collect()
    }

    #[test]
    fn a_dash_among_the_inputs_is_both_rows_and_missing_rows_are_dont_cares() {
        let table = parse_rows("0- | 1\n10 | 0 # idle", &names(&["a", "b"]), &names(&["f"])).unwrap();
        let column: String = (0..4).map(|r| table.output_text(r)).collect();
        assert_eq!(column, "110-");
    }

    #[test]
    fn a_short_row_and_a_contradiction_are_told_with_their_line() {
        let bad = |text: &str| parse_rows(text, &names(&["a", "b"]), &names(&["f"])).unwrap_err().to_string();
        assert_eq!(bad("00|1\n0|1"), "line 2 of the table: 1 input bits where there are 2; add 1");
        assert!(bad("0-|1\n01|0").contains("row 01 of `f` contradicts"));
        assert!(bad("00|2").contains("`2` is not 0, 1 or -"));
    }

    #[test]
    fn maxterms_are_the_zeros() {
        let column = OutputColumn::from_terms("f", 2, &[0, 3], &[1], true).unwrap();
        let text: String = (0..4).map(|r| column.value(r).to_char()).collect();
        assert_eq!(text, "0-10");
        assert!(OutputColumn::from_terms("f", 2, &[4], &[], false).is_err());
        assert!(OutputColumn::from_terms("f", 2, &[1], &[1], false).is_err());
    }
}
