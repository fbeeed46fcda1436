//! SAT on a graph of gates: random inputs find most of what is to be found; then nodes that behaved alike are proved
//! equal one after the other, from the inputs up, so that the outputs are left with little to prove (SAT sweeping,
//! Kuehlmann and Krohm 1997).

use base::{Budget, Exhausted, Id, Random};
use batsat::{Callbacks, Solver, SolverInterface, SolverOpts, Var, lbool};
use design::{Lit, Netlist, Node, NodeId};
use rustc_hash::FxHashMap;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

/// Words of 64 random inputs.
const WORDS: usize = 32;
/// Learnt clauses that proving two inner nodes equal may take.
const INNER_LIMIT: u64 = 300;
/// Nodes of like behaviour that a node is held against.
const CANDIDATES: usize = 2;

/// Steps of the budget for a learnt clause: what the solver does between two of them on a hard question.
const LEARNT_STEPS: u64 = 10_000;
/// The same on a graph of a few thousand nodes.
const SMALL_LEARNT_STEPS: u64 = 1_000;

/// Counts learnt clauses and stops at a limit, so that the same question always ends the same way, or when it is
/// cancelled.
#[derive(Default)]
struct Effort {
    learnt: u64,
    limit: u64,
    cancel: Option<Arc<AtomicBool>>,
}

impl Callbacks for Effort {
    fn on_new_clause(&mut self, _: &[batsat::Lit], _: batsat::ClauseKind) {
        self.learnt += 1;
    }

    fn stop(&self) -> bool {
        self.learnt >= self.limit || self.cancel.as_ref().is_some_and(|flag| flag.load(Ordering::Relaxed))
    }
}

pub(crate) enum Answer {
    Never,
    Model(Vec<bool>),
    Unsure,
}

pub(crate) struct Sweep<'n> {
    net: &'n Netlist,
    /// What each node of the graph did on the random inputs.
    seen: Vec<[u64; WORDS]>,
    cone: Vec<NodeId>,
    inputs: usize,
    /// The graph with equal nodes made one.
    small: Netlist,
    map: Vec<Lit>,
    solver: Solver<Effort>,
    /// Steps of the budget for a learnt clause.
    learnt_steps: u64,
    vars: FxHashMap<NodeId, Var>,
}

impl<'n> Sweep<'n> {
    /// The graph's first `inputs` nodes are its inputs.
    pub(crate) fn new(net: &'n Netlist, inputs: usize, roots: &[Lit], budget: &mut Budget) -> Result<Self, Exhausted> {
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
        Ok(Self { net, seen, cone, inputs, small, map, solver, learnt_steps: LEARNT_STEPS, vars: FxHashMap::default() })
    }

    /// What a literal of the graph was on the random inputs.
    pub(crate) fn seen(&self, l: Lit) -> Vec<u64> {
        let words = &self.seen[l.node().index()];
        words.iter().map(|w| if l.is_complement() { !w } else { *w }).collect()
    }

    pub(crate) fn lit(&self, l: Lit) -> Lit {
        let base = self.map[l.node().index()];
        if l.is_complement() { !base } else { base }
    }

    /// An input among the random ones that makes a root 1.
    pub(crate) fn seen_true(&self, roots: &[Lit]) -> Option<Vec<bool>> {
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

    /// Takes the graph as it is, without looking for equal nodes: for small graphs, on which a clause is soon learnt.
    pub(crate) fn take_over(&mut self) {
        self.learnt_steps = SMALL_LEARNT_STEPS;
        for id in self.cone.clone() {
            if let Node::And(a, b) = self.net.node(id) {
                let (a, b) = (self.lit(a), self.lit(b));
                self.map[id.index()] = self.small.and(a, b);
            }
        }
    }

    /// Makes nodes one that are equal for every input, from the inputs up.
    pub(crate) fn reduce(&mut self, budget: &mut Budget) -> Result<(), Exhausted> {
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

    /// Which of the literals, inputs or complements of them, can't all be 1 with `goal`: a part of them that is as
    /// impossible, where SAT finds one within the limit.
    pub(crate) fn conflict(
        &mut self,
        goal: Lit,
        lits: &[Lit],
        limit: u64,
        budget: &mut Budget,
    ) -> Result<Option<Vec<Lit>>, Exhausted> {
        let all: Vec<Lit> = lits.iter().copied().chain([goal]).collect();
        if !matches!(self.solve(&all, limit, budget)?, Answer::Never) {
            return Ok(None);
        }
        if goal == Lit::FALSE {
            return Ok(Some(Vec::new()));
        }
        let mut core = Vec::new();
        for lit in lits {
            if let Some(assumed) = self.solver_lit(*lit)
                && (self.solver.unsat_core_contains_lit(assumed) || self.solver.unsat_core_contains_lit(!assumed))
            {
                core.push(*lit);
            }
        }
        Ok(Some(core))
    }

    /// Can all literals be 1 at once?
    pub(crate) fn solve(&mut self, lits: &[Lit], limit: u64, budget: &mut Budget) -> Result<Answer, Exhausted> {
        if lits.contains(&Lit::FALSE) {
            return Ok(Answer::Never);
        }
        let assumed: Vec<batsat::Lit> = lits.iter().filter_map(|l| self.solver_lit(*l)).collect();
        // One clause more than the budget allows is enough to find it used up.
        let limit = limit.min(budget.steps_left() / self.learnt_steps + 1);
        *self.solver.cb_mut() = Effort { learnt: 0, limit, cancel: budget.cancel_flag() };
        let answer = self.solver.solve_limited(&assumed);
        budget.spend(1 + self.learnt_steps * self.solver.cb().learnt)?;
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
