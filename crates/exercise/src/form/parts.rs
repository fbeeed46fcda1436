//! The parts of an exercise file that a page edits beside signals and tables: clock and reset, what is expected over time, rules,
//! marks, wiring plan and prepared answers; as they are typed, right or not yet.

use serde::{Deserialize, Serialize};
use toml_edit::{Array, ArrayOfTables, DocumentMut, InlineTable, Item, Table, TableLike, Value, value};

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
    /// A text with the output it belongs to.
    struct NamedText {
        /// Output, or bit of one.
        name: String,
        /// As typed.
        text: String,
    }

    /// Clock and reset as typed.
    struct ClockForm {
        /// The input that is the clock; empty for none.
        port: String,
        /// `rising` or `falling`.
        edge: String,
        /// Its frequency on the board; may be empty.
        frequency_hz: String,
        /// The input that is the reset; empty for none.
        reset: String,
        /// `high` or `low`.
        reset_active: String,
        /// `sync` or `async`.
        reset_kind: String,
    }

    /// A parameter as typed.
    struct ParameterForm {
        /// Its name; empty for none.
        name: String,
        /// Its usual value.
        usual: String,
        /// Other values, with commas or blanks between them.
        also: String,
    }

    /// A rate as typed.
    struct RateForm {
        /// The output bit.
        output: String,
        /// How often it repeats in a second; may be empty.
        frequency_hz: String,
        /// Clock cycles of a period; may be empty.
        period_cycles: String,
        /// The share of a period that it is high; empty for a half.
        duty: String,
        /// Cycles that a period may be longer or shorter; empty for none.
        tolerance_cycles: String,
    }

    /// A sequence as typed.
    struct SequenceForm {
        /// The output port.
        output: String,
        /// Its patterns, a line each.
        patterns: String,
        /// Clock cycles of a step; empty for one.
        step_cycles: String,
        /// It begins anew behind the last one.
        repeats: bool,
    }

    /// A way from a state as typed.
    struct WayForm {
        /// The condition; empty for always.
        when: String,
        /// The next state.
        to: String,
        /// Outputs that count instead of the state's, such as `valve=1`; empty for none.
        outputs: String,
    }

    /// A state as typed.
    struct StateForm {
        /// Its name.
        name: String,
        /// Its outputs, such as `valve=0 lamps=0-1`.
        outputs: String,
        /// Ways from it, the first that holds is taken.
        ways: Vec<WayForm>,
    }

    /// Rules as typed.
    struct RulesForm {
        /// Languages that may be handed in; none for all.
        languages: Vec<String>,
        /// What may not be used.
        forbid: Vec<String>,
        /// What has to be used.
        require: Vec<String>,
        /// Most gates; empty for any number.
        max_gates: String,
        /// Most literals.
        max_literals: String,
        /// Most levels.
        max_levels: String,
        /// Forms of outputs.
        forms: Vec<NamedText>,
    }

    /// A wiring plan as typed.
    struct WiringForm {
        /// The board; empty for none.
        board: String,
        /// Labels of parts, by port bit.
        map: Vec<NamedText>,
    }

    /// A prepared answer as typed.
    struct AnswerForm {
        /// The output bit.
        output: String,
        /// What is asked for.
        ask: String,
        /// A longer one costs marks.
        minimal: bool,
        /// Its marks; empty for one.
        marks: String,
    }

    /// A file of the exercise as attached or typed.
    struct AttachmentForm {
        /// Its name.
        name: String,
        /// `reference`, `starter`, `data` or `picture`.
        purpose: String,
        /// What is in it; empty where the file lies beside the exercise file.
        text: String,
    }

    /// What a page edits beside signals and tables.
    struct PartsForm {
        /// Clock and reset.
        clock: ClockForm,
        /// The parameter that widths depend on.
        parameter: ParameterForm,
        /// A rate.
        rate: RateForm,
        /// A sequence.
        sequence: SequenceForm,
        /// The first state; empty for the first one of the list.
        initial: String,
        /// States.
        states: Vec<StateForm>,
        /// Rules.
        rules: RulesForm,
        /// Marks by stage.
        marks: Vec<NamedText>,
        /// The wiring plan.
        wiring: WiringForm,
        /// Prepared answers.
        answers: Vec<AnswerForm>,
        /// The reference's top; empty for the only one.
        reference_top: String,
        /// Files of the exercise.
        attachments: Vec<AttachmentForm>,
    }
}

fn text(item: Option<&Item>) -> String {
    match item.and_then(Item::as_value) {
        Some(Value::String(s)) => s.value().clone(),
        Some(other) => other.to_string().trim().to_owned(),
        None => String::new(),
    }
}

fn list(item: Option<&Item>) -> Vec<String> {
    item.and_then(Item::as_array).into_iter().flatten().filter_map(|v| v.as_str().map(str::to_owned)).collect()
}

/// Numbers of a list, with commas.
fn values(item: Option<&Item>) -> String {
    let list = item.and_then(Item::as_array).into_iter().flatten();
    list.map(|v| v.to_string().trim().to_owned()).collect::<Vec<_>>().join(", ")
}

fn table<'d>(document: &'d DocumentMut, key: &str) -> Option<&'d dyn TableLike> {
    document.get(key).and_then(Item::as_table_like)
}

/// `valve=0 lamps=0-1` of a table of outputs.
fn outputs_text(item: Option<&Item>) -> String {
    let list = item.and_then(Item::as_table_like).into_iter().flat_map(TableLike::iter);
    list.map(|(name, level)| format!("{name}={}", text(Some(level)))).collect::<Vec<_>>().join(" ")
}

/// A number as a number, and anything else as the text that it is, for the reader of the file to tell what is wrong.
fn number(typed: &str) -> Item {
    let plain = typed.trim().replace('_', "");
    match (plain.parse::<i64>(), plain.parse::<f64>()) {
        (Ok(whole), _) => value(whole),
        (_, Ok(real)) if real.is_finite() => value(real),
        _ => value(typed.trim()),
    }
}

fn outputs_of(typed: &str) -> InlineTable {
    let mut table = InlineTable::new();
    for part in typed.split([' ', ',', ';']).filter(|p| !p.is_empty()) {
        let (name, level) = part.split_once('=').unwrap_or((part, ""));
        match level.parse::<i64>() {
            // Levels of several bits keep their zeros as text.
            Ok(bit @ (0 | 1)) if level.len() == 1 => table.insert(name, bit.into()),
            _ => table.insert(name, level.into()),
        };
    }
    table
}

impl PartsForm {
    /// Reads a file that may be faulty; what is not there is empty.
    pub(crate) fn read(document: &DocumentMut) -> Self {
        let (clock, reset) = (table(document, "clock"), table(document, "reset"));
        let of = |table: Option<&dyn TableLike>, key: &str| text(table.and_then(|t| t.get(key)));
        let behaviour = table(document, "behaviour");
        let named = |table: Option<&dyn TableLike>| -> Vec<NamedText> {
            let entries = table.into_iter().flat_map(TableLike::iter);
            entries.map(|(name, item)| NamedText { name: name.to_owned(), text: text(Some(item)) }).collect()
        };
        let patterns = list(behaviour.and_then(|b| b.get("patterns"))).join("\n");
        let tables = |item: Option<&Item>| item.and_then(Item::as_array_of_tables).cloned().unwrap_or_default();
        Self {
            clock: ClockForm {
                port: of(clock, "port"),
                edge: of(clock, "edge"),
                frequency_hz: of(clock, "frequency_hz"),
                reset: of(reset, "port"),
                reset_active: of(reset, "active"),
                reset_kind: of(reset, "kind"),
            },
            parameter: ParameterForm {
                name: of(table(document, "parameter"), "name"),
                usual: of(table(document, "parameter"), "usual"),
                also: values(table(document, "parameter").and_then(|p| p.get("also"))),
            },
            rate: RateForm {
                output: of(behaviour, "output"),
                frequency_hz: of(behaviour, "frequency_hz"),
                period_cycles: of(behaviour, "period_cycles"),
                duty: of(behaviour, "duty"),
                tolerance_cycles: of(behaviour, "tolerance_cycles"),
            },
            sequence: SequenceForm {
                output: of(behaviour, "output"),
                patterns,
                step_cycles: of(behaviour, "step_cycles"),
                repeats: of(behaviour, "repeat") != "false",
            },
            initial: of(behaviour, "initial"),
            states: tables(behaviour.and_then(|b| b.get("state"))).iter().map(state).collect(),
            rules: rules(table(document, "rules")),
            marks: named(table(document, "marks")),
            wiring: WiringForm {
                board: of(table(document, "wiring"), "board"),
                map: named(table(document, "wiring").and_then(|w| w.get("map")).and_then(Item::as_table_like)),
            },
            answers: tables(document.get("answer")).iter().map(answer).collect(),
            reference_top: of(behaviour, "top"),
            attachments: tables(document.get("attachment")).iter().map(attachment).collect(),
        }
    }

    /// Writes clock, rules, marks, wiring and answers; what is empty is left out, and what says the same stays as it stands.
    pub(crate) fn write(&self, document: &mut DocumentMut) {
        let before = Self::read(document);
        if before.clock != self.clock {
            self.clock.write(document);
        }
        if before.parameter != self.parameter {
            keep(document, "parameter", self.parameter.table().map(Item::Table));
        }
        if before.rules != self.rules {
            keep(document, "rules", self.rules.table().map(Item::Table));
        }
        if before.marks != self.marks {
            let mut table = Table::new();
            for entry in self.marks.iter().filter(|m| !m.text.trim().is_empty()) {
                table[&entry.name] = number(&entry.text);
            }
            keep(document, "marks", Some(table).filter(|t| !t.is_empty()).map(Item::Table));
        }
        if before.wiring != self.wiring {
            keep(document, "wiring", self.wiring.table().map(Item::Table));
        }
        if before.answers != self.answers {
            let mut list = ArrayOfTables::new();
            self.answers.iter().for_each(|a| list.push(a.table()));
            keep(document, "answer", Some(list).filter(|l| !l.is_empty()).map(Item::ArrayOfTables));
        }
        if before.attachments != self.attachments {
            let mut list = ArrayOfTables::new();
            self.attachments.iter().for_each(|a| list.push(a.table()));
            keep(document, "attachment", Some(list).filter(|l| !l.is_empty()).map(Item::ArrayOfTables));
        }
    }

    /// The reference's top and its files: those that are attached as such; where there are none, the ones that were named before
    /// and lie beside the exercise file.
    fn write_reference(&self, before: Option<&Item>, table: &mut Table) {
        let own: Array = self.attachments.iter().filter(|a| a.purpose == "reference").map(|a| a.name.trim()).collect();
        table["files"] = match before {
            Some(files) if own.is_empty() => files.clone(),
            _ => value(own),
        };
        if !self.reference_top.trim().is_empty() {
            table["top"] = value(self.reference_top.trim());
        }
    }

    /// What is expected over time, into the table of the behaviour; false for a kind of another file.
    pub(crate) fn write_behaviour(&self, kind: &str, before: Option<&Item>, table: &mut Table) -> bool {
        let mut put = |key: &str, typed: &str| {
            if !typed.trim().is_empty() {
                table[key] = number(typed);
            }
        };
        match kind {
            "rate" => {
                put("frequency_hz", &self.rate.frequency_hz);
                put("period_cycles", &self.rate.period_cycles);
                put("duty", &self.rate.duty);
                put("tolerance_cycles", &self.rate.tolerance_cycles);
                table["output"] = value(self.rate.output.trim());
            }
            "sequence" => {
                put("step_cycles", &self.sequence.step_cycles);
                table["output"] = value(self.sequence.output.trim());
                let patterns = self.sequence.patterns.split_whitespace();
                table["patterns"] = value(patterns.collect::<Array>());
                if !self.sequence.repeats {
                    table["repeat"] = value(false);
                }
            }
            "states" => {
                if !self.initial.trim().is_empty() {
                    table["initial"] = value(self.initial.trim());
                }
                let mut states = ArrayOfTables::new();
                self.states.iter().for_each(|s| states.push(s.table()));
                table["state"] = Item::ArrayOfTables(states);
            }
            "reference" => self.write_reference(before, table),
            _ => return false,
        }
        true
    }

    /// What refers to a renamed input or output.
    pub(crate) fn rename(&mut self, old: &str, new: &str, within: impl Fn(&str) -> String) {
        for name in [&mut self.clock.port, &mut self.clock.reset, &mut self.rate.output, &mut self.sequence.output] {
            if name == old {
                new.clone_into(name);
            }
        }
        for state in &mut self.states {
            state.outputs = within(&state.outputs);
            for way in &mut state.ways {
                (way.when, way.outputs) = (within(&way.when), within(&way.outputs));
            }
        }
    }
}

/// The part of the file that a place belongs to, as a field of the draft.
pub(crate) fn field_of(key: &str) -> Option<&'static str> {
    let known = ["clock", "reset", "parameter", "rules", "marks", "wiring", "answer", "attachment"];
    let field = known.into_iter().find(|k| *k == key)?;
    Some(match field {
        "reset" => "clock",
        "answer" => "answers",
        "attachment" => "attachments",
        other => other,
    })
}

fn keep(document: &mut DocumentMut, key: &str, item: Option<Item>) {
    let Some(mut item) = item else {
        document.remove(key);
        return;
    };
    // Where it stood, with the remarks before it.
    if let (Some(old), Some(new)) = (document.get(key).and_then(Item::as_table), item.as_table_mut()) {
        *new.decor_mut() = old.decor().clone();
        new.set_position(old.position());
    }
    document[key] = item;
}

fn state(table: &Table) -> StateForm {
    let ways = match table.get("next") {
        Some(Item::ArrayOfTables(list)) => list.iter().map(|t| way(t)).collect(),
        Some(item) => {
            let list = item.as_array().into_iter().flatten();
            list.filter_map(Value::as_inline_table).map(|t| way(t)).collect()
        }
        None => Vec::new(),
    };
    StateForm { name: text(table.get("name")), outputs: outputs_text(table.get("outputs")), ways }
}

fn way(table: &dyn TableLike) -> WayForm {
    WayForm { when: text(table.get("when")), to: text(table.get("to")), outputs: outputs_text(table.get("outputs")) }
}

fn attachment(table: &Table) -> AttachmentForm {
    AttachmentForm { name: text(table.get("name")), purpose: text(table.get("use")), text: text(table.get("text")) }
}

fn answer(table: &Table) -> AnswerForm {
    AnswerForm {
        output: text(table.get("output")),
        ask: text(table.get("ask")),
        minimal: text(table.get("minimal")) == "true",
        marks: text(table.get("marks")),
    }
}

fn rules(table: Option<&dyn TableLike>) -> RulesForm {
    let of = |key: &str| table.and_then(|t| t.get(key));
    let forms = of("form").and_then(Item::as_array_of_tables).cloned().unwrap_or_default();
    let inline = of("form").and_then(Item::as_array).into_iter().flatten().filter_map(Value::as_inline_table);
    let form = |t: &dyn TableLike| NamedText { name: text(t.get("output")), text: text(t.get("form")) };
    RulesForm {
        languages: list(of("languages")),
        forbid: list(of("forbid")),
        require: list(of("require")),
        max_gates: text(of("max_gates")),
        max_literals: text(of("max_literals")),
        max_levels: text(of("max_levels")),
        forms: forms.iter().map(|t| form(t)).chain(inline.map(|t| form(t))).collect(),
    }
}

impl ClockForm {
    fn write(&self, document: &mut DocumentMut) {
        let mut clock = Table::new();
        clock["port"] = value(self.port.trim());
        clock["edge"] = value(if self.edge.is_empty() { "rising" } else { &self.edge });
        if !self.frequency_hz.trim().is_empty() {
            clock["frequency_hz"] = number(&self.frequency_hz);
        }
        let is_clocked = !self.port.trim().is_empty();
        keep(document, "clock", is_clocked.then_some(Item::Table(clock)));
        let mut reset = Table::new();
        reset["port"] = value(self.reset.trim());
        reset["active"] = value(if self.reset_active.is_empty() { "high" } else { &self.reset_active });
        reset["kind"] = value(if self.reset_kind.is_empty() { "sync" } else { &self.reset_kind });
        keep(document, "reset", (is_clocked && !self.reset.trim().is_empty()).then_some(Item::Table(reset)));
    }
}

impl ParameterForm {
    fn table(&self) -> Option<Table> {
        let mut table = Table::new();
        table["name"] = value(self.name.trim());
        table["usual"] = number(&self.usual);
        let also = self.also.split([' ', ',', ';']).filter(|v| !v.is_empty());
        let also: Array = also.filter_map(|v| number(v).into_value().ok()).collect();
        if !also.is_empty() {
            table["also"] = value(also);
        }
        (!self.name.trim().is_empty()).then_some(table)
    }
}

impl RulesForm {
    fn table(&self) -> Option<Table> {
        let mut table = Table::new();
        for (key, list) in [("languages", &self.languages), ("forbid", &self.forbid), ("require", &self.require)] {
            if !list.is_empty() {
                table[key] = value(list.iter().collect::<Array>());
            }
        }
        let limits =
            [("max_gates", &self.max_gates), ("max_literals", &self.max_literals), ("max_levels", &self.max_levels)];
        for (key, typed) in limits.into_iter().filter(|(_, typed)| !typed.trim().is_empty()) {
            table[key] = number(typed);
        }
        let mut forms = ArrayOfTables::new();
        for form in self.forms.iter().filter(|f| !f.text.is_empty()) {
            let mut entry = Table::new();
            entry["output"] = value(form.name.as_str());
            entry["form"] = value(form.text.as_str());
            forms.push(entry);
        }
        if !forms.is_empty() {
            table["form"] = Item::ArrayOfTables(forms);
        }
        (!table.is_empty()).then_some(table)
    }
}

impl WiringForm {
    fn table(&self) -> Option<Table> {
        let mut table = Table::new();
        table["board"] = value(self.board.trim());
        let mut map = Table::new();
        for entry in self.map.iter().filter(|e| !e.text.trim().is_empty()) {
            map[&entry.name] = value(entry.text.trim());
        }
        if !map.is_empty() {
            table["map"] = Item::Table(map);
        }
        (!self.board.trim().is_empty()).then_some(table)
    }
}

impl AttachmentForm {
    fn table(&self) -> Table {
        let mut table = Table::new();
        table["name"] = value(self.name.trim());
        table["use"] = value(self.purpose.as_str());
        if !self.text.is_empty() {
            table["text"] = value(self.text.as_str());
        }
        table
    }
}

impl AnswerForm {
    fn table(&self) -> Table {
        let mut table = Table::new();
        table["output"] = value(self.output.as_str());
        table["ask"] = value(self.ask.as_str());
        if self.minimal {
            table["minimal"] = value(true);
        }
        if !self.marks.trim().is_empty() {
            table["marks"] = number(&self.marks);
        }
        table
    }
}

impl StateForm {
    fn table(&self) -> Table {
        let mut table = Table::new();
        table["name"] = value(self.name.trim());
        table["outputs"] = value(outputs_of(&self.outputs));
        let mut ways = Array::new();
        for way in &self.ways {
            let mut entry = InlineTable::new();
            if !way.when.trim().is_empty() {
                entry.insert("when", way.when.trim().into());
            }
            entry.insert("to", way.to.trim().into());
            if !way.outputs.trim().is_empty() {
                entry.insert("outputs", outputs_of(&way.outputs).into());
            }
            ways.push(entry);
        }
        if !ways.is_empty() {
            table["next"] = value(ways);
        }
        table
    }
}
