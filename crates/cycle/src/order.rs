//! Which processes load registers at the clock edge, and in which order the others follow from them.

use crate::unsupported::Unsupported;
use design::{
    AssignMode, Design, Edge, ExprId, ExprKind, Process, Sensitivity, SignalId, Stmt, StmtKind, Storage,
    SystemFunction, Target, WaitKind,
};
use std::collections::BTreeSet;

/// The statements of a process that count.
pub(crate) struct Part<'d> {
    pub(crate) body: &'d [Stmt],
    /// Times that its statements are run until its own signals have passed through.
    pub(crate) turns: usize,
}

/// What happens in a clock cycle.
pub(crate) struct Order<'d> {
    pub(crate) clocked: Vec<Part<'d>>,
    pub(crate) combinational: Vec<Part<'d>>,
}

/// Bits of a signal, from the first up to before the last.
type Bits = (SignalId, u32, u32);

fn meet(a: &BTreeSet<Bits>, b: &BTreeSet<Bits>) -> bool {
    a.iter().any(|(signal, low, high)| b.iter().any(|(s, l, h)| s == signal && low < h && l < high))
}

#[derive(Default)]
struct Uses {
    read: BTreeSet<Bits>,
    written: BTreeSet<Bits>,
    /// Written when the process waits, and read by itself.
    delayed: bool,
    edge: bool,
}

struct Walk<'d> {
    design: &'d Design,
    uses: Uses,
    depth: u32,
}

impl Walk<'_> {
    fn expr(&mut self, root: ExprId) -> Result<(), Unsupported> {
        let mut stack = vec![root];
        while let Some(id) = stack.pop() {
            match &self.design.exprs[id].kind {
                ExprKind::Signal(signal) => {
                    self.uses.read.insert((*signal, 0, self.design.signal_width(*signal)));
                }
                ExprKind::Variable(_) | ExprKind::Const(_) => {}
                ExprKind::Slice { base, low } => match self.design.exprs[*base].kind {
                    ExprKind::Signal(signal) => {
                        self.uses.read.insert((signal, *low, low + self.design.exprs[id].width));
                    }
                    _ => stack.push(*base),
                },
                ExprKind::Element { base, index, .. } => stack.extend([*base, *index]),
                ExprKind::Unary(_, a) | ExprKind::Resize { value: a, .. } | ExprKind::Checked { value: a, .. } => {
                    stack.push(*a);
                }
                ExprKind::Binary { left, right, .. } => stack.extend([*left, *right]),
                ExprKind::Select { condition, then, otherwise, .. } => stack.extend([*condition, *then, *otherwise]),
                ExprKind::Concat(parts) => stack.extend(parts),
                ExprKind::Call { subprogram, arguments } => {
                    stack.extend(arguments);
                    self.routine(*subprogram)?;
                }
                ExprKind::System(
                    SystemFunction::Rising(..) | SystemFunction::Falling(..) | SystemFunction::Reached(..),
                ) => self.uses.edge = true,
                ExprKind::System(_) => return Err(Unsupported("a function of the simulator")),
                ExprKind::Text { .. } | ExprKind::Real { .. } | ExprKind::Format(_) | ExprKind::Scan(_) => {
                    return Err(Unsupported("what only tests use"));
                }
            }
        }
        Ok(())
    }

    fn routine(&mut self, id: design::SubprogramId) -> Result<(), Unsupported> {
        if self.depth > 16 {
            return Err(Unsupported("recursion"));
        }
        self.depth += 1;
        let design = self.design;
        let done = self.list(&design.subprograms[id].body);
        self.depth -= 1;
        done
    }

    fn write(&mut self, signal: SignalId, target: &Target) {
        let bits = match target.element {
            None => (signal, target.low, target.low + target.width),
            Some(_) => (signal, 0, self.design.signal_width(signal)),
        };
        self.uses.written.insert(bits);
    }

    fn list(&mut self, list: &[Stmt]) -> Result<(), Unsupported> {
        list.iter().try_for_each(|stmt| self.stmt(stmt))
    }

    fn stmt(&mut self, stmt: &Stmt) -> Result<(), Unsupported> {
        match &stmt.kind {
            StmtKind::Assign { targets, value, mode, .. } => {
                self.expr(*value)?;
                for target in targets {
                    if let Some((index, _)) = target.element {
                        self.expr(index)?;
                    }
                    if let Storage::Signal(signal) = target.storage {
                        self.write(signal, target);
                        self.uses.delayed |= *mode == AssignMode::NonBlocking;
                    }
                }
                Ok(())
            }
            StmtKind::If { condition, then, otherwise } => {
                self.expr(*condition)?;
                self.list(then)?;
                self.list(otherwise.as_deref().unwrap_or_default())
            }
            StmtKind::Case { subject, arms, default, .. } => {
                self.expr(*subject)?;
                for arm in arms {
                    arm.choices.iter().try_for_each(|c| self.expr(*c))?;
                    self.list(&arm.body)?;
                }
                self.list(default.as_deref().unwrap_or_default())
            }
            StmtKind::Loop { kind, body, step, .. } => {
                match kind {
                    design::LoopKind::While(e) | design::LoopKind::Repeat(e) => self.expr(*e)?,
                    design::LoopKind::Forever => {}
                }
                self.list(body)?;
                self.list(step)
            }
            StmtKind::Block { body, .. } => self.list(body),
            StmtKind::Call { subprogram, arguments } => {
                for (value, target) in arguments {
                    self.expr(*value)?;
                    if let Some(target) = target
                        && let Storage::Signal(signal) = target.storage
                    {
                        self.write(signal, target);
                    }
                }
                self.routine(*subprogram)
            }
            StmtKind::Wait(_) => Err(Unsupported("waiting within a process")),
            StmtKind::Force { .. } => Err(Unsupported("a level that is forced")),
            // Messages are nothing that hardware does.
            StmtKind::Exit(_)
            | StmtKind::Next(_)
            | StmtKind::Return
            | StmtKind::Print { .. }
            | StmtKind::Assert { .. }
            | StmtKind::Control(_)
            | StmtKind::Finish => Ok(()),
        }
    }
}

fn uses(design: &Design, body: &[Stmt]) -> Result<Uses, Unsupported> {
    let mut walk = Walk { design, uses: Uses::default(), depth: 0 };
    walk.list(body)?;
    Ok(walk.uses)
}

/// The statements behind a first wait for an edge.
fn behind_wait(process: &Process) -> Option<&[Stmt]> {
    match &process.body.first()?.kind {
        StmtKind::Wait(WaitKind::On(_) | WaitKind::Change { until: Some(_), timeout: None, .. }) => {
            Some(&process.body[1..])
        }
        _ => None,
    }
}

pub(crate) fn order<'d>(design: &'d Design, is_register: impl Fn(SignalId) -> bool) -> Result<Order<'d>, Unsupported> {
    let mut clocked = Vec::new();
    let mut rest: Vec<(&'d [Stmt], Uses)> = Vec::new();
    for (_, process) in design.processes.iter() {
        let body: &'d [Stmt] = match &process.sensitivity {
            Sensitivity::End => continue,
            Sensitivity::Forever => behind_wait(process).ok_or(Unsupported("a process that runs on"))?,
            _ => &process.body,
        };
        let uses = uses(design, body)?;
        match &process.sensitivity {
            // First levels of registers are known otherwise.
            Sensitivity::Start if uses.written.iter().all(|(s, ..)| is_register(*s)) => continue,
            Sensitivity::Start => return Err(Unsupported("a signal that only an initial block sets")),
            Sensitivity::Events(events) if events.iter().any(|e| e.edge != Edge::Any) => {}
            Sensitivity::Forever => {}
            _ if uses.edge => {}
            _ => {
                rest.push((body, uses));
                continue;
            }
        }
        clocked.push(Part { body, turns: 1 });
    }
    // A process comes behind those that write what it reads.
    let mut combinational = Vec::new();
    let mut waiting: Vec<usize> = (0..rest.len()).collect();
    while !waiting.is_empty() {
        let ready = waiting.iter().position(|i| {
            let reads = |j: &usize| j != i && meet(&rest[*j].1.written, &rest[*i].1.read);
            !waiting.iter().any(reads)
        });
        let Some(at) = ready else { return Err(Unsupported("a loop through processes")) };
        let (body, uses) = &rest[waiting.remove(at)];
        if let [Stmt { kind: StmtKind::Assign { .. }, .. }] = body
            && meet(&uses.written, &uses.read)
        {
            return Err(Unsupported("an assignment that reads itself"));
        }
        let own = uses.read.iter().filter(|r| meet(&BTreeSet::from([**r]), &uses.written)).count();
        let turns = if uses.delayed { 1 + own } else { 1 };
        if turns > 5 {
            return Err(Unsupported("a long chain of signals within a process"));
        }
        combinational.push(Part { body, turns });
    }
    Ok(Order { clocked, combinational })
}
