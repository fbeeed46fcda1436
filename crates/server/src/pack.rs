//! The table of a hand-in as text for the store: a letter 0, 1, X or Z a row, a line an output.

use check::{ActualColumn, ActualTable};
use logic::RowSet;

/// `name=01X0…` lines.
pub(crate) fn pack(table: &ActualTable) -> String {
    let line = |c: &ActualColumn| {
        let levels: String = (0..c.ones.rows()).map(|row| c.level(row)).collect();
        format!("{}={levels}\n", c.name)
    };
    table.columns.iter().map(line).collect()
}

/// Columns as names and levels.
pub(crate) fn columns(text: &str) -> impl Iterator<Item = (&str, &str)> {
    text.lines().filter_map(|line| line.split_once('='))
}

/// The table again; `None` when the text is not one of `inputs` inputs.
pub(crate) fn unpack(text: &str, inputs: u32) -> Option<ActualTable> {
    let columns = columns(text).map(|(name, levels)| {
        if levels.len() as u64 != 1 << inputs {
            return None;
        }
        let set = |which: &str| {
            let mut set = RowSet::empty(inputs);
            levels.chars().zip(0..).filter(|(c, _)| which.contains(*c)).for_each(|(_, row)| set.insert(row));
            set
        };
        Some(ActualColumn { name: name.to_owned(), ones: set("1"), unknown: set("XZ"), floating: set("Z") })
    });
    Some(ActualTable { columns: columns.collect::<Option<_>>()? })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_packed_table_comes_back_the_same() {
        let table = unpack("f=01XZ\nlamp[0]=1111\n", 2).unwrap();
        assert_eq!(pack(&table), "f=01XZ\nlamp[0]=1111\n");
        assert_eq!(table.columns[0].level(3), 'Z');
        assert!(unpack("f=01\n", 2).is_none());
    }
}
