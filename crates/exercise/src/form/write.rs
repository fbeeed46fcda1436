//! A form into its file: what it says, with everything else in the file untouched.

use super::parts::{NamedText, PartsForm};
use super::{ExerciseForm, FieldProblem, problem};
use logic::parse_numbers;
use toml_edit::{Array, ArrayOfTables, DocumentMut, Item, Table, value};

const SKELETON: &str = "format = \"zesty-gate/exercise/1\"\ntitle = \"\"\n";

impl ExerciseForm {
    /// The file with this draft in it.
    pub(super) fn write(&self, file: &str) -> Result<String, FieldProblem> {
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
        if self.parts.states == PartsForm::read(document).states
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
}

/// Is the saved behaviour of this kind?
fn is_same_kind(document: &DocumentMut, kind: &str) -> bool {
    document.get("behaviour").and_then(|b| b.get("kind")).and_then(Item::as_str) == Some(kind)
}

/// `old` or `old[3]` under its new name.
pub(super) fn rename_bit(text: &str, old: &str, new: &str) -> Option<String> {
    let rest = text.strip_prefix(old)?;
    (rest.is_empty() || rest.starts_with('[')).then(|| format!("{new}{rest}"))
}
