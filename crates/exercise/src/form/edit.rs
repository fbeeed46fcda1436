//! Changes that the core carries out: a cell, another kind, a new name, a pasted table.

use super::parts::NamedText;
use super::write::rename_bit;
use super::{BehaviourForm, ExerciseForm, FieldProblem, FormEdit, PortForm, Worked, problem};
use crate::exercise::Exercise;
use logic::{TruthTable, parse_pla, parse_sheet, row_text};

impl ExerciseForm {
    pub(super) fn edited(&self, edit: &FormEdit, before: &Worked) -> Result<Self, FieldProblem> {
        let mut draft = self.clone();
        let readable = || {
            let told = before.problem.clone();
            before.exercise.as_ref().map(Exercise::table).ok_or_else(|| {
                told.unwrap_or_else(|| problem("", "The behaviour has to be readable first; correct it."))
            })
        };
        match edit {
            FormEdit::Cell { output, row, value } => {
                let mut table = readable()?.clone();
                set_cell(&mut table, output, *row, value)?;
                match draft.behaviour.kind.as_str() {
                    "table" => draft.behaviour.take_row(&table, *row),
                    "maxterms" => draft.behaviour.take_lists(&table, "maxterms"),
                    "minterms" | "expressions" | "code" => draft.behaviour.take_lists(&table, "minterms"),
                    _ => {
                        let told = "Expected is what a design does, which no single row changes; choose Minterms or Table to write rows.";
                        return Err(problem("", told));
                    }
                }
            }
            FormEdit::Convert { to } => {
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
            FormEdit::Rename { port, name } => {
                let Some(old) = draft.ports.get(*port).map(|p| p.name.clone()) else { return Ok(draft) };
                draft.ports[*port].name.clone_from(name);
                if base::check_port_name(name).is_ok() {
                    draft.behaviour.rename(&old, name);
                    draft.parts.rename(&old, name, |text| rename_in_text(text, &old, name));
                }
            }
            FormEdit::Paste { text } => {
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
            let port = |name: &str, dir: &str| PortForm {
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

impl BehaviourForm {
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

    /// A row of a table that was changed: its line alone, with what else is written there left as it is, where it has a line of
    /// its own or none.
    fn take_row(&mut self, table: &TruthTable, row: u64) {
        let inputs = row_text(table.input_count(), row);
        let line = format!("{inputs} | {}", table.output_text(row));
        let said = |line: &str| line.split(['|', '#']).next().unwrap_or("").split_whitespace().collect::<String>();
        let mut lines: Vec<String> = self.rows.lines().map(str::to_owned).collect();
        if lines.iter().any(|l| said(l).contains('-')) {
            self.rows = rows_text(table);
            return;
        }
        match lines.iter_mut().find(|l| said(l) == inputs) {
            Some(old) => {
                let remark = old.find('#').map(|at| format!(" {}", &old[at..])).unwrap_or_default();
                *old = line + &remark;
            }
            None => lines.push(line),
        }
        self.rows = lines.join("\n");
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
