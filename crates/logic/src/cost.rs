//! What a form costs: literals, gates, gate inputs, levels, and the packages of a breadboard build.

use crate::form::{Form, GateOp};
use std::collections::{BTreeMap, BTreeSet};

/// Gates of one kind and size, and the packages that hold them.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct PackageCount {
    /// The operation.
    pub op: GateOp,
    /// Inputs of each gate as bought: 1, 2, 3, 4 or 8.
    pub inputs: u32,
    /// Gates needed.
    pub gates: u32,
    /// Packages that hold them.
    pub packages: u32,
}

/// The price of a form. Inverters at the inputs are counted apart, once for each input that needs one.
#[derive(Clone, Debug, PartialEq, Eq, Default)]
pub struct FormCost {
    /// Products of a sum of products or sums of a product of sums; for other forms the operands of the last gate.
    pub terms: u32,
    /// Appearances of inputs.
    pub literals: u32,
    /// Gates, inverters at the inputs left out.
    pub gates: u32,
    /// Inputs of those gates together.
    pub gate_inputs: u32,
    /// Gates on the longest way, inverters at the inputs left out.
    pub levels: u32,
    /// Inputs that are needed complemented.
    pub inverters: u32,
    /// What to take from the shelf.
    pub packages: Vec<PackageCount>,
}

impl FormCost {
    /// Packages in all.
    pub fn package_total(&self) -> u32 {
        self.packages.iter().map(|p| p.packages).sum()
    }
}

/// Prices a form. Packages are those of 14 pins that the trade has for decades: six inverters, four gates of two inputs,
/// three of three, two of four, one of eight; exclusive ORs by twos (common practice). A gate with other inputs takes
/// the next larger size, one with more than eight a tree.
pub fn form_cost(form: &Form) -> FormCost {
    let mut walk = Walk::default();
    let levels = walk.visit(form);
    let mut gates = walk.bought;
    let inverters = u32::try_from(walk.complemented.len()).unwrap_or(u32::MAX);
    *gates.entry((GateOp::Not, 1)).or_default() += inverters;
    gates.retain(|_, n| *n > 0);
    let packages = gates.into_iter().map(|((op, inputs), count)| {
        let held = match inputs {
            1 => 6,
            2 => 4,
            3 => 3,
            4 => 2,
            _ => 1,
        };
        PackageCount { op, inputs, gates: count, packages: count.div_ceil(held) }
    });
    FormCost {
        terms: match form {
            Form::Const(value) => u32::from(*value),
            Form::Literal { .. } => 1,
            Form::Gate(_, operands) => u32::try_from(operands.len()).unwrap_or(u32::MAX),
        },
        literals: form.literals(),
        gates: walk.gates,
        gate_inputs: walk.gate_inputs,
        levels,
        inverters,
        packages: packages.collect(),
    }
}

#[derive(Default)]
struct Walk {
    gates: u32,
    gate_inputs: u32,
    complemented: BTreeSet<u32>,
    bought: BTreeMap<(GateOp, u32), u32>,
}

impl Walk {
    /// Levels of the form.
    fn visit(&mut self, form: &Form) -> u32 {
        match form {
            Form::Const(_) => 0,
            Form::Literal { input, positive } => {
                if !positive {
                    self.complemented.insert(*input);
                }
                0
            }
            Form::Gate(op, operands) => {
                let below = operands.iter().map(|f| self.visit(f)).max().unwrap_or(0);
                let fan_in = u32::try_from(operands.len()).unwrap_or(u32::MAX);
                self.gates += 1;
                self.gate_inputs += fan_in;
                self.buy(*op, fan_in);
                below + 1
            }
        }
    }

    fn buy(&mut self, op: GateOp, fan_in: u32) {
        let mut add = |op, inputs, count| *self.bought.entry((op, inputs)).or_default() += count;
        match op {
            GateOp::Not => add(GateOp::Not, 1, 1),
            GateOp::Xor | GateOp::Xnor => {
                add(GateOp::Xor, 2, fan_in.saturating_sub(2));
                add(op, 2, 1);
            }
            _ => {
                let inner = match op {
                    GateOp::Nand => GateOp::And,
                    GateOp::Nor => GateOp::Or,
                    other => other,
                };
                let mut left = fan_in;
                while left > 8 {
                    add(inner, 8, left / 8);
                    left = left / 8 + left % 8;
                }
                add(op, [2, 3, 4, 8].into_iter().find(|size| *size >= left).unwrap_or(8), 1);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cube::Cube;

    fn sop(texts: &[&str]) -> FormCost {
        let cubes: Vec<Cube> = texts.iter().map(|t| Cube::parse(t).unwrap().0).collect();
        form_cost(&Form::sop(texts[0].len() as u32, &cubes))
    }

    #[test]
    fn a_sum_of_two_products_is_three_gates_on_two_levels() {
        let cost = sop(&["11-", "0-1"]);
        assert_eq!((cost.terms, cost.literals, cost.gates, cost.gate_inputs, cost.levels), (2, 4, 3, 6, 2));
        // One package each of inverters, two-input ANDs and two-input ORs.
        assert_eq!((cost.inverters, cost.package_total()), (1, 3));
    }

    #[test]
    fn a_product_of_one_literal_needs_no_gate_and_a_wide_one_the_next_size() {
        let cost = sop(&["1----", "-1111", "01010"]);
        assert_eq!((cost.gates, cost.gate_inputs, cost.levels), (3, 12, 2));
        let and8 = cost.packages.iter().find(|p| p.op == GateOp::And && p.inputs == 8).unwrap();
        assert_eq!((and8.gates, and8.packages), (1, 1));
    }
}
