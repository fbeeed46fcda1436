//! What the checker itself says (beside the languages, synthesis and wiring), one factory a fault.

use crate::port::ExercisePort;
use base::{Diagnostic, Resource, Severity, Span, Stage};
use design::Direction;
use logic::Shape;

fn stop(code: &'static str, stage: Stage, message: impl Into<String>, action: impl Into<String>) -> Diagnostic {
    Diagnostic::new(code, Severity::Stop, stage, message, action)
}

// ---- files ----

pub(crate) fn no_files() -> Diagnostic {
    stop("no-files", Stage::Names, "The hand-in holds no design file.", "Add a Verilog (.v) or VHDL (.vhd) file.")
}

pub(crate) fn empty_file(name: &str) -> Diagnostic {
    stop("empty-file", Stage::Names, format!("`{name}` is empty."), "Hand in the file with the design in it.")
}

pub(crate) fn binary_file(name: &str) -> Diagnostic {
    stop("binary-file", Stage::Names, format!("`{name}` is not a text file."), "Hand in the source text of the design.")
}

pub(crate) fn large_file(name: &str, bytes: usize) -> Diagnostic {
    let message = format!("`{name}` has {} KiB; the check reads 1,024 KiB at most.", bytes / 1024);
    stop("large-file", Stage::Names, message, "Hand in the design's source only.")
}

pub(crate) fn unknown_file_kind(name: &str) -> Diagnostic {
    let message = format!("`{name}` has an ending that is not read.");
    stop("unknown-file-kind", Stage::Names, message, "Name Verilog files `.v` or `.sv`, VHDL files `.vhd` or `.vhdl`.")
}

pub(crate) fn crossings(unit: &str, at: base::Span) -> Diagnostic {
    let message = format!("`{unit}` is reached through more than 32 changes of language.");
    stop("budget-exhausted", Stage::Language, message, "Make the hierarchy flatter, or remove the recursion.").at(at)
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

pub(crate) fn reserved_elsewhere(name: &str, language: &str, at: base::Span) -> Diagnostic {
    let message = format!("`{name}` is a reserved word of {language}.");
    let action = format!("Choose another name if the design is to be used from {language} too.");
    Diagnostic::new("reserved-elsewhere", base::Severity::Note, Stage::Names, message, action).at(at)
}

pub(crate) fn similar_names(first: &str, second: &str, first_at: base::Span, at: base::Span) -> Diagnostic {
    let message = format!("`{first}` and `{second}` differ by capitals only.");
    let action = "Rename one of them, or use the same spelling if one was meant.";
    Diagnostic::new("similar-names", base::Severity::Note, Stage::Names, message, action)
        .at(at)
        .related(first_at, "the other one")
        .help("Verilog takes them for two signals; VHDL for one.")
}

pub(crate) fn language_not_allowed(name: &str, language: &str) -> Diagnostic {
    let message = format!("`{name}` is {language}, which this exercise doesn't take.");
    stop("language-not-allowed", Stage::Names, message, "Hand in a language that the exercise names.")
}

// ---- top and ports ----

pub(crate) fn no_top() -> Diagnostic {
    stop(
        "no-top",
        Stage::Names,
        "No module or entity has ports, so none can be the design.",
        "Give the design its ports.",
    )
}

pub(crate) fn unknown_top(name: &str, near: Option<&str>) -> Diagnostic {
    let action = near.map_or("Name a module of the hand-in.".to_owned(), |n| format!("Write `{n}`."));
    stop("unknown-top", Stage::Names, format!("There is no module or entity `{name}` to take as the top."), action)
}

pub(crate) fn no_clear_top<'a>(names: impl Iterator<Item = &'a str>, at: Span) -> Diagnostic {
    let list: Vec<String> = names.map(|n| format!("`{n}`")).collect();
    let message = format!("It isn't clear which unit is the design: {} stand side by side.", list.join(" and "));
    stop("no-clear-top", Stage::Names, message, "Hand in one of them, or say which one is the top.").at(at)
}

pub(crate) fn missing_port(port: &ExercisePort, near: Option<&str>, at: Span) -> Diagnostic {
    let way = if port.is_input { "input" } else { "output" };
    let name = &port.name;
    match near {
        Some(near) if near.eq_ignore_ascii_case(name) => stop(
            "port-case",
            Stage::Names,
            format!("The exercise's {way} is `{name}`; the design writes `{near}`."),
            format!("Write `{name}` with exactly these capitals."),
        ),
        Some(near) => stop(
            "misspelt-port",
            Stage::Names,
            format!("The exercise's {way} `{name}` is missing; the design has `{near}`."),
            format!("Rename `{near}` to `{name}`."),
        ),
        None => stop(
            "missing-port",
            Stage::Names,
            format!("The exercise's {way} `{name}` is missing."),
            format!("Add the {way} `{name}`{}.", port.shape),
        ),
    }
    .at(at)
}

pub(crate) fn port_direction(name: &str, is: &str, wanted: &str, at: Span) -> Diagnostic {
    let message = format!("`{name}` is an {is}; the exercise has it as an {wanted}.");
    stop("port-direction", Stage::Names, message, format!("Declare `{name}` as {wanted}.")).at(at)
}

pub(crate) fn port_range(name: &str, is: u32, wanted: Shape, at: Span) -> Diagnostic {
    let bits = |n: u32| if n == 1 { "1 bit".to_owned() } else { format!("{n} bits") };
    let message = format!("`{name}` has {}; the exercise has {}.", bits(is), bits(wanted.width()));
    let action = match wanted.range() {
        Some(_) => format!("Declare it as `{wanted} {name}`."),
        None => format!("Declare `{name}` without a range."),
    };
    stop("port-width-differs", Stage::Names, message, action).at(at)
}

pub(crate) fn port_order(name: &str, is: Shape, wanted: Shape, at: Span) -> Diagnostic {
    Diagnostic::new(
        "port-bit-order",
        Severity::Note,
        Stage::Names,
        format!("`{name}` is declared {is}; the exercise counts its bits {wanted}."),
        format!("Declare it as `{wanted} {name}` unless the other order is meant."),
    )
    .at(at)
    .help("The left bound names the most significant bit in both.")
}

pub(crate) fn extra_port(name: &str, direction: Direction, at: Span) -> Diagnostic {
    let message = format!("The exercise has no {} `{name}`.", direction.word());
    let action = format!("Remove the port `{name}`, or make it an internal signal.");
    if direction == Direction::Out {
        Diagnostic::new("extra-port", Severity::Note, Stage::Names, message, action).at(at)
    } else {
        stop("extra-port", Stage::Names, message, action).at(at)
    }
}

// ---- behaviour ----

/// What is wrong with the rows of a hand-in, in one sentence.
pub(crate) struct WrongRows<'a> {
    pub(crate) wrong: u64,
    pub(crate) total: u64,
    /// `full=0, clear=1` of the first wrong row.
    pub(crate) inputs: &'a str,
    pub(crate) output: &'a str,
    pub(crate) expected: char,
    pub(crate) actual: &'a str,
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
    Diagnostic::new("wrong-rows", Severity::Marks, Stage::Behaviour, message, action).at_opt(at)
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
        "wrong-cycle",
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
        "wrong-rows",
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

pub(crate) fn no_parameter(unit: &str, name: &str, value: i64, at: Span) -> Diagnostic {
    Diagnostic::new(
        "parameter-missing",
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

/// Our own fault, or a source that is simulated otherwise than it is built.
pub(crate) fn engines_disagree(row: &str, at: Span) -> Diagnostic {
    stop(
        "engines-disagree",
        Stage::Behaviour,
        format!("Built and simulated the design does not do the same on row {row}; nothing can be said of it."),
        "Ask the instructor to look at it: the checker, or a source that is simulated otherwise than it is built, is to blame.",
    )
    .at(at)
}

/// What is built of the source does not do what its simulation does.
pub(crate) fn simulated_otherwise(
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
pub(crate) fn ends_in_simulation(message: &str, inputs: &str, at: Span) -> Diagnostic {
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
        "budget-exhausted",
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
    stop("budget-exhausted", Stage::Behaviour, message, action)
}

/// Nothing was wrong, but part of what is expected never came.
pub(crate) fn not_all_seen(ran: u64, outputs: &[&str], registers: usize) -> Diagnostic {
    let mut missing: Vec<String> = outputs.iter().map(|n| format!("`{n}`")).collect();
    if registers > 0 {
        let bits = if registers == 1 { "bit" } else { "bits" };
        missing.push(format!("{registers} {bits} of what the expected machine remembers"));
    }
    stop(
        "budget-exhausted",
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
    Diagnostic::new("wrong-rate", Severity::Marks, Stage::Behaviour, message, action).at_opt(at)
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

pub(crate) fn rate_off_by_one(output: &str, is: u64, wanted: u64, half: bool) -> String {
    let (more, counts) =
        (if is > wanted { "longer" } else { "shorter" }, if half { "each half" } else { "the period" });
    format!("The period of `{output}` would be right if {counts} were not 1 cycle {more}.")
}

pub(crate) fn rate_still(output: &str, wanted: u64, ran: u64, at: Option<Span>) -> Diagnostic {
    let message = format!("`{output}` doesn't repeat: no further change within {}.", cycles(ran));
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
        "budget-exhausted",
        Stage::Behaviour,
        format!("`{output}` was followed for {}, less than the period of {wanted}.", cycles(ran)),
        "Try the design with a smaller terminal count.",
    )
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
    stop("budget-exhausted", Stage::Behaviour, why, "Hand in a smaller design, or show the number to the instructor.")
}

pub(crate) fn budget(what: &str) -> Diagnostic {
    stop(
        "budget-exhausted",
        Stage::Behaviour,
        format!("The design needs more than the check's budget: {what}."),
        "Make vectors, loops or repeated instances smaller.",
    )
}

// ---- wiring ----

pub(crate) fn wiring_unreadable(reason: &str) -> Diagnostic {
    stop(
        "wiring-unreadable",
        Stage::Wiring,
        format!("The wiring file can't be read: {reason}."),
        "Start it with the line `port,part,pin,io_level`, then a line a port bit.",
    )
}

pub(crate) fn device_full(what: &str, wanted: u64, has: u64, device: &str) -> Diagnostic {
    Diagnostic::new(
        "device-full",
        Severity::Marks,
        Stage::Bench,
        format!("The design takes {wanted} {what}, and the device {device} has {has}."),
        "Use narrower signals or less logic.",
    )
}

pub(crate) fn wrong_lamps(wrong: u64, total: u64, first: &str, at: &str) -> Diagnostic {
    Diagnostic::new(
        "wrong-lamps",
        Severity::Marks,
        Stage::Bench,
        format!("{wrong} of {total} rows show wrong lamps, the first one at {at}: {first}."),
        "Put the findings above right, then walk the rows again.",
    )
}

// ---- prepared answers ----

/// Why a stage fails in which nothing but the prepared answers is wrong.
pub(crate) const ONLY_ANSWERS: &str = "Only the prepared answers are wrong here, not the design.";

fn marks(code: &'static str, stage: Stage, message: impl Into<String>, action: impl Into<String>) -> Diagnostic {
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
