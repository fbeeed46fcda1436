import type {
  BenchView,
  CourseRef,
  DumpOpened,
  ExerciseSaved,
  HandInKept,
  JoinAsk,
  JoinCodeAsk,
  NewPassword,
  PasswordLink,
  PersonEdit,
  ProblemBody,
  RosterView,
  SetUp,
  Start,
  TermsInfo,
  TryRequest,
  TryView,
  WavesAsk,
  WavesKept,
  WavesView,
  WorkingsRequest,
  WorkingsSave,
  WorkingsView,
} from "./types";

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

async function call(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, { credentials: "same-origin", ...init });
  } catch (error) {
    if (init?.signal?.aborted === true) throw error;
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

function json(method: string, body: unknown): RequestInit {
  return { method, headers: { "content-type": "application/json" }, body: JSON.stringify(body) };
}

export async function get<T>(path: string): Promise<T> {
  return (await (await call(path)).json()) as T;
}

export async function signIn(name: string, password: string): Promise<Start> {
  return (await (await call("/api/sign-in", json("POST", { name, password }))).json()) as Start;
}

export async function signOut(): Promise<void> {
  await call("/api/sign-out", { method: "POST" });
}

/** Saves an exercise file as a draft; `version` is the one that it changes. */
export async function saveExercise(
  course: number,
  id: number | null,
  text: string,
  version: number | null,
): Promise<ExerciseSaved> {
  const path = `/api/courses/${course}/exercises${id === null ? "" : `/${id}`}`;
  const response = await call(path, json(id === null ? "POST" : "PUT", { text, version }));
  return (await response.json()) as ExerciseSaved;
}

let runs = 0;

/** Posts what may take a while; when the signal says so the server ends it too, and not only the page's waiting. */
async function stoppable(path: string, body: unknown, signal?: AbortSignal): Promise<Response> {
  runs += 1;
  const run = `${Date.now().toString(36)}-${runs}-${Math.random().toString(36).slice(2)}`;
  const init = json("POST", body);
  const stop = () => {
    // Nobody waits for the answer, and a run that is over already is as good.
    fetch(`/api/runs/${run}`, { method: "DELETE", credentials: "same-origin" }).catch(() => {});
  };
  signal?.addEventListener("abort", stop, { once: true });
  try {
    return await call(path, {
      ...init,
      headers: { ...init.headers, "x-run": run },
      ...(signal !== undefined && { signal }),
    });
  } finally {
    signal?.removeEventListener("abort", stop);
  }
}

/** Checks a text against an exercise; nothing of it is kept. */
export async function tryOut(
  course: number,
  exercise: number,
  request: TryRequest,
  signal: AbortSignal,
): Promise<TryView> {
  const path = `/api/courses/${course}/exercises/${exercise}/try`;
  return (await (await stoppable(path, request, signal)).json()) as TryView;
}

/** Runs a design under its testbench or a stimulus, beside what the exercise expects; nothing of it is kept. */
export async function runWaves(
  course: number,
  exercise: number,
  ask: WavesAsk,
  signal?: AbortSignal,
): Promise<WavesView> {
  const path = `/api/courses/${course}/exercises/${exercise}/waves`;
  return (await (await stoppable(path, ask, signal)).json()) as WavesView;
}

/** Keeps a stimulus, or how the lanes are arranged, with the exercise. */
export async function keepWaves(course: number, exercise: number, kept: WavesKept): Promise<void> {
  await call(`/api/courses/${course}/exercises/${exercise}/waves`, json("PUT", kept));
}

/** Opens a waveform file; it is kept in the server's memory only. */
export async function openDump(course: number, file: Blob): Promise<DumpOpened> {
  const init = { method: "POST", headers: { "content-type": "application/octet-stream" }, body: file };
  return (await (await call(`/api/courses/${course}/dumps`, init)).json()) as DumpOpened;
}

/** Works a draft out without saving it. */
export async function workOut(course: number, request: WorkingsRequest): Promise<WorkingsView> {
  return (await (
    await call(`/api/courses/${course}/workings`, json("POST", request))
  ).json()) as WorkingsView;
}

export async function saveWorkings(
  course: number,
  exercise: number,
  draft: WorkingsSave,
): Promise<ExerciseSaved> {
  const path = `/api/courses/${course}/exercises/${exercise}/workings`;
  return (await (await call(path, json("PUT", draft))).json()) as ExerciseSaved;
}

export async function sendHandIn(course: number, exercise: number, form: FormData): Promise<HandInKept> {
  const path = `/api/courses/${course}/exercises/${exercise}/hand-ins`;
  return (await (await call(path, { method: "POST", body: form })).json()) as HandInKept;
}

export async function recheck(course: number, handIn: number): Promise<void> {
  await call(`/api/courses/${course}/hand-ins/${handIn}/recheck`, { method: "POST" });
}

/** Says which of a student's attempts counts in a course. */
export async function countNewest(course: number, newest: boolean): Promise<void> {
  await call(`/api/courses/${course}/counting`, json("PUT", { newest }));
}

export async function signOff(course: number, handIn: number): Promise<void> {
  await call(`/api/courses/${course}/hand-ins/${handIn}/sign-off`, { method: "POST" });
}

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

/** What the board shows; `base` is the address of the exercise's or hand-in's bench. */
export async function bench(base: string, ask: BenchAsk): Promise<BenchView> {
  const query = new URLSearchParams({
    switches: ask.switches.map((s) => (s ? "1" : "0")).join(""),
    power: String(ask.power),
    ticks: String(ask.ticks),
  });
  if (ask.row !== null) query.set("row", String(ask.row));
  if (ask.state !== null) query.set("state", ask.state);
  return get<BenchView>(`${base}?${query}`);
}

async function answer<T>(path: string, init: RequestInit): Promise<T> {
  return (await (await call(path, init)).json()) as T;
}

/** Makes the first person and the first course. */
export async function setUp(body: SetUp): Promise<Start> {
  return answer("/api/set-up", json("POST", body));
}

export async function makeCourse(title: string, copyOf: number | null): Promise<CourseRef> {
  return answer("/api/courses", json("POST", { title, copy_of: copyOf }));
}

export async function renameCourse(course: number, title: string): Promise<void> {
  await call(`/api/courses/${course}`, json("PUT", { title, copy_of: null }));
}

/** Adds a person to a course, or changes one. */
export async function savePerson(course: number, person: number | null, body: PersonEdit): Promise<void> {
  const path = `/api/courses/${course}/people${person === null ? "" : `/${person}`}`;
  await call(path, json(person === null ? "POST" : "PUT", body));
}

export async function erasePerson(course: number, person: number): Promise<void> {
  await call(`/api/courses/${course}/people/${person}`, { method: "DELETE" });
}

/** Makes one-time links with which these people set a password. */
export async function makeLinks(course: number, people: number[]): Promise<PasswordLink[]> {
  return answer(`/api/courses/${course}/password-links`, json("POST", { people }));
}

/** Says what a roster would do, or does it. */
export async function sendRoster(course: number, file: Blob, apply: boolean): Promise<RosterView> {
  const init = { method: "POST", headers: { "content-type": "text/csv" }, body: file };
  return answer(`/api/courses/${course}/roster?apply=${apply}`, init);
}

export async function makeJoinCode(course: number, ask: JoinCodeAsk): Promise<void> {
  await call(`/api/courses/${course}/join-codes`, json("POST", ask));
}

export async function endJoinCode(course: number, code: number): Promise<void> {
  await call(`/api/courses/${course}/join-codes/${code}`, { method: "DELETE" });
}

/** Sets a password by a one-time link, and signs in. */
export async function setPassword(token: string, password: string): Promise<Start> {
  const body: NewPassword = { before: null, password };
  return answer(`/api/password-links/${encodeURIComponent(token)}`, json("POST", body));
}

export async function joinCourse(body: JoinAsk): Promise<Start> {
  return answer("/api/join", json("POST", body));
}

export async function changePassword(before: string, password: string): Promise<Start> {
  return answer("/api/me/password", json("PUT", { before, password }));
}

export async function endSession(key: string): Promise<void> {
  await call(`/api/sessions/${key}`, { method: "DELETE" });
}

/** Publishes the draft of an exercise. */
export async function publishExercise(
  course: number,
  exercise: number,
  version: number,
): Promise<ExerciseSaved> {
  return answer(`/api/courses/${course}/exercises/${exercise}/publish`, json("POST", { version }));
}

export async function discardDraft(course: number, exercise: number, version: number): Promise<void> {
  await call(`/api/courses/${course}/exercises/${exercise}/draft`, json("DELETE", { version }));
}

/** Puts an exercise aside, where students don't see it, or takes it up again. */
export async function archiveExercise(course: number, exercise: number, archived: boolean): Promise<void> {
  await call(`/api/courses/${course}/exercises/${exercise}/archived`, json("PUT", { archived }));
}

/** Sets when an exercise is worked at, and what students read of verdicts. */
export async function saveTerms(course: number, exercise: number, terms: TermsInfo): Promise<void> {
  await call(`/api/courses/${course}/exercises/${exercise}/terms`, json("PUT", terms));
}

/** Adds an exercise from a zip with its files, or from its file alone. */
export async function importExercise(course: number, file: Blob): Promise<ExerciseSaved> {
  const init = { method: "POST", headers: { "content-type": "application/zip" }, body: file };
  return answer(`/api/courses/${course}/exercises/import`, init);
}

/** Makes another exercise of one. */
export async function copyExercise(course: number, exercise: number): Promise<ExerciseSaved> {
  return answer(`/api/courses/${course}/exercises/${exercise}/copy`, { method: "POST" });
}

/** Lets an exercise change places with the one before it, or behind it. */
export async function moveExercise(course: number, exercise: number, earlier: boolean): Promise<void> {
  await call(`/api/courses/${course}/exercises/${exercise}/place`, json("PUT", { earlier }));
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
