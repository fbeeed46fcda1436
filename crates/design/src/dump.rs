//! A design as stable text, for snapshots and for people who debug a front end.

use crate::expr::{BinaryOp, ExprKind, UnaryOp};
use crate::ids::ExprId;
use crate::model::Design;
use crate::process::{AssignMode, LoopKind, Sensitivity, Stmt, StmtKind, Storage, Target};
use std::fmt::Write;

/// The design as text: scopes with ports, signals with types, processes with statements. Same design, same text.
pub fn dump(design: &Design) -> String {
    let mut out = String::new();
    for (id, scope) in design.scopes.iter() {
        let _ = writeln!(out, "{id} {} of {}", scope.name, scope.unit);
        for (name, value) in &scope.parameters {
            let _ = writeln!(out, "  parameter {name} = {value:?}");
        }
        for port in &scope.ports {
            let _ = writeln!(out, "  {} {}", port.direction.word(), design.signals[port.signal].name);
        }
    }
    for (id, signal) in design.signals.iter() {
        let shape = design.signal_shape(id);
        let _ = writeln!(out, "{id} {}{shape} {:?}", design.signal_path(id), signal.kind);
    }
    for (id, process) in design.processes.iter() {
        let when = match &process.sensitivity {
            Sensitivity::Reads => "on what it reads".to_owned(),
            Sensitivity::ReadsThrough => "on all it reads".to_owned(),
            Sensitivity::Start => "once".to_owned(),
            Sensitivity::Forever => "for ever".to_owned(),
            Sensitivity::End => "at the end".to_owned(),
            Sensitivity::Events(events) | Sensitivity::StartAndEvents(events) => {
                let list: Vec<String> =
                    events.iter().map(|e| format!("{:?} {}", e.edge, text(design, e.expr))).collect();
                format!("on {}", list.join(", "))
            }
        };
        let _ = writeln!(out, "{id} {:?} {when}", process.kind);
        statements(design, &process.body, 1, &mut out);
    }
    out
}

fn statements(design: &Design, body: &[Stmt], depth: usize, out: &mut String) {
    let pad = "  ".repeat(depth);
    for stmt in body {
        match &stmt.kind {
            StmtKind::Assign { targets, value, mode, .. } => {
                let list: Vec<String> = targets.iter().map(|t| target(design, t)).collect();
                let sign = if *mode == AssignMode::Blocking { "=" } else { "<=" };
                let _ = writeln!(out, "{pad}{} {sign} {}", list.join(" & "), text(design, *value));
            }
            StmtKind::If { condition, then, otherwise } => {
                let _ = writeln!(out, "{pad}if {}", text(design, *condition));
                statements(design, then, depth + 1, out);
                if let Some(otherwise) = otherwise {
                    let _ = writeln!(out, "{pad}else");
                    statements(design, otherwise, depth + 1, out);
                }
            }
            StmtKind::Case { subject, arms, default, matching } => {
                let _ = writeln!(out, "{pad}case {matching:?} {}", text(design, *subject));
                for arm in arms {
                    let list: Vec<String> = arm.choices.iter().map(|c| text(design, *c)).collect();
                    let _ = writeln!(out, "{pad}  when {}", list.join(", "));
                    statements(design, &arm.body, depth + 2, out);
                }
                if let Some(default) = default {
                    let _ = writeln!(out, "{pad}  otherwise");
                    statements(design, default, depth + 2, out);
                }
            }
            StmtKind::Loop { kind, body, step, .. } => {
                let head = match kind {
                    LoopKind::While(e) => format!("while {}", text(design, *e)),
                    LoopKind::Repeat(e) => format!("repeat {}", text(design, *e)),
                    LoopKind::Forever => "forever".into(),
                };
                let _ = writeln!(out, "{pad}{head}");
                statements(design, body, depth + 1, out);
                statements(design, step, depth + 1, out);
            }
            StmtKind::Block { body, .. } => statements(design, body, depth, out),
            StmtKind::Call { subprogram, arguments } => {
                let list: Vec<String> = arguments.iter().map(|(e, _)| text(design, *e)).collect();
                let _ = writeln!(out, "{pad}call {}({})", design.subprograms[*subprogram].name, list.join(", "));
            }
            other => {
                let _ = writeln!(out, "{pad}{other:?}");
            }
        }
    }
}

fn target(design: &Design, target: &Target) -> String {
    let (name, whole) = match target.storage {
        Storage::Signal(s) => (design.signal_path(s), design.signal_width(s)),
        Storage::Variable(v) => (design.variables[v].name.clone(), design.type_width(design.variables[v].ty)),
    };
    match target.element {
        Some((index, stride)) => {
            format!("{name}[{} * {stride} + {} +: {}]", text(design, index), target.low, target.width)
        }
        None if target.width == whole => name,
        None => format!("{name}[{} +: {}]", target.low, target.width),
    }
}

fn text(design: &Design, id: ExprId) -> String {
    text_within(design, id, 100)
}

/// Nesting past `depth` levels is left out as `…`: the dump is for people.
fn text_within(design: &Design, id: ExprId, depth: u32) -> String {
    let Some(depth) = depth.checked_sub(1) else { return "…".into() };
    let node = &design.exprs[id];
    let t = |e: &ExprId| text_within(design, *e, depth);
    match &node.kind {
        ExprKind::Const(v) => format!("{v:?}"),
        ExprKind::Signal(s) => design.signal_path(*s),
        ExprKind::Variable(v) => design.variables[*v].name.clone(),
        ExprKind::Slice { base, low } => format!("{}[{low} +: {}]", t(base), node.width),
        ExprKind::Element { base, index, stride } => format!("{}[{} * {stride} +: {}]", t(base), t(index), node.width),
        ExprKind::Unary(op, a) => format!("{}({})", unary_name(*op), t(a)),
        ExprKind::Binary { op, signed, left, right, .. } => {
            let s = if *signed { "s" } else { "" };
            format!("({} {}{s} {})", t(left), binary_name(*op), t(right))
        }
        ExprKind::Select { condition, then, otherwise, .. } => {
            format!("({} ? {} : {})", t(condition), t(then), t(otherwise))
        }
        ExprKind::Checked { value, condition, .. } => format!("checked({}, {})", t(value), t(condition)),
        ExprKind::Concat(parts) => format!("{{{}}}", parts.iter().map(t).collect::<Vec<_>>().join(", ")),
        ExprKind::Resize { value, signed } => {
            format!("{}{}({})", if *signed { "sext" } else { "zext" }, node.width, t(value))
        }
        ExprKind::Call { subprogram, arguments } => {
            let list: Vec<String> = arguments.iter().map(t).collect();
            format!("{}({})", design.subprograms[*subprogram].name, list.join(", "))
        }
        ExprKind::System(f) => format!("{f:?}"),
        ExprKind::Real { op, operands } => {
            format!("{op:?}({})", operands.iter().map(t).collect::<Vec<_>>().join(", ")).to_lowercase()
        }
        ExprKind::Text { op, operands } => {
            format!("text {op:?}({})", operands.iter().map(t).collect::<Vec<_>>().join(", "))
        }
        ExprKind::Scan(scan) => format!("scan({:?})", scan.parts),
        ExprKind::Format(_) => format!("format({})", node.kind.operands().iter().map(t).collect::<Vec<_>>().join(", ")),
    }
}

fn unary_name(op: UnaryOp) -> &'static str {
    match op {
        UnaryOp::Not => "not",
        UnaryOp::Neg => "neg",
        UnaryOp::LogicalNot => "none",
        UnaryOp::ReduceOr => "any",
        UnaryOp::ReduceAnd => "all",
        UnaryOp::ReduceXor => "odd",
    }
}

fn binary_name(op: BinaryOp) -> &'static str {
    use BinaryOp as B;
    match op {
        B::And => "and",
        B::Or => "or",
        B::Xor => "xor",
        B::Add => "+",
        B::Sub => "-",
        B::Mul => "*",
        B::Div => "/",
        B::Rem => "rem",
        B::Mod => "mod",
        B::Pow => "**",
        B::ShiftLeft => "<<",
        B::ShiftRight => ">>",
        B::ShiftRightArithmetic => ">>>",
        B::Equal => "==",
        B::NotEqual => "!=",
        B::SameLevels => "===",
        B::Match => "?=",
        B::Less => "<",
        B::LessEqual => "<=",
        B::Greater => ">",
        B::GreaterEqual => ">=",
    }
}
