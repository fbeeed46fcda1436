//! A netlist as a machine over named bits, so that two of them can be held side by side.

use crate::port::ExercisePort;
use design::{InputBit, Netlist};
use prove::{Machine, OutputTap, Source};

/// The place of a name: as it is written, or else capitals apart.
fn place(list: &[String], name: &str) -> Option<usize> {
    let exact = list.iter().position(|n| n == name);
    exact.or_else(|| list.iter().position(|n| n.eq_ignore_ascii_case(name)))
}

/// Joins a netlist with these ports to inputs and outputs by the names of their bits.
pub fn machine_of<'n>(
    net: &'n Netlist,
    ports: &[ExercisePort],
    inputs: &[String],
    outputs: &[String],
    clock: Option<&str>,
) -> Machine<'n> {
    let name =
        |port: &str, position: u32| ports.iter().find(|p| p.name == port).map(|p| p.shape.bit_name(&p.name, position));
    let source = |bit: &InputBit| {
        let name = name(&bit.port, bit.position)?;
        if clock.is_some_and(|c| c.eq_ignore_ascii_case(&name)) {
            return Some(Source::Clock(false));
        }
        Some(Source::Input(u32::try_from(place(inputs, &name)?).ok()?, false))
    };
    let names: Vec<String> = net.outputs.iter().map(|o| name(&o.port, o.position).unwrap_or_default()).collect();
    let tap = |wanted: &String| Some(OutputTap { number: place(&names, wanted)?, complement: false });
    Machine { net, inputs: net.inputs.iter().map(source).collect(), outputs: outputs.iter().map(tap).collect() }
}
