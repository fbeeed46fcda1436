//! The one representation of hardware and testbench behaviour that every language is lowered to, and the bit-level
//! netlist derived from it.
//!
//! Below this line no language is known: widths, signedness, conversions and sensitivity are explicit in the nodes.
//! A [`Design`] that [`validate`] finds clean makes nothing downstream panic.

mod blif;
mod dump;
mod expr;
mod fold;
mod gates;
mod ids;
mod lanes;
mod linear;
mod luts;
mod model;
mod netlist;
mod process;
mod real;
mod scan;
mod synth;
mod units;
mod uses;
mod validate;
mod watch;

pub use blif::{BlifError, NotSayable, read_blif, write_blif};
pub use dump::dump;
pub use expr::{BinaryOp, Expr, ExprKind, SystemFunction, TextOp, UnaryOp, UnknownCondition, Unknowns};
pub use fold::{binary_value, fold, unary_value, unknown_comparison};
pub use gates::{Gate, GateId, GateKind, Gates, gates};
pub use ids::{ExprId, ProcessId, ScopeId, SignalId, SubprogramId, TypeId, VariableId};
pub use lanes::Lanes;
pub use linear::{Linear, linear};
pub use luts::{Lut, LutMap, MAX_LUT_INPUTS};
pub use model::{
    Design, Direction, LevelSet, NetKind, Port, Scope, ScopeKind, Signal, SignalKind, Subprogram, Type, TypeKind,
    Variable,
};
pub use netlist::{AsyncControl, InputBit, Lit, Netlist, Node, NodeId, OutputBit, Register};
pub use process::{
    Arm, AssignMode, CaseMatch, Control, Delay, Edge, Event, LoopKind, PrintPart, PrintTime, Process, ProcessKind,
    Radix, RealStyle, Sensitivity, Stmt, StmtKind, Storage, Target, TimeFormat, WaitKind,
};
pub use real::{REAL_WIDTH, RealOp, real_bits, real_of, real_value};
pub use scan::{Reader, Scan, ScanKind, ScanPart, ScanSource, TextFile};
pub use synth::{
    Synthesis, evaluate, may_talk, signals_of, signals_read, signals_read_through, stretches_read, synthesise,
    synthesise_as_written, synthesise_with_latches,
};
pub use units::Units;
pub use uses::{Means, Use};
pub use validate::{Invalid, validate};
pub use watch::{WATCH, Watched, with_watches};
