//! The covering problem: choose columns, fewest first and then cheapest, so that every row is covered.
//!
//! Rows are what has to be covered, columns what can cover; a column costs one term and some literals. Solved exactly
//! by branch and bound with the classical reductions (essential columns, row and column dominance: McCluskey 1956,
//! Petrick 1956, Gimpel 1965), independent blocks apart, and bounds from independent rows and from Lagrangian
//! relaxation with subgradients (Held and Karp 1971; for this problem Coudert 1996).

mod bits;
mod lagrange;
mod reduce;
mod search;

pub(crate) use bits::Bits;

/// Terms, then literals.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Default)]
pub(crate) struct Cost {
    pub(crate) terms: u32,
    pub(crate) literals: u32,
}

impl std::ops::Add for Cost {
    type Output = Cost;
    fn add(self, other: Cost) -> Cost {
        Cost { terms: self.terms + other.terms, literals: self.literals + other.literals }
    }
}

/// A covering problem over columns numbered from 0.
#[derive(Clone, Debug)]
pub(crate) struct Covering {
    /// For each row the columns that cover it; never empty.
    pub(crate) rows: Vec<Bits>,
    /// For each column the rows it covers.
    pub(crate) columns: Vec<Bits>,
    /// Literals of each column.
    pub(crate) literals: Vec<u32>,
}

/// What was found.
#[derive(Clone, Debug)]
pub(crate) struct Solution {
    /// The cost of every cover listed.
    pub(crate) cost: Cost,
    /// Proved that nothing is cheaper.
    pub(crate) optimal: bool,
    /// No cover has fewer terms than this.
    pub(crate) least_terms: u32,
    /// Covers of that cost, each ascending, in order.
    pub(crate) covers: Vec<Vec<u32>>,
    /// The list holds every cover of that cost.
    pub(crate) complete: bool,
}

impl Covering {
    /// From the columns of each row.
    pub(crate) fn new(row_columns: Vec<Vec<u32>>, literals: Vec<u32>) -> Self {
        let mut columns = vec![Bits::empty(row_columns.len()); literals.len()];
        let mut rows = Vec::with_capacity(row_columns.len());
        for (r, list) in row_columns.iter().enumerate() {
            let mut row = Bits::empty(literals.len());
            for c in list {
                row.insert(*c as usize);
                columns[*c as usize].insert(r);
            }
            rows.push(row);
        }
        Self { rows, columns, literals }
    }

    pub(crate) fn cost(&self, columns: &[u32]) -> Cost {
        let literals = columns.iter().map(|c| self.literals[*c as usize]).sum();
        Cost { terms: u32::try_from(columns.len()).unwrap_or(u32::MAX), literals }
    }

    /// The cheapest covers, at most `most` of them; `work` limits the elementary steps.
    pub(crate) fn solve(&self, most: usize, work: u64) -> Solution {
        search::solve(self, most, work)
    }

    /// The columns that alone cover some row.
    pub(crate) fn essential(&self) -> Vec<u32> {
        let mut list: Vec<u32> =
            self.rows.iter().filter(|r| r.count() == 1).filter_map(|r| r.first()).map(|c| c as u32).collect();
        list.sort_unstable();
        list.dedup();
        list
    }
}

/// A set of columns that meets every set.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SmallCover {
    /// The columns.
    pub chosen: Vec<u32>,
    /// No smaller one does: proved.
    pub proved: bool,
    /// Every one that does has at least so many columns.
    pub least: u32,
}

/// The fewest of so many columns that meet each of the sets, which must not be empty; `work` limits the elementary steps.
pub fn smallest_cover(sets: Vec<Vec<u32>>, columns: usize, work: u64) -> SmallCover {
    let mut solution = Covering::new(sets, vec![1; columns]).solve(1, work);
    let chosen = if solution.covers.is_empty() { Vec::new() } else { solution.covers.swap_remove(0) };
    SmallCover { chosen, proved: solution.optimal, least: solution.least_terms }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// Every cover of least cost, by trying all sets of columns.
    fn by_trying(problem: &Covering) -> (Cost, Vec<Vec<u32>>) {
        let n = problem.literals.len() as u32;
        let mut best = (Cost { terms: u32::MAX, literals: 0 }, Vec::new());
        for set in 0u32..1 << n {
            let chosen: Vec<u32> = (0..n).filter(|c| set >> c & 1 == 1).collect();
            if !problem.rows.iter().all(|r| chosen.iter().any(|c| r.contains(*c as usize))) {
                continue;
            }
            let cost = problem.cost(&chosen);
            if cost < best.0 {
                best = (cost, Vec::new());
            }
            if cost == best.0 {
                best.1.push(chosen);
            }
        }
        best.1.sort();
        best
    }

    proptest! {
        #[test]
        fn every_cheapest_cover_is_found(
            rows in prop::collection::vec(prop::collection::vec(0u32..11, 1..5), 0..12),
            literals in prop::collection::vec(1u32..4, 11),
        ) {
            let problem = Covering::new(rows, literals);
            let solution = problem.solve(usize::MAX, 100_000_000);
            let (cost, covers) = by_trying(&problem);
            prop_assert!(solution.optimal && solution.complete);
            prop_assert_eq!(solution.cost, cost);
            prop_assert_eq!(solution.least_terms, cost.terms);
            prop_assert_eq!(solution.covers, covers);
        }
    }

    #[test]
    fn without_rows_nothing_is_chosen() {
        let solution = Covering::new(Vec::new(), vec![1, 2]).solve(64, 1_000);
        assert_eq!((solution.cost.terms, solution.covers), (0, vec![Vec::new()]));
    }
}
