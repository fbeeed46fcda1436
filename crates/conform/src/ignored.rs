//! Outputs that ignore inputs they should follow: answers written down in place of a design, forgotten inputs.

use crate::diagnostics as say;
use base::Diagnostic;
use design::{Lit, Netlist, Node};
use elab::{input_columns, output_bits};
use exercise::Exercise;
use logic::{OutputColumn, RowValue};

/// Does what is demanded of an output ever change with input `k` alone?
fn should_follow(column: &OutputColumn, inputs: u32, k: u32) -> bool {
    let bit = 1u64 << (inputs - 1 - k);
    let differ = |row: &u64| {
        let (low, high) = (column.value(*row), column.value(row | bit));
        low != RowValue::DontCare && high != RowValue::DontCare && low != high
    };
    (0..1u64 << inputs).filter(|row| row & bit == 0).any(|row| differ(&row))
}

/// A note for each wrong output that can't follow an input because it doesn't depend on it at all.
pub(crate) fn ignored(exercise: &Exercise, netlist: &Netlist, is_wrong: impl Fn(usize) -> bool) -> Vec<Diagnostic> {
    /// Outputs that are spoken of.
    const MOST: usize = 3;
    let inputs = exercise.table().input_count();
    let columns = input_columns(netlist, &exercise.ports);
    let mut notes = Vec::new();
    for (k, (_, bit)) in output_bits(netlist, &exercise.ports).into_iter().enumerate() {
        if !is_wrong(k) || notes.len() == MOST {
            continue;
        }
        let Some(bit) = bit else { continue };
        if bit.unknown == Lit::TRUE || bit.floating == Lit::TRUE {
            continue;
        }
        let cone = netlist.cone(&[bit.value, bit.unknown, bit.floating]);
        let mut followed = vec![false; inputs as usize];
        for id in cone {
            if let Node::Input(number) = netlist.node(id)
                && let Some(Some(column)) = columns.get(number as usize)
            {
                followed[*column as usize] = true;
            }
        }
        let column = &exercise.table().outputs[k];
        let missing: Vec<&str> = (0..inputs)
            .filter(|i| !followed[*i as usize] && should_follow(column, inputs, *i))
            .map(|i| exercise.table().inputs[i as usize].as_str())
            .collect();
        if !missing.is_empty() {
            let constant = bit.value.is_const().then_some(bit.value == Lit::TRUE);
            notes.push(say::ignored_inputs(&column.name, &missing, constant, netlist.origin(bit.value.node())));
        }
    }
    notes
}
