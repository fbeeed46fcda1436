//! Lower bounds from Lagrangian relaxation: each row has a price for being left uncovered, raised and lowered by
//! subgradients until the priced problem, which is trivial, costs nearly as much as the real one.

use super::reduce::State;
use super::{Cost, Covering};

/// What is left of a problem, numbered afresh.
pub(super) struct Core {
    rows: usize,
    /// Number in the whole problem, literals, rows covered.
    columns: Vec<(u32, f64, Vec<u32>)>,
    row_columns: Vec<Vec<u32>>,
    /// Pairs of row and column, a measure of the work of a turn.
    entries: u64,
    /// Fewest literals of a column.
    floor: f64,
}

/// What a relaxation says.
#[derive(Clone, Copy, Debug)]
pub(super) struct Bound {
    /// No cover of the core has fewer terms.
    pub(super) terms: u32,
    /// No cover with as many terms as allowed has fewer literals; only worked out when the terms don't decide.
    pub(super) literals: u32,
}

const SLACK: f64 = 1e-6;

fn round_up(bound: f64) -> u32 {
    (bound - SLACK).ceil().max(0.0) as u32
}

impl Core {
    pub(super) fn new(problem: &Covering, state: &State) -> Self {
        let mut number = vec![u32::MAX; problem.rows.len()];
        let mut rows = 0;
        for row in state.rows.iter() {
            number[row] = rows as u32;
            rows += 1;
        }
        let mut row_columns = vec![Vec::new(); rows];
        let mut columns = Vec::new();
        for column in state.columns.iter() {
            let covered: Vec<u32> = problem.columns[column].common(&state.rows).map(|r| number[r]).collect();
            for r in &covered {
                row_columns[*r as usize].push(columns.len() as u32);
            }
            columns.push((column as u32, f64::from(problem.literals[column]), covered));
        }
        let entries = row_columns.iter().map(|r| r.len() as u64 + 1).sum();
        let floor = columns.iter().map(|c| c.1).fold(f64::MAX, f64::min);
        Self { rows, columns, row_columns, entries, floor }
    }

    /// The whole price of a column for rows without a common column, nothing for the others.
    fn apart_prices(&self) -> Vec<f64> {
        let mut order: Vec<usize> = (0..self.rows).collect();
        order.sort_by_key(|r| (self.row_columns[*r].len(), *r));
        let mut blocked = vec![false; self.rows];
        let mut apart = vec![0.0; self.rows];
        for row in order {
            if !blocked[row] {
                apart[row] = 1.0;
                for column in &self.row_columns[row] {
                    self.columns[*column as usize].2.iter().for_each(|r| blocked[*r as usize] = true);
                }
            }
        }
        apart
    }

    /// An equal share for every row.
    fn shared_prices(&self) -> Vec<f64> {
        let share = |row: &Vec<u32>| {
            let widest = row.iter().map(|c| self.columns[*c as usize].2.len()).max().unwrap_or(1);
            1.0 / widest as f64
        };
        self.row_columns.iter().map(share).collect()
    }

    /// Bounds for covers that could beat a best known one of cost `best`; stops as soon as it is clear that none can.
    pub(super) fn bound(&self, best: Cost, turns: usize, work: &mut u64) -> (Bound, Vec<f64>) {
        let mut prices = self.shared_prices();
        let mut terms = self.ascend(&mut prices, turns, f64::from(best.terms), None, work);
        let apart = self.apart_prices();
        if apart.iter().sum::<f64>() > terms {
            prices = apart;
            terms = prices.iter().sum();
        }
        let terms = round_up(terms);
        if terms != best.terms {
            return (Bound { terms, literals: 0 }, prices);
        }
        let mut literal_prices: Vec<f64> = prices.iter().map(|p| p * 2.0).collect();
        // With that many terms each costs the fewest literals at least; only the rest has to be bounded.
        let target = f64::from(best.literals) - self.floor * f64::from(best.terms);
        let limit = Some(f64::from(best.terms));
        let rest = self.ascend(&mut literal_prices, turns * 2, target, limit, work).max(0.0);
        (Bound { terms, literals: round_up(self.floor * f64::from(best.terms) + rest) }, prices)
    }

    /// The best bound that subgradient ascent reaches, with every column weighing 1; or, with `limit`, weighing its
    /// literals while at most `limit` columns may be chosen.
    fn ascend(&self, prices: &mut Vec<f64>, turns: usize, target: f64, limit: Option<f64>, work: &mut u64) -> f64 {
        let mut step = 1.0;
        let mut best = f64::MIN;
        let mut best_prices = prices.clone();
        let mut toll = 1.0f64;
        let mut stale = 0;
        for _ in 0..turns {
            *work = work.saturating_sub(self.entries * 3);
            let mut slope = vec![1.0f64; self.rows];
            let mut value: f64 = prices.iter().sum();
            let mut taken = 0.0;
            for (_, literals, covered) in &self.columns {
                let weight = if limit.is_some() { literals - self.floor + toll } else { 1.0 };
                let reduced = weight - covered.iter().map(|r| prices[*r as usize]).sum::<f64>();
                if reduced < 0.0 {
                    value += reduced;
                    taken += 1.0;
                    covered.iter().for_each(|r| slope[*r as usize] -= 1.0);
                }
            }
            if let Some(limit) = limit {
                value -= toll * limit;
            }
            if value > best + 1e-4 {
                best = value;
                best_prices.clone_from(prices);
                stale = 0;
            } else {
                best = best.max(value);
                stale += 1;
                if stale >= 8 {
                    step *= 0.6;
                    stale = 0;
                    prices.clone_from(&best_prices);
                }
            }
            let excess = limit.map_or(0.0, |limit| taken - limit);
            let norm = slope.iter().map(|s| s * s).sum::<f64>() + excess * excess;
            if norm == 0.0 || step < 1e-3 || best > target - 1.0 + 2.0 * SLACK {
                break;
            }
            let length = step * (target - value).max(0.5) / norm;
            for (price, slope) in prices.iter_mut().zip(&slope) {
                *price = (*price + length * slope).max(0.0);
            }
            toll = (toll + length * excess).max(0.0);
        }
        *prices = best_prices;
        best
    }

    /// A cover built greedily, cheap columns for dear rows first, without columns that turn out idle.
    pub(super) fn greedy(&self, prices: &[f64]) -> Vec<u32> {
        let mut count = vec![0u32; self.rows];
        let mut left = self.rows;
        let mut chosen: Vec<usize> = Vec::new();
        while left > 0 {
            let worth = |(_, literals, covered): &(u32, f64, Vec<u32>)| {
                let open = covered.iter().filter(|r| count[**r as usize] == 0);
                let gain: f64 = open.map(|r| 0.02 + prices[*r as usize]).sum();
                if gain == 0.0 { f64::MIN } else { gain - literals * 1e-4 }
            };
            let scored = self.columns.iter().map(worth).enumerate();
            let Some((column, _)) = scored.max_by(|a, b| a.1.total_cmp(&b.1).then(b.0.cmp(&a.0))) else { break };
            chosen.push(column);
            for r in &self.columns[column].2 {
                left -= usize::from(count[*r as usize] == 0);
                count[*r as usize] += 1;
            }
        }
        chosen.sort_by(|a, b| self.columns[*b].1.total_cmp(&self.columns[*a].1).then(b.cmp(a)));
        let mut kept = Vec::new();
        for column in chosen {
            let covered = &self.columns[column].2;
            if covered.iter().all(|r| count[*r as usize] > 1) {
                covered.iter().for_each(|r| count[*r as usize] -= 1);
            } else {
                kept.push(self.columns[column].0);
            }
        }
        kept
    }
}
