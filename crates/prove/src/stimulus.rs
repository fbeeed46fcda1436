//! What goes into a machine that is run rather than proved: 64 lanes of levels, the same in each run.

use crate::pair::Pair;
use base::Random;

/// The level of an input on 64 lanes: some lanes change it each cycle, some now and then, some hardly ever.
pub(crate) fn stimulus(input: u64, cycle: u64) -> u64 {
    let word = |epoch: u64| {
        let mut random = Random::new((epoch << 12 | input).wrapping_mul(0x2545_f491_4f6c_dd1d));
        random.word();
        random.word()
    };
    let mixed = word(cycle * 4) & 0x0000_0000_ffff_ffff
        | word(cycle / 16 * 4 + 1) & 0x0000_ffff_0000_0000
        | word(cycle / 256 * 4 + 2) & 0x00ff_0000_0000_0000
        | word(3) & 0x3f00_0000_0000_0000;
    // The last two lanes hold all inputs at 0 and at 1.
    mixed | 0x8000_0000_0000_0000
}

/// Lanes on which the reset comes back now and then.
pub(crate) fn resets(cycle: u64) -> u64 {
    let mut random = Random::new(cycle.wrapping_mul(0x9e37_79b9));
    let sparse = random.word() & random.word() & random.word() & random.word() & random.word();
    sparse & 0x0000_00ff_0000_ffff
}

/// Sets all inputs for a cycle of stimulus.
pub(crate) fn drive(pair: &mut Pair<'_>, cycle: u64) {
    let reset = pair.protocol.reset;
    for k in 0..pair.protocol.inputs as usize {
        let word = match reset {
            Some(reset) if reset.input as usize == k => {
                if reset.active_high {
                    resets(cycle)
                } else {
                    !resets(cycle)
                }
            }
            _ => stimulus(k as u64, cycle),
        };
        pair.set_input(k, word);
    }
}
