import type { OwnTerms, TermsInfo } from "@/api/schema";
import { onBothClocks } from "@/kit/dates";

export const SHOWN: { value: string; label: string; effect: string }[] = [
  {
    value: "all",
    label: "All that is found",
    effect: "Students read every finding with its evidence at once.",
  },
  {
    value: "stages",
    label: "Which stages passed",
    effect:
      "Students read which stages passed, and what is wrong with their files as text; no finding of the behaviour.",
  },
  {
    value: "after_due",
    label: "Nothing before it is due",
    effect:
      "Students read what is wrong with their files as text; the verdict is shown when it is due for them.",
  },
];

/** The terms in one sentence for staff. */
export function termsWords(terms: TermsInfo): string {
  const parts = [
    terms.release_at === null ? "" : `released ${onBothClocks(terms.release_at, terms.release, terms.zone)}`,
    terms.due_at === null ? "never due" : `due ${onBothClocks(terms.due_at, terms.due, terms.zone)}`,
    terms.due_at !== null && terms.refuses_late ? "late hand-ins refused" : "",
    terms.attempts === null ? "" : `${terms.attempts} ${terms.attempts === 1 ? "attempt" : "attempts"}`,
    terms.extensions.length === 0
      ? ""
      : `${terms.extensions.length} ${terms.extensions.length === 1 ? "extension" : "extensions"}`,
  ];
  const text = parts.filter((p) => p !== "").join(", ");
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** What concerns a student, in one sentence; empty where nothing does. */
export function ownWords(own: OwnTerms): string {
  const parts = [
    own.due_at === null ? "" : `due ${onBothClocks(own.due_at, own.due, own.zone)}`,
    own.attempts_left === null
      ? ""
      : `${own.attempts_left} ${own.attempts_left === 1 ? "attempt" : "attempts"} left`,
    own.shown === "after_due" ? "the verdict is shown after it is due" : "",
    own.shown === "stages" ? "you read which stages pass" : "",
  ];
  const text = parts.filter((p) => p !== "").join(", ");
  return text === "" ? "" : `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
}
