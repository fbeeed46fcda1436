//! `zesty-gate backup`, `restore` and `schema`: the data in one file, and what our files look like.

use crate::{Unusable, report};
use std::path::PathBuf;
use std::process::ExitCode;

/// Arguments of `backup`.
#[derive(clap::Args)]
pub(crate) struct BackupArgs {
    /// The file to write.
    out: PathBuf,
    /// The folder of the data.
    #[arg(long, default_value = "zesty-gate-data")]
    data: PathBuf,
}

/// Arguments of `restore`.
#[derive(clap::Args)]
pub(crate) struct RestoreArgs {
    /// A file that `backup` wrote.
    input: PathBuf,
    /// The folder of the data; made when it isn't there.
    #[arg(long, default_value = "zesty-gate-data")]
    data: PathBuf,
}

/// A kind of file with a schema.
#[derive(Clone, Copy, clap::ValueEnum)]
enum Kind {
    Exercise,
    Board,
    Image,
    Verdict,
}

/// Arguments of `schema`.
#[derive(clap::Args)]
pub(crate) struct SchemaArgs {
    /// The kind of file.
    kind: Kind,
}

pub(crate) fn backup(args: &BackupArgs) -> Result<ExitCode, Unusable> {
    let people = store::backup(&args.data, &args.out)
        .map_err(|e| Unusable(format!("{}: {e}; say where the data is with --data.", args.data.display())))?;
    report::to_people(&format!("{} holds all data now, with {people} people.", args.out.display()));
    Ok(ExitCode::SUCCESS)
}

pub(crate) fn restore(args: &RestoreArgs) -> Result<ExitCode, Unusable> {
    let (people, before) = store::restore(&args.input, &args.data)
        .map_err(|e| Unusable(format!("{}: {e}; nothing was changed.", args.input.display())))?;
    report::to_people(&format!("{} holds the data of the backup now, with {people} people.", args.data.display()));
    if let Some(before) = before {
        report::to_people(&format!("What was there before is kept in {}.", before.display()));
    }
    Ok(ExitCode::SUCCESS)
}

pub(crate) fn schema(args: &SchemaArgs) -> Result<ExitCode, Unusable> {
    report::raw(match args.kind {
        Kind::Exercise => include_str!("../../../docs/schemas/exercise-1.json"),
        Kind::Board => include_str!("../../../docs/schemas/board-1.json"),
        Kind::Image => include_str!("../../../docs/schemas/image-1.json"),
        Kind::Verdict => include_str!("../../../docs/schemas/verdict-1.json"),
    });
    Ok(ExitCode::SUCCESS)
}
