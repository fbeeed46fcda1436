//! Any text as a board: it is read or refused within its budget, without a panic.
#![no_main]

libfuzzer_sys::fuzz_target!(|text: &str| {
    let _ = board::Board::from_json(text);
});
