//! The verdict as data: the JSON that scripts, the store and the screens share.

use base::{Audience, Code, Diagnostic, SourceMap};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// The outcome as a whole.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum VerdictKind {
    /// Every stage passes.
    Pass,
    /// It runs; some rows are right, or all are and a rule fails.
    Partly,
    /// It can't run, or no row is right.
    Fail,
    /// A budget ran out, or the fault is ours.
    CannotTell,
}

/// How strong the behaviour's outcome is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ProofKind {
    /// Equal on every row.
    Proved,
    /// Equal as far as was looked.
    Matched,
    /// Shown to differ.
    Differs,
    /// Nothing was found out.
    None,
}

/// How it was found out.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ProofMethod {
    /// Every row was run.
    Exhaustive,
    /// Proved by a SAT solver.
    Sat,
    /// Every state that can be reached was tried with every input.
    States,
    /// What holds of the registers was proved to hold on from one clock cycle to the next.
    Induction,
    /// It was run for a number of clock cycles.
    Simulation,
}

/// Proof strength and how it was reached.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct Proof {
    /// Its strength.
    pub kind: ProofKind,
    /// How; `None` when nothing was run.
    pub method: Option<ProofMethod>,
    /// Rows run.
    pub rows: Option<u64>,
    /// Cycles run, for clocked designs.
    pub cycles: Option<u64>,
    /// The work that it was allowed, and what of it was used; `None` when nothing was run.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", schema(nullable = false))]
    pub budget: Option<ProofBudget>,
}

impl Proof {
    /// Nothing is known.
    pub const NONE: Proof = Proof { kind: ProofKind::None, method: None, rows: None, cycles: None, budget: None };
}

/// What the Behaviour stage was allowed. A step is a gate on 64 rows, a clock edge of a gate, or a ten-thousandth of a clause
/// that the solver learns: the same number on every machine.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct ProofBudget {
    /// Steps it might take.
    pub steps: u64,
    /// Steps it took.
    pub spent: u64,
}

impl ProofBudget {
    /// From the steps that were left before and after.
    pub fn between(before: u64, after: u64) -> Self {
        Self { steps: before, spent: before.saturating_sub(after) }
    }
}

/// Right rows of all rows.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct RowCount {
    /// Rows where every output has its care value.
    pub passed: u64,
    /// All rows.
    pub total: u64,
}

/// How a stage ended.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StageState {
    /// Nothing that costs marks.
    Pass,
    /// Something that does.
    Fail,
    /// It did not run; the reason is beside.
    Skipped,
}

/// A stage of the check.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct StageResult {
    /// `names`, `language`, `structure`, `behaviour`, `wiring` or `bench`.
    pub stage: String,
    /// How it ended.
    pub state: StageState,
    /// Why it was skipped, or what it showed of faults told elsewhere; else empty.
    pub reason: String,
}

/// A line of a source that a level comes through.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct PathLine {
    /// The file.
    pub file: String,
    /// Line, from 1.
    pub line: u32,
}

/// The row (or cycle) that shows a finding.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct Evidence {
    /// Input bits of the row, first input first.
    pub row: Option<String>,
    /// The clock cycle, for clocked designs.
    pub cycle: Option<u64>,
    /// Output bits as they should be; `-` for a don't-care.
    pub expected: BTreeMap<String, String>,
    /// Output bits as they are: 0, 1, X or Z.
    pub actual: BTreeMap<String, String>,
    /// The clock cycles that lead there, for clocked designs; the last one is the evidence.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub trace: Vec<TraceStep>,
    /// For clocked designs, what each register holds then, by the name of its bit: 0, 1 or X.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub state: BTreeMap<String, String>,
    /// The lines of the source that decide the wrong levels there.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub path: Vec<PathLine>,
}

/// A clock cycle on the way to a difference.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct TraceStep {
    /// Clock edges since the start.
    pub cycle: u64,
    /// Input bits without the clock.
    pub inputs: BTreeMap<String, String>,
    /// Output bits as they should be; `-` for a don't-care.
    pub expected: BTreeMap<String, String>,
    /// Output bits as they are: 0, 1, X or Z.
    pub actual: BTreeMap<String, String>,
}

/// Another place that explains a finding.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct RelatedPlace {
    /// The file.
    pub file: String,
    /// Line, from 1.
    pub line: u32,
    /// What is there.
    pub label: String,
}

/// A change of the text that puts a finding right.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct FixInfo {
    /// What it does, beginning with a verb.
    pub label: String,
    /// The file.
    pub file: String,
    /// Line of the beginning of what is replaced, from 1.
    pub line: u32,
    /// Its column, from 1, in characters.
    pub column: u32,
    /// Line of the end.
    pub end_line: u32,
    /// Column behind the end.
    pub end_column: u32,
    /// What takes its place.
    pub text: String,
}

/// One finding.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct Finding {
    /// Stable code.
    pub code: String,
    /// Stage that found it.
    pub stage: String,
    /// `stop`, `marks` or `note`.
    pub severity: String,
    /// The file as it was given.
    pub file: Option<String>,
    /// Line, from 1.
    pub line: Option<u32>,
    /// Column, from 1, in characters.
    pub column: Option<u32>,
    /// Line of the end of the place.
    pub end_line: Option<u32>,
    /// Column behind the end of the place.
    pub end_column: Option<u32>,
    /// What is wrong.
    pub message: String,
    /// What to do, and why it is wrong.
    pub help: String,
    /// What shows it.
    pub evidence: Option<Evidence>,
    /// Other places.
    pub related: Vec<RelatedPlace>,
    /// Changes that put it right.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub fixes: Vec<FixInfo>,
    /// True when students must not see it.
    pub staff_only: bool,
}

/// A small change that would make the design right.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct NearMiss {
    /// Its kind.
    pub kind: String,
    /// It as a sentence.
    pub message: String,
    /// What a student may read where the sentence itself tells the repair.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", schema(nullable = false))]
    pub hint: Option<String>,
    /// The line as it is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", schema(nullable = false))]
    pub before: Option<String>,
    /// The line with which it would be right.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", schema(nullable = false))]
    pub after: Option<String>,
    /// The file.
    pub file: Option<String>,
    /// Line, from 1.
    pub line: Option<u32>,
    /// The change.
    pub repair: String,
}

impl Finding {
    /// Is it about answers that were prepared beside the design?
    pub fn is_of_answers(&self) -> bool {
        self.code.starts_with("answer")
    }
}

impl NearMiss {
    /// Leaves only what does not tell the repair.
    pub fn hide_repair(&mut self) {
        self.repair.clear();
        self.before = None;
        self.after = None;
        if let Some(hint) = self.hint.take() {
            self.message = hint;
        }
    }
}

/// What the design takes of a device.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct Resources {
    /// Two-input AND nodes of the netlist.
    pub and_nodes: u64,
    /// Look-up tables that cover it; null when counting them took too long.
    #[serde(default)]
    pub luts: Option<u64>,
    /// Inputs of each of those tables.
    #[serde(default)]
    pub lut_inputs: u32,
    /// Most tables one after the other on a way from an input or register to an output or register.
    #[serde(default)]
    pub levels: u64,
    /// Bits that clock edges load.
    #[serde(default)]
    pub flip_flops: u64,
    /// Bits that a level opens.
    #[serde(default)]
    pub latches: u64,
    /// Bits of the top's ports.
    pub pins: u64,
}

impl Resources {
    /// `3 look-up tables of 4 inputs (2 levels), 4 flip-flops, 9 pins`
    pub fn sentence(&self) -> String {
        let count = |n: u64, one: &str| if n == 1 { format!("1 {one}") } else { format!("{n} {one}s") };
        let mut parts = Vec::new();
        if let Some(luts) = self.luts {
            let levels = if self.levels > 1 { format!(" ({} levels)", self.levels) } else { String::new() };
            parts.push(format!("{} of {} inputs{levels}", count(luts, "look-up table"), self.lut_inputs));
        }
        parts.push(count(self.flip_flops, "flip-flop"));
        if self.latches > 0 {
            parts.push(if self.latches == 1 { "1 latch".to_owned() } else { format!("{} latches", self.latches) });
        }
        parts.push(count(self.pins, "pin"));
        parts.join(", ")
    }
}

/// How a prepared answer was marked.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct AnswerResult {
    /// The output it is about.
    pub output: String,
    /// What was asked for: `table`, `minterms`, `sop` and so on.
    pub ask: String,
    /// What was typed; empty when nothing was.
    pub given: String,
    /// `right`, `partly` (right but not of the form asked for, or not minimal), `wrong` or `missing`.
    pub state: String,
    /// Marks earned.
    pub marks: u32,
    /// Marks to be had.
    pub out_of: u32,
    /// While it is typed and can't be read (state `illegible`): why.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub problem: Option<String>,
}

/// The verdict on one hand-in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct Verdict {
    /// `zesty-gate/verdict/1`
    pub format: String,
    /// The outcome.
    pub verdict: VerdictKind,
    /// Its strength.
    pub proof: Proof,
    /// Right rows.
    pub rows: RowCount,
    /// All six stages in order.
    pub stages: Vec<StageResult>,
    /// Findings, the one that matters most first.
    pub findings: Vec<Finding>,
    /// Near misses.
    pub near_misses: Vec<NearMiss>,
    /// What it takes; `None` when it was not synthesised.
    pub resources: Option<Resources>,
    /// Prepared answers, in the exercise's order.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub answers: Vec<AnswerResult>,
    /// How often an output was seen to repeat, for a rate rule.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", schema(nullable = false))]
    pub rhythm: Option<Rhythm>,
    /// Marks, where the exercise gives any; none as long as nothing can be told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", schema(nullable = false))]
    pub marks: Option<Marks>,
}

/// How often an output repeats.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct Rhythm {
    /// The output.
    pub output: String,
    /// Clock cycles from one rising edge to the next.
    pub period_cycles: u64,
    /// Cycles of them that it is high.
    pub high_cycles: u64,
    /// The same at the board's clock, when the exercise names one, in Hz with nine digits that count.
    pub hertz: Option<String>,
}

/// What of a verdict is revealed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Reveal {
    /// All that is found, with its evidence.
    All,
    /// Which stages passed.
    Stages,
    /// Nothing but what is wrong with the files as text.
    Nothing,
}

impl Verdict {
    /// What is counted as right or wrong.
    pub fn unit(&self) -> &'static str {
        match self.proof.method {
            Some(ProofMethod::States) => "states and inputs",
            Some(ProofMethod::Induction) => "tried cycles",
            Some(ProofMethod::Sat) => "tried inputs",
            Some(ProofMethod::Simulation) => "periods or cycles",
            _ => "rows",
        }
    }

    fn reveal(&mut self, reveal: Reveal) {
        if reveal == Reveal::All {
            return;
        }
        self.near_misses.clear();
        self.findings.retain(|f| ["files", "names", "language"].contains(&f.stage.as_str()));
        if reveal == Reveal::Nothing {
            self.stages.retain(|s| ["files", "names", "language"].contains(&s.stage.as_str()));
            self.rows = RowCount { passed: 0, total: 0 };
            self.proof = Proof::NONE;
            (self.resources, self.rhythm, self.marks) = (None, None, None);
            // What can be read of answers while they are typed says nothing of whether they are right.
            self.answers.retain(|a| ["legible", "illegible"].contains(&a.state.as_str()));
            let is_illegal = self.findings.iter().any(|f| f.severity == "stop");
            self.verdict = if is_illegal { VerdictKind::Fail } else { VerdictKind::CannotTell };
        }
    }

    /// Leaves what a student may read: nothing for staff only; of the rest all, which stages passed, or nothing but what is
    /// wrong with the files as text; and where answers are hidden no repair of a near miss and no number that is the answer.
    ///
    /// The only way of a verdict to a student.
    pub fn for_student(&mut self, reveal: Reveal, shows_answers: bool) {
        self.findings.retain(|f| !f.staff_only);
        self.reveal(reveal);
        if shows_answers {
            return;
        }
        self.near_misses.iter_mut().for_each(NearMiss::hide_repair);
        for finding in self.findings.iter_mut().filter(|f| f.code == Code::WRONG_RATE.key()) {
            // How far to count is what the exercise asks for.
            finding.help =
                "Work out from the board's clock how many cycles each half of the period takes: a counter that ends \
                            at n goes through n + 1 values."
                    .into();
        }
    }

    /// The first sentence to show.
    pub fn headline(&self) -> String {
        let first = self.findings.iter().find(|f| f.severity != "note");
        match (self.verdict, first) {
            (VerdictKind::Pass, _) => match (self.proof.method, self.proof.kind) {
                (Some(ProofMethod::Sat), _) => "Right for every input.".into(),
                (Some(ProofMethod::States | ProofMethod::Induction), _) => {
                    "Right in every state it can reach, whatever the inputs.".into()
                }
                (Some(ProofMethod::Simulation), ProofKind::Proved) => "Right, and it repeats for ever.".into(),
                (Some(ProofMethod::Simulation), _) => {
                    format!("Right for {} clock cycles.", self.proof.cycles.unwrap_or(0))
                }
                _ => format!("All {} rows are right.", self.rows.total),
            },
            (_, Some(finding)) => finding.message.clone(),
            (VerdictKind::CannotTell, None) => "The check could not be finished.".into(),
            (_, None) => format!("{} of {} {} are right.", self.rows.passed, self.rows.total, self.unit()),
        }
    }
}

/// Marks of one stage, or of the prepared answers.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct MarkPart {
    /// The stage, or `answers`.
    pub what: String,
    /// Earned.
    pub earned: f64,
    /// To be had.
    pub out_of: f64,
    /// What a part of them was earned for; else empty.
    pub why: String,
}

/// The marks of a hand-in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct Marks {
    /// Earned, in hundredths at the finest.
    pub earned: f64,
    /// To be had.
    pub out_of: f64,
    /// By stage, in order.
    pub parts: Vec<MarkPart>,
}

impl Marks {
    /// `7.5 of 10 marks`
    pub fn sentence(&self) -> String {
        format!("{} of {} marks", number(self.earned), number(self.out_of))
    }
}

/// `6`, `4.5`, `0.25`
pub fn number(value: f64) -> String {
    format!("{value:.2}").trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// A fix with its places in lines and columns.
fn fix_info(fix: &base::Fix, sources: &SourceMap) -> FixInfo {
    let file = sources.file(fix.span.file);
    let (start, end) = (file.place(fix.span.start), file.place(fix.span.end));
    FixInfo {
        label: fix.label.clone(),
        file: file.name.clone(),
        line: start.line,
        column: start.column,
        end_line: end.line,
        end_column: end.column,
        text: fix.text.clone(),
    }
}

/// A diagnostic as it is shown: with the names of its files, and lines and columns from 1.
pub fn finding(diagnostic: &Diagnostic, sources: &SourceMap, evidence: Option<Evidence>) -> Finding {
    let place = diagnostic.span.map(|s| (s, sources.file(s.file)));
    let start = place.map(|(s, f)| f.place(s.start));
    let end = place.map(|(s, f)| f.place(s.end));
    let help = [diagnostic.action.as_str(), diagnostic.help.as_str()];
    Finding {
        code: diagnostic.code.key().to_owned(),
        stage: diagnostic.stage.key().to_owned(),
        severity: diagnostic.severity.key().to_owned(),
        file: place.map(|(_, f)| f.name.clone()),
        line: start.map(|p| p.line),
        column: start.map(|p| p.column),
        end_line: end.map(|p| p.line),
        end_column: end.map(|p| p.column),
        message: diagnostic.message.clone(),
        help: help.into_iter().filter(|t| !t.is_empty()).collect::<Vec<_>>().join(" "),
        evidence,
        related: diagnostic
            .related
            .iter()
            .map(|(s, label)| RelatedPlace {
                file: sources.file(s.file).name.clone(),
                line: sources.place(*s).line,
                label: label.clone(),
            })
            .collect(),
        fixes: diagnostic.fixes.iter().map(|fix| fix_info(fix, sources)).collect(),
        staff_only: diagnostic.audience == Audience::Staff,
    }
}
