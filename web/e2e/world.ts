/** A packhouse course of one's own for each file of tests, made through the API: people, exercises of the demo folder, hand-ins. */
import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { type APIRequestContext, type Cookie, expect, type Page, request, test } from "@playwright/test";

const PASSWORD = "lemon-peel";
const DEMO = join(import.meta.dirname, "../../demo");

/** Given name, family name, sign-in name and section of every student. */
const STUDENTS = [
  ["Abel", "Zestwick", "abel", "Morning"],
  ["Casimir", "Tangelo", "casimir", "Morning"],
  ["Otis", "Marmalade", "otis", "Evening"],
  ["Soren", "Grapevale", "soren", "Evening"],
  ["Vesna", "Blossomir", "vesna", "Evening"],
  ["Ximena", "Cratewood", "ximena", "Evening"],
] as const;

/** A hand-in: whose, and its files in the exercise's demo folder. */
export interface Work {
  exercise: string;
  student: (typeof STUDENTS)[number][2];
  design: string;
  wiring?: string;
  answers?: string;
}

interface Plan<K extends string> {
  /** Demo folders, in order. */
  exercises: string[];
  /** Hand-ins by a name for the tests. */
  handIns?: Record<K, Work>;
}

/** What the tests of a file go to; the addresses are there once the course is made. */
export interface World<K extends string> {
  /** The pass sheet. */
  course: () => string;
  exercise: (folder: string, rest?: string) => string;
  handIn: (name: K, rest?: string) => string;
  /** Comes in as `ines`, `rowan` or a student, and stands on the pass sheet. */
  signIn: (page: Page, name: string) => Promise<void>;
}

async function json<T>(asked: ReturnType<APIRequestContext["get"]>): Promise<T> {
  const answer = await asked;
  expect(answer.ok(), `${answer.url()}: ${answer.status()} ${await answer.text()}`).toBe(true);
  return (await answer.json()) as T;
}

async function text(folder: string, file: string): Promise<string> {
  return readFile(join(DEMO, folder, file), "utf8");
}

/** Signs the first instructor in, who is made where nobody is yet, and gives a new course. */
async function begin(api: APIRequestContext, title: string): Promise<number> {
  const { needs_set_up } = await json<{ needs_set_up: boolean }>(api.get("/api/me"));
  if (needs_set_up) {
    const data = {
      name: "Ines Quillaby",
      family: "Quillaby",
      sign_in: "ines",
      password: PASSWORD,
      course: title,
    };
    const start = await json<{ me: { courses: { id: number }[] } }>(api.post("/api/set-up", { data }));
    return start.me.courses[0]?.id ?? 0;
  }
  await json(api.post("/api/sign-in", { data: { name: "ines", password: PASSWORD } }));
  return (await json<{ id: number }>(api.post("/api/courses", { data: { title, copy_of: null } }))).id;
}

interface Line {
  id: number;
  known: { sign_in: string };
  has_password: boolean;
}

/** Adds everybody, each with a password; keys by sign-in name. */
async function enrol(api: APIRequestContext, base: string): Promise<Map<string, number>> {
  const person = (name: string, family: string, sign_in: string, section: string, role: string) =>
    api.post(`${base}/people`, {
      data: { name, family, sign_in, section, role, number: "", looks_after: [], active: true },
    });
  await person("Rowan Pithers", "Pithers", "rowan", "", "assistant");
  for (const [given, family, name, section] of STUDENTS)
    await person(`${given} ${family}`, family, name, section, "student");
  const { people } = await json<{ people: Line[] }>(api.get(`${base}/people`));
  const fresh = people.filter((p) => !p.has_password).map((p) => p.id);
  // On an installation where other files were before, everybody has a password.
  const links =
    fresh.length === 0
      ? []
      : await json<{ token: string }[]>(api.post(`${base}/password-links`, { data: { people: fresh } }));
  for (const { token } of links) {
    const own = await request.newContext({ baseURL: test.info().project.use.baseURL });
    await json(own.post(`/api/password-links/${token}`, { data: { before: null, password: PASSWORD } }));
    await own.dispose();
  }
  return new Map(people.map((p) => [p.known.sign_in, p.id]));
}

async function publish(api: APIRequestContext, base: string, folder: string): Promise<number> {
  const data = { text: await text(folder, "exercise.toml"), version: null };
  const made = await json<{ id: number; version: number }>(api.post(`${base}/exercises`, { data }));
  await json(api.post(`${base}/exercises/${made.id}/publish`, { data: { version: made.version } }));
  return made.id;
}

async function handIn(api: APIRequestContext, base: string, exercise: number, student: number, work: Work) {
  const form = new FormData();
  const file = async (name: string) => new File([await text(work.exercise, name)], name);
  form.append("student", String(student));
  form.append("files", await file(work.design));
  if (work.wiring !== undefined) form.append("wiring", await file(work.wiring));
  if (work.answers !== undefined) form.append("answers", await text(work.exercise, work.answers));
  const kept = await json<{ id: number }>(
    api.post(`${base}/exercises/${exercise}/hand-ins`, { multipart: form }),
  );
  return kept.id;
}

/** Makes the course before the tests of the file. */
export function packhouse<K extends string = never>(plan: Plan<K>): World<K> {
  let base = "";
  const exercises = new Map<string, number>();
  const handIns = new Map<string, number>();
  const sessions = new Map<string, Cookie[]>();
  test.beforeAll(async () => {
    test.setTimeout(120_000);
    const api = await request.newContext({ baseURL: test.info().project.use.baseURL });
    const course = await begin(api, "Packhouse Controls");
    base = `/courses/${course}`;
    const people = await enrol(api, `/api${base}`);
    for (const folder of plan.exercises) exercises.set(folder, await publish(api, `/api${base}`, folder));
    for (const [name, work] of Object.entries<Work>(plan.handIns ?? {})) {
      const [exercise, student] = [exercises.get(work.exercise) ?? 0, people.get(work.student) ?? 0];
      handIns.set(name, await handIn(api, `/api${base}`, exercise, student, work));
    }
    for (const id of handIns.values()) {
      const verdict = async () =>
        (await json<{ verdict: unknown }>(api.get(`/api${base}/hand-ins/${id}`))).verdict;
      await expect.poll(verdict, { timeout: 60_000 }).not.toBeNull();
    }
    await api.dispose();
  });
  return {
    course: () => base,
    exercise: (folder, rest = "") => `${base}/exercises/${exercises.get(folder)}${rest}`,
    handIn: (name, rest = "") => `${base}/hand-ins/${handIns.get(name)}${rest}`,
    async signIn(page, name) {
      const known = sessions.get(name);
      if (known !== undefined) await page.context().addCookies(known);
      else {
        await page.goto("/");
        await page.getByLabel("Name").fill(name);
        await page.getByLabel("Password").fill(PASSWORD);
        await page.keyboard.press("Enter");
        await expect(page.getByRole("button", { name: "Sign out" })).toBeVisible();
        sessions.set(name, await page.context().cookies());
      }
      await page.goto(base);
      const sheet = page.getByRole("grid", { name: "Pass sheet" });
      await expect(sheet.or(page.getByRole("list", { name: "Your exercises" }))).toBeVisible();
    },
  };
}
