//! The exercise file as the workings page edits it: signals and behaviour as they are typed, whether they are right or
//! not yet, and back into the file with everything else in it untouched.

use crate::exercise::Exercise;
use crate::fault::Beside;
use crate::form_parts::{NamedText, PartsDraft, field_of};
use logic::{TruthTable, parse_numbers, parse_pla, parse_sheet, row_text};
use serde::{Deserialize, Serialize};
use toml_edit::{Array, ArrayOfTables, Document, DocumentMut, Item, Table, Value, value};

macro_rules! data {
    ($($(#[$meta:meta])* struct $name:ident { $($(#[$field_meta:meta])* $field:ident: $ty:ty,)* })*) => {
        $(
            $(#[$meta])*
            #[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
            #[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
            pub struct $name { $($(#[$field_meta])* pub $field: $ty,)* }
        )*
    };
}

data! {
    /// A port as typed.
    struct PortDraft {
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
    struct CodeDraft {
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
    struct BehaviourDraft {
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
        code: CodeDraft,
    }

    /// What the workings page edits.
    struct ExerciseDraft {
        /// Title.
        title: String,
        /// What the task is, in Markdown.
        statement: String,
        /// Ports in table order.
        ports: Vec<PortDraft>,
        /// Behaviour.
        behaviour: BehaviourDraft,
        /// Clock, rules, marks, wiring and what is expected over time.
        parts: PartsDraft,
    }

    /// Why a draft can't be used yet: one sentence at its field.
    struct FieldProblem {
        /// `title`, `statement`, `port.0.name`, `port.0.range`, `terms.f`, `dont_cares.f`, `expressions.f`, `rows`, `code`; empty for
        /// the whole.
        field: String,
        /// What is wrong and what to do.
        message: String,
    }
}

/// A change that needs the core to carry it out.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum DraftEdit {
    /// Sets a cell of the table; the behaviour becomes a list of minterms.
    Cell {
        /// Output bit.
        output: String,
        /// Row.
        #[cfg_attr(feature = "wire", ts(type = "number"))]
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
    pub draft: ExerciseDraft,
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

const SKELETON: &str = "format = \"zesty-gate/exercise/1\"\ntitle = \"\"\n";

impl ExerciseDraft {
    /// Reads a file that may be faulty; what is not there is empty.
    pub fn read(text: &str) -> Self {
        let Ok(document) = text.parse::<DocumentMut>() else { return Self::default() };
        let string = |item: Option<&Item>| item.and_then(Item::as_str).unwrap_or("").to_owned();
        let ports = document.get("port").and_then(Item::as_array_of_tables);
        let ports = ports.into_iter().flatten().map(|p| PortDraft {
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
        let code = CodeDraft {
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
            behaviour: BehaviourDraft {
                terms,
                dont_cares: named("dont_care"),
                expressions,
                rows: string(behaviour.get("rows")).trim_matches('\n').to_owned(),
                code,
                kind,
            },
            parts: PartsDraft::read(&document),
        }
    }

    /// Carries out an edit, writes the draft into `file` (or a new one) and reads the result.
    pub fn work(&self, file: &str, edit: Option<&DraftEdit>, beside: &Beside<'_>) -> Worked {
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

    /// The file with this draft in it.
    fn write(&self, file: &str) -> Result<String, FieldProblem> {
        let base = if file.trim().is_empty() { SKELETON } else { file };
        let mut document: DocumentMut =
            base.parse().map_err(|_| problem("", "The exercise file is not valid TOML; correct it there first."))?;
        document["title"] = value(self.title.as_str());
        self.write_statement(&mut document);
        let mut ports = ArrayOfTables::new();
        let decor =
            document.get("port").and_then(Item::as_array_of_tables).and_then(|p| p.get(0)).map(|t| t.decor().clone());
        for port in &self.ports {
            let mut table = Table::new();
            table["name"] = value(port.name.as_str());
            table["dir"] = value(port.dir.as_str());
            if !port.range.trim().is_empty() {
                table["range"] = value(port.range.trim());
            }
            ports.push(table);
        }
        if let (Some(decor), Some(first)) = (decor, ports.get_mut(0)) {
            *first.decor_mut() = decor;
        }
        let position = document.get("port").and_then(Item::as_array_of_tables).and_then(|p| p.get(0)?.position());
        if let (Some(position), Some(_)) = (position, ports.get(0)) {
            ports.iter_mut().for_each(|t| t.set_position(Some(position)));
        }
        document["port"] = Item::ArrayOfTables(ports);
        self.write_behaviour(&mut document)?;
        self.parts.write(&mut document);
        self.follow_names(&mut document);
        Ok(document.to_string())
    }

    /// The statement behind the title, as lines of text.
    fn write_statement(&self, document: &mut DocumentMut) {
        let text = self.statement.trim();
        let known = document.get("statement").and_then(Item::as_str).map(str::trim);
        if text.is_empty() {
            document.remove("statement");
        } else if known != Some(text) {
            let lines = value(format!("{text}\n"));
            match document.get_mut("statement") {
                Some(item) => *item = lines,
                None => {
                    document.insert("statement", lines);
                }
            }
        }
    }

    /// What refers to a renamed port elsewhere in the file.
    fn follow_names(&self, document: &mut DocumentMut) {
        for port in self.ports.iter().filter(|p| !p.was.is_empty() && p.was != p.name) {
            let renamed = |old: &str| rename_bit(old, &port.was, &port.name);
            if let Some(map) =
                document.get_mut("wiring").and_then(|w| w.get_mut("map")).and_then(Item::as_table_like_mut)
            {
                let keys: Vec<String> = map.iter().map(|(k, _)| k.to_owned()).collect();
                for key in keys {
                    if let Some(new) = renamed(&key)
                        && let Some(item) = map.remove(&key)
                    {
                        map.insert(&new, item);
                    }
                }
            }
            if let Some(list) = document.get_mut("answer").and_then(Item::as_array_of_tables_mut) {
                for answer in list.iter_mut() {
                    if let Some(new) = answer.get("output").and_then(Item::as_str).and_then(renamed) {
                        answer["output"] = value(new);
                    }
                }
            }
        }
    }

    fn write_behaviour(&self, document: &mut DocumentMut) -> Result<(), FieldProblem> {
        let mine = &self.behaviour;
        let known = ["minterms", "maxterms", "expressions", "table", "code", "rate", "sequence", "states", "reference"];
        if !known.contains(&mine.kind.as_str()) {
            return Ok(());
        }
        // What says the same stays as it stands, with its remarks.
        if self.parts.states == PartsDraft::read(document).states
            && mine.kind == "states"
            && is_same_kind(document, "states")
        {
            let initial = document["behaviour"].get("initial").and_then(Item::as_str).unwrap_or("");
            if initial == self.parts.initial {
                return Ok(());
            }
        }
        let old = document.get("behaviour").and_then(Item::as_table);
        let (decor, position) = (old.map(|t| t.decor().clone()), old.and_then(Table::position));
        let files = old.and_then(|t| t.get("files")).cloned();
        let mut table = Table::new();
        if let Some(decor) = decor {
            *table.decor_mut() = decor;
        }
        table.set_position(position);
        table["kind"] = value(mine.kind.as_str());
        match mine.kind.as_str() {
            "minterms" | "maxterms" => {
                table["outputs"] = Item::Table(self.row_lists(&mine.terms, "terms")?);
                let dont_cares = self.row_lists(&mine.dont_cares, "dont_cares")?;
                if !dont_cares.is_empty() {
                    table["dont_care"] = Item::Table(dont_cares);
                }
            }
            "expressions" => {
                let mut outputs = Table::new();
                for entry in mine.expressions.iter().filter(|e| !e.text.trim().is_empty()) {
                    outputs[&entry.name] = value(entry.text.trim());
                }
                table["outputs"] = Item::Table(outputs);
            }
            "table" => table["rows"] = value(format!("\n{}\n", mine.rows.trim_matches('\n'))),
            kind if self.parts.write_behaviour(kind, files.as_ref(), &mut table) => {}
            _ => {
                table["rule"] = value(mine.code.rule.as_str());
                if mine.code.rule == "seven-segment" {
                    table["text"] = value(mine.code.text.as_str());
                    if !mine.code.digits.is_empty() {
                        table["digits"] = value(mine.code.digits.iter().collect::<Array>());
                    }
                }
                table["active"] = value(if mine.code.active_low { "low" } else { "high" });
            }
        }
        document["behaviour"] = Item::Table(table);
        Ok(())
    }

    fn row_lists(&self, entries: &[NamedText], field: &str) -> Result<Table, FieldProblem> {
        let mut table = Table::new();
        for entry in entries {
            if field == "dont_cares" && entry.text.trim().is_empty() {
                continue;
            }
            let rows = parse_numbers(&entry.text, self.input_bits()).map_err(|e| {
                problem(format!("{field}.{}", entry.name), format!("Column {}: {}", e.column, e.message))
            })?;
            table[&entry.name] = value(rows.iter().map(|r| i64::try_from(*r).unwrap_or(i64::MAX)).collect::<Array>());
        }
        Ok(table)
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

    fn edited(&self, edit: &DraftEdit, before: &Worked) -> Result<Self, FieldProblem> {
        let mut draft = self.clone();
        let readable = || {
            let told = before.problem.clone();
            before.exercise.as_ref().map(Exercise::table).ok_or_else(|| {
                told.unwrap_or_else(|| problem("", "The behaviour has to be readable first; correct it."))
            })
        };
        match edit {
            DraftEdit::Cell { output, row, value } => {
                let mut table = readable()?.clone();
                set_cell(&mut table, output, *row, value)?;
                draft.behaviour.take_lists(&table, "minterms");
            }
            DraftEdit::Convert { to } => {
                let table = readable()?;
                match to.as_str() {
                    "table" => {
                        draft.behaviour.rows = rows_text(table);
                        draft.behaviour.kind = "table".into();
                    }
                    kind @ ("minterms" | "maxterms") => draft.behaviour.take_lists(table, kind),
                    other => {
                        return Err(problem(
                            "",
                            format!("A behaviour can't be written as `{other}`; choose another kind."),
                        ));
                    }
                }
            }
            DraftEdit::Rename { port, name } => {
                let Some(old) = draft.ports.get(*port).map(|p| p.name.clone()) else { return Ok(draft) };
                draft.ports[*port].name.clone_from(name);
                if base::check_port_name(name).is_ok() {
                    draft.behaviour.rename(&old, name);
                    draft.parts.rename(&old, name, |text| rename_in_text(text, &old, name));
                }
            }
            DraftEdit::Paste { text } => {
                let pla = text.lines().any(|l| l.trim_start().starts_with(".i"));
                let table = if pla { parse_pla(text) } else { parse_sheet(text) };
                let table = table.map_err(|e| problem("paste", format!("In the pasted text, {e}.")))?;
                draft.take_table(&table);
            }
        }
        Ok(draft)
    }

    /// Rows and, where the ports don't fit them, signals of a table.
    fn take_table(&mut self, table: &TruthTable) {
        let outputs: usize = self.ports.iter().filter(|p| p.dir == "out").count();
        let scalars = self.ports.iter().all(|p| p.range.is_empty());
        let fits = scalars && self.input_bits() as usize == table.inputs.len() && outputs == table.outputs.len();
        if !fits {
            let port = |name: &str, dir: &str| PortDraft {
                name: name.chars().filter(|c| !matches!(c, '[' | ']')).collect(),
                dir: dir.into(),
                range: String::new(),
                was: String::new(),
            };
            let inputs = table.inputs.iter().map(|n| port(n, "in"));
            self.ports = inputs.chain(table.outputs.iter().map(|o| port(&o.name, "out"))).collect();
        }
        self.behaviour.kind = "table".into();
        self.behaviour.rows = rows_text(table);
    }
}

/// Is the saved behaviour of this kind?
fn is_same_kind(document: &DocumentMut, kind: &str) -> bool {
    document.get("behaviour").and_then(|b| b.get("kind")).and_then(Item::as_str) == Some(kind)
}

/// Does a byte lie in a table, a list of tables, or a value in one of them?
fn within_item(item: &Item, offset: usize) -> bool {
    let here = item.span().is_some_and(|s| s.contains(&offset) || s.start == offset);
    let inner = item.as_table_like().into_iter().flat_map(toml_edit::TableLike::iter);
    let lists = item.as_array_of_tables().into_iter().flatten();
    here || inner.into_iter().any(|(_, value)| within_item(value, offset))
        || lists.into_iter().any(|t| t.iter().any(|(_, value)| within_item(value, offset)))
}

impl BehaviourDraft {
    /// The lists that say a table.
    fn take_lists(&mut self, table: &TruthTable, kind: &str) {
        let list = |rows: &logic::RowSet| rows.iter().map(|r| r.to_string()).collect::<Vec<_>>().join(", ");
        let named = |text: &dyn Fn(&logic::OutputColumn) -> String| {
            table.outputs.iter().map(|o| NamedText { name: o.name.clone(), text: text(o) }).collect()
        };
        let maxterms = kind == "maxterms";
        self.terms = named(&|o| if maxterms { list(&o.zeros()) } else { list(&o.ones) });
        self.dont_cares = named(&|o| list(&o.dont_care));
        self.kind = kind.into();
    }

    fn rename(&mut self, old: &str, new: &str) {
        for entry in self.terms.iter_mut().chain(&mut self.dont_cares).chain(&mut self.expressions) {
            if let Some(name) = rename_bit(&entry.name, old, new) {
                entry.name = name;
            }
        }
        for entry in &mut self.expressions {
            entry.text = rename_in_text(&entry.text, old, new);
        }
    }
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

/// `old` or `old[3]` under its new name.
fn rename_bit(text: &str, old: &str, new: &str) -> Option<String> {
    let rest = text.strip_prefix(old)?;
    (rest.is_empty() || rest.starts_with('[')).then(|| format!("{new}{rest}"))
}

/// An expression with one name replaced wherever it stands as a word.
fn rename_in_text(text: &str, old: &str, new: &str) -> String {
    let mut out = String::new();
    let mut word = String::new();
    let flush = |word: &mut String, out: &mut String| {
        out.push_str(if word == old { new } else { word });
        word.clear();
    };
    for c in text.chars() {
        if c.is_ascii_alphanumeric() || c == '_' {
            word.push(c);
        } else {
            flush(&mut word, &mut out);
            out.push(c);
        }
    }
    flush(&mut word, &mut out);
    out
}

fn set_cell(table: &mut TruthTable, output: &str, row: u64, value: &str) -> Result<(), FieldProblem> {
    let rows = table.rows();
    let column = table.outputs.iter_mut().find(|o| o.name == output);
    let column = column
        .ok_or_else(|| problem("", format!("The exercise has no output `{output}` any more; load the page again.")))?;
    if row >= rows {
        return Err(problem("", format!("The exercise has no row {row} any more; load the page again.")));
    }
    column.ones.remove(row);
    column.dont_care.remove(row);
    match value {
        "0" => {}
        "1" => column.ones.insert(row),
        "-" => column.dont_care.insert(row),
        other => return Err(problem("", format!("`{other}` is not 0, 1 or -; type one of them."))),
    }
    Ok(())
}

/// A line a row, those that are don't-cares throughout left out.
fn rows_text(table: &TruthTable) -> String {
    let lines = (0..table.rows()).filter_map(|row| {
        let cells = table.output_text(row);
        let said = cells.contains(['0', '1']);
        said.then(|| format!("{} | {cells}", row_text(table.input_count(), row)))
    });
    lines.collect::<Vec<_>>().join("\n")
}

#[cfg(test)]
mod tests {
    use super::*;

    const FILE: &str = r#"# The line's own words stay.
format = "zesty-gate/exercise/1"
title = "Hopper interlock"

[[port]]
name = "full"
dir = "in"
[[port]]
name = "gate"
dir = "in"
[[port]]
name = "motor"
dir = "out"

[behaviour]
kind = "expressions"
[behaviour.outputs]
motor = "full' gate"

[wiring]
board = "pith-8" # with a remark
[wiring.map]
full = "S7"
"#;

    fn none(_: &str) -> Result<Vec<u8>, String> {
        Err("none".into())
    }

    fn worked(draft: &ExerciseDraft, edit: Option<&DraftEdit>) -> Worked {
        draft.work(FILE, edit, &none)
    }

    fn column(worked: &Worked) -> String {
        let table = worked.exercise.as_ref().unwrap().table();
        (0..table.rows()).map(|r| table.output_text(r)).collect()
    }

    #[test]
    fn a_draft_goes_back_into_its_file_and_leaves_the_rest_alone() {
        let mut draft = ExerciseDraft::read(FILE);
        assert_eq!(draft.ports.len(), 3);
        draft.behaviour.expressions[0].text = "full + gate".into();
        let found = worked(&draft, None);
        let text = found.text.clone().unwrap();
        assert!(text.contains("# The line's own words stay.") && text.contains("# with a remark"), "{text}");
        assert_eq!(column(&found), "0111");
        assert_eq!(ExerciseDraft::read(&text).behaviour, draft.behaviour);
    }

    #[test]
    fn a_cell_edit_turns_any_behaviour_into_lists() {
        let draft = ExerciseDraft::read(FILE);
        let edit = DraftEdit::Cell { output: "motor".into(), row: 3, value: "-".into() };
        let found = worked(&draft, Some(&edit));
        assert_eq!(column(&found), "010-");
        assert_eq!(found.draft.behaviour.kind, "minterms");
        assert_eq!(
            (found.draft.behaviour.terms[0].text.as_str(), found.draft.behaviour.dont_cares[0].text.as_str()),
            ("1", "3")
        );
        let back = worked(&found.draft, Some(&DraftEdit::Convert { to: "table".into() }));
        assert_eq!(back.draft.behaviour.rows, "00 | 0\n01 | 1\n10 | 0");
        assert_eq!(column(&back), "010-");
    }

    #[test]
    fn what_refers_to_a_port_follows_its_new_name() {
        let draft = ExerciseDraft::read(FILE);
        let found = worked(&draft, Some(&DraftEdit::Rename { port: 0, name: "brim".into() }));
        assert_eq!(found.problem, None);
        assert_eq!(found.draft.behaviour.expressions[0].text, "brim' gate");
        let text = found.text.unwrap();
        assert!(text.contains("brim = \"S7\"") && !text.contains("full"), "{text}");
    }

    #[test]
    fn a_pasted_table_brings_its_signals() {
        let draft = ExerciseDraft { title: "New".into(), ..ExerciseDraft::default() };
        let found = draft.work(
            "",
            Some(&DraftEdit::Paste { text: "x\ty\ts\tc\n0\t0\t0\t0\n0\t1\t1\t0\n1\t0\t1\t0\n1\t1\t0\t1".into() }),
            &none,
        );
        assert_eq!(found.problem, None);
        assert_eq!(found.draft.ports.iter().map(|p| p.name.as_str()).collect::<Vec<_>>(), ["x", "y", "s", "c"]);
        assert_eq!(column(&found), "00101001");
    }

    #[test]
    fn problems_name_their_field() {
        let field = |change: &dyn Fn(&mut ExerciseDraft)| {
            let mut draft = ExerciseDraft::read(FILE);
            change(&mut draft);
            let found = worked(&draft, None);
            assert_eq!(found.draft, draft, "what was typed stays");
            let told = found.problem.unwrap();
            (told.field, told.message)
        };
        assert_eq!(field(&|d| d.ports[1].name = "2x".into()).0, "port.1.name");
        assert_eq!(field(&|d| d.ports[0].range = "x".into()).0, "port.0.range");
        assert_eq!(field(&|d| d.title = " ".into()).0, "title");
        let (name, message) = field(&|d| d.behaviour.expressions[0].text = "full + (gate".into());
        assert_eq!(name, "expressions.motor");
        assert!(message.contains("column 8: This `(` is never closed."), "{message}");
        let (name, message) = field(&|d| {
            d.behaviour.kind = "minterms".into();
            d.behaviour.terms = vec![NamedText { name: "motor".into(), text: "1, 7".into() }];
        });
        assert_eq!(
            (name.as_str(), message.as_str()),
            ("terms.motor", "Column 4: there is no row 7: the inputs have rows 0 to 3 only.")
        );
        let (name, _) = field(&|d| {
            d.behaviour.kind = "table".into();
            d.behaviour.rows = "00 | 1\n0 | 1".into();
        });
        assert_eq!(name, "rows");
    }

    fn nothing(path: &str) -> Result<Vec<u8>, String> {
        Err(format!("`{path}` isn't there."))
    }

    #[test]
    fn a_file_that_is_read_and_written_unchanged_stays_as_it_is() {
        for name in
            ["belt-beacon", "lane-chaser", "washer-sequencer", "hopper-interlock", "weight-grader", "reject-gate"]
        {
            let path = format!("{}/../../demo/{name}/exercise.toml", env!("CARGO_MANIFEST_DIR"));
            let file = std::fs::read_to_string(path).unwrap();
            let draft = ExerciseDraft::read(&file);
            let worked = draft.work(&file, None, &nothing);
            assert!(worked.exercise.is_some(), "{name}: {:?}", worked.problem);
            let again = ExerciseDraft::read(worked.text.as_deref().unwrap());
            assert_eq!(again, draft, "{name}");
        }
    }

    fn port(name: &str, dir: &str, range: &str) -> PortDraft {
        PortDraft { name: name.into(), dir: dir.into(), range: range.into(), was: String::new() }
    }

    /// A clocked exercise of a kind, as a page would send it: nobody wrote a file.
    fn clocked(kind: &str, ports: &[PortDraft]) -> ExerciseDraft {
        let mut draft = ExerciseDraft { title: "Typed".into(), ports: ports.to_vec(), ..ExerciseDraft::default() };
        draft.behaviour.kind = kind.into();
        draft.parts.clock.port = "clk".into();
        draft
    }

    fn right(draft: &ExerciseDraft) -> Exercise {
        let worked = draft.work("", None, &nothing);
        worked.exercise.unwrap_or_else(|| panic!("{:?}", worked.problem))
    }

    #[test]
    fn exercises_of_every_kind_over_time_are_made_without_a_file() {
        let mut rate = clocked("rate", &[port("clk", "in", ""), port("lamp", "out", "")]);
        rate.parts.clock.frequency_hz = "12_000_000".into();
        rate.parts.rate.output = "lamp".into();
        rate.parts.rate.frequency_hz = "4".into();
        let made = right(&rate);
        assert!(made.numbers.contains(&1_500_000), "{:?}", made.numbers);

        let mut chaser =
            clocked("sequence", &[port("clk", "in", ""), port("rst", "in", ""), port("lamps", "out", "3:0")]);
        chaser.parts.clock.reset = "rst".into();
        chaser.parts.sequence = crate::form_parts::SequenceDraft {
            output: "lamps".into(),
            patterns: "0001\n0010\n0100\n1000".into(),
            step_cycles: "3".into(),
            repeats: true,
        };
        assert!(right(&chaser).clocked().is_some());

        let mut washer = clocked("states", &[port("clk", "in", ""), port("start", "in", ""), port("valve", "out", "")]);
        let state = |name: &str, outputs: &str, when: &str, to: &str| crate::form_parts::StateDraft {
            name: name.into(),
            outputs: outputs.into(),
            ways: vec![crate::form_parts::WayDraft { when: when.into(), to: to.into(), outputs: String::new() }],
        };
        washer.parts.states =
            vec![state("idle", "valve=0", "start", "fill"), state("fill", "valve=1", "~start", "idle")];
        let made = right(&washer);
        assert_eq!(made.clocked().map(|c| c.info.rows.is_empty()), Some(false));
        washer.parts.states[1].ways[0].to = "idel".into();
        let told = washer.work("", None, &nothing).problem.unwrap();
        assert_eq!((told.field.as_str(), told.message.as_str()), ("states", "Unknown state `idel`; write `idle`."));
        washer.parts.states[1].ways[0].to = "idle".into();
        washer.parts.clock.port = "clkk".into();
        assert_eq!(washer.work("", None, &nothing).problem.unwrap().field, "clock");
    }

    #[test]
    fn rules_marks_wiring_and_answers_are_typed_and_told_where_they_stand() {
        let mut draft = ExerciseDraft::read(FILE);
        draft.parts.rules.forbid = vec!["gate:xor".into()];
        draft.parts.rules.max_gates = "4".into();
        draft.parts.rules.forms = vec![NamedText { name: "motor".into(), text: "sop".into() }];
        draft.parts.marks = vec![NamedText { name: "behaviour".into(), text: "6".into() }];
        draft.parts.answers =
            vec![crate::form_parts::AnswerDraft { output: "motor".into(), ask: "sop".into(), ..Default::default() }];
        draft.parts.wiring.map = vec![NamedText { name: "full".into(), text: "S6".into() }];
        let worked = draft.work(FILE, None, &nothing);
        let (text, exercise) = (worked.text.unwrap(), worked.exercise.unwrap());
        assert_eq!(exercise.rule_sentences().len(), 4, "{:?}", exercise.rule_sentences());
        assert_eq!((exercise.answers.len(), exercise.wiring.unwrap().map["full"].as_str()), (1, "S6"));
        assert!(text.contains("# The line's own words stay."), "{text}");
        let fault = |change: &dyn Fn(&mut PartsDraft)| {
            let mut draft = draft.clone();
            change(&mut draft.parts);
            draft.work(FILE, None, &nothing).problem.map(|p| p.field).unwrap_or_default()
        };
        assert_eq!(fault(&|p| p.rules.max_gates = "many".into()), "rules");
        assert_eq!(fault(&|p| p.wiring.map[0].text = "S99".into()), "wiring");
        assert_eq!(fault(&|p| p.marks[0].text = "-1".into()), "marks");
        assert_eq!(fault(&|p| p.answers[0].output = "mot".into()), "answers");
        // Emptied, they go out of the file.
        draft.parts = PartsDraft::default();
        let bare = draft.work(&text, None, &nothing).text.unwrap();
        assert!(!["[rules]", "[marks]", "[wiring]", "[[answer]]"].iter().any(|t| bare.contains(t)), "{bare}");
    }

    #[test]
    fn a_reference_is_attached_and_kept_with_the_exercise() {
        let file = |name: &str, purpose: &str, text: &str| crate::form_parts::AttachmentDraft {
            name: name.into(),
            purpose: purpose.into(),
            text: text.into(),
        };
        let mut draft = ExerciseDraft { title: "Typed".into(), ..ExerciseDraft::default() };
        draft.ports = vec![port("a", "in", "1:0"), port("y", "out", "")];
        draft.behaviour.kind = "reference".into();
        let told = draft.work("", None, &nothing).problem.unwrap();
        assert_eq!(told.field, "reference", "{}", told.message);
        draft.parts.attachments = vec![
            file("ref.v", "reference", "module r(input [1:0] a, output y);\nassign y = ^a;\nendmodule\n"),
            file("start.v", "starter", "module parity(input [1:0] a, output y);\nendmodule\n"),
        ];
        let made = draft.work("", None, &nothing);
        let (text, exercise) = (made.text.unwrap(), made.exercise.unwrap());
        assert_eq!(exercise.table().outputs[0].ones.iter().collect::<Vec<_>>(), [1, 2]);
        assert_eq!(ExerciseDraft::read(&text).parts.attachments, draft.parts.attachments, "{text}");
        assert_eq!(exercise.attachments[1].purpose, crate::Use::Starter);
        // A name that leads elsewhere, a file twice, and a reference that is none are told at their field.
        let fault = |change: &dyn Fn(&mut PartsDraft)| {
            let mut draft = draft.clone();
            change(&mut draft.parts);
            draft.work(&text, None, &nothing).problem.map(|p| (p.field, p.message)).unwrap_or_default()
        };
        assert_eq!(fault(&|p| p.attachments[1].name = "../start.v".into()).0, "attachments");
        assert_eq!(fault(&|p| p.attachments[1].name = "REF.v".into()).0, "attachments");
        assert_eq!(fault(&|p| p.attachments[1].purpose = "key".into()).0, "attachments");
        assert_eq!(fault(&|p| p.attachments[0].text = "module r(input a); endmodule".into()).0, "reference");
        // Files beside the exercise file are still named there.
        let beside = "format = \"zesty-gate/exercise/1\"\ntitle = \"T\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n[[port]]\nname = \"y\"\n\
            dir = \"out\"\n[behaviour]\nkind = \"reference\"\nfiles = [\"r.v\"]\n";
        let found = |_: &str| Ok(b"module r(input a, output y); assign y = ~a; endmodule".to_vec());
        let again = ExerciseDraft::read(beside).work(beside, None, &found);
        assert!(again.text.unwrap().contains("files = [\"r.v\"]") && again.exercise.is_some());
    }
}
