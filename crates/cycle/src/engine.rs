//! A design compiled and run.

use crate::emit::Emitter;
use crate::order::order;
use crate::unsupported::Unsupported;
use cranelift_codegen::ir::types::I64;
use cranelift_codegen::ir::{AbiParam, InstBuilder, MemFlagsData};
use cranelift_codegen::settings::{self, Configurable};
use cranelift_frontend::{FunctionBuilder, FunctionBuilderContext};
use cranelift_jit::{JITBuilder, JITModule};
use cranelift_module::{FuncId, Linkage, Module};
use design::{Design, Direction, Netlist, SignalId, VariableId};
use std::collections::BTreeMap;

/// A design as machine code, with its state.
pub struct Engine {
    module: Option<JITModule>,
    function: FuncId,
    state: Vec<u64>,
    /// Places in the state of the netlist's registers, in its order: word and bit.
    registers: Vec<(usize, u32)>,
    watched: (usize, u32),
    failed: bool,
}

/// Turns of loops in one clock cycle.
const FUEL: i64 = 1_000_000;
/// Most words of state.
const MAX_WORDS: usize = 4_096;
/// Set in the result of a call that met a loop without end.
const BAILED: u64 = 1 << 63;

fn slot_list(design: &Design) -> (BTreeMap<SignalId, usize>, BTreeMap<VariableId, usize>, usize) {
    let mut next = 0;
    let mut place = |width: u32| {
        (1..=64).contains(&width).then(|| {
            next += 1;
            next - 1
        })
    };
    let signals: BTreeMap<SignalId, usize> =
        design.signals.ids().filter_map(|s| Some((s, place(design.signal_width(s))?))).collect();
    let variables: BTreeMap<VariableId, usize> =
        design.variables.iter().filter_map(|(v, item)| Some((v, place(design.type_width(item.ty))?))).collect();
    (signals, variables, next)
}

impl Engine {
    /// Compiles a design of one clock whose netlist has no latch. `levels` gives the inputs by name, the clock's active
    /// level among them; `watch` is a bit of an output.
    ///
    /// # Errors
    /// When the design needs what this engine does not do.
    pub fn new(
        design: &Design,
        netlist: &Netlist,
        levels: &BTreeMap<String, u64>,
        watch: (&str, u32),
    ) -> Result<Self, Unsupported> {
        let (signals, variables, words) = slot_list(design);
        if words > MAX_WORDS || netlist.latches > 0 {
            return Err(Unsupported("latches, or too much state"));
        }
        let mut state = vec![0u64; words];
        for (signal, slot) in &signals {
            if let Some(first) = &design.signals[*signal].initial {
                state[*slot] = first.to_u64().unwrap_or(0);
            }
        }
        for (variable, slot) in &variables {
            if let Some(first) = &design.variables[*variable].initial {
                state[*slot] = first.to_u64().unwrap_or(0);
            }
        }
        let top = &design.scopes[design.top];
        for port in top.ports.iter().filter(|p| p.direction != Direction::Out) {
            let level = levels.get(&design.signals[port.signal].name).copied().unwrap_or(0);
            state[*signals.get(&port.signal).ok_or(Unsupported("a wide port"))?] = level;
        }
        let registers = register_places(design, netlist, &signals, &variables)?;
        let is_register = |signal: SignalId| {
            signals.get(&signal).is_some_and(|slot| registers.iter().any(|(place, _)| place == slot))
        };
        let order = order(design, is_register)?;
        let output = top
            .ports
            .iter()
            .find(|p| design.signals[p.signal].name == watch.0)
            .and_then(|p| signals.get(&p.signal))
            .ok_or(Unsupported("an output that is not there"))?;
        let watched = (*output, watch.1);
        let (module, function) = compile(design, &order, &signals, &variables, watched)?;
        Ok(Self { module: Some(module), function, state, registers, watched, failed: false })
    }

    /// Gives the registers their levels, in the netlist's order, and lets everything follow from them.
    pub fn start(&mut self, registers: &[bool]) {
        for ((slot, bit), level) in self.registers.iter().zip(registers) {
            self.state[*slot] = self.state[*slot] & !(1 << bit) | u64::from(*level) << bit;
        }
        self.call(0);
    }

    /// Runs until the watched output has changed, or for `limit` clock cycles; says how many were run. `None` when the
    /// design met a loop without end.
    pub fn run(&mut self, limit: u64) -> Option<u64> {
        if self.failed {
            return None;
        }
        let ran = self.call(limit.min(BAILED - 1));
        self.failed = ran & BAILED != 0;
        (!self.failed).then_some(ran)
    }

    /// The watched output.
    pub fn level(&self) -> bool {
        self.state[self.watched.0] >> self.watched.1 & 1 == 1
    }

    /// Levels of the registers, in the netlist's order.
    pub fn registers(&self) -> Vec<bool> {
        self.registers.iter().map(|(slot, bit)| self.state[*slot] >> bit & 1 == 1).collect()
    }

    #[allow(unsafe_code, reason = "the only way to call machine code; what it may touch is said below")]
    fn call(&mut self, limit: u64) -> u64 {
        let Some(module) = &self.module else { return BAILED };
        let code = module.get_finalized_function(self.function);
        // SAFETY: `code` was made by `compile` with this signature and lives as long as `module`. It reads and writes
        // the words of `state`, whose number was fixed when it was made, at constant places, and nothing else: it
        // calls nothing and computes no address. Loops of the design count down their fuel, so it returns.
        let function = unsafe { std::mem::transmute::<*const u8, extern "C" fn(*mut u64, u64) -> u64>(code) };
        function(self.state.as_mut_ptr(), limit)
    }
}

impl Drop for Engine {
    #[allow(unsafe_code, reason = "gives the code's memory back")]
    fn drop(&mut self) {
        if let Some(module) = self.module.take() {
            // SAFETY: nothing holds a pointer into the code but `call`, which has returned.
            unsafe { module.free_memory() };
        }
    }
}

/// Where each register of the netlist is kept.
fn register_places(
    design: &Design,
    netlist: &Netlist,
    signals: &BTreeMap<SignalId, usize>,
    variables: &BTreeMap<VariableId, usize>,
) -> Result<Vec<(usize, u32)>, Unsupported> {
    let mut by_name: BTreeMap<String, Option<usize>> = BTreeMap::new();
    for (signal, slot) in signals {
        by_name.insert(design.signal_path(*signal), Some(*slot));
    }
    for (variable, slot) in variables {
        // A name that stands for several things stands for none.
        let name = design.variables[*variable].name.clone();
        by_name.entry(name).and_modify(|place| *place = None).or_insert(Some(*slot));
    }
    let place = |r: &design::Register| {
        let slot = by_name.get(&r.name).copied().flatten().ok_or(Unsupported("a register that is not found again"))?;
        Ok((slot, r.position))
    };
    netlist.registers.iter().map(place).collect()
}

/// Room for machine code of this machine.
pub(crate) fn new_module() -> Result<JITModule, Unsupported> {
    let mut flags = settings::builder();
    for (name, value) in [("use_colocated_libcalls", "false"), ("is_pic", "false"), ("opt_level", "speed")] {
        flags.set(name, value).map_err(|_| Unsupported("this machine"))?;
    }
    let isa = cranelift_native::builder()
        .map_err(|_| Unsupported("this machine"))?
        .finish(settings::Flags::new(flags))
        .map_err(|_| Unsupported("this machine"))?;
    Ok(JITModule::new(JITBuilder::with_isa(isa, cranelift_module::default_libcall_names())))
}

fn compile(
    design: &Design,
    order: &crate::order::Order<'_>,
    signals: &BTreeMap<SignalId, usize>,
    variables: &BTreeMap<VariableId, usize>,
    watched: (usize, u32),
) -> Result<(JITModule, FuncId), Unsupported> {
    let fail = |_| Unsupported("this machine");
    let mut module = new_module()?;
    let mut context = module.make_context();
    let mut functions = FunctionBuilderContext::new();
    context.func.signature.params.extend([AbiParam::new(I64), AbiParam::new(I64)]);
    context.func.signature.returns.push(AbiParam::new(I64));
    let built = build(
        design,
        order,
        (signals, variables),
        watched,
        FunctionBuilder::new(&mut context.func, &mut functions),
        &module,
    );
    built?;
    let function =
        module.declare_function("cycles", Linkage::Local, &context.func.signature).map_err(|e| fail(Box::new(e)))?;
    module.define_function(function, &mut context).map_err(|e| fail(Box::new(e)))?;
    module.finalize_definitions().map_err(|e| fail(Box::new(e)))?;
    Ok((module, function))
}

fn build(
    design: &Design,
    order: &crate::order::Order<'_>,
    (signals, variables): (&BTreeMap<SignalId, usize>, &BTreeMap<VariableId, usize>),
    watched: (usize, u32),
    mut code: FunctionBuilder<'_>,
    module: &JITModule,
) -> Result<(), Unsupported> {
    let entry = code.create_block();
    let (head, cycle, exit, bail) =
        (code.create_block(), code.create_block(), code.create_block(), code.create_block());
    code.append_block_params_for_function_params(entry);
    code.switch_to_block(entry);
    let (memory, limit) = (code.block_params(entry)[0], code.block_params(entry)[1]);
    let at = |slot: usize| i32::try_from(8 * slot).unwrap_or(0);
    let fuel = code.declare_var(I64);
    let full = code.ins().iconst(I64, FUEL);
    code.def_var(fuel, full);
    let result = code.declare_var(I64);
    let zero = code.ins().iconst(I64, 0);
    code.def_var(result, zero);
    let mut emitter = Emitter::new(design, code, fuel, bail);
    for (signal, slot) in signals {
        let place = emitter.code.declare_var(I64);
        let value = emitter.code.ins().load(I64, MemFlagsData::trusted(), memory, at(*slot));
        emitter.code.def_var(place, value);
        emitter.signals.insert(*signal, place);
    }
    for (variable, slot) in variables {
        let place = emitter.code.declare_var(I64);
        let value = emitter.code.ins().load(I64, MemFlagsData::trusted(), memory, at(*slot));
        emitter.code.def_var(place, value);
        emitter.variables.insert(*variable, place);
    }
    // What follows from the registers, so that the first edge finds it.
    for part in &order.combinational {
        emitter.part(part)?;
    }
    let watch = signals.iter().find(|(_, slot)| **slot == watched.0).map(|(s, _)| emitter.signals[s]);
    let watch = watch.ok_or(Unsupported("an output that is not there"))?;
    let bit = |emitter: &mut Emitter<'_, '_>| {
        let word = emitter.code.use_var(watch);
        let shifted = emitter.code.ins().ushr_imm_u(word, i64::from(watched.1));
        emitter.code.ins().band_imm_u(shifted, 1)
    };
    let before = bit(&mut emitter);
    emitter.code.ins().jump(head, &[]);
    emitter.code.switch_to_block(head);
    let ran = emitter.code.use_var(result);
    let done = emitter.code.ins().icmp(cranelift_codegen::ir::condcodes::IntCC::Equal, ran, limit);
    emitter.code.ins().brif(done, exit, &[], cycle, &[]);
    emitter.code.switch_to_block(cycle);
    emitter.code.def_var(fuel, full);
    emitter.later.clear();
    for part in &order.clocked {
        emitter.process(part.body)?;
    }
    emitter.commit();
    for part in &order.combinational {
        emitter.part(part)?;
    }
    let ran = emitter.code.use_var(result);
    let more = emitter.code.ins().iadd_imm_s(ran, 1);
    emitter.code.def_var(result, more);
    let now = bit(&mut emitter);
    let same = emitter.code.ins().icmp(cranelift_codegen::ir::condcodes::IntCC::Equal, now, before);
    emitter.code.ins().brif(same, head, &[], exit, &[]);
    emitter.code.switch_to_block(bail);
    let bailed = emitter.code.ins().iconst(I64, BAILED.cast_signed());
    emitter.code.def_var(result, bailed);
    emitter.code.ins().jump(exit, &[]);
    emitter.code.switch_to_block(exit);
    for (signal, slot) in signals {
        let value = emitter.code.use_var(emitter.signals[signal]);
        emitter.code.ins().store(MemFlagsData::trusted(), value, memory, at(*slot));
    }
    for (variable, slot) in variables {
        let value = emitter.code.use_var(emitter.variables[variable]);
        emitter.code.ins().store(MemFlagsData::trusted(), value, memory, at(*slot));
    }
    let ran = emitter.code.use_var(result);
    emitter.code.ins().return_(&[ran]);
    emitter.code.seal_all_blocks();
    emitter.code.finalize(module.target_config());
    Ok(())
}
