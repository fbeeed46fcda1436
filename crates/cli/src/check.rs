//! `zesty-gate check`: one hand-in, or a class of them, against an exercise.

use crate::check_args::Args;
use crate::files::{hand_in_file, load_exercise};
use crate::limits::Limits;
use crate::{Unusable, class, report};
use check::HandIn;
use elab::HandInFile;
use exercise::Exercise;
use std::path::Path;
use std::process::ExitCode;
use verdict::VerdictKind;

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
                "No rows to try: the design can't be run, leaves an output unknown or is too large (12 input bits, 750 wires where it is clocked).",
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
