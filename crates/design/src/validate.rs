//! Checks that a design keeps the promises its consumers rely on: ids exist, widths fit, operands come first.

use crate::expr::ExprKind;
use crate::ids::ExprId;
use crate::model::Design;
use crate::process::{Stmt, StmtKind, Storage, Target};
use crate::real::{REAL_WIDTH, RealOp};
use base::Span;

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
        statements(design, &process.body)?;
    }
    for (_, subprogram) in design.subprograms.iter() {
        statements(design, &subprogram.body)?;
    }
    Ok(())
}

fn expr(design: &Design, id: ExprId) -> Result<(), Invalid> {
    let node = &design.exprs[id];
    let fail = |message: &str| Err(Invalid { message: format!("{id}: {message}"), span: node.span });
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
        ExprKind::Concat(parts) => parts.iter().map(|p| width(*p)).sum::<u32>() == node.width,
        ExprKind::Call { subprogram, arguments } => {
            design.subprograms.get(*subprogram).is_some_and(|s| s.parameters.len() == arguments.len())
        }
        ExprKind::Real { op, operands } => {
            operands.len() == op.operands()
                && (op.takes_vectors() || operands.iter().all(|o| width(*o) == REAL_WIDTH))
                && match op {
                    RealOp::ToInteger => true,
                    _ => node.width == if op.is_comparison() { 1 } else { REAL_WIDTH },
                }
        }
        ExprKind::Resize { .. } | ExprKind::System(_) | ExprKind::Text { .. } | ExprKind::Format(_) => true,
        ExprKind::Checked { value, condition, otherwise, .. } => {
            [Some(*condition), *otherwise].into_iter().flatten().all(|e| e < id)
                && width(*condition) == 1
                && node.width == width(*value)
                && otherwise.is_none_or(|o| width(o) == node.width)
        }
        ExprKind::Scan(_) => node.width == 32,
    };
    if fits { Ok(()) } else { fail("its width doesn't fit its operands") }
}

fn statements(design: &Design, body: &[Stmt]) -> Result<(), Invalid> {
    let mut stack: Vec<&Stmt> = body.iter().collect();
    while let Some(stmt) = stack.pop() {
        let fail = |message: &str| Err(Invalid { message: message.into(), span: stmt.span });
        match &stmt.kind {
            StmtKind::Assign { targets, value, .. } => {
                let total: u32 = targets.iter().map(|t| t.width).sum();
                if design.exprs.get(*value).is_none_or(|e| e.width != total) {
                    return fail("the value is not as wide as what it is assigned to");
                }
                if !targets.iter().all(|t| target_fits(design, t)) {
                    return fail("the target lies outside its signal");
                }
            }
            StmtKind::Force { targets, value } => {
                let total: u32 = targets.iter().map(|t| t.width).sum();
                if value.is_some_and(|v| design.exprs.get(v).is_none_or(|e| e.width != total)) {
                    return fail("the value is not as wide as what it is forced on");
                }
                if !targets.iter().all(|t| target_fits(design, t) && t.element.is_none()) {
                    return fail("what is forced lies outside its signal");
                }
            }
            StmtKind::If { condition, then, otherwise } => {
                if design.exprs.get(*condition).is_none_or(|e| e.width != 1) {
                    return fail("a condition is one bit");
                }
                stack.extend(then);
                stack.extend(otherwise.iter().flatten());
            }
            StmtKind::Case { subject, arms, default, .. } => {
                let Some(width) = design.exprs.get(*subject).map(|e| e.width) else {
                    return fail("a case without a subject");
                };
                for arm in arms {
                    if !arm.choices.iter().all(|c| design.exprs.get(*c).is_some_and(|e| e.width == width)) {
                        return fail("a choice is not as wide as the subject");
                    }
                    stack.extend(&arm.body);
                }
                stack.extend(default.iter().flatten());
            }
            StmtKind::Loop { body, step, .. } => {
                stack.extend(body);
                stack.extend(step);
            }
            StmtKind::Block { body, .. } => stack.extend(body),
            StmtKind::Call { subprogram, arguments }
                if design.subprograms.get(*subprogram).is_none_or(|s| s.parameters.len() != arguments.len()) =>
            {
                return fail("a call doesn't fit its subprogram");
            }
            _ => {}
        }
    }
    Ok(())
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
