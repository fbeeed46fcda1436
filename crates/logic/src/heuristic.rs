//! A good two-level cover where an exact one would take too long: expand, make irredundant, reduce, again (the loop of
//! Brayton, Hachtel, McMullen and Sangiovanni-Vincentelli 1984, on row sets).

use crate::cube::Cube;
use crate::rows::RowSet;

/// Rounds of reduce and expand without an improvement before it stops.
const PATIENCE: u32 = 2;
/// Rounds in all.
const ROUNDS: u32 = 12;

/// How often each row of a table is covered.
struct Tally {
    inputs: u32,
    times: Vec<u32>,
}

impl Tally {
    fn new(inputs: u32, cover: &[Cube]) -> Self {
        let mut tally = Self { inputs, times: vec![0; 1 << inputs] };
        cover.iter().for_each(|c| tally.add(*c));
        tally
    }

    fn add(&mut self, cube: Cube) {
        cube.rows(self.inputs).for_each(|r| self.times[r as usize] += 1);
    }

    fn remove(&mut self, cube: Cube) {
        cube.rows(self.inputs).for_each(|r| self.times[r as usize] -= 1);
    }

    fn needs(&self, cube: Cube, ones: &RowSet) -> impl Iterator<Item = u64> {
        cube.rows(self.inputs).filter(|r| self.times[*r as usize] == 1 && ones.contains(*r))
    }
}

/// Prime implicants that together cover `ones` and nothing outside `valid`; none is idle.
pub(crate) fn cover(ones: &RowSet, valid: &RowSet) -> Vec<Cube> {
    let mut best = expand_all(ones, valid, &[]);
    irredundant(&mut best, ones);
    let mut current = best.clone();
    let mut stale = 0;
    for _ in 0..ROUNDS {
        let reduced = reduce(&current, ones);
        current = expand_all(ones, valid, &reduced);
        irredundant(&mut current, ones);
        if cost(&current) < cost(&best) {
            best.clone_from(&current);
            stale = 0;
        } else {
            stale += 1;
            if stale >= PATIENCE {
                break;
            }
        }
    }
    best
}

fn cost(cover: &[Cube]) -> (usize, u32) {
    (cover.len(), cover.iter().map(|c| c.literals()).sum())
}

/// Grows the seeds, then a minterm for each row that is still open, to prime implicants.
fn expand_all(ones: &RowSet, valid: &RowSet, seeds: &[Cube]) -> Vec<Cube> {
    let mut open = ones.clone();
    let mut cover = Vec::new();
    let mut seeds: Vec<Cube> = seeds.to_vec();
    // The smallest first: they have the fewest ways to grow.
    seeds.sort_by(|a, b| b.literals().cmp(&a.literals()).then(a.list_order(b)));
    for seed in seeds {
        if open.meets_cube(seed) {
            grow(seed, valid, &mut open, &mut cover);
        }
    }
    while let Some(row) = open.first() {
        grow(Cube::minterm(ones.inputs(), row), valid, &mut open, &mut cover);
    }
    cover
}

/// Drops literals while the cube stays allowed, each time the one that gains most open rows.
fn grow(seed: Cube, valid: &RowSet, open: &mut RowSet, cover: &mut Vec<Cube>) {
    let inputs = valid.inputs();
    let mut cube = seed;
    loop {
        let mut chosen: Option<(usize, Cube)> = None;
        for bit in (0..inputs).filter(|b| cube.care() >> b & 1 == 1) {
            let added = cube.with(bit, cube.value() >> bit & 1 == 0);
            if !valid.contains_cube(added) {
                continue;
            }
            let gain = added.rows(inputs).filter(|r| open.contains(*r)).count();
            if chosen.is_none_or(|(best, _)| gain > best) {
                chosen = Some((gain, cube.without(1 << bit)));
            }
        }
        match chosen {
            Some((_, larger)) => cube = larger,
            None => break,
        }
    }
    open.remove_cube(cube);
    cover.push(cube);
}

/// Takes out cubes whose rows others cover, the ones with most literals first.
fn irredundant(cover: &mut Vec<Cube>, ones: &RowSet) {
    let mut tally = Tally::new(ones.inputs(), cover);
    cover.sort_by(|a, b| b.literals().cmp(&a.literals()).then(a.list_order(b)));
    cover.retain(|cube| {
        let idle = tally.needs(*cube, ones).next().is_none();
        if idle {
            tally.remove(*cube);
        }
        !idle
    });
}

/// Shrinks each cube to what only it covers, the largest first, so that the next growth can go elsewhere.
fn reduce(cover: &[Cube], ones: &RowSet) -> Vec<Cube> {
    let mut tally = Tally::new(ones.inputs(), cover);
    let mut cubes = cover.to_vec();
    cubes.sort_by(|a, b| a.literals().cmp(&b.literals()).then(a.list_order(b)));
    let mut reduced = Vec::new();
    for cube in cubes {
        let hull = tally.needs(cube, ones).map(|r| Cube::minterm(ones.inputs(), r)).reduce(Cube::hull);
        tally.remove(cube);
        if let Some(hull) = hull {
            tally.add(hull);
            reduced.push(hull);
        }
    }
    reduced
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::minimise::cover_rows;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_cover_is_right_on_every_care_row_and_holds_nothing_idle(
            words in prop::collection::vec(any::<u64>(), 16), dashes in prop::collection::vec(any::<u64>(), 16), inputs in 3u32..=10,
        ) {
            let dont_care = RowSet::from_words(inputs, &dashes).zip(&RowSet::from_words(inputs, &words[1..]), |a, b| a & b);
            let ones = RowSet::from_words(inputs, &words).zip(&dont_care, |a, b| a & !b);
            let valid = ones.zip(&dont_care, |a, b| a | b);
            let cubes = cover(&ones, &valid);
            let rows = cover_rows(inputs, &cubes);
            prop_assert!(ones.zip(&rows, |a, b| a & !b).is_empty() && rows.zip(&valid, |a, b| a & !b).is_empty());
            for (i, _) in cubes.iter().enumerate() {
                let mut without = cubes.clone();
                without.remove(i);
                prop_assert!(!ones.zip(&cover_rows(inputs, &without), |a, b| a & !b).is_empty());
            }
        }
    }
}
