//! Other ways to join a design's ports to those of the exercise: inverted, reversed, swapped. Which of them would be
//! right is for the caller to prove.

use crate::near_miss::Near;
use elab::ExercisePort;
use prove::{Machine, OutputTap, Source};

/// A design joined in another way, and what is to be said when it is right so.
pub(crate) struct Variant<'n> {
    pub machine: Machine<'n>,
    pub near: Near,
}

/// Ports that are tried pair by pair.
const MOST_PAIRED: usize = 8;

/// A design with its ports.
pub(crate) struct Joins<'a> {
    pub ports: &'a [ExercisePort],
    /// Input bits as the machine numbers them.
    pub inputs: &'a [String],
    /// Output bits as the machine numbers them.
    pub outputs: &'a [String],
    pub design: &'a Machine<'a>,
    /// An input that is not played with: the reset.
    pub fixed: Option<u32>,
}

impl<'a> Joins<'a> {
    /// All of them, the likeliest first.
    pub(crate) fn variants(&self) -> Vec<Variant<'a>> {
        let mut list = self.whole_ports();
        list.extend(self.inputs_turned_or_swapped());
        list.extend(self.outputs_swapped());
        list
    }

    /// The design with each source changed.
    pub(crate) fn with_inputs(&self, change: impl Fn(Source) -> Source) -> Machine<'a> {
        let inputs = self.design.inputs.iter().map(|s| s.map(&change)).collect();
        Machine { inputs, ..self.design.clone() }
    }

    fn with_outputs(&self, change: impl Fn(usize) -> (usize, bool)) -> Machine<'a> {
        let outputs = (0..self.design.outputs.len())
            .map(|k| {
                let (from, flip) = change(k);
                self.design.outputs[from].map(|t| OutputTap { complement: t.complement != flip, ..t })
            })
            .collect();
        Machine { outputs, ..self.design.clone() }
    }

    /// Numbers of a port's bits among the inputs or outputs.
    fn bits(&self, port: &ExercisePort) -> Vec<usize> {
        let names = if port.is_input { self.inputs } else { self.outputs };
        port.bit_names().filter_map(|n| names.iter().position(|m| *m == n)).collect()
    }

    fn whole_ports(&self) -> Vec<Variant<'a>> {
        let mut list = Vec::new();
        let mut add = |kind, machine, message, repair| list.push(variant(kind, machine, message, repair));
        let outputs: Vec<&ExercisePort> = self.ports.iter().filter(|p| !p.is_input).collect();
        if outputs.len() > 1 {
            let message = "All outputs are inverted.".to_owned();
            add("output_inverted", self.with_outputs(|k| (k, true)), message, "Invert every output.".into());
        }
        for port in &outputs {
            let bits = self.bits(port);
            add(
                "output_inverted",
                self.with_outputs(|k| (k, bits.contains(&k))),
                format!("The output `{}` is inverted.", port.name),
                format!("Invert `{}`.", port.name),
            );
        }
        for port in self.ports.iter().filter(|p| p.shape.width() > 1) {
            let bits = self.bits(port);
            let turned = |k: usize| {
                bits.iter().position(|b| *b == k).and_then(|at| bits.get(bits.len() - 1 - at)).copied().unwrap_or(k)
            };
            let machine = if port.is_input {
                self.with_inputs(|s| match s {
                    Source::Input(k, c) => Source::Input(turned(k as usize) as u32, c),
                    other => other,
                })
            } else {
                self.with_outputs(|k| (turned(k), false))
            };
            let message = format!("The bits of `{}` are in the other order.", port.name);
            add("vector_reversed", machine, message, format!("Turn the bits of `{}` around.", port.name));
        }
        list
    }

    fn inputs_turned_or_swapped(&self) -> Vec<Variant<'a>> {
        let mut list = Vec::new();
        let mut add = |kind, machine, message, repair| list.push(variant(kind, machine, message, repair));
        let ports: Vec<(Vec<u32>, &ExercisePort)> = self
            .ports
            .iter()
            .filter(|p| p.is_input)
            .map(|p| (self.bits(p).into_iter().map(|k| k as u32).collect::<Vec<_>>(), p))
            .filter(|(bits, _)| !bits.is_empty() && self.fixed.is_none_or(|f| !bits.contains(&f)))
            .take(MOST_PAIRED)
            .collect();
        for (bits, port) in &ports {
            add(
                "input_inverted",
                self.with_inputs(|s| match s {
                    Source::Input(k, c) if bits.contains(&k) => Source::Input(k, !c),
                    other => other,
                }),
                format!("It takes `{}` the other way round.", port.name),
                format!("Use the complement of `{}`.", port.name),
            );
        }
        for (i, (a, first)) in ports.iter().enumerate() {
            for (b, second) in ports[i + 1..].iter().filter(|(b, _)| b.len() == a.len()) {
                let message = format!("`{}` and `{}` are swapped.", first.name, second.name);
                let other = |k: u32| {
                    let of = |from: &[u32], to: &[u32]| from.iter().position(|f| *f == k).map(|at| to[at]);
                    of(a, b).or_else(|| of(b, a)).unwrap_or(k)
                };
                let machine = self.with_inputs(|s| match s {
                    Source::Input(k, c) => Source::Input(other(k), c),
                    other => other,
                });
                add("inputs_swapped", machine, message, format!("Swap `{}` and `{}`.", first.name, second.name));
            }
        }
        list
    }

    fn outputs_swapped(&self) -> Vec<Variant<'a>> {
        let mut list = Vec::new();
        let mut add = |kind, machine, message, repair| list.push(variant(kind, machine, message, repair));
        let ports: Vec<(Vec<usize>, &ExercisePort)> =
            self.ports.iter().filter(|p| !p.is_input).map(|p| (self.bits(p), p)).take(MOST_PAIRED).collect();
        for (i, (a, first)) in ports.iter().enumerate() {
            for (b, second) in ports[i + 1..].iter().filter(|(b, _)| b.len() == a.len()) {
                let swapped = |k: usize| {
                    let of = |from: &[usize], to: &[usize]| from.iter().position(|f| *f == k).map(|at| to[at]);
                    of(a, b).or_else(|| of(b, a)).unwrap_or(k)
                };
                let message = format!("The outputs `{}` and `{}` are swapped.", first.name, second.name);
                let repair = format!("Swap `{}` and `{}`.", first.name, second.name);
                add("outputs_swapped", self.with_outputs(|k| (swapped(k), false)), message, repair);
            }
        }
        list
    }
}

/// One whose place isn't known.
pub(crate) fn variant<'n>(kind: &'static str, machine: Machine<'n>, message: String, repair: String) -> Variant<'n> {
    Variant { machine, near: Near::plain(kind, message, repair, None) }
}
