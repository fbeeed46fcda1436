//! What only testbenches do to a design: levels that are forced, values that are read out of texts.

use crate::code::{Place, Reading};
use crate::kernel::Kernel;
use crate::text;
use base::Id;
use design::{AssignMode, Reader, ScanPart, ScanSource, SignalKind, Storage};
use logic::{Level, LogicVector};

impl Kernel<'_> {
    /// Holds bits of a signal at a level (IEEE 1364-2005 9.3.2).
    fn force(&mut self, index: usize, low: u32, value: LogicVector) {
        self.let_go(index, low, value.width());
        self.forces.push((index, low, value));
        let now = self.signals[index].value.clone();
        self.change(index, now);
    }

    /// Lets go of bits: a net has its drivers' level again, a variable keeps what it holds.
    fn release(&mut self, index: usize, low: u32, width: u32) {
        self.let_go(index, low, width);
        if !matches!(self.signals[index].kind, SignalKind::Net(_)) {
            return;
        }
        if self.signals[index].drivers.is_empty() {
            let mut floating = self.signals[index].value.clone();
            floating.put(low, &LogicVector::filled(width, Level::HighZ));
            self.change(index, floating);
        } else {
            self.resolve(index);
        }
    }

    /// What is held beside those bits stays held.
    fn let_go(&mut self, index: usize, low: u32, width: u32) {
        let held = std::mem::take(&mut self.forces);
        for (signal, first, value) in held {
            let end = first + value.width();
            if signal != index || first >= low + width || end <= low {
                self.forces.push((signal, first, value));
                continue;
            }
            if first < low {
                self.forces.push((signal, first, value.slice(0, low - first)));
            }
            if end > low + width {
                let part = value.slice(i64::from(low + width - first), end - low - width);
                self.forces.push((signal, low + width, part));
            }
        }
    }

    /// Forces signals, or with `None` lets go of them.
    pub(crate) fn hold(&mut self, targets: &[design::Target], value: Option<&LogicVector>) {
        let mut at = 0;
        for target in targets.iter().rev() {
            let part = value.map(|v| v.slice(i64::from(at), target.width));
            at += target.width;
            let Storage::Signal(signal) = target.storage else { continue };
            match part {
                Some(part) => self.force(signal.index(), target.low, part),
                None => self.release(signal.index(), target.low, target.width),
            }
        }
    }

    /// How many values were read, in 32 bits.
    pub(crate) fn count_read(&mut self, process: usize, reading: &Reading, from: Option<&LogicVector>) -> LogicVector {
        let count = self.read(process, reading, from);
        LogicVector::from_u64(64, count.cast_unsigned()).resized(32, true)
    }

    /// Reads values out of a text; how many, or -1 at its end (IEEE 1364-2005 17.2.4).
    fn read(&mut self, process: usize, reading: &Reading, from: Option<&LogicVector>) -> i64 {
        let number = from.and_then(LogicVector::to_u64).and_then(|n| usize::try_from(n).ok()).unwrap_or(0);
        let mut reader = match reading.source {
            ScanSource::Text(_) => Reader::new(&from.map(text::characters).unwrap_or_default()),
            ScanSource::Line(line) => self.lines.get_mut(line as usize).map(std::mem::take).unwrap_or_default(),
            ScanSource::File(_) => match number.checked_sub(1).and_then(|i| self.files.get_mut(i)) {
                Some(reader) => std::mem::take(reader),
                None => return -1,
            },
        };
        let mut count = 0;
        for (part, place) in &reading.parts {
            let before = reader.place();
            let done = match part {
                ScanPart::Blanks => {
                    reader.blanks();
                    true
                }
                ScanPart::Literal(byte) => reader.literal(*byte),
                ScanPart::Rewind => {
                    reader.rewind();
                    true
                }
                ScanPart::AtEnd { tried } => {
                    count = i64::from(reader.is_at_end(*tried));
                    true
                }
                ScanPart::TakeLine(line) => match reader.rest_of_line() {
                    Some(text) => {
                        count += 1;
                        if let Some(line) = self.lines.get_mut(*line as usize) {
                            *line = Reader::new(text.trim_end_matches(['\n', '\r']));
                        }
                        true
                    }
                    None => false,
                },
                ScanPart::RestOfLine(target) => match reader.rest_of_line() {
                    Some(line) => {
                        count = line.chars().count() as i64;
                        // What doesn't fit is lost at the left, as in any assignment.
                        let fits = line.len().saturating_sub(target.width.div_ceil(8) as usize);
                        let line = line.get(fits..).unwrap_or(&line);
                        let value = text::bits(line).resized(target.width, false);
                        self.put(process, place.as_ref(), &value);
                        true
                    }
                    None => false,
                },
                ScanPart::Value { kind, most, target } => {
                    let width = target.as_ref().map_or(64, |t| t.width);
                    match reader.value(*kind, *most, width) {
                        Some(value) => {
                            count += i64::from(target.is_some());
                            self.put(process, place.as_ref(), &value);
                            true
                        }
                        None => false,
                    }
                }
            };
            // A step for each character: a long line read over and over ends with the budget.
            self.steps = self.steps.saturating_sub(1 + reader.place().saturating_sub(before) as u64);
            if !done {
                let is_line = matches!(part, ScanPart::RestOfLine(_) | ScanPart::TakeLine(_));
                if count == 0 && reader.is_at_end(false) && !is_line {
                    count = -1;
                }
                break;
            }
        }
        self.put_back(reading.source, number, reader);
        count
    }

    /// Keeps where reading stands; a text is read from its beginning each time.
    fn put_back(&mut self, source: ScanSource, number: usize, reader: Reader) {
        let place = match source {
            ScanSource::Text(_) => None,
            ScanSource::Line(line) => self.lines.get_mut(line as usize),
            ScanSource::File(_) => number.checked_sub(1).and_then(|i| self.files.get_mut(i)),
        };
        if let Some(place) = place {
            *place = reader;
        }
    }

    fn put(&mut self, process: usize, place: Option<&Place>, value: &LogicVector) {
        if let Some(place) = place {
            self.assign(process, std::slice::from_ref(place), value, AssignMode::Blocking, None);
        }
    }
}
