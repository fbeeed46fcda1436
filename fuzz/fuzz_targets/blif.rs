//! Any text as a netlist: it is read or refused within its budget, without a panic.
#![no_main]

use base::Budget;

libfuzzer_sys::fuzz_target!(|text: &str| {
    let _ = design::read_blif(text, None, &mut Budget::hand_in().with_steps(2_000_000));
});
