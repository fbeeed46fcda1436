//! What travels between server and browser; the TypeScript types and the OpenAPI document are made from these.

use exercise::{Ask, Matter, RequiredForm};
use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;

macro_rules! wire {
    ($($(#[$meta:meta])* struct $name:ident { $($(#[$field_meta:meta])* $field:ident: $ty:ty,)* })*) => {
        $(
            $(#[$meta])*
            #[derive(Clone, Debug, Serialize, Deserialize, TS, ToSchema)]
            pub struct $name { $($(#[$field_meta])* pub $field: $ty,)* }
        )*
    };
}

mod drafts;
mod people;
mod terms;

pub use drafts::{
    ArchiveAsk, DiffLine, DraftStanding, MoveAsk, OwnCheck, PublishPreview, RevisionDiff, RevisionInfo, VersionAsk,
};

pub use people::{
    CourseEdit, JoinAsk, JoinCodeAsk, JoinCodeInfo, JoinTarget, LinkOwner, LinksAsk, NewPassword, NewPerson,
    PasswordLink, PeopleView, PersonEdit, PersonLine, RosterLine, RosterView, SessionInfo, SetUp,
};

pub use terms::{ExtensionInfo, OwnTerms, TermsInfo};

wire! {
    /// A failure: what it is and what to do (RFC 9457).
    struct ProblemBody {
        /// What kind of failure.
        title: String,
        /// The HTTP status.
        status: u16,
        /// What happened and what to do.
        detail: String,
    }

    /// Name and password.
    struct SignIn {
        /// Sign-in name.
        name: String,
        /// Password.
        password: String,
    }

    /// A course as a person sees it.
    struct CourseRef {
        /// Key.
        id: i64,
        /// Title.
        title: String,
        /// `instructor`, `assistant` or `student`.
        role: String,
    }

    /// Who is signed in.
    struct Me {
        /// Name for people.
        name: String,
        /// Name to sign in with.
        sign_in: String,
        /// May make courses.
        teaches: bool,
        /// Their courses.
        courses: Vec<CourseRef>,
    }

    /// What the page needs before it can show anything.
    struct Start {
        /// Who is signed in; nobody when null.
        me: Option<Me>,
        /// Sign-in names and the password of the demo data; null outside the demo.
        demo: Option<DemoAccounts>,
        /// Nobody is there yet: the first person has to be made.
        needs_set_up: bool,
    }

    /// The accounts of the demo data.
    struct DemoAccounts {
        /// The password of all of them.
        password: String,
        /// Sign-in name and role.
        accounts: Vec<DemoAccount>,
    }

    /// An account of the demo data.
    struct DemoAccount {
        /// Sign-in name.
        name: String,
        /// What it is.
        role: String,
    }

    /// How a student stands in an exercise.
    struct Cell {
        /// The newest hand-in.
        hand_in: i64,
        /// `passed`, `partly`, `failed`, `cannot_tell` or `waiting`; `held_back` for students until verdicts are shown.
        state: String,
        /// Right rows.
        passed: u64,
        /// All rows.
        total: u64,
        /// Attempt, from 1.
        attempt: i64,
        /// The exercise has changed since.
        stale: bool,
        /// Who signed it off.
        signed_off: Option<String>,
        /// Marks earned; null where the exercise gives none, or nothing was judged yet.
        marks: Option<f64>,
        /// Marks to be had.
        out_of: Option<f64>,
        /// Handed in after it was due.
        late: bool,
    }

    /// An exercise as a column of the pass sheet.
    struct ExerciseHead {
        /// Key.
        id: i64,
        /// Title.
        title: String,
        /// Due then; null for never. For students their own time.
        due_at: Option<i64>,
        /// Students see it from then on; null for at once.
        release_at: Option<i64>,
        /// `published`, `changed` (a draft differs from it) or `unpublished`; students see published ones only.
        state: String,
    }

    /// A student as a line of the pass sheet.
    struct StudentLine {
        /// Key.
        id: i64,
        /// Name.
        name: String,
        /// Section.
        section: String,
        /// A cell for each exercise; null where nothing was handed in.
        cells: Vec<Option<Cell>>,
        /// Marks earned in what was judged; null where nothing gives marks.
        marks: Option<f64>,
        /// Marks to be had in what was judged.
        out_of: Option<f64>,
    }

    /// A file of the scratch pad.
    struct PadFile {
        /// Its name with its ending.
        name: String,
        /// Its text.
        text: String,
    }

    /// What the scratch pad asks to be checked.
    struct TryRequest {
        /// The files.
        files: Vec<PadFile>,
        /// The top, when it was chosen.
        top: Option<String>,
    }

    /// Waves that are asked for: of files, of a hand-in, or of what the exercise expects when neither is given.
    struct WavesAsk {
        /// The files.
        files: Vec<PadFile>,
        /// A hand-in instead.
        hand_in: Option<i64>,
        /// The unit to run on its own.
        unit: Option<String>,
        /// What the inputs do; else a testbench among the files, the stimulus kept with the exercise or the usual one.
        stimulus: Option<views::Stimulus>,
        /// Ends at this time, in nanoseconds.
        until_ns: Option<f64>,
        /// A picture goes along.
        picture: bool,
    }

    /// Waves, and what the exercise keeps for them.
    struct WavesView {
        /// The waves.
        waves: views::Waves,
        /// Their stimulus is the one kept with the exercise.
        saved: bool,
        /// How the lanes are arranged, as the page wrote it.
        arrangement: Option<String>,
        /// A picture of inputs and outputs (SVG), when it was asked for.
        picture: Option<String>,
    }

    /// What an exercise is to keep for its waves.
    struct WavesKept {
        /// The stimulus; unchanged when null.
        stimulus: Option<views::Stimulus>,
        /// Forgets the stimulus: the usual one from now on.
        usual: bool,
        /// How the lanes are arranged; unchanged when null.
        arrangement: Option<String>,
    }

    /// The few rows that are worth trying at a board.
    struct RowsView {
        /// What they show, in a sentence.
        sentence: String,
        /// The rows as input bits, in the order that flips the fewest switches.
        rows: Vec<String>,
        /// For a clocked design the ticks instead.
        ticks: Option<conform::TryTicks>,
    }

    /// A waveform file that was opened.
    struct DumpOpened {
        /// Its key while it is open.
        id: u64,
        /// When it ends, in femtoseconds.
        end: u64,
        /// How many changes it holds.
        changes: u64,
        /// Its signals, without their changes.
        lanes: Vec<views::Lane>,
        /// There are more signals than these.
        cut: bool,
    }

    /// A lane within a window.
    struct WindowLane {
        /// Its number.
        lane: u64,
        /// When it changed, in femtoseconds; the first one may lie before the window.
        times: Vec<u64>,
        /// What it became: levels, the most significant first.
        values: Vec<String>,
    }

    /// What lanes of a waveform file do between two times.
    struct DumpWindow {
        /// The lanes that were asked for.
        lanes: Vec<WindowLane>,
    }

    /// Where a lane changes.
    struct DumpEdge {
        /// When, in femtoseconds.
        time: u64,
    }

    /// What the scratch pad shows.
    struct TryView {
        /// The sentence that matters most.
        headline: String,
        /// The verdict; nothing of it is kept.
        verdict: verdict::Verdict,
        /// What the design does on every row, when it could be run.
        actual: Vec<Column>,
    }

    /// The pass sheet of a course.
    struct PassSheet {
        /// Title of the course.
        title: String,
        /// A student's newest attempt counts; else the best.
        counts_newest: bool,
        /// Columns.
        exercises: Vec<ExerciseHead>,
        /// Those that are put aside; empty for students.
        archived: Vec<ExerciseHead>,
        /// Lines.
        students: Vec<StudentLine>,
    }

    /// Which of a student's attempts is to count.
    struct Counting {
        /// The newest; else the best.
        newest: bool,
    }

    /// An entry of the audit trail.
    struct AuditLine {
        /// Who.
        person: Option<String>,
        /// Did what.
        action: String,
        /// To what.
        subject: String,
        /// When, in seconds since 1970.
        at: i64,
    }

    /// An exercise file.
    struct ExerciseText {
        /// TOML.
        text: String,
        /// The version that it changes; null for a new exercise.
        version: Option<i64>,
    }

    /// An exercise that was saved.
    struct ExerciseSaved {
        /// Key.
        id: i64,
        /// What the next save has to say that it changes.
        version: i64,
        /// Worth knowing.
        warnings: Vec<String>,
    }

    /// A port.
    struct PortInfo {
        /// Name.
        name: String,
        /// `in` or `out`.
        dir: String,
        /// Bounds such as `[3:0]`; empty for a scalar.
        range: String,
        /// Names of its bits, most significant first.
        bits: Vec<String>,
    }

    /// An output column of a table: a letter for each row.
    struct Column {
        /// The output bit.
        name: String,
        /// 0, 1, - (either), X (unknown) or Z (floating).
        values: String,
    }

    /// A part of the board.
    struct PartInfo {
        /// Printed label.
        label: String,
        /// Pin.
        pin: String,
        /// `slide_switch`, `push_button`, `led` or `oscillator`.
        kind: String,
        /// Periods of an oscillator in a second.
        frequency_hz: Option<u64>,
        /// True when 0 means on.
        active_low: bool,
        /// Column in the picture.
        x: u8,
        /// Row in the picture.
        y: u8,
    }

    /// A trainer board.
    struct BoardInfo {
        /// Name for people.
        title: String,
        /// Device and package.
        device: String,
        /// Parts.
        parts: Vec<PartInfo>,
    }

    /// A line of the wiring plan.
    struct PlanLine {
        /// Port bit.
        bit: String,
        /// Part label.
        part: String,
        /// Pin.
        pin: String,
    }

    /// An exercise.
    struct ExercisePage {
        /// Key.
        id: i64,
        /// Title.
        title: String,
        /// What the task is, in Markdown; may be empty.
        statement: String,
        /// Number of the published revision; 0 before the first.
        revision: i64,
        /// What saving the file has to say that it changes; 0 for students.
        version: i64,
        /// How the exercise stands; null for students.
        standing: Option<DraftStanding>,
        /// When it is worked at, and what students read of verdicts; null for students.
        terms: Option<TermsInfo>,
        /// What of that concerns the student who asks; null for staff.
        own_terms: Option<OwnTerms>,
        /// Ports in table order.
        ports: Vec<PortInfo>,
        /// Input bits, most significant first.
        inputs: Vec<String>,
        /// Expected outputs; names only (empty values) for students.
        outputs: Vec<Column>,
        /// Clock, reset and rule of a clocked exercise; students see no table of the rule.
        clocked: Option<exercise::ClockedInfo>,
        /// The behaviour line by line where there are too many inputs for a table; no lines for students.
        wide: Option<Vec<String>>,
        /// What a hand-in has to keep to beside the behaviour.
        rules: Vec<String>,
        /// The board, when the exercise is wired.
        board: Option<BoardInfo>,
        /// The wiring plan.
        plan: Vec<PlanLine>,
        /// Answers to be prepared.
        answers: Vec<QuestionInfo>,
        /// Files to start from: for students the empty designs, for staff the testbenches too.
        starters: Vec<derive::ExportText>,
        /// The exercise file, for the instructor.
        text: Option<String>,
        /// Students who may hand in here: oneself, or everybody for staff.
        students: Vec<StudentRef>,
    }

    /// An answer that the exercise asks for.
    struct QuestionInfo {
        /// The output bit.
        output: String,
        /// `table`, `minterms`, `sop` and so on.
        ask: String,
        /// It has to be minimal.
        minimal: bool,
        /// Marks for it.
        marks: u32,
    }

    /// What the workings page asks to be worked out.
    struct WorkingsRequest {
        /// The exercise whose file is changed; null for a new one.
        exercise: Option<i64>,
        /// Signals and behaviour as typed.
        draft: exercise::ExerciseDraft,
        /// A change to carry out first.
        edit: Option<exercise::DraftEdit>,
        /// `prime`, `overline`, `operators` or `words`.
        notation: String,
        /// With products shared by all outputs.
        shared: bool,
    }

    /// Everything on the workings page.
    struct WorkingsView {
        /// What was saved last, as saving has to say it again; 0 for a new exercise.
        version: i64,
        /// How the exercise stands; null for a new one.
        standing: Option<DraftStanding>,
        /// Signals and behaviour after the change.
        draft: exercise::ExerciseDraft,
        /// The exercise file that says it; null while there is a problem.
        file: Option<String>,
        /// Why there is nothing to show.
        problem: Option<exercise::FieldProblem>,
        /// Worth knowing.
        warnings: Vec<String>,
        /// What a hand-in has to keep to, in sentences.
        rules: Vec<String>,
        /// Labels of the parts that inputs may be wired to, and of those for outputs; empty without a board.
        labels: (Vec<String>, Vec<String>),
        /// Ports with their bits; empty while there is a problem.
        ports: Vec<PortInfo>,
        /// Output columns of the table.
        columns: Vec<Column>,
        /// Positions of the outputs that light the segments a to g of a digit.
        digit: Vec<usize>,
        /// The digit's segments light at 0.
        digit_active_low: bool,
        /// What follows from the table.
        derivation: Option<derive::Derivation>,
        /// Why there is no derivation, when there is a table.
        too_large: Option<String>,
        /// The minimal forms to take elsewhere.
        exports: Vec<derive::ExportText>,
    }

    /// A draft to be saved.
    struct WorkingsSave {
        /// The version that it changes.
        version: i64,
        /// Signals and behaviour.
        draft: exercise::ExerciseDraft,
    }

    /// A student.
    struct StudentRef {
        /// Key.
        id: i64,
        /// Name.
        name: String,
        /// Section.
        section: String,
    }

    /// A hand-in in a list.
    struct HandInLine {
        /// Key.
        id: i64,
        /// Whose.
        student: String,
        /// How it stands.
        cell: Cell,
        /// When, in seconds since 1970.
        submitted_at: i64,
    }

    /// A file of a hand-in.
    struct FileText {
        /// Name as given.
        name: String,
        /// `design` or `wiring`.
        kind: String,
        /// Its text; null when it is none.
        text: Option<String>,
    }

    /// A hand-in with its verdict.
    struct HandInPage {
        /// Key.
        id: i64,
        /// Exercise.
        exercise: i64,
        /// Title of the exercise.
        title: String,
        /// Whose.
        student: String,
        /// How it stands.
        cell: Cell,
        /// The verdict is held back from the student until then: seconds since 1970.
        shown_after: Option<i64>,
        /// When, in seconds since 1970.
        submitted_at: i64,
        /// Files in order.
        files: Vec<FileText>,
        /// The first sentence.
        headline: Option<String>,
        /// While there is no verdict: what the check waits for, or for how long it has run.
        waits_for: Option<String>,
        /// The verdict; null while it waits.
        verdict: Option<verdict::Verdict>,
        /// The exercise is clocked.
        clocked: bool,
        /// What it takes of the device, in words.
        takes: Option<String>,
        /// Input bits.
        inputs: Vec<String>,
        /// What the design does on each row; empty when it could not be run.
        actual: Vec<Column>,
        /// What it should do; empty for students.
        expected: Vec<Column>,
        /// Products that cover the rows where an output should be 1, in operators; empty for students.
        terms: Vec<derive::CoverTerm>,
        /// The board, when the exercise is wired.
        board: Option<BoardInfo>,
        /// There is an image of it to be loaded on the board.
        has_image: bool,
        /// Other attempts of the student, newest first.
        attempts: Vec<HandInLine>,
    }

    /// A hand-in that was kept.
    struct HandInKept {
        /// Key.
        id: i64,
        /// Attempt.
        attempt: i64,
    }

    /// Which part a port bit is wired to.
    struct WiredBit {
        /// Port bit.
        bit: String,
        /// Position of the part on the board; null when it is not wired.
        part: Option<u32>,
    }

    /// What is loaded on a board.
    struct ImageInfo {
        /// The unit of the design.
        design: String,
        /// The device it is for.
        device: String,
        /// What it was made from, in hexadecimal digits.
        fingerprint: String,
        /// What it takes of the device, in words.
        takes: String,
    }

    /// The bench at one moment.
    struct BenchView {
        /// For each part: is it on?
        switches: Vec<bool>,
        /// For each part: `lit`, `dark`, `unknown` or `conflict`.
        lamps: Vec<String>,
        /// For each part the share of the ticks of this question that it was lit, in percent; empty without ticks.
        glow: Vec<u8>,
        /// The row that the switches select; null when an input is open.
        row: Option<u64>,
        /// The wiring.
        wired: Vec<WiredBit>,
        /// An input of the design is joined to nothing that drives it.
        has_open_input: bool,
        /// The design waits for ticks of the oscillator.
        is_clocked: bool,
        /// What the flip-flops hold, for the next question; null where there are none or nothing is loaded.
        state: Option<String>,
        /// Periods of the oscillator since the image was loaded.
        ticks: u64,
        /// Why the image is not loaded; null when it is.
        refusal: Option<String>,
        /// The image; null on the bench of the expected behaviour.
        image: Option<ImageInfo>,
    }
}

impl StudentLine {
    /// A line of a student (key, name, section) with the marks of all exercises together.
    pub(crate) fn new((id, name, section): (i64, String, String), cells: Vec<Option<Cell>>) -> Self {
        let sum = |of: fn(&Cell) -> Option<f64>| {
            let list = cells.iter().flatten().filter_map(of);
            list.fold(None, |sum: Option<f64>, m| Some(sum.unwrap_or(0.0) + m)).map(|m| (m * 100.0).round() / 100.0)
        };
        let (marks, out_of) = (sum(|c| c.marks), sum(|c| c.out_of));
        Self { id, name, section, cells, marks, out_of }
    }
}

/// All types, and the lists the browser offers, as one TypeScript module.
pub fn typescript() -> String {
    let rule_names = || {
        let said = |key: &String| Matter::read(key).map(|m| m.words()).unwrap_or_default();
        Matter::keys().iter().map(said).collect()
    };
    let lists = [
        ("The words that name code rules", "CODE_NAMES", logic::CODE_NAMES.map(str::to_owned).to_vec()),
        ("What rules may forbid or require, beside `instance:` with a name", "RULE_WORDS", Matter::keys()),
        ("The same as they are said, in the same order", "RULE_NAMES", rule_names()),
        ("Forms that an output may have to be built in", "FORM_WORDS", words(RequiredForm::keys())),
        ("What a prepared answer may ask for", "ASK_WORDS", words(Ask::keys())),
        ("Stages that marks go to", "STAGE_WORDS", words(base::Stage::ALL.iter().map(|s| s.key()))),
        ("Boards that ship", "BOARD_NAMES", words(board::Board::SHIPPED.into_iter())),
    ];
    let list = |(what, name, words): (&str, &str, Vec<String>)| {
        format!("\n/** {what}. */\nexport const {name} = {words:?};\n")
    };
    types() + &lists.map(list).concat()
}

fn words<'w>(list: impl Iterator<Item = &'w str>) -> Vec<String> {
    list.map(str::to_owned).collect()
}

#[expect(clippy::too_many_lines, reason = "a flat list of types")]
fn types() -> String {
    let config = ts_rs::Config::new().with_large_int("number");
    let mut out = String::from("// Made from the Rust types by `cargo xtask types`; don't edit.\n");
    macro_rules! all {
        ($($ty:ty),* $(,)?) => { $( out.push_str(&format!("\nexport {}\n", <$ty as TS>::decl(&config))); )* };
    }
    all!(
        ProblemBody,
        SignIn,
        CourseRef,
        Me,
        Start,
        DemoAccounts,
        DemoAccount,
        Cell,
        ExerciseHead,
        StudentLine,
        PassSheet,
        AuditLine,
        ExerciseText,
        ExerciseSaved,
        PortInfo,
        Column,
        PartInfo,
        BoardInfo,
        PlanLine,
        StudentRef,
        QuestionInfo,
        WorkingsRequest,
        WorkingsView,
        WorkingsSave,
        ExercisePage,
        HandInLine,
        FileText,
        HandInPage,
        HandInKept,
        WiredBit,
        BenchView,
        ImageInfo,
        verdict::VerdictKind,
        verdict::ProofKind,
        verdict::ProofMethod,
        verdict::Proof,
        verdict::ProofBudget,
        verdict::RowCount,
        verdict::StageState,
        verdict::StageResult,
        exercise::ClockedInfo,
        verdict::TraceStep,
        verdict::Evidence,
        verdict::RelatedPlace,
        verdict::FixInfo,
        verdict::CodeExample,
        verdict::CodeEntry,
        PadFile,
        TryRequest,
        TryView,
        views::InputStimulus,
        views::Stimulus,
        views::LaneRole,
        views::Lane,
        views::Waves,
        WavesAsk,
        WavesView,
        WavesKept,
        verdict::Rhythm,
        exercise::DividerPlan,
        conform::TryTick,
        conform::TryTicks,
        views::StructureView,
        views::DrawnPin,
        views::DrawnBlock,
        views::DrawnWire,
        views::Structure,
        views::StructureLevels,
        RowsView,
        SetUp,
        CourseEdit,
        PersonEdit,
        PersonLine,
        JoinCodeInfo,
        JoinCodeAsk,
        PeopleView,
        LinksAsk,
        PasswordLink,
        LinkOwner,
        NewPassword,
        RosterLine,
        RosterView,
        JoinTarget,
        NewPerson,
        JoinAsk,
        SessionInfo,
        ExtensionInfo,
        TermsInfo,
        OwnTerms,
        DraftStanding,
        OwnCheck,
        MoveAsk,
        VersionAsk,
        PublishPreview,
        RevisionInfo,
        DiffLine,
        RevisionDiff,
        ArchiveAsk,
        DumpOpened,
        WindowLane,
        DumpWindow,
        DumpEdge,
        verdict::Finding,
        verdict::NearMiss,
        verdict::PathLine,
        derive::CoverTerm,
        verdict::MarkPart,
        verdict::Marks,
        verdict::Resources,
        verdict::AnswerResult,
        verdict::Verdict,
        exercise::PortDraft,
        exercise::NamedText,
        exercise::CodeDraft,
        exercise::BehaviourDraft,
        exercise::ClockDraft,
        exercise::RateDraft,
        exercise::SequenceDraft,
        exercise::WayDraft,
        exercise::StateDraft,
        exercise::RulesDraft,
        exercise::WiringDraft,
        exercise::AttachmentDraft,
        exercise::AnswerDraft,
        exercise::PartsDraft,
        exercise::ExerciseDraft,
        exercise::FieldProblem,
        exercise::DraftEdit,
        derive::CanonicalText,
        derive::PrimeInfo,
        derive::CoverInfo,
        derive::TwoLevel,
        derive::FormNode,
        derive::ExclusiveForm,
        derive::PackageInfo,
        derive::CostInfo,
        derive::HazardInfo,
        derive::GroupedCubeInfo,
        derive::OnesGroupInfo,
        derive::ChartStepInfo,
        derive::StepsInfo,
        derive::DerivedOutput,
        derive::SharedTermInfo,
        derive::SharedInfo,
        derive::Derivation,
        derive::ExportText,
    );
    out
}
