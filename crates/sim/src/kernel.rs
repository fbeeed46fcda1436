//! The kernel: what signals hold, who drives them, who wakes when they change, and what happens when.

use crate::code::{self, Block, EventCode, Part};
use crate::diagnostics as say;
use crate::eval;
use crate::state::{ProcessState, Ran};
use crate::trace::{Change, Trace, TracedSignal};
use base::{Diagnostic, Id, Span};
use design::{
    Design, Edge, LevelSet, NetKind, ProcessKind, ScopeId, Sensitivity, SignalId, SignalKind, Storage, TimeFormat,
    TypeKind,
};
use logic::{Level, LogicVector};
use std::collections::{BTreeMap, BTreeSet, VecDeque};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

/// How long and how much.
#[derive(Clone, Debug)]
pub struct SimOptions {
    /// Ends at this time, in femtoseconds; else when nothing is left to happen.
    pub until: Option<u64>,
    /// Most steps: instructions, and signal changes.
    pub steps: u64,
    /// Most bytes of messages.
    pub output: usize,
    /// Records changes, at most so many.
    pub record: Option<usize>,
    /// Ends at once when set.
    pub cancel: Option<Arc<AtomicBool>>,
    /// Lines of files, for messages of assertions: file and line of a place.
    pub places: BTreeMap<Span, String>,
    /// Bits of signals of which it is wanted what assigned them last.
    pub wanted: Vec<(SignalId, u32)>,
}

impl Default for SimOptions {
    fn default() -> Self {
        Self {
            until: None,
            steps: 200_000_000,
            output: 4 << 20,
            record: None,
            cancel: None,
            places: BTreeMap::new(),
            wanted: Vec::new(),
        }
    }
}

/// Why a simulation ended.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum End {
    /// `$finish`, `$stop`, `std.env.finish` or an assertion of severity failure.
    Finished,
    /// Nothing was left to happen.
    Quiet,
    /// The time asked for was reached.
    Until,
    /// It was cancelled from outside.
    Cancelled,
    /// A budget ran out; the finding says where.
    Stopped(Box<Diagnostic>),
}

/// What a simulation gave.
#[derive(Clone, Debug)]
pub struct Outcome {
    /// Messages in the order they were written.
    pub output: String,
    /// Why it ended.
    pub end: End,
    /// Simulated time at the end, in femtoseconds.
    pub time: u64,
    /// Assertions that failed, by severity: note, warning, error, failure.
    pub failed: [u64; 4],
    /// Signal changes.
    pub events: u64,
    /// The recorded changes, when asked for.
    pub trace: Option<Trace>,
    /// For each bit that was asked for, the place that assigned it last.
    pub ran: Vec<Option<Span>>,
}

/// Runs of processes at one time, beside some for each process, before it is taken for endless.
const MAX_RUNS: usize = 200_000;
/// Instants at one time before it is taken for endless.
const MAX_DELTAS: u64 = 20_000;

pub(crate) struct SignalState {
    pub(crate) value: LogicVector,
    pub(crate) last: LogicVector,
    /// The instant of its last change.
    pub(crate) changed: u64,
    /// The instant at which it was last assigned, changed or not.
    pub(crate) active: u64,
    /// The times of both.
    pub(crate) changed_at: Option<u64>,
    pub(crate) active_at: Option<u64>,
    /// Drivers of a net; a variable has none.
    pub(crate) drivers: Vec<Driver>,
    pub(crate) kind: SignalKind,
    /// Processes that wake at a change of some of its bits, and events that need a closer look.
    wakes: Vec<(usize, std::ops::Range<u32>)>,
    /// Where these are many: which of them look at some bit of each word of 64.
    by_word: Vec<Vec<usize>>,
    watches: Vec<usize>,
    /// Processes that wait for a change now, with the number of their wait.
    waiting: Vec<(usize, u64)>,
    /// Number in the trace.
    traced: Option<u32>,
}

impl SignalState {
    /// The number of a process's driver; they are in the order of the processes.
    fn driver_of(&self, process: usize) -> Option<usize> {
        self.drivers.binary_search_by_key(&process, |d| d.process).ok()
    }
}

pub(crate) struct Driver {
    process: usize,
    value: LogicVector,
    /// Bits that it drives; the others are left to other drivers.
    driven: Vec<(u32, u32)>,
    /// No other driver drives any of them.
    is_alone: bool,
    pending: Vec<Pending>,
}

struct Pending {
    time: u64,
    low: u32,
    value: LogicVector,
    number: u64,
}

/// An event of a static list: the value it had when it was last looked at.
struct Watch {
    process: usize,
    event: EventCode,
    before: LogicVector,
}

/// A change that waits for its turn.
pub(crate) struct Update {
    pub(crate) storage: Storage,
    pub(crate) low: u32,
    pub(crate) value: LogicVector,
    pub(crate) process: usize,
}

enum Later {
    Wake(usize, u64),
    Apply(Update),
    /// A driver's transaction, by signal, driver and number.
    Transaction(usize, usize, u64),
}

pub(crate) struct Monitor {
    pub(crate) scope: ScopeId,
    pub(crate) parts: Arc<Vec<Part>>,
    pub(crate) shown: Option<Vec<LogicVector>>,
}

pub(crate) struct Kernel<'d> {
    pub(crate) design: &'d Design,
    pub(crate) signals: Vec<SignalState>,
    pub(crate) variables: Vec<LogicVector>,
    pub(crate) processes: Vec<ProcessState>,
    pub(crate) blocks: Vec<Arc<Block>>,
    pub(crate) subprograms: Vec<Arc<Block>>,
    /// Variables of each subprogram, kept apart when it calls itself.
    pub(crate) locals: Vec<Vec<usize>>,
    pub(crate) depth: Vec<u32>,
    watches: Vec<Watch>,
    active: VecDeque<usize>,
    /// Room for the operands of an expression.
    pub(crate) operands: Vec<LogicVector>,
    queued: Vec<bool>,
    pub(crate) running: Option<usize>,
    /// Processes that are blocks rather than continuous assignments.
    is_block: Vec<bool>,
    inactive: Vec<usize>,
    pub(crate) updates: Vec<Update>,
    /// Processes that wait for the next delta cycle, with the number of their wait.
    pub(crate) next_delta: Vec<(usize, u64)>,
    later: BTreeMap<u64, Vec<Later>>,
    pub(crate) settled: Vec<(ScopeId, Arc<Vec<Part>>, bool)>,
    pub(crate) monitor: Option<Monitor>,
    pub(crate) is_monitoring: bool,
    /// Levels that are held whatever drives them: signal, lowest bit, level.
    pub(crate) forces: Vec<(usize, u32, LogicVector)>,
    /// Where reading stands in each file, and in each line taken from one.
    pub(crate) files: Vec<design::Reader>,
    pub(crate) lines: Vec<design::Reader>,
    /// Places of values that were warned of.
    pub(crate) warned: BTreeSet<Span>,
    /// Bits that turn over at each transaction of a signal.
    transactions: BTreeMap<usize, usize>,
    pub(crate) time_format: TimeFormat,
    pub(crate) time: u64,
    pub(crate) instant: u64,
    pub(crate) steps: u64,
    pub(crate) limit: usize,
    pub(crate) output: String,
    pub(crate) failed: [u64; 4],
    pub(crate) events: u64,
    pub(crate) end: Option<End>,
    pub(crate) seed: i32,
    pub(crate) places: BTreeMap<Span, String>,
    /// What assigned each bit of a signal last, when that is wanted.
    pub(crate) ran: Option<Ran>,
    number: u64,
    trace: Option<Trace>,
    /// Changes that may still be recorded.
    room: usize,
    cancel: Option<Arc<AtomicBool>>,
}

/// Runs a validated design from time 0.
pub fn simulate(design: &Design, options: &SimOptions) -> Outcome {
    let mut kernel = Kernel::new(design, options);
    kernel.start();
    kernel.run(options.until);
    kernel.last_words();
    let end = kernel.end.take().unwrap_or(End::Quiet);
    if let Some(trace) = &mut kernel.trace {
        trace.end = kernel.time;
    }
    let ran = options.wanted.iter().map(|(signal, bit)| kernel.place_of(*signal, *bit)).collect();
    Outcome {
        ran,
        output: kernel.output,
        end,
        time: kernel.time,
        failed: kernel.failed,
        events: kernel.events,
        trace: kernel.trace,
    }
}

/// What a type holds before anything is assigned: the leftmost value of VHDL's types, X of Verilog's variables.
fn default_value(design: &Design, ty: design::TypeId) -> LogicVector {
    match &design.types[ty].kind {
        TypeKind::Logic { shape, levels, .. } => LogicVector::filled(
            shape.width(),
            match levels {
                LevelSet::Two => Level::Zero,
                LevelSet::Four => Level::Unknown,
                LevelSet::Nine => Level::Uninitialised,
            },
        ),
        TypeKind::Integer { low, .. } => {
            LogicVector::from_u64(64, low.cast_unsigned()).resized(design.type_width(ty), true)
        }
        TypeKind::Array { element, left, right } => {
            let one = default_value(design, *element);
            let count = usize::try_from(left.abs_diff(*right)).unwrap_or(0) + 1;
            LogicVector::concat(&vec![one; count])
        }
        TypeKind::Record { fields } => {
            let parts: Vec<LogicVector> = fields.iter().map(|(_, t)| default_value(design, *t)).collect();
            LogicVector::concat(&parts)
        }
        _ => LogicVector::from_u64(design.type_width(ty), 0),
    }
}

/// True for a type of VHDL's, whose drivers begin with the signal's value; Verilog's nets float.
fn is_nine_valued(design: &Design, ty: design::TypeId) -> bool {
    match &design.types[ty].kind {
        TypeKind::Logic { levels, .. } => *levels != LevelSet::Four,
        TypeKind::Array { element, .. } => is_nine_valued(design, *element),
        TypeKind::Record { fields } => fields.iter().any(|(_, t)| is_nine_valued(design, *t)),
        _ => true,
    }
}

/// What each signal holds before anything happens.
fn signal_states(design: &Design) -> Vec<SignalState> {
    let mut signals: Vec<SignalState> = Vec::new();
    for (_, signal) in design.signals.iter() {
        let width = design.type_width(signal.ty);
        let floats = matches!(signal.kind, SignalKind::Net(_)) && !is_nine_valued(design, signal.ty);
        let value = match (&signal.initial, signal.kind) {
            (Some(initial), _) => initial.clone(),
            (None, SignalKind::Net(NetKind::Supply0)) => LogicVector::filled(width, Level::Zero),
            (None, SignalKind::Net(NetKind::Supply1)) => LogicVector::filled(width, Level::One),
            (None, _) if floats => LogicVector::filled(width, Level::HighZ),
            (None, _) => default_value(design, signal.ty),
        };
        signals.push(SignalState {
            last: value.clone(),
            value,
            changed: 0,
            active: 0,
            changed_at: None,
            active_at: None,
            drivers: Vec::new(),
            kind: signal.kind,
            wakes: Vec::new(),
            by_word: Vec::new(),
            watches: Vec::new(),
            waiting: Vec::new(),
            traced: None,
        });
    }
    signals
}

impl<'d> Kernel<'d> {
    fn new(design: &'d Design, options: &SimOptions) -> Self {
        let signals = signal_states(design);
        let variables = design
            .variables
            .iter()
            .map(|(_, v)| v.initial.clone().unwrap_or_else(|| default_value(design, v.ty)))
            .collect();
        let blocks: Vec<Arc<Block>> = code::processes(design);
        let subprograms: Vec<Arc<Block>> =
            design.subprograms.iter().map(|(_, s)| Arc::new(code::block(design, &s.body))).collect();
        let locals = design.subprograms.iter().zip(&subprograms).map(|((_, s), b)| locals_of(s, b)).collect();
        let mut kernel = Self {
            design,
            signals,
            variables,
            processes: design.processes.iter().map(|(_, p)| ProcessState::new(p.scope, p.span)).collect(),
            queued: vec![false; blocks.len()],
            running: None,
            is_block: design
                .processes
                .iter()
                .map(|(_, p)| !matches!(p.kind, ProcessKind::Assignment | ProcessKind::Gate | ProcessKind::PortMap))
                .collect(),
            blocks,
            depth: vec![0; subprograms.len()],
            subprograms,
            locals,
            watches: Vec::new(),
            active: VecDeque::new(),
            operands: Vec::new(),
            inactive: Vec::new(),
            updates: Vec::new(),
            next_delta: Vec::new(),
            later: BTreeMap::new(),
            settled: Vec::new(),
            monitor: None,
            is_monitoring: true,
            forces: Vec::new(),
            files: design.files.iter().map(|f| design::Reader::new(&f.text)).collect(),
            lines: vec![design::Reader::default(); design.lines as usize],
            warned: BTreeSet::new(),
            transactions: design.transactions.iter().map(|(s, bit)| (s.index(), bit.index())).collect(),
            time_format: TimeFormat::default(),
            time: 0,
            instant: 1,
            steps: options.steps,
            limit: options.output,
            output: String::new(),
            failed: [0; 4],
            events: 0,
            end: None,
            seed: 0,
            places: options.places.clone(),
            ran: (!options.wanted.is_empty()).then(Ran::default),
            number: 0,
            trace: None,
            room: options.record.unwrap_or(0),
            cancel: options.cancel.clone(),
        };
        kernel.drivers();
        if options.record.is_some() {
            kernel.trace();
        }
        kernel
    }

    /// A driver for each process and net that it assigns, as wide as the bits it can reach.
    fn drivers(&mut self) {
        for (process, block) in self.blocks.clone().iter().enumerate() {
            let mut reach: BTreeMap<usize, Vec<(u32, u32)>> = BTreeMap::new();
            let mut bodies = vec![Arc::clone(block)];
            let mut seen = BTreeSet::new();
            while let Some(body) = bodies.pop() {
                for (place, called) in body.instrs.iter().flat_map(places_of) {
                    if let Some(sub) = called
                        && seen.insert(sub)
                    {
                        bodies.push(Arc::clone(&self.subprograms[sub]));
                    }
                    let Some(target) = place else { continue };
                    let Storage::Signal(signal) = target.storage else { continue };
                    let total = self.design.signal_width(signal);
                    let range = match target.element {
                        None => (target.low, target.width),
                        Some(_) => (target.low, total - target.low),
                    };
                    reach.entry(signal.index()).or_default().push(range);
                }
            }
            for (signal, driven) in reach {
                let state = &mut self.signals[signal];
                if !matches!(state.kind, SignalKind::Net(_)) {
                    continue;
                }
                let nine = is_nine_valued(self.design, self.design.signals[design::SignalId::from_index(signal)].ty);
                // A driver of Verilog's that has said nothing yet makes its bits unknown.
                let value =
                    if nine { state.value.clone() } else { LogicVector::filled(state.value.width(), Level::Unknown) };
                if !nine && !matches!(state.kind, SignalKind::Net(NetKind::Supply0 | NetKind::Supply1)) {
                    for (low, width) in &driven {
                        state.value.put(*low, &LogicVector::filled(*width, Level::Unknown));
                    }
                    state.last = state.value.clone();
                }
                state.drivers.push(Driver { process, value, driven, is_alone: false, pending: Vec::new() });
            }
        }
        for state in &mut self.signals {
            find_lone(&mut state.drivers);
        }
    }

    fn trace(&mut self) {
        let mut trace = Trace { precision: self.design.precision, ..Trace::default() };
        for (i, (id, signal)) in self.design.signals.iter().enumerate() {
            let mut scopes = Vec::new();
            let mut scope = Some(signal.scope);
            while let Some(here) = scope {
                scopes.push(self.design.scopes[here].name.clone());
                scope = self.design.scopes[here].parent;
            }
            scopes.reverse();
            let width = self.design.signal_width(id);
            let is_number = matches!(self.design.types[signal.ty].kind, TypeKind::Real);
            if width == 0 || width > 4_096 || signal.name.is_empty() || is_number {
                continue;
            }
            self.signals[i].traced = u32::try_from(trace.signals.len()).ok();
            let shape = self.design.signal_shape(id);
            trace.signals.push(TracedSignal {
                scopes,
                name: signal.name.clone(),
                range: shape.to_string(),
                width,
                literals: match &self.design.types[signal.ty].kind {
                    TypeKind::Enumeration { literals } => literals.clone(),
                    _ => self.design.value_names.get(&id).cloned().unwrap_or_default(),
                },
                initial: self.signals[i].value.clone(),
            });
        }
        self.trace = Some(trace);
    }

    fn start(&mut self) {
        let design = self.design;
        for (i, (_, process)) in design.processes.iter().enumerate() {
            match &process.sensitivity {
                Sensitivity::Reads | Sensitivity::ReadsThrough => {
                    let stretches = design::stretches_read(design, process);
                    for signal in reads_of(design, process) {
                        let stretch = stretches.as_ref().and_then(|s| s.get(&design::SignalId::from_index(signal)));
                        self.signals[signal].wakes.push((i, stretch.cloned().unwrap_or(0..u32::MAX)));
                    }
                    self.wake(i);
                }
                Sensitivity::Events(events) | Sensitivity::StartAndEvents(events) => {
                    for event in events {
                        self.watch(i, code::event(design, event));
                    }
                    if matches!(process.sensitivity, Sensitivity::StartAndEvents(_)) {
                        self.wake(i);
                    }
                }
                Sensitivity::Start | Sensitivity::Forever => self.wake(i),
                Sensitivity::End => {}
            }
        }
        self.index_wakes();
    }

    /// Sorts who wakes at changes of wide signals by the words they look at.
    fn index_wakes(&mut self) {
        const MANY: usize = 32;
        const WIDE: usize = 8;
        for state in self.signals.iter_mut().filter(|s| s.wakes.len() > MANY && s.value.width() > 64) {
            let wide = state.wakes.iter().filter(|(_, bits)| bits.end.saturating_sub(bits.start) > 64).count();
            if wide > WIDE {
                continue;
            }
            let width = state.value.width();
            state.by_word = vec![Vec::new(); width.div_ceil(64) as usize];
            for (i, (_, bits)) in state.wakes.iter().enumerate() {
                let words = bits.start / 64..bits.end.min(width).div_ceil(64);
                words.for_each(|word| state.by_word[word as usize].push(i));
            }
        }
    }

    fn watch(&mut self, process: usize, event: EventCode) {
        // A whole signal and any change of it needs no closer look.
        if let ([code::Op::Signal(signal)], Edge::Any) = (event.code.as_slice(), event.edge) {
            self.signals[*signal].wakes.push((process, 0..u32::MAX));
            return;
        }
        let before = self.evaluate(&event.code, process).unwrap_or_else(|| LogicVector::filled(1, Level::Unknown));
        for signal in &event.signals {
            self.signals[*signal].watches.push(self.watches.len());
        }
        self.watches.push(Watch { process, event, before });
    }

    /// Lets a process run when its turn comes; once is enough.
    pub(crate) fn wake(&mut self, process: usize) {
        // A block at work doesn't stand at its event control, so it doesn't see what it assigns itself
        // (IEEE 1364-2005 9.7); a continuous assignment always does.
        if self.running == Some(process) && self.is_block[process] {
            return;
        }
        if !std::mem::replace(&mut self.queued[process], true) {
            self.active.push_back(process);
        }
    }

    /// The events at the head of a block wake it only while it stands there, not in a delay or at an event further down
    /// (IEEE 1364-2005 9.9.2).
    fn wake_at_its_head(&mut self, process: usize) {
        if !self.processes[process].is_waiting {
            self.wake(process);
        }
    }

    /// Wakes a process that waits, unless it waits for something else by now.
    fn wake_waiting(&mut self, process: usize, number: u64) {
        if self.processes[process].waits == number && self.processes[process].is_waiting {
            self.wake(process);
        }
    }

    pub(crate) fn wait_for_signals(&mut self, process: usize, signals: &[usize]) {
        let number = self.processes[process].waits;
        for signal in signals {
            self.signals[*signal].waiting.push((process, number));
        }
    }

    /// `#0`: after what is active now, before the non-blocking updates (IEEE 1364-2005 11.3).
    pub(crate) fn wake_inactive(&mut self, process: usize) {
        self.inactive.push(process);
    }

    pub(crate) fn wake_later(&mut self, process: usize, after: u64) {
        let number = self.processes[process].waits;
        self.later.entry(self.time.saturating_add(after)).or_default().push(Later::Wake(process, number));
    }

    pub(crate) fn apply_later(&mut self, update: Update, after: u64) {
        self.later.entry(self.time.saturating_add(after)).or_default().push(Later::Apply(update));
    }

    /// A transaction on a net's driver after a time. Pulses shorter than `least` are lost: 0 for a transport delay, the
    /// whole time for an inertial one without a limit of its own (IEEE 1076-2008 10.5.2.2).
    pub(crate) fn drive_later(&mut self, update: Update, after: u64, least: u64) {
        let Storage::Signal(signal) = update.storage else { return };
        let at = self.time.saturating_add(after);
        self.number += 1;
        let number = self.number;
        let state = &mut self.signals[signal.index()];
        let Some(which) = state.driver_of(update.process) else { return };
        let driver = &mut state.drivers[which];
        let width = update.value.width();
        let overlaps = |p: &Pending| p.low < update.low + width && update.low < p.low + p.value.width();
        if least < after {
            driver.pending.retain(|p| p.time < at || !overlaps(p));
            // Of those that come within the limit before it only the ones that lead up to it stay.
            let mut is_marked = true;
            let mut number_kept = Vec::new();
            for p in driver.pending.iter().rev().filter(|p| overlaps(p)) {
                is_marked &= p.low == update.low && p.value == update.value;
                if is_marked || p.time < at - least {
                    number_kept.push(p.number);
                }
            }
            driver.pending.retain(|p| !overlaps(p) || number_kept.contains(&p.number));
        } else {
            // One that was to come at once is another level before this one (IEEE 1076-2008 10.5.2.2).
            self.updates.retain(|u| {
                u.process != update.process
                    || u.storage != update.storage
                    || u.low >= update.low + width
                    || update.low >= u.low + u.value.width()
            });
            let same = driver.pending.iter().rev().find(|p| overlaps(p));
            if same.is_some_and(|p| p.low == update.low && p.value == update.value) {
                return;
            }
            driver.pending.retain(|p| !overlaps(p));
        }
        driver.pending.push(Pending { time: at, low: update.low, value: update.value, number });
        self.later.entry(at).or_default().push(Later::Transaction(signal.index(), which, number));
    }

    /// What waits on these bits of a net's driver is replaced by what is assigned to them now.
    pub(crate) fn replace_pending(&mut self, update: &Update) {
        let Storage::Signal(signal) = update.storage else { return };
        let state = &mut self.signals[signal.index()];
        let driver = state.driver_of(update.process).map(|which| &mut state.drivers[which]);
        if let Some(driver) = driver.filter(|d| !d.pending.is_empty()) {
            let width = update.value.width();
            driver.pending.retain(|p| p.low >= update.low + width || update.low >= p.low + p.value.width());
        }
    }

    /// Writes storage at once and wakes who looks at it.
    pub(crate) fn apply(&mut self, update: &Update, from_driver: bool) {
        match update.storage {
            Storage::Variable(v) => self.variables[v.index()].put(update.low, &update.value),
            Storage::Signal(s) => {
                let index = s.index();
                self.touch(index);
                let is_net = matches!(self.signals[index].kind, SignalKind::Net(_));
                if is_net && !from_driver {
                    let Some(which) = self.signals[index].driver_of(update.process) else {
                        return;
                    };
                    let driver = &mut self.signals[index].drivers[which];
                    driver.value.put(update.low, &update.value);
                    self.resolve_of(index, which, update.low, update.value.width());
                    return;
                }
                self.change_part(index, update.low, &update.value);
            }
        }
    }

    /// The levels of a net from its drivers.
    pub(crate) fn resolve(&mut self, index: usize) {
        let width = self.signals[index].value.width();
        self.resolve_bits(index, 0..width);
    }

    /// The same, of bits that one of its drivers drives otherwise now.
    fn resolve_of(&mut self, index: usize, which: usize, low: u32, width: u32) {
        let state = &self.signals[index];
        let end = low.saturating_add(width).min(state.value.width());
        let driver = &state.drivers[which];
        if !driver.is_alone {
            return self.resolve_bits(index, low.min(end)..end);
        }
        if !matches!(state.kind, SignalKind::Net(NetKind::Supply0 | NetKind::Supply1)) {
            let part = driver.value.slice(i64::from(low), end.saturating_sub(low));
            self.change_part(index, low, &part);
        }
    }

    fn resolve_bits(&mut self, index: usize, bits: std::ops::Range<u32>) {
        let state = &self.signals[index];
        let mut next = state.value.clone();
        // Looking at every driver for every bit is work of its own.
        let work = state.drivers.len() as u64 * u64::from(bits.end - bits.start) / 256;
        for bit in bits {
            let drives = |d: &&Driver| d.driven.iter().any(|(low, width)| (*low..low + width).contains(&bit));
            let levels: Vec<Level> = state.drivers.iter().filter(drives).map(|d| d.value.get(bit)).collect();
            let joined = match state.kind {
                SignalKind::Net(NetKind::WiredAnd) => wired(&levels, Level::Zero),
                SignalKind::Net(NetKind::WiredOr) => wired(&levels, Level::One),
                _ => levels.iter().copied().reduce(eval::resolve),
            };
            if let Some(level) = joined {
                next.set(bit, level);
            }
        }
        if !matches!(state.kind, SignalKind::Net(NetKind::Supply0 | NetKind::Supply1)) {
            self.change(index, next);
        }
        self.steps = self.steps.saturating_sub(work);
    }

    pub(crate) fn change(&mut self, index: usize, mut next: LogicVector) {
        for (_, low, value) in self.forces.iter().filter(|(signal, ..)| *signal == index) {
            next.put(*low, value);
        }
        let state = &mut self.signals[index];
        let Some(changed) = state.value.difference(&next) else { return };
        state.last = std::mem::replace(&mut state.value, next);
        self.tell_changed(index, &changed);
    }

    /// Some bits of a signal take new levels: of a wide one, the others are not looked at.
    fn change_part(&mut self, index: usize, low: u32, part: &LogicVector) {
        let state = &self.signals[index];
        let lies_within = low.checked_add(part.width()).is_some_and(|end| end <= state.value.width());
        if state.value.width() <= 64 || !lies_within || self.forces.iter().any(|(signal, ..)| *signal == index) {
            let mut next = state.value.clone();
            next.put(low, part);
            return self.change(index, next);
        }
        let Some(changed) = state.value.slice(i64::from(low), part.width()).difference(part) else { return };
        let state = &mut self.signals[index];
        state.last.clone_from(&state.value);
        state.value.put(low, part);
        self.tell_changed(index, &(low + changed.start..low + changed.end));
    }

    /// Records an event and wakes who looks at one of the bits that changed.
    fn tell_changed(&mut self, index: usize, changed: &std::ops::Range<u32>) {
        self.events += 1;
        self.steps = self.steps.saturating_sub(1);
        let state = &mut self.signals[index];
        if let (Some(trace), Some(number)) = (&mut self.trace, state.traced) {
            // A wide value takes the room of several; after the first change without room none is recorded.
            match self.room.checked_sub(1 + state.value.width() as usize / 64) {
                Some(left) if !trace.cut => {
                    self.room = left;
                    trace.changes.push(Change { time: self.time, signal: number, value: state.value.clone() });
                }
                _ => trace.cut = true,
            }
        }
        state.changed = self.instant;
        state.changed_at = Some(self.time);
        let word = (changed.start / 64) as usize;
        let is_narrow = (changed.end - 1) / 64 == changed.start / 64;
        let some = is_narrow && word < self.signals[index].by_word.len();
        let count = if some { self.signals[index].by_word[word].len() } else { self.signals[index].wakes.len() };
        for i in 0..count {
            let state = &self.signals[index];
            let (process, bits) = &state.wakes[if some { state.by_word[word][i] } else { i }];
            if bits.start < changed.end && changed.start < bits.end {
                self.wake_at_its_head(*process);
            }
        }
        let waiting = std::mem::take(&mut self.signals[index].waiting);
        for (process, number) in waiting {
            self.wake_waiting(process, number);
        }
        for i in 0..self.signals[index].watches.len() {
            self.look(self.signals[index].watches[i]);
        }
    }

    fn look(&mut self, which: usize) {
        let watch = &self.watches[which];
        let process = watch.process;
        let code = std::mem::take(&mut self.watches[which].event.code);
        let now = self.evaluate(&code, process);
        self.watches[which].event.code = code;
        let Some(now) = now else { return };
        let watch = &mut self.watches[which];
        let before = std::mem::replace(&mut watch.before, now);
        if happened(watch.event.edge, &before, &watch.before) {
            self.wake_at_its_head(process);
        }
    }

    fn run(&mut self, until: Option<u64>) {
        let mut instants = 0u64;
        let mut runs = 0usize;
        let most_runs = MAX_RUNS + 200 * self.processes.len();
        loop {
            while let Some(process) = self.active.pop_front() {
                self.queued[process] = false;
                runs += 1;
                if runs > most_runs {
                    let span = self.processes[process].span;
                    self.end = Some(End::Stopped(Box::new(say::zero_delay_loop(span))));
                    return;
                }
                self.running = Some(process);
                self.run_process(process);
                self.running = None;
                if self.end.is_some() {
                    return;
                }
            }
            self.instant += 1;
            instants += 1;
            if instants > MAX_DELTAS {
                let span = self.queue_span();
                self.end = Some(End::Stopped(Box::new(say::zero_delay_loop(span))));
                return;
            }
            if !self.inactive.is_empty() {
                for process in std::mem::take(&mut self.inactive) {
                    let number = self.processes[process].waits;
                    self.wake_waiting(process, number);
                }
                continue;
            }
            if !self.updates.is_empty() || !self.next_delta.is_empty() {
                for update in std::mem::take(&mut self.updates) {
                    self.apply(&update, false);
                }
                for (process, number) in std::mem::take(&mut self.next_delta) {
                    self.wake_waiting(process, number);
                }
                continue;
            }
            self.settle();
            if self.end.is_some() {
                return;
            }
            let Some((time, list)) = self.later.pop_first() else { return };
            if until.is_some_and(|limit| time > limit) {
                self.time = until.unwrap_or(time);
                self.end = Some(End::Until);
                return;
            }
            if self.cancel.as_ref().is_some_and(|c| c.load(Ordering::Relaxed)) {
                self.end = Some(End::Cancelled);
                return;
            }
            if time > self.time {
                runs = 0;
                instants = 0;
            }
            self.time = time;
            for item in list {
                match item {
                    Later::Wake(process, number) => self.wake_waiting(process, number),
                    // After what is active at that time (IEEE 1364-2005 11.3).
                    Later::Apply(update) => self.updates.push(update),
                    Later::Transaction(signal, which, number) => self.transaction(signal, which, number),
                }
            }
        }
    }

    /// What is to be said at the end, unless a budget ran out or somebody lost patience.
    fn last_words(&mut self) {
        if matches!(self.end, Some(End::Stopped(_) | End::Cancelled)) {
            return;
        }
        let end = self.end.take();
        for (i, (_, process)) in self.design.processes.iter().enumerate() {
            if process.sensitivity == Sensitivity::End {
                self.run_process(i);
                if matches!(self.end, Some(End::Stopped(_))) {
                    return;
                }
            }
        }
        self.end = end;
    }

    fn transaction(&mut self, signal: usize, which: usize, number: u64) {
        let driver = &mut self.signals[signal].drivers[which];
        let Some(at) = driver.pending.iter().position(|p| p.number == number) else { return };
        let pending = driver.pending.remove(at);
        driver.value.put(pending.low, &pending.value);
        self.touch(signal);
        self.resolve_of(signal, which, pending.low, pending.value.width());
    }

    /// A signal is active now, whether or not it changes (IEEE 1076-2008 14.7.3.1).
    fn touch(&mut self, index: usize) {
        let state = &mut self.signals[index];
        (state.active, state.active_at) = (self.instant, Some(self.time));
        if let Some(bit) = self.transactions.get(&index).copied() {
            let next = self.signals[bit].value.map(|level| Level::from(level != Level::One));
            self.change(bit, next);
        }
    }

    /// A place to blame for a loop without time: what would run next.
    fn queue_span(&self) -> Span {
        let process = self.active.front().copied().or(self.updates.first().map(|u| u.process)).unwrap_or(0);
        self.processes.get(process).map_or(self.design.scopes[self.design.top].span, |p| p.span)
    }

    /// The end of a time: `$strobe` and `$monitor`.
    fn settle(&mut self) {
        for (scope, parts, newline) in std::mem::take(&mut self.settled) {
            self.print(scope, &parts, newline);
        }
        if !self.is_monitoring {
            return;
        }
        let Some(mut monitor) = self.monitor.take() else { return };
        // `$time` in the list doesn't make it speak.
        let mut values = Vec::new();
        for part in monitor.parts.iter() {
            if let Part::Value { code, .. } = part
                && !code.iter().any(|op| matches!(op, code::Op::System(design::SystemFunction::Time(_), _)))
            {
                values.extend(self.evaluate(code, 0));
            }
        }
        if monitor.shown.as_ref() != Some(&values) {
            monitor.shown = Some(values);
            let parts = Arc::clone(&monitor.parts);
            self.print(monitor.scope, &parts, true);
        }
        self.monitor = Some(monitor);
    }
}

/// Joined levels of a wired net: one `wins` decides.
fn wired(levels: &[Level], wins: Level) -> Option<Level> {
    let driven: Vec<Level> = levels.iter().copied().filter(|l| *l != Level::HighZ).collect();
    if driven.is_empty() {
        return levels.first().copied();
    }
    if driven.iter().any(|l| l.known() == wins.known()) {
        return Some(wins);
    }
    let all_known = driven.iter().all(|l| l.known().is_some());
    Some(if all_known { Level::from(wins == Level::Zero) } else { Level::Unknown })
}

/// Did the event happen between two values (IEEE 1364-2005 table 9-1)?
pub(crate) fn happened(edge: Edge, before: &LogicVector, after: &LogicVector) -> bool {
    let (was, is) = (before.get(0).known(), after.get(0).known());
    match edge {
        Edge::Any => before != after,
        Edge::Rising => was != is && (was == Some(false) || is == Some(true)),
        Edge::Falling => was != is && (was == Some(true) || is == Some(false)),
    }
}

/// Signals that a process reads anywhere.
fn reads_of(design: &Design, process: &design::Process) -> BTreeSet<usize> {
    let found = match process.sensitivity {
        Sensitivity::ReadsThrough => design::signals_read_through(design, &process.body),
        _ => design::signals_read(design, &process.body),
    };
    found.into_iter().map(Id::index).collect()
}

/// Finds the drivers of a net whose bits no other one drives.
fn find_lone(drivers: &mut [Driver]) {
    let mut ends: Vec<(u32, u32, usize)> = Vec::new();
    for (which, driver) in drivers.iter().enumerate() {
        ends.extend(driver.driven.iter().map(|(low, width)| (*low, low.saturating_add(*width), which)));
    }
    ends.sort_unstable();
    let mut shared = vec![false; drivers.len()];
    // The stretch that reaches furthest of those before, and that of another driver that does.
    let mut furthest: [Option<(u32, usize)>; 2] = [None, None];
    for (low, end, which) in ends {
        for (reached, other) in furthest.into_iter().flatten().filter(|(_, other)| *other != which) {
            if reached > low {
                (shared[which], shared[other]) = (true, true);
            }
        }
        match furthest {
            [Some((reached, other)), _] if other == which => furthest[0] = Some((reached.max(end), which)),
            [Some((reached, _)), _] if end > reached => furthest = [Some((end, which)), furthest[0]],
            [Some(_), second] if second.is_none_or(|(reached, _)| end > reached) => furthest[1] = Some((end, which)),
            [None, _] => furthest[0] = Some((end, which)),
            _ => {}
        }
    }
    for (driver, shared) in drivers.iter_mut().zip(shared) {
        driver.is_alone = !shared;
    }
}

/// What an instruction assigns, and what it calls.
fn places_of(instr: &code::Instr) -> Vec<(Option<&design::Target>, Option<usize>)> {
    use code::{Instr as I, Op};
    fn called(code: &[Op]) -> Vec<(Option<&design::Target>, Option<usize>)> {
        let mut found = Vec::new();
        for op in code {
            match op {
                Op::Call(s, ..) => found.push((None, Some(s.index()))),
                Op::Lazy(arms, _) => {
                    found.extend(called(&arms.0));
                    found.extend(called(&arms.1));
                }
                _ => {}
            }
        }
        found
    }
    match instr {
        I::Assign { places, value, .. } => {
            places.iter().map(|p| (Some(&p.target), None)).chain(called(value)).collect()
        }
        I::JumpUnless(code, _) => called(code),
        I::Call { subprogram, outs, .. } => {
            let own = std::iter::once((None, Some(subprogram.index())));
            own.chain(outs.iter().map(|(_, p)| (Some(&p.target), None))).collect()
        }
        _ => Vec::new(),
    }
}

/// Variables that a subprogram uses as its own.
fn locals_of(subprogram: &design::Subprogram, block: &Block) -> Vec<usize> {
    let mut found: BTreeSet<usize> = subprogram.parameters.iter().map(|(v, _)| v.index()).collect();
    found.extend(subprogram.result.map(Id::index));
    for (place, _) in block.instrs.iter().flat_map(places_of) {
        if let Some(Storage::Variable(v)) = place.map(|t| t.storage) {
            found.insert(v.index());
        }
    }
    found.into_iter().collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn lone(stretches: &[&[(u32, u32)]]) -> Vec<bool> {
        let driver = |driven: &&[(u32, u32)]| Driver {
            process: 0,
            value: LogicVector::filled(64, Level::Unknown),
            driven: driven.to_vec(),
            is_alone: false,
            pending: Vec::new(),
        };
        let mut drivers: Vec<Driver> = stretches.iter().map(driver).collect();
        find_lone(&mut drivers);
        drivers.iter().map(|d| d.is_alone).collect()
    }

    #[test]
    fn drivers_that_share_a_bit_are_found_whatever_their_order() {
        assert_eq!(lone(&[&[(0, 4)], &[(4, 4)], &[(8, 1)]]), [true, true, true]);
        assert_eq!(lone(&[&[(0, 5)], &[(4, 4)], &[(8, 1)]]), [false, false, true]);
        assert_eq!(lone(&[&[(8, 1)], &[(0, 64)], &[(2, 1)]]), [false, false, false]);
        // The same driver may reach a bit by two of its assignments.
        assert_eq!(lone(&[&[(0, 4), (2, 4)], &[(6, 2)]]), [true, true]);
        // Every pair of small stretches against the definition.
        let mut random = base::Random::new(5);
        for _ in 0..500 {
            let stretches: Vec<Vec<(u32, u32)>> = (0..5)
                .map(|_| {
                    (0..2).map(|_| (random.word() as u32 >> 8 & 31, 1 + (random.word() as u32 >> 9 & 7))).collect()
                })
                .collect();
            let list: Vec<&[(u32, u32)]> = stretches.iter().map(Vec::as_slice).collect();
            let overlap = |a: &(u32, u32), b: &(u32, u32)| a.0 < b.0 + b.1 && b.0 < a.0 + a.1;
            let wanted: Vec<bool> = (0..5)
                .map(|i| {
                    let mut others = (0..5).filter(|k| *k != i).flat_map(|k| &stretches[k]);
                    !others.any(|b| stretches[i].iter().any(|a| overlap(a, b)))
                })
                .collect();
            assert_eq!(lone(&list), wanted, "{stretches:?}");
        }
    }
}
