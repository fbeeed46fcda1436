//! A moment of a clocked design: the levels of its inputs and registers, and the lines that decide an output then.

use crate::path::path;
use base::SourceMap;
use design::{Lit, Netlist, Node};
use exercise::{Clocked, Exercise};
use std::collections::BTreeMap;
use verdict::{Evidence, PathLine};

/// The name of a bit of a register, as evidence has it.
pub(crate) fn register_bit(netlist: &Netlist, number: usize) -> String {
    let Some(register) = netlist.registers.get(number) else { return String::new() };
    let width = netlist.registers.iter().filter(|r| r.name == register.name).count();
    if width > 1 { format!("{}[{}]", register.name, register.position) } else { register.name.clone() }
}

fn level(text: &str) -> Option<bool> {
    match text {
        "0" => Some(false),
        "1" => Some(true),
        _ => None,
    }
}

/// The level of each input of a netlist by its number: ports from the row (input bits without the clock), registers from
/// their state.
pub fn levels(
    netlist: &Netlist,
    exercise: &Exercise,
    spec: &Clocked,
    (row, state): (&str, &BTreeMap<String, String>),
) -> Vec<Option<bool>> {
    let mut list = vec![None; netlist.input_count() as usize];
    let mut put = |lit: Lit, level: Option<bool>| {
        if let Node::Input(k) = netlist.node(lit.node())
            && let Some(place) = list.get_mut(k as usize)
        {
            *place = level.map(|l| l != lit.is_complement());
        }
    };
    for bit in &netlist.inputs {
        let port = exercise.ports.iter().find(|p| p.name == bit.port);
        let name = port.map(|p| p.shape.bit_name(&p.name, bit.position)).unwrap_or_default();
        let at = spec.inputs.iter().position(|n| *n == name);
        put(bit.value, at.and_then(|k| level(row.get(k..=k)?)));
    }
    for (number, register) in netlist.registers.iter().enumerate() {
        let known = state.get(&register_bit(netlist, number)).and_then(|l| level(l));
        put(register.value, known);
        put(register.unknown, Some(known.is_none()));
    }
    list
}

/// The lines that decide the outputs that are wrong at the moment of some evidence.
pub(crate) fn way(
    (exercise, spec): (&Exercise, &Clocked),
    netlist: &Netlist,
    evidence: &Evidence,
    sources: &SourceMap,
) -> Vec<PathLine> {
    let known = levels(netlist, exercise, spec, (evidence.row.as_deref().unwrap_or(""), &evidence.state));
    let wrong = wrong_outputs(netlist, exercise, evidence);
    let roots: Vec<Lit> = wrong.into_iter().filter_map(|k| Some(netlist.outputs.get(k)?.value)).collect();
    path(netlist, &roots, |k| known.get(k as usize).copied().flatten().unwrap_or(false), sources)
}

/// Outputs of a netlist, by number, that are not as evidence wants them.
pub fn wrong_outputs(netlist: &Netlist, exercise: &Exercise, evidence: &Evidence) -> Vec<usize> {
    let is_wrong = |o: &design::OutputBit| {
        let port = exercise.ports.iter().find(|p| p.name == o.port);
        let name = port.map(|p| p.shape.bit_name(&p.name, o.position)).unwrap_or_default();
        let wanted = evidence.expected.get(&name).map_or("-", String::as_str);
        wanted != "-" && evidence.actual.get(&name).map(String::as_str) != Some(wanted)
    };
    netlist.outputs.iter().enumerate().filter(|(_, o)| is_wrong(o)).map(|(k, _)| k).collect()
}
