import type { Proof, RowCount, Verdict } from "@/api/schema";

/** Steps as people say them: `300 million`, `12,400`. */
function steps(count: number): string {
  if (count < 1e6) return count.toLocaleString("en");
  const unit = count < 1e9 ? { by: 1e6, word: "million" } : { by: 1e9, word: "billion" };
  return `${Number((count / unit.by).toPrecision(3))} ${unit.word}`;
}

/** The work that the proof was allowed, and what of it was used. */
export function budgetWords(proof: Proof): string | null {
  const budget = proof.budget;
  if (budget === undefined || budget === null) return null;
  return `${steps(budget.spent)} of a budget of ${steps(budget.steps)} steps used`;
}

/** Did the budget decide how far the check went? */
export function isLimited(verdict: Verdict): boolean {
  return (
    budgetWords(verdict.proof) !== null &&
    (verdict.verdict === "cannot_tell" || verdict.proof.kind === "matched")
  );
}

/** What was counted, and how far the check went, in words. */
export function proofWords(proof: Proof, rows: RowCount): string {
  const of = `${rows.passed.toLocaleString("en")} of ${rows.total.toLocaleString("en")}`;
  switch (proof.method) {
    case "states":
      return proof.kind === "proved"
        ? `${of} states and inputs right, every state that can be reached tried`
        : `${of} states and inputs right`;
    case "simulation": {
      const cycles = `${(proof.cycles ?? 0).toLocaleString("en")} clock cycles`;
      return proof.kind === "proved"
        ? `proved over ${cycles}, after which it repeats`
        : proof.kind === "matched"
          ? `matched for ${cycles}`
          : `${of} right in ${cycles}`;
    }
    case "exhaustive":
      return `${of} rows right, every row tried`;
    case "induction":
      return "proved by induction, for all inputs and for ever";
    case "sat":
      return proof.kind === "proved" ? "proved for every input" : `${of} tried inputs right`;
    default:
      return "nothing was run";
  }
}
