//! What a wrong table has to do with the expected one: outputs or inputs inverted, swapped, turned around; a product
//! term that is missing or too much; a range that ends early.

use crate::near_miss::Near;
use base::Budget;
use elab::{ActualTable, ExercisePort};
use exercise::Exercise;
use logic::{Cube, Form, Notation, RowSet, RowValue};

/// Inputs of which all orders are tried.
const MAX_ORDERED: usize = 6;

/// The two tables.
pub(crate) struct Tables<'a> {
    exercise: &'a Exercise,
    actual: &'a ActualTable,
    inputs: u32,
    /// How terms are written.
    notation: Notation,
    /// For each output bit: rows with a demanded value that is not there.
    wrong: Vec<RowSet>,
}

/// A way to read the inputs: where the bits of a row number come from, and which of them are turned.
struct Reading {
    /// `order[i]`: the input that stands where the design takes input `i`.
    order: Vec<usize>,
    /// Bits of the row number that are complemented.
    flip: u64,
}

impl Reading {
    fn plain(inputs: u32) -> Self {
        Self { order: (0..inputs as usize).collect(), flip: 0 }
    }

    fn row(&self, row: u64) -> u64 {
        let n = self.order.len();
        let moved =
            self.order.iter().enumerate().fold(0, |r, (i, from)| r | (row >> (n - 1 - from) & 1) << (n - 1 - i));
        moved ^ self.flip
    }
}

fn names(list: &[String]) -> String {
    match list {
        [] => String::new(),
        [one] => format!("`{one}`"),
        [first @ .., last] => {
            let first: Vec<String> = first.iter().map(|n| format!("`{n}`")).collect();
            format!("{} and `{last}`", first.join(", "))
        }
    }
}

impl<'a> Tables<'a> {
    pub(crate) fn new(exercise: &'a Exercise, actual: &'a ActualTable, notation: Notation) -> Self {
        let inputs = exercise.table().input_count();
        let wrong = exercise.table().outputs.iter().zip(&actual.columns).map(|(expected, column)| {
            let care = expected.dont_care.complement();
            let bad = expected.ones.zip(&column.ones, |e, a| e ^ a).zip(&column.unknown, |d, u| d | u);
            bad.zip(&care, |b, c| b & c)
        });
        Self { exercise, actual, inputs, notation, wrong: wrong.collect() }
    }

    fn ports(&self, input: bool) -> impl Iterator<Item = (&'a ExercisePort, std::ops::Range<usize>)> {
        let mut at = 0;
        self.exercise.ports.iter().filter(move |p| p.is_input == input).map(move |p| {
            let first = at;
            at += p.shape.width() as usize;
            (p, first..at)
        })
    }

    fn bit_names(&self, input: bool) -> Vec<String> {
        self.ports(input).flat_map(|(p, _)| p.bit_names().collect::<Vec<_>>()).collect()
    }

    /// Is output `k` right when it is taken from the design's output `from`, complemented or not?
    fn output_fits(&self, k: usize, from: usize, flip: bool) -> bool {
        let (expected, column) = (&self.exercise.table().outputs[k], &self.actual.columns[from]);
        let care = expected.dont_care.complement();
        let turned = if flip { u64::MAX } else { 0 };
        let differ = expected.ones.zip(&column.ones, |e, a| e ^ a ^ turned);
        let bad = differ.zip(&column.unknown, |d, u| d | u);
        bad.zip(&care, |b, c| b & c).is_empty()
    }

    /// Are all outputs right when the inputs are read that way? Wrong rows are looked at first.
    fn reading_fits(&self, reading: &Reading) -> bool {
        let right = |row: u64| {
            let there = reading.row(row);
            self.exercise.table().outputs.iter().zip(&self.actual.columns).all(|(expected, column)| {
                let level = column.ones.contains(there);
                match expected.value(row) {
                    RowValue::DontCare => true,
                    value => !column.unknown.contains(there) && (value == RowValue::One) == level,
                }
            })
        };
        let suspects = self.wrong.iter().flat_map(|w| w.iter().take(8));
        suspects.chain(0..self.exercise.table().rows()).all(right)
    }

    /// Outputs that are inverted or stand in another place.
    pub(crate) fn outputs_wrong(&self) -> Vec<Near> {
        self.inverted_outputs().or_else(|| self.moved_outputs()).into_iter().collect()
    }

    fn inverted_outputs(&self) -> Option<Near> {
        let all = 0..self.wrong.len();
        let inverted: Vec<usize> = all.clone().filter(|k| !self.wrong[*k].is_empty()).collect();
        if inverted.is_empty() || !inverted.iter().all(|k| self.output_fits(*k, *k, true)) {
            return None;
        }
        let whole = |range: &std::ops::Range<usize>| range.clone().all(|k| inverted.contains(&k));
        let bits = self.bit_names(false);
        let mut list: Vec<String> = Vec::new();
        for (port, range) in self.ports(false) {
            if whole(&range) {
                list.push(port.name.clone());
            } else {
                list.extend(range.filter(|k| inverted.contains(k)).map(|k| bits[k].clone()));
            }
        }
        let (message, repair) = match list.len() {
            n if n > 1 && inverted.len() == self.wrong.len() => {
                ("All outputs are inverted.".to_owned(), "Invert every output.".to_owned())
            }
            1 => (format!("The output {} is inverted.", names(&list)), format!("Invert {}.", names(&list))),
            _ => (format!("The outputs {} are inverted.", names(&list)), format!("Invert {}.", names(&list))),
        };
        Some(Near::plain("output_inverted", message, repair, None))
    }

    /// Outputs that are right but stand in another place.
    fn moved_outputs(&self) -> Option<Near> {
        let count = self.wrong.len();
        if count < 2 {
            return None;
        }
        let fits = |place: &dyn Fn(usize) -> usize| (0..count).all(|k| self.output_fits(k, place(k), false));
        for (port, range) in self.ports(false).filter(|(_, r)| r.len() > 1) {
            let turned = |k: usize| if range.contains(&k) { range.start + range.end - 1 - k } else { k };
            if fits(&turned) {
                let message = format!("The bits of `{}` are in the other order.", port.name);
                let repair = format!("Turn the bits of `{}` around.", port.name);
                return Some(Near::plain("vector_reversed", message, repair, None));
            }
        }
        let from = self.matching(count)?;
        let moved: Vec<usize> = (0..count).filter(|k| from[*k] != *k).collect();
        let bits = self.bit_names(false);
        let text: Vec<String> = moved.iter().map(|k| bits[*k].clone()).collect();
        let (message, repair) = if moved.len() == 2 {
            (format!("The outputs {} are swapped.", names(&text)), format!("Swap {}.", names(&text)))
        } else {
            let first = moved.first()?;
            let message = format!(
                "The outputs {} are right but in another order: what `{}` should do, `{}` does.",
                names(&text),
                bits[*first],
                bits[from[*first]]
            );
            (message, "Put them in the order of the exercise.".to_owned())
        };
        Some(Near::plain("outputs_swapped", message, repair, None))
    }

    /// An output of the design for each expected one, every one used once.
    fn matching(&self, count: usize) -> Option<Vec<usize>> {
        if count > 64 {
            return None;
        }
        let choices: Vec<Vec<usize>> = (0..count)
            .map(|k| {
                let mut list: Vec<usize> = (0..count).filter(|j| self.output_fits(k, *j, false)).collect();
                // What is right stays where it is.
                list.sort_by_key(|j| *j != k);
                list
            })
            .collect();
        let mut taken: Vec<Option<usize>> = vec![None; count];
        for k in 0..count {
            let mut seen = vec![false; count];
            if !augment(k, &choices, &mut taken, &mut seen) {
                return None;
            }
        }
        let mut from = vec![0; count];
        for (j, k) in taken.iter().enumerate() {
            from[(*k)?] = j;
        }
        Some(from)
    }

    /// Inputs inverted, swapped or in another order.
    pub(crate) fn read_wrong(&self, budget: &mut Budget) -> Option<Near> {
        let n = self.inputs as usize;
        let bits = self.bit_names(true);
        let mut tried = |reading: &Reading| {
            budget.spend(64 + self.exercise.table().rows() / 64).is_ok() && self.reading_fits(reading)
        };
        let flipped = |range: std::ops::Range<usize>| Reading {
            flip: range.fold(0, |f, i| f | 1 << (n - 1 - i)),
            ..Reading::plain(self.inputs)
        };
        let inverted = |what: &str| {
            let message = format!("It takes {what} the other way round.");
            Near::plain("input_inverted", message, format!("Use the complement of {what}."), None)
        };
        for (port, range) in self.ports(true) {
            if tried(&flipped(range)) {
                return Some(inverted(&format!("`{}`", port.name)));
            }
        }
        if n > 1 && tried(&flipped(0..n)) {
            return Some(inverted("all inputs"));
        }
        for (port, range) in self.ports(true).filter(|(_, r)| r.len() > 1) {
            let turned = |i: usize| if range.contains(&i) { range.start + range.end - 1 - i } else { i };
            if tried(&Reading { order: (0..n).map(turned).collect(), flip: 0 }) {
                let message = format!("The bits of `{}` are in the other order.", port.name);
                let repair = format!("Turn the bits of `{}` around.", port.name);
                return Some(Near::plain("vector_reversed", message, repair, None));
            }
            for i in range.clone() {
                if tried(&flipped(i..i + 1)) {
                    return Some(inverted(&format!("`{}`", bits[i])));
                }
            }
        }
        self.swapped_inputs(&bits, &mut tried)
    }

    fn swapped_inputs(&self, bits: &[String], tried: &mut dyn FnMut(&Reading) -> bool) -> Option<Near> {
        let n = bits.len();
        let said = |message: String, repair: String| Some(Near::plain("inputs_swapped", message, repair, None));
        let ports: Vec<(&ExercisePort, std::ops::Range<usize>)> = self.ports(true).collect();
        for (i, (first, a)) in ports.iter().enumerate() {
            for (second, b) in ports[i + 1..].iter().filter(|(_, r)| r.len() == a.len()) {
                let swapped = |i: usize| match i {
                    i if a.contains(&i) => b.start + (i - a.start),
                    i if b.contains(&i) => a.start + (i - b.start),
                    i => i,
                };
                if tried(&Reading { order: (0..n).map(swapped).collect(), flip: 0 }) {
                    let both = format!("`{}` and `{}`", first.name, second.name);
                    return said(format!("{both} are swapped."), format!("Swap {both}."));
                }
            }
        }
        for a in 0..n {
            for b in a + 1..n {
                let mut order: Vec<usize> = (0..n).collect();
                order.swap(a, b);
                if tried(&Reading { order, flip: 0 }) {
                    let both = format!("`{}` and `{}`", bits[a], bits[b]);
                    return said(format!("{both} are swapped."), format!("Swap {both}."));
                }
            }
        }
        if (3..=MAX_ORDERED).contains(&n) {
            let mut order: Vec<usize> = (0..n).collect();
            while next_order(&mut order) {
                if tried(&Reading { order: order.clone(), flip: 0 }) {
                    let taken: Vec<String> = order.iter().map(|i| bits[*i].clone()).collect();
                    let message =
                        format!("It takes the inputs in another order: {} stand for {}.", names(&taken), names(bits));
                    return said(message, "Connect the inputs in the order of the exercise.".into());
                }
            }
        }
        None
    }

    /// The only wrong output, when none of its wrong rows is unknown.
    fn only_wrong(&self) -> Option<usize> {
        let wrong: Vec<usize> = (0..self.wrong.len()).filter(|k| !self.wrong[*k].is_empty()).collect();
        let [only] = wrong.as_slice() else { return None };
        let unknown = self.actual.columns[*only].unknown.zip(&self.wrong[*only], |u, w| u & w);
        unknown.is_empty().then_some(*only)
    }

    fn hull(&self, rows: &RowSet) -> Option<Cube> {
        let mut cubes = rows.iter().map(|row| Cube::minterm(self.inputs, row));
        let first = cubes.next()?;
        Some(cubes.fold(first, Cube::hull))
    }

    fn term(&self, cube: Cube) -> String {
        Form::product(self.inputs, cube).text(&self.bit_names(true), self.notation)
    }

    /// A product term that would add exactly the ones that are missing.
    pub(crate) fn missing_term(&self) -> Option<Near> {
        let k = self.only_wrong()?;
        let (expected, column) = (&self.exercise.table().outputs[k], &self.actual.columns[k]);
        if !self.wrong[k].zip(&column.ones, |w, a| w & a).is_empty() {
            return None;
        }
        let allowed = expected.ones.zip(&expected.dont_care, |o, d| o | d);
        let mut cube = self.hull(&self.wrong[k]).filter(|c| allowed.contains_cube(*c))?;
        for bit in (0..self.inputs).map(|i| 1u32 << i) {
            let wider = cube.without(bit);
            if cube.care() & bit != 0 && allowed.contains_cube(wider) {
                cube = wider;
            }
        }
        if cube.literals() == 0 {
            return None;
        }
        let term = self.term(cube);
        let near = Near::plain(
            "missing_term",
            format!("`{}` lacks the product term `{term}`.", expected.name),
            format!("Add `{term}` to `{}`.", expected.name),
            None,
        );
        Some(Near { hint: Some(format!("`{}` lacks one product term.", expected.name)), ..near })
    }

    /// A product term that holds exactly the ones that are too many.
    pub(crate) fn extra_term(&self) -> Option<Near> {
        let k = self.only_wrong()?;
        let (expected, column) = (&self.exercise.table().outputs[k], &self.actual.columns[k]);
        if !self.wrong[k].zip(&expected.ones, |w, e| w & e).is_empty() {
            return None;
        }
        let cube = self.hull(&self.wrong[k])?;
        let must = expected.ones.zip(&expected.dont_care, |o, d| o & !d).zip(&column.ones, |o, a| o & a);
        if must.meets_cube(cube) || cube.literals() == 0 {
            return None;
        }
        let term = self.term(cube);
        let near = Near::plain(
            "extra_term",
            format!("`{}` is 1 for the product term `{term}`, which is too much.", expected.name),
            format!("Take `{term}` out of `{}`.", expected.name),
            None,
        );
        Some(Near { hint: Some(format!("`{}` has one product term too many.", expected.name)), ..near })
    }

    /// Right up to some row, and always the same from there on.
    pub(crate) fn cut_short(&self) -> Option<Near> {
        let first = self.wrong.iter().filter_map(RowSet::first).min()?;
        let rows = self.exercise.table().rows();
        if first < 4 || rows - first < 2 {
            return None;
        }
        let last = self.actual.columns.iter().map(|c| c.level(rows - 1)).collect::<Vec<_>>();
        let same = |row: u64| self.actual.columns.iter().zip(&last).all(|(c, l)| c.level(row) == *l);
        let wrong = (first..rows).filter(|row| self.wrong.iter().any(|w| w.contains(*row))).count();
        if wrong < 2 || !(first..rows).all(same) {
            return None;
        }
        let message = format!("It is right up to row {} and gives always the same from row {first} on.", first - 1);
        Some(Near::plain(
            "range_cut_short",
            message,
            format!("Give the rows {first} to {} their values.", rows - 1),
            None,
        ))
    }
}

/// One step of bipartite matching along alternating paths (Kuhn 1955).
fn augment(k: usize, choices: &[Vec<usize>], taken: &mut [Option<usize>], seen: &mut [bool]) -> bool {
    for j in &choices[k] {
        if std::mem::replace(&mut seen[*j], true) {
            continue;
        }
        let free = match taken[*j] {
            None => true,
            Some(other) => augment(other, choices, taken, seen),
        };
        if free {
            taken[*j] = Some(k);
            return true;
        }
    }
    false
}

/// The next order of a list in dictionary order; false after the last one.
fn next_order(list: &mut [usize]) -> bool {
    let Some(at) = list.windows(2).rposition(|w| w[0] < w[1]) else { return false };
    let Some(with) = list.iter().rposition(|v| *v > list[at]) else { return false };
    list.swap(at, with);
    list[at + 1..].reverse();
    true
}
