//! What a machine does under a fixed stimulus, for testbenches.

use crate::machine::{Machine, Protocol, RESET_CYCLES, Running};
use base::{Budget, Exhausted, Random};

/// A clock cycle of a testbench: what is put in, and what is to be seen before the edge.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Vector {
    /// Levels of the common inputs.
    pub inputs: Vec<bool>,
    /// Output levels; `None` where either is right.
    pub outputs: Vec<Option<bool>>,
}

/// Runs a machine for so many cycles: through its reset, then with inputs that change now and then, and with one more
/// reset near the end.
///
/// # Errors
/// When the budget runs out or the machine never comes to rest.
pub fn vectors(
    machine: &Machine<'_>,
    protocol: &Protocol,
    cycles: u32,
    budget: &mut Budget,
) -> Result<Vec<Vector>, Exhausted> {
    let mut running = Running::new(machine, protocol);
    let mut random = Random::new(7);
    running.set_clock(!protocol.rising);
    running.lanes.power_up();
    let mut levels = vec![false; protocol.inputs as usize];
    let mut list = Vec::new();
    for cycle in 0..cycles {
        let begins = protocol.reset.is_some() && cycle < RESET_CYCLES;
        let again = cycle + 8 == cycles;
        for (k, level) in levels.iter_mut().enumerate() {
            match protocol.reset {
                Some(reset) if reset.input as usize == k => *level = (begins || again) == reset.active_high,
                // Each input rests at 0 first, then at 1 mostly, then changes as it likes.
                _ => {
                    let turn = random.word() >> 32;
                    *level = match 4 * cycle / cycles {
                        0 => turn.is_multiple_of(4) && !begins,
                        1 => !turn.is_multiple_of(4),
                        _ => turn.is_multiple_of(2),
                    };
                }
            }
            running.set_input(k, if *level { u64::MAX } else { 0 });
        }
        running.settle(budget)?;
        let outputs = (0..machine.outputs.len())
            .map(|k| {
                let [value, unknown, _] = running.output(k);
                (!begins && unknown & 1 == 0).then_some(value & 1 == 1)
            })
            .collect();
        list.push(Vector { inputs: levels.clone(), outputs });
        for high in [protocol.rising, !protocol.rising] {
            running.set_clock(high);
            running.settle(budget)?;
        }
    }
    Ok(list)
}
