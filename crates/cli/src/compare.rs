//! `zesty-gate compare`, `inspect` and `starter`: what needs no hand-in.

use crate::Unusable;
use crate::files::{hand_in_file, load_exercise};
use crate::report;
use base::Budget;
use elab::HandInFile;
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use verdict::ProofMethod;

/// Arguments of `compare`.
#[derive(clap::Args)]
pub(crate) struct CompareArgs {
    /// A design: Verilog, VHDL or PLA; several files of one design with commas between them.
    a: String,
    /// The other one.
    b: String,
    /// The top of the first.
    #[arg(long)]
    top_a: Option<String>,
    /// The top of the second.
    #[arg(long)]
    top_b: Option<String>,
    /// One JSON object on standard output.
    #[arg(long)]
    pub(crate) json: bool,
}

fn design(list: &str) -> Result<Vec<HandInFile>, Unusable> {
    // A comma is part of a name only where a file of that name is there.
    if Path::new(list).exists() {
        return Ok(vec![hand_in_file(Path::new(list))?]);
    }
    list.split(',').map(|p| hand_in_file(Path::new(p))).collect()
}

/// `a=0101`, `en=1`: the bits of a port side by side.
fn port_levels(names: &[String], levels: &str) -> Vec<String> {
    let mut ports: Vec<(&str, String)> = Vec::new();
    for (name, level) in names.iter().zip(levels.chars()) {
        let port = name.split('[').next().unwrap_or(name);
        match ports.last_mut().filter(|(last, _)| *last == port && name.contains('[')) {
            Some((_, bits)) => bits.push(level),
            None => ports.push((port, level.to_string())),
        }
    }
    ports.into_iter().map(|(port, bits)| format!("{port}={bits}")).collect()
}

pub(crate) fn compare(args: &CompareArgs) -> Result<ExitCode, Unusable> {
    let (a, b) = (design(&args.a)?, design(&args.b)?);
    let found = views::equivalence((&a, args.top_a.as_deref()), (&b, args.top_b.as_deref()), &Budget::hand_in())
        .map_err(|e| Unusable(e.to_string()))?;
    if args.json {
        report::result(&serde_json::to_string_pretty(&found).map_err(|e| Unusable(e.to_string()))?);
    } else {
        let rows = found.proof.rows.unwrap_or(0);
        if let Some(note) = &found.note {
            report::to_people(note);
        }
        match &found.counterexample {
            None => report::result(&match (found.equal, found.proof.method) {
                (Some(true), Some(ProofMethod::Sat)) => "EQUAL  proved for every input".to_owned(),
                (Some(true), Some(ProofMethod::Induction)) => {
                    "EQUAL  proved by induction, for all inputs and for ever".to_owned()
                }
                (Some(true), Some(ProofMethod::States)) => {
                    format!("EQUAL  proved in every state that can be reached, {rows} states and inputs")
                }
                (Some(true), _) => format!("EQUAL  proved on all {rows} rows"),
                (_, Some(ProofMethod::Simulation)) => {
                    let cycles = found.proof.cycles.unwrap_or(0);
                    format!("CAN'T TELL  no difference in {cycles} clock cycles on 64 lanes of inputs")
                }
                _ => "CAN'T TELL  the effort ran out before there was a proof or a difference".to_owned(),
            }),
            Some(d) => {
                let inputs = port_levels(&d.inputs, &d.row);
                let differing =
                    d.a.iter()
                        .filter(|(name, level)| d.b.iter().any(|(n, l)| n.eq_ignore_ascii_case(name) && l != *level));
                let outputs: Vec<String> = differing
                    .map(|(name, level)| {
                        let other =
                            d.b.iter().find(|(n, _)| n.eq_ignore_ascii_case(name)).map_or("", |(_, l)| l.as_str());
                        format!("{name} is {level} in the first and {other} in the second")
                    })
                    .collect();
                let when = d.cycles.last().map_or_else(String::new, |c| {
                    format!(", {} clock edge{} after the start", c.cycle, if c.cycle == 1 { "" } else { "s" })
                });
                report::result(&format!("DIFFERENT  at {}{when}: {}", inputs.join(", "), outputs.join("; ")));
            }
        }
    }
    Ok(if found.equal == Some(true) { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

/// Arguments of `inspect`.
#[derive(clap::Args)]
pub(crate) struct InspectArgs {
    /// The files of a design, in any order.
    #[arg(required = true)]
    files: Vec<PathBuf>,
    /// The top, when several units could be meant.
    #[arg(long)]
    top: Option<String>,
    /// One JSON object on standard output.
    #[arg(long)]
    json: bool,
}

pub(crate) fn inspect(args: &InspectArgs) -> Result<ExitCode, Unusable> {
    let files: Vec<HandInFile> = args.files.iter().map(|p| hand_in_file(p)).collect::<Result<_, _>>()?;
    let found = views::inspect(&files, args.top.as_deref(), &Budget::hand_in()).map_err(|e| Unusable(e.to_string()))?;
    if args.json {
        report::result(&serde_json::to_string_pretty(&found).map_err(|e| Unusable(e.to_string()))?);
    } else {
        report::result(report::inspection_text(&found, &files).trim_end());
    }
    let stopped = found.findings.iter().any(|f| f.severity == "stop");
    Ok(ExitCode::from(u8::from(stopped)))
}

/// Arguments of `starter`.
#[derive(clap::Args)]
pub(crate) struct StarterArgs {
    /// The exercise file (TOML).
    exercise: PathBuf,
    /// The folder to write to; made when it isn't there.
    #[arg(long)]
    out: PathBuf,
}

pub(crate) fn starter(args: &StarterArgs) -> Result<ExitCode, Unusable> {
    let exercise = load_exercise(&args.exercise)?;
    let files = views::starter(&exercise, &Budget::hand_in()).map_err(|e| Unusable(e.to_string()))?;
    std::fs::create_dir_all(&args.out)
        .map_err(|e| Unusable(format!("{}: can't be made: {e}; choose another folder.", args.out.display())))?;
    for file in &files {
        let path = args.out.join(&file.name);
        if path.exists() {
            return Err(Unusable(format!("{} is there already; choose an empty folder.", path.display())));
        }
    }
    for file in &files {
        let path = args.out.join(&file.name);
        std::fs::write(&path, &file.text)
            .map_err(|e| Unusable(format!("{}: can't be written: {e}.", path.display())))?;
        report::result(&path.display().to_string());
    }
    Ok(ExitCode::SUCCESS)
}
