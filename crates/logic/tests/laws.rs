//! What a cover, a form, a notation and a file of a table must hold for any function, on random functions with don't-cares:
//! each fact is checked by its definition, row by row.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::{Budget, Random};
use logic::{
    AskedForm, ChartAction, Cube, Effort, Form, Notation, OutputColumn, RowSet, Shape, TruthTable, canonical_pos,
    canonical_sop, cover_rows, exclusive_form, judge_expression, minimise, minimise_shared, parse_expr, parse_pla,
    parse_rows, parse_term_list, prime_implicants, row_text, static_hazards, tabular_steps, write_pla,
};

const NAMES: [&str; 8] = ["a", "b", "c", "d", "e", "f", "g", "h"];

fn names(inputs: u32) -> Vec<String> {
    NAMES[..inputs as usize].iter().map(|n| (*n).to_owned()).collect()
}

fn signals(inputs: u32) -> Vec<(String, Shape)> {
    names(inputs).into_iter().map(|n| (n, Shape::SCALAR)).collect()
}

/// A function of so many inputs; about a row in `ones_in` is 1 and a row in `free_in` is free.
fn function(random: &mut Random, inputs: u32, ones_in: usize, free_in: usize) -> (RowSet, RowSet) {
    let (mut ones, mut free) = (RowSet::empty(inputs), RowSet::empty(inputs));
    for row in 0..1u64 << inputs {
        if free_in > 0 && random.below(free_in) == 0 {
            free.insert(row);
        } else if random.below(ones_in) == 0 {
            ones.insert(row);
        }
    }
    (ones, free)
}

/// From `least` outputs on, up to two more.
fn columns(random: &mut Random, inputs: u32, least: usize, free_in: usize) -> Vec<OutputColumn> {
    (0..least + random.below(3))
        .map(|i| {
            let (ones, dont_care) = function(random, inputs, 2, free_in);
            OutputColumn { name: format!("y{i}"), ones, dont_care }
        })
        .collect()
}

/// Every product of literals: each input in it as it is, complemented, or not in it.
fn all_cubes(inputs: u32) -> Vec<Cube> {
    let all = 1u32 << inputs;
    (0..all)
        .flat_map(|care| (0..all).filter(move |value| value & !care == 0).map(move |value| Cube::new(care, value)))
        .collect()
}

fn is_implicant(cube: Cube, inputs: u32, allowed: &RowSet) -> bool {
    (0..1u64 << inputs).filter(|row| cube.covers(*row)).all(|row| allowed.contains(row))
}

/// No literal can go.
fn is_prime(cube: Cube, inputs: u32, allowed: &RowSet) -> bool {
    is_implicant(cube, inputs, allowed)
        && (0..inputs)
            .filter(|i| cube.care() >> i & 1 == 1)
            .all(|i| !is_implicant(Cube::new(cube.care() & !(1 << i), cube.value()), inputs, allowed))
}

#[test]
fn the_primes_are_all_products_that_no_literal_can_leave() {
    let mut random = Random::new(11);
    for turn in 0..60u32 {
        let inputs = 1 + turn % 5;
        let (ones, free) = function(&mut random, inputs, 2, 1 + (turn as usize % 7));
        let allowed = ones.zip(&free, |a, b| a | b);
        let mut wanted: Vec<Cube> = all_cubes(inputs).into_iter().filter(|c| is_prime(*c, inputs, &allowed)).collect();
        wanted.sort_by(Cube::list_order);
        let found = prime_implicants(&allowed, 10_000, &mut Budget::hand_in().with_steps(10_000_000)).unwrap();
        assert_eq!(found, wanted, "turn {turn}");
    }
}

#[test]
fn essential_primes_are_those_that_alone_cover_a_row() {
    let mut random = Random::new(12);
    for turn in 0..60u32 {
        let inputs = 2 + turn % 4;
        let (ones, free) = function(&mut random, inputs, 2, 6);
        let found = minimise(&ones, &free, &Effort::default());
        for prime in &found.primes {
            let alone = ones
                .iter()
                .any(|row| prime.cube.covers(row) && found.primes.iter().filter(|p| p.cube.covers(row)).count() == 1);
            assert_eq!(prime.essential, alone, "turn {turn}: {}", prime.cube.text(inputs));
            if alone {
                assert!(found.covers.iter().all(|c| c.contains(&prime.cube)), "turn {turn}");
            }
        }
    }
}

/// The fewest terms, then the fewest literals, of a cover by primes: every set of primes is tried, small ones first.
fn cheapest(ones: &RowSet, primes: &[Cube]) -> (usize, u32) {
    if ones.is_empty() {
        return (0, 0);
    }
    let rows: Vec<u64> = ones.iter().collect();
    for size in 1..=primes.len() {
        let mut best = None;
        let mut chosen: Vec<usize> = (0..size).collect();
        loop {
            if rows.iter().all(|row| chosen.iter().any(|i| primes[*i].covers(*row))) {
                let literals: u32 = chosen.iter().map(|i| primes[*i].literals()).sum();
                best = Some(best.map_or(literals, |b: u32| b.min(literals)));
            }
            // The next combination.
            let Some(at) = (0..size).rev().find(|i| chosen[*i] < primes.len() - size + i) else { break };
            chosen[at] += 1;
            for later in at + 1..size {
                chosen[later] = chosen[later - 1] + 1;
            }
        }
        if let Some(literals) = best {
            return (size, literals);
        }
    }
    unreachable!("all primes together cover everything")
}

#[test]
fn covers_are_as_cheap_as_the_cheapest_set_of_primes() {
    let mut random = Random::new(13);
    for turn in 0..80u32 {
        let inputs = 2 + turn % 3;
        let (ones, free) = function(&mut random, inputs, 2, [0, 3, 8][turn as usize % 3]);
        let found = minimise(&ones, &free, &Effort::default());
        let primes: Vec<Cube> = found.primes.iter().map(|p| p.cube).collect();
        assert!(found.optimal && found.all_covers);
        assert_eq!((found.terms as usize, found.literals), cheapest(&ones, &primes), "turn {turn}");
        for (i, cover) in found.covers.iter().enumerate() {
            assert!(found.covers[..i].iter().all(|c| c != cover), "turn {turn}: a cover is listed twice");
        }
    }
}

/// 1 on every row that must be, 0 on every row that must be.
fn assert_right(form: &RowSet, ones: &RowSet, free: &RowSet, told: &str) {
    for row in 0..ones.rows() {
        if !free.contains(row) {
            assert_eq!(form.contains(row), ones.contains(row), "{told} row {row}");
        }
    }
}

#[test]
fn covers_of_larger_functions_are_right_irredundant_and_of_primes() {
    let mut random = Random::new(14);
    for turn in 0..30u32 {
        let inputs = 6 + turn % 4;
        let (ones, free) = function(&mut random, inputs, 3, 5);
        let found = minimise(&ones, &free, &Effort { work: 2_000_000, ..Effort::default() });
        let allowed = ones.zip(&free, |a, b| a | b);
        assert!(found.least_terms <= found.terms);
        for cover in found.covers.iter().take(3) {
            assert_right(&cover_rows(inputs, cover), &ones, &free, "cover");
            assert_eq!((cover.len(), cover.iter().map(|c| c.literals()).sum()), (found.terms as usize, found.literals));
            for (i, cube) in cover.iter().enumerate() {
                assert!(is_prime(*cube, inputs, &allowed), "turn {turn}: {} could be shorter", cube.text(inputs));
                let needed = ones.iter().any(|row| cover.iter().enumerate().all(|(k, c)| (k == i) == c.covers(row)));
                assert!(needed, "turn {turn}: {} is not needed", cube.text(inputs));
            }
        }
    }
}

#[test]
fn all_forms_of_a_function_are_that_function() {
    let mut random = Random::new(15);
    for turn in 0..60u32 {
        let inputs = 2 + turn % 5;
        let (ones, free) = function(&mut random, inputs, 2, [0, 4][turn as usize % 2]);
        let zeros = ones.zip(&free, |a, b| a | b).complement();
        let sum = minimise(&ones, &free, &Effort::default()).covers.remove(0);
        let product = minimise(&zeros, &free, &Effort::default()).covers.remove(0);
        let forms = [
            (Form::sop(inputs, &sum), AskedForm::Sop),
            (Form::pos(inputs, &product), AskedForm::Pos),
            (Form::nand_nand(inputs, &sum), AskedForm::NandNand),
            (Form::nor_nor(inputs, &product), AskedForm::NorNor),
        ];
        for (form, asked) in forms {
            assert_right(&form.rows(inputs), &ones, &free, &format!("turn {turn} {asked:?}"));
            assert_eq!(form.clone().complement().rows(inputs), form.rows(inputs).complement());
            assert_eq!(asked.fault(&form, inputs, &names(inputs)), None, "turn {turn} {form:?}");
        }
        if let Some(form) = exclusive_form(inputs, &ones, &free, &sum) {
            assert_right(&form.rows(inputs), &ones, &free, "exclusive");
            assert!(form.literals() < sum.iter().map(|c| c.literals()).sum());
        }
    }
}

#[test]
fn what_is_written_in_a_notation_reads_back_as_the_same_function() {
    let mut random = Random::new(16);
    for turn in 0..40u32 {
        let inputs = 2 + turn % 4;
        let (ones, _) = function(&mut random, inputs, 2, 0);
        let none = RowSet::empty(inputs);
        let sum = minimise(&ones, &none, &Effort::default()).covers.remove(0);
        let product = minimise(&ones.complement(), &none, &Effort::default()).covers.remove(0);
        let wanted = OutputColumn { name: "y".into(), ones: ones.clone(), dont_care: none };
        for notation in [Notation::Prime, Notation::Overline, Notation::Operators, Notation::Words] {
            let texts = [
                Form::sop(inputs, &sum).text(&names(inputs), notation),
                Form::pos(inputs, &product).text(&names(inputs), notation),
                Form::sop(inputs, &sum).complement().text(&names(inputs), notation),
                canonical_sop(&names(inputs), &ones, notation),
                canonical_pos(&names(inputs), &ones.complement(), notation),
            ];
            for (i, text) in texts.iter().enumerate() {
                let report = judge_expression(text, &signals(inputs), &names(inputs), &wanted, AskedForm::Any)
                    .unwrap_or_else(|e| panic!("{text}: {e}"));
                let right = if i == 2 { report.wrong.count() == ones.rows() } else { report.equal() };
                assert!(right, "turn {turn}, {notation:?}: {text}");
            }
        }
    }
}

/// A random expression as text, and its value.
fn expression(random: &mut Random, depth: usize) -> (String, Box<dyn Fn(u64) -> bool>) {
    if depth == 0 {
        let at = random.below(4);
        return (NAMES[at].to_owned(), Box::new(move |row| row >> (3 - at) & 1 == 1));
    }
    let (x, fx) = expression(random, depth - 1);
    let smaller = random.below(depth);
    let (y, fy) = expression(random, smaller);
    match random.below(9) {
        0 => (format!("~({x})"), Box::new(move |r| !fx(r))),
        1 => (format!("({x})'"), Box::new(move |r| !fx(r))),
        2 => (format!("not ({x})"), Box::new(move |r| !fx(r))),
        3 => (format!("({x}) & ({y})"), Box::new(move |r| fx(r) && fy(r))),
        4 => (format!("({x})({y})"), Box::new(move |r| fx(r) && fy(r))),
        5 => (format!("({x}) | ({y})"), Box::new(move |r| fx(r) || fy(r))),
        6 => (format!("({x}) + ({y})"), Box::new(move |r| fx(r) || fy(r))),
        7 => (format!("({x}) ^ ({y})"), Box::new(move |r| fx(r) != fy(r))),
        _ => (format!("({x}) xor ({y})"), Box::new(move |r| fx(r) != fy(r))),
    }
}

#[test]
fn typed_expressions_mean_what_their_operators_say() {
    let mut random = Random::new(17);
    for _ in 0..300 {
        let (text, value) = expression(&mut random, 5);
        let found = parse_expr(&text, &signals(4), 1).unwrap_or_else(|e| panic!("{text}: {e}"));
        let rows = found.rows(&signals(4), 4);
        for row in 0..16 {
            assert_eq!(rows.contains(row), value(row), "{text} row {row:04b}");
        }
        // As gates it is the same, whatever they are.
        let form = found.form(&signals(4)).unwrap();
        assert_eq!(form.rows(4), rows, "{text}");
    }
}

#[test]
fn hazards_are_neighbours_without_a_common_product_and_consensus_terms_remove_them() {
    let mut random = Random::new(18);
    for turn in 0..60u32 {
        let inputs = 3 + turn % 3;
        let (ones, _) = function(&mut random, inputs, 2, 0);
        let cover = minimise(&ones, &RowSet::empty(inputs), &Effort::default()).covers.remove(0);
        let gaps = |cover: &[Cube]| -> usize {
            ones.iter()
                .flat_map(|row| (0..inputs).map(move |i| (row, row ^ 1 << i)))
                .filter(|(row, other)| row < other && ones.contains(*other))
                .filter(|(row, other)| !cover.iter().any(|c| c.covers(*row) && c.covers(*other)))
                .count()
        };
        let found = static_hazards(inputs, &cover);
        assert_eq!(found.is_empty(), gaps(&cover) == 0, "turn {turn}");
        for hazard in &found {
            assert_eq!(hazard.from ^ hazard.to, 1 << (inputs - 1 - hazard.input), "turn {turn}");
            assert!(!cover.iter().any(|c| c.covers(hazard.from) && c.covers(hazard.to)), "turn {turn}");
            assert!(hazard.consensus.covers(hazard.from) && hazard.consensus.covers(hazard.to));
            assert!(is_implicant(hazard.consensus, inputs, &ones), "turn {turn}");
        }
        let mut free_of_them = cover.clone();
        free_of_them.extend(found.iter().map(|h| h.consensus));
        assert_eq!(gaps(&free_of_them), 0, "turn {turn}");
    }
}

#[test]
fn products_shared_by_outputs_give_each_output_its_function() {
    let mut random = Random::new(19);
    for turn in 0..25u32 {
        let inputs = 3 + turn % 2;
        let outputs = columns(&mut random, inputs, 2, 5);
        let alone: usize =
            outputs.iter().map(|o| minimise(&o.ones, &o.dont_care, &Effort::default()).terms as usize).sum();
        let table = TruthTable { inputs: names(inputs), outputs };
        let found = minimise_shared(&table, &Effort::default());
        assert!(found.terms.len() <= alone, "turn {turn}: sharing costs more than not sharing");
        for (o, output) in table.outputs.iter().enumerate() {
            let cover: Vec<Cube> = found.terms.iter().filter(|t| t.outputs >> o & 1 == 1).map(|t| t.cube).collect();
            assert_right(&cover_rows(inputs, &cover), &output.ones, &output.dont_care, &format!("turn {turn} y{o}"));
        }
    }
}

#[test]
fn the_steps_on_paper_lead_to_a_cheapest_cover() {
    let mut random = Random::new(20);
    for turn in 0..50u32 {
        let inputs = 3 + turn % 3;
        let (ones, free) = function(&mut random, inputs, 2, 6);
        let minimum = minimise(&ones, &free, &Effort::default());
        let label = |cube: Cube| cube.text(inputs);
        let Some(steps) = tabular_steps(&ones, &free, &minimum, &label) else { panic!("turn {turn}") };
        assert!(ones.is_empty() || minimum.covers.contains(&steps.cover), "turn {turn}: {:?}", steps.cover);
        // A cube with k dashes stands in column k, among those with its number of ones, and is combined unless prime.
        let allowed = ones.zip(&free, |a, b| a | b);
        for (dashes, column) in (0..).zip(&steps.columns) {
            for group in column {
                for entry in &group.cubes {
                    assert_eq!(inputs - entry.cube.literals(), dashes, "turn {turn}");
                    assert_eq!(entry.cube.value().count_ones(), group.ones, "turn {turn}");
                    assert_eq!(entry.rows.len(), 1 << dashes, "turn {turn}");
                    assert_eq!(entry.combined, !is_prime(entry.cube, inputs, &allowed), "turn {turn}");
                }
            }
        }
        for step in &steps.chart {
            assert!(!step.sentence.is_empty());
            if let ChartAction::Essential { prime, row } = step.action {
                assert!(steps.chart_primes[prime].covers(row), "turn {turn}");
            }
        }
    }
}

#[test]
fn tables_go_through_files_of_products_and_rows_unchanged() {
    let mut random = Random::new(21);
    for turn in 0..30u32 {
        let inputs = 1 + turn % 6;
        let outputs = columns(&mut random, inputs, 1, 4);
        let table = TruthTable { inputs: names(inputs), outputs };
        let again = parse_pla(&write_pla(&table)).unwrap();
        assert_eq!(again, table, "turn {turn}\n{}", write_pla(&table));
        let rows: String =
            (0..table.rows()).map(|row| format!("{} | {}\n", row_text(inputs, row), table.output_text(row))).collect();
        let outputs: Vec<String> = table.outputs.iter().map(|o| o.name.clone()).collect();
        assert_eq!(parse_rows(&rows, &table.inputs, &outputs).unwrap(), table, "turn {turn}\n{rows}");
    }
}

#[test]
fn lists_of_terms_are_the_rows_they_name() {
    let mut random = Random::new(22);
    for turn in 0..40u32 {
        let inputs = 2 + turn % 4;
        let (ones, free) = function(&mut random, inputs, 2, 4);
        let list = |rows: &RowSet| {
            rows.iter().map(|r| r.to_string()).collect::<Vec<_>>().join([", ", ",", " "][turn as usize % 3])
        };
        let inputs_text = names(inputs).join(",");
        let zeros = ones.zip(&free, |a, b| a | b).complement();
        let parsed = |text: &str, terms: &RowSet| {
            let found = parse_term_list(text).unwrap_or_else(|e| panic!("{text}: {e}"));
            assert_eq!(found.terms, terms.iter().collect::<Vec<_>>(), "{text}");
            assert_eq!(found.dont_cares, free.iter().collect::<Vec<_>>(), "{text}");
        };
        if ones.is_empty() || zeros.is_empty() || free.is_empty() {
            continue;
        }
        parsed(&format!("F({inputs_text}) = m({}) + d({})", list(&ones), list(&free)), &ones);
        parsed(&format!("F({inputs_text}) = \u{03a3}m({}) + d({})", list(&ones), list(&free)), &ones);
        parsed(&format!("F({inputs_text}) = \u{03a0}M({}) d({})", list(&zeros), list(&free)), &zeros);
    }
}
