//! A trace as a table, as data and as a picture.

use crate::trace::{Trace, TracedSignal};
use logic::LogicVector;
use std::fmt::Write as _;

/// Lanes of a picture; further signals are left out.
const MAX_LANES: usize = 64;
/// Steps of a lane that are drawn one by one.
const MAX_STEPS: usize = 4_000;
const LANE: u32 = 30;
const NAMES: u32 = 200;
const WAVES: u32 = 1_000;

/// `bench.dut.count`
fn path(signal: &TracedSignal) -> String {
    let mut parts: Vec<&str> = signal.scopes.iter().map(String::as_str).collect();
    parts.push(&signal.name);
    parts.join(".")
}

fn bits(value: &LogicVector) -> String {
    value.to_string()
}

/// Nanoseconds without needless zeros.
fn nanoseconds(femtoseconds: u64) -> String {
    let (whole, rest) = (femtoseconds / 1_000_000, femtoseconds % 1_000_000);
    if rest == 0 { whole.to_string() } else { format!("{whole}.{rest:06}").trim_end_matches('0').to_owned() }
}

/// A table for spreadsheets: the time in nanoseconds and the level of every signal, a line for each time at which
/// something changes.
pub fn trace_csv(trace: &Trace) -> String {
    let field = |text: &str| {
        if text.contains([',', '"']) { format!("\"{}\"", text.replace('"', "\"\"")) } else { text.to_owned() }
    };
    let mut out = String::from("time_ns");
    for signal in &trace.signals {
        let _ = write!(out, ",{}", field(&format!("{}{}", path(signal), signal.range)));
    }
    out.push('\n');
    let mut levels: Vec<String> = trace.signals.iter().map(|s| bits(&s.initial)).collect();
    let mut at = 0;
    let mut time = 0;
    loop {
        while let Some(change) = trace.changes.get(at).filter(|c| c.time <= time) {
            if let Some(level) = levels.get_mut(change.signal as usize) {
                *level = bits(&change.value);
            }
            at += 1;
        }
        let _ = writeln!(out, "{},{}", nanoseconds(time), levels.join(","));
        match trace.changes.get(at) {
            Some(next) => time = next.time,
            None => return out,
        }
    }
}

fn quoted(text: &str) -> String {
    serde_json::Value::from(text).to_string()
}

/// The trace as a JSON object: times in femtoseconds, levels as bits, the most significant first.
pub fn trace_json(trace: &Trace) -> String {
    let mut lists: Vec<Vec<String>> =
        trace.signals.iter().map(|s| vec![format!("[0,{}]", quoted(&bits(&s.initial)))]).collect();
    for change in &trace.changes {
        if let Some(list) = lists.get_mut(change.signal as usize) {
            list.push(format!("[{},{}]", change.time, quoted(&bits(&change.value))));
        }
    }
    let signals: Vec<String> = trace
        .signals
        .iter()
        .zip(lists)
        .map(|(s, list)| {
            format!(
                "{{\"path\":{},\"range\":{},\"width\":{},\"changes\":[{}]}}",
                quoted(&path(s)),
                quoted(&s.range),
                s.width,
                list.join(",")
            )
        })
        .collect();
    format!(
        "{{\"format\":\"zesty-gate/waves/1\",\"precision_fs\":{},\"end_fs\":{},\"signals\":[\n{}\n]}}\n",
        trace.precision,
        trace.end,
        signals.join(",\n")
    )
}

/// What stands in a vector's lane: a number where all bits are known, nothing where none is demanded.
fn shown(value: &str) -> String {
    if value.chars().all(|c| c == '-') {
        return String::new();
    }
    match (value.len(), u64::from_str_radix(value, 2)) {
        (..=64, Ok(number)) => number.to_string(),
        _ => value.to_owned(),
    }
}

/// A lane of a picture.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct PictureLane {
    /// What stands beside it.
    pub title: String,
    /// When it changed, in femtoseconds.
    pub times: Vec<u64>,
    /// What it became: levels, the most significant first; `-` where nothing is demanded.
    pub values: Vec<String>,
    /// Stretches that are hatched because they differ from what is demanded.
    pub differs: Vec<(u64, u64)>,
}

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;")
}

/// A picture of the waves: high levels filled, vectors as numbers, the time axis in nanoseconds.
pub fn trace_svg(trace: &Trace) -> String {
    let mut lanes: Vec<PictureLane> = trace
        .signals
        .iter()
        .take(MAX_LANES)
        .map(|signal| PictureLane {
            title: format!("{}{}", path(signal), signal.range),
            times: vec![0],
            values: vec![bits(&signal.initial)],
            differs: Vec::new(),
        })
        .collect();
    for change in &trace.changes {
        let Some(lane) = lanes.get_mut(change.signal as usize).filter(|l| l.times.len() < MAX_STEPS) else { continue };
        if lane.times.last() == Some(&change.time) {
            lane.times.pop();
            lane.values.pop();
        }
        lane.times.push(change.time);
        lane.values.push(bits(&change.value));
    }
    picture_svg(&lanes, trace.end.max(trace.changes.last().map_or(0, |c| c.time)))
}

/// A picture of lanes up to a time in femtoseconds; further lanes and steps than can be told apart are left out.
pub fn picture_svg(lanes: &[PictureLane], end: u64) -> String {
    let end = end.max(1);
    let lanes = &lanes[..lanes.len().min(MAX_LANES)];
    let x = |time: u64| f64::from(NAMES) + time.min(end) as f64 / end as f64 * f64::from(WAVES);
    let height = (lanes.len() as u32 + 1) * LANE + 10;
    let mut out = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {w} {height}\" width=\"{w}\" height=\"{height}\" \
         font-family=\"monospace\" font-size=\"12\">\n<defs><pattern id=\"differs\" width=\"6\" height=\"6\" \
         patternUnits=\"userSpaceOnUse\"><path d=\"M0 0L6 6M5 -1L7 1M-1 5L1 7\" stroke=\"#b23c17\" stroke-width=\"1.2\"/>\
         </pattern></defs>\n<rect width=\"100%\" height=\"100%\" fill=\"#fffefa\"/>\n",
        w = NAMES + WAVES + 10
    );
    for step in 0..=8u64 {
        let time = (u128::from(end) * u128::from(step) / 8) as u64;
        let _ = writeln!(
            out,
            "<line x1=\"{x:.1}\" y1=\"20\" x2=\"{x:.1}\" y2=\"{height}\" stroke=\"#d8ccb4\"/><text x=\"{x:.1}\" y=\"14\" \
             text-anchor=\"{anchor}\" fill=\"#5c554a\">{} ns</text>",
            nanoseconds(time),
            x = x(time),
            anchor = if step == 8 { "end" } else { "start" }
        );
    }
    for (number, lane) in lanes.iter().enumerate() {
        let top = (number as u32 + 1) * LANE;
        let title = escaped(&lane.title);
        let _ = writeln!(out, "<text x=\"6\" y=\"{}\" fill=\"#221d16\">{title}</text>", top + 18);
        let hatching: String = lane
            .differs
            .iter()
            .take(MAX_STEPS)
            .map(|(from, to)| {
                let (left, width) = (x(*from), (x(*to) - x(*from)).max(1.0));
                let y = top + 5;
                format!("<rect x=\"{left:.1}\" y=\"{y}\" width=\"{width:.1}\" height=\"20\" fill=\"url(#differs)\"/>\n")
            })
            .collect();
        // Words stay readable over the hatching, levels lie under it.
        let has_words = lane.values.first().is_some_and(|v| v.len() > 1);
        if has_words {
            out.push_str(&hatching);
        }
        for (i, (from, value)) in lane.times.iter().zip(&lane.values).take(MAX_STEPS).enumerate() {
            let to = lane.times.get(i + 1).copied().unwrap_or(end);
            if *from < end {
                lane_piece(&mut out, (x(*from), x(to)), f64::from(top), value);
            }
        }
        if !has_words {
            out.push_str(&hatching);
        }
    }
    out.push_str("</svg>\n");
    out
}

fn lane_piece(out: &mut String, (left, right): (f64, f64), top: f64, value: &str) {
    let (high, low) = (top + 5.0, top + 25.0);
    let width = (right - left).max(0.0);
    let _ = match value {
        "1" | "H" => writeln!(
            out,
            "<rect x=\"{left:.1}\" y=\"{high}\" width=\"{width:.1}\" height=\"20\" fill=\"#fdebc0\"/>\
             <path d=\"M{left:.1} {low}V{high}H{right:.1}V{low}\" fill=\"none\" stroke=\"#a86b00\"/>"
        ),
        "-" => writeln!(
            out,
            "<path d=\"M{left:.1} {}H{right:.1}\" stroke=\"#9b9079\" stroke-dasharray=\"2 3\"/>",
            (high + low) / 2.0
        ),
        "0" | "L" => writeln!(out, "<path d=\"M{left:.1} {low}H{right:.1}\" stroke=\"#221d16\"/>"),
        _ => {
            let text = escaped(&shown(value));
            let fits = width > 7.5 * text.len() as f64;
            let label = if fits {
                format!("<text x=\"{:.1}\" y=\"{}\">{text}</text>", left + 4.0, top + 19.0)
            } else {
                String::new()
            };
            writeln!(
                out,
                "<rect x=\"{left:.1}\" y=\"{high}\" width=\"{width:.1}\" height=\"20\" fill=\"none\" stroke=\"#221d16\"/>{label}"
            )
        }
    };
}
