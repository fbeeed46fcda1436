//! Any text as an image for a board; what is accepted is built: it is read or refused within its budget, without a panic.
#![no_main]

libfuzzer_sys::fuzz_target!(|text: &str| {
    let _ = board::Image::from_json(text).map(|image| drop(image.netlist()));
});
