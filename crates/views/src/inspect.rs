//! What is in a design: its units, the ports and hierarchy of its top, and what is worth saying about it.

use crate::not_shown::NotShown;
use crate::structure::{Structure, drawn};
use base::Budget;
use design::{Design, ScopeId, ScopeKind};
use elab::{HandInFile, NetlistKind, USUAL_LUT_INPUTS, ample, load};
use serde::Serialize;
use verdict::{Finding, Resources, finding};

/// A port of a unit.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct InspectedPort {
    /// Name as declared.
    pub name: String,
    /// `input`, `output` or `inout`.
    pub direction: String,
    /// Bounds such as `[3:0]`; empty for a scalar.
    pub range: String,
    /// Bits.
    pub width: u32,
}

/// A module or entity.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct InspectedUnit {
    /// Its name; VHDL's in lower case.
    pub name: String,
    /// `verilog` or `vhdl`.
    pub language: String,
    /// The file it stands in.
    pub file: String,
    /// Line, from 1.
    pub line: u32,
    /// Names of its ports.
    pub ports: Vec<String>,
    /// Units that it instantiates.
    pub instantiates: Vec<String>,
}

/// An instance with what is inside it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct InspectedScope {
    /// Instance name; the unit's for the top.
    pub name: String,
    /// The unit that it is an instance of.
    pub unit: String,
    /// Parameters or generics with their values as bits.
    pub parameters: Vec<(String, String)>,
    /// Instances inside.
    pub children: Vec<InspectedScope>,
}

/// A design taken apart.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Inspection {
    /// All units of the files.
    pub units: Vec<InspectedUnit>,
    /// The top's name.
    pub top: Option<String>,
    /// Its ports.
    pub ports: Vec<InspectedPort>,
    /// Its hierarchy; `None` when it could not be elaborated.
    pub hierarchy: Option<InspectedScope>,
    /// What it takes; `None` when it could not be synthesised.
    pub resources: Option<Resources>,
    /// Its structure as a drawing; `None` when it could not be synthesised or is too large for one.
    pub structure: Option<Structure>,
    /// What is worth saying, the worst first.
    pub findings: Vec<Finding>,
}

/// Looks into a design.
///
/// # Errors
/// One sentence when a file can't be used at all.
pub fn inspect(files: &[HandInFile], top: Option<&str>, budget: &Budget) -> Result<Inspection, NotShown> {
    ample(|| look_into(files, top, budget)).unwrap_or_else(|fault| Err(fault.into()))
}

fn look_into(files: &[HandInFile], top: Option<&str>, budget: &Budget) -> Result<Inspection, NotShown> {
    let mut budget = budget.clone();
    let loaded = load(files, top, &mut budget)?;
    let mut diagnostics = loaded.diagnostics;
    let (mut resources, mut structure) = (None, None);
    let mut ports = Vec::new();
    let mut hierarchy = None;
    if let Some(design) = &loaded.design {
        for port in &design.scopes[design.top].ports {
            let shape = design.signal_shape(port.signal);
            ports.push(InspectedPort {
                name: design.signals[port.signal].name.clone(),
                direction: port.direction.word().to_owned(),
                range: shape.to_string(),
                width: shape.width(),
            });
        }
        hierarchy = Some(scope(design, design.top));
        if let Some(top) = &loaded.top {
            diagnostics.extend(elab::lint(design, top.language));
        }
        let is_bench = design.scopes[design.top].ports.is_empty();
        let synthesis = (!is_bench).then(|| elab::synthesise(design, NetlistKind::Plain, &budget));
        // A testbench is no hardware.
        if let Some(synthesis) = synthesis {
            if !synthesis.diagnostics.iter().any(base::Diagnostic::stops) {
                resources = Some(elab::resources(&synthesis.netlist, USUAL_LUT_INPUTS, &budget));
                // Kept apart, the nodes are no fewer.
                let may_fit = synthesis.netlist.len() <= schematic::MOST_NODES;
                structure = may_fit.then(|| drawn(&loaded.sources, design, &budget)).flatten();
            }
            diagnostics.extend(synthesis.diagnostics);
        }
    }
    diagnostics.sort_by_key(|d| (d.severity, d.stage, d.span));
    let units = loaded.units.iter().map(|u| InspectedUnit {
        name: u.name.clone(),
        language: u.language.key().to_owned(),
        file: loaded.sources.file(u.span.file).name.clone(),
        line: loaded.sources.place(u.span).line,
        ports: u.ports.clone(),
        instantiates: u.instantiates.clone(),
    });
    Ok(Inspection {
        units: units.collect(),
        top: loaded.top.map(|u| u.name),
        ports,
        hierarchy,
        resources,
        structure,
        findings: diagnostics.iter().map(|d| finding(d, &loaded.sources, None)).collect(),
    })
}

fn scope(design: &Design, id: ScopeId) -> InspectedScope {
    let item = &design.scopes[id];
    let inside = design.scopes.iter().filter(|(_, s)| s.parent == Some(id) && s.kind != ScopeKind::Block);
    InspectedScope {
        name: item.name.clone(),
        unit: item.unit.clone(),
        parameters: item.parameters.iter().map(|(n, v)| (n.clone(), v.to_string())).collect(),
        children: inside.map(|(child, _)| scope(design, child)).collect(),
    }
}
