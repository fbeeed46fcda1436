//! The kernel: what signals hold, who drives them, who wakes when they change, and what happens when.

use crate::code::{self, Block, EventCode, Part};
use crate::diagnostics as say;
use crate::places::locals_of;
use crate::signal::{SignalState, default_value, signal_states};
use crate::state::{ProcessState, Ran};
use crate::trace::{Change, Trace, TracedSignal};
use base::{Diagnostic, Id, Span};
use design::{Design, Edge, ProcessKind, ScopeId, Sensitivity, SignalId, Storage, TimeFormat, TypeKind};
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

pub(crate) enum Later {
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
    pub(crate) inactive: Vec<usize>,
    pub(crate) updates: Vec<Update>,
    /// Processes that wait for the next delta cycle, with the number of their wait.
    pub(crate) next_delta: Vec<(usize, u64)>,
    pub(crate) later: BTreeMap<u64, Vec<Later>>,
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
    pub(crate) transactions: BTreeMap<usize, usize>,
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
    pub(crate) number: u64,
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

impl<'d> Kernel<'d> {
    pub(crate) fn new(design: &'d Design, options: &SimOptions) -> Self {
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

    pub(crate) fn start(&mut self) {
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

    /// Records an event and wakes who looks at one of the bits that changed.
    pub(crate) fn tell_changed(&mut self, index: usize, changed: &std::ops::Range<u32>) {
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

    pub(crate) fn run(&mut self, until: Option<u64>) {
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
            let Some(time) = self.later.first_key_value().map(|(time, _)| *time) else { return };
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
            for item in self.later.remove(&time).unwrap_or_default() {
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
    pub(crate) fn last_words(&mut self) {
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
