//! The tabular method step by step, as one would do it on paper: columns of cubes by number of ones, the prime chart,
//! essential columns, dominance, choice (Quine 1952, McCluskey 1956, Petrick 1956).

use crate::cube::Cube;
use crate::minimise::Minimum;
use crate::rows::RowSet;

/// A cube of a grouping column.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct GroupedCube {
    /// The cube.
    pub cube: Cube,
    /// The rows it covers.
    pub rows: Vec<u64>,
    /// It was combined with another one, so it is not prime.
    pub combined: bool,
}

/// Cubes of one column with the same number of ones.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct OnesGroup {
    /// Number of ones.
    pub ones: u32,
    /// The cubes.
    pub cubes: Vec<GroupedCube>,
}

/// What a step of the chart does.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum ChartAction {
    /// A prime is taken because it alone covers a row.
    Essential {
        /// Its column.
        prime: usize,
        /// The row.
        row: u64,
    },
    /// A row goes because every prime that covers `harder` covers it too.
    RowDominated {
        /// The row that goes.
        row: u64,
        /// The row that stays.
        harder: u64,
    },
    /// A prime goes because another one covers all that it covers, with fewer literals.
    ColumnDominated {
        /// The prime that goes.
        prime: usize,
        /// The prime that stays.
        by: usize,
    },
    /// No simple step is left; of the combinations of the rest the cheapest are compared (Petrick).
    Choice {
        /// The primes taken.
        primes: Vec<usize>,
        /// How many sets of primes cost as little.
        ties: usize,
        /// True when `ties` is all there are.
        all: bool,
    },
}

/// A step of the chart as a sentence with the data behind it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ChartStep {
    /// What is done.
    pub action: ChartAction,
    /// It in words.
    pub sentence: String,
}

/// The whole derivation of a sum of products.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Steps {
    /// Columns of the grouping: cubes without dash, with one, with two and so on.
    pub columns: Vec<Vec<OnesGroup>>,
    /// Rows of the chart: those that must be 1.
    pub chart_rows: Vec<u64>,
    /// Columns of the chart: primes that cover one of them.
    pub chart_primes: Vec<Cube>,
    /// What is done in the chart, in order.
    pub chart: Vec<ChartStep>,
    /// The cover that the steps lead to.
    pub cover: Vec<Cube>,
}

/// Most cubes that are worth listing.
const MOST_CUBES: usize = 700;

/// The steps that lead to a cover of `minimum`, the one `minimise` found for these rows; `label` names a cube in
/// sentences. `None` when there are too many cubes to follow on paper.
pub fn tabular_steps(
    ones: &RowSet,
    dont_care: &RowSet,
    minimum: &Minimum,
    label: &dyn Fn(Cube) -> String,
) -> Option<Steps> {
    let inputs = ones.inputs();
    if inputs > 8 {
        return None;
    }
    let columns = grouping(ones, dont_care)?;
    let chart_rows: Vec<u64> = ones.iter().collect();
    let useful = |c: &Cube| chart_rows.iter().any(|r| c.covers(*r));
    let chart_primes: Vec<Cube> = minimum.primes.iter().map(|p| p.cube).filter(useful).collect();
    let mut chart = Chart {
        primes: &chart_primes,
        rows: chart_rows.clone(),
        columns: (0..chart_primes.len()).collect(),
        taken: Vec::new(),
        steps: Vec::new(),
        label,
    };
    while chart.essential() || chart.row_dominance() || chart.column_dominance() {}
    chart.choose(minimum);
    let (steps, mut cover) = (chart.steps, chart.taken.iter().map(|i| chart_primes[*i]).collect::<Vec<_>>());
    cover.sort_by(Cube::list_order);
    Some(Steps { columns, chart_rows, chart_primes, chart: steps, cover })
}

fn grouping(ones: &RowSet, dont_care: &RowSet) -> Option<Vec<Vec<OnesGroup>>> {
    let inputs = ones.inputs();
    let mut level: Vec<Cube> = ones.zip(dont_care, |a, b| a | b).iter().map(|r| Cube::minterm(inputs, r)).collect();
    let mut columns = Vec::new();
    let mut listed = 0;
    while !level.is_empty() {
        listed += level.len();
        if listed > MOST_CUBES {
            return None;
        }
        let known: std::collections::BTreeSet<(u32, u32)> = level.iter().map(|c| (c.care(), c.value())).collect();
        let mut next: Vec<Cube> = Vec::new();
        let mut groups: Vec<OnesGroup> = Vec::new();
        level.sort_by_key(|c| (c.value().count_ones(), c.value(), c.care()));
        for cube in &level {
            let mut combined = false;
            for bit in (0..inputs).filter(|b| cube.care() >> b & 1 == 1) {
                if known.contains(&(cube.care(), cube.value() ^ 1 << bit)) {
                    combined = true;
                    if cube.value() >> bit & 1 == 0 {
                        next.push(cube.without(1 << bit));
                    }
                }
            }
            let entry = GroupedCube { cube: *cube, rows: cube.rows(inputs).collect(), combined };
            let count = cube.value().count_ones();
            match groups.last_mut() {
                Some(group) if group.ones == count => group.cubes.push(entry),
                _ => groups.push(OnesGroup { ones: count, cubes: vec![entry] }),
            }
        }
        columns.push(groups);
        next.sort_by(Cube::list_order);
        next.dedup();
        level = next;
    }
    Some(columns)
}

struct Chart<'a> {
    primes: &'a [Cube],
    rows: Vec<u64>,
    columns: Vec<usize>,
    taken: Vec<usize>,
    steps: Vec<ChartStep>,
    label: &'a dyn Fn(Cube) -> String,
}

impl Chart<'_> {
    fn covering(&self, row: u64) -> Vec<usize> {
        self.columns.iter().copied().filter(|c| self.primes[*c].covers(row)).collect()
    }

    fn covered(&self, column: usize) -> Vec<u64> {
        self.rows.iter().copied().filter(|r| self.primes[column].covers(*r)).collect()
    }

    fn name(&self, prime: usize) -> String {
        (self.label)(self.primes[prime])
    }

    fn take(&mut self, prime: usize) {
        self.taken.push(prime);
        self.rows.retain(|r| !self.primes[prime].covers(*r));
        self.columns.retain(|c| *c != prime);
    }

    fn essential(&mut self) -> bool {
        let only = self.rows.iter().find_map(|row| match self.covering(*row).as_slice() {
            [prime] => Some((*row, *prime)),
            _ => None,
        });
        let Some((row, prime)) = only else { return false };
        let covers: Vec<String> = self.covered(prime).iter().map(u64::to_string).collect();
        let first = self.steps.iter().all(|s| matches!(s.action, ChartAction::Essential { .. }));
        let why = if first { "Only" } else { "Of what is left, only" };
        let sentence = format!(
            "{why} {} covers row {row}, so it is {}. It takes care of {} {}.",
            self.name(prime),
            if first { "essential" } else { "needed" },
            if covers.len() == 1 { "row" } else { "rows" },
            covers.join(", ")
        );
        self.steps.push(ChartStep { action: ChartAction::Essential { prime, row }, sentence });
        self.take(prime);
        true
    }

    fn row_dominance(&mut self) -> bool {
        for harder in &self.rows {
            let hard = self.covering(*harder);
            for row in &self.rows {
                let easy = self.covering(*row);
                let follows = hard.iter().all(|c| easy.contains(c));
                if row != harder && follows && (easy.len() > hard.len() || row > harder) {
                    let sentence = format!(
                        "Whatever covers row {harder} covers row {row} too, so row {row} needs no attention of its own."
                    );
                    let action = ChartAction::RowDominated { row: *row, harder: *harder };
                    let gone = *row;
                    self.steps.push(ChartStep { action, sentence });
                    self.rows.retain(|r| *r != gone);
                    return true;
                }
            }
        }
        false
    }

    fn column_dominance(&mut self) -> bool {
        for prime in &self.columns {
            let mine = self.covered(*prime);
            let by = self.columns.iter().find(|by| {
                let dearer = self.primes[*prime].literals() > self.primes[**by].literals();
                dearer && mine.iter().all(|r| self.primes[**by].covers(*r))
            });
            if mine.is_empty() {
                let gone = *prime;
                self.columns.retain(|c| *c != gone);
                return true;
            }
            if let Some(by) = by {
                let sentence = format!(
                    "{} covers every open row that {} covers and has fewer literals, so {} goes.",
                    self.name(*by),
                    self.name(*prime),
                    self.name(*prime)
                );
                let action = ChartAction::ColumnDominated { prime: *prime, by: *by };
                let gone = *prime;
                self.steps.push(ChartStep { action, sentence });
                self.columns.retain(|c| *c != gone);
                return true;
            }
        }
        false
    }

    /// Takes what a cheapest cover takes of the rest.
    fn choose(&mut self, minimum: &Minimum) {
        if self.rows.is_empty() {
            return;
        }
        let fits = |cover: &&Vec<Cube>| {
            let rest: Vec<Cube> =
                cover.iter().copied().filter(|c| !self.taken.iter().any(|t| self.primes[*t] == *c)).collect();
            rest.len() + self.taken.len() == cover.len()
                && rest.iter().all(|c| self.columns.iter().any(|i| self.primes[*i] == *c))
        };
        let fitting: Vec<&Vec<Cube>> = minimum.covers.iter().filter(fits).collect();
        let Some(cover) = fitting.first() else { return };
        let mut primes: Vec<usize> =
            self.columns.iter().copied().filter(|i| cover.contains(&self.primes[*i])).collect();
        primes.sort_unstable();
        let names: Vec<String> = primes.iter().map(|p| self.name(*p)).collect();
        let (ties, all) = (fitting.len(), minimum.all_covers);
        let others = match (ties, all) {
            (1, true) => "no other choice costs as little".to_owned(),
            (n, true) => format!("{n} choices cost as little"),
            (n, false) => format!("at least {n} choices cost as little"),
        };
        let proof = if minimum.optimal { "the fewest terms, then the fewest literals" } else { "the best found" };
        let sentence = format!(
            "Every open row has several primes and none is always better. Of all combinations (Petrick) {} {} {proof}; {others}.",
            names.join(", "),
            if names.len() == 1 { "needs" } else { "together need" },
        );
        self.steps.push(ChartStep { action: ChartAction::Choice { primes: primes.clone(), ties, all }, sentence });
        for prime in primes {
            self.take(prime);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Effort, cover_rows, minimise};
    use proptest::prelude::*;

    fn steps_of(ones: &RowSet, dont_care: &RowSet) -> (Minimum, Steps) {
        let minimum = minimise(ones, dont_care, &Effort::default());
        let n = ones.inputs();
        let steps = tabular_steps(ones, dont_care, &minimum, &move |c| c.text(n)).unwrap();
        (minimum, steps)
    }

    #[test]
    fn the_usual_example_groups_charts_and_chooses() {
        // Σm(4,8,10,11,12,15) + d(9,14): essential -100 and 1-1-, two choices for row 8 (from memory).
        let rows = |list: &[u64]| {
            let mut set = RowSet::empty(4);
            list.iter().for_each(|r| set.insert(*r));
            set
        };
        let (_, steps) = steps_of(&rows(&[4, 8, 10, 11, 12, 15]), &rows(&[9, 14]));
        let sizes: Vec<usize> = steps.columns[0].iter().map(|g| g.cubes.len()).collect();
        assert_eq!(sizes, [2, 3, 2, 1]);
        assert_eq!(steps.columns.len(), 3);
        let essential = steps.chart.iter().filter(|s| matches!(s.action, ChartAction::Essential { .. })).count();
        assert_eq!(essential, 2);
        assert!(steps.chart[0].sentence.starts_with("Only -100 covers row 4, so it is essential."));
        assert!(matches!(&steps.chart.last().unwrap().action, ChartAction::Choice { ties: 2, all: true, .. }));
        assert_eq!(steps.cover.len(), 3);
    }

    proptest! {
        #[test]
        fn the_steps_lead_to_a_cheapest_cover(ones in any::<u64>(), dashes in any::<u64>(), inputs in 2u32..=5) {
            let dont_care = RowSet::from_words(inputs, &[dashes & dashes >> 7]);
            let ones = RowSet::from_words(inputs, &[ones]).zip(&dont_care, |a, b| a & !b);
            let (minimum, steps) = steps_of(&ones, &dont_care);
            let literals: u32 = steps.cover.iter().map(|c| c.literals()).sum();
            prop_assert_eq!((steps.cover.len() as u32, literals), (minimum.terms, minimum.literals));
            let missed = ones.zip(&cover_rows(inputs, &steps.cover), |a, b| a & !b);
            prop_assert!(missed.is_empty());
        }
    }
}
