//! Typed expressions held against a behaviour: are they equal, of the form asked for, and how far from the minimum?

use crate::expr::{Expr, parse_expr};
use crate::expr_node::ExprError;
use crate::form::{Form, GateOp};
use crate::minimise::{Effort, minimise};
use crate::rows::RowSet;
use crate::shape::Shape;
use crate::table::OutputColumn;

/// A form that an answer may be asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum AskedForm {
    /// Any expression.
    Any,
    /// A sum of products.
    Sop,
    /// A product of sums.
    Pos,
    /// A sum of minterms.
    CanonicalSop,
    /// A product of maxterms.
    CanonicalPos,
    /// NAND gates and inverters only.
    NandOnly,
    /// NOR gates and inverters only.
    NorOnly,
    /// One NAND of NANDs of literals.
    NandNand,
    /// One NOR of NORs of literals.
    NorNor,
}

impl AskedForm {
    /// All of them with their words in files.
    pub const ALL: [(&'static str, AskedForm); 9] = [
        ("any", AskedForm::Any),
        ("sop", AskedForm::Sop),
        ("pos", AskedForm::Pos),
        ("canonical-sop", AskedForm::CanonicalSop),
        ("canonical-pos", AskedForm::CanonicalPos),
        ("nand-only", AskedForm::NandOnly),
        ("nor-only", AskedForm::NorOnly),
        ("nand-nand", AskedForm::NandNand),
        ("nor-nor", AskedForm::NorNor),
    ];

    /// The form of a word.
    pub fn from_key(key: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|(k, _)| *k == key).map(|(_, form)| form)
    }

    /// Its word in files.
    pub fn key(self) -> &'static str {
        Self::ALL.into_iter().find(|(_, form)| *form == self).map_or("any", |(key, _)| key)
    }

    /// It in a sentence.
    pub fn words(self) -> &'static str {
        match self {
            AskedForm::Any => "an expression",
            AskedForm::Sop => "a sum of products",
            AskedForm::Pos => "a product of sums",
            AskedForm::CanonicalSop => "a sum of minterms",
            AskedForm::CanonicalPos => "a product of maxterms",
            AskedForm::NandOnly => "a NAND-only form",
            AskedForm::NorOnly => "a NOR-only form",
            AskedForm::NandNand => "a NAND of NANDs",
            AskedForm::NorNor => "a NOR of NORs",
        }
    }

    /// Why a form is not the one asked for, as a sentence; `None` when it is.
    pub fn fault(self, form: &Form, inputs: u32, names: &[String]) -> Option<String> {
        let inner = |f: &Form| f.text(names, crate::Notation::Operators);
        match self {
            AskedForm::Any => None,
            AskedForm::Sop | AskedForm::CanonicalSop => two_level(form, GateOp::Or, GateOp::And, &inner)
                .or_else(|| (self == AskedForm::CanonicalSop).then(|| incomplete(form, GateOp::Or, inputs, &inner))?),
            AskedForm::Pos | AskedForm::CanonicalPos => {
                two_level(form, GateOp::And, GateOp::Or, &inner).or_else(|| {
                    (self == AskedForm::CanonicalPos).then(|| incomplete(form, GateOp::And, inputs, &inner))?
                })
            }
            AskedForm::NandOnly => only(form, GateOp::Nand, &inner),
            AskedForm::NorOnly => only(form, GateOp::Nor, &inner),
            AskedForm::NandNand => only(form, GateOp::Nand, &inner).or_else(|| flat(form)),
            AskedForm::NorNor => only(form, GateOp::Nor, &inner).or_else(|| flat(form)),
        }
    }
}

type Print<'a> = dyn Fn(&Form) -> String + 'a;

fn is_literal(form: &Form) -> bool {
    matches!(form, Form::Literal { .. })
}

/// A gate of kind `outer` over gates of kind `inner` over literals; one gate or literal alone is both.
fn two_level(form: &Form, outer: GateOp, inner: GateOp, print: &Print<'_>) -> Option<String> {
    let group = |f: &Form| match f {
        Form::Literal { .. } => true,
        Form::Gate(op, operands) => *op == inner && operands.iter().all(is_literal),
        Form::Const(_) => false,
    };
    match form {
        Form::Const(_) => None,
        _ if group(form) => None,
        Form::Gate(op, operands) if *op == outer => {
            let bad = operands.iter().find(|f| !group(f))?;
            let what = if outer == GateOp::Or { "a product of literals" } else { "a sum of literals" };
            Some(format!("`{}` is not {what}.", print(bad)))
        }
        Form::Gate(op, _) => Some(format!("The last operation is {}, not {}.", op.word(), outer.word())),
        Form::Literal { .. } => None,
    }
}

/// Some term lacks an input.
fn incomplete(form: &Form, outer: GateOp, inputs: u32, print: &Print<'_>) -> Option<String> {
    let groups: Vec<&Form> = match form {
        Form::Gate(op, operands) if *op == outer => operands.iter().collect(),
        Form::Const(_) => return None,
        other => vec![other],
    };
    let short = groups.into_iter().find(|g| g.literals() != inputs)?;
    Some(format!("`{}` doesn't name every input once.", print(short)))
}

/// Nothing but gates of one kind and inverters.
fn only(form: &Form, wanted: GateOp, print: &Print<'_>) -> Option<String> {
    match form {
        Form::Gate(op, operands) if *op == wanted || *op == GateOp::Not => {
            operands.iter().find_map(|f| only(f, wanted, print))
        }
        Form::Gate(op, _) => {
            let article = if matches!(op, GateOp::Nand | GateOp::Nor | GateOp::Not) { "a" } else { "an" };
            Some(format!("`{}` is {article} {}, not a {}.", print(form), op.word(), wanted.word()))
        }
        _ => None,
    }
}

/// At most two gates deep, inverters at the inputs not counted.
fn flat(form: &Form) -> Option<String> {
    fn depth(form: &Form) -> u32 {
        match form {
            Form::Gate(_, operands) => 1 + operands.iter().map(depth).max().unwrap_or(0),
            _ => 0,
        }
    }
    let depth = depth(form);
    (depth > 2).then(|| format!("It is {depth} gates deep where two levels are asked for."))
}

/// How a typed expression stands to a behaviour.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ExpressionReport {
    /// It as gates; `None` for arithmetic or a choice, which is no form of gates.
    pub form: Option<Form>,
    /// Care rows where it is wrong.
    pub wrong: RowSet,
    /// Why it is not of the form asked for.
    pub form_fault: Option<String>,
    /// Its terms and literals.
    pub cost: (u32, u32),
    /// Terms and literals of the cheapest of its kind, and whether that is proved; only where the form has one.
    pub least: Option<(u32, u32, bool)>,
}

impl ExpressionReport {
    /// Right on every care row.
    pub fn equal(&self) -> bool {
        self.wrong.is_empty()
    }

    /// Literals over the minimum, when it has more terms or literals than needed.
    pub fn over(&self) -> Option<u32> {
        let (terms, literals, _) = self.least?;
        ((terms, literals) < self.cost).then(|| self.cost.1.saturating_sub(literals))
    }
}

/// Holds a typed expression against an output of a table. `signals` are the input ports in table order.
///
/// # Errors
/// When the text is no expression, with its column.
pub fn judge_expression(
    text: &str,
    signals: &[(String, Shape)],
    bit_names: &[String],
    wanted: &OutputColumn,
    asked: AskedForm,
) -> Result<ExpressionReport, ExprError> {
    let expr = parse_expr(text, signals, 1)?;
    let inputs = wanted.ones.inputs();
    let actual = expr.rows(signals, inputs);
    let wrong = actual.zip(&wanted.ones, |a, b| a ^ b).zip(&wanted.dont_care, |wrong, free| wrong & !free);
    let form = expr.form(signals);
    let form_fault = match &form {
        Some(form) => asked.fault(form, inputs, bit_names),
        None if asked == AskedForm::Any => None,
        None => Some("It holds arithmetic or a choice, which is no form of gates.".into()),
    };
    let mut cost = (0, 0);
    if let Some(form) = &form {
        let priced = crate::form_cost(form);
        cost = (priced.terms, priced.literals);
    }
    // What can't be cheaper is only asked of answers that are right and of their form.
    let least = (wrong.is_empty() && form_fault.is_none())
        .then(|| {
            let ones = match asked {
                AskedForm::Sop | AskedForm::NandNand => wanted.ones.clone(),
                AskedForm::Pos | AskedForm::NorNor => wanted.zeros(),
                _ => return None,
            };
            let found = minimise(&ones, &wanted.dont_care, &Effort { covers: 1, ..Effort::default() });
            Some((found.terms, found.literals, found.optimal))
        })
        .flatten();
    if least.is_some() {
        cost = two_level_cost(form.as_ref(), asked, cost);
    }
    Ok(ExpressionReport { form, wrong, form_fault, cost, least })
}

/// Terms of a two-level form: a single gate of the inner kind, or one literal, is one term.
fn two_level_cost(form: Option<&Form>, asked: AskedForm, cost: (u32, u32)) -> (u32, u32) {
    let outer = match asked {
        AskedForm::Sop => GateOp::Or,
        AskedForm::Pos => GateOp::And,
        AskedForm::NandNand => GateOp::Nand,
        _ => GateOp::Nor,
    };
    match form {
        Some(Form::Const(value)) => (u32::from(*value == matches!(asked, AskedForm::Sop | AskedForm::NandNand)), 0),
        Some(Form::Gate(op, operands)) if *op == outer => {
            // A gate of literals alone can be read either way; the kinder reading counts its operands as terms.
            (u32::try_from(operands.len()).unwrap_or(u32::MAX), cost.1)
        }
        Some(_) => (1, cost.1),
        None => cost,
    }
}

impl Expr {
    /// The rows where a one-bit result is 1.
    pub fn rows(&self, signals: &[(String, Shape)], inputs: u32) -> RowSet {
        let words = RowSet::empty(inputs).words().len() as u64;
        let column: Vec<u64> = (0..words)
            .map(|word| {
                let mut first = 0;
                let scope: Vec<Vec<u64>> = signals
                    .iter()
                    .map(|(_, shape)| {
                        let width = shape.width();
                        let bits = (0..width).rev().map(|i| crate::input_word(inputs, first + i, word)).collect();
                        first += width;
                        bits
                    })
                    .collect();
                self.eval(scope.as_slice(), 1)[0]
            })
            .collect();
        RowSet::from_words(inputs, &column)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn judge(text: &str, terms: &[u64], dont_cares: &[u64], asked: AskedForm) -> ExpressionReport {
        let names: Vec<String> = ["a", "b", "c"].map(str::to_owned).to_vec();
        let signals: Vec<_> = names.iter().map(|n| (n.clone(), Shape::SCALAR)).collect();
        let wanted = OutputColumn::from_terms("f", 3, terms, dont_cares, false).unwrap();
        judge_expression(text, &signals, &names, &wanted, asked).unwrap()
    }

    #[test]
    fn a_minimal_answer_other_than_ours_is_right() {
        // Σm(0,1,2,5,6,7) has two minimal sums of three products (common textbook example, from memory).
        for text in ["a'b' + bc' + ac", "a'c' + b'c + ab", "ab + b'c + c'a'"] {
            let report = judge(text, &[0, 1, 2, 5, 6, 7], &[], AskedForm::Sop);
            assert!(report.equal() && report.form_fault.is_none(), "{text}");
            assert_eq!(report.over(), None, "{text}");
        }
        let long = judge("a'b' + bc' + ac + ab", &[0, 1, 2, 5, 6, 7], &[], AskedForm::Sop);
        assert_eq!(long.over(), Some(2));
    }

    #[test]
    fn a_wrong_answer_shows_its_first_row_and_dont_cares_are_free() {
        let report = judge("a + b", &[2, 3, 4, 5, 6], &[], AskedForm::Any);
        assert_eq!(report.wrong.iter().collect::<Vec<_>>(), [7]);
        assert!(judge("a + b", &[2, 3, 4, 5, 6], &[7], AskedForm::Any).equal());
    }

    #[test]
    fn forms_are_told_apart() {
        let fault = |text: &str, asked| judge(text, &[], &[], asked).form_fault;
        assert_eq!(fault("a b' + c", AskedForm::Sop), None);
        assert_eq!(fault("a (b + c)", AskedForm::Sop).unwrap(), "The last operation is AND, not OR.");
        assert_eq!(fault("a + b (a + c)", AskedForm::Sop).unwrap(), "`b & (a | c)` is not a product of literals.");
        assert_eq!(fault("(a + b)(a + c')", AskedForm::Pos), None);
        assert_eq!(fault("a b", AskedForm::Pos), None);
        assert_eq!(fault("(a + b)'", AskedForm::Pos).unwrap(), "The last operation is NOR, not AND.");
        assert_eq!(fault("((a b)' (b c)')'", AskedForm::NandNand), None);
        assert_eq!(fault("(a nand b) nand (c nand c)", AskedForm::NandOnly), None);
        assert!(fault("((a + b)' (b c)')'", AskedForm::NandOnly).unwrap().contains("is a NOR"));
        assert_eq!(fault("((a + b)' + (b + c)')'", AskedForm::NorNor), None);
        assert!(fault("(((a b)' c)' b)'", AskedForm::NandNand).unwrap().contains("3 gates deep"));
        assert_eq!(fault("a b c + a b c'", AskedForm::CanonicalSop), None);
        assert_eq!(fault("a b + a b c'", AskedForm::CanonicalSop).unwrap(), "`a & b` doesn't name every input once.");
        assert!(fault("a ? b : c", AskedForm::Sop).unwrap().contains("a choice"));
    }
}
