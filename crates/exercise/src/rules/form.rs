//! In which form an output is to be built: as a sum of products, a product of sums, from NANDs or NORs.

use crate::fault::Fault;
use crate::rules::looked::{Looked, Spot};
use base::{Diagnostic, Severity, Span, Stage};
use design::{Gate, GateId, GateKind, Gates};

/// A form by its name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum RequiredForm {
    /// An OR of ANDs of inputs and inverted inputs.
    Sop,
    /// An AND of ORs.
    Pos,
    /// A NAND of NANDs, two levels.
    NandNand,
    /// A NOR of NORs, two levels.
    NorNor,
    /// NANDs only, on any number of levels.
    NandOnly,
    /// NORs only.
    NorOnly,
}

impl RequiredForm {
    /// Its words in exercise files.
    pub fn keys() -> impl Iterator<Item = &'static str> {
        Self::KEYS.into_iter().map(|(key, _)| key)
    }

    const KEYS: [(&str, RequiredForm); 6] = [
        ("sop", RequiredForm::Sop),
        ("pos", RequiredForm::Pos),
        ("nand-nand", RequiredForm::NandNand),
        ("nor-nor", RequiredForm::NorNor),
        ("nand-only", RequiredForm::NandOnly),
        ("nor-only", RequiredForm::NorOnly),
    ];

    /// `as a sum of products`, after "built".
    pub fn words(self) -> &'static str {
        match self {
            RequiredForm::Sop => "as a sum of products (an OR of ANDs)",
            RequiredForm::Pos => "as a product of sums (an AND of ORs)",
            RequiredForm::NandNand => "as a NAND of NANDs",
            RequiredForm::NorNor => "as a NOR of NORs",
            RequiredForm::NandOnly => "from NAND gates only",
            RequiredForm::NorOnly => "from NOR gates only",
        }
    }
}

/// A form that an output must have.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FormRule {
    /// A port, or one bit of it.
    pub output: String,
    /// Its form.
    pub form: RequiredForm,
}

/// The first place that breaks a form, and why.
type Broken = (Option<Span>, String);

impl FormRule {
    pub(crate) fn read(output: Spot<'_>, form: Spot<'_>, outputs: &[String]) -> Result<Self, Fault> {
        let Some((_, kind)) = RequiredForm::KEYS.into_iter().find(|(key, _)| *key == form.0) else {
            let known: Vec<&str> = RequiredForm::KEYS.iter().map(|(k, _)| *k).collect();
            return Err((form.1, format!("Unknown form `{}`; use one of {}.", form.0, known.join(", "))));
        };
        if !outputs.iter().any(|o| o == output.0) {
            let near = base::nearest(output.0, outputs.iter().map(String::as_str));
            let hint = near.map_or("name an output of the exercise".into(), |n| format!("write `{n}`"));
            return Err((output.1, format!("Unknown output `{}`; {hint}.", output.0)));
        }
        Ok(Self { output: output.0.to_owned(), form: kind })
    }

    pub(crate) fn broken(&self, looked: &Looked<'_>) -> Option<Diagnostic> {
        let design = looked.design;
        let bits = looked.gates.outputs.iter().filter(|(signal, bit, _)| {
            let name = &design.signals[*signal].name;
            let bit_name = design.signal_shape(*signal).bit_name(name, *bit);
            [name, &bit_name].into_iter().any(|n| n.eq_ignore_ascii_case(&self.output))
        });
        let (at, why) = bits.into_iter().find_map(|(_, _, id)| Form(looked.gates).broken(self.form, *id))?;
        Some(
            Diagnostic::new(
                "wrong-form",
                Severity::Marks,
                Stage::Structure,
                format!("`{}` is to be built {}, but {why}.", self.output, self.form.words()),
                self.form.action(),
            )
            .at_opt(at.or(Some(looked.top.span)))
            .help("The form is read from the design as it is written, before anything is simplified."),
        )
    }
}

impl RequiredForm {
    fn action(self) -> &'static str {
        match self {
            RequiredForm::Sop => "Write each product as an AND of inputs, inverted or not, and OR the products.",
            RequiredForm::Pos => "Write each sum as an OR of inputs, inverted or not, and AND the sums.",
            RequiredForm::NandNand => "Replace the OR and the ANDs of the sum of products by NANDs.",
            RequiredForm::NorNor => "Replace the AND and the ORs of the product of sums by NORs.",
            RequiredForm::NandOnly => "Use NAND gates alone; an inverter is a NAND with both inputs joined.",
            RequiredForm::NorOnly => "Use NOR gates alone; an inverter is a NOR with both inputs joined.",
        }
    }
}

struct Form<'g>(&'g Gates);

impl Form<'_> {
    fn broken(&self, form: RequiredForm, root: GateId) -> Option<Broken> {
        use GateKind as K;
        match form {
            RequiredForm::Sop => self.sum(root, K::Or, K::And).err(),
            RequiredForm::Pos => self.sum(root, K::And, K::Or).err(),
            RequiredForm::NandNand => self.two_levels(root, K::Nand).err(),
            RequiredForm::NorNor => self.two_levels(root, K::Nor).err(),
            RequiredForm::NandOnly => self.only(root, K::Nand).err(),
            RequiredForm::NorOnly => self.only(root, K::Nor).err(),
        }
    }

    fn is_literal(&self, id: GateId) -> bool {
        match &self.0.gates[id] {
            Gate::Input(..) | Gate::Const(_) => true,
            Gate::Gate { kind: GateKind::Not, inputs, .. } => {
                inputs.iter().all(|i| matches!(self.0.gates[*i], Gate::Input(..) | Gate::Const(_)))
            }
            _ => false,
        }
    }

    fn is_inverter(kind: GateKind, inputs: &[GateId]) -> bool {
        matches!(kind, GateKind::Nand | GateKind::Nor) && inputs.windows(2).all(|w| w[0] == w[1])
    }

    fn told<T>(&self, id: GateId, place: &str) -> Result<T, Broken> {
        Err(match &self.0.gates[id] {
            Gate::Gate { kind: GateKind::Not, span, .. } => (Some(*span), format!("{place} is an inverter")),
            Gate::Gate { kind, span, .. } => {
                let article = if matches!(kind, GateKind::And | GateKind::Or | GateKind::Xor | GateKind::Xnor) {
                    "an"
                } else {
                    "a"
                };
                // A NAND or NOR is named with its own article; "an XOR" and "an XNOR" are read letter by letter.
                (Some(*span), format!("{place} is {article} {}", kind.word().to_ascii_uppercase()))
            }
            Gate::Other(span) => (Some(*span), format!("{place} is written with something else than gates")),
            Gate::Input(..) | Gate::Const(_) => (None, format!("{place} is an input")),
        })
    }

    /// An `outer` of `inner`s of literals, each step possibly left out.
    fn sum(&self, id: GateId, outer: GateKind, inner: GateKind) -> Result<(), Broken> {
        match &self.0.gates[id] {
            Gate::Gate { kind, inputs, .. } if *kind == outer => {
                inputs.iter().try_for_each(|i| self.sum(*i, outer, inner))
            }
            _ => self.product(id, inner, &format!("one of its operands in the {}", outer.word().to_ascii_uppercase())),
        }
    }

    fn product(&self, id: GateId, inner: GateKind, place: &str) -> Result<(), Broken> {
        if self.is_literal(id) {
            return Ok(());
        }
        match &self.0.gates[id] {
            Gate::Gate { kind, inputs, .. } if *kind == inner => {
                let place = format!("an operand of the {}", inner.word().to_ascii_uppercase());
                inputs.iter().try_for_each(|i| self.product(*i, inner, &place))
            }
            _ => self.told(id, place),
        }
    }

    fn two_levels(&self, root: GateId, wanted: GateKind) -> Result<(), Broken> {
        if self.is_literal(root) {
            return Ok(());
        }
        let word = wanted.word().to_ascii_uppercase();
        let Gate::Gate { kind, inputs, .. } = &self.0.gates[root] else {
            return self.told(root, "the last gate");
        };
        if *kind != wanted {
            return self.told(root, "the last gate");
        }
        for input in inputs {
            let literal = |id: GateId| match &self.0.gates[id] {
                // An inverter made of a gate of that kind.
                Gate::Gate { kind, inputs, .. } if Self::is_inverter(*kind, inputs) => self.is_literal(inputs[0]),
                _ => self.is_literal(id),
            };
            match &self.0.gates[*input] {
                _ if literal(*input) => {}
                Gate::Gate { kind, inputs, .. } if *kind == wanted => {
                    if let Some(deep) = inputs.iter().find(|i| !literal(**i)) {
                        return self.told(*deep, &format!("an operand of a {word} of the first level"));
                    }
                }
                _ => return self.told(*input, &format!("an operand of the last {word}")),
            }
        }
        Ok(())
    }

    fn only(&self, root: GateId, wanted: GateKind) -> Result<(), Broken> {
        for id in self.0.behind(&[root]) {
            match &self.0.gates[id] {
                Gate::Gate { kind, .. } if *kind == wanted => {}
                Gate::Input(..) | Gate::Const(_) => {}
                _ => return self.told(id, "one of its gates"),
            }
        }
        Ok(())
    }
}
