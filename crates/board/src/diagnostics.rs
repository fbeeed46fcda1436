//! What the Wiring stage says, one factory a fault: always by the lamp or switch that people see.

use crate::part::Terminal;
use base::{Code, Diagnostic, Severity, Span, Stage};

fn marks(code: impl Into<Code>, message: String, action: String, at: Option<Span>) -> Diagnostic {
    Diagnostic::new(code, Severity::Marks, Stage::Wiring, message, action).at_opt(at)
}

fn place(part: &Terminal) -> String {
    format!("{} (pin {})", part.label, part.pin)
}

pub(crate) fn unwired(bit: &str, wanted: Option<&Terminal>) -> Diagnostic {
    let action = match wanted {
        Some(part) => format!("Wire it to {}.", place(part)),
        None => "Wire it to a part.".into(),
    };
    marks("port-unwired", format!("`{bit}` is not wired."), action, None)
}

pub(crate) fn unknown_port(bit: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write `{near}`."),
        None => "Use a port of the exercise.".into(),
    };
    marks("unknown-wired-port", format!("The exercise has no port bit `{bit}`."), action, Some(at))
}

pub(crate) fn wired_twice(bit: &str, first: Span, at: Span) -> Diagnostic {
    marks("port-wired-twice", format!("`{bit}` is wired twice."), "Keep one of the two lines.".into(), Some(at))
        .related(first, "wired here first")
}

pub(crate) fn unknown_part(label: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write {near}."),
        None => "Use a label printed on the board.".into(),
    };
    marks("unknown-part", format!("The board has no part {label}."), action, Some(at))
}

pub(crate) fn unknown_pin(pin: &str, wanted: Option<&Terminal>, at: Span) -> Diagnostic {
    let action = match wanted {
        Some(part) => format!("Use pin {} for {}.", part.pin, part.label),
        None => "Use a pin that leads to a part.".into(),
    };
    marks("unknown-pin", format!("No part of the board is at pin {pin}."), action, Some(at))
}

pub(crate) fn part_and_pin_differ(label: &str, pin: &str, at_pin: &Terminal, at: Span) -> Diagnostic {
    let message = format!("{label} is not at pin {pin}: there is {}.", at_pin.label);
    marks("part-and-pin-differ", message, "Correct the label or the pin.".into(), Some(at))
}

pub(crate) fn nothing_named(bit: &str, at: Span) -> Diagnostic {
    let action = "Write a part's label or a pin.".into();
    marks("wiring-incomplete", format!("This line names neither part nor pin for `{bit}`."), action, Some(at))
}

pub(crate) fn used_twice(part: &Terminal, first_bit: &str, bit: &str, first: Span, at: Span) -> Diagnostic {
    let message = format!("{} is used twice: by `{first_bit}` and by `{bit}`.", place(part));
    marks("part-used-twice", message, format!("Wire `{bit}` to a part of its own."), Some(at))
        .related(first, "used here first")
}

pub(crate) fn output_on_switch(bit: &str, (word, part): (&str, &Terminal), at: Span) -> Diagnostic {
    let message = format!("The output `{bit}` is wired to the {word} {}.", place(part));
    marks("output-on-switch", message, "Wire it to a lamp.".into(), Some(at))
}

pub(crate) fn input_on_lamp(bit: &str, part: &Terminal, at: Span) -> Diagnostic {
    let message = format!("The input `{bit}` is wired to the lamp {}.", place(part));
    marks("input-on-lamp", message, "Wire it to a switch.".into(), Some(at))
}

pub(crate) fn wrong_part(bit: &str, is_input: bool, part: &Terminal, wanted: &Terminal, at: Span) -> Diagnostic {
    let message = if is_input {
        format!("`{bit}` follows {} instead of {}.", place(part), place(wanted))
    } else {
        format!("`{bit}` lights {} instead of {}.", place(part), place(wanted))
    };
    let d = marks(Code::WRONG_PART, message, format!("Wire `{bit}` to {}.", place(wanted)), Some(at));
    if base::edit_distance(&part.pin, &wanted.pin) == 1 {
        d.help(format!("The pins {} and {} differ in one character only.", part.pin, wanted.pin))
    } else {
        d
    }
}

pub(crate) fn wrong_io_level(level: &str, wanted: &str, at: Span) -> Diagnostic {
    let message = format!("The pins of this board work at I/O level {wanted}, not {level}.");
    marks("wrong-io-level", message, format!("Write {wanted}."), Some(at))
}
