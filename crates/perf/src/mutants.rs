//! The yardstick for explanations: every right design of the demo and of the twins is spoilt in one place at a time, and
//! counted is how often the check says so and how often a near miss names the spoilt line.

use anyhow::{Context, Result};
use check::{HandIn, Spoilt, check, spoilt};
use elab::HandInFile;
use exercise::Exercise;
use std::path::{Path, PathBuf};
use std::time::Instant;
use verdict::{ProofKind, VerdictKind};

#[derive(Default)]
struct Score {
    all: u64,
    illegal: u64,
    same: u64,
    unsure: u64,
    wrong: u64,
    explained: u64,
    line_named: u64,
    /// Changes of a line that were claimed to make all right, and those that a whole check refutes.
    claimed: u64,
    refuted: u64,
    /// Milliseconds that each check took.
    times: Vec<f64>,
}

/// A source with one line replaced.
fn with_line(text: &str, line: u32, before: &str, after: &str) -> Option<String> {
    let mut lines: Vec<&str> = text.lines().collect();
    let at = (line as usize).checked_sub(1)?;
    if lines.get(at)?.trim() != before.trim() {
        return None;
    }
    lines[at] = after;
    Some(lines.join("\n") + "\n")
}

fn sources(folder: &Path) -> Result<Vec<PathBuf>> {
    let mut list: Vec<PathBuf> = std::fs::read_dir(folder)?.flatten().map(|e| e.path()).collect();
    list.retain(|p| p.extension().is_some_and(|e| ["v", "sv", "vhd"].iter().any(|w| e == *w)));
    list.sort();
    Ok(list)
}

/// Milliseconds after which a check is told by itself.
const SLOW: f64 = 2_000.0;

#[expect(clippy::print_stdout, reason = "what falls short is told one by one")]
fn spoil(exercise: &Exercise, path: &Path, score: &mut Score) -> Result<()> {
    let text = std::fs::read_to_string(path)?;
    let name = path.file_name().context("a file has a name")?.to_string_lossy().into_owned();
    let judged = |text: &str| {
        let files = vec![HandInFile { name: name.clone(), bytes: text.as_bytes().to_vec() }];
        check(exercise, &HandIn { files, ..HandIn::default() }).verdict
    };
    let original = judged(&text);
    if !matches!(original.proof.kind, ProofKind::Proved | ProofKind::Matched) {
        return Ok(());
    }
    for Spoilt { text: mutant, line, .. } in spoilt(&name, &text) {
        let start = Instant::now();
        let verdict = judged(&mutant);
        let took = start.elapsed().as_secs_f64() * 1000.0;
        score.times.push(took);
        if took > SLOW {
            println!("  slow: {name} line {line}, {took:.0} ms");
        }
        score.all += 1;
        match (verdict.verdict, verdict.proof.kind) {
            (_, ProofKind::Proved | ProofKind::Matched) => score.same += 1,
            (VerdictKind::CannotTell, _) => score.unsure += 1,
            (_, ProofKind::None) => score.illegal += 1,
            _ => {
                score.wrong += 1;
                score.explained += u64::from(!verdict.near_misses.is_empty());
                let near = verdict.near_misses.iter().any(|n| n.line == Some(line));
                let found = verdict.findings.iter().any(|f| f.line == Some(line));
                score.line_named += u64::from(near || found);
                if !near && !found {
                    println!("  unnamed: {name} line {line}: {}", mutant.lines().nth(line as usize - 1).unwrap_or(""));
                }
                for n in &verdict.near_misses {
                    let (Some(at), Some(before), Some(after)) = (n.line, &n.before, &n.after) else { continue };
                    let Some(changed) = with_line(&mutant, at, before, after) else { continue };
                    score.claimed += 1;
                    let again = judged(&changed);
                    if !matches!(again.proof.kind, ProofKind::Proved | ProofKind::Matched) {
                        score.refuted += 1;
                        println!("  refuted: {name} line {line}: {} at line {at}: {after}", n.message);
                    }
                }
            }
        }
    }
    Ok(())
}

/// Spoils them all and prints the score.
#[expect(clippy::print_stdout, reason = "the figures are the result")]
pub(crate) fn run() -> Result<()> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let mut score = Score::default();
    let start = Instant::now();
    for entry in std::fs::read_dir(root.join("demo"))?.flatten() {
        let text = std::fs::read_to_string(entry.path().join("exercise.toml"))?;
        let exercise = Exercise::load(&text, &|path| Err(format!("no {path}").into()))?;
        for path in sources(&entry.path())? {
            spoil(&exercise, &path, &mut score)?;
        }
    }
    let twins = root.join("crates/check/tests/twins");
    for stem in ["adder", "alu", "dec", "mul"] {
        let text = std::fs::read_to_string(twins.join(format!("{stem}.toml")))?;
        let exercise = Exercise::load(&text, &|path| Err(format!("no {path}").into()))?;
        for path in sources(&twins)? {
            if path.file_name().is_some_and(|n| n.to_string_lossy().starts_with(&format!("{stem}_"))) {
                spoil(&exercise, &path, &mut score)?;
            }
        }
    }
    let percent = |n: u64| 100.0 * n as f64 / score.wrong.max(1) as f64;
    println!(
        "designs spoilt in one place: {} ({} not legal, {} right all the same, {} can't tell); {} found wrong",
        score.all, score.illegal, score.same, score.unsure, score.wrong
    );
    println!(
        "  explained by a near miss {:.1} %, the spoilt line is named for {:.1} % (aim 98 %); {:.1} s in all",
        percent(score.explained),
        percent(score.line_named),
        start.elapsed().as_secs_f64()
    );
    println!(
        "  changes of a line claimed to make all right: {}; refuted by a whole check: {} (aim 0)",
        score.claimed, score.refuted
    );
    score.times.sort_by(f64::total_cmp);
    let at = |share: f64| {
        score.times.get(((score.times.len() as f64 * share) as usize).min(score.times.len().saturating_sub(1)))
    };
    if let (Some(median), Some(most), Some(longest)) = (at(0.5), at(0.95), at(1.0)) {
        println!(
            "  a check took {median:.1} ms (median), {most:.1} ms (95 %; aim 200), {longest:.0} ms (longest; aim 2,000)"
        );
    }
    Ok(())
}
