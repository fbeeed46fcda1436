/** A file about to be handed in. */
export interface Chosen {
  name: string;
  kind: "design" | "wiring";
  content: File;
}

/** The server's limit of a whole hand-in, in bytes. */
export const MAX_BYTES = 4 * 1024 * 1024;

/** Files by their ending: a CSV is the wiring, everything else belongs to the design. A name given again replaces. */
export function withFiles(before: Chosen[], files: Iterable<File>): Chosen[] {
  const next = [...before];
  for (const file of files) {
    const kind = /\.csv$/i.test(file.name) ? "wiring" : "design";
    const at = next.findIndex((c) => (kind === "wiring" ? c.kind === "wiring" : c.name === file.name));
    const chosen: Chosen = { name: file.name, kind, content: file };
    if (at >= 0) next[at] = chosen;
    else next.push(chosen);
  }
  return next;
}

/** What keeps these files from being sent, as a sentence; null when nothing does. */
export function problemOf(files: Chosen[]): string | null {
  if (!files.some((f) => f.kind === "design")) return "Add a design file first.";
  const bytes = files.reduce((sum, f) => sum + f.content.size, 0);
  if (bytes > MAX_BYTES) {
    return `These files have ${(bytes / 1048576).toFixed(1)} MiB together; a hand-in has at most 4. Leave out what isn't the design.`;
  }
  return null;
}

/** The form that is sent. */
export function formOf(
  files: Chosen[],
  student: number | null,
  answers: Record<string, string> = {},
): FormData {
  const form = new FormData();
  const typed = Object.entries(answers).filter(([, text]) => text.trim() !== "");
  // JSON's strings are TOML's as well.
  const lines = typed.map(([key, text]) => `${JSON.stringify(key)} = ${JSON.stringify(text)}`);
  if (lines.length > 0) form.set("answers", `[answers]\n${lines.join("\n")}\n`);
  if (student !== null) form.set("student", String(student));
  for (const file of files) form.append(file.kind === "wiring" ? "wiring" : "files", file.content, file.name);
  return form;
}
