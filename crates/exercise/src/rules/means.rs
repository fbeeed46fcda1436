//! What a hand-in is written with: constructs, operators, gates and instances that are forbidden or required.

use crate::rules::looked::Looked;
use base::{Diagnostic, Severity, Span, Stage};
use design::{Gate, Means, Use};

/// Something that a rule forbids or requires.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Matter {
    /// Storage that a level opens.
    Latch,
    /// A combinational loop.
    Loop,
    /// An operator, by the name that both languages share.
    Operator(&'static str),
    /// A construct.
    Construct(&'static str),
    /// A gate, written as an operator or as a primitive.
    Gate(&'static str),
    /// An instance of a unit of that name.
    Instance(String),
}

/// Operators by every spelling that an exercise may use for them.
const OPERATORS: [(&str, &[&str]); 18] = [
    ("and", &["and", "&", "&&"]),
    ("or", &["or", "|", "||"]),
    ("xor", &["xor", "^"]),
    ("nand", &["nand", "~&"]),
    ("nor", &["nor", "~|"]),
    ("xnor", &["xnor", "~^", "^~"]),
    ("not", &["not", "~", "!"]),
    ("+", &["+"]),
    ("-", &["-"]),
    ("*", &["*"]),
    ("/", &["/"]),
    ("mod", &["mod", "%"]),
    ("rem", &["rem"]),
    ("**", &["**"]),
    ("<<", &["<<", "<<<", "sll"]),
    (">>", &[">>", ">>>", "srl"]),
    ("==", &["==", "=", "!=", "/=", "==="]),
    ("<", &["<", "<=", ">", ">="]),
];

/// Constructs by every name that an exercise may use for them.
const CONSTRUCTS: [(&str, &[&str]); 15] = [
    ("case", &["case"]),
    ("if", &["if", "if-else"]),
    ("when-else", &["when-else", "when...else", "when…else"]),
    ("with-select", &["with-select", "with...select", "with…select"]),
    ("conditional", &["conditional", "?:", "ternary"]),
    ("for", &["for", "loop"]),
    ("while", &["while", "repeat", "forever"]),
    ("generate", &["generate"]),
    ("process", &["process", "always"]),
    ("function", &["function"]),
    ("procedure", &["procedure", "task"]),
    ("assignment", &["assignment", "assign"]),
    ("gate", &["gate", "primitive"]),
    ("initial", &["initial"]),
    ("delay", &["delay", "after"]),
];

const GATES: [&str; 8] = ["and", "or", "xor", "nand", "nor", "xnor", "not", "buf"];

fn listed(name: &str, table: &[(&'static str, &[&str])]) -> Option<&'static str> {
    table.iter().find(|(_, spellings)| spellings.contains(&name)).map(|(canonical, _)| *canonical)
}

/// Why a word of a rule can't be read.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum MatterError {
    /// No operator of that name.
    #[error("Rules know no operator `{name}`; use one of {known}.")]
    Operator {
        /// The name.
        name: String,
        /// Those that are known.
        known: String,
    },
    /// No construct of that name.
    #[error("Rules know no construct `{name}`; use one of {known}.")]
    Construct {
        /// The name.
        name: String,
        /// Those that are known.
        known: String,
    },
    /// No gate of that name.
    #[error("Unknown gate `{name}`; use one of {known}.")]
    Gate {
        /// The name.
        name: String,
        /// Those that are known.
        known: String,
    },
    /// None of the kinds.
    #[error("Unknown rule `{0}`; write latch, comb-loop, operator:+, construct:case, gate:xor or instance:adder.")]
    Unknown(String),
}

impl Matter {
    /// Every word that rules know but names of instances, as it is written in exercise files.
    pub fn keys() -> Vec<String> {
        let own = ["latch", "comb-loop"].into_iter().map(str::to_owned);
        let operators = OPERATORS.iter().map(|(name, _)| format!("operator:{name}"));
        let constructs = CONSTRUCTS.iter().map(|(name, _)| format!("construct:{name}"));
        own.chain(constructs).chain(operators).chain(GATES.iter().map(|name| format!("gate:{name}"))).collect()
    }

    /// Every spelling of an operator.
    pub(super) fn spellings(operator: &str) -> &'static [&'static str] {
        OPERATORS.iter().find(|(name, _)| *name == operator).map_or(&[], |(_, spellings)| spellings)
    }

    /// Gates that rules know.
    pub(super) fn gates() -> [&'static str; 8] {
        GATES
    }

    /// Reads `latch`, `comb-loop`, `operator:+`, `construct:case`, `gate:xor` or `instance:adder`.
    ///
    /// # Errors
    /// When rules know nothing of that name.
    pub fn read(text: &str) -> Result<Self, MatterError> {
        let known = |table: &[(&'static str, &[&str])]| table.iter().map(|(n, _)| *n).collect::<Vec<_>>().join(", ");
        match text.split_once(':') {
            None if text == "latch" => Ok(Matter::Latch),
            None if text == "comb-loop" => Ok(Matter::Loop),
            Some(("operator", name)) => listed(name, &OPERATORS)
                .map(Matter::Operator)
                .ok_or_else(|| MatterError::Operator { name: name.to_owned(), known: known(&OPERATORS) }),
            Some(("construct", name)) => listed(name, &CONSTRUCTS)
                .map(Matter::Construct)
                .ok_or_else(|| MatterError::Construct { name: name.to_owned(), known: known(&CONSTRUCTS) }),
            Some(("gate", name)) => GATES
                .into_iter()
                .find(|g| *g == name)
                .map(Matter::Gate)
                .ok_or_else(|| MatterError::Gate { name: name.to_owned(), known: GATES.join(", ") }),
            Some(("instance", name)) if base::check_port_name(name).is_ok() => Ok(Matter::Instance(name.to_owned())),
            _ => Err(MatterError::Unknown(text.to_owned())),
        }
    }

    /// `operator +`, `instance of adder`, for sentences after "no" and "one".
    pub fn words(&self) -> String {
        match self {
            Matter::Latch => "latch".into(),
            Matter::Loop => "combinational loop".into(),
            Matter::Operator(name) => format!("operator `{name}`"),
            Matter::Construct(name) => match *name {
                "conditional" => "conditional operator (`?:`)".into(),
                "gate" => "gate primitive".into(),
                "process" => "process or `always` block".into(),
                other => format!("`{other}`"),
            },
            Matter::Gate(name) => format!("{} gate", name.to_ascii_uppercase()),
            Matter::Instance(name) => format!("instance of `{name}`"),
        }
    }

    fn fits(&self, used: &Use) -> bool {
        match (self, &used.means) {
            (Matter::Operator(a), Means::Operator(b)) | (Matter::Construct(a), Means::Construct(b)) => a == b,
            (Matter::Gate(a), Means::Gate(b) | Means::Operator(b)) => a == b,
            (Matter::Instance(a), Means::Instance(b)) => a.eq_ignore_ascii_case(b),
            _ => false,
        }
    }

    /// Where it is, and in how many places.
    fn places(&self, looked: &Looked<'_>) -> (Option<Span>, usize) {
        if *self == Matter::Latch {
            return (Some(looked.top.span), looked.netlist.latches as usize);
        }
        let mut spans: Vec<Span> = looked.uses.iter().filter(|u| self.fits(u)).map(|u| u.span).collect();
        // A NAND that is written as an inverted AND is a NAND all the same.
        if let (Matter::Gate(name), true) = (self, spans.is_empty()) {
            let gates = looked.gates.gates.iter().filter_map(|(_, g)| match g {
                Gate::Gate { kind, span, .. } if kind.word() == *name => Some(*span),
                _ => None,
            });
            spans.extend(gates);
        }
        (spans.first().copied(), spans.len())
    }
}

pub(super) fn forbidden(matter: &Matter, looked: &Looked<'_>) -> Option<Diagnostic> {
    let (at, count) = matter.places(looked);
    if count == 0 {
        return None;
    }
    let more = if count > 1 { format!(", {count} times") } else { String::new() };
    let words = matter.words();
    Some(
        Diagnostic::new(
            "forbidden-means",
            Severity::Marks,
            Stage::Structure,
            format!("The exercise allows no {words}, and the design has one{more}."),
            format!("Write it without the {words}."),
        )
        .at_opt(at)
        .help("The behaviour may be right; the exercise also says with what it is to be built."),
    )
}

pub(super) fn required(matter: &Matter, looked: &Looked<'_>) -> Option<Diagnostic> {
    if matter.places(looked).1 > 0 {
        return None;
    }
    let words = matter.words();
    Some(
        Diagnostic::new(
            "required-means",
            Severity::Marks,
            Stage::Structure,
            format!("The exercise asks for at least one {words}, and the design has none."),
            format!("Build it with the {words}."),
        )
        .at_opt(Some(looked.top.span)),
    )
}
