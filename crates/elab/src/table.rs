//! What a combinational netlist does on every row, 64 at a time.

use crate::port::ExercisePort;
use base::{Budget, Exhausted};
use design::{Lit, Netlist};
use logic::{RowSet, input_word};

/// What an output bit of a design does on each row.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ActualColumn {
    /// Name of the output bit as the ports have it.
    pub name: String,
    /// Rows where it is 1.
    pub ones: RowSet,
    /// Rows where it is unknown or floats.
    pub unknown: RowSet,
    /// Rows where it floats.
    pub floating: RowSet,
}

impl ActualColumn {
    /// `0`, `1`, `X` or `Z`.
    pub fn level(&self, row: u64) -> char {
        if self.floating.contains(row) {
            'Z'
        } else if self.unknown.contains(row) {
            'X'
        } else if self.ones.contains(row) {
            '1'
        } else {
            '0'
        }
    }
}

/// The table of a design, output bits in the order of the ports.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ActualTable {
    /// Output bits.
    pub columns: Vec<ActualColumn>,
}

/// Which column of the table each input of a netlist is, by port and position.
pub fn input_columns(netlist: &Netlist, ports: &[ExercisePort]) -> Vec<Option<u32>> {
    let column = |bit: &design::InputBit| {
        let mut first = 0;
        let mut column = None;
        for port in ports.iter().filter(|p| p.is_input) {
            if port.name == bit.port {
                column = Some(first + port.shape.width() - 1 - bit.position);
            }
            first += port.shape.width();
        }
        column
    };
    netlist.inputs.iter().map(column).collect()
}

/// The output bits of the ports in their order, each with its name and what the netlist has for it.
pub fn output_bits<'n>(netlist: &'n Netlist, ports: &[ExercisePort]) -> Vec<(String, Option<&'n design::OutputBit>)> {
    let bits = ports.iter().filter(|p| !p.is_input);
    let bits = bits.flat_map(|p| (0..p.shape.width()).rev().map(move |position| (p, position)));
    bits.map(|(port, position)| {
        let bit = netlist.outputs.iter().find(|o| o.port == port.name && o.position == position);
        (port.shape.bit_name(&port.name, position), bit)
    })
    .collect()
}

/// Runs all rows of the input ports through the netlist, whose ports were found to fit.
pub fn actual_table(netlist: &Netlist, ports: &[ExercisePort], budget: &mut Budget) -> Result<ActualTable, Exhausted> {
    let inputs: u32 = ports.iter().filter(|p| p.is_input).map(|p| p.shape.width()).sum();
    let columns = input_columns(netlist, ports);
    let mut roots: Vec<Lit> = Vec::new();
    let mut names = Vec::new();
    for (name, bit) in output_bits(netlist, ports) {
        roots.extend(bit.map_or([Lit::FALSE, Lit::TRUE, Lit::TRUE], |b| [b.value, b.unknown, b.floating]));
        names.push(name);
    }
    let words = (1u64 << inputs).div_ceil(64);
    let mut rails: Vec<Vec<u64>> = vec![Vec::with_capacity(words as usize); roots.len()];
    netlist.simulate(
        &roots,
        words,
        budget,
        |k, word| columns.get(k as usize).copied().flatten().map_or(0, |c| input_word(inputs, c, word)),
        |_, values| {
            for (rail, value) in rails.iter_mut().zip(values) {
                rail.push(*value);
            }
        },
    )?;
    let columns = names.into_iter().zip(rails.chunks_exact(3)).map(|(name, rail)| ActualColumn {
        name,
        ones: RowSet::from_words(inputs, &rail[0]),
        unknown: RowSet::from_words(inputs, &rail[1]),
        floating: RowSet::from_words(inputs, &rail[2]),
    });
    Ok(ActualTable { columns: columns.collect() })
}
