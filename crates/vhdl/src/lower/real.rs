//! Real numbers where they make constants: `integer(ceil(log2(real(N))))` (IEEE 1076.2 math_real).

use super::{Context, Lowering, Symbol};
use crate::diagnostics as say;
use crate::tree::{Association, Expr as Tree, ExprKind as Node};

const FUNCTIONS: [&str; 12] =
    ["real", "log2", "log10", "log", "ceil", "floor", "round", "trunc", "sqrt", "exp", "sin", "cos"];

impl<'a> Lowering<'a, '_> {
    /// True for an expression whose value is a real number.
    pub(super) fn is_real(&self, context: &Context<'a>, tree: &Tree) -> bool {
        match &tree.kind {
            Node::Real(_) => true,
            Node::Name(name) => match context.get(name) {
                Some(Symbol::Real { .. }) => true,
                None => name == "math_pi" || name == "math_e",
                _ => false,
            },
            Node::Call(base, ..) => match &base.kind {
                Node::Name(name) => FUNCTIONS.contains(&name.as_str()) && context.get(name).is_none(),
                Node::Select(_, last) => FUNCTIONS.contains(&last.name.as_str()),
                _ => false,
            },
            Node::Unary(_, a) => self.is_real(context, a),
            Node::Binary(_, a, b) => self.is_real(context, a) || self.is_real(context, b),
            _ => false,
        }
    }

    /// The value of a constant real expression.
    pub(super) fn static_real(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> Option<f64> {
        if self.budget.enter().is_err() {
            self.report(say::too_deep(tree.span));
            return None;
        }
        let value = self.real_value(context, tree);
        self.budget.leave();
        value
    }

    fn real_value(&mut self, context: &mut Context<'a>, tree: &'a Tree) -> Option<f64> {
        match &tree.kind {
            Node::Real(n) => Some(*n),
            Node::Integer(n) => Some(*n as f64),
            Node::Name(name) => match context.get(name) {
                Some(Symbol::Real { value, .. }) => Some(*value),
                None if name == "math_pi" => Some(std::f64::consts::PI),
                None if name == "math_e" => Some(std::f64::consts::E),
                _ => self.static_integer(context, tree).map(|n| n as f64),
            },
            Node::Unary("-", a) => self.static_real(context, a).map(|n| -n),
            Node::Unary("+", a) => self.static_real(context, a),
            Node::Binary(op, a, b) => {
                let (a, b) = (self.static_real(context, a)?, self.static_real(context, b)?);
                match *op {
                    "+" => Some(a + b),
                    "-" => Some(a - b),
                    "*" => Some(a * b),
                    "/" => Some(a / b),
                    "**" => Some(a.powf(b)),
                    _ => {
                        self.report(say::constant_needed(tree.span));
                        None
                    }
                }
            }
            Node::Call(base, arguments, _) => {
                let name = match &base.kind {
                    Node::Name(name) => name.as_str(),
                    Node::Select(_, last) => last.name.as_str(),
                    _ => "",
                };
                let [Association { actual: Some(inner), .. }] = arguments.as_slice() else {
                    self.report(say::wrong_arguments(name, tree.span));
                    return None;
                };
                let value = if name == "real" && !self.is_real(context, inner) {
                    self.static_integer(context, inner)? as f64
                } else {
                    self.static_real(context, inner)?
                };
                match name {
                    "real" => Some(value),
                    "log2" => Some(value.log2()),
                    "log10" => Some(value.log10()),
                    "log" => Some(value.ln()),
                    "ceil" => Some(value.ceil()),
                    "floor" => Some(value.floor()),
                    "round" => Some(value.round()),
                    "trunc" => Some(value.trunc()),
                    "sqrt" => Some(value.sqrt()),
                    "exp" => Some(value.exp()),
                    "sin" => Some(value.sin()),
                    "cos" => Some(value.cos()),
                    _ => self.static_integer(context, tree).map(|n| n as f64),
                }
            }
            _ => self.static_integer(context, tree).map(|n| n as f64),
        }
    }
}
