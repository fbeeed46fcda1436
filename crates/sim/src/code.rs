//! Processes and subprograms as instruction lists: expressions in postfix order, statements with jumps.

use base::Span;
use design::{
    Arm, AssignMode, BinaryOp, CaseMatch, Control, Design, Event, ExprId, ExprKind, LoopKind, PrintPart, PrintTime,
    Process, RealOp, Scan, ScanPart, ScanSource, ScopeId, Stmt, StmtKind, SubprogramId, SystemFunction, Target, TextOp,
    UnaryOp, UnknownCondition, Unknowns, WaitKind,
};
use logic::LogicVector;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// An expression, operands before operators.
pub(crate) type Code = Vec<Op>;

#[derive(Clone, Debug)]
pub(crate) enum Op {
    Const(LogicVector),
    Signal(usize),
    Variable(usize),
    SignalSlice(usize, u32, u32),
    Slice(u32, u32),
    Element {
        stride: u32,
        width: u32,
    },
    Unary(UnaryOp),
    Binary {
        op: BinaryOp,
        signed: bool,
        unknowns: Unknowns,
    },
    Select(UnknownCondition),
    /// Says a message when the condition fails for the value that was computed last, which stays, or is replaced.
    Checked(Box<Check>),
    /// The same where an arm calls a function: only the arm that is taken is computed.
    Lazy(Box<(Code, Code)>, UnknownCondition),
    Concat(usize),
    Resize(u32, bool),
    Call(SubprogramId, usize, u32),
    System(SystemFunction, u32),
    Real(RealOp, usize, u32),
    Text(TextOp, usize, u32),
    Format(Vec<Part>, u32),
    Scan(Box<Reading>),
}

/// Which pulses a delay lets through.
#[derive(Clone, Debug)]
pub(crate) enum Pulses {
    All,
    AsLongAsTheDelay,
    From(Code),
}

/// What a value has to be.
#[derive(Clone, Debug)]
pub(crate) struct Check {
    pub(crate) condition: Code,
    pub(crate) otherwise: Option<Code>,
    pub(crate) parts: Vec<Part>,
    pub(crate) severity: u8,
    pub(crate) span: Span,
}

/// What is read, with the places that it goes to.
#[derive(Clone, Debug)]
pub(crate) struct Reading {
    pub(crate) source: ScanSource,
    pub(crate) parts: Vec<(ScanPart, Option<Place>)>,
}

/// A target with its index.
#[derive(Clone, Debug)]
pub(crate) struct Place {
    pub(crate) target: Target,
    pub(crate) index: Option<Code>,
}

#[derive(Clone, Debug)]
pub(crate) enum Instr {
    Assign {
        places: Vec<Place>,
        value: Code,
        mode: AssignMode,
        delay: Option<(Code, Pulses)>,
        span: Span,
        /// The value as the design has it.
        source: ExprId,
    },
    /// On when the value is not 1.
    JumpUnless(Code, usize),
    Jump(usize),
    /// Ends a block of that name in other processes of the scope; where there is none, this process or subprogram.
    Disable(String),
    /// To the arm whose choice matches, or to the last target.
    Case {
        matching: CaseMatch,
        subject: Code,
        arms: Vec<(Vec<Code>, usize)>,
        otherwise: usize,
    },
    /// Pushes a count.
    RepeatStart(Code),
    /// Counts down; to the target when none is left, which also pops the count.
    RepeatTurn(usize),
    /// Drops counts of loops that are left.
    Drop(usize),
    Wait(WaitCode, Span),
    Control(Control),
    Print {
        parts: Vec<Part>,
        newline: bool,
        time: PrintTime,
    },
    Assert {
        condition: Code,
        parts: Vec<Part>,
        severity: u8,
        span: Span,
    },
    Call {
        subprogram: SubprogramId,
        values: Vec<Code>,
        outs: Vec<(usize, Place)>,
        span: Span,
    },
    /// Holds signals at a level, or lets go of them.
    Force {
        targets: Vec<Target>,
        value: Option<Code>,
    },
    Finish,
    Return,
}

#[derive(Clone, Debug)]
pub(crate) enum WaitCode {
    For(Code),
    On(Vec<EventCode>),
    /// Goes on at once when it holds.
    Until(Code, Vec<usize>),
    Change {
        on: Vec<EventCode>,
        until: Option<Code>,
        timeout: Option<Code>,
    },
    Forever,
}

#[derive(Clone, Debug)]
pub(crate) struct EventCode {
    pub(crate) edge: design::Edge,
    pub(crate) code: Code,
    /// Signals that the expression reads, by index.
    pub(crate) signals: Vec<usize>,
}

#[derive(Clone, Debug)]
pub(crate) enum Part {
    Text(String),
    Value { code: Code, radix: design::Radix, signed: bool, width: Option<u32> },
    Scope,
    Line { line: usize, is_kept: bool },
    Field { parts: Vec<Part>, width: usize, is_left: bool },
}

/// The instructions of a process or subprogram.
#[derive(Clone, Debug, Default)]
pub(crate) struct Block {
    pub(crate) instrs: Vec<Instr>,
    /// Blocks with a name: the first instruction, the one behind the last, and the counts that are open around it.
    pub(crate) named: Vec<(String, usize, usize, usize)>,
}

pub(crate) struct Compiler<'d> {
    design: &'d Design,
    out: Vec<Instr>,
    /// Open loops and blocks, the innermost last.
    open: Vec<Open>,
    /// Counts of repeat loops that are open.
    counts: usize,
    named: Vec<(String, usize, usize, usize)>,
    /// Labels around what was forked: leaving such a block ends it in other processes, too.
    shared: Arc<BTreeSet<String>>,
}

/// Labels of blocks that stand in several processes: those around the branches of a fork.
fn shared_labels(design: &Design, scope: ScopeId) -> BTreeSet<String> {
    let mut found = BTreeSet::new();
    let mut counts: BTreeMap<&str, usize> = BTreeMap::new();
    for (_, process) in design.processes.iter().filter(|(_, p)| p.scope == scope) {
        let mut labels = Vec::new();
        let mut body = process.body.as_slice();
        while let [Stmt { kind: StmtKind::Block { label: Some(label), body: inner }, .. }, ..] = body {
            labels.push(label.as_str());
            body = inner;
        }
        // The innermost one is that of the fork itself.
        if labels.pop().is_some_and(|l| l.starts_with("fork ")) {
            for label in labels {
                *counts.entry(label).or_default() += 1;
            }
        }
    }
    found.extend(counts.into_keys().map(str::to_owned));
    found
}

struct Open {
    label: Option<String>,
    start: usize,
    is_loop: bool,
    counts: usize,
    exits: Vec<usize>,
    nexts: Vec<usize>,
}

pub(crate) fn expression(design: &Design, root: ExprId) -> Code {
    let mut code = Vec::new();
    // (node, operands pushed already)
    let mut stack = vec![(root, false)];
    while let Some((id, done)) = stack.pop() {
        let node = &design.exprs[id];
        if let ExprKind::Slice { base, low } = &node.kind
            && let ExprKind::Signal(s) = &design.exprs[*base].kind
        {
            code.push(Op::SignalSlice(base::Id::index(*s), *low, node.width));
            continue;
        }
        let lazy = matches!(&node.kind, ExprKind::Select { then, otherwise, .. }
            if design::may_talk(design, *then) || design::may_talk(design, *otherwise));
        // `i < 8 and a(i) = '1'`: the right side is looked at where the left one doesn't decide.
        let short = match &node.kind {
            ExprKind::Binary { op: op @ (BinaryOp::And | BinaryOp::Or), left, right, .. }
                if node.width == 1 && design::may_talk(design, *right) =>
            {
                Some((*op, *left, *right))
            }
            _ => None,
        };
        let operands: Vec<ExprId> = match &node.kind {
            ExprKind::Select { condition, .. } if lazy => vec![*condition],
            ExprKind::Binary { left, .. } if short.is_some() => vec![*left],
            // A message evaluates its values itself.
            ExprKind::Format(_) => Vec::new(),
            // Only where it reads from; positions of targets are computed when they are reached.
            ExprKind::Scan(scan) => match scan.source {
                ScanSource::File(id) | ScanSource::Text(id) => vec![id],
                ScanSource::Line(_) => Vec::new(),
            },
            kind => kind.operands(),
        };
        if !done && !operands.is_empty() {
            stack.push((id, true));
            stack.extend(operands.into_iter().rev().map(|o| (o, false)));
            continue;
        }
        code.push(match &node.kind {
            ExprKind::Const(value) => Op::Const(value.clone()),
            ExprKind::Signal(s) => Op::Signal(base::Id::index(*s)),
            ExprKind::Variable(v) => Op::Variable(base::Id::index(*v)),
            ExprKind::Slice { low, .. } => Op::Slice(*low, node.width),
            ExprKind::Element { stride, .. } => Op::Element { stride: *stride, width: node.width },
            ExprKind::Unary(op, _) => Op::Unary(*op),
            ExprKind::Binary { op, right, .. } if short.is_some() => {
                let decided = vec![Op::Const(LogicVector::from_u64(1, u64::from(*op == BinaryOp::Or)))];
                let right = expression(design, *right);
                let arms = if *op == BinaryOp::And { (right, decided) } else { (decided, right) };
                Op::Lazy(Box::new(arms), UnknownCondition::Merge)
            }
            ExprKind::Checked { condition, otherwise, message, severity, .. } => Op::Checked(Box::new(Check {
                condition: expression(design, *condition),
                otherwise: otherwise.map(|o| expression(design, o)),
                parts: pieces(design, message),
                severity: *severity,
                span: node.span,
            })),
            ExprKind::Binary { op, signed, unknowns, .. } => {
                Op::Binary { op: *op, signed: *signed, unknowns: *unknowns }
            }
            ExprKind::Select { then, otherwise, unknown, .. } if lazy => {
                Op::Lazy(Box::new((expression(design, *then), expression(design, *otherwise))), *unknown)
            }
            ExprKind::Select { unknown, .. } => Op::Select(*unknown),
            ExprKind::Concat(parts) => Op::Concat(parts.len()),
            ExprKind::Resize { signed, .. } => Op::Resize(node.width, *signed),
            ExprKind::Call { subprogram, arguments } => Op::Call(*subprogram, arguments.len(), node.width),
            ExprKind::System(f) => Op::System(*f, node.width),
            ExprKind::Real { op, operands } => Op::Real(*op, operands.len(), node.width),
            ExprKind::Text { op, operands } => Op::Text(*op, operands.len(), node.width),
            ExprKind::Scan(scan) => Op::Scan(Box::new(reading(design, scan))),
            ExprKind::Format(parts) => Op::Format(pieces(design, parts), node.width),
        });
    }
    code
}

fn reading(design: &Design, scan: &Scan) -> Reading {
    let place = |target: &Target| Place {
        target: target.clone(),
        index: target.element.map(|(index, _)| expression(design, index)),
    };
    let parts = scan.parts.iter().map(|part| {
        let place = match part {
            ScanPart::Value { target, .. } => target.as_ref().map(place),
            ScanPart::RestOfLine(target) => Some(place(target)),
            _ => None,
        };
        (part.clone(), place)
    });
    Reading { source: scan.source, parts: parts.collect() }
}

/// The pieces of a message.
fn pieces(design: &Design, list: &[PrintPart]) -> Vec<Part> {
    let one = |part: &PrintPart| match part {
        PrintPart::Text(text) => Part::Text(text.clone()),
        PrintPart::Scope => Part::Scope,
        PrintPart::Line { line, is_kept } => Part::Line { line: *line as usize, is_kept: *is_kept },
        PrintPart::Value { value, radix, signed, width } => {
            Part::Value { code: expression(design, *value), radix: *radix, signed: *signed, width: *width }
        }
        PrintPart::Field { parts: inner, width, is_left } => {
            Part::Field { parts: pieces(design, inner), width: *width as usize, is_left: *is_left }
        }
    };
    list.iter().map(one).collect()
}

pub(crate) fn event(design: &Design, event: &Event) -> EventCode {
    let signals = design::signals_of(design, event.expr).into_iter().map(base::Id::index).collect();
    EventCode { edge: event.edge, code: expression(design, event.expr), signals }
}

/// All processes, in their order.
pub(crate) fn processes(design: &Design) -> Vec<Arc<Block>> {
    let mut shared: BTreeMap<ScopeId, Arc<BTreeSet<String>>> = BTreeMap::new();
    let one = |process: &Process| {
        let labels = shared.entry(process.scope).or_insert_with(|| Arc::new(shared_labels(design, process.scope)));
        Arc::new(compiled(design, &process.body, Arc::clone(labels)))
    };
    design.processes.iter().map(|(_, p)| p).map(one).collect()
}

/// A subprogram.
pub(crate) fn block(design: &Design, body: &[Stmt]) -> Block {
    compiled(design, body, Arc::default())
}

fn compiled(design: &Design, body: &[Stmt], shared: Arc<BTreeSet<String>>) -> Block {
    let mut compiler = Compiler { design, out: Vec::new(), open: Vec::new(), counts: 0, named: Vec::new(), shared };
    compiler.list(body);
    Block { instrs: compiler.out, named: compiler.named }
}

impl Compiler<'_> {
    fn code(&self, id: ExprId) -> Code {
        expression(self.design, id)
    }

    fn place(&self, target: &Target) -> Place {
        Place { target: target.clone(), index: target.element.map(|(index, _)| self.code(index)) }
    }

    fn list(&mut self, body: &[Stmt]) {
        for stmt in body {
            self.statement(stmt);
        }
    }

    fn statement(&mut self, stmt: &Stmt) {
        let span = stmt.span;
        match &stmt.kind {
            StmtKind::Assign { targets, value, mode, delay } => {
                let places = targets.iter().map(|t| self.place(t)).collect();
                let delay = delay.map(|d| {
                    let pulses = match (d.transport, d.reject) {
                        (true, _) => Pulses::All,
                        (false, None) => Pulses::AsLongAsTheDelay,
                        (false, Some(limit)) => Pulses::From(self.code(limit)),
                    };
                    (self.code(d.amount), pulses)
                });
                let (code, source) = (self.code(*value), *value);
                self.out.push(Instr::Assign { places, value: code, mode: *mode, delay, span, source });
            }
            StmtKind::If { condition, then, otherwise } => {
                let test = self.reserve();
                self.list(then);
                let end = otherwise.as_ref().map(|_| self.reserve());
                let code = self.code(*condition);
                self.out[test] = Instr::JumpUnless(code, self.out.len());
                if let (Some(end), Some(otherwise)) = (end, otherwise) {
                    self.list(otherwise);
                    self.out[end] = Instr::Jump(self.out.len());
                }
            }
            StmtKind::Case { matching, subject, arms, default } => {
                self.case(*matching, *subject, arms, default.as_deref());
            }
            StmtKind::Loop { kind, body, step, label } => self.repeat(kind, body, step, label.as_ref()),
            StmtKind::Block { label, body } => {
                self.enter(label.clone(), false);
                self.list(body);
                self.close(None);
            }
            StmtKind::Exit(label) => self.jump(label.as_deref(), true),
            StmtKind::Next(label) => self.jump(label.as_deref(), false),
            StmtKind::Return => self.out.push(Instr::Return),
            StmtKind::Wait(kind) => {
                let wait = self.wait(kind);
                self.out.push(Instr::Wait(wait, span));
            }
            StmtKind::Call { subprogram, arguments } => {
                let values = arguments.iter().map(|(v, _)| self.code(*v)).collect();
                let outs = arguments.iter().enumerate();
                let outs = outs.filter_map(|(i, (_, t))| Some((i, self.place(t.as_ref()?)))).collect();
                self.out.push(Instr::Call { subprogram: *subprogram, values, outs, span });
            }
            StmtKind::Print { parts, newline, time } => {
                let parts = pieces(self.design, parts);
                self.out.push(Instr::Print { parts, newline: *newline, time: *time });
            }
            StmtKind::Assert { condition, message, severity } => {
                let (condition, parts) = (self.code(*condition), pieces(self.design, message));
                self.out.push(Instr::Assert { condition, parts, severity: *severity, span });
            }
            StmtKind::Finish => self.out.push(Instr::Finish),
            StmtKind::Force { targets, value } => {
                let value = value.map(|v| self.code(v));
                self.out.push(Instr::Force { targets: targets.clone(), value });
            }
            StmtKind::Control(control) => self.out.push(Instr::Control(control.clone())),
        }
    }

    fn reserve(&mut self) -> usize {
        self.out.push(Instr::Finish);
        self.out.len() - 1
    }

    fn case(&mut self, matching: CaseMatch, subject: ExprId, arms: &[Arm], default: Option<&[Stmt]>) {
        let head = self.reserve();
        let mut targets = Vec::new();
        let mut ends = Vec::new();
        for arm in arms {
            let choices = arm.choices.iter().map(|c| self.code(*c)).collect();
            targets.push((choices, self.out.len()));
            self.list(&arm.body);
            ends.push(self.reserve());
        }
        let otherwise = self.out.len();
        self.list(default.unwrap_or_default());
        let end = self.out.len();
        for at in ends {
            self.out[at] = Instr::Jump(end);
        }
        self.out[head] = Instr::Case { matching, subject: self.code(subject), arms: targets, otherwise };
    }

    fn enter(&mut self, label: Option<String>, is_loop: bool) {
        let start = self.out.len();
        self.open.push(Open { label, start, is_loop, counts: self.counts, exits: Vec::new(), nexts: Vec::new() });
    }

    /// Ends the innermost loop or block; `next` is where its next turn begins.
    fn close(&mut self, next: Option<usize>) {
        let Some(open) = self.open.pop() else { return };
        let end = self.out.len();
        if let Some(label) = open.label {
            self.named.push((label, open.start, end, open.counts));
        }
        for at in open.exits {
            self.out[at] = Instr::Jump(end);
        }
        for at in open.nexts {
            self.out[at] = Instr::Jump(next.unwrap_or(end));
        }
    }

    fn repeat(&mut self, kind: &LoopKind, body: &[Stmt], step: &[Stmt], label: Option<&String>) {
        self.enter(label.cloned(), true);
        if let LoopKind::Repeat(count) = kind {
            let code = self.code(*count);
            self.out.push(Instr::RepeatStart(code));
            self.counts += 1;
        }
        let top = self.out.len();
        let test = match kind {
            LoopKind::Forever => None,
            _ => Some(self.reserve()),
        };
        self.list(body);
        let next = self.out.len();
        self.list(step);
        self.out.push(Instr::Jump(top));
        let end = self.out.len();
        if let Some(test) = test {
            self.out[test] = match kind {
                LoopKind::While(condition) => Instr::JumpUnless(self.code(*condition), end),
                _ => Instr::RepeatTurn(end),
            };
        }
        if matches!(kind, LoopKind::Repeat(_)) {
            self.counts -= 1;
        }
        self.close(Some(next));
    }

    fn jump(&mut self, label: Option<&str>, exit: bool) {
        let fits = |o: &Open| match label {
            Some(_) => o.label.as_deref() == label,
            None => o.is_loop,
        };
        let Some(depth) = self.open.iter().rposition(fits) else {
            // Not around it: a block of another process, else the whole process or subprogram is left.
            self.out.push(match label {
                Some(label) => Instr::Disable(label.to_owned()),
                None => Instr::Return,
            });
            return;
        };
        // `next` keeps the count of its own loop.
        let keep = self.open[depth].counts + usize::from(!exit && self.is_counted(depth));
        if self.counts > keep {
            self.out.push(Instr::Drop(self.counts - keep));
        }
        if let Some(label) = label.filter(|l| exit && self.shared.contains(*l)) {
            self.out.push(Instr::Disable(label.to_owned()));
        }
        let at = self.reserve();
        let open = &mut self.open[depth];
        if exit { open.exits.push(at) } else { open.nexts.push(at) }
    }

    /// True when the loop at that depth holds a count of its own.
    fn is_counted(&self, depth: usize) -> bool {
        let inner = self.open.get(depth + 1).map_or(self.counts, |o| o.counts);
        self.open[depth].is_loop && inner > self.open[depth].counts
    }

    fn wait(&self, kind: &WaitKind) -> WaitCode {
        let events = |list: &[Event]| list.iter().map(|e| event(self.design, e)).collect();
        match kind {
            WaitKind::For(amount) => WaitCode::For(self.code(*amount)),
            WaitKind::On(list) => WaitCode::On(events(list)),
            WaitKind::Until(condition) => {
                let signals = design::signals_of(self.design, *condition).into_iter().map(base::Id::index).collect();
                WaitCode::Until(self.code(*condition), signals)
            }
            WaitKind::Change { on, until, timeout } => WaitCode::Change {
                on: events(on),
                until: until.map(|c| self.code(c)),
                timeout: timeout.map(|c| self.code(c)),
            },
            WaitKind::Forever => WaitCode::Forever,
        }
    }
}
