//! The way of a hand-in: files, Names, Language, Structure, Behaviour, Wiring, Bench, verdict.

mod boards;
mod evidence;
mod outcome;
mod source;
mod values;

use crate::diagnostics as say;
use conform::{Comparison, compare};

use crate::answers;
use crate::hand_in::HandIn;
use base::{Budget, DecodeProblem, Diagnostic, SourceFile, SourceMap, Stage};
use board::Image;
use conform::Outcome;
use conform::ignored;
use conform::{TryRows, TryTicks, try_rows, try_ticks};
use design::{Design, Netlist};
use elab::HandInFile;
use elab::ample;
use elab::resources;
use elab::{ActualTable, Sources, actual_table};
use exercise::Exercise;
use near::{Near, Workshop};
use std::collections::BTreeMap;
use std::sync::Arc;
use std::sync::atomic::AtomicBool;
use verdict::{
    Evidence, NearMiss, PathLine, Proof, ProofBudget, ProofKind, Rhythm, RowCount, StageResult, StageState, Verdict,
    VerdictKind, finding,
};

/// A design that could be run.
#[derive(Clone, Copy)]
struct Behaved<'a> {
    netlist: &'a Netlist,
    /// What it does on every row, where it is judged row by row.
    actual: Option<&'a ActualTable>,
    /// The Behaviour stage found nothing wrong.
    right: bool,
}

/// A verdict, and the table it was made from when the design could be run.
#[derive(Clone, Debug, PartialEq)]
pub struct Checked {
    /// The verdict.
    pub verdict: Verdict,
    /// What the design does on every row.
    pub actual: Option<ActualTable>,
    /// The rows that are worth trying, when they were asked for and the design is one that can be looked through.
    pub rows_to_try: Option<TryRows>,
    /// The same for a clocked design: a run of clock ticks.
    pub ticks_to_try: Option<TryTicks>,
    /// What is loaded on the exercise's board, wired as handed in or else as planned; nothing where there is no board, no
    /// design that can be mapped, or no room for it.
    pub image: Option<Image>,
}

/// Checks one hand-in. Never panics and never hangs: a fault of ours is a verdict of "can't tell".
pub fn check(exercise: &Exercise, hand_in: &HandIn) -> Checked {
    check_with_cancel(exercise, hand_in, Arc::new(AtomicBool::new(false)))
}

/// The same; setting the flag ends it early with "can't tell".
pub fn check_with_cancel(exercise: &Exercise, hand_in: &HandIn, cancel: Arc<AtomicBool>) -> Checked {
    let run = || Run::new(exercise, Budget::hand_in().with_cancel(cancel)).run(hand_in);
    ample(run).unwrap_or_else(|| our_fault(exercise))
}

fn our_fault(exercise: &Exercise) -> Checked {
    stopped(exercise.rows(), "The checker itself failed; the instructor is told.")
}

/// What is told of a hand-in whose check was ended from outside, or failed: "can't tell", and why.
pub fn stopped(rows: u64, why: &str) -> Checked {
    let stages = Stage::ALL.map(|stage| StageResult {
        stage: stage.key().into(),
        state: StageState::Skipped,
        reason: why.into(),
    });
    let told = finding(&say::stopped(why), &SourceMap::new(), None);
    let verdict = Verdict {
        format: "zesty-gate/verdict/1".into(),
        verdict: VerdictKind::CannotTell,
        proof: Proof::NONE,
        rows: RowCount { passed: 0, total: rows },
        stages: stages.to_vec(),
        findings: vec![told],
        near_misses: Vec::new(),
        resources: None,
        answers: Vec::new(),
        rhythm: None,
        marks: None,
    };
    Checked { verdict, actual: None, rows_to_try: None, ticks_to_try: None, image: None }
}

/// Why these files are no design at all, in a sentence; nothing where one of them may be one.
pub fn no_design(files: &[HandInFile]) -> Option<String> {
    let designs: Vec<&HandInFile> = files.iter().filter(|f| elab::language(&f.name).is_some()).collect();
    let Some(first) = designs.first() else {
        let name = files.first().map_or("The hand-in", |f| f.name.as_str());
        return Some(format!("`{name}` is no design file; hand in Verilog (.v, .sv) or VHDL (.vhd, .vhdl)."));
    };
    let problems: Vec<Option<DecodeProblem>> =
        designs.iter().map(|f| SourceFile::decode(&f.name, &f.bytes).err()).collect();
    if problems.iter().any(Option::is_none) {
        return None;
    }
    let name = &first.name;
    Some(match problems.into_iter().flatten().next() {
        Some(DecodeProblem::Empty) => format!("`{name}` is empty; hand in the file with the design in it."),
        Some(DecodeProblem::TooLarge(_)) => format!("`{name}` is too large for a design; hand in its sources only."),
        _ => format!("`{name}` is no text; hand in the source of the design, not a picture or a compiled file of it."),
    })
}

/// What shows a finding.
enum Shown {
    Row(u64),
    Moment(Box<Evidence>),
}

/// How often each code of a finding is there.
fn codes<'c>(list: impl Iterator<Item = &'c str>) -> BTreeMap<String, usize> {
    let mut counts = BTreeMap::new();
    for code in list {
        *counts.entry(code.to_owned()).or_insert(0) += 1;
    }
    counts
}

fn near_miss(near: &Near, sources: &SourceMap) -> NearMiss {
    let change = near.change.as_ref();
    NearMiss {
        kind: near.kind.into(),
        message: near.message.clone(),
        hint: near.hint.clone(),
        before: change.map(|c| c.before.clone()),
        after: change.map(|c| c.after.clone()),
        file: near.at.map(|s| sources.file(s.file).name.clone()),
        line: near.at.map(|s| sources.place(s).line),
        repair: near.repair.clone(),
    }
}

struct Run<'e> {
    exercise: &'e Exercise,
    budget: Budget,
    sources: SourceMap,
    data: BTreeMap<String, String>,
    diagnostics: Vec<(Diagnostic, Option<Shown>)>,
    near: Vec<Near>,
    /// Proof and total of a behaviour that is not judged row by row.
    machine_proof: Option<(Proof, u64)>,
    skipped: BTreeMap<Stage, String>,
    /// What the bench shows of faults that other stages have told.
    bench_follows: Option<String>,
    /// A limit of the checker was met: nothing may be called a fail for it.
    cannot_tell: bool,
    rhythm: Option<Rhythm>,
    rows_to_try: Option<TryRows>,
    ticks_to_try: Option<TryTicks>,
    image: Option<Image>,
    /// What the Behaviour stage was allowed and took.
    proof_budget: Option<ProofBudget>,
    /// The unit that is checked.
    unit: Option<elab::Unit>,
    /// Lines that decide the wrong levels, by row.
    ways: BTreeMap<u64, Vec<PathLine>>,
    /// Rows that show the right lamps, of all.
    bench_rows: Option<(u64, u64)>,
    top: Option<String>,
    broken_rules: usize,
}

/// Wrong rows that are run again in the event simulator.
const MOST_REPLAYED: usize = 8;
/// Steps of the budget that looking for near misses in the source may take.
const NEAR_STEPS: u64 = 60_000_000;

impl<'e> Run<'e> {
    fn new(exercise: &'e Exercise, budget: Budget) -> Self {
        Self {
            exercise,
            budget,
            sources: SourceMap::new(),
            data: BTreeMap::new(),
            diagnostics: Vec::new(),
            near: Vec::new(),
            machine_proof: None,
            skipped: BTreeMap::new(),
            bench_follows: None,
            cannot_tell: false,
            rhythm: None,
            rows_to_try: None,
            ticks_to_try: None,
            image: None,
            proof_budget: None,
            unit: None,
            ways: BTreeMap::new(),
            bench_rows: None,
            top: None,
            broken_rules: 0,
        }
    }

    /// What explains a wrong design: runs with a budget of its own, so that a verdict never waits long for it.
    fn explained(&self, explain: impl FnOnce(&Workshop<'_>, &mut Budget) -> Vec<Near>) -> Vec<Near> {
        let told = codes(self.diagnostics.iter().map(|(d, _)| d.code));
        let workshop = Workshop {
            exercise: self.exercise,
            sources: &self.sources,
            data: &self.data,
            top: self.top.as_deref(),
            broken_rules: self.broken_rules,
            passes: &|sources, budget| self.passes(sources, &told, budget),
        };
        explain(&workshop, &mut self.budget.clone().with_steps(NEAR_STEPS))
    }

    /// Does a hand-in with changed sources pass in all stages of the design, with nothing told of it that is not told of
    /// this one?
    fn passes(&self, sources: &SourceMap, told: &BTreeMap<String, usize>, budget: &mut Budget) -> bool {
        let files = sources.files().map(|(_, f)| (f.name.clone(), f.text.clone().into_bytes()));
        let data = self.data.iter().map(|(name, text)| (name.clone(), text.clone().into_bytes()));
        let files = files.chain(data).map(|(name, bytes)| HandInFile { name, bytes }).collect();
        let changed = HandIn { files, top: self.top.clone(), quick: true, ..HandIn::default() };
        let share = budget.steps_left();
        let checked = Run::new(self.exercise, budget.clone()).run(&changed);
        let verdict = checked.verdict;
        // A check of its own takes about what it says it took.
        let used = verdict.proof.budget.map_or(0, |b| b.spent).min(share);
        let right = matches!(verdict.verdict, VerdictKind::Pass | VerdictKind::Partly)
            && verdict.rows.passed == verdict.rows.total
            && verdict.stages.iter().all(|s| s.stage != Stage::Behaviour.key() || s.state == StageState::Pass);
        if budget.spend(used).is_err() || !right {
            return false;
        }
        let now = codes(verdict.findings.iter().map(|f| f.code.as_str()));
        // What was prepared beside the design says nothing of it.
        let mut now = now.iter().filter(|(code, _)| !code.starts_with("answer"));
        now.all(|(code, count)| told.get(code).is_some_and(|before| count <= before))
    }

    fn add(&mut self, list: Vec<Diagnostic>) {
        let limit = |d: &Diagnostic| matches!(d.code, "not-read-yet" | "budget-exhausted") && d.stops();
        self.cannot_tell |= list.iter().any(limit);
        self.diagnostics.extend(list.into_iter().map(|d| (d, None)));
    }

    fn stopped(&self) -> bool {
        self.diagnostics.iter().any(|(d, _)| d.stops())
    }

    fn skip(&mut self, stages: &[Stage], reason: &str) {
        for stage in stages {
            self.skipped.entry(*stage).or_insert_with(|| reason.to_owned());
        }
    }

    fn run(mut self, hand_in: &HandIn) -> Checked {
        self.files(hand_in);
        self.top.clone_from(&hand_in.top);
        let built = self.netlist(hand_in.top.as_deref());
        if self.exercise.clocked.is_some() || self.exercise.wide.is_some() {
            return self.run_machine(hand_in, built);
        }
        let netlist = built.map(|(_, netlist)| netlist);
        let before = self.budget.steps_left();
        let actual = netlist.as_ref().and_then(|n| match actual_table(n, &self.exercise.ports, &mut self.budget) {
            Ok(table) => Some(table),
            Err(exhausted) => {
                self.add(vec![say::budget(&exhausted.0.to_string())]);
                None
            }
        });
        self.proof_budget = netlist.is_some().then(|| ProofBudget::between(before, self.budget.steps_left()));
        let mut passed = None;
        if let (Some(netlist), Some(actual)) = (&netlist, &actual) {
            let comparison = compare(self.exercise, actual, netlist);
            passed = Some(comparison.wrong.rows() - comparison.wrong.count());
            // A latch or a loop shows on the first row that it leaves unknown.
            const CAUSES: [&str; 5] =
                ["inferred-latch", "combinational-loop", "undriven-output", "undriven-signal", "several-drivers"];
            if let Some(row) = comparison.unknown.first() {
                for (_, evidence) in self.diagnostics.iter_mut().filter(|(d, _)| CAUSES.contains(&d.code)) {
                    evidence.get_or_insert(Shown::Row(row));
                }
            }
            let wrong = comparison.wrong.iter().take(if hand_in.quick { 0 } else { MOST_REPLAYED });
            let rows = wrong.map(|row| {
                let levels = actual.columns.iter().map(|c| c.level(row)).collect();
                (logic::row_text(self.exercise.expected.input_count(), row), levels)
            });
            if !self.engines_disagree(rows.collect()) {
                self.wrong_rows(comparison, (netlist, actual), hand_in.quick);
            }
        }
        if let (Some(netlist), true) = (&netlist, hand_in.wants_rows) {
            self.rows_to_try = try_rows(self.exercise, netlist, &mut self.budget);
        }
        let right = passed == Some(self.exercise.rows());
        if let (Some(netlist), Some(actual), true) = (&netlist, &actual, right) {
            self.rows_simulated(actual, netlist);
        }
        self.other_values(right);
        self.wiring(hand_in, netlist.as_ref().map(|netlist| Behaved { netlist, actual: actual.as_ref(), right }));
        let judged = answers::judge(self.exercise, hand_in.answers.as_ref());
        self.diagnostics.extend(judged.findings.into_iter().map(|(d, row)| (d, row.map(Shown::Row))));
        let resources = netlist.as_ref().map(|n| resources(n, self.exercise.lut_inputs()));
        self.verdict(passed, resources, actual, judged.results)
    }

    /// Says what is wrong on rows, with the lines that decide it, and explains it.
    fn wrong_rows(&mut self, comparison: Comparison, (netlist, actual): (&Netlist, &ActualTable), quick: bool) {
        for (_, row) in &comparison.findings {
            let lines = self.way(netlist, actual, *row);
            self.ways.insert(*row, lines);
        }
        let mut comparison = comparison;
        for (finding, row) in comparison.findings.iter_mut().filter(|_| !quick) {
            self.place_row(finding, *row, actual);
        }
        self.diagnostics.extend(comparison.findings.into_iter().map(|(d, row)| (d, Some(Shown::Row(row)))));
        self.add(ignored(self.exercise, netlist, |k| comparison.outputs.get(k) == Some(&true)));
        if !comparison.wrong.is_empty() && !quick {
            self.near = self.explained(|shop, budget| near::explain(self.exercise, (netlist, actual), shop, budget));
        }
    }

    /// Behaviour that is not judged row by row: clocked, or with too many inputs.
    fn run_machine(mut self, hand_in: &HandIn, built: Option<(Design, Netlist)>) -> Checked {
        let mut passed = None;
        let exercise = self.exercise;
        let before = self.budget.steps_left();
        let found = match (&built, &exercise.clocked, &exercise.wide) {
            (Some((design, netlist)), Some(spec), _) => {
                Some(conform::clocked::run(exercise, spec, (design, netlist), &mut self.budget))
            }
            (Some((_, netlist)), None, Some(spec)) => {
                Some(conform::wide::run(exercise, spec, (netlist, &self.sources), &mut self.budget))
            }
            _ => None,
        };
        self.proof_budget = built.is_some().then(|| ProofBudget::between(before, self.budget.steps_left()));
        if let Some(mut outcome) = found {
            let mut near = built
                .as_ref()
                .map_or_else(Vec::new, |(_, netlist)| near::explain_outcome(exercise, netlist, &outcome, &self.budget));
            if let (Some((_, netlist)), Some(spec)) = (&built, &exercise.clocked) {
                let shown = outcome.findings.iter_mut().filter_map(|(_, e)| e.as_mut());
                for evidence in shown.filter(|e| !e.state.is_empty()) {
                    evidence.path = conform::way((exercise, spec), netlist, evidence, &self.sources);
                }
            }
            if let (Some(spec), false) = (&exercise.wide, hand_in.quick) {
                let shown = outcome.findings.iter().filter_map(|(_, e)| e.as_ref());
                let rows = shown.filter_map(|e| {
                    let levels: Option<String> =
                        spec.outputs.iter().map(|n| e.actual.get(n).map(String::as_str)).collect();
                    Some((e.row.clone()?, levels?))
                });
                if self.engines_disagree(rows.collect()) {
                    outcome = Outcome { findings: Vec::new(), cannot_tell: true, ..outcome };
                    near.clear();
                    outcome.proof.kind = ProofKind::None;
                }
            }
            for (finding, evidence) in outcome.findings.iter_mut().filter(|_| !hand_in.quick) {
                if let Some(evidence) = evidence {
                    self.place_moment(finding, evidence);
                }
            }
            self.cannot_tell |= outcome.cannot_tell;
            passed = (!outcome.cannot_tell).then_some(outcome.passed);
            let differs = outcome.proof.kind == ProofKind::Differs;
            self.machine_proof = Some((outcome.proof, outcome.total));
            self.rhythm = outcome.rhythm;
            self.near = near;
            if differs && self.near.len() < near::MOST && !hand_in.quick {
                let known = self.near.len();
                let rows = outcome.findings.iter().filter_map(|(_, e)| e.as_ref()?.row.as_deref());
                let seen: Vec<bool> = rows.take(1).flat_map(str::chars).map(|c| c == '1').collect();
                let lines: Vec<PathLine> =
                    outcome.findings.iter().filter_map(|(_, e)| Some(e.as_ref()?.path.clone())).flatten().collect();
                let at = (seen.as_slice(), lines.as_slice());
                let more = self.explained(|shop, b| near::explain_machine(exercise, known, at, shop, b));
                // One place in the source is a smaller thing than outputs that are early or late as a whole.
                let (shifted, rest) = self.near.drain(..).partition::<Vec<_>, _>(|n| n.kind.starts_with("one_cycle"));
                self.near = rest.into_iter().chain(more).chain(shifted).collect();
            }
            let shown = |(d, e): (Diagnostic, Option<Evidence>)| (d, e.map(|e| Shown::Moment(Box::new(e))));
            self.diagnostics.extend(outcome.findings.into_iter().map(shown));
        }
        if let (Some((_, netlist)), true) = (&built, hand_in.wants_rows) {
            self.ticks_to_try = try_ticks(exercise, netlist, &mut self.budget);
        }
        let right = self.machine_proof.as_ref().is_some_and(|(_, total)| passed == Some(*total));
        match (&built, &exercise.clocked, &exercise.wide) {
            (Some((design, netlist)), Some(spec), _) if right => {
                self.cycles_simulated(spec, netlist);
                self.ranges_kept(spec, design);
            }
            (Some((_, netlist)), None, Some(spec)) if right => self.wide_simulated(spec, netlist),
            _ => {}
        }
        self.other_values(right);
        self.wiring(hand_in, built.as_ref().map(|(_, netlist)| Behaved { netlist, actual: None, right }));
        let judged = answers::judge(self.exercise, hand_in.answers.as_ref());
        self.diagnostics.extend(judged.findings.into_iter().map(|(d, _)| (d, None)));
        let resources = built.as_ref().map(|(_, n)| resources(n, self.exercise.lut_inputs()));
        self.verdict(passed, resources, None, judged.results)
    }

    fn files(&mut self, hand_in: &HandIn) {
        let allowed = &self.exercise.languages;
        let refuse = |name: &str, language: elab::Language| {
            let is_allowed = allowed.is_empty() || allowed.iter().any(|l| l == language.key());
            (!is_allowed).then(|| say::language_not_allowed(name, language.key()))
        };
        let (sources, found) = Sources::read(&hand_in.files, refuse);
        (self.sources, self.data) = (sources.map, sources.data);
        self.add(found);
    }

    /// Names, Language and Structure: from sources to a netlist whose ports fit, or nothing.
    fn netlist(&mut self, top: Option<&str>) -> Option<(Design, Netlist)> {
        use Stage as S;
        if self.stopped() {
            self.skip(&[S::Language, S::Structure, S::Behaviour], "The files have to be readable first.");
            return None;
        }
        let units = elab::parse(&self.sources, self.data.clone(), &mut self.budget);
        // What this version doesn't read stops the check only where the design needs it, not in a testbench beside it.
        let unread = |d: &Diagnostic| d.code == "not-read-yet" && d.stops();
        let chosen = elab::choose_top(&units.list(), &self.exercise.ports, top);
        let mut told = units.diagnostics.clone();
        if let Ok(top) = &chosen {
            told.retain(|d| !unread(d) || d.span.is_none_or(|place| !units.is_outside(top, place)));
        }
        let broken = told.iter().any(Diagnostic::stops);
        self.add(told);
        if broken {
            self.skip(&[S::Names, S::Structure, S::Behaviour], "The source has to be legal first.");
            return None;
        }
        let top = match chosen {
            Ok(top) => top,
            Err(diagnostic) => {
                self.add(vec![*diagnostic]);
                self.skip(&[S::Language, S::Structure, S::Behaviour], "It has to be clear first what to check.");
                return None;
            }
        };
        if let Some(parameter) = &self.exercise.parameter
            && !units.parameters(&top).iter().any(|n| n.eq_ignore_ascii_case(&parameter.name))
        {
            self.add(vec![say::no_parameter(&top.name, &parameter.name, parameter.value, top.span)]);
        }
        self.unit = Some(top.clone());
        let elaborated = elab::elaborate(&units, &top, self.exercise.fitting(), &mut self.budget);
        self.add(elaborated.diagnostics);
        let Some(design) = elaborated.whole else {
            self.skip(&[S::Names, S::Structure, S::Behaviour], "The source has to be legal first.");
            return None;
        };
        if let Err(invalid) = design::validate(&design) {
            // A broken promise between our own crates: say nothing about the design.
            debug_assert!(false, "{}", invalid.message);
            self.cannot_tell = true;
            self.skip(&[S::Structure, S::Behaviour], "The checker itself failed on this design.");
            return None;
        }
        let mut ports = elab::check_ports(&design, &self.exercise.ports);
        ports.extend(elab::lint(&design, top.language));
        let misfit = ports.iter().any(Diagnostic::stops);
        self.add(ports);
        if misfit {
            self.skip(&[S::Structure, S::Behaviour], "The ports have to be right first.");
            return None;
        }
        let synthesis = self.exercise.synthesise(&design, &mut self.budget);
        let mut stopped = synthesis.diagnostics.iter().any(Diagnostic::stops);
        self.add(synthesis.diagnostics);
        if !stopped {
            let rules = &self.exercise.rules;
            match rules.judge((&design, &synthesis.netlist), &units.uses(&top), &top, &mut self.budget) {
                Ok(found) => {
                    self.broken_rules = found.len();
                    self.add(found);
                }
                Err(exhausted) => self.add(vec![say::budget(&exhausted.0.to_string())]),
            }
        }
        if self.exercise.clocked.is_none()
            && let Some(register) = synthesis.netlist.registers.first()
        {
            self.add(vec![say::edge_in_combinational(register.span)]);
            stopped = true;
        }
        if stopped {
            self.skip(&[S::Behaviour], "The structure has to be possible first.");
            return None;
        }
        Some((design, synthesis.netlist))
    }

    /// Is a wire at the wrong part all that is wrong?
    fn one_wrong_pin(&mut self) {
        let mut costly = self.diagnostics.iter().filter(|(d, _)| d.severity != base::Severity::Note);
        if let (Some((only, _)), None) = (costly.next(), costly.next())
            && only.code == "wrong-part"
        {
            let near = Near::plain("wrong_pin", only.message.clone(), only.action.clone(), only.span);
            self.near.push(near);
        }
    }
}
