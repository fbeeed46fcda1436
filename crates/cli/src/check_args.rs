//! What `zesty-gate check` is told.

use std::path::PathBuf;

/// Arguments of `check`.
#[derive(clap::Args)]
pub(crate) struct Args {
    /// The exercise file (TOML).
    pub(crate) exercise: PathBuf,
    /// The hand-in's design files, in any order.
    #[arg(required_unless_present = "class")]
    pub(crate) files: Vec<PathBuf>,
    /// A folder of hand-ins, with a folder for each student.
    #[arg(long, value_name = "DIR")]
    pub(crate) class: Option<PathBuf>,
    /// With `--class`: a table of the results.
    #[arg(long, value_name = "OUT.csv", requires = "class")]
    pub(crate) csv: Option<PathBuf>,
    /// The module to check, when several could be meant.
    #[arg(long)]
    pub(crate) top: Option<String>,
    /// The wiring file (CSV).
    #[arg(long)]
    pub(crate) wiring: Option<PathBuf>,
    /// Prepared answers (TOML with `[answers]`).
    #[arg(long)]
    pub(crate) answers: Option<PathBuf>,
    /// Also the few rows (for a clocked design the ticks) that are worth trying at a board: they show the single faults
    /// of the circuit and its wires.
    #[arg(long, conflicts_with = "class")]
    pub(crate) rows_to_try: bool,
    /// Where to write the image that the exercise's board loads (JSON): the mapped design with its pins.
    #[arg(long, value_name = "OUT.json", conflicts_with = "class")]
    pub(crate) image: Option<PathBuf>,
    /// One JSON object on standard output.
    #[arg(long)]
    pub(crate) json: bool,
}
