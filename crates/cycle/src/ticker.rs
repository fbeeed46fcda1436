//! A netlist as machine code: one call lets an oscillator tick as often as is wanted, other inputs at rest. Clocks that
//! registers make are followed; levels that may be unknown are not.
//!
//! The state is that of [`design::Lanes`] without a main clock, so that both can take turns.

use crate::Unsupported;
use crate::engine::new_module;
use cranelift_codegen::ir::condcodes::IntCC;
use cranelift_codegen::ir::types::I64;
use cranelift_codegen::ir::{AbiParam, Block, InstBuilder, MemFlagsData, Value};
use cranelift_frontend::{FunctionBuilder, FunctionBuilderContext, Variable};
use cranelift_jit::JITModule;
use cranelift_module::{FuncId, Linkage, Module};
use design::{Lit, Netlist, Node, NodeId};
use std::collections::BTreeMap;

/// Nodes beyond which compiling takes longer than it saves.
const MAX_NODES: usize = 20_000;
/// Set in the result of a call whose levels never came to rest.
const BAILED: u64 = 1 << 63;

/// A netlist that ticks.
pub struct Ticker {
    module: Option<JITModule>,
    function: FuncId,
    inputs: usize,
    registers: usize,
    clocks: usize,
    memory: Vec<u64>,
    is_plain: bool,
    nodes: usize,
}

impl Ticker {
    /// Compiles a netlist for ticks of the input of that number.
    ///
    /// # Errors
    /// When it has latches or sources of unknown levels, or is too large.
    pub fn new(net: &Netlist, oscillator: usize) -> Result<Self, Unsupported> {
        let plan = Plan::new(net, oscillator)?;
        let mut module = new_module()?;
        let mut context = module.make_context();
        let mut functions = FunctionBuilderContext::new();
        context.func.signature.params.extend([AbiParam::new(I64), AbiParam::new(I64)]);
        context.func.signature.returns.push(AbiParam::new(I64));
        let mut code = FunctionBuilder::new(&mut context.func, &mut functions);
        Emitter::new(&plan, &mut code).function()?;
        code.seal_all_blocks();
        code.finalize(module.target_config());
        let machine = |_| Unsupported("this machine");
        let function = module
            .declare_function("ticks", Linkage::Local, &context.func.signature)
            .map_err(|e| machine(e.to_string()))?;
        module.define_function(function, &mut context).map_err(|e| machine(e.to_string()))?;
        module.finalize_definitions().map_err(|e| machine(e.to_string()))?;
        let (inputs, registers, clocks) = (net.inputs.len(), net.registers.len(), plan.clocks.len());
        let memory = vec![0; inputs + registers + clocks];
        let (is_plain, nodes) = (plan.is_plain(), plan.cone.len());
        Ok(Self { module: Some(module), function, inputs, registers, clocks, memory, is_plain, nodes })
    }

    /// Nodes that a tick passes at least; never 0.
    pub fn cost(&self) -> u64 {
        self.nodes.max(1) as u64 * if self.is_plain { 1 } else { 4 }
    }

    /// True when a tick is one pass through the logic.
    pub fn is_plain(&self) -> bool {
        self.is_plain
    }

    /// Ticks so often from a state of [`design::Lanes::state`] (without a main clock), which becomes the state after it;
    /// `levels` are those of the netlist's inputs in 64 lanes. False, and nothing changed, when the state is of another
    /// netlist or has unknown levels, or when the levels never come to rest.
    pub fn run(&mut self, state: &mut [u64], levels: &[u64], ticks: u64) -> bool {
        let fits = state.len() == 2 * self.registers + self.clocks && levels.len() == self.inputs;
        if !fits || state[..2 * self.registers].chunks_exact(2).any(|pair| pair[1] != 0) {
            return false;
        }
        let (registers, clocks) = state.split_at(2 * self.registers);
        self.memory.clear();
        self.memory.extend(levels);
        self.memory.extend(registers.chunks_exact(2).map(|pair| pair[0]));
        self.memory.extend(clocks);
        if self.call(ticks.min(BAILED - 1)) & BAILED != 0 {
            return false;
        }
        let after = &self.memory[self.inputs..];
        for (pair, value) in state.chunks_exact_mut(2).zip(&after[..self.registers]) {
            pair[0] = *value;
        }
        state[2 * self.registers..].copy_from_slice(&after[self.registers..]);
        true
    }

    #[allow(unsafe_code, reason = "the only way to call machine code; what it may touch is said below")]
    fn call(&mut self, ticks: u64) -> u64 {
        let Some(module) = &self.module else { return BAILED };
        let code = module.get_finalized_function(self.function);
        // SAFETY: `code` was made by `new` with this signature and lives as long as `module`. It reads and writes the
        // words of `memory`, which `run` has filled to the number that was fixed when it was made, at constant places,
        // and nothing else: it calls nothing and computes no address. Its loops count down, so it returns.
        let function = unsafe { std::mem::transmute::<*const u8, extern "C" fn(*mut u64, u64) -> u64>(code) };
        function(self.memory.as_mut_ptr(), ticks)
    }
}

impl Drop for Ticker {
    #[allow(unsafe_code, reason = "gives the code's memory back")]
    fn drop(&mut self) {
        if let Some(module) = self.module.take() {
            // SAFETY: nothing holds a pointer into the code but `call`, which has returned.
            unsafe { module.free_memory() };
        }
    }
}

/// What has to be computed.
struct Plan<'n> {
    net: &'n Netlist,
    /// Node of the oscillator.
    oscillator: NodeId,
    /// Nodes in the order of computation.
    cone: Vec<NodeId>,
    /// Distinct clocks, none complemented, in the order of [`design::Lanes`].
    clocks: Vec<Lit>,
    /// For each register its clock and whether it loads when that goes up.
    edges: Vec<(usize, bool)>,
}

impl<'n> Plan<'n> {
    fn new(net: &'n Netlist, oscillator: usize) -> Result<Self, Unsupported> {
        let input = net.inputs.get(oscillator).ok_or(Unsupported("no oscillator"))?;
        if net.latches > 0 {
            return Err(Unsupported("latches"));
        }
        let mut roots = Vec::new();
        for r in &net.registers {
            roots.extend([r.clock, r.next, r.next_unknown]);
            roots.extend(r.controls.iter().flat_map(|c| [c.condition, c.value, c.unknown]));
        }
        let cone = net.cone(&roots);
        if cone.len() > MAX_NODES {
            return Err(Unsupported("too many nodes"));
        }
        let mut clocks: Vec<Lit> = Vec::new();
        let edges = net.registers.iter().map(|r| {
            let plain = if r.clock.is_complement() { !r.clock } else { r.clock };
            let clock = clocks.iter().position(|c| *c == plain).unwrap_or_else(|| {
                clocks.push(plain);
                clocks.len() - 1
            });
            (clock, r.rising != r.clock.is_complement())
        });
        let edges = edges.collect();
        Ok(Self { net, oscillator: input.value.node(), cone, clocks, edges })
    }

    /// True when all registers load at one edge of the oscillator, which nothing else reads, and no register takes a level
    /// at once because of what registers hold.
    fn is_plain(&self) -> bool {
        let Some((_, rising)) = self.edges.first() else { return true };
        let oscillator = Lit::new(self.oscillator, false);
        if self.clocks != [oscillator] || self.edges.iter().any(|(_, r)| r != rising) {
            return false;
        }
        let reads = |l: &Lit| l.node() == self.oscillator;
        let in_logic = self.cone.iter().any(|id| match self.net.node(*id) {
            Node::And(a, b) => reads(&a) || reads(&b),
            _ => false,
        });
        let conditions: Vec<Lit> =
            self.net.registers.iter().flat_map(|r| r.controls.iter().map(|c| c.condition)).collect();
        let held: Vec<NodeId> = self.net.registers.iter().map(|r| r.value.node()).collect();
        let on_state = self.net.cone(&conditions).iter().any(|id| held.contains(id));
        let loads = self.net.registers.iter().any(|r| {
            let controls = r.controls.iter().flat_map(|c| [c.condition, c.value]);
            controls.chain([r.next]).any(|l| reads(&l))
        });
        !in_logic && !loads && !on_state
    }
}

/// A level while code is made: known, or a value with its complement pending.
#[derive(Clone, Copy)]
enum Level {
    Known(bool),
    At(Value, bool),
}

impl Level {
    fn flipped(self, flip: bool) -> Self {
        match self {
            Level::Known(b) => Level::Known(b != flip),
            Level::At(v, c) => Level::At(v, c != flip),
        }
    }
}

struct Emitter<'p, 'n, 'c, 'f> {
    plan: &'p Plan<'n>,
    code: &'c mut FunctionBuilder<'f>,
    inputs: BTreeMap<NodeId, Value>,
    /// What each register holds, and each clock held last.
    held: Vec<Variable>,
    before: Vec<Variable>,
    ran: Variable,
    bail: Block,
}

impl<'p, 'n, 'c, 'f> Emitter<'p, 'n, 'c, 'f> {
    fn new(plan: &'p Plan<'n>, code: &'c mut FunctionBuilder<'f>) -> Self {
        let mut variables = |n: usize| (0..n).map(|_| code.declare_var(I64)).collect::<Vec<_>>();
        let held = variables(plan.net.registers.len());
        let before = variables(plan.clocks.len());
        let ran = code.declare_var(I64);
        let bail = code.create_block();
        Self { plan, code, inputs: BTreeMap::new(), held, before, ran, bail }
    }

    fn function(mut self) -> Result<(), Unsupported> {
        let net = self.plan.net;
        let entry = self.code.create_block();
        self.code.append_block_params_for_function_params(entry);
        self.code.switch_to_block(entry);
        let (memory, limit) = (self.code.block_params(entry)[0], self.code.block_params(entry)[1]);
        let at = |slot: usize| i32::try_from(8 * slot).unwrap_or(0);
        for (i, input) in net.inputs.iter().enumerate() {
            let value = self.code.ins().load(I64, MemFlagsData::trusted(), memory, at(i));
            self.inputs.insert(input.value.node(), value);
        }
        let first = net.inputs.len();
        let places: Vec<Variable> = self.held.iter().chain(&self.before).copied().collect();
        for (i, place) in places.iter().enumerate() {
            let value = self.code.ins().load(I64, MemFlagsData::trusted(), memory, at(first + i));
            self.code.def_var(*place, value);
        }
        let zero = self.code.ins().iconst(I64, 0);
        self.code.def_var(self.ran, zero);
        let (head, cycle, exit) = (self.code.create_block(), self.code.create_block(), self.code.create_block());
        self.code.ins().jump(head, &[]);
        self.code.switch_to_block(head);
        let ran = self.code.use_var(self.ran);
        let done = self.code.ins().icmp(IntCC::Equal, ran, limit);
        self.code.ins().brif(done, exit, &[], cycle, &[]);
        self.code.switch_to_block(cycle);
        if self.plan.is_plain() {
            let levels = self.levels(false)?;
            let next = self.next(&levels, &vec![Some(Level::Known(true)); self.plan.clocks.len()])?;
            for (place, value) in self.held.clone().into_iter().zip(next) {
                self.code.def_var(place, value);
            }
        } else {
            self.settle(true)?;
            self.settle(false)?;
        }
        let ran = self.code.use_var(self.ran);
        let more = self.code.ins().iadd_imm_s(ran, 1);
        self.code.def_var(self.ran, more);
        self.code.ins().jump(head, &[]);
        self.code.switch_to_block(self.bail);
        let bailed = self.code.ins().iconst(I64, BAILED.cast_signed());
        self.code.def_var(self.ran, bailed);
        self.code.ins().jump(exit, &[]);
        self.code.switch_to_block(exit);
        for (i, place) in places.iter().enumerate() {
            let value = self.code.use_var(*place);
            self.code.ins().store(MemFlagsData::trusted(), value, memory, at(first + i));
        }
        let ran = self.code.use_var(self.ran);
        self.code.ins().return_(&[ran]);
        Ok(())
    }

    /// Half a period: levels pass through the logic, edges load registers, until nothing moves.
    fn settle(&mut self, high: bool) -> Result<(), Unsupported> {
        let (turn, done) = (self.code.create_block(), self.code.create_block());
        let fuel = self.code.declare_var(I64);
        let full = self.code.ins().iconst(I64, 2 * self.plan.clocks.len() as i64 + 16);
        self.code.def_var(fuel, full);
        self.code.ins().jump(turn, &[]);
        self.code.switch_to_block(turn);
        let levels = self.levels(high)?;
        // For each clock the lanes where it went up; where it went down is asked by complement.
        let mut now = Vec::new();
        for clock in &self.plan.clocks {
            let level = self.level(&levels, *clock);
            now.push(self.value(level));
        }
        let (mut ups, mut downs) = (Vec::new(), Vec::new());
        for (place, now) in self.before.clone().into_iter().zip(&now) {
            let before = self.code.use_var(place);
            ups.push(self.code.ins().band_not(*now, before));
            downs.push(self.code.ins().band_not(before, *now));
            self.code.def_var(place, *now);
        }
        let mut changed: Option<Value> = None;
        let mut fresh = Vec::new();
        for (k, (clock, rising)) in self.plan.edges.clone().into_iter().enumerate() {
            let edge = Level::At(if rising { ups[clock] } else { downs[clock] }, false);
            let old = self.code.use_var(self.held[k]);
            let value = self.loaded(k, &levels, edge)?;
            let differs = self.code.ins().bxor(old, value);
            changed = Some(match changed {
                Some(sum) => self.code.ins().bor(sum, differs),
                None => differs,
            });
            fresh.push(value);
        }
        for (place, value) in self.held.clone().into_iter().zip(fresh) {
            self.code.def_var(place, value);
        }
        let left = self.code.use_var(fuel);
        let left = self.code.ins().iadd_imm_s(left, -1);
        self.code.def_var(fuel, left);
        let again = self.code.create_block();
        match changed {
            Some(changed) => self.code.ins().brif(changed, again, &[], done, &[]),
            None => self.code.ins().jump(done, &[]),
        };
        self.code.switch_to_block(again);
        self.code.ins().brif(left, turn, &[], self.bail, &[]);
        self.code.switch_to_block(done);
        Ok(())
    }

    /// What each register holds after an edge on those lanes of its clock.
    fn next(&mut self, levels: &BTreeMap<NodeId, Level>, edges: &[Option<Level>]) -> Result<Vec<Value>, Unsupported> {
        let each = self.plan.edges.clone().into_iter().enumerate();
        each.map(|(k, (clock, _))| self.loaded(k, levels, edges[clock].unwrap_or(Level::Known(false)))).collect()
    }

    /// A register after an edge on those lanes, asynchronous controls taken.
    fn loaded(&mut self, k: usize, levels: &BTreeMap<NodeId, Level>, edge: Level) -> Result<Value, Unsupported> {
        let register = &self.plan.net.registers[k];
        let unknowns = register.controls.iter().map(|c| c.unknown).chain([register.next_unknown]);
        for unknown in unknowns {
            if !matches!(self.level(levels, unknown), Level::Known(false)) {
                return Err(Unsupported("levels that may be unknown"));
            }
        }
        let old = Level::At(self.code.use_var(self.held[k]), false);
        let next = self.level(levels, register.next);
        let mut value = self.choose(edge, next, old);
        // The first control that holds counts, so it is applied last.
        for control in register.controls.iter().rev() {
            let (condition, level) = (self.level(levels, control.condition), self.level(levels, control.value));
            value = self.choose(condition, level, value);
        }
        Ok(self.value(value))
    }

    /// The levels of all nodes.
    fn levels(&mut self, high: bool) -> Result<BTreeMap<NodeId, Level>, Unsupported> {
        let net = self.plan.net;
        let mut levels: BTreeMap<NodeId, Level> = BTreeMap::new();
        for (register, place) in net.registers.iter().zip(self.held.clone()) {
            let value = self.code.use_var(place);
            levels.insert(register.value.node(), Level::At(value, false));
            levels.insert(register.unknown.node(), Level::Known(false));
        }
        for (node, value) in &self.inputs {
            levels.insert(*node, Level::At(*value, false));
        }
        levels.insert(self.plan.oscillator, Level::Known(high));
        for id in &self.plan.cone {
            let level = match net.node(*id) {
                Node::False => Level::Known(false),
                Node::Input(_) => match levels.get(id) {
                    Some(level) => *level,
                    None => return Err(Unsupported("an input that is joined to nothing")),
                },
                Node::And(a, b) => {
                    let (a, b) = (self.level(&levels, a), self.level(&levels, b));
                    self.and(a, b)
                }
            };
            levels.insert(*id, level);
        }
        Ok(levels)
    }

    fn level(&self, levels: &BTreeMap<NodeId, Level>, lit: Lit) -> Level {
        levels.get(&lit.node()).map_or(Level::Known(lit.is_complement()), |l| l.flipped(lit.is_complement()))
    }

    fn and(&mut self, a: Level, b: Level) -> Level {
        match (a, b) {
            (Level::Known(false), _) | (_, Level::Known(false)) => Level::Known(false),
            (Level::Known(true), other) | (other, Level::Known(true)) => other,
            (Level::At(x, false), Level::At(y, false)) => Level::At(self.code.ins().band(x, y), false),
            (Level::At(x, true), Level::At(y, true)) => Level::At(self.code.ins().bor(x, y), true),
            (Level::At(x, false), Level::At(y, true)) | (Level::At(y, true), Level::At(x, false)) => {
                Level::At(self.code.ins().band_not(x, y), false)
            }
        }
    }

    /// `then` on the lanes of `condition`, `otherwise` on the others.
    fn choose(&mut self, condition: Level, then: Level, otherwise: Level) -> Level {
        match condition {
            Level::Known(true) => then,
            Level::Known(false) => otherwise,
            Level::At(..) => {
                let a = self.and(condition, then);
                let b = self.and(condition.flipped(true), otherwise);
                self.and(a.flipped(true), b.flipped(true)).flipped(true)
            }
        }
    }

    fn value(&mut self, level: Level) -> Value {
        match level {
            Level::Known(b) => self.code.ins().iconst(I64, if b { -1 } else { 0 }),
            Level::At(v, false) => v,
            Level::At(v, true) => self.code.ins().bnot(v),
        }
    }
}
