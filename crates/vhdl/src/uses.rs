//! What an architecture is written with. Ranges, indices and tests for a clock edge are left out: they are no operators
//! of the hardware.

use crate::DesignUnit;
use crate::tree::{Concurrent, Declaration, Expr, ExprKind, Stmt, StmtKind, Unit, Waveform};
use design::{Means, Use};

impl DesignUnit {
    /// For an architecture: its entity, and what it is written with in source order.
    pub fn uses(&self) -> Option<(&str, Vec<Use>)> {
        let Unit::Architecture(a) = &self.0 else { return None };
        let mut walk = Walk { list: Vec::new(), functions: Vec::new() };
        walk.declarations(&a.declarations);
        walk.concurrent(&a.statements);
        Some((&a.entity.name, walk.list))
    }
}

/// Functions of the packages that take levels.
const CONVERSIONS: [&str; 18] = [
    "unsigned",
    "signed",
    "std_logic_vector",
    "std_ulogic_vector",
    "to_unsigned",
    "to_signed",
    "to_integer",
    "resize",
    "to_stdlogicvector",
    "to_bitvector",
    "to_stdulogic",
    "to_bit",
    "conv_std_logic_vector",
    "conv_integer",
    "conv_unsigned",
    "shift_left",
    "shift_right",
    "std_match",
];

struct Walk {
    list: Vec<Use>,
    /// Functions that the architecture declares.
    functions: Vec<String>,
}

impl Walk {
    fn is_function(&self, callee: &Expr) -> bool {
        let ExprKind::Name(name) = &callee.kind else { return true };
        CONVERSIONS.contains(&name.as_str()) || self.functions.contains(name)
    }

    fn construct(&mut self, name: &'static str, span: base::Span) {
        self.list.push(Use::new(Means::Construct(name), span));
    }

    fn declarations(&mut self, list: &[Declaration]) {
        for declaration in list {
            if let Declaration::Subprogram(s) = declaration
                && let Some((inner, body)) = &s.body
            {
                self.functions.push(s.name.name.clone());
                self.construct(if s.result.is_some() { "function" } else { "procedure" }, s.name.span);
                self.declarations(inner);
                self.stmts(body);
            }
        }
    }

    fn waveform(&mut self, waveform: &Waveform) {
        if let Some(delay) = &waveform.delay {
            self.construct("delay", delay.span);
        }
        self.expr(&waveform.value);
    }

    fn alternatives(&mut self, alternatives: &[(Waveform, Option<Expr>)], span: base::Span) {
        if alternatives.len() > 1 {
            self.construct("when-else", span);
        }
        for (waveform, condition) in alternatives {
            self.waveform(waveform);
            condition.iter().for_each(|c| self.expr(c));
        }
    }

    fn concurrent(&mut self, list: &[Concurrent]) {
        for statement in list {
            match statement {
                Concurrent::Assign { alternatives, span, .. } => {
                    self.construct("assignment", *span);
                    self.alternatives(alternatives, *span);
                }
                Concurrent::Select { subject, alternatives, span, .. } => {
                    self.construct("assignment", *span);
                    self.construct("with-select", *span);
                    self.expr(subject);
                    alternatives.iter().for_each(|(w, _)| self.waveform(w));
                }
                Concurrent::Process { declarations, body, span, .. } => {
                    self.construct("process", *span);
                    self.declarations(declarations);
                    self.stmts(body);
                }
                Concurrent::Instance { unit, ports, span, .. } => {
                    self.list.push(Use::new(Means::Instance(unit.name.clone()), *span));
                    ports.iter().filter_map(|a| a.actual.as_ref()).for_each(|a| self.expr(a));
                }
                Concurrent::For { declarations, body, span, .. } => {
                    self.construct("generate", *span);
                    self.declarations(declarations);
                    self.concurrent(body);
                }
                Concurrent::If { arms, span, .. } => {
                    self.construct("generate", *span);
                    arms.iter().for_each(|(_, _, body)| self.concurrent(body));
                }
                Concurrent::Case { arms, span, .. } => {
                    self.construct("generate", *span);
                    arms.iter().for_each(|(_, _, body)| self.concurrent(body));
                }
                Concurrent::Block { declarations, body, .. } => {
                    self.declarations(declarations);
                    self.concurrent(body);
                }
                Concurrent::Call { span, .. } => self.construct("procedure", *span),
                Concurrent::Message(_) => {}
            }
        }
    }

    fn stmts(&mut self, list: &[Stmt]) {
        for stmt in list {
            match &stmt.kind {
                StmtKind::Assign { alternatives, .. } => self.alternatives(alternatives, stmt.span),
                StmtKind::Select { subject, alternatives, .. } => {
                    self.construct("with-select", stmt.span);
                    self.expr(subject);
                    alternatives.iter().for_each(|(w, _)| self.waveform(w));
                }
                StmtKind::If(arms) => {
                    self.construct("if", stmt.span);
                    for (condition, body) in arms {
                        condition.iter().for_each(|c| self.expr(c));
                        self.stmts(body);
                    }
                }
                StmtKind::Case { subject, arms, .. } => {
                    self.construct("case", stmt.span);
                    self.expr(subject);
                    arms.iter().for_each(|(_, body, _)| self.stmts(body));
                }
                StmtKind::For { body, .. } => {
                    self.construct("for", stmt.span);
                    self.stmts(body);
                }
                StmtKind::While { condition, body, .. } => {
                    self.construct("while", stmt.span);
                    condition.iter().for_each(|c| self.expr(c));
                    self.stmts(body);
                }
                StmtKind::Call(_) => self.construct("procedure", stmt.span),
                StmtKind::Wait { timeout: Some(_), .. } => self.construct("delay", stmt.span),
                StmtKind::Return(Some(value)) => self.expr(value),
                _ => {}
            }
        }
    }

    fn expr(&mut self, expr: &Expr) {
        match &expr.kind {
            ExprKind::Unary(op, a) => {
                let op = match *op {
                    "not" => Some("not"),
                    "-" => Some("-"),
                    "and" => Some("and"),
                    "or" => Some("or"),
                    "xor" => Some("xor"),
                    "nand" => Some("nand"),
                    "nor" => Some("nor"),
                    "xnor" => Some("xnor"),
                    _ => None,
                };
                self.list.extend(op.map(|op| Use::new(Means::Operator(op), expr.span)));
                self.expr(a);
            }
            ExprKind::Binary(op, a, b) => {
                // `clk'event and clk = '1'` is how an edge is written, not a gate.
                if *op == "and" && [a, b].into_iter().any(|e| is_event(e)) {
                    return;
                }
                self.list.extend(binary(op).map(|op| Use::new(Means::Operator(op), expr.span)));
                self.expr(a);
                self.expr(b);
            }
            // A conversion or a function holds operators of its own; an index is worked out beforehand.
            ExprKind::Call(callee, arguments, _) if self.is_function(callee) => {
                arguments.iter().filter_map(|a| a.actual.as_ref()).for_each(|a| self.expr(a));
            }
            ExprKind::Qualified(_, value) => self.expr(value),
            ExprKind::Aggregate(parts) => parts.iter().for_each(|(_, value)| self.expr(value)),
            ExprKind::Select(base, _) => self.expr(base),
            _ => {}
        }
    }
}

fn is_event(expr: &Expr) -> bool {
    matches!(&expr.kind, ExprKind::Attribute(_, name) if matches!(name.name.as_str(), "event" | "stable"))
}

fn binary(op: &str) -> Option<&'static str> {
    Some(match op {
        "and" => "and",
        "or" => "or",
        "xor" => "xor",
        "nand" => "nand",
        "nor" => "nor",
        "xnor" => "xnor",
        "+" => "+",
        "-" => "-",
        "*" => "*",
        "/" => "/",
        "mod" => "mod",
        "rem" => "rem",
        "**" => "**",
        "sll" | "sla" | "rol" => "<<",
        "srl" | "sra" | "ror" => ">>",
        "<" | "<=" | ">" | ">=" | "?<" | "?<=" | "?>" | "?>=" => "<",
        "=" | "/=" | "?=" | "?/=" => "==",
        _ => return None,
    })
}
