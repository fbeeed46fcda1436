//! Any text as an exercise file, and as the form that it is edited in: it is read or refused within its budget, without a panic.
#![no_main]

libfuzzer_sys::fuzz_target!(|text: &str| {
    let _ = exercise::Exercise::alone(text);
    let _ = exercise::ExerciseForm::read(text);
});
