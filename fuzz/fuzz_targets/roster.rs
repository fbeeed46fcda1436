//! Any text as a roster: it is read or refused within its budget, without a panic.
#![no_main]

libfuzzer_sys::fuzz_target!(|text: &str| {
    let _ = course::read_roster(text.as_bytes());
});
