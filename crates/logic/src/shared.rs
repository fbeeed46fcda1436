//! Minimisation of several outputs together: products are shared.

use crate::covering::Covering;
use crate::cube::Cube;
use crate::minimise::{Effort, Minimum, minimise};
use crate::primes::prime_implicants;
use crate::rows::RowSet;
use crate::table::TruthTable;
use base::Budget;
use std::collections::BTreeMap;

/// A product and the outputs it feeds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct SharedTerm {
    /// The product.
    pub cube: Cube,
    /// Bit `o` is set when output `o` uses it.
    pub outputs: u32,
}

/// Sums of products for all outputs of a table, with as few different products as possible.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SharedCover {
    /// The products in list order.
    pub terms: Vec<SharedTerm>,
    /// Literals of the products, each counted once.
    pub literals: u32,
    /// Proved that no cover has fewer products (and, of as many, fewer literals).
    pub optimal: bool,
}

/// Most outputs and inputs whose common products are all looked at.
const MOST_EXACT: (usize, u32) = (8, 10);

/// The cheapest covers of all outputs together: fewest different products, then fewest literals of them.
///
/// A product may feed any outputs that allow it; those that can grow neither in rows nor in outputs are the primes of
/// the whole (Bartee 1961). Beyond 8 outputs or 10 inputs, covers of single outputs are joined and marked as not
/// proved. At most 32 outputs.
pub fn minimise_shared(table: &TruthTable, effort: &Effort) -> SharedCover {
    let outputs = table.outputs.len().min(32);
    let valid: Vec<RowSet> =
        table.outputs.iter().take(outputs).map(|o| o.ones.zip(&o.dont_care, |a, b| a | b)).collect();
    let single: Vec<Minimum> = table
        .outputs
        .iter()
        .take(outputs)
        .map(|o| minimise(&o.ones, &o.dont_care, &Effort { covers: 1, ..effort.clone() }))
        .collect();
    let joined = joined_cover(table, &valid, &single);
    if outputs > MOST_EXACT.0 || table.input_count() > MOST_EXACT.1 {
        return joined;
    }
    match exact(table, &valid, effort) {
        Some(exact) if exact.optimal || rank(&exact) <= rank(&joined) => exact,
        _ => joined,
    }
}

fn rank(cover: &SharedCover) -> (usize, u32) {
    (cover.terms.len(), cover.literals)
}

fn exact(table: &TruthTable, valid: &[RowSet], effort: &Effort) -> Option<SharedCover> {
    let primes = shared_primes(valid, effort)?;
    let mut rows = Vec::new();
    for (o, output) in table.outputs.iter().enumerate().take(valid.len()) {
        for row in output.ones.iter() {
            let columns = (0u32..).zip(&primes).filter(|(_, p)| p.outputs >> o & 1 == 1 && p.cube.covers(row));
            rows.push(columns.map(|(i, _)| i).collect::<Vec<u32>>());
        }
    }
    if rows.len().saturating_mul(primes.len()) > 1 << 23 {
        return None;
    }
    let problem = Covering::new(rows, primes.iter().map(|p| p.cube.literals()).collect());
    let solution = problem.solve(1, effort.work);
    let chosen: Vec<SharedTerm> = solution.covers.first()?.iter().map(|i| primes[*i as usize]).collect();
    Some(finish(table, chosen, solution.optimal))
}

/// Products that can grow neither in rows nor in outputs.
fn shared_primes(valid: &[RowSet], effort: &Effort) -> Option<Vec<SharedTerm>> {
    let mut budget = Budget::of_steps(effort.steps);
    let mut primes = Vec::new();
    for set in 1u32..1 << valid.len() {
        let members = valid.iter().enumerate().filter(|(o, _)| set >> o & 1 == 1);
        let common = members.fold(RowSet::full(valid[0].inputs()), |all, (_, v)| all.zip(v, |a, b| a & b));
        if common.is_empty() {
            continue;
        }
        for cube in prime_implicants(&common, effort.primes, &mut budget).ok()? {
            let grows = valid.iter().enumerate().any(|(o, v)| set >> o & 1 == 0 && v.contains_cube(cube));
            if !grows {
                primes.push(SharedTerm { cube, outputs: set });
            }
        }
        if primes.len() > effort.primes {
            return None;
        }
    }
    Some(primes)
}

/// Covers of the single outputs side by side; an output takes a product that another one has anyway where it can.
fn joined_cover(table: &TruthTable, valid: &[RowSet], single: &[Minimum]) -> SharedCover {
    let mut terms: BTreeMap<(u32, u32), u32> = BTreeMap::new();
    for minimum in single {
        for cube in minimum.covers.first().into_iter().flatten() {
            terms.entry((cube.care(), cube.value())).or_default();
        }
    }
    let chosen: Vec<SharedTerm> = terms
        .into_keys()
        .map(|(care, value)| {
            let cube = Cube::new(care, value);
            let feeds = valid.iter().enumerate().filter(|(_, v)| v.contains_cube(cube));
            SharedTerm { cube, outputs: feeds.fold(0, |set, (o, _)| set | 1 << o) }
        })
        .collect();
    finish(table, chosen, false)
}

/// Drops products that nobody needs, then connections that nobody needs, and sorts.
fn finish(table: &TruthTable, mut chosen: Vec<SharedTerm>, optimal: bool) -> SharedCover {
    let missing = |terms: &[SharedTerm]| {
        table.outputs.iter().enumerate().take(32).any(|(o, output)| {
            let mut rows = RowSet::empty(table.input_count());
            terms.iter().filter(|t| t.outputs >> o & 1 == 1).for_each(|t| rows.insert_cube(t.cube));
            !output.ones.zip(&rows, |a, b| a & !b).is_empty()
        })
    };
    let try_each = |chosen: &mut Vec<SharedTerm>, change: &dyn Fn(&mut Vec<SharedTerm>, usize) -> bool| {
        for i in (0..chosen.len()).rev() {
            let mut without = chosen.clone();
            if change(&mut without, i) && !missing(&without) {
                *chosen = without;
            }
        }
    };
    chosen.sort_by(|a, b| a.cube.literals().cmp(&b.cube.literals()).then(a.cube.list_order(&b.cube)));
    if !optimal {
        try_each(&mut chosen, &|terms, i| {
            terms.remove(i);
            true
        });
    }
    for o in 0..table.outputs.len().min(32) {
        try_each(&mut chosen, &|terms, i| {
            let feeds = terms[i].outputs >> o & 1 == 1;
            terms[i].outputs &= !(1 << o);
            feeds
        });
    }
    chosen.retain(|t| t.outputs != 0);
    chosen.sort_by(|a, b| a.cube.list_order(&b.cube));
    let literals = chosen.iter().map(|t| t.cube.literals()).sum();
    SharedCover { terms: chosen, literals, optimal }
}
