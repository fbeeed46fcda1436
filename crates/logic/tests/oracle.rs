//! Minimisation against values that no code of this project computed; `oracle/README.md` says where each comes from.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use logic::{
    AskedForm, Cube, Effort, Minimum, OutputColumn, RowSet, Shape, TruthTable, cover_rows, judge_expression, minimise,
    minimise_shared, parse_pla,
};
use serde_json::Value;

fn minimum(inputs: u32, ones: &[u64], dont_cares: &[u64]) -> (RowSet, RowSet, Minimum) {
    let column = OutputColumn::from_terms("f", inputs, ones, dont_cares, false).unwrap();
    let found = minimise(&column.ones, &column.dont_care, &Effort::default());
    (column.ones, column.dont_care, found)
}

fn rows(value: &Value) -> Vec<u64> {
    value.as_array().map(|list| list.iter().map(|v| v.as_u64().unwrap()).collect()).unwrap_or_default()
}

fn number(value: &Value) -> u32 {
    u32::try_from(value.as_u64().unwrap()).unwrap()
}

fn texts(value: &Value) -> Vec<String> {
    let mut list: Vec<String> = value.as_array().unwrap().iter().map(|v| v.as_str().unwrap().to_owned()).collect();
    list.sort();
    list
}

/// Every cover is right on every care row.
fn assert_covers(ones: &RowSet, dont_care: &RowSet, minimum: &Minimum) {
    for cover in &minimum.covers {
        let rows = cover_rows(ones.inputs(), cover);
        assert!(ones.zip(&rows, |a, b| a & !b).is_empty());
        assert!(rows.zip(ones, |a, b| a & !b).zip(dont_care, |a, d| a & !d).is_empty());
    }
}

#[test]
fn all_functions_of_three_inputs_have_the_exact_cost_primes_and_number_of_minimal_covers() {
    let mut count = 0;
    for line in include_str!("oracle/exact_all_3var.jsonl").lines() {
        let known: Value = serde_json::from_str(line).unwrap();
        let (ones, dont_care, found) = minimum(3, &rows(&known["minterms"]), &[]);
        assert_covers(&ones, &dont_care, &found);
        assert!(found.optimal && found.all_covers);
        assert_eq!((found.terms, found.literals), (number(&known["sop"]["terms"]), number(&known["sop"]["literals"])));
        assert_eq!(found.covers.len() as u32, number(&known["optimal_covers"]), "{line}");
        let mut primes: Vec<String> = found.primes.iter().map(|p| p.cube.text(3)).collect();
        primes.sort();
        assert_eq!(primes, texts(&known["prime_implicants"]));
        let mut essential: Vec<String> = found.primes.iter().filter(|p| p.essential).map(|p| p.cube.text(3)).collect();
        essential.sort();
        assert_eq!(essential, texts(&known["essential"]));
        let zeros = minimise(&ones.complement(), &dont_care, &Effort::default());
        assert_eq!((zeros.terms, zeros.literals), (number(&known["pos"]["terms"]), number(&known["pos"]["literals"])));
        count += 1;
    }
    assert_eq!(count, 256);
}

/// The exact cost of every function of four inputs by growing unions of cubes, one cube at a time: no primes, no covers.
fn costs_by_unions() -> Vec<(u32, u32)> {
    let mut cubes = Vec::new();
    for care in 0..16u32 {
        for value in (0..16u32).filter(|v| v & !care == 0) {
            let rows = (0..16u32).filter(|r| r & care == value).fold(0usize, |set, r| set | 1 << r);
            cubes.push((rows, care.count_ones()));
        }
    }
    let mut cost = vec![(u32::MAX, u32::MAX); 1 << 16];
    cost[0] = (0, 0);
    let mut layer = vec![0usize];
    while !layer.is_empty() {
        let mut next = Vec::new();
        for f in layer {
            let (terms, literals) = cost[f];
            for (rows, more) in &cubes {
                let grown = (terms + 1, literals + more);
                if grown < cost[f | rows] {
                    if cost[f | rows].0 > terms + 1 {
                        next.push(f | rows);
                    }
                    cost[f | rows] = grown;
                }
            }
        }
        layer = next;
    }
    cost
}

#[test]
fn all_functions_of_four_inputs_cost_what_a_brute_force_finds() {
    let costs = costs_by_unions();
    let known: Value = serde_json::from_str(include_str!("oracle/allfunctions_4var_summary.json")).unwrap();
    let total = |part: fn(&(u32, u32)) -> u32| costs.iter().map(|c| u64::from(part(c))).sum::<u64>();
    assert_eq!(total(|c| c.0), known["sum_terms"].as_u64().unwrap());
    assert_eq!(total(|c| c.1), known["sum_literals"].as_u64().unwrap());
    let effort = Effort { covers: 1, ..Effort::default() };
    for (function, cost) in costs.iter().enumerate() {
        let ones = RowSet::from_words(4, &[function as u64]);
        let found = minimise(&ones, &RowSet::empty(4), &effort);
        assert!(found.optimal);
        assert_eq!((found.terms, found.literals), *cost, "function {function}");
        assert_eq!(cover_rows(4, &found.covers[0]), ones);
    }
}

#[test]
fn functions_with_dont_cares_cost_what_three_solvers_agree_on() {
    for line in include_str!("oracle/random_even.jsonl").lines() {
        let known: Value = serde_json::from_str(line).unwrap();
        let n = number(&known["n"]);
        let (ones, dont_care, sop) = minimum(n, &rows(&known["minterms"]), &rows(&known["dontcares"]));
        let zeros = ones.zip(&dont_care, |a, b| !(a | b));
        let pos = minimise(&zeros, &dont_care, &Effort::default());
        for (found, known) in [(&sop, &known["sop"]), (&pos, &known["pos"])] {
            assert!(found.optimal, "{line}");
            assert_eq!((found.terms, found.literals), (number(&known["terms"]), number(&known["literals"])), "{line}");
            assert_eq!(found.primes.len() as u32, number(&known["primes"]));
            assert_eq!(found.covers.len() as u32, number(&known["optimal_covers"]).min(64), "{line}");
        }
        assert_covers(&ones, &dont_care, &sop);
        assert_covers(&zeros, &dont_care, &pos);
    }
}

#[test]
fn textbook_examples_come_out_as_the_book_has_them() {
    let known: Value = serde_json::from_str(include_str!("oracle/textbook.json")).unwrap();
    for example in known.as_array().unwrap() {
        let n = number(&example["n"]);
        let (ones, dont_care, sop) = minimum(n, &rows(&example["minterms"]), &rows(&example["dontcares"]));
        let zeros = ones.zip(&dont_care, |a, b| !(a | b));
        let pos = minimise(&zeros, &dont_care, &Effort::default());
        let source = &example["source_from_memory"];
        for (found, key, covers) in [(sop, "exact_sop", "minimal_sop_covers"), (pos, "exact_pos", "minimal_pos_covers")]
        {
            let cost = rows(&example[key]);
            assert_eq!(vec![u64::from(found.terms), u64::from(found.literals)], cost, "{source}");
            assert_eq!(found.covers.len() as u32, number(&example[covers]).min(64), "{source}");
        }
    }
}

#[test]
fn shared_products_are_as_few_as_two_solvers_find() {
    for line in include_str!("oracle/multi.jsonl").lines() {
        let known: Value = serde_json::from_str(line).unwrap();
        let inputs: Vec<String> = texts_in_order(&known["inputs"]);
        let n = inputs.len() as u32;
        let column = |o: &Value| {
            let name = o["name"].as_str().unwrap();
            OutputColumn::from_terms(name, n, &rows(&o["minterms"]), &rows(&o["dontcares"]), false).unwrap()
        };
        let outputs: Vec<OutputColumn> = known["outputs"].as_array().unwrap().iter().map(column).collect();
        let table = TruthTable { inputs, outputs };
        let shared = minimise_shared(&table, &Effort::default());
        assert!(shared.optimal, "{}", known["name"]);
        assert_eq!(shared.terms.len() as u32, number(&known["min_shared_product_terms"]), "{}", known["name"]);
        for (o, output) in table.outputs.iter().enumerate() {
            let cubes: Vec<Cube> = shared.terms.iter().filter(|t| t.outputs >> o & 1 == 1).map(|t| t.cube).collect();
            let rows = cover_rows(n, &cubes);
            assert!(output.ones.zip(&rows, |a, b| a & !b).is_empty());
            assert!(rows.zip(&output.zeros(), |a, b| a & b).is_empty());
        }
    }
}

fn texts_in_order(value: &Value) -> Vec<String> {
    value.as_array().unwrap().iter().map(|v| v.as_str().unwrap().to_owned()).collect()
}

#[test]
fn the_pla_files_hold_the_functions_of_the_same_name() {
    let folder = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/oracle/pla");
    for line in include_str!("oracle/multi.jsonl").lines() {
        let known: Value = serde_json::from_str(line).unwrap();
        let name = known["name"].as_str().unwrap();
        let text = std::fs::read_to_string(folder.join(format!("{name}.pla"))).unwrap();
        let table = parse_pla(&text).unwrap();
        for (column, output) in table.outputs.iter().zip(known["outputs"].as_array().unwrap()) {
            assert_eq!(column.name, output["name"].as_str().unwrap(), "{name}");
            assert_eq!(column.ones.iter().collect::<Vec<_>>(), rows(&output["minterms"]), "{name}");
            assert_eq!(column.dont_care.iter().collect::<Vec<_>>(), rows(&output["dontcares"]), "{name}");
        }
    }
}

#[test]
fn no_form_of_sympy_is_cheaper_and_every_one_is_accepted_as_equal() {
    let names: Vec<String> = ["a", "b", "c", "d", "e"].map(str::to_owned).to_vec();
    let mut cheaper_here = 0;
    for line in include_str!("oracle/sympy_forms.jsonl").lines() {
        let known: Value = serde_json::from_str(line).unwrap();
        let n = number(&known["n"]);
        let (ones, dont_care, sop) = minimum(n, &rows(&known["minterms"]), &rows(&known["dontcares"]));
        let zeros = ones.zip(&dont_care, |a, b| !(a | b));
        let pos = minimise(&zeros, &dont_care, &Effort::default());
        for (found, key) in [(&sop, "sop"), (&pos, "pos")] {
            let theirs = rows(&known[key]);
            if let [terms, literals] = theirs[..] {
                let ours = (u64::from(found.terms), u64::from(found.literals));
                assert!(ours <= (terms, literals), "{line}");
                cheaper_here += u32::from(ours < (terms, literals));
            }
        }
        // Their sum of products is another answer: equal on every care row, by our reader of expressions.
        let wanted = OutputColumn { name: "f".into(), ones, dont_care };
        let names = &names[..n as usize];
        let signals: Vec<(String, Shape)> = names.iter().map(|s| (s.clone(), Shape::SCALAR)).collect();
        let text = known["sop_text"].as_str().unwrap();
        if !["True", "False"].contains(&text) {
            let report = judge_expression(text, &signals, names, &wanted, AskedForm::Sop).unwrap();
            assert!(report.equal() && report.form_fault.is_none(), "{text}");
            let rows: Vec<u64> = report.form.unwrap().rows(n).iter().collect();
            assert_eq!(rows, self::rows(&known["sop_rows"]), "{text}");
        }
    }
    // SymPy's forms are minimal in terms but not always in literals.
    assert!(cheaper_here > 0);
}
