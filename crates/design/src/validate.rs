//! Checks that a design keeps the promises its consumers rely on: ids exist, widths fit, operands come first.

use crate::Subprogram;
use crate::expr::{ExprKind, SystemFunction, TextOp};
use crate::ids::{ExprId, SignalId, VariableId};
use crate::model::{Design, TypeKind};
use crate::process::{
    Event, LoopKind, PrintPart, PrintTime, Radix, Sensitivity, Stmt, StmtKind, Storage, Target, WaitKind,
};
use crate::real::{REAL_WIDTH, RealOp};
use crate::scan::{Scan, ScanPart, ScanSource};
use base::Span;

/// Most bits of a value: more than a front end lets anybody declare.
const MOST_WIDTH: u32 = 1 << 24;

/// A broken promise; always a fault of the crate that built the design.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Invalid {
    /// What is wrong.
    pub message: String,
    /// The node's place in the source.
    pub span: Span,
}

/// Checks a whole design; a clean one makes nothing downstream panic.
///
/// # Errors
/// The first broken promise.
pub fn validate(design: &Design) -> Result<(), Invalid> {
    for (id, scope) in design.scopes.iter() {
        let bad_parent = scope.parent.is_some_and(|p| p >= id);
        let bad_port = scope.ports.iter().any(|p| design.signals.get(p.signal).is_none());
        if bad_parent || bad_port || (scope.parent.is_none() && id != design.top) {
            return Err(Invalid { message: format!("scope `{}` is not well placed", scope.name), span: scope.span });
        }
    }
    types(design)?;
    for (_, variable) in design.variables.iter() {
        let known = design.types.get(variable.ty).is_some();
        if !known || variable.initial.as_ref().is_some_and(|v| v.width() != design.type_width(variable.ty)) {
            let message = format!("variable `{}` has no fitting type", variable.name);
            return Err(Invalid { message, span: variable.span });
        }
    }
    for (_, signal) in design.signals.iter() {
        let known = design.types.get(signal.ty).is_some() && design.scopes.get(signal.scope).is_some();
        let fits = known && signal.initial.as_ref().is_none_or(|v| v.width() == design.type_width(signal.ty));
        if !fits {
            return Err(Invalid {
                message: format!("signal `{}` has no fitting type", signal.name),
                span: signal.span,
            });
        }
    }
    for id in design.exprs.ids() {
        expr(design, id)?;
    }
    for (_, process) in design.processes.iter() {
        if design.scopes.get(process.scope).is_none() {
            return Err(Invalid { message: "process without a scope".into(), span: process.span });
        }
        if let Sensitivity::Events(list) | Sensitivity::StartAndEvents(list) = &process.sensitivity
            && !events_fit(design, list)
        {
            return Err(Invalid { message: "a process waits for what is not there".into(), span: process.span });
        }
        statements(design, &process.body, 0)?;
    }
    for (_, subprogram) in design.subprograms.iter() {
        let formals = subprogram.parameters.iter().map(|(v, _)| *v).chain(subprogram.result);
        if !formals.into_iter().all(|v| design.variables.get(v).is_some()) {
            let message = format!("subprogram `{}` has a parameter that is not there", subprogram.name);
            return Err(Invalid { message, span: subprogram.span });
        }
        statements(design, &subprogram.body, 0)?;
    }
    let signal = |s: SignalId| design.signals.get(s).is_some();
    if !design.transactions.iter().all(|(a, b)| signal(*a) && signal(*b))
        || !design.value_names.keys().all(|s| signal(*s))
    {
        let span = design.scopes[design.top].span;
        return Err(Invalid { message: "something is said of a signal that is not there".into(), span });
    }
    Ok(())
}

/// Types are made of types before them, and none is wider than can be counted.
fn types(design: &Design) -> Result<(), Invalid> {
    for (id, ty) in design.types.iter() {
        let fits = match &ty.kind {
            TypeKind::Array { element, .. } => *element < id,
            TypeKind::Record { fields } => fields.iter().all(|(_, t)| *t < id),
            _ => true,
        };
        if !fits {
            let span = design.scopes[design.top].span;
            return Err(Invalid { message: format!("{id}: a type is made of one behind it"), span });
        }
    }
    Ok(())
}

fn events_fit(design: &Design, list: &[Event]) -> bool {
    list.iter().all(|e| design.exprs.get(e.expr).is_some_and(|x| x.width > 0))
}

/// The values of a message are there, and so are the lines and the types that it names.
fn message_fits(design: &Design, parts: &[PrintPart]) -> bool {
    parts.iter().all(|part| match part {
        PrintPart::Text(_) | PrintPart::Scope => true,
        PrintPart::Value { value, radix, .. } => {
            design.exprs.get(*value).is_some()
                && match radix {
                    Radix::Name(ty) => design.types.get(*ty).is_some(),
                    _ => true,
                }
        }
        PrintPart::Line { line, .. } => *line < design.lines,
        PrintPart::Field { parts, .. } => message_fits(design, parts),
    })
}

/// What a function of the simulator asks for is there; the width of its answer, where it is fixed.
fn system_fits(design: &Design, function: &SystemFunction, width: u32) -> bool {
    use SystemFunction as F;
    let known = |s: &SignalId| design.signals.get(*s).is_some();
    match function {
        F::Rising(s, bit) | F::Falling(s, bit) | F::Reached(s, bit, _) => {
            known(s) && *bit < design.signal_width(*s) && width == 1
        }
        F::Changed(s) | F::Active(s) => known(s) && width == 1,
        F::LastValue(s) => known(s) && width == design.signal_width(*s),
        F::SinceChange(s) | F::SinceActive(s) => known(s) && width == 64,
        F::Seeded(Storage::Signal(s)) => known(s),
        F::Seeded(Storage::Variable(v)) => design.variables.get(*v).is_some(),
        F::LineLength(line) => *line < design.lines,
        F::Time(_) | F::Random => width > 0,
    }
}

fn scan_fits(design: &Design, scan: &Scan) -> bool {
    let source = match scan.source {
        ScanSource::Line(line) => line < design.lines,
        ScanSource::File(_) | ScanSource::Text(_) => true,
    };
    source
        && scan.parts.iter().all(|part| match part {
            ScanPart::Value { target: Some(target), .. } | ScanPart::RestOfLine(target) => target_fits(design, target),
            ScanPart::TakeLine(line) => *line < design.lines,
            _ => true,
        })
}

fn expr(design: &Design, id: ExprId) -> Result<(), Invalid> {
    let node = &design.exprs[id];
    let fail = |message: &str| Err(Invalid { message: format!("{id}: {message}"), span: node.span });
    if node.width > MOST_WIDTH {
        return fail("it is wider than anything can be");
    }
    let operands = node.kind.operands();
    if operands.iter().any(|o| *o >= id) {
        return fail("an operand comes after its user");
    }
    let width = |e: ExprId| design.exprs[e].width;
    let fits = match &node.kind {
        ExprKind::Const(v) => v.width() == node.width,
        ExprKind::Signal(s) => design.signals.get(*s).is_some() && design.signal_width(*s) == node.width,
        ExprKind::Variable(v) => design.variables.get(*v).is_some_and(|v| design.type_width(v.ty) == node.width),
        ExprKind::Slice { base, low } => low.checked_add(node.width).is_some_and(|end| end <= width(*base)),
        ExprKind::Element { stride, .. } => *stride > 0,
        ExprKind::Unary(op, a) => match op {
            crate::UnaryOp::Not | crate::UnaryOp::Neg => node.width == width(*a),
            _ => node.width == 1 && width(*a) > 0,
        },
        ExprKind::Binary { op, left, right, .. } => {
            (op.is_shift() || width(*left) == width(*right))
                && node.width == if op.is_comparison() { 1 } else { width(*left) }
        }
        ExprKind::Select { condition, then, otherwise, .. } => {
            width(*condition) == 1 && width(*then) == node.width && width(*otherwise) == node.width
        }
        ExprKind::Concat(parts) => parts.iter().map(|p| u64::from(width(*p))).sum::<u64>() == u64::from(node.width),
        ExprKind::Call { subprogram, arguments } => design.subprograms.get(*subprogram).is_some_and(|s| {
            let formal = |v: VariableId| design.variables.get(v).map(|v| design.type_width(v.ty));
            s.parameters.len() == arguments.len()
                && s.parameters.iter().zip(arguments).all(|((v, _), a)| formal(*v) == Some(width(*a)))
                && s.result.is_some_and(|r| formal(r) == Some(node.width))
        }),
        ExprKind::Real { op, operands } => {
            operands.len() == op.operands()
                && (op.takes_vectors() || operands.iter().all(|o| width(*o) == REAL_WIDTH))
                && match op {
                    RealOp::ToInteger => true,
                    _ => node.width == if op.is_comparison() { 1 } else { REAL_WIDTH },
                }
        }
        ExprKind::Resize { .. } => true,
        ExprKind::System(function) => system_fits(design, function, node.width),
        ExprKind::Text { op, operands } => {
            let wanted = match op {
                TextOp::Character => 2,
                TextOp::Part => 3,
                _ => 1,
            };
            operands.len() >= wanted.min(1) && (operands.len() == wanted || *op == TextOp::Pack)
        }
        ExprKind::Format(parts) => message_fits(design, parts),
        ExprKind::Checked { message, .. } if !message_fits(design, message) => false,
        ExprKind::Checked { value, condition, otherwise, .. } => {
            [Some(*condition), *otherwise].into_iter().flatten().all(|e| e < id)
                && width(*condition) == 1
                && node.width == width(*value)
                && otherwise.is_none_or(|o| width(o) == node.width)
        }
        ExprKind::Scan(scan) => node.width == 32 && scan_fits(design, scan),
    };
    if fits { Ok(()) } else { fail("its width doesn't fit its operands") }
}

/// Statements with so many loops around them. A label that is not around leaves nothing in the simulator, and in synthesis it is
/// told.
fn statements(design: &Design, body: &[Stmt], loops: usize) -> Result<(), Invalid> {
    body.iter().try_for_each(|stmt| statement(design, stmt, loops))
}

fn statement(design: &Design, stmt: &Stmt, loops: usize) -> Result<(), Invalid> {
    let has = |e: ExprId| design.exprs.get(e).is_some();
    let is_bit = |e: ExprId| design.exprs.get(e).is_some_and(|e| e.width == 1);
    let width = |targets: &[Target]| targets.iter().fold(0u32, |sum, t| sum.saturating_add(t.width));
    let as_wide = |e: ExprId, width: u32| design.exprs.get(e).is_some_and(|e| e.width == width);
    let broken = match &stmt.kind {
        StmtKind::Assign { targets, value, delay, .. } => {
            let late = delay.is_some_and(|d| !has(d.amount) || d.reject.is_some_and(|r| !has(r)));
            match () {
                () if !as_wide(*value, width(targets)) => Some("the value is not as wide as what it is assigned to"),
                () if !targets.iter().all(|t| target_fits(design, t)) => Some("the target lies outside its signal"),
                () if late => Some("a delay is not there"),
                () => None,
            }
        }
        StmtKind::Force { targets, value } => match value {
            Some(value) if !as_wide(*value, width(targets)) => Some("the value is not as wide as what it is forced on"),
            _ if !targets.iter().all(|t| target_fits(design, t) && t.element.is_none()) => {
                Some("what is forced lies outside its signal")
            }
            _ => None,
        },
        StmtKind::If { condition, then, otherwise } => {
            statements(design, then, loops)?;
            statements(design, otherwise.as_deref().unwrap_or_default(), loops)?;
            (!is_bit(*condition)).then_some("a condition is one bit")
        }
        StmtKind::Case { subject, arms, default, .. } => {
            let Some(subject) = design.exprs.get(*subject) else {
                return Err(Invalid { message: "a case without a subject".into(), span: stmt.span });
            };
            let fits = arms.iter().flat_map(|a| &a.choices).all(|c| as_wide(*c, subject.width));
            arms.iter().try_for_each(|arm| statements(design, &arm.body, loops))?;
            statements(design, default.as_deref().unwrap_or_default(), loops)?;
            (!fits).then_some("a choice is not as wide as the subject")
        }
        StmtKind::Loop { kind, body, step, .. } => {
            statements(design, body, loops + 1)?;
            statements(design, step, loops + 1)?;
            let fits = match kind {
                LoopKind::While(condition) => is_bit(*condition),
                LoopKind::Repeat(count) => has(*count),
                LoopKind::Forever => true,
            };
            (!fits).then_some("a loop without its condition")
        }
        StmtKind::Block { body, .. } => {
            statements(design, body, loops)?;
            None
        }
        StmtKind::Exit(None) | StmtKind::Next(None) if loops == 0 => Some("no loop is around it"),
        StmtKind::Exit(_) | StmtKind::Next(_) | StmtKind::Return | StmtKind::Finish | StmtKind::Control(_) => None,
        StmtKind::Wait(kind) => (!wait_fits(design, kind)).then_some("it waits for what is not there"),
        StmtKind::Call { subprogram, arguments } => {
            let fits = design.subprograms.get(*subprogram).is_some_and(|s| arguments_fit(design, s, arguments));
            (!fits).then_some("a call doesn't fit its subprogram")
        }
        StmtKind::Print { parts, time, .. } => {
            let kept = match time {
                PrintTime::Kept(line) => *line < design.lines,
                _ => true,
            };
            (!kept || !message_fits(design, parts)).then_some("a message of what is not there")
        }
        StmtKind::Assert { condition, message, .. } => {
            (!is_bit(*condition) || !message_fits(design, message)).then_some("an assertion of what is not there")
        }
    };
    match broken {
        Some(message) => Err(Invalid { message: message.into(), span: stmt.span }),
        None => Ok(()),
    }
}

fn wait_fits(design: &Design, kind: &WaitKind) -> bool {
    let has = |e: ExprId| design.exprs.get(e).is_some();
    let is_bit = |e: ExprId| design.exprs.get(e).is_some_and(|e| e.width == 1);
    match kind {
        WaitKind::For(time) => has(*time),
        WaitKind::On(list) => events_fit(design, list),
        WaitKind::Until(condition) => is_bit(*condition),
        WaitKind::Change { on, until, timeout } => {
            events_fit(design, on) && until.is_none_or(is_bit) && timeout.is_none_or(has)
        }
        WaitKind::Forever => true,
    }
}

/// What goes in is as wide as its parameter, and so is what takes it out.
fn arguments_fit(design: &Design, subprogram: &Subprogram, arguments: &[(ExprId, Option<Target>)]) -> bool {
    let width = |v: VariableId| design.variables.get(v).map(|v| design.type_width(v.ty));
    let fits = |v: VariableId, (value, out): &(ExprId, Option<Target>)| {
        let wide = width(v).filter(|w| design.exprs.get(*value).is_some_and(|e| e.width == *w));
        wide.is_some_and(|w| out.as_ref().is_none_or(|t| t.width == w && target_fits(design, t)))
    };
    subprogram.parameters.len() == arguments.len()
        && subprogram.parameters.iter().zip(arguments).all(|((v, _), argument)| fits(*v, argument))
}

fn target_fits(design: &Design, target: &Target) -> bool {
    let width = match target.storage {
        Storage::Signal(s) => design.signals.get(s).map(|_| design.signal_width(s)),
        Storage::Variable(v) => design.variables.get(v).map(|v| design.type_width(v.ty)),
    };
    let end = target.low.checked_add(if target.element.is_some() { 0 } else { target.width });
    width.zip(end).is_some_and(|(width, end)| end <= width)
        && target.element.is_none_or(|(index, stride)| stride > 0 && design.exprs.get(index).is_some())
}
