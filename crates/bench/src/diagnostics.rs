//! What is said of wires and the device, one factory a fault.

use base::{Code, Diagnostic, Severity, Stage};

fn stop(code: impl Into<Code>, stage: Stage, message: impl Into<String>, action: impl Into<String>) -> Diagnostic {
    Diagnostic::new(code, Severity::Stop, stage, message, action)
}

/// A wiring file that can't be read, and why.
pub fn wiring_unreadable(reason: &str) -> Diagnostic {
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
