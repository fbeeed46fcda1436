//! Are two combinational netlists equal for every input, however many there are? Both become one graph over common
//! inputs, with a node that is 1 where they differ.

use crate::machine::{Machine, Source};
use crate::sat::{Answer, Sweep};
use base::{Budget, Exhausted, Id, Random};
use design::{Lit, Netlist, Node, NodeId};

/// What is known of two combinational machines.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Combinational {
    /// Equal for every input.
    Equal,
    /// They differ for these levels of the common inputs, of which as few as possible are 1.
    Differs(Vec<bool>),
    /// The effort ran out.
    Unknown,
}

/// Inputs up to which every combination may be run.
const MAX_EXHAUSTIVE: u32 = 26;
/// Rows of a sample, in words of 64.
const SAMPLE_WORDS: usize = 64;
/// Learnt clauses that leaving one more input out of a difference may take.
const RELEVANT_LIMIT: u64 = 200;

/// Two machines without registers in one graph.
#[derive(Clone, Debug)]
pub struct Joined {
    net: Netlist,
    common: Vec<Lit>,
    /// For each output: differs, or is unknown where a level is wanted.
    bad: Vec<Lit>,
    any: Lit,
}

impl Joined {
    /// Joins them; what the reference leaves unknown is free.
    pub fn new(reference: &Machine<'_>, design: &Machine<'_>, inputs: u32) -> Self {
        let mut net = Netlist::new();
        let common: Vec<Lit> = (0..inputs).map(|_| net.add_input()).collect();
        let wanted = import(&mut net, reference, &common);
        let is = import(&mut net, design, &common);
        let bad: Vec<Lit> = wanted
            .iter()
            .zip(&is)
            .map(|([value, unknown], [actual, actual_unknown])| {
                let differ = net.xor(*value, *actual);
                let wrong = net.or(differ, *actual_unknown);
                net.and(wrong, !*unknown)
            })
            .collect();
        let any = net.any(bad.iter().copied());
        Self { net, common, bad, any }
    }

    /// Are they equal? `effort` is the number of clauses that may be learnt for each output.
    ///
    /// # Errors
    /// When the budget runs out; a step is a node on 64 inputs, a learnt clause 10,000.
    pub fn compare(&self, effort: u64, budget: &mut Budget) -> Result<Combinational, Exhausted> {
        let mut sweep = Sweep::new(&self.net, self.common.len(), &self.bad, budget)?;
        if let Some(pattern) = sweep.seen_true(&self.bad) {
            return Ok(Combinational::Differs(fewest_ones(&self.net, self.any, pattern, budget)?));
        }
        let mut unsure = false;
        sweep.reduce(budget)?;
        for root in &self.bad {
            let root = sweep.lit(*root);
            match sweep.solve(&[root], effort, budget)? {
                Answer::Never => {}
                Answer::Unsure => unsure = true,
                Answer::Model(pattern) => {
                    return Ok(Combinational::Differs(fewest_ones(&self.net, self.any, pattern, budget)?));
                }
            }
        }
        Ok(if unsure { Combinational::Unknown } else { Combinational::Equal })
    }

    /// Compares by running every input there is, 64 at a time; `None` when there are more than 2^26 of them.
    ///
    /// # Errors
    /// When the budget runs out; a step is a node on 64 inputs.
    pub fn compare_exhaustively(&self, budget: &mut Budget) -> Result<Option<Combinational>, Exhausted> {
        let inputs = u32::try_from(self.common.len()).unwrap_or(u32::MAX);
        if !(6..=MAX_EXHAUSTIVE).contains(&inputs) {
            return Ok(None);
        }
        let mut first: Option<(u64, u32)> = None;
        let level = |k: u32, word: u64| logic::input_word(inputs, k, word);
        self.net.simulate(&[self.any], 1 << (inputs - 6), budget, level, |word, values| {
            if values[0] != 0 && first.is_none() {
                first = Some((word, values[0].trailing_zeros()));
            }
        })?;
        let Some((word, lane)) = first else { return Ok(Some(Combinational::Equal)) };
        let row = word << 6 | u64::from(lane);
        Ok(Some(Combinational::Differs((0..inputs).map(|k| row >> (inputs - 1 - k) & 1 == 1).collect())))
    }

    /// Is every output right for this input?
    ///
    /// # Errors
    /// When the budget runs out.
    pub fn is_right_at(&self, levels: &[bool], budget: &mut Budget) -> Result<bool, Exhausted> {
        let mut wrong = 0;
        let level = |k: u32, _: u64| u64::from(levels.get(k as usize).copied().unwrap_or(false));
        self.net.simulate(&[self.any], 1, budget, level, |_, values| wrong = values[0] & 1)?;
        Ok(wrong == 0)
    }

    /// How many of a sample of inputs have every output right, and how many there are: random ones, the same each time.
    ///
    /// # Errors
    /// When the budget runs out.
    pub fn sample(&self, budget: &mut Budget) -> Result<(u64, u64), Exhausted> {
        let mut random = Random::new(5);
        let words: Vec<Vec<u64>> =
            self.common.iter().map(|_| (0..SAMPLE_WORDS).map(|_| random.word()).collect()).collect();
        let mut wrong = 0;
        let level = |k: u32, word: u64| words[k as usize][word as usize];
        self.net.simulate(&[self.any], SAMPLE_WORDS as u64, budget, level, |_, values| {
            wrong += u64::from(values[0].count_ones());
        })?;
        let total = 64 * SAMPLE_WORDS as u64;
        Ok((total - wrong, total))
    }

    /// Is there an input for which every output is right? `None` when the effort ran out.
    ///
    /// # Errors
    /// When the budget runs out.
    pub fn is_right_somewhere(&self, effort: u64, budget: &mut Budget) -> Result<Option<bool>, Exhausted> {
        let mut sweep = Sweep::new(&self.net, self.common.len(), &[!self.any], budget)?;
        if sweep.seen_true(&[!self.any]).is_some() {
            return Ok(Some(true));
        }
        sweep.reduce(budget)?;
        let root = sweep.lit(!self.any);
        Ok(match sweep.solve(&[root], effort, budget)? {
            Answer::Never => Some(false),
            Answer::Model(_) => Some(true),
            Answer::Unsure => None,
        })
    }

    /// Which inputs of a difference matter: with those at their levels the two differ whatever the others are. None can
    /// be left out of the set, as far as a small effort tells.
    ///
    /// # Errors
    /// When the budget runs out.
    pub fn relevant(&self, difference: &[bool], budget: &mut Budget) -> Result<Vec<bool>, Exhausted> {
        let mut sweep = Sweep::new(&self.net, self.common.len(), &[self.any], budget)?;
        sweep.reduce(budget)?;
        let goal = sweep.lit(!self.any);
        let at = |k: usize, sweep: &Sweep<'_>| {
            let lit = sweep.lit(self.common[k]);
            if difference[k] { lit } else { !lit }
        };
        let place = |lit: Lit, sweep: &Sweep<'_>| (0..difference.len()).find(|k| at(*k, sweep) == lit);
        let mut kept: Vec<usize> = (0..difference.len()).collect();
        let mut next = 0;
        // The whole of it first, whose conflict leaves most inputs out; then one less at a time.
        let mut tried = kept.clone();
        loop {
            let lits: Vec<Lit> = tried.iter().map(|k| at(*k, &sweep)).collect();
            if let Some(core) = sweep.conflict(goal, &lits, RELEVANT_LIMIT, budget)? {
                kept = core.into_iter().filter_map(|l| place(l, &sweep)).collect();
            } else {
                next += 1;
            }
            if next >= kept.len() {
                break;
            }
            tried = kept.clone();
            tried.remove(next);
        }
        Ok((0..difference.len()).map(|k| kept.contains(&k)).collect())
    }
}

/// Compares two machines without registers. `effort` is the number of clauses that may be learnt for each output.
///
/// # Errors
/// When the budget runs out; a step is a node on 64 inputs, a learnt clause 10,000.
pub fn combinational(
    reference: &Machine<'_>,
    design: &Machine<'_>,
    inputs: u32,
    effort: u64,
    budget: &mut Budget,
) -> Result<Combinational, Exhausted> {
    Joined::new(reference, design, inputs).compare(effort, budget)
}

/// Levels of the compared outputs for an input: 0, 1 or X.
pub fn outputs_at(machine: &Machine<'_>, inputs: &[bool]) -> Vec<String> {
    let mut net = Netlist::new();
    let common: Vec<Lit> = inputs.iter().map(|l| Lit::from(*l)).collect();
    let shown = |[value, unknown]: [Lit; 2]| match (unknown, value) {
        (Lit::FALSE, Lit::TRUE) => "1",
        (Lit::FALSE, _) => "0",
        _ => "X",
    };
    import(&mut net, machine, &common).into_iter().map(|rails| shown(rails).to_owned()).collect()
}

/// Value and unknown rail of each compared output, over the common inputs.
fn import(net: &mut Netlist, machine: &Machine<'_>, common: &[Lit]) -> Vec<[Lit; 2]> {
    let map = copy(net, machine, common, Lit::FALSE, &[]);
    rails(machine, &map)
}

/// Copies a machine's gates: for each of its nodes what it is in `net`, over the common inputs, with the clock at a level
/// and some of its nodes (its registers) given.
pub(crate) fn copy(
    net: &mut Netlist,
    machine: &Machine<'_>,
    common: &[Lit],
    clock: Lit,
    given: &[(NodeId, Lit)],
) -> Vec<Lit> {
    let mut map: Vec<Lit> = vec![Lit::FALSE; machine.net.len()];
    for (bit, source) in machine.net.inputs.iter().zip(&machine.inputs) {
        let (lit, turned) = match source {
            Some(Source::Input(k, turned)) => (common[*k as usize], *turned),
            Some(Source::Clock(turned)) => (clock, *turned),
            None => continue,
        };
        map[bit.value.node().index()] = if turned { !lit } else { lit };
    }
    for (node, lit) in given {
        map[node.index()] = *lit;
    }
    let pick = |map: &[Lit], l: Lit| if l.is_complement() { !map[l.node().index()] } else { map[l.node().index()] };
    for index in 0..machine.net.len() {
        if let Node::And(a, b) = machine.net.node(NodeId::from_index(index)) {
            let (a, b) = (pick(&map, a), pick(&map, b));
            map[index] = net.and(a, b);
        }
    }
    map
}

/// Value and unknown rail of each compared output of a machine that was copied.
pub(crate) fn rails(machine: &Machine<'_>, map: &[Lit]) -> Vec<[Lit; 2]> {
    let pick = |l: Lit| if l.is_complement() { !map[l.node().index()] } else { map[l.node().index()] };
    let rails = machine.outputs.iter().map(|tap| {
        let Some(tap) = tap else { return [Lit::FALSE, Lit::TRUE] };
        let bit = &machine.net.outputs[tap.number];
        let value = pick(bit.value);
        [if tap.complement { !value } else { value }, pick(bit.unknown)]
    });
    rails.collect()
}

/// The same difference with as few inputs at 1 as single steps lead to.
fn fewest_ones(net: &Netlist, any: Lit, pattern: Vec<bool>, budget: &mut Budget) -> Result<Vec<bool>, Exhausted> {
    let mut best = pattern;
    let mut at = 0;
    while at < best.len() {
        // 64 inputs are tried to be 0 at a time; the first that may be is, and the rest are tried again.
        let chunk: Vec<usize> = (at..best.len()).filter(|k| best[*k]).take(64).collect();
        let Some(last) = chunk.last().copied() else { break };
        let mut seen = 0;
        let level = |k: u32, _| {
            let base = if best[k as usize] { u64::MAX } else { 0 };
            chunk.iter().position(|c| *c == k as usize).map_or(base, |lane| base & !(1 << lane))
        };
        net.simulate(&[any], 1, budget, level, |_, values| seen = values[0])?;
        let lanes = if chunk.len() == 64 { u64::MAX } else { (1 << chunk.len()) - 1 };
        match seen & lanes {
            0 => at = last + 1,
            found => {
                let zero = chunk[found.trailing_zeros() as usize];
                best[zero] = false;
                at = zero + 1;
            }
        }
    }
    Ok(best)
}
