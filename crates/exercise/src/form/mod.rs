//! The exercise file as the workings page edits it: signals and behaviour as they are typed, whether they are right or
//! not yet, and back into the file with everything else in it untouched.

mod edit;
pub(crate) mod parts;
#[cfg(test)]
mod tests;
mod write;

use crate::exercise::Exercise;
use crate::fault::Beside;
use parts::{NamedText, PartsForm, field_of};
use serde::{Deserialize, Serialize};
use toml_edit::{Document, DocumentMut, Item, Table, Value};

macro_rules! data {
    ($($(#[$meta:meta])* struct $name:ident { $($(#[$field_meta:meta])* $field:ident: $ty:ty,)* })*) => {
        $(
            $(#[$meta])*
            #[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
            #[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
            pub struct $name { $($(#[$field_meta])* pub $field: $ty,)* }
        )*
    };
}

data! {
    /// A port as typed.
    struct PortForm {
        /// Name.
        name: String,
        /// `in` or `out`.
        dir: String,
        /// Bounds such as `3:0`; empty for a scalar.
        range: String,
        /// The name it has in the saved file, when it is there; what refers to it follows a new name.
        was: String,
    }

    /// A code rule as chosen.
    struct CodeForm {
        /// Its name.
        rule: String,
        /// The characters that a digit shows for 0, 1 and so on.
        text: String,
        /// The outputs light at 0.
        active_low: bool,
        /// Shapes of digits, such as `6-open`.
        digits: Vec<String>,
    }

    /// A behaviour as typed. Only what belongs to its kind is saved, but nothing typed is lost by choosing another kind.
    struct BehaviourForm {
        /// `minterms`, `maxterms`, `expressions`, `table`, `code`, `rate`, `sequence`, `states`, `reference`, or another kind,
        /// which is left as it is.
        kind: String,
        /// Row lists of minterms or maxterms, bit by bit.
        terms: Vec<NamedText>,
        /// Rows that may be either, bit by bit.
        dont_cares: Vec<NamedText>,
        /// Expressions.
        expressions: Vec<NamedText>,
        /// Lines of a table.
        rows: String,
        /// The code.
        code: CodeForm,
    }

    /// What the workings page edits.
    struct ExerciseForm {
        /// Title.
        title: String,
        /// What the task is, in Markdown.
        statement: String,
        /// Ports in table order.
        ports: Vec<PortForm>,
        /// Behaviour.
        behaviour: BehaviourForm,
        /// Clock, rules, marks, wiring and what is expected over time.
        parts: PartsForm,
    }

    /// Why a draft can't be used yet: one sentence at its field.
    struct FieldProblem {
        /// `title`, `statement`, `port.0.name`, `port.0.range`, `terms.f`, `dont_cares.f`, `expressions.f`, `rows`, `code`,
        /// `parameter`; empty for the whole.
        field: String,
        /// What is wrong and what to do.
        message: String,
    }
}

/// A change that needs the core to carry it out.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum FormEdit {
    /// Sets a cell of the table. Minterms, maxterms and a table stay what they are; expressions and codes become minterms.
    Cell {
        /// Output bit.
        output: String,
        /// Row.
        row: u64,
        /// `0`, `1` or `-`.
        value: String,
    },
    /// Takes signals and rows from a pasted table or PLA file.
    Paste {
        /// The text.
        text: String,
    },
    /// Renames a port; expressions and lists follow.
    Rename {
        /// Position of the port.
        port: usize,
        /// Its new name.
        name: String,
    },
    /// Writes the behaviour in another kind, when the present one can be read.
    Convert {
        /// `minterms`, `maxterms` or `table`.
        to: String,
    },
}

/// A draft worked through.
#[derive(Clone, Debug)]
pub struct Worked {
    /// The draft after the edit.
    pub draft: ExerciseForm,
    /// The exercise file that says it, when it could be written.
    pub text: Option<String>,
    /// The exercise, when the draft is right.
    pub exercise: Option<Exercise>,
    /// What is wrong with it, when it isn't.
    pub problem: Option<FieldProblem>,
}

fn problem(field: impl Into<String>, message: impl Into<String>) -> FieldProblem {
    FieldProblem { field: field.into(), message: message.into() }
}

impl ExerciseForm {
    /// Reads a file that may be faulty; what is not there is empty.
    pub fn read(text: &str) -> Self {
        let Ok(document) = text.parse::<DocumentMut>() else { return Self::default() };
        let string = |item: Option<&Item>| item.and_then(Item::as_str).unwrap_or("").to_owned();
        let ports = document.get("port").and_then(Item::as_array_of_tables);
        let ports = ports.into_iter().flatten().map(|p| PortForm {
            name: string(p.get("name")),
            dir: string(p.get("dir")),
            range: string(p.get("range")),
            was: string(p.get("name")),
        });
        let empty = Table::new();
        let behaviour = document.get("behaviour").and_then(Item::as_table).unwrap_or(&empty);
        let kind = string(behaviour.get("kind"));
        let named = |key: &str| -> Vec<NamedText> {
            let table = behaviour.get(key).and_then(Item::as_table_like);
            table.into_iter().flat_map(|t| t.iter()).map(|(name, item)| named_text(name, item)).collect()
        };
        let digits = behaviour.get("digits").and_then(Item::as_array);
        let code = CodeForm {
            rule: string(behaviour.get("rule")),
            text: string(behaviour.get("text")),
            active_low: behaviour.get("active").and_then(Item::as_str) == Some("low"),
            digits: digits.into_iter().flatten().filter_map(|d| d.as_str().map(str::to_owned)).collect(),
        };
        let outputs = named("outputs");
        let (terms, expressions) = if kind == "expressions" { (Vec::new(), outputs) } else { (outputs, Vec::new()) };
        Self {
            title: string(document.get("title")),
            statement: string(document.get("statement")).trim().to_owned(),
            ports: ports.collect(),
            behaviour: BehaviourForm {
                terms,
                dont_cares: named("dont_care"),
                expressions,
                rows: string(behaviour.get("rows")).trim_matches('\n').to_owned(),
                code,
                kind,
            },
            parts: PartsForm::read(&document),
        }
    }

    /// Carries out an edit, writes the draft into `file` (or a new one) and reads the result.
    pub fn work(&self, file: &str, edit: Option<&FormEdit>, beside: &Beside<'_>) -> Worked {
        let before = self.settle(file, beside);
        let Some(edit) = edit else { return before };
        match self.edited(edit, &before) {
            Ok(draft) => draft.settle(file, beside),
            Err(fault) => Worked { problem: Some(fault), ..before },
        }
    }

    fn settle(&self, file: &str, beside: &Beside<'_>) -> Worked {
        let draft = self.clone();
        let text = match self.write(file) {
            Ok(text) => text,
            Err(fault) => return Worked { draft, text: None, exercise: None, problem: Some(fault) },
        };
        match Exercise::load(&text, beside) {
            Ok(exercise) => Worked { draft, text: Some(text), exercise: Some(exercise), problem: None },
            Err(e) => {
                let start: usize = text.split_inclusive('\n').take(e.line as usize - 1).map(str::len).sum();
                let line = text.get(start..).unwrap_or("");
                let column = line.char_indices().nth(e.column as usize - 1).map_or(0, |(i, _)| i);
                let field = self.field_at(&text, start + column);
                Worked { draft, text: None, exercise: None, problem: Some(problem(field, e.message)) }
            }
        }
    }

    fn input_bits(&self) -> u32 {
        let width = |range: &str| {
            let bounds =
                range.split_once(':').and_then(|(l, r)| Some((l.trim().parse().ok()?, r.trim().parse().ok()?)));
            bounds.map_or(1, |(l, r): (i32, i32)| l.abs_diff(r).saturating_add(1))
        };
        let widths = self.ports.iter().filter(|p| p.dir == "in").map(|p| width(&p.range));
        widths.fold(0u32, u32::saturating_add)
    }

    /// The field of this draft that a byte of its file belongs to.
    fn field_at(&self, text: &str, offset: usize) -> String {
        let Ok(document) = Document::parse(text) else { return String::new() };
        let within =
            |item: Option<&Item>| item.and_then(Item::span).is_some_and(|s| s.contains(&offset) || s.start == offset);
        if within(document.get("title")) {
            return "title".into();
        }
        if within(document.get("statement")) {
            return "statement".into();
        }
        let ports = document.get("port").and_then(Item::as_array_of_tables);
        for (i, port) in ports.into_iter().flatten().enumerate() {
            for key in ["name", "dir", "range"] {
                if within(port.get(key)) {
                    return format!("port.{i}.{key}");
                }
            }
        }
        for (key, item) in document.iter() {
            if let (true, Some(field)) = (within_item(item, offset), field_of(key)) {
                return field.into();
            }
        }
        let Some(behaviour) = document.get("behaviour").and_then(Item::as_table) else { return String::new() };
        if ["rate", "sequence", "states", "reference"].contains(&self.behaviour.kind.as_str()) {
            return self.behaviour.kind.clone();
        }
        let list = if self.behaviour.kind == "expressions" { "expressions" } else { "terms" };
        for (key, field) in [("outputs", list), ("dont_care", "dont_cares")] {
            let Some(table) = behaviour.get(key).and_then(Item::as_table) else { continue };
            for (name, item) in table {
                let key_here = table.key(name).and_then(|k| k.span()).is_some_and(|s| s.contains(&offset));
                if key_here || within(Some(item)) {
                    return format!("{field}.{name}");
                }
            }
        }
        if within(behaviour.get("rows")) {
            return "rows".into();
        }
        if ["rule", "text", "digits", "active"].iter().any(|k| within(behaviour.get(k))) {
            return "code".into();
        }
        String::new()
    }
}

/// Does a byte lie in a table, a list of tables, or a value in one of them?
fn within_item(item: &Item, offset: usize) -> bool {
    let here = item.span().is_some_and(|s| s.contains(&offset) || s.start == offset);
    let inner = item.as_table_like().into_iter().flat_map(toml_edit::TableLike::iter);
    let lists = item.as_array_of_tables().into_iter().flatten();
    here || inner.into_iter().any(|(_, value)| within_item(value, offset))
        || lists.into_iter().any(|t| t.iter().any(|(_, value)| within_item(value, offset)))
}

fn named_text(name: &str, item: &Item) -> NamedText {
    let text = match item.as_value() {
        Some(Value::String(s)) => s.value().clone(),
        Some(Value::Array(list)) => {
            let numbers: Vec<String> = list.iter().map(|v| v.to_string().trim().to_owned()).collect();
            numbers.join(", ")
        }
        _ => String::new(),
    };
    NamedText { name: name.to_owned(), text }
}
