//! The image: what is loaded on a board. A design as tables and flip-flops of the device with the pins of its wiring, and
//! a fingerprint of what it was made from.

use crate::model::{Board, Device};
use crate::wiring::Wiring;
use base::{Budget, Exhausted, SourceMap, Span};
use design::{AsyncControl, InputBit, Lit, LutMap, Netlist, OutputBit, Register};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// What every image file begins with.
const FORMAT: &str = "zesty-gate/image/1";

/// A level that is read: twice the number of a wire, and one more for its complement. Wire 0 is the constant 0. Then come
/// the inputs, two wires for each flip-flop (what it holds, and 1 while that is unknown), the tables, and the doubts.
pub type Read = u32;

/// A bit of a port, and the pin it is joined to.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ImagePort {
    /// The port of the design.
    pub port: String,
    /// Places above the least significant bit.
    pub position: u32,
    /// The pin of the device; absent: joined to none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pin: Option<String>,
}

/// A look-up table.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ImageTable {
    /// What it reads, at most six.
    pub reads: Vec<Read>,
    /// Bit `i` is its level where what it reads, the first one least significant, reads `i`.
    pub truth: u64,
}

/// A level that a flip-flop takes at once.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ImageControl {
    /// Where it is 1, the level is taken.
    pub condition: Read,
    /// The level.
    pub value: Read,
    /// 1 where the level is unknown.
    pub unknown: Read,
}

/// A flip-flop.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct FlipFlop {
    /// The signal it keeps.
    pub name: String,
    /// Places above the least significant bit.
    pub position: u32,
    /// Its clock.
    pub clock: Read,
    /// It loads when the clock goes up, otherwise when it goes down.
    pub rising: bool,
    /// What it loads.
    pub next: Read,
    /// 1 where what it loads is unknown.
    pub next_unknown: Read,
    /// Asynchronous sets and resets, the first one that holds counting.
    pub controls: Vec<ImageControl>,
    /// Its level when it is loaded; absent: unknown.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub initial: Option<bool>,
}

/// What an output bit gives.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ImageOutput {
    /// Where it goes.
    pub port: ImagePort,
    /// Its level.
    pub value: Read,
    /// 1 where it is unknown or floats.
    pub unknown: Read,
    /// 1 where it floats.
    pub floating: Read,
}

/// A design as it is loaded on a board.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Image {
    /// `zesty-gate/image/1`
    pub format: String,
    /// The unit of the design that was mapped.
    pub design: String,
    /// Short name of the board it is for.
    pub board: String,
    /// The device it is for.
    pub device: String,
    /// What it was made from, as a number in hexadecimal digits: equal sources, wiring and board give equal ones.
    pub fingerprint: String,
    /// Inputs of the design.
    pub inputs: Vec<ImagePort>,
    /// Flip-flops.
    pub flip_flops: Vec<FlipFlop>,
    /// The tables of the device; one comes after those that it reads.
    pub tables: Vec<ImageTable>,
    /// Further tables, which no device has: they say where a level is unknown. Empty for most designs.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub doubts: Vec<ImageTable>,
    /// Outputs of the design.
    pub outputs: Vec<ImageOutput>,
}

/// Why there is no image of a design.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum NoImage {
    /// Mapping took too long.
    #[error("mapping the design took too long ({0})")]
    Budget(String),
    /// The device has not so many.
    #[error("the design takes {wanted} {what}, and the device {device} has {has}")]
    Full {
        /// `look-up tables` or `flip-flops`
        what: &'static str,
        /// How many it takes.
        wanted: u64,
        /// How many there are.
        has: u64,
        /// The device.
        device: String,
    },
    /// The text is no image.
    #[error("this is not an image: {0}")]
    Data(String),
}

impl From<Exhausted> for NoImage {
    fn from(exhausted: Exhausted) -> Self {
        NoImage::Budget(exhausted.0.to_string())
    }
}

/// Why a board doesn't take an image.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum Refusal {
    /// The power switch is off.
    #[error("The board has no power; switch it on, then load the image.")]
    NoPower,
    /// It was made for another device.
    #[error("The image is for the device {image}, and this board carries a {board}; check the hand-in again.")]
    WrongDevice {
        /// The device of the image.
        image: String,
        /// The device of the board.
        board: String,
    },
    /// Sources, wiring or board changed since it was made.
    #[error("The image is older than what it was made from; check the hand-in again.")]
    Older,
}

/// Gives the literals of a netlist their wires.
struct Wires {
    of: BTreeMap<Lit, Read>,
    next: u32,
}

impl Wires {
    fn read(&self, lit: Lit) -> Read {
        let plain = self.of.get(&lit).copied();
        plain.or_else(|| self.of.get(&!lit).map(|r| r ^ 1)).unwrap_or(u32::from(lit.is_complement()))
    }

    fn give(&mut self, lit: Lit) {
        self.of.insert(lit, 2 * self.next);
        self.next += 1;
    }

    fn tables(&mut self, map: &LutMap) -> Vec<ImageTable> {
        let table = |lut: &design::Lut| {
            let reads = lut.inputs.iter().map(|l| self.read(*l)).collect();
            self.give(lut.output);
            ImageTable { reads, truth: lut.truth }
        };
        map.luts.iter().map(table).collect()
    }
}

/// Where levels of outputs and flip-flops are unknown.
fn doubtful(net: &Netlist) -> Vec<Lit> {
    let registers = net.registers.iter().flat_map(|r| {
        let controls = r.controls.iter().map(|c| c.unknown);
        [r.next_unknown].into_iter().chain(controls)
    });
    net.outputs.iter().map(|o| o.unknown).chain(registers).filter(|l| !l.is_const()).collect()
}

fn fits(device: &Device, tables: usize, flip_flops: usize) -> Result<(), NoImage> {
    let kinds = [("look-up tables", tables as u64, device.luts), ("flip-flops", flip_flops as u64, device.flip_flops)];
    for (what, wanted, has) in kinds {
        if let Some(has) = has
            && wanted > has
        {
            return Err(NoImage::Full { what, wanted, has, device: device.name.clone() });
        }
    }
    Ok(())
}

/// What an image is called, and what of.
#[derive(Clone, Copy, Debug)]
pub struct Made<'a> {
    /// The unit of the design.
    pub design: &'a str,
    /// What it is made from, as [`Image::fingerprint`].
    pub fingerprint: &'a str,
}

impl Image {
    /// Maps a netlist to the device of a board. `bit` names a port's bit as the wiring does.
    ///
    /// # Errors
    /// When the device is too small or the budget runs out.
    pub fn new(
        net: &Netlist,
        made: Made<'_>,
        (board, wiring): (&Board, &Wiring),
        bit: impl Fn(&str, u32) -> String,
        budget: &mut Budget,
    ) -> Result<Self, NoImage> {
        let cover = LutMap::new(net, board.device.lut_inputs, budget)?;
        fits(&board.device, cover.luts.len(), net.registers.len())?;
        let pin = |port: &str, position: u32| {
            let end = wiring.ends.get(&bit(port, position));
            let pin = end.and_then(|t| board.terminals().get(*t)).map(|t| t.pin.clone());
            ImagePort { port: port.to_owned(), position, pin }
        };
        let mut wires = Wires { of: BTreeMap::from([(Lit::FALSE, 0)]), next: 1 };
        net.inputs.iter().for_each(|i| wires.give(i.value));
        for register in &net.registers {
            wires.give(register.value);
            wires.give(register.unknown);
        }
        let tables = wires.tables(&cover);
        let doubts = wires.tables(&LutMap::over(net, &doubtful(net), board.device.lut_inputs, budget)?);
        let flip_flop = |r: &Register| FlipFlop {
            name: r.name.clone(),
            position: r.position,
            clock: wires.read(r.clock),
            rising: r.rising,
            next: wires.read(r.next),
            next_unknown: wires.read(r.next_unknown),
            controls: r.controls.iter().map(|c| control(c, |l| wires.read(l))).collect(),
            initial: r.initial,
        };
        let output = |o: &OutputBit| ImageOutput {
            port: pin(&o.port, o.position),
            value: wires.read(o.value),
            unknown: wires.read(o.unknown),
            floating: wires.read(o.floating),
        };
        Ok(Self {
            format: FORMAT.into(),
            design: made.design.to_owned(),
            board: board.name.clone(),
            device: board.device.name.clone(),
            fingerprint: made.fingerprint.to_owned(),
            inputs: net.inputs.iter().map(|i| pin(&i.port, i.position)).collect(),
            flip_flops: net.registers.iter().map(flip_flop).collect(),
            tables,
            doubts,
            outputs: net.outputs.iter().map(output).collect(),
        })
    }

    /// Reads an image from JSON.
    ///
    /// # Errors
    /// When the text is none, or a table reads what comes after it.
    pub fn from_json(text: &str) -> Result<Self, NoImage> {
        let image: Image = serde_json::from_str(text).map_err(|e| NoImage::Data(e.to_string()))?;
        let fail = |what: String| Err(NoImage::Data(what));
        if image.format != FORMAT {
            return fail(format!("`format` is `{}`, not `{FORMAT}`", image.format));
        }
        let first = 1 + image.inputs.len() + 2 * image.flip_flops.len();
        for (number, table) in image.all_tables().enumerate() {
            if table.reads.len() > 6 || table.reads.iter().any(|r| (*r / 2) as usize >= first + number) {
                return fail(format!("table {} reads more than six wires, or one that comes after it", number + 1));
            }
        }
        let end = first + image.all_tables().count();
        let outputs = image.outputs.iter().flat_map(|o| [o.value, o.unknown, o.floating]);
        let flip_flops = image.flip_flops.iter().flat_map(|f| {
            let controls = f.controls.iter().flat_map(|c| [c.condition, c.value, c.unknown]);
            [f.clock, f.next, f.next_unknown].into_iter().chain(controls)
        });
        if outputs.chain(flip_flops).any(|r| (r / 2) as usize >= end) {
            return fail("an output or a flip-flop reads a wire that isn't there".into());
        }
        Ok(image)
    }

    /// `3 look-up tables and 4 flip-flops`
    pub fn takes(&self) -> String {
        let count = |n: usize, one: &str| if n == 1 { format!("1 {one}") } else { format!("{n} {one}s") };
        let tables = count(self.tables.len(), "look-up table");
        match self.flip_flops.len() {
            0 => tables,
            n => format!("{tables} and {}", count(n, "flip-flop")),
        }
    }

    /// The image as JSON, the same text for the same image.
    pub fn to_json(&self) -> String {
        serde_json::to_string(self).unwrap_or_default()
    }

    fn all_tables(&self) -> impl Iterator<Item = &ImageTable> {
        self.tables.iter().chain(&self.doubts)
    }

    /// Does a board take the image? `fingerprint` is that of what the image would be made from now.
    ///
    /// # Errors
    /// When it has no power, carries another device, or the image is older than its sources.
    pub fn load(&self, board: &Board, has_power: bool, fingerprint: &str) -> Result<(), Refusal> {
        if !has_power {
            return Err(Refusal::NoPower);
        }
        if self.device != board.device.name {
            return Err(Refusal::WrongDevice { image: self.device.clone(), board: board.device.name.clone() });
        }
        if self.fingerprint != fingerprint {
            return Err(Refusal::Older);
        }
        Ok(())
    }

    /// The image as a netlist again, made from nothing but its tables: the bench runs this, not the design.
    pub fn netlist(&self) -> Netlist {
        let mut net = Netlist::new();
        for input in &self.inputs {
            let value = net.add_input();
            net.inputs.push(InputBit { port: input.port.clone(), position: input.position, value });
        }
        let levels: Vec<Lit> = net.inputs.iter().map(|i| i.value).collect();
        let rails = self.build(&mut net, &levels);
        let bits = self.outputs.iter().zip(rails);
        net.outputs = bits.map(|(o, rails)| output(&o.port.port, o.port.position, rails)).collect();
        net
    }

    /// Adds tables and flip-flops to a netlist, with these levels at the inputs. Gives value, unknown and floating rails
    /// of each output.
    pub fn build(&self, net: &mut Netlist, inputs: &[Lit]) -> Vec<[Lit; 3]> {
        let mut wires = vec![Lit::FALSE];
        wires.extend((0..self.inputs.len()).map(|k| inputs.get(k).copied().unwrap_or(Lit::FALSE)));
        let held = wires.len();
        for _ in &self.flip_flops {
            wires.push(net.add_input());
            wires.push(net.add_input());
        }
        let read = |wires: &[Lit], r: Read| {
            let lit = wires.get((r / 2) as usize).copied().unwrap_or(Lit::FALSE);
            if r % 2 == 1 { !lit } else { lit }
        };
        for table in self.all_tables() {
            let reads: Vec<Lit> = table.reads.iter().map(|r| read(&wires, *r)).collect();
            wires.push(of_table(net, &reads, table.truth));
        }
        let read = |r: Read| read(&wires, r);
        // No line of a source stands behind an image.
        let span = Span::new(SourceMap::new().id_at(0), 0, 0);
        net.registers.extend(self.flip_flops.iter().enumerate().map(|(k, f)| Register {
            name: f.name.clone(),
            position: f.position,
            value: wires[held + 2 * k],
            unknown: wires[held + 2 * k + 1],
            clock: read(f.clock),
            rising: f.rising,
            next: read(f.next),
            next_unknown: read(f.next_unknown),
            controls: f.controls.iter().map(|c| lits(c, read)).collect(),
            initial: f.initial,
            span,
        }));
        self.outputs.iter().map(|o| [o.value, o.unknown, o.floating].map(read)).collect()
    }
}

/// An output bit with its value, unknown and floating rails.
fn output(port: &str, position: u32, [value, unknown, floating]: [Lit; 3]) -> OutputBit {
    OutputBit { port: port.to_owned(), position, value, unknown, floating }
}

fn control(c: &AsyncControl, read: impl Fn(Lit) -> Read) -> ImageControl {
    ImageControl { condition: read(c.condition), value: read(c.value), unknown: read(c.unknown) }
}

fn lits(c: &ImageControl, read: impl Fn(Read) -> Lit) -> AsyncControl {
    AsyncControl { condition: read(c.condition), value: read(c.value), unknown: read(c.unknown) }
}

/// A table as gates: chosen by its last input between the halves of its rows.
fn of_table(net: &mut Netlist, reads: &[Lit], truth: u64) -> Lit {
    let rows = 1u32 << reads.len();
    let mask = if rows == 64 { u64::MAX } else { (1 << rows) - 1 };
    if truth & mask == 0 {
        return Lit::FALSE;
    }
    if truth & mask == mask {
        return Lit::TRUE;
    }
    let Some((last, rest)) = reads.split_last() else { return Lit::FALSE };
    let then = of_table(net, rest, truth >> (rows / 2));
    let otherwise = of_table(net, rest, truth);
    net.mux(*last, then, otherwise)
}
