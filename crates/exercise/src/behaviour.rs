//! From the `[behaviour]` of an exercise to the table that hand-ins are held against.

use crate::fault::{Beside, Fault};
use crate::raw::RawBehaviour;
use base::{Budget, SourceFile};
use elab::{ExercisePort, Fitting, Goal, NetlistKind, Parameter, Parsed, Sources, ample};
use logic::{
    CODE_NAMES, CodeRule, DigitShapes, ExprError, OutputColumn, RowSet, Shape, TableError, TruthTable, input_word,
    parse_expr, parse_rows,
};
use std::collections::BTreeMap;
use toml::Spanned;

/// The expected table: input bits and output bits in port order, each port from its most significant bit.
pub(crate) fn expected_table(
    raw: &RawBehaviour,
    ports: &[ExercisePort],
    beside: &Beside<'_>,
    budget: &Budget,
) -> Result<TruthTable, Fault> {
    let bits = |inputs: bool| -> Vec<String> {
        ports.iter().filter(|p| p.is_input == inputs).flat_map(|p| p.bit_names().collect::<Vec<_>>()).collect()
    };
    let (inputs, outputs) = (bits(true), bits(false));
    let kind = raw.kind.get_ref().as_str();
    keys_fit(raw, kind)?;
    match kind {
        "minterms" | "maxterms" => from_terms(raw, inputs, &outputs, kind == "maxterms"),
        "expressions" => from_expressions(raw, ports, inputs, &outputs),
        "table" => {
            let Some(rows) = &raw.rows else { return Err(missing(raw, "rows")) };
            parse_rows(rows.get_ref(), &inputs, &outputs).map_err(|e| (rows.span(), sentence(&e)))
        }
        "code" => from_code(raw, &inputs, &outputs),
        "reference" => from_reference(raw, ports, beside, budget),
        "states" | "rate" | "sequence" => {
            let message = format!("The behaviour `{kind}` needs a clock; add [clock] with its `port`.");
            Err((raw.kind.span(), message))
        }
        other => {
            let known =
                ["minterms", "maxterms", "expressions", "table", "code", "reference", "states", "rate", "sequence"];
            let message = format!("Unknown kind of behaviour `{other}`; use one of {}.", known.join(", "));
            Err((raw.kind.span(), message))
        }
    }
}

pub(crate) fn sentence(error: &TableError) -> String {
    let text = error.to_string();
    let mut chars = text.chars();
    let first = chars.next().map(|c| if text.starts_with('`') { c } else { c.to_ascii_uppercase() });
    first.into_iter().chain(chars).chain(".".chars()).collect()
}

pub(crate) fn missing(raw: &RawBehaviour, key: &str) -> Fault {
    let message = format!("A behaviour of kind `{}` needs `{key}`; add it.", raw.kind.get_ref());
    (raw.kind.span(), message)
}

pub(crate) fn keys_fit(raw: &RawBehaviour, kind: &str) -> Result<(), Fault> {
    let given = [
        ("outputs", raw.outputs.keys().next().map(Spanned::span), &["minterms", "maxterms", "expressions"][..]),
        ("dont_care", raw.dont_care.keys().next().map(Spanned::span), &["minterms", "maxterms"]),
        ("rows", raw.rows.as_ref().map(Spanned::span), &["table"]),
        ("files", raw.files.as_ref().map(Spanned::span), &["reference"]),
        ("rule", raw.rule.as_ref().map(Spanned::span), &["code"]),
        ("text", raw.text.as_ref().map(Spanned::span), &["code"]),
        ("digits", raw.digits.as_ref().map(Spanned::span), &["code"]),
        ("output", raw.output.as_ref().map(Spanned::span), &["rate", "sequence"]),
        ("patterns", raw.patterns.as_ref().map(Spanned::span), &["sequence"]),
        ("step_cycles", raw.step_cycles.as_ref().map(Spanned::span), &["sequence"]),
        ("period_cycles", raw.period_cycles.as_ref().map(Spanned::span), &["rate"]),
        ("frequency_hz", raw.frequency_hz.as_ref().map(Spanned::span), &["rate"]),
        ("duty", raw.duty.as_ref().map(Spanned::span), &["rate"]),
        ("tolerance_cycles", raw.tolerance_cycles.as_ref().map(Spanned::span), &["rate"]),
        ("initial", raw.initial.as_ref().map(Spanned::span), &["states"]),
    ];
    for (key, span, kinds) in given {
        if let Some(span) = span
            && !kinds.contains(&kind)
        {
            return Err((span, format!("`{key}` has no meaning for a behaviour of kind `{kind}`; remove it.")));
        }
    }
    Ok(())
}

/// A code by name: `rule`, for seven segments `text` and `digits`, and `active` for outputs that light at 0.
fn from_code(raw: &RawBehaviour, inputs: &[String], outputs: &[String]) -> Result<TruthTable, Fault> {
    let Some(name) = &raw.rule else { return Err(missing(raw, "rule")) };
    let mut shapes = DigitShapes::default();
    for (shape, span) in raw.digits.iter().flat_map(|d| d.get_ref().iter().map(move |s| (s, d.span()))) {
        match shape.as_str() {
            "6-open" => shapes.six_with_top = false,
            "7-hook" => shapes.seven_with_hook = true,
            "9-open" => shapes.nine_with_bottom = false,
            "6-bar" => shapes.six_with_top = true,
            "7-plain" => shapes.seven_with_hook = false,
            "9-bar" => shapes.nine_with_bottom = true,
            other => {
                let message =
                    format!("Unknown shape of a digit `{other}`; use 6-bar, 6-open, 7-plain, 7-hook, 9-bar or 9-open.");
                return Err((span, message));
            }
        }
    }
    let text = raw.text.as_ref().map_or("0123456789", |t| t.get_ref().as_str());
    let rule = CodeRule::from_name(name.get_ref(), text, shapes).ok_or_else(|| {
        (name.span(), format!("Unknown code `{}`; use one of {}.", name.get_ref(), CODE_NAMES.join(", ")))
    })?;
    let active_low = match raw.active.as_ref().map(|a| (a.get_ref().as_str(), a.span())) {
        None | Some(("high", _)) => false,
        Some(("low", _)) => true,
        Some((other, span)) => {
            return Err((span, format!("Outputs are active `high` or `low`, not `{other}`; write one of the two.")));
        }
    };
    rule.table(inputs, outputs, active_low).map_err(|e| (raw.text.as_ref().map_or(name.span(), Spanned::span), e.0))
}

fn row_list(value: &Spanned<toml::Value>) -> Result<Vec<u64>, Fault> {
    let fail = || (value.span(), "This should be a list of row numbers; write it as `[5, 7]`.".to_owned());
    let list = value.get_ref().as_array().ok_or_else(fail)?;
    list.iter().map(|v| v.as_integer().and_then(|n| u64::try_from(n).ok()).ok_or_else(fail)).collect()
}

fn from_terms(
    raw: &RawBehaviour,
    inputs: Vec<String>,
    outputs: &[String],
    maxterms: bool,
) -> Result<TruthTable, Fault> {
    let n = u32::try_from(inputs.len()).unwrap_or(u32::MAX);
    let mut columns: BTreeMap<&str, OutputColumn> = BTreeMap::new();
    for key in raw.outputs.keys().chain(raw.dont_care.keys()) {
        if !outputs.contains(key.get_ref()) {
            let near = base::nearest(key.get_ref(), outputs.iter().map(String::as_str));
            let hint = near.map_or("name an output bit, such as `lamp[0]`".into(), |n| format!("write `{n}`"));
            return Err((key.span(), format!("Unknown output bit `{}`; {hint}.", key.get_ref())));
        }
    }
    for (key, value) in &raw.outputs {
        let dont_care = raw.dont_care.iter().find(|(k, _)| k.get_ref() == key.get_ref()).map(|(_, v)| v);
        let dont_cares = dont_care.map(row_list).transpose()?.unwrap_or_default();
        let column = OutputColumn::from_terms(key.get_ref(), n, &row_list(value)?, &dont_cares, maxterms)
            .map_err(|e| (value.span(), sentence(&e)))?;
        columns.insert(key.get_ref(), column);
    }
    in_order(raw, inputs, outputs, |name| columns.remove(name))
}

fn in_order(
    raw: &RawBehaviour,
    inputs: Vec<String>,
    outputs: &[String],
    mut column: impl FnMut(&str) -> Option<OutputColumn>,
) -> Result<TruthTable, Fault> {
    let mut list = Vec::new();
    for name in outputs {
        match column(name) {
            Some(found) => list.push(found),
            None => return Err(no_behaviour(raw, name)),
        }
    }
    Ok(TruthTable { inputs, outputs: list })
}

pub(crate) fn no_behaviour(raw: &RawBehaviour, name: &str) -> Fault {
    (raw.kind.span(), format!("The output `{name}` has no behaviour; add it under [behaviour.outputs]."))
}

/// The bits that a key under `[behaviour.outputs]` names: a whole output, or one bit of it.
pub(crate) fn output_bits(
    key: &Spanned<String>,
    ports: &[ExercisePort],
    outputs: &[String],
) -> Result<Vec<String>, Fault> {
    let name = key.get_ref();
    match ports.iter().find(|p| !p.is_input && p.name == *name) {
        Some(port) => Ok(port.bit_names().collect()),
        None if outputs.contains(name) => Ok(vec![name.clone()]),
        None => {
            let near = base::nearest(name, outputs.iter().map(String::as_str));
            let hint = near.map_or("name an output of the exercise".into(), |n| format!("write `{n}`"));
            Err((key.span(), format!("Unknown output `{name}`; {hint}.")))
        }
    }
}

pub(crate) fn expression_fault(name: &str, value: &Spanned<toml::Value>, e: &ExprError) -> Fault {
    let message = format!("In the expression for `{name}`, column {}: {} {}", e.column, e.message, e.action);
    (value.span(), message)
}

/// The input ports as expressions read them.
pub(crate) fn signals(ports: &[ExercisePort]) -> Vec<(String, Shape)> {
    ports.iter().filter(|p| p.is_input).map(|p| (p.name.clone(), p.shape)).collect()
}

fn from_expressions(
    raw: &RawBehaviour,
    ports: &[ExercisePort],
    inputs: Vec<String>,
    outputs: &[String],
) -> Result<TruthTable, Fault> {
    let n = u32::try_from(inputs.len()).unwrap_or(u32::MAX);
    let signals = signals(ports);
    let words = RowSet::empty(n).words().len() as u64;
    let mut columns: BTreeMap<String, OutputColumn> = BTreeMap::new();
    for (key, value) in &raw.outputs {
        let name = key.get_ref();
        let bits = output_bits(key, ports, outputs)?;
        let Some(text) = value.get_ref().as_str() else {
            return Err((value.span(), "An expression is text; write it in quotes.".into()));
        };
        let width = u32::try_from(bits.len()).unwrap_or(1);
        let expr = parse_expr(text, &signals, width).map_err(|e| expression_fault(name, value, &e))?;
        let mut sets = vec![Vec::with_capacity(words as usize); bits.len()];
        for word in 0..words {
            let result = expr.eval(scope(&signals, n, word).as_slice(), width);
            for (set, bits) in sets.iter_mut().zip(result.iter().rev()) {
                set.push(*bits);
            }
        }
        for (bit, set) in bits.into_iter().zip(sets) {
            let ones = RowSet::from_words(n, &set);
            let column = OutputColumn { name: bit.clone(), ones, dont_care: RowSet::empty(n) };
            if columns.insert(bit.clone(), column).is_some() {
                return Err((key.span(), format!("`{bit}` has two expressions; keep one.")));
            }
        }
    }
    in_order(raw, inputs, outputs, |name| columns.remove(name))
}

/// The bits of each input signal on 64 rows, least significant first.
pub(crate) fn scope(signals: &[(String, Shape)], inputs: u32, word: u64) -> Vec<Vec<u64>> {
    let mut first = 0;
    signals
        .iter()
        .map(|(_, shape)| {
            let width = shape.width();
            let bits = (0..width).rev().map(|i| input_word(inputs, first + i, word)).collect();
            first += width;
            bits
        })
        .collect()
}

/// The netlist of a reference design, whose ports fit.
pub(crate) fn reference_netlist(
    raw: &RawBehaviour,
    ports: &[ExercisePort],
    (beside, budget): (&Beside<'_>, &Budget),
    over_time: bool,
) -> Result<design::Netlist, Fault> {
    let Some(files) = &raw.files else { return Err(missing(raw, "files")) };
    let mut sources = Sources::default();
    for path in files.get_ref() {
        let bytes = beside(path).map_err(|e| (files.span(), e.to_string()))?;
        let file = SourceFile::decode(path, &bytes)
            .map_err(|_| (files.span(), format!("The reference `{path}` is not a text file; hand in its source.")))?;
        sources.map.add(file);
    }
    let (span, top, parameter) = (files.span(), raw.top.as_deref(), raw.parameter.as_ref());
    ample(|| built_reference(sources, ports, (top, parameter), over_time, budget))
        .unwrap_or_else(|fault| Err(fault.to_string()))
        .map_err(|message| (span, message))
}

fn built_reference(
    sources: Sources,
    ports: &[ExercisePort],
    (top, parameter): (Option<&str>, Option<&Parameter>),
    over_time: bool,
    budget: &Budget,
) -> Result<design::Netlist, String> {
    let told = |d: &base::Diagnostic| {
        let place = d.span.map(|s| format!("{}:{}: ", sources.map.file(s.file).name, sources.map.place(s).line));
        format!("The reference can't be used: {}{d}", place.unwrap_or_default())
    };
    let mut budget = budget.clone();
    let kind = if over_time { NetlistKind::WithLatches } else { NetlistKind::Plain };
    let goal = Goal { fitting: Fitting { ports, parameter }, top, kind, wants_ports: true };
    let way = Parsed::new(&sources, &mut budget).build(&goal, &mut budget);
    if let (true, Some(unit), Some(parameter)) = (way.lacks_parameter, &way.unit, parameter) {
        return Err(format!("The reference `{}` has no parameter `{}`; give it one.", unit.name, parameter.name));
    }
    let first = way.first_stop().map(told);
    way.end.map(|built| built.netlist).map_err(|_| first.unwrap_or_else(|| "The reference can't be used.".into()))
}

fn from_reference(
    raw: &RawBehaviour,
    ports: &[ExercisePort],
    beside: &Beside<'_>,
    budget: &Budget,
) -> Result<TruthTable, Fault> {
    let netlist = reference_netlist(raw, ports, (beside, budget), false)?;
    let fail = |message: String| (raw.files.as_ref().map_or(raw.kind.span(), Spanned::span), message);
    if !netlist.registers.is_empty() {
        return Err(fail(
            "The reference has registers, but the exercise names no clock; add [clock] with its `port`.".into(),
        ));
    }
    let mut budget = budget.clone();
    let actual = elab::actual_table(&netlist, ports, &mut budget)
        .map_err(|e| fail(format!("The reference needs more than the check's budget: {}.", e.0)))?;
    let bits = |inputs: bool| {
        ports.iter().filter(move |p| p.is_input == inputs).flat_map(|p| p.bit_names().collect::<Vec<_>>())
    };
    if let Some((column, row)) = actual.columns.iter().find_map(|c| Some((c, c.unknown.first()?))) {
        let row = logic::row_text(column.ones.inputs(), row);
        return Err(fail(format!(
            "The reference leaves `{}` unknown on row {row}; give it a value there.",
            column.name
        )));
    }
    let outputs = actual.columns.into_iter().map(|c| OutputColumn {
        dont_care: RowSet::empty(c.ones.inputs()),
        name: c.name,
        ones: c.ones,
    });
    Ok(TruthTable { inputs: bits(true).collect(), outputs: outputs.collect() })
}
