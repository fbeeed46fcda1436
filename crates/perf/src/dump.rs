//! Dumps of ten million changes: opening one, and asking for what a page shows of it.

use crate::{measure, note_peak, report};
use anyhow::{Result, anyhow};
use std::fmt::Write as _;
use std::hint::black_box;

/// Sixty-four signals, half of them single bits, that change in turn until there are so many changes.
fn dump(changes: usize) -> String {
    let mut text = String::from("$timescale 1 ns $end\n$scope module packhouse $end\n");
    for i in 0..64 {
        let width = if i % 2 == 0 { 1 } else { 8 };
        let _ = writeln!(text, "$var wire {width} {} lane{i} $end", char::from(b'!' + i));
    }
    text.push_str("$upscope $end\n$enddefinitions $end\n");
    let mut state = 1u64;
    for n in 0..changes {
        if n % 4 == 0 {
            let _ = writeln!(text, "#{}", n / 4 * 5);
        }
        state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        let signal = (state >> 58) as u8;
        let code = char::from(b'!' + signal);
        if signal.is_multiple_of(2) {
            let _ = writeln!(text, "{}{code}", state >> 40 & 1);
        } else {
            let _ = writeln!(text, "b{:b} {code}", state >> 32 & 255);
        }
    }
    text
}

pub(crate) fn run() -> Result<()> {
    let text = dump(10_000_000);
    let open = || sim::record_vcd(&text).map_err(|e| anyhow!("line {}: {}", e.line, e.message));
    let recording = open()?;
    let mut times = measure(5, || open().map(|r| drop(black_box(r))))?;
    report(&format!("opening a dump of 10,000,000 changes ({} MiB)", text.len() >> 20), 2_000.0, &mut times);
    note_peak("  with the dump itself in memory", 600);
    // A page shows 40 lanes on 1,200 columns: the whole run, and steps through closer and closer stretches.
    let mut at = 0u64;
    let mut times = measure(200, || {
        at = at.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        let span = recording.end >> (at >> 60);
        let from = (at >> 8) % (recording.end - span + 1);
        for signal in 0..40 {
            black_box(recording.window(signal, from, from + span, 1_200));
        }
        Ok(())
    })?;
    report("a window of 40 lanes by 1,200 columns of it", 30.0, &mut times);
    Ok(())
}
