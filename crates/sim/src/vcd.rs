//! Value change dumps (IEEE 1364-2005 clause 18): writing a trace, and reading files of any tool.

use crate::record::Recording;
use crate::trace::{Change, Trace, TracedSignal};
use logic::{Level, LogicVector};
use rustc_hash::FxHashMap;
use std::fmt::Write as _;

/// A signal of a dump that was read.
pub type VcdSignal = TracedSignal;
/// A dump that was read.
pub type VcdTrace = Trace;

/// Why a dump can't be read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct VcdError {
    /// Line, from 1.
    pub line: usize,
    /// What is wrong and what to do, one sentence.
    pub message: String,
}

/// Short identifiers made of printable characters.
fn identifier(mut n: usize) -> String {
    let mut text = String::new();
    loop {
        text.push(char::from(b'!' + (n % 94) as u8));
        n /= 94;
        if n == 0 {
            return text;
        }
        n -= 1;
    }
}

/// The four characters of a dump.
fn sign(level: Level) -> char {
    match level {
        Level::Zero | Level::WeakZero => '0',
        Level::One | Level::WeakOne => '1',
        Level::HighZ => 'z',
        _ => 'x',
    }
}

fn put(out: &mut String, value: &LogicVector, id: &str) {
    if value.width() == 1 {
        let _ = writeln!(out, "{}{id}", sign(value.get(0)));
        return;
    }
    let text: String = value.bits().rev().map(sign).collect();
    // Leading bits that extension brings back are left out (clause 18.2.1).
    let first = text.chars().next().unwrap_or('0');
    let short = match first {
        '1' => text.as_str(),
        '0' => {
            let cut = text.trim_start_matches('0');
            if cut.is_empty() {
                "0"
            } else if cut.starts_with('1') {
                cut
            } else {
                &text[text.len() - cut.len() - 1..]
            }
        }
        other => {
            let cut = text.trim_start_matches(other);
            &text[text.len() - cut.len() - 1..]
        }
    };
    let _ = writeln!(out, "b{short} {id}");
}

/// A time unit of 1, 10 or 100 s … fs as a dump names it.
fn timescale(femtoseconds: u64) -> String {
    const UNITS: [(&str, u64); 6] = [
        ("s", 1_000_000_000_000_000),
        ("ms", 1_000_000_000_000),
        ("us", 1_000_000_000),
        ("ns", 1_000_000),
        ("ps", 1_000),
        ("fs", 1),
    ];
    let found = UNITS.into_iter().find(|(_, size)| femtoseconds.is_multiple_of(*size));
    found.map_or_else(|| "1 fs".into(), |(unit, size)| format!("{} {unit}", femtoseconds / size))
}

/// A trace as a value change dump.
pub fn write_vcd(trace: &Trace) -> String {
    // Times that the precision would round are kept by a finer one.
    let mut step = trace.precision.max(1);
    while step > 1 && trace.changes.iter().any(|c| !c.time.is_multiple_of(step)) {
        step = if step.is_multiple_of(1_000) { step / 1_000 } else { 1 };
    }
    let mut out = String::new();
    let _ = writeln!(out, "$timescale {} $end", timescale(step));
    let mut open: Vec<&str> = Vec::new();
    let mut order: Vec<usize> = (0..trace.signals.len()).collect();
    order.sort_by(|a, b| trace.signals[*a].scopes.cmp(&trace.signals[*b].scopes).then(a.cmp(b)));
    for i in order {
        let signal = &trace.signals[i];
        let same = open.iter().zip(&signal.scopes).take_while(|(a, b)| *a == b).count();
        for _ in same..open.len() {
            out.push_str("$upscope $end\n");
        }
        open.truncate(same);
        for scope in &signal.scopes[same..] {
            let _ = writeln!(out, "$scope module {} $end", scope.replace(char::is_whitespace, "_"));
            open.push(scope);
        }
        let range = if signal.range.is_empty() { String::new() } else { format!(" {}", signal.range) };
        let name = signal.name.replace(char::is_whitespace, "_");
        let _ = writeln!(out, "$var wire {} {} {name}{range} $end", signal.width, identifier(i));
    }
    for _ in &open {
        out.push_str("$upscope $end\n");
    }
    out.push_str("$enddefinitions $end\n#0\n$dumpvars\n");
    for (i, signal) in trace.signals.iter().enumerate() {
        put(&mut out, &signal.initial, &identifier(i));
    }
    out.push_str("$end\n");
    let mut now = 0;
    for change in &trace.changes {
        let time = change.time / step;
        if time != now {
            let _ = writeln!(out, "#{time}");
            now = time;
        }
        put(&mut out, &change.value, &identifier(change.signal as usize));
    }
    if trace.end / step > now {
        let _ = writeln!(out, "#{}", trace.end / step);
    }
    out
}

struct Words<'t> {
    text: &'t str,
    at: usize,
    line: usize,
}

impl<'t> Words<'t> {
    fn next(&mut self) -> Option<&'t str> {
        let bytes = &self.text.as_bytes()[self.at..];
        let is_blank = |b: &u8| *b <= b' ' && b.is_ascii_whitespace();
        let blanks = bytes.iter().take_while(|b| is_blank(b)).count();
        self.line += bytes[..blanks].iter().filter(|b| **b == b'\n').count();
        let length = bytes[blanks..].iter().take_while(|b| !is_blank(b)).count();
        let start = self.at + blanks;
        self.at = start + length;
        (length > 0).then(|| &self.text[start..self.at])
    }

    fn fault<T>(&self, message: impl Into<String>) -> Result<T, VcdError> {
        Err(VcdError { line: self.line, message: message.into() })
    }

    /// The words up to `$end`.
    fn until_end(&mut self, of: &str) -> Result<Vec<&'t str>, VcdError> {
        let line = self.line;
        let mut list = Vec::new();
        while let Some(word) = self.next() {
            if word == "$end" {
                return Ok(list);
            }
            list.push(word);
        }
        Err(VcdError { line, message: format!("The `{of}` section has no `$end`; the file seems to be cut off.") })
    }
}

fn femtoseconds(text: &str) -> Option<u64> {
    let digits: String = text.chars().take_while(char::is_ascii_digit).collect();
    let unit = text[digits.len()..].trim();
    let factor = match unit {
        "s" => 1_000_000_000_000_000,
        "ms" => 1_000_000_000_000,
        "us" => 1_000_000_000,
        "ns" => 1_000_000,
        "ps" => 1_000,
        "fs" => 1,
        _ => return None,
    };
    digits.parse::<u64>().ok()?.checked_mul(factor).filter(|n| *n > 0)
}

fn level(c: char) -> Option<Level> {
    Some(match c {
        '0' => Level::Zero,
        '1' => Level::One,
        'x' | 'X' | 'u' | 'U' | 'w' | 'W' | '-' => Level::Unknown,
        'z' | 'Z' => Level::HighZ,
        'l' | 'L' => Level::WeakZero,
        'h' | 'H' => Level::WeakOne,
        _ => return None,
    })
}

/// A dump with so many signals or changes is not read.
const MAX_SIGNALS: usize = 200_000;
const MAX_CHANGES: usize = 40_000_000;
/// Deepest scope, and most bits of all values together: a short file may name a great width again and again.
const MAX_DEPTH: usize = 200;
const MAX_BITS: usize = 1 << 30;

/// The signals behind each code; several names may share one. Codes of one and two characters, which most dumps do with,
/// are found without hashing.
struct Codes<'t> {
    short: Vec<u32>,
    long: FxHashMap<&'t str, u32>,
    signals: Vec<Vec<u32>>,
    /// Bits of each signal.
    widths: Vec<usize>,
}

impl<'t> Codes<'t> {
    const NONE: u32 = u32::MAX;

    fn new() -> Self {
        Self { short: vec![Self::NONE; 1 << 16], long: FxHashMap::default(), signals: Vec::new(), widths: Vec::new() }
    }

    fn place(code: &str) -> Option<usize> {
        match code.as_bytes() {
            [a] => Some(usize::from(*a)),
            [a, b] => Some(usize::from(*a) << 8 | usize::from(*b)),
            _ => None,
        }
    }

    fn insert(&mut self, code: &'t str, signal: u32) {
        let next = self.signals.len() as u32;
        let slot = match Self::place(code) {
            Some(place) => &mut self.short[place],
            None => self.long.entry(code).or_insert(Self::NONE),
        };
        if *slot == Self::NONE {
            *slot = next;
            self.signals.push(Vec::new());
        }
        self.signals[*slot as usize].push(signal);
    }

    fn get(&self, code: &str) -> &[u32] {
        let slot = match Self::place(code) {
            Some(place) => self.short[place],
            None => self.long.get(code).copied().unwrap_or(Self::NONE),
        };
        self.signals.get(slot as usize).map_or(&[], Vec::as_slice)
    }
}

/// Is the byte a level's sign?
fn is_level(sign: u8) -> bool {
    matches!(sign, b'0' | b'1' | b'x' | b'X' | b'z' | b'Z') || level(char::from(sign)).is_some()
}

/// Reads a dump.
///
/// # Errors
/// Line, what is wrong and what to do.
pub fn read_vcd(text: &str) -> Result<Trace, VcdError> {
    let mut words = Words { text, at: 0, line: 1 };
    let (mut trace, codes) = header(&mut words)?;
    trace.end = changes(&mut words, trace.precision, &codes, &mut |time, signal, levels| {
        let item = &mut trace.signals[signal as usize];
        let value = LogicVector::from_levels_msb(levels.chars().filter_map(level));
        // Shorter values are extended: 1 by 0, anything else by itself (clause 18.2.1).
        let top = value.get(value.width().saturating_sub(1));
        let value = value.resized(item.width, top.known().is_none());
        match time {
            None => item.initial = value,
            Some(time) => trace.changes.push(Change { time, signal, value }),
        }
    })?;
    Ok(trace)
}

/// The same as a compact recording, in one sweep.
///
/// # Errors
/// Line, what is wrong and what to do.
pub fn record_vcd(text: &str) -> Result<Recording, VcdError> {
    let mut words = Words { text, at: 0, line: 1 };
    let (trace, codes) = header(&mut words)?;
    let precision = trace.precision;
    let mut recording = Recording::new(trace);
    let end = changes(&mut words, precision, &codes, &mut |time, signal, levels| {
        recording.push(signal as usize, time.unwrap_or(0), levels);
    })?;
    recording.finish(end);
    Ok(recording)
}

/// Everything up to `$enddefinitions`.
fn header<'t>(words: &mut Words<'t>) -> Result<(Trace, Codes<'t>), VcdError> {
    let mut trace = Trace { precision: 1_000_000, ..Trace::default() };
    let mut scopes: Vec<String> = Vec::new();
    let mut codes = Codes::new();
    loop {
        let Some(word) = words.next() else {
            return words.fault("There is no `$enddefinitions`; this is no value change dump, or it is cut off.");
        };
        match word {
            "$timescale" => {
                let parts = words.until_end("$timescale")?.concat();
                match femtoseconds(&parts) {
                    Some(step) => trace.precision = step,
                    None => return words.fault(format!("`{parts}` is no time scale; write one such as `1 ns`.")),
                }
            }
            "$scope" => {
                let parts = words.until_end("$scope")?;
                if scopes.len() >= MAX_DEPTH {
                    return words.fault("Scopes are nested more than 200 deep; dump a smaller part.");
                }
                scopes.push(parts.get(1).copied().unwrap_or("scope").to_owned());
            }
            "$upscope" => {
                words.until_end("$upscope")?;
                scopes.pop();
            }
            "$var" => {
                let parts = words.until_end("$var")?;
                let [kind, width, code, name, range @ ..] = parts.as_slice() else {
                    return words.fault("A `$var` needs a kind, a width, a code and a name.");
                };
                let width: Option<u32> = width.parse().ok().filter(|w| (1..=1_000_000).contains(w));
                let Some(width) = width else {
                    return words.fault(format!("The width of `{name}` is no number from 1 to 1,000,000."));
                };
                if trace.signals.len() >= MAX_SIGNALS {
                    return words.fault("There are more than 200,000 signals; dump fewer.");
                }
                if *kind == "real" || *kind == "event" {
                    continue;
                }
                let (name, own) = match name.split_once('[') {
                    Some((name, rest)) => (name, format!("[{rest}")),
                    None => (*name, String::new()),
                };
                let range = if range.is_empty() { own } else { range.concat() };
                codes.insert(code, trace.signals.len() as u32);
                codes.widths.push(width as usize);
                trace.signals.push(TracedSignal {
                    scopes: scopes.clone(),
                    name: name.to_owned(),
                    range,
                    width,
                    literals: Vec::new(),
                    initial: LogicVector::filled(width, Level::Unknown),
                });
            }
            "$enddefinitions" => {
                words.until_end("$enddefinitions")?;
                break;
            }
            other if other.starts_with('$') => {
                words.until_end(other)?;
            }
            other => {
                return words
                    .fault(format!("`{other}` stands before `$enddefinitions`; this is no value change dump."));
            }
        }
    }
    Ok((trace, codes))
}

/// The changes; `sink` is given the time (none for what holds before anything happened), the signal and its levels as
/// characters, the most significant first. The time at the end.
fn changes(
    words: &mut Words<'_>,
    precision: u64,
    codes: &Codes<'_>,
    sink: &mut impl FnMut(Option<u64>, u32, &str),
) -> Result<u64, VcdError> {
    let mut now = 0u64;
    let (mut count, mut bits) = (0usize, 0usize);
    let mut before_time = true;
    while let Some(word) = words.next() {
        let (value, code) = match word.as_bytes()[0] {
            b'#' => {
                let Some(time) = word[1..].parse::<u64>().ok().and_then(|t| t.checked_mul(precision)) else {
                    return words.fault(format!("`{word}` is no time, or one past five hours."));
                };
                if time < now {
                    return words.fault(format!("The time `{word}` lies before the one above it."));
                }
                before_time &= time == 0;
                now = time;
                continue;
            }
            b'$' => {
                if word == "$comment" {
                    words.until_end("$comment")?;
                }
                continue;
            }
            b'b' | b'B' => {
                if word.len() == 1 || !word.as_bytes()[1..].iter().all(|b| is_level(*b)) {
                    return words.fault(format!("`{word}` is no vector of 0, 1, x and z."));
                }
                let Some(code) = words.next() else { return words.fault("A value at the end has no code.") };
                (&word[1..], code)
            }
            b'r' | b'R' | b's' | b'S' => {
                words.next();
                continue;
            }
            first if is_level(first) => word.split_at(1),
            _ => return words.fault(format!("`{word}` is no change of a value.")),
        };
        // Codes of reals and events are passed over with their values.
        for signal in codes.get(code) {
            let time = if before_time && now == 0 && count == 0 { None } else { Some(now) };
            if time.is_some() {
                count += 1;
            }
            bits += codes.widths[*signal as usize];
            if bits > MAX_BITS {
                return words.fault("The values take more than 2^30 bits; dump a shorter time or narrower signals.");
            }
            if count > MAX_CHANGES {
                return words.fault("There are more than 40 million changes; dump a shorter time.");
            }
            sink(time, *signal, value);
        }
    }
    Ok(now)
}
