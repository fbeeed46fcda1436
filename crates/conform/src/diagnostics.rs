//! What is said of behaviour, one factory a fault.

use base::{Code, Diagnostic, Resource, Severity, Span, Stage};

fn stop(code: impl Into<Code>, stage: Stage, message: impl Into<String>, action: impl Into<String>) -> Diagnostic {
    Diagnostic::new(code, Severity::Stop, stage, message, action)
}

/// What is wrong with the rows of a hand-in, in one sentence.
pub(crate) struct WrongRows<'a> {
    pub wrong: u64,
    pub total: u64,
    /// `full=0, clear=1` of the first wrong row.
    pub inputs: &'a str,
    pub output: &'a str,
    pub expected: char,
    pub actual: &'a str,
}

pub(crate) fn wrong_rows(w: &WrongRows<'_>, at: Option<Span>) -> Diagnostic {
    let count = match (w.wrong, w.total) {
        (1, total) => format!("1 of {total} rows is wrong"),
        (wrong, total) if wrong == total => format!("All {total} rows are wrong"),
        (wrong, total) => format!("{wrong} of {total} rows are wrong"),
    };
    let first = if w.wrong == 1 { "" } else { ", the first one" };
    let message =
        format!("{count}{first} at {}: `{}` is {} where {} is expected.", w.inputs, w.output, w.actual, w.expected);
    let action = format!("Follow `{}` through the design with these inputs.", w.output);
    Diagnostic::new(Code::WRONG_ROWS, Severity::Marks, Stage::Behaviour, message, action).at_opt(at)
}

pub(crate) fn unknown_output(outputs: &[&str], inputs: &str, floating: bool) -> Diagnostic {
    let (state, why) = if floating {
        ("float", "Nothing drives it there.")
    } else {
        ("unknown", "Some path to it has no value there: a latch, a loop, an undriven signal or an X in the source.")
    };
    let names: Vec<String> = outputs.iter().take(4).map(|n| format!("`{n}`")).collect();
    let (subject, verb) = match (outputs.len(), state) {
        (1, "float") => (names.join(""), "floats"),
        (1, _) => (names.join(""), "is unknown"),
        (n, state) => {
            let more = if n > 4 { format!(" and {} more", n - 4) } else { String::new() };
            (format!("{}{more}", names.join(", ")), if state == "float" { "float" } else { "are unknown" })
        }
    };
    Diagnostic::new(
        "unknown-output",
        Severity::Marks,
        Stage::Behaviour,
        format!("{subject} {verb} at {inputs}, where the exercise demands a value."),
        "Give every output a value on every row that matters.",
    )
    .help(why)
}

/// `after 8 clock edges`, from the reset or from power-up on.
pub(crate) fn moment(edges: u64, other_edge: bool, has_reset: bool) -> String {
    let start = if has_reset { "after the reset" } else { "after power-up" };
    let half = if other_edge { " and the clock's return" } else { "" };
    match edges {
        0 => format!("right {start}"),
        1 => format!("1 clock edge{half} {start}"),
        n => format!("{n} clock edges{half} {start}"),
    }
}

pub(crate) fn wrong_cycle(
    output: &str,
    expected: &str,
    actual: &str,
    when: &str,
    inputs: &str,
    at: Option<Span>,
) -> Diagnostic {
    let with = if inputs.is_empty() { String::new() } else { format!(", with {inputs}") };
    Diagnostic::new(
        Code::WRONG_CYCLE,
        Severity::Marks,
        Stage::Behaviour,
        format!("`{output}` is {actual} where {expected} is expected, {when}{with}."),
        format!("Follow `{output}` through the cycles that lead there."),
    )
    .at_opt(at)
}

/// A difference of a design with too many inputs to count rows.
pub(crate) fn wrong_input(output: &str, [expected, actual, inputs, enough]: [&str; 4], at: Option<Span>) -> Diagnostic {
    let why = match enough {
        "" => String::new(),
        "always" => "The outputs are wrong whatever the inputs are.".into(),
        some => format!("With {some} it is wrong whatever the other inputs are."),
    };
    Diagnostic::new(
        Code::WRONG_ROWS,
        Severity::Marks,
        Stage::Behaviour,
        format!("`{output}` is {actual} where {expected} is expected, at {inputs}."),
        format!("Follow `{output}` through the design with these inputs."),
    )
    .help(why)
    .at_opt(at)
}

/// An output that can't be right because it doesn't depend on inputs that it should follow.
pub(crate) fn ignored_inputs(output: &str, inputs: &[&str], constant: Option<bool>, at: Option<Span>) -> Diagnostic {
    let names: Vec<String> = inputs.iter().take(4).map(|n| format!("`{n}`")).collect();
    let more = if inputs.len() > 4 { format!(" and {} more", inputs.len() - 4) } else { String::new() };
    let list = format!("{}{more}", names.join(", "));
    let message = match constant {
        Some(level) => format!("`{output}` is always {}; the exercise wants it to follow {list}.", u8::from(level)),
        None => format!("`{output}` doesn't depend on {list}, which the exercise wants it to follow."),
    };
    let action = format!("Use {} where `{output}` is made.", names[0]);
    Diagnostic::new("ignored-input", Severity::Note, Stage::Structure, message, action).at_opt(at)
}

/// Our own fault, or a source that is simulated otherwise than it is built.
pub fn engines_disagree(row: &str, at: Span) -> Diagnostic {
    stop(
        "engines-disagree",
        Stage::Behaviour,
        format!("Built and simulated the design does not do the same on row {row}; nothing can be said of it."),
        "Ask the instructor to look at it: the checker, or a source that is simulated otherwise than it is built, is to blame.",
    )
    .at(at)
}

/// What is built of the source does not do what its simulation does.
pub fn simulated_otherwise(
    output: &str,
    (built, simulated): (char, char),
    (inputs, before): (&str, Option<&str>),
    at: Span,
) -> Diagnostic {
    let after = before.map(|b| format!(", after {b}")).unwrap_or_default();
    Diagnostic::new(
        "simulated-otherwise",
        Severity::Marks,
        Stage::Behaviour,
        format!("Simulated, `{output}` is {simulated} at {inputs}{after}; built as hardware it is {built}."),
        "Write it so that both are the same: let a block wait for every signal that it reads, one by one, and assign before it reads.",
    )
    .at(at)
    .help(
        "A simulator runs a block when its list says so and an initial block once; synthesis makes logic of what they \
         assign. Where the two differ, a testbench shows another design than the one on the board.",
    )
}

/// A simulation of the design ends with a failure.
pub fn ends_in_simulation(message: &str, inputs: &str, at: Span) -> Diagnostic {
    Diagnostic::new(
        "simulated-otherwise",
        Severity::Marks,
        Stage::Behaviour,
        format!("Simulated, it ends at {inputs}: {message}."),
        "Keep every number within the range of its type: say where a count begins again, or give it the range that it needs.",
    )
    .at(at)
    .help(
        "Hardware has as many bits as the range needs and counts on past its end; a simulator stops there (IEEE 1076), so no \
         testbench shows what the board does.",
    )
}

pub(crate) fn proof_too_hard(what: &str) -> Diagnostic {
    stop(
        Code::BUDGET_EXHAUSTED,
        Stage::Behaviour,
        format!("Neither a proof nor a difference was found within the check's budget: {what}."),
        "Build it more like the exercise says, or ask the instructor to check it by hand.",
    )
}

pub(crate) fn unknown_at(
    output: &str,
    when: &str,
    registers: &[&str],
    reset: Option<&str>,
    at: Option<Span>,
) -> Diagnostic {
    let names: Vec<String> = registers.iter().take(4).map(|n| format!("`{n}`")).collect();
    let have = if names.len() == 1 { "has" } else { "have" };
    let (because, action) = match (names.is_empty(), reset) {
        (true, _) => (String::new(), "Give it a level in every state.".to_owned()),
        (false, Some(reset)) => (
            format!(": {} {have} no level yet", names.join(", ")),
            format!("Let `{reset}` set {}, or declare it with a first level.", names.join(", ")),
        ),
        (false, None) => (
            format!(": {} {have} no level at power-up", names.join(", ")),
            format!("Declare {} with a first level.", names.join(", ")),
        ),
    };
    Diagnostic::new(
        "unknown-after-start",
        Severity::Marks,
        Stage::Behaviour,
        format!("`{output}` is unknown {when}{because}."),
        action,
    )
    .at_opt(at)
    .help("A register holds nothing known until a reset or its declaration gives it a level.")
}

/// A clocked design that could not be run to an end.
pub(crate) fn not_run(why: Resource) -> Diagnostic {
    let (message, action) = match why {
        Resource::Rest => (
            "The design never comes to rest: some level goes on changing though neither clock nor inputs move."
                .to_owned(),
            "Look for a register or latch that changes its own clock, its own asynchronous reset, or what it is open for.",
        ),
        other => (
            format!("The design needs more than the check's budget: {other}."),
            "Make vectors, loops or repeated instances smaller, or try it with a smaller terminal count.",
        ),
    };
    stop(Code::BUDGET_EXHAUSTED, Stage::Behaviour, message, action)
}

/// Nothing was wrong, but part of what is expected never came.
pub(crate) fn not_all_seen(ran: u64, outputs: &[&str], registers: usize) -> Diagnostic {
    let mut missing: Vec<String> = outputs.iter().map(|n| format!("`{n}`")).collect();
    if registers > 0 {
        let bits = if registers == 1 { "bit" } else { "bits" };
        missing.push(format!("{registers} {bits} of what the expected machine remembers"));
    }
    stop(
        Code::BUDGET_EXHAUSTED,
        Stage::Behaviour,
        format!(
            "Right for {}, but in them {} never moved: it can't be told what comes then.",
            cycles(ran),
            and_list(&missing)
        ),
        "Try the design with a smaller terminal count, or ask for an exercise with one.",
    )
}

fn and_list(words: &[String]) -> String {
    match words {
        [] => String::new(),
        [one] => one.clone(),
        [first @ .., last] => format!("{} and {last}", first.join(", ")),
    }
}

fn cycles(n: u64) -> String {
    let text = n.to_string();
    let mut out = String::new();
    for (i, c) in text.chars().enumerate() {
        if i > 0 && (text.len() - i).is_multiple_of(3) {
            out.push(',');
        }
        out.push(c);
    }
    format!("{out} clock cycles")
}

fn rate_wrong(message: String, action: String, at: Option<Span>) -> Diagnostic {
    Diagnostic::new(Code::WRONG_RATE, Severity::Marks, Stage::Behaviour, message, action).at_opt(at)
}

pub(crate) fn rate_period(output: &str, wanted: u64, is: u64, board: Option<u64>, at: Option<Span>) -> Diagnostic {
    // As many digits as tell the two apart.
    let text = |period: u64, digits: usize| board.map(|f| format!("{:.digits$}", f as f64 / period as f64));
    let digits = (3..9).find(|d| text(is, *d) != text(wanted, *d)).unwrap_or(3);
    let hertz = |period: u64| text(period, digits).map_or(String::new(), |t| format!(" ({t} Hz)"));
    let message = format!(
        "`{output}` repeats every {}{} where {}{} are wanted.",
        cycles(is),
        hertz(is),
        cycles(wanted),
        hertz(wanted)
    );
    let action = if wanted.is_multiple_of(2) {
        let half = wanted / 2 - 1;
        format!("Count from 0 to {half} for each half of the period, or from 0 to {} for a whole one.", wanted - 1)
    } else {
        format!("Count from 0 to {} for a whole period.", wanted - 1)
    };
    rate_wrong(message, action, at).help("A counter that ends at n goes through n + 1 values.")
}

pub(crate) fn rate_still(
    output: &str,
    wanted: u64,
    (ran, for_ever): (&prove::Measured, bool),
    at: Option<Span>,
) -> Diagnostic {
    let message = match ran.edges.last() {
        None if for_ever => format!("`{output}` never changes."),
        None => format!("`{output}` doesn't change within {}.", cycles(ran.cycles)),
        Some((last, _)) => format!(
            "`{output}` changes for the last time after {}, and no more within {}.",
            cycles(*last),
            cycles(ran.cycles)
        ),
    };
    rate_wrong(message, format!("Let it rise every {}.", cycles(wanted)), at)
}

pub(crate) fn rate_late(output: &str, wanted: u64, first: u64, at: Option<Span>) -> Diagnostic {
    let message = format!("`{output}` rises for the first time after {}, later than one period.", cycles(first));
    rate_wrong(message, format!("Let the first period end within {}.", cycles(wanted)), at)
}

pub(crate) fn rate_duty(output: &str, wanted: u64, is: u64, (low, high): (u64, u64), at: Option<Span>) -> Diagnostic {
    let range = if low == high { low.to_string() } else { format!("{low} or {high}") };
    let message = format!("`{output}` is high for {} of its {wanted}; {range} are wanted.", cycles(is));
    rate_wrong(message, "Change it at the middle of the period.".into(), at)
}

pub(crate) fn rate_too_long(output: &str, ran: u64, wanted: u64) -> Diagnostic {
    stop(
        Code::BUDGET_EXHAUSTED,
        Stage::Behaviour,
        format!("`{output}` was followed for {}, less than the period of {wanted}.", cycles(ran)),
        "Try the design with a smaller terminal count.",
    )
}

/// The checker's own limit was met.
pub fn budget(what: &str) -> Diagnostic {
    stop(
        Code::BUDGET_EXHAUSTED,
        Stage::Behaviour,
        format!("The design needs more than the check's budget: {what}."),
        "Make vectors, loops or repeated instances smaller.",
    )
}
