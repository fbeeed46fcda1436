//! What a netlist takes of a device.

use base::Budget;
use design::{LutMap, Netlist};
use verdict::Resources;

/// Pairs of cuts that counting look-up tables may look at.
const LUT_STEPS: u64 = 20_000_000;
/// Inputs of a look-up table where no board says it.
pub const USUAL_LUT_INPUTS: u32 = 4;

/// What a netlist takes of a device whose tables have so many inputs.
pub fn resources(netlist: &Netlist, lut_inputs: u32, budget: &Budget) -> Resources {
    let map = LutMap::new(netlist, lut_inputs, &mut budget.clone().with_steps(LUT_STEPS)).ok();
    Resources {
        and_nodes: netlist.and_count() as u64,
        luts: map.as_ref().map(|m| m.luts.len() as u64),
        lut_inputs,
        levels: map.map_or(0, |m| u64::from(m.depth)),
        flip_flops: netlist.registers.iter().filter(|r| !r.clock.is_const()).count() as u64,
        latches: u64::from(netlist.latches),
        pins: (netlist.inputs.len() + netlist.outputs.len()) as u64,
    }
}
