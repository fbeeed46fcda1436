//! The bench of a hand-in: its image on the exercise's board, run by switches and clock ticks, and held against what the
//! exercise expects of the parts that it names.

use crate::diagnostics as say;
use crate::state::BenchState;
use crate::wiring::planned;
use base::{Budget, Diagnostic, Exhausted, Random};
use board::{Board, Image, ImagePort, Lamp, OutputLevel, PartKind, Wiring};
use cycle::Ticker;
use design::{InputBit, Lit, Netlist, OutputBit};
use elab::HandInFile;
use exercise::{Exercise, WiringPlan};
use prove::{Machine, OutputTap, Protocol, Running, Source};
use sha2::{Digest, Sha256};
use std::collections::BTreeMap;

/// Oscillator periods that one question may ask for.
pub const MOST_TICKS: u64 = 50_000_000;
/// Of a design whose ticks machine code does not run.
const MOST_SLOW_TICKS: u64 = 4_096;
/// Nodes that machine code may pass within one question.
const CODE_NODES: u64 = 2_000_000_000;
/// Below this machine code is not worth making.
const FEW_TICKS: u64 = 64;
/// Moments at which the lamps are looked at within one question.
const LOOKS: u64 = 128;
/// Open inputs up to which it is tried whether they matter.
const MOST_OPEN: usize = 6;
/// Steps of the budget that a question may take.
const ASK_STEPS: u64 = 200_000_000;

/// What an image of a hand-in would be made from now, as 16 hexadecimal digits: files in the order of their names, the
/// chosen top, the wiring, and the exercise's board with its plan.
pub fn fingerprint(
    exercise: &Exercise,
    files: &[HandInFile],
    top: Option<&str>,
    wiring: Option<&HandInFile>,
) -> String {
    let mut hash = Sha256::new();
    // Each piece with its length before it, so that no two lists of pieces read the same.
    let mut piece = |bytes: &[u8]| {
        hash.update((bytes.len() as u64).to_le_bytes());
        hash.update(bytes);
    };
    let mut files: Vec<_> = files.iter().collect();
    files.sort_by(|a, b| (&a.name, &a.bytes).cmp(&(&b.name, &b.bytes)));
    for file in files {
        piece(file.name.as_bytes());
        piece(&file.bytes);
    }
    piece(top.unwrap_or_default().as_bytes());
    piece(wiring.map_or(&[], |w| &w.bytes));
    if let Some(plan) = &exercise.wiring {
        piece(serde_json::to_string(&plan.board).unwrap_or_default().as_bytes());
        piece(serde_json::to_string(&plan.map).unwrap_or_default().as_bytes());
    }
    hash.finalize().iter().take(8).map(|byte| format!("{byte:02x}")).collect()
}

/// What the bench is asked.
#[derive(Clone, Debug, Default, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
pub struct BenchAsk {
    /// For each part of the board: is it on (up, pressed)?
    pub switches: Vec<bool>,
    /// A row of the table to set the switches for.
    pub row: Option<u64>,
    /// The power switch.
    pub has_power: bool,
    /// What the flip-flops hold, as the answer before said it; nothing: the image was just loaded.
    pub state: Option<String>,
    /// Periods of the oscillator to go on, at most [`MOST_TICKS`] and fewer for a large design.
    pub ticks: u64,
}

/// The board's terminals that the ports of an image are joined to.
struct Joints<'a> {
    board: &'a Board,
    inputs: Vec<Option<usize>>,
    outputs: Vec<Option<usize>>,
}

impl<'a> Joints<'a> {
    fn new(image: &Image, board: &'a Board) -> Self {
        let end = |port: &ImagePort, drives: bool| {
            let end = port.pin.as_ref().and_then(|pin| board.by_pin(pin));
            end.filter(|end| board.terminals()[*end].drives == drives)
        };
        Self {
            board,
            inputs: image.inputs.iter().map(|i| end(i, true)).collect(),
            outputs: image.outputs.iter().map(|o| end(&o.port, false)).collect(),
        }
    }

    /// The part that a terminal belongs to, by its position.
    fn part(&self, end: usize) -> usize {
        self.board.terminals()[end].part
    }

    /// The level that a terminal gives, the oscillator being high or low.
    fn level(&self, end: usize, switches: &[bool], high: bool) -> bool {
        self.board.part_of(end).level(switches.get(self.part(end)).copied().unwrap_or(false), high)
    }

    /// What each part shows; `rails` are value and unknown of each output in 64 lanes, those of `mask` counting.
    fn lamps(&self, rails: &[[u64; 3]], mask: u64) -> Vec<Lamp> {
        let mut given: Vec<Option<OutputLevel>> = vec![None; self.board.terminals().len()];
        for (end, [value, unknown, _]) in self.outputs.iter().zip(rails) {
            let Some(end) = end else { continue };
            let (value, unknown) = (value & mask, unknown & mask);
            let level = match value {
                _ if unknown != 0 || (value != 0 && value != mask) => OutputLevel::Unknown,
                value => (value != 0).into(),
            };
            given[*end] = Some(level.joined(given[*end]));
        }
        self.board.by_part(&self.board.seen(&given))
    }
}

/// `ticks:count:digits`: the clock ticks that have gone by, how many bits are kept, and these in hexadecimal digits.
fn read_state(text: &str) -> Option<(u64, Vec<bool>)> {
    let mut parts = text.split(':');
    let (ticks, count, digits) = (parts.next()?.parse().ok()?, parts.next()?.parse::<usize>().ok()?, parts.next()?);
    let mut bits: Vec<bool> = Vec::new();
    for digit in digits.chars() {
        let digit = digit.to_digit(16)?;
        bits.extend((0..4).map(|k| digit >> k & 1 == 1));
    }
    bits.truncate(count);
    Some((ticks, bits))
}

fn write_state(ticks: u64, bits: &[bool]) -> String {
    let digit = |four: &[bool]| four.iter().rev().fold(0, |d, bit| d << 1 | u32::from(*bit));
    let digits: String = bits.chunks(4).filter_map(|four| char::from_digit(digit(four), 16)).collect();
    format!("{ticks}:{}:{digits}", bits.len())
}

/// What the board does with an image of the hand-in `now`, given by its fingerprint. `None` for an exercise that is not
/// wired.
///
/// # Errors
/// When the levels never come to rest.
pub fn run_image(
    exercise: &Exercise,
    image: &Image,
    now: &str,
    ask: &BenchAsk,
    budget: &Budget,
) -> Result<Option<BenchState>, Exhausted> {
    let Some(plan) = &exercise.wiring else { return Ok(None) };
    let board = &plan.board;
    let joints = Joints::new(image, board);
    let mut state = BenchState { is_clocked: !image.flip_flops.is_empty(), ..BenchState::default() };
    state.switches = (0..board.parts.len()).map(|i| ask.switches.get(i).copied().unwrap_or(false)).collect();
    let name = |port: &ImagePort| exercise.bit_name(&port.port, port.position);
    let numbers = exercise.row_columns();
    let column = |port: &ImagePort| numbers.iter().position(|n| n.eq_ignore_ascii_case(&name(port)));
    if let Some(row) = ask.row.filter(|_| exercise.clocked().is_none()) {
        for (input, end) in image.inputs.iter().zip(&joints.inputs) {
            if let (Some(end), Some(column)) = (end, column(input)) {
                let level = row >> (numbers.len() - 1 - column).min(63) & 1 == 1;
                if let Some(on) = board.part_of(*end).stand_for(level) {
                    state.switches[joints.part(*end)] = on;
                }
            }
        }
    }
    let ends =
        image.inputs.iter().zip(&joints.inputs).chain(image.outputs.iter().map(|o| &o.port).zip(&joints.outputs));
    state.wired = ends.map(|(port, end)| (name(port), end.map(|end| joints.part(end)))).collect();
    let open: Vec<usize> = (0..joints.inputs.len()).filter(|k| joints.inputs[*k].is_none()).collect();
    state.has_open_input = !open.is_empty();
    if open.is_empty() && exercise.clocked().is_none() && numbers.len() <= 20 {
        let mut row = 0;
        for (input, end) in image.inputs.iter().zip(&joints.inputs) {
            if let (Some(end), Some(column)) = (end, column(input)) {
                row |= u64::from(joints.level(*end, &state.switches, false)) << (numbers.len() - 1 - column);
            }
        }
        state.row = Some(row);
    }
    state.lamps = vec![Lamp::Dark; board.parts.len()];
    if let Err(refusal) = image.load(board, ask.has_power, now) {
        state.refusal = Some(refusal.to_string());
        return Ok(Some(state));
    }
    if open.len() > MOST_OPEN || (state.is_clocked && !open.is_empty()) {
        let all = vec![[0, u64::MAX, 0]; image.outputs.len()];
        state.lamps = joints.lamps(&all, u64::MAX);
        return Ok(Some(state));
    }
    drive(image, (&joints, &open), ask, &mut state, budget)?;
    Ok(Some(state))
}

/// Lets the image follow the switches and the ticks.
fn drive(
    image: &Image,
    (joints, open): (&Joints<'_>, &[usize]),
    ask: &BenchAsk,
    state: &mut BenchState,
    budget: &Budget,
) -> Result<(), Exhausted> {
    let net = image.netlist();
    let input = |k: usize| u32::try_from(k).ok().map(|k| Source::Input(k, false));
    let tap = |number: usize| Some(OutputTap { number, complement: false });
    let machine = Machine {
        net: &net,
        inputs: (0..net.inputs.len()).map(input).collect(),
        outputs: (0..net.outputs.len()).map(tap).collect(),
    };
    let protocol = Protocol { inputs: u32::try_from(net.inputs.len()).unwrap_or(0), rising: true, reset: None };
    let mut loaded = Loaded {
        joints,
        open,
        switches: &state.switches,
        running: Running::new(&machine, &protocol),
        budget: budget.clone().with_steps(ASK_STEPS),
    };
    loaded.set(false);
    let before = ask.state.as_deref().and_then(read_state);
    let mut ticks = 0;
    match before {
        Some((count, kept)) if loaded.running.resume(&kept) => ticks = count,
        _ => loaded.running.power_up(),
    }
    loaded.running.settle(&mut loaded.budget)?;
    let mut looks = Looks::new(ask.ticks.min(MOST_TICKS), joints.board.parts.len());
    ticks += loaded.run(&net, ask.ticks.min(MOST_TICKS), &mut looks)?;
    let kept = loaded.running.kept();
    state.lamps = loaded.lamps();
    state.glow = looks.glow();
    if state.is_clocked {
        state.state = Some(write_state(ticks, &kept));
        state.ticks = ticks;
    }
    Ok(())
}

/// An image at work on a board.
struct Loaded<'a, 'n> {
    joints: &'a Joints<'a>,
    open: &'a [usize],
    switches: &'a [bool],
    running: Running<'n>,
    budget: Budget,
}

impl Loaded<'_, '_> {
    /// The level of an input in 64 lanes, the oscillator being high or low.
    fn word(&self, input: usize, high: bool) -> u64 {
        match self.joints.inputs[input] {
            Some(end) if self.joints.level(end, self.switches, high) => u64::MAX,
            Some(_) => 0,
            // Each lane has its own levels at open inputs.
            None => logic::input_word(6, self.open.iter().position(|o| *o == input).unwrap_or(0) as u32, 0),
        }
    }

    fn set(&mut self, high: bool) {
        for input in 0..self.joints.inputs.len() {
            self.running.set_input(input, self.word(input, high));
        }
    }

    /// Ticks, and looks at the lamps now and then; says how many were run, which are fewer where no machine code can be
    /// made of the design.
    fn run(&mut self, net: &Netlist, most: u64, looks: &mut Looks) -> Result<u64, Exhausted> {
        let mut ticker = if most >= FEW_TICKS && self.open.is_empty() { self.ticker(net) } else { None };
        let most = ticker.as_ref().map_or(most, |t| most.min(CODE_NODES / t.cost()));
        let words: Vec<u64> = (0..self.joints.inputs.len()).map(|k| self.word(k, false)).collect();
        let mut ran = 0;
        while ran < most {
            let mut step = looks.step(most - ran);
            let mut held = self.running.words();
            if ticker.as_mut().is_some_and(|t| t.run(&mut held, &words, step)) {
                self.running.set_words(&held);
                self.running.settle(&mut self.budget)?;
            } else {
                ticker = None;
                step = step.min(MOST_SLOW_TICKS.saturating_sub(ran));
                if step == 0 {
                    break;
                }
                for _ in 0..step {
                    self.set(true);
                    self.running.settle(&mut self.budget)?;
                    self.set(false);
                    self.running.settle(&mut self.budget)?;
                }
            }
            ran += step;
            looks.see(&self.lamps());
        }
        Ok(ran)
    }

    /// Machine code for ticks of the one oscillator that the design is joined to.
    fn ticker(&self, net: &Netlist) -> Option<Ticker> {
        let is_oscillator =
            |end: &Option<usize>| end.is_some_and(|end| self.joints.board.part_of(end).kind == PartKind::Oscillator);
        let mut joined = (0..self.joints.inputs.len()).filter(|k| is_oscillator(&self.joints.inputs[*k]));
        let (first, None) = (joined.next()?, joined.next()) else { return None };
        Ticker::new(net, first).ok()
    }

    fn lamps(&self) -> Vec<Lamp> {
        let rails: Vec<[u64; 3]> = (0..self.joints.outputs.len()).map(|k| self.running.output(k)).collect();
        self.joints.lamps(&rails, u64::MAX)
    }
}

/// Looks at the lamps between ticks, spread so that no rhythm of the design falls in with theirs.
struct Looks {
    every: u64,
    random: Random,
    count: u64,
    lit: Vec<u64>,
}

impl Looks {
    fn new(ticks: u64, parts: usize) -> Self {
        Self { every: (ticks / LOOKS).max(1), random: Random::new(ticks), count: 0, lit: vec![0; parts] }
    }

    /// Ticks until the next look.
    fn step(&mut self, left: u64) -> u64 {
        let half = self.every / 2;
        let step = match usize::try_from(self.every) {
            Ok(every) if half > 0 => half + 1 + self.random.below(every) as u64,
            _ => self.every,
        };
        step.min(left)
    }

    fn see(&mut self, lamps: &[Lamp]) {
        self.count += 1;
        for (lit, lamp) in self.lit.iter_mut().zip(lamps) {
            *lit += u64::from(*lamp == Lamp::Lit);
        }
    }

    /// The share of looks at which each part was lit, in percent; empty without a look.
    fn glow(&self) -> Vec<u8> {
        let share = |lit: &u64| u8::try_from((100 * lit + self.count / 2) / self.count).unwrap_or(100);
        if self.count == 0 { Vec::new() } else { self.lit.iter().map(share).collect() }
    }
}

/// What the Bench stage finds of an exercise that is not judged row by row.
pub enum Followed {
    /// The lamps do what the exercise says.
    Right,
    /// They don't.
    Wrong,
    /// Nothing can be said, for a reason.
    Unsaid(&'static str),
}

/// The image as it is seen from the parts that the exercise names: what their switches do to their lamps. `None` when an
/// input of the design is joined to nothing.
fn at_parts(exercise: &Exercise, plan: &WiringPlan, wiring: &Wiring, image: &Image) -> Option<Netlist> {
    let board = &plan.board;
    let planned = planned(plan);
    let end = |bit: &String| planned.ends.get(bit).or_else(|| wiring.ends.get(bit)).copied();
    let mut net = Netlist::new();
    let mut at: BTreeMap<usize, Lit> = BTreeMap::new();
    for port in exercise.ports.iter().filter(|p| p.is_input) {
        for position in (0..port.shape.width()).rev() {
            let value = net.add_input();
            net.inputs.push(InputBit { port: port.name.clone(), position, value });
            if let Some(end) = end(&port.shape.bit_name(&port.name, position)) {
                at.insert(end, value);
            }
        }
    }
    let joints = Joints::new(image, board);
    // A switch that the exercise doesn't name stays off.
    let rest = |end: usize| Lit::from(board.part_of(end).level_at_rest());
    let levels: Option<Vec<Lit>> =
        joints.inputs.iter().map(|end| end.map(|end| at.get(&end).copied().unwrap_or_else(|| rest(end)))).collect();
    let rails = image.build(&mut net, &levels?);
    for port in exercise.ports.iter().filter(|p| !p.is_input) {
        for position in (0..port.shape.width()).rev() {
            let end = end(&port.shape.bit_name(&port.name, position));
            let reach = |k: &usize| end.is_some() && joints.outputs[*k] == end;
            let mut reaching = (0..rails.len()).filter(reach).map(|k| rails[k]);
            let [value, unknown, floating] = match (reaching.next(), end) {
                (Some(first), _) => reaching.fold(first, |joined, other| {
                    let differ = net.xor(joined[0], other[0]);
                    [joined[0], net.any([joined[1], other[1], differ]), joined[2]]
                }),
                // A lamp that nothing drives is dark.
                (None, Some(end)) => [board.part_of(end).dark_level().into(), Lit::FALSE, Lit::FALSE],
                (None, None) => [Lit::FALSE, Lit::TRUE, Lit::TRUE],
            };
            net.outputs.push(OutputBit { port: port.name.clone(), position, value, unknown, floating });
        }
    }
    Some(net)
}

/// Holds the image of a right design behind its wires against a clocked exercise, or one with too many inputs for rows.
pub fn follows(
    exercise: &Exercise,
    plan: &WiringPlan,
    (wiring, image): (&Wiring, &Image),
    design: &Netlist,
    budget: &mut Budget,
) -> Followed {
    let Some(net) = at_parts(exercise, plan, wiring, image) else {
        return Followed::Unsaid(
            "An input of the design is joined to no part, so nothing says what the board would do.",
        );
    };
    const TOO_LONG: &str = "Whether the lamps follow could not be told within the budget.";
    let right = conform::does_right(exercise, (design, &net), budget).ok().flatten();
    match right {
        Some(true) => Followed::Right,
        Some(false) => Followed::Wrong,
        None => Followed::Unsaid(TOO_LONG),
    }
}

/// Why a design has no image, as a finding; nothing where only time ran out.
pub fn no_image(reason: &board::NoImage) -> Option<Diagnostic> {
    match reason {
        board::NoImage::Full { what, wanted, has, device } => Some(say::device_full(what, *wanted, *has, device)),
        _ => None,
    }
}
