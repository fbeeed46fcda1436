//! Forms: expressions as gates with any number of inputs, to print, to price and to tell SOP from POS.

use crate::cube::Cube;
use crate::notation::Notation;
use crate::rows::{RowSet, input_word};

/// The operation of a gate in a form.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
#[expect(missing_docs, reason = "each is the operation of its name")]
pub enum GateOp {
    Not,
    And,
    Or,
    Nand,
    Nor,
    Xor,
    Xnor,
}

impl GateOp {
    /// Its name in capitals, as on a drawing.
    pub fn word(self) -> &'static str {
        match self {
            GateOp::Not => "NOT",
            GateOp::And => "AND",
            GateOp::Or => "OR",
            GateOp::Nand => "NAND",
            GateOp::Nor => "NOR",
            GateOp::Xor => "XOR",
            GateOp::Xnor => "XNOR",
        }
    }
}

/// An expression over numbered inputs as a tree of gates.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Form {
    /// 0 or 1.
    Const(bool),
    /// An input, complemented or not.
    Literal {
        /// Its number, from 0 for the most significant one.
        input: u32,
        /// Not complemented.
        positive: bool,
    },
    /// A gate; all but NOT have at least two inputs.
    Gate(GateOp, Vec<Form>),
}

impl Form {
    /// The product of a cube.
    pub fn product(inputs: u32, cube: Cube) -> Form {
        Form::gate(GateOp::And, literals(inputs, cube, true))
    }

    /// The sum that is 0 on the rows of a cube.
    pub fn sum(inputs: u32, cube: Cube) -> Form {
        Form::gate(GateOp::Or, literals(inputs, cube, false))
    }

    /// A gate of these operands; one operand alone stands for itself, none is the neutral constant.
    pub fn gate(op: GateOp, mut operands: Vec<Form>) -> Form {
        match (op, operands.len()) {
            (GateOp::And | GateOp::Or | GateOp::Xor, 1) => operands.remove(0),
            (GateOp::And | GateOp::Nor, 0) => Form::Const(true),
            (GateOp::Or | GateOp::Nand | GateOp::Xor, 0) => Form::Const(false),
            (GateOp::Nand | GateOp::Nor | GateOp::Xnor, 1) => Form::Gate(GateOp::Not, operands),
            _ => Form::Gate(op, operands),
        }
    }

    /// The sum of the products of a cover.
    pub fn sop(inputs: u32, cover: &[Cube]) -> Form {
        Form::gate(GateOp::Or, cover.iter().map(|c| Form::product(inputs, *c)).collect())
    }

    /// The product of sums that is 0 on the rows of a cover.
    pub fn pos(inputs: u32, zeros: &[Cube]) -> Form {
        Form::gate(GateOp::And, zeros.iter().map(|c| Form::sum(inputs, *c)).collect())
    }

    /// The sum of products as two levels of NAND: a product of one literal becomes its complement.
    pub fn nand_nand(inputs: u32, cover: &[Cube]) -> Form {
        two_level(GateOp::Nand, cover.iter().map(|c| literals(inputs, *c, true)).collect())
    }

    /// The product of sums as two levels of NOR: a sum of one literal becomes its complement.
    pub fn nor_nor(inputs: u32, zeros: &[Cube]) -> Form {
        two_level(GateOp::Nor, zeros.iter().map(|c| literals(inputs, *c, false)).collect())
    }

    /// The complement; double complements go.
    pub fn complement(self) -> Form {
        match self {
            Form::Const(value) => Form::Const(!value),
            Form::Literal { input, positive } => Form::Literal { input, positive: !positive },
            Form::Gate(GateOp::Not, mut inner) => inner.remove(0),
            Form::Gate(op, operands) => {
                let other = match op {
                    GateOp::And => GateOp::Nand,
                    GateOp::Nand => GateOp::And,
                    GateOp::Or => GateOp::Nor,
                    GateOp::Nor => GateOp::Or,
                    GateOp::Xor => GateOp::Xnor,
                    _ => GateOp::Xor,
                };
                Form::Gate(other, operands)
            }
        }
    }

    /// Its value on the 64 rows of a word of a table with `inputs` inputs.
    fn word(&self, inputs: u32, word: u64) -> u64 {
        match self {
            Form::Const(value) => u64::MAX * u64::from(*value),
            Form::Literal { input, positive } => {
                let bits = input_word(inputs, *input, word);
                if *positive { bits } else { !bits }
            }
            Form::Gate(op, operands) => {
                let values = operands.iter().map(|f| f.word(inputs, word));
                let and = |values: &mut dyn Iterator<Item = u64>| values.fold(u64::MAX, |a, b| a & b);
                let mut values: Box<dyn Iterator<Item = u64>> = Box::new(values);
                match op {
                    GateOp::Not | GateOp::Nand => !and(&mut values),
                    GateOp::And => and(&mut values),
                    GateOp::Or => values.fold(0, |a, b| a | b),
                    GateOp::Nor => !values.fold(0, |a, b| a | b),
                    GateOp::Xor => values.fold(0, |a, b| a ^ b),
                    GateOp::Xnor => !values.fold(0, |a, b| a ^ b),
                }
            }
        }
    }

    /// The rows where it is 1.
    pub fn rows(&self, inputs: u32) -> RowSet {
        let words = RowSet::empty(inputs).words().len() as u64;
        let values: Vec<u64> = (0..words).map(|w| self.word(inputs, w)).collect();
        RowSet::from_words(inputs, &values)
    }

    /// It as text. Reads back as the same function, except that a bar over a group is drawn on its closing parenthesis.
    pub fn text(&self, names: &[String], notation: Notation) -> String {
        let mut out = String::new();
        self.write(names, notation, 0, &mut out);
        out
    }

    /// `around` is how strongly the operator around it binds.
    fn write(&self, names: &[String], notation: Notation, around: u8, out: &mut String) {
        match self {
            Form::Const(value) => out.push(if *value { '1' } else { '0' }),
            Form::Literal { input, positive } => {
                let name = names.get(*input as usize).map_or("?", String::as_str);
                out.push_str(&notation.literal(name, *positive));
            }
            Form::Gate(op, operands) => {
                let (joint, strength, inverted) = match op {
                    GateOp::And => (notation.and(), 3, false),
                    GateOp::Or => (notation.or(), 1, false),
                    GateOp::Xor => (notation.xor(), 2, false),
                    GateOp::Nand => (notation.and(), 3, true),
                    GateOp::Nor => (notation.or(), 1, true),
                    GateOp::Xnor => (notation.xor(), 2, true),
                    GateOp::Not => ("", 0, true),
                };
                let open = inverted || strength <= around;
                let (before, after) = notation.inversion();
                if inverted {
                    out.push_str(before);
                }
                if open {
                    out.push('(');
                }
                for (i, operand) in operands.iter().enumerate() {
                    if i > 0 {
                        out.push_str(joint);
                    }
                    operand.write(names, notation, strength, out);
                }
                if open {
                    out.push(')');
                }
                if inverted {
                    out.push_str(after);
                }
            }
        }
    }

    /// Number of literals.
    pub fn literals(&self) -> u32 {
        match self {
            Form::Const(_) => 0,
            Form::Literal { .. } => 1,
            Form::Gate(_, operands) => operands.iter().map(Form::literals).sum(),
        }
    }
}

fn literals(inputs: u32, cube: Cube, as_product: bool) -> Vec<Form> {
    let bits = (0..inputs).filter(|i| cube.care() >> (inputs - 1 - i) & 1 == 1);
    bits.map(|input| {
        let one = cube.value() >> (inputs - 1 - input) & 1 == 1;
        Form::Literal { input, positive: one == as_product }
    })
    .collect()
}

/// Groups of literals, each through a gate of this kind, joined by one more.
fn two_level(op: GateOp, groups: Vec<Vec<Form>>) -> Form {
    let neutral = op == GateOp::Nor;
    match groups.len() {
        0 => return Form::Const(neutral),
        1 if groups[0].is_empty() => return Form::Const(!neutral),
        1 if groups[0].len() == 1 => return groups.into_iter().flatten().next().unwrap_or(Form::Const(neutral)),
        _ => {}
    }
    let inner: Vec<Form> = groups
        .into_iter()
        .map(|mut g| if g.len() == 1 { g.remove(0).complement() } else { Form::Gate(op, g) })
        .collect();
    if inner.len() == 1 { Form::Gate(GateOp::Not, inner) } else { Form::Gate(op, inner) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Shape, parse_expr};

    fn cubes(texts: &[&str]) -> Vec<Cube> {
        texts.iter().map(|t| Cube::parse(t).unwrap().0).collect()
    }

    fn names() -> Vec<String> {
        ["a", "b", "c"].map(str::to_owned).to_vec()
    }

    #[test]
    fn a_product_of_one_literal_goes_complemented_into_the_last_nand() {
        let cover = cubes(&["1--", "-01"]);
        assert_eq!(Form::nand_nand(3, &cover).text(&names(), Notation::Prime), "(a' (b' c)')'");
        assert_eq!(Form::nand_nand(3, &cubes(&["11-"])).text(&names(), Notation::Operators), "~(~(a & b))");
        assert_eq!(Form::nor_nor(3, &cover).text(&names(), Notation::Prime), "(a + (b + c')')'");
        assert_eq!(Form::nand_nand(3, &cubes(&["0--"])).text(&names(), Notation::Prime), "a'");
    }

    #[test]
    fn every_form_of_every_function_of_three_inputs_is_that_function() {
        let signals: Vec<_> = names().into_iter().map(|n| (n, Shape::SCALAR)).collect();
        let scope: Vec<Vec<u64>> = (0..3).map(|i| vec![input_word(3, i, 0)]).collect();
        for function in 0..256u64 {
            let ones = RowSet::from_words(3, &[function]);
            let sop = &crate::minimise(&ones, &RowSet::empty(3), &crate::Effort::default()).covers[0];
            let pos = &crate::minimise(&ones.complement(), &RowSet::empty(3), &crate::Effort::default()).covers[0];
            let forms = [
                Form::sop(3, sop),
                Form::pos(3, pos),
                Form::nand_nand(3, sop),
                Form::nor_nor(3, pos),
                Form::sop(3, sop).complement().complement(),
            ];
            for form in forms {
                assert_eq!(form.rows(3), ones);
                for notation in [Notation::Prime, Notation::Overline, Notation::Operators, Notation::Words] {
                    let text = form.text(&names(), notation);
                    let back = parse_expr(&text, &signals, 1).unwrap().eval(scope.as_slice(), 1)[0] & 255;
                    assert_eq!(back, function, "{text}");
                }
            }
        }
    }
}
