//! Berkeley logic interchange format (University of California, 1992): tables of cubes, latches and models within models,
//! read into a netlist and written from one.

use crate::netlist::{InputBit, Lit, Netlist, Node, NodeId, OutputBit, Register};
use base::{Budget, FileId, Id, Span};
use std::collections::HashMap;
use std::fmt::Write;

/// Models within models.
const MAX_DEPTH: usize = 64;
/// Most tables after models are put in the place of their uses.
const MAX_TABLES: usize = 200_000;

/// Why a file can't be read: its line, and one sentence.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct BlifError {
    /// Line, from 1.
    pub line: u32,
    /// What is wrong and what to do.
    pub message: String,
}

fn fault<T>(line: u32, message: impl Into<String>) -> Result<T, BlifError> {
    const LONGEST: usize = 300;
    let mut message = message.into();
    // A word of the file may be as long as the file.
    if message.chars().count() > LONGEST {
        message = message.chars().take(LONGEST).chain(['…']).collect();
    }
    Err(BlifError { line, message })
}

struct Table {
    line: u32,
    inputs: Vec<String>,
    output: String,
    /// Cubes for which the output is `level`.
    cubes: Vec<String>,
    level: bool,
}

struct Latch {
    line: u32,
    input: String,
    output: String,
    rising: bool,
    clock: String,
    initial: Option<bool>,
}

struct Use {
    line: u32,
    model: String,
    joins: Vec<(String, String)>,
}

#[derive(Default)]
struct Model {
    name: String,
    inputs: Vec<String>,
    outputs: Vec<String>,
    tables: Vec<Table>,
    latches: Vec<Latch>,
    uses: Vec<Use>,
}

/// Lines without comments, those that go on joined; with the number of the first.
fn lines(text: &str) -> Vec<(u32, String)> {
    let mut list: Vec<(u32, String)> = Vec::new();
    let mut goes_on = false;
    for (n, raw) in (1u32..).zip(text.lines()) {
        let line = raw.split('#').next().unwrap_or("").trim_end();
        let (part, more) = match line.strip_suffix('\\') {
            Some(part) => (part, true),
            None => (line, false),
        };
        match list.last_mut() {
            Some(last) if goes_on => {
                last.1.push(' ');
                last.1.push_str(part);
            }
            _ => list.push((n, part.to_owned())),
        }
        goes_on = more;
    }
    list.retain(|(_, l)| !l.trim().is_empty());
    list
}

fn parse(text: &str) -> Result<Vec<Model>, BlifError> {
    let mut models: Vec<Model> = Vec::new();
    let mut open = false;
    let mut in_table = false;
    let mut seen_end = false;
    for (line, text) in lines(text) {
        let words: Vec<&str> = text.split_whitespace().collect();
        let Some(first) = words.first().copied() else { continue };
        if !first.starts_with('.') {
            let Some(table) = models.last_mut().filter(|_| in_table).and_then(|m| m.tables.last_mut()) else {
                return fault(line, format!("`{first}` stands in no table; put it under `.names`."));
            };
            cube(table, line, &words)?;
            continue;
        }
        if first == ".model" {
            models.push(Model { name: (*words.get(1).unwrap_or(&"")).to_owned(), ..Model::default() });
            (open, in_table) = (true, false);
            continue;
        }
        if !open {
            // A file may begin without `.model`.
            if models.is_empty() && !seen_end {
                models.push(Model::default());
                open = true;
            } else {
                return fault(line, format!("`{first}` stands behind `.end`; put it into a model."));
            }
        }
        let Some(model) = models.last_mut() else { continue };
        let rest: Vec<String> = words[1..].iter().map(|w| (*w).to_owned()).collect();
        in_table = false;
        match first {
            ".inputs" | ".input" => model.inputs.extend(rest),
            ".outputs" | ".output" => model.outputs.extend(rest),
            // Which input is the clock is seen from the latches.
            ".clock" => model.inputs.extend(rest),
            ".names" => {
                let Some((output, inputs)) = rest.split_last() else {
                    return fault(line, "A `.names` needs the name of its output; add it.");
                };
                let (inputs, output) = (inputs.to_vec(), output.clone());
                model.tables.push(Table { line, inputs, output, cubes: Vec::new(), level: true });
                in_table = true;
            }
            ".latch" => model.latches.push(latch(line, &words)?),
            ".subckt" => {
                let Some((name, joins)) = rest.split_first() else {
                    return fault(line, "A `.subckt` needs the name of its model; add it.");
                };
                let mut pairs = Vec::new();
                for join in joins {
                    let Some((formal, actual)) = join.split_once('=') else {
                        return fault(line, format!("`{join}` joins nothing; write formal=actual."));
                    };
                    pairs.push((formal.to_owned(), actual.to_owned()));
                }
                model.uses.push(Use { line, model: name.clone(), joins: pairs });
            }
            ".end" => (open, seen_end) = (false, true),
            // Hints for other tools.
            ".default_input_arrival"
            | ".area"
            | ".delay"
            | ".input_arrival"
            | ".output_required"
            | ".wire_load_slope" => {}
            other => {
                return fault(line, format!("`{other}` is not read; write the logic with .names, .latch and .subckt."));
            }
        }
    }
    Ok(models)
}

fn cube(table: &mut Table, line: u32, words: &[&str]) -> Result<(), BlifError> {
    let (cube, level) = match words {
        [level] if table.inputs.is_empty() => ("", *level),
        [cube, level] => (*cube, *level),
        _ => return fault(line, "A line of a table is a cube and a level; write for example `1-0 1`."),
    };
    if cube.len() != table.inputs.len() || !cube.bytes().all(|b| b"01-".contains(&b)) {
        let count = table.inputs.len();
        return fault(line, format!("`{cube}` is no cube of {count} inputs; write {count} of 0, 1 and -."));
    }
    let level = match level {
        "1" => true,
        "0" => false,
        other => return fault(line, format!("`{other}` is no level of an output; write 0 or 1.")),
    };
    if !table.cubes.is_empty() && table.level != level {
        return fault(line, "A table lists the rows of one level only; list the 1s or the 0s.");
    }
    table.level = level;
    table.cubes.push(cube.to_owned());
    Ok(())
}

fn latch(line: u32, words: &[&str]) -> Result<Latch, BlifError> {
    let (kind, clock, initial) = match words {
        [_, _, _, kind, clock] => (*kind, *clock, "3"),
        [_, _, _, kind, clock, initial] => (*kind, *clock, *initial),
        [_, _, _] | [_, _, _, _] => {
            return fault(line, "A latch without a clock can't be compared; write `.latch next now re clk 0`.");
        }
        _ => return fault(line, "A `.latch` has its input and output; write `.latch next now re clk 0`."),
    };
    let rising = match kind {
        "re" => true,
        "fe" => false,
        other => {
            return fault(
                line,
                format!("`{other}` is no edge; write `re` or `fe`, level-sensitive latches are not read."),
            );
        }
    };
    let initial = match initial {
        "0" => Some(false),
        "1" => Some(true),
        "2" | "3" => None,
        other => return fault(line, format!("`{other}` is no first level; write 0, 1, 2 or 3.")),
    };
    let (input, output) = (words[1].to_owned(), words[2].to_owned());
    Ok(Latch { line, input, output, rising, clock: clock.to_owned(), initial })
}

/// Everything of a model with its uses put in place, by the names of the outermost one.
struct Flat<'m> {
    models: &'m [Model],
    tables: Vec<Table>,
    latches: Vec<Latch>,
    /// Uses of models so far.
    uses: usize,
}

impl Flat<'_> {
    fn add(
        &mut self,
        model: &Model,
        path: &str,
        joins: &HashMap<String, String>,
        depth: usize,
    ) -> Result<(), BlifError> {
        let name = |n: &String| joins.get(n).cloned().unwrap_or_else(|| format!("{path}{n}"));
        for t in &model.tables {
            if self.tables.len() >= MAX_TABLES {
                return fault(t.line, format!("There are more than {MAX_TABLES} tables; compare a smaller model."));
            }
            let inputs = t.inputs.iter().map(name).collect();
            let output = name(&t.output);
            self.tables.push(Table { line: t.line, inputs, output, cubes: t.cubes.clone(), level: t.level });
        }
        for l in &model.latches {
            let (input, output, clock) = (name(&l.input), name(&l.output), name(&l.clock));
            self.latches.push(Latch { input, output, clock, ..*l });
        }
        for (number, inner) in model.uses.iter().enumerate() {
            self.uses += 1;
            if depth >= MAX_DEPTH || self.uses > MAX_TABLES {
                return fault(inner.line, "Models use each other in a circle, or too deep; flatten them.");
            }
            let Some(below) = self.models.iter().find(|m| m.name == inner.model) else {
                return fault(inner.line, format!("There is no model `{}`; add it to the file.", inner.model));
            };
            let mut map = HashMap::new();
            for (formal, actual) in &inner.joins {
                if !below.inputs.contains(formal) && !below.outputs.contains(formal) {
                    return fault(
                        inner.line,
                        format!("The model `{}` has no `{formal}`; use its own names.", below.name),
                    );
                }
                map.insert(formal.clone(), name(actual));
            }
            self.add(below, &format!("{path}{}/{number}/", inner.model), &map, depth + 1)?;
        }
        Ok(())
    }
}

/// The levels of a net: its value, 0 where it is unknown, and whether it is.
type Rails = [Lit; 2];

fn both(net: &mut Netlist, [a, au]: Rails, [b, bu]: Rails) -> Rails {
    let value = net.and(a, b);
    // Unknown unless one side is known to be 0.
    let (a_may, b_may) = (net.or(a, au), net.or(b, bu));
    let (left, right) = (net.and(au, b_may), net.and(bu, a_may));
    [value, net.or(left, right)]
}

fn inverse(net: &mut Netlist, [a, au]: Rails) -> Rails {
    let known = net.and(!a, !au);
    [known, au]
}

/// Reads the first model of a file, or the one called `top`; every input and output is a port of one bit.
///
/// # Errors
/// The first fault, with its line.
pub fn read_blif(text: &str, top: Option<&str>, budget: &mut Budget) -> Result<Netlist, BlifError> {
    let models = parse(text)?;
    let found = match top {
        Some(name) => models.iter().find(|m| m.name == name),
        None => models.first(),
    };
    let Some(model) = found else {
        return fault(
            1,
            top.map_or("The file holds no model; write `.model`.".into(), |t| {
                format!("There is no model `{t}`; name one of the file.")
            }),
        );
    };
    let mut flat = Flat { models: &models, tables: Vec::new(), latches: Vec::new(), uses: 0 };
    flat.add(model, "", &HashMap::new(), 0)?;
    let mut net = Netlist::new();
    let mut known: HashMap<&str, Rails> = HashMap::new();
    for name in &model.inputs {
        let value = net.add_input();
        if known.insert(name, [value, Lit::FALSE]).is_some() {
            return fault(1, format!("The input `{name}` is there twice; keep one."));
        }
        net.inputs.push(InputBit { port: name.clone(), position: 0, value });
    }
    let mut places = Vec::new();
    for latch in &flat.latches {
        let (value, unknown) = (net.add_input(), net.add_input());
        places.push((value, unknown));
        if known.insert(&latch.output, [value, unknown]).is_some() {
            return fault(latch.line, format!("`{}` is driven twice; keep one.", latch.output));
        }
    }
    let mut driver: HashMap<&str, usize> = HashMap::new();
    for (k, table) in flat.tables.iter().enumerate() {
        if known.contains_key(table.output.as_str()) || driver.insert(&table.output, k).is_some() {
            return fault(table.line, format!("`{}` is driven twice; keep one.", table.output));
        }
    }
    let wanted = model.outputs.iter().map(|o| (o.as_str(), 1));
    let wanted =
        wanted.chain(flat.latches.iter().flat_map(|l| [(l.input.as_str(), l.line), (l.clock.as_str(), l.line)]));
    for (name, line) in wanted {
        settle(&mut net, name, line, &flat.tables, &driver, &mut known, budget)?;
    }
    for name in &model.outputs {
        let [value, unknown] = known[name.as_str()];
        net.outputs.push(OutputBit { port: name.clone(), position: 0, value, unknown, floating: Lit::FALSE });
    }
    for (latch, (value, unknown)) in flat.latches.iter().zip(places) {
        let [next, next_unknown] = known[latch.input.as_str()];
        let [clock, _] = known[latch.clock.as_str()];
        net.registers.push(Register {
            name: latch.output.clone(),
            position: 0,
            value,
            unknown,
            clock,
            rising: latch.rising,
            next,
            next_unknown,
            controls: Vec::new(),
            initial: latch.initial,
            span: Span::new(FileId::from_index(0), 0, 0),
        });
    }
    Ok(net)
}

/// Works out a net and all that it depends on.
fn settle<'t>(
    net: &mut Netlist,
    root: &'t str,
    line: u32,
    tables: &'t [Table],
    driver: &HashMap<&'t str, usize>,
    known: &mut HashMap<&'t str, Rails>,
    budget: &mut Budget,
) -> Result<(), BlifError> {
    let mut stack: Vec<(&str, u32)> = vec![(root, line)];
    let mut open: std::collections::HashSet<&str> = std::collections::HashSet::new();
    while let Some((name, line)) = stack.last().copied() {
        if known.contains_key(name) {
            open.remove(name);
            stack.pop();
            continue;
        }
        let Some(table) = driver.get(name).map(|k| &tables[*k]) else {
            return fault(line, format!("`{name}` is driven by nothing; add its table."));
        };
        let missing: Vec<&str> = table.inputs.iter().map(String::as_str).filter(|i| !known.contains_key(i)).collect();
        if missing.is_empty() {
            let rails = table_rails(net, table, known, budget).map_err(|_| BlifError {
                line: table.line,
                message: "The file is too large to be compared; take a smaller one.".into(),
            })?;
            known.insert(name, rails);
            continue;
        }
        open.insert(name);
        for input in missing {
            if open.contains(input) {
                return fault(table.line, format!("`{input}` depends on itself; break the loop by a latch."));
            }
            stack.push((input, table.line));
        }
    }
    Ok(())
}

fn table_rails(
    net: &mut Netlist,
    table: &Table,
    known: &HashMap<&str, Rails>,
    budget: &mut Budget,
) -> Result<Rails, base::Exhausted> {
    budget.spend(1 + (table.cubes.len() * table.inputs.len()) as u64)?;
    let mut none: Rails = [Lit::TRUE, Lit::FALSE];
    for cube in &table.cubes {
        let mut all: Rails = [Lit::TRUE, Lit::FALSE];
        for (cell, input) in cube.bytes().zip(&table.inputs) {
            let rails = known[input.as_str()];
            let side = match cell {
                b'1' => rails,
                b'0' => inverse(net, rails),
                _ => continue,
            };
            all = both(net, all, side);
        }
        let not = inverse(net, all);
        none = both(net, none, not);
    }
    Ok(if table.level { inverse(net, none) } else { none })
}

/// What the format has no words for.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum NotSayable {
    /// An output's bit or a register that may have no level.
    #[error("`{0}` may be unknown or float, which this format can't say; give it a level.")]
    Unknown(String),
    /// A register with an asynchronous set or reset.
    #[error("`{0}` is set or reset at once, which this format can't say; reset it at the clock edge.")]
    Asynchronous(String),
    /// A register with a clock that is made inside.
    #[error("The clock of `{0}` is no input, which is not written; clock it from an input.")]
    InnerClock(String),
}

/// What has to be computed, when the format has words for all of it.
fn sayable(net: &Netlist, sure: &Netlist, name: &dyn Fn(&str, u32) -> String) -> Result<Vec<Lit>, NotSayable> {
    let mut roots: Vec<Lit> = Vec::new();
    for output in &sure.outputs {
        if output.unknown != Lit::FALSE || output.floating != Lit::FALSE {
            let name = name(&output.port, output.position);
            return Err(NotSayable::Unknown(name));
        }
        roots.push(output.value);
    }
    for r in &sure.registers {
        if !r.controls.is_empty() {
            return Err(NotSayable::Asynchronous(r.name.clone()));
        }
        if r.next_unknown != Lit::FALSE {
            return Err(NotSayable::Unknown(r.name.clone()));
        }
        if !matches!(net.node(r.clock.node()), Node::Input(_)) || r.clock.is_const() {
            return Err(NotSayable::InnerClock(r.name.clone()));
        }
        roots.push(r.next);
    }
    Ok(roots)
}

/// Writes a netlist; `name` gives the name of a port's bit.
///
/// # Errors
/// One sentence when the format has no words for the design: asynchronous controls, levels that stay unknown, clocks
/// that are made inside.
pub fn write_blif(net: &Netlist, model: &str, name: &dyn Fn(&str, u32) -> String) -> Result<String, NotSayable> {
    let sure = without_unknown(net);
    let mut names: HashMap<NodeId, String> = HashMap::new();
    for bit in &net.inputs {
        names.insert(bit.value.node(), name(&bit.port, bit.position));
    }
    for (k, r) in net.registers.iter().enumerate() {
        names.insert(r.value.node(), format!("r{k}"));
    }
    let roots = sayable(net, &sure, name)?;
    let list = |names: Vec<String>| names.join(" ");
    let bits = |port: &String, position: u32| name(port, position);
    let mut out = format!(".model {model}\n");
    let _ = writeln!(out, ".inputs {}", list(net.inputs.iter().map(|i| bits(&i.port, i.position)).collect()));
    let _ = writeln!(out, ".outputs {}", list(net.outputs.iter().map(|o| bits(&o.port, o.position)).collect()));
    for (k, r) in sure.registers.iter().enumerate() {
        let edge = if r.rising != r.clock.is_complement() { "re" } else { "fe" };
        let initial = r.initial.map_or("3", |l| if l { "1" } else { "0" });
        let clock = names.get(&r.clock.node()).cloned().unwrap_or_default();
        let _ = writeln!(out, ".latch d{k} r{k} {edge} {clock} {initial}");
    }
    let taken: std::collections::HashSet<String> = names.values().cloned().collect();
    let fresh = |id: NodeId| {
        let mut text = format!("n{}", id.index());
        while taken.contains(&text) {
            text.push('_');
        }
        text
    };
    for id in sure.cone(&roots) {
        match sure.node(id) {
            Node::And(a, b) => {
                let of = |l: Lit| names.get(&l.node()).cloned().unwrap_or_default();
                let level = |l: Lit| if l.is_complement() { '0' } else { '1' };
                let text = fresh(id);
                let _ = writeln!(out, ".names {} {} {text}\n{}{} 1", of(a), of(b), level(a), level(b));
                names.insert(id, text);
            }
            Node::Input(_) | Node::False => {}
        }
    }
    let mut copy = |from: Lit, to: String| {
        let _ = match from {
            Lit::FALSE => writeln!(out, ".names {to}"),
            Lit::TRUE => writeln!(out, ".names {to}\n1"),
            l => {
                let source = names.get(&l.node()).cloned().unwrap_or_default();
                writeln!(out, ".names {source} {to}\n{} 1", u8::from(!l.is_complement()))
            }
        };
    };
    for output in &sure.outputs {
        copy(output.value, bits(&output.port, output.position));
    }
    for (k, r) in sure.registers.iter().enumerate() {
        copy(r.next, format!("d{k}"));
    }
    out.push_str(".end\n");
    Ok(out)
}

/// The netlist with all registers known, node for node at the same place or an earlier one.
fn without_unknown(net: &Netlist) -> Netlist {
    let unknown: std::collections::HashSet<NodeId> = net.registers.iter().map(|r| r.unknown.node()).collect();
    let mut made = net.clone();
    let mut map: Vec<Lit> = Vec::with_capacity(net.len());
    let pick = |map: &[Lit], l: Lit| if l.is_complement() { !map[l.node().index()] } else { map[l.node().index()] };
    for index in 0..net.len() {
        let id = NodeId::from_index(index);
        let lit = match net.node(id) {
            Node::And(a, b) => {
                let (a, b) = (pick(&map, a), pick(&map, b));
                made.and(a, b)
            }
            _ if unknown.contains(&id) => Lit::FALSE,
            _ => Lit::new(id, false),
        };
        map.push(lit);
    }
    let of = |l: Lit| pick(&map, l);
    for o in &mut made.outputs {
        (o.value, o.unknown, o.floating) = (of(o.value), of(o.unknown), of(o.floating));
    }
    for r in &mut made.registers {
        (r.next, r.next_unknown) = (of(r.next), of(r.next_unknown));
    }
    made
}
