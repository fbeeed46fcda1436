// Made from the Rust types by `cargo xtask types`; don't edit.

export type ProblemBody = { 
/**
 * What kind of failure.
 */
title: string, 
/**
 * The HTTP status.
 */
status: number, 
/**
 * What happened and what to do.
 */
detail: string, };

export type SignIn = { 
/**
 * Sign-in name.
 */
name: string, 
/**
 * Password.
 */
password: string, };

export type CourseRef = { 
/**
 * Key.
 */
id: number, 
/**
 * Title.
 */
title: string, 
/**
 * `instructor`, `assistant` or `student`.
 */
role: string, };

export type Me = { 
/**
 * Name for people.
 */
name: string, 
/**
 * Name to sign in with.
 */
sign_in: string, 
/**
 * May make courses.
 */
teaches: boolean, 
/**
 * Their courses.
 */
courses: Array<CourseRef>, };

export type Start = { 
/**
 * Who is signed in; nobody when null.
 */
me: Me | null, 
/**
 * Sign-in names and the password of the demo data; null outside the demo.
 */
demo: DemoAccounts | null, 
/**
 * Nobody is there yet: the first person has to be made.
 */
needs_set_up: boolean, };

export type DemoAccounts = { 
/**
 * The password of all of them.
 */
password: string, 
/**
 * Sign-in name and role.
 */
accounts: Array<DemoAccount>, };

export type DemoAccount = { 
/**
 * Sign-in name.
 */
name: string, 
/**
 * What it is.
 */
role: string, };

export type Cell = { 
/**
 * The newest hand-in.
 */
hand_in: number, 
/**
 * `passed`, `partly`, `failed`, `cannot_tell` or `waiting`; `held_back` for students until verdicts are shown.
 */
state: string, 
/**
 * Right rows.
 */
passed: number, 
/**
 * All rows.
 */
total: number, 
/**
 * Attempt, from 1.
 */
attempt: number, 
/**
 * The exercise has changed since.
 */
stale: boolean, 
/**
 * Who signed it off.
 */
signed_off: string | null, 
/**
 * Marks earned; null where the exercise gives none, or nothing was judged yet.
 */
marks: number | null, 
/**
 * Marks to be had.
 */
out_of: number | null, 
/**
 * Handed in after it was due.
 */
late: boolean, };

export type ExerciseHead = { 
/**
 * Key.
 */
id: number, 
/**
 * Title.
 */
title: string, 
/**
 * Due then; null for never. For students their own time.
 */
due_at: number | null, 
/**
 * Students see it from then on; null for at once.
 */
release_at: number | null, 
/**
 * `published`, `changed` (a draft differs from it) or `unpublished`; students see published ones only.
 */
state: string, };

export type StudentLine = { 
/**
 * Key.
 */
id: number, 
/**
 * Name.
 */
name: string, 
/**
 * Section.
 */
section: string, 
/**
 * A cell for each exercise; null where nothing was handed in.
 */
cells: Array<Cell | null>, 
/**
 * Marks earned in what was judged; null where nothing gives marks.
 */
marks: number | null, 
/**
 * Marks to be had in what was judged.
 */
out_of: number | null, };

export type PassSheet = { 
/**
 * Title of the course.
 */
title: string, 
/**
 * A student's newest attempt counts; else the best.
 */
counts_newest: boolean, 
/**
 * Columns.
 */
exercises: Array<ExerciseHead>, 
/**
 * Those that are put aside; empty for students.
 */
archived: Array<ExerciseHead>, 
/**
 * Lines.
 */
students: Array<StudentLine>, };

export type AuditLine = { 
/**
 * Who.
 */
person: string | null, 
/**
 * Did what.
 */
action: string, 
/**
 * To what.
 */
subject: string, 
/**
 * When, in seconds since 1970.
 */
at: number, };

export type ExerciseText = { 
/**
 * TOML.
 */
text: string, 
/**
 * The version that it changes; null for a new exercise.
 */
version: number | null, };

export type ExerciseSaved = { 
/**
 * Key.
 */
id: number, 
/**
 * What the next save has to say that it changes.
 */
version: number, 
/**
 * Worth knowing.
 */
warnings: Array<string>, };

export type PortInfo = { 
/**
 * Name.
 */
name: string, 
/**
 * `in` or `out`.
 */
dir: string, 
/**
 * Bounds such as `[3:0]`; empty for a scalar.
 */
range: string, 
/**
 * Names of its bits, most significant first.
 */
bits: Array<string>, };

export type Column = { 
/**
 * The output bit.
 */
name: string, 
/**
 * 0, 1, - (either), X (unknown) or Z (floating).
 */
values: string, };

export type PartInfo = { 
/**
 * Printed label.
 */
label: string, 
/**
 * Pin.
 */
pin: string, 
/**
 * `slide_switch`, `push_button`, `led` or `oscillator`.
 */
kind: string, 
/**
 * Periods of an oscillator in a second.
 */
frequency_hz: number | null, 
/**
 * True when 0 means on.
 */
active_low: boolean, 
/**
 * Column in the picture.
 */
x: number, 
/**
 * Row in the picture.
 */
y: number, };

export type BoardInfo = { 
/**
 * Name for people.
 */
title: string, 
/**
 * Device and package.
 */
device: string, 
/**
 * Parts.
 */
parts: Array<PartInfo>, };

export type PlanLine = { 
/**
 * Port bit.
 */
bit: string, 
/**
 * Part label.
 */
part: string, 
/**
 * Pin.
 */
pin: string, };

export type StudentRef = { 
/**
 * Key.
 */
id: number, 
/**
 * Name.
 */
name: string, 
/**
 * Section.
 */
section: string, };

export type QuestionInfo = { 
/**
 * The output bit.
 */
output: string, 
/**
 * `table`, `minterms`, `sop` and so on.
 */
ask: string, 
/**
 * It has to be minimal.
 */
minimal: boolean, 
/**
 * Marks for it.
 */
marks: number, };

export type WorkingsRequest = { 
/**
 * The exercise whose file is changed; null for a new one.
 */
exercise: number | null, 
/**
 * Signals and behaviour as typed.
 */
draft: ExerciseDraft, 
/**
 * A change to carry out first.
 */
edit: DraftEdit | null, 
/**
 * `prime`, `overline`, `operators` or `words`.
 */
notation: string, 
/**
 * With products shared by all outputs.
 */
shared: boolean, };

export type WorkingsView = { 
/**
 * What was saved last, as saving has to say it again; 0 for a new exercise.
 */
version: number, 
/**
 * How the exercise stands; null for a new one.
 */
standing: DraftStanding | null, 
/**
 * Signals and behaviour after the change.
 */
draft: ExerciseDraft, 
/**
 * The exercise file that says it; null while there is a problem.
 */
file: string | null, 
/**
 * Why there is nothing to show.
 */
problem: FieldProblem | null, 
/**
 * Worth knowing.
 */
warnings: Array<string>, 
/**
 * What a hand-in has to keep to, in sentences.
 */
rules: Array<string>, 
/**
 * Labels of the parts that inputs may be wired to, and of those for outputs; empty without a board.
 */
labels: [Array<string>, Array<string>], 
/**
 * Ports with their bits; empty while there is a problem.
 */
ports: Array<PortInfo>, 
/**
 * Output columns of the table.
 */
columns: Array<Column>, 
/**
 * Positions of the outputs that light the segments a to g of a digit.
 */
digit: Array<number>, 
/**
 * The digit's segments light at 0.
 */
digit_active_low: boolean, 
/**
 * What follows from the table.
 */
derivation: Derivation | null, 
/**
 * Why there is no derivation, when there is a table.
 */
too_large: string | null, 
/**
 * The minimal forms to take elsewhere.
 */
exports: Array<ExportText>, };

export type WorkingsSave = { 
/**
 * The version that it changes.
 */
version: number, 
/**
 * Signals and behaviour.
 */
draft: ExerciseDraft, };

export type ExercisePage = { 
/**
 * Key.
 */
id: number, 
/**
 * Title.
 */
title: string, 
/**
 * What the task is, in Markdown; may be empty.
 */
statement: string, 
/**
 * Number of the published revision; 0 before the first.
 */
revision: number, 
/**
 * What saving the file has to say that it changes; 0 for students.
 */
version: number, 
/**
 * How the exercise stands; null for students.
 */
standing: DraftStanding | null, 
/**
 * When it is worked at, and what students read of verdicts; null for students.
 */
terms: TermsInfo | null, 
/**
 * What of that concerns the student who asks; null for staff.
 */
own_terms: OwnTerms | null, 
/**
 * Ports in table order.
 */
ports: Array<PortInfo>, 
/**
 * Input bits, most significant first.
 */
inputs: Array<string>, 
/**
 * Expected outputs; names only (empty values) for students.
 */
outputs: Array<Column>, 
/**
 * Clock, reset and rule of a clocked exercise; students see no table of the rule.
 */
clocked: ClockedInfo | null, 
/**
 * The behaviour line by line where there are too many inputs for a table; no lines for students.
 */
wide: Array<string> | null, 
/**
 * What a hand-in has to keep to beside the behaviour.
 */
rules: Array<string>, 
/**
 * The board, when the exercise is wired.
 */
board: BoardInfo | null, 
/**
 * The wiring plan.
 */
plan: Array<PlanLine>, 
/**
 * Answers to be prepared.
 */
answers: Array<QuestionInfo>, 
/**
 * Files to start from: for students the empty designs, for staff the testbenches too.
 */
starters: Array<ExportText>, 
/**
 * The exercise file, for the instructor.
 */
text: string | null, 
/**
 * Students who may hand in here: oneself, or everybody for staff.
 */
students: Array<StudentRef>, };

export type HandInLine = { 
/**
 * Key.
 */
id: number, 
/**
 * Whose.
 */
student: string, 
/**
 * How it stands.
 */
cell: Cell, 
/**
 * When, in seconds since 1970.
 */
submitted_at: number, };

export type FileText = { 
/**
 * Name as given.
 */
name: string, 
/**
 * `design` or `wiring`.
 */
kind: string, 
/**
 * Its text; null when it is none.
 */
text: string | null, };

export type HandInPage = { 
/**
 * Key.
 */
id: number, 
/**
 * Exercise.
 */
exercise: number, 
/**
 * Title of the exercise.
 */
title: string, 
/**
 * Whose.
 */
student: string, 
/**
 * How it stands.
 */
cell: Cell, 
/**
 * The verdict is held back from the student until then: seconds since 1970.
 */
shown_after: number | null, 
/**
 * When, in seconds since 1970.
 */
submitted_at: number, 
/**
 * Files in order.
 */
files: Array<FileText>, 
/**
 * The first sentence.
 */
headline: string | null, 
/**
 * While there is no verdict: what the check waits for, or for how long it has run.
 */
waits_for: string | null, 
/**
 * The verdict; null while it waits.
 */
verdict: Verdict | null, 
/**
 * The exercise is clocked.
 */
clocked: boolean, 
/**
 * What it takes of the device, in words.
 */
takes: string | null, 
/**
 * Input bits.
 */
inputs: Array<string>, 
/**
 * What the design does on each row; empty when it could not be run.
 */
actual: Array<Column>, 
/**
 * What it should do; empty for students.
 */
expected: Array<Column>, 
/**
 * Products that cover the rows where an output should be 1, in operators; empty for students.
 */
terms: Array<CoverTerm>, 
/**
 * The board, when the exercise is wired.
 */
board: BoardInfo | null, 
/**
 * There is an image of it to be loaded on the board.
 */
has_image: boolean, 
/**
 * Other attempts of the student, newest first.
 */
attempts: Array<HandInLine>, };

export type HandInKept = { 
/**
 * Key.
 */
id: number, 
/**
 * Attempt.
 */
attempt: number, };

export type WiredBit = { 
/**
 * Port bit.
 */
bit: string, 
/**
 * Position of the part on the board; null when it is not wired.
 */
part: number | null, };

export type BenchView = { 
/**
 * For each part: is it on?
 */
switches: Array<boolean>, 
/**
 * For each part: `lit`, `dark`, `unknown` or `conflict`.
 */
lamps: Array<string>, 
/**
 * For each part the share of the ticks of this question that it was lit, in percent; empty without ticks.
 */
glow: Array<number>, 
/**
 * The row that the switches select; null when an input is open.
 */
row: number | null, 
/**
 * The wiring.
 */
wired: Array<WiredBit>, 
/**
 * An input of the design is joined to nothing that drives it.
 */
has_open_input: boolean, 
/**
 * The design waits for ticks of the oscillator.
 */
is_clocked: boolean, 
/**
 * What the flip-flops hold, for the next question; null where there are none or nothing is loaded.
 */
state: string | null, 
/**
 * Periods of the oscillator since the image was loaded.
 */
ticks: number, 
/**
 * Why the image is not loaded; null when it is.
 */
refusal: string | null, 
/**
 * The image; null on the bench of the expected behaviour.
 */
image: ImageInfo | null, };

export type ImageInfo = { 
/**
 * The unit of the design.
 */
design: string, 
/**
 * The device it is for.
 */
device: string, 
/**
 * What it was made from, in hexadecimal digits.
 */
fingerprint: string, 
/**
 * What it takes of the device, in words.
 */
takes: string, };

export type VerdictKind = "pass" | "partly" | "fail" | "cannot_tell";

export type ProofKind = "proved" | "matched" | "differs" | "none";

export type ProofMethod = "exhaustive" | "sat" | "states" | "induction" | "simulation";

export type Proof = { 
/**
 * Its strength.
 */
kind: ProofKind, 
/**
 * How; `None` when nothing was run.
 */
method: ProofMethod | null, 
/**
 * Rows run.
 */
rows: number | null, 
/**
 * Cycles run, for clocked designs.
 */
cycles: number | null, 
/**
 * The work that it was allowed, and what of it was used; `None` when nothing was run.
 */
budget?: ProofBudget | null, };

export type ProofBudget = { 
/**
 * Steps it might take.
 */
steps: number, 
/**
 * Steps it took.
 */
spent: number, };

export type RowCount = { 
/**
 * Rows where every output has its care value.
 */
passed: number, 
/**
 * All rows.
 */
total: number, };

export type StageState = "pass" | "fail" | "skipped";

export type StageResult = { 
/**
 * `names`, `language`, `structure`, `behaviour`, `wiring` or `bench`.
 */
stage: string, 
/**
 * How it ended.
 */
state: StageState, 
/**
 * Why it was skipped, or what it showed of faults told elsewhere; else empty.
 */
reason: string, };

export type ClockedInfo = { 
/**
 * The clock in a sentence.
 */
clock: string, 
/**
 * The reset in a sentence.
 */
reset: string, 
/**
 * The rule in a sentence.
 */
rule: string, 
/**
 * Heads of the rule's table; empty when it has none.
 */
columns: Array<string>, 
/**
 * A state or pattern each.
 */
rows: Array<Array<string>>, };

export type TraceStep = { 
/**
 * Clock edges since the start.
 */
cycle: number, 
/**
 * Input bits without the clock.
 */
inputs: { [key in string]: string }, 
/**
 * Output bits as they should be; `-` for a don't-care.
 */
expected: { [key in string]: string }, 
/**
 * Output bits as they are: 0, 1, X or Z.
 */
actual: { [key in string]: string }, };

export type Evidence = { 
/**
 * Input bits of the row, first input first.
 */
row: string | null, 
/**
 * The clock cycle, for clocked designs.
 */
cycle: number | null, 
/**
 * Output bits as they should be; `-` for a don't-care.
 */
expected: { [key in string]: string }, 
/**
 * Output bits as they are: 0, 1, X or Z.
 */
actual: { [key in string]: string }, 
/**
 * The clock cycles that lead there, for clocked designs; the last one is the evidence.
 */
trace?: Array<TraceStep>, 
/**
 * For clocked designs, what each register holds then, by the name of its bit: 0, 1 or X.
 */
state?: { [key in string]: string }, 
/**
 * The lines of the source that decide the wrong levels there.
 */
path?: Array<PathLine>, };

export type RelatedPlace = { 
/**
 * The file.
 */
file: string, 
/**
 * Line, from 1.
 */
line: number, 
/**
 * What is there.
 */
label: string, };

export type FixInfo = { 
/**
 * What it does, beginning with a verb.
 */
label: string, 
/**
 * The file.
 */
file: string, 
/**
 * Line of the beginning of what is replaced, from 1.
 */
line: number, 
/**
 * Its column, from 1, in characters.
 */
column: number, 
/**
 * Line of the end.
 */
end_line: number, 
/**
 * Column behind the end.
 */
end_column: number, 
/**
 * What takes its place.
 */
text: string, };

export type CodeExample = { 
/**
 * `verilog`, `vhdl`, or `text` for anything else.
 */
language: string, 
/**
 * The exercise's `[rules]` that the example is about.
 */
rules?: string | null, 
/**
 * What gives the finding.
 */
wrong: string, 
/**
 * What doesn't.
 */
right: string, };

export type CodeEntry = { 
/**
 * In kebab-case; stable.
 */
code: string, 
/**
 * `names`, `language`, `structure`, `behaviour`, `wiring` or `answers`.
 */
stage: string, 
/**
 * `stop`, `marks`, `note`, or how it varies.
 */
severity: string, 
/**
 * What it means, in one sentence.
 */
means: string, 
/**
 * At least one.
 */
example: Array<CodeExample>, };

export type PadFile = { 
/**
 * Its name with its ending.
 */
name: string, 
/**
 * Its text.
 */
text: string, };

export type TryRequest = { 
/**
 * The files.
 */
files: Array<PadFile>, 
/**
 * The top, when it was chosen.
 */
top: string | null, };

export type TryView = { 
/**
 * The sentence that matters most.
 */
headline: string, 
/**
 * The verdict; nothing of it is kept.
 */
verdict: Verdict, 
/**
 * What the design does on every row, when it could be run.
 */
actual: Array<Column>, };

export type InputStimulus = { 
/**
 * Name of the port.
 */
input: string, 
/**
 * A line as the table above has it.
 */
line: string, };

export type Stimulus = { 
/**
 * How long it takes, in nanoseconds.
 */
length_ns: number, 
/**
 * How long a step takes, in nanoseconds.
 */
step_ns: number, 
/**
 * What each input does, in the order of the ports; inputs that are left out count.
 */
inputs: Array<InputStimulus>, };

export type LaneRole = "input" | "output" | "expected" | "inner";

export type Lane = { 
/**
 * What it shows.
 */
role: LaneRole, 
/**
 * Scopes from the top down.
 */
scopes: Array<string>, 
/**
 * Its name.
 */
name: string, 
/**
 * Its bounds as declared; empty for a single bit.
 */
range: string, 
/**
 * Bits.
 */
width: number, 
/**
 * Names of its values by their number, when it is an enumeration; empty where a value has none.
 */
literals: Array<string>, 
/**
 * When it changed, in femtoseconds; the first one is 0.
 */
times: Array<number>, 
/**
 * What it became: levels, the most significant first; `-` where nothing is demanded.
 */
values: Array<string>, 
/**
 * Stretches in which it is not what is demanded, in femtoseconds.
 */
differs: Array<[number, number]>, };

export type Waves = { 
/**
 * The unit that was run; none for what is expected alone.
 */
unit: string | null, 
/**
 * Units that can be run on their own.
 */
units: Array<string>, 
/**
 * What the inputs did; none for a testbench.
 */
stimulus: Stimulus | null, 
/**
 * `finished`, `quiet`, `until`, `stopped` or `not_run`.
 */
end: string, 
/**
 * Time up to which the lanes hold what happened, in femtoseconds: the end of the run, or of the first part of it.
 */
time_fs: number, 
/**
 * Failed assertions of severity warning, error and failure.
 */
failed: number, 
/**
 * What it wrote.
 */
output: string, 
/**
 * What is wrong with the sources, or why it was stopped.
 */
findings: Array<Finding>, 
/**
 * Inputs, outputs with what is expected under each, then what is within.
 */
lanes: Array<Lane>, 
/**
 * Something was left out because there was too much.
 */
cut: boolean, 
/**
 * Why nothing is expected here, when there is an exercise.
 */
why_no_expected: string | null, };

export type WavesAsk = { 
/**
 * The files.
 */
files: Array<PadFile>, 
/**
 * A hand-in instead.
 */
hand_in: number | null, 
/**
 * The unit to run on its own.
 */
unit: string | null, 
/**
 * What the inputs do; else a testbench among the files, the stimulus kept with the exercise or the usual one.
 */
stimulus: Stimulus | null, 
/**
 * Ends at this time, in nanoseconds.
 */
until_ns: number | null, 
/**
 * A picture goes along.
 */
picture: boolean, };

export type WavesView = { 
/**
 * The waves.
 */
waves: Waves, 
/**
 * Their stimulus is the one kept with the exercise.
 */
saved: boolean, 
/**
 * How the lanes are arranged, as the page wrote it.
 */
arrangement: string | null, 
/**
 * A picture of inputs and outputs (SVG), when it was asked for.
 */
picture: string | null, };

export type WavesKept = { 
/**
 * The stimulus; unchanged when null.
 */
stimulus: Stimulus | null, 
/**
 * Forgets the stimulus: the usual one from now on.
 */
usual: boolean, 
/**
 * How the lanes are arranged; unchanged when null.
 */
arrangement: string | null, };

export type Rhythm = { 
/**
 * The output.
 */
output: string, 
/**
 * Clock cycles from one rising edge to the next.
 */
period_cycles: number, 
/**
 * Cycles of them that it is high.
 */
high_cycles: number, 
/**
 * The same at the board's clock, when the exercise names one, in Hz with nine digits that count.
 */
hertz: string | null, };

export type DividerPlan = { 
/**
 * What it is for: `toggle`, an output that is turned over at each terminal count, or `pulse`, one that is high for
 * one cycle at each.
 */
kind: string, 
/**
 * The count at which it begins anew: F / (2 f) - 1 for an output that is turned over, F / f - 1 for a pulse.
 */
terminal_count: number, 
/**
 * The same as a sum.
 */
formula: string, 
/**
 * Bits of the counter.
 */
width: number, 
/**
 * Clock cycles of a period.
 */
period_cycles: number, 
/**
 * What comes out, in Hz.
 */
achieved_hz: number, 
/**
 * How far that is off, in millionths of what is wanted.
 */
error_ppm: number, };

export type TryTick = { 
/**
 * Input bits without the clock, set before the tick.
 */
inputs: string, 
/**
 * Output bits behind it: 0, 1, X or Z.
 */
outputs: string, };

export type TryTicks = { 
/**
 * Names of the input bits, without the clock.
 */
inputs: Array<string>, 
/**
 * Names of the output bits.
 */
outputs: Array<string>, 
/**
 * The ticks, from the reset or power-up on.
 */
ticks: Array<TryTick>, 
/**
 * Faults that were looked at: every wire of the circuit stuck at 0 or 1.
 */
faults: number, 
/**
 * Those that the run shows.
 */
shown: number, };

export type StructureView = "written" | "mapped";

export type DrawnPin = { 
/**
 * Where its wire meets it, in units of the drawing.
 */
x: number, 
/**
 * The same downwards.
 */
y: number, 
/**
 * The wire, by its number.
 */
wire: number, 
/**
 * An input of the symbol.
 */
input: boolean, 
/**
 * Drawn with a bubble: the level is complemented.
 */
inverted: boolean, 
/**
 * What is written beside it.
 */
name: string, };

export type DrawnBlock = { 
/**
 * `input`, `output`, `constant`, `and`, `or`, `xor`, `not`, `choice`, `function`, `table`, `stored` or `flip_flop`.
 */
kind: string, 
/**
 * What is written in it.
 */
label: string, 
/**
 * Its left edge.
 */
x: number, 
/**
 * Its upper edge.
 */
y: number, 
/**
 * Its width.
 */
width: number, 
/**
 * Its height.
 */
height: number, 
/**
 * Inputs from the top, then outputs.
 */
pins: Array<DrawnPin>, 
/**
 * The file that describes it.
 */
file: string | null, 
/**
 * Its line there, from 1.
 */
line: number | null, 
/**
 * For functions of at most six inputs: its output, a letter 0 or 1 for each row of its inputs in binary order, the
 * upper one most significant.
 */
table: string | null, };

export type DrawnWire = { 
/**
 * Straight pieces: x and y of one end, x and y of the other.
 */
pieces: Array<[number, number, number, number]>, 
/**
 * Where three pieces meet: x and y.
 */
joints: Array<[number, number]>, };

export type Structure = { 
/**
 * Which drawing it is.
 */
view: StructureView, 
/**
 * Its width.
 */
width: number, 
/**
 * Its height.
 */
height: number, 
/**
 * The symbols, each behind those that it reads.
 */
blocks: Array<DrawnBlock>, 
/**
 * The wires.
 */
wires: Array<DrawnWire>, 
/**
 * Names of the output bits, for drawing one of them only.
 */
outputs: Array<string>, 
/**
 * It has a clock: what its wires carry depends on more than a row.
 */
clocked: boolean, };

export type StructureLevels = { 
/**
 * A letter for each wire: 0, 1 or X.
 */
levels: string, 
/**
 * Wires that decide the outputs that are wrong on that row, by their numbers; of the chosen output where one is chosen.
 */
deciding: Array<number>, 
/**
 * Those outputs.
 */
of: Array<string>, };

export type RowsView = { 
/**
 * What they show, in a sentence.
 */
sentence: string, 
/**
 * The rows as input bits, in the order that flips the fewest switches.
 */
rows: Array<string>, 
/**
 * For a clocked design the ticks instead.
 */
ticks: TryTicks | null, };

export type SetUp = { 
/**
 * Name for people: given name first.
 */
name: string, 
/**
 * Family name; may be empty.
 */
family: string, 
/**
 * Name to sign in with.
 */
sign_in: string, 
/**
 * Password.
 */
password: string, 
/**
 * Title of the first course.
 */
course: string, };

export type CourseEdit = { 
/**
 * Title.
 */
title: string, 
/**
 * The course whose exercises are copied; null for none.
 */
copy_of: number | null, };

export type PersonEdit = { 
/**
 * Name for people: given name first.
 */
name: string, 
/**
 * Family name; may be empty.
 */
family: string, 
/**
 * Name to sign in with.
 */
sign_in: string, 
/**
 * The school's number; may be empty.
 */
number: string, 
/**
 * Section; may be empty.
 */
section: string, 
/**
 * `instructor`, `assistant` or `student`.
 */
role: string, 
/**
 * Sections that an assistant looks after; none for all.
 */
looks_after: Array<string>, 
/**
 * May come in.
 */
active: boolean, };

export type PersonLine = { 
/**
 * Key.
 */
id: number, 
/**
 * What is known of them.
 */
known: PersonEdit, 
/**
 * Has set a password.
 */
has_password: boolean, 
/**
 * Hand-ins in the course.
 */
hand_ins: number, 
/**
 * Name and number may be changed here, and a link may be made.
 */
is_ours: boolean, };

export type JoinCodeInfo = { 
/**
 * Key.
 */
id: number, 
/**
 * The code.
 */
code: string, 
/**
 * Section that one joins; empty for none.
 */
section: string, 
/**
 * How many may still join.
 */
uses_left: number, 
/**
 * When it ends: seconds since 1970.
 */
expires_at: number, };

export type JoinCodeAsk = { 
/**
 * Section that one joins; may be empty.
 */
section: string, 
/**
 * How many may join, 1 to 1000.
 */
uses: number, 
/**
 * Days that it holds, 1 to 120.
 */
days: number, };

export type PeopleView = { 
/**
 * Title of the course.
 */
title: string, 
/**
 * Sorted by family name.
 */
people: Array<PersonLine>, 
/**
 * Join codes that hold; empty for assistants.
 */
join_codes: Array<JoinCodeInfo>, };

export type LinksAsk = { 
/**
 * People of the course, at most 500.
 */
people: Array<number>, };

export type PasswordLink = { 
/**
 * The person.
 */
person: number, 
/**
 * Name for people.
 */
name: string, 
/**
 * Name to sign in with.
 */
sign_in: string, 
/**
 * The last part of the link's address.
 */
token: string, 
/**
 * When it ends: seconds since 1970.
 */
expires_at: number, };

export type LinkOwner = { 
/**
 * Name for people.
 */
name: string, 
/**
 * Name to sign in with.
 */
sign_in: string, };

export type NewPassword = { 
/**
 * The one before; only asked of somebody who is signed in.
 */
before: string | null, 
/**
 * The new one.
 */
password: string, };

export type RosterLine = { 
/**
 * The line, from 1.
 */
line: number, 
/**
 * `new`, `joins`, `changed`, `same` or `left_out`.
 */
state: string, 
/**
 * Name for people; empty where the line is nobody.
 */
name: string, 
/**
 * Name to sign in with.
 */
sign_in: string, 
/**
 * Section.
 */
section: string, 
/**
 * What changes, or why it is left out.
 */
what: string, };

export type RosterView = { 
/**
 * Line by line.
 */
lines: Array<RosterLine>, 
/**
 * Students of the course who are not in it; they stay.
 */
missing: Array<string>, 
/**
 * It was done; else only looked at.
 */
applied: boolean, };

export type JoinTarget = { 
/**
 * Title.
 */
title: string, };

export type NewPerson = { 
/**
 * Name for people: given name first.
 */
name: string, 
/**
 * Family name; may be empty.
 */
family: string, 
/**
 * Name to sign in with.
 */
sign_in: string, 
/**
 * Password.
 */
password: string, };

export type JoinAsk = { 
/**
 * The code.
 */
code: string, 
/**
 * A new person.
 */
person: NewPerson | null, };

export type SessionInfo = { 
/**
 * Key.
 */
key: string, 
/**
 * When it was opened: seconds since 1970.
 */
opened_at: number, 
/**
 * When it was used last.
 */
seen_at: number, 
/**
 * What the browser calls itself.
 */
agent: string, 
/**
 * It is this one.
 */
is_this: boolean, };

export type ExtensionInfo = { 
/**
 * The person; null for a section.
 */
person: number | null, 
/**
 * The section; empty for a person.
 */
section: string, 
/**
 * Due then: seconds since 1970.
 */
due_at: number, };

export type TermsInfo = { 
/**
 * Students see it from then on; null for at once.
 */
release_at: number | null, 
/**
 * It is due then; null for never.
 */
due_at: number | null, 
/**
 * Hand-ins a student has; null for as many as wanted.
 */
attempts: number | null, 
/**
 * Late hand-ins are refused; else marked.
 */
refuses_late: boolean, 
/**
 * What students read of a verdict: `all`, `stages` or `after_due`.
 */
shown: string, 
/**
 * More time for some.
 */
extensions: Array<ExtensionInfo>, };

export type OwnTerms = { 
/**
 * Due for them then; null for never.
 */
due_at: number | null, 
/**
 * Attempts they have left; null for as many as wanted.
 */
attempts_left: number | null, 
/**
 * What they read of a verdict now: `all`, `stages` or `after_due`.
 */
shown: string, 
/**
 * Why nothing can be handed in now; null where it can.
 */
refusal: string | null, };

export type DraftStanding = { 
/**
 * Number of the published revision; null before the first.
 */
published: number | null, 
/**
 * Who saved the draft last; null where there is none.
 */
editor: string | null, 
/**
 * When: seconds since 1970.
 */
saved_at: number | null, 
/**
 * It is put aside: students don't see it.
 */
archived: boolean, };

export type OwnCheck = { 
/**
 * Whether it passes.
 */
verdict: VerdictKind, 
/**
 * The first sentence.
 */
headline: string, 
/**
 * What costs it marks, a sentence each.
 */
findings: Array<string>, };

export type MoveAsk = { 
/**
 * With the one before it; else with the one behind it.
 */
earlier: boolean, };

export type VersionAsk = { 
/**
 * What was saved last, as the page knows it.
 */
version: number, };

export type PublishPreview = { 
/**
 * What was saved last.
 */
version: number, 
/**
 * There is a draft to publish.
 */
has_draft: boolean, 
/**
 * Students see the exercise for the first time.
 */
is_first: boolean, 
/**
 * What is checked changes; else words only.
 */
changes_checks: boolean, 
/**
 * Hand-ins whose verdicts become stale.
 */
stale: number, };

export type RevisionInfo = { 
/**
 * Its number, from 1.
 */
number: number, 
/**
 * Title at that time.
 */
title: string, 
/**
 * Who published it.
 */
author: string, 
/**
 * When: seconds since 1970.
 */
at: number, };

export type DiffLine = { 
/**
 * `same`, `gone` or `new`.
 */
kind: string, 
/**
 * The line.
 */
text: string, };

export type RevisionDiff = { 
/**
 * Line by line, with three lines around each change; what is left out stands as one line of kind `skipped`.
 */
lines: Array<DiffLine>, 
/**
 * The newer text, to go back to.
 */
text: string, };

export type ArchiveAsk = { 
/**
 * Put aside.
 */
archived: boolean, };

export type DumpOpened = { 
/**
 * Its key while it is open.
 */
id: number, 
/**
 * When it ends, in femtoseconds.
 */
end: number, 
/**
 * How many changes it holds.
 */
changes: number, 
/**
 * Its signals, without their changes.
 */
lanes: Array<Lane>, 
/**
 * There are more signals than these.
 */
cut: boolean, };

export type WindowLane = { 
/**
 * Its number.
 */
lane: number, 
/**
 * When it changed, in femtoseconds; the first one may lie before the window.
 */
times: Array<number>, 
/**
 * What it became: levels, the most significant first.
 */
values: Array<string>, };

export type DumpWindow = { 
/**
 * The lanes that were asked for.
 */
lanes: Array<WindowLane>, };

export type DumpEdge = { 
/**
 * When, in femtoseconds.
 */
time: number, };

export type Finding = { 
/**
 * Stable code.
 */
code: string, 
/**
 * Stage that found it.
 */
stage: string, 
/**
 * `stop`, `marks` or `note`.
 */
severity: string, 
/**
 * The file as it was given.
 */
file: string | null, 
/**
 * Line, from 1.
 */
line: number | null, 
/**
 * Column, from 1, in characters.
 */
column: number | null, 
/**
 * Line of the end of the place.
 */
end_line: number | null, 
/**
 * Column behind the end of the place.
 */
end_column: number | null, 
/**
 * What is wrong.
 */
message: string, 
/**
 * What to do, and why it is wrong.
 */
help: string, 
/**
 * What shows it.
 */
evidence: Evidence | null, 
/**
 * Other places.
 */
related: Array<RelatedPlace>, 
/**
 * Changes that put it right.
 */
fixes?: Array<FixInfo>, 
/**
 * True when students must not see it.
 */
staff_only: boolean, };

export type NearMiss = { 
/**
 * Its kind.
 */
kind: string, 
/**
 * It as a sentence.
 */
message: string, 
/**
 * What a student may read where the sentence itself tells the repair.
 */
hint?: string | null, 
/**
 * The line as it is.
 */
before?: string | null, 
/**
 * The line with which it would be right.
 */
after?: string | null, 
/**
 * The file.
 */
file: string | null, 
/**
 * Line, from 1.
 */
line: number | null, 
/**
 * The change.
 */
repair: string, };

export type PathLine = { 
/**
 * The file.
 */
file: string, 
/**
 * Line, from 1.
 */
line: number, };

export type CoverTerm = { 
/**
 * The output bit.
 */
output: string, 
/**
 * A character for each input: 0, 1 or -.
 */
cube: string, 
/**
 * The product in a notation.
 */
text: string, };

export type MarkPart = { 
/**
 * The stage, or `answers`.
 */
what: string, 
/**
 * Earned.
 */
earned: number, 
/**
 * To be had.
 */
out_of: number, 
/**
 * What a part of them was earned for; else empty.
 */
why: string, };

export type Marks = { 
/**
 * Earned, in hundredths at the finest.
 */
earned: number, 
/**
 * To be had.
 */
out_of: number, 
/**
 * By stage, in order.
 */
parts: Array<MarkPart>, };

export type Resources = { 
/**
 * Two-input AND nodes of the netlist.
 */
and_nodes: number, 
/**
 * Look-up tables that cover it; null when counting them took too long.
 */
luts: number | null, 
/**
 * Inputs of each of those tables.
 */
lut_inputs: number, 
/**
 * Most tables one after the other on a way from an input or register to an output or register.
 */
levels: number, 
/**
 * Bits that clock edges load.
 */
flip_flops: number, 
/**
 * Bits that a level opens.
 */
latches: number, 
/**
 * Bits of the top's ports.
 */
pins: number, };

export type AnswerResult = { 
/**
 * The output it is about.
 */
output: string, 
/**
 * What was asked for: `table`, `minterms`, `sop` and so on.
 */
ask: string, 
/**
 * What was typed; empty when nothing was.
 */
given: string, 
/**
 * `right`, `partly` (right but not of the form asked for, or not minimal), `wrong` or `missing`.
 */
state: string, 
/**
 * Marks earned.
 */
marks: number, 
/**
 * Marks to be had.
 */
out_of: number, };

export type Verdict = { 
/**
 * `zesty-gate/verdict/1`
 */
format: string, 
/**
 * The outcome.
 */
verdict: VerdictKind, 
/**
 * Its strength.
 */
proof: Proof, 
/**
 * Right rows.
 */
rows: RowCount, 
/**
 * All six stages in order.
 */
stages: Array<StageResult>, 
/**
 * Findings, the one that matters most first.
 */
findings: Array<Finding>, 
/**
 * Near misses.
 */
near_misses: Array<NearMiss>, 
/**
 * What it takes; `None` when it was not synthesised.
 */
resources: Resources | null, 
/**
 * Prepared answers, in the exercise's order.
 */
answers?: Array<AnswerResult>, 
/**
 * How often an output was seen to repeat, for a rate rule.
 */
rhythm?: Rhythm | null, 
/**
 * Marks, where the exercise gives any; none as long as nothing can be told.
 */
marks?: Marks | null, };

export type PortDraft = { 
/**
 * Name.
 */
name: string, 
/**
 * `in` or `out`.
 */
dir: string, 
/**
 * Bounds such as `3:0`; empty for a scalar.
 */
range: string, 
/**
 * The name it has in the saved file, when it is there; what refers to it follows a new name.
 */
was: string, };

export type NamedText = { 
/**
 * Output, or bit of one.
 */
name: string, 
/**
 * As typed.
 */
text: string, };

export type CodeDraft = { 
/**
 * Its name.
 */
rule: string, 
/**
 * The characters that a digit shows for 0, 1 and so on.
 */
text: string, 
/**
 * The outputs light at 0.
 */
active_low: boolean, 
/**
 * Shapes of digits, such as `6-open`.
 */
digits: Array<string>, };

export type BehaviourDraft = { 
/**
 * `minterms`, `maxterms`, `expressions`, `table`, `code`, `rate`, `sequence`, `states`, `reference`, or another kind,
 * which is left as it is.
 */
kind: string, 
/**
 * Row lists of minterms or maxterms, bit by bit.
 */
terms: Array<NamedText>, 
/**
 * Rows that may be either, bit by bit.
 */
dont_cares: Array<NamedText>, 
/**
 * Expressions.
 */
expressions: Array<NamedText>, 
/**
 * Lines of a table.
 */
rows: string, 
/**
 * The code.
 */
code: CodeDraft, };

export type ClockDraft = { 
/**
 * The input that is the clock; empty for none.
 */
port: string, 
/**
 * `rising` or `falling`.
 */
edge: string, 
/**
 * Its frequency on the board; may be empty.
 */
frequency_hz: string, 
/**
 * The input that is the reset; empty for none.
 */
reset: string, 
/**
 * `high` or `low`.
 */
reset_active: string, 
/**
 * `sync` or `async`.
 */
reset_kind: string, };

export type RateDraft = { 
/**
 * The output bit.
 */
output: string, 
/**
 * How often it repeats in a second; may be empty.
 */
frequency_hz: string, 
/**
 * Clock cycles of a period; may be empty.
 */
period_cycles: string, 
/**
 * The share of a period that it is high; empty for a half.
 */
duty: string, 
/**
 * Cycles that a period may be longer or shorter; empty for none.
 */
tolerance_cycles: string, };

export type SequenceDraft = { 
/**
 * The output port.
 */
output: string, 
/**
 * Its patterns, a line each.
 */
patterns: string, 
/**
 * Clock cycles of a step; empty for one.
 */
step_cycles: string, 
/**
 * It begins anew behind the last one.
 */
repeats: boolean, };

export type WayDraft = { 
/**
 * The condition; empty for always.
 */
when: string, 
/**
 * The next state.
 */
to: string, 
/**
 * Outputs that count instead of the state's, such as `valve=1`; empty for none.
 */
outputs: string, };

export type StateDraft = { 
/**
 * Its name.
 */
name: string, 
/**
 * Its outputs, such as `valve=0 lamps=0-1`.
 */
outputs: string, 
/**
 * Ways from it, the first that holds is taken.
 */
ways: Array<WayDraft>, };

export type RulesDraft = { 
/**
 * Languages that may be handed in; none for all.
 */
languages: Array<string>, 
/**
 * What may not be used.
 */
forbid: Array<string>, 
/**
 * What has to be used.
 */
require: Array<string>, 
/**
 * Most gates; empty for any number.
 */
max_gates: string, 
/**
 * Most literals.
 */
max_literals: string, 
/**
 * Most levels.
 */
max_levels: string, 
/**
 * Forms of outputs.
 */
forms: Array<NamedText>, };

export type WiringDraft = { 
/**
 * The board; empty for none.
 */
board: string, 
/**
 * Labels of parts, by port bit.
 */
map: Array<NamedText>, };

export type AttachmentDraft = { 
/**
 * Its name.
 */
name: string, 
/**
 * `reference`, `starter`, `data` or `picture`.
 */
purpose: string, 
/**
 * What is in it; empty where the file lies beside the exercise file.
 */
text: string, };

export type AnswerDraft = { 
/**
 * The output bit.
 */
output: string, 
/**
 * What is asked for.
 */
ask: string, 
/**
 * A longer one costs marks.
 */
minimal: boolean, 
/**
 * Its marks; empty for one.
 */
marks: string, };

export type PartsDraft = { 
/**
 * Clock and reset.
 */
clock: ClockDraft, 
/**
 * A rate.
 */
rate: RateDraft, 
/**
 * A sequence.
 */
sequence: SequenceDraft, 
/**
 * The first state; empty for the first one of the list.
 */
initial: string, 
/**
 * States.
 */
states: Array<StateDraft>, 
/**
 * Rules.
 */
rules: RulesDraft, 
/**
 * Marks by stage.
 */
marks: Array<NamedText>, 
/**
 * The wiring plan.
 */
wiring: WiringDraft, 
/**
 * Prepared answers.
 */
answers: Array<AnswerDraft>, 
/**
 * The reference's top; empty for the only one.
 */
reference_top: string, 
/**
 * Files of the exercise.
 */
attachments: Array<AttachmentDraft>, };

export type ExerciseDraft = { 
/**
 * Title.
 */
title: string, 
/**
 * What the task is, in Markdown.
 */
statement: string, 
/**
 * Ports in table order.
 */
ports: Array<PortDraft>, 
/**
 * Behaviour.
 */
behaviour: BehaviourDraft, 
/**
 * Clock, rules, marks, wiring and what is expected over time.
 */
parts: PartsDraft, };

export type FieldProblem = { 
/**
 * `title`, `statement`, `port.0.name`, `port.0.range`, `terms.f`, `dont_cares.f`, `expressions.f`, `rows`, `code`; empty for
 * the whole.
 */
field: string, 
/**
 * What is wrong and what to do.
 */
message: string, };

export type DraftEdit = { "kind": "cell", 
/**
 * Output bit.
 */
output: string, 
/**
 * Row.
 */
row: number, 
/**
 * `0`, `1` or `-`.
 */
value: string, } | { "kind": "paste", 
/**
 * The text.
 */
text: string, } | { "kind": "rename", 
/**
 * Position of the port.
 */
port: number, 
/**
 * Its new name.
 */
name: string, } | { "kind": "convert", 
/**
 * `minterms`, `maxterms` or `table`.
 */
to: string, };

export type CanonicalText = { 
/**
 * Sum of minterms.
 */
sop: string, 
/**
 * Product of maxterms.
 */
pos: string, };

export type PrimeInfo = { 
/**
 * One character an input: 0, 1 or -.
 */
cube: string, 
/**
 * It alone covers a row that must be 1.
 */
essential: boolean, 
/**
 * It covers some row that must be 1.
 */
covers_ones: boolean, };

export type CoverInfo = { 
/**
 * Its cubes; those of a product of sums name the rows that its sum terms make 0.
 */
cubes: Array<string>, 
/**
 * It as text.
 */
text: string, };

export type TwoLevel = { 
/**
 * Terms of each.
 */
terms: number, 
/**
 * Literals of each.
 */
literals: number, 
/**
 * Proved that none is cheaper.
 */
optimal: boolean, 
/**
 * Proved that none has fewer terms than this.
 */
least_terms: number, 
/**
 * All that tie, at most 64.
 */
covers: Array<CoverInfo>, 
/**
 * The list holds all that tie.
 */
all_covers: boolean, };

export type FormNode = { 
/**
 * `not`, `and`, `or`, `nand`, `nor`, `xor`, `xnor`, `input` or `constant`.
 */
kind: string, 
/**
 * The input's name, or 0 or 1.
 */
name: string, 
/**
 * The input is complemented.
 */
complemented: boolean, 
/**
 * What the gate joins.
 */
operands: Array<FormNode>, };

export type ExclusiveForm = { 
/**
 * It as text.
 */
text: string, 
/**
 * It as a tree.
 */
tree: FormNode, };

export type PackageInfo = { 
/**
 * `NAND`, `AND` and so on.
 */
gate: string, 
/**
 * Inputs of each gate as bought.
 */
inputs: number, 
/**
 * Gates needed.
 */
gates: number, 
/**
 * Packages of 14 pins.
 */
packages: number, };

export type CostInfo = { 
/**
 * `canonical SOP`, `minimal SOP`, `NAND–NAND` and so on.
 */
form: string, 
/**
 * Terms.
 */
terms: number, 
/**
 * Literals.
 */
literals: number, 
/**
 * Gates without inverters at the inputs.
 */
gates: number, 
/**
 * Their inputs together.
 */
gate_inputs: number, 
/**
 * Gates on the longest way.
 */
levels: number, 
/**
 * Inverters at the inputs.
 */
inverters: number, 
/**
 * What to take from the shelf.
 */
packages: Array<PackageInfo>, 
/**
 * Packages in all.
 */
package_total: number, };

export type HazardInfo = { 
/**
 * The input that changes.
 */
input: string, 
/**
 * The row before.
 */
from: string, 
/**
 * The row behind.
 */
to: string, 
/**
 * The term that removes it, as a cube.
 */
cube: string, 
/**
 * And as text.
 */
term: string, 
/**
 * It in words.
 */
sentence: string, };

export type GroupedCubeInfo = { 
/**
 * The cube.
 */
cube: string, 
/**
 * The rows it covers.
 */
rows: number[], 
/**
 * It was combined, so it is not prime.
 */
combined: boolean, };

export type OnesGroupInfo = { 
/**
 * Number of ones.
 */
ones: number, 
/**
 * The cubes.
 */
cubes: Array<GroupedCubeInfo>, };

export type ChartStepInfo = { 
/**
 * `essential`, `row`, `column` or `choice`.
 */
kind: string, 
/**
 * It in words.
 */
sentence: string, 
/**
 * Cubes taken by it.
 */
takes: Array<string>, 
/**
 * The row or cube that goes.
 */
drops: string | null, };

export type StepsInfo = { 
/**
 * Grouping columns.
 */
columns: Array<Array<OnesGroupInfo>>, 
/**
 * Rows of the chart.
 */
chart_rows: number[], 
/**
 * Columns of the chart.
 */
chart_primes: Array<string>, 
/**
 * What is done in it.
 */
chart: Array<ChartStepInfo>, 
/**
 * The cover that it leads to.
 */
cover: Array<string>, };

export type DerivedOutput = { 
/**
 * Its name.
 */
name: string, 
/**
 * Rows where it is 1.
 */
minterms: number[], 
/**
 * Rows where it is 0.
 */
maxterms: number[], 
/**
 * Rows where it may be either.
 */
dont_cares: number[], 
/**
 * Canonical forms.
 */
canonical: CanonicalText, 
/**
 * Prime implicants; empty when there were too many to list.
 */
primes: Array<PrimeInfo>, 
/**
 * Minimal sums of products.
 */
sop: TwoLevel, 
/**
 * Minimal products of sums.
 */
pos: TwoLevel, 
/**
 * The first minimal sum of products in NAND gates.
 */
nand_nand: string, 
/**
 * The first minimal product of sums in NOR gates.
 */
nor_nor: string, 
/**
 * With exclusive ORs, where that has fewer literals.
 */
xor: ExclusiveForm | null, 
/**
 * What each form costs.
 */
costs: Array<CostInfo>, 
/**
 * Static-1 hazards of the first minimal sum of products.
 */
sop_hazards: Array<HazardInfo>, 
/**
 * Static-0 hazards of the first minimal product of sums.
 */
pos_hazards: Array<HazardInfo>, 
/**
 * How the sum of products is found, when asked for and short enough to follow.
 */
sop_steps: StepsInfo | null, 
/**
 * How the product of sums is found.
 */
pos_steps: StepsInfo | null, };

export type SharedTermInfo = { 
/**
 * The product as a cube.
 */
cube: string, 
/**
 * And as text.
 */
text: string, 
/**
 * Names of the outputs.
 */
outputs: Array<string>, };

export type SharedInfo = { 
/**
 * Number of different products.
 */
terms: number, 
/**
 * Their literals.
 */
literals: number, 
/**
 * Proved that none is cheaper.
 */
optimal: boolean, 
/**
 * Products of the outputs' own minimal forms together.
 */
apart_terms: number, 
/**
 * The products.
 */
products: Array<SharedTermInfo>, 
/**
 * An expression for each output, in order.
 */
texts: Array<string>, };

export type Derivation = { 
/**
 * Input bits, most significant first.
 */
inputs: Array<string>, 
/**
 * Outputs.
 */
outputs: Array<DerivedOutput>, 
/**
 * With shared products, when asked for and there are several outputs.
 */
shared: SharedInfo | null, };

export type ExportText = { 
/**
 * `text`, `latex`, `verilog` or `vhdl`.
 */
kind: string, 
/**
 * The text.
 */
text: string, };

/** The words that name code rules. */
export const CODE_NAMES = ["binary", "gray", "gray-to-binary", "bcd", "excess-3", "one-hot", "thermometer", "even-parity", "odd-parity", "seven-segment"];

/** What rules may forbid or require, beside `instance:` with a name. */
export const RULE_WORDS = ["latch", "comb-loop", "construct:case", "construct:if", "construct:when-else", "construct:with-select", "construct:conditional", "construct:for", "construct:while", "construct:generate", "construct:process", "construct:function", "construct:procedure", "construct:assignment", "construct:gate", "construct:initial", "construct:delay", "operator:and", "operator:or", "operator:xor", "operator:nand", "operator:nor", "operator:xnor", "operator:not", "operator:+", "operator:-", "operator:*", "operator:/", "operator:mod", "operator:rem", "operator:**", "operator:<<", "operator:>>", "operator:==", "operator:<", "gate:and", "gate:or", "gate:xor", "gate:nand", "gate:nor", "gate:xnor", "gate:not", "gate:buf"];

/** The same as they are said, in the same order. */
export const RULE_NAMES = ["latch", "combinational loop", "`case`", "`if`", "`when-else`", "`with-select`", "conditional operator (`?:`)", "`for`", "`while`", "`generate`", "process or `always` block", "`function`", "`procedure`", "`assignment`", "gate primitive", "`initial`", "`delay`", "operator `and`", "operator `or`", "operator `xor`", "operator `nand`", "operator `nor`", "operator `xnor`", "operator `not`", "operator `+`", "operator `-`", "operator `*`", "operator `/`", "operator `mod`", "operator `rem`", "operator `**`", "operator `<<`", "operator `>>`", "operator `==`", "operator `<`", "AND gate", "OR gate", "XOR gate", "NAND gate", "NOR gate", "XNOR gate", "NOT gate", "BUF gate"];

/** Forms that an output may have to be built in. */
export const FORM_WORDS = ["sop", "pos", "nand-nand", "nor-nor", "nand-only", "nor-only"];

/** What a prepared answer may ask for. */
export const ASK_WORDS = ["table", "minterms", "maxterms", "any", "sop", "pos", "canonical-sop", "canonical-pos", "nand-only", "nor-only", "nand-nand", "nor-nor"];

/** Stages that marks go to. */
export const STAGE_WORDS = ["names", "language", "structure", "behaviour", "wiring", "bench"];

/** Boards that ship. */
export const BOARD_NAMES = ["pith-8"];
