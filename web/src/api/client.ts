import createClient from "openapi-fetch";
import type {
  BenchView,
  BundleView,
  CourseRef,
  DecisionAsk,
  DumpOpened,
  ExerciseSaved,
  HandInKept,
  JoinAsk,
  JoinCodeAsk,
  PasswordLink,
  PersonEdit,
  ProblemBody,
  paths,
  RosterView,
  SetUp,
  Start,
  TermsAsk,
  TryRequest,
  TryView,
  WavesAsk,
  WavesKept,
  WavesView,
  WorkingsRequest,
  WorkingsSave,
  WorkingsView,
} from "./schema";

/** A failure with what to do about it; `offline` when the server could not be reached at all. */
export class ApiError extends Error {
  readonly title: string;
  readonly status: number;
  readonly offline: boolean;

  constructor(problem: ProblemBody, offline = false) {
    super(problem.detail);
    this.title = problem.title;
    this.status = problem.status;
    this.offline = offline;
  }
}

/** Asks the server; what is not answered well is thrown. */
async function call(asked: Request | string): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(asked);
  } catch (error) {
    if (typeof asked !== "string" && asked.signal.aborted) throw error;
    throw new ApiError(
      {
        title: "The server can't be reached",
        status: 0,
        detail: "Check that it is running and that you are on its network. What you typed stays here.",
      },
      true,
    );
  }
  if (response.ok) return response;
  const type = response.headers.get("content-type") ?? "";
  if (type.includes("json")) throw new ApiError((await response.json()) as ProblemBody);
  throw new ApiError({
    title: "The server gave no clear answer",
    status: response.status,
    detail: "Try again; if it stays, tell the instructor.",
  });
}

/** The routes of the API with what they ask for and answer, as its OpenAPI document says. */
export const api = createClient<paths>({ fetch: call, credentials: "same-origin" });

/** What was answered. */
export async function answered<T>(asked: Promise<{ data?: T }>): Promise<T> {
  const { data } = await asked;
  if (data === undefined)
    throw new ApiError({
      title: "The server gave no clear answer",
      status: 0,
      detail: "Try again; if it stays, tell the instructor.",
    });
  return data;
}

/** A body that goes out as it is: a file or a form. */
function raw(body: Blob | FormData) {
  // What it is stands in the document as text; it is sent untouched.
  return { body: "file" as never, bodySerializer: () => body };
}

export async function signIn(name: string, password: string): Promise<Start> {
  return answered(api.POST("/api/sign-in", { body: { name, password } }));
}

export async function signOut(): Promise<void> {
  await api.POST("/api/sign-out");
}

/** Saves an exercise file as a draft; `version` is the one that it changes. */
export async function saveExercise(
  course: number,
  id: number | null,
  text: string,
  version: number | null,
): Promise<ExerciseSaved> {
  const body = { text, version };
  if (id === null) {
    return answered(api.POST("/api/courses/{course}/exercises", { params: { path: { course } }, body }));
  }
  const path = { course, exercise: id };
  return answered(api.PUT("/api/courses/{course}/exercises/{exercise}", { params: { path }, body }));
}

let runs = 0;

/** Asks for what may take a while; when the signal says so the server ends it too, and not only the page's waiting. */
async function stoppable<T>(
  ask: (init: { headers: Record<string, string>; signal?: AbortSignal }) => Promise<{ data?: T }>,
  signal?: AbortSignal,
): Promise<T> {
  runs += 1;
  const run = `${Date.now().toString(36)}-${runs}-${Math.random().toString(36).slice(2)}`;
  const stop = () => {
    // Nobody waits for the answer, and a run that is over already is as good.
    api.DELETE("/api/runs/{run}", { params: { path: { run } } }).catch(() => {});
  };
  signal?.addEventListener("abort", stop, { once: true });
  try {
    return await answered(ask({ headers: { "x-run": run }, ...(signal !== undefined && { signal }) }));
  } finally {
    signal?.removeEventListener("abort", stop);
  }
}

/** Checks a text against an exercise; nothing of it is kept. */
export async function tryOut(
  course: number,
  exercise: number,
  body: TryRequest,
  signal: AbortSignal,
): Promise<TryView> {
  const params = { path: { course, exercise } };
  return stoppable(
    (init) => api.POST("/api/courses/{course}/exercises/{exercise}/try", { params, body, ...init }),
    signal,
  );
}

/** Runs a design under its testbench or a stimulus, beside what the exercise expects; nothing of it is kept. */
export async function runWaves(
  course: number,
  exercise: number,
  body: WavesAsk,
  signal?: AbortSignal,
): Promise<WavesView> {
  const params = { path: { course, exercise } };
  return stoppable(
    (init) => api.POST("/api/courses/{course}/exercises/{exercise}/waves", { params, body, ...init }),
    signal,
  );
}

/** Keeps a stimulus, or how the lanes are arranged, with the exercise. */
export async function keepWaves(course: number, exercise: number, body: WavesKept): Promise<void> {
  await api.PUT("/api/courses/{course}/exercises/{exercise}/waves", {
    params: { path: { course, exercise } },
    body,
  });
}

/** Opens a waveform file; it is kept in the server's memory only. */
export async function openDump(course: number, file: Blob): Promise<DumpOpened> {
  const headers = { "content-type": "application/octet-stream" };
  const asked = { params: { path: { course } }, headers, ...raw(file) };
  return answered(api.POST("/api/courses/{course}/dumps", asked));
}

/** Works a draft out without saving it. */
export async function workOut(course: number, body: WorkingsRequest): Promise<WorkingsView> {
  return answered(api.POST("/api/courses/{course}/workings", { params: { path: { course } }, body }));
}

/** Saves what is typed as the draft of an exercise. */
export async function saveWorkings(
  course: number,
  exercise: number,
  body: WorkingsSave,
): Promise<ExerciseSaved> {
  const params = { path: { course, exercise } };
  return answered(api.PUT("/api/courses/{course}/exercises/{exercise}/workings", { params, body }));
}

export async function sendHandIn(course: number, exercise: number, form: FormData): Promise<HandInKept> {
  const asked = { params: { path: { course, exercise } }, ...raw(form) };
  return answered(api.POST("/api/courses/{course}/exercises/{exercise}/hand-ins", asked));
}

/** Says what a zip of many students' hand-ins would do, or does it. */
export async function sendBundle(
  course: number,
  exercise: number,
  file: Blob,
  apply: boolean,
): Promise<BundleView> {
  const params = { path: { course, exercise }, query: { apply } };
  const asked = { params, headers: { "content-type": "application/octet-stream" }, ...raw(file) };
  return answered(api.POST("/api/courses/{course}/exercises/{exercise}/hand-ins/zip", asked));
}

export async function recheck(course: number, handIn: number): Promise<void> {
  const params = { path: { course, hand_in: handIn } };
  await api.POST("/api/courses/{course}/hand-ins/{hand_in}/recheck", { params });
}

/** Says which of a student's attempts counts in a course. */
export async function countNewest(course: number, newest: boolean): Promise<void> {
  await api.PUT("/api/courses/{course}/counting", { params: { path: { course } }, body: { newest } });
}

export async function signOff(course: number, handIn: number): Promise<void> {
  const params = { path: { course, hand_in: handIn } };
  await api.POST("/api/courses/{course}/hand-ins/{hand_in}/sign-off", { params });
}

/** Decides on a hand-in otherwise than its check. */
export async function decide(course: number, handIn: number, body: DecisionAsk): Promise<void> {
  const params = { path: { course, hand_in: handIn } };
  await api.PUT("/api/courses/{course}/hand-ins/{hand_in}/decision", { params, body });
}

export async function withdrawDecision(course: number, handIn: number): Promise<void> {
  const params = { path: { course, hand_in: handIn } };
  await api.DELETE("/api/courses/{course}/hand-ins/{hand_in}/decision", { params });
}

/** Whose bench it is: a hand-in's, or that of what an exercise expects. */
export type BenchOf = { course: number; exercise: number } | { course: number; handIn: number };

/** What a bench is asked. */
export interface BenchAsk {
  /** On or off, for each part of the board. */
  switches: boolean[];
  /** A row to set the switches for. */
  row: number | null;
  power: boolean;
  /** What the flip-flops hold, as the answer before said it. */
  state: string | null;
  /** Periods of the oscillator to go on. */
  ticks: number;
}

/** What the board shows. */
export async function bench(of: BenchOf, ask: BenchAsk): Promise<BenchView> {
  const query = {
    switches: ask.switches.map((s) => (s ? "1" : "0")).join(""),
    power: ask.power,
    ticks: ask.ticks,
    ...(ask.row !== null && { row: ask.row }),
    ...(ask.state !== null && { state: ask.state }),
  };
  if ("handIn" in of) {
    const path = { course: of.course, hand_in: of.handIn };
    return answered(api.GET("/api/courses/{course}/hand-ins/{hand_in}/bench", { params: { path, query } }));
  }
  const params = { path: of, query };
  return answered(api.GET("/api/courses/{course}/exercises/{exercise}/bench", { params }));
}

/** Makes the first person and the first course. */
export async function setUp(body: SetUp): Promise<Start> {
  return answered(api.POST("/api/set-up", { body }));
}

export async function makeCourse(title: string, copyOf: number | null, zone: string): Promise<CourseRef> {
  return answered(api.POST("/api/courses", { body: { title, copy_of: copyOf, zone } }));
}

/** Gives a course another title and time zone. */
export async function changeCourse(course: number, title: string, zone: string): Promise<void> {
  const body = { title, copy_of: null, zone };
  await api.PUT("/api/courses/{course}", { params: { path: { course } }, body });
}

/** Adds a person to a course, or changes one. */
export async function savePerson(course: number, person: number | null, body: PersonEdit): Promise<void> {
  if (person === null) {
    await api.POST("/api/courses/{course}/people", { params: { path: { course } }, body });
  } else {
    await api.PUT("/api/courses/{course}/people/{person}", { params: { path: { course, person } }, body });
  }
}

export async function erasePerson(course: number, person: number): Promise<void> {
  await api.DELETE("/api/courses/{course}/people/{person}", { params: { path: { course, person } } });
}

/** Makes one-time links with which these people set a password. */
export async function makeLinks(course: number, people: number[]): Promise<PasswordLink[]> {
  const asked = { params: { path: { course } }, body: { people } };
  return answered(api.POST("/api/courses/{course}/password-links", asked));
}

/** Says what a roster would do, or does it. */
export async function sendRoster(course: number, file: Blob, apply: boolean): Promise<RosterView> {
  const params = { path: { course }, query: { apply } };
  const asked = { params, headers: { "content-type": "text/csv" }, ...raw(file) };
  return answered(api.POST("/api/courses/{course}/roster", asked));
}

export async function makeJoinCode(course: number, body: JoinCodeAsk): Promise<void> {
  await api.POST("/api/courses/{course}/join-codes", { params: { path: { course } }, body });
}

export async function endJoinCode(course: number, code: number): Promise<void> {
  await api.DELETE("/api/courses/{course}/join-codes/{code}", { params: { path: { course, code } } });
}

/** Sets a password by a one-time link, and signs in. */
export async function setPassword(token: string, password: string): Promise<Start> {
  const asked = { params: { path: { token } }, body: { before: null, password } };
  return answered(api.POST("/api/password-links/{token}", asked));
}

export async function joinCourse(body: JoinAsk): Promise<Start> {
  return answered(api.POST("/api/join", { body }));
}

export async function changePassword(before: string, password: string): Promise<Start> {
  return answered(api.PUT("/api/me/password", { body: { before, password } }));
}

export async function endSession(session: string): Promise<void> {
  await api.DELETE("/api/sessions/{session}", { params: { path: { session } } });
}

/** Publishes the draft of an exercise. */
export async function publishExercise(
  course: number,
  exercise: number,
  version: number,
): Promise<ExerciseSaved> {
  const asked = { params: { path: { course, exercise } }, body: { version } };
  return answered(api.POST("/api/courses/{course}/exercises/{exercise}/publish", asked));
}

export async function discardDraft(course: number, exercise: number, version: number): Promise<void> {
  const asked = { params: { path: { course, exercise } }, body: { version } };
  await api.DELETE("/api/courses/{course}/exercises/{exercise}/draft", asked);
}

/** Puts an exercise aside, where students don't see it, or takes it up again. */
export async function archiveExercise(course: number, exercise: number, archived: boolean): Promise<void> {
  const asked = { params: { path: { course, exercise } }, body: { archived } };
  await api.PUT("/api/courses/{course}/exercises/{exercise}/archived", asked);
}

/** Sets when an exercise is worked at, and what students read of verdicts. */
export async function saveTerms(course: number, exercise: number, body: TermsAsk): Promise<void> {
  const params = { path: { course, exercise } };
  await api.PUT("/api/courses/{course}/exercises/{exercise}/terms", { params, body });
}

/** Adds an exercise from a zip with its files, or from its file alone. */
export async function importExercise(course: number, file: Blob): Promise<ExerciseSaved> {
  const asked = {
    params: { path: { course } },
    headers: { "content-type": "application/octet-stream" },
    ...raw(file),
  };
  return answered(api.POST("/api/courses/{course}/exercises/import", asked));
}

/** Makes another exercise of one. */
export async function copyExercise(course: number, exercise: number): Promise<ExerciseSaved> {
  const params = { path: { course, exercise } };
  return answered(api.POST("/api/courses/{course}/exercises/{exercise}/copy", { params }));
}

/** Lets an exercise change places with the one before it, or behind it. */
export async function moveExercise(course: number, exercise: number, earlier: boolean): Promise<void> {
  const asked = { params: { path: { course, exercise } }, body: { earlier } };
  await api.PUT("/api/courses/{course}/exercises/{exercise}/place", asked);
}

/** Names and licences of the packages that the program is built with. */
export async function notices(): Promise<string> {
  const response = await call("/notices.txt");
  // An address without a file is answered with the page itself.
  if (!(response.headers.get("content-type") ?? "").startsWith("text/plain"))
    throw new ApiError({
      title: "The notices are not there",
      status: 404,
      detail: "This program was built without them; build it with `cargo xtask demo`.",
    });
  return response.text();
}
