//! The Wiring and Bench stages: the image that is made of a hand-in, and what the board does with it.

use super::phases::{Behaved, Loaded, Structured};
use super::report::Report;
use crate::hand_in::HandIn;
use base::{Budget, Code, Diagnostic, SourceFile, SourceMap, Stage};
use bench::{Followed, follows, no_image};
use board::{Image, Made, NoImage, Wiring};
use conform::Rows;
use elab::{Built, actual_table};
use exercise::{Exercise, WiringPlan};
use near::Near;
use verdict::ProofKind;

/// Steps of the budget that mapping a design for its image may take.
const IMAGE_STEPS: u64 = 60_000_000;
const NOT_PROVED: &str = "The design was matched, not proved, and the same could not be said of its image.";
const HAS_LATCHES: &str = "The bench does not run designs with latches.";
const NOT_MAPPED: &str = "Mapping the design to the device took too long.";

/// Judges the wires, loads the design behind them, and looks at the lamps. The wiring file is added to the sources.
pub(super) fn load(
    exercise: &Exercise,
    hand_in: &HandIn,
    design: Option<(&Structured, &Behaved)>,
    (sources, budget): (&mut SourceMap, &mut Budget),
    report: &mut Report,
) -> Loaded {
    let mut loaded = Loaded::default();
    let Some(plan) = &exercise.wiring else {
        report.skip(&[Stage::Wiring, Stage::Bench], "This exercise is not wired to a board.");
        return loaded;
    };
    let wires = wires(exercise, plan, hand_in, sources, report);
    if wires.is_some() || hand_in.wiring.is_some() {
        loaded.near.extend(one_wrong_pin(report));
    }
    let usual = bench::planned(plan);
    if let Some((structured, _)) = design {
        let joined = wires.as_ref().unwrap_or(&usual);
        match image_of(exercise, plan, joined, &structured.built, hand_in, budget) {
            Ok(image) => loaded.image = Some(image),
            // Without wires of the student's own nothing is said of the board, but that the device is too small.
            Err(reason) => {
                report.add(no_image(&reason).into_iter().collect());
                let why = if matches!(reason, NoImage::Data(_)) { HAS_LATCHES } else { NOT_MAPPED };
                report.skip(&[Stage::Bench], why);
            }
        }
    }
    match (&wires, &loaded.image, design) {
        (Some(wires), Some(image), Some(design)) => {
            let shown = Walk { exercise, plan, wires, image, design };
            (loaded.rows, loaded.follows) = match design.1.outcome.rows() {
                Some(rows) => shown.rows(rows, sources, budget, report),
                None => shown.machine(budget, report),
            };
        }
        (Some(_), None, _) => report.skip(&[Stage::Bench], "There is no design to load."),
        _ => {}
    }
    loaded
}

/// Judges the wiring that came with a hand-in; nothing when none can be read.
fn wires(
    exercise: &Exercise,
    plan: &WiringPlan,
    hand_in: &HandIn,
    sources: &mut SourceMap,
    report: &mut Report,
) -> Option<Wiring> {
    const UNREADABLE: &str = "The wiring has to be readable first.";
    let Some(file) = &hand_in.wiring else {
        report.skip(&[Stage::Wiring, Stage::Bench], "No wiring was handed in.");
        return None;
    };
    let Ok(source) = SourceFile::decode(&file.name, &file.bytes) else {
        report.add(vec![bench::wiring_unreadable("it is empty, too large or no text")]);
        report.skip(&[Stage::Bench], UNREADABLE);
        return None;
    };
    let id = sources.add(source.clone());
    let (wires, found) = bench::judge_file(exercise, plan, id, &source);
    let unreadable = found.iter().any(Diagnostic::stops);
    report.add(found);
    if unreadable {
        report.skip(&[Stage::Bench], UNREADABLE);
        return None;
    }
    Some(wires)
}

/// Is a wire at the wrong part all that is wrong?
fn one_wrong_pin(report: &Report) -> Option<Near> {
    let mut costly = report.findings.iter().filter(|(d, _)| d.severity != base::Severity::Note);
    let ((only, _), None) = (costly.next()?, costly.next()) else { return None };
    let near = || Near::plain("wrong_pin", only.message.clone(), only.action.clone(), only.span);
    (only.code == Code::WRONG_PART).then(near)
}

fn image_of(
    exercise: &Exercise,
    plan: &WiringPlan,
    wires: &Wiring,
    built: &Built,
    hand_in: &HandIn,
    budget: &Budget,
) -> Result<Image, NoImage> {
    // What a latch holds is no flip-flop of the device.
    if built.netlist.registers.iter().any(|r| r.clock.is_const()) {
        return Err(NoImage::Data("latches".into()));
    }
    let fingerprint = hand_in.fingerprint(exercise);
    let made = Made { design: &built.unit.name, fingerprint: &fingerprint };
    let bit = |port: &str, position: u32| exercise.bit_name(port, position);
    let mut share = budget.clone().with_steps(IMAGE_STEPS);
    Image::new(&built.netlist, made, (&plan.board, wires), bit, &mut share)
}

/// A loaded board, walked.
struct Walk<'a> {
    exercise: &'a Exercise,
    plan: &'a WiringPlan,
    wires: &'a Wiring,
    image: &'a Image,
    design: (&'a Structured, &'a Behaved),
}

/// Rows that show the right lamps, of all, and what the lamps show of faults that other stages have told.
type Shown = (Option<(u64, u64)>, Option<String>);

impl Walk<'_> {
    /// Compares the lamps with what the exercise says, row by row.
    fn rows(&self, rows: &Rows, sources: &SourceMap, budget: &mut Budget, report: &mut Report) -> Shown {
        // The tables of the device have to do what the design does.
        let seen = match actual_table(&self.image.netlist(), &self.exercise.ports, budget) {
            Ok(seen) => seen,
            Err(exhausted) => {
                report.add(vec![conform::budget(&exhausted.0.to_string())]);
                return (None, None);
            }
        };
        if seen != rows.actual {
            image_differs(report);
            return (None, None);
        }
        let Some(walk) = bench::walk(self.exercise, self.plan, self.wires, &seen) else { return (None, None) };
        if is_told(report) {
            return (Some(walk.right), Some(walk.summary));
        }
        let netlist = &self.design.0.built.netlist;
        let evidence = conform::evidence(self.exercise, rows, (netlist, sources), walk.row);
        report.extend(std::iter::once((walk.finding, Some(evidence))));
        (Some(walk.right), None)
    }

    /// Holds the board as a whole against the exercise, where it is not judged row by row.
    fn machine(&self, budget: &Budget, report: &mut Report) -> Shown {
        let (structured, behaved) = self.design;
        if !behaved.outcome.is_right() {
            return (Some((0, 1)), Some("The lamps follow the design; see Behaviour.".into()));
        }
        let joined = (self.wires, self.image);
        match follows(self.exercise, self.plan, joined, &structured.built.netlist, &mut budget.clone()) {
            Followed::Right => {}
            Followed::Unsaid(reason) => report.skip(&[Stage::Bench], reason),
            Followed::Wrong if is_told(report) => {
                let why = "Through these wires the lamps don't do what the exercise says.";
                return (Some((0, 1)), Some(why.into()));
            }
            // Right wires and a design that is proved right can't give wrong lamps.
            Followed::Wrong if behaved.outcome.proof.kind == ProofKind::Proved => image_differs(report),
            Followed::Wrong => report.skip(&[Stage::Bench], NOT_PROVED),
        }
        (None, None)
    }
}

/// Wrong rows or wrong wires have been told; the lamps only follow.
fn is_told(report: &Report) -> bool {
    report
        .findings
        .iter()
        .any(|(d, _)| matches!(d.stage, Stage::Behaviour | Stage::Wiring) && d.severity != base::Severity::Note)
}

fn image_differs(report: &mut Report) {
    debug_assert!(false, "the image differs from the design");
    report.fault(&[Stage::Bench], "the image does not do what the design does");
}
