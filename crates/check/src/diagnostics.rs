//! What the checker itself says, one factory a fault.

use base::{Code, Diagnostic, Severity, Span, Stage};

fn stop(code: impl Into<Code>, stage: Stage, message: impl Into<String>, action: impl Into<String>) -> Diagnostic {
    Diagnostic::new(code, Severity::Stop, stage, message, action)
}

pub(crate) fn edge_in_combinational(at: base::Span) -> Diagnostic {
    stop(
        "edge-in-combinational",
        Stage::Structure,
        "This block waits for a clock edge, but the exercise is combinational.",
        "Let the block react to all its inputs instead.",
    )
    .at(at)
    .help("A combinational output follows its inputs at once; there is no clock on the board's wiring.")
}

pub(crate) fn language_not_allowed(name: &str, language: &str) -> Diagnostic {
    let message = format!("`{name}` is {language}, which this exercise doesn't take.");
    stop("language-not-allowed", Stage::Names, message, "Hand in a language that the exercise names.")
}

pub(crate) fn no_parameter(unit: &str, name: &str, value: i64, at: Span) -> Diagnostic {
    Diagnostic::new(
        Code::PARAMETER_MISSING,
        Severity::Marks,
        Stage::Structure,
        format!("`{unit}` has no parameter `{name}`; the exercise asks for one that its widths depend on."),
        format!("Declare `{name}` as a parameter (in VHDL a generic) with {value} as its usual value."),
    )
    .at(at)
}

pub(crate) fn wrong_at_parameter(name: &str, value: i64, told: &str, at: Span) -> Diagnostic {
    Diagnostic::new(
        "wrong-at-parameter",
        Severity::Marks,
        Stage::Structure,
        format!("With `{name}` = {value} it is not right: {told}"),
        format!("Let every width and constant that depends on `{name}` follow it."),
    )
    .at(at)
}

/// Findings that a verdict leaves out.
pub(crate) fn more_findings(count: usize) -> Diagnostic {
    Diagnostic::new(
        "more-findings",
        Severity::Note,
        Stage::Language,
        match count {
            1 => "One more finding is not shown.".to_owned(),
            n => format!("{n} more findings are not shown."),
        },
        "Put the first ones right and check again: the others often have the same cause.",
    )
}

/// A check that was ended from outside.
pub(crate) fn stopped(why: &str) -> Diagnostic {
    stop(
        Code::BUDGET_EXHAUSTED,
        Stage::Behaviour,
        why,
        "Hand in a smaller design, or show the number to the instructor.",
    )
}

/// Why a stage fails in which nothing but the prepared answers is wrong.
pub(crate) const ONLY_ANSWERS: &str = "Only the prepared answers are wrong here, not the design.";

fn marks(code: impl Into<Code>, stage: Stage, message: impl Into<String>, action: impl Into<String>) -> Diagnostic {
    Diagnostic::new(code, Severity::Marks, stage, message, action)
}

pub(crate) fn answers_unreadable(reason: &str) -> Diagnostic {
    let message = format!("The prepared answers can't be read: {reason}.");
    marks(
        "answers-unreadable",
        Stage::Language,
        message,
        "Write lines such as `\"f.sop\" = \"a b + c\"` below [answers].",
    )
}

pub(crate) fn answer_missing(what: &str) -> Diagnostic {
    marks("answer-missing", Stage::Names, format!("The answer {what} is missing."), "Type it in and hand in again.")
}

pub(crate) fn answer_unknown(key: &str, near: Option<&str>) -> Diagnostic {
    let action = near.map_or("Remove it.".to_owned(), |n| format!("Write `{n}`."));
    marks("answer-unknown", Stage::Names, format!("Nobody asked for an answer `{key}`."), action)
}

pub(crate) fn answer_illegible(what: &str, reason: &str, action: &str) -> Diagnostic {
    marks("answer-illegible", Stage::Language, format!("The answer {what} can't be read: {reason}"), action)
}

pub(crate) fn answer_wrong(what: &str, wrong: u64, first: &str) -> Diagnostic {
    let rows = if wrong == 1 { "1 row".to_owned() } else { format!("{wrong} rows") };
    let message = format!("The answer {what} is wrong on {rows}, the first one {first}.");
    marks("answer-wrong", Stage::Behaviour, message, "Follow that row through the answer.")
}

pub(crate) fn answer_form(what: &str, wanted: &str, why: &str) -> Diagnostic {
    let message = format!("The answer {what} is right but is not {wanted}.");
    marks("answer-form", Stage::Structure, message, format!("Bring it to that form: {why}"))
}

pub(crate) fn answer_not_minimal(what: &str, over: &str, costs: bool) -> Diagnostic {
    let severity = if costs { Severity::Marks } else { Severity::Note };
    let message = format!("The answer {what} is right but not minimal: {over}.");
    Diagnostic::new(
        "answer-not-minimal",
        severity,
        Stage::Structure,
        message,
        "Look for larger groups or fewer of them.",
    )
}
