//! Rules of the structure: what a hand-in must and must not be written with, in which form, and with how many gates.
//! Each rule is a file of its own; a broken one costs marks in the stage Structure.

mod examples;
mod form;
mod gate_budget;
mod level_budget;
mod literal_budget;
mod looked;
mod means;
mod possible;

use crate::fault::Fault;
use crate::rules::looked::Looked;
use base::{Budget, Diagnostic, Exhausted};
use design::{Design, Netlist, Use};
use elab::Unit;
use logic::TruthTable;
use serde::Deserialize;
use toml::Spanned;

pub use crate::rules::examples::{RuleExample, rule_examples};
pub use crate::rules::form::{FormRule, RequiredForm};
pub use crate::rules::means::{Matter, MatterError};

/// The rules of an exercise.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Rules {
    /// What must not be there.
    pub forbid: Vec<Matter>,
    /// What must be there.
    pub require: Vec<Matter>,
    /// The most gates, inverters at the inputs not counted.
    pub max_gates: Option<u64>,
    /// The most literals.
    pub max_literals: Option<u64>,
    /// The most gates one after the other, inverters at the inputs not counted.
    pub max_levels: Option<u64>,
    /// Forms of outputs.
    pub forms: Vec<FormRule>,
}

/// The table `[rules]` of an exercise file.
#[derive(Deserialize, Default)]
#[serde(deny_unknown_fields)]
pub struct RawRules {
    pub languages: Option<Spanned<Vec<String>>>,
    #[serde(default)]
    forbid: Vec<Spanned<String>>,
    #[serde(default)]
    require: Vec<Spanned<String>>,
    max_gates: Option<Spanned<u64>>,
    max_literals: Option<Spanned<u64>>,
    max_levels: Option<Spanned<u64>>,
    #[serde(default)]
    form: Vec<RawForm>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawForm {
    output: Spanned<String>,
    form: Spanned<String>,
}

impl Rules {
    /// Is there nothing to judge?
    pub fn is_empty(&self) -> bool {
        *self == Self::default()
    }

    /// How many there are.
    pub fn count(&self) -> usize {
        let limits = [self.max_gates, self.max_literals, self.max_levels];
        self.forbid.len() + self.require.len() + self.forms.len() + limits.iter().flatten().count()
    }

    /// Reads them; `outputs` are the names of the exercise's output ports and of their bits, `expected` its table, empty
    /// when it has none.
    pub fn read(raw: &RawRules, outputs: &[String], expected: &TruthTable) -> Result<Self, Fault> {
        let matters = |list: &[Spanned<String>]| -> Result<Vec<Matter>, Fault> {
            list.iter().map(|m| Matter::read(m.get_ref()).map_err(|e| (m.span(), e.to_string()))).collect()
        };
        let (forbid, require) = (matters(&raw.forbid)?, matters(&raw.require)?);
        for (matter, given) in require.iter().zip(&raw.require) {
            if forbid.contains(matter) {
                let message = format!("`{}` is required and forbidden at once; keep one.", given.get_ref());
                return Err((given.span(), message));
            }
            if matches!(matter, Matter::Latch | Matter::Loop) {
                let message = format!("`{}` can be forbidden, not required; remove it.", given.get_ref());
                return Err((given.span(), message));
            }
        }
        let mut forms: Vec<FormRule> = Vec::new();
        for raw in &raw.form {
            let rule = FormRule::read(
                (raw.output.get_ref(), raw.output.span()),
                (raw.form.get_ref(), raw.form.span()),
                outputs,
            )?;
            forms.push(rule);
        }
        let max_gates = raw.max_gates.as_ref().map(|m| *m.get_ref());
        if let (Some(0), Some(raw)) = (max_gates, &raw.max_gates) {
            return Err((raw.span(), "No design has less than one gate; give a larger number.".into()));
        }
        let limit = |given: &Option<Spanned<u64>>| given.as_ref().map(|m| *m.get_ref());
        let (max_literals, max_levels) = (limit(&raw.max_literals), limit(&raw.max_levels));
        let rules = Self { forbid, require, max_gates, max_literals, max_levels, forms };
        match possible::contradiction(&rules, expected) {
            None => Ok(rules),
            Some((form, message)) => {
                let form = form.and_then(|k| raw.form.get(k)).map(|f| f.form.span());
                let limit = raw.max_gates.as_ref().map(Spanned::span);
                Err((form.or(limit).unwrap_or(0..0), message))
            }
        }
    }

    /// Judges a design that could be synthesised.
    ///
    /// # Errors
    /// When the budget runs out.
    pub fn judge(
        &self,
        (design, netlist): (&Design, &Netlist),
        uses: &[Use],
        top: &Unit,
        budget: &mut Budget,
    ) -> Result<Vec<Diagnostic>, Exhausted> {
        if self.is_empty() {
            return Ok(Vec::new());
        }
        let gates = design::gates(design, &mut budget.clone().with_depth(2_000))?;
        let looked = Looked { design, netlist, gates: &gates, uses, top };
        let mut found = Vec::new();
        found.extend(self.forbid.iter().filter_map(|m| means::forbidden(m, &looked)));
        found.extend(self.require.iter().filter_map(|m| means::required(m, &looked)));
        found.extend(self.max_gates.and_then(|most| gate_budget::exceeded(most, &looked)));
        found.extend(self.max_literals.and_then(|most| literal_budget::exceeded(most, &looked)));
        found.extend(self.max_levels.and_then(|most| level_budget::exceeded(most, &looked)));
        found.extend(self.forms.iter().filter_map(|rule| rule.broken(&looked)));
        Ok(found)
    }

    /// As sentences, for the exercise's page.
    pub fn sentences(&self) -> Vec<String> {
        let forbid = self.forbid.iter().map(|m| format!("No {}.", m.words()));
        let require = self.require.iter().map(|m| format!("At least one {}.", m.words()));
        let gates = self.max_gates.iter().map(|n| format!("At most {n} gates; inverters at the inputs don't count."));
        let literals = self.max_literals.iter().map(|n| format!("At most {n} literals."));
        let levels = self
            .max_levels
            .iter()
            .map(|n| format!("At most {n} gates one after the other; inverters at the inputs don't count."));
        let forms = self.forms.iter().map(|f| format!("`{}` is built {}.", f.output, f.form.words()));
        forbid.chain(require).chain(gates).chain(literals).chain(levels).chain(forms).collect()
    }
}
