//! Are two combinational netlists equal for every input, however many there are? Both become one graph; random inputs
//! find most differences; then nodes that behaved alike are proved equal one after the other, from the inputs up, so that
//! the outputs are left with little to prove (SAT sweeping, Kuehlmann and Krohm 1997).

use crate::machine::{Machine, Source};
use crate::pair::Random;
use base::{Budget, Exhausted, Id};
use batsat::{Callbacks, Solver, SolverInterface, SolverOpts, Var, lbool};
use design::{Lit, Netlist, Node, NodeId};
use rustc_hash::FxHashMap;

/// Words of 64 random inputs.
const WORDS: usize = 32;
/// Learnt clauses that proving two inner nodes equal may take.
const INNER_LIMIT: u64 = 300;
/// Nodes of like behaviour that a node is held against.
const CANDIDATES: usize = 2;

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

/// Counts learnt clauses and stops at a limit, so that the same question always ends the same way.
#[derive(Default)]
struct Effort {
    learnt: u64,
    limit: u64,
}

impl Callbacks for Effort {
    fn on_new_clause(&mut self, _: &[batsat::Lit], _: batsat::ClauseKind) {
        self.learnt += 1;
    }

    fn stop(&self) -> bool {
        self.learnt >= self.limit
    }
}

/// Compares two machines without registers. `effort` is the number of clauses that may be learnt.
///
/// # Errors
/// When the budget runs out; a step is a node on 64 inputs, a learnt clause a hundred.
pub fn combinational(
    reference: &Machine<'_>,
    design: &Machine<'_>,
    inputs: u32,
    effort: u64,
    budget: &mut Budget,
) -> Result<Combinational, Exhausted> {
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
    let mut sweep = Sweep::new(&net, inputs as usize, &bad, budget)?;
    if let Some(pattern) = sweep.seen_wrong(&bad) {
        return Ok(Combinational::Differs(fewest_ones(&net, any, pattern, budget)?));
    }
    let mut unsure = false;
    sweep.reduce(budget)?;
    for root in bad {
        let root = sweep.lit(root);
        match sweep.solve(&[root], effort, budget)? {
            Answer::Never => {}
            Answer::Unsure => unsure = true,
            Answer::Model(pattern) => return Ok(Combinational::Differs(fewest_ones(&net, any, pattern, budget)?)),
        }
    }
    Ok(if unsure { Combinational::Unknown } else { Combinational::Equal })
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
    let mut map: Vec<Lit> = vec![Lit::FALSE; machine.net.len()];
    for (bit, source) in machine.net.inputs.iter().zip(&machine.inputs) {
        if let Some(Source::Input(k, turned)) = source {
            let lit = common[*k as usize];
            map[bit.value.node().index()] = if *turned { !lit } else { lit };
        }
    }
    let pick = |map: &[Lit], l: Lit| if l.is_complement() { !map[l.node().index()] } else { map[l.node().index()] };
    for index in 0..machine.net.len() {
        if let Node::And(a, b) = machine.net.node(NodeId::from_index(index)) {
            let (a, b) = (pick(&map, a), pick(&map, b));
            map[index] = net.and(a, b);
        }
    }
    let rails = machine.outputs.iter().map(|tap| {
        let Some(tap) = tap else { return [Lit::FALSE, Lit::TRUE] };
        let bit = &machine.net.outputs[tap.number];
        let value = pick(&map, bit.value);
        [if tap.complement { !value } else { value }, pick(&map, bit.unknown)]
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

enum Answer {
    Never,
    Model(Vec<bool>),
    Unsure,
}

struct Sweep<'n> {
    net: &'n Netlist,
    /// What each node of the graph did on the random inputs.
    seen: Vec<[u64; WORDS]>,
    cone: Vec<NodeId>,
    inputs: usize,
    /// The graph with equal nodes made one.
    small: Netlist,
    map: Vec<Lit>,
    solver: Solver<Effort>,
    vars: FxHashMap<NodeId, Var>,
}

impl<'n> Sweep<'n> {
    fn new(net: &'n Netlist, inputs: usize, roots: &[Lit], budget: &mut Budget) -> Result<Self, Exhausted> {
        let cone = net.cone(roots);
        budget.spend((cone.len() * WORDS) as u64)?;
        let mut random = Random::new(2);
        let mut seen = vec![[0u64; WORDS]; net.len()];
        let mut small = Netlist::new();
        let mut map = vec![Lit::FALSE; net.len()];
        for k in 0..inputs {
            let lit = small.add_input();
            // Inputs are the first nodes behind the constant, in both graphs.
            let node = lit.node().index();
            map[node] = lit;
            for (w, word) in seen[node].iter_mut().enumerate() {
                *word = match w {
                    // A single 1 or a single 0 among the inputs: what long chains need to be told apart.
                    0 => {
                        if k < 64 {
                            1 << k
                        } else {
                            0
                        }
                    }
                    1 => {
                        if k < 64 {
                            !(1 << k)
                        } else {
                            u64::MAX
                        }
                    }
                    _ => random.word(),
                };
            }
        }
        for id in &cone {
            if let Node::And(a, b) = net.node(*id) {
                let mut words = [0u64; WORDS];
                for (w, word) in words.iter_mut().enumerate() {
                    let side = |l: Lit| seen[l.node().index()][w] ^ if l.is_complement() { u64::MAX } else { 0 };
                    *word = side(a) & side(b);
                }
                seen[id.index()] = words;
            }
        }
        let solver = Solver::new(SolverOpts::default(), Effort::default());
        Ok(Self { net, seen, cone, inputs, small, map, solver, vars: FxHashMap::default() })
    }

    fn lit(&self, l: Lit) -> Lit {
        let base = self.map[l.node().index()];
        if l.is_complement() { !base } else { base }
    }

    /// An input among the random ones that makes a root 1.
    fn seen_wrong(&self, roots: &[Lit]) -> Option<Vec<bool>> {
        for root in roots {
            let turned = if root.is_complement() { u64::MAX } else { 0 };
            let words = &self.seen[root.node().index()];
            if let Some((w, word)) = words.iter().map(|w| w ^ turned).enumerate().find(|(_, w)| *w != 0) {
                let lane = word.trailing_zeros();
                return Some((1..=self.inputs).map(|node| self.seen[node][w] >> lane & 1 == 1).collect());
            }
        }
        None
    }

    /// Makes nodes one that are equal for every input, from the inputs up.
    fn reduce(&mut self, budget: &mut Budget) -> Result<(), Exhausted> {
        let mut alike: FxHashMap<[u64; WORDS], Vec<Lit>> = FxHashMap::default();
        alike.insert([0; WORDS], vec![Lit::FALSE]);
        for index in 1..=self.inputs {
            let (key, turned) = normal(&self.seen[index]);
            let lit = self.map[index];
            alike.entry(key).or_default().push(if turned { !lit } else { lit });
        }
        for id in self.cone.clone() {
            let Node::And(a, b) = self.net.node(id) else { continue };
            let (a, b) = (self.lit(a), self.lit(b));
            let before = self.small.len();
            let made = self.small.and(a, b);
            self.map[id.index()] = made;
            if self.small.len() == before {
                continue;
            }
            let (key, turned) = normal(&self.seen[id.index()]);
            let candidates: Vec<Lit> = alike.get(&key).into_iter().flatten().copied().take(CANDIDATES).collect();
            let phased = |l: Lit| if turned { !l } else { l };
            let mut equal = None;
            for candidate in candidates {
                let other = phased(candidate);
                if self.are_equal(made, other, budget)? {
                    equal = Some(other);
                    break;
                }
            }
            match equal {
                Some(other) => self.map[id.index()] = other,
                None => alike.entry(key).or_default().push(phased(made)),
            }
        }
        Ok(())
    }

    fn are_equal(&mut self, a: Lit, b: Lit, budget: &mut Budget) -> Result<bool, Exhausted> {
        for pair in [[a, !b], [!a, b]] {
            if !matches!(self.solve(&pair, INNER_LIMIT, budget)?, Answer::Never) {
                return Ok(false);
            }
        }
        // What is proved helps with what follows.
        for pair in [[!a, b], [a, !b]] {
            let mut clause: Vec<batsat::Lit> = pair.iter().filter_map(|l| self.solver_lit(*l)).collect();
            if clause.len() == 2 {
                self.solver.add_clause_reuse(&mut clause);
            }
        }
        Ok(true)
    }

    /// The variable of a literal; constants have none.
    fn solver_lit(&mut self, l: Lit) -> Option<batsat::Lit> {
        if l.is_const() {
            return None;
        }
        let mut stack = vec![l.node()];
        while let Some(id) = stack.last().copied() {
            if self.vars.contains_key(&id) {
                stack.pop();
                continue;
            }
            let Node::And(a, b) = self.small.node(id) else {
                let var = self.solver.new_var_default();
                self.vars.insert(id, var);
                continue;
            };
            let missing: Vec<NodeId> =
                [a, b].into_iter().map(Lit::node).filter(|n| !self.vars.contains_key(n)).collect();
            if missing.is_empty() {
                let var = self.solver.new_var_default();
                self.vars.insert(id, var);
                let of = |l: Lit, vars: &FxHashMap<NodeId, Var>| batsat::Lit::new(vars[&l.node()], !l.is_complement());
                let (n, a, b) = (batsat::Lit::new(var, true), of(a, &self.vars), of(b, &self.vars));
                for mut clause in [vec![!n, a], vec![!n, b], vec![n, !a, !b]] {
                    self.solver.add_clause_reuse(&mut clause);
                }
            } else {
                stack.extend(missing);
            }
        }
        Some(batsat::Lit::new(self.vars[&l.node()], !l.is_complement()))
    }

    /// Can all literals be 1 at once?
    fn solve(&mut self, lits: &[Lit], limit: u64, budget: &mut Budget) -> Result<Answer, Exhausted> {
        if lits.contains(&Lit::FALSE) {
            return Ok(Answer::Never);
        }
        let assumed: Vec<batsat::Lit> = lits.iter().filter_map(|l| self.solver_lit(*l)).collect();
        *self.solver.cb_mut() = Effort { learnt: 0, limit };
        let answer = self.solver.solve_limited(&assumed);
        budget.spend(1 + 100 * self.solver.cb().learnt)?;
        if answer == lbool::FALSE {
            return Ok(Answer::Never);
        }
        if answer != lbool::TRUE {
            return Ok(Answer::Unsure);
        }
        let level = |node: usize| {
            let var = self.vars.get(&NodeId::from_index(node));
            var.is_some_and(|v| self.solver.value_var(*v) == lbool::TRUE)
        };
        Ok(Answer::Model((1..=self.inputs).map(level).collect()))
    }
}

/// The words as they are or complemented, so that the first bit is 0.
fn normal(words: &[u64; WORDS]) -> ([u64; WORDS], bool) {
    if words[0] & 1 == 0 { (*words, false) } else { (words.map(|w| !w), true) }
}
