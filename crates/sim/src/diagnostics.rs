//! What a simulation has to say, one factory a fault.

use base::{Code, Diagnostic, Severity, Span, Stage};

fn stop(code: impl Into<Code>, message: impl Into<String>, action: impl Into<String>, at: Span) -> Diagnostic {
    Diagnostic::new(code, Severity::Stop, Stage::Behaviour, message, action).at(at)
}

pub(crate) fn endless_process(at: Span) -> Diagnostic {
    stop(
        "endless-process",
        "This block runs on and on without waiting, so time never goes on.",
        "Add a delay, an event or a wait in it.",
        at,
    )
}

pub(crate) fn zero_delay_loop(at: Span) -> Diagnostic {
    stop(
        "zero-delay-loop",
        "Blocks wake each other without end at one instant; this is one of them.",
        "Break the loop: let something in it depend on a clock or a delay.",
        at,
    )
}

pub(crate) fn too_much_output(at: Span) -> Diagnostic {
    stop(
        "too-much-output",
        "The messages are longer than the simulation may write.",
        "Write less, or end the simulation earlier.",
        at,
    )
}

pub(crate) fn work(at: Span) -> Diagnostic {
    stop(
        "simulation-budget",
        "The simulation needs more work than its budget.",
        "Simulate a shorter time, or end it with `$finish` or `std.env.finish`.",
        at,
    )
}

pub(crate) fn recursion(at: Span) -> Diagnostic {
    stop(Code::ENDLESS_RECURSION, "This subprogram calls itself without end.", "Give it a case that ends.", at)
}

pub(crate) fn huge_delay(at: Span) -> Diagnostic {
    stop(
        "huge-delay",
        "This delay is negative, unknown or longer than two hours and a half.",
        "Give a delay from 0 upwards in the unit of the time scale.",
        at,
    )
}
