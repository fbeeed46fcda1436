import type { ExercisePage, HandInPage } from "@/api/schema";
import { applyFix } from "@/features/verdict";
import { answersFile, type Given } from "./answers";

export interface PadText {
  name: string;
  text: string;
}

/** What a scratch pad holds: all that a hand-in is made of. */
export interface Pad {
  files: PadText[];
  wiring: PadText | null;
  answers: Given;
}

/** A pad as this browser keeps it. */
export interface KeptPad extends Pad {
  /** The attempt it began from, as the address says it; empty for none. */
  origin?: string;
  /** What was on the pad before that. */
  before?: Pad;
}

export function padKey(person: string, course: number, exercise: number): string {
  return `pad ${person} ${course} ${exercise}`;
}

/** A pad that was kept as text; null for anything else. */
export function readPad(kept: string | null): KeptPad | null {
  if (kept === null) return null;
  try {
    const pad = JSON.parse(kept) as Omit<KeptPad, "answers"> & { answers: Given | string | null };
    const isText = (f: PadText) => typeof f.name === "string" && typeof f.text === "string";
    const sound = Array.isArray(pad.files) && pad.files.length > 0 && pad.files.every(isText);
    // Answers were kept as the text of their file once.
    return sound ? { ...pad, answers: typeof pad.answers === "object" ? (pad.answers ?? {}) : {} } : null;
  } catch {
    return null;
  }
}

/** Is the same written on two pads? */
export function isSame(a: Pad, b: Pad): boolean {
  const plain = ({ files, wiring, answers }: Pad) => JSON.stringify([files, wiring, answersFile(answers)]);
  return plain(a) === plain(b);
}

/** An empty module or entity with the exercise's ports. */
export function starterPad(page: ExercisePage, language: "verilog" | "vhdl"): Pad {
  const ending = language === "verilog" ? ".v" : ".vhd";
  const plain = page.starters.find((f) => f.kind.endsWith(ending) && !f.kind.includes("_tb."));
  const name = plain?.kind ?? `design${ending}`;
  return { files: [{ name, text: plain?.text ?? "" }], wiring: null, answers: {} };
}

/** The files of an attempt, with a fix of one of its findings applied. */
export function attemptPad(page: HandInPage, finding: number | null, fix: number | null): Pad {
  const chosen = finding === null || fix === null ? undefined : page.verdict?.findings[finding]?.fixes?.[fix];
  const texts = page.files.map((f) => {
    const text = f.text ?? "";
    return { ...f, text: chosen !== undefined && chosen.file === f.name ? applyFix(text, chosen) : text };
  });
  const of = (kind: string) => texts.find((f) => f.kind === kind) ?? null;
  const wiring = of("wiring");
  return {
    files: texts.filter((f) => f.kind === "design").map((f) => ({ name: f.name, text: f.text })),
    wiring: wiring === null ? null : { name: wiring.name, text: wiring.text },
    answers: page.given,
  };
}

/** What keeps a name from being a file's, as a sentence; null when nothing does. */
export function nameProblem(name: string, others: PadText[]): string | null {
  if (!/^[A-Za-z0-9_.-]+$/.test(name)) return "Use letters, digits, `_`, `-` and `.` only.";
  if (!/\.(v|sv|vh|svh|vhd|vhdl|mem|hex|txt)$/i.test(name))
    return "End it with .v, .sv, .vhd or, for data, .mem.";
  if (others.some((f) => f.name === name)) return "Another file has this name.";
  return null;
}

/** What of a pad goes in, in words. */
export function contents(pad: Pad, questions: number, isWired: boolean): string {
  const typed = Object.values(pad.answers).filter((text) => text.trim() !== "").length;
  const parts = [pad.files.map((f) => f.name).join(", ")];
  if (questions > 0) parts.push(`${typed} of ${questions} prepared answers`);
  if (pad.wiring !== null) parts.push(pad.wiring.name);
  else if (isWired) parts.push("no wiring");
  return parts.join("; ");
}

/** The pad as the form that is handed in. */
export function padForm(pad: Pad, student: number | null): FormData {
  const form = new FormData();
  for (const f of pad.files) form.append("files", new File([f.text], f.name, { type: "text/plain" }));
  if (pad.wiring !== null)
    form.append("wiring", new File([pad.wiring.text], pad.wiring.name, { type: "text/csv" }));
  const answers = answersFile(pad.answers);
  if (answers !== null) form.set("answers", answers);
  if (student !== null) form.set("student", String(student));
  return form;
}
