//! Reductions that leave at least one cheapest cover (or, on request, all of them) in reach.

use super::{Bits, Covering};

/// What is left of a problem: rows still to be covered, columns that may still be chosen, and those chosen.
#[derive(Clone, Debug)]
pub(super) struct State {
    pub(super) rows: Bits,
    pub(super) columns: Bits,
    pub(super) chosen: Vec<u32>,
}

impl State {
    pub(super) fn all(problem: &Covering) -> Self {
        Self { rows: Bits::full(problem.rows.len()), columns: Bits::full(problem.columns.len()), chosen: Vec::new() }
    }

    pub(super) fn choose(&mut self, problem: &Covering, column: usize) {
        self.chosen.push(column as u32);
        self.rows.remove_all(&problem.columns[column]);
        self.columns.remove(column);
    }

    /// Reduces until nothing changes. False when some row can't be covered any more. With `keep_ties` no cover of
    /// least cost is lost.
    pub(super) fn reduce(&mut self, problem: &Covering, keep_ties: bool) -> bool {
        loop {
            match self.essential(problem) {
                None => return false,
                Some(true) => continue,
                Some(false) => {}
            }
            let mut changed = self.drop_idle_columns(problem);
            changed |= self.row_dominance(problem);
            changed |= self.column_dominance(problem, keep_ties);
            if !changed {
                return true;
            }
        }
    }

    /// Chooses the columns that alone cover a row; `None` when a row has none left.
    fn essential(&mut self, problem: &Covering) -> Option<bool> {
        let mut changed = false;
        let rows: Vec<usize> = self.rows.iter().collect();
        for row in rows {
            if !self.rows.contains(row) {
                continue;
            }
            let mut left = problem.rows[row].common(&self.columns);
            let first = left.next()?;
            if left.next().is_none() {
                drop(left);
                self.choose(problem, first);
                changed = true;
            }
        }
        Some(changed)
    }

    fn drop_idle_columns(&mut self, problem: &Covering) -> bool {
        let idle: Vec<usize> = self.columns.iter().filter(|c| !problem.columns[*c].meets(&self.rows)).collect();
        idle.iter().for_each(|c| self.columns.remove(*c));
        false
    }

    /// A row that is covered whenever another one is needs no attention.
    fn row_dominance(&mut self, problem: &Covering) -> bool {
        let mut rows: Vec<(u32, usize)> =
            self.rows.iter().map(|r| (problem.rows[r].count_common(&self.columns), r)).collect();
        rows.sort_unstable();
        let mut changed = false;
        for (i, (_, hard)) in rows.iter().enumerate() {
            if !self.rows.contains(*hard) {
                continue;
            }
            for (_, easy) in &rows[i + 1..] {
                if self.rows.contains(*easy) && problem.rows[*hard].within(&problem.rows[*easy], &self.columns) {
                    self.rows.remove(*easy);
                    changed = true;
                }
            }
        }
        changed
    }

    /// A column that covers no more than another one, for no less, is not needed.
    fn column_dominance(&mut self, problem: &Covering, keep_ties: bool) -> bool {
        let mut columns: Vec<(u32, usize)> =
            self.columns.iter().map(|c| (problem.columns[c].count_common(&self.rows), c)).collect();
        columns.sort_unstable_by_key(|(n, c)| (std::cmp::Reverse(*n), *c));
        let mut changed = false;
        for (i, (_, large)) in columns.iter().enumerate() {
            if !self.columns.contains(*large) {
                continue;
            }
            for (_, small) in &columns[i + 1..] {
                let (l, s) = (problem.literals[*large], problem.literals[*small]);
                let dearer = if keep_ties { s > l } else { s >= l };
                if dearer
                    && self.columns.contains(*small)
                    && problem.columns[*small].within(&problem.columns[*large], &self.rows)
                {
                    self.columns.remove(*small);
                    changed = true;
                }
            }
        }
        changed
    }

    /// Elementary steps that a look at this state takes, roughly.
    pub(super) fn work(&self) -> u64 {
        let (rows, columns) = (u64::from(self.rows.count()), u64::from(self.columns.count()));
        let words = |set: &Bits| set.limit_words();
        100 + (rows * rows * words(&self.columns) + columns * columns * words(&self.rows)) / 2
    }

    /// The connected blocks of what is left: rows of different blocks share no column.
    pub(super) fn blocks(&self, problem: &Covering) -> Vec<State> {
        let mut left = self.rows.clone();
        let mut blocks = Vec::new();
        while let Some(seed) = left.first() {
            let mut rows = Bits::empty(problem.rows.len());
            let mut columns = Bits::empty(problem.columns.len());
            let mut todo = vec![seed];
            left.remove(seed);
            rows.insert(seed);
            while let Some(row) = todo.pop() {
                for column in problem.rows[row].common(&self.columns) {
                    if columns.contains(column) {
                        continue;
                    }
                    columns.insert(column);
                    let fresh: Vec<usize> = problem.columns[column].common(&left).collect();
                    for r in fresh {
                        left.remove(r);
                        rows.insert(r);
                        todo.push(r);
                    }
                }
            }
            blocks.push(State { rows, columns, chosen: Vec::new() });
        }
        blocks
    }
}
