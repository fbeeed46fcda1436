import type { CodeEntry } from "@/api/schema";

/** The stages in the order of a check, with their titles. */
export const STAGES: [string, string][] = [
  ["names", "Names: files, top, ports"],
  ["language", "Language"],
  ["structure", "Structure"],
  ["behaviour", "Behaviour"],
  ["wiring", "Wiring and bench"],
  ["answers", "Prepared answers"],
];

/** The entries that hold every word of the question, in the code, its meaning or its examples. */
export function matching(entries: CodeEntry[], question: string): CodeEntry[] {
  const words = question.toLowerCase().split(/\s+/).filter(Boolean);
  return entries.filter((entry) => {
    const examples = entry.example.map((e) => `${e.wrong} ${e.language}`).join(" ");
    const text = `${entry.code} ${entry.means} ${entry.severity} ${examples}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}
