//! The gates that a design was written with: each operator on levels and each gate primitive as it stands, bit by bit,
//! through named wires and instances, with nothing simplified. For rules about forms and numbers of gates.

use crate::expr::{BinaryOp, ExprKind, UnaryOp};
use crate::ids::{ExprId, SignalId};
use crate::model::{Design, Direction};
use crate::process::{Edge, Event, Process, Sensitivity, Stmt, StmtKind, Storage};
use base::{Arena, Budget, Exhausted, Id, Span, id_type};
use std::collections::BTreeMap;

id_type!(
    /// A gate, input or constant.
    GateId,
    "g"
);

/// What a gate does.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
#[expect(missing_docs, reason = "each is the gate of its name")]
pub enum GateKind {
    And,
    Or,
    Xor,
    Nand,
    Nor,
    Xnor,
    Not,
}

impl GateKind {
    /// Its name in both languages.
    pub fn word(self) -> &'static str {
        match self {
            GateKind::And => "and",
            GateKind::Or => "or",
            GateKind::Xor => "xor",
            GateKind::Nand => "nand",
            GateKind::Nor => "nor",
            GateKind::Xnor => "xnor",
            GateKind::Not => "not",
        }
    }

    fn inverted(self) -> Self {
        match self {
            GateKind::And => GateKind::Nand,
            GateKind::Or => GateKind::Nor,
            GateKind::Xor => GateKind::Xnor,
            GateKind::Nand => GateKind::And,
            GateKind::Nor => GateKind::Or,
            GateKind::Xnor => GateKind::Xor,
            GateKind::Not => GateKind::Not,
        }
    }
}

/// A place in the network of gates.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Gate {
    /// A bit of an input port of the top, by its place above the least significant one.
    Input(SignalId, u32),
    /// A constant level.
    Const(bool),
    /// A gate with its inputs in order.
    Gate {
        /// What it does.
        kind: GateKind,
        /// Its inputs.
        inputs: Vec<GateId>,
        /// Where it is written.
        span: Span,
    },
    /// Something that is no gate: a comparison, a choice, a sum, storage.
    Other(Span),
}

/// The gates behind the outputs of a design's top.
#[derive(Clone, Debug, Default)]
pub struct Gates {
    /// All of them, inputs of a gate before the gate.
    pub gates: Arena<GateId, Gate>,
    /// What drives each output bit: port, place above the least significant bit, gate.
    pub outputs: Vec<(SignalId, u32, GateId)>,
}

impl Gates {
    /// The gates that an output depends on, itself included, each once.
    pub fn behind(&self, roots: &[GateId]) -> Vec<GateId> {
        let mut seen = vec![false; self.gates.len()];
        let mut stack = roots.to_vec();
        while let Some(id) = stack.pop() {
            if std::mem::replace(&mut seen[id.index()], true) {
                continue;
            }
            if let Gate::Gate { inputs, .. } = &self.gates[id] {
                stack.extend(inputs);
            }
        }
        self.gates.ids().filter(|id| seen[id.index()]).collect()
    }
}

/// Finds the gates of a validated design.
///
/// # Errors
/// When the budget runs out.
pub fn gates(design: &Design, budget: &mut Budget) -> Result<Gates, Exhausted> {
    let mut finder =
        Finder { design, budget, found: Gates::default(), known: BTreeMap::new(), drivers: BTreeMap::new() };
    for (_, process) in design.processes.iter() {
        finder.drivers_of(process)?;
    }
    for port in &design.scopes[design.top].ports {
        if port.direction == Direction::In {
            continue;
        }
        for bit in 0..design.signal_width(port.signal) {
            let id = finder.signal(port.signal, bit, port.span)?;
            finder.found.outputs.push((port.signal, bit, id));
        }
    }
    Ok(finder.found)
}

/// What drives a bit: a bit of an expression, or something that is no gate.
#[derive(Clone, Copy)]
enum Driver {
    Bit(ExprId, u32),
    Other(Span),
}

struct Finder<'d> {
    design: &'d Design,
    budget: &'d mut Budget,
    found: Gates,
    /// Bits found; `None` while they are looked for.
    known: BTreeMap<(SignalId, u32), Option<GateId>>,
    drivers: BTreeMap<(SignalId, u32), Driver>,
}

impl<'d> Finder<'d> {
    fn drivers_of(&mut self, process: &'d Process) -> Result<(), Exhausted> {
        let waits_for_edge = |events: &[Event]| events.iter().any(|e| e.edge != Edge::Any);
        let combinational = match &process.sensitivity {
            Sensitivity::Start | Sensitivity::End => return Ok(()),
            Sensitivity::Reads | Sensitivity::ReadsThrough => true,
            Sensitivity::Events(events) | Sensitivity::StartAndEvents(events) => !waits_for_edge(events),
            Sensitivity::Forever => false,
        };
        let mut list = Vec::new();
        let plain = plain_assignments(&process.body, &mut list) && combinational;
        for stmt in list {
            let StmtKind::Assign { targets, value, .. } = &stmt.kind else { continue };
            let mut place: u32 = targets.iter().map(|t| t.width).sum();
            for target in targets {
                place -= target.width;
                let Storage::Signal(signal) = target.storage else { continue };
                self.budget.spend(u64::from(target.width))?;
                for i in 0..target.width {
                    let key = (signal, target.low + i);
                    let driver = match (plain, target.element.is_none(), self.drivers.contains_key(&key)) {
                        (true, true, false) => Driver::Bit(*value, place + i),
                        _ => Driver::Other(stmt.span),
                    };
                    self.drivers.insert(key, driver);
                }
            }
        }
        Ok(())
    }

    fn add(&mut self, gate: Gate) -> GateId {
        self.found.gates.push(gate)
    }

    fn gate(&mut self, kind: GateKind, inputs: Vec<GateId>, span: Span) -> GateId {
        self.add(Gate::Gate { kind, inputs, span })
    }

    fn signal(&mut self, signal: SignalId, bit: u32, from: Span) -> Result<GateId, Exhausted> {
        match self.known.get(&(signal, bit)) {
            Some(Some(id)) => return Ok(*id),
            // It comes back to itself.
            Some(None) => return Ok(self.add(Gate::Other(from))),
            None => {}
        }
        self.known.insert((signal, bit), None);
        let top = &self.design.scopes[self.design.top];
        let is_input = top.ports.iter().any(|p| p.signal == signal && p.direction == Direction::In);
        let id = match self.drivers.get(&(signal, bit)).copied() {
            _ if is_input => self.add(Gate::Input(signal, bit)),
            Some(Driver::Bit(expr, place)) => self.expr(expr, place)?,
            Some(Driver::Other(span)) => self.add(Gate::Other(span)),
            None => self.add(Gate::Other(from)),
        };
        self.known.insert((signal, bit), Some(id));
        Ok(id)
    }

    fn expr(&mut self, id: ExprId, bit: u32) -> Result<GateId, Exhausted> {
        self.budget.spend(1)?;
        self.budget.enter()?;
        let made = self.expr_inner(id, bit);
        self.budget.leave();
        made
    }

    fn expr_inner(&mut self, id: ExprId, bit: u32) -> Result<GateId, Exhausted> {
        let design = self.design;
        let node = &design.exprs[id];
        match &node.kind {
            ExprKind::Const(value) => {
                let level = value.get(bit).known();
                Ok(self.add(level.map_or(Gate::Other(node.span), Gate::Const)))
            }
            ExprKind::Signal(signal) => self.signal(*signal, bit, node.span),
            ExprKind::Slice { base, low } => self.expr(*base, low + bit),
            ExprKind::Concat(parts) => {
                let mut at = bit;
                for part in parts.iter().rev() {
                    let width = design.exprs[*part].width;
                    if at < width {
                        return self.expr(*part, at);
                    }
                    at -= width;
                }
                Ok(self.add(Gate::Other(node.span)))
            }
            ExprKind::Resize { value, signed } => {
                let width = design.exprs[*value].width;
                if bit < width {
                    return self.expr(*value, bit);
                }
                if *signed && width > 0 { self.expr(*value, width - 1) } else { Ok(self.add(Gate::Const(false))) }
            }
            ExprKind::Unary(op, value) => self.unary(*op, *value, bit, node.span),
            ExprKind::Binary { op, left, right, .. } => {
                let kind = match op {
                    BinaryOp::And => GateKind::And,
                    BinaryOp::Or => GateKind::Or,
                    BinaryOp::Xor => GateKind::Xor,
                    _ => return Ok(self.add(Gate::Other(node.span))),
                };
                let mut inputs = Vec::new();
                for operand in [*left, *right] {
                    inputs.extend(self.operands(kind, operand, bit)?);
                }
                Ok(self.gate(kind, inputs, node.span))
            }
            _ => Ok(self.add(Gate::Other(node.span))),
        }
    }

    /// The inputs that an operand gives a gate of that kind: `a & b & c` is one gate.
    fn operands(&mut self, kind: GateKind, operand: ExprId, bit: u32) -> Result<Vec<GateId>, Exhausted> {
        let same = |op: BinaryOp| {
            matches!(
                (op, kind),
                (BinaryOp::And, GateKind::And) | (BinaryOp::Or, GateKind::Or) | (BinaryOp::Xor, GateKind::Xor)
            )
        };
        match &self.design.exprs[operand].kind {
            ExprKind::Binary { op, left, right, .. } if same(*op) => {
                self.budget.enter()?;
                let mut list = self.operands(kind, *left, bit)?;
                list.extend(self.operands(kind, *right, bit)?);
                self.budget.leave();
                Ok(list)
            }
            _ => Ok(vec![self.expr(operand, bit)?]),
        }
    }

    fn unary(&mut self, op: UnaryOp, value: ExprId, bit: u32, span: Span) -> Result<GateId, Exhausted> {
        let width = self.design.exprs[value].width;
        let reduced = |finder: &mut Self, kind| -> Result<GateId, Exhausted> {
            if width == 1 {
                return finder.expr(value, 0);
            }
            let inputs = (0..width).map(|i| finder.expr(value, i)).collect::<Result<_, _>>()?;
            Ok(finder.gate(kind, inputs, span))
        };
        match op {
            UnaryOp::ReduceAnd => reduced(self, GateKind::And),
            UnaryOp::ReduceOr => reduced(self, GateKind::Or),
            UnaryOp::ReduceXor => reduced(self, GateKind::Xor),
            UnaryOp::Neg => Ok(self.add(Gate::Other(span))),
            UnaryOp::LogicalNot if width > 1 => {
                let inputs = (0..width).map(|i| self.expr(value, i)).collect::<Result<_, _>>()?;
                Ok(self.gate(GateKind::Nor, inputs, span))
            }
            UnaryOp::Not | UnaryOp::LogicalNot => {
                let bit = if op == UnaryOp::Not { bit } else { 0 };
                let inner = self.expr(value, bit)?;
                // An inverted gate that is written in one piece is one gate; a wire with a name between them is none.
                let one_piece = !matches!(
                    self.design.exprs[value].kind,
                    ExprKind::Signal(_) | ExprKind::Slice { .. } | ExprKind::Concat(_)
                );
                if one_piece
                    && let Gate::Gate { kind, inputs, .. } = &self.found.gates[inner]
                    && *kind != GateKind::Not
                {
                    let (kind, inputs) = (kind.inverted(), inputs.clone());
                    return Ok(self.gate(kind, inputs, span));
                }
                Ok(self.gate(GateKind::Not, vec![inner], span))
            }
        }
    }
}

/// Collects the assignments of a process; false when more than assignments decides what they do.
fn plain_assignments<'d>(body: &'d [Stmt], list: &mut Vec<&'d Stmt>) -> bool {
    let mut plain = true;
    for stmt in body {
        match &stmt.kind {
            StmtKind::Assign { .. } => list.push(stmt),
            StmtKind::Block { body, .. } => plain &= plain_assignments(body, list),
            StmtKind::If { then, otherwise, .. } => {
                plain_assignments(then, list);
                plain_assignments(otherwise.as_deref().unwrap_or_default(), list);
                plain = false;
            }
            StmtKind::Case { arms, default, .. } => {
                arms.iter().for_each(|arm| {
                    plain_assignments(&arm.body, list);
                });
                plain_assignments(default.as_deref().unwrap_or_default(), list);
                plain = false;
            }
            StmtKind::Loop { body, .. } => {
                plain_assignments(body, list);
                plain = false;
            }
            StmtKind::Print { .. } | StmtKind::Assert { .. } | StmtKind::Control(_) => {}
            _ => plain = false,
        }
    }
    plain
}
