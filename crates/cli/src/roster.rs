//! `zesty-gate roster`: people into a course, from a list as schools export it.

use crate::{Unusable, report};
use server::wire::{RosterLine, RosterView};
use std::path::PathBuf;
use std::process::ExitCode;
use store::Store;

/// Arguments of `roster`.
#[derive(clap::Args)]
pub(crate) struct RosterArgs {
    /// The roster, as CSV; its first line names the columns.
    input: PathBuf,
    /// The folder of the data.
    #[arg(long, default_value = "zesty-gate-data")]
    data: PathBuf,
    /// The title of the course.
    #[arg(long)]
    course: String,
    /// Only say what would happen.
    #[arg(long)]
    dry_run: bool,
}

pub(crate) fn run(args: &RosterArgs) -> Result<ExitCode, Unusable> {
    let bytes = std::fs::read(&args.input).map_err(|e| Unusable(format!("{}: {e}.", args.input.display())))?;
    let roster = course::read_roster(&bytes).map_err(|e| Unusable(format!("{}: {e}", args.input.display())))?;
    if !args.data.is_dir() {
        return Err(Unusable(format!("There is no data in {}; say where it is with --data.", args.data.display())));
    }
    let unusable = |e: store::StoreError| Unusable(format!("{}: {e}.", args.data.display()));
    let store = Store::open(&args.data).map_err(unusable)?;
    let found = store.courses_titled(&args.course).map_err(unusable)?;
    let [course] = found.as_slice() else {
        let many = if found.is_empty() { "No course is" } else { "Several courses are" };
        return Err(Unusable(format!(
            "{many} called `{}`; give the title as it stands on the pass sheet.",
            args.course
        )));
    };
    let now = jiff::Timestamp::now().as_second();
    let bring = |apply| server::bring_in_line(&store, (*course, None), &roster, apply, now).map_err(unusable);
    let preview = bring(false)?;
    tell(&preview);
    if !args.dry_run {
        bring(true)?;
    }
    report::to_people(&summary(&preview, args.dry_run));
    let left_out = preview.lines.iter().any(|l| l.state == "left_out");
    Ok(if left_out { ExitCode::from(1) } else { ExitCode::SUCCESS })
}

fn tell(view: &RosterView) {
    for RosterLine { line, state, name, sign_in, section, what } in &view.lines {
        let section = if section.is_empty() { String::new() } else { format!(", section {section}") };
        match state.as_str() {
            "new" => report::to_people(&format!("line {line}: new: {name} ({sign_in}){section}")),
            "joins" => report::to_people(&format!("line {line}: joins: {name} ({sign_in}){section}. {what}")),
            "changed" => report::to_people(&format!("line {line}: changed: {name} ({sign_in}): {what}")),
            "left_out" => report::to_people(&format!("line {line}: left out: {what}")),
            _ => {}
        }
    }
    if !view.missing.is_empty() {
        report::to_people(&format!("not in the roster, and staying: {}", view.missing.join(", ")));
    }
}

fn summary(view: &RosterView, is_dry: bool) -> String {
    let count = |state: &str| view.lines.iter().filter(|l| l.state == state).count();
    let done = if is_dry { "Nothing was changed: " } else { "" };
    format!(
        "{done}{} new, {} join, {} changed, {} the same, {} left out.",
        count("new"),
        count("joins"),
        count("changed"),
        count("same"),
        count("left_out")
    )
}
