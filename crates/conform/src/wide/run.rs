//! The Behaviour stage for wide combinational designs.

use crate::diagnostics as say;
use crate::outcome::Outcome;
use crate::path::path;
use crate::seen::Seen;
use base::{Budget, Exhausted, SourceMap};
use design::{Lit, Netlist, OutputBit};
use exercise::{Exercise, Wide, inputs_text, value_text};
use prove::{Combinational, Joined, Source, outputs_at};
use std::collections::BTreeMap;
use verdict::{Evidence, Proof, ProofBudget, ProofKind, ProofMethod};

/// Learnt clauses that a proof of one output may take.
const EFFORT: u64 = 300_000;
/// The same for a near miss.
pub const NEAR_EFFORT: u64 = 5_000;
/// Steps of the budget that a proof by SAT may take.
const SAT_STEPS: u64 = 400_000_000;
/// Steps that running every input may take where SAT doesn't tell.
const ROW_STEPS: u64 = 3_000_000_000;

/// `x[0]=1, y=0`: the few inputs that make the difference; `always` when none do; empty when they are many.
fn enough_text(names: &[String], levels: &[bool], relevant: &[bool]) -> String {
    const MANY: usize = 8;
    let at: Vec<usize> = (0..names.len()).filter(|k| relevant[*k]).collect();
    match at.len() {
        0 => "always".into(),
        n if n > MANY || n == names.len() => String::new(),
        _ => at.iter().map(|k| format!("{}={}", names[*k], u8::from(levels[*k]))).collect::<Vec<_>>().join(", "),
    }
}

/// Holds a netlist, whose ports were found to fit, against a wide exercise.
pub(crate) fn run(
    exercise: &Exercise,
    wide: &Wide,
    (netlist, sources): (&Netlist, &SourceMap),
    budget: &mut Budget,
) -> Outcome {
    judge(exercise, wide, (netlist, sources), budget).unwrap_or_else(|exhausted| unsure(&exhausted.0.to_string()))
}

/// Is a netlist, whose ports were found to fit, proved right with little effort?
pub(crate) fn is_right(
    exercise: &Exercise,
    wide: &Wide,
    netlist: &Netlist,
    seen: &[bool],
    budget: &mut Budget,
) -> bool {
    let joined = Joined::new(&wide.machine(), &wide.join(netlist, &exercise.ports), wide.width());
    is_equal(&joined, seen, NEAR_EFFORT, budget)
}

/// Equal? Tried first on an input on which the design as it is was found wrong, then on a sample.
pub fn is_equal(joined: &Joined, seen: &[bool], effort: u64, budget: &mut Budget) -> bool {
    joined.is_right_at(seen, budget).unwrap_or(false)
        && joined.sample(budget).is_ok_and(|(right, total)| right == total)
        && joined.compare(effort, budget).is_ok_and(|found| found == Combinational::Equal)
}

fn unsure(what: &str) -> Outcome {
    Outcome {
        passed: 0,
        total: 1,
        proof: Proof { kind: ProofKind::None, method: Some(ProofMethod::Sat), rows: None, cycles: None, budget: None },
        findings: vec![(say::proof_too_hard(what), None)],
        seen: Seen::Nothing,
        cannot_tell: true,
        rhythm: None,
    }
}

fn judge(
    exercise: &Exercise,
    wide: &Wide,
    (netlist, sources): (&Netlist, &SourceMap),
    budget: &mut Budget,
) -> Result<Outcome, Exhausted> {
    let (reference, design) = (wide.machine(), wide.join(netlist, &exercise.ports));
    let joined = Joined::new(&reference, &design, wide.width());
    let (mut passed, mut total) = joined.sample(budget)?;
    let mut outcome = Outcome { rhythm: None, seen: Seen::Nothing, cannot_tell: false, ..unsure("") };
    outcome.findings.clear();
    let (found, method, used) = compared(&joined, budget);
    outcome.proof.method = Some(method);
    outcome.proof.budget = Some(used);
    match found {
        Combinational::Equal => {
            outcome.proof.kind = ProofKind::Proved;
            if method == ProofMethod::Exhaustive {
                (passed, total) = (1 << wide.width(), 1 << wide.width());
                outcome.proof.rows = Some(total);
            }
        }
        Combinational::Unknown => {
            let mut unsure = unsure(&format!("{passed} of {total} inputs that were tried are right"));
            unsure.proof.budget = Some(used);
            return Ok(unsure);
        }
        Combinational::Differs(levels) => {
            outcome.proof.kind = ProofKind::Differs;
            // The difference itself was tried, too. None may be called right unless some are.
            total += 1;
            let mut share = budget.clone().with_steps(SAT_STEPS);
            if passed == 0 && joined.is_right_somewhere(EFFORT, &mut share) != Ok(Some(false)) {
                (passed, total) = (1, total + 1);
            }
            let relevant = joined.relevant(&levels, &mut share).unwrap_or_else(|_| vec![true; levels.len()]);
            let (expected, actual) = (outputs_at(&reference, &levels), outputs_at(&design, &levels));
            outcome.seen = Seen::Input(levels.clone());
            let shown = Shown { levels, relevant, expected, actual };
            outcome.findings.push(finding(exercise, wide, (netlist, sources), &shown));
        }
    }
    (outcome.passed, outcome.total) = (passed, total);
    Ok(outcome)
}

fn is_wrong_bit(exercise: &Exercise, bit: &OutputBit, is_wrong: &impl Fn(&String) -> bool) -> bool {
    let port = exercise.ports.iter().find(|p| p.name == bit.port);
    port.is_some_and(|p| is_wrong(&p.shape.bit_name(&p.name, bit.position)))
}

/// By SAT; where that doesn't tell, as for multipliers, by every input, if there are not too many.
pub fn compared(joined: &Joined, budget: &Budget) -> (Combinational, ProofMethod, ProofBudget) {
    let mut share = budget.clone().with_steps(SAT_STEPS);
    let found = joined.compare(EFFORT, &mut share);
    let used = ProofBudget::between(SAT_STEPS, share.steps_left());
    match found {
        Ok(found) if found != Combinational::Unknown => return (found, ProofMethod::Sat, used),
        _ => {}
    }
    let mut share = budget.clone().with_steps(ROW_STEPS);
    match joined.compare_exhaustively(&mut share) {
        Ok(Some(found)) => (found, ProofMethod::Exhaustive, ProofBudget::between(ROW_STEPS, share.steps_left())),
        _ => (Combinational::Unknown, ProofMethod::Sat, used),
    }
}

/// Does a netlist with the exercise's ports do what the exercise says? `None` where it can't be told.
pub(crate) fn does_right(exercise: &Exercise, wide: &Wide, netlist: &Netlist, budget: &Budget) -> Option<bool> {
    let joined = Joined::new(&wide.machine(), &wide.join(netlist, &exercise.ports), wide.width());
    match compared(&joined, budget).0 {
        Combinational::Equal => Some(true),
        Combinational::Differs(_) => Some(false),
        Combinational::Unknown => None,
    }
}

/// A difference with what is seen there, and which inputs matter.
struct Shown {
    levels: Vec<bool>,
    relevant: Vec<bool>,
    expected: Vec<String>,
    actual: Vec<String>,
}

fn finding(
    exercise: &Exercise,
    wide: &Wide,
    (netlist, sources): (&Netlist, &SourceMap),
    shown: &Shown,
) -> (base::Diagnostic, Option<Evidence>) {
    let demanded = |level: &String| if level == "X" { "-".to_owned() } else { level.clone() };
    let expected: BTreeMap<String, String> =
        wide.outputs.iter().cloned().zip(shown.expected.iter().map(demanded)).collect();
    let actual: BTreeMap<String, String> = wide.outputs.iter().cloned().zip(shown.actual.iter().cloned()).collect();
    let is_wrong = |bit: &String| {
        let (e, a) = (expected.get(bit), actual.get(bit));
        e.is_some_and(|e| e != "-") && e != a
    };
    let port = exercise.ports.iter().find(|p| !p.is_input && p.bit_names().any(|n| is_wrong(&n)));
    let name = port.map_or("", |p| p.name.as_str());
    let text = |of: &BTreeMap<String, String>| {
        port.map(|p| p.bit_names().filter_map(|n| of.get(&n).cloned()).collect::<String>()).unwrap_or_default()
    };
    let inputs = inputs_text(&exercise.ports, &wide.inputs, &shown.levels);
    let enough = enough_text(&wide.inputs, &shown.levels, &shown.relevant);
    let wrong_bits = wide.outputs.iter().filter(|o| is_wrong(o));
    let diagnostic = if wrong_bits.clone().all(|o| actual.get(o).is_some_and(|a| a == "X")) {
        let names: Vec<&str> = wrong_bits.map(String::as_str).collect();
        say::unknown_output(&names, &inputs, false)
    } else {
        let at = netlist.outputs.iter().find(|o| o.port == name).and_then(|o| netlist.origin(o.value.node()));
        let (expected, actual) = (value_text(&text(&expected)), value_text(&text(&actual)));
        say::wrong_input(name, [&expected, &actual, &inputs, &enough], at)
    };
    let wrong = netlist.outputs.iter().filter(|o| is_wrong_bit(exercise, o, &is_wrong)).map(|o| o.value);
    let wrong: Vec<Lit> = wrong.collect();
    let sources_of = wide.join(netlist, &exercise.ports).inputs;
    let level = |k: u32| match sources_of.get(k as usize) {
        Some(Some(Source::Input(at, _))) => shown.levels[*at as usize],
        _ => false,
    };
    let path = path(netlist, &wrong, level, sources);
    let row = shown.levels.iter().map(|l| if *l { '1' } else { '0' }).collect();
    (
        diagnostic,
        Some(Evidence {
            row: Some(row),
            cycle: None,
            expected,
            actual,
            trace: Vec::new(),
            state: BTreeMap::new(),
            path,
        }),
    )
}
