//! Assertions that end a simulation as outputs of the hardware: whether they can fail is then a question that a proof
//! answers.

use crate::expr::{Expr, ExprKind, SystemFunction, UnaryOp};
use crate::ids::{ExprId, SignalId};
use crate::model::{Design, Direction, LevelSet, Port, Signal, SignalKind, Type, TypeKind};
use crate::process::{AssignMode, Edge, PrintPart, Process, Sensitivity, Stmt, StmtKind, Storage, Target, WaitKind};
use base::{Id as _, Span};
use logic::{LogicVector, Shape};

/// Most assertions that are watched.
const MOST: usize = 64;

/// The name of the outputs that are added: no name of a source.
pub const WATCH: &str = "watch ";

/// An assertion that is watched.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Watched {
    /// The output that is 1 from the clock edge on at which it fails.
    pub port: String,
    /// The statement that it belongs to.
    pub span: Span,
    /// What it says, as far as that is known before.
    pub message: String,
}

/// The design with an output for each assertion of severity failure in its blocks, but for those of subprograms. `None`
/// where there is none.
pub fn with_watches(design: &Design) -> Option<(Design, Vec<Watched>)> {
    let mut whole = design.clone();
    let mut found = Vec::new();
    for id in design.processes.ids().collect::<Vec<_>>() {
        let is_clocked = waits_for_edge(design, &design.processes[id]);
        let starts_anew = matches!(
            design.processes[id].sensitivity,
            Sensitivity::Reads | Sensitivity::ReadsThrough | Sensitivity::Events(_) | Sensitivity::StartAndEvents(_)
        );
        if !is_clocked && !starts_anew {
            continue;
        }
        let before = found.len();
        let mut body = std::mem::take(&mut whole.processes[id].body);
        watch(&mut whole, &mut body, &mut found);
        // Logic says anew each time whether it fails.
        if !is_clocked && found.len() > before {
            let resets: Vec<Stmt> = (before..found.len()).map(|k| set(&mut whole, k, false)).collect();
            body.splice(0..0, resets);
        }
        whole.processes[id].body = body;
    }
    (!found.is_empty()).then_some((whole, found))
}

fn waits_for_edge(design: &Design, process: &Process) -> bool {
    let by_list = |events: &[crate::process::Event]| events.iter().any(|e| e.edge != Edge::Any);
    match &process.sensitivity {
        Sensitivity::Events(events) if by_list(events) => true,
        _ => process.body.iter().any(|stmt| tests_edge(design, stmt)),
    }
}

fn tests_edge(design: &Design, stmt: &Stmt) -> bool {
    let is_edge = |id: ExprId| {
        let mut stack = vec![id];
        let mut left = 1_000;
        while let Some(id) = stack.pop() {
            left -= 1;
            if left == 0 {
                return false;
            }
            if let ExprKind::System(
                SystemFunction::Rising(..) | SystemFunction::Falling(..) | SystemFunction::Reached(..),
            ) = design.exprs[id].kind
            {
                return true;
            }
            stack.extend(design.exprs[id].kind.operands());
        }
        false
    };
    match &stmt.kind {
        StmtKind::If { condition, then, otherwise } => {
            is_edge(*condition) || then.iter().chain(otherwise.iter().flatten()).any(|s| tests_edge(design, s))
        }
        StmtKind::Wait(WaitKind::Change { until: Some(condition), .. }) => is_edge(*condition),
        StmtKind::Wait(WaitKind::On(events)) => events.iter().any(|e| e.edge != Edge::Any),
        StmtKind::Block { body, .. } => body.iter().any(|s| tests_edge(design, s)),
        _ => false,
    }
}

/// Each assertion becomes an assignment to a bit that is never taken back.
fn watch(design: &mut Design, body: &mut [Stmt], found: &mut Vec<Watched>) {
    for stmt in body {
        let span = stmt.span;
        match &mut stmt.kind {
            StmtKind::Assert { condition, message, severity: 3 } if found.len() < MOST => {
                let (condition, text) = (*condition, text_of(message));
                let port = flag(design, found.len(), span);
                let not = Expr { kind: ExprKind::Unary(UnaryOp::LogicalNot, condition), width: 1, span };
                let fails = design.exprs.push(not);
                let then = vec![set(design, found.len(), true)];
                stmt.kind = StmtKind::If { condition: fails, then, otherwise: None };
                found.push(Watched { port, span, message: text });
            }
            StmtKind::If { then, otherwise, .. } => {
                watch(design, then, found);
                watch(design, otherwise.as_deref_mut().unwrap_or_default(), found);
            }
            StmtKind::Case { arms, default, .. } => {
                for arm in arms {
                    watch(design, &mut arm.body, found);
                }
                watch(design, default.as_deref_mut().unwrap_or_default(), found);
            }
            StmtKind::Loop { body, .. } | StmtKind::Block { body, .. } => watch(design, body, found),
            _ => {}
        }
    }
}

fn text_of(message: &[PrintPart]) -> String {
    let texts = message.iter().map(|part| if let PrintPart::Text(text) = part { text.as_str() } else { "" });
    texts.collect::<String>().trim().trim_end_matches(':').to_owned()
}

/// A bit that is 0 at first, as an output of the whole.
fn flag(design: &mut Design, number: usize, span: Span) -> String {
    let kind = TypeKind::Logic { shape: Shape::SCALAR, signed: false, levels: LevelSet::Two };
    let ty = design.intern_type(Type { kind, name: None });
    let top = design.top;
    let (name, initial) = (format!("{WATCH}{number}"), Some(LogicVector::from_u64(1, 0)));
    let kind = SignalKind::Variable;
    let signal = design.signals.push(Signal { name: name.clone(), scope: top, ty, kind, initial, span });
    design.scopes[top].ports.push(Port { signal, direction: Direction::Out, span });
    name
}

/// Gives a bit its level, which comes when the block waits.
fn set(design: &mut Design, number: usize, level: bool) -> Stmt {
    let name = format!("{WATCH}{number}");
    let ports = &design.scopes[design.top].ports;
    let port = ports.iter().find(|p| design.signals[p.signal].name == name);
    let (signal, span) = port.map_or((SignalId::from_index(0), design.scopes[design.top].span), |p| (p.signal, p.span));
    let kind = ExprKind::Const(LogicVector::from_u64(1, u64::from(level)));
    let value = design.exprs.push(Expr { kind, width: 1, span });
    let target = Target { storage: Storage::Signal(signal), low: 0, width: 1, element: None, span };
    let kind = StmtKind::Assign { targets: vec![target], value, mode: AssignMode::NonBlocking, delay: None };
    Stmt { kind, span }
}
