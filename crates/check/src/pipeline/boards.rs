//! The Wiring and Bench stages: the image that is made of a hand-in, and what the board does with it.

use super::{Behaved, Run, Shown};
use bench::{Followed, follows, no_image};

use crate::diagnostics as say;
use crate::hand_in::HandIn;

use base::{Diagnostic, SourceFile, Stage};
use board::{Image, Made, NoImage, Wiring};
use design::Netlist;
use elab::actual_table;
use exercise::WiringPlan;
use verdict::ProofKind;

/// Steps of the budget that mapping a design for its image may take.
const IMAGE_STEPS: u64 = 60_000_000;
const NOT_PROVED: &str = "The design was matched, not proved, and the same could not be said of its image.";
const HAS_LATCHES: &str = "The bench does not run designs with latches.";
const NOT_MAPPED: &str = "Mapping the design to the device took too long.";

impl Run<'_> {
    pub(super) fn wiring(&mut self, hand_in: &HandIn, design: Option<Behaved<'_>>) {
        let exercise = self.exercise;
        let Some(plan) = &exercise.wiring else {
            self.skip(&[Stage::Wiring, Stage::Bench], "This exercise is not wired to a board.");
            return;
        };
        let wires = self.wires(plan, hand_in);
        let usual = bench::planned(plan);
        let (mut no_room, mut image) = (None, None);
        if let Some(design) = design {
            match self.image_of(plan, wires.as_ref().unwrap_or(&usual), design.netlist, hand_in) {
                Ok(made) => image = Some(made),
                Err(reason) => no_room = Some(reason),
            }
        }
        // Without wires of the student's own nothing is said of the board, but that the device is too small.
        if let Some(reason) = &no_room {
            self.add(no_image(reason).into_iter().collect());
            let why = if matches!(reason, NoImage::Data(_)) { HAS_LATCHES } else { NOT_MAPPED };
            self.skip(&[Stage::Bench], why);
        }
        match (&wires, &image, design) {
            (Some(wires), Some(image), Some(design)) => self.bench(plan, (wires, image), design),
            (Some(_), None, _) => self.skip(&[Stage::Bench], "There is no design to load."),
            _ => {}
        }
        self.image = image;
    }

    /// Judges the wiring that came with a hand-in; nothing when none can be read.
    fn wires(&mut self, plan: &WiringPlan, hand_in: &HandIn) -> Option<Wiring> {
        const UNREADABLE: &str = "The wiring has to be readable first.";
        let Some(file) = &hand_in.wiring else {
            self.skip(&[Stage::Wiring, Stage::Bench], "No wiring was handed in.");
            return None;
        };
        let Ok(source) = SourceFile::decode(&file.name, &file.bytes) else {
            self.add(vec![bench::wiring_unreadable("it is empty, too large or no text")]);
            self.skip(&[Stage::Bench], UNREADABLE);
            return None;
        };
        let id = self.sources.add(source.clone());
        let (wires, found) = bench::judge_file(self.exercise, plan, id, &source);
        let unreadable = found.iter().any(Diagnostic::stops);
        self.add(found);
        self.one_wrong_pin();
        if unreadable {
            self.skip(&[Stage::Bench], UNREADABLE);
            return None;
        }
        Some(wires)
    }

    fn image_of(
        &mut self,
        plan: &WiringPlan,
        wires: &Wiring,
        netlist: &Netlist,
        hand_in: &HandIn,
    ) -> Result<Image, NoImage> {
        // What a latch holds is no flip-flop of the device.
        if netlist.registers.iter().any(|r| r.clock.is_const()) {
            return Err(NoImage::Data("latches".into()));
        }
        let fingerprint = hand_in.fingerprint(self.exercise);
        let design = self.unit.as_ref().map(|u| u.name.clone()).unwrap_or_default();
        let made = Made { design: &design, fingerprint: &fingerprint };
        let bit = |port: &str, position: u32| self.exercise.bit_name(port, position);
        let mut share = self.budget.clone().with_steps(IMAGE_STEPS);
        Image::new(netlist, made, (&plan.board, wires), bit, &mut share)
    }

    /// Loads the image and compares the lamps with what the exercise says.
    fn bench(&mut self, plan: &WiringPlan, (wires, image): (&Wiring, &Image), design: Behaved<'_>) {
        let Some(actual) = design.actual else { return self.machine_bench(plan, (wires, image), design) };
        // The tables of the device have to do what the design does.
        let seen = match actual_table(&image.netlist(), &self.exercise.ports, &mut self.budget) {
            Ok(seen) => seen,
            Err(exhausted) => return self.add(vec![say::budget(&exhausted.0.to_string())]),
        };
        if seen != *actual {
            return self.image_differs();
        }
        let Some(walk) = bench::walk(self.exercise, plan, wires, &seen) else { return };
        self.bench_rows = Some(walk.right);
        if self.is_told() {
            self.bench_follows = Some(walk.summary);
        } else {
            self.diagnostics.push((walk.finding, Some(Shown::Row(walk.row))));
        }
    }

    fn machine_bench(&mut self, plan: &WiringPlan, joined: (&Wiring, &Image), design: Behaved<'_>) {
        if !design.right {
            self.bench_rows = Some((0, 1));
            self.bench_follows = Some("The lamps follow the design; see Behaviour.".into());
            return;
        }
        match follows(self.exercise, plan, joined, design.netlist, &mut self.budget.clone()) {
            Followed::Right => {}
            Followed::Unsaid(reason) => self.skip(&[Stage::Bench], reason),
            Followed::Wrong if self.is_told() => {
                self.bench_rows = Some((0, 1));
                self.bench_follows = Some("Through these wires the lamps don't do what the exercise says.".into());
            }
            // Right wires and a design that is proved right can't give wrong lamps.
            Followed::Wrong if self.is_proved() => self.image_differs(),
            Followed::Wrong => self.skip(&[Stage::Bench], NOT_PROVED),
        }
    }

    /// Wrong rows or wrong wires have been told; the lamps only follow.
    fn is_told(&self) -> bool {
        let told = |(d, _): &(Diagnostic, Option<Shown>)| {
            matches!(d.stage, Stage::Behaviour | Stage::Wiring) && d.severity != base::Severity::Note
        };
        self.diagnostics.iter().any(told)
    }

    fn is_proved(&self) -> bool {
        self.machine_proof.as_ref().is_some_and(|(proof, _)| proof.kind == ProofKind::Proved)
    }

    fn image_differs(&mut self) {
        debug_assert!(false, "the image differs from the design");
        self.cannot_tell = true;
        self.skip(&[Stage::Bench], "The checker itself failed: the image does not do what the design does.");
    }
}
