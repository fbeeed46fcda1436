//! What is said of files, tops and ports, one factory a fault.

use crate::port::ExercisePort;
use base::{Code, Diagnostic, Severity, Span, Stage};
use design::Direction;
use logic::Shape;

fn stop(code: impl Into<Code>, stage: Stage, message: impl Into<String>, action: impl Into<String>) -> Diagnostic {
    Diagnostic::new(code, Severity::Stop, stage, message, action)
}

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
    stop(Code::BUDGET_EXHAUSTED, Stage::Language, message, "Make the hierarchy flatter, or remove the recursion.")
        .at(at)
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
