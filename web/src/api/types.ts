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
demo: DemoAccounts | null, };

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
 * `passed`, `partly`, `failed`, `cannot_tell` or `waiting`.
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
signed_off: string | null, };

export type ExerciseHead = { 
/**
 * Key.
 */
id: number, 
/**
 * Title.
 */
title: string, };

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
cells: Array<Cell | null>, };

export type PassSheet = { 
/**
 * Title of the course.
 */
title: string, 
/**
 * Columns.
 */
exercises: Array<ExerciseHead>, 
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
text: string, };

export type ExerciseSaved = { 
/**
 * Key.
 */
id: number, 
/**
 * Number of the revision.
 */
revision: number, 
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
 * `slide_switch`, `push_button` or `led`.
 */
kind: string, 
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
 * Number of the newest revision.
 */
revision: number, 
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
 * The board, when the exercise is wired.
 */
board: BoardInfo | null, 
/**
 * The wiring plan.
 */
plan: Array<PlanLine>, 
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
 * The verdict; null while it waits.
 */
verdict: Verdict | null, 
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
 * The board, when the exercise is wired.
 */
board: BoardInfo | null, 
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
 * The row that the switches select; null when an input is open.
 */
row: number | null, 
/**
 * The wiring.
 */
wired: Array<WiredBit>, };

export type VerdictKind = "pass" | "partly" | "fail" | "cannot_tell";

export type ProofKind = "proved" | "matched" | "differs" | "none";

export type ProofMethod = "exhaustive";

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
cycles: number | null, };

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
actual: { [key in string]: string }, };

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

export type Resources = { 
/**
 * Two-input AND nodes of the netlist.
 */
and_nodes: number, 
/**
 * Bits of the top's ports.
 */
pins: number, };

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
resources: Resources | null, };
