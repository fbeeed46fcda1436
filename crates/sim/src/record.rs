//! Waves kept small and asked for by the window: the changes of each signal alone, found by halving, and never more of
//! them than there are columns to draw in.

use crate::trace::{Trace, TracedSignal};

/// What a signal did. A value takes four bits a level, rounded up to a byte.
#[derive(Clone, Debug, Default)]
struct Lane {
    times: Vec<u64>,
    levels: Vec<u8>,
}

/// Recorded waves.
#[derive(Clone, Debug)]
pub struct Recording {
    /// The signals.
    pub signals: Vec<TracedSignal>,
    /// When the recording ended, in femtoseconds.
    pub end: u64,
    lanes: Vec<Lane>,
}

/// A stretch of a signal as it is drawn.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct WindowLane {
    /// When it changed, in femtoseconds; the first one may lie before the window.
    pub times: Vec<u64>,
    /// What it became: levels, the most significant first.
    pub values: Vec<String>,
}

const LEVELS: &[u8; 16] = b"UX01ZWLH-XXXXXXX";

fn nibble(level: u8) -> u8 {
    match level {
        b'0' => 2,
        b'1' => 3,
        b'z' | b'Z' => 4,
        b'l' | b'L' => 6,
        b'h' | b'H' => 7,
        _ => 1,
    }
}

impl Recording {
    /// An empty one of these signals; their levels are unknown at first.
    pub(crate) fn new(trace: Trace) -> Self {
        let lanes = vec![Lane::default(); trace.signals.len()];
        Self { signals: trace.signals, end: trace.end, lanes }
    }

    /// A change, in the order of time. Of several at one time the last one counts.
    pub(crate) fn push(&mut self, signal: usize, time: u64, levels: &str) {
        let width = self.signals[signal].width as usize;
        let lane = &mut self.lanes[signal];
        let size = width.div_ceil(2);
        if lane.times.last() == Some(&time) {
            lane.levels.truncate(lane.levels.len() - size);
        } else {
            lane.times.push(time);
        }
        let bytes = levels.as_bytes();
        if width == 1 {
            lane.levels.push(nibble(bytes[bytes.len() - 1]) << 4);
            return;
        }
        // Shorter values are extended: 1 by 0, anything else by itself (IEEE 1364-2005 clause 18.2.1).
        let filled = if bytes[0] == b'1' { 2 } else { nibble(bytes[0]) };
        let at = |i: usize| match (i + bytes.len()).checked_sub(width) {
            Some(k) => nibble(bytes[k]),
            None => filled,
        };
        if bytes.len() >= width && width.is_multiple_of(2) {
            let pairs = bytes[bytes.len() - width..].chunks_exact(2);
            lane.levels.extend(pairs.map(|p| nibble(p[0]) << 4 | nibble(p[1])));
            return;
        }
        for i in (0..width).step_by(2) {
            let low = if i + 1 < width { at(i + 1) } else { 0 };
            lane.levels.push(at(i) << 4 | low);
        }
    }

    pub(crate) fn finish(&mut self, end: u64) {
        self.end = end;
        for (lane, signal) in self.lanes.iter_mut().zip(&self.signals) {
            if lane.times.first() != Some(&0) {
                lane.times.insert(0, 0);
                let size = (signal.width as usize).div_ceil(2);
                lane.levels.splice(0..0, std::iter::repeat_n(0x11, size));
            }
            lane.times.shrink_to_fit();
            lane.levels.shrink_to_fit();
        }
    }

    /// How many changes are kept.
    pub fn changes(&self) -> usize {
        self.lanes.iter().map(|l| l.times.len()).sum()
    }

    /// Bytes that times and levels take.
    pub fn bytes(&self) -> usize {
        self.lanes.iter().map(|l| l.times.len() * 8 + l.levels.len()).sum()
    }

    fn value(&self, signal: usize, index: usize) -> String {
        let width = self.signals[signal].width as usize;
        let size = width.div_ceil(2);
        let bytes = &self.lanes[signal].levels[index * size..(index + 1) * size];
        let level = |i: usize| {
            let byte = bytes[i / 2];
            char::from(LEVELS[usize::from(if i.is_multiple_of(2) { byte >> 4 } else { byte & 15 })])
        };
        (0..width).map(level).collect()
    }

    /// What a signal does between two times, at most one change in each of so many columns: the last one of a column
    /// stands for it. An unknown signal does nothing.
    pub fn window(&self, signal: usize, from: u64, to: u64, columns: u32) -> WindowLane {
        let Some(lane) = self.lanes.get(signal) else { return WindowLane::default() };
        let column = to.saturating_sub(from).div_ceil(u64::from(columns.max(1))).max(1);
        let mut found = WindowLane::default();
        let mut index = lane.times.partition_point(|t| *t <= from).saturating_sub(1);
        while let Some(time) = lane.times.get(index).copied().filter(|t| *t <= to) {
            let end = time.max(from).saturating_add(column);
            // The end of the column is near: steps that double until they are past it, then halving.
            let rest = &lane.times[index + 1..];
            let mut reach = 1;
            while rest.get(reach - 1).is_some_and(|t| *t < end) {
                reach *= 2;
            }
            let near = &rest[reach / 2..rest.len().min(reach)];
            let next = index + 1 + reach / 2 + near.partition_point(|t| *t < end);
            found.times.push(time);
            found.values.push(self.value(signal, next - 1));
            index = next;
        }
        found
    }

    /// The next change of a signal after a time, or the last one before it; the time itself when there is none.
    pub fn edge(&self, signal: usize, time: u64, forward: bool) -> u64 {
        let Some(lane) = self.lanes.get(signal) else { return time };
        if forward {
            lane.times.get(lane.times.partition_point(|t| *t <= time)).copied().unwrap_or(time)
        } else {
            lane.times.partition_point(|t| *t < time).checked_sub(1).map_or(time, |i| lane.times[i])
        }
    }
}

#[cfg(test)]
mod tests {
    use crate::{read_vcd, record_vcd};

    const DUMP: &str = "$timescale 1 ns $end\n$scope module top $end\n$var wire 1 ! clk $end\n\
        $var wire 5 \" count [4:0] $end\n$var wire 1 # late $end\n$upscope $end\n$enddefinitions $end\n\
        #0\n$dumpvars\n0!\nbx \"\n$end\n#5\n1!\nb1 \"\n#10\n0!\n#15\n1!\nb1z0 \"\n1#\n#20\n0!\n#100\n";

    #[test]
    fn a_recording_says_what_the_trace_says() {
        let (trace, recording) = (read_vcd(DUMP).unwrap(), record_vcd(DUMP).unwrap());
        assert_eq!(recording.end, trace.end);
        for (i, signal) in trace.signals.iter().enumerate() {
            let found = recording.window(i, 0, trace.end, 1_000_000);
            let changes = trace.changes.iter().filter(|c| c.signal as usize == i);
            let times: Vec<u64> = std::iter::once(0).chain(changes.clone().map(|c| c.time)).collect();
            let values: Vec<String> =
                std::iter::once(signal.initial.to_string()).chain(changes.map(|c| c.value.to_string())).collect();
            assert_eq!((found.times, found.values), (times, values), "{}", signal.name);
        }
    }

    #[test]
    fn a_window_begins_with_what_holds_and_has_one_change_a_column() {
        let recording = record_vcd(DUMP).unwrap();
        let ns = 1_000_000;
        let clock = recording.window(0, 7 * ns, 16 * ns, 100);
        assert_eq!(clock.times, [5 * ns, 10 * ns, 15 * ns]);
        assert_eq!(clock.values, ["1", "0", "1"]);
        let coarse = recording.window(0, 0, 100 * ns, 2);
        assert_eq!(
            (coarse.times, coarse.values),
            (vec![0], vec!["0".to_owned()]),
            "the last change of a column counts"
        );
        assert_eq!(recording.window(1, 15 * ns, 16 * ns, 10).values, ["001Z0"], "1 is extended by 0");
        assert_eq!(recording.window(9, 0, 1, 1).times, [0u64; 0]);
    }

    #[test]
    fn short_files_that_would_fill_the_memory_are_refused() {
        let wide = "$timescale 1 ns $end\n$var wire 1000000 ! w $end\n$enddefinitions $end\n#1\n".to_owned();
        let told = record_vcd(&(wide + &"b1 !\n".repeat(2_000))).unwrap_err();
        assert!(told.message.contains("more than 2^30 bits"), "{}", told.message);
        let told = record_vcd(&"$scope module a $end\n".repeat(300)).unwrap_err();
        assert_eq!((told.line, told.message.contains("200 deep")), (201, true));
    }

    #[test]
    fn edges_are_found_in_both_directions() {
        let recording = record_vcd(DUMP).unwrap();
        let ns = 1_000_000;
        let edges = |time, forward| recording.edge(0, time, forward);
        assert_eq!([edges(0, true), edges(5 * ns, true), edges(99 * ns, true)], [5 * ns, 10 * ns, 99 * ns]);
        assert_eq!([edges(12 * ns, false), edges(10 * ns, false), edges(0, false)], [10 * ns, 5 * ns, 0]);
    }
}
