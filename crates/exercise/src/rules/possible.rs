//! Rules that no design can keep, because the behaviour takes more: told to the instructor when the exercise is read.

use crate::rules::Rules;
use crate::rules::form::RequiredForm;
use crate::rules::means::Matter;
use logic::{Effort, Minimum, OutputColumn, TruthTable, minimise};

/// Input bits up to which forms are worked out.
const MAX_INPUTS: u32 = 8;

/// What a two-level form of an output takes at least.
struct Least {
    /// Gates of the second level: it has more than one term.
    joins: bool,
    /// Gates of the first level, one for each term that is no single literal.
    terms: u64,
}

impl Least {
    /// Of the sums of products that are 1 on some rows; `None` when it isn't known or there is nothing to build.
    fn of(column: &OutputColumn, dual: bool) -> Option<Self> {
        let (ones, zeros) = (&column.ones, column.zeros());
        let rows = if dual { &zeros } else { ones };
        if ones.is_empty() || zeros.is_empty() {
            return None;
        }
        let Minimum { terms, literals, optimal, primes, .. } = minimise(rows, &column.dont_care, &Effort::default());
        if !optimal {
            return None;
        }
        let single = primes.iter().filter(|p| p.cube.literals() == 1).count() as u64;
        if literals == terms {
            // Literals alone: they need no gates of their own.
            return Some(Self { joins: terms > 1, terms: 0 });
        }
        Some(Self { joins: terms > 1, terms: u64::from(terms).saturating_sub(single).max(1) })
    }

    fn gates(&self) -> u64 {
        self.terms + u64::from(self.joins)
    }
}

/// Why the rules can't be kept, and which of them it is: the form by its number, or else the limit of gates.
pub(super) fn contradiction(rules: &Rules, expected: &TruthTable) -> Option<(Option<usize>, String)> {
    if expected.inputs.is_empty() || expected.input_count() > MAX_INPUTS {
        return None;
    }
    let mut least: Option<(u64, String)> = distinct(expected);
    for (number, rule) in rules.forms.iter().enumerate() {
        let vector = format!("{}[", rule.output);
        for column in expected.outputs.iter().filter(|o| o.name == rule.output || o.name.starts_with(&vector)) {
            let dual = matches!(rule.form, RequiredForm::Pos | RequiredForm::NorNor);
            let Some(takes) = Least::of(column, dual) else { continue };
            let needed: Vec<&str> = match rule.form {
                RequiredForm::Sop => [("and", takes.terms > 0), ("or", takes.joins)],
                RequiredForm::Pos => [("or", takes.terms > 0), ("and", takes.joins)],
                RequiredForm::NandNand | RequiredForm::NandOnly => [("nand", takes.gates() > 0), ("", false)],
                RequiredForm::NorNor | RequiredForm::NorOnly => [("nor", takes.gates() > 0), ("", false)],
            }
            .into_iter()
            .filter(|(_, needed)| *needed)
            .map(|(gate, _)| gate)
            .collect();
            if let Some(gate) = needed.iter().find(|g| rules.forbid.contains(&Matter::Gate(gate_name(g)))) {
                let message = format!(
                    "`{}` can't be built {} without {} gates, which the rules forbid; allow them or ask for another form.",
                    column.name,
                    rule.form.words(),
                    gate.to_ascii_uppercase()
                );
                return Some((Some(number), message));
            }
            let is_two_level = !matches!(rule.form, RequiredForm::NandOnly | RequiredForm::NorOnly);
            if is_two_level && least.as_ref().is_none_or(|(n, _)| takes.gates() > *n) {
                least = Some((takes.gates(), format!("`{}` built {}", column.name, rule.form.words())));
            }
        }
    }
    match (rules.max_gates, least) {
        (Some(most), Some((needs, what))) if most < needs => {
            let message = format!("No design keeps within {most} gates: {what} takes at least {needs}; allow more.");
            Some((None, message))
        }
        _ => None,
    }
}

/// Gates for outputs that are all different and none of them a wire: one each, at least.
fn distinct(expected: &TruthTable) -> Option<(u64, String)> {
    let is_wire = |column: &OutputColumn| {
        let zeros = column.zeros();
        let inputs = expected.input_count();
        column.ones.is_empty()
            || zeros.is_empty()
            || (0..inputs).any(|k| {
                let bit = |row: u64| row >> (inputs - 1 - k) & 1 == 1;
                let follows =
                    |level: bool| column.ones.iter().all(|r| bit(r) == level) && zeros.iter().all(|r| bit(r) != level);
                follows(true) || follows(false)
            })
    };
    let mut kinds: Vec<&OutputColumn> = Vec::new();
    for column in expected.outputs.iter().filter(|c| !is_wire(c)) {
        // With don't-cares two columns may be one function.
        let same = |other: &&OutputColumn| {
            let clash = |a: &OutputColumn, b: &OutputColumn| !a.ones.zip(&b.zeros(), |x, y| x & y).is_empty();
            !clash(column, other) && !clash(other, column)
        };
        if !kinds.iter().any(same) {
            kinds.push(column);
        }
    }
    let count = kinds.len() as u64;
    (count > 0).then(|| {
        let what =
            if count == 1 { format!("`{}`", kinds[0].name) } else { format!("building {count} different outputs") };
        (count, what)
    })
}

fn gate_name(name: &str) -> &'static str {
    ["and", "or", "nand", "nor"].into_iter().find(|g| *g == name).unwrap_or("and")
}
