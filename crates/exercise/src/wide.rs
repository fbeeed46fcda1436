//! What an exercise with many inputs expects, as a netlist.

use crate::behaviour::{self, signals};
use crate::fault::{Beside, Fault};
use crate::raw::RawBehaviour;
use base::Budget;
use design::{InputBit, Lit, Netlist, OutputBit};
use elab::{ExercisePort, machine_of};
use logic::{BitAlgebra, parse_cube_rows, parse_expr};
use prove::{Combinational, Joined, Machine, OutputTap, Source};
use std::collections::BTreeMap;
use std::sync::Arc;
use toml::Spanned;

/// The most input bits of all.
const MAX_INPUT_BITS: usize = 512;

/// What a wide exercise expects.
#[derive(Clone, Debug)]
pub struct Wide {
    /// Input bits in table order.
    pub inputs: Vec<String>,
    /// Output bits in table order.
    pub outputs: Vec<String>,
    /// The behaviour in sentences: an output each, or the reference.
    pub lines: Vec<String>,
    net: Arc<Netlist>,
    taps: Vec<Option<OutputTap>>,
    sources: Vec<Option<Source>>,
}

impl Wide {
    /// What is expected, as a machine.
    pub fn machine(&self) -> Machine<'_> {
        Machine { net: &self.net, inputs: self.sources.clone(), outputs: self.taps.clone() }
    }

    /// A netlist, whose ports were found to fit, as a machine.
    pub fn join<'n>(&self, net: &'n Netlist, ports: &[ExercisePort]) -> Machine<'n> {
        machine_of(net, ports, &self.inputs, &self.outputs, None)
    }

    /// Expected output bits at an input; `-` where either level is right.
    pub fn expected_at(&self, inputs: &[bool]) -> String {
        let levels = prove::outputs_at(&self.machine(), inputs);
        levels.iter().map(|l| if l == "X" { "-" } else { l.as_str() }).collect()
    }

    /// Number of inputs.
    pub fn width(&self) -> u32 {
        u32::try_from(self.inputs.len()).unwrap_or(u32::MAX)
    }
}

/// Reads the behaviour of an exercise with more inputs than a table has.
pub fn wide(raw: &RawBehaviour, ports: &[ExercisePort], beside: &Beside<'_>, budget: &Budget) -> Result<Wide, Fault> {
    let kind = raw.kind.get_ref().as_str();
    behaviour::keys_fit(raw, kind)?;
    let bits = |input: bool| -> Vec<String> {
        ports.iter().filter(|p| p.is_input == input).flat_map(|p| p.bit_names().collect::<Vec<_>>()).collect()
    };
    let (inputs, outputs) = (bits(true), bits(false));
    if inputs.len() > MAX_INPUT_BITS {
        let message = format!("The inputs have {} bits together; at most {MAX_INPUT_BITS} are checked.", inputs.len());
        return Err((raw.kind.span(), message));
    }
    let (net, lines) = match kind {
        "expressions" => from_expressions(raw, ports, &outputs)?,
        "table" => from_table(raw, ports, &inputs, &outputs)?,
        "reference" => from_reference(raw, ports, (&inputs, &outputs), beside, budget)?,
        "states" | "rate" | "sequence" => {
            return Err((
                raw.kind.span(),
                format!("The behaviour `{kind}` needs a clock; add [clock] with its `port`."),
            ));
        }
        other => {
            let message = format!(
                "The inputs have {} bits together; `{other}` lists the rows of at most {}. Use expressions, a table \
                 with `-` among its inputs, or a reference.",
                inputs.len(),
                logic::MAX_INPUTS
            );
            return Err((raw.kind.span(), message));
        }
    };
    let machine = machine_of(&net, ports, &inputs, &outputs, None);
    let (taps, sources) = (machine.outputs, machine.inputs);
    Ok(Wide { inputs, outputs, lines, net: Arc::new(net), taps, sources })
}

/// A netlist with the input ports of an exercise, and the bits of each, least significant first.
fn with_inputs(ports: &[ExercisePort]) -> (Netlist, Vec<Vec<Lit>>) {
    let mut net = Netlist::new();
    let mut list = Vec::new();
    for port in ports.iter().filter(|p| p.is_input) {
        let mut bits: Vec<Lit> = Vec::new();
        for position in (0..port.shape.width()).rev() {
            let value = net.add_input();
            net.inputs.push(InputBit { port: port.name.clone(), position, value });
            bits.push(value);
        }
        bits.reverse();
        list.push(bits);
    }
    (net, list)
}

/// The netlist with its outputs; `rails` gives value and unknown rail by the name of the bit.
fn with_outputs(net: &mut Netlist, ports: &[ExercisePort], mut rails: impl FnMut(&mut Netlist, &str) -> [Lit; 2]) {
    for port in ports.iter().filter(|p| !p.is_input) {
        for position in (0..port.shape.width()).rev() {
            let [value, unknown] = rails(net, &port.shape.bit_name(&port.name, position));
            let bit = OutputBit { port: port.name.clone(), position, value, unknown, floating: Lit::FALSE };
            net.outputs.push(bit);
        }
    }
}

/// Expressions become gates of the netlist.
struct Gates<'n>(&'n mut Netlist);

impl BitAlgebra for Gates<'_> {
    type Bit = Lit;

    fn constant(&mut self, level: bool) -> Lit {
        Lit::from(level)
    }

    fn not(&mut self, a: Lit) -> Lit {
        !a
    }

    fn and(&mut self, a: Lit, b: Lit) -> Lit {
        self.0.and(a, b)
    }

    fn or(&mut self, a: Lit, b: Lit) -> Lit {
        self.0.or(a, b)
    }

    fn xor(&mut self, a: Lit, b: Lit) -> Lit {
        self.0.xor(a, b)
    }
}

fn from_expressions(
    raw: &RawBehaviour,
    ports: &[ExercisePort],
    outputs: &[String],
) -> Result<(Netlist, Vec<String>), Fault> {
    let signals = signals(ports);
    let (mut net, inputs) = with_inputs(ports);
    let mut found: BTreeMap<String, Lit> = BTreeMap::new();
    let mut lines = Vec::new();
    for (key, value) in &raw.outputs {
        let bits = behaviour::output_bits(key, ports, outputs)?;
        let Some(text) = value.get_ref().as_str() else {
            return Err((value.span(), "An expression is text; write it in quotes.".into()));
        };
        let width = u32::try_from(bits.len()).unwrap_or(1);
        let expr =
            parse_expr(text, &signals, width).map_err(|e| behaviour::expression_fault(key.get_ref(), value, &e))?;
        let result = expr.eval_on(&mut Gates(&mut net), |signal| inputs[signal].as_slice(), width);
        lines.push(format!("{} = {text}", key.get_ref()));
        for (bit, lit) in bits.into_iter().zip(result.into_iter().rev()) {
            if found.insert(bit.clone(), lit).is_some() {
                return Err((key.span(), format!("`{bit}` has two expressions; keep one.")));
            }
        }
    }
    if let Some(missing) = outputs.iter().find(|o| !found.contains_key(*o)) {
        return Err(behaviour::no_behaviour(raw, missing));
    }
    with_outputs(&mut net, ports, |_, bit| [found.get(bit).copied().unwrap_or(Lit::FALSE), Lit::FALSE]);
    Ok((net, lines))
}

fn from_table(
    raw: &RawBehaviour,
    ports: &[ExercisePort],
    inputs: &[String],
    outputs: &[String],
) -> Result<(Netlist, Vec<String>), Fault> {
    let Some(rows) = &raw.rows else { return Err(behaviour::missing(raw, "rows")) };
    let table =
        parse_cube_rows(rows.get_ref(), inputs.len(), outputs).map_err(|e| (rows.span(), behaviour::sentence(&e)))?;
    let (mut net, bits) = with_inputs(ports);
    let in_order: Vec<Lit> = bits.iter().flat_map(|port| port.iter().rev().copied()).collect();
    let cubes: Vec<Lit> = table
        .iter()
        .map(|(cube, _)| {
            let lits = cube.iter().zip(&in_order).filter_map(|(cell, lit)| cell.map(|v| if v { *lit } else { !*lit }));
            net.all(lits.collect::<Vec<_>>())
        })
        .collect();
    with_outputs(&mut net, ports, |net, bit| {
        let Some(at) = outputs.iter().position(|o| o == bit) else { return [Lit::FALSE, Lit::TRUE] };
        let of = |level: bool| table.iter().zip(&cubes).filter(move |((_, out), _)| out[at] == Some(level));
        let ones: Vec<Lit> = of(true).map(|(_, cube)| *cube).collect();
        let zeros: Vec<Lit> = of(false).map(|(_, cube)| *cube).collect();
        let value = net.any(ones);
        let zero = net.any(zeros);
        let demanded = net.or(value, zero);
        [value, !demanded]
    });
    let count = table.len();
    Ok((net, vec![format!("A table of {count} lines; what it leaves out is free.")]))
}

/// Steps that looking at a reference may take.
const REFERENCE_STEPS: u64 = 400_000_000;
/// Clauses that may be learnt for it.
const REFERENCE_EFFORT: u64 = 100_000;

fn from_reference(
    raw: &RawBehaviour,
    ports: &[ExercisePort],
    (inputs, outputs): (&[String], &[String]),
    beside: &Beside<'_>,
    budget: &Budget,
) -> Result<(Netlist, Vec<String>), Fault> {
    let net = behaviour::reference_netlist(raw, ports, (beside, budget), false)?;
    let span = raw.files.as_ref().map_or(raw.kind.span(), Spanned::span);
    if !net.registers.is_empty() {
        let message = "The reference has registers, but the exercise names no clock; add [clock] with its `port`.";
        return Err((span, message.into()));
    }
    // Unknown outputs would let everything pass.
    let mut sure = net.clone();
    sure.outputs.iter_mut().for_each(|o| o.unknown = Lit::FALSE);
    let (demanding, is) =
        (machine_of(&sure, ports, inputs, outputs, None), machine_of(&net, ports, inputs, outputs, None));
    let joined = Joined::new(&demanding, &is, u32::try_from(inputs.len()).unwrap_or(u32::MAX));
    let mut budget = budget.clone().with_steps(REFERENCE_STEPS);
    match joined.compare(REFERENCE_EFFORT, &mut budget) {
        Ok(Combinational::Equal) => {}
        Ok(Combinational::Differs(levels)) => {
            let seen = prove::outputs_at(&is, &levels);
            let unknown = outputs.iter().zip(&seen).find(|(_, l)| *l == "X").map_or("an output", |(n, _)| n.as_str());
            let at = inputs_text(ports, inputs, &levels);
            return Err((span, format!("The reference leaves `{unknown}` unknown at {at}; give it a value there.")));
        }
        Ok(Combinational::Unknown) | Err(_) => {
            return Err((span, "The reference needs more than the check's budget; make it simpler.".into()));
        }
    }
    let files = raw.files.as_ref().map(|f| f.get_ref().join(", ")).unwrap_or_default();
    Ok((net, vec![format!("As the reference {files} does.")]))
}

/// `x=0110, y=0x00ff`
pub fn inputs_text(ports: &[ExercisePort], names: &[String], levels: &[bool]) -> String {
    let level = |bit: &String| names.iter().position(|n| n == bit).is_some_and(|k| levels[k]);
    let text = |p: &ExercisePort| p.bit_names().map(|n| if level(&n) { '1' } else { '0' }).collect::<String>();
    let parts = ports.iter().filter(|p| p.is_input).map(|p| format!("{}={}", p.name, value_text(&text(p))));
    parts.collect::<Vec<_>>().join(", ")
}

/// Bits of a long vector in base 16, of a short one as they are; what is not known in full stays in bits.
pub fn value_text(bits: &str) -> String {
    if bits.len() <= 8 || bits.chars().any(|c| !matches!(c, '0' | '1')) {
        return bits.to_owned();
    }
    let first = (bits.len() - 1) % 4 + 1;
    let mut digits = String::from("0x");
    let mut at = 0;
    while at < bits.len() {
        let end = if at == 0 { first } else { at + 4 };
        digits.extend(u32::from_str_radix(&bits[at..end], 2).ok().and_then(|d| char::from_digit(d, 16)));
        at = end;
    }
    digits
}
