//! `zesty-gate simulate`: runs a testbench; its output on standard output.

use crate::Unusable;
use crate::files::hand_in_file;
use crate::report;
use base::Budget;
use elab::{SimulationRequest, run_simulation};
use std::path::PathBuf;
use std::process::ExitCode;

/// Arguments of `simulate`.
#[derive(clap::Args)]
pub(crate) struct Args {
    /// Files of the design and its testbench, and data that memories are filled from.
    #[arg(required = true)]
    files: Vec<PathBuf>,
    /// The unit to run.
    #[arg(long)]
    top: Option<String>,
    /// Ends at this time, such as 1us.
    #[arg(long)]
    until: Option<String>,
    /// Writes the waves to this file (value change dump).
    #[arg(long)]
    vcd: Option<PathBuf>,
    /// One JSON object on standard output.
    #[arg(long)]
    json: bool,
}

/// `1us`, `2.5 ns` in femtoseconds.
fn femtoseconds(text: &str) -> Option<u64> {
    let text = text.trim();
    let digits = text.trim_end_matches(|c: char| c.is_ascii_alphabetic()).trim();
    let factor = match text.trim_start_matches(|c: char| c.is_ascii_digit() || c == '.').trim() {
        "s" => 1e15,
        "ms" => 1e12,
        "us" => 1e9,
        "ns" => 1e6,
        "ps" => 1e3,
        "fs" => 1.0,
        _ => return None,
    };
    let time = digits.parse::<f64>().ok()? * factor;
    (0.0..1e19).contains(&time).then_some(time.round() as u64)
}

pub(crate) fn run(args: &Args) -> Result<ExitCode, Unusable> {
    let files = args.files.iter().map(|p| hand_in_file(p)).collect::<Result<Vec<_>, _>>()?;
    let until = match &args.until {
        None => None,
        Some(text) => Some(femtoseconds(text).ok_or_else(|| {
            Unusable(format!("`{text}` is not a time; write a number with s, ms, us, ns, ps or fs, such as 1us."))
        })?),
    };
    let request = SimulationRequest {
        top: args.top.clone(),
        until,
        record: args.vcd.is_some().then_some(elab::RECORDED),
        ..SimulationRequest::default()
    };
    let found = run_simulation(&files, &request, &Budget::hand_in()).map_err(|e| Unusable(e.to_string()))?;
    if let (Some(path), Some(trace)) = (&args.vcd, &found.trace) {
        std::fs::write(path, sim::write_vcd(trace))
            .map_err(|e| Unusable(format!("`{}` can't be written: {e}.", path.display())))?;
        if trace.cut {
            report::to_people("The waves were cut after 2 million changes; simulate a shorter time with --until.");
        }
    }
    if args.json {
        report::result(&serde_json::to_string_pretty(&found).map_err(|e| Unusable(e.to_string()))?);
    } else {
        report::raw(&found.output);
        for finding in &found.findings {
            let place = match (&finding.file, finding.line) {
                (Some(file), Some(line)) => format!("{file}:{line}: "),
                _ => String::new(),
            };
            report::to_people(&format!("{place}{} {}", finding.message, finding.help));
        }
    }
    Ok(if found.is_clean() { ExitCode::SUCCESS } else { ExitCode::from(1) })
}
