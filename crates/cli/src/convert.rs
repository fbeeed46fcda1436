//! `zesty-gate convert IN OUT`: between kinds of files, by their endings.

use crate::files::hand_in_file;
use crate::{Unusable, report};
use base::Budget;
use derive::{DeriveOptions, derive, exports};
use elab::ExercisePort;
use logic::{Shape, TruthTable};
use std::path::{Path, PathBuf};
use std::process::ExitCode;

/// Arguments of `convert`.
#[derive(clap::Args)]
pub(crate) struct Args {
    /// A dump of waves (.vcd), a table (.pla, .csv), or a design (.v, .sv, .vhd, .blif).
    input: PathBuf,
    /// From waves: .csv, .svg, .json or .vcd; from a table: .pla, .csv, .v or .vhd; from a design: .blif.
    output: PathBuf,
}

fn ending(path: &Path) -> String {
    path.extension().map_or_else(String::new, |e| e.to_string_lossy().to_ascii_lowercase())
}

fn text_of(path: &Path) -> Result<String, Unusable> {
    let bytes = std::fs::read(path)
        .map_err(|e| Unusable(format!("{}: can't be read: {e}; check the path.", path.display())))?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

fn waves(args: &Args, to: &str) -> Result<String, Unusable> {
    let text = text_of(&args.input)?;
    let trace =
        sim::read_vcd(&text).map_err(|e| Unusable(format!("{}:{}: {}", args.input.display(), e.line, e.message)))?;
    match to {
        "csv" => Ok(sim::trace_csv(&trace)),
        "json" => Ok(sim::trace_json(&trace)),
        "svg" => Ok(sim::trace_svg(&trace)),
        "vcd" => Ok(sim::write_vcd(&trace)),
        other => Err(unknown(other, "waves are written as .csv, .svg, .json or .vcd")),
    }
}

fn unknown(ending: &str, known: &str) -> Unusable {
    Unusable(format!("`.{ending}` can't be made from this; {known}."))
}

/// A line of names, then every row.
fn table_csv(table: &TruthTable) -> String {
    let mut out = table.inputs.join(",");
    out += ",,";
    out += &table.outputs.iter().map(|o| o.name.as_str()).collect::<Vec<_>>().join(",");
    out.push('\n');
    let spread = |bits: &str| bits.chars().map(String::from).collect::<Vec<_>>().join(",");
    for row in 0..table.rows() {
        let inputs = logic::row_text(table.input_count(), row);
        out += &format!("{},,{}\n", spread(&inputs), spread(&table.output_text(row)));
    }
    out
}

fn table(args: &Args, from: &str, to: &str) -> Result<String, Unusable> {
    if from != "pla" && from != "csv" {
        // Checked for a clear sentence about files that can't be read at all.
        hand_in_file(&args.input)?;
        let message = format!(
            "`{}`: files ending in `.{from}` can't be converted; give a .vcd, .pla, .csv or a design.",
            args.input.display()
        );
        return Err(Unusable(message));
    }
    let text = text_of(&args.input)?;
    let read = if from == "pla" { logic::parse_pla(&text) } else { logic::parse_sheet(&text) };
    let table = read.map_err(|e| Unusable(format!("{}: {e}.", args.input.display())))?;
    let unit = args.output.file_stem().map_or_else(|| "table".into(), |s| s.to_string_lossy().into_owned());
    let source = |kind: &str| {
        let port = |name: &String, is_input| ExercisePort { name: name.clone(), is_input, shape: Shape::SCALAR };
        let inputs = table.inputs.iter().map(|n| port(n, true));
        let ports: Vec<ExercisePort> = inputs.chain(table.outputs.iter().map(|o| port(&o.name, false))).collect();
        if let Some(bad) = ports.iter().find(|p| base::check_port_name(&p.name).is_err()) {
            return Err(Unusable(format!("`{}` can't name a port; rename it in the table.", bad.name)));
        }
        let derivation = derive(&table, &DeriveOptions::default());
        let found = exports(&unit, &ports, &derivation).into_iter().find(|e| e.kind == kind);
        Ok(found.map(|e| e.text).unwrap_or_default())
    };
    match to {
        "pla" => Ok(logic::write_pla(&table)),
        "csv" => Ok(table_csv(&table)),
        "v" | "sv" => source("verilog"),
        "vhd" | "vhdl" => source("vhdl"),
        other => Err(unknown(other, "tables are written as .pla, .csv, .v or .vhd")),
    }
}

fn design(args: &Args, to: &str) -> Result<String, Unusable> {
    let file = hand_in_file(&args.input)?;
    match to {
        "blif" => views::blif_of(&[file], None, &Budget::hand_in()).map_err(|e| Unusable(e.to_string())),
        other => Err(unknown(other, "designs are written as .blif")),
    }
}

pub(crate) fn run(args: &Args) -> Result<ExitCode, Unusable> {
    let (from, to) = (ending(&args.input), ending(&args.output));
    let text = match from.as_str() {
        "vcd" => waves(args, &to)?,
        "v" | "sv" | "vhd" | "vhdl" | "blif" => design(args, &to)?,
        _ => table(args, &from, &to)?,
    };
    std::fs::write(&args.output, text)
        .map_err(|e| Unusable(format!("{}: can't be written: {e}; check the path.", args.output.display())))?;
    report::to_people(&format!("{} written", args.output.display()));
    Ok(ExitCode::SUCCESS)
}
