//! Text for people: on standard error, so that standard output holds results only.

use annotate_snippets::{AnnotationKind, Group, Level, Renderer, Snippet};
use elab::HandInFile;
use std::fmt::Write as _;
use std::io::{IsTerminal, Write as _};
use verdict::{Finding, ProofKind, ProofMethod, StageState, Verdict, VerdictKind};

/// One line to standard error.
pub(crate) fn to_people(text: &str) {
    // A reader that has gone away is no fault of ours.
    let _ = writeln!(std::io::stderr(), "{text}");
}

/// A result to standard output.
pub(crate) fn result(text: &str) {
    let _ = writeln!(std::io::stdout(), "{text}");
}

/// A text to standard output as it is.
pub(crate) fn raw(text: &str) {
    let _ = write!(std::io::stdout(), "{text}").and_then(|()| std::io::stdout().flush());
}

/// A verdict as text: the outcome, the stages, the findings with their source lines.
pub(crate) fn verdict_text(verdict: &Verdict, files: &[HandInFile]) -> String {
    let mut out = String::new();
    let word = match verdict.verdict {
        VerdictKind::Pass => "PASS",
        VerdictKind::Partly => "PARTLY",
        VerdictKind::Fail => "FAIL",
        VerdictKind::CannotTell => "CAN'T TELL",
    };
    let _ = writeln!(out, "{word}  {}", verdict.headline());
    let counted = format!("{} of {} {} right", verdict.rows.passed, verdict.rows.total, verdict.unit());
    let _ = match verdict.proof.method {
        Some(ProofMethod::Exhaustive) => writeln!(out, "      {counted}, every row tried"),
        Some(ProofMethod::States) if verdict.proof.kind == ProofKind::Proved => {
            writeln!(out, "      {counted}, every state that can be reached tried with every input")
        }
        Some(ProofMethod::Induction) => {
            writeln!(out, "      proved by induction: what holds in one clock cycle holds in the next")
        }
        Some(ProofMethod::States | ProofMethod::Sat) => writeln!(out, "      {counted}"),
        Some(ProofMethod::Simulation) => {
            writeln!(out, "      {counted}, {} clock cycles run", verdict.proof.cycles.unwrap_or(0))
        }
        None => Ok(()),
    };
    if let Some(budget) = &verdict.proof.budget {
        let _ = writeln!(out, "      {} of the budget of {} steps used", budget.spent, budget.steps);
    }
    for stage in &verdict.stages {
        let mark = match stage.state {
            StageState::Pass => "+",
            StageState::Fail => "x",
            StageState::Skipped => "-",
        };
        let reason = if stage.reason.is_empty() { String::new() } else { format!("  ({})", stage.reason) };
        let _ = writeln!(out, "  {mark} {}{reason}", stage.stage);
    }
    if let Some(marks) = &verdict.marks {
        let _ = writeln!(out, "  {}", marks.sentence());
        for part in marks.parts.iter().filter(|p| p.out_of > 0.0) {
            let why = if part.why.is_empty() { String::new() } else { format!("  ({})", part.why) };
            let _ = writeln!(out, "    {:<10} {} of {}{why}", part.what, part.earned, part.out_of);
        }
    }
    if let Some(resources) = &verdict.resources {
        let _ = writeln!(out, "  takes {}", resources.sentence());
    }
    if !verdict.answers.is_empty() {
        let earned: u32 = verdict.answers.iter().map(|a| a.marks).sum();
        let out_of: u32 = verdict.answers.iter().map(|a| a.out_of).sum();
        let _ = writeln!(out, "  answers: {earned} of {out_of} marks");
        for answer in &verdict.answers {
            let _ = writeln!(out, "    {:<8} {}.{}", answer.state, answer.output, answer.ask);
        }
    }
    for near in &verdict.near_misses {
        let _ = writeln!(out, "  would pass with one change: {} {}", near.message, near.repair);
        if let (Some(before), Some(after)) = (&near.before, &near.after) {
            let _ = writeln!(out, "    - {before}\n    + {after}");
        }
    }
    let sources = decoded(files);
    for finding in &verdict.findings {
        let _ = write!(out, "\n{}", finding_text(finding, &sources));
    }
    out
}

/// A run of clock ticks, a line each.
pub(crate) fn ticks_text(found: &conform::TryTicks) -> String {
    let mut out = format!("{}\n", found.sentence());
    let _ = writeln!(out, "  tick  {} -> {}", found.inputs.join(" "), found.outputs.join(" "));
    for (n, tick) in found.ticks.iter().enumerate() {
        let _ = writeln!(out, "  {:>4}  {} -> {}", n + 1, tick.inputs, tick.outputs.to_lowercase());
    }
    out
}

fn decoded(files: &[HandInFile]) -> Vec<base::SourceFile> {
    files.iter().filter_map(|f| base::SourceFile::decode(&f.name, &f.bytes).ok()).collect()
}

/// A design taken apart, as text.
pub(crate) fn inspection_text(found: &views::Inspection, files: &[HandInFile]) -> String {
    let mut out = String::new();
    for unit in &found.units {
        let mark = if found.top.as_ref() == Some(&unit.name) { "top" } else { "   " };
        let _ = writeln!(out, "{mark} {:<20} {:<8} {}:{}", unit.name, unit.language, unit.file, unit.line);
    }
    for port in &found.ports {
        let _ = writeln!(out, "    {:<7} {}{}", port.direction, port.name, port.range);
    }
    if let Some(top) = &found.hierarchy {
        scope_text(top, 0, &mut out);
    }
    if let Some(resources) = &found.resources {
        let _ = writeln!(out, "    {}", resources.sentence());
    }
    let sources = decoded(files);
    for finding in &found.findings {
        let _ = write!(out, "\n{}", finding_text(finding, &sources));
    }
    out
}

fn scope_text(scope: &views::InspectedScope, depth: usize, out: &mut String) {
    let _ = writeln!(out, "    {}{} ({})", "  ".repeat(depth), scope.name, scope.unit);
    if depth < 32 {
        scope.children.iter().for_each(|child| scope_text(child, depth + 1, out));
    }
}

fn finding_text(finding: &Finding, sources: &[base::SourceFile]) -> String {
    let level = match finding.severity.as_str() {
        "stop" => Level::ERROR.with_name("stops the check"),
        "marks" => Level::WARNING.with_name("costs marks"),
        _ => Level::NOTE.with_name("worth knowing"),
    };
    let title = level.primary_title(finding.message.as_str()).id(finding.code.as_str());
    let source = finding.file.as_ref().and_then(|name| sources.iter().find(|f| f.name == *name));
    let mut group = Group::with_title(title);
    if let (Some(file), Some(line), Some(column)) = (source, finding.line, finding.column) {
        let start = offset(&file.text, line, column);
        let end = finding.end_line.zip(finding.end_column).map_or(start, |(l, c)| offset(&file.text, l, c));
        let same_line = finding.end_line == finding.line;
        let end = if same_line { end.max(start) } else { line_end(&file.text, start) };
        let annotation = AnnotationKind::Primary.span(start..end);
        group = group.element(Snippet::source(file.text.as_str()).path(file.name.as_str()).annotation(annotation));
    }
    if !finding.help.is_empty() {
        group = group.element(Level::HELP.with_name("do").message(finding.help.as_str()));
    }
    let renderer = if std::io::stderr().is_terminal() { Renderer::styled() } else { Renderer::plain() };
    let mut text = renderer.render(&[group]).to_string();
    text.push('\n');
    text
}

fn offset(text: &str, line: u32, column: u32) -> usize {
    let start: usize = text.split_inclusive('\n').take(line as usize - 1).map(str::len).sum();
    let rest = text.get(start..).unwrap_or("");
    start + rest.char_indices().nth(column as usize - 1).map_or(rest.len(), |(i, _)| i)
}

fn line_end(text: &str, from: usize) -> usize {
    text.get(from..).and_then(|t| t.find('\n')).map_or(text.len(), |n| from + n)
}
