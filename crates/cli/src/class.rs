//! `zesty-gate check --class`: a folder of hand-ins, one folder a student, in the order of their names.

use crate::check_args::Args;
use crate::files::{hand_in_file, load_to_send};
use crate::limits::Limits;
use crate::{Unusable, report};
use check::{Checked, HandIn};
use exercise::Exercise;
use serde::Serialize;
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Instant;
use verdict::{Verdict, VerdictKind};
use worker::{Answer, Pool, Question, SentExercise};

/// Folders within a student's folder that are looked into.
const MAX_DEPTH: usize = 5;
/// Most files of one student that are read.
const MAX_FILES: usize = 200;
/// Hand-ins between two lines of progress.
const PROGRESS: usize = 50;

#[derive(Serialize)]
struct Line<'v> {
    student: &'v str,
    #[serde(flatten)]
    verdict: &'v Verdict,
}

#[derive(Serialize)]
struct Counts {
    pass: usize,
    partly: usize,
    fail: usize,
    cannot_tell: usize,
}

#[derive(Serialize)]
struct Class<'v> {
    format: &'static str,
    exercise: &'v str,
    counts: Counts,
    students: Vec<Line<'v>>,
}

fn entries(folder: &Path) -> Result<Vec<(String, PathBuf, std::fs::FileType)>, Unusable> {
    let fail = |e: std::io::Error| Unusable(format!("{}: can't be read: {e}; check the path.", folder.display()));
    let mut list = Vec::new();
    for entry in std::fs::read_dir(folder).map_err(fail)? {
        let entry = entry.map_err(fail)?;
        let name = entry.file_name().to_string_lossy().into_owned();
        if !course::is_litter(&name) {
            list.push((name, entry.path(), entry.file_type().map_err(fail)?));
        }
    }
    list.sort_by(|a, b| a.0.cmp(&b.0));
    Ok(list)
}

fn collect(folder: &Path, depth: usize, files: &mut Vec<PathBuf>) -> Result<(), Unusable> {
    for (_, path, kind) in entries(folder)? {
        if files.len() >= MAX_FILES {
            break;
        }
        // Links are not followed: they may lead anywhere.
        if kind.is_dir() && depth < MAX_DEPTH {
            collect(&path, depth + 1, files)?;
        } else if kind.is_file() {
            files.push(path);
        }
    }
    Ok(())
}

fn ending(path: &Path) -> String {
    path.extension().map_or_else(String::new, |e| e.to_string_lossy().to_ascii_lowercase())
}

/// The hand-in in a student's folder: designs and their data, a wiring table, prepared answers. Reports, pictures and
/// projects of other programs lie about there; they are passed over.
fn hand_in(folder: &Path, top: Option<&str>) -> Result<HandIn, Unusable> {
    let mut paths = Vec::new();
    collect(folder, 0, &mut paths)?;
    let mut found = HandIn { top: top.map(str::to_owned), ..HandIn::default() };
    for path in paths {
        let stem = path.file_stem().map_or_else(String::new, |s| s.to_string_lossy().to_ascii_lowercase());
        match ending(&path).as_str() {
            "v" | "sv" | "vh" | "svh" | "vhd" | "vhdl" | "mem" | "hex" | "dat" => {
                found.files.push(hand_in_file(&path)?)
            }
            "csv" if found.wiring.is_none() || stem.contains("wiring") => found.wiring = Some(hand_in_file(&path)?),
            "toml" if stem.contains("answer") => found.answers = Some(hand_in_file(&path)?),
            _ => {}
        }
    }
    Ok(found)
}

/// Checks all of them in as many processes as the machine has cores; the results are in the order of the list.
fn check_all(exercise: &Exercise, sent: &SentExercise, hand_ins: &[HandIn], limits: &Limits) -> Vec<Option<Checked>> {
    let pool = match std::env::current_exe() {
        Ok(program) => Pool::new(program, limits.of_workers()),
        Err(_) => Pool::within(limits.of_workers()),
    };
    let check = |hand_in: &HandIn| {
        let question = Question::Check { exercise: sent.clone(), hand_in: hand_in.clone().into() };
        match pool.ask(question, pool.limits().time, &Arc::new(AtomicBool::new(false))) {
            Ok(Answer::Checked(checked)) => checked.into_checked(),
            Ok(_) => check::stopped(exercise.rows(), &elab::fault("an answer to another question").to_string()),
            Err(lost) => check::stopped(exercise.rows(), &lost.sentence()),
        }
    };
    let next = AtomicUsize::new(0);
    let results: Mutex<Vec<Option<Checked>>> = Mutex::new(vec![None; hand_ins.len()]);
    let workers = std::thread::available_parallelism().map_or(1, usize::from).min(hand_ins.len().max(1));
    let start = Instant::now();
    std::thread::scope(|scope| {
        for _ in 0..workers {
            scope.spawn(|| {
                loop {
                    let at = next.fetch_add(1, Ordering::Relaxed);
                    let Some(hand_in) = hand_ins.get(at) else { break };
                    let checked = check(hand_in);
                    if let Ok(mut results) = results.lock() {
                        results[at] = Some(checked);
                    }
                    if at > 0 && at.is_multiple_of(PROGRESS) && start.elapsed().as_millis() > 1_000 {
                        report::to_people(&format!("{at} of {} checked …", hand_ins.len()));
                    }
                }
            });
        }
    });
    results.into_inner().unwrap_or_default()
}

fn word(kind: VerdictKind) -> &'static str {
    match kind {
        VerdictKind::Pass => "pass",
        VerdictKind::Partly => "partly",
        VerdictKind::Fail => "fail",
        VerdictKind::CannotTell => "cannot_tell",
    }
}

fn write_csv(path: &Path, students: &[(String, Verdict)]) -> Result<(), Unusable> {
    let fail = |e: csv::Error| Unusable(format!("{}: can't be written: {e}; check the path.", path.display()));
    let mut out = csv::Writer::from_path(path).map_err(fail)?;
    out.write_record([
        "student",
        "verdict",
        "passed",
        "total",
        "code",
        "message",
        "file",
        "line",
        "near_miss",
        "marks",
        "out_of",
    ])
    .map_err(fail)?;
    for (student, verdict) in students {
        let first = verdict.findings.iter().find(|f| f.severity != "note");
        let near = verdict.near_misses.first().map_or("", |n| n.message.as_str());
        let line = first.and_then(|f| f.line).map_or_else(String::new, |l| l.to_string());
        out.write_record([
            base::plain_field(student).as_str(),
            word(verdict.verdict),
            &verdict.rows.passed.to_string(),
            &verdict.rows.total.to_string(),
            first.map_or("", |f| f.code.as_str()),
            &verdict.headline(),
            first.and_then(|f| f.file.as_deref()).unwrap_or(""),
            &line,
            near,
            &verdict.marks.as_ref().map_or_else(String::new, |m| m.earned.to_string()),
            &verdict.marks.as_ref().map_or_else(String::new, |m| m.out_of.to_string()),
        ])
        .map_err(fail)?;
    }
    out.flush().map_err(|e| fail(e.into()))
}

/// Checks a class; the exit status is 0 when every hand-in passes.
pub(crate) fn run(args: &Args, folder: &Path, limits: &Limits) -> Result<ExitCode, Unusable> {
    let (exercise, sent) = load_to_send(&args.exercise)?;
    let mut names = Vec::new();
    let mut hand_ins = Vec::new();
    for (name, path, kind) in entries(folder)? {
        if kind.is_dir() {
            hand_ins.push(hand_in(&path, args.top.as_deref())?);
            names.push(name);
        } else {
            report::to_people(&format!(
                "{}: passed over; a student's files lie in a folder of their own.",
                path.display()
            ));
        }
    }
    if names.is_empty() {
        return Err(Unusable(format!("{}: holds no folders; make one for each student.", folder.display())));
    }
    let checked = check_all(&exercise, &sent, &hand_ins, limits);
    let students: Vec<(String, Verdict)> =
        names.into_iter().zip(checked).filter_map(|(n, c)| Some((n, c?.verdict))).collect();
    if let Some(path) = &args.csv {
        write_csv(path, &students)?;
    }
    let count = |kind| students.iter().filter(|(_, v)| v.verdict == kind).count();
    let counts = Counts {
        pass: count(VerdictKind::Pass),
        partly: count(VerdictKind::Partly),
        fail: count(VerdictKind::Fail),
        cannot_tell: count(VerdictKind::CannotTell),
    };
    let all = counts.pass == students.len();
    if args.json {
        let list = students.iter().map(|(student, verdict)| Line { student, verdict }).collect();
        let class = Class { format: "zesty-gate/class/1", exercise: &exercise.title, counts, students: list };
        report::result(&serde_json::to_string_pretty(&class).map_err(|e| Unusable(e.to_string()))?);
    } else {
        let width = students.iter().map(|(n, _)| n.chars().count()).max().unwrap_or(0).min(32);
        let lines = students.iter().map(|(name, verdict)| {
            let rows = format!("{}/{}", verdict.rows.passed, verdict.rows.total);
            format!("{:<11} {name:<width$}  {rows:>9}  {}", word(verdict.verdict).replace('_', " "), verdict.headline())
        });
        report::to_people(&lines.collect::<Vec<_>>().join("\n"));
        let Counts { pass, partly, fail, cannot_tell } = counts;
        report::to_people(&format!(
            "{} hand-in{}: {pass} pass, {partly} partly, {fail} fail, {cannot_tell} can't be told.",
            students.len(),
            if students.len() == 1 { "" } else { "s" }
        ));
    }
    Ok(if all { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

/// The files that were given, when they are those of one hand-in.
pub(crate) fn none_given(files: &[PathBuf]) -> Result<(), Unusable> {
    let given = files.first().map(|f| f.display().to_string());
    given.map_or(Ok(()), |f| Err(Unusable(format!("`{f}` and `--class` don't go together; give one of them."))))
}
