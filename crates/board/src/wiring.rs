//! The wiring of port bits to parts, from a CSV, and what is wrong with it.

use crate::diagnostics as say;
use crate::model::Board;
use base::{Diagnostic, FileId, SourceFile, Span};
use std::collections::BTreeMap;

/// A bit of a port that can be wired.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PortBit {
    /// `lamp` or `lamp[3]`.
    pub name: String,
    /// True for inputs of the design.
    pub is_input: bool,
}

/// One line of a wiring file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct WiringEntry {
    /// The port bit as written.
    pub port: String,
    /// The part's label, when given.
    pub part: Option<String>,
    /// The pin, when given.
    pub pin: Option<String>,
    /// The I/O level, when given.
    pub io_level: Option<String>,
    /// The line.
    pub span: Span,
}

/// Which terminal of the board each port bit ends at, by name of the bit; terminals as positions in
/// [`Board::terminals`].
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Wiring {
    /// Bit → terminal.
    pub ends: BTreeMap<String, usize>,
}

/// Why a wiring file can't be read at all.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum WiringError {
    /// The header lacks a column.
    #[error("the first line of a wiring file is `port,part,pin,io_level`; `{0}` is missing")]
    Header(&'static str),
    /// A line is not CSV.
    #[error("line {0} of the wiring file is not CSV: {1}")]
    Line(u64, String),
}

/// Reads a wiring file: CSV with a header; `port` and one of `part` and `pin` must be there.
///
/// # Errors
/// When the header or a line can't be read.
pub fn parse_wiring(id: FileId, file: &SourceFile) -> Result<Vec<WiringEntry>, WiringError> {
    let separator =
        if file.text.lines().next().is_some_and(|l| l.contains(';') && !l.contains(',')) { b';' } else { b',' };
    let mut reader = csv::ReaderBuilder::new()
        .flexible(true)
        .trim(csv::Trim::All)
        .comment(Some(b'#'))
        .delimiter(separator)
        .from_reader(file.text.as_bytes());
    let headers = reader.headers().map_err(|e| WiringError::Line(1, e.to_string()))?.clone();
    let column = |name: &str| headers.iter().position(|h| h.eq_ignore_ascii_case(name));
    let port = column("port").ok_or(WiringError::Header("port"))?;
    let (part, pin, level) = (column("part"), column("pin"), column("io_level"));
    if part.is_none() && pin.is_none() {
        return Err(WiringError::Header("part"));
    }
    let mut entries = Vec::new();
    for record in reader.records() {
        let record =
            record.map_err(|e| WiringError::Line(e.position().map_or(0, csv::Position::line), e.to_string()))?;
        let field = |c: Option<usize>| c.and_then(|c| record.get(c)).filter(|t| !t.is_empty()).map(str::to_owned);
        let start = record.position().map_or(0, |p| usize::try_from(p.byte()).unwrap_or(0));
        let start = start + file.text.get(start..).map_or(0, |t| t.len() - t.trim_start().len());
        let end = file.text.get(start..).and_then(|t| t.find('\n')).map_or(file.text.len(), |n| start + n);
        let Some(name) = field(Some(port)) else { continue };
        entries.push(WiringEntry {
            port: name.split_whitespace().collect(),
            part: field(part),
            pin: field(pin),
            io_level: field(level),
            span: Span::new(id, start, end),
        });
        if entries.len() > 4096 {
            return Err(WiringError::Line(4097, "more lines than a board has parts".into()));
        }
    }
    Ok(entries)
}

/// Joins entries to the board and judges them against the exercise's plan (bit → part label; may be empty) by the
/// switch or lamp that each bit really ends at.
pub fn judge(
    board: &Board,
    ports: &[PortBit],
    plan: &BTreeMap<String, String>,
    entries: &[WiringEntry],
) -> (Wiring, Vec<Diagnostic>) {
    let mut wiring = Wiring::default();
    let mut diagnostics = Vec::new();
    let mut lines: BTreeMap<&str, Span> = BTreeMap::new();
    let mut users: BTreeMap<usize, (&str, Span)> = BTreeMap::new();
    let planned = |bit: &str| plan.get(bit).and_then(|label| board.by_label(label));
    for entry in entries {
        let Some(port) = ports.iter().find(|p| p.name == entry.port) else {
            let known = ports.iter().map(|p| p.name.as_str());
            diagnostics.push(say::unknown_port(&entry.port, base::nearest(&entry.port, known), entry.span));
            continue;
        };
        if let Some(first) = lines.insert(&port.name, entry.span) {
            diagnostics.push(say::wired_twice(&port.name, first, entry.span));
            continue;
        }
        if let Some(level) = &entry.io_level
            && !level.eq_ignore_ascii_case(&board.device.io_level)
        {
            diagnostics.push(say::wrong_io_level(level, &board.device.io_level, entry.span));
        }
        let wanted = planned(&port.name);
        let Some(found) = locate(board, entry, wanted, &mut diagnostics) else { continue };
        let end = &board.terminals()[found];
        wiring.ends.insert(port.name.clone(), found);
        if let Some((bit, span)) = users.get(&found) {
            diagnostics.push(say::used_twice(end, bit, &port.name, *span, entry.span));
        } else {
            users.insert(found, (&port.name, entry.span));
        }
        if port.is_input && !end.drives {
            diagnostics.push(say::input_on_lamp(&port.name, end, entry.span));
        } else if !port.is_input && end.drives {
            diagnostics.push(say::output_on_switch(&port.name, (board.part_of(found).kind.word(), end), entry.span));
        } else if let Some(wanted) = wanted
            && wanted != found
        {
            diagnostics.push(say::wrong_part(&port.name, port.is_input, end, &board.terminals()[wanted], entry.span));
        }
    }
    for port in ports {
        if !lines.contains_key(port.name.as_str()) {
            diagnostics.push(say::unwired(&port.name, planned(&port.name).map(|i| &board.terminals()[i])));
        }
    }
    (wiring, diagnostics)
}

fn locate(
    board: &Board,
    entry: &WiringEntry,
    wanted: Option<usize>,
    diagnostics: &mut Vec<Diagnostic>,
) -> Option<usize> {
    let by_label = entry.part.as_deref().map(|label| (label, board.by_label(label)));
    let by_pin = entry.pin.as_deref().map(|pin| (pin, board.by_pin(pin)));
    match (by_label, by_pin) {
        (Some((label, None)), _) => {
            let near = base::nearest(label, board.terminals().iter().map(|t| t.label.as_str()));
            diagnostics.push(say::unknown_part(label, near, entry.span));
            None
        }
        (_, Some((pin, None))) => {
            diagnostics.push(say::unknown_pin(pin, wanted.map(|i| &board.terminals()[i]), entry.span));
            None
        }
        (Some((label, Some(a))), Some((pin, Some(b)))) if a != b => {
            diagnostics.push(say::part_and_pin_differ(label, pin, &board.terminals()[b], entry.span));
            // The device only knows pins.
            Some(b)
        }
        (_, Some((_, Some(b)))) => Some(b),
        (Some((_, Some(a))), None) => Some(a),
        (None, None) => {
            diagnostics.push(say::nothing_named(&entry.port, entry.span));
            None
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use base::SourceMap;

    fn run(text: &str) -> Vec<Diagnostic> {
        let mut map = SourceMap::new();
        let file = SourceFile::new("w.csv", text);
        let id = map.add(file.clone());
        let board = Board::shipped("pith-8").unwrap();
        let bit = |name: &str, is_input| PortBit { name: name.into(), is_input };
        let ports = [bit("full", true), bit("clear", true), bit("lamp", false)];
        let plan = [("full", "S7"), ("clear", "S6"), ("lamp", "H0")];
        let plan = plan.into_iter().map(|(a, b)| (a.to_owned(), b.to_owned())).collect();
        judge(&board, &ports, &plan, &parse_wiring(id, &file).unwrap()).1
    }

    fn codes(text: &str) -> Vec<&'static str> {
        run(text).iter().map(|d| d.code.key()).collect()
    }

    #[test]
    fn wiring_by_label_or_by_pin_is_right_alike() {
        assert_eq!(codes("port,part,pin,io_level\nfull,S7,,\nclear,,a2,LV33\nlamp,H0,M4,\n"), [] as [&str; 0]);
    }

    #[test]
    fn a_pin_misread_by_one_letter_is_told_as_the_wrong_lamp() {
        let found = run("port,part,pin\nfull,S7,\nclear,S6,\nlamp,,K4\n");
        assert_eq!(found[0].code, base::Code::WRONG_PART);
        assert_eq!(found[0].message, "`lamp` lights H4 (pin K4) instead of H0 (pin M4).");
        assert!(found[0].help.contains("differ in one character"));
    }

    #[test]
    fn each_slip_has_its_finding() {
        assert_eq!(codes("port,part\nfull,S7\nclear,S6\n"), ["port-unwired"]);
        assert_eq!(codes("port,part\nfull,S7\nclear,S7\nlamp,H0\n"), ["part-used-twice", "wrong-part"]);
        assert_eq!(codes("port,pin\nfull,A1\nclear,A2\nlamp,M9\n"), ["unknown-pin"]);
        assert_eq!(codes("port,part\nfull,S7\nclear,S6\nlamp,S0\n"), ["output-on-switch"]);
        assert_eq!(codes("port,part\nfull,H1\nclear,S6\nlamp,H0\n"), ["input-on-lamp"]);
        assert_eq!(codes("port,part,pin\nfull,S7,\nclear,S6,\nlamp,H0,M3\n"), ["part-and-pin-differ", "wrong-part"]);
        assert_eq!(codes("port,part,io_level\nfull,S7,LV18\nclear,S6,\nlamp,H0,\n"), ["wrong-io-level"]);
        assert_eq!(codes("port,part\nful,S7\nclear,S6\nlamp,H0\n"), ["unknown-wired-port", "port-unwired"]);
    }

    #[test]
    fn a_file_without_the_header_is_refused() {
        let file = SourceFile::new("w.csv", "full,S7\n");
        assert!(matches!(parse_wiring(SourceMap::new().id_at(0), &file), Err(WiringError::Header("port"))));
    }
}
