//! `zesty-gate derive`: table, forms, maps, costs and steps of a behaviour.

mod source;
mod text;

use crate::Unusable;
use crate::report;
use derive::{DeriveOptions, derive};
use logic::{Effort, Notation, TruthTable};
use serde_json::json;
use std::path::PathBuf;
use std::process::ExitCode;

/// Arguments of `derive`.
#[derive(clap::Args)]
pub(crate) struct Args {
    /// Minterms of an output: `f(a,b,c,d)=5,7,11,13 d=0,2` (repeatable, same inputs).
    #[arg(long, group = "source")]
    minterms: Vec<String>,
    /// Maxterms of an output, written alike.
    #[arg(long, group = "source")]
    maxterms: Vec<String>,
    /// An expression: `f = a & ~b | c`, or `s[4:0] = x + y` with vectors (repeatable).
    #[arg(long, group = "source")]
    expr: Vec<String>,
    /// A PLA file; `-` for standard input.
    #[arg(long, group = "source")]
    pla: Option<PathBuf>,
    /// A table as CSV, or pasted from a spreadsheet; `-` for standard input.
    #[arg(long, group = "source")]
    table: Option<PathBuf>,
    /// A code rule: binary, gray, gray-to-binary, bcd, excess-3, one-hot, thermometer, even-parity, odd-parity or
    /// seven-segment (with --text).
    #[arg(long, group = "source", requires = "inputs")]
    code: Option<String>,
    /// A file with a request in --minterms form on each line; `-` for standard input.
    #[arg(long, group = "source")]
    batch: Option<PathBuf>,
    /// The inputs of expressions or of a code, most significant first; `x[3:0]` for a vector. Expressions without it
    /// take theirs in order of first appearance.
    #[arg(long, value_delimiter = ',')]
    inputs: Vec<String>,
    /// The characters that --code seven-segment shows for 0, 1, 2 and so on.
    #[arg(long, default_value = "0123456789")]
    text: String,
    /// The outputs of a code light at 0.
    #[arg(long)]
    active_low: bool,
    /// How forms are written: prime, overline, operators or words.
    #[arg(long, default_value = "prime")]
    notation: String,
    /// With the steps of the tabular method.
    #[arg(long)]
    steps: bool,
    /// With products shared by all outputs.
    #[arg(long)]
    shared: bool,
    /// One JSON object on standard output.
    #[arg(long)]
    json: bool,
}

/// Most inputs and outputs of a derivation.
const MAX_INPUTS: usize = 16;
const MAX_OUTPUTS: usize = 32;

pub(crate) fn run(args: &Args) -> Result<ExitCode, Unusable> {
    let notation = Notation::from_key(&args.notation).ok_or_else(|| {
        Unusable(format!("Unknown notation `{}`; use prime, overline, operators or words.", args.notation))
    })?;
    let options = DeriveOptions {
        notation,
        effort: Effort::default(),
        steps: args.steps || !args.json,
        shared: args.shared,
        canonical: true,
    };
    if let Some(path) = &args.batch {
        return batch(path, args.json, &DeriveOptions { steps: args.steps, ..options });
    }
    let table = source::table(args)?;
    within_reach(&table)?;
    let derivation = derive(&table, &options);
    if args.json {
        let text = serde_json::to_string_pretty(&derivation).map_err(|e| Unusable(e.to_string()))?;
        report::result(&text);
    } else {
        report::result(text::derivation(&table, &derivation, args.steps).trim_end());
    }
    Ok(ExitCode::SUCCESS)
}

fn within_reach(table: &TruthTable) -> Result<(), Unusable> {
    if table.inputs.len() > MAX_INPUTS {
        let count = table.inputs.len();
        return Err(Unusable(format!("{count} inputs are too many to derive; use at most {MAX_INPUTS}.")));
    }
    if table.outputs.len() > MAX_OUTPUTS {
        let count = table.outputs.len();
        return Err(Unusable(format!("{count} outputs are too many to derive; use at most {MAX_OUTPUTS}.")));
    }
    Ok(())
}

/// A request a line, an answer a line; a faulty line is told and the others go on.
fn batch(path: &std::path::Path, as_json: bool, options: &DeriveOptions) -> Result<ExitCode, Unusable> {
    let text = source::read(path)?;
    let mut faulty = false;
    for (i, line) in text.lines().enumerate() {
        let line = line.split('#').next().unwrap_or("").trim();
        if line.is_empty() {
            continue;
        }
        let answer = source::from_lists(&[line.to_owned()], false).and_then(|table| {
            within_reach(&table)?;
            Ok((derive(&table, options), table))
        });
        match answer {
            Ok((derivation, _)) if as_json => {
                report::result(&serde_json::to_string(&derivation).map_err(|e| Unusable(e.to_string()))?);
            }
            Ok((derivation, table)) => report::result(&text::derivation(&table, &derivation, options.steps)),
            Err(Unusable(message)) => {
                faulty = true;
                if as_json {
                    report::result(&json!({ "line": i + 1, "error": message }).to_string());
                } else {
                    report::to_people(&format!("line {}: {message}", i + 1));
                }
            }
        }
    }
    Ok(if faulty { ExitCode::from(2) } else { ExitCode::SUCCESS })
}
