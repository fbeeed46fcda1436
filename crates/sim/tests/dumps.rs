//! Random recordings through every way out and back: dumps, windows, edges, tables, JSON and pictures, each against the plain
//! list of changes; and dumps that are broken in every place.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Random;
use logic::{Level, LogicVector};
use sim::{Change, Trace, TracedSignal, read_vcd, record_vcd, trace_csv, trace_json, trace_svg, write_vcd};

const STEP: u64 = 1_000;

fn levels(random: &mut Random, width: u32) -> LogicVector {
    LogicVector::from_levels_msb((0..width).map(|_| {
        [Level::Zero, Level::One, Level::Zero, Level::One, Level::Unknown, Level::from_char('Z').unwrap()]
            [random.below(6)]
    }))
}

/// Signals of several widths and scopes that change at random; every change is one.
fn recording(seed: u64) -> Trace {
    let mut random = Random::new(seed);
    let widths = [1, 4, 1, 8, 13, 1, 64, 70];
    let signals: Vec<TracedSignal> = widths
        .iter()
        .enumerate()
        .map(|(i, width)| TracedSignal {
            scopes: [vec!["packhouse"], vec!["packhouse", "belt"], vec!["packhouse", "belt", "eye"]][i % 3]
                .iter()
                .map(|s| (*s).to_owned())
                .collect(),
            name: format!("n{i}"),
            range: if *width == 1 { String::new() } else { format!("[{}:0]", width - 1) },
            width: *width,
            literals: Vec::new(),
            initial: levels(&mut random, *width),
        })
        .collect();
    let mut now: Vec<LogicVector> = signals.iter().map(|s| s.initial.clone()).collect();
    let mut changes = Vec::new();
    let mut time = 0;
    for _ in 0..300 {
        time += STEP * (1 + random.below(20) as u64);
        for (i, signal) in signals.iter().enumerate() {
            let next = levels(&mut random, signal.width);
            if random.below(3) == 0 && next != now[i] {
                now[i] = next.clone();
                changes.push(Change { time, signal: i as u32, value: next });
            }
        }
    }
    Trace { precision: STEP, signals, changes, end: time + 10 * STEP, cut: false }
}

/// What a signal is at a time.
fn level_at(trace: &Trace, signal: u32, time: u64) -> String {
    let last = trace.changes.iter().rfind(|c| c.signal == signal && c.time <= time);
    last.map_or(&trace.signals[signal as usize].initial, |c| &c.value).to_string()
}

/// In the order of the file's hierarchy signals may stand elsewhere than in the list.
fn number(trace: &Trace, name: &str) -> u32 {
    trace.signals.iter().position(|s| s.name == name).unwrap() as u32
}

#[test]
fn a_dump_reads_back_as_what_was_written() {
    for seed in 0..12 {
        let trace = recording(seed);
        let again = read_vcd(&write_vcd(&trace)).unwrap();
        assert_eq!((again.end, again.precision), (trace.end, trace.precision));
        for (i, signal) in trace.signals.iter().enumerate() {
            let k = number(&again, &signal.name);
            let found = &again.signals[k as usize];
            assert_eq!((&found.scopes, &found.range, found.width), (&signal.scopes, &signal.range, signal.width));
            assert_eq!(found.initial, signal.initial);
            let list = |trace: &Trace, at: u32| -> Vec<(u64, String)> {
                let all = trace.changes.iter().filter(|c| c.signal == at);
                all.map(|c| (c.time, c.value.to_string())).collect()
            };
            assert_eq!(list(&again, k), list(&trace, i as u32), "seed {seed} {}", signal.name);
        }
    }
}

#[test]
fn a_window_shows_what_stands_at_the_end_of_each_column() {
    for seed in 0..6 {
        let trace = recording(100 + seed);
        let kept = record_vcd(&write_vcd(&trace)).unwrap();
        let mut random = Random::new(seed);
        for _ in 0..60 {
            let signal = random.below(trace.signals.len()) as u32;
            let at = kept.signals.iter().position(|s| s.name == trace.signals[signal as usize].name).unwrap();
            let from = random.below(trace.end as usize) as u64;
            let to = from + 1 + random.below((trace.end - from) as usize + 1) as u64;
            let columns = 1 + random.below(40) as u32;
            let window = kept.window(at, from, to, columns);
            assert!(window.times.len() <= columns as usize + 2, "more changes than columns");
            assert_eq!(window.times.len(), window.values.len());
            assert!(window.times.is_sorted_by(|a, b| a < b));
            // The first one is what stands at the left edge.
            assert!(window.times.first().is_some_and(|t| *t <= from));
            let column = (to - from).div_ceil(u64::from(columns)).max(1);
            for (i, value) in window.values.iter().enumerate() {
                let start = window.times[i].max(from);
                let next = window.times.get(i + 1).copied().unwrap_or(u64::MAX);
                assert!(next >= start.saturating_add(column) || next == u64::MAX, "two in one column");
                assert_eq!(*value, level_at(&trace, signal, start + column - 1), "seed {seed}");
            }
            // With a column for every step nothing is left out.
            let all = kept.window(at, 0, trace.end, (trace.end / STEP) as u32);
            let wanted: Vec<u64> = trace.changes.iter().filter(|c| c.signal == signal).map(|c| c.time).collect();
            assert_eq!(all.times[1..], wanted[..], "seed {seed}");
        }
    }
}

#[test]
fn the_next_and_the_last_edge_are_those_of_the_list() {
    let trace = recording(7);
    let kept = record_vcd(&write_vcd(&trace)).unwrap();
    let mut random = Random::new(3);
    for _ in 0..400 {
        let signal = random.below(trace.signals.len()) as u32;
        let at = kept.signals.iter().position(|s| s.name == trace.signals[signal as usize].name).unwrap();
        let time = random.below(trace.end as usize) as u64;
        let times: Vec<u64> =
            std::iter::once(0).chain(trace.changes.iter().filter(|c| c.signal == signal).map(|c| c.time)).collect();
        let next = times.iter().copied().find(|t| *t > time).unwrap_or(time);
        let last = times.iter().copied().rfind(|t| *t < time).unwrap_or(time);
        assert_eq!((kept.edge(at, time, true), kept.edge(at, time, false)), (next, last), "{time}");
    }
    assert_eq!(kept.edge(999, 5, true), 5, "a signal that is not there has no edges");
}

#[test]
fn a_table_has_a_line_for_each_time_with_all_levels() {
    let trace = recording(8);
    let text = trace_csv(&trace);
    let mut lines = text.lines();
    let head: Vec<&str> = lines.next().unwrap().split(',').collect();
    assert_eq!((head[0], head[1], head[2]), ("time_ns", "packhouse.n0", "packhouse.belt.n1[3:0]"));
    let mut times: Vec<u64> = std::iter::once(0).chain(trace.changes.iter().map(|c| c.time)).collect();
    times.dedup();
    let rows: Vec<Vec<&str>> = lines.map(|l| l.split(',').collect()).collect();
    assert_eq!(rows.len(), times.len());
    for (row, time) in rows.iter().zip(&times) {
        let nanoseconds: f64 = row[0].parse().unwrap();
        assert!((nanoseconds * 1e6 - *time as f64).abs() < 0.5, "{} for {time}", row[0]);
        for (i, cell) in row[1..].iter().enumerate() {
            assert!(cell.eq_ignore_ascii_case(&level_at(&trace, i as u32, *time)), "{cell} at {time}");
        }
    }
}

#[test]
fn json_holds_every_change_and_is_json() {
    let trace = recording(9);
    let value: serde_json::Value = serde_json::from_str(&trace_json(&trace)).unwrap();
    let signals = value["signals"].as_array().unwrap();
    assert_eq!(signals.len(), trace.signals.len());
    for (i, signal) in signals.iter().enumerate() {
        let changes = signal["changes"].as_array().unwrap();
        let wanted = trace.changes.iter().filter(|c| c.signal as usize == i).count();
        assert_eq!(changes.len(), wanted + 1, "{signal}");
        for change in changes {
            let (time, level) = (change[0].as_u64().unwrap(), change[1].as_str().unwrap());
            assert!(level.eq_ignore_ascii_case(&level_at(&trace, i as u32, time)));
        }
    }
}

#[test]
fn a_picture_is_well_formed_and_names_every_signal() {
    let text = trace_svg(&recording(10));
    assert!(text.starts_with("<svg") && text.trim_end().ends_with("</svg>"));
    for i in 0..8 {
        assert!(text.contains(&format!("n{i}")), "n{i}");
    }
    // Every element that is opened is closed, in order.
    let mut open = Vec::new();
    for part in text.split('<').skip(1) {
        let (tag, _) = part.split_once('>').unwrap();
        if let Some(name) = tag.strip_prefix('/') {
            assert_eq!(open.pop(), Some(name.to_owned()));
        } else if !tag.ends_with('/') && !tag.starts_with('?') && !tag.starts_with('!') {
            open.push(tag.split_whitespace().next().unwrap().to_owned());
        }
    }
    assert!(open.is_empty(), "{open:?}");
}

#[test]
fn a_dump_cut_anywhere_is_told_or_read_as_far_as_it_goes() {
    let trace = recording(11);
    let text = write_vcd(&trace);
    let mut random = Random::new(1);
    let (mut read, mut told) = (0, 0);
    for _ in 0..300 {
        let cut = random.below(text.len());
        match read_vcd(&text[..cut]) {
            Ok(found) => {
                read += 1;
                assert!(found.end <= trace.end && found.changes.len() <= trace.changes.len());
            }
            Err(fault) => {
                told += 1;
                assert!(fault.line <= text[..cut].lines().count().max(1), "{fault:?}");
                assert!(fault.message.len() > 15, "{fault:?}");
            }
        }
        // A word gone or another letter in its place.
        let at = random.below(text.len() - 1);
        let mut spoilt = text.clone().into_bytes();
        spoilt[at] = b"x 0#$bz!\n"[random.below(9)];
        let _ = read_vcd(&String::from_utf8(spoilt).unwrap());
    }
    assert!(read > 20 && told > 100, "{read} {told}");
}

#[test]
fn values_shorter_than_their_signal_are_filled_as_the_standard_says() {
    // IEEE 1364-2005 18.2.1: 1 and 0 are filled with 0, x with x, z with z.
    let dump =
        |value: &str| format!("$timescale 1ns $end $var reg 6 ! word $end $enddefinitions $end #0 b{value} ! #5");
    for (value, wanted) in
        [("1", "000001"), ("0", "000000"), ("x", "XXXXXX"), ("z1", "ZZZZZ1"), ("x01", "XXXX01"), ("10", "000010")]
    {
        let trace = read_vcd(&dump(value)).unwrap();
        assert_eq!(level_at(&trace, 0, 0), wanted, "{value}");
        let kept = record_vcd(&dump(value)).unwrap();
        assert_eq!(kept.window(0, 0, trace.end, 10).values.last().unwrap(), wanted, "{value}");
    }
}
