//! What a module is written with. Ranges, parameters, indices and the heads of loops are left out: what is worked out
//! before there is any hardware is no operator of it.

use crate::tree::{Binary, Control, Item, Module, NodeId, NodeKind, Stmt, StmtKind, Unary};
use design::{Means, Use};

impl Module {
    /// What it is written with, in source order.
    pub fn uses(&self) -> Vec<Use> {
        let mut walk = Walk { module: self, list: Vec::new() };
        walk.items(&self.items);
        walk.list
    }
}

struct Walk<'m> {
    module: &'m Module,
    list: Vec<Use>,
}

impl Walk<'_> {
    fn construct(&mut self, name: &'static str, span: base::Span) {
        self.list.push(Use::new(Means::Construct(name), span));
    }

    fn items(&mut self, items: &[Item]) {
        for item in items {
            match item {
                Item::Assign { value, delay, span, .. } => {
                    self.construct("assignment", *span);
                    if delay.is_some() {
                        self.construct("delay", *span);
                    }
                    self.expr(*value);
                }
                Item::Gate(gate) => {
                    self.construct("gate", gate.span);
                    self.list.push(Use::new(Means::Gate(gate.kind), gate.span));
                    gate.terminals.iter().skip(1).for_each(|t| self.expr(*t));
                }
                Item::Instance(instance) => {
                    self.list.push(Use::new(Means::Instance(instance.module.name.clone()), instance.span));
                    instance.connections.iter().filter_map(|c| c.value).for_each(|v| self.expr(v));
                }
                Item::Always { body, span, .. } => {
                    self.construct("process", *span);
                    self.stmt(body);
                }
                Item::Initial { span, .. } => self.construct("initial", *span),
                Item::Routine(routine) => {
                    self.construct(if routine.result.is_some() { "function" } else { "procedure" }, routine.span);
                    routine.body.iter().for_each(|s| self.stmt(s));
                }
                Item::GenerateBlock { items, .. } => self.items(items),
                Item::GenerateFor { items, span, .. } => {
                    self.construct("generate", *span);
                    self.items(items);
                }
                Item::GenerateIf { then, otherwise, condition } => {
                    self.construct("generate", self.module.exprs[*condition].span);
                    self.items(then);
                    self.items(otherwise);
                }
                Item::Declaration(_)
                | Item::Parameter(_)
                | Item::Defparam { .. }
                | Item::Final { .. }
                | Item::Unread { .. } => {}
            }
        }
    }

    fn stmt(&mut self, stmt: &Stmt) {
        match &stmt.kind {
            StmtKind::Assign { value, delay, .. } => {
                if matches!(delay, Some(Control::Delay(_))) {
                    self.construct("delay", stmt.span);
                }
                self.expr(*value);
            }
            StmtKind::If { condition, then, otherwise } => {
                self.construct("if", stmt.span);
                self.expr(*condition);
                self.stmt(then);
                otherwise.iter().for_each(|s| self.stmt(s));
            }
            StmtKind::Case { subject, arms, .. } => {
                self.construct("case", stmt.span);
                self.expr(*subject);
                arms.iter().for_each(|arm| self.stmt(&arm.body));
            }
            StmtKind::For { body, .. } => {
                self.construct("for", stmt.span);
                self.stmt(body);
            }
            StmtKind::While { condition, body } => {
                self.construct("while", stmt.span);
                self.expr(*condition);
                self.stmt(body);
            }
            StmtKind::Repeat { body, .. } | StmtKind::Forever { body } => {
                self.construct("while", stmt.span);
                self.stmt(body);
            }
            StmtKind::Foreach { body, .. } => {
                self.construct("for", stmt.span);
                self.stmt(body);
            }
            StmtKind::Block { body, .. } | StmtKind::Fork { branches: body, .. } => {
                body.iter().for_each(|s| self.stmt(s))
            }
            StmtKind::Controlled { control, body } => {
                if matches!(control, Control::Delay(_)) {
                    self.construct("delay", stmt.span);
                }
                self.stmt(body);
            }
            StmtKind::Wait { body, .. } => self.stmt(body),
            StmtKind::Call { arguments, .. } => {
                self.construct("procedure", stmt.span);
                arguments.iter().for_each(|a| self.expr(*a));
            }
            StmtKind::Return(Some(value)) | StmtKind::Dropped(value) => self.expr(*value),
            _ => {}
        }
    }

    fn expr(&mut self, root: NodeId) {
        // The stack of the walk is on the heap: expressions may be long.
        let mut stack = vec![root];
        while let Some(id) = stack.pop() {
            let node = &self.module.exprs[id];
            let mut used = None;
            match &node.kind {
                NodeKind::Unary(op, a) => {
                    used = unary(*op);
                    stack.push(*a);
                }
                NodeKind::Binary(op, a, b) => {
                    used = Some(binary(*op));
                    stack.extend([*b, *a]);
                }
                NodeKind::Ternary(a, b, c) => {
                    self.construct("conditional", node.span);
                    used = Some("?:");
                    stack.extend([*c, *b, *a]);
                }
                NodeKind::Concat(list) | NodeKind::Replicate { parts: list, .. } => stack.extend(list.iter().rev()),
                NodeKind::Call { arguments, .. } => {
                    self.construct("function", node.span);
                    stack.extend(arguments.iter().rev());
                }
                NodeKind::System { arguments, .. } => stack.extend(arguments.iter().rev()),
                NodeKind::Named { value, .. } => stack.extend(value),
                _ => {}
            }
            self.list.extend(used.map(|op| Use::new(Means::Operator(op), node.span)));
        }
    }
}

fn unary(op: Unary) -> Option<&'static str> {
    match op {
        Unary::Plus => None,
        Unary::Minus => Some("-"),
        Unary::LogicalNot | Unary::Not => Some("not"),
        Unary::And => Some("and"),
        Unary::Nand => Some("nand"),
        Unary::Or => Some("or"),
        Unary::Nor => Some("nor"),
        Unary::Xor => Some("xor"),
        Unary::Xnor => Some("xnor"),
    }
}

fn binary(op: Binary) -> &'static str {
    match op {
        Binary::Pow => "**",
        Binary::Mul => "*",
        Binary::Div => "/",
        Binary::Rem => "mod",
        Binary::Add => "+",
        Binary::Sub => "-",
        Binary::ShiftLeft | Binary::ArithmeticLeft => "<<",
        Binary::ShiftRight | Binary::ArithmeticRight => ">>",
        Binary::Less | Binary::LessEqual | Binary::Greater | Binary::GreaterEqual => "<",
        Binary::Equal
        | Binary::NotEqual
        | Binary::CaseEqual
        | Binary::CaseNotEqual
        | Binary::WildEqual
        | Binary::WildNotEqual => "==",
        Binary::And | Binary::LogicalAnd => "and",
        Binary::Xor => "xor",
        Binary::Xnor => "xnor",
        Binary::Or | Binary::LogicalOr => "or",
    }
}
