//! The table of a hand-in as text for the store: a letter 0, 1, X or Z a row, a line an output.

use elab::ActualTable;

/// `name=01X0…` lines.
pub(crate) fn pack(table: &ActualTable) -> String {
    let line = |c: &elab::ActualColumn| {
        let levels: String = (0..c.ones.rows()).map(|row| c.level(row)).collect();
        format!("{}={levels}\n", c.name)
    };
    table.columns.iter().map(line).collect()
}

/// Columns as names and levels.
pub(crate) fn columns(text: &str) -> impl Iterator<Item = (&str, &str)> {
    text.lines().filter_map(|line| line.split_once('='))
}

#[cfg(test)]
mod tests {
    use super::*;
    use elab::ActualColumn;
    use logic::RowSet;

    #[test]
    fn a_packed_table_has_a_line_an_output_and_a_letter_a_row() {
        let set = |rows: &[u64]| {
            let mut set = RowSet::empty(2);
            rows.iter().for_each(|row| set.insert(*row));
            set
        };
        let column = |name: &str, ones: &[u64], unknown: &[u64], floating: &[u64]| ActualColumn {
            name: name.into(),
            ones: set(ones),
            unknown: set(unknown),
            floating: set(floating),
        };
        let all = column("lamp[0]", &[0, 1, 2, 3], &[], &[]);
        let text = pack(&ActualTable { columns: vec![column("f", &[1], &[2, 3], &[3]), all] });
        assert_eq!(text, "f=01XZ\nlamp[0]=1111\n");
        assert_eq!(columns(&text).collect::<Vec<_>>(), [("f", "01XZ"), ("lamp[0]", "1111")]);
    }
}
