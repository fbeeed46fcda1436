//! Two-level minimisation of one output: prime implicants, then the cheapest covers of the rows that must be 1.

use crate::covering::{Covering, Solution};
use crate::cube::Cube;
use crate::heuristic;
use crate::primes::prime_implicants;
use crate::rows::RowSet;
use base::Budget;

/// Most covers that are listed when several tie.
pub const MAX_COVERS: usize = 64;

/// A prime implicant of a function.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Prime {
    /// The product.
    pub cube: Cube,
    /// It alone covers some row that must be 1.
    pub essential: bool,
}

/// The cheapest sums of products of a function: fewest terms, then fewest literals.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Minimum {
    /// All prime implicants in list order, those that cover nothing but don't-cares included; empty when there were
    /// too many to list.
    pub primes: Vec<Prime>,
    /// Terms of each cover.
    pub terms: u32,
    /// Literals of each cover.
    pub literals: u32,
    /// Proved that no sum of products is cheaper.
    pub optimal: bool,
    /// Proved that no sum of products has fewer terms than this.
    pub least_terms: u32,
    /// Covers of that cost, at most [`MAX_COVERS`]; each in list order.
    pub covers: Vec<Vec<Cube>>,
    /// The list holds every cover of that cost.
    pub all_covers: bool,
}

/// How hard to try.
#[derive(Clone, Debug)]
pub struct Effort {
    /// Most prime implicants worked with exactly.
    pub primes: usize,
    /// Steps for finding them.
    pub steps: u64,
    /// Elementary steps for covering; eight inputs and fewer get twenty times as many.
    pub work: u64,
    /// Most covers listed.
    pub covers: usize,
}

impl Default for Effort {
    /// Exact for every function of eight inputs that was tried, and well within a second for most of ten.
    fn default() -> Self {
        Self { primes: 6_000, steps: 20_000_000, work: 150_000_000, covers: MAX_COVERS }
    }
}

/// The cheapest sums of products that are 1 on `ones`, 0 outside of `ones` and `dont_care`.
///
/// Exact while the effort lasts (Quine 1952 and 1955, McCluskey 1956, Petrick 1956); beyond it a good cover by the
/// heuristic of Brayton and others (1984), marked as not proved.
pub fn minimise(ones: &RowSet, dont_care: &RowSet, effort: &Effort) -> Minimum {
    let valid = ones.zip(dont_care, |a, b| a | b);
    let mut budget = Budget::of_steps(effort.steps);
    let Ok(cubes) = prime_implicants(&valid, effort.primes, &mut budget) else {
        return heuristic_minimum(ones, &valid);
    };
    let rows: Vec<u64> = ones.iter().collect();
    if rows.len().saturating_mul(cubes.len()) > 1 << 24 {
        return heuristic_minimum(ones, &valid);
    }
    let columns: Vec<Vec<u32>> =
        rows.iter().map(|row| (0u32..).zip(&cubes).filter(|(_, c)| c.covers(*row)).map(|(i, _)| i).collect()).collect();
    let literals = cubes.iter().map(|c| c.literals()).collect();
    let problem = Covering::new(columns, literals);
    let essential = problem.essential();
    let work = if ones.inputs() <= 8 { effort.work.saturating_mul(20) } else { effort.work };
    let solution = problem.solve(effort.covers, work);
    let mut minimum = from_solution(&solution, |i| cubes[i as usize]);
    minimum.primes = (0u32..)
        .zip(&cubes)
        .map(|(i, cube)| Prime { cube: *cube, essential: essential.binary_search(&i).is_ok() })
        .collect();
    if !minimum.optimal {
        let other = heuristic::cover(ones, &valid);
        let cost = (other.len() as u32, other.iter().map(|c| c.literals()).sum());
        if cost < (minimum.terms, minimum.literals) {
            (minimum.terms, minimum.literals) = cost;
            minimum.covers = vec![other];
        }
    }
    minimum
}

fn from_solution(solution: &Solution, cube: impl Fn(u32) -> Cube) -> Minimum {
    let covers = solution.covers.iter().map(|cover| sorted(cover.iter().map(|i| cube(*i)).collect())).collect();
    Minimum {
        primes: Vec::new(),
        terms: solution.cost.terms,
        literals: solution.cost.literals,
        optimal: solution.optimal,
        least_terms: solution.least_terms,
        covers,
        all_covers: solution.complete,
    }
}

fn sorted(mut cubes: Vec<Cube>) -> Vec<Cube> {
    cubes.sort_by(Cube::list_order);
    cubes
}

fn heuristic_minimum(ones: &RowSet, valid: &RowSet) -> Minimum {
    let cover = sorted(heuristic::cover(ones, valid));
    Minimum {
        primes: Vec::new(),
        terms: cover.len() as u32,
        literals: cover.iter().map(|c| c.literals()).sum(),
        // Nothing is cheaper than no term, or one without literals.
        optimal: cover.iter().all(|c| c.literals() == 0),
        least_terms: u32::from(!cover.is_empty()),
        covers: vec![cover],
        all_covers: false,
    }
}

/// The rows that a sum of products makes 1.
pub fn cover_rows(inputs: u32, cover: &[Cube]) -> RowSet {
    let mut rows = RowSet::empty(inputs);
    cover.iter().for_each(|c| rows.insert_cube(*c));
    rows
}
