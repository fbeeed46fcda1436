//! Processes as structured statements over expressions, for the event simulator to run and synthesis to read.

use crate::ids::{ExprId, ScopeId, SignalId, SubprogramId, TypeId, VariableId};
use base::Span;

/// Which change of a signal wakes a process.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Edge {
    /// Any change.
    Any,
    /// Towards 1.
    Rising,
    /// Towards 0.
    Falling,
}

/// A change that wakes a process.
#[derive(Clone, Debug, PartialEq)]
pub struct Event {
    /// Which change.
    pub edge: Edge,
    /// Of what; edges look at bit 0.
    pub expr: ExprId,
}

/// When a process runs.
#[derive(Clone, Debug, PartialEq)]
pub enum Sensitivity {
    /// At start, and whenever something it reads changes (continuous assignments, `@*`, `process(all)`).
    Reads,
    /// The same, what its subprograms read included (`always_comb`, IEEE 1800-2017 9.2.2.2.1; `process (all)`, IEEE 1076-2008
    /// 11.3).
    ReadsThrough,
    /// Whenever one of these happens; not at start.
    Events(Vec<Event>),
    /// At start and whenever one of these happens (a VHDL sensitivity list).
    StartAndEvents(Vec<Event>),
    /// At start, once.
    Start,
    /// At start, over and over; it waits within.
    Forever,
    /// When the simulation ends, once; it doesn't wait.
    End,
}

/// What a process was written as, for messages and drawings.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ProcessKind {
    /// A continuous or concurrent assignment.
    Assignment,
    /// A gate primitive.
    Gate,
    /// The joining of a port and what is outside.
    PortMap,
    /// A block that should hold no storage (`always @*`, `always_comb`).
    Combinational,
    /// A block whose storage is wanted to be a latch (`always_latch`).
    Latch,
    /// A block that should be registers (`always_ff`).
    Register,
    /// Anything else.
    General,
}

/// A process: statements and when they run.
#[derive(Clone, Debug, PartialEq)]
pub struct Process {
    /// Where it stands.
    pub scope: ScopeId,
    /// What it was written as.
    pub kind: ProcessKind,
    /// A label, the name of a gate or an instance.
    pub name: Option<String>,
    /// When it runs.
    pub sensitivity: Sensitivity,
    /// What it does.
    pub body: Vec<Stmt>,
    /// The whole of it.
    pub span: Span,
}

/// What an assignment writes to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Storage {
    /// A signal.
    Signal(SignalId),
    /// A variable.
    Variable(VariableId),
}

/// A piece of storage that an assignment writes.
#[derive(Clone, Debug, PartialEq)]
pub struct Target {
    /// The storage.
    pub storage: Storage,
    /// The lowest bit written when there is no index.
    pub low: u32,
    /// How many bits are written.
    pub width: u32,
    /// A computed position: element and distance between elements, counted from `low`; outside writes nothing.
    pub element: Option<(ExprId, u32)>,
    /// Where it stands.
    pub span: Span,
}

/// When an assignment takes effect.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum AssignMode {
    /// At once (`=`, `:=`).
    Blocking,
    /// When the process waits (`<=`).
    NonBlocking,
}

/// A delay on an assignment.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Delay {
    /// How long: 64 bits, femtoseconds.
    pub amount: ExprId,
    /// Transport instead of inertial.
    pub transport: bool,
    /// Shorter pulses than this are lost, of an inertial delay: 64 bits, femtoseconds; the delay itself where nothing
    /// is said.
    pub reject: Option<ExprId>,
}

/// How the choices of a case are compared.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum CaseMatch {
    /// All levels equal, X with X (`case` of both languages).
    Exact,
    /// Z in subject or choice is a don't-care (`casez`).
    HighZ,
    /// X and Z in subject or choice are don't-cares (`casex`).
    Unknown,
    /// `-` in a choice is a don't-care (`case?`).
    Dash,
}

/// One arm of a case.
#[derive(Clone, Debug, PartialEq)]
pub struct Arm {
    /// Any of these chooses it; as wide as the subject.
    pub choices: Vec<ExprId>,
    /// What it does.
    pub body: Vec<Stmt>,
    /// The arm.
    pub span: Span,
}

/// How often a loop runs.
#[derive(Clone, Debug, PartialEq)]
pub enum LoopKind {
    /// While the condition holds, tested before each turn.
    While(ExprId),
    /// A number of turns.
    Repeat(ExprId),
    /// Without end.
    Forever,
}

/// What a process waits for.
#[derive(Clone, Debug, PartialEq)]
pub enum WaitKind {
    /// A stretch of time, an expression in femtoseconds.
    For(ExprId),
    /// One of these changes.
    On(Vec<Event>),
    /// The condition to hold; goes on at once when it does.
    Until(ExprId),
    /// One of these changes, with the condition true right after it; at most for a time in femtoseconds (VHDL `wait`).
    Change {
        /// What is watched; empty for nothing.
        on: Vec<Event>,
        /// One bit.
        until: Option<ExprId>,
        /// The longest wait: 64 bits, femtoseconds.
        timeout: Option<ExprId>,
    },
    /// For ever.
    Forever,
}

/// How a value is written in a message.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Radix {
    /// Every bit, unknown ones as `x` and `z`.
    Binary,
    /// Every bit as its level's character (`U X 0 1 Z W L H -`).
    Levels,
    /// Digits of three bits.
    Octal,
    /// A whole number.
    Decimal,
    /// Digits of four bits, in small letters.
    Hexadecimal,
    /// Digits of four bits, in capitals.
    Capitals,
    /// One character, from the lowest 8 bits.
    Character,
    /// Characters of 8 bits, the most significant first.
    Text,
    /// A stretch of time given in femtoseconds, as a number of units of so many femtoseconds.
    Time(u64),
    /// A stretch of time given in femtoseconds, as units of so many femtoseconds with so many places behind the point;
    /// without places, with six digits that count.
    Fraction(u64, Option<u8>),
    /// A stretch of time given in femtoseconds, as units of so many femtoseconds with all places it has.
    Exact(u64),
    /// The name of an enumeration's value, or `true` and `false`.
    Name(TypeId),
    /// A real number.
    Real(RealStyle, Option<u8>),
}

/// How a real number is written; the places behind the point stand beside it, six where none are given.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum RealStyle {
    /// `2.500000` (`%f`).
    Fixed,
    /// `2.500000e+00` (`%e`).
    Exponent,
    /// The shorter of both with so many digits that count (`%g`).
    Shorter,
    /// `2.5e0`: one digit before the point and as many behind it as it takes (`to_string` and `'image` of VHDL).
    Image,
}

/// A piece of a message.
#[derive(Clone, Debug, PartialEq)]
pub enum PrintPart {
    /// Fixed text.
    Text(String),
    /// A value.
    Value {
        /// What is written.
        value: ExprId,
        /// How.
        radix: Radix,
        /// As two's complement (decimal only).
        signed: bool,
        /// Fewest characters; `None` for as many as the widest value of this size needs.
        width: Option<u32>,
    },
    /// The hierarchical name of the scope.
    Scope,
    /// What is left in a line of text.
    Line {
        /// Which line, counted from 0.
        line: u32,
        /// It stays there; else the line is empty afterwards.
        is_kept: bool,
    },
    /// Pieces that together take at least so many characters, blanks making up for what is missing.
    Field {
        /// What is written.
        parts: Vec<PrintPart>,
        /// Fewest characters.
        width: u32,
        /// The blanks follow the text; else they stand before it.
        is_left: bool,
    },
}

/// When a message is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum PrintTime {
    /// At once.
    Now,
    /// When nothing more happens at this time (`$strobe`).
    Settled,
    /// At the end of every time at which a value in it has changed (`$monitor`).
    OnChange,
    /// At once, at the end of a line of text that is kept (IEEE 1076-2008 16.4).
    Kept(u32),
}

/// What a statement does.
#[derive(Clone, Debug, PartialEq)]
pub enum StmtKind {
    /// Targets, the first one taking the most significant bits, are given a value as wide as all of them.
    Assign {
        /// What is written.
        targets: Vec<Target>,
        /// The value.
        value: ExprId,
        /// When.
        mode: AssignMode,
        /// After how long.
        delay: Option<Delay>,
    },
    /// One of two lists.
    If {
        /// One bit; unknown takes the second list.
        condition: ExprId,
        /// For 1.
        then: Vec<Stmt>,
        /// Otherwise; `None` when the source has no else.
        otherwise: Option<Vec<Stmt>>,
    },
    /// The first arm with a matching choice.
    Case {
        /// How choices are compared.
        matching: CaseMatch,
        /// What is compared.
        subject: ExprId,
        /// The arms in order.
        arms: Vec<Arm>,
        /// When none matches; `None` when the source has no default.
        default: Option<Vec<Stmt>>,
    },
    /// A loop.
    Loop {
        /// How often.
        kind: LoopKind,
        /// What each turn does.
        body: Vec<Stmt>,
        /// What is done after each turn, `next` included (the step of a `for`).
        step: Vec<Stmt>,
        /// Its label.
        label: Option<String>,
    },
    /// Statements with a label to leave.
    Block {
        /// The label.
        label: Option<String>,
        /// The statements.
        body: Vec<Stmt>,
    },
    /// Waits.
    Wait(WaitKind),
    /// Leaves the block or loop of that label, or the innermost loop.
    Exit(Option<String>),
    /// Goes on with the next turn of the loop of that label, or of the innermost one.
    Next(Option<String>),
    /// Leaves the subprogram.
    Return,
    /// Calls a procedure or task.
    Call {
        /// Which.
        subprogram: SubprogramId,
        /// Actual parameters; those of out parameters are written back to these targets.
        arguments: Vec<(ExprId, Option<Target>)>,
    },
    /// Writes a message; simulation only.
    Print {
        /// Text and values in order.
        parts: Vec<PrintPart>,
        /// Ends the line.
        newline: bool,
        /// When.
        time: PrintTime,
    },
    /// Says a message when the condition does not hold; simulation only.
    Assert {
        /// One bit.
        condition: ExprId,
        /// The message.
        message: Vec<PrintPart>,
        /// 0 note, 1 warning, 2 error, 3 failure.
        severity: u8,
    },
    /// Holds signals at a level whatever drives them, or with `None` lets go of them; simulation only.
    Force {
        /// What is held, the first one taking the most significant bits; without computed positions.
        targets: Vec<Target>,
        /// The level, looked at when the statement runs.
        value: Option<ExprId>,
    },
    /// Ends the simulation.
    Finish,
    /// Changes how the simulator writes; simulation only.
    Control(Control),
}

/// What a testbench may tell the simulator about its output.
#[derive(Clone, Debug, PartialEq)]
pub enum Control {
    /// How times are written from now on (IEEE 1364-2005 17.3.2).
    TimeFormat(TimeFormat),
    /// Messages on change are written from now on, or no longer (IEEE 1364-2005 17.1.3).
    Monitor(bool),
}

/// How a time is written.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TimeFormat {
    /// The unit in femtoseconds; 0 for the precision of the design.
    pub unit: u64,
    /// Places behind the point.
    pub places: u32,
    /// What follows the number.
    pub suffix: String,
    /// Fewest characters.
    pub width: u32,
}

impl Default for TimeFormat {
    /// Whole units of the precision, 20 characters wide (IEEE 1364-2005 table 17-12).
    fn default() -> Self {
        Self { unit: 0, places: 0, suffix: String::new(), width: 20 }
    }
}

/// A statement with its place.
#[derive(Clone, Debug, PartialEq)]
pub struct Stmt {
    /// What it does.
    pub kind: StmtKind,
    /// Where it stands.
    pub span: Span,
}
