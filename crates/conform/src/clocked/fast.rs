//! Follows an output of a clocked design as machine code where the design allows it.

use base::{Budget, Exhausted, Resource};
use cycle::Engine;
use design::{Design, Netlist};
use elab::ExercisePort;
use exercise::Clocked;
use prove::{Follower, Walker};
use std::collections::BTreeMap;

/// Cycles between two looks at the budget.
const CHUNK: u64 = 10_000_000;
/// Cycles for one step of the budget.
const CYCLES_A_STEP: u64 = 10;
/// Cycles over which the machine code is held against the netlist before it is trusted.
const TRIAL: u64 = 512;

pub(super) struct Fast {
    engine: Engine,
}

impl Fast {
    /// The design at the moment where the walker stands; `None` when it can't be run this way.
    pub(super) fn new(
        design: &Design,
        netlist: &Netlist,
        spec: &Clocked,
        ports: &[ExercisePort],
        output: usize,
        walker: &Walker<'_>,
    ) -> Option<Self> {
        let registers: Option<Vec<bool>> = walker.registers().into_iter().collect();
        let registers = registers.filter(|_| walker.is_plain())?;
        let mut levels = BTreeMap::new();
        levels.insert(spec.clock.clone(), u64::from(spec.rising));
        if let Some(reset) = &spec.reset {
            levels.insert(reset.port.clone(), u64::from(!reset.active_high));
        }
        let name = spec.outputs.get(output)?;
        let port = ports.iter().find(|p| p.bit_names().any(|n| n == *name))?;
        let width = port.shape.width();
        let place = port.bit_names().position(|n| n == *name).and_then(|i| u32::try_from(i).ok())?;
        let mut engine = Engine::new(design, netlist, &levels, (&port.name, width - 1 - place)).ok()?;
        engine.start(&registers);
        Some(Self { engine })
    }

    /// Does it move as the walker does, cycle by cycle? Both go on from where they stand.
    pub(super) fn agrees(&mut self, walker: &mut Walker<'_>, budget: &mut Budget) -> Result<bool, Exhausted> {
        let mut left = TRIAL;
        while left > 0 {
            if Some(self.engine.level()) != walker.level() {
                return Ok(false);
            }
            let (fast, slow) = (self.engine.run(left), walker.run(left, budget)?);
            if fast != Some(slow)
                || walker.registers() != self.engine.registers().into_iter().map(Some).collect::<Vec<_>>()
            {
                return Ok(false);
            }
            left -= slow;
        }
        Ok(true)
    }

    /// Back to given register levels.
    pub(super) fn restart(&mut self, registers: &[bool]) {
        self.engine.start(registers);
    }
}

impl Follower for Fast {
    fn run(&mut self, limit: u64, budget: &mut Budget) -> Result<u64, Exhausted> {
        let mut ran = 0;
        while ran < limit {
            let chunk = CHUNK.min(limit - ran);
            let before = self.engine.level();
            let done = self.engine.run(chunk).ok_or(Exhausted(Resource::Steps))?;
            budget.spend(done / CYCLES_A_STEP + 1)?;
            ran += done;
            if self.engine.level() != before {
                break;
            }
        }
        Ok(ran)
    }

    fn level(&self) -> Option<bool> {
        Some(self.engine.level())
    }

    fn state(&self) -> Vec<u64> {
        let bits = self.engine.registers();
        bits.chunks(64).map(|c| c.iter().enumerate().fold(0, |w, (i, b)| w | u64::from(*b) << i)).collect()
    }
}
