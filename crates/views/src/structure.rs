//! The structure of a hand-in as a drawing, and the levels of its wires on a row.

use crate::not_shown::{NotShown, asked};
use base::{Budget, Diagnostic, Id, SourceMap, Span};
use design::{Design, LutMap, Netlist, NodeId};
use elab::{Goal, HandInFile, NetlistKind, Parsed, Sources, USUAL_LUT_INPUTS, ample, input_columns, load, output_bits};
use exercise::Exercise;
use schematic::{Drawing, Graph, Levels};
use serde::{Deserialize, Serialize};
use verdict::Evidence;

/// Longest text of a symbol that is no gate.
const LABEL: usize = 18;

/// Which drawing.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StructureView {
    /// Gates and operators as the source has them.
    #[default]
    Written,
    /// Look-up tables as a device has them.
    Mapped,
}

/// A pin of a drawn symbol.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct DrawnPin {
    /// Where its wire meets it, in units of the drawing.
    pub x: i32,
    /// The same downwards.
    pub y: i32,
    /// The wire, by its number.
    pub wire: u32,
    /// An input of the symbol.
    pub input: bool,
    /// Drawn with a bubble: the level is complemented.
    pub inverted: bool,
    /// What is written beside it.
    pub name: String,
}

/// A drawn symbol.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct DrawnBlock {
    /// `input`, `output`, `constant`, `and`, `or`, `xor`, `not`, `choice`, `function`, `table`, `stored` or `flip_flop`.
    pub kind: String,
    /// What is written in it.
    pub label: String,
    /// Its left edge.
    pub x: i32,
    /// Its upper edge.
    pub y: i32,
    /// Its width.
    pub width: i32,
    /// Its height.
    pub height: i32,
    /// Inputs from the top, then outputs.
    pub pins: Vec<DrawnPin>,
    /// The file that describes it.
    pub file: Option<String>,
    /// Its line there, from 1.
    pub line: Option<u32>,
    /// For functions of at most six inputs: its output, a letter 0 or 1 for each row of its inputs in binary order, the
    /// upper one most significant.
    pub table: Option<String>,
}

/// A drawn wire.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct DrawnWire {
    /// Straight pieces: x and y of one end, x and y of the other.
    pub pieces: Vec<[i32; 4]>,
    /// Where three pieces meet: x and y.
    pub joints: Vec<[i32; 2]>,
}

/// The structure of a design as data.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct Structure {
    /// Which drawing it is.
    pub view: StructureView,
    /// Its width.
    pub width: i32,
    /// Its height.
    pub height: i32,
    /// The symbols, each behind those that it reads.
    pub blocks: Vec<DrawnBlock>,
    /// The wires.
    pub wires: Vec<DrawnWire>,
    /// Names of the output bits, for drawing one of them only.
    pub outputs: Vec<String>,
    /// It has a clock: what its wires carry depends on more than a row.
    pub clocked: bool,
}

/// What the wires of a drawing carry on a row.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct StructureLevels {
    /// A letter for each wire: 0, 1 or X.
    pub levels: String,
    /// Wires that decide the outputs that are wrong on that row, by their numbers; of the chosen output where one is chosen.
    pub deciding: Vec<u32>,
    /// Those outputs.
    pub of: Vec<String>,
}

/// A design that can be drawn.
struct Built {
    budget: Budget,
    sources: SourceMap,
    design: Design,
    netlist: Netlist,
}

/// The whole of a design as written; `None` where it is too large.
pub(crate) fn drawn(sources: &SourceMap, design: &Design, budget: &Budget) -> Option<Structure> {
    let built = finish(design.clone(), sources.clone(), StructureView::Written, budget).ok()?;
    let graph = built.graph(StructureView::Written, None, USUAL_LUT_INPUTS).ok()?;
    Some(built.drawn(&graph, graph.drawing(), StructureView::Written))
}

fn build(files: &[HandInFile], request: &StructureRequest<'_>, budget: &Budget) -> Result<Built, NotShown> {
    let &StructureRequest { exercise, top, view, .. } = request;
    let mut budget = budget.clone();
    let Some(exercise) = exercise else {
        let loaded = load(files, top, &mut budget)?;
        let told = first_stop(&loaded.diagnostics, &loaded.sources);
        return finish(loaded.design.ok_or(told)?, loaded.sources, view, &budget);
    };
    let (sources, _) = Sources::read(files, |_, _| None);
    let goal = Goal { fitting: exercise.fitting(), top, ..Goal::default() };
    let way = Parsed::new(&sources, &mut budget).fit(&goal, &mut budget);
    let told = first_stop(&way.told, &sources.map);
    finish(way.end.map_err(|_| told)?.design, sources.map, view, &budget)
}

fn first_stop(list: &[Diagnostic], sources: &SourceMap) -> NotShown {
    let Some(told) = list.iter().find(|d| d.stops()) else {
        return NotShown::Sources("There is no design to draw.".into());
    };
    let place = told.span.map(|s| format!("{}:{}: ", sources.file(s.file).name, sources.place(s).line));
    NotShown::Sources(format!("{}{told}", place.unwrap_or_default()))
}

fn finish(design: Design, sources: SourceMap, view: StructureView, budget: &Budget) -> Result<Built, NotShown> {
    let kind = match view {
        StructureView::Written => NetlistKind::AsWritten,
        StructureView::Mapped => NetlistKind::Plain,
    };
    let synthesis = elab::synthesise(&design, kind, budget);
    if synthesis.diagnostics.iter().any(Diagnostic::stops) {
        return Err(first_stop(&synthesis.diagnostics, &sources));
    }
    Ok(Built { budget: budget.clone(), sources, design, netlist: synthesis.netlist })
}

impl Built {
    /// Names of the output bits, in the netlist's order.
    fn outputs(&self) -> Vec<String> {
        let bit = |o: &design::OutputBit| {
            let port =
                self.design.scopes[self.design.top].ports.iter().find(|p| self.design.signals[p.signal].name == o.port);
            port.map_or_else(|| o.port.clone(), |p| self.design.signal_shape(p.signal).bit_name(&o.port, o.position))
        };
        self.netlist.outputs.iter().map(bit).collect()
    }

    fn only(&self, output: Option<&str>) -> Result<Option<usize>, NotShown> {
        let Some(name) = output else { return Ok(None) };
        let at = self.outputs().iter().position(|o| o == name);
        at.map(Some).ok_or_else(|| NotShown::Asked(format!("The design has no output bit `{name}`.")))
    }

    fn graph(&self, view: StructureView, only: Option<usize>, lut_inputs: u32) -> Result<Graph, NotShown> {
        let large = |e: schematic::TooLarge| {
            let remedy = if only.is_none() { "; choose one output" } else { "" };
            NotShown::TooLarge(format!("This design is too large for a drawing: {e}{remedy}."))
        };
        match view {
            StructureView::Written => {
                schematic::written(&self.netlist, &self.design, only, |s| self.text(s)).map_err(large)
            }
            StructureView::Mapped => {
                let cover = LutMap::new(&self.netlist, lut_inputs, &mut self.budget.clone())
                    .map_err(|e| NotShown::TooLarge(format!("The look-up tables could not be worked out: {}.", e.0)))?;
                schematic::mapped(&self.netlist, &cover, only).map_err(large)
            }
        }
    }

    /// The beginning of a place of the source.
    fn text(&self, span: Span) -> String {
        let text = self.sources.text(span).split_whitespace().collect::<Vec<_>>().join(" ");
        if text.chars().count() > LABEL { text.chars().take(LABEL - 1).chain(['…']).collect() } else { text }
    }

    fn drawn(&self, graph: &Graph, drawing: Drawing, view: StructureView) -> Structure {
        let block = |b: schematic::Block| DrawnBlock {
            kind: b.symbol.kind.key().into(),
            label: b.symbol.label,
            x: b.at.0,
            y: b.at.1,
            width: b.size.0,
            height: b.size.1,
            pins: b.pins.into_iter().map(pin).collect(),
            file: b.symbol.span.map(|s| self.sources.file(s.file).name.clone()),
            line: b.symbol.span.map(|s| self.sources.place(s).line),
            table: b.symbol.truth.map(|t| t.into_iter().map(|bit| if bit { '1' } else { '0' }).collect()),
        };
        let wire = |w: schematic::Wire| DrawnWire {
            pieces: w.pieces.into_iter().map(|[a, b]| [a.0, a.1, b.0, b.1]).collect(),
            joints: w.joints.into_iter().map(|(x, y)| [x, y]).collect(),
        };
        debug_assert_eq!(graph.wires.len(), drawing.wires.len());
        Structure {
            view,
            width: drawing.size.0,
            height: drawing.size.1,
            blocks: drawing.blocks.into_iter().map(block).collect(),
            wires: drawing.wires.into_iter().map(wire).collect(),
            outputs: self.outputs(),
            clocked: !self.netlist.registers.is_empty(),
        }
    }

    fn levels(&self, exercise: &Exercise, graph: &Graph, only: Option<usize>, at: At<'_>) -> StructureLevels {
        let columns = input_columns(&self.netlist, &exercise.ports);
        let bits: Vec<char> = if let At::Row(row) = at { row.chars().collect() } else { Vec::new() };
        let known = match (at, exercise.clocked()) {
            (At::Moment(e), Some(spec)) => {
                conform::levels(&self.netlist, exercise, spec, (e.row.as_deref().unwrap_or(""), &e.state))
            }
            _ => Vec::new(),
        };
        let input = |k: u32| {
            if let At::Moment(_) = at {
                return known.get(k as usize).copied().flatten();
            }
            let column = columns.get(k as usize).copied().flatten()?;
            match bits.get(column as usize)? {
                '0' => Some(false),
                '1' => Some(true),
                _ => None,
            }
        };
        let levels = Levels::new(&self.netlist, input);
        let unknown: Vec<(design::Lit, bool)> = self
            .netlist
            .outputs
            .iter()
            .map(|o| (o.value, levels.get(o.unknown) != Some(false) || levels.get(o.floating) != Some(false)))
            .collect();
        let letter = |wire: &design::Lit| {
            let is_unknown = unknown.iter().any(|(lit, is)| *is && lit.node() == wire.node());
            match levels.get(*wire).filter(|_| !is_unknown) {
                Some(true) => '1',
                Some(false) => '0',
                None => 'X',
            }
        };
        let chosen = match (only, at) {
            (Some(k), _) => vec![k],
            (None, At::Row(row)) => self.wrong(exercise, &levels, row),
            (None, At::Moment(evidence)) => conform::wrong_outputs(&self.netlist, exercise, evidence),
        };
        let mut deciding: Vec<NodeId> = Vec::new();
        for k in &chosen {
            if let Some(bit) = self.netlist.outputs.get(*k) {
                deciding.extend(levels.deciding(&self.netlist, bit.value));
            }
        }
        let wires = graph.wires.iter().enumerate();
        let names = self.outputs();
        StructureLevels {
            levels: graph.wires.iter().map(letter).collect(),
            deciding: wires
                .filter(|(_, w)| !w.is_const() && deciding.iter().any(|d| d.index() == w.node().index()))
                .filter_map(|(k, _)| u32::try_from(k).ok())
                .collect(),
            of: chosen.iter().filter_map(|k| names.get(*k).cloned()).collect(),
        }
    }

    /// Outputs that are wrong on a row, by their number in the netlist.
    fn wrong(&self, exercise: &Exercise, levels: &Levels, row: &str) -> Vec<usize> {
        let Ok(number) = u64::from_str_radix(row, 2) else { return Vec::new() };
        if exercise.clocked().is_some() || exercise.wide().is_some() || number >= exercise.table().rows() {
            return Vec::new();
        }
        let bits = output_bits(&self.netlist, &exercise.ports).into_iter();
        let bits = bits.zip(&exercise.table().outputs).filter_map(|((_, bit), wanted)| Some((bit?, wanted)));
        let is_wrong = |bit: &design::OutputBit, wanted: char| match (levels.get(bit.value), levels.get(bit.unknown)) {
            _ if wanted == '-' => false,
            (Some(level), Some(false)) => (wanted == '1') != level,
            _ => true,
        };
        let wrong: Vec<(&str, u32)> = bits
            .filter(|(bit, wanted)| is_wrong(bit, wanted.value(number).to_char()))
            .map(|(bit, _)| (bit.port.as_str(), bit.position))
            .collect();
        let outputs = self.netlist.outputs.iter().enumerate();
        outputs.filter(|(_, o)| wrong.contains(&(o.port.as_str(), o.position))).map(|(k, _)| k).collect()
    }
}

fn pin(p: schematic::Pin) -> DrawnPin {
    DrawnPin {
        x: p.at.0,
        y: p.at.1,
        wire: u32::try_from(p.wire).unwrap_or(u32::MAX),
        input: p.is_input,
        inverted: p.inverted,
        name: p.name,
    }
}

/// What is to be drawn.
#[derive(Clone, Copy, Debug, Default)]
pub struct StructureRequest<'a> {
    /// The exercise that the design was handed in for: its ports find the top, its parameter the width.
    pub exercise: Option<&'a Exercise>,
    /// The top, when it was chosen.
    pub top: Option<&'a str>,
    /// Which drawing.
    pub view: StructureView,
    /// Only what this output bit depends on.
    pub output: Option<&'a str>,
}

impl StructureRequest<'_> {
    fn lut_inputs(&self) -> u32 {
        self.exercise.map_or(USUAL_LUT_INPUTS, Exercise::lut_inputs)
    }
}

/// A design whose structure is drawn: what its wires carry can be asked of it again and again.
pub struct DrawnDesign {
    built: Built,
    graph: Graph,
    only: Option<usize>,
    view: StructureView,
}

impl DrawnDesign {
    /// Reads a design, builds it and decides what is drawn.
    ///
    /// # Errors
    /// When the design can't be read or is too large for a drawing.
    pub fn new(files: &[HandInFile], request: &StructureRequest<'_>, budget: &Budget) -> Result<Self, NotShown> {
        let draw = || {
            let built = build(files, request, budget)?;
            let only = built.only(request.output)?;
            let graph = built.graph(request.view, only, request.lut_inputs())?;
            Ok(Self { built, graph, only, view: request.view })
        };
        ample(draw).unwrap_or_else(|fault| Err(fault.into()))
    }

    /// The drawing.
    ///
    /// # Errors
    /// Only a fault of ours.
    pub fn structure(&self) -> Result<Structure, NotShown> {
        Ok(ample(|| self.built.drawn(&self.graph, self.graph.drawing(), self.view))?)
    }

    /// What its wires carry on a row of the exercise that it was read for, or at a moment of a clocked one.
    ///
    /// # Errors
    /// Only a fault of ours.
    pub fn levels(&self, exercise: &Exercise, at: At<'_>) -> Result<StructureLevels, NotShown> {
        Ok(ample(|| self.built.levels(exercise, &self.graph, self.only, at))?)
    }

    /// Nodes of its netlist, to judge what keeping it costs.
    pub fn size(&self) -> usize {
        self.built.netlist.len()
    }
}

/// Draws the structure of a design.
///
/// # Errors
/// When the design can't be read or is too large for a drawing.
pub fn structure(files: &[HandInFile], request: &StructureRequest<'_>, budget: &Budget) -> Result<Structure, NotShown> {
    DrawnDesign::new(files, request, budget)?.structure()
}

/// When the wires of a drawing are looked at.
#[derive(Clone, Copy, Debug)]
pub enum At<'a> {
    /// On a row of the exercise: its input bits, a letter 0 or 1 each.
    Row(&'a str),
    /// At the clock cycle that shows a finding.
    Moment(&'a Evidence),
}

/// What the wires of the same drawing carry on a row, or at a moment of a clocked design.
///
/// # Errors
/// The same, and where there is no exercise.
pub fn structure_levels(
    files: &[HandInFile],
    request: &StructureRequest<'_>,
    at: At<'_>,
    budget: &Budget,
) -> Result<StructureLevels, NotShown> {
    let Some(exercise) = request.exercise else { return asked("Levels need an exercise.") };
    DrawnDesign::new(files, request, budget)?.levels(exercise, at)
}
