//! A derivation to take elsewhere: as text, LaTeX, Verilog and VHDL.

use crate::derivation::{Derivation, DerivedOutput};
use elab::ExercisePort;
use logic::{Cube, Form, GateOp, Notation};
use serde::{Deserialize, Serialize};
use std::fmt::Write;

/// A derivation in one language.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct ExportText {
    /// `text`, `latex`, `verilog` or `vhdl`.
    pub kind: String,
    /// The text.
    pub text: String,
}

/// The minimal forms of every output as text and LaTeX, and the sums of products as a module and an entity called
/// `name`.
pub fn exports(name: &str, ports: &[ExercisePort], derivation: &Derivation) -> Vec<ExportText> {
    let unit = unit_name(name);
    [
        ("text", as_text(derivation)),
        ("latex", as_latex(derivation)),
        ("verilog", as_verilog(&unit, ports, derivation)),
        ("vhdl", as_vhdl(&unit, ports, derivation)),
    ]
    .map(|(kind, text)| ExportText { kind: kind.into(), text })
    .to_vec()
}

/// A title as a name that both languages take.
pub fn unit_name(title: &str) -> String {
    let words: Vec<String> = title
        .split(|c: char| !c.is_ascii_alphanumeric())
        .filter(|w| !w.is_empty())
        .map(str::to_ascii_lowercase)
        .collect();
    let name = words.join("_");
    if name.starts_with(|c: char| c.is_ascii_alphabetic()) {
        name
    } else {
        format!("exercise_{name}").trim_end_matches('_').to_owned()
    }
}

fn cover(texts: &[String]) -> Vec<Cube> {
    texts.iter().filter_map(|t| Cube::parse(t).map(|(cube, _)| cube)).collect()
}

/// The first minimal sum and product of an output.
fn forms(output: &DerivedOutput, inputs: u32) -> (Form, Form) {
    let first = |form: &crate::derivation::TwoLevel| form.covers.first().map(|c| cover(&c.cubes)).unwrap_or_default();
    (Form::sop(inputs, &first(&output.sop)), Form::pos(inputs, &first(&output.pos)))
}

fn as_text(derivation: &Derivation) -> String {
    let mut out = String::new();
    for output in &derivation.outputs {
        let first = |form: &crate::derivation::TwoLevel| form.covers.first().map_or(String::new(), |c| c.text.clone());
        let _ = writeln!(out, "{} = {}", output.name, first(&output.sop));
        let _ = writeln!(out, "{} = {}", output.name, first(&output.pos));
    }
    out
}

fn latex_name(name: &str) -> String {
    match name.split_once('[') {
        Some((base, index)) => format!("\\mathit{{{}}}_{{{}}}", base.replace('_', "\\_"), index.trim_end_matches(']')),
        None if name.chars().count() == 1 => name.to_owned(),
        None => format!("\\mathit{{{}}}", name.replace('_', "\\_")),
    }
}

fn latex(form: &Form, names: &[String], inner: bool) -> String {
    match form {
        Form::Const(value) => u8::from(*value).to_string(),
        Form::Literal { input, positive } => {
            let name = latex_name(names.get(*input as usize).map_or("", String::as_str));
            if *positive { name } else { format!("\\overline{{{name}}}") }
        }
        Form::Gate(op, operands) => {
            let (joint, inverted) = match op {
                GateOp::And => ("\\,", false),
                GateOp::Or => (" + ", false),
                GateOp::Xor => (" \\oplus ", false),
                GateOp::Nand | GateOp::Not => ("\\,", true),
                GateOp::Nor => (" + ", true),
                GateOp::Xnor => (" \\oplus ", true),
            };
            let parts: Vec<String> = operands.iter().map(|f| latex(f, names, *op == GateOp::And)).collect();
            let text = parts.join(joint);
            match (inverted, inner && *op != GateOp::And) {
                (true, _) => format!("\\overline{{{text}}}"),
                (false, true) => format!("({text})"),
                (false, false) => text,
            }
        }
    }
}

fn as_latex(derivation: &Derivation) -> String {
    let n = u32::try_from(derivation.inputs.len()).unwrap_or(0);
    let mut out = String::from("\\begin{align*}\n");
    for output in &derivation.outputs {
        let (sop, pos) = forms(output, n);
        let name = latex_name(&output.name);
        let _ = writeln!(out, "  {name} &= {} \\\\", latex(&sop, &derivation.inputs, false));
        let _ = writeln!(out, "  {name} &= {} \\\\", latex(&pos, &derivation.inputs, false));
    }
    out.push_str("\\end{align*}\n");
    out
}

fn as_verilog(unit: &str, ports: &[ExercisePort], derivation: &Derivation) -> String {
    let n = u32::try_from(derivation.inputs.len()).unwrap_or(0);
    let list = ports.iter().map(|p| {
        let range = p.shape.range().map_or(String::new(), |(l, r)| format!("[{l}:{r}] "));
        format!("    {} wire {range}{}", if p.is_input { "input " } else { "output" }, p.name)
    });
    let mut out = format!("module {unit} (\n{}\n);\n", list.collect::<Vec<_>>().join(",\n"));
    for output in &derivation.outputs {
        let _ = writeln!(
            out,
            "    assign {} = {};",
            output.name,
            verilog_constant(forms(output, n).0.text(&derivation.inputs, Notation::Operators))
        );
    }
    out.push_str("endmodule\n");
    out
}

fn verilog_constant(text: String) -> String {
    match text.as_str() {
        "0" => "1'b0".into(),
        "1" => "1'b1".into(),
        _ => text,
    }
}

/// In VHDL `and` and `or` may not be mixed without parentheses, and a bit is picked with parentheses.
fn vhdl(form: &Form, names: &[String], inner: bool) -> String {
    match form {
        Form::Const(value) => format!("'{}'", u8::from(*value)),
        Form::Literal { input, positive } => {
            let name = names.get(*input as usize).map_or("", String::as_str).replace('[', "(").replace(']', ")");
            match (positive, inner) {
                (true, _) => name,
                (false, true) => format!("(not {name})"),
                (false, false) => format!("not {name}"),
            }
        }
        Form::Gate(op, operands) => {
            let parts: Vec<String> = operands.iter().map(|f| vhdl(f, names, true)).collect();
            let joint = format!(" {} ", op.word().to_ascii_lowercase());
            let text = parts.join(&joint);
            if inner { format!("({text})") } else { text }
        }
    }
}

fn as_vhdl(unit: &str, ports: &[ExercisePort], derivation: &Derivation) -> String {
    let n = u32::try_from(derivation.inputs.len()).unwrap_or(0);
    let list = ports.iter().map(|p| {
        let kind = match p.shape.range() {
            None => "std_logic".to_owned(),
            Some((l, r)) => format!("std_logic_vector({l} {} {r})", if l >= r { "downto" } else { "to" }),
        };
        format!("        {} : {} {kind}", p.name, if p.is_input { "in " } else { "out" })
    });
    let mut out = format!(
        "library ieee;\nuse ieee.std_logic_1164.all;\n\nentity {unit} is\n    port (\n{}\n    );\nend entity {unit};\n\narchitecture equations of {unit} is\nbegin\n",
        list.collect::<Vec<_>>().join(";\n")
    );
    for output in &derivation.outputs {
        let target = output.name.replace('[', "(").replace(']', ")");
        let _ = writeln!(out, "    {target} <= {};", vhdl(&forms(output, n).0, &derivation.inputs, false));
    }
    out.push_str("end architecture equations;\n");
    out
}
