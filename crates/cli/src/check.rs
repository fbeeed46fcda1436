//! `zesty-gate check`: one hand-in, or a class of them, against an exercise.

use crate::limits::Limits;
use crate::{Unusable, class, report};
use check::{Exercise, HandIn, HandInFile, VerdictKind};
use std::cell::RefCell;
use std::io::Read;
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use worker::{SentExercise, SentFile};

/// Arguments of `check`.
#[derive(clap::Args)]
pub(crate) struct Args {
    /// The exercise file (TOML).
    pub(crate) exercise: PathBuf,
    /// The hand-in's design files, in any order.
    #[arg(required_unless_present = "class")]
    files: Vec<PathBuf>,
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
    wiring: Option<PathBuf>,
    /// Prepared answers (TOML with `[answers]`).
    #[arg(long)]
    answers: Option<PathBuf>,
    /// Also the few rows (for a clocked design the ticks) that are worth trying at a board: they show the single faults
    /// of the circuit and its wires.
    #[arg(long, conflicts_with = "class")]
    rows_to_try: bool,
    /// Where to write the image that the exercise's board loads (JSON): the mapped design with its pins.
    #[arg(long, value_name = "OUT.json", conflicts_with = "class")]
    image: Option<PathBuf>,
    /// One JSON object on standard output.
    #[arg(long)]
    pub(crate) json: bool,
}

/// Writes the image, or says why there is none.
fn write_image(checked: &check::Checked, exercise: &Exercise, path: &Path) -> Result<(), Unusable> {
    let Some(image) = &checked.image else {
        report::to_people(match exercise.wiring {
            None => "There is no image: the exercise is not wired to a board; give it a [wiring].",
            Some(_) => "There is no image: the design can't be mapped to the board; see the findings.",
        });
        return Ok(());
    };
    std::fs::write(path, image.to_json())
        .map_err(|e| Unusable(format!("{}: can't be written: {e}; choose another path.", path.display())))?;
    let (design, device, print) = (&image.design, &image.device, &image.fingerprint);
    report::to_people(&format!("Image {print} of `{design}` for the device {device}: {}.", image.takes()));
    Ok(())
}

/// Reads at most one byte more than the check accepts: a huge file is told as such without being read whole.
fn read_limited(path: &Path) -> std::io::Result<Vec<u8>> {
    let mut bytes = Vec::new();
    let file = std::fs::File::open(path)?;
    let size = file.metadata()?.len();
    file.take(base::SourceFile::MAX_BYTES as u64 + 1).read_to_end(&mut bytes)?;
    let size = usize::try_from(size).unwrap_or(usize::MAX).min(1 << 30);
    if size > bytes.len() {
        bytes.resize(size, 0);
    }
    Ok(bytes)
}

fn read(path: &Path) -> Result<Vec<u8>, Unusable> {
    read_limited(path).map_err(|e| Unusable(format!("{}: can't be read: {e}; check the path.", path.display())))
}

pub(crate) fn hand_in_file(path: &Path) -> Result<HandInFile, Unusable> {
    Ok(HandInFile { name: path.display().to_string(), bytes: read(path)? })
}

/// Reads an exercise and the files beside it.
pub(crate) fn load_exercise(path: &Path) -> Result<Exercise, Unusable> {
    load_to_send(path).map(|(exercise, _)| exercise)
}

/// The same, also as it is sent to a worker.
pub(crate) fn load_to_send(path: &Path) -> Result<(Exercise, SentExercise), Unusable> {
    let bytes = read(path)?;
    let text = String::from_utf8(bytes)
        .map_err(|_| Unusable(format!("{}: is not a UTF-8 text; save it as one.", path.display())))?;
    let folder = path.parent().unwrap_or(Path::new("")).to_owned();
    let sent = RefCell::new(SentExercise::alone(text.clone()));
    let beside = |name: &str| -> Result<Vec<u8>, String> {
        let relative = Path::new(name);
        if relative.is_absolute() || name.split(['/', '\\']).any(|part| part == "..") {
            return Err(format!("`{name}` lies outside the exercise's folder; put it beside the exercise file."));
        }
        let bytes = read_limited(&folder.join(relative)).map_err(|e| format!("`{name}` can't be read: {e}."))?;
        sent.borrow_mut().beside.push(SentFile::new(name, bytes.clone()));
        Ok(bytes)
    };
    let exercise = Exercise::load(&text, &beside).map_err(|e| Unusable(format!("{}: {e}", path.display())))?;
    for warning in &exercise.warnings {
        report::to_people(&format!("{}: {warning}", path.display()));
    }
    Ok((exercise, sent.into_inner()))
}

pub(crate) fn run(args: &Args, limits: &Limits) -> Result<ExitCode, Unusable> {
    if let Some(folder) = &args.class {
        class::none_given(&args.files)?;
        return class::run(args, folder, limits);
    }
    let exercise = load_exercise(&args.exercise)?;
    let hand_in = HandIn {
        files: args.files.iter().map(|p| hand_in_file(p)).collect::<Result<_, _>>()?,
        top: args.top.clone(),
        wiring: args.wiring.as_deref().map(hand_in_file).transpose()?,
        answers: args.answers.as_deref().map(hand_in_file).transpose()?,
        wants_rows: args.rows_to_try,
        ..HandIn::default()
    };
    let checked = check::check(&exercise, &hand_in);
    if args.json {
        let mut json = serde_json::to_value(&checked.verdict).map_err(|e| Unusable(e.to_string()))?;
        if args.rows_to_try {
            json["rows_to_try"] = serde_json::to_value(&checked.rows_to_try).map_err(|e| Unusable(e.to_string()))?;
            json["ticks_to_try"] = serde_json::to_value(&checked.ticks_to_try).map_err(|e| Unusable(e.to_string()))?;
        }
        report::result(&serde_json::to_string_pretty(&json).map_err(|e| Unusable(e.to_string()))?);
    } else {
        let files: Vec<HandInFile> = hand_in.files.iter().chain(&hand_in.wiring).cloned().collect();
        report::to_people(report::verdict_text(&checked.verdict, &files).trim_end());
        match (&checked.rows_to_try, &checked.ticks_to_try) {
            (Some(found), _) => report::to_people(&format!("{}\n  {}", found.sentence(), found.rows.join(" "))),
            (None, Some(found)) => report::to_people(report::ticks_text(found).trim_end()),
            (None, None) if args.rows_to_try => report::to_people(
                "There are no rows to try: the design can't be run, leaves an output unknown or is too large (12 input bits, 750 wires where it is clocked).",
            ),
            (None, None) => {}
        }
    }
    if let Some(path) = &args.image {
        write_image(&checked, &exercise, path)?;
    }
    Ok(match checked.verdict.verdict {
        VerdictKind::Pass => ExitCode::SUCCESS,
        _ => ExitCode::from(1),
    })
}
