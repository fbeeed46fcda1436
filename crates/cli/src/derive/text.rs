//! A derivation as text of at most 80 columns.

use derive::{CostInfo, Derivation, DerivedOutput, HazardInfo, StepsInfo, TwoLevel};
use logic::{TruthTable, row_text};
use std::fmt::Write;

const WIDTH: usize = 80;

pub(super) fn derivation(table: &TruthTable, derivation: &Derivation, steps: bool) -> String {
    let mut out = String::new();
    if table.inputs.len() <= 8 {
        truth_table(table, &mut out);
    }
    for (index, output) in derivation.outputs.iter().enumerate() {
        let _ = writeln!(out, "\n{}", output.name);
        let numbers = |rows: &[u64]| rows.iter().map(u64::to_string).collect::<Vec<_>>().join(", ");
        entry(&mut out, "minterms", &numbers(&output.minterms));
        entry(&mut out, "maxterms", &numbers(&output.maxterms));
        if !output.dont_cares.is_empty() {
            entry(&mut out, "don't-care", &numbers(&output.dont_cares));
        }
        entry(&mut out, "sum of m.", &output.canonical.sop);
        entry(&mut out, "prod. of M.", &output.canonical.pos);
        if (2..=4).contains(&table.inputs.len()) {
            map(table, index, &mut out);
        }
        primes(output, &mut out);
        two_level(&mut out, "minimal SOP", &output.sop);
        two_level(&mut out, "minimal POS", &output.pos);
        entry(&mut out, "NAND–NAND", &output.nand_nand);
        entry(&mut out, "NOR–NOR", &output.nor_nor);
        if let Some(xor) = &output.xor {
            entry(&mut out, "with XOR", &xor.text);
        }
        hazards(&mut out, "static-1", &output.sop_hazards);
        hazards(&mut out, "static-0", &output.pos_hazards);
        costs(&output.costs, &mut out);
        if steps {
            for (title, steps) in [("Steps to the SOP", &output.sop_steps), ("Steps to the POS", &output.pos_steps)] {
                match steps {
                    Some(steps) => steps_text(title, steps, &mut out),
                    None => drop(writeln!(out, "  {title}: too many products to follow on paper")),
                }
            }
        }
    }
    if let Some(shared) = &derivation.shared {
        let proof = if shared.optimal { "proved fewest" } else { "not proved fewest" };
        let _ = writeln!(
            out,
            "\nShared products: {} ({proof}), {} literals; apart the outputs need {}",
            shared.terms, shared.literals, shared.apart_terms
        );
        let widest = shared.products.iter().map(|p| p.text.chars().count()).max().unwrap_or(0);
        for product in &shared.products {
            let _ = writeln!(out, "  {:<widest$}  {}", product.text, product.outputs.join(", "));
        }
        for (output, text) in derivation.outputs.iter().zip(&shared.texts) {
            entry(&mut out, &output.name, text);
        }
    }
    out
}

/// A labelled text, broken at blanks.
fn entry(out: &mut String, label: &str, text: &str) {
    let margin = 15.max(label.chars().count() + 4);
    let _ = writeln!(out, "  {label:<width$}{}", wrap(text, margin), width = margin - 2);
}

fn wrap(text: &str, margin: usize) -> String {
    let mut out = String::new();
    let mut width = margin;
    for word in text.split(' ') {
        let length = word.chars().filter(|c| *c != '\u{305}').count();
        if width > margin && width + 1 + length > WIDTH {
            let _ = write!(out, "\n{}", " ".repeat(margin));
            width = margin;
        } else if width > margin {
            out.push(' ');
            width += 1;
        }
        out.push_str(word);
        width += length;
    }
    out
}

fn truth_table(table: &TruthTable, out: &mut String) {
    let n = table.input_count();
    let inputs: Vec<&str> = table.inputs.iter().map(String::as_str).collect();
    let outputs: Vec<&str> = table.outputs.iter().map(|o| o.name.as_str()).collect();
    let total: usize = inputs.iter().chain(&outputs).map(|s| s.chars().count() + 1).sum::<usize>() + 6;
    if total > WIDTH {
        // Names don't fit over their columns: number them below.
        let _ = writeln!(out, "row  {} | {}", inputs.join(" "), outputs.join(" "));
        for row in 0..table.rows() {
            let _ = writeln!(out, "{row:>3}  {} | {}", row_text(n, row), table.output_text(row));
        }
        return;
    }
    let cells = |text: String, names: &[&str]| -> String {
        text.chars().zip(names).map(|(c, n)| format!("{c:<w$}", w = n.chars().count() + 1)).collect()
    };
    let _ = writeln!(out, "row  {} | {}", inputs.join(" "), outputs.join(" "));
    for row in 0..table.rows() {
        let left = cells(row_text(n, row), &inputs);
        let right = cells(table.output_text(row), &outputs);
        let _ = writeln!(out, "{row:>3}  {left}| {}", right.trim_end());
    }
}

/// A Karnaugh map of two to four inputs: the first half of them down, the others across, both in Gray order.
fn map(table: &TruthTable, output: usize, out: &mut String) {
    let n = table.inputs.len();
    let down = n / 2;
    let across = n - down;
    let gray = |i: u64| i ^ i >> 1;
    let bits = |value: u64, width: usize| format!("{value:0width$b}");
    let left = table.inputs[..down].join(" ");
    let margin = left.chars().count().max(4);
    let _ = writeln!(out, "  map  {left:<margin$}  \\  {}", table.inputs[down..].join(" "));
    let head: Vec<String> = (0..1u64 << across).map(|i| bits(gray(i), across)).collect();
    let _ = writeln!(out, "       {:<margin$}     {}", "", head.join("  "));
    for r in 0..1u64 << down {
        let cells: Vec<String> = (0..1u64 << across)
            .map(|c| {
                let row = gray(r) << across | gray(c);
                format!("{:^across$}", table.outputs[output].value(row).to_char())
            })
            .collect();
        let _ = writeln!(out, "       {:>margin$}     {}", bits(gray(r), down), cells.join("  ").trim_end());
    }
}

fn primes(output: &DerivedOutput, out: &mut String) {
    if output.primes.is_empty() || output.primes.len() > 60 {
        return;
    }
    let list: Vec<String> =
        output.primes.iter().map(|p| format!("{}{}", p.cube, if p.essential { "*" } else { "" })).collect();
    entry(out, "primes", &format!("{} (* essential)", list.join(" ")));
}

fn two_level(out: &mut String, label: &str, form: &TwoLevel) {
    for (i, cover) in form.covers.iter().take(8).enumerate() {
        entry(out, if i == 0 { label } else { "  or" }, &cover.text);
    }
    let more = if form.covers.len() > 8 { format!("; {} more tie", form.covers.len() - 8) } else { String::new() };
    let proof = if form.optimal {
        "proved minimal".to_owned()
    } else {
        format!("not proved minimal, at least {} terms", form.least_terms)
    };
    entry(out, "", &format!("{}, {}, {proof}{more}", count(form.terms, "term"), count(form.literals, "literal")));
}

fn count(n: u32, what: &str) -> String {
    if n == 1 { format!("1 {what}") } else { format!("{n} {what}s") }
}

fn hazards(out: &mut String, label: &str, hazards: &[HazardInfo]) {
    for hazard in hazards.iter().take(12) {
        entry(out, label, &hazard.sentence.replace('`', ""));
    }
}

fn costs(costs: &[CostInfo], out: &mut String) {
    let _ = writeln!(out, "  cost            terms literals gates inputs levels inverters packages");
    for c in costs {
        let _ = writeln!(
            out,
            "  {:<15} {:>5} {:>8} {:>5} {:>6} {:>6} {:>9} {:>8}",
            c.form, c.terms, c.literals, c.gates, c.gate_inputs, c.levels, c.inverters, c.package_total
        );
    }
}

fn steps_text(title: &str, steps: &StepsInfo, out: &mut String) {
    let _ = writeln!(out, "  {title}");
    for (i, column) in steps.columns.iter().enumerate() {
        let _ = writeln!(
            out,
            "    {}",
            if i == 0 {
                "Rows by number of ones".into()
            } else {
                format!("Combined, {i} {}", if i == 1 { "dash" } else { "dashes" })
            }
        );
        for group in column {
            let cubes = group.cubes.iter().map(|c| format!("{}{}", c.cube, if c.combined { "" } else { "*" }));
            let line = format!("{} | {}", group.ones, cubes.collect::<Vec<_>>().join(" "));
            let _ = writeln!(out, "      {}", wrap(&line, 10));
        }
    }
    if steps.columns.is_empty() {
        let _ = writeln!(out, "    No row has to be covered.");
    } else {
        let _ = writeln!(out, "    (* prime: it combines no further)");
    }
    for (i, step) in steps.chart.iter().enumerate() {
        let _ = writeln!(out, "    {}. {}", i + 1, wrap(&step.sentence.replace('`', ""), 7));
    }
}
