//! From the arguments to a truth table.

use super::Args;
use crate::Unusable;
use logic::{
    CODE_NAMES, CodeRule, DigitShapes, OutputColumn, RowSet, Shape, TermList, TermListKind, TruthTable, input_word,
    parse_expr, parse_pla, parse_sheet, parse_term_list, scan_names,
};
use std::io::Read;
use std::path::Path;

/// Largest file read.
const MAX_FILE: u64 = 8 << 20;

/// A file, or standard input for `-`.
pub(super) fn read(path: &Path) -> Result<String, Unusable> {
    let unreadable = |e: std::io::Error| Unusable(format!("`{}` can't be read: {e}.", path.display()));
    let mut bytes = Vec::new();
    if path == Path::new("-") {
        std::io::stdin().take(MAX_FILE + 1).read_to_end(&mut bytes).map_err(unreadable)?;
    } else {
        let file = std::fs::File::open(path).map_err(unreadable)?;
        file.take(MAX_FILE + 1).read_to_end(&mut bytes).map_err(unreadable)?;
    }
    if bytes.len() as u64 > MAX_FILE {
        return Err(Unusable(format!("`{}` is longer than 8 MiB; shorten it.", path.display())));
    }
    String::from_utf8(bytes)
        .map_err(|_| Unusable(format!("`{}` is not a text file; give one in UTF-8.", path.display())))
}

pub(super) fn table(args: &Args) -> Result<TruthTable, Unusable> {
    let in_file = |path: &Path, e: &dyn std::fmt::Display| Unusable(format!("`{}`, {e}.", path.display()));
    if !args.minterms.is_empty() {
        from_lists(&args.minterms, false)
    } else if !args.maxterms.is_empty() {
        from_lists(&args.maxterms, true)
    } else if !args.expr.is_empty() {
        from_expressions(&args.expr, &args.inputs)
    } else if let Some(path) = &args.pla {
        parse_pla(&read(path)?).map_err(|e| in_file(path, &e))
    } else if let Some(path) = &args.table {
        parse_sheet(&read(path)?).map_err(|e| in_file(path, &e))
    } else if let Some(name) = &args.code {
        from_code(name, args)
    } else {
        Err(Unusable(
            "Nothing to derive; give --minterms, --maxterms, --expr, --table, --pla, --code or --batch.".into(),
        ))
    }
}

pub(super) fn from_lists(texts: &[String], maxterms: bool) -> Result<TruthTable, Unusable> {
    let lists: Vec<TermList> = texts
        .iter()
        .map(|t| parse_term_list(t).map_err(|e| Unusable(format!("`{t}`, {e}"))))
        .collect::<Result<_, _>>()?;
    let inputs = lists[0].inputs.clone();
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
        let maxterms = list.kind.map_or(maxterms, |kind| kind == TermListKind::Maxterms);
        let column = OutputColumn::from_terms(&list.name, n, &list.terms, &list.dont_cares, maxterms)
            .map_err(|e| Unusable(format!("{e}.")))?;
        outputs.push(column);
    }
    Ok(TruthTable { inputs, outputs })
}

/// A signal as typed: `x`, or `x[3:0]`.
fn signal(text: &str, what: &str) -> Result<(String, Shape), Unusable> {
    let text = text.trim();
    let bounds = text.strip_suffix(']').and_then(|t| t.split_once('['));
    let (name, shape) = match bounds {
        None => (text, Shape::SCALAR),
        Some((name, range)) => {
            let ends = range.split_once(':').and_then(|(l, r)| Some((l.trim().parse().ok()?, r.trim().parse().ok()?)));
            match ends {
                Some((left, right)) if i32::abs_diff(left, right) < 32 => (name, Shape::vector(left, right)),
                _ => return Err(Unusable(format!("`{text}` has no usable range; write it as `x[3:0]`."))),
            }
        }
    };
    base::check_port_name(name).map_err(|p| Unusable(format!("`{name}` can't name an {what}: {p}.")))?;
    Ok((name.to_owned(), shape))
}

fn bit_names(signals: &[(String, Shape)]) -> Vec<String> {
    signals.iter().flat_map(|(n, s)| (0..s.width()).rev().map(|p| s.bit_name(n, p)).collect::<Vec<_>>()).collect()
}

/// An output with its expression: name and shape, the text, and how many columns stand before it.
struct Equation<'a> {
    name: String,
    shape: Shape,
    body: &'a str,
    shift: usize,
    whole: &'a str,
}

impl Equation<'_> {
    fn fault(&self, e: &logic::ExprError) -> Unusable {
        Unusable(format!("`{}`, column {}: {} {}", self.whole, e.column + self.shift, e.message, e.action))
    }
}

fn from_expressions(texts: &[String], given: &[String]) -> Result<TruthTable, Unusable> {
    let mut equations = Vec::new();
    let mut inputs: Vec<(String, Shape)> = given.iter().map(|g| signal(g, "input")).collect::<Result<_, _>>()?;
    for text in texts {
        let (head, body) = text
            .split_once('=')
            .ok_or_else(|| Unusable(format!("`{text}` names no output; write it as `f = a & b`.")))?;
        let shift = text[..=head.len()].chars().count();
        // `f(a, b, c) = …` names the inputs too.
        let head = match head.trim().strip_suffix(')').and_then(|h| h.split_once('(')) {
            Some((name, list)) => {
                if inputs.is_empty() {
                    inputs = list.split(',').map(|i| signal(i, "input")).collect::<Result<_, _>>()?;
                }
                name
            }
            None => head,
        };
        let (name, shape) = signal(head, "output")?;
        if equations.iter().any(|e: &Equation<'_>| e.name == name) {
            return Err(Unusable(format!("The output `{name}` is given twice; rename one.")));
        }
        equations.push(Equation { name, shape, body, shift, whole: text });
    }
    if inputs.is_empty() {
        for equation in &equations {
            for name in scan_names(equation.body).map_err(|e| equation.fault(&e))? {
                if !inputs.iter().any(|(n, _)| *n == name) {
                    inputs.push((name, Shape::SCALAR));
                }
            }
        }
    }
    for (i, (input, _)) in inputs.iter().enumerate() {
        base::check_port_name(input).map_err(|p| Unusable(format!("`{input}` can't name an input: {p}.")))?;
        if inputs[..i].iter().any(|(n, _)| n == input) || equations.iter().any(|e| e.name == *input) {
            return Err(Unusable(format!("`{input}` is named twice; give each signal a name of its own.")));
        }
    }
    let bits = bit_names(&inputs);
    if bits.len() > super::MAX_INPUTS {
        return Err(Unusable(format!(
            "{} inputs are too many to derive; use at most {}.",
            bits.len(),
            super::MAX_INPUTS
        )));
    }
    let mut outputs = Vec::new();
    for equation in &equations {
        let width = equation.shape.width();
        let expr = parse_expr(equation.body, &inputs, width).map_err(|e| equation.fault(&e))?;
        let n = u32::try_from(bits.len()).unwrap_or(u32::MAX);
        let mut columns = vec![Vec::new(); width as usize];
        for word in 0..RowSet::empty(n).words().len() as u64 {
            let mut first = 0;
            let scope: Vec<Vec<u64>> = inputs
                .iter()
                .map(|(_, shape)| {
                    let range = first..first + shape.width();
                    first = range.end;
                    range.rev().map(|i| input_word(n, i, word)).collect()
                })
                .collect();
            columns.iter_mut().zip(expr.eval(scope.as_slice(), width)).for_each(|(c, bits)| c.push(bits));
        }
        for (position, column) in (0..width).zip(&columns).rev() {
            let ones = RowSet::from_words(n, column);
            let name = equation.shape.bit_name(&equation.name, position);
            outputs.push(OutputColumn { name, ones, dont_care: RowSet::empty(n) });
        }
    }
    Ok(TruthTable { inputs: bits, outputs })
}

fn from_code(name: &str, args: &Args) -> Result<TruthTable, Unusable> {
    let signals: Vec<(String, Shape)> = args.inputs.iter().map(|g| signal(g, "input")).collect::<Result<_, _>>()?;
    let inputs = bit_names(&signals);
    if inputs.len() > super::MAX_INPUTS {
        return Err(Unusable(format!(
            "{} inputs are too many to derive; use at most {}.",
            inputs.len(),
            super::MAX_INPUTS
        )));
    }
    let rule = CodeRule::from_name(name, &args.text, DigitShapes::default())
        .ok_or_else(|| Unusable(format!("Unknown code `{name}`; use one of {}.", CODE_NAMES.join(", "))))?;
    let count = rule.output_bits(u32::try_from(inputs.len()).unwrap_or(u32::MAX));
    let outputs: Vec<String> = match rule {
        CodeRule::SevenSegment { .. } => ["a", "b", "c", "d", "e", "f", "g"].map(|s| format!("seg_{s}")).to_vec(),
        CodeRule::EvenParity | CodeRule::OddParity => vec!["parity".into()],
        _ => (0..count.min(64)).rev().map(|i| format!("y[{i}]")).collect(),
    };
    rule.table(&inputs, &outputs, args.active_low).map_err(|e| Unusable(e.to_string()))
}
