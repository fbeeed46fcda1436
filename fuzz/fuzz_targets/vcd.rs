//! Any text as a value change dump: it is read or refused within its budget, without a panic.
#![no_main]

libfuzzer_sys::fuzz_target!(|text: &str| {
    let _ = sim::read_vcd(text);
});
