//! A file as a design and its netlist, without an exercise.

use base::{Budget, SourceFile, SourceMap};
use design::{Design, Netlist};

/// A file as a design and its netlist, the last unit that nobody uses on top.
pub(crate) fn built(name: &str, text: &str) -> Option<(Design, Netlist)> {
    let mut sources = SourceMap::new();
    let id = sources.add(SourceFile::new(name, text));
    let mut budget = Budget::hand_in();
    let design = if name.ends_with(".vhd") {
        let parsed = vhdl::parse(id, sources.file(id), &mut budget);
        let units: Vec<&vhdl::DesignUnit> = parsed.units.iter().collect();
        let top = units.iter().rev().find_map(|u| u.entity())?.name.clone();
        vhdl::elaborate(&units, &top, &mut budget).whole?
    } else {
        let parsed = verilog::parse(id, sources.file(id), &mut budget);
        let modules: Vec<&verilog::Module> = parsed.modules.iter().collect();
        let top = modules.last().copied()?;
        verilog::elaborate(&modules, top, &mut budget).whole?
    };
    let netlist = design::synthesise(&design, &mut budget.with_depth(4_000)).netlist;
    Some((design, netlist))
}
