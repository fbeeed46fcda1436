//! `zesty-gate derive`: table, minterms, maxterms and canonical forms of a behaviour.

use crate::Unusable;
use crate::report;
use logic::{
    Notation, OutputColumn, RowSet, Shape, TermList, TruthTable, canonical_pos, canonical_sop, input_word, parse_expr,
    parse_term_list, row_text, scan_names,
};
use serde_json::{Value, json};
use std::fmt::Write;
use std::process::ExitCode;

/// Most inputs of a derivation.
const MAX_INPUTS: usize = 16;

/// Arguments of `derive`.
#[derive(clap::Args)]
pub(crate) struct Args {
    /// Minterms of an output: `f(a,b,c,d)=5,7,11,13 d=0,2` (repeatable, same inputs).
    #[arg(long, group = "source")]
    minterms: Vec<String>,
    /// Maxterms of an output, written alike.
    #[arg(long, group = "source")]
    maxterms: Vec<String>,
    /// An expression: `f = a & ~b | c` (repeatable).
    #[arg(long, group = "source")]
    expr: Vec<String>,
    /// The inputs of the expressions, most significant first; else in order of first appearance.
    #[arg(long, value_delimiter = ',', requires = "expr")]
    inputs: Vec<String>,
    /// How forms are written: prime, overline, operators or words.
    #[arg(long, default_value = "prime")]
    notation: String,
    /// One JSON object on standard output.
    #[arg(long)]
    json: bool,
}

pub(crate) fn run(args: &Args) -> Result<ExitCode, Unusable> {
    let notation = Notation::from_key(&args.notation).ok_or_else(|| {
        Unusable(format!("`{}` is no notation; use prime, overline, operators or words.", args.notation))
    })?;
    let table = if !args.minterms.is_empty() {
        from_lists(&args.minterms, false)?
    } else if !args.maxterms.is_empty() {
        from_lists(&args.maxterms, true)?
    } else if !args.expr.is_empty() {
        from_expressions(&args.expr, &args.inputs)?
    } else {
        return Err(Unusable("Nothing to derive; give --minterms, --maxterms or --expr.".into()));
    };
    if args.json {
        let text = serde_json::to_string_pretty(&as_json(&table, notation)).map_err(|e| Unusable(e.to_string()))?;
        report::result(&text);
    } else {
        report::result(as_text(&table, notation).trim_end());
    }
    Ok(ExitCode::SUCCESS)
}

fn too_many(count: usize) -> Unusable {
    Unusable(format!("{count} inputs are too many to derive; use at most {MAX_INPUTS}."))
}

fn from_lists(texts: &[String], maxterms: bool) -> Result<TruthTable, Unusable> {
    let lists: Vec<TermList> = texts
        .iter()
        .map(|t| parse_term_list(t).map_err(|e| Unusable(format!("`{t}`, {e}"))))
        .collect::<Result<_, _>>()?;
    let inputs = lists[0].inputs.clone();
    if inputs.len() > MAX_INPUTS {
        return Err(too_many(inputs.len()));
    }
    let n = u32::try_from(inputs.len()).unwrap_or(u32::MAX);
    let mut outputs: Vec<OutputColumn> = Vec::new();
    for list in &lists {
        if list.inputs != inputs {
            return Err(Unusable(format!(
                "`{}` has other inputs than `{}`; give all lists the same.",
                list.name, lists[0].name
            )));
        }
        if outputs.iter().any(|o| o.name == list.name) {
            return Err(Unusable(format!("The output `{}` is given twice; rename one.", list.name)));
        }
        let column = OutputColumn::from_terms(&list.name, n, &list.terms, &list.dont_cares, maxterms)
            .map_err(|e| Unusable(format!("{e}.")))?;
        outputs.push(column);
    }
    Ok(TruthTable { inputs, outputs })
}

fn from_expressions(texts: &[String], given: &[String]) -> Result<TruthTable, Unusable> {
    let mut pairs = Vec::new();
    for text in texts {
        let (name, body) = text
            .split_once('=')
            .ok_or_else(|| Unusable(format!("`{text}` names no output; write it as `f = a & b`.")))?;
        let name = name.trim().to_owned();
        base::check_port_name(&name).map_err(|p| Unusable(format!("`{name}` can't name an output: {p}.")))?;
        pairs.push((name, body, text.find('=').map_or(0, |i| text[..=i].chars().count())));
    }
    let mut inputs: Vec<String> = given.iter().map(|s| s.trim().to_owned()).collect();
    let wrong = |text: &str, shift: usize, e: &logic::ExprError| {
        Unusable(format!("`{text}`, column {}: {} {}", e.column + shift, e.message, e.action))
    };
    if inputs.is_empty() {
        for ((_, body, shift), text) in pairs.iter().zip(texts) {
            for name in scan_names(body).map_err(|e| wrong(text, *shift, &e))? {
                if !inputs.contains(&name) {
                    inputs.push(name);
                }
            }
        }
    }
    for (i, input) in inputs.iter().enumerate() {
        base::check_port_name(input).map_err(|p| Unusable(format!("`{input}` can't name an input: {p}.")))?;
        if inputs[..i].contains(input) || pairs.iter().any(|(n, _, _)| n == input) {
            return Err(Unusable(format!("`{input}` is named twice; give each signal a name of its own.")));
        }
    }
    if inputs.len() > MAX_INPUTS {
        return Err(too_many(inputs.len()));
    }
    let n = u32::try_from(inputs.len()).unwrap_or(u32::MAX);
    let signals: Vec<(String, Shape)> = inputs.iter().map(|i| (i.clone(), Shape::SCALAR)).collect();
    let words = RowSet::empty(n).words().len() as u64;
    let mut outputs = Vec::new();
    for ((name, body, shift), text) in pairs.into_iter().zip(texts) {
        let expr = parse_expr(body, &signals, 1).map_err(|e| wrong(text, shift, &e))?;
        let column: Vec<u64> = (0..words)
            .map(|word| {
                let scope: Vec<Vec<u64>> = (0..n).map(|i| vec![input_word(n, i, word)]).collect();
                expr.eval(scope.as_slice(), 1)[0]
            })
            .collect();
        let ones = RowSet::from_words(n, &column);
        outputs.push(OutputColumn { name, ones, dont_care: RowSet::empty(n) });
    }
    Ok(TruthTable { inputs, outputs })
}

fn as_json(table: &TruthTable, notation: Notation) -> Value {
    let outputs: Vec<Value> = table
        .outputs
        .iter()
        .map(|o| {
            let zeros = o.zeros();
            json!({
                "name": o.name,
                "minterms": o.ones.iter().collect::<Vec<_>>(),
                "maxterms": zeros.iter().collect::<Vec<_>>(),
                "dont_cares": o.dont_care.iter().collect::<Vec<_>>(),
                "canonical": {
                    "sop": canonical_sop(&table.inputs, &o.ones, notation),
                    "pos": canonical_pos(&table.inputs, &zeros, notation),
                },
            })
        })
        .collect();
    json!({ "inputs": table.inputs, "outputs": outputs })
}

fn as_text(table: &TruthTable, notation: Notation) -> String {
    let mut out = String::new();
    let n = table.input_count();
    if n <= 8 {
        let names: Vec<&str> = table.outputs.iter().map(|o| o.name.as_str()).collect();
        let _ = writeln!(out, "{} | {}", table.inputs.join(" "), names.join(" "));
        for row in 0..table.rows() {
            let cells = |text: String, names: &[&str]| -> String {
                text.chars().zip(names).map(|(c, n)| format!("{c:<w$}", w = n.chars().count() + 1)).collect()
            };
            let inputs: Vec<&str> = table.inputs.iter().map(String::as_str).collect();
            let left = cells(row_text(n, row), &inputs);
            let right = cells(table.output_text(row), &names);
            let _ = writeln!(out, "{left}| {}", right.trim_end());
        }
        let _ = writeln!(out);
    }
    for o in &table.outputs {
        let list = |set: &RowSet| set.iter().map(|r| r.to_string()).collect::<Vec<_>>().join(", ");
        let _ = writeln!(out, "{}", o.name);
        let _ = writeln!(out, "  minterms   {}", wrap(&list(&o.ones)));
        let _ = writeln!(out, "  maxterms   {}", wrap(&list(&o.zeros())));
        if !o.dont_care.is_empty() {
            let _ = writeln!(out, "  don't-care {}", wrap(&list(&o.dont_care)));
        }
        let _ = writeln!(out, "  SOP        {}", wrap(&canonical_sop(&table.inputs, &o.ones, notation)));
        let _ = writeln!(out, "  POS        {}", wrap(&canonical_pos(&table.inputs, &o.zeros(), notation)));
    }
    out
}

/// Breaks at blanks so that lines stay within 80 columns behind a 13-column margin.
fn wrap(text: &str) -> String {
    let mut out = String::new();
    let mut width = 0;
    for word in text.split(' ') {
        let length = word.chars().count();
        if width > 0 && width + 1 + length > 66 {
            out.push_str("\n             ");
            width = 0;
        } else if width > 0 {
            out.push(' ');
            width += 1;
        }
        out.push_str(word);
        width += length;
    }
    out
}
