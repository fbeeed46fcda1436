//! Any text as a table of product terms: it is read or refused within its budget, without a panic.
#![no_main]

libfuzzer_sys::fuzz_target!(|text: &str| {
    let _ = logic::parse_pla(text);
});
