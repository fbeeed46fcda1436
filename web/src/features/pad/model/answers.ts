/** Prepared answers as they are typed, by output and what is asked for. */
export type Given = Record<string, string>;

/** The file of prepared answers that is handed in; null where nothing is typed. */
export function answersFile(given: Given): string | null {
  const typed = Object.entries(given).filter(([, text]) => text.trim() !== "");
  // JSON's strings are TOML's as well.
  const lines = typed.map(([key, text]) => `${JSON.stringify(key)} = ${JSON.stringify(text)}\n`);
  return lines.length === 0 ? null : `[answers]\n${lines.join("")}`;
}
