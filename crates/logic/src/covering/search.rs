//! Branch and bound.

use super::lagrange::Core;
use super::reduce::State;
use super::{Bits, Cost, Covering, Solution};

/// Below this many rows the bound from independent rows is good enough.
const SMALL: u32 = 14;

pub(super) fn solve(problem: &Covering, most: usize, work: u64) -> Solution {
    let mut root = State::all(problem);
    // Every row of a problem has a column, so the root can't fail.
    root.reduce(problem, true);
    let mut solution = Solution {
        cost: problem.cost(&root.chosen),
        optimal: true,
        least_terms: root.chosen.len() as u32,
        covers: vec![root.chosen.clone()],
        complete: true,
    };
    let mut work = work;
    for block in root.blocks(problem) {
        let mut search = Search { problem, work, best: None, floor: Cost::default() };
        search.root_bound(&block);
        let least = search.floor.terms;
        search.descend(block.clone());
        let finished = search.work > 0;
        let (cost, cover) = search.best.clone().unwrap_or_default();
        work = search.work.max(1);
        solution.cost = solution.cost + cost;
        solution.optimal &= finished;
        solution.least_terms += if finished { cost.terms } else { least.min(cost.terms) };
        let mut ties = Ties { problem, cost, most, work: (work / 4).max(1), found: Vec::new() };
        if finished && most > 1 {
            ties.descend(block);
        }
        solution.complete &= finished && most > 1 && ties.work > 0 && ties.found.len() < most;
        if ties.found.is_empty() {
            ties.found.push(cover);
        }
        let room = most.div_ceil(solution.covers.len()).max(1);
        solution.complete &= ties.found.len() <= room || solution.covers.len() * ties.found.len() <= most;
        let mut product = Vec::new();
        for before in &solution.covers {
            for tie in &ties.found {
                if product.len() < most {
                    product.push([before.as_slice(), tie.as_slice()].concat());
                }
            }
        }
        solution.covers = product;
    }
    for cover in &mut solution.covers {
        cover.sort_unstable();
    }
    solution.covers.sort();
    solution
}

/// Looks for one cheapest cover.
struct Search<'a> {
    problem: &'a Covering,
    /// Elementary steps left.
    work: u64,
    best: Option<(Cost, Vec<u32>)>,
    /// Nothing is cheaper.
    floor: Cost,
}

impl Search<'_> {
    fn offer(&mut self, cover: Vec<u32>) {
        let cost = self.problem.cost(&cover);
        if self.best.as_ref().is_none_or(|(best, _)| cost < *best) {
            self.best = Some((cost, cover));
        }
    }

    /// What any cover costs at least, and a first cover to beat.
    fn root_bound(&mut self, block: &State) {
        let core = Core::new(self.problem, block);
        let start = core.greedy(&vec![1.0; block.rows.count() as usize]);
        self.offer(start);
        self.floor = independent_rows(self.problem, block);
        if block.rows.count() <= SMALL {
            return;
        }
        let best = self.best.as_ref().map_or(Cost::default(), |b| b.0);
        let (bound, prices) = core.bound(best, 400, &mut self.work);
        let mut noise = 0x9E37_79B9_7F4A_7C15u64;
        for turn in 0..24 {
            // Small, repeatable disturbances of the prices lead the greedy choice to other covers.
            let shaken: Vec<f64> = prices.iter().map(|p| p + next_noise(&mut noise) * 0.02 * f64::from(turn)).collect();
            let cover = core.greedy(&shaken);
            self.offer(cover);
        }
        self.floor = self.floor.max(Cost { terms: bound.terms, literals: bound.literals });
    }

    fn done(&self) -> bool {
        self.work == 0 || self.best.as_ref().is_some_and(|(best, _)| *best <= self.floor)
    }

    fn descend(&mut self, mut state: State) {
        if self.done() || !state.reduce(self.problem, false) {
            return;
        }
        self.work = self.work.saturating_sub(state.work());
        if state.rows.is_empty() {
            return self.offer(state.chosen);
        }
        let Some((best, _)) = self.best.clone() else { return };
        let so_far = self.problem.cost(&state.chosen);
        if so_far + independent_rows(self.problem, &state) >= best {
            return;
        }
        if state.rows.count() > SMALL {
            let left = Cost {
                terms: best.terms.saturating_sub(so_far.terms),
                literals: best.literals.saturating_sub(so_far.literals),
            };
            let core = Core::new(self.problem, &state);
            let (bound, prices) = core.bound(left, 60, &mut self.work);
            let hopeless = bound.terms > left.terms || bound.terms == left.terms && bound.literals >= left.literals;
            if hopeless {
                return;
            }
            let rest = core.greedy(&prices);
            self.offer([state.chosen.as_slice(), rest.as_slice()].concat());
            let blocks = state.blocks(self.problem);
            if blocks.len() > 1 {
                return self.blocks(&state, blocks);
            }
        }
        let Some(row) = branching_row(self.problem, &state) else { return };
        for column in candidates(self.problem, &state, row) {
            let mut child = state.clone();
            child.choose(self.problem, column);
            self.descend(child);
            state.columns.remove(column);
        }
    }

    /// Solves independent blocks apart and joins what was found.
    fn blocks(&mut self, state: &State, blocks: Vec<State>) {
        let mut whole = state.chosen.clone();
        for block in blocks {
            let mut search = Search { problem: self.problem, work: self.work, best: None, floor: Cost::default() };
            search.root_bound(&block);
            search.descend(block);
            self.work = search.work;
            whole.extend(search.best.into_iter().flat_map(|b| b.1));
        }
        self.offer(whole);
    }
}

/// A number from 0 to 1 (xorshift; Marsaglia 2003).
fn next_noise(state: &mut u64) -> f64 {
    *state ^= *state << 13;
    *state ^= *state >> 7;
    *state ^= *state << 17;
    (*state >> 40) as f64 / f64::from(1u32 << 24)
}

/// Lists every cover of a known least cost.
struct Ties<'a> {
    problem: &'a Covering,
    cost: Cost,
    most: usize,
    /// Elementary steps left.
    work: u64,
    found: Vec<Vec<u32>>,
}

impl Ties<'_> {
    fn descend(&mut self, mut state: State) {
        if self.work == 0 || self.found.len() >= self.most || !state.reduce(self.problem, true) {
            return;
        }
        self.work = self.work.saturating_sub(state.work());
        let so_far = self.problem.cost(&state.chosen);
        if state.rows.is_empty() {
            if so_far == self.cost {
                self.found.push(state.chosen);
            }
            return;
        }
        if so_far + independent_rows(self.problem, &state) > self.cost {
            return;
        }
        if state.rows.count() > SMALL {
            let left = Cost {
                terms: self.cost.terms.saturating_sub(so_far.terms),
                literals: self.cost.literals.saturating_sub(so_far.literals) + 1,
            };
            let (bound, _) = Core::new(self.problem, &state).bound(left, 60, &mut self.work);
            if bound.terms > left.terms || bound.terms == left.terms && bound.literals >= left.literals {
                return;
            }
        }
        let Some(row) = branching_row(self.problem, &state) else { return };
        for column in candidates(self.problem, &state, row) {
            let mut child = state.clone();
            child.choose(self.problem, column);
            self.descend(child);
            state.columns.remove(column);
        }
    }
}

/// Rows without a common column need a column each: a bound on terms and, for that many terms, on literals.
fn independent_rows(problem: &Covering, state: &State) -> Cost {
    let mut open = state.rows.clone();
    let mut rows: Vec<(u32, usize)> =
        state.rows.iter().map(|r| (problem.rows[r].count_common(&state.columns), r)).collect();
    rows.sort_unstable();
    let mut cost = Cost::default();
    for (_, row) in rows {
        if !open.contains(row) {
            continue;
        }
        let mut cheapest = u32::MAX;
        let mut blocked = Bits::empty(problem.rows.len());
        for column in problem.rows[row].common(&state.columns) {
            cheapest = cheapest.min(problem.literals[column]);
            blocked.insert_all(&problem.columns[column]);
        }
        open.remove_all(&blocked);
        cost = cost + Cost { terms: 1, literals: cheapest };
    }
    cost
}

/// The row with the fewest columns left.
fn branching_row(problem: &Covering, state: &State) -> Option<usize> {
    state.rows.iter().min_by_key(|r| problem.rows[*r].count_common(&state.columns))
}

/// The columns of a row, the most promising first.
fn candidates(problem: &Covering, state: &State, row: usize) -> Vec<usize> {
    let mut list: Vec<usize> = problem.rows[row].common(&state.columns).collect();
    list.sort_by_key(|c| (std::cmp::Reverse(problem.columns[*c].count_common(&state.rows)), problem.literals[*c], *c));
    list
}
