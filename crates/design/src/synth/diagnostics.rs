//! What synthesis has to say about a design, one factory a fault. Worded for both languages.

use base::{Code, Diagnostic, Exhausted, Severity, Span, Stage};

pub(crate) fn several_drivers(name: &str, first: Span, second: Span) -> Diagnostic {
    Diagnostic::new(
        Code::SEVERAL_DRIVERS,
        Severity::Marks,
        Stage::Structure,
        format!("`{name}` is driven from two places."),
        "Drive it in one place only: join the two conditions in one assignment or block.",
    )
    .at(second)
    .related(first, "driven here first")
    .help("Where the two disagree the level is neither 0 nor 1.")
}

pub(crate) fn weak_level(at: Span) -> Diagnostic {
    Diagnostic::new(
        Code::NOT_READ_YET,
        Severity::Stop,
        Stage::Structure,
        "A weak level beside other drivers of its signal is legal VHDL, but is not read by this version.",
        "Give the signal its level at rest with `when` and `else` in one assignment, or ask the instructor.",
    )
    .at(at)
    .help("IEEE 1164: a strong level beats a weak one, which is how a pull-up is described.")
}

pub(crate) fn inferred_latch(name: &str, branch: Span) -> Diagnostic {
    Diagnostic::new(
        Code::INFERRED_LATCH,
        Severity::Marks,
        Stage::Structure,
        format!("`{name}` keeps its old value when this branch is not taken: that makes a latch."),
        format!("Give `{name}` a value on every path, for example a default at the top of the block."),
    )
    .at(branch)
    .help("A combinational output must be assigned whatever the inputs are.")
}

pub(crate) fn combinational_loop(path: &[String], at: Span) -> Diagnostic {
    Diagnostic::new(
        Code::COMBINATIONAL_LOOP,
        Severity::Marks,
        Stage::Structure,
        format!("`{}` depends on itself without a register: {}.", path[0], path.join(" ← ")),
        "Break the loop: compute each signal from inputs or from signals that don't depend on it.",
    )
    .at(at)
    .help("Such a loop oscillates or keeps an old value; the check takes its level as unknown.")
}

pub(crate) fn undriven_output(name: &str, at: Span) -> Diagnostic {
    Diagnostic::new(
        Code::UNDRIVEN_OUTPUT,
        Severity::Marks,
        Stage::Structure,
        format!("Nothing drives the output `{name}`."),
        format!("Assign `{name}`, or connect it to what should drive it."),
    )
    .at(at)
}

pub(crate) fn unread_input(name: &str, at: Span) -> Diagnostic {
    Diagnostic::new(
        "unread-input",
        Severity::Note,
        Stage::Structure,
        format!("The input `{name}` is never read."),
        format!("Use `{name}`, or check whether another name was meant where it should be."),
    )
    .at(at)
}

pub(crate) fn never_assigned(name: &str, at: Span) -> Diagnostic {
    Diagnostic::new(
        "never-assigned",
        Severity::Marks,
        Stage::Structure,
        format!("The assignments to `{name}` are never reached: the conditions before them can't hold."),
        "Check the conditions, and whether each signal in them is wide enough for the value it is compared with.",
    )
    .at(at)
    .help("A counter of n bits ends at 2^n - 1; it never equals a larger number.")
}

pub(crate) fn undriven_signal(name: &str, at: Span) -> Diagnostic {
    Diagnostic::new(
        Code::UNDRIVEN_SIGNAL,
        Severity::Marks,
        Stage::Structure,
        format!("`{name}` is read, but nothing drives it."),
        format!("Assign `{name}`, or use the name that was meant."),
    )
    .at(at)
}

pub(crate) fn incomplete_sensitivity(missing: &[String], at: Span) -> Diagnostic {
    let list = missing.iter().map(|n| format!("`{n}`")).collect::<Vec<_>>().join(", ");
    Diagnostic::new(
        Code::INCOMPLETE_SENSITIVITY,
        Severity::Marks,
        Stage::Structure,
        format!("The sensitivity list lacks {list}, which the block reads."),
        format!("Add {list} to the list, or let the language complete it."),
    )
    .at(at)
    .help("In simulation the block would not react to a change there; hardware does.")
}

pub(crate) fn mixed_events(at: Span) -> Diagnostic {
    Diagnostic::new(
        "mixed-events",
        Severity::Stop,
        Stage::Structure,
        "This block waits for edges and for plain changes at once; no register does that.",
        "List only edges (`posedge`, `negedge`) for registers, or no edge at all for combinational logic.",
    )
    .at(at)
}

pub(crate) fn no_single_clock(count: usize, at: Span) -> Diagnostic {
    let message = if count == 0 {
        "None of the edges of this block is its clock: the block reads all of those signals."
    } else {
        "This block has more than one clock edge; a register has only one."
    };
    Diagnostic::new(
        "no-single-clock",
        Severity::Stop,
        Stage::Structure,
        message,
        "Let one signal be the clock and test the others as reset or enable inside the block.",
    )
    .at(at)
    .help("The clock is the edge whose signal the block doesn't test; the others are asynchronous set or reset.")
}

pub(crate) fn counts_at_control(name: &str, at: Span) -> Diagnostic {
    Diagnostic::new(
        "no-single-clock",
        Severity::Stop,
        Stage::Structure,
        format!("At the edge of `{name}` that it waits for, this block goes on from what it holds: that edge is a second clock."),
        format!("Wait for the other edge of `{name}`, or test `{name}` first for the level that this edge brings and set a constant there."),
    )
    .at(at)
    .help("An asynchronous set or reset gives a register a level of its own; the edge in the list has to bring the level that the block tests for.")
}

pub(crate) fn simulation_only(what: &str, at: Span) -> Diagnostic {
    Diagnostic::new(
        "simulation-only",
        Severity::Stop,
        Stage::Structure,
        format!("{what} works in simulation only; no hardware does this."),
        "Move it to the testbench, or describe the logic without it.",
    )
    .at(at)
}

pub(crate) fn delay_ignored(at: Span) -> Diagnostic {
    Diagnostic::new(
        "delay-ignored",
        Severity::Note,
        Stage::Structure,
        "The check ignores this delay: hardware has delays of its own.",
        "Leave delays to the testbench.",
    )
    .at(at)
}

pub(crate) fn endless_loop(at: Span) -> Diagnostic {
    Diagnostic::new(
        "endless-loop",
        Severity::Stop,
        Stage::Structure,
        "The end of this loop doesn't come, or depends on more than constants.",
        "Loop over constant bounds, so that each turn becomes hardware of its own.",
    )
    .at(at)
}

pub(crate) fn budget_exhausted(exhausted: Exhausted, at: Span) -> Diagnostic {
    Diagnostic::new(
        Code::BUDGET_EXHAUSTED,
        Severity::Stop,
        Stage::Structure,
        format!("The design needs more than the check's budget: {}.", exhausted.0),
        "Make vectors, loops or repeated instances smaller.",
    )
    .at(at)
}
