//! Tables pasted from a spreadsheet, typed in columns, or kept as CSV: a first line of names, then a row a line.

use crate::rows::MAX_INPUTS;
use crate::table::{TableBuilder, TableError, TruthTable, cell};

/// Most lines and columns of a pasted table.
const MAX_LINES: usize = 1 << 16;
const MAX_COLUMNS: usize = 64;

struct Line {
    number: usize,
    cells: Vec<String>,
    /// How many cells stand before the `|` or the empty column.
    split: Option<usize>,
}

/// Reads a table whose columns are separated by tabs, `;`, `,` or blanks.
///
/// The first line names the columns. Inputs and outputs are told apart by a `|` or an empty column between them; else
/// the inputs are as few columns from the left as it takes for no two lines to be the same. Cells are 0, 1 or `-`;
/// rows that are not given are don't-cares.
///
/// # Errors
/// The first faulty line.
pub fn parse_sheet(text: &str) -> Result<TruthTable, TableError> {
    let lines = split_lines(text)?;
    let Some((head, body)) = lines.split_first() else {
        return Err(TableError::Line(1, "the table is empty; paste one with a line of names on top".into()));
    };
    let fail = |line: &Line, message: String| TableError::Line(line.number, message);
    if head.cells.iter().all(|c| c.chars().all(|c| cell(c).is_ok_and(|_| c.is_ascii_digit() || c == '-'))) {
        return Err(fail(head, "the first line should name the columns; add the names above the rows".into()));
    }
    for (i, name) in head.cells.iter().enumerate() {
        let plain: String = name.chars().filter(|c| !matches!(c, '[' | ']')).collect();
        if let Err(problem) = base::check_port_name(&plain) {
            return Err(fail(head, format!("`{name}` can't name a column: {problem}; rename it")));
        }
        if head.cells[..i].contains(name) {
            return Err(fail(head, format!("two columns are named `{name}`; rename one of them")));
        }
    }
    let width = head.cells.len();
    let mut rows: Vec<(usize, Vec<Option<bool>>)> = Vec::new();
    for line in body {
        let mut parsed = Vec::new();
        for text in &line.cells {
            let mut chars = text.chars();
            match (chars.next(), chars.next()) {
                (Some(c), None) => parsed.push(cell(c).map_err(|m| fail(line, m))?),
                _ => return Err(fail(line, format!("`{text}` is not 0, 1 or -; replace it"))),
            }
        }
        if parsed.len() != width {
            let verb = if parsed.len() < width { "add" } else { "remove" };
            let off = parsed.len().abs_diff(width);
            return Err(fail(line, format!("{} cells where there are {width} columns; {verb} {off}", parsed.len())));
        }
        rows.push((line.number, parsed));
    }
    let inputs = match head.split.or_else(|| body.first().and_then(|l| l.split)) {
        Some(split) => split,
        None => telling_columns(&rows, width),
    };
    if inputs == 0 || inputs >= width {
        let message = "it isn't clear which columns are outputs; put a `|` or an empty column before them".into();
        return Err(fail(head, message));
    }
    if inputs > MAX_INPUTS as usize {
        return Err(TableError::TooManyInputs(inputs));
    }
    let (input_names, output_names) = head.cells.split_at(inputs);
    let mut builder = TableBuilder::new(input_names, output_names);
    for (number, cells) in &rows {
        let (left, right) = cells.split_at(inputs);
        builder.add(left, right).map_err(|m| TableError::Line(*number, m))?;
    }
    Ok(builder.finish())
}

/// The fewest columns from the left in which no two lines can mean the same row.
fn telling_columns(rows: &[(usize, Vec<Option<bool>>)], width: usize) -> usize {
    // Long tables are complete ones: as many rows as their inputs have.
    if rows.len() > 512 {
        return rows.len().next_power_of_two().trailing_zeros() as usize;
    }
    let meets =
        |a: &[Option<bool>], b: &[Option<bool>]| a.iter().zip(b).all(|(a, b)| a.is_none() || b.is_none() || a == b);
    (1..width)
        .find(|k| {
            rows.iter().enumerate().all(|(i, (_, a))| rows[i + 1..].iter().all(|(_, b)| !meets(&a[..*k], &b[..*k])))
        })
        .unwrap_or(width - 1)
}

fn split_lines(text: &str) -> Result<Vec<Line>, TableError> {
    let mut lines = Vec::new();
    for (i, raw) in text.lines().enumerate() {
        let line = raw.split('#').next().unwrap_or("").trim_matches([' ', '\r', '\u{FEFF}']);
        if line.trim().is_empty() {
            continue;
        }
        let line = split_line(line, i + 1);
        if line.cells.len() > MAX_COLUMNS {
            return Err(TableError::Line(
                i + 1,
                format!("{} columns are too many; a table has at most {MAX_COLUMNS}", line.cells.len()),
            ));
        }
        if lines.len() > MAX_LINES {
            return Err(TableError::Line(i + 1, format!("a table has at most {MAX_LINES} lines; shorten it")));
        }
        lines.push(line);
    }
    Ok(lines)
}

fn split_line(text: &str, number: usize) -> Line {
    let separator = ['\t', ';', ','].into_iter().find(|c| text.contains(*c));
    let mut cells = Vec::new();
    let mut split = None;
    let mut push = |cells: &mut Vec<String>, word: &str| {
        let word = word.trim().trim_matches('"');
        if word.is_empty() || word == "|" {
            if !cells.is_empty() {
                split.get_or_insert(cells.len());
            }
        } else {
            cells.push(word.to_owned());
        }
    };
    match separator {
        Some(separator) => {
            for part in text.trim_end_matches(separator).split(separator) {
                push(&mut cells, part);
            }
        }
        None => {
            for word in text.replace('|', " | ").split_whitespace() {
                let bits = word.chars().count() > 1 && word.chars().all(|c| matches!(c, '0' | '1' | '-' | '–'));
                if bits {
                    word.chars().for_each(|c| push(&mut cells, &c.to_string()));
                } else {
                    push(&mut cells, word);
                }
            }
        }
    }
    Line { number, cells, split }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn column(text: &str) -> (Vec<String>, Vec<String>) {
        let table = parse_sheet(text).unwrap();
        (table.inputs.clone(), (0..table.rows()).map(|r| table.output_text(r)).collect())
    }

    #[test]
    fn a_pasted_table_is_read_whatever_separates_its_columns() {
        let wanted = (vec!["a".to_owned(), "b".to_owned()], ["0", "1", "1", "-"].map(str::to_owned).to_vec());
        assert_eq!(column("a\tb\tf\n0\t0\t0\n0\t1\t1\n1\t0\t1\n1\t1\t-\n"), wanted);
        assert_eq!(column("a,b,f\r\n0,0,0\r\n0,1,1\r\n1,0,1\r\n1,1,x\r\n"), wanted);
        assert_eq!(column("a;b;;f\n0;0;;0\n0;1;;1\n1;0;;1\n"), wanted);
        assert_eq!(column("a b | f\n00 | 0\n01 | 1\n10 | 1"), wanted);
    }

    #[test]
    fn without_a_divider_the_fewest_telling_columns_are_the_inputs() {
        let table = parse_sheet("a b s c\n0 0 0 0\n0 1 1 0\n1 0 1 0\n1 1 0 1").unwrap();
        assert_eq!((table.inputs.len(), table.outputs.len()), (2, 2));
    }

    #[test]
    fn faults_are_told_with_their_line() {
        let bad = |t: &str| parse_sheet(t).unwrap_err().to_string();
        assert!(bad("0 0 1\n").contains("should name the columns"));
        assert!(
            bad("a b f\n0 0 1\n0 1\n").starts_with("line 3 of the table: 2 cells where there are 3 columns; add 1")
        );
        assert!(bad("a a f\n").contains("two columns are named `a`"));
        assert!(bad("a b f\n0 7 1\n").contains("`7` is not 0, 1 or -"));
        let many: Vec<String> = (0..70).map(|i| format!("x{i}")).collect();
        assert!(bad(&many.join(",")).contains("70 columns are too many"));
        let wide: Vec<String> = (0..40).map(|i| format!("x{i}")).collect();
        assert!(bad(&format!("{} | f", wide.join(" "))).contains("40 input bits make a table too long"));
    }
}
